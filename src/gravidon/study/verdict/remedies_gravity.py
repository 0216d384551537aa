# SPDX-License-Identifier: GPL-3.0-or-later
"""Remedies of the oil's way home: the entry, the hose, its bends and its supports."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from gravidon.parts import dash
from gravidon.parts.entry_means import MEANS, entry_dash
from gravidon.physics.arrays import Array
from gravidon.plan import model, paths
from gravidon.study.home.entry_map import EntryMap, entry_map, moved_entry
from gravidon.study.judge.home import TIGHTER_SHARE
from gravidon.study.solve.as_bought import line_dash
from gravidon.study.solve.assemble import box_of, point
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.kept import Kept
from gravidon.study.solve.run_review import review
from gravidon.study.solve.wall import spanner_room_m, wall_of, walls
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.proposal import (
    FITTING,
    HOSE,
    NO_EFFORT,
    PAN_OFF,
    PUMP,
    Proposal,
    cures,
    freed,
    larger_dashes,
    proposal,
)
from gravidon.study.verdict.trials import trial
from gravidon.words.text import N_, Amount, tr

_MAPS: Kept[EntryMap] = Kept(8)
"""Coarse maps last made: several findings ask for the same one."""
COARSE = (14, 6)
"""Columns and rows of the wall's map when only its best place is wanted: one turn of the window long."""


def model_point(place_m: Array) -> model.Point:
    """Return a place [m] as a point of the plan, to a tenth of a millimetre; its bounds are looked at when it is put there."""
    x, y, z = (round(float(v) * 1e3, 1) for v in place_m)
    return model.Point.model_construct(x_mm=x, y_mm=y, z_mm=z)


@cures(
    "small-fitting",
    "small-drain",
    "choked",
    "reserve",
    "freeboard",
    "drowned",
    "threads-few",
    "lift-off",
    effort=FITTING,
)
def full_bore_fitting(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """An entry no tighter than the hose, by each way through the wall."""
    fitting, hose = e.line.drain.fitting, e.line.drain.hose_bore_mm
    if not e.route.ends_in_fitting:
        return
    if finding.code != "threads-few" and fitting.bore_mm >= TIGHTER_SHARE * hose:
        return
    size = entry_dash(line_dash(e.plan, e.index, "drain"))
    for means in MEANS.values():
        if finding.code == "threads-few" and means.wall_threads:
            continue
        bore = means.bores_mm[size]
        plan = with_means(e, means.name)
        thread = means.threads[size]
        yield proposal(
            N_("{ask}, {thread}, {bore} bore"),
            plan,
            ask=tr(means.ask),
            thread=thread,
            bore=Amount(bore * 1e-3, "bore"),
        )


def with_means(e: Evaluation, name: str) -> model.Plan:
    """Return the plan with the entry made another way, in the size of its hose."""
    means, size = MEANS[name], entry_dash(line_dash(e.plan, e.index, "drain"))
    fitting = e.line.drain.fitting.model_copy(
        update={
            "means": name,
            "label": f"{name}, {dash.dash_label(size)}",
            "bore_mm": means.bores_mm[size],
            "port_thread": means.threads[size],
            "fitting_thread": means.threads[size],
        }
    )
    return paths.put(freed(e, "drain"), e.at("drain.fitting"), fitting)


@cures("freeboard", "drowned", "choked", "reserve", "lift-off", effort=HOSE)
def raise_entry(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The least rise of the entry that cures the finding, or as high as the rail allows."""
    if not e.route.ends_in_fitting:
        return
    room = -1e3 * spanner_room_m(e.plan, e.index) - e.line.drain.entry.z_mm
    steps = [s for s in (5.0, 10.0, 15.0, 20.0, 25.0, 30.0, 40.0, 50.0, 60.0) if s <= room]
    if room >= 3.0:
        steps.append(float(np.floor(room)))
    yield from _least(
        finding,
        (
            proposal(N_("Raise the entry {rise}"), _lifted(e, rise), rise=Amount(rise * 1e-3, "mm"))
            for rise in sorted(set(steps))
        ),
    )


def _least(finding: Finding, larger: Iterable[Proposal]) -> Iterator[Proposal | None]:
    """Yield the first of ever larger proposals that cures a finding (nothing bad or to be watched of it is left), or the largest; None after
    every one that was tried."""
    best: Proposal | None = None
    for best in larger:
        left = trial(best.plan).by_key.get(finding.key)
        yield None
        if left is None or left.severity == "note":
            break
    if best is not None:
        yield best


def _lifted(e: Evaluation, rise: float) -> model.Plan:
    """Raise the entry, and each bend of the hose by its share of the way down."""
    plan, points = e.plan, e.line.drain.points
    for k, at in enumerate(points):
        share = (k + 1) / (len(points) + 1)
        plan = paths.put(plan, e.at(f"drain.points.{k}.z_mm"), at.z_mm + rise * share)
    return paths.put(plan, e.at("drain.entry.z_mm"), e.line.drain.entry.z_mm + rise)


STEEP_RISE_DEG = 35.0
"""[°] a hose end that still clears most pans; common practice, no source."""


@cures("choked", "reserve", "freeboard", "lift-off", effort=FITTING)
def steeper_entry(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """An entry fitting that points further down into the pan."""
    if e.line.drain.fitting.rise_deg < STEEP_RISE_DEG - 5.0:
        plan = paths.put(e.plan, e.at("drain.fitting.rise_deg"), STEEP_RISE_DEG)
        yield proposal(N_("Set the entry fitting at {angle:.0f}° to the level"), plan, angle=STEEP_RISE_DEG)


@cures("choked", "reserve", "freeboard", "small-drain", "lift-off", effort=HOSE)
def wider_drain(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The least drain hose up that cures it in one step, with flange and entry to match; the largest where none does."""
    yield from _least(
        finding,
        (
            proposal(N_("Run a {size} drain with fittings to match"), _wider(e, d), size=dash.dash_label(d))
            for d in larger_dashes(dash.hose_bore_mm(line_dash(e.plan, e.index, "drain")), 16)
        ),
    )


def _wider(e: Evaluation, wider: int) -> model.Plan:
    """Return the plan with a drain of a dash size."""
    drain, ends = e.line.drain, dash.END_BORE_MM[wider]
    size = entry_dash(wider)
    changes = {
        "hose_bore_mm": round(dash.hose_bore_mm(wider), 2),
        "flange_bore_mm": max(ends, drain.flange_bore_mm),
        "min_bend_mm": drain.min_bend_mm.model_copy(
            update={"value": max(dash.LEAST_BEND_MM[wider], drain.min_bend_mm.value)}
        ),
        "pieces": tuple(p.model_copy(update={"bore_mm": max(ends, p.bore_mm)}) for p in drain.pieces),
        "fitting": drain.fitting.model_copy(
            update={
                "bore_mm": max(drain.fitting.way.bores_mm[size], drain.fitting.bore_mm),
                "port_thread": drain.fitting.way.threads[size],
                "fitting_thread": drain.fitting.way.threads[size],
            }
        ),
    }
    return paths.put(freed(e, "drain"), e.at("drain"), drain.model_copy(update=changes))


@cures("uphill", "uphill-attitude", "choked", "reserve", "freeboard", "flat", "bend", "dip", effort=NO_EFFORT)
def straighten(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Drop the route point whose removal leaves the run falling best."""
    points = e.line.drain.points
    if any(it.drain.joins is not None and it.drain.joins.turbo == e.index for it in e.plan.turbos):
        return
    for k in range(len(points)):
        plan = paths.put(e.plan, e.at("drain.points"), (*points[:k], *points[k + 1 :]))
        yield proposal(N_("Pull the hose straight past bend {bend}"), plan, bend=k + 1)


@cures("uphill", "uphill-attitude", "dip", "flat", effort=NO_EFFORT)
def even_fall(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Set every bend to the height of an even fall from the flange to the entry."""
    points, route = e.line.drain.points, e.route
    if not points:
        return
    corners = route.corners_m
    first, last = 1, len(corners) - (2 if route.ends_in_fitting else 1)
    walked = np.concatenate(
        [[0.0], np.cumsum(np.linalg.norm(np.diff(corners[first : last + 1, :2], axis=0), axis=1))]
    )
    if walked[-1] < 1e-6 or len(walked) != len(points) + 2:
        return
    fall = corners[first, 2] - corners[last, 2]
    new = tuple(
        p.model_copy(
            update={"z_mm": round(float(corners[first, 2] - fall * walked[k + 1] / walked[-1]) * 1e3, 1)}
        )
        for k, p in enumerate(points)
    )
    yield proposal(
        N_("Let the hose fall evenly: set its bends on one slope"),
        paths.put(e.plan, e.at("drain.points"), new),
    )


@cures("dip", effort=NO_EFFORT)
def hold_the_hose(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """One more support in the middle of the stretch that sags."""
    r = review(e)
    i = max(finding.condition_index, 0)
    leg = int(e.route.leg[min(int(r.dip_station[i]), len(e.route.leg) - 1)])
    plan = bent(e, leg, 0.5 * (e.route.corners_m[leg] + e.route.corners_m[leg + 1]))
    if plan is not None:
        yield proposal(
            N_("Clip the hose up in the middle of {leg}"),
            plan,
            leg=e.route.leg_names[leg].removeprefix("the "),
        )


def bent(e: Evaluation, leg: int, place_m: Array) -> model.Plan | None:
    """Return the plan with one more bend on a leg; None where there is no room for one."""
    points = e.line.drain.points
    k = leg - 1
    if len(points) >= 12 or not 0 <= k <= len(points) or e.line.drain_by == "scavenge":
        return None
    plan = paths.put(e.plan, e.at("drain.points"), (*points[:k], model_point(place_m), *points[k:]))
    return _kept_tees(plan, e, k)


def _kept_tees(plan: model.Plan, e: Evaluation, k: int) -> model.Plan:
    """Move the tees of drains that join this one past a bend that was put in."""
    for j, it in enumerate(plan.turbos):
        joins = it.drain.joins
        if joins is not None and joins.turbo == e.index and joins.bend >= k:
            plan = paths.put(
                plan, f"turbos.{j}.drain.joins", joins.model_copy(update={"bend": joins.bend + 1})
            )
    return plan


@cures("drain-heat", "chafe", effort=NO_EFFORT)
def sleeve(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """A sleeve over the hose: glass against heat, tough braid against what it rubs on."""
    if not e.line.drain.sleeved:
        yield proposal(N_("Sleeve the drain hose"), paths.put(e.plan, e.at("drain.sleeved"), True))


@cures("drain-heat", "chafe", "collides", effort=NO_EFFORT)
def move_away(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Bend the hose away from what it comes too near to."""
    for it in review(e).near:
        if it.gap_m >= it.need_m or it.shape.thing.code != finding.code or it.shape.label != finding.place:
            continue
        low, high = box_of(it.shape)
        here = e.route.stations_m[it.station]
        away = here - np.clip(here, low, high)
        if np.linalg.norm(away) < 1e-6:
            away = here - 0.5 * (low + high)
        away[2] = 0.0 if np.linalg.norm(away[:2]) > 1e-6 else away[2]
        away = away / max(float(np.linalg.norm(away)), 1e-9)
        spots = [(k, float(np.linalg.norm(point(p) - here))) for k, p in enumerate(e.line.drain.points)]
        nearest = min(spots, key=lambda s: s[1], default=None)
        for extra in (0.005, 0.020, 0.040):
            shift = away * (it.need_m - it.gap_m + extra)
            if nearest is not None and nearest[1] < 0.09:
                k = nearest[0]
                moved = model_point(point(e.line.drain.points[k]) + shift)
                plan: model.Plan | None = paths.put(e.plan, e.at(f"drain.points.{k}"), moved)
            else:
                plan = bent(e, int(e.route.leg[min(it.station, len(e.route.leg) - 1)]), here + shift)
            if plan is None:
                return
            far = float(np.linalg.norm(shift))
            yield proposal(
                N_("Bend the hose {far} away from {thing}"),
                plan,
                far=Amount(far, "run"),
                thing=it.shape.label,
            )
            if len(spots) > 1:  # one bend alone may be left too tight
                every = tuple(model_point(point(p) + shift) for p in e.line.drain.points)
                yield proposal(
                    N_("Move all bends of the hose {far} away from {thing}"),
                    paths.put(e.plan, e.at("drain.points"), every),
                    far=Amount(far, "run"),
                    thing=it.shape.label,
                )
            yield None
        return


MOVE: dict[tuple[bool, bool], str] = {
    (True, True): N_("Move the entry {far} forward, to {below} below the rail"),
    (True, False): N_("Move the entry {far} back, to {below} below the rail"),
    (False, True): N_("Move the entry {far} left, to {below} below the rail"),
    (False, False): N_("Move the entry {far} right, to {below} below the rail"),
}
"""What to ask for: whether the wall runs forward, and which way the entry goes."""


@cures(
    "drowned",
    "freeboard",
    "entry-bolts",
    "entry-outside",
    "entry-inside",
    "entry-drill",
    "entry-edge",
    "choked",
    "reserve",
    "lift-off",
    effort=HOSE,
)
def better_place(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The best place on the entry's own wall, then on the pan's other boxes' wall of that side."""
    if not e.route.ends_in_fitting:
        return
    own = wall_of(e.plan, e.line)
    here = point(e.line.drain.entry)
    for wall in dict.fromkeys((own, *walls(e.plan, own.name))):
        found = _MAPS.of((e.plan, e.index, wall), lambda w=wall: entry_map(e, w, *COARSE))  # type: ignore[misc]
        yield None
        for along, up in found.best[:2]:
            moved = float(np.hypot(along - here[1 - wall.axis], up - here[2]))
            if moved < 0.01:
                continue
            plan = moved_entry(e.plan, e.index, wall, along, up)
            by = along - here[1 - wall.axis]
            yield proposal(
                MOVE[wall.axis == 1, bool(by > 0)], plan, far=Amount(abs(by), "run"), below=Amount(-up, "run")
            )


@cures("overfilled", "crank-in-oil", "drowned", "freeboard", "lift-off", effort=NO_EFFORT)
def drain_oil(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Oil let out down to the mark; where nobody told a mark, and the crank is near the oil, as little as frees it."""
    fill, full = e.plan.sump.fill_l, e.plan.sump.full_l.value
    steps: list[float] = []
    if full > 0.0:
        steps = [fill.value - full] if fill.value > full + LEAST_OUT_L else []
    elif finding.code == "crank-in-oil":
        steps = [s for s in OUT_L if fill.value - s >= LEAST_LEFT_L]
    yield from _least(
        finding,
        (
            proposal(
                N_("Let {much} of oil out"),
                paths.put(
                    e.plan, "sump.fill_l", fill.model_copy(update={"value": round(fill.value - litres, 3)})
                ),
                much=Amount(litres * 1e-3, "l"),
            )
            for litres in steps
        ),
    )


OUT_L, LEAST_OUT_L, LEAST_LEFT_L = (0.5, 1.0, 1.5, 2.0), 0.05, 2.0
"""[L] let out in steps, the least that is worth it, and what stays in at least; project choice."""
LOWER_PICKUP_MM = (10.0, 20.0, 30.0)
"""[mm] by which a pickup is lengthened in steps; project choice."""


@cures("pickup", effort=PAN_OFF)
def longer_pickup(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """A pickup that reaches further down, as far as the pan's floor lets it."""
    at = e.plan.sump.pickup
    if at is None:
        return
    floor = min(b.corner.z_mm for b in e.plan.sump.boxes) + PICKUP_OFF_FLOOR_MM
    for lower in LOWER_PICKUP_MM:
        if at.z_mm - lower >= floor:
            plan = paths.put(e.plan, "sump.pickup", at.model_copy(update={"z_mm": at.z_mm - lower}))
            yield proposal(N_("Lengthen the pickup by {lower}"), plan, lower=Amount(lower * 1e-3, "mm"))


PICKUP_OFF_FLOOR_MM = 6.0
"""[mm] that a pickup's screen stands off the floor at least; common practice, no source."""


@cures(
    "freeboard", "drowned", "choked", "reserve", "uphill", "uphill-attitude", "flat", "lift-off", effort=PUMP
)
def pump_it(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """A scavenge pump instead of gravity, for what gravity cannot do."""
    if e.line.drain_by == "gravity" and finding.severity == "bad":
        yield proposal(N_("Drain by a scavenge pump"), paths.put(e.plan, e.at("drain_by"), "scavenge"))


GRAVITY = (
    drain_oil,
    longer_pickup,
    full_bore_fitting,
    raise_entry,
    steeper_entry,
    wider_drain,
    straighten,
    even_fall,
    hold_the_hose,
    sleeve,
    move_away,
    better_place,
    pump_it,
)
