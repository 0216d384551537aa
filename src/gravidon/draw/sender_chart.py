# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint a sender: volts to pressure by its data sheet and as calibrated, the points taken, what it reads now; below, how far the line misses each point."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.charts import Axes, paint_axes, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, BOLD, HAIR, LINE, SMALL, font
from gravidon.plan.fields import si
from gravidon.plan.model import Sender
from gravidon.plan.units import display_unit, show, show_difference
from gravidon.study.solve.senders import calibration, sheet_only, supply_share
from gravidon.translate import number
from gravidon.words.text import tr

LEFT, MISS_PX = 64.0, 84.0
"""[px] for the scale's figures, and the height of the strip of misses."""


def axes_of(rect: QRectF, sender: Sender) -> Axes:
    """Return the axes of the line: volts at nominal supply over the sender's range, pressure in Pa."""
    miss = MISS_PX + 34 if len(sender.points) > 1 else 0.0
    inner = QRectF(rect.left() + LEFT, rect.top() + 26, rect.width() - LEFT - 22, rect.height() - 74 - miss)
    full = si(sender, "full_kpa")
    return Axes(inner, 0.0, max(sender.high_v * 1.06, 5.0), -0.06 * full, 1.06 * full)


def paint(ink: Ink, rect: QRectF, sender: Sender, volts: float | None, supply_v: float | None) -> None:
    """Paint it. `volts` and `supply_v` are what is read now, None where nothing is."""
    p = ink.painter
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    axes, unit = axes_of(rect, sender), display_unit("kpa", ink.family)
    line, sheet = calibration(sender), sheet_only(sender)
    shown = ticks(unit.from_si(axes.y_low), unit.from_si(axes.y_high), 6)
    paint_axes(
        ink,
        axes,
        tr("volts at {supply_v:g} V supply").format(supply_v=sender.supply_v)
        if sender.ratiometric
        else "volts",
        tr("pressure, {symbol}").format(symbol=unit.symbol),
        [(v, number(v, "g")) for v in ticks(0.0, axes.x_high, 8)],
        [(unit.to_si(v), number(v, "g")) for v in shown],
    )
    p.setPen(ink.palette.pen("line", LINE))
    p.drawLine(QPointF(axes.rect.left(), axes.y(0.0)), QPointF(axes.rect.right(), axes.y(0.0)))
    p.save()
    p.setClipRect(axes.rect)
    ends = np.array([0.0, axes.x_high])
    low, high = (np.asarray(line.pressure_pa(ends)) + s * line.accuracy_pa for s in (-1.0, 1.0))
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(ink.palette.color("oil", 0.22))
    p.drawPolygon(axes.curve(np.concatenate([ends, ends[::-1]]), np.concatenate([low, high[::-1]])))
    p.setPen(ink.palette.pen("faint", HAIR, Qt.PenStyle.DashLine))
    p.drawPolyline(axes.curve(ends, np.asarray(sheet.pressure_pa(ends))))
    p.setPen(ink.palette.pen("ink", BOLD))
    p.drawPolyline(axes.curve(ends, np.asarray(line.pressure_pa(ends))))
    p.restore()
    p.setFont(font(SMALL))
    _points(ink, axes, sender)
    _legend(ink, axes, line.rests_on)
    if volts is not None:
        _now(ink, axes, sender, volts, supply_v)
    if len(sender.points) > 1:
        _misses(
            ink, QRectF(axes.rect.left(), rect.bottom() - MISS_PX, axes.rect.width(), MISS_PX - 22), sender
        )
    p.restore()


def _points(ink: Ink, axes: Axes, sender: Sender) -> None:
    p = ink.painter
    for point in sender.points:
        v = float(point.volts / np.asarray(supply_share(sender, point.supply_v)))
        at = QPointF(axes.x(v), axes.y(si(point, "pressure_kpa")))
        p.setPen(ink.palette.pen("sheet", LINE))
        p.setBrush(ink.palette.color("oil"))
        p.drawEllipse(at, 5.5, 5.5)


def _legend(ink: Ink, axes: Axes, rests_on: str) -> None:
    p = ink.painter
    words = {
        "sheet": tr("by its data sheet"),
        "zero": tr("moved to its zero"),
        "line": tr("through the points"),
    }[rests_on]
    x, y = axes.rect.left() + 16, axes.rect.top() + 18
    rows = [("ink", BOLD, Qt.PenStyle.SolidLine, words)]
    if rests_on != "sheet":
        rows.append(("faint", HAIR, Qt.PenStyle.DashLine, tr("data sheet")))
    for k, (colour, width, style, text) in enumerate(rows):
        p.setPen(ink.palette.pen(colour, width, style))
        p.drawLine(QPointF(x, y + 18 * k - 4), QPointF(x + 26, y + 18 * k - 4))
        p.setPen(ink.palette.color("ink"))
        p.drawText(QPointF(x + 34, y + 18 * k), text)


def _now(ink: Ink, axes: Axes, sender: Sender, volts: float, supply_v: float | None) -> None:
    """Draw what is read now: from the volts up to the line and over to the pressure."""
    p = ink.painter
    share = float(np.asarray(supply_share(sender, supply_v)))
    v = volts / share
    pressure = float(calibration(sender).pressure_pa(v))
    at = QPointF(axes.x(v), min(max(axes.y(pressure), axes.rect.top()), axes.rect.bottom()))
    p.setPen(ink.palette.pen("focus", LINE, Qt.PenStyle.DotLine))
    p.drawLine(QPointF(at.x(), axes.rect.bottom()), at)
    p.drawLine(at, QPointF(axes.rect.left(), at.y()))
    p.setBrush(ink.palette.color("focus"))
    p.drawEllipse(at, 4.0, 4.0)
    p.setFont(font(BODY, bold=True))
    words = tr("now {pressure} at {volts:.3f} V").format(
        pressure=show(pressure, "kpa", ink.family), volts=volts
    )
    right = at.x() < axes.rect.center().x()
    marks.halo_text(
        ink,
        QPointF(at.x() + (10 if right else -10), at.y() + 20),
        words,
        "focus",
        "left" if right else "right",
    )
    p.setFont(font(SMALL))


def _misses(ink: Ink, rect: QRectF, sender: Sender) -> None:
    """Draw line less gauge at each point, over the gauge's pressure."""
    p = ink.painter
    line, full = calibration(sender), si(sender, "full_kpa")
    most = max(*(abs(r) for r in line.residuals_pa), 0.005 * full)
    axes = Axes(rect, 0.0, full, -1.25 * most, 1.25 * most)
    p.fillRect(rect, ink.palette.color("raised", 0.6))
    p.setPen(ink.palette.pen("line", LINE))
    p.drawLine(QPointF(rect.left(), axes.y(0.0)), QPointF(rect.right(), axes.y(0.0)))
    p.setFont(font(SMALL))
    for point, miss in zip(sender.points, line.residuals_pa, strict=True):
        x = axes.x(si(point, "pressure_kpa"))
        p.setPen(ink.palette.pen("oil", 4.0))
        p.drawLine(QPointF(x, axes.y(0.0)), QPointF(x, axes.y(miss)))
        words = show_difference(miss, "kpa_diff", ink.family)
        marks.clear_text(ink, QPointF(x + 8, axes.y(miss) + (14 if miss < 0 else -4)), words, "faint")
    p.setPen(ink.palette.color("ink"))
    p.drawText(QPointF(rect.left(), rect.top() - 6), tr("line less gauge at each point"))
