# SPDX-License-Identifier: GPL-3.0-or-later
"""An independent scalar solution of the feed: brentq around `fluids`, one operating point a call.

Used as the oracle in tests and as the yardstick in the benchmark. It shares no code with the
array solver: friction and fitting losses come from `fluids`, oil properties and the restrictor
are written out again from their sources.
"""

import math
from dataclasses import dataclass

import fluids
from scipy.optimize import brentq


@dataclass(frozen=True)
class Point:
    """One operating point in SI units; field names as in `gravidon.physics.feed.Feed`."""

    v40: float
    v100: float
    rho15: float
    tap_pressure: float
    temperature: float
    heat: float
    line_bore: float
    line_length: float
    k1: float
    k_infinity: float
    restrictor_bore: float | None
    restrictor_length: float
    ref_drop: float
    ref_flow: float
    ref_rho: float
    ref_mu: float
    film_share: float
    metal: float = 0.0


def _nu(point: Point, t: float) -> float:
    w40, w100 = (math.log10(math.log10(v * 1e6 + 0.7)) for v in (point.v40, point.v100))
    b = (w40 - w100) / (math.log10(373.15) - math.log10(313.15))
    a = w40 + b * math.log10(313.15)
    return (10 ** (10 ** (a - b * math.log10(t))) - 0.7) * 1e-6


def _restrictor_cd(ratio: float) -> float:
    long_hole = 0.827 - 0.0085 * min(max(ratio, 2.0), 10.0)
    blend = 0.5 - 0.5 * math.cos(math.pi * min(max((ratio - 0.5) / 1.5, 0.0), 1.0))
    return 0.61 + blend * (long_hole - 0.61)


def solve(point: Point) -> tuple[float, float, float]:
    """Return flow [m³/s], inlet pressure [Pa] and outlet temperature [K]."""
    rho = point.rho15 / (1 + 7e-4 * (point.temperature - 288.15))
    mu = _nu(point, point.temperature) * rho
    t_c = point.temperature - 273.15
    capacity = 1000 * (1.685 + 0.00339 * t_c) / math.sqrt(point.rho15 / 999.1)
    area = math.pi / 4 * point.line_bore**2

    def inlet(q: float) -> tuple[float, float]:
        rise = 0.0
        if point.heat > 0:
            # the heat warms the oil from where it comes in: integral of c dT, c linear (Cragoe 1929)
            carried = rho * q * capacity
            first = point.heat / carried
            if point.metal > 0:  # a lump warmed for a while from where the oil comes in
                first *= 1.0 - math.exp(-carried / point.metal)
            first = min(first, 300.0)
            slope = 1000 * 0.00339 / math.sqrt(point.rho15 / 999.1)
            rise = brentq(lambda r: capacity * r + 0.5 * slope * r * r - capacity * first, 0.0, first)
        film_mu = _nu(point, point.temperature + rise / 2) * rho
        ratio = q / point.ref_flow
        film = point.film_share * film_mu / point.ref_mu
        drop = point.ref_drop * ratio * (film + (1 - point.film_share) * rho / point.ref_rho * ratio)
        return drop, rise

    def balance(q: float) -> float:
        velocity = q / area
        re = fluids.Reynolds(V=velocity, D=point.line_bore, rho=rho, mu=mu)
        friction = fluids.friction.Churchill_1977(Re=re, eD=1.5e-6 / point.line_bore)
        k = fluids.K_from_f(fd=friction, L=point.line_length, D=point.line_bore)
        k += fluids.fittings.Hooper2K(
            Di=point.line_bore / 0.0254, Re=re, K1=point.k1, Kinfty=point.k_infinity
        )
        drop = fluids.dP_from_K(K=k, rho=rho, V=velocity)
        if point.restrictor_bore is not None:
            a = point.restrictor_bore / 2
            hole = math.pi * a * a
            cd = _restrictor_cd(point.restrictor_length / point.restrictor_bore)
            drop += mu * q / a**3 * (3 + 8 * point.restrictor_length / (math.pi * a))
            drop += rho * q * q / (2 * cd * cd * hole * hole)
        return point.tap_pressure - drop - inlet(q)[0]

    q = brentq(balance, 1e-12, 1e-2, xtol=1e-14, rtol=1e-10)
    drop, rise = inlet(q)
    return q, drop, point.temperature + rise
