# SPDX-License-Identifier: GPL-3.0-or-later
"""Where hoses are cut, clamped and sleeved, and the hole in the pan: the numbers for saw, drill and marker."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.parts.entry_means import threads_held
from gravidon.physics import hose
from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.model import Hose, Plan
from gravidon.study.making.parts_list import LineRun, Need, needs, runs
from gravidon.study.solve import assemble
from gravidon.study.solve.as_bought import line_dash, nearest_dash
from gravidon.study.solve.drain_route import Route, route
from gravidon.study.solve.kept import of_plan
from gravidon.study.solve.run_review import room_needed_m
from gravidon.study.solve.wall import ACROSS, Wall, behind_room_m, bolt_places, spanner_room_m, wall_of
from gravidon.translate import tr

CLAMP_EVERY_M = 0.30
"""[m] between clamps; common practice, no source."""
SLEEVE_WITHIN = 2.0
"""A hose nearer to hot parts than this many times the room they need gets a sleeve; common practice, no source."""
STOP_MM = 9.5
"""[mm] of drill left beyond the stop, besides the wall: 1/4 to 1/2 in; common practice, no source."""


def least_cut_m(dash: int) -> float:
    """Return the shortest hose [m] that can be made up between two ends: what both sockets swallow, and a diameter to hold it by.

    Equation: 2 · (15 mm + 1 mm · dash) + 1/16 in · dash.
    Source: common practice, no source.

    >>> round(least_cut_m(10), 3)
    0.066
    """
    return 2.0 * (0.015 + 1e-3 * dash) + 25.4e-3 / 16.0 * dash


@dataclass(frozen=True)
class Cut:
    """One hose: arc length of its route, both take-offs, length for movement, where to cut, clamps from its
    turbo end, and how much of it is sleeved [m]. `note` warns where the sum cannot be."""

    run: str
    turbo: int
    name: str
    dash: int
    route_m: float
    takeoffs_m: tuple[float, float]
    move_m: float
    cut_m: float
    clamps_m: tuple[float, ...]
    sleeve_m: float
    note: str = ""


def arc_length(corners_m: Array, least_bend_m: float) -> float:
    """Return the length of a hose through corners that it rounds, each by the larger radius it may keep (at most
    twice its least bend): legs less both tangents plus the arc."""
    length = float(np.linalg.norm(np.diff(corners_m, axis=0), axis=1).sum())
    if len(corners_m) < 3:
        return length
    radii = np.minimum(hose.bend_radii(corners_m), 2.0 * least_bend_m)
    turn = hose.turns(corners_m)
    return length + float((radii * (turn - 2.0 * np.tan(0.5 * turn))).sum())


def _sleeved(plan: Plan, run: Route, sleeved: bool) -> float:
    """Return the length of a drain that lies near something hot [m]; of a sleeved one, also beside what it rubs on."""
    near = np.zeros(len(run.length_m), dtype=bool)
    middle = 0.5 * (run.stations_m[:-1] + run.stations_m[1:])
    for shape in plan.shapes:
        if shape.thing.gives_heat or (sleeved and shape.thing.need):
            low, high = assemble.box_of(shape)
            near |= hose.distance_to_box(middle, low, high) < SLEEVE_WITHIN * room_needed_m(plan, shape)
    return float(run.length_m[near].sum())


def cut_of(plan: Plan, line: LineRun) -> Cut | None:
    """Return how a run's hose is cut; None for a run without a hose."""
    if not any(p.what.hose for p in line.parts):
        return None
    it = plan.turbos[line.turbo]
    ends = [p.takeoff_mm * 1e-3 for p in line.parts if p.what.hose_end]
    takeoffs = (ends[0] if ends else 0.0, ends[1] if len(ends) > 1 else 0.0)
    sleeve = 0.0
    if line.key == "drain":
        run = route(plan, it)
        length = arc_length(run.hose_corners_m, si(it.drain, "min_bend_mm"))
        move = si(it.parts, "drain_move_mm")
        sleeve = min(_sleeved(plan, run, it.drain.sleeved), length)
        dash = line_dash(plan, line.turbo, "drain")
    elif line.key == "scavenge":
        length, move, dash = (
            si(it.scavenge, "hose_mm"),
            si(it.parts, "drain_move_mm"),
            nearest_dash(it.scavenge.hose_bore_mm),
        )
    else:
        pieces = plan.trunk if line.key == "trunk" else it.feed.pieces
        hoses = [p for p in pieces if isinstance(p, Hose)]
        length, move = sum(si(p, "length_mm") for p in hoses), si(it.parts, "feed_move_mm")
        dash = nearest_dash(hoses[0].bore_mm) if line.key == "trunk" else line_dash(plan, line.turbo, "feed")
        hot = si(plan.taps[plan.tap], "hot_mm") < SLEEVE_WITHIN * si(plan.needs, "hot_mm")
        sleeve = min(CLAMP_EVERY_M, length) if hot else 0.0
    cut = length + move - sum(takeoffs)
    note = (
        ""
        if cut > least_cut_m(dash)
        else tr("Too short for its two hose ends: lengthen the route or choose shorter ends.")
    )
    count = max(int(cut // CLAMP_EVERY_M), 0)
    places = tuple(round(cut * (n + 1) / (count + 1), 3) for n in range(count))
    return Cut(
        line.key, line.turbo, line.name, dash, length, takeoffs, move, max(cut, 0.0), places, sleeve, note
    )


@of_plan
def cuts(plan: Plan) -> tuple[Cut, ...]:
    """Return the cut list."""
    return tuple(c for c in (cut_of(plan, line) for line in runs(plan)) if c is not None)


@of_plan
def order_list(plan: Plan) -> tuple[Need, ...]:
    """Return everything the plan needs against the drawer, with the hoses at their cut lengths."""
    lengths: dict[str, float] = {}
    sleeves: dict[int, float] = {}
    clamps: dict[int, int] = {}
    for cut in cuts(plan):
        lengths[f"{cut.run}{cut.turbo}"] = max(cut.cut_m, 0.05)
        if cut.sleeve_m > 0:
            sleeves[cut.dash] = sleeves.get(cut.dash, 0.0) + cut.sleeve_m
        if cut.clamps_m:
            clamps[cut.dash] = clamps.get(cut.dash, 0) + len(cut.clamps_m)
    return needs(plan, lengths, sleeves, clamps)


# --- the hole --------------------------------------------------------------------------------


@dataclass(frozen=True)
class EntryTemplate:
    """The hole in the pan as a paper template, seen from outside; lengths [m].

    Fields: hole (drilled diameter), what it is drilled and tapped with, hose-end room (spanner circle), how far
    the centre lies below the rail, the nearest rail bolts as (beside, above) from the centre, stop setting on the
    drill, room behind the wall, threads held (inf where none are needed), which way the fitting's outer end points (positive: up), how far the centre
    lies from the wall's nearer end and which that is; whether the bolts' places are guesses.
    """

    turbo: int
    name: str
    hole_m: float
    tool: str
    spanner_m: float
    below_rail_m: float
    bolts_m: tuple[tuple[float, float], ...]
    stop_m: float
    behind_m: float
    threads: float
    bolt_head_m: float
    rise_deg: float
    edge_m: float
    edge: str
    bolts_guessed: bool


def entry_template(plan: Plan, k: int) -> EntryTemplate | None:
    """Return the template of one turbo's entry; None where its drain does not enter the pan."""
    it = plan.turbos[k]
    if it.drain_by == "scavenge" or it.drain.joins is not None:
        return None
    fitting, wall = it.drain.fitting, wall_of(plan, it)
    entry = assemble.point(it.drain.entry)
    along = float(entry[1 - wall.axis])
    sign = ACROSS[wall.name]
    near = [
        (sign * float(b - along), wall.rail_m - float(entry[2]))
        for b in bolt_places(plan, wall)
        if abs(b - along) < 0.075
    ]
    hole, tool = fitting.way.hole(fitting.port_thread, fitting.bore_mm)
    return EntryTemplate(
        k,
        it.turbo.label,
        hole,
        tool,
        spanner_room_m(plan, k),
        wall.rail_m - float(entry[2]),
        tuple(near),
        si(plan.sump, "wall_mm") + STOP_MM * 1e-3,
        behind_room_m(plan, it),
        threads_held(fitting.means, fitting.port_thread, plan.sump.wall_mm.value),
        si(plan.sump, "bolt_head_mm"),
        fitting.rise_deg,
        *_nearer_end(wall, along),
        "guess" in (plan.sump.bolt_pitch_mm.basis, plan.sump.bolt_head_mm.basis),
    )


def _nearer_end(wall: Wall, along_m: float) -> tuple[float, str]:
    """Return how far a place on a wall is from the wall's nearer end [m], and what that end is called."""
    names = (tr("rear"), tr("front")) if wall.axis == 1 else (tr("right"), tr("left"))
    ends = ((along_m - wall.low_m, names[0]), (wall.high_m - along_m, names[1]))
    return min(ends)
