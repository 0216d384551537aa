# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint a ranking of causes: a bar for each, its share written, the one looked at framed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF

from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, HAIR, LEAST, LINE, SMALL, fitting, font
from gravidon.words.text import tr

ROW_PX, LINE_PX = 27.0, 12.0
"""[px] of a row, and of a second line of a name."""
BESIDE_PX = 62.0
"""[px] that margins and the figure take beside a name."""


@dataclass(frozen=True)
class Bar:
    """One cause: key, name, belief, and the belief before the last answer (nan: none)."""

    key: str
    name: str
    belief: float
    before: float


def row_px(bars: Sequence[Bar], width: float) -> float:
    """Return how tall [px] the rows are in a drawing so wide: a name too long for one line gets two."""
    small = QFontMetricsF(font(LEAST, bold=True))
    longest = max((small.horizontalAdvance(bar.name) for bar in bars), default=0.0)
    return ROW_PX if longest <= width - BESIDE_PX else ROW_PX + LINE_PX


def row_at(rect: QRectF, bars: Sequence[Bar], at: QPointF) -> int:
    """Return which row is under a pixel; -1 if none."""
    k = int((at.y() - rect.top()) // row_px(bars, rect.width()))
    return k if 0 <= k < len(bars) and rect.left() <= at.x() <= rect.right() else -1


def paint(ink: Ink, rect: QRectF, bars: Sequence[Bar], chosen: int) -> None:
    """Paint the ranking from the top; what the last answer moved shows as a thin mark where it was."""
    p = ink.painter
    p.save()
    p.setRenderHint(p.RenderHint.Antialiasing)
    high = row_px(bars, rect.width())
    for k, bar in enumerate(bars):
        row = QRectF(rect.left(), rect.top() + k * high, rect.width(), high - 3)
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
        name = QRectF(row.left() + 6, row.top(), row.width() - BESIDE_PX, high - 9)
        p.setFont(fitting(bar.name, name.size(), BODY, bold=k == chosen))
        p.drawText(name, int(Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap), bar.name)
        small = bar.belief < 0.01
        number = tr("under 1%") if small else f"{bar.belief:.0%}"
        p.setFont(font(SMALL if small else BODY, bold=not small))
        box = QRectF(row.right() - 56, row.top(), 52, row.height())
        p.drawText(box, int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter), number)
    p.restore()
