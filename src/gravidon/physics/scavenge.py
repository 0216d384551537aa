# SPDX-License-Identifier: GPL-3.0-or-later
"""Pumping the drain home: pump duty, the pot that feeds it, and the wire that feeds the pump."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import STANDARD_GRAVITY, Array, array
from gravidon.physics.part_full import full_friction_slope
from gravidon.physics.rootfind import solve_falling

COPPER_OHM_M = 1.7241e-8
"""[Ω·m] at 20 °C; published (IEC 60028)."""
COPPER_PER_K = 0.00393
"""[1/K] rise of copper's resistivity; published (IEC 60028)."""
FUSES_A = (3.0, 5.0, 7.5, 10.0, 15.0, 20.0, 25.0, 30.0, 40.0)
"""[A] common blade fuse ratings; from memory."""
WIRE_AMPS = {20: 8.0, 18: 12.0, 16: 16.0, 14: 22.0, 12: 30.0, 10: 42.0, 8: 60.0}
"""[A] a wire of a gauge carries for good in an engine bay; common practice, no source."""


def awg_diameter(gauge: ArrayLike) -> Array:
    """Return the diameter [m] of an American wire gauge, same shape.

    Equation: d = 0.127 mm · 92^((36 - n)/39).

    Args:
        gauge: number of the gauge [-].

    Raises: PhysicsError outside 0-40.
    Source: ASTM B258.

    >>> round(float(awg_diameter(12)) * 1e3, 3)
    2.053
    """
    n = array("wire gauge", gauge, 0.0, 40.0, "AWG")
    result: Array = 0.127e-3 * 92.0 ** ((36.0 - n) / 39.0)
    return result


def wire_resistance(gauge: ArrayLike, length_m: ArrayLike, temperature_k: ArrayLike = 293.15) -> Array:
    """Return the resistance [Ω] of a copper wire, broadcast shape.

    Equation: R = rho (1 + alpha (T - 20 °C)) L / (pi d²/4).

    Args:
        gauge: American wire gauge [-].
        length_m: length of the wire, both ways counted [m].
        temperature_k: its temperature [K].

    Raises: PhysicsError for a gauge outside 0-40.
    Source: ASTM B258; IEC 60028.

    >>> round(float(wire_resistance(12, 1000.0)), 2)
    5.21
    """
    area = np.pi / 4.0 * awg_diameter(gauge) ** 2
    rho = COPPER_OHM_M * (1.0 + COPPER_PER_K * (np.asarray(temperature_k, dtype=float) - 293.15))
    result: Array = rho * np.asarray(length_m, dtype=float) / area
    return result


def fuse_for(current_a: float, share: float = 1.25) -> float:
    """Return the smallest common fuse [A] that a current leaves alone; the largest if none does.

    Equation: first rating >= share · current.

    Args:
        current_a: running current [A].
        share: reserve for starting [-].

    Raises: nothing.
    Source: ratings from memory; reserve common practice, no source.

    >>> fuse_for(9.0)
    15.0
    """
    return next((f for f in FUSES_A if f >= share * current_a), FUSES_A[-1])


def pump_head(
    flow_m3_s: ArrayLike, lift_m: float, valve_pa: float, bore_m: float, length_m: float,
    density_kg_m3: ArrayLike, viscosity_pa_s: ArrayLike,
) -> Array:  # fmt: skip
    """Return the pressure [Pa] a pump must make at a flow, broadcast shape.

    Equation: rho g lift + cracking pressure + rho g S_f L.

    Args:
        flow_m3_s: froth flow [m³/s].
        lift_m: return entry above the pot [m].
        valve_pa: cracking pressure of the one-way valve [Pa].
        bore_m: bore of suction and return hose [m].
        length_m: their length together [m].
        density_kg_m3: bulk density [kg/m³].
        viscosity_pa_s: bulk viscosity [Pa·s].

    Raises: nothing.
    Source: Bernoulli with pipe friction, see `part_full.full_friction_slope`.

    >>> round(float(pump_head(0.0, 0.5, 2000.0, 0.0087, 1.5, 800.0, 0.02)))
    5923
    """
    rho = np.asarray(density_kg_m3, dtype=float)
    slope = full_friction_slope(flow_m3_s, bore_m, np.asarray(viscosity_pa_s) / rho, STANDARD_GRAVITY)
    result: Array = rho * STANDARD_GRAVITY * (lift_m + slope * length_m) + valve_pa
    return result


def pump_delivery(
    free_m3_s: float, stall_pa: float, volts_share: float, lift_m: float, valve_pa: float,
    bore_m: float, length_m: float, density_kg_m3: ArrayLike, viscosity_pa_s: ArrayLike,
) -> Array:  # fmt: skip
    """Return the froth [m³/s] a pump takes in this piping, broadcast shape of the oil's arguments.

    Equation: Q = Q_free v (1 - dp/(p_stall v)) met with dp of `pump_head`; v the share of rated volts.

    Args:
        free_m3_s: delivery against no pressure at rated volts [m³/s].
        stall_pa: pressure at which it delivers nothing [Pa].
        volts_share: volts at the pump over its rated volts [-].
        lift_m: return entry above the pot [m].
        valve_pa: cracking pressure of the one-way valve [Pa].
        bore_m: bore of its hoses [m].
        length_m: length of its hoses [m].
        density_kg_m3: bulk density [kg/m³].
        viscosity_pa_s: bulk viscosity [Pa·s].

    Raises: nothing.
    Valid: straight pump curve between its two end points.
    Source: linear pump characteristic; common practice, no source.

    >>> round(float(pump_delivery(1e-4, 1e5, 1.0, 0.0, 5e4, 0.02, 0.001, 800.0, 1e-6)) * 1e4, 2)
    0.5
    """
    rho, mu = np.broadcast_arrays(
        np.asarray(density_kg_m3, dtype=np.float64), np.asarray(viscosity_pa_s, dtype=np.float64)
    )
    shape = rho.shape
    rho, mu = rho.reshape(-1), mu.reshape(-1)

    def surplus(q: Array) -> Array:
        dp = pump_head(q, lift_m, valve_pa, bore_m, length_m, rho, mu)
        result: Array = free_m3_s * (volts_share - dp / stall_pa) - q
        return result

    high = np.full(rho.shape, max(free_m3_s * volts_share, 1e-9))
    found = solve_falling(surplus, np.zeros(rho.shape), high, np.full(rho.shape, free_m3_s), 1e-6).value
    dead = surplus(np.zeros(rho.shape)) <= 0.0
    result: Array = np.where(dead, 0.0, found).reshape(shape)
    return result
