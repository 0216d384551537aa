# SPDX-License-Identifier: GPL-3.0-or-later
"""Diagnosis and Trainer by mouse and keyboard, in a real window."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QLabel, QPushButton, QToolButton

from gravidon.desk.diagnosis_dialogs import MendDialog, SignsDialog, TestsDialog
from gravidon.desk.diagnosis_panels import ASKED
from gravidon.desk.record_keeper import RecordKeeper
from gravidon.desk.stations.diagnosis import BARS, DiagnosisStation
from gravidon.desk.stations.trainer import TrainerStation, end_words
from gravidon.desk.work_list import SAY, TEST
from gravidon.draw import belief_bars, lesson, suspicion
from gravidon.draw.ink import Ink
from gravidon.draw.style import LIGHT
from gravidon.plan import demos, paths, storage
from gravidon.records.book import Book, book_path
from gravidon.study.diagnosis.belief import ELSE
from gravidon.study.diagnosis.case import Case
from gravidon.study.diagnosis.drills import DRILLS
from gravidon.study.diagnosis.tables import PLACES, has, tables
from gravidon.study.diagnosis.trainer import Ending, Mark, Step, lesson_from
from gravidon.study.solve.evaluate import evaluate

KNOWN = tables()


def opened(window: Any, qtbot: Any, demo: str = "coupe") -> DiagnosisStation:
    """Return the station on a demo without its season, its car run with every fault."""
    window.session.replace(demos.demo_plan(demo), None)
    window.go_to("diagnosis")
    station = window.station
    assert isinstance(station, DiagnosisStation)
    qtbot.waitUntil(lambda: station.belief is not None, timeout=150_000)
    return station


def top(station: DiagnosisStation) -> str:
    assert station.belief is not None
    return station.belief.ranked[0][0]


def test_a_question_answered_moves_the_belief_in_sight(window: Any, qtbot: Any) -> None:
    station = opened(window, qtbot)
    before = {b.key: b.belief for b in station.bars()}
    asked = station.questions.asked
    assert 1 <= len(asked) <= ASKED
    words, buttons = station.questions.asks[0]
    assert words.text() == KNOWN.signs[asked[0]].ask
    qtbot.mouseClick(buttons[0], Qt.MouseButton.LeftButton)
    assert station.case.answers == {asked[0]: True}
    moved = station.bars()
    assert {b.key: b.belief for b in moved} != before
    assert any(b.before == pytest.approx(before[b.key]) for b in moved if b.key in before)
    assert asked[0] not in station.questions.asked
    qtbot.mouseClick(station.questions.asks[0][1][2], Qt.MouseButton.LeftButton)
    assert len(station.case.unknown) == 1


def test_what_was_told_is_taken_back_by_its_cross(window: Any, qtbot: Any) -> None:
    station = opened(window, qtbot)
    assert station.belief is not None
    before = station.belief.ranked
    station.answer_sign("coke", True)
    assert station.belief.ranked != before
    cross = next(
        b for b in station.findChildren(QToolButton) if b.accessibleName().startswith("Take back: coke")
    )
    qtbot.mouseClick(cross, Qt.MouseButton.LeftButton)
    assert station.belief.ranked == before
    assert station.case.empty


def test_what_must_not_be_done_is_in_sight_and_goes_with_its_sign(window: Any, qtbot: Any) -> None:
    """A wet feed joint near a hot turbine; and nothing in the column beside the map lies on what is above it, four outcomes or not."""
    station = opened(window, qtbot)
    assert not station.stop.isVisible()
    station.answer_sign("wet-feed", True)
    assert station.stop.isVisible()
    assert station.stop.text() == KNOWN.signs["wet-feed"].stop
    qtbot.wait(50)
    rank = station.why.geometry()
    assert rank.top() >= station.list.geometry().bottom()
    assert rank.height() >= station.why.heightForWidth(rank.width())
    station.take_back("wet-feed")
    assert not station.stop.isVisible()


def test_a_result_is_one_click(window: Any, qtbot: Any) -> None:
    station = opened(window, qtbot)
    station.answer_sign("smoke-idle", True)
    best = station.advice[0]
    assert station.test.name.text() == best.test.name
    assert f"{best.minutes:.0f} min" in station.test.words.text()
    button = station.test.outcomes.itemAt(1).widget()
    assert isinstance(button, QPushButton)
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert station.case.results == {best.test.key: 1}
    assert set(best.test.apart) <= set(station.case.apart)
    assert station.advice[0].test.key != best.test.key


def test_danger_is_chosen_and_things_are_put_back_on(window: Any, qtbot: Any) -> None:
    station = opened(window, qtbot)
    station.test.bar.setCurrentIndex(0)
    station.test.bar.activated.emit(0)
    assert station.case.bar == 0
    assert all(a.test.risk == 0 for a in station.advice)
    station.tell_result("plugs", 0)
    assert station.case.apart == ("plugs",)
    assert station.told.together.isVisible()
    qtbot.mouseClick(station.told.together, Qt.MouseButton.LeftButton)
    assert station.case.apart == ()
    assert station.case.results == {"plugs": 0}


def test_every_sign_can_be_answered_in_the_window(window: Any, qtbot: Any) -> None:
    station = opened(window, qtbot)
    dialog = SignsDialog(station, station.case)
    assert {s for s, _ in dialog.buttons} == set(KNOWN.signs)
    dialog.buttons["whine", "no"].click()
    assert station.case.answers == {"whine": False}
    dialog.buttons["whine", "unknown"].click()
    assert station.case.unknown == ("whine",)
    assert not dialog.buttons["whine", "no"].isChecked()
    dialog.buttons["whine", "unknown"].click()
    assert station.case.empty
    dialog.filter.setText("left bends")
    shown = [words for words, line in dialog.lines if not line.isHidden()]
    assert 1 <= len(shown) <= 3
    dialog.close()


@pytest.mark.parametrize("demo", ["coupe", "special", "van"])
def test_every_test_and_cause_of_a_plan_is_reachable(window: Any, qtbot: Any, demo: str) -> None:
    """Tests: all that this plan allows for stand in the list, those over the danger too, each outcome a button. Causes: whichever is first can be looked at and mended."""
    station = opened(window, qtbot, demo)
    assert station.belief is not None
    there = has(window.session.plan)
    dialog = TestsDialog(station, station.belief.model, station.belief, station.whole)
    names = {b.accessibleName() for b in dialog.findChildren(QPushButton)}
    for test in KNOWN.tests.values():
        if set(test.needs) <= there:
            for outcome in test.outcomes:
                assert f"Result of {test.name}: {outcome.name}" in names
    dialog.close()
    assert set(station.belief.model.keys) == {
        ELSE,
        *(k for k, c in KNOWN.causes.items() if set(c.needs) <= there),
    }


def test_a_result_out_of_the_list_and_back(window: Any, qtbot: Any) -> None:
    station = opened(window, qtbot)
    assert station.belief is not None
    dialog = TestsDialog(station, station.belief.model, station.belief, station.whole)
    name = f"Result of {KNOWN.tests['soot'].name}: soot"
    next(b for b in dialog.findChildren(QPushButton) if b.accessibleName() == name).click()
    assert station.case.results == {"soot": 1}
    assert top(station) == "exhaust-leak"
    dialog = TestsDialog(station, station.belief.model, station.belief, station.whole)
    next(b for b in dialog.findChildren(QPushButton) if b.text() == "Take it back").click()
    assert not station.case.results
    dialog.close()


def test_the_ranking_is_walked_by_keys(window: Any, qtbot: Any) -> None:
    station = opened(window, qtbot)
    station.answer_sign("smoke-idle", True)
    station.list.setFocus()
    assert station.row == 0
    qtbot.keyClick(station.list, Qt.Key.Key_Down)
    assert station.row == 1
    first = station.why.text()
    qtbot.keyClick(station.list, Qt.Key.Key_Up)
    assert station.why.text() != first
    assert len(station.bars()) == BARS
    qtbot.mouseClick(station.list, Qt.MouseButton.LeftButton, pos=QPoint(60, int(2.5 * belief_bars.ROW_PX)))
    assert station.row == 2


def test_a_click_on_the_map_looks_at_a_place(window: Any, qtbot: Any) -> None:
    station = opened(window, qtbot)
    station.answer_sign("smoke-idle", True)
    window.grab()
    made = station.canvas.made
    assert made is not None
    ranked = [KNOWN.causes[b.key].place for b in station.bars() if b.key != ELSE]
    other = next(p for p in ranked if p != station.place)
    qtbot.mouseClick(station.canvas, Qt.MouseButton.LeftButton, pos=made.at[other].toPoint())
    assert station.place == other
    assert made.spot_at(QPointF(-50.0, -50.0)) == ""


def test_a_plan_at_fault_is_mended_and_written_down(window: Any, qtbot: Any) -> None:
    """The special with a thin wire: the dialog offers a change that was tried; taken, the plan changes and the logbook has it."""
    plan = paths.put(demos.demo_plan("special"), "turbos.0.scavenge.gauge_awg", 18)
    window.session.replace(plan, None)
    window.go_to("diagnosis")
    station = window.station
    qtbot.waitUntil(lambda: station.belief is not None, timeout=60_000)
    station.answer_sign("pump-load", True)
    station.choose([b.key for b in station.bars()].index("pump-wire"))
    dialog = MendDialog(station, window.session, "pump-wire", 0.9, station.whole)
    qtbot.waitUntil(lambda: dialog.offers.count() > 0, timeout=60_000)
    take = next(b for b in dialog.findChildren(QPushButton) if b.text() == "Take it")
    take.click()
    assert window.session.plan != plan
    entry = window.session.log.entries[-1]
    assert "Diagnosis: scavenge pump starved of volts" in entry.note
    assert "Plan: " in entry.note


def test_a_repair_is_written_down_with_what_is_new(window: Any, qtbot: Any) -> None:
    station = opened(window, qtbot)
    station.answer_sign("inlet-low", True)
    dialog = MendDialog(station, window.session, "screen", 0.91, station.whole)
    words = " ".join(label.text() for label in dialog.findChildren(QLabel))
    assert KNOWN.causes["screen"].do[0] in words
    dialog.done_button.click()
    entry = window.session.log.entries[-1]
    assert entry.changed == ("screen",)
    assert entry.kind == "work"
    assert "inlet pressure lower than it was" in entry.symptoms


def test_the_case_is_there_again_with_the_plan(window: Any, qtbot: Any, tmp_path: Path) -> None:
    """Kept beside the plan file with the logbook; another plan has its own, and begun afresh it is gone."""
    file = tmp_path / "mine.gravidon"
    storage.save(demos.demo_plan("coupe"), file)
    window.open_path(file)
    window.go_to("diagnosis")
    station = window.station
    station.answer_sign("coke", True)
    station.tell_result("plugs", 0)
    kept = station.case
    book = Book(book_path(file))
    assert "coke" in book.kept("case")
    book.close()
    window.session.replace(demos.demo_plan("estate"), None)
    assert station.case == Case()
    window.open_path(file)
    assert station.case == kept
    station.begin_afresh()
    assert station.case.empty
    book = Book(book_path(file))
    assert book.kept("case") == ""
    book.close()


def test_what_the_logbook_tells_counts_and_can_be_taken_back(window: Any, qtbot: Any) -> None:
    window.open_demo("coupe")
    window.go_to("diagnosis")
    station = window.station
    qtbot.waitUntil(lambda: station.belief is not None, timeout=60_000)
    told = dict(station.answer.told)
    assert "gallery-same" in told
    assert any("(the logbook)" in label.text() for label in station.findChildren(QLabel))
    station.take_back("gallery-same")
    assert "gallery-same" not in station.whole.answers
    assert "gallery-same" in station.case.unknown


def test_a_plan_that_cannot_be_computed_says_so(
    window: Any, qtbot: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    from gravidon.desk.stations import diagnosis
    from gravidon.errors import InputError

    def broken(*_: object) -> object:
        raise InputError("oil", "none", "some")

    monkeypatch.setattr(diagnosis, "running", lambda plan: iter(()))
    monkeypatch.setattr(diagnosis, "with_log", broken)
    window.go_to("diagnosis")
    station = window.station
    station._of = None
    station.refresh()
    qtbot.waitUntil(lambda: station.answer is not None and "oil" in station.answer.instead, timeout=10_000)
    window.grab()
    assert station.bars() == []
    assert station.questions.asked == ()
    station.mend()
    station.open_tests()


# --- the map -----------------------------------------------------------------------------------


def test_the_landscape_is_highest_where_belief_is() -> None:
    """Alone, a place's height is its belief and falls off from it; the area over half its height grows with belief."""
    at = {"drain": QPointF(100.0, 100.0)}
    x, y = np.arange(0.0, 201.0)[None, :], np.arange(0.0, 201.0)[:, None]
    areas = []
    for b in (0.1, 0.4, 0.9):
        h = suspicion.height(x, y, {"drain": b}, at, 20.0)
        assert h[100, 100] == pytest.approx(b)
        assert np.unravel_index(h.argmax(), h.shape) == (100, 100)
        areas.append(int((h > 0.5 * b).sum()))
    assert areas == sorted(areas)


@pytest.mark.parametrize("demo", demos.NAMES)
def test_every_place_of_a_cause_lies_on_the_map(demo: str, qapp: object) -> None:
    """Painted in the colours of the theme: every place has a pixel of the map, and the hottest is named."""
    e = evaluate(demos.demo_plan(demo))
    there = has(e.plan)
    wanted = {c.place for c in KNOWN.causes.values() if set(c.needs) <= there}
    spots = [suspicion.Spot(p, PLACES[p], 1.0 / len(wanted), "something", 0.05) for p in sorted(wanted)]
    image = QImage(900, 520, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    made = suspicion.paint(Ink(painter, LIGHT), QRectF(0, 0, 900, 520), e, 0, spots, "drain")
    painter.end()
    assert set(made.at) == wanted
    assert all(QRectF(0, 0, 900, 520).contains(at) for at in made.at.values())
    assert len(made.rects) >= 6
    rects = list(made.rects.values())
    assert not any(a.intersects(b) for k, a in enumerate(rects) for b in rects[k + 1 :])


# --- trainer -----------------------------------------------------------------------------------


@pytest.fixture
def trainer(window: Any, qtbot: Any, tmp_path: Path) -> TrainerStation:
    window.session.replace(demos.demo_plan("coupe"), None)
    window.go_to("trainer")
    station = window.station
    assert isinstance(station, TrainerStation)
    station.record = RecordKeeper(tmp_path / "record.jsonl")
    return station


def taken(station: TrainerStation, qtbot: Any, code: str = "coupe-1-3") -> TrainerStation:
    station.take(lesson_from(code))
    qtbot.waitUntil(lambda: station.play is not None and not station.busy, timeout=60_000)
    return station


def test_a_whole_case_by_keyboard(trainer: TrainerStation, window: Any, qtbot: Any) -> None:
    """The code typed, Enter; questions and tests from the list by Enter; the cause found by typing, ticked by Space, said; the truth and the record."""
    trainer.code.setFocus()
    trainer.code.setText("")
    qtbot.keyClicks(trainer.code, "coupe-1-3")
    qtbot.keyClick(trainer.code, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: trainer.play is not None and not trainer.busy, timeout=60_000)
    assert trainer.play is not None
    assert "The owner tells of" in trainer.story.text()
    qtbot.keyClicks(trainer.work.filter, "coke")
    trainer.work.list.setFocus()
    qtbot.keyClick(trainer.work.list, Qt.Key.Key_Return)
    assert "coke" in trainer.play.case.answers
    assert trainer.play.minutes == 1.0
    qtbot.keyClick(trainer.work.mode_buttons[1], Qt.Key.Key_Space)
    qtbot.keyClicks(trainer.work.filter, "dipstick")
    trainer.work.list.setFocus()
    qtbot.keyClick(trainer.work.list, Qt.Key.Key_Return)
    assert "dipstick" in trainer.play.case.results
    assert "—" in trainer.work.list.currentItem().text()
    qtbot.keyClick(trainer.work.mode_buttons[2], Qt.Key.Key_Space)
    truth = trainer.play.sick.ills[0].cause
    row = next(
        k
        for k in range(trainer.work.list.count())
        if trainer.work.list.item(k).data(Qt.ItemDataRole.UserRole) == truth
    )
    trainer.work.list.setFocus()
    trainer.work.list.setCurrentRow(row)
    qtbot.keyClick(trainer.work.list, Qt.Key.Key_Space)
    assert trainer.work.list.item(row).checkState() == Qt.CheckState.Checked
    qtbot.keyClick(trainer.work.do, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: trainer.end is not None, timeout=60_000)
    assert KNOWN.causes[truth].name in trainer.story.text()
    assert "You found it." in trainer.story.text()
    assert [m.what for m in trainer.record.marks] == ["coupe-1-3"]
    assert RecordKeeper(trainer.record.path).marks == trainer.record.marks
    assert not trainer.work.do.isEnabled()
    window.grab()


def test_a_test_over_budget_is_refused_and_nothing_is_lost(
    trainer: TrainerStation, window: Any, qtbot: Any
) -> None:
    from dataclasses import replace

    station = taken(trainer, qtbot)
    assert station.play is not None
    station.play = replace(station.play, minutes=station.play.level.minutes - 2.0)
    station.work.show_mode(TEST)
    before = station.play
    with qtbot.waitSignal(window.session.refused):
        station.work.act()
    assert station.play == before


def test_gauges_come_alive(trainer: TrainerStation, qtbot: Any) -> None:
    station = taken(trainer, qtbot)
    assert station.live_gauges() == []
    station.situation.setCurrentIndex(3)
    station.situation.activated.emit(3)
    qtbot.waitUntil(lambda: station.shown is not None, timeout=30_000)
    first = station.live_gauges()
    assert [g.name for g in first] == ["Gallery", "Turbo's inlet", "Oil", "Engine"]
    assert first[3].value == pytest.approx(3000 / 60, rel=0.03)
    assert 1e5 < first[0].value < 6e5
    station._tick()
    assert station.live_gauges() != first
    station.situation.setCurrentIndex(0)
    station.situation.activated.emit(0)
    assert station.live_gauges() == []


def test_two_causes_are_ticked_and_said(trainer: TrainerStation, qtbot: Any) -> None:
    """Ticked ones are meant, whatever row is chosen; a third is too many, and nothing is closed."""
    station = taken(trainer, qtbot)
    work = station.work
    work.show_mode(SAY)
    for row in (2, 5):
        work.list.item(row).setCheckState(Qt.CheckState.Checked)
    said = tuple(work.list.item(row).data(Qt.ItemDataRole.UserRole) for row in (2, 5))
    work.filter.setText("nothing is called so")
    work.filter.setText("")
    assert work.list.count() > 30
    for row in (2, 5):
        work.list.item(row).setCheckState(Qt.CheckState.Checked)
    work.list.item(7).setCheckState(Qt.CheckState.Checked)
    with qtbot.waitSignal(station.session.refused):
        work.act()
    assert station.play is not None
    assert not station.play.over
    work.list.item(7).setCheckState(Qt.CheckState.Unchecked)
    work.act()
    assert station.play.guessed == said
    qtbot.waitUntil(lambda: station.end is not None, timeout=60_000)
    assert station.end is not None
    assert station.story.text() == end_words(station.play, station.end)
    assert "it was not" in station.story.text()


def test_a_new_case_and_a_wrong_code(trainer: TrainerStation, window: Any, qtbot: Any) -> None:
    qtbot.mouseClick(trainer.new, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: trainer.play is not None and not trainer.busy, timeout=60_000)
    assert trainer.play is not None
    assert trainer.code.text() == trainer.play.lesson.code
    trainer.code.setText("lorry-1-1")
    with qtbot.waitSignal(window.session.refused):
        trainer.open_code()


@pytest.mark.parametrize("skill", DRILLS)
def test_a_drill_by_mouse(trainer: TrainerStation, qtbot: Any, skill: str) -> None:
    qtbot.mouseClick(trainer.page_buttons[1], Qt.MouseButton.LeftButton)
    trainer.drills.skill.setCurrentText(skill)
    trainer.drills.next_drill()
    right = trainer.drills.drill.right
    qtbot.mouseClick(trainer.drills.answers[right], Qt.MouseButton.LeftButton)
    assert trainer.drills.why.text().startswith("Right.")
    assert trainer.record.marks[-1].points == 100
    trainer.drills.answer((right + 1) % 4)
    assert len(trainer.record.marks) == 1, "answered once, it is answered"
    qtbot.mouseClick(trainer.drills.again, Qt.MouseButton.LeftButton)
    qtbot.mouseClick(trainer.drills.answers[(trainer.drills.drill.right + 1) % 4], Qt.MouseButton.LeftButton)
    assert trainer.drills.why.text().startswith("No: ")
    assert trainer.record.marks[-1].points == 0


def test_every_sign_is_drawn_somewhere(qapp: object) -> None:
    assert all(lesson.place_of(s) in PLACES for s in KNOWN.signs)
    e = evaluate(demos.demo_plan("coupe"))
    image = QImage(800, 480, QImage.Format.Format_RGB32)
    plain = []
    for shown in ((), ("smoke-idle",), ("wet-drain", "whine")):
        image.fill(Qt.GlobalColor.white)
        painter = QPainter(image)
        lesson.paint_car(Ink(painter, LIGHT), QRectF(0, 0, 800, 480), e, 1, shown)
        painter.end()
        plain.append(image.copy())
    assert plain[0] != plain[1] != plain[2]


def test_an_ending_and_a_record_are_painted(qapp: object) -> None:
    steps = (Step("dipstick", 0, -0.3, 11.0, 0.0), Step("plugs", 1, 2.1, 25.0, 0.0))
    image = QImage(800, 480, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    ink = Ink(painter, LIGHT)
    lesson.paint_ending(ink, QRectF(0, 0, 800, 480), Ending(("guides",), ("guides",), (), steps, steps, 90))
    painter.end()
    colours = {image.pixelColor(x, y).name() for x in range(0, 800, 2) for y in range(0, 480, 2)}
    assert {LIGHT.good, LIGHT.bad} <= colours, "towards the truth and away from it have each their colour"
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    lesson.paint_record(Ink(painter, LIGHT), QRectF(0, 0, 800, 480), [Mark("2026", "x", "level 1", 40)] * 3)
    painter.end()
    assert any(
        image.pixelColor(x, y).name() == LIGHT.focus for x in range(0, 800, 2) for y in range(0, 480, 2)
    )
