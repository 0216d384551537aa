# SPDX-License-Identifier: GPL-3.0-or-later
"""Wires that lie in ways which the simulated car's own list of faults does not have: what a recording becomes on its way to the reader."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from gravidon.plan.model import Plan
from gravidon.records.recording import Recording
from gravidon.study.bench.expected import Expected
from gravidon.study.bench.first_start import FirstStart, Sample
from gravidon.study.solve.senders import converted

Row = dict[str, float]
Wire = Callable[[Row, float, float, np.random.Generator], Row]
"""Row as the car sent it, its time, when the fault begins [s], dice -> the row that arrives."""
PRESSURES = ("gallery_v", "inlet_v", "inlet2_v")


def _without(row: Row, *names: str) -> Row:
    return {k: v for k, v in row.items() if k not in names}


def _volts_at_no_pressure(row: Row, dice: np.random.Generator, noise_v: float = 0.004) -> Row:
    return row | {k: 0.5 + noise_v * dice.standard_normal() for k in row if k in PRESSURES}


def empty(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return _without(row, *PRESSURES) if t >= at else row


def inlet_empty(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return _without(row, "inlet_v") if t >= at else row


def open_wire(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return row | ({"inlet_v": 0.0} if t >= at else {})


def stuck() -> Wire:
    held: Row = {}

    def wire(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
        if t >= at:
            held.update({k: held.get(k, row[k]) for k in row if k in PRESSURES})
        return row | held

    return wire


def stuck_from_power_on(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return row | {k: 2.2 for k in row if k in PRESSURES}


def pulsing(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return _volts_at_no_pressure(row, dice) if t >= at and (t - at) % 10.0 < 1.9 else row


def pump_dead(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return _volts_at_no_pressure(row, dice) if t >= at else row


def pump_dead_clock_back(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    row = pump_dead(row, t, at, dice)
    return row | ({"time": t - at - 1.0} if t >= at + 1.0 else {})


def pump_dead_clock_stands(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return pump_dead(row, t, at, dice) | ({"time": at} if t >= at else {})


def pump_dead_clock_backwards(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return pump_dead(row, t, at, dice) | ({"time": 2 * at - t} if t >= at else {})


def pump_dead_speed_drops(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    row = pump_dead(row, t, at, dice)
    return row | ({"rpm": 0.0} if t >= at and round(t * 10) % 15 == 0 else {})


def pump_dead_no_speed(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return _without(pump_dead(row, t, at, dice), "rpm")


def pump_dead_speed_lost(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    row = pump_dead(row, t, at, dice)
    return _without(row, "rpm") if t >= at - 5.0 else row


def pump_dead_noise(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    """Noise of 15 kPa on a 10 bar sender: 0.06 V."""
    return _volts_at_no_pressure(row, dice, 0.06) if t >= at else row


def pump_dead_spikes(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    row = pump_dead(row, t, at, dice)
    return row | ({k: 2.0 for k in row if k in PRESSURES} if t >= at and round(t * 10) % 19 == 0 else {})


def weak_without_oil_gauge(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    """Pressure sinks to a tenth, and the oil's temperature is read no more."""
    if t < at:
        return row
    return _without({k: 0.5 + 0.1 * (v - 0.5) if k in PRESSURES else v for k, v in row.items()}, "oil")


def dry_feed(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return row | {k: 0.5 + 0.004 * dice.standard_normal() for k in row if k.startswith("inlet")}


def dry_feed_off_zero(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    """A dry inlet whose sender shows two per cent of its span, always."""
    return row | {k: 0.58 + 0.004 * dice.standard_normal() for k in row if k.startswith("inlet")}


def relief_shut(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return row | {k: 0.5 + 2.2 * (row[k] - 0.5) for k in row if k in PRESSURES and row["rpm"] > 500.0}


def swapped(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return row | {"gallery_v": row["inlet_v"], "inlet_v": row["gallery_v"]}


def scaled(factor: float) -> Wire:
    def wire(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
        return row | {k: 0.5 + factor * (row[k] - 0.5) for k in row if k in PRESSURES}

    return wire


def as_sent(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    return row


def glitches(row: Row, t: float, at: float, dice: np.random.Generator) -> Row:
    """A sound car whose logger loses a cell or a row's speed now and then, and whose oil cell comes once a second."""
    if dice.random() < 0.02:
        row = _without(row, str(dice.choice(PRESSURES)))
    if dice.random() < 0.02:
        row = row | {"rpm": 0.0}
    return row if round(t * 10) % 10 == 0 else _without(row, "oil")


@dataclass
class Told:
    """What a first start said: the stop and when, the first watch of each reason and when, the steps that were measured, and where it ended."""

    bench: FirstStart
    stopped_s: float = math.nan
    watches: dict[str, float] | None = None
    measured: tuple[str, ...] = ()


def through(
    plan: Plan,
    bands: Expected | None,
    made: Recording,
    wire: Wire,
    at: float,
    seed: int,
    host: bool = False,
    until_s: float = math.inf,
) -> Told:
    """Send a recording through a wire, tick what only a tick passes while the engine stands or nothing is measured, until it says stop."""
    bench, dice, told = FirstStart(plan, bands), np.random.default_rng([seed, 77]), Told(FirstStart(plan))
    told.bench, told.watches = bench, {}
    measured: list[str] = []
    for k, t in enumerate(made.time_s):
        sent = {"time": float(t), **{key: float(v[k]) for key, v in made.channels.items()}}
        row = wire(sent, float(t), at, dice)
        before = bench.at
        bench.see(Sample.of(converted(plan, row), row), float(t) if host else math.nan)
        measured += [] if bench.at == before else [(bench.passed and list(bench.passed)[-1]) or ""]
        call = bench.call()
        if call.kind == "watch":
            told.watches.setdefault(call.reason, float(t))
        if bench.stop is not None:
            told.stopped_s = float(t)
        if bench.stop is not None or t > until_s:
            break
        _ticked(bench, sent, float(t))
    told.measured = tuple(measured)
    return told


def _ticked(bench: FirstStart, sent: Row, t: float) -> None:
    """Tick as a builder at the car does, who sees whether the engine runs: what must be done is done."""
    speed = sent["rpm"]
    while (step := bench.step) is not None and bench.takes_a_tick:
        ready = {
            "crank": t > 45.0,
            "fire": speed > 500.0,
            "idle": t > 100.0,
            "warm": t > 480.0,
            "load": t > 560.0,
        }
        ready |= {"leaks": speed < 50.0 and t > 120.0, "recheck": speed < 50.0 and t > 600.0}
        if not ready.get(step.key, True):
            return
        bench.tick()
