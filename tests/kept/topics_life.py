# SPDX-License-Identifier: GPL-3.0-or-later
"""What is kept of the life after the plan: cars driven, first starts, seasons, cases and lessons."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.records.entry import Entry
from gravidon.records.shipped import demo_log
from gravidon.study.bench.expected import channels_of, expected
from gravidon.study.bench.first_start import FirstStart
from gravidon.study.bench.steady import steady_readings
from gravidon.study.car.car import Run, Scenario, simulate
from gravidon.study.car.faults import FAULTS, Faulty, as_it_is
from gravidon.study.car.script import script_from
from gravidon.study.car.season import Wear, season
from gravidon.study.car.senses import plain_senders, sensed
from gravidon.study.diagnosis import drills
from gravidon.study.diagnosis.prior import changed, prior
from gravidon.study.diagnosis.report import diagnosis, told_case
from gravidon.study.diagnosis.sick import marked, plain
from gravidon.study.diagnosis.tables import tables
from gravidon.study.diagnosis.trainer import LEVELS, Lesson, begin
from gravidon.study.health.fit import health
from gravidon.study.health.learnt import offers
from gravidon.study.health.outlook import day_after, outlook, said, unclear
from gravidon.study.health.readings import held_against
from gravidon.study.planning.compare import differences
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.senders import calibration
from kept.plans import FAMILIES, plan
from study.following import shown


def first(name: str) -> dict[str, Any]:
    """First starts of sound and faulty cars: what is called, when, and what passes on going on."""
    found: dict[str, Any] = {}
    for key in (
        "",
        "tap-starved",
        "pump-dead",
        "screen",
        "leak",
        "weak-pump",
        "relief-stuck",
        "sender-gallery",
    ):
        faults = (Faulty(FAULTS[key], 0.95),) if key in FAULTS else ()
        p = plan(name).model_copy(update={"senders": plain_senders(plan(name))})
        run = simulate(Scenario(p, script_from("first-start", p), 4, faults, step_s=0.1))
        made = sensed(run, 5.0)
        *_, bands = expected(p, cars=2)
        bench_ = FirstStart(p, bands)
        calls, states = [], []
        for t in shown(bench_, p, made):
            if bench_.stop is not None:
                calls.append([t, bench_.stop.reason, bench_.stop.said.text("metric")])
                bench_.go_on()
                states.append([t, bench_.at])
                if len(calls) > 3:
                    break
        found[key or "sound"] = [calls, states, bench_.at, bench_.arrived, bench_.passed, bench_.turned_s]
    return found


WEARS = {
    "closes": Wear(closing=0.4, gallery=-0.1, passage=0.1),
    "closes fast": Wear(closing=2.5),
    "pump": Wear(gallery=-0.35),
    "worn bearing": Wear(passage=0.4),
    "sound": Wear(),
}


def worn(name: str) -> dict[str, Any]:
    """Seasons of a car that wears, drifts and is read now and then: what is made of them, and of a part of them."""
    p = plan(name)
    found: dict[str, Any] = {}
    for k, (how, wear) in enumerate(WEARS.items()):
        made = season(p, 3 + k, wear, tuple(float(d) for d in range(0, 4001, 800)))
        found[how] = {"season": made} | {
            str(n): told_health(p, made.entries[:n]) for n in (2, len(made.entries))
        }
    return found


def told_health(p: Plan, entries: Sequence[Entry]) -> dict[str, Any] | None:
    """What a logbook says of the feed, and what that makes of the causes of smoke."""
    h = health(p, entries)
    if h is None:
        return None
    o = outlook(h, seed=2)
    return {
        "health": {k: v for k, v in vars(h).items() if isinstance(v, np.ndarray | float | tuple)},
        "outlook": o,
        "odd": h.odd,
        "said": said(h, o).text("metric"),
        "unclear": unclear(h),
        "day": day_after(h, 40.0),
        "changed": changed(h, o),
        "prior": prior(p, tables().of(p), h, o),
        "offers": [
            (o.key, o.said.text("metric"), differences(p, o.plan), o.before, o.after)
            for o in offers(p, entries, h)
        ],
        "held": held_against(p, entries),
    }


DRIVE = "off 3, crank 6, idle 60, 2500 rpm 60 s load=0.3 left=0.4, 5500 rpm 20 s load=1.0 forward=-0.5, idle 40, off 10"


def run_of(name: str, faults: tuple[Faulty, ...] = (), spread: float = 1.0) -> Run:
    """Return a car driven a little."""
    p = plan(name)
    p = p if p.senders else p.model_copy(update={"senders": plain_senders(p)})
    return simulate(Scenario(p, script_from(DRIVE, p), 5, faults, 0.1, 300.0, spread=spread))


def car(name: str) -> dict[str, Any]:
    """The car driven, sound, and what its senders show."""
    run = run_of(name)
    shown = sensed(run, 10.0)
    return {
        "run": {k: v for k, v in vars(run).items() if isinstance(v, np.ndarray)},
        "masses": run.masses,
        "shown": shown,
        "truth": differences(plan(name), run.truth)[:20],
        "steady": steady_readings(run.scenario.plan, shown),
    }


TRIP = "off 2, crank 4, idle 10, 3000 rpm 12 s load=0.5 left=0.5, 5500 rpm 6 s load=1.0 forward=-0.6, idle 4, off 6"


def ailing(name: str) -> dict[str, Any]:
    """A short trip with each fault in turn, some of which grow on the way: where the oil went, and what was felt."""
    p = plan(name)
    p = p if p.senders else p.model_copy(update={"senders": plain_senders(p)})
    found: dict[str, Any] = {}
    for n, (key, fault) in enumerate(FAULTS.items()):
        faulty = Faulty(fault, 0.7, *((12.0, 8.0) if n % 3 == 0 else ()))
        cold = 280.0 + 15.0 * (n % 6)
        try:
            run = simulate(Scenario(p, script_from(TRIP, p), n, (faulty,), 0.1, cold, n % 2 == 0))
            found[key] = [
                run.masses,
                {k: v for k, v in vars(run).items() if isinstance(v, np.ndarray)},
                sensed(run, 2.0).channels,
            ]
        except GravidonError as error:
            found[key] = str(error)
    return found


def sick(name: str) -> dict[str, Any]:
    """The car with each fault in turn: what the plan becomes, and what is felt at the end of a drive."""
    p = plan(name)
    found: dict[str, Any] = {}
    for key, severity in ((k, s) for k in FAULTS for s in (0.6, 0.95)):
        faulty = Faulty(FAULTS[key], severity)
        worse = as_it_is(p, (faulty,), (1.0,))
        row: list[Any] = [
            [(d.what, d.after) if hasattr(d, "after") else str(d) for d in differences(p, worse)]
        ]
        try:
            e = evaluate(worse)
            row += [
                e.feed.inlet_pressure_pa,
                e.drainage.worst_fill,
                e.drainage.freeboard_m,
                e.supply.gallery_pa,
            ]
        except GravidonError as error:
            row.append(str(error))
        found[f"{key} {severity}"] = row
    return found


def bench(name: str) -> dict[str, Any]:
    """What is expected of the first start, and the calls made at one."""
    run = run_of(name)
    p = run.scenario.plan
    *_, bands = expected(p, cars=3)
    return {
        "channels": channels_of(p),
        "bands": bands,
        "at": [
            bands.at(c, rpm, k) for c in channels_of(p) for rpm in (850.0, 3000.0) for k in (300.0, 370.0)
        ],
        "lines": [calibration(s) for s in p.senders],
    }


def years(name: str) -> dict[str, Any]:
    """A season in the logbook, whole and as far as it had come."""
    entries = demo_log(name)
    return {str(n): told_health(plan(name), entries[:n]) for n in (4, len(entries))}


def smoke(name: str) -> dict[str, Any]:
    """A case told, and what is believed of it."""
    told = told_case(
        ["smoke-idle", "no-oil-intake"] if "oil-intake" in tables().signs else ["smoke-idle"], [], None, 1
    )
    entries = demo_log(name) if name in ("coupe", "special") else ()
    return diagnosis(plan(name), told, entries)


def patients(name: str) -> dict[str, Any]:
    """Cases of every level: what the owner tells, what every sign and test says, and what is then believed."""
    found: dict[str, Any] = {}
    for level in range(1, len(LEVELS) + 1):
        play = begin(Lesson(name, level, 3))
        sick = play.sick
        known = tables().of(play.plan)
        for sign in list(known.signs)[::9]:
            play = play.ask(sign) if play.minutes_left > 60.0 else play
        found[str(level)] = {
            "story": play.story,
            "ills": [(i.cause, i.severity) for i in sick.ills],
            "signs": sick.signs,
            "chances": [sick.chance(s) for s in known.signs],
            "outcomes": [sick.outcome(t) for t in known.tests],
            "marked": [marked(sick), plain(play.plan, sick.seed)],
            "case": play.case.text(),
            "left": [play.minutes_left, play.money_left],
            "next": [play.case.minutes(t) for t in known.tests.values()],
        }
    return found


def lessons(name: str) -> dict[str, Any]:
    """Drills by seed."""
    return {
        skill: [make(seed, f) for seed in range(8) for f in FAMILIES]  # type: ignore[arg-type]
        for skill, make in drills.DRILLS.items()
    }
