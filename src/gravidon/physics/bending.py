# SPDX-License-Identifier: GPL-3.0-or-later
"""Ways made straight and bent to a hose; and, where no path of cells leads to one, ways thrown at the rules.

A way is a list of corners from a start to a goal, as in `space`. All lengths [m].
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.physics.space import SAMPLES, Keepout, Rule, arcs, bend_room, faults, legs_ok, signed_gap

APART_M, MOST_SAMPLES = 0.010, 41
"""[m] between such places while a way is bent, and how many of them at most; project choice."""
ALLOWANCE_M = 0.0015
"""[m] of room asked over what is needed while a way is bent, so that the check has room for rounding; project choice."""


def straightened(path_m: Array, boxes: Sequence[Keepout], rule: Rule) -> tuple[Array, ...]:
    """Return the shortest ways over a path's own corners with one leg, two legs, and so on, each leg allowed: corners [m]
    (corners, 3) each; those that there are.

    Equation: dynamic programming over the legs that are allowed.

    Args:
        path_m: the path's corners [m], (corners, 3).
        boxes: what to stay off.
        rule: what every leg must keep to.

    Raises: nothing.
    Source: R. Bellman, Dynamic Programming (1957).
    """
    count = len(path_m)
    first, second = np.triu_indices(count, 1)
    ok = legs_ok(path_m[first], path_m[second], boxes, rule)
    far = np.full((count, count), np.inf)
    length = np.linalg.norm(path_m[second] - path_m[first], axis=1)
    far[first[ok], second[ok]] = length[ok]
    best = far[0].copy()
    came = [np.zeros(count, dtype=int)]
    found = []
    if np.isfinite(best[-1]):
        found.append(path_m[[0, -1]])
    for _ in range(1, rule.most_legs):
        through = best[:, None] + far
        came.append(through.argmin(axis=0))
        best = through.min(axis=0)
        if np.isfinite(best[-1]):
            way = [count - 1]
            for step in came[:0:-1]:
                way.append(int(step[way[-1]]))
            found.append(path_m[[0, *way[::-1]]])
    return tuple(found)


def bent(corners_m: Array, boxes: Sequence[Keepout], rule: Rule) -> Array | None:
    """Return a way's inner corners moved so that it is short and keeps every rule, [m] (corners, 3); None if none is near.

    Equation: least length under clearance, fall and bend radius as inequalities, by sequential quadratic programming.

    Args:
        corners_m: a way to begin with [m], (corners, 3).
        boxes: what to stay off.
        rule: what it must keep to.

    Raises: nothing.
    Source: scipy.optimize.minimize, SLSQP.
    """
    if len(corners_m) == 2:
        return corners_m if not faults(corners_m, boxes, rule) else None
    from scipy.optimize import minimize

    start, goal = corners_m[:1], corners_m[-1:]
    near = np.stack([corners_m.min(axis=0), corners_m.max(axis=0)]) + np.array([[-NEAR_M], [NEAR_M]])
    every, boxes = (
        boxes,
        [b for b in boxes if (b.low_m - b.room_m < near[1]).all() and (b.high_m + b.room_m > near[0]).all()],
    )
    longest = float(np.linalg.norm(np.diff(corners_m, axis=0), axis=1).max())
    share = np.linspace(0.0, 1.0, int(np.clip(np.ceil(longest / APART_M), SAMPLES, MOST_SAMPLES)))[
        None, :, None
    ]
    asked = Rule(
        rule.up,
        rule.least_fall + 0.002,
        min(rule.least_upright + 0.001, 1.0),
        rule.bend_m * 1.01,
        rule.ends_m,
    )

    def corners(x: Array) -> Array:
        return np.concatenate([start, x.reshape(-1, 3), goal])

    def length(x: Array) -> float:
        return float(np.linalg.norm(np.diff(corners(x), axis=0), axis=1).sum())

    def room(x: Array) -> Array:
        c = corners(x)
        move = np.diff(c, axis=0)
        long = np.linalg.norm(move, axis=1)
        held = [bend_room(c, asked)]
        if len(rule.up):
            down = -(move @ rule.up.T)
            held += [
                (down - asked.least_fall * long[:, None]).ravel(),
                down[:, 0] - asked.least_upright * long,
            ]
        if boxes:
            places = np.concatenate(
                [(c[:-1, None, :] + share * move[:, None, :]).reshape(-1, 3), arcs(c, rule.bend_m)]
            )
            for box in boxes:
                gap = signed_gap(places, box.low_m, box.high_m) - box.room_m - ALLOWANCE_M
                held.append(np.minimum(gap, 0.05))
        return np.concatenate(held) * 10.0

    try:
        made = minimize(
            length,
            corners_m[1:-1].ravel(),
            method="SLSQP",
            bounds=np.repeat(np.stack([near[0], near[1]], axis=1)[None], len(corners_m) - 2, axis=0).reshape(
                -1, 2
            ),
            constraints=({"type": "ineq", "fun": room},),
            options={"maxiter": 30, "ftol": 1e-4},
        )
    except ValueError:
        return None
    way = np.round(corners(made.x), 4)
    way[0], way[-1] = corners_m[0], corners_m[-1]
    return way if np.isfinite(way).all() and not faults(way, every, rule) else None


NEAR_M = 0.08
"""[m] round a way within which its corners stay, and boxes are minded, while it is bent; the check minds all; project choice."""
BEND_COUNTS_M = 0.030
"""[m] of hose that a builder gives for one bend less to hold; project choice."""


def best_way(path_m: Array, boxes: Sequence[Keepout], rule: Rule) -> Array | None:
    """Return the best way along a path of cells: straight legs bent to the hose, a bend counting as some length; None if
    none keeps every rule.

    Equation: least of length + bends times what one counts.

    Args:
        path_m: cells' middles with exact start and goal [m], (corners, 3).
        boxes: what to stay off.
        rule: what it must keep to.

    Raises: nothing.
    Source: `reach`, `straightened` and `bent` in turn.
    """
    best: Array | None = None
    lines = straightened(path_m, boxes, rule)
    found = bool(lines)
    for raw in lines or tuple(_spread(path_m, legs + 1) for legs in (2, 3, 4)):
        bends = len(raw) - 2
        if best is not None and (
            bends > MOST_MORE + len(best) - 2
            or float(np.linalg.norm(raw[-1] - raw[0])) + BEND_COUNTS_M * bends >= way_cost(best)
        ):
            break
        way = bent(raw, boxes, rule)
        if way is None and found and bends > 1:  # the path's own corners may be too close for a hose to turn
            way = bent(_spread(raw), boxes, rule)
        if way is None and not faults(raw, boxes, rule):
            way = raw
        if way is not None and (best is None or way_cost(way) < way_cost(best)):
            best = way
    return _fewer(best, boxes, rule) if best is not None else None


MOST_MORE = 1
"""Bends that a way may have more than one that is known already to be tried; project choice."""


def way_cost(corners_m: Array) -> float:
    """Return a way's length with what its bends count [m].

    Equation: length + bends times what one counts.

    Args:
        corners_m: the way's corners [m], (corners, 3).

    Raises: nothing.
    Source: project choice.
    """
    return float(np.linalg.norm(np.diff(corners_m, axis=0), axis=1).sum()) + BEND_COUNTS_M * (
        len(corners_m) - 2
    )


def _fewer(way_m: Array, boxes: Sequence[Keepout], rule: Rule) -> Array:
    """Return a way with bends merged as long as that makes it better."""
    for _ in range(len(way_m) - 3):
        inner = way_m[1:-1]
        gaps = np.linalg.norm(np.diff(inner, axis=0), axis=1)
        k = int(gaps.argmin())
        merged = np.concatenate([way_m[: k + 1], 0.5 * (inner[k] + inner[k + 1])[None, :], way_m[k + 3 :]])
        fewer = bent(merged, boxes, rule)
        if fewer is None or way_cost(fewer) >= way_cost(way_m):
            break
        way_m = fewer
    return way_m


def _spread(corners_m: Array, count: int = 0) -> Array:
    """Return a way with its inner corners at even distances along it, as many as it has or `count` in all."""
    walked = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(corners_m, axis=0), axis=1))])
    wanted = np.linspace(0.0, walked[-1], count or len(corners_m))
    return np.stack([np.interp(wanted, walked, corners_m[:, a]) for a in range(3)], axis=1)


def thrown(
    start_m: Array, goal_m: Array, boxes: Sequence[Keepout], rule: Rule, room_m: float, count: int = 4000
) -> Array | None:
    """Return the best way of one or two bends that places thrown into the room between two ends find, [m] (corners, 3); None if none.

    Equation: even random places, the same for the same ends; each way kept that `faults` finds nothing wrong with.

    Args:
        start_m: where it begins [m], (3,).
        goal_m: where it ends [m], (3,).
        boxes: what to stay off.
        rule: what it must keep to.
        room_m: room round the two ends into which ways are thrown [m].
        count: ways thrown of each number of bends.

    Raises: nothing.
    Source: brute force; it owes nothing to cells and their corners.
    """
    low, high = np.minimum(start_m, goal_m) - room_m, np.maximum(start_m, goal_m) + room_m
    if len(rule.up):
        low[2], high[2] = goal_m[2], start_m[2]
    rng = np.random.default_rng(1)
    places = low + rng.random((count, 3)) * (high - low)
    starts, goals = np.broadcast_to(start_m, places.shape), np.broadcast_to(goal_m, places.shape)
    first, last = legs_ok(starts, places, boxes, rule), legs_ok(places, goals, boxes, rule)
    one = places[first & last]
    ways = np.stack([np.broadcast_to(start_m, one.shape), one, np.broadcast_to(goal_m, one.shape)], axis=1)
    best = _best_of(ways, boxes, rule)
    if best is not None or not first.any() or not last.any():
        return best
    before = places[first][rng.integers(first.sum(), size=count)]
    after = places[last][rng.integers(last.sum(), size=count)]
    ok = legs_ok(before, after, boxes, rule)
    begins, stops = (np.broadcast_to(e, before[ok].shape) for e in (start_m, goal_m))
    return _best_of(np.stack([begins, before[ok], after[ok], stops], axis=1), boxes, rule)


MOST_CHECKED = 300
"""Ways that are looked at closely, of those thrown; project choice."""


def _best_of(ways_m: Array, boxes: Sequence[Keepout], rule: Rule) -> Array | None:
    """Return the shortest of some ways (ways, corners, 3) with nothing wrong, bent to be shorter; None if all are wrong."""
    room = np.array([bend_room(w, rule).min() for w in ways_m])
    length = np.linalg.norm(np.diff(ways_m, axis=1), axis=2).sum(axis=1)
    order = [n for n in np.argsort(length, kind="stable") if room[n] >= 0.0]
    for n in order[:MOST_CHECKED]:
        if not faults(ways_m[n], boxes, rule):
            way = np.round(ways_m[n], 4)
            way[0], way[-1] = ways_m[n][0], ways_m[n][-1]
            shorter = bent(way, boxes, rule)
            return shorter if shorter is not None else way if not faults(way, boxes, rule) else ways_m[n]
    return None
