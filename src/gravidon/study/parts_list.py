"""The chains of a plan, joint by joint; what they need, what is on hand, what is to be ordered."""

from __future__ import annotations

import math
import re
from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from functools import lru_cache

from gravidon.parts.catalogue import Part, with_own
from gravidon.parts.chains import Chain, ChainJoint, Link, Wish, find_chains, joints_of, laid
from gravidon.parts.dash import HOSE_BORE_IN, dash_of_bore, hose_bore_mm
from gravidon.parts.ends import End, end_from, end_of_thread
from gravidon.plan.model import Fitting, Hose, Plan, ScreenPiece, TurboLine
from gravidon.study.of_plan import of_plan

FLAT_SHARE = 0.72
"""[-] of the hose's bore that a chain's smallest bore may be, where the plan does not ask for less; hose ends are
tighter than their hose, from memory."""


@dataclass(frozen=True)
class LineRun:
    """One line of parts: its key and name, the ports, the parts, every joint, other chains that would do.

    `missing` says in words what could not be found; then there are no parts.
    """

    key: str
    name: str
    turbo: int
    start: End
    goal: End
    links: tuple[Link, ...]
    joints: tuple[ChainJoint, ...]
    others: tuple[Chain, ...]
    missing: str = ""
    chosen: bool = False

    @property
    def bad(self) -> tuple[ChainJoint, ...]:
        """Joints that leak or do not fit."""
        return tuple(j for j in self.joints if j.fit.outcome != "seals")

    @property
    def parts(self) -> tuple[Part, ...]:
        """The parts in order."""
        return tuple(link.part for link in self.links)


def own_parts(plan: Plan) -> tuple[Part, ...]:
    """Return the user's own parts as catalogue parts."""
    return tuple(
        Part(**{**p.model_dump(exclude={"ends"}), "ends": tuple(end_from(code) for code in p.ends)})
        for p in plan.own_parts
    )


def shelf(plan: Plan) -> dict[str, Part]:
    """Return every part that this plan may use, by id."""
    return with_own(own_parts(plan))


def nearest_dash(bore_mm: float) -> int:
    """Return the dash size of a bore, or the nearest one."""
    return dash_of_bore(bore_mm) or min(HOSE_BORE_IN, key=lambda d: abs(hose_bore_mm(d) - bore_mm))


def _drawer(plan: Plan) -> frozenset[str]:
    return frozenset(item.part for item in plan.drawer if item.count > 0)


def _angle(shape: str) -> float:
    found = re.search(r"(\d+)\s*°", shape)
    return float(found[1]) if found else 0.0


def _feed_angles(it: TurboLine) -> tuple[float, float]:
    elbows = [
        _angle(p.shape) for p in it.feed.pieces if isinstance(p, Fitting) and not p.shape.startswith("tee")
    ]
    return (elbows[0] if len(elbows) > 1 else 0.0, elbows[-1] if elbows else 0.0)


def _restrictors(parts: Sequence[Part], it: TurboLine) -> tuple[Part, ...]:
    """Return the shelf with only those restrictors, and inlet flanges, whose hole is the plan's (or drilled to it)."""
    wanted = it.restrictor.bore_mm if it.restrictor.fitted else 0.0
    holes = sorted(
        {p.bore_mm for p in parts if p.kind == "restrictor"},
        key=lambda b: (b > wanted + 1e-6, abs(b - wanted)),
    )
    nearest = holes[0] if holes else 0.0
    kept = [p for p in parts if p.kind != "restrictor" or p.bore_mm == nearest]
    hole = it.flange_hole.bore_mm if it.flange_hole.fitted else 5.0
    inlets = [p for p in kept if p.kind == "flange" and any("inlet" in e.size for e in p.ends)]
    best = min(inlets, key=lambda p: abs(p.bore_mm - hole), default=None)
    return tuple(p for p in kept if p not in inlets or p is best)


def feed_run(plan: Plan, k: int, by: str = "joints") -> LineRun:
    """Return the feed of one turbo: from the tap (or the tee in the trunk) to its inlet."""
    it, tap = plan.turbos[k], plan.taps[plan.tap]
    goal = end_from(it.parts.inlet)
    hose = next(p for p in it.feed.pieces if isinstance(p, Hose))
    dash = nearest_dash(hose.bore_mm)
    shared = len(plan.turbos) > 1
    start = End("37 flare", f"-{dash}", "male") if shared else end_of_thread(tap.port_thread, "female")
    kinds = tuple(
        kind
        for kind, wanted in (
            ("restrictor", it.restrictor.fitted),
            ("screen", any(isinstance(p, ScreenPiece) for p in it.feed.pieces)),
        )
        if wanted
    )
    wish = Wish(dash, 0.0, _feed_angles(it), kinds, drawer=_drawer(plan), by=by)
    parts = _restrictors(tuple(shelf(plan).values()), it)
    first: tuple[Link, ...] = ()
    search_from = start
    if not shared:
        search_from = end_of_thread(tap.fitting_thread, "female")
        tee = _sender_tee(parts, plan, dash)
        if tee is not None:
            first, search_from = (Link(tee, 0, 1),), tee.ends[1]
    return _made("feed", "Feed", k, it.parts.feed, plan, parts, start, goal, search_from, goal, first, wish)


def _sender_tee(parts: Sequence[Part], plan: Plan, dash: int) -> Part | None:
    tap = plan.taps[plan.tap]
    if tap.kind != "sender tee" or not tap.keeps_sender:
        return None
    male = end_of_thread(tap.fitting_thread, "male")
    return next((p for p in parts if p.kind == "tee" and p.ends[0] == male and p.dash == dash), None)


def trunk_run(plan: Plan, by: str = "joints") -> LineRun | None:
    """Return what brings oil from the tap to the first tee where several turbos share it; None for one turbo."""
    if len(plan.turbos) < 2:
        return None
    tap = plan.taps[plan.tap]
    hose = next((p for p in plan.trunk if isinstance(p, Hose)), None)
    bore = (
        hose.bore_mm if hose else next(p for p in plan.turbos[0].feed.pieces if isinstance(p, Hose)).bore_mm
    )
    dash = nearest_dash(bore)
    start, goal = end_of_thread(tap.port_thread, "female"), End("37 flare", f"-{dash}", "female")
    wish = Wish(dash if hose else None, 0.0, (None, None), drawer=_drawer(plan), by=by)
    parts = tuple(p for p in shelf(plan).values() if p.kind != "restrictor")
    found = end_of_thread(tap.fitting_thread, "female")
    return _made("trunk", "Trunk to the tee", 0, (), plan, parts, start, goal, found, goal, (), wish)


def drain_run(plan: Plan, k: int, by: str = "joints") -> LineRun:
    """Return the drain of one turbo: from its flange to the pan, a tee or a pot."""
    it = plan.turbos[k]
    drain = it.drain
    dash = nearest_dash(drain.hose_bore_mm)
    start = end_from(it.parts.outlet)
    port_of = end_of_thread(drain.fitting.port_thread, "female")
    goal = search = port_of
    if it.drain_by == "scavenge" or drain.joins is not None:
        goal = search = End("37 flare", f"-{dash}", "male")
    elif drain.fitting.means == "weld bung":
        goal = search = End("weld", "any")
    elif drain.fitting.means == "bulkhead":
        goal = search = End("hole", f"-{dash}")
    else:
        search = end_of_thread(drain.fitting.fitting_thread, "female")
    ends = {p.at: _angle(p.label) for p in drain.pieces}
    angles = (ends.get("turbo"), ends.get("pan"))
    least = min(FLAT_SHARE * drain.hose_bore_mm, drain.fitting.bore_mm - 0.4)
    wish = Wish(dash, max(least, 0.0), angles, drawer=_drawer(plan), by=by)
    parts = tuple(shelf(plan).values())
    return _made("drain", "Drain", k, it.parts.drain, plan, parts, start, goal, start, search, (), wish)


def scavenge_run(plan: Plan, k: int, by: str = "joints") -> LineRun | None:
    """Return the pump's pressure line, with its one-way valve; None where no pump is used."""
    it = plan.turbos[k]
    if it.drain_by != "scavenge":
        return None
    dash = nearest_dash(it.scavenge.hose_bore_mm)
    port = End("37 flare", f"-{dash}", "male")
    wish = Wish(dash, 0.0, (None, None), ("valve",) if it.scavenge.valve else (), drawer=_drawer(plan), by=by)
    parts = tuple(shelf(plan).values())
    return _made("scavenge", "Pump to return", k, (), plan, parts, port, port, port, port, (), wish)


@lru_cache(maxsize=256)
def _found(parts: tuple[Part, ...], start: End, goal: End, wish: Wish) -> tuple[Chain, ...]:
    return find_chains(parts, start, goal, wish)


def _made(
    key: str, name: str, k: int, ids: tuple[str, ...], plan: Plan, parts: tuple[Part, ...], start: End, goal: End,
    search_from: End, search_to: End, first: tuple[Link, ...], wish: Wish,
) -> LineRun:  # fmt: skip
    """Return a run: the parts the plan names, or else the best chain found."""
    chains = tuple(Chain((*first, *c.links), c.cost) for c in _found(parts, search_from, search_to, wish))
    label = name if len(plan.turbos) == 1 or key == "trunk" else f"{name}, {plan.turbos[k].turbo.label}"
    known = {p.id: p for p in parts} | shelf(plan)
    if ids:
        lost = [i for i in ids if i not in known]
        if lost:
            return LineRun(
                key, label, k, start, goal, (), (), chains, f"the parts list has no part '{lost[0]}'", True
            )
        links = laid((known[i] for i in ids), start, goal)
        return LineRun(key, label, k, start, goal, links, joints_of(start, links, goal), chains, chosen=True)
    if not chains:
        what = f"no chain of catalogue parts leads from {search_from.text} to {search_to.text}"
        if wish.dash:
            what += f" with a -{wish.dash} hose"
        if wish.least_bore_mm > 0:
            what += f" and a bore of at least {wish.least_bore_mm:.1f} mm"
        return LineRun(key, label, k, start, goal, (), (), (), what)
    links = chains[0].links
    return LineRun(key, label, k, start, goal, links, joints_of(start, links, goal), chains)


@of_plan
def runs(plan: Plan, by: str = "joints") -> tuple[LineRun, ...]:
    """Return every line of parts of a plan; chains are cheapest by joints, price or height."""
    key = (by, plan.taps, plan.tap, plan.trunk, plan.drawer, plan.own_parts, *map(_of_line, plan.turbos))
    if key not in _RUNS:
        found: list[LineRun | None] = [trunk_run(plan, by)]
        for k in range(len(plan.turbos)):
            found += [feed_run(plan, k, by), drain_run(plan, k, by), scavenge_run(plan, k, by)]
        _RUNS[key] = tuple(run for run in found if run is not None)
        while len(_RUNS) > MOST_RUNS:
            del _RUNS[next(iter(_RUNS))]
    return _RUNS[key]


MOST_RUNS = 24
_RUNS: dict[tuple[Hashable, ...], tuple[LineRun, ...]] = {}
"""Lines of parts last made: moving a hose changes none of them."""


def _of_line(it: TurboLine) -> tuple[Hashable, ...]:
    """Return what of a turbo its lines of parts depend on."""
    d = it.drain
    return (
        it.turbo.label, it.feed, it.restrictor, it.flange_hole, it.parts, it.drain_by, it.scavenge.hose_bore_mm, it.scavenge.valve,
        d.hose_bore_mm, d.pieces, d.fitting, d.joins,
    )  # fmt: skip


# --- what it needs ---------------------------------------------------------------------------


@dataclass(frozen=True)
class Need:
    """So many of a part (hose and sleeve: metres), why, how many are spare, on hand and to order, and the cost."""

    part: Part
    count: float
    why: str
    spare: float
    on_hand: float

    @property
    def to_order(self) -> float:
        """What has to be bought, spares included; hose and sleeve in steps of 0.1 m."""
        missing = max(self.count + self.spare - self.on_hand, 0.0)
        return math.ceil(missing * 10 - 1e-6) / 10 if by_length(self.part) else math.ceil(missing - 1e-6)

    @property
    def lacking(self) -> bool:
        """Whether the build cannot be done with what is on hand."""
        return self.on_hand < self.count - 1e-6

    @property
    def cost(self) -> float:
        """Price of what is to be bought."""
        return self.to_order * self.part.price


def by_length(part: Part) -> bool:
    """Return whether a part is counted in metres."""
    return part.kind in ("hose", "sleeve")


SPARES = {"washer": 0.5, "gasket": 1.0}
"""Spares advised: crush and bonded washers half as many again, one more gasket; common practice, no source."""


def spare_of(part: Part, count: float) -> float:
    """Return how many more are advised: washers, gaskets, and one of each aluminium taper fitting, whose threads gall
    and end it as scrap (common practice, no source)."""
    if part.kind in SPARES:
        return float(math.ceil(count * SPARES[part.kind]))
    tapers = any(e.kind in ("NPT", "BSPT", "metric taper") for e in part.ends)
    return 1.0 if count > 0 and tapers and part.material == "aluminium" else 0.0


def needs(
    plan: Plan, lengths_m: dict[str, float], sleeve_m: dict[int, float], clamps: dict[int, int]
) -> tuple[Need, ...]:
    """Return everything the plan's lines need, in the order of the catalogue's kinds.

    Args:
        plan: the plan.
        lengths_m: hose length [m] by part id, as cut.
        sleeve_m: heat sleeve [m] by dash size.
        clamps: cushioned clamps by dash size.
    """
    stock = shelf(plan)
    counts: dict[str, float] = {}
    reasons: dict[str, list[str]] = {}

    def add(part_id: str, number: float, why: str) -> None:
        if part_id in stock and number > 0:
            counts[part_id] = counts.get(part_id, 0.0) + number
            if why not in reasons.setdefault(part_id, []):
                reasons[part_id].append(why)

    lines = runs(plan)
    for run in lines:
        for part in run.parts:
            add(
                part.id,
                lengths_m.get(f"{run.key}{run.turbo}", 1.0) if part.kind == "hose" else 1.0,
                run.name.lower(),
            )
        for j in run.joints:
            for part_id, number, why in _sealers(j, plan):
                add(part_id, number, why)
        if any(p.kind == "hose end" and any(e.kind == "barb" for e in p.ends) for p in run.parts):
            add(f"clamp-hose-clamp-for-{run.parts[0].dash}-push-on-hose", 2, run.name.lower())
    if len(plan.turbos) > 1:
        dash = nearest_dash(next(p for p in plan.turbos[0].feed.pieces if isinstance(p, Hose)).bore_mm)
        add(f"tee-{dash}-flare-tee-female-swivel-run", float(len(plan.turbos) - 1), "feed to both turbos")
    for it in plan.turbos:
        if it.drain.joins is not None:
            add(f"tee-{nearest_dash(it.drain.hose_bore_mm)}-flare-tee-all-male", 1, "joined drains")
    for dash, metres in sleeve_m.items():
        add(f"sleeve-heat-sleeve-for-{dash}-hose-per-metre", metres, "beside hot parts")
    for dash, number in clamps.items():
        add(f"clamp-cushioned-clamp-for-{dash}-hose", float(number), "holding the hose")
    held = {item.part: item.count for item in plan.drawer}
    for item in plan.drawer:
        if item.part not in counts and item.part in stock:
            counts[item.part], reasons[item.part] = 0.0, ["in the drawer, not needed"]
    made = [
        Need(
            stock[i], n, "; ".join(reasons[i]), spare_of(stock[i], n), held.get(i, 0.0),
        )
        for i, n in counts.items()
    ]  # fmt: skip
    return tuple(sorted(made, key=lambda need: (need.part.kind, need.part.name)))


_SEALERS: dict[str, tuple[str, float, str]] = {
    "banjo": ("crush washer for {size}", 2, "one each side of the banjo"),
    "metric": ("crush washer for {size}", 1, "metric port"),
    "BSPP": ("bonded washer for {size} BSPP", 1, "parallel pipe thread"),
    "O-ring boss": ("O-ring for {size} boss", 1, "O-ring boss"),
    "hole": ("sealing washer for {size} bulkhead", 2, "one each side of the wall"),
}
"""What a kind of end takes: name of the washer, how many, why; a banjo's before its metric port's."""


def _sealers(j: ChainJoint, plan: Plan) -> list[tuple[str, float, str]]:
    """Return the consumables a joint takes: (part id, number, why)."""
    ends = {end.kind: end for end in (j.one, j.other)}
    if ends.keys() & {"NPT", "BSPT", "metric taper"}:
        name = (
            "thread tape, oil-proof"
            if plan.build.sealing == "tape"
            else "thread sealant, oil-proof, small tube"
        )
        return [(part_id("sealant", name), 0.05, "taper threads")]
    if "flange" in ends:
        size = ends["flange"].size
        name = "oil inlet gasket two-bolt 24 mm" if "inlet" in size else f"drain gasket {size}"
        return [(part_id("gasket", name), 1, "new gasket")]
    for kind, (words, number, why) in _SEALERS.items():
        if kind in ends:
            size = ends[kind].size.split("x")[0] if kind in ("banjo", "metric") else ends[kind].size
            return [(part_id("washer", words.format(size=size)), number, why)]
    return []


def part_id(kind: str, name: str) -> str:
    """Return the catalogue's id of a part by its kind and name.

    >>> part_id("washer", "crush washer for M10")
    'washer-crush-washer-for-m10'
    """
    text = f"{kind} {name}".lower().replace("°", "")
    return re.sub(r"[^a-z0-9]+", "-", text).strip("-")
