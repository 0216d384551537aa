# SPDX-License-Identifier: GPL-3.0-or-later
"""What is kept: the answers of physics and study to a set of plans, by topic."""

from __future__ import annotations

import random
from collections.abc import Callable, Mapping
from contextlib import suppress
from functools import cache
from itertools import islice
from types import SimpleNamespace
from typing import Any

import numpy as np

from gravidon.errors import GravidonError
from gravidon.physics import sump
from gravidon.plan import demos, paths
from gravidon.plan.drive_log import guess_mapping, headings, read_log
from gravidon.plan.fields import Known
from gravidon.plan.model import Plan, Shape
from gravidon.records.shipped import demo_log
from gravidon.study.bench.expected import channels_of, expected
from gravidon.study.bench.first_start import FirstStart, Sample
from gravidon.study.bench.steady import steady_readings
from gravidon.study.car.car import Run, Scenario, simulate
from gravidon.study.car.faults import FAULTS, Faulty, as_it_is
from gravidon.study.car.script import script_from
from gravidon.study.car.season import Wear, season
from gravidon.study.car.senses import plain_senders, sensed
from gravidon.study.diagnosis import drills
from gravidon.study.diagnosis.report import diagnosis, told_case
from gravidon.study.diagnosis.tables import tables
from gravidon.study.health.fit import health
from gravidon.study.health.learnt import offers
from gravidon.study.health.outlook import day_after, outlook, said, unclear
from gravidon.study.health.readings import held_against
from gravidon.study.home import photos
from gravidon.study.home.breather_choice import breather_choice
from gravidon.study.home.entry_map import entry_map, moved_entry, place_problems
from gravidon.study.home.envelope import envelope, look_at
from gravidon.study.home.oil_lines import levels_at_entry, oil_lines
from gravidon.study.home.replay import moment, replay
from gravidon.study.judge.table import judged, worst_by_condition
from gravidon.study.making.cutting import cuts, entry_template, order_list
from gravidon.study.making.parts_list import runs
from gravidon.study.making.plates import plates
from gravidon.study.making.sequence import joints_at, progress, sequence
from gravidon.study.planning.board import Effort
from gravidon.study.planning.choices import places
from gravidon.study.planning.compare import differences, outcomes, taken
from gravidon.study.planning.feeds import feed_on
from gravidon.study.planning.freedom import allowed, holds, read_hold, with_hold
from gravidon.study.planning.homes import homes_on, relaid
from gravidon.study.planning.merit import weighed, with_chance
from gravidon.study.planning.reasons import why_not
from gravidon.study.planning.refine import mended
from gravidon.study.planning.report import report as planned
from gravidon.study.planning.search import search
from gravidon.study.planning.small import combinations
from gravidon.study.planning.ways import drain_way, feed_way, keepouts, model_points
from gravidon.study.solve import assemble, scavenging
from gravidon.study.solve.as_bought import as_bought
from gravidon.study.solve.at_points import Points, pressure_side
from gravidon.study.solve.evaluate import Evaluation, evaluate
from gravidon.study.solve.heat_soak import heat_soak
from gravidon.study.solve.lift_off import lift_off
from gravidon.study.solve.pickup import pickup_cover
from gravidon.study.solve.priming import arrival
from gravidon.study.solve.reserve import reserve
from gravidon.study.solve.run_review import nearness, review
from gravidon.study.solve.seating import cavity_oil, seating
from gravidon.study.solve.senders import calibration, converted
from gravidon.study.solve.split import split_shares, unevenness
from gravidon.study.solve.wall import behind_room_m, bolt_places, spanner_room_m, walls
from gravidon.study.supply.cascade import cascade
from gravidon.study.supply.gallery import gallery_curves
from gravidon.study.supply.house_rules import house_rules
from gravidon.study.supply.operating_map import operating_map
from gravidon.study.supply.restrictor_choice import choose
from gravidon.study.supply.tap_choice import compare_taps, with_new_tap
from gravidon.study.verdict.certainty import certainty, deciders, uncertain_inputs
from gravidon.study.verdict.drain_choice import both_ways
from gravidon.study.verdict.remedies import MAKERS, remedies
from gravidon.study.verdict.report import report, verdict_sentence, verdict_words
from gravidon.study.verdict.trials import trial
from robust.sampling import random_plan
from study.families import case, family

LIGHT = Effort(asked=12, rounds=1, cured=1, places=1, weighed=6, shown=4, samples=4)
FAMILIES = ("metric", "imperial")
SIMPLE = ("valve", "plain pump", "twin", "screen", "gravity")


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
HARD = ("hard low", "hard flooded", "hard starved", "hard pumped")


# --- the topics -----------------------------------------------------------------------------


def answers(name: str) -> dict[str, Any]:
    """The core's arrays for every turbo."""
    e = evaluate(plan(name))
    return {
        "network": e.network,
        "stand": e.gravity.stand,
        "breathing": e.breathing,
        "warnings": [str(w) for w in e.warnings],
        "turbos": [_one(lens) for lens in e.all],
        "share": [split_shares(e), unevenness(e)],
        "arrival": arrival(e.plan, e.supply),
        "guesses": e.short_guesses,
    }


def _one(e: Evaluation) -> dict[str, Any]:
    k, it = e.index, e.line
    return {
        "feed": e.feed,
        "window": e.window_pa,
        "least": e.flow_min_m3_s,
        "route": SimpleNamespace(**vars(e.route)).__dict__,
        "drainage": e.drainage,
        "scavenging": e.scavenging,
        "reserve": reserve(e),
        "pickup": pickup_cover(e),
        "lift": lift_off(e),
        "soak": heat_soak(e),
        "review": review(e),
        "near": nearness(e),
        "seat": seating(e),
        "cavity": cavity_oil(e),
        "gauge": assemble.gauge_pressure(it, e.feed),
        "chart": scavenging.pump_chart(e.plan, it, e.drainage.froth, 13.0, 0),
        "spanner": spanner_room_m(e.plan, k),
        "behind": behind_room_m(e.plan, it),
        "bolts": [(w.name, bolt_places(e.plan, w)) for n in ("left", "front") for w in walls(e.plan, n)],
    }


def verdicts(name: str) -> dict[str, Any]:
    """Every judged quantity, every finding in words, the report."""
    tried = trial(plan(name))
    e = tried.evaluation
    rows = {}
    for lens in e.all:
        for j in judged(lens):
            rows[f"{lens.index}.{j.quantity.code}"] = [j.value, j.limit, j.margin, j.grade]
    return {
        "judged": rows,
        "worst": [(w.margin, w.judged.quantity.code) for w in worst_by_condition(e)],
        "report": report(e),
        "imperial": [f.text("imperial") for f in tried.findings],
        "words": tried.words,
        "sentence": verdict_sentence(e, tried.findings),
        "said": [verdict_words(e, tried.findings, f) for f in FAMILIES],  # type: ignore[arg-type]
    }


def cures(name: str) -> dict[str, Any]:
    """What is proposed against each finding, and what it does."""
    tried = trial(plan(name))
    found: dict[str, Any] = {}
    for f in tried.findings[:9]:
        found[f.key] = [
            [r.text("metric"), r.text("imperial"), r.cures, r.bad_after, r.margin_after]
            for r in remedies(tried.evaluation, f)
        ]
    found["ways"] = [w.__class__.__name__ for w in both_ways(tried.evaluation)]
    return found


def supply(name: str) -> dict[str, Any]:
    """Source, hole, tap, map of operation."""
    p = plan(name)
    e = evaluate(p)
    speeds = np.linspace(0.0, 7000.0, 29)
    choice = choose(p)
    points = Points(
        np.array([800.0, 2500.0, 6000.0]),
        np.array([290.0, 350.0, 390.0]),
        np.array([0.1, 0.4, 1.0]),
        np.array([5.0, 20.0, 400.0]),
    )
    made: dict[str, Any] = {
        "cascade": [cascade(e, i, f) for i in (0, len(p.conditions) - 1) for f in FAMILIES],  # type: ignore[arg-type]
        "curves": gallery_curves(e, speeds),
        "choice": choice,
        "map": operating_map(p),
        "read": [
            operating_map(p).read(q, 0, rpm, t)
            for q in sorted(operating_map(p).values)
            for rpm, t in ((930.0, 301.0), (4321.0, 377.0), (9000.0, 500.0))
        ],
        "taps": compare_taps(p),
        "new": [t.label for t in with_new_tap(p).taps],
        "points": pressure_side(p, points),
    }
    made["rules"] = house_rules(p, 0, choice)
    return made


def home(name: str) -> dict[str, Any]:
    """Where the oil comes home: wall, leaning, lines."""
    p = plan(name)
    e = evaluate(p)
    base = int(np.argmax([c.rpm for c in p.conditions]))
    wall = e_wall(e)
    where = entry_map(e, wall, 24, 6)
    moved = moved_entry(p, 0, wall, 0.3 * float(where.along_m[-1]), 0.5 * float(where.up_m[0]))
    return {
        "map": where,
        "problems": place_problems(e),
        "moved": [differences(p, moved, f) for f in FAMILIES],  # type: ignore[arg-type]
        "envelope": envelope(e, base, 12),
        "spot": look_at(e, base, 0.4, -0.3),
        "lines": oil_lines(e, wall),
        "levels": levels_at_entry(e),
        "breather": breather_choice(p),
        "photos": [photos.heights_off_mm(p), [photos.matrix(f) for f in p.photos]],
    }


def e_wall(e: Evaluation) -> Any:
    """Return the wall that the first drain goes into."""
    from gravidon.study.solve.wall import wall_of

    return wall_of(e.plan, e.line)


def drive(name: str) -> dict[str, Any]:
    """The shipped drive replayed."""
    p = plan(name)
    e = evaluate(p)
    text = demos.demo_drive()
    *_, last = replay(e, read_log(text, guess_mapping(headings(text)), "hill"))
    at = moment(e, last, 0.4 * float(last.log.time_s[-1]))
    return {"drive": last, "then": [at.drainage.worst_fill, at.drainage.freeboard_m, at.feed.flow_m3_s]}


def making(name: str) -> dict[str, Any]:
    """Runs, cuts, order, template, plates, steps."""
    p = plan(name)
    steps = sequence(p)
    return {
        "runs": runs(p),
        "cuts": cuts(p),
        "order": order_list(p),
        "template": [entry_template(p, k) for k in range(len(p.turbos))],
        "plates": [plates(p, k) for k in range(len(p.turbos))],
        "steps": steps,
        "joints": [joints_at(p, s) for s in steps],
        "progress": progress(p),
    }


def choosing(name: str) -> dict[str, Any]:
    """What may change, ways laid, plans weighed."""
    p = plan(name)
    options = {}
    for choice, k in places(p):
        values = choice.values(p, k)
        options[f"{choice.name} {k}"] = [choice.said(v, f) for v in values for f in FAMILIES]  # type: ignore[arg-type]
        others = [v for v in values if v != choice.value(p, k)][:2]
        for value in others:
            try:
                new = choice.put(p, k, value)
            except GravidonError as error:
                options[f"{choice.name} {k} {value}"] = str(error)
                continue
            if new is not None:
                steps = differences(p, new)
                options[f"{choice.name} {k} {value}"] = [steps, [taken(p, new, d) == p for d in steps]]
        options[f"{choice.name} {k} allowed"] = allowed(p, choice, k)
    found, findings, _ = weighed(p)
    return {
        "options": options,
        "holds": [(h.choice.name, h.turbo, h.hold.state, h.why) for h in holds(p)],
        "drain": [drain_way(p, k) for k in range(len(p.turbos))],
        "feed": [feed_way(p, k) for k in range(len(p.turbos))],
        "keepouts": keepouts(p, 0.01),
        "merit": found,
        "findings": [f.code for f in findings],
    }


def laying(name: str) -> dict[str, Any]:
    """Homes on every wall, feeds, remedies taken, ways round things."""
    p = plan(name)
    found: dict[str, Any] = {
        "drain": [drain_way(p, k) for k in range(len(p.turbos))],
        "feed": [feed_way(p, k) for k in range(len(p.turbos))],
        "bare": [drain_way(p, 0, np.array([u]), blame=False) for u in LEANS],
        "keepouts": keepouts(p, 0.012, True),
    }
    for side in ("left", "front"):
        for wall in walls(p, side):
            home = homes_on((p, p, 0, wall), 1)
            found[f"home {side}"] = [home.no_way, [differences(p, q) for q in home.plans]]
    for size in ("-4", "-6"):
        for last in ("none", "90°"):
            fed = feed_on((p, p, 0, p.taps[-1].label, size, last))
            found[f"fed {size} {last}"] = [fed.no_way, [(g, differences(p, q)) for q, g in fed.plans[:4]]]
    found["mended"] = [differences(p, q) for q in mended((p, p), 1)]
    again = relaid(p, p, 0)
    found["relaid"] = differences(p, again) if again is not None else None
    return found


LEANS = np.array([[0.0, 0.0, 1.0], [0.3, 0.0, 0.954], [0.0, -0.3, 0.954], [-0.2, 0.2, 0.959]])


def proposals(name: str) -> dict[str, Any]:
    """What every maker of remedies proposes, asked about any finding there is, without trying it."""
    tried = trial(plan(name))
    found: dict[str, Any] = {}
    for maker in MAKERS:
        for f in tried.findings[:2]:
            made = []
            with suppress(GravidonError, ValueError, IndexError, KeyError, AttributeError, TypeError):
                for proposal in islice(maker.propose(tried.evaluation.of(f.turbo), f), 4):
                    if proposal is not None:
                        made.append([proposal.said.text("metric"), differences(tried.plan, proposal.plan)])
            found[f"{maker.propose.__name__} {f.code}"] = made
    return found


def lying(name: str) -> dict[str, Any]:
    """How the oil lies in pans at any lean, still and after seconds behind baffles."""
    p = plan(name)
    columns = assemble.pan_columns(p.sump.boxes)
    up = np.array([(x, y, 1.0) for x in (-0.8, -0.3, 0.0, 0.2, 0.6) for y in (-0.7, 0.0, 0.4)])
    up /= np.linalg.norm(up, axis=1)[:, None]
    volume = np.linspace(0.5e-3, 6e-3, len(up))
    found: dict[str, Any] = {"columns": columns, "level": sump.level(columns, up, volume)}
    places = ((0, -0.05), (1, 0.02))
    regions = sump.regions(columns, places)
    for seconds in (0.5, 4.0, np.inf):
        last = np.full(len(up), seconds)
        pull = np.full(len(up), 9.81)
        for here in range(int(regions.max()) + 1):
            level = sump.baffled_level(columns, regions, here, 2e-3, up, volume, last, pull)
            found[f"{seconds} {here}"] = level
    return found


def bought(name: str) -> dict[str, Any]:
    """What the chosen parts make of a plan."""
    p = plan(name)
    e = evaluate(p)
    return {
        "parts": [(it.parts.feed, it.parts.drain) for it in p.turbos],
        "plan": differences(demos.demo_plan(name.removeprefix("fitted ")), p),
        "feed": e.feed,
        "fill": e.drainage.worst_fill,
        "chains": [[(j.fit, j.tighten) for j in run.joints] for run in runs(p)],
        "findings": [f.text("metric") for f in trial(p).findings],
    }


def anywhere(name: str) -> dict[str, Any]:
    """Plans with figures anywhere within their bounds: what is judged, what is found; and what the errors say."""
    rnd = random.Random(int(name))  # noqa: S311  repeatable
    found: dict[str, Any] = {}
    for k in range(12):
        try:
            tried = trial(random_plan(rnd))
            e = tried.evaluation
            found[str(k)] = {
                "found": [(f.code, f.severity, f.text("metric")) for f in tried.findings],
                "judged": [[j.quantity.code, j.margin] for lens in e.all for j in judged(lens)],
                "flow": [lens.feed.flow_m3_s for lens in e.all],
                "fill": [lens.drainage.worst_fill for lens in e.all],
                "words": tried.words,
            }
        except GravidonError as error:
            found[str(k)] = str(error)
    return found


def small(name: str) -> dict[str, Any]:
    """Spaces small enough to be gone through whole: what stays open is in the name."""
    p = demos.demo_plan("estate")
    open_ones = name.split(",")
    for choice, k in places(p):
        if choice.name not in open_ones:
            p = with_hold(p, read_hold(p, f"{choice.name}@{k + 1}"))
    *_, answer = search(p, 2, effort=LIGHT)
    return {"listed": len(combinations(p) or ()), "answer": planned(answer, "imperial")}


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
        for k, t in enumerate(made.time_s):
            row = {"time": float(t), **{c: float(v[k]) for c, v in made.channels.items()}}
            bench_.see(Sample.of(converted(p, row)))
            while bench_.step is not None and bench_.step.ticked and bench_.tick():
                pass
            if bench_.stop is not None:
                calls.append([float(t), bench_.stop.reason, bench_.stop.said.text("metric")])
                bench_.go_on()
                states.append([float(t), bench_.at])
                if len(calls) > 3:
                    break
        found[key or "sound"] = [calls, states, bench_.at, bench_.arrived, bench_.passed, bench_.turned_s]
    return found


def worn(name: str) -> dict[str, Any]:
    """A season of a car that wears, drifts and is read now and then."""
    wear = Wear(closing=0.4, gallery=-0.1, passage=0.1)
    made = season(plan(name), 3, wear, tuple(float(k) for k in range(0, 4001, 800)))
    h = health(plan(name), made.entries)
    return {
        "entries": made.entries,
        "health": {k: v for k, v in vars(h).items() if isinstance(v, np.ndarray | float)} if h else None,
    }


def search_(name: str) -> dict[str, Any]:
    """A light search, why not otherwise, and chances."""
    p = plan(name)
    *_, answer = search(p, 3, effort=LIGHT)
    best = answer.ranked[0].plan
    asked = [(c, k) for c, k in places(p) if c.name in ("drain-size", "clock", "entry-means", "tap")]
    reasons = []
    for choice, k in asked[:3]:
        values = [v for v in choice.values(p, k) if v != choice.value(best, k)]
        reasons += [why_not(p, best, choice, k, v) for v in values[:1]]
    return {
        "answer": [planned(answer, f) for f in FAMILIES],  # type: ignore[arg-type]
        "why": reasons,
        "outcomes": outcomes(p, best),
        "chance": with_chance(best, answer.ranked[0].merit, samples=6),
    }


def sure(name: str) -> dict[str, Any]:
    """What is not known and what decides."""
    p = plan(name)
    *_, sampled = certainty(p, samples=8)
    *_, decides = deciders(p)
    return {"inputs": uncertain_inputs(p), "sampled": sampled, "decides": decides}


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


def sick(name: str) -> dict[str, Any]:
    """The car with each fault in turn: what the plan becomes, and what is felt at the end of a drive."""
    p = plan(name)
    found: dict[str, Any] = {}
    for key, fault in FAULTS.items():
        faulty = Faulty(fault, 0.6)
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
        found[key] = row
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
    """A season in the logbook."""
    p, entries = plan(name), demo_log(name)
    h = health(p, entries)
    if h is None:
        return {"health": None}
    o = outlook(h, seed=2)
    return {
        "health": {k: v for k, v in vars(h).items() if isinstance(v, np.ndarray | float | tuple)},
        "outlook": o,
        "said": said(h, o),
        "unclear": unclear(h),
        "day": day_after(h, 40.0),
        "offers": [(w.__class__.__name__, str(getattr(w, "words", ""))) for w in offers(p, entries, h)],
        "held": held_against(p, entries),
    }


def smoke(name: str) -> dict[str, Any]:
    """A case told, and what is believed of it."""
    told = told_case(
        ["smoke-idle", "no-oil-intake"] if "oil-intake" in tables().signs else ["smoke-idle"], [], None, 1
    )
    entries = demo_log(name) if name in ("coupe", "special") else ()
    return diagnosis(plan(name), told, entries)


def lessons(name: str) -> dict[str, Any]:
    """Drills by seed, and a case from its beginning to its end."""
    found: dict[str, Any] = {
        skill: [make(seed, f) for seed in range(8) for f in FAMILIES]  # type: ignore[arg-type]
        for skill, make in drills.DRILLS.items()
    }
    return found


Topic = Callable[[str], Mapping[str, Any]]
TOPICS: Mapping[str, tuple[Topic, tuple[str, ...]]] = {
    "answers": (answers, (*DEMOS, *MORE, *HARD, *BUILT)),
    "verdicts": (verdicts, (*DEMOS, *MORE, *HARD)),
    "cures": (cures, ("estate", "bad 0", "odd 0", "odd 1", *HARD)),
    "supply": (supply, (*DEMOS, "fitted estate")),
    "home": (home, (*DEMOS, "bad 1", "boxed coupe")),
    "drive": (drive, ("coupe", "estate", "hard pumped")),
    "making": (making, (*DEMOS, "journal", "fitted estate", "fitted van")),
    "choosing": (choosing, (*DEMOS, "boxed coupe", "fitted estate")),
    "laying": (laying, ("boxed estate", "good 1", "bad 1")),
    "proposals": (proposals, (*DEMOS, "bad 0", "odd 1", "fitted estate", "boxed coupe", *HARD)),
    "lying": (lying, ("estate", "van", "boxed coupe")),
    "bought": (bought, ("fitted estate", "fitted coupe", "fitted van")),
    "anywhere": (anywhere, ("1", "2", "3", "4", "5")),
    "small": (
        small,
        ("restrictor,tap", "drain-size,clock"),
    ),
    "first": (first, ("coupe", "van")),
    "worn": (worn, ("coupe",)),
    "search": (search_, ("special",)),
    "sure": (sure, ("coupe",)),
    "car": (car, DEMOS),
    "sick": (sick, ("coupe", "special")),
    "bench": (bench, ("coupe", "special")),
    "years": (years, ("coupe", "special")),
    "smoke": (smoke, ("coupe",)),
    "lessons": (lessons, ("any",)),
}
"""By name: what is asked, and of which plans."""
