# SPDX-License-Identifier: GPL-3.0-or-later
"""From this port to that one: the shortest workable chains of parts, found by searching the catalogue."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import count

from gravidon.parts.catalogue import METERING_MM, Part
from gravidon.parts.ends import End, Fit, fit, mates
from gravidon.parts.torque import how_tight
from gravidon.translate import tr

IN_DRAWER_SHARE = 0.25
"""What a part costs in the search that is in the drawer already; project choice."""
PRICE_TIE, STACK_TIE = 1e-4, 1e-5
"""What a unit of price and a millimetre of height count where two chains are alike otherwise; project choice."""
DRILL_TIE = 0.01
"""What a millimetre counts that a hole has to be drilled up; project choice."""
TAPER_TIE = 0.03
"""What a taper in a parallel port counts more than the thread made for it: it cannot be turned to a place; project choice."""
FAR_OFF = 1.45
"""Times the best chain's cost from which another is no longer worth showing; project choice."""
BANJO_MORE = 1.1
"""Joints that a banjo counts more: it seals on two faces, and turns the oil in a cross hole; project choice."""
FAR_SHARE = 0.2
"""Share of its height that a part counts where it stands before the hose, away from the port that must be low."""
MOST_PARTS, MOST_LOOKS = 8, 40_000


@dataclass(frozen=True)
class Link:
    """A part in a chain and which of its ends faces the start (`inlet`) and which goes on (`outlet`)."""

    part: Part
    inlet: int
    outlet: int


@dataclass(frozen=True)
class Chain:
    """Parts from a start to a goal in order, the cost they were found at, how many tapers sit in parallel ports."""

    links: tuple[Link, ...]
    cost: float
    tapers: int = 0

    @property
    def backwards(self) -> tuple[Part, ...]:
        """Its parts that oil would run through the wrong way."""
        return tuple(x.part for x in self.links if _backwards(x.part, x.inlet, x.outlet))

    @property
    def price(self) -> float:
        """What its parts cost, the hose counted as one metre."""
        return sum(link.part.price for link in self.links)

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
    kinds that must be in it, kinds that must not, what is in the drawer (part ids), what counts as cost, what its hose
    and hose ends must stand [°C], the restrictor's hole [mm] (0: any; a smaller one is drilled to it) and that in the inlet flange (0: none)."""

    dash: int | None
    least_bore_mm: float = 0.0
    angles: tuple[float | None, float | None] = (None, None)
    with_kinds: tuple[str, ...] = ()
    without_kinds: tuple[str, ...] = ("tee",)
    hose_ends: str = "reusable"
    drawer: frozenset[str] = frozenset()
    by: str = "joints"
    least_temp_c: float = 0.0
    hole_mm: float = 0.0
    flange_hole_mm: float = 0.0


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
    tie = 0.0
    if part.meters:
        drilled = _hole(part, wish) - part.bore_mm
        tie = DRILL_TIE * drilled if drilled < NO_HOLE_MM / 2 else 0.0
    elif (
        0.0 < wish.flange_hole_mm < METERING_MM
        and part.kind == "flange"
        and any("inlet" in e.size for e in part.ends)
    ):
        tie = 0.5  # the plan's own hole is wanted in it
    tie += PRICE_TIE * part.price + STACK_TIE * part.stack_mm
    return (base + tie) * (IN_DRAWER_SHARE if part.id in wish.drawer else 1.0)


def find_chains(parts: Iterable[Part], start: End, goal: End, wish: Wish, most: int = 3) -> tuple[Chain, ...]:
    """Return the cheapest chains from a start port to a goal port, as the oil runs; fewer than `most`, or none, if there
    are no more that are worth showing.

    A best-first search over open ends: every part taken mates (seals) with the open end before it. A chain
    holds at most MOST_PARTS parts, none twice on one side of its hose, and exactly one hose where one is wished.
    What is nearest to its goal by the least that its missing parts can cost is looked at first.

    Raises: nothing.
    Source: P. E. Hart, N. J. Nilsson, B. Raphael, IEEE Trans. Systems Science and Cybernetics 4 (1968), 100.
    """
    parts = tuple(parts)
    table = _index(parts)
    goal_mates = set(mates(goal))
    least = _least_left(parts, goal, wish.dash, wish.by, wish.drawer)
    order = count()
    waiting: list[tuple[float, int, float, End, tuple[Link, ...], bool, int]] = [
        (0.0, next(order), 0.0, start, (), False, 0)
    ]
    done: dict[tuple[End, bool, int, tuple[str, ...]], int] = {}
    chains: list[Chain] = []
    looks = 0
    while waiting and len(chains) < most and looks < MOST_LOOKS:
        reach, _, cost, open_end, links, hosed, ends = heapq.heappop(waiting)
        looks += 1
        if chains and reach > FAR_OFF * chains[0].cost:
            break
        if links and open_end in goal_mates and (hosed or wish.dash is None) and _complete(links, wish):
            if all(_outline(links) != _outline(known.links) for known in chains):
                tapers = _tapers(start, links, goal)
                last = TAPER_TIE * (not _made_for(open_end, goal))
                chains.append(Chain(links, cost + last, tapers))
                chains.sort(key=lambda chain: chain.cost)
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
            if not _made_for(open_end, part.ends[k]):
                step += TAPER_TIE
            for j, out in enumerate(part.ends):
                after = (hosed or part.what.hose, ends + part.what.hose_end)
                left = least.get((out, after[0]))
                if left is not None and j != k and not _backwards(part, k, j):
                    made = (*links, Link(part, k, j))
                    heapq.heappush(waiting, (cost + step + left, next(order), cost + step, out, made, *after))
    return tuple(chains)


@lru_cache(maxsize=64)
def _least_left(
    parts: tuple[Part, ...], goal: End, dash: int | None, by: str, drawer: frozenset[str]
) -> Mapping[tuple[End, bool], float]:
    """Return the least that the parts from an open end to the goal can cost, by end and whether the hose lies behind it; what is not
    in it never gets there.

    A bound: no part costs less in a search, and what forbids one there is left out.
    """
    wish = Wish(dash, drawer=drawer, by=by)
    to: dict[tuple[End, bool], list[tuple[tuple[End, bool], float]]] = {}
    for inlet, rows in _index(parts).items():
        for part, k in rows:
            if part.what.hose and part.dash != dash:
                continue
            cost = cost_of(part, wish) * (FAR_SHARE if by == "height" else 1.0)
            for j, out in enumerate(part.ends):
                if j == k or _backwards(part, k, j):
                    continue
                for after in (True,) if part.what.hose else (False, True):
                    comes = (inlet, after and not part.what.hose)
                    to.setdefault((out, after), []).append((comes, cost))
    least: dict[tuple[End, bool], float] = {}
    order = count()
    waiting = [
        (0.0, next(order), end, h) for end in mates(goal) for h in ((True,) if dash else (True, False))
    ]
    while waiting:
        cost, _, end, hosed = heapq.heappop(waiting)
        if (end, hosed) in least:
            continue
        least[end, hosed] = cost
        for (inlet, before), step in to.get((end, hosed), ()):
            for open_end in mates(inlet):
                if (open_end, before) not in least:
                    heapq.heappush(waiting, (cost + step, next(order), open_end, before))
    return least


def _step(part: Part, links: tuple[Link, ...], hosed: bool, ends: int, wish: Wish) -> float | None:
    """Return what taking a part adds to the cost; None where it may not be taken."""
    if not _allowed(part, links, hosed, ends, wish):
        return None
    step = cost_of(part, wish) + _unlike(part, wish)
    if wish.by == "height" and wish.dash is not None and not hosed:
        step *= FAR_SHARE
    if wish.by == "joints" and "banjo" in _kinds(part):
        step += BANJO_MORE
    elif not part.what.hose_end:
        bent = 0.3 if wish.by == "joints" else 1.2
        return step + (bent if part.angle_deg else 0.0)
    angle = wish.angles[min(ends, 1)]
    if angle is None or not part.what.hose_end:
        dull = part.what.hose_end and part.angle_deg and wish.by != "height" and "banjo" not in _kinds(part)
        return (
            None if dull else step + 0.002 * part.angle_deg
        )  # a straight end always does where no angle is asked for
    return step if part.angle_deg == angle else None


NO_HOLE_MM = 1e3


def _hole(part: Part, wish: Wish) -> float:
    """Return the largest hole [mm] that a metering part may have: a smaller one can be drilled up, never down."""
    if not part.what.narrow:
        return wish.flange_hole_mm
    return wish.hole_mm or NO_HOLE_MM


def _made_for(one: End, other: End) -> bool:
    """Whether two ends that seal are of one kind, or made to meet: not a taper in a parallel hole."""
    return {one.kind, other.kind} not in ({"BSPT", "BSPP"}, {"metric", "metric taper"})


def _tapers(start: End, links: tuple[Link, ...], goal: End) -> int:
    ends = [start, *(e for x in links for e in (x.part.ends[x.inlet], x.part.ends[x.outlet])), goal]
    return sum(not _made_for(a, b) for a, b in zip(ends[::2], ends[1::2], strict=True))


def _backwards(part: Part, inlet: int, outlet: int) -> bool:
    """Whether oil would run the wrong way through a part that has a right way."""
    return part.what.directed and len(part.ends) == 2 and (inlet, outlet) != (1, 0)


def _kinds(part: Part) -> tuple[str, ...]:
    return tuple(end.kind for end in part.ends)


def _outline(links: tuple[Link, ...]) -> tuple[object, ...]:
    """What makes two chains worth showing side by side: another angle of a hose end alone does not."""
    return tuple((x.part.ends, x.part.role) if x.part.what.hose_end else x.part.id for x in links)


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
    if part.kind == "screen" and any(x.part.what.narrow for x in links):
        return False  # a screen behind the hole protects nothing smaller than itself
    if part.meters:
        most = _hole(part, wish)
        return part.bore_mm <= most + 1e-6 and all(x.part.kind != part.kind for x in links)
    if part.bore_mm and part.bore_mm < wish.least_bore_mm - 1e-6:
        return False
    if part.what.hose or part.what.hose_end:
        return _hose_allowed(part, hosed, ends, wish)
    after = max((k for k, x in enumerate(links) if x.part.what.hose), default=-1)
    return all(x.part is not part for x in links[after + 1 :])


def _hose_allowed(part: Part, hosed: bool, ends: int, wish: Wish) -> bool:
    """One hose between two ends that grip it, all of the wished dash and make, that stands what runs through it."""
    if part.temp_c and part.temp_c < wish.least_temp_c:
        return False
    if wish.dash is None or part.dash != wish.dash:
        return False
    if part.what.hose:
        return not hosed and part.role == ("push-on" if wish.hose_ends == "push-on" else "reusable")
    return (part.role or "reusable") == wish.hose_ends and ends < 2


def why_first(chains: Sequence[Chain], wish: Wish) -> str:
    """Return in one line why the first of some chains is the first; empty where there is no other.

    >>> why_first((), Wish(4))
    ''
    """
    if len(chains) < 2:
        return ""
    first, second = chains[0], chains[1]
    held, other_held = (sum(link.part.id in wish.drawer for link in c.links) for c in (first, second))
    high, other_high = (_after_hose(c) for c in (first, second))
    bends, other_bends = (sum(link.part.angle_deg > 0 for link in c.links) for c in (first, second))
    holes, other_holes = (
        min((link.part.bore_mm for link in c.links if link.part.meters), default=NO_HOLE_MM)
        for c in (first, second)
    )
    price = tr("first for its price: {price:.2f} against {other:.2f}").format(
        price=first.price, other=second.price
    )
    cheaper = first.price < second.price - 0.005
    reasons = (
        (wish.by == "price" and cheaper, price),
        (
            wish.by == "height" and high < other_high - 0.05,
            tr("first for its height: {high:.0f} mm stand over the port, against {other_high:.0f} mm").format(
                high=high, other_high=other_high
            ),
        ),
        (
            held > other_held,
            tr("first because {held} of its parts lie in the drawer, against {other_held}").format(
                held=held, other_held=other_held
            ),
        ),
        (
            first.joints < second.joints,
            tr("first for its joints: {joints} against {other}").format(
                joints=first.joints, other=second.joints
            ),
        ),
        (
            first.tapers < second.tapers,
            tr("as many joints; first because its thread is the port's own, not a taper in a parallel hole"),
        ),
        (
            holes > other_holes and holes < NO_HOLE_MM,
            tr(
                "as many joints; first because its hole of {holes:g} mm needs less drilling than one of {other_holes:g} mm"
            ).format(holes=holes, other_holes=other_holes),
        ),
        (bends < other_bends, tr("as many joints; first because it runs straighter")),
        (cheaper, tr("as many joints; {price}").format(price=price)),
        (True, tr("nothing tells it from the next: take what is at hand")),
    )
    return next(words for so, words in reasons if so)


def _after_hose(chain: Chain) -> float:
    at = max((k for k, link in enumerate(chain.links) if link.part.what.hose), default=-1)
    return sum(link.part.stack_mm for link in chain.links[at + 1 :])


@dataclass(frozen=True)
class ChainJoint:
    """One joint of a chain: both ends, what becomes of them, whether one of its two parts is of light alloy."""

    one: End
    other: End
    fit: Fit
    soft: bool = False

    @property
    def tighten(self) -> str:
        """How it is tightened, with a torque where a standard gives one."""
        return how_tight(self.one, self.other, self.fit, self.soft)


def joints_of(start: End, links: tuple[Link, ...], goal: End) -> tuple[ChainJoint, ...]:
    """Return every joint from the start port to the goal port."""
    open_end, made, soft = start, [], False
    for link in links:
        inlet, here = link.part.ends[link.inlet], "aluminium" in link.part.material
        made.append(ChainJoint(open_end, inlet, fit(open_end, inlet), soft or here))
        open_end, soft = link.part.ends[link.outlet], here
    made.append(ChainJoint(open_end, goal, fit(open_end, goal), soft))
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
                _backwards(part, *pair),
                min(rank[judge(part.ends[pair[1]], e).outcome] for e in after),
                pair,
            ),
            default=(0, 0),
        )
        links.append(Link(part, *best))
        open_end = part.ends[best[1]]
    return tuple(links)
