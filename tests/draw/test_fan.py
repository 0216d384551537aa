# SPDX-License-Identifier: GPL-3.0-or-later
"""Plans drawn together: bobs hang in the order of their merit, strands run from turbo to pan, and all of it can be pointed at."""

import itertools
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPolygonF

from draw.recorder import Recorder, Written, inside
from gravidon.draw import fan
from gravidon.draw.geometry.elevation import View
from gravidon.draw.ink import Ink
from gravidon.draw.style import LIGHT
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.model import Plan
from gravidon.study.planning.merit import AXES, BY_AXIS, Merit, grip, merit
from gravidon.study.solve.drain_route import route
from gravidon.study.solve.evaluate import Evaluation, evaluate

pytestmark = pytest.mark.usefixtures("qapp")
AREA = QRectF(0, 0, 900, 480)
VIEWS: tuple[View, ...] = ("side", "front", "above")
COUPE = evaluate(demo_plan())
LOWER = paths.put(demo_plan(), "turbos.0.drain.entry.z_mm", 30.0)
"""The coupe with its drain into the pan lower down."""


def plan_of(n: int) -> Plan:
    """Return the coupe with its drain's entry moved along the pan: a plan whose strand is its own."""
    return paths.put(demo_plan(), "turbos.0.drain.entry.x_mm", 20.0 * n)


def merit_of(
    margin: float, cost: float, minutes: int, joints: int, order: int, invasive: int, sure: float | None
) -> Merit:
    held = grip([(0 if margin >= 0 else 2, margin)])
    word = ("fails", "watch", "holds")[held.grade]
    return Merit(
        word,
        margin,
        int(margin < 0) * 2,
        int(abs(margin) * 4),
        cost,
        minutes,
        0.0,
        joints,
        order,
        invasive,
        held,
        sure,
        None if sure is None else sure,
    )


def painted(
    strands: list[fan.Strand],
    axis: str = "warned",
    view: View = "front",
    over: str | None = None,
    words: str = "",
    area: QRectF = AREA,
    base: Evaluation = COUPE,
) -> tuple[fan.FanPicture, list[Written]]:
    """Paint; return what can be pointed at, and all text."""
    device = Recorder(int(area.width()), int(area.height()))
    painter = QPainter(device)
    found = fan.paint(Ink(painter, LIGHT), area, base, 0, view, strands, axis, over, words)
    painter.end()
    return found, device.written


def told(low: float, high: float) -> st.SearchStrategy[float]:
    """Numbers to a thousandth: merits differ by what can be told apart, not by a last bit (that hangs level)."""
    return st.integers(round(low * 1000), round(high * 1000)).map(lambda n: n / 1000.0)


merits = st.builds(
    merit_of,
    told(-3, 1),
    told(0, 900),
    st.integers(10, 900),
    st.integers(2, 20),
    st.integers(0, 9),
    st.integers(0, 3),
    st.one_of(st.none(), told(0, 1)),
)


PLANS = [plan_of(n) for n in range(5)]


@settings(max_examples=25, deadline=None)
@given(st.lists(merits, min_size=1, max_size=5), st.sampled_from([a.key for a in AXES]))
def test_the_better_plan_hangs_higher(found: list[Merit], axis: str) -> None:
    """By every merit: of two bobs the higher one is the better plan, equal plans hang level, what is not known does not hang."""
    strands = [fan.strand("ABCDE"[n], (), PLANS[n], m) for n, m in enumerate(found)]
    picture, _ = painted(strands, axis)
    known = BY_AXIS[axis]
    by_letter = {s.letter: known.value(s.merit) for s in strands}
    hung = dict(picture.bobs)
    assert set(hung) == {letter for letter, value in by_letter.items() if value is not None}
    for a, rect_a in hung.items():
        for b, rect_b in hung.items():
            better = (by_letter[a] - by_letter[b]) * (1 if known.more else -1)  # type: ignore[operator]
            if better > 0:
                assert rect_a.top() <= rect_b.top() + 1e-6
            if better == 0:
                assert rect_a.top() == pytest.approx(rect_b.top())
    if len(hung) > 1 and len({by_letter[k] for k in hung}) > 1:
        tops = [r.top() for r in hung.values()]
        assert max(tops) - min(tops) > 50.0


@pytest.mark.parametrize("axis", [a.key for a in AXES])
def test_every_bob_has_its_number_under_it_and_stays_on_the_board(axis: str) -> None:
    strands = [
        fan.strand(
            letter, (), plan_of(n), merit_of(0.1 * n, 40.0 + 90 * n, 60 * n + 30, 4 + n, n, n, 0.9 - 0.2 * n)
        )
        for n, letter in enumerate("ABCD")
    ]
    picture, written = painted(strands, axis)
    whole = " ".join(w.text for w in written)
    for s in strands:
        for word in BY_AXIS[axis].text(s.merit).split():
            assert word in whole
    foot = min(rect.top() for _, rect in picture.tabs)
    for _, rect in picture.bobs:
        assert inside(rect, AREA)
        assert rect.bottom() < foot
    assert all(inside(w.rect, AREA) for w in written)


@pytest.mark.parametrize("width", [700.0, 900.0, 1400.0])
def test_the_merits_names_do_not_touch_and_name_their_merit(width: float) -> None:
    area = QRectF(0, 0, width, 480)
    picture, _ = painted([fan.strand("A", (), plan_of(0), merit(plan_of(0)))], area=area)
    assert [key for key, _ in picture.tabs] == [a.key for a in AXES]
    for n, (key, rect) in enumerate(picture.tabs):
        assert inside(rect, area, 3.0)
        assert picture.axis_at(rect.center()) == key
        assert not any(rect.intersects(other) for _, other in picture.tabs[n + 1 :])
    assert picture.axis_at(QPointF(5, 5)) == ""


@pytest.mark.parametrize("view", VIEWS)
def test_a_strand_is_pointed_at_where_it_runs(view: View) -> None:
    """The middle of each plan's own stretch answers with its letter; far from all, nothing answers."""
    strands = [fan.strand(letter, (), plan_of(6 * n), merit(plan_of(6 * n))) for n, letter in enumerate("AB")]
    picture, _ = painted(strands, view=view)
    for letter, line in picture.lines:
        end = line.at(line.count() - 1)
        others = [other for name, other in picture.lines if name != letter]
        if all(fan._far(other, end) > 8.0 for other in others):
            assert picture.plan_at(end) == letter
    assert picture.plan_at(QPointF(-500, -500)) is None


def test_a_strand_is_the_plans_own_drain() -> None:
    """A strand runs from the turbo's flange to where the plan's drain enters, in metres."""
    s = fan.strand("A", (), LOWER, merit(LOWER))
    it = LOWER.turbos[0]
    assert s.drains[0] == pytest.approx(route(LOWER, it).corners_m)
    entry = it.drain.entry
    assert s.drains[0][-1] * 1e3 == pytest.approx([entry.x_mm, entry.y_mm, entry.z_mm])


@given(
    st.lists(st.tuples(st.floats(-50, 50), st.floats(-50, 50)), min_size=2, max_size=5, unique=True),
    st.tuples(st.floats(-80, 80), st.floats(-80, 80)),
)
def test_the_distance_to_a_line_is_that_of_many_points_on_it(
    line: list[tuple[float, float]], at: tuple[float, float]
) -> None:
    """Against many points along the line: never further than they are, and hardly nearer."""
    share = np.linspace(0, 1, 400)[:, None]
    ends = np.array(line)
    points = np.concatenate([a + share * (b - a) for a, b in itertools.pairwise(ends)])
    nearest = float(np.linalg.norm(points - np.array(at), axis=1).min())
    found = fan._far(QPolygonF([QPointF(x, y) for x, y in line]), QPointF(*at))
    assert found <= nearest + 1e-6
    assert found >= nearest - 0.3


def test_the_plan_as_it_stands_is_called_now_and_has_no_letter() -> None:
    strands = [
        fan.strand(fan.NOW, (), plan_of(0), merit(plan_of(0))),
        fan.strand("A", ("safest",), plan_of(5), merit(plan_of(5))),
    ]
    picture, written = painted(strands)
    assert {letter for letter, _ in picture.bobs} == {"", "A"}
    assert any(w.text == "now" for w in written)
    bob = dict(picture.bobs)["A"]
    assert picture.plan_at(bob.center()) == "A"


def test_what_all_share_is_written_only_where_there_are_several_plans() -> None:
    one = [fan.strand("A", (), plan_of(0), merit(plan_of(0)))]
    two = [*one, fan.strand("B", (), plan_of(1), merit(plan_of(1)))]
    said = "all enter here"
    assert said not in [w.text for w in painted(one, words=said)[1]]
    assert said in [w.text for w in painted(two, words=said)[1]]


def test_a_probability_not_worked_out_yet_is_dots() -> None:
    bare = replace(merit(plan_of(0)), sure=None)
    known = replace(merit(plan_of(1)), sure=0.75)
    picture, written = painted(
        [fan.strand("A", (), plan_of(0), bare), fan.strand("B", (), plan_of(1), known)], "sure"
    )
    assert [letter for letter, _ in picture.bobs] == ["B"]
    assert "…" in [w.text for w in written]
    assert "75%" in [w.text for w in written]


@pytest.mark.parametrize("demo", ["special", "van"])
def test_two_turbos_are_two_drains(demo: str) -> None:
    """Every turbo of a car has its drain in the picture."""
    plan = demo_plan(demo)
    picture, _ = painted([fan.strand("A", (), plan, merit(plan))], base=evaluate(plan))
    assert len([1 for letter, _ in picture.lines if letter == "A"]) >= len(plan.turbos)
