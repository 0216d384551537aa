"""Restrictor, line, bearing and source against outside correlations and exact limits."""

import fluids
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import nnls

from gravidon.errors import PhysicsError
from gravidon.physics import bearing, line, restrictor, source


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


@given(st.floats(0.0, 5e5), st.floats(0.0, 0.2), st.integers(0, 1000))
def test_source_fit_recovers_its_own_law(a: float, b: float, seed: int) -> None:
    """Readings made from a law below relief give that law's pressures back (noise-free, so 1e-6)."""
    rng = np.random.default_rng(seed)
    n, mu = rng.uniform(12, 100, 5), rng.uniform(0.006, 0.1, 5)
    rho = np.full(5, 830.0)
    p = a * mu * n + b * rho * n**2
    fit = source.fit_source(n, rho, mu, p, relief_pa=1e9)
    assert source.gallery_pressure(fit, n, rho, mu) == pytest.approx(p, rel=1e-6, abs=1e-3)


@given(
    st.lists(
        st.tuples(st.floats(10, 100), st.floats(0.005, 0.1), st.floats(1e4, 6e5)), min_size=2, max_size=6
    )
)
def test_source_fit_is_the_non_negative_least_squares_answer(rows: list[tuple[float, float, float]]) -> None:
    """scipy.optimize.nnls on scaled columns finds no smaller misfit (to 1e-6 of the data)."""
    n, mu, p = (np.array(column) for column in zip(*rows, strict=True))
    columns = np.stack([mu * n, 830.0 * n * n], axis=1)
    scale = np.linalg.norm(columns, axis=0)
    _, misfit = nnls(columns / scale, p)
    fit = source.fit_source(n, np.full_like(n, 830.0), mu, p, relief_pa=1e12)
    mine = np.linalg.norm(columns @ np.array([fit.a, fit.b]) - p)
    assert mine <= misfit + 1e-6 * np.linalg.norm(p)
    assert fit.a >= 0
    assert fit.b >= 0


def test_readings_at_relief_do_not_bend_the_law() -> None:
    """A reading on the relief valve says nothing about the law; it is left out of the fit."""
    n, mu, rho = np.array([15.0, 40.0, 100.0]), np.array([0.0117] * 3), np.array([820.0] * 3)
    p = np.array([1e6 * 0.0117 * 15, 1e6 * 0.0117 * 40, 5e5])
    fit = source.fit_source(n, rho, mu, p, relief_pa=5e5)
    assert fit.used == (True, True, False)
    assert fit.a == pytest.approx(1e6, rel=1e-6)


def test_source_needs_a_turning_engine() -> None:
    with pytest.raises(PhysicsError, match="gauge readings"):
        source.fit_source([0.0], [820.0], [0.01], [1e5], 5e5)
