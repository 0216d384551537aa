# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint how sure the verdict is (bars per condition) and what moves it (the tornado)."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, HAIR, SMALL, fitting, font
from gravidon.study.judge.quantity import BAD, WATCH
from gravidon.study.verdict.certainty import Certainty, Deciders, Outcome
from gravidon.words.text import VERDICTS, tr, verdict_said

LABELS = 128.0
COLOURS = ("good", "watch", "bad")
REACH = 3.0
"""[margins] drawn to either side of the plan's own; project choice."""
MOST_ROWS = 14
"""Inputs shown, those that move most."""


def paint_bars(
    ink: Ink,
    rect: QRectF,
    answer: Certainty,
) -> None:
    """Paint, per condition, the share of samples in which it holds, is to be watched, fails; and what most of that is."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(BODY, bold=True))
    ink.painter.setPen(ink.palette.color("ink"))
    ink.painter.drawText(QPointF(rect.left(), rect.top() + 16), tr("How sure is each condition?"))
    ink.painter.setFont(font(SMALL))
    row = min((rect.height() - 62) / max(len(answer.names), 1), 34.0)
    holds = [tr("passes {shares:.0%}").format(shares=share) for share in answer.shares[0]]
    beside = max([84.0, *(float(ink.painter.fontMetrics().horizontalAdvance(words)) for words in holds)]) + 6
    left, width = rect.left() + LABELS, rect.width() - LABELS - beside
    for k, name in enumerate(answer.names):
        y = rect.top() + 30 + k * row
        ink.painter.setPen(ink.palette.color("ink"))
        ink.painter.drawText(
            QRectF(rect.left(), y, LABELS - 8, row), int(Qt.AlignmentFlag.AlignVCenter), name
        )
        x = left
        for share, colour in zip(answer.shares[:, k], COLOURS, strict=True):
            bar = QRectF(x, y + 0.2 * row, float(share) * width, 0.6 * row)
            ink.painter.fillRect(bar, ink.palette.color(colour, 0.85))
            x += float(share) * width
        ink.painter.setPen(ink.palette.color("ink"))
        ink.painter.drawText(
            QRectF(left + width + 6, y, beside - 4, row), int(Qt.AlignmentFlag.AlignVCenter), holds[k]
        )
        if answer.causes[k] and answer.shares[0, k] < 0.95:
            marks.halo_text(ink, QPointF(left + 8, y + row / 2 + 4), tr(answer.causes[k]), "ink")
    y = rect.top() + 30 + len(answer.names) * row + 6
    x = left
    for word, colour in zip(map(verdict_said, VERDICTS), COLOURS, strict=True):
        ink.painter.fillRect(QRectF(x, y + 4, 10, 10), ink.palette.color(colour, 0.85))
        ink.painter.setPen(ink.palette.color("faint"))
        ink.painter.drawText(QPointF(x + 15, y + 13), word)
        x += 30 + ink.painter.fontMetrics().horizontalAdvance(word)
    ink.painter.restore()


def _colour(end: Outcome) -> str:
    return COLOURS[2 if end.worst == BAD else 1 if end.worst == WATCH else 0]


def paint_tornado(
    ink: Ink,
    rect: QRectF,
    answer: Deciders,
) -> None:
    """Paint what each input does to the worst margin at either end of its band, and the verdict it makes there."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(BODY, bold=True))
    ink.painter.setPen(ink.palette.color("ink"))
    ink.painter.drawText(QPointF(rect.left(), rect.top() + 16), tr("What decides the verdict?"))
    ink.painter.setFont(font(SMALL))
    shown = answer.swings[:MOST_ROWS]
    middle = answer.nominal.margin

    def kept(margin: float) -> float:
        return min(max(margin, middle - REACH), middle + REACH)

    values = [kept(end.margin) for s in shown for end in (s.low, s.high)]
    low, high = min([*values, 0.0]), max([*values, 0.0])
    span = max(high - low, 1e-6)
    words = 0.5 * rect.width()
    left, width = rect.left() + words + 10, rect.width() - words - 26
    row = min((rect.height() - 66) / MOST_ROWS, 34.0)

    def x(value: float) -> float:
        return left + (kept(value) - low) / span * width

    for k, swing in enumerate(shown):
        y = rect.top() + 30 + k * row
        guess = swing.item.basis == "guess"
        ink.painter.setPen(ink.palette.color("watch" if guess else "ink"))
        room = QRectF(rect.left(), y, words - 12, row)
        ink.painter.setFont(fitting(swing.item.name, room.size(), SMALL))
        flags = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap
        ink.painter.drawText(room, int(flags), swing.item.name)
        ink.painter.setFont(font(SMALL))
        a, b = x(swing.low.margin), x(swing.high.margin)
        bar = QRectF(min(a, b), y + 0.25 * row, max(abs(b - a), 1.5), 0.5 * row)
        ink.painter.setPen(ink.palette.pen("watch" if guess else "faint", HAIR))
        ink.painter.setBrush(ink.palette.color("oil", 0.75) if guess else ink.palette.color("metal", 0.6))
        ink.painter.drawRect(bar)
        for at, end, sign in ((a, swing.low, "−"), (b, swing.high, "+")):
            ink.painter.setPen(Qt.PenStyle.NoPen)
            ink.painter.setBrush(ink.palette.color(_colour(end)))
            ink.painter.drawEllipse(QPointF(at, y + 0.5 * row), 3.6, 3.6)
            ink.painter.setPen(ink.palette.color("faint"))
            beyond = (at >= max(a, b)) if abs(a - b) > 1.0 else sign == "+"
            ink.painter.drawText(QPointF(at + (6 if beyond else -13), y + row / 2 + 4), sign)
    bottom = rect.top() + 30 + len(shown) * row + 4
    ink.painter.setPen(ink.palette.pen("bad", 1.4, Qt.PenStyle.DashLine))
    zero = left - low / span * width
    ink.painter.drawLine(QPointF(zero, rect.top() + 24), QPointF(zero, bottom))
    ink.painter.setPen(ink.palette.color("faint"))
    rest = len(answer.swings) - len(shown)
    text = tr("worst margin, limit at the dashed line; dots: the verdict there; amber: guesses")
    text += tr("; {rest} more move it less").format(rest=rest) if rest > 0 else ""
    ink.painter.setFont(fitting(text, QSizeF(rect.width(), 18), SMALL))
    ink.painter.drawText(
        QRectF(rect.left(), bottom + 2, rect.width(), 34), int(Qt.TextFlag.TextWordWrap), text
    )
    ink.painter.restore()
