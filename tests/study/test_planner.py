# SPDX-License-Identifier: GPL-3.0-or-later
"""The planner: whole plans found, never dominated, never against a hold; the best of small spaces; the same answer twice."""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.model import Hold, Plan, Point, Shape
from gravidon.study.judge.quantity import WATCH
from gravidon.study.planning import homes
from gravidon.study.planning import search as searching
from gravidon.study.planning.board import Board, Effort
from gravidon.study.planning.choices import CHOICES
from gravidon.study.planning.crew import Alone, Workers
from gravidon.study.planning.freedom import broken, read_hold, with_hold
from gravidon.study.planning.look import look, look_whole
from gravidon.study.planning.merit import (
    AXES,
    Grip,
    Merit,
    dominates,
    economy,
    front,
    grip,
    weighed,
    whole_grip,
)
from gravidon.study.planning.names import NAMED, called, named
from gravidon.study.planning.reasons import gives_up, lost_words, shared, takes_words, why_not
from gravidon.study.planning.refine import FACTS
from gravidon.study.planning.search import Answer, Ranked, Takes, search
from gravidon.study.planning.small import bound_of, combinations, combined
from gravidon.study.planning.ways import NoWay, Way, drain_way, feed_way, with_feed_way, with_way
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.wall import Wall
from gravidon.study.verdict.trials import trial

LIGHT = Effort(asked=12, rounds=1, cured=1, places=1, weighed=6, shown=4, samples=4)
"""Enough of a search to see that it keeps its rules."""


def last(plan: Plan, effort: Effort = LIGHT, seed: int = 1, crew: object = None) -> Answer:
    *_, answer = search(plan, seed, crew, effort)  # type: ignore[arg-type]
    return answer


def locked(plan: Plan, *texts: str) -> Plan:
    for text in texts:
        plan = with_hold(plan, read_hold(plan, text))
    return plan


@pytest.fixture(scope="module")
def estate() -> Answer:
    return last(demo_plan("estate"))


# --- what is shown --------------------------------------------------------------------------------


def test_a_plan_that_fails_becomes_one_that_does_not(estate: Answer) -> None:
    """The estate fails by a wrong thread and a hole for another bearing: both are decisions, and are made otherwise."""
    assert trial(estate.plan).verdict == "fails"
    assert estate.final
    assert estate.ranked
    assert all(r.merit.verdict != "fails" for r in estate.ranked)


def test_no_plan_that_is_shown_is_dominated(estate: Answer) -> None:
    assert not any(dominates(a.merit, b.merit) for a in estate.ranked for b in estate.ranked)


def test_every_plan_shown_is_what_it_says(estate: Answer) -> None:
    """Verdict, margin, cost and joints of every plan shown are those of an evaluation of its own."""
    for r in estate.ranked:
        made, findings, _ = weighed(r.plan)
        assert (made.verdict, made.held, made.cost, made.joints) == (
            r.merit.verdict,
            r.merit.held,
            r.merit.cost,
            r.merit.joints,
        )
        assert trial(r.plan).verdict == r.merit.verdict
        assert r.merit.sure is not None
        assert r.broke is None or r.broke.code in {f.code for f in findings}


def test_the_car_is_never_changed(estate: Answer) -> None:
    for r in estate.ranked:
        for name in FACTS:
            assert getattr(r.plan, name) == getattr(estate.plan, name), name


def test_the_four_names_are_won(estate: Answer) -> None:
    assert {n for r in estate.ranked for n in r.names} == set(NAMED)
    assert estate.named("least money") is not None


def test_the_answer_is_the_same_twice_and_with_workers(estate: Answer) -> None:
    """Same seed, same answer; whoever does the work."""
    crew = Workers(2)
    try:
        again = last(demo_plan("estate"), crew=crew)
    finally:
        crew.close()
    assert again == estate


def test_answers_come_early_and_only_get_better() -> None:
    """The first is the plan as it stands; the best grip known never falls."""
    grips: list[Grip] = []
    stages = []
    for answer in search(demo_plan("coupe"), effort=LIGHT):
        stages.append(answer.stage)
        grips.append(max(r.merit.held for r in answer.ranked))
    assert stages[0] == searching.AS_IT_IS
    assert stages[-1] == searching.DONE
    plain = [g.grade for g in grips]
    assert plain == sorted(plain)


# --- holds ----------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "texts",
    [
        ("entry-means=tapped,bulkhead",),
        ("entry-wall=right", "entry-place=-60..-30"),
        ("drain-size", "drain-ends", "clock", "restrictor=1.8..2.2"),
        ("route", "entry-place", "entry-wall"),
    ],
    ids=lambda t: t[0],
)
def test_locks_are_never_broken(texts: tuple[str, ...]) -> None:
    plan = locked(demo_plan("estate"), *texts)
    answer = last(plan)
    assert answer.ranked
    for r in answer.ranked:
        assert broken(plan, r.plan) == ()
    for lost in answer.lost:
        assert lost.choice not in {t.partition("=")[0] for t in texts if "=" not in t}


def test_a_value_that_is_locked_out_is_left() -> None:
    """A plan whose own value is not allowed gives plans with another."""
    plan = locked(demo_plan("estate"), "entry-means=weld bung")
    answer = last(plan)
    assert answer.ranked
    assert all(r.plan.turbos[0].drain.fitting.means == "weld bung" for r in answer.ranked)


@pytest.mark.parametrize(
    ("choice", "only"), [("tap", "a tap that was renamed"), ("entry-means", "glued"), ("feed-size", "-5")]
)
def test_a_hold_that_lets_nothing_through_is_an_answer(choice: str, only: str) -> None:
    """A value that the plan no longer has: no plan, and it is said which choice is to blame."""
    plan = with_hold(demo_plan("coupe"), Hold(choice=choice, state="limited", only=(only,)))
    answer = last(plan)
    assert answer.final
    assert answer.ranked == ()
    assert CHOICES[choice].words in answer.no_way[0]


# --- small spaces ----------------------------------------------------------------------------------

SETTLED = (
    "route",
    "entry-place",
    "entry-wall",
    "drain-ends",
    "clock",
    "tilt",
    "breather",
    "feed-end",
    "entry-thread",
    "drain-by",
)


def small(*open_ones: str) -> Plan:
    names = [
        n
        for n in (*SETTLED, "tap", "tap-thread", "feed-size", "drain-size", "entry-means", "restrictor")
        if n not in {t.partition("=")[0] for t in open_ones}
    ]
    return locked(demo_plan("estate"), *names, *(t for t in open_ones if "=" in t))


def brute(plan: Plan) -> Grip:
    """The best grip of all combinations, each looked at wholly."""
    listed = combinations(plan)
    assert listed is not None
    plans = {p for v in listed if (p := combined(plan, v)) is not None}
    return max(found.grip for p in plans if (found := look_whole(p)) is not None)


@pytest.mark.parametrize(
    "free",
    [
        ("restrictor=1.4..2.6",),
        ("tap", "restrictor=1.9..2.4"),
        ("tap-thread", "drain-size=-8;-10;-12", "restrictor=2..2.3"),
        ("entry-means", "feed-size=-3;-4", "restrictor=2..2.2"),
    ],
    ids=lambda f: f[0],
)
def test_the_best_of_a_small_space_is_brute_forces(free: tuple[str, ...]) -> None:
    """Against every combination, evaluated one by one: verdict and least margin (of plans alike in both a cheaper one may be shown)."""
    plan = small(*free)
    found, best = max(r.merit.held for r in last(plan).ranked), brute(plan)
    assert (found.grade, found.margin) == (best.grade, best.margin)


def test_more_freedom_is_never_worse() -> None:
    """In small spaces, gone through whole, each wider than the one before."""
    best: list[Grip] = []
    for free in (("restrictor=2..2.2",), ("restrictor=1.8..2.4",), ("tap-thread", "restrictor=1.8..2.4")):
        best.append(max(r.merit.held for r in last(small(*free)).ranked))
    assert best == sorted(best)


# --- merit ----------------------------------------------------------------------------------------


def merits() -> st.SearchStrategy[Merit]:
    numbers = st.integers(0, 3)
    return st.builds(
        lambda grade, margin, cost, minutes, joints, order, invasive, sure: Merit(
            ("fails", "watch", "holds")[grade], margin / 4.0, int(grade == 0), 3 - margin if grade < 2 else 0, float(cost), minutes, 0.0, joints, order, invasive,
            Grip(grade, margin / 4.0, 0.0), sure / 4.0,
        ),
        st.integers(0, 2), numbers, numbers, numbers, numbers, numbers, numbers, numbers,
    )  # fmt: skip


@given(st.lists(merits(), min_size=1, max_size=9))
def test_the_front_is_what_nothing_dominates(found: list[Merit]) -> None:
    """By definition (V. Pareto): every plan left out is dominated by one kept, or equal to one; of those kept none is."""
    kept = front(found)
    assert kept
    for a in kept:
        assert not any(dominates(found[b], found[a]) for b in range(len(found)))
    for n in set(range(len(found))) - set(kept):
        same = any(all(x.value(found[a]) == x.value(found[n]) for x in AXES) for a in kept)
        assert same or any(dominates(found[a], found[n]) for a in kept)


@given(st.lists(merits(), min_size=1, max_size=6))
def test_names_go_to_the_least_of_each(found: list[Merit]) -> None:
    plan = demo_plan("coupe")
    ranked = named([Ranked(plan, m, None) for m in found])
    grade = max(m.held.grade for m in found)
    assert {n for r in ranked for n in r.names} == (set(NAMED) if grade else {"safest"})
    assert all(called(r.names, r.merit) in ((), ("least bad: nothing passes",)) for r in ranked if grade == 0)
    assert all(r.merit.held.grade == grade for r in ranked if r.names)
    fewest = min(m.watch for m in found if m.held.grade == grade)
    running = [m for m in found if m.held.grade == grade and m.watch <= fewest + 1]
    surest = max((m.sure or 0.0) for m in running)
    if grade == 2:
        running = [m for m in running if (m.sure or 0.0) >= 0.5 * surest]
    if grade == 0:
        return
    cheapest = next(r for r in ranked if "least money" in r.names)
    assert cheapest.merit.cost == min(m.cost for m in running)


def test_a_plan_with_more_warnings_wins_no_name_however_cheap_it_is() -> None:
    """By the rule: one warning more than the fewest at most. Of three, the one with five warnings costs and asks nothing."""
    plan = demo_plan("coupe")
    held = grip([(WATCH, -0.2)])
    plans = [
        Ranked(plan, Merit("watch", -0.2, 0, watch, cost, minutes, 0.0, 5, 0, 0, held, 0.5, 0.5), None)
        for watch, cost, minutes in zip((1, 2, 5), (90.0, 60.0, 0.0), (300, 200, 0), strict=True)
    ]
    few, one_more, many = named(plans)
    assert many.names == ()
    assert "least money" in one_more.names
    assert set(few.names) | set(one_more.names) == set(NAMED)


def test_the_surest_with_the_fewest_warnings_is_the_safest() -> None:
    """Chance first, then warnings, then limits, then parts: one thing at a time, each against a plan that is better in all that follows."""
    plan = demo_plan("coupe")

    def one(watch: int, margin: float, order: int, unfailing: float) -> Ranked:
        held = grip([(WATCH, margin)])
        return Ranked(
            plan, Merit("watch", margin, 0, watch, 9.0, 9, 0.0, 5, order, 0, held, 0.0, unfailing), None
        )

    for better, worse in (
        (one(2, -0.8, 5, 0.9), one(1, -0.1, 0, 0.7)),
        (one(1, -0.8, 5, 0.9), one(2, -0.1, 0, 0.95)),
        (one(1, -0.1, 5, 0.9), one(1, -0.6, 0, 0.95)),
        (one(1, -0.12, 0, 0.9), one(1, -0.1, 5, 0.95)),
    ):
        assert "safest" in named([worse, better])[1].names


@settings(max_examples=15, deadline=None)
@given(st.floats(0.5, 3.0), st.sampled_from(("coupe", "estate")))
def test_a_quick_look_never_says_less_than_a_whole_one(bore: float, name: str) -> None:
    """It judges less, so it is a bound: that is what lets a search leave plans unseen."""
    plan = CHOICES["restrictor"].put(demo_plan(name), 0, f"{bore:.1f}")
    quick, whole = look(plan), look_whole(plan)
    assert quick is not None
    assert whole is not None
    assert quick.grip >= whole.grip
    assert bound_of(plan) >= quick.grip  # type: ignore[operator]


# --- reasons --------------------------------------------------------------------------------------


def test_why_not_names_what_breaks_with_number_and_condition() -> None:
    plan = demo_plan("coupe")
    for name, value in (("restrictor", "0.5"), ("drain-size", "-8")):
        answer = why_not(plan, plan, CHOICES[name], 0, value)
        assert any(ch.isdigit() for ch in answer.words)
        assert answer.words.lower().startswith(("restrictor of", "-8 drain"))
    starved = why_not(plan, plan, CHOICES["restrictor"], 0, "0.5")
    assert not starved.holds
    assert any(c.name in starved.words for c in plan.conditions)


def test_why_not_says_what_is_locked_and_what_is_so_already() -> None:
    plan = locked(demo_plan("coupe"), "entry-means=weld bung")
    assert "locked" in why_not(plan, plan, CHOICES["entry-means"], 0, "tapped").words
    assert "what this plan has" in why_not(plan, plan, CHOICES["drain-size"], 0, "-10").words
    assert "no scavenge pump" in why_not(plan, plan, CHOICES["pump"], 0, "8 L/min").words


def test_every_alternative_that_lost_has_its_sentence(estate: Answer) -> None:
    best = estate.named("safest")
    assert best is not None
    assert len(estate.lost) > 5
    for lost in estate.lost:
        words = lost_words(lost, best.merit, "metric")
        assert ": " in words
        assert len(words) > 12


def test_what_all_share_is_so(estate: Answer) -> None:
    for it in shared(estate.ranked, "metric"):
        values = {CHOICES[it.choice].value(r.plan, it.turbo) for r in estate.ranked}
        assert len(values) == 1


def test_giving_up_is_measured_against_the_best_of_the_others() -> None:
    base = Merit("holds", 0.3, 0, 0, 200.0, 600, 0.0, 12, 10, 1, Grip(2, 0.3, 0.0), 0.9)
    dear = Merit("holds", 0.4, 0, 0, 260.0, 720, 0.0, 12, 10, 3, Grip(2, 0.4, 0.0), 0.9)
    said = gives_up(dear, [base, base])
    assert said == (
        "60 dearer than the cheapest",
        "2.0 h more work than the quickest",
        "the pan off and welded, which others spare",
    )


# --- ways ------------------------------------------------------------------------------------------


def boxed(
    plan: Plan,
    label: str,
    corner: tuple[float, float, float],
    size: tuple[float, float, float],
    kind: str = "solid",
) -> Plan:
    x, y, z = corner
    long, wide, high = size
    shape = Shape(
        label=label,
        kind=kind,
        corner=Point(x_mm=x, y_mm=y, z_mm=z),
        length_mm=long,
        width_mm=wide,
        height_mm=high,
    )
    return plan.model_copy(update={"shapes": (*plan.shapes, shape)})


def ways() -> Iterator[tuple[str, Plan]]:
    for name in ("coupe", "estate"):
        yield name, demo_plan(name)
    bar = boxed(demo_plan("coupe"), "bar", (-400.0, -260.0, 60.0), (300.0, 30.0, 30.0))
    yield "bar", bar


@pytest.mark.parametrize(("name", "plan"), list(ways()), ids=lambda v: v if isinstance(v, str) else "")
def test_a_drain_that_is_laid_keeps_off_what_stands_there(name: str, plan: Plan) -> None:
    """The plan's own judges find no bend too tight, nothing too near, no leg uphill, in the run that was laid."""
    way = drain_way(plan, 0)
    assert isinstance(way, Way)
    made = with_way(plan, 0, way)
    codes = {f.code for f in trial(made).findings if f.severity != "note"}
    assert not codes & {"bend", "collides", "chafe", "drain-heat", "uphill", "uphill-attitude"}, codes
    angles = {p.at: p.angle_deg for p in made.turbos[0].drain.pieces}
    assert set(angles) == {"turbo", "pan"}


def test_what_stands_in_the_way_is_named() -> None:
    """A bulkhead from floor to bonnet between turbo and pan: no way, and it is the bulkhead's doing."""
    shut = boxed(demo_plan("coupe"), "inner wing", (-1500.0, -240.0, -400.0), (3000.0, 20.0, 1200.0))
    way = drain_way(shut, 0)
    assert isinstance(way, NoWay)
    assert way.things == ("inner wing",)
    assert "inner wing" in way.why


def test_no_fall_is_no_way() -> None:
    plan = demo_plan("coupe")
    low = paths.put(plan, "turbos.0.turbo.drain_flange", Point(x_mm=-300.0, y_mm=-318.0, z_mm=-60.0))
    way = drain_way(low, 0)
    assert isinstance(way, NoWay)
    assert "higher" in way.why


def test_a_feed_is_laid_where_the_taps_place_is_known() -> None:
    plan = demo_plan("coupe")
    assert feed_way(plan, 0) is None
    placed = paths.put(plan, "taps.0.place", Point(x_mm=-60.0, y_mm=-150.0, z_mm=140.0))
    way = feed_way(placed, 0)
    assert isinstance(way, Way)
    made = with_feed_way(placed, 0, way)
    hose = next(p for p in made.turbos[0].feed.pieces if p.kind == "hose")
    assert hose.length_mm.value == pytest.approx(way.length_m * 1e3 + 30.0, abs=1.0)
    evaluate(made)


# --- what is only tried where nothing passes ---------------------------------------------------------


@pytest.mark.parametrize(("demo", "passes"), [("coupe", True), ("estate", False)])
def test_other_walls_and_pumps_are_tried_where_nothing_passes(
    demo: str, passes: bool, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Once a plan passes they are left; where none does, the walls that the flange does not face come after those that it does."""
    base = demo_plan(demo).model_copy(update={"holds": ()})
    board = Board(base, Alone(), np.random.default_rng(1))
    board.add([base], whole=True)
    walls: list[str] = []
    pumped: list[int] = []

    def no_home(question: tuple[Plan, Plan, int, Wall], most: int) -> homes.Homes:
        walls.append(question[3].name)
        return homes.Homes((), ())

    monkeypatch.setattr(homes, "homes_on", no_home)
    monkeypatch.setattr(homes, "_pumped", lambda base, heads, k: pumped.append(k) or ())
    list(homes.homes_of(board, 0))
    near, others = homes._walls(base, base, 0)
    assert near
    assert others
    assert {w.name for w in near} <= set(walls)
    assert ({w.name for w in others} <= set(walls)) == (not passes)
    assert bool(pumped) == (not passes)


def test_what_it_takes_to_pass_is_told_with_its_price() -> None:
    """The value that no plan tried passes with, the one that does, hours and money against the best without: by hand."""
    tried = trial(demo_plan("coupe"))
    weight = economy(tried.plan, whole_grip(tried.evaluation, tried.findings))
    best, other = replace(weight, minutes=600, cost=310.0), replace(weight, minutes=480, cost=250.0)
    told = takes_words(Takes("drain-by", 0, "gravity", "scavenge", best, other), "metric")
    assert told == (
        "With gravity drain nothing that was tried passes; with scavenge drain it does: +2.0 h and +60 to pay against the best without"
    )
