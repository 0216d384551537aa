# SPDX-License-Identifier: GPL-3.0-or-later
"""The pan's upright walls: where they stand, which one an entry sits in, where the rail's bolts are."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.parts.threads import THREADS
from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.model import PanBox, Plan, TurboLine
from gravidon.study.solve import assemble
from gravidon.study.solve.as_bought import line_dash
from gravidon.study.solve.drain_route import fitting_axis

WALLS: dict[str, tuple[int, float]] = {
    "right": (1, -1.0),
    "left": (1, 1.0),
    "front": (0, 1.0),
    "rear": (0, -1.0),
}
"""A wall's name: the axis it stands across and which way it faces out."""
HEADING = {"right": -90.0, "left": 90.0, "front": 0.0, "rear": 180.0}
ACROSS = {"right": 1.0, "left": -1.0, "front": 1.0, "rear": -1.0}
"""Picture right, seen from outside, over the wall's own axis (forward, or left)."""


@dataclass(frozen=True)
class Wall:
    """One upright wall of a pan box: its name, axis across it (0, 1), facing, plane and extent [m]."""

    name: str
    axis: int
    facing: float
    plane_m: float
    low_m: float
    high_m: float
    floor_m: float
    rail_m: float

    def place(self, along_m: Array, up_m: Array) -> Array:
        """Return points [m] on the wall, (..., 3)."""
        other = 1 - self.axis
        out = np.empty((*np.shape(along_m), 3))
        out[..., self.axis], out[..., other], out[..., 2] = self.plane_m, along_m, up_m
        return out

    @property
    def outward(self) -> Array:
        """The unit vector out of the pan."""
        n = np.zeros(3)
        n[self.axis] = self.facing
        return n


def wall_of_box(box: PanBox, name: str) -> Wall:
    """Return a box's wall by its name."""
    axis, facing = WALLS[name]
    low, high = assemble.box_of(box)
    other = 1 - axis
    plane = high[axis] if facing > 0 else low[axis]
    return Wall(
        name, axis, facing, float(plane), float(low[other]), float(high[other]), float(low[2]), float(high[2])
    )


def walls(plan: Plan, name: str) -> tuple[Wall, ...]:
    """Return the walls of one name, one per pan box."""
    return tuple(wall_of_box(box, name) for box in plan.sump.boxes)


def name_of_wall(it: TurboLine) -> str:
    """Return which wall the entry fitting comes out of, by its heading."""
    axis = fitting_axis(it)
    return max(WALLS, key=lambda n: float(axis[WALLS[n][0]] * WALLS[n][1]))


def wall_of(plan: Plan, it: TurboLine) -> Wall:
    """Return the wall the entry sits in: the one of its name that is nearest."""
    entry = assemble.point(it.drain.entry)
    return min(walls(plan, name_of_wall(it)), key=lambda w: _gap(w, entry))


def across_wall(plan: Plan, it: TurboLine, axis: int) -> tuple[float, float] | None:
    """Return where the wall that a turbo's drain comes out of stands along an axis of the car [m], and which way is out of
    the pan (1 or -1); None for an axis that runs along the wall."""
    wall = wall_of(plan, it)
    return (wall.plane_m, wall.facing) if wall.axis == axis else None


def mark_at(plan: Plan, it: TurboLine, mark: str, axis: int, near_m: float) -> float | None:
    """Return where a mark that a rule is laid on stands along an axis of the car [m]; None where it says nothing there.

    Args:
        plan: the plan.
        it: the turbo's line.
        mark: "bolt" (the rail's bolt nearest to `near_m`, along the entry's wall) or "flange" (the turbo's drain flange).
        axis: 0 forward, 1 left, 2 up.
        near_m: where the place is now [m].
    """
    if mark == "flange":
        return float(assemble.point(it.turbo.drain_flange)[axis])
    wall = wall_of(plan, it)
    if axis != 1 - wall.axis:
        return None
    bolts = bolt_places(plan, wall)
    return float(bolts[np.abs(bolts - near_m).argmin()])


def _gap(wall: Wall, entry: Array) -> float:
    along = entry[1 - wall.axis]
    beside = max(wall.low_m - along, 0.0, along - wall.high_m)
    below = max(wall.floor_m - entry[2], 0.0, entry[2] - wall.rail_m)
    return float(abs(float(entry[wall.axis]) - wall.plane_m) + beside + below)


def bolt_places(plan: Plan, wall: Wall) -> Array:
    """Return where the rail's bolts sit along a wall [m]."""
    pitch = si(plan.sump, "bolt_pitch_mm")
    count = max(round((wall.high_m - wall.low_m) / pitch), 1)
    return np.linspace(wall.low_m, wall.high_m, count + 1)


SPANNER_ROOM_MM: dict[int, float] = {3: 14.0, 4: 16.0, 6: 20.0, 8: 23.0, 10: 26.0, 12: 31.0, 16: 37.0}
"""[mm] round a hose end's axis that its nut and a spanner's jaw take, by dash size: across corners of the swivel nut (SAE
J514, from memory) and as much jaw again as half of it; common practice, no source."""
RUN_OUT_PITCHES = 12.0
"""[-] pitches that a taper tap goes through from its first to its full thread, and so past the wall; from memory."""


def spanner_room_m(plan: Plan, k: int) -> float:
    """Return the room [m] that the spanner of a turbo's drain needs round the hose end: as measured, else by its dash size."""
    typed = plan.needs.spanner_mm
    if typed.basis != "guess":
        return typed.value * 1e-3
    return SPANNER_ROOM_MM.get(line_dash(plan, k, "drain"), typed.value) * 1e-3


def behind_room_m(plan: Plan, it: TurboLine) -> float:
    """Return the room [m] needed behind the wall: as wanted, and where the wall is tapped for the tap's run-out too."""
    wanted, fitting = si(plan.needs, "behind_mm"), it.drain.fitting
    if not fitting.way.wall_threads:
        return wanted
    thread = THREADS[fitting.port_thread]
    run_out = RUN_OUT_PITCHES * thread.pitch_mm * 1e-3 if thread.tapered else 0.0
    return max(wanted, run_out - si(plan.sump, "wall_mm"))
