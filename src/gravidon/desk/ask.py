# SPDX-License-Identifier: GPL-3.0-or-later
"""A question before something is lost: what would be done is named on its button, and every stray key gives the safe answer."""

from __future__ import annotations

from PyQt6.QtWidgets import QMessageBox, QWidget

from gravidon.words.text import tr


def sure(parent: QWidget | None, question: str, do: str, leave: str | None = None) -> bool:
    """Ask whether to do it; return and escape leave it."""
    box = QMessageBox(QMessageBox.Icon.Question, tr("Gravidon"), question, parent=parent)
    yes = box.addButton(do, QMessageBox.ButtonRole.AcceptRole)
    no = box.addButton(leave or tr("Leave it"), QMessageBox.ButtonRole.RejectRole)
    box.setDefaultButton(no)
    box.setEscapeButton(no)
    box.exec()
    return box.clickedButton() is yes
