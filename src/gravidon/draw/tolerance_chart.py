"""Paint how sure the verdicts are (bars per condition) and what moves them (the tornado)."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, HAIR, SMALL, font
from gravidon.study.supply.certainty import Certainty, Uncertain

LABELS = 128.0


def paint_bars(
    ink: Ink,
    rect: QRectF,
    answer: Certainty,
) -> None:
    """Paint, per condition, the share of samples that hold, are starved, over-fed or too hot."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(BODY, bold=True))
    ink.painter.setPen(ink.palette.color("ink"))
    ink.painter.drawText(QPointF(rect.left(), rect.top() + 16), "How sure is each verdict?")
    ink.painter.setFont(font(SMALL))
    row = min((rect.height() - 46) / max(len(answer.names), 1), 34.0)
    left, width = rect.left() + LABELS, rect.width() - LABELS - 66
    for k, name in enumerate(answer.names):
        y = rect.top() + 30 + k * row
        ink.painter.setPen(ink.palette.color("ink"))
        ink.painter.drawText(
            QRectF(rect.left(), y, LABELS - 8, row), int(Qt.AlignmentFlag.AlignVCenter), name
        )
        parts = [
            (float(answer.starved[k]), "bad"),
            (float(answer.cooked[k]), "heat"),
            (float(answer.over_fed[k]), "watch"),
        ]
        failing = float(answer.failing[k])
        whole = max(sum(p for p, _ in parts), 1e-9)
        parts = [(p * failing / whole, colour) for p, colour in parts]
        x = left
        for share, colour in ((1.0 - failing, "good"), *parts):
            bar = QRectF(x, y + 0.2 * row, share * width, 0.6 * row)
            ink.painter.fillRect(bar, ink.palette.color(colour, 0.85))
            x += share * width
        ink.painter.setPen(ink.palette.color("ink"))
        ink.painter.drawText(
            QRectF(left + width + 6, y, 60, row), int(Qt.AlignmentFlag.AlignVCenter), f"{1.0 - failing:.0%}"
        )
        if failing > 0.05:
            word = max(zip(("starved", "too hot", "over-fed"), parts, strict=True), key=lambda p: p[1][0])[0]
            marks.halo_text(ink, QPointF(left + 8, y + row / 2 + 4), word, "ink")
    ink.painter.restore()


def paint_tornado(
    ink: Ink,
    rect: QRectF,
    rows: Sequence[tuple[Uncertain, float, float]],
) -> None:
    """Paint what each input does to the worst margin at either end of its band; guesses are marked."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(BODY, bold=True))
    ink.painter.setPen(ink.palette.color("ink"))
    ink.painter.drawText(QPointF(rect.left(), rect.top() + 16), "What moves the worst margin?")
    ink.painter.setFont(font(SMALL))
    values = [v for _, a, b in rows for v in (a, b)]
    low, high = min([*values, 0.0]), max([*values, 0.0])
    span = max(high - low, 1e-6)
    left, width = rect.left() + LABELS + 44, rect.width() - LABELS - 60
    row = min((rect.height() - 60) / max(len(rows), 1), 34.0)

    def x(value: float) -> float:
        return left + (value - low) / span * width

    zero = x(0.0)
    for k, (item, a, b) in enumerate(rows):
        y = rect.top() + 30 + k * row
        ink.painter.setPen(ink.palette.color("watch" if item.basis == "guess" else "ink"))
        label = f"{item.name}{' (guess)' if item.basis == 'guess' else ''}"
        ink.painter.drawText(
            QRectF(rect.left(), y, LABELS + 38, row), int(Qt.AlignmentFlag.AlignVCenter), label
        )
        bar = QRectF(min(x(a), x(b)), y + 0.25 * row, max(abs(x(b) - x(a)), 1.5), 0.5 * row)
        ink.painter.setPen(ink.palette.pen("watch" if item.basis == "guess" else "faint", HAIR))
        ink.painter.setBrush(
            ink.palette.color("oil", 0.75) if item.basis == "guess" else ink.palette.color("metal", 0.6)
        )
        ink.painter.drawRect(bar)
        ink.painter.setPen(ink.palette.color("faint"))
        for value, end in ((a, "−"), (b, "+")):
            ink.painter.drawText(QPointF(x(value) + (3 if value >= max(a, b) else -9), y + row / 2 + 4), end)
    bottom = rect.top() + 30 + len(rows) * row + 4
    ink.painter.setPen(ink.palette.pen("bad", 1.4, Qt.PenStyle.DashLine))
    ink.painter.drawLine(QPointF(zero, rect.top() + 24), QPointF(zero, bottom))
    ink.painter.setPen(ink.palette.color("faint"))
    text = "left of the red line a condition fails; bars: 95 % bands"
    ink.painter.drawText(
        QRectF(rect.left(), bottom + 2, rect.width(), 18), int(Qt.AlignmentFlag.AlignRight), text
    )
    ink.painter.restore()
