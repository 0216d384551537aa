# SPDX-License-Identifier: GPL-3.0-or-later
"""Measure the diagnosis on simulated sick cars: how often the true cause is found, after how many tests and at what cost, whether beliefs are as true as they say, and what
the plan's margins are worth against practice alone.

    PYTHONPATH=src:tests python tools/measure_diagnosis.py CARS [WORKERS]
"""

from __future__ import annotations

import sys
import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import cache

import numpy as np
from scipy.stats import qmc

from gravidon.errors import GravidonError
from gravidon.plan import demos, paths
from gravidon.plan.model import Plan
from gravidon.study.diagnosis.advice import advise, cost_minutes, questions, settled
from gravidon.study.diagnosis.belief import ELSE, Belief, Model, model
from gravidon.study.diagnosis.case import Case
from gravidon.study.diagnosis.sick import SickCar, complaint, draw, plain
from gravidon.study.diagnosis.tables import MINUTES_A_COIN, tables
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.remedies import remedies
from gravidon.study.verdict.trials import trial
from study.families import RANGES, recipe

PLANS, TESTS, ASKED, BETWEEN = 16, 5, 9, 3


def wrong(plan: Plan) -> list[Finding]:
    """Return what is wrong with a plan's oil, threads and parts aside."""
    return [f for f in trial(plan).findings if f.severity == "bad" and not f.code.startswith("thread")]


def mended(plan: Plan) -> Plan:
    """Return a plan with the remedies of what is wrong taken, as far as there are any."""
    for _ in range(6):
        for finding in wrong(plan):
            offered = remedies(trial(plan).evaluation, finding)
            if offered:
                plan = offered[0].plan
                break
        else:
            break
    return plan


def quiet(plan: Plan) -> bool:
    """Return whether most cars of a plan show nothing while nothing is wrong with them."""
    return sum(plain(plan, seed) for seed in range(6)) >= 4


@cache
def plans() -> tuple[Plan, ...]:
    """Return sound plans of many kinds: the demos, mended, and the recipe that is built everywhere, on ball and journal bearings, with and without screen, valve and water."""
    made = [p for p in (mended(demos.demo_plan(n)) for n in demos.NAMES) if not wrong(p) and quiet(p)]
    rows = qmc.LatinHypercube(len(RANGES), rng=np.random.default_rng(8)).random(200)
    screen = demos.demo_plan("coupe").turbos[0].feed.pieces[3]
    for k, row in enumerate(rows):
        if len(made) >= PLANS:
            break
        v = {
            n: low + float(u) * (high - low) for (n, (low, high)), u in zip(RANGES.items(), row, strict=True)
        }
        try:
            plan = recipe(v, "ball" if k % 3 else "journal")
            it = plan.turbos[0]
            if k % 2:
                pieces = (*it.feed.pieces[:1], screen, *it.feed.pieces[1:])
                plan = paths.put(plan, "turbos.0.feed", it.feed.model_copy(update={"pieces": pieces}))
            plan = paths.put(plan, "breather.kind", ("catch can", "valve to intake", "can and valve")[k % 3])
            plan = paths.put(plan, "turbos.0.turbo.cooling", ("oil only", "water")[k % 2])
            plan = mended(plan)
            if not wrong(plan) and quiet(plan):
                made.append(plan)
        except GravidonError:
            continue
    return tuple(made)


@cache
def models(k: int) -> tuple[Model, Model]:
    """Return the model by the plan, and that by practice alone, of one of the plans."""
    return model(plans()[k]), model(plans()[k], by_plan=False)


@dataclass(frozen=True)
class Told:
    """How one car went: place of the true cause in the ranking (1: first) at the complaint by the plan and by practice alone, after the questions, after the tests; tests
    made, their cost [min], what trying causes in order of prior would cost [min], and beliefs with whether they were true."""

    cause: str
    first: int
    first_practice: int
    asked: int
    last: int
    tests: int
    cost: float
    tried: float
    beliefs: tuple[tuple[float, bool], ...]
    slowest_ms: float


def place(belief: Belief, cause: str) -> int:
    """Return the place of a cause in the ranking, from 1."""
    keys = [k for k, _ in belief.ranked if k != ELSE]
    return keys.index(cause) + 1 if cause in keys else 99


def by_prior(made: Model, car: SickCar, cause: str) -> float:
    """Return the minutes of trying causes in order of prior until the true one is reached: each by the cheapest test that finds it seven times in ten."""
    known = tables()
    case, total = Case(), 0.0
    order = sorted(known.causes, key=lambda k: -known.causes[k].prior)
    for key in (k for k in order if k in made.keys):
        able = [
            t
            for t in known.tests.values()
            if t.key in made.come and key in t.finds and t.finds[key][0] <= 0.3
        ]
        if able:
            best = min(able, key=lambda t: case.minutes(t) + MINUTES_A_COIN * t.money)
            if best.key not in case.results:
                total += cost_minutes(case, [best])
                case = case.tested(best.key, 0)
        else:
            total += known.causes[key].minutes + MINUTES_A_COIN * known.causes[key].money
        if key == cause:
            break
    return total


def diagnose(job: tuple[int, int]) -> Told:
    """Follow one car from complaint to the last test."""
    k, seed = job
    made, plain = models(k)
    car = draw(plans()[k], seed)
    cause = car.ills[0].cause
    case = Case()
    for sign in complaint(car):
        case = case.answered(sign, True)
    belief = made.belief(case.answers, case.results)
    first, practice = place(belief, cause), place(plain.belief(case.answers, case.results), cause)
    slowest = 0.0

    def ask(case: Case, most: int) -> tuple[Case, Belief]:
        nonlocal slowest
        belief = made.belief(case.answers, case.results)
        for _ in range(most):
            wanted = questions(made, belief, case, 1)
            if not wanted:
                break
            begin = time.perf_counter()
            case = case.answered(wanted[0], car.sign(wanted[0]))
            belief = made.belief(case.answers, case.results)
            _ = belief.ranked
            slowest = max(slowest, time.perf_counter() - begin)
        return case, belief

    case, belief = ask(case, ASKED)
    asked, cost, tests = place(belief, cause), 0.0, 0
    beliefs = [(float(v), key == cause) for key, v in belief.ranked]
    while tests < TESTS and not settled(belief):
        begin = time.perf_counter()
        wanted = advise(made, belief, Case(case.answers, case.unknown, case.results, case.apart, 3))
        if not wanted:
            break
        test = wanted[0].test
        cost += cost_minutes(case, [test])
        case = case.tested(test.key, car.outcome(test.key))
        tests += 1
        belief = made.belief(case.answers, case.results)
        _ = belief.ranked, questions(made, belief, case)
        slowest = max(slowest, time.perf_counter() - begin)
        case, belief = ask(case, BETWEEN)
        beliefs += [(float(v), key == cause) for key, v in belief.ranked]
    return Told(
        cause, first, practice, asked, place(belief, cause), tests, cost, by_prior(made, car, cause),
        tuple(beliefs), 1e3 * slowest,
    )  # fmt: skip


def main() -> None:
    """Print the measures."""
    cars, workers = int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 2
    jobs = sorted((n % len(plans()), 1000 + n) for n in range(cars))
    with ProcessPoolExecutor(workers) as pool:
        told = list(pool.map(diagnose, jobs, chunksize=max(cars // (2 * PLANS), 1)))

    def share(values: list[bool]) -> str:
        return f"{np.mean(values):.3f}"

    print(f"{cars} cars of {len(plans())} plans, one hidden fault each")
    for name in ("first", "first_practice", "asked", "last"):
        places = [getattr(t, name) for t in told]
        print(
            f"  {name:15} first {share([p == 1 for p in places])}, in three {share([p <= 3 for p in places])}"
        )
    print(f"  tests {np.mean([t.tests for t in told]):.2f}")
    ratio = np.median([t.cost for t in told]) / np.median([t.tried for t in told])
    print(
        f"  cost median {np.median([t.cost for t in told]):.0f} min, by prior {np.median([t.tried for t in told]):.0f} min, ratio {ratio:.2f}"
    )
    pairs = [b for t in told for b in t.beliefs]
    for low in (0.0, 0.2, 0.4, 0.6, 0.8):
        inside = [true for v, true in pairs if low <= v < low + 0.2]
        print(f"  believed {low:.1f} to {low + 0.2:.1f}: true {share(inside)} of {len(inside)}")
    print(f"  slowest step {max(t.slowest_ms for t in told):.0f} ms")
    missed: dict[str, list[int]] = {}
    for t in told:
        missed.setdefault(t.cause, []).append(t.last)
    for cause, places in sorted(missed.items(), key=lambda row: np.mean([p == 1 for p in row[1]])):
        print(
            f"    {cause:18} {len(places):3} cars, first {share([p == 1 for p in places])}, three {share([p <= 3 for p in places])}"
        )


if __name__ == "__main__":
    main()
