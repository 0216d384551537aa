# SPDX-License-Identifier: GPL-3.0-or-later
"""Two plans side by side, and the ideas that a plan keeps."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gravidon.errors import InputError
from gravidon.plan import paths, storage
from gravidon.plan.demos import NAMES, demo_plan
from gravidon.plan.model import Plan
from gravidon.study.planning.choices import CHOICES, places
from gravidon.study.planning.compare import (
    bare,
    differences,
    outcomes,
    state_of,
    taken,
    with_idea,
    without_idea,
)
from gravidon.study.planning.homes import put_relaid
from gravidon.study.verdict.trials import trial


def changed(plan: Plan, *values: tuple[str, str]) -> Plan:
    for name, value in values:
        made = put_relaid((plan, plan, 0, name, value))
        assert made is not None
        plan = made
    return plan


def test_the_same_plan_has_no_differences() -> None:
    assert differences(demo_plan("estate"), demo_plan("estate")) == ()


def test_differences_are_decisions_in_a_builders_words() -> None:
    plan = demo_plan("estate")
    other = changed(plan, ("restrictor", "2.2"), ("tap-thread", "1/8 BSPT"))
    found = {d.words: (d.old, d.new) for d in differences(plan, other)}
    assert found["restrictor"] == ("0.76\u202fmm", "2.20\u202fmm")
    assert found["thread at the tap"] == ("1/8 NPT", "1/8 BSPT")
    assert len(found) == 2


def test_facts_come_after_decisions_and_say_that_they_are() -> None:
    plan = demo_plan("estate")
    other = paths.put(changed(plan, ("restrictor", "2.2")), "engine.relief_kpa", 520.0)
    found = differences(plan, other)
    assert [d.is_fact for d in found] == [False, True]
    assert found[1].words == "relief pressure"


@settings(max_examples=30, deadline=None)
@given(st.data())
def test_taking_every_difference_makes_the_other_plan(data: st.DataObject) -> None:
    """Nothing that two states have otherwise is left out, whatever was changed."""
    plan = demo_plan(data.draw(st.sampled_from(NAMES)))
    other = plan
    for _ in range(data.draw(st.integers(1, 4))):
        choice, k = data.draw(st.sampled_from(places(other)))
        value = data.draw(st.sampled_from(choice.values(other, k)))
        other = put_relaid((other, other, k, choice.name, value)) or other
    made = plan
    for difference in sorted(differences(plan, other), key=lambda d: d.key.startswith("drain_by")):
        made = taken(made, other, difference)
    assert bare(made) == bare(other)


def test_one_difference_is_taken_alone() -> None:
    plan = demo_plan("estate")
    other = changed(plan, ("restrictor", "2.2"), ("tap-thread", "1/8 BSPT"))
    one = next(d for d in differences(plan, other) if d.words == "restrictor")
    made = taken(plan, other, one)
    assert CHOICES["restrictor"].value(made, 0) == "2.2"
    assert CHOICES["tap-thread"].value(made, 0) == "1/8 NPT"


def test_a_difference_that_cannot_stand_alone_is_refused_by_name() -> None:
    """A joined drain needs the bend that its tee sits at."""
    van = demo_plan("van")
    gone = van.model_copy(
        update={
            "turbos": tuple(
                it.model_copy(update={"drain": it.drain.model_copy(update={"points": (), "joins": None})})
                for it in van.turbos
            )
        }
    )
    way = next(d for d in differences(van, gone) if any(p.endswith("0.drain.points") for p in d.paths))
    with pytest.raises(InputError, match=way.words):
        taken(van, gone, way)


def test_outcomes_tell_every_condition_with_its_change() -> None:
    plan = demo_plan("estate")
    other = changed(plan, ("restrictor", "2.2"))
    rows = outcomes(plan, other)
    assert tuple(r.condition for r in rows) == trial(plan).evaluation.names
    full = next(r for r in rows if r.condition == "full load")
    assert full.verdicts[0] == "fails"
    assert full.change > 0.5
    assert full.nearest[0] != full.nearest[1]
    assert all("at least" in r.nearest[0] or "at most" in r.nearest[0] for r in rows)


# --- ideas ----------------------------------------------------------------------------------------


def test_an_idea_is_kept_in_the_file_and_comes_back() -> None:
    plan = demo_plan("estate")
    other = changed(plan, ("restrictor", "2.2"))
    kept = with_idea(plan, "bigger hole", "for the journal turbo", state=other)
    again = storage.plan_from_text(storage.plan_to_text(kept))
    assert again == kept
    assert bare(state_of(again, again.ideas[-1])) == bare(other)
    assert trial(again).verdict == trial(plan).verdict


def test_an_idea_stands_on_what_is_known_today() -> None:
    """A reading corrected is corrected in every idea; as it was then, it can be had too."""
    plan = with_idea(demo_plan("estate"), "first")
    now = paths.put(plan, "engine.relief_kpa", 520.0)
    assert state_of(now, now.ideas[-1]).engine.relief_kpa.value == 520.0
    assert state_of(now, now.ideas[-1], facts=True).engine.relief_kpa.value == 490.0


def test_ideas_are_a_tree_of_a_few() -> None:
    plan = with_idea(demo_plan("coupe"), "a")
    plan = with_idea(plan, "b", after="a")
    plan = with_idea(plan, "c", after="b")
    assert [i.after for i in plan.ideas] == ["", "a", "b"]
    left = without_idea(plan, "b")
    assert [(i.name, i.after) for i in left.ideas] == [("a", ""), ("c", "a")]
    again = with_idea(left, "c", "changed")
    assert [(i.name, i.note) for i in again.ideas] == [("a", ""), ("c", "changed")]


@pytest.mark.parametrize("name", ["", "   ", "x" * 81])
def test_an_idea_without_a_name_is_refused(name: str) -> None:
    with pytest.raises(InputError, match="idea's name"):
        with_idea(demo_plan("coupe"), name)


def test_an_idea_counts_no_guesses_of_its_own() -> None:
    plan = demo_plan("estate")
    assert paths.guesses(with_idea(plan, "one")) == paths.guesses(plan)


def test_the_sheet_carries_the_comparison_that_is_asked_for() -> None:
    """Decisions and every condition of an idea that is to be printed; nothing of one that is not."""
    from gravidon.sheet.workshop_content import sections

    plan = demo_plan("estate")
    kept = with_idea(plan, "bigger hole", state=changed(plan, ("restrictor", "2.2")))
    assert not [s for s in sections(trial(kept).evaluation, "metric") if "bigger hole" in s.title]
    printed = kept.model_copy(update={"ideas": (kept.ideas[-1].model_copy(update={"on_sheet": True}),)})
    made = {s.key: s for s in sections(trial(printed).evaluation, "metric")}
    assert made["idea-bigger hole"].rows[0] == ("restrictor", "0.76\u202fmm", "2.20\u202fmm")
    assert len(made["outcome-bigger hole"].rows) == len(plan.conditions)
    assert with_idea(printed, "bigger hole").ideas[-1].on_sheet
