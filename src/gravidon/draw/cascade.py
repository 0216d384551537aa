# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the pressure cascade: a channel of oil that steps down piece by piece from gallery to housing."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from gravidon.draw import marks
from gravidon.draw.charts import Axes, paint_axes, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import HAIR, LINE, SMALL, font
from gravidon.plan.units import Family, display_unit, show_difference
from gravidon.study.supply.cascade import Step
from gravidon.translate import number
from gravidon.words.text import tr


def axes_of(rect: QRectF, steps: Sequence[Step], family: Family) -> Axes:
    """Return the axes: pressure upward, steps side by side."""
    unit = display_unit("kpa", family)
    total = sum(s.drop_pa for s in steps)
    inner = QRectF(rect.left() + 54, rect.top() + 34, rect.width() - 74, rect.height() - 34 - 74)
    return Axes(inner, 0.0, float(len(steps)), 0.0, max(unit.from_si(total) * 1.1, 1e-3))


def step_rect(axes: Axes, index: int) -> QRectF:
    """Return the column of a step, for clicks."""
    left, right = axes.x(index), axes.x(index + 1)
    return QRectF(left, axes.rect.top(), right - left, axes.rect.height() + 70)


def paint(
    ink: Ink,
    rect: QRectF,
    steps: Sequence[Step],
    window_pa: tuple[float, float],
    selected: str = "",
) -> None:
    """Paint the cascade; the bearing's window is drawn beside its own step."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    axes = axes_of(rect, steps, ink.family)
    unit = display_unit("kpa", ink.family)
    y_ticks = [(v, number(v, "g")) for v in ticks(0.0, axes.y_high, 5)]
    paint_axes(ink, axes, "", tr("pressure left, {symbol}").format(symbol=unit.symbol), [], y_ticks)
    _window(ink, axes, len(steps) - 1, window_pa)
    level = sum(s.drop_pa for s in steps)
    top = [QPointF(axes.x(0), axes.y(unit.from_si(level)))]
    levels = [level]
    for k, step in enumerate(steps):
        level -= step.drop_pa
        levels.append(level)
        left = axes.x(k) + 0.28 * (axes.x(1) - axes.x(0))
        right = axes.x(k) + 0.72 * (axes.x(1) - axes.x(0))
        top.append(QPointF(left, top[-1].y()))
        top.append(QPointF(right, axes.y(unit.from_si(max(level, 0.0)))))
    top.append(QPointF(axes.x(len(steps)), top[-1].y()))
    body = QPolygonF([*top, QPointF(axes.x(len(steps)), axes.y(0)), QPointF(axes.x(0), axes.y(0))])
    ink.painter.setPen(Qt.PenStyle.NoPen)
    ink.painter.setBrush(ink.palette.color("oil", 0.5))
    ink.painter.drawPolygon(body)
    ink.painter.setPen(ink.palette.pen("oil", 2.4))
    ink.painter.drawPolyline(QPolygonF(top))
    worst = max(range(len(steps) - 1), key=lambda k: steps[k].drop_pa) if len(steps) > 1 else 0
    for k, step in enumerate(steps):
        _label(ink, axes, k, step, levels[k], k == worst, step.path == selected and bool(selected))
    ink.painter.restore()


def _window(
    ink: Ink,
    axes: Axes,
    index: int,
    window_pa: tuple[float, float],
) -> None:
    low, high = window_pa
    if not low > 0.0:
        return
    unit = display_unit("kpa", ink.family)
    top, bottom = axes.y(min(unit.from_si(high), axes.y_high)), axes.y(unit.from_si(low))
    band = QRectF(axes.x(index), top, axes.x(index + 1) - axes.x(index), bottom - top)
    ink.painter.fillRect(band, ink.palette.color("window"))
    ink.painter.setPen(ink.palette.pen("good", HAIR, Qt.PenStyle.DashLine))
    ink.painter.drawLine(band.topLeft(), band.topRight())
    ink.painter.drawLine(band.bottomLeft(), band.bottomRight())
    ink.painter.setPen(ink.palette.color("good"))
    ink.painter.drawText(QPointF(band.left() + 4, band.top() + 14), tr("window"))


def _label(
    ink: Ink,
    axes: Axes,
    k: int,
    step: Step,
    level_pa: float,
    worst: bool,
    selected: bool,
) -> None:
    column = step_rect(axes, k)
    under = QRectF(column.left() + 2, axes.rect.bottom() + 6, column.width() - 4, 60)
    if selected:
        ink.painter.setPen(ink.palette.pen("focus", LINE))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawRoundedRect(under.adjusted(-1, -2, 1, 4), 3, 3)
    ink.painter.setFont(font(SMALL, bold=worst))
    ink.painter.setPen(ink.palette.color("ink" if step.drop_pa > 0 or step.path else "faint"))
    flags = int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignHCenter)
    ink.painter.drawText(under, flags, step.name)
    unit = display_unit("kpa", ink.family)
    if abs(step.drop_pa) / unit.factor < 0.5 * 10.0**-unit.digits:
        return  # it would be written as nothing
    text = f"−{show_difference(step.drop_pa, 'kpa_diff', ink.family)}".replace("−−", "+")
    y = axes.y(unit.from_si(max(level_pa, 0.0))) - 7
    marks.halo_text(ink, QPointF(column.center().x(), y), text, "heat" if worst else "ink", "centre")
