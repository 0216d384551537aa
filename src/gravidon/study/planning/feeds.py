# SPDX-License-Identifier: GPL-3.0-or-later
"""The pressure side of a search: taps, feed sizes, ends and holes in one sweep."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import product

import numpy as np

from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.study.planning.board import Board
from gravidon.study.planning.choices import ALIKE, CHOICES, NONE
from gravidon.study.planning.freedom import allowed, broken, held
from gravidon.study.planning.merit import Grip, supply_grip
from gravidon.study.planning.ways import NoWay, feed_way, with_feed_way
from gravidon.study.supply.restrictor_choice import choose
from gravidon.translate import tr

KEPT = 5
"""Feeds that are kept beside the best of every tap and size; project choice."""


def feeds_of(board: Board, plan: Plan, k: int, first: bool = False) -> list[Plan]:
    """Return the feeds of a turbo, best first: every tap, size and end, each with the holes that hold best.

    Args:
        board: what was looked at.
        plan: the plan to begin with.
        k: which turbo.
        first: only the tap, size and end that the plan has.
    """
    base = board.base
    kinds = ("tap", "feed-size", "feed-end")
    values = [allowed(base, CHOICES[n], k, CHOICES[n].values(plan, k)) for n in kinds]
    values[2] = _two(values[2])
    if first:
        values = [
            tuple(v for v in vs if v == CHOICES[n].value(plan, k)) or vs[:1]
            for n, vs in zip(kinds, values, strict=True)
        ]
    found: list[tuple[Plan, Grip]] = []
    asked = [(base, plan, k, where, wide, last) for where, wide, last in product(*values)]
    for made in board.crew.ask(feed_on, asked):
        found += made.plans
        board.no_way.update(dict.fromkeys(made.no_way))
    found.sort(key=lambda it: it[1], reverse=True)
    ordered = [p for p, _ in found]
    best = ordered[:KEPT]
    for name in (
        "tap",
        "feed-size",
    ):  # the best of every tap and size stays in sight: something may have to speak for it
        seen = {CHOICES[name].value(p, k) for p in best}
        for p in ordered:
            if CHOICES[name].value(p, k) not in seen:
                seen.add(CHOICES[name].value(p, k))
                best.append(p)
    return best if plan in best or not best else [*best, plan]


@dataclass(frozen=True)
class Feeds:
    """Feeds from one tap in one size with one end: plans with the grip of their pressure side, and why there is no way."""

    plans: tuple[tuple[Plan, Grip], ...]
    no_way: tuple[str, ...] = ()


def feed_on(question: tuple[Plan, Plan, int, str, str, str]) -> Feeds:
    """Return a plan's feed taken from a tap in a size with an end, with every hole worth a look.

    Args:
        question: the plan that says what may change; the plan to begin with; the turbo; tap, size, end.
    """
    base, plan, k, where, wide, last = question
    hole, flange, balance = (CHOICES[n] for n in ("restrictor", "flange-hole", "balance"))
    try:
        fed = CHOICES["feed-size"].put(CHOICES["tap"].put(plan, 0, where), k, wide)
        fed = _own_thread(base, CHOICES["feed-end"].put(fed, k, last))
        if CHOICES["feed-route"].applies(fed, k) and held(base, CHOICES["feed-route"], k).state == "open":
            way = feed_way(fed, k)
            if isinstance(way, NoWay):
                return Feeds((), (tr("feed from the {where}: {why}").format(where=where, why=way.why),))
            fed = with_feed_way(fed, k, way) if way is not None else fed
        made = [hole.put(fed, k, v) for v in _good_holes(fed, k, allowed(base, hole, k, hole.values(fed, k)))]
        if flange.applies(fed, k):
            drilled = [
                v for v in allowed(base, flange, k, flange.values(fed, k)) if v != flange.value(fed, k)
            ]
            bare = [hole.put(fed, k, v) for v in allowed(base, hole, k, (NONE, hole.value(base, k)))]
            made += [flange.put(one, k, v) for one in bare for v in drilled[:: max(len(drilled) // 8, 1)]]
    except GravidonError:
        return Feeds(())
    if balance.applies(fed, 0) and balance.value(base, 0) == ALIKE and held(base, balance, 0).state != "open":
        made = [balance.put(one, 0, balance.value(base, 0)) for one in made]
    found = []
    for one in dict.fromkeys(made):
        try:
            found.append((one, supply_grip(one)))
        except GravidonError:
            continue
    return Feeds(tuple(found))


def _own_thread(base: Plan, plan: Plan) -> Plan:
    """Return the plan with a fitting at the tap that has the port's own thread, where that may be."""
    choice, tap = CHOICES["tap-thread"], plan.taps[plan.tap]
    if held(base, choice, 0).state == "locked" and plan.tap == base.tap:
        return plan
    made = choice.put(plan, 0, tap.port_thread)
    return made if not broken(base, made) else plan


def _two(values: tuple[str, ...]) -> tuple[str, ...]:
    """Return an end as it is and the low one: the others lose no less."""
    return tuple(dict.fromkeys((*values[:1], *(v for v in values if v == "90°")))) or ("",)


def _good_holes(plan: Plan, k: int, values: tuple[str, ...]) -> tuple[str, ...]:
    """Return the holes worth a closer look: that with the best margin, those round it, the least that holds half as well, and
    none at all."""
    drills = [v for v in values if v != NONE]
    kept = [v for v in values if v == NONE]
    if drills:
        margin = choose(plan, k, np.array([float(v) for v in drills]) * 1e-3).worst_margin
        best = int(np.argmax(margin))
        enough = np.flatnonzero(margin >= min(0.5 * margin[best], margin[best]))
        kept += [
            drills[n]
            for n in dict.fromkeys(
                (best, int(enough[0]), int(enough[-1]), max(best - 1, 0), min(best + 1, len(drills) - 1))
            )
        ]
    return tuple(kept)
