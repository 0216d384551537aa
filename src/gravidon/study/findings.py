"""Findings: what goes wrong, in which condition, by how much, and why. Worst first.

A finder is a function from an Evaluation to findings, registered with @finder. Adding a finding
means adding one finder; remedies hang on its code (see `remedies`).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

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
    from gravidon.study import (  # noqa: F401  each registers its finders
        findings_feed,
        findings_gravity,
        findings_mounting,
        findings_parts,
    )

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
    return tuple(path for path, short in e.short_guesses if short.startswith(prefixes))


def lasting(e: Evaluation) -> Array:
    """Return how long each condition lasts [s]; inf for good."""
    seconds = np.array([c.duration_s for c in e.plan.conditions])
    return np.where(seconds > 0.0, seconds, np.inf)


def measure_of(e: Evaluation, code: str) -> Measure:
    return next(m for m in measures(e) if m.code == code)


def build(
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


def plain(
    code: str, severity: Severity, title: str, station: str, value: float, limit: float, kind: str, source: str,
    texts: tuple[str, str], why: str, margin: float, rests_on: tuple[str, ...] = (),
) -> Finding:  # fmt: skip
    """Return a finding that belongs to no one condition."""
    return Finding(
        code=code, severity=severity, title=title, station=station, condition="", condition_index=-1, value=value,
        limit=limit, kind=kind, source=source, texts=texts, why=why, margin=margin, rests_on=rests_on,
    )  # fmt: skip


# --- pressure side ---------------------------------------------------------------------------


@finder
def starved(e: Evaluation) -> Iterable[Finding]:
    """Inlet pressure below the window."""
    m = measure_of(e, "starved")
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
    yield build(e, m, hit, "bad", "Bearing starved", sentence, why,
                 rests(e, "turbo.window", "turbo.reference", "tap.offset", "restrictor", "engine"))  # fmt: skip


@finder
def over_fed(e: Evaluation) -> Iterable[Finding]:
    """Inlet pressure above the window."""
    m = measure_of(e, "over-fed")
    hit = m.margin < 0.0
    if not hit.any():
        return

    def sentence(i: int, family: Family) -> str:
        have, most = show(m.value[i], "kpa", family), show(m.limit[i], "kpa", family)
        return f"The bearing sees {have} at {e.names[i]}; the window ends at {most}."

    regimes = {c.regime for c, h in zip(e.plan.conditions, hit, strict=True) if h}
    severity: Severity = "watch" if regimes == {"cold"} else "bad"
    yield build(e, m, hit, severity, "Bearing over-fed", sentence,
                 "More oil than the housing can throw off is pushed past the piston-ring seals.",
                 rests(e, "turbo.window", "turbo.reference", "engine"))  # fmt: skip


@finder
def cooked(e: Evaluation) -> Iterable[Finding]:
    """Oil leaves the housing too hot."""
    m = measure_of(e, "cooked")
    hit = m.margin < 0.0
    if not hit.any():
        return

    def sentence(i: int, family: Family) -> str:
        flow = show(e.feed.flow_m3_s[i], "l_min", family)
        return (
            f"Oil leaves the bearing at {show(m.value[i], 'degc', family)} in {e.names[i]} with only {flow} "
            f"passing; the limit is {show(m.limit[i], 'degc', family)}."
        )

    yield build(e, m, hit, "bad", "Oil cooked in the housing", sentence,
                 "The oil is also the bearing's coolant: too little flow cannot carry the heat away, and it cokes.",
                 rests(e, "turbo.window.outlet", "turbo.reference"))  # fmt: skip


def thread_finding(station: str, place: str, male: str, female: str) -> Iterable[Finding]:
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
    yield from thread_finding("tap", "tap", e.tap.fitting_thread, e.tap.port_thread)


# --- ranges ----------------------------------------------------------------------------------


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
