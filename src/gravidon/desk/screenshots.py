# SPDX-License-Identifier: GPL-3.0-or-later
"""Render the main views from the demo, for the README and for looking at."""

from __future__ import annotations

import os
import tempfile
import time
from pathlib import Path

import numpy as np
from PyQt6.QtGui import QColor, QImage
from PyQt6.QtWidgets import QApplication

from gravidon.desk.preferences import Preferences
from gravidon.desk.recovery import Recovery
from gravidon.desk.stations.attitude import AttitudeStation
from gravidon.desk.stations.bench import BenchStation
from gravidon.desk.stations.diagnosis import DiagnosisStation
from gravidon.desk.stations.guesses import GuessesStation
from gravidon.desk.stations.logbook import LogbookStation
from gravidon.desk.stations.planner import PlannerStation
from gravidon.desk.stations.trainer import TrainerStation
from gravidon.desk.theme import PALETTES
from gravidon.desk.window import MainWindow
from gravidon.desk.work_list import TEST
from gravidon.draw.style import Palette
from gravidon.errors import PlanFileError
from gravidon.plan import demos, paths
from gravidon.plan.model import Plan
from gravidon.records.entry import Entry
from gravidon.records.lines import Row
from gravidon.records.shipped import demo_log, demo_recording
from gravidon.study.diagnosis.trainer import lesson_from
from gravidon.study.verdict.chance import chance, known_chance

SIZE = (1280, 800)
VIEWS: tuple[tuple[str, str, str, str, str, str], ...] = (
    ("whole-light", "estate", "whole", "light", "imperial", "full load"),
    ("planner-light", "estate", "planner", "light", "imperial", "full load"),
    ("ideas-dark", "estate", "ideas", "dark", "metric", "full load"),
    ("drain-light", "fed", "drain", "light", "imperial", "hard left"),
    ("seat-light", "fed", "seat", "light", "metric", "braking"),
    ("entry-dark", "fed", "entry", "dark", "imperial", "full load"),
    ("scavenge-light", "special", "scavenge", "light", "metric", "full load"),
    ("attitude-light", "fed", "attitude", "light", "metric", "full load"),
    ("restrictor-light", "estate", "restrictor", "light", "imperial", "hot idle"),
    ("tap-dark", "estate", "tap", "dark", "metric", "hot idle"),
    ("guesses-light", "van", "guesses", "light", "metric", "hot idle"),
    ("parts-dark", "estate", "parts", "dark", "imperial", "full load"),
    ("build-light", "fed", "build", "light", "metric", "full load"),
    ("bench-light", "coupe", "bench", "light", "imperial", "full load"),
    ("logbook-dark", "coupe", "logbook", "dark", "imperial", "full load"),
    ("health-light", "closing", "health", "light", "imperial", "full load"),
    ("diagnosis-light", "closing", "diagnosis", "light", "imperial", "hot idle"),
    ("trainer-dark", "closing", "trainer", "dark", "metric", "hot idle"),
    ("sheet-light", "estate", "sheet", "light", "metric", "full load"),
)
"""File name, demo (fed: the estate with its restrictor drilled out; closing: the coupe before its screen was cleaned), station, theme, units and condition of each picture."""


def plan_of(demo: str) -> Plan:
    """Return a demo plan by the name used in VIEWS."""
    if demo == "closing":
        return demos.demo_plan("coupe")
    if demo == "fed":
        return paths.put(demos.demo_plan(), "turbos.0.restrictor.bore_mm", 2.2)
    return demos.demo_plan(demo)


def season_of(demo: str) -> tuple[Entry, ...]:
    """Return the entries that a picture's logbook holds."""
    entries = demo_log("coupe") if demo in ("coupe", "closing") else ()
    cleaned = next((k for k, e in enumerate(entries) if "screen" in e.changed), len(entries))
    return entries[:cleaned] if demo == "closing" else entries


STOPPED_AT_S = 96.0
"""[s] of the recorded first start at which its picture is taken: just after it was stopped."""


def start_engine(station: BenchStation) -> None:
    """Let the bench see the recorded first start that must be stopped, as far as its picture goes."""
    made = demo_recording("first-start-stopped")
    station.sound.setChecked(False)
    station.tick()
    station.tick()
    rows = []
    for k, t in enumerate(made.time_s.tolist()):
        if t <= STOPPED_AT_S:
            rows.append(Row({"time": t, **{c: float(v[k]) for c, v in made.channels.items()}}))
    station.came(rows)


CASE = "special-3-2"
"""The trainer's case in its picture."""


def play_case(window: MainWindow, station: TrainerStation) -> None:
    """Take a case, ask and test, and let the gauges come alive."""
    station.take(lesson_from(CASE))
    settle(window)
    if station.play is None:
        return
    play = station.play
    for sign in ("smoke-idle", "smoke-boost", "gaskets-weep", "shaft-play"):
        play = play.ask(sign)
    station.play = play.test("dipstick").test("talc")
    station.work.show_mode(TEST)
    station.situation.setCurrentIndex(3)
    station.situation.activated.emit(3)
    settle(window)
    station.timer.stop()


MOST_WAIT_S = 240.0
"""[s] a view may be at work: sampling a plan of two turbos takes most of a minute on a busy machine."""


def settle(window: MainWindow) -> None:
    """Let the window finish its work: remedies found, shadings made, layouts done.

    Raises: RuntimeError if it does not within MOST_WAIT_S, so that no picture shows half an answer.
    """
    until = time.monotonic() + MOST_WAIT_S
    QApplication.processEvents()
    while not window.session.remedies_done or window.station.busy:
        if time.monotonic() > until:
            raise RuntimeError(f"{window.station.name} is still at work after {MOST_WAIT_S:.0f} s")
        time.sleep(0.002)
        QApplication.processEvents()
    for _ in range(5):
        QApplication.processEvents()


def show_view(window: MainWindow, station: str, theme: str, family: str, condition: str) -> None:
    """Bring a view up."""
    window.session.set_look(family="metric" if family == "metric" else "imperial", theme=theme)
    window.go_to(station)
    window.session.choose_condition(window.session.evaluation.names.index(condition))
    window.rail.setFocus()
    station_in_sight = window.station
    if isinstance(station_in_sight, GuessesStation):
        station_in_sight.start()
    if isinstance(station_in_sight, AttitudeStation):
        station_in_sight.open_demo()
    if isinstance(station_in_sight, BenchStation):
        settle(window)
        start_engine(station_in_sight)
    if isinstance(station_in_sight, DiagnosisStation):
        settle(window)
        for sign, answer in (("smoke-idle", True), ("smoke-clears", True), ("smoke-boost", False)):
            station_in_sight.answer_sign(sign, answer)
        station_in_sight.tell_result("cap-off", 0)
    if isinstance(station_in_sight, TrainerStation):
        play_case(window, station_in_sight)
    if isinstance(station_in_sight, LogbookStation):
        station_in_sight.choose(12)
    if isinstance(station_in_sight, PlannerStation):
        station_in_sight.start()
    settle(window)


COLOURS = 46
"""Colours of a picture that is kept in the repository: flat drawings need no more; project choice."""
FEWER_COLOURS, MOST_BYTES = (COLOURS, 40, 34, 28), 60_000
"""Colours that are tried in turn until a picture is smaller than this [bytes]; project choice."""


def in_few_colours(image: QImage, palette: Palette, most: int = COLOURS) -> QImage:
    """Return a picture in the colours of its palette that mean something and in its most frequent ones, every pixel in the nearest of them."""
    plain = image.convertToFormat(QImage.Format.Format_RGB32)
    high, wide = plain.height(), plain.width()
    bits = plain.constBits()
    assert bits is not None  # noqa: S101  a picture that was just made
    pixels = np.frombuffer(bits.asstring(high * wide * 4), np.uint8).reshape(-1, 4)[:, :3].astype(np.int32)
    coarse = (pixels >> 3) @ np.array([1, 32, 1024])
    _, which, counts = np.unique(coarse, return_inverse=True, return_counts=True)
    means = np.stack([np.bincount(which, pixels[:, k]) / counts for k in range(3)], axis=1)
    named = [QColor(v) for v in vars(palette).values() if isinstance(v, str) and v.startswith("#")]
    own = np.array([(c.blue(), c.green(), c.red()) for c in named])
    kept = np.concatenate([own, means[np.argsort(counts)[::-1][: max(most - len(own), 0)]]])
    nearest = np.square(means[:, None, :] - kept[None, :, :]).sum(axis=2).argmin(axis=1)
    made = QImage(wide, high, QImage.Format.Format_Indexed8)
    made.setColorTable([QColor(round(r), round(g), round(b)).rgb() for b, g, r in kept])
    rows = nearest[which].astype(np.uint8).reshape(high, wide)
    for y in range(high):
        line = made.scanLine(y)
        if line is not None:
            line.setsize(wide)
            line[:] = rows[y].tobytes()
    return made


def render_all(folder: Path) -> list[Path]:
    """Write every picture; return the files.

    Raises: PlanFileError where one cannot be written.
    """
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from gravidon.desk.application import make_application, make_window

    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise PlanFileError(f"{folder}: cannot be made: {error.strerror}") from error
    application = make_application()
    written: list[Path] = []
    with tempfile.TemporaryDirectory() as scratch:
        window = make_window(
            demos.demo_plan(), None, Preferences(Path(scratch) / "preferences.json"), Recovery(Path(scratch))
        )
        window.session.motion = False
        window.resize(*SIZE)
        window.show()
        for name, demo, station, theme, family, condition in VIEWS:
            if not written or window.session.plan != plan_of(demo) or demo in ("coupe", "closing"):
                if known_chance(plan_of(demo)) is None:
                    *_, _ = chance(plan_of(demo))  # it stands in every picture, whole
                window.session.replace(plan_of(demo), None, shipped=season_of(demo))
                window.session.choose_turbo(1)
            show_view(window, station, theme, family, condition)
            path = folder / f"{name}.png"
            picture = window.grab().toImage()
            for most in FEWER_COLOURS:
                if not in_few_colours(picture, PALETTES[theme], most).save(str(path), "PNG", 0):
                    raise PlanFileError(f"{path.name}: cannot be written into {folder}")
                if path.stat().st_size < MOST_BYTES:
                    break
            written.append(path)
        window.close()
    application.processEvents()
    return written
