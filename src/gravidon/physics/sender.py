# SPDX-License-Identifier: GPL-3.0-or-later
"""A pressure sender: from volts to pressure and back."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from gravidon.errors import PhysicsError
from gravidon.physics.arrays import Array


def sender_volts(
    pressure_pa: ArrayLike, low_v: float, high_v: float, full_pa: float, supply_share: ArrayLike = 1.0
) -> Array:
    """Return what a linear sender puts out [V], broadcast shape.

    Equation: V = (V0 + (V1 - V0) p/p_full) s, s the supply over its nominal where the sender is ratiometric.

    Args:
        pressure_pa: pressure [Pa gauge].
        low_v: volts at no pressure, at the nominal supply [V].
        high_v: volts at full scale [V].
        full_pa: full scale [Pa gauge].
        supply_share: supply over its nominal [-]; 1 for a sender with a regulator of its own.

    Raises: PhysicsError if the sender has no span.
    Source: linear ratiometric sender, 0.5 to 4.5 V on 5 V; common practice, no source.

    >>> float(sender_volts(500e3, 0.5, 4.5, 1e6))
    2.5
    """
    _check(low_v, high_v, full_pa)
    share = np.asarray(pressure_pa, dtype=np.float64) / full_pa
    result: Array = (low_v + (high_v - low_v) * share) * np.asarray(supply_share)
    return result


def sender_pressure(
    volts: ArrayLike, low_v: float, high_v: float, full_pa: float, supply_share: ArrayLike = 1.0
) -> Array:
    """Return the pressure a linear sender shows [Pa gauge], broadcast shape; the inverse of `sender_volts`.

    Equation: p = p_full (V/s - V0)/(V1 - V0).

    Args:
        volts: what the sender puts out [V].
        low_v: volts at no pressure, at the nominal supply [V].
        high_v: volts at full scale [V].
        full_pa: full scale [Pa gauge].
        supply_share: supply over its nominal [-].

    Raises: PhysicsError if the sender has no span.
    Source: as `sender_volts`.

    >>> float(sender_pressure(2.5, 0.5, 4.5, 1e6))
    500000.0
    """
    _check(low_v, high_v, full_pa)
    result: Array = full_pa * (np.asarray(volts) / np.asarray(supply_share) - low_v) / (high_v - low_v)
    return result


def _check(low_v: float, high_v: float, full_pa: float) -> None:
    if not (high_v > low_v and full_pa > 0.0):
        raise PhysicsError("sender's span", high_v - low_v, "volts at full scale above those at zero")
