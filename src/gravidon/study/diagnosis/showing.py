# SPDX-License-Identifier: GPL-3.0-or-later
"""What a car shows, by running it: features of the oil's path in the situations a builder tells of, and from them the chance of a sign or a test's outcome."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from scipy.special import ndtr

from gravidon.errors import GravidonError
from gravidon.physics.arrays import Array
from gravidon.plan.conditions import more_conditions, standard_conditions
from gravidon.plan.fields import si
from gravidon.plan.model import Condition, Plan
from gravidon.study.car.faults import FAULTS
from gravidon.study.diagnosis.tables import Cause, Sign, Test, tables
from gravidon.study.judge.home import wets
from gravidon.study.judge.supply import OVER_FED
from gravidon.study.solve import assemble
from gravidon.study.solve.evaluate import Evaluation, evaluate
from gravidon.study.solve.kept import Kept
from gravidon.study.solve.lift_off import LIFT_OFF_S, lift_off
from gravidon.study.solve.priming import arrival

DRY_M = 0.05
"""[m] of freeboard that stands for a seal no oil reaches in that situation."""

HELD_M = 0.008
"""[m] of freeboard that stands for a seal over which oil would stand if boost did not hold it, or if the situation lasted; project choice."""

_LEVEL = 0.05
"""[g] under which an acceleration counts as none; project choice."""


def _straight(c: Condition) -> bool:
    return abs(c.forward_g) < _LEVEL and abs(c.left_g) < _LEVEL and not c.nose_up_deg


def _idling(c: Condition) -> bool:
    return c.kind.turning and c.kind.warm and not c.kind.driving


ROLES: dict[str, Callable[[Condition], bool]] = {
    "cold": lambda c: c.kind.turning and not c.kind.warm,
    "idle": lambda c: _idling(c) and _straight(c) and not c.left_side_up_deg,
    "cruise": lambda c: c.kind.driving and _straight(c) and c.load <= 0.5,
    "full": lambda c: c.kind.driving and _straight(c) and c.load > 0.5,
    "launch": lambda c: c.kind.driving and c.forward_g >= 0.25,
    "braking": lambda c: c.kind.driving and c.forward_g <= -0.25 and abs(c.left_g) < 0.2,
    "left": lambda c: c.kind.driving and c.left_g >= 0.25,
    "right": lambda c: c.kind.driving and c.left_g <= -0.25,
    "overrun": lambda c: c.kind.driving and c.wheel_side_kpa < 0.0,
    "off": lambda c: not c.kind.turning and not c.nose_up_deg,
}
"""Situations a builder tells of, and which of a plan's conditions is one; where none is, the standard condition."""

FREE = ("idle", "cruise", "full", "launch", "braking", "left", "right", "overrun", "off")
LIFTS = ("braking", "left", "right")
FEATURES: tuple[str, ...] = (
    *(f"free_{r}" for r in FREE),
    *(f"lift_{r}" for r in LIFTS),
    "gas_idle", "gas_overrun", "case_full", "port_speed", "gallery_speed", "over_window", "flow_idle", "outlet_full",
    "outlet_cruise", "fill", "split", "prime_s", "left_over", "outlet_rise", "fill_share",
)  # fmt: skip
"""Features in SI: freeboard the oil stands at, and with the throttle let go [m]; crankcase over the wheels' side, and over the air [Pa]; pressures at the inlet's port and in the gallery hot at
speed [Pa]; pressure over the window's most [-]; flow at hot idle [m³/s]; oil out at full load and in a cruise [K]; oil in the pan [m³]; how far the turbos' flows lie apart [-]; time to oil, hot [s];
oil after key-off that finds no room [m³]; and against the sound car, oil out hotter by [K] and the share of its fill [-]."""
AT = {name: k for k, name in enumerate(FEATURES)}


def idle_of(plan: Plan) -> int:
    """Return the number of the plan's condition in which it idles hot; 0 if it has none."""
    return next((k for k, c in enumerate(plan.conditions) if _idling(c)), 0)


def situations(plan: Plan) -> Plan:
    """Return the plan with one condition for every situation, named by it: the plan's own where it has one."""
    usual = (*standard_conditions(), *more_conditions())
    chosen = []
    for role, fits in ROLES.items():
        found = next(c for c in (*plan.conditions, *usual) if fits(c))
        chosen.append(found.model_copy(update={"name": role}))
    return plan.model_copy(update={"conditions": tuple(chosen)})


def features(plan: Plan) -> Array:
    """Return the features of a car, (features,): of all its turbos the worse.

    Args:
        plan: the plan of the car as it is, its conditions those of `situations`.

    Raises: GravidonError if it cannot be computed.
    """
    e = evaluate(plan)
    at = {name: k for k, name in enumerate(e.names)}
    found = np.zeros(len(FEATURES))
    for role in FREE:
        found[AT[f"free_{role}"]] = min(_free(lens, at[role]) for lens in e.all)
    for role in LIFTS:
        found[AT[f"lift_{role}"]] = min(_lifted(lens, at[role]) for lens in e.all)
    case = e.breathing.crankcase_pa
    found[AT["gas_idle"]] = max(lens.drainage.gas_difference_pa[at["idle"]] for lens in e.all)
    found[AT["gas_overrun"]] = max(lens.drainage.gas_difference_pa[at["overrun"]] for lens in e.all)
    found[AT["case_full"]] = case[at["full"]]
    first, cruise, idle = e.all[0], at["cruise"], at["idle"]
    found[AT["port_speed"]] = assemble.gauge_pressure(first.line, first.feed)[cruise]
    found[AT["gallery_speed"]] = first.supply.gallery_pa[cruise]
    found[AT["over_window"]] = _over_window(e)
    found[AT["flow_idle"]] = first.feed.flow_m3_s[idle]
    found[AT["outlet_full"]] = max(lens.feed.outlet_temperature_k[at["full"]] for lens in e.all)
    found[AT["outlet_cruise"]] = max(lens.feed.outlet_temperature_k[cruise] for lens in e.all)
    found[AT["fill"]] = si(plan.sump, "fill_l")
    flows = np.array([lens.feed.flow_m3_s[cruise] for lens in e.all])
    found[AT["split"]] = (flows.max() - flows.min()) / max(float(flows.mean()), 1e-12)
    found[AT["prime_s"]] = arrival(plan, e.supply).hot_s
    found[AT["left_over"]] = max(
        (lens.scavenging.left_over_m3 for lens in e.all if lens.line.drain_by == "scavenge"), default=0.0
    )
    return np.nan_to_num(found, nan=0.0, posinf=1e9, neginf=-1e9)


_PLANNED: Kept[tuple[Plan, Array]] = Kept(24)


def planned(plan: Plan) -> tuple[Plan, Array]:
    """Return a plan with its situations, and the features of the car as planned.

    Raises: GravidonError if it cannot be computed.
    """

    def made() -> tuple[Plan, Array]:
        standing = situations(plan)
        sound = features(standing)
        return standing, against(sound, sound)

    return _PLANNED.of(plan, made)


def against(car: Array, sound: Array) -> Array:
    """Return a car's features with what is told against the sound car."""
    made = car.copy()
    made[AT["outlet_rise"]] = car[AT["outlet_cruise"]] - sound[AT["outlet_cruise"]]
    made[AT["fill_share"]] = car[AT["fill"]] / max(sound[AT["fill"]], 1e-9)
    return made


def _free(e: Evaluation, i: int) -> float:
    """Return the freeboard [m] that counts: where oil stands over a seal and does not wet it, it stays dry."""
    free = float(e.drainage.freeboard_m[i])
    return HELD_M if free < 0.0 and not wets(e)[i] else min(free, DRY_M)


def _lifted(e: Evaluation, i: int) -> float:
    found = lift_off(e)
    free = float(found.freeboard_m[i])
    soon = found.time_to_wet_s[i] <= LIFT_OFF_S
    return min(free, DRY_M) if bool(found.shut[i]) and soon and np.isfinite(free) else DRY_M


def _over_window(e: Evaluation) -> float:
    judged = OVER_FED.judge(e)
    ratio = judged.value / judged.limit
    return float(np.nanmax(ratio)) if np.isfinite(ratio).any() else 0.0


def sign_chance(sign: Sign, cars: Array, sound: Array) -> Array:
    """Return the chance that cars show a sign by what their oil does, (cars,): any of its features is enough.

    Args:
        cars: features, (cars, features).
        sound: features of the car as planned, (features,).
    """
    best = np.zeros(len(cars))
    for s in sign.shows:
        value = cars[:, AT[s.what]]
        goal = s.at * sound[AT[s.what]] if s.share else s.at
        width = s.width * abs(sound[AT[s.what]]) if s.share else s.width
        apart = (value - goal if s.over else goal - value) / max(width, 1e-12)
        best = np.maximum(best, ndtr(apart))
    return best


def outcome_chance(test: Test, cars: Array, sound: Array) -> Array:
    """Return the chance of each outcome of a test that reads the car, (cars, outcomes).

    Raises: ValueError for a test that does not.
    """
    if test.shows is None:
        raise ValueError(f"{test.key} reads nothing of the simulated car")
    b = test.shows
    scale = abs(sound[AT[b.what]]) if b.share else 1.0
    edges = np.array(b.edges) * scale
    below = ndtr((edges - cars[:, [AT[b.what]]]) / max(b.width * scale, 1e-12))
    bins = np.diff(np.concatenate([np.zeros((len(cars), 1)), below, np.ones((len(cars), 1))], axis=1), axis=1)
    made = np.zeros((len(cars), len(test.outcomes)))
    for k, outcome in enumerate(b.order):
        made[:, outcome] += bins[:, k]
    return made


def shown_by(car: Plan, sound: Array) -> Array:
    """Return what a car shows against the sound one, (features,): as the sound one does where it cannot be computed, for a fault may lead out of what can."""
    try:
        return against(features(car), sound)
    except GravidonError:
        return sound


def smoke_chance(car: Array, sound: Array) -> Array:
    """Return the chance of every sign of smoke that a car can show by its oil, (signs,)."""
    smoke = (s for s in tables().signs.values() if s.group == "smoke" and s.shows)
    return np.array([float(sign_chance(s, car[None, :], sound)[0]) for s in smoke])


def can_run(cause: Cause) -> bool:
    """Whether the simulated car can have a cause: its fault is one of the car, not of a sender or a leak."""
    return bool(cause.fault) and FAULTS[cause.fault].worse is not None
