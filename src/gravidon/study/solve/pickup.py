# SPDX-License-Identifier: GPL-3.0-or-later
"""How far the pan's oil stands over the engine's own oil pickup."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.study.solve.assemble import box_of, point
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.gravity import standing_of, still_level

OVER_FLOOR_M = 0.010
"""[m] of a pickup's mouth over the pan's floor where nobody measured it; common practice, no source."""


def pickup_place(plan: Plan) -> Array:
    """Return where the pickup's mouth is [m]: as measured, or in the middle of the deepest box, just over its floor."""
    if plan.sump.pickup is not None:
        return point(plan.sump.pickup)
    low, high = min((box_of(b) for b in plan.sump.boxes), key=lambda ends: float(ends[0][2]))
    middle: Array = 0.5 * (low + high)
    middle[2] = low[2] + OVER_FLOOR_M
    return middle


@lru_cache(maxsize=16)
def pickup_cover(e: Evaluation) -> Array:
    """Return the oil's height over the pickup along effective gravity [m], (conditions,); negative: it sucks air."""
    place = pickup_place(e.plan)
    stand = standing_of(e.plan, e.breathing.crankcase_pa)
    # windage is oil thrown up over the surface: it drowns an entry, and covers no pickup
    level = still_level(e.plan, stand, place)
    result: Array = level - np.asarray(e.drainage.up @ place)
    return result
