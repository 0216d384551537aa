# SPDX-License-Identifier: GPL-3.0-or-later
"""Drain march, sump level and attitude against closed forms."""

from dataclasses import replace

import fluids
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from gravidon.physics import attitude, drain, part_full, sump

G = 9.80665


def straight(fall: float, length: float, bore: float, pieces: int = 40, conditions: int = 1) -> drain.Run:
    centre = np.linspace(fall, 0.0, pieces + 1)[:, None] * np.ones((1, conditions))
    return drain.Run(centre, np.full(pieces, length / pieces), np.full(pieces, bore))


def test_long_uniform_run_settles_at_normal_depth() -> None:
    """Uniform flow: far from the outfall the march's fill is the normal depth (same friction law,
    so this checks the marching, to 0.2 % of the bore)."""
    q, nu, bore = 4e-5, 27e-6, 0.0143
    result = drain.march(straight(0.4, 0.8, bore, 80), [q], [nu], [G], [-1.0])
    assert result.fill[0, 0] == pytest.approx(float(part_full.normal_fill(q, bore, 0.5, nu)), abs=0.002)


def test_full_run_loses_hagen_poiseuilles_head() -> None:
    """Drowned and horizontal: sump level + exit loss + 128 nu L Q/(pi g D⁴), by hand."""
    q, nu, bore, length = 2e-5, 50e-6, 0.012, 0.5
    result = drain.march(straight(0.0, length, bore), [q], [nu], [G], [0.05])
    v = q / (np.pi / 4 * bore**2)
    expected = 0.05 + v * v / (2 * G) + 128 * nu * length * q / (np.pi * G * bore**4)
    assert result.grade_line_m[0, 0] == pytest.approx(expected, rel=1e-9)
    assert result.sealed[0]


def test_still_oil_stands_level_with_the_sump() -> None:
    """No flow: the grade line is the sump surface wherever the pipe reaches below it (hydrostatics)."""
    run = straight(0.30, 0.5, 0.0143)
    result = drain.march(run, [0.0], [50e-6], [G], [0.10])
    wet = run.centre_m[:, 0] < 0.09
    assert result.grade_line_m[wet, 0] == pytest.approx(0.10, abs=1e-9)
    assert result.fill[run.centre_m[:, 0] > 0.12, 0].max() == 0.0


def test_dip_holds_oil_up_to_its_lip() -> None:
    """A sag between two crests: upstream of it the line must clear the lip, so with hardly any
    flow the pipe runs full below the lip's invert (communicating vessels)."""
    low = np.concatenate(
        [np.linspace(0.20, 0.00, 21), np.linspace(0.0, 0.06, 10)[1:], np.linspace(0.06, -0.10, 10)[1:]]
    )
    pieces = len(low) - 1
    run = drain.Run(low[:, None], np.full(pieces, 0.03), np.full(pieces, 0.012))
    result = drain.march(run, [1e-7], [30e-6], [G], [-0.5])
    in_dip = slice(17, 26)
    assert result.full[in_dip, 0].any()
    lip_invert = 0.06 - 0.006
    assert result.grade_line_m[20, 0] == pytest.approx(lip_invert, abs=0.006)


def test_hand_worked_march_over_a_small_entry_fitting() -> None:
    """Worked by hand in the style of FHWA HEC-22: a 20 mm pipe, slope 0.5, 1 m, ends in a 10 mm,
    60 mm long level fitting with a free outfall; bulk flow 5e-5 m³/s, nu 3e-5 m²/s.

    Outfall: Q/sqrt(g D⁵) = 1.597, beyond the 0.83 of critical depth 0.9 D, so the bore leaves full:
    crown 5.0 mm above the axis plus one velocity head (0.6366 m/s)²/2g = 20.7 mm. Fitting: friction
    128·3e-5·5e-5/(pi·9.80665·1e-8) = 0.623 per m, so 37.4 mm over 60 mm. Contraction to a quarter of the
    area at Re 212: 0.5·0.75^0.75 + 160/212·0.75 = 0.969 velocity heads, 20.0 mm. Sum 83.1 mm above the axis.
    (The jet to enter it, (0.6366/0.636 m/s)²/2g = 51 mm above the axis, asks for less.)
    """
    level_part = np.zeros(7)
    sloped = np.linspace(0.5, 0.0, 51)
    centre = np.concatenate([sloped, level_part[1:]])[:, None]
    lengths = np.concatenate([np.full(50, 0.02), np.full(6, 0.01)])
    bores = np.concatenate([np.full(50, 0.020), np.full(6, 0.010)])
    result = drain.march(drain.Run(centre, lengths, bores), [5e-5], [3e-5], [G], [-1.0])
    pipe_slope = 128 * 3e-5 * 5e-5 / (np.pi * G * 0.02**4)
    at_step = result.grade_line_m[49, 0] - pipe_slope * 0.02
    assert at_step == pytest.approx(0.0831, abs=0.002)


def test_crankcase_pressure_lifts_a_sealed_line_only() -> None:
    """1.5 kPa lifts froth of 510 kg/m³ by 0.30 m (hydrostatics); an open line does not feel it."""
    lift = drain.crankcase_lift(1500.0, 0.0, 510.0, 9.81)
    assert lift == pytest.approx(0.30, abs=0.005)
    run = straight(0.3, 0.5, 0.0143)
    open_line = drain.march(run, [2e-5], [27e-6], [G], [-0.2], lift)
    sealed = drain.march(run, [2e-5], [27e-6], [G], [0.02], lift)
    without = drain.march(run, [2e-5], [27e-6], [G], [0.02], 0.0)
    assert open_line.lift_m[0] == 0.0
    assert sealed.housing_level_m[0] > without.housing_level_m[0]


@settings(max_examples=40, deadline=None)
@given(st.floats(-0.1, 0.25), st.floats(0.001, 0.05), st.floats(1e-6, 8e-5))
def test_a_higher_sump_never_lowers_the_housing_level(sump_level: float, rise: float, q: float) -> None:
    """Monotone backwater: raising the sump never lowers any grade line."""
    run = straight(0.25, 0.45, 0.0143)
    low, high = (drain.march(run, [q], [27e-6], [G], [s]) for s in (sump_level, sump_level + rise))
    assert (high.grade_line_m >= low.grade_line_m - 1e-6).all()
    assert high.housing_level_m[0] >= low.housing_level_m[0] - 1e-6


# --- sump ------------------------------------------------------------------------------------


def test_level_in_a_tilted_box_by_closed_form() -> None:
    """A half-g left turn: while both walls are wet the plane pivots about the box centre, so the
    height along effective gravity is up·(centre, V/area) exactly; midpoint columns keep it."""
    pan = sump.columns_of_boxes([[0.0, -0.15, -0.12]], [[0.4, 0.3, 0.12]])
    up, _ = attitude.effective_up(0.0, 0.2)
    volume = 0.005
    pivot = np.array([0.2, 0.0, -0.12 + volume / 0.12])
    assert sump.level(pan, up[None, :], [volume])[0] == pytest.approx(float(up @ pivot), abs=1e-5)


def test_level_of_a_wedge_by_closed_form() -> None:
    """One g to the left: the oil is a right-angled wedge against the right wall, area s²/2 per metre,
    V = L s²/2 (hand calculation); columns of 15 mm keep the level within 0.5 mm."""
    pan = sump.columns_of_boxes([[0.0, -0.15, 0.0]], [[0.4, 0.3, 0.3]])
    up, _ = attitude.effective_up(0.0, 1.0)
    volume = 0.4 * 0.1**2 / 2
    expected = float(up @ np.array([0.0, -0.15, 0.1]))
    assert sump.level(pan, up[None, :], [volume])[0] == pytest.approx(expected, abs=5e-4)


@given(st.floats(-1.0, 1.0), st.floats(-1.0, 1.0), st.floats(0.0005, 0.01))
def test_level_mirrors_left_and_right(forward: float, left: float, volume: float) -> None:
    """A pan symmetric about the centreline stands alike in mirrored turns (exact symmetry)."""
    pan = sump.columns_of_boxes([[0.0, -0.15, -0.12]], [[0.4, 0.3, 0.12]])
    ups = np.stack([attitude.effective_up(forward, s * left)[0] for s in (1.0, -1.0)])
    levels = sump.level(pan, ups, volume)
    assert levels[0] == pytest.approx(levels[1], abs=1e-7)


@given(st.floats(-0.8, 0.8), st.floats(0.0005, 0.008), st.floats(1e-5, 2e-3))
def test_level_holds_its_volume_and_rises_with_it(left: float, volume: float, more: float) -> None:
    pan = sump.columns_of_boxes([[0.0, -0.15, -0.12]], [[0.4, 0.3, 0.12]])
    up = attitude.effective_up(0.0, left)[0][None, :]
    a, b = (sump.level(pan, up, v)[0] for v in (volume, volume + more))
    assert b > a
    depth = np.clip(a - pan.foot_m @ up[0], 0.0, pan.height_m * up[0, 2])
    assert float((depth / up[0, 2] * pan.area_m2).sum()) == pytest.approx(volume, rel=1e-3)


# --- attitude ----------------------------------------------------------------------------------


def test_signs_follow_iso_8855() -> None:
    """x forward, y left: a launch makes the front 'higher' (oil runs to the rear), a left turn
    makes the left 'higher' (oil runs right), nose-up parking lifts the front."""
    front, left = [[1.0, 0.0, 0.0]], [[0.0, 1.0, 0.0]]
    launch = attitude.effective_up(0.5, 0.0)[0][None, :]
    turn = attitude.effective_up(0.0, 0.5)[0][None, :]
    nose_up = attitude.effective_up(0.0, 0.0, 0.0, 0.2)[0][None, :]
    assert attitude.height(launch, front)[0, 0] > 0
    assert attitude.height(turn, left)[0, 0] > 0
    assert attitude.height(nose_up, front)[0, 0] == pytest.approx(np.sin(0.2))


def test_seal_bore_lowest_point() -> None:
    """Shaft level: the lowest point is a radius below the centre; shaft upright: at the centre."""
    up = np.array([[0.0, 0.0, 1.0]])
    assert attitude.lowest_of_bore(up, [0, 0, 0.1], [1, 0, 0], 0.008)[0] == pytest.approx(0.092)
    assert attitude.lowest_of_bore(up, [0, 0, 0.1], [0, 0, 1], 0.008)[0] == pytest.approx(0.1)


# --- the march against an independent one --------------------------------------------------------


@settings(max_examples=25, deadline=None)
@given(
    st.lists(st.tuples(st.floats(-0.01, 0.12), st.floats(0.06, 0.2)), min_size=2, max_size=4),
    st.floats(5e-6, 7e-5),
    st.floats(2e-5, 8e-5),
    st.floats(-0.2, 0.05),
    st.sampled_from([0.010, 0.0125, 0.0143]),
)
def test_march_agrees_with_an_independent_scalar_march(
    legs: list[tuple[float, float]], q: float, nu: float, sump_level: float, last_bore: float
) -> None:
    """Plain Python with brentq at every step, written again from the sources: 1 mm on every grade line
    (the array march interpolates between tabulated fills)."""
    from physics import scalar_march

    legs = [(0.1 * fall, length) for fall, length in legs]
    # mild slopes only: the other march knows no rapid flow
    assume(
        all(f / n < 0.9 * scalar_march.critical_slope(q, d, nu) for f, n in legs for d in (0.0143, last_bore))
    )
    heights, lengths, bores = [], [], []
    total = sum(min(fall, 0.95 * length) for fall, length in legs)
    for k, (fall, length) in enumerate(legs):
        drop = min(fall, 0.95 * length)
        pieces = max(int(length / 0.012), 1)
        for j in range(pieces):
            heights.append(total - drop * j / pieces)
            lengths.append(length / pieces)
            bores.append(last_bore if k == len(legs) - 1 else 0.0143)
        total -= drop
    heights.append(total)
    run = drain.Run(np.array(heights)[:, None], np.array(lengths), np.array(bores))
    mine = drain.march(run, [q], [nu], [G], [sump_level]).grade_line_m[:, 0]
    other = scalar_march.march(heights, lengths, bores, q, nu, sump_level)
    assert mine == pytest.approx(other, abs=1e-3)


def test_froth_climbs_with_its_own_weight() -> None:
    """A full vertical pipe: head lost per length is 128 nu Q/(pi g D⁴) whatever the slope (exact)."""
    run = drain.Run(np.linspace(0.5, 0.0, 41)[:, None], np.full(40, 0.0125), np.full(40, 0.012))
    result = drain.march(run, [9e-5], [6e-5], [G], [0.7])
    per_metre = 128 * 6e-5 * 9e-5 / (np.pi * G * 0.012**4)
    v = 9e-5 / (np.pi / 4 * 0.012**2)
    assert result.grade_line_m[0, 0] == pytest.approx(0.7 + v * v / (2 * G) + 0.5 * per_metre, rel=1e-9)
    assert result.full.all()


@given(st.floats(1e-6, 2e-4), st.floats(0.012, 0.025))
def test_pond_over_the_flange_grows_with_flow_and_shrinks_with_bore(q: float, bore: float) -> None:
    """Monotone, and never less than the orifice or the weir alone (HEC-22 takes the larger)."""
    pond = drain.flange_pond(q, bore, G)
    assert drain.flange_pond(1.1 * q, bore, G) > pond
    assert drain.flange_pond(q, 1.1 * bore, G) < pond
    assert pond >= (q / (1.66 * np.pi * bore)) ** (2 / 3) * (1 - 1e-9)


@pytest.mark.parametrize("conditions", [1, 3, 17])
def test_conditions_march_independently(conditions: int) -> None:
    """Many conditions at once give what each gives alone (exact to rounding)."""
    rng = np.random.default_rng(3)
    q, s = rng.uniform(1e-5, 6e-5, conditions), rng.uniform(-0.2, 0.2, conditions)
    many = drain.march(straight(0.25, 0.5, 0.0143, conditions=conditions), q, [3e-5], [G], s)
    for k in range(conditions):
        alone = drain.march(straight(0.25, 0.5, 0.0143), q[k : k + 1], [3e-5], [G], s[k : k + 1])
        assert alone.grade_line_m[:, 0] == pytest.approx(many.grade_line_m[:, k], abs=1e-12)
        assert alone.housing_level_m[0] == pytest.approx(float(many.housing_level_m[k]), abs=1e-12)


def test_two_boxes_side_by_side_are_one_pan() -> None:
    """Cutting a box in two changes nothing (same columns' total; 0.1 mm)."""
    up = np.stack([attitude.effective_up(0.3, -0.2)[0], attitude.effective_up(-0.4, 0.1)[0]])
    whole = sump.columns_of_boxes([[0.0, -0.1, -0.1]], [[0.4, 0.2, 0.1]])
    halves = sump.columns_of_boxes([[0.0, -0.1, -0.1], [0.2, -0.1, -0.1]], [[0.2, 0.2, 0.1]] * 2)
    assert sump.level(whole, up, 0.004) == pytest.approx(sump.level(halves, up, 0.004), abs=1e-4)


def test_a_deep_sump_fills_before_its_tray() -> None:
    """A 100 x 100 mm well 60 mm deep under a tray: 0.3 L stands 30 mm deep in the well (hand calculation)."""
    pan = sump.columns_of_boxes(
        [[0.0, -0.05, -0.16], [0.1, -0.05, -0.10]], [[0.1, 0.1, 0.16], [0.3, 0.1, 0.10]]
    )
    upright = np.array([[0.0, 0.0, 1.0]])
    assert sump.level(pan, upright, 0.0003)[0] == pytest.approx(-0.13, abs=1e-6)
    assert sump.level(pan, upright, 0.0006 + 0.0004)[0] == pytest.approx(-0.09, abs=1e-5)


def test_baffles_hold_oil_back_and_then_let_it_through() -> None:
    """A pan halved by a baffle in a steady 0.3 g corner. At once: each half keeps its oil about its own middle
    (closed form: level at the half's middle = rest depth). In the end: one plane through the whole pan's middle.
    The level nears it as (1 - t/T)², T from two tanks joined by a drowned orifice (hydraulics handbook)."""
    pan = sump.columns_of_boxes([[0.0, -0.2, 0.0]], [[0.3, 0.4, 0.2]], 40)
    up, g = attitude.effective_up([0.0], [0.3])
    region = sump.regions(pan, ((1, 0.0),))
    right = int(region[np.argmin(pan.foot_m[:, 1])])
    volume = 0.3 * 0.4 * 0.08

    def at(seconds: float) -> float:
        found = sump.baffled_level(pan, region, right, 2e-3, up, [volume], [seconds], g)
        return float(found[0])

    # height of a plane through (y, z): up . p; middles are y = -0.1 (right half) and 0 (whole pan)
    alone = float(up[0] @ [0.0, -0.1, 0.08])
    common = float(up[0] @ [0.0, 0.0, 0.08])
    assert at(0.0) == pytest.approx(alone, abs=2e-4)
    assert at(np.inf) == pytest.approx(common, abs=2e-4)
    whole = float(sump.equalise_seconds(0.06, 0.06, common - alone, 2e-3, g)[0])
    assert at(0.5 * whole) == pytest.approx(common + 0.25 * (alone - common), abs=3e-4)
    assert at(2.0 * whole) == pytest.approx(common, abs=2e-4)


def test_equalising_two_tanks_by_integration() -> None:
    """The closed form against stepping the two tanks' balance in time."""
    a1, a2, opening, g = 0.05, 0.03, 1.5e-3, 9.81
    difference, t, dt = 0.04, 0.0, 1e-4
    while difference > 1e-9:
        flow = sump.BAFFLE_COEFFICIENT * opening * np.sqrt(2 * g * difference)
        difference -= flow * dt * (1 / a1 + 1 / a2)
        t += dt
    assert t == pytest.approx(float(sump.equalise_seconds(a1, a2, 0.04, opening, g)), rel=2e-3)


def test_two_streams_in_one_drain() -> None:
    """Below a tee the pipe carries both flows: with one piece's length beyond it, the drop there is that of the
    sum; above, that of one alone. Full pipe, so by Hagen-Poiseuille."""
    n = 21
    centre = np.full((n, 1), 0.0)
    stream = np.array([0] * 10 + [1] * 10)
    run = drain.Run(centre, np.full(n - 1, 0.01), np.full(n - 1, 0.012), stream)
    q, nu = np.array([[2e-5], [5e-5]]), np.full((2, 1), 25e-6)
    water = drain.march(run, q, nu, [9.81], [0.2])
    slope = [128 * 25e-6 * v / (np.pi * 0.012**4 * 9.81) for v in (2e-5, 5e-5)]
    drops = water.grade_line_m[:-1, 0] - water.grade_line_m[1:, 0]
    assert drops[:10] == pytest.approx(np.full(10, slope[0] * 0.01), rel=1e-6)
    assert drops[10:] == pytest.approx(np.full(10, slope[1] * 0.01), rel=1e-6)


def test_a_seal_below_is_not_lifted_twice() -> None:
    """A drain that joins a sealed one takes its level as it is: crankcase lift is already in it."""
    centre = np.linspace(0.2, 0.0, 11)[:, None]
    run = drain.Run(centre, np.full(10, 0.05), np.full(10, 0.014))
    plain = drain.march(run, [3e-5], [27e-6], [9.81], [0.05], [0.1])
    again = drain.march(run, [3e-5], [27e-6], [9.81], [0.15], [0.1], [True])
    assert float(again.grade_line_m[-1, 0]) == pytest.approx(float(plain.grade_line_m[-1, 0]))


def test_froth_stands_higher_than_the_oil_outside() -> None:
    """A U of two liquids: over a drowned mouth 30 mm deep, froth of 6/10 the density stands 50 mm (hydrostatics)."""
    run = straight(0.2, 0.4, 0.014)
    water = drain.march(run, [0.0], [30e-6], [G], [0.03], outside=[1.0 / 0.6])
    assert water.grade_line_m[-1, 0] == pytest.approx(0.05, abs=1e-9)
    assert water.grade_line_m[20, 0] == pytest.approx(max(0.05, run.centre_m[20, 0]), abs=0.008)
    just = [
        drain.march(run, [0.0], [3e-5], [G], [s], outside=[1.5]).grade_line_m[-1, 0] for s in (-1e-9, 1e-9)
    ]
    assert just[0] == pytest.approx(just[1], abs=1e-6)


def test_a_full_drain_loses_what_its_elbow_and_its_bend_cost() -> None:
    """Drowned and level, by hand: friction of the straight pipe, Hooper's K V²/2g (fluids), White's ratio on the bend."""
    q, nu, bore = 3e-5, 30e-6, 0.0143
    v = q / (np.pi / 4 * bore**2)
    plain = straight(0.0, 0.4, bore)
    per_metre = 128 * nu * q / (np.pi * bore**4 * G)
    arc = np.zeros(40)
    arc[10:20] = 0.01
    bent = replace(plain, arc_m=arc, bend_radius_m=np.where(arc > 0, 0.06, np.inf))
    elbow = replace(plain, fittings=np.array([[800.0], [0.4]]) * (np.arange(40) == 5))
    level, with_bend, with_elbow = (
        float(drain.march(r, [q], [nu], [G], [0.05]).grade_line_m[0, 0]) for r in (plain, bent, elbow)
    )
    k = fluids.fittings.Hooper2K(Di=bore / 0.0254, Re=v * bore / nu, K1=800.0, Kinfty=0.4)
    assert with_elbow - level == pytest.approx(k * v * v / (2 * G), rel=1e-6)
    more = fluids.friction.helical_laminar_fd_White(Re=v * bore / nu, Di=bore, Dc=0.12) / (
        64 * nu / (v * bore)
    )
    assert with_bend - level == pytest.approx((more - 1.0) * per_metre * 0.1, rel=1e-6)


def test_boxes_that_overlap_are_one_pan() -> None:
    """A 400 x 300 x 60 mm pan with a 100 x 300 well 70 mm deeper drawn right through it: litres by hand, not twice."""
    shallow, well = [0.0, 0.0, -0.06], [0.0, 0.0, -0.13]
    pan = sump.columns_of_boxes([shallow, well], [[0.4, 0.3, 0.06], [0.1, 0.3, 0.13]])
    assert pan.area_m2.sum() == pytest.approx(0.4 * 0.3)
    upright = np.array([[0.0, 0.0, 1.0]])
    for level in (-0.10, -0.06, -0.02):
        litres = 0.1 * 0.3 * (level + 0.13) + 0.3 * 0.3 * max(level + 0.06, 0.0)
        assert float(sump.level(pan, upright, [litres])[0]) == pytest.approx(level, abs=2e-5)
    beneath = sump.columns_of_boxes(
        [shallow, well], [[0.4, 0.3, 0.06], [0.1, 0.3, 0.07]]
    )  # the well only below
    assert float(sump.level(beneath, upright, [0.1 * 0.3 * 0.11 + 0.3 * 0.3 * 0.04])[0]) == pytest.approx(
        -0.02, abs=2e-5
    )
    side_by_side = sump.columns_of_boxes([[0.0, 0.0, -0.1], [0.2, 0.0, -0.1]], [[0.2, 0.3, 0.1]] * 2)
    assert len(side_by_side.area_m2) == 2 * sump.COLUMNS_PER_SIDE**2


@pytest.mark.parametrize("share", [0.05, 0.4, 0.8, 0.97])
def test_a_cavity_fills_slower_the_nearer_its_pond(share: float) -> None:
    """Straight walls, outflow by the weir law: stepped through time until the level is there (solve_ivp), 0.2 %."""
    there = lambda t, h: h[0] - share  # noqa: E731
    there.terminal = True  # type: ignore[attr-defined]
    filled = solve_ivp(
        lambda t, h: [1.0 - h[0] ** 1.5], (0.0, 50.0), [0.0], events=there, rtol=1e-9, atol=1e-12
    )
    assert float(drain.filling_slowed(share)) * share == pytest.approx(filled.t[-1], rel=2e-3)
