# SPDX-License-Identifier: GPL-3.0-or-later
"""A choice of a few words that a screen reader can name: on Linux it takes a choice's name from the label that leads to it."""

from __future__ import annotations

from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QComboBox, QLabel, QWidget

from gravidon.desk.voices import Words


class Box(QComboBox):
    """A combo box; where no label in sight leads to it, one without a face does, with its accessible name."""

    def showEvent(self, event: QShowEvent | None) -> None:
        """See that something names it."""
        super().showEvent(event)
        parent, name = self.parentWidget(), self.accessibleName()
        if parent is None or not name:
            return
        labels = [x for x in parent.children() if isinstance(x, QLabel)]
        if not any(x.buddy() is self for x in labels):
            label = Words(name, parent)
            label.setGeometry(0, 0, 0, 0)
            label.setBuddy(self)
            label.show()


def namer(box: QWidget) -> str:
    """Return the words of the label that leads to a widget; empty if none does."""
    parent = box.parentWidget()
    found = (
        [x.text() for x in parent.children() if isinstance(x, QLabel) and x.buddy() is box] if parent else []
    )
    return found[0] if found else ""
