# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the call of a first start: a mark, a few big words and the one thing to do; and the steps as a pipe that fills."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath

from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, GIANT, HAIR, LARGE, LINE, SMALL, fitted_text, font, wrapped

MARK = {"go": "holds", "watch": "watch", "stop": "fails", "done": "holds"}
"""The verdict's mark by the kind of call."""

SHOUT = 38
"""[px] of the word that must not be missed."""


def paint_call(ink: Ink, rect: QRectF, kind: str, title: str, words: str) -> None:
    """Paint a call over its whole place: pale where one goes on, solid where one must stop."""
    p = ink.painter
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    colour = {"go": "good", "done": "good", "watch": "watch", "stop": "bad"}[kind]
    solid = kind == "stop"
    p.fillRect(rect, ink.palette.color(colour, 1.0 if solid else 0.13))
    front = "sheet" if solid else "ink"
    high = min(rect.height() - 24, 56.0)
    place = QRectF(rect.left() + 22, rect.center().y() - high / 2, high * 0.74, high)
    if solid:  # the struck drop, cut out of the solid ground
        p.setPen(ink.palette.pen("sheet", 3.0))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(marks.drop_path(place))
        p.setPen(ink.palette.pen("sheet", 7.0))
        p.drawLine(place.bottomLeft() + QPointF(-6, -6), place.topRight() + QPointF(6, 16))
    else:
        marks.paint_drop(ink, place, MARK[kind])
    x = place.right() + 24
    room = rect.right() - x - 16
    p.setPen(ink.palette.color(front))
    lines = wrapped(words, room, font(LARGE), 2)
    size = SHOUT if solid else GIANT
    top = rect.center().y() - (size + 8 + len(lines) * (LARGE + 5)) / 2
    fitted_text(p, QPointF(x, top + size - 2), title, room, size, bold=True)
    p.setFont(font(LARGE))
    for k, line in enumerate(lines):
        p.drawText(QPointF(x, top + size + 8 + (k + 1) * (LARGE + 4)), line)
    p.restore()


@dataclass(frozen=True)
class Rung:
    """One step on the pipe: title, a word on how it went, whether it is passed, at hand, or to come."""

    title: str
    said: str
    state: str


def rung_place(rect: QRectF, count: int, k: int) -> QRectF:
    """Return where a step stands."""
    high = (rect.height() - 8) / max(count, 1)
    return QRectF(rect.left(), rect.top() + 4 + k * high, rect.width(), high)


def paint_ladder(ink: Ink, rect: QRectF, rungs: Sequence[Rung], share: float) -> None:
    """Paint the steps from top to bottom beside a pipe with the oil as far as the work has come."""
    p = ink.painter
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    places = [rung_place(rect, len(rungs), k) for k in range(len(rungs))]
    x = rect.left() + 20
    pipe = QRectF(
        x - 5, places[0].center().y() - 10, 10, places[-1].center().y() - places[0].center().y() + 20
    )
    outline = QPainterPath()
    outline.addRoundedRect(pipe, 5, 5)
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(ink.palette.color("raised"))
    p.drawPath(outline)
    at = next((k for k, r in enumerate(rungs) if r.state == "now"), len(rungs))
    begins = places[at - 1].center().y() if at else pipe.top()
    ends = places[at].center().y() if at < len(rungs) else pipe.bottom()
    to = begins + (ends - begins) * (share if share == share else 0.0)  # noqa: PLR0124  nan: only a tick passes it
    p.save()
    p.setClipPath(outline)
    p.fillRect(QRectF(pipe.left(), pipe.top(), pipe.width(), to - pipe.top()), ink.palette.color("oil"))
    p.restore()
    p.setPen(ink.palette.pen("wall", LINE))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(outline)
    for place, rung in zip(places, rungs, strict=True):
        y = place.center().y()
        now, passed = rung.state == "now", rung.state == "passed"
        if now:
            p.fillRect(place.adjusted(36, 3, 0, -3), ink.palette.color("raised"))
            p.setPen(ink.palette.pen("focus", LINE))
            p.drawLine(place.adjusted(36, 3, 0, -3).topLeft(), place.adjusted(36, 3, 0, -3).bottomLeft())
        p.setPen(ink.palette.pen("ink" if now or passed else "line", HAIR))
        p.setBrush(ink.palette.color("oil" if passed else "sheet"))
        p.drawEllipse(QPointF(x, y), 8.0 if now else 6.0, 8.0 if now else 6.0)
        room = place.width() - 52
        two = place.height() >= 36 and bool(rung.said)
        p.setPen(ink.palette.color("ink" if now or passed else "faint"))
        fitted_text(p, QPointF(place.left() + 44, y + (-2 if two else 5)), rung.title, room, BODY, bold=now)
        if two:
            p.setPen(ink.palette.color("faint"))
            fitted_text(p, QPointF(place.left() + 44, y + 13), rung.said, room, SMALL)
    p.restore()
