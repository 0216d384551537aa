# SPDX-License-Identifier: GPL-3.0-or-later
"""How a hose lies once it is made: where it bends, measured from what can be touched, and how its two ends are turned to each other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.physics import hose
from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.study.making.parts_list import LineRun, runs
from gravidon.study.solve import assemble
from gravidon.study.solve.drain_route import EASY_BEND_M, route
from gravidon.study.solve.feed_line import feed_line
from gravidon.study.solve.wall import wall_of


@dataclass(frozen=True)
class Bend:
    """A bend of a hose: how far along it from its turbo end [m]; how far over the pan's rail, out from the pan's wall and, along
    that wall, ahead (or left) of the hole in it [m]; whether the wall runs along the car; by how much it turns [rad] and on which radius [m]."""

    along_m: float
    over_m: float
    out_m: float
    beside_m: float
    along_car: bool
    turn: float
    radius_m: float


@dataclass(frozen=True)
class Laid:
    """How a hose lies: which line of which turbo, its name, its bends from the turbo on, and how far its lower end is turned
    against its turbo end [rad], clockwise as seen from the turbo along the hose (nan: one of them is straight)."""

    run: str
    turbo: int
    name: str
    bends: tuple[Bend, ...]
    clocking: float


def laid_hoses(plan: Plan) -> tuple[Laid, ...]:
    """Return how every hose lies whose way is known: drains, and feeds whose tap has a place."""
    made = (_laid(plan, line) for line in runs(plan) if any(p.what.hose for p in line.parts))
    return tuple(it for it in made if it is not None)


def _laid(plan: Plan, line: LineRun) -> Laid | None:
    it, turn = plan.turbos[line.turbo], float("nan")
    if line.key == "drain":
        run = route(plan, it)
        corners = run.hose_corners_m
        if all(p.angle_deg for p in line.parts if p.what.hose_end):
            turn = hose.clocking(run.corners_m)
    elif line.key == "feed" and (fed := feed_line(plan, line.turbo)) is not None:
        corners = fed[
            ::-1
        ]  # which way the tap's fitting points is not in the plan: its end is turned on the engine
    else:
        return None
    return Laid(line.key, line.turbo, line.name, _bends(plan, line.turbo, corners), turn)


def _bends(plan: Plan, k: int, corners: Array) -> tuple[Bend, ...]:
    it = plan.turbos[k]
    wall, entry = wall_of(plan, it), assemble.point(it.drain.entry)
    along = np.cumsum(np.linalg.norm(np.diff(corners, axis=0), axis=1))
    return tuple(
        Bend(
            float(along[n]),
            float(place[2] - wall.rail_m),
            float((place[wall.axis] - wall.plane_m) * wall.facing),
            float(place[1 - wall.axis] - entry[1 - wall.axis]),
            wall.axis == 1,
            float(turn),
            float(min(radius, EASY_BEND_M)),
        )
        for n, (place, turn, radius) in enumerate(
            zip(corners[1:-1], hose.turns(corners), hose.bend_radii(corners), strict=True)
        )
        if turn > hose.STRAIGHT
    )
