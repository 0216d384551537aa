# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint a ranking of causes: a bar for each, its share written, the one looked at framed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt

from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, HAIR, LINE, SMALL, fitted_text, font
from gravidon.words.text import tr

ROW_PX = 27.0


@dataclass(frozen=True)
class Bar:
    """One cause: key, name, belief, and the belief before the last answer (nan: none)."""

    key: str
    name: str
    belief: float
    before: float


def row_at(rect: QRectF, count: int, at: QPointF) -> int:
    """Return which row is under a pixel; -1 if none."""
    k = int((at.y() - rect.top()) // ROW_PX)
    return k if 0 <= k < count and rect.left() <= at.x() <= rect.right() else -1


def paint(ink: Ink, rect: QRectF, bars: Sequence[Bar], chosen: int) -> None:
    """Paint the ranking from the top; what the last answer moved shows as a thin mark where it was."""
    p = ink.painter
    p.save()
    p.setRenderHint(p.RenderHint.Antialiasing)
    for k, bar in enumerate(bars):
        row = QRectF(rect.left(), rect.top() + k * ROW_PX, rect.width(), ROW_PX - 3)
        if k == chosen:
            p.setPen(ink.palette.pen("focus", HAIR * 1.5))
            p.setBrush(ink.palette.color("raised"))
            p.drawRoundedRect(row.adjusted(0.5, 0.5, -0.5, -0.5), 3, 3)
        full = QRectF(row.left() + 6, row.bottom() - 4, row.width() - 60, 3)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink.palette.color("line", 0.6))
        p.drawRect(full)
        p.setBrush(ink.palette.color("heat"))
        p.drawRect(QRectF(full.left(), full.top() - 1, full.width() * bar.belief, full.height() + 2))
        if bar.before == bar.before:
            x = full.left() + full.width() * bar.before
            p.setPen(ink.palette.pen("ink", LINE))
            p.drawLine(QPointF(x, full.top() - 3), QPointF(x, full.bottom() + 3))
        p.setPen(ink.palette.color("ink"))
        fitted_text(
            p, QPointF(row.left() + 6, row.top() + 13), bar.name, row.width() - 62, BODY, bold=k == chosen
        )
        small = bar.belief < 0.01
        number = tr("under 1%") if small else f"{bar.belief:.0%}"
        p.setFont(font(SMALL if small else BODY, bold=not small))
        box = QRectF(row.right() - 56, row.top(), 52, row.height())
        p.drawText(box, int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter), number)
    p.restore()
