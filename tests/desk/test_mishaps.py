# SPDX-License-Identifier: GPL-3.0-or-later
"""Whatever raises, wherever: the window lives, says so, and keeps the plan."""

from __future__ import annotations

import sys
from typing import Any

import pytest
from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication, QPushButton, QWidget

from gravidon.desk.canvas import Canvas
from gravidon.desk.job import Job
from gravidon.desk.mishap import MISHAPS
from gravidon.desk.stations import STATIONS


class Planted(Exception):
    """Raised on purpose."""


def raising(*_: object, **__: object) -> None:
    raise Planted("planted")


@pytest.fixture
def told(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """What was told; nothing uncaught reaches the test runner."""
    said: list[str] = []
    monkeypatch.setattr(MISHAPS, "latest", "")
    monkeypatch.setattr(sys, "excepthook", MISHAPS._uncaught)
    MISHAPS.happened.connect(said.append)
    yield said
    MISHAPS.happened.disconnect(said.append)


def painting(widget: QWidget) -> list[QWidget]:
    """Every widget in sight that paints itself in our own code."""
    every = [widget, *widget.findChildren(QWidget)]
    ours = [w for w in every if type(w).__module__.startswith("gravidon.") and w.isVisible()]
    return [w for w in ours if "paintEvent" in vars(type(w)) or isinstance(w, Canvas)]


def drawn_by(widget: QWidget) -> tuple[type, str]:
    """Return the class and the name of the function that draws a widget."""
    if isinstance(widget, Canvas):
        return type(widget), "paint"
    return type(widget), "paintEvent"


def test_every_paint_may_raise(window: Any, told: list[str], monkeypatch: pytest.MonkeyPatch) -> None:
    """On every page, every class that paints, its paint raising halfway, with the painter in a saved state: painted again three times, said, and alive."""
    seen: set[type] = set()
    for entry in STATIONS:
        window.go_to(entry.key)
        QApplication.processEvents()
        for widget in painting(window):
            kind, name = drawn_by(widget)
            if kind in seen:
                continue
            seen.add(kind)
            MISHAPS.latest = ""
            told.clear()
            with monkeypatch.context() as patch:
                if name == "paint":
                    patch.setattr(kind, "paint", lambda _s, painter: (painter.save(), raising()))
                else:
                    inner = vars(kind)["paintEvent"]
                    if not hasattr(inner, "__wrapped__"):
                        continue  # it draws by the toolkit's own painter
                    broken = type(inner)(inner.__code__, inner.__globals__, "broken", None, _cells(inner))
                    patch.setattr(kind, "paintEvent", broken)
                for _ in range(3):
                    widget.repaint()
                    QApplication.processEvents()
                QTimer.singleShot(0, lambda: None)
                QApplication.processEvents()
            assert any("Planted" in t for t in told), kind
            widget.repaint()
    assert len(seen) > 25
    assert window.session.plan is not None
    assert not window.grab().toImage().isNull()


def _cells(function: Any) -> Any:
    """Return the closure of a guarded paint with a drawing that raises."""
    import types

    return tuple(types.CellType(raising) for _ in function.__closure__)


def test_every_slot_of_a_button_may_raise(window: Any, told: list[str], qtbot: Any) -> None:
    button = QPushButton("x")
    qtbot.addWidget(button)
    button.clicked.connect(raising)
    QTimer.singleShot(0, raising)
    button.click()
    QApplication.processEvents()
    assert told
    assert window.isVisible()


def test_a_worker_may_raise(window: Any, told: list[str], qtbot: Any) -> None:
    job = Job(window)
    with qtbot.waitSignal(job.failed):
        job.start(lambda: iter([raising()]))
    assert any("Planted" in t for t in told)
    job.leave()


def test_a_drawing_that_raises_leaves_no_painter_on_its_surface(window: Any) -> None:
    from gravidon.draw.surface import painter_on

    image = QImage(10, 10, QImage.Format.Format_RGB32)
    with pytest.raises(Planted), painter_on(image):
        raise Planted
    assert not image.paintingActive()
