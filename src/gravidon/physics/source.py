"""Gallery pressure: what the engine's pump and relief make of speed and oil temperature."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.errors import PhysicsError
from gravidon.physics.arrays import Array


@dataclass(frozen=True)
class SourceFit:
    """Gallery pressure law p = min(relief, a mu n + b rho n²).

    Args:
        a: viscous constant [Pa·s/(Pa·s)] per rev/s, i.e. pressure per (mu n).
        b: inertial constant [m²] per (rho n²).
        relief_pa: relief pressure [Pa gauge].
        residuals_pa: fitted minus measured, one per reading [Pa].
        used: which readings carried the fit (those below relief).
    """

    a: float
    b: float
    relief_pa: float
    residuals_pa: tuple[float, ...] = ()
    used: tuple[bool, ...] = ()

    @property
    def band_pa(self) -> float:
        """Largest absolute residual [Pa]: how far the law may honestly be off."""
        return max((abs(r) for r in self.residuals_pa), default=0.0)


def gallery_pressure(
    fit: SourceFit, speed_rev_s: ArrayLike, density_kg_m3: ArrayLike, viscosity_pa_s: ArrayLike
) -> Array:
    """Return gallery pressure [Pa gauge], broadcast shape.

    Equation: p = min(relief, a mu n + b rho n²).

    Args:
        fit: the fitted law.
        speed_rev_s: engine speed [rev/s].
        density_kg_m3: oil density [kg/m³].
        viscosity_pa_s: dynamic viscosity [Pa·s].

    Raises: nothing.
    Valid: between the readings it was fitted to; a guess beyond them.
    Source: project model (leakage through films plus orifices of a positive-displacement
    pump's circuit); checked against the user's own readings.

    >>> float(gallery_pressure(SourceFit(1e6, 0.0, 4e5), 20.0, 820.0, 0.0117))
    234000.0
    """
    n = np.asarray(speed_rev_s, dtype=np.float64)
    law = fit.a * np.asarray(viscosity_pa_s) * n + fit.b * np.asarray(density_kg_m3) * n * n
    result: Array = np.minimum(fit.relief_pa, law)
    return result


def gallery_pressure_drawn(
    fit: SourceFit,
    speed_rev_s: ArrayLike,
    density_kg_m3: ArrayLike,
    viscosity_pa_s: ArrayLike,
    pump_m3_rev: float,
    drawn_m3_s: ArrayLike,
) -> Array:
    """Return gallery pressure [Pa gauge] while oil is drawn from it, broadcast shape.

    Equation: with x = Q/(V n), the share of the pump's flow that goes elsewhere,
    p = min(relief, a mu n (1 - x) + b rho n² (1 - x)²).

    Args:
        fit: the fitted law.
        speed_rev_s: engine speed [rev/s].
        density_kg_m3: oil density [kg/m³].
        viscosity_pa_s: dynamic viscosity [Pa·s].
        pump_m3_rev: pump delivery per engine revolution [m³].
        drawn_m3_s: flow drawn [m³/s].

    Raises: nothing.
    Valid: ideal pump (no internal leakage); on relief the spare flow covers the draw first.
    Source: project model, continuity at the gallery with the law's own two resistances.

    >>> fit = SourceFit(1e6, 0.0, 4e5)
    >>> float(gallery_pressure_drawn(fit, 20.0, 820.0, 0.0117, 2e-5, 1e-4))
    175500.0
    """
    n = np.asarray(speed_rev_s, dtype=np.float64)
    pumped = np.maximum(pump_m3_rev * n, 1e-12)
    left = np.clip(1.0 - np.asarray(drawn_m3_s) / pumped, 0.0, 1.0)
    law = fit.a * np.asarray(viscosity_pa_s) * n * left
    law = law + fit.b * np.asarray(density_kg_m3) * n * n * left * left
    result: Array = np.minimum(fit.relief_pa, law)
    return result


def fit_source(
    speed_rev_s: ArrayLike,
    density_kg_m3: ArrayLike,
    viscosity_pa_s: ArrayLike,
    pressure_pa: ArrayLike,
    relief_pa: float,
) -> SourceFit:
    """Fit the gallery law to gauge readings by non-negative least squares.

    Equation: minimise |a mu n + b rho n² - p|² over a, b >= 0, over readings below 0.95 relief.

    Args:
        speed_rev_s: engine speed of each reading [rev/s], shape (readings,).
        density_kg_m3: oil density at each reading [kg/m³].
        viscosity_pa_s: oil viscosity at each reading [Pa·s].
        pressure_pa: gauge pressure of each reading [Pa].
        relief_pa: relief pressure [Pa gauge].

    Raises: PhysicsError if no reading was taken with the engine turning.
    Source: non-negative least squares, Lawson and Hanson 1974 (two unknowns: in closed form).

    >>> fit = fit_source([15.0, 50.0], [820.0, 820.0], [0.0117, 0.0117], [1e5, 3e5], 4e5)
    >>> round(fit.band_pa)
    9174
    """
    n = np.atleast_1d(np.asarray(speed_rev_s, dtype=np.float64))
    p = np.atleast_1d(np.asarray(pressure_pa, dtype=np.float64))
    columns = np.stack([np.asarray(viscosity_pa_s) * n, np.asarray(density_kg_m3) * n * n], axis=1)
    used = (n > 0.0) & (p < 0.95 * relief_pa)
    if not used.any():
        used = n > 0.0
    if not used.any():
        raise PhysicsError("gauge readings", 0, "at least one reading with the engine turning")
    a, b = _two_column_nnls(columns[used], p[used])
    law = np.minimum(relief_pa, columns @ np.array([a, b]))
    return SourceFit(a, b, relief_pa, tuple(float(r) for r in law - p), tuple(bool(u) for u in used))


def _two_column_nnls(matrix: Array, target: Array) -> tuple[float, float]:
    """Try both, either and no column; keep the feasible one with the smallest misfit."""
    scale = np.maximum(np.linalg.norm(matrix, axis=0), 1e-300)
    scaled = matrix / scale
    best = (0.0, 0.0)
    least = float(target @ target)
    for columns in ([0, 1], [0], [1]):
        part = scaled[:, columns]
        solution = np.linalg.lstsq(part, target, rcond=1e-10)[0]
        misfit = float(np.sum((part @ solution - target) ** 2))
        if (solution >= 0.0).all() and misfit < least:
            full = np.zeros(2)
            full[columns] = solution
            best = (float(full[0] / scale[0]), float(full[1] / scale[1]))
            least = misfit
    return best
