"""The feed as a series network: tap, line, restrictor, bearing with its heat. One root per point."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.errors import SolverError
from gravidon.physics import bearing, line, restrictor
from gravidon.physics import oil as oils
from gravidon.physics.arrays import Array
from gravidon.physics.rootfind import solve_falling


@dataclass(frozen=True)
class Feed:
    """Everything between the tap and the housing. Arrays broadcast (bore × condition, say).

    Args:
        oil: the oil.
        tap_pressure_pa: pressure at the tap [Pa gauge].
        temperature_k: oil temperature at the tap [K].
        heat_w: heat the oil takes up in the housing [W].
        line_bore_m: hose bore [m].
        line_length_m: hose length [m].
        line_k1: sum of the fittings' Hooper K1 [-].
        line_k_infinity: sum of the fittings' Hooper K∞ [-].
        restrictor_bore_m: restrictor bore [m]; None leaves it out.
        restrictor_length_m: restrictor length [m].
        reference: the bearing's known point.
        housing_pressure_pa: pressure inside the housing [Pa gauge].
    """

    oil: oils.Oil
    tap_pressure_pa: ArrayLike
    temperature_k: ArrayLike
    heat_w: ArrayLike
    line_bore_m: ArrayLike
    line_length_m: ArrayLike
    line_k1: ArrayLike
    line_k_infinity: ArrayLike
    restrictor_bore_m: ArrayLike | None
    restrictor_length_m: ArrayLike
    reference: bearing.BearingReference
    housing_pressure_pa: ArrayLike = 0.0


@dataclass(frozen=True)
class FeedResult:
    """The solved feed; every array has the feed's broadcast shape.

    Fields: flow [m³/s], inlet pressure [Pa gauge], the three drops [Pa], oil outlet and film
    temperature [K], residual of the pressure balance [Pa], evaluations used.
    """

    flow_m3_s: Array
    inlet_pressure_pa: Array
    line_drop_pa: Array
    restrictor_drop_pa: Array
    bearing_drop_pa: Array
    outlet_temperature_k: Array
    film_temperature_k: Array
    residual_pa: Array
    iterations: int


def solve_feed(feed: Feed) -> FeedResult:
    """Return flow, pressures and temperatures of the feed in every operating point.

    Equation: p_tap - p_housing = drop_line(Q) + drop_restrictor(Q) + drop_bearing(Q, T_film),
    T_film = T + dT/2, T_out = T + dT, dT = H/(rho Q c).

    Args:
        feed: the feed, arrays broadcasting over operating points.

    Raises: SolverError if the balance cannot be closed; PhysicsError for absurd inputs.
    Source: steady series network; the elements name their own sources.
    """
    t = np.asarray(feed.temperature_k, dtype=np.float64)
    rho = oils.density(feed.oil, t)
    mu = oils.dynamic_viscosity(feed.oil, t)
    capacity = oils.heat_capacity(feed.oil, t)
    heat = np.asarray(feed.heat_w, dtype=np.float64)
    head = np.asarray(feed.tap_pressure_pa, dtype=np.float64) - np.asarray(feed.housing_pressure_pa)
    head = np.maximum(head, 0.0)
    if feed.restrictor_bore_m is None:
        c1, c2 = np.zeros(()), np.zeros(())
    else:
        c1, c2 = restrictor.loss_coefficients(feed.restrictor_bore_m, feed.restrictor_length_m, rho, mu)

    def drops(q: Array) -> tuple[Array, Array, Array, Array]:
        rise = bearing.temperature_rise(heat, q, rho, capacity)
        film = np.minimum(t + 0.5 * rise, 700.0)
        film_mu = oils.kinematic_viscosity(feed.oil, film) * rho
        in_line = line.line_drop(
            q, feed.line_bore_m, feed.line_length_m, rho, mu, feed.line_k1, feed.line_k_infinity
        )
        in_bearing = bearing.bearing_drop(q, film_mu, rho, feed.reference)
        return in_line, (c1 + c2 * q) * q, in_bearing, rise

    ref = feed.reference
    passages = np.asarray(ref.drop_pa) * (1.0 - np.asarray(ref.film_share)) * rho / ref.density_kg_m3
    high = np.asarray(ref.flow_m3_s) * np.sqrt(head / passages)
    if feed.restrictor_bore_m is not None:
        high = np.minimum(high, 2.0 * head / np.maximum(c1 + np.sqrt(c1 * c1 + 4.0 * c2 * head), 1e-300))
    shape = np.broadcast_shapes(
        high.shape,
        np.shape(feed.line_bore_m),
        np.shape(feed.line_length_m),
        heat.shape,
        np.shape(feed.line_k1),
        np.shape(feed.line_k_infinity),
    )
    high = np.ascontiguousarray(np.broadcast_to(high, shape))
    scale = np.broadcast_to(np.maximum(head, 1.0), shape)

    def balance(q: Array) -> Array:
        in_line, in_restrictor, in_bearing, _ = drops(q)
        result: Array = head - in_line - in_restrictor - in_bearing
        return result

    root = solve_falling(balance, np.zeros(shape), high, scale)
    if not root.converged:
        raise SolverError("the feed's pressure balance did not close; check the feed line's values")
    in_line, in_restrictor, in_bearing, rise = drops(root.value)
    return FeedResult(
        flow_m3_s=root.value,
        inlet_pressure_pa=np.asarray(feed.housing_pressure_pa) + in_bearing,
        line_drop_pa=in_line,
        restrictor_drop_pa=np.broadcast_to(in_restrictor, shape),
        bearing_drop_pa=in_bearing,
        outlet_temperature_k=np.broadcast_to(t, shape) + rise,
        film_temperature_k=np.broadcast_to(t, shape) + 0.5 * rise,
        residual_pa=root.residual,
        iterations=root.iterations,
    )
