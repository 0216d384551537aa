# SPDX-License-Identifier: GPL-3.0-or-later
"""How the centre housing sits: heading, shaft pitch and clock angle, and the oil that stays lying in it."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array

_STEPS = 15


def housing_frame(heading_rad: ArrayLike, pitch_rad: ArrayLike, clock_rad: ArrayLike) -> Array:
    """Return the housing's unit axes as rows: along the shaft to the compressor, sideways, out of the top.

    Equation: R = Rx(clock) after the shaft is pointed to (heading, pitch); row 2 is minus the drain's
    direction. With all angles 0 the rows are forward, left and up.

    Args:
        heading_rad: compressor end in the ground plane, 0 forward, positive to the left [rad].
        pitch_rad: compressor end up, positive [rad].
        clock_rad: turn about the shaft, clockwise as seen from the turbine end, positive [rad].

    Returns (..., 3, 3).
    Raises: nothing.
    Source: rotations; axes ISO 8855.

    >>> np.round(housing_frame(0.0, 0.0, np.pi / 2)[2], 3).tolist()
    [0.0, -1.0, 0.0]
    """
    angles = (np.asarray(v, dtype=float) for v in (heading_rad, pitch_rad, clock_rad))
    h, p, c = np.broadcast_arrays(*angles)
    along = np.stack([np.cos(h) * np.cos(p), np.sin(h) * np.cos(p), np.sin(p)], axis=-1)
    level = np.stack([-np.sin(h), np.cos(h), np.zeros_like(h)], axis=-1)
    upright = np.cross(along, level)
    turn_c, turn_s = np.cos(c)[..., None], np.sin(c)[..., None]
    top = upright * turn_c - level * turn_s
    side = level * turn_c + upright * turn_s
    return np.stack([along, side, top], axis=-2)


def lip_height(up: Array, mouth_m: ArrayLike, axis: ArrayLike, radius_m: float) -> Array:
    """Return the height [m] of the drain mouth's lowest rim point: oil below it stays lying; (conditions,).

    Equation: h = up · c - r sqrt(1 - (up · n)²).

    Args:
        up: unit vectors of effective gravity, (conditions, 3).
        mouth_m: centre of the mouth [m], (3,).
        axis: the mouth's axis, (3,).
        radius_m: its radius [m].

    Raises: nothing.
    Source: geometry.

    >>> float(lip_height(np.array([[0.0, 0.0, 1.0]]), [0, 0, 0.1], [0, 0, 1], 0.01)[0])
    0.1
    """
    along = up @ np.asarray(axis, dtype=float)
    drop = radius_m * np.sqrt(np.maximum(1.0 - along * along, 0.0))
    result: Array = up @ np.asarray(mouth_m, dtype=float) - drop
    return result


def cavity_share_below(
    up_in_housing: Array, offset_m: ArrayLike, spacing_m: float, height_m: float, mouth_m: float
) -> Array:
    """Return the share [-] of the drain cavity that lies below an oil plane, (conditions,).

    Equation: points of a regular grid in a funnel: as long as the seals are apart, as wide as the mouth
    at the flange, opening to 0.95 of its height at 0.42 of it, upright above; counted under the plane.

    Args:
        up_in_housing: effective up in the housing's axes, (conditions, 3).
        offset_m: the plane's height above the flange's centre along effective up [m], (conditions,).
        spacing_m: seal to seal [m].
        height_m: flange to shaft [m].
        mouth_m: bore of the drain flange [m].

    Raises: nothing.
    Source: geometry; the funnel's shape is common practice, no source.

    >>> up = np.array([[0.0, 0.0, 1.0]])
    >>> [round(float(cavity_share_below(up, [h], 0.06, 0.045, 0.018)[0]), 6) for h in (-1.0, 1.0)]
    [0.0, 1.0]
    """
    steps = (np.arange(_STEPS) + 0.5) / _STEPS
    s, w, h = (g.ravel() for g in np.meshgrid(steps, steps, steps, indexing="ij"))
    z = h * height_m
    wide = np.minimum(mouth_m + (0.95 * height_m - mouth_m) * z / (0.42 * height_m), 0.95 * height_m)
    long = np.minimum(mouth_m + (spacing_m - mouth_m) * z / (0.42 * height_m), spacing_m)
    point = np.stack([(s - 0.5) * long, (w - 0.5) * wide, z], axis=-1)
    weight = wide * long / (wide * long).sum()
    under = (point @ up_in_housing.T) <= np.asarray(offset_m, dtype=float)
    result: Array = weight @ under
    return result


def hidden_bolts(
    count: int, first_rad: float, circle_m: float, drain_rad: float, fitting_m: float
) -> tuple[tuple[float, ...], tuple[bool, ...]]:
    """Return where the housing's bolts sit [rad from straight down] and which hide behind the drain fitting.

    Equation: bolt k at first + 2 pi k/count; hidden if |chord offset from the drain| < half the fitting.

    Args:
        count: bolts on the circle [-].
        first_rad: place of the first, from straight down, clockwise from the turbine end [rad].
        circle_m: diameter of the bolt circle [m].
        drain_rad: clock angle of the drain [rad].
        fitting_m: width of what is bolted to the drain, with room for a socket [m].

    Raises: nothing.
    Source: geometry.

    >>> hidden_bolts(4, 0.0, 0.09, 0.0, 0.03)[1]
    (True, False, False, False)
    """
    places = tuple(float(first_rad + 2.0 * np.pi * k / max(count, 1)) for k in range(count))
    hidden = []
    for place in places:
        off = place - drain_rad
        beside = abs(0.5 * circle_m * np.sin(off))
        hidden.append(bool(np.cos(off) > 0.0 and beside < 0.5 * fitting_m))
    return places, tuple(hidden)
