# SPDX-License-Identifier: GPL-3.0-or-later
"""Inlet pressure, flow and outlet temperature over engine speed and oil temperature."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.study.solve.at_points import Points, pressure_side
from gravidon.words.text import N_

SPEEDS, TEMPERATURES = 60, 40
QUANTITIES = {
    "inlet": (N_("at the bearing"), "kpa"),
    "gauge": (N_("before the restrictor"), "kpa"),
    "flow": (N_("oil flow"), "l_min"),
    "outlet": (N_("oil out"), "degc"),
}
"""What the map can show: key, name and kind of unit."""


@dataclass(frozen=True)
class OperatingMap:
    """A map for every turbo: speed [rpm] (speeds,), oil temperature [K] (temperatures,), and per
    quantity an SI array (turbos, temperatures, speeds). Heat rises with speed as the plan's
    conditions say."""

    speed_rpm: Array
    temperature_k: Array
    values: dict[str, Array]

    def read(self, quantity: str, turbo: int, rpm: float, temperature_k: float) -> float:
        """Return a quantity at a point, bilinear between the map's points."""
        field = self.values[quantity][turbo]
        x = np.interp(rpm, self.speed_rpm, np.arange(len(self.speed_rpm)))
        y = np.interp(temperature_k, self.temperature_k, np.arange(len(self.temperature_k)))
        i, j = int(min(y, len(field) - 2)), int(min(x, field.shape[1] - 2))
        v, u = y - i, x - j
        top = field[i, j] * (1 - u) + field[i, j + 1] * u
        bottom = field[i + 1, j] * (1 - u) + field[i + 1, j + 1] * u
        return float(top * (1 - v) + bottom * v)


def operating_map(plan: Plan) -> OperatingMap:
    """Return the map of a plan: from idle to a little above its fastest condition, cold to hot."""
    fastest = max((c.rpm for c in plan.conditions), default=6000.0) * 1.05
    coldest = min(c.oil_temperature_c for c in plan.conditions)
    hottest = max(c.oil_temperature_c for c in plan.conditions)
    rpm = np.linspace(500.0, max(fastest, 1500.0), SPEEDS)
    t = np.linspace(max(coldest - 5.0, -20.0), min(hottest + 25.0, 160.0), TEMPERATURES) + 273.15
    side = pressure_side(plan, Points(rpm[None, :], t[:, None]))
    return OperatingMap(
        rpm,
        t,
        {
            "inlet": np.array([b.inlet_pressure_pa for b in side.branches]),
            "gauge": np.array([side.gauge_pa(k) for k in range(len(plan.turbos))]),
            "flow": np.array([b.flow_m3_s for b in side.branches]),
            "outlet": np.array([b.outlet_temperature_k for b in side.branches]),
        },
    )
