# SPDX-License-Identifier: GPL-3.0-or-later
"""Long work, mishaps and autosave: nothing ends the window, nothing is lost, nothing stale is shown."""

import os
import subprocess
import sys
import threading
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QMessageBox
from pytestqt.qtbot import QtBot

from gravidon.desk.job import REPORT_EVERY_MS, Job
from gravidon.desk.mishap import MISHAPS, report_text
from gravidon.desk.window import MainWindow
from gravidon.plan.demos import demo_plan
from gravidon.plan.storage import plan_from_text


@pytest.fixture
def job(qtbot: QtBot) -> Iterator[Job]:
    owner = QObject()
    made = Job(owner)
    yield made
    made.leave()


def test_a_job_always_reports_its_last_step(qtbot: QtBot, job: Job) -> None:
    """However quick the steps: the result arrives, then the end."""
    reports: list[object] = []
    job.reported.connect(reports.append)
    with qtbot.waitSignal(job.ended, timeout=5000):
        job.start(lambda: iter(range(20)))
    assert reports[-1] == 19
    assert not job.busy


def test_a_slow_last_step_is_reported_once(qtbot: QtBot, job: Job) -> None:
    """What a receiver writes down on the answer (a trainer's record) is not written twice."""
    reports: list[object] = []
    job.reported.connect(reports.append)

    def steps() -> Iterator[str]:
        threading.Event().wait(2 * REPORT_EVERY_MS / 1000)
        yield "answer"

    with qtbot.waitSignal(job.ended, timeout=5000):
        job.start(steps)
    assert reports == ["answer"]


def test_a_cancelled_job_stops_and_reports_nothing_more(qtbot: QtBot, job: Job) -> None:
    """The step at hand is finished; no later one is taken."""
    taken: list[int] = []
    reached = threading.Event()

    def steps() -> Iterator[int]:
        for k in range(1000):
            taken.append(k)
            if k == 3:
                reached.set()
                cancelled.wait(5)
            yield k

    cancelled = threading.Event()
    reports: list[object] = []
    job.reported.connect(reports.append)
    job.start(steps)
    assert reached.wait(5)
    job.cancel()
    cancelled.set()
    job.leave()
    qtbot.wait(10)
    assert taken == [0, 1, 2, 3]
    assert reports == []
    assert not job.busy


def test_only_the_latest_request_is_answered(qtbot: QtBot, job: Job) -> None:
    """A request that is started over is dropped with its answer, even if it was done already."""
    reports: list[object] = []
    job.reported.connect(reports.append)
    with qtbot.waitSignal(job.ended, timeout=5000):
        job.start(lambda: iter(["old"]))
        job.start(lambda: iter(["new"]))
    qtbot.wait(20)
    assert reports == ["new"]


def test_a_job_that_raises_fails_and_can_be_started_again(
    qtbot: QtBot, job: Job, capsys: pytest.CaptureFixture[str]
) -> None:
    def steps() -> Iterator[int]:
        yield 1
        raise ValueError("no such number")

    said: list[str] = []
    job.failed.connect(said.append)
    with qtbot.waitSignal(job.ended, timeout=5000):
        job.start(steps)
    qtbot.waitUntil(lambda: said == ["no such number"], timeout=2000)
    assert "ValueError" in capsys.readouterr().err
    with qtbot.waitSignal(job.ended, timeout=5000):
        job.start(lambda: iter([2]))


PROGRAM = """
import sys
from PyQt6.QtCore import QTimer
from gravidon.desk.application import make_application, make_window
from gravidon.desk.job import REPORT_EVERY_MS, Job
from gravidon.desk.mishap import MISHAPS
from gravidon.plan.demos import demo_plan
a = make_application(); MISHAPS.install(); w = make_window(demo_plan()); w.show()
def slot(): raise RuntimeError("from a slot")
def steps():
    raise RuntimeError("from a thread")
    yield
w.session.edit("name", "kept")
QTimer.singleShot(0, slot)
Job(w).start(steps)
QTimer.singleShot(300, lambda: print("alive", w.notice.text(), w.recovery.file.exists()))
QTimer.singleShot(400, lambda: sys.exit(0) if False else a.exit(0))
a.exec()
"""


def test_an_exception_in_a_slot_or_a_thread_does_not_end_the_process(tmp_path: Path) -> None:
    """Unhandled, either would abort with status 134; here both are told, and the plan is in the recovery file."""
    done = subprocess.run(
        [sys.executable, "-c", PROGRAM],
        capture_output=True,
        text=True,
        check=False,
        timeout=60,
        env={
            **os.environ,
            "PYTHONPATH": "src",
            "XDG_STATE_HOME": str(tmp_path),
            "XDG_CONFIG_HOME": str(tmp_path),
        },
    )
    assert done.returncode == 0, done.stderr
    assert "alive Something went wrong" in done.stdout
    assert done.stdout.strip().endswith("True")
    assert "from a slot" in done.stderr
    assert "from a thread" in done.stderr


def test_a_mishap_keeps_the_plan_and_can_be_reported(
    qtbot: QtBot, window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The report holds versions and trace; the plan only where it is wanted."""
    window.session.edit("name", "the one at work")
    MISHAPS.tell(RuntimeError("a test's own mishap"))
    assert "your plan is kept" in window.notice.text().lower()
    kept = window.recovery.file.read_text(encoding="utf-8")
    assert "the one at work" in kept
    target = tmp_path / "report.txt"
    monkeypatch.setattr("gravidon.desk.output.QFileDialog.getSaveFileName", lambda *_: (str(target), ""))
    for button, inside in ((QMessageBox.StandardButton.No, False), (QMessageBox.StandardButton.Yes, True)):
        monkeypatch.setattr(QMessageBox, "question", lambda *_, b=button: b)
        window.save_report()
        text = target.read_text(encoding="utf-8")
        assert "a test's own mishap" in text
        assert "NumPy" in text
        assert ("the one at work" in text) is inside


def test_a_report_holds_a_plan_that_opens_again() -> None:
    text = report_text("trace", demo_plan())
    assert plan_from_text(text[text.index("{") :]) == demo_plan()


def test_constant_editing_does_not_starve_the_autosave(qtbot: QtBot, window: MainWindow) -> None:
    """Edits at half the autosave's interval: it fires all the same, from the first unsaved edit on."""
    window.autosave.setInterval(120)
    kept: list[str] = []
    window.recovery.keep = lambda plan, path, log=None, known="": kept.append(plan.name)  # type: ignore[method-assign]
    edits = QTimer()
    number = iter(range(1000))
    edits.timeout.connect(lambda: window.session.edit("name", f"edit {next(number)}"))
    edits.start(50)
    qtbot.waitUntil(lambda: len(kept) >= 2, timeout=5000)
    edits.stop()


def test_a_drag_moves_at_once_and_settles_at_rest(qtbot: QtBot, window: MainWindow) -> None:
    """The evaluation is there with the step; `changed` follows once for all steps, or on letting go."""
    moved, changed = [], []
    window.session.moved.connect(lambda: moved.append(window.session.evaluation.drainage.submergence_m[0]))
    window.session.changed.connect(lambda: changed.append(True))
    for k in range(5):
        window.session.edit("turbos.0.drain.entry.z_mm", -40.0 + k, "move", "drag-entry")
    assert len(set(moved)) == 5
    assert not changed
    window.session.end_merge()
    assert len(changed) == 1
    window.session.edit("turbos.0.drain.entry.z_mm", -30.0, "move", "drag-entry")
    qtbot.waitUntil(lambda: len(changed) == 2, timeout=1000)
    window.session.undo()
    window.session.undo()
    assert window.session.plan == demo_plan()
