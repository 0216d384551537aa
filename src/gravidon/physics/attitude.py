# SPDX-License-Identifier: GPL-3.0-or-later
"""Effective gravity in vehicle axes (ISO 8855: x forward, y left, z up) and heights along it."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import STANDARD_GRAVITY, Array


def effective_up(
    forward_g: ArrayLike,
    left_g: ArrayLike,
    up_g: ArrayLike = 0.0,
    nose_up_rad: ArrayLike = 0.0,
    left_side_up_rad: ArrayLike = 0.0,
) -> tuple[Array, Array]:
    """Return the unit vector that oil takes for 'up' and the strength of effective gravity.

    Equation: g_eff = g(attitude) - a; up = -g_eff/|g_eff|.

    Args:
        forward_g: acceleration of the car forward, in g [-].
        left_g: acceleration to the left (a left turn), in g [-].
        up_g: acceleration upward, in g [-].
        nose_up_rad: road or parking grade, nose up positive [rad].
        left_side_up_rad: bank, left side up positive [rad].

    Returns (up, strength): shapes (..., 3) and (...), the strength in [m/s²].
    Raises: nothing.
    Source: ISO 8855 axes; statics in an accelerating frame.

    >>> up, strength = effective_up(0.0, 1.0)
    >>> [round(float(v), 3) for v in up], round(float(strength), 2)
    ([0.0, 0.707, 0.707], 13.87)
    """
    pitch, roll = np.asarray(nose_up_rad, dtype=float), np.asarray(left_side_up_rad, dtype=float)
    x = np.sin(pitch) + np.asarray(forward_g)
    y = np.cos(pitch) * np.sin(roll) + np.asarray(left_g)
    z = np.cos(pitch) * np.cos(roll) + np.asarray(up_g)
    vector = np.stack(np.broadcast_arrays(x, y, z), axis=-1)
    size = np.linalg.norm(vector, axis=-1)
    return vector / size[..., None], size * STANDARD_GRAVITY


def in_engine_axes(up: Array, front_up_rad: float, left_side_up_rad: float) -> Array:
    """Return unit vectors given in vehicle axes in those of an engine that sits tilted in the car, same shape.

    Equation: up_engine = Rx(-roll) Ry(-pitch) up, pitch front up, roll left side up.

    Args:
        up: unit vectors in vehicle axes, (..., 3).
        front_up_rad: the engine's front higher than its rear [rad].
        left_side_up_rad: the engine's left side higher than its right [rad].

    Raises: nothing.
    Source: rotations; axes ISO 8855.

    >>> up, _ = effective_up(0.0, 0.0, 0.0, 0.1, 0.0)
    >>> bool(np.allclose(in_engine_axes(np.array([[0.0, 0.0, 1.0]]), 0.1, 0.0)[0], up))
    True
    """
    cp, sp = np.cos(front_up_rad), np.sin(front_up_rad)
    cr, sr = np.cos(left_side_up_rad), np.sin(left_side_up_rad)
    pitch = np.array([[cp, 0.0, sp], [0.0, 1.0, 0.0], [-sp, 0.0, cp]])
    roll = np.array([[1.0, 0.0, 0.0], [0.0, cr, sr], [0.0, -sr, cr]])
    result: Array = up @ (roll @ pitch).T
    return result


def height(up: Array, point_m: ArrayLike) -> Array:
    """Return heights [m] along effective gravity, shape (points, conditions).

    Equation: h = up · p.

    Args:
        up: unit vectors, shape (conditions, 3).
        point_m: positions in vehicle axes [m], shape (points, 3).

    Raises: nothing.
    Source: definition.

    >>> height(np.array([[0.0, 0.0, 1.0]]), [[0.0, 0.0, 2.0]]).tolist()
    [[2.0]]
    """
    result: Array = np.atleast_2d(np.asarray(point_m, dtype=float)) @ up.T
    return result


def lowest_of_bore(up: Array, centre_m: ArrayLike, axis: ArrayLike, radius_m: float) -> Array:
    """Return the height [m] of the lowest point of a round bore, one per condition.

    Equation: h = up · c - r sqrt(1 - (up · n)²), n the bore's axis.

    Args:
        up: unit vectors, shape (conditions, 3).
        centre_m: centre of the bore [m], shape (3,).
        axis: unit axis of the bore, shape (3,).
        radius_m: bore radius [m].

    Raises: nothing.
    Source: geometry.

    >>> float(lowest_of_bore(np.array([[0.0, 0.0, 1.0]]), [0, 0, 1], [1, 0, 0], 0.25)[0])
    0.75
    """
    along = up @ np.asarray(axis, dtype=float)
    result: Array = up @ np.asarray(centre_m, dtype=float) - radius_m * np.sqrt(
        np.maximum(1.0 - along * along, 0.0)
    )
    return result


def lean(up: Array) -> Array:
    """Return the angle [rad] between effective and true upright, one per condition.

    Equation: arccos(up_z).

    Args:
        up: unit vectors, shape (conditions, 3).

    Raises: nothing.
    Source: definition.

    >>> round(float(lean(np.array([[0.0, 0.70711, 0.70711]]))[0]), 3)
    0.785
    """
    result: Array = np.arccos(np.clip(up[..., 2], -1.0, 1.0))
    return result
