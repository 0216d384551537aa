"""Long work beside the window: a frozen request, steps that report, a result with the request's number."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from PyQt6.QtCore import QElapsedTimer, QObject, QThread, pyqtSignal

REPORT_EVERY_MS = 200
"""Every report costs the window a turn of the interpreter; a progress bar needs no more."""

REST_MS = 2
"""Pause after each step, so that the window's thread gets its turn."""


class StepWorker(QThread):
    """Runs an iterator to its end in a thread; its items are reported with the request's number."""

    reported = pyqtSignal(int, object)
    ended = pyqtSignal(int)

    def __init__(self, number: int, make: Callable[[], Iterator[Any]], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.number, self.make = number, make
        self._stop = False

    def cancel(self) -> None:
        """Stop after the step at hand."""
        self._stop = True

    def run(self) -> None:
        """Take the steps; report now and then, and the last one always."""
        latest: Any = None
        shown = QElapsedTimer()
        shown.start()
        for latest in self.make():
            if self._stop:
                break
            if shown.hasExpired(REPORT_EVERY_MS):
                shown.restart()
                self.reported.emit(self.number, latest)
            self.msleep(REST_MS)
        if not self._stop and latest is not None:
            self.reported.emit(self.number, latest)
        self.ended.emit(self.number)
