# SPDX-License-Identifier: GPL-3.0-or-later
"""Parts, cutting and build driven by clicks and keys."""

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from gravidon.desk.identify_dialog import IdentifyDialog
from gravidon.desk.stations.parts import ON_HAND
from gravidon.desk.window import MainWindow
from gravidon.draw import chain_chart
from gravidon.parts.catalogue import catalogue, parts_to_csv
from gravidon.plan.demos import demo_plan

LEFT = Qt.MouseButton.LeftButton


def test_a_joint_is_clicked_and_told(qtbot: QtBot, window: MainWindow) -> None:
    """The first joint of the demo's feed leaks, and says why; the next one tells its seal; keys walk on."""
    window.go_to("parts")
    station, canvas = window.station, window.station.canvas
    spots = chain_chart.joint_spots(canvas.area, station.runs[0], 0)
    qtbot.mouseClick(canvas, LEFT, pos=spots[0].toPoint())
    assert "Leaks" in station.words.text()
    assert "pitch" in station.words.text()
    qtbot.mouseClick(canvas, LEFT, pos=spots[1].toPoint())
    assert "the cone seals" in station.words.text()
    qtbot.keyClick(canvas, Qt.Key.Key_Down)
    assert station.words.text().startswith("Drain")
    qtbot.keyClick(canvas, Qt.Key.Key_Left)
    assert "gasket" in station.words.text()


def test_another_chain_is_taken_and_given_back(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("parts")
    station = window.station
    station.canvas.choose(1, 0)
    station.menu.aboutToShow.emit()
    actions = station.menu.actions()
    assert len(actions) >= 2
    actions[-1].trigger()
    assert window.session.line.parts.drain
    assert station.runs[1].chosen
    station.menu.aboutToShow.emit()
    station.menu.actions()[0].trigger()
    assert window.session.line.parts.drain == ()


def test_what_is_on_hand_is_typed(qtbot: QtBot, window: MainWindow) -> None:
    """A count typed into the list leaves the order; nonsense is refused in words and nothing is lost."""
    window.go_to("parts")
    station = window.station
    row = next(r for r in range(station.table.rowCount()) if "sender tee" in station.table.item(r, 0).text())
    before = station.headline()
    station.table.item(row, ON_HAND).setText("1")
    assert window.session.plan.drawer[0].count == 1
    assert station.headline() != before
    row = next(r for r in range(station.table.rowCount()) if "sender tee" in station.table.item(r, 0).text())
    assert station.table.item(row, 4).text() == "–"
    station.table.item(row, ON_HAND).setText("many")
    assert "On hand" in window.notice.text()
    assert window.session.plan.drawer[0].count == 1
    window.session.undo()
    assert window.session.plan.drawer == ()


def test_ports_are_chosen(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("parts")
    station = window.station
    station.inlet.textActivated.emit("M12x1.5 in the housing")
    assert window.session.line.parts.inlet == "metric|M12x1.5|female"
    assert "M12x1.5" in station.runs[0].goal.text
    station.by.setCurrentText("least height")
    station.by.textActivated.emit("least height")
    assert all(j.fit.outcome == "seals" for j in station.runs[0].joints[1:])


def test_own_parts_are_read_and_written(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window.go_to("parts")
    path = tmp_path / "mine.csv"
    mine = catalogue()["tee-sender-tee-1-8-npt-4-flare-branch"]
    path.write_text(parts_to_csv([mine]).replace(",14,,", ",3.5,,"), encoding="utf-8")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(path), ""))
    window.station.import_own()
    assert window.session.plan.own_parts[0].price == 3.5
    out = tmp_path / "out.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out), ""))
    window.station.export_own()
    assert "sender tee" in out.read_text(encoding="utf-8")
    path.write_text("id,kind,name,ends\na,gizmo,b,\n", encoding="utf-8")
    window.station.import_own()
    assert "gizmo" in window.notice.text()
    assert len(window.session.plan.own_parts) == 1
    orders = tmp_path / "orders"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(orders), ""))
    window.station.save_order()
    assert "to order" in orders.with_suffix(".csv").read_text(encoding="utf-8")


def test_a_port_is_identified(qtbot: QtBot, window: MainWindow) -> None:
    """Inches and threads per inch typed; the list names 1/8 NPT; nonsense is told and the list empties."""
    dialog = IdentifyDialog(window.session, window)
    qtbot.addWidget(dialog)
    dialog.diameter.setText("0.39 in")
    dialog.pitch.setText("27 tpi")
    assert dialog.table.item(0, 0).text() == "1/8 NPT"
    assert "Ten threads" in dialog.table.item(0, 3).text()
    dialog.taper.setCurrentText("same all along (parallel)")
    assert "NPT" not in dialog.table.item(0, 0).text()
    dialog.pitch.setText("fine")
    assert dialog.table.rowCount() == 0
    assert "Pitch" in dialog.words.text()
    dialog.pitch.setText("0 tpi")
    assert "threads per inch" in dialog.words.text()
    dialog.diameter.setText("200 mm")
    dialog.pitch.setText("1 mm")
    assert "No known thread" in dialog.words.text()


def test_the_drawer_takes_any_part(qtbot: QtBot, window: MainWindow) -> None:
    """A leftover -4 60° end: found by its words, typed in, listed as not needed, preferred from then on."""
    from gravidon.desk.parts_dialogs import DrawerDialog

    dialog = DrawerDialog(window.session, window)
    qtbot.addWidget(dialog)
    dialog.line.setText("-4 60 hose end rubber")
    assert dialog.table.rowCount() == 1
    dialog.table.item(0, 1).setText("2")
    assert window.session.plan.drawer[0].count == 2
    dialog.table.item(0, 1).setText("-1")
    assert "On hand" in dialog.problem.text()
    assert window.session.plan.drawer[0].count == 2
    window.go_to("parts")
    station = window.station
    rows = [station.table.item(r, 0).text() for r in range(station.table.rowCount())]
    row = next(k for k, text in enumerate(rows) if "60°" in text)
    assert "not needed" in station.table.item(row, 6).text()
    assert station.table.item(row, 4).text() == "–"


def test_a_chain_between_any_two_ports(qtbot: QtBot, window: MainWindow) -> None:
    """From 1/8 BSPT to a banjo's port with a -4 hose; an impossible bore is told in words."""
    from gravidon.desk.parts_dialogs import ChainDialog

    dialog = ChainDialog(window.session, window)
    qtbot.addWidget(dialog)
    dialog.start.setCurrentText("1/8 BSPT, female")
    dialog.goal.setCurrentText("M10x1.0, female")
    assert dialog.table.rowCount() >= 2
    assert "1/8 BSPT male" in dialog.table.item(0, 4).text()
    dialog.bore.setText("20 mm")
    assert dialog.table.rowCount() == 0
    assert "No chain" in dialog.words.text()
    dialog.bore.setText("wide")
    assert "Bore" in dialog.words.text()


def test_the_cut_list_and_the_template(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window.go_to("cutting")
    station = window.station
    assert station.table.item(0, 5).text().startswith("1124")
    assert "9/16" in station.words.text()
    path = tmp_path / "template.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    qtbot.mouseClick(station.print_button, LEFT)
    assert path.read_bytes().startswith(b"%PDF")
    window.session.replace(demo_plan("special"), None)
    assert not window.station.print_button.isEnabled()


def test_steps_are_ticked_with_note_and_time(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("build")
    station = window.station
    first = station.steps[0]
    station.note.setText("two caps missing")
    station.minutes.setText("forty")
    qtbot.mouseClick(station.done_button, LEFT)
    assert "Minutes taken" in window.notice.text()
    assert window.session.plan.build.done == ()
    station.minutes.setText("40")
    qtbot.mouseClick(station.done_button, LEFT)
    log = window.session.plan.build.done[0]
    assert (log.step, log.note, log.minutes) == (first.key, "two caps missing", 40.0)
    assert "1 of" in station.bar.text()
    assert station.list.currentRow() == 1
    item = station.list.item(0)
    item.setCheckState(Qt.CheckState.Unchecked)
    assert window.session.plan.build.done == ()


def test_schools_replan_the_build(qtbot: QtBot, window: MainWindow) -> None:
    from gravidon.desk.stations.base import ChoiceField

    window.go_to("build")
    station = window.station
    count = station.list.count()
    box = next(b for b in station.findChildren(ChoiceField) if b.path == "build.pan")
    box.textActivated.emit("pan on, grease and a stop")
    assert station.list.count() == count - 2


def test_the_sheets_pages_are_turned(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("sheet")
    station = window.station
    assert station.number.text().startswith("page 1 of")
    qtbot.mouseClick(station.on, LEFT)
    assert station.number.text().startswith("page 2 of")
    before = station.preview.grab().toImage()
    qtbot.mouseClick(station.on, LEFT)
    assert station.preview.grab().toImage() != before
    for _ in range(20):
        station.turn(1)
    assert not station.on.isEnabled()
