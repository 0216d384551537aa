# SPDX-License-Identifier: GPL-3.0-or-later
"""The real window, driven offscreen by clicks, drags and keys; asserts on what a user would see."""

import json
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QFileDialog,
    QLabel,
    QLineEdit,
    QListWidget,
    QSlider,
    QTableWidget,
)
from pytestqt.qtbot import QtBot

from gravidon.desk.dialogs import ConditionsDialog
from gravidon.desk.findings_pane import RemedyButton
from gravidon.desk.first_plan import FirstPlan
from gravidon.desk.stations import STATIONS
from gravidon.desk.theme import PALETTES
from gravidon.desk.value_field import ValueField
from gravidon.desk.window import MainWindow
from gravidon.draw.style import load_fonts
from gravidon.handbook import PAGES, page_text
from gravidon.plan import storage

LEFT = Qt.MouseButton.LeftButton


def wait_for_remedies(qtbot: QtBot, window: MainWindow) -> None:
    qtbot.waitUntil(lambda: window.session.remedies_done, timeout=20_000)


def type_into(qtbot: QtBot, field: ValueField, text: str) -> None:
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def drag(qtbot: QtBot, widget: object, start: QPointF, end: QPointF) -> None:
    qtbot.mousePress(widget, LEFT, pos=start.toPoint())
    for share in (0.3, 0.7, 1.0):
        qtbot.mouseMove(widget, (start + (end - start) * share).toPoint())
    qtbot.mouseRelease(widget, LEFT, pos=end.toPoint())


def labels(widget: object) -> str:
    return "\n".join(label.text() for label in widget.findChildren(QLabel))  # type: ignore[attr-defined]


def test_the_verdict_is_seen_at_once(window: MainWindow) -> None:
    assert window.sentence.text().startswith("Fails, 3 faults: oil cooked")
    assert [s.verdict for s in window.rail.stops].count("fails") >= 3
    assert {t.name: t.verdict for t in window.deck.tags}["hot idle"] == "fails"
    assert "Bearing starved" in {line.finding.title for line in window.findings.lines}


def test_clicking_the_rail_and_the_deck_drives_the_drawing(qtbot: QtBot, window: MainWindow) -> None:
    qtbot.mouseClick(window.rail, LEFT, pos=window.rail.row_rect(6).center().toPoint())
    assert window.station.key == "restrictor"
    qtbot.mouseClick(window.deck, LEFT, pos=window.deck.tag_rect(0).center().toPoint())
    assert window.session.evaluation.names[window.session.condition] == "cold start"
    window.deck.setFocus()
    qtbot.keyClick(window.deck, Qt.Key.Key_Right)
    assert window.deck.current == 1
    window.rail.setFocus()
    qtbot.keyClick(window.rail, Qt.Key.Key_Down)
    assert window.station.key == STATIONS[7].key


def test_dragging_the_entry_moves_the_plan_and_is_one_undo(qtbot: QtBot, window: MainWindow) -> None:
    """A drag of the entry handle by 40 px up raises the entry by 40 px / scale, as one step."""
    window.go_to("drain")
    canvas = window.station.canvas
    before = window.session.plan
    start = canvas.handle_pixel("entry")
    scale = canvas.frame_now().scale
    drag(qtbot, canvas, start, start + QPointF(0, -40))
    after = window.session.plan
    assert after.turbos[0].drain.entry.z_mm - before.turbos[0].drain.entry.z_mm == pytest.approx(
        40 / scale, abs=1.5
    )
    assert after.turbos[0].drain.entry.x_mm == before.turbos[0].drain.entry.x_mm
    assert "unsaved" in window.head.name.text()
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.plan == before
    assert "unsaved" not in window.head.name.text()
    qtbot.keyClick(
        window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    )
    assert window.session.plan == after


def test_dragging_repaints_the_oil(qtbot: QtBot, window: MainWindow) -> None:
    """The picture itself changes: other pixels after raising the turbo."""
    window.go_to("drain")
    canvas = window.station.canvas
    before = canvas.grab().toImage()
    start = canvas.handle_pixel("turbo")
    drag(qtbot, canvas, start, start + QPointF(30, -20))
    assert canvas.grab().toImage() != before


def test_points_are_nudged_and_typed_beside_themselves(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("drain")
    canvas, editor = window.station.canvas, window.station.editor
    qtbot.mouseClick(canvas, LEFT, pos=canvas.handle_pixel("bend 1").toPoint())
    assert canvas.selected == "bend 1"
    assert editor.isVisible()
    z = window.session.plan.turbos[0].drain.points[0].z_mm
    canvas.setFocus()
    qtbot.keyClick(canvas, Qt.Key.Key_Up)
    qtbot.keyClick(canvas, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert window.session.plan.turbos[0].drain.points[0].z_mm == pytest.approx(z + 11)
    field = next(f for f in editor.findChildren(ValueField) if f.path.endswith("z_mm"))
    type_into(qtbot, field, "2 in")
    assert window.session.plan.turbos[0].drain.points[0].z_mm == pytest.approx(50.8)


def test_bends_are_added_and_removed(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("drain")
    count = len(window.session.plan.turbos[0].drain.points)
    window.station.add_bend()
    assert len(window.session.plan.turbos[0].drain.points) == count + 1
    assert window.station.canvas.selected.startswith("bend")
    window.station.canvas.setFocus()
    qtbot.keyClick(window.station.canvas, Qt.Key.Key_Delete)
    assert len(window.session.plan.turbos[0].drain.points) == count


def test_clicking_the_chart_chooses_a_drill(qtbot: QtBot, window: MainWindow) -> None:
    """A click where the chart says 2.6 mm chooses a drill within a twentieth of it; arrows step 0.05 mm."""
    window.go_to("restrictor")
    canvas = window.station.canvas
    from PyQt6.QtCore import QRectF

    from gravidon.draw import restrictor_chart

    where = restrictor_chart.layout(QRectF(canvas.rect()), window.station.choice, "metric")
    at = QPoint(round(where.pressure.x(2.6e-3)), round(where.pressure.rect.center().y()))
    qtbot.mouseClick(canvas, LEFT, pos=at)
    assert window.session.plan.turbos[0].restrictor.bore_mm == pytest.approx(2.6, abs=0.13)
    chosen = window.session.plan.turbos[0].restrictor.bore_mm
    qtbot.keyClick(canvas, Qt.Key.Key_Right)
    assert window.session.plan.turbos[0].restrictor.bore_mm == pytest.approx(chosen + 0.05)
    assert "starved" not in {f.code for f in window.session.findings}


def test_a_remedy_is_applied_by_a_click_and_taken_back_by_a_key(qtbot: QtBot, window: MainWindow) -> None:
    wait_for_remedies(qtbot, window)
    before = window.session.plan
    button = next(b for b in window.band.findChildren(RemedyButton) if "Drill the restrictor" in b.text())
    qtbot.mouseClick(button, LEFT)
    assert window.session.plan.turbos[0].restrictor.bore_mm > 1.5
    qtbot.waitUntil(
        lambda: "Bearing starved" not in {line.finding.title for line in window.findings.lines}, timeout=2000
    )
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.plan == before


def test_the_first_remedy_by_keyboard_alone(qtbot: QtBot, window: MainWindow) -> None:
    wait_for_remedies(qtbot, window)
    qtbot.keyClick(window, Qt.Key.Key_F8)
    chosen = window.findings.chosen
    assert window.station.key == window.session.findings[0].station
    qtbot.keyClick(window, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    assert chosen not in {f.code for f in window.session.findings}


def test_bad_input_is_named_and_nothing_is_lost(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("drain")
    before = window.session.plan
    field = next(f for f in window.station.findChildren(ValueField) if f.path == "line.drain.hose_bore_mm")
    type_into(qtbot, field, "nine")
    assert window.session.plan == before
    assert window.notice.isVisible()
    assert "drain hose bore" in window.notice.text()
    assert field.text() == "nine"
    qtbot.keyClick(field, Qt.Key.Key_Escape)
    assert field.text().startswith("14.29")
    type_into(qtbot, field, "-12")
    assert window.session.plan.turbos[0].drain.hose_bore_mm == pytest.approx(17.46, abs=0.01)


def test_guesses_are_marked_and_typing_measures(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("sump")
    field = next(f for f in window.station.findChildren(ValueField) if f.path == "sump.windage_mm")
    assert field.property("guess") is True
    type_into(qtbot, field, "9 mm")
    assert field.property("guess") is False
    qtbot.keyClick(field, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    assert window.session.plan.sump.windage_mm.basis == "guess"


def test_readings_are_edited_in_their_table(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("car")
    table = window.station.table
    table.item(0, 2).setText("20 psi")
    assert window.session.plan.engine.readings[0].pressure_kpa == pytest.approx(137.9, abs=0.1)
    table.item(0, 2).setText("lots")
    assert "gauge pressure" in window.notice.text()
    assert window.session.plan.engine.readings[0].pressure_kpa == pytest.approx(137.9, abs=0.1)
    count = len(window.session.plan.engine.readings)
    window.station.add_reading()
    assert table.rowCount() == count + 1
    window.station.remove_reading()
    assert table.rowCount() == count


def test_choosing_oil_and_bearing(qtbot: QtBot, window: MainWindow) -> None:
    from PyQt6.QtWidgets import QComboBox

    window.go_to("car")
    boxes = {b.accessibleName(): b for b in window.station.findChildren(QComboBox)}
    boxes["Grade"].textActivated.emit("5W-30")
    assert window.session.plan.oil.v40_mm2_s.value == 66.0
    boxes["Bearing"].textActivated.emit("ball")
    assert window.session.plan.turbos[0].turbo.bearing == "ball"
    assert window.session.plan.turbos[0].turbo.window.speed_max_kpa.value == pytest.approx(310.3, abs=0.1)


def test_units_and_theme_switch_by_key(qtbot: QtBot, window: MainWindow) -> None:
    assert "bar" in window.head.units_button.text()
    qtbot.keyClick(window, Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
    assert "psi" in window.head.units_button.text()
    assert "psi" in window.rail.stops[0].headline
    qtbot.keyClick(window, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    assert window.session.theme == "dark"
    assert window.rail.grab().toImage().pixelColor(3, 3) == QColor(PALETTES["dark"].paper)


def test_save_reopen_and_a_damaged_file(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "car.gravidon"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path.with_suffix("")), ""))
    window.session.edit("turbos.0.restrictor.bore_mm", 2.2)
    qtbot.keyClick(window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert storage.load(path) == window.session.plan
    assert not window.session.unsaved
    saved = window.session.plan
    bad = tmp_path / "bad.gravidon"
    bad.write_text(path.read_text().replace('"bore_mm": 2.2', '"bore_mm": -2.2'))
    window.open_path(bad)
    assert "turbos.0.restrictor.bore_mm" in window.notice.text()
    assert window.session.plan == saved
    window.session.edit("name", "changed")
    window.may_leave = lambda: True  # type: ignore[method-assign]
    window.open_path(path)
    assert window.session.plan == saved
    assert path in window.preferences.recent()


def test_unsaved_work_survives_a_kill(qtbot: QtBot, window: MainWindow) -> None:
    """Autosave writes the recovery file; saving drops it."""
    window.session.edit("turbos.0.restrictor.bore_mm", 1.9)
    window.autosave.timeout.emit()
    kept = json.loads(window.recovery.file.read_text())
    assert storage.plan_from_text(kept["plan"]).turbos[0].restrictor.bore_mm == 1.9


def test_conditions_are_edited_added_removed(qtbot: QtBot, window: MainWindow) -> None:
    dialog = ConditionsDialog(window.session, window)
    qtbot.addWidget(dialog)
    dialog.table.item(6, 9).setText("0.9")
    assert window.session.plan.conditions[6].left_g == 0.9
    dialog.table.item(6, 8).setText("9")
    assert "-2 to 2" in dialog.problem.text()
    dialog.table.item(1, 1).setText("off")
    assert window.session.plan.conditions[1].rpm == 0
    dialog.table.setCurrentCell(6, 0)
    dialog.add()
    assert window.session.plan.conditions[-1].name == "hard left 2"
    dialog.table.setCurrentCell(10, 0)
    dialog.remove()
    assert len(window.session.plan.conditions) == 10


def test_answers_make_a_plan_or_say_what_is_wrong(qtbot: QtBot) -> None:
    dialog = FirstPlan("imperial")
    qtbot.addWidget(dialog)
    dialog.idle.setText("much")
    dialog._make()
    assert "hot idle" in dialog.problem.text()
    dialog.idle.setText("15 psi")
    dialog.tapes["over_rail_mm"][1].setText("10 in")
    dialog._make()
    assert dialog.plan is not None
    assert dialog.plan.engine.readings[0].pressure_kpa == pytest.approx(103.4, abs=0.1)
    assert dialog.plan.turbos[0].turbo.drain_flange.z_mm == pytest.approx(254, abs=0.1)


def test_help_opens_at_the_station_and_every_page_exists(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("drain")
    qtbot.keyClick(window, Qt.Key.Key_F1)
    assert window.handbook is not None
    assert "storm sewer" in window.handbook.text.toPlainText()
    window.handbook.close()
    for page in {s.help_page for s in STATIONS} | set(PAGES):
        assert page_text(page).startswith("# ")


def test_commands_can_be_searched(qtbot: QtBot, window: MainWindow) -> None:
    from gravidon.desk.commands import CommandSearch

    dialog = CommandSearch(window.book, window)
    qtbot.addWidget(dialog)
    dialog.show()
    qtbot.keyClicks(dialog.line, "go restr")
    assert dialog.list.count() == 1
    qtbot.keyClick(dialog.line, Qt.Key.Key_Return)
    assert window.station.key == "restrictor"


def test_every_station_shows_at_every_size_without_clipping(qtbot: QtBot, window: MainWindow) -> None:
    """From 1024x700 up: the window takes the size, and no field of the station in sight is cut off."""
    for width, height in ((1024, 700), (1280, 800), (1920, 1080)):
        window.resize(width, height)
        for station in STATIONS:
            window.go_to(station.key)
            QApplication.processEvents()
            for field in window.station.findChildren(ValueField):
                if field.isVisible() and field.parent() is window.station:
                    assert window.station.rect().contains(field.geometry()), (station.key, width, field.path)
    assert window.minimumSizeHint().width() <= 1024


def contrast(one: str, other: str) -> float:
    """WCAG 2.1 contrast ratio."""

    def luminance(name: str) -> float:
        parts = QColor(name).getRgbF()[:3]
        linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    high, low = sorted((luminance(one), luminance(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_text_contrast_is_wcag_aa(theme: str) -> None:
    """WCAG 2.1 AA: 4.5 for text, on every ground it is written on."""
    p = PALETTES[theme]
    for ground in (p.paper, p.sheet, p.raised):
        for text in (p.ink, p.faint, p.good, p.watch, p.bad, p.heat, p.focus):
            assert contrast(text, ground) >= 4.5, (theme, text, ground, contrast(text, ground))


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_numbers_are_wcag_aaa(theme: str) -> None:
    """WCAG 2.1 AAA: 7 for the ink that every number is written in."""
    p = PALETTES[theme]
    assert min(contrast(p.ink, ground) for ground in (p.paper, p.sheet, p.raised)) >= 7.0


def test_every_control_has_a_name_and_a_target_of_24_pixels(window: MainWindow) -> None:
    """WCAG 2.2, 2.5.8 (target size, minimum: 24 by 24); 4.1.2 (name): each control that the keyboard reaches, on every page."""
    window.resize(1024, 700)
    for station in STATIONS:
        window.go_to(station.key)
        QApplication.processEvents()
        spoken = {label.buddy() for label in window.findChildren(QLabel)}
        for kind in (QAbstractButton, QLineEdit, QComboBox, QSlider, QListWidget, QTableWidget):
            for it in window.station.findChildren(kind):
                if not it.isVisible() or it.focusPolicy() == Qt.FocusPolicy.NoFocus:
                    continue
                words = it.accessibleName() or (it.text() if isinstance(it, QAbstractButton) else "")
                assert words or it in spoken, (station.key, it)
                assert min(it.width(), it.height()) >= 24, (station.key, words, it.size())


def test_fonts_ship_with_the_application(qtbot: QtBot) -> None:
    assert load_fonts()
