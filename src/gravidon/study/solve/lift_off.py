# SPDX-License-Identifier: GPL-3.0-or-later
"""Every corner, braking and boosted drive with the throttle let go: boost no longer holds the oil in, which is when a wet seal smokes."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.model import Condition
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.filling import filling
from gravidon.study.solve.gravity import Stream, gravity_sides, standing_of

LEAST_G = 0.2
"""[g] from which an acceleration counts as a corner or braking; project choice."""
BLOW_BY_SHARE = 0.2
"""[-] of the blow-by at full load that is left on overrun; common practice, no source."""
LIFT_OFF_S = 1.5
"""[s] that a lift of the throttle lasts in the middle of it; common practice, no source."""


@dataclass(frozen=True)
class LiftOff:
    """Freeboard [m], seconds until a seal wets and oil that comes to it in the lift [m³] with the throttle let go, (conditions,), NaN
    where there is no such condition; and whether more than a fitting is shut by oil: the entry drowned, or a length of hose full."""

    freeboard_m: Array
    time_to_wet_s: Array
    over_m3: Array
    shut: np.ndarray


def _can_lift(c: Condition) -> bool:
    """Whether a condition goes on with the throttle let go: not a launch, whose push is the throttle's."""
    hard = float(np.hypot(c.forward_g, c.left_g)) >= LEAST_G
    return c.kind.turning and c.forward_g <= 0.0 and (hard or (c.kind.driving and c.wheel_side_kpa > 0.0))


@lru_cache(maxsize=16)
def lift_off(e: Evaluation) -> LiftOff:
    """Return what becomes of a turbo's seals in every corner, braking and boosted drive when the driver lifts."""
    plan = e.plan
    hard = np.array([_can_lift(c) for c in plan.conditions])
    free, seconds, over = (np.full(len(hard), np.nan) for _ in range(3))
    if not hard.any():
        return LiftOff(free, seconds, over, np.zeros(len(hard), dtype=bool))
    stand = standing_of(plan, e.breathing.crankcase_pa).rows(hard)
    share = np.array([max(c.blow_by_share, BLOW_BY_SHARE) for c in plan.conditions])[hard]
    stand = replace(
        stand,
        crankcase_pa=stand.crankcase_pa * BLOW_BY_SHARE / share,
        wheel_side_pa=np.full(int(hard.sum()), si(plan.engine, "overrun_kpa")),
    )
    streams = []
    for lens in e.all:
        stream = Stream(lens.feed.flow_m3_s, lens.feed.outlet_temperature_k)
        if lens.line.drain_by == "scavenge":
            stream = replace(stream, pumped_m3_s=lens.scavenging.delivery_m3_s)
        streams.append(stream.rows(hard))
    drained = gravity_sides(plan, stand, streams, [lens.route for lens in e.all])[e.index]
    wet = np.zeros(len(hard), dtype=bool)
    wet[hard] = drained.freeboard_m < 0.0
    held = filling(e.drainage, wet).oil_m3[hard]  # what the corner itself has brought up by its end
    filled = filling(drained, wet[hard], held, np.full(int(hard.sum()), LIFT_OFF_S))
    free[hard], seconds[hard], over[hard] = drained.freeboard_m, filled.seconds, filled.over_m3
    shut = np.zeros(len(hard), dtype=bool)
    # as it is before the lift: what the lifted oil itself fills comes after
    before = e.drainage.sealed_bores[hard] > si(plan.needs, "sealed_bores")
    shut[hard] = (drained.submergence_m > 0.0) | before
    return LiftOff(free, seconds, over, shut)
