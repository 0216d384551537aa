# SPDX-License-Identifier: GPL-3.0-or-later
"""What the trade knows of installs, held by the verdict: good kinds pass, each with one thing wrong does not, and worse is never better."""

from collections import Counter

import numpy as np
import pytest

from gravidon.plan.demos import NAMES, demo_plan
from gravidon.plan.model import Plan
from gravidon.study.judge.quantity import HOLDS
from gravidon.study.judge.table import judged as table_judged
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.trials import trial
from study.installs import BAD, GOOD, sampled
from study.sweeps import SWEEPS

GRADES = {"holds": 0, "watch": 1, "fails": 2}


def judged(plan: Plan) -> tuple[str, list[Finding]]:
    found = list(trial(plan).findings)
    kinds = {f.severity for f in found}
    return "fails" if "bad" in kinds else "watch" if "watch" in kinds else "holds", found


@pytest.mark.parametrize("name", list(GOOD))
def test_what_is_built_everywhere_passes(name: str) -> None:
    """Common practice, no source: at least 65 in a hundred of a proven kind pass, at most one in ten fails; of first plans 40. What passes
    says little besides."""
    make, ranges = GOOD[name]
    rows = [judged(p) for p in sampled(12, make, 21, **ranges)]
    shares = Counter(v for v, _ in rows)
    assert shares["fails"] <= 1, [f.text("metric") for v, fs in rows if v == "fails" for f in fs[:1]]
    assert shares["holds"] >= (5 if name == "first plans" else 8), shares
    told = [len(fs) for v, fs in rows if v == "holds"]
    assert np.mean(told) <= 5.0


FIRST: dict[str, set[str]] = {
    "3/8 in drain": {"freeboard", "lift-off", "small-drain"},
    "1/2 in drain": {"freeboard", "lift-off", "small-drain", "reserve"},
    "-8 at full flow": {"freeboard", "lift-off", "small-drain"},
    "level run": {"freeboard", "choked", "flat", "uphill-attitude", "lift-off"},
    "dip": {"uphill", "dip"},
    "drowned entry": {"drowned"},
    "1.5 L too much": {"overfilled", "drowned"},
    "ball, 1.5 L too much": {"overfilled", "drowned"},
    "ball, no hole": {"over-fed"},
    "ball, hole half": {"cooked", "starved-flow"},
    "blocked breather": {"crankcase", "freeboard"},
    "rear, pump a third": {"pump-weak"},
    "worn engine": {"crankcase"},
    "tilt 20": {"tilt"},
}
"""By family: what the first word has to be; common practice, no source."""


@pytest.mark.parametrize("name", list(BAD))
def test_one_thing_wrong_is_told_first(name: str) -> None:
    make, ranges = BAD[name]
    for plan in sampled(8, make, 22, **ranges):
        verdict, found = judged(plan)
        assert verdict != "holds"
        assert found[0].code in FIRST[name], [f.code for f in found]


@pytest.mark.parametrize("name", ["journal -10", "ball -10", "small ball, 75 to 90 psi", "rear, ample pump"])
def test_what_holds_has_no_negative_margin(name: str) -> None:
    """A verdict and the figure beside it say the same: no quantity that holds lies beyond its limit."""
    make, ranges = GOOD[name]
    for plan in (*sampled(4, make, 23, **ranges), *(demo_plan(n) for n in NAMES)):
        for lens in trial(plan).evaluation.all:
            for j in table_judged(lens):
                held = (j.grade == HOLDS) & np.isfinite(j.margin)
                assert (j.margin[held] >= -1e-9).all(), (j.quantity.code, j.margin)


HELD = ("fall", "ends", "oil over the mark", "tilt", "clock", "blow-by", "ring gap", "corner", "entry lower")


@pytest.mark.parametrize("name", [*(f"journal, {name}" for name in HELD), "ball, hole wider"])
def test_worse_is_never_better(name: str) -> None:
    """From good to bad the verdict only falls, and begins where it passes."""
    make, values = SWEEPS[name]
    grades = [GRADES[judged(make(float(x)))[0]] for x in values]
    assert grades[0] == 0, grades
    assert grades == sorted(grades), list(zip(values.round(3), grades, strict=True))
