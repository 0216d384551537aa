# SPDX-License-Identifier: GPL-3.0-or-later
"""Axes and curves for the decision charts: little, plain, and in the house style."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPolygonF

from gravidon.draw.ink import Ink
from gravidon.draw.style import HAIR, SMALL, font
from gravidon.physics.arrays import Array


@dataclass(frozen=True)
class Axes:
    """A plotting rectangle with data limits; x may be logarithmic."""

    rect: QRectF
    x_low: float
    x_high: float
    y_low: float
    y_high: float
    log_x: bool = False

    def x(self, value: float) -> float:
        """Return the pixel of an x value."""
        if self.log_x:
            share = math.log(max(value, 1e-12) / self.x_low) / math.log(self.x_high / self.x_low)
        else:
            share = (value - self.x_low) / (self.x_high - self.x_low)
        return self.rect.left() + share * self.rect.width()

    def y(self, value: float) -> float:
        """Return the pixel of a y value."""
        return self.rect.bottom() - (value - self.y_low) / (self.y_high - self.y_low) * self.rect.height()

    def x_back(self, pixel: float) -> float:
        """Return the x value of a pixel, held inside the axes."""
        share = min(max((pixel - self.rect.left()) / self.rect.width(), 0.0), 1.0)
        if self.log_x:
            return float(self.x_low * (self.x_high / self.x_low) ** share)
        return self.x_low + share * (self.x_high - self.x_low)

    def curve(self, xs: Array, ys: Array) -> QPolygonF:
        """Return a polyline of pixels."""
        if self.log_x:
            return QPolygonF(
                [QPointF(self.x(float(a)), self.y(float(b))) for a, b in zip(xs, ys, strict=True)]
            )
        box = self.rect
        x = box.left() + (np.asarray(xs) - self.x_low) * (box.width() / (self.x_high - self.x_low))
        y = box.bottom() - (np.asarray(ys) - self.y_low) * (box.height() / (self.y_high - self.y_low))
        return QPolygonF([QPointF(a, b) for a, b in zip(x.tolist(), y.tolist(), strict=True)])


def ticks(low: float, high: float, about: int = 6) -> list[float]:
    """Return round values between two limits.

    >>> ticks(0.0, 10.0, 5)
    [0.0, 2.0, 4.0, 6.0, 8.0, 10.0]
    """
    raw = max(high - low, 1e-12) / about
    power = 10.0 ** math.floor(math.log10(raw))
    step = next(m * power for m in (1, 2, 2.5, 5, 10) if m * power >= raw * 0.999)
    first = math.ceil(low / step - 1e-9)
    return [round(k * step, 10) for k in range(first, math.floor(high / step + 1e-9) + 1)]


def paint_axes(
    ink: Ink,
    axes: Axes,
    x_title: str,
    y_title: str,
    x_ticks: list[tuple[float, str]],
    y_ticks: list[tuple[float, str]],
) -> None:
    """Paint hairline rules at the y ticks, tick labels, titles: y title level above the axis."""
    ink.painter.setFont(font(SMALL))
    metrics = ink.painter.fontMetrics()
    for value, label in y_ticks:
        y = axes.y(value)
        ink.painter.setPen(ink.palette.pen("line", HAIR))
        ink.painter.drawLine(QPointF(axes.rect.left(), y), QPointF(axes.rect.right(), y))
        ink.painter.setPen(ink.palette.color("faint"))
        ink.painter.drawText(QPointF(axes.rect.left() - 8 - metrics.horizontalAdvance(label), y + 4), label)
    ink.painter.setPen(ink.palette.pen("ink", HAIR))
    ink.painter.drawLine(axes.rect.bottomLeft(), axes.rect.bottomRight())
    right_edge = -1e9
    for value, label in x_ticks:
        x = axes.x(value)
        ink.painter.setPen(ink.palette.pen("ink", HAIR))
        ink.painter.drawLine(QPointF(x, axes.rect.bottom()), QPointF(x, axes.rect.bottom() + 4))
        width = metrics.horizontalAdvance(label)
        if x - width / 2 > right_edge + 6:
            ink.painter.setPen(ink.palette.color("faint"))
            ink.painter.drawText(QPointF(x - width / 2, axes.rect.bottom() + 17), label)
            right_edge = x + width / 2
    ink.painter.setPen(ink.palette.color("ink"))
    ink.painter.drawText(QPointF(axes.rect.left() - 42, axes.rect.top() - 10), y_title)
    ink.painter.drawText(
        QPointF(axes.rect.right() - metrics.horizontalAdvance(x_title), axes.rect.bottom() + 34), x_title
    )


def spread(wanted: list[float], gap: float, low: float, high: float) -> list[float]:
    """Return positions near those wanted, at least `gap` apart and inside [low, high], same order.

    They are the least-squares nearest to those wanted. Where not all fit, the gap is shared out evenly.

    >>> spread([10.0, 11.0], 12.0, 0.0, 100.0)
    [4.5, 16.5]
    """
    n = len(wanted)
    if not n:
        return []
    gap = min(gap, (high - low) / max(n - 1, 1))
    order = sorted(range(n), key=lambda k: wanted[k])
    # without the gaps the places must only not fall: least squares under that is pooling whatever falls (the classic
    # way to an isotonic fit); each block holds its sum and its count
    blocks: list[tuple[float, int]] = []
    for i, k in enumerate(order):
        total, count = wanted[k] - i * gap, 1
        while blocks and blocks[-1][0] / blocks[-1][1] >= total / count:
            before, held = blocks.pop()
            total, count = total + before, count + held
        blocks.append((total, count))
    flat = [total / count for total, count in blocks for _ in range(count)]
    result = [0.0] * n
    for i, (k, place) in enumerate(zip(order, flat, strict=True)):
        result[k] = float(np.round(min(max(place, low), high - (n - 1) * gap) + i * gap, 6))
    return result
