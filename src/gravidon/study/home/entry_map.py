# SPDX-License-Identifier: GPL-3.0-or-later
"""Where on the pan's wall an entry works: every place of a grid tried against all conditions and obstacles."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from gravidon.physics import drain as drains
from gravidon.physics import hose
from gravidon.physics.arrays import Array, Flags
from gravidon.plan import paths
from gravidon.plan.fields import si
from gravidon.plan.model import Plan, Point, TurboLine
from gravidon.study.solve import assemble
from gravidon.study.solve.drain_route import fitting_axis, route, seal_centres
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.gravity import carried, joining, pan_level, standing_of
from gravidon.study.solve.run_review import room_needed_m
from gravidon.study.solve.wall import (
    HEADING,
    Wall,
    behind_room_m,
    bolt_places,
    name_of_wall,
    spanner_room_m,
    wall_of,
)
from gravidon.translate import tr

FLATTEST = 0.05
"""[-] sine of the least fall of the last hose stretch: about 3°; common practice, no source."""
STEEL_M = 0.004
"""[m] wall left round a hole to the pan's own edges; common practice, no source."""
ON_WALL_M = 0.015
"""[m] by which an entry may be off its wall's plane, as drawn; project choice."""
PIECES = 22
COLUMNS, ROWS = 30, 12

REASONS: dict[str, str] = {
    "edge": tr("too near an edge of the pan"),
    "bolts": tr("no room for a spanner under a rail bolt"),
    "outside": tr("something outside is in the way"),
    "drill": tr("the drill does not reach"),
    "inside": tr("something behind the wall is in the way"),
    "climbs": tr("the hose would not fall"),
    "drowned": tr("under oil in a steady condition"),
    "wet": tr("a seal gets too little freeboard"),
    "short": tr("under oil, or short of freeboard, for seconds only"),
}
"""Why a place does not work, hardest first; the last one is to be watched only."""


@dataclass(frozen=True)
class EntryMap:
    """A wall tried all over: places along and up [m]; which reasons speak against each, (reasons, rows, columns);
    least margin [mm] of freeboard over its need and of the entry over the oil, (rows, columns); the best places as (along, up) [m]."""

    wall: Wall
    along_m: Array
    up_m: Array
    against: Flags
    margin_mm: Array
    best: tuple[tuple[float, float], ...]

    @property
    def works(self) -> Flags:
        """Where nothing speaks against an entry."""
        return np.asarray(~self.against.any(axis=0))

    @property
    def passable(self) -> Flags:
        """Where only seconds-long conditions speak against it."""
        return np.asarray(~self.against[:-1].any(axis=0))

    def why(self, along_m: float, up_m: float) -> tuple[str, ...]:
        """Return what speaks against the place nearest a point, in words."""
        i = int(np.abs(self.up_m - up_m).argmin())
        j = int(np.abs(self.along_m - along_m).argmin())
        return tuple(text for text, hit in zip(REASONS.values(), self.against[:, i, j], strict=True) if hit)


def entry_map(e: Evaluation, wall: Wall | None = None, columns: int = COLUMNS, rows: int = ROWS) -> EntryMap:
    """Return the map of one wall (the entry's own by default) for the evaluation's turbo."""
    plan, it = e.plan, e.line
    wall = wall or wall_of(plan, it)
    half = 0.5e-3 * it.drain.fitting.opening_mm + STEEL_M
    along = np.linspace(wall.low_m + half, wall.high_m - half, columns)
    up = np.linspace(wall.floor_m + half, wall.rail_m - half, rows)
    grid = wall.place(*np.meshgrid(along, up)).reshape(-1, 3)
    against: dict[str, Flags] = {name: np.zeros(len(grid), dtype=bool) for name in REASONS}
    against["bolts"] = _bolts(plan, e.index, wall, grid)
    against["outside"], against["drill"] = _outside(plan, e.index, wall, grid)
    against["inside"] = _inside(plan, it, wall, grid)
    against["edge"] = _buried(plan, wall, grid)
    against["climbs"], under, free = _tried(e, wall, grid)
    drowned = under > 0.0
    lasts = np.array([c.duration_s <= 0.0 for c in plan.conditions])
    flows = e.feed.flow_m3_s > 0.0
    need = si(plan.needs, "freeboard_mm")
    against["drowned"] = np.asarray((drowned & (lasts & flows)).any(axis=1))
    against["wet"] = np.asarray((free[:, lasts] < need).any(axis=1))
    against["short"] = np.asarray((free < need).any(axis=1) | (drowned & flows).any(axis=1))
    clear = np.where(flows, -under, np.inf).min(axis=1, initial=np.inf)
    margin = np.minimum(free.min(axis=1, initial=np.inf) - need, clear) * 1e3
    shape = (rows, columns)
    flags = np.array([against[name].reshape(shape) for name in REASONS])
    return EntryMap(
        wall, along, up, flags, margin.reshape(shape), _best(along, up, flags, margin.reshape(shape))
    )


def place_problems(e: Evaluation) -> tuple[tuple[str, str], ...]:
    """Return (reason, words) of what is in the way at the entry as planned; hydraulics are judged elsewhere."""
    plan, it = e.plan, e.line
    wall = wall_of(plan, it)
    spot = assemble.point(it.drain.entry)[None, :]
    half = 0.5e-3 * it.drain.fitting.opening_mm + STEEL_M
    along, up = float(spot[0, 1 - wall.axis]), float(spot[0, 2])
    inside = (
        wall.low_m + half <= along <= wall.high_m - half and wall.floor_m + half <= up <= wall.rail_m - half
    )
    off_wall = abs(float(spot[0, wall.axis]) - wall.plane_m) > ON_WALL_M
    outside, drill = _outside(plan, e.index, wall, spot)
    found = {
        "edge": not inside or off_wall or bool(_buried(plan, wall, spot)[0]),
        "bolts": bool(_bolts(plan, e.index, wall, spot)[0]),
        "outside": bool(outside[0]),
        "drill": bool(drill[0]),
        "inside": bool(_inside(plan, it, wall, spot)[0]),
    }
    return tuple((name, REASONS[name]) for name, hit in found.items() if hit)


def _bolts(plan: Plan, k: int, wall: Wall, grid: Array) -> Flags:
    room = spanner_room_m(plan, k) + 0.5 * si(plan.sump, "bolt_head_mm")
    places = bolt_places(plan, wall)
    gap = np.hypot(grid[:, None, 1 - wall.axis] - places[None, :], (grid[:, 2] - wall.rail_m)[:, None])
    return np.asarray((gap < room).any(axis=1))


def _outside(plan: Plan, k: int, wall: Wall, grid: Array) -> tuple[Flags, Flags]:
    """Return where the hose end meets something outside, and where the drill does."""
    blocked = np.zeros(len(grid), dtype=bool)
    no_drill = blocked.copy()
    it = plan.turbos[k]
    axis, spanner = fitting_axis(it), spanner_room_m(plan, k)
    end = np.linspace(0.25, 1.0, 4)[:, None] * (si(it.drain.fitting, "length_mm") + 0.030) * axis
    bit = np.linspace(0.1, 1.0, 6)[:, None] * si(plan.needs, "drill_mm") * wall.outward
    for shape in plan.shapes:
        if shape.thing.inside:
            continue
        low, high = assemble.box_of(shape)
        need = room_needed_m(plan, shape)
        for step in end:
            blocked |= hose.distance_to_box(grid + step, low, high) < max(spanner, need)
        if shape.thing.stops_drill:
            for step in bit:
                no_drill |= hose.distance_to_box(grid + step, low, high) < 0.5 * spanner
    return blocked, no_drill if it.drain.fitting.way.drilled else np.zeros_like(no_drill)


def _inside(plan: Plan, it: TurboLine, wall: Wall, grid: Array) -> Flags:
    half, behind = 0.5e-3 * it.drain.fitting.opening_mm + STEEL_M, behind_room_m(plan, it)
    blocked = np.zeros(len(grid), dtype=bool)
    for shape in plan.shapes:
        if shape.thing.inside:
            low, high = assemble.box_of(shape)
            for share in (0.0, 0.5, 1.0):
                spot = grid - share * behind * wall.outward
                blocked |= hose.distance_to_box(spot, low, high) < half
    for baffle in plan.sump.baffles:
        if (baffle.across == "forward") == (wall.axis == 1):
            blocked |= np.abs(grid[:, 1 - wall.axis] - baffle.at_mm * 1e-3) < half
    return blocked


def _buried(plan: Plan, wall: Wall, grid: Array) -> Flags:
    """Return where the wall is not an outside wall: another box of the pan lies behind it."""
    just_out = grid + 1e-3 * wall.outward
    buried = np.zeros(len(grid), dtype=bool)
    for box in plan.sump.boxes:
        low, high = assemble.box_of(box)
        buried |= ((just_out > low) & (just_out < high)).all(axis=1)
    return buried


def _levels(e: Evaluation, grid: Array) -> Array:
    """Return the sump level [m] at every place and condition, (places, conditions); one look per pan region."""
    stand = standing_of(e.plan, e.breathing.crankcase_pa)
    if not e.plan.sump.baffles:
        return np.broadcast_to(pan_level(e.plan, stand, grid[0]), (len(grid), len(e.names)))
    walls_at = [(0 if b.across == "forward" else 1, b.at_mm * 1e-3) for b in e.plan.sump.baffles]
    side = np.stack([grid[:, axis] > at for axis, at in walls_at], axis=1)
    kinds, which = np.unique(side, axis=0, return_inverse=True)
    which = np.asarray(which).reshape(-1)
    rows = [pan_level(e.plan, stand, grid[int(np.argmax(which == k))]) for k in range(len(kinds))]
    return np.array(rows)[which]


def _tried(e: Evaluation, wall: Wall, grid: Array) -> tuple[Flags, Array, Array]:
    """Return where the last stretch climbs (places,), oil over the entry's crown and freeboard [m] (places, states).

    The run is the plan's with its last hose stretch and fitting moved; marched for all places at once.
    """
    it, count = e.line, len(e.names)
    base = route(e.plan, it, PIECES)
    hose_leg = base.legs - 2
    axis = fitting_axis(it)
    facing_out = np.where(np.arange(3) == wall.axis, wall.facing * np.abs(axis), axis)
    if float(axis @ wall.outward) < 0.5:  # another wall than the plan's: straight out of it, same rise
        level = np.sqrt(max(1.0 - axis[2] ** 2, 0.0))
        facing_out = wall.outward * level + np.array([0.0, 0.0, axis[2]])
    outer = grid + facing_out * si(it.drain.fitting, "length_mm")
    start = base.corners_m[hose_leg]
    of = np.concatenate([base.leg, base.leg[-1:]])
    first = int(np.argmax(of == hose_leg))
    length = max(float(np.linalg.norm(base.corners_m[-2] - start)), 1e-6)
    walked = np.linalg.norm(base.stations_m - start, axis=1)
    share = np.clip(walked / length, 0.0, 1.0)
    stations = np.broadcast_to(base.stations_m[:, None, :], (len(of), len(grid), 3)).copy()
    on_hose, on_end = of == hose_leg, of == hose_leg + 1
    stations[on_hose] += share[on_hose, None, None] * (outer - base.corners_m[-2])[None, :, :]
    along = np.linalg.norm(base.stations_m - base.corners_m[-2], axis=1) / max(
        float(np.linalg.norm(base.corners_m[-1] - base.corners_m[-2])), 1e-6
    )
    stations[on_end] = outer + along[on_end, None, None] * (grid - outer)
    stations[-1] = grid
    pieces = np.linalg.norm(np.diff(stations, axis=0), axis=2)
    up, g = e.drainage.up, e.drainage.gravity_m_s2
    heights = np.einsum("spk,ck->spc", stations, up)
    levels = _levels(e, grid)
    froth = e.drainage.froth
    drains_of = [lens.drainage.line for lens in e.all]
    carries = carried(
        replace(e.drainage.line, route=base), joining(e.plan, e.index, drains_of), e.drainage.stand
    )
    run = replace(
        base.run(heights.reshape(len(of), -1), carries.stream),
        length_m=np.repeat(np.maximum(pieces, 1e-6), count, axis=1),
    )
    lift = drains.crankcase_lift(
        e.drainage.crankcase_pa, assemble.column(e.plan, "wheel_side_kpa"), froth.density_kg_m3, g
    )
    tile = len(grid)
    water = drains.march(
        run,
        np.tile(carries.flow_m3_s, tile),
        np.tile(carries.kinematic_m2_s, tile),
        np.tile(g, tile),
        levels.reshape(-1),
        np.tile(lift, tile),
        outside=np.tile(carries.outside, tile),
    )
    level = water.housing_level_m.reshape(tile, count)
    seals, shaft = seal_centres(it)
    radius = 0.5 * si(it.turbo, "seal_diameter_mm")
    spread = radius * np.sqrt(np.maximum(1.0 - (up @ shaft) ** 2, 0.0))
    seal = (seals @ up.T).min(axis=0) - spread
    lasts = np.array([c.duration_s <= 0.0 for c in e.plan.conditions])
    step = stations[first] - outer
    falls = (step @ up.T) / np.linalg.norm(step, axis=1)[:, None]
    climbs = (falls[:, lasts] < FLATTEST).any(axis=1)
    # from the crown of the mouth, as the plan's own submergence is counted
    sine = facing_out @ up.T
    crown = grid @ up.T + 0.5 * si(it.drain.fitting, "bore_mm") * np.sqrt(np.maximum(1.0 - sine**2, 0.0))
    return climbs, levels - crown, seal - level


def _best(
    along: Array, up: Array, against: Flags, margin: Array, most: int = 3
) -> tuple[tuple[float, float], ...]:
    """Return the best places that work (or pass), well apart from one another."""
    allowed = ~against.any(axis=0)
    if not allowed.any():
        allowed = ~against[:-1].any(axis=0)
    score = np.where(allowed, margin - 0.02 * np.abs(along - along.mean()) * 1e3, -np.inf)
    chosen: list[tuple[float, float]] = []
    while len(chosen) < most and np.isfinite(score).any() and score.max() > -np.inf:
        i, j = np.unravel_index(int(score.argmax()), score.shape)
        chosen.append((float(along[j]), float(up[i])))
        far = np.hypot(along[None, :] - along[j], (up - up[i])[:, None]) > 0.2 * np.ptp(along)
        score = np.where(far, score, -np.inf)
    return tuple(chosen)


def moved_entry(plan: Plan, index: int, wall: Wall, along_m: float, up_m: float) -> Plan:
    """Return the plan with a turbo's entry at a place on a wall; its fitting turned to face out of that wall.

    Raises: InputError where that is further off than a plan may say.
    """
    spot = wall.place(np.array(along_m), np.array(up_m)) * 1e3
    x, y, z = (round(float(v), 1) for v in spot)
    it = plan.turbos[index]
    if name_of_wall(it) != wall.name:
        plan = paths.put(plan, f"turbos.{index}.drain.fitting.heading_deg", HEADING[wall.name])
    return paths.put(plan, f"turbos.{index}.drain.entry", Point.model_construct(x_mm=x, y_mm=y, z_mm=z))
