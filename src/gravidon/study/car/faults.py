# SPDX-License-Identifier: GPL-3.0-or-later
"""What can be wrong with a car: a fault is plan → worse plan, as bad as its severity says, or a sender that lies."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from gravidon.errors import InputError
from gravidon.physics.oil import density, dynamic_viscosity
from gravidon.physics.source import gallery_pressure
from gravidon.plan import paths
from gravidon.plan.fields import Known, si, spec
from gravidon.plan.model import (
    Condition,
    Fitting,
    GaugeReading,
    Hose,
    Piece,
    Plan,
    Point,
    Restrictor,
    ScreenPiece,
)
from gravidon.study.solve.as_bought import as_bought
from gravidon.study.solve.assemble import oil_of, source_fit
from gravidon.translate import commas, tr

Worse = Callable[[Plan, float], Plan]
"""From a plan and a severity (0: sound, 1: as bad as it gets) to the plan of the car as it is."""

MOST_CLOGGED = 0.98
"""[-] of a screen's mesh closed at severity 1."""
SHRED_BORE_M = 0.6e-3
"""[m] of the opening that shreds leave at severity 1 of what would else be the line's bore; common practice, no source."""

MOST_BENDS = 12
"""Bends a plan's drain may have."""


@dataclass(frozen=True)
class Fault:
    """A kind of fault: key, name, what it makes of a plan; the sender's offset [Pa] at severity 1 and which sender, where it is one
    that lies; the oil that is lost [m³/s] at severity 1."""

    key: str
    name: str
    worse: Worse | None = None
    sender: str = ""
    sender_pa: float = 0.0
    loses_m3_s: float = 0.0


@dataclass(frozen=True)
class Faulty:
    """A fault at work: how bad it gets, from when [s], and how long it takes to get there [s]."""

    fault: Fault
    severity: float = 1.0
    from_s: float = 0.0
    over_s: float = 0.0


def _known(plan: Plan, path: str, change: Callable[[float], float]) -> Plan:
    """Return the plan with a number changed and kept within its bounds."""
    old = paths.get(plan, path)
    value = change(old.value if isinstance(old, Known) else old)
    bounds = paths.spec_at(plan, path)
    value = min(max(value, bounds.low), bounds.high)
    return paths.put(plan, path, old.model_copy(update={"value": value}) if isinstance(old, Known) else value)


def _pieces(plan: Plan, change: Callable[[tuple[Piece, ...]], tuple[Piece, ...]]) -> Plan:
    """Return the plan with the first turbo's feed of other pieces."""
    feed = plan.turbos[0].feed
    return _line(plan, feed=feed.model_copy(update={"pieces": change(feed.pieces)}))


def _line(plan: Plan, **changes: Any) -> Plan:
    return plan.model_copy(update={"turbos": (plan.turbos[0].model_copy(update=changes), *plan.turbos[1:])})


def _clogged(plan: Plan, severity: float) -> Plan:
    share = MOST_CLOGGED * severity

    def change(pieces: tuple[Piece, ...]) -> tuple[Piece, ...]:
        if any(isinstance(p, ScreenPiece) for p in pieces):
            return tuple(
                p.model_copy(update={"clogged": max(p.clogged, share)}) if isinstance(p, ScreenPiece) else p
                for p in pieces
            )
        return pieces

    return _pieces(plan, change)


def _choked(plan: Plan, severity: float) -> Plan:
    """Shreds of sealant or tape before the inlet: a small hole in series, or the fitted one made smaller."""
    it = plan.turbos[0]
    hole = it.restrictor
    least = SHRED_BORE_M * 1e3
    open_mm = hole.bore_mm if hole.fitted else min(p.bore_mm for p in it.feed.pieces)
    bore = open_mm - severity * max(open_mm - least, 0.0)
    length = hole.length_mm if hole.fitted else Known(value=1.0)
    return _line(plan, restrictor=Restrictor(fitted=True, bore_mm=bore, length_mm=length))


def _kinked(plan: Plan, severity: float) -> Plan:
    def change(pieces: tuple[Piece, ...]) -> tuple[Piece, ...]:
        first = next(k for k, p in enumerate(pieces) if isinstance(p, Hose))
        bore = pieces[first].bore_mm
        kink = Fitting(shape="90°", bore_mm=max(bore * (1.0 - 0.85 * severity), spec(Fitting, "bore_mm").low))
        return (*pieces[: first + 1], kink, *pieces[first + 1 :])[:20]

    return _pieces(plan, change)


def _weak(plan: Plan, severity: float) -> Plan:
    readings = tuple(
        r.model_copy(update={"pressure_kpa": r.pressure_kpa * (1.0 - 0.6 * severity)})
        for r in plan.engine.readings
    )
    return plan.model_copy(update={"engine": plan.engine.model_copy(update={"readings": readings})})


def _worn(plan: Plan, severity: float) -> Plan:
    return _known(plan, "turbos.0.turbo.reference_flow_l_min", lambda v: v * (1.0 + 1.5 * severity))


def _other_hole(plan: Plan, severity: float) -> Plan:
    """The hole meant for the other bearing kind: small on a journal bearing, none on a ball bearing."""
    it = plan.turbos[0]
    if it.turbo.kind.restrictor_usual:
        wide = it.restrictor.bore_mm + severity * 2.0
        return _line(plan, restrictor=it.restrictor.model_copy(update={"bore_mm": min(wide, 12.0)}))
    open_mm = it.restrictor.bore_mm if it.restrictor.fitted else 4.0
    bore = open_mm - severity * max(open_mm - 0.75, 0.0)
    return _line(plan, restrictor=it.restrictor.model_copy(update={"fitted": True, "bore_mm": bore}))


def _level(litres: float) -> Worse:
    return lambda plan, severity: _known(plan, "sump.fill_l", lambda v: v + litres * severity)


def _drain_choked(plan: Plan, severity: float) -> Plan:
    return _known(plan, "turbos.0.drain.fitting.bore_mm", lambda v: v * (1.0 - 0.8 * severity))


def _breather_blocked(plan: Plan, severity: float) -> Plan:
    return _known(plan, "breather.hose_bore_mm", lambda v: v * (1.0 - 0.8 * severity))


def _valve_stuck_open(plan: Plan, severity: float) -> Plan:
    one_way = plan.breather.one_way and severity < 0.5
    return plan.model_copy(update={"breather": plan.breather.model_copy(update={"one_way": one_way})})


def _blow_by(plan: Plan, severity: float) -> Plan:
    return _known(plan, "breather.blow_by_l_min", lambda v: v * (1.0 + 3.0 * severity))


def _pump_weak(plan: Plan, severity: float) -> Plan:
    return _known(plan, "turbos.0.scavenge.free_l_min", lambda v: v * (1.0 - 0.8 * severity))


def _pump_valve(plan: Plan, severity: float) -> Plan:
    valve = plan.turbos[0].scavenge.valve and severity < 0.5
    return _line(plan, scavenge=plan.turbos[0].scavenge.model_copy(update={"valve": valve}))


def _tap_starved(plan: Plan, severity: float) -> Plan:
    return _known(plan, f"taps.{plan.tap}.offset_kpa", lambda v: v - 120.0 * severity)


def _relief_stuck(plan: Plan, severity: float) -> Plan:
    readings = tuple(
        r.model_copy(update={"pressure_kpa": min(r.pressure_kpa * (1.0 + 0.9 * severity), 2000.0)})
        for r in plan.engine.readings
    )
    plan = plan.model_copy(update={"engine": plan.engine.model_copy(update={"readings": readings})})
    return _known(plan, "engine.relief_kpa", lambda v: v * (1.0 + 1.5 * severity))


def _thin(plan: Plan, severity: float) -> Plan:
    share = 1.0 - 0.45 * severity
    thin = _known(plan, "oil.v100_mm2_s", lambda v: v * share)
    return _as_pumped(plan, _known(thin, "oil.v40_mm2_s", lambda v: v * share))


def _as_pumped(sound: Plan, plan: Plan) -> Plan:
    """Return a plan of other oil with what its gauge then reads: pump, clearances and relief stay those of the sound plan."""
    law, oil = source_fit(sound), oil_of(plan)

    def read(r: GaugeReading) -> float:
        t = si(r, "oil_temperature_c")
        there = gallery_pressure(law, si(r, "rpm"), density(oil, t), dynamic_viscosity(oil, t))
        return round(float(there) / 1e3, 3)

    readings = tuple(r.model_copy(update={"pressure_kpa": read(r)}) for r in plan.engine.readings)
    return plan.model_copy(update={"engine": plan.engine.model_copy(update={"readings": readings})})


def _running(plan: Plan, name: str, change: Callable[[float], float]) -> Plan:
    """Return the plan with one number of every condition with the engine turning changed."""
    bounds = spec(Condition, name)
    conditions = tuple(
        c.model_copy(update={name: min(max(change(getattr(c, name)), bounds.low), bounds.high)})
        if c.kind.turning
        else c
        for c in plan.conditions
    )
    return plan.model_copy(update={"conditions": conditions})


def _frothy(plan: Plan, severity: float) -> Plan:
    return _running(plan, "air_fraction", lambda v: v + 0.22 * severity)


def _tilted(plan: Plan, severity: float) -> Plan:
    plan = _known(
        plan, "turbos.0.turbo.pitch_deg", lambda v: v + 15.0 * severity * (1.0 if v >= 0.0 else -1.0)
    )
    return _known(plan, "turbos.0.turbo.clock_deg", lambda v: v + 20.0 * severity)


def _stands_over(plan: Plan, severity: float) -> Plan:
    """More oil up in engine and cooler while it runs, that comes home when it stops."""
    plan = _known(plan, "sump.fill_l", lambda v: v + 2.0 * severity)
    return _running(plan, "oil_up_l", lambda v: v + 2.0 * severity)


def _bent(plan: Plan, along: float, over_entry_mm: float, severity: float) -> Plan:
    """Return the plan with the first drain bent through one more place, so far along from its last bend to the entry, by so much over the entry."""
    drain = plan.turbos[0].drain
    if len(drain.points) >= MOST_BENDS:
        return plan
    last = drain.points[-1] if drain.points else plan.turbos[0].turbo.drain_flange
    end = drain.entry
    x, y, z = (
        getattr(last, n) + along * (getattr(end, n) - getattr(last, n)) for n in ("x_mm", "y_mm", "z_mm")
    )
    goal = min(end.z_mm + over_entry_mm, z)
    bounds = spec(Point, "z_mm")
    bend = Point(x_mm=x, y_mm=y, z_mm=min(max(z + severity * (goal - z), bounds.low), bounds.high))
    return _line(plan, drain=drain.model_copy(update={"points": (*drain.points, bend)}))


def _dip(plan: Plan, severity: float) -> Plan:
    return _bent(plan, 0.65, -55.0, severity)


def _flat(plan: Plan, severity: float) -> Plan:
    return _bent(plan, 0.45, 2.0, severity)


def _drain_soft(plan: Plan, severity: float) -> Plan:
    return _known(plan, "turbos.0.drain.hose_bore_mm", lambda v: v * (1.0 - 0.75 * severity))


def _flange_choked(plan: Plan, severity: float) -> Plan:
    return _known(plan, "turbos.0.drain.flange_bore_mm", lambda v: v * (1.0 - 0.8 * severity))


def _surge(plan: Plan, severity: float) -> Plan:
    plan = _known(plan, "sump.windage_mm", lambda v: v + 22.0 * severity)
    return _known(plan, "sump.fill_l", lambda v: v + 0.3 * severity)


def _valve_shut(plan: Plan, severity: float) -> Plan:
    return _known(plan, "breather.valve_bore_mm", lambda v: v * (1.0 - 0.9 * severity))


def _thin_wire(plan: Plan, severity: float) -> Plan:
    gauge = min(plan.turbos[0].scavenge.gauge_awg + round(6 * severity), 22)
    plan = _line(plan, scavenge=plan.turbos[0].scavenge.model_copy(update={"gauge_awg": gauge}))
    return _known(plan, "turbos.0.scavenge.wire_mm", lambda v: v * (1.0 + severity))


def _pump_dead(plan: Plan, severity: float) -> Plan:
    return _known(plan, "turbos.0.scavenge.free_l_min", lambda v: v * (1.0 - 0.98 * severity))


def _no_run_on(plan: Plan, severity: float) -> Plan:
    plan = _known(plan, "turbos.0.scavenge.run_on_s", lambda v: v * (1.0 - severity))
    return _known(plan, "turbos.0.scavenge.pot_ml", lambda v: v * (1.0 - 0.9 * severity))


FAULTS: dict[str, Fault] = {
    f.key: f
    for f in (
        Fault("screen", tr("in-line screen clogging"), _clogged),
        Fault("choked", tr("shreds in the inlet orifice"), _choked),
        Fault("kinked", tr("feed hose kinked"), _kinked),
        Fault("wrong-hole", tr("restrictor for the other bearing"), _other_hole),
        Fault("weak-pump", tr("engine's oil pump weak"), _weak),
        Fault("worn", tr("bearing worn open"), _worn),
        Fault("low-oil", tr("oil level low"), _level(-1.5)),
        Fault("high-oil", tr("oil level high"), _level(1.5)),
        Fault("drain-choked", tr("drain choked at its last fitting"), _drain_choked),
        Fault("breather", tr("breather blocked"), _breather_blocked),
        Fault("valve", tr("one-way valve to the intake stuck open"), _valve_stuck_open),
        Fault("blow-by", tr("blow-by of a tired engine"), _blow_by),
        Fault("scavenge", tr("scavenge pump weak"), _pump_weak),
        Fault("scavenge-valve", tr("one-way valve of the scavenge line stuck open"), _pump_valve),
        Fault("tap-starved", tr("tap starved, or its fitting in the gallery"), _tap_starved),
        Fault("relief-stuck", tr("relief valve stuck shut"), _relief_stuck),
        Fault("thin-oil", tr("oil thin or diluted"), _thin),
        Fault("frothy", tr("oil beaten to froth"), _frothy),
        Fault("tilted", tr("housing tilted and clocked"), _tilted),
        Fault("stands-over", tr("oil comes home late and stands over the drain"), _stands_over),
        Fault("dip", tr("dip in the drain"), _dip),
        Fault("flat", tr("level stretch in the drain"), _flat),
        Fault("drain-soft", tr("drain hose collapsed or swollen"), _drain_soft),
        Fault("flange-choked", tr("gasket over the drain's port"), _flange_choked),
        Fault("surge", tr("oil surging over the entry"), _surge),
        Fault("valve-shut", tr("one-way valve to the intake shut"), _valve_shut),
        Fault("thin-wire", tr("wire to the scavenge pump too thin"), _thin_wire),
        Fault("pump-dead", tr("scavenge pump dead or without prime"), _pump_dead),
        Fault("no-run-on", tr("pot too small, no run-on"), _no_run_on),
        Fault("leak", tr("leak in the feed"), None, loses_m3_s=8e-6),
        Fault("sender-gallery", tr("gallery sender drifting"), None, "gallery", 60e3),
        Fault("sender-inlet", tr("inlet sender drifting"), None, "inlet", 60e3),
    )
}  # fmt: skip
"""By key; how much worse severity 1 is: common practice, no source."""


def faulty_from(text: str) -> Faulty:
    """Return the fault a text says: `screen`, `screen=0.7`, `choked=0.9@40+20` (as bad as 0.9, from 40 s, over 20 s).

    Raises: InputError if there is no such fault, or its numbers cannot be used.
    """
    key, _, rest = text.partition("=")
    severity, _, when = rest.partition("@")
    start, _, over = when.partition("+")
    if key not in FAULTS:
        raise InputError("fault", key, tr("one of {known}").format(known=commas(FAULTS)))
    try:
        made = Faulty(FAULTS[key], float(severity or 1.0), float(start or 0.0), float(over or 0.0))
    except ValueError as error:
        raise InputError("fault", text, "a fault such as 'screen=0.7@40+20'") from error
    if not (0.0 <= made.severity <= 1.0 and made.from_s >= 0.0 and made.over_s >= 0.0):
        raise InputError("fault", text, "a severity of 0 to 1, and times of 0 or more")
    return made


def as_it_is(plan: Plan, faults: tuple[Faulty, ...], shares: tuple[float, ...]) -> Plan:
    """Return the plan of the car with its faults, each as far as its share of its own severity. The parts chosen are let go, their figures kept: what is wrong with the car
    is no longer what was bought."""
    bought = _let_go(plan)
    worse = bought
    for faulty, share in zip(faults, shares, strict=True):
        if faulty.fault.worse is not None and share > 0.0:
            worse = faulty.fault.worse(worse, faulty.severity * share)
    return plan if worse == bought else worse


def _let_go(plan: Plan) -> Plan:
    plan = as_bought(plan)
    turbos = tuple(
        it.model_copy(update={"parts": it.parts.model_copy(update={"feed": (), "drain": ()})})
        for it in plan.turbos
    )
    return plan.model_copy(update={"turbos": turbos})


def grown(faulty: Faulty, at_s: float) -> float:
    """Return how far a fault has grown at a time, 0 to 1."""
    if faulty.over_s <= 0.0:
        return 1.0 if at_s >= faulty.from_s else 0.0
    return min(max((at_s - faulty.from_s) / faulty.over_s, 0.0), 1.0)
