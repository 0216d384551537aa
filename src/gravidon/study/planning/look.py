# SPDX-License-Identifier: GPL-3.0-or-later
"""A plan looked at for the search: its grip, its price in work and money, and the first thing that breaks in it, in words."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.plan.paths import unseen
from gravidon.plan.units import Family
from gravidon.study.judge.quantity import HOLDS, NOTE, Judged, Quantity
from gravidon.study.planning.merit import FED, QUICK, Grip, Merit, economy, facts_of, grip, lowest_of, weighed
from gravidon.study.solve.evaluate import Evaluation, evaluate
from gravidon.study.verdict.facts import PLAN_FACTS, TURBO_FACTS
from gravidon.study.verdict.finding import Finding, of_judged
from gravidon.study.verdict.report import verdict_words
from gravidon.translate import listed, tr, trn


@dataclass(frozen=True)
class Broke:
    """The first thing that breaks in a plan, or is nearest to it: code, severity, condition, a few words, the sentence in both
    unit families."""

    code: str
    severity: str
    condition: str
    title: str
    metric: str
    imperial: str

    def text(self, family: Family) -> str:
        """Return the sentence in a unit family."""
        return self.imperial if family == "imperial" else self.metric

    @staticmethod
    def of(f: Finding) -> Broke:
        """Return a finding as words that need no evaluation."""
        return Broke(f.code, f.severity, f.condition, f.title, f.text("metric"), f.text("imperial"))


@dataclass(frozen=True)
class Look:
    """A plan as the search sees it: how well it holds (a bound, where `whole` is not set), what it costs, what is worst in it; of
    a whole look also what decides it, in metric and imperial words, and what it rests on."""

    merit: Merit
    broke: Broke | None
    whole: bool
    decided: tuple[str, str] = ("", "")
    rests: str = ""

    @property
    def grip(self) -> Grip:
        """How well it holds."""
        return self.merit.held


def look(plan: Plan) -> Look | None:
    """Return a plan looked at quickly: all that is judged but for the drain's reserve and the soak; None if it cannot be computed."""
    try:
        e = evaluate(plan)
        held, broke = _judged(e, FED, facts=False)
        if held.grade == 0:  # the pressure side fails: what drains and costs need not be known
            return Look(Merit("fails", held.margin, 1, 0, 0.0, 0, 0.0, 0, 0, 0, held), broke, False)
        held, broke = _judged(e, QUICK)
        return Look(economy(plan, held), broke, False)
    except GravidonError:
        return None


def _judged(e: Evaluation, quantities: tuple[Quantity, ...], facts: bool = True) -> tuple[Grip, Broke | None]:
    pairs: list[tuple[int, float]] = []
    worst: tuple[tuple[int, float], Judged, int] | None = None
    for lens in e.all:
        for q in quantities:
            if lens.index and q.shared:
                continue
            j = q.judge(lens)
            pairs += lowest_of(j.grade, j.margin)
            k = _hardest(j)
            if k is not None:
                rank = (-int(j.grade[k]), float(j.margin[k]))
                if worst is None or rank < worst[0]:
                    worst = (rank, j, k)
    so = [f for lens in e.all for fact in TURBO_FACTS for f in fact(lens)] if facts else []
    so += [f for fact in PLAN_FACTS for f in fact(e.of(0))] if facts else []
    grave = [f for f in so if f.severity != "note"]
    if worst is not None and -worst[0][0] > NOTE:
        grave.append(of_judged(worst[1], worst[2]))
    grave.sort(key=lambda f: (f.severity != "bad", f.margin))
    return grip(pairs + facts_of(so)), Broke.of(grave[0]) if grave else None


def _hardest(j: Judged) -> int | None:
    """Return the entry of a quantity that is worst; None if nothing is judged."""
    counts = np.isfinite(j.margin) & (j.grade != NOTE)
    if not counts.any():
        return None
    order = np.lexsort((np.where(counts, j.margin, np.inf), np.where(counts, -j.grade, HOLDS)))
    return int(order[0])


def look_whole(plan: Plan) -> Look | None:
    """Return a plan looked at wholly, as its verdict is: None if it cannot be computed."""
    try:
        made, findings, e = weighed(plan)
    except GravidonError:
        return None
    grave = next((f for f in findings if f.severity != "note"), None)
    decided = tuple(verdict_words(e, findings, family).detail for family in FAMILIES)
    return Look(
        made, Broke.of(grave) if grave is not None else None, True, (decided[0], decided[1]), rests_on(e)
    )


FAMILIES: tuple[Family, Family] = ("metric", "imperial")


def rests_on(e: Evaluation) -> str:
    """Return what a plan rests on that nobody measured."""
    count = len(e.guesses)
    words = (
        trn("Rests on {count} guess", "Rests on {count} guesses", count)
        if count
        else tr("Rests on measured values alone")
    )
    nobody = listed(unseen(e.plan))
    return tr("{words}; nobody looked at {nobody}").format(words=words, nobody=nobody) if nobody else words


def checked(plan: Plan) -> Plan | None:
    """Return a plan with every bound of its fields checked; None if one is broken."""
    try:
        return Plan.model_validate_json(plan.model_dump_json())
    except ValueError:
        return None
