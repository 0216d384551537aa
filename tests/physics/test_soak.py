# SPDX-License-Identifier: GPL-3.0-or-later
"""Heat soak: two lumps against exact solutions and an ODE solver; what it says of whole plans."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from gravidon.physics.soak import Lumps, temperatures
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.heat_soak import COKING_K, HeatSoak, heat_soak

T = np.linspace(0.0, 4000.0, 41)


def test_two_lumps_alone_meet_where_their_heat_is_shared() -> None:
    """Nothing lost: both end at the mean weighted by capacity, and their difference falls as exp(-G (1/C1 + 1/C2) t); exact
    (Incropera and DeWitt, lumped capacitance)."""
    c1, c2, g = 2200.0, 1350.0, 1.5
    hot, cool = temperatures(Lumps(c1, c2, g, 0.0, 0.0, 300.0), (973.0, 400.0), T)
    assert c1 * hot + c2 * cool == pytest.approx(np.full(len(T), c1 * 973.0 + c2 * 400.0), rel=1e-9)
    assert hot - cool == pytest.approx(573.0 * np.exp(-g * (1 / c1 + 1 / c2) * T), abs=1e-6)


def test_one_lump_alone_cools_exponentially() -> None:
    """No link: Newton's law of cooling, exact."""
    made = temperatures(Lumps(2000.0, 1000.0, 0.0, 2.0, 4.0, 300.0), (900.0, 500.0), T)
    assert made[0] == pytest.approx(300.0 + 600.0 * np.exp(-T / 1000.0), abs=1e-6)
    assert made[1] == pytest.approx(300.0 + 200.0 * np.exp(-T / 250.0), abs=1e-6)


@given(
    st.floats(500, 5000),
    st.floats(300, 3000),
    st.floats(0.1, 5),
    st.floats(0, 20),
    st.floats(0, 20),
    st.floats(0, 10),
)
def test_any_lumps_as_an_ode_solver_has_them(
    c1: float, c2: float, g: float, gas: float, coolant: float, air: float
) -> None:
    """The heat balance written as watts in and out, stepped by LSODA."""
    lumps = Lumps(c1, c2, g, air, 0.5 * air, 330.0, gas, 600.0, coolant, 370.0)

    def rate(_: float, y: np.ndarray) -> list[float]:
        across = g * (y[0] - y[1])
        into_turbine = gas * (600.0 - y[0]) + air * (330.0 - y[0]) - across
        into_bearing = across + coolant * (370.0 - y[1]) + 0.5 * air * (330.0 - y[1])
        return [into_turbine / c1, into_bearing / c2]

    stepped = solve_ivp(rate, (0.0, T[-1]), [973.0, 410.0], method="LSODA", t_eval=T, rtol=1e-8, atol=1e-6).y
    assert temperatures(lumps, (973.0, 410.0), T) == pytest.approx(stepped, abs=0.05)


def soaked(cooling: str, load: float = 1.0) -> HeatSoak:
    plan = paths.put(demo_plan(), "turbos.0.turbo.cooling", cooling)
    plan = paths.put(plan, "turbos.0.restrictor.bore_mm", 2.2)
    conditions = tuple(c.model_copy(update={"load": min(c.load, load)}) for c in plan.conditions)
    found = heat_soak(evaluate(plan.model_copy(update={"conditions": conditions})))
    assert found is not None
    return found


def test_water_saves_the_idling_and_a_dry_jacket_does_not() -> None:
    """Trade: a minute or two of idling on oil alone after a hot run, none with water lines; the peak comes minutes after
    (common practice, no source)."""
    oil, water, dry = (soaked(c) for c in ("oil only", "water", "water ports dry"))
    assert oil.cokes
    assert 30.0 <= oil.idle_s <= 150.0
    assert 180.0 < oil.seconds[oil.bearing_k.argmax()] < 1200.0
    assert not water.cokes
    assert water.idle_s == 0.0
    assert dry.idle_s >= oil.idle_s


def test_less_load_soaks_less_and_the_idling_told_is_enough() -> None:
    peaks = [soaked("oil only", load).peak_k for load in (0.3, 0.6, 1.0)]
    assert peaks == sorted(peaks)
    assert soaked("oil only", 0.3).idle_s <= soaked("oil only", 1.0).idle_s
    assert (soaked("oil only", 0.3).peak_k > COKING_K) == (soaked("oil only", 0.3).idle_s > 0.0)


def test_a_plan_without_load_has_nothing_to_tell() -> None:
    plan = demo_plan()
    still = tuple(c.model_copy(update={"load": 0.0}) for c in plan.conditions)
    assert heat_soak(evaluate(plan.model_copy(update={"conditions": still}))) is None
