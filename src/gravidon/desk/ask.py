# SPDX-License-Identifier: GPL-3.0-or-later
"""A question before something is lost: what would be done is named on its button, and every stray key gives the safe answer."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtWidgets import QMessageBox, QWidget

from gravidon.words.text import tr


def one_of(parent: QWidget | None, question: str, answers: Mapping[str, str], safe: str) -> str:
    """Ask, a button for each answer (its key and its words); return the key. Return and escape give the safe one."""
    box = QMessageBox(QMessageBox.Icon.Question, tr("Gravidon"), question, parent=parent)
    role = QMessageBox.ButtonRole
    made = {
        key: box.addButton(words, role.RejectRole if key == safe else role.AcceptRole)
        for key, words in answers.items()
    }
    box.setDefaultButton(made[safe])
    box.setEscapeButton(made[safe])
    box.exec()
    return next((key for key, button in made.items() if button is box.clickedButton()), safe)


def sure(parent: QWidget | None, question: str, do: str, leave: str | None = None) -> bool:
    """Ask whether to do it; return and escape leave it."""
    return one_of(parent, question, {"do": do, "leave": leave or tr("Leave it")}, "leave") == "do"
