# SPDX-License-Identifier: GPL-3.0-or-later
"""Every finding of seat, run, entry, breather and pump: there when provoked, gone by a remedy that was evaluated."""

import pytest

from gravidon.plan import model, paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.fields import Known
from gravidon.plan.model import Plan, Point
from gravidon.plan.model_drain import Joining
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.verdict.findings import find
from gravidon.study.verdict.remedies import remedies

FED = paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 2.2)
PUMPED = demo_plan("special")
NOBODY = Known(value=0.0)


def known(value: float) -> Known:
    return Known(value=value, basis="measured")


def changed(plan: Plan, *changes: tuple[str, object]) -> Plan:
    for path, value in changes:
        plan = paths.put(plan, path, value)
    return plan


def beside(kind: str, away_mm: float) -> model.Shape:
    """A post beside the demo's second bend, on the car's rear side of it."""
    bend = FED.turbos[0].drain.points[1]
    return model.Shape.model_validate(
        {
            "label": "post",
            "kind": kind,
            "corner": Point(x_mm=bend.x_mm - away_mm - 30, y_mm=bend.y_mm - 15, z_mm=bend.z_mm - 20),
            "length_mm": 30.0,
            "width_mm": 30.0,
            "height_mm": 40.0,
        }
    )


PROVOKED: dict[str, Plan] = {
    "tilt": changed(FED, ("turbos.0.turbo.pitch_deg", known(16.0))),
    "clock": changed(FED, ("turbos.0.turbo.clock_deg", known(41.0))),
    "lying": changed(FED, ("turbos.0.turbo.pitch_deg", known(80.0))),
    "flat": changed(FED, ("turbos.0.turbo.drain_flange.z_mm", 200.0)),
    "dip": changed(
        FED,
        ("turbos.0.drain.sag_mm", known(45.0)),
        ("turbos.0.turbo.drain_flange.z_mm", 40.0),
        ("turbos.0.drain.points", ()),
        ("turbos.0.drain.entry.x_mm", -60.0),
    ),
    "bend": changed(
        FED,
        ("turbos.0.drain.points.0", Point(x_mm=-330.0, y_mm=-250.0, z_mm=30.0)),
        ("turbos.0.drain.min_bend_mm", known(140.0)),
    ),
    "drain-heat": changed(FED, ("shapes", (beside("hot", 30.0),)), ("needs.hot_mm", known(32.0))),
    "chafe": changed(FED, ("shapes", (beside("chafe", 16.0),))),
    "collides": changed(FED, ("shapes", (beside("solid", 4.0),))),
    "threads-few": FED,
    "entry-inside": changed(FED, ("turbos.0.drain.entry", Point(x_mm=-326.0, y_mm=-128.0, z_mm=-60.0))),
    "entry-bolts": changed(FED, ("turbos.0.drain.entry", Point(x_mm=-268.0, y_mm=-128.0, z_mm=-18.0))),
    "crankcase": changed(FED, ("breather.hose_bore_mm", 7.0), ("breather.blow_by_l_min", known(160.0))),
    "crankcase-lift": changed(
        demo_plan(), ("conditions.6.wheel_side_kpa", 0.0), ("conditions.6.crankcase_kpa", 1.5)
    ),
    "uphill-attitude": changed(
        FED,
        ("turbos.0.drain.entry.z_mm", -50.0),
        ("turbos.0.drain.fitting.rise_deg", 40.0),
        ("conditions.8.nose_up_deg", 0.0),
        ("conditions.8.left_side_up_deg", 30.0),
    ),
    "boost-back": PUMPED,
    "pump-weak": changed(
        PUMPED, ("turbos.0.scavenge.free_l_min", known(2.0)), ("turbos.0.scavenge.gauge_awg", 12)
    ),
    "wire-thin": PUMPED,
    "fuse": PUMPED,
    "no-relay": changed(PUMPED, ("turbos.0.scavenge.relay", False)),
    "suction": changed(PUMPED, ("turbos.0.scavenge.pump_above_pot_mm", 500.0)),
    "runs-dry": changed(PUMPED, ("turbos.0.scavenge.runs_dry", False)),
    "no-valve": changed(PUMPED, ("turbos.0.scavenge.valve", False)),
    "floods": changed(
        PUMPED, ("turbos.0.scavenge.pot_ml", known(12.0)), ("turbos.0.scavenge.run_on_s", known(0.0))
    ),
}


@pytest.mark.parametrize("code", list(PROVOKED))
def test_found_and_cured(code: str) -> None:
    """The finding names a number, a limit and a station; one of its remedies, evaluated again, removes it."""
    plan = PROVOKED[code]
    e = evaluate(plan)
    finding = next((f for f in find(e) if f.code == code), None)
    assert finding is not None, sorted({f.code for f in find(e)})
    assert finding.text("metric") != ""
    assert finding.why
    assert finding.margin < 0.0
    offered = remedies(e, finding)
    assert offered, code
    cures = [r for r in offered if r.cures]
    assert cures, [r.titles for r in offered]
    for remedy in cures:
        assert code not in {f.code for f in find(evaluate(remedy.plan))}


def test_quiet_where_all_is_well() -> None:
    """A plan without shapes, pump or valve has no finding about any of them."""
    codes = {f.code for f in find(evaluate(paths.put(FED, "shapes", ())))}
    assert not codes & {
        "drain-heat",
        "chafe",
        "collides",
        "pump-weak",
        "wire-thin",
        "fuse",
        "boost-back",
        "tilt",
        "clock",
    }


def test_a_pumped_drain_is_not_judged_by_its_unused_entry() -> None:
    codes = {f.code for f in find(evaluate(PUMPED))}
    assert not {
        c
        for c in codes
        if c.startswith(("entry-", "thread-entry", "drowned", "small-fitting", "threads-few"))
    }


def test_a_valve_to_the_intake_alone_pulls_a_vacuum() -> None:
    """A sealed crankcase on an idling intake 60 kPa down, little blow-by: bad, and cured by letting air in."""
    plan = paths.put(demo_plan(), "breather.kind", "valve to intake")
    idle = [k for k, c in enumerate(plan.conditions) if c.regime == "idle"]
    for k in idle:
        plan = paths.put(plan, f"conditions.{k}.intake_kpa", -60.0)
    e = evaluate(plan)
    found = next(f for f in find(e) if f.code == "vacuum")
    assert found.severity == "bad"
    offered = remedies(e, found)
    assert [r.titles[1] for r in offered] == ["Add an open catch can"]
    assert offered[0].cures


def test_a_sleeve_cures_a_hose_near_heat_and_one_that_rubs() -> None:
    """Three inches off a manifold is wanted bare; sleeved, an inch is widely built (common practice, no source)."""
    for kind, gap, code in (("hot", 55.0, "drain-heat"), ("chafe", 16.0, "chafe")):
        e = evaluate(paths.put(FED, "shapes", (beside(kind, gap),)))
        found = next(f for f in find(e) if f.code == code)
        sleeve = next(r for r in remedies(e, found) if r.titles[1] == "Sleeve the drain hose")
        assert sleeve.cures
        assert not any(f.code == code for f in find(evaluate(sleeve.plan)))


def test_without_a_valve_oil_runs_back_only_into_a_return_that_it_covers() -> None:
    """Engine off: a return 300 mm over the rail stays dry; one at the pan's floor lets the pan's oil back to the pot."""
    dry, covered = (
        evaluate(changed(PUMPED, ("turbos.0.scavenge.valve", False), ("turbos.0.scavenge.return_z_mm", z)))
        for z in (300.0, -110.0)
    )
    off = dry.names.index("key-off")
    assert covered.drainage.sump_level_m[off] == pytest.approx(covered.drainage.pan_level_m[off])
    assert dry.drainage.sump_level_m[off] < covered.drainage.sump_level_m[off]


def test_one_pump_takes_two_drains() -> None:
    """The second turbo's drain ends in the first one's pot: what comes to the pump is both flows, by the sum."""
    plan = paths.put(demo_plan("van"), "turbos.0.drain_by", "scavenge")
    plan = paths.put(plan, "turbos.1.drain.joins", Joining(turbo=0, bend=0))
    e = evaluate(plan)
    flows = [lens.drainage.froth.flow_m3_s for lens in e.all]
    assert e.scavenging.bulk_m3_s == pytest.approx(flows[0] + flows[1])
    assert e.of(1).route.corners_m[-1] * 1e3 == pytest.approx([-300.0, -260.0, -150.0])
    weak = evaluate(paths.put(plan, "turbos.0.scavenge.free_l_min", known(float(flows[0].max() * 6e4))))
    assert weak.scavenging.weak.any()
    assert (
        weak.of(1).drainage.freeboard_m[weak.scavenging.weak] <= 0.0
    ).any()  # the pot floods: both drains stand
