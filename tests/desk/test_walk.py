# SPDX-License-Identifier: GPL-3.0-or-later
"""A walk over every page: no words over words, none over an edge, none cut short."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPixmap
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot

from desk.painted import faults, painted, watched
from gravidon.desk.canvas import Canvas
from gravidon.desk.stations import STATIONS
from gravidon.desk.window import MainWindow
from gravidon.plan.demos import NAMES, demo_plan

SIZES = {"estate": ((1024, 700), (1280, 800), (1920, 1080)), "van": ((1024, 700), (1280, 800))}


@pytest.mark.parametrize("demo", NAMES)
def test_no_words_touch_on_any_page(qtbot: QtBot, window: MainWindow, demo: str) -> None:
    window.session.replace(demo_plan(demo), None)
    found: set[str] = set()
    for size in SIZES.get(demo, ((1280, 800),)):
        window.resize(*size)
        for entry in STATIONS:
            window.go_to(entry.key)
            for condition in (0, 3, 6) if size == (1280, 800) else (3,):
                window.session.choose_condition(condition)
                QApplication.processEvents()
                if condition in (0, 3):
                    qtbot.waitUntil(lambda: not window.station.busy, timeout=180_000)
                for widget in (*window.station.findChildren(Canvas), window.rail, window.deck):
                    if widget.isVisible() and widget.width() > 5:
                        found |= {f"{entry.key} {size}: {fault}" for fault in faults(widget, painted(widget))}
    assert not found, sorted(found)


def test_the_walk_sees_what_it_is_for(qtbot: QtBot) -> None:
    """Words laid over words, over the edge, and cut: all three are found."""

    class Bad(QWidget):
        def paintEvent(self, event: object) -> None:
            painter = QPainter(self)
            painter.drawText(QRectF(10, 10, 100, 20), 0, "one word")
            painter.drawText(QRectF(14, 12, 100, 20), 0, "another")
            painter.drawText(QRectF(170, 60, 100, 20), 0, "over the edge")
            metrics = painter.fontMetrics()
            painter.drawText(
                QRectF(10, 80, 100, 20),
                0,
                metrics.elidedText("much too long for it", Qt.TextElideMode.ElideRight, 30),
            )

    widget = Bad()
    widget.resize(200, 120)
    qtbot.addWidget(widget)
    with qtbot.waitExposed(widget):
        widget.show()
    said = " ".join(faults(widget, painted(widget)))
    assert "'one word' on 'another'" in said
    assert "over the edge" in said
    assert "cut: 'much too long for it'" in said


def test_nothing_stays_watched() -> None:
    """After a walk painting is as it was."""
    with watched():
        pass
    picture = QPixmap(40, 20)
    picture.fill(QColor("white"))
    painter = QPainter(picture)
    painter.drawText(2, 14, "x")
    painter.end()
    assert picture.toImage() != QPixmap(40, 20).toImage()
