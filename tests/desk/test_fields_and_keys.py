# SPDX-License-Identifier: GPL-3.0-or-later
"""Every number field of every station, the deck, the command search, the keys: by keys and clicks alone."""

import math
import re
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QContextMenuEvent, QWheelEvent
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QLabel, QMenu
from pytestqt.qtbot import QtBot

from gravidon.desk import output
from gravidon.desk.commands import CommandSearch, ShortcutSheet
from gravidon.desk.stations import STATIONS
from gravidon.desk.value_field import BASIS_WORDS, ValueField
from gravidon.desk.window import MainWindow
from gravidon.plan import paths
from gravidon.plan.fields import Known

LEFT = Qt.MouseButton.LeftButton
CONTROL = Qt.KeyboardModifier.ControlModifier


def type_into(qtbot: QtBot, field: ValueField, text: str) -> None:
    field.setFocus()
    field.selectAll()
    if text.isascii():
        qtbot.keyClicks(field, text)
    else:  # simulated keys know ASCII alone; this is what pasting does
        field.insert(text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def fields_of(window: MainWindow) -> list[ValueField]:
    return [f for f in window.station.findChildren(ValueField) if f.isVisible() and f.isEnabled()]


def moved(a: object, b: object, share: float, at: str = "") -> list[str]:
    """Where two plans dumped to plain data differ, numbers by more than a share of their size (or that in units)."""
    if isinstance(a, dict) and isinstance(b, dict) and a.keys() == b.keys():
        return [m for k in a for m in moved(a[k], b[k], share, f"{at}.{k}")]
    if isinstance(a, list | tuple) and isinstance(b, list | tuple) and len(a) == len(b):
        return [m for k, (x, y) in enumerate(zip(a, b, strict=True)) for m in moved(x, y, share, f"{at}.{k}")]
    if isinstance(a, float) and isinstance(b, float) and math.isclose(a, b, rel_tol=share, abs_tol=share):
        return []
    said_measured = isinstance(a, str) and isinstance(b, str) and {a, b} <= set(BASIS_WORDS)
    return [] if a == b or said_measured else [f"{at}: {a} to {b}"]


@pytest.mark.parametrize("key", [s.key for s in STATIONS])
@pytest.mark.parametrize("name", ["estate", "special"])
def test_nonsense_in_any_field_is_named_and_changes_nothing(
    qtbot: QtBot, window: MainWindow, name: str, key: str
) -> None:
    """Words, other kinds' units and numbers beyond all bounds: refused with the field's own name, nothing is lost."""
    window.open_demo(name)
    window.go_to(key)
    for field in fields_of(window):
        label = paths.spec_at(window.session.plan, field.place).label
        for text in ("some", "1e999", "-1e30", "3 parsec", "5 mm kPa", "nan", "1 2 3 4"):
            before = window.session.plan
            with qtbot.waitSignal(window.session.refused, timeout=1000) as refused:
                type_into(qtbot, field, text)
            assert window.session.plan is before, (label, text)
            assert label in refused.args[0], (label, text, refused.args)
            assert field.text() == text  # what was typed stays there to be mended
            assert field.property("wrong")
            qtbot.keyClick(field, Qt.Key.Key_Escape)
            assert field.text() == field._shown()
            assert not field.property("wrong")


@pytest.mark.parametrize("family", ["metric", "imperial"])
@pytest.mark.parametrize("key", [s.key for s in STATIONS if s.key != "sheet"])
def test_typing_back_what_is_shown_moves_nothing(
    qtbot: QtBot, window: MainWindow, key: str, family: str
) -> None:
    """In both families the text a field shows is input it takes; the plan moves by the display's rounding at most."""
    if window.session.family != family:
        window.look.switch_units()
    assert window.session.family == family
    window.go_to(key)
    start = window.session.plan.model_dump()
    for field in fields_of(window):
        type_into(qtbot, field, field.text())
        assert not field.property("wrong"), (field.accessibleName(), field.text())
    assert moved(start, window.session.plan.model_dump(), 0.06) == []


@pytest.mark.parametrize(
    ("text", "in_mm"),
    [("1 in", 25.4), ("3/8 in", 9.525), ("0.5 ft", 152.4), ("12 cm", 120.0), ("0,2 m", 200.0)],
)
def test_any_unit_of_length_is_taken(qtbot: QtBot, window: MainWindow, text: str, in_mm: float) -> None:
    """25.4 mm to the inch exactly (international yard and pound agreement, 1959)."""
    window.go_to("drain")
    field = next(f for f in fields_of(window) if f.path.endswith("min_bend_mm"))
    type_into(qtbot, field, text)
    assert window.session.line.drain.min_bend_mm.value == pytest.approx(in_mm)


def test_how_a_value_is_known_is_walked_by_a_key_and_chosen_from_the_menu(
    qtbot: QtBot, window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    window.go_to("drain")
    field = next(f for f in fields_of(window) if f.path.endswith("min_bend_mm"))

    def basis() -> str:
        known = paths.get(window.session.plan, field.place)
        assert isinstance(known, Known)
        return known.basis

    start, seen = basis(), []
    for _ in BASIS_WORDS:
        qtbot.keyClick(field, Qt.Key.Key_G, CONTROL)
        seen.append(basis())
        assert BASIS_WORDS[seen[-1]] in field.toolTip()  # type: ignore[index]
        assert bool(field.property("guess")) == (seen[-1] == "guess")
    assert set(seen) == set(BASIS_WORDS)
    assert seen[-1] == start
    for _ in BASIS_WORDS:
        window.session.undo()
    assert basis() == start

    def choose(menu: QMenu, _at: QPoint) -> None:
        ticked = [a.text() for a in menu.actions() if a.isChecked()]
        assert ticked == [BASIS_WORDS[basis()].capitalize()]  # type: ignore[index]
        next(a for a in menu.actions() if a.text() == BASIS_WORDS["maker"].capitalize()).trigger()

    monkeypatch.setattr(QMenu, "exec", choose)
    field.contextMenuEvent(QContextMenuEvent(QContextMenuEvent.Reason.Mouse, QPoint(3, 3), QPoint(3, 3)))
    assert basis() == "maker"


def test_a_field_without_a_basis_takes_no_tolerance(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("restrictor")
    field = next(
        f for f in fields_of(window) if not isinstance(paths.get(window.session.plan, f.place), Known)
    )
    before = window.session.plan
    with qtbot.waitSignal(window.session.refused, timeout=1000) as refused:
        type_into(qtbot, field, f"{field.text()} ± 0.1")
    assert "tolerance" in refused.args[0]
    assert window.session.plan is before


# --- the deck ------------------------------------------------------------------------------------


def wheel(widget: object, down: bool) -> None:
    turn = QPoint(0, -120 if down else 120)
    event = QWheelEvent(
        QPointF(40, 40),
        QPointF(40, 40),
        QPoint(),
        turn,
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(widget, event)  # type: ignore[arg-type]


def test_a_narrow_deck_scrolls_to_its_ends_and_no_further(qtbot: QtBot, window: MainWindow) -> None:
    deck = window.deck
    deck.resize(420, deck.height())
    deck.setFocus()
    hidden = len(deck.tags) - deck._shown()
    assert hidden > 0
    for _ in range(len(deck.tags) + 3):
        wheel(deck, down=True)
    assert deck.first == hidden
    last = deck.tag_rect(len(deck.tags) - 1)
    assert last.right() <= deck.width()
    qtbot.mouseClick(deck, LEFT, pos=last.center().toPoint())
    assert window.session.condition == len(deck.tags) - 1
    for _ in range(len(deck.tags) + 3):
        wheel(deck, down=False)
    assert deck.first == 0
    qtbot.keyClick(deck, Qt.Key.Key_Right)  # from the last round to the first
    assert window.session.condition == 0
    qtbot.keyClick(deck, Qt.Key.Key_Left)
    assert window.session.condition == len(deck.tags) - 1


@pytest.mark.parametrize("how", ["double click", "Return"])
def test_the_deck_opens_the_conditions(qtbot: QtBot, window: MainWindow, how: str) -> None:
    window.deck.edit_asked.disconnect()  # the dialog itself is tested elsewhere
    with qtbot.waitSignal(window.deck.edit_asked, timeout=1000):
        window.deck.setFocus()
        if how == "Return":
            qtbot.keyClick(window.deck, Qt.Key.Key_Return)
        else:
            qtbot.mouseDClick(window.deck, LEFT, pos=window.deck.tag_rect(2).center().toPoint())


# --- commands and keys ---------------------------------------------------------------------------


def test_a_command_is_found_and_run_without_the_mouse(qtbot: QtBot, window: MainWindow) -> None:
    search = CommandSearch(window.book, window)
    qtbot.addWidget(search)
    search.show()
    everything = search.list.count()
    assert everything >= len(STATIONS)
    qtbot.keyClicks(search.line, "theme")
    assert 0 < search.list.count() < everything
    theme = window.session.theme
    search.line.clear()
    for _ in range(everything):
        qtbot.keyClick(search, Qt.Key.Key_Down)
    assert search.list.currentRow() == everything - 1
    for _ in range(everything):
        qtbot.keyClick(search, Qt.Key.Key_Up)
    assert search.list.currentRow() == 0
    qtbot.keyClicks(search.line, "dark theme")
    qtbot.keyClick(search.line, Qt.Key.Key_Return)
    assert search.result() == QDialog.DialogCode.Accepted
    assert window.session.theme != theme


def test_a_search_that_finds_nothing_runs_nothing(qtbot: QtBot, window: MainWindow) -> None:
    search = CommandSearch(window.book, window)
    qtbot.addWidget(search)
    before = window.session.plan
    qtbot.keyClicks(search.line, "no such command")
    qtbot.keyClick(search.line, Qt.Key.Key_Return)
    assert window.session.plan is before


def test_the_key_sheet_holds_every_key(qtbot: QtBot, window: MainWindow) -> None:
    sheet = ShortcutSheet(window.book, window)
    qtbot.addWidget(sheet)
    text = "".join(label.text() for label in sheet.findChildren(QLabel))
    keys = [c.keys for c in window.book.commands if c.keys]
    assert len(keys) > 10
    assert [k for k in keys if f"<b>{k}</b>" not in text] == []


# --- files the window cannot write ------------------------------------------------------------------


@pytest.mark.parametrize("suffix", ["svg", "png"])
def test_a_picture_that_cannot_be_written_is_said(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path, suffix: str
) -> None:
    (tmp_path / "file").write_text("in the way")
    target = tmp_path / "file" / f"drain.{suffix}"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    window.go_to("drain")
    window.save_picture()
    assert window.notice.text() == f"drain.{suffix} cannot be written."


def test_a_sheet_that_cannot_be_written_is_said_and_turning_back_says_nothing(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    (tmp_path / "file").write_text("in the way")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "file" / "sheet.pdf"), ""))
    said = output.save_sheet(window, window.session, tmp_path, "pdf")
    assert said is not None
    assert "sheet.pdf" in said
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: ("", ""))
    assert output.save_sheet(window, window.session, tmp_path, "pdf") is None
    assert output.save_picture(window, window, "drain", tmp_path) is None


@pytest.mark.parametrize("name", ["a/b\\c:d*?", "  two   words ", "..", "x" * 300, "größer № 5"])
def test_suggested_file_names_are_plain(name: str) -> None:
    suggested = output.file_name(name)
    assert suggested
    assert len(suggested) <= 60
    assert not re.search(r"[/\\:*?\"<>|.]", suggested)
    assert suggested == suggested.strip()


def test_tab_leaves_every_table(window: MainWindow, qtbot: QtBot) -> None:
    """A table kept the keyboard for good: Tab went from cell to cell for ever, and what follows was out of reach."""
    from gravidon.desk.table import Table

    seen = 0
    for entry in STATIONS:
        window.go_to(entry.key)
        for table in window.station.findChildren(Table):
            if not table.isVisible() or not table.rowCount():
                continue
            table.setFocus(Qt.FocusReason.TabFocusReason)
            table.setCurrentCell(0, 0)
            for key in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
                table.setFocus(Qt.FocusReason.TabFocusReason)
                qtbot.keyClick(table, key)
                at = window.focusWidget()
                assert at is not table, entry.key
                assert not table.isAncestorOf(at), entry.key
            seen += 1
    assert seen >= 3


def test_f6_walks_the_parts_of_the_window(window: MainWindow, qtbot: QtBot) -> None:
    """Six presses come round, each in another part; Shift+F6 goes back; from the rail it is one key to the station."""
    window.go_to("feed")
    window.findings.hide()
    parts = [p for p in (window.head, window.band, window.rail, window.station, window.deck) if p.isVisible()]

    def part() -> int:
        at = window.focusWidget()
        return next(k for k, p in enumerate(parts) if p is at or p.isAncestorOf(at))

    window.rail.setFocus()
    qtbot.keyClick(window, Qt.Key.Key_F6)
    assert parts[part()] is window.station
    walked = [part()]
    for _ in range(len(parts)):
        qtbot.keyClick(window, Qt.Key.Key_F6)
        walked.append(part())
    assert walked[0] == walked[-1]
    assert set(walked) == set(range(len(parts)))
    qtbot.keyClick(window, Qt.Key.Key_F6, Qt.KeyboardModifier.ShiftModifier)
    assert parts[part()] is window.rail
