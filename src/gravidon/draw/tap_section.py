# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the chosen tap as it sits in the engine: gallery, threaded hole, fitting, room for a wrench, what is hot beside it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt

from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, font
from gravidon.parts.threads import THREADS, joint
from gravidon.plan.model import Plan
from gravidon.words.text import tr

ROOM_MM = 150.0
"""[mm] of the engine's side that the section shows across; project choice."""


@dataclass(frozen=True)
class Section:
    """The section's places [px]: scale [px/mm], the hole's axis, the wall's face, the gallery's middle and half height, what is
    hot, the ellipse in whose upper half a wrench swings, and the engine's block."""

    scale: float
    axis: float
    face: float
    gallery: float
    half: float
    hot: QRectF
    swing: QRectF
    block: QRectF

    def swept(self) -> list[QRectF]:
        """Return places along the wrench's swing."""
        middle, wide, high = self.swing.center(), 0.5 * self.swing.width(), 0.5 * self.swing.height()
        turns = np.linspace(0.0, np.pi, 25)
        spots = [(middle.x() + wide * np.cos(a), middle.y() - high * np.sin(a)) for a in turns]
        return [QRectF(float(x) - 3, float(y) - 3, 6, 6) for x, y in spots]


def layout(rect: QRectF, plan: Plan) -> Section:
    """Return where things are in a rectangle."""
    tap = plan.taps[plan.tap]
    scale = min(rect.width() / (2.2 * ROOM_MM), rect.height() / 110.0)
    face = rect.top() + 0.52 * rect.height()
    half = 0.5 * tap.gallery_bore_mm.value * scale
    axis = rect.left() + 0.34 * rect.width()
    near, swing = axis + tap.hot_mm.value * scale, tap.wrench_mm.value * scale
    return Section(
        scale,
        axis,
        face,
        face + 16.0 * scale + half,
        half,
        QRectF(near, rect.top() + 4, max(rect.right() - near, 14.0), face - rect.top() - 20),
        QRectF(axis - swing, face - 8 * scale - 0.35 * swing, 2 * swing, 0.7 * swing),
        QRectF(rect.left(), face, rect.width() * 0.72, rect.bottom() - face),
    )


def paint(ink: Ink, rect: QRectF, plan: Plan) -> None:
    """Paint the section."""
    p, painter, tap = ink.palette, ink.painter, plan.taps[plan.tap]
    s = layout(rect, plan)
    major = 0.5 * THREADS[tap.port_thread].major_mm * s.scale
    own = 0.5 * THREADS[tap.fitting_thread].major_mm * s.scale
    fits = joint(THREADS[tap.fitting_thread], THREADS[tap.port_thread]).verdict == "seals"
    painter.save()
    painter.setRenderHint(painter.RenderHint.Antialiasing)
    painter.setClipRect(rect)
    painter.setFont(font(SMALL))
    block = s.block
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(p.color("metal", 0.45))
    painter.drawRect(block)
    gallery = QRectF(block.left(), s.gallery - s.half, block.width(), 2 * s.half)
    painter.setBrush(p.color("oil"))
    painter.drawRect(gallery)
    painter.drawRect(QRectF(s.axis - 0.45 * major, s.face, 0.9 * major, s.gallery - s.face))
    painter.setPen(p.pen("wall", LINE))
    painter.drawLine(QPointF(block.left(), s.face), QPointF(s.axis - major, s.face))
    painter.drawLine(QPointF(s.axis + major, s.face), QPointF(block.right(), s.face))
    for side in (-1.0, 1.0):
        painter.drawLine(
            QPointF(s.axis + side * major, s.face), QPointF(s.axis + side * major, s.gallery - s.half)
        )
    into = (
        s.gallery - s.half + tap.protrusion_mm.value * s.scale
    )  # a fitting longer than its plug stands in the flow
    body = QRectF(s.axis - own, s.face - 2, 2 * own, into - s.face + 2)
    painter.setPen(p.pen("wall" if fits else "bad", BOLD))
    painter.setBrush(p.color("raised"))
    painter.drawRect(body)
    painter.drawRect(QRectF(s.axis - 1.35 * own, s.face - 13 * s.scale, 2.7 * own, 13 * s.scale))
    painter.setPen(p.pen("oil", max(4.0, 3.0 * s.scale)))
    painter.drawLine(QPointF(s.axis, s.gallery), QPointF(s.axis, s.face - 24 * s.scale))
    painter.drawLine(
        QPointF(s.axis, s.face - 24 * s.scale),
        QPointF(rect.left() + 0.62 * rect.width(), s.face - 24 * s.scale),
    )
    need = plan.needs
    tight = tap.wrench_mm.value < need.wrench_mm.value
    painter.setPen(p.pen("bad" if tight else "faint", HAIR, Qt.PenStyle.DashLine))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawArc(s.swing, 0, 180 * 16)
    near, hot = tap.hot_mm.value < need.hot_mm.value, s.hot
    painter.setPen(p.pen("heat", LINE if near else HAIR))
    painter.setBrush(p.color("heat", 0.22 if near else 0.12))
    painter.drawRect(hot.intersected(rect.adjusted(0, 0, -2, 0)))
    painter.setPen(p.pen("faint", HAIR))
    marks.arrow(
        painter, QPointF(s.axis + 1.4 * own, s.face - 6), QPointF(hot.left(), s.face - 6), 4.0, both=True
    )
    marks.clear_text(ink, QPointF(block.left() + 8, s.gallery + 4), tr("gallery"), "ink")
    marks.clear_text(ink, QPointF(hot.left() + 8, hot.bottom() - 6), tr("hot"), "heat")
    if not fits:
        marks.clear_text(ink, QPointF(s.axis + 1.5 * own, s.face - 15), tr("threads do not match"), "bad")
    painter.restore()
