# SPDX-License-Identifier: GPL-3.0-or-later
"""Which bore holds in every condition: the inverse of the feed, for the chart and for remedies."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.parts.drills import Drill, drills_between, nearest_drill
from gravidon.physics.arrays import Array, Flags
from gravidon.physics.feed import FeedResult, Hole
from gravidon.physics.network import solve_network
from gravidon.physics.source import SourceFit
from gravidon.plan.fields import si
from gravidon.plan.model import Plan
from gravidon.study.judge.supply import window_margins
from gravidon.study.solve import assemble
from gravidon.translate import tr

BORES = 72


@dataclass(frozen=True)
class RestrictorChoice:
    """Inlet pressure, flow and outlet temperature over bore, for every condition.

    Fields: bore [m] (bores,); arrays (bores, conditions); window [Pa] (conditions, 2); which
    bores hold; the range [m] that holds (None if none); what breaks first below and above it
    (condition name, reason), drills inside the range; least flow [m³/s] (conditions,), -inf where none
    is asked; worst margin [-] of each bore.
    """

    bore_m: Array
    inlet_pa: Array
    flow_m3_s: Array
    outlet_k: Array
    window_pa: Array
    holds: Flags
    range_m: tuple[float, float] | None
    breaks_below: tuple[str, str] | None
    breaks_above: tuple[str, str] | None
    drills: tuple[Drill, ...]
    open_line_inlet_pa: Array
    flow_min_m3_s: Array
    worst_margin: Array


def choose(plan: Plan, index: int = 0, bores_m: Array | None = None) -> RestrictorChoice:
    """Return the decision chart of one turbo's inlet restrictor.

    Args:
        plan: the plan; the turbo's own inlet restrictor is ignored except for its length. A hole
            in its flange, and the other turbos with theirs, stay as they are.
        index: which turbo.
        bores_m: bores to try [m]; by default up to the feed line's bore.
    """
    it = plan.turbos[index]
    if bores_m is None:
        widest = max(*(si(p, "bore_mm") for p in it.feed.pieces), si(it.restrictor, "bore_mm"), 1e-3)
        bores_m = np.geomspace(0.4e-3, widest, BORES)
    fit = assemble.source_fit(plan)
    result = _with_hole(plan, index, fit, Hole(bores_m[:, None], si(it.restrictor, "length_mm")))
    window = np.array([assemble.window_bounds(it, c) for c in plan.conditions])
    margins = window_margins(it, plan.conditions, result)
    low, high, cool = (np.asarray(~(m < 0.0)) for m in margins)
    holds = np.asarray((low & high & cool).all(axis=1))
    span = _longest(holds)
    bounds = None if span is None else (float(bores_m[span[0]]), float(bores_m[span[1]]))
    below, above = _breaks(plan, span, low, high, cool)
    drills = drills_between(bounds[0] * 1e3, bounds[1] * 1e3) if bounds else ()
    open_line = _with_hole(plan, index, fit, None)
    return RestrictorChoice(
        bores_m,
        result.inlet_pressure_pa,
        result.flow_m3_s,
        result.outlet_temperature_k,
        window,
        holds,
        bounds,
        below,
        above,
        drills,
        open_line.inlet_pressure_pa,
        np.array([assemble.least_flow(it, c) for c in plan.conditions]),
        np.nanmin(np.where(np.isnan(margins), np.inf, margins), axis=(0, 2)),
    )


def _with_hole(plan: Plan, index: int, fit: SourceFit, hole: Hole | None) -> FeedResult:
    """Solve the plan's network with another inlet restrictor on one turbo."""
    branches = []
    for k, it in enumerate(plan.turbos):
        holes = assemble.holes_of(it)
        if k == index:
            rest = assemble.holes_of(
                it.model_copy(update={"restrictor": it.restrictor.model_copy(update={"fitted": False})})
            )
            holes = (*((hole,) if hole else ()), *rest)
        branches.append(assemble.branch(plan, it, it.feed.pieces, holes))
    at = assemble.offered(plan, fit, plan.taps[plan.tap])
    feels = si(plan.engine, "pump_cc_rev") > assemble.LEAST_PUMP_M3_REV
    alone = not plan.trunk and not feels
    chosen = tuple(branches[index : index + 1]) if alone else tuple(branches)
    network = solve_network(at, assemble.pipes_of(plan.trunk), chosen, feels)
    return network.branches[0 if alone else index]


def _longest(holds: Flags) -> tuple[int, int] | None:
    if not holds.any():
        return None
    edges = np.flatnonzero(np.diff(np.concatenate([[0], holds.astype(int), [0]])))
    starts, ends = edges[::2], edges[1::2]
    best = int(np.argmax(ends - starts))
    return int(starts[best]), int(ends[best]) - 1


def _breaks(
    plan: Plan, span: tuple[int, int] | None, low: Flags, high: Flags, cool: Flags
) -> tuple[tuple[str, str] | None, tuple[str, str] | None]:
    """Name the condition and reason that fail just outside the range on each side."""
    if span is None:
        return None, None

    def at(index: int) -> tuple[str, str] | None:
        if not 0 <= index < len(low):
            return None
        for table, reason in ((low, tr("starved")), (cool, tr("oil too hot")), (high, tr("over-fed"))):
            failing = np.flatnonzero(~table[index])
            if failing.size:
                return plan.conditions[int(failing[0])].name, reason
        return None

    return at(span[0] - 1), at(span[1] + 1)


RANGE_ALLOWANCE = 1.10
"""Bore taken this far above the least that holds: room for a worn pump, no more oil than needed
for the drain to carry; project choice."""


def smallest_safe(drills: tuple[Drill, ...], bounds: tuple[float, float]) -> Drill:
    """Return the smallest metric drill a tenth above the range's lower end, inside the range."""
    wanted = min(bounds[0] * RANGE_ALLOWANCE, (bounds[0] * bounds[1]) ** 0.5) * 1e3
    metric = [d for d in drills if not d.name.startswith("#")]
    above = [d for d in metric or drills if d.diameter_mm >= wanted]
    return above[0] if above else nearest_drill(wanted)
