# SPDX-License-Identifier: GPL-3.0-or-later
"""From a photograph's pixels to a plane of the car: by a known distance and a level line, or by the corners of a known rectangle.

Pixels count right and down, the plane right and up. A matrix (3, 3) maps (u, v, 1) to (x w, y w, w).
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array

CLICK_PX = 2.0
"""[px] by which a click misses what it means (95 %); common practice, no source."""


def mapped(matrix: Array, at_px: ArrayLike) -> Array:
    """Return where pixels lie in the plane [m], (points, 2).

    Equation: (x, y) = (h1·p, h2·p) / (h3·p), p = (u, v, 1).

    Args:
        matrix: from pixels to the plane (3, 3).
        at_px: pixels (points, 2).

    Raises: nothing.
    Source: R. Hartley and A. Zisserman, Multiple View Geometry, ch. 2 (from memory).

    >>> mapped(np.diag([0.001, -0.001, 1.0]), [[100.0, 200.0]]).tolist()
    [[0.1, -0.2]]
    """
    p = np.atleast_2d(np.asarray(at_px, dtype=float))
    found = np.column_stack([p, np.ones(len(p))]) @ np.asarray(matrix).T
    result: Array = found[:, :2] / found[:, 2:]
    return result


def by_two_points(
    ruler_px: ArrayLike,
    distance_m: float,
    level_px: ArrayLike,
    plumb: bool,
    anchor_px: ArrayLike,
    anchor_m: ArrayLike,
) -> Array:
    """Return the matrix of a photo taken square on: scaled by two points, levelled by a line, laid down at an anchor, (3, 3).

    Equation: a similarity: scale = distance over the clicks' distance, turned until the line is level (or upright).

    Args:
        ruler_px: two points of known distance (2, 2).
        distance_m: that distance [m].
        level_px: two points of a level line, or of a plumb line (2, 2).
        plumb: whether the line hangs plumb.
        anchor_px: a point whose place is known (2,).
        anchor_m: that place in the plane [m], (2,).

    Raises: ValueError if two of the points are one.
    Source: geometry.
    """
    ruler, line = (np.asarray(v, dtype=float) for v in (ruler_px, level_px))
    far = float(np.linalg.norm(ruler[1] - ruler[0]))
    along = line[1] - line[0]
    if far < 1.0 or float(np.linalg.norm(along)) < 1.0 or distance_m <= 0.0:
        raise ValueError("two points that stand apart")
    scale = distance_m / far
    turn = _levelling(along, plumb)
    c, s = np.cos(turn) * scale, np.sin(turn) * scale
    # up is -v: x = c u + s v, y = s u - c v turns the picture by `turn` (counterclockwise) and flips it upright
    flat = np.array([[c, s, 0.0], [s, -c, 0.0], [0.0, 0.0, 1.0]])
    return _laid(flat, anchor_px, anchor_m)


def _levelling(along: Array, plumb: bool) -> float:
    """Return by how much a line must be turned to lie level, or to hang, the shorter way [rad]."""
    angle = float(np.arctan2(-along[1], along[0]))
    wanted = np.pi / 2.0 if plumb else 0.0
    turn = wanted - angle
    return float((turn + np.pi / 2.0) % np.pi - np.pi / 2.0)


def _laid(matrix: Array, anchor_px: ArrayLike, anchor_m: ArrayLike) -> Array:
    by = np.asarray(anchor_m, dtype=float) - mapped(matrix, [np.asarray(anchor_px, dtype=float)])[0]
    shift = np.array([[1.0, 0.0, by[0]], [0.0, 1.0, by[1]], [0.0, 0.0, 1.0]])
    result: Array = shift @ matrix
    return result


def by_rectangle(
    corners_px: ArrayLike, width_m: float, height_m: float, anchor_px: ArrayLike, anchor_m: ArrayLike
) -> Array:
    """Return the matrix of a photo squared by a known rectangle that lies in the plane, two of its edges level, (3, 3).

    Equation: the homography that takes four corners to four corners: eight linear equations.

    Args:
        corners_px: its corners from the upper left, clockwise as seen (4, 2).
        width_m: its width [m].
        height_m: its height [m].
        anchor_px: a point whose place is known (2,).
        anchor_m: that place in the plane [m], (2,).

    Raises: ValueError if three of the corners lie on a line, or it has no size.
    Source: R. Hartley and A. Zisserman, Multiple View Geometry, ch. 4, direct linear transformation (from memory).
    """
    p = np.asarray(corners_px, dtype=float)
    if width_m <= 0.0 or height_m <= 0.0 or _least_area(p) < 1.0:
        raise ValueError("four corners of a rectangle, no three of them on a line")
    q = np.array([[0.0, height_m], [width_m, height_m], [width_m, 0.0], [0.0, 0.0]])
    rows, right = [], []
    for (u, v), (x, y) in zip(p, q, strict=True):
        rows += [[u, v, 1, 0, 0, 0, -u * x, -v * x], [0, 0, 0, u, v, 1, -u * y, -v * y]]
        right += [x, y]
    h = np.linalg.solve(np.array(rows), np.array(right))
    return _laid(np.append(h, 1.0).reshape(3, 3), anchor_px, anchor_m)


def _least_area(p: Array) -> float:
    """Return the least area [px²] of the triangles that any three of four points span."""
    from itertools import combinations

    def area(a: Array, b: Array, c: Array) -> float:
        return 0.5 * abs(float((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])))

    return min(area(*three) for three in combinations(p, 3))


def spread(
    make: Callable[[Array], Array], clicks_px: Array, at_px: ArrayLike, click_px: float = CLICK_PX
) -> Array:
    """Return how far a place may be off for the clicks that squared the photo [m], (points,), 95 %.

    Equation: root of the sum over all clicks' coordinates of (shift of the place for one click's error)².

    Args:
        make: from clicks (clicks, 2) to the matrix (3, 3).
        clicks_px: the clicks (clicks, 2).
        at_px: pixels whose places are asked (points, 2).
        click_px: error of a click [px] (95 %).

    Raises: ValueError where the clicks make no matrix.
    Source: propagation of independent errors (any textbook of measurement).
    """
    clicks = np.asarray(clicks_px, dtype=float)
    here = mapped(make(clicks), at_px)
    total = np.zeros(len(here))
    for k in range(clicks.size):
        moved = clicks.copy().ravel()
        moved[k] += click_px
        total += ((mapped(make(moved.reshape(clicks.shape)), at_px) - here) ** 2).sum(axis=1)
    result: Array = np.sqrt(total)
    return result
