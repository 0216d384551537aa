# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint a drive along its time: cornering and braking, the freeboard, how far the housing has filled, wet spells."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from gravidon.draw import marks
from gravidon.draw.charts import Axes, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import HAIR, LINE, SMALL, font
from gravidon.physics.arrays import Array
from gravidon.plan.units import display_unit, plain_number
from gravidon.study.home.replay import Replay
from gravidon.translate import number
from gravidon.words.text import tr

LEFT, MOST_POINTS = 58.0, 900


def time_axes(rect: QRectF, drive: Replay) -> Axes:
    """Return the axes of time over the whole chart."""
    inner = QRectF(rect.left() + LEFT, rect.top() + 8, rect.width() - LEFT - 14, rect.height() - 30)
    return Axes(inner, 0.0, max(drive.log.seconds, 1.0), 0.0, 1.0)


def paint(
    ink: Ink,
    rect: QRectF,
    drive: Replay,
    need_m: float,
    cursor_s: float | None,
) -> None:
    """Paint three tracks over one time axis."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    whole = time_axes(rect, drive)
    step = max(len(drive.time_s) // MOST_POINTS, 1)
    t = drive.time_s[::step]
    for spell in drive.spells:
        a, b = whole.x(spell.start_s), whole.x(spell.end_s)
        ink.painter.fillRect(
            QRectF(a, whole.rect.top(), max(b - a, 2.0), whole.rect.height()), ink.palette.color("bad", 0.18)
        )
    unit = display_unit("mm", ink.family)
    free = unit.from_si(1.0) * drive.freeboard_m
    third = (whole.rect.height() - 20) / 3
    rows = [
        (tr("left turn +, g"), [(drive.left_g, "ink"), (drive.forward_g, "faint")], (-1.1, 1.1), 0.0),
        (
            tr("freeboard, {symbol}").format(symbol=unit.symbol),
            [(free, "oil")],
            (float(min(free.min(), 0.0)), float(max(free.max(), 1e-3))),
            0.0,
        ),
        (tr("filled to the seal"), [(drive.filled, "bad")], (0.0, 1.0), 1.0),
    ]
    for k, (name, curves, (low, high), limit) in enumerate(rows):
        top = whole.rect.top() + k * (third + 10)
        axes = Axes(
            QRectF(whole.rect.left(), top, whole.rect.width(), third), whole.x_low, whole.x_high, low, high
        )
        ink.painter.setPen(ink.palette.pen("line", HAIR))
        ink.painter.drawRect(axes.rect)
        ink.painter.setPen(ink.palette.pen("bad" if k == 1 else "faint", HAIR, Qt.PenStyle.DashLine))
        ink.painter.drawLine(
            QPointF(axes.rect.left(), axes.y(limit)), QPointF(axes.rect.right(), axes.y(limit))
        )
        for values, colour in curves:
            ink.painter.setPen(ink.palette.pen(colour, HAIR if colour == "faint" else LINE))
            ink.painter.setBrush(Qt.BrushStyle.NoBrush)
            ink.painter.drawPolyline(_curve(axes, t, values, step))
        ink.painter.setPen(ink.palette.color("faint"))
        for value in (low, high):
            label = plain_number(value, 0) if k == 1 and unit.symbol == "mm" else number(value, ".2g")
            y = min(max(axes.y(value) + 4, top + 10), top + third)
            ink.painter.drawText(
                QPointF(axes.rect.left() - 6 - ink.painter.fontMetrics().horizontalAdvance(label), y), label
            )
        marks.halo_text(ink, QPointF(axes.rect.left() + 6, top + 13), name, "ink")
        if k == 0:
            wide = max(ink.painter.fontMetrics().horizontalAdvance(name) + 16, 102)
            marks.halo_text(
                ink, QPointF(axes.rect.left() + 6 + wide, top + 13), tr("forward +, thin"), "faint"
            )
        if k == 1:
            y = axes.y(unit.from_si(need_m))
            ink.painter.setPen(ink.palette.pen("good", HAIR, Qt.PenStyle.DotLine))
            ink.painter.drawLine(QPointF(axes.rect.left(), y), QPointF(axes.rect.right(), y))
    ink.painter.setPen(ink.palette.color("faint"))
    for value in ticks(0.0, whole.x_high, 8):
        label = f"{int(value) // 60}:{int(value) % 60:02d}"
        ink.painter.drawText(QPointF(whole.x(value) - 12, whole.rect.bottom() + 16), label)
    marks.halo_text(
        ink, QPointF(whole.rect.right() - 4, whole.rect.bottom() - 5), tr("min:s"), "faint", "right"
    )
    if cursor_s is not None:
        ink.painter.setPen(ink.palette.pen("focus", LINE))
        x = whole.x(cursor_s)
        ink.painter.drawLine(QPointF(x, whole.rect.top()), QPointF(x, whole.rect.bottom()))
    ink.painter.restore()


def _curve(axes: Axes, t: Array, values: Array, step: int) -> QPolygonF:
    """Return a curve thinned so that no peak is lost: lowest and highest of every step, in turn."""
    if step == 1:
        return axes.curve(t, np.clip(values, axes.y_low, axes.y_high))
    n = len(values) // step * step
    block = np.clip(values[:n].reshape(-1, step), axes.y_low, axes.y_high)
    both = np.stack([block.min(axis=1), block.max(axis=1)], axis=1).ravel()
    return axes.curve(np.repeat(t[: n // step], 2), both)
