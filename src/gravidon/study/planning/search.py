# SPDX-License-Identifier: GPL-3.0-or-later
"""The search: from a plan and what may change in it to whole plans, ranked; ever better answers as it goes.

Staged where the physics decouples. The pressure side first: taps x feeds x holes in one sweep. Around the best of them the way
home: sizes x walls x places, each with a way laid; clock angles around the best of those; pumps only where gravity fails or is
not allowed. Then both together, one choice at a time, and the survivors weighed whole. The same plan and seed give the same
answer, whoever does the work: every round's questions depend on the answers of the rounds before alone, in their order.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.plan.units import Family
from gravidon.study.planning.board import USUAL, Board, Effort, without_ideas
from gravidon.study.planning.choices import CHOICES, places
from gravidon.study.planning.crew import Alone, Crew
from gravidon.study.planning.feeds import feeds_of
from gravidon.study.planning.freedom import allowed, broken
from gravidon.study.planning.homes import homes_of, put_relaid
from gravidon.study.planning.look import Broke, Look, look, look_whole
from gravidon.study.planning.merit import PASSES, Merit, dominates, front, with_chance
from gravidon.study.planning.names import NAMED, ONE_MARGIN, SAFEST, named
from gravidon.study.planning.refine import refine
from gravidon.study.planning.small import exhausted
from gravidon.study.solve.evaluate import evaluate
from gravidon.translate import commas
from gravidon.words.text import N_, tr

AS_IT_IS, HOLE, FEEDS, HOMES, ONE_BY_ONE, WEIGHING, HOW_SURE, WHY_NOT, DONE = (
    N_("the plan as it stands"),
    N_("the hole for this feed"),
    N_("taps, feeds and holes"),
    N_("ways home"),
    N_("one thing at a time"),
    N_("weighing"),
    N_("how sure each is"),
    N_("why not otherwise"),
    N_("done"),
)
"""What a search is at."""


@dataclass(frozen=True)
class Ranked:
    """A plan that is shown: the plan, its merit, what is worst in it, the names it won, what decides it (in metric and imperial
    words), what it rests on."""

    plan: Plan
    merit: Merit
    broke: Broke | None
    names: tuple[str, ...] = ()
    decided: tuple[str, str] = ("", "")
    rests: str = ""

    def decides(self, family: Family) -> str:
        """Return what decides it in a unit family: its worst finding, or the limit it is nearest to."""
        return self.decided[family == "imperial"]


@dataclass(frozen=True)
class Alternative:
    """A value of a choice that is in none of the shown plans: the best plan tried with it, and what is worst in that."""

    choice: str
    turbo: int
    value: str
    plan: Plan
    merit: Merit
    broke: Broke | None


@dataclass(frozen=True)
class Takes:
    """What it takes to pass: a choice and turbo, its value in the plan as it stands (nothing tried with it passes) and in the best plan
    that does; that plan's merit, and the merit of the best plan tried without, where one was weighed."""

    choice: str
    turbo: int
    was: str
    now: str
    merit: Merit
    without: Merit | None


@dataclass(frozen=True)
class Answer:
    """What the search knows so far: plans shown, best first; what lost, and why; places for which no way was found; what it
    is at, how far it is [-], how many plans it looked at, and whether this is the last word; what it takes to pass."""

    plan: Plan
    ranked: tuple[Ranked, ...]
    lost: tuple[Alternative, ...] = ()
    no_way: tuple[str, ...] = ()
    stage: str = ""
    share: float = 0.0
    tried: int = 0
    final: bool = False
    takes: tuple[Takes, ...] = ()

    def named(self, name: str) -> Ranked | None:
        """Return the plan that won a name."""
        return next((r for r in self.ranked if name in r.names), None)


def search(plan: Plan, seed: int = 1, crew: Crew | None = None, effort: Effort = USUAL) -> Iterator[Answer]:
    """Yield ever better answers to: which whole plans are there, within what may change? The last one is `final`.

    Args:
        plan: the plan to begin with; its `holds`, and what was measured and done, say what stays.
        seed: for the cars tried within the tolerances.
        crew: who does the work; by default this thread alone.
        effort: how hard to look.

    Raises: GravidonError if the plan itself cannot be computed.
    """
    evaluate(plan)  # raises here, before anything is asked of others
    start = without_ideas(plan)
    # the first answers come from this thread: workers are still starting
    board = Board(start, Alone(), np.random.default_rng(seed), effort=effort)
    within = _within(start, start)
    board.add([within], whole=True)
    if not board.looks:  # a hold lets nothing through that the plan has
        words = commas([CHOICES[name].words for name in broken(start, within)])
        yield Answer(
            plan,
            (),
            (),
            (tr("what is held lets nothing through: {words}").format(words=words),),
            DONE,
            1.0,
            0,
            True,
        )
        return
    yield _answer(plan, board, AS_IT_IS, 0.02)
    board.add(feeds_of(board, within, 0, first=True)[:1], whole=True)
    yield _answer(plan, board, HOLE, 0.04)
    board.crew = crew or board.crew
    feeds = [within]
    for k in range(len(start.turbos)):
        feeds = feeds_of(board, feeds[0], k) or feeds
    board.add(feeds[:1], whole=True)
    yield _answer(plan, board, FEEDS, 0.08)
    board.add(feeds)
    yield _answer(plan, board, FEEDS, 0.12)
    small = exhausted(board)
    yield _answer(plan, board, ONE_BY_ONE if small else FEEDS, 0.3 if small else 0.13)
    for k in range(0 if small else len(start.turbos)):
        for done, _ in enumerate(homes_of(board, k), 1):
            yield _answer(plan, board, HOMES, 0.12 + 0.38 * (k + min(done / 6.0, 1.0)) / len(start.turbos))
    for n in range(1 if small else effort.rounds):
        refine(board)
        yield _answer(plan, board, ONE_BY_ONE, 0.55 + 0.15 * (n + 1) / effort.rounds)
    _weigh(board)
    yield _answer(plan, board, WEIGHING, 0.75)
    shown = _shown(board)
    chances = board.crew.ask(
        partial(_chance, samples=board.much(effort.samples), seed=seed), [(r.plan, r.merit) for r in shown]
    )
    for n, made in enumerate(chances):
        shown[n] = replace(shown[n], merit=made)
        share = 0.75 + 0.24 * (n + 1) / len(shown)
        yield Answer(plan, _in_order(named(shown)), (), tuple(board.no_way), HOW_SURE, share, board.asked)
    ranked = _in_order(named(_undominated(shown)))
    yield Answer(plan, ranked, (), tuple(board.no_way), WHY_NOT, 0.99, board.asked)
    lost, takes = _lost(board, ranked), _takes(board, ranked)
    yield Answer(plan, ranked, lost, tuple(board.no_way), DONE, 1.0, board.asked, True, takes)


def _within(base: Plan, plan: Plan) -> Plan:
    """Return the plan as it stands; where a hold does not let it through, with the first value that the hold lets."""
    for choice, k in places(plan):
        if choice.name not in broken(base, plan):
            continue
        for value in allowed(base, choice, k):
            try:
                made = choice.put(plan, k, value)
            except GravidonError:
                continue
            if not broken(base, made) or choice.name not in broken(base, made):
                plan = made
                break
    return plan


def _chance(question: tuple[Plan, Merit], samples: int, seed: int) -> Merit:
    return with_chance(question[0], question[1], samples, seed)


# --- weighed, shown ------------------------------------------------------------------------------


MOST_WEIGHINGS = 8
"""Times that the next best are weighed where the best turns out to be none; project choice."""


def _weigh(board: Board) -> None:
    """Look wholly at the plans that may be shown: the firmest, and the cheapest, quickest and nearest at hand of good ones."""
    for n in range(
        MOST_WEIGHINGS
    ):  # what is dear to judge may take a bound back: the next best are weighed then
        if n >= 2 and board.looks[board.best(1)[0]].whole:
            return
        good = max((x.grip.grade for x in board.looks.values()), default=0)
        heads = [
            *board.best(8),
            *(
                p
                for key in ("cost", "minutes", "order", "invasive", "joints")
                for p in board.best(3, key, good)
            ),
        ]
        new = [p for p in dict.fromkeys(heads) if not board.looks[p].whole][: board.effort.weighed]
        if not new:
            return
        board.add(new, whole=True)


def _shown(board: Board) -> list[Ranked]:
    """Return the plans that no other dominates of those weighed wholly, the firmest first: those that won a name, and some more.

    Of plans that fail none is shown beside one that does not; none has more to be watched than the plan as it stands, where
    that does not fail.
    """
    whole = [(p, x) for p, x in board.looks.items() if x.whole]
    now = whole[0][1]  # the plan as it stands is looked at first
    if now.grip.grade > 0:
        whole = [(p, x) for p, x in whole if x.merit.watch <= now.merit.watch and x.grip.grade > 0]
    whole.sort(key=lambda it: (it[1].grip, -it[1].merit.minutes, -it[1].merit.cost), reverse=True)
    good = max((x.grip.grade for _, x in whole), default=0)
    near = whole[0][1].grip.margin - ONE_MARGIN
    best = [(p, x) for p, x in whole if x.grip.grade >= min(good, 1) and x.grip.margin >= near]
    order = front([x.merit for _, x in best])
    ranked = [Ranked(p, x.merit, x.broke, (), x.decided, x.rests) for p, x in (best[n] for n in order)]
    winners = [r.plan for r in named(ranked) if r.names]
    rest = [r.plan for r in ranked if r.plan not in winners]
    most = board.much(board.effort.shown)
    kept = {*winners, *rest[: max(most - len(winners), 0)]}
    return [r for r in ranked if r.plan in kept]


def _in_order(ranked: tuple[Ranked, ...]) -> tuple[Ranked, ...]:
    """Return plans with those that won a name first, in the names' order."""
    order = {name: n for n, name in enumerate(NAMED)}
    return tuple(sorted(ranked, key=lambda r: min((order[n] for n in r.names), default=len(order))))


def _undominated(shown: list[Ranked]) -> tuple[Ranked, ...]:
    return tuple(r for r in shown if not any(dominates(o.merit, r.merit) for o in shown if o is not r))


def _answer(plan: Plan, board: Board, stage: str, share: float) -> Answer:
    shown = _shown(board) if any(x.whole for x in board.looks.values()) else []
    ranked = _in_order(named(tuple(shown)))
    return Answer(plan, ranked, (), tuple(board.no_way), stage, share, board.asked)


def _lost(board: Board, ranked: tuple[Ranked, ...]) -> tuple[Alternative, ...]:
    """Return every value of an open choice that was tried and that no shown plan has: put on the safest plan alone, so that
    what breaks is its doing; where that cannot be made, the best plan that was tried with it."""
    first = next((r for r in ranked if SAFEST in r.names), None)
    if first is None:
        return ()
    shown = {(choice.name, k, choice.value(r.plan, k)) for r in ranked for choice, k in places(r.plan)}
    best: dict[tuple[str, int, str], Plan] = {}
    for plan in board.best(len(board.looks)):
        for choice, k in places(plan):
            key = (choice.name, k, choice.value(plan, k))
            if key not in shown and choice.name not in UNNAMED:
                best.setdefault(key, plan)
    order = {name: n for n, name in enumerate(CHOICES)}
    keys = sorted(best, key=lambda it: (order[it[0]], it[1], it[2]))
    asked = [(board.base, first.plan, k, name, value) for name, k, value in keys]
    work = partial(_alone, grade=first.merit.held.grade)
    found = []
    for key, alone in zip(keys, board.crew.ask(work, asked), strict=True):
        plan, seen = alone if alone is not None else (best[key], board.looks[best[key]])
        if not seen.whole and seen.grip.grade >= first.merit.held.grade:
            seen = look_whole(plan) or seen
        found.append(Alternative(*key, plan, seen.merit, seen.broke))
    return tuple(found)


ESCALATES = (
    "drain-by",
    "entry-wall",
    "entry-means",
    "drain-size",
    "clock",
    "tilt",
    "breather",
    "feed-size",
    "tap",
)
"""Choices that are told where nothing passes without leaving the value that the plan has."""


def _takes(board: Board, ranked: tuple[Ranked, ...]) -> tuple[Takes, ...]:
    """Return what the best plan that passes had to leave of the plan as it stands."""
    best = next((r for r in ranked if r.merit.held.grade == PASSES), None)
    if best is None:
        return ()
    made: list[Takes] = []
    for choice, k in places(best.plan):
        if choice.name not in ESCALATES or not choice.applies(board.base, k):
            continue
        was, now = choice.value(board.base, k), choice.value(best.plan, k)
        if was == now or any((t.choice, t.was, t.now) == (choice.name, was, now) for t in made):
            continue  # twins are told once
        alike = [x for p, x in board.looks.items() if choice.applies(p, k) and choice.value(p, k) == was]
        if any(x.grip.grade == PASSES for x in alike):
            continue
        without = max((x for x in alike if x.whole), key=lambda x: x.grip, default=None)
        made.append(
            Takes(choice.name, k, was, now, best.merit, without.merit if without is not None else None)
        )
    return tuple(made)


UNNAMED = ("route", "entry-place", "drain-ends", "feed-route", "entry-thread")
"""Choices whose values follow from others, or are places: no list of them is of use."""


def _alone(question: tuple[Plan, Plan, int, str, str], grade: int) -> tuple[Plan, Look] | None:
    """Return a plan with another value, looked at wholly where a quick look does not say already that it is of a lesser grade."""
    made = put_relaid(question)
    seen = look(made) if made is not None else None
    if made is not None and seen is not None and seen.grip.grade >= grade:
        seen = look_whole(made)
    return (made, seen) if made is not None and seen is not None else None
