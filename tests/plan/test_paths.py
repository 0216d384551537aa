# SPDX-License-Identifier: GPL-3.0-or-later
"""Changing a plan by path."""

import pytest

from gravidon.errors import InputError
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.fields import Known
from gravidon.plan.starter import Answers, new_plan, with_turbo_kind


def test_put_changes_one_place_and_leaves_the_old_plan() -> None:
    before = demo_plan()
    after = paths.put(before, "turbos.0.drain.points.1.z_mm", -20.0)
    assert after.turbos[0].drain.points[1].z_mm == -20.0
    assert before.turbos[0].drain.points[1].z_mm != -20.0
    assert paths.put(after, "turbos.0.drain", before.turbos[0].drain) == before


def test_typing_a_number_makes_a_guess_measured_and_keeps_its_tolerance() -> None:
    plan = paths.put(demo_plan(), "sump.windage_mm", Known(value=8.0, basis="guess", tolerance=3.0))
    plan = paths.put(plan, "sump.windage_mm", 12.0)
    assert plan.sump.windage_mm == Known(value=12.0, basis="measured", tolerance=3.0)
    assert "sump.windage_mm" not in paths.guesses(plan)


@pytest.mark.parametrize(
    ("path", "value", "names"),
    [
        ("turbos.0.restrictor.bore_mm", -1.0, "restrictor bore"),
        ("turbos.0.restrictor.bore_mm", float("nan"), "restrictor bore"),
        ("sump.fill_l", float("inf"), "oil fill"),
        ("sump.fill_l", 1e9, "0.3 to 60 L"),
        ("turbos.0.turbo.window.speed_min_kpa", 900.0, "least inlet pressure below the most"),
        ("taps.0.port_thread", "M99", "expected one of"),
    ],
)
def test_bad_values_are_refused_with_the_fields_name(path: str, value: object, names: str) -> None:
    plan = demo_plan()
    with pytest.raises(InputError, match=names):
        paths.put(plan, path, value)
    assert plan == demo_plan()


def test_a_part_that_was_copied_with_a_figure_out_of_bounds_is_refused_by_that_figures_name() -> None:
    """A whole part put into a plan is looked at like a single figure: a plan that could not be opened again is none."""
    plan = demo_plan("coupe")
    hole = plan.turbos[0].restrictor.model_copy(update={"bore_mm": 13.0})
    with pytest.raises(InputError, match=r"restrictor bore.*13.*0.2 to 12"):
        paths.put(plan, "turbos.0.restrictor", hole)
    box = plan.sump.boxes[0].model_copy(update={"depth_mm": -5.0})
    with pytest.raises(InputError, match="-5"):
        paths.put(plan, "sump.boxes", (box,))
    smuggled = plan.turbos[0].model_copy(update={"restrictor": hole})
    with pytest.raises(InputError, match="restrictor bore"):
        paths.put(plan, "turbos.0", smuggled)
    with pytest.raises(InputError, match="restrictor bore"):
        paths.checked(plan.model_copy(update={"turbos": (smuggled,)}))
    assert paths.checked(plan) is plan


def test_changing_the_bearing_replaces_guesses_only() -> None:
    plan = paths.put(demo_plan(), "turbos.0.turbo.window.speed_max_kpa", 480.0)
    ball = with_turbo_kind(plan, "ball", "small")
    assert ball.turbos[0].turbo.window.speed_max_kpa.value == 480.0
    assert ball.turbos[0].turbo.reference_flow_l_min.value == pytest.approx(1.1 * 0.75)
    assert ball.turbos[0].turbo.shaft_height_mm == plan.turbos[0].turbo.shaft_height_mm  # measured: stays


def test_five_answers_make_a_plan_that_evaluates() -> None:
    """Whatever the five answers, the first plan is whole and every unknown is marked as a guess."""
    from gravidon.study.solve.evaluate import evaluate

    for bearing in ("journal", "ball"):
        for frame in ("small", "medium", "large"):
            plan = new_plan("first", Answers("5W-40", bearing, frame, 100.0, 350.0, 250.0))
            assert evaluate(plan).names[0] == "cold start"
            assert {p for p, _, k in paths.walk_known(plan) if k.basis == "guess"} == set(paths.guesses(plan))
            assert len(paths.guesses(plan)) > 12
