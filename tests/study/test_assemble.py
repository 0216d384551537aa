# SPDX-License-Identifier: GPL-3.0-or-later
"""From the plan's words to arrays."""

import numpy as np
import pytest

from gravidon.parts.turbos import BEARINGS, COOLINGS, HOUSINGS
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.fields import Known, si
from gravidon.plan.model import Fitting, Hose, ScreenPiece
from gravidon.study.solve import assemble, drain_route

PLAN = demo_plan()
LINE = PLAN.turbos[0]


def test_route_stations_follow_the_corners() -> None:
    """Pieces of a hose that does not sag sum to the polyline's length; flange first, entry last."""
    stiff = paths.put(PLAN, "turbos.0.drain.sag_mm", 0.0)
    route = drain_route.route(stiff, stiff.turbos[0])
    whole = float(np.linalg.norm(np.diff(route.corners_m, axis=0), axis=1).sum())
    assert route.length_m.sum() == pytest.approx(whole, rel=1e-6)
    assert route.stations_m[0] * 1e3 == pytest.approx([-300, -262, 112])
    assert route.stations_m[-1] * 1e3 == pytest.approx([-270, -128, -42])
    assert len(route.length_m) <= drain_route.MOST_PIECES + route.legs
    steps = np.linalg.norm(np.diff(route.stations_m, axis=0), axis=1)
    assert steps == pytest.approx(route.length_m, rel=1e-9)


def test_bores_stand_where_the_pieces_are() -> None:
    route = drain_route.route(PLAN, LINE)
    assert route.bore_m[0] == pytest.approx(12.29e-3)
    assert route.bore_m[-1] == pytest.approx(10.5e-3)
    middle = route.bore_m[(route.leg > 0) & (route.leg < route.legs - 1)]
    # 38 mm and 42 mm of it are hose ends of 12.29 mm, as the demo's own list says
    assert set(np.round(middle * 1e3, 2)) == {12.29, round(LINE.drain.hose_bore_mm, 2)}
    ends = route.length_m[np.isclose(route.bore_m, 12.29e-3) & (route.leg > 0)].sum()
    assert ends == pytest.approx(0.080, abs=1e-3)


def test_a_bend_on_top_of_the_flange_is_no_trouble() -> None:
    """Two equal corners make no leg of zero length."""
    stub = LINE.turbo.drain_flange.model_copy(update={"z_mm": LINE.turbo.drain_flange.z_mm - 32.0})
    plan = paths.put(PLAN, "turbos.0.drain.points", (stub, stub))
    route = drain_route.route(plan, plan.turbos[0])
    assert (route.length_m > 0).all()


def test_the_fitting_points_out_and_up() -> None:
    """Heading -90° is to the car's right (ISO 8855: y left), rise 12° is up."""
    axis = drain_route.fitting_axis(LINE)
    assert axis == pytest.approx([0.0, -np.cos(np.radians(12)), np.sin(np.radians(12))], abs=1e-12)


def test_neighbours_of_one_bore_are_joined() -> None:
    """A tee branch, a hose and two ends of one bore are one pipe with Hooper's constants summed:
    500 + 500 + 800 and 0.70 + 0.20 + 0.40 (Hooper 1981)."""
    alike = tuple(p.model_copy(update={"bore_mm": 5.56}) for p in LINE.feed.pieces)
    (pipe,) = assemble.pipes_of(alike)
    assert float(pipe.length_m) == pytest.approx(1.15)
    assert float(pipe.k1) == pytest.approx(1800.0)
    assert float(pipe.k_infinity) == pytest.approx(1.30)


def test_other_bores_stay_apart_and_screens_are_no_pipe() -> None:
    screen = ScreenPiece(rated_drop_kpa=Known(value=6.0), rated_flow_l_min=Known(value=3.0), clogged=0.5)
    chain = (
        Hose(bore_mm=5.0, length_mm=Known(value=100.0)),
        screen,
        Fitting(shape="straight", bore_mm=5.0),
        Hose(bore_mm=3.0, length_mm=Known(value=100.0)),
    )
    assert [float(p.bore_m) for p in assemble.pipes_of(chain)] == [5e-3, 3e-3]
    found = assemble.screen_of(chain)
    assert found is not None
    # resistance 6 kPa per 3 L/min, doubled by the clogging
    assert float(found.rated_drop_pa) == pytest.approx(2 * 6e3 / (3e-3 / 60))
    assert assemble.screen_of(chain[:1]) is None


def test_two_screens_in_series_add_up() -> None:
    one = ScreenPiece(rated_drop_kpa=Known(value=6.0), rated_flow_l_min=Known(value=3.0))
    single, double = assemble.screen_of((one,)), assemble.screen_of((one, one))
    assert single is not None
    assert double is not None
    assert float(double.rated_drop_pa) == pytest.approx(2 * float(single.rated_drop_pa))


@pytest.mark.parametrize(
    ("name", "low_kpa", "high_kpa"),
    [("hot idle", 55.2, 517.1), ("full load", 172.4, 517.1), ("cold start", 55.2, 655.0)],
)
def test_windows_by_regime(name: str, low_kpa: float, high_kpa: float) -> None:
    """8 and 25 psi least, 75 psi most, 95 psi cold (common practice, no source), in Pa."""
    condition = PLAN.conditions[assemble.condition_index(PLAN, name)]
    assert assemble.window_bounds(LINE, condition) == pytest.approx((low_kpa * 1e3, high_kpa * 1e3))


def test_engine_off_has_no_window() -> None:
    off = PLAN.conditions[assemble.condition_index(PLAN, "key-off")]
    assert assemble.window_bounds(LINE, off) == (-np.inf, np.inf)
    with pytest.raises(KeyError):
        assemble.condition_index(PLAN, "no such condition")


def test_seals_lie_on_the_shaft() -> None:
    """62 mm apart along the heading, 46 mm above the flange."""
    turned = paths.put(PLAN, "turbos.0.turbo.shaft_heading_deg", 90.0).turbos[0]
    seals, axis = drain_route.seal_centres(turned)
    assert axis == pytest.approx([0.0, 1.0, 0.0], abs=1e-12)
    assert np.linalg.norm(seals[1] - seals[0]) == pytest.approx(0.062)
    assert seals[:, 2] == pytest.approx(0.112 + 0.046)


def test_units_become_si_once() -> None:
    """The only border: file units by the field's own Spec."""
    assert si(PLAN.engine, "relief_kpa") == pytest.approx(490e3)
    assert si(PLAN.conditions[1], "oil_temperature_c") == pytest.approx(373.15)
    assert si(PLAN.conditions[1], "rpm") == pytest.approx(850 / 60)
    assert si(PLAN.engine, "pump_cc_rev") == pytest.approx(11e-6)
    assert si(LINE.turbo, "reference_flow_l_min") == pytest.approx(2.2e-3 / 60)
    assert si(LINE.drain.fitting, "rise_deg") == pytest.approx(np.radians(12))


def test_what_is_kept_of_the_pressure_side_knows_every_field_of_a_turbo() -> None:
    """Whatever field of a turbo is changed, the kept answer equals one solved afresh."""
    plan = demo_plan()
    assemble.supply_of(plan)
    turbo = plan.turbos[0].turbo
    changes = {
        "bearing": next(b for b in BEARINGS if b != turbo.bearing),
        "frame": next(h for h in HOUSINGS if h != turbo.frame),
        "cooling": next(c for c in COOLINGS if c != turbo.cooling),
        **{
            name: value.model_copy(update={"value": value.value * 1.1 + 0.01})
            for name, value in turbo
            if isinstance(value, Known)
        },
    }
    for name, value in changes.items():
        changed = plan.model_copy(
            update={
                "turbos": (
                    plan.turbos[0].model_copy(update={"turbo": turbo.model_copy(update={name: value})}),
                )
            }
        )
        kept, _ = assemble.supply_of(changed)
        afresh, network = assemble.solve_supply(changed, assemble.source_fit(changed))
        assert np.array_equal(kept.tap_pa, afresh.tap_pa), name
        again = assemble.supply_of(changed)[1]
        assert np.array_equal(again.branches[0].flow_m3_s, network.branches[0].flow_m3_s), name


def test_body_roll_is_the_bank_typed_in() -> None:
    """4 degrees a g in a 0.6 g left turn, 2 a g under 0.5 g of braking: the same as that bank and grade typed, the left side
    up out of a left turn and the nose down under brakes; a sensor on the body feels it already."""
    stiff = paths.put(paths.put(PLAN, "engine.roll_deg_g", 0.0), "engine.lift_deg_g", 0.0)
    plan = paths.put(PLAN, "engine.roll_deg_g", Known(value=4.0))
    plan = paths.put(plan, "engine.lift_deg_g", Known(value=2.0))
    for forward, left in ((0.0, 0.6), (-0.5, 0.0)):
        rolled = assemble.felt_up(plan, forward, left)[0]
        typed = assemble.felt_up(stiff, forward, left, np.radians(2.0 * forward), np.radians(4.0 * left))[0]
        assert rolled == pytest.approx(typed, abs=1e-12)
        assert assemble.felt_up(plan, forward, left, fixed_to_body=True)[0] == pytest.approx(
            assemble.felt_up(stiff, forward, left)[0]
        )
    out_of_the_turn = assemble.felt_up(plan, 0.0, 0.6)[0]
    assert out_of_the_turn[1] > assemble.felt_up(stiff, 0.0, 0.6)[0][1]
