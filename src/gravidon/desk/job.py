# SPDX-License-Identifier: GPL-3.0-or-later
"""Long work beside the window, one way for all of it: a request, progress, cancel, an answer or an error.

A `Job` runs the latest request only: starting it again cancels the one before, whose reports are dropped by their
number. What a request raises ends that request and no more; it is told by `failed` and to `mishap`.
"""

from __future__ import annotations

import atexit
import weakref
from collections.abc import Callable, Iterator
from typing import Any

from PyQt6.QtCore import QElapsedTimer, QObject, QThread, pyqtSignal

from gravidon.desk.mishap import MISHAPS

REPORT_EVERY_MS = 200
"""Every report costs the window a turn of the interpreter; a progress bar needs no more."""

REST_MS = 2
"""Pause after each step, so that the window's thread gets its turn."""

Steps = Callable[[], Iterator[Any]]
"""A request: everything it needs is in it, and it yields what is known so far after every step."""


class _Worker(QThread):
    """Takes the steps of one request in a thread."""

    reported = pyqtSignal(int, object)
    broke = pyqtSignal(int, object)

    def __init__(self, number: int, make: Steps, parent: QObject) -> None:
        super().__init__(parent)
        self.number, self.make = number, make
        self.stop = False

    def run(self) -> None:
        """Take the steps; report now and then, and the last one always, once."""
        latest: Any = None
        told = True
        shown = QElapsedTimer()
        shown.start()
        try:
            for latest in self.make():
                if self.stop:
                    return
                told = shown.hasExpired(REPORT_EVERY_MS)
                if told:
                    shown.restart()
                    self.reported.emit(self.number, latest)
                self.msleep(REST_MS)
        except Exception as error:  # noqa: BLE001  whatever a request raises, the window lives on and says so
            self.broke.emit(self.number, error)
            return
        if latest is not None and not told:
            self.reported.emit(self.number, latest)


_JOBS: weakref.WeakSet[Job] = weakref.WeakSet()


@atexit.register
def _leave_all() -> None:
    """The process ends with work under way: wait for the step at hand, since Qt aborts on a thread that is torn down."""
    for job in list(_JOBS):
        job.leave()


def busy_beside(job: Job) -> bool:
    """Return whether any other work is under way in this process: what nobody waits for gives way to it."""
    return any(other.busy for other in list(_JOBS) if other is not job)


class Job(QObject):
    """One kind of long work of one owner."""

    reported = pyqtSignal(object)
    """What is known so far, of the latest request."""
    ended = pyqtSignal()
    """The latest request is over: answered, broken or cancelled."""
    failed = pyqtSignal(str)
    """The latest request raised this."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._number = 0
        self._worker: _Worker | None = None
        self._old: list[_Worker] = []
        _JOBS.add(self)

    @property
    def busy(self) -> bool:
        """Whether a request is being worked on."""
        return self._worker is not None

    def start(self, make: Steps) -> None:
        """Work on a request; one that is being worked on is cancelled, and nothing waits for it."""
        self._let_go()
        self._number += 1
        worker = _Worker(self._number, make, self)
        worker.reported.connect(self._report)
        worker.broke.connect(self._broke)
        worker.finished.connect(lambda: self._finished(worker))
        self._worker = worker
        worker.start()

    def cancel(self) -> None:
        """Stop after the step at hand; its reports are dropped."""
        if self._worker is not None:
            self._let_go()
            self._number += 1
            self.ended.emit()

    def leave(self) -> None:
        """The owner goes: stop and wait for the step at hand."""
        self._let_go()
        for worker in self._old:
            worker.wait()

    def _let_go(self) -> None:
        if self._worker is not None:
            self._worker.stop = True
            self._old.append(self._worker)
            self._worker = None

    def _report(self, number: int, answer: object) -> None:
        if number == self._number and self._worker is not None:
            self.reported.emit(answer)

    def _broke(self, number: int, error: Exception) -> None:
        MISHAPS.tell(error)
        if number == self._number:
            self.failed.emit(str(error))

    def _finished(self, worker: _Worker) -> None:
        if worker in self._old:
            self._old.remove(worker)
        if self._worker is worker:
            self._worker = None
            self.ended.emit()
        worker.deleteLater()
