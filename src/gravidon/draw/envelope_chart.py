# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the stability envelope: a polar chart of acceleration, the limits by cause, the conditions and a drive on it."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPolygonF

from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, font
from gravidon.physics.arrays import Array
from gravidon.study.home.envelope import CAUSES, MOST_G, Envelope, Spot
from gravidon.study.home.replay import Replay
from gravidon.study.solve.evaluate import Evaluation
from gravidon.translate import number
from gravidon.words.text import tr

STYLES: tuple[tuple[str, float, Qt.PenStyle], ...] = (
    ("watch", LINE, Qt.PenStyle.DashLine),
    ("oil", LINE, Qt.PenStyle.DotLine),
    ("bad", BOLD, Qt.PenStyle.SolidLine),
)
"""How each cause is drawn: colour, width and dash, so that none is told by colour alone."""
OUTER_G = MOST_G


class Dial:
    """The polar axes: forward up, the car's left at the left; g to pixels."""

    def __init__(self, rect: QRectF) -> None:
        self.radius = max(min(rect.width() / 2 - 34, rect.height() / 2 - 30), 20.0)
        self.centre = QPointF(rect.left() + self.radius + 34, rect.center().y() + 2)

    def at(self, forward_g: float, left_g: float) -> QPointF:
        """Return the pixel of an acceleration."""
        scale = self.radius / OUTER_G
        return QPointF(self.centre.x() - left_g * scale, self.centre.y() - forward_g * scale)

    def back(self, pixel: QPointF) -> tuple[float, float]:
        """Return the acceleration (forward, left) [g] of a pixel."""
        scale = self.radius / OUTER_G
        return (self.centre.y() - pixel.y()) / scale, (self.centre.x() - pixel.x()) / scale


def paint(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    made: Envelope,
    fresh: bool,
    condition: int,
    drive: Replay | None,
    spot: Spot | None,
) -> None:
    """Paint the chart and its key; `spot` is the acceleration under the mouse."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    dial = Dial(rect)
    ink.painter.setOpacity(1.0 if fresh else 0.45)
    _safe(ink, dial, made)
    _rings(ink, dial)
    if drive is not None and len(drive.time_s):
        _cloud(ink, dial, drive)
    for k in range(len(CAUSES)):
        colour, width, dash = STYLES[k]
        ink.painter.setPen(ink.palette.pen(colour, width, dash))
        _line(ink.painter, dial, made.angle_rad, made.limit_g[k])
    ink.painter.setOpacity(1.0)
    _conditions(ink, dial, e, condition)
    if spot is not None:
        ink.painter.setPen(ink.palette.pen("focus", LINE))
        at = dial.at(spot.forward_g, spot.left_g)
        ink.painter.drawLine(QPointF(at.x() - 7, at.y()), QPointF(at.x() + 7, at.y()))
        ink.painter.drawLine(QPointF(at.x(), at.y() - 7), QPointF(at.x(), at.y() + 7))
    ink.painter.restore()


def _safe(
    ink: Ink,
    dial: Dial,
    made: Envelope,
) -> None:
    """The ground inside every limit."""
    g = np.minimum(made.least_g, OUTER_G)
    points = [
        dial.at(float(v * math.cos(a)), float(v * math.sin(a)))
        for a, v in zip(made.angle_rad, g, strict=True)
    ]
    ink.painter.setPen(Qt.PenStyle.NoPen)
    ink.painter.setBrush(ink.palette.color("window"))
    ink.painter.drawPolygon(QPolygonF(points))


def _rings(
    ink: Ink,
    dial: Dial,
) -> None:
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    for g in np.arange(0.25, OUTER_G + 0.01, 0.25):
        ink.painter.setPen(ink.palette.pen("line", HAIR))
        r = dial.radius * float(g) / OUTER_G
        ink.painter.drawEllipse(dial.centre, r, r)
        if abs(g % 0.5) < 1e-9:
            ink.painter.setPen(ink.palette.color("faint"))
            at = QPointF(dial.centre.x() + 0.71 * r - 8, dial.centre.y() + 0.71 * r + 4)
            ink.taken.append(marks.halo_text(ink, at, f"{number(g, 'g')} g", "faint"))
    ink.painter.setPen(ink.palette.pen("line", HAIR))
    r = dial.radius
    c = dial.centre
    ink.painter.drawLine(QPointF(c.x() - r, c.y()), QPointF(c.x() + r, c.y()))
    ink.painter.drawLine(QPointF(c.x(), c.y() - r), QPointF(c.x(), c.y() + r))
    ink.painter.setPen(ink.palette.color("ink"))
    metrics = ink.painter.fontMetrics()
    for word, x, y in (
        (tr("launch"), c.x() - metrics.horizontalAdvance(tr("launch")) / 2, c.y() - r - 10),
        (tr("braking"), c.x() - metrics.horizontalAdvance(tr("braking")) / 2, c.y() + r + 19),
        (tr("left turn"), c.x() - r - 30, c.y() - 8),
        (tr("right turn"), c.x() + r - 22, c.y() - 8),
    ):
        ink.taken.append(marks.halo_text(ink, QPointF(x, y), word, "ink"))


def _line(painter: QPainter, dial: Dial, angle: Array, limit: Array) -> None:
    """A limit, broken where there is none within the chart."""
    path = QPainterPath()
    drawing = False
    n = len(angle)
    for k in range(n + 1):
        g = float(limit[k % n])
        if not math.isfinite(g):
            drawing = False
            continue
        at = dial.at(g * math.cos(angle[k % n]), g * math.sin(angle[k % n]))
        if drawing:
            path.lineTo(at)
        else:
            path.moveTo(at)
            drawing = True
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)


def _cloud(
    ink: Ink,
    dial: Dial,
    drive: Replay,
) -> None:
    """Every half second of the drive, and the wet moments large."""
    step = max(len(drive.time_s) // 700, 1)
    wet = drive.filled >= 1.0
    for rows, colour, size in ((~wet, "faint", 1.6), (wet, "bad", 3.4)):
        pen = ink.palette.pen(colour, size)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        ink.painter.setPen(pen)
        index = np.flatnonzero(rows)[:: step if size < 2 else max(step // 3, 1)]
        points = [dial.at(float(drive.forward_g[k]), float(drive.left_g[k])) for k in index]
        if points:
            ink.painter.drawPoints(QPolygonF(points))


def _conditions(
    ink: Ink,
    dial: Dial,
    e: Evaluation,
    condition: int,
) -> None:
    for k, c in enumerate(e.plan.conditions):
        if abs(c.forward_g) + abs(c.left_g) < 0.02:
            continue
        at = dial.at(c.forward_g, c.left_g)
        ink.painter.setPen(ink.palette.pen("focus" if k == condition else "ink", LINE))
        ink.painter.setBrush(ink.palette.color("raised"))
        ink.painter.drawRect(QRectF(at.x() - 4, at.y() - 4, 8, 8))
        text = c.name + (f", {number(c.duration_s, 'g')} s" if c.duration_s > 0 else "")
        width = ink.painter.fontMetrics().horizontalAdvance(text)
        for dy in (4.0, 18.0, -10.0, 32.0, -24.0):
            place = QRectF(at.x() + 5, at.y() + dy - 14, width + 8, 18)
            if not any(place.intersects(other) for other in ink.taken):
                ink.taken.append(marks.halo_text(ink, QPointF(at.x() + 9, at.y() + dy), text, "ink"))
                break


def paint_key(
    ink: Ink,
    rect: QRectF,
) -> None:
    """The key to the limits, a line each."""
    ink.painter.save()
    ink.painter.setFont(font(SMALL))
    for k, words in enumerate(CAUSES):
        colour, width, dash = STYLES[k]
        y = rect.top() + 12 + 18 * k
        ink.painter.setPen(ink.palette.pen(colour, width, dash))
        ink.painter.drawLine(QPointF(rect.left(), y - 4), QPointF(rect.left() + 34, y - 4))
        ink.painter.setPen(ink.palette.color("ink"))
        ink.painter.drawText(QPointF(rect.left() + 42, y), words)
    y = rect.top() + 12 + 18 * len(CAUSES)
    ink.painter.fillRect(QRectF(rect.left(), y - 10, 34, 11), ink.palette.color("window"))
    ink.painter.setPen(ink.palette.color("ink"))
    ink.painter.drawText(QPointF(rect.left() + 42, y), tr("held for good"))
    ink.painter.restore()
