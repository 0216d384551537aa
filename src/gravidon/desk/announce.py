# SPDX-License-Identifier: GPL-3.0-or-later
"""What changed while the hands were elsewhere is told to assistive technology: as the description of what has the keyboard."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QApplication, QWidget

SETTLED_MS = 700
"""[ms] at rest after which a change is told: a drag is not told at every step; project choice."""


class Announcer(QObject):
    """Tells a sentence by the description of the widget that has the keyboard, which a screen reader reads when it changes; its
    own description comes back when the keyboard goes elsewhere."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.said = ""
        self._waiting = ""
        self._own: tuple[QWidget, str] | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(SETTLED_MS)
        self._timer.timeout.connect(self.now)
        application = QApplication.instance()
        if isinstance(application, QApplication):
            application.focusChanged.connect(self._moved)

    def settle(self, text: str) -> None:
        """Tell a sentence that stands for a state, once it rests and is another than the one told last."""
        if text != self.said:
            self._waiting = text
            self._timer.start()
        else:
            self._timer.stop()

    def now(self, text: str = "") -> None:
        """Tell a sentence at once; by default the one that waits."""
        text = text or self._waiting
        if self._waiting == text:
            self.said, self._waiting = text, ""
        widget = QApplication.focusWidget()
        if widget is None or not text:
            return
        if self._own is None or self._own[0] is not widget:
            self._own = (widget, widget.accessibleDescription())
        widget.setAccessibleDescription(text)

    def _moved(self, old: QWidget | None, _now: QWidget | None) -> None:
        if self._own is not None and self._own[0] is old and old is not None:
            old.setAccessibleDescription(self._own[1])
        self._own = None
