# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint what a drill asks about: a thread's profile with its two measures, a pan with four places, a bolt circle with its drain, four holes over what they meter."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainterPath, QPolygonF

from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BOLD, HAIR, LARGE, LINE, SMALL, fitted_text, font
from gravidon.plan.units import show
from gravidon.study.diagnosis.drills import Drill
from gravidon.translate import number
from gravidon.words.text import tr


def paint(ink: Ink, rect: QRectF, drill: Drill, shown: int) -> None:
    """Paint a drill's picture.

    Args:
        ink: painter, colours, units.
        rect: the surface.
        drill: the question, with the figures it was made of.
        shown: which answer is shown as the right one; -1 while it is not answered.
    """
    ink.painter.save()
    ink.painter.setRenderHint(ink.painter.RenderHint.Antialiasing)
    PAINTERS[drill.skill](ink, rect, drill, shown)
    ink.painter.restore()


def _thread(ink: Ink, rect: QRectF, drill: Drill, _: int) -> None:
    """A thread cut along its axis: crests at their pitch, flanks by their angle, thinner towards its end where it is a taper."""
    f, p = drill.figures, ink.painter
    pitch, major = f["pitch_mm"], f["diameter_mm"]
    scale = min(0.42 * rect.width() / max(7.0 * pitch, 0.5 * major), 0.46 * rect.height() / major)
    depth = 0.55 * pitch / np.tan(np.radians(f["flank_deg"] / 2.0)) * 0.8
    taper = f["taper"]
    x0, y0 = rect.center().x() - 3.5 * pitch * scale, rect.center().y()
    upper = []
    for k in range(15):
        along = 0.5 * pitch * k
        radius = 0.5 * major - taper * along / 32.0 * 4.0 - (depth if k % 2 else 0.0)
        upper.append((x0 + along * scale, radius * scale))
    shape = QPolygonF(
        [QPointF(x, y0 - r) for x, r in upper] + [QPointF(x, y0 + r) for x, r in reversed(upper)]
    )
    p.setPen(ink.palette.pen("wall", LINE))
    p.setBrush(ink.palette.color("metal", 0.55))
    p.drawPolygon(shape)
    p.setPen(ink.palette.pen("faint", HAIR, Qt.PenStyle.DashDotLine))
    p.drawLine(QPointF(x0 - 24, y0), QPointF(x0 + 7.0 * pitch * scale + 24, y0))
    p.setPen(ink.palette.pen("ink", LINE))
    first, third = upper[2], upper[4]
    y = y0 - first[1] - 14
    marks.arrow(p, QPointF(first[0], y), QPointF(third[0], y), both=True)
    p.setFont(font(SMALL))
    marks.halo_text(
        ink, QPointF(0.5 * (first[0] + third[0]), y - 6), f"{number(pitch, '.3f')} mm", align="centre"
    )
    x = x0 - 40
    r = upper[0][1]
    marks.arrow(p, QPointF(x, y0 - r), QPointF(x, y0 + r), both=True)
    marks.halo_text(ink, QPointF(x - 6, y0 + 4), show(major * 1e-3, "bore", ink.family), align="right")


def _entry(ink: Ink, rect: QRectF, drill: Drill, shown: int) -> None:
    """The pan's wall from the rail down, with the four places; the oil is drawn once it is answered."""
    p, f = ink.painter, drill.figures
    heights = [f[f"height_{k}"] for k in range(4)]
    low = min(*heights, f["clear_mm"]) - 24.0
    scale = (rect.height() - 50.0) / -low
    left, wide, rail = rect.center().x() - 170.0, 250.0, rect.top() + 26.0
    wall = QRectF(left, rail, wide, -low * scale)
    p.fillRect(wall, ink.palette.color("raised"))
    if shown >= 0:
        crown = rail - f["clear_mm"] * scale - 0.5 * f["bore_mm"] * scale
        p.fillRect(QRectF(left, crown, wide, wall.bottom() - crown), ink.palette.color("oil", 0.45))
        p.setPen(ink.palette.color("ink"))
        fitted_text(
            p,
            QPointF(left + 6, min(crown + 16, wall.bottom() - 4)),
            tr("oil, at its highest here"),
            wide - 12,
            SMALL,
        )
    p.setPen(ink.palette.pen("wall", BOLD))
    p.drawLine(wall.topLeft(), wall.topRight())
    p.setPen(ink.palette.pen("wall", LINE))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(wall)
    p.setPen(ink.palette.color("faint"))
    fitted_text(p, QPointF(left, rail - 8), tr("pan rail"), wide, SMALL)
    for k, z in enumerate(heights):
        at = QPointF(left + (k + 0.7) * wide / 4.4, rail - z * scale)
        p.setPen(ink.palette.pen("good" if k == shown else "wall", BOLD if k == shown else LINE))
        p.setBrush(ink.palette.color("sheet"))
        r = 0.5 * f["bore_mm"] * scale
        p.drawEllipse(at, r, r)
        p.setPen(ink.palette.color("ink"))
        p.setFont(font(SMALL, bold=k == shown))
        box = QRectF(at.x() - 20, at.y() - 10, 40, 20)
        p.drawText(box, int(Qt.AlignmentFlag.AlignCenter), "abcd"[k])


def _hole(ink: Ink, rect: QRectF, drill: Drill, shown: int) -> None:
    """Four holes side by side, as wide as they are against one another."""
    p, f = ink.painter, drill.figures
    bores = [f[f"bore_{k}"] for k in range(4)]
    room = rect.width() / 4.6
    scale = 0.8 * min(room, rect.height() - 60.0) / max(bores)
    for k, bore in enumerate(bores):
        at = QPointF(rect.left() + (k + 0.8) * room, rect.center().y())
        r = 0.5 * bore * scale
        side = 0.5 * min(room, rect.height() - 50.0)
        plate = QPainterPath()
        plate.addRoundedRect(QRectF(at.x() - side * 0.9, at.y() - side * 0.9, 1.8 * side, 1.8 * side), 6, 6)
        hole = QPainterPath()
        hole.addEllipse(at, r, r)
        p.setPen(ink.palette.pen("good" if k == shown else "wall", BOLD if k == shown else LINE))
        p.setBrush(ink.palette.color("metal", 0.5))
        p.drawPath(plate.subtracted(hole))
        p.setPen(ink.palette.color("ink"))
        p.setFont(font(SMALL))
        words = show(bore * 1e-3, "bore", ink.family)
        p.drawText(
            QRectF(at.x() - room / 2, at.y() + side, room, 20), int(Qt.AlignmentFlag.AlignCenter), words
        )


def _clock(ink: Ink, rect: QRectF, drill: Drill, shown: int) -> None:
    """The centre from the turbine's end: bolts round it, the drain as it points; where it will point once it is answered."""
    p, f = ink.painter, drill.figures
    centre, r = rect.center(), 0.36 * min(rect.width(), rect.height())
    p.setPen(ink.palette.pen("wall", LINE))
    p.setBrush(ink.palette.color("metal", 0.4))
    p.drawEllipse(centre, r, r)
    count = int(f["count"])
    for k in range(count):
        a = 2.0 * np.pi * k / count
        p.setBrush(ink.palette.color("sheet"))
        p.drawEllipse(QPointF(centre.x() + 0.82 * r * np.sin(a), centre.y() + 0.82 * r * np.cos(a)), 5.0, 5.0)

    def pipe(degrees: float, colour: str, dashed: bool) -> None:
        # clockwise as seen: from straight down towards the left
        a = np.radians(degrees)
        way = np.array([-np.sin(a), np.cos(a)])
        start, end = 0.25 * r * way, 1.3 * r * way
        style = Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine
        p.setPen(ink.palette.pen(colour, 3.0, style))
        marks.arrow(p, centre + QPointF(*start), centre + QPointF(*end), 12.0)

    p.setPen(ink.palette.pen("faint", HAIR, Qt.PenStyle.DashDotLine))
    p.drawLine(centre, QPointF(centre.x(), centre.y() + 1.45 * r))
    pipe(f["now_deg"], "oil", False)
    if shown >= 0:
        pipe(f["after_deg"], "good", True)
    p.setPen(ink.palette.color("faint"))
    fitted_text(p, QPointF(centre.x() + 8, centre.y() + 1.45 * r), tr("straight down"), 120, SMALL)
    p.setPen(ink.palette.color("ink"))
    fitted_text(
        p, QPointF(rect.left() + 8, rect.top() + 20), f"{abs(f['now_deg']):.0f}°", 80, LARGE, bold=True
    )


PAINTERS: Mapping[str, Callable[[Ink, QRectF, Drill, int], None]] = {
    "read a thread": _thread,
    "place an entry": _entry,
    "choose a hole": _hole,
    "clock a housing": _clock,
}
