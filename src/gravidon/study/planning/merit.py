# SPDX-License-Identifier: GPL-3.0-or-later
"""What a plan is worth, in seven ways: how well it holds, how surely, and what it asks of purse and hands."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace

import numpy as np

from gravidon.plan.model import Plan
from gravidon.study.judge.home import HOME, RESERVE
from gravidon.study.judge.level import LEVEL
from gravidon.study.judge.mounting import MOUNTING
from gravidon.study.judge.quantity import BAD, HOLDS, NOTE, WATCH, Quantity
from gravidon.study.judge.run import RUN
from gravidon.study.judge.supply import SOAK, SUPPLY
from gravidon.study.judge.table import BY_CODE, judged
from gravidon.study.making.cutting import entry_template, order_list
from gravidon.study.making.parts_list import runs
from gravidon.study.making.sequence import progress
from gravidon.study.solve.evaluate import Evaluation, evaluate
from gravidon.study.verdict.certainty import certainty
from gravidon.study.verdict.chance import word_beside
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.findings import Verdict, find
from gravidon.translate import number, tr, trn

FREE_MARGIN = 1.0
"""[margins] beyond which more of it counts no more: nothing fails there any sooner; project choice."""


RUNGS, MOST_SHORT = 5, -5.0
"""Least margins that are compared, and the least that one counts [margins] in a sum; project choice."""


PASSES = 2
"""Grade of a plan that passes, as `Grip.grade` counts: 0 fails, 1 has warnings."""


@dataclass(frozen=True, order=True)
class Grip:
    """How well a plan holds, to be compared: grade (2 holds, 1 watch, 0 fails), least margin [-], sum of what is negative, and
    the next least margins: where one cannot be moved, the next decides.

    One over fewer quantities is never less than one over more: a bound.
    """

    grade: int
    margin: float
    short: float
    ladder: tuple[float, ...] = ()


def grip(lowest: list[tuple[int, float]]) -> Grip:
    """Return the grip of quantities given as (grade, least margin) each."""
    worst = max((g for g, _ in lowest), default=HOLDS)
    margins = sorted(min(m, FREE_MARGIN) for _, m in lowest) + [FREE_MARGIN] * RUNGS
    short = sum(max(m, MOST_SHORT) for m in margins if m < 0.0)
    ladder = tuple(round(m, 4) for m in margins[1:RUNGS])
    return Grip(
        2 if worst < WATCH else 1 if worst < BAD else 0, round(margins[0], 6), round(short, 6), ladder
    )


def _lowest(quantities: tuple[Quantity, ...], e: Evaluation) -> list[tuple[int, float]]:
    found = []
    for lens in e.all:
        for q in quantities:
            if lens.index == 0 or not q.shared:
                j = q.judge(lens)
                found += lowest_of(j.grade, j.margin)
    return found


def lowest_of(grade: np.ndarray, margin: np.ndarray) -> list[tuple[int, float]]:
    """Return a quantity's hardest grade and least margin, what is only noted left out; nothing if nothing is judged."""
    counts = np.isfinite(margin) & (grade != NOTE)
    if not counts.any():
        return []
    return [(int(grade[counts].max()), float(margin[counts].min()))]


FED = tuple(q for q in SUPPLY if q is not SOAK)
QUICK = tuple(q for q in (*SUPPLY, *HOME, *LEVEL, *RUN, *MOUNTING) if q not in (RESERVE, SOAK))


def supply_grip(plan: Plan) -> Grip:
    """Return how well the pressure side holds: at least as good as the whole, and two hundred times a second.

    Raises: GravidonError if the plan cannot be computed.
    """
    return grip(_lowest(FED, evaluate(plan)))


def whole_grip(e: Evaluation, findings: tuple[Finding, ...]) -> Grip:
    """Return how well a plan holds over all that is judged and all that is so or not so."""
    lowest = [pair for lens in e.all for j in judged(lens) for pair in lowest_of(j.grade, j.margin)]
    return grip(lowest + facts_of(f for f in findings if f.code not in BY_CODE))


def facts_of(findings: Iterable[Finding]) -> list[tuple[int, float]]:
    """Return what is so or not so as (grade, margin) each, notes left out."""
    return [(BAD if f.severity == "bad" else WATCH, f.margin) for f in findings if f.severity != "note"]


@dataclass(frozen=True)
class Merit:
    """A plan weighed.

    Fields: verdict's word; least margin [-] with the code of the quantity, its condition's name and its sentence (empty where
    nothing is found); number of bad findings and of those to be watched; cost of what is to be bought; minutes of work left
    and hours of waiting; joints; parts still to order; how far it goes into the engine (0: no new hole, 1: a hole with
    the pan on, 2: the pan off, 3: welded); probability that all of it holds, and that nothing fails, within the tolerances
    [-] (None: not worked out yet); its grip.
    """

    verdict: Verdict
    margin: float
    bad: int
    watch: int
    cost: float
    minutes: int
    wait_h: float
    joints: int
    order: int
    invasive: int
    held: Grip
    sure: float | None = None
    unfailing: float | None = None


INVASIVE = (tr("no new hole"), tr("a hole, the pan on"), tr("the pan off"), tr("the pan off and welded"))
"""How far a plan goes into the engine, in words."""


def merit(plan: Plan) -> Merit:
    """Return a plan weighed, its probability left out.

    Raises: GravidonError if the plan cannot be computed.
    """
    return weighed(plan)[0]


def weighed(plan: Plan) -> tuple[Merit, tuple[Finding, ...], Evaluation]:
    """Return a plan weighed, with what is found in it and its evaluation.

    Raises: GravidonError if the plan cannot be computed.
    """
    e = evaluate(plan)
    findings = find(e)
    return merit_of(e, findings), findings, e


def merit_of(e: Evaluation, findings: tuple[Finding, ...]) -> Merit:
    """Return an evaluated plan weighed, its probability left out."""
    bad, watch = (sum(f.severity == s for f in findings) for s in ("bad", "watch"))
    return replace(economy(e.plan, whole_grip(e, findings)), bad=bad, watch=watch)


def economy(plan: Plan, held: Grip) -> Merit:
    """Return what a plan asks of purse and hands, beside how well it holds; findings not counted."""
    needs = order_list(plan)
    done = progress(plan)
    bought = [n for n in needs if n.to_order > 0.0]
    return Merit(
        verdict=("fails", "watch", "holds")[held.grade],
        margin=held.margin,
        bad=0,
        watch=0,
        cost=round(sum(n.cost for n in bought), 2),
        minutes=done.left,
        wait_h=done.wait_h,
        joints=sum(len(run.joints) for run in runs(plan)),
        order=sum(n.lacking for n in needs),
        invasive=invasive(plan),
        held=held,
    )


def invasive(plan: Plan) -> int:
    """Return how far a plan goes into the engine: the number of its words in INVASIVE."""
    done = {log.step for log in plan.build.done}
    entries = [
        k for k in range(len(plan.turbos)) if f"entry-{k}" not in done and entry_template(plan, k) is not None
    ]
    ways = [plan.turbos[k].drain.fitting.way for k in entries]
    if not ways:
        return 0
    if any(not w.drilled for w in ways):
        return 3
    return 2 if plan.build.pan == "pan off" or any(w.pan_off for w in ways) else 1


SAMPLES = 32
"""Cars tried within the tolerances for a plan's probability: it is known to about 9 in a hundred; project choice."""


def with_chance(plan: Plan, weighed: Merit, samples: int = SAMPLES, seed: int = 1) -> Merit:
    """Return a plan's merit with its probability: the same cars are tried for every plan of one seed.

    Raises: GravidonError if the plan cannot be computed.
    """
    *_, last = certainty(plan, samples, seed)
    passes, warned, _ = last.whole
    return replace(
        weighed, verdict=word_beside(weighed.verdict, last), sure=passes, unfailing=passes + warned
    )


@dataclass(frozen=True)
class Axis:
    """One way of comparing plans: key, words and one word for it, value (None: not known yet), whether more is better, how it is
    written, and how it is written where its name does not stand beside it."""

    key: str
    words: str
    word: str
    value: Callable[[Merit], float | None]
    more: bool
    text: Callable[[Merit], str]
    alone: Callable[[Merit], str]


def _warned(m: Merit) -> str:
    faults, warnings = (
        trn("{count} fault", "{count} faults", m.bad),
        trn("{count} warning", "{count} warnings", m.watch),
    )
    if m.bad:
        return f"{faults}, {warnings}" if m.watch else faults
    return warnings if m.watch else tr("no warning")


def _hours(m: Merit) -> str:
    return f"{number(m.minutes / 60.0, '.1f')} h"


def _share(share: float | None) -> str:
    return "…" if share is None else f"{share:.0%}"


def _how_sure(m: Merit) -> str:
    if m.sure is None or m.unfailing is None:
        return tr("how sure: …")
    return tr("passes in {sure:.0%}, fails in {fails:.0%}").format(sure=m.sure, fails=1.0 - m.unfailing)


AXES: tuple[Axis, ...] = (
    Axis("warned", tr("warnings"), tr("warnings"), lambda m: float(m.bad + m.watch), False, _warned, _warned),
    Axis("sure", tr("passes within what is not measured"), tr("sure"), lambda m: m.sure, True, lambda m: _share(m.sure), _how_sure),
    Axis("cost", tr("still to pay"), tr("money"), lambda m: m.cost, False, lambda m: f"{m.cost:.0f}", lambda m: tr("{cost:.0f} to pay").format(cost=m.cost)),
    Axis("hours", tr("hours of work"), tr("hours"), lambda m: float(m.minutes), False, _hours, _hours),
    Axis("joints", tr("joints to seal"), tr("joints"), lambda m: float(m.joints), False, lambda m: f"{m.joints}", lambda m: trn("{count} joint", "{count} joints", m.joints)),
    Axis("order", tr("kinds of parts to order"), tr("to order"), lambda m: float(m.order), False, lambda m: f"{m.order}", lambda m: tr("{count} to order").format(count=m.order)),
    Axis("invasive", tr("into the engine"), tr("invasive"), lambda m: float(m.invasive), False, lambda m: INVASIVE[m.invasive], lambda m: INVASIVE[m.invasive]),
)  # fmt: skip
"""The axes of merit."""
BY_AXIS = {a.key: a for a in AXES}


def dominates(a: Merit, b: Merit) -> bool:
    """Return whether a plan is in no way worse than another and in one way better; the verdict's word comes first of all.

    Probabilities count only where both are known; until then the least margins do in their stead.
    """
    if a.held.grade < b.held.grade:
        return False
    better = a.held.grade > b.held.grade
    gains = [0.0 if a.sure is not None and b.sure is not None else a.margin - b.margin]
    for axis in AXES:
        one, other = axis.value(a), axis.value(b)
        if one is not None and other is not None:
            gains.append((one - other) * (1.0 if axis.more else -1.0))
    for gain in gains:
        if gain < -1e-9:
            return False
        better |= gain > 1e-9
    return better


def front(merits: list[Merit]) -> list[int]:
    """Return the numbers of the plans that no other dominates, in their order; of equal ones the first."""
    found: list[int] = []
    for n, m in enumerate(merits):
        if any(dominates(o, m) for o in merits):
            continue
        if any(
            all(axis.value(merits[p]) == axis.value(m) for axis in AXES)
            and merits[p].held.grade == m.held.grade
            for p in found
        ):
            continue
        found.append(n)
    return found
