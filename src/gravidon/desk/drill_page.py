# SPDX-License-Identifier: GPL-3.0-or-later
"""Drills on single skills: a drawn question with four answers, the right one computed, and why."""

from __future__ import annotations

from functools import partial

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from gravidon.desk.box import Box
from gravidon.desk.canvas import Canvas
from gravidon.desk.stations.base import Station, section
from gravidon.draw import drill_picture
from gravidon.study.diagnosis.drills import COUNT, DRILLS, Drill
from gravidon.words.text import tr


class DrillCanvas(Canvas):
    """What the drill asks about, drawn; once answered, with the answer."""

    page: DrillPage

    def paint(self, painter: QPainter) -> None:
        """Draw it."""
        drill = self.page.drill
        shown = drill.right if self.page.answered else -1
        drill_picture.paint(self.ink(painter), self.area.adjusted(8, 4, -8, -4), drill, shown)


class DrillPage(QWidget):
    """One question after the other."""

    done = pyqtSignal(str, bool)
    """A drill's skill, and whether it was answered right."""

    def __init__(self, station: Station) -> None:
        super().__init__()
        self.session = station.session
        self.dice = np.random.default_rng()
        self.answered = False
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        self.skill = Box()
        self.skill.addItems(list(DRILLS))
        self.skill.setAccessibleName(tr("Skill"))
        self.skill.activated.connect(self.next_drill)
        row.addWidget(section(tr("Drill")))
        row.addWidget(self.skill)
        row.addStretch(1)
        column.addLayout(row)
        whole = QHBoxLayout()
        whole.setSpacing(18)
        self.canvas = DrillCanvas(station, tr("What the drill asks about"), (300, 260))
        self.canvas.page = self
        whole.addWidget(self.canvas, 1)
        right = QWidget()
        right.setFixedWidth(460)
        asked = QVBoxLayout(right)
        asked.setContentsMargins(0, 0, 0, 0)
        self.words, self.why = QLabel(), QLabel()
        self.words.setStyleSheet("font-size: 16px;")
        self.why.setMinimumHeight(60)
        self.why.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.answers = [QPushButton() for _ in range(COUNT)]
        self.again = QPushButton(tr("Next"))
        self.again.clicked.connect(self.next_drill)
        for label in (self.words, self.why):
            label.setWordWrap(True)
        for widget in (self.words, *self.answers, self.why, self.again):
            asked.addWidget(widget)
        for k, button in enumerate(self.answers):
            button.clicked.connect(partial(self.answer, k))
        asked.addStretch(1)
        whole.addWidget(right)
        column.addLayout(whole, 1)
        self.next_drill()

    def next_drill(self, *_: object) -> None:
        """Put another question."""
        name = self.skill.currentText()
        self.drill: Drill = DRILLS[name](int(self.dice.integers(1, 100_000)), self.session.family)
        self.answered = False
        self.words.setText(self.drill.question)
        self.why.setText("")
        for button, words in zip(self.answers, self.drill.answers, strict=True):
            button.setText(words)
            button.setEnabled(True)
        self.canvas.setAccessibleDescription(self.drill.question)
        self.canvas.update()

    def answer(self, index: int, _clicked: bool = False) -> None:
        """Answer: right or wrong, and why."""
        if self.answered:
            return
        self.answered = True
        drill = self.drill
        right = index == drill.right
        self.why.setText(f"{'Right' if right else 'No: ' + drill.answers[drill.right]}. {drill.why}")
        for k, button in enumerate(self.answers):
            button.setEnabled(False)
            if k in (drill.right, index):
                button.setText(f"{'✓' if k == drill.right else '✕'} {drill.answers[k]}")
        self.canvas.update()
        self.done.emit(drill.skill, right)
        self.again.setFocus()
