# SPDX-License-Identifier: GPL-3.0-or-later
"""trial(plan): a plan evaluated and judged, each distinct plan once."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from gravidon.plan.model import Plan
from gravidon.study.solve.evaluate import Evaluation, evaluate
from gravidon.study.solve.kept import Kept
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.findings import Verdict, find, verdict_by_condition, verdict_word


@dataclass(frozen=True, eq=False)
class Trial:
    """A plan, what comes of it, and (made when first asked for) what is found in it."""

    plan: Plan
    evaluation: Evaluation

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """All findings, worst first."""
        return find(self.evaluation)

    @cached_property
    def by_key(self) -> dict[str, Finding]:
        """The findings by what tells them apart."""
        return {f.key: f for f in self.findings}

    @property
    def verdict(self) -> Verdict:
        """The verdict's word."""
        return verdict_word(self.findings)

    @cached_property
    def words(self) -> tuple[str, ...]:
        """The verdict's word for every condition."""
        return verdict_by_condition(self.evaluation, self.findings)

    @property
    def bad(self) -> frozenset[str]:
        """Keys of the bad findings."""
        return frozenset(f.key for f in self.findings if f.severity == "bad")


_TRIALS: Kept[Trial] = Kept(64)


def trial(plan: Plan) -> Trial:
    """Return a plan's trial; a plan equal to one of the last ones is not tried again.

    Raises: GravidonError if the plan's numbers cannot be computed.
    """
    return _TRIALS.of(plan, lambda: Trial(plan, evaluate(plan)))
