# SPDX-License-Identifier: GPL-3.0-or-later
"""Restrictor, line, bearing and source against outside correlations and exact limits."""

import fluids
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad, solve_ivp

from gravidon.errors import PhysicsError
from gravidon.physics import bearing, line, oil, restrictor, source


def test_creeping_flow_through_a_thin_hole_is_sampsons() -> None:
    """Sampson 1891: dp = 3 mu Q / a³ exactly, for a hole of no length at vanishing flow."""
    mu, a, q = 0.05, 0.5e-3, 1e-15
    assert restrictor.pressure_drop(q, 2 * a, 0.0, 850.0, mu) == pytest.approx(3 * mu * q / a**3, rel=1e-6)


def test_creeping_flow_through_a_long_hole_tends_to_hagen_poiseuille() -> None:
    """Dagan et al. 1982: a long hole's drop is Hagen-Poiseuille's plus the constant 3 mu Q/a³."""
    mu, a, length, q = 0.05, 0.5e-3, 50e-3, 1e-15
    poiseuille = 8 * mu * length * q / (np.pi * a**4)
    expected = poiseuille + 3 * mu * q / a**3
    assert restrictor.pressure_drop(q, 2 * a, length, 850.0, mu) == pytest.approx(expected, rel=1e-6)


def lichtarowicz(length_over_bore: float, hydraulic_reynolds: float) -> float:
    """Full correlation of Lichtarowicz, Duggins and Markland 1965 (constants from memory)."""
    ratio, re = length_over_bore, hydraulic_reynolds
    ultimate = 0.827 - 0.0085 * ratio
    bracket = 1.0 + 7.5 * np.log10(0.00015 * re) ** 2
    return float(1.0 / (1.0 / ultimate + 20.0 / re * (1.0 + 2.25 * ratio) - 0.005 * ratio / bracket))


@pytest.mark.parametrize("ratio", [2.0, 3.0, 5.0, 10.0])
@pytest.mark.parametrize("hydraulic_re", [300.0, 1000.0, 4000.0, 20000.0])
def test_restrictor_agrees_with_the_full_correlation(ratio: float, hydraulic_re: float) -> None:
    """Within 5 % of measured discharge coefficients, hydraulic Re 300-20 000."""
    rho, mu, d = 820.0, 0.010, 1.0e-3
    drop = 0.5 * rho * (hydraulic_re * mu / (rho * d)) ** 2
    q = restrictor.flow(drop, d, ratio * d, rho, mu)
    assert restrictor.effective_coefficient(drop, q, d, rho) == pytest.approx(
        lichtarowicz(ratio, hydraulic_re), rel=0.05
    )


@given(st.floats(1e2, 1e6), st.floats(3e-4, 5e-3), st.floats(0.0, 1e-2), st.floats(2e-3, 0.5))
def test_flow_and_drop_are_inverse(drop: float, bore: float, length: float, mu: float) -> None:
    """The closed-form flow put back into the drop gives the drop (exact inverse, rounding only)."""
    q = restrictor.flow(drop, bore, length, 850.0, mu)
    assert restrictor.pressure_drop(q, bore, length, 850.0, mu) == pytest.approx(drop, rel=1e-6)


@pytest.mark.parametrize("re", [0.5, 10.0, 800.0, 2500.0, 2e4, 1e6])
@pytest.mark.parametrize("roughness", [0.0, 1e-4, 1e-2])
def test_churchill_against_reference_library(re: float, roughness: float) -> None:
    """fluids.friction.Churchill_1977, the same equation coded independently; and 64/Re when laminar."""
    mine = float(line.friction_factor_churchill(re, roughness))
    assert mine == pytest.approx(fluids.friction.Churchill_1977(Re=re, eD=roughness), rel=1e-9)
    if re <= 800.0:
        assert mine == pytest.approx(64.0 / re, rel=1e-3)


@pytest.mark.parametrize("re", [5.0, 300.0, 3000.0])
def test_fitting_loss_against_reference_library(re: float) -> None:
    """fluids.fittings.Hooper2K, given inches."""
    expected = fluids.fittings.Hooper2K(Di=0.22, Re=re, K1=800.0, Kinfty=0.40)
    assert line.loss_coefficient_hooper(re, 800.0, 0.40, 0.22 * 0.0254) == pytest.approx(expected, rel=1e-9)


def test_elbow_constants_are_hoopers() -> None:
    """Constants of a screwed 90° elbow as the reference library tabulates Hooper 1981."""
    assert fluids.fittings.Hooper["Elbow, 90°, Standard (R/D = 1), Screwed"] == line.HOOPER_ELBOW_90


def test_laminar_hose_drop_is_hagen_poiseuille() -> None:
    """128 mu L Q/(pi D⁴); Churchill's blend is within 0.1 % at Re 250."""
    q, d, length, mu = 1e-5, 5.5e-3, 1.2, 0.0094
    expected = 128 * mu * length * q / (np.pi * d**4)
    assert line.line_drop(q, d, length, 815.0, mu) == pytest.approx(expected, rel=1e-3)


def test_bearing_drop_at_its_reference_and_as_pure_film() -> None:
    """At the reference point the drop is the reference's; with films only it is linear (exact)."""
    ref = bearing.BearingReference(310e3, 3.67e-5, 821.0, 0.0117, 1.0)
    assert bearing.bearing_drop(3.67e-5, 0.0117, 821.0, ref) == pytest.approx(310e3)
    assert bearing.bearing_drop(3.67e-5 / 2, 0.0117 * 4, 700.0, ref) == pytest.approx(620e3)


def test_heat_balance_of_a_known_flow() -> None:
    """2 kW into 2.2 L/min at 821 kg/m³ and 2169 J/(kg K): 30.6 K (hand calculation)."""
    assert bearing.temperature_rise(2000.0, 2.2e-3 / 60, 821.0, 2169.0) == pytest.approx(30.6, abs=0.05)
    assert bearing.temperature_rise(0.0, 0.0, 821.0, 2169.0) == 0.0


READING = st.tuples(st.floats(10, 110), st.floats(0.006, 0.1), st.floats(2e4, 6e5))
"""Engine speed [rev/s], viscosity [Pa·s], gauge pressure [Pa]."""


def law(rows: list[tuple[float, float, float]], relief: float = 5.5e5) -> source.SourceFit:
    n, mu, p = (np.array(column) for column in zip(*rows, strict=True))
    return source.fit_source(n, np.full_like(n, 830.0), mu, p, relief)


@given(READING, st.floats(2e5, 9e5))
def test_the_law_at_a_lone_reading_is_the_reading(row: tuple[float, float, float], relief: float) -> None:
    """Exact, up to where the relief is as good as open (97 % of its setting; project choice)."""
    fit = law([row], relief)
    expected = min(row[2], 0.97 * relief)
    assert float(source.gallery_pressure(fit, row[0], 830.0, row[1])) == pytest.approx(expected, rel=1e-9)


@given(st.lists(READING, min_size=1, max_size=5), st.integers(0, 4), st.floats(1.0, 3.0), READING)
def test_raising_a_reading_never_lowers_the_law(
    rows: list[tuple[float, float, float]], k: int, factor: float, spot: tuple[float, float, float]
) -> None:
    k %= len(rows)
    raised = [(n, mu, p * factor if i == k else p) for i, (n, mu, p) in enumerate(rows)]
    before, after = (float(source.gallery_pressure(law(r), spot[0], 830.0, spot[1])) for r in (rows, raised))
    assert after >= before * (1 - 1e-12)


@given(st.lists(READING, min_size=1, max_size=5), READING, st.floats(1.0, 2.0))
def test_the_law_rises_with_speed_and_with_viscosity_and_keeps_below_relief(
    rows: list[tuple[float, float, float]], spot: tuple[float, float, float], more: float
) -> None:
    fit = law(rows)
    here = float(source.gallery_pressure(fit, spot[0], 830.0, spot[1]))
    assert float(source.gallery_pressure(fit, spot[0] * more, 830.0, spot[1])) >= here * (1 - 1e-12)
    assert float(source.gallery_pressure(fit, spot[0], 830.0, spot[1] * more)) >= here * (1 - 1e-12)
    assert here <= fit.relief_pa


@given(st.lists(READING, min_size=1, max_size=4), READING, st.integers(0, 3), st.integers(0, 3))
def test_the_law_is_continuous_in_every_input(
    rows: list[tuple[float, float, float]], spot: tuple[float, float, float], k: int, part: int
) -> None:
    """A millionth more of any speed, viscosity, pressure or of the relief moves the law by at most ten millionths."""
    k %= len(rows)
    nudged = [
        tuple(v * (1 + 1e-6 * (i == k and j == part)) for j, v in enumerate(row))
        for i, row in enumerate(rows)
    ]
    relief = 5.5e5 * (1 + 1e-6 * (part == 3))
    here = float(source.gallery_pressure(law(rows), spot[0], 830.0, spot[1]))
    there = float(source.gallery_pressure(law(nudged, relief), spot[0], 830.0, spot[1]))  # type: ignore[arg-type]
    assert there == pytest.approx(here, rel=2e-5)


def test_a_real_curve_is_met_at_every_reading() -> None:
    """15, 28, 45, 60, 65 psi at 850 to 5000 rpm hot (a concave curve, as real gauges show): each within the gauge's
    accuracy, none told as missed; between them the law keeps between its neighbours."""
    rpm = np.array([850.0, 1500.0, 2600.0, 4000.0, 5000.0])
    psi = np.array([15.0, 28.0, 45.0, 60.0, 65.0]) * 6894.757
    fit = source.fit_source(rpm / 60, np.full(5, 820.0), np.full(5, 0.0117), psi, 75 * 6894.757)
    assert fit.missed == ()
    assert np.abs(fit.residuals_pa).max() < 0.01 * psi.max()
    between = source.gallery_pressure(fit, 0.5 * (rpm[1:] + rpm[:-1]) / 60, 820.0, 0.0117)
    assert (between >= psi[:-1] * (1 - 1e-9)).all()
    assert (between <= psi[1:] * (1 + 1e-9)).all()


def test_a_reading_that_cannot_be_is_told() -> None:
    """Less pressure at twice the speed of the same oil: one of the two is wrong, and both are named."""
    fit = source.fit_source([30.0, 60.0], [820.0] * 2, [0.0117] * 2, [4e5, 2e5], 6e5)
    assert fit.missed == (0, 1)


def test_source_needs_a_turning_engine() -> None:
    with pytest.raises(PhysicsError, match="gauge readings"):
        source.fit_source([0.0], [820.0], [0.01], [1e5], 5e5)


@pytest.mark.parametrize(("re", "radius"), [(100.0, 0.05), (300.0, 0.08), (900.0, 0.12)])
def test_bent_pipe_against_the_reference_library(re: float, radius: float) -> None:
    """White 1929 as the `fluids` library has it, and no more than a straight pipe where the flow is slow."""
    straight = 64.0 / re
    bent = fluids.friction.helical_laminar_fd_White(Re=re, Di=0.014, Dc=2 * radius)
    assert line.curved_ratio(re, 0.014, radius) == pytest.approx(bent / straight, rel=1e-6)
    assert line.curved_ratio(20.0, 0.014, radius) == 1.0
    assert line.curved_ratio(re, 0.014, np.inf) == 1.0


def test_an_elbow_in_a_drain_against_the_reference_library() -> None:
    """Hooper's two-K as the `fluids` library has it, in head of oil."""
    v, bore, nu = 0.35, 0.0123, 25e-6
    k1, k_infinity = line.elbow_hooper(90.0)
    k = fluids.fittings.Hooper2K(Di=bore / 0.0254, Re=v * bore / nu, K1=k1, Kinfty=k_infinity)
    assert line.fitting_head(v, bore, nu, 9.81, k1, k_infinity) == pytest.approx(k * v * v / (2 * 9.81))


def test_heat_is_carried_at_the_mean_temperature() -> None:
    """The heat is the integral of rho Q c dT from where the oil comes in (quadrature of Cragoe 1929)."""
    oil_ = oil.Oil(96e-6, 14.3e-6, 870.0)
    t, q = 373.15, 1e-5
    rho = float(oil.density(oil_, t))
    capacity, growth = float(oil.heat_capacity(oil_, t)), float(oil.capacity_growth(t))
    rise = float(bearing.temperature_rise(2000.0, q, rho, capacity, growth))
    taken, _ = quad(lambda k: rho * q * float(oil.heat_capacity(oil_, k)), t, t + rise)
    assert taken == pytest.approx(2000.0, rel=1e-6)


@pytest.mark.parametrize("seconds", [2.0, 10.0, 120.0, 3600.0])
def test_cold_metal_takes_the_heat_first(seconds: float) -> None:
    """A lump of 1350 J/K between the heat and the oil, stepped through time (solve_ivp)."""
    heat, q, rho, c, capacity = 300.0, 6e-6, 880.0, 1900.0, 1350.0
    stepped = solve_ivp(
        lambda _, k: (heat - rho * q * c * k) / capacity, (0.0, seconds), [0.0], rtol=1e-9, atol=1e-9
    )
    rise = bearing.temperature_rise(heat, q, rho, c, 0.0, capacity / seconds)
    assert rise == pytest.approx(stepped.y[0, -1], rel=1e-6)
    assert bearing.temperature_rise(heat, 0.0, rho, c, 0.0, capacity / 2.0) == pytest.approx(
        heat * 2.0 / capacity, rel=0.01
    )


@pytest.mark.parametrize(
    ("length_over_bore", "cd"),
    [(0.0, 0.61), (0.5, 0.61), (2.0, 0.81), (5.0, 0.7845), (10.0, 0.742), (10.9, 0.742), (40.0, 0.742)],
)
def test_the_coefficient_of_holes_thin_long_and_longer_than_was_measured(
    length_over_bore: float, cd: float
) -> None:
    """Thin plate 0.61; 0.827 - 0.0085 L/d from 2 to 10 (Lichtarowicz, Duggins and Markland 1965, from memory), held from there on."""
    assert float(restrictor.discharge_coefficient(length_over_bore)) == pytest.approx(cd, abs=1e-9)
