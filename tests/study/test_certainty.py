# SPDX-License-Identifier: GPL-3.0-or-later
"""What decides the verdict and how sure it is: one way of sampling, the plan's own evaluation."""

import numpy as np
import pytest

from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.fields import Known
from gravidon.plan.model import Plan
from gravidon.plan.paths import walk_known
from gravidon.study.judge.quantity import BAD, WATCH
from gravidon.study.verdict.certainty import certainty, deciders, outcome, uncertain_inputs, varied
from gravidon.study.verdict.trials import trial
from study.families import case

ESTATE, VAN = demo_plan("estate"), demo_plan("van")
FED = paths.put(ESTATE, "turbos.0.restrictor.bore_mm", 2.2)


@pytest.mark.parametrize("plan", [ESTATE, VAN], ids=["estate", "van"])
def test_no_deviation_is_the_plan_itself(plan: Plan) -> None:
    inputs = uncertain_inputs(plan)
    assert varied(plan, inputs, np.zeros(len(inputs))) == plan
    words = ["holds", "holds", "watch", "fails"]
    told = [words[int(g)] for g in outcome(plan).grades]
    # what a condition is said to be by its findings, those of places and of the plan left out
    by_finding = ["holds"] * len(told)
    for f in trial(plan).findings:
        if f.condition in [c.name for c in plan.conditions] and f.severity != "note":
            by_finding[f.condition_index] = "seen"
    assert all(w != "holds" for w, seen in zip(told, by_finding, strict=True) if seen == "seen")


def test_a_deviation_is_that_value_typed() -> None:
    """Half a band more oil in the pan, by the path: the same plan as typing it, and validated."""
    inputs = uncertain_inputs(FED)
    k = next(i for i, u in enumerate(inputs) if u.path == "sump.fill_l")
    unit = np.zeros(len(inputs))
    unit[k] = 0.5
    made = varied(FED, inputs, unit)
    fill = FED.sump.fill_l
    wanted = fill.value + 0.5 * inputs[k].widths["sump.fill_l"]
    assert made.sump.fill_l.value == pytest.approx(wanted)
    assert made == paths.put(FED, "sump.fill_l", fill.model_copy(update={"value": made.sump.fill_l.value}))
    far = varied(FED, inputs, np.full(len(inputs), 50.0))
    assert Plan.model_validate(far.model_dump()) is not None  # even there, within all bounds


def test_both_sides_are_looked_at_and_every_guess_that_counts() -> None:
    """Every value nobody measured moves, but for limits that are a choice, other taps, parts, and a pump not fitted."""
    covered = {p for u in uncertain_inputs(ESTATE) for p in u.widths}
    for path, _, value in walk_known(ESTATE):
        left_out = path.startswith(("needs.", "taps.")) or ".scavenge." in path or ".parts." in path
        left_out |= ".flange_hole." in path or path.endswith("reference_drop_kpa")
        if value.basis == "guess" and value.value != 0.0 and not left_out:
            assert path in covered, path
    names = [u.name for u in uncertain_inputs(ESTATE)]
    assert {"oil fill", "windage", "air in the drain's oil", "oil flow at the reference drop"} <= set(names)


def test_what_decides_is_what_a_person_would_find_by_typing_it() -> None:
    """Each end of a swing is the plan with that one value typed: worst grade the same, for the first few."""
    *_, answer = deciders(FED)
    assert len(answer.swings) == answer.inputs
    sizes = [s.size for s in answer.swings]
    assert sizes == sorted(sizes, reverse=True)
    assert all(s.item.basis == "guess" for s in answer.first)
    single = [s for s in answer.swings if len(s.item.widths) == 1][:3]
    for swing in single:
        path, width = next(iter(swing.item.widths.items()))
        old = paths.get(FED, path)
        for sign, end in ((-1.0, swing.low), (1.0, swing.high)):
            value = paths.number(FED, path) + sign * width
            typed = paths.put(
                FED, path, old.model_copy(update={"value": value}) if isinstance(old, Known) else value
            )
            assert outcome(typed).grades.tolist() == end.grades.tolist()


def test_measuring_a_guess_narrows_its_swing() -> None:
    path, name = "turbos.0.turbo.reference_flow_l_min", "oil flow at the reference drop"
    measured = paths.put(FED, path, Known(value=2.2, basis="measured", tolerance=0.02))
    sizes = []
    for plan in (FED, measured):
        wide = paths.put(plan, "turbos.0.restrictor.bore_mm", 3.0)  # so wide that the flow decides
        inputs = uncertain_inputs(wide)
        alone = np.array([float(i.name == name) for i in inputs])
        low, high = outcome(varied(wide, inputs, -alone)), outcome(varied(wide, inputs, alone))
        sizes.append(abs(high.margin - low.margin))
    assert sizes[1] < 0.2 * sizes[0]


def test_a_proven_plan_is_surer_than_a_bad_one() -> None:
    """Sixty samples of the middle of the proven recipe and of the same entered below the oil; standard error 6 %."""
    *_, good = certainty(case(), samples=60)
    *_, bad = certainty(case(changes={"turbos.0.drain.entry.z_mm": -114.0}), samples=60)
    assert good.samples == 60
    assert sum(good.whole) == pytest.approx(1.0)
    assert good.shares.sum(axis=0) == pytest.approx(1.0)
    assert good.whole[0] > 0.5
    assert bad.whole[2] > 0.9
    assert good.whole[0] <= good.shares[0].min() + 1e-9
    *_, again = certainty(case(), samples=60)
    assert (again.shares == good.shares).all()


def test_grades_are_those_of_the_findings() -> None:
    e = outcome(ESTATE)
    bad = {f.condition for f in trial(ESTATE).findings if f.severity == "bad" and f.condition}
    names = [c.name for c in ESTATE.conditions]
    assert bad <= {n for n, g in zip(names, e.grades, strict=True) if g == BAD}
    assert all(c for c, g in zip(e.causes, e.grades, strict=True) if g >= WATCH)
