# SPDX-License-Identifier: GPL-3.0-or-later
"""Gravity and scavenge pump side by side: the same plan evaluated both ways."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from gravidon.errors import GravidonError
from gravidon.plan import paths
from gravidon.plan.model import Plan
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.trials import trial

Way = Literal["gravity", "scavenge"]
WAYS: tuple[Way, Way] = ("gravity", "scavenge")
GRAVITY_STATIONS = ("seat", "drain", "entry", "breather", "scavenge")


@dataclass(frozen=True)
class DrainWay:
    """One way of taking the oil home: least freeboard [m] and where, conditions in which a seal is wet, deepest
    fill [-], the findings of the gravity side, and the plan that drains so; or why the plan cannot."""

    way: Way
    plan: Plan
    least_freeboard_m: float
    worst_condition: str
    wet: int
    fill: float
    findings: tuple[Finding, ...]
    refused: str = ""

    @property
    def bad(self) -> int:
        """How many findings are bad."""
        return sum(f.severity == "bad" for f in self.findings)


def both_ways(e: Evaluation) -> tuple[DrainWay, DrainWay]:
    """Return gravity and scavenge for the evaluation's turbo, each evaluated; the plan's own is not done again."""
    first, second = (_way(e, way) for way in WAYS)
    return first, second


def _way(e: Evaluation, way: Way) -> DrainWay:
    plan = e.plan
    if e.line.drain_by != way:
        try:
            plan = paths.put(plan, e.at("drain_by"), way)
            e = trial(plan).evaluation.of(e.index)
        except GravidonError as error:
            return DrainWay(
                way, plan, float("nan"), "", 0, 0.0, (), str(error).partition("expected ")[2] or str(error)
            )
    free = e.drainage.freeboard_m
    i = int(free.argmin())
    mine = tuple(f for f in trial(e.plan).findings if f.turbo == e.index and f.station in GRAVITY_STATIONS)
    return DrainWay(
        way,
        plan,
        float(free[i]),
        e.names[i],
        int((free < 0.0).sum()),
        float(np.max(e.drainage.worst_fill)),
        mine,
    )
