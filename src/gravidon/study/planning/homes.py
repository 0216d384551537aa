# SPDX-License-Identifier: GPL-3.0-or-later
"""The way home in a search: sizes, walls and places, each with a route laid; clock angles around the best; other walls and pumps where nothing passes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial

import numpy as np

from gravidon.errors import GravidonError
from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.study.home.entry_map import entry_map, moved_entry
from gravidon.study.planning.board import Board
from gravidon.study.planning.choices import CHOICES, STRAIGHT, by_gravity, carries_tee, open_walls
from gravidon.study.planning.freedom import SAID, allowed, held
from gravidon.study.planning.merit import PASSES
from gravidon.study.planning.ways import NoWay, Way, drain_way, lasting_up, with_way
from gravidon.study.solve.assemble import point
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.wall import Wall, wall_of
from gravidon.translate import tr

KEPT_FEEDS, KEPT_WAYS = 5, 4
"""How many feeds and ways home are crossed; project choice."""
MAP = (14, 6)
"""Columns and rows of the wall's map that places are taken from; project choice."""


def homes_of(board: Board, k: int) -> Iterator[None]:
    """Look at ways home for one turbo, around the best feed: sizes, walls, places; clock angles; pumps."""
    base = board.base
    fed = board.best(1)[0] if board.looks else base
    by = CHOICES["drain-by"]
    ways = allowed(base, by, k)
    if "gravity" in ways and base.turbos[k].drain.joins is None:
        falling = fed if fed.turbos[k].drain_by == "gravity" else by.put(fed, k, "gravity")
        sizes = allowed(base, CHOICES["drain-size"], k, CHOICES["drain-size"].values(falling, k)) or (
            CHOICES["drain-size"].value(falling, k),
        )
        least = min(
            sizes, key=lambda v: int(v.removeprefix("-"))
        )  # where it finds no way, a thicker and stiffer one does not
        work = partial(homes_on, most=board.effort.places)
        board.blocked.add(k)
        rounds = (sizes_of(sizes, least), sizes_of(sizes, least, others=True))
        near, others = _walls(base, falling, k)
        for walls in (near, others):
            if walls is others and _best_grade(board) >= PASSES:
                break  # what the flange does not face is for where nothing passes by what it does
            open_ones = walls
            for go in rounds:
                asked = [
                    (base, CHOICES["drain-size"].put(falling, k, s), k, w) for s in go for w in open_ones
                ]
                for question, found in zip(asked, board.crew.ask(work, asked), strict=True):
                    board.no_way.update(dict.fromkeys(found.no_way))
                    board.add(found.plans)
                    if found.plans:
                        board.blocked.discard(k)
                    elif least in go:
                        open_ones = tuple(w for w in open_ones if w != question[3])
                    yield
        if k not in board.blocked:
            board.add(_turned(board, board.best(2), k))
            yield
    wanted = "gravity" not in ways or _best_grade(board) < PASSES or held(base, by, k).why == SAID
    if "scavenge" in ways and wanted:
        board.add(_pumped(base, board.best(2), k))
        yield
    heads = board.best(KEPT_WAYS)
    feeds = board.best(KEPT_FEEDS)
    names = ("tap", "feed-size", "feed-end", "restrictor", "flange-hole")
    crossed = [_with_values(home, feed, k, names) for home in heads for feed in feeds]
    board.add(p for p in crossed if p is not None)
    yield


def _best_grade(board: Board) -> int:
    """Return the best grade of all plans looked at."""
    return max((x.grip.grade for x in board.looks.values()), default=0)


def sizes_of(sizes: tuple[str, ...], least: str, others: bool = False) -> tuple[str, ...]:
    """Return the least of some sizes alone, or all the others."""
    return tuple(v for v in sizes if (v != least) == others)


def _with_values(plan: Plan, other: Plan, k: int, names: tuple[str, ...]) -> Plan | None:
    """Return a plan with some choices as another plan has them."""
    try:
        for name in names:
            choice = CHOICES[name]
            if choice.applies(plan, k) and choice.value(plan, k) != choice.value(other, k):
                plan = choice.put(plan, k, choice.value(other, k))
    except GravidonError:
        return None
    return plan


def _walls(base: Plan, plan: Plan, k: int) -> tuple[tuple[Wall, ...], tuple[Wall, ...]]:
    """Return the walls to try, outside ones of names that are allowed: those on the turbo's side, the plan's own first; the others."""
    choice = CHOICES["entry-wall"]
    it = plan.turbos[k]
    flange = point(it.turbo.drain_flange)
    own = wall_of(plan, it)
    found = [own] if allowed(base, choice, k, (own.name,)) else []
    others: list[Wall] = []
    for name in allowed(base, choice, k, choice.values(plan, k)):
        for wall in open_walls(plan, name, flange):
            faces = float(flange @ wall.outward) > wall.plane_m * wall.facing
            if wall not in found:
                (found if faces or not found else others).append(wall)
    return tuple(found), tuple(others)


@dataclass(frozen=True)
class Homes:
    """Ways home on one wall in one size: plans, and the places for which there is no way."""

    plans: tuple[Plan, ...]
    no_way: tuple[str, ...]


def homes_on(question: tuple[Plan, Plan, int, Wall], most: int) -> Homes:
    """Return plans that drain by one wall in the plan's size: the best places of the wall, each with a way laid.

    Args:
        question: the plan that says what may change; the plan to begin with; which turbo; the wall.
        most: places for which a way is laid.
    """
    base, plan, k, wall = question
    try:
        return _homes_on(base, plan, k, wall, most)
    except GravidonError as error:
        return Homes((), (tr("{name} wall: {error}").format(name=tr(wall.name), error=error),))


def _homes_on(base: Plan, plan: Plan, k: int, wall: Wall, most: int) -> Homes:
    place, means = CHOICES["entry-place"], CHOICES["entry-means"]
    ways = allowed(base, means, k)
    if means.value(plan, k) not in ways and ways:
        plan = means.put(plan, k, ways[0])
    free = _route_free(base, k)
    bare = CHOICES["route"].put(plan, k, STRAIGHT) if free else plan
    there = [bare] if wall == wall_of(plan, plan.turbos[k]) else []
    if held(base, place, k).state != "locked":
        found = entry_map(evaluate(bare).of(k), wall, *MAP)
        there += [
            moved_entry(bare, k, wall, round(along, 3), round(up, 3))
            for along, up in _spots(found.along_m, found.up_m, found.passable, found.margin_mm, base, k)[
                :most
            ]
        ]
    up = lasting_up(bare) if free else None
    if not free:
        return Homes(tuple(dict.fromkeys(there)), ())
    ends = held(base, CHOICES["drain-ends"], k).state == "open"
    laid: list[tuple[Plan, Way | NoWay]] = []
    for spot in dict.fromkeys(there):
        if len(laid) >= GIVE_UP and not any(isinstance(way, Way) for _, way in laid):
            break
        laid.append((spot, drain_way(spot, k, up, blame=False)))
    plans = tuple(with_way(spot, k, way, ends) for spot, way in laid if isinstance(way, Way))
    if plans or not laid:
        return Homes(plans, ())
    blamed = drain_way(laid[0][0], k, up)
    why = blamed.why if isinstance(blamed, NoWay) else ""
    size = CHOICES["drain-size"].value(plan, k)
    return Homes((), (tr("{name} wall, {size} drain: {why}").format(name=tr(wall.name), size=size, why=why),))


GIVE_UP = 2
"""Places of a wall for which there is no way, after which no other is tried; project choice."""
MOST_PLACES = 5
"""Places of a wall that are told apart; project choice."""


def _spots(
    along: Array, up: Array, good: np.ndarray, margin: Array, base: Plan, k: int
) -> list[tuple[float, float]]:
    """Return places that work and are allowed, well apart: by their margin; where none works, the least bad."""
    choice = CHOICES["entry-place"]
    names = [[f"{a * 1e3:.0f},{u * 1e3:.0f}" for a in along] for u in up]
    lets = np.array([[bool(allowed(base, choice, k, (n,))) for n in row] for row in names])
    ok = good & lets if (good & lets).any() else lets
    score = np.where(ok, margin, -np.inf)
    found: list[tuple[float, float]] = []
    while len(found) < MOST_PLACES and np.isfinite(score).any():
        i, j = np.unravel_index(int(score.argmax()), score.shape)
        found.append((float(along[j]), float(up[i])))
        near = np.hypot((along[None, :] - along[j]), (up[:, None] - up[i])) < 0.22 * np.ptp(along)
        score = np.where(near, -np.inf, score)
    return found


def _route_free(base: Plan, k: int) -> bool:
    return held(base, CHOICES["route"], k).state == "open" and not carries_tee(base, k)


def relaid(base: Plan, plan: Plan, k: int) -> Plan | None:
    """Return a plan with its drain's way laid anew, if that may be; None if there is no way."""
    if not _route_free(base, k) or not by_gravity(plan, k):
        return plan
    way = drain_way(plan, k, blame=False)
    if isinstance(way, NoWay):
        return None
    return with_way(plan, k, way, ends=held(base, CHOICES["drain-ends"], k).state == "open")


def put_relaid(question: tuple[Plan, Plan, int, str, str]) -> Plan | None:
    """Return a plan with another value of a choice, its drain laid anew where that choice moves its ends; None if it cannot be.

    Args:
        question: the plan that says what may change; the plan; the turbo; the choice's name; the value.
    """
    base, plan, k, name, value = question
    try:
        made = CHOICES[name].put(plan, k, value)
        return relaid(base, made, k) if name in MOVES_ENDS and made != plan else made
    except (GravidonError, ValueError):
        return None


MOVES_ENDS = ("clock", "tilt", "drain-size", "entry-wall", "entry-place", "entry-means", "drain-by")
"""Choices that move an end of the drain, or change how it bends."""


def _turned(board: Board, plans: list[Plan], k: int) -> list[Plan]:
    """Return plans with the housing clocked and tilted otherwise, each with its way laid anew."""
    asked = [
        (board.base, p, k, name, value)
        for p in plans
        if by_gravity(p, k)
        for name in ("clock", "tilt")
        for value in allowed(board.base, CHOICES[name], k, CHOICES[name].values(p, k))
        if value != CHOICES[name].value(p, k)
    ]
    return [p for p in board.crew.ask(put_relaid, asked) if p is not None]


def _pumped(base: Plan, plans: list[Plan], k: int) -> list[Plan]:
    """Return plans with a scavenge pump, in every size that may be."""
    found = []
    by, pump = CHOICES["drain-by"], CHOICES["pump"]
    for plan in plans:
        try:
            there = plan if plan.turbos[k].drain_by == "scavenge" else by.put(plan, k, "scavenge")
            for value in allowed(base, pump, k, pump.values(there, k)):
                found.append(pump.put(there, k, value))
        except GravidonError:
            continue
    return found
