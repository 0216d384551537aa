# SPDX-License-Identifier: GPL-3.0-or-later
"""A sick car: a plan's car with something wrong in it that nobody is told, and how it answers signs and tests. The same seed gives the same car."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.special import expit, logit

from gravidon.errors import InputError
from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.study.car.car import hidden
from gravidon.study.car.faults import FAULTS, Faulty, as_it_is
from gravidon.study.diagnosis.showing import (
    can_run,
    outcome_chance,
    planned,
    shown_by,
    sign_chance,
    smoke_chance,
)
from gravidon.study.diagnosis.tables import tables

MISSED, SEEN_WRONG = 0.04, 0.01
"""Chance that a sign that is there is not noticed, and that one is told which is not; common practice, no source."""
SLIP = 0.02
"""Chance that a test's outcome is told wrongly; common practice, no source."""
OWN = 0.45
"""How far a car's own shares may lie from the table's rows (standard deviation of their log-odds): no car is the average one; common practice, no source."""


@dataclass(frozen=True)
class Ill:
    """One thing that is wrong: the cause's key and how bad, 0 to 1."""

    cause: str
    severity: float


@dataclass(frozen=True, eq=False)
class SickCar:
    """A car with what is wrong in it. `plan` is what the builder believes; the car is another within the plan's tolerances. `lies` are signs and tests that its gauge tells
    wrongly."""

    plan: Plan
    ills: tuple[Ill, ...]
    seed: int
    lies: frozenset[str] = frozenset()

    @cached_property
    def _features(self) -> tuple[Array, Array]:
        """Features of this car and of the car as planned."""
        standing, sound = planned(self.plan)
        truth = hidden(standing, self.seed, 1.0)
        faults = tuple(
            Faulty(FAULTS[tables().causes[i.cause].fault], i.severity) for i in self.ills if self._run(i)
        )
        return shown_by(as_it_is(truth, faults, (1.0,) * len(faults)), sound), sound

    def _dice(self, key: str) -> np.random.Generator:
        return np.random.default_rng([self.seed, sum(ord(c) * (k + 1) for k, c in enumerate(key)), 91])

    def _run(self, ill: Ill) -> bool:
        return can_run(tables().causes[ill.cause])

    def chance(self, key: str) -> float:
        """Return the chance that this car shows a sign: run where it can be, by its own shares otherwise.

        Raises: InputError if there is no such sign.
        """
        it = tables().sign(key)
        own = OWN * float(self._dice(key).standard_normal())
        base = float(logit(np.clip(it.rate, 0.01, 0.99)))
        odds = 0.0
        for ill in self.ills:
            if it.shows and self._run(ill):
                continue
            row = tables().causes[ill.cause].signs.get(key, it.rate)
            odds += float(logit(np.clip(row, 0.01, 0.99))) - base
        chance = float(expit(base + odds + own))
        if it.shows:
            car, sound = self._features
            shown = float(sign_chance(it, car[None, :], sound)[0])
            alone = all(self._run(ill) for ill in self.ills)
            chance = shown if alone else 1.0 - (1.0 - chance) * (1.0 - shown)
        return chance

    def sign(self, key: str) -> bool:
        """Return whether the builder tells a sign: there, and noticed, or told though it is not.

        Raises: InputError if there is no such sign.
        """
        chance = SEEN_WRONG + (1.0 - SEEN_WRONG - MISSED) * self.chance(key)
        told = bool(self._dice(key + "?").random() < chance)
        return not told if key in self.lies else told

    def outcome(self, key: str) -> int:
        """Return which outcome a test has in this car.

        Raises: InputError if there is no such test.
        """
        test = tables().test(key)
        dice = self._dice(key)
        car, sound = self._features
        p = np.array(test.base)
        for ill in self.ills:
            if ill.cause in test.finds:
                p = p * np.array(test.finds[ill.cause]) / np.array(test.base)
            elif test.shows is not None and self._run(ill):
                p = p * np.maximum(outcome_chance(test, car[None, :], sound)[0], 1e-3) / np.array(test.base)
        p = np.exp(np.log(np.maximum(p, 1e-9)) + 0.5 * OWN * dice.standard_normal(len(p)))
        p /= p.sum()
        p = (1.0 - SLIP) * p + SLIP / len(p)
        made = int(np.searchsorted(np.cumsum(p), dice.random() * p.sum()))
        made = min(made, len(p) - 1)
        return (made + 1) % len(p) if key in self.lies else made

    @cached_property
    def signs(self) -> tuple[str, ...]:
        """Every sign it shows, of those this plan can be asked."""
        return tuple(k for k in tables().of(self.plan).signs if self.sign(k))


SHOWS_ITSELF = 0.25
"""Chance of a sign of smoke from which a car shows it with nothing wrong; project choice."""
MARKED = 0.4
"""Chance of a sign from which it is what the fault makes; project choice."""
COMPLAINTS = ("smoke", "where", "noise", "play", "heat", "pressure")
"""Groups of signs one of which makes a builder ask at all."""


def complaint(car: SickCar, most: int = 3) -> tuple[str, ...]:
    """Return what the builder says first: up to so many of the signs told, by and large the most marked ones first, what only says more of another last; empty where nothing
    would make anybody ask."""
    known = tables()
    told = [s for s in car.signs if known.signs[s].group in COMPLAINTS and known.signs[s].rate < 0.2]
    dice = np.random.default_rng([car.seed, 13])
    weight = {
        s: car.chance(s) / known.signs[s].rate * float(np.exp(0.7 * dice.standard_normal())) for s in told
    }
    return tuple(sorted(told, key=lambda s: (known.signs[s].qualifies, -weight[s]))[:most])


def marked(car: SickCar) -> bool:
    """Return whether what the builder comes with is something that what is wrong makes, not only what any ailing car may show, or what says more of another sign."""
    known = tables()
    return any(
        car.chance(s) >= MARKED and car.chance(s) > 2.0 * known.signs[s].rate
        for s in complaint(car)
        if not known.signs[s].qualifies
    )


def plain(plan: Plan, seed: int) -> bool:
    """Return whether a car of a plan, its hidden values drawn by a seed, shows nothing by itself while nothing is wrong with it."""
    standing, sound = planned(plan)
    return bool(smoke_chance(shown_by(hidden(standing, seed, 1.0), sound), sound).max() < SHOWS_ITSELF)


def draw(
    plan: Plan, seed: int, number: int = 1, quiet: bool = False, of: Sequence[str] = (), most: int = 60
) -> SickCar:
    """Return a sick car of a plan: causes drawn as practice has them, of those that can be, until somebody would complain.

    Args:
        plan: the plan.
        seed: same seed, same car.
        number: how many things are wrong.
        quiet: how bad: mild ones rather than bad ones.
        of: causes to draw from; empty: all.
        most: how many cars are looked at before one that says little, or smokes by its plan, is taken.

    Raises: InputError if none of the causes asked for can be in this plan.
    """
    known = tables().of(plan)
    keys = [k for k in known.causes if not of or k in of]
    if not keys:
        raise InputError("causes", ", ".join(of), "some that can be in this plan")
    weight = np.array([known.causes[k].prior for k in keys])
    dice = np.random.default_rng([seed, 77])

    def one() -> SickCar:
        chosen = dice.choice(len(keys), size=min(number, len(keys)), replace=False, p=weight / weight.sum())
        low, high = (0.3, 0.65) if quiet else (0.5, 1.0)
        ills = tuple(Ill(keys[int(k)], float(round(dice.uniform(low, high), 2))) for k in chosen)
        return SickCar(plan, ills, int(dice.integers(1, 2**31)))

    car = one()
    for _ in range(most - 1):
        if marked(car) and plain(plan, car.seed):
            break
        car = one()
    return car
