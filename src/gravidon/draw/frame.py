# SPDX-License-Identifier: GPL-3.0-or-later
"""Picture millimetres to pixels."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPolygonF

from gravidon.physics.arrays import Array


@dataclass(frozen=True)
class Frame:
    """Picture millimetres to pixels: scale [px/mm] and where (0, 0) falls."""

    scale: float
    origin: QPointF

    def at(self, point: Array) -> QPointF:
        """Return the pixel of a picture point [mm]."""
        return QPointF(self.origin.x() + self.scale * point[0], self.origin.y() - self.scale * point[1])

    def back(self, pixel: QPointF) -> tuple[float, float]:
        """Return the picture point [mm] of a pixel."""
        return (pixel.x() - self.origin.x()) / self.scale, (self.origin.y() - pixel.y()) / self.scale

    def polygon(self, points: Array) -> QPolygonF:
        """Return a polygon of pixels."""
        xs = (self.origin.x() + self.scale * points[:, 0]).tolist()
        ys = (self.origin.y() - self.scale * points[:, 1]).tolist()
        return QPolygonF([QPointF(x, y) for x, y in zip(xs, ys, strict=True)])
