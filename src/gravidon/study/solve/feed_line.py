# SPDX-License-Identifier: GPL-3.0-or-later
"""Where a feed runs, in space."""

from __future__ import annotations

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.model import Plan, TurboLine
from gravidon.study.solve.assemble import point
from gravidon.study.solve.drain_route import housing_frame, shaft_centre


def inlet(it: TurboLine) -> Array:
    """Return where the feed's end is screwed to the housing [m]: opposite the drain, as far above the shaft as that is below."""
    top: Array = shaft_centre(it) + housing_frame(it)[2] * si(it.turbo, "shaft_height_mm")
    return top


def feed_line(plan: Plan, k: int) -> Array | None:
    """Return a feed as it is laid out [m] (corners, 3), from the tap to the inlet; None where the tap's place is not known."""
    place = plan.taps[plan.tap].place
    if place is None:
        return None
    it = plan.turbos[k]
    return np.stack([point(place), *(point(p) for p in it.feed.points), inlet(it)])
