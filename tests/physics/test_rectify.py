# SPDX-License-Identifier: GPL-3.0-or-later
"""Photographs squared: against pictures made by a pinhole camera with known points."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gravidon.physics import rectify

SIZE = (1600.0, 1200.0)


def pinhole(points_m: np.ndarray, yaw: float, pitch: float, roll: float, far_m: float = 1.6) -> np.ndarray:
    """Pixels of points in the plane x, y (up), seen by a camera that looks at the origin, turned by three angles [rad]."""
    cy, sy, cp, sp, cr, sr = (
        *(f(yaw) for f in (math.cos, math.sin)),
        *(f(pitch) for f in (math.cos, math.sin)),
        *(f(roll) for f in (math.cos, math.sin)),
    )
    turn = (
        np.array([[cr, -sr, 0], [sr, cr, 0], [0, 0, 1]])
        @ np.array([[1, 0, 0], [0, cp, -sp], [0, sp, cp]])
        @ np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]])
    )
    world = np.column_stack([points_m, np.zeros(len(points_m))]) @ turn.T + np.array([0.0, 0.0, far_m])
    focal = 1500.0
    return np.column_stack(
        [SIZE[0] / 2 + focal * world[:, 0] / world[:, 2], SIZE[1] / 2 - focal * world[:, 1] / world[:, 2]]
    )


PLACES = np.array([[-0.3, 0.2], [0.25, 0.1], [0.0, -0.25], [0.3, -0.2], [-0.2, -0.1]])
SHEET = np.array([[-0.105, 0.1485], [0.105, 0.1485], [0.105, -0.1485], [-0.105, -0.1485]])
"""A sheet of A4 (ISO 216: 210 x 297 mm), upright."""


@settings(max_examples=60)
@given(st.floats(-0.5, 0.5), st.floats(-0.4, 0.4), st.floats(-0.2, 0.2))
def test_a_sheet_of_paper_squares_a_photo_taken_askew(yaw: float, pitch: float, roll: float) -> None:
    """Under 1 % of the picture's width, up to 29° off square: here it is exact but for rounding."""
    corners = pinhole(SHEET, yaw, pitch, roll)
    seen = pinhole(PLACES, yaw, pitch, roll)
    made = rectify.by_rectangle(corners, 0.210, 0.297, seen[0], PLACES[0])
    off = np.linalg.norm(rectify.mapped(made, seen) - PLACES, axis=1)
    wide = SIZE[0] * 1.6 / 1500.0
    assert off.max() < 1e-6 * wide


@settings(max_examples=60)
@given(st.floats(-0.6, 0.6), st.booleans(), st.integers(0, 10_000))
def test_two_points_and_a_line_scale_and_level(roll: float, plumb: bool, seed: int) -> None:
    """A photo taken square on, held askew; clicks off by up to 1 px: within 1 % of the picture's width."""
    rng = np.random.default_rng(seed)
    line = np.array([[0.1, -0.2], [0.1, 0.2]] if plumb else [[-0.2, 0.1], [0.2, 0.1]])
    ruler = np.array([[-0.3, -0.2], [0.2, -0.2]])
    blur = rng.uniform(-1.0, 1.0, (5, 2))
    clicks = pinhole(np.concatenate([ruler, line, PLACES[:1]]), 0.0, 0.0, roll) + blur
    made = rectify.by_two_points(clicks[:2], 0.5, clicks[2:4], plumb, clicks[4], PLACES[0])
    off = np.linalg.norm(rectify.mapped(made, pinhole(PLACES, 0.0, 0.0, roll)) - PLACES, axis=1)
    assert off.max() < 0.01 * SIZE[0] * 1.6 / 1500.0


def test_the_spread_covers_what_clicks_do() -> None:
    """Monte Carlo with the clicks' own error: about 95 of 100 places lie within the spread that is told."""
    rng = np.random.default_rng(3)
    corners = pinhole(SHEET, 0.3, 0.1, 0.05)
    seen = pinhole(PLACES, 0.3, 0.1, 0.05)

    def make(clicks: np.ndarray) -> np.ndarray:
        return rectify.by_rectangle(clicks[:4], 0.210, 0.297, clicks[4], PLACES[0])

    clicks = np.concatenate([corners, seen[:1]])
    told = rectify.spread(make, clicks, seen)
    sigma = rectify.CLICK_PX / 1.96
    inside = np.mean(
        [
            np.linalg.norm(
                rectify.mapped(make(clicks + rng.normal(0, sigma, clicks.shape)), seen) - PLACES, axis=1
            )
            < told
            for _ in range(400)
        ]
    )
    assert 0.85 < inside <= 1.0
    assert 0.001 < told.max() < 0.02


@pytest.mark.parametrize(
    "corners",
    [[[0, 0], [1, 0], [2, 0], [0, 5]], [[0, 0], [0, 0], [9, 9], [0, 9]]],
    ids=["on a line", "one point twice"],
)
def test_what_is_no_rectangle_is_refused(corners: list[list[float]]) -> None:
    with pytest.raises(ValueError, match="rectangle"):
        rectify.by_rectangle(corners, 0.2, 0.3, [0, 0], [0, 0])


def test_one_point_twice_is_no_ruler() -> None:
    with pytest.raises(ValueError, match="apart"):
        rectify.by_two_points([[5, 5], [5, 5]], 0.5, [[0, 0], [9, 0]], False, [0, 0], [0, 0])
