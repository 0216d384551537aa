"""The chains of a plan, joint by joint; what they need, what is on hand, what is to be ordered."""

from __future__ import annotations

import math
from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache

from gravidon.parts.catalogue import Part, serving, with_own
from gravidon.parts.chains import Chain, ChainJoint, Link, Wish, find_chains, joints_of, laid
from gravidon.parts.dash import HOSE_BORE_IN, dash_of_bore, hose_bore_mm
from gravidon.parts.ends import End, end_from, end_of_thread
from gravidon.parts.shapes import SHAPES
from gravidon.plan.model import Fitting, Hose, Plan, ScreenPiece, TurboLine
from gravidon.study.solve.kept import Kept

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


def _feed_angles(it: TurboLine) -> tuple[float, float]:
    elbows = [
        float(SHAPES[p.shape].angle_deg)
        for p in it.feed.pieces
        if isinstance(p, Fitting) and not SHAPES[p.shape].tee
    ]
    return (elbows[0] if len(elbows) > 1 else 0.0, elbows[-1] if elbows else 0.0)


def _restrictors(parts: Sequence[Part], it: TurboLine) -> tuple[Part, ...]:
    """Return the shelf with only those restrictors, and inlet flanges, whose hole is the plan's (or drilled to it)."""
    wanted = it.restrictor.bore_mm if it.restrictor.fitted else 0.0
    holes = sorted(
        {p.bore_mm for p in parts if p.what.narrow},
        key=lambda b: (b > wanted + 1e-6, abs(b - wanted)),
    )
    nearest = holes[0] if holes else 0.0
    kept = [p for p in parts if not p.what.narrow or p.bore_mm == nearest]
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
    wish = Wish(dash, 0.0, _feed_angles(it), kinds, drawer=_drawer(plan), by=by, least_temp_c=stands_c(it))
    parts = _restrictors(tuple(shelf(plan).values()), it)
    first: tuple[Link, ...] = ()
    search_from = start
    if not shared:
        search_from = end_of_thread(tap.fitting_thread, "female")
        tee = _sender_tee(parts, plan, dash)
        if tee is not None:
            first, search_from = (Link(tee, 0, 1),), tee.ends[1]
    return _made("feed", "Feed", k, it.parts.feed, plan, parts, start, goal, search_from, goal, first, wish)


HOSE_IN_HAND_C = 10.0
"""[°C] that a hose at the turbo is to stand over the hottest oil that its bearing is allowed; common practice, no source."""


def stands_c(it: TurboLine) -> float:
    """Return what a hose that ends at a turbo must stand [°C]."""
    return it.turbo.window.outlet_max_c.value + HOSE_IN_HAND_C


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
    parts = tuple(p for p in shelf(plan).values() if not p.what.narrow)
    found = end_of_thread(tap.fitting_thread, "female")
    return _made("trunk", "Trunk to the tee", 0, (), plan, parts, start, goal, found, goal, (), wish)


def drain_run(plan: Plan, k: int, by: str = "joints") -> LineRun:
    """Return the drain of one turbo: from its flange to the pan, a tee or a pot."""
    it = plan.turbos[k]
    drain = it.drain
    dash = nearest_dash(drain.hose_bore_mm)
    start = end_from(it.parts.outlet)
    if it.drain_by == "scavenge" or drain.joins is not None:
        goal = search = End("37 flare", f"-{dash}", "male")
    else:
        goal, search = drain.fitting.way.ports(drain.fitting.port_thread, drain.fitting.fitting_thread, dash)
    ends = {p.at: p.angle_deg for p in drain.pieces}
    angles = (ends.get("turbo"), ends.get("pan"))
    least = min(FLAT_SHARE * drain.hose_bore_mm, drain.fitting.bore_mm - 0.4)
    wish = Wish(dash, max(least, 0.0), angles, drawer=_drawer(plan), by=by, least_temp_c=stands_c(it))
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
    key: str,
    name: str,
    k: int,
    ids: tuple[str, ...],
    plan: Plan,
    parts: tuple[Part, ...],
    start: End,
    goal: End,
    search_from: End,
    search_to: End,
    first: tuple[Link, ...],
    wish: Wish,
) -> LineRun:
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


def runs(plan: Plan, by: str = "joints") -> tuple[LineRun, ...]:
    """Return every line of parts of a plan; chains are cheapest by joints, price or height."""
    key = (by, plan.taps, plan.tap, plan.trunk, plan.drawer, plan.own_parts, *map(_of_line, plan.turbos))
    return _RUNS.of(key, lambda: _all_runs(plan, by))


_RUNS: Kept[tuple[LineRun, ...]] = Kept(24)
"""Lines of parts last made: moving a hose changes none of them."""


def _all_runs(plan: Plan, by: str) -> tuple[LineRun, ...]:
    found: list[LineRun | None] = [trunk_run(plan, by)]
    for k in range(len(plan.turbos)):
        found += [feed_run(plan, k, by), drain_run(plan, k, by), scavenge_run(plan, k, by)]
    return tuple(run for run in found if run is not None)


def _of_line(it: TurboLine) -> tuple[Hashable, ...]:
    """Return what of a turbo its lines of parts depend on."""
    d = it.drain
    return (
        it.turbo.label,
        stands_c(it),
        it.feed,
        it.restrictor,
        it.flange_hole,
        it.parts,
        it.drain_by,
        it.scavenge.hose_bore_mm,
        it.scavenge.valve,
        d.hose_bore_mm,
        d.pieces,
        d.fitting,
        d.joins,
    )


# --- what it needs ---------------------------------------------------------------------------


@dataclass(frozen=True)
class Need:
    """So many of a part (hose and sleeve: metres), why, how many are spare, on hand and to order, the cost, and the
    keys of the lines it is for."""

    part: Part
    count: float
    why: str
    spare: float
    on_hand: float
    lines: tuple[str, ...] = ()

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
    return part.what.by_length


def spare_of(part: Part, count: float) -> float:
    """Return how many more are advised: washers, gaskets, and one of each aluminium taper fitting, whose threads gall
    and end it as scrap (common practice, no source)."""
    if part.what.spare_share:
        return float(math.ceil(count * part.what.spare_share))
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
    lines: dict[str, list[str]] = {}

    def add(part: Part | None, number: float, why: str, line: str = "") -> None:
        if part is None or number <= 0:
            return
        counts[part.id] = counts.get(part.id, 0.0) + number
        for kept, word in ((reasons, why), (lines, line)):
            if word and word not in kept.setdefault(part.id, []):
                kept[part.id].append(word)

    def usual(kind: str, role: str, dash: int | None = None) -> Part | None:
        return serving(stock.values(), kind, role, dash)

    for run in runs(plan):
        why = run.name.lower()
        for part in run.parts:
            add(part, lengths_m.get(f"{run.key}{run.turbo}", 1.0) if part.what.hose else 1.0, why, run.key)
            if part.what.hose_end and any(e.kind == "barb" for e in part.ends):
                add(usual("clamp", "push-on hose", part.dash), 1, why, run.key)
        for j in run.joints:
            taken = _sealer(j, plan)
            if taken is not None:
                add(usual(*taken[:2]), *taken[2:], run.key)
    if len(plan.turbos) > 1:
        dash = nearest_dash(next(p for p in plan.turbos[0].feed.pieces if isinstance(p, Hose)).bore_mm)
        number = float(len(plan.turbos) - 1)
        add(_flare_tee(stock.values(), dash, swivel=True), number, "feed to both turbos", "feed")
    for it in plan.turbos:
        if it.drain.joins is not None:
            tee = _flare_tee(stock.values(), nearest_dash(it.drain.hose_bore_mm), swivel=False)
            add(tee, 1, "joined drains", "drain")
    for dash, metres in sleeve_m.items():
        add(usual("sleeve", "", dash), metres, "beside hot parts")
    for dash, number in clamps.items():
        add(usual("clamp", "cushioned", dash), float(number), "holding the hose")
    held = {item.part: item.count for item in plan.drawer}
    for item in plan.drawer:
        if item.part not in counts and item.part in stock:
            counts[item.part], reasons[item.part] = 0.0, ["in the drawer, not needed"]
    made = [
        Need(
            stock[i],
            n,
            "; ".join(reasons[i]),
            spare_of(stock[i], n),
            held.get(i, 0.0),
            tuple(lines.get(i, ())),
        )
        for i, n in counts.items()
    ]
    return tuple(sorted(made, key=lambda need: (need.part.kind, need.part.name)))


def _flare_tee(parts: Iterable[Part], dash: int, swivel: bool) -> Part | None:
    """Return a tee of three flares of one size, all male or with a swivelling female end; None if there is none."""
    genders = ["female", "male", "male"] if swivel else ["male", "male", "male"]
    return next(
        (
            p
            for p in parts
            if p.kind == "tee"
            and all((e.kind, e.size) == ("37 flare", f"-{dash}") for e in p.ends)
            and sorted(e.gender for e in p.ends) == genders
        ),
        None,
    )


_SEALERS: dict[str, tuple[str, float, str]] = {
    "banjo": ("metric", 2, "one each side of the banjo"),
    "metric": ("metric", 1, "metric port"),
    "BSPP": ("BSPP", 1, "parallel pipe thread"),
    "O-ring boss": ("O-ring boss", 1, "O-ring boss"),
    "hole": ("hole", 2, "one each side of the wall"),
}
"""What a kind of end takes: the port its washer serves, how many, why; a banjo's before its metric port's."""


def _sealer(j: ChainJoint, plan: Plan) -> tuple[str, str, float, str] | None:
    """Return the consumable a joint takes as (part kind, role, number, why); None where it takes none."""
    ends = {end.kind: end for end in (j.one, j.other)}
    if ends.keys() & {"NPT", "BSPT", "metric taper"}:
        return "sealant", plan.build.sealing, 0.05, "taper threads"
    if "flange" in ends:
        return "gasket", ends["flange"].size, 1, "new gasket"
    for kind, (serves, number, why) in _SEALERS.items():
        if kind in ends:
            size = ends[kind].size.partition("x")[0]
            return "washer", f"{serves} {size}", number, why
    return None
