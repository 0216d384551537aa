"""Several turbos on one tap: a trunk, a tee, a branch each, and an engine that feels the draw."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from gravidon.errors import SolverError
from gravidon.physics import line
from gravidon.physics import oil as oils
from gravidon.physics.arrays import Array
from gravidon.physics.feed import Feed, FeedResult, Pipe, solve_feed
from gravidon.physics.rootfind import solve_falling


@dataclass(frozen=True)
class NetworkResult:
    """The solved network: pressure at the tap and at the tee [Pa gauge], and each branch's result."""

    tap_pressure_pa: Array
    tee_pressure_pa: Array
    branches: tuple[FeedResult, ...]


def solve_network(
    offered: Callable[[Array], Array],
    trunk: tuple[Pipe, ...],
    branches: tuple[Feed, ...],
    feels_draw: bool,
    tolerance: float = 1e-5,
) -> NetworkResult:
    """Return pressures and flows of a trunk that feeds branches through a tee.

    Equation: p_tee = p_offered(sum Q) - drop_trunk(sum Q), Q_k the branch flow at p_tee; the right
    side falls with p_tee, so there is one root.

    Args:
        offered: tap pressure [Pa gauge] against the total flow drawn [m³/s], never rising.
        trunk: pipes between tap and tee; none puts the tee at the tap.
        branches: the feeds; their own tap pressure is not used.
        feels_draw: whether `offered` depends on the flow; if neither it nor a trunk does, the
            branches do not feel each other and are solved at once.
        tolerance: relative residual of the tee's pressure [-].

    Raises: SolverError if the balance cannot be closed.
    Source: continuity at the tee, steady series and parallel network.
    """
    first = branches[0]
    t = np.asarray(first.temperature_k, dtype=np.float64)
    rho, mu = oils.density(first.oil, t), oils.dynamic_viscosity(first.oil, t)

    def at(tee: Array) -> tuple[FeedResult, ...]:
        return tuple(
            solve_feed(replace(branch, tap_pressure_pa=tee), tolerance=0.1 * tolerance) for branch in branches
        )

    def trunk_drop(q: Array) -> Array:
        total = np.zeros_like(q)
        for pipe in trunk:
            total = total + line.line_drop(q, pipe.bore_m, pipe.length_m, rho, mu, pipe.k1, pipe.k_infinity)
        return total

    still = np.asarray(offered(np.zeros(t.shape)), dtype=np.float64)
    if len(branches) == 1:  # no tee: one chain, one unknown
        chain = replace(first, tap_pressure_pa=still, pipes=(*trunk, *first.pipes))
        only = solve_feed(chain, offered if feels_draw else None)
        tap = np.broadcast_to(offered(only.flow_m3_s), only.flow_m3_s.shape)
        lost = trunk_drop(only.flow_m3_s)
        return NetworkResult(tap, tap - lost, (replace(only, line_drop_pa=only.line_drop_pa - lost),))
    apart = at(still)
    shape = np.broadcast_shapes(*(r.flow_m3_s.shape for r in apart))
    closed = np.array(np.broadcast_to(still, shape))
    if not trunk and not feels_draw:
        return NetworkResult(closed, closed, apart)

    def balance(tee: Array) -> Array:
        q = sum((r.flow_m3_s for r in at(tee)), np.zeros(shape))
        result: Array = offered(q) - trunk_drop(q) - tee
        return result

    root = solve_falling(balance, np.zeros(shape), closed, np.maximum(closed, 1.0), tolerance=tolerance)
    if not root.converged:
        raise SolverError("the split between the turbos did not close; check trunk and branches")
    results = at(root.value)
    q = sum((r.flow_m3_s for r in results), np.zeros(shape))
    return NetworkResult(root.value + trunk_drop(q), root.value, results)
