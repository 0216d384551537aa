# SPDX-License-Identifier: GPL-3.0-or-later
"""The feed as a series network: tap, line, restrictor, bearing with its heat. One root per point."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.errors import SolverError
from gravidon.physics import bearing, line, restrictor
from gravidon.physics import oil as oils
from gravidon.physics.arrays import Array
from gravidon.physics.rootfind import solve_falling


@dataclass(frozen=True)
class Pipe:
    """Hose or tube of one bore with its fittings.

    Args:
        bore_m: bore [m].
        length_m: length [m].
        k1: sum of the fittings' Hooper K1 [-].
        k_infinity: sum of the fittings' Hooper K∞ [-].
    """

    bore_m: ArrayLike
    length_m: ArrayLike
    k1: ArrayLike = 0.0
    k_infinity: ArrayLike = 0.0


@dataclass(frozen=True)
class Hole:
    """A restrictor: bore [m] and length [m]."""

    bore_m: ArrayLike
    length_m: ArrayLike


@dataclass(frozen=True)
class Screen:
    """An in-line screen by its rating, partly clogged.

    Args:
        rated_drop_pa: drop at the rated flow and viscosity, clean [Pa].
        rated_flow_m3_s: rated flow [m³/s].
        rated_viscosity_pa_s: rated viscosity [Pa·s].
        clogged: share of the mesh that is closed [-], below 1.
    """

    rated_drop_pa: ArrayLike
    rated_flow_m3_s: ArrayLike
    rated_viscosity_pa_s: float
    clogged: ArrayLike = 0.0


def screen_drop(flow_m3_s: ArrayLike, viscosity_pa_s: ArrayLike, screen: Screen) -> Array:
    """Return the pressure drop [Pa] over a screen, broadcast shape.

    Equation: dp = dp_rated (mu/mu_rated)(Q/Q_rated) / (1 - clogged).

    Args:
        flow_m3_s: flow [m³/s].
        viscosity_pa_s: dynamic viscosity [Pa·s].
        screen: the screen.

    Raises: nothing.
    Valid: creeping flow through a fine mesh (Darcy); a closed share takes its share of the area.
    Source: Darcy's law for a porous layer.

    >>> float(screen_drop(2e-5, 0.012, Screen(1000.0, 4e-5, 0.012, 0.5)))
    1000.0
    """
    open_share = np.maximum(1.0 - np.asarray(screen.clogged, dtype=np.float64), 1e-3)
    result: Array = (
        np.asarray(screen.rated_drop_pa)
        * (np.asarray(viscosity_pa_s) / screen.rated_viscosity_pa_s)
        * (np.asarray(flow_m3_s) / np.asarray(screen.rated_flow_m3_s))
        / open_share
    )
    return result


@dataclass(frozen=True)
class Feed:
    """Everything between the tap (or tee) and the housing. Arrays broadcast (bore × condition, say).

    Args:
        oil: the oil.
        tap_pressure_pa: pressure at the upper end [Pa gauge].
        temperature_k: oil temperature there [K].
        heat_w: heat the oil takes up in the housing [W].
        pipes: hoses with their fittings, in any order.
        holes: restrictors in series; none leaves them out.
        screen: in-line screen, or None.
        reference: the bearing's known point.
        housing_pressure_pa: pressure inside the housing [Pa gauge].
        metal_w_k: heat capacity of the housing over the time since a cold start [W/K]; 0 once it is warm.
    """

    oil: oils.Oil
    tap_pressure_pa: ArrayLike
    temperature_k: ArrayLike
    heat_w: ArrayLike
    pipes: tuple[Pipe, ...]
    holes: tuple[Hole, ...]
    screen: Screen | None
    reference: bearing.BearingReference
    housing_pressure_pa: ArrayLike = 0.0
    metal_w_k: ArrayLike = 0.0


@dataclass(frozen=True)
class FeedResult:
    """The solved feed; every array has the feed's broadcast shape.

    Fields: flow [m³/s], inlet pressure [Pa gauge], the four drops [Pa], oil outlet and film
    temperature [K], residual of the pressure balance [Pa], evaluations used.
    """

    flow_m3_s: Array
    inlet_pressure_pa: Array
    line_drop_pa: Array
    screen_drop_pa: Array
    restrictor_drop_pa: Array
    bearing_drop_pa: Array
    outlet_temperature_k: Array
    residual_pa: Array
    iterations: int


@dataclass(frozen=True)
class Losses:
    """Where the pressure goes at a flow [Pa], and the oil's temperature rise [K]."""

    pipes_pa: Array
    screen_pa: Array
    holes_pa: Array
    bearing_pa: Array
    rise_k: Array

    @property
    def total_pa(self) -> Array:
        """All drops together [Pa]."""
        return self.pipes_pa + self.screen_pa + self.holes_pa + self.bearing_pa


class Chain:
    """A feed made ready: everything that does not change with the flow worked out once."""

    def __init__(self, feed: Feed) -> None:
        self.feed = feed
        self.t = np.asarray(feed.temperature_k, dtype=np.float64)
        self.rho = oils.density(feed.oil, self.t)
        self.mu = oils.dynamic_viscosity(feed.oil, self.t)
        self.capacity = oils.heat_capacity(feed.oil, self.t)
        self.growth = oils.capacity_growth(self.t)
        self.heat = np.asarray(feed.heat_w, dtype=np.float64)
        self.c1, self.c2 = np.zeros(()), np.zeros(())
        for hole in feed.holes:
            c1, c2 = restrictor.loss_coefficients(hole.bore_m, hole.length_m, self.rho, self.mu)
            self.c1, self.c2 = self.c1 + c1, self.c2 + c2

    def losses(self, q: Array) -> Losses:
        """Return every drop at a flow [m³/s]."""
        feed = self.feed
        rise = bearing.temperature_rise(
            self.heat, q, self.rho, self.capacity, self.growth, self.feed.metal_w_k
        )
        film = np.minimum(self.t + 0.5 * rise, 700.0)
        film_mu = oils.kinematic_viscosity(feed.oil, film) * self.rho
        in_pipes = np.zeros_like(q)
        for pipe in feed.pipes:
            in_pipes = in_pipes + line.line_drop(
                q, pipe.bore_m, pipe.length_m, self.rho, self.mu, pipe.k1, pipe.k_infinity
            )
        in_screen = np.zeros_like(q) if feed.screen is None else screen_drop(q, self.mu, feed.screen)
        in_bearing = bearing.bearing_drop(q, film_mu, self.rho, feed.reference)
        return Losses(in_pipes, in_screen, (self.c1 + self.c2 * q) * q, in_bearing, rise)

    def most_flow(self, head_pa: Array) -> Array:
        """Return a flow [m³/s] that the head [Pa] cannot exceed: passages alone, holes alone."""
        ref = self.feed.reference
        passages = np.asarray(ref.drop_pa) * (1.0 - np.asarray(ref.film_share)) * self.rho / ref.density_kg_m3
        high: Array = np.asarray(ref.flow_m3_s) * np.sqrt(head_pa / passages)
        if self.feed.holes:
            root = np.sqrt(self.c1 * self.c1 + 4.0 * self.c2 * head_pa)
            high = np.minimum(high, 2.0 * head_pa / np.maximum(self.c1 + root, 1e-300))
        return high

    def result(self, q: Array, residual_pa: Array, iterations: int) -> FeedResult:
        """Return the whole answer at the flow found."""
        lost = self.losses(q)
        warm = np.broadcast_to(self.t, q.shape)
        return FeedResult(
            flow_m3_s=q,
            inlet_pressure_pa=np.asarray(self.feed.housing_pressure_pa) + lost.bearing_pa,
            line_drop_pa=lost.pipes_pa,
            screen_drop_pa=lost.screen_pa,
            restrictor_drop_pa=np.broadcast_to(lost.holes_pa, q.shape),
            bearing_drop_pa=lost.bearing_pa,
            outlet_temperature_k=warm + lost.rise_k,
            residual_pa=residual_pa,
            iterations=iterations,
        )


def solve_feed(
    feed: Feed, offered: Callable[[Array], Array] | None = None, tolerance: float = 1e-7
) -> FeedResult:
    """Return flow, pressures and temperatures of the feed in every operating point.

    Equation: p_tap - p_housing = drop_pipes(Q) + drop_screen(Q) + drop_holes(Q) + drop_bearing(Q, T_film),
    T_film = T + dT/2, T_out = T + dT, dT from `bearing.temperature_rise`.

    Args:
        feed: the feed, arrays broadcasting over operating points.
        offered: pressure at the upper end [Pa gauge] against the flow drawn [m³/s], never rising;
            it replaces the feed's own pressure, which is then what is offered at no flow.
        tolerance: relative residual of the pressure balance [-].

    Raises: SolverError if the balance cannot be closed; PhysicsError for absurd inputs.
    Source: steady series network; the elements name their own sources.
    """
    chain = Chain(feed)
    housing = np.asarray(feed.housing_pressure_pa, dtype=np.float64)
    head = np.maximum(np.asarray(feed.tap_pressure_pa, dtype=np.float64) - housing, 0.0)
    high = chain.most_flow(head)
    shape = np.broadcast_shapes(
        high.shape,
        chain.heat.shape,
        *(np.shape(v) for pipe in feed.pipes for v in (pipe.bore_m, pipe.length_m, pipe.k1, pipe.k_infinity)),
        np.shape(feed.screen.clogged) if feed.screen is not None else (),
    )
    high = np.ascontiguousarray(np.broadcast_to(high, shape))
    scale = np.broadcast_to(np.maximum(head, 1.0), shape)

    def balance(q: Array) -> Array:
        there = head if offered is None else offered(q) - housing
        result: Array = there - chain.losses(q).total_pa
        return result

    root = solve_falling(balance, np.zeros(shape), high, scale, tolerance)
    if not root.converged:
        raise SolverError("the feed's pressure balance did not close; check the feed line's values")
    return chain.result(root.value, root.residual, root.iterations)
