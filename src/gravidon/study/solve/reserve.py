# SPDX-License-Identifier: GPL-3.0-or-later
"""How much more oil a drain would take before a seal wets: by marching many flows at once."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from gravidon.physics import attitude
from gravidon.physics import drain as drains
from gravidon.physics.arrays import Array
from gravidon.study.solve.evaluate import Evaluation

RESERVES = np.geomspace(1.0 / 3.0, 8.0, 6)
"""[-] flows over the flow there is that the reserve is looked for among; project choice."""
BETWEEN = np.linspace(0.0, 1.0, 7)[1:-1]
"""[-] where, along the logarithm between two of them, it is looked for again; project choice."""


@lru_cache(maxsize=16)
def reserve(e: Evaluation) -> Array:
    """Return the flow at which oil would just reach a seal over the flow there is [-], (conditions,).

    NaN where nothing flows; inf where the most that is tried still leaves the seals dry; 0 where the least does not. All flows
    of RESERVES are marched at once, then some more between the two that the answer lies between.
    """
    d, route = e.drainage, e.route
    lift = np.where(d.backwater.sealed, d.backwater.lift_m, 0.0)
    heights = attitude.height(d.up, route.stations_m)

    def freeboard(scale: Array) -> Array:
        """Return freeboard [m] with each condition's flow times `scale`, (scales, conditions)."""
        n = len(scale)
        many = np.tile(np.arange(len(lift)), n)
        carries = d.carries.rows(many)
        water = drains.march(
            route.run(heights[:, many], carries.stream),
            carries.flow_m3_s * scale.ravel(),
            carries.kinematic_m2_s,
            d.gravity_m_s2[many],
            d.sump_level_m[many],
            lift[many],
            d.sealed_below[many],
            carries.outside,
        )
        result: Array = d.seal_level_m - water.housing_level_m.reshape(scale.shape)
        return result

    coarse = np.repeat(RESERVES[:, None], len(e.names), axis=1)
    free = freeboard(coarse)
    low, _ = _crossing(free)
    k, at = np.clip(low, 0, len(RESERVES) - 2), np.arange(len(low))
    fine = RESERVES[k] * (RESERVES[k + 1] / RESERVES[k]) ** BETWEEN[:, None]
    ends = RESERVES[None, k], RESERVES[None, k + 1]
    free = np.concatenate([free[None, k, at], freeboard(fine), free[None, k + 1, at]])
    fine = np.concatenate([ends[0], fine, ends[1]])
    j, share = _crossing(free)
    j = np.clip(j, 0, len(fine) - 2)
    found = fine[j, at] * (fine[j + 1, at] / fine[j, at]) ** share
    found = np.where(low < 0, 0.0, np.where(low == len(RESERVES) - 1, np.inf, found))
    result: Array = np.where(e.feed.flow_m3_s > 0.0, found, np.nan)
    return result


def _crossing(free: Array) -> tuple[np.ndarray, Array]:
    """Return the last row before freeboard is lost (-1 where there is none) and how far on to the next it is lost [-]."""
    dry = free >= 0.0
    last = np.where(dry.all(axis=0), len(free) - 1, np.argmin(dry, axis=0) - 1)
    k, at = np.clip(last, 0, len(free) - 2), np.arange(free.shape[1])
    drop = np.maximum(free[k, at] - free[k + 1, at], 1e-9)
    return last, np.clip(free[k, at] / drop, 0.0, 1.0)
