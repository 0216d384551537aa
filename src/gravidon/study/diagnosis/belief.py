"""Belief over causes and pairs of them, exactly: every hypothesis is counted, none is sampled.

Signs and outcomes count as independent of one another once the causes are known. A pair shows a sign by its log-odds: what each of the two adds to the sign's own rate is added. There are some
fifty causes, so some thirteen hundred hypotheses; a table of them times signs is a few hundred kilobytes, and a posterior a sum of its columns.
"""

from __future__ import annotations

from collections.abc import Mapping
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
from gravidon.study.diagnosis.showing import against, features_or, outcome_chance, planned, sign_chance
from gravidon.study.diagnosis.tables import Tables, has, tables
from gravidon.study.health.fit import Health
from gravidon.study.health.outlook import Outlook

Numbers = npt.NDArray[np.intp]
ELSE = "something-else"
"""Key of what no row of the table is."""
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
        return Belief(self, weight / weight.sum())


@dataclass(frozen=True, eq=False)
class Belief:
    """Weights of the hypotheses, summing to 1, (hypotheses,): single causes, something else, pairs."""

    model: Model
    weight: Array

    @cached_property
    def causes(self) -> Array:
        """Belief that each cause is there, alone or with another, (causes + 1,), the last something else: never less than FLOOR, so nothing ever 1."""
        n = len(self.model.keys)
        first, second = self.model.pairs
        single, both = self.weight[:n], self.weight[n:]
        made = single.copy()
        np.add.at(made, first, both)
        np.add.at(made, second, both)
        made *= 1.0 - FLOOR
        made[-1] += FLOOR
        return np.minimum(made, 1.0 - FLOOR)

    @property
    def ranked(self) -> tuple[tuple[str, float], ...]:
        """Causes and belief in them, likeliest first."""
        order = np.argsort(-self.causes, kind="stable")
        return tuple((self.model.keys[k], float(self.causes[k])) for k in order)

    @property
    def by_place(self) -> dict[str, float]:
        """Where the belief sits along the oil's path, by place; something else is nowhere. Sums to less than 1."""
        n = len(self.model.keys)
        first, second = self.model.pairs
        share = self.weight[:n].copy()
        np.add.at(share, first, 0.5 * self.weight[n:])
        np.add.at(share, second, 0.5 * self.weight[n:])
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
    there = has(plan)
    signs = tuple(k for k, s in known.signs.items() if set(s.needs) <= there)
    tests = {k: t for k, t in known.tests.items() if set(t.needs) <= there}
    standing, sound = planned(plan)
    run: dict[str, Array] = {}
    if by_plan:
        cars = _cars(standing, sound)
        faults: dict[str, Array] = {}
        for key in keys:
            fault = known.causes[key].fault
            if fault and FAULTS[fault].worse is not None:
                if fault not in faults:
                    faults[fault] = _run(cars, fault, sound)
                run[key] = faults[fault]
    spoken = {k for k, f in zip(before.keys, before.plan, strict=True) if f > 1.0}
    chance = np.array(
        [[_sign(known, k, s, run.get(k), sound, by_plan, k in spoken) for s in signs] for k in keys]
    )
    rates = np.array([known.signs[s].rate for s in signs])
    chance = np.concatenate([chance, [0.5 * rates + 0.15]])
    outcomes = {key: _outcomes(known, keys, key, run, sound, by_plan) for key in tests}
    return Model(plan, known, before, (*keys, ELSE), weight, signs, chance, outcomes, sound, run)


def _cars(standing: Plan, sound: Array) -> tuple[Plan, ...]:
    """Return cars within the plan's tolerances, one for each severity: first those that smoke no more than the planned one does."""
    smoke = [s for s in tables().signs.values() if s.group == "smoke" and s.shows]
    planned = [float(sign_chance(s, sound[None, :], sound)[0]) for s in smoke]
    quiet: list[Plan] = []
    loud: list[Plan] = []
    for seed in range(1, LOOKED_AT + 1):
        car = hidden(standing, seed, 1.0)
        found = against(features_or(car, sound), sound)
        more = [
            float(sign_chance(s, found[None, :], sound)[0]) - p for s, p in zip(smoke, planned, strict=True)
        ]
        (quiet if max(more) < 0.25 else loud).append(car)
        if len(quiet) == len(SEVERITIES):
            break
    return tuple((*quiet, *loud)[: len(SEVERITIES)])


def _run(cars: tuple[Plan, ...], fault: str, sound: Array) -> Array:
    rows = []
    for severity, car in zip(SEVERITIES, cars, strict=True):
        worse = as_it_is(car, (Faulty(FAULTS[fault], severity),), (1.0,))
        rows.append(against(features_or(worse, sound), sound))
    return np.array(rows)


def _sign(
    known: Tables, cause: str, sign: str, run: Array | None, sound: Array, by_plan: bool, spoken: bool
) -> float:
    """Return the chance that a cause shows a sign: run where it can be, else by the table, with what the car as planned shows anyway.

    Args:
        spoken: whether a finding of the plan speaks for the cause: what the planned car shows by itself is then its doing.
    """
    it = known.signs[sign]
    row = known.causes[cause].signs.get(sign, it.rate)
    if not by_plan or not it.shows:
        return row
    anyway = float(sign_chance(it, sound[None, :], sound)[0])
    if run is None:
        return 1.0 - (1.0 - row) * (1.0 - ANYWAY * anyway)
    shown = float(sign_chance(it, run, sound).mean())
    if not spoken:
        shown *= 1.0 - (1.0 - ANYWAY) * anyway
    return TRUST * shown + (1.0 - TRUST) * row


def _outcomes(
    known: Tables, keys: tuple[str, ...], key: str, run: Mapping[str, Array], sound: Array, by_plan: bool
) -> Array:
    """Return the chance of each outcome of a test by cause, (causes + 1, outcomes)."""
    test = known.tests[key]
    rows = []
    for cause in keys:
        row = np.array(test.finds.get(cause, test.base))
        if by_plan and test.shows is not None and cause in run and cause not in test.finds:
            row = TRUST * outcome_chance(test, run[cause], sound).mean(axis=0) + (1.0 - TRUST) * row
        rows.append(row)
    flat = np.full(len(test.outcomes), 1.0 / len(test.outcomes))
    rows.append(0.8 * np.array(test.base) + 0.2 * flat)
    made = np.array(rows)
    shares: Array = made / made.sum(axis=1, keepdims=True)
    return shares
