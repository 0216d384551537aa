# SPDX-License-Identifier: GPL-3.0-or-later
"""Measure the health of the feed on simulated cars whose truth is known: how often the 90 % bands hold it, how early a closing screen is called, and how often a sound one.

PYTHONPATH=src .venv/bin/python tools/measure_health.py 67      # cars of each of three plans; minutes
"""

from __future__ import annotations

import multiprocessing
import sys
import time

import numpy as np

from gravidon.plan import demos, paths
from gravidon.plan.model import Plan
from gravidon.study.car.car import hidden
from gravidon.study.car.season import Wear, season
from gravidon.study.car.senses import plain_senders
from gravidon.study.health.fit import Z90, health, scale_of
from gravidon.study.health.model import STATES
from gravidon.study.health.outlook import closing_left_at, outlook

PLANS = ("coupe", "estate", "special")
LIFE_LEFT = 0.3


def plan_of(name: str) -> Plan:
    """Return a demo's plan with senders by their data sheets; the estate with its hole drilled out, since as it comes it starves."""
    plan = demos.demo_plan(name)
    if name == "estate":
        plan = paths.put(plan, "turbos.0.restrictor.bore_mm", 2.2)
    return plan.model_copy(update={"senders": ()}).model_copy(
        update={"senders": plain_senders(plan.model_copy(update={"senders": ()}))}
    )


def covered(job: tuple[str, int]) -> tuple[str, list[float]]:
    """Return a car's misses in standard deviations, one for each part."""
    name, seed = job
    plan = plan_of(name)
    scale = scale_of(plan, 0).closing
    dice = np.random.default_rng([seed, 9])
    rate = 0.0 if seed % 2 else dice.uniform(0.3, 1.5)
    wear = Wear(
        rate * scale,
        dice.uniform(0, 1500),
        dice.uniform(-0.025, 0),
        dice.uniform(0, 0.045),
        float(dice.choice([0.0, 0.0, 4000.0, -4000.0])),
        float(dice.choice([np.inf, 2500.0])),
    )
    made = season(plan, seed, wear, tuple(float(k) for k in range(0, 6001, 300)))
    h = health(plan, made.entries)
    assert h is not None  # noqa: S101  every entry has readings
    truth = (made.gallery, made.closing, made.passage, made.zero_pa, made.gallery_zero_pa)
    return name, [float((h.mean[-1, k] - v[-1]) / h.sd[-1, k]) for k, v in enumerate(truth)]


def called(job: tuple[str, int]) -> tuple[str, bool, float]:
    """Return whether a car's screen closes, and at which share of its life it was called closing (nan: never)."""
    name, seed = job
    plan = plan_of(name)
    dice = np.random.default_rng([seed, 9])
    closes, life = seed % 2 == 0, dice.uniform(3000, 12000)
    car = type("Car", (), {"plan": hidden(plan, seed, 1.0), "turbo": 0})()
    left = float(np.min(closing_left_at(car, np.zeros((2, 1)))))
    if not (np.isfinite(left) and left > 0.0):
        return name, closes, float("inf")
    km = tuple(float(k) for k in np.arange(0.0, life, max(life / 24, 150.0)))
    wear = Wear(
        left / (life / 1000.0) if closes else 0.0,
        gallery=dice.uniform(-0.006, 0),
        passage=dice.uniform(0, 0.005),
    )
    made = season(plan, seed, wear, km)
    for k in range(3, len(km), 2):
        h = health(plan, made.entries[: k + 1])
        if h is not None and outlook(h).closing:
            return name, closes, km[k] / life
    return name, closes, float("nan")


def main() -> None:
    """Print both measures."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 67
    jobs = [(name, k) for k in range(count) for name in PLANS]
    with multiprocessing.Pool(2) as pool:
        begun = time.monotonic()
        misses = pool.map(covered, jobs, 4)
        print(f"{len(jobs)} cars, 90 % bands hold the truth ({time.monotonic() - begun:.0f} s):")
        for name in (*PLANS, "all"):
            z = np.array([m for n, m in misses if name in (n, "all")])
            shares = ", ".join(f"{STATES[k]} {np.mean(np.abs(z[:, k]) < Z90):.2f}" for k in range(5))
            print(f"  {name}: {shares}; together {np.mean(np.abs(z) < Z90):.3f}")
        begun = time.monotonic()
        calls = [c for c in pool.map(called, jobs, 2) if not np.isinf(c[2])]
        closing = np.array([at for _, closes, at in calls if closes])
        sound = np.array([at for _, closes, at in calls if not closes])
        early = np.mean(np.nan_to_num(closing, nan=9.0) <= 1.0 - LIFE_LEFT)
        print(
            f"{len(closing)} closing screens: {early:.0%} called with {LIFE_LEFT:.0%} of their life left; ",
            end="",
        )
        print(
            f"{len(sound)} sound seasons: {np.isfinite(sound).mean():.1%} called ({time.monotonic() - begun:.0f} s)"
        )


if __name__ == "__main__":
    main()
