# SPDX-License-Identifier: GPL-3.0-or-later
"""What is kept: the answers of physics and study to a set of plans, by topic."""

from __future__ import annotations

import random
from collections.abc import Callable, Mapping
from contextlib import suppress
from itertools import islice
from types import SimpleNamespace
from typing import Any

import numpy as np

from gravidon.errors import GravidonError
from gravidon.physics import sump
from gravidon.plan import demos
from gravidon.plan.drive_log import guess_mapping, headings, read_log
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
from gravidon.study.planning.ways import drain_way, feed_way, keepouts
from gravidon.study.solve import assemble, scavenging
from gravidon.study.solve.at_points import Points, pressure_side
from gravidon.study.solve.evaluate import Evaluation, evaluate
from gravidon.study.solve.heat_soak import heat_soak
from gravidon.study.solve.lift_off import lift_off
from gravidon.study.solve.pickup import pickup_cover
from gravidon.study.solve.priming import arrival
from gravidon.study.solve.reserve import reserve
from gravidon.study.solve.run_review import nearness, review
from gravidon.study.solve.seating import cavity_oil, seating
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
from kept.plans import BUILT, DEMOS, FAMILIES, HARD, MIXED, MORE, plan
from kept.topics_life import ailing, bench, car, first, lessons, patients, sick, smoke, worn, years
from robust.sampling import random_plan

LIGHT = Effort(asked=12, rounds=1, cured=1, places=1, weighed=6, shown=4, samples=4)


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
    found["ways"] = [
        [
            w.way,
            w.least_freeboard_m,
            w.worst_condition,
            w.wet,
            w.fill,
            w.bad,
            [f.key for f in w.findings],
            w.refused,
        ]
        for lens in tried.evaluation.all
        for w in both_ways(lens)
    ]
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
        "other walls": [entry_map(e, w, 10, 4) for side in ("left", "front") for w in walls(p, side)],
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
        for n, value in enumerate(v for v in values if v != choice.value(p, k)):
            try:
                new = choice.put(p, k, value)
            except GravidonError as error:
                options[f"{choice.name} {k} {value}"] = str(error)
                continue
            if new is not None:
                steps = differences(p, new)
                back = [taken(p, new, d) == p for d in steps] if n < 2 else None
                options[f"{choice.name} {k} {value}"] = [steps, back]
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
    on_the_way = list(search(p, 2, effort=LIGHT))
    return {
        "listed": len(combinations(p) or ()),
        "answer": planned(on_the_way[-1], "imperial"),
        "on the way": [(a.stage, a.share, a.tried, a.final) for a in on_the_way],
    }


def search_(name: str) -> dict[str, Any]:
    """A light search, why not otherwise, and chances."""
    p = plan(name)
    on_the_way = list(search(p, 3, effort=LIGHT))
    answer = on_the_way[-1]
    best = answer.ranked[0].plan
    asked = [(c, k) for c, k in places(p) if c.name in ("drain-size", "clock", "entry-means", "tap")]
    reasons = []
    for choice, k in asked[:3]:
        values = [v for v in choice.values(p, k) if v != choice.value(best, k)]
        reasons += [why_not(p, best, choice, k, v) for v in values[:1]]
    return {
        "answer": [planned(answer, f) for f in FAMILIES],  # type: ignore[arg-type]
        "why": reasons,
        "on the way": [(a.stage, a.share, a.tried, len(a.ranked), a.final) for a in on_the_way],
        "outcomes": outcomes(p, best),
        "chance": with_chance(best, answer.ranked[0].merit, samples=6),
    }


def sure(name: str) -> dict[str, Any]:
    """What is not known and what decides."""
    p = plan(name)
    on_the_way = list(certainty(p, samples=8))
    *_, decides = deciders(p)
    return {
        "inputs": uncertain_inputs(p),
        "sampled": on_the_way[-1],
        "decides": decides,
        "on the way": [(c.samples, c.whole) for c in on_the_way],
    }


Topic = Callable[[str], Mapping[str, Any]]
TOPICS: Mapping[str, tuple[Topic, tuple[str, ...]]] = {
    "answers": (answers, (*DEMOS, *MORE, *HARD, *BUILT, *MIXED)),
    "verdicts": (verdicts, (*DEMOS, *MORE, *HARD, *MIXED)),
    "cures": (
        cures,
        (
            *DEMOS,
            *(f"bad {k}" for k in range(4)),
            *(f"odd {k}" for k in range(8)),
            "good 2",
            *HARD,
            *MIXED[:8],
        ),
    ),
    "supply": (supply, (*DEMOS, "fitted estate", *MIXED[:12])),
    "home": (home, (*DEMOS, "bad 1", "boxed coupe", "boxed estate", *MIXED[:16])),
    "drive": (drive, (*DEMOS, "hard pumped")),
    "making": (making, (*DEMOS, "journal", "fitted estate", "fitted van", *MIXED[:24])),
    "choosing": (choosing, (*DEMOS, "boxed coupe", "fitted estate", *MIXED[:20])),
    "laying": (laying, ("boxed estate", "good 1", "bad 1", *MIXED[:6])),
    "proposals": (proposals, (*DEMOS, "bad 0", "odd 1", "fitted estate", "boxed coupe", *HARD)),
    "lying": (lying, (*DEMOS, "boxed coupe")),
    "bought": (bought, ("fitted estate", "fitted coupe", "fitted van")),
    "anywhere": (anywhere, ("1", "2", "3", "4", "5")),
    "small": (
        small,
        (
            "restrictor,tap",
            "drain-size,clock",
            "drain-size,tap,feed-size,entry-means",
            "clock,drain-size,tap,entry-means,feed-size",
        ),
    ),
    "first": (first, DEMOS),
    "worn": (worn, ("coupe", "special", "van")),
    "search": (search_, ("special", "coupe")),
    "sure": (sure, ("coupe", "special", "van")),
    "car": (car, DEMOS),
    "ailing": (ailing, ("coupe", "special", "van")),
    "sick": (sick, DEMOS),
    "bench": (bench, DEMOS),
    "years": (years, ("coupe", "special")),
    "smoke": (smoke, ("coupe", "special", "van")),
    "patients": (patients, ("coupe", "special")),
    "lessons": (lessons, ("any",)),
}
"""By name: what is asked, and of which plans."""
