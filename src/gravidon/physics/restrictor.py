# SPDX-License-Identifier: GPL-3.0-or-later
"""The restrictor: a small hole that meters the feed."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array, array


def discharge_coefficient(length_over_bore: ArrayLike) -> Array:
    """Return the inertial (high Reynolds number) discharge coefficient [-], same shape.

    Equation: 0.61 for L/d < 0.5; 0.827 - 0.0085 L/d for L/d >= 2; a cosine blend between.

    Args:
        length_over_bore: length of the hole over its diameter [-].

    Raises: PhysicsError for L/d below 0 or above 100.
    Valid: see `validity.RESTRICTOR_LENGTH`; held at its L/d = 10 value beyond.
    Source: Lichtarowicz, Duggins and Markland 1965; thin-plate 0.61, from memory.

    >>> round(float(discharge_coefficient(3.0)), 4)
    0.8015
    """
    ratio = array("length_over_bore", length_over_bore, 0.0, 100.0, "")
    long_hole = 0.827 - 0.0085 * np.clip(ratio, 2.0, 10.0)
    blend = 0.5 - 0.5 * np.cos(np.pi * np.clip((ratio - 0.5) / 1.5, 0.0, 1.0))
    result: Array = 0.61 + blend * (long_hole - 0.61)
    return result


def loss_coefficients(
    bore_m: ArrayLike, length_m: ArrayLike, density_kg_m3: ArrayLike, viscosity_pa_s: ArrayLike
) -> tuple[Array, Array]:
    """Return (c1, c2) of drop = c1 Q + c2 Q², in [Pa·s/m³] and [Pa·s²/m⁶].

    Equation: c1 = (mu/a³)(3 + 8L/(pi a)), c2 = rho/(2 Cd² A²), a = bore/2, A = pi a².

    Args:
        bore_m: hole diameter [m].
        length_m: hole length [m].
        density_kg_m3: oil density [kg/m³].
        viscosity_pa_s: dynamic viscosity [Pa·s].

    Raises: PhysicsError if the bore is not 0.01-100 mm or the length is not 0-1 m.
    Valid: creeping term exact for a hole in a wall; inertial term see `discharge_coefficient`.
    Source: Dagan, Weinbaum and Pfeffer 1982 (Sampson 1891 at L = 0); Lichtarowicz et al. 1965.

    >>> c1, c2 = loss_coefficients(0.002, 0.0, 800.0, 0.01)
    >>> round(float(c1) / 1e7, 3)
    3.0
    """
    bore = array("bore_m", bore_m, 1e-5, 0.1, "m")
    length = array("length_m", length_m, 0.0, 1.0, "m")
    a = bore / 2.0
    area = np.pi * a * a
    cd = discharge_coefficient(np.minimum(length / bore, 100.0))
    c1 = np.asarray(viscosity_pa_s) / a**3 * (3.0 + 8.0 * length / (np.pi * a))
    c2 = np.asarray(density_kg_m3) / (2.0 * cd * cd * area * area)
    return c1, c2


def pressure_drop(
    flow_m3_s: ArrayLike,
    bore_m: ArrayLike,
    length_m: ArrayLike,
    density_kg_m3: ArrayLike,
    viscosity_pa_s: ArrayLike,
) -> Array:
    """Return the pressure drop [Pa] over the hole, broadcast shape.

    Equation: drop = c1 Q + c2 Q², see `loss_coefficients`.

    Args:
        flow_m3_s: oil flow [m³/s].
        bore_m: hole diameter [m].
        length_m: hole length [m].
        density_kg_m3: oil density [kg/m³].
        viscosity_pa_s: dynamic viscosity [Pa·s].

    Raises: PhysicsError as `loss_coefficients`.
    Source: see `loss_coefficients`.

    >>> round(float(pressure_drop(1e-5, 1e-3, 1.5e-3, 815.0, 9.4e-3)) / 1e3, 1)
    122.4
    """
    c1, c2 = loss_coefficients(bore_m, length_m, density_kg_m3, viscosity_pa_s)
    q = np.asarray(flow_m3_s, dtype=np.float64)
    result: Array = (c1 + c2 * np.abs(q)) * q
    return result


def flow(
    drop_pa: ArrayLike,
    bore_m: ArrayLike,
    length_m: ArrayLike,
    density_kg_m3: ArrayLike,
    viscosity_pa_s: ArrayLike,
) -> Array:
    """Return the flow [m³/s] that a pressure drop pushes through the hole, broadcast shape.

    Equation: Q = 2 dp / (c1 + sqrt(c1² + 4 c2 dp)).

    Args:
        drop_pa: pressure drop [Pa], not negative.
        bore_m: hole diameter [m].
        length_m: hole length [m].
        density_kg_m3: oil density [kg/m³].
        viscosity_pa_s: dynamic viscosity [Pa·s].

    Raises: PhysicsError as `loss_coefficients`, or for a negative drop.
    Source: see `loss_coefficients`.

    >>> round(float(flow(122.4e3, 1e-3, 1.5e-3, 815.0, 9.4e-3)) * 6e4, 2)
    0.6
    """
    dp = array("drop_pa", drop_pa, 0.0, 1e9, "Pa")
    c1, c2 = loss_coefficients(bore_m, length_m, density_kg_m3, viscosity_pa_s)
    result: Array = 2.0 * dp / (c1 + np.sqrt(c1 * c1 + 4.0 * c2 * dp))
    return result


def effective_coefficient(
    drop_pa: ArrayLike, flow_m3_s: ArrayLike, bore_m: ArrayLike, density_kg_m3: ArrayLike
) -> Array:
    """Return the overall discharge coefficient [-]: actual over ideal frictionless flow.

    Equation: Cd = Q / (A sqrt(2 dp / rho)).

    Args:
        drop_pa: pressure drop [Pa], positive.
        flow_m3_s: oil flow [m³/s].
        bore_m: hole diameter [m].
        density_kg_m3: oil density [kg/m³].

    Raises: PhysicsError for a drop that is not positive.
    Source: definition (ISO 5167 symbols).

    >>> round(float(effective_coefficient(2e5, 1e-5, 1e-3, 800.0)), 3)
    0.569
    """
    dp = array("drop_pa", drop_pa, 1e-9, 1e9, "Pa")
    area = np.pi / 4.0 * array("bore_m", bore_m, 1e-5, 0.1, "m") ** 2
    result: Array = np.asarray(flow_m3_s) / (area * np.sqrt(2.0 * dp / np.asarray(density_kg_m3)))
    return result


def reynolds(
    flow_m3_s: ArrayLike, bore_m: ArrayLike, density_kg_m3: ArrayLike, viscosity_pa_s: ArrayLike
) -> Array:
    """Return the Reynolds number [-] of flow in a round bore, broadcast shape.

    Equation: Re = 4 rho Q / (pi d mu).

    Args:
        flow_m3_s: flow [m³/s].
        bore_m: diameter [m].
        density_kg_m3: density [kg/m³].
        viscosity_pa_s: dynamic viscosity [Pa·s].

    Raises: nothing.
    Source: definition.

    >>> round(float(reynolds(1e-5, 1e-3, 815.0, 9.4e-3)))
    1104
    """
    bore = np.asarray(bore_m, dtype=np.float64)
    result: Array = (
        4.0 * np.asarray(density_kg_m3) * np.asarray(flow_m3_s) / (np.pi * bore * np.asarray(viscosity_pa_s))
    )
    return result
