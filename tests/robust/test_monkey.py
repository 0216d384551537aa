# SPDX-License-Identifier: GPL-3.0-or-later
"""A monkey at the window: keys, clicks, plans thrown in; nothing goes wrong inside, no page shows what is no number."""

from __future__ import annotations

import gc
import math
import random
import re
import traceback
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QCoreApplication, QEvent, QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QLabel, QMenu, QMessageBox, QWidget

from desk.painted import watched
from gravidon.desk import history
from gravidon.desk.mishap import MISHAPS
from gravidon.desk.stations import STATIONS
from gravidon.desk.window import MainWindow
from gravidon.errors import GravidonError
from gravidon.plan.demos import demo_plan
from gravidon.plan.fields import Known
from gravidon.sheet.shop_sheet import html_text
from gravidon.study.solve.priming import arrival
from robust.sampling import HOSTILE, random_plan
from robust.times import TIMES

KEYS = (
    *(Qt.Key.Key_Tab, Qt.Key.Key_Backtab, Qt.Key.Key_Return, Qt.Key.Key_Space, Qt.Key.Key_Escape),
    *(Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_PageDown),
    *(Qt.Key.Key_1, Qt.Key.Key_9, Qt.Key.Key_Minus, Qt.Key.Key_Period, Qt.Key.Key_Delete, Qt.Key.Key_F6),
)
NO_NUMBER = re.compile(r"\b(nan|inf)\b", re.IGNORECASE)


@pytest.fixture
def quiet(monkeypatch: pytest.MonkeyPatch) -> Iterator[list[str]]:
    """No dialog waits for a person; what goes wrong is kept."""
    wrong: list[str] = []
    monkeypatch.setattr(
        "sys.excepthook", lambda *parts: wrong.append("".join(traceback.format_exception(*parts)[-3:]))
    )
    MISHAPS.happened.connect(wrong.append)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: ("", ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: ("", ""))
    monkeypatch.setattr(QMessageBox, "question", lambda *_a, **_k: QMessageBox.StandardButton.Cancel)
    monkeypatch.setattr(QDialog, "exec", lambda _self: 0)
    monkeypatch.setattr(QMenu, "exec", lambda *_a, **_k: None)
    closer = QTimer()  # what opens by a click and waits for a person is put away
    closer.timeout.connect(_put_away)
    closer.start(20)
    yield wrong
    closer.stop()


def _put_away() -> None:
    for open_one in (QApplication.activePopupWidget(), QApplication.activeModalWidget()):
        if open_one is not None:
            open_one.close()


def texts_of(widget: QWidget) -> list[str]:
    """Return what a window shows: its labels, and what it paints."""
    with watched() as written:
        widget.grab()
    return [
        *(text for text, _ in written.texts),
        *(x.text() for x in widget.findChildren(QLabel) if x.isVisible()),
    ]


def at_rest() -> None:
    """Let happen what a running event loop would, deletions that were put off among it: events alone do not deliver those."""
    QApplication.processEvents()
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)


def test_a_monkey_finds_nothing_that_goes_wrong(window: MainWindow, quiet: list[str]) -> None:
    rnd = random.Random(31)
    window.may_leave = lambda: False  # type: ignore[method-assign]  # the monkey may not close it
    for n in range(TIMES.steps):
        act = rnd.random()
        if act < 0.08:
            window.go_to(rnd.choice(STATIONS).key)
        elif act < 0.12:
            try:
                window.session.propose(random_plan(rnd), "thrown in")
            except GravidonError:
                continue
        elif act < 0.14:
            window.session.replace(demo_plan(rnd.choice(("coupe", "van", "special", "estate"))), None)
        elif act < 0.17:
            rnd.choice(
                (window.session.undo, window.session.redo, window.look.switch_units, window.look.switch_theme)
            )()
        else:
            widgets = [w for w in window.station.findChildren(QWidget) if w.isVisible() and w.isEnabled()]
            target = rnd.choice(widgets) if widgets else window
            if act < 0.6:
                at = QPoint(rnd.randrange(max(target.width(), 1)), rnd.randrange(max(target.height(), 1)))
                QTest.mouseClick(target, Qt.MouseButton.LeftButton, pos=at)
            else:
                QTest.keyClick(QApplication.focusWidget() or target, rnd.choice(KEYS))
        at_rest()
        for other in QApplication.topLevelWidgets():
            if other is not window and other.isVisible() and not other.inherits("QTipLabel"):
                other.close()
        assert not quiet, (n, quiet)
        if n % 10 == 0:
            wrong = [t for t in texts_of(window) if NO_NUMBER.search(t)]
            assert not wrong, (n, window.station.key, wrong)


@pytest.mark.parametrize("name", ["coupe", "van", "special"])
def test_where_no_oil_comes_every_page_and_paper_says_so_in_words(
    window: MainWindow, quiet: list[str], name: str
) -> None:
    """Taps so far below the gallery that nothing arrives at a hot idle: no page, tip or paper shows an infinity."""
    plan = demo_plan(name)
    dry = tuple(t.model_copy(update={"offset_kpa": Known(value=-300.0)}) for t in plan.taps)
    window.session.replace(plan.model_copy(update={"taps": dry}), None)
    e = window.session.evaluation
    assert math.isinf(arrival(e.plan, e.supply).hot_s)
    for entry in STATIONS:
        window.go_to(entry.key)
        at_rest()
        assert not [t for t in texts_of(window) if NO_NUMBER.search(t)], entry.key
    made = html_text(e, "metric")
    assert not NO_NUMBER.search(re.sub(r"<style.*?</style>|<svg.*?</svg>", "", made, flags=re.S))
    assert "never hot" in made
    assert not quiet


def test_names_from_a_file_are_shown_as_they_are(window: MainWindow, quiet: list[str]) -> None:
    """Markup in a name is text, on every page; no page reads it as anything else."""
    name = HOSTILE[0] + HOSTILE[2] + HOSTILE[4]
    plan = demo_plan("van")
    data = plan.model_dump()
    data["name"] = name
    for line in data["turbos"]:
        line["turbo"]["label"] = name[:40]
    for k, condition in enumerate(data["conditions"]):
        condition["name"] = f"{name[:36]} {k}"
    window.session.replace(type(plan).model_validate(data), None)
    for entry in STATIONS:
        window.go_to(entry.key)
        QApplication.processEvents()
        for label in window.findChildren(QLabel):
            rich = label.textFormat() in (Qt.TextFormat.AutoText, Qt.TextFormat.RichText)
            assert not (rich and "<b>bold" in label.text()), (entry.key, label.text())
    assert not quiet


def test_many_edits_leave_no_memory_behind(
    window: MainWindow, quiet: list[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    """What lives after the second half of the edits is what lived after the first: objects by the collector's count, memory by the system's."""
    undo = history.MOST_UNDO if TIMES.edits > 1000 else 40
    monkeypatch.setattr(history, "MOST_UNDO", undo)
    window.go_to("drain")

    def edits(count: int) -> tuple[int, int]:
        for k in range(count):
            window.session.edit("line.restrictor.bore_mm", 1.0 + 0.001 * (k % 97))
            if k % 10 == 0:
                at_rest()
        at_rest()
        gc.collect()
        pages = int(Path("/proc/self/statm").read_text().split()[1])
        return len(gc.get_objects()), pages * 4096

    edits(max(TIMES.edits // 2, undo + 60))  # fills the undo list and what is kept of plans
    objects, held = edits(TIMES.edits // 2)
    objects_then, held_then = edits(TIMES.edits // 2)
    assert objects_then - objects < 0.005 * objects, (objects, objects_then)
    assert held_then - held < 40_000_000, (held, held_then)
    assert not quiet
