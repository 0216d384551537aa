# SPDX-License-Identifier: GPL-3.0-or-later
"""What the plan predicts for the speed and the oil temperature of now: gallery and inlet pressure with their bands."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.study.car.car import Scenario, hidden, simulate
from gravidon.study.car.script import CRANK_RPM, Script, Stretch
from gravidon.study.solve.at_points import Points, pressure_side

CARS = 40
"""Cars drawn from the plan's tolerances; project choice."""
LOW, HIGH, WIDER = 5.0, 95.0, 2.0
"""Percentiles of the cars drawn, and how many times as far from the plan's figure the band reaches: beyond it lies one sound car in a
thousand, were they normal (2 · 1.645 = 3.3 standard deviations): a call to stop must mean something; project choice."""
STANDS_RPM = 50.0
"""[rpm] under which an engine stands; project choice."""
SPEEDS = (
    150.0,
    220.0,
    320.0,
    450.0,
    600.0,
    750.0,
    900.0,
    1100.0,
    1350.0,
    1700.0,
    2200.0,
    2600.0,
    3000.0,
    3500.0,
    4000.0,
    4700.0,
    5500.0,
    6500.0,
    8000.0,
    10000.0,
)
TEMPERATURES_C = (-20.0, -5.0, 8.0, 20.0, 32.0, 44.0, 56.0, 68.0, 80.0, 92.0, 106.0, 125.0, 150.0)


@dataclass(frozen=True)
class Band:
    """A pressure as the plan predicts it, and its band [Pa gauge]."""

    low_pa: float
    plan_pa: float
    high_pa: float

    def place(self, value_pa: float, accuracy_pa: float = 0.0) -> str:
        """Return where a reading lies: "low", "in" or "high"; a sender's accuracy widens the band."""
        if value_pa < self.low_pa - accuracy_pa:
            return "low"
        return "high" if value_pa > self.high_pa + accuracy_pa else "in"


@dataclass(frozen=True)
class Expected:
    """Tables over oil temperature and engine speed, each (3, temperatures, speeds): low, as planned, high [Pa gauge]; by channel. And how many cars
    the bands rest on so far, out of how many."""

    tables: dict[str, Array]
    cars: int
    of: int = CARS

    def at(self, channel: str, rpm: float, oil_k: float) -> Band:
        """Return a channel's band, straight between the table's points.

        Raises: KeyError for a channel that is no pressure of this plan.
        """
        table = self._plain[channel]
        if rpm <= STANDS_RPM:
            return Band(0.0, 0.0, 0.0)
        j, u = _between(SPEEDS, rpm)
        i, v = _between(TEMPERATURES_C, oil_k - 273.15)
        low, mid, high = (
            (t[i][j] * (1 - u) + t[i][j + 1] * u) * (1 - v)
            + (t[i + 1][j] * (1 - u) + t[i + 1][j + 1] * u) * v
            for t in table
        )
        return Band(low, mid, high)

    def from_oil(self, channel: str, rpm: float, least_k: float) -> Band:
        """Return the band that holds at any oil temperature from `least_k` [K] on: for oil that is read no more and may have warmed."""
        warmer = (t + 273.15 for t in TEMPERATURES_C if t + 273.15 > least_k)
        known = [least_k] if math.isfinite(least_k) else []
        bands = [self.at(channel, rpm, oil) for oil in (*known, *warmer)]
        return Band(min(b.low_pa for b in bands), bands[0].plan_pa, max(b.high_pa for b in bands))

    @cached_property
    def _plain(self) -> dict[str, list[list[list[float]]]]:
        """The tables as plain numbers: for one reading at a time."""
        return {name: table.tolist() for name, table in self.tables.items()}

    def over(self, channel: str, rpm: Array, oil_k: Array) -> Array:
        """Return low, planned and high [Pa gauge] along speeds and temperatures, (3, times); nothing where the engine stands."""
        table = self.tables[channel]
        x = np.interp(rpm, SPEEDS, np.arange(len(SPEEDS)))
        y = np.interp(oil_k - 273.15, TEMPERATURES_C, np.arange(len(TEMPERATURES_C)))
        j, i = np.minimum(x.astype(int), len(SPEEDS) - 2), np.minimum(y.astype(int), len(TEMPERATURES_C) - 2)
        u, v = x - j, y - i
        made: Array = (
            table[:, i, j] * (1 - u) * (1 - v)
            + table[:, i, j + 1] * u * (1 - v)
            + table[:, i + 1, j] * (1 - u) * v
            + table[:, i + 1, j + 1] * u * v
        )
        return np.where(rpm > STANDS_RPM, made, 0.0)


def _between(grid: tuple[float, ...], value: float) -> tuple[int, float]:
    """Return the place before a value on a grid, and how far it is on to the next, held inside the grid."""
    k = min(max(bisect_right(grid, value) - 1, 0), len(grid) - 2)
    return k, min(max((value - grid[k]) / (grid[k + 1] - grid[k]), 0.0), 1.0)


def channels_of(plan: Plan) -> tuple[str, ...]:
    """Return the pressure channels of a plan: the gallery's, and each turbo's inlet."""
    return ("gallery", *(f"inlet{k + 1}" if k else "inlet" for k in range(len(plan.turbos))))


def _tables(plan: Plan) -> list[Array]:
    side = pressure_side(plan, Points(np.array(SPEEDS)[None, :], np.array(TEMPERATURES_C)[:, None] + 273.15))
    return [side.gallery_pa, *(side.gauge_pa(k) for k in range(len(plan.turbos)))]


def expected(plan: Plan, cars: int = CARS) -> Iterator[Expected]:
    """Yield ever better bands, car by car; the last rests on all of them. The first has the plan's own figures alone."""
    names = channels_of(plan)
    planned = _tables(plan)
    drawn: list[list[Array]] = []
    for k in range(cars):
        yield _gathered(names, planned, drawn, cars)
        drawn.append(_tables(hidden(plan, 1000 + k, 1.0)))
    yield _gathered(names, planned, drawn, cars)


def _gathered(names: tuple[str, ...], planned: list[Array], drawn: list[list[Array]], of: int) -> Expected:
    tables = {}
    for k, name in enumerate(names):
        every = np.array([planned[k], *(car[k] for car in drawn)])
        low, high = np.percentile(every, [LOW, HIGH], axis=0)
        down, up = np.maximum(planned[k] - low, 0.0), np.maximum(high - planned[k], 0.0)
        tables[name] = np.stack(
            [np.maximum(planned[k] - WIDER * down, 0.0), planned[k], planned[k] + WIDER * up]
        )
    return Expected(tables, len(drawn), of)


def cranked_s(plan: Plan, oil_k: float) -> tuple[float, ...]:
    """Return how long each turbo waits for oil when the starter turns the dry engine [s]; inf where it does not come within a minute and a half."""
    run = simulate(Scenario(plan, Script((Stretch(90.0, CRANK_RPM),)), spread=0.0, start_k=oil_k))
    return tuple(float(a) for a in run.arrived_s)
