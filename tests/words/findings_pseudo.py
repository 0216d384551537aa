# SPDX-License-Identifier: GPL-3.0-or-later
"""Say every finding and remedy of plans in which much is wrong in the language of `pseudo.py` and print, as JSON, what is not in it."""

from __future__ import annotations

import json
from collections.abc import Iterator

from gravidon.desk.findings_pane import LIMIT_WORDS
from gravidon.plan.model import Plan
from gravidon.study.making.sequence import sequence
from gravidon.study.verdict.certainty import uncertain_inputs
from gravidon.study.verdict.remedies import remedies
from gravidon.study.verdict.report import verdict_sentence, verdict_words
from gravidon.study.verdict.trials import trial
from gravidon.words.text import VERDICTS, tr
from kept.plans import DEMOS, HARD, MORE, plan
from words.walk_pseudo import Own


def said(p: Plan) -> Iterator[str]:
    """Yield all that is said of a plan."""
    tried = trial(p)

    yield verdict_sentence(tried.evaluation, tried.findings)
    yield from (
        w
        for w in vars(verdict_words(tried.evaluation, tried.findings, "metric")).values()
        if isinstance(w, str) and w not in VERDICTS
    )
    for f in tried.findings:
        yield from (f.title, f.text("metric"), f.why, LIMIT_WORDS.get(f.source, tr(f.source)))
    for f in tried.findings[:3]:
        yield from (r.text("metric") for r in remedies(tried.evaluation, f))
    for step in sequence(p):
        yield from (step.title, step.text, step.tools, *step.cautions, *step.blocked)
    for it in uncertain_inputs(p):
        yield it.name


def main() -> None:
    """Say, print."""
    left: dict[str, list[str]] = {}
    for name in (*DEMOS, *HARD, *MORE):
        p = plan(name)
        own = Own(p)
        left[name] = sorted({text for text in said(p) if own.left(text)})
    print(json.dumps(left, ensure_ascii=False))


if __name__ == "__main__":
    main()
