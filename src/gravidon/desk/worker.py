"""Long work beside the window: a frozen request, steps that report, a result with the request's number."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from PyQt6.QtCore import QObject, QThread, pyqtSignal


class StepWorker(QThread):
    """Runs an iterator to its end in a thread; every item is reported with the request's number."""

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
        """Take the steps."""
        for item in self.make():
            if self._stop:
                break
            self.reported.emit(self.number, item)
            self.msleep(1)  # let the window's thread have its turn
        self.ended.emit(self.number)
