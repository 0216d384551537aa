# SPDX-License-Identifier: GPL-3.0-or-later
"""Senders calibrated, what the plan predicts now, and the first start: right calls for sound cars and for those that must be stopped."""

import math
from collections.abc import Callable

import numpy as np
import pytest

from gravidon.plan import demos, paths
from gravidon.plan.model import CalPoint, Plan, Sender
from gravidon.study.bench.expected import (
    SPEEDS,
    TEMPERATURES_C,
    Band,
    channels_of,
    cranked_s,
    expected,
)
from gravidon.study.bench.first_start import KEYS, SOUND, STEPS, FirstStart, Sample
from gravidon.study.car.car import Scenario, simulate
from gravidon.study.car.faults import FAULTS, Faulty
from gravidon.study.car.script import script_from
from gravidon.study.car.senses import fitted, plain_senders, sensed
from gravidon.study.solve import assemble
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.senders import (
    calibration,
    converted,
    converted_recording,
    unplaced,
    with_point,
    zero_check,
)
from gravidon.words.text import fill
from study.following import shown

PSI = 6894.757293168


def with_senders(name: str) -> Plan:
    plan = demos.demo_plan(name)
    return plan.model_copy(update={"senders": plain_senders(plan)})


# --- senders ---------------------------------------------------------------------------------


def test_a_sender_that_shows_a_pound_with_the_engine_off() -> None:
    """The trade's case (common practice, no source): a 0 to 150 psi sender reads 1 psi with the engine off until its zero is set to 0.53 V."""
    full = 150.0 * PSI / 1e3
    sender = Sender(label="gallery", full_kpa=full)
    shown = zero_check(sender, 0.5 + 4.0 / 150.0)
    assert shown.shows_pa / PSI == pytest.approx(1.0)
    set_right = with_point(sender, 0.0, shown.volts, 5.0)
    assert calibration(set_right).zero_v == pytest.approx(0.53, abs=0.005)
    assert zero_check(set_right, shown.volts).shows_pa == pytest.approx(0.0, abs=1e-6)
    assert not zero_check(set_right, shown.volts).off


def test_two_points_are_gone_through_and_many_are_fitted() -> None:
    """Two points: the line through both. Many: least squares, checked against numpy's normal equations; the residuals are line less gauge."""
    two = Sender(
        label="x",
        full_kpa=1000,
        points=(CalPoint(pressure_kpa=0, volts=0.53), CalPoint(pressure_kpa=600, volts=2.9)),
    )
    line = calibration(two)
    assert line.rests_on == "line"
    assert float(line.pressure_pa(2.9)) == pytest.approx(600e3)
    assert line.residuals_pa == pytest.approx((0.0, 0.0), abs=1e-3)
    gauge = np.array([0.0, 150.0, 300.0, 450.0, 600.0])
    volts = 0.52 + gauge * 0.0041 + np.array([0.004, -0.006, 0.003, 0.005, -0.006])
    many = two.model_copy(
        update={"points": tuple(CalPoint(pressure_kpa=p, volts=v) for p, v in zip(gauge, volts, strict=True))}
    )
    matrix = np.column_stack([volts, np.ones(5)])
    slope, offset = np.linalg.solve(matrix.T @ matrix, matrix.T @ gauge)
    found = calibration(many)
    assert found.pa_per_v == pytest.approx(slope * 1e3)
    assert found.residuals_pa == pytest.approx(tuple((slope * volts + offset - gauge) * 1e3), abs=1e-3)


def test_a_ratiometric_sender_is_put_right_by_its_supply() -> None:
    """All of it sinks with the supply: 2.4 V on 4.8 V is 2.5 V on 5 V; a sender with its own regulator does not."""
    sender = Sender(label="x", full_kpa=1000)
    plan = demos.demo_plan("coupe").model_copy(update={"senders": (sender,)})
    row = {"time": 0.0, "gallery_v": 2.4, "supply": 4.8}
    assert converted(plan, row)["gallery"] == pytest.approx(500e3)
    own = plan.model_copy(update={"senders": (sender.model_copy(update={"ratiometric": False}),)})
    assert converted(own, row)["gallery"] == pytest.approx((2.4 - 0.5) / 4.0 * 1e6)


def test_points_too_close_together_move_the_line_and_do_not_turn_it() -> None:
    sender = Sender(
        label="x",
        full_kpa=1000,
        points=(CalPoint(pressure_kpa=0, volts=0.52), CalPoint(pressure_kpa=20, volts=0.50)),
    )
    line = calibration(sender)
    assert line.rests_on == "zero"
    assert line.pa_per_v == pytest.approx(250e3)


def test_a_calibration_takes_the_hidden_errors_out() -> None:
    """A simulated sender beside a true gauge at five pressures: afterwards it is right to half a per cent of full scale, before by its hidden errors."""
    plan = demos.demo_plan("coupe")
    for seed in range(12):
        it = fitted(plan, seed)[1]
        s = it.sender
        pressures = np.array([0.0, 150e3, 300e3, 450e3, 600e3])
        shown = pressures * (1.0 + it.gain_off) + s.full_kpa * 1e3 * it.zero_off
        volts = s.low_v + (s.high_v - s.low_v) * shown / (s.full_kpa * 1e3)
        for p, v in zip(pressures, volts, strict=True):
            s = with_point(s, float(p) / 1e3, float(v), 5.0)
        assert np.asarray(calibration(s).pressure_pa(volts)) == pytest.approx(pressures, abs=0.005 * 1e6)


def test_a_recording_in_volts_becomes_pressures_where_the_plan_knows_the_sender() -> None:
    plan = with_senders("van")
    made = sensed(simulate(Scenario(plan, script_from("idle 10 oil=95", plan), full=True)), 10.0)
    there = converted_recording(plan, made)
    assert {"gallery", "inlet", "inlet2"} <= set(there.channels)
    bare = demos.demo_plan("van")
    assert unplaced(bare.model_copy(update={"senders": ()}), tuple(made.channels)) == (
        "gallery_v",
        "inlet_v",
        "inlet2_v",
    )
    row = {"time": 1.0, **{k: float(v[5]) for k, v in made.channels.items()}}
    assert converted(plan, row)["inlet2"] == pytest.approx(float(there.channels["inlet2"][5]))


# --- bands -----------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def coupe():
    plan = with_senders("coupe")
    *_, bands = expected(plan)
    return plan, bands


def test_the_plans_own_figure_lies_in_the_band_and_is_the_evaluations(coupe) -> None:
    """At the plan's conditions the middle is `evaluate`'s own, to 3 % (straight between the table's points)."""
    plan, bands = coupe
    e = evaluate(plan)
    for i, c in enumerate(plan.conditions):
        if c.kind.turning and c.kind.warm:
            band = bands.at("gallery", c.rpm, c.oil_temperature_c + 273.15)
            assert band.plan_pa == pytest.approx(float(e.supply.gallery_pa[i]), rel=0.03)
            inlet = bands.at("inlet", c.rpm, c.oil_temperature_c + 273.15)
            gauge = float(assemble.gauge_pressure(e.line, e.feed)[i])
            assert inlet.low_pa < gauge < inlet.high_pa


def test_one_reading_and_many_are_read_from_the_table_alike(coupe) -> None:
    _, bands = coupe
    dice = np.random.default_rng(2)
    rpm, oil = dice.uniform(60, 9000, 40), dice.uniform(255, 420, 40)
    many = bands.over("inlet", rpm, oil)
    for k in range(40):
        one = bands.at("inlet", float(rpm[k]), float(oil[k]))
        assert (one.low_pa, one.plan_pa, one.high_pa) == pytest.approx(tuple(many[:, k]))
    assert bands.at("gallery", SPEEDS[3], TEMPERATURES_C[4] + 273.15).plan_pa == pytest.approx(
        bands.tables["gallery"][1, 4, 3]
    )


def test_sound_cars_lie_in_the_bands(coupe) -> None:
    """Sixty cars drawn otherwise, idling hot: hardly one outside (it reaches 3.3 standard deviations either side)."""
    plan, bands = coupe
    outside = 0
    for seed in range(60):
        run = simulate(Scenario(plan, script_from("idle 3 oil=95", plan), seed=seed, full=True))
        band = bands.at("inlet", float(run.rpm[-1]), float(run.oil_k[-1]))
        outside += band.place(float(run.port_pa[0, -1])) != "in"
    assert outside <= 1


def test_a_band_places_a_reading() -> None:
    band = Band(1e5, 2e5, 3e5)
    assert [band.place(v) for v in (0.9e5, 1.1e5, 3.1e5)] == ["low", "in", "high"]
    assert band.place(0.9e5, accuracy_pa=0.2e5) == "in"


def test_the_starter_takes_as_long_as_the_simulated_car() -> None:
    plan = demos.demo_plan("van")
    run = simulate(Scenario(plan, script_from("crank 60", plan), spread=0.0, start_k=283.15))
    assert cranked_s(plan, 283.15) == pytest.approx(tuple(run.arrived_s), abs=1.1)


# --- the first start ---------------------------------------------------------------------------


def follow(plan: Plan, bands, script: str, seed: int, *faults: Faulty) -> FirstStart:
    """Take a simulated first start as the bench does, ticking at once what only a tick passes; stop where it says stop."""
    run = simulate(Scenario(plan, script_from(script, plan), seed, faults, step_s=0.1))
    made = sensed(run, 5.0)
    bench = FirstStart(plan, bands)
    for _ in shown(bench, plan, made):
        if bench.stop is not None:
            break
    return bench


def test_sound_cars_go_through_to_the_end(coupe) -> None:
    """Twenty sound cars: every step passed, in order, and no call to stop."""
    plan, bands = coupe
    for seed in range(20):
        bench = follow(plan, bands, "first-start", seed)
        assert bench.stop is None, (seed, bench.stop)
        assert bench.step is None
        assert list(bench.passed) == list(KEYS)
        assert bench.call().kind == "done"


@pytest.mark.parametrize("fault", ["kinked", "weak-pump"])
def test_cars_that_must_be_stopped_are(coupe, fault: str) -> None:
    plan, bands = coupe
    for seed in range(5):
        bench = follow(plan, bands, "first-start", seed, Faulty(FAULTS[fault], 1.0))
        assert bench.stop is not None, seed
        assert bench.stop.kind == "stop"


def test_pressure_that_goes_while_running_is_a_stop_within_seconds(coupe) -> None:
    """A pump that dies at 90 s: stopped within five seconds of the sender's zero."""
    plan, bands = coupe
    bench = follow(plan, bands, "first-start", 3, Faulty(FAULTS["weak-pump"], 1.0, 90.0, 3.0))
    assert bench.stop is not None
    assert bench.stop.reason in ("low", "no-pressure")
    assert 90.0 < bench.last.time_s < 100.0


def test_no_oil_on_the_starter_is_told_in_time_and_by_the_plans_time() -> None:
    """A gallery that never fills: the call comes at one and a half times the planned seconds and four more, and names both."""
    plan = with_senders("coupe")
    bench = FirstStart(plan)
    for _ in range(2):
        bench.tick()
    planned = bench.planned_s[0]
    t = 0.0
    while bench.stop is None and t < 120.0:
        t += 0.1
        bench.see(Sample(t, 220.0, 288.15, {"gallery": 0.0, "inlet": 0.0}))
    assert bench.stop is not None
    assert bench.stop.reason == "late"
    assert t == pytest.approx(1.5 * planned + 4.0, abs=0.5)
    words = bench.stop.said.text("metric")
    assert f"{planned:.0f} s" in words
    assert "Do not fire" in words


def test_a_pause_on_the_starter_does_not_count_as_cranking() -> None:
    plan = with_senders("coupe")
    bench = FirstStart(plan)
    bench.tick(), bench.tick()
    for k in range(300):
        bench.see(Sample(k * 0.1, 220.0 if k < 80 else 0.0, 288.15, {"gallery": 0.0, "inlet": 0.0}))
    assert bench.turned_s == pytest.approx(8.0, abs=0.3)
    assert bench.stop is None


def test_time_to_oil_is_measured_on_the_starter(coupe) -> None:
    """The measured seconds are those of the simulated truth, to the sender's lag and the half second a sign must last."""
    plan, bands = coupe
    run = simulate(Scenario(plan, script_from("crank 40", plan), 6, step_s=0.1))
    made = sensed(run, 10.0)
    bench = FirstStart(plan, bands)
    bench.tick(), bench.tick()
    for k, t in enumerate(made.time_s):
        row = {"time": float(t), **{key: float(v[k]) for key, v in made.channels.items()}}
        bench.see(Sample.of(converted(plan, row), row))
    assert bench.arrived["inlet"] == pytest.approx(run.arrived_s[0], abs=0.8)


def test_steps_that_nobody_measures_wait_for_the_builders_tick() -> None:
    bench = FirstStart(with_senders("coupe"))
    assert bench.step is STEPS[0]
    assert math.isnan(bench.share())
    bench.see(Sample(0.0, 850.0, 360.0, {"gallery": 2e5, "inlet": 1e5}))
    assert bench.step is STEPS[0], "a running engine passes no tick"
    assert bench.tick()
    assert bench.tick()
    assert bench.step.key == "crank"
    assert not bench.tick(), "and a tick passes nothing that is measured"


def test_without_a_sender_at_the_turbo_the_cracked_joint_and_a_tick_do() -> None:
    plan = demos.demo_plan("coupe")
    bench = FirstStart(plan)
    bench.tick(), bench.tick()
    bench.see(Sample(0.0, 220.0, 288.15, {"gallery": 2e5}))
    assert bench.call().reason == "no-sender"
    assert bench.tick()
    assert bench.step.key == "fire"


def test_after_a_stop_it_goes_on_where_the_cause_lay(coupe) -> None:
    """Oil that never came is cranked for again; a stop while running, with oil seen, goes on with its own step."""
    plan, bands = coupe
    bench = FirstStart(plan, bands)
    bench.tick(), bench.tick()
    t = 0.0
    while bench.stop is None:
        t += 0.1
        bench.see(Sample(t, 220.0, 288.15, {"gallery": 0.0, "inlet": 0.0}))
    assert not bench.tick(), "nothing is passed while it says stop"
    bench.go_on()
    assert bench.stop is None
    assert bench.step.key == "crank"
    assert bench.turned_s == 0.0


def test_silence_with_the_engine_running_is_told_and_an_engine_that_stands_is_not() -> None:
    bench = FirstStart(with_senders("coupe"))
    bench.tick(), bench.tick()
    bench.see(Sample(0.0, 0.0, 288.15, {"gallery": 0.0, "inlet": 0.0}))
    bench.hear_nothing()
    assert bench.call().kind == "go"
    bench.see(Sample(1.0, 220.0, 288.15, {"gallery": 0.0, "inlet": 0.0}))
    bench.hear_nothing()
    assert bench.call().reason == "silent"


@pytest.mark.parametrize(
    ("inlet", "wanted"),
    [
        (lambda t, g: 0.97 * g, "moves"),
        (lambda t, g: 0.97 * g if t < 30.0 else math.nan, "lost"),
        (lambda t, g: 0.97 * g if t < 30.0 else 2.21e5, "stuck"),
        (lambda t, g: 2.0e5 if t < 10.0 else 2.0e5 + 0.5 * g, "zero"),
        (lambda t, g: 1.6 * g, "swapped"),
        (lambda t, g: math.nan, "unread"),
    ],
)
def test_what_can_be_believed_of_a_sender(inlet: Callable[[float, float], float], wanted: str) -> None:
    """An engine that stands for ten seconds, cranks, and idles, its gallery sound; the turbo's sender is what is said of it: one story each."""
    run = FirstStart(with_senders("coupe"))
    run.tick(), run.tick()
    dice = np.random.default_rng(4)
    for k in range(600):
        t = 0.1 * k
        rpm = 0.0 if t < 10.0 else 250.0 if t < 14.0 else 900.0
        gallery = 0.0 if t < 12.0 else 3.0e5 + 1e3 * dice.standard_normal()
        seen = inlet(t, gallery) + (500.0 * dice.standard_normal() if wanted != "stuck" or t < 30.0 else 0.0)
        run.see(Sample(t, rpm + dice.standard_normal(), 330.0, {"gallery": gallery, "inlet": seen}))
        if t < 9.0 and wanted == "moves":
            assert run.sender("inlet") == "rests"
    assert run.sender("inlet") == wanted
    assert run.sender("gallery") == "moves"
    assert (run.sender("inlet") in SOUND) == (wanted == "moves")


def test_hot_oil_is_a_stop(coupe) -> None:
    plan, bands = coupe
    bench = FirstStart(plan, bands)
    for k in range(100):
        bench.see(Sample(k * 0.1, 900.0, 273.15 + 145.0, {"gallery": 2e5, "inlet": 1.5e5}))
    assert bench.stop is not None
    assert bench.stop.reason in ("hot", "low")


@pytest.mark.parametrize("family", ["metric", "imperial"])
def test_every_step_can_be_said(family: str) -> None:
    bench = FirstStart(with_senders("van"))
    while bench.step is not None:
        words = bench.call().said.text(family)
        assert words
        assert "{" not in words
        bench.at += 1
    assert fill(STEPS[0].title, {}, family)


def test_a_clock_set_anew_in_the_device_is_no_time_on_the_starter() -> None:
    bench = FirstStart(with_senders("coupe"))
    bench.tick(), bench.tick()
    for t in (0.0, 0.1, 500.0, 0.0, 0.1):
        bench.see(Sample(t, 220.0, 288.15, {"gallery": 0.0, "inlet": 0.0}))
    assert bench.turned_s == pytest.approx(0.4), "five rows came at the device's usual pace"


def test_channels_of_a_plan() -> None:
    assert channels_of(demos.demo_plan("van")) == ("gallery", "inlet", "inlet2")
    plan = paths.put(demos.demo_plan("coupe"), "senders", (Sender(label="a"),))
    assert plan.senders[0].channel == "gallery"


def test_a_device_without_engine_speed_is_told_and_ticks_do() -> None:
    bench = FirstStart(with_senders("coupe"))
    bench.tick(), bench.tick()
    bench.see(Sample(0.0, math.nan, 300.0, {"gallery": 2e5, "inlet": 1e5}))
    assert bench.call().reason == "no-speed"
    assert bench.takes_a_tick
    assert bench.tick()


def test_another_plan_is_planned_anew_and_what_was_seen_stays() -> None:
    bench = FirstStart(with_senders("coupe"))
    bench.tick()
    before = bench.planned_s
    bench.replan(with_senders("estate"))
    assert bench.planned_s != before
    assert bench.step.key == "prime"
