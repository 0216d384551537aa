# SPDX-License-Identifier: GPL-3.0-or-later
"""All findings of an evaluation, worst first, and the verdict they make."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from gravidon.study.judge.table import judged
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.verdict.facts import PLAN_FACTS, TURBO_FACTS
from gravidon.study.verdict.finding import Finding, of_judged

SEVERITY_ORDER: dict[str, int] = {"bad": 0, "watch": 1, "note": 2}
"""Severities, hardest first; a note does not touch the verdict."""
WORD: dict[str, str] = {"bad": "fails", "watch": "watch", "note": "holds"}
"""The verdict's word for a severity."""

Verdict = Literal["fails", "watch", "holds"]


def find(e: Evaluation) -> tuple[Finding, ...]:
    """Return all findings, worst first."""
    found: list[Finding] = []
    for lens in e.all:
        found += [of_judged(j, i) for j in judged(lens) for i in j.found()]
        found += [f for look in TURBO_FACTS for f in look(lens)]
    found += [f for look in PLAN_FACTS for f in look(e.of(0))]
    return tuple(sorted(found, key=lambda f: (SEVERITY_ORDER[f.severity], f.margin)))


def verdict_word(findings: Iterable[Finding]) -> Verdict:
    """Return the plan's verdict: fails with any bad finding, watch with any other that counts, else holds."""
    severities = {f.severity for f in findings}
    return "fails" if "bad" in severities else "watch" if "watch" in severities else "holds"


def verdict_by_condition(e: Evaluation, findings: Iterable[Finding]) -> tuple[str, ...]:
    """Return the word for every condition, in the plan's order; findings of no condition leave it."""
    hardest = dict.fromkeys(e.names, SEVERITY_ORDER["note"])
    for f in findings:
        named = [(f.condition, f.severity), *((name, f.severity) for name in f.also), *f.less]
        for name, severity in named if f.condition else ():
            hardest[name] = min(hardest[name], SEVERITY_ORDER[severity])
    words = {order: WORD[severity] for severity, order in SEVERITY_ORDER.items()}
    return tuple(words[hardest[name]] for name in e.names)
