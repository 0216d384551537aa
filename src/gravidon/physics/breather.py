# SPDX-License-Identifier: GPL-3.0-or-later
"""Blow-by through the breather: what pressure stands in the crankcase."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array
from gravidon.physics.line import friction_factor_churchill
from gravidon.physics.rootfind import solve_falling

GAS_DENSITY, GAS_VISCOSITY = 1.03, 2.05e-5
"""[kg/m³], [Pa·s] of air at 70 °C and atmospheric pressure, standing for blow-by; from memory."""
ORIFICE_COEFFICIENT = 0.61
"""[-] sharp-edged orifice; from memory."""
END_LOSSES = 1.5
"""[-] velocity heads lost where a hose begins and ends; published (entrance 0.5, exit 1.0)."""
ATMOSPHERE_PA = 101_325.0
"""[Pa] standard atmosphere."""
ADIABATIC = 1.4
"""[-] ratio of specific heats of air."""
CLOSED = 1e6
"""Times the resistance of a shut one-way valve: a leak too small to matter."""


@dataclass(frozen=True)
class GasPath:
    """One way for blow-by to leave the crankcase.

    Args:
        bore_m: hose bore [m].
        length_m: hose length [m].
        orifice_m: smallest hole on the way [m]; 0 for none.
        cracking_pa: pressure that opens the valve [Pa]; 0 for none.
        one_way: whether gas is kept from coming back.
        sink_pa: pressure at the far end [Pa gauge], (conditions,).
    """

    bore_m: float
    length_m: float
    orifice_m: float
    cracking_pa: float
    one_way: bool
    sink_pa: ArrayLike = 0.0


def _psi(ratio: Array) -> Array:
    k = ADIABATIC
    result: Array = np.sqrt(2.0 * k / (k - 1.0) * (ratio ** (2.0 / k) - ratio ** ((k + 1.0) / k)))
    return result


_CRITICAL = (2.0 / (ADIABATIC + 1.0)) ** (ADIABATIC / (ADIABATIC - 1.0))
_RATIOS = 1.0 - (1.0 - _CRITICAL) * np.linspace(0.0, 1.0, 401) ** 2
_CHOKED = float(_psi(np.array(_CRITICAL)))
_ASKED_SQUARED = (_psi(_RATIOS) / _RATIOS) ** 2
"""Pressure ratios over an open hole, and the square of what it lets through over what it would at the sink's pressure."""


def gas_drop(flow_m3_s: ArrayLike, bore_m: float, length_m: float, orifice_m: float) -> Array:
    """Return the pressure [Pa] spent by gas in a hose and an orifice, sign of the flow, same shape.

    Equation: (rho/2)(Q/A)² (f L/D + 1.5) + (rho/2)(Q/(Cd A_o))².

    Args:
        flow_m3_s: gas flow [m³/s].
        bore_m: hose bore [m].
        length_m: hose length [m].
        orifice_m: orifice bore [m]; 0 for none.

    Raises: nothing.
    Valid: as if incompressible at atmospheric pressure; `pressure_at` makes it a gas.
    Source: Darcy-Weisbach with Churchill 1977; orifice equation.

    >>> round(float(gas_drop(80e-3 / 60, 0.0127, 1.0, 0.0)))
    241
    """
    q = np.asarray(flow_m3_s, dtype=np.float64)
    speed = np.abs(q) / (np.pi / 4.0 * bore_m**2)
    re = np.maximum(GAS_DENSITY * speed * bore_m / GAS_VISCOSITY, 1e-9)
    hose = friction_factor_churchill(re) * length_m / bore_m + END_LOSSES
    drop = 0.5 * GAS_DENSITY * speed * speed * hose
    if orifice_m > 0.0:
        drop = drop + 0.5 * GAS_DENSITY * (q / (ORIFICE_COEFFICIENT * np.pi / 4.0 * orifice_m**2)) ** 2
    result: Array = np.sign(q) * drop
    return result


def orifice_upstream(
    flow_m3_s: ArrayLike, orifice_m: float, sink_pa: ArrayLike, gas_density_kg_m3: float = GAS_DENSITY
) -> Array:
    """Return the pressure [Pa absolute] that drives a gas flow through a hole, broadcast shape.

    Equation: m = Cd A p1 sqrt(rho0/p0) psi(p2/p1), psi² = 2k/(k-1) (r^(2/k) - r^((k+1)/k)), constant below the critical
    ratio (2/(k+1))^(k/(k-1)), where the hole chokes.

    Args:
        flow_m3_s: flow at atmospheric pressure [m³/s], not negative.
        orifice_m: bore of the hole [m].
        sink_pa: pressure behind it [Pa absolute].
        gas_density_kg_m3: density at atmospheric pressure [kg/m³].

    Raises: nothing.
    Source: isentropic flow of a perfect gas (Saint-Venant and Wantzel 1839).

    >>> round(float(orifice_upstream(1e-3, 0.005, 30_000.0)))
    42488
    """
    area = ORIFICE_COEFFICIENT * np.pi / 4.0 * orifice_m**2
    # what the hole must let through, as an upstream pressure at psi = 1
    asked = np.asarray(flow_m3_s) * np.sqrt(gas_density_kg_m3 * ATMOSPHERE_PA) / area
    sink = np.maximum(np.asarray(sink_pa, dtype=np.float64), 1.0)
    squares = (asked / sink) ** 2
    open_ratio = 1.0 - np.interp(squares, _ASKED_SQUARED, 1.0 - _RATIOS)
    result: Array = np.where(squares < _ASKED_SQUARED[-1], sink / open_ratio, asked / _CHOKED)
    return result


def pressure_at(path: GasPath, flow_m3_s: Array) -> Array:
    """Return the crankcase pressure [Pa gauge] that drives a flow through one path, (conditions,).

    Equation: through hole and hose from the sink up: p1 of `orifice_upstream`, then p² = p1² + 2 p0 drop(Q) (isothermal
    gas), plus what opens the valve; backwards p² = sink² - 2 p0 drop(Q), through a one-way valve at 10⁶ times the
    resistance.

    Args:
        path: the way out.
        flow_m3_s: flow out of the crankcase at atmospheric pressure [m³/s]; negative comes back.

    Raises: nothing.
    Source: isothermal pipe flow, isentropic hole (any gas dynamics textbook).

    >>> vent = GasPath(0.0127, 1.0, 0.0, 2068.0, True)
    >>> round(float(pressure_at(vent, np.array([80e-3 / 60]))[0]))
    2309
    """
    q = np.asarray(flow_m3_s, dtype=np.float64)
    sink = np.maximum(ATMOSPHERE_PA + np.asarray(path.sink_pa, dtype=np.float64), 1.0)
    opens = path.cracking_pa * np.clip(q / 1e-7, 0.0, 1.0)
    out = np.maximum(q, 0.0)
    behind = orifice_upstream(out, path.orifice_m, sink) if path.orifice_m > 0.0 else sink
    forward = (
        np.sqrt(behind**2 + 2.0 * ATMOSPHERE_PA * gas_drop(out, path.bore_m, path.length_m, 0.0)) + opens
    )
    drop = gas_drop(np.minimum(q, 0.0), path.bore_m, path.length_m, path.orifice_m)
    if path.one_way:
        back = sink + drop * CLOSED + np.minimum(q, 0.0) * 1e12
    else:
        square = sink**2 + 2.0 * ATMOSPHERE_PA * drop
        # below nothing the line goes on straight, so that a search may pass over it
        back = np.where(square > 0.0, np.sqrt(np.maximum(square, 0.0)), square / ATMOSPHERE_PA)
    result: Array = np.where(q >= 0.0, forward, back) - ATMOSPHERE_PA
    return result


def crankcase_pressure(paths: tuple[GasPath, ...], blow_by_m3_s: ArrayLike) -> tuple[Array, Array]:
    """Return crankcase pressure [Pa gauge] and the flow [m³/s] through the first path, (conditions,).

    Equation: one path: p(Q). Two: the split q with p1(q) = p2(Q - q); both rise with their flow.

    Args:
        paths: one or two ways out.
        blow_by_m3_s: blow-by [m³/s].

    Raises: ValueError for no path, or more than two.
    Source: continuity.

    >>> vent = GasPath(0.0127, 1.0, 0.0, 0.0, False)
    >>> p, q = crankcase_pressure((vent, vent), [80e-3 / 60])
    >>> round(float(q[0] * 60e3), 3)
    40.0
    """
    blow_by = np.atleast_1d(np.asarray(blow_by_m3_s, dtype=np.float64))
    if len(paths) == 1:
        return pressure_at(paths[0], blow_by), blow_by
    if len(paths) != 2:
        raise ValueError("expected one or two ways out of the crankcase")
    first, second = paths
    reach = np.maximum(blow_by, 1e-6) + 0.05

    def uneven(q: Array) -> Array:
        return pressure_at(second, blow_by - q) - pressure_at(first, q)

    split = solve_falling(uneven, -reach, reach, np.full(blow_by.shape, 1.0), 1e-3, 200).value
    # a shut valve leaves one of the two pressures undetermined: the open path's is the crankcase's
    shut_first = first.one_way & (split < 1e-7)
    pressure = np.where(shut_first, pressure_at(second, blow_by - split), pressure_at(first, split))
    return pressure, split


FLOODING_C, FLOODING_M = 0.725, 1.0
"""[-] of a tube with sharp ends; published (Wallis 1969, chapter 11)."""


def flooding_gas(
    liquid_m3_s: ArrayLike,
    bore_m: ArrayLike,
    liquid_kg_m3: ArrayLike,
    gravity_m_s2: ArrayLike,
    gas_kg_m3: float = GAS_DENSITY,
) -> Array:
    """Return the gas flow [m³/s] up an upright tube that just holds up the liquid running down it, broadcast shape.

    Equation: sqrt(jg*) + m sqrt(jf*) = C, j* = (Q/A) sqrt(rho)/sqrt(g D (rho_l - rho_g)); 0 where the liquid alone floods.

    Args:
        liquid_m3_s: flow of liquid down [m³/s].
        bore_m: bore [m].
        liquid_kg_m3: its density [kg/m³].
        gravity_m_s2: effective gravity [m/s²].
        gas_kg_m3: density of the gas [kg/m³].

    Raises: nothing.
    Valid: round tubes, sharp ends, thin liquids.
    Source: Wallis 1969, One-dimensional Two-phase Flow, chapter 11.

    >>> round(float(flooding_gas(3e-5, 0.0143, 500.0, 9.81)) * 6e4)
    0
    """
    bore, rho = np.asarray(bore_m, dtype=np.float64), np.asarray(liquid_kg_m3, dtype=np.float64)
    area = np.pi / 4.0 * bore**2
    scale = np.sqrt(np.asarray(gravity_m_s2) * bore * (rho - gas_kg_m3))
    liquid = np.asarray(liquid_m3_s) / area * np.sqrt(rho) / scale
    left = np.maximum(FLOODING_C - FLOODING_M * np.sqrt(liquid), 0.0)
    result: Array = left**2 * scale / np.sqrt(gas_kg_m3) * area
    return result
