# SPDX-License-Identifier: GPL-3.0-or-later
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


def fill_work(bore_m: Sequence[float], length_m: Sequence[float], volume_m3: ArrayLike) -> Array:
    """Return the work of a viscous front, per viscosity, up to a filled volume [m³ · 1/m³], shape of the volume.

    Equation: integral over the volume of r, r = 128 L_filled/(pi d⁴) summed over the pipes behind the front. Under a
    pressure p(t) and viscosity mu(t) the front stands where this equals the integral of p/mu over time.

    Args:
        bore_m: bores, in the order the oil meets them [m].
        length_m: lengths [m].
        volume_m3: oil that has gone into the line [m³]; what is beyond the line's volume counts as full.

    Raises: nothing.
    Valid: laminar, gas ahead of the front vented freely.
    Source: Hagen-Poiseuille integrated over the filled length (Washburn's form).

    >>> full = line_volume([0.005], [1.0])
    >>> round(float(fill_work([0.005], [1.0], full)) * 0.2 / 1e5, 3)
    1.28
    """
    left = np.asarray(volume_m3, dtype=np.float64)
    total, before = np.zeros(left.shape), 0.0
    for d, length in zip(bore_m, length_m, strict=True):
        area = np.pi / 4.0 * d * d
        gone = np.clip(left / area, 0.0, length)
        slope = 128.0 / (np.pi * d**4)
        total = total + area * gone * (before + 0.5 * slope * gone)
        before += slope * length
        left = left - area * gone
    return total


def filled_volume(bore_m: Sequence[float], length_m: Sequence[float], work: ArrayLike) -> Array:
    """Return the volume [m³] a viscous front has filled after so much work, shape of the work; the inverse of `fill_work`.

    Equation: per pipe, the positive root x of A (R x + slope x²/2) = work left, x up to the pipe's length.

    Args:
        bore_m: bores, in the order the oil meets them [m].
        length_m: lengths [m].
        work: integral of p/mu over time [-], as `fill_work` gives it.

    Raises: nothing.
    Valid: as `fill_work`.
    Source: as `fill_work`.

    >>> full = line_volume([0.005], [1.0])
    >>> half = filled_volume([0.005], [1.0], 0.25 * fill_work([0.005], [1.0], full))
    >>> round(float(half) / full, 6)
    0.5
    """
    left = np.asarray(work, dtype=np.float64)
    total, before = np.zeros(left.shape), 0.0
    for d, length in zip(bore_m, length_m, strict=True):
        area = np.pi / 4.0 * d * d
        slope = 128.0 / (np.pi * d**4)
        # of the two roots' forms the one without cancellation
        x = 2.0 * (left / area) / (before + np.sqrt(before * before + 2.0 * slope * left / area) + 1e-300)
        x = np.clip(x, 0.0, length)
        total = total + area * x
        left = np.maximum(left - area * x * (before + 0.5 * slope * x), 0.0)
        before += slope * length
    return total


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
    total = mu * fill_work(bore_m, length_m, line_volume(bore_m, length_m))
    result: Array = np.where(pressure > 0.0, total / np.where(pressure > 0.0, pressure, 1.0), np.inf)
    return result
