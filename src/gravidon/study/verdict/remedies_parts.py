# SPDX-License-Identifier: GPL-3.0-or-later
"""Remedies of the parts: the shortest chain that seals, another way through the pan's wall, shorter hose ends."""

from __future__ import annotations

from collections.abc import Iterator

from gravidon.parts.entry_means import MEANS
from gravidon.plan import paths
from gravidon.study.making.parts_list import runs
from gravidon.study.solve.as_bought import as_bought
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.proposal import FITTING, Proposal, cures, freed, proposal
from gravidon.study.verdict.remedies_gravity import with_means
from gravidon.translate import commas
from gravidon.words.text import N_, tr

CODES = ("gap", "joint", "short")


@cures(*CODES, "hose-heat", "backwards", effort=FITTING)
def found_chain(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Take the shortest workable chain instead of the chosen parts."""
    line = finding.place
    if line in ("feed", "drain") and getattr(e.line.parts, line):
        run = next(r for r in runs(e.plan) if (r.key, r.turbo) == (line, e.index))
        if run.others:
            names = commas([link.part.name for link in run.others[0].links])
            plan = paths.put(e.plan, e.at(f"parts.{line}"), ())
            yield proposal(N_("Take the shortest chain that seals: {parts}"), plan, parts=names)


@cures("bore-thread")
def true_bore(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Count what the thread passes; or enter another way, in the size of the hose."""
    plan = paths.put(e.plan, e.at("drain.fitting.bore_mm"), round(finding.limit * 1e3, 2))
    yield proposal(N_("Count with what the thread passes"), plan)
    for name in MEANS:
        yield proposal(N_("{ask} in the size of the hose"), with_means(e, name), ask=tr(MEANS[name].ask))


@cures("tighter-parts")
def count_the_parts(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Choose the parts listed for the line: their bores are then counted."""
    plan = e.plan
    for run in runs(e.plan):
        if run.parts and (run.key, run.turbo) == (finding.place, finding.turbo):
            plan = paths.put(plan, f"turbos.{run.turbo}.parts.{run.key}", tuple(p.id for p in run.parts))
    if plan != e.plan:
        yield proposal(N_("Choose the parts listed, and count with their bores"), as_bought(plan))


@cures(*CODES)
def other_way_in(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Enter the pan in the way that a chain reaches."""
    if finding.place != "drain" or not e.route.ends_in_fitting:
        return
    for means in MEANS.values():
        if means is not e.line.drain.fitting.way:
            plan = with_means(e, means.name)
            yield proposal(N_("{ask} in the size of the hose"), plan, ask=tr(means.ask))


@cures(*CODES)
def straight_ends(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Shorter hose ends: straight ones."""
    pieces = e.line.drain.pieces
    if finding.place == "drain" and any(p.angle_deg for p in pieces):
        new = tuple(
            p.model_copy(
                update={"angle_deg": 0.0, "label": tr("straight hose end at the {at}").format(at=p.at)}
            )
            for p in pieces
        )
        yield proposal(N_("Use straight hose ends"), paths.put(freed(e, "drain"), e.at("drain.pieces"), new))


PARTS = (found_chain, true_bore, count_the_parts, other_way_in, straight_ends)
