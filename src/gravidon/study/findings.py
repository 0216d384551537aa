"""Findings: what goes wrong, in which condition, by how much, and why. Worst first.

A finder is a function from an Evaluation to findings, registered with @finder. Adding a finding
means adding one finder; remedies hang on its code (see `remedies`).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from gravidon.parts import sources
from gravidon.parts.threads import THREADS, joint
from gravidon.physics.arrays import Array
from gravidon.plan.units import Family, show
from gravidon.study.evaluate import Evaluation
from gravidon.study.measures import Measure, measures

Severity = Literal["bad", "watch"]
SEVERITY_ORDER = {"bad": 0, "watch": 1}


@dataclass(frozen=True)
class Finding:
    """One thing found. `value` and `limit` are SI; `texts` hold both unit families."""

    code: str
    severity: Severity
    title: str
    station: str
    condition: str
    condition_index: int
    value: float
    limit: float
    kind: str
    source: str
    texts: tuple[str, str]
    why: str
    margin: float
    also: tuple[str, ...] = ()
    turbo: int = 0
    rests_on: tuple[str, ...] = ()

    @property
    def key(self) -> str:
        """What tells this finding from others: its code and its turbo."""
        return f"{self.code}@{self.turbo}"

    def text(self, family: Family) -> str:
        """Return the sentence in a unit family."""
        return self.texts[0] if family == "imperial" else self.texts[1]


Finder = Callable[[Evaluation], Iterable[Finding]]
FINDERS: list[Finder] = []
"""Run for every turbo."""
PLAN_FINDERS: list[Finder] = []
"""Run once for the plan."""


def finder(function: Finder) -> Finder:
    """Register a finder."""
    FINDERS.append(function)
    return function


def plan_finder(function: Finder) -> Finder:
    """Register a finder that looks at the plan as a whole."""
    PLAN_FINDERS.append(function)
    return function


def find(e: Evaluation) -> tuple[Finding, ...]:
    """Return all findings, worst first."""
    from gravidon.study import findings_feed  # noqa: F401  registers its finders

    found: list[Finding] = []
    for lens in e.all:
        for make in FINDERS:
            for f in make(lens):
                title = f.title if len(e.all) == 1 else f"{lens.line.turbo.label}: {f.title}"
                found.append(replace(f, turbo=lens.index, title=title))
    found += [f for make in PLAN_FINDERS for f in make(e.of(0))]
    return tuple(sorted(found, key=lambda f: (SEVERITY_ORDER[f.severity], f.margin)))


def verdict_word(findings: Iterable[Finding]) -> Literal["fails", "watch", "holds"]:
    """Return the plan's verdict: fails with any bad finding, watch with any other, else holds."""
    severities = {f.severity for f in findings}
    return "fails" if "bad" in severities else "watch" if severities else "holds"


def verdict_by_condition(e: Evaluation, findings: Iterable[Finding]) -> tuple[str, ...]:
    """Return the word for every condition, in the plan's order; findings of no condition leave it."""
    words = dict.fromkeys(e.names, "holds")
    for f in sorted(findings, key=lambda f: -SEVERITY_ORDER[f.severity]):
        for name in (f.condition, *f.also) if f.condition else ():
            words[name] = "fails" if f.severity == "bad" else "watch"
    return tuple(words[name] for name in e.names)


# --- helpers ---------------------------------------------------------------------------------


def both(make: Callable[[Family], str]) -> tuple[str, str]:
    """Return a sentence in both unit families."""
    return make("imperial"), make("metric")


def worst_of(e: Evaluation, measure: Measure, hit: np.ndarray) -> tuple[int, tuple[str, ...]]:
    """Return the hit condition with least margin, and the names of the others."""
    order = [i for i in np.argsort(measure.margin) if hit[i]]
    return int(order[0]), tuple(e.names[i] for i in order[1:])


def rests(e: Evaluation, *prefixes: str) -> tuple[str, ...]:
    """Return the guessed values under the given paths; those of a turbo's line without its number."""
    own = e.at("")
    chosen = f"taps.{e.plan.tap}."

    def short(path: str) -> str:
        return path.removeprefix(own).replace(chosen, "tap.")

    return tuple(p for p in e.guesses if short(p).startswith(prefixes))


def lasting(e: Evaluation) -> Array:
    """Return how long each condition lasts [s]; inf for good."""
    seconds = np.array([c.duration_s for c in e.plan.conditions])
    return np.where(seconds > 0.0, seconds, np.inf)


def _of(e: Evaluation, code: str) -> Measure:
    return next(m for m in measures(e) if m.code == code)


def _build(
    e: Evaluation, m: Measure, hit: np.ndarray, severity: Severity, title: str,
    sentence: Callable[[int, Family], str], why: str, rests_on: tuple[str, ...],
) -> Finding:  # fmt: skip
    i, also = worst_of(e, m, hit)
    return Finding(
        code=m.code, severity=severity, title=title, station=m.station, condition=e.names[i],
        condition_index=i, value=float(m.value[i]), limit=float(m.limit[i]), kind=m.kind,
        source=m.source, texts=both(lambda family: sentence(i, family)), why=why,
        margin=float(m.margin[i]), also=also, rests_on=rests_on,
    )  # fmt: skip


# --- pressure side ---------------------------------------------------------------------------


@finder
def starved(e: Evaluation) -> Iterable[Finding]:
    """Inlet pressure below the window."""
    m = _of(e, "starved")
    hit = m.margin < 0.0
    if not hit.any():
        return

    def sentence(i: int, family: Family) -> str:
        have, need = show(m.value[i], "kpa", family), show(m.limit[i], "kpa", family)
        return f"The bearing gets {have} at {e.names[i]}; it wants at least {need}."

    hole = e.line.restrictor
    if hole.fitted and e.line.turbo.bearing == "journal" and hole.bore_mm < 1.3:
        why = (
            "The restrictor is of the size meant for ball bearings; on a journal bearing it takes most of "
            "the pressure before the bearing sees any."
        )
    else:
        i, _ = worst_of(e, m, hit)
        lost = {
            "the restrictor": e.feed.restrictor_drop_pa[i],
            "the feed line": e.feed.line_drop_pa[i],
        }
        worst = max(lost, key=lambda k: float(lost[k]))
        scarce = e.supply.tap_pa[i] < m.limit[i]
        why = (
            "The gallery itself does not have the pressure in this condition."
            if scarce
            else f"Most of the pressure is spent in {worst} on the way."
        )
    yield _build(e, m, hit, "bad", "Bearing starved", sentence, why,
                 rests(e, "turbo.window", "turbo.reference", "tap.offset", "restrictor", "engine"))  # fmt: skip


@finder
def over_fed(e: Evaluation) -> Iterable[Finding]:
    """Inlet pressure above the window."""
    m = _of(e, "over-fed")
    hit = m.margin < 0.0
    if not hit.any():
        return

    def sentence(i: int, family: Family) -> str:
        have, most = show(m.value[i], "kpa", family), show(m.limit[i], "kpa", family)
        return f"The bearing sees {have} at {e.names[i]}; the window ends at {most}."

    regimes = {c.regime for c, h in zip(e.plan.conditions, hit, strict=True) if h}
    severity: Severity = "watch" if regimes == {"cold"} else "bad"
    yield _build(e, m, hit, severity, "Bearing over-fed", sentence,
                 "More oil than the housing can throw off is pushed past the piston-ring seals.",
                 rests(e, "turbo.window", "turbo.reference", "engine"))  # fmt: skip


@finder
def cooked(e: Evaluation) -> Iterable[Finding]:
    """Oil leaves the housing too hot."""
    m = _of(e, "cooked")
    hit = m.margin < 0.0
    if not hit.any():
        return

    def sentence(i: int, family: Family) -> str:
        flow = show(e.feed.flow_m3_s[i], "l_min", family)
        return (
            f"Oil leaves the bearing at {show(m.value[i], 'degc', family)} in {e.names[i]} with only {flow} "
            f"passing; the limit is {show(m.limit[i], 'degc', family)}."
        )

    yield _build(e, m, hit, "bad", "Oil cooked in the housing", sentence,
                 "The oil is also the bearing's coolant: too little flow cannot carry the heat away, and it cokes.",
                 rests(e, "turbo.window.outlet", "turbo.reference"))  # fmt: skip


def _thread_finding(station: str, place: str, male: str, female: str) -> Iterable[Finding]:
    verdict = joint(THREADS[male], THREADS[female])
    if verdict.verdict == "seals":
        return
    text = f"At the {place}: {verdict.text}."
    yield Finding(
        code=f"thread-{station}", severity="bad", title="Threads do not match", station=station,
        condition="", condition_index=-1, value=THREADS[male].pitch_mm * 1e-3,
        limit=THREADS[female].pitch_mm * 1e-3, kind="bore",
        source=f"{THREADS[male].standard} against {THREADS[female].standard}", texts=(text, text),
        why="It screws in by hand and feels right; hot oil then finds the spiral between the flanks.",
        margin=-1.0,
    )  # fmt: skip


@plan_finder
def tap_threads(e: Evaluation) -> Iterable[Finding]:
    """Two thread standards mixed at the tap."""
    yield from _thread_finding("tap", "tap", e.tap.fitting_thread, e.tap.port_thread)


@finder
def entry_threads(e: Evaluation) -> Iterable[Finding]:
    """Two thread standards mixed at the pan."""
    fitting = e.line.drain.fitting
    yield from _thread_finding("entry", "pan entry", fitting.fitting_thread, fitting.port_thread)


# --- gravity side ----------------------------------------------------------------------------


@finder
def seal_wet(e: Evaluation) -> Iterable[Finding]:
    """Oil stands at, or too close to, a seal."""
    m = _of(e, "freeboard")
    wet = m.value < 0.0
    in_time = e.drainage.time_to_wet_s > lasting(e)
    bad = wet & ~in_time
    close = (m.margin < 0.0) & ~bad

    def sentence(i: int, family: Family) -> str:
        which = ("turbine", "compressor")[int(e.drainage.lower_seal[i])]
        have = show(abs(m.value[i]), "mm", family)
        if m.value[i] < 0.0:
            after = f" after {e.drainage.time_to_wet_s[i]:.1f} s"
            if e.drainage.time_to_wet_s[i] > lasting(e)[i]:
                after += f", but {e.names[i]} lasts {lasting(e)[i]:g} s"
            return f"In {e.names[i]} oil would stand {have} above the bottom of the {which} seal{after}."
        need = show(m.limit[i], "mm", family)
        return f"In {e.names[i]} only {have} is left below the {which} seal; {need} is wanted."

    def why(hit: np.ndarray) -> str:
        i, _ = worst_of(e, m, hit)
        water = e.drainage.backwater
        if water.lift_m[i] > 0.03:
            return "Crankcase pressure lifts the oil: the drain is sealed, so gas cannot pass it."
        if water.submerged[i]:
            return "The pan's oil stands over the entry and backs up the hose."
        if water.sealed[i]:
            return "The drain runs full somewhere, and oil piles up above that place."
        return "The oil ponds over the drain flange before it can fall away."

    relies = rests(e, "sump", "turbo.shaft", "turbo.seal", "turbo.cavity")
    if bad.any():
        yield _build(e, m, bad, "bad", "Seal under oil", sentence, why(bad), relies)
    if close.any() and not bad.any():
        yield _build(e, m, close, "watch", "Seal close to oil", sentence, why(close), relies)


@finder
def drowned(e: Evaluation) -> Iterable[Finding]:
    """The pan's oil stands over the entry while oil is draining."""
    m = _of(e, "drowned")
    hit = m.margin < 0.0
    if not hit.any():
        return
    for_good = hit & np.isinf(lasting(e))
    severity: Severity = "bad" if for_good.any() else "watch"

    def sentence(i: int, family: Family) -> str:
        over = show(m.value[i], "mm", family)
        length = "" if np.isinf(lasting(e)[i]) else f" for {lasting(e)[i]:g} s"
        return (
            f"In {e.names[i]} the pan's oil stands {over} above the entry{length}; the drain cannot breathe."
        )

    yield _build(e, m, for_good if for_good.any() else hit, severity, "Entry under oil", sentence,
                 "Blow-by and froth meet in a drowned pipe; what comes down must first push what is there.",
                 rests(e, "sump"))  # fmt: skip


@finder
def choked(e: Evaluation) -> Iterable[Finding]:
    """The drain is filled beyond what lets gas pass."""
    m = _of(e, "choked")
    hit = (m.margin < 0.0) & (e.drainage.submergence_m < 0.0)
    if not hit.any():
        return

    def sentence(i: int, family: Family) -> str:
        place = e.route.part_at(int(e.drainage.worst_station[i]))
        share = "runs full" if m.value[i] >= 1.0 else f"is {m.value[i]:.0%} deep in oil"
        return f"In {e.names[i]} {place} {share}; above {m.limit[i]:.0%} gas cannot pass the oil."

    yield _build(e, m, hit, "watch", "Drain choked", sentence,
                 "Froth is bulky: hot oil leaves the housing with a third to a half of air in it.",
                 rests(e, "needs.fill"))  # fmt: skip


@finder
def small_fitting(e: Evaluation) -> Iterable[Finding]:
    """A bore below the hose that is tighter than the hose."""
    fitting, hose = e.line.drain.fitting.bore_mm, e.line.drain.hose_bore_mm
    if fitting >= 0.93 * hose:
        return
    area = (fitting / hose) ** 2

    def sentence(family: Family) -> str:
        small, large = show(fitting * 1e-3, "bore", family), show(hose * 1e-3, "bore", family)
        return f"The entry fitting's {small} bore throttles the {large} hose to {area:.0%} of its area."

    yield Finding(
        code="small-fitting", severity="watch", title="Last fitting tighter than the hose", station="entry",
        condition="", condition_index=-1, value=fitting * 1e-3, limit=hose * 1e-3, kind="bore",
        source=sources.COMMON_PRACTICE, texts=both(sentence),
        why="The smallest bore is what flows; a big hose on a small fitting is a small drain.",
        margin=area - 1.0,
    )  # fmt: skip


@finder
def uphill(e: Evaluation) -> Iterable[Finding]:
    """A stretch that does not fall."""
    corners = e.route.corners_m
    for leg in range(1, e.route.legs):
        step = corners[leg] - corners[leg + 1]
        length = float(np.linalg.norm(step))
        falls = (e.drainage.up @ step) / length
        upright = float(step[2]) / length
        if upright < -1e-6:
            angle = float(np.arcsin(upright))
            text = f"{e.route.leg_names[leg].capitalize()} climbs at {np.degrees(-angle):.0f}° towards the pan with the car level."
            yield Finding(
                code="uphill", severity="bad", title="Drain runs uphill", station="drain", condition="",
                condition_index=-1, value=angle, limit=0.0, kind="deg", source=sources.COMMON_PRACTICE,
                texts=(text, text), why="Oil only leaves when it falls; a dip holds oil and shuts the gas off.",
                margin=angle,
            )  # fmt: skip
        else:
            worst = int(np.argmin(falls))
            if falls[worst] >= 0.0 or upright > 0.99 or not np.isinf(lasting(e)[worst]):
                continue
            tilt = np.degrees(np.arcsin(-falls[worst]))
            text = f"In {e.names[worst]} {e.route.leg_names[leg]} runs uphill by {tilt:.0f}° as the oil feels it."
            yield Finding(
                code="uphill-attitude", severity="watch", title="Uphill in this attitude", station="drain",
                condition=e.names[worst], condition_index=worst, value=float(falls[worst]), limit=0.0, kind="deg",
                source=sources.COMMON_PRACTICE, texts=(text, text),
                why="What falls on level ground climbs once the car leans.", margin=float(falls[worst]),
            )  # fmt: skip


@finder
def gas_pressure(e: Evaluation) -> Iterable[Finding]:
    """Crankcase pressure standing on a sealed drain."""
    lift = e.drainage.backwater.lift_m
    i = int(np.argmax(lift))
    if lift[i] < 0.02:
        return

    def sentence(family: Family) -> str:
        pressure = show(float(e.drainage.gas_difference_pa[i]), "kpa_small", family)
        return f"In {e.names[i]} crankcase pressure of {pressure} lifts the sealed drain's oil by {show(float(lift[i]), 'mm', family)}."

    yield Finding(
        code="crankcase-lift", severity="watch", title="Crankcase pressure on the drain", station="breather",
        condition=e.names[i], condition_index=i, value=float(lift[i]), limit=0.02, kind="mm",
        source=sources.COMMON_PRACTICE, texts=both(sentence),
        why="The turbo smokes although the drain looks right: the breather is part of the drain.",
        margin=-float(lift[i]),
    )  # fmt: skip


RANGE_STATION = {"oil-temperature": "restrictor", "restrictor-length": "restrictor"}


@finder
def out_of_range(e: Evaluation) -> Iterable[Finding]:
    """A relation used outside where it was measured."""
    for warning in e.warnings:
        sentence = warning.sentence()
        text = f"A figure here lies outside the range its relation is known for. {sentence[:1].upper()}{sentence[1:]}."
        yield Finding(
            code=f"range-{warning.code}", severity="watch", title="Beyond the known range", station=RANGE_STATION.get(warning.code, "drain"),
            condition="", condition_index=-1, value=float("nan"), limit=warning.high, kind="share",
            source=warning.source, texts=(text, text),
            why="The figures that depend on it are extrapolated; treat them as rough.", margin=-0.01,
        )  # fmt: skip
