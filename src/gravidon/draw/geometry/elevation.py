# SPDX-License-Identifier: GPL-3.0-or-later
"""The drain as seen from the front, the side or above: plain geometry in millimetres, no drawing.

A view is a plane. From the front the picture's right is the car's left (+y); from the left side the
picture's left is the car's front, so right is -x. From above the car's nose points down the picture: right
is +y, up is -x. Picture coordinates are (right, up).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from gravidon.physics import attitude
from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.model import Point
from gravidon.plan.things import ThingKind
from gravidon.study.solve import assemble
from gravidon.study.solve.drain_route import housing_frame, seal_centres
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.feed_line import feed_line
from gravidon.words.text import tr

View = Literal["front", "side", "above"]
VIEWS: dict[View, str] = {
    "front": tr("from the front"),
    "side": tr("from the left side"),
    "above": tr("from above, nose down"),
}
_AXES: dict[View, Array] = {
    "front": np.array([[0.0, 1.0, 0.0], [0.0, 0.0, 1.0]]),
    "side": np.array([[-1.0, 0.0, 0.0], [0.0, 0.0, 1.0]]),
    "above": np.array([[0.0, 1.0, 0.0], [-1.0, 0.0, 0.0]]),
}


@dataclass(frozen=True)
class Leg:
    """One straight leg: whether it is the entry fitting, its ends, its slope as the oil feels it [rad], its bore [mm]."""

    is_fitting: bool
    start: Array
    end: Array
    felt_rad: float
    bore_mm: float


@dataclass(frozen=True)
class Block:
    """A placed thing: its number in the plan, name, kind and rectangle (low, high) in the picture."""

    number: int
    label: str
    thing: ThingKind
    low: Array
    high: Array


def handle(kind: Literal["bend", "shape"], index: int) -> str:
    """Return the key of a bend's or a thing's handle, which is no text: it is the same in every language.

    >>> handle("bend", 0)
    'bend 1'
    """
    return " ".join((kind, str(index + 1)))


@dataclass(frozen=True)
class Elevation:
    """Geometry of one condition in one view; all points [mm] as (right, up).

    Fields: centreline stations (stations, 2); bore per piece; fill per station; grade line points;
    legs; pan boxes and their oil (polygons); surface line; housing outline, oil in it; seals as
    (centre, lowest point) pairs; pond level and seal level points on the housing axis; effective
    up in the picture; entry point; placed things; the other turbos' drains and every feed whose tap has a place, as centrelines.
    """

    view: View
    stations: Array
    bore_mm: Array
    fill: Array
    full: np.ndarray
    grade: Array
    legs: tuple[Leg, ...]
    pans: tuple[Array, ...]
    oils: tuple[Array, ...]
    housing: Array
    turn_rad: float
    housing_oil: Array
    seals: tuple[tuple[Array, Array], ...]
    seal_point: Array
    pond_point: Array
    up: Array
    lean_rad: float
    entry: Array
    flange: Array
    handles: dict[str, Array]
    blocks: tuple[Block, ...]
    others: tuple[Array, ...]
    feeds: tuple[Array, ...] = ()


def project(view: View, points_m: Array) -> Array:
    """Return points [m] (n, 3) as picture points [mm] (n, 2)."""
    result: Array = np.atleast_2d(points_m) @ _AXES[view].T * 1e3
    return result


def shifted(view: View, point: Point, right_mm: float, up_mm: float) -> Point:
    """Return a point moved by a step in the picture; what the view does not show stays."""
    x, y, z = np.array([right_mm, up_mm]) @ _AXES[view]
    return Point(
        x_mm=round(point.x_mm + float(x), 1),
        y_mm=round(point.y_mm + float(y), 1),
        z_mm=round(point.z_mm + float(z), 1),
    )


def below_plane(polygon: Array, normal: Array, offset: float) -> Array:
    """Return the part of a polygon (n, 2) where normal · p <= offset (Sutherland and Hodgman)."""
    kept: list[Array] = []
    distance = polygon @ normal - offset
    for k in range(len(polygon)):
        here, after = polygon[k], polygon[(k + 1) % len(polygon)]
        d_here, d_after = distance[k], distance[(k + 1) % len(polygon)]
        if d_here <= 0.0:
            kept.append(here)
        if (d_here <= 0.0) != (d_after <= 0.0):
            kept.append(here + (after - here) * d_here / (d_here - d_after))
    return np.array(kept) if kept else np.zeros((0, 2))


def elevation(e: Evaluation, condition: int, view: View) -> Elevation:
    """Return the drawing's geometry for one condition."""
    d, r = e.drainage, e.route
    up3 = d.up[condition]
    axes = _AXES[view]
    up = axes @ up3
    stations = project(view, r.stations_m)
    heights = attitude.height(d.up[condition : condition + 1], r.stations_m)[:, 0]
    lift = (d.backwater.grade_line_m[:, condition] - heights) * 1e3
    entry3 = r.corners_m[-1]
    pans, oils = _pan(e, condition, view, up, up3, entry3)
    shaft, axis = seal_centres(e.line)
    housing = _housing(e, view, shaft, axis)
    flange = project(view, r.corners_m[:1])[0]
    flange_height = float(up3 @ r.corners_m[0])
    pond_rise = (d.backwater.housing_level_m[condition] - flange_height) * 1e3
    radius = 0.5 * si(e.line.turbo, "seal_diameter_mm") * 1e3
    seals = tuple((c, c - np.array([0.0, radius])) for c in project(view, shaft))
    seal_rise = (d.seal_level_m[condition] - flange_height) * 1e3
    oil_offset = float(up @ flange) + pond_rise
    corners = project(view, r.corners_m)
    handles = {"turbo": corners[0], "entry": corners[-1]}
    for k, p in enumerate(e.line.drain.points):
        handles[handle("bend", k)] = project(view, assemble.point(p)[None, :])[0]
    if e.line.drain_by == "scavenge":
        handles = {"turbo": corners[0], "pot": corners[-1]}
    elif not r.ends_in_fitting:
        del handles["entry"]
    blocks = _blocks(e, view)
    for block in blocks:
        handles[handle("shape", block.number)] = 0.5 * (block.low + block.high)
    upright = up / float(np.linalg.norm(up)) if np.linalg.norm(up) > 0.05 else np.array([0.0, 1.0])
    return Elevation(
        view=view,
        stations=stations,
        bore_mm=r.bore_m * 1e3,
        fill=np.clip(d.backwater.fill[:, condition], 0.0, 1.0),
        full=d.backwater.full[:, condition],
        grade=stations + lift[:, None] * up,
        legs=_legs(e, condition, corners),
        pans=pans,
        oils=oils,
        housing=housing,
        turn_rad=_turn(e, view),
        housing_oil=below_plane(housing, up, oil_offset),
        seals=seals,
        seal_point=flange + upright * seal_rise,
        pond_point=flange + upright * pond_rise,
        up=up,
        lean_rad=float(attitude.lean(d.up[condition])),
        entry=corners[-1],
        flange=flange,
        handles=handles,
        blocks=blocks,
        others=tuple(project(view, lens.route.corners_m) for lens in e.all if lens.index != e.index),
        feeds=tuple(
            project(view, line)
            for k in range(len(e.plan.turbos))
            if not e.plan.trunk and (line := feed_line(e.plan, k)) is not None
        ),
    )


def _blocks(e: Evaluation, view: View) -> tuple[Block, ...]:
    blocks = []
    for k, shape in enumerate(e.plan.shapes):
        low, high = assemble.box_of(shape)
        a, b = project(view, np.stack([low, high]))
        blocks.append(Block(k, shape.label, shape.thing, np.minimum(a, b), np.maximum(a, b)))
    return tuple(blocks)


def _legs(e: Evaluation, condition: int, corners: Array) -> tuple[Leg, ...]:
    legs = []
    for k in range(e.route.legs):
        step = e.route.corners_m[k] - e.route.corners_m[k + 1]
        length = max(float(np.linalg.norm(step)), 1e-9)
        bore = float(e.route.bore_m[int(np.argmax(e.route.leg == k))]) * 1e3
        felt = float(np.clip(e.drainage.up[condition] @ step / length, -1.0, 1.0))
        legs.append(
            Leg(
                e.route.ends_in_fitting and k == e.route.legs - 1,
                corners[k],
                corners[k + 1],
                float(np.arcsin(felt)),
                bore,
            )
        )
    return tuple(legs)


def _pan(
    e: Evaluation, condition: int, view: View, up: Array, up3: Array, entry: Array
) -> tuple[tuple[Array, ...], tuple[Array, ...]]:
    """Return the pan boxes as rectangles, and the oil in each cut at the entry's own section."""
    hidden = {"front": 0, "side": 1, "above": 2}[view]
    offset = (e.drainage.pan_level_m[condition] - up3[hidden] * entry[hidden]) * 1e3
    pans, oils = [], []
    for box in e.plan.sump.boxes:
        low, high = assemble.box_of(box)
        (a, b), (c, d) = project(view, low[None, :])[0], project(view, high[None, :])[0]
        left, right = min(a, c), max(a, c)
        if view == "above":
            b, d = min(b, d), max(b, d)
            pans.append(np.array([[left, b], [right, b], [right, d], [left, d]]))
            oils.append(np.zeros((0, 2)))
            continue
        tall = d + 300.0  # oil may stand above the rail, inside the crankcase
        pans.append(np.array([[left, b], [right, b], [right, d], [left, d]]))
        block = np.array([[left, b], [right, b], [right, tall], [left, tall]])
        oils.append(below_plane(block, up, offset))
    return tuple(pans), tuple(oils)


def _housing(e: Evaluation, view: View, shaft: Array, axis: Array) -> Array:
    """Return the cavity's outline: from the drain flange up to the shaft, as wide as it is seen."""
    seen = abs(float((_AXES[view] @ axis)[0]))
    height = si(e.line.turbo, "shaft_height_mm") * 1e3
    spacing = si(e.line.turbo, "seal_spacing_mm") * 1e3
    half = 0.5 * (seen * spacing + (1.0 - seen) * 0.95 * height)
    mouth = 0.5 * e.line.drain.flange_bore_mm
    centre: Array = project(view, shaft.mean(axis=0)[None, :])[0]
    if view == "above":
        heading = project(view, axis[None, :])[0] * 1e-3
        heading = heading / max(float(np.linalg.norm(heading)), 1e-9)
        side = np.array([-heading[1], heading[0]])
        long, wide = 0.5 * spacing, 0.5 * 0.95 * height
        signs = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]])
        return np.asarray(centre + signs[:, :1] * long * heading + signs[:, 1:] * wide * side)
    outline = np.array(
        [
            [-mouth, -height],
            [mouth, -height],
            [half, -0.58 * height],
            [half, 0.1 * height],
            [-half, 0.1 * height],
            [-half, -0.58 * height],
        ]
    )
    c, s = np.cos(_turn(e, view)), np.sin(_turn(e, view))
    return np.asarray(centre + outline @ np.array([[c, s], [-s, c]]))


def _turn(e: Evaluation, view: View) -> float:
    """Return how far the housing is turned in the picture [rad], counterclockwise."""
    if view == "above":
        return 0.0
    right, up = _AXES[view] @ housing_frame(e.line)[2]
    return float(np.arctan2(-right, up))
