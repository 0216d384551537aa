# SPDX-License-Identifier: GPL-3.0-or-later
"""Gallery pressure: what the engine's pump and relief make of speed and oil temperature."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.errors import PhysicsError
from gravidon.physics.arrays import Array

SLOPE_LOW, SLOPE_HIGH = 0.1, 1.5
"""[-] least and most of d ln p/d ln n that a gallery shows below its relief; common practice, no source."""
VISCOSITY_EXPONENT = 0.5
"""[-] by which viscosity counts beside speed: 1 for clearances alone, 0 for holes alone; common practice, no source."""
KNEE = 8.0
"""[-] sharpness of the relief: it begins to open a little below its setting; common practice, no source."""
MOST_OF_RELIEF = 0.97
"""[-] of the relief setting: a reading nearer to it tells only that the relief is open; project choice."""
GAUGE_SHARE, GAUGE_PA = 0.05, 10e3
"""Accuracy of a gauge: share of its reading [-], and at least [Pa]; common practice, no source."""


@dataclass(frozen=True)
class SourceFit:
    """Gallery pressure law through gauge readings.

    Args:
        speed: viscosity-scaled speed of each reading [rev/s · (Pa·s)^0.5], (readings,).
        unrelieved_pa: what each reading would be without a relief [Pa], (readings,).
        relief_pa: relief pressure [Pa gauge].
        residuals_pa: law minus reading, one per reading [Pa].
        accuracy_pa: how far the law may be off each reading, by the gauge's accuracy [Pa].
    """

    speed: tuple[float, ...]
    unrelieved_pa: tuple[float, ...]
    relief_pa: float
    residuals_pa: tuple[float, ...] = ()
    accuracy_pa: tuple[float, ...] = ()

    @property
    def band_pa(self) -> float:
        """Largest absolute residual [Pa]."""
        return max((abs(r) for r in self.residuals_pa), default=0.0)

    @property
    def missed(self) -> tuple[int, ...]:
        """Readings that the law misses by more than the gauge's accuracy."""
        pairs = zip(self.residuals_pa, self.accuracy_pa, strict=True)
        return tuple(k for k, (r, a) in enumerate(pairs) if abs(r) > a)


def scaled_speed(speed_rev_s: ArrayLike, viscosity_pa_s: ArrayLike) -> Array:
    """Return the viscosity-scaled speed [rev/s · (Pa·s)^0.5], broadcast shape.

    Equation: x = n mu^0.5.

    Args:
        speed_rev_s: engine speed [rev/s].
        viscosity_pa_s: dynamic viscosity [Pa·s].

    Raises: nothing.
    Source: common practice, no source: clearances take p in proportion to mu n, holes to n² without mu.

    >>> float(scaled_speed(20.0, 0.01))
    2.0
    """
    result: Array = np.asarray(speed_rev_s, dtype=np.float64) * np.sqrt(np.asarray(viscosity_pa_s))
    return result


def bounds(fit: SourceFit, speed: ArrayLike) -> tuple[Array, Array]:
    """Return the least and the most unrelieved pressure [Pa] that the readings allow, each broadcast shape.

    Equation: over the readings (x_i, p_i), with r = x/x_i: least = max p_i min(r^0.1, r^1.5), most = min p_i max(r^0.1, r^1.5).

    Args:
        fit: the law.
        speed: viscosity-scaled speed.

    Raises: nothing.
    Source: d ln p/d ln n between SLOPE_LOW and SLOPE_HIGH; common practice, no source.

    >>> low, high = bounds(SourceFit((2.0,), (1e5,), 4e5), 4.0)
    >>> [round(float(v)) for v in (low, high)]
    [107177, 282843]
    """
    x = np.asarray(speed, dtype=np.float64)[..., None]
    ratio = np.maximum(x, 1e-12) / np.asarray(fit.speed)
    slow, steep = ratio**SLOPE_LOW, ratio**SLOPE_HIGH
    p = np.asarray(fit.unrelieved_pa)
    return (p * np.minimum(slow, steep)).max(axis=-1), (p * np.maximum(slow, steep)).min(axis=-1)


def unrelieved_pressure(fit: SourceFit, speed: ArrayLike) -> Array:
    """Return what the gallery would show without a relief [Pa], broadcast shape.

    Equation: the geometric mean of the two `bounds`; at a reading that agrees with the others both are the reading.

    Args:
        fit: the law.
        speed: viscosity-scaled speed.

    Raises: nothing.
    Valid: between the readings; beyond them the bounds part, and the law is a guess.
    Source: project model: monotone in speed, in viscosity and in every reading, continuous in all of them.

    >>> round(float(unrelieved_pressure(SourceFit((2.0,), (1e5,), 4e5), 2.0)))
    100000
    """
    low, high = bounds(fit, speed)
    result: Array = np.where(np.asarray(speed) > 0.0, np.sqrt(low * high), 0.0)
    return result


def relieved(unrelieved_pa: ArrayLike, relief_pa: ArrayLike) -> Array:
    """Return the pressure [Pa gauge] that a relief lets stand, broadcast shape.

    Equation: p = u/(1 + (u/R)^k)^(1/k), k = KNEE.

    Args:
        unrelieved_pa: pressure without the relief [Pa].
        relief_pa: relief setting [Pa gauge].

    Raises: nothing.
    Source: project model of a valve that opens softly; never above the setting.

    >>> round(float(relieved(4e5, 4e5)))
    366802
    """
    u = np.asarray(unrelieved_pa, dtype=np.float64)
    result: Array = u / (1.0 + (u / np.asarray(relief_pa)) ** KNEE) ** (1.0 / KNEE)
    return result


def _unrelieved_of(pressure: Array, relief: float) -> Array:
    """The inverse of `relieved`, for readings up to MOST_OF_RELIEF of the setting."""
    p = np.minimum(pressure, MOST_OF_RELIEF * relief)
    result: Array = p / (1.0 - (p / relief) ** KNEE) ** (1.0 / KNEE)
    return result


def gallery_pressure(
    fit: SourceFit, speed_rev_s: ArrayLike, density_kg_m3: ArrayLike, viscosity_pa_s: ArrayLike
) -> Array:
    """Return gallery pressure [Pa gauge], broadcast shape.

    Equation: `relieved(unrelieved_pressure(x), R)`, x = n mu^0.5.

    Args:
        fit: the law.
        speed_rev_s: engine speed [rev/s].
        density_kg_m3: oil density [kg/m³]; only its shape counts.
        viscosity_pa_s: dynamic viscosity [Pa·s].

    Raises: nothing.
    Valid: between the readings it goes through; a guess beyond them.
    Source: project model; checked against the user's own readings.

    >>> round(float(gallery_pressure(SourceFit((2.0,), (1e5,), 4e5), 20.0, 820.0, 0.01)))
    100000
    """
    x = scaled_speed(speed_rev_s, viscosity_pa_s) + 0.0 * np.asarray(density_kg_m3)
    return relieved(unrelieved_pressure(fit, x), fit.relief_pa)


def gallery_pressure_drawn(
    fit: SourceFit,
    speed_rev_s: ArrayLike,
    density_kg_m3: ArrayLike,
    viscosity_pa_s: ArrayLike,
    pump_m3_rev: float,
    drawn_m3_s: ArrayLike,
) -> Array:
    """Return gallery pressure [Pa gauge] while oil is drawn from it, broadcast shape.

    Equation: the law at x (1 - Q/(V n)): what the pump has left for the engine's own clearances.

    Args:
        fit: the law.
        speed_rev_s: engine speed [rev/s].
        density_kg_m3: oil density [kg/m³]; only its shape counts.
        viscosity_pa_s: dynamic viscosity [Pa·s].
        pump_m3_rev: pump delivery per engine revolution [m³].
        drawn_m3_s: flow drawn [m³/s].

    Raises: nothing.
    Valid: ideal pump (no internal leakage); on relief the spare flow covers most of the draw.
    Source: project model, continuity at the gallery.

    >>> fit = SourceFit((2.0,), (1e5,), 4e5)
    >>> round(float(gallery_pressure_drawn(fit, 20.0, 820.0, 0.01, 2e-5, 1e-4)))
    79442
    """
    n = np.asarray(speed_rev_s, dtype=np.float64)
    pumped = np.maximum(pump_m3_rev * n, 1e-12)
    left = np.clip(1.0 - np.asarray(drawn_m3_s) / pumped, 0.0, 1.0)
    x = (scaled_speed(n, viscosity_pa_s) + 0.0 * np.asarray(density_kg_m3)) * left
    return relieved(unrelieved_pressure(fit, x), fit.relief_pa)


def fit_source(
    speed_rev_s: ArrayLike,
    density_kg_m3: ArrayLike,
    viscosity_pa_s: ArrayLike,
    pressure_pa: ArrayLike,
    relief_pa: float,
) -> SourceFit:
    """Return the gallery law through gauge readings.

    Equation: see `bounds` and `unrelieved_pressure`; a reading stands for its pressure without the relief.

    Args:
        speed_rev_s: engine speed of each reading [rev/s], shape (readings,).
        density_kg_m3: oil density at each reading [kg/m³].
        viscosity_pa_s: oil viscosity at each reading [Pa·s].
        pressure_pa: gauge pressure of each reading [Pa].
        relief_pa: relief pressure [Pa gauge].

    Raises: PhysicsError if no reading was taken with the engine turning and pressure on the gauge.
    Source: project model.

    >>> fit = fit_source([15.0, 50.0], [820.0, 820.0], [0.0117, 0.0117], [1e5, 3e5], 4e5)
    >>> fit.band_pa < 1.0
    True
    """
    n = np.atleast_1d(np.asarray(speed_rev_s, dtype=np.float64))
    p = np.atleast_1d(np.asarray(pressure_pa, dtype=np.float64))
    mu = np.broadcast_to(np.asarray(viscosity_pa_s, dtype=np.float64), n.shape)
    rho = np.broadcast_to(np.asarray(density_kg_m3, dtype=np.float64), n.shape)
    used = (n > 0.0) & (p > 0.0)
    if not used.any():
        raise PhysicsError("gauge readings", 0, "at least one reading with the engine turning")
    x, u = scaled_speed(n[used], mu[used]), _unrelieved_of(p[used], relief_pa)
    bare = SourceFit(tuple(map(float, x)), tuple(map(float, u)), relief_pa)
    off = gallery_pressure(bare, n, rho, mu) - p
    accuracy = np.maximum(GAUGE_SHARE * p, GAUGE_PA)
    return SourceFit(
        bare.speed, bare.unrelieved_pa, relief_pa, tuple(map(float, off)), tuple(map(float, accuracy))
    )
