# SPDX-License-Identifier: GPL-3.0-or-later
"""What the bearing goes through when the engine is switched off hot, and how long it should idle first."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from gravidon.parts.turbos import BEARING_J_K, COOLINGS, HOUSINGS, TURBINE_J_K
from gravidon.physics import oil as oils
from gravidon.physics import soak
from gravidon.physics.arrays import Array
from gravidon.study.solve import assemble
from gravidon.study.solve.evaluate import Evaluation

BETWEEN_W_K = 1.5
"""[W/K] from turbine to bearing housing: the heat conducted at full load over 570 K; common practice, no source."""
TURBINE_AIR_W_K, BEARING_AIR_W_K = 1.5, 0.8
"""[W/K] to the air under the bonnet, standing; common practice, no source."""
GAS_W_K, IDLE_GAS_K, AIR_K = 8.0, 573.15, 333.15
"""[W/K] to idling exhaust gas, the gas's temperature and that of the air under the bonnet [K]; common practice, no source."""
IDLE_TURBINE_K, FULL_TURBINE_K = 623.15, 973.15
"""[K] of the turbine housing without load and at full load; common practice, no source."""
WATER_K = 368.15
"""[K] of the water that goes on round by its own lift; common practice, no source."""
COKING_K = 503.15
"""[K] from which oil left in a bearing turns to coke within minutes; common practice, no source."""
LONGEST_IDLE_S = 600.0
"""[s] of idling that are tried; project choice."""

_AFTER_S = np.linspace(0.0, 3600.0, 241)
_IDLING_S = np.linspace(0.0, LONGEST_IDLE_S, 121)


@dataclass(frozen=True)
class HeatSoak:
    """After a hot run: seconds since key-off (times,), bearing housing without idling first [K] (times,), the same after the
    idling that is told (or the longest tried) [K] (times,), the peak of the first [K], and the least idling that keeps the peak under the coking limit [s], inf where LONGEST_IDLE_S does not."""

    seconds: Array
    bearing_k: Array
    idled_k: Array
    peak_k: float
    idle_s: float

    @property
    def cokes(self) -> bool:
        """Whether oil left in the bearing would coke if nobody idled first."""
        return self.peak_k > COKING_K


@lru_cache(maxsize=16)
def heat_soak(e: Evaluation) -> HeatSoak | None:
    """Return what follows the hottest running condition, or None where the plan has no condition with load or none idling.

    Each start the engine could be switched off from, after 0 to LONGEST_IDLE_S of idling, is followed exactly (`physics.soak`).
    """
    conditions = e.plan.conditions
    hot = max(range(len(conditions)), key=lambda i: conditions[i].load)
    idles = [i for i, c in enumerate(conditions) if c.kind.turning and c.load <= 0.1]
    if conditions[hot].load <= 0.0 or not idles:
        return None
    idle = min(idles, key=lambda i: conditions[i].rpm)
    turbo = e.line.turbo
    scale, cooling = HOUSINGS[turbo.frame].flow_scale, COOLINGS[turbo.cooling]
    stopped = soak.Lumps(
        TURBINE_J_K * scale,
        BEARING_J_K * scale,
        BETWEEN_W_K * scale,
        TURBINE_AIR_W_K * scale,
        BEARING_AIR_W_K * scale,
        AIR_K,
        coolant_w_k=cooling.soak_w_k * scale,
        coolant_k=WATER_K,
    )
    oil, inlet = assemble.oil_of(e.plan), conditions[idle].oil_temperature_c + 273.15
    carried = float(e.feed.flow_m3_s[idle] * oils.density(oil, inlet) * oils.heat_capacity(oil, inlet))
    taken = carried + stopped.coolant_w_k
    idling = replace(
        stopped,
        gas_w_k=GAS_W_K * scale,
        gas_k=IDLE_GAS_K,
        coolant_w_k=taken,
        coolant_k=(carried * inlet + stopped.coolant_w_k * WATER_K) / max(taken, 1e-9),
    )
    turbine = IDLE_TURBINE_K + (FULL_TURBINE_K - IDLE_TURBINE_K) * min(conditions[hot].load, 1.5)
    bearing = max(float(e.feed.outlet_temperature_k[hot]), inlet)
    starts = soak.temperatures(idling, (turbine, bearing), _IDLING_S)
    followed = soak.temperatures(stopped, starts, _AFTER_S)[1]
    peaks = followed.max(axis=-1)
    cool = np.flatnonzero(peaks <= COKING_K)
    at = int(cool[0]) if len(cool) else len(_IDLING_S) - 1
    enough_s = float(_IDLING_S[at]) if len(cool) else np.inf
    return HeatSoak(_AFTER_S, followed[0], followed[at], float(peaks[0]), enough_s)
