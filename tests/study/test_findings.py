# SPDX-License-Identifier: GPL-3.0-or-later
"""Findings and remedies: the demo's faults are found, and what is offered does help."""

import pytest

from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.model import Plan, Point
from gravidon.study.judge.table import judged, worst_by_condition
from gravidon.study.solve.evaluate import Evaluation, evaluate
from gravidon.study.supply.restrictor_choice import choose
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.findings import find, verdict_by_condition, verdict_word
from gravidon.study.verdict.remedies import remedies
from gravidon.study.verdict.report import report, verdict_sentence


def found(plan: Plan) -> dict[str, Finding]:
    return {f.code: f for f in find(evaluate(plan))}


def cured() -> Plan:
    """The demo with the cures a builder would take."""
    plan = demo_plan()
    for path, value in (
        ("turbos.0.restrictor.bore_mm", 2.6),
        ("taps.0.fitting_thread", "1/8 BSPT"),
        ("turbos.0.drain.fitting.bore_mm", 14.29),
        ("turbos.0.drain.fitting.port_thread", "1/2 NPT"),
        ("turbos.0.drain.fitting.fitting_thread", "1/2 NPT"),
        ("turbos.0.drain.fitting.rise_deg", 40.0),
        ("turbos.0.drain.entry.z_mm", -20.0),
        ("turbos.0.drain.points.1.z_mm", 25.0),
        ("turbos.0.drain.points.0.z_mm", 90.0),
        ("turbos.0.turbo.drain_flange.z_mm", 160.0),
    ):
        plan = paths.put(plan, path, value)
    return plan


def test_the_demos_faults_are_found() -> None:
    """Starved by the wrong restrictor, cooked, threads mixed, choke fitting, a drain smaller than is usual."""
    assert {"starved", "cooked", "thread-tap", "small-fitting", "small-drain"} <= set(found(demo_plan()))
    assert "ball bearings" in found(demo_plan())["starved"].why


def test_fixing_the_feed_uncovers_the_drain() -> None:
    """With the bearing fed, a hard left brings oil to the seal behind the choke fitting; boost holds it in."""
    wet = found(paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 2.2))["freeboard"]
    assert wet.severity == "note"
    assert "boost holds it in" in wet.text("metric")
    assert wet.condition == "hard left"
    assert wet.value < 0


def test_a_cured_plan_has_no_bad_finding() -> None:
    e = evaluate(cured())
    assert verdict_word(find(e)) != "fails", [f.text("metric") for f in find(e)]


@pytest.mark.parametrize(
    "plan",
    [
        demo_plan(),
        paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 2.2),
        demo_plan("van"),
        demo_plan("special"),
    ],
    ids=["first", "fed", "van", "special"],
)
def test_every_remedy_does_what_it_says(plan: Plan) -> None:
    """Re-evaluating the remedy's own plan: the finding is gone if it says so, never more bad findings."""
    e = evaluate(plan)
    bad_before = sum(f.severity == "bad" for f in find(e))
    offered = 0
    for finding in find(e):
        for remedy in remedies(e, finding):
            offered += 1
            after = {f.code: f for f in find(evaluate(remedy.plan))}
            left = after.get(finding.code)
            assert remedy.cures == (
                left is None or (left.severity == "note" and finding.severity != "note")
            ), finding.code
            assert sum(f.severity == "bad" for f in after.values()) <= bad_before
            if not remedy.cures:
                better = after[finding.code]
                assert better.margin > finding.margin or better.severity != finding.severity
            assert any(word in remedy.effects[0] for word in ("→", "gone", "no longer"))
    assert offered >= 5


def test_a_ball_bearing_without_a_restrictor_is_over_fed() -> None:
    """Common practice, no source: no restrictor on a ball-bearing unit at high pressure pushes oil past seals."""
    from gravidon.plan.starter import with_turbo_kind

    plan = paths.put(with_turbo_kind(demo_plan(), "ball", "medium"), "turbos.0.restrictor.fitted", False)
    finding = found(plan)["over-fed"]
    assert finding.severity == "bad"
    e = evaluate(plan)
    best = remedies(e, finding)[0]
    assert "Fit a restrictor" in best.titles[0]
    assert best.margin_after > finding.margin + 0.3


def test_a_dip_is_named_uphill() -> None:
    """A bend lower than the entry makes the next stretch climb."""
    plan = paths.put(demo_plan(), "turbos.0.drain.points.1.z_mm", -75.0)
    finding = found(plan)["uphill"]
    assert "climbs" in finding.text("metric")
    assert finding.severity == "bad"
    assert any(r.cures for r in remedies(evaluate(plan), finding))


def test_short_events_are_judged_by_their_length() -> None:
    """The same wet seal is bad for a long corner, and for a flick, in which nothing comes to it, a note."""
    plan = demo_plan("special")
    for corner in ("hard left", "hard right"):  # without boost, which holds it in
        plan = paths.put(plan, f"conditions.{evaluate(plan).names.index(corner)}.wheel_side_kpa", 0.0)
    e = evaluate(plan)
    i = e.names.index("hard left")
    seconds = float(e.drainage.time_to_wet_s[i])
    assert found(plan)["freeboard"].severity == "bad"
    flick = plan
    for k in (i, e.names.index("hard right")):
        flick = paths.put(flick, f"conditions.{k}.duration_s", round(seconds * 0.5, 3))
    assert found(flick)["freeboard"].severity == "note"


def test_crankcase_pressure_counts_only_on_a_sealed_drain() -> None:
    plan = paths.put(demo_plan(), "conditions.6.wheel_side_kpa", 0.0)
    plan = paths.put(plan, "conditions.6.crankcase_kpa", 1.5)
    assert found(plan)["crankcase-lift"].condition == "hard left"
    open_drain = paths.put(cured(), "conditions.1.crankcase_kpa", 5.0)
    assert "crankcase-lift" not in found(open_drain)


def test_restrictor_choice_is_the_inverse_of_the_feed() -> None:
    """Just inside the range every condition holds, just outside its lower end the named one fails."""
    plan = demo_plan()
    choice = choose(plan)
    assert choice.range_m is not None
    assert choice.breaks_below is not None

    def pressure_findings(bore_mm: float) -> dict[str, Finding]:
        return {
            c: f
            for c, f in found(paths.put(plan, "turbos.0.restrictor.bore_mm", bore_mm)).items()
            if c in ("starved", "over-fed", "cooked") and f.severity == "bad"
        }

    assert not pressure_findings(choice.range_m[0] * 1e3 * 1.001)
    below = pressure_findings(choice.range_m[0] * 1e3 * 0.93)
    names = {f.condition for f in below.values()} | {n for f in below.values() for n in f.also}
    assert choice.breaks_below[0] in names
    assert choice.drills[0].diameter_mm * 1e-3 >= choice.range_m[0] * 0.999


def test_margins_agree_with_findings() -> None:
    """A condition whose worst margin is negative is named by some finding, and the other way round."""
    e: Evaluation = evaluate(demo_plan())
    words = verdict_by_condition(e, find(e))
    for i, worst in enumerate(worst_by_condition(e)):
        assert (worst.margin < 0) == (words[i] != "holds"), e.names[i]
    assert {j.quantity.code for j in judged(e)} >= {"starved", "freeboard"}


def test_report_is_plain_data() -> None:
    import json

    data = report(evaluate(demo_plan()))
    assert json.loads(json.dumps(data, allow_nan=False)) == data
    assert data["verdict"] == "fails"
    assert set(data["conditions"][0]) >= {
        "name",
        "oil_temperature_c",
        "gallery_pressure_kpa",
        "flow_l_min",
        "inlet_pressure_kpa",
        "outlet_temperature_c",
        "drain_fill",
        "open_area",
        "freeboard_mm",
        "margin",
    }
    assert set(data["findings"][0]) >= {
        "code",
        "severity",
        "condition",
        "value",
        "limit",
        "unit",
        "source",
        "text",
    }


def test_verdict_sentences() -> None:
    e = evaluate(demo_plan())
    assert verdict_sentence(e, find(e)).startswith("Fails, 3 faults: oil cooked")
    assert "warning" in verdict_sentence(evaluate(cured()), find(evaluate(cured())))


def test_upright_drain_with_the_entry_straight_below() -> None:
    """A vertical drop straight into the pan is no special case: it never runs uphill on level ground."""
    plan = demo_plan()
    flange = plan.turbos[0].turbo.drain_flange
    plan = paths.put(plan, "turbos.0.drain.points", ())
    plan = paths.put(plan, "turbos.0.drain.entry", Point(x_mm=flange.x_mm, y_mm=flange.y_mm, z_mm=-30.0))
    plan = paths.put(plan, "turbos.0.drain.fitting.rise_deg", 90.0)
    assert "uphill" not in found(plan)
