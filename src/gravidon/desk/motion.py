# SPDX-License-Identifier: GPL-3.0-or-later
"""Short motion that tells something: how briskly the oil creeps, for a moment after it changed. Off on request."""

from __future__ import annotations

from PyQt6.QtCore import QElapsedTimer, QTimer, pyqtSignal
from PyQt6.QtWidgets import QWidget

LASTS_MS, FRAME_MS = 1400, 33
"""[ms] how long a motion lasts, and between its pictures; project choice."""


class Motion(QTimer):
    """Runs once when started; `share` goes from 0 to 1, and nothing moves while the widget is out of sight."""

    stepped = pyqtSignal()

    def __init__(self, widget: QWidget) -> None:
        super().__init__(widget)
        self._clock = QElapsedTimer()
        self._widget = widget
        self.setInterval(FRAME_MS)
        self.timeout.connect(self._step)

    @property
    def share(self) -> float:
        """How much of the motion is over [-]; 1 when it does not run."""
        return min(self._clock.elapsed() / LASTS_MS, 1.0) if self.isActive() else 1.0

    def run(self) -> None:
        """Begin anew."""
        self._clock.start()
        self.start()

    def _step(self) -> None:
        if not self._widget.isVisible() or self._clock.elapsed() >= LASTS_MS:
            self.stop()
        self.stepped.emit()
