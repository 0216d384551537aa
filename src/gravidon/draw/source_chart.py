# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the gauge readings with the fitted gallery pressure law drawn through them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.charts import Axes, paint_axes, spread, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import HAIR, LINE, SMALL, font
from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.units import Family, display_unit, show, show_difference
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.supply.gallery import GalleryCurve, gallery_curves
from gravidon.translate import number
from gravidon.words.text import tr


def paint(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
) -> None:
    """Paint pressure over engine speed: one curve per reading temperature, points, misfits, relief."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    fit, readings = e.supply.fit, e.plan.engine.readings
    unit = display_unit("kpa", ink.family)
    fastest = max(*(r.rpm for r in readings), *(c.rpm for c in e.plan.conditions)) * 1.05
    relief = unit.from_si(fit.relief_pa)
    highest = max(relief, *(unit.from_si(si(r, "pressure_kpa")) for r in readings)) * 1.12
    speeds = np.linspace(0.0, fastest, 90)
    made = gallery_curves(e, speeds)
    ends = [_at(curve.temperature_k, ink.family) for curve in made]
    wide = max([64.0, *(float(ink.painter.fontMetrics().horizontalAdvance(words)) for words in ends)])
    inner = QRectF(rect.left() + 58, rect.top() + 42, rect.width() - 68 - wide, rect.height() - 42 - 46)
    axes = Axes(inner, 0.0, fastest, 0.0, highest)
    paint_axes(
        ink,
        axes,
        tr("engine speed, rpm"),
        tr("gallery pressure, {symbol}").format(symbol=unit.symbol),
        [(v, number(v, "g")) for v in ticks(0.0, fastest, 6)],
        [(v, number(v, "g")) for v in ticks(0.0, highest, 5)],
    )
    ink.painter.setPen(ink.palette.pen("ink", HAIR, Qt.PenStyle.DashLine))
    ink.painter.drawLine(QPointF(inner.left(), axes.y(relief)), QPointF(inner.right(), axes.y(relief)))
    marks.halo_text(ink, QPointF(inner.left() + 6, axes.y(relief) - 6), tr("relief valve"), "faint")
    _curves(ink, axes, speeds, made)
    _points(ink, axes, e)
    ink.painter.setPen(ink.palette.color("faint"))
    text = tr("band: what readings leave open; missed by up to {band}").format(
        band=show_difference(fit.band_pa, "kpa", ink.family)
    )
    ink.painter.drawText(QPointF(rect.left() + 4, rect.top() + 12), text)
    ink.painter.restore()


def _at(temperature_k: float, family: Family) -> str:
    """Return what a curve is of, as written at its end."""
    return tr("at {heat}").format(heat=show(temperature_k, "degc", family))


def _curves(
    ink: Ink,
    axes: Axes,
    speeds: Array,
    made: Sequence[GalleryCurve],
) -> None:
    unit = display_unit("kpa", ink.family)
    shown = [np.array([unit.from_si(float(v)) for v in curve.law_pa]) for curve in made]
    labels = spread([axes.y(float(p[-1])) for p in shown], 14.0, axes.rect.top(), axes.rect.bottom())
    for curve in made:
        low, high = (
            np.array([unit.from_si(float(v)) for v in side]) for side in (curve.low_pa, curve.high_pa)
        )
        around = np.concatenate([np.minimum(high, axes.y_high), np.maximum(low, 0.0)[::-1]])
        ink.painter.setPen(Qt.PenStyle.NoPen)
        ink.painter.setBrush(ink.palette.color("oil", 0.13))
        ink.painter.drawPolygon(axes.curve(np.concatenate([speeds, speeds[::-1]]), around))
    for curve, ys, y in zip(made, shown, labels, strict=True):
        ink.painter.setPen(ink.palette.pen("oil", LINE))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPolyline(axes.curve(speeds, ys))
        ink.painter.setPen(ink.palette.color("faint"))
        ink.painter.drawText(QPointF(axes.rect.right() + 6, y + 4), _at(curve.temperature_k, ink.family))


def _points(
    ink: Ink,
    axes: Axes,
    e: Evaluation,
) -> None:
    unit = display_unit("kpa", ink.family)
    fit = e.supply.fit
    for reading, residual in zip(e.plan.engine.readings, fit.residuals_pa, strict=True):
        p = si(reading, "pressure_kpa")
        at = QPointF(axes.x(reading.rpm), axes.y(unit.from_si(p)))
        law = QPointF(at.x(), axes.y(unit.from_si(p + residual)))
        ink.painter.setPen(ink.palette.pen("heat", LINE))
        ink.painter.drawLine(at, law)
        ink.painter.setPen(ink.palette.pen("ink", LINE))
        ink.painter.setBrush(
            ink.palette.color("ink") if reading.basis == "measured" else ink.palette.color("sheet")
        )
        ink.painter.drawEllipse(at, 4.5, 4.5)
