# SPDX-License-Identifier: GPL-3.0-or-later
"""The housing's attitude, the oil that stays lying in it, and the hose on its way: against closed forms."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gravidon.physics import attitude, hose, seat

UPRIGHT = np.array([[0.0, 0.0, 1.0]])


@given(h=st.floats(-3, 3), p=st.floats(-1.5, 1.5), c=st.floats(-3, 3))
def test_the_housings_axes_stay_square(h: float, p: float, c: float) -> None:
    """A rotation: rows of unit length, at right angles, right-handed."""
    frame = seat.housing_frame(h, p, c)
    assert frame @ frame.T == pytest.approx(np.eye(3), abs=1e-12)
    assert np.linalg.det(frame) == pytest.approx(1.0)


def test_clock_and_pitch_turn_the_way_the_words_say() -> None:
    """Shaft forward, seen from the turbine end (from behind): clockwise takes the drain, at the bottom, to the
    left, +y in ISO 8855. Pitch lifts the compressor end."""
    clocked = seat.housing_frame(0.0, 0.0, np.radians(30))
    assert -clocked[2] == pytest.approx([0.0, 0.5, -np.cos(np.radians(30))])
    assert seat.housing_frame(0.0, np.radians(10), 0.0)[0] == pytest.approx(
        [np.cos(np.radians(10)), 0.0, np.sin(np.radians(10))]
    )
    # heading 90°: the compressor end points to the car's left
    assert seat.housing_frame(np.pi / 2, 0.0, 0.0)[0] == pytest.approx([0.0, 1.0, 0.0], abs=1e-12)


def test_a_tilted_engine_in_a_level_car_is_a_level_engine_on_a_slope() -> None:
    """Two ways to the same up: engine rolled 10° left side up, or car banked 10° left side up (ISO 8855)."""
    level = np.array([[0.0, 0.0, 1.0]])
    for pitch, roll in ((0.0, 0.1745), (0.1, 0.0), (0.1, 0.2)):
        banked, _ = attitude.effective_up(0.0, 0.0, 0.0, pitch, roll)
        turned = attitude.in_engine_axes(level, pitch, roll)
        assert np.allclose(turned[0], banked, atol=1e-12)
        assert np.isclose(np.linalg.norm(turned), 1.0)


def test_a_tilted_mouth_keeps_its_lip_low() -> None:
    """Rim of radius r on an axis tilted by t: its lowest point is r sin t under the centre (geometry)."""
    t = np.radians(20)
    axis = [np.sin(t), 0.0, np.cos(t)]
    low = float(seat.lip_height(UPRIGHT, [0, 0, 0], axis, 0.009)[0])
    assert low == pytest.approx(-0.009 * np.sin(t))


def test_an_upright_shaft_leaves_the_cavity_full() -> None:
    """Turned so that the shaft stands on end, the mouth is at the side: half the funnel and more is below its
    middle by symmetry; with the drain straight down nothing is below the flange."""
    level = seat.cavity_share_below(UPRIGHT, [0.0], 0.06, 0.045, 0.018)
    on_end = seat.cavity_share_below(np.array([[1.0, 0.0, 0.0]]), [0.0], 0.06, 0.045, 0.018)
    assert float(level[0]) == 0.0
    assert float(on_end[0]) == pytest.approx(0.5, abs=0.05)  # the middle column lies on the plane


def test_bolts_hide_behind_the_fitting_they_face() -> None:
    """Six bolts on a 96 mm circle, first straight down, a 40 mm fitting: the next bolts stand 48 sin 60° =
    41.6 mm to the side, clear. Clocked 30° the fitting hides none: its neighbours are 24 mm off."""
    assert seat.hidden_bolts(6, 0.0, 0.096, 0.0, 0.040)[1] == (True, False, False, False, False, False)
    assert not any(seat.hidden_bolts(6, 0.0, 0.096, np.radians(30), 0.040)[1])
    assert seat.hidden_bolts(0, 0.0, 0.1, 0.0, 0.04) == ((), ())


def test_sag_follows_the_beam() -> None:
    """Fixed-ended beam under uniform load: deflection w x²(L-x)²/(24 EI), so 16 s²(1-s)² of its middle, and
    L⁴ between spans (Euler-Bernoulli, any handbook)."""
    assert float(hose.sag(0.6, 1.0, 0.002)) == pytest.approx(16 * 0.002)
    assert float(hose.sag(3.0, 1.0, 0.002)) == pytest.approx(0.75)  # a rope: a quarter of the span
    w, ei, length = 3.0, 0.5, 0.4
    x = np.linspace(0, length, 9)
    exact = w * x**2 * (length - x) ** 2 / (24 * ei)
    assert exact.max() * hose.sag_shape(x / length) == pytest.approx(exact)


@pytest.mark.parametrize("turn_deg", [20.0, 45.0, 90.0, 135.0])
def test_a_fillet_touches_both_legs(turn_deg: float) -> None:
    """A circle of the returned radius, tangent to both legs, touches them no further than the legs reach."""
    turn = np.radians(turn_deg)
    corners = np.array([[0, 0, 0], [0.1, 0, 0], [0.1 + 0.06 * np.cos(turn), 0.06 * np.sin(turn), 0]])
    radius = float(hose.bend_radii(corners)[0])
    assert radius * np.tan(turn / 2) == pytest.approx(0.06)  # the shorter leg's whole length
    straight = np.array([[0, 0, 0], [0.1, 0, 0], [0.2, 0, 0]])
    assert np.isinf(hose.bend_radii(straight)).all()


def test_distance_to_a_box() -> None:
    """Face, edge, corner and inside, by hand: 1, √2, √3, 0."""
    points = [[2, 0, 0], [2, 2, 0], [2, 2, 2], [0.5, 0, 0]]
    assert hose.distance_to_box(points, [-1, -1, -1], [1, 1, 1]) == pytest.approx([1, 2**0.5, 3**0.5, 0])


def carried_along(corners: np.ndarray) -> float:
    """Return the turn between a hose's ends [rad] by a second method: a line across the hose is carried along a rounded run
    in small steps, each time laid square to the hose again."""
    arms, run = (corners[0], corners[-1]), corners[1:-1]
    step = np.diff(run, axis=0)
    unit = step / np.linalg.norm(step, axis=1)[:, None]
    across = arms[0] - run[0]
    for before, after in itertools.pairwise(unit):
        for share in np.linspace(0.0, 1.0, 2001):
            along = (1.0 - share) * before + share * after
            along /= np.linalg.norm(along)
            across = across - (across @ along) * along
    first = across - (across @ unit[-1]) * unit[-1]
    last = arms[1] - run[-1]
    last = last - (last @ unit[-1]) * unit[-1]
    return float(np.arctan2(unit[-1] @ np.cross(first, last), first @ last))


def test_clocking_of_hose_ends() -> None:
    """A flat U is 0, a flat S 180, an arm to the left of one that points up 90 counterclockwise; bent hoses at random by small steps."""
    level = [[0.0, 0, 0.1], [0, 0, 0], [1, 0, 0]]
    for end, wanted in (([1, 0, 0.1], 0.0), ([1, 0, -0.1], 180.0), ([1, 0.1, 0], -90.0)):
        got = np.degrees(hose.clocking(np.array([*level, end])))
        assert abs(abs(got) - abs(wanted)) < 1e-9
        assert got * wanted >= 0.0
    assert np.isnan(hose.clocking(np.array([[-0.1, 0, 0], *level[1:], [1, 0, 0.1]])))
    chance = np.random.default_rng(5)
    for _ in range(20):
        corners = np.cumsum(chance.normal(size=(6, 3)) + np.array([0.0, 0.0, -0.8]), axis=0)
        got, wanted = hose.clocking(corners), carried_along(corners)
        assert abs(np.angle(np.exp(1j * (got - wanted)))) < 2e-3
