# SPDX-License-Identifier: GPL-3.0-or-later
"""A step of every drag by the mouse, and a change of condition at every station: the process's own CPU time.

Each figure stands beside a reference of the same run: the plan evaluated as often.
"""

import time
from collections.abc import Callable

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget

from gravidon.desk.screenshots import settle
from gravidon.desk.stations import STATIONS
from gravidon.desk.window import MainWindow
from gravidon.study.solve.evaluate import evaluate

pytestmark = pytest.mark.benchmark
STEPS = 200


def held(window: MainWindow, station: str) -> tuple[QWidget, QPointF]:
    """Return the widget under the hand at a station and where its handle is."""
    window.go_to(station)
    settle(window)
    s = window.station
    canvas = s.canvas  # type: ignore[attr-defined]
    if station == "drain":
        return canvas, canvas.handle_pixel("entry")
    if station == "entry":
        return canvas, canvas.entry_pixel()
    if station == "seat":
        return canvas, canvas.handle_pixel()
    if station == "sump":
        from gravidon.draw import pan_view

        picture = canvas.picture()
        grip = pan_view.grips(window.session.evaluation, picture)[0]
        return canvas, pan_view.frame_in(canvas.area, picture).at(grip.at)
    return canvas, canvas.area.center()


def cpu(act: Callable[[], object]) -> float:
    """Return the CPU time [ms] of the process that an act and the painting after it take."""
    start = time.process_time()
    act()
    QApplication.sendPostedEvents()
    QApplication.processEvents()
    return (time.process_time() - start) * 1e3


@pytest.mark.parametrize("station", ["drain", "entry", "seat", "sump", "restrictor"])
def test_a_step_of_a_drag(qtbot, window, capsys, station: str) -> None:  # type: ignore[no-untyped-def]
    """Wanted: median of 200 steps within 16 ms, worst within 33 ms."""
    widget, at = held(window, station)
    QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=at.toPoint())
    times = []
    for k in range(STEPS):
        turn = 2.0 * np.pi * k / 40.0
        spot = QPointF(at.x() + 12.0 * np.cos(turn) - 12.0, at.y() + 12.0 * np.sin(turn) + 0.02 * k).toPoint()
        times.append(cpu(lambda spot=spot: QTest.mouseMove(widget, spot)))
    reference = [cpu(lambda: evaluate(window.session.plan).drainage) for _ in range(20)]
    QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=at.toPoint())
    with capsys.disabled():
        print(
            f"\n{station}: step median {np.median(times):.1f} ms, worst {max(times):.1f} ms; "
            f"evaluate {np.median(reference):.1f} ms"
        )


@pytest.mark.parametrize("station", [s.key for s in STATIONS])
def test_a_change_of_condition(qtbot, window, capsys, station: str) -> None:  # type: ignore[no-untyped-def]
    """Wanted: within 30 ms at every station."""
    window.go_to(station)
    settle(window)
    times = [cpu(lambda: window.session.choose_condition(window.session.condition + 1)) for _ in range(20)]
    with capsys.disabled():
        print(f"\n{station}: change of condition median {np.median(times):.1f} ms, worst {max(times):.1f} ms")
