# SPDX-License-Identifier: GPL-3.0-or-later
"""Plans anywhere within their bounds: computed or refused in words, every figure that is told is a number."""

from __future__ import annotations

import random
import re
from collections import Counter

import numpy as np

from gravidon import api
from gravidon.desk.session import Session
from gravidon.desk.stations import STATIONS
from gravidon.errors import GravidonError
from gravidon.study.verdict.trials import trial
from robust.sampling import random_plan
from robust.times import TIMES

NO_NUMBER = re.compile(r"\b(nan|inf)\b", re.IGNORECASE)


def told_of(plan: object) -> list[str]:
    """Return all that the rail, the verdict and its list would tell of a plan."""
    made = trial(plan)  # type: ignore[arg-type]
    texts = []
    for family in ("metric", "imperial"):
        for finding in made.findings:
            texts += [finding.title, finding.text(family), finding.why]  # type: ignore[arg-type]
    session = Session(plan)  # type: ignore[arg-type]
    session._timer.stop()
    texts += [s.headline(session) for s in STATIONS]
    session.close()
    session.deleteLater()
    return texts


def test_random_plans_are_computed_or_refused_in_words(qapp: object) -> None:
    rnd, outcome = random.Random(21), Counter[str]()
    for _ in range(TIMES.plans):
        plan = random_plan(rnd)
        try:
            with np.errstate(all="raise", under="ignore"):
                texts = told_of(plan)
                texts.append(str(api.report(plan)) if outcome["computed"] % 10 == 0 else "")
        except GravidonError as error:
            assert str(error)
            outcome["refused"] += 1
            continue
        wrong = [t for t in texts if NO_NUMBER.search(t)]
        assert not wrong, (wrong, plan)
        outcome["computed"] += 1
    assert outcome["computed"] > 0.8 * TIMES.plans, outcome
