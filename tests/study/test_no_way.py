# SPDX-License-Identifier: GPL-3.0-or-later
"""What is said of a drain for which there is no way: against ways thrown at random, and against the thing moved as it is told."""

import numpy as np
import pytest

from gravidon import api
from gravidon.physics import space
from gravidon.plan.model import Plan, Point
from gravidon.plan.model_drain import Shape
from gravidon.study.planning.ways import (
    ANGLES_DEG,
    NoWay,
    Way,
    _eased,
    drain_rule,
    drain_way,
    fitting_end,
    keepouts,
    lasting_up,
    stub_end,
)
from gravidon.study.solve.run_review import hose_outside_m

Box = tuple[str, float, float, float, float, float, float]


def beside(*boxes: Box) -> Plan:
    """The coupe with other things beside its drain: kind, corner and sides [mm]."""
    shapes = tuple(
        Shape(
            label=f"thing {n}",
            kind=kind,
            corner=Point(x_mm=x, y_mm=y, z_mm=z),
            length_mm=a,
            width_mm=b,
            height_mm=c,
        )
        for n, (kind, x, y, z, a, b, c) in enumerate(boxes, 1)
    )
    return api.demo("coupe").model_copy(update={"shapes": shapes})


THREE: tuple[Box, ...] = (
    ("solid", -296.5, -235.5, 2.9, 81.6, 49.3, 46.1),
    ("hot", -244.1, -287.0, 43.8, 24.4, 57.9, 51.0),
    ("hot", -311.6, -310.7, 146.8, 48.7, 76.1, 21.3),
)
TWO: tuple[Box, ...] = (
    ("chafe", -315.5, -311.8, 104.0, 89.2, 44.5, 78.5),
    ("solid", -258.0, -216.2, 90.8, 30.3, 82.4, 28.4),
)


def test_a_way_far_from_the_path_of_cells_is_found() -> None:
    """One bend 200 mm out leads round both things; the path over cells, bent to the hose, never came there."""
    way = drain_way(beside(*TWO), 0)
    assert isinstance(way, Way)


def test_no_way_means_that_random_ways_find_none() -> None:
    """4,000 ways of one and two bends, drawn with a generator of its own, each looked at by every rule."""
    plan = beside(*THREE)
    assert isinstance(drain_way(plan, 0), NoWay)
    it = plan.turbos[0]
    start, goal = stub_end(it), fitting_end(it)
    boxes, _ = _eased(keepouts(plan, 0.5 * hose_outside_m(it), True), np.stack([start, goal]))
    rule = drain_rule(plan, 0, lasting_up(plan), ANGLES_DEG[-1])
    low, high = np.minimum(start, goal) - 0.16, np.maximum(start, goal) + 0.16
    low[2], high[2] = goal[2], start[2]
    rng = np.random.default_rng(2026)
    for n in range(4000):
        inner = low + rng.random((1 + n % 2, 3)) * (high - low)
        inner = inner[np.argsort(-inner[:, 2])]
        assert space.faults(np.concatenate([start[None], inner, goal[None]]), boxes, rule)


def test_the_thing_in_the_way_moved_as_it_is_told_leaves_one() -> None:
    """The sentence names the third thing, 10 mm to the left: so moved by hand, there is a way."""
    told = drain_way(beside(*THREE), 0)
    assert isinstance(told, NoWay)
    assert told.things == ("thing 3",)
    assert "thing 3 moved 10 mm to the left" in told.why
    kind, x, y, z, a, b, c = THREE[2]
    assert isinstance(drain_way(beside(*THREE[:2], (kind, x, y + 10.0, z, a, b, c)), 0), Way)


@pytest.mark.parametrize("far", [5.0, 9.0])
def test_less_than_is_told_does_not(far: float) -> None:
    kind, x, y, z, a, b, c = THREE[2]
    assert isinstance(drain_way(beside(*THREE[:2], (kind, x, y + far, z, a, b, c)), 0, blame=False), NoWay)
