# SPDX-License-Identifier: GPL-3.0-or-later
"""Models of diagnosis shared by tests: making one runs a car with every fault it could have, which takes seconds."""

from __future__ import annotations

from functools import cache

from gravidon.plan import demos, paths
from gravidon.plan.model import Plan
from gravidon.study.car.faults import FAULTS, Faulty, as_it_is
from gravidon.study.diagnosis.belief import Model, model


def flawed(plan: Plan, fault: str, severity: float) -> Plan:
    """Return a plan whose car has a fault that the builder has measured: the plan says so."""
    return as_it_is(plan, (Faulty(FAULTS[fault], severity),), (1.0,))


def no_hole(plan: Plan) -> Plan:
    """Return a plan without its restrictor, whatever parts were chosen."""
    it = plan.turbos[0]
    line = it.model_copy(
        update={
            "restrictor": it.restrictor.model_copy(update={"fitted": False}),
            "parts": it.parts.model_copy(update={"feed": ()}),
        }
    )
    return plan.model_copy(update={"turbos": (line,)})


def put(plan: Plan, **changes: object) -> Plan:
    """Return a plan with values at paths, dots written as double underscores."""
    for path, value in changes.items():
        plan = paths.put(plan, path.replace("__", "."), value)
    return plan


@cache
def plan_of(name: str) -> Plan:
    """Return a plan by what is said of it."""
    coupe, estate, special, van = (demos.demo_plan(n) for n in ("coupe", "estate", "special", "van"))
    made = {
        "coupe": lambda: coupe,
        "estate": lambda: estate,
        "special": lambda: special,
        "van": lambda: van,
        "dip": lambda: flawed(coupe, "dip", 0.8),
        "surge": lambda: flawed(estate, "surge", 0.9),
        "no hole": lambda: flawed(no_hole(coupe), "relief-stuck", 0.3),
        "plain valve": lambda: put(coupe, breather__kind="valve to intake", breather__one_way=False),
        "thin wire": lambda: put(
            special, turbos__0__scavenge__gauge_awg=18, turbos__0__scavenge__wire_mm=5000.0
        ),
        "tilted": lambda: put(coupe, turbos__0__turbo__pitch_deg=16.0),
        "dry housing": lambda: put(coupe, turbos__0__turbo__cooling="oil only"),
    }
    return made[name]()


@cache
def model_of(name: str) -> Model:
    """Return the model of a plan by what is said of it."""
    return model(plan_of(name))
