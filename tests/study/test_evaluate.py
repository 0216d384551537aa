# SPDX-License-Identifier: GPL-3.0-or-later
"""The whole plan: against an independent solution, and properties that must hold for any plan."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gravidon.parts import turbos
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.fields import Known, si
from gravidon.plan.model import Plan
from gravidon.study.solve import assemble
from gravidon.study.solve.evaluate import evaluate
from physics import scalar_feed


def scalar_points(plan: Plan) -> list[scalar_feed.Point]:
    """The plan's conditions as the independent scalar solver takes them: one hose, fittings of its bore,
    tap pressure as the draw leaves it."""
    e = evaluate(plan)
    it = plan.turbos[0]
    ref = assemble.bearing_reference(it)
    (pipe,) = assemble.pipes_of(it.feed.pieces)
    return [
        scalar_feed.Point(
            si(plan.oil, "v40_mm2_s"),
            si(plan.oil, "v100_mm2_s"),
            si(plan.oil, "density_15_kg_m3"),
            float(e.supply.tap_pa[i]),
            si(c, "oil_temperature_c"),
            2000.0
            * c.load,  # a medium journal unit on oil alone: 2 kW at full load; common practice, no source
            float(pipe.bore_m),
            float(pipe.length_m),
            float(pipe.k1),
            float(pipe.k_infinity),
            si(it.restrictor, "bore_mm") if it.restrictor.fitted else None,
            si(it.restrictor, "length_mm"),
            float(ref.drop_pa),
            float(ref.flow_m3_s),
            ref.density_kg_m3,
            ref.viscosity_pa_s,
            turbos.BEARINGS[it.turbo.bearing].film_share,
            # 1350 J/K of a medium housing, judged 10 s after the engine fires; common practice, no source
            135.0 if c.regime == "cold" else 0.0,
        )
        for i, c in enumerate(plan.conditions)
        if c.rpm > 0
    ]


@pytest.mark.parametrize("bore", [0.76, 1.5, 2.2, None])
def test_demo_agrees_with_brentq_and_fluids(bore: float | None) -> None:
    """Independent scalar loop (scipy brentq around the fluids library): 0.1 % in every condition."""
    plan = demo_plan()
    one_bore = tuple(p.model_copy(update={"bore_mm": 5.56}) for p in plan.turbos[0].feed.pieces)
    plan = paths.put(plan, "turbos.0.feed.pieces", one_bore)
    plan = paths.put(plan, "turbos.0.restrictor.fitted", bore is not None)
    plan = paths.put(plan, "turbos.0.restrictor.bore_mm", bore or 1.0)
    e = evaluate(plan)
    running = np.array([c.rpm > 0 for c in plan.conditions])
    expected = np.array([scalar_feed.solve(p) for p in scalar_points(plan)])
    assert e.feed.flow_m3_s[running] == pytest.approx(expected[:, 0], rel=1e-3)
    assert e.feed.inlet_pressure_pa[running] == pytest.approx(expected[:, 1], rel=1e-3)
    assert e.feed.outlet_temperature_k[running] == pytest.approx(expected[:, 2], rel=1e-3)


def test_demo_fails_as_its_story_says() -> None:
    """The invented first plan: a ball-bearing restrictor on a journal turbo leaves a few psi and cooks
    the oil at full load (common practice, no source: below 8 psi, above 150 °C)."""
    e = evaluate(demo_plan())
    i = e.names.index("full load")
    assert e.feed.inlet_pressure_pa[i] < 8 * 6894.76
    assert e.feed.outlet_temperature_k[i] > 423.15
    assert e.drainage.submergence_m[e.names.index("hard left")] > 0


def mirrored(plan: Plan) -> Plan:
    """The same car seen in a mirror: left and right change places."""
    data = plan.model_dump()
    for place in (
        data["turbos"][0]["turbo"]["drain_flange"],
        data["turbos"][0]["drain"]["entry"],
        *data["turbos"][0]["drain"]["points"],
    ):
        place["y_mm"] = -place["y_mm"]
    for box in data["sump"]["boxes"]:
        box["corner"]["y_mm"] = -box["corner"]["y_mm"] - box["width_mm"]
    data["turbos"][0]["drain"]["fitting"]["heading_deg"] = -data["turbos"][0]["drain"]["fitting"][
        "heading_deg"
    ]
    data["turbos"][0]["turbo"]["shaft_heading_deg"] = -data["turbos"][0]["turbo"]["shaft_heading_deg"]
    for condition in data["conditions"]:
        condition["left_g"] = -condition["left_g"]
        condition["left_side_up_deg"] = -condition["left_side_up_deg"]
    return Plan.model_validate(data)


@settings(max_examples=15)
@given(st.floats(-60, 60), st.floats(-0.6, 0.6), st.floats(-10, 10))
def test_left_and_right_are_mirror_images(heading: float, left_g: float, bank: float) -> None:
    """Mirroring car and forces changes nothing (exact symmetry; the level solver allows 0.1 mm)."""
    plan = paths.put(demo_plan(), "turbos.0.turbo.shaft_heading_deg", heading)
    plan = paths.put(plan, "conditions.6.left_g", left_g)
    plan = paths.put(plan, "conditions.6.left_side_up_deg", bank)
    one, other = evaluate(plan), evaluate(mirrored(plan))
    assert one.drainage.freeboard_m == pytest.approx(other.drainage.freeboard_m, abs=1e-4)
    assert one.drainage.submergence_m == pytest.approx(other.drainage.submergence_m, abs=1e-4)


@settings(max_examples=20)
@given(st.floats(2.0, 9.0), st.floats(0.05, 3.0))
def test_more_oil_in_the_pan_never_gains_freeboard(fill: float, more: float) -> None:
    plan = paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 2.2)
    low, high = (evaluate(paths.put(plan, "sump.fill_l", f)) for f in (fill, fill + more))
    assert (high.drainage.sump_level_m >= low.drainage.sump_level_m - 1e-5).all()
    assert (high.drainage.freeboard_m <= low.drainage.freeboard_m + 1e-4).all()


@settings(max_examples=15)
@given(st.floats(-200, 200), st.floats(-100, 100), st.floats(-50, 100))
def test_moving_the_whole_car_changes_nothing(x: float, y: float, z: float) -> None:
    """Only relative positions matter: shifting turbo, drain and pan together is no change (1e-5 m)."""
    plan = demo_plan()
    data = plan.model_dump()
    places = [
        data["turbos"][0]["turbo"]["drain_flange"],
        data["turbos"][0]["drain"]["entry"],
        *data["turbos"][0]["drain"]["points"],
    ]
    places += [box["corner"] for box in data["sump"]["boxes"]]
    for place in places:
        for key, by in (("x_mm", x), ("y_mm", y), ("z_mm", z)):
            place[key] += by
    moved = evaluate(Plan.model_validate(data))
    assert moved.drainage.freeboard_m == pytest.approx(evaluate(plan).drainage.freeboard_m, abs=1e-5)


def test_a_condition_alone_gives_what_it_gives_among_others() -> None:
    """Conditions do not leak into each other: evaluating them one at a time changes nothing (1e-6)."""
    plan = demo_plan()
    whole = evaluate(plan)
    for i, condition in enumerate(plan.conditions):
        alone = evaluate(plan.model_copy(update={"conditions": (condition,)}))
        assert alone.feed.flow_m3_s[0] == pytest.approx(whole.feed.flow_m3_s[i], rel=1e-5, abs=1e-12)
        assert alone.drainage.freeboard_m[0] == pytest.approx(whole.drainage.freeboard_m[i], abs=1e-6)


def test_key_off_is_hydrostatics() -> None:
    """Engine off: no flow, and oil in the drain stands level with the pan: of 5.2 L the deep box
    (230 x 256 x 82 mm up to the tray's floor) holds 4.83 L; the rest stands over both boxes, 420 x 256 mm
    (hand calculation; columns keep it to 0.1 mm)."""
    e = evaluate(demo_plan())
    i = e.names.index("key-off")
    assert e.feed.flow_m3_s[i] == 0.0
    assert e.drainage.sump_level_m[i] == pytest.approx(
        -0.068 + (0.0052 - 0.23 * 0.256 * 0.082) / (0.42 * 0.256), abs=1e-4
    )


numbers = st.floats(-1e4, 1e4, allow_nan=False)
PATHS = [p for p, _, _ in paths.walk_known(demo_plan())] + [
    "turbos.0.restrictor.bore_mm",
    "turbos.0.feed.pieces.1.bore_mm",
    "turbos.0.drain.hose_bore_mm",
    "turbos.0.drain.flange_bore_mm",
    "turbos.0.drain.fitting.bore_mm",
    "turbos.0.drain.fitting.rise_deg",
    "turbos.0.drain.fitting.heading_deg",
    "turbos.0.drain.entry.z_mm",
    "turbos.0.turbo.drain_flange.z_mm",
    "turbos.0.turbo.drain_flange.y_mm",
    "turbos.0.drain.points.0.z_mm",
    "sump.boxes.0.depth_mm",
    "conditions.3.oil_temperature_c",
    "conditions.3.heat_kw",
    "conditions.3.load",
    "conditions.3.air_fraction",
    "conditions.3.left_g",
    "conditions.3.forward_g",
    "conditions.1.nose_up_deg",
    "conditions.2.oil_up_l",
    "engine.readings.0.pressure_kpa",
    "engine.readings.1.rpm",
    "engine.readings.2.oil_temperature_c",
]


@settings(max_examples=60)
@given(
    st.sampled_from(["estate", "van"]),
    st.lists(st.tuples(st.sampled_from(PATHS), st.floats(0.0, 1.0)), min_size=1, max_size=6),
)
def test_no_plan_within_bounds_crashes_or_gives_nan(name: str, changes: list[tuple[str, float]]) -> None:
    """Any combination of values that the fields accept evaluates to finite numbers, findings and taps too."""
    from gravidon.errors import InputError
    from gravidon.study.supply.tap_choice import compare_taps
    from gravidon.study.verdict.certainty import outcome
    from gravidon.study.verdict.findings import find

    plan = demo_plan(name)
    for path, share in changes:
        try:
            spec = paths.spec_at(plan, path)
        except (KeyError, AttributeError, IndexError):
            continue  # the other demo has no such place
        value = spec.low + share * (spec.high - spec.low)
        old = paths.get(plan, path)
        try:
            plan = paths.put(plan, path, Known(value=value) if isinstance(old, Known) else value)
        except InputError:
            continue  # two fields that exclude each other: refused with a message, which is the point
    try:
        e = evaluate(plan)
    except InputError:
        return  # a car that would lie on its side: refused with a message as well
    for values in (
        e.feed.flow_m3_s,
        e.feed.inlet_pressure_pa,
        e.feed.outlet_temperature_k,
        e.drainage.freeboard_m,
        e.drainage.worst_fill,
        e.drainage.submergence_m,
        e.drainage.backwater.grade_line_m,
    ):
        assert np.isfinite(values).all()
    assert (e.feed.flow_m3_s >= 0).all()
    assert all(np.isfinite(f.margin) and "nan" not in f.text("metric").split() for f in find(e))
    assert all(np.isfinite(c.margin) for c in compare_taps(plan))
    assert np.isfinite(outcome(plan).margin)
    assert ((e.drainage.open_area >= -1e-9) & (e.drainage.open_area <= 1)).all()
