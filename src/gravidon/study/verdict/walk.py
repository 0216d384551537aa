# SPDX-License-Identifier: GPL-3.0-or-later
"""All that helps, one remedy after the other, until nothing more is gained."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from gravidon.plan.model import Plan
from gravidon.study.verdict.remedies import Remedy, tried
from gravidon.study.verdict.trials import Trial, trial

MOST_STEPS = 12
"""Remedies that are taken at most; project choice."""


@dataclass(frozen=True)
class Walked:
    """What was done so far, the plan it left, and whether that is the end of it."""

    done: tuple[Remedy, ...]
    plan: Plan
    final: bool = False


def _standing(made: Trial) -> tuple[int, int]:
    """Return how many findings are bad, and how many are to be watched: what a step has to lessen."""
    return len(made.bad), sum(f.severity == "watch" for f in made.findings)


def walk(plan: Plan) -> Iterator[Walked]:
    """Yield what is done so far after every trial: the gravest finding that has a remedy, its first one, and again. A step is taken only
    where fewer findings are bad, or as few bad and fewer to be watched: never a new warning for an old one.

    Raises: GravidonError if the plan cannot be computed.
    """
    done: tuple[Remedy, ...] = ()
    for _ in range(MOST_STEPS):
        here = trial(plan)
        taken: Remedy | None = None
        for finding in (f for f in here.findings if f.severity != "note"):
            offered: tuple[Remedy, ...] = ()
            for offered in tried(here.evaluation, finding):  # noqa: B007  the last answer is the one
                yield Walked(done, plan)
            taken = next((r for r in offered if _standing(trial(r.plan)) < _standing(here)), None)
            if taken is not None:
                break
        if taken is None:
            break
        done, plan = (*done, taken), taken.plan
    yield Walked(done, plan, True)
