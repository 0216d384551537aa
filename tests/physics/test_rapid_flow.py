# SPDX-License-Identifier: GPL-3.0-or-later
"""Steep drains: rapid flow, what it knows of what lies downstream, and where the jump stands."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from gravidon.physics import drain, part_full

G = 9.80665
D, NU = 0.0143, 27e-6
ALPHA, BETA = 2.0, 4.0 / 3.0
"""Energy and momentum coefficients of laminar flow in a round pipe, full or half full; exact (Chow 1959)."""


def straight(
    sine: float, length: float = 0.5, bore: float = D, pieces: int = 60, last: float | None = None
) -> drain.Run:
    """A straight run; its last tenth in another bore where one is given."""
    heights = np.linspace(sine * length, 0.0, pieces + 1)[:, None]
    bores = np.full(pieces, bore)
    if last is not None:
        bores[-pieces // 10 :] = last
    return drain.Run(heights, np.full(pieces, length / pieces), bores)


@pytest.mark.parametrize("slope_deg", [30.0, 45.0, 60.0])
def test_a_steep_run_settles_at_normal_depth_and_does_not_know_its_entry(slope_deg: float) -> None:
    """2.3 L/min with 30 % air at 45 degrees: uniform depth by Hagen-Poiseuille's part-full table, everywhere beyond the
    inlet; the same with the pan far below and just below the entry (Chow 1959: rapid flow takes no word from downstream)."""
    q, sine = 2.3e-3 / 60 / 0.7, np.sin(np.radians(slope_deg))
    run = straight(sine)
    low, near = (drain.march(run, [q], [NU], [G], [level]) for level in (-0.5, -0.004))
    normal = float(part_full.normal_fill(q, D, sine, NU))
    assert low.fill[20:, 0] == pytest.approx(np.full(41, normal), rel=0.03)
    assert np.array_equal(low.fill, near.fill)
    assert not low.sealed.any()


def test_a_small_fitting_does_not_back_up_what_comes_fast_enough() -> None:
    """The 10.5 mm bore of a 3/8 NPT fitting at the foot of a 45 degree run: the hose above is as if it were not there."""
    q, sine = 1.2e-3 / 60 / 0.6, np.sin(np.radians(45.0))
    plain = drain.march(straight(sine), [q], [NU], [G], [-0.5])
    choked = drain.march(straight(sine, last=0.0105), [q], [NU], [G], [-0.5])
    assert choked.fill[:50, 0] == pytest.approx(plain.fill[:50, 0], abs=1e-5)


def area(y: float) -> float:
    return np.pi / 4 * D * D * float(part_full.area_fraction(min(max(y / D, 1e-6), 1.0)))


def friction(q: float, y: float) -> float:
    """Friction slope, laminar: 128 nu Q/(pi g D⁴) over the flow ratio of the fill."""
    return 128 * NU * q / (np.pi * G * D**4) / float(part_full.flow_ratio(min(y / D, 0.86)))


def moment(q: float, y: float, cosine: float) -> float:
    """Momentum over rho g: Q² beta/(g A) + A times depth of the centroid, by quadrature of the segment's chords."""
    z = np.linspace(0.0, min(y, D), 4001)
    chord = 2.0 * np.sqrt(np.maximum(z * (D - z), 0.0))
    return BETA * q * q / (G * area(y)) + float(np.trapezoid(chord * (y - z), z)) * cosine


@pytest.mark.parametrize("level", [0.05, 0.09, 0.14])
def test_a_drowned_steep_run_jumps_where_the_momenta_balance(level: float) -> None:
    """The rapid profile by an ODE from critical depth at the top (LSODA); the slow side one velocity head (exit loss) and the
    drowned length's Hagen-Poiseuille friction over the sump: the jump is where their momentum functions are equal. Within
    two pieces of the march's."""
    q, slope, length, pieces = 3.0e-5, np.radians(35.0), 0.5, 200
    sine, cosine = np.sin(slope), np.cos(slope)
    run = straight(sine, length, pieces=pieces)
    water = drain.march(run, [q], [NU], [G], [level])
    start = (
        float(
            part_full.FILL_GRID[
                np.argmin(
                    D * cosine * part_full.FILL_GRID
                    + ALPHA
                    * (q / (np.pi / 4 * D * D)) ** 2
                    / (2 * G)
                    / np.maximum(part_full.area_fraction(part_full.FILL_GRID), 1e-6) ** 2
                )
            ]
        )
        * D
        * 0.98
    )

    def dy(_: float, state: np.ndarray) -> list[float]:
        y = float(state[0])
        top = 2.0 * np.sqrt(max(y * (D - y), 1e-12))
        froude = ALPHA * q * q * top / (G * cosine * area(y) ** 3)
        return [(sine - friction(q, y)) / (cosine * (1.0 - froude))]

    walked = solve_ivp(dy, (0.0, length), [start], method="LSODA", rtol=1e-8, dense_output=True)

    def excess(x: float) -> float:
        centre = sine * (length - x)
        fast = moment(q, float(walked.sol(x)[0]), cosine)
        speed = q / (np.pi / 4 * D * D)
        still = level + speed * speed / (2 * G) + 128 * NU * q / (np.pi * G * D**4) * (length - x)
        over = still - centre
        slow_depth = (over + 0.5 * D * cosine) / cosine
        if slow_depth >= D:
            return fast - (BETA * q * q / (G * area(D)) + area(D) * over)
        return fast - moment(q, max(slow_depth, 1e-4), cosine)

    # walk up from the foot to the first place where the rapid side wins
    xs = np.linspace(length - 1e-6, 0.01, 2000)
    k = int(np.argmax([excess(x) > 0 for x in xs]))
    where = brentq(excess, xs[k], xs[max(k - 1, 0)])
    fast = water.fill[:, 0] < 0.5
    fast[0] = True
    jump = np.flatnonzero(fast).max() * length / pieces
    assert jump == pytest.approx(where, abs=2.5 * length / pieces + 0.004)


@settings(max_examples=40)
@given(st.floats(5e-6, 6e-5), st.floats(15.0, 70.0), st.floats(-0.1, 0.2), st.floats(0.009, 0.0143))
def test_freeboard_is_continuous_in_slope_and_level(
    q: float, slope: float, level: float, last: float
) -> None:
    """A ten-thousandth of a degree or of a millimetre never moves the housing's level by more than the crown it may close over:
    away from closing, by less than half a millimetre."""

    def housing(d_slope: float = 0.0, d_level: float = 0.0) -> tuple[float, bool]:
        run = straight(float(np.sin(np.radians(slope + d_slope))), last=last)
        water = drain.march(run, [q], [NU], [G], [level + d_level])
        return float(water.housing_level_m[0] - run.centre_m[0, 0]), bool(water.sealed[0])

    here, shut = housing()
    for moved, closed in (housing(1e-4), housing(0.0, 1e-7)):
        if closed == shut:
            assert moved == pytest.approx(here, abs=5e-4)


@settings(max_examples=30)
@given(
    st.lists(
        st.tuples(st.floats(5e-6, 9e-5), st.floats(-0.1, 0.2), st.floats(5.0, 70.0)), min_size=2, max_size=6
    )
)
def test_a_condition_alone_is_the_same_as_among_others(rows: list[tuple[float, float, float]]) -> None:
    """No condition's level depends on what else is asked for in the same call; exact to rounding."""
    sines = np.sin(np.radians([r[2] for r in rows]))
    centre = np.linspace(1.0, 0.0, 41)[:, None] * 0.45 * sines[None, :]
    bores = np.where(np.arange(40) < 34, D, 0.0095)
    q, level = (np.array([r[k] for r in rows]) for k in (0, 1))
    count = len(rows)
    whole = drain.march(
        drain.Run(centre, np.full(40, 0.45 / 40), bores), q, np.full(count, NU), np.full(count, G), level
    )
    for i in range(count):
        alone = drain.march(
            drain.Run(centre[:, i : i + 1], np.full(40, 0.45 / 40), bores),
            q[i : i + 1],
            [NU],
            [G],
            level[i : i + 1],
        )
        assert alone.housing_level_m[0] == pytest.approx(whole.housing_level_m[i], abs=1e-12)
        assert bool(alone.sealed[0]) == bool(whole.sealed[i])


def test_a_flange_with_a_stub_needs_no_more_than_a_hole_and_no_less_than_a_weir() -> None:
    """5.1 L/min of froth into 14.3 mm: a free orifice would want 32 mm; the stub below takes most of that away."""
    q, bore = 5.1e-3 / 60, 0.0143
    plate, stub = (float(drain.flange_pond(q, bore, G, s, NU)) for s in (0.0, 0.036))
    weir = (q / (1.66 * np.pi * bore)) ** (2 / 3)
    assert plate == pytest.approx(0.032, abs=0.001)
    assert weir <= stub < 0.5 * plate


def test_halving_the_step_moves_no_freeboard_and_hardly_a_seal(monkeypatch: pytest.MonkeyPatch) -> None:
    """60 sampled plans of ten conditions at 12 and 6 mm: wet or not and freeboard to a millimetre in all of them. A seal may
    differ only where a drain turns upright within one piece of a smaller bore; project choice: in at most 1 in 200."""
    from gravidon.study.solve import drain_route
    from gravidon.study.solve.evaluate import evaluate
    from study.families import family

    plans = family(40, seed=5) + family(20, bad=True, seed=6)
    answers = []
    for step, most in ((0.012, 48), (0.006, 96)):
        monkeypatch.setattr(drain_route, "PIECE_LENGTH_M", step)
        monkeypatch.setattr(drain_route, "MOST_PIECES", most)
        monkeypatch.setattr(drain_route.route, "__defaults__", (most,))
        answers.append([evaluate(p).drainage for p in plans])
    flips = [int((c.backwater.sealed != f.backwater.sealed).sum()) for c, f in zip(*answers, strict=True)]
    assert sum(flips) <= sum(c.backwater.sealed.size for c in answers[0]) / 200
    for coarse, fine in zip(*answers, strict=True):
        assert np.array_equal(coarse.freeboard_m < 0.0, fine.freeboard_m < 0.0)
        assert coarse.freeboard_m == pytest.approx(fine.freeboard_m, abs=1e-3)
