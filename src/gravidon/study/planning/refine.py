# SPDX-License-Identifier: GPL-3.0-or-later
"""Refining in a search: round the best plans, one choice at a time, and with the house's remedies taken in turn."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial
from itertools import islice

from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.study.planning.board import Board
from gravidon.study.planning.choices import CHOICES, NONE, by_gravity, places
from gravidon.study.planning.freedom import allowed, broken
from gravidon.study.planning.homes import MOVES_ENDS, put_relaid
from gravidon.study.planning.look import look
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.remedies import MAKERS
from gravidon.study.verdict.trials import Trial

BEAM = 3
"""Plans refined at a time; project choice."""
NUDGES_MM = (-20.0, -8.0, 8.0, 20.0)
"""[mm] by which an entry is moved; project choice."""


def refine(board: Board) -> None:
    """Look round the best plans, one choice at a time: for a firmer grip, and for less money, work and parts."""
    base = board.base
    good = max((x.grip.grade for x in board.looks.values()), default=0)
    heads = dict.fromkeys(
        [*board.best(BEAM), *(p for key in ("cost", "minutes", "order") for p in board.best(1, key, good))]
    )
    asked: list[tuple[Plan, Plan, int, str, str]] = []
    for plan in heads:
        for choice, k in places(plan):
            for value in allowed(base, choice, k, _neighbours(base, plan, choice.name, k)):
                stuck = k in board.blocked and choice.name in MOVES_ENDS and by_gravity(plan, k)
                if value != choice.value(plan, k) and not stuck:
                    asked.append((base, plan, k, choice.name, value))
    order = board.chance.permutation(len(asked))
    slow = {n for n in order if asked[n][3] in MOVES_ENDS and _bends(asked[n][1], asked[n][2])}
    late = [n for n in order if n in slow][: board.effort.relaid]
    rest = [n for n in order if n not in slow][: board.much(board.effort.asked) - len(late)]
    chosen = sorted((*late, *rest))
    cured = board.crew.ask(partial(mended, most=board.effort.cured), [(base, p) for p in board.best(1)])
    made = board.crew.ask(put_relaid, [asked[i] for i in chosen])
    board.add([p for p in made if p is not None])
    board.add([p for some in cured for p in some])


FACTS = ("engine", "oil", "sump", "shapes", "needs", "conditions", "drawer", "own_parts", "use")
"""What a search never changes: the car, and what is asked of it."""


def _bends(plan: Plan, k: int) -> bool:
    """Return whether a drain has to go round something: then it takes long to lay it anew."""
    return by_gravity(plan, k) and bool(plan.turbos[k].drain.points)


def mended(question: tuple[Plan, Plan], most: int) -> tuple[Plan, ...]:
    """Return what becomes of a plan when the house's remedies are taken one after the other, the worst fault first, each only
    if the plan is the better for it; what changes the car itself is left out.

    Args:
        question: the plan that says what may change, and the plan.
        most: how many remedies are taken.
    """
    base, plan = question
    found: list[Plan] = []
    now = look(plan)
    given_up: set[str] = set()
    for _ in range(most):
        faults = [
            f for f in Trial(plan, evaluate(plan)).findings if f.severity != "note" and f.key not in given_up
        ]
        if not faults or now is None:
            break
        tried = [(p, x) for p in _proposed(base, plan, faults[0]) if (x := look(p)) is not None]
        better = max(tried, key=lambda it: it[1].grip, default=None)
        if better is None or better[1].grip <= now.grip:
            given_up.add(faults[0].key)
            continue
        plan, now = better
        found.append(plan)
    return tuple(found)


def _proposed(base: Plan, plan: Plan, finding: Finding) -> list[Plan]:
    """Return what the makers of remedies propose for a finding, within what may change."""
    found: list[Plan] = []
    e = evaluate(plan).of(finding.turbo)
    for maker in MAKERS:
        if finding.code in maker.codes:
            try:
                made = (p.plan for p in maker.propose(e, finding) if p is not None)
                found += islice(made, PROPOSALS)
            except GravidonError:
                continue
    same = [p for p in dict.fromkeys(found) if all(getattr(p, f) == getattr(base, f) for f in FACTS)]
    return [p for p in same if not broken(base, p)]


PROPOSALS = 2
"""Proposals that are taken of each maker of remedies; project choice."""


def _neighbours(base: Plan, plan: Plan, name: str, k: int) -> tuple[str, ...]:
    """Return the values of a choice worth trying beside the one a plan has."""
    choice = CHOICES[name]
    own, values = choice.value(plan, k), choice.values(plan, k)
    if name in ("route", "drain-ends", "entry-wall", "tap", "feed-route"):
        found: Iterable[str] = (choice.value(base, k),)
    elif name == "entry-place":
        along, up = (float(v) for v in own.split(","))
        found = [f"{along:g},{up + d:g}" for d in NUDGES_MM] + [f"{along + d:g},{up:g}" for d in NUDGES_MM]
    elif name == "restrictor" and own != NONE:
        found = sorted((v for v in values if v != NONE), key=lambda v: abs(float(v) - float(own)))[1:7]
    elif name == "breather":
        found = (v for v in values if v.startswith(f"{own.partition(', ')[0]},"))
    else:
        found = () if name == "drain-by" else values[:8]
    return tuple(found)
