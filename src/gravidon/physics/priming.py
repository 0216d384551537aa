"""How long until oil arrives: filling a dry line."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array, array


def line_volume(bore_m: Sequence[float], length_m: Sequence[float]) -> float:
    """Return the volume [m³] of pipes in series.

    Equation: sum of pi d²/4 L.

    Args:
        bore_m: bores [m].
        length_m: lengths [m].

    Raises: nothing.
    Source: geometry.

    >>> round(line_volume([0.0055], [1.0]) * 1e6, 2)
    23.76
    """
    return float(sum(np.pi / 4.0 * d * d * length for d, length in zip(bore_m, length_m, strict=True)))


def viscous_fill_time(
    bore_m: Sequence[float], length_m: Sequence[float], drop_pa: ArrayLike, viscosity_pa_s: ArrayLike
) -> Array:
    """Return the seconds a viscous front takes to run through dry pipes in series, broadcast shape.

    Equation: per pipe A/dp (R_before L + 64 mu L²/(pi d⁴)), R = 128 mu L/(pi d⁴); one pipe:
    16 mu L²/(dp d²).

    Args:
        bore_m: bores, in the order the oil meets them [m].
        length_m: lengths [m].
        drop_pa: pressure offered at the upper end [Pa]; where it is zero the time is infinite.
        viscosity_pa_s: dynamic viscosity [Pa·s].

    Raises: PhysicsError for a negative pressure.
    Valid: laminar, steady pressure, gas ahead of the front vented freely.
    Source: Hagen-Poiseuille integrated over the filled length (Washburn's form).

    >>> round(float(viscous_fill_time([0.005], [1.0], 1e5, 0.2)), 3)
    1.28
    """
    pressure = array("drop_pa", drop_pa, 0.0, 1e9, "Pa")
    mu = np.asarray(viscosity_pa_s, dtype=np.float64)
    total = np.zeros(np.broadcast_shapes(pressure.shape, mu.shape))
    before = np.zeros_like(total)
    for d, length in zip(bore_m, length_m, strict=True):
        area = np.pi / 4.0 * d * d
        own = 128.0 * mu * length / (np.pi * d**4)
        total = total + area * length * (before + 0.5 * own)
        before = before + own
    result: Array = np.where(pressure > 0.0, total / np.where(pressure > 0.0, pressure, 1.0), np.inf)
    return result
