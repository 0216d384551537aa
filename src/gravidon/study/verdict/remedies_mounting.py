# SPDX-License-Identifier: GPL-3.0-or-later
"""Remedies of how things are mounted: the seat, the breather, the scavenge pump and its wiring."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from gravidon.parts import dash
from gravidon.physics.scavenge import WIRE_AMPS
from gravidon.plan import paths
from gravidon.plan.fields import Known, si
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.seating import seating
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.proposal import Proposal, cures, next_dash, proposal
from gravidon.study.verdict.trials import trial
from gravidon.words.text import N_, Amount

# --- seat ------------------------------------------------------------------------------------


@cures("tilt", "freeboard", "lying")
def level_shaft(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Level the shaft, or bring it back to its limit."""
    pitch, limit = e.line.turbo.pitch_deg.value, np.degrees(seating(e).tilt_limit_rad)
    if abs(pitch) < 0.5:
        return
    for goal in dict.fromkeys((0.0, float(np.sign(pitch) * np.floor(min(limit, abs(pitch)))))):
        if abs(goal) < abs(pitch):
            words = N_("Level the shaft") if goal == 0.0 else N_("Bring the shaft back to {angle:.0f}°")
            yield proposal(words, paths.put(e.plan, e.at("turbo.pitch_deg"), goal), angle=abs(goal))


@cures("clock", "freeboard", "lying")
def turn_down(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Turn the drain straight down, or back to its limit."""
    turned, limit = e.line.turbo.clock_deg.value, np.degrees(seating(e).clock_limit_rad)
    if abs(turned) < 0.5:
        return
    for goal in dict.fromkeys((0.0, float(np.sign(turned) * np.floor(min(limit, abs(turned)))))):
        if abs(goal) < abs(turned):
            words = (
                N_("Clock the housing so that the drain points straight down")
                if goal == 0.0
                else N_("Turn the drain back to {angle:.0f}°")
            )
            yield proposal(words, paths.put(e.plan, e.at("turbo.clock_deg"), goal), angle=abs(goal))


# --- breather --------------------------------------------------------------------------------


@cures("crankcase-lift", "crankcase", "freeboard")
def open_breather(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """A breather that keeps the crankcase near atmospheric."""
    ceiling = 0.1
    if e.plan.breather.kind != "typed":
        return
    if all(c.crankcase_kpa <= ceiling for c in e.plan.conditions):
        return
    plan = e.plan
    for k, condition in enumerate(plan.conditions):
        if condition.crankcase_kpa > ceiling:
            plan = paths.put(plan, f"conditions.{k}.crankcase_kpa", ceiling)
    yield proposal(
        N_("Open the breather until the crankcase stays below {ceiling}"),
        plan,
        ceiling=Amount(ceiling * 1e3, "kpa_small"),
    )


@cures("crankcase", "crankcase-lift", "freeboard", "boost-back", "vacuum")
def better_breather(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """A wider hose, no orifice, a one-way valve, a can that is open."""
    b = e.plan.breather
    if b.kind == "typed":
        return
    if b.has_valve and not b.one_way:
        yield proposal(N_("Fit a real one-way valve"), paths.put(e.plan, "breather.one_way", True))
    if b.kind == "valve to intake":
        yield proposal(N_("Add an open catch can"), paths.put(e.plan, "breather.kind", "can and valve"))
    if finding.code == "vacuum":
        return  # a wider way to the intake would only pull more
    if b.orifice_mm > 0.0:
        yield proposal(
            N_("Take the orifice out of the breather"), paths.put(e.plan, "breather.orifice_mm", 0.0)
        )
    bore = b.hose_bore_mm
    for _ in range(4):
        wider = next_dash(bore, 16)
        if wider is None:
            return
        bore = round(dash.hose_bore_mm(wider), 2)
        plan = paths.put(e.plan, "breather.hose_bore_mm", bore)
        yield proposal(N_("Run a {size} breather hose"), plan, size=dash.dash_label(wider))
        if float(trial(plan).evaluation.breathing.crankcase_pa.max()) <= si(
            e.plan.needs, "crankcase_max_kpa"
        ):
            return
        yield None


# --- scavenge --------------------------------------------------------------------------------

REAL_PUMPS_L_MIN = (4.0, 6.0, 8.0, 10.0, 12.0, 15.0, 20.0, 25.0, 30.0, 40.0)
"""[L/min] deliveries pumps are sold in; common practice, no source."""


@cures("pump-weak", "freeboard", "floods")
def bigger_pump(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The smallest usual pump that has enough in hand."""
    if e.line.drain_by != "scavenge":
        return
    for size in REAL_PUMPS_L_MIN:
        if size <= e.line.scavenge.free_l_min.value:
            continue
        plan = paths.put(e.plan, e.at("scavenge.free_l_min"), Known(value=size, basis="guess"))
        s = trial(plan).evaluation.of(e.index).scavenging
        enough = bool((s.delivery_m3_s >= e.plan.needs.pump_margin.value * s.bulk_m3_s).all())
        if enough:
            yield proposal(N_("Fit a pump of {size}"), plan, size=Amount(size / 6e4, "l_min"))
            return
        yield None


@cures("pump-weak", "wire-thin", "fuse")
def thicker_wire(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The next gauge that keeps the volts up, and the fuse that fits the pump."""
    s = e.line.scavenge
    if e.line.drain_by != "scavenge":
        return
    for gauge in sorted((g for g in WIRE_AMPS if g < s.gauge_awg), reverse=True):
        plan = paths.put(e.plan, e.at("scavenge.gauge_awg"), gauge)
        after = trial(plan).evaluation.of(e.index).scavenging
        enough = after.volts_share >= e.plan.needs.volts_min.value
        if enough:
            yield proposal(N_("Run {gauge} AWG wire"), plan, gauge=gauge)
            break
        yield None
    if finding.code == "fuse":
        plan = paths.put(e.plan, e.at("scavenge.fuse_a"), e.scavenging.fuse_wanted_a)
        yield proposal(N_("Fit a {fuse:g} A fuse"), plan, fuse=e.scavenging.fuse_wanted_a)


@cures("wire-thin", "no-relay")
def relay(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """A relay by the battery."""
    if not e.line.scavenge.relay:
        yield proposal(
            N_("Fit a relay fed from the battery"), paths.put(e.plan, e.at("scavenge.relay"), True)
        )


@cures("suction", "runs-dry", "no-valve", "floods", "freeboard")
def pump_fittings(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """What the pump's finding asks for: lower it, another kind, a valve, a larger pot, a longer run-on."""
    s = e.line.scavenge
    if e.line.drain_by != "scavenge":
        return
    if finding.code == "suction":
        yield proposal(
            N_("Mount the pump at the pot's height"),
            paths.put(e.plan, e.at("scavenge.pump_above_pot_mm"), 0.0),
        )
    if not s.runs_dry and finding.code == "runs-dry":
        yield proposal(
            N_("Choose a pump that may run dry"), paths.put(e.plan, e.at("scavenge.runs_dry"), True)
        )
    if not s.valve:
        yield proposal(
            N_("Fit a one-way valve at the pump's outlet"), paths.put(e.plan, e.at("scavenge.valve"), True)
        )
    if finding.code == "floods":
        need = float(np.ceil((e.scavenging.comes_down_m3 - e.scavenging.pumped_m3) * 1e6 / 50.0) * 50.0)
        bigger = paths.put(e.plan, e.at("scavenge.pot_ml"), Known(value=max(need, s.pot_ml.value)))
        yield proposal(N_("Fit a pot of {size}"), bigger, size=Amount(need * 1e-6, "ml"))
        longer = paths.put(e.plan, e.at("scavenge.run_on_s"), Known(value=max(s.run_on_s.value, 20.0)))
        yield proposal(N_("Let the pump run on for 20 s"), longer)


MOUNTING = (
    level_shaft,
    turn_down,
    open_breather,
    better_breather,
    bigger_pump,
    thicker_wire,
    relay,
    pump_fittings,
)
