# SPDX-License-Identifier: GPL-3.0-or-later
"""The gallery law over engine speed, for the temperatures that were read at."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.physics import oil as oils
from gravidon.physics import source
from gravidon.physics.arrays import Array
from gravidon.study.solve import assemble
from gravidon.study.solve.evaluate import Evaluation


@dataclass(frozen=True)
class GalleryCurve:
    """One temperature [K]: the law and the band that the readings leave open [Pa gauge], over the speeds asked for."""

    temperature_k: float
    law_pa: Array
    low_pa: Array
    high_pa: Array


def gallery_curves(e: Evaluation, speed_rpm: Array) -> tuple[GalleryCurve, ...]:
    """Return the law over engine speed [rpm], one curve for every ten degrees that a reading was taken at."""
    oil, fit = assemble.oil_of(e.plan), e.supply.fit
    made = []
    for celsius in sorted({round(r.oil_temperature_c / 10) * 10 for r in e.plan.engine.readings}):
        t = celsius + 273.15
        x = source.scaled_speed(speed_rpm / 60.0, np.asarray(oils.dynamic_viscosity(oil, t)))
        low, high = (source.relieved(side, fit.relief_pa) for side in source.bounds(fit, x))
        law = source.relieved(source.unrelieved_pressure(fit, x), fit.relief_pa)
        made.append(GalleryCurve(t, law, low, high))
    return tuple(made)
