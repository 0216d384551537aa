# SPDX-License-Identifier: GPL-3.0-or-later
"""The whole way of the oil as a picture in a dialog: what a plan looks like, or how one fills."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QApplication, QSizePolicy, QWidget

from gravidon.desk.painted import painted
from gravidon.desk.theme import PALETTES
from gravidon.desk.voices import Telling
from gravidon.draw import whole_way
from gravidon.draw.ink import Ink
from gravidon.draw.style import Palette
from gravidon.plan.model import Plan
from gravidon.plan.units import Family
from gravidon.study.solve.evaluate import Evaluation, evaluate
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.trials import trial
from gravidon.words.text import tr


class WayPicture(QWidget):
    """Paints one plan's whole way; nothing in it answers the mouse."""

    def __init__(self, plan: Plan, family: Family, least: tuple[int, int] = (620, 330)) -> None:
        super().__init__()
        self.family = family
        self.evaluation: Evaluation = evaluate(plan)
        self.findings: tuple[Finding, ...] = ()
        self.setMinimumSize(*least)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(tr("The whole way of the oil, gallery to pan"))
        self.telling = Telling(self, self._paint)

    def show_plan(self, plan: Plan) -> None:
        """Paint another plan."""
        made = trial(plan)
        self.evaluation, self.findings = made.evaluation.of(0), tuple(made.findings)
        self.update()

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        """The picture, in the theme that is on."""
        painter.fillRect(self.rect(), self._colours().color("sheet"))
        self._paint(painter)
        self.telling.soon()

    def _colours(self) -> Palette:
        dark = self.palette().window().color().lightness() < 128 and QApplication.instance() is not None
        return PALETTES["dark" if dark else "light"]

    def _paint(self, painter: QPainter) -> None:
        e = self.evaluation
        warm = next((k for k, c in enumerate(e.plan.conditions) if c.kind.driving), 0)
        whole_way.paint(
            Ink(painter, self._colours(), self.family), QRectF(self.rect()), e, warm, self.findings, {}
        )
