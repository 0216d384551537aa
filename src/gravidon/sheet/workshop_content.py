# SPDX-License-Identifier: GPL-3.0-or-later
"""What stands on the workshop pages, as plain text tables; shared by PDF and HTML."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from gravidon.plan.paths import guesses, spec_at, unseen
from gravidon.plan.paths import number as number_at
from gravidon.plan.units import Family, both_lengths, file_to_si, in_rule, show
from gravidon.study.making.cutting import cuts, order_list
from gravidon.study.making.laying import Bend, Laid, laid_hoses
from gravidon.study.making.parts_list import LineRun, Need, by_length, drilled_up, runs
from gravidon.study.making.sequence import progress, sequence
from gravidon.study.planning.compare import differences, outcomes, state_of
from gravidon.study.solve import assemble
from gravidon.study.solve.assemble import gauge_pressure
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.heat_soak import COKING_K, heat_soak
from gravidon.study.solve.priming import arrival
from gravidon.translate import commas, number
from gravidon.words.text import capital, comes_after, tr, verdict_said

Rows = tuple[tuple[str, ...], ...]


@dataclass(frozen=True)
class Section:
    """One table: key, title, a note, column heads with their shares of the width, rows,
    and the line of parts that is drawn over it."""

    key: str
    title: str
    head: tuple[str, ...]
    shares: tuple[float, ...]
    rows: Rows
    note: str = ""
    run: LineRun | None = None


def sections(e: Evaluation, family: Family) -> tuple[Section, ...]:
    """Return every section in the order in which they are used; sizes in the names of parts follow the unit family."""
    named = (*_chains(e), _orders(e), *_left_over(e))
    return (
        *(
            replace(s, rows=tuple(tuple(in_rule(cell, family) for cell in row) for row in s.rows))
            for s in named
        ),
        *_to_measure(e, family),
        _cuts(e, family),
        *_laying(e, family),
        _steps(e),
        _first_start(e, family),
        _running_in(e, family),
        _as_built(e),
        *_ideas(e, family),
    )


def _ideas(e: Evaluation, family: Family) -> tuple[Section, ...]:
    """Return the ideas that the sheet is to carry, each laid beside the plan: decisions, then outcomes."""
    made = []
    for idea in (i for i in e.plan.ideas if i.on_sheet):
        state = state_of(e.plan, idea)
        decided = tuple((d.words, d.old, d.new) for d in differences(e.plan, state, family))
        made.append(
            Section(
                f"idea-{idea.name}",
                tr("Beside the plan: {name}").format(name=idea.name),
                (tr("decided otherwise"), tr("this plan"), tr("the idea")),
                (0.34, 0.33, 0.33),
                decided or ((tr("nothing"), "", ""),),
                idea.note,
            )
        )
        rows = tuple(
            (
                o.condition,
                verdict_said(o.verdicts[0]),
                o.nearest[0],
                verdict_said(o.verdicts[1]),
                o.nearest[1],
            )
            for o in outcomes(e.plan, state, family)
        )
        made.append(
            Section(
                f"outcome-{idea.name}",
                tr("What comes of it"),
                (
                    tr("condition"),
                    tr("this plan"),
                    tr("nearest to its limit"),
                    tr("the idea"),
                    tr("nearest to its limit"),
                ),
                (0.18, 0.1, 0.31, 0.1, 0.31),
                rows,
            )
        )
    return tuple(made)


def _chains(e: Evaluation) -> tuple[Section, ...]:
    made = []
    for run in runs(e.plan):
        if run.missing:
            made.append(
                Section(
                    f"chain-{run.key}{run.turbo}",
                    run.name,
                    (),
                    (1.0,),
                    ((f"{run.missing[:1].upper()}{run.missing[1:]}.",),),
                )
            )
            continue
        rows = []
        for k, joint in enumerate(run.joints):
            then = tr("; then {name}").format(name=run.parts[k].name) if k < len(run.parts) else ""
            state = {"seals": "", "leaks": tr("LEAKS: "), "no fit": tr("DOES NOT FIT: ")}[joint.fit.outcome]
            rows.append(
                (
                    str(k + 1),
                    tr("{text} to {other_text}{then}").format(
                        text=joint.one.text, other_text=joint.other.text, then=then
                    ),
                    f"{state}{joint.fit.seal or joint.fit.why}",
                    joint.tighten,
                )
            )
        made.append(
            Section(
                f"chain-{run.key}{run.turbo}",
                tr("{name}, joint by joint").format(name=run.name),
                (
                    tr("joint"),
                    tr("ends, and the part after it"),
                    tr("sealed by"),
                    tr("tighten, if its maker says nothing"),
                ),
                (0.06, 0.38, 0.29, 0.27),
                tuple(rows),
                run=run,
            )
        )
    return tuple(made)


def _orders(e: Evaluation) -> Section:
    rows = []
    for n in (need for need in order_list(e.plan) if need.count > 0):
        unit = " m" if by_length(n.part) else ""
        count = number(n.count, ".2f") if by_length(n.part) else f"{math.ceil(n.count - 1e-6)}"
        rows.append(
            (
                n.part.name,
                f"{count}{unit}",
                f"{n.spare:.0f}" if n.spare else "",
                f"{number(n.on_hand, 'g')}{unit}",
                f"{number(n.to_order, 'g')}{unit}" if n.to_order else "–",
                n.why,
            )
        )
    return Section(
        "orders",
        tr("Order list"),
        (tr("part"), tr("needed"), tr("spare"), tr("on hand"), tr("to order"), tr("for")),
        (0.42, 0.09, 0.07, 0.09, 0.10, 0.23),
        tuple(rows),
        tr(
            "Generic parts: compare bores and threads with what the shop sells. Spare washers and gaskets are counted in."
        ),
    )


def _left_over(e: Evaluation) -> tuple[Section, ...]:
    """Return what lies in the drawer and is not used, or only in part, and which holes of owned parts are drilled up."""
    drilled = {d.part.id: d.bore_mm for d in drilled_up(e.plan)}
    rows = []
    for n in order_list(e.plan):
        left = n.on_hand - n.count
        if n.count > 0.0 and n.on_hand > 0.0 and n.part.id in drilled:
            hole = both_lengths(drilled[n.part.id] * 1e-3, 2)
            rows.append((n.part.name, tr("used"), tr("its hole is drilled up to {hole}").format(hole=hole)))
        if left > 1e-6:
            unit = " m" if by_length(n.part) else ""
            rows.append((n.part.name, f"{number(left, 'g')}{unit}", _why_left(e, n)))
    if not rows:
        return ()
    return (
        Section(
            "left-over",
            tr("On hand: what is drilled, and what is left"),
            (tr("part"), tr("left"), tr("why")),
            (0.42, 0.12, 0.46),
            tuple(rows),
        ),
    )


def _why_left(e: Evaluation, need: Need) -> str:
    """Return why a part on hand is left: what does its work in the plan, a hole that cannot be drilled smaller, or nothing to do."""
    if need.count > 0.0:
        return tr("more than the plan needs")
    part = need.part
    for run in runs(e.plan):
        for other in run.parts:
            if other.kind == part.kind and other.what.in_chain and set(other.ends) == set(part.ends):
                if part.meters and 0.0 < other.bore_mm < part.bore_mm:
                    return tr("its hole is too large; the plan takes {other}").format(other=other.name)
                return tr("the plan takes {other}").format(other=other.name)
    return tr("nothing of this plan takes it")


BEFORE_CUTTING = (
    "sump.wall",
    "sump.bolt",
    "sump.fill",
    "taps.{tap}.route",
    "taps.{tap}.hot",
    "drain.min_bend",
    "drain.sag",
    "parts.",
    "feed.pieces",
)
"""What decides where is cut and drilled, by the beginning of its path (behind the turbo's own)."""


def _to_measure(e: Evaluation, family: Family) -> tuple[Section, ...]:
    """Return what is a guess still and decides where is cut and drilled; nothing where all of it is measured."""
    starts = tuple(s.format(tap=e.plan.tap) for s in BEFORE_CUTTING)
    rows = [
        (tr("{what} (nobody looked at it)").format(what=words), "", tr("measured:"))
        for words in unseen(e.plan)
    ]
    for path in guesses(e.plan):
        short = path.split(".", 2)[2] if path.startswith("turbos.") else path
        if short.startswith(starts):
            spec = spec_at(e.plan, path)
            value = show(file_to_si(number_at(e.plan, path), spec.kind), spec.kind, family)
            rows.append(
                (capital(tr(spec.label)), tr("taken as {value}").format(value=value), tr("measured:"))
            )
    rows = list(dict.fromkeys(rows))
    if not rows:
        return ()
    return (
        Section(
            "to-measure",
            tr("Measure before you cut or drill"),
            (tr("what"), tr("the plan"), tr("found")),
            (0.44, 0.26, 0.30),
            tuple(rows),
            tr(
                "Guesses that decide a cut or a hole. Put what you find into the plan, and print the sheet again."
            ),
        ),
    )


def _as_built(e: Evaluation) -> Section:
    """What was really made, for who opens it next."""
    rows = [
        (tr("Hole in the pan: place, size, what was fitted"), ""),
        *((tr("Restrictor of {label}, drilled to").format(label=it.turbo.label), "") for it in e.plan.turbos),
        *((tr("{name}, cut to").format(name=c.name), "") for c in cuts(e.plan)),
        (tr("Done otherwise than planned"), ""),
        (tr("By, date"), ""),
    ]
    return Section("as-built", tr("As built"), (tr("what"), tr("found")), (0.44, 0.56), tuple(rows))


def _cuts(e: Evaluation, family: Family) -> Section:
    rows = tuple(
        (
            f"{c.name}, -{c.dash}",
            show(c.route_m, "run", family),
            " + ".join(show(t, "mm", family) for t in c.takeoffs_m),
            show(c.move_m, "run", family),
            show(c.cut_m, "mm", family),
            c.note or commas([show(x, "run", family) for x in c.clamps_m]) or tr("no clamp"),
        )
        for c in cuts(e.plan)
    )
    return Section(
        "cuts",
        tr("Cut list and template"),
        (
            tr("hose"),
            tr("route"),
            tr("less the ends"),
            tr("to move"),
            tr("cut"),
            tr("clamps from the turbo end"),
        ),
        (0.24, 0.12, 0.18, 0.12, 0.12, 0.22),
        rows,
        tr(
            "Fit one end, route it, mark, cut, fit the other. The template is true to scale: check its ruler."
        ),
    )


def _laying(e: Evaluation, family: Family) -> tuple[Section, ...]:
    """Return how each hose lies: its ends' clocking to each other, and where it bends."""
    rows: list[tuple[str, str, str]] = []
    for it in laid_hoses(e.plan):
        rows.append((it.name, tr("its ends"), clocked(it)))
        rows += [
            (it.name, tr("bend {number}").format(number=n), _bend_words(b, family))
            for n, b in enumerate(it.bends, 1)
        ]
    if not rows:
        return ()
    return (
        Section(
            "laying",
            tr("How the hoses lie"),
            (tr("hose"), tr("what"), tr("where")),
            (0.2, 0.12, 0.68),
            tuple(rows),
            tr(
                "Places are those of the hose's middle, in the car as it stands level. Hold the hose at its bends: that is what makes it fall."
            ),
        ),
    )


def clocked(it: Laid) -> str:
    """Return how a hose's two ends are turned to each other."""
    if it.run == "feed":
        return tr("leave the tap's end loose until the hose lies without a twist, then tighten it")
    if not np.isfinite(it.clocking):
        return tr("a straight end needs no clocking; lay the hose without a twist")
    turn = round(float(np.degrees(it.clocking)) / 5.0) * 5
    if turn == 0:
        return tr("both elbows point the same way (0°)")
    way = tr("clockwise") if turn > 0 else tr("counterclockwise")
    return tr("lower elbow {turn}° {way} of the upper one, looking down the hose from the turbo").format(
        turn=abs(turn), way=way
    )


BESIDE = {
    (True, True): tr("{length} ahead of the hole"),
    (True, False): tr("{length} behind the hole"),
    (False, True): tr("{length} left of the hole"),
    (False, False): tr("{length} right of the hole"),
}
"""By whether a wall runs along the car, and whether a place is further to the front (or left) than the hole in it."""


def _bend_words(b: Bend, family: Family) -> str:
    def length(value: float) -> str:
        return show(abs(value), "run", family)

    return tr("{along} from the turbo end: {over}, {out}, {beside}; turns {turn:.0f}° on {radius}").format(
        along=length(b.along_m),
        over=(tr("{length} over the rail") if b.over_m >= 0 else tr("{length} under the rail")).format(
            length=length(b.over_m)
        ),
        out=(
            tr("{length} out from the pan's wall") if b.out_m >= 0 else tr("{length} inside the pan's wall")
        ).format(length=length(b.out_m)),
        beside=BESIDE[b.along_car, b.beside_m >= 0.0].format(length=length(b.beside_m)),
        turn=np.degrees(b.turn),
        radius=length(b.radius_m),
    )


def _steps(e: Evaluation) -> Section:
    done = {log.step: log for log in e.plan.build.done}
    rows = []
    for k, s in enumerate(sequence(e.plan), start=1):
        log = done.get(s.key)
        mark = tr("done") if log else "[  ]"
        text = s.text + (tr(" Tools: {tools}.").format(tools=s.tools) if s.tools else "")
        text += "".join(f" ! {c}" for c in s.cautions)
        text += tr(" Waits for: {steps}.").format(steps=commas(s.blocked)) if s.blocked else ""
        text += tr(" Note: {note}").format(note=log.note) if log and log.note else ""
        time = tr("{minutes} min").format(minutes=s.minutes) + (
            tr(", then {hours:g} h wait").format(hours=s.wait_h) if s.wait_h else ""
        )
        rows.append((mark, f"{k}. {s.title}", text, time))
    made = progress(e.plan)
    return Section(
        "steps",
        tr("Build sequence"),
        ("", tr("step"), tr("how"), tr("time (cp)")),
        (0.06, 0.24, 0.60, 0.10),
        tuple(rows),
        tr(
            "{done} of {of} steps done, about {left:.1f} h left{waits}. The makers' instructions override this order."
        ).format(done=made.done, of=made.of, left=made.left / 60, waits=made.waits),
    )


LEAST_IDLE_S = 30.0
"""[s] of idling before every key-off after a hot run, whatever is computed: water goes round by itself only in lines that rise; common practice, no source."""


def soak_words(e: Evaluation, family: Family) -> str:
    """Return what to do before switching off after a hot run, and why; empty where the plan has no hot run."""
    soak = heat_soak(e)
    if soak is None:
        return ""
    peak, limit = show(soak.peak_k, "degc", family), show(COKING_K, "degc", family)
    if not soak.cokes:
        return tr(
            "idle {least:.0f} s in any case, longer after a hard run: the bearing would peak at {peak} (coking from {limit})"
        ).format(least=LEAST_IDLE_S, peak=peak, limit=limit)
    if np.isfinite(soak.idle_s):
        return tr("idle {idle:.0f} s first: the bearing would peak at {peak} (coking from {limit})").format(
            idle=max(soak.idle_s, LEAST_IDLE_S), peak=peak, limit=limit
        )
    return tr(
        "idling is not enough: the bearing would peak at {peak} (coking from {limit}); fit water lines"
    ).format(peak=peak, limit=limit)


def _first_start(e: Evaluation, family: Family) -> Section:
    arrives, soaked = arrival(e.plan, e.supply), soak_words(e, family)
    rows = [
        (
            tr("Oil, filter"),
            tr("{fill} of {grade}; new filter").format(
                fill=show(e.plan.sump.fill_l.value * 0.001, "l", family), grade=e.plan.oil.grade
            ),
            "",
        )
    ]
    rows += _expected(e, family, ("hot idle", "cruise"))
    rows += [
        (
            tr("Oil at the turbo after"),
            tr("{cold} cold, {hot} hot").format(
                cold=comes_after(arrives.cold_s), hot=comes_after(arrives.hot_s)
            ),
            tr("seen:"),
        ),
        (tr("Feed joint cracked: oil comes"), tr("before the first firing"), tr("yes / no")),
        (tr("Leaks at feed, drain, entry"), tr("none"), tr("yes / no")),
        (tr("Smoke at start, idle, after"), tr("none"), tr("what, when:")),
        (tr("Oil returns"), tr("drain warm (infrared, no hand)"), tr("yes / no")),
        (tr("Level after ten minutes"), tr("at the mark"), tr("read:")),
        *(((tr("Before key-off after a hot run (cp)"), soaked, tr("idled:")),) if soaked else ()),
        (tr("All joints re-checked cold"), "", tr("by, date:")),
    ]
    return Section(
        "first-start",
        tr("First start"),
        (tr("what"), tr("expected"), tr("found")),
        (0.34, 0.36, 0.30),
        tuple(rows),
        tr(
            "Extinguisher at hand, nobody in line with the belts. A rebuilt engine goes by its builder's break-in first. Stop at once if pressure does not come, at a leak, or at smoke that stays."
        ),
    )


def _running_in(e: Evaluation, family: Family) -> Section:
    """What full load is held against, on a card of its own: it comes after the running-in, and not on a public road."""
    rows = [
        (tr("Run in by the engine builder's rules"), tr("before any full load"), tr("distance, date:")),
        (tr("Oil and filter changed, filter cut open"), tr("no swarf"), tr("found:")),
        *_expected(e, family, ("full load",)),
    ]
    return Section(
        "running-in",
        tr("After running in: full load"),
        (tr("what"), tr("expected"), tr("found")),
        (0.34, 0.36, 0.30),
        tuple(rows),
        tr(
            "On a closed place or a dynamometer, never on a public road; back off at once if a pressure falls below what is expected."
        ),
    )


def _expected(e: Evaluation, family: Family, names: Sequence[str]) -> list[tuple[str, str, str]]:
    """Return rows for gallery and inlet in some conditions."""
    rows = []
    for name in names:
        if name in e.names:
            i = assemble.condition_index(e.plan, name)
            rows.append(
                (
                    tr("Gallery, {name}").format(name=name),
                    tr("about {amount}").format(amount=show(float(e.supply.gallery_pa[i]), "kpa", family)),
                    tr("read:"),
                )
            )
            rows.append(
                (
                    tr("Inlet port, {name}").format(name=name),
                    show(float(gauge_pressure(e.line, e.feed)[i]), "kpa", family),
                    tr("read:"),
                )
            )
    return rows
