# SPDX-License-Identifier: GPL-3.0-or-later
"""Shared array type and the argument guard that every relation uses."""

from __future__ import annotations

from typing import TypeAlias

import numpy as np
from numpy.typing import ArrayLike, NDArray

from gravidon.errors import PhysicsError

Array: TypeAlias = NDArray[np.float64]

Flags: TypeAlias = NDArray[np.bool_]

STANDARD_GRAVITY = 9.80665
"""[m/s²], published (ISO 80000-3, standard acceleration of free fall)."""

CELSIUS_ZERO_K = 273.15
"""[K], published (ISO 80000-5)."""


def array(name: str, value: ArrayLike, low: float, high: float, unit: str) -> Array:
    """Return `value` as floats after checking that all lie in [low, high].

    Args:
        name: the argument's name, for the message.
        value: scalar or array.
        low: smallest value accepted.
        high: largest value accepted.
        unit: unit for the message.

    Raises:
        PhysicsError: if any entry is not finite or lies outside.
    """
    result = np.asarray(value, dtype=np.float64)
    inside = (result >= low) & (result <= high)
    if not inside.all():
        bad = result.reshape(-1)[int(np.argmin(inside.reshape(-1)))]
        raise PhysicsError(name, float(bad), f"{low:g} to {high:g} {unit}".rstrip())
    return result
