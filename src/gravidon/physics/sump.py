# SPDX-License-Identifier: GPL-3.0-or-later
"""Oil level in a pan made of boxes, under effective gravity."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array, array

COLUMNS_PER_SIDE = 20
BAFFLE_COEFFICIENT = 0.61
"""[-] of a baffle's opening as a sharp-edged orifice; from memory."""
LEVEL_TOLERANCE = 1e-6
"""[-] of the pan's whole volume: a level to about a micrometre; project choice."""
CRANKCASE_HEIGHT_M = 0.30
"""[m] room above the pan rail that overfilled oil may rise into; common practice, no source."""


@dataclass(frozen=True)
class Columns:
    """A pan cut into upright columns: positions (columns, 3) of their feet [m], height [m], area [m²]."""

    foot_m: Array
    height_m: Array
    area_m2: Array


def columns_of_boxes(corner_m: ArrayLike, size_m: ArrayLike, per_side: int = COLUMNS_PER_SIDE) -> Columns:
    """Cut boxes into columns for `level`.

    Equation: midpoint columns, `per_side`² a box; each reaches CRANKCASE_HEIGHT_M above the box. Boxes that stand in or
    over one another are one pan: where they overlap as seen from above, a column reaches from the lowest floor to the
    highest rim.

    Args:
        corner_m: lowest rear right corner of each box [m], shape (boxes, 3).
        size_m: extent forward, left and up of each box [m], shape (boxes, 3).
        per_side: columns along each side [-].

    Raises: PhysicsError for a size outside 1 mm to 3 m.
    Source: none needed (midpoint rule; union of boxes by the grid of all their edges).

    >>> columns_of_boxes([[0, 0, 0]], [[0.4, 0.3, 0.1]]).foot_m.shape
    (400, 3)
    """
    corner = np.atleast_2d(np.asarray(corner_m, dtype=float))
    size = array("pan size", np.atleast_2d(np.asarray(size_m, dtype=float)), 1e-3, 3.0, "m")
    if _overlap(corner, size):
        corner, size = _united(corner, size)
        per_side = max(per_side // 2, round(per_side * 2 / np.sqrt(len(corner))))
    steps = (np.arange(per_side) + 0.5) / per_side
    u, v = (grid.ravel() for grid in np.meshgrid(steps, steps, indexing="ij"))
    x = corner[:, :1] + size[:, :1] * u
    y = corner[:, 1:2] + size[:, 1:2] * v
    z = np.broadcast_to(corner[:, 2:], x.shape)
    foot = np.stack([x.ravel(), y.ravel(), z.ravel()], axis=-1)
    tall = np.broadcast_to(size[:, 2:] + CRANKCASE_HEIGHT_M, x.shape).ravel()
    area = np.broadcast_to((size[:, 0] * size[:, 1] / per_side**2)[:, None], x.shape).ravel()
    return Columns(foot, tall.copy(), area.copy())


def _overlap(corner: Array, size: Array) -> bool:
    """Whether any two boxes overlap as seen from above."""
    low, high = corner[:, None, :2], corner[None, :, :2] + size[None, :, :2]
    over = (low + 1e-6 < high).all(axis=-1)
    return bool((over & over.T & ~np.eye(len(corner), dtype=bool)).any())


def _united(corner: Array, size: Array) -> tuple[Array, Array]:
    """Return boxes that overlap as ones that do not: the grid of all edges, each cell with its lowest floor and highest rim."""
    top = corner + size
    xs, ys = (np.unique(np.concatenate([corner[:, k], top[:, k]])) for k in (0, 1))
    boxes = []
    for x0, x1 in pairwise(xs):
        for y0, y1 in pairwise(ys):
            middle = np.array([0.5 * (x0 + x1), 0.5 * (y0 + y1)])
            over = ((corner[:, :2] < middle) & (middle < top[:, :2])).all(axis=1)
            if over.any() and x1 - x0 > 1e-4 and y1 - y0 > 1e-4:
                floor, rim = corner[over, 2].min(), top[over, 2].max()
                boxes.append([(x0, y0, floor), (x1 - x0, y1 - y0, rim - floor)])
    made = np.array(boxes)
    return made[:, 0], np.maximum(made[:, 1], 1e-3)


def level(columns: Columns, up: Array, volume_m3: ArrayLike) -> Array:
    """Return the height [m] of the oil plane along effective gravity, one per condition.

    Equation: find h with sum over columns of area · clip((h - up·foot)/up_z, 0, height) = volume.

    Args:
        columns: the pan.
        up: unit vectors of effective gravity, shape (conditions, 3); up_z above 0.2.
        volume_m3: oil volume per condition [m³].

    Raises: PhysicsError if effective gravity lies almost flat or a volume is negative.
    Valid: quasi-static; see `validity.EFFECTIVE_LEAN`.
    Source: hydrostatics; volume balance solved by false position.

    >>> pan = columns_of_boxes([[0, 0, 0]], [[0.5, 0.4, 0.1]])
    >>> round(float(level(pan, np.array([[0.0, 0.0, 1.0]]), [0.004])[0]), 4)
    0.02
    """
    from gravidon.physics.rootfind import solve_falling

    steep = array("effective gravity upright share", up[:, 2], 0.2, 1.0, "")
    volume = np.broadcast_to(array("oil volume", volume_m3, 0.0, 1.0, "m³"), steep.shape)
    base = up @ columns.foot_m.T
    tall = columns.height_m * steep[:, None]
    low = base.min(axis=1)
    high = (base + tall).max(axis=1)
    share = columns.area_m2 / steep[:, None]

    def missing(h: Array) -> Array:
        depth = np.clip(h[:, None] - base, 0.0, tall)
        result: Array = volume - np.einsum("ij,ij->i", depth, share)
        return result

    scale = np.full(volume.shape, float(np.sum(columns.area_m2 * columns.height_m)))
    return solve_falling(missing, low, high, scale, tolerance=LEVEL_TOLERANCE).value


def regions(columns: Columns, walls: tuple[tuple[int, float], ...]) -> np.ndarray:
    """Return which side of every baffle each column stands on, as one number a region, (columns,).

    Equation: sum over baffles of 2^k [foot beyond the baffle], numbered afresh from 0.

    Args:
        columns: the pan.
        walls: per baffle the axis it stands across (0 forward, 1 left) and its place [m].

    Raises: nothing.
    Source: none needed.

    >>> pan = columns_of_boxes([[0, 0, 0]], [[0.4, 0.3, 0.1]])
    >>> np.bincount(regions(pan, ((0, 0.1),))).tolist()
    [100, 300]
    """
    label = np.zeros(len(columns.area_m2), dtype=int)
    for k, (axis, at) in enumerate(walls):
        label += (columns.foot_m[:, axis] > at).astype(int) << k
    _, which = np.unique(label, return_inverse=True)
    return np.asarray(which)


def equalise_seconds(
    area_m2: ArrayLike,
    other_m2: ArrayLike,
    difference_m: ArrayLike,
    opening_m2: float,
    gravity_m_s2: ArrayLike,
) -> Array:
    """Return the time [s] two basins take to come level through an opening, broadcast shape.

    Equation: t = 2 A1 A2 sqrt(dh) / ((A1 + A2) Cd a sqrt(2 g)).

    Args:
        area_m2: surface of one basin [m²].
        other_m2: surface of the other [m²].
        difference_m: their difference in level at first [m].
        opening_m2: the opening between them [m²].
        gravity_m_s2: effective gravity [m/s²].

    Raises: nothing.
    Source: two tanks joined by a drowned orifice (any hydraulics handbook).

    >>> round(float(equalise_seconds(0.05, 0.05, 0.04, 0.001, 9.81)), 2)
    3.7
    """
    a1, a2 = np.asarray(area_m2, dtype=float), np.asarray(other_m2, dtype=float)
    top = 2.0 * a1 * a2 * np.sqrt(np.asarray(difference_m, dtype=float))
    result: Array = top / (
        (a1 + a2) * BAFFLE_COEFFICIENT * max(opening_m2, 1e-9) * np.sqrt(2.0 * np.asarray(gravity_m_s2))
    )
    return result


def baffled_level(
    columns: Columns,
    region: np.ndarray,
    here: int,
    opening_m2: float,
    up: Array,
    volume_m3: ArrayLike,
    seconds: ArrayLike,
    gravity_m_s2: ArrayLike,
) -> Array:
    """Return the level [m] in one region some time after the car began to lean, (conditions,).

    Equation: h = h_common + (h_alone - h_common)(1 - t/T)², T of `equalise_seconds`; h_alone keeps the
    oil the region holds with the car level.

    Args:
        columns: the pan.
        region: number of each column's region, (columns,).
        here: the region asked for.
        opening_m2: openings of the baffles around it [m²].
        up: unit vectors of effective gravity, (conditions, 3).
        volume_m3: oil in the whole pan [m³].
        seconds: time since the lean began [s]; inf for a steady state.
        gravity_m_s2: effective gravity [m/s²].

    Raises: PhysicsError as `level`.
    Valid: quasi-static; baffles reach from floor to rail but for their openings.
    Source: two tanks joined by a drowned orifice; the same law for more than two is an approximation.

    >>> pan = columns_of_boxes([[0, 0, 0]], [[0.4, 0.3, 0.1]])
    >>> up = np.array([[0.0, 0.0, 1.0]])
    >>> round(float(baffled_level(pan, regions(pan, ((0, 0.1),)), 0, 1e-3, up, [0.006], [0.0], [9.81])[0]), 4)
    0.05
    """
    inside = region == here
    if inside.all() or np.isinf(seconds).all():
        return level(columns, up, volume_m3)
    count = len(up)
    upright = np.zeros_like(up)
    upright[:, 2] = 1.0
    volume = np.broadcast_to(np.asarray(volume_m3, dtype=float), (count,))
    both = level(columns, np.concatenate([up, upright]), np.tile(volume, 2))
    together, at_rest = both[:count], both[count:]
    depth = np.clip(at_rest[:, None] - columns.foot_m[None, inside, 2], 0.0, columns.height_m[inside])
    own = depth @ columns.area_m2[inside]
    alone = level(Columns(columns.foot_m[inside], columns.height_m[inside], columns.area_m2[inside]), up, own)
    area, rest = columns.area_m2[inside].sum(), columns.area_m2[~inside].sum()
    full = equalise_seconds(area, rest, np.abs(alone - together), opening_m2, gravity_m_s2)
    with np.errstate(invalid="ignore"):
        done = np.where(full > 0.0, np.asarray(seconds, dtype=float) / np.maximum(full, 1e-9), 1.0)
    result: Array = together + (alone - together) * (1.0 - np.clip(done, 0.0, 1.0)) ** 2
    return result
