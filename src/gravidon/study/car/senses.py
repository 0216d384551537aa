# SPDX-License-Identifier: GPL-3.0-or-later
"""What the car's senders show of the truth: noise, offset, steps of the converter, delay; and the lines a logger makes of it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.model import Plan, Sender
from gravidon.records.lines import heading_line, row_line
from gravidon.records.recording import Recording
from gravidon.records.stand_in import Timed, paced
from gravidon.study.car.car import Run
from gravidon.study.car.faults import grown
from gravidon.study.solve.senders import calibration
from gravidon.translate import tr

CONVERTER_V = 5.0 / 1024.0
"""[V] one step of a ten-bit converter on 5 V."""
SENDER_NOISE, SENDER_GAIN, LINE_GAIN = 0.002, 0.01, 0.002
"""[-] of full scale: a sender's noise, the spread of its span from one to the next, and that left by a line through points (each one standard deviation); common
practice, no source."""
PRESSURE_S, OIL_S = 0.05, 3.0
"""[s] lag of a pressure sender on its thread, and of a temperature sender in the oil; common practice, no source."""
OIL_NOISE_K, RPM_NOISE = 0.3, 6.0
"""[K], [rpm] noise (one standard deviation) of the oil's temperature and of the engine's speed; common practice, no source."""
SUPPLY_V, SUPPLY_NOISE = 5.0, 0.01
"""[V] the senders' supply, and its wandering; common practice, no source."""


@dataclass(frozen=True)
class Fitted:
    """One sender as it truly is: the plan's, and how far its zero and its span lie off the plan's line [-] of full scale."""

    sender: Sender
    zero_off: float
    gain_off: float


def plain_senders(plan: Plan) -> tuple[Sender, ...]:
    """Return the plan's senders; where it has none, one at the gallery and one at each turbo's inlet."""
    if plan.senders:
        return plan.senders
    inlets = (Sender(label=tr("inlet sender"), at="inlet", turbo=k) for k in range(len(plan.turbos)))
    return (Sender(label=tr("gallery sender")), *inlets)


def fitted(plan: Plan, seed: int) -> tuple[Fitted, ...]:
    """Return the senders of one car with their hidden errors: off the plan's line by half of how far a reading of it may be off, so the less the better calibrated."""
    dice = np.random.default_rng([seed, 21])
    made = []
    for s in plain_senders(plan):
        line = calibration(s)
        offset = 0.5 * line.accuracy_pa / si(s, "full_kpa")
        gain = SENDER_GAIN if line.rests_on != "line" else LINE_GAIN
        made.append(Fitted(s, float(offset * dice.standard_normal()), float(gain * dice.standard_normal())))
    return tuple(made)


def _lagged(values: Array, step_s: float, lag_s: float) -> Array:
    from gravidon.study.home.replay import lagged

    return lagged(values, step_s, lag_s)


def sensed(run: Run, rate_hz: float = 20.0) -> Recording:
    """Return what a logger would have kept of a run, so many rows a second: engine speed, oil temperature, senders' volts, supply.

    The same scenario gives the same recording.
    """
    step = run.scenario.step_s
    every = max(round(1.0 / (rate_hz * step)), 1)
    rows = slice(None, None, every)
    t = run.time_s[rows]
    dice = np.random.default_rng([run.scenario.seed, 34])
    supply = SUPPLY_V + SUPPLY_NOISE * dice.standard_normal() + 0.002 * dice.standard_normal(len(t))
    speed = np.where(run.rpm[rows] > 0.0, run.rpm[rows] + RPM_NOISE * dice.standard_normal(len(t)), 0.0)
    oil = _lagged(run.oil_k, step, OIL_S)[rows] + OIL_NOISE_K * dice.standard_normal(len(t))
    channels: dict[str, Array] = {"rpm": np.maximum(np.round(speed), 0.0), "oil": np.round(oil * 10.0) / 10.0}
    for it in fitted(run.scenario.plan, run.scenario.seed):
        s = it.sender
        true = run.gallery_pa if s.at == "gallery" else run.port_pa[s.turbo]
        shown = _lagged(true, step, PRESSURE_S)[rows] + _drift(run, s, t)
        full = si(s, "full_kpa")
        shown = (
            shown * (1.0 + it.gain_off)
            + full * it.zero_off
            + full * SENDER_NOISE * dice.standard_normal(len(t))
        )
        share = supply / s.supply_v if s.ratiometric else 1.0
        line = calibration(s)
        volts = (line.zero_v + shown / line.pa_per_v) * share
        channels[f"{s.channel}_v"] = np.clip(np.round(volts / CONVERTER_V) * CONVERTER_V, 0.0, 5.0)
    channels["supply"] = np.round(supply, 3)
    return Recording(run.scenario.plan.name, t, channels)


def _drift(run: Run, sender: Sender, t: Array) -> Array:
    """Return what a lying sender adds [Pa]."""
    total = np.zeros(len(t))
    for faulty in run.scenario.faults:
        if faulty.fault.sender == sender.at:
            total = total + faulty.fault.sender_pa * faulty.severity * np.array(
                [grown(faulty, float(x)) for x in t]
            )
    return total


def timed_lines(recording: Recording, with_checksum: bool = True) -> Iterator[Timed]:
    """Yield a recording as a logger sends it, line by line, the heading first and now and then again."""
    keys = ["time", *recording.channels]
    columns = [recording.time_s.tolist(), *(c.tolist() for c in recording.channels.values())]
    rows = ((row[0], row_line(keys, row, with_checksum)) for row in zip(*columns, strict=True))
    return paced(heading_line(keys), rows)
