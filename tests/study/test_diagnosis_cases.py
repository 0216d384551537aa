# SPDX-License-Identifier: GPL-3.0-or-later
"""Why it smokes: cases as files and command lines, how they end, and the door for scripts."""

from __future__ import annotations

from datetime import date
from pathlib import Path

import pytest

from gravidon import api
from gravidon.errors import InputError
from gravidon.plan import demos
from gravidon.study.diagnosis.belief import ELSE, model
from gravidon.study.diagnosis.case import Case, case_from, outcome_named
from gravidon.study.diagnosis.mending import mended_entry, mending
from gravidon.study.diagnosis.report import told_case
from gravidon.study.diagnosis.sick import complaint, draw
from gravidon.study.diagnosis.tables import tables
from study.sick_cars import plan_of

KNOWN = tables()


def test_a_case_is_kept_as_text() -> None:
    case = Case(bar=1).answered("smoke-idle", True).answered("coke", False).answered("whine", None)
    case = case.tested("drain-bore", 1)
    again = case_from(case.text())
    assert again == case
    assert again.apart == ("undertray", "drain-hose")
    assert not again.empty
    assert Case().empty


def test_a_case_of_another_version_is_read_as_far_as_it_is_known() -> None:
    text = Case().answered("coke", True).tested("plugs", 1).text()
    odd = text.replace('"coke"', '"gone"').replace('"oily"', '"as never seen"')
    assert (case_from(odd).answers, case_from(odd).results) == ({}, {})


@pytest.mark.parametrize(
    "text", ["", "{}", "[]", "7", '{"format": "else", "format_version": 1}', '{"format"']
)
def test_what_is_no_case_is_refused(text: str) -> None:
    with pytest.raises(InputError, match="case"):
        case_from(text)


def test_words_of_a_command_line_make_a_case(tmp_path: Path) -> None:
    file = tmp_path / "a.json"
    file.write_text(Case().answered("coke", True).text())
    case = told_case(["smoke-idle", "no-whine"], ["dipstick=over", "plugs=2"], file, 1)
    assert case.answers == {"coke": True, "smoke-idle": True, "whine": False}
    assert case.results == {"dipstick": 2, "plugs": 1}
    assert case.bar == 1
    for signs, results, field in ((["fog"], [], "sign"), ([], ["dipstick"], "result"), ([], ["dipstick=x"], "outcome"), ([], ["fog=1"], "test")):  # fmt: skip
        with pytest.raises(InputError, match=field):
            told_case(signs, results, None, 1)
    with pytest.raises(InputError, match="case"):
        told_case([], [], tmp_path / "none.json", 1)


def test_an_outcome_by_name_beginning_or_number() -> None:
    test = KNOWN.tests["gauge-inlet"]
    assert [outcome_named(test, t) for t in ("Low", "hi", "1")] == [1, 2, 0]
    with pytest.raises(InputError, match="gauge-inlet"):
        outcome_named(test, "4")


def test_a_case_refuses_what_is_none() -> None:
    with pytest.raises(InputError, match="sign"):
        Case().answered("fog", True)
    with pytest.raises(InputError, match="test"):
        Case().tested("fog", 0)
    with pytest.raises(InputError, match="outcome"):
        Case().tested("dipstick", 9)


def test_a_plan_at_fault_ends_in_a_plan_that_was_tried() -> None:
    """The special's thin wire: the plan makes it so, a thicker one mends it, and the finding is gone."""
    *_, made = mending(plan_of("thin wire"), "pump-wire")
    assert made.plan_at_fault
    assert made.remedies
    finding, remedy = made.remedies[0]
    assert finding.code in KNOWN.causes["pump-wire"].plan
    after = {f.code: f.severity for f in api.findings(remedy.plan)}
    assert after.get(finding.code) != "bad"


def test_a_sound_plan_ends_in_a_repair() -> None:
    *_, made = mending(plan_of("coupe"), "guides")
    assert not made.plan_at_fault
    assert made.cause.do
    entry = mended_entry(Case().answered("smoke-start", True), "bearing-worn", 0.93, date(2026, 5, 1), True)
    assert entry.checked().changed == ("bearing",)
    assert "93%" in entry.note
    assert "smoke at the first start" in entry.note
    assert mended_entry(Case(), "screen", 0.9, date(2026, 5, 1), False).changed == ()


def test_the_python_door() -> None:
    case = api.Case().answered("smoke-start", True).answered("smoke-boost", False)
    made = api.diagnosed(api.demo("coupe"), case)
    assert made["causes"][0]["key"] == "guides"
    assert made["questions"]
    assert len(made["questions"]) <= 3
    assert made["tests"][0]["outcomes"]
    assert made["signs"] == {"yes": ["smoke-start"], "no": ["smoke-boost"], "unknown": []}
    assert sum(made["places"].values()) < 1.0


def test_practice_alone_knows_nothing_of_the_plan() -> None:
    """The same model without the plan: every cause possible, every sign by its row."""
    plain_model = model(demos.demo_plan("coupe"), by_plan=False)
    assert set(plain_model.keys) == {*KNOWN.causes, ELSE}
    at = plain_model.signs.index("smoke-idle")
    row = plain_model.keys.index("drain-choked")
    assert plain_model.sign_chance[row, at] == KNOWN.causes["drain-choked"].signs["smoke-idle"]
    assert not plain_model.run


def test_nobody_comes_with_what_only_says_more() -> None:
    """A sick car's complaint begins with a sign that somebody would come with, made by what is wrong; "worse with revs" or "clears when driven" come after it."""
    for seed in range(6):
        car = draw(plan_of("coupe"), 300 + seed)
        said = [KNOWN.signs[s].qualifies for s in complaint(car)]
        assert said == sorted(said)
        assert not said[0]
    assert KNOWN.signs["worse-revs"].qualifies
    assert not KNOWN.signs["smoke-idle"].qualifies


def test_a_test_and_its_result_read_as_one_line() -> None:
    """A name that asks is answered; any other is followed by a colon."""
    known = KNOWN.tests
    assert any(test.name.endswith("?") for test in known.values())
    for test in known.values():
        line = test.told(len(test.outcomes) - 1)
        assert line.startswith(test.name)
        assert line.endswith(test.outcomes[-1].name)
        assert "?:" not in line
        assert ": " in line or "? " in line
