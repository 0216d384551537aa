"""Remedies of the pressure side beyond the restrictor."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from gravidon.parts import dash
from gravidon.plan import paths
from gravidon.plan.model import Fitting, Hose, ScreenPiece
from gravidon.study.evaluate import Evaluation
from gravidon.study.findings import Finding, both
from gravidon.study.remedies import Proposal, remedy, wider_feed
from gravidon.study.tap_choice import compare_taps, with_tap


def _same(text: str) -> tuple[str, str]:
    return text, text


@remedy("unfiltered", "protruding", "no-wrench", "near-heat", "starved", "slow-prime", "thread-tap")
def other_tap(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The best-ranked of the other taps."""
    if len(e.plan.taps) < 2:
        return
    ranked = sorted(compare_taps(e.plan), key=lambda c: c.rank)
    yield None
    best = next((c for c in ranked if c.index != e.plan.tap), None)
    if best is not None:
        yield Proposal(_same(f"Take the oil from the {best.tap.label} instead"), with_tap(e.plan, best.index))


@remedy("protruding")
def cut_down(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Cut the fitting to the plug's length."""
    plan = paths.put(e.plan, f"taps.{e.plan.tap}.protrusion_mm", 0.0)
    yield Proposal(_same("Cut the fitting down to the length of the plug"), plan)


@remedy("wrong-kind-flange_hole", "starved", "cooked")
def drill_flange(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Drill the flange's hole out to the line's bore."""
    if e.line.flange_hole.fitted:
        bore = min(p.bore_mm for p in e.line.feed.pieces)
        plan = paths.put(e.plan, e.at("flange_hole.bore_mm"), round(bore * 0.9, 2))
        yield Proposal(
            both(lambda f: f"Drill the flange out to nearly the line's bore ({bore * 0.9:.1f} mm)"), plan
        )


@remedy("slow-prime")
def wider_hose(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The next feed hose up."""
    yield from wider_feed(e, finding)


@remedy("slow-prime")
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
    yield Proposal(_same("Route the feed a quarter shorter"), paths.put(e.plan, e.at("feed.pieces"), pieces))


@remedy("robbed")
def meter_less(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """The smallest restrictor that still holds, on every turbo."""
    from gravidon.study.remedies import smallest_safe
    from gravidon.study.restrictor_choice import choose

    plan = e.plan
    for k in range(len(plan.turbos)):
        choice = choose(plan, k)
        yield None
        if choice.range_m is None:
            return
        drill = smallest_safe(choice.drills, choice.range_m)
        plan = paths.put(plan, f"turbos.{k}.restrictor.fitted", True)
        plan = paths.put(plan, f"turbos.{k}.restrictor.bore_mm", drill.diameter_mm)
    yield Proposal(_same("Meter the turbo with the smallest hole that holds"), plan)


@remedy("uneven")
def same_branches(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Make the branches alike: the thirsty one's line and holes on all."""
    flows = np.array([b.flow_m3_s[finding.condition_index] for b in e.network.branches])
    best = e.plan.turbos[int(flows.argmax())]
    plan = e.plan
    for k in range(len(plan.turbos)):
        plan = paths.put(plan, f"turbos.{k}.feed.pieces", best.feed.pieces)
        plan = paths.put(plan, f"turbos.{k}.restrictor", best.restrictor)
        plan = paths.put(plan, f"turbos.{k}.flange_hole", best.flange_hole)
    yield Proposal(
        _same("Make every branch like the one that gets most: same hose, same fittings, same hole"), plan
    )


@remedy("uneven", "starved", "cooked")
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
        yield Proposal(_same("Clean or replace the clogged screen"), plan)


@remedy("tall-stack")
def low_end(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """A single low 90° end at the turbo."""
    pieces = e.line.feed.pieces
    last_hose = max(k for k, p in enumerate(pieces) if isinstance(p, Hose))
    bore = round(dash.hose_bore_mm(4), 2) if len(pieces) == last_hose + 1 else pieces[-1].bore_mm
    kept = tuple(
        p.model_copy(update={"height_mm": 0.0}) for p in pieces[last_hose + 1 :] if isinstance(p, ScreenPiece)
    )
    end = Fitting(shape="90°", bore_mm=bore, height_mm=28.0)
    plan = paths.put(e.plan, e.at("feed.pieces"), (*pieces[: last_hose + 1], *kept, end))
    yield Proposal(_same("Use one low 90° hose end at the inlet (a screen moves into the hose)"), plan)
