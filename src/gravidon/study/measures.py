"""The measures a plan is judged by: value against limit in every condition, and the margin left.

Adding a measure means adding one function to MEASURES. A margin is dimensionless: distance to the
limit over a scale that makes margins comparable; negative fails.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from gravidon.parts import sources
from gravidon.physics.arrays import Array
from gravidon.plan.fields import Known, si
from gravidon.study.evaluate import Evaluation

TEMPERATURE_SCALE_K = 25.0
HEIGHT_SCALE_M = 0.020
"""Margin scales: a change this large is a change of one whole margin; project choice."""


@dataclass(frozen=True)
class Measure:
    """One judged quantity over all conditions.

    Fields: code; name; kind of unit; value and limit in SI and margin [-], each (conditions,);
    NaN margins where the measure does not apply. `sign` is +1 where more is better.
    """

    code: str
    name: str
    kind: str
    value: Array
    limit: Array
    margin: Array
    sign: int
    source: str
    station: str


def source_of(value: Known) -> str:
    """Return the source mark of a limit by how it is known."""
    return {
        "guess": sources.COMMON_PRACTICE, "maker": sources.MAKER, "measured": sources.OWN_CHOICE,
    }[value.basis]  # fmt: skip


def _pressure_low(e: Evaluation) -> Measure:
    limit = e.window_pa[:, 0]
    value = e.feed.inlet_pressure_pa
    margin = np.where(np.isfinite(limit), (value - limit) / np.maximum(limit, 1e4), np.nan)
    window = e.line.turbo.window
    return Measure(
        "starved", "inlet", "kpa", value, limit, margin, 1,
        source_of(window.speed_min_kpa), "restrictor",
    )  # fmt: skip


def _pressure_high(e: Evaluation) -> Measure:
    limit = e.window_pa[:, 1]
    value = e.feed.inlet_pressure_pa
    judged = np.isfinite(limit)
    margin = np.where(judged, (limit - value) / np.where(judged, np.maximum(limit, 1e4), 1.0), np.nan)
    window = e.line.turbo.window
    return Measure(
        "over-fed", "inlet", "kpa", value, limit, margin, -1,
        source_of(window.speed_max_kpa), "restrictor",
    )  # fmt: skip


def _outlet(e: Evaluation) -> Measure:
    limit = np.full(len(e.names), si(e.line.turbo.window, "outlet_max_c"))
    value = e.feed.outlet_temperature_k
    running = e.feed.flow_m3_s > 0.0
    margin = np.where(running, (limit - value) / TEMPERATURE_SCALE_K, np.nan)
    return Measure(
        "cooked", "oil out", "degc", value, limit, margin, -1,
        source_of(e.line.turbo.window.outlet_max_c), "restrictor",
    )  # fmt: skip


def _freeboard(e: Evaluation) -> Measure:
    limit = np.full(len(e.names), si(e.plan.needs, "freeboard_mm"))
    value = e.drainage.freeboard_m
    return Measure(
        "freeboard", "freeboard", "mm", value, limit, (value - limit) / HEIGHT_SCALE_M, 1,
        source_of(e.plan.needs.freeboard_mm), "drain",
    )  # fmt: skip


def _fill(e: Evaluation) -> Measure:
    limit = np.full(len(e.names), si(e.plan.needs, "fill_max"))
    value = e.drainage.worst_fill
    running = e.feed.flow_m3_s > 0.0
    margin = np.where(running, (limit - value) / limit, np.nan)
    return Measure(
        "choked", "drain fill", "share", value, limit, margin, -1,
        source_of(e.plan.needs.fill_max), "drain",
    )  # fmt: skip


def _entry(e: Evaluation) -> Measure:
    limit = np.zeros(len(e.names))
    value = e.drainage.submergence_m
    running = e.feed.flow_m3_s > 0.0
    margin = np.where(running & e.route.ends_in_fitting, -value / HEIGHT_SCALE_M, np.nan)
    return Measure("drowned", "over entry", "mm", value, limit, margin, -1, sources.COMMON_PRACTICE, "entry")


MEASURES: tuple[Callable[[Evaluation], Measure], ...] = (
    _pressure_low, _pressure_high, _outlet, _freeboard, _fill, _entry,
)  # fmt: skip


@lru_cache(maxsize=8)
def measures(e: Evaluation) -> tuple[Measure, ...]:
    """Return every measure of an evaluation."""
    return tuple(make(e) for make in MEASURES)


@dataclass(frozen=True)
class WorstMargin:
    """The measure with least margin in one condition."""

    measure: Measure
    index: int

    @property
    def margin(self) -> float:
        """Margin [-]; negative fails."""
        return float(self.measure.margin[self.index])


def worst_margins(e: Evaluation) -> tuple[WorstMargin, ...]:
    """Return the worst measure of each condition, over all turbos."""
    found = [m for lens in e.all for m in measures(lens)]
    table = np.array([m.margin for m in found])
    table = np.where(np.isnan(table), np.inf, table)
    return tuple(WorstMargin(found[int(row)], i) for i, row in enumerate(table.argmin(axis=0)))
