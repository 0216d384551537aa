# SPDX-License-Identifier: GPL-3.0-or-later
"""A drive replayed: when and where on it the seals would have wetted."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan.drive_log import DriveLog
from gravidon.plan.fields import Known, si, spec
from gravidon.plan.model import Plan
from gravidon.plan.units import si_to_file
from gravidon.study.home.envelope import LEAST_UPRIGHT
from gravidon.study.solve import assemble
from gravidon.study.solve.at_points import Points, pressure_side
from gravidon.study.solve.drain_route import route
from gravidon.study.solve.evaluate import Evaluation, evaluate
from gravidon.study.solve.gravity import Standing, Stream, gravity_sides
from gravidon.study.solve.lift_off import LEAST_G

STEP_S = 0.1
"""[s] at which the drive is looked at; the oil's plane does not follow faster."""
SLOSH_S = 0.3
"""[s] the oil's plane lags behind the car; common practice, no source."""
LEAST_RPM = 100.0
"""[rpm] below which a moment of a drive is drawn as barely turning; project choice."""
CHUNK = 600
PIECES = 20


@dataclass(frozen=True)
class WetSpell:
    """A time on the drive when oil stood at a seal: from, to [s], where [m] if logged, and the worst moment."""

    start_s: float
    end_s: float
    distance_m: float
    worst_s: float
    forward_g: float
    left_g: float
    freeboard_m: float


@dataclass(frozen=True)
class Replay:
    """A drive replayed for one turbo, arrays (times,).

    Fields: time [s]; accelerations as the oil follows them [g]; the freeboard the oil tends to [m]; how far
    the free volume has filled (1: a seal is wet) [-]; oil over the entry [m]; inlet pressure [Pa]; the spells
    in which a seal is wet; and what plan and log it is of.
    """

    log: DriveLog
    turbo: int
    time_s: Array
    forward_g: Array
    left_g: Array
    freeboard_m: Array
    filled: Array
    over_entry_m: Array
    inlet_pa: Array
    spells: tuple[WetSpell, ...]

    @property
    def share(self) -> float:
        """How much of the drive has been replayed [-]."""
        return min(float(self.time_s[-1]) / max(self.log.seconds, 1e-9), 1.0) if len(self.time_s) else 0.0


def lagged(value: Array, step_s: float, lag_s: float) -> Array:
    """Return a signal as a first-order lag follows it: y' = (x - y)/lag, at rest on its first value."""
    keep = float(np.exp(-step_s / lag_s))
    from scipy.signal import lfilter

    result, _ = lfilter([1.0 - keep], [1.0, -keep], value, zi=[keep * value[0]])
    return np.asarray(result, dtype=np.float64)


def filling(rate_per_s: Array, step_s: float) -> Array:
    """Return how full the free volume is, 0 to 1, when it fills at a rate and empties at a negative one."""
    out, level = np.empty_like(rate_per_s), 0.0
    for k, rate in enumerate(rate_per_s):
        level = min(max(level + float(rate) * step_s, 0.0), 1.0)
        out[k] = level
    return out


def by_speed(plan: Plan, name: str, rpm: Array) -> Array:
    """Return what a log does not hold, in SI, straight between the plan's running conditions by engine speed.

    Where several conditions share a speed their mean counts; with the engine off, the value of rest: 0.
    """
    rows = [(c.rpm, si(c, name)) for c in plan.conditions if c.kind.turning and c.kind.warm]
    if not rows:
        return np.zeros_like(rpm)
    speeds = sorted({r for r, _ in rows})
    values = [float(np.mean([v for r, v in rows if r == s])) for s in speeds]
    return np.where(rpm > 0.0, np.interp(rpm, speeds, values), 0.0)


FROM_SPEED = (
    "load",
    "air_fraction",
    "oil_up_l",
    "blow_by_share",
    "intake_kpa",
    "crankcase_kpa",
)
"""What a log does not hold: taken by engine speed from the plan's conditions."""


def moment(e: Evaluation, drive: Replay, at_s: float) -> Evaluation:
    """Return one moment of a drive as an evaluation with a single condition, as if it lasted: what a drawing of it shows.

    The log's own speed, oil temperature and accelerations; the rest by speed, as `replay` takes it. Body roll is in the
    accelerations of a sensor on the body already.

    Args:
        e: the evaluation that the drive was replayed with.
        drive: the replay.
        at_s: time on the drive [s].

    Raises: GravidonError if the moment cannot be computed.
    """
    plan, log = e.plan, drive.log
    k = min(int(np.searchsorted(drive.time_s, at_s)), len(drive.time_s) - 1)
    rpm = max(float(np.interp(at_s, log.time_s, log.rpm)), LEAST_RPM)
    running = [c for c in plan.conditions if c.kind.turning and c.kind.warm]
    if not running:
        running = [c for c in plan.conditions if c.kind.turning]
    nearest = min(running, key=lambda c: abs(c.rpm - rpm))
    taken = {
        name: si_to_file(float(by_speed(plan, name, np.array([rpm]))[0]), spec(nearest, name).kind)
        for name in FROM_SPEED
    }
    pushed = _wheel_side(plan, np.array([rpm]), drive.forward_g[k : k + 1], drive.left_g[k : k + 1])
    now = nearest.model_copy(
        update={
            **taken,
            "wheel_side_kpa": si_to_file(float(pushed[0]), "kpa_small"),
            "rpm": rpm,
            "oil_temperature_c": float(np.interp(at_s, log.time_s, log.oil_k)) - 273.15,
            "forward_g": float(drive.forward_g[k]),
            "left_g": float(drive.left_g[k]),
            "nose_up_deg": 0.0,
            "left_side_up_deg": 0.0,
            "duration_s": 0.0,
        }
    )
    still = {name: Known(value=0.0) for name in ("roll_deg_g", "lift_deg_g")}
    engine = plan.engine.model_copy(update=still)
    return evaluate(plan.model_copy(update={"conditions": (now,), "engine": engine})).of(e.index)


def replay(e: Evaluation, log: DriveLog) -> Iterator[Replay]:
    """Yield the replay as far as it has come, after every chunk; the last one is whole.

    The car's accelerations pass a first-order lag; at every step the steady freeboard and the time to fill
    the free volume are computed as for a condition; the volume fills at 1/(time to wet) while the steady
    state would wet a seal and empties as fast otherwise (project choice: an emptying line is not slower
    than a filling one).
    """
    t = np.arange(0.0, log.seconds + 0.5 * STEP_S, STEP_S)

    def at(values: Array) -> Array:
        result: Array = np.interp(t, log.time_s, values)
        return result

    ahead, left = (lagged(at(v), STEP_S, SLOSH_S) for v in (log.forward_g, log.left_g))
    rpm, oil_k = at(log.rpm), at(log.oil_k)
    measured = None if log.pressure_pa is None else at(log.pressure_pa)
    pieces: list[tuple[Array, ...]] = []
    for start in range(0, len(t), CHUNK):
        rows = slice(start, min(start + CHUNK, len(t)))
        part = None if measured is None else measured[rows]
        pieces.append(_chunk(e, ahead[rows], left[rows], rpm[rows], oil_k[rows], part))
        yield _gathered(e, log, t, ahead, left, pieces)


def _chunk(
    e: Evaluation, ahead: Array, left: Array, rpm: Array, oil_k: Array, pressure: Array | None
) -> tuple[Array, ...]:
    """Return steady freeboard [m], filling rate [1/s], oil over the entry [m] and inlet pressure [Pa]."""
    turning = rpm > 50.0
    speed = np.where(turning, rpm, 0.0)
    streams, inlets = _streams(e, speed, oil_k, pressure)
    free, rate, over = freeboard_and_rate(e, ahead, left, speed, streams)
    return free, rate, over, inlets[e.index]


def freeboard_and_rate(
    e: Evaluation,
    ahead: Array,
    left: Array,
    speed: Array,
    streams: list[Stream],
    fixed_to_body: bool = True,
) -> tuple[Array, Array, Array]:
    """Return the steady freeboard [m], how fast the free volume fills [1/s] (negative: empties), and oil over the entry [m], (times,).

    Args:
        e: the evaluation of the turbo.
        ahead, left: accelerations as the oil follows them [g].
        speed: engine speed [rpm], 0 where it stands.
        streams: what every turbo sends down its drain.
        fixed_to_body: whether the accelerations come from a sensor that feels the body's roll already.

    Raises: GravidonError if the gravity side cannot be computed.
    """
    plan = e.plan
    turning = speed > 0.0
    up, g = assemble.felt_up(plan, ahead, left, fixed_to_body=fixed_to_body)
    up = _steep_enough(up)
    crank = np.interp(speed, *_crankcase(e))
    stand = Standing(
        up=up,
        gravity_m_s2=g,
        pan_oil_m3=np.maximum(si(plan.sump, "fill_l") - by_speed(plan, "oil_up_l", speed), 0.0),
        turning=turning,
        air=by_speed(plan, "air_fraction", speed),
        crankcase_pa=crank,
        wheel_side_pa=_wheel_side(plan, speed, ahead, left),
        seconds=np.full(len(speed), np.inf),
    )
    routes = [route(plan, it, PIECES) for it in plan.turbos]
    d = gravity_sides(plan, stand, streams, routes)[e.index]
    wet = d.freeboard_m < 0.0
    fastest = 1.0 / STEP_S
    seconds = np.maximum(d.time_to_wet_s, STEP_S)
    typical = _emptying(e, streams[e.index].flow_m3_s)
    rate = np.where(wet, np.minimum(1.0 / seconds, fastest), -typical)
    return d.freeboard_m, rate, d.submergence_m


def _steep_enough(up: Array) -> Array:
    """Return unit vectors stood up where a log's spike would lay the oil's plane on its side."""
    z = np.maximum(up[:, 2], LEAST_UPRIGHT)
    flat = np.linalg.norm(up[:, :2], axis=1)
    wanted = np.sqrt(1.0 - z * z)
    share = np.where(flat > wanted, wanted / np.maximum(flat, 1e-9), 1.0)
    return np.column_stack([up[:, 0] * share, up[:, 1] * share, z])


def _emptying(e: Evaluation, flow: Array) -> Array:
    """Return how fast a filled line empties [1/s]: its cavity and hose at the turbo's own flow, at least in 10 s."""
    inside = float((np.pi / 4.0 * e.route.bore_m**2 * e.route.length_m).sum()) + si(e.line.turbo, "cavity_ml")
    return np.maximum(flow / max(inside, 1e-9), 0.1)


def _crankcase(e: Evaluation) -> tuple[Array, Array]:
    rows = sorted(
        {c.rpm: float(p) for c, p in zip(e.plan.conditions, e.breathing.crankcase_pa, strict=True)}.items()
    )
    return np.array([r for r, _ in rows]), np.array([p for _, p in rows])


PUSHED_G = 0.1
"""[g] forward from which a drive is under boost whatever else it does; common practice, no source."""


def _wheel_side(plan: Plan, speed: Array, ahead: Array, left: Array) -> Array:
    """Return the pressure at the wheels [Pa gauge] along a drive, (times,): as the conditions have it by speed, but in a corner or a braking
    in which nothing pushes the car, where the throttle may be shut: that of overrun at the most."""
    usual = by_speed(plan, "wheel_side_kpa", speed)
    shut = (speed > 0.0) & (ahead <= PUSHED_G) & (np.hypot(np.minimum(ahead, 0.0), left) >= LEAST_G)
    return np.where(shut, np.minimum(usual, si(plan.engine, "overrun_kpa")), usual)


def pumped_at(e: Evaluation, rpm: Array) -> Array | None:
    """Return what a turbo's scavenge pump takes [m³/s] while the engine turns, (times,); None without one."""
    if e.line.drain_by != "scavenge":
        return None
    return np.where(rpm > 0.0, float(e.scavenging.delivery_m3_s.max(initial=0.0)), 0.0)


def _streams(
    e: Evaluation, rpm: Array, oil_k: Array, pressure: Array | None
) -> tuple[list[Stream], list[Array]]:
    side = pressure_side(e.plan, Points(rpm, oil_k), e.supply.fit, pressure)
    streams = []
    for lens, b in zip(e.all, side.branches, strict=True):
        streams.append(Stream(b.flow_m3_s, b.outlet_temperature_k, pumped_at(lens, rpm)))
    return streams, [b.inlet_pressure_pa for b in side.branches]


def _gathered(
    e: Evaluation, log: DriveLog, t: Array, ahead: Array, left: Array, pieces: list[tuple[Array, ...]]
) -> Replay:
    free, rate, over, inlet = (np.concatenate([p[k] for p in pieces]) for k in range(4))
    n = len(free)
    filled = filling(rate, STEP_S)
    t, ahead, left = t[:n], ahead[:n], left[:n]
    return Replay(
        log, e.index, t, ahead, left, free, filled, over, inlet, _spells(log, t, ahead, left, free, filled)
    )


def _spells(
    log: DriveLog, t: Array, ahead: Array, left: Array, free: Array, filled: Array
) -> tuple[WetSpell, ...]:
    wet = filled >= 1.0
    edges = np.flatnonzero(np.diff(np.concatenate([[0], wet.astype(int), [0]])))
    spells = []
    for start, end in zip(edges[::2], edges[1::2], strict=True):
        worst = int(start + free[start:end].argmin())
        where = float("nan")
        if log.distance_m is not None:
            where = float(np.interp(t[start], log.time_s, log.distance_m))
        spells.append(
            WetSpell(
                float(t[start]),
                float(t[end - 1]) + STEP_S,
                where,
                float(t[worst]),
                float(ahead[worst]),
                float(left[worst]),
                float(free[worst]),
            )
        )
    return tuple(spells)
