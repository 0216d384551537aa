# SPDX-License-Identifier: GPL-3.0-or-later
"""The pressure side at any operating points: not the plan's conditions, but the speeds, temperatures and loads asked for."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields, replace

import numpy as np

from gravidon.parts import turbos
from gravidon.physics import oil as oils
from gravidon.physics import source
from gravidon.physics.arrays import Array
from gravidon.physics.feed import Feed, FeedResult
from gravidon.physics.network import solve_network
from gravidon.plan.fields import si
from gravidon.plan.model import Plan, TurboLine
from gravidon.study.solve import assemble

TOLERANCE = 1e-4
"""[-] of the tee's pressure: far below what a map or a gauge shows."""


@dataclass(frozen=True)
class Points:
    """Operating points; the arrays broadcast.

    Fields: engine speed [rpm], oil temperature [K]; load [-], or None: by speed, as the plan's conditions say; seconds since a cold
    start [s] (inf: warm), by which the cold metal still takes heat, or None: by the oil, see `metal_at`.
    """

    rpm: Array
    oil_k: Array
    load: Array | None = None
    since_cold_s: Array | float | None = None


@dataclass(frozen=True)
class PressureSide:
    """What the points answer, arrays of their broadcast shape: gallery and tap pressure [Pa gauge], and every turbo's feed."""

    gallery_pa: Array
    tap_pa: Array
    branches: tuple[FeedResult, ...]
    lines: tuple[TurboLine, ...]

    def gauge_pa(self, turbo: int) -> Array:
        """Return the pressure a gauge at a turbo's inlet port reads [Pa gauge]."""
        return assemble.gauge_pressure(self.lines[turbo], self.branches[turbo])

    def joined(self, more: Sequence[PressureSide]) -> PressureSide:
        """Return this one with others put after it, point after point."""
        if not more:
            return self
        every = (self, *more)
        branches = []
        for feeds in zip(*(s.branches for s in every), strict=True):
            arrays = (f.name for f in fields(FeedResult) if f.name != "iterations")
            joined = {name: np.concatenate([getattr(b, name) for b in feeds]) for name in arrays}
            branches.append(FeedResult(**joined, iterations=max(b.iterations for b in feeds)))
        return PressureSide(
            np.concatenate([s.gallery_pa for s in every]),
            np.concatenate([s.tap_pa for s in every]),
            tuple(branches),
            self.lines,
        )


def heat_at(plan: Plan, it: TurboLine, points: Points) -> Array:
    """Return the heat into a turbo's oil [W] at the points; none where the engine stands."""
    if points.load is None:
        heat = assemble.heat_over_speed(plan, it, points.rpm)
    else:
        t = it.turbo
        heat = 1e3 * turbos.heat_kw(t.bearing, t.frame, t.cooling, 1.0) * np.asarray(points.load)
        heat = heat * assemble.typed_heat_share(plan, it, np.asarray(points.load))
    result: Array = np.where(points.rpm > 0.0, heat, 0.0)
    return result


START_K, WARM_K = 293.15, 333.15
"""[K] of the oil at which a car of no cold condition starts, and from which the housing is as warm as its oil; common practice, no source."""


def metal_at(plan: Plan, it: TurboLine, points: Points) -> Array:
    """Return the heat capacity of a cold housing over the time since the start at the points [W/K]; 0 where it is warm.

    By the seconds since the start where they are known. Else by the oil: as cold as in the plan's cold starts (or colder), it is so
    long after one as they are judged; up to WARM_K the metal's share goes evenly to nothing.
    """
    capacity = assemble.metal_capacity(it)
    if points.since_cold_s is not None:
        return np.asarray(capacity / np.asarray(points.since_cold_s))
    cold = [
        (c.oil_temperature_c + 273.15, c.duration_s or assemble.COLD_S)
        for c in plan.conditions
        if c.kind.cold
    ]
    start_k, lasts = max(cold, default=(START_K, assemble.COLD_S))
    warm_k = max(WARM_K, start_k + 1.0)
    share = np.clip((warm_k - np.asarray(points.oil_k)) / (warm_k - start_k), 0.0, 1.0)
    result: Array = share * capacity / lasts
    return result


def pressure_side(
    plan: Plan,
    points: Points,
    fit: source.SourceFit | None = None,
    measured_gallery_pa: Array | None = None,
    altered: Callable[[int, Feed], Feed] | None = None,
    beside_m3_s: Array | float = 0.0,
    tolerance: float = TOLERANCE,
) -> PressureSide:
    """Return gallery pressure and every turbo's feed at the points.

    Args:
        plan: the plan.
        points: the points.
        fit: the gallery law; that of the plan's readings if None.
        measured_gallery_pa: gallery pressure where it was logged [Pa gauge]: it replaces the law.
        beside_m3_s: what else is drawn from the gallery [m³/s]: a leak; felt where the pump's delivery is known.
        altered: makes another feed of a turbo's (by its number): what wears or clogs along the points.
        tolerance: relative residual of the pressure balance [-].

    Raises: GravidonError if the balance cannot be closed.
    """
    law = fit or assemble.source_fit(plan)
    oil, offset = assemble.oil_of(plan), si(plan.taps[plan.tap], "offset_kpa")
    shape = np.broadcast_shapes(points.rpm.shape, points.oil_k.shape)
    t, n = np.broadcast_to(points.oil_k, shape), np.broadcast_to(points.rpm / 60.0, shape)
    rho, mu = oils.density(oil, t), oils.dynamic_viscosity(oil, t)
    pump = si(plan.engine, "pump_cc_rev")
    feels = pump > assemble.LEAST_PUMP_M3_REV and measured_gallery_pa is None

    def gallery(flow: Array) -> Array:
        if measured_gallery_pa is not None:
            made: Array = np.maximum(measured_gallery_pa, 0.0) + 0.0 * flow
        elif feels:
            made = source.gallery_pressure_drawn(law, n, rho, mu, pump, flow + beside_m3_s)
        else:
            made = source.gallery_pressure(law, n, rho, mu) + 0.0 * flow
        return np.where(n > 0.0, made, 0.0)

    def offered(flow: Array) -> Array:
        there = gallery(flow)
        result: Array = np.where(there > 0.0, np.maximum(there + offset, 0.0), 0.0)
        return result

    feeds = []
    for k, it in enumerate(plan.turbos):
        feed = replace(
            assemble.branch(plan, it, it.feed.pieces),
            metal_w_k=metal_at(plan, it, points),
            temperature_k=t,
            heat_w=np.broadcast_to(heat_at(plan, it, points), shape),
        )
        feeds.append(altered(k, feed) if altered is not None else feed)
    network = solve_network(offered, assemble.pipes_of(plan.trunk), tuple(feeds), feels, tolerance)
    drawn = sum((b.flow_m3_s for b in network.branches), np.zeros(shape))
    return PressureSide(gallery(drawn), network.tap_pressure_pa, network.branches, plan.turbos)
