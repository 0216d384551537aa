# SPDX-License-Identifier: GPL-3.0-or-later
"""Flange plates to be cut: the two a turbo bolts to, as outline, bore and bolt holes.

Holes are those of ISO 273, medium series (from memory); edge and wall about bolts and bore: common practice, no source.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.model import Plan
from gravidon.translate import tr

CLEARANCE_MM = {"M6": 6.6, "M8": 9.0}
"""[mm] clearance holes, ISO 273 medium."""
EDGE = 1.25
"""[-] of a bolt's hole: radius of the plate about it; common practice, no source."""
ROUND_BORE_MM = 7.0
"""[mm] of plate round the bore, for the gasket and the weld; common practice, no source."""
THICK_MM = {"M6": 8.0, "M8": 10.0}
"""[mm] plate that does not bend between two bolts; common practice, no source."""
TWO_BOLTS = re.compile(r"two-bolt (\d+(?:\.\d+)?) mm")


@dataclass(frozen=True)
class Plate:
    """A two-bolt plate, its bore at the origin, bolts along x; lengths [m].

    Fields: name, bolt thread, pitch of the bolts, their holes, bore, radius round a bolt, radius round the bore, thickness.
    """

    name: str
    bolt: str
    pitch_m: float
    hole_m: float
    bore_m: float
    end_m: float
    middle_m: float
    thick_m: float

    def outline(self) -> tuple[tuple[float, float, float], ...]:
        """Return the outline as a closed line of (x [m], y [m], bulge [-]), anticlockwise: the hull of three circles.

        A bulge is the tangent of a quarter of the arc's angle to the next corner, 0 for a straight side.
        """
        half, r, mid = 0.5 * self.pitch_m, self.end_m, self.middle_m
        if mid <= r:  # the middle lies inside: two arcs and two sides
            return ((-half, -r, 0.0), (half, -r, 1.0), (half, r, 0.0), (-half, r, 1.0))
        if mid >= half + r:  # the bolts lie inside the middle's circle: a round plate
            return ((mid, 0.0, 1.0), (-mid, 0.0, 1.0))
        lean = float(np.arcsin((mid - r) / half))  # of a side that touches both circles
        across, along = np.cos(lean), np.sin(lean)
        end = (half + r * along, r * across)
        middle = (mid * along, mid * across)
        at_end, at_middle = np.tan(0.25 * (np.pi - 2.0 * lean)), np.tan(0.25 * 2.0 * lean)
        return (
            (end[0], -end[1], float(at_end)),
            (end[0], end[1], 0.0),
            (middle[0], middle[1], float(at_middle)),
            (-middle[0], middle[1], 0.0),
            (-end[0], end[1], float(at_end)),
            (-end[0], -end[1], 0.0),
            (-middle[0], -middle[1], float(at_middle)),
            (middle[0], -middle[1], 0.0),
        )

    @property
    def crowded(self) -> bool:
        """Whether less than half the usual plate is left between the bore and a bolt's hole."""
        return 0.5 * (self.pitch_m - self.bore_m - self.hole_m) < 0.5e-3 * ROUND_BORE_MM

    @property
    def bolts_m(self) -> Array:
        """Return the middles of both bolts [m], (2, 2)."""
        return np.array([[-0.5 * self.pitch_m, 0.0], [0.5 * self.pitch_m, 0.0]])


def _plate(name: str, code: str, bolt: str, bore_m: float) -> Plate | None:
    found = TWO_BOLTS.search(code)
    if found is None:
        return None
    hole = CLEARANCE_MM[bolt] * 1e-3
    pitch = float(found.group(1)) * 1e-3
    middle = 0.5 * bore_m + ROUND_BORE_MM * 1e-3
    return Plate(name, bolt, pitch, hole, bore_m, EDGE * hole, middle, THICK_MM[bolt] * 1e-3)


def plates(plan: Plan, k: int) -> tuple[Plate, ...]:
    """Return the plates one turbo can be given; none where it is not bolted to."""
    it = plan.turbos[k]
    made = (
        _plate(
            tr("{label}, oil feed flange").format(label=it.turbo.label),
            it.parts.inlet,
            "M6",
            si(it.flange_hole, "bore_mm"),
        ),
        _plate(
            tr("{label}, drain flange").format(label=it.turbo.label),
            it.parts.outlet,
            "M8",
            si(it.drain, "flange_bore_mm"),
        ),
    )
    return tuple(p for p in made if p is not None)
