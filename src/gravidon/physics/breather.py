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


def gas_drop(flow_m3_s: ArrayLike, bore_m: float, length_m: float, orifice_m: float) -> Array:
    """Return the pressure [Pa] spent by gas in a hose and an orifice, sign of the flow, same shape.

    Equation: (rho/2)(Q/A)² (f L/D + 1.5) + (rho/2)(Q/(Cd A_o))².

    Args:
        flow_m3_s: gas flow [m³/s].
        bore_m: hose bore [m].
        length_m: hose length [m].
        orifice_m: orifice bore [m]; 0 for none.

    Raises: nothing.
    Valid: incompressible, drops small against atmospheric pressure.
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


def pressure_at(path: GasPath, flow_m3_s: Array) -> Array:
    """Return the crankcase pressure [Pa gauge] that drives a flow through one path, (conditions,).

    Equation: sink + cracking + drop(Q); backwards through a one-way valve its resistance is 10⁶ times.

    Args:
        path: the way out.
        flow_m3_s: flow out of the crankcase [m³/s]; negative comes back.

    Raises: nothing.
    Source: sum of losses.

    >>> vent = GasPath(0.0127, 1.0, 0.0, 2068.0, True)
    >>> round(float(pressure_at(vent, np.array([80e-3 / 60]))[0]))
    2309
    """
    q = np.asarray(flow_m3_s, dtype=np.float64)
    drop = gas_drop(q, path.bore_m, path.length_m, path.orifice_m)
    opens = path.cracking_pa * np.clip(q / 1e-7, 0.0, 1.0)
    back = drop * CLOSED + np.minimum(q, 0.0) * 1e12 if path.one_way else drop
    result: Array = np.asarray(path.sink_pa) + np.where(q >= 0.0, drop + opens, back)
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
