"""Remedies of how things are mounted: the seat, the breather, the scavenge pump and its wiring."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from gravidon.parts import dash
from gravidon.physics.scavenge import WIRE_AMPS
from gravidon.plan import paths
from gravidon.plan.fields import Known, si
from gravidon.plan.units import show
from gravidon.study.evaluate import Evaluation, evaluate
from gravidon.study.findings import Finding, both
from gravidon.study.remedies import Proposal, next_dash, remedy, same, sized
from gravidon.study.seating import seating

# --- seat ------------------------------------------------------------------------------------


@remedy("tilt", "freeboard", "lying")
def level_shaft(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Level the shaft, or bring it back to its limit."""
    pitch, limit = e.line.turbo.pitch_deg.value, np.degrees(seating(e).tilt_limit_rad)
    if abs(pitch) < 0.5:
        return
    for goal in dict.fromkeys((0.0, float(np.sign(pitch) * np.floor(min(limit, abs(pitch)))))):
        if abs(goal) < abs(pitch):
            words = "Level the shaft" if goal == 0.0 else f"Bring the shaft back to {abs(goal):.0f}°"
            yield Proposal(same(words), paths.put(e.plan, e.at("turbo.pitch_deg"), goal))


@remedy("clock", "freeboard", "lying")
def turn_down(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Turn the drain straight down, or back to its limit."""
    turned, limit = e.line.turbo.clock_deg.value, np.degrees(seating(e).clock_limit_rad)
    if abs(turned) < 0.5:
        return
    for goal in dict.fromkeys((0.0, float(np.sign(turned) * np.floor(min(limit, abs(turned)))))):
        if abs(goal) < abs(turned):
            words = (
                "Clock the housing so that the drain points straight down"
                if goal == 0.0
                else f"Turn the drain back to {abs(goal):.0f}°"
            )
            yield Proposal(same(words), paths.put(e.plan, e.at("turbo.clock_deg"), goal))


# --- breather --------------------------------------------------------------------------------


@remedy("crankcase-lift", "crankcase", "freeboard")
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
    yield Proposal(
        both(
            lambda f: (
                f"Open the breather until the crankcase stays below {show(ceiling * 1e3, 'kpa_small', f)}"
            )
        ),
        plan,
    )


@remedy("crankcase", "crankcase-lift", "freeboard", "boost-back")
def better_breather(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """A wider hose, no orifice, a one-way valve, a can that is open."""
    b = e.plan.breather
    if b.kind == "typed":
        return
    if b.kind != "catch can" and not b.one_way:
        yield Proposal(same("Fit a real one-way valve"), paths.put(e.plan, "breather.one_way", True))
    if b.kind == "valve to intake":
        yield Proposal(same("Add an open catch can"), paths.put(e.plan, "breather.kind", "can and valve"))
    if b.orifice_mm > 0.0:
        yield Proposal(
            same("Take the orifice out of the breather"), paths.put(e.plan, "breather.orifice_mm", 0.0)
        )
    bore = b.hose_bore_mm
    for _ in range(4):
        wider = next_dash(bore, 16)
        if wider is None:
            return
        bore = round(dash.hose_bore_mm(wider), 2)
        plan = paths.put(e.plan, "breather.hose_bore_mm", bore)
        yield Proposal(same(f"Run a {dash.dash_label(wider)} breather hose"), plan)
        if float(evaluate(plan).breathing.crankcase_pa.max()) <= si(e.plan.needs, "crankcase_max_kpa"):
            return
        yield None


# --- scavenge --------------------------------------------------------------------------------

REAL_PUMPS_L_MIN = (4.0, 6.0, 8.0, 10.0, 12.0, 15.0, 20.0, 25.0, 30.0, 40.0)
"""[L/min] deliveries pumps are sold in; common practice, no source."""


@remedy("pump-weak", "freeboard", "floods")
def bigger_pump(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The smallest usual pump that has enough in hand."""
    if e.line.drain_by != "scavenge":
        return
    for size in REAL_PUMPS_L_MIN:
        if size <= e.line.scavenge.free_l_min.value:
            continue
        plan = paths.put(e.plan, e.at("scavenge.free_l_min"), Known(value=size, basis="guess"))
        s = evaluate(plan).of(e.index).scavenging
        enough = bool((s.delivery_m3_s >= e.plan.needs.pump_margin.value * s.bulk_m3_s).all())
        if enough:
            yield Proposal(sized("Fit a pump of {}", (size / 6e4, "l_min")), plan)
            return
        yield None


@remedy("pump-weak", "wire-thin", "fuse")
def thicker_wire(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The next gauge that keeps the volts up, and the fuse that fits the pump."""
    s = e.line.scavenge
    if e.line.drain_by != "scavenge":
        return
    for gauge in sorted((g for g in WIRE_AMPS if g < s.gauge_awg), reverse=True):
        plan = paths.put(e.plan, e.at("scavenge.gauge_awg"), gauge)
        after = evaluate(plan).of(e.index).scavenging
        enough = after.volts_share >= e.plan.needs.volts_min.value
        if enough:
            yield Proposal(same(f"Run {gauge} AWG wire"), plan)
            break
        yield None
    if finding.code == "fuse":
        plan = paths.put(e.plan, e.at("scavenge.fuse_a"), e.scavenging.fuse_wanted_a)
        yield Proposal(same(f"Fit a {e.scavenging.fuse_wanted_a:g} A fuse"), plan)


@remedy("wire-thin", "no-relay")
def relay(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """A relay by the battery."""
    if not e.line.scavenge.relay:
        yield Proposal(
            same("Fit a relay fed from the battery"), paths.put(e.plan, e.at("scavenge.relay"), True)
        )


@remedy("suction", "runs-dry", "no-valve", "floods", "freeboard")
def pump_fittings(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """What the pump's finding asks for: lower it, another kind, a valve, a larger pot, a longer run-on."""
    s = e.line.scavenge
    if e.line.drain_by != "scavenge":
        return
    if finding.code == "suction":
        yield Proposal(
            same("Mount the pump at the pot's height"),
            paths.put(e.plan, e.at("scavenge.pump_above_pot_mm"), 0.0),
        )
    if not s.runs_dry and finding.code == "runs-dry":
        yield Proposal(
            same("Choose a pump that may run dry"), paths.put(e.plan, e.at("scavenge.runs_dry"), True)
        )
    if not s.valve:
        yield Proposal(
            same("Fit a one-way valve at the pump's outlet"), paths.put(e.plan, e.at("scavenge.valve"), True)
        )
    if finding.code == "floods":
        need = float(np.ceil((e.scavenging.comes_down_m3 - e.scavenging.pumped_m3) * 1e6 / 50.0) * 50.0)
        bigger = paths.put(e.plan, e.at("scavenge.pot_ml"), Known(value=max(need, s.pot_ml.value)))
        yield Proposal(sized("Fit a pot of {}", (need * 1e-6, "ml")), bigger)
        longer = paths.put(e.plan, e.at("scavenge.run_on_s"), Known(value=max(s.run_on_s.value, 20.0)))
        yield Proposal(same("Let the pump run on for 20 s"), longer)
