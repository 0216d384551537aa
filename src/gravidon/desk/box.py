# SPDX-License-Identifier: GPL-3.0-or-later
"""A choice of a few words that a screen reader can name: on Linux it takes a choice's name from the label that leads to it."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QComboBox, QLabel, QWidget

from gravidon.desk.voices import Words
from gravidon.translate import tr


class Box(QComboBox):
    """A combo box; where no label in sight leads to it, one without a face does, with its accessible name.

    Words of the plan are offered in the session's language: `offer` and `choose` take them as the file has them, `chosen`
    and `meaning` give them back so.
    """

    def offer(self, options: Iterable[str]) -> None:
        """Offer words of the plan."""
        for word in options:
            self.addItem(tr(word), word)

    def choose(self, word: str) -> None:
        """Show a word of the plan; one that is not offered changes nothing."""
        self.setCurrentIndex(k if (k := self.findData(word)) >= 0 else self.currentIndex())

    @property
    def chosen(self) -> str:
        """The plan's word for what is shown."""
        return self.meaning(self.currentText())

    def meaning(self, shown: str) -> str:
        """Return the plan's word for a text that is shown; the text itself where it is none of those offered."""
        k = self.findText(shown)
        return str(self.itemData(k)) if k >= 0 and self.itemData(k) is not None else shown

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
