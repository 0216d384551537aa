# SPDX-License-Identifier: GPL-3.0-or-later
"""A builder's kit planned from nothing with mouse and keyboard alone, the clicks counted."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QCheckBox, QComboBox, QLineEdit, QPushButton, QToolButton, QWidget
from pytestqt.qtbot import QtBot

from gravidon.desk.first_plan import FirstPlan
from gravidon.desk.stations.entry import MeansCard
from gravidon.desk.value_field import ValueField
from gravidon.desk.window import MainWindow

LEFT, CONTROL = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier


class Hand:
    """One builder's hand: every click and every typed value is counted."""

    def __init__(self, qtbot: QtBot, window: MainWindow) -> None:
        self.qtbot, self.window = qtbot, window
        self.clicks = self.typed = self.keys = 0

    def click(self, widget: QWidget, at: QPoint | None = None) -> None:
        assert widget.isVisible()
        assert widget.isEnabled()
        self.clicks += 1
        QTest.mouseClick(widget, LEFT, Qt.KeyboardModifier.NoModifier, at or widget.rect().center())
        QApplication.processEvents()

    def key(self, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        self.keys += 1
        QTest.keyClick(QApplication.focusWidget() or self.window, key, modifier)
        QApplication.processEvents()

    def type(self, field: QLineEdit, text: str) -> None:
        """Click into a field, type over what is there, Tab on."""
        self.click(field)
        field.selectAll()  # what a double click, or Tab into the field, does
        self.typed += 1
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Tab)
        QApplication.processEvents()

    def field(self, path: str) -> ValueField:
        QApplication.processEvents()
        found = [f for f in self.window.station.findChildren(ValueField) if f.path == path and f.isVisible()]
        assert found, path
        return found[0]

    def value(self, path: str, text: str) -> None:
        self.type(self.field(path), text)

    def choose(self, name: str, word: str) -> None:
        """Open a list by a click and click one of its words."""
        box = next(
            b
            for b in self.window.station.findChildren(QComboBox)
            if b.accessibleName() == name and b.isVisible()
        )
        self.clicks += 2
        assert box.findText(word) >= 0
        box.setCurrentText(word)
        box.textActivated.emit(word)
        QApplication.processEvents()

    def button(self, words: str) -> QWidget:
        return next(
            b
            for kind in (QToolButton, QPushButton)
            for b in self.window.station.findChildren(kind)
            if b.text().startswith(words) and b.isVisible()
        )

    def station(self, name: str) -> None:
        """Go to a page by its own key."""
        self.window.go_to(name)
        self.keys += 1
        QApplication.processEvents()

    def remedied(self) -> None:
        self.qtbot.waitUntil(lambda: self.window.session.remedies_done, timeout=60_000)


def answers(hand: Hand) -> None:
    """The first questions, by keyboard alone; the rest is answered in the stations."""
    dialog = next(w for w in QApplication.topLevelWidgets() if isinstance(w, FirstPlan))
    for field, text in (
        (dialog.idle, "18 psi"),
        (dialog.speed, "55 psi"),
        (dialog.rpm, "3500"),
        (dialog.tapes["over_rail_mm"][1], "252 mm"),
    ):
        field.setFocus()
        field.selectAll()
        hand.typed += 1
        QTest.keyClicks(field, text)
    hand.clicks += 1
    dialog._make()
    if dialog.plan is None:  # nothing may hang the test: a refused answer is seen below
        dialog.reject()


def feed_side(hand: Hand) -> None:
    """Relief, readings, the block's thread, the hose, the flange's hole."""
    window = hand.window
    hand.station("car")
    hand.value("engine.relief_kpa", "65 psi")
    table = window.station.table
    for row, texts in ((0, ("900", "95 C", "18 psi")), (2, ("6000", "110 C", "62 psi"))):
        if row == 2:
            hand.click(hand.button("Add a reading"))
        for column, text in enumerate(texts):
            table.setCurrentCell(row, column)
            hand.clicks += column == 0  # Tab walks on
            table.item(row, column).setText(text)
            hand.typed += 1
    assert [round(r.pressure_kpa / 6.894757) for r in window.session.plan.engine.readings] == [18, 55, 62]

    hand.station("tap")
    hand.choose("Thread in the engine", "1/8 BSPT")

    hand.station("feed")
    hose = next(s.path for s in window.station.steps if "hose" in s.name)
    window.station.select(hose)
    hand.clicks += 1
    hand.value(f"{hose}.length_mm", "1000 mm")

    hand.station("restrictor")
    box = next(b for b in window.station.findChildren(QCheckBox) if "lange" in b.text())
    hand.click(box, QPoint(8, box.height() // 2))
    hand.value("line.flange_hole.bore_mm", "0.030 in")
    assert window.session.line.flange_hole.bore_mm == pytest.approx(0.762, abs=0.001)


def way_home(hand: Hand) -> None:
    """Pan, the turbo's place, two hose ends, two things in the way, the entry."""
    window = hand.window
    hand.station("sump")
    hand.value("sump.boxes.0.depth_mm", "95 mm")
    hand.value("sump.fill_l", "4.5 L")

    hand.station("drain")
    hand.click(window.station.canvas, window.station.canvas.handle_pixel("turbo").toPoint())
    hand.value("line.turbo.drain_flange.z_mm", "240 mm")
    hand.value("line.turbo.drain_flange.y_mm", "180 mm out")
    assert window.session.line.turbo.drain_flange.y_mm == pytest.approx(-310.0)
    window.station.add_piece("turbo")
    window.station.add_piece("pan")
    hand.clicks += 4  # Add, its line; twice
    for kind, height, across in (
        ("chafe", "20 mm over", "200 mm out"),
        ("solid", "120 mm over", "60 mm out"),
    ):
        window.station.add_shape(kind)
        hand.clicks += 2
        k = len(window.session.plan.shapes) - 1
        hand.value(f"shapes.{k}.corner.z_mm", height)
        hand.value(f"shapes.{k}.corner.y_mm", across)

    hand.station("entry")
    hand.click(next(c for c in window.station.findChildren(MeansCard) if c.name == "tapped").button)
    hand.click(window.station.fold.line)
    hand.choose("Thread in the pan", "3/8 NPT")
    hand.choose("Thread of the fitting", "3/8 NPT")


def test_the_kit_is_planned_to_a_plan_that_holds(qtbot: QtBot, window: MainWindow) -> None:
    """A used journal turbo on the right, 18/55/62 psi, a 0.030 in inlet flange, 1/8 BSPT block, -10 drain with 45° ends,
    3/8 NPT entry fitting, a bar and a line in the way: sixty clicks at most, no bad finding at the end."""
    hand = Hand(qtbot, window)
    window.session.set_look(family="psi mm C")
    refused: list[str] = []
    window.session.refused.connect(refused.append)
    QTimer.singleShot(300, lambda: answers(hand))
    window.new_plan()
    hand.keys += 1  # Ctrl+N
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    plan = window.session.plan
    assert plan.name == "My plan"

    feed_side(hand)
    way_home(hand)
    pressed = 0
    for _ in range(12):
        hand.remedied()
        if not any(f.severity == "bad" for f in window.session.findings):
            break
        hand.key(Qt.Key.Key_Return, CONTROL)
        pressed += 1
    hand.remedied()
    bad = [f.title for f in window.session.findings if f.severity == "bad"]
    assert bad == []
    assert refused == []
    assert window.session.plan.engine.relief_kpa.value == pytest.approx(448.2, abs=0.1)
    assert window.sentence.text().startswith(("Passes", "1 warning", "2 warnings", "3 warnings"))
    assert pressed <= 6
    assert hand.clicks <= 60
    assert hand.typed <= 30
