# SPDX-License-Identifier: GPL-3.0-or-later
"""The schools of thought on restrictors, each with what it would give on this plan."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.parts.dash import INCH_MM
from gravidon.plan import paths
from gravidon.plan.model import Plan
from gravidon.study.judge.supply import window_margins
from gravidon.study.solve import assemble
from gravidon.study.supply.restrictor_choice import RestrictorChoice, smallest_safe
from gravidon.translate import N_


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
    always = round(it.turbo.kind.house_bore_in * INCH_MM, 2)
    rows: list[tuple[str, float | None]] = [(N_("never"), None), (N_("always"), always)]
    if choice.range_m is not None:
        rows.append((N_("measured"), smallest_safe(choice.drills, choice.range_m).diameter_mm))
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
    margins = window_margins(it, trial.conditions, result)
    judged = np.isfinite(margins[1])
    hot = result.outlet_temperature_k[judged].max(initial=0.0)
    speed = np.array([c.kind.driving for c in trial.conditions])
    at_speed = result.inlet_pressure_pa[speed if speed.any() else judged]
    holds = not any((m < 0.0).any() for m in margins)
    return HouseRule(
        name, bore, holds, float(at_speed.min(initial=np.inf)), float(at_speed.max(initial=0.0)), float(hot)
    )
