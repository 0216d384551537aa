# SPDX-License-Identifier: GPL-3.0-or-later
"""The logbook's readings held against the plan, one by one."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.records.entry import Entry
from gravidon.records.quick import HOT_C
from gravidon.study.health.fit import distances_km
from gravidon.study.solve.at_points import Points, pressure_side

COLD_K, FAST_RPM = 333.15, 1700.0
"""[K] of oil below which a reading is a cold one, and [rpm] from which a hot one was taken at speed; project choices."""
LEAST_PA = 1e3
"""[Pa] that the plan must expect for a reading to be held against it; project choice."""
LAST_HOT = 6
"""Hot idles whose oil temperature is taken for the next one's; project choice."""


@dataclass(frozen=True)
class Held:
    """One inlet reading: its distance [km], its pressure over what the plan expects at that speed and oil temperature [-], its kind ("idle", "speed",
    "cold") and its entry's number."""

    km: float
    share: float
    kind: str
    entry: int


def kind_of(rpm: float, oil_k: float) -> str:
    """Return the kind of a reading.

    >>> kind_of(850.0, 370.0), kind_of(2600.0, 370.0), kind_of(1100.0, 290.0)
    ('idle', 'speed', 'cold')
    """
    if oil_k < COLD_K:
        return "cold"
    return "speed" if rpm >= FAST_RPM else "idle"


def held_against(plan: Plan, entries: Sequence[Entry]) -> tuple[Held, ...]:
    """Return every inlet reading over what the plan expects there; none where the plan is so odd that nothing can be computed of it.

    Args:
        plan: the plan.
        entries: the logbook's, by day.
    """
    rows = [
        (k, r)
        for k, e in enumerate(entries)
        for r in e.readings
        if r.rpm > 0.0 and math.isfinite(r.inlet_pa) and r.turbo < len(plan.turbos)
    ]
    if not rows:
        return ()
    rpm, oil = (np.array([getattr(r, name) for _, r in rows]) for name in ("rpm", "oil_k"))
    try:
        side = pressure_side(plan, Points(rpm, oil))
    except GravidonError:
        return ()
    km = distances_km(entries)
    expected = [float(side.gauge_pa(r.turbo)[j]) for j, (_, r) in enumerate(rows)]
    return tuple(
        Held(float(km[k]), r.inlet_pa / wanted, kind_of(r.rpm, r.oil_k), k)
        for (k, r), wanted in zip(rows, expected, strict=True)
        if wanted > LEAST_PA
    )


def usual_hot_c(entries: Sequence[Entry]) -> float:
    """Return the oil temperature that "hot" means for a car [°C]: the mean of its last hot idles; that of common practice where there is none."""
    hot = [r.oil_k for e in entries for r in e.readings if r.rpm > 0.0 and kind_of(r.rpm, r.oil_k) == "idle"]
    return float(np.mean(hot[-LAST_HOT:])) - 273.15 if hot else HOT_C
