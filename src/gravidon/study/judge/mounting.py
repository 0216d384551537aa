# SPDX-License-Identifier: GPL-3.0-or-later
"""Judged quantities of how things are mounted: the seat, the pan's wall, the breather, the scavenge pump."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from gravidon.parts import sources
from gravidon.parts.entry_means import threads_held
from gravidon.parts.threads import THREADS
from gravidon.physics.arrays import Array
from gravidon.plan.fields import Known, si
from gravidon.study.judge.quantity import BAD, HOLDS, NOTE, WATCH, Quantity, bad_below, watch_below
from gravidon.study.solve.assemble import turning
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.seating import Seating, cavity_oil, seating
from gravidon.words.text import N_, Amount, Message, Number, tr

# --- seat ------------------------------------------------------------------------------------


TURN_SCALE_RAD = float(np.radians(10.0))
TURN_BAND = 0.25
"""Scale of an angle's margin, and the band before its limit (2.5°) within which it is to be watched: measured limits spread
from 7 to 13.5°. Project choice."""


def _turned(
    code: str,
    name: str,
    title: str,
    text: dict[str, str],
    why: str,
    value: Callable[[Seating], float],
    limit: Callable[[Seating], float],
    field: str,
    rests_on: str,
) -> Quantity:
    """Return the quantity of a housing turned one way, against its limit by the car's use."""

    def known(e: Evaluation) -> Known:
        found: Known = getattr(e.line.turbo, field)
        return found

    return Quantity(
        code=code,
        name=name,
        kind="deg",
        station="seat",
        sign=-1,
        value=lambda e: value(seating(e)) - 1e-9,
        limit=lambda e: limit(seating(e)),
        source_path=f"line.turbo.{field}",
        message=Message(
            title,
            text,
            why,
        ),
        scale=TURN_SCALE_RAD,
        grade=bad_below(0.0, TURN_BAND),
        axis="plan",
        numbers=lambda e, i: {
            "angle": float(np.degrees(value(seating(e)))),
            "most": float(np.degrees(limit(seating(e)))),
            "use": tr(e.plan.use),
        },
        variant=lambda e, i: "usual" if known(e).basis == "guess" else "own",
        rests_on=(rests_on,),
    )


TILT = _turned(
    "tilt",
    N_("tilt"),
    N_("Shaft tilted too far"),
    {
        "usual": N_("The shaft is tilted by {angle:.0f}°; the limit is {most:.0f}° for a {use} car."),
        "own": N_("The shaft is tilted by {angle:.0f}°; the limit is {most:.0f}°."),
    },
    N_("Oil stays lying at the lower seal, and no pump on the drain gets it out of that corner."),
    lambda s: s.tilt_rad,
    lambda s: s.tilt_limit_rad,
    "tilt_max_deg",
    "turbo.tilt",
)

CLOCK = _turned(
    "clock",
    N_("off straight down"),
    N_("Drain turned off straight down"),
    {
        "usual": N_(
            "The drain points off straight down by {angle:.0f}°; the limit is {most:.0f}° for a {use} car."
        ),
        "own": N_("The drain points off straight down by {angle:.0f}°; the limit is {most:.0f}°."),
    },
    N_("The cavity's lowest place is then no longer its outlet."),
    lambda s: s.clock_rad,
    lambda s: s.clock_limit_rad,
    "clock_max_deg",
    "turbo.clock_max",
)


LYING = Quantity(
    code="lying",
    name=N_("oil stays below the seal by"),
    kind="mm",
    station="seat",
    sign=1,
    value=lambda e: np.where(turning(e.plan), np.nan, seating(e).stays_below_seal_m),
    limit=0.0,
    scale=0.02,
    message=Message(
        N_("Oil stays at a seal after shut-down"),
        N_("In {condition} {oil} stay in the cavity, {over} over the bottom of a seal."),
        N_("It seeps past the ring overnight, or bakes to carbon on the turbine side."),
    ),
    numbers=lambda e, i: {
        "oil": Amount(float(cavity_oil(e).stays_m3[i]), "ml"),
        "over": Amount(-float(seating(e).stays_below_seal_m[i]), "mm"),
    },
    rests_on=("turbo.shaft", "turbo.seal"),
    source=sources.COMPUTED,
)

# --- entry -----------------------------------------------------------------------------------


def _held(e: Evaluation) -> float:
    fitting = e.line.drain.fitting
    if not e.route.ends_in_fitting:
        return float("nan")
    return min(threads_held(fitting.means, fitting.port_thread, e.plan.sump.wall_mm.value), MANY_THREADS)


MANY_THREADS = 99.0
"""What counts as threads held where none are needed: a bung or a nut holds instead."""


def _thread(e: Evaluation, i: int) -> Mapping[str, Number]:
    thread = THREADS[e.line.drain.fitting.port_thread]
    return {
        "wall": Amount(si(e.plan.sump, "wall_mm"), "mm"),
        "thread": e.line.drain.fitting.port_thread,
        "held": _held(e),
        "need": e.plan.needs.threads_min.value,
        "pitch": thread.pitch_mm,
        "standard": thread.standard,
    }


HELD_THREADS, LEAST_THREADS = 2.0, 1.5
"""Full threads that a sealed taper holds by (two to four are widely built), and below which it does not; common practice, no source."""


def _threads_grade(e: Evaluation, margin: Array) -> np.ndarray:
    """A note from two threads up to what is wanted, to be watched just below two, bad below that."""
    held = _held(e)
    found = NOTE if held >= HELD_THREADS else WATCH if held >= LEAST_THREADS else BAD
    return np.where(margin < 0.0, found, HOLDS)


THREADS_HELD = Quantity(
    code="threads-few",
    name=N_("threads held"),
    kind="count",
    station="entry",
    sign=1,
    value=_held,
    limit="needs.threads_min",
    message=Message(
        N_("Wall holds too few threads"),
        N_("A wall of {wall} holds {held:.1f} threads of {thread}; {need:.0f} are wanted."),
        N_("Pitch {pitch:.2f} mm ({standard}): hose and heat work a short thread loose."),
    ),
    grade=_threads_grade,
    axis="plan",
    numbers=_thread,
    rests_on=("needs.threads",),
)

# --- breather --------------------------------------------------------------------------------

CRANKCASE_BAD = 2.0
"""[-] over the most crankcase pressure, as a share of it, from which it is bad with an open drain too: gas then goes up the drain
against the oil and past the seals (3 kPa where 1 is the most); common practice, no source."""

CRANKCASE = Quantity(
    code="crankcase",
    name=N_("crankcase"),
    kind="kpa_small",
    station="breather",
    sign=-1,
    value=lambda e: e.breathing.crankcase_pa,
    limit="needs.crankcase_max_kpa",
    message=Message(
        N_("Crankcase pressure high"),
        N_("In {condition} the crankcase stands at {value}; {limit} is the most wanted."),
        N_("It pushes oil past gaskets and, wherever the drain runs full, up towards the seals."),
    ),
    grade=bad_below(-CRANKCASE_BAD),
    shared=True,
    rests_on=("breather", "needs.crankcase"),
)

VACUUM_BAD = 2.0
"""[-] over the most vacuum, as a share of it, from which it is bad: seals made to keep oil in then let air and dirt in, and the
turbo's pull oil out of its housing; common practice, no source."""

VACUUM = Quantity(
    code="vacuum",
    name=N_("crankcase vacuum"),
    kind="kpa_small",
    station="breather",
    sign=-1,
    value=lambda e: np.where(e.breathing.crankcase_pa < 0.0, -e.breathing.crankcase_pa, np.nan),
    limit="needs.vacuum_max_kpa",
    message=Message(
        N_("Crankcase vacuum deep"),
        N_("In {condition} the intake pulls the crankcase down by {value}; {limit} is the most wanted."),
        N_(
            "Shaft seals are made to hold oil in, not air out: dust is drawn in, and oil foams. Let filtered air in."
        ),
    ),
    grade=bad_below(-VACUUM_BAD),
    shared=True,
    rests_on=("breather", "needs.vacuum"),
)

LEAST_BACK_M3_S = 1e-5
"""[m³/s] of boost into the crankcase that is told; project choice."""

BOOST_BACK = Quantity(
    code="boost-back",
    name=N_("into the intake"),
    kind="l_min",
    station="breather",
    sign=1,
    value=lambda e: np.where(e.breathing.intake_m3_s < -LEAST_BACK_M3_S, e.breathing.intake_m3_s, np.nan),
    limit=-LEAST_BACK_M3_S,
    scale=1e-3,
    message=Message(
        N_("Boost in the crankcase"),
        N_("In {condition} boost blows {back} back into the crankcase."),
        N_("A plain valve opens both ways once the intake is under boost; a real one-way valve does not."),
    ),
    shared=True,
    numbers=lambda e, i: {"back": Amount(-float(e.breathing.intake_m3_s[i]), "l_min")},
    rests_on=("breather",),
    source=sources.COMPUTED,
)

# --- scavenge --------------------------------------------------------------------------------


def pumped(e: Evaluation) -> bool:
    """Return whether the turbo's drain is pumped."""
    return e.line.drain_by == "scavenge"


def _in_hand(e: Evaluation) -> Array:
    """Return what the pump takes over what comes [-]; NaN where nothing flows or nothing is pumped."""
    if not pumped(e):
        return np.full(len(e.names), np.nan)
    s = e.scavenging
    flowing = s.bulk_m3_s > 0.0
    return np.where(flowing, s.delivery_m3_s / np.where(flowing, s.bulk_m3_s, 1.0), np.nan)


def _pump_grade(e: Evaluation, margin: Array) -> np.ndarray:
    return np.where(margin < 0.0, np.where(_in_hand(e) < 1.0, BAD, WATCH), HOLDS)


PUMP_WEAK = Quantity(
    code="pump-weak",
    name=N_("pump takes, times what comes"),
    kind="share",
    station="scavenge",
    sign=1,
    value=_in_hand,
    limit="needs.pump_margin",
    message=Message(
        N_("Scavenge pump too weak"),
        N_(
            "In {condition} {bulk} of froth come and the pump takes {takes}, {times:.1f} times that; {need:g} times "
            "is wanted."
        ),
        N_("Froth fills a pump with air: it must take the bulk, not the oil, at the volts that reach it."),
    ),
    grade=_pump_grade,
    numbers=lambda e, i: {
        "bulk": Amount(float(e.scavenging.bulk_m3_s[i]), "l_min"),
        "takes": Amount(float(e.scavenging.delivery_m3_s[i]), "l_min"),
        "times": float(_in_hand(e)[i]),
        "need": e.plan.needs.pump_margin.value,
    },
    rests_on=("scavenge", "needs.pump"),
)

WIRE_BAND = 0.07
"""[-] of the supply's volts below the limit within which a thin wire is only to be watched; common practice, no source."""

WIRE_THIN = Quantity(
    code="wire-thin",
    name=N_("volts at the pump"),
    kind="share",
    station="scavenge",
    sign=1,
    value=lambda e: e.scavenging.volts_share if pumped(e) else np.nan,
    limit="needs.volts_min",
    scale=0.1,
    message=Message(
        N_("Wire too thin"),
        N_("{lost} of {supply} are lost on the way; the pump gets {volts}, {value:%}; {limit:%} is wanted."),
        N_("A pump slows with its volts, most when the alternator is off and the oil is thick."),
    ),
    grade=bad_below(-WIRE_BAND / 0.1),
    axis="plan",
    numbers=lambda e, i: {
        "lost": Amount(e.scavenging.wire_drop_v, "v"),
        "supply": Amount(e.line.scavenge.supply_v.value, "v"),
        "volts": Amount(e.scavenging.volts, "v"),
    },
    rests_on=("scavenge.wire", "scavenge.current"),
)

SUCTION = Quantity(
    code="suction",
    name=N_("suction height"),
    kind="run",
    station="scavenge",
    sign=-1,
    value=lambda e: e.scavenging.suction_m if pumped(e) else np.nan,
    limit=lambda e: e.scavenging.suction_can_m,
    source_path="line.scavenge.self_priming_mm",
    scale=0.1,
    message=Message(
        N_("Pump too high to prime"),
        N_("The pump sits {value} above the pot; it primes itself from {limit}."),
        N_("A gear pump lifts oil it already holds; dry and frothy it lifts little."),
    ),
    axis="plan",
    rests_on=("scavenge.self",),
)

FLOODS = Quantity(
    code="floods",
    name=N_("comes down after key-off"),
    kind="ml",
    station="scavenge",
    sign=-1,
    value=lambda e: e.scavenging.comes_down_m3 if pumped(e) else np.nan,
    limit=lambda e: e.scavenging.pot_m3 + e.scavenging.pumped_m3 + 1e-7,
    message=Message(
        N_("Pot floods after key-off"),
        N_("After key-off {value} come down; pot and run-on take {limit}."),
        N_("What finds no room stands in the drain and in the housing."),
    ),
    grade=watch_below(),
    axis="plan",
    rests_on=("scavenge.pot",),
    source=sources.COMPUTED,
)

MOUNTING = (
    TILT, CLOCK, LYING, THREADS_HELD, CRANKCASE, VACUUM, BOOST_BACK, PUMP_WEAK, WIRE_THIN, SUCTION, FLOODS
)  # fmt: skip
