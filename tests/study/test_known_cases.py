# SPDX-License-Identifier: GPL-3.0-or-later
"""Installs whose outcome is known, judged by the product's own defaults. Outcomes: common practice, no source."""

from collections.abc import Callable

import pytest

from gravidon.parts.turbos import BEARINGS, COOLINGS, HOUSINGS, heat_kw
from gravidon.plan import paths
from gravidon.plan.fields import Known
from gravidon.plan.model import Plan
from gravidon.plan.starter import Answers, new_plan
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.heat_soak import COKING_K, heat_soak
from gravidon.study.verdict.remedies import remedies
from gravidon.study.verdict.report import report
from gravidon.study.verdict.trials import Trial, trial
from study.families import case, family


def tried(plan: Plan) -> Trial:
    return Trial(plan, evaluate(plan))


def codes(plan: Plan, severity: str) -> set[str]:
    return {f.code for f in tried(plan).findings if f.severity == severity}


def test_the_good_family_holds_and_the_bad_one_fails() -> None:
    """60 plausible variations of a proven recipe: at most 5 % fail, at least 60 % hold; of a bad one at least 98 % fail."""
    good = [tried(p).verdict for p in family(60)]
    bad = [tried(p).verdict for p in family(50, bad=True)]
    assert good.count("fails") <= 0.05 * len(good)
    assert good.count("holds") >= 0.60 * len(good)
    assert bad.count("fails") >= 0.98 * len(bad)


@pytest.mark.parametrize("bearing", list(BEARINGS))
@pytest.mark.parametrize("frame", list(HOUSINGS))
def test_the_first_plan_of_the_five_questions_does_not_cry_wolf(bearing: str, frame: str) -> None:
    plan = new_plan(
        "first",
        Answers(bearing=bearing, frame=frame),
    )
    assert codes(plan, "bad") == set()
    assert "cooked" not in codes(plan, "watch")


NOT_BAD: dict[str, Callable[[], Plan]] = {
    "A, 0.040 in": lambda: case(orifice_in=0.040),
    "A, 0.035 in": lambda: case(orifice_in=0.035),
    "B, 1/2 NPT": lambda: case(half_npt=1.0),
    "C, opened to the -4 bore": lambda: case(
        "journal",
        half_npt=1.0,
        changes={"turbos.0.restrictor.fitted": True, "turbos.0.restrictor.bore_mm": 5.08},
    ),
    "D, 0.035 in at 78 psi": lambda: case(orifice_in=0.035, speed_psi=78.0, idle_psi=25.0),
    "E, twin rings at 13 degrees": lambda: case(
        changes={
            "turbos.0.turbo.rings": "twin",
            "turbos.0.turbo.tilt_max_deg": Known(value=13.0),
            "turbos.0.turbo.pitch_deg": 13.0,
        }
    ),
    "E, single ring at 6 degrees": lambda: case(changes={"turbos.0.turbo.pitch_deg": 6.0}),
    "G, clocked by 20 degrees": lambda: case(changes={"turbos.0.turbo.clock_deg": 20.0}),
    "P, journal on -10": lambda: case("journal", half_npt=1.0),
}
BAD: dict[str, tuple[Callable[[], Plan], set[str]]] = {
    "C, journal behind 0.030 in": (
        lambda: case(
            "journal", changes={"turbos.0.restrictor.fitted": True, "turbos.0.restrictor.bore_mm": 0.762}
        ),
        {"starved", "cooked"},
    ),
    "D, ball without a hole at 78 psi": (
        lambda: case(speed_psi=78.0, idle_psi=25.0, changes={"turbos.0.restrictor.fitted": False}),
        {"over-fed"},
    ),
    "E, twin rings at 16": (
        lambda: case(
            changes={
                "turbos.0.turbo.rings": "twin",
                "turbos.0.turbo.tilt_max_deg": Known(value=13.0),
                "turbos.0.turbo.pitch_deg": 16.0,
            }
        ),
        {"tilt"},
    ),
    "E, single ring at 15": (lambda: case(changes={"turbos.0.turbo.pitch_deg": 15.0}), {"tilt"}),
    "F, upright": (lambda: case(changes={"turbos.0.turbo.pitch_deg": 89.0}), {"tilt", "lying"}),
    "G, clocked by 60": (lambda: case(changes={"turbos.0.turbo.clock_deg": 60.0}), {"clock"}),
    "O, entry below the oil": (lambda: case(changes={"turbos.0.drain.entry.z_mm": -114.0}), {"drowned"}),
    "P, journal on -6": (
        lambda: case(
            "journal", 8.73, half_npt=1.0, flange_mm=8.73, changes={"turbos.0.drain.fitting.bore_mm": 8.73}
        ),
        {"freeboard"},
    ),
}


@pytest.mark.parametrize("name", list(NOT_BAD))
def test_a_proven_install_has_nothing_bad(name: str) -> None:
    assert codes(NOT_BAD[name](), "bad") == set()


@pytest.mark.parametrize("name", list(BAD))
def test_a_known_failure_is_found_for_its_reason(name: str) -> None:
    make, wanted = BAD[name]
    assert wanted <= codes(make(), "bad")


@pytest.mark.parametrize(("kpa", "wanted"), [(0.1, set()), (4.0, {"crankcase"}), (20.0, {"crankcase"})])
def test_crankcase_pressure_of_several_kpa_is_bad_with_an_open_drain_too(
    kpa: float, wanted: set[str]
) -> None:
    plan = case(changes={"breather.kind": "typed"})
    running = tuple(
        c.model_copy(update={"crankcase_kpa": kpa if c.kind.turning else 0.0}) for c in plan.conditions
    )
    assert wanted <= codes(paths.put(plan, "conditions", running), "bad")
    assert ("crankcase" in codes(paths.put(plan, "conditions", running), "bad")) == bool(wanted)


# --- how it is judged --------------------------------------------------------------------------


def test_a_reading_at_idle_moves_the_idle() -> None:
    """12 to 25 psi typed at hot idle, 60 at 4000: the gauge before the hole shows it in the hot idle, one for one."""
    gauges = []
    for psi in (12.0, 15.0, 20.0, 25.0):
        e = evaluate(case(idle_psi=psi, warmer_k=0.0))
        gauges.append(float(e.supply.gallery_pa[e.names.index("hot idle")]) / 6894.757)
    assert gauges == pytest.approx([12.0, 15.0, 20.0, 25.0], rel=0.02)


def test_a_psi_of_relief_does_not_flip_the_verdict() -> None:
    words = {
        tried(case(changes={"engine.relief_kpa": Known(value=k * 6.894757)})).verdict
        for k in (62, 63, 64, 65, 66)
    }
    assert len(words) == 1


@pytest.mark.parametrize("wall", [3.60, 3.62, 3.64, 3.70])
def test_a_hair_of_wall_is_no_cliff(wall: float) -> None:
    """1/2 NPT, pitch 1.814 mm (ASME B1.20.1): two threads at 3.63 mm; just below it is watched, not bad."""
    assert "threads-few" not in codes(case(half_npt=1.0, wall_mm=wall), "bad")


def test_heat_by_bearing_and_cooling() -> None:
    """A medium journal unit on oil alone takes 2 kW at full load, a water-cooled ball unit a third to a half of that."""
    journal = heat_kw("journal", "medium", "oil only", 1.0)
    ball = heat_kw("ball", "medium", "water", 1.0)
    assert journal == pytest.approx(2.0, abs=0.05)
    assert journal / 3 <= ball <= journal / 2
    assert heat_kw("ball", "medium", "oil only", 1.0) > ball
    for kind in BEARINGS:
        values = [heat_kw(kind, "medium", c, 1.0) for c in COOLINGS]
        assert values[1] < values[0] < values[2]


def test_taking_the_hole_out_of_a_ball_unit_is_never_offered_where_it_floods() -> None:
    """A starved ball bearing: no remedy may bring a bad finding that was not there."""
    plan = case(changes={"turbos.0.restrictor.bore_mm": 0.45}, speed_psi=78.0, idle_psi=25.0)
    before = trial(plan)
    starved = next(f for f in before.findings if f.code == "starved-flow")
    offered = remedies(before.evaluation, starved)
    assert offered
    known = {(f.code, f.turbo) for f in before.findings if f.severity == "bad"}
    for remedy in offered:
        after = {(f.code, f.turbo) for f in trial(remedy.plan).findings if f.severity == "bad"}
        assert after <= known
        assert not remedy.titles[1].startswith("Take the restrictor out")


def test_a_note_does_not_touch_the_verdict() -> None:
    t = tried(case())
    assert {f.severity for f in t.findings} == {"note"}
    assert t.verdict == "holds"
    assert set(t.words) == {"holds"}


def test_json_tells_what_a_builder_can_act_on() -> None:
    """Pressure before the orifice is what a gauge reads: more than behind it; reserve over one; bores and fill in range."""
    rows = report(evaluate(case()))["conditions"]
    for row in rows:
        assert row["pressure_before_orifice_kpa"] >= row["inlet_pressure_kpa"] - 1e-6
        assert row["sealed_bores"] >= 0.0
        assert 0.0 <= row["hose_fill"] <= 1.0
    idle = next(r for r in rows if r["name"] == "hot idle")
    assert idle["reserve"] is None or idle["reserve"] > 1.5
    assert idle["heat_kw"] == pytest.approx(0.075 * heat_kw("ball", "medium", "water", 1.0), rel=1e-6)
    assert idle["pickup_cover_mm"] > 0.0


def test_idling_before_key_off_keeps_the_peak_under_coking() -> None:
    """A medium unit on oil alone peaks over 230 degrees if switched off at once, and just under it after the idling that
    is told; with water lines it needs none (common practice, no source)."""
    plan = new_plan("soak", Answers(bearing="journal", frame="medium"))
    soak = heat_soak(evaluate(paths.put(plan, "turbos.0.turbo.cooling", "oil only")))
    assert soak is not None
    assert soak.peak_k == pytest.approx(float(soak.bearing_k.max()))
    assert soak.peak_k > COKING_K > float(soak.idled_k.max()) > COKING_K - 8.0
    watered = heat_soak(evaluate(paths.put(plan, "turbos.0.turbo.cooling", "water")))
    assert watered is not None
    assert (watered.idle_s, watered.cokes) == (0.0, False)
