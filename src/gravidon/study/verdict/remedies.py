# SPDX-License-Identifier: GPL-3.0-or-later
"""Remedies: functions from plan to plan, offered only after a trial shows that they help.

Makers (`remedies_supply` and its like, listed in `MAKERS`) yield changed plans; a trial judges each. `tried` goes one
trial at a time, so that a window can interleave them with its own work.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from gravidon.errors import GravidonError
from gravidon.plan import model
from gravidon.plan.units import Family
from gravidon.study.judge.mounting import MANY_THREADS, THREADS_HELD
from gravidon.study.judge.table import BY_CODE, judged_of
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.proposal import Maker, Proposal
from gravidon.study.verdict.remedies_gravity import GRAVITY
from gravidon.study.verdict.remedies_mounting import MOUNTING
from gravidon.study.verdict.remedies_parts import PARTS
from gravidon.study.verdict.remedies_supply import SUPPLY
from gravidon.study.verdict.trials import Trial, trial
from gravidon.words.text import N_, Amount, Said, tr

MAKERS: tuple[Maker, ...] = (*SUPPLY, *GRAVITY, *MOUNTING, *PARTS)


@dataclass(frozen=True)
class Remedy:
    """A proposal that has been tried and helps: words, plan, effect, whether it cures (nothing bad and nothing to be watched of it is left),
    what is left, and how much of an effort it is."""

    said: Said
    plan: model.Plan
    effect: Said
    cures: bool
    margin_after: float
    bad_after: int
    effort: int = 0

    @property
    def titles(self) -> tuple[str, str]:
        """What to ask for, in both unit families."""
        return self.said.text("imperial"), self.said.text("metric")

    @property
    def effects(self) -> tuple[str, str]:
        """What it does, in both unit families."""
        return self.effect.text("imperial"), self.effect.text("metric")

    def text(self, family: Family) -> str:
        """Return title and effect in a unit family."""
        return f"{self.said.text(family)}: {self.effect.text(family)}"


def tried(e: Evaluation, finding: Finding, most: int = 3) -> Iterator[tuple[Remedy, ...]]:
    """Yield, after every single trial, the best remedies known so far.

    Each step costs one trial at most. The last yield is the answer.
    """
    before = trial(e.plan)
    e = e.of(finding.turbo)
    known: list[Remedy] = []
    for maker in MAKERS:
        if finding.code not in maker.codes:
            continue
        for made in _within_bounds(maker.propose(e, finding)):
            if made is not None:
                found = _judge(before, finding, made, maker.effort)
                if found is not None and all(k.said != found.said for k in known):
                    known.append(found)
            known.sort(key=lambda r: (not r.cures, r.bad_after, r.effort, -r.margin_after))
            yield tuple(known[:most])
    yield tuple(known[:most])


def _within_bounds(proposals: Iterator[Proposal | None]) -> Iterator[Proposal | None]:
    """Pass a maker's proposals on; one that would leave what a plan may hold ends its search."""
    try:
        yield from proposals
    except GravidonError:
        return


def remedies(e: Evaluation, finding: Finding) -> tuple[Remedy, ...]:
    """Return the best remedies of a finding, all tried."""
    *_, answer = tried(e, finding)
    return answer


def _judge(before: Trial, finding: Finding, made: Proposal, effort: int) -> Remedy | None:
    try:
        after = trial(made.plan)
    except GravidonError:
        return None
    known = {(f.code, f.turbo) for f in before.findings if f.severity == "bad"}
    if any((f.code, f.turbo) not in known for f in after.findings if f.severity == "bad"):
        return None
    left = _left(after, finding)
    margin = np.inf if left is None else left.margin
    softened = left is not None and left.severity != "bad" and finding.severity == "bad"
    if left is not None and not softened and margin < finding.margin + 0.02:
        return None
    effect = _with_price(effect_of(before, after, finding), before, after)
    cured = left is None or (left.severity == "note" and finding.severity != "note")
    return Remedy(made.said, made.plan, effect, cured, float(margin), len(after.bad), effort)


def _with_price(effect: Said, before: Trial, after: Trial) -> Said:
    """Return an effect with what it costs: findings to be watched that were not there before."""
    known = {(f.code, f.turbo) for f in before.findings if f.severity != "note"}
    new = [f.title for f in after.findings if f.severity == "watch" and (f.code, f.turbo) not in known]
    if not new:
        return effect
    words = "; ".join(title[:1].lower() + title[1:] for title in dict.fromkeys(new))
    return Said(N_("{effect} ({new})"), {"effect": effect, "new": words})


def _left(after: Trial, finding: Finding) -> Finding | None:
    """Return what is left of a finding; where places may be renamed, of all of its kind."""
    quantity = BY_CODE.get(finding.code)
    if quantity is None or not quantity.places_move:
        return after.by_key.get(finding.key)
    return next((f for f in after.findings if (f.code, f.turbo) == (finding.code, finding.turbo)), None)


def effect_of(before: Trial, after: Trial, finding: Finding) -> Said:
    """Return what a changed plan does to a finding: its quantity before and after, where it is worst now."""
    if finding.code not in BY_CODE:
        gone = finding.key not in after.by_key
        return Said(N_("the finding is gone") if gone else N_("less of it is left"), {})
    was = judged_of(before.evaluation.of(finding.turbo), finding.code)
    now = judged_of(after.evaluation.of(finding.turbo), finding.code)
    if was.quantity.axis == "condition":
        i = k = finding.condition_index
    else:
        i = was.places.index(finding.place) if finding.place in was.places else 0
        k = now.places.index(finding.place) if finding.place in now.places else -1
    value = float(now.value[k]) if 0 <= k < len(now.value) else float("nan")
    if was.quantity is THREADS_HELD and value >= MANY_THREADS:
        return Said(N_("the wall no longer has to hold a thread"), {})
    if not np.isfinite(value):
        return Said(N_("the finding is gone"), {})
    kind = was.quantity.kind
    return Said(
        N_("{name} {was:bare} → {now}"),
        {"name": tr(was.quantity.name), "was": Amount(float(was.value[i]), kind), "now": Amount(value, kind)},
    )
