# SPDX-License-Identifier: GPL-3.0-or-later
"""The plans whose answers are kept, each by a name: shipped, sampled good and bad, odd, hard, boxed in, with parts chosen."""

from __future__ import annotations

import random
from collections.abc import Mapping
from contextlib import suppress
from functools import cache

import numpy as np

from gravidon.errors import GravidonError
from gravidon.plan import demos, paths
from gravidon.plan.fields import Known
from gravidon.plan.model import Plan, Shape
from gravidon.study.making.parts_list import runs
from gravidon.study.planning.choices import places
from gravidon.study.planning.ways import model_points
from gravidon.study.solve import assemble
from gravidon.study.solve.as_bought import as_bought
from study.families import case, family

# --- the plans ------------------------------------------------------------------------------


def _odd(seed: int) -> Plan:
    """A shipped plan with a handful of its figures somewhere else within their bounds."""
    draw = random.Random(seed)  # noqa: S311  repeatable
    plan = demos.demo_plan(demos.NAMES[seed % len(demos.NAMES)])
    for path, _, known in draw.sample(list(paths.walk_known(plan)), 12):
        with suppress(GravidonError):
            plan = paths.put(
                plan, path, Known(value=round(known.value * draw.uniform(0.6, 1.6), 2), basis="measured")
            )
    return plan


def _hard(name: str) -> Plan:
    """A plan in which much is wrong at once, so that facts and remedies have something to say."""
    demo, changes = HARD_PLANS[name]
    plan = demos.demo_plan(demo)
    for path, value in changes.items():
        plan = paths.put(plan, path, value)
    return plan


def _mixed(seed: int) -> Plan:
    """A shipped plan in which choices anywhere on the oil's way were made otherwise, as the planner may make them; every other
    one with a dozen of its figures somewhere else too."""
    draw = random.Random(1000 + seed)  # noqa: S311  repeatable
    plan = demos.demo_plan(demos.NAMES[seed % len(demos.NAMES)])
    for _ in range(9):
        choice, k = draw.choice(places(plan))
        others = [v for v in choice.values(plan, k) if v != choice.value(plan, k)]
        with suppress(GravidonError):
            made = choice.put(plan, k, draw.choice(others)) if others else None
            plan = made if made is not None else plan
    for path, _, known in draw.sample(list(paths.walk_known(plan)), 12) if seed % 2 else ():
        with suppress(GravidonError):
            value = Known(value=round(known.value * draw.uniform(0.75, 1.3), 2), basis="measured")
            plan = paths.put(plan, path, value)
    return plan


HARD_PLANS: Mapping[str, tuple[str, Mapping[str, object]]] = {
    "low": (
        "coupe",
        {
            "turbos.0.turbo.clock_deg": 40.0,
            "turbos.0.turbo.pitch_deg": 12.0,
            "turbos.0.drain.hose_bore_mm": 8.7,
            "turbos.0.restrictor.fitted": False,
        },
    ),
    "flooded": (
        "estate",
        {
            "turbos.0.drain.entry.z_mm": -140.0,
            "turbos.0.restrictor.bore_mm": 3.0,
            "turbos.0.drain.hose_bore_mm": 11.1,
        },
    ),
    "starved": ("van", {"turbos.0.restrictor.bore_mm": 0.6, "turbos.1.restrictor.bore_mm": 0.5}),
    "pumped": (
        "special",
        {
            "turbos.0.drain_by": "scavenge",
            "turbos.0.scavenge.hose_bore_mm": 5.0,
            "turbos.0.scavenge.gauge_awg": 20,
            "turbos.0.scavenge.pot_ml": 40.0,
            "turbos.0.scavenge.run_on_s": 1.0,
        },
    ),
}


def _boxed(name: str) -> Plan:
    """A shipped plan with things beside its hoses and a place for its tap, all of it open to the planner."""
    plan = demos.demo_plan(name)
    it = plan.turbos[0]
    a, b = assemble.point(it.turbo.drain_flange), assemble.point(it.drain.entry)
    middle, kinds = 0.5 * (a + b), ("solid", "hot", "chafe")
    shapes = tuple(
        Shape(
            label=f"thing {k}",
            kind=kind,
            corner=model_points((middle + np.array([-0.03, 0.02 - 0.05 * k, 0.01 + 0.03 * k]))[None])[0],
            length_mm=60.0,
            width_mm=30.0 + 12.0 * k,
            height_mm=40.0,
        )
        for k, kind in enumerate(kinds)
    )
    tap = plan.taps[plan.tap].model_copy(
        update={"place": model_points((a + np.array([0.3, 0.1, -0.1]))[None])[0]}
    )
    taps = tuple(tap if k == plan.tap else t for k, t in enumerate(plan.taps))
    box = plan.sump.boxes[0]
    corner = box.corner.model_copy(
        update={"x_mm": box.corner.x_mm + 0.6 * box.length_mm, "z_mm": box.corner.z_mm - 25.0}
    )
    second = box.model_copy(
        update={"corner": corner, "length_mm": 0.5 * box.length_mm, "width_mm": 0.7 * box.width_mm}
    )
    pan = plan.sump.model_copy(update={"boxes": (*plan.sump.boxes, second)})
    return plan.model_copy(update={"shapes": (*plan.shapes, *shapes), "taps": taps, "sump": pan})


def _fitted(name: str) -> Plan:
    """A shipped plan with the parts chosen that its chains propose, and a hole in the inlet flange."""
    plan = demos.demo_plan(name)
    for run in runs(plan):
        line = run.key.split("-")[0]
        if line in ("feed", "drain") and run.links:
            plan = paths.put(plan, f"turbos.{run.turbo}.parts.{line}", tuple(x.part.id for x in run.links))
    plan = paths.put(plan, "turbos.0.flange_hole.fitted", True)
    return as_bought(paths.put(plan, "turbos.0.flange_hole.bore_mm", 1.6))


@cache
def plan(name: str) -> Plan:  # noqa: PLR0911  one line a kind
    """Return a plan by its name here."""
    kind, _, rest = name.partition(" ")
    if kind == "good":
        return family(6, seed=11)[int(rest)]
    if kind == "bad":
        return family(6, bad=True, seed=11)[int(rest)]
    if kind == "odd":
        return _odd(int(rest))
    if kind == "mix":
        return _mixed(int(rest))
    if kind == "hard":
        return _hard(rest)
    if kind == "boxed":
        return _boxed(rest)
    if kind == "fitted":
        return _fitted(rest)
    if kind == "journal":
        return case(bearing="journal")
    return demos.demo_plan(name)


DEMOS = demos.NAMES
BUILT = ("boxed estate", "boxed coupe", "fitted estate", "fitted van")
MORE = ("good 0", "bad 0", "journal", "odd 0", "odd 1", "odd 2", "odd 3")
MIXED = tuple(f"mix {k}" for k in range(40))
HARD = ("hard low", "hard flooded", "hard starved", "hard pumped")
FAMILIES = ("metric", "imperial")
