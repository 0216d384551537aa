# SPDX-License-Identifier: GPL-3.0-or-later
"""Where a diagnosis ends: what mends a cause, in the plan where the plan is at fault, with tools where a part is; and the entry it leaves in the logbook."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.records.entry import Entry
from gravidon.study.diagnosis.case import Case
from gravidon.study.diagnosis.tables import Cause, tables
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.remedies import Remedy, tried
from gravidon.study.verdict.trials import trial
from gravidon.translate import tr


@dataclass(frozen=True)
class Mending:
    """What mends a cause: the cause, the plan's findings that speak for it with what would mend the plan (tried), empty where the plan is not at fault."""

    cause: Cause
    findings: tuple[Finding, ...]
    remedies: tuple[tuple[Finding, Remedy], ...]

    @property
    def plan_at_fault(self) -> bool:
        """Whether the plan itself makes it so."""
        return bool(self.findings)


def mending(plan: Plan, cause: str) -> Iterator[Mending]:
    """Yield, after every trial, what mends a cause; the last is the answer.

    Raises: GravidonError if the plan cannot be computed; KeyError for a cause that is none.
    """
    it = tables().causes[cause]
    known = trial(plan)
    found = tuple(f for f in known.findings if f.code in it.plan and f.severity in ("bad", "watch"))
    made: list[tuple[Finding, Remedy]] = []
    yield Mending(it, found, ())
    for finding in found:
        before = tuple(made)
        try:
            for known_so_far in tried(known.evaluation, finding):
                made = [*before, *((finding, remedy) for remedy in known_so_far)]
                yield Mending(it, found, tuple(made))
        except GravidonError:
            continue


def story(case: Case) -> str:
    """Return what was told and tested, in a line."""
    known = tables()
    said = [known.signs[k].said for k, yes in case.answers.items() if yes]
    done = [known.tests[k].told(v) for k, v in case.results.items()]
    parts = []
    if said:
        parts.append(tr("Told: {signs}.").format(signs="; ".join(said)))
    if done:
        parts.append(tr("Tested: {tests}.").format(tests="; ".join(done)))
    return " ".join(parts)


def mended_entry(
    case: Case, cause: str, belief: float, today: date, done: bool, plan_change: str = ""
) -> Entry:
    """Return the logbook's entry of a diagnosis: what was found, how sure, and what was done about it.

    Args:
        case: what was told and tested.
        cause: the cause's key.
        belief: how sure [-].
        today: the day.
        done: whether it was mended; the parts it makes new then begin again.
        plan_change: the change of the plan that was taken, in words; empty: none.
    """
    it = tables().causes[cause]
    note = tr("Diagnosis: {name} ({belief:.0%}). {story}").format(
        name=it.name, belief=belief, story=story(case)
    )
    if plan_change:
        note += tr(" Plan: {plan_change}.").format(plan_change=plan_change)
    if done:
        note += tr(" Mended: {work}").format(work=" ".join(it.do))
    symptoms = tuple(tables().signs[k].said for k, yes in case.answers.items() if yes)
    return Entry(
        today.isoformat(), kind="work" if done else "symptom", note=note.strip()[:3900], symptoms=symptoms,
        changed=it.changed if done else (),
    )  # fmt: skip
