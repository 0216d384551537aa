# SPDX-License-Identifier: GPL-3.0-or-later
"""The way of a drain, or of a feed, laid anew between the builder's shapes: through space, and into the plan."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from gravidon.parts import dash
from gravidon.parts.catalogue import with_own
from gravidon.physics import bending, space
from gravidon.physics.arrays import Array
from gravidon.physics.hose import turns
from gravidon.plan.fields import Known, si
from gravidon.plan.model import DrainPiece, Hose, Plan, Point, TurboLine
from gravidon.study.judge.home import lasting
from gravidon.study.solve.as_bought import line_dash
from gravidon.study.solve.assemble import box_of, point
from gravidon.study.solve.drain_route import fitting_axis, flange_centre, housing_frame
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.feed_line import inlet
from gravidon.study.solve.run_review import hose_outside_m, room_needed_m
from gravidon.translate import commas, either
from gravidon.words.text import N_, tr

LEAST_FALL = 0.07
"""[-] sine of the least fall of a leg that is laid, 4°: what sags a little still falls; common practice, no source."""
ANGLES_DEG = (50.0, 70.0, 90.0)
"""[°] off upright that are tried where the angle that is wanted finds no way; project choice."""
STEP_M = np.array([0.020, 0.020, 0.008])
"""[m] sides of a cell: fine in height, for a drain lives on it; project choice."""
MOST_CELLS = 14_000
"""Cells that a search goes over at most; beyond, they grow: a second of work; project choice."""
ROUND_M = 0.14
"""[m] of space round flange and entry in which a way is sought; project choice."""
PAN_M = 0.003
"""[m] that a hose stays off the pan; project choice."""
NEAR_ENOUGH = 1e-3
"""[m] by which a box that an end stands too near to is let nearer: the hose cannot be further off than its end; project choice."""
FEED_OUTSIDE_M = 0.011
"""[m] outside of a -4 hose, where its size is not known."""


@dataclass(frozen=True)
class Way:
    """A way that was laid.

    Fields: its corners from the end of the stub (or the tap) to the outer end of the entry's fitting (or the inlet) [m]
    (corners, 3); whether it needs a sleeve to be as near to things as it is; names of things that its own ends stand nearer
    to than they should.
    """

    corners_m: Array
    sleeved: bool = False
    tight: tuple[str, ...] = ()

    @property
    def length_m(self) -> float:
        """Its length along its corners [m]."""
        return float(np.linalg.norm(np.diff(self.corners_m, axis=0), axis=1).sum())


@dataclass(frozen=True)
class NoWay:
    """No way was found: what stands in it (empty: nothing; then the fall is what is wanting), in words."""

    things: tuple[str, ...]
    why: str


# --- what it must keep to ----------------------------------------------------------------------


def end_angles(size: int) -> tuple[float, ...]:
    """Return the angles [°] in which hose ends of a dash size are sold, least first."""
    return _end_angles(size) or (0.0, 45.0, 90.0)


@lru_cache(maxsize=16)
def _end_angles(size: int) -> tuple[float, ...]:
    found = {p.angle_deg for p in with_own(()).values() if p.what.hose_end and p.dash == size}
    return tuple(sorted(found))


@lru_cache(maxsize=64)
def end_length_m(size: int, angle_deg: float) -> float:
    """Return how long a hose end is [m], straight from its seat to the hose; 35 mm where none is sold."""
    found = [
        max(p.stack_mm, p.takeoff_mm)
        for p in with_own(()).values()
        if p.what.hose_end and p.dash == size and p.angle_deg == angle_deg
    ]
    return min(found, default=35.0) * 1e-3


def lasting_up(plan: Plan) -> Array:
    """Return the directions of up that the drain must fall in, level first, (states, 3): of every attitude that lasts."""
    e = evaluate(plan)
    ups = e.drainage.up[np.asarray(lasting(e), dtype=bool)]
    return np.unique(np.round(np.concatenate([[[0.0, 0.0, 1.0]], ups]), 6), axis=0)[::-1]


def drain_rule(plan: Plan, k: int, up: Array, off_upright_deg: float) -> space.Rule:
    """Return what a turbo's drain must keep to, with its legs at most so far off upright."""
    size = line_dash(plan, k, "drain")
    level_first = np.concatenate([[[0.0, 0.0, 1.0]], up[~np.isclose(up[:, 2], 1.0)]])
    end = end_length_m(size, 0.0)
    return space.Rule(
        level_first,
        LEAST_FALL,
        float(np.cos(np.radians(off_upright_deg))),
        si(plan.turbos[k].drain, "min_bend_mm"),
        (end, end),
    )


def keepouts(plan: Plan, half_m: float, sleeved: bool = False) -> tuple[space.Keepout, ...]:
    """Return every box a hose must stay off: things outside the pan by their kind, and the pan.

    Args:
        plan: the plan.
        half_m: half of the hose's outside diameter [m].
        sleeved: whether it wears a sleeve.
    """
    found = [
        space.Keepout(*box_of(s), half_m + room_needed_m(plan, s, sleeved), s.label)
        for s in plan.shapes
        if not s.thing.inside
    ]
    return (*found, *(space.Keepout(*box_of(b), half_m + PAN_M, tr("the pan")) for b in plan.sump.boxes))


def _eased(
    boxes: Sequence[space.Keepout], ends_m: Array
) -> tuple[tuple[space.Keepout, ...], tuple[str, ...]]:
    """Return boxes that keep no more room than a way's own ends leave, and the names of those that were let nearer."""
    eased, tight = [], []
    for box in boxes:
        gap = float(space.clearance(ends_m, [replace(box, room_m=0.0)]).min())
        if gap < box.room_m:
            tight.append(box.name)
        eased.append(replace(box, room_m=min(box.room_m, max(gap - NEAR_ENOUGH, 0.0))))
    return tuple(eased), tuple(tight)


# --- laid ---------------------------------------------------------------------------------------


def stub_end(it: TurboLine) -> Array:
    """Return where the drain's stub ends under the flange [m]."""
    end: Array = flange_centre(it) - housing_frame(it)[2] * si(it.drain, "flange_length_mm")
    return end


def fitting_end(it: TurboLine) -> Array:
    """Return the outer end of the entry's fitting [m]."""
    end: Array = point(it.drain.entry) + fitting_axis(it) * si(it.drain.fitting, "length_mm")
    return end


def drain_way(plan: Plan, k: int, up: Array | None = None, blame: bool = True) -> Way | NoWay:
    """Return the best way of a turbo's drain from its stub to its entry's fitting.

    At the angle that is wanted if that can be, else flatter; bare where there is room, else with a sleeve.

    Args:
        plan: the plan; the drain's own bends do not count.
        k: which turbo.
        up: directions of up (states, 3); by default of the plan's attitudes that last.
        blame: whether to find out what is in the way where there is none; that takes longer than the way itself.

    Raises: GravidonError if the plan cannot be computed.
    """
    it = plan.turbos[k]
    up = lasting_up(plan) if up is None else up
    start, goal = stub_end(it), fitting_end(it)
    wanted = plan.needs.angle_max_deg.value
    line = goal - start
    off = float(np.degrees(np.arccos(np.clip(-line[2] / max(np.linalg.norm(line), 1e-9), -1.0, 1.0))))
    if (
        off >= ANGLES_DEG[-1]
        or not space.legs_ok(start[None], goal[None], (), drain_rule(plan, k, up, 90.0))[0]
    ):
        drop = -line[2]
        return NoWay(
            (),
            tr("the stub ends {drop:.0f} mm above the fitting: no fall that lasts").format(drop=drop * 1000.0)
            if drop > 0.0
            else tr("the fitting stands higher than the stub"),
        )
    ends = np.stack([start, goal])
    stays = {s: _eased(keepouts(plan, 0.5 * hose_outside_m(it), s), ends) for s in (False, True)}
    ways = [(s, a) for s in ((True,) if it.drain.sleeved else (False, True)) for a in (wanted, *ANGLES_DEG)]
    ways = [(s, a) for s, a in ways if a > off and (blame or a in (wanted, ANGLES_DEG[-1]))]
    for sleeved, angle in dict.fromkeys(ways):  # a straight line is the best way, wherever it may be
        boxes, tight = stays[sleeved]
        if not space.faults(ends, boxes, drain_rule(plan, k, up, angle)):
            return Way(ends, sleeved, tight)
    boxes, tight = stays[True]
    loosest = _laid(start, goal, boxes, drain_rule(plan, k, up, ANGLES_DEG[-1]))
    if loosest is None:  # what asks for more finds no way either
        return _blamed(plan, k, up) if blame else NoWay((), tr("something is in the way"))
    for sleeved, angle in dict.fromkeys(ways):
        if (sleeved, angle) == (True, ANGLES_DEG[-1]):
            break
        corners = _laid(start, goal, stays[sleeved][0], drain_rule(plan, k, up, angle))
        if corners is not None:
            return Way(corners, sleeved, stays[sleeved][1])
    return Way(loosest, True, tight)


def _laid(start: Array, goal: Array, boxes: Sequence[space.Keepout], rule: space.Rule) -> Array | None:
    """Return the best way between two places [m] (corners, 3); None if there is none."""
    if not space.faults(np.stack([start, goal]), boxes, rule):
        return np.stack([start, goal])
    path = _path(start, goal, boxes, rule)
    way = bending.best_way(path, boxes, rule) if path is not None else None
    return way if way is not None else bending.thrown(start, goal, boxes, rule, ROUND_M)


def _path(start: Array, goal: Array, boxes: Sequence[space.Keepout], rule: space.Rule) -> Array | None:
    """Return the shortest way over cells between two places [m] (corners, 3), not yet bent to a hose; None if there is none."""
    falling = len(rule.up) > 0
    low, high = np.minimum(start, goal) - ROUND_M, np.maximum(start, goal) + ROUND_M
    if falling:  # what must fall never leaves the heights between its ends
        low[2], high[2] = goal[2], start[2]
    step = STEP_M if falling else np.full(3, 0.025)
    count = float(np.prod((high - low) / step + 1.0))
    step = step * max(count / MOST_CELLS, 1.0) ** (1.0 / 3.0)
    grid = space.cells(low, high, step, boxes)
    found = space.reach(grid, start, rule)
    for cell in _cells_near(grid, goal):
        path = found.path(cell)
        if path is not None:
            path[0] = start
            return np.concatenate([path[:-1] if len(path) > 1 else path, goal[None]])
    return None


def _cells_near(grid: space.Cells, goal: Array) -> Iterator[int]:
    """Yield the cells round a place, nearest first: which of them a way comes by shows in its own good time."""
    at = np.array(grid.at(goal))
    shape = np.array(grid.free.shape)
    near = np.stack(np.meshgrid(*[np.arange(-1, 2)] * 3, indexing="ij"), axis=-1).reshape(-1, 3)
    cells = at + near
    cells = cells[((cells >= 0) & (cells < shape)).all(axis=1)]
    far = np.linalg.norm((grid.origin_m + cells * grid.step_m) - goal, axis=1)
    for index in np.argsort(far, kind="stable"):
        yield int(np.ravel_multi_index(tuple(cells[index]), grid.free.shape))


def _blamed(plan: Plan, k: int, up: Array) -> NoWay:
    """Return which things, taken away one at a time, would leave a way, and by how much one of them moved would."""
    it = plan.turbos[k]
    start, goal = stub_end(it), fitting_end(it)
    boxes, _ = _eased(keepouts(plan, 0.5 * hose_outside_m(it), True), np.stack([start, goal]))
    rule = drain_rule(plan, k, up, ANGLES_DEG[-1])
    if not _open(start, goal, (), rule):
        return NoWay(
            (),
            tr("a hose that bends to {bend:.0f} mm finds no room to turn").format(bend=rule.bend_m * 1000.0),
        )
    solid = tuple(dict.fromkeys(b.name for b in boxes))
    named = tuple(n for n in solid if _open(start, goal, [b for b in boxes if b.name != n], rule))
    if not named:
        return NoWay(solid, tr("{things} together in the way").format(things=commas(solid)))
    things = [s.label for s in plan.shapes if s.label in named]
    moved = [(m, n) for n in things if (m := _moved_open(start, goal, boxes, rule, n)) is not None]
    said = tr("{thing} in the way") if len(named) == 1 else tr("any of {thing} in the way")
    said = said.format(thing=commas(named))
    if not moved:
        return NoWay(named, said)
    (far, way), name = min(moved, key=lambda it: it[0][0])
    return NoWay(
        named,
        tr("{said}; {thing} moved {far:.0f} mm {way} would leave one").format(
            said=said, thing=name, far=far * 1000.0, way=way
        ),
    )


def _open(start: Array, goal: Array, boxes: Sequence[space.Keepout], rule: space.Rule) -> bool:
    """Return whether a straight way, or one of those that are thrown, leads from a place to another."""
    if not space.faults(np.stack([start, goal]), boxes, rule):
        return True
    return bending.thrown(start, goal, boxes, rule, ROUND_M, TRIED) is not None


TRIED = 1500
"""Ways of each number of bends that are thrown where only whether there is one is asked; project choice."""
MOVES_M = (0.010, 0.020, 0.040, 0.080)
"""[m] by which a thing in the way is tried elsewhere; project choice."""
WAYS: tuple[tuple[str, tuple[float, float, float]], ...] = (
    (N_("forward"), (1.0, 0.0, 0.0)),
    (N_("back"), (-1.0, 0.0, 0.0)),
    (N_("to the left"), (0.0, 1.0, 0.0)),
    (N_("to the right"), (0.0, -1.0, 0.0)),
    (N_("up"), (0.0, 0.0, 1.0)),
    (N_("down"), (0.0, 0.0, -1.0)),
)
"""Directions of the car."""


def _moved_open(
    start: Array, goal: Array, boxes: Sequence[space.Keepout], rule: space.Rule, name: str
) -> tuple[float, str] | None:
    """Return the least move [m] of a thing, and where to, that leaves a way; None if none of those tried does."""
    for far in MOVES_M:
        for words, way in WAYS:
            move = far * np.array(way)
            other = [
                replace(b, low_m=b.low_m + move, high_m=b.high_m + move) if b.name == name else b
                for b in boxes
            ]
            if _open(start, goal, other, rule):
                return far, tr(words)
    return None


def feed_way(plan: Plan, k: int) -> Way | NoWay | None:
    """Return the best way of a turbo's feed from the tap to the inlet; None where the tap's place is not known.

    Raises: nothing.
    """
    place = plan.taps[plan.tap].place
    if place is None or plan.trunk:
        return None
    it = plan.turbos[k]
    size = line_dash(plan, k, "feed")
    half = 0.5e-3 * dash.HOSE_OUTSIDE_MM.get(size, FEED_OUTSIDE_M * 1e3)
    start, goal = point(place), inlet(it)
    boxes, tight = _eased(keepouts(plan, half), np.stack([start, goal]))
    end = end_length_m(size, 0.0)
    rule = space.Rule(np.zeros((0, 3)), bend_m=dash.LEAST_BEND_MM.get(size, 76.0) * 1e-3, ends_m=(end, end))
    corners = _laid(start, goal, boxes, rule)
    if corners is not None:
        return Way(corners, False, tight)
    named = tuple(
        name
        for name in dict.fromkeys(b.name for b in boxes)
        if _laid(start, goal, [b for b in boxes if b.name != name], rule) is not None
    )
    return NoWay(
        named, tr("{things} in the feed's way").format(things=either(named) or tr("several things together"))
    )


# --- into the plan ------------------------------------------------------------------------------


def model_points(places_m: Array) -> tuple[Point, ...]:
    """Return places [m] (places, 3) as points of the plan, to a tenth of a millimetre."""
    return tuple(
        Point(x_mm=round(float(x) * 1e3, 1), y_mm=round(float(y) * 1e3, 1), z_mm=round(float(z) * 1e3, 1))
        for x, y, z in places_m
    )


def with_way(plan: Plan, k: int, way: Way, ends: bool = True) -> Plan:
    """Return the plan with a drain laid: its bends, its sleeve, and (if they may change) the hose ends that its first and
    last legs ask for."""
    it = plan.turbos[k]
    changes: dict[str, object] = {
        "points": model_points(way.corners_m[1:-1]),
        "sleeved": it.drain.sleeved or way.sleeved,
    }
    if ends:
        changes["pieces"] = end_pieces(plan, k, way)
    drain = it.drain.model_copy(update=changes)
    parts = it.parts.model_copy(update={"drain": ()})
    return with_line(plan, k, it.model_copy(update={"drain": drain, "parts": parts}))


def with_line(plan: Plan, k: int, it: TurboLine) -> Plan:
    """Return the plan with another line of a turbo."""
    return plan.model_copy(update={"turbos": (*plan.turbos[:k], it, *plan.turbos[k + 1 :])})


def end_pieces(plan: Plan, k: int, way: Way) -> tuple[DrainPiece, ...]:
    """Return the hose ends whose angles are nearest to how a drain turns out of its stub and into its fitting."""
    it = plan.turbos[k]
    corners = np.concatenate(
        [flange_centre(it)[None, :], way.corners_m, point(it.drain.entry)[None, :]], axis=0
    )
    turn = np.degrees(turns(corners))
    return tuple(
        hose_end(line_dash(plan, k, "drain"), float(turn[at]), where)
        for at, where in ((0, "turbo"), (-1, "pan"))
    )


def hose_end(size: int, turn_deg: float, where: str) -> DrainPiece:
    """Return the hose end that is sold nearest to an angle."""
    angle = min(end_angles(size), key=lambda a: abs(a - turn_deg))
    return DrainPiece(
        label=tr("{shape} hose end at the {where}").format(
            shape=f"{angle:.0f}°" if angle else tr("straight"), where=where
        ),
        at="turbo" if where == "turbo" else "pan",
        bore_mm=dash.END_BORE_MM[size],
        length_mm=round(end_length_m(size, angle) * 1e3, 1),
        angle_deg=angle,
    )


def with_feed_way(plan: Plan, k: int, way: Way) -> Plan:
    """Return the plan with a feed laid: its bends, and its hose as long as they ask for."""
    it = plan.turbos[k]
    long = round(way.length_m * 1e3 + it.parts.feed_move_mm.value)
    hoses = [n for n, p in enumerate(it.feed.pieces) if isinstance(p, Hose)]
    longest = max(hoses, key=lambda n: it.feed.pieces[n].length_mm.value)  # type: ignore[union-attr]
    pieces = tuple(
        p.model_copy(update={"length_mm": Known(value=float(long))}) if n == longest else p
        for n, p in enumerate(it.feed.pieces)
    )
    feed = it.feed.model_copy(update={"points": model_points(way.corners_m[1:-1]), "pieces": pieces})
    return with_line(plan, k, it.model_copy(update={"feed": feed}))
