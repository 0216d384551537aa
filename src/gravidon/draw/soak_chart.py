# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint what the bearing goes through after a hot stop: its temperature over the minutes, at once and after idling."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.charts import Axes, paint_axes, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import HAIR, LINE, SMALL, font
from gravidon.plan.units import display_unit
from gravidon.study.solve.heat_soak import COKING_K, HeatSoak
from gravidon.translate import number
from gravidon.words.text import tr

SHOWN_S = 1800.0
"""[s] after key-off that are drawn: by then it cools; project choice."""


def paint(ink: Ink, rect: QRectF, soak: HeatSoak) -> None:
    """Paint both curves with the temperature from which oil cokes."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    unit = display_unit("degc", ink.family)
    seen = soak.seconds <= SHOWN_S
    minutes = soak.seconds[seen] / 60.0
    curves = [(soak.bearing_k[seen], "heat", tr("at once"))]
    if 0.0 < soak.idle_s < np.inf:
        curves.append(
            (soak.idled_k[seen], "good", tr("after {seconds:.0f} s of idling").format(seconds=soak.idle_s))
        )
    reached = [unit.from_si(float(k)) for curve, _, _ in curves for k in (curve.min(), curve.max())]
    low, high = min(*reached), max(*reached, unit.from_si(COKING_K))
    room = 0.12 * (high - low)
    inner = QRectF(rect.left() + 44, rect.top() + 20, rect.width() - 44 - 10, rect.height() - 20 - 44)
    axes = Axes(inner, 0.0, SHOWN_S / 60.0, low - 2.0 * room, high + 2.0 * room)
    paint_axes(
        ink,
        axes,
        tr("minutes after key-off"),
        tr("bearing after a hot stop, {symbol}").format(symbol=unit.symbol),
        [(v, number(v, "g")) for v in ticks(0.0, SHOWN_S / 60.0, 6)],
        [(v, number(v, "g")) for v in ticks(axes.y_low, axes.y_high, 3)],
    )
    coking = axes.y(unit.from_si(COKING_K))
    ink.painter.setPen(ink.palette.pen("bad", HAIR, Qt.PenStyle.DashLine))
    ink.painter.drawLine(QPointF(inner.left(), coking), QPointF(inner.right(), coking))
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    for curve, colour, _ in curves:
        ink.painter.setPen(ink.palette.pen(colour, LINE))
        ink.painter.drawPolyline(axes.curve(minutes, np.array([unit.from_si(float(k)) for k in curve])))
    # the first named over its peak, the second under its end, where neither lies on a curve
    for (curve, colour, words), k, down in zip(
        curves, (int(curves[0][0].argmax()), int(0.8 * len(minutes))), (-5.0, 17.0), strict=False
    ):
        at = QPointF(
            axes.x(float(minutes[k])), min(axes.y(unit.from_si(float(curve[k]))) + down, inner.bottom() - 4.0)
        )
        marks.halo_text(ink, at, words, colour, "centre")
    marks.halo_text(ink, QPointF(inner.right() - 4, coking - 5), tr("oil cokes"), "bad", "right")
    ink.painter.restore()
