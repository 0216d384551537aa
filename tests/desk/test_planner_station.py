# SPDX-License-Identifier: GPL-3.0-or-later
"""The planner and the ideas, by mouse and keyboard, in a real window."""

from collections.abc import Iterator
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QToolButton

from gravidon.desk.mishap import MISHAPS
from gravidon.desk.stations import planner
from gravidon.desk.stations.planner import PlannerStation
from gravidon.desk.value_field import ValueField
from gravidon.plan import paths, storage
from gravidon.plan.model import Hold, Plan
from gravidon.study.planning import search as searching
from gravidon.study.planning.board import Effort
from gravidon.study.planning.choices import CHOICES
from gravidon.study.planning.compare import state_of
from gravidon.study.planning.crew import Alone, Workers
from gravidon.study.planning.freedom import WONTS, held, with_hold
from gravidon.study.planning.search import Answer
from gravidon.study.verdict.trials import trial


@pytest.fixture(autouse=True)
def _light(monkeypatch: pytest.MonkeyPatch) -> None:
    """A search of a few plans, done by the window's own thread of work."""
    monkeypatch.setattr(PlannerStation, "crew_of", Alone)
    monkeypatch.setattr(PlannerStation, "effort", Effort(8, 1, 2, 1, 6, 4, 3))
    monkeypatch.setattr(planner, "search", _once)


_FOUND: dict[Plan, list[Answer]] = {}


def _once(plan: Plan, seed: int, crew: Any, effort: Effort) -> Iterator[Answer]:
    """A search by the window's own thread, done once for a plan; one in worker processes is always done."""
    if not isinstance(crew, Alone):
        yield from searching.search(plan, seed, crew, effort)
        return
    if plan not in _FOUND:
        _FOUND[plan] = list(searching.search(plan, seed, crew, effort))
    yield from _FOUND[plan]


def planned(window: Any, qtbot: Any) -> PlannerStation:
    window.make_plans()
    station = window.station
    assert isinstance(station, PlannerStation)
    qtbot.waitUntil(lambda: not station.busy and station.answer is not None, timeout=60_000)
    qtbot.waitUntil(lambda: tuple(c.ranked for c in station.cards) == station.shown(), timeout=5_000)
    return station


def test_one_key_makes_plans_and_one_click_takes_one(window: Any, qtbot: Any) -> None:
    """From a plan that fails to one that does not; undo goes back."""
    before = window.session.plan
    qtbot.keyClick(window, Qt.Key.Key_M, Qt.KeyboardModifier.ControlModifier)
    station = window.station
    qtbot.waitUntil(lambda: not station.busy and station.answer is not None, timeout=60_000)
    qtbot.waitUntil(lambda: tuple(c.ranked for c in station.cards) == station.shown(), timeout=5_000)
    assert station.answer.final
    assert {n for r in station.shown() for n in r.names} >= {"safest", "least money"}
    card = station.cards[0]
    button = next(b for b in card.findChildren(QToolButton) if b.text() == "Take it")
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert window.session.trial.verdict != "fails"
    assert trial(window.session.plan).verdict == card.ranked.merit.verdict
    window.session.undo()
    assert window.session.plan == before


def test_plans_are_pointed_at_hung_and_taken_by_keys(window: Any, qtbot: Any) -> None:
    station = planned(window, qtbot)
    station.canvas.setFocus()
    qtbot.keyClick(station.canvas, Qt.Key.Key_3)
    assert station.canvas.axis == "cost"
    qtbot.keyClick(station.canvas, Qt.Key.Key_V)
    assert station.canvas.view == "side"
    qtbot.keyClick(station.canvas, Qt.Key.Key_Right)
    qtbot.keyClick(station.canvas, Qt.Key.Key_Right)
    assert station.canvas.over == "A"
    assert station.cards[0].property("chosen")
    qtbot.keyClick(station.canvas, Qt.Key.Key_Return)
    assert window.session.undo_label().startswith("take the planner's")


def test_hovering_a_bob_lifts_its_plan_and_a_tab_is_a_button(window: Any, qtbot: Any) -> None:
    station = planned(window, qtbot)
    station.canvas.repaint()
    letter, rect = station.canvas.picture.bobs[1]
    station.canvas.hovered(rect.center())
    assert station.canvas.over == letter
    key, tab = station.canvas.picture.tabs[4]
    station.canvas.clicked(tab.center())
    assert station.canvas.axis == key == "joints"
    station.canvas.hovered(None)
    assert station.canvas.over is None


def test_what_one_wont_do_holds_and_is_kept_in_the_file(window: Any, qtbot: Any) -> None:
    window.go_to("planner")
    station = window.station
    box = next(b for w, b in station.holds.wonts if w.key == "weld")
    qtbot.mouseClick(box, Qt.MouseButton.LeftButton)
    assert WONTS[0].said(window.session.plan, 0)
    again = storage.plan_from_text(storage.plan_to_text(window.session.plan))
    assert again.holds == window.session.plan.holds
    made = planned(window, qtbot)
    assert all(r.plan.turbos[0].drain.fitting.means != "weld bung" for r in made.shown())


def test_the_pan_stays_on_says_how_it_is_built(window: Any, qtbot: Any) -> None:
    window.go_to("planner")
    box = next(b for w, b in window.station.holds.wonts if w.key == "pan-off")
    qtbot.mouseClick(box, Qt.MouseButton.LeftButton)
    assert window.session.plan.build.pan.startswith("pan on")
    qtbot.mouseClick(box, Qt.MouseButton.LeftButton)
    assert window.session.plan.build.pan == "pan off"


def test_padlocks_are_turned_by_the_space_bar_and_limited_by_typing(window: Any, qtbot: Any) -> None:
    window.go_to("planner")
    holds = window.station.holds
    rows = [holds.tree.topLevelItem(n).text(0) for n in range(holds.tree.topLevelItemCount())]
    holds.tree.setCurrentItem(holds.tree.topLevelItem(rows.index("clock angle")))
    qtbot.keyClick(holds.tree, Qt.Key.Key_Space)
    assert held(window.session.plan, CHOICES["clock"], 0).state == "locked"
    qtbot.keyClick(holds.tree, Qt.Key.Key_Space)
    assert held(window.session.plan, CHOICES["clock"], 0).state == "open"
    holds.tree.setCurrentItem(holds.tree.topLevelItem(rows.index("restrictor")))
    holds.limit.setText("1.8..2.4")
    qtbot.keyClick(holds.limit, Qt.Key.Key_Return)
    limited = held(window.session.plan, CHOICES["restrictor"], 0).hold
    assert (limited.least, limited.most) == (1.8, 2.4)
    refused: list[str] = []
    window.session.refused.connect(refused.append)
    holds.limit.setText("wide")
    qtbot.keyClick(holds.limit, Qt.Key.Key_Return)
    assert refused
    assert "restrictor" in refused[0]
    qtbot.mouseClick(holds.forget, Qt.MouseButton.LeftButton)
    assert all(h.choice != "restrictor" for h in window.session.plan.holds)


def test_a_padlock_stands_beside_the_value_wherever_it_is_shown(window: Any) -> None:
    s = window.session
    s.propose(with_hold(s.plan, Hold(choice="clock", state="locked")), "lock")
    window.go_to("seat")
    fields = [f for f in window.station.findChildren(ValueField) if f.path.endswith("clock_deg")]
    assert fields
    assert all(f.lock.state == "locked" for f in fields)
    assert all("locked" in f.toolTip() for f in fields)


def test_no_remedy_is_offered_against_a_lock(window: Any, qtbot: Any) -> None:
    s = window.session
    s.propose(with_hold(s.plan, Hold(choice="restrictor", state="locked")), "lock")
    qtbot.waitUntil(lambda: s.remedies_done, timeout=60_000)
    own = CHOICES["restrictor"].value(s.plan, 0)
    offered = [r for found in s.remedies.values() for r in found]
    assert all(CHOICES["restrictor"].value(r.plan, 0) == own for r in offered)


def test_why_not_is_asked_and_answered(window: Any, qtbot: Any) -> None:
    station = planned(window, qtbot)
    qtbot.mouseClick(station.why_button, Qt.MouseButton.LeftButton)
    assert station.lost.count() > 3
    station.ask_choice.setCurrentText("drain size")
    station.ask_value.setCurrentText("-8")
    qtbot.mouseClick(station.ask_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: not station.asking.busy, timeout=30_000)
    assert station.ask_words.text().startswith("-8 drain: ")
    station.ask_value.setCurrentText("-9")
    station.ask()
    assert "drain size" in station.ask_words.text()


def test_a_changed_plan_says_that_the_answer_is_old(window: Any, qtbot: Any) -> None:
    station = planned(window, qtbot)
    window.session.edit("turbos.0.drain.entry.z_mm", -50.0)
    assert station.shared.text().startswith("The plan has changed")


def test_a_search_can_be_stopped(window: Any, qtbot: Any) -> None:
    window.make_plans()
    station = window.station
    qtbot.waitUntil(lambda: station.answer is not None, timeout=30_000)
    station.stop()
    assert not station.job.busy
    assert station.start_button.isVisible()
    assert station.stage.text().startswith("Stopped")


# --- ideas ----------------------------------------------------------------------------------------


def without_any(window: Any) -> Any:
    """The window on the demo without the ideas that it ships with."""
    window.session.replace(window.session.plan.model_copy(update={"ideas": ()}), None)
    return window.session


def test_the_demo_ships_with_what_the_planner_made_of_it(window: Any, qtbot: Any) -> None:
    """Both of its ideas lie beside the plan when they are ticked, and none of them fails."""
    ideas = window.session.plan.ideas
    assert {name for i in ideas for name in i.name.split(", ")} == {
        "safest",
        "least work",
        "least money",
        "from the drawer",
    }
    assert all(trial(state_of(window.session.plan, i)).verdict != "fails" for i in ideas)
    window.go_to("ideas")
    station = window.station
    for item in station._items():
        item.setCheckState(0, Qt.CheckState.Checked)
    qtbot.waitUntil(lambda: bool(station.answer and len(station.answer.beside) == 2), timeout=20_000)
    assert station.decisions.columnCount() == 6


def test_an_idea_is_kept_compared_and_taken_piece_by_piece(window: Any, qtbot: Any) -> None:
    s = without_any(window)
    window.go_to("ideas")
    station = window.station
    station.name_line.setText("as bought")
    qtbot.keyClick(station.name_line, Qt.Key.Key_Return)
    assert [i.name for i in s.plan.ideas] == ["as bought"]
    s.edit("turbos.0.restrictor.bore_mm", 2.2)
    s.edit("breather.hose_bore_mm", 15.9)
    qtbot.waitUntil(
        lambda: not station.busy and bool(station.answer and station.answer.beside), timeout=20_000
    )
    qtbot.waitUntil(lambda: station.answer.plan.turbos[0].restrictor.bore_mm == 2.2, timeout=20_000)
    words = [station.decisions.item(r, 0).text() for r in range(station.decisions.rowCount())]
    assert words == ["restrictor", "breather"]
    assert station.results.rowCount() == len(s.plan.conditions)
    take = station.decisions.cellWidget(0, 3)
    qtbot.mouseClick(take, Qt.MouseButton.LeftButton)
    assert s.plan.turbos[0].restrictor.bore_mm == pytest.approx(0.76)
    assert s.plan.breather.hose_bore_mm == pytest.approx(15.9)
    qtbot.mouseClick(station.take_button, Qt.MouseButton.LeftButton)
    assert s.plan.breather.hose_bore_mm == pytest.approx(11.11)


def test_ideas_grow_as_a_tree_and_are_dropped(window: Any, qtbot: Any) -> None:
    s = without_any(window)
    window.go_to("ideas")
    station = window.station
    for name, bore in (("one", 1.0), ("two", 1.5)):
        s.edit("turbos.0.restrictor.bore_mm", bore)
        station.name_line.setText(name)
        qtbot.mouseClick(station.keep_button, Qt.MouseButton.LeftButton)
    assert [(i.name, i.after) for i in s.plan.ideas] == [("one", ""), ("two", "one")]
    assert station.tree.topLevelItemCount() == 1
    qtbot.mouseClick(station.drop_button, Qt.MouseButton.LeftButton)
    assert [i.name for i in s.plan.ideas] == ["one"]
    s.undo()
    assert len(s.plan.ideas) == 2


def test_two_ideas_at_most_are_laid_beside_the_plan(window: Any, qtbot: Any) -> None:
    s = without_any(window)
    window.go_to("ideas")
    station = window.station
    for name in ("one", "two", "three"):
        station.name_line.setText(name)
        qtbot.mouseClick(station.keep_button, Qt.MouseButton.LeftButton)
    for item in station._items():
        item.setCheckState(0, Qt.CheckState.Checked)
    assert len(station.ticked()) == 2
    assert paths.guesses(s.plan)


def test_the_planners_answers_become_ideas(window: Any, qtbot: Any) -> None:
    without_any(window)
    station = planned(window, qtbot)
    station.compare(station.shown()[0])
    assert window.station.key == "ideas"
    assert window.session.plan.ideas[0].note == "made by the planner"
    qtbot.waitUntil(lambda: not window.station.busy, timeout=20_000)
    assert window.station.decisions.rowCount() > 0


# --- worker processes ------------------------------------------------------------------------------


def test_a_search_in_worker_processes_is_stopped_without_a_mishap(
    window: Any, qtbot: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(PlannerStation, "crew_of", lambda: Workers(2))
    told: list[str] = []
    MISHAPS.happened.connect(told.append)
    window.make_plans()
    station = window.station
    qtbot.waitUntil(lambda: station.answer is not None and station.answer.share > 0.05, timeout=60_000)
    station.stop()
    qtbot.waitUntil(lambda: not station.job._old, timeout=60_000)
    assert told == []
    assert station.start_button.isVisible()


def test_a_worker_that_is_killed_ends_the_search_in_words(
    window: Any, qtbot: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The window lives on, what is known stays, and plans can be made again."""
    monkeypatch.setattr(PlannerStation, "crew_of", lambda: Workers(2))
    window.make_plans()
    station = window.station
    qtbot.waitUntil(lambda: station.answer is not None and station.answer.share > 0.05, timeout=60_000)
    for process in list(station.crew._pool._processes.values()):
        process.kill()
    qtbot.waitUntil(lambda: not station.job.busy, timeout=60_000)
    assert station.stage.text().startswith("The search ended")
    assert station.crew is None
    monkeypatch.setattr(PlannerStation, "crew_of", Alone)
    station.start()
    qtbot.waitUntil(lambda: not station.busy and station.answer.final, timeout=60_000)
