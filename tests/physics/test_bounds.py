# SPDX-License-Identifier: GPL-3.0-or-later
"""What a relation's docstring says it takes, it takes, to the very end; a hair beyond it refuses, naming the argument."""

from collections.abc import Callable

import numpy as np
import pytest

from gravidon.errors import PhysicsError
from gravidon.physics import line, oil, part_full, priming, restrictor, scavenge, space, sump
from gravidon.physics.arrays import array
from gravidon.physics.space import Keepout, Rule

OIL = oil.Oil(96e-6, 14.3e-6, 870.0)
UP = np.array([[0.0, 0.0, 1.0]])
PAN = sump.columns_of_boxes(np.array([[0.0, 0.0, 0.0]]), np.array([[0.3, 0.2, 0.1]]))

ENDS: tuple[tuple[str, Callable[[float], object], float, float], ...] = (
    ("kinematic viscosity, K", lambda v: oil.kinematic_viscosity(OIL, v), 200.0, 800.0),
    ("density, K", lambda v: oil.density(OIL, v), 200.0, 800.0),
    ("heat capacity, K", lambda v: oil.heat_capacity(OIL, v), 200.0, 800.0),
    ("air in froth", lambda v: oil.froth(v, 1e-5, 850.0, 0.01), 0.0, 0.8),
    ("wetted angle", part_full.wetted_angle, 0.0, 1.0),
    ("flow ratio", part_full.flow_ratio, 0.0, 1.0),
    ("bore of a hose, 0.1-500 mm", lambda v: line.line_drop(1e-5, v, 1.0, 850.0, 0.01), 1e-4, 0.5),
    ("bore of a full pipe", lambda v: part_full.full_flow(v, 0.1, 850.0, 0.01), 1e-4, 0.5),
    ("length over bore", restrictor.discharge_coefficient, 0.0, 100.0),
    ("bore of a hole, 0.01-100 mm", lambda v: restrictor.loss_coefficients(v, 1e-6, 850.0, 0.01), 1e-5, 0.1),
    ("length of a hole, 0-1 m", lambda v: restrictor.loss_coefficients(0.1, v, 850.0, 0.01), 0.0, 1.0),
    ("drop over a hole, 0-1 GPa", lambda v: restrictor.flow(v, 1e-3, 1e-3, 850.0, 0.01), 0.0, 1e9),
    ("drop of a coefficient", lambda v: restrictor.effective_coefficient(v, 1e-5, 1e-3, 850.0), 1e-9, 1e9),
    ("bore of a coefficient", lambda v: restrictor.effective_coefficient(1e5, 1e-5, v, 850.0), 1e-5, 0.1),
    ("drop of a front, 0-1 GPa", lambda v: priming.viscous_fill_time([5e-3], [1.0], v, 0.1), 0.0, 1e9),
    ("density at 15, kg/m³", lambda v: oil.Oil(1e-4, 1e-5, v), 600.0, 1200.0),
    ("size of a pan", lambda v: sump.columns_of_boxes([[0.0, 0.0, 0.0]], [[v, 0.3, 0.1]]), 1e-3, 3.0),
    ("bore of a fitting, 0.1-500 mm", lambda v: line.loss_coefficient_hooper(1000.0, 800.0, 0.4, v), 1e-4, 0.5),
    ("wire", scavenge.awg_diameter, 0.0, 40.0),
    ("oil in a pan", lambda v: sump.level(PAN, UP, v), 0.0, 1.0),
)  # fmt: skip


@pytest.mark.parametrize(("name", "asked", "low", "high"), ENDS, ids=[e[0] for e in ENDS])
def test_to_the_end_and_no_further(
    name: str, asked: Callable[[float], object], low: float, high: float
) -> None:
    """Bounds as the docstrings have them."""
    reach = 1e-6 * (high - low)
    for inside in (low, high):
        asked(inside)
    for outside in (low - reach, high + reach, float("nan")):
        with pytest.raises(PhysicsError):
            asked(outside)


def test_an_oil_is_as_thick_as_oils_are() -> None:
    """1 to 5000 mm²/s, thinner at 100 °C than at 40."""
    oil.Oil(5e-3, 1e-6, 850.0)
    for v40, v100 in ((5.001e-3, 1e-5), (1e-5, 0.999e-6), (1e-5, 1e-5), (1e-5, 2e-5)):
        with pytest.raises(PhysicsError):
            oil.Oil(v40, v100, 850.0)


def test_the_value_that_is_outside_is_the_one_that_is_named() -> None:
    with pytest.raises(PhysicsError) as caught:
        array("fill", [[0.1, 0.2], [7.0, 0.3]], 0.0, 1.0, "-")
    assert (caught.value.field, caught.value.value) == ("fill", 7.0)
    assert "0 to 1" in caught.value.expected


def test_froth_is_named_by_its_bulk() -> None:
    """A litre of oil with 20 per cent air is 1.25 L of froth (by hand)."""
    made = oil.froth(0.2, 1e-5, 850.0, 0.01)
    assert float(np.asarray(made.flow_m3_s)) == pytest.approx(1.25e-5)


# --- ways ------------------------------------------------------------------------------------------


def test_one_box_too_near_is_enough() -> None:
    """A straight way past two boxes: both far, one near, both near."""
    rule = Rule(np.zeros((0, 3)), bend_m=0.05)
    way = np.array([[0.0, 0.0, 0.0], [1.0, 0.0, 0.0]])

    def box(y: float) -> Keepout:
        return Keepout(np.array([0.4, y, -0.1]), np.array([0.6, y + 0.1, 0.1]), 0.02, "box")

    assert space.faults(way, [box(0.2), box(0.3)], rule) == ()
    assert space.faults(way, [box(0.2), box(0.01)], rule) == ("room",)
    assert space.faults(way, [box(0.015), box(0.01)], rule) == ("room",)


def test_a_hose_end_takes_its_straight_from_the_first_leg() -> None:
    """A right angle with 100 mm legs: a bend of 60 mm takes 60 of each, so that an end of 30 mm still fits and one of 50 does not (geometry)."""
    way = np.array([[0.0, 0.0, 0.0], [0.1, 0.0, 0.0], [0.1, 0.1, 0.0]])
    for ends, wrong in (((0.03, 0.03), False), ((0.05, 0.0), True), ((0.0, 0.05), True)):
        rule = Rule(np.zeros((0, 3)), bend_m=0.06, ends_m=ends)
        assert (space.faults(way, [], rule) == ("bend",)) is wrong, ends


# --- pans ------------------------------------------------------------------------------------------


def test_boxes_that_overlap_hold_their_oil_once_and_to_the_higher_rim() -> None:
    """A 0.2 m cube-footed box 0.1 m high, and in its middle a well 0.1 m square that is 0.05 m deeper and ends 0.02 m below the
    rim: oil fills the well (0.5 L) and then all of it (4 L a decimetre): 2.5 L stand 50 mm over the floor, by hand."""
    corner = np.array([[0.0, 0.0, 0.0], [0.05, 0.05, -0.05]])
    size = np.array([[0.2, 0.2, 0.1], [0.1, 0.1, 0.13]])
    pan = sump.columns_of_boxes(corner, size)
    for litres, height in ((0.25, -0.025), (0.5, 0.0), (2.5, 0.05), (4.3, 0.095)):
        found = float(sump.level(pan, UP, np.array([litres * 1e-3]))[0])
        assert found == pytest.approx(height, abs=2e-3), litres


def test_a_front_takes_its_time_through_one_pipe() -> None:
    """16 μ L²/(Δp d²), a metre of 5 mm bore, 10 mPa·s, 1 bar: 0.064 s by hand; no pressure is taken, none below nothing."""
    assert float(priming.viscous_fill_time([0.005], [1.0], 1e5, 0.01)) == pytest.approx(0.064, rel=1e-3)
    with pytest.raises(PhysicsError):
        priming.viscous_fill_time([0.005], [1.0], -1.0, 0.01)
