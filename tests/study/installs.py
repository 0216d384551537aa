# SPDX-License-Identifier: GPL-3.0-or-later
"""Families of installs whose outcome the trade knows, good ones and each with one thing wrong, for measuring verdicts.

Ranges and outcomes: common practice, no source.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from scipy.stats import qmc

from gravidon.parts import dash
from gravidon.parts.entry_means import MEANS
from gravidon.plan import paths
from gravidon.plan.model import Plan, Point
from gravidon.plan.starter import Answers, new_plan, with_turbo_kind
from study.families import PSI, measured, point, recipe
from study.families import RANGES as ORDINARY

PROVEN: dict[str, tuple[float, float]] = {
    **ORDINARY,
    "slope_deg": (25.0, 80.0),
    "hose_mm": (250.0, 450.0),
    "below_rail_mm": (36.0, 60.0),
    "speed_psi": (52.0, 66.0),
    "rise_deg": (5.0, 30.0),
    "hole_mm": (0.0, 1.0),
    "along": (0.4, 0.6),
}
"""Side of the pan, a bung or a bulkhead, -10 for a medium and -12 for a large housing, falls of 25 to 80 degrees."""


def install(
    v: dict[str, float],
    bearing: str = "journal",
    frame: str = "medium",
    size: int = 10,
    hole_mm: float | None = None,
    grade: str | None = None,
) -> Plan:
    """Return an install: the recipe with a bung of its dash size, ends of that size, and a hole or none."""
    plan = recipe(v, bearing, round(dash.hose_bore_mm(size), 2))
    if frame != "medium":
        plan = with_turbo_kind(plan, bearing, frame)
    it = plan.turbos[0]
    bung = MEANS["weld bung"]
    rise = min(v["rise_deg"], v["slope_deg"])
    fitting = it.drain.fitting.model_copy(
        update={
            "label": f"weld bung -{size}",
            "bore_mm": dash.END_BORE_MM[size],
            "length_mm": 30.0,
            "rise_deg": rise,
            "port_thread": bung.threads[size],
            "fitting_thread": bung.threads[size],
            "means": "weld bung",
        }
    )
    drain = it.drain.model_copy(
        update={
            "fitting": fitting,
            "flange_bore_mm": max(dash.END_BORE_MM[size], it.drain.flange_bore_mm - 2.0),
            "flange_length_mm": 32.0,
        }
    )
    parts = it.parts
    if frame == "large":
        parts = parts.model_copy(update={"outlet": "flange|large two-bolt 52 mm|"})
    hole = it.restrictor.model_copy(
        update={"fitted": hole_mm is not None, "bore_mm": hole_mm or it.restrictor.bore_mm}
    )
    plan = paths.put(
        plan, "turbos.0", it.model_copy(update={"drain": drain, "restrictor": hole, "parts": parts})
    )
    plan = paths.put(
        plan,
        "sump",
        plan.sump.model_copy(update={"pickup": Point(x_mm=-0.5 * v["pan_long_mm"], y_mm=0.0, z_mm=-140.0)}),
    )
    if grade is not None:
        from gravidon.plan.starter import with_grade

        plan = with_grade(plan, grade)
    return plan


def sampled(
    count: int, make: Callable[[dict[str, float]], Plan], seed: int = 1, **changed: tuple[float, float]
) -> list[Plan]:
    """Return plans over the ranges, Latin hypercube."""
    ranges = {**PROVEN, **changed}
    rows = qmc.LatinHypercube(len(ranges), rng=np.random.default_rng(seed)).random(count)
    return [
        make(
            {name: low + u * (high - low) for u, (name, (low, high)) in zip(row, ranges.items(), strict=True)}
        )
        for row in rows
    ]


def journal(v: dict[str, float]) -> Plan:
    """A medium journal turbo, -10, no hole or a large one."""
    return install(v, hole_mm=2.5 if v["hole_mm"] > 0.6 else None)


def large(v: dict[str, float]) -> Plan:
    """A large journal turbo of a diesel, -12, 15W-40."""
    return install(v, frame="large", size=12, grade="15W-40")


def ball(v: dict[str, float]) -> Plan:
    """A medium ball-bearing turbo with its usual hole."""
    return install(v, "ball", hole_mm=round(0.9 + 0.2 * v["hole_mm"], 2))


def small_ball(v: dict[str, float]) -> Plan:
    """A small ball-bearing turbo with 0.8 to 1.0 mm at 75 to 90 psi."""
    return install(
        {**v, "speed_psi": 75.0 + 15.0 * v["half_npt"], "relief_over_psi": 3.0},
        "ball",
        "small",
        hole_mm=round(0.8 + 0.2 * v["hole_mm"], 2),
    )


def pumped(v: dict[str, float], share: float = 1.0) -> Plan:
    """A turbo low at the rear with a scavenge pump of three to five times its oil."""
    plan = install(v)
    it = plan.turbos[0]
    flange = it.turbo.drain_flange
    low = flange.model_copy(update={"x_mm": -1500.0 - 500.0 * v["along"], "z_mm": -60.0})
    pot = Point(x_mm=low.x_mm, y_mm=low.y_mm, z_mm=low.z_mm - 170.0)
    scavenge = it.scavenge.model_copy(
        update={
            "pot": pot,
            "pot_ml": measured(400.0),
            "free_l_min": measured(20.0 * share),
            "stall_kpa": measured(250.0),
            "current_a": measured(6.0),
            "gauge_awg": 10,
            "hose_bore_mm": 11.11,
            "hose_mm": measured(2200.0),
        }
    )
    changes = {
        "turbo": it.turbo.model_copy(update={"drain_flange": low}),
        "drain_by": "scavenge",
        "scavenge": scavenge,
        "drain": it.drain.model_copy(update={"points": ()}),
    }
    return paths.put(plan, "turbos.0", it.model_copy(update=changes))


def changed(base: Callable[[dict[str, float]], Plan], **values: object) -> Callable[[dict[str, float]], Plan]:
    """Return a maker whose plans have other values at some paths (dots as two underscores)."""

    def make(v: dict[str, float]) -> Plan:
        plan = base(v)
        for path, value in values.items():
            plan = paths.put(plan, path.replace("__", "."), value)
        return plan

    return make


def overfilled(base: Callable[[dict[str, float]], Plan], litres: float) -> Callable[[dict[str, float]], Plan]:
    """Return a maker of plans with too much oil in them, the marks staying where they were."""

    def make(v: dict[str, float]) -> Plan:
        plan = base(v)
        marked = paths.put(plan, "sump.full_l", measured(plan.sump.fill_l.value))
        return paths.put(marked, "sump.fill_l", measured(plan.sump.fill_l.value + litres))

    return make


def narrowed(bore_mm: float, hose_mm: float | None = None) -> Callable[[dict[str, float]], Plan]:
    """Return a maker of journal plans with a tight drain: ends and fitting of one bore."""

    def make(v: dict[str, float]) -> Plan:
        plan = journal(v)
        it = plan.turbos[0]
        drain = it.drain.model_copy(
            update={
                "flange_bore_mm": bore_mm,
                "hose_bore_mm": hose_mm or it.drain.hose_bore_mm,
                "fitting": it.drain.fitting.model_copy(update={"bore_mm": bore_mm}),
            }
        )
        return paths.put(plan, "turbos.0", it.model_copy(update={"drain": drain}))

    return make


def dipped(v: dict[str, float]) -> Plan:
    """A hose that hangs below its end."""
    plan = journal(v)
    it = plan.turbos[0]
    entry, flange = it.drain.entry, it.turbo.drain_flange
    low = np.array(
        [
            0.5 * (entry.x_mm + flange.x_mm),
            0.5 * (entry.y_mm + flange.y_mm) - 60.0,
            entry.z_mm - 60.0,
        ]
    )
    return paths.put(
        plan,
        "turbos.0",
        it.model_copy(update={"drain": it.drain.model_copy(update={"points": (point(low),)})}),
    )


def first_plan(v: dict[str, float]) -> Plan:
    """A first plan from the answers alone."""
    return new_plan(
        "first",
        Answers(
            bearing="journal" if v["half_npt"] < 0.66 else "ball",
            frame=("small", "medium", "large")[int(2.999 * v["hole_mm"])],
            idle_kpa=v["idle_psi"] * PSI,
            speed_kpa=v["speed_psi"] * PSI,
            over_rail_mm=120.0 + 4.0 * v["round_deg"],
            out_mm=90.0 + 10.0 * v["windage_mm"],
            back_mm=100.0 + 2000.0 * abs(v["along"] - 0.4),
            side="right" if v["rise_deg"] < 17 else "left",
            cooling="water" if v["hole_mm"] < 0.5 else "oil only",
        ),
    )


GOOD: dict[str, tuple[Callable[[dict[str, float]], Plan], dict[str, tuple[float, float]]]] = {
    "journal -10": (journal, {}),
    "journal -10, 45 to 80": (journal, {"slope_deg": (45.0, 80.0)}),
    "large journal -12": (large, {}),
    "ball -10": (ball, {}),
    "small ball, 75 to 90 psi": (small_ball, {}),
    "rear, ample pump": (pumped, {}),
    "first plans": (first_plan, {}),
}
BAD: dict[str, tuple[Callable[[dict[str, float]], Plan], dict[str, tuple[float, float]]]] = {
    "3/8 in drain": (narrowed(9.5, 9.5), {}),
    "1/2 in drain": (narrowed(11.1, 12.7), {}),
    "-8 at full flow": (narrowed(9.9, 11.11), {}),
    "level run": (journal, {"slope_deg": (0.0, 3.0), "curve_mm": (0.0, 2.0)}),
    "dip": (dipped, {}),
    "drowned entry": (journal, {"below_rail_mm": (100.0, 112.0)}),
    "1.5 L too much": (overfilled(journal, 1.5), {}),
    "ball, 1.5 L too much": (overfilled(ball, 1.5), {}),
    "ball, no hole": (changed(ball, turbos__0__restrictor__fitted=False), {}),
    "ball, hole half": (changed(ball, turbos__0__restrictor__bore_mm=0.5), {}),
    "blocked breather": (
        changed(journal, breather__orifice_mm=2.5),
        {},
    ),
    "rear, pump a third": (lambda v: pumped(v, 0.22), {}),
    "worn engine": (changed(journal, breather__blow_by_l_min=280.0, breather__hose_bore_mm=9.5), {}),
    "tilt 20": (changed(journal, turbos__0__turbo__pitch_deg=20.0), {}),
}
