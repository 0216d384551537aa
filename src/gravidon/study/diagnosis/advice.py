# SPDX-License-Identifier: GPL-3.0-or-later
"""What to ask and what to test next: what it is expected to tell, for the minutes and coins it takes, no more dangerous than allowed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import xlogy

from gravidon.physics.arrays import Array
from gravidon.study.diagnosis.belief import ELSE, Belief, Model
from gravidon.study.diagnosis.case import Case
from gravidon.study.diagnosis.tables import GROUPS, MINUTES_A_COIN, PLACES, Test

OVERHEAD_MIN = 150.0
"""[min] that any test takes beside its own: car and tools out and away again, another evening; set on simulated cars, where less makes five cheap hints of what one look would settle; project choice."""
AT_HAND_MIN, AT_HAND_OVERHEAD_MIN = 12.0, 80.0
"""[min] up to which a test that costs nothing, endangers nobody and takes nothing apart counts as at hand, and what it takes beside its own: zeros,
dipstick and oil on paper come before a spanner; common practice, no source."""
SURE = 0.95
"""Belief from which a cause is worth mending rather than testing on; project choice."""
ASK_BITS, TEST_BITS = 0.0075, 0.02
"""[bit] of expected gain under which a question is not worth asking, and a test not worth doing; project choices."""
BIT = float(np.log(2.0))


@dataclass(frozen=True)
class Advice:
    """One test weighed: the test, expected gain [bit], minutes with what has to come off, coins, gain for every minute and coin (a coin counts as MINUTES_A_COIN, and OVERHEAD_MIN on top), chance of each outcome."""

    test: Test
    gain_bits: float
    minutes: float
    money: float
    worth: float
    chance: tuple[float, ...]


def _entropy(p: Array) -> Array:
    """Return the entropy [nat] of distributions along the last axis."""
    result: Array = -xlogy(p, p).sum(axis=-1)
    return result


def gain(belief: Belief, chance: Array) -> float:
    """Return the expected gain of information [bit] of an observation, (hypotheses, outcomes) being its chances.

    Equation: I(H; O) = S(O) - sum over h of w_h S(O | h), S the entropy; Shannon (1948), Lindley (1956).
    """
    told = belief.weight @ chance
    return max(float(_entropy(told) - belief.weight @ _entropy(chance)), 0.0) / BIT


def open_tests(model: Model, case: Case) -> tuple[Test, ...]:
    """Return the tests of this plan that have no result yet, whatever their danger."""
    return tuple(model.tables.tests[k] for k in model.come if k not in case.results)


def advise(model: Model, belief: Belief, case: Case, everything: bool = False) -> tuple[Advice, ...]:
    """Return the tests that may be done, the most worth first; those over the danger that is allowed only if everything is asked for, last."""
    found = []
    for test in open_tests(model, case):
        chance = model.come[test.key]
        bits = gain(belief, chance)
        minutes = case.minutes(test)
        at_hand = test.money == 0.0 and test.risk == 0 and minutes <= AT_HAND_MIN
        overhead = AT_HAND_OVERHEAD_MIN if at_hand else OVERHEAD_MIN
        cost = overhead + minutes + MINUTES_A_COIN * test.money
        told = belief.weight @ chance
        found.append((bits / cost, bits, minutes, test, told))
    found.sort(key=lambda row: (row[3].risk > case.bar, -row[0]))
    weighed = [
        Advice(test, bits, minutes, test.money, worth, tuple(told.tolist()))
        for worth, bits, minutes, test, told in found
        if everything or test.risk <= case.bar
    ]
    return tuple(_cheap_first(weighed))


TONIGHT, HALF_THE_GAIN, CHEAP_SHARE = 3, 0.5, 0.4
"""Tests that a builder does in an evening; and the share of a test's gain that one must have, for at most that share of its own minutes and coins and
no more danger, to be done before it; project choices."""


def _cheap_first(weighed: list[Advice]) -> list[Advice]:
    """Return tests with those of the evening in the order a builder does them: what tells half as much for far less, and is no more
    dangerous, comes first."""

    def own(it: Advice) -> float:
        return it.minutes + MINUTES_A_COIN * it.money

    left = list(weighed)
    made: list[Advice] = []
    while left and len(made) < TONIGHT:
        best = left[0]
        cheap = [
            it
            for it in left
            if it.gain_bits >= max(HALF_THE_GAIN * best.gain_bits, TEST_BITS)
            and own(it) <= CHEAP_SHARE * own(best)
            and it.test.risk <= best.test.risk
        ]
        first = max(cheap, key=lambda it: it.gain_bits, default=best)
        left.remove(first)
        made.append(first)
    return made + left


def stops(model: Model, case: Case) -> tuple[str, ...]:
    """Return what must not be done while it is as told: signs that mean fire, or a bearing that runs dry."""
    signs = model.tables.signs
    return tuple(signs[k].stop for k, yes in case.answers.items() if yes and k in signs and signs[k].stop)


def splits(
    model: Model, belief: Belief, advice: Advice, most: int = 6
) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Return which places a test splits: those whose belief falls when it finds something, and those whose belief rises; of the likeliest causes."""
    chance = model.come[advice.test.key]
    weight = belief.weight * (1.0 - chance[:, 0])
    after = Belief(model, weight / weight.sum())
    down: dict[str, float] = {}
    up: dict[str, float] = {}
    for key, before in belief.ranked[:most]:
        if key == ELSE:
            continue
        now = float(after.causes[model.keys.index(key)])
        side = up if now > before else down
        place = PLACES[model.tables.causes[key].place]
        side[place] = side.get(place, 0.0) + abs(now - before)

    def names(side: dict[str, float], other: dict[str, float]) -> tuple[str, ...]:
        kept = [p for p, v in side.items() if v >= other.get(p, 0.0)]
        return tuple(sorted(kept, key=lambda p: -side[p])[:2])

    return names(down, up), names(up, down)


def questions(model: Model, belief: Belief, case: Case, most: int = 3) -> tuple[str, ...]:
    """Return the signs that are best asked now, by expected gain; asked ones are left out."""
    return tuple(sign for sign, _ in weighed_questions(model, belief, case)[:most])


def weighed_questions(model: Model, belief: Belief, case: Case) -> tuple[tuple[str, float], ...]:
    """Return the signs that are worth asking now with their expected gain [bit], most first; asked ones are left out."""
    done = set(case.answers) | set(case.unknown)
    found: list[tuple[float, int, str]] = []
    order = list(GROUPS)
    for k, sign in enumerate(model.signs):
        if sign in done:
            continue
        p = model.yes[:, k]
        bits = gain(belief, np.stack([1.0 - p, p], axis=1))
        found.append((-bits, order.index(model.tables.signs[sign].group), sign))
    found.sort()
    return tuple((s, -bits) for bits, _, s in found if -bits > ASK_BITS)


def settled(belief: Belief) -> str:
    """Return the cause that is sure enough to be mended; empty where none is. Something else never is."""
    key, value = belief.ranked[0]
    return key if value >= SURE and key != ELSE else ""


def speaks(model: Model, case: Case, cause: str) -> tuple[tuple[str, float], ...]:
    """Return what speaks for a cause and what against it: signs and tests by key, with how many times likelier each made it than the rest taken together; strongest first.

    Raises: ValueError for a cause that cannot be in this plan.
    """
    k = model.keys.index(cause)
    before = model.belief({}, {})
    rest = before.weight.copy()
    rest[k] = 0.0
    rest /= rest.sum()
    at = {s: n for n, s in enumerate(model.signs)}
    found: list[tuple[str, float]] = []
    for sign, answer in case.answers.items():
        if sign in at:
            p = model.yes[:, at[sign]]
            p = p if answer else 1.0 - p
            found.append((sign, float(p[k] / (rest @ p))))
    for test, outcome in case.results.items():
        if test in model.come:
            p = model.come[test][:, outcome]
            found.append((test, float(p[k] / (rest @ p))))
    return tuple(sorted(found, key=lambda row: -abs(float(np.log(row[1])))))


def cost_minutes(case: Case, tests: Sequence[Test]) -> float:
    """Return what tests cost in that order [min], coins counted as MINUTES_A_COIN, dismantling shared between them."""
    total = 0.0
    for test in tests:
        total += case.minutes(test) + MINUTES_A_COIN * test.money
        case = case.tested(test.key, 0)
    return total
