"""Senders, First start, Logbook and Health by mouse and keyboard, in a real window; a device on a real pseudo-terminal."""

import math
import os
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QPushButton, QToolButton

from gravidon.desk.live import LiveFeed
from gravidon.desk.recovery import Recovery, find_recoverable
from gravidon.desk.stations import STATIONS
from gravidon.desk.stations.bench import CAR, BenchStation
from gravidon.desk.stations.health import HealthStation
from gravidon.desk.stations.logbook import LogbookStation
from gravidon.desk.stations.senders import SendersStation
from gravidon.plan import demos, storage
from gravidon.records import recording as recordings
from gravidon.records.book import Book, book_path, recordings_folder
from gravidon.records.book_csv import from_csv
from gravidon.records.entry import Entry, Reading
from gravidon.records.lines import Row
from gravidon.records.link import SerialLink
from gravidon.records.ring import Ring, least_and_most
from gravidon.records.shipped import demo_log
from gravidon.records.spool import Spool
from gravidon.records.stand_in import PseudoPort
from gravidon.study.car.car import Scenario, simulate
from gravidon.study.car.faults import faulty_from
from gravidon.study.car.script import script_from
from gravidon.study.car.senses import sensed, timed_lines

PSI = 6894.757293168


def opened(window: Any, key: str, kind: type) -> Any:
    """The coupe with its season, at a station."""
    window.session.replace(demos.demo_plan("coupe"), None, shipped=demo_log("coupe"))
    window.go_to(key)
    assert isinstance(window.station, kind)
    return window.station


def rows_of(window: Any, script: str, *faults: str, seed: int = 1, until: float = 1e9) -> list[Row]:
    plan = window.session.plan
    scenario = Scenario(
        plan, script_from(script, plan), seed, tuple(faulty_from(f) for f in faults), step_s=0.1
    )
    made = sensed(simulate(scenario), 5.0)
    return [
        Row({"time": float(t), **{k: float(v[j]) for k, v in made.channels.items()}})
        for j, t in enumerate(made.time_s)
        if t <= until
    ]


def button(station: Any, words: str) -> Any:
    found = [
        b for kind in (QPushButton, QToolButton) for b in station.findChildren(kind) if b.text() == words
    ]
    assert found, words
    return found[0]


# --- first start -------------------------------------------------------------------------------


def bench_of(window: Any, qtbot: Any) -> BenchStation:
    station = opened(window, "bench", BenchStation)
    qtbot.waitUntil(
        lambda: station.bands is not None and station.bands.cars == station.bands.of, timeout=60_000
    )
    return station


def test_a_first_start_goes_through_with_ticks_and_readings(window: Any, qtbot: Any) -> None:
    """Two ticks by mouse, cranking and firing by the simulated car's readings; every step tells how it was passed; the rail says where it is."""
    station = bench_of(window, qtbot)
    for _ in range(2):
        qtbot.mouseClick(station.tick_button, Qt.MouseButton.LeftButton)
    assert station.run.step.key == "crank"
    assert station.tick_button.isEnabled(), "without a device the builder's word does"
    station.came(rows_of(window, "first-start", until=3.0))
    assert not station.tick_button.isEnabled(), "with one, what it measures"
    station.came(rows_of(window, "first-start", until=100.0))
    assert station.run.step.key == "leaks"
    kind, title, _ = station.call_words()
    assert (kind, title) == ("go", "6. Look for leaks")
    assert "measured, at" in station.rungs()[2].said
    assert window.station.headline() == "look for leaks"
    assert len(station.strips()) == 4
    assert station.strips()[1].place == "in"
    assert station.alarm.rung == 0


def test_a_stop_cannot_be_missed_by_word_colour_and_sound(window: Any, qtbot: Any) -> None:
    """The pump dies while it idles: the word, the solid colour over the whole board, the frame round the readings, the sound; until somebody has seen to it."""
    station = bench_of(window, qtbot)
    station.tick(), station.tick()
    station.came(rows_of(window, "first-start", "weak-pump=0.95@75+3", until=110.0))
    kind, title, words = station.call_words()
    assert (kind, title) == ("stop", "Stop")
    assert "Switch off" in words
    assert window._stop([e.key for e in STATIONS].index("bench")).verdict == "fails"
    assert station.alarm.on
    assert station.alarm.rung >= 1
    picture = station.call.grab().toImage()
    bad = station.colours.color("bad").rgb()
    solid = sum(picture.pixelColor(x, 4).rgb() == bad for x in range(0, picture.width(), 10))
    assert solid > 0.95 * picture.width() / 10
    frame = station.canvas.grab().toImage()
    assert frame.pixelColor(3, frame.height() // 2).rgb() == bad
    station.sound.setChecked(False)
    assert not station.alarm.on, "sound can be turned off; the word stays"
    assert station.call_words()[0] == "stop"
    qtbot.mouseClick(station.on_button, Qt.MouseButton.LeftButton)
    assert station.run.stop is None
    assert not station.on_button.isVisible()


def test_a_stop_is_told_on_any_page(window: Any, qtbot: Any) -> None:
    station = bench_of(window, qtbot)
    station.tick(), station.tick()
    window.go_to("drain")
    with qtbot.waitSignal(window.session.refused) as said:
        station.came(rows_of(window, "first-start", "weak-pump=0.95@75+3", until=110.0))
    assert said.args[0].startswith("Stop.")
    station.alarm.set(False)


def test_the_simulated_car_is_read_over_a_real_pseudo_terminal(window: Any, qtbot: Any) -> None:
    """Connect with the mouse, rows come, let go, and what came is recorded whole."""
    station = bench_of(window, qtbot)
    station.source.setCurrentText(CAR)
    qtbot.mouseClick(station.start_button, Qt.MouseButton.LeftButton)
    live = window.session.live
    assert live.reading
    qtbot.waitUntil(lambda: live.rows >= 15, timeout=20_000)
    assert live.state == "reading"
    assert "rows" in station.status.text()
    qtbot.mouseClick(station.start_button, Qt.MouseButton.LeftButton)
    assert not live.reading
    made = live.recorded()
    assert made is not None
    assert len(made) == live.rows
    assert station.keep_button.isEnabled()
    assert {"rpm", "oil", "gallery_v", "inlet_v", "supply"} <= set(made.channels)


def test_unplugging_and_garbage_are_told_and_lived_with(window: Any, qtbot: Any) -> None:
    """A device of the test's own: heading, rows, garbage, gone. The bench says each, and the window lives on."""
    station = bench_of(window, qtbot)
    live = window.session.live
    port = PseudoPort()
    live.connect_to(port.name, 115200)
    live.poll()
    port.write("time[s],rpm[rpm],oil[degC],gallery[kPa],inlet[kPa]")
    port.write("0.1,850,90,150,120")
    port.write("%%% rubbish")
    qtbot.waitUntil(lambda: live.rows == 1 and live.bad == 1, timeout=10_000)
    qtbot.waitUntil(lambda: "1 lines not usable" in station.status.text(), timeout=5_000)
    port.close()
    qtbot.waitUntil(lambda: live.state == "lost", timeout=10_000)
    assert "is gone" in station.status.text()
    live.stop()


def test_a_port_that_is_not_there_is_tried_again_and_said(window: Any, qtbot: Any) -> None:
    station = bench_of(window, qtbot)
    station.source.setCurrentText("/dev/no-such-port")
    qtbot.mouseClick(station.start_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: window.session.live.state == "lost", timeout=10_000)
    assert "no-such-port" in station.status.text()
    qtbot.mouseClick(station.start_button, Qt.MouseButton.LeftButton)


def test_a_recording_is_played_and_one_that_cannot_be_read_is_named(
    window: Any, qtbot: Any, tmp_path: Path
) -> None:
    station = bench_of(window, qtbot)
    path = tmp_path / "run.csv"
    path.write_text(
        "time[s],rpm[rpm],oil[degC],gallery[kPa],inlet[kPa]\n"
        + "".join(f"{k / 10},850,90,150,120\n" for k in range(40))
    )
    station.play_file(path)
    qtbot.waitUntil(lambda: window.session.live.rows >= 5, timeout=20_000)
    window.session.live.stop()
    with qtbot.waitSignal(window.session.refused) as said:
        station.play_file(tmp_path / "gone.csv")
    assert "gone.csv" in said.args[0]


def test_silence_while_it_runs_asks_to_look_at_the_gauge(window: Any, qtbot: Any) -> None:
    station = bench_of(window, qtbot)
    station.tick(), station.tick()
    station.came(rows_of(window, "first-start", until=12.0))
    window.session.live.state = "silent"
    station._link_changed()
    assert station.run.call().reason == "silent"


def test_volts_without_a_sender_in_the_plan_are_told(window: Any, qtbot: Any) -> None:
    station = bench_of(window, qtbot)
    window.session.edit("senders", (), "none")
    window.session.live.channels = ("time", "rpm", "gallery_v", "inlet_v")
    station._tell()
    assert "gallery_v, inlet_v" in station.told.text()
    assert station.told.isVisible()


def test_ten_minutes_in_sight_and_no_more_memory(window: Any, qtbot: Any) -> None:
    """An hour of rows: the ring's arrays are those of the beginning; ten minutes are in sight."""
    station = bench_of(window, qtbot)
    ring = station.ring
    size = ring._rows.nbytes
    for k in range(80_000):
        ring.add(k * 0.05, {"rpm": 850.0, "oil": 360.0, "gallery": 1e5, "inlet": 9e4})
    assert ring._rows.nbytes == size
    assert len(ring) == 30_000
    start, span = station.in_sight()
    assert span == 600.0
    assert start == pytest.approx(80_000 * 0.05 - 600.0, abs=0.2)
    station.canvas.grab()


# --- ring, spool --------------------------------------------------------------------------------


def test_a_ring_keeps_the_last_rows_in_order_over_its_seam() -> None:
    ring = Ring(("a",), 10)
    for k in range(57):
        ring.add(float(k), {"a": float(k)})
        assert ring.values("a")[-1] == k
        assert (np.diff(ring.time_s) > 0.0).all()
    assert ring.values("a").tolist() == [float(k) for k in range(47, 57)]
    ring.add(3.0, {})  # the device began anew
    assert ring.time_s[-1] > ring.time_s[-2]
    assert math.isnan(ring.values("a")[-1])
    ring.clear()
    assert len(ring) == 0


def test_thinning_loses_no_peak() -> None:
    """Least and most of every bin, over all of them, are those of the data."""
    t = np.linspace(0.0, 100.0, 5000)
    v = np.sin(t) + (t == t[1234]) * 50.0
    middle, least, most = least_and_most(t, v, 0.0, 100.0, 80)
    assert most.max() == v.max()
    assert least.min() == v.min()
    assert len(middle) == 80
    nothing = least_and_most(t, np.full(5000, np.nan), 0.0, 100.0, 80)
    assert all(len(part) == 0 for part in nothing)


def test_what_was_spooled_is_read_back_after_a_crash(tmp_path: Path) -> None:
    """The file is never closed: after a flush all rows are there, a channel that came later among them."""
    now = [0.0]
    spool = Spool(tmp_path / "run.part.csv", lambda: now[0])
    for k in range(30):
        now[0] += 0.2
        values = {"time": k * 0.2, "rpm": 850.0}
        if k > 10:
            values["oil"] = 360.0
        spool.add(Row(values))
    made = recordings.read(tmp_path / "run.part.csv")
    assert len(made) >= 25
    assert np.isnan(made.channels["oil"][0])
    assert made.channels["oil"][-1] == pytest.approx(360.0, abs=0.01)
    spool.drop()
    assert not (tmp_path / "run.part.csv").exists()


def test_a_full_disk_ends_the_recording_and_not_the_reading(qtbot: Any, tmp_path: Path) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("in the way")
    live = LiveFeed(folder=blocked)
    said = []
    live.refused.connect(said.append)
    port = PseudoPort()
    live.connect_to(port.name, 115200)
    assert said
    assert "not recorded" in said[0]
    live.poll()
    port.write("time[s],rpm[rpm]")
    port.write("1,850")
    qtbot.waitUntil(lambda: live.rows == 1, timeout=10_000)
    live.stop()
    port.close()


def test_an_hour_through_the_window_turns_fast_and_grows_nothing(window: Any, qtbot: Any) -> None:
    """Many rows at once through the bench: all are seen; the tape of the live feed is on the disk, not in memory."""
    station = bench_of(window, qtbot)
    station.tick(), station.tick()
    rows = rows_of(window, "first-start")
    for _ in range(3):
        station.came(rows)
    assert len(station.ring) == min(3 * len(rows), 30_000)
    assert isinstance(SerialLink("x").open, bool)


# --- senders ------------------------------------------------------------------------------------


def test_a_zero_is_taken_from_what_is_read_and_from_typed_volts(window: Any, qtbot: Any) -> None:
    station = opened(window, "senders", SendersStation)
    window.session.edit("senders", (), "none")
    qtbot.mouseClick(button(station, "Add a sender at the gallery"), Qt.MouseButton.LeftButton)
    assert [s.at for s in window.session.plan.senders] == ["gallery"]
    live = window.session.live
    live.state = "reading"
    station._came([Row({"time": k * 0.1, "gallery_v": 0.55, "supply": 5.0}) for k in range(30)])
    assert "0.550 V" in station.zero.text()
    assert "set it at 0.550 V" in station.zero.text()
    qtbot.mouseClick(button(station, "Take the zero"), Qt.MouseButton.LeftButton)
    assert window.session.plan.senders[0].points[0].volts == pytest.approx(0.55)
    assert "its zero is right" in station.zero.text()
    live.state = "none"
    station.typed_volts.setText("2.6")
    station.typed_pressure.setText("5 bar")
    qtbot.mouseClick(button(station, "Take a point"), Qt.MouseButton.LeftButton)
    points = window.session.plan.senders[0].points
    assert [(p.pressure_kpa, p.volts) for p in points] == [(0.0, 0.55), (500.0, 2.6)]
    assert station.table.rowCount() == 2
    window.session.undo()
    assert len(window.session.plan.senders[0].points) == 1


def test_what_cannot_be_a_point_is_refused_by_name(window: Any, qtbot: Any) -> None:
    station = opened(window, "senders", SendersStation)
    before = window.session.plan
    for volts, pressure, named in (
        ("", "5 bar", "volts"),
        ("2.0", "lots", "gauge pressure"),
        ("2.0", "900 bar", "Point"),
    ):
        station.typed_volts.setText(volts)
        station.typed_pressure.setText(pressure)
        with qtbot.waitSignal(window.session.refused) as said:
            station.take_point()
        assert named in said.args[0]
    assert window.session.plan == before


def test_two_senders_cannot_sit_in_one_place(window: Any, qtbot: Any) -> None:
    station = opened(window, "senders", SendersStation)
    with qtbot.waitSignal(window.session.refused):
        station.add("gallery")
    with qtbot.waitSignal(window.session.refused):
        station._placed("turbo's inlet")
    assert [s.at for s in window.session.plan.senders] == ["gallery", "inlet"]


def test_points_are_typed_over_and_taken_out(window: Any, qtbot: Any) -> None:
    station = opened(window, "senders", SendersStation)
    station.table.typed.emit(1, 1, "1.2 V")
    assert window.session.plan.senders[0].points[1].volts == pytest.approx(1.2)
    with qtbot.waitSignal(window.session.refused):
        station.table.typed.emit(1, 1, "nonsense")
    station.table.setCurrentCell(1, 0)
    station.remove_point()
    assert len(window.session.plan.senders[0].points) == 4
    station.remove()
    assert len(window.session.plan.senders) == 1


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
    assert station.entries[-1].readings[0].inlet_pa == pytest.approx(14 * PSI)
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
    station.export_csv(path)
    assert len(from_csv(path.read_text())) == len(station.entries)
    count = len(station.entries)
    station.import_csv(path)
    assert len(station.entries) == count, "what is there already is not taken twice"
    path.write_text("day,rpm,oil_c,inlet_kpa\n2027-01-01,850,95,90\n")
    station.import_csv(path)
    assert len(station.entries) == count + 1
    path.write_text("day,rpm\n2027-01-01,fast\n")
    with qtbot.waitSignal(window.session.refused) as said:
        station.import_csv(path)
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
    station.take_recording(path)
    kept = [e for e in station.entries if e.recording]
    assert len(kept) == 1
    assert len(kept[0].readings) == 2
    file = window.session.log.recording(kept[0])
    assert file is not None
    assert len(recordings.read(file)) == len(made)


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
    assert any(r.inlet_pa == pytest.approx(14 * PSI) for e in window.session.log.entries for r in e.readings)


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


def test_stand_in_lines_have_their_heading_now_and_then(window: Any) -> None:
    plan = window.session.plan
    made = sensed(simulate(Scenario(plan, script_from("off 35", plan))), 5.0)
    lines = [t.line for t in timed_lines(made)]
    assert sum(line.startswith("time[s]") for line in lines) == 4
