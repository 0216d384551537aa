# SPDX-License-Identifier: GPL-3.0-or-later
"""Several turbos on one tap: a trunk, a tee, a branch each, and an engine that feels the draw."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from gravidon.errors import SolverError
from gravidon.physics import line
from gravidon.physics import oil as oils
from gravidon.physics.arrays import Array
from gravidon.physics.feed import Chain, Feed, FeedResult, Pipe, solve_feed
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

    quick = _newton(offered, trunk_drop, branches, apart, shape, closed, tolerance)
    if quick is not None:
        return quick

    def balance(tee: Array) -> Array:
        q = sum((r.flow_m3_s for r in at(tee)), np.zeros(shape))
        result: Array = offered(q) - trunk_drop(q) - tee
        return result

    root = solve_falling(balance, np.zeros(shape), closed, np.maximum(closed, 1.0), tolerance=tolerance)
    if not root.converged and not _at_a_step(balance, root.value):
        raise SolverError("the split between the turbos did not close; check trunk and branches")
    results = at(root.value)
    q = sum((r.flow_m3_s for r in results), np.zeros(shape))
    return NetworkResult(root.value + trunk_drop(q), root.value, results)


MOST_NEWTON_STEPS = 14
STEP = 1e-4
"""Relative flow step of the one-sided slopes [-]."""


def _newton(
    offered: Callable[[Array], Array],
    trunk_drop: Callable[[Array], Array],
    branches: tuple[Feed, ...],
    start: tuple[FeedResult, ...],
    shape: tuple[int, ...],
    closed: Array,
    tolerance: float,
) -> NetworkResult | None:
    """Solve all branch flows at once by Newton's method; None if it does not close everywhere.

    The Jacobian is diagonal plus one common slope (what total flow costs at the tee), inverted in
    closed form (Sherman and Morrison).
    """
    chains = [Chain(branch) for branch in branches]
    flows = [np.array(np.broadcast_to(r.flow_m3_s, shape)) for r in start]
    floor = 1e-12
    alive = closed > 0.0
    scale = np.maximum(closed, 1.0)
    for steps in range(MOST_NEWTON_STEPS):
        total = sum(flows, np.zeros(shape))
        tee = offered(total) - trunk_drop(total)
        misses = [tee - chain.losses(q).total_pa for chain, q in zip(chains, flows, strict=True)]
        if all((np.abs(m[alive]) <= tolerance * scale[alive]).all() for m in misses):
            flows = [np.where(alive, q, 0.0) for q in flows]
            results = tuple(c.result(q, m, steps) for c, q, m in zip(chains, flows, misses, strict=True))
            total = sum(flows, np.zeros(shape))
            tap = np.where(alive, offered(total), closed)
            return NetworkResult(tap, np.where(alive, tap - trunk_drop(total), closed), results)
        change = np.maximum(STEP * total, floor)
        there = offered(total + change) - trunk_drop(total + change)
        common = np.maximum((tee - there) / change, 0.0)
        own = []
        for chain, q, miss in zip(chains, flows, misses, strict=True):
            nudge = np.maximum(STEP * q, floor)
            own.append(np.maximum((tee - miss - chain.losses(q + nudge).total_pa) / -nudge, 1.0))
        eased = [m / d for m, d in zip(misses, own, strict=True)]
        shared = common * sum(eased) / (1.0 + common * sum(1.0 / d for d in own))
        flows = [
            np.clip(q + e - shared / d, 0.1 * q + floor, 4.0 * q + floor)
            for q, e, d in zip(flows, eased, own, strict=True)
        ]
    return None


STEP_SHARE = 2e-3
"""[-] of a pressure within which a balance that jumps over nothing is closed as well as it can be; project choice."""


def _at_a_step(balance: Callable[[Array], Array], value: Array) -> bool:
    """Return whether a balance that found no root changes its sign at a step: cold oil that friction warms has two flows at one pressure."""
    before, after = balance(value * (1.0 - STEP_SHARE)), balance(value * (1.0 + STEP_SHARE))
    found = balance(value)
    return bool(((before >= 0.0) & (after <= 0.0) | (np.abs(found) < 1.0)).all())
