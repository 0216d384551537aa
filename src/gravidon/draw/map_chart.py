# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the operating map: engine speed across, oil temperature up, a quantity as tone and contours."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPolygonF

from gravidon.draw import marks
from gravidon.draw.charts import Axes, paint_axes, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import LINE, SMALL, Palette, fitting, font
from gravidon.plan.units import Family, display_unit, show
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.supply.operating_map import QUANTITIES, OperatingMap
from gravidon.translate import number
from gravidon.words.text import tr


def axes_of(rect: QRectF, data: OperatingMap, family: Family) -> Axes:
    """Return the map's axes: rpm and oil temperature in display units."""
    unit = display_unit("degc", family)
    inner = QRectF(rect.left() + 58, rect.top() + 34, rect.width() - 58 - 24, rect.height() - 34 - 46)
    low, high = unit.from_si(float(data.temperature_k[0])), unit.from_si(float(data.temperature_k[-1]))
    return Axes(inner, float(data.speed_rpm[0]), float(data.speed_rpm[-1]), low, high)


def limits(e: Evaluation, quantity: str) -> list[tuple[float, str]]:
    """Return the window's limits that the map draws as bold contours: (value in SI, what it is)."""
    window = e.line.turbo.window
    found = []
    if window.least == "pressure" and quantity == (
        "gauge" if window.at == "before the restrictor" else "inlet"
    ):
        found += [
            (window.idle_min_kpa.value * 1e3, tr("least at idle")),
            (window.speed_min_kpa.value * 1e3, tr("least at speed")),
        ]
    if window.least == "flow" and quantity == "flow":
        found += [
            (window.idle_flow_l_min.value / 6e4, tr("least at idle")),
            (window.speed_flow_l_min.value / 6e4, tr("least at speed")),
        ]
    if quantity == "inlet":
        found.append((window.speed_max_kpa.value * 1e3, tr("most")))
    if quantity == "outlet":
        return [(window.outlet_max_c.value + 273.15, tr("hottest oil out"))]
    return found


def paint(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    data: OperatingMap,
    quantity: str,
    condition: int,
    cursor: tuple[float, float] | None = None,
) -> None:
    """Paint one quantity of one turbo; `cursor` is (rpm, oil temperature [K])."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    name, kind = QUANTITIES[quantity]
    name = tr(name)
    unit, heat = display_unit(kind, ink.family), display_unit("degc", ink.family)
    axes = axes_of(rect, data, ink.family)
    field = data.values[quantity][e.index]
    ink.painter.drawImage(axes.rect, _tones(field, ink.palette, quantity))
    paint_axes(
        ink,
        axes,
        tr("engine speed, rpm"),
        tr("oil temperature, {symbol}").format(symbol=heat.symbol),
        [(v, number(v, "g")) for v in ticks(axes.x_low, axes.x_high, 6)],
        [(v, number(v, "g")) for v in ticks(axes.y_low, axes.y_high, 6)],
    )
    shown = np.vectorize(unit.from_si)(field)
    bold = [unit.from_si(value) for value, _ in limits(e, quantity)]
    for level in ticks(float(shown.min()), float(shown.max()), 7):
        if any(abs(level - value) < 0.02 * abs(value) for value in bold):
            continue  # the limit itself is drawn there
        _contour(ink, axes, data, field, unit.to_si(level), number(level, "g"), "faint", 1.0, heat.from_si)
    for value, words in limits(e, quantity):
        _contour(
            ink, axes, data, field, value, words, "good" if "least" in words else "bad", 2.4, heat.from_si
        )
    for k, c in enumerate(e.plan.conditions):
        if c.rpm <= 0:
            continue
        at = QPointF(axes.x(c.rpm), axes.y(heat.from_si(c.oil_temperature_c + 273.15)))
        ink.painter.setPen(ink.palette.pen("ink", LINE))
        ink.painter.setBrush(ink.palette.color("oil" if k == condition else "sheet"))
        ink.painter.drawEllipse(at, 5.5, 5.5)
    chosen = e.plan.conditions[condition]
    if chosen.rpm > 0:
        at = QPointF(axes.x(chosen.rpm), axes.y(heat.from_si(chosen.oil_temperature_c + 273.15)))
        right = at.x() > axes.rect.center().x()
        marks.halo_text(
            ink, at + QPointF(-10 if right else 10, -8), chosen.name, "ink", "right" if right else "left"
        )
    title = tr("{name}, {symbol}: steady, level road; heat follows speed as in the conditions").format(
        name=name, symbol=unit.symbol
    )
    ink.painter.setPen(ink.palette.color("faint"))
    own = tr("oil temperature, {symbol}").format(symbol=heat.symbol)
    room = axes.rect.right() - axes.rect.left() - ink.painter.fontMetrics().horizontalAdvance(own) + 20
    ink.painter.setFont(fitting(title, QSizeF(room, 16), SMALL))
    width = ink.painter.fontMetrics().horizontalAdvance(title)
    ink.painter.drawText(QPointF(axes.rect.right() - width, axes.rect.top() - 10), title)
    ink.painter.setFont(font(SMALL))
    if cursor is not None:
        _cursor(ink, axes, e, data, cursor)
    ink.painter.restore()


def _tones(field: np.ndarray, palette: Palette, quantity: str) -> QImage:
    """A tone from sheet to oil (or heat) over the field's range, hot at the top."""
    low, high = QColor(palette.sheet), QColor(palette.heat if quantity == "outlet" else palette.oil)
    span = float(field.max() - field.min())
    share = (field - field.min()) / (span if span > 0 else 1.0) * 0.75
    ends = np.array([low.getRgb()[:3], high.getRgb()[:3]], dtype=float)
    rgb = (ends[0] + share[::-1, :, None] * (ends[1] - ends[0])).astype(np.uint8)
    rgb = np.ascontiguousarray(rgb)
    height, width, _ = rgb.shape
    return QImage(rgb.tobytes(), width, height, 3 * width, QImage.Format.Format_RGB888).copy()


def _contour(
    ink: Ink,
    axes: Axes,
    data: OperatingMap,
    field: np.ndarray,
    level: float,
    label: str,
    colour: str,
    weight: float,
    to_display: Callable[[float], float],
) -> None:
    from contourpy import contour_generator

    temperatures = np.vectorize(to_display)(data.temperature_k)
    lines = [np.asarray(line) for line in contour_generator(data.speed_rpm, temperatures, field).lines(level)]
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    for line in lines:
        points = QPolygonF([QPointF(axes.x(x), axes.y(y)) for x, y in line])
        ink.painter.setPen(ink.palette.pen(colour, weight))
        ink.painter.drawPolyline(points)
    longest = max(lines, key=len, default=None)
    if longest is not None and len(longest) > 4:
        share = 0.5 if weight < 2 else 0.72
        x, y = longest[int(len(longest) * share)]
        half = 0.5 * ink.painter.fontMetrics().horizontalAdvance(label) + 4
        middle = min(max(axes.x(x), axes.rect.left() + half), axes.rect.right() - half)
        marks.halo_text(ink, QPointF(middle, axes.y(y) + 4), label, colour, "centre")


def _cursor(
    ink: Ink,
    axes: Axes,
    e: Evaluation,
    data: OperatingMap,
    cursor: tuple[float, float],
) -> None:
    rpm, t = cursor
    heat = display_unit("degc", ink.family)
    at = QPointF(axes.x(rpm), axes.y(heat.from_si(t)))
    ink.painter.setPen(ink.palette.pen("ink", 0.8, Qt.PenStyle.DotLine))
    ink.painter.drawLine(QPointF(axes.rect.left(), at.y()), QPointF(axes.rect.right(), at.y()))
    ink.painter.drawLine(QPointF(at.x(), axes.rect.top()), QPointF(at.x(), axes.rect.bottom()))
    parts = [f"{rpm:.0f} rpm", show(t, "degc", ink.family)]
    for key, (name, kind) in QUANTITIES.items():
        parts.append(f"{name} {show(data.read(key, e.index, rpm, t), kind, ink.family)}")
    right = at.x() > axes.rect.center().x()
    y = axes.rect.top() + 16
    for part in parts:
        x = axes.rect.left() + 8 if right else axes.rect.right() - 8
        marks.halo_text(ink, QPointF(x, y), part, "ink", "left" if right else "right")
        y += 17
