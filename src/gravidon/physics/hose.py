# SPDX-License-Identifier: GPL-3.0-or-later
"""A hose on its way: sag between supports, the bend it must make, and what it comes near to."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array

SAG_SPAN_M = 0.300
"""[m] span at which a hose's own sag is quoted; project choice, easy to try on a bench."""


def sag(span_m: ArrayLike, level_share: ArrayLike, sag_at_300_m: float) -> Array:
    """Return the sag [m] at the middle of a stretch held at both ends, broadcast shape.

    Equation: delta = delta_300 · (L/0.3 m)⁴ · cos(slope), a beam under its own weight; never more than
    L/4, where a hose hangs as a rope.

    Args:
        span_m: length of the stretch [m].
        level_share: cosine of its slope [-].
        sag_at_300_m: sag of the same hose held level at both ends 300 mm apart [m].

    Raises: nothing.
    Source: Euler-Bernoulli beam, fixed ends, uniform load (any strength-of-materials handbook).

    >>> round(float(sag(0.6, 1.0, 0.004)) * 1e3)
    64
    """
    span = np.asarray(span_m, dtype=float)
    result: Array = np.minimum(sag_at_300_m * (span / SAG_SPAN_M) ** 4 * np.asarray(level_share), 0.25 * span)
    return result


def sag_shape(share: ArrayLike) -> Array:
    """Return the sag along a stretch over that at its middle [-], same shape.

    Equation: 16 s²(1 - s)², the deflection of a beam with fixed ends.

    Args:
        share: place along the stretch, 0 to 1 [-].

    Raises: nothing.
    Source: Euler-Bernoulli beam, fixed ends, uniform load.

    >>> float(sag_shape(0.5))
    1.0
    """
    s = np.asarray(share, dtype=float)
    result: Array = 16.0 * (s * (1.0 - s)) ** 2
    return result


def turns(corners_m: Array) -> Array:
    """Return by how much [rad] a run turns at each inner corner, (corners - 2,).

    Equation: arccos of the product of the unit vectors before and after.

    Args:
        corners_m: the run's corners [m], (corners, 3).

    Raises: nothing.
    Source: geometry.

    >>> corner = np.array([[0.0, 0, 0], [0.1, 0, 0], [0.1, 0.1, 0]])
    >>> round(float(np.degrees(turns(corner)[0])))
    90
    """
    step = np.diff(corners_m, axis=0)
    unit = step / np.maximum(np.linalg.norm(step, axis=1), 1e-12)[:, None]
    result: Array = np.arccos(np.clip((unit[:-1] * unit[1:]).sum(axis=1), -1.0, 1.0))
    return result


def bend_radii(corners_m: Array) -> Array:
    """Return the largest radius [m] a hose may keep at each inner corner, (corners - 2,); inf if straight.

    Equation: R = t / tan(turn/2), t the tangent length to spare: a whole leg at the run's ends, half a
    leg between two bends.

    Args:
        corners_m: the run's corners [m], (corners, 3).

    Raises: nothing.
    Source: geometry of the fillet.

    >>> corner = np.array([[0.0, 0, 0], [0.1, 0, 0], [0.1, 0.1, 0]])
    >>> round(float(bend_radii(corner)[0]), 3)
    0.1
    """
    length = np.linalg.norm(np.diff(corners_m, axis=0), axis=1)
    spare = length * 0.5
    spare[0], spare[-1] = length[0], length[-1]
    turn = turns(corners_m)
    tangent = np.minimum(spare[:-1], spare[1:])
    with np.errstate(divide="ignore"):
        result: Array = np.where(turn > 1e-6, tangent / np.tan(0.5 * np.maximum(turn, 1e-6)), np.inf)
    return result


STRAIGHT = 0.09
"""[-] sine below which a hose end counts as straight, 5°: it has no side that could be turned; project choice."""


def clocking(corners_m: Array) -> float:
    """Return by how much [rad] the end at the far end of a hose is turned against the one at its beginning, clockwise as seen
    from the beginning along the hose; nan where one of the ends is straight, for then it does not matter.

    Equation: the first arm's part across the hose is carried along the run by the least rotation at every corner, which is how a
    hose lies that is not twisted, and compared with the last arm's.

    Args:
        corners_m: (corners, 3) [m]: outer end of the first arm, the hose's corners, outer end of the last arm.

    Raises: nothing.
    Source: geometry (parallel transport along a polygon).

    >>> u = np.array([[0.0, 0, 0.1], [0, 0, 0], [1, 0, 0], [1, 0, 0.1]])  # both arms up
    >>> round(float(np.degrees(clocking(u))), 6)
    0.0
    """
    step = np.diff(corners_m, axis=0)
    unit = step / np.maximum(np.linalg.norm(step, axis=1), 1e-12)[:, None]
    if len(unit) < 3:
        return float("nan")
    first = -unit[0] + (unit[0] @ unit[1]) * unit[1]
    last = unit[-1] - (unit[-1] @ unit[-2]) * unit[-2]
    if np.linalg.norm(first) < STRAIGHT or np.linalg.norm(last) < STRAIGHT:
        return float("nan")
    for before, after in itertools.pairwise(unit[1:-1]):
        first = first - (first @ after) / max(1.0 + before @ after, 1e-9) * (before + after)
    return float(np.arctan2(unit[-2] @ np.cross(first, last), first @ last))


def distance_to_box(point_m: ArrayLike, low_m: ArrayLike, high_m: ArrayLike) -> Array:
    """Return distances [m] from points to a box with sides along the axes, (points,); 0 inside.

    Equation: |max(low - p, 0, p - high)|.

    Args:
        point_m: points [m], (points, 3).
        low_m: the box's lowest corner [m], (3,).
        high_m: its highest corner [m], (3,).

    Raises: nothing.
    Source: geometry.

    >>> float(distance_to_box([[0.0, 0.0, 0.3]], [-1, -1, -1], [1, 1, 0])[0])
    0.3
    """
    p = np.atleast_2d(np.asarray(point_m, dtype=float))
    outside = np.maximum(np.maximum(np.asarray(low_m) - p, p - np.asarray(high_m)), 0.0)
    result: Array = np.linalg.norm(outside, axis=1)
    return result
