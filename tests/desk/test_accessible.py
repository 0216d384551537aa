# SPDX-License-Identifier: GPL-3.0-or-later
"""What assistive technology and the keyboard get of every page. Rules: WCAG 2.2 (2.1.1, 2.4.3, 2.4.7, 2.5.8, 1.4.1, 1.4.3, 1.4.11, 4.1.2)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QRect, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLabel,
    QLineEdit,
    QScrollBar,
    QToolButton,
    QWidget,
)
from pytestqt.qtbot import QtBot

from gravidon.desk.box import namer
from gravidon.desk.canvas import Canvas
from gravidon.desk.picture_fields import PictureField
from gravidon.desk.regions import first_place
from gravidon.desk.stations import STATIONS
from gravidon.desk.theme import PALETTES
from gravidon.desk.value_field import ValueField
from gravidon.desk.voices import Choice, Press, Words
from gravidon.desk.window import MainWindow
from gravidon.draw.style import Palette
from gravidon.plan.demos import demo_plan
from gravidon.study.making.parts_list import runs

LEAST_TARGET = 24
"""[px] least size of what can be pressed (WCAG 2.2, 2.5.8)."""
MOST_TABS = 5


def pages(window: MainWindow) -> Iterator[str]:
    for entry in STATIONS:
        window.go_to(entry.key)
        QApplication.processEvents()
        yield entry.key


def in_sight(window: QWidget) -> list[QWidget]:
    return [
        w for w in window.findChildren(QWidget) if w.isVisible() and not isinstance(w, (Choice, Press, Words))
    ]


def takes_tab(widget: QWidget) -> bool:
    return bool(widget.focusPolicy().value & Qt.FocusPolicy.TabFocus.value) and widget.isEnabled()


def name_of(widget: QWidget) -> str:
    """What a screen reader on Linux says of a widget: a choice is named by its label alone."""
    if isinstance(widget, QComboBox):
        return namer(widget)
    text = widget.text() if isinstance(widget, QAbstractButton) else ""
    return widget.accessibleName() or text or namer(widget)


def test_everything_that_takes_the_keyboard_has_a_name(window: MainWindow) -> None:
    window.session.replace(demo_plan("van"), None)
    window.toggle_findings()
    nameless: list[str] = []
    for key in pages(window):
        for widget in in_sight(window):
            inner = isinstance(widget, QLineEdit) and isinstance(widget.parentWidget(), QComboBox)
            if takes_tab(widget) and not inner and not name_of(widget).strip():
                nameless.append(f"{key}: {type(widget).__name__} {widget.objectName()}")
    assert not nameless


def test_every_drawing_tells_what_it_shows(qtbot: QtBot, window: MainWindow) -> None:
    silent: list[str] = []
    for key in pages(window):
        qtbot.waitUntil(lambda: not window.station.busy, timeout=180_000)
        for canvas in window.station.findChildren(Canvas):
            if not canvas.isVisible() or canvas.height() < 10:
                continue
            canvas.grab()
            canvas.telling.now()
            words = [w for w in canvas.findChildren(Words) if w.isVisible()]
            if not (words and canvas.accessibleName()):
                silent.append(f"{key}: {canvas.accessibleName()}")
            assert all(not w.grab().isNull() for w in words[:1])
    assert not silent


def test_rail_and_deck_speak_of_every_station_and_condition(window: MainWindow) -> None:
    """Each is one of several, told with its verdict; the chosen one is; pressing one goes there; a new verdict is a new name."""
    rail = window.rail.findChildren(Choice)
    assert [c.accessibleName() for c in rail] == [s.name for s in STATIONS]
    assert [c.isChecked() for c in rail].count(True) == 1
    rail[2].click()
    assert window.station.key == STATIONS[2].key
    assert window.rail.findChildren(Choice)[2].isChecked()
    deck = window.deck.findChildren(Choice)
    assert len(deck) == len(window.session.plan.conditions)
    deck[3].click()
    assert window.session.condition == 3
    assert "full load" in deck[3].accessibleName()
    assert "fails" in deck[3].accessibleName()
    before = deck[3].accessibleName()
    window.session.edit("line.restrictor.bore_mm", 2.0)
    assert window.deck.findChildren(Choice)[3].accessibleName() != before


def test_what_the_mouse_reads_the_keyboard_reads_with_a_cross(window: MainWindow) -> None:
    """On the operating map Alt and arrows read the same words as the mouse; Escape puts the cross away."""
    window.go_to("map")
    QApplication.processEvents()
    canvas = window.station.canvas
    canvas.setFocus()
    canvas.telling.now()
    plain = canvas.accessibleDescription()
    QTest.keyClick(canvas, Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
    at = canvas.cross
    assert at is not None
    QTest.keyClick(
        canvas, Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier | Qt.KeyboardModifier.ShiftModifier
    )
    assert canvas.cross.x() == at.x() + 2.0
    assert canvas.accessibleDescription() != plain
    told = canvas.accessibleDescription()
    canvas.move_cross(canvas.cross)  # the same place again reads the same
    assert canvas.accessibleDescription() == told
    read = told.split("; ")
    assert any(any(ch.isdigit() for ch in text) for text in read)
    QTest.keyClick(canvas, Qt.Key.Key_Escape)
    assert canvas.cross is None
    assert canvas.accessibleDescription() == plain


def test_targets_are_large_enough(window: MainWindow) -> None:
    small: set[str] = set()
    for key in pages(window):
        for widget in in_sight(window):
            inner = isinstance(widget.parentWidget(), (QComboBox, QScrollBar)) or isinstance(
                widget, QScrollBar
            )
            kinds = (QAbstractButton, QComboBox, QLineEdit)
            if not isinstance(widget, kinds) or inner or not widget.visibleRegion().boundingRect().isValid():
                continue
            if isinstance(widget, QToolButton) and widget.objectName() == "qt_toolbar_ext_button":
                continue
            if min(widget.width(), widget.height()) < LEAST_TARGET:
                small.add(
                    f"{key}: {type(widget).__name__} {name_of(widget)!r} {widget.width()}x{widget.height()}"
                )
    assert not small, sorted(small)


def test_a_stations_first_value_is_few_tabs_from_the_rail(window: MainWindow) -> None:
    """Counted in the order of Tab; a station without fields is reached at its first place."""
    far: list[str] = []
    for key in pages(window):
        tabs, at = 0, window.rail.nextInFocusChain()
        has_fields = any(f.isVisible() for f in window.station.findChildren(ValueField))
        while at is not None and at is not window.rail:
            if at.isVisible() and takes_tab(at):
                tabs += 1
                inside = window.station.isAncestorOf(at)
                if inside and (isinstance(at, (ValueField, Canvas)) or not has_fields):
                    break
            at = at.nextInFocusChain()
        else:
            far.append(f"{key}: never")
        if tabs > MOST_TABS:
            far.append(f"{key}: {tabs}")
    assert not far


def test_the_focus_is_never_out_of_sight(window: MainWindow) -> None:
    """Tab through the whole window with the list of findings open: whatever has the keyboard can be seen."""
    window.toggle_findings()
    window.go_to("drain")
    window.rail.setFocus()
    hidden: set[str] = set()
    for _ in range(150):
        QTest.keyClick(QApplication.focusWidget() or window, Qt.Key.Key_Tab)
        QApplication.processEvents()
        widget = QApplication.focusWidget()
        assert widget is not None
        if widget.visibleRegion().isEmpty():
            hidden.add(f"{type(widget).__name__} {name_of(widget)!r}")
    assert not hidden


def test_focus_shows_on_a_checked_button(window: MainWindow) -> None:
    window.go_to("drain")
    button = next(b for b in window.station.findChildren(QAbstractButton) if b.isChecked() and b.isVisible())
    window.rail.setFocus()
    QApplication.processEvents()
    without = button.grab().toImage()
    button.setFocus(Qt.FocusReason.TabFocusReason)
    QApplication.processEvents()
    assert button.grab().toImage() != without


def test_f6_reaches_every_region(window: MainWindow) -> None:
    window.toggle_findings()
    regions = (window.head, window.band, window.rail, window.station, window.findings, window.deck)
    reached = set()
    for _ in regions:
        window.next_region(1)
        now = QApplication.focusWidget()
        reached |= {k for k, r in enumerate(regions) if r is now or r.isAncestorOf(now)}
    assert reached == {k for k, r in enumerate(regions) if first_place(r) is not None}


# --- colours ---------------------------------------------------------------------------------


def linear(colour: str) -> np.ndarray:
    c = np.array([int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)])
    return np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4)


def contrast(one: str, other: str) -> float:
    """WCAG 2.2, relative luminance."""
    weights = np.array([0.2126, 0.7152, 0.0722])
    a, b = sorted((float(weights @ linear(one)), float(weights @ linear(other))))
    return (b + 0.05) / (a + 0.05)


DEUTAN = np.array(
    [[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413], [-0.011820, 0.042940, 0.968881]]
)
"""Machado, Oliveira, Fernandes 2009, deuteranopia (severity 1.0)."""
XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])


def lab(light: np.ndarray) -> np.ndarray:
    """CIELAB under D65 (CIE 15)."""
    x = XYZ @ np.clip(light, 0, 1) / np.array([0.9505, 1.0, 1.089])
    f = np.where(x > 0.008856, np.cbrt(x), 7.787 * x + 16 / 116)
    return np.array([116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2])])


def grounds(p: Palette) -> tuple[str, str, str]:
    return p.paper, p.sheet, p.raised


@pytest.mark.parametrize("palette", PALETTES.values(), ids=list(PALETTES))
def test_contrast_of_every_theme(palette: Palette) -> None:
    text, edge = (7.0, 4.5) if palette.name.startswith("clear") else (4.5, 3.0)
    for ground in grounds(palette):
        for ink in ("ink", "faint", "good", "watch", "bad", "heat", "focus"):
            assert contrast(getattr(palette, ink), ground) >= text, (ink, ground)
        assert contrast(palette.edge, ground) >= edge
        assert contrast(palette.focus, ground) >= 3.0


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_what_a_field_on_a_drawing_is_called_is_read_on_whatever_it_stands(
    window: MainWindow, theme: str
) -> None:
    """WCAG 2.2, 1.4.3, on every pixel round the words of every caption: under it may be oil, iron or a hatch."""
    window.session.set_look(theme=theme)
    window.resize(1280, 800)
    palette, seen = PALETTES[theme], 0
    for key in pages(window):
        for made in window.station.findChildren(PictureField):
            if not made.isVisible():
                continue
            corner = made.caption.mapTo(window, QPoint(0, 0))
            picture = window.grab().copy(QRect(corner, made.caption.size())).toImage()
            rim = {picture.pixelColor(x, picture.height() - 1).name() for x in range(picture.width())}
            assert all(contrast(palette.ink, ground) >= 4.5 for ground in rim), (key, made.spot.path, rim)
            seen += 1
    assert seen > 30


@pytest.mark.parametrize("palette", PALETTES.values(), ids=list(PALETTES))
def test_verdicts_differ_to_every_eye(palette: Palette) -> None:
    """In deuteranopia by 10 units of CIELAB at least, in grey by 5 of lightness in the everyday themes; the drop's shape and the word tell it besides."""
    colours = [palette.good, palette.watch, palette.bad]
    for k, one in enumerate(colours):
        for other in colours[k + 1 :]:
            seen = [lab(DEUTAN @ linear(c)) for c in (one, other)]
            grey = abs(lab(linear(one))[0] - lab(linear(other))[0])
            if not palette.name.startswith("clear"):
                assert grey > 5.0, (one, other, grey)
                assert np.linalg.norm(seen[0] - seen[1]) > 10.0, (one, other)


def test_the_theme_follows_the_system_while_it_is_asked_to(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    hints = QApplication.styleHints()
    assert hints is not None
    monkeypatch.setattr("gravidon.desk.theme.system_theme", lambda _: "dark")
    window.look._system_changed()
    assert window.session.theme == "light"  # the builder's own choice stands
    window.look.follow_system()
    assert window.session.theme == "dark"
    assert window.preferences.get("theme", "") == "system"
    monkeypatch.setattr("gravidon.desk.theme.system_theme", lambda _: "clear light")
    window.look._system_changed()
    assert window.session.theme == "clear light"
    window.look.switch_contrast()
    assert window.session.theme == "light"
    assert window.preferences.get("theme", "") == "light"


def test_everything_larger_is_kept_for_the_next_start(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    from gravidon.desk import zoom

    monkeypatch.delenv("QT_SCALE_FACTOR", raising=False)
    window.look.show_larger(1)
    window.look.show_larger(1)
    assert window.look.sizing.isActive()  # further steps are waited for: nothing is asked
    window.look.sizing.stop()
    assert zoom.kept(window.preferences) == 130
    zoom.apply(window.preferences)
    import os

    assert os.environ["QT_SCALE_FACTOR"] == "1.3"
    window.preferences.values[zoom.KEY] = 4000
    assert zoom.kept(window.preferences) == 100
    monkeypatch.delenv("QT_SCALE_FACTOR", raising=False)


def test_a_new_size_keeps_work_page_and_condition(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch, qtbot: QtBot
) -> None:
    """The window that comes again has the unsaved plan, the page and the condition of the one before; no question is asked."""
    from gravidon.desk import zoom
    from gravidon.desk.application import make_window
    from gravidon.desk.recovery import Recovery, recovered

    started: list[list[str]] = []
    monkeypatch.setattr(
        zoom.QProcess, "startDetached", lambda _exe, given: (started.append(given) or True, 1)
    )
    monkeypatch.setenv(zoom.GOES_ON, "")
    window.go_to("seat")
    window.session.edit("name", "Not saved yet", "rename")
    window.session.choose_condition(3)
    window.look._come_again()
    assert started
    assert not window.isVisible()
    before = zoom.goes_on()
    assert before is not None
    assert before.unsaved
    kept = recovered(before.kept)
    assert kept is not None
    other = make_window(demo_plan("van"), None, window.preferences, Recovery(before.kept.parent))
    qtbot.addWidget(other)
    other.bring_back(kept, saved=not before.unsaved)
    other.session.choose_condition(before.condition)
    assert (other.session.plan.name, other.station.key, other.session.condition) == (
        "Not saved yet",
        "seat",
        3,
    )
    assert other.session.unsaved
    assert not before.kept.exists()  # the second window keeps it in a file of its own
    other.leave_as_it_is()


def test_the_handbook_leaves_the_menus_and_goes_by_the_keys_that_brought_it(window: MainWindow) -> None:
    window.resize(1024, 700)
    window.show()
    window.show_help()
    assert window.handbook is not None
    assert window.handbook.isFloating()
    window.show_help()
    assert not window.handbook.isVisible()
    window.show_help()
    QTest.keyClick(window.handbook, Qt.Key.Key_Escape)
    assert not window.handbook.isVisible()
    window.resize(1500, 800)
    window.show_help()
    assert not window.handbook.isFloating()


def test_words_without_a_face_paint_nothing(qtbot: QtBot, window: MainWindow) -> None:
    """A drawing looks the same with and without its voices."""
    window.go_to("restrictor")
    canvas = window.station.canvas
    canvas.telling.voices.tell([])
    QApplication.processEvents()
    without = canvas.grab().toImage()
    canvas.telling.now()
    assert canvas.findChildren(QLabel)
    assert canvas.grab().toImage() == without


def test_a_changed_verdict_is_told_where_the_keyboard_is(window: MainWindow) -> None:
    """The sentence of the band becomes the description of the focused widget, once it rests; its own one comes back."""
    window.show()
    window.activateWindow()
    window.rail.setFocus()
    QApplication.processEvents()
    window.announcer.now()
    own = "the rail's own"
    window.rail.setAccessibleDescription(own)
    window.announcer._own = None
    window.session.edit("turbos.0.restrictor.bore_mm", 3.5, "a large hole")
    assert window.announcer._timer.isActive()
    window.announcer.now()
    assert window.band.sentence.text() in QApplication.focusWidget().accessibleDescription()
    window.announcer.settle(window.announcer.said)
    assert not window.announcer._timer.isActive()  # what was told is not told again
    rail = QApplication.focusWidget()
    window.deck.setFocus()
    QApplication.processEvents()
    assert window.band.sentence.text() not in rail.accessibleDescription()


def test_stations_and_flags_of_the_whole_way_can_be_pressed(window: MainWindow) -> None:
    window.session.edit("turbos.0.restrictor.bore_mm", 3.5, "a large hole")
    window.go_to("whole")
    canvas = window.station.canvas
    canvas.grab()
    canvas.telling.now()
    presses = {c.accessibleName(): c for c in canvas.findChildren(Press) if c.isVisibleTo(canvas)}
    assert len(presses) >= 10
    assert any(c.accessibleDescription() and ": " in n for n, c in presses.items())
    went: list[str] = []
    window.station.went.connect(went.append)
    next(c for n, c in presses.items() if ": " not in n).click()
    assert went


def test_chosen_parts_tell_what_they_change(window: MainWindow) -> None:
    """Choosing the chain that is shown takes its figures; they are told, old and new."""
    said: list[str] = []
    window.session.replace(demo_plan("van"), None)
    window.session.told.connect(said.append)
    run = next(r for r in runs(window.session.plan) if r.key == "feed")
    window.session.edit("turbos.0.parts.feed", tuple(p.id for p in run.parts), "chosen")
    assert any("→" in s for s in said)
    said.clear()
    window.session.edit("name", "Another", "rename")
    assert not said
