# SPDX-License-Identifier: GPL-3.0-or-later
"""Chains of plans, order list, cut list, template and build sequence."""

import csv
import io

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gravidon.parts.chains import Wish, find_chains
from gravidon.parts.ends import End
from gravidon.parts.entry_means import REAMED_DRILL_IN, TAP_DRILL_IN
from gravidon.plan import paths
from gravidon.plan.demos import NAMES, demo_plan
from gravidon.plan.fields import Known
from gravidon.plan.model import OnHand, OwnPart, Plan, StepLog
from gravidon.sheet.content import content
from gravidon.study.making.cutting import arc_length, cuts, entry_template, order_list
from gravidon.study.making.order import order_csv
from gravidon.study.making.parts_list import runs, shelf
from gravidon.study.making.sequence import joints_at, progress, sequence
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.verdict.findings import find
from gravidon.study.verdict.remedies import remedies


def codes(plan: Plan) -> dict[str, object]:
    return {f.key: f for f in find(evaluate(plan))}


# --- chains ----------------------------------------------------------------------------------


@pytest.mark.parametrize("name", NAMES)
def test_every_demos_chain_is_complete_or_its_gap_is_a_finding(name: str) -> None:
    """Every line has parts, or is named by a finding; every bad joint is named by one too."""
    plan = demo_plan(name)
    found = codes(plan)
    for run in runs(plan):
        if run.missing:
            assert f"gap@{run.turbo}/{run.key}" in found
        else:
            assert len(run.joints) == len(run.parts) + 1
        if run.bad:
            assert {"thread-tap@0", "thread-entry@0", f"joint@{run.turbo}/{run.key}"} & set(found)


def test_the_estates_first_joint_is_the_mixed_thread() -> None:
    """1/8 NPT in 1/8 BSPT at the tap: drawn as leaking, and only there."""
    feed = next(r for r in runs(demo_plan()) if r.key == "feed")
    assert [j.fit.outcome for j in feed.joints] == ["leaks"] + ["seals"] * (len(feed.joints) - 1)
    assert "1/8 BSPT" in feed.joints[0].one.text


def test_wrong_parts_are_found_and_cured() -> None:
    """Parts taken from the wrong box: the joint is a finding, its remedy takes the chain that seals."""
    good = next(r for r in runs(demo_plan()) if r.key == "drain")
    ids = [p.id for p in good.parts]
    ids[-1] = "adapter-1-2-npt-male-to-10-flare-male"
    plan = paths.put(demo_plan(), "turbos.0.parts.drain", tuple(ids))
    finding = codes(plan)["joint@0/drain"]
    assert "does not fit" in finding.text("metric") or "leaks" in finding.text("metric")  # type: ignore[attr-defined]
    cure = next(r for r in remedies(evaluate(plan), finding) if r.cures)  # type: ignore[arg-type]
    assert "joint@0/drain" not in codes(cure.plan)


def test_a_gap_is_found_and_cured() -> None:
    """A -12 hose on a 3/8 NPT port: every such fitting is far too tight; another way through the wall is not."""
    plan = paths.put(demo_plan(), "turbos.0.drain.hose_bore_mm", 17.46)
    plan = paths.put(plan, "turbos.0.drain.fitting.bore_mm", 15.4)
    finding = codes(plan)["gap@0/drain"]
    assert "3/8 NPT" in finding.text("metric")  # type: ignore[attr-defined]
    assert any(r.cures for r in remedies(evaluate(plan), finding))  # type: ignore[arg-type]


def test_a_part_that_is_not_on_any_shelf_is_named() -> None:
    plan = paths.put(demo_plan(), "turbos.0.parts.feed", ("left-handed-union",))
    assert "left-handed-union" in codes(plan)["gap@0/feed"].text("metric")  # type: ignore[attr-defined]


def test_own_parts_and_prices_replace_the_catalogues() -> None:
    own = OwnPart(id="gasket-oil-inlet-gasket-two-bolt-24-mm", kind="gasket", name="my gasket", price=0.4)
    plan = paths.put(demo_plan(), "own_parts", (own,))
    assert shelf(plan)[own.id].price == 0.4
    need = next(n for n in order_list(plan) if n.part.id == own.id)
    assert need.cost == pytest.approx(0.8)  # one and a spare


# --- the list --------------------------------------------------------------------------------


@pytest.mark.parametrize("name", NAMES)
def test_everything_in_a_chain_is_on_the_list(name: str) -> None:
    plan = demo_plan(name)
    counted = {n.part.id: n.count for n in order_list(plan)}
    for run in runs(plan):
        for part in run.parts:
            assert part.id in counted
    ends = sum(1 for run in runs(plan) for p in run.parts if p.kind == "hose end")
    assert sum(v for k, v in counted.items() if k.startswith("hose-end")) == ends


def test_what_is_in_the_drawer_is_not_ordered() -> None:
    plan = demo_plan()
    hose = next(n for n in order_list(plan) if n.part.kind == "hose" and n.part.dash == 4)
    assert hose.to_order == pytest.approx(np.ceil(hose.count * 10) / 10)
    full = paths.put(plan, "drawer", (OnHand(part=hose.part.id, count=3.0),))
    again = next(n for n in order_list(full) if n.part.id == hose.part.id)
    assert (again.to_order, again.cost) == (0.0, 0.0)


def test_banjos_get_two_washers_and_flanges_a_gasket() -> None:
    """One crush washer each side of every banjo (common practice, no source), half as many again as spares."""
    plan = paths.put(demo_plan(), "turbos.0.parts.inlet", "metric|M10x1.0|female")
    plan = paths.put(plan, "turbos.0.restrictor.fitted", False)
    feed = next(r for r in runs(plan) if r.key == "feed")
    goal = End("metric", "M10x1.0", "female")
    low = find_chains(
        shelf(plan).values(), feed.parts[0].ends[1], goal, Wish(4, by="height", least_temp_c=160.0)
    )[0]
    plan = paths.put(plan, "turbos.0.parts.feed", (feed.parts[0].id, *(p.id for p in low.parts)))
    assert any(e.kind == "banjo" for p in low.parts for e in p.ends)
    washers = next(n for n in order_list(plan) if n.part.id == "washer-crush-washer-for-m10")
    assert (washers.count, washers.spare, washers.to_order) == (2, 1, 3)
    assert any(n.part.kind == "gasket" and "drain" in n.part.name for n in order_list(plan))


@pytest.mark.parametrize(("hole", "owned", "flange"), [(2.2, True, "0.76 mm"), (2.2, False, "1 mm hole"), (5.0, False, "full bore"), (0.76, False, "0.76 mm")])  # fmt: skip
def test_a_hole_in_the_flange_is_in_list_build_and_sheet(hole: float, owned: bool, flange: str) -> None:
    """The flange at hand, or the nearest smaller one sold, is drilled to the plan's hole: the list, a step of its own and the
    sheet's decisions say so."""
    plan = paths.put(demo_plan(), "turbos.0.restrictor.fitted", False)
    plan = paths.put(plan, "turbos.0.flange_hole.fitted", True)
    plan = paths.put(plan, "turbos.0.flange_hole.bore_mm", hole)
    if owned:
        mine = next(i for i, p in shelf(plan).items() if "0.76 mm hole" in p.name)
        plan = paths.put(plan, "drawer", (OnHand(part=mine, count=1.0),))
    assert flange in next(r for r in runs(plan) if r.key == "feed").parts[-1].name
    drilled = [s.title for s in sequence(plan) if s.key == "flange-hole-0"]
    assert bool(drilled) == (hole not in (0.76,))
    assert all(f"{hole:.2f} mm" in title for title in drilled)
    sizes = dict(content(evaluate(plan), "metric").sizes)
    assert f"hole in the inlet flange {hole:.2f}" in sizes["what meters"].replace("\u202f", " ")


def test_the_order_csv_is_plain() -> None:
    rows = list(csv.DictReader(io.StringIO(order_csv(order_list(demo_plan())))))
    assert len(rows) == len(order_list(demo_plan()))
    assert {"part", "needed", "to order", "unit", "cost"} <= set(rows[0])
    assert all(float(r["cost"]) >= 0 for r in rows)


# --- cutting ---------------------------------------------------------------------------------


@given(turn=st.floats(5, 120), radius=st.floats(0.03, 0.08))
def test_a_rounded_corner_is_tangents_and_an_arc(turn: float, radius: float) -> None:
    """Two legs of 0.5 m: 1 m less 2 R tan(t/2) plus R t (geometry of the fillet)."""
    t = np.radians(turn)
    corners = np.array([[0, 0, 0], [0.5, 0, 0], [0.5 + 0.5 * np.cos(t), 0.5 * np.sin(t), 0]])
    expected = 1.0 - 2 * radius * np.tan(t / 2) + radius * t
    assert arc_length(corners, radius / 2) == pytest.approx(expected, rel=1e-9)


def test_the_cut_is_route_less_ends_plus_room_to_move() -> None:
    """By hand for the demo's feed: 1150 + 30 - 25.5 - 30.5 mm; clamps every 300 mm at most."""
    cut = next(c for c in cuts(demo_plan()) if c.run == "feed")
    assert cut.cut_m == pytest.approx(1.150 + 0.030 - 0.0255 - 0.0305)
    gaps = np.diff([0.0, *cut.clamps_m, cut.cut_m])
    assert gaps.max() <= 0.301
    drain = next(c for c in cuts(demo_plan()) if c.run == "drain")
    straight = np.linalg.norm(np.diff(evaluate(demo_plan()).route.hose_corners_m, axis=0), axis=1).sum()
    assert drain.route_m < straight


def test_a_hose_too_short_for_its_ends_is_a_finding() -> None:
    plan = paths.put(demo_plan("special"), "turbos.0.scavenge.pot.z_mm", -140.0)
    assert "short@0/drain" in codes(plan)
    assert next(c for c in cuts(plan) if c.run == "drain").note


@pytest.mark.parametrize(
    ("thread", "drill"),
    [
        ("3/8 NPT", 37 / 64),
        ("1/2 NPT", 23 / 32),
        ("1/8 NPT", 11 / 32),
        ("1/4 NPT", 7 / 16),
        ("3/4 NPT", 59 / 64),
    ],
)
def test_tap_drills(thread: str, drill: float) -> None:
    """ASME B1.20.1's usual drill table for tapping without reaming; with a reamer 9/16 and 45/64 are drilled."""
    assert REAMED_DRILL_IN == {"3/8 NPT": "9/16", "1/2 NPT": "45/64"}
    top, bottom = TAP_DRILL_IN[thread].split("/")
    assert int(top) / int(bottom) == pytest.approx(drill)


def test_the_template_is_the_plans_entry() -> None:
    """3/8 NPT tapped into a 4 mm wall: 37/64 in hole, 2.8 threads (4 / 1.411), 42 mm below the rail, the nearest bolt
    where bolt_places says."""
    made = entry_template(demo_plan(), 0)
    assert made is not None
    assert made.hole_m == pytest.approx(37 / 64 * 0.0254)
    assert made.threads == pytest.approx(4.0 / (25.4 / 18))
    assert made.below_rail_m == pytest.approx(0.042)
    assert any(abs(x) < 0.01 and y == pytest.approx(0.042) for x, y in made.bolts_m)
    assert entry_template(demo_plan("special"), 0) is None


# --- sequence --------------------------------------------------------------------------------


@pytest.mark.parametrize("name", NAMES)
def test_every_step_comes_after_what_it_depends_on(name: str) -> None:
    steps = sequence(demo_plan(name))
    place = {s.key: k for k, s in enumerate(steps)}
    for s in steps:
        for a in s.after:
            if a in place:
                assert place[a] < place[s.key], (a, s.key)


def test_the_rules_of_the_trade_hold() -> None:
    """Drain on the turbo before the manifold; feed before coolant; mock-up first; prime before the crank (common
    practice, no source)."""
    place = {s.key: k for k, s in enumerate(sequence(demo_plan()))}
    for first, then in (
        ("drain-flange-0", "hang-0"),
        ("feed-0", "coolant-0"),
        ("mock", "entry-0"),
        ("clean", "pan-on"),
        ("fill", "crank"),
        ("crank", "start"),
        ("cut-drain-0", "drain-flange-0"),
        ("entry-0", "clean"),
        ("clean", "entry-fit-0"),
        ("entry-fit-0", "drain-join-0"),
        ("coolant-fill", "start"),
        ("recheck", "drive"),
        ("drive", "oil-change"),
    ):
        assert place[first] < place[then]


def test_what_a_careful_builder_would_not_miss() -> None:
    """Sealant after the cleaning that would wash it out, a sleeve before the second hose end, fuel off, the proving joint
    closed again and wiped, no magnet trusted in aluminium, cautions at the step where they matter (common practice, no
    source)."""
    steps = {s.key: s for s in sequence(demo_plan())}  # its pan is aluminium
    assert "sleeve" in steps["cut-drain-0"].kinds
    assert "sleeve" in steps["cut-drain-0"].text
    crank = steps["crank"].text
    assert crank.index("Crack") < crank.index("tighten") < crank.index("wipe")
    assert "Fuel off" in crank
    assert "ten seconds" in crank
    assert "no aluminium" in steps["clean"].text
    assert "magnet" not in steps["clean"].tools
    assert "chlorine-free" in steps["clean"].tools
    for key, word in (
        ("clean", "chlorinated"), ("entry-0", "Goggles"), ("cut-feed-0", "gloves"), ("start", "outdoors"),
        ("hang-0", "Battery"), ("coolant-fill", "hot cooling"), ("drive", "public road"),
    ):  # fmt: skip
        assert any(word in c for c in steps[key].cautions), key
    assert not any("let the car cool" in c for c in steps["start"].cautions)
    assert "Stop" in steps["tap"].text  # two threads that do not match are a finding, not an instruction


def test_a_restrictor_that_no_part_has_is_drilled() -> None:
    """1.65 mm: the next smaller one is bought, and a step opens it; a hole that a part has needs no step."""
    plan = paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 1.65)
    step = next(s for s in sequence(plan) if s.key == "restrictor-0")
    assert "1.65" in step.title
    assert "deburr" in step.text
    bought = next(p for run in runs(plan) for p in run.parts if p.what.narrow)
    assert bought.bore_mm < 1.65
    same = paths.put(plan, "turbos.0.restrictor.bore_mm", bought.bore_mm)
    assert not any(s.key == "restrictor-0" for s in sequence(same))


def test_schools_change_the_steps() -> None:
    plan = demo_plan()
    assert "pan-off" in {s.key for s in sequence(plan)}
    on = paths.put(plan, "build.pan", "pan on, grease and a stop")
    keys = {s.key: s for s in sequence(on)}
    assert "pan-off" not in keys
    assert "rease in the flutes" in keys["entry-0"].text
    assert any("Swarf" in c for c in keys["entry-0"].cautions)
    welded = paths.put(on, "turbos.0.drain.fitting.means", "weld bung")
    assert "pan-off" in {s.key for s in sequence(welded)}  # nobody welds a pan on the engine
    taped = paths.put(plan, "build.sealing", "tape")
    assert "first two threads" in next(s for s in sequence(taped) if s.key == "entry-fit-0").text
    assert any("tape" in n.part.name for n in order_list(taped))
    wiped = paths.put(plan, "build.clean", "wipe")
    assert "recommended" in next(s for s in sequence(wiped) if s.key == "clean").text


def test_a_missing_part_sends_its_steps_to_the_end() -> None:
    """With all in the drawer but the feed's hose ends, the feed and what waits for it come last, nothing else."""
    plan = demo_plan()
    drawer = tuple(OnHand(part=n.part.id, count=n.count + n.spare) for n in order_list(plan))
    stocked = paths.put(plan, "drawer", drawer)
    assert not any(s.blocked for s in sequence(stocked))
    lacking = tuple(d for d in drawer if not (d.part.startswith("hose-end-4-")))
    order = sequence(paths.put(plan, "drawer", lacking))
    blocked = {s.key for s in order if s.blocked}
    assert "cut-feed-0" in blocked
    assert "cut-drain-0" not in blocked
    place = {s.key: k for k, s in enumerate(order)}
    free = [s.key for s in order if s.key in ("hang-0", "drain-join-0", "breather", "pan-on", "tap")]
    assert all(place[k] < place["cut-feed-0"] for k in free)
    assert place["feed-0"] > place["cut-feed-0"]
    assert not any(s.blocked for s in sequence(plan))  # an empty drawer says nothing about what is on hand


def test_each_line_waits_for_its_own_gasket() -> None:
    """Without the oil inlet's gasket the feed waits, the drain does not; and the other way round. The entry's own sealed fitting
    waits with the wall, not with the turbo."""
    plan = demo_plan()
    needs = order_list(plan)
    gaskets = {n.lines[0]: n.part.id for n in needs if n.part.kind == "gasket"}
    for lacking, waits, goes_on in (
        ("feed", "feed-0", "drain-flange-0"),
        ("drain", "drain-flange-0", "feed-0"),
    ):
        drawer = tuple(
            OnHand(part=n.part.id, count=n.count + n.spare) for n in needs if n.part.id != gaskets[lacking]
        )
        blocked = {s.key for s in sequence(paths.put(plan, "drawer", drawer)) if s.blocked}
        assert waits in blocked
        assert goes_on not in blocked


@pytest.mark.parametrize("name", NAMES)
def test_every_joint_is_made_in_exactly_one_step(name: str) -> None:
    """The joints of all steps together are those of all lines: a weld with the entry, the flange's with the flange."""
    plan = demo_plan(name)
    made = {s.key: joints_at(plan, s) for s in sequence(plan)}
    of_lines = [j for run in runs(plan) if run.key in ("trunk", "feed", "drain") for j in run.joints]
    assert sorted(map(str, of_lines)) == sorted(str(j) for joints in made.values() for j in joints)
    for key, joints in made.items():
        kinds = {end.kind for j in joints for end in (j.one, j.other)}
        assert ("weld" not in kinds) or key.startswith("entry-")
        assert ("flange" not in kinds) or key.startswith(("feed-", "drain-flange-"))


def test_progress_counts() -> None:
    plan = demo_plan()
    steps = sequence(plan)
    done = paths.put(plan, "build.done", (StepLog(step=steps[0].key, minutes=20.0),))
    made = progress(done)
    assert (made.done, made.of) == (1, len(steps))
    assert made.minutes - made.left == steps[0].minutes


def test_several_turbos_each_have_their_steps() -> None:
    keys = {s.key for s in sequence(demo_plan("van"))}
    assert {"feed-0", "feed-1", "drain-join-0", "drain-join-1", "entry-0"} <= keys
    assert "entry-1" not in keys  # its drain joins the other


def test_movement_is_the_users() -> None:
    more = paths.put(demo_plan(), "turbos.0.parts.feed_move_mm", Known(value=80.0))
    first, second = (next(c for c in cuts(p) if c.run == "feed").cut_m for p in (demo_plan(), more))
    assert second - first == pytest.approx(0.05)


@pytest.mark.parametrize(("rating", "severity"), [(120.0, "bad"), (230.0, None)])
def test_oil_hotter_than_its_hose_is_found(rating: float, severity: str | None) -> None:
    """The drain carries what leaves the bearing: over 150 degrees at full load in the demo; PTFE stands 230, a hose made
    for 120 does not, in feed or drain."""
    plan = demo_plan()
    drain = next(run for run in runs(plan) if run.key == "drain")
    hose = next(p for p in drain.parts if p.what.hose)
    plan = paths.put(
        plan, "turbos.0.parts.drain", tuple(p.id for p in drain.parts)
    )  # chosen, whatever it stands
    mine = OwnPart.model_validate(
        {
            **{k: v for k, v in hose.__dict__.items() if k != "ends"},
            "ends": tuple(e.code for e in hose.ends),
            "temp_c": rating,
        }
    )
    found = [f for f in find(evaluate(paths.put(plan, "own_parts", (mine,)))) if f.code == "hose-heat"]
    assert [f.severity for f in found if f.place == "drain"] == ([severity] if severity else [])
    for f in found:
        assert f.value > f.limit - 10.0
        assert hose.name in f.text("metric")


def test_a_hose_too_hot_is_cured_by_one_that_stands_it() -> None:
    """Braided rubber (150 degrees) chosen where the demo's oil leaves at 202: the chain that is found stands it."""
    plan = paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 0.76)
    drain = next(run for run in runs(plan) if run.key == "drain")
    ids = tuple(
        p.id.replace("braided-ptfe", "braided-rubber").replace("-end-ptfe", "-end-reusable")
        for p in drain.parts
    )
    chosen = paths.put(plan, "turbos.0.parts.drain", ids)
    e = evaluate(chosen)
    found = next(f for f in find(e) if f.code == "hose-heat" and f.place == "drain")
    assert found.severity == "bad"
    cure = next(r for r in remedies(e, found) if r.cures)
    assert not any(f.code == "hose-heat" for f in find(evaluate(cure.plan)))
