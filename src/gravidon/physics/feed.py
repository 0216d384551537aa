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
    film_temperature_k: Array
    residual_pa: Array
    iterations: int


def solve_feed(
    feed: Feed, offered: Callable[[Array], Array] | None = None, tolerance: float = 1e-7
) -> FeedResult:
    """Return flow, pressures and temperatures of the feed in every operating point.

    Equation: p_tap - p_housing = drop_pipes(Q) + drop_screen(Q) + drop_holes(Q) + drop_bearing(Q, T_film),
    T_film = T + dT/2, T_out = T + dT, dT = H/(rho Q c).

    Args:
        feed: the feed, arrays broadcasting over operating points.
        offered: pressure at the upper end [Pa gauge] against the flow drawn [m³/s], never rising;
            it replaces the feed's own pressure, which is then what is offered at no flow.
        tolerance: relative residual of the pressure balance [-].

    Raises: SolverError if the balance cannot be closed; PhysicsError for absurd inputs.
    Source: steady series network; the elements name their own sources.
    """
    t = np.asarray(feed.temperature_k, dtype=np.float64)
    rho = oils.density(feed.oil, t)
    mu = oils.dynamic_viscosity(feed.oil, t)
    capacity = oils.heat_capacity(feed.oil, t)
    heat = np.asarray(feed.heat_w, dtype=np.float64)
    housing = np.asarray(feed.housing_pressure_pa, dtype=np.float64)
    head = np.asarray(feed.tap_pressure_pa, dtype=np.float64) - housing
    head = np.maximum(head, 0.0)
    c1, c2 = np.zeros(()), np.zeros(())
    for hole in feed.holes:
        more1, more2 = restrictor.loss_coefficients(hole.bore_m, hole.length_m, rho, mu)
        c1, c2 = c1 + more1, c2 + more2

    def drops(q: Array) -> tuple[Array, Array, Array, Array, Array]:
        rise = bearing.temperature_rise(heat, q, rho, capacity)
        film = np.minimum(t + 0.5 * rise, 700.0)
        film_mu = oils.kinematic_viscosity(feed.oil, film) * rho
        in_pipes = np.zeros_like(q)
        for pipe in feed.pipes:
            in_pipes = in_pipes + line.line_drop(
                q, pipe.bore_m, pipe.length_m, rho, mu, pipe.k1, pipe.k_infinity
            )
        in_screen = np.zeros_like(q) if feed.screen is None else screen_drop(q, mu, feed.screen)
        in_bearing = bearing.bearing_drop(q, film_mu, rho, feed.reference)
        return in_pipes, in_screen, (c1 + c2 * q) * q, in_bearing, rise

    ref = feed.reference
    passages = np.asarray(ref.drop_pa) * (1.0 - np.asarray(ref.film_share)) * rho / ref.density_kg_m3
    high = np.asarray(ref.flow_m3_s) * np.sqrt(head / passages)
    if feed.holes:
        high = np.minimum(high, 2.0 * head / np.maximum(c1 + np.sqrt(c1 * c1 + 4.0 * c2 * head), 1e-300))
    shape = np.broadcast_shapes(
        high.shape,
        heat.shape,
        *(np.shape(v) for pipe in feed.pipes for v in (pipe.bore_m, pipe.length_m, pipe.k1, pipe.k_infinity)),
        np.shape(feed.screen.clogged) if feed.screen is not None else (),
    )
    high = np.ascontiguousarray(np.broadcast_to(high, shape))
    scale = np.broadcast_to(np.maximum(head, 1.0), shape)

    def balance(q: Array) -> Array:
        *lost, _ = drops(q)
        there = head if offered is None else offered(q) - housing
        result: Array = there - sum(lost)
        return result

    root = solve_falling(balance, np.zeros(shape), high, scale, tolerance)
    if not root.converged:
        raise SolverError("the feed's pressure balance did not close; check the feed line's values")
    in_pipes, in_screen, in_holes, in_bearing, rise = drops(root.value)
    return FeedResult(
        flow_m3_s=root.value,
        inlet_pressure_pa=np.asarray(feed.housing_pressure_pa) + in_bearing,
        line_drop_pa=in_pipes,
        screen_drop_pa=in_screen,
        restrictor_drop_pa=np.broadcast_to(in_holes, shape),
        bearing_drop_pa=in_bearing,
        outlet_temperature_k=np.broadcast_to(t, shape) + rise,
        film_temperature_k=np.broadcast_to(t, shape) + 0.5 * rise,
        residual_pa=root.residual,
        iterations=root.iterations,
    )
