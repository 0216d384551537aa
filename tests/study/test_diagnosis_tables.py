# SPDX-License-Identifier: GPL-3.0-or-later
"""Why it smokes: every row of the tables is whole, used and reachable."""

from __future__ import annotations

import re
from functools import cache
from pathlib import Path

import pytest

from gravidon.plan import demos
from gravidon.study.car.faults import FAULTS
from gravidon.study.diagnosis import showing
from gravidon.study.diagnosis.tables import GROUPS, KINDS, PLACES, RISKS, has, tables
from gravidon.study.judge.table import BY_CODE
from gravidon.study.verdict.trials import trial
from study.sick_cars import model_of, plan_of, put

KNOWN = tables()
NEEDS = {"pump", "gravity", "screen", "valve", "valve-only", "can", "twin", "ball", "journal"}


def test_there_are_enough_rows() -> None:
    assert len(KNOWN.causes) >= 30
    assert len(KNOWN.signs) >= 25
    assert len(KNOWN.tests) >= 30


@pytest.mark.parametrize("key", KNOWN.causes)
def test_a_cause_is_whole_and_used(key: str) -> None:
    """Every row says where it sits, what happens, what mends it and where it rests; a sign shows it and a test finds it."""
    c = KNOWN.causes[key]
    assert c.place in PLACES
    assert c.name
    assert c.why.endswith(".")
    assert c.do
    assert c.parts
    assert c.source
    assert 0.0 < c.prior < 20.0
    assert c.minutes > 0.0
    assert not c.fault or c.fault in FAULTS
    assert set(c.needs) <= NEEDS
    assert c.health in ("", "closing", "passage", "gallery", "zero", "gallery-zero")
    assert any(p > 1.5 * KNOWN.signs[s].rate for s, p in c.signs.items())
    by_row = any(key in t.finds and t.finds[key][0] < 0.4 for t in KNOWN.tests.values())
    assert by_row or c.fault in ("weak-pump", "relief-stuck")  # a gauge reads these off the simulated car


@cache
def finding_codes() -> frozenset[str]:
    """Return every code a finding may have: the judged quantities', those written out in the facts, and those filled in, found on plans that have them."""
    folder = Path(showing.__file__).parents[1] / "verdict"
    text = "\n".join(p.read_text("utf-8") for p in folder.glob("facts*.py"))
    written = re.findall(r'(?:fact|_of_line)\(\s*e,\s*(?:run,\s*)?"([a-z-]+)"', text)
    plan = put(
        demos.demo_plan("estate"),
        turbos__0__flange_hole__fitted=True,
        turbos__0__flange_hole__bore_mm=0.75,
        turbos__0__drain__fitting__fitting_thread="1/2 BSPT",
    )
    found = {f.code for p in (plan, demos.demo_plan("special")) for f in trial(p).findings}
    assert {"thread-tap", "thread-entry", "wrong-kind-restrictor", "wrong-kind-flange_hole"} <= found
    return frozenset({*BY_CODE, *written, *found})


@pytest.mark.parametrize("key", KNOWN.causes)
def test_findings_that_speak_for_a_cause_are_findings(key: str) -> None:
    """A code that no finding has says nothing, ever; so did four of them."""
    assert not {*KNOWN.causes[key].margins, *KNOWN.causes[key].plan} - finding_codes()


@pytest.mark.parametrize("key", KNOWN.signs)
def test_a_sign_is_whole_and_used(key: str) -> None:
    s = KNOWN.signs[key]
    assert s.ask.endswith("?")
    assert s.said
    assert s.group in GROUPS
    assert 0.0 < s.rate < 1.0
    assert set(s.needs) <= NEEDS
    assert all(shown.what in showing.AT for shown in s.shows)
    assert s.shows or any(key in c.signs for c in KNOWN.causes.values())


@pytest.mark.parametrize("key", KNOWN.tests)
def test_a_test_is_whole_and_used(key: str) -> None:
    t = KNOWN.tests[key]
    assert t.kind in KINDS
    assert t.how
    assert t.source
    assert 0 <= t.risk < len(RISKS)
    assert t.minutes > 0.0
    assert len(t.outcomes) == len(t.base) >= 2
    assert len({o.name for o in t.outcomes}) == len(t.outcomes)
    assert all(o.means.endswith(".") for o in t.outcomes)
    assert sum(t.base) == pytest.approx(1.0)
    assert t.finds or t.shows is not None
    for row in t.finds.values():
        assert len(row) == len(t.base)
        assert sum(row) == pytest.approx(1.0)
    if t.shows is not None:
        assert t.shows.what in showing.AT
        assert sorted(t.shows.order) == list(range(len(t.outcomes)))
        assert list(t.shows.edges) == sorted(t.shows.edges)
        assert len(t.shows.edges) == len(t.outcomes) - 1


def test_every_place_has_a_cause() -> None:
    assert {c.place for c in KNOWN.causes.values()} == set(PLACES)


def test_all_that_can_be_apart_is_asked_for_by_some_test() -> None:
    assert {a for t in KNOWN.tests.values() for a in t.apart} == set(KNOWN.apart)


def test_what_a_plan_does_not_have_is_no_cause() -> None:
    """A car drained by gravity has no scavenge pump to be weak; without a screen none clogs."""
    assert not {"pump-weak", "pump-wire", "runs-back"} & set(model_of("coupe").keys)
    assert "screen" in model_of("coupe").keys
    assert "screen" not in model_of("estate").keys
    assert "pump-wire" in model_of("special").keys
    assert {"hole-small"} & set(model_of("estate").keys)
    assert "hole-small" not in model_of("coupe").keys
    assert "twin" in has(plan_of("van"))
