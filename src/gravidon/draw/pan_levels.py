"""Paint the oil's height at the entry in every condition: a gauge glass each, the entry's crown marked across."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, Palette, font
from gravidon.plan.units import Family, show
from gravidon.study.home.oil_lines import OilLevels
from gravidon.study.solve.evaluate import Evaluation

LEFT = 74.0


def column_rect(rect: QRectF, index: int, count: int) -> QRectF:
    """Return where a condition's column lies."""
    width = (rect.width() - LEFT - 10) / max(count, 1)
    return QRectF(rect.left() + LEFT + index * width, rect.top() + 6, width, rect.height() - 10)


def paint(
    painter: QPainter,
    rect: QRectF,
    e: Evaluation,
    levels: OilLevels,
    condition: int,
    palette: Palette,
    family: Family,
) -> None:
    """Paint one glass a condition, all to one scale."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(font(SMALL))
    floor = min(box.corner.z_mm for box in e.plan.sump.boxes) * 1e-3
    high = max(0.02, float(np.max(levels.oil_m)) + 0.01, float(np.max(levels.crown_m)) + 0.01)
    top, bottom = rect.top() + 10, rect.bottom() - 40

    def y(height: float) -> float:
        return bottom - (min(max(height, floor), high) - floor) / (high - floor) * (bottom - top)

    for height, word, pen in ((0.0, "pan rail", "wall"), (floor, "", "wall")):
        painter.setPen(palette.pen(pen, HAIR))
        painter.drawLine(QPointF(rect.left() + LEFT - 8, y(height)), QPointF(rect.right() - 8, y(height)))
        painter.setPen(palette.color("faint"))
        painter.drawText(QPointF(rect.left() + 8, y(height) + 4), word)
    metrics = painter.fontMetrics()
    for k, name in enumerate(e.names):
        cell = column_rect(rect, k, len(e.names))
        glass = QRectF(cell.center().x() - 13, top, 26, bottom - top)
        chosen, over = k == condition, float(levels.oil_m[k]) > float(levels.crown_m[k])
        painter.setPen(palette.pen("focus" if chosen else "line", LINE if chosen else HAIR))
        painter.setBrush(palette.color("raised"))
        painter.drawRoundedRect(glass, 5, 5)
        surface = y(float(levels.oil_m[k]))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(palette.color("oil", 0.75 if chosen else 0.45))
        painter.drawRect(QRectF(glass.left() + 2, surface, glass.width() - 4, bottom - surface))
        painter.setPen(palette.pen("bad" if over else "ink", BOLD))
        crown = y(float(levels.crown_m[k]))
        painter.drawLine(QPointF(glass.left() - 5, crown), QPointF(glass.right() + 5, crown))
        gap = float(e.drainage.submergence_m[k])
        words = f"{show(abs(gap), 'mm', family)}"
        painter.setPen(palette.color("bad" if over else "ink"))
        painter.drawText(
            QPointF(cell.center().x() - metrics.horizontalAdvance(words) / 2, bottom + 16), words
        )
        side = "over" if over else "clear"
        painter.drawText(QPointF(cell.center().x() - metrics.horizontalAdvance(side) / 2, bottom + 31), side)
        label = metrics.elidedText(name, Qt.TextElideMode.ElideRight, int(cell.width()) - 2)
        marks.halo_text(
            painter,
            QPointF(cell.center().x(), top + 12),
            label,
            palette,
            "ink" if chosen else "faint",
            "centre",
        )
    painter.setPen(palette.color("faint"))
    painter.drawText(QPointF(rect.left() + 8, bottom + 16), "oil to the")
    painter.drawText(QPointF(rect.left() + 8, bottom + 31), "entry")
    painter.restore()
