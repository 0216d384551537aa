# SPDX-License-Identifier: GPL-3.0-or-later
"""Seconds from cranking to oil at the turbo, cold and hot."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gravidon.physics import oil as oils
from gravidon.physics import priming
from gravidon.plan.fields import si
from gravidon.plan.model import Hose, Piece, Plan
from gravidon.study.solve import assemble

PUMP_COLD_S, PUMP_HOT_S = 3.0, 1.0
"""Time the pump itself needs to fill the gallery [s]; common practice, no source."""


@dataclass(frozen=True)
class Arrival:
    """Volume of the dry line to the slowest turbo [m³] and seconds until oil arrives, cold and hot start."""

    volume_m3: float
    cold_s: float
    hot_s: float


def chain_sizes(pieces: Sequence[Piece]) -> tuple[list[float], list[float]]:
    """Return bores and lengths [m] of a chain's hoses, in order (fittings hold next to nothing)."""
    hoses = [p for p in pieces if isinstance(p, Hose)]
    return [si(p, "bore_mm") for p in hoses], [si(p, "length_mm") for p in hoses]


def arrival(plan: Plan, supply: assemble.Supply) -> Arrival:
    """Return the time to oil of the slowest turbo, pump limited where its delivery is known."""
    oil = assemble.oil_of(plan)
    t = assemble.column(plan, "oil_temperature_c")
    mu = oils.dynamic_viscosity(oil, t)
    pumped = si(plan.engine, "pump_cc_rev") * assemble.column(plan, "rpm")
    times, volumes = [], []
    for line in plan.turbos:
        bores, lengths = chain_sizes((*plan.trunk, *line.feed.pieces))
        volume = priming.line_volume(bores, lengths)
        seconds = priming.viscous_fill_time(bores, lengths, np.maximum(supply.tap_pa, 0.0), mu)
        with np.errstate(divide="ignore", invalid="ignore"):
            by_pump = np.where(pumped > 0.0, volume * len(plan.turbos) / pumped, 0.0)
        times.append(np.maximum(seconds, by_pump))
        volumes.append(volume)
    slowest = np.max(times, axis=0)
    return Arrival(
        max(volumes),
        _longest(plan, slowest, warm=False) + PUMP_COLD_S,
        _longest(plan, slowest, warm=True) + PUMP_HOT_S,
    )


def _longest(plan: Plan, seconds: np.ndarray, warm: bool) -> float:
    """Return the longest time among the conditions of a start, cold or warm; 0 if the plan has none."""
    starts = [c.kind.turning and not c.kind.driving and c.kind.warm == warm for c in plan.conditions]
    found = [float(s) for s, start in zip(seconds, starts, strict=True) if start]
    return max(found, default=0.0)


def stack_height_mm(pieces: Sequence[Piece]) -> float:
    """Return how tall the fittings stand over the oil inlet [mm]: all after the last hose."""
    height = 0.0
    for piece in reversed(pieces):
        if isinstance(piece, Hose):
            break
        height += piece.height_mm
    return height
