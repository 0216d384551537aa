"""The search: from a plan and what may change in it to whole plans, ranked; ever better answers as it goes.

Staged where the physics decouples. The pressure side first: taps x feeds x holes in one sweep. Around the best of them the way
home: sizes x walls x places, each with a way laid; clock angles around the best of those; pumps only where gravity fails or is
not allowed. Then both together, one choice at a time, and the survivors weighed whole. The same plan and seed give the same
answer, whoever does the work: every round's questions depend on the answers of the rounds before alone, in their order.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field, replace
from functools import partial
from itertools import combinations as combinations_of
from itertools import islice, product

import numpy as np

from gravidon.errors import GravidonError
from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.plan.units import Family
from gravidon.study.home.entry_map import entry_map, moved_entry
from gravidon.study.planning.choices import (
    ANEW,
    CHOICES,
    NONE,
    STRAIGHT,
    by_gravity,
    carries_tee,
    open_walls,
    places,
)
from gravidon.study.planning.crew import Alone, Crew
from gravidon.study.planning.freedom import SAID, allowed, broken, held
from gravidon.study.planning.look import Broke, Look, checked, look, look_whole
from gravidon.study.planning.merit import SAMPLES, Grip, Merit, dominates, front, supply_grip, with_chance
from gravidon.study.planning.names import NAMED, ONE_MARGIN, SAFEST, named
from gravidon.study.planning.ways import NoWay, Way, drain_way, feed_way, lasting_up, with_feed_way, with_way
from gravidon.study.solve.assemble import point
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.wall import Wall, wall_of
from gravidon.study.supply.restrictor_choice import choose
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.remedies import MAKERS
from gravidon.study.verdict.trials import Trial
from gravidon.words.text import N_

KEPT_FEEDS, KEPT_WAYS, BEAM = 5, 4, 3
"""How many feeds and ways home are crossed, and plans refined at a time; project choice."""
MAP = (14, 6)
"""Columns and rows of the wall's map that places are taken from."""
NUDGES_MM = (-20.0, -8.0, 8.0, 20.0)
"""[mm] by which an entry is moved in refining; project choice."""
SMALL, SMALLEST = 5_000, 600
"""Combinations up to which a space without ways to lay is climbed by one and two choices at a time, and up to which it is gone through
by its bounds; project choice."""
CLIMBS = 9
"""Times a climb begins anew at most; project choice."""


@dataclass(frozen=True)
class Effort:
    """How hard a search looks, for a plan of one turbo: neighbours a round (and of those that are laid round something anew), rounds, remedies taken a round, places of a wall for
    which a way is laid, plans weighed wholly at a time, plans shown, cars tried for each one's probability, combinations of a
    small space looked at."""

    asked: int = 56
    rounds: int = 2
    cured: int = 5
    places: int = 3
    weighed: int = 20
    shown: int = 4
    samples: int = SAMPLES
    small: int = 240
    relaid: int = 14


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
class Answer:
    """What the search knows so far: plans shown, best first; what lost, and why; places for which no way was found; what it
    is at, how far it is [-], how many plans it looked at, and whether this is the last word."""

    plan: Plan
    ranked: tuple[Ranked, ...]
    lost: tuple[Alternative, ...] = ()
    no_way: tuple[str, ...] = ()
    stage: str = ""
    share: float = 0.0
    tried: int = 0
    final: bool = False

    def named(self, name: str) -> Ranked | None:
        """Return the plan that won a name."""
        return next((r for r in self.ranked if name in r.names), None)


@dataclass
class _Board:
    """All that was looked at, each plan once."""

    base: Plan
    crew: Crew
    chance: np.random.Generator
    looks: dict[Plan, Look] = field(default_factory=dict)
    no_way: dict[str, None] = field(default_factory=dict)
    blocked: set[int] = field(default_factory=set)
    effort: Effort = Effort()
    asked: int = 0

    def much(self, most: int) -> int:
        """Return how many of something are worth looking at: each takes longer where there are several turbos."""
        return max(round(most / math.sqrt(len(self.base.turbos))), 1)

    def add(self, plans: Iterable[Plan], whole: bool = False) -> None:
        """Look at plans that keep to all that is held, and were not looked at (as closely) before."""
        new = [
            p
            for p in dict.fromkeys(plans)
            if (p not in self.looks or (whole and not self.looks[p].whole)) and not broken(self.base, p)
        ]
        if not whole:
            new = [p for p in new if checked(p) is not None]
        self.asked += len(new)
        for plan, found in zip(new, self.crew.ask(look_whole if whole else look, new), strict=True):
            if found is not None:
                self.looks[plan] = found
            else:
                self.looks.pop(plan, None)

    def best(self, most: int, key: str = "grip", grade: int = 0) -> list[Plan]:
        """Return the best plans by one thing, of at least a grade; among equals the first looked at."""
        found = [(p, x) for p, x in self.looks.items() if x.grip.grade >= grade]
        if key != "grip" and found:
            near = max(x.grip for _, x in found).margin - ONE_MARGIN
            found = [(p, x) for p, x in found if x.grip.margin >= near]
        if key == "grip":
            found.sort(key=lambda it: (it[1].grip, -it[1].merit.minutes, -it[1].merit.cost), reverse=True)
        else:
            found.sort(key=lambda it: (getattr(it[1].merit, key), -it[1].grip.margin))
        return [p for p, _ in found[:most]]


def search(
    plan: Plan, seed: int = 1, crew: Crew | None = None, effort: Effort = Effort()
) -> Iterator[Answer]:
    """Yield ever better answers to: which whole plans are there, within what may change? The last one is `final`.

    Args:
        plan: the plan to begin with; its `holds`, and what was measured and done, say what stays.
        seed: for the cars tried within the tolerances.
        crew: who does the work; by default this thread alone.
        effort: how hard to look.

    Raises: GravidonError if the plan itself cannot be computed.
    """
    evaluate(plan)
    start = without_ideas(plan)
    board = _Board(start, crew or Alone(), np.random.default_rng(seed), effort=effort)
    near = Alone()
    # the first answers come from this thread: workers are still starting
    board.crew = near
    within = _within(start, start)
    board.add([within], whole=True)
    if not board.looks:  # a hold lets nothing through that the plan has
        words = ", ".join(CHOICES[name].words for name in broken(start, within))
        yield Answer(plan, (), (), (f"what is held lets nothing through: {words}",), DONE, 1.0, 0, True)
        return
    yield _answer(plan, board, AS_IT_IS, 0.02)
    board.add(_feeds(board, within, 0, first=True)[:1], whole=True)
    yield _answer(plan, board, HOLE, 0.04)
    board.crew = crew or near
    feeds = [within]
    for k in range(len(start.turbos)):
        feeds = _feeds(board, feeds[0], k) or feeds
    board.add(feeds[:1], whole=True)
    yield _answer(plan, board, FEEDS, 0.08)
    board.add(feeds)
    yield _answer(plan, board, FEEDS, 0.12)
    small = _exhausted(board)
    yield _answer(plan, board, ONE_BY_ONE if small else FEEDS, 0.3 if small else 0.13)
    for k in range(0 if small else len(start.turbos)):
        for done, _ in enumerate(_homes(board, k), 1):
            yield _answer(plan, board, HOMES, 0.12 + 0.38 * (k + min(done / 6.0, 1.0)) / len(start.turbos))
    for n in range(1 if small else effort.rounds):
        _refine(board)
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
    lost = _lost(board, ranked)
    yield Answer(plan, ranked, lost, tuple(board.no_way), DONE, 1.0, board.asked, True)


def without_ideas(plan: Plan) -> Plan:
    """Return the plan as it is tried: without its ideas, and of its photos only how they lie, for heights are as good as they are."""
    if not plan.ideas and not plan.photos:
        return plan
    laid = tuple(p.model_copy(update={"picture": NO_PICTURE}) for p in plan.photos)
    return plan.model_copy(update={"ideas": (), "photos": laid})


NO_PICTURE = "AAAAAAAA"
"""Six empty bytes, base64: a photo's picture where only its clicks matter."""


def taken_up(plan: Plan, found: Plan) -> Plan:
    """Return a plan that a search found with all that it leaves out: the plan's own ideas and photos."""
    return found.model_copy(update={"ideas": plan.ideas, "photos": plan.photos})


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


# --- the pressure side ---------------------------------------------------------------------------


def _feeds(board: _Board, plan: Plan, k: int, first: bool = False) -> list[Plan]:
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
    best = ordered[:KEPT_FEEDS]
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
                return Feeds((), (f"feed from the {where}: {way.why}",))
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
    if (
        balance.applies(fed, 0)
        and balance.value(base, 0) not in ("each its own",)
        and held(base, balance, 0).state != "open"
    ):
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


# --- small spaces --------------------------------------------------------------------------------


def combinations(base: Plan) -> list[tuple[tuple[str, int, str], ...]] | None:
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


def combined(base: Plan, values: tuple[tuple[str, int, str], ...]) -> Plan | None:
    """Return the plan with a combination of values; None if it cannot be."""
    return combined_from(base, base, values)


def combined_from(base: Plan, plan: Plan, values: tuple[tuple[str, int, str], ...]) -> Plan | None:
    """Return a plan with some values put, within what another plan allows; None if it cannot be."""
    try:
        for name, k, value in values:
            if CHOICES[name].applies(plan, k):
                plan = CHOICES[name].put(plan, k, value)
    except (GravidonError, ValueError):
        return None
    return plan if not broken(base, plan) else None


def _exhausted(board: _Board) -> bool:
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


def _by_bounds(board: _Board, plans: list[Plan]) -> None:
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


def _climbed(board: _Board, listed: list[tuple[tuple[str, int, str], ...]]) -> None:
    """Climb from the best plans known with every tap, changing one choice at a time; where that leads no further, two at a time
    from the best of all."""
    axes = [tuple(dict.fromkeys(column)) for column in zip(*listed, strict=True)]
    pairs = False
    for _ in range(CLIMBS):
        _proved(board)
        starts = _best_of_each(board, "tap")
        before = [board.looks[p].grip for p in starts]
        steps: list[tuple[Plan, tuple[tuple[str, int, str], ...]]] = [
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


def _pairs(
    plan: Plan, axes: list[tuple[tuple[str, int, str], ...]]
) -> list[tuple[tuple[str, int, str], tuple[str, int, str]]]:
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


def _apart(value: tuple[str, int, str], own: float) -> float:
    return abs(float(value[2]) - own)


NEAREST, MOST_STARTS = 4, 3
"""Values of a number beside a plan's own, and plans, from which two choices are changed at a time; project choice."""


def _proved(board: _Board) -> None:
    """Look wholly at the best plan with every tap, and at what is best then, until what is best has been looked at so."""
    for _ in range(MOST_PROOFS):
        new = [p for p in _best_of_each(board, "tap") if not board.looks[p].whole]
        if not new:
            return
        board.add(new, whole=True)


MOST_PROOFS = 8
"""Times that a bound is taken back in a row before the search goes on; project choice."""


def _best_of_each(board: _Board, name: str) -> list[Plan]:
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


# --- the way home --------------------------------------------------------------------------------


def _homes(board: _Board, k: int) -> Iterator[None]:
    """Look at ways home for one turbo, around the best feed: sizes, walls, places; clock angles; pumps."""
    base = board.base
    fed = board.best(1)[0] if board.looks else base
    by = CHOICES["drain-by"]
    ways = allowed(base, by, k)
    if "gravity" in ways and base.turbos[k].drain.joins is None:
        falling = fed if fed.turbos[k].drain_by == "gravity" else by.put(fed, k, "gravity")
        sizes = allowed(base, CHOICES["drain-size"], k, CHOICES["drain-size"].values(falling, k)) or (
            CHOICES["drain-size"].value(falling, k),
        )
        walls = _walls(base, falling, k)
        least = min(
            sizes, key=lambda v: int(v.removeprefix("-"))
        )  # where it finds no way, a thicker and stiffer one does not
        work = partial(homes_on, most=board.effort.places)
        board.blocked.add(k)
        for go in (sizes_of(sizes, least), sizes_of(sizes, least, others=True)):
            asked = [(base, CHOICES["drain-size"].put(falling, k, s), k, w) for s in go for w in walls]
            for question, found in zip(asked, board.crew.ask(work, asked), strict=True):
                board.no_way.update(dict.fromkeys(found.no_way))
                board.add(found.plans)
                if found.plans:
                    board.blocked.discard(k)
                elif least in go:
                    walls = tuple(w for w in walls if w != question[3])
                yield
        if k not in board.blocked:
            board.add(_turned(board, board.best(2), k))
            yield
    good = max((x.grip.grade for x in board.looks.values()), default=0)
    if "scavenge" in ways and ("gravity" not in ways or good == 0 or held(base, by, k).why == SAID):
        board.add(_pumped(base, board.best(2), k))
        yield
    heads = board.best(KEPT_WAYS)
    feeds = board.best(KEPT_FEEDS * 3)
    names = ("tap", "feed-size", "feed-end", "restrictor", "flange-hole")
    crossed = [_with_values(home, feed, k, names) for home in heads for feed in feeds[:KEPT_FEEDS]]
    board.add(p for p in crossed if p is not None)
    yield


def sizes_of(sizes: tuple[str, ...], least: str, others: bool = False) -> tuple[str, ...]:
    """Return the least of some sizes alone, or all the others."""
    return tuple(v for v in sizes if (v != least) == others)


def _with_values(plan: Plan, other: Plan, k: int, names: tuple[str, ...]) -> Plan | None:
    """Return a plan with some choices as another plan has them."""
    try:
        for name in names:
            choice = CHOICES[name]
            if choice.applies(plan, k) and choice.value(plan, k) != choice.value(other, k):
                plan = choice.put(plan, k, choice.value(other, k))
    except GravidonError:
        return None
    return plan


def _walls(base: Plan, plan: Plan, k: int) -> tuple[Wall, ...]:
    """Return the walls to try: outside ones of names that are allowed, on the turbo's side, the plan's own first."""
    choice = CHOICES["entry-wall"]
    it = plan.turbos[k]
    flange = point(it.turbo.drain_flange)
    own = wall_of(plan, it)
    found = [own] if allowed(base, choice, k, (own.name,)) else []
    for name in allowed(base, choice, k, choice.values(plan, k)):
        for wall in open_walls(plan, name, flange):
            faces = float(flange @ wall.outward) > wall.plane_m * wall.facing
            if wall not in found and (faces or not found):
                found.append(wall)
    return tuple(found)


@dataclass(frozen=True)
class Homes:
    """Ways home on one wall in one size: plans, and the places for which there is no way."""

    plans: tuple[Plan, ...]
    no_way: tuple[str, ...]


def homes_on(question: tuple[Plan, Plan, int, Wall], most: int) -> Homes:
    """Return plans that drain by one wall in the plan's size: the best places of the wall, each with a way laid.

    Args:
        question: the plan that says what may change; the plan to begin with; which turbo; the wall.
        most: places for which a way is laid.
    """
    base, plan, k, wall = question
    try:
        return _homes_on(base, plan, k, wall, most)
    except GravidonError as error:
        return Homes((), (f"{wall.name} wall: {error}",))


def _homes_on(base: Plan, plan: Plan, k: int, wall: Wall, most: int) -> Homes:
    place, means = CHOICES["entry-place"], CHOICES["entry-means"]
    ways = allowed(base, means, k)
    if means.value(plan, k) not in ways and ways:
        plan = means.put(plan, k, ways[0])
    free = _route_free(base, k)
    bare = CHOICES["route"].put(plan, k, STRAIGHT) if free else plan
    there = [bare] if wall == wall_of(plan, plan.turbos[k]) else []
    if held(base, place, k).state != "locked":
        found = entry_map(evaluate(bare).of(k), wall, *MAP)
        there += [
            moved_entry(bare, k, wall, round(along, 3), round(up, 3))
            for along, up in _spots(found.along_m, found.up_m, found.passable, found.margin_mm, base, k)[
                :most
            ]
        ]
    up = lasting_up(bare) if free else None
    if not free:
        return Homes(tuple(dict.fromkeys(there)), ())
    ends = held(base, CHOICES["drain-ends"], k).state == "open"
    laid: list[tuple[Plan, Way | NoWay]] = []
    for spot in dict.fromkeys(there):
        if len(laid) >= GIVE_UP and not any(isinstance(way, Way) for _, way in laid):
            break
        laid.append((spot, drain_way(spot, k, up, blame=False)))
    plans = tuple(with_way(spot, k, way, ends) for spot, way in laid if isinstance(way, Way))
    if plans or not laid:
        return Homes(plans, ())
    blamed = drain_way(laid[0][0], k, up)
    why = blamed.why if isinstance(blamed, NoWay) else ""
    size = CHOICES["drain-size"].value(plan, k)
    return Homes((), (f"{wall.name} wall, {size} drain: {why}",))


GIVE_UP = 2
"""Places of a wall for which there is no way, after which no other is tried; project choice."""
MOST_PLACES = 5
"""Places of a wall that are told apart; project choice."""


def _spots(
    along: Array, up: Array, good: np.ndarray, margin: Array, base: Plan, k: int
) -> list[tuple[float, float]]:
    """Return places that work and are allowed, well apart: by their margin; where none works, the least bad."""
    choice = CHOICES["entry-place"]
    names = [[f"{a * 1e3:.0f},{u * 1e3:.0f}" for a in along] for u in up]
    lets = np.array([[bool(allowed(base, choice, k, (n,))) for n in row] for row in names])
    ok = good & lets if (good & lets).any() else lets
    score = np.where(ok, margin, -np.inf)
    found: list[tuple[float, float]] = []
    while len(found) < MOST_PLACES and np.isfinite(score).any():
        i, j = np.unravel_index(int(score.argmax()), score.shape)
        found.append((float(along[j]), float(up[i])))
        near = np.hypot((along[None, :] - along[j]), (up[:, None] - up[i])) < 0.22 * np.ptp(along)
        score = np.where(near, -np.inf, score)
    return found


def _route_free(base: Plan, k: int) -> bool:
    return held(base, CHOICES["route"], k).state == "open" and not carries_tee(base, k)


def relaid(base: Plan, plan: Plan, k: int) -> Plan | None:
    """Return a plan with its drain's way laid anew, if that may be; None if there is no way."""
    if not _route_free(base, k) or not by_gravity(plan, k):
        return plan
    way = drain_way(plan, k, blame=False)
    if isinstance(way, NoWay):
        return None
    return with_way(plan, k, way, ends=held(base, CHOICES["drain-ends"], k).state == "open")


def put_relaid(question: tuple[Plan, Plan, int, str, str]) -> Plan | None:
    """Return a plan with another value of a choice, its drain laid anew where that choice moves its ends; None if it cannot be.

    Args:
        question: the plan that says what may change; the plan; the turbo; the choice's name; the value.
    """
    base, plan, k, name, value = question
    try:
        made = CHOICES[name].put(plan, k, value)
        return relaid(base, made, k) if name in MOVES_ENDS and made != plan else made
    except (GravidonError, ValueError):
        return None


MOVES_ENDS = ("clock", "tilt", "drain-size", "entry-wall", "entry-place", "entry-means", "drain-by")
"""Choices that move an end of the drain, or change how it bends."""


def _turned(board: _Board, plans: list[Plan], k: int) -> list[Plan]:
    """Return plans with the housing clocked and tilted otherwise, each with its way laid anew."""
    asked = [
        (board.base, p, k, name, value)
        for p in plans
        if by_gravity(p, k)
        for name in ("clock", "tilt")
        for value in allowed(board.base, CHOICES[name], k, CHOICES[name].values(p, k))
        if value != CHOICES[name].value(p, k)
    ]
    return [p for p in board.crew.ask(put_relaid, asked) if p is not None]


def _pumped(base: Plan, plans: list[Plan], k: int) -> list[Plan]:
    """Return plans with a scavenge pump, in every size that may be."""
    found = []
    by, pump = CHOICES["drain-by"], CHOICES["pump"]
    for plan in plans:
        try:
            there = plan if plan.turbos[k].drain_by == "scavenge" else by.put(plan, k, "scavenge")
            for value in allowed(base, pump, k, pump.values(there, k)):
                found.append(pump.put(there, k, value))
        except GravidonError:
            continue
    return found


# --- both together -------------------------------------------------------------------------------


def _refine(board: _Board) -> None:
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


# --- weighed, shown ------------------------------------------------------------------------------


def _weigh(board: _Board) -> None:
    """Look wholly at the plans that may be shown: the firmest, and the cheapest, quickest and nearest at hand of good ones."""
    for _ in range(2):  # what is dear to judge may take a bound back: the next best are weighed then
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


def _shown(board: _Board) -> list[Ranked]:
    """Return the plans that no other dominates of those weighed wholly, the firmest first: those that won a name, and some more.

    Of plans that fail none is shown beside one that does not.
    """
    whole = [(p, x) for p, x in board.looks.items() if x.whole]
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


def _answer(plan: Plan, board: _Board, stage: str, share: float) -> Answer:
    shown = _shown(board) if any(x.whole for x in board.looks.values()) else []
    ranked = _in_order(named(tuple(shown)))
    return Answer(plan, ranked, (), tuple(board.no_way), stage, share, board.asked)


def _lost(board: _Board, ranked: tuple[Ranked, ...]) -> tuple[Alternative, ...]:
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
    found = []
    for key, alone in zip(keys, board.crew.ask(_alone, asked), strict=True):
        plan, seen = alone if alone is not None else (best[key], board.looks[best[key]])
        found.append(Alternative(*key, plan, seen.merit, seen.broke))
    return tuple(found)


UNNAMED = ("route", "entry-place", "drain-ends", "feed-route", "entry-thread")
"""Choices whose values follow from others, or are places: no list of them is of use."""


def _alone(question: tuple[Plan, Plan, int, str, str]) -> tuple[Plan, Look] | None:
    made = put_relaid(question)
    seen = look(made) if made is not None else None
    return (made, seen) if made is not None and seen is not None else None
