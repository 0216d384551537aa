# SPDX-License-Identifier: GPL-3.0-or-later
"""The choices of a plan, what holds them, and that nothing that is made breaks a hold."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gravidon.errors import GravidonError, InputError
from gravidon.plan import paths, storage
from gravidon.plan.demos import NAMES, demo_plan
from gravidon.plan.model import Hold, StepLog
from gravidon.study.planning.choices import CHOICES, places
from gravidon.study.planning.freedom import (
    WONTS,
    allowed,
    broken,
    held,
    holds,
    read_hold,
    with_hold,
    without_hold,
)
from gravidon.study.planning.homes import put_relaid

EVERY = [(name, choice.name, k) for name in NAMES for choice, k in places(demo_plan(name))]


@pytest.mark.parametrize(("demo", "name", "k"), EVERY)
def test_a_value_that_is_put_is_the_value_there_is(demo: str, name: str, k: int) -> None:
    """Putting the plan's own value changes nothing; any other of the first few is there afterwards."""
    plan, choice = demo_plan(demo), CHOICES[name]
    own = choice.value(plan, k)
    assert own in choice.values(plan, k)
    assert choice.put(plan, k, own) == plan
    for value in choice.values(plan, k)[:5]:
        try:
            made = choice.put(plan, k, value)
        except InputError:
            continue  # no way to lay in this car
        if value != "laid anew" and choice.applies(made, k):
            assert choice.value(made, k) == value
        type(plan).model_validate(made.model_dump())


@pytest.mark.parametrize(
    ("name", "words", "value"),
    [
        ("restrictor", "2.2 mm", "2.2"),
        ("restrictor", "0.0866 in", "2.19964"),
        ("clock", "20", "20"),
        ("drain-size", "-8", "-8"),
        ("entry-means", "Weld Bung", "weld bung"),
        ("entry-place", "-300,-20", "-300,-20"),
        ("restrictor", "none", "none"),
    ],
)
def test_values_are_read_as_a_builder_says_them(name: str, words: str, value: str) -> None:
    assert CHOICES[name].read(words, demo_plan("estate"), 0) == value


@pytest.mark.parametrize(
    ("name", "words"), [("drain-size", "-9"), ("clock", "steep"), ("entry-place", "low"), ("tap", "the sump")]
)
def test_a_value_that_is_none_is_refused_by_name(name: str, words: str) -> None:
    with pytest.raises(GravidonError, match=CHOICES[name].words):
        CHOICES[name].read(words, demo_plan("estate"), 0)


# --- holds ----------------------------------------------------------------------------------------


def test_what_is_measured_or_done_is_locked() -> None:
    plan = demo_plan("estate")
    assert held(plan, CHOICES["clock"], 0).state == "open"
    measured = paths.put(plan, "turbos.0.turbo.clock_deg", 5.0)
    assert held(measured, CHOICES["clock"], 0).state == "locked"
    done = plan.model_copy(
        update={"build": plan.build.model_copy(update={"done": (StepLog(step="entry-0"),)})}
    )
    assert {h.choice.name for h in holds(done) if h.state == "locked"} >= {
        "entry-place",
        "entry-means",
        "entry-thread",
    }
    opened = with_hold(done, Hold(choice="entry-place", state="open"))
    assert held(opened, CHOICES["entry-place"], 0).state == "open"
    assert without_hold(opened, "entry-place") == done


def test_a_drain_that_carries_a_tee_keeps_its_way() -> None:
    plan = demo_plan("van")
    assert held(plan, CHOICES["route"], 0).state == "locked"
    assert "joins" in held(plan, CHOICES["route"], 0).why


@pytest.mark.parametrize(
    ("text", "state", "lets", "bars"),
    [
        ("clock", "locked", "0", "10"),
        ("entry-means=tapped,bulkhead", "limited", "bulkhead", "weld bung"),
        ("restrictor=0.9..2.2", "limited", "1", "2.3"),
        ("restrictor=..2.2", "limited", "0.5", "2.3"),
        ("entry-place=-45..", "limited", "-300,-20", "-300,-60"),
        ("drain-size=-10;-12", "limited", "-12", "-8"),
    ],
)
def test_holds_are_read_and_hold(text: str, state: str, lets: str, bars: str) -> None:
    plan = demo_plan("estate")
    hold = read_hold(plan, text)
    assert hold.state == state
    plan = with_hold(plan, hold)
    choice = CHOICES[hold.choice]
    assert allowed(plan, choice, 0, (lets, bars)) == (lets,)
    again = storage.plan_from_text(storage.plan_to_text(plan))
    assert again.holds == plan.holds


@pytest.mark.parametrize(
    "text",
    ["colour", "clock=..", "restrictor=3..1", "drain-size@4=-10", "entry-means=glued", "restrictor=a..b"],
)
def test_a_hold_that_says_nothing_is_refused(text: str) -> None:
    with pytest.raises(InputError):
        read_hold(demo_plan("estate"), text)


@pytest.mark.parametrize("wont", WONTS, ids=lambda w: w.key)
@pytest.mark.parametrize("demo", NAMES)
def test_what_a_builder_wont_do_holds(wont: object, demo: str) -> None:
    plan = demo_plan(demo)
    for hold in wont.holds(plan, 0):  # type: ignore[attr-defined]
        plan = with_hold(plan, hold)
    assert wont.said(plan, 0) or not wont.holds(plan, 0)  # type: ignore[attr-defined]
    if wont.key == "weld" and CHOICES["entry-means"].applies(plan, 0):  # type: ignore[attr-defined]
        assert "weld bung" not in allowed(plan, CHOICES["entry-means"], 0)


@settings(max_examples=60, deadline=None)
@given(st.data())
def test_no_change_that_is_made_for_one_choice_breaks_the_holds_of_others_unseen(data: st.DataObject) -> None:
    """Whatever is locked, a plan with another value either keeps to it or `broken` names what it breaks."""
    plan = demo_plan(data.draw(st.sampled_from(("estate", "coupe"))))
    every = places(plan)
    for choice, k in data.draw(st.lists(st.sampled_from(every), max_size=5)):
        plan = with_hold(plan, Hold(choice=choice.name, turbo=k, state="locked"))
    choice, k = data.draw(st.sampled_from(every))
    value = data.draw(st.sampled_from(choice.values(plan, k)))
    made = put_relaid((plan, plan, k, choice.name, value))
    if made is None:
        return
    named = broken(plan, made)
    for other, n in every:
        if held(plan, other, n).state == "locked" and other.applies(made, n):
            assert (other.value(made, n) == other.value(plan, n)) == (other.name not in named)
