# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the oil's height at the entry in every condition: a gauge glass each, the entry's crown marked across."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, fitting, font
from gravidon.plan.units import show
from gravidon.study.home.oil_lines import OilLevels
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import tr

LEFT = 74.0


def column_rect(rect: QRectF, index: int, count: int) -> QRectF:
    """Return where a condition's column lies."""
    width = (rect.width() - LEFT - 10) / max(count, 1)
    return QRectF(rect.left() + LEFT + index * width, rect.top() + 6, width, rect.height() - 10)


def paint(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    levels: OilLevels,
    condition: int,
) -> None:
    """Paint one glass a condition, all to one scale."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    floor = min(box.corner.z_mm for box in e.plan.sump.boxes) * 1e-3
    high = max(0.02, float(np.max(levels.oil_m)) + 0.01, float(np.max(levels.crown_m)) + 0.01)
    top, bottom = rect.top() + 10, rect.bottom() - 40

    def y(height: float) -> float:
        return bottom - (min(max(height, floor), high) - floor) / (high - floor) * (bottom - top)

    for height, word, pen in ((0.0, tr("pan rail"), "wall"), (floor, "", "wall")):
        ink.painter.setPen(ink.palette.pen(pen, HAIR))
        ink.painter.drawLine(QPointF(rect.left() + LEFT - 8, y(height)), QPointF(rect.right() - 8, y(height)))
        ink.painter.setPen(ink.palette.color("faint"))
        ink.painter.drawText(QPointF(rect.left() + 8, y(height) + 4), word)
    metrics = ink.painter.fontMetrics()
    used = e.route.ends_in_fitting
    for k, name in enumerate(e.names):
        cell = column_rect(rect, k, len(e.names))
        glass = QRectF(cell.center().x() - 13, top, 26, bottom - top)
        gap = float(levels.oil_m[k] - levels.crown_m[k])
        chosen, over = k == condition, used and gap > 0.0
        ink.painter.setPen(ink.palette.pen("focus" if chosen else "line", LINE if chosen else HAIR))
        ink.painter.setBrush(ink.palette.color("raised"))
        ink.painter.drawRoundedRect(glass, 5, 5)
        surface = y(float(levels.oil_m[k]))
        ink.painter.setPen(Qt.PenStyle.NoPen)
        ink.painter.setBrush(ink.palette.color("oil", 0.75 if chosen else 0.45))
        ink.painter.drawRect(QRectF(glass.left() + 2, surface, glass.width() - 4, bottom - surface))
        if used:
            ink.painter.setPen(ink.palette.pen("bad" if over else "ink", BOLD))
            crown = y(float(levels.crown_m[k]))
            ink.painter.drawLine(QPointF(glass.left() - 5, crown), QPointF(glass.right() + 5, crown))
        depth = float(levels.oil_m[k])
        words = show(abs(gap if used else depth), "mm", ink.family) if used or depth > floor else "–"
        ink.painter.setPen(ink.palette.color("bad" if over else "ink"))
        ink.painter.drawText(
            QPointF(cell.center().x() - metrics.horizontalAdvance(words) / 2, bottom + 16), words
        )
        side = (
            tr("over")
            if over
            else tr("clear")
            if used
            else tr("over rail")
            if depth > 0.0
            else tr("under rail")
            if depth > floor
            else tr("none here")
        )
        ink.painter.drawText(
            QPointF(cell.center().x() - metrics.horizontalAdvance(side) / 2, bottom + 31), side
        )
        label = metrics.elidedText(name, Qt.TextElideMode.ElideRight, int(cell.width()) - 2)
        marks.halo_text(
            ink, QPointF(cell.center().x(), top + 12), label, "ink" if chosen else "faint", "centre"
        )
    ink.painter.setPen(ink.palette.color("faint"))
    words, box = (
        tr("oil to the entry") if used else tr("oil in the pan"),
        QRectF(rect.left() + 8, bottom + 5, LEFT - 12, 32),
    )
    ink.painter.setFont(fitting(words, box.size(), SMALL))
    ink.painter.drawText(box, int(Qt.TextFlag.TextWordWrap), words)
    ink.painter.restore()
