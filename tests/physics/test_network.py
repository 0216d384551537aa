# SPDX-License-Identifier: GPL-3.0-or-later
"""Several turbos on one tap, against independent solutions; priming against its closed form."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from gravidon.physics import feed, network, oil, priming, source
from gravidon.physics.bearing import BearingReference
from physics import scalar_feed

OIL = oil.Oil(96e-6, 14.3e-6, 870.0)
REF = BearingReference(
    310e3, 1.65e-3 / 60, float(oil.density(OIL, 373.15)), float(oil.dynamic_viscosity(OIL, 373.15)), 0.5
)


def branch(bore: float, length: float, hole: float, t: float, heat: float) -> feed.Feed:
    pipe = feed.Pipe(bore, length, 800.0, 0.4)
    return feed.Feed(OIL, 0.0, np.array([t]), np.array([heat]), (pipe,), (feed.Hole(hole, 2e-3),), None, REF)


def scalar_flow(tee: float, bore: float, length: float, hole: float, t: float, heat: float) -> float:
    if tee <= 0.0:
        return 0.0
    return scalar_feed.solve(
        scalar_feed.Point(
            96e-6,
            14.3e-6,
            870.0,
            tee,
            t,
            heat,
            bore,
            length,
            800.0,
            0.4,
            hole,
            2e-3,
            310e3,
            1.65e-3 / 60,
            REF.density_kg_m3,
            REF.viscosity_pa_s,
            0.5,
        )
    )[0]


@settings(max_examples=12)
@given(
    st.floats(1e5, 5e5),
    st.floats(340.0, 390.0),
    st.floats(0.2, 2.0),
    st.floats(0.2, 2.0),
    st.floats(1e-3, 3e-3),
    st.floats(1e-3, 3e-3),
)
def test_two_branches_agree_with_nested_brentq(
    pressure: float, t: float, length1: float, length2: float, hole1: float, hole2: float
) -> None:
    """Trunk and tee solved by brentq around brentq (scipy, fluids): 0.1 % on both flows."""
    trunk = feed.Pipe(5.5e-3, 0.8, 500.0, 0.7)
    rho, mu = float(oil.density(OIL, t)), float(oil.dynamic_viscosity(OIL, t))

    def trunk_drop(q: float) -> float:
        import fluids

        v = q / (np.pi / 4 * 5.5e-3**2)
        re = rho * v * 5.5e-3 / mu
        friction = fluids.friction.Churchill_1977(Re=max(re, 1e-6), eD=1.5e-6 / 5.5e-3)
        k = friction * 0.8 / 5.5e-3 + fluids.fittings.Hooper2K(
            Di=5.5 / 25.4, Re=max(re, 1e-6), K1=500.0, Kinfty=0.7
        )
        return k * rho * v * v / 2

    def balance(tee: float) -> float:
        q = scalar_flow(tee, 5.5e-3, length1, hole1, t, 600.0) + scalar_flow(
            tee, 5.5e-3, length2, hole2, t, 600.0
        )
        return pressure - trunk_drop(q) - tee

    tee = brentq(balance, 1.0, pressure, xtol=1e-3)
    result = network.solve_network(
        lambda q: np.full(q.shape, pressure),
        (trunk,),
        (branch(5.5e-3, length1, hole1, t, 600.0), branch(5.5e-3, length2, hole2, t, 600.0)),
        False,
    )
    assert result.tee_pressure_pa[0] == pytest.approx(tee, rel=1e-3)
    for k, (length, hole) in enumerate(((length1, hole1), (length2, hole2))):
        expected = scalar_flow(tee, 5.5e-3, length, hole, t, 600.0)
        assert result.branches[k].flow_m3_s[0] == pytest.approx(expected, rel=1e-3)


def test_the_slow_way_agrees_with_the_quick_one(monkeypatch: pytest.MonkeyPatch) -> None:
    """Newton on all flows against nested false position on the tee's pressure: two methods, 0.01 %."""
    branches = (branch(5.5e-3, 0.4, 1.4e-3, 373.0, 900.0), branch(4e-3, 1.5, 2.2e-3, 373.0, 900.0))
    trunk = (feed.Pipe(5.0e-3, 1.0, 500.0, 0.7),)
    results = []
    for slow in (False, True):
        if slow:
            monkeypatch.setattr(network, "_newton", lambda *_: None)
        results.append(network.solve_network(lambda q: 4e5 - 1e9 * q, trunk, branches, True))
    quick, nested = results
    assert quick.tee_pressure_pa == pytest.approx(nested.tee_pressure_pa, rel=1e-4)
    for a, b in zip(quick.branches, nested.branches, strict=True):
        assert a.flow_m3_s == pytest.approx(b.flow_m3_s, rel=1e-4)


def test_equal_branches_share_equally_and_a_lone_branch_is_the_plain_feed() -> None:
    """Symmetry (exact); and with no trunk the network is `solve_feed` itself."""
    twin = branch(5.5e-3, 0.6, 1.5e-3, 373.0, 500.0)
    both = network.solve_network(
        lambda q: np.full(q.shape, 3e5), (feed.Pipe(5.5e-3, 0.5),), (twin, twin), False
    )
    assert both.branches[0].flow_m3_s == pytest.approx(both.branches[1].flow_m3_s, rel=1e-12)
    alone = network.solve_network(lambda q: np.full(q.shape, 3e5), (), (twin,), False)
    plain = feed.solve_feed(feed.Feed(**{**twin.__dict__, "tap_pressure_pa": np.array([3e5])}))
    assert alone.branches[0].flow_m3_s == pytest.approx(plain.flow_m3_s, rel=1e-9)


def test_a_third_turbo_lowers_the_others() -> None:
    """More draw through one trunk leaves less at the tee."""
    one = branch(5.5e-3, 0.6, 2e-3, 373.0, 500.0)
    flows = [
        network.solve_network(lambda q: np.full(q.shape, 3e5), (feed.Pipe(4e-3, 1.0),), (one,) * n, False)
        for n in (1, 2, 3)
    ]
    firsts = [float(r.branches[0].flow_m3_s[0]) for r in flows]
    assert firsts[0] > firsts[1] > firsts[2]


def test_the_draw_on_the_gallery_closes() -> None:
    """Pump 10 cm³/rev at 15 rev/s gives 150 cm³/s; what is drawn is missing from the engine's own speed on the law,
    and the tap pressure found is the law's there (consistency of the coupled solution)."""
    n, rho, mu = 15.0, float(oil.density(OIL, 373.0)), float(oil.dynamic_viscosity(OIL, 373.0))
    fit = source.fit_source([n], [rho], [mu], [1.2e5], 5e5)

    def offered(q: np.ndarray) -> np.ndarray:
        return source.gallery_pressure_drawn(fit, n, rho, mu, 10e-6, q)

    result = network.solve_network(offered, (), (branch(5.5e-3, 0.6, 4e-3, 373.0, 100.0),), True)
    q = float(result.branches[0].flow_m3_s[0])
    expected = float(source.gallery_pressure(fit, n * (1.0 - q / 150e-6), rho, mu))
    assert result.tap_pressure_pa[0] == pytest.approx(expected, rel=1e-5)
    assert expected < 1.2e5


def test_on_relief_the_spare_oil_covers_most_of_the_draw() -> None:
    """Far above its relief a gallery loses less than a hundredth of its pressure to a draw of 4 % of the pump."""
    fit = source.fit_source([10.0], [820.0], [0.01], [4.5e5], 5e5)
    full = float(source.gallery_pressure(fit, 50.0, 820.0, 0.01))
    drawn = float(source.gallery_pressure_drawn(fit, 50.0, 820.0, 0.01, 1e-5, 2e-5))
    assert 0.99 * full < drawn < full < 5e5


def test_a_clogging_screen_takes_its_share() -> None:
    """Half closed doubles the drop; at the rating it drops what it is rated (definition)."""
    screen = feed.Screen(4e3, 5e-5, 0.012)
    assert feed.screen_drop(5e-5, 0.012, screen) == pytest.approx(4e3)
    assert feed.screen_drop(5e-5, 0.012, feed.Screen(4e3, 5e-5, 0.012, 0.5)) == pytest.approx(8e3)


def test_one_pipe_fills_in_the_closed_form() -> None:
    """16 mu L²/(dp d²), integrated by hand from Hagen-Poiseuille."""
    expected = 16 * 0.25 * 1.2**2 / (3e5 * 5.5e-3**2)
    assert priming.viscous_fill_time([5.5e-3], [1.2], 3e5, 0.25) == pytest.approx(expected, rel=1e-12)


def test_two_pipes_fill_as_a_numerical_integration_says() -> None:
    """Second method: march the front through a wide and a narrow pipe in 20 000 steps (0.1 %)."""
    d, lengths, p, mu = [6e-3, 3e-3], [0.7, 0.4], 2e5, 0.2
    time = resistance = 0.0
    for diameter, length in zip(d, lengths, strict=True):
        dx = length / 10_000
        per_metre, area = 128 * mu / (np.pi * diameter**4), np.pi / 4 * diameter**2
        for _ in range(10_000):
            time += area * dx * (resistance + per_metre * dx / 2) / p
            resistance += per_metre * dx
    assert priming.viscous_fill_time(d, lengths, p, mu) == pytest.approx(time, rel=1e-3)


def test_no_pressure_never_fills() -> None:
    assert np.isinf(priming.viscous_fill_time([5e-3], [1.0], 0.0, 0.1))
