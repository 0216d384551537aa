# SPDX-License-Identifier: GPL-3.0-or-later
"""What a reading should show for a state of the feed: the physics as a measurement model.

State of the feed, all of it relative to the plan: `gallery`, the logarithm of the gallery's pressure without relief over the plan's; `closing`, a resistance
in series before the gauge, in units of UNIT; `passage`, the logarithm of what the holes and the bearing let through over the plan's; `zero`, what the
inlet sender, and `gallery_zero`, what the gallery sender adds [Pa].
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from gravidon.physics import source
from gravidon.physics.arrays import Array
from gravidon.physics.feed import Chain, Pipe
from gravidon.physics.line import line_drop
from gravidon.physics.rootfind import solve_falling
from gravidon.plan.fields import si
from gravidon.plan.model import Plan
from gravidon.records.entry import Reading
from gravidon.study.car.season import UNIT_DROP_PA, UNIT_FLOW_M3_S, UNIT_VISCOSITY
from gravidon.study.solve import assemble
from gravidon.study.solve.at_points import Points, heat_at, metal_at, pressure_side

STATES = ("gallery", "closing", "passage", "zero", "gallery_zero")
"""The state, in order."""


@dataclass(frozen=True, eq=False)
class FeedModel:
    """One turbo's feed, ready to be asked at some readings. Arrays (readings,): speed [rpm], oil temperature [K], viscosity-scaled speed, what the pump delivers
    [m³/s] (None: not known) and what other turbos draw [m³/s]; and the gallery's law, and the pipes that all turbos share."""

    plan: Plan
    turbo: int
    rpm: Array
    oil_k: Array
    chain: Chain
    fit: source.SourceFit
    scaled: Array
    pumped_m3_s: Array | None
    others_m3_s: Array
    trunk: tuple[Pipe, ...]

    def shown(self, state: Array) -> Array:
        """Return what gauges show for states, (2, ..., readings): gallery and inlet [Pa gauge].

        Args:
            state: (5, ..., readings), in the order of STATES.

        Raises: GravidonError if the balance cannot be closed.
        """
        gallery, closing, passage, zero, gallery_zero = state
        q = self._flow(gallery, closing, passage)
        at_gallery = self._gallery(gallery, q)
        port = np.maximum(self._tap(at_gallery) - self._before(q, closing), 0.0)
        return np.stack([at_gallery + gallery_zero, port + zero])

    def flow(self, state: Array) -> Array:
        """Return the flow through the bearing [m³/s] for states, (..., readings)."""
        return self._flow(*state[:3])

    def bearing(self, state: Array) -> Array:
        """Return the pressure behind the holes [Pa gauge] for states, (..., readings)."""
        return self.chain.losses(self.flow(state) / np.exp(state[2])).bearing_pa

    def _gallery(self, strength: Array, q: Array) -> Array:
        """Return the gallery's pressure [Pa gauge] while so much is drawn; the draw is felt where the pump's delivery is known."""
        x = self.scaled * (1.0 + 0.0 * q)
        if self.pumped_m3_s is not None:
            x = self.scaled * np.clip(
                1.0 - (q + self.others_m3_s) / np.maximum(self.pumped_m3_s, 1e-12), 0.0, 1.0
            )
        made: Array = source.relieved(
            source.unrelieved_pressure(self.fit, x) * np.exp(strength), self.fit.relief_pa
        )
        return np.where(self.rpm > 0.0, made, 0.0)

    def _tap(self, at_gallery: Array) -> Array:
        offset = si(self.plan.taps[self.plan.tap], "offset_kpa")
        return np.where(at_gallery > 0.0, np.maximum(at_gallery + offset, 0.0), 0.0)

    def _before(self, q: Array, closing: Array) -> Array:
        """Return the drop before the gauge [Pa]: line, screen and what closes."""
        lost = self.chain.losses(q)
        shared = np.zeros_like(q)
        for pipe in self.trunk:
            shared = shared + line_drop(
                q + self.others_m3_s,
                pipe.bore_m,
                pipe.length_m,
                self.chain.rho,
                self.chain.mu,
                pipe.k1,
                pipe.k_infinity,
            )
        own: Array = closing * UNIT_DROP_PA * (q / UNIT_FLOW_M3_S) * (self.chain.mu / UNIT_VISCOSITY)
        return shared + lost.pipes_pa + lost.screen_pa + own

    def _flow(self, strength: Array, closing: Array, passage: Array) -> Array:
        """Return the flow that closes the balance [m³/s]: the holes and the bearing take what their passage makes of it."""
        wide = np.exp(passage)
        shape = np.broadcast_shapes(strength.shape, closing.shape, passage.shape)
        most = self._tap(self._gallery(strength, np.zeros(shape)))
        high = np.array(np.broadcast_to(self.chain.most_flow(np.maximum(most, 0.0)) * wide, shape))

        def balance(q: Array) -> Array:
            after = self.chain.losses(q / wide)
            there = self._tap(self._gallery(strength, q))
            result: Array = there - self._before(q, closing) - after.holes_pa - after.bearing_pa
            return result

        scale = np.broadcast_to(np.maximum(most, 1.0), shape)
        return solve_falling(balance, np.zeros(shape), high, scale, 1e-6).value


def feed_model(plan: Plan, turbo: int, readings: Sequence[Reading]) -> FeedModel:
    """Return the model of one turbo's feed at some readings.

    Valid: what other turbos draw is as planned.
    """
    rpm = np.array([r.rpm for r in readings])
    oil_k = np.array([r.oil_k for r in readings])
    it = plan.turbos[turbo]
    points = Points(rpm, oil_k)
    feed = replace(
        assemble.branch(plan, it, it.feed.pieces),
        temperature_k=oil_k,
        metal_w_k=metal_at(plan, it, points),
        heat_w=heat_at(plan, it, points),
    )
    pump = si(plan.engine, "pump_cc_rev")
    others = np.zeros(len(rpm))
    if len(plan.turbos) > 1:
        side = pressure_side(plan, points)
        others = sum((b.flow_m3_s for k, b in enumerate(side.branches) if k != turbo), others)
    chain = Chain(feed)
    return FeedModel(
        plan,
        turbo,
        rpm,
        oil_k,
        chain,
        assemble.source_fit(plan),
        source.scaled_speed(rpm / 60.0, chain.mu),
        pump * rpm / 60.0 if pump > assemble.LEAST_PUMP_M3_REV else None,
        others,
        assemble.pipes_of(plan.trunk),
    )
