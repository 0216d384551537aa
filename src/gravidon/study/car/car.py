# SPDX-License-Identifier: GPL-3.0-or-later
"""The simulated car: a frozen scenario in, what happens in it over time out. The same scenario gives the same run.

Once a line is full the pressure side follows speed and temperature at once, so it is solved for all times together; what takes its
time (oil warming, an empty gallery, the front running up a dry line, housings, pan) is stepped. Oil is counted by mass in every place.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np

from gravidon.physics import oil as oils
from gravidon.physics import priming
from gravidon.physics.arrays import Array, Flags
from gravidon.plan.fields import si
from gravidon.plan.model import Plan
from gravidon.study.car.faults import Faulty, as_it_is, grown
from gravidon.study.car.script import Script
from gravidon.study.home.replay import by_speed, filling, freeboard_and_rate, pumped_at
from gravidon.study.solve import assemble
from gravidon.study.solve.at_points import WARM_K, Points, PressureSide, pressure_side
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.gravity import Stream
from gravidon.study.solve.pickup import pickup_place
from gravidon.study.solve.priming import PUMP_COLD_S, PUMP_HOT_S, chain_sizes
from gravidon.study.verdict.certainty import uncertain_inputs, varied

WARM_S, COOL_S = 420.0, 5400.0
"""[s] time constants of the oil: warming towards what the plan says for that speed, cooling with the engine off; common practice, no source."""
GALLERY_M3 = 0.35e-3
"""[m³] of an empty gallery with its filter; common practice, no source."""
DRAIN_S, UP_S = 1.5, 8.0
"""[s] oil takes from the housing to the pan, and to climb into the engine or come down from it; common practice, no source."""
MOST_LEVELS = 50
"""Steps in which a growing fault is followed."""
CHUNK = 4000
GRAVITY_S = 0.5
"""[s] between the moments at which the gravity side is looked at."""


@dataclass(frozen=True)
class Scenario:
    """All that a run depends on.

    Fields: plan; script; seed of the hidden truth and of the noise; faults; step [s]; oil temperature at the start [K]; whether gallery and
    lines are full already; how far the hidden values lie off the plan's (0: not at all, 1: as its tolerances say).
    """

    plan: Plan
    script: Script
    seed: int = 0
    faults: tuple[Faulty, ...] = ()
    step_s: float = 0.05
    start_k: float = 288.15
    full: bool = False
    spread: float = 1.0


@dataclass(frozen=True)
class Masses:
    """Where the oil is [kg], arrays (times,): pan, up in the engine, gallery, feed lines, housings and drains, lost on the floor."""

    pan: Array
    engine: Array
    gallery: Array
    lines: Array
    housings: Array
    lost: Array

    @property
    def total(self) -> Array:
        """All of it."""
        result: Array = self.pan + self.engine + self.gallery + self.lines + self.housings + self.lost
        return result


@dataclass(frozen=True, eq=False)
class Run:
    """What happened: the truth, not what senders show.

    Per time (times,): time [s], engine speed [rpm], load [-], accelerations [g], oil temperature [K], gallery pressure [Pa gauge]. Per turbo
    (turbos, times): pressure at the inlet port and behind the holes [Pa gauge], flow into the housing [m³/s], oil out [K], share of the line filled.
    `arrived_s` (turbos,): when oil reached the housing (inf: never). `truth` is the plan of the car as it is, without its faults.
    """

    scenario: Scenario
    truth: Plan
    time_s: Array
    rpm: Array
    load: Array
    forward_g: Array
    left_g: Array
    oil_k: Array
    gallery_pa: Array
    port_pa: Array
    bearing_pa: Array
    flow_m3_s: Array
    outlet_k: Array
    filled: Array
    arrived_s: Array
    masses: Masses

    @cached_property
    def freeboard(self) -> tuple[Array, Array, Array]:
        """Per turbo: times looked at [s], the freeboard the oil tends to [m], and how far the housing has filled (1: a seal is wet)."""
        every = max(round(GRAVITY_S / self.scenario.step_s), 1)
        rows = slice(None, None, every)
        plan = as_it_is(self.truth, self.scenario.faults, tuple(1.0 for _ in self.scenario.faults))
        first = evaluate(plan)
        free, filled = [], []
        for lens in first.all:
            streams = [
                Stream(q[rows], t[rows], pumped_at(other, self.rpm[rows]))
                for other, q, t in zip(first.all, self.flow_m3_s, self.outlet_k, strict=True)
            ]
            found, rate, _ = freeboard_and_rate(
                lens, self.forward_g[rows], self.left_g[rows], self.rpm[rows], streams, False
            )
            free.append(found)
            filled.append(filling(rate, every * self.scenario.step_s))
        return self.time_s[rows], np.array(free), np.array(filled)


def hidden(plan: Plan, seed: int, spread: float) -> Plan:
    """Return the plan of one car as it truly is: every uncertain value drawn from its tolerance (normal, 95 % inside)."""
    inputs = uncertain_inputs(plan)
    unit = np.random.default_rng([seed, 7]).standard_normal(len(inputs)) / 1.959964
    return varied(plan, inputs, np.clip(spread * unit, -1.5, 1.5))


def simulate(scenario: Scenario) -> Run:
    """Return what happens in a scenario.

    Raises: GravidonError if the car cannot be computed.
    """
    plan = hidden(scenario.plan, scenario.seed, scenario.spread) if scenario.spread else scenario.plan
    drive = scenario.script.driven(scenario.step_s)
    rpm, dt = drive.rpm, scenario.step_s
    given = ~np.isnan(drive.load)
    load = np.where(given, np.nan_to_num(drive.load), by_speed(plan, "load", rpm)) * (rpm > 0.0)
    oil_k = oil_temperature(plan, rpm, drive.hold_c, scenario.start_k, dt)
    primed, _ = _gallery_primed(plan, rpm, dt, scenario.full)
    turned = rpm > 0.0
    since = _since_cold(oil_k, turned & (primed >= 1.0), dt)
    side = _sides(scenario, plan, drive.time_s, Points(rpm, oil_k, load, since))
    alive = turned & (primed >= 1.0)
    gallery = np.where(alive, side.gallery_pa, 0.0)
    front = [_front(scenario, plan, k, side.tap_pa, alive, rpm, oil_k) for k in range(len(plan.turbos))]
    filled = np.array([f[0] for f in front])
    arrived = np.array([f[1] for f in front])
    flows = alive & (filled >= 1.0)

    def when(values: list[Array], otherwise: Array | float) -> Array:
        return np.where(flows, np.array(values), otherwise)

    q = when([b.flow_m3_s for b in side.branches], 0.0)
    masses, fed = _masses(scenario, plan, drive.time_s, rpm, oil_k, primed, filled, q, alive)
    # where the pickup takes air, nothing is pumped until oil has come home
    flows = flows & fed
    return Run(
        scenario, plan, drive.time_s, rpm, load, drive.forward_g, drive.left_g, oil_k, np.where(fed, gallery, 0.0),
        when([side.gauge_pa(k) for k in range(len(plan.turbos))], 0.0),
        when([b.inlet_pressure_pa for b in side.branches], 0.0),
        np.where(fed, q, 0.0), when([b.outlet_temperature_k for b in side.branches], oil_k), filled, arrived, masses,
    )  # fmt: skip


def oil_temperature(plan: Plan, rpm: Array, hold_c: Array, start_k: float, dt: float) -> Array:
    """Return the oil's temperature [K], (times,): a first-order lag towards what the plan's warm conditions say for the speed, or towards where it began
    with the engine off; where it is held, what is held.

    Equation: dT/dt = (T_end - T)/tau, exact over each step.
    """
    end = np.where(rpm > 0.0, by_speed(plan, "oil_temperature_c", rpm), start_k)
    end = np.where(end > 0.0, end, start_k)
    keep = np.where(rpm > 0.0, np.exp(-dt / WARM_S), np.exp(-dt / COOL_S))
    out, t = np.empty(len(rpm)), start_k
    held = hold_c + 273.15
    rows = zip(np.asarray(end).tolist(), np.asarray(keep).tolist(), held.tolist(), strict=True)
    for k, (goal, k_keep, fixed) in enumerate(rows):
        if fixed == fixed:  # noqa: PLR0124  nan is what is not held
            t = fixed
        elif k:
            t = goal + (t - goal) * k_keep
        out[k] = t
    return out


def _trapezium(rate: Array, dt: float) -> Array:
    """Return the running integral of a rate."""
    result: Array = np.concatenate([[0.0], np.cumsum(0.5 * (rate[1:] + rate[:-1]))]) * dt
    return result


def _gallery_primed(plan: Plan, rpm: Array, dt: float, full: bool) -> tuple[Array, float]:
    """Return how far the gallery is filled at each time (1: full), and the revolutions an empty one takes.

    An empty gallery takes the pump's time of a cold start at its speed; one that stood for a while, that of a hot start.
    """
    cold = [c.rpm for c in plan.conditions if c.kind.turning and not c.kind.warm and not c.kind.driving]
    warm = [c.rpm for c in plan.conditions if c.kind.turning and c.kind.warm and not c.kind.driving]
    empty = PUMP_COLD_S * (min(cold) if cold else 1200.0) / 60.0
    again = PUMP_HOT_S * (min(warm) if warm else 850.0) / 60.0
    turns = np.concatenate([[0.0], np.cumsum(0.5 * (rpm[1:] + rpm[:-1]) / 60.0 * dt)])
    primed = np.zeros(len(rpm))
    ever = full
    turning = np.concatenate([[0.0], (rpm > 0.0).astype(float)])
    begins = [int(b) for b in np.flatnonzero(np.diff(turning) > 0.0)]
    level = 1.0 if full else 0.0
    primed[: begins[0] if begins else len(rpm)] = level
    for start, stop in pairwise([*begins, len(rpm)]):
        from_level = max(level - again / empty, 0.0) if ever and not (full and start == begins[0]) else level
        rows = slice(start, stop)
        primed[rows] = np.minimum(from_level + (turns[rows] - turns[max(start - 1, 0)]) / empty, 1.0)
        level = float(primed[stop - 1])
        ever = ever or level >= 1.0
    return primed, empty


def _since_cold(oil_k: Array, flowing: Flags, dt: float) -> Array:
    """Return seconds since oil first flowed, for a start with cold oil [s]; inf for a warm one, and before it flows."""
    if not flowing.any() or float(oil_k[int(np.argmax(flowing))]) > WARM_K:
        return np.full(len(oil_k), np.inf)
    since = np.maximum(_trapezium(flowing.astype(float), dt), dt)
    return np.where(flowing, since, np.inf)


def _sides(scenario: Scenario, plan: Plan, t: Array, points: Points) -> PressureSide:
    """Return the pressure side at every time; as faults grow, of one worse plan after another."""
    levels = np.array(
        [[round(grown(f, float(at)) * MOST_LEVELS) for f in scenario.faults] for at in t]
        if any(f.over_s > 0.0 or f.from_s > 0.0 for f in scenario.faults)
        else [[MOST_LEVELS] * len(scenario.faults)] * len(t)
    ).reshape(len(t), len(scenario.faults))
    changed = np.flatnonzero((np.diff(levels, axis=0) != 0).any(axis=1))
    breaks = [0, *(int(k) + 1 for k in changed), len(t)]
    pieces: list[PressureSide] = []
    for start, stop in pairwise(breaks):
        shares = tuple(float(v) / MOST_LEVELS for v in levels[start])
        now = as_it_is(plan, scenario.faults, shares)
        for first in range(start, stop, CHUNK):
            rows = slice(first, min(first + CHUNK, stop))
            since = points.since_cold_s
            at = Points(
                points.rpm[rows],
                points.oil_k[rows],
                None if points.load is None else points.load[rows],
                since[rows] if isinstance(since, np.ndarray) else since,
            )
            lost = sum(
                f.fault.loses_m3_s * f.severity * g for f, g in zip(scenario.faults, shares, strict=True)
            )
            pieces.append(pressure_side(now, at, beside_m3_s=lost))
    return pieces[0].joined(pieces[1:])


def _front(
    scenario: Scenario, plan: Plan, k: int, tap_pa: Array, alive: Flags, rpm: Array, oil_k: Array
) -> tuple[Array, float]:
    """Return how far a turbo's line is filled at each time, and when oil reaches its housing [s] (inf: never).

    The front takes what viscosity lets through, and no more than its share of what the pump delivers, where that is known.
    """
    t = np.arange(len(rpm)) * scenario.step_s
    if scenario.full:
        return np.ones(len(rpm)), 0.0
    bores, lengths = chain_sizes((*plan.trunk, *plan.turbos[k].feed.pieces))
    whole = priming.line_volume(bores, lengths)
    mu = oils.dynamic_viscosity(assemble.oil_of(plan), oil_k)
    push = np.where(alive, np.maximum(tap_pa, 0.0) / mu, 0.0)
    work = _trapezium(push, scenario.step_s)
    free = priming.filled_volume(bores, lengths, work)
    pumped = si(plan.engine, "pump_cc_rev") * rpm / 60.0 / len(plan.turbos)
    if si(plan.engine, "pump_cc_rev") > assemble.LEAST_PUMP_M3_REV:
        most = _trapezium(np.where(alive, pumped, 0.0), scenario.step_s)
        free = _held_back(bores, lengths, work, most, free, whole)
    filled: Array = np.minimum(free / whole, 1.0)
    filled = np.where(free >= whole * (1.0 - 1e-9), 1.0, filled)
    if filled[-1] < 1.0:
        return filled, float("inf")
    after = int((filled >= 1.0).argmax())
    # the moment between two steps, straight in the work done (or in what was pumped)
    need = float(priming.fill_work(bores, lengths, whole))
    share = 1.0
    if after and work[after] > work[after - 1]:
        share = float(np.clip((need - work[after - 1]) / (work[after] - work[after - 1]), 0.0, 1.0))
    return filled, float(t[after] - (1.0 - share) * scenario.step_s) if after else 0.0


def _held_back(
    bores: list[float], lengths: list[float], work: Array, most: Array, free: Array, whole: float
) -> Array:
    """Return the volume filled when the pump holds the front back: step by step, the less of the two."""
    if (np.diff(free) <= np.diff(most) + 1e-15).all():
        return free
    out, v = np.zeros(len(free)), 0.0
    steps, pumped = np.diff(work), np.diff(most)
    for k in range(1, len(free)):
        if v < whole and steps[k - 1] > 0.0:
            done = float(priming.fill_work(bores, lengths, v)) + float(steps[k - 1])
            v = min(float(priming.filled_volume(bores, lengths, done)), v + float(pumped[k - 1]), whole)
        out[k] = v
    return out


def _least_pan_m3(plan: Plan) -> float:
    """Return the oil in the pan, standing level, under which the pickup takes air [m³]."""
    columns = assemble.pan_columns(plan.sump.boxes)
    deep = np.clip(pickup_place(plan)[2] - columns.foot_m[:, 2], 0.0, columns.height_m)
    return float((columns.area_m2 * deep).sum())


AGAIN_M3 = 0.1e-3
"""[m³] by which oil must stand over a pickup that took air before it pumps again: a vortex holds on; common practice, no source."""


def _masses(
    scenario: Scenario,
    plan: Plan,
    t: Array,
    rpm: Array,
    oil_k: Array,
    primed: Array,
    filled: Array,
    q: Array,
    alive: Flags,
) -> tuple[Masses, Flags]:
    """Return where the oil is, every place counting what comes in and what goes out; and when the pickup has oil to pump, (times,)."""
    dt = scenario.step_s
    rho = oils.density(assemble.oil_of(plan), oil_k)
    sizes = [priming.line_volume(*chain_sizes((*plan.trunk, *it.feed.pieces))) for it in plan.turbos]
    n = len(t)
    into_gallery = float(rho[0]) * GALLERY_M3 * np.maximum(np.diff(np.maximum.accumulate(primed)), 0.0)
    into_lines = sum(
        (v * 0.5 * (rho[1:] + rho[:-1]) * np.diff(f) for v, f in zip(sizes, filled, strict=True)),
        np.zeros(n - 1),
    )
    through = (rho * q).sum(axis=0)
    into_housings = 0.5 * (through[1:] + through[:-1]) * dt
    lost_rate = np.zeros(n)
    for faulty in scenario.faults:
        share = np.array([grown(faulty, float(at)) for at in t]) * faulty.severity
        lost_rate = lost_rate + faulty.fault.loses_m3_s * share * rho * alive
    leaks = 0.5 * (lost_rate[1:] + lost_rate[:-1]) * dt
    filled_in = as_it_is(plan, scenario.faults, tuple(grown(f, float(t[0])) for f in scenario.faults))
    least = _least_pan_m3(plan) * rho
    up_goal = rho * by_speed(plan, "oil_up_l", rpm)
    keep_up, keep_drain = float(np.exp(-dt / UP_S)), float(np.exp(-dt / DRAIN_S))
    pan, engine, housing, lost = np.empty(n), np.empty(n), np.empty(n), np.empty(n)
    fed = np.ones(n, dtype=bool)
    pan[0], engine[0], housing[0], lost[0] = float(rho[0]) * si(filled_in.sump, "fill_l"), 0.0, 0.0, 0.0
    wet = True
    for k in range(n - 1):
        wet = bool(pan[k] > least[k] + (0.0 if wet else AGAIN_M3 * rho[k]))
        fed[k + 1] = wet
        rises = ((float(up_goal[k + 1]) if wet else 0.0) - engine[k]) * (1.0 - keep_up)
        comes, leaves = (float(into_housings[k]), float(leaks[k])) if wet else (0.0, 0.0)
        held = housing[k] * keep_drain + comes / dt * DRAIN_S * (1.0 - keep_drain)
        runs_home = housing[k] + comes - held
        engine[k + 1], housing[k + 1], lost[k + 1] = engine[k] + rises, held, lost[k] + leaves
        taken = float(into_gallery[k]) + float(into_lines[k]) + comes + leaves
        pan[k + 1] = pan[k] - taken - rises + runs_home
    full_gallery = float(rho[0]) * GALLERY_M3 * primed[0]
    full_lines = sum((v * float(rho[0]) * f[0] for v, f in zip(sizes, filled, strict=True)), 0.0)
    return Masses(
        pan,
        engine,
        full_gallery + np.concatenate([[0.0], np.cumsum(into_gallery)]),
        full_lines + np.concatenate([[0.0], np.cumsum(into_lines)]),
        housing,
        lost,
    ), fed
