# SPDX-License-Identifier: GPL-3.0-or-later
"""Oil properties against data sheets and published examples."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gravidon.errors import PhysicsError
from gravidon.physics import oil

OIL = oil.Oil(96e-6, 14.3e-6, 870.0)


@pytest.mark.parametrize(("celsius", "expected"), [(40.0, 96.0), (100.0, 14.3)])
def test_viscosity_passes_through_both_data_sheet_points(celsius: float, expected: float) -> None:
    """D341 is an interpolation: exact at its two points, so rounding only."""
    assert oil.kinematic_viscosity(OIL, celsius + 273.15) * 1e6 == pytest.approx(expected, rel=1e-9)


@pytest.mark.parametrize(("celsius", "expected", "within"), [(110.0, 11.5, 0.05), (20.0, 261.0, 0.5)])
def test_viscosity_between_and_beyond_the_points(celsius: float, expected: float, within: float) -> None:
    """A worked 10W-40 by ASTM D341 (hand calculation, rounded to the digits given)."""
    assert oil.kinematic_viscosity(OIL, celsius + 273.15) * 1e6 == pytest.approx(expected, abs=within)


def test_heat_capacity_follows_cragoe() -> None:
    """Cragoe 1929 by hand: SG 0.8708, 100 °C: (1.685 + 0.339)/0.93317 = 2.169 kJ/(kg K)."""
    assert oil.heat_capacity(OIL, 373.15) == pytest.approx(2169.0, abs=1.0)


def test_froth_keeps_mass() -> None:
    """Bulk flow times bulk density is the oil's mass flow whatever the air (mass balance, exact)."""
    for air in (0.0, 0.2, 0.4):
        bulk = oil.froth(air, 3e-5, 815.0, 9e-3)
        assert bulk.flow_m3_s * bulk.density_kg_m3 == pytest.approx(3e-5 * 815.0, rel=1e-12)


@given(st.floats(-20.0, 180.0), st.floats(0.1, 20.0))
def test_oil_thins_and_swells_with_heat(celsius: float, step: float) -> None:
    """Viscosity and density fall with temperature for any oil that passes the constructor."""
    t = np.array([celsius, celsius + step]) + 273.15
    assert np.diff(oil.kinematic_viscosity(OIL, t))[0] < 0
    assert np.diff(oil.density(OIL, t))[0] < 0


@pytest.mark.parametrize("bad", [float("nan"), -5.0, 2000.0])
def test_absurd_temperature_names_the_argument(bad: float) -> None:
    with pytest.raises(PhysicsError, match="temperature_k"):
        oil.kinematic_viscosity(OIL, bad)


def test_oil_that_thickens_with_heat_is_refused() -> None:
    with pytest.raises(PhysicsError, match="v100"):
        oil.Oil(10e-6, 20e-6, 870.0)


def test_an_oil_that_thins_without_measure_stays_a_number_in_the_cold() -> None:
    """1000 mm²/s at 40 °C and 2 at 100 °C run out of all numbers at -40 °C by the Walther line: held at 10⁶ mm²/s, where nothing flows."""
    stiff = oil.Oil(1000e-6, 2e-6, 870.0)
    found = oil.kinematic_viscosity(stiff, np.array([233.15, 313.15]))
    assert found[0] == pytest.approx(1.0, rel=1e-6)
    assert found[1] == pytest.approx(1000e-6, rel=1e-9)
