# SPDX-License-Identifier: GPL-3.0-or-later
"""Belief over causes and pairs of them, exactly: every hypothesis is counted, none is sampled.

Signs and outcomes count as independent of one another once the causes are known. A pair shows a sign by its log-odds: what each of the two adds to the sign's own rate is added. There are some
fifty causes, so some thirteen hundred hypotheses; a table of them times signs is a few hundred kilobytes, and a posterior a sum of its columns.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt
from scipy.special import expit, logit

from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.study.car.car import hidden
from gravidon.study.car.faults import FAULTS, Faulty, as_it_is
from gravidon.study.diagnosis.prior import Prior, prior
from gravidon.study.diagnosis.showing import (
    can_run,
    outcome_chance,
    planned,
    shown_by,
    sign_chance,
    smoke_chance,
)
from gravidon.study.diagnosis.tables import Cause, Sign, Tables, Test, tables
from gravidon.study.health.fit import Health
from gravidon.study.health.outlook import Outlook
from gravidon.study.solve.kept import Kept

Numbers = npt.NDArray[np.intp]
ELSE, ELSE_NAME = "something-else", "something else"
"""Key and name of what no row of the table is."""
ELSE_PRIOR, PAIRS_PRIOR = 0.03, 0.08
"""Share of belief before any sign that it is something else, and that it is two causes at once; common practice, no source."""
SEVERITIES = (0.4, 0.55, 0.7, 0.85, 0.97)
"""How bad a simulated cause may be, all as likely; each is run in another car within the plan's tolerances."""
LOOKED_AT = 20
"""Cars within the tolerances that are looked at for those which show nothing while nothing is wrong with them."""
TRUST = 0.65
"""Weight of what the simulated car shows against the table's row; project choice."""
ANYWAY = 0.35
"""Share of what the car as planned shows by itself that counts for a cause which no finding of the plan speaks for; project choice."""
LEAST, MOST = 0.03, 0.97
"""No answer is surer than this: who answers may be wrong."""
FLAT = 0.08
"""Share of every outcome that is chance: who tests may be wrong."""
ELSE_SHOWS, ELSE_RATE = 0.15, 0.5
"""Something else shows a sign as often as this, and this share of the sign's own rate on top; common practice, no source."""
ELSE_FLAT = 0.2
"""Share of a test's outcome that is chance where something else is wrong; project choice."""
MORE_SMOKE = 0.25
"""Chance of smoke over the planned car's, from which a car within the tolerances is not a quiet one; project choice."""
UNTESTED, TELLS_TIMES = 0.9, 2.0
"""Belief that no cause exceeds which no test has told from the rest, and how many times likelier a test's result must be with it than
without to do so; project choices."""
FLOOR = 0.005
"""Belief in something else that is always left."""


@dataclass(frozen=True, eq=False)
class Model:
    """All that belief needs of one plan's car.

    Fields: plan; tables; prior; keys of the causes that can be, and last something else; sign keys that can be asked; chance of each sign by cause, (causes + 1, signs); chance of each outcome by
    cause, by test, (causes + 1, outcomes); features of the car as planned; and of every simulated cause, (severities, features).
    """

    plan: Plan
    tables: Tables
    prior: Prior
    keys: tuple[str, ...]
    weight: Array
    signs: tuple[str, ...]
    sign_chance: Array
    outcome_chance: Mapping[str, Array]
    sound: Array
    run: Mapping[str, Array]

    @cached_property
    def pairs(self) -> tuple[Numbers, Numbers]:
        """Numbers of the first and second cause of every pair, (pairs,) each; something else is in none."""
        n = len(self.keys) - 1
        first, second = np.triu_indices(n, 1)
        return first.astype(np.intp), second.astype(np.intp)

    @cached_property
    def log_prior(self) -> Array:
        """Logarithm of the belief in every hypothesis before any sign, (hypotheses,): single causes, something else, pairs."""
        first, second = self.pairs
        w = self.weight
        together = w[first] * w[second]
        single = (1.0 - ELSE_PRIOR - PAIRS_PRIOR) * w
        made = np.concatenate([single, [ELSE_PRIOR], PAIRS_PRIOR * together / max(together.sum(), 1e-300)])
        logs: Array = np.log(np.maximum(made, 1e-300))
        return logs

    @cached_property
    def yes(self) -> Array:
        """Chance of a yes to every sign under every hypothesis, (hypotheses, signs)."""
        first, second = self.pairs
        rate = np.array([self.tables.signs[s].rate for s in self.signs])
        odds = logit(np.clip(self.sign_chance, LEAST, MOST))
        both = expit(odds[first] + odds[second] - logit(np.clip(rate, LEAST, MOST)))
        every: Array = np.clip(np.concatenate([self.sign_chance, both]), LEAST, MOST)
        return every

    @cached_property
    def come(self) -> Mapping[str, Array]:
        """Chance of every outcome of every test under every hypothesis, (hypotheses, outcomes)."""
        first, second = self.pairs
        made = {}
        for key, single in self.outcome_chance.items():
            base = np.maximum(np.array(self.tables.tests[key].base), 1e-3)
            both = single[first] * single[second] / base
            every = np.concatenate([single, both / both.sum(axis=1, keepdims=True)])
            made[key] = (1.0 - FLAT) * every + FLAT / every.shape[1]
        return made

    def belief(self, answers: Mapping[str, bool], results: Mapping[str, int]) -> Belief:
        """Return the belief after answers (sign key to yes or no) and results (test key to number of its outcome).

        What cannot be asked of this plan is passed over.
        """
        total = self.log_prior.copy()
        at = {s: k for k, s in enumerate(self.signs)}
        for sign, answer in answers.items():
            if sign in at:
                p = self.yes[:, at[sign]]
                total += np.log(p if answer else 1.0 - p)
        for test, outcome in results.items():
            if test in self.come:
                total += np.log(self.come[test][:, outcome])
        total -= total.max()
        weight = np.exp(total)
        return Belief(self, self._untested(weight / weight.sum(), results))

    def _untested(self, weight: Array, results: Mapping[str, int]) -> Array:
        """Return weights with no cause above UNTESTED that no test has told from the rest: signs alone do not settle one."""
        n = len(self.keys)
        first, second = self.pairs
        for k in range(n - 1):
            mine = np.concatenate([np.arange(n) == k, (first == k) | (second == k)])
            has = float(weight[mine].sum())
            if has <= UNTESTED:
                continue
            rest = np.where(mine, 0.0, weight) / max(1.0 - has, 1e-300)
            own = np.where(mine, weight, 0.0) / has
            told = [
                float(own @ p[:, o]) / max(float(rest @ p[:, o]), 1e-12) for p, o in self._come_of(results)
            ]
            if max(told, default=0.0) < TELLS_TIMES:
                weight = np.where(mine, weight * UNTESTED / has, weight * (1.0 - UNTESTED) / (1.0 - has))
        return weight

    def _come_of(self, results: Mapping[str, int]) -> list[tuple[Array, int]]:
        return [(self.come[test], outcome) for test, outcome in results.items() if test in self.come]


@dataclass(frozen=True, eq=False)
class Belief:
    """Weights of the hypotheses, summing to 1, (hypotheses,): single causes, something else, pairs."""

    model: Model
    weight: Array

    @cached_property
    def causes(self) -> Array:
        """Belief that each cause is there, alone or with another, (causes + 1,), the last something else: never less than FLOOR, so nothing ever 1."""
        made = (1.0 - FLOOR) * self._shared(1.0)
        made[-1] += FLOOR
        return np.minimum(made, 1.0 - FLOOR)

    def _shared(self, share: float) -> Array:
        """Return every cause's own weight, and so much of each pair's that it is in, (causes + 1,)."""
        n = len(self.model.keys)
        made = self.weight[:n].copy()
        for numbers in self.model.pairs:
            np.add.at(made, numbers, share * self.weight[n:])
        return made

    @cached_property
    def ranked(self) -> tuple[tuple[str, float], ...]:
        """Causes and belief in them, likeliest first."""
        order = np.argsort(-self.causes, kind="stable")
        return tuple((self.model.keys[k], float(self.causes[k])) for k in order)

    @cached_property
    def by_place(self) -> dict[str, float]:
        """Where the belief sits along the oil's path, by place; something else is nowhere. Sums to less than 1."""
        share = self._shared(0.5)
        found: dict[str, float] = {}
        for key, value in zip(self.model.keys[:-1], share[:-1], strict=True):
            place = self.model.tables.causes[key].place
            found[place] = found.get(place, 0.0) + float(value) * (1.0 - FLOOR)
        return found

    @property
    def pair(self) -> tuple[str, str, float] | None:
        """The likeliest pair and its belief; None where no pair can be."""
        n = len(self.model.keys)
        both = self.weight[n:]
        if not len(both):
            return None
        best = int(both.argmax())
        first, second = self.model.pairs
        return self.model.keys[int(first[best])], self.model.keys[int(second[best])], float(both[best])


def running(plan: Plan) -> Iterator[float]:
    """Run a plan's car with every fault it could have, one fault a step; yield the share that is done. `model` then has it at hand.

    Raises: GravidonError if the plan cannot be computed.
    """
    known = tables()
    before = prior(plan, known)
    keys = tuple(k for k, p in zip(before.keys, before.plan, strict=True) if p > 0.0)
    faults = dict.fromkeys(c.fault for c in _that_run(known, keys))
    for done, fault in enumerate(faults):
        yield done / len(faults)
        _run(plan, fault)


def model(
    plan: Plan, health: Health | None = None, outlook: Outlook | None = None, by_plan: bool = True
) -> Model:
    """Return what belief needs of a plan's car: every cause that can be simulated is run in every situation.

    Args:
        plan: the plan.
        health, outlook: what the logbook's entries were fitted to.
        by_plan: False looks everything up in the tables and takes practice's word for what is likely, as a chart of symptoms does.

    Raises: GravidonError if the plan cannot be computed.
    """
    known = tables()
    before = prior(plan, known, health, outlook)
    possible = before.plan > 0.0 if by_plan else np.ones(len(before.keys), dtype=bool)
    keys = tuple(k for k, p in zip(before.keys, possible, strict=True) if p)
    weight = (before.plan * before.log if by_plan else 1.0) * before.practice
    weight = weight[possible] / weight[possible].sum()
    own = known.of(plan)
    _, sound = planned(plan)
    run = {c.key: _run(plan, c.fault) for c in _that_run(known, keys)} if by_plan else {}
    spoken = {k for k, f in zip(before.keys, before.plan, strict=True) if f > 1.0}
    rates = np.array([s.rate for s in own.signs.values()])
    columns = [
        _sign(s, [known.causes[k] for k in keys], run, sound, spoken)
        if by_plan
        else _looked_up(s, [known.causes[k] for k in keys])
        for s in own.signs.values()
    ]
    chance = np.concatenate([np.array(columns).T, [ELSE_RATE * rates + ELSE_SHOWS]])
    outcomes = {key: _outcomes(test, keys, run, sound) for key, test in own.tests.items()}
    return Model(plan, known, before, (*keys, ELSE), weight, tuple(own.signs), chance, outcomes, sound, run)


def cause_name(known: Tables, key: str) -> str:
    """Return a cause's name by its key, something else among them."""
    return ELSE_NAME if key == ELSE else known.causes[key].name


def _that_run(known: Tables, keys: Sequence[str]) -> list[Cause]:
    """Return the causes that can be run in a car."""
    return [known.causes[k] for k in keys if can_run(known.causes[k])]


_CARS: Kept[tuple[Plan, ...]] = Kept(16)
_RUNS: Kept[Array] = Kept(1024)
"""Cars and what they show by plan (and fault): a logbook's new entry runs none of them again."""


def _cars(plan: Plan) -> tuple[Plan, ...]:
    """Return cars within the plan's tolerances, one for each severity: first those that smoke no more than the planned one does."""
    standing, sound = planned(plan)
    return _CARS.of(standing, lambda: _drawn(standing, sound))


def _drawn(standing: Plan, sound: Array) -> tuple[Plan, ...]:
    as_planned = smoke_chance(sound, sound)
    quiet: list[Plan] = []
    loud: list[Plan] = []
    for seed in range(1, LOOKED_AT + 1):
        car = hidden(standing, seed, 1.0)
        more = smoke_chance(shown_by(car, sound), sound) - as_planned
        (quiet if more.max() < MORE_SMOKE else loud).append(car)
        if len(quiet) == len(SEVERITIES):
            break
    return tuple((*quiet, *loud)[: len(SEVERITIES)])


def _run(plan: Plan, fault: str) -> Array:
    """Return what a plan's cars with a fault show, a severity each, (severities, features)."""
    standing, sound = planned(plan)

    def made() -> Array:
        worse = (
            as_it_is(car, (Faulty(FAULTS[fault], severity),), (1.0,))
            for severity, car in zip(SEVERITIES, _cars(plan), strict=True)
        )
        return np.array([shown_by(car, sound) for car in worse])

    return _RUNS.of((standing, fault), made)


def _looked_up(sign: Sign, causes: Sequence[Cause]) -> list[float]:
    """Return the chance of a sign by cause, by the table's rows."""
    return [c.signs.get(sign.key, sign.rate) for c in causes]


def _sign(
    sign: Sign, causes: Sequence[Cause], run: Mapping[str, Array], sound: Array, spoken: set[str]
) -> list[float]:
    """Return the chance of a sign by cause: run where the cause can be, else by the table, with what the car as planned shows anyway.

    Args:
        sign, causes: the sign, and the causes in their order.
        run: what cars with a cause show, by its key.
        sound: features of the car as planned.
        spoken: causes that a finding of the plan speaks for: what the planned car shows by itself is then their doing.
    """
    rows = _looked_up(sign, causes)
    if not sign.shows:
        return rows
    anyway = float(sign_chance(sign, sound[None, :], sound)[0])
    made = []
    for cause, row in zip(causes, rows, strict=True):
        if cause.key not in run:
            made.append(1.0 - (1.0 - row) * (1.0 - ANYWAY * anyway))
            continue
        shown = float(sign_chance(sign, run[cause.key], sound).mean())
        if cause.key not in spoken:
            shown *= 1.0 - (1.0 - ANYWAY) * anyway
        made.append(TRUST * shown + (1.0 - TRUST) * row)
    return made


def _outcomes(test: Test, keys: Sequence[str], run: Mapping[str, Array], sound: Array) -> Array:
    """Return the chance of each outcome of a test by cause, (causes + 1, outcomes): read off the car where it was run and no row says otherwise."""
    rows = []
    for cause in keys:
        row = np.array(test.finds.get(cause, test.base))
        if test.shows is not None and cause in run and cause not in test.finds:
            row = TRUST * outcome_chance(test, run[cause], sound).mean(axis=0) + (1.0 - TRUST) * row
        rows.append(row)
    rows.append((1.0 - ELSE_FLAT) * np.array(test.base) + ELSE_FLAT / len(test.base))
    made = np.array(rows)
    shares: Array = made / made.sum(axis=1, keepdims=True)
    return shares
