# SPDX-License-Identifier: GPL-3.0-or-later
"""Taps, walls, marks, holds and remedies that can be told by hand. Sources: geometry; the rules as their docstrings promise them."""

from __future__ import annotations

import numpy as np
import pytest

from gravidon.errors import InputError
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.model import Hold, Hose, Plan
from gravidon.records.recording import Recording
from gravidon.study.bench.steady import steady_readings
from gravidon.study.diagnosis.prior import GRADE_FACTOR
from gravidon.study.diagnosis.prior import _grades as prior_grades
from gravidon.study.diagnosis.tables import has
from gravidon.study.judge.quantity import GRADES
from gravidon.study.judge.table import BY_CODE
from gravidon.study.planning.choices import CHOICES
from gravidon.study.planning.freedom import broken, lets, read_hold, with_hold, without_hold
from gravidon.study.solve import assemble
from gravidon.study.solve.as_bought import chosen, shelf
from gravidon.study.solve.wall import across_wall, bolt_places, mark_at, spanner_room_m, wall_of
from gravidon.study.supply.tap_choice import with_new_tap, with_tap, without_tap
from gravidon.study.verdict.remedies_gravity import bent, even_fall, raise_entry
from gravidon.study.verdict.trials import trial

# --- taps ------------------------------------------------------------------------------------------


def test_a_tap_that_is_gone_takes_its_own_looks_with_it_and_no_other() -> None:
    """Three taps; the one in the middle goes: what was seen of the first stays, of the middle goes, of the last is the second's now."""
    plan = with_tap(with_new_tap(with_new_tap(demo_plan("coupe"))), 2)
    count = len(plan.taps)
    seen = ("taps.0.port_thread", "taps.1.label", "taps.2.offset_kpa", "taps.2", "turbos.0.turbo", "taps.x")
    plan = plan.model_copy(update={"seen": seen})
    left = without_tap(plan, 1)
    assert [t.label for t in left.taps] == [t.label for k, t in enumerate(plan.taps) if k != 1]
    assert left.seen == ("taps.0.port_thread", "taps.1.offset_kpa", "taps.1", "turbos.0.turbo", "taps.x")
    assert left.tap == 1
    assert without_tap(plan, count - 1).tap == min(2, count - 2)
    assert without_tap(with_tap(plan, 0), 1).tap == 0
    assert without_tap(with_tap(plan, 0), 0).tap == 0
    assert without_tap(plan.model_copy(update={"seen": None}), 0).seen is None


def test_the_hose_follows_the_tap_it_starts_at() -> None:
    plan = with_new_tap(demo_plan("coupe"))
    last = len(plan.taps) - 1
    plan = paths.put(plan, f"taps.{last}.route_mm", 777.0)
    fed = with_tap(plan, last)
    assert max(p.length_mm.value for p in fed.turbos[0].feed.pieces if isinstance(p, Hose)) == 777.0
    assert fed.tap == last


# --- walls and marks -------------------------------------------------------------------------------


def boxed(plan: Plan, heading: float) -> Plan:
    """Return a plan whose entry fitting points a way."""
    return paths.put(plan, "turbos.0.drain.fitting.heading_deg", heading)


@pytest.mark.parametrize(
    ("heading", "axis", "facing"), [(0.0, 0, 1), (180.0, 0, -1), (90.0, 1, 1), (-90.0, 1, -1)]
)
def test_the_wall_is_the_side_of_the_box_that_the_fitting_points_to(
    heading: float, axis: int, facing: int
) -> None:
    plan = boxed(demo_plan("coupe"), heading)
    low, high = assemble.box_of(plan.sump.boxes[0])
    at = high[axis] if facing > 0 else low[axis]
    assert across_wall(plan, plan.turbos[0], axis) == (pytest.approx(at), facing)
    assert across_wall(plan, plan.turbos[0], 1 - axis) is None
    assert wall_of(plan, plan.turbos[0]).outward.tolist() == [facing * (axis == 0), facing * (axis == 1), 0.0]


def test_a_rule_is_laid_on_the_nearest_bolt_or_on_the_flange() -> None:
    plan = boxed(demo_plan("coupe"), 90.0)
    it = plan.turbos[0]
    bolts = bolt_places(plan, wall_of(plan, it))
    low, high = assemble.box_of(plan.sump.boxes[0])
    assert bolts[0] == pytest.approx(low[0])
    assert bolts[-1] == pytest.approx(high[0])
    pitch = float(bolts[1] - bolts[0])
    assert mark_at(plan, it, "bolt", 0, float(bolts[1]) + 0.3 * pitch) == pytest.approx(bolts[1])
    assert mark_at(plan, it, "bolt", 0, float(bolts[1]) + 0.7 * pitch) == pytest.approx(bolts[2])
    assert mark_at(plan, it, "bolt", 1, 0.0) is None
    for axis in range(3):
        flange = (it.turbo.drain_flange.x_mm, it.turbo.drain_flange.y_mm, it.turbo.drain_flange.z_mm)[axis]
        assert mark_at(plan, it, "flange", axis, 0.0) == pytest.approx(1e-3 * flange)


# --- holds -----------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "value", "through"),
    [
        ("restrictor=0.9..2.2", "0.9", True),
        ("restrictor=0.9..2.2", "2.2", True),
        ("restrictor=0.9..2.2", "0.89", False),
        ("restrictor=0.9..2.2", "2.21", False),
        ("restrictor=0.9..", "9.0", True),
        ("restrictor=..2.2", "0.1", True),
        ("restrictor=..2.2", "none", False),
        ("entry-place=-60..-20", "100,-60", True),
        ("entry-place=-60..-20", "100,-61", False),
        ("entry-place=-60..-20", "-40,5", False),
        ("restrictor=1.1,none", "none", True),
        ("restrictor=1.1,none", "1.2", False),
        ("restrictor=open", "77", True),
    ],
)
def test_a_hold_lets_through_what_its_words_say(text: str, value: str, through: bool) -> None:
    assert lets(read_hold(demo_plan("estate"), text), value, "own") is through


def test_a_lock_lets_the_own_value_through_and_no_other() -> None:
    hold = read_hold(demo_plan("van"), "drain-size@2")
    assert (hold.turbo, hold.state) == (1, "locked")
    assert lets(hold, "-10", "-10")
    assert not lets(hold, "-8", "-10")


@pytest.mark.parametrize(
    "text",
    [
        "restrictor=a..b",
        "restrictor=..",
        "restrictor=2..1",
        "nothing=1",
        "clock@9",
        "clock@0",
        "clock@x=open",
    ],
)
def test_words_that_hold_nothing_are_refused(text: str) -> None:
    with pytest.raises(InputError):
        read_hold(demo_plan("estate"), text)


def test_what_a_plan_breaks_is_named_and_a_hold_can_be_taken_back() -> None:
    plan = demo_plan("estate")
    held = with_hold(plan, read_hold(plan, "restrictor"))
    other = CHOICES["restrictor"].put(held, 0, "2.0")
    assert other is not None
    assert "restrictor" in broken(held, other)
    assert "restrictor" in broken(held, other, said=True)
    assert "restrictor" not in broken(without_hold(held, "restrictor"), other, said=True)
    assert broken(held, held) == ()
    with pytest.raises(InputError, match="turbo"):
        with_hold(plan, Hold(choice="clock", turbo=1, state="locked"))


# --- parts -----------------------------------------------------------------------------------------


def test_parts_of_which_one_is_not_known_are_not_chosen() -> None:
    """A plan from another shop's shelf: one unknown id leaves the line as if nothing had been chosen."""
    plan = demo_plan("coupe")
    known = next(iter(shelf(plan)))
    assert len(chosen(paths.put(plan, "turbos.0.parts.feed", (known, known)), 0, "feed")) == 2
    assert chosen(paths.put(plan, "turbos.0.parts.feed", (known, "no-such-part")), 0, "feed") == ()
    assert plan.turbos[0].parts.feed == ()
    assert chosen(plan, 0, "feed") == ()


# --- remedies --------------------------------------------------------------------------------------


def test_bends_on_an_even_fall_stand_on_one_slope_seen_from_above() -> None:
    """Between the ends of the hose the height falls in proportion to the way walked in plan view, whatever the bends' places."""
    plan = demo_plan("estate")
    e = trial(plan).evaluation
    finding = trial(plan).findings[0]
    made = next(p for p in even_fall.propose(e, finding) if p is not None).plan
    corners = trial(made).evaluation.route.corners_m
    ends = len(corners) - (2 if e.route.ends_in_fitting else 1)
    hose = corners[1 : ends + 1]
    walked = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(hose[:, :2], axis=0).T))])
    straight = hose[0, 2] + (hose[-1, 2] - hose[0, 2]) * walked / walked[-1]
    assert hose[:, 2] == pytest.approx(straight, abs=2e-4)


def test_raising_the_entry_is_tried_in_steps_from_five_millimetres_and_never_into_the_rail() -> None:
    plan = paths.put(demo_plan("estate"), "turbos.0.drain.entry.z_mm", -140.0)
    known = trial(plan)
    finding = next(f for f in known.findings if f.code in ("freeboard", "drowned", "choked", "reserve"))
    tries = list(raise_entry.propose(known.evaluation, finding))
    made = [p for p in tries if p is not None]
    room = 140.0 - 1e3 * spanner_room_m(plan, 0)
    steps = sorted({5, 10, 15, 20, 25, 30, 40, 50, 60, int(room)} - {s for s in range(61) if s > room})
    assert len(made) == 1  # the last one tried, after a pause for each
    risen = made[0].plan.turbos[0].drain.entry.z_mm + 140.0
    assert risen == pytest.approx(steps[len(tries) - 2])
    assert finding.key not in trial(made[0].plan).by_key or risen == steps[-1]


def test_a_bend_is_put_in_where_it_is_asked_for_and_twelve_are_enough() -> None:
    plan = demo_plan("estate")
    e = trial(plan).evaluation
    points = plan.turbos[0].drain.points
    place = np.array([-0.3, -0.2, -0.05])
    made = bent(e, 1, place)
    assert made is not None
    new = made.turbos[0].drain.points
    assert len(new) == len(points) + 1
    assert (new[0].x_mm, new[0].y_mm, new[0].z_mm) == pytest.approx((-300.0, -200.0, -50.0))
    assert new[1:] == points
    assert bent(e, 0, place) is None
    assert bent(e, len(points) + 2, place) is None
    full = paths.put(plan, "turbos.0.drain.points", (points[0],) * 12)
    assert bent(trial(full).evaluation, 1, place) is None


# --- readings --------------------------------------------------------------------------------------


def test_a_second_turbo_without_a_gauge_of_its_own_has_no_reading() -> None:
    """One gallery gauge, two turbos: it is read once, for the first; a gauge at the second's inlet makes a reading there too."""
    plan = demo_plan("van")
    n = 400
    channels = {"rpm": np.full(n, 2500.0), "oil": np.full(n, 363.15), "gallery": np.full(n, 3e5)}
    time = np.arange(n) * 0.1
    found = steady_readings(plan, Recording("made up", time, channels))
    assert [r.turbo for r in found] == [0]
    assert found[0].rpm == pytest.approx(2500.0)
    both = steady_readings(plan, Recording("made up", time, {**channels, "inlet2": np.full(n, 2e5)}))
    assert sorted(r.turbo for r in both) == [0, 1]


# --- what a plan has -------------------------------------------------------------------------------


def test_a_plan_of_which_one_turbo_is_pumped_has_both_a_pump_and_a_gravity_drain() -> None:
    """Two turbos, one pumped, one ball bearing: what any of them has, the plan has."""
    plan = demo_plan("van")
    mixed = paths.put(paths.put(plan, "turbos.1.drain_by", "scavenge"), "turbos.1.turbo.bearing", "ball")
    assert {"pump", "gravity", "ball", "journal", "twin"} <= has(mixed)
    assert {"gravity", "twin"} <= has(plan)
    assert "pump" not in has(plan)
    single = demo_plan("coupe")
    assert "twin" not in has(single)
    assert len({"ball", "journal"} & has(single)) == 1


@pytest.mark.parametrize(
    ("kind", "parts"),
    [
        ("valve to intake", {"valve", "valve-only"}),
        ("can and valve", {"valve", "can"}),
        ("catch can", {"can"}),
    ],
)
def test_a_breather_is_what_its_kind_says(kind: str, parts: set[str]) -> None:
    plan = paths.put(demo_plan("coupe"), "breather.kind", kind)
    assert has(plan) & {"valve", "valve-only", "can"} == parts


def test_of_two_findings_alike_the_harder_one_speaks() -> None:
    """Two turbos whose findings of one kind differ in grade: the cause that they speak for counts by the harder one."""
    plan = demo_plan("van")
    known = trial(plan)
    strength = prior_grades(known)
    for code in {f.code for f in known.findings if f.code not in BY_CODE}:
        worst = max(GRADES.index(f.severity) for f in known.findings if f.code == code)
        assert strength[code] == GRADE_FACTOR[worst]
