# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the pan alone, from one side, to scale: boxes, baffles, the oil's plane now and with the engine off."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from gravidon.draw import marks
from gravidon.draw.frame import Frame
from gravidon.draw.geometry.elevation import VIEWS, Elevation
from gravidon.draw.ink import Ink
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, font
from gravidon.physics.arrays import Array
from gravidon.plan.units import in_inches
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import tr


@dataclass(frozen=True)
class Grip:
    """Something to drag: a box's floor corner or a baffle, by number, and where it is in the picture [mm]."""

    kind: str
    number: int
    at: Array


FIELDS = 58.0
"""[px] kept free under the pan for what is typed there."""


def frame_in(rect: QRectF, picture: Elevation) -> Frame:
    """Return the frame that shows the pan and the room over its rail."""
    points = np.concatenate(picture.pans)
    low, high = points.min(axis=0), points.max(axis=0) + np.array([0.0, 34.0])
    size = np.maximum(high - low, 1.0)
    scale = max(
        min(
            (rect.width() - min(200.0, 0.5 * rect.width())) / size[0], (rect.height() - 62 - FIELDS) / size[1]
        ),
        0.05,
    )
    middle = 0.5 * (low + high)
    return Frame(
        scale,
        QPointF(rect.center().x() - scale * middle[0], rect.center().y() - 0.5 * FIELDS + scale * middle[1]),
    )


def grips(e: Evaluation, picture: Elevation) -> tuple[Grip, ...]:
    """Return what can be dragged in this view."""
    found = [Grip("box", k, pan[1]) for k, pan in enumerate(picture.pans)]
    seen = "left" if picture.view == "front" else "forward"
    rail = max(float(pan[2][1]) for pan in picture.pans)
    for k, baffle in enumerate(e.plan.sump.baffles):
        if baffle.across == seen:
            x = baffle.at_mm if picture.view == "front" else -baffle.at_mm
            found.append(Grip("baffle", k, np.array([x, rail])))
    return tuple(found)


def paint(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    picture: Elevation,
    off: Elevation | None,
    chosen: tuple[str, int] | None,
    frame: Frame | None = None,
) -> None:
    """Paint the pan; `off` is the picture of a condition with the engine off, whose line is drawn dashed. A frame is kept while
    something is dragged; otherwise the pan fills the drawing."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    frame = frame or frame_in(rect, picture)
    for oil in picture.oils:
        if len(oil) > 2:
            ink.painter.setPen(Qt.PenStyle.NoPen)
            ink.painter.setBrush(ink.palette.color("oil", 0.45))
            ink.painter.drawPolygon(frame.polygon(oil))
            _top(ink, frame, oil, picture.up, BOLD, Qt.PenStyle.SolidLine)
    for oil in off.oils if off is not None else ():
        if off is not None and len(oil) > 2:
            _top(ink, frame, oil, off.up, LINE, Qt.PenStyle.DashLine)
    floor = min(float(pan[1][1]) for pan in picture.pans)
    for k, pan in enumerate(picture.pans):
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.setPen(ink.palette.pen("focus" if chosen == ("box", k) else "wall", BOLD))
        ink.painter.drawPolyline(frame.polygon(pan[[3, 0, 1, 2]]))
        name = frame.at(np.array([float(0.8 * pan[:, 0].min() + 0.2 * pan[:, 0].max()), float(pan[0][1])]))
        marks.halo_text(
            ink, QPointF(name.x(), name.y() - 6), tr("box {number}").format(number=k + 1), "faint", "centre"
        )
    for grip in grips(e, picture):
        if grip.kind == "baffle":
            ink.painter.setPen(
                ink.palette.pen(
                    "focus" if chosen == ("baffle", grip.number) else "ink", LINE, Qt.PenStyle.DashLine
                )
            )
            ink.painter.drawLine(frame.at(grip.at), frame.at(np.array([grip.at[0], floor])))
    if e.route.ends_in_fitting:
        entry = frame.at(picture.entry)
        ink.painter.setPen(ink.palette.pen("ink", LINE))
        ink.painter.setBrush(ink.palette.color("sheet"))
        ink.painter.drawEllipse(entry, 5, 5)
        marks.halo_text(ink, QPointF(entry.x(), entry.y() - 10), tr("entry"), "ink", "centre")
    for grip in grips(e, picture):
        at = frame.at(grip.at)
        ink.painter.setPen(ink.palette.pen("focus" if chosen == (grip.kind, grip.number) else "ink", LINE))
        ink.painter.setBrush(ink.palette.color("focus" if chosen == (grip.kind, grip.number) else "raised"))
        size = 5.0
        ink.painter.drawPolygon(
            QPolygonF(
                [
                    QPointF(at.x(), at.y() - size),
                    QPointF(at.x() + size, at.y()),
                    QPointF(at.x(), at.y() + size),
                    QPointF(at.x() - size, at.y()),
                ]
            )
        )
    title = tr("{views}, cut at the entry").format(views=VIEWS[picture.view])
    marks.halo_text(ink, QPointF(rect.left() + 10, rect.top() + 16), title, "faint")
    bar, label = (101.6, "4 in") if in_inches(ink.family) else (100.0, "100 mm")
    x, y = rect.left() + 12, rect.bottom() - 8
    ink.painter.setPen(ink.palette.pen("ink", HAIR))
    ink.painter.drawLine(QPointF(x, y), QPointF(x + bar * frame.scale, y))
    for end in (x, x + bar * frame.scale):
        ink.painter.drawLine(QPointF(end, y - 4), QPointF(end, y + 4))
    ink.painter.drawText(QPointF(x + bar * frame.scale + 8, y + 3), label)
    ink.painter.restore()


def _top(ink: Ink, frame: Frame, oil: Array, up: Array, width: float, style: Qt.PenStyle) -> None:
    height = oil @ up
    top = np.flatnonzero(height >= height.max() - 0.05)
    if len(top) >= 2:
        ink.painter.setPen(ink.palette.pen("oil", width, style))
        ink.painter.drawLine(frame.at(oil[top[0]]), frame.at(oil[top[-1]]))
