# SPDX-License-Identifier: GPL-3.0-or-later
"""The bearing housing as a hydraulic resistance, and the heat the oil carries away from it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array

RISE_CAP_K = 300.0
"""[K] bound on the computed oil temperature rise; beyond it the oil has burnt in any case."""


@dataclass(frozen=True)
class BearingReference:
    """One known point of a bearing housing: flow and drop with a known oil.

    Args:
        drop_pa: pressure drop at the reference flow [Pa].
        flow_m3_s: reference flow [m³/s].
        density_kg_m3: oil density at the reference [kg/m³].
        viscosity_pa_s: oil viscosity at the reference [Pa·s].
        film_share: share of the drop spent in the viscous films at the reference [-].
    """

    drop_pa: ArrayLike
    flow_m3_s: ArrayLike
    density_kg_m3: float
    viscosity_pa_s: float
    film_share: ArrayLike


def bearing_drop(
    flow_m3_s: ArrayLike,
    film_viscosity_pa_s: ArrayLike,
    density_kg_m3: ArrayLike,
    reference: BearingReference,
) -> Array:
    """Return the pressure drop [Pa] from bearing inlet to housing, broadcast shape.

    Equation: dp = dp_ref (s (mu/mu_ref)(Q/Q_ref) + (1 - s)(rho/rho_ref)(Q/Q_ref)²).

    Args:
        flow_m3_s: oil flow [m³/s].
        film_viscosity_pa_s: viscosity at film temperature [Pa·s].
        density_kg_m3: oil density [kg/m³].
        reference: the known point.

    Raises: nothing.
    Valid: drilled passages then films in series; films laminar.
    Source: project model (laminar film plus orifice loss in series); reference figures
    common practice, no source.

    >>> ref = BearingReference(310e3, 3.67e-5, 821.0, 11.7e-3, 0.5)
    >>> round(float(bearing_drop(3.67e-5, 11.7e-3, 821.0, ref)))
    310000
    """
    ratio = np.asarray(flow_m3_s) / np.asarray(reference.flow_m3_s)
    share = np.asarray(reference.film_share)
    film = share * np.asarray(film_viscosity_pa_s) / reference.viscosity_pa_s
    passages = (1.0 - share) * np.asarray(density_kg_m3) / reference.density_kg_m3
    result: Array = np.asarray(reference.drop_pa) * ratio * (film + passages * ratio)
    return result


def temperature_rise(
    heat_w: ArrayLike,
    flow_m3_s: ArrayLike,
    density_kg_m3: ArrayLike,
    heat_capacity_j_kg_k: ArrayLike,
    growth_per_k: ArrayLike = 0.0,
    metal_w_k: ArrayLike = 0.0,
) -> Array:
    """Return the oil's temperature rise [K] through the housing, broadcast shape.

    Equation: rho Q c (1 + k dT/2) dT = H, bounded to 300 K; zero where no heat is given. Cold metal takes its share
    first: H is lessened by 1 - exp(-rho Q c t/C), what a lump of capacity C warmed for t gives to the oil.

    Args:
        heat_w: heat taken up by the oil [W].
        flow_m3_s: oil flow [m³/s].
        density_kg_m3: oil density [kg/m³].
        heat_capacity_j_kg_k: heat capacity where the oil comes in [J/(kg·K)].
        growth_per_k: how that grows with temperature, k [1/K].
        metal_w_k: heat capacity of the cold metal over the time it has been warmed, C/t [W/K]; 0 once it is warm.

    Raises: nothing.
    Source: energy balance; lumped capacitance (Incropera and DeWitt).

    >>> round(float(temperature_rise(2000.0, 3.67e-5, 821.0, 2169.0)), 1)
    30.6
    """
    heat = np.asarray(heat_w, dtype=np.float64)
    carried = np.asarray(density_kg_m3) * np.asarray(flow_m3_s) * np.asarray(heat_capacity_j_kg_k)
    # the floor on what is carried makes the cap, and keeps zero flow finite
    carried = np.maximum(carried, np.maximum(heat, 1e-12) / RISE_CAP_K)
    metal = np.asarray(metal_w_k, dtype=np.float64)
    if metal.any():
        heat = heat * -np.expm1(-carried / np.maximum(metal, 1e-9))
    rise = heat / carried
    # the root of dT + k dT²/2 = rise, written so that it holds for k = 0 as well
    result: Array = 2.0 * rise / (1.0 + np.sqrt(1.0 + 2.0 * np.asarray(growth_per_k) * rise))
    return result
