# SPDX-License-Identifier: GPL-3.0-or-later
"""The drain run looked over: slope of every leg, dips, bends too tight, and what the hose comes near to."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from gravidon.parts.dash import HOSE_OUTSIDE_MM, dash_of_bore
from gravidon.physics import attitude, hose
from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.model import Plan, Shape, TurboLine
from gravidon.study.solve.assemble import box_of, level_up
from gravidon.study.solve.evaluate import Evaluation

SHORT_M = 0.040
"""[m] below which a stretch is a part of a bend, not a slope to judge; project choice."""
WALL_M = 0.003
"""[m] a hose's wall where its dash size is not known; from memory."""


@dataclass(frozen=True)
class LegReview:
    """One leg: name, whether it is hose, length and smallest bore [m], angle off upright [rad].

    Then per state: sine of its fall as the oil feels it, deepest fill [-] and whether it runs full.
    """

    name: str
    is_hose: bool
    length_m: float
    bore_m: float
    off_upright_rad: float
    falls: Array
    fill: Array
    full: np.ndarray


@dataclass(frozen=True)
class Nearness:
    """A thing beside the hose: gap to the hose's outside [m] (negative: through it), the room it needs, and where."""

    shape: Shape
    gap_m: float
    need_m: float
    station: int


@dataclass(frozen=True)
class RunReview:
    """The whole run. Dips per state [m] with the station where oil stays lying; bends as (number, radius [m])."""

    legs: tuple[LegReview, ...]
    dip_m: Array
    dip_station: np.ndarray
    bends: tuple[tuple[int, float], ...]
    near: tuple[Nearness, ...]

    @property
    def flattest(self) -> LegReview | None:
        """The hose stretch furthest off upright, short pieces left out."""
        judged = [leg for leg in self.legs if leg.is_hose and leg.length_m >= SHORT_M]
        return max(judged, key=lambda leg: leg.off_upright_rad, default=None)


def hose_outside_m(it: TurboLine) -> float:
    """Return the outside diameter [m] of a drain hose."""
    known = HOSE_OUTSIDE_MM.get(dash_of_bore(it.drain.hose_bore_mm) or 0)
    return known * 1e-3 if known else si(it.drain, "hose_bore_mm") + 2.0 * WALL_M


def dips(up: Array, stations_m: Array) -> tuple[Array, np.ndarray]:
    """Return how deep [m] oil stays lying along a run in each state, (states,), and at which station.

    A station lies in a dip when something further down the run stands higher: max over i of
    (highest of what follows - height of i).
    """
    h = attitude.height(up, stations_m)
    highest_after = np.maximum.accumulate(h[::-1], axis=0)[::-1]
    depth = highest_after - h
    where = depth.argmax(axis=0)
    return depth[where, np.arange(h.shape[1])], where


@lru_cache(maxsize=16)
def review(e: Evaluation) -> RunReview:
    """Return the evaluation's drain run looked over."""
    r, water, level = e.route, e.drainage.backwater, level_up(e.plan)
    legs = []
    for k in range(r.legs):
        step = r.corners_m[k] - r.corners_m[k + 1]
        length = max(float(np.linalg.norm(step)), 1e-9)
        own = np.flatnonzero(r.leg == k)
        stations = np.arange(own[0], own[-1] + 2)
        is_hose = 0 < k < r.legs - (1 if r.ends_in_fitting else 0)
        legs.append(
            LegReview(
                r.leg_names[k],
                is_hose,
                length,
                float(r.bore_m[own].min()),
                float(np.arccos(np.clip(level @ step / length, -1.0, 1.0))),
                e.drainage.up @ step / length,
                water.fill[stations].max(axis=0),
                np.asarray(water.full[stations].any(axis=0)),
            )
        )
    dip, where = dips(e.drainage.up, r.stations_m)
    radii = hose.bend_radii(r.hose_corners_m) if len(r.hose_corners_m) > 2 else np.zeros(0)
    bends = tuple((k + 1, float(v)) for k, v in enumerate(radii))
    return RunReview(tuple(legs), dip, where, bends, nearness(e))


def room_needed_m(plan: Plan, shape: Shape, sleeved: bool = False) -> float:
    """Return how far [m] a hose, bare or sleeved, must stay off a thing by its kind; 0 where it must only not touch."""
    need, share = shape.thing.need, shape.thing.sleeved_share if sleeved else 1.0
    return share * si(plan.needs, need) if need else 0.0


def nearness(e: Evaluation) -> tuple[Nearness, ...]:
    """Return how near the drain comes to every shape outside the pan, nearest (over its need) first."""
    found = []
    half = 0.5 * hose_outside_m(e.line)
    for shape in e.plan.shapes:
        if shape.thing.inside:
            continue
        need = room_needed_m(e.plan, shape, e.line.drain.sleeved)
        low, high = box_of(shape)
        gaps = hose.distance_to_box(e.route.stations_m, low, high) - half
        k = int(gaps.argmin())
        found.append(Nearness(shape, float(gaps[k]), need, k))
    return tuple(sorted(found, key=lambda n: n.gap_m - n.need_m))
