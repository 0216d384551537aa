# SPDX-License-Identifier: GPL-3.0-or-later
"""Bores, lengths and least bend of a plan are those of the parts chosen for it."""

from __future__ import annotations

import pytest

from gravidon.parts.catalogue import catalogue
from gravidon.plan import paths
from gravidon.plan.demos import NAMES, demo_plan
from gravidon.plan.model import Hose, Plan
from gravidon.plan.starter import Answers, new_plan
from gravidon.study.making.cutting import cuts, order_list
from gravidon.study.making.parts_list import runs
from gravidon.study.solve.as_bought import as_bought, line_dash
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.verdict.facts import smallest_counted_mm
from gravidon.study.verdict.findings import find
from gravidon.study.verdict.remedies import remedies

STOCK = catalogue()


def with_drain(plan: Plan, *words: str) -> Plan:
    """Return a plan whose drain is made of the first parts of the catalogue that hold these words."""
    ids = [next(p.id for p in STOCK.values() if p.name.startswith(w)) for w in words]
    return paths.put(plan, "turbos.0.parts.drain", tuple(ids))


DASH_10 = ("drain flange medium two-bolt 44 mm to -10 flare male", "-10 straight hose end, rubber", "-10 braided rubber hose", "-10 45° hose end, rubber", "weld bung with -10")  # fmt: skip


def test_nothing_chosen_nothing_changed() -> None:
    plan = new_plan("p", Answers())
    assert as_bought(plan) is plan


def test_the_march_runs_through_the_parts_chosen() -> None:
    """A -10 flare end passes 12.29 mm (SAE J514) whatever the plan says; the hose keeps its 14.29 mm."""
    plan = with_drain(paths.put(new_plan("p", Answers()), "turbos.0.drain.flange_bore_mm", 18.0), *DASH_10)
    e = evaluate(plan)
    assert e.line.drain.flange_bore_mm == pytest.approx(12.29)
    assert e.line.drain.fitting.bore_mm == pytest.approx(12.29)
    assert [p.bore_mm for p in e.line.drain.pieces] == pytest.approx([12.29, 12.29])
    assert [p.angle_deg for p in e.line.drain.pieces] == [0.0, 45.0]
    assert sorted({round(b * 1e3, 2) for b in e.route.bore_m}) == [12.29, 14.29]
    assert e.line.drain.min_bend_mm.value == 140.0  # SAE J517 100R5
    assert as_bought(e.plan) == e.plan


def test_hose_of_another_make_is_of_its_own_bore() -> None:
    """-10 PTFE is 12.7 mm inside (SAE J517 100R14) and still a -10: order list, cut list and march say the same."""
    names = [w.replace("rubber", "PTFE") for w in DASH_10]
    plan = as_bought(with_drain(new_plan("p", Answers()), *names))
    assert plan.turbos[0].drain.hose_bore_mm == 12.7
    assert plan.turbos[0].drain.min_bend_mm.value == 165.0
    assert line_dash(plan, 0, "drain") == 10
    assert next(c for c in cuts(plan) if c.run == "drain").dash == 10
    run = next(r for r in runs(plan) if r.key == "drain")
    assert min(p.bore_mm for p in run.parts) == smallest_counted_mm(plan.turbos[0], "drain")


def test_a_bought_hole_wider_than_the_plan_is_what_is_counted() -> None:
    """A hole can be drilled up, never down."""
    plan = paths.put(new_plan("p", Answers(bearing="ball")), "turbos.0.restrictor.fitted", True)
    run = next(r for r in runs(paths.put(plan, "turbos.0.restrictor.bore_mm", 1.0)) if r.key == "feed")
    plan = paths.put(plan, "turbos.0.parts.feed", tuple(p.id for p in run.parts))
    small = as_bought(paths.put(plan, "turbos.0.restrictor.bore_mm", 0.8))
    large = as_bought(paths.put(plan, "turbos.0.restrictor.bore_mm", 1.3))
    assert small.turbos[0].restrictor.bore_mm == 1.0
    assert large.turbos[0].restrictor.bore_mm == 1.3


def test_a_hole_that_no_part_can_be_drilled_to_is_a_gap() -> None:
    plan = paths.put(new_plan("p", Answers(bearing="ball")), "turbos.0.restrictor.bore_mm", 0.3)
    run = next(r for r in runs(plan) if r.key == "feed")
    assert "drilled to it" in run.missing


@pytest.mark.parametrize("name", NAMES)
def test_choosing_the_parts_listed_makes_plan_and_list_one(name: str) -> None:
    """The tightest bore counted is the tightest of the parts ordered, in every demo, feed and drain; the evaluation stands."""
    plan = demo_plan(name)
    for run in runs(plan):
        if run.key in ("feed", "drain") and run.parts:
            plan = paths.put(plan, f"turbos.{run.turbo}.parts.{run.key}", tuple(p.id for p in run.parts))
    plan = as_bought(plan)
    for run in (r for r in runs(plan) if r.key in ("feed", "drain") and r.parts):
        passing = min(p.bore_mm for p in run.parts if p.bore_mm and not p.meters)
        assert smallest_counted_mm(plan.turbos[run.turbo], run.key) == pytest.approx(passing, abs=0.01)
        assert any(isinstance(p, Hose) for p in plan.turbos[run.turbo].feed.pieces)
    assert all(f.code != "tighter-parts" for f in find(evaluate(plan)))
    assert order_list(plan)


@pytest.mark.parametrize("bearing", ["journal", "ball"])
def test_a_first_plan_counts_what_would_be_ordered(bearing: str) -> None:
    """The usual parts of its dash stand in: no note says that the parts are tighter."""
    plan = new_plan("p", Answers(bearing=bearing))
    assert all(f.code != "tighter-parts" for f in find(evaluate(plan)))


def test_bores_no_part_has_are_told_of_and_mended() -> None:
    """A plan that counts 18 mm where a -10 end passes 12.3: a note, and one step that counts the parts."""
    plan = new_plan("p", Answers(bearing="ball"))
    drain = plan.turbos[0].drain
    wide = drain.model_copy(
        update={"flange_bore_mm": 18.0, "fitting": drain.fitting.model_copy(update={"bore_mm": 18.0})}
    )
    e = evaluate(paths.put(plan, "turbos.0.drain", wide))
    note = next(f for f in find(e) if f.code == "tighter-parts" and f.place == "drain")
    assert note.severity == "note"
    mended = remedies(e, note)[0].plan
    assert mended.turbos[0].drain.flange_bore_mm == pytest.approx(12.29)


def test_a_valve_against_its_arrow_is_bad() -> None:
    plan = paths.put(new_plan("p", Answers()), "turbos.0.parts.feed", ("valve-6-one-way-valve",))
    plan = paths.put(plan, "turbos.0.parts.inlet", "37 flare|-6|female")
    plan = paths.put(plan, "taps.0.fitting_thread", "-6 flare 9/16-18")
    plan = paths.put(plan, "taps.0.port_thread", "-6 flare 9/16-18")
    e = evaluate(plan)
    codes = {f.code for f in find(e)}
    run = next(r for r in runs(plan) if r.key == "feed")
    assert ("backwards" in codes) == bool(run.links and run.links[0].inlet == 0)
