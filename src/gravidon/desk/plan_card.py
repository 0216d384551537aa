# SPDX-License-Identifier: GPL-3.0-or-later
"""A plan that the planner made, as a card: what it is named for, what decides it, what it gives up, and what can be done with it."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QEnterEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QToolButton, QVBoxLayout, QWidget

from gravidon.desk.painted import painted
from gravidon.desk.theme import PALETTES
from gravidon.desk.there import restyle
from gravidon.draw.fan import seal
from gravidon.draw.ink import Ink
from gravidon.plan.units import Family
from gravidon.study.planning.merit import AXES, Merit
from gravidon.study.planning.names import called
from gravidon.study.planning.reasons import gives_up
from gravidon.study.planning.search import Ranked
from gravidon.words.text import capital, tr, verdict_said


class Letter(QWidget):
    """The plan's letter in its ring."""

    def __init__(self, letter: str, verdict: str, theme: str) -> None:
        super().__init__()
        self.letter, self.verdict, self.theme = letter, verdict, theme
        self.setAccessibleName(f"{letter}: {verdict_said(verdict)}")
        self.setFixedSize(24, 24)

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        """The ring."""
        seal(Ink(painter, PALETTES[self.theme]), QRectF(1, 1, 22, 22), self.letter, self.verdict)


class PlanCard(QFrame):
    """One plan."""

    pointed = pyqtSignal(str, bool)
    """Its letter, and whether the mouse or the keyboard is on it."""
    took = pyqtSignal(object)
    kept = pyqtSignal(object)
    compared = pyqtSignal(object)

    def __init__(self, letter: str, ranked: Ranked, others: list[Merit], family: Family, theme: str) -> None:
        super().__init__()
        self.letter, self.ranked = letter, ranked
        self.setProperty("role", "card")
        names = " · ".join(tr(n) for n in called(ranked.names, ranked.merit))
        title = capital(names) if names else tr("Another way")
        self.setAccessibleName(
            tr("Plan {letter}: {title}, {lower}").format(
                letter=letter, title=title, lower=verdict_said(ranked.merit.verdict)
            )
        )
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 8, 10, 8)
        column.setSpacing(3)
        head = QHBoxLayout()
        head.setSpacing(6)
        head.addWidget(Letter(letter, ranked.merit.verdict, theme), 0, Qt.AlignmentFlag.AlignTop)
        words = QLabel(title)
        words.setProperty("role", "section")
        words.setStyleSheet("padding-top: 2px;")
        words.setWordWrap(True)
        head.addWidget(words, 1)
        column.addLayout(head)
        row = QHBoxLayout()
        row.setSpacing(4)
        for text, tip, signal in (
            (tr("Take it"), tr("Make this the plan; undo takes it back"), self.took),
            (
                tr("Compare"),
                tr("Keep it as an idea and lay it beside the plan, to take it piece by piece"),
                self.compared,
            ),
            (tr("Keep"), tr("Keep it as an idea in the file"), self.kept),
        ):
            button = QToolButton()
            button.setText(text)
            button.setProperty("link", True)
            button.setToolTip(tip)
            button.setAccessibleName(tr("{text}: plan {letter}").format(text=text, letter=letter))
            button.clicked.connect(lambda _=False, it=signal: it.emit(self.ranked))
            row.addWidget(button)
        row.addStretch(1)
        column.addLayout(row)
        figures = QLabel(" · ".join(axis.alone(ranked.merit) for axis in AXES))
        figures.setWordWrap(True)
        column.addWidget(figures)
        decided = QLabel(ranked.decides(family))
        decided.setWordWrap(True)
        column.addWidget(decided)
        lost = gives_up(ranked.merit, others)
        given = QLabel(
            tr("Gives up: {lost}.").format(lost="; ".join(lost))
            if lost
            else tr("Gives up nothing against the others.")
        )
        given.setWordWrap(True)
        column.addWidget(given)
        rests = QLabel(f"{ranked.rests}.")
        rests.setWordWrap(True)
        rests.setProperty("role", "faint")
        column.addWidget(rests)
        column.addStretch(1)

    def light(self, on: bool) -> None:
        """Show that it is pointed at."""
        if bool(self.property("chosen")) != on:
            self.setProperty("chosen", on)
            restyle(self)

    def enterEvent(self, event: QEnterEvent | None) -> None:
        """The mouse is on it."""
        self.pointed.emit(self.letter, True)

    def leaveEvent(self, event: QEvent | None) -> None:
        """The mouse is gone."""
        self.pointed.emit(self.letter, False)
