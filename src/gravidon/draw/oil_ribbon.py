# SPDX-License-Identifier: GPL-3.0-or-later
"""The feed as a ribbon: as thick as the pressure that is left, step by step, into the turbo's inlet."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainterPath, QPolygonF

from gravidon.draw.ink import Ink
from gravidon.draw.style import LINE
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.supply.cascade import Step

SPENT = 1.6
"""[px] half the ribbon where all pressure is spent."""


@dataclass(frozen=True)
class Ribbon:
    """The feed's ribbon: where each step ends [px], half its thickness there, the lane's middle, the pressure left after each
    step [Pa], and the picture's scale."""

    steps: tuple[Step, ...]
    x: tuple[float, ...]
    half: tuple[float, ...]
    y: float
    left: tuple[float, ...]
    k: float

    @property
    def block(self) -> QRectF:
        """The engine's block that the oil comes from [px]."""
        half = self.half[0] + 16 * self.k
        return QRectF(self.x[0] - 74 * self.k, self.y - half, 60 * self.k, 2 * half)


def thickest(lane: QRectF, k: float) -> float:
    """Return half the ribbon's width at the gallery [px]: names stand over it, figures under it."""
    return float(np.clip(0.5 * (lane.height() - 76.0 * k), 14.0, 40.0 * k))


def ribbon_of(steps: tuple[Step, ...], lane: QRectF, end_x: float, k: float) -> Ribbon:
    total = max(sum(s.drop_pa for s in steps), 1.0)
    start = lane.left() + 74 * k
    room = max(end_x - thickest(lane, k) - start, 40.0)
    weight = [2.2 if s.kind == "hose" else 1.0 for s in steps[:-1]] + [0.9]
    ends = start + room * np.cumsum(weight) / sum(weight)
    most = thickest(lane, k)
    left, half = total, [most]
    rests = [total]
    for s in steps:
        left -= s.drop_pa
        rests.append(left)
        half.append(most * max(left, 0.0) / total)
    return Ribbon(
        steps, (start, *ends.tolist()), tuple(half), lane.bottom() - most - 26.0 * k, tuple(rests), k
    )


def outline(r: Ribbon, inlet: QPointF) -> QPainterPath:
    """The ribbon's shape: along the lane, narrowing where pressure is spent, then down into the bearing."""
    upper, lower = [QPointF(r.x[0] - 40, r.y - r.half[0])], [QPointF(r.x[0] - 40, r.y + r.half[0])]
    for n in range(len(r.steps) - 1):
        a, b = r.x[n], r.x[n + 1]
        for share, h in ((0.35, r.half[n]), (0.65, r.half[n + 1])):
            x = a + share * (b - a)
            upper.append(QPointF(x, r.y - h))
            lower.append(QPointF(x, r.y + h))
    h = max(r.half[-2], 1.2)
    corner = QPointF(inlet.x(), r.y)
    path = QPainterPath(upper[0])
    for p in upper[1:]:
        path.lineTo(p)
    path.lineTo(QPointF(corner.x() - h, r.y - h))
    path.quadTo(QPointF(corner.x() + h, r.y - h), QPointF(corner.x() + h, r.y + h))
    path.lineTo(QPointF(corner.x() + SPENT, inlet.y()))  # what is left is spent in the bearing
    path.lineTo(QPointF(corner.x() - SPENT, inlet.y()))
    path.lineTo(QPointF(corner.x() - h, r.y + h))
    for p in reversed(lower):
        path.lineTo(p)
    path.closeSubpath()
    return path


def paint_ribbon(ink: Ink, r: Ribbon, inlet: QPointF, e: Evaluation, condition: int) -> None:
    p, painter, k, block = ink.palette, ink.painter, r.k, r.block
    painter.setRenderHint(painter.RenderHint.Antialiasing)
    painter.setPen(p.pen("wall", LINE * k))
    painter.setBrush(p.color("metal", 0.45))
    painter.drawRoundedRect(block, 4, 4)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(p.color("oil"))
    painter.drawRect(QRectF(block.left() + 8 * k, r.y - r.half[0], block.width() - 8 * k, 2 * r.half[0]))
    painter.drawPath(outline(r, inlet))
    for n, step in enumerate(r.steps[:-1]):  # a hole that meters: the wall closes in on the ribbon
        if step.kind == "hole":
            x, h = 0.5 * (r.x[n] + r.x[n + 1]), r.half[n]
            inner = 0.5 * (r.half[n] + r.half[n + 1]) * 0.55 + 1.0
            painter.setBrush(p.color("wall"))
            for side in (-1.0, 1.0):
                painter.drawPolygon(
                    QPolygonF(
                        [
                            QPointF(x - 5 * k, r.y + side * (h + 8 * k)),
                            QPointF(x + 5 * k, r.y + side * (h + 8 * k)),
                            QPointF(x, r.y + side * inner),
                        ]
                    )
                )
    low, high = (float(v) for v in e.window_pa[condition])
    total = max(r.left[0], 1.0)
    if (
        np.isfinite(low) and e.feed.flow_m3_s[condition] > 0.0
    ):  # what the bearing wants, as a gate the ribbon must fill
        most = r.half[0]
        painter.setPen(p.pen("good", LINE * k))
        y = 0.55 * (r.y + r.half[-2]) + 0.45 * inlet.y()
        for pressure in (low, high):
            if np.isfinite(pressure) and pressure <= 1.25 * total:
                h = most * pressure / total
                for side in (-1.0, 1.0):
                    painter.drawLine(
                        QPointF(inlet.x() + side * h, y - 9 * k), QPointF(inlet.x() + side * h, y + 9 * k)
                    )
