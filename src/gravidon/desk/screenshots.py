"""Render the main views from the demo, for the README and for looking at."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from gravidon.desk.preferences import Preferences
from gravidon.desk.recovery import Recovery
from gravidon.desk.stations.feed import FeedStation
from gravidon.desk.stations.guesses import GuessesStation
from gravidon.desk.window import MainWindow
from gravidon.plan import demos

SIZE = (1280, 800)
VIEWS: tuple[tuple[str, str, str, str, str, str], ...] = (
    ("drain-light", "estate", "drain", "light", "imperial", "hard left"),
    ("drain-dark", "estate", "drain", "dark", "metric", "full load"),
    ("restrictor-light", "estate", "restrictor", "light", "imperial", "hot idle"),
    ("restrictor-dark", "van", "restrictor", "dark", "metric", "full load"),
    ("car-light", "estate", "car", "light", "imperial", "hot idle"),
    ("car-dark", "van", "car", "dark", "metric", "full load"),
    ("tap-light", "estate", "tap", "light", "imperial", "full load"),
    ("tap-dark", "estate", "tap", "dark", "metric", "hot idle"),
    ("feed-light", "van", "feed", "light", "metric", "full load"),
    ("feed-dark", "estate", "feed", "dark", "imperial", "hot idle"),
    ("map-light", "estate", "map", "light", "imperial", "full load"),
    ("map-dark", "van", "map", "dark", "metric", "hot idle"),
    ("guesses-light", "van", "guesses", "light", "metric", "hot idle"),
    ("seat-light", "estate", "seat", "light", "metric", "braking"),
    ("entry-dark", "estate", "entry", "dark", "metric", "hard left"),
    ("breather-light", "estate", "breather", "light", "imperial", "full load"),
    ("sheet-light", "estate", "sheet", "light", "metric", "full load"),
)
"""File name, demo, station, theme, units and condition of each picture."""


def settle(window: MainWindow) -> None:
    """Let the window finish its work: remedies found, layouts done."""
    for _ in range(100_000):
        QApplication.processEvents()
        if window.session.remedies_done and not window.station.busy:
            break
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
        while station_in_sight.busy:
            QApplication.processEvents()
    if isinstance(station_in_sight, FeedStation):
        station_in_sight.select(max(station_in_sight.steps[:-1], key=lambda s: s.drop_pa).path)
    settle(window)


def render_all(folder: Path) -> list[Path]:
    """Write every picture; return the files."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from gravidon.desk.application import make_application, make_window

    application = make_application()
    folder.mkdir(parents=True, exist_ok=True)
    written = []
    with tempfile.TemporaryDirectory() as scratch:
        window = make_window(
            demos.demo_plan(), None, Preferences(Path(scratch) / "preferences.json"), Recovery(Path(scratch))
        )
        window.resize(*SIZE)
        window.show()
        for name, demo, station, theme, family, condition in VIEWS:
            if window.session.plan != demos.demo_plan(demo):
                window.session.replace(demos.demo_plan(demo), None)
                window.session.choose_turbo(1)
            show_view(window, station, theme, family, condition)
            path = folder / f"{name}.png"
            window.grab().save(str(path))
            written.append(path)
        window.close()
    application.processEvents()
    return written
