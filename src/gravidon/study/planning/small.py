# SPDX-License-Identifier: GPL-3.0-or-later
"""Small spaces, with routes and places held: gone through by their bounds, or climbed by one and two choices at a time."""

from __future__ import annotations

from functools import partial
from itertools import combinations as combinations_of
from itertools import product

from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.study.planning.board import Board
from gravidon.study.planning.choices import ANEW, CHOICES, NONE, STRAIGHT, by_gravity, places
from gravidon.study.planning.freedom import allowed, broken, held
from gravidon.study.planning.merit import Grip, supply_grip

SMALL, SMALLEST = 5_000, 600
"""Combinations up to which a space is climbed, and up to which it is gone through by its bounds; project choice."""
CLIMBS = 9
"""Times a climb begins anew at most; project choice."""

Step = tuple[str, int, str]
"""A value of a choice, as (choice, turbo, value)."""


def combinations(base: Plan) -> list[tuple[Step, ...]] | None:
    """Return every combination of values that may be, as (choice, turbo, value) each; None where a way or a place is open, or
    where there are more than a small space has."""
    for k in range(len(base.turbos)):
        if by_gravity(base, k) and any(
            held(base, CHOICES[n], k).state == "open" for n in ("route", "entry-place")
        ):
            return None
    axes = []
    count = 1
    for choice, k in places(base):
        values = allowed(base, choice, k)
        axes.append(
            [(choice.name, k, v) for v in values if v not in (ANEW, STRAIGHT) or v == choice.value(base, k)]
        )
        count *= len(axes[-1])
        if count > SMALL:
            return None
    return list(product(*axes))


def combined(base: Plan, values: tuple[Step, ...]) -> Plan | None:
    """Return the plan with a combination of values; None if it cannot be."""
    return combined_from(base, base, values)


def combined_from(base: Plan, plan: Plan, values: tuple[Step, ...]) -> Plan | None:
    """Return a plan with some values put, within what another plan allows; None if it cannot be."""
    try:
        for name, k, value in values:
            if CHOICES[name].applies(plan, k):
                plan = CHOICES[name].put(plan, k, value)
    except (GravidonError, ValueError):
        return None
    return plan if not broken(base, plan) else None


def exhausted(board: Board) -> bool:
    """Go through a small space: whole, by its bounds, or where it is larger by climbing. Return whether the space is small."""
    listed = combinations(board.base)
    if listed is None:
        return False
    if len(listed) <= SMALLEST:
        _by_bounds(
            board, [p for p in dict.fromkeys(combined(board.base, v) for v in listed) if p is not None]
        )
    else:
        _climbed(board, listed)
    return True


def _by_bounds(board: Board, plans: list[Plan]) -> None:
    """Look at plans best first: one whose pressure side alone holds no better than the best plan known need not be looked at."""
    if len(plans) <= board.effort.small:
        board.add(plans)
        return
    bounds = dict(zip(plans, board.crew.ask(bound_of, plans), strict=True))
    plans = sorted((p for p in plans if bounds[p] is not None), key=lambda p: bounds[p], reverse=True)  # type: ignore[arg-type, return-value]
    for n in range(0, len(plans), IN_A_GO):
        go = plans[n : n + IN_A_GO]
        best = board.best(1)
        if best and board.looks[best[0]].whole and board.looks[best[0]].grip >= bounds[go[0]]:  # type: ignore[operator]
            break
        board.add(go)
        board.add(board.best(2), whole=True)


def _climbed(board: Board, listed: list[tuple[Step, ...]]) -> None:
    """Climb from the best plans known with every tap, changing one choice at a time; where that leads no further, two at a time
    from the best of all."""
    axes = [tuple(dict.fromkeys(column)) for column in zip(*listed, strict=True)]
    pairs = False
    for _ in range(CLIMBS):
        _proved(board)
        starts = _best_of_each(board, "tap")
        before = [board.looks[p].grip for p in starts]
        steps: list[tuple[Plan, tuple[Step, ...]]] = [
            (p, (v,)) for p in starts for axis in axes for v in axis
        ]
        if pairs:
            good = board.looks[starts[0]].grip.grade
            others = [p for p in starts[1:MOST_STARTS] if board.looks[p].grip.grade == good]
            steps = [(starts[0], both) for a, b in combinations_of(axes, 2) for both in product(a, b)]
            steps += [(p, both) for p in others for both in _pairs(p, axes)]
        near = (combined_from(board.base, p, step) for p, step in steps)
        board.add(p for p in near if p is not None)
        _proved(board)
        if [board.looks[p].grip for p in _best_of_each(board, "tap")] > before:
            pairs = False
        elif pairs:
            return
        else:
            pairs = True


def _pairs(plan: Plan, axes: list[tuple[Step, ...]]) -> list[tuple[Step, Step]]:
    """Return the changes of two choices of a plan at a time; of many numbers those nearest to its own; taps have starts of their own."""
    near = []
    for axis in axes:
        name, k, _ = axis[0]
        if name == "tap" or len(axis) < 2:
            continue
        own = CHOICES[name].value(plan, k)
        values = list(axis)
        if len(values) > NEAREST and own != NONE and CHOICES[name].known.numeric:
            numbers = [v for v in values if v[2] != NONE]
            values = sorted(numbers, key=partial(_apart, own=float(own)))[:NEAREST]
        near.append(values)
    return [both for a, b in combinations_of(near, 2) for both in product(a, b)]


def _apart(value: Step, own: float) -> float:
    return abs(float(value[2]) - own)


NEAREST, MOST_STARTS = 4, 3
"""Values of a number beside a plan's own, and plans, from which two choices are changed at a time; project choice."""


def _proved(board: Board) -> None:
    """Look wholly at the best plan with every tap, and at what is best then, until what is best has been looked at so."""
    for _ in range(MOST_PROOFS):
        new = [p for p in _best_of_each(board, "tap") if not board.looks[p].whole]
        if not new:
            return
        board.add(new, whole=True)


MOST_PROOFS = 8
"""Times that a bound is taken back in a row before the search goes on; project choice."""


def _best_of_each(board: Board, name: str) -> list[Plan]:
    """Return the best plan known with each value of a choice, best first."""
    found: dict[str, Plan] = {}
    for plan in board.best(len(board.looks)):
        found.setdefault(CHOICES[name].value(plan, 0), plan)
    return list(found.values())


IN_A_GO = 40
"""Plans looked at between two looks at the bound; project choice."""


def bound_of(plan: Plan) -> Grip | None:
    """Return how well the pressure side of a plan holds; None if it cannot be computed."""
    try:
        return supply_grip(plan)
    except GravidonError:
        return None
