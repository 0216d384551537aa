# SPDX-License-Identifier: GPL-3.0-or-later
"""Shared fixtures: quick Hypothesis profile, private folders, a real window driven offscreen."""

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import warnings
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

settings.register_profile("gravidon", deadline=None, max_examples=40)
settings.load_profile("gravidon")


@pytest.fixture(autouse=True)
def _private_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """No test reads or writes the user's own settings."""
    for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"):
        monkeypatch.setenv(name, str(tmp_path / name.lower()))


@pytest.fixture
def window(qtbot: object, tmp_path: Path) -> Iterator[object]:
    """The main window on the demo, metric units, remedies found, closed without questions at the end."""
    from gravidon.desk.application import make_window
    from gravidon.desk.preferences import Preferences
    from gravidon.desk.recovery import Recovery
    from gravidon.plan.demos import demo_plan

    preferences = Preferences(tmp_path / "preferences.json")
    preferences.values["family"] = "metric"
    preferences.values["theme"] = "light"
    preferences.values["motion"] = False
    folder = tmp_path / "recovery"
    folder.mkdir()
    made = make_window(demo_plan(), None, preferences, Recovery(folder))
    made.resize(1280, 800)
    made.show()
    made.activateWindow()
    qtbot.waitUntil(made.isActiveWindow)  # type: ignore[attr-defined]
    yield made
    made.may_leave = lambda: True  # type: ignore[method-assign]
    made.session._timer.stop()
    made.notice_timer.stop()
    made.close()
    made.deleteLater()
    with warnings.catch_warnings():
        from PyQt6.QtWidgets import QApplication

        QApplication.processEvents()
