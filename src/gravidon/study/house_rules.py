"""The schools of thought on restrictors, each with what it would give on this plan."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.parts.dash import INCH_MM
from gravidon.plan import paths
from gravidon.plan.model import Plan
from gravidon.study import assemble
from gravidon.study.remedies import smallest_safe
from gravidon.study.restrictor_choice import RestrictorChoice

ALWAYS_IN = {"journal": 0.065, "ball": 0.035}
"""Bore [in] that those who always fit a restrictor use; common practice, no source."""


@dataclass(frozen=True)
class HouseRule:
    """A rule: its name, the bore it asks for [mm] (None: no restrictor), and what comes of it.

    `holds` tells whether every condition stays inside the window; lowest and highest inlet
    pressure at speed [Pa]; hottest oil out [K].
    """

    name: str
    bore_mm: float | None
    holds: bool
    low_pa: float
    high_pa: float
    hottest_k: float


def house_rules(plan: Plan, index: int, choice: RestrictorChoice) -> tuple[HouseRule, ...]:
    """Return never, always and measured, evaluated on a turbo of the plan."""
    it = plan.turbos[index]
    always = round(ALWAYS_IN[it.turbo.bearing] * INCH_MM, 2)
    rows: list[tuple[str, float | None]] = [("never", None), ("always", always)]
    if choice.range_m is not None:
        rows.append(("measured", smallest_safe(choice.drills, choice.range_m).diameter_mm))
    return tuple(_rule(plan, index, name, bore) for name, bore in rows)


def applied(plan: Plan, index: int, rule: HouseRule) -> Plan:
    """Return the plan with a rule's restrictor."""
    path = f"turbos.{index}.restrictor"
    plan = paths.put(plan, f"{path}.fitted", rule.bore_mm is not None)
    return plan if rule.bore_mm is None else paths.put(plan, f"{path}.bore_mm", rule.bore_mm)


def _rule(plan: Plan, index: int, name: str, bore: float | None) -> HouseRule:
    trial = applied(plan, index, HouseRule(name, bore, False, 0, 0, 0))
    _, network = assemble.solve_supply(trial, assemble.source_fit(trial))
    result, it = network.branches[index], trial.turbos[index]
    window = np.array([assemble.window_bounds(it, c) for c in trial.conditions])
    inside = (result.inlet_pressure_pa >= window[:, 0]) & (result.inlet_pressure_pa <= window[:, 1])
    judged = np.isfinite(window[:, 0])
    hot = result.outlet_temperature_k[judged].max(initial=0.0)
    limit = it.turbo.window.outlet_max_c.value + 273.15
    speed = np.array([c.regime == "speed" for c in trial.conditions])
    at_speed = result.inlet_pressure_pa[speed if speed.any() else judged]
    holds = bool((inside | ~judged).all() and hot <= limit)
    return HouseRule(
        name, bore, holds, float(at_speed.min(initial=np.inf)), float(at_speed.max(initial=0.0)), float(hot)
    )
