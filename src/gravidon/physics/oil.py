# SPDX-License-Identifier: GPL-3.0-or-later
"""Oil and froth properties."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.errors import PhysicsError
from gravidon.physics.arrays import CELSIUS_ZERO_K, Array, array

THERMAL_EXPANSION = 7.0e-4
"""[1/K], volume expansion of mineral oil from 15 °C; from memory."""

WATER_DENSITY_15C = 999.1
"""[kg/m³], published (IAPWS, water at 15 °C), for specific gravity."""

_LN10 = float(np.log(10.0))
_LN_STIFF = float(np.log(1e6))
"""Of the viscosity [mm²/s] at which an oil counts as stiff: the Walther line of an oil that thins much runs out of all numbers in the cold; project bound."""


@dataclass(frozen=True)
class Oil:
    """An oil as its data sheet gives it; arrays stand for many oils at once and broadcast.

    Args:
        v40_m2_s: kinematic viscosity at 40 °C [m²/s].
        v100_m2_s: kinematic viscosity at 100 °C [m²/s].
        density15_kg_m3: density at 15 °C [kg/m³].

    Raises:
        PhysicsError: if the oil would not thin with heat or is outside 1-5000 mm²/s.
    """

    v40_m2_s: ArrayLike
    v100_m2_s: ArrayLike
    density15_kg_m3: ArrayLike

    def __post_init__(self) -> None:
        array("v40_m2_s", self.v40_m2_s, 1e-6, 5e-3, "m²/s")
        array("v100_m2_s", self.v100_m2_s, 1e-6, 5e-3, "m²/s")
        array("density15_kg_m3", self.density15_kg_m3, 600.0, 1200.0, "kg/m³")
        if np.any(np.asarray(self.v100_m2_s) >= np.asarray(self.v40_m2_s)):
            raise PhysicsError("v100_m2_s", self.v100_m2_s, "less than the viscosity at 40 °C")


def walther_coefficients(oil: Oil) -> tuple[Array, Array]:
    """Return A and B of the Walther line through the oil's two viscosities.

    Equation: log10(log10(v + 0.7)) = A - B log10(T), v in mm²/s, T in K.

    Args:
        oil: the oil.

    Raises: nothing.
    Source: ASTM D341.

    >>> a, b = walther_coefficients(Oil(96e-6, 14.3e-6, 870.0))
    >>> round(float(b), 3)
    2.987
    """
    w40, w100 = (np.log10(np.log10(np.asarray(v) * 1e6 + 0.7)) for v in (oil.v40_m2_s, oil.v100_m2_s))
    t40, t100 = (float(np.log10(c + CELSIUS_ZERO_K)) for c in (40.0, 100.0))
    b = (w40 - w100) / (t100 - t40)
    return w40 + b * t40, b


def kinematic_viscosity(oil: Oil, temperature_k: ArrayLike) -> Array:
    """Return kinematic viscosity [m²/s] at `temperature_k`, same shape.

    Equation: log10(log10(v + 0.7)) = A - B log10(T), v in mm²/s, up to 10⁶ mm²/s: stiffer oil flows no less.

    Args:
        oil: the oil.
        temperature_k: oil temperature [K].

    Raises: PhysicsError outside 200-800 K.
    Valid: see `validity.OIL_TEMPERATURE`.
    Source: ASTM D341.

    >>> round(float(kinematic_viscosity(Oil(96e-6, 14.3e-6, 870.0), 383.15)) * 1e6, 1)
    11.5
    """
    t = array("temperature_k", temperature_k, 200.0, 800.0, "K")
    a, b = walther_coefficients(oil)
    # natural logarithms: ln(v + 0.7) = ln10 · exp(A ln10 - B ln T)
    result: Array = (np.exp(np.minimum(_LN10 * np.exp(a * _LN10 - b * np.log(t)), _LN_STIFF)) - 0.7) * 1e-6
    return result


def density(oil: Oil, temperature_k: ArrayLike) -> Array:
    """Return density [kg/m³] at `temperature_k`, same shape.

    Equation: rho = rho15 / (1 + beta (T - 288.15 K)), beta = 7.0e-4 /K.

    Args:
        oil: the oil.
        temperature_k: oil temperature [K].

    Raises: PhysicsError outside 200-800 K.
    Source: thermal expansion of mineral oil, from memory.

    >>> round(float(density(Oil(96e-6, 14.3e-6, 870.0), 373.15)), 1)
    821.1
    """
    t = array("temperature_k", temperature_k, 200.0, 800.0, "K")
    result: Array = np.asarray(oil.density15_kg_m3) / (1.0 + THERMAL_EXPANSION * (t - 288.15))
    return result


def dynamic_viscosity(oil: Oil, temperature_k: ArrayLike) -> Array:
    """Return dynamic viscosity [Pa·s] at `temperature_k`, same shape.

    Equation: mu = v rho.

    Args:
        oil: the oil.
        temperature_k: oil temperature [K].

    Raises: PhysicsError outside 200-800 K.
    Source: definition.

    >>> round(float(dynamic_viscosity(Oil(96e-6, 14.3e-6, 870.0), 373.15)) * 1e3, 2)
    11.74
    """
    return kinematic_viscosity(oil, temperature_k) * density(oil, temperature_k)


CAPACITY_AT_0C, CAPACITY_PER_K = 1.685, 0.00339
"""[kJ/(kg·K)] and [kJ/(kg·K²)] of Cragoe's relation, before the density's share; published."""


def heat_capacity(oil: Oil, temperature_k: ArrayLike) -> Array:
    """Return specific heat capacity [J/(kg·K)] at `temperature_k`, same shape.

    Equation: c = (1.685 + 0.00339 t) / sqrt(SG) kJ/(kg·K), t in °C.

    Args:
        oil: the oil.
        temperature_k: oil temperature [K].

    Raises: PhysicsError outside 200-800 K.
    Valid: petroleum oils, 0-200 °C.
    Source: Cragoe 1929, US Bureau of Standards Miscellaneous Publication 97.

    >>> round(float(heat_capacity(Oil(96e-6, 14.3e-6, 870.0), 373.15)))
    2169
    """
    t = array("temperature_k", temperature_k, 200.0, 800.0, "K") - CELSIUS_ZERO_K
    specific_gravity = np.asarray(oil.density15_kg_m3) / WATER_DENSITY_15C
    result: Array = 1000.0 * (CAPACITY_AT_0C + CAPACITY_PER_K * t) / np.sqrt(specific_gravity)
    return result


def capacity_growth(temperature_k: ArrayLike) -> Array:
    """Return how the specific heat capacity grows [1/K], over itself at `temperature_k`, same shape.

    Equation: (dc/dt)/c of `heat_capacity`; the same for every density.

    Args:
        temperature_k: oil temperature [K].

    Raises: nothing.
    Source: Cragoe 1929, as `heat_capacity`.

    >>> round(float(capacity_growth(373.15)) * 1e3, 3)
    1.675
    """
    t = np.asarray(temperature_k, dtype=float) - CELSIUS_ZERO_K
    result: Array = CAPACITY_PER_K / (CAPACITY_AT_0C + CAPACITY_PER_K * t)
    return result


@dataclass(frozen=True)
class Froth:
    """Oil with air bubbles, as it leaves the bearings. Arrays broadcast over conditions.

    Fields: bulk volume flow [m³/s], bulk density [kg/m³], bulk dynamic viscosity [Pa·s].
    """

    flow_m3_s: Array
    density_kg_m3: Array
    viscosity_pa_s: Array


def froth(
    air_fraction: ArrayLike, flow_m3_s: ArrayLike, density_kg_m3: ArrayLike, viscosity_pa_s: ArrayLike
) -> Froth:
    """Return the bulk flow, density and viscosity of oil carrying air.

    Equation: Q/(1-a), rho (1-a), mu (1+a), a the air volume fraction.

    Args:
        air_fraction: air volume over total volume [-], 0 to 0.8.
        flow_m3_s: oil volume flow [m³/s].
        density_kg_m3: oil density [kg/m³].
        viscosity_pa_s: oil dynamic viscosity [Pa·s].

    Raises: PhysicsError if the air fraction is outside 0-0.8.
    Valid: small bubbles, air fraction well below close packing.
    Source: Taylor 1932 for viscosity (bubbles), volume and mass balance for the rest.

    >>> float(froth(0.5, 1.0, 800.0, 0.01).flow_m3_s)
    2.0
    """
    a = array("air_fraction", air_fraction, 0.0, 0.8, "")
    return Froth(
        np.asarray(flow_m3_s, dtype=np.float64) / (1.0 - a),
        np.asarray(density_kg_m3, dtype=np.float64) * (1.0 - a),
        np.asarray(viscosity_pa_s, dtype=np.float64) * (1.0 + a),
    )
