# SPDX-License-Identifier: GPL-3.0-or-later
"""Blow-by, pump and wire: against published tables, another library, and balances."""

import fluids
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from gravidon.physics import breather, scavenge
from gravidon.physics.breather import GasPath

# ASTM B258 nominal diameters [mm]; resistance at 20 °C [Ω/km] as handbooks list it for annealed copper
AWG = [
    (20, 0.812, 33.31),
    (18, 1.024, 20.95),
    (16, 1.291, 13.17),
    (14, 1.628, 8.286),
    (12, 2.053, 5.211),
    (10, 2.588, 3.277),
    (8, 3.264, 2.061),
]


@pytest.mark.parametrize(("gauge", "diameter_mm", "ohm_km"), AWG)
def test_wire_table(gauge: int, diameter_mm: float, ohm_km: float) -> None:
    """ASTM B258 diameters to a thousandth of a millimetre; resistances to 0.2 %."""
    assert float(scavenge.awg_diameter(gauge)) * 1e3 == pytest.approx(diameter_mm, abs=6e-4)
    assert float(scavenge.wire_resistance(gauge, 1000.0)) == pytest.approx(ohm_km, rel=2e-3)


def test_copper_gets_worse_hot() -> None:
    """IEC 60028: 0.393 % a kelvin."""
    assert float(scavenge.wire_resistance(14, 7.0, 333.15)) == pytest.approx(
        float(scavenge.wire_resistance(14, 7.0)) * 1.1572
    )


def test_fuses_are_real_ones() -> None:
    assert [scavenge.fuse_for(a) for a in (2.0, 7.0, 12.1, 100.0)] == [3.0, 10.0, 20.0, 40.0]


def test_gas_drop_against_fluids() -> None:
    """The same hose and hole by the fluids library's Darcy drop and its own friction factor."""
    q, d, length, hole = 80e-3 / 60, 0.0127, 1.2, 0.008
    v = q / (np.pi / 4 * d * d)
    re = fluids.Reynolds(D=d, V=v, rho=breather.GAS_DENSITY, mu=breather.GAS_VISCOSITY)
    k = fluids.friction_factor(Re=re, eD=0.0, Method="Churchill_1977") * length / d + breather.END_LOSSES
    hose = fluids.dP_from_K(k, rho=breather.GAS_DENSITY, V=v)
    speed = q / (0.61 * np.pi / 4 * hole * hole)
    assert float(breather.gas_drop(q, d, length, hole)) == pytest.approx(
        hose + 0.5 * breather.GAS_DENSITY * speed**2, rel=1e-6
    )
    assert float(breather.gas_drop(-q, d, length, hole)) == pytest.approx(
        -float(breather.gas_drop(q, d, length, hole))
    )


@settings(max_examples=40, deadline=None)
@given(
    blow_by=st.floats(1e-5, 5e-3),
    intake=st.floats(-80e3, 150e3),
    one_way=st.booleans(),
    orifice=st.floats(0.004, 0.02),
)
def test_blow_by_is_shared_out_completely(
    blow_by: float, intake: float, one_way: bool, orifice: float
) -> None:
    """Two ways out: both see one crankcase pressure, and a one-way valve lets nothing back."""
    can = GasPath(0.016, 0.9, orifice, 0.0, False, np.zeros(1))
    valve = GasPath(0.006, 0.4, 0.0, 2068.0 if one_way else 0.0, one_way, np.array([intake]))
    pressure, through_can = breather.crankcase_pressure((can, valve), [blow_by])
    assert float(breather.pressure_at(can, through_can)[0]) == pytest.approx(float(pressure[0]), abs=1.0)
    back = through_can[0] - blow_by
    if one_way:
        assert back <= 1e-6
    else:  # a plain valve lets boost in exactly when the intake stands above the crankcase
        assert (back > 0.0) == (intake > float(pressure[0]))


def test_boost_through_a_plain_valve_lifts_the_crankcase() -> None:
    """The common mistake (job's step 8): a plain valve at 90 kPa boost against a real one-way valve."""
    can = GasPath(0.0127, 1.0, 0.0, 0.0, False, np.zeros(1))
    plain = GasPath(0.006, 0.4, 0.0, 0.0, False, np.array([90e3]))
    real = GasPath(0.006, 0.4, 0.0, 2068.0, True, np.array([90e3]))
    bad, _ = breather.crankcase_pressure((can, plain), [1e-3])
    good, _ = breather.crankcase_pressure((can, real), [1e-3])
    assert float(good[0]) == pytest.approx(float(breather.pressure_at(can, np.array([1e-3]))[0]), rel=1e-3)
    assert float(bad[0]) > 5 * float(good[0])
    with pytest.raises(ValueError, match="one or two"):
        breather.crankcase_pressure((), [1e-3])


def test_the_pump_meets_its_piping() -> None:
    """At the delivery found, pump pressure and piping pressure agree (balance); more lift, less delivery."""
    free, stall, share = 1.3e-4, 2e5, 0.95
    rho, mu = np.array([560.0]), np.array([0.012])
    piping = (0.3, 3e3, 0.0087, 1.2)
    q = scavenge.pump_delivery(free, stall, share, *piping, rho, mu)
    dp = scavenge.pump_head(q, *piping, rho, mu)
    assert float(q[0]) == pytest.approx(free * (share - float(dp[0]) / stall), rel=1e-5)
    higher = scavenge.pump_delivery(free, stall, share, 1.0, *piping[1:], rho, mu)
    assert float(higher[0]) < float(q[0])
    stalled = scavenge.pump_delivery(free, 2e3, share, *piping, rho, mu)
    assert float(stalled[0]) == 0.0


@pytest.mark.parametrize("sink", [101_325.0, 90_000.0, 55_000.0, 20_000.0])
@pytest.mark.parametrize("flow", [1e-5, 5e-4, 2e-3])
def test_gas_through_a_hole_is_isentropic_and_chokes(flow: float, sink: float) -> None:
    """Mass flow from stagnation by Saint-Venant and Wantzel, solved by brentq; 0.1 %."""
    hole, k, rt = 0.006, 1.4, breather.ATMOSPHERE_PA / breather.GAS_DENSITY
    area = 0.61 * np.pi / 4 * hole**2

    def mass(p: float) -> float:
        mach = min(np.sqrt(2 / (k - 1) * ((p / sink) ** ((k - 1) / k) - 1)), 1.0)
        return (
            area
            * p
            / np.sqrt(rt)
            * np.sqrt(k)
            * mach
            * (1 + (k - 1) / 2 * mach**2) ** (-(k + 1) / (2 * (k - 1)))
        )

    wanted = brentq(lambda p: mass(p) - breather.GAS_DENSITY * flow, sink, 5e6, xtol=1e-3)
    assert float(breather.orifice_upstream(flow, hole, sink)) - sink == pytest.approx(wanted - sink, rel=2e-3)


def test_a_gas_hose_against_the_reference_library() -> None:
    """Isothermal flow in a 9.5 mm hose from 60 kPa below atmosphere, by the `fluids` library; its log term (the gas
    speeding up) is left out of the product: under 4 % of the flow here."""
    q, d, length, sink = 1.5e-3, 0.0095, 1.5, -60e3
    path = GasPath(d, length, 0.0, 0.0, False, np.zeros(1) + sink)
    inside = float(breather.pressure_at(path, np.array([q]))[0]) + breather.ATMOSPHERE_PA
    m = breather.GAS_DENSITY * q
    re = 4 * m / (np.pi * d * breather.GAS_VISCOSITY)
    f = fluids.friction_factor(Re=re, eD=0.0, Method="Churchill_1977") + breather.END_LOSSES * d / length
    rho = breather.GAS_DENSITY * (inside + breather.ATMOSPHERE_PA + sink) / 2 / breather.ATMOSPHERE_PA
    flow = fluids.isothermal_gas(rho=rho, fd=f, P1=inside, P2=breather.ATMOSPHERE_PA + sink, L=length, D=d)
    assert flow == pytest.approx(m, rel=0.04)


def test_flooding_gas_meets_wallis_with_both_phases() -> None:
    """Water and air in a 25 mm tube at 20 °C (Wallis 1969, sharp ends): at the gas flow told, both terms sum to 0.725; the
    gas alone needs 7.5 m/s there."""
    area, rho = np.pi / 4 * 0.025**2, 998.0
    for liquid in (0.0, 1e-5, 5e-5):
        gas = float(breather.flooding_gas(liquid, 0.025, rho, 9.81, 1.2))
        scale = np.sqrt(9.81 * 0.025 * (rho - 1.2))
        total = np.sqrt(gas / area * np.sqrt(1.2) / scale) + np.sqrt(liquid / area * np.sqrt(rho) / scale)
        assert total == pytest.approx(0.725)
    assert float(breather.flooding_gas(0.0, 0.025, rho, 9.81, 1.2)) / area == pytest.approx(7.5, rel=0.02)
    assert float(breather.flooding_gas(1.0, 0.025, rho, 9.81)) == 0.0
