# SPDX-License-Identifier: GPL-3.0-or-later
"""A drive replayed: a steady drive is its condition, the lag and the filling are those of the closed forms."""

import numpy as np
import pytest

from gravidon.plan import paths
from gravidon.plan.demos import demo_drive, demo_plan
from gravidon.plan.drive_log import DriveLog, guess_mapping, headings, read_log
from gravidon.study.home.replay import Replay, filling, lagged, moment, replay
from gravidon.study.solve.evaluate import evaluate

EVALUATION = evaluate(paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 2.2))


def drive(seconds: float, left_g: float, rpm: float = 4000.0) -> DriveLog:
    t = np.arange(0.0, seconds, 0.05)
    one = np.ones_like(t)
    return DriveLog("test", t, 0 * t, left_g * one, rpm * one, (105.0 + 273.15) * one, None, 30.0 * t, (), 0)


def whole(log: DriveLog) -> Replay:
    *_, last = replay(EVALUATION, log)
    return last


def test_lag_is_a_first_order_step() -> None:
    """One lag after a step 63.2 % is reached (closed form), in steps of a tenth of it."""
    x = np.concatenate([[0.0], np.ones(30)])
    y = lagged(x, 0.03, 0.3)
    assert y[10] == pytest.approx(1 - np.exp(-1), abs=1e-9)


def test_filling_and_emptying() -> None:
    """At 1/2 s it is full after two seconds; it never runs over; it empties at its own rate (by hand)."""
    rate = np.concatenate([np.full(30, 0.5), np.full(5, -1.0)])
    level = filling(rate, 0.1)
    assert level[19] == pytest.approx(1.0)
    assert level.max() <= 1.0
    assert level[-1] == pytest.approx(0.5)


def test_a_quiet_drive_stays_dry() -> None:
    r = whole(drive(20.0, 0.0))
    assert r.spells == ()
    assert r.share == pytest.approx(1.0)
    assert r.freeboard_m.min() > 0.01


def test_a_sustained_left_wets_the_seal_as_the_condition_says() -> None:
    """0.6 g to the left for good: the steady freeboard is that of the condition's own oil and speed (within what
    heat and froth by speed differ), and the seal wets about as late as the condition says, plus the lag."""
    r = whole(drive(20.0, 0.6))
    i = EVALUATION.names.index("hard left")
    assert r.freeboard_m[-1] < 0.0
    assert len(r.spells) == 1
    assert r.spells[0].start_s <= float(EVALUATION.drainage.time_to_wet_s[i]) + 2.0
    assert r.spells[0].left_g == pytest.approx(0.6, abs=0.01)
    assert r.spells[0].distance_m == pytest.approx(30.0 * r.spells[0].start_s, abs=0.1)


def test_engine_off_makes_no_oil() -> None:
    r = whole(drive(5.0, 0.9, rpm=0.0))
    assert r.inlet_pa.max() == 0.0
    assert r.spells == ()


def test_the_shipped_drive_finds_the_hard_left() -> None:
    """The invented hill road: every wet spell is a left-hander; the log's own pressure drives the feed."""
    text = demo_drive()
    log = read_log(text, guess_mapping(headings(text)))
    parts = list(replay(EVALUATION, log))
    shares = [p.share for p in parts]
    assert shares == sorted(shares)
    assert shares[-1] == pytest.approx(1.0, abs=1e-3)
    assert parts[-1].spells
    assert all(s.left_g > 0.3 for s in parts[-1].spells)


def test_a_spike_in_the_log_is_survived() -> None:
    """4 g ahead and aside, as a bad logger writes: the oil's plane is held at its steepest, the drive goes on."""
    log = drive(4.0, 4.0)
    spiked = DriveLog("spike", log.time_s, log.left_g, log.left_g, log.rpm, log.oil_k, None, None, (), 0)
    r = whole(spiked)
    assert np.isfinite(r.freeboard_m).all()
    assert r.share == pytest.approx(1.0, abs=0.05)


@pytest.mark.parametrize("name", ["estate", "coupe"])
def test_a_moment_of_a_drive_is_what_the_replay_says_of_it(name: str) -> None:
    """Two ways to one figure: the replay marches many states at once, a moment is a plan with one condition. Freeboard within
    2 mm all along the drive, corners and all."""
    e = evaluate(demo_plan(name))
    log = read_log(demo_drive(), guess_mapping(headings(demo_drive())), "road")
    *_, road = replay(e, log)
    for at in np.linspace(5.0, road.time_s[-1] - 5.0, 12):
        k = int(np.searchsorted(road.time_s, at))
        now = moment(e, road, float(at))
        assert float(now.drainage.freeboard_m[0]) == pytest.approx(float(road.freeboard_m[k]), abs=2e-3)
        assert now.plan.conditions[0].rpm == pytest.approx(float(np.interp(at, log.time_s, log.rpm)), abs=1.0)
