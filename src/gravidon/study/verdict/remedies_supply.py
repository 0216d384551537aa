# SPDX-License-Identifier: GPL-3.0-or-later
"""Remedies of the pressure side: restrictor, tap, feed line, branches."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from gravidon.parts import dash
from gravidon.parts.drills import Drill, drills_between, nearest_drill
from gravidon.plan import paths
from gravidon.plan.model import Fitting, Hose, ScreenPiece
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.supply.restrictor_choice import RestrictorChoice, choose, smallest_safe
from gravidon.study.supply.tap_choice import compare_taps, with_tap
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.proposal import (
    FITTING,
    HOSE,
    NO_EFFORT,
    Proposal,
    cures,
    freed,
    next_dash,
    proposal,
)
from gravidon.words.text import N_, Amount


@cures("starved", "starved-flow", "cooked", "over-fed", "wrong-kind-restrictor", effort=FITTING)
def fit_restrictor(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Drill or fit the hole that holds in every condition."""
    choice = choose(e.plan, e.index)
    yield None
    drill = (
        smallest_safe(choice.drills, choice.range_m) if choice.range_m is not None else _compromise(choice)
    )
    if drill is None:
        return
    plan = paths.put(e.plan, e.at("restrictor.bore_mm"), drill.diameter_mm)
    plan = paths.put(plan, e.at("restrictor.fitted"), True)
    now = e.line.restrictor
    larger = now.fitted and drill.diameter_mm > now.bore_mm
    yield proposal(FIT[now.fitted, larger, choice.range_m is not None], plan, drill=drill.name)


FIT: dict[tuple[bool, bool, bool], str] = {
    (False, False, True): N_("Fit a restrictor of {drill}"),
    (True, True, True): N_("Drill the restrictor out to {drill}"),
    (True, False, True): N_("Fit a smaller restrictor, {drill}"),
    (False, False, False): N_("Fit a restrictor of {drill} (no hole passes everywhere; the best compromise)"),
    (True, True, False): N_(
        "Drill the restrictor out to {drill} (no hole passes everywhere; the best compromise)"
    ),
    (True, False, False): N_(
        "Fit a smaller restrictor, {drill} (no hole passes everywhere; the best compromise)"
    ),
}
"""What to ask for: whether one is fitted, whether the new one is larger, whether it holds everywhere."""


def _compromise(choice: RestrictorChoice) -> Drill | None:
    """Return the drill whose worst margin to the window is best."""
    if not drills_between(0.4, float(choice.bore_m[-1] * 1e3)) or not np.isfinite(choice.worst_margin).any():
        return None
    return nearest_drill(float(choice.bore_m[int(np.argmax(choice.worst_margin))] * 1e3))


@cures("starved", "starved-flow", "cooked", effort=FITTING)
def open_the_line(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Leave the restrictor out."""
    if e.line.restrictor.fitted:
        plan = paths.put(e.plan, e.at("restrictor.fitted"), False)
        yield proposal(N_("Take the restrictor out"), plan)


@cures("starved", "starved-flow", effort=HOSE)
def wider_feed(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The next feed hose up."""
    pieces = e.line.feed.pieces
    wider = next_dash(min(p.bore_mm for p in pieces if isinstance(p, Hose)), 6)
    if wider is not None:
        hose, end = round(dash.hose_bore_mm(wider), 2), dash.END_BORE_MM[wider]
        new = tuple(
            p.model_copy(update={"bore_mm": max(p.bore_mm, hose if isinstance(p, Hose) else end)})
            for p in pieces
        )
        plan = paths.put(freed(e, "feed"), e.at("feed.pieces"), new)
        yield proposal(N_("Run a {size} feed hose"), plan, size=dash.dash_label(wider))


@cures("thread-tap", "thread-entry", effort=FITTING)
def matching_thread(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The same fitting with the port's own thread."""
    where = f"taps.{e.plan.tap}" if finding.station == "tap" else e.at("drain.fitting")
    thread = paths.get(e.plan, f"{where}.port_thread")
    plan = paths.put(e.plan, f"{where}.fitting_thread", thread)
    yield proposal(N_("Use a fitting with the port's own {thread} thread"), plan, thread=thread)


@cures(
    "unfiltered",
    "protruding",
    "no-wrench",
    "near-heat",
    "starved",
    "starved-flow",
    "slow-prime",
    "thread-tap",
    effort=HOSE,
)
def other_tap(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The best-ranked of the other taps."""
    if len(e.plan.taps) < 2:
        return
    ranked = sorted(compare_taps(e.plan), key=lambda c: c.rank)
    yield None
    best = next((c for c in ranked if c.index != e.plan.tap), None)
    if best is not None:
        yield proposal(
            N_("Take the oil from the {tap} instead"), with_tap(e.plan, best.index), tap=best.tap.label
        )


@cures("protruding", effort=FITTING)
def cut_down(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Cut the fitting to the plug's length."""
    plan = paths.put(e.plan, f"taps.{e.plan.tap}.protrusion_mm", 0.0)
    yield proposal(N_("Cut the fitting down to the length of the plug"), plan)


@cures("wrong-kind-flange_hole", "starved", "starved-flow", "cooked", effort=FITTING)
def drill_flange(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Drill the flange's hole out to the line's bore."""
    if e.line.flange_hole.fitted:
        bore = min(p.bore_mm for p in e.line.feed.pieces)
        plan = paths.put(e.plan, e.at("flange_hole.bore_mm"), round(bore * 0.9, 2))
        yield proposal(
            N_("Drill the flange out to nearly the line's bore ({bore})"),
            plan,
            bore=Amount(bore * 0.9e-3, "bore"),
        )


@cures("slow-prime", effort=HOSE)
def wider_hose(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The next feed hose up."""
    yield from wider_feed.propose(e, finding)


@cures("slow-prime")
def shorter_hose(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """A quarter less hose."""
    pieces = tuple(
        p.model_copy(
            update={"length_mm": p.length_mm.model_copy(update={"value": round(0.75 * p.length_mm.value)})}
        )
        if isinstance(p, Hose)
        else p
        for p in e.line.feed.pieces
    )
    yield proposal(N_("Route the feed a quarter shorter"), paths.put(e.plan, e.at("feed.pieces"), pieces))


@cures("robbed")
def meter_less(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The smallest restrictor that still holds, on every turbo."""
    from gravidon.study.supply.restrictor_choice import choose, smallest_safe

    plan = e.plan
    for k in range(len(plan.turbos)):
        choice = choose(plan, k)
        yield None
        if choice.range_m is None:
            return
        drill = smallest_safe(choice.drills, choice.range_m)
        plan = paths.put(plan, f"turbos.{k}.restrictor.fitted", True)
        plan = paths.put(plan, f"turbos.{k}.restrictor.bore_mm", drill.diameter_mm)
    yield proposal(N_("Meter the turbo with the smallest hole that passes"), plan)


@cures("uneven")
def same_branches(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Make the branches alike: the thirsty one's line and holes on all."""
    flows = np.array([b.flow_m3_s[finding.condition_index] for b in e.network.branches])
    best = e.plan.turbos[int(flows.argmax())]
    plan = e.plan
    for k in range(len(plan.turbos)):
        plan = paths.put(plan, f"turbos.{k}.feed.pieces", best.feed.pieces)
        plan = paths.put(plan, f"turbos.{k}.restrictor", best.restrictor)
        plan = paths.put(plan, f"turbos.{k}.flange_hole", best.flange_hole)
    yield proposal(
        N_("Make every branch like the one that gets most: same hose, same fittings, same hole"), plan
    )


@cures("uneven", "starved", "starved-flow", "cooked", effort=NO_EFFORT)
def clean_screens(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Clean every clogged screen."""
    plan = e.plan
    for k, line in enumerate(plan.turbos):
        pieces = tuple(
            p.model_copy(update={"clogged": 0.0}) if isinstance(p, ScreenPiece) else p
            for p in line.feed.pieces
        )
        plan = paths.put(plan, f"turbos.{k}.feed.pieces", pieces)
    if plan != e.plan:
        yield proposal(N_("Clean or replace the clogged screen"), plan)


@cures("tall-stack")
def low_end(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """A single low 90° end at the turbo."""
    pieces = e.line.feed.pieces
    last_hose = max(k for k, p in enumerate(pieces) if isinstance(p, Hose))
    bore = dash.END_BORE_MM[4] if len(pieces) == last_hose + 1 else pieces[-1].bore_mm
    kept = tuple(
        p.model_copy(update={"height_mm": 0.0}) for p in pieces[last_hose + 1 :] if isinstance(p, ScreenPiece)
    )
    end = Fitting(shape="90°", bore_mm=bore, height_mm=28.0)
    plan = paths.put(freed(e, "feed"), e.at("feed.pieces"), (*pieces[: last_hose + 1], *kept, end))
    yield proposal(N_("Use one low 90° hose end at the inlet (a screen moves into the hose)"), plan)


SUPPLY = (
    fit_restrictor,
    open_the_line,
    wider_feed,
    matching_thread,
    other_tap,
    cut_down,
    drill_flange,
    wider_hose,
    shorter_hose,
    meter_less,
    same_branches,
    clean_screens,
    low_end,
)
