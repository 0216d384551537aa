# SPDX-License-Identifier: GPL-3.0-or-later
"""One plan in two windows: each is told of the other, and nothing is written over in silence."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from gravidon.desk.plan_watch import PlanWatch
from gravidon.desk.session import Session
from gravidon.desk.window import MainWindow
from gravidon.errors import ChangedOnDiskError
from gravidon.plan import storage
from gravidon.plan.demos import demo_plan


@pytest.fixture
def path(tmp_path: Path) -> Path:
    file = tmp_path / "shared.gravidon"
    storage.save(demo_plan("coupe"), file)
    return file


def test_the_second_save_is_refused_and_the_first_ones_work_stays(qapp: object, path: Path) -> None:
    one, two = (Session(storage.load(path), path) for _ in range(2))
    one.edit("line.restrictor.bore_mm", 1.1)
    two.edit("line.restrictor.bore_mm", 1.3)
    one.save(path)
    with pytest.raises(ChangedOnDiskError, match=r"shared\.gravidon"):
        two.save(path)
    assert storage.load(path).turbos[0].restrictor.bore_mm == 1.1
    assert two.unsaved
    two.save(path, over=True)
    assert storage.load(path).turbos[0].restrictor.bore_mm == 1.3
    backup = storage.load(path.with_suffix(storage.BACKUP_SUFFIX))
    assert backup.turbos[0].restrictor.bore_mm == 1.1
    one.edit("line.restrictor.bore_mm", 1.2)
    with pytest.raises(ChangedOnDiskError):
        one.save(path)


def test_saving_one_after_another_is_never_asked(qapp: object, path: Path) -> None:
    session = Session(storage.load(path), path)
    for bore in (1.0, 1.1, 1.2):
        session.edit("line.restrictor.bore_mm", bore)
        session.save(path)
    path.unlink()
    session.save(path)  # gone is not changed: there is nothing to lose
    assert path.exists()


@pytest.mark.parametrize(("choice", "kept"), [(True, 1.4), (False, 1.1), (None, 1.1)])
def test_the_window_asks(
    window: MainWindow, monkeypatch: pytest.MonkeyPatch, path: Path, choice: bool | None, kept: float
) -> None:
    """Write over it, save elsewhere, or turn back: only the first touches the other's work."""
    window.open_path(path)
    window.session.edit("line.restrictor.bore_mm", 1.4)
    other = storage.load(path)
    line = other.turbos[0]
    hole = line.restrictor.model_copy(update={"bore_mm": 1.1})
    storage.save(other.model_copy(update={"turbos": (line.model_copy(update={"restrictor": hole}),)}), path)
    elsewhere = path.with_name("mine.gravidon")
    monkeypatch.setattr("gravidon.desk.window.ask_save_over", lambda _parent, _path: choice)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(elsewhere), ""))
    assert window.save() == (choice is not None)
    assert storage.load(path).turbos[0].restrictor.bore_mm == kept
    if choice is False:
        assert storage.load(elsewhere).turbos[0].restrictor.bore_mm == 1.4
    assert window.session.unsaved == (choice is None)


def test_a_change_on_the_disk_is_told(qtbot: QtBot, tmp_path: Path, path: Path) -> None:
    watch, told = PlanWatch(tmp_path), []
    watch.told.connect(told.append)
    watch.follow(path, storage.stamp(path))
    storage.save(demo_plan("van"), path)  # replaced whole, as another window does
    qtbot.waitUntil(lambda: bool(told), timeout=60_000)
    assert "changed on the disk" in told[0]
    storage.save(demo_plan("estate"), path)  # and once more: it is still followed
    qtbot.waitUntil(lambda: len(told) > 1, timeout=60_000)
    watch.leave()


def test_open_elsewhere_is_told(qapp: object, tmp_path: Path, path: Path) -> None:
    one, two, told = PlanWatch(tmp_path), PlanWatch(tmp_path), []
    two.told.connect(told.append)
    one.follow(path, storage.stamp(path))
    two.follow(path, storage.stamp(path))
    assert "open in another window" in told[0]
    one.leave()
    two.leave()
    two.follow(path, storage.stamp(path))
    assert len(told) == 1
    two.leave()
