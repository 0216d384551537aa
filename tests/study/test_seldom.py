# SPDX-License-Identifier: GPL-3.0-or-later
"""Turns that a plan seldom takes, each built so that it is taken, and told by hand. Rules: as their docstrings promise them."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from gravidon.errors import GravidonError, InputError, PhysicsError
from gravidon.parts.dash import END_BORE_MM
from gravidon.physics import sender, space
from gravidon.physics.scavenge import WIRE_AMPS
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.fields import Known
from gravidon.plan.model import Fitting, Hose, Plan, ScreenPiece, Sender, Shape
from gravidon.plan.model_photo import Photo
from gravidon.plan.model_senders import CalPoint
from gravidon.records.entry import Reading
from gravidon.records.shipped import demo_log
from gravidon.study.bench.expected import Expected, expected
from gravidon.study.bench.first_start import CRANKING_RPM, KEYS, RUNNING_RPM, SEEN_PA, FirstStart, Sample
from gravidon.study.car.season import Wear, season, shown_truly
from gravidon.study.diagnosis import drills
from gravidon.study.diagnosis.tables import tables
from gravidon.study.diagnosis.trainer import cars
from gravidon.study.health import outlook as outlooks
from gravidon.study.health.fit import health
from gravidon.study.home import replay
from gravidon.study.home.breather_choice import bore_marks
from gravidon.study.home.photos import with_photo
from gravidon.study.judge.quantity import BAD
from gravidon.study.making.sequence import sequence
from gravidon.study.planning import feeds, reasons, small, ways
from gravidon.study.planning.board import USUAL, Board
from gravidon.study.planning.choices import CHOICES, places
from gravidon.study.planning.crew import Alone
from gravidon.study.planning.freedom import WONTS, read_hold, with_hold, with_wont
from gravidon.study.solve.assemble import point
from gravidon.study.solve.at_points import Points, pressure_side
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.senders import LINE_SHARE, calibration
from gravidon.study.verdict import certainty, drain_choice
from gravidon.study.verdict.remedies_gravity import move_away
from gravidon.study.verdict.remedies_mounting import open_breather, pump_fittings
from gravidon.study.verdict.remedies_supply import low_end
from gravidon.study.verdict.trials import trial

# --- senders and space -----------------------------------------------------------------------------


def test_three_points_off_a_line_tell_how_far_off_a_reading_may_be_and_two_do_not() -> None:
    """0, 500 and 1000 kPa at 0.5, 2.6 and 4.5 V: the regression's slope is S_vp/S_vv, by hand; its scatter the root mean square."""
    points = tuple(CalPoint(pressure_kpa=p, volts=v) for p, v in ((0.0, 0.5), (500.0, 2.6), (1000.0, 4.5)))
    made = calibration(Sender(label="made up", points=points))
    v, p = np.array([0.5, 2.6, 4.5]), np.array([0.0, 5e5, 1e6])
    slope = ((v - v.mean()) @ p) / ((v - v.mean()) @ (v - v.mean()))
    off = p.mean() + slope * (v - v.mean()) - p
    assert made.residuals_pa == pytest.approx(off)
    assert made.accuracy_pa == pytest.approx(2.0 * math.sqrt(np.mean(off**2)))
    two = calibration(Sender(label="made up", points=(points[0], points[2])))
    assert two.accuracy_pa == pytest.approx(LINE_SHARE * 1e6)


def test_a_sender_that_falls_with_pressure_is_refused_with_its_span() -> None:
    """4.5 V at nothing and 0.5 V at full scale: a span of -4 V."""
    with pytest.raises(PhysicsError, match=r"-4"):
        sender.sender_pressure(2.5, 4.5, 0.5, 1e6)


def test_in_a_space_of_one_cell_only_that_cell_is_reached() -> None:
    whole = space.Cells(np.zeros(3), np.full(3, 0.02), np.ones((1, 1, 1), dtype=bool))
    found = space.reach(whole, np.full(3, 0.01), space.Rule(np.zeros((0, 3))))
    assert found.far_m.tolist() == [0.0]
    assert found.before.tolist() == [-1]


def test_a_way_is_rounded_off_its_legs_where_a_hose_bends_and_nowhere_else() -> None:
    """A right angle of 100 mm legs at 30 mm of bend: the arc's middle lies R (sqrt 2 - 1) from the corner (fillet's geometry)."""
    corners = np.array([[0.0, 0.0, 0.0], [0.1, 0.0, 0.0], [0.1, 0.1, 0.0]])
    sharp, bent = space.rounded(corners, 0.0), space.rounded(corners, 0.03)

    def off(places: np.ndarray) -> np.ndarray:
        return np.minimum(np.abs(places[:, 1]), np.abs(places[:, 0] - 0.1))

    assert off(sharp).max() == pytest.approx(0.0, abs=1e-12)
    assert len(bent) == len(sharp) + space.ARC_PLACES
    middle = bent[off(bent).argmax()]
    assert np.linalg.norm(middle - corners[1]) == pytest.approx(0.03 * (math.sqrt(2.0) - 1.0), rel=1e-6)
    assert len(space.rounded(corners[:2], 0.03)) == len(space.rounded(corners[:2], 0.0))


# --- first start -----------------------------------------------------------------------------------


def seen(bench: FirstStart, seconds: float, rpm: float, begins: float = 0.0, **pressures: float) -> float:
    """Show a steady engine for a time, ten rows a second; return when it ended."""
    for n in range(round(10 * seconds)):
        bench.see(Sample(begins + 0.1 * n, rpm, 300.0, dict(pressures)))
    return begins + seconds


def test_an_engine_that_fires_before_its_oil_came_is_stopped_as_dry_one_that_had_oil_as_without_pressure() -> (
    None
):
    plan = demo_plan("coupe")
    dry = FirstStart(plan, at=KEYS.index("fire"))
    seen(dry, plan.needs.prime_s.value + 2.0, RUNNING_RPM + 100.0, gallery=0.0, inlet=0.0)
    assert dry.stop is not None
    assert dry.stop.reason == "fired-dry"
    lost = FirstStart(plan, at=KEYS.index("fire"))
    ends = seen(lost, 3.0, RUNNING_RPM + 100.0, gallery=3e5, inlet=2e5)
    assert lost.stop is None
    assert set(lost.arrived) == {"gallery", "inlet"}
    seen(lost, 4.0, RUNNING_RPM + 100.0, ends, gallery=0.0, inlet=0.0)
    assert lost.stop is not None
    assert lost.stop.reason == "no-pressure"


@pytest.fixture(scope="module")
def bands() -> Expected:
    *_, made = expected(demo_plan("coupe"), cars=2)
    return made


def test_a_channel_is_placed_against_its_band_once_its_oil_came(bands: Expected) -> None:
    plan = demo_plan("coupe")
    bench = FirstStart(plan, bands)
    assert bench.place("gallery") == ""
    bench.see(Sample(0.0, 3000.0, 360.0, {"gallery": 1.0}), 0.0)
    assert bench.place("inlet") == ""
    assert bench.place("gallery") == "", "no oil yet: nobody can say"
    bench.arrived["gallery"] = 1.0
    assert bench.place("gallery") == "low"
    bench.see(Sample(1.0, 3000.0, 360.0, {"gallery": 1e6}), 1.0)
    assert bench.place("gallery") == "high"
    bench.see(Sample(20.0, 3000.0, math.nan, {"gallery": 1e6}), 20.0)
    assert bench.place("gallery") == "high", "and so at any temperature that the oil may have by now"
    bench.see(Sample(22.0, 3000.0, 360.0, {"gallery": math.nan}), 22.0)
    assert bench.place("gallery") == ""
    blind = FirstStart(plan)
    blind.see(Sample(0.0, 3000.0, 360.0, {"gallery": 5e6}))
    assert blind.place("gallery") == ""
    band = blind._band("gallery")
    assert band.place(5e6, 0.0) == band.place(0.0, 0.0) == "in"


def test_oil_counts_as_come_where_it_stays_and_only_on_a_turning_engine() -> None:
    bench = FirstStart(demo_plan("coupe"), at=KEYS.index("crank"))
    ends = seen(bench, 2.0, CRANKING_RPM - 10.0, inlet=0.0)
    assert bench.arrived == {}
    ends = seen(bench, 0.3, CRANKING_RPM + 10.0, ends, inlet=2.0 * SEEN_PA)
    assert bench.arrived == {}, "it has to stay"
    seen(bench, 2.0, CRANKING_RPM + 10.0, ends, inlet=2.0 * SEEN_PA)
    assert set(bench.arrived) == {"inlet"}
    off_zero = FirstStart(demo_plan("coupe"), at=KEYS.index("crank"))
    ends = seen(off_zero, 2.0, CRANKING_RPM - 10.0, inlet=2.0 * SEEN_PA)
    seen(off_zero, 2.0, CRANKING_RPM + 10.0, ends, inlet=2.0 * SEEN_PA)
    assert off_zero.arrived == {}, "what stood there before the engine turned is no oil"


# --- drills and words ------------------------------------------------------------------------------


def test_a_hole_that_no_bore_answers_is_asked_of_another_car(monkeypatch: pytest.MonkeyPatch) -> None:
    """Where nothing holds there is nothing to choose: the drill is that of a seed a thousand on."""
    other = drills.hole(1007, "metric")
    real, asked = drills.choose, []

    def choose(plan: Plan):  # type: ignore[no-untyped-def]
        asked.append(plan)
        found = real(plan)
        return replace(found, range_m=None) if len(asked) == 1 else found

    monkeypatch.setattr(drills, "choose", choose)
    assert drills.hole(7, "metric") == other


@pytest.mark.parametrize("seed", range(12))
def test_four_turns_are_offered_and_one_brings_the_drain_down(seed: int) -> None:
    """Round the bolt circle: the right turn is the one of the four that leaves the least."""
    made = drills.clocking(seed, "metric")
    assert len(set(made.answers)) == 4
    step = 360.0 / made.figures["count"]

    def left(words: str) -> float:
        count = 0 if words == "leave it" else int(words.split(maxsplit=1)[0]) * (-1 if "anti" in words else 1)
        return abs((made.figures["now_deg"] + count * step + 180.0) % 360.0 - 180.0)

    assert min(made.answers, key=left) == made.answers[made.right]
    assert left(made.answers[made.right]) == pytest.approx(abs(made.figures["after_deg"]))


def test_a_sign_that_was_not_seen_is_told_with_no() -> None:
    sign = tables().signs["smoke-idle"]
    assert sign.words(True) == sign.said
    assert sign.words(False) == f"no {sign.said}"


# --- health ----------------------------------------------------------------------------------------


def test_a_feed_whose_window_nothing_closes_reaches_as_far_as_one_likes(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    h = health(demo_plan("coupe"), demo_log("coupe"))
    assert h is not None
    monkeypatch.setattr(outlooks, "closing_left_at", lambda h, states: np.full((3, 2), np.inf))
    found = outlooks.outlook(h)
    assert (found.left_at, found.condition) == (math.inf, -1)
    assert [v for v in vars(found).values() if isinstance(v, tuple)] == [(math.inf,) * 3] * 2


def test_oil_is_changed_at_the_first_entry_that_far_after_the_last_change() -> None:
    """Entries every 800 km, oil every 1000: due at 1600 (1600 after 0), not at 2400 (800 after), again at 3200 and 4800."""
    made = season(demo_plan("coupe"), 2, Wear(), tuple(800.0 * n for n in range(8)), oil_every_km=1000.0)
    assert [e.kind for e in made.entries] == [
        *("reading", "reading", "oil change", "reading", "oil change", "reading", "oil change", "reading")
    ]
    assert [e.changed for e in made.entries] == [
        ("oil",) if e.kind == "oil change" else () for e in made.entries
    ]


def test_a_car_with_a_clogged_screen_that_closes_no_further_shows_what_its_plan_shows() -> None:
    plan = demo_plan("coupe")
    screen = ScreenPiece(rated_drop_kpa=Known(value=20.0), rated_flow_l_min=Known(value=3.0), clogged=0.6)
    plan = paths.put(plan, "turbos.0.feed.pieces", (*plan.turbos[0].feed.pieces, screen))
    rpm, oil_k = np.array([850.0, 3000.0]), np.array([300.0, 370.0])
    own = pressure_side(plan, Points(rpm, oil_k))
    gallery, inlet = shown_truly(plan, rpm, oil_k, 0.0)
    assert gallery == pytest.approx(own.gallery_pa, rel=1e-6)
    assert inlet == pytest.approx(own.gauge_pa(0), rel=1e-4)
    assert (shown_truly(plan, rpm, oil_k, 1.0)[1] < inlet).all()


def test_readings_of_a_kind_are_counted_by_speed_and_oil_and_those_at_rest_by_themselves() -> None:
    h = health(demo_plan("coupe"), demo_log("coupe"))
    assert h is not None
    rows = [(0.0, 290.0), (0.0, 360.0), (850.0, 360.0), (900.0, 380.0), (900.0, 300.0), (3000.0, 360.0)]
    readings = tuple(Reading(rpm, oil_k, 1e5, 1e5) for rpm, oil_k in rows)
    counted = replace(h, entries=(replace(h.entries[0], readings=(*readings, Reading(0.0, 290.0, turbo=1))),))
    assert outlooks._taken(counted, 0.0, 300.0) == 2
    assert outlooks._taken(counted, 860.0, 365.0) == 2
    assert outlooks._taken(counted, 3300.0, 350.0) == 1
    assert outlooks._taken(counted, 6000.0, 360.0) == 0


# --- marks and photographs -------------------------------------------------------------------------


def test_hoses_are_marked_from_dash_six_by_what_they_pass() -> None:
    """Hoses' bores as sold (SAE J517 R5/R14 practice): dash 6 passes 8.7 mm, dash 10 14.3 mm."""
    marks = {label: bore for bore, label in bore_marks()}
    assert "-4" not in marks
    assert marks["-6"] == pytest.approx(8.7e-3, abs=0.3e-3)
    assert marks["-10"] == pytest.approx(14.3e-3, abs=0.4e-3)


@pytest.mark.parametrize("name", ["clock", "tilt"])
def test_an_angle_beyond_what_the_maker_allows_is_refused_by_its_name(name: str) -> None:
    plan = demo_plan("special")
    limit = getattr(plan.turbos[0].turbo, f"{name}_max_deg").value
    choice = CHOICES[name]
    with pytest.raises(InputError) as refused:
        choice.put(plan, 0, f"{limit + 0.5:g}")
    assert choice.words in str(refused.value)
    assert f"{limit + 0.5:g}" in str(refused.value)
    assert f"−{limit:g} to {limit:g} °" in str(refused.value)
    assert choice.value(choice.put(plan, 0, f"{-limit:g}"), 0) == f"{-limit:g}"


def test_the_trainers_cars_are_sound_and_of_parts_that_are_sold() -> None:
    for name, plan in cars().items():
        known = trial(plan)
        assert known.verdict != "fails", name
        pumped = [it.scavenge for it in plan.turbos if it.drain_by == "scavenge"]
        assert all(s.gauge_awg in WIRE_AMPS for s in pumped)


def test_a_view_has_one_photograph() -> None:
    drawn = {
        "name": "made up",
        "picture": "AAAAAAAA",
        "clicks": tuple((9.0 * n, float(n * n)) for n in range(5)),
    }
    one, two, above = (
        Photo.model_validate({**drawn, "view": view, "distance_mm": mm})
        for view, mm in (("side", 300.0), ("side", 123.0), ("above", 300.0))
    )
    plan = with_photo(with_photo(demo_plan("coupe"), "side", one), "above", above)
    assert with_photo(plan, "side", two).photos == (above, two)
    assert with_photo(plan, "side", None).photos == (above,)
    assert with_photo(plan, "front", None).photos == plan.photos


# --- planner ---------------------------------------------------------------------------------------


def test_what_a_builder_will_not_do_is_held_and_let_go_and_the_pan_that_stays_is_built_so() -> None:
    plan = demo_plan("estate")
    for wont in WONTS:
        on = with_wont(plan, 0, wont, True)
        assert wont.said(on, 0) == bool(wont.holds(plan, 0))
        off = with_wont(on, 0, wont, False)
        assert not wont.said(off, 0)
        assert off.holds == plan.holds
        stays = wont.words == "Pan stays on"
        assert on.build.pan == ("pan on, grease and a stop" if stays else plan.build.pan)
        assert off.build.pan == ("pan off" if stays else plan.build.pan)
    assert plan.build.pan == "pan off"


def opened(*names: str) -> Plan:
    """Return the estate, a hole in its inlet flange, with some choices open and all others held."""
    plan = paths.put(demo_plan("estate"), "turbos.0.flange_hole.fitted", True)
    for choice, k in places(plan):
        if choice.name not in names:
            plan = with_hold(plan, read_hold(plan, f"{choice.name}@{k + 1}"))
    return plan


def test_going_by_bounds_finds_what_looking_at_all_finds_and_looks_at_less() -> None:
    """More plans of a small space than are looked at without a bound: the best is the same, by enumeration."""
    base = opened("restrictor", "tap", "clock")
    listed = small.combinations(base)
    assert listed is not None
    plans = [p for p in dict.fromkeys(small.combined(base, v) for v in listed) if p is not None]
    plans = plans[:: max(len(plans) // 80, 1)]
    assert len(plans) > 2 * small.IN_A_GO

    def looked(without_bound: int) -> Board:
        board = Board(base, Alone(), np.random.default_rng(1), effort=replace(USUAL, small=without_bound))
        small._by_bounds(board, plans)
        small._proved(board)
        return board

    whole, bound = looked(10_000), looked(1)
    assert set(whole.looks) >= {p for p in plans if p in bound.looks}
    assert bound.looks[bound.best(1)[0]].grip == whole.looks[whole.best(1)[0]].grip
    assert len(bound.looks) <= len(whole.looks)
    assert len(bound.looks) % small.IN_A_GO == 0


def test_why_a_value_cannot_be_says_what_stands_in_the_hoses_way(monkeypatch: pytest.MonkeyPatch) -> None:
    plan = demo_plan("coupe")
    drain = CHOICES["drain-size"]
    value = next(v for v in drain.values(plan, 0) if v != drain.value(plan, 0))
    monkeypatch.setattr(ways, "drain_way", lambda *a: ways.NoWay(("axle",), "axle in the way"))
    assert reasons._cannot(plan, plan, drain, 0, value) == "no way for its hose: axle in the way"
    monkeypatch.setattr(ways, "drain_way", lambda *a: None)
    assert reasons._cannot(plan, plan, drain, 0, value) == "it cannot be computed"
    assert "nonsense" in reasons._cannot(plan, plan, drain, 0, "nonsense")


def walled(plan: Plan, *labels: str) -> Plan:
    """Return a plan whose tap's place is known and whose inlet is shut in by walls of some names."""
    at = point(plan.turbos[0].turbo.drain_flange)
    tap = plan.taps[plan.tap].model_copy(
        update={"place": ways.model_points((at + np.array([0.6, 0.0, 0.0]))[None])[0]}
    )
    wall = tuple(
        Shape(
            label=label,
            kind="solid",
            corner=ways.model_points((at + np.array([0.3 + 0.05 * n, -1.0, -1.0]))[None])[0],
            length_mm=20.0,
            width_mm=2000.0,
            height_mm=2000.0,
        )
        for n, label in enumerate(labels)
    )
    return plan.model_copy(
        update={"taps": (*plan.taps[: plan.tap], tap, *plan.taps[plan.tap + 1 :]), "shapes": wall}
    )


def test_what_alone_stands_in_the_feeds_way_is_named_and_two_walls_are_several_things() -> None:
    plan = demo_plan("coupe")
    one = ways.feed_way(walled(plan, "bulkhead"), 0)
    assert isinstance(one, ways.NoWay)
    assert (one.things, one.why) == (("bulkhead",), "bulkhead in the feed's way")
    two = ways.feed_way(walled(plan, "bulkhead", "screen"), 0)
    assert isinstance(two, ways.NoWay)
    assert (two.things, two.why) == ((), "several things together in the feed's way")


def test_a_feed_that_is_laid_bends_at_its_ways_corners_and_is_as_long() -> None:
    """Legs of 300, 400 and 500 mm and 50 for the engine's rocking: 1250 mm of hose, two bends."""
    plan = paths.put(demo_plan("coupe"), "turbos.0.parts.feed_move_mm", 50.0)
    corners = np.array([[0.0, 0.0, 0.0], [0.3, 0.0, 0.0], [0.3, 0.4, 0.0], [0.3, 0.4, 0.5]])
    feed = ways.with_feed_way(plan, 0, ways.Way(corners, False, ())).turbos[0].feed
    assert [(p.x_mm, p.y_mm, p.z_mm) for p in feed.points] == [(300.0, 0.0, 0.0), (300.0, 400.0, 0.0)]
    assert max(p.length_mm.value for p in feed.pieces if isinstance(p, Hose)) == 1250.0


def test_a_feed_that_finds_no_way_is_told_and_holes_in_the_flange_are_tried_each_eighth() -> None:
    base = opened("feed-route", "restrictor", "flange-hole")
    where = base.taps[base.tap].label
    size, last = CHOICES["feed-size"].value(base, 0), CHOICES["feed-end"].value(base, 0)
    shut = walled(base, "bulkhead")
    found = feeds.feed_on((shut, shut, 0, where, size, last))
    assert found.plans == ()
    assert found.no_way == (f"feed from the {where}: bulkhead in the feed's way",)
    free = feeds.feed_on((base, base, 0, where, size, last))
    flange = CHOICES["flange-hole"]
    tried = {flange.value(p, 0) for p, _ in free.plans}
    others = [v for v in flange.values(base, 0) if v != flange.value(base, 0)]
    assert tried <= {flange.value(base, 0), *others[:: max(len(others) // 8, 1)]}
    assert len(tried) > 3


def test_a_pump_that_leaves_its_run_ons_oil_gets_a_pot_that_holds_it() -> None:
    """Five times the oil with the same pump: what comes down while the pump does not keep up stands in the pot, 5 L at most."""
    plan = demo_plan("special")
    plan = paths.put(plan, "turbos.0.drain_by", "scavenge")
    plan = paths.put(plan, "turbos.0.scavenge.pot_ml", 10.0)
    pump = CHOICES["pump"]
    least = pump.values(plan, 0)[1]
    made = pump.put(plan, 0, least)
    assert made is not None
    pot = made.turbos[0].scavenge.pot_ml.value
    side = trial(made).evaluation.of(0).scavenging
    assert side is not None
    more_ml = (side.comes_down_m3 - side.pumped_m3) * 1e6
    assert pot == pytest.approx(min(max(math.ceil(more_ml / 50.0) * 50.0, 10.0), 5000.0))


def test_hose_ends_of_a_size_that_nobody_sells_are_thought_of_in_the_usual_angles_and_length() -> None:
    assert ways.end_angles(99) == (0.0, 45.0, 90.0)
    assert ways.end_length_m(99, 0.0) == pytest.approx(0.035)
    assert len(ways.end_angles(6)) >= 3


def test_a_pump_moves_nothing_while_the_engine_stands() -> None:
    e = evaluate(demo_plan("special"))
    streams, _ = replay._streams(e, np.array([0.0, 3000.0]), np.full(2, 370.0), None)
    pumped = np.asarray(streams[0].pumped_m3_s)
    assert pumped[0] == 0.0
    assert pumped[1] == pytest.approx(e.scavenging.delivery_m3_s.max())


# --- verdict ---------------------------------------------------------------------------------------


def test_a_turbo_that_is_gone_is_seen_as_the_last_there_is() -> None:
    e = evaluate(demo_plan("van"))
    assert [e.of(k).index for k in (0, 1, 2, 9)] == [0, 1, 1, 1]
    assert [lens.index for lens in e.of(1).all] == [0, 1]


def fails(*_: object) -> None:
    raise GravidonError("turbos.0.drain: expected a number")


def test_a_car_that_cannot_be_computed_does_not_hold_anywhere(monkeypatch: pytest.MonkeyPatch) -> None:
    plan = demo_plan("coupe")
    monkeypatch.setattr(certainty, "evaluate", fails)
    found = certainty.outcome(plan)
    assert found.grades.tolist() == [BAD] * len(plan.conditions)
    assert found.causes == ("",) * len(plan.conditions)
    assert found.margin < 0.0


def test_the_other_way_home_that_a_plan_cannot_take_is_refused_with_the_reason(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    e = trial(demo_plan("estate")).evaluation
    way = drain_choice.both_ways(e)[0]
    one = way.findings[0]
    mixed = [replace(one, severity=grade) for grade in ("bad", "watch", "note", "bad", "note")]
    assert replace(way, findings=tuple(mixed)).bad == 2
    monkeypatch.setattr(drain_choice.paths, "put", fails)
    own, other = drain_choice.both_ways(e)
    assert own.refused == ""
    assert other.refused == "a number"
    assert math.isnan(other.least_freeboard_m)


def test_a_low_end_keeps_the_bore_of_the_end_that_was_there_and_takes_a_dash_fours_where_none_was() -> None:
    plan = demo_plan("estate")
    hose = next(p for p in plan.turbos[0].feed.pieces if isinstance(p, Hose))
    for ends, bore in (((Fitting(shape="straight", bore_mm=5.5),), 5.5), ((), END_BORE_MM[4])):
        changed = paths.put(plan, "turbos.0.feed.pieces", (hose, *ends))
        known = trial(changed)
        (made,) = (p for p in low_end.propose(known.evaluation, known.findings[0]) if p is not None)
        assert made.plan.turbos[0].feed.pieces == (hose, Fitting(shape="90°", bore_mm=bore, height_mm=28.0))


def test_a_pot_that_floods_is_made_to_hold_what_the_pump_leaves() -> None:
    """What comes down on run-on less what is pumped, to the next 50 mL (by hand from the pump's own figures)."""
    plan = paths.put(demo_plan("special"), "turbos.0.scavenge.pot_ml", 10.0)
    plan = paths.put(plan, "turbos.0.scavenge.run_on_s", 0.0)
    e = trial(plan).evaluation
    finding = replace(trial(plan).findings[0], code="floods")
    sizes = [p.plan.turbos[0].scavenge for p in pump_fittings.propose(e, finding) if p is not None]
    left_ml = (e.scavenging.comes_down_m3 - e.scavenging.pumped_m3) * 1e6
    assert left_ml > 10.0
    pots = [s.pot_ml.value for s in sizes if s.pot_ml.value != 10.0]
    assert pots == [50.0 * math.ceil(left_ml / 50.0)]
    assert [s.run_on_s.value for s in sizes if s.run_on_s.value] == [20.0]


@pytest.mark.parametrize("sealing", ["tape", "liquid sealant"])
def test_a_fitting_is_sealed_in_with_what_the_builder_has(sealing: str) -> None:
    """Tape needs no time to cure; a sealant does, and is never turned back."""
    plan = paths.put(demo_plan("estate"), "build.sealing", sealing)
    step = next(s for s in sequence(plan) if s.key.startswith("entry-fit"))
    assert ("Tape, kept off the first two threads" in step.text) == (sealing == "tape")
    assert ("Liquid sealant, none on the first two threads" in step.text) == (sealing != "tape")
    assert ("never turn it back" in step.text) == (sealing != "tape")


def test_a_breather_that_is_typed_is_opened_to_a_millibar_where_it_stands_above() -> None:
    plan = paths.put(demo_plan("estate"), "breather.kind", "typed")
    plan = paths.put(plan, "conditions.1.crankcase_kpa", 4.0)
    plan = paths.put(plan, "conditions.2.crankcase_kpa", 0.05)
    known = trial(plan)
    finding = known.findings[0]
    made = [p for p in open_breather.propose(known.evaluation, finding) if p is not None]
    assert len(made) == 1
    was = [c.crankcase_kpa for c in plan.conditions]
    assert [c.crankcase_kpa for c in made[0].plan.conditions] == [min(v, 0.1) for v in was]
    assert "1" in made[0].said.text("metric")
    assert "mbar" in made[0].said.text("metric")
    assert not list(open_breather.propose(trial(made[0].plan).evaluation, finding))


def test_a_hose_without_a_bend_near_is_bent_away_from_what_it_rubs_on() -> None:
    """A block laid against the middle of a straight hose without bends: a bend is put in, away from the block by what is missing."""
    plan = paths.put(demo_plan("coupe"), "turbos.0.drain.points", ())
    e = trial(plan).evaluation
    middle = 0.5 * (e.route.stations_m[0] + e.route.stations_m[-1])
    block = Shape(
        label="bracket",
        kind="chafe",
        corner=ways.model_points((middle + np.array([-0.03, 0.012, -0.03]))[None])[0],
        length_mm=60.0,
        width_mm=20.0,
        height_mm=60.0,
    )
    known = trial(plan.model_copy(update={"shapes": (block,)}))
    finding = next(f for f in known.findings if f.place == "bracket")
    made = [p for p in move_away.propose(known.evaluation, finding) if p is not None]
    assert made
    for n, p in enumerate(made):
        (bend,) = p.plan.turbos[0].drain.points
        assert bend.y_mm < 1e3 * middle[1]
        assert np.linalg.norm(point(bend) - middle) < 0.12
        if n:
            (before,) = made[n - 1].plan.turbos[0].drain.points
            assert bend.y_mm < before.y_mm
    assert not any(f.place == "bracket" for f in trial(made[-1].plan).findings)
