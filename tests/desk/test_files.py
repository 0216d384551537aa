# SPDX-License-Identifier: GPL-3.0-or-later
"""Files in the window: menus, recents, drops, closing, recovery, pictures, the sheet."""

import json
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QCloseEvent, QDropEvent
from PyQt6.QtWidgets import QApplication, QFileDialog, QMessageBox
from pytestqt.qtbot import QtBot

from gravidon.desk import application
from gravidon.desk.preferences import Preferences
from gravidon.desk.recovery import Recovery
from gravidon.desk.window import MainWindow
from gravidon.errors import ChangedOnDiskError
from gravidon.plan import storage
from gravidon.plan.demos import demo_plan

BUTTONS = QMessageBox.StandardButton


def answer(monkeypatch: pytest.MonkeyPatch, button: QMessageBox.StandardButton) -> None:
    monkeypatch.setattr(QMessageBox, "question", lambda *_: button)


def test_closing_with_unsaved_work_asks(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    """Cancel keeps the window, Save writes the file first."""
    window.session.edit("line.restrictor.bore_mm", 2.0)
    answer(monkeypatch, BUTTONS.Cancel)
    event = QCloseEvent()
    window.closeEvent(event)
    assert not event.isAccepted()
    target = tmp_path / "kept.gravidon"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    answer(monkeypatch, BUTTONS.Save)
    event = QCloseEvent()
    window.closeEvent(event)
    assert event.isAccepted()
    assert storage.load(target).turbos[0].restrictor.bore_mm == 2.0


def test_opening_with_unsaved_work_asks(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    path = tmp_path / "other.gravidon"
    storage.save(demo_plan("van"), path)
    window.session.edit("line.restrictor.bore_mm", 2.0)
    answer(monkeypatch, BUTTONS.Cancel)
    window.open_path(path)
    assert window.session.plan.name.startswith("Five")
    answer(monkeypatch, BUTTONS.Discard)
    window.open_path(path)
    assert window.session.plan.name.startswith("V6")


def test_a_dropped_file_opens(window: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "dropped.gravidon"
    storage.save(demo_plan("van"), path)
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    event = QDropEvent(
        QPointF(10, 10),
        Qt.DropAction.CopyAction,
        data,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
    window.dropEvent(event)
    assert window.session.path == path
    assert len(window.session.plan.turbos) == 2


def test_an_unwritable_place_is_said_and_nothing_is_lost(window: MainWindow, tmp_path: Path) -> None:
    (tmp_path / "file").write_text("in the way")
    window.session.edit("line.restrictor.bore_mm", 2.0)
    assert not window._save_to(tmp_path / "file" / "plan.gravidon")
    assert "cannot" in window.notice.text()
    assert window.session.unsaved


def test_the_sheet_is_saved_from_the_window(
    qtbot: QtBot, window: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    window.go_to("sheet")
    for kind, start in (("pdf", b"%PDF"), ("html", b"<!DOCTYPE html>")):
        target = tmp_path / f"sheet.{kind}"
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, t=target: (str(t), ""))
        button = window.station.pdf_button if kind == "pdf" else window.station.html_button
        qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
        assert target.read_bytes().startswith(start)
        assert target.name in window.notice.text()


@pytest.mark.parametrize("suffix", ["svg", "png"])
def test_pictures_are_exported(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path, suffix: str
) -> None:
    window.go_to("drain")
    target = tmp_path / f"drain.{suffix}"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    window.save_picture()
    assert target.stat().st_size > 5000
    window.copy_picture()
    assert not QApplication.clipboard().pixmap().isNull()


def test_menus_hold_every_command_and_the_recent_files(window: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "mine.gravidon"
    storage.save(demo_plan("van"), path)
    window.preferences.add_recent(path)
    menu = window.head.menus["Plan"].menu()
    window.head.fill("Plan", menu)
    words = [a.text() for a in menu.actions()]
    assert "Save" in words
    assert "mine.gravidon" in words
    next(a for a in menu.actions() if a.text() == "mine.gravidon").trigger()
    assert window.session.path == path
    groups = {c.group for c in window.book.commands}
    assert groups == {"Plan", "Edit", "View", "Help"}
    keys = [k for c in window.book.commands for k in c.keys.split(" or ") if k]
    assert len(keys) == len(set(keys))  # no two commands on one key


def left_behind(folder: Path, original: Path | None) -> None:
    kept = Recovery(folder)
    plan = demo_plan().model_copy(update={"name": "left behind"})
    kept.keep(plan, original)
    data = json.loads(kept.file.read_text())
    kept.file.write_text(json.dumps({**data, "pid": 2**22 + 7}))


@pytest.mark.parametrize("answered", ["bring", "drop", "later"])
def test_recovery_is_offered(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path, answered: str
) -> None:
    """Brought back it is unsaved work of its old file, and the file, written since, is not saved over unasked; thrown away only by that button. The
    question names plan, file, day, and that the file is newer; keys keep it for later."""
    folder = tmp_path / "left"
    folder.mkdir()
    old = tmp_path / "old.gravidon"
    left_behind(folder, old)
    storage.save(demo_plan("van"), old)
    said: list[tuple[str, str]] = []
    monkeypatch.setattr(application, "one_of", lambda _w, q, _a, safe: said.append((q, safe)) or answered)
    application.offer_recovery(window, folder)
    (question, safe), *_ = said
    assert safe == "later"
    assert "left behind" in question
    assert str(old) in question
    assert "written since" in question
    assert (window.session.plan.name == "left behind") == (answered == "bring")
    assert len(list(folder.glob("*.json"))) == (1 if answered == "later" else 0)
    if answered == "bring":
        assert window.session.unsaved
        assert window.session.path == old
        with pytest.raises(ChangedOnDiskError):
            window.session.save(old)


def test_the_last_plan_opens_again_and_a_lost_one_asks(
    qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    preferences = Preferences(tmp_path / "preferences.json")
    path = tmp_path / "last.gravidon"
    storage.save(demo_plan("van"), path)
    preferences.put("last", str(path))
    chosen = application.choose_plan(None, preferences)
    assert chosen is not None
    assert chosen[1] == path
    path.write_text("{")
    asked = []
    monkeypatch.setattr(application, "welcome", asked.append)
    assert application.choose_plan(None, preferences) is None
    assert asked == [preferences]
    plan, where = application.choose_plan("demo", preferences)
    assert where is None
    assert plan == demo_plan()


def test_the_welcome_choice_gives_what_was_chosen(qtbot: QtBot, tmp_path: Path) -> None:
    from gravidon.desk.dialogs import WelcomeDialog

    recent = [tmp_path / "a.gravidon"]
    dialog = WelcomeDialog(recent)
    qtbot.addWidget(dialog)
    dialog._choose("recent", recent[0])
    assert (dialog.answer, dialog.path) == ("recent", recent[0])


def test_renaming_and_leaving_the_conditions_dialog(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    from PyQt6.QtWidgets import QInputDialog

    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("  Blue estate ", True))
    window.rename()
    assert window.session.plan.name == "Blue estate"
    assert "Blue estate" in window.windowTitle()
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("", True))
    window.rename()
    assert window.session.plan.name == "Blue estate"
