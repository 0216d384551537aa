# SPDX-License-Identifier: GPL-3.0-or-later
"""Senders calibrated against a gauge, and what they read: from volts to pressure, and how far a zero is off."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.model import CalPoint, Plan, Sender
from gravidon.records.recording import Recording

ZERO_SHARE = 0.01
"""[-] of full scale by which a zero may be off before it is told; common practice, no source."""
SHEET_SHARE, LINE_SHARE = 0.02, 0.005
"""[-] of full scale (95 %) of a sender by its data sheet alone, and of one with a line through points; common practice, no source."""
LEAST_SUPPLY = 0.2
"""[-] of the nominal supply under which a measured one is none; project choice."""
LEAST_SPAN = 0.2
"""[-] of full scale that calibration points must span for a slope to be taken from them; project choice."""


@dataclass(frozen=True)
class Calibration:
    """A sender's line: volts at nominal supply for no pressure [V] and pressure a volt [Pa/V]; what it rests on ("sheet", "zero" or "line"); line less
    gauge at each point [Pa]; and how far off a reading may be (95 %) [Pa]."""

    zero_v: float
    pa_per_v: float
    rests_on: str
    residuals_pa: tuple[float, ...]
    accuracy_pa: float

    def pressure_pa(self, volts: Array | float, supply_share: Array | float = 1.0) -> Array:
        """Return the pressure of a reading [Pa gauge]."""
        result: Array = self.pa_per_v * (np.asarray(volts) / np.asarray(supply_share) - self.zero_v)
        return result


def supply_share(sender: Sender, supply_v: Array | float | None) -> Array | float:
    """Return the supply over its nominal [-]: 1 where the sender has a regulator of its own or nobody measured it."""
    if not sender.ratiometric or supply_v is None:
        return 1.0
    share = np.asarray(supply_v) / sender.supply_v
    return np.where(share > LEAST_SUPPLY, share, 1.0)


def _at_nominal(sender: Sender, point: CalPoint) -> float:
    return float(point.volts / np.asarray(supply_share(sender, point.supply_v)))


@lru_cache(maxsize=64)
def calibration(sender: Sender) -> Calibration:
    """Return a sender's line: of its data sheet; moved to its zero, where one point was taken; or through two and more.

    Equation: least squares of pressure over volts at nominal supply; with two points, the line through both.

    Raises: nothing; points that span less than LEAST_SPAN of full scale move the sheet's line and do not turn it.
    Source: linear sender.
    """
    full = si(sender, "full_kpa")
    slope = full / (sender.high_v - sender.low_v)
    if not sender.points:
        return Calibration(sender.low_v, slope, "sheet", (), SHEET_SHARE * full)
    v = np.array([_at_nominal(sender, p) for p in sender.points])
    p = np.array([si(point, "pressure_kpa") for point in sender.points])
    turned = len(v) > 1 and np.ptp(p) >= LEAST_SPAN * full and np.ptp(v) > 0.0
    if turned:
        fitted, offset = np.polyfit(v, p, 1)
        turned = fitted > 0.0
    if turned:
        zero = -offset / fitted
        slope = float(fitted)
    else:
        zero = float(np.mean(v - p / slope))
    residuals = tuple(float(r) for r in slope * (v - zero) - p)
    scatter = float(np.sqrt(np.mean(np.square(residuals)))) if len(v) > 2 else 0.0
    known = LINE_SHARE if turned else SHEET_SHARE / 2.0
    return Calibration(
        float(zero), slope, "line" if turned else "zero", residuals, max(known * full, 2.0 * scatter)
    )


def sheet_only(sender: Sender) -> Calibration:
    """Return the line of a sender's data sheet alone."""
    return calibration(sender.model_copy(update={"points": ()}))


@dataclass(frozen=True)
class Zero:
    """A sender read with the engine off: what it shows [Pa], whether that is more than a zero may be off, and the volts to set it to [V]."""

    shows_pa: float
    off: bool
    volts: float


def zero_check(sender: Sender, volts: float, supply_v: float | None = None) -> Zero:
    """Return what a sender shows without pressure, by its calibration as it stands."""
    share = supply_share(sender, supply_v)
    shows = float(calibration(sender).pressure_pa(volts, share))
    at_nominal = float(np.asarray(volts) / np.asarray(share))
    return Zero(shows, abs(shows) > ZERO_SHARE * si(sender, "full_kpa"), at_nominal)


def with_point(sender: Sender, pressure_kpa: float, volts: float, supply_v: float) -> Sender:
    """Return a sender with another point; a zero replaces the zero it had.

    Raises: pydantic's error if a number is out of its bounds.
    """
    new = CalPoint(pressure_kpa=pressure_kpa, volts=volts, supply_v=supply_v)
    kept = tuple(p for p in sender.points if not (pressure_kpa == 0.0 and p.pressure_kpa == 0.0))
    points = tuple(sorted((*kept, new), key=lambda p: p.pressure_kpa))
    return Sender.model_validate({**{n: getattr(sender, n) for n in Sender.model_fields}, "points": points})


def converted(plan: Plan, values: Mapping[str, float]) -> dict[str, float]:
    """Return one row's channels with every sender's volts as pressure; a pressure that was sent as such stays."""
    made = {k: v for k, v in values.items() if not k.endswith("_v")}
    for sender in plan.senders:
        volts = values.get(f"{sender.channel}_v")
        if volts is not None and sender.channel not in made:
            line, supply = calibration(sender), values.get("supply")
            share = supply / sender.supply_v if sender.ratiometric and supply else 1.0
            made[sender.channel] = line.pa_per_v * (
                volts / (share if share > LEAST_SUPPLY else 1.0) - line.zero_v
            )
    return made


def converted_recording(plan: Plan, recording: Recording) -> Recording:
    """Return a recording with every sender's volts as pressure, so far as the plan says which sender sits where."""
    channels = {k: v for k, v in recording.channels.items() if not k.endswith("_v")}
    for sender in plan.senders:
        volts = recording.channels.get(f"{sender.channel}_v")
        if volts is not None and sender.channel not in channels:
            share = supply_share(sender, recording.channels.get("supply"))
            channels[sender.channel] = calibration(sender).pressure_pa(volts, share)
    return replace(recording, channels=channels)


def unplaced(plan: Plan, channels: tuple[str, ...]) -> tuple[str, ...]:
    """Return the channels in volts for which the plan has no sender."""
    known = {f"{s.channel}_v" for s in plan.senders}
    return tuple(c for c in channels if c.endswith("_v") and c not in known)
