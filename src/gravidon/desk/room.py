# SPDX-License-Identifier: GPL-3.0-or-later
"""Room for the window's parts, looked over by scrolling where there is less than they need."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QScrollArea, QWidget

from gravidon.desk.there import there


class Room(QScrollArea):
    """Room for the window's parts: a window smaller than they need, as when all is shown larger, is looked over by scrolling."""

    LEAST = QSize(840, 520)
    """[px] that the parts can be used in: 1280 x 800 at 150 % and its edges."""

    def __init__(self, whole: QWidget) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setWidget(whole)
        whole.show()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The parts take all there is, and no less than they need."""
        super().resizeEvent(event)
        there(self.widget()).resize(self.maximumViewportSize().expandedTo(self.LEAST))
