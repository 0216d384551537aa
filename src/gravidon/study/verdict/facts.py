# SPDX-License-Identifier: GPL-3.0-or-later
"""Findings of what is so or not so: threads that do not match, a place that is taken, a part that is missing.

A fact looks at one turbo's evaluation (`TURBO_FACTS`) or at the plan's (`PLAN_FACTS`); adding one is a function and
its place in the tuple. What can be measured against a limit belongs in the table of quantities instead.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np

from gravidon.parts import sources
from gravidon.parts.chains import Chain, ChainJoint
from gravidon.parts.threads import THREADS, joint, passes_mm
from gravidon.plan.model import TurboLine
from gravidon.study.home.entry_map import place_problems
from gravidon.study.judge.mounting import pumped
from gravidon.study.judge.quantity import Grade
from gravidon.study.making.cutting import cuts, least_cut_m
from gravidon.study.making.parts_list import NEAR_RATING_K, LineRun, runs
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.verdict.finding import Fact, Finding, fact
from gravidon.words.text import N_, Amount, Message, capital, tr

# --- threads -----------------------------------------------------------------------------------

THREAD = Message(
    N_("Threads do not match"),
    {"tap": N_("At the tap: {joint}."), "entry": N_("At the pan entry: {joint}.")},
    N_("It screws in by hand and feels right; hot oil then finds the spiral between the flanks."),
)


def _threads(e: Evaluation, station: str, male: str, female: str, shared: bool) -> Iterable[Finding]:
    verdict = joint(THREADS[male], THREADS[female])
    if verdict.verdict != "seals":
        yield fact(
            e,
            f"thread-{station}",
            "bad",
            station,
            THREAD,
            shared=shared,
            value=THREADS[male].pitch_mm * 1e-3,
            limit=THREADS[female].pitch_mm * 1e-3,
            kind="bore",
            source=tr("{standard} against {standard2}").format(
                standard=THREADS[male].standard, standard2=THREADS[female].standard
            ),
            numbers={"joint": verdict.text},
            variant=station,
            margin=-1.0,
        )


def _of_line(
    e: Evaluation, run: LineRun, code: str, severity: Grade, message: Message, **rest: Any
) -> Finding:
    """Return a fact of one line of parts: it stands at that line's place, of that turbo, whichever is looked at."""
    return fact(e, code, severity, "parts", message, turbo=run.turbo, shared=True, place=run.key, **rest)


def tap_threads(e: Evaluation) -> Iterable[Finding]:
    """Two thread standards mixed at the tap."""
    yield from _threads(e, "tap", e.tap.fitting_thread, e.tap.port_thread, shared=True)


def entry_threads(e: Evaluation) -> Iterable[Finding]:
    """Two thread standards mixed at the pan."""
    fitting = e.line.drain.fitting
    if e.route.ends_in_fitting:
        yield from _threads(e, "entry", fitting.fitting_thread, fitting.port_thread, shared=False)


# --- pressure side -----------------------------------------------------------------------------

UNFILTERED = Message(
    N_("Unfiltered oil to the bearing"),
    N_("{tap} takes oil before the filter."),
    N_("What the filter would have caught goes through the orifice or scores the bearing."),
)
FOREIGN_HOLE = Message(
    N_("Restrictor for the other bearing"),
    {
        "restrictor": N_(
            "The inlet restrictor ({value}) is of the size sold for ball bearings; this turbo has {bearing} bearings."
        ),
        "flange_hole": N_(
            "The hole in the flange ({value}) is of the size sold for ball bearings; this turbo has {bearing} "
            "bearings."
        ),
    },
    N_(
        "Flange kits are often sold with a small hole already in them; drilled out they serve a journal turbo."
    ),
)


def unfiltered(e: Evaluation) -> Iterable[Finding]:
    """The tap is upstream of the filter."""
    if not e.tap.filtered:
        yield fact(
            e,
            "unfiltered",
            "bad",
            "tap",
            UNFILTERED,
            shared=True,
            limit=1.0,
            kind="share",
            numbers={"tap": capital(e.tap.label)},
            margin=-1.0,
        )


def foreign_hole(e: Evaluation) -> Iterable[Finding]:
    """A hole of the size that is sold for the other kind of bearing."""
    least = e.line.turbo.kind.foreign_below_mm
    for name in ("restrictor", "flange_hole"):
        hole = getattr(e.line, name)
        if hole.fitted and hole.bore_mm < least:
            yield fact(
                e,
                f"wrong-kind-{name}",
                "watch",
                "restrictor",
                FOREIGN_HOLE,
                value=hole.bore_mm * 1e-3,
                limit=least * 1e-3,
                kind="bore",
                numbers={"bearing": tr(e.line.turbo.bearing)},
                variant=name,
                margin=hole.bore_mm / least - 1.0,
            )


MISFIT = Message(
    N_("A gauge reading does not fit"),
    N_("The reading of {read} at {rpm:.0f} rpm does not go with the others: the law gives {law} there."),
    N_(
        "Either it was misread, or taken with other oil, or the relief is set otherwise; the law lies between the readings."
    ),
)


BORE = Message(
    N_("Bore that its thread cannot have"),
    N_("The entry fitting is counted with {value} of bore; {thread} passes {limit} at most."),
    N_("What is screwed in decides: counted too wide, the drain looks better than it will be."),
)
FAR_OVER = 1.25
"""Times what a thread passes from which a bore is plainly wrong: below it a thin wall may do; project choice."""
BORE_SLACK_MM = 0.3
"""[mm] by which a bore may be over what its thread usually passes; project choice."""


def impossible_bore(e: Evaluation) -> Iterable[Finding]:
    """An entry fitting counted wider than its thread lets through."""
    fitting = e.line.drain.fitting
    if not e.route.ends_in_fitting:
        return
    most = min(passes_mm(fitting.fitting_thread), passes_mm(fitting.port_thread) + 2.0 * BORE_SLACK_MM)
    if fitting.bore_mm > most + BORE_SLACK_MM:
        yield fact(
            e,
            "bore-thread",
            "bad" if fitting.bore_mm > FAR_OVER * most else "watch",
            "entry",
            BORE,
            value=fitting.bore_mm * 1e-3,
            limit=most * 1e-3,
            kind="bore",
            numbers={"thread": fitting.fitting_thread},
            margin=-0.6,
        )


def misfit(e: Evaluation) -> Iterable[Finding]:
    """A reading that the law misses by more than a gauge is off."""
    fit = e.supply.fit
    for k in fit.missed:
        reading, off = e.plan.engine.readings[k], fit.residuals_pa[k]
        yield fact(
            e,
            "misfit",
            "watch",
            "car",
            MISFIT,
            shared=True,
            place=str(k + 1),
            value=reading.pressure_kpa * 1e3 + off,
            limit=reading.pressure_kpa * 1e3,
            kind="kpa",
            source=sources.COMPUTED,
            numbers={
                "read": Amount(reading.pressure_kpa * 1e3, "kpa"),
                "rpm": reading.rpm,
                "law": Amount(reading.pressure_kpa * 1e3 + off, "kpa"),
            },
            margin=-0.2,
        )


# --- the entry's place -------------------------------------------------------------------------

PLACE = Message(
    N_("Entry's place is taken"),
    N_("At the entry: {problem}."),
    N_("Mock it up: the hose end must spin on, the drill must reach, and nothing may sit behind the wall."),
)
HARD_PLACES = ("inside", "edge")
"""What at an entry's place cannot be worked round."""


def entry_place(e: Evaluation) -> Iterable[Finding]:
    """The entry's place is taken, or tools do not get there."""
    sump = e.plan.sump
    unseen = "guess" in (sump.bolt_pitch_mm.basis, sump.bolt_head_mm.basis)
    for code, words in place_problems(e) if e.route.ends_in_fitting else ():
        asked = code == "bolts" and unseen  # where the bolts are is asked for, not warned of
        severity: Grade = "bad" if code in HARD_PLACES else "note" if asked else "watch"
        yield fact(
            e, f"entry-{code}", severity, "entry", PLACE, kind="mm", numbers={"problem": words}, margin=-0.4
        )


# --- scavenge ----------------------------------------------------------------------------------

FUSE = Message(
    N_("Fuse does not fit"),
    {
        "wire": N_(
            "A {fuse:g} A fuse on {gauge} AWG wire that carries {carries:.0f} A: the wire is too thin for its fuse. Run thicker wire; {fits:g} A fits the pump of {takes:g} A."
        ),
        "pump": N_(
            "A {fuse:g} A fuse for a pump of {takes:g} A blows on cold oil; {fits:g} A fits it, on wire that carries that."
        ),
    },
    N_("The fuse protects the wire: above what it carries the wire burns first."),
)
NO_RELAY = Message(
    N_("No relay"),
    N_("{takes:g} A run through the dashboard switch; a relay keeps them off it."),
    N_("A switch's contacts cost half a volt and fail hot."),
)
RUNS_DRY = Message(
    N_("Pump cannot run dry"),
    N_("The pump may not run dry, but a scavenge pump always does between gulps."),
    N_("Oil comes in gulps with air between; a pump that needs oil for cooling seizes."),
)
NO_VALVE = Message(
    N_("No one-way valve"),
    N_("Without a one-way valve the pan's oil can run back through the standing pump after key-off."),
    N_("It fills pot and housing while the car stands; smoke at the next start."),
)


def scavenge_parts(e: Evaluation) -> Iterable[Finding]:
    """Fuse wrong, no relay, a pump that cannot run dry, no one-way valve."""
    if not pumped(e):
        return
    it, s = e.line.scavenge, e.scavenging
    takes = it.current_a.value
    if it.fuse_a > s.wire_carries_a or it.fuse_a <= 1.1 * takes:
        yield fact(
            e,
            "fuse",
            "bad",
            "scavenge",
            FUSE,
            value=it.fuse_a,
            limit=s.fuse_wanted_a,
            kind="a",
            numbers={
                "fuse": it.fuse_a,
                "gauge": it.gauge_awg,
                "carries": s.wire_carries_a,
                "takes": takes,
                "fits": s.fuse_wanted_a,
            },
            margin=-0.6,
            variant="wire" if it.fuse_a > s.wire_carries_a else "pump",
        )
    if not it.relay:
        yield fact(
            e,
            "no-relay",
            "watch",
            "scavenge",
            NO_RELAY,
            value=takes,
            kind="a",
            numbers={"takes": takes},
            margin=-0.1,
        )
    if not it.runs_dry:
        yield fact(e, "runs-dry", "bad", "scavenge", RUNS_DRY, limit=1.0)
    if not it.valve:
        severity: Grade = "watch" if it.return_z_mm > e.line.turbo.drain_flange.z_mm else "bad"
        yield fact(e, "no-valve", severity, "scavenge", NO_VALVE, limit=1.0, margin=-0.6)


# --- parts -------------------------------------------------------------------------------------

GAP = Message(
    N_("A part is missing in the chain"),
    N_("{line}: {missing}."),
    N_("Builds stand still for days over one small adapter."),
)
JOINT = Message(
    N_("Parts do not match"),
    {
        "leaks": N_("{line}: a joint leaks. {reason}."),
        "no fit": N_("{line}: a joint does not fit. {reason}."),
    },
    N_("It may screw together by hand; hot oil finds the gap."),
)
HOT_HOSE = Message(
    N_("Oil too hot for its hose"),
    N_("{line}: {value} of oil in {condition} through {hose}, made for {limit}."),
    N_("Rubber hardens, then cracks and blows off beside the exhaust: PTFE stands more."),
)
BACKWARDS = Message(
    N_("Part the wrong way round"),
    N_("{line}: oil would run through {which} against its arrow."),
    N_(
        "A one-way valve then shuts the line, a screen lets go what it caught, a restrictor meters otherwise than drilled."
    ),
)
NARROW = Message(
    N_("Parts tighter than counted"),
    N_("{line}: the parts listed pass {part} at the tightest, {which}; the plan counts with {value}."),
    N_("What is screwed together decides, not the size of the hose: count with the bores of the parts."),
)
SHORT = Message(
    N_("Hose too short for its ends"),
    N_("{line}: {route} of route, {taken} of it taken by the hose ends."),
    N_("Between two ends a hose needs length to be gripped and to bend."),
)


def own_joints(run: LineRun) -> tuple[ChainJoint, ...]:
    """Return the bad joints of a run that are not told of already: the thread in the engine and that in the pan."""
    bad = list(run.bad)
    if not run.joints or run.chosen:
        return tuple(bad)
    if run.key in ("feed", "trunk") and run.joints[0] in bad and run.start.kind != "37 flare":
        bad.remove(run.joints[0])
    if run.key == "drain" and run.joints[-1] in bad:
        bad.remove(run.joints[-1])
    return tuple(bad)


def chains(e: Evaluation) -> Iterable[Finding]:
    """No parts lead from one port to the other, or a joint of them does not seal."""
    for run in runs(e.plan):
        if run.missing:
            yield _of_line(
                e,
                run,
                "gap",
                "bad",
                GAP,
                limit=1.0,
                source=sources.COMPUTED,
                numbers={"line": run.name, "missing": run.missing},
                margin=-0.8,
            )
        for j in own_joints(run)[:1]:
            yield _of_line(
                e,
                run,
                "joint",
                "bad",
                JOINT,
                limit=1.0,
                source=sources.COMPUTED,
                numbers={"line": run.name, "reason": capital(j.fit.why)},
                variant=j.fit.outcome,
                margin=-0.9,
            )


TIGHTER_MM = 0.4
"""[mm] by which the parts listed may be tighter than the plan counts without a word; project choice."""


def tighter_parts(e: Evaluation) -> Iterable[Finding]:
    """A chain found for a line without chosen parts whose smallest bore is less than the plan's own."""
    for run in runs(e.plan):
        if run.chosen or run.key not in ("feed", "drain"):
            continue
        passing = [p for p in run.parts if p.bore_mm > 0.0 and not p.what.narrow]
        part = min(passing, key=lambda p: p.bore_mm, default=None)
        counted = smallest_counted_mm(e.plan.turbos[run.turbo], run.key)
        if part is not None and part.bore_mm < counted - TIGHTER_MM:
            yield _of_line(
                e,
                run,
                "tighter-parts",
                "note",
                NARROW,
                value=counted * 1e-3,
                limit=part.bore_mm * 1e-3,
                kind="bore",
                source=sources.COMPUTED,
                numbers={
                    "line": run.name,
                    "part": Amount(part.bore_mm * 1e-3, "bore"),
                    "which": part.name,
                },
                margin=0.1,
            )


def smallest_counted_mm(it: TurboLine, line: str) -> float:
    """Return the smallest bore [mm] that the plan counts with along a turbo's feed (its holes left out) or drain."""
    if line == "feed":
        return min(p.bore_mm for p in it.feed.pieces)
    d = it.drain
    ended = it.drain_by != "scavenge" and d.joins is None
    bores = [d.flange_bore_mm, d.hose_bore_mm, *(p.bore_mm for p in d.pieces)]
    return min(bores + ([d.fitting.bore_mm] if ended else []))


def backwards(e: Evaluation) -> Iterable[Finding]:
    """A chosen part with a right way round that the chain lays the other way."""
    for run in runs(e.plan):
        for part in Chain(run.links, 0.0).backwards[:1]:
            yield _of_line(
                e,
                run,
                "backwards",
                "bad" if part.kind == "valve" else "watch",
                BACKWARDS,
                limit=1.0,
                source=sources.COMMON_PRACTICE,
                numbers={"line": run.name, "which": part.name},
                margin=-0.5,
            )


def hot_hoses(e: Evaluation) -> Iterable[Finding]:
    """Oil hotter than the hose it runs through is made for: a drain carries it as it leaves the bearing."""
    turning = np.array([c.kind.turning for c in e.plan.conditions])
    if not turning.any():
        return
    inlet = np.array([c.oil_temperature_c for c in e.plan.conditions])
    for run in runs(e.plan):
        hose = next((p for p in run.parts if p.what.hose and p.temp_c > 0.0), None)
        if hose is None:
            continue
        out = e.of(run.turbo).feed.outlet_temperature_k - 273.15
        carried = np.where(turning, out if run.key in ("drain", "scavenge") else inlet, -np.inf)
        i = int(carried.argmax())
        over = float(carried[i]) - hose.temp_c
        if over > -NEAR_RATING_K:
            yield _of_line(
                e,
                run,
                "hose-heat",
                "bad" if over > 0.0 else "watch",
                HOT_HOSE,
                condition=e.names[i],
                condition_index=i,
                value=float(carried[i]) + 273.15,
                limit=hose.temp_c + 273.15,
                kind="degc",
                source=sources.COMMON_PRACTICE,
                numbers={"line": run.name, "hose": hose.name},
                margin=-over / 50.0,
            )


def short_hoses(e: Evaluation) -> Iterable[Finding]:
    """A route shorter than the two hose ends on it."""
    for cut in cuts(e.plan):
        if cut.note:
            yield fact(
                e,
                "short",
                "bad",
                "parts",
                SHORT,
                turbo=cut.turbo,
                shared=True,
                place=cut.run,
                value=cut.cut_m,
                limit=least_cut_m(cut.dash),
                kind="run",
                source=sources.COMPUTED,
                numbers={
                    "line": cut.name,
                    "route": Amount(cut.route_m, "run"),
                    "taken": Amount(sum(cut.takeoffs_m), "run"),
                },
            )


# --- ranges ------------------------------------------------------------------------------------

RANGE = Message(
    N_("Beyond the known range"),
    N_("A figure here lies outside the range its relation is known for. {range}."),
    N_("The figures that depend on it are extrapolated; treat them as rough."),
)
RANGE_STATION = {"oil-temperature": "restrictor", "restrictor-length": "restrictor", "gauge-speed": "tap"}
"""Where a range is told of, by its code; the drain otherwise."""


def out_of_range(e: Evaluation) -> Iterable[Finding]:
    """A relation used outside where it was measured."""
    for warning in e.warnings:
        yield fact(
            e,
            f"range-{warning.code}",
            "note",
            RANGE_STATION.get(warning.code, "drain"),
            RANGE,
            value=float("nan"),
            limit=warning.high,
            kind="share",
            source=warning.source,
            numbers={"range": capital(warning.sentence())},
            margin=-0.01,
        )


TURBO_FACTS: tuple[Fact, ...] = (
    impossible_bore,
    foreign_hole,
    entry_threads,
    entry_place,
    scavenge_parts,
    out_of_range,
)
"""Looked at for every turbo."""
PLAN_FACTS: tuple[Fact, ...] = (
    tap_threads,
    misfit,
    unfiltered,
    chains,
    backwards,
    tighter_parts,
    hot_hoses,
    short_hoses,
)
"""Looked at once for the plan."""
