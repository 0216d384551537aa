# SPDX-License-Identifier: GPL-3.0-or-later
"""Ways through space: what they must keep to, and the shortest way round boxes on a graph of cells; `bending` makes a hose of it.

A way is a list of corners from a start to a goal. Where it has to fall, every leg falls by a least angle as the oil feels it, in
every direction of up that is given. All lengths [m].
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise, product
from math import gcd

import numpy as np

from gravidon.physics import hose
from gravidon.physics.arrays import Array, Flags

SAMPLES = 13
"""Places of a leg that are held against what stands beside it when a way is found; project choice."""
CHECK_M = 0.004
"""[m] between the places of a leg that are looked at when a way is checked; project choice."""
MOST_LEGS = 5
"""Straight stretches that a way may have: more bends than a builder clips; project choice."""


@dataclass(frozen=True)
class Keepout:
    """A box to stay off: corners [m] (3,) each, the room the centreline needs to it [m], and what it is called."""

    low_m: Array
    high_m: Array
    room_m: float
    name: str = ""


@dataclass(frozen=True)
class Rule:
    """What a way must keep to.

    Fields: directions of up [-] (states, 3), in each of which it falls (none: it need not); sine of its least fall [-]; cosine
    of its most angle off upright [-], counted with the first of them; least bend radius [m]; length of straight hose
    end at its start and at its goal [m]; most legs.
    """

    up: Array
    least_fall: float = 0.05
    least_upright: float = 0.0
    bend_m: float = 0.0
    ends_m: tuple[float, float] = (0.0, 0.0)
    most_legs: int = MOST_LEGS


@dataclass(frozen=True)
class Cells:
    """Space cut into cells: the first cell's middle and the cells' sides [m] (3,), and which may be passed (nx, ny, nz)."""

    origin_m: Array
    step_m: Array
    free: Flags

    def at(self, place_m: Array) -> tuple[int, int, int]:
        """Return the cell that holds a place, or the nearest one."""
        raw = np.rint((np.asarray(place_m) - self.origin_m) / self.step_m).astype(int)
        i, j, k = np.clip(raw, 0, np.array(self.free.shape) - 1)
        return int(i), int(j), int(k)

    def places(self, index: np.ndarray) -> Array:
        """Return the middles [m] (cells, 3) of cells by their flat index."""
        found: Array = (
            self.origin_m + np.stack(np.unravel_index(index, self.free.shape), axis=-1) * self.step_m
        )
        return found


def clearance(places_m: Array, boxes: Sequence[Keepout]) -> Array:
    """Return by how much places are further from every box than they need be [m], (places,); inf without boxes.

    Equation: min over boxes of distance - room.

    Args:
        places_m: places [m], (places, 3).
        boxes: what to stay off.

    Raises: nothing.
    Source: geometry.
    """
    gap = np.full(len(places_m), np.inf)
    for box in boxes:
        gap = np.minimum(gap, signed_gap(places_m, box.low_m, box.high_m) - box.room_m)
    return gap


def signed_gap(places_m: Array, low_m: Array, high_m: Array) -> Array:
    """Return distances to a box [m], (places,), negative within: by how far one would have to come out.

    Equation: Euclidean distance outside; least way out through a side within.

    Args:
        places_m: places [m], (places, 3).
        low_m: the box's lower corner [m], (3,).
        high_m: its upper corner [m], (3,).

    Raises: nothing.
    Source: geometry.
    """
    outside = hose.distance_to_box(places_m, low_m, high_m)
    within = np.minimum(places_m - low_m, high_m - places_m).min(axis=1)
    return np.where(within > 0.0, -within, outside)


def cells(low_m: Array, high_m: Array, step_m: Array, boxes: Sequence[Keepout]) -> Cells:
    """Return the space between two corners cut into cells, those free whose middles keep their room.

    Equation: a cell is free where `clearance` of its middle is not negative.

    Args:
        low_m: the lowest corner, middle of the first cell [m], (3,).
        high_m: the highest corner [m], (3,).
        step_m: sides of a cell [m], (3,).
        boxes: what to stay off.

    Raises: nothing.
    Source: geometry.
    """
    count = np.maximum(np.ceil((high_m - low_m) / step_m).astype(int) + 1, 2)
    axes = [low_m[a] + np.arange(count[a]) * step_m[a] for a in range(3)]
    grid = np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1).reshape(-1, 3)
    least = 0.5 * float(np.max(step_m))  # no box is so thin that a step goes through it
    free = clearance(grid, [replace(b, room_m=max(b.room_m, least)) for b in boxes]) >= 0.0
    return Cells(np.asarray(low_m, dtype=float), np.asarray(step_m, dtype=float), free.reshape(count))


REACH = {1: 4, 2: 3, 3: 2, 4: 2, 5: 2}
"""Cells a step may go sideways by how many it goes down: flat ones and steep ones; project choice."""
FREE_REACH = 2
"""Cells a step may go any way, where it need not fall; project choice."""


@lru_cache(maxsize=2)
def _offsets(falling: bool) -> np.ndarray:
    """Return steps between cells that are no multiples of others, (steps, 3); falling ones go down only."""
    sides = (
        {-down: flat for down, flat in REACH.items()}
        if falling
        else dict.fromkeys(range(-FREE_REACH, FREE_REACH + 1), FREE_REACH)
    )
    found = [
        (i, j, k)
        for k, flat in sides.items()
        for i, j in product(range(-flat, flat + 1), repeat=2)
        if gcd(gcd(abs(i), abs(j)), abs(k)) == 1
    ]
    return np.array(found)


def allowed_steps(step_m: Array, rule: Rule) -> np.ndarray:
    """Return the steps between cells that a rule allows, in cells [-], (steps, 3).

    Equation: a step falls by its height over its length in every state, and is off upright by no more than allowed.

    Args:
        step_m: sides of a cell [m], (3,).
        rule: what the way must keep to.

    Raises: nothing.
    Source: geometry.
    """
    falling = len(rule.up) > 0
    offsets = _offsets(falling)
    if not falling:
        return offsets
    move = offsets * step_m
    length = np.linalg.norm(move, axis=1)
    ok = _falls(move, length, rule)
    return offsets[ok]


def _falls(move: Array, length: Array, rule: Rule) -> Flags:
    """Return which moves [m] (moves, 3) fall enough in every state."""
    if not len(rule.up):
        return np.ones(len(move), dtype=bool)
    down = -(move @ rule.up.T)
    enough = (down >= rule.least_fall * length[:, None] - 1e-9).all(axis=1)
    return np.asarray(enough & (down[:, 0] >= rule.least_upright * length - 1e-9))


@dataclass(frozen=True)
class Reach:
    """What can be reached from a start: the cells, the way there [m] (cells,) and the cell before each (cells,)."""

    cells: Cells
    start: int
    far_m: Array
    before: np.ndarray

    def path(self, goal: int) -> Array | None:
        """Return the cells' middles [m] (corners, 3) from the start to a cell; None if there is no way."""
        if not np.isfinite(self.far_m[goal]):
            return None
        way = [goal]
        while way[-1] != self.start:
            way.append(int(self.before[way[-1]]))
        return self.cells.places(np.array(way[::-1]))


def reach(space: Cells, start_m: Array, rule: Rule) -> Reach:
    """Return what can be reached from a start over free cells by the steps that a rule allows.

    Equation: Dijkstra's shortest ways; a step counts its length, and passes only cells that are free.

    Args:
        space: the cells.
        start_m: the start [m], (3,); its cell counts as free.
        rule: what the way must keep to.

    Raises: nothing.
    Source: scipy.sparse.csgraph.dijkstra.
    """
    from scipy.sparse import csr_matrix
    from scipy.sparse.csgraph import dijkstra

    free = space.free.copy()
    at = space.at(start_m)
    free[at] = True
    shape = np.array(free.shape)
    number = np.arange(free.size).reshape(free.shape)
    rows, columns, weights = [], [], []
    for offset in allowed_steps(space.step_m, rule):
        if (np.abs(offset) >= shape).any():
            continue
        here = tuple(slice(max(0, -o), n - max(0, o)) for o, n in zip(offset, shape, strict=True))
        there = tuple(slice(max(0, o), n - max(0, -o)) for o, n in zip(offset, shape, strict=True))
        ok = free[here] & free[there]
        parts = 2 * int(np.abs(offset).max())
        for n in range(1, parts):
            between = np.rint(offset * n / parts).astype(int)
            ok &= free[tuple(slice(h.start + b, h.stop + b) for h, b in zip(here, between, strict=True))]
        rows.append(number[here][ok])
        columns.append(number[there][ok])
        weights.append(np.full(int(ok.sum()), float(np.linalg.norm(offset * space.step_m))))
    start = int(number[at])
    if not rows:
        far = np.full(free.size, np.inf)
        far[start] = 0.0
        return Reach(space, start, far, np.full(free.size, -1))
    graph = csr_matrix(
        (np.concatenate(weights), (np.concatenate(rows), np.concatenate(columns))),
        shape=(free.size, free.size),
    )
    far, before = dijkstra(graph, directed=True, indices=start, return_predecessors=True)
    return Reach(space, start, np.asarray(far), np.asarray(before))


# --- straight, and bent to the hose -----------------------------------------------------------


def legs_ok(from_m: Array, to_m: Array, boxes: Sequence[Keepout], rule: Rule) -> Flags:
    """Return which straight legs keep their room and fall enough, (legs,).

    Equation: `clearance` at places along a leg, and its fall in every state, none of them negative.

    Args:
        from_m: where they begin [m], (legs, 3).
        to_m: where they end [m], (legs, 3).
        boxes: what to stay off.
        rule: what they must keep to.

    Raises: nothing.
    Source: geometry.
    """
    move = to_m - from_m
    length = np.linalg.norm(move, axis=1)
    ok = _falls(move, length, rule) & (length > 1e-6)
    share = np.linspace(0.0, 1.0, SAMPLES)
    places = from_m[:, None, :] + share[None, :, None] * move[:, None, :]
    gap = clearance(places.reshape(-1, 3), boxes).reshape(len(move), SAMPLES).min(axis=1)
    return np.asarray(ok & (gap >= 0.0) & ~_through(from_m, move, boxes))


def _through(from_m: Array, move: Array, boxes: Sequence[Keepout]) -> Flags:
    """Return which legs run through the inside of a box, however thin it is: by the slabs between its sides."""
    through = np.zeros(len(move), dtype=bool)
    safe = np.where(np.abs(move) < 1e-12, 1e-12, move)
    for box in boxes:
        one, other = (box.low_m - from_m) / safe, (box.high_m - from_m) / safe
        enter = np.minimum(one, other).max(axis=1)
        leave = np.maximum(one, other).min(axis=1)
        through |= np.maximum(enter, 0.0) < np.minimum(leave, 1.0) - 1e-9
    return through


def faults(corners_m: Array, boxes: Sequence[Keepout], rule: Rule) -> tuple[str, ...]:
    """Return what is wrong with a way, looked at every few millimetres: 'room', 'fall', 'bend'; empty if nothing.

    Equation: `clearance`, fall and straight beside every bend, none of them negative.

    Args:
        corners_m: its corners [m], (corners, 3), start and goal included.
        boxes: what to stay off.
        rule: what it must keep to.

    Raises: nothing.
    Source: geometry.
    """
    found = []
    move = np.diff(corners_m, axis=0)
    length = np.linalg.norm(move, axis=1)
    if not _falls(move, length, rule).all():
        found.append("fall")
    near = clearance(rounded(corners_m, rule.bend_m), boxes) < -1e-6
    if near.any() or _through(corners_m[:-1], move, boxes).any():
        found.append("room")
    if len(corners_m) > 2 and (bend_room(corners_m, rule) < -1e-6).any():
        found.append("bend")
    return tuple(found)


def rounded(corners_m: Array, bend_m: float) -> Array:
    """Return places along a way [m], (places, 3), every few millimetres: on its legs, and on the arcs that round its corners as
    far as there is room. Between the two lies the hose.

    Equation: arcs tangent to both legs, tangent length R tan(turn/2).

    Args:
        corners_m: the way's corners [m], (corners, 3).
        bend_m: radius of the arcs [m].

    Raises: nothing.
    Source: geometry of the fillet.
    """
    places = []
    for a, b in pairwise(corners_m):
        count = max(int(np.ceil(np.linalg.norm(b - a) / CHECK_M)), 1)
        places.append(a + np.linspace(0.0, 1.0, count + 1)[:, None] * (b - a))
    if len(corners_m) > 2 and bend_m > 0.0:
        places.append(arcs(corners_m, bend_m))
    return np.concatenate(places)


ARC_PLACES = 7
"""Places looked at on a bend's arc; project choice."""


def arcs(corners_m: Array, bend_m: float) -> Array:
    """Return places [m] ((corners - 2) x 7, 3) on the arcs that round a way's inner corners, by a radius or what there is
    room for.

    Equation: arcs tangent to both legs, tangent length R tan(turn/2).

    Args:
        corners_m: the way's corners [m], (corners, 3).
        bend_m: radius of the arcs [m].

    Raises: nothing.
    Source: geometry of the fillet.
    """
    move = np.diff(corners_m, axis=0)
    long = np.maximum(np.linalg.norm(move, axis=1), 1e-9)
    unit = move / long[:, None]
    into, out, middle = unit[:-1], unit[1:], corners_m[1:-1]
    turn = np.clip(np.arccos(np.clip((into * out).sum(axis=1), -1.0, 1.0)), 1e-4, np.pi - 0.05)
    half = np.tan(0.5 * turn)
    tangent = np.minimum(bend_m * half, np.minimum(long[:-1], long[1:]))
    radius = tangent / half
    inward = out - into
    inward = inward / np.maximum(np.linalg.norm(inward, axis=1), 1e-9)[:, None]
    centre = middle + inward * (radius / np.cos(0.5 * turn))[:, None]
    first = middle - into * tangent[:, None] - centre
    angle = turn[:, None] * np.linspace(0.0, 1.0, ARC_PLACES)[None, :]
    found: Array = (
        centre[:, None, :]
        + first[:, None, :] * np.cos(angle)[..., None]
        + (into * radius[:, None])[:, None, :] * np.sin(angle)[..., None]
    ).reshape(-1, 3)
    return found


def bend_room(corners_m: Array, rule: Rule) -> Array:
    """Return by how much the straight beside each inner corner is longer than a bend there takes [m], (corners - 2,).

    Equation: least straight beside it, half of a leg between two bends, less R tan(turn/2).

    Args:
        corners_m: the way's corners [m], (corners, 3).
        rule: its bend radius and its straight ends.

    Raises: nothing.
    Source: geometry of the fillet.
    """
    length = np.linalg.norm(np.diff(corners_m, axis=0), axis=1)
    spare = 0.5 * length
    spare[0] = length[0] - rule.ends_m[0] if len(length) > 1 else length[0]
    spare[-1] = length[-1] - rule.ends_m[1] if len(length) > 1 else length[-1]
    turn = np.minimum(hose.turns(corners_m), np.radians(170.0))
    return np.asarray(np.minimum(spare[:-1], spare[1:]) - rule.bend_m * np.tan(0.5 * turn))
