# SPDX-License-Identifier: GPL-3.0-or-later
"""Small marks: the verdict drop (whole, half, struck out), arrows, haloed text."""

from __future__ import annotations

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath

from gravidon.draw.ink import Ink
from gravidon.draw.style import HAIR, VERDICT_COLOR
from gravidon.plan.things import ThingKind


def drop_path(rect: QRectF) -> QPainterPath:
    """Return an oil drop that fills a rectangle."""
    path = QPainterPath(QPointF(rect.center().x(), rect.top()))
    w, h = rect.width(), rect.height()
    x, y = rect.left(), rect.top()
    path.cubicTo(x + 0.62 * w, y + 0.30 * h, x + w, y + 0.48 * h, x + w, y + 0.66 * h)
    path.cubicTo(x + w, y + 0.87 * h, x + 0.78 * w, y + h, x + 0.5 * w, y + h)
    path.cubicTo(x + 0.22 * w, y + h, x, y + 0.87 * h, x, y + 0.66 * h)
    path.cubicTo(x, y + 0.48 * h, x + 0.38 * w, y + 0.30 * h, x + 0.5 * w, y)
    return path


def paint_drop(
    ink: Ink,
    rect: QRectF,
    verdict: str,
) -> None:
    """Paint a verdict: a whole drop holds, a half-filled one is to be watched, a struck-out one fails."""
    colour = ink.palette.color(VERDICT_COLOR[verdict])
    path = drop_path(rect)
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    pen = ink.palette.pen(VERDICT_COLOR[verdict], 1.3)
    if verdict == "holds":
        ink.painter.setPen(Qt.PenStyle.NoPen)
        ink.painter.setBrush(colour)
        ink.painter.drawPath(path)
    elif verdict == "watch":
        ink.painter.setPen(Qt.PenStyle.NoPen)
        ink.painter.setBrush(colour)
        lower = QPainterPath()
        lower.addRect(
            QRectF(rect.left(), rect.center().y() + 0.08 * rect.height(), rect.width(), rect.height())
        )
        ink.painter.drawPath(path.intersected(lower))
        ink.painter.setPen(pen)
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPath(path)
    else:
        ink.painter.setPen(pen)
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPath(path)
        bar = ink.palette.pen(VERDICT_COLOR[verdict], max(0.22 * rect.width(), 2.0))
        ink.painter.setPen(bar)
        ink.painter.drawLine(
            QPointF(rect.left() - 0.10 * rect.width(), rect.bottom() - 0.12 * rect.height()),
            QPointF(rect.right() + 0.10 * rect.width(), rect.top() + 0.34 * rect.height()),
        )
    ink.painter.restore()


def halo_text(ink: Ink, at: QPointF, text: str, colour: str = "ink", align: str = "left") -> QRectF:
    """Write text on a patch of sheet so that lines do not run through it; return its rectangle."""
    metrics = ink.painter.fontMetrics()
    width = metrics.horizontalAdvance(text)
    x = at.x() - {"left": 0.0, "centre": width / 2, "right": float(width)}[align]
    rect = QRectF(x - 3, at.y() - metrics.ascent() - 1, width + 6, metrics.height() + 2)
    pen = ink.painter.pen()
    ink.painter.fillRect(rect.toAlignedRect(), ink.palette.color("sheet", 0.86))
    ink.painter.setPen(ink.palette.color(colour))
    ink.painter.drawText(QPointF(x, at.y()), text)
    ink.painter.setPen(pen)
    ink.words.append(rect)
    return rect


STEPS = (
    (0, 0),
    (0, -1),
    (0, 1),
    (0, -2),
    (0, 2),
    (0.6, 0),
    (-0.6, 0),
    (0.6, -1),
    (-0.6, -1),
    (0.6, 1),
    (-0.6, 1),
    (0, -3),
    (0, 3),
)
"""Places tried for a text, in its widths and heights off where it is wanted."""


def clear_text(ink: Ink, at: QPointF, text: str, colour: str = "ink", align: str = "left") -> QRectF | None:
    """Write text as `halo_text` does, moved where other words stand already; nothing where there is no room."""
    metrics = ink.painter.fontMetrics()
    width, height = metrics.horizontalAdvance(text) + 6, metrics.height() + 2
    room = ink.painter.clipBoundingRect() if ink.painter.hasClipping() else None
    x = at.x() - {"left": 0.0, "centre": width / 2, "right": float(width)}[align]
    for dx, dy in STEPS:
        rect = QRectF(x - 3 + dx * width, at.y() - metrics.ascent() - 1 + dy * height, width, height)
        if any(rect.intersects(other) for other in ink.words) or (
            room is not None and not room.contains(rect)
        ):
            continue
        return halo_text(ink, QPointF(at.x() + dx * width, at.y() + dy * height), text, colour, align)
    return None


def arrow(painter: QPainter, start: QPointF, end: QPointF, size: float = 5.0, both: bool = False) -> None:
    """Draw a line with a slim head at its end (or both ends) in the painter's pen."""
    painter.drawLine(start, end)
    ends = ((start, end), (end, start)) if both else ((start, end),)
    for tail, tip in ends:
        dx, dy = tip.x() - tail.x(), tip.y() - tail.y()
        length = max((dx * dx + dy * dy) ** 0.5, 1e-6)
        ux, uy = dx / length, dy / length
        for side in (0.4, -0.4):
            painter.drawLine(
                tip, QPointF(tip.x() - size * (ux - side * uy), tip.y() - size * (uy + side * ux))
            )


HATCH_PX = 7.0


def thing(
    ink: Ink,
    rect: QRectF,
    kind: ThingKind,
) -> None:
    """Paint a thing beside the drain by its kind: outline, filling, hatching; dotted where it stands inside the pan."""
    ink.painter.setPen(
        ink.palette.pen(kind.ink, HAIR, Qt.PenStyle.DotLine if kind.inside else Qt.PenStyle.SolidLine)
    )
    colour, strength = kind.fill
    ink.painter.setBrush(ink.palette.color(colour, strength) if colour else Qt.BrushStyle.NoBrush)
    ink.painter.drawRect(rect)
    if not kind.hatched:
        return
    ink.painter.save()
    ink.painter.setClipRect(rect, Qt.ClipOperation.IntersectClip)
    starts = (rect.left() + k * HATCH_PX for k in range(int((rect.width() + rect.height()) / HATCH_PX) + 1))
    ink.painter.drawLines(*(QLineF(x, rect.top(), x - rect.height(), rect.bottom()) for x in starts))
    ink.painter.restore()


def paint_padlock(ink: Ink, rect: QRectF, state: str) -> None:
    """Paint a padlock: shut for what is locked, with half a body for what is limited, its shackle swung open for what is open."""
    colour = {"locked": "ink", "limited": "watch", "open": "faint"}[state]
    p, w, h = ink.painter, rect.width(), rect.height()
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    body = QRectF(rect.left() + 0.12 * w, rect.top() + 0.46 * h, 0.76 * w, 0.5 * h)
    shackle = QRectF(rect.left() + 0.27 * w, rect.top() + 0.06 * h, 0.46 * w, 0.62 * h)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(ink.palette.pen(colour, max(0.12 * w, 1.2)))
    if state == "open":
        shackle.translate(0.42 * w, 0.0)
    p.drawArc(shackle, 0, 180 * 16)
    sides = ((shackle.left(), 0.5), (shackle.right(), 0.5 if state != "open" else 0.30))
    for x, to in sides:
        p.drawLine(QPointF(x, shackle.center().y()), QPointF(x, rect.top() + to * h))
    if state == "open":
        p.setPen(ink.palette.pen(colour, HAIR))
        p.drawRoundedRect(body, 1.5, 1.5)
    else:
        p.setPen(ink.palette.pen(colour, HAIR))
        p.drawRoundedRect(body, 1.5, 1.5)
        p.setBrush(ink.palette.color(colour))
        fill = QRectF(body)
        if state == "limited":
            fill.setTop(body.center().y())
        p.drawRoundedRect(fill, 1.5, 1.5)
    p.restore()
