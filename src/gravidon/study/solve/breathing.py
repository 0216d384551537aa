# SPDX-License-Identifier: GPL-3.0-or-later
"""Crankcase pressure per condition from the breather as planned."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.physics.breather import GasPath, crankcase_pressure
from gravidon.plan.fields import si
from gravidon.plan.model import Plan
from gravidon.study.solve.assemble import column, turning

VALVE_HOSE_M = 0.4
"""[m] hose between valve and intake; common practice, no source."""


@dataclass(frozen=True)
class Breathing:
    """Per condition: crankcase pressure [Pa gauge], blow-by, flow out of the can and into the intake [m³/s].

    A negative flow comes back: boost blown into the crankcase.
    """

    crankcase_pa: Array
    blow_by_m3_s: Array
    can_m3_s: Array
    intake_m3_s: Array


def ways_out(plan: Plan) -> tuple[GasPath, ...]:
    """Return the breather's paths: the can's first, where there is one."""
    b = plan.breather
    intake = column(plan, "intake_kpa")
    can = GasPath(si(b, "hose_bore_mm"), si(b, "hose_mm"), si(b, "orifice_mm"), 0.0, False, 0.0 * intake)
    valve = GasPath(
        si(b, "valve_bore_mm"), VALVE_HOSE_M, 0.0, si(b, "valve_kpa") if b.one_way else 0.0, b.one_way, intake
    )
    return (*((can,) if b.has_can else ()), *((valve,) if b.has_valve else ()))


def breathing(plan: Plan) -> Breathing:
    """Return what the breather makes of the blow-by; typed pressures where the plan says so."""
    blow_by = si(plan.breather, "blow_by_l_min") * column(plan, "blow_by_share")
    paths = ways_out(plan)
    none = np.zeros(len(blow_by))
    if not paths:
        return Breathing(column(plan, "crankcase_kpa"), blow_by, blow_by, none)
    pressure, first = crankcase_pressure(paths, blow_by)
    still = ~turning(plan)
    pressure = np.where(still, 0.0, pressure)
    if not plan.breather.has_can:
        return Breathing(pressure, blow_by, none, first)
    return Breathing(pressure, blow_by, first, blow_by - first)
