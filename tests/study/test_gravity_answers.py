# SPDX-License-Identifier: GPL-3.0-or-later
"""Seat, run, pan entry, envelope, both ways home: what the gravity side answers."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gravidon.errors import InputError
from gravidon.plan import model, paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.fields import Known
from gravidon.plan.model import Plan, Point
from gravidon.plan.starter import with_rings, with_turbo_kind
from gravidon.study.home import entry_map as maps
from gravidon.study.home.breather_choice import breather_choice
from gravidon.study.home.envelope import MOST_G, drained_at, envelope, look_at
from gravidon.study.solve import wall as wall_module
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.run_review import dips, review
from gravidon.study.solve.seating import cavity_oil, seating
from gravidon.study.verdict.drain_choice import both_ways


def changed(plan: Plan, *changes: tuple[str, object]) -> Plan:
    for path, value in changes:
        plan = paths.put(plan, path, value)
    return plan


def fed() -> Plan:
    """The demo with a bearing that gets oil, so that the drain has work."""
    return paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 2.2)


# --- seat ------------------------------------------------------------------------------------


def test_a_level_seat_keeps_no_oil() -> None:
    """Drain straight down, car level, engine off: the mouth is the lowest place, nothing stays lying."""
    e = evaluate(demo_plan())
    s = seating(e)
    off = demo_plan().conditions.index(next(c for c in demo_plan().conditions if c.regime == "off"))
    assert cavity_oil(e).stays_m3[off] == 0.0
    assert s.tilt_rad == s.clock_rad == 0.0


def test_an_upright_shaft_drowns_its_lower_seal() -> None:
    """The job's warning: the shaft on end leaves the cavity full at shut-down, its lower seal under oil."""
    e = evaluate(paths.put(demo_plan(), "turbos.0.turbo.pitch_deg", Known(value=88.0)))
    s, off = seating(e), e.names.index("key-off")
    assert s.stays_below_seal_m[off] < 0.0
    assert cavity_oil(e).stays_m3[off] > 0.3 * 35e-6
    assert s.tilt_rad > s.tilt_limit_rad


def test_limits_follow_use_unless_the_makers() -> None:
    """A drag car gets away with more tilt than a street car; a maker's figure is nobody's to stretch."""
    drag = paths.put(demo_plan(), "use", "drag")
    street = seating(evaluate(demo_plan())).tilt_limit_rad
    assert seating(evaluate(drag)).tilt_limit_rad == pytest.approx(1.5 * street)
    made = paths.put(drag, "turbos.0.turbo.tilt_max_deg", Known(value=12.0, basis="maker"))
    assert seating(evaluate(made)).tilt_limit_rad == pytest.approx(np.radians(12.0))


def test_rings_and_bearing_set_the_guessed_limit() -> None:
    """13° twin-ring ball, 10° otherwise (common practice, no source)."""
    ball = with_rings(with_turbo_kind(demo_plan(), "ball", "medium"), "twin")
    assert ball.turbos[0].turbo.tilt_max_deg.value == 13.0
    assert with_rings(ball, "single").turbos[0].turbo.tilt_max_deg.value == 10.0
    assert with_turbo_kind(ball, "journal", "medium").turbos[0].turbo.tilt_max_deg.value == 10.0


def test_pitch_lowers_the_turbine_seal_by_its_sine() -> None:
    """Compressor end up by 10°: the turbine seal is lower by spacing x sin 10° than the other (geometry)."""
    e = evaluate(paths.put(demo_plan(), "turbos.0.turbo.pitch_deg", Known(value=10.0)))
    gap = seating(e).seal_freeboard_m
    spacing = demo_plan().turbos[0].turbo.seal_spacing_mm.value * 1e-3
    i = e.names.index("hot idle")
    assert gap[1, i] - gap[0, i] == pytest.approx(spacing * np.sin(np.radians(10.0)), abs=1e-9)


# --- run -------------------------------------------------------------------------------------


def test_a_dip_is_as_deep_as_its_lip_is_high() -> None:
    """Heights 100, 40, 60, 0: 20 lie in the dip (by hand)."""
    run = np.array([[0, 0, 0.10], [0.1, 0, 0.04], [0.2, 0, 0.06], [0.3, 0, 0.0]])
    depth, where = dips(np.array([[0.0, 0.0, 1.0]]), run)
    assert depth[0] == pytest.approx(0.02)
    assert where[0] == 1


@given(z=st.lists(st.floats(-0.5, 0.5), min_size=2, max_size=12))
def test_a_falling_run_has_no_dip(z: list[float]) -> None:
    """Sorted downhill there is none; in any order the dip is never deeper than the run is tall."""
    xs = np.arange(len(z)) * 0.05
    up = np.array([[0.0, 0.0, 1.0]])
    falling = np.column_stack([xs, 0 * xs, sorted(z, reverse=True)])
    assert dips(up, falling)[0][0] == 0.0
    assert 0.0 <= dips(up, np.column_stack([xs, 0 * xs, z]))[0][0] <= max(z) - min(z) + 1e-12


def test_legs_are_measured_off_upright() -> None:
    """The stub hangs straight down; the entry fitting rises 12° outward, so it lies 78° off upright."""
    legs = review(evaluate(demo_plan())).legs
    assert legs[0].off_upright_rad == pytest.approx(0.0, abs=1e-9)
    assert np.degrees(legs[-1].off_upright_rad) == pytest.approx(78.0)
    assert [leg.is_hose for leg in legs] == [False, True, True, True, False]


def test_gap_to_a_shape_is_to_the_hoses_outside() -> None:
    """A box 100 mm to the right of a bend: 100 mm less half the -10 hose's 20.5 mm."""
    bend = demo_plan().turbos[0].drain.points[0]
    box = model.Shape(
        label="box",
        kind="chafe",
        corner=Point(x_mm=bend.x_mm - 500, y_mm=bend.y_mm - 10 - 100 - 50, z_mm=-400),
        length_mm=1000,
        width_mm=50,
        height_mm=800,
    )
    plan = changed(demo_plan(), ("shapes", (box,)), ("turbos.0.drain.points.0.y_mm", bend.y_mm - 10))
    near = review(evaluate(plan)).near[0]
    # the flange stands further right than the bend by a few millimetres, the bend is nearest
    assert near.gap_m == pytest.approx(0.100 - 0.01025, abs=2e-3)


# --- entry -----------------------------------------------------------------------------------


@pytest.mark.parametrize("name", ["fed estate", "van"])
def test_the_map_agrees_with_a_whole_evaluation(name: str) -> None:
    """At five places of the wall the map's verdict on freeboard and drowning is the plan's own, moved there; the van's
    drain carries the one that joins it."""
    e = evaluate(fed() if name == "fed estate" else demo_plan("van"))
    m = maps.entry_map(e, columns=9, rows=5)
    names = list(maps.REASONS)
    lasts = np.array([c.duration_s <= 0 for c in e.plan.conditions])
    need = 0.010
    for i, j in ((0, 1), (1, 4), (2, 2), (4, 5), (4, 3)):
        plan = maps.moved_entry(e.plan, 0, m.wall, float(m.along_m[j]), float(m.up_m[i]))
        d = evaluate(plan).drainage
        flows = evaluate(plan).feed.flow_m3_s > 0
        drowned = bool(((d.submergence_m > 0) & lasts & flows).any())
        assert bool(m.against[names.index("drowned"), i, j]) == drowned
        worst = float(d.freeboard_m[lasts].min())
        if abs(worst - need) > 2e-3:  # the map's run is cut a little coarser
            assert bool(m.against[names.index("wet"), i, j]) == (worst < need)


def test_low_places_are_under_oil_and_the_pickup_is_in_the_way() -> None:
    """The demo: under the running level an entry drowns; where the pickup stands nothing may come through."""
    m = maps.entry_map(evaluate(fed()))
    assert any("under oil" in w for w in m.why(-0.35, -0.14))
    assert any("behind the wall" in w for w in m.why(-0.326, -0.10))
    tray = maps.entry_map(evaluate(fed()), wall_module.walls(fed(), "right")[1])
    assert any("outside" in w for w in tray.why(-0.13, -0.05))


def test_best_places_pass_and_lie_apart() -> None:
    e = evaluate(fed())
    m = maps.entry_map(e)
    assert m.best
    for along, up in m.best:
        assert m.passable[int(np.abs(m.up_m - up).argmin()), int(np.abs(m.along_m - along).argmin())]


@pytest.mark.parametrize("name", list(wall_module.WALLS))
def test_every_wall_faces_out(name: str) -> None:
    """A step outward from a wall's middle leaves the box; the fitting turned to it names that wall."""
    plan = demo_plan()
    wall = wall_module.wall_of_box(plan.sump.boxes[0], name)
    plan = maps.moved_entry(plan, 0, wall, 0.5 * (wall.low_m + wall.high_m), -0.05)
    assert wall_module.name_of_wall(plan.turbos[0]) == name
    assert wall_module.wall_of(plan, plan.turbos[0]) == wall


def test_a_place_between_rail_bolts_takes_a_spanner() -> None:
    """26 mm of spanner and half an 18 mm socket: 35 mm from a bolt, no nearer (by hand)."""
    plan = demo_plan()
    wall = wall_module.wall_of(plan, plan.turbos[0])
    bolt = float(wall_module.bolt_places(plan, wall)[1])
    for drop, ok in ((0.034, False), (0.036, True)):
        moved = maps.moved_entry(plan, 0, wall, bolt, -drop)
        reasons = {name for name, _ in maps.place_problems(evaluate(moved))}
        assert ("bolts" not in reasons) is ok


# --- envelope --------------------------------------------------------------------------------


def test_uphill_limit_is_the_slope_in_closed_form() -> None:
    """One straight hose down to the right at a slope of 20°: a left turn (oil to the right, downhill) never
    makes it climb; a right turn does at tan 20° of g (closed form)."""
    plan = fed()
    flange = plan.turbos[0].turbo.drain_flange
    stub = plan.turbos[0].drain.flange_length_mm
    run, slope = 160.0, np.radians(20.0)
    entry = plan.turbos[0].drain.entry
    outer = Point(x_mm=entry.x_mm, y_mm=flange.y_mm - run, z_mm=flange.z_mm - stub - run * np.tan(slope))
    plan = changed(
        plan,
        ("turbos.0.turbo.drain_flange.x_mm", entry.x_mm),
        ("turbos.0.drain.points", (outer,)),
        ("turbos.0.drain.fitting.rise_deg", 80.0),
    )
    e = evaluate(plan)
    v = envelope(e, 3, directions=4)  # forward, left, back, right
    first = e.route.corners_m[1] - e.route.corners_m[2]
    assert np.degrees(np.arcsin(first[2] / np.linalg.norm(first))) == pytest.approx(20.0, abs=0.5)
    # the next leg comes back from the far point and is steeper the other way; only the first is judged here
    right_climb = np.tan(slope)
    assert v.limit_g[0, 3] <= right_climb * 1.06


def test_limits_stand_where_the_conditions_say() -> None:
    """Just inside each limit the drain is dry and clear, just outside it is not (second path: single states)."""
    e = evaluate(fed())
    v = envelope(e, 3, directions=12)
    assert v.limit_g.shape == (3, 12)
    for k in range(12):
        for cause in (1, 2):
            g = float(v.limit_g[cause, k])
            if not np.isfinite(g) or g > MOST_G - 0.1 or g < 0.1:
                continue
            inside, outside = (
                look_at(e, 3, s * g * np.cos(v.angle_rad[k]), s * g * np.sin(v.angle_rad[k]))
                for s in (0.95, 1.05)
            )
            value = (lambda s: -s.over_entry_m) if cause == 1 else (lambda s: s.freeboard_m)
            assert value(inside) > 0 > value(outside)


def test_the_envelope_knows_the_conditions_own_point() -> None:
    """Hard left at the oil of hard left: the same freeboard as the condition's own."""
    e = evaluate(fed())
    i = e.names.index("hard left")
    d = drained_at(e, i, np.array([0.0]), np.array([0.6]))[0]
    # no baffle time in a sustained state: the demo's baffle lets the oil through for good
    assert d.freeboard_m[0] == pytest.approx(float(e.drainage.freeboard_m[i]), abs=3e-3)


def test_a_mirrored_car_has_a_mirrored_envelope() -> None:
    """Everything at y turned to -y: left and right limits change places."""
    plan = paths.put(fed(), "shapes", ())
    line = plan.turbos[0]

    def mirror(p: Point) -> Point:
        return p.model_copy(update={"y_mm": -p.y_mm})

    drain = line.drain.model_copy(
        update={
            "points": tuple(mirror(p) for p in line.drain.points),
            "entry": mirror(line.drain.entry),
            "fitting": line.drain.fitting.model_copy(update={"heading_deg": 90.0}),
        }
    )
    other = changed(
        plan, ("turbos.0.drain", drain), ("turbos.0.turbo.drain_flange", mirror(line.turbo.drain_flange))
    )
    here, there = envelope(evaluate(plan), 3, 8), envelope(evaluate(other), 3, 8)
    turned = np.roll(there.limit_g[:, ::-1], 1, axis=1)
    assert np.allclose(np.minimum(here.limit_g, 9), np.minimum(turned, 9), atol=0.02)


def test_oil_on_its_side_is_refused_in_words() -> None:
    """An engine tilted 45° in a 1 g corner: refused, naming the condition and what to take back."""
    plan = paths.put(demo_plan("special"), "engine.left_side_up_deg", Known(value=45.0))
    with pytest.raises(InputError, match=r"hard left.*at most 78°"):
        evaluate(plan)


def test_a_steeply_tilted_engine_still_has_an_envelope() -> None:
    """An engine on its side by 40° and 1.4 g: directions past what a level is known for count as failed."""
    e = evaluate(changed(fed(), ("engine.left_side_up_deg", Known(value=40.0))))
    v = envelope(e, 3, 8)
    assert np.isfinite(v.least_g).any()
    assert np.isnan(look_at(e, 3, 0.0, -1.4).freeboard_m) or np.isnan(look_at(e, 3, 0.0, 1.4).freeboard_m)


# --- both ways -------------------------------------------------------------------------------


def test_gravity_cannot_bring_the_specials_oil_home_and_a_pump_can() -> None:
    """The low turbo of the second demo: by gravity its seal is wet in most conditions, steady ones among
    them; by pump only where 1 g tilts the cavity itself."""
    e = evaluate(demo_plan("special"))
    gravity, pump = both_ways(e)
    assert gravity.wet > 5
    wet = {e.names[i] for i in np.flatnonzero(e.drainage.freeboard_m < 0)}
    assert wet <= {"hard left", "hard right"}
    assert pump.wet == len(wet)
    assert gravity.least_freeboard_m < pump.least_freeboard_m
    assert gravity.plan.turbos[0].drain_by == "gravity"


def test_a_drain_that_carries_another_is_pumped_with_it() -> None:
    """One pump for both: what comes to it is the sum of the two."""
    gravity, pump = both_ways(evaluate(demo_plan("van")))
    assert gravity.refused == pump.refused == ""
    e = evaluate(pump.plan)
    assert e.scavenging.bulk_m3_s == pytest.approx(sum(lens.drainage.froth.flow_m3_s for lens in e.all))


def test_a_weak_pump_floods_the_housing() -> None:
    """A pump that takes a tenth of the froth: pot over, housing under, and the finding says so."""
    plan = paths.put(demo_plan("special"), "turbos.0.scavenge.free_l_min", Known(value=0.3))
    e = evaluate(plan)
    i = e.names.index("full load")
    assert e.scavenging.weak[i]
    assert e.drainage.freeboard_m[i] < 0.0


def test_breather_chart_falls_with_bore_and_meets_the_plan() -> None:
    """A wider hose never raises the pressure of an open can; at the plan's own bore it is the evaluation's."""
    plan = demo_plan()
    c = breather_choice(plan)
    assert (np.diff(c.pressure_pa, axis=0) <= 1e-6).all()
    i = evaluate(plan).names.index("full load")
    own = float(evaluate(plan).breathing.crankcase_pa[i])
    at = np.interp(np.log(plan.breather.hose_bore_mm * 1e-3), np.log(c.bore_m), np.log(c.pressure_pa[:, i]))
    assert np.exp(at) == pytest.approx(own, rel=0.02)


def test_the_wall_map_carries_what_joins_on_the_way() -> None:
    """The van with too thin a drain for two turbos: how deep a seal stands under oil, place by place, is what a whole
    evaluation with the entry there says (8 %; the map's run is cut more coarsely); one turbo's oil alone would be 30 % off."""
    e = evaluate(paths.put(demo_plan("van"), "turbos.0.drain.hose_bore_mm", 8.0))
    m = maps.entry_map(e, columns=9, rows=5)
    for i, j in ((0, 1), (1, 4), (2, 2)):
        spot = m.wall.place(np.array([m.along_m[j]]), np.array([m.up_m[i]])).reshape(1, 3)
        mapped = maps._tried(e, m.wall, spot)[2][0]
        moved = maps.moved_entry(e.plan, 0, m.wall, float(m.along_m[j]), float(m.up_m[i]))
        whole = evaluate(moved).drainage.freeboard_m
        assert mapped.min() == pytest.approx(float(whole.min()), rel=0.08)
