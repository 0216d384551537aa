"""Render the main views from the demo, for the README and for looking at."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from gravidon.desk.preferences import Preferences
from gravidon.desk.recovery import Recovery
from gravidon.desk.window import MainWindow
from gravidon.plan import demos

SIZE = (1280, 800)
VIEWS: tuple[tuple[str, str, str, str, str], ...] = (
    ("drain-light", "drain", "light", "imperial", "hard left"),
    ("drain-dark", "drain", "dark", "metric", "full load"),
    ("restrictor-light", "restrictor", "light", "imperial", "hot idle"),
    ("restrictor-dark", "restrictor", "dark", "metric", "full load"),
    ("car-light", "car", "light", "imperial", "hot idle"),
    ("car-dark", "car", "dark", "metric", "full load"),
    ("tap-light", "tap", "light", "imperial", "full load"),
    ("feed-light", "feed", "light", "metric", "full load"),
    ("seat-light", "seat", "light", "metric", "braking"),
    ("entry-dark", "entry", "dark", "metric", "hard left"),
    ("breather-light", "breather", "light", "imperial", "full load"),
    ("sheet-light", "sheet", "light", "metric", "full load"),
)
"""File name, station, theme, units and condition of each picture."""


def settle(window: MainWindow) -> None:
    """Let the window finish its work: remedies found, layouts done."""
    for _ in range(20_000):
        QApplication.processEvents()
        if window.session.remedies_done:
            break
    for _ in range(5):
        QApplication.processEvents()


def show_view(window: MainWindow, station: str, theme: str, family: str, condition: str) -> None:
    """Bring a view up."""
    window.session.set_look(family="metric" if family == "metric" else "imperial", theme=theme)
    window.go_to(station)
    window.session.choose_condition(window.session.evaluation.names.index(condition))
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
        for name, station, theme, family, condition in VIEWS:
            show_view(window, station, theme, family, condition)
            path = folder / f"{name}.png"
            window.grab().save(str(path))
            written.append(path)
        window.close()
    application.processEvents()
    return written
