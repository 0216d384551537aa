# SPDX-License-Identifier: GPL-3.0-or-later
"""Seconds and millilitres at a seal against an integration of its own, with gas that is compressed, and against exact solutions."""

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from gravidon.physics import wetting
from gravidon.physics.wetting import Drive, Vessel

G, RHO, NU = 9.81, 520.0, 22e-6


def vessel(bore: float, rise: float, cavity: float, seal: float, states: int = 1) -> Vessel:
    """A hose that rises evenly from the entry at 0, with a cavity of straight walls over it."""
    area = np.pi / 4 * bore**2
    level = np.linspace(0.0, rise + 2 * seal, 400)
    volume = area * 2.0 * np.minimum(level, rise) + cavity * np.maximum(level - rise, 0.0) / seal
    return Vessel(
        np.repeat(level[:, None], states, axis=1),
        np.repeat(volume[:, None], states, axis=1),
        np.full(states, area * 2.0 * rise + cavity),
    )


def own_integration(
    bore: float, rise: float, cavity: float, seal: float, q: float, end: float, gap_m2: float, lasts: float
) -> tuple[float, float]:
    """Seconds until the seal and oil beyond it, by an adaptive integration of level and of gas mass in the housing (isothermal at
    353 K): its own geometry, loss and ring flow."""
    area = np.pi / 4 * bore**2
    length = 2.0 * rise
    gas_volume = area * length + cavity
    air = 101325.0 / (287.0 * 353.0)

    def level_of(v: float) -> float:
        return v / (2.0 * area) if v < area * length else rise + (v - area * length) * seal / cavity

    def speed(head: float) -> float:
        """Flow up the hose for a head: laminar friction and one and a half velocity heads, solved as a quadratic."""
        a, b = 128 * NU * length / (np.pi * bore**4 * G), 1.5 / (2 * G * area**2)
        return np.sign(head) * (-a + np.sqrt(a * a + 4 * b * abs(head))) / (2 * b)

    def rates(_t: float, y: np.ndarray) -> list[float]:
        v, mass = y
        room = max(gas_volume - v, 2e-6)
        pressure = mass * 287.0 * 353.0 / room - 101325.0
        line = speed(end - level_of(v) - pressure / (RHO * G))
        out = 0.6 * gap_m2 * np.sqrt(2 * air * abs(pressure)) * np.sign(pressure)
        return [q + line if v > 0 or q + line > 0 else 0.0, -out]

    full = area * length + cavity
    reached = lambda _t, y: y[0] - full  # noqa: E731
    reached.terminal = True  # type: ignore[attr-defined]
    run = solve_ivp(
        rates,
        (0.0, lasts),
        [0.0, gas_volume * air],
        method="LSODA",
        events=reached,
        rtol=1e-7,
        atol=1e-10,
        max_step=0.01,
    )
    return (float(run.t_events[0][0]) if len(run.t_events[0]) else np.inf), float(run.y[0, -1])


@pytest.mark.parametrize("gap_mm2", [0.3, 1.0, 4.0])
@pytest.mark.parametrize("end", [0.12, 0.30])
@pytest.mark.parametrize("q", [2e-5, 8e-5])
def test_seconds_against_an_integration_with_gas(gap_mm2: float, end: float, q: float) -> None:
    """Within a factor of 1.3, or both never in the time; the hose is 0.4 m long and rises 0.2 m."""
    bore, rise, cavity, seal, lasts = 0.0127, 0.2, 35e-6, 0.03, 8.0
    a = 128 * NU * 2 * rise / (np.pi * bore**4 * G)
    b = 1.5 / (2 * G * (np.pi / 4 * bore**2) ** 2)
    one = np.ones(1)
    drive = Drive(
        one * q,
        one * (end + a * q + b * q * q),
        one * end,
        one * end,
        one * a,
        one * b,
        wetting.ring_head(gap_mm2 * 1e-6, RHO, G) * one,
    )
    mine = wetting.fill(vessel(bore, rise, cavity, seal), drive, 0.0, lasts)
    wanted, _ = own_integration(bore, rise, cavity, seal, q, end, gap_mm2 * 1e-6, lasts)
    if np.isinf(wanted):
        assert mine.seconds[0] > 0.75 * lasts
    else:
        assert wanted / 1.3 < mine.seconds[0] < wanted * 1.3


def test_a_shut_vessel_with_free_gas_and_no_head_fills_at_its_inflow() -> None:
    """No flow in the line (endless loss) and gas that leaves freely: volume over flow, exact."""
    one = np.ones(1)
    rest = 1e12 * 4e-5 + 1e12 * 4e-5**2
    drive = Drive(one * 4e-5, one * rest, one * 0.0, one * 0.0, one * 1e12, one * 1e12, one * 0.0)
    it = vessel(0.0127, 0.2, 35e-6, 0.03)
    done = wetting.fill(it, drive, 0.0, 10.0)
    # the line's own loss at rest stands against the level at rest: no flow in it
    assert done.seconds[0] == pytest.approx(it.seal_m3[0] / 4e-5, rel=0.05)
    assert done.over_m3[0] == pytest.approx(10.0 * 4e-5 - it.seal_m3[0], rel=0.05)


def test_nothing_comes_over_a_seal_that_rest_does_not_reach() -> None:
    one = np.ones(1)
    drive = Drive(one * 3e-5, one * 0.15, one * 0.1, one * 0.1, one * 500.0, one * 1e5, one * 0.0)
    done = wetting.fill(vessel(0.0127, 0.2, 35e-6, 0.03), drive, 0.0, 60.0)
    assert np.isinf(done.seconds[0])
    assert done.over_m3[0] == 0.0


def test_slosh_swings_over_and_settles() -> None:
    """The first peak stands 1.4 to 1.7 times as high as the resting tilt (from memory); half as many steps move a time little."""
    t = np.linspace(0.0, 6.0, 2001)
    swing = wetting.sloshed(t)
    assert 1.4 < swing.max() < 1.7
    assert t[swing.argmax()] == pytest.approx(0.36, abs=0.02)
    assert abs(swing[-1] - 1.0) < 1e-3
    assert (np.abs(np.diff(swing)) < 0.03).all()


@pytest.mark.parametrize("what", ["flow", "end", "gap"])
def test_more_of_what_fills_never_fills_less(what: str) -> None:
    """Seconds and volume are monotone and continuous in flow, head and ring gap."""
    n = 60
    one = np.ones(n)
    q = np.linspace(1e-5, 1e-4, n) if what == "flow" else one * 4e-5
    end = np.linspace(0.1, 0.4, n) if what == "end" else one * 0.25
    gap = np.linspace(0.2e-6, 4e-6, n) if what == "gap" else one * 1e-6
    a, b = 700.0, 1.5e6
    drive = Drive(q, end + a * q + b * q * q, end, end, one * a, one * b, wetting.ring_head(gap, RHO, G))
    done = wetting.fill(vessel(0.0127, 0.2, 35e-6, 0.03, n), drive, 0.0, 6.0)
    assert (np.diff(done.over_m3) >= -1e-9).all()
    assert np.abs(np.diff(done.over_m3)).max() < 12e-6
    known = np.isfinite(done.seconds)
    assert (np.diff(done.seconds[known]) <= 1e-6).all()


def test_flow_in_the_line_is_the_root_that_a_bracketing_search_finds() -> None:
    """scipy.optimize.brentq on the balance as it is written down, over heads and losses of many magnitudes; 1e-9."""
    rng = np.random.default_rng(3)
    for _ in range(400):
        a, s = 10 ** rng.uniform(1, 5), 10 ** rng.uniform(-2, 4)
        b, c = (10 ** rng.uniform(4, 11) * (rng.random() < 0.8) for _ in range(2))
        q, head = 10 ** rng.uniform(-7, -4), rng.normal() * 10 ** rng.uniform(-4, 0)
        y = brentq(
            lambda y: a * y + b * y * abs(y) + c * (q + y) * abs(q + y) + s * (q + y) - head,  # noqa: B023
            -1.0,
            1.0,
            xtol=1e-18,
            rtol=1e-14,
        )
        got = wetting._line_flow(*(np.array([v]) for v in (head, a, b, c, s, q)))
        assert got[0] == pytest.approx(y, rel=1e-9, abs=1e-9 * q)
