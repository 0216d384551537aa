# SPDX-License-Identifier: GPL-3.0-or-later
"""Torque, drills and holes against the standards that give them."""

from __future__ import annotations

import pytest

from gravidon.parts.catalogue import catalogue
from gravidon.parts.chains import joints_of, laid
from gravidon.parts.drills import DRILLS, LETTER_DRILL_IN, fraction_drill
from gravidon.parts.ends import End, end_from, fit
from gravidon.parts.entry_means import MEANS
from gravidon.parts.torque import how_tight, torque_nm
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.fields import Known
from gravidon.study.making.sequence import progress, sequence
from gravidon.study.solve.wall import behind_room_m, spanner_room_m


@pytest.mark.parametrize(
    ("dash", "soft", "low_lb", "high_lb"),
    [(4, True, 40, 65), (4, False, 135, 150), (6, True, 75, 125), (8, False, 450, 500), (10, True, 200, 350), (12, False, 900, 1000)],
)  # fmt: skip
def test_flares_are_tightened_as_the_table_says(dash: int, soft: bool, low_lb: int, high_lb: int) -> None:
    """FAA AC 43.13-1B, table 9-2 [in-lb]; 1 in-lb is 25.4 mm times 4.448222 N."""
    found = torque_nm(End("37 flare", f"-{dash}", "male"), End("37 flare", f"-{dash}", "female"), soft)
    assert found is not None
    newton_metre = 0.0254 * 4.448222
    assert found == pytest.approx((low_lb * newton_metre, high_lb * newton_metre), abs=0.5)


def test_no_torque_where_no_standard_gives_one() -> None:
    """Tapers by turns, barbs by their clamp; a joint that does not seal is not tightened at all."""
    taper = End("NPT", "1/4", "male"), End("NPT", "1/4", "female")
    assert torque_nm(*taper, soft=False) is None
    assert how_tight(*taper, fit(*taper), soft=True) == fit(*taper).tighten
    wrong = End("37 flare", "-4", "male"), End("45 flare", "-4", "female")
    assert how_tight(*wrong, fit(*wrong), soft=False) == ""


def test_the_softer_of_two_parts_decides() -> None:
    stock = catalogue()
    parts = [stock["adapter-1-8-npt-male-to-4-flare-male"], stock["hose-end-4-straight-hose-end-reusable"]]
    start, goal = end_from("NPT|1/8|female"), end_from("hose|-4|female")
    joints = joints_of(start, laid(parts, start, goal), goal)
    assert joints[1].soft
    assert "5 to 7 N·m, aluminium" in joints[1].tighten


@pytest.mark.parametrize(("letter", "inches"), [("A", 0.234), ("E", 0.25), ("F", 0.257), ("R", 0.339), ("U", 0.368), ("Z", 0.413)])  # fmt: skip
def test_letter_drills(letter: str, inches: float) -> None:
    """ASME B94.11M."""
    assert LETTER_DRILL_IN[letter] == inches
    assert any(
        d.name.startswith(f"{letter} (") and d.diameter_mm == pytest.approx(inches * 25.4, abs=1e-4)
        for d in DRILLS
    )


def test_fractional_drills_go_by_64ths() -> None:
    """1/16 is 1.5875 mm, 23/32 18.256; every tap drill by fraction is one that is sold."""
    assert fraction_drill(4).name == "1/16 in"
    assert fraction_drill(4).diameter_mm == pytest.approx(1.5875)
    assert fraction_drill(46).diameter_mm == pytest.approx(18.256, abs=1e-3)
    sizes = [d.diameter_mm for d in DRILLS]
    for thread in ("1/8 NPT", "1/4 NPT", "3/8 NPT", "1/2 NPT", "3/4 NPT"):
        hole, _ = MEANS["tapped"].hole(thread, 10.0)
        assert min(abs(s - hole * 1e3) for s in sizes) < 1e-3


def test_metric_drills_are_those_that_are_sold() -> None:
    """By 0.05 mm up to 3 mm, by 0.1 above (ISO 235)."""
    metric = [d.diameter_mm for d in DRILLS if d.metric]
    assert 2.95 in metric
    assert 3.05 not in metric
    assert 3.1 in metric


@pytest.mark.parametrize(
    ("means", "thread", "bore", "least"),
    [("tapped", "1/2 NPT", 12.29, 21.3), ("tapped", "3/8 NPT", 9.93, 17.1), ("weld bung", "-10 flare 7/8-14", 12.29, 28.0), ("bulkhead", "-8 flare 3/4-16", 9.93, 19.4)],
)  # fmt: skip
def test_steel_is_counted_from_the_hole_not_from_the_bore(
    means: str, thread: str, bore: float, least: float
) -> None:
    """The thread's major for a tapped wall (ASME B1.20.1), the bung's outside, the bulkhead's clearance hole."""
    fitting = (
        demo_plan()
        .turbos[0]
        .drain.fitting.model_copy(
            update={"means": means, "port_thread": thread, "fitting_thread": thread, "bore_mm": bore}
        )
    )
    assert fitting.opening_mm >= least


def test_a_hole_too_near_the_floor_is_found_by_its_thread() -> None:
    """14 mm over the floor: a 1/2 NPT thread of 21.3 mm and 4 mm of steel do not fit, a bore of 12.3 mm would."""
    from gravidon.study.home.entry_map import place_problems
    from gravidon.study.solve.evaluate import evaluate

    plan = demo_plan("coupe")
    floor = plan.sump.boxes[0].corner.z_mm
    plan = paths.put(plan, "turbos.0.drain.entry.z_mm", floor + 14.0)
    tapped = {"means": "tapped", "port_thread": "1/2 NPT", "fitting_thread": "1/2 NPT", "bore_mm": 12.29}
    fitting = plan.turbos[0].drain.fitting.model_copy(update=tapped)
    plan = paths.put(plan, "turbos.0.drain.fitting", fitting)
    assert "edge" in dict(place_problems(evaluate(plan)))
    plan = paths.put(plan, "turbos.0.drain.entry.z_mm", floor + 16.0)
    assert "edge" not in dict(place_problems(evaluate(plan)))


def test_a_tap_runs_out_behind_the_wall() -> None:
    """A taper tap goes twelve pitches through (1/2 NPT: 21.8 mm) less the wall; a bung needs no more than the hand."""
    plan = demo_plan()
    it = plan.turbos[0]
    half = it.drain.fitting.model_copy(update={"port_thread": "1/2 NPT", "fitting_thread": "1/2 NPT"})
    tapped = it.model_copy(update={"drain": it.drain.model_copy(update={"fitting": half})})
    wall = plan.sump.wall_mm.value
    assert behind_room_m(plan, tapped) == pytest.approx((12 * 25.4 / 14 - wall) * 1e-3)
    bung = half.model_copy(update={"means": "weld bung"})
    welded = it.model_copy(update={"drain": it.drain.model_copy(update={"fitting": bung})})
    assert behind_room_m(plan, welded) == pytest.approx(plan.needs.behind_mm.value * 1e-3)


def test_a_wider_hose_needs_a_wider_spanner() -> None:
    """By dash size while nobody measured; a measured room stands."""
    plan = demo_plan("coupe")
    room = spanner_room_m(plan, 0)
    wider = paths.put(plan, "turbos.0.drain.hose_bore_mm", 17.46)
    assert spanner_room_m(wider, 0) > room
    typed = paths.put(wider, "needs.spanner_mm", Known(value=22.0, basis="measured"))
    assert spanner_room_m(typed, 0) == pytest.approx(0.022)


def test_sealant_is_waited_for_before_oil_comes() -> None:
    """A step of its own between the last sealed thread and the oil, with a day of waiting and no work; none with tape."""
    plan = paths.put(demo_plan(), "build.sealing", "liquid sealant")
    keys = [s.key for s in sequence(plan)]
    assert keys.index("tap") < keys.index("cure") < keys.index("fill")
    cure = next(s for s in sequence(plan) if s.key == "cure")
    assert (cure.minutes, cure.wait_h) == (0, 24.0)
    assert progress(plan).wait_h == 24.0
    assert "24 h of waiting" in progress(plan).waits
    taped = paths.put(plan, "build.sealing", "tape")
    assert "cure" not in [s.key for s in sequence(taped)]
    assert progress(taped).waits == ""
