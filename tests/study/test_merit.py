# SPDX-License-Identifier: GPL-3.0-or-later
"""What plans are weighed by: bounds that bound, an order that is one, prices that are those of the order list."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gravidon.plan import paths
from gravidon.plan.demos import NAMES, demo_plan
from gravidon.plan.model import Plan
from gravidon.plan.model_parts import StepLog
from gravidon.study.judge.quantity import BAD, HOLDS, NOTE, WATCH
from gravidon.study.making.cutting import order_list
from gravidon.study.planning.board import Board, taken_up, without_ideas
from gravidon.study.planning.choices import CHOICES
from gravidon.study.planning.crew import Alone
from gravidon.study.planning.freedom import read_hold, with_hold
from gravidon.study.planning.look import Look
from gravidon.study.planning.merit import (
    AXES,
    INVASIVE,
    Merit,
    dominates,
    grip,
    invasive,
    lowest_of,
    merit,
    supply_grip,
    with_chance,
)

PAIRS = st.lists(st.tuples(st.sampled_from((HOLDS, WATCH, BAD)), st.floats(-9, 9)), max_size=8)
DEMOS = {name: demo_plan(name) for name in NAMES}
MERITS = {name: merit(plan) for name, plan in DEMOS.items()}

# --- grips ----------------------------------------------------------------------------------------


@given(PAIRS, PAIRS)
def test_what_judges_less_never_says_less(
    some: list[tuple[int, float]], more: list[tuple[int, float]]
) -> None:
    """A grip over fewer quantities is at least the grip over more: the search leaves plans unseen by it."""
    assert grip(some) >= grip(some + more)


@given(PAIRS, st.randoms())
def test_a_grip_does_not_hang_on_the_order(pairs: list[tuple[int, float]], chance: object) -> None:
    mixed = list(pairs)
    chance.shuffle(mixed)  # type: ignore[attr-defined]
    assert grip(mixed).ladder == grip(pairs).ladder
    assert grip(mixed).short == pytest.approx(grip(pairs).short)
    assert (grip(mixed).grade, grip(mixed).margin) == (grip(pairs).grade, grip(pairs).margin)


def test_the_hardest_grade_comes_before_any_margin() -> None:
    assert grip([(WATCH, 0.9)]) > grip([(BAD, 0.9)])
    assert grip([(HOLDS, 0.01)]) > grip([(WATCH, 0.9)])
    assert grip([]).grade == 2


def test_where_the_least_margin_cannot_be_moved_the_next_decides() -> None:
    stuck = (BAD, -2.0)
    assert grip([stuck, (HOLDS, 0.6)]) > grip([stuck, (HOLDS, 0.2)])
    assert grip([stuck, (WATCH, -0.1)]) > grip([stuck, (WATCH, -0.4)])


def test_more_margin_than_one_counts_no_more() -> None:
    assert grip([(HOLDS, 1.5)]) == grip([(HOLDS, 40.0)])


@given(
    st.lists(
        st.tuples(st.sampled_from((HOLDS, WATCH, BAD, NOTE)), st.one_of(st.floats(-5, 5), st.just(np.nan))),
        max_size=6,
    )
)
def test_notes_and_what_is_not_judged_do_not_count(found: list[tuple[int, float]]) -> None:
    grades = np.array([g for g, _ in found], int)
    margins = np.array([m for _, m in found], float)
    counted = [(g, m) for g, m in found if g != NOTE and not np.isnan(m)]
    expected = [(max(g for g, _ in counted), min(m for _, m in counted))] if counted else []
    assert lowest_of(grades, margins) == expected


@pytest.mark.parametrize("name", NAMES)
def test_the_pressure_side_alone_is_a_bound_on_the_whole(name: str) -> None:
    assert supply_grip(DEMOS[name]) >= MERITS[name].held


# --- the order of plans ---------------------------------------------------------------------------


def some_merit(margin: float, cost: int, minutes: int, joints: int, sure: float | None) -> Merit:
    held = grip([(HOLDS if margin > 0 else BAD, margin)])
    return Merit("", margin, 0, 0, float(cost), minutes, 0.0, joints, 0, 0, held, sure, sure)


PAN_ON = "pan on, grease and a stop"
SOME = st.builds(
    some_merit,
    st.sampled_from((-1.0, -0.5, 0.2, 0.7)),
    st.integers(0, 2),
    st.integers(0, 2),
    st.integers(0, 2),
    st.sampled_from((0.2, 0.8)),
)


@given(SOME, SOME, SOME)
def test_to_dominate_is_a_strict_order(a: Merit, b: Merit, c: Merit) -> None:
    """Never oneself, never both ways, and handed on."""
    assert not dominates(a, a)
    assert not (dominates(a, b) and dominates(b, a))
    if dominates(a, b) and dominates(b, c):
        assert dominates(a, c)


def test_a_cheaper_plan_that_fails_never_dominates_one_that_holds() -> None:
    good, bad = some_merit(0.7, 900, 900, 9, 0.9), some_merit(-0.5, 0, 0, 0, 0.9)
    assert not dominates(bad, good)


@given(SOME)
def test_one_thing_better_and_nothing_worse_dominates(m: Merit) -> None:
    for better in (
        replace(m, cost=m.cost - 1.0),
        replace(m, minutes=m.minutes - 1),
        replace(m, joints=m.joints - 1),
        replace(m, bad=m.bad - 1),
        replace(m, sure=None, margin=m.margin + 0.1),
    ):
        assert dominates(better, m)
        assert not dominates(m, better)


def test_a_probability_that_is_not_known_decides_nothing() -> None:
    bare, known = some_merit(0.7, 1, 1, 1, None), some_merit(0.7, 1, 1, 1, 0.9)
    assert not dominates(bare, known)
    assert not dominates(known, bare)


# --- what a plan asks -----------------------------------------------------------------------------


@pytest.mark.parametrize("name", NAMES)
def test_the_price_is_that_of_the_order_list(name: str) -> None:
    """What is still to pay and to order is read off the order list, line by line."""
    lines = order_list(DEMOS[name])
    assert MERITS[name].cost == pytest.approx(sum(n.to_order * n.part.price for n in lines), abs=0.01)
    assert MERITS[name].order == len([n for n in lines if n.lacking])


@pytest.mark.parametrize(
    ("means", "pan", "far"),
    [
        ("tapped", PAN_ON, "a hole, the pan on"),
        ("tapped", "pan off", "the pan off"),
        ("weld bung", PAN_ON, "the pan off and welded"),
        ("weld bung", "pan off", "the pan off and welded"),
    ],
)
def test_how_far_a_plan_goes_into_the_engine(means: str, pan: str, far: str) -> None:
    plan = paths.put(demo_plan(), "build.pan", pan)
    plan = paths.put(plan, "turbos.0.drain.fitting.means", means)
    assert INVASIVE[invasive(plan)] == far


def test_a_hole_that_is_made_is_no_new_hole() -> None:
    plan = paths.put(demo_plan(), "build.done", ())
    assert INVASIVE[invasive(plan)] != "no new hole"
    made = paths.put(plan, "build.done", (StepLog(step="entry-0"),))
    assert INVASIVE[invasive(made)] == "no new hole"


@settings(max_examples=6, deadline=None)
@given(st.integers(1, 50))
def test_a_probability_is_a_share_and_the_same_twice(seed: int) -> None:
    plan = DEMOS["coupe"]
    one, two = (with_chance(plan, MERITS["coupe"], 6, seed) for _ in range(2))
    assert one == two
    assert one.sure is not None
    assert one.unfailing is not None
    assert 0.0 <= one.sure <= one.unfailing <= 1.0


def test_merits_are_written_with_their_units_and_dots_for_what_is_not_known() -> None:
    m = replace(MERITS["estate"], minutes=90, cost=123.4, bad=1, watch=2)
    said = {a.key: (a.text(m), a.alone(m)) for a in AXES}
    assert said["hours"] == ("1.5 h", "1.5 h")
    assert said["warned"] == ("1 fault, 2 warnings",) * 2
    assert {a.key: a.text(replace(m, bad=0, watch=0)) for a in AXES}["warned"] == "no warning"
    assert said["cost"] == ("123", "123 to pay")
    assert said["sure"] == ("…", "how sure: …")
    known = replace(m, sure=0.5, unfailing=0.75)
    assert {a.key: a.alone(known) for a in AXES}["sure"] == "passes in 50%, fails in 25%"


# --- the board ------------------------------------------------------------------------------------


class Counting(Alone):
    """Counts what it is asked."""

    def __init__(self) -> None:
        self.asked: list[Plan] = []

    def ask(self, work, questions):  # type: ignore[no-untyped-def]
        self.asked += questions
        return super().ask(work, questions)


def board(plan: Plan) -> tuple[Board, Counting]:
    crew = Counting()
    return Board(plan, crew, np.random.default_rng(1)), crew


def with_bore(plan: Plan, bore: float) -> Plan:
    return CHOICES["restrictor"].put(plan, 0, f"{bore:.1f}")


def test_a_plan_is_looked_at_once() -> None:
    plan = DEMOS["estate"]
    it, crew = board(plan)
    others = [with_bore(plan, b) for b in (1.0, 1.2, 1.0)]
    it.add(others)
    it.add(others)
    assert len(crew.asked) == len(set(others)) == it.asked
    it.add(others[:1], whole=True)
    it.add(others[:1], whole=True)
    it.add(others[:1])
    assert len(crew.asked) == len(set(others)) + 1
    assert it.looks[others[0]].whole


def test_a_plan_against_a_hold_is_never_looked_at() -> None:
    plan = with_hold(DEMOS["estate"], read_hold(DEMOS["estate"], "restrictor=1.2"))
    it, crew = board(plan)
    it.add([with_bore(plan, 2.0)])
    assert not crew.asked
    assert not it.looks


PLANS = [with_bore(DEMOS["coupe"], 1.0 + 0.1 * n) for n in range(7)]


def look_of(m: Merit) -> Look:
    return Look(m, None, True)


@given(st.lists(SOME, min_size=1, max_size=7), st.integers(1, 7))
def test_the_best_are_the_firmest_and_among_equals_the_cheapest(found: list[Merit], most: int) -> None:
    it, _ = board(DEMOS["coupe"])
    for n, m in enumerate(found):
        it.looks[PLANS[n]] = look_of(m)
    best = [it.looks[p].merit for p in it.best(most)]
    assert len(best) == min(most, len(found))
    grips = [m.held for m in best]
    assert grips == sorted(grips, reverse=True)
    assert best[0].held == max(m.held for m in found)
    same = [m for m in found if m.held == best[0].held]
    assert best[0].minutes == min(m.minutes for m in same)


@given(st.lists(SOME, min_size=1, max_size=7))
def test_the_cheapest_is_sought_only_among_what_is_nearly_as_firm(found: list[Merit]) -> None:
    it, _ = board(DEMOS["coupe"])
    for n, m in enumerate(found):
        it.looks[PLANS[n]] = look_of(m)
    best = it.looks[it.best(1, "cost")[0]].merit
    firmest = max(m.held for m in found).margin
    near = [m for m in found if m.held.margin >= firmest - 1.0]
    assert best.cost == min(m.cost for m in near)


def test_what_a_search_leaves_out_comes_back() -> None:
    """Ideas and pictures are not carried through a search, and are all there in what is taken."""
    plan = DEMOS["estate"]
    assert plan.ideas
    bare = without_ideas(plan)
    assert not bare.ideas
    found = with_bore(bare, 1.3)
    again = taken_up(plan, found)
    assert again.ideas == plan.ideas
    assert again.photos == plan.photos
    assert again.turbos == found.turbos


def test_no_plan_is_shown_that_asks_for_more_watching_than_the_one_it_replaces() -> None:
    """A firmer plan with more warnings is no gain where the plan as it stands does not fail; where it fails, it is."""
    from gravidon.study.planning.search import _shown

    base = DEMOS["coupe"]
    other = paths.put(base, "turbos.0.restrictor.bore_mm", 1.0)
    for grade, shown in ((1, {base}), (0, {other})):
        board = Board(base, Alone(), np.random.default_rng(1))
        own = replace(MERITS["coupe"], watch=2, held=replace(MERITS["coupe"].held, grade=grade, margin=0.1))
        firmer = replace(own, watch=4, held=replace(own.held, grade=1, margin=0.9), margin=0.9)
        board.looks = {base: Look(own, None, True), other: Look(firmer, None, True)}
        assert {r.plan for r in _shown(board)} == shown
