"""Findings of the parts: a chain that cannot be closed, a joint in it that leaks, a hose too short for its ends."""

from __future__ import annotations

from collections.abc import Iterable

from gravidon.parts import sources
from gravidon.parts.chains import ChainJoint
from gravidon.study.cutting import cuts
from gravidon.study.evaluate import Evaluation
from gravidon.study.findings import Finding, plain, plan_finder
from gravidon.study.parts_list import LineRun, runs


def own_joints(run: LineRun) -> tuple[ChainJoint, ...]:
    """Return the bad joints of a run that are not told of already: the thread in the engine and that in the pan."""
    bad = list(run.bad)
    if (
        run.joints
        and run.key in ("feed", "trunk")
        and run.joints[0] in bad
        and run.start.kind != "37 flare"
        and not run.chosen
    ):
        bad.remove(run.joints[0])
    if run.joints and run.key == "drain" and run.joints[-1] in bad and not run.chosen:
        bad.remove(run.joints[-1])
    return tuple(bad)


@plan_finder
def chain_gaps(e: Evaluation) -> Iterable[Finding]:
    """No parts lead from one port to the other."""
    for run in runs(e.plan):
        if run.missing:
            text = f"{run.name}: {run.missing}."
            yield plain(f"gap-{run.key}-{run.turbo}", "bad", "A part is missing in the chain", "parts", 0.0, 1.0, "count",
                        sources.COMPUTED, (text, text), "Builds stand still for days over one small adapter.", -0.8)  # fmt: skip


@plan_finder
def chain_joints(e: Evaluation) -> Iterable[Finding]:
    """A joint of the chosen parts that does not seal."""
    for run in runs(e.plan):
        for j in own_joints(run)[:1]:
            verb = "leaks" if j.fit.outcome == "leaks" else "does not fit"
            text = f"{run.name}: a joint {verb}. {j.fit.why[:1].upper()}{j.fit.why[1:]}."
            yield plain(f"joint-{run.key}-{run.turbo}", "bad", "Parts do not match", "parts", 0.0, 1.0, "count",
                        sources.COMPUTED, (text, text), "It may screw together by hand; hot oil finds the gap.", -0.9)  # fmt: skip


@plan_finder
def short_hoses(e: Evaluation) -> Iterable[Finding]:
    """A route shorter than the two hose ends on it."""
    for cut in cuts(e.plan):
        if cut.note:
            text = f"{cut.name}: {cut.route_m * 1e3:.0f} mm of route, {sum(cut.takeoffs_m) * 1e3:.0f} mm of it taken by the hose ends."
            yield plain(f"short-{cut.run}-{cut.turbo}", "bad", "Hose too short for its ends", "parts", cut.cut_m, 0.03, "run",
                        sources.COMPUTED, (text, text), "Between two ends a hose needs length to be gripped and to bend.", -0.5)  # fmt: skip
