# SPDX-License-Identifier: GPL-3.0-or-later
"""The array feed solver against an independent scalar solution."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gravidon.physics import feed, oil
from gravidon.physics.bearing import BearingReference
from physics import scalar_feed

OIL = oil.Oil(96e-6, 14.3e-6, 870.0)
REF = BearingReference(
    310e3, 2.2e-3 / 60, float(oil.density(OIL, 373.15)), float(oil.dynamic_viscosity(OIL, 373.15)), 0.5
)


def make(pressure: np.ndarray, t: np.ndarray, heat: np.ndarray, bore: float | None) -> feed.Feed:
    holes = () if bore is None else (feed.Hole(bore, 1.5e-3),)
    return feed.Feed(OIL, pressure, t, heat, (feed.Pipe(5.5e-3, 1.2, 1600.0, 0.8),), holes, None, REF)


@settings(max_examples=40, deadline=None)
@given(
    st.floats(2e4, 7e5),
    st.floats(270.0, 410.0),
    st.floats(0.0, 3000.0),
    st.one_of(st.none(), st.floats(0.5e-3, 4e-3)),
)
def test_feed_agrees_with_brentq_and_fluids(
    pressure: float, t: float, heat: float, bore: float | None
) -> None:
    """Independent scalar solution, 0.1 % on flow, inlet pressure and temperature rise."""
    result = feed.solve_feed(make(np.array([pressure]), np.array([t]), np.array([heat]), bore))
    q, inlet, outlet = scalar_feed.solve(
        scalar_feed.Point(
            96e-6,
            14.3e-6,
            870.0,
            pressure,
            t,
            heat,
            5.5e-3,
            1.2,
            1600.0,
            0.8,
            bore,
            1.5e-3,
            310e3,
            2.2e-3 / 60,
            REF.density_kg_m3,
            REF.viscosity_pa_s,
            0.5,
        )
    )
    assert result.flow_m3_s[0] == pytest.approx(q, rel=1e-3)
    assert result.inlet_pressure_pa[0] == pytest.approx(inlet, rel=1e-3)
    assert result.outlet_temperature_k[0] == pytest.approx(outlet, abs=0.05)


def test_starving_a_journal_bearing_cooks_its_oil() -> None:
    """Common practice, no source: a 0.030 in hole on a journal turbo at full load leaves a few psi
    at the bearing and more than 150 °C out; the open line keeps it near 125-140 °C."""
    pressure, t, heat = np.array([400e3]), np.array([383.15]), np.array([2000.0])
    tight = feed.solve_feed(make(pressure, t, heat, 0.030 * 0.0254))
    open_line = feed.solve_feed(make(pressure, t, heat, None))
    assert tight.inlet_pressure_pa[0] / 6894.76 < 8.0
    assert tight.outlet_temperature_k[0] - 273.15 > 150.0
    assert 120.0 < open_line.outlet_temperature_k[0] - 273.15 < 142.0


@settings(max_examples=30, deadline=None)
@given(st.floats(0.5e-3, 3e-3), st.floats(1.02, 2.0), st.floats(5e4, 6e5))
def test_a_bigger_hole_never_lowers_flow_or_inlet_pressure(
    bore: float, factor: float, pressure: float
) -> None:
    """Monotone: opening the only throttle upstream raises flow and inlet pressure."""
    results = [
        feed.solve_feed(make(np.array([pressure]), np.array([373.0]), np.array([500.0]), b))
        for b in (bore, bore * factor)
    ]
    assert results[1].flow_m3_s[0] >= results[0].flow_m3_s[0] * (1 - 1e-6)
    assert results[1].inlet_pressure_pa[0] >= results[0].inlet_pressure_pa[0] * (1 - 1e-6)


def test_no_pressure_means_no_flow_and_no_nan() -> None:
    result = feed.solve_feed(
        make(np.array([0.0, 1e5]), np.array([373.0, 373.0]), np.array([0.0, 500.0]), 1e-3)
    )
    assert result.flow_m3_s[0] == 0.0
    assert np.isfinite(result.outlet_temperature_k).all()


def test_drops_add_up_to_the_tap_pressure() -> None:
    """Energy balance along the series: the three drops sum to what the tap offers (1e-6)."""
    p = np.array([[1.2e5, 3.0e5, 4.5e5]])
    result = feed.solve_feed(
        make(p, np.array([373.0, 380.0, 293.0]), np.array([200.0, 500.0, 100.0]), 1.2e-3)
    )
    total = result.line_drop_pa + result.restrictor_drop_pa + result.bearing_drop_pa
    assert total == pytest.approx(p, rel=1e-6)
