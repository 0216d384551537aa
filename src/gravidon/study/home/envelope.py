# SPDX-License-Identifier: GPL-3.0-or-later
"""The stability envelope: how many g in each direction the drain survives for good, and what fails first."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from gravidon.physics.arrays import Array, Flags
from gravidon.study.solve import assemble
from gravidon.study.solve.drain_route import Route, fitting_axis, route
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.gravity import MOST_LEAN_SHARE, Drainage, Standing, Stream, gravity_sides, pan_level
from gravidon.words.text import tr

DIRECTIONS = 72
MOST_G = 1.4
"""[g] searched up to; more than a car on road tyres does."""
SCAN = (0.2, 0.45, 0.75, 1.05, MOST_G)
"""[g] levels looked at before bisection, so that a limit that comes and goes is still met first."""
HALVINGS = 5
PIECES = 26
LEAST_UPRIGHT = 1.1 * MOST_LEAN_SHARE
"""[-] upright share of effective gravity below which nothing is asked: a tenth inside what the level is computed for."""
CAUSES = (tr("a stretch runs uphill"), tr("the entry goes under"), tr("a seal is reached"))
"""What fails, in the order of `Envelope.limit_g`."""


@dataclass(frozen=True)
class Envelope:
    """Direction of acceleration [rad from forward, positive to the left] (directions,), and per cause the largest
    sustained acceleration [g] (causes, directions); inf where even `MOST_G` does no harm. `first` is the cause
    that comes first, -1 for none; `base` the condition whose oil runs."""

    base: int
    angle_rad: Array
    limit_g: Array

    @property
    def least_g(self) -> Array:
        """The first limit in each direction [g]; inf for none up to MOST_G."""
        return np.asarray(self.limit_g.min(axis=0))

    @property
    def first(self) -> np.ndarray:
        """Which cause comes first in each direction, -1 for none."""
        return np.where(np.isfinite(self.least_g), self.limit_g.argmin(axis=0), -1)


def standing_at(
    e: Evaluation, base: int, forward_g: Array, left_g: Array, seconds: float = np.inf
) -> Standing:
    """Return states of the car that accelerate as given and are otherwise as one of the plan's conditions."""
    c = e.plan.conditions[base]
    tilt = np.radians([c.nose_up_deg, c.left_side_up_deg])
    up, g = assemble.felt_up(e.plan, forward_g, left_g, tilt[0], tilt[1])
    n = np.ones(len(up))
    return Standing(
        up=up,
        gravity_m_s2=g,
        pan_oil_m3=n * float(assemble.pan_oil_m3(e.plan)[base]),
        turning=np.full(len(up), c.rpm > 0),
        air=n * c.air_fraction,
        crankcase_pa=n * float(e.breathing.crankcase_pa[base]),
        wheel_side_pa=n * float(assemble.column(e.plan, "wheel_side_kpa")[base]),
        seconds=n * seconds,
    )


def _streams(e: Evaluation, base: int, count: int) -> list[Stream]:
    made = []
    for lens in e.all:
        one = Stream(
            np.full(count, lens.feed.flow_m3_s[base]), np.full(count, lens.feed.outlet_temperature_k[base])
        )
        if lens.line.drain_by == "scavenge":
            pumped = float(lens.scavenging.delivery_m3_s[base])
            one = replace(one, pumped_m3_s=np.full(count, pumped))
        made.append(one)
    return made


def drained_at(e: Evaluation, base: int, forward_g: Array, left_g: Array) -> tuple[Drainage, ...]:
    """Return every turbo's gravity side under given accelerations, oil and flow as in one of the conditions."""
    stand = standing_at(e, base, forward_g, left_g)
    return gravity_sides(e.plan, stand, _streams(e, base, len(forward_g)), _routes(e))


@lru_cache(maxsize=4)
def _routes(e: Evaluation) -> list[Route]:
    """Return every turbo's drain cut a little coarser than for the plan itself."""
    return [route(e.plan, it, PIECES) for it in e.plan.turbos]


def envelope(e: Evaluation, base: int, directions: int = DIRECTIONS) -> Envelope:
    """Return the envelope of the evaluation's turbo with the oil and flow of one condition."""
    angle = np.arange(directions) * 2.0 * np.pi / directions
    ahead, left = np.cos(angle), np.sin(angle)

    def broken(g: Array, asked: Flags) -> Flags:
        """Which causes hold at g, (causes, directions); only where asked."""
        out = np.zeros(g.shape, dtype=bool)
        for k, test in enumerate(TESTS):
            rows = np.flatnonzero(asked[k])
            beyond = (
                standing_at(e, base, g[k, rows] * ahead[rows], g[k, rows] * left[rows]).up[:, 2]
                < LEAST_UPRIGHT
            )
            out[k, rows[beyond]] = True  # the oil lies on its side: past what the sump's plane is known for
            rows = rows[~beyond]
            if len(rows):
                out[k, rows] = test(e, base, g[k, rows] * ahead[rows], g[k, rows] * left[rows])
        return out

    shape = (len(CAUSES), directions)
    low, high = np.zeros(shape), np.full(shape, np.inf)
    for g in (1e-6, *SCAN):
        waiting = ~np.isfinite(high)
        if not waiting.any():
            break
        hit = broken(np.full(shape, g), waiting)
        high[hit] = g
        low = np.where(waiting & ~hit, g, low)
    settled = ~np.isfinite(high) | (high <= 1e-6)
    for _ in range(HALVINGS):
        middle = np.where(settled, 0.0, 0.5 * (low + np.where(settled, 0.0, high)))
        hit = broken(middle, ~settled)
        high = np.where(~settled & hit, middle, high)
        low = np.where(~settled & ~hit, middle, low)
    limit = np.where(settled, np.where(np.isfinite(high), 0.0, np.inf), 0.5 * (low + high))
    return Envelope(base, angle, limit)


def _climbs(e: Evaluation, base: int, forward_g: Array, left_g: Array) -> Flags:
    """Whether any leg that falls on level ground climbs."""
    up = standing_at(e, base, forward_g, left_g).up
    corners = e.route.corners_m
    steps = corners[:-1] - corners[1:]
    return np.asarray(((up @ steps.T) < 0.0)[:, 1:].any(axis=1))


def _drowns(e: Evaluation, base: int, forward_g: Array, left_g: Array) -> Flags:
    """Whether the pan's oil stands over the entry's crown."""
    if not e.route.ends_in_fitting:
        return np.zeros(len(forward_g), dtype=bool)
    stand = standing_at(e, base, forward_g, left_g)
    entry = e.route.corners_m[-1]
    sine = stand.up @ fitting_axis(e.line)
    half = 0.5 * e.route.bore_m[-1] * np.sqrt(np.maximum(1.0 - sine**2, 0.0))
    return np.asarray(pan_level(e.plan, stand, entry) > stand.up @ entry + half)


def _reached(e: Evaluation, base: int, forward_g: Array, left_g: Array) -> Flags:
    """Whether oil would stand at a seal in the long run."""
    return np.asarray(drained_at(e, base, forward_g, left_g)[e.index].freeboard_m < 0.0)


TESTS = (_climbs, _drowns, _reached)
"""One test per cause, in the order of CAUSES."""


@dataclass(frozen=True)
class Spot:
    """One acceleration looked at: freeboard [m], oil over the entry [m], seconds until a seal wets (inf: never)."""

    forward_g: float
    left_g: float
    freeboard_m: float
    over_entry_m: float
    seconds: float


def look_at(e: Evaluation, base: int, forward_g: float, left_g: float) -> Spot:
    """Return what becomes of the drain under one acceleration."""
    ahead, left = np.array([forward_g]), np.array([left_g])
    if standing_at(e, base, ahead, left).up[0, 2] < LEAST_UPRIGHT:
        return Spot(forward_g, left_g, float("nan"), float("nan"), float("nan"))
    d = drained_at(e, base, ahead, left)[e.index]
    return Spot(
        forward_g, left_g, float(d.freeboard_m[0]), float(d.submergence_m[0]), float(d.time_to_wet_s[0])
    )
