# SPDX-License-Identifier: GPL-3.0-or-later
"""The gravity side of every turbo for any set of states of the car: conditions, envelope directions, log rows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from functools import cached_property

import numpy as np

from gravidon.errors import InputError
from gravidon.physics import attitude, part_full, sump
from gravidon.physics import drain as drains
from gravidon.physics import oil as oils
from gravidon.physics.arrays import STANDARD_GRAVITY, Array, Flags
from gravidon.physics.wetting import Filled
from gravidon.plan.fields import si
from gravidon.plan.model import Plan, TurboLine
from gravidon.plan.model_drain import Joining
from gravidon.study.solve import assemble
from gravidon.study.solve.drain_route import Route, seal_centres, shaft_centre
from gravidon.study.solve.filling import filling
from gravidon.study.solve.kept import Kept
from gravidon.translate import tr

MOST_LEAN_SHARE = 0.2
"""[-] least upright share of effective gravity for which the pan's level is computed; see `sump.level`."""
OPEN_ON_TOP_M = 0.004
"""[m] by which the froth in a pot is assumed to stand below its inlet while the pump keeps up."""


@dataclass(frozen=True)
class Standing:
    """How the car stands and what its pan and crankcase hold; every array (states,).

    Fields: unit 'up' (states, 3); effective gravity [m/s²]; oil in the pan [m³]; whether the engine turns; air
    fraction of what drains; crankcase and wheel-side pressure [Pa gauge]; how long the state lasts [s] (inf).
    """

    up: Array
    gravity_m_s2: Array
    pan_oil_m3: Array
    turning: Flags
    air: Array
    crankcase_pa: Array
    wheel_side_pa: Array
    seconds: Array

    def rows(self, chosen: Flags) -> Standing:
        """Return some of the states."""
        return Standing(*(getattr(self, f.name)[chosen] for f in fields(self)))


@dataclass(frozen=True)
class Stream:
    """What one turbo sends down its drain: oil flow [m³/s] and its temperature [K], (states,); and what a
    scavenge pump takes [m³/s], where one is fitted."""

    flow_m3_s: Array
    temperature_k: Array
    pumped_m3_s: Array | None = None

    def rows(self, chosen: Flags) -> Stream:
        """Return some of the states."""
        pumped = None if self.pumped_m3_s is None else self.pumped_m3_s[chosen]
        return Stream(self.flow_m3_s[chosen], self.temperature_k[chosen], pumped)


@dataclass(frozen=True)
class Drainage:
    """The gravity side per state; heights [m] along that state's effective gravity.

    Fields: up (states, 3); gravity [m/s²]; level the drain ends in (the pan's region at the entry, a pot, a tee);
    level in the pan; submergence (level minus the entry's crown, positive drowned); the march; open area share (least along the
    run); worst fill and where; seal level (lowest point of either seal bore); which seal; freeboard; Froude and Reynolds numbers; how many bores of hose run full or nearly so; deepest fill of the
    hose itself, away from its ends; gas difference over the seals [Pa]; and what it was marched from.
    """

    up: Array
    gravity_m_s2: Array
    sump_level_m: Array
    pan_level_m: Array
    submergence_m: Array
    backwater: drains.Backwater
    open_area: Array
    worst_fill: Array
    worst_station: np.ndarray
    seal_level_m: Array
    lower_seal: np.ndarray
    freeboard_m: Array
    froude: Array
    reynolds: Array
    sealed_bores: Array
    hose_fill: Array
    crankcase_pa: Array
    gas_difference_pa: Array
    froth: oils.Froth
    line: DrainLine
    stand: Standing
    carries: Carried
    sealed_below: Flags

    rest_level_m: Array
    """The level the drain ends in while the car stands still and level, as high as that place is in this state [m]."""

    @cached_property
    def filling(self) -> Filled:
        """How line and housing fill where a seal would be wet, (states,): seconds until it is (inf where it stays dry), and oil beyond
        it in the time the state lasts. Worked out when first asked for."""
        return filling(self, self.freeboard_m < 0.0)

    @property
    def time_to_wet_s(self) -> Array:
        """Seconds until a wet seal, (states,); inf where it stays dry."""
        return self.filling.seconds


def standing_of(plan: Plan, crankcase_pa: Array) -> Standing:
    """Return the plan's conditions as states."""
    up, gravity = assemble.effective_up(plan)
    flattest = int(up[:, 2].argmin())
    if up[flattest, 2] < MOST_LEAN_SHARE:
        lean = float(np.degrees(np.arccos(np.clip(up[flattest, 2], -1.0, 1.0))))
        raise InputError(
            tr("how far the oil leans in {name}").format(name=plan.conditions[flattest].name),
            f"{lean:.0f}°",
            tr(
                "at most {most:.0f}° off the engine's upright; take the engine's tilt, the grade or the acceleration back"
            ).format(most=np.degrees(np.arccos(MOST_LEAN_SHARE))),
        )
    lasts = np.array([c.duration_s for c in plan.conditions])
    return Standing(
        up=up,
        gravity_m_s2=gravity,
        pan_oil_m3=assemble.pan_oil_m3(plan),
        turning=assemble.column(plan, "rpm") > 0.0,
        air=assemble.column(plan, "air_fraction"),
        crankcase_pa=crankcase_pa,
        wheel_side_pa=assemble.column(plan, "wheel_side_kpa"),
        seconds=np.where(lasts > 0.0, lasts, np.inf),
    )


def froth_of(plan: Plan, stand: Standing, stream: Stream) -> oils.Froth:
    """Return what runs down a drain."""
    oil = assemble.oil_of(plan)
    t = np.clip(stream.temperature_k, 230.0, 520.0)
    return oils.froth(stand.air, stream.flow_m3_s, oils.density(oil, t), oils.dynamic_viscosity(oil, t))


def baffle_walls(plan: Plan) -> tuple[tuple[int, float], ...]:
    """Return the pan's baffles as (axis, place [m])."""
    return tuple((0 if b.across == "forward" else 1, b.at_mm * 1e-3) for b in plan.sump.baffles)


CRANK_CLEAR_M, MOST_GROWTH = 0.025, 2.0
"""[m] that the crank should clear the oil by, and how many times more windage there is at most as it comes nearer (once more where
it touches the oil); common practice, no source."""


def crank_place(plan: Plan) -> Array:
    """Return the lowest place of the crank's sweep [m], over the pan's middle: so far below its rail, the highest edge of it."""
    low, high = zip(*(assemble.box_of(b) for b in plan.sump.boxes), strict=True)
    ends = np.min(low, axis=0), np.max(high, axis=0)
    x, y, _ = 0.5 * (ends[0] + ends[1])
    return np.array([x, y, ends[1][2] - si(plan.sump, "crank_mm")])


def windage_m(plan: Plan) -> float:
    """Return how far the running crank throws the pan's oil up [m]: more, and evenly so, as it comes nearer to the oil at rest."""
    usual, crank = si(plan.sump, "windage_mm"), crank_place(plan)
    turning = assemble.column(plan, "rpm") > 0.0
    oil = assemble.pan_oil_m3(plan).max(where=turning, initial=0.0)
    clear = float(crank[2] - still_level(plan, _at_rest(np.array([oil])), crank)[0])
    return usual * (1.0 + min(max(1.0 - clear / CRANK_CLEAR_M, 0.0), MOST_GROWTH))


def _at_rest(oil_m3: Array) -> Standing:
    """Return states of a car that stands still and level, engine off, by the oil in its pan."""
    n = np.ones(len(oil_m3))
    up, nothing = np.outer(n, [0.0, 0.0, 1.0]), 0.0 * n
    return Standing(up, STANDARD_GRAVITY * n, oil_m3, n > 1.0, nothing, nothing, nothing, np.inf * n)


def pan_level(plan: Plan, stand: Standing, near_m: Array) -> Array:
    """Return the oil's level [m] in the pan's region nearest a point, windage included, (states,)."""
    result: Array = still_level(plan, stand, near_m) + np.where(stand.turning, windage_m(plan), 0.0)
    return result


def still_level(plan: Plan, stand: Standing, near_m: Array) -> Array:
    """Return the oil's level [m] in the pan's region nearest a point, as if the crank threw nothing up, (states,)."""
    columns = assemble.pan_columns(plan.sump.boxes)
    here = 0
    if plan.sump.baffles:
        nearest = int(np.argmin(np.linalg.norm(columns.foot_m[:, :2] - near_m[:2], axis=1)))
        here = int(sump.regions(columns, baffle_walls(plan))[nearest])
    if len(stand.up) > FEW_STATES:
        still = _still_level(plan, here, stand)
    else:
        key = (
            plan.sump,
            here,
            *(a.tobytes() for a in (stand.up, stand.pan_oil_m3, stand.seconds, stand.gravity_m_s2)),
        )
        still = _LEVELS.of(key, lambda: _still_level(plan, here, stand))
    return still


FEW_STATES = 40
_LEVELS: Kept[Array] = Kept(24)
"""Levels of the pans last asked for: moving a hose leaves the pan's oil where it is."""


def _still_level(plan: Plan, here: int, stand: Standing) -> Array:
    columns = assemble.pan_columns(plan.sump.boxes)
    walls = baffle_walls(plan)
    if not walls:
        return sump.level(columns, stand.up, stand.pan_oil_m3)
    opening = sum(si(b, "opening_cm2") for b in plan.sump.baffles)
    return sump.baffled_level(
        columns,
        sump.regions(columns, walls),
        here,
        opening,
        stand.up,
        stand.pan_oil_m3,
        stand.seconds,
        stand.gravity_m_s2,
    )


def _level_at_rest(plan: Plan, stand: Standing, near_m: Array) -> Array:
    """Return how high the pan's oil stands at a point before the car moves [m], told along each state's effective gravity, (states,)."""
    oil = np.unique(stand.pan_oil_m3)
    if len(oil) > FEW_STATES:  # a drive's: between some levels there are no others
        oil = np.linspace(oil[0], oil[-1], FEW_STATES)
    height = np.interp(stand.pan_oil_m3, oil, still_level(plan, _at_rest(oil), near_m))
    height = height + np.where(stand.turning, windage_m(plan), 0.0)
    result: Array = stand.up[:, :2] @ near_m[:2] + stand.up[:, 2] * height
    return result


def pot_level(plan: Plan, it: TurboLine, stand: Standing, comes_m3_s: Array, pumped: Array) -> Array:
    """Return the level [m] in the scavenge pot: below its inlet while the pump keeps up, at the shaft when it
    does not; with the engine off and no one-way valve, the pan's level where that is higher and covers the return."""
    inlet = stand.up @ assemble.point(it.scavenge.pot)
    clear = inlet - OPEN_ON_TOP_M - 0.5 * si(it.drain, "hose_bore_mm")
    flooded = stand.up @ shaft_centre(it)
    level = np.where(stand.turning & (pumped < comes_m3_s), np.maximum(flooded, clear), clear)
    if not it.scavenge.valve:
        entry = assemble.point(it.drain.entry)
        pan = pan_level(plan, stand, entry)
        back = stand.up @ np.array([entry[0], entry[1], si(it.scavenge, "return_z_mm")])
        level = np.where(stand.turning | (pan <= back), level, np.maximum(pan, level))
    return level


def _mixed(froths: Sequence[oils.Froth]) -> tuple[Array, Array]:
    """Return the flow and kinematic viscosity of streams together."""
    flow = np.sum([f.flow_m3_s for f in froths], axis=0)
    weighted = np.sum([f.flow_m3_s * f.viscosity_pa_s / f.density_kg_m3 for f in froths], axis=0)
    alone = froths[0].viscosity_pa_s / froths[0].density_kg_m3
    return flow, np.where(flow > 0.0, weighted / np.where(flow > 0.0, flow, 1.0), alone)


@dataclass(frozen=True)
class DrainLine:
    """One turbo's drain at work on."""

    it: TurboLine
    route: Route
    froth: oils.Froth
    stream: Stream

    def rows(self, chosen: Flags) -> DrainLine:
        """Return some of the states."""
        froth = oils.Froth(*(getattr(self.froth, f.name)[chosen] for f in fields(self.froth)))
        return DrainLine(self.it, self.route, froth, self.stream.rows(chosen))


@dataclass(frozen=True)
class Carried:
    """What a drain carries: bulk flow [m³/s] and kinematic viscosity [m²/s] of each stream, (streams, states), and
    which of them each piece carries, (pieces,); the density of what stands over its outfall over that of its own
    froth [-], (states,); and all that comes to its end [m³/s], (states,)."""

    flow_m3_s: Array
    kinematic_m2_s: Array
    stream: np.ndarray
    outside: Array
    comes_m3_s: Array

    def rows(self, chosen: np.ndarray) -> Carried:
        """Return some of the states, by flags or by their numbers."""
        flow, nu = self.flow_m3_s[:, chosen], self.kinematic_m2_s[:, chosen]
        return Carried(flow, nu, self.stream, self.outside[chosen], self.comes_m3_s[chosen])


def gravity_sides(
    plan: Plan, stand: Standing, streams: Sequence[Stream], routes: Sequence[Route]
) -> tuple[Drainage, ...]:
    """Return the gravity side of every turbo."""
    lines = [
        DrainLine(it, r, froth_of(plan, stand, s), s)
        for it, r, s in zip(plan.turbos, routes, streams, strict=True)
    ]
    found: dict[int, Drainage] = {}
    for k, line in enumerate(lines):
        if _tee(line.it) is None:
            found[k] = _trunk(plan, stand, line, joining(plan, k, lines))
    for k, line in enumerate(lines):
        tee = _tee(line.it)
        if tee is not None:
            found[k] = _joined(plan, stand, line, lines[tee.turbo], found[tee.turbo], tee.bend)
    return tuple(found[k] for k in range(len(lines)))


def _tee(it: TurboLine) -> Joining | None:
    """Return where a drain joins another one; None for one of its own."""
    return it.drain.joins if it.drain_by == "gravity" else None


def joining(plan: Plan, index: int, lines: Sequence[DrainLine]) -> list[tuple[DrainLine, int]]:
    """Return the drains that join one, each with its bend there."""
    tees = ((line, _tee(it)) for line, it in zip(lines, plan.turbos, strict=True))
    return [(line, tee.bend) for line, tee in tees if tee is not None and tee.turbo == index]


def gathered(plan: Plan, index: int, froths: Sequence[oils.Froth]) -> oils.Froth:
    """Return all the froth that comes to where a drain ends: its own with that of the drains that join it."""
    tees = [_tee(it) for it in plan.turbos]
    together = [
        froths[index],
        *(f for f, t in zip(froths, tees, strict=True) if t is not None and t.turbo == index),
    ]
    return replace(froths[index], flow_m3_s=np.sum([f.flow_m3_s for f in together], axis=0))


def _tee_station(line: DrainLine, bend: int) -> int:
    """Return the station of a trunk nearest one of its bends; its end where that is a pot."""
    if line.it.drain_by == "scavenge":
        return len(line.route.stations_m) - 1
    tee = assemble.point(line.it.drain.points[bend])
    return int(np.argmin(np.linalg.norm(line.route.stations_m - tee, axis=1)))


PAN_AIR_SHARE = 0.5
"""[-] air in the pan's oil over that in what drains into it: half of it has risen out; common practice, no source."""


def carried(line: DrainLine, into: Sequence[tuple[DrainLine, int]], stand: Standing) -> Carried:
    """Return what a drain carries from the flange down; `into` are the drains that join it, each with its bend."""
    stream = np.zeros(len(line.route.length_m), dtype=int)
    rows = [_mixed([line.froth])]
    together = [line.froth]
    comes = line.froth.flow_m3_s + sum(other.froth.flow_m3_s for other, _ in into)
    on_the_way = [] if line.it.drain_by == "scavenge" else into  # into a pot each runs by itself
    for other, bend in sorted(on_the_way, key=lambda pair: pair[1]):
        together.append(other.froth)
        rows.append(_mixed(together))
        stream[_tee_station(line, bend) :] = len(rows) - 1
    in_pan = line.it.drain_by == "gravity" and _tee(line.it) is None
    outside = (1.0 - PAN_AIR_SHARE * stand.air) / (1.0 - stand.air) if in_pan else np.ones_like(stand.air)
    return Carried(np.array([r[0] for r in rows]), np.array([r[1] for r in rows]), stream, outside, comes)


def _trunk(plan: Plan, stand: Standing, line: DrainLine, into: Sequence[tuple[DrainLine, int]]) -> Drainage:
    """Return a drain that ends in the pan or a pot, with what joins it on the way."""
    it = line.it
    carries = carried(line, into, stand)
    if it.drain_by == "scavenge":
        pumped = line.stream.pumped_m3_s
        none = np.zeros(len(stand.air))
        level = pot_level(plan, it, stand, carries.comes_m3_s, none if pumped is None else pumped)
    else:
        level = pan_level(plan, stand, assemble.point(it.drain.entry))
    lift = drains.crankcase_lift(
        stand.crankcase_pa, stand.wheel_side_pa, line.froth.density_kg_m3, stand.gravity_m_s2
    )
    drained = _marched(line, stand, carries, level, lift, False)
    if it.drain_by == "gravity":
        return replace(drained, rest_level_m=_level_at_rest(plan, stand, assemble.point(it.drain.entry)))
    return replace(drained, pan_level_m=pan_level(plan, stand, assemble.point(it.drain.entry)))


def _joined(
    plan: Plan,
    stand: Standing,
    line: DrainLine,
    trunk: DrainLine,
    below: Drainage,
    bend: int,
) -> Drainage:
    """Return a drain that ends in another one's tee: the trunk's grade line there is its sump."""
    station = _tee_station(trunk, bend)
    water = below.backwater
    level = water.grade_line_m[station]
    lift = drains.crankcase_lift(
        stand.crankcase_pa, stand.wheel_side_pa, line.froth.density_kg_m3, stand.gravity_m_s2
    )
    drained = _marched(line, stand, carried(line, [], stand), level, lift, water.sealed)
    return replace(drained, pan_level_m=below.pan_level_m)


def _marched(
    line: DrainLine,
    stand: Standing,
    carries: Carried,
    level: Array,
    lift: Array,
    sealed_below: Flags | bool,
) -> Drainage:
    """Return a drain marched above the level it ends in."""
    route = line.route
    heights = attitude.height(stand.up, route.stations_m)
    run = route.run(heights, carries.stream)
    water = drains.march(
        run,
        carries.flow_m3_s,
        carries.kinematic_m2_s,
        stand.gravity_m_s2,
        level,
        lift,
        sealed_below,
        carries.outside,
    )
    below = np.broadcast_to(np.asarray(sealed_below), level.shape)
    return _drainage(stand, line, carries, level, below, water, heights)


NEARLY_FULL = 0.85
"""[-] of the bore above which a round pipe carries less the fuller it gets: gas is shut off there (see `part_full`)."""
END_BORES = 10.0
"""[-] bores from its ends within which a hose's fill is that of the fittings; common practice, no source."""


def _hose(line: DrainLine, water: drains.Backwater) -> tuple[Array, Array]:
    """Return how many bores of hose run nearly full or full, and the deepest fill of the hose itself, (states,)."""
    route = line.route
    own = (route.leg > 0) & (route.leg < route.legs - (1 if route.ends_in_fitting else 0))
    bore = si(line.it.drain, "hose_bore_mm")
    fills = np.where(water.full, 1.0, water.fill)
    lower = np.minimum(fills[:-1], fills[1:])
    shut = (lower > NEARLY_FULL) & own[:, None]
    bores = (shut * route.length_m[:, None]).sum(axis=0) / bore
    long = np.where(own, route.length_m, 0.0)
    middle = np.cumsum(long) - 0.5 * long
    whole = float(long.sum())
    reach = min(END_BORES * bore, 0.5 * whole)
    inner = own & (middle > reach) & (middle < whole - reach)
    inner = inner if inner.any() else own
    # as deep as at least a bore's length of it is: where a jump lies between two cuts does not count
    depth = np.where(inner[:, None], lower, 0.0)
    order = np.argsort(-depth, axis=0)
    filled = np.cumsum(np.where(inner, route.length_m, 0.0)[order], axis=0)
    at = np.minimum(
        (filled < min(bore, 0.5 * float(route.length_m[inner].sum()))).sum(axis=0), len(depth) - 1
    )
    deepest = np.take_along_axis(depth, np.take_along_axis(order, at[None], axis=0), axis=0)[0]
    return bores, deepest


def _reynolds(route: Route, carries: Carried, fill: Array) -> Array:
    """Return the largest Reynolds number along a drain, on the hydraulic diameter and with all a piece carries, (states,).

    Equation: V Dh/nu = 4 Q/(P nu), P the wetted perimeter.
    """
    wetted = np.maximum(0.5 * (fill[:-1] + fill[1:]), 0.02)
    perimeter = 0.5 * part_full.wetted_angle(np.minimum(wetted, 1.0)) * route.bore_m[:, None]
    flow, nu = carries.flow_m3_s[carries.stream], carries.kinematic_m2_s[carries.stream]
    result: Array = (4.0 * flow / (perimeter * nu)).max(axis=0)
    return result


def seals_of(line: DrainLine, stand: Standing) -> tuple[Array, Array]:
    """Return the lowest point of either seal's bore [m], (2, states)."""
    seals, axis = seal_centres(line.it)
    radius = 0.5 * si(line.it.turbo, "seal_diameter_mm")
    lowest = np.stack([attitude.lowest_of_bore(stand.up, seal, axis, radius) for seal in seals])
    return lowest, lowest.argmin(axis=0)


def _drainage(
    stand: Standing,
    line: DrainLine,
    carries: Carried,
    level: Array,
    sealed_below: Flags,
    water: drains.Backwater,
    heights: Array,
) -> Drainage:
    route = line.route
    lowest, _ = seals_of(line, stand)
    bores, hose_fill = _hose(line, water)
    seal_level = lowest.min(axis=0)
    freeboard = seal_level - water.housing_level_m
    wetted = np.where(water.full, 1.0, part_full.area_fraction(np.clip(water.fill, 0.0, 1.0)))
    worst_fill = np.where(water.full, 1.0, water.fill)
    last = route.corners_m[-2] - route.corners_m[-1]
    sine = stand.up @ (last / np.linalg.norm(last))
    half = 0.5 * route.bore_m[-1] * np.sqrt(np.maximum(1.0 - sine**2, 0.0))
    bore = route.bore_m[int(np.argmin(route.bore_m))]
    velocity = line.froth.flow_m3_s / (np.pi / 4.0 * bore**2)
    return Drainage(
        up=stand.up,
        gravity_m_s2=stand.gravity_m_s2,
        sump_level_m=level,
        pan_level_m=level,
        submergence_m=level - (heights[-1] + half),
        backwater=water,
        open_area=1.0 - wetted.max(axis=0),
        worst_fill=worst_fill.max(axis=0),
        worst_station=worst_fill.argmax(axis=0),
        seal_level_m=seal_level,
        lower_seal=lowest.argmin(axis=0),
        freeboard_m=freeboard,
        froude=velocity / np.sqrt(stand.gravity_m_s2 * bore),
        reynolds=_reynolds(route, carries, worst_fill),
        sealed_bores=bores,
        hose_fill=hose_fill,
        crankcase_pa=stand.crankcase_pa,
        gas_difference_pa=stand.crankcase_pa - stand.wheel_side_pa,
        froth=line.froth,
        line=line,
        stand=stand,
        carries=carries,
        sealed_below=sealed_below,
        rest_level_m=level,
    )
