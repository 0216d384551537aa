# SPDX-License-Identifier: GPL-3.0-or-later
"""Where the housing sits and which way the drain runs, in space: corners, stations, bores, names."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from gravidon.physics import hose, line, seat
from gravidon.physics.arrays import Array
from gravidon.physics.drain import Run
from gravidon.plan.fields import si
from gravidon.plan.model import Plan, TurboLine
from gravidon.plan.model_drain import DrainPiece
from gravidon.study.solve.assemble import point
from gravidon.translate import tr

PIECE_LENGTH_M = 0.012
MOST_PIECES = 48
SHORTEST_M = 1e-4
EASY_BEND_M = 0.12
"""[m] radius that a hose takes in a bend where there is room; common practice, no source."""


@dataclass(frozen=True)
class Route:
    """A drain's centreline: its corners and its stations, with bores and which leg each piece is on.

    Fields: corners [m] (corners, 3); stations [m] (stations, 3), sagged; piece length and bore [m] (pieces,);
    leg of each piece (pieces,): leg k joins corner k to k+1, the first is the flange stub; Hooper's K1 and K∞ of the
    elbows in each piece (2, pieces); how much of each is bent hose and the bend's radius [m] (pieces,); the name of
    each leg as in a sentence, and in a drawing's few words that of the part each piece belongs to; whether the last leg is a fitting in the pan's wall; sag over span of each leg [-]
    (legs,); velocity heads that are lost at the mouth of the flange [-].
    """

    corners_m: Array
    stations_m: Array
    length_m: Array
    bore_m: Array
    leg: np.ndarray
    fittings: Array
    arc_m: Array
    bend_radius_m: Array
    leg_names: tuple[str, ...]
    part_names: tuple[str, ...]
    ends_in_fitting: bool
    sag_share: Array
    mouth_loss: float = 0.5

    def run(self, heights_m: Array, stream: np.ndarray | None = None) -> Run:
        """Return the drain as the march takes it, with its stations' heights (stations, states) in those states."""
        return Run(
            heights_m,
            self.length_m,
            self.bore_m,
            stream,
            self.fittings,
            self.arc_m,
            self.bend_radius_m,
            self.mouth_loss,
        )

    @property
    def legs(self) -> int:
        """Number of straight legs."""
        return len(self.corners_m) - 1

    @property
    def hose_corners_m(self) -> Array:
        """The corners between which the hose runs."""
        return self.corners_m[1:-1] if self.ends_in_fitting else self.corners_m[1:]

    def part_at(self, station: int) -> str:
        """Return the name of the part a station belongs to."""
        return self.part_names[min(station, len(self.part_names) - 1)]


def housing_frame(it: TurboLine) -> Array:
    """Return the housing's axes as rows: along the shaft to the compressor, sideways, out of the top."""
    turbo = it.turbo
    return _frame(si(turbo, "shaft_heading_deg"), si(turbo, "pitch_deg"), si(turbo, "clock_deg"))


@lru_cache(maxsize=64)
def _frame(heading: float, pitch: float, clock: float) -> Array:
    made = seat.housing_frame(heading, pitch, clock)
    made.setflags(write=False)
    return made


def shaft_centre(it: TurboLine) -> Array:
    """Return the middle of the shaft [m]; clock angle and pitch turn the housing about it."""
    centre: Array = point(it.turbo.drain_flange) + np.array([0.0, 0.0, si(it.turbo, "shaft_height_mm")])
    return centre


def flange_centre(it: TurboLine) -> Array:
    """Return where the drain flange is [m], clocked and pitched."""
    centre: Array = shaft_centre(it) - housing_frame(it)[2] * si(it.turbo, "shaft_height_mm")
    return centre


def seal_centres(it: TurboLine) -> tuple[Array, Array]:
    """Return the two seal centres [m] (2, 3) and the shaft's unit vector; turbine end first."""
    axis = housing_frame(it)[0]
    half = 0.5 * si(it.turbo, "seal_spacing_mm") * axis
    shaft = shaft_centre(it)
    return np.stack([shaft - half, shaft + half]), axis


def fitting_axis(it: TurboLine) -> Array:
    """Return the unit vector from the pan wall outward along the entry fitting."""
    heading, rise = si(it.drain.fitting, "heading_deg"), si(it.drain.fitting, "rise_deg")
    return np.array(
        [np.cos(heading) * np.cos(rise), np.sin(heading) * np.cos(rise), np.sin(rise)], dtype=np.float64
    )


def tee_point(plan: Plan, it: TurboLine) -> Array | None:
    """Return where a joined drain meets the other one [m], or its pot; None for a drain of its own."""
    joins = it.drain.joins
    if joins is None or it.drain_by == "scavenge":
        return None
    trunk = plan.turbos[joins.turbo]
    return point(trunk.scavenge.pot if trunk.drain_by == "scavenge" else trunk.drain.points[joins.bend])


def _corners(plan: Plan, it: TurboLine) -> tuple[Array, bool]:
    drain = it.drain
    flange = flange_centre(it)
    stub = flange - housing_frame(it)[2] * si(drain, "flange_length_mm")
    if it.drain_by == "scavenge":
        return np.array([flange, stub, point(it.scavenge.pot)]), False
    bends = [point(p) for p in drain.points]
    tee = tee_point(plan, it)
    if tee is not None:
        return np.array([flange, stub, *bends, tee]), False
    entry = point(drain.entry)
    outer = entry + fitting_axis(it) * si(drain.fitting, "length_mm")
    return np.array([flange, stub, *bends, outer, entry]), True


def _parts(it: TurboLine, start: float, end: float) -> list[tuple[float, float, DrainPiece]]:
    """Return the hose ends and adapters as (from, to, piece) along the run [m]."""
    zones, low, high = [], start, end
    for piece in it.drain.pieces:
        if it.drain_by == "scavenge" and piece.at == "pan":
            continue
        length = min(si(piece, "length_mm"), max(high - low, 0.0))
        if piece.at == "turbo":
            zones.append((low, low + length, piece))
            low += length
        else:
            zones.append((high - length, high, piece))
            high -= length
    return [z for z in zones if z[1] - z[0] > SHORTEST_M]


def route(plan: Plan, it: TurboLine, most: int = MOST_PIECES) -> Route:
    """Return the drain's centreline cut into pieces of about 12 mm, at most about `most`.

    Hose stretches sag between their ends; a bend is a place where the hose is held.
    """
    drain = it.drain
    corners, fitted = _corners(plan, it)
    leg_length = np.linalg.norm(np.diff(corners, axis=0), axis=1)
    keep = leg_length > SHORTEST_M
    keep[0] = keep[-1] = True
    corners = np.concatenate([corners[:-1][keep], corners[-1:]])
    leg_length = leg_length[keep]
    legs = len(leg_length)
    walked = np.concatenate([[0.0], np.cumsum(leg_length)])
    end = walked[-2] if fitted else walked[-1]
    zones = _parts(it, float(walked[1]), float(end))
    edges = np.unique(np.round(np.concatenate([walked, *([z[0], z[1]] for z in zones)]), 6))
    edges = edges[np.concatenate([[True], np.diff(edges) > SHORTEST_M])]
    piece = max(PIECE_LENGTH_M, float(walked[-1]) / max(most - len(edges), 4))
    counts = np.maximum(np.ceil(np.diff(edges) / piece - 1e-6).astype(int), 1)
    places = np.concatenate(
        [e + np.arange(n) * (f - e) / n for e, f, n in zip(edges[:-1], edges[1:], counts, strict=True)]
        + [edges[-1:]]
    )
    controls = [
        float(walked[1]),
        *(z[0] for z in zones),
        *([float(walked[-2])] if fitted else []),
        float(walked[-1]),
    ]
    places = _refined(places, controls)
    middle = 0.5 * (places[:-1] + places[1:])
    leg = np.clip(np.searchsorted(walked, middle, side="right") - 1, 0, legs - 1)
    of = np.concatenate([leg, leg[-1:]])
    share = np.clip((places - walked[of]) / np.maximum(leg_length[of], 1e-9), 0.0, 1.0)
    step = np.diff(corners, axis=0)
    stations = corners[of] + share[:, None] * step[of]
    is_hose = np.ones(legs, dtype=bool)
    is_hose[0], is_hose[-1] = False, not fitted
    level = np.sqrt(np.maximum(1.0 - (step[:, 2] / np.maximum(leg_length, 1e-9)) ** 2, 0.0))
    dips = hose.sag(leg_length, level, si(drain, "sag_mm")) * is_hose
    stations[:, 2] -= dips[of] * hose.sag_shape(share)
    bores = np.full(len(middle), si(drain, "hose_bore_mm"))
    names, short = _leg_names(it, legs, fitted)
    parts = [short[k] for k in leg]
    bores[leg == 0] = si(drain, "flange_bore_mm")
    if fitted:
        bores[leg == legs - 1] = si(drain.fitting, "bore_mm")
    fittings = np.zeros((2, len(middle)))
    for low, high, end_piece in zones:
        own = np.flatnonzero((middle > low) & (middle < high))
        for k in own:
            bores[k], parts[k] = si(end_piece, "bore_mm"), end_piece.label
        if len(own) and end_piece.angle_deg:
            fittings[:, own] += np.array(line.elbow_hooper(end_piece.angle_deg))[:, None] / len(own)
    return Route(
        corners,
        stations,
        np.linalg.norm(np.diff(stations, axis=0), axis=1),
        bores,
        leg,
        fittings,
        *_bends(corners[1 : -1 if fitted else None], float(walked[1]), places),
        names,
        tuple(parts),
        fitted,
        dips / np.maximum(leg_length, 1e-9),
        si(drain, "mouth_loss"),
    )


NEAR_CONTROL_M = (0.006, 0.003)
"""[m] above a place that may be a control (a smaller bore, the end) at which the run is cut besides: the surface is steepest there."""


def _refined(places: Array, controls: list[float]) -> Array:
    """Return places along a run with short pieces above its controls [m]."""
    more = np.array([at - back for at in controls for back in NEAR_CONTROL_M])
    gap = np.abs(more[:, None] - places[None, :]).min(axis=1)
    more = more[(gap > 1e-3) & (more > places[0]) & (more < places[-1])]
    return np.unique(np.concatenate([places, more]))


def _bends(corners: Array, start: float, places: Array) -> tuple[Array, Array]:
    """Return how much of each piece [m] is bent hose and the radius [m] it is bent to, (pieces,) each."""
    count = len(places) - 1
    arc, radius = np.zeros(count), np.full(count, np.inf)
    if len(corners) < 3:
        return arc, radius
    at = start + np.cumsum(np.linalg.norm(np.diff(corners, axis=0), axis=1))
    for place, widest, turn in zip(at, hose.bend_radii(corners), hose.turns(corners), strict=False):
        bent = min(float(widest), EASY_BEND_M)
        reach = bent * np.tan(0.5 * min(turn, np.radians(170.0)))
        within = np.clip(
            np.minimum(places[1:], place + reach) - np.maximum(places[:-1], place - reach), 0.0, None
        )
        if within.sum() > 0.0:
            arc += within / within.sum() * bent * turn
            radius = np.where(within > 0.0, np.minimum(radius, bent), radius)
    return arc, radius


def _leg_names(it: TurboLine, legs: int, fitted: bool) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Return the legs' names as in a sentence, and in a drawing's few words."""
    names = [tr("the flange stub"), *(tr("hose stretch {number}").format(number=k) for k in range(1, legs))]
    if fitted:
        names[-1], last = tr("the entry fitting"), tr("entry fitting")
    elif it.drain_by == "scavenge":
        names[-1], last = tr("the hose into the pot"), tr("hose into the pot")
    else:
        names[-1], last = tr("the hose into the tee"), tr("hose into the tee")
    return tuple(names), (tr("flange stub"), *([tr("hose")] * (legs - 2)), last)
