# SPDX-License-Identifier: GPL-3.0-or-later
"""How far a step of the first start is, what a season teaches a plan, ideas kept in a tree: told by hand. Rules: as their
docstrings promise them."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from gravidon.errors import InputError
from gravidon.parts.threads import passes_mm
from gravidon.physics import space
from gravidon.physics.line import elbow_hooper
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.records.shipped import demo_log
from gravidon.study.bench.first_start import FIRED_S, IDLE_S, KEYS, LOAD_S, WARM_K, FirstStart, Sample
from gravidon.study.car.car import PUMP_COLD_S, PUMP_HOT_S, _gallery_primed
from gravidon.study.diagnosis.prior import changed
from gravidon.study.health.fit import PASSAGE, Health, health
from gravidon.study.health.learnt import LEARNT, offers
from gravidon.study.health.outlook import outlook
from gravidon.study.planning.compare import bare, with_idea, without_idea
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.verdict.facts import BORE_SLACK_MM, impossible_bore, smallest_counted_mm
from gravidon.study.verdict.remedies_gravity import bent, steeper_entry
from gravidon.study.verdict.trials import trial

# --- how far a step is -----------------------------------------------------------------------------


def at(
    key: str, rpm: float, oil_k: float = 300.0, since: float | None = None, now: float = 100.0
) -> FirstStart:
    """Return a first start at a step, one row seen, with something lasting since a time."""
    bench = FirstStart(demo_plan("coupe"), at=KEYS.index(key))
    bench.see(Sample(now, rpm, oil_k, {}))
    if since is not None:
        bench._signs.lasts_s[key] = now - since
    return bench


@pytest.mark.parametrize(("key", "lasts"), [("fire", FIRED_S), ("idle", IDLE_S), ("load", LOAD_S)])
def test_a_step_that_lasts_is_told_by_its_share_of_the_time(key: str, lasts: float) -> None:
    assert at(key, 900.0).share() == 0.0
    assert at(key, 900.0, since=100.0).share() == 0.0
    assert at(key, 900.0, since=100.0 - 0.25 * lasts).share() == pytest.approx(0.25)
    assert at(key, 900.0, since=100.0 - 2.0 * lasts).share() == 1.0


def test_warming_is_told_from_fifteen_degrees_to_warm() -> None:
    cold = 288.15
    assert at("warm", 900.0, cold).share() == 0.0
    assert at("warm", 900.0, 280.0).share() == 0.0
    assert at("warm", 900.0, 0.5 * (cold + WARM_K)).share() == pytest.approx(0.5)
    assert at("warm", 900.0, 400.0).share() == 1.0


def test_cranking_is_told_by_the_longest_turbo() -> None:
    bench = FirstStart(demo_plan("van"), at=KEYS.index("crank"))
    bench.last = Sample(1.0, 250.0, 300.0, {})
    longest = max(bench.planned_s)
    assert longest > 0.0
    bench._turned_s = 0.5 * longest
    assert bench.share() == pytest.approx(0.5)
    bench._turned_s = 3.0 * longest
    assert bench.share() == 1.0


def test_what_only_a_tick_passes_has_no_share_and_the_end_is_whole() -> None:
    bench = FirstStart(demo_plan("coupe"))
    assert math.isnan(bench.share())
    bench.at = len(KEYS)
    assert bench.share() == 1.0


# --- what a season teaches -------------------------------------------------------------------------


def learnt(passage: float, width: float) -> tuple[Health, float]:
    """Return the shipped season's health with a passage and its standard deviation as given; and the first deviation."""
    h = health(demo_plan("coupe"), demo_log("coupe"))
    assert h is not None
    mean, sd = h.mean.copy(), h.sd.copy()
    mean[-1, PASSAGE], sd[-1, PASSAGE] = passage, width
    return replace(h, mean=mean, sd=sd), float(sd[0, PASSAGE])


def test_the_bearings_flow_is_learnt_with_its_width() -> None:
    """The passage is a logarithm: e^0.1 times the flow; 95 % are 1.96 deviations of that."""
    plan = demo_plan("coupe")
    h, first = learnt(0.1, 0.02)
    old = plan.turbos[0].turbo.reference_flow_l_min.value
    made = next(o for o in offers(plan, demo_log("coupe"), h) if o.key == "flow")
    new = made.plan.turbos[0].turbo.reference_flow_l_min
    assert new.value == pytest.approx(old * math.exp(0.1), abs=6e-4)
    assert new.tolerance == pytest.approx(1.96 * 0.02 * old * math.exp(0.1), abs=6e-4)
    assert new.basis == "measured"
    assert f"{old:.2f}" in made.said.text("metric")
    wide, _ = learnt(0.1, LEARNT * first)
    assert all(o.key != "flow" for o in offers(plan, demo_log("coupe"), wide))


# --- ideas -----------------------------------------------------------------------------------------


def test_an_idea_of_a_name_is_replaced_where_it_stands_and_keeps_what_was_said_of_it() -> None:
    plan = with_idea(demo_plan("coupe"), "a", note="first")
    plan = with_idea(with_idea(plan, "b", after="a"), "c", after="b")
    other = paths.put(plan, "turbos.0.restrictor.bore_mm", 1.7)
    again = with_idea(plan, " b ", state=other)
    assert [i.name for i in again.ideas] == ["a", "b", "c"]
    assert again.ideas[1].after == "a"
    assert again.ideas[1].state.turbos[0].restrictor.bore_mm == 1.7
    assert with_idea(again, "a").ideas[0].note == "first"
    assert with_idea(again, "d", after="nobody").ideas[-1].after == ""
    assert with_idea(again, "a", after="a").ideas[0].after == ""
    assert [(i.name, i.after) for i in without_idea(again, "b").ideas] == [("a", ""), ("c", "a")]
    assert without_idea(again, "x") is again
    assert bare(again).ideas == ()
    assert bare(again).drawer == ()


def test_twenty_four_ideas_are_the_most_and_eighty_letters_the_longest_name() -> None:
    plan = demo_plan("coupe")
    for k in range(24):
        plan = with_idea(plan, f"idea {k}")
    with pytest.raises(InputError, match="24"):
        with_idea(plan, "one more")
    assert len(with_idea(plan, "idea 3").ideas) == 24
    assert with_idea(demo_plan("coupe"), "x" * 80).ideas[0].name == "x" * 80
    with pytest.raises(InputError, match="name"):
        with_idea(demo_plan("coupe"), "x" * 81)


# --- space -----------------------------------------------------------------------------------------


def test_in_a_space_of_one_free_cell_nothing_is_within_reach() -> None:
    """One cell free among 27: its own distance is nought, and there is no step to another."""
    free = np.zeros((3, 3, 3), dtype=bool)
    free[1, 1, 1] = True
    cells = space.Cells(np.zeros(3), np.full(3, 0.01), free)
    found = space.reach(cells, np.full(3, 0.01), space.Rule(np.zeros((0, 3))))
    assert found.far_m[np.isfinite(found.far_m)].tolist() == [0.0]
    assert found.start == 13
    assert found.path(0) is None
    way = found.path(13)
    assert way is not None
    assert way == pytest.approx(np.full((1, 3), 0.01))


# --- the simulated car's gallery -------------------------------------------------------------------


def primed(turning: list[tuple[float, float]], full: bool = False) -> tuple[np.ndarray, float, float]:
    """Return how far the gallery is filled each tenth of a second for (seconds, engine speed) in turn, and the plan's cold and warm speeds."""
    plan = demo_plan("coupe")
    cold = min(c.rpm for c in plan.conditions if c.kind.turning and not c.kind.warm and not c.kind.driving)
    warm = min(c.rpm for c in plan.conditions if c.kind.turning and c.kind.warm and not c.kind.driving)
    rpm = np.concatenate([np.full(round(10 * s), n * cold) for s, n in turning])
    filled, _ = _gallery_primed(plan, rpm, 0.1, full)
    return filled, cold, warm


def test_an_empty_gallery_takes_the_pumps_time_at_the_cold_starts_speed() -> None:
    """At that speed PUMP_COLD_S, at twice the speed half as long: so many turns of the pump fill it."""
    filled, _, _ = primed([(2.0, 0.0), (3.0 * PUMP_COLD_S, 1.0)])
    assert filled[:20].max() == 0.0
    assert np.argmax(filled >= 1.0 - 1e-9) * 0.1 == pytest.approx(2.0 + PUMP_COLD_S, abs=0.21)
    fast, _, _ = primed([(2.0, 0.0), (3.0 * PUMP_COLD_S, 2.0)])
    assert np.argmax(fast >= 1.0 - 1e-9) * 0.1 == pytest.approx(2.0 + 0.5 * PUMP_COLD_S, abs=0.21)


def test_a_gallery_that_stood_takes_the_hot_starts_time_and_a_full_one_none() -> None:
    """Stopped and started again, it lacks what the pump delivers in PUMP_HOT_S at the warm idle; told full, it is full from the first turn."""
    long = 3.0 * PUMP_COLD_S
    filled, cold, warm = primed([(long, 1.0), (5.0, 0.0), (long, 1.0)])
    begins = round(10 * (long + 5.0))
    lacking = PUMP_HOT_S * warm / (PUMP_COLD_S * cold)
    assert filled[begins] == pytest.approx(1.0 - lacking, abs=0.15 / PUMP_COLD_S)
    assert filled[begins - 1] == pytest.approx(1.0)
    assert np.argmax(filled[begins:] >= 1.0 - 1e-9) * 0.1 == pytest.approx(PUMP_HOT_S * warm / cold, abs=0.25)
    whole, _, _ = primed([(2.0, 0.0), (5.0, 1.0), (5.0, 0.0), (long, 1.0)], full=True)
    assert whole[:70].min() == 1.0
    assert whole[120] == pytest.approx(1.0 - lacking, abs=0.15 / PUMP_COLD_S)


def test_a_plan_without_starts_is_primed_as_at_twelve_hundred_and_eight_hundred_and_fifty() -> None:
    """No start, cold or warm, is in the plan: 1200 rpm for PUMP_COLD_S fill it, as the docstring's times at usual speeds."""
    plan = demo_plan("coupe")
    driven = tuple(c for c in plan.conditions if c.kind.driving or not c.kind.turning)
    rpm = np.concatenate([np.full(60, 1200.0), np.zeros(30), np.full(60, 850.0)])
    filled, turns = _gallery_primed(plan.model_copy(update={"conditions": driven}), rpm, 0.1, False)
    assert turns == pytest.approx(PUMP_COLD_S * 1200.0 / 60.0)
    assert np.argmax(filled >= 1.0 - 1e-9) * 0.1 == pytest.approx(PUMP_COLD_S, abs=0.15)
    assert filled[90] == pytest.approx(1.0 - PUMP_HOT_S * 850.0 / (PUMP_COLD_S * 1200.0), abs=0.02)


# --- bores and ends --------------------------------------------------------------------------------


def test_the_smallest_bore_of_a_drain_counts_its_fitting_only_where_it_has_one() -> None:
    plan = paths.put(demo_plan("coupe"), "turbos.0.drain.fitting.bore_mm", 5.0)
    it = plan.turbos[0]
    assert smallest_counted_mm(it, "drain") == 5.0
    others = min(it.drain.flange_bore_mm, it.drain.hose_bore_mm, *(p.bore_mm for p in it.drain.pieces), 99.0)
    pumped = paths.put(plan, "turbos.0.drain_by", "scavenge").turbos[0]
    assert smallest_counted_mm(pumped, "drain") == others
    assert smallest_counted_mm(it, "feed") == min(p.bore_mm for p in it.feed.pieces)
    van = demo_plan("van")
    joined = next(t for t in van.turbos if t.drain.joins is not None)
    small = joined.model_copy(
        update={
            "drain": joined.drain.model_copy(
                update={"fitting": joined.drain.fitting.model_copy(update={"bore_mm": 2.0})}
            )
        }
    )
    assert smallest_counted_mm(small, "drain") > 2.0


@pytest.mark.parametrize(("rise", "offered"), [(0.0, True), (29.9, True), (30.0, False), (35.0, False)])
def test_a_steeper_entry_is_offered_where_it_is_worth_turning(rise: float, offered: bool) -> None:
    plan = paths.put(demo_plan("estate"), "turbos.0.drain.fitting.rise_deg", rise)
    known = trial(plan)
    made = [p for p in steeper_entry.propose(known.evaluation, known.findings[0]) if p is not None]
    assert [p.plan.turbos[0].drain.fitting.rise_deg for p in made] == ([35.0] if offered else [])


def test_a_bend_put_in_before_a_tee_moves_the_tee_along_and_one_behind_it_does_not() -> None:
    """The joined drain keeps its place on the hose it joins: bends are counted from the turbo."""
    plan = demo_plan("van")
    j = next(k for k, t in enumerate(plan.turbos) if t.drain.joins is not None)
    joins = plan.turbos[j].drain.joins
    assert joins is not None
    e = trial(plan).evaluation.of(joins.turbo)
    place = np.array([-0.2, 0.1, -0.05])
    before, behind = bent(e, 1, place), bent(e, joins.bend + 2, place)
    assert before is not None
    moved = before.turbos[j].drain.joins
    assert moved is not None
    assert moved.bend == joins.bend + 1
    if behind is not None:
        assert behind.turbos[j].drain.joins == joins
    own = bent(trial(plan).evaluation.of(j), 1, place)
    assert own is not None
    assert own.turbos[j].drain.joins == joins


def test_an_angled_hose_end_costs_head_and_a_straight_one_none() -> None:
    """The loss of the pieces of a straight end is nought; of an angled one the elbow's, shared by the stations inside it."""
    plan = demo_plan("estate")
    at = next(k for k, p in enumerate(plan.turbos[0].drain.pieces))
    losses = {}
    for angle in (0.0, 45.0, 90.0):
        bentplan = paths.put(plan, f"turbos.0.drain.pieces.{at}.angle_deg", angle)
        losses[angle] = evaluate(bentplan).route.fittings.sum(axis=1)
    others = losses[0.0]
    assert (losses[45.0] > others).any()
    assert (losses[90.0] >= losses[45.0]).all()
    assert losses[90.0] - others == pytest.approx(np.array(elbow_hooper(90.0)))
    assert losses[45.0] - others == pytest.approx(np.array(elbow_hooper(45.0)))


@pytest.mark.parametrize(("over", "told"), [(-0.02, ""), (0.02, "watch"), (4.0, "bad")])
def test_a_bore_that_the_port_cannot_pass_is_told(over: float, told: str) -> None:
    """A wide fitting in a narrow port: the port's own bore and twice the slack, and the slack again, are let pass; a quarter more is bad."""
    plan = paths.put(demo_plan("estate"), "turbos.0.drain.fitting.fitting_thread", "3/4 NPT")
    port = plan.turbos[0].drain.fitting.port_thread
    most = passes_mm(port) + 3.0 * BORE_SLACK_MM
    assert most < passes_mm("3/4 NPT")
    plan = paths.put(plan, "turbos.0.drain.fitting.bore_mm", round(most + over, 3))
    found = [f.severity for f in impossible_bore(evaluate(plan))]
    assert found == ([told] if told else [])


def test_without_an_outlook_four_units_of_closing_stand_for_where_the_window_is_left() -> None:
    """Nobody can say where the feed would starve: then, as where it never does, the same is taken; where it can be said, that."""
    h, _ = learnt(0.0, 0.02)
    nobody = changed(h, None)
    o = outlook(h)
    assert changed(h, replace(o, left_at=math.inf)) == nobody
    assert changed(h, replace(o, left_at=4.0 * h.scale.closing)) == nobody
    assert changed(h, replace(o, left_at=1000.0 * h.scale.closing))["closing"] < 0.5
