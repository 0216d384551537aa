"""Paint the pan alone, from one side, to scale: boxes, baffles, the oil's plane now and with the engine off."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from gravidon.draw import marks
from gravidon.draw.frame import Frame
from gravidon.draw.geometry.elevation import VIEWS, Elevation
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, Palette, font
from gravidon.physics.arrays import Array
from gravidon.plan.units import Family
from gravidon.study.solve.evaluate import Evaluation


@dataclass(frozen=True)
class Grip:
    """Something to drag: a box's floor corner or a baffle, by number, and where it is in the picture [mm]."""

    kind: str
    number: int
    at: Array


def frame_in(rect: QRectF, picture: Elevation) -> Frame:
    """Return the frame that shows the pan and the room over its rail."""
    points = np.concatenate(picture.pans)
    low, high = points.min(axis=0), points.max(axis=0) + np.array([0.0, 34.0])
    size = np.maximum(high - low, 1.0)
    scale = max(min((rect.width() - 60) / size[0], (rect.height() - 62) / size[1]), 0.05)
    middle = 0.5 * (low + high)
    return Frame(scale, QPointF(rect.center().x() - scale * middle[0], rect.center().y() + scale * middle[1]))


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
    painter: QPainter,
    rect: QRectF,
    e: Evaluation,
    picture: Elevation,
    off: Elevation | None,
    palette: Palette,
    family: Family,
    chosen: tuple[str, int] | None,
) -> None:
    """Paint the pan; `off` is the picture of a condition with the engine off, whose line is drawn dashed."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(font(SMALL))
    frame = frame_in(rect, picture)
    for oil in picture.oils:
        if len(oil) > 2:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(palette.color("oil", 0.45))
            painter.drawPolygon(frame.polygon(oil))
            _top(painter, frame, oil, picture.up, palette, BOLD, Qt.PenStyle.SolidLine)
    for oil in off.oils if off is not None else ():
        if off is not None and len(oil) > 2:
            _top(painter, frame, oil, off.up, palette, LINE, Qt.PenStyle.DashLine)
    floor = min(float(pan[1][1]) for pan in picture.pans)
    for k, pan in enumerate(picture.pans):
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(palette.pen("focus" if chosen == ("box", k) else "wall", BOLD))
        painter.drawPolyline(frame.polygon(pan[[3, 0, 1, 2]]))
        name = frame.at(np.array([float(pan[:, 0].mean()), float(pan[0][1])]))
        marks.halo_text(painter, QPointF(name.x(), name.y() - 6), f"box {k + 1}", palette, "faint", "centre")
    for grip in grips(e, picture):
        if grip.kind == "baffle":
            painter.setPen(
                palette.pen(
                    "focus" if chosen == ("baffle", grip.number) else "ink", LINE, Qt.PenStyle.DashLine
                )
            )
            painter.drawLine(frame.at(grip.at), frame.at(np.array([grip.at[0], floor])))
    if e.route.ends_in_fitting:
        entry = frame.at(picture.entry)
        painter.setPen(palette.pen("ink", LINE))
        painter.setBrush(palette.color("sheet"))
        painter.drawEllipse(entry, 5, 5)
        marks.halo_text(painter, QPointF(entry.x(), entry.y() - 10), "entry", palette, "ink", "centre")
    for grip in grips(e, picture):
        at = frame.at(grip.at)
        painter.setPen(palette.pen("focus" if chosen == (grip.kind, grip.number) else "ink", LINE))
        painter.setBrush(palette.color("focus" if chosen == (grip.kind, grip.number) else "raised"))
        size = 5.0
        painter.drawPolygon(
            QPolygonF(
                [
                    QPointF(at.x(), at.y() - size),
                    QPointF(at.x() + size, at.y()),
                    QPointF(at.x(), at.y() + size),
                    QPointF(at.x() - size, at.y()),
                ]
            )
        )
    painter.setPen(palette.color("faint"))
    painter.drawText(QPointF(rect.left() + 10, rect.top() + 16), f"{VIEWS[picture.view]}, cut at the entry")
    bar, label = (101.6, "4 in") if family == "imperial" else (100.0, "100 mm")
    x, y = rect.left() + 12, rect.bottom() - 8
    painter.setPen(palette.pen("ink", HAIR))
    painter.drawLine(QPointF(x, y), QPointF(x + bar * frame.scale, y))
    for end in (x, x + bar * frame.scale):
        painter.drawLine(QPointF(end, y - 4), QPointF(end, y + 4))
    painter.drawText(QPointF(x + bar * frame.scale + 8, y + 3), label)
    painter.restore()


def _top(
    painter: QPainter, frame: Frame, oil: Array, up: Array, palette: Palette, width: float, style: Qt.PenStyle
) -> None:
    height = oil @ up
    top = np.flatnonzero(height >= height.max() - 0.05)
    if len(top) >= 2:
        painter.setPen(palette.pen("oil", width, style))
        painter.drawLine(frame.at(oil[top[0]]), frame.at(oil[top[-1]]))
