"""From this port to that one: the shortest workable chains of parts, found by searching the catalogue."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from itertools import count

from gravidon.parts.catalogue import Part
from gravidon.parts.ends import End, Fit, fit, mates

IN_DRAWER_SHARE = 0.25
"""What a part costs in the search that is in the drawer already; project choice."""
MOST_PARTS, MOST_LOOKS = 8, 40_000


@dataclass(frozen=True)
class Link:
    """A part in a chain and which of its ends faces the start (`inlet`) and which goes on (`outlet`)."""

    part: Part
    inlet: int
    outlet: int


@dataclass(frozen=True)
class Chain:
    """Parts from a start to a goal in order, with the cost they were found at."""

    links: tuple[Link, ...]
    cost: float

    @property
    def bore_mm(self) -> float:
        """The smallest bore in it [mm]; that is what flows."""
        return min((link.part.bore_mm for link in self.links if link.part.bore_mm > 0), default=0.0)

    @property
    def parts(self) -> tuple[Part, ...]:
        """Its parts in order."""
        return tuple(link.part for link in self.links)

    @property
    def joints(self) -> int:
        """How many joints it has, both ports counted."""
        return len(self.links) + 1


@dataclass(frozen=True)
class Wish:
    """What a chain must be: hose dash (None for no hose), least bore [mm], angles wanted of its two hose ends,
    kinds that must be in it, kinds that must not, what is in the drawer (part ids), what counts as cost, and what its hose
    and hose ends must stand [°C]."""

    dash: int | None
    least_bore_mm: float = 0.0
    angles: tuple[float | None, float | None] = (None, None)
    with_kinds: tuple[str, ...] = ()
    without_kinds: tuple[str, ...] = ("tee",)
    hose_ends: str = "reusable"
    drawer: frozenset[str] = frozenset()
    by: str = "joints"
    least_temp_c: float = 0.0


@lru_cache(maxsize=8)
def _index(parts: tuple[Part, ...]) -> Mapping[End, tuple[tuple[Part, int], ...]]:
    found: dict[End, list[tuple[Part, int]]] = {}
    for part in parts:
        if part.what.in_chain and len(part.ends) >= 2:
            for k, end in enumerate(part.ends):
                if end not in part.ends[:k]:  # a part that is alike at both ends is looked at once
                    found.setdefault(end, []).append((part, k))
    return {end: tuple(rows) for end, rows in found.items()}


def cost_of(part: Part, wish: Wish) -> float:
    """Return what a part adds to a chain's cost; a joint is worth little beside a price or a height."""
    base = {"joints": 1.0, "price": part.price + 0.5, "height": part.stack_mm + 2.0}[wish.by]
    return base * (IN_DRAWER_SHARE if part.id in wish.drawer else 1.0)


def find_chains(parts: Iterable[Part], start: End, goal: End, wish: Wish, most: int = 3) -> tuple[Chain, ...]:
    """Return the cheapest chains from a start port to a goal port; fewer than `most`, or none, if there are no more.

    A best-first search over open ends: every part taken mates (seals) with the open end before it. A chain
    holds at most MOST_PARTS parts, no part twice but hose ends, and exactly one hose where one is wished.

    Raises: nothing.
    """
    table = _index(tuple(parts))
    goal_mates = set(mates(goal))
    order = count()
    waiting: list[tuple[float, int, End, tuple[Link, ...], bool, int]] = [
        (0.0, next(order), start, (), False, 0)
    ]
    done: dict[tuple[End, bool, int, tuple[str, ...]], int] = {}
    chains: list[Chain] = []
    looks = 0
    while waiting and len(chains) < most and looks < MOST_LOOKS:
        cost, _, open_end, links, hosed, ends = heapq.heappop(waiting)
        looks += 1
        if links and open_end in goal_mates and (hosed or wish.dash is None) and _complete(links, wish):
            if all(_ids(links) != _ids(known.links) for known in chains):
                chains.append(Chain(links, cost))
            continue
        if len(links) >= MOST_PARTS:
            continue
        key = (open_end, hosed, ends, tuple(sorted({x.part.kind for x in links} & set(wish.with_kinds))))
        done[key] = done.get(key, 0) + 1
        if done[key] > most:
            continue
        for part, k in (row for wanted in mates(open_end) for row in table.get(wanted, ())):
            step = _step(part, links, hosed, ends, wish)
            if step is None:
                continue
            for j, out in enumerate(part.ends):
                if j != k:
                    made = (*links, Link(part, k, j))
                    after = (hosed or part.what.hose, ends + part.what.hose_end)
                    heapq.heappush(waiting, (cost + step, next(order), out, made, *after))
    return tuple(chains)


def _step(part: Part, links: tuple[Link, ...], hosed: bool, ends: int, wish: Wish) -> float | None:
    """Return what taking a part adds to the cost; None where it may not be taken."""
    if not _allowed(part, links, hosed, ends, wish):
        return None
    step = cost_of(part, wish) + _unlike(part, wish)
    if not part.what.hose_end:
        bent = 0.3 if wish.by == "joints" else 1.2
        return step + (bent if part.angle_deg else 0.0)
    angle = wish.angles[min(ends, 1)]
    if angle is None:
        return step + 0.002 * part.angle_deg
    return step if part.angle_deg == angle else None


def _ids(links: tuple[Link, ...]) -> tuple[str, ...]:
    return tuple(link.part.id for link in links)


def _unlike(part: Part, wish: Wish) -> float:
    """A small push towards parts of the wished size where several would do."""
    return 0.0 if wish.dash is None or part.dash in (0, wish.dash) else 0.05


def _complete(links: tuple[Link, ...], wish: Wish) -> bool:
    kinds = {link.part.kind for link in links}
    return all(kind in kinds for kind in wish.with_kinds)


def _allowed(part: Part, links: tuple[Link, ...], hosed: bool, ends: int, wish: Wish) -> bool:
    """Whether a part may come next."""
    only_when_wished = part.what.on_request and part.kind not in wish.with_kinds
    if part.kind in wish.without_kinds or only_when_wished:
        return False
    if part.what.narrow:
        return all(x.part.kind != part.kind for x in links)
    if part.bore_mm and part.bore_mm < wish.least_bore_mm - 1e-6:
        return False
    if part.what.hose or part.what.hose_end:
        return _hose_allowed(part, hosed, ends, wish)
    return all(x.part.id != part.id for x in links)


def _hose_allowed(part: Part, hosed: bool, ends: int, wish: Wish) -> bool:
    """One hose between two hose ends, all of the wished dash and make, that stands what runs through it."""
    if part.temp_c and part.temp_c < wish.least_temp_c:
        return False
    if wish.dash is None or part.dash != wish.dash or (part.role or "reusable") != wish.hose_ends:
        return False
    if part.what.hose:
        return not hosed and ends == 1
    return ends == 0 or (ends == 1 and hosed)


@dataclass(frozen=True)
class ChainJoint:
    """One joint of a chain: both ends and what becomes of them."""

    one: End
    other: End
    fit: Fit


def joints_of(start: End, links: tuple[Link, ...], goal: End) -> tuple[ChainJoint, ...]:
    """Return every joint from the start port to the goal port."""
    open_end, made = start, []
    for link in links:
        inlet = link.part.ends[link.inlet]
        made.append(ChainJoint(open_end, inlet, fit(open_end, inlet)))
        open_end = link.part.ends[link.outlet]
    made.append(ChainJoint(open_end, goal, fit(open_end, goal)))
    return tuple(made)


def laid(
    parts: Iterable[Part], start: End, goal: End, judge: Callable[[End, End], Fit] = fit
) -> tuple[Link, ...]:
    """Return given parts laid in order, each turned the way that mates best with the one before it."""
    rank = {"seals": 0, "leaks": 1, "no fit": 2}
    given = list(parts)
    open_end, links = start, []
    for n, part in enumerate(given):
        after = given[n + 1].ends if n + 1 < len(given) else (goal,)
        best = min(
            ((i, j) for i in range(len(part.ends)) for j in range(len(part.ends)) if i != j),
            key=lambda pair: (
                rank[judge(open_end, part.ends[pair[0]]).outcome],
                min(rank[judge(part.ends[pair[1]], e).outcome] for e in after),
                pair,
            ),
            default=(0, 0),
        )
        links.append(Link(part, *best))
        open_end = part.ends[best[1]]
    return tuple(links)
