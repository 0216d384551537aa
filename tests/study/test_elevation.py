# SPDX-License-Identifier: GPL-3.0-or-later
"""The drawing's geometry."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gravidon.draw.geometry.elevation import below_plane, elevation, project, shifted
from gravidon.plan.demos import demo_plan
from gravidon.plan.model import Point
from gravidon.study.solve.evaluate import evaluate

E = evaluate(demo_plan())


def test_from_the_front_the_cars_left_is_at_the_right() -> None:
    """Facing the car, its left side (+y, ISO 8855) is on the viewer's right; from its left side, its
    front (+x) is on the viewer's left."""
    assert project("front", np.array([[0.0, 0.1, 0.0]]))[0].tolist() == [100.0, 0.0]
    assert project("side", np.array([[0.1, 0.0, 0.0]]))[0].tolist() == [-100.0, 0.0]


@given(st.sampled_from(["front", "side", "above"]), st.floats(-500, 500), st.floats(-200, 500))
def test_a_dragged_point_lands_under_the_mouse(view: str, right: float, up: float) -> None:
    """A shift moves a point's picture by just that step (0.1 mm rounding); the hidden coordinate stays."""
    start = Point(x_mm=7.0, y_mm=9.0, z_mm=5.0)
    point = shifted(view, start, right, up)  # type: ignore[arg-type]
    seen, before = (
        project(view, np.array([[p.x_mm, p.y_mm, p.z_mm]]) * 1e-3)[0]  # type: ignore[arg-type]
        for p in (point, start)
    )
    assert seen - before == pytest.approx([right, up], abs=0.051)
    hidden = {"front": "x_mm", "side": "y_mm", "above": "z_mm"}[view]
    assert getattr(point, hidden) == getattr(start, hidden)


def test_a_square_cut_level_keeps_its_lower_half() -> None:
    square = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])
    half = below_plane(square, np.array([0.0, 1.0]), 0.5)
    x, y = half[:, 0], half[:, 1]
    area = 0.5 * abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))
    assert area == pytest.approx(0.5)
    assert len(below_plane(square, np.array([0.0, 1.0]), -0.1)) == 0


@pytest.mark.parametrize("condition", range(len(E.names)))
def test_drawn_freeboard_is_the_computed_one(condition: int) -> None:
    """Seal line and pond line in the picture are the freeboard apart, along the picture's up."""
    picture = elevation(E, condition, "front")
    apart = picture.seal_point - picture.pond_point
    upright = picture.up / np.linalg.norm(picture.up)
    assert float(apart @ upright) == pytest.approx(float(E.drainage.freeboard_m[condition]) * 1e3, abs=1e-6)


def test_drawn_pan_oil_is_level_along_effective_gravity() -> None:
    """The oil's upper edge in a hard left is normal to effective gravity."""
    picture = elevation(E, E.names.index("hard left"), "front")
    heights = picture.oils[0] @ picture.up
    top = picture.oils[0][heights > heights.max() - 1e-6]
    assert len(top) == 2
