# SPDX-License-Identifier: GPL-3.0-or-later
"""The chains of a plan, joint by joint; what they need, what is on hand, what is to be ordered."""

from __future__ import annotations

import math
from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from gravidon.parts.catalogue import Part, serving
from gravidon.parts.chains import Chain, ChainJoint, Link, Wish, find_chains, joints_of, laid, why_first
from gravidon.parts.ends import End, end_from, end_of_thread
from gravidon.parts.shapes import SHAPES
from gravidon.plan.model import Fitting, Hose, Plan, ScreenPiece, TurboLine
from gravidon.study.solve import assemble
from gravidon.study.solve.as_bought import line_dash, nearest_dash, shelf
from gravidon.study.solve.kept import Kept
from gravidon.translate import N_, tr

FLAT_SHARE = 0.72
"""[-] of the hose's bore that a chain's smallest bore may be, where the plan does not ask for less; hose ends are
tighter than their hose, from memory."""


@dataclass(frozen=True)
class LineRun:
    """One line of parts: its key and name, the ports, the parts, every joint, other chains that would do.

    `missing` says in words what could not be found; then there are no parts. `why` says why the chain found is the first.
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
    why: str = ""

    @property
    def bad(self) -> tuple[ChainJoint, ...]:
        """Joints that leak or do not fit."""
        return tuple(j for j in self.joints if j.fit.outcome != "seals")

    @property
    def parts(self) -> tuple[Part, ...]:
        """The parts in order."""
        return tuple(link.part for link in self.links)


def _drawer(plan: Plan) -> frozenset[str]:
    return frozenset(item.part for item in plan.drawer if item.count > 0)


def _feed_angles(it: TurboLine) -> tuple[float, float]:
    elbows = [
        float(SHAPES[p.shape].angle_deg)
        for p in it.feed.pieces
        if isinstance(p, Fitting) and not SHAPES[p.shape].tee
    ]
    return (elbows[0] if len(elbows) > 1 else 0.0, elbows[-1] if elbows else 0.0)


def feed_run(plan: Plan, k: int, by: str = "joints") -> LineRun:
    """Return the feed of one turbo: from the tap (or the tee in the trunk) to its inlet."""
    it, tap = plan.turbos[k], plan.taps[plan.tap]
    goal = end_from(it.parts.inlet)
    dash = line_dash(plan, k, "feed")
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
    wish = Wish(
        dash,
        0.0,
        _feed_angles(it),
        kinds,
        drawer=_drawer(plan),
        by=by,
        least_temp_c=stands_c(plan, k),
        hole_mm=it.restrictor.bore_mm if it.restrictor.fitted else 0.0,
        flange_hole_mm=it.flange_hole.bore_mm if it.flange_hole.fitted else 0.0,
    )
    parts = tuple(shelf(plan).values())
    first: tuple[Link, ...] = ()
    search_from = start
    if not shared:
        search_from = end_of_thread(tap.fitting_thread, "female")
        tee = _sender_tee(parts, plan, dash)
        if tee is not None:
            first, search_from = (Link(tee, 0, 1),), tee.ends[1]
    return _made(
        "feed", N_("Feed"), k, it.parts.feed, plan, parts, start, goal, search_from, goal, first, wish
    )


NEAR_RATING_K, STEP_C, MOST_C = 10.0, 10.0, 230.0
"""[K] in hand below a hose's rating, [°C] steps in which ratings are sought, [°C] that the best hose stands: common practice,
no source."""


def stands_c(plan: Plan, k: int) -> float:
    """Return what a hose that ends at a turbo must stand [°C]: the hottest oil that leaves its bearing, with a little in hand."""
    turning = np.array([c.kind.turning for c in plan.conditions])
    out = assemble.supply_of(plan)[1].branches[k].outlet_temperature_k[turning] - 273.15
    hottest = float(out.max(initial=0.0)) + NEAR_RATING_K
    return min(STEP_C * math.ceil(hottest / STEP_C - 1e-6), MOST_C)


def pan_oil_c(plan: Plan) -> float:
    """Return what a hose between the engine and a tee must stand [°C]: the hottest oil of the pan, with a little in hand."""
    hottest = (
        max((c.oil_temperature_c for c in plan.conditions if c.kind.turning), default=0.0) + NEAR_RATING_K
    )
    return min(STEP_C * math.ceil(hottest / STEP_C - 1e-6), MOST_C)


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
    wish = Wish(
        dash if hose else None, 0.0, (None, None), drawer=_drawer(plan), by=by, least_temp_c=pan_oil_c(plan)
    )
    parts = tuple(p for p in shelf(plan).values() if not p.what.narrow)
    found = end_of_thread(tap.fitting_thread, "female")
    return _made("trunk", N_("Trunk to the tee"), 0, (), plan, parts, start, goal, found, goal, (), wish)


def drain_run(plan: Plan, k: int, by: str = "joints") -> LineRun:
    """Return the drain of one turbo: from its flange to the pan, a tee or a pot."""
    it = plan.turbos[k]
    drain = it.drain
    dash = line_dash(plan, k, "drain")
    start = end_from(it.parts.outlet)
    if it.drain_by == "scavenge" or drain.joins is not None:
        goal = search = End("37 flare", f"-{dash}", "male")
    else:
        goal, search = drain.fitting.way.ports(drain.fitting.port_thread, drain.fitting.fitting_thread, dash)
    ends = {p.at: p.angle_deg for p in drain.pieces}
    angles = (ends.get("turbo"), ends.get("pan"))
    least = min(FLAT_SHARE * drain.hose_bore_mm, drain.fitting.bore_mm - 0.4)
    wish = Wish(dash, max(least, 0.0), angles, drawer=_drawer(plan), by=by, least_temp_c=stands_c(plan, k))
    parts = _bungs(tuple(shelf(plan).values()), it)
    return _made("drain", N_("Drain"), k, it.parts.drain, plan, parts, start, goal, start, search, (), wish)


def _bungs(parts: tuple[Part, ...], it: TurboLine) -> tuple[Part, ...]:
    """Return the shelf with only those weld bungs that have the plan's thread; all of them where none has."""
    wanted = end_of_thread(it.drain.fitting.port_thread, "female")
    of_size = {
        p.id
        for p in parts
        if p.kind == "bung" and any((e.kind, e.size) == (wanted.kind, wanted.size) for e in p.ends)
    }
    return tuple(p for p in parts if p.kind != "bung" or p.id in of_size) if of_size else parts


def scavenge_run(plan: Plan, k: int, by: str = "joints") -> LineRun | None:
    """Return the pump's pressure line, with its one-way valve; None where no pump is used."""
    it = plan.turbos[k]
    if it.drain_by != "scavenge":
        return None
    dash = nearest_dash(it.scavenge.hose_bore_mm)
    port = End("37 flare", f"-{dash}", "male")
    wish = Wish(
        dash,
        0.0,
        (None, None),
        ("valve",) if it.scavenge.valve else (),
        drawer=_drawer(plan),
        by=by,
        least_temp_c=stands_c(plan, k),
    )
    parts = tuple(shelf(plan).values())
    return _made("scavenge", N_("Pump to return"), k, (), plan, parts, port, port, port, port, (), wish)


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
    name = tr(name)
    label = name if len(plan.turbos) == 1 or key == "trunk" else f"{name}, {plan.turbos[k].turbo.label}"
    known = {p.id: p for p in parts} | shelf(plan)
    if ids:
        lost = [i for i in ids if i not in known]
        if lost:
            return LineRun(
                key,
                label,
                k,
                start,
                goal,
                (),
                (),
                chains,
                tr("the parts list has no part '{lost}'").format(lost=lost[0]),
                True,
            )
        links = laid((known[i] for i in ids), start, goal)
        return LineRun(key, label, k, start, goal, links, joints_of(start, links, goal), chains, chosen=True)
    if not chains:
        what = tr("no chain of catalogue parts leads from {start} to {goal}").format(
            start=search_from.text, goal=search_to.text
        )
        if wish.dash:
            what += tr(" with a -{dash} hose").format(dash=wish.dash)
        if wish.least_bore_mm > 0:
            what += tr(" and a bore of at least {least_bore_mm:.1f} mm").format(
                least_bore_mm=wish.least_bore_mm
            )
        if wish.hole_mm > 0 and "restrictor" in wish.with_kinds:
            what += tr(" and a hole of {hole_mm:.2f} mm or one that can be drilled to it").format(
                hole_mm=wish.hole_mm
            )
        return LineRun(key, label, k, start, goal, (), (), (), what)
    links = chains[0].links
    joints, why = joints_of(start, links, goal), why_first(chains, wish)
    return LineRun(key, label, k, start, goal, links, joints, chains, why=why)


def runs(plan: Plan, by: str = "joints") -> tuple[LineRun, ...]:
    """Return every line of parts of a plan; chains are cheapest by joints, price or height."""
    stands = [stands_c(plan, k) for k in range(len(plan.turbos))]
    lines = map(_of_line, plan.turbos)
    key = (by, plan.taps, plan.tap, plan.trunk, plan.drawer, plan.own_parts, *stands, *lines)
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


@dataclass(frozen=True)
class DrilledUp:
    """A bought hole that is opened to the plan's: which of a turbo's holes ("restrictor", "flange_hole"), of which part, to which bore [mm]."""

    hole: str
    turbo: int
    part: Part
    bore_mm: float


def drilled_up(plan: Plan) -> tuple[DrilledUp, ...]:
    """Return the holes that come smaller than the plan's and are opened to it."""
    made = []
    for run in (r for r in runs(plan) if r.key == "feed"):
        it = plan.turbos[run.turbo]
        for key, hole, part in (
            ("restrictor", it.restrictor, next((p for p in run.parts if p.what.narrow), None)),
            ("flange_hole", it.flange_hole, next((p for p in run.parts if p.kind == "flange"), None)),
        ):
            if part is not None and hole.fitted and 0.0 < part.bore_mm <= hole.bore_mm - 0.02:
                made.append(DrilledUp(key, run.turbo, part, hole.bore_mm))
    return tuple(made)


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
    tapers = any(e.kind in ("NPT", "NPTF", "BSPT", "metric taper") for e in part.ends)
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
        for j in run.joints:
            for kind, role, number, reason in _taken(j, plan):
                size = int(j.one.size.removeprefix("-")) if kind == "clamp" else None
                add(usual(kind, role, size), number, reason or why, run.key)
    if len(plan.turbos) > 1:
        dash = line_dash(plan, 0, "feed")
        number = float(len(plan.turbos) - 1)
        add(_flare_tee(stock.values(), dash, swivel=True), number, tr("feed to both turbos"), "feed")
    for k, it in enumerate(plan.turbos):
        if it.drain.joins is not None:
            tee = _flare_tee(stock.values(), line_dash(plan, k, "drain"), swivel=False)
            add(tee, 1, tr("joined drains"), "drain")
    for kind, role, number, why, line in _beside(plan):
        add(usual(kind, role), number, why, line)
    for dash, metres in sleeve_m.items():
        add(usual("sleeve", "", dash), metres, tr("beside hot parts"))
    for dash, number in clamps.items():
        add(usual("clamp", "cushioned", dash), float(number), tr("holding the hose"))
    held = {item.part: item.count for item in plan.drawer}
    for item in plan.drawer:
        if item.part not in counts and item.part in stock:
            counts[item.part], reasons[item.part] = 0.0, [tr("in the drawer, not needed")]
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


def _beside(plan: Plan) -> Iterable[tuple[str, str, float, str, str]]:
    """Return what the plan takes beside its lines, as (part kind, role, number, why, line)."""
    for it in plan.turbos:
        for kind, role, number in _pumping(it):
            yield kind, role, number, tr("scavenge pump"), "scavenge"
    for kind, role, number in _fresh_oil(plan):
        yield kind, role, number, tr("fresh oil after the work"), ""


def _pumping(it: TurboLine) -> tuple[tuple[str, str, float], ...]:
    """Return what a scavenge pump takes beside its hoses, as (part kind, role, number): pot, pump, wiring."""
    if it.drain_by != "scavenge":
        return ()
    s = it.scavenge
    wire = math.ceil(2.0 * s.wire_mm.value / 100.0) / 10.0
    return (
        ("pump", f"{s.rated_v:g}", 1),
        ("pot", "drain pot", 1),
        ("electrical", "relay", float(s.relay)),
        ("electrical", "fuse holder", 1),
        ("electrical", f"fuse {s.fuse_a:g}", 1),
        ("wire", f"wire {s.gauge_awg}", wire),
    )


def _fresh_oil(plan: Plan) -> tuple[tuple[str, str, float], ...]:
    """Return what the oil change takes that ends the work, as (part kind, role, number)."""
    return (
        ("fluid", "oil", math.ceil(plan.sump.fill_l.value)),
        ("filter part", "oil filter", 1),
        ("washer", "drain plug", 1),
    )


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
    "metric": ("metric", 1, tr("metric port")),
    "BSPP": ("BSPP", 1, tr("parallel pipe thread")),
    "O-ring boss": ("O-ring boss", 1, tr("O-ring boss")),
    "metric boss": ("metric boss", 1, tr("O-ring port")),
    "UNF": ("UNF", 1, tr("straight inch port")),
    "hole": ("hole", 2, tr("one each side of the wall")),
}
"""What a kind of end takes: the port its washer serves, how many, why; a banjo takes two of what its port takes."""


def _taken(j: ChainJoint, plan: Plan) -> Iterable[tuple[str, str, float, str]]:
    """Return all that a joint takes beside its two parts, as (part kind, role, number, why)."""
    if {j.one.kind, j.other.kind} == {"barb", "plain hose"}:
        yield "clamp", "push-on hose", 1, ""
    if "flange" in (j.one.kind, j.other.kind):
        which = N_("inlet flange") if "inlet" in j.one.size + j.other.size else N_("drain flange")
        yield "bolt", which, 2, tr("{flange}, if the turbo came without").format(flange=tr(which))
    sealer = _sealer(j, plan)
    if sealer is not None:
        yield sealer


def _sealer(j: ChainJoint, plan: Plan) -> tuple[str, str, float, str] | None:
    """Return the consumable a joint takes as (part kind, role, number, why); None where it takes none."""
    ends = {end.kind: end for end in (j.one, j.other)}
    if ends.keys() & {"NPT", "NPTF", "BSPT", "metric taper"}:
        return "sealant", plan.build.sealing, 0.05, tr("taper threads")
    if "flange" in ends:
        return "gasket", ends["flange"].size, 1, tr("new gasket")
    for kind, (serves, number, why) in _SEALERS.items():
        if kind in ends:
            role = f"{serves} {ends[kind].size.partition('x')[0]}"
            return (
                "washer",
                role,
                *((2, tr("one each side of the banjo")) if "banjo" in ends else (number, why)),
            )
    return None
