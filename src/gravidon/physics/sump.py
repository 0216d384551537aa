"""Oil level in a pan made of boxes, under effective gravity."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array, array

COLUMNS_PER_SIDE = 20
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

    Equation: midpoint columns, `per_side`² a box; each reaches CRANKCASE_HEIGHT_M above the box.

    Args:
        corner_m: lowest rear right corner of each box [m], shape (boxes, 3).
        size_m: extent forward, left and up of each box [m], shape (boxes, 3).
        per_side: columns along each side [-].

    Raises: PhysicsError for a size outside 1 mm to 3 m.
    Source: none needed (midpoint rule).

    >>> columns_of_boxes([[0, 0, 0]], [[0.4, 0.3, 0.1]]).foot_m.shape
    (400, 3)
    """
    corner = np.atleast_2d(np.asarray(corner_m, dtype=float))
    size = array("pan size", np.atleast_2d(np.asarray(size_m, dtype=float)), 1e-3, 3.0, "m")
    steps = (np.arange(per_side) + 0.5) / per_side
    u, v = (grid.ravel() for grid in np.meshgrid(steps, steps, indexing="ij"))
    x = corner[:, :1] + size[:, :1] * u
    y = corner[:, 1:2] + size[:, 1:2] * v
    z = np.broadcast_to(corner[:, 2:], x.shape)
    foot = np.stack([x.ravel(), y.ravel(), z.ravel()], axis=-1)
    tall = np.broadcast_to(size[:, 2:] + CRANKCASE_HEIGHT_M, x.shape).ravel()
    area = np.broadcast_to((size[:, 0] * size[:, 1] / per_side**2)[:, None], x.shape).ravel()
    return Columns(foot, tall.copy(), area.copy())


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
    return solve_falling(missing, low, high, scale, tolerance=1e-7).value
