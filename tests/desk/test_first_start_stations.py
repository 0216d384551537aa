# SPDX-License-Identifier: GPL-3.0-or-later
"""Senders and First start by mouse and keyboard, in a real window; a device on a real pseudo-terminal."""

import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from desk.season import button, opened, rows_of
from gravidon.desk.device_row import CAR
from gravidon.desk.live import LiveFeed
from gravidon.desk.stations import STATIONS
from gravidon.desk.stations.bench import BenchStation
from gravidon.desk.stations.senders import SendersStation
from gravidon.records import recording as recordings
from gravidon.records.lines import Row
from gravidon.records.ring import Ring, least_and_most
from gravidon.records.spool import Spool
from gravidon.records.stand_in import PseudoPort
from gravidon.study.car.car import Scenario, simulate
from gravidon.study.car.script import script_from
from gravidon.study.car.senses import sensed, timed_lines

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


def test_a_stop_cannot_be_missed_by_word_colour_and_sound(
    window: Any, qtbot: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
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
    for answer in (False, True):
        monkeypatch.setattr("gravidon.desk.stations.bench.sure", lambda *_, a=answer: a)
        qtbot.mouseClick(station.on_button, Qt.MouseButton.LeftButton)
        assert (station.run.stop is None) == answer
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
    station.device.source.setCurrentText(CAR)
    qtbot.mouseClick(station.device.start_button, Qt.MouseButton.LeftButton)
    live = window.session.live
    assert live.reading
    qtbot.waitUntil(lambda: live.rows >= 15, timeout=20_000)
    assert live.state == "reading"
    assert "rows" in station.device.status.text()
    qtbot.mouseClick(station.device.start_button, Qt.MouseButton.LeftButton)
    assert not live.reading
    made = live.recorded()
    assert made is not None
    assert len(made) == live.rows
    assert station.device.keep_button.isEnabled()
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
    qtbot.waitUntil(lambda: "1 lines not usable" in station.device.status.text(), timeout=5_000)
    port.close()
    qtbot.waitUntil(lambda: live.state == "lost", timeout=10_000)
    assert "is gone" in station.device.status.text()
    live.stop()


def test_a_port_that_is_not_there_is_tried_again_and_said(window: Any, qtbot: Any) -> None:
    station = bench_of(window, qtbot)
    station.device.source.setCurrentText("/dev/no-such-port")
    qtbot.mouseClick(station.device.start_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: window.session.live.state == "lost", timeout=10_000)
    assert "no-such-port" in station.device.status.text()
    qtbot.mouseClick(station.device.start_button, Qt.MouseButton.LeftButton)


def test_a_recording_is_played_and_one_that_cannot_be_read_is_named(
    window: Any, qtbot: Any, tmp_path: Path
) -> None:
    station = bench_of(window, qtbot)
    path = tmp_path / "run.csv"
    path.write_text(
        "time[s],rpm[rpm],oil[degC],gallery[kPa],inlet[kPa]\n"
        + "".join(f"{k / 10},850,90,150,120\n" for k in range(40))
    )
    station.device.play_file(path)
    qtbot.waitUntil(lambda: window.session.live.rows >= 5, timeout=20_000)
    window.session.live.stop()
    with qtbot.waitSignal(window.session.refused) as said:
        station.device.play_file(tmp_path / "gone.csv")
    assert "gone.csv" in said.args[0]


def test_silence_while_it_runs_asks_to_look_at_the_gauge(window: Any, qtbot: Any) -> None:
    station = bench_of(window, qtbot)
    station.tick(), station.tick()
    station.came(rows_of(window, "first-start", until=12.0))
    window.session.live.quiet.emit(1.5)
    assert station.run.call().reason == "silent"


def test_no_key_and_no_focus_wipes_a_stop(window: Any, qtbot: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    """Space, Return, Escape and Tab while it says stop: it goes on saying so. Starting over asks, and not while a device is read; a turbo added meanwhile changes nothing."""
    station = bench_of(window, qtbot)
    station.tick_button.setFocus()
    station.tick(), station.tick()
    rows = rows_of(window, "first-start", until=60.0)
    station.came([Row(r.values | {k: 0.5 for k in r.values if k.endswith("_v")}) for r in rows])
    assert station.run.stop is not None
    asked: list[str] = []
    monkeypatch.setattr("gravidon.desk.stations.bench.sure", lambda _w, q, _d: bool(asked.append(q)))
    for key in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Tab) * 6:
        widget = QApplication.focusWidget() or station
        qtbot.keyClick(widget, key)
        assert station.run.stop is not None
    station.anew_button.click()
    station.on_button.click()
    assert len(asked) >= 2
    monkeypatch.setattr(type(window.session.live), "reading", property(lambda _self: True))
    count = len(asked)
    station.begin_anew()
    assert len(asked) == count
    assert station.run.stop is not None
    window.session.edit("turbos", (*window.session.plan.turbos, window.session.plan.turbos[0]), "another")
    assert station.run.stop is not None


def test_volts_without_a_sender_in_the_plan_are_told(window: Any, qtbot: Any) -> None:
    station = bench_of(window, qtbot)
    window.session.edit("senders", (), "none")
    window.session.live.channels = ("time", "rpm", "gallery_v", "inlet_v")
    station._tell_senders()
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


def test_a_run_longer_than_the_sight_is_seen_whole_and_kept_short(window: Any, qtbot: Any) -> None:
    """Three runs one after the other: the steps saw all of them, the ring keeps no more than it holds, its time goes on over the device's new beginnings."""
    station = bench_of(window, qtbot)
    station.tick(), station.tick()
    rows = rows_of(window, "first-start")
    for _ in range(3):
        station.came(rows)
    assert len(station.ring) == min(3 * len(rows), 30_000)
    assert (np.diff(station.ring.time_s) > 0.0).all()
    assert station.run.last.time_s == rows[-1].values["time"]


def test_another_engine_begins_anew_and_a_port_that_comes_back_does_not(window: Any, qtbot: Any) -> None:
    station = bench_of(window, qtbot)
    station.tick(), station.tick()
    station.came(rows_of(window, "first-start", until=60.0))
    window.session.live.began.emit(False)
    assert station.run.at >= 3
    assert len(station.ring) == 0
    window.session.live.began.emit(True)
    assert station.run.at == 0


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


def test_stand_in_lines_have_their_heading_now_and_then(window: Any) -> None:
    plan = window.session.plan
    made = sensed(simulate(Scenario(plan, script_from("off 35", plan))), 5.0)
    lines = [t.line for t in timed_lines(made)]
    assert sum(line.startswith("time[s]") for line in lines) == 4
