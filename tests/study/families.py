# SPDX-License-Identifier: GPL-3.0-or-later
"""Whole plans as builders make them, good and bad, sampled; and single cases whose outcome the trade knows.

Ranges and outcomes: common practice, no source. Everything not said here is what the product itself proposes.
"""

from __future__ import annotations

import numpy as np
from scipy.stats import qmc

from gravidon.plan import paths
from gravidon.plan.fields import Known
from gravidon.plan.model import GaugeReading, PanBox, Plan, Point
from gravidon.plan.starter import Answers, new_plan

PSI = 6.894757
GRADES = ("5W-30", "10W-30", "5W-40", "10W-40", "15W-40")
RANGES: dict[str, tuple[float, float]] = {
    "grade": (0.0, 4.999),
    "idle_psi": (12.0, 25.0),
    "speed_psi": (50.0, 68.0),
    "relief_over_psi": (3.0, 15.0),
    "read_c": (88.0, 105.0),
    "slope_deg": (25.0, 50.0),
    "hose_mm": (300.0, 500.0),
    "curve_mm": (0.0, 12.0),
    "round_deg": (20.0, 90.0),
    "below_rail_mm": (38.0, 64.0),
    "level_mm": (76.0, 105.0),
    "orifice_in": (0.035, 0.040),
    "wall_mm": (3.0, 5.0),
    "flange_mm": (14.3, 18.0),
    "pan_long_mm": (280.0, 380.0),
    "pan_wide_mm": (200.0, 280.0),
    "windage_mm": (5.0, 12.0),
    "g": (0.5, 0.7),
    "warmer_k": (-12.0, 8.0),
    "half_npt": (0.0, 1.0),
}
"""A recipe that is built everywhere and works: a medium turbo, -4 feed, -10 drain into the side of the pan."""
BAD: dict[str, tuple[float, float]] = {
    "slope_deg": (0.0, 5.0),
    "below_rail_mm": (98.0, 105.0),
    "half_npt": (0.0, 0.4),
}
"""The same laid nearly level, into an entry below the oil, with a -8 hose."""
MIDDLE = {name: 0.5 * (low + high) for name, (low, high) in RANGES.items()}


def point(place: np.ndarray) -> Point:
    x, y, z = (round(float(v), 1) for v in place)
    return Point(x_mm=x, y_mm=y, z_mm=z)


def measured(value: float) -> Known:
    return Known(value=float(value), basis="measured")


def recipe(v: dict[str, float], bearing: str = "ball", hose_bore_mm: float = 14.29) -> Plan:
    """Return the recipe with its figures; positions follow from slope, length and where the turbo sits."""
    idle, speed = v["idle_psi"] * PSI, v["speed_psi"] * PSI
    answers = Answers(grade=GRADES[int(v["grade"])], bearing=bearing, idle_kpa=idle, speed_kpa=speed)
    plan = new_plan("recipe", answers)
    readings = tuple(
        GaugeReading(rpm=rpm, oil_temperature_c=v["read_c"], pressure_kpa=p)
        for rpm, p in ((850, idle), (4000, speed))
    )
    plan = paths.put(plan, "engine.readings", readings)
    plan = paths.put(plan, "engine.relief_kpa", measured(speed + v["relief_over_psi"] * PSI))
    length, width, slope = v["pan_long_mm"], v["pan_wide_mm"], np.radians(v["slope_deg"])
    box = PanBox(
        corner=Point(x_mm=-length, y_mm=-width / 2, z_mm=-150.0),
        length_mm=length,
        width_mm=width,
        depth_mm=150.0,
    )
    fill = max((150.0 - v["level_mm"]) * length * width * 1e-6, 0.3) + 0.8
    sump = {
        "boxes": (box,),
        "fill_l": measured(fill),
        "windage_mm": measured(v["windage_mm"]),
        "wall_mm": measured(v["wall_mm"]),
    }
    plan = paths.put(plan, "sump", plan.sump.model_copy(update=sump))
    half = v["half_npt"] > 0.5
    thread, bore = ("1/2 NPT", 14.3) if half else ("3/8 NPT", 10.5)
    rise = np.radians(min(3.0, v["slope_deg"]))
    entry = np.array([-0.6 * length, -width / 2, -v["below_rail_mm"]])
    outer = entry + 40.0 * np.array([0.0, -np.cos(rise), np.sin(rise)])
    away = np.radians(v["round_deg"])
    along = np.array([-np.sin(away) * np.cos(slope), -np.cos(away) * np.cos(slope), np.sin(slope)])
    top = outer + v["hose_mm"] * along
    bend = 0.5 * (outer + top) + np.array([0.0, 0.0, v["curve_mm"]])
    it = plan.turbos[0]
    fitting = it.drain.fitting.model_copy(
        update={
            "label": f"tapped {thread}",
            "bore_mm": bore,
            "length_mm": 40.0,
            "heading_deg": -90.0,
            "rise_deg": float(np.degrees(rise)),
            "port_thread": thread,
            "fitting_thread": thread,
            "means": "tapped",
        }
    )
    drain = it.drain.model_copy(
        update={
            "flange_bore_mm": v["flange_mm"],
            "flange_length_mm": 32.0,
            "hose_bore_mm": hose_bore_mm,
            "points": (point(bend),),
            "entry": point(entry),
            "fitting": fitting,
        }
    )
    flange = point(top + np.array([0.0, 0.0, 32.0]))
    changes: dict[str, object] = {
        "drain": drain,
        "turbo": it.turbo.model_copy(update={"drain_flange": flange}),
    }
    if it.restrictor.fitted:
        changes["restrictor"] = it.restrictor.model_copy(update={"bore_mm": round(v["orifice_in"] * 25.4, 3)})
    plan = paths.put(plan, "turbos.0", it.model_copy(update=changes))
    conditions = []
    for c in plan.conditions:
        moved = {n: float(np.sign(getattr(c, n)) * v["g"]) for n in ("forward_g", "left_g") if getattr(c, n)}
        warm = (
            {"oil_temperature_c": c.oil_temperature_c + v["warmer_k"]}
            if c.kind.warm and c.kind.turning
            else {}
        )
        conditions.append(c.model_copy(update={**moved, **warm}))
    return paths.put(plan, "conditions", tuple(conditions))


def family(count: int, bad: bool = False, seed: int = 1) -> list[Plan]:
    """Return plans of a family, Latin hypercube over its ranges."""
    ranges = {**RANGES, **(BAD if bad else {})}
    rows = qmc.LatinHypercube(len(ranges), rng=np.random.default_rng(seed)).random(count)
    plans = []
    for row in rows:
        v = {name: low + u * (high - low) for u, (name, (low, high)) in zip(row, ranges.items(), strict=True)}
        plans.append(recipe(v, hose_bore_mm=11.11 if bad else 14.29))
    return plans


def case(
    bearing: str = "ball",
    hose_bore_mm: float = 14.29,
    changes: dict[str, object] | None = None,
    **figures: float,
) -> Plan:
    """Return the middle of the recipe with some figures, then plan paths, changed."""
    plan = recipe(
        {**MIDDLE, "half_npt": 0.0, "idle_psi": 15.0, "speed_psi": 60.0, "read_c": 100.0, **figures},
        bearing,
        hose_bore_mm,
    )
    for path, value in (changes or {}).items():
        plan = paths.put(plan, path, value)
    return plan
