# SPDX-License-Identifier: GPL-3.0-or-later
"""The simulated car against the plan's steady answers, the priming formula, mass balance, and its own finer step."""

from dataclasses import replace

import numpy as np
import pytest

from gravidon.errors import InputError
from gravidon.physics import priming
from gravidon.physics.oil import density, dynamic_viscosity
from gravidon.plan import demos, paths
from gravidon.plan.fields import Known
from gravidon.plan.model import ScreenPiece
from gravidon.study.car.car import DRAIN_S, Scenario, simulate
from gravidon.study.car.faults import FAULTS, Faulty, as_it_is, faulty_from
from gravidon.study.car.script import SCRIPTS, Script, Stretch, script_from
from gravidon.study.car.senses import sensed
from gravidon.study.solve import assemble
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.priming import chain_sizes

NAMES = demos.NAMES


def _held(plan, condition, seconds=40.0):
    """A car held in one condition of its plan for a while."""
    stretch = Stretch(
        seconds,
        condition.rpm,
        condition.load,
        condition.forward_g,
        condition.left_g,
        condition.oil_temperature_c,
    )
    return simulate(Scenario(plan, Script((stretch,)), full=True, spread=0.0, step_s=0.1))


@pytest.mark.parametrize("name", NAMES)
def test_held_in_a_condition_the_car_shows_what_the_plan_says(name: str) -> None:
    """Every warm running condition: gallery, inlet and flow as `evaluate` has them, to 0.5 % (the second path to the same answer)."""
    plan = demos.demo_plan(name)
    e = evaluate(plan)
    looked = 0
    for i, c in enumerate(plan.conditions):
        if not (c.kind.turning and c.kind.warm) or c.heat_kw > 0.0:
            continue
        run = _held(plan, c)
        looked += 1
        assert run.gallery_pa[-1] == pytest.approx(e.supply.gallery_pa[i], rel=5e-3)
        for k, lens in enumerate(e.all):
            assert run.bearing_pa[k, -1] == pytest.approx(lens.feed.inlet_pressure_pa[i], rel=5e-3)
            assert run.flow_m3_s[k, -1] == pytest.approx(lens.feed.flow_m3_s[i], rel=5e-3)
            assert run.outlet_k[k, -1] == pytest.approx(lens.feed.outlet_temperature_k[i], rel=5e-3)
    assert looked >= 5


def test_a_cold_start_shows_the_plans_cold_figures_when_they_are_judged() -> None:
    """The plan judges a cold start ten seconds on; so long after oil flows the car's oil out is the same, to 0.5 % of its kelvins."""
    plan = demos.demo_plan("estate")
    e = evaluate(plan)
    i = assemble.condition_index(plan, "cold start")
    c = plan.conditions[i]
    run = _held(plan, c, 20.0)
    at = int(np.searchsorted(run.time_s, assemble.COLD_S))
    assert run.outlet_k[0, at] == pytest.approx(e.feed.outlet_temperature_k[i], rel=5e-3)


def test_the_front_takes_the_time_of_the_priming_formula() -> None:
    """The plain case (gallery full, speed and oil held, pump's delivery unknown): the closed form 16 mu L²/(dp d²) pipe by pipe, to 0.5 %."""
    plan = paths.put(demos.demo_plan("estate"), "engine.pump_cc_rev", 0.0)
    cold = Stretch(30.0, 1200.0, 0.05, hold_c=-10.0)
    run = simulate(Scenario(plan, Script((cold,)), spread=0.0, step_s=0.02))
    bores, lengths = chain_sizes(plan.turbos[0].feed.pieces)
    mu = float(dynamic_viscosity(assemble.oil_of(plan), 263.15))
    tap = run.gallery_pa[-1] + assemble.si(plan.taps[plan.tap], "offset_kpa")
    expected = float(priming.viscous_fill_time(bores, lengths, tap, mu))
    begins = run.time_s[int((run.gallery_pa > 0.0).argmax())]
    assert run.arrived_s[0] - begins == pytest.approx(expected, rel=5e-3, abs=0.5 * 0.02)
    assert expected > 0.2  # long enough to mean anything


def test_a_pump_that_delivers_little_holds_the_front_back() -> None:
    """With the pump's delivery known and small, the line fills no faster than its volume over the delivery."""
    plan = paths.put(demos.demo_plan("estate"), "engine.pump_cc_rev", 0.4)
    run = simulate(Scenario(plan, Script((Stretch(60.0, 850.0, hold_c=100.0),)), spread=0.0))
    bores, lengths = chain_sizes(plan.turbos[0].feed.pieces)
    by_pump = priming.line_volume(bores, lengths) / (0.4e-6 * 850.0 / 60.0)
    begins = run.time_s[int((run.gallery_pa > 0.0).argmax())]
    assert run.arrived_s[0] - begins >= by_pump - 2 * 0.05


@pytest.mark.parametrize("name", NAMES)
@pytest.mark.parametrize("script", ["first-start", "drive"])
def test_oil_is_neither_made_nor_lost(name: str, script: str) -> None:
    """All places together weigh what was filled in, to 1e-6, leaks on the floor counted; and every place holds something at some time."""
    plan = demos.demo_plan(name)
    leak = (Faulty(FAULTS["leak"], 1.0, 20.0, 10.0),)
    run = simulate(Scenario(plan, script_from(script, plan), seed=3, faults=leak))
    total = run.masses.total
    assert np.abs(total / total[0] - 1.0).max() < 1e-6
    for place in ("engine", "gallery", "lines", "housings", "lost"):
        assert getattr(run.masses, place).max() > 0.0
        assert getattr(run.masses, place).min() >= -1e-9


@pytest.mark.parametrize("name", ["coupe", "van"])
def test_a_pan_that_runs_dry_gives_its_pump_air(name: str) -> None:
    """A leak of half a litre a minute at idle: the gauges hold until the oil over the pickup is gone, then drop to nothing for moments. The
    time is reckoned outside: fill less what is up in the engine, on the way and under the pickup's mouth (boxes as they are drawn)."""
    plan = demos.demo_plan(name)
    leak = (Faulty(FAULTS["leak"], 1.0),)
    rpm, hot = 900.0, 95.0
    script = Script((Stretch(900.0, rpm, hold_c=hot),))
    run = simulate(Scenario(plan, script, spread=0.0, faults=leak, full=True, start_k=hot + 273.15))
    m = run.masses
    assert m.pan.min() > 0.0
    dry = np.flatnonzero((run.gallery_pa <= 0.0) & (run.time_s > 60.0))
    assert len(dry)
    begins = float(run.time_s[dry[0]])
    assert begins > 200.0
    assert (run.gallery_pa[run.time_s < begins - 1.0][40:] > 1e4).all()
    assert (run.flow_m3_s[:, dry] == 0.0).all()
    after = run.gallery_pa[run.time_s > begins]
    assert (after > 0.0).any()  # it comes home, and is pumped again for a while
    rho = float(density(assemble.oil_of(plan), hot + 273.15))
    at = dry[0]
    boxes = plan.sump.boxes
    floor = min(b.corner.z_mm for b in boxes)
    mouth = plan.sump.pickup.z_mm if plan.sump.pickup is not None else floor + 10.0
    under = sum(b.length_mm * b.width_mm * max(mouth - b.corner.z_mm, 0.0) for b in boxes) * 1e-9
    assert m.pan[at] / rho == pytest.approx(under, abs=0.05 * under + 2e-5)
    whole = rho * plan.sump.fill_l.value * 1e-3
    elsewhere = float((m.engine + m.lines + m.housings + m.gallery)[at])
    lost = 8e-6 * rho * begins
    begun = float(m.gallery[0] + m.lines[0])  # full from the start, beside what the pan holds
    assert whole + begun - lost - elsewhere == pytest.approx(rho * under, abs=0.01 * whole)
    assert m.lost[at] == pytest.approx(lost, rel=0.02)


def test_a_sound_pan_never_gives_air() -> None:
    for name in NAMES:
        run = simulate(Scenario(demos.demo_plan(name), script_from("drive", demos.demo_plan(name)), seed=2))
        running = (run.rpm > 0.0) & (run.time_s > run.arrived_s.max() + 1.0)
        assert (run.gallery_pa[running] > 0.0).all()


def test_the_housings_hold_what_flowed_in_and_has_not_yet_run_home() -> None:
    """Held steady, a reservoir holds flow times its time (the exact solution of a linear reservoir)."""
    plan = demos.demo_plan("coupe")
    run = _held(plan, plan.conditions[assemble.condition_index(plan, "cruise")])
    rho = float(density(assemble.oil_of(plan), run.oil_k[-1]))
    assert run.masses.housings[-1] == pytest.approx(rho * run.flow_m3_s[0, -1] * DRAIN_S, rel=1e-3)


@pytest.mark.parametrize("name", ["estate", "van"])
def test_half_the_step_gives_the_same_car(name: str) -> None:
    """Order of convergence: pressures, arrival and oil temperature at the same times move by less than 0.5 %."""
    plan = demos.demo_plan(name)
    coarse = Scenario(plan, script_from("crank 16, idle 60, 2500 rpm 60", plan), seed=5)
    one, two = simulate(coarse), simulate(replace(coarse, step_s=0.025))
    rows = slice(None, None, 2)
    assert two.arrived_s == pytest.approx(one.arrived_s, rel=5e-3)
    assert two.oil_k[rows] == pytest.approx(one.oil_k, rel=5e-3)
    steady = one.time_s > one.arrived_s.max() + 1.0
    for pair in ((one.gallery_pa, two.gallery_pa[rows]), (one.flow_m3_s[0], two.flow_m3_s[0][rows])):
        assert pair[1][steady] == pytest.approx(pair[0][steady], rel=5e-3)


def test_the_same_scenario_gives_the_same_run_and_another_seed_another_car() -> None:
    plan = demos.demo_plan("coupe")
    scenario = Scenario(plan, script_from("crank 14, idle 20", plan), seed=11)
    one, two, other = simulate(scenario), simulate(scenario), simulate(replace(scenario, seed=12))
    assert (one.gallery_pa == two.gallery_pa).all()
    assert (one.truth, one.arrived_s.tolist()) == (two.truth, two.arrived_s.tolist())
    assert abs(other.gallery_pa[-1] / one.gallery_pa[-1] - 1.0) > 1e-4


def test_oil_never_comes_through_a_gallery_that_stays_empty() -> None:
    """Four seconds on the starter fill no dry gallery (3 s at a cold start's speed are 16 s at the starter's)."""
    plan = demos.demo_plan("coupe")
    run = simulate(Scenario(plan, script_from("off 2, crank 4, off 10", plan)))
    assert not run.gallery_pa.any()
    assert np.isinf(run.arrived_s).all()
    assert not run.flow_m3_s.any()


LOWERS_PORT = ("screen", "choked", "kinked", "weak-pump")


@pytest.mark.parametrize("key", LOWERS_PORT)
def test_what_closes_the_feed_lowers_what_a_gauge_at_the_bearing_reads(key: str) -> None:
    """Trade fact (common practice, no source): a closing screen, hole or hose shows as falling pressure at the bearing."""
    plan = demos.demo_plan("coupe")
    if key == "screen":
        feed = plan.turbos[0].feed
        screen = ScreenPiece(rated_drop_kpa=Known(value=4.0), rated_flow_l_min=Known(value=4.0))
        plan = paths.put(plan, "turbos.0.feed.pieces", (*feed.pieces[:1], screen, *feed.pieces[1:]))
        plan = paths.put(plan, "turbos.0.parts.feed", ())
    script = script_from("2500 rpm 20 oil=100", plan)
    sound = simulate(Scenario(plan, script, full=True, spread=0.0))
    bad = simulate(Scenario(plan, script, full=True, spread=0.0, faults=(Faulty(FAULTS[key], 1.0),)))
    assert bad.bearing_pa[0, -1] < 0.9 * sound.bearing_pa[0, -1]


def test_a_worn_bearing_lowers_pressure_and_raises_flow() -> None:
    """Trade fact (common practice, no source), which tells it from a closing screen."""
    plan = demos.demo_plan("coupe")
    script = script_from("2500 rpm 20 oil=100", plan)
    sound = simulate(Scenario(plan, script, full=True, spread=0.0))
    worn = simulate(Scenario(plan, script, full=True, spread=0.0, faults=(Faulty(FAULTS["worn"], 0.8),)))
    assert worn.bearing_pa[0, -1] < sound.bearing_pa[0, -1]
    assert worn.flow_m3_s[0, -1] > sound.flow_m3_s[0, -1]


def test_a_fault_that_grows_is_sound_before_and_whole_after() -> None:
    plan = demos.demo_plan("coupe")
    script = script_from("2500 rpm 60 oil=100", plan)
    growing = (faulty_from("choked=0.95@20+10"),)
    run = simulate(Scenario(plan, script, full=True, spread=0.0, faults=growing))
    sound = simulate(Scenario(plan, script, full=True, spread=0.0))
    whole = simulate(Scenario(plan, script, full=True, spread=0.0, faults=(faulty_from("choked=0.95"),)))
    at = run.time_s.searchsorted
    assert run.bearing_pa[0, at(19.0)] == pytest.approx(sound.bearing_pa[0, at(19.0)])
    assert run.bearing_pa[0, -1] == pytest.approx(whole.bearing_pa[0, -1])
    between = run.bearing_pa[0, at(20.0) : at(30.0)]
    assert (np.diff(between) <= 1e-6 * between[0]).all()


@pytest.mark.parametrize("key", FAULTS)
def test_every_fault_makes_another_car_or_another_sender(key: str) -> None:
    """No fault is a name without effect: on some demo it makes another plan, oil is lost, or what a sender shows differs; and every demo with it can be computed."""
    fault = FAULTS[key]
    faulty = (Faulty(fault, 1.0),)
    acts = False
    for name in NAMES:
        plan = demos.demo_plan(name)
        script = script_from("idle 10 oil=100", plan)
        run = simulate(Scenario(plan, script, full=True, faults=faulty))
        assert np.isfinite(run.port_pa).all()
        sound = simulate(Scenario(plan, script, full=True))
        other = any(
            (a != b).any()
            for a, b in zip(sensed(run).channels.values(), sensed(sound).channels.values(), strict=True)
        )
        acts |= as_it_is(plan, faulty, (1.0,)) != plan or bool(run.masses.lost.any()) or other
    assert acts


@pytest.mark.parametrize("key", ["dip", "flat"])
def test_a_bend_of_a_fault_stays_within_what_a_plan_holds(key: str) -> None:
    """With the entry at the lowest place a plan may have, a dip under it would lie outside of what it may hold."""
    plan = paths.put(demos.demo_plan("coupe"), "turbos.0.drain.entry.z_mm", -1500.0)
    made = as_it_is(plan, (Faulty(FAULTS[key], 1.0),), (1.0,))
    assert made.turbos[0].drain.points[-1].z_mm >= -1500.0


@pytest.mark.parametrize(
    ("text", "seconds"), [("crank 12", 12.0), ("off 5, idle 2 min, 2500 rpm 30 load=0.4 left=-0.3", 155.0)]
)
def test_a_script_in_words(text: str, seconds: float) -> None:
    assert script_from(text, demos.demo_plan()).seconds == seconds


@pytest.mark.parametrize("name", SCRIPTS)
def test_every_named_script_can_be_driven(name: str) -> None:
    drive = script_from(name, demos.demo_plan()).driven(0.1)
    assert len(drive.time_s) == len(drive.rpm)
    assert (np.diff(drive.time_s) > 0.0).all()


@pytest.mark.parametrize(
    "text",
    ["", "idle", "fly 20", "idle 20 load=much", "idle 20 load=7", "idle 0", "99999 rpm 5", "idle 900 min"],
)
def test_a_script_that_says_nothing_usable_is_refused(text: str) -> None:
    with pytest.raises(InputError, match="script"):
        script_from(text, demos.demo_plan())


@pytest.mark.parametrize("text", ["gremlins", "screen=2", "screen=x", "screen=0.5@-3", "screen=0.5@1+y"])
def test_a_fault_that_cannot_be_is_refused(text: str) -> None:
    with pytest.raises(InputError, match="fault"):
        faulty_from(text)


def test_a_drain_at_rest_has_the_plans_freeboard() -> None:
    """Held in a condition, the freeboard is that of the plan, to 2 mm (fewer pieces along the hose)."""
    plan = demos.demo_plan("coupe")
    e = evaluate(plan)
    i = assemble.condition_index(plan, "hot idle")
    t, free, filled = _held(plan, plan.conditions[i], 5.0).freeboard
    assert free[0, -1] == pytest.approx(e.drainage.freeboard_m[i], abs=2e-3)
    assert (filled < 1.0).all()
    assert len(t) == free.shape[1]
