"""Inlet pressure, flow and outlet temperature over engine speed and oil temperature."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from gravidon.physics import oil as oils
from gravidon.physics import source
from gravidon.physics.arrays import Array
from gravidon.physics.network import solve_network
from gravidon.plan.fields import si
from gravidon.plan.model import Plan
from gravidon.study.solve import assemble

SPEEDS, TEMPERATURES = 60, 40
MAP_TOLERANCE = 1e-4
"""[-] of the tee's pressure: far below what a map shows."""
QUANTITIES = {
    "inlet": ("at the bearing", "kpa"),
    "gauge": ("before the restrictor", "kpa"),
    "flow": ("oil flow", "l_min"),
    "outlet": ("oil out", "degc"),
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
    n, grid = rpm[None, :] / 60.0, np.broadcast_to(t[:, None], (TEMPERATURES, SPEEDS))
    oil = assemble.oil_of(plan)
    fit = assemble.source_fit(plan)
    rho, mu = oils.density(oil, grid), oils.dynamic_viscosity(oil, grid)
    pump = si(plan.engine, "pump_cc_rev")
    offset = si(plan.taps[plan.tap], "offset_kpa")

    def offered(flow: Array) -> Array:
        if pump > assemble.LEAST_PUMP_M3_REV:
            gallery = source.gallery_pressure_drawn(fit, n, rho, mu, pump, flow)
        else:
            gallery = source.gallery_pressure(fit, n, rho, mu)
        result: Array = np.maximum(gallery + offset, 0.0)
        return result

    branches = tuple(
        replace(
            assemble.branch(plan, it, it.feed.pieces),
            metal_w_k=0.0,
            temperature_k=grid,
            heat_w=np.broadcast_to(assemble.heat_over_speed(plan, it, rpm), grid.shape),
        )
        for it in plan.turbos
    )
    network = solve_network(offered, assemble.pipes_of(plan.trunk), branches, pump > 0.0, MAP_TOLERANCE)
    return OperatingMap(
        rpm,
        t,
        {
            "inlet": np.array([b.inlet_pressure_pa for b in network.branches]),
            "gauge": np.array(
                [assemble.gauge_pressure(it, b) for it, b in zip(plan.turbos, network.branches, strict=True)]
            ),
            "flow": np.array([b.flow_m3_s for b in network.branches]),
            "outlet": np.array([b.outlet_temperature_k for b in network.branches]),
        },
    )
