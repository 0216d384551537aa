# SPDX-License-Identifier: GPL-3.0-or-later
"""What the simulated senders show: the truth within their stated spread, and nothing but it."""

import numpy as np
import pytest

from gravidon.physics.sender import sender_pressure, sender_volts
from gravidon.plan import demos
from gravidon.study.car.car import Scenario, simulate
from gravidon.study.car.faults import FAULTS, Faulty
from gravidon.study.car.script import script_from
from gravidon.study.car.senses import CONVERTER_V, SENDER_GAIN, plain_senders, sensed
from gravidon.study.solve.senders import SHEET_SHARE


def test_the_usual_sender_reads_half_a_volt_at_nothing_and_four_and_a_half_at_full() -> None:
    """The common ratiometric sender, 0.5 to 4.5 V on 5 V (common practice, no source); on 4.8 V all of it sinks by 4 %."""
    assert float(sender_volts(0.0, 0.5, 4.5, 1e6)) == 0.5
    assert float(sender_volts(1e6, 0.5, 4.5, 1e6)) == 4.5
    assert float(sender_volts(1e6, 0.5, 4.5, 1e6, 0.96)) == pytest.approx(4.32)
    pressure = np.linspace(0.0, 1e6, 11)
    assert sender_pressure(sender_volts(pressure, 0.5, 4.5, 1e6, 0.97), 0.5, 4.5, 1e6, 0.97) == pytest.approx(
        pressure
    )


def test_senders_show_the_truth_within_their_spread() -> None:
    """Over many cars the shown inlet pressure less the true one has the spread of zero and span together (statistics, 40 cars)."""
    plan = demos.demo_plan("coupe").model_copy(update={"senders": ()})
    s = plain_senders(plan)[1]
    full = s.full_kpa * 1e3
    off = []
    for seed in range(40):
        run = simulate(Scenario(plan, script_from("idle 20 oil=95", plan), seed=seed, full=True, spread=0.0))
        made = sensed(run, 10.0)
        share = made.channels["supply"] / s.supply_v
        shown = sender_pressure(made.channels["inlet_v"], s.low_v, s.high_v, full, share)
        off.append(float(shown[-50:].mean() - run.port_pa[0, -50:].mean()))
    usual = full * np.hypot(0.5 * SHEET_SHARE, SENDER_GAIN * run.port_pa[0, -1] / full)
    assert 0.6 * usual < np.std(off) < 1.5 * usual
    assert abs(np.mean(off)) < 3.0 * usual / np.sqrt(40)


def test_volts_come_in_the_steps_of_the_converter() -> None:
    plan = demos.demo_plan("coupe")
    made = sensed(simulate(Scenario(plan, script_from("crank 5, idle 5", plan))))
    steps = made.channels["gallery_v"] / CONVERTER_V
    assert steps == pytest.approx(np.round(steps), abs=1e-9)


def test_a_lying_sender_lies_and_the_other_does_not() -> None:
    plan = demos.demo_plan("coupe")
    script = script_from("idle 20 oil=95", plan)
    lie = (Faulty(FAULTS["sender-inlet"], 1.0),)
    honest = sensed(simulate(Scenario(plan, script, full=True)))
    lying = sensed(simulate(Scenario(plan, script, full=True, faults=lie)))
    more = (lying.channels["inlet_v"] - honest.channels["inlet_v"]).mean()
    assert more == pytest.approx(4.0 * 60e3 / 1e6, rel=0.1)
    assert lying.channels["gallery_v"] == pytest.approx(honest.channels["gallery_v"])


def test_the_same_scenario_is_logged_alike() -> None:
    plan = demos.demo_plan("van")
    run = simulate(Scenario(plan, script_from("crank 5, idle 10", plan), seed=4))
    one, two = sensed(run), sensed(run)
    assert all((one.channels[k] == two.channels[k]).all() for k in one.channels)
