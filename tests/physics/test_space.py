# SPDX-License-Identifier: GPL-3.0-or-later
"""Ways through space against mazes whose shortest ways are known, and against their own rules."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gravidon.physics import bending, space
from gravidon.physics.space import Keepout, Rule

FREE = np.zeros((0, 3))
LEVEL = np.array([[0.0, 0.0, 1.0]])


def laid(
    start: np.ndarray, goal: np.ndarray, boxes: list[Keepout], rule: Rule, step: float = 0.02
) -> np.ndarray | None:
    """The way from a start to a goal: cells, then legs, as a planner does it."""
    low, high = np.minimum(start, goal) - 0.15, np.maximum(start, goal) + 0.15
    grid = space.cells(low, high, np.full(3, step), boxes)
    found = space.reach(grid, start, rule)
    path = found.path(int(np.ravel_multi_index(grid.at(goal), grid.free.shape)))
    if path is None:
        return None
    path[0], path[-1] = start, goal
    return bending.best_way(path, boxes, rule)


def slab(
    low: tuple[float, float, float], high: tuple[float, float, float], room: float = 0.0, name: str = ""
) -> Keepout:
    return Keepout(np.array(low), np.array(high), room, name)


def long(way: np.ndarray) -> float:
    return float(np.linalg.norm(np.diff(way, axis=0), axis=1).sum())


# --- mazes with known shortest ways --------------------------------------------------------------


def test_nothing_in_the_way_is_a_straight_line() -> None:
    """Euclid: the straight line is the shortest way."""
    start, goal = np.array([0.0, 0.0, 0.3]), np.array([0.2, 0.1, 0.0])
    way = laid(start, goal, [], Rule(LEVEL, 0.05))
    assert way is not None
    assert np.allclose(way, [start, goal])


def test_a_thin_wall_is_passed_at_its_edge() -> None:
    """The taut string past the end of a 20 mm wall: two legs to its corners and its thickness."""
    start, goal = np.array([-0.2, 0.0, 0.0]), np.array([0.2, 0.0, 0.0])
    wall = slab((-0.01, -1.0, -1.0), (0.01, 0.1, 1.0))
    way = laid(start, goal, [wall], Rule(FREE))
    assert way is not None
    assert long(way) == pytest.approx(2.0 * math.hypot(0.19, 0.1) + 0.02, rel=0.03)
    assert way[1:-1, 1].max() >= 0.1


def test_no_wall_is_too_thin_to_be_seen() -> None:
    """A sheet of 1 mm, thinner than any cell, is gone round: nothing is laid through it."""
    start, goal = np.array([-0.2, 0.0, 0.0]), np.array([0.2, 0.0, 0.0])
    sheet = slab((-0.0005, -1.0, -1.0), (0.0005, 0.1, 1.0))
    way = laid(start, goal, [sheet], Rule(FREE))
    assert way is not None
    assert 2.0 * math.hypot(0.2, 0.1) - 1e-6 <= long(way) < 1.12 * 2.0 * math.hypot(0.2, 0.1)


def test_a_box_is_gone_round_by_two_corners() -> None:
    """Round a 0.2 m box met in its middle: legs to two corners and its side, 2·√(0.15² + 0.1²) + 0.2."""
    start, goal = np.array([-0.25, 0.0, 0.0]), np.array([0.25, 0.0, 0.0])
    box = slab((-0.1, -0.1, -1.0), (0.1, 0.1, 1.0))
    way = laid(start, goal, [box], Rule(FREE))
    assert way is not None
    known = 2.0 * math.hypot(0.15, 0.1) + 0.2
    assert known <= long(way) + 1e-6
    assert long(way) == pytest.approx(known, rel=0.04)


def test_two_walls_with_staggered_gaps() -> None:
    """An S through two gaps at opposite sides: the taut string over both edges is the shortest."""
    start, goal = np.array([0.0, 0.0, 0.0]), np.array([0.4, 0.0, 0.0])
    boxes = [slab((0.12, -1.0, -1.0), (0.14, 0.08, 1.0)), slab((0.26, -0.08, -1.0), (0.28, 1.0, 1.0))]
    way = laid(start, goal, boxes, Rule(FREE), 0.015)
    assert way is not None
    string = np.array([[0.0, 0.0], [0.12, 0.08], [0.14, 0.08], [0.26, -0.08], [0.28, -0.08], [0.4, 0.0]])
    assert long(way) == pytest.approx(long(string), rel=0.05)


def test_a_shut_room_has_no_way() -> None:
    start, goal = np.array([0.0, 0.0, 0.2]), np.array([0.2, 0.0, 0.0])
    wall = slab((0.09, -2.0, -2.0), (0.11, 2.0, 2.0), name="wall")
    assert laid(start, goal, [wall], Rule(LEVEL, 0.05)) is None


def test_room_is_kept_of_the_edge() -> None:
    """With 30 mm asked the way stands 30 mm off the edge, arcs and all."""
    start, goal = np.array([-0.2, 0.0, 0.2]), np.array([0.2, 0.0, -0.1])
    wall = slab((-0.01, -0.5, -0.5), (0.01, 0.10, 0.5), 0.03)
    rule = Rule(LEVEL, 0.07, 0.0, 0.12, (0.03, 0.03))
    way = laid(start, goal, [wall], rule)
    assert way is not None
    assert space.clearance(space.rounded(way, rule.bend_m), [wall]).min() >= -1e-6
    assert long(way) < 1.25 * long(np.array([start, goal]))


# --- falling --------------------------------------------------------------------------------------


def test_what_must_fall_does_not_go_over_a_sill() -> None:
    """A sill over the start's height stands across: a free way climbs over it, a drain has none."""
    start, goal = np.array([-0.15, 0.0, 0.1]), np.array([0.15, 0.0, 0.0])
    sill = slab((-0.01, -2.0, -1.0), (0.01, 2.0, 0.15))
    assert laid(start, goal, [sill], Rule(FREE)) is not None
    assert laid(start, goal, [sill], Rule(LEVEL, 0.05)) is None


def test_a_lean_closes_a_way_that_level_ground_leaves() -> None:
    """A run that falls 8° level climbs when the car leans 10° that way."""
    start, goal = np.array([0.0, 0.0, 0.0]), np.array([0.25, 0.0, -0.25 * math.tan(math.radians(8.0))])
    lean = math.radians(10.0)
    leaning = np.array([[0.0, 0.0, 1.0], [math.sin(lean), 0.0, math.cos(lean)]])
    assert space.legs_ok(start[None], goal[None], [], Rule(LEVEL, 0.02))[0]
    assert not space.legs_ok(start[None], goal[None], [], Rule(leaning, 0.02))[0]


@pytest.mark.parametrize("off_deg", [30.0, 50.0])
def test_steps_keep_the_angle_off_upright(off_deg: float) -> None:
    step = np.array([0.02, 0.02, 0.008])
    moves = space.allowed_steps(step, Rule(LEVEL, 0.05, math.cos(math.radians(off_deg)))) * step
    assert len(moves) > 4
    assert (np.degrees(np.arccos(-moves[:, 2] / np.linalg.norm(moves, axis=1))) <= off_deg + 1e-6).all()


# --- bends ----------------------------------------------------------------------------------------


def test_a_hose_too_stiff_to_turn_finds_no_way() -> None:
    """Between two walls 60 mm apart no hose of 300 mm radius turns through a right angle."""
    boxes = [slab((-1.0, 0.03, -1.0), (0.3, 1.0, 1.0)), slab((-1.0, -1.0, -1.0), (1.0, -0.03, 1.0))]
    start, goal = np.array([0.0, 0.0, 0.0]), np.array([0.33, 0.25, 0.0])
    assert laid(start, goal, boxes, Rule(FREE, bend_m=0.02)) is not None
    assert laid(start, goal, boxes, Rule(FREE, bend_m=0.30)) is None


def test_faults_names_what_is_wrong() -> None:
    down = np.array([[0.0, 0.0, 0.2], [0.1, 0.0, 0.1], [0.2, 0.0, 0.0]])
    rule = Rule(LEVEL, 0.05, bend_m=0.1)
    assert space.faults(down, [], rule) == ()
    assert space.faults(down[::-1], [], rule) == ("fall",)
    assert space.faults(down, [slab((0.05, -0.01, 0.1), (0.07, 0.01, 0.2))], rule) == ("room",)
    kinked = np.array([[0.0, 0.0, 0.2], [0.1, 0.0, 0.19], [0.1, 0.01, 0.1]])
    assert space.faults(kinked, [], Rule(LEVEL, 0.05, bend_m=0.2)) == ("bend",)


@settings(max_examples=25, deadline=None)
@given(
    seed=st.integers(0, 10_000),
    boxes=st.integers(0, 4),
    bend=st.floats(0.03, 0.14),
    room=st.floats(0.005, 0.03),
)
def test_a_way_that_is_found_keeps_every_rule(seed: int, boxes: int, bend: float, room: float) -> None:
    """Never closer than asked, always falling, never bent tighter: looked at here by dense sampling, not by the way's own check."""
    rng = np.random.default_rng(seed)
    start = np.array([0.0, 0.0, 0.25])
    goal = np.array([0.25 * rng.uniform(-1, 1), 0.25 * rng.uniform(-1, 1), 0.0])
    shapes = []
    for _ in range(boxes):
        middle = rng.uniform([-0.2, -0.2, 0.03], [0.2, 0.2, 0.2])
        half = rng.uniform(0.01, 0.05, 3)
        shapes.append(Keepout(middle - half, middle + half, room))
    lean = math.radians(5.0)
    up = np.array([[0.0, 0.0, 1.0], [math.sin(lean), 0.0, math.cos(lean)]])
    rule = Rule(up, 0.07, 0.0, bend, (0.02, 0.02))
    way = laid(start, goal, shapes, rule)
    if way is None:
        return
    assert np.allclose(way[[0, -1]], [start, goal])
    dense = np.concatenate([a + np.linspace(0, 1, 400)[:, None] * (b - a) for a, b in pairwise(way)])
    for s in shapes:
        apart = np.maximum(np.maximum(s.low_m - dense, dense - s.high_m), 0.0)
        assert np.linalg.norm(apart, axis=1).min() >= room - 2e-4
    for u in up:
        assert (np.diff(way @ u) < 0.0).all()
    for a, b, c in zip(way[:-2], way[1:-1], way[2:], strict=True):
        # the circle through two points one tangent length from the corner
        one, two = (b - a) / np.linalg.norm(b - a), (c - b) / np.linalg.norm(c - b)
        turn = math.acos(float(np.clip(one @ two, -1.0, 1.0)))
        tangent = bend * math.tan(0.5 * turn)
        assert tangent <= min(np.linalg.norm(b - a), np.linalg.norm(c - b)) + 1e-6


@pytest.mark.parametrize("axis", [0, 1, 2])
def test_a_leg_along_an_axis_runs_through_what_lies_on_it_and_past_what_lies_beside_it(axis: int) -> None:
    """A plate 1 mm thick half way along a metre, 0.1 m to each side; a leg 0.2 m beside it, one that ends before it."""
    low, high = np.full(3, -0.1), np.full(3, 0.1)
    low[axis], high[axis] = 0.5, 0.501
    plate = Keepout(low, high, 0.0)
    way = np.eye(3)[axis]
    beside = 0.2 * np.eye(3)[(axis + 1) % 3]
    begins = np.array([np.zeros(3), beside, np.zeros(3), way])
    ends = np.array([way, way + beside, 0.49 * way, np.zeros(3)])
    assert space._through(begins, ends - begins, [plate]).tolist() == [True, False, False, True]
