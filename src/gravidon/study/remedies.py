"""Remedies: functions from plan to plan, offered only after the same evaluation shows that they help.

A maker of proposals is registered with @remedy for the finding codes it may cure. It yields
proposals; searching makers evaluate as they go. `tried` drives them one evaluation at a time, so
a window can interleave them with its own work.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from gravidon.errors import GravidonError
from gravidon.parts import dash
from gravidon.parts.drills import Drill, drills_between, nearest_drill
from gravidon.parts.entry_means import threads_held
from gravidon.plan import model, paths
from gravidon.plan.fields import si
from gravidon.plan.units import Family, show
from gravidon.study.evaluate import Evaluation, evaluate
from gravidon.study.findings import Finding, both, find
from gravidon.study.restrictor_choice import choose
from gravidon.study.run_review import review


@dataclass(frozen=True)
class Proposal:
    """A changed plan and what one would say to ask for it, in both unit families."""

    titles: tuple[str, str]
    plan: model.Plan


@dataclass(frozen=True)
class Remedy:
    """A proposal that has been evaluated and helps."""

    titles: tuple[str, str]
    plan: model.Plan
    effects: tuple[str, str]
    cures: bool
    margin_after: float
    bad_after: int

    def text(self, family: Family) -> str:
        """Return title and effect in a unit family."""
        k = 0 if family == "imperial" else 1
        return f"{self.titles[k]}: {self.effects[k]}"


Maker = Callable[[Evaluation, Finding], Iterator[Proposal | None]]
MAKERS: list[tuple[tuple[str, ...], Maker]] = []


def remedy(*codes: str) -> Callable[[Maker], Maker]:
    """Register a maker for finding codes."""

    def register(maker: Maker) -> Maker:
        MAKERS.append((codes, maker))
        return maker

    return register


def tried(e: Evaluation, finding: Finding, most: int = 3) -> Iterator[tuple[Remedy, ...]]:
    """Yield, after every single evaluation, the best remedies known so far.

    Each step costs one evaluation at most. The last yield is the answer.
    """
    from gravidon.study import (  # noqa: F401  each registers its makers
        remedies_feed,
        remedies_gravity,
        remedies_mounting,
        remedies_parts,
    )

    e = e.of(finding.turbo)
    known: list[Remedy] = []
    before_bad = sum(f.severity == "bad" for f in find(e))
    for codes, maker in MAKERS:
        if finding.code not in codes:
            continue
        for proposal in _within_bounds(maker(e, finding)):
            if proposal is not None:
                found = _judge(e, finding, proposal, before_bad)
                if found is not None and all(k.titles != found.titles for k in known):
                    known.append(found)
            known.sort(key=lambda r: (not r.cures, r.bad_after, -r.margin_after))
            yield tuple(known[:most])
    yield tuple(known[:most])


def _within_bounds(proposals: Iterator[Proposal | None]) -> Iterator[Proposal | None]:
    """Pass a maker's proposals on; one that would leave what a plan may hold ends its search."""
    try:
        yield from proposals
    except GravidonError:
        return


def remedies(e: Evaluation, finding: Finding) -> tuple[Remedy, ...]:
    """Return the best remedies of a finding, all evaluated."""
    *_, answer = tried(e, finding)
    return answer


def _judge(e: Evaluation, finding: Finding, proposal: Proposal, before_bad: int) -> Remedy | None:
    try:
        after = evaluate(proposal.plan).of(finding.turbo)
    except GravidonError:
        return None
    found = find(after)
    same = next((f for f in found if f.key == finding.key), None)
    bad_after = sum(f.severity == "bad" for f in found)
    if bad_after > before_bad:
        return None
    cures = same is None
    margin = np.inf if same is None else same.margin
    softened = same is not None and same.severity == "watch" and finding.severity == "bad"
    if not cures and not softened and margin < finding.margin + 0.02:
        return None
    effects = both(lambda family: _effect(e, after, finding, family))
    return Remedy(proposal.titles, proposal.plan, effects, cures, float(margin), bad_after)


def _fitting_share(e: Evaluation) -> float:
    return (e.line.drain.fitting.bore_mm / e.line.drain.hose_bore_mm) ** 2


def _flattest(e: Evaluation) -> float:
    leg = review(e).flattest
    return 0.0 if leg is None else leg.off_upright_rad


def _threads(e: Evaluation) -> float:
    fitting = e.line.drain.fitting
    return threads_held(fitting.means, fitting.port_thread, e.plan.sump.wall_mm.value)


_LOOKS: dict[str, tuple[str, str, Callable[[Evaluation], Any]]] = {
    "starved": ("inlet", "kpa", lambda e: e.feed.inlet_pressure_pa),
    "over-fed": ("inlet", "kpa", lambda e: e.feed.inlet_pressure_pa),
    "cooked": ("oil out", "degc", lambda e: e.feed.outlet_temperature_k),
    "freeboard": ("freeboard", "mm", lambda e: e.drainage.freeboard_m),
    "drowned": ("oil above entry", "mm", lambda e: e.drainage.submergence_m),
    "choked": ("fill", "share", lambda e: e.drainage.worst_fill),
    "crankcase-lift": ("lift", "mm", lambda e: e.drainage.backwater.lift_m),
    "tilt": ("tilt", "deg", lambda e: np.array([abs(si(e.line.turbo, "pitch_deg"))])),
    "clock": ("off straight down", "deg", lambda e: np.array([abs(si(e.line.turbo, "clock_deg"))])),
    "flat": ("off upright", "deg", lambda e: np.array([_flattest(e)])),
    "dip": ("dip", "mm", lambda e: review(e).dip_m),
    "crankcase": ("crankcase", "kpa_small", lambda e: e.breathing.crankcase_pa),
    "pump-weak": ("pump takes", "l_min", lambda e: e.scavenging.delivery_m3_s),
    "wire-thin": ("volts at the pump", "v", lambda e: np.array([e.scavenging.volts])),
    "threads-few": ("threads held", "count", lambda e: np.array([_threads(e)])),
    "small-fitting": ("area over the hose's", "share", lambda e: np.array([_fitting_share(e)])),
}


def _effect(before: Evaluation, after: Evaluation, finding: Finding, family: Family) -> str:
    look = _LOOKS.get(finding.code)
    if look is None:
        return "the finding is gone" if all(f.key != finding.key for f in find(after)) else "less"
    name, kind, values = look
    if finding.code == "threads-few" and not np.isfinite(values(after)[0]):
        return "the wall no longer has to hold a thread"
    was, now = values(before), values(after)
    i = finding.condition_index if finding.condition_index >= 0 else int(np.argmin(was))
    first = show(float(was[i]), kind, family, with_unit=False)
    return f"{name} {first} → {show(float(now[i]), kind, family)}"


def same(text: str) -> tuple[str, str]:
    """Return words that hold in both unit families."""
    return text, text


def sized(words: str, *values: tuple[float, str]) -> tuple[str, str]:
    """Return words with SI values written into their braces, in both unit families; values are (value, kind)."""
    return both(lambda f: words.format(*(show(v, kind, f) for v, kind in values)))


def next_dash(bore_mm: float, largest: int) -> int | None:
    wider: Iterable[int] = (
        d for d in dash.HOSE_BORE_IN if dash.hose_bore_mm(d) > bore_mm + 0.3 and d <= largest
    )
    return min(wider, default=None)


# --- pressure side ---------------------------------------------------------------------------


@remedy("starved", "cooked", "over-fed", "wrong-kind-restrictor")
def fit_restrictor(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Drill or fit the hole that holds in every condition."""
    choice = choose(e.plan, e.index)
    yield None
    drill = (
        smallest_safe(choice.drills, choice.range_m)
        if choice.range_m is not None
        else _compromise(choice.inlet_pa, choice.window_pa, choice.bore_m)
    )
    if drill is None:
        return
    plan = paths.put(e.plan, e.at("restrictor.bore_mm"), drill.diameter_mm)
    plan = paths.put(plan, e.at("restrictor.fitted"), True)
    now = e.line.restrictor
    if not now.fitted:
        verb = "Fit a restrictor of"
    else:
        verb = (
            "Drill the restrictor out to" if drill.diameter_mm > now.bore_mm else "Fit a smaller restrictor,"
        )
    suffix = "" if choice.range_m is not None else " (no bore holds everywhere; the best compromise)"
    yield Proposal(same(f"{verb} {drill.name}{suffix}"), plan)


RANGE_ALLOWANCE = 1.10
"""Bore taken this far above the least that holds: room for a worn pump, no more oil than needed
for the drain to carry; project choice."""


def smallest_safe(drills: tuple[Drill, ...], bounds: tuple[float, float]) -> Drill:
    """Return the smallest metric drill a tenth above the range's lower end, inside the range."""
    wanted = min(bounds[0] * RANGE_ALLOWANCE, (bounds[0] * bounds[1]) ** 0.5) * 1e3
    metric = [d for d in drills if not d.name.startswith("#")]
    above = [d for d in metric or drills if d.diameter_mm >= wanted]
    return above[0] if above else nearest_drill(wanted)


def _compromise(inlet: Any, window: Any, bores: Any) -> Drill | None:
    judged = np.isfinite(window[:, 0])
    if not judged.any():
        return None
    inlet, window = inlet[:, judged], window[judged]
    low = (inlet - window[:, 0]) / np.maximum(window[:, 0], 1e4)
    high = (window[:, 1] - inlet) / np.maximum(window[:, 1], 1e4)
    worst = np.minimum(low, high).min(axis=1)
    near = drills_between(0.4, float(bores[-1] * 1e3))
    if not near:
        return None
    return nearest_drill(float(bores[int(np.argmax(worst))] * 1e3))


@remedy("starved", "cooked")
def open_the_line(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Leave the restrictor out."""
    if e.line.restrictor.fitted:
        plan = paths.put(e.plan, e.at("restrictor.fitted"), False)
        yield Proposal(same("Take the restrictor out"), plan)


@remedy("starved")
def wider_feed(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The next feed hose up."""
    pieces = e.line.feed.pieces
    wider = next_dash(min(p.bore_mm for p in pieces), 6)
    if wider is not None:
        bore = round(dash.hose_bore_mm(wider), 2)
        new = tuple(p.model_copy(update={"bore_mm": max(p.bore_mm, bore)}) for p in pieces)
        plan = paths.put(e.plan, e.at("feed.pieces"), new)
        yield Proposal(same(f"Run a {dash.dash_label(wider)} feed hose"), plan)


@remedy("thread-tap", "thread-entry")
def matching_thread(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The same fitting with the port's own thread."""
    where = f"taps.{e.plan.tap}" if finding.station == "tap" else e.at("drain.fitting")
    thread = paths.get(e.plan, f"{where}.port_thread")
    plan = paths.put(e.plan, f"{where}.fitting_thread", thread)
    yield Proposal(same(f"Use a fitting with the port's own {thread} thread"), plan)
