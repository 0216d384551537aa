# SPDX-License-Identifier: GPL-3.0-or-later
"""Small sums inside the study, each against the figure worked by hand from the plan's own numbers or from plane geometry."""

from __future__ import annotations

import math
from types import SimpleNamespace

import numpy as np
import pytest

from gravidon.physics.rootfind import solve_falling
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.model import PanBox, Point
from gravidon.records.entry import Entry, Reading
from gravidon.study.diagnosis.showing import AT, features, situations
from gravidon.study.health.learnt import _law
from gravidon.study.home.entry_map import _best
from gravidon.study.home.replay import _emptying
from gravidon.study.planning.merit import Grip, Merit
from gravidon.study.planning.reasons import gives_up
from gravidon.study.solve.as_bought import as_bought
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.gravity import _hose
from gravidon.study.solve.wall import wall_of
from gravidon.study.verdict.remedies_mounting import level_shaft, turn_down


def test_a_line_empties_as_fast_as_its_oil_leaves() -> None:
    """Volume by hand (bores and lengths of the route, the cavity typed in mL) over the flow; never slower than a tenth a second."""
    e = evaluate(demo_plan("coupe"))
    cavity = e.line.turbo.cavity_ml.value * 1e-6
    litres = sum(
        math.pi / 4 * b * b * length for b, length in zip(e.route.bore_m, e.route.length_m, strict=True)
    )
    flow = np.array([1e-4, 1e-9])
    fast, slow = _emptying(e, flow)
    assert fast == pytest.approx(1e-4 / (litres + cavity), rel=1e-9)
    assert fast > 0.1
    assert slow == 0.1


def test_the_fill_of_the_hose_itself_is_that_of_its_middle() -> None:
    """Ten bores from either end are the fittings'; by hand on a straight hose of sixty pieces with one deep place."""
    e = evaluate(demo_plan("coupe"))
    bore = e.line.drain.hose_bore_mm * 1e-3
    count = 60
    route = SimpleNamespace(
        leg=np.ones(count, int),
        legs=2,
        ends_in_fitting=False,
        length_m=np.full(count, bore),
        bore_m=np.full(count, bore),
    )
    line = SimpleNamespace(route=route, it=e.line)
    for deep, seen in ((3, False), (30, True), (57, False)):
        fill = np.full((count + 1, 1), 0.2)
        fill[deep : deep + 2] = 0.8
        _, deepest = _hose(line, SimpleNamespace(full=np.zeros((count + 1, 1), bool), fill=fill))
        assert float(deepest[0]) == (0.8 if seen else 0.2), deep


def test_the_best_places_stand_well_apart() -> None:
    """On an even wall the first is in its middle; the next are a fifth of the wall's length away or more."""
    along, up = np.linspace(0.0, 0.4, 41), np.linspace(-0.05, 0.0, 6)
    places = _best(along, up, np.zeros((2, 6, 41), bool), np.full((6, 41), 5.0))
    assert len(places) == 3
    assert places[0][0] == pytest.approx(0.2)
    for k, one in enumerate(places):
        for other in places[k + 1 :]:
            apart = math.hypot(one[0] - other[0], one[1] - other[1])
            assert apart > 0.08
    assert max(math.hypot(p[0] - places[0][0], p[1] - places[0][1]) for p in places[1:]) < 0.12


def test_the_nearest_wall_of_a_name_is_the_entrys() -> None:
    """Of two boxes one over the other, each with a right wall in one plane, the one at the entry's own height."""
    plan = demo_plan("coupe")
    it = plan.turbos[0]
    entry = it.drain.entry
    old = plan.sump.boxes[0]

    def box(floor: float, depth: float) -> PanBox:
        corner = Point(x_mm=old.corner.x_mm, y_mm=old.corner.y_mm, z_mm=floor)
        return old.model_copy(update={"corner": corner, "depth_mm": depth})

    upper, lower = box(entry.z_mm - 20.0, 60.0), box(entry.z_mm - 150.0, 100.0)
    for boxes, floor in (((upper, lower), entry.z_mm - 20.0), ((lower, upper), entry.z_mm - 20.0)):
        changed = plan.model_copy(update={"sump": plan.sump.model_copy(update={"boxes": boxes})})
        assert wall_of(changed, it).floor_m * 1e3 == pytest.approx(floor)


def test_the_split_is_told_as_a_share_of_the_mean() -> None:
    plan = situations(demo_plan("van"))
    e = evaluate(plan)
    cruise = e.names.index("cruise")
    flows = [float(lens.feed.flow_m3_s[cruise]) for lens in e.all]
    wanted = (max(flows) - min(flows)) / (sum(flows) / len(flows))
    assert features(plan)[AT["split"]] == pytest.approx(wanted, rel=1e-9)
    assert wanted > 1e-4


def test_the_gallerys_law_is_learnt_less_the_senders_zero() -> None:
    """Three readings 30 kPa too high by a sender that reads 30 kPa at nothing: the law offered has the true ones, and lets go of the old reading of that kind only."""
    plan = demo_plan("coupe")
    first = plan.engine.readings[0]
    oil = first.oil_temperature_c + 273.15
    shown = first.pressure_kpa * 1e3 + 8e3
    days = [
        Entry(
            f"2026-05-0{k}", 1e6 * k, readings=(Reading(rpm=first.rpm, oil_k=oil, gallery_pa=shown + 30e3),)
        )
        for k in (1, 2, 3)
    ]
    h = SimpleNamespace(now=np.array([0.0, 0.0, 0.0, 0.0, 30e3, 0.0, 0.0]), sd=np.ones(7))
    _, _, after = _law(plan, days, h, 0)  # type: ignore[arg-type]
    assert after is not None
    near = [r for r in after.engine.readings if abs(r.rpm - first.rpm) < 0.2 * first.rpm]
    near = [r for r in near if abs(r.oil_temperature_c - first.oil_temperature_c) < 15.0]
    assert [r.pressure_kpa for r in near] == [pytest.approx(shown / 1e3, abs=0.06)]
    assert len(after.engine.readings) == len(plan.engine.readings)


def test_an_entry_fitting_that_is_bought_is_as_long_as_its_parts() -> None:
    """The fitting's length becomes what the chosen parts between hose end and wall stack to."""
    from gravidon.study.making.parts_list import drain_run

    plan = demo_plan("coupe")
    run = drain_run(plan, 0)
    ids = tuple(p.id for p in run.parts)
    typed = plan.turbos[0].drain.fitting.model_copy(update={"length_mm": 99.0})
    plan = paths.put(plan, "turbos.0.drain.fitting", typed)
    bought = as_bought(paths.put(plan, "turbos.0.parts.drain", ids))
    hose = next(k for k, p in enumerate(run.parts) if p.what.hose)
    low = [p for p in run.parts[hose + 1 :] if not p.what.hose_end]
    stack = sum(p.stack_mm for p in low)
    assert stack > 0.0
    assert bought.turbos[0].drain.fitting.length_mm == pytest.approx(max(stack, 5.0), abs=0.01)


@pytest.mark.parametrize("angle", [1.0, -1.0, 12.0])
def test_a_degree_of_lean_is_worth_taking_out_and_half_of_one_is_not(angle: float) -> None:
    plan = demo_plan("coupe")
    for path, remedy in (("turbos.0.turbo.pitch_deg", level_shaft), ("turbos.0.turbo.clock_deg", turn_down)):
        leans = evaluate(paths.put(plan, path, angle))
        assert [p for p in remedy.propose(leans, None) if p is not None]  # type: ignore[arg-type]
        hardly = evaluate(paths.put(plan, path, 0.4))
        assert not list(remedy.propose(hardly, None))  # type: ignore[arg-type]


def test_a_plan_is_not_blamed_for_what_only_a_worse_one_does_better() -> None:
    """Only plans that hold as well count: a cheap one that fails is no reason to say that this one costs more."""

    def weighed(grade: int, cost: float) -> Merit:
        return Merit("holds" if grade else "fails", 0.3, 0, 0, cost, 60, 0.0, 5, 0, 0, Grip(grade, 0.3, 0.0))

    mine, cheap_and_bad, cheap = weighed(2, 500.0), weighed(0, 20.0), weighed(2, 60.0)
    assert gives_up(mine, [cheap_and_bad]) == ()
    assert gives_up(mine, [cheap]) != ()


def test_a_root_is_found_in_few_steps() -> None:
    """Anderson and Björck's weighting keeps its pace where plain false position crawls: steep at one end, flat at the other. Its paper finds such roots in about ten evaluations."""
    one = np.ones(1)
    for power in (3, 5, 9):
        root = solve_falling(lambda x, p=power: 1.0 - x**p, 0.2 * one, 3.0 * one, one, 1e-10)
        assert root.converged
        assert float(root.value[0]) == pytest.approx(1.0, abs=1e-9)
        assert root.iterations <= 22, (power, root.iterations)
        mirror = solve_falling(lambda x, p=power: (3.2 - x) ** p - 1.0, 0.2 * one, 3.0 * one, one, 1e-10)
        assert float(mirror.value[0]) == pytest.approx(2.2, abs=1e-9)
        assert mirror.iterations <= 22, (power, mirror.iterations)


def test_threads_that_do_not_match_are_told_with_both_pitches() -> None:
    """27 and 28 threads to the inch: 0.9407 mm (ASME B1.20.1) and 0.9071 mm (ISO 7-1)."""
    from gravidon.study.verdict.trials import trial

    found = next(f for f in trial(demo_plan("estate")).findings if f.code == "thread-tap")
    assert found.value * 1e3 == pytest.approx(25.4 / 27, abs=1e-3)
    assert found.limit * 1e3 == pytest.approx(25.4 / 28, abs=1e-3)


def test_what_all_turbos_share_is_held_once_and_the_rest_one_by_one() -> None:
    """Said of the second turbo, a shared choice is held for both; one of its own for it alone."""
    from gravidon.study.planning.choices import CHOICES
    from gravidon.study.planning.freedom import held, read_hold, with_hold

    plan = demo_plan("van")
    shared = next(c for c in CHOICES.values() if c.known.shared)
    own = CHOICES["restrictor"]
    plan = with_hold(with_hold(plan, read_hold(plan, shared.name)), read_hold(plan, f"{own.name}@2"))
    assert [held(plan, shared, k).hold.turbo for k in (0, 1)] == [0, 0]
    assert [held(plan, shared, k).state for k in (0, 1)] == ["locked", "locked"]
    assert held(plan, own, 1).hold.turbo == 1


def test_a_housing_is_not_turned_past_its_limit() -> None:
    from gravidon.errors import InputError
    from gravidon.study.planning.choices import CHOICES

    plan = demo_plan("coupe")
    clock = CHOICES["clock"]
    most = plan.turbos[0].turbo.clock_max_deg.value
    turned = clock.put(plan, 0, f"{most:g}")
    assert turned.turbos[0].turbo.clock_deg.value == most
    with pytest.raises(InputError):
        clock.put(plan, 0, f"{most + 0.5:g}")
