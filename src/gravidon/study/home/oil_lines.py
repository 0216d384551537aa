# SPDX-License-Identifier: GPL-3.0-or-later
"""Where the pan's oil stands: level over the entry per condition, and its line on an upright wall."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.study.solve import assemble
from gravidon.study.solve.drain_route import fitting_axis
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.gravity import pan_level, standing_of
from gravidon.study.solve.wall import Wall


@dataclass(frozen=True)
class OilLevels:
    """Per condition, at the entry: height of the oil's plane over the rail [m], and of the entry's crown."""

    oil_m: Array
    crown_m: Array


def oil_lines(e: Evaluation, wall: Wall) -> Array:
    """Return the oil's line on a wall: height over the rail [m] at both of its ends, (conditions, 2).

    The plane is that of the pan's region nearest the wall's middle.
    """
    middle = wall.place(np.array(0.5 * (wall.low_m + wall.high_m)), np.array(0.0))
    level = pan_level(e.plan, standing_of(e.plan, e.breathing.crankcase_pa), middle)
    up = e.drainage.up
    ends = np.array([wall.low_m, wall.high_m])
    across = up[:, wall.axis] * wall.plane_m
    result: Array = (level[:, None] - across[:, None] - up[:, 1 - wall.axis][:, None] * ends) / up[:, 2:]
    return result


def levels_at_entry(e: Evaluation) -> OilLevels:
    """Return oil and crown straight above and below the entry, car's upright, per condition."""
    entry = assemble.point(e.line.drain.entry)
    up = e.drainage.up
    level = pan_level(e.plan, standing_of(e.plan, e.breathing.crankcase_pa), entry)
    oil = (level - up[:, 0] * entry[0] - up[:, 1] * entry[1]) / up[:, 2]
    sine = up @ fitting_axis(e.line)
    half = 0.5e-3 * e.line.drain.fitting.bore_mm * np.sqrt(np.maximum(1.0 - sine**2, 0.0))
    return OilLevels(oil, entry[2] + half / up[:, 2])
