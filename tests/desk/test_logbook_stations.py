# SPDX-License-Identifier: GPL-3.0-or-later
"""Logbook and Health by mouse and keyboard, in a real window."""

import os
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QPushButton

from desk.season import PSI, opened
from gravidon.desk.recovery import Recovery, find_recoverable
from gravidon.desk.stations import STATIONS
from gravidon.desk.stations.health import HealthStation
from gravidon.desk.stations.logbook import LogbookStation
from gravidon.plan import demos, storage
from gravidon.records import recording as recordings
from gravidon.records.book import Book, book_path, recordings_folder
from gravidon.records.book_csv import from_csv
from gravidon.records.entry import Entry, Reading
from gravidon.records.shipped import demo_log
from gravidon.study.car.car import Scenario, simulate
from gravidon.study.car.script import script_from
from gravidon.study.car.senses import sensed

# --- logbook ------------------------------------------------------------------------------------


def test_idle_hot_fourteen_psi_is_written_by_keyboard_alone(window: Any, qtbot: Any) -> None:
    """One key to the page, the line, Enter: an entry; the line is empty and has the keyboard again."""
    opened(window, "logbook", LogbookStation)
    window.go_to("drain")
    qtbot.keyClick(window, Qt.Key.Key_J, Qt.KeyboardModifier.ControlModifier)
    station = window.station
    assert isinstance(station, LogbookStation)
    count = len(station.entries)
    qtbot.waitUntil(station.line.hasFocus, timeout=5_000)
    qtbot.keyClicks(station.line, "idle, hot, 14 psi")
    assert "850 rpm" in station.means.text()
    qtbot.keyClick(station.line, Qt.Key.Key_Return)
    assert len(station.entries) == count + 1
    assert station.entries[-1].readings[0].gallery_pa == pytest.approx(14 * PSI)
    assert station.line.text() == ""
    assert station.line.hasFocus()
    assert window.session.unsaved, "an entry that stands beside no file is unsaved work"


def test_what_is_typed_wrong_stays_in_the_line(window: Any, qtbot: Any) -> None:
    station = opened(window, "logbook", LogbookStation)
    station.line.setText("hot 14 psi")
    with qtbot.waitSignal(window.session.refused):
        station.write()
    assert station.line.text() == "hot 14 psi"


def test_entries_are_typed_over_taken_out_and_brought_back(window: Any, qtbot: Any) -> None:
    station = opened(window, "logbook", LogbookStation)
    station.table.typed.emit(0, 7, "new note")
    assert station.entries[-1].note == "new note"
    station.table.typed.emit(0, 1, "6 000 km")
    assert station.entries[-1].distance_m == pytest.approx(6e6)
    with qtbot.waitSignal(window.session.refused):
        station.table.typed.emit(0, 0, "yesterday-ish")
    count = len(station.entries)
    station.choose(count - 1)
    qtbot.mouseClick(station.out_button, Qt.MouseButton.LeftButton)
    assert len(station.entries) == count - 1
    qtbot.mouseClick(station.back_button, Qt.MouseButton.LeftButton)
    assert station.entries[-1].note == "new note"


def test_a_click_on_the_road_chooses_the_entry(window: Any, qtbot: Any) -> None:
    from gravidon.draw import log_chart

    station = opened(window, "logbook", LogbookStation)
    axes = log_chart.axes_of(station.canvas.area, station.km, station.dots)
    at = QPointF(axes.x(station.km[9]), axes.rect.center().y())
    qtbot.mouseClick(station.canvas, Qt.MouseButton.LeftButton, pos=at.toPoint())
    assert station.chosen_entry == 9
    assert station.table.currentRow() == len(station.entries) - 10


def test_a_photo_is_kept_and_what_is_none_is_refused(window: Any, qtbot: Any, tmp_path: Path) -> None:
    station = opened(window, "logbook", LogbookStation)
    station.choose(3)
    good, bad = tmp_path / "a.png", tmp_path / "b.png"
    image = QImage(20, 20, QImage.Format.Format_RGB32)
    image.fill(0)
    image.save(str(good))
    bad.write_bytes(b"no picture")
    with qtbot.waitSignal(window.session.refused) as said:
        station.add_photo(bad)
    assert "b.png" in said.args[0]
    station.add_photo(good)
    assert station.entries[3].has_photo
    assert station.photo_button.text() == "Show the photo"


def test_csv_goes_out_and_comes_in_once(window: Any, qtbot: Any, tmp_path: Path) -> None:
    station = opened(window, "logbook", LogbookStation)
    path = tmp_path / "log.csv"
    station.files.export_csv(path)
    assert len(from_csv(path.read_text())) == len(station.entries)
    count = len(station.entries)
    station.files.import_csv(path)
    assert len(station.entries) == count, "what is there already is not taken twice"
    path.write_text("day,rpm,oil_c,inlet_kpa\n2027-01-01,850,95,90\n")
    station.files.import_csv(path)
    assert len(station.entries) == count + 1
    path.write_text("day,rpm\n2027-01-01,fast\n")
    with qtbot.waitSignal(window.session.refused) as said:
        station.files.import_csv(path)
    assert "line 2" in said.args[0]


def test_a_recording_becomes_an_entry_with_its_steady_readings(
    window: Any, qtbot: Any, tmp_path: Path
) -> None:
    station = opened(window, "logbook", LogbookStation)
    plan = window.session.plan
    made = sensed(
        simulate(Scenario(plan, script_from("idle 30 oil=95, 2500 rpm 30 oil=98", plan), 2, full=True)), 10.0
    )
    path = tmp_path / "run.csv"
    recordings.save(made, path)
    station.files.take_recording(path)
    kept = [e for e in station.entries if e.recording]
    assert len(kept) == 1
    assert len(kept[0].readings) == 2
    file = window.session.log.recording(kept[0])
    assert file is not None
    assert len(recordings.read(file)) == len(made)
    station.choose(station.entries.index(kept[0]))
    station.files.play_recording()
    assert window.station.key == "bench"
    qtbot.waitUntil(lambda: window.session.live.rows > 3, timeout=20_000)
    window.session.live.stop()
    window.go_to("logbook")
    station.choose(0)
    with qtbot.waitSignal(window.session.refused):
        station.files.play_recording()


def test_the_logbook_goes_beside_the_plan_when_it_is_saved(window: Any, qtbot: Any, tmp_path: Path) -> None:
    station = opened(window, "logbook", LogbookStation)
    station.line.setText("idle hot 14 psi")
    station.write()
    count = len(station.entries)
    path = tmp_path / "car.gravidon"
    assert window._save_to(path)
    assert not window.session.unsaved
    book = Book(book_path(path))
    assert len(book.entries()) == count
    book.close()
    station.line.setText("idle hot 15 psi")
    station.write()
    assert not window.session.unsaved, "beside a file an entry is on the disk at once"
    window.session.replace(storage.load(path), path)
    assert len(window.session.log.entries) == count + 1
    assert recordings_folder(book_path(path)).name == "car-recordings"


def test_another_windows_entry_appears(window: Any, qtbot: Any, tmp_path: Path) -> None:
    station = opened(window, "logbook", LogbookStation)
    path = tmp_path / "car.gravidon"
    window._save_to(path)
    station.line.setText("idle hot 14 psi")
    station.write()
    count = len(station.entries)
    other = Book(book_path(path))
    other.add(Entry("2026-12-24", note="from the other window", kind="note"))
    other.close()
    window.session.log.look()
    assert len(station.entries) == count + 1


def test_an_unsaved_logbook_survives_a_crash(window: Any, qtbot: Any, tmp_path: Path) -> None:
    """What the recovery file of a dead window names is found with its logbook, and its entries come back."""
    station = opened(window, "logbook", LogbookStation)
    station.line.setText("idle hot 14 psi")
    station.write()
    log = window.session.kept_log
    assert log is not None
    folder = tmp_path / "crashed"
    folder.mkdir()
    Recovery(folder).keep(window.session.plan, None, log)
    file = next(folder.glob("*.json"))
    file.write_text(file.read_text().replace(f'"pid": {os.getpid()}', '"pid": 4194304999'))
    (found,) = find_recoverable(folder)
    assert found.log == log
    copy = tmp_path / "copy.gravidon-log"
    Book(log).copy_to(copy).close()
    window.session.replace(found.plan, found.original, saved=False, log=copy)
    assert any(
        r.gallery_pa == pytest.approx(14 * PSI) for e in window.session.log.entries for r in e.readings
    )


def test_a_logbook_that_is_none_is_told_and_the_plan_goes_on(window: Any, qtbot: Any, tmp_path: Path) -> None:
    path = tmp_path / "car.gravidon"
    storage.save(demos.demo_plan("coupe"), path)
    book_path(path).write_bytes(b"not a database, not at all" * 50)
    window.session.replace(storage.load(path), path, shipped=())
    said = []
    window.session.refused.connect(said.append)
    window.go_to("logbook")
    assert window.station.entries == () or len(window.station.entries) == 0
    window.session.log.begin(path)
    assert window.session.log.entries == ()
    assert any("not a logbook" in s for s in said)


# --- health -------------------------------------------------------------------------------------


def health_of(window: Any, qtbot: Any, count: int | None = None) -> HealthStation:
    window.session.replace(demos.demo_plan("coupe"), None, shipped=demo_log("coupe")[:count])
    window.go_to("health")
    station = window.station
    assert isinstance(station, HealthStation)
    qtbot.waitUntil(lambda: not station.busy and station.answer is not None, timeout=60_000)
    return station


def test_the_closing_screen_is_said_before_it_starves(window: Any, qtbot: Any) -> None:
    station = health_of(window, qtbot, 19)
    assert "closing" in station.words.text()
    assert "km" in station.words.text()
    assert station.headline() == "closing"
    keys = [e.key for e in STATIONS]
    assert window._stop(keys.index("health")).verdict == "watch"
    station.canvas.grab()
    assert "closing" in station.canvas.accessibleDescription()


def test_pointing_at_an_entry_reads_it(window: Any, qtbot: Any) -> None:
    from gravidon.draw import health_chart

    station = health_of(window, qtbot)
    made = station.answer
    assert made is not None
    road = health_chart.road_of(station.canvas.area, made.health, made.outlook)
    x = road.axes.x(float(made.health.km[5]))
    station.canvas.hovered(QPointF(x, road.rect.center().y()))
    assert station.told.text().startswith(made.health.entries[5].day)
    station.canvas.hovered(None)
    assert not station.told.text().startswith("2026")


def test_the_plan_learns_with_one_click_and_forgets_with_undo(window: Any, qtbot: Any) -> None:
    station = health_of(window, qtbot)
    before = window.session.plan

    def taking() -> list[QPushButton]:
        return [b for b in station.findChildren(QPushButton) if b.text() == "Take it" and b.isVisible()]

    qtbot.waitUntil(lambda: bool(taking()), timeout=30_000)
    takes = taking()
    qtbot.mouseClick(takes[0], Qt.MouseButton.LeftButton)
    assert window.session.plan != before
    assert any(r.where == "logbook" for r in window.session.plan.engine.readings)
    window.session.undo()
    assert window.session.plan == before


def test_an_empty_logbook_teaches(window: Any, qtbot: Any) -> None:
    window.go_to("health")
    station = window.station
    qtbot.waitUntil(lambda: not station.busy and station.answer is not None, timeout=30_000)
    assert station.answer.health is None
    station.canvas.grab()
    window.go_to("logbook")
    assert window.station.entries == ()
    window.station.canvas.grab()


def test_a_new_entry_is_fitted_at_once(window: Any, qtbot: Any) -> None:
    station = health_of(window, qtbot, 6)
    before = station.answer.health
    window.session.log.add(Entry("2026-12-01", 9e6, readings=(Reading(850.0, 368.0, 1.2e5, 1.0e5),)))
    qtbot.waitUntil(
        lambda: not station.busy and station.answer is not None and station.answer.health is not before,
        timeout=30_000,
    )
    assert len(station.answer.health.entries) == 7


def test_saving_beside_an_old_logbook_joins_the_entries(window: Any, tmp_path: Path) -> None:
    """A new plan's entry, and one of an old logbook under the name it is saved by: both are there afterwards, and it is said."""
    from gravidon.records.book import Book
    from gravidon.records.entry import Entry

    old = Book(tmp_path / "mine.gravidon-log")
    old.add(Entry("2026-01-01", note="of the old one"))
    old.close()
    window.session.replace(demos.demo_plan("special"), None)
    assert window.session.log.add(Entry("2026-02-02", note="of the new one"))
    said: list[str] = []
    window.session.log.refused.connect(said.append)
    window.session.save(tmp_path / "mine.gravidon")
    assert {e.note for e in window.session.log.entries} == {"of the old one", "of the new one"}
    assert {e.note for e in Book(tmp_path / "mine.gravidon-log").entries()} == {
        "of the old one",
        "of the new one",
    }
    assert any("1 entries" in s for s in said)
