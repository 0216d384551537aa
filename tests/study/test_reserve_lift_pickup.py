# SPDX-License-Identifier: GPL-3.0-or-later
"""Reserve, throttle let go, pickup: each against another way to the same answer."""

import numpy as np
import pytest
from scipy.optimize import brentq

from gravidon.physics import attitude, drain
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.fields import Known
from gravidon.plan.model import PanBox, Plan, Point
from gravidon.study.solve.evaluate import Evaluation, evaluate
from gravidon.study.solve.lift_off import BLOW_BY_SHARE, lift_off
from gravidon.study.solve.pickup import pickup_cover
from gravidon.study.solve.reserve import RESERVES, reserve


def fed() -> Plan:
    """The estate with oil enough: its drain is at work, and its crankcase pressure is as typed."""
    plan = paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 2.2)
    return paths.put(plan, "breather.kind", "typed")


def freeboard_at(e: Evaluation, i: int, scale: float) -> float:
    """One condition's freeboard [m] with the oil of its bearing times `scale`, marched alone."""
    d, route = e.drainage, e.route
    run = route.run(attitude.height(d.up[i : i + 1], route.stations_m))
    water = drain.march(
        run,
        [scale * e.feed.flow_m3_s[i] / (1.0 - e.plan.conditions[i].air_fraction)],
        [d.froth.viscosity_pa_s[i] / d.froth.density_kg_m3[i]],
        [d.gravity_m_s2[i]],
        [d.sump_level_m[i]],
        [d.backwater.lift_m[i] if d.backwater.sealed[i] else 0.0],
        outside=[d.carries.outside[i]],
    )
    return float(d.seal_level_m[i] - water.housing_level_m[0])


def test_reserve_is_the_flow_at_which_the_seal_just_wets() -> None:
    """By brentq on the flow of one condition alone (the product marches several flows at once, twice; freeboard steps where the line closes): 2 %."""
    e = evaluate(fed())
    told = reserve(e)
    checked = 0
    for i, r in enumerate(told):
        if not RESERVES[0] < r < RESERVES[-1]:
            continue
        wets = brentq(lambda scale, i=i: freeboard_at(e, i, scale), 0.2, 9.0, xtol=1e-3)
        assert r == pytest.approx(wets, rel=0.02), e.names[i]
        checked += 1
    assert checked >= 4


def test_reserve_tells_wet_from_dry_and_has_nothing_to_tell_of_a_stopped_engine() -> None:
    e = evaluate(fed())
    told, flows = reserve(e), e.feed.flow_m3_s > 0.0
    assert np.isnan(told[~flows]).all()
    assert ((told[flows] >= 1.0) == (e.drainage.freeboard_m[flows] >= 0.0)).all()


def test_throttle_let_go_is_the_plan_with_overrun_pressures_typed_in() -> None:
    """The same corner typed as a condition of its own: wheels' side and crankcase as on overrun, all else left; 1 um."""
    plan = fed()
    told = lift_off(evaluate(plan))
    typed = tuple(
        c.model_copy(
            update={
                "wheel_side_kpa": plan.engine.overrun_kpa.value,
                "crankcase_kpa": c.crankcase_kpa * BLOW_BY_SHARE / max(c.blow_by_share, BLOW_BY_SHARE),
            }
        )
        for c in plan.conditions
    )
    other = evaluate(plan.model_copy(update={"conditions": typed})).drainage.freeboard_m
    hard = np.isfinite(told.freeboard_m)
    names = {c.name for c, it in zip(plan.conditions, hard, strict=True) if it}
    assert names == {"braking", "cruise", "full load", "hard left", "hard right"}
    assert told.freeboard_m[hard] == pytest.approx(other[hard], abs=1e-6)


@pytest.mark.parametrize("fill", [5.0, 7.0])
def test_oil_over_the_pickup_of_one_box(fill: float) -> None:
    """Level, still or running: oil over floor area, less the pickup's height, whatever the windage stands for; exact. In a corner
    about a pickup in the middle of a box whose floor stays covered: the same along the leaning gravity (a plane keeps its height
    over the centroid; exact)."""
    plan = fed()
    box = PanBox(
        corner=Point(x_mm=-400.0, y_mm=-150.0, z_mm=-160.0), length_mm=400.0, width_mm=300.0, depth_mm=160.0
    )
    pickup = Point(x_mm=-200.0, y_mm=0.0, z_mm=-150.0)
    sump = plan.sump.model_copy(
        update={"boxes": (box,), "baffles": (), "pickup": pickup, "fill_l": Known(value=fill)}
    )
    plan = plan.model_copy(update={"sump": sump})
    told = pickup_cover(evaluate(plan))
    for c, cover in zip(plan.conditions, told, strict=True):
        depth = (fill - c.oil_up_l) * 1e-3 / (0.4 * 0.3)
        lean = np.hypot(c.forward_g, c.left_g)
        if c.nose_up_deg == 0.0 and lean < 0.25:
            assert cover == pytest.approx((depth - 0.010) / np.hypot(1.0, lean), abs=5e-4), c.name
