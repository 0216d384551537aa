# SPDX-License-Identifier: GPL-3.0-or-later
"""What logbook and bench have learnt about the plan's guesses, offered to the plan: each offer is a plan with the verdict it makes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gravidon.plan import paths
from gravidon.plan.fields import Known
from gravidon.plan.model import GaugeReading, Plan
from gravidon.records.entry import Entry, Reading
from gravidon.study.health.fit import GALLERY_ZERO, PASSAGE, Health, used
from gravidon.study.verdict.trials import trial
from gravidon.words.text import N_, Amount, Number, Said

LAST = 8
"""Readings of a kind that are averaged: the last ones; project choice."""
HOT_K = 353.15
"""[K] from which a reading counts as a hot one; project choice."""
ALIKE_SHARE, ALIKE_K = 0.2, 15.0
"""Readings so near in speed [-] and oil temperature [K] are of one kind; project choice."""
NEWS_SHARE, NEWS_KPA = 0.03, 3.0
"""By which a reading must differ from what the logbook told the plan before, to be news; project choice."""
LEARNT = 0.8
"""[-] of its band at the first entry, below which something was learnt of the passage; project choice."""


@dataclass(frozen=True)
class Offer:
    """Something learnt: key, what it is in words, the plan with it, and the verdict's word before and after."""

    key: str
    said: Said
    plan: Plan
    before: str
    after: str


def offers(plan: Plan, entries: Sequence[Entry], h: Health | None, turbo: int = 0) -> tuple[Offer, ...]:
    """Return what the plan can be told, each by itself; none that would change nothing.

    Raises: GravidonError if a plan so made cannot be computed.
    """
    before = trial(plan).verdict
    made = []
    for key, said, after in (
        _law(plan, entries, h, turbo),
        _flow(plan, h, turbo),
        _idle_oil(plan, entries, turbo),
    ):
        if after is not None and after != plan:
            made.append(Offer(key, said, after, before, trial(after).verdict))
    return tuple(made)


def _groups(readings: Sequence[Reading]) -> list[list[Reading]]:
    """Return readings of one kind together, the latest of each first."""
    groups: list[list[Reading]] = []
    for r in reversed(readings):
        near = next(
            (
                g
                for g in groups
                if abs(g[0].rpm - r.rpm) < ALIKE_SHARE * g[0].rpm and abs(g[0].oil_k - r.oil_k) < ALIKE_K
            ),
            None,
        )
        if near is None:
            groups.append([r])
        else:
            near.append(r)
    return groups


def _law(plan: Plan, entries: Sequence[Entry], h: Health | None, turbo: int) -> tuple[str, Said, Plan | None]:
    """The gallery's law through what the logbook has: the mean of the last readings of each kind, less the sender's zero."""
    readings = [r for _, r in used(entries, turbo) if math.isfinite(r.gallery_pa) and r.rpm > 300.0]
    groups = [g[:LAST] for g in _groups(readings) if len(g) >= 3]
    numbers: dict[str, Number] = {"count": sum(len(g) for g in groups), "kinds": len(groups)}
    said = Said(N_("Gallery law: through {count} readings of the logbook, of {kinds} kinds"), numbers)
    if not groups:
        return "law", said, None
    zero = float(h.now[GALLERY_ZERO]) if h is not None else 0.0
    new = []
    for g in groups:
        rpm, oil = float(np.mean([r.rpm for r in g])), float(np.mean([r.oil_k for r in g])) - 273.15
        pressure = max(float(np.mean([r.gallery_pa for r in g])) - zero, 0.0)
        new.append(
            GaugeReading(
                rpm=round(rpm),
                oil_temperature_c=round(oil, 1),
                pressure_kpa=round(pressure / 1e3, 1),
                where="logbook",
            )
        )
    if all(any(_same(n, r) for r in plan.engine.readings) for n in new):
        return "law", said, None  # the plan knows it already
    kept = [
        r
        for r in plan.engine.readings
        if r.where != "logbook"
        and not any(
            abs(r.rpm - n.rpm) < ALIKE_SHARE * n.rpm
            and abs(r.oil_temperature_c - n.oil_temperature_c) < ALIKE_K
            for n in new
        )
    ]
    after = paths.put(
        plan,
        "engine.readings",
        tuple(sorted((*kept, *new), key=lambda r: (r.oil_temperature_c < 60.0, r.rpm))),
    )
    return "law", said, after


def _same(one: GaugeReading, other: GaugeReading) -> bool:
    """Whether a reading says what another of the logbook's said already."""
    return (
        other.where == "logbook"
        and abs(one.rpm - other.rpm) < ALIKE_SHARE * one.rpm
        and abs(one.oil_temperature_c - other.oil_temperature_c) < ALIKE_K
        and abs(one.pressure_kpa - other.pressure_kpa) < NEWS_SHARE * one.pressure_kpa + NEWS_KPA
    )


def _flow(plan: Plan, h: Health | None, turbo: int) -> tuple[str, Said, Plan | None]:
    """The bearing's flow at its reference drop, where the readings have narrowed it."""
    said = Said(N_("Bearing's flow: as fitted"), {})
    if h is None or h.sd[-1, PASSAGE] >= LEARNT * h.sd[0, PASSAGE]:
        return "flow", said, None
    path = f"turbos.{turbo}.turbo.reference_flow_l_min"
    old = paths.get(plan, path)
    value = old.value * math.exp(float(h.now[PASSAGE]))
    width = 1.96 * float(h.sd[-1, PASSAGE]) * value
    numbers: dict[str, Number] = {
        "old": Amount(old.value / 6e4, "l_min"),
        "new": Amount(value / 6e4, "l_min"),
    }
    said = Said(N_("Bearing's flow at its reference drop: {old} to {new}"), numbers)
    return (
        "flow",
        said,
        paths.put(plan, path, Known(value=round(value, 3), basis="measured", tolerance=round(width, 3))),
    )


def _idle_oil(plan: Plan, entries: Sequence[Entry], turbo: int) -> tuple[str, Said, Plan | None]:
    """The oil's temperature at hot idle: the warmest half of what was read there."""
    idle = [k for k, c in enumerate(plan.conditions) if c.kind.turning and c.kind.warm and not c.kind.driving]
    said = Said(N_("Oil at hot idle: as read"), {})
    if not idle:
        return "idle-oil", said, None
    rpm = plan.conditions[idle[0]].rpm
    warm = sorted(
        r.oil_k for _, r in used(entries, turbo) if r.oil_k >= HOT_K and abs(r.rpm - rpm) < ALIKE_SHARE * rpm
    )
    if len(warm) < 3:
        return "idle-oil", said, None
    value = round(float(np.mean(warm[len(warm) // 2 :])) - 273.15, 0)
    old = plan.conditions[idle[0]].oil_temperature_c
    numbers: dict[str, Number] = {
        "condition": plan.conditions[idle[0]].name,
        "old": Amount(old + 273.15, "degc"),
        "new": Amount(value + 273.15, "degc"),
    }
    said = Said(N_("Oil at {condition}: {old} to {new}, the warmer half of what was read"), numbers)
    if abs(value - old) < 2.0:
        return "idle-oil", said, None
    return "idle-oil", said, paths.put(plan, f"conditions.{idle[0]}.oil_temperature_c", value)
