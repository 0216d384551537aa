# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the restrictor decision chart: inlet pressure and flow over bore, window shaded, drills ticked."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.charts import Axes, paint_axes, spread, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, font
from gravidon.parts.drills import DRILLS
from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.units import Family, Unit, display_unit, in_inches, show
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.supply.restrictor_choice import RestrictorChoice
from gravidon.study.verdict.facts import smallest_counted_mm
from gravidon.translate import number
from gravidon.words.text import tr

LABELS_WIDTH = 92
DRILL_STRIP = 40


@dataclass(frozen=True)
class Layout:
    """The two panels and the drill strip between them."""

    pressure: Axes
    flow: Axes
    strip: QRectF

    def bore_at(self, pixel_x: float) -> float:
        """Return the bore [m] under a pixel."""
        return self.pressure.x_back(pixel_x)


def layout(rect: QRectF, choice: RestrictorChoice, family: Family) -> Layout:
    """Return where everything goes."""
    unit = display_unit("kpa", family)
    finite = choice.window_pa[np.isfinite(choice.window_pa)]
    top = max(float(choice.inlet_pa.max()), float(finite.max(initial=0.0))) * 1.06
    left, right = rect.left() + 58, rect.right() - LABELS_WIDTH
    low, high = float(choice.bore_m[0]), float(choice.bore_m[-1])
    inner = rect.height() - 34 - DRILL_STRIP - 26 - 46
    upper = QRectF(left, rect.top() + 34, right - left, inner * 0.64)
    strip = QRectF(left, upper.bottom(), right - left, DRILL_STRIP)
    lower = QRectF(left, strip.bottom() + 26, right - left, inner * 0.36)
    flow_top = max(float(choice.flow_m3_s.max()) * 6e4 * 1.08, 0.1)
    return Layout(
        Axes(upper, low, high, 0.0, max(unit.from_si(top), 1e-3), log_x=True),
        Axes(lower, low, high, 0.0, flow_top, log_x=True),
        strip,
    )


def paint(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    choice: RestrictorChoice,
    condition: int,
    hover_m: float | None = None,
) -> None:
    """Paint the whole chart; the chosen condition is drawn bold and its window shaded."""
    paint_ground(ink, rect, e, choice, condition)
    paint_marks(ink, rect, e, choice, condition, hover_m)


def paint_marks(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    choice: RestrictorChoice,
    condition: int,
    hover_m: float | None = None,
) -> None:
    """Paint what moves with the hand: the bore as chosen, and the one under the mouse."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    where = layout(rect, choice, ink.family)
    if hover_m is not None:
        _hover(ink, where, choice, hover_m, condition)
    _choice(ink, where, e)
    ink.painter.restore()


def paint_ground(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    choice: RestrictorChoice,
    condition: int,
) -> None:
    """Paint what stays while a bore is dragged: window, axes, curves with their names, drills."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    where = layout(rect, choice, ink.family)
    unit = display_unit("kpa", ink.family)
    _window(ink, where.pressure, e, choice, condition, unit)
    _least_flow(ink, where.flow, choice, condition)
    bore_ticks = _bore_ticks(where.pressure, ink.family)
    y_ticks = [(v, number(v, "g")) for v in ticks(0.0, where.pressure.y_high, 6)]
    paint_axes(
        ink,
        where.pressure,
        "",
        tr("bearing inlet pressure, {symbol}").format(symbol=unit.symbol),
        [],
        y_ticks,
    )
    y_ticks = [(v, number(v, "g")) for v in ticks(0.0, where.flow.y_high, 3)]
    paint_axes(
        ink,
        where.flow,
        tr("restrictor bore, {symbol}").format(symbol=display_unit("bore", ink.family).symbol),
        tr("oil flow, L/min"),
        bore_ticks,
        y_ticks,
    )
    _curves(ink, where.pressure, choice, np.vectorize(unit.from_si)(choice.inlet_pa), e.names, condition)
    _curves(ink, where.flow, choice, choice.flow_m3_s * 6e4, (), condition)
    _drills(ink, where, choice)
    ink.painter.restore()


def _window(
    ink: Ink,
    axes: Axes,
    e: Evaluation,
    choice: RestrictorChoice,
    condition: int,
    unit: Unit,
) -> None:
    low, high = choice.window_pa[condition]
    name = e.names[condition]
    if not np.isfinite(high):
        marks.halo_text(
            ink,
            QPointF(axes.rect.left() + 10, axes.rect.top() + 18),
            tr("{name}: engine off, no window").format(name=name),
            "faint",
        )
        return
    top = axes.y(min(unit.from_si(float(high)), axes.y_high))
    bottom = axes.y(unit.from_si(float(low)) if np.isfinite(low) else axes.y_low)
    band = QRectF(axes.rect.left(), top, axes.rect.width(), bottom - top)
    ink.painter.fillRect(band, ink.palette.color("window"))
    ink.painter.setPen(ink.palette.pen("good", HAIR, Qt.PenStyle.DashLine))
    ink.painter.drawLine(band.topLeft(), band.topRight())
    ink.painter.drawLine(band.bottomLeft(), band.bottomRight())
    ink.painter.setPen(ink.palette.color("good"))
    ink.painter.drawText(QPointF(band.left() + 10, band.top() + 17), tr("window, {name}").format(name=name))


def _least_flow(ink: Ink, axes: Axes, choice: RestrictorChoice, condition: int) -> None:
    """Shade what flows enough, where the window's least is a flow."""
    least = float(choice.flow_min_m3_s[condition]) * 6e4
    if not np.isfinite(least):
        return
    y = axes.y(min(least, axes.y_high))
    ink.painter.fillRect(
        QRectF(axes.rect.left(), axes.rect.top(), axes.rect.width(), y - axes.rect.top()),
        ink.palette.color("window"),
    )
    ink.painter.setPen(ink.palette.pen("good", HAIR, Qt.PenStyle.DashLine))
    ink.painter.drawLine(QPointF(axes.rect.left(), y), QPointF(axes.rect.right(), y))
    ink.painter.setPen(ink.palette.color("good"))
    ink.painter.drawText(QPointF(axes.rect.left() + 10, y - 4), tr("least flow"))


def _bore_ticks(axes: Axes, family: Family) -> list[tuple[float, str]]:
    if in_inches(family):
        values: tuple[float, ...] = (0.02, 0.03, 0.04, 0.06, 0.08, 0.10, 0.15, 0.20, 0.30, 0.40)
        pairs = [(v * 0.0254, number(v, ".2f")) for v in values]
    else:
        values = (0.4, 0.5, 0.6, 0.8, 1.0, 1.5, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0)
        pairs = [(v * 1e-3, number(v, ".1f")) for v in values]
    return [p for p in pairs if axes.x_low <= p[0] <= axes.x_high * 1.0001]


def _curves(
    ink: Ink,
    axes: Axes,
    choice: RestrictorChoice,
    values: Array,
    names: tuple[str, ...],
    condition: int,
) -> None:
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    order = [k for k in range(values.shape[1]) if k != condition] + [condition]
    for k in order:
        ink.painter.setPen(ink.palette.pen("oil", BOLD) if k == condition else ink.palette.pen("faint", 1.0))
        ink.painter.drawPolyline(axes.curve(choice.bore_m, values[:, k]))
    if not names:
        return
    wanted = [axes.y(float(values[-1, k])) for k in range(len(names))]
    placed = spread(wanted, 14.0, axes.rect.top() - 4, axes.rect.bottom() - 2)
    for k, name in enumerate(names):
        x = axes.rect.right()
        ink.painter.setPen(ink.palette.pen("line", HAIR))
        ink.painter.drawLine(QPointF(x + 1, wanted[k]), QPointF(x + 10, placed[k]))
        ink.painter.setFont(font(SMALL, bold=k == condition))
        ink.painter.setPen(ink.palette.color("ink" if k == condition else "faint"))
        ink.painter.drawText(QPointF(x + 13, placed[k] + 4), name)
    ink.painter.setFont(font(SMALL))


def _drills(
    ink: Ink,
    where: Layout,
    choice: RestrictorChoice,
) -> None:
    """The strip: metric drills tick upward, number drills downward, the range that holds as a bar."""
    axes, strip = where.pressure, where.strip
    middle = strip.top() + 14
    ink.painter.setPen(ink.palette.pen("ink", HAIR))
    ink.painter.drawLine(QPointF(strip.left(), middle), QPointF(strip.right(), middle))
    if choice.range_m is not None:
        left, right = (axes.x(b) for b in choice.range_m)
        bar = QRectF(left, middle - 4, max(right - left, 2), 8)
        ink.painter.setPen(Qt.PenStyle.NoPen)
        ink.painter.setBrush(ink.palette.color("good"))
        ink.painter.drawRoundedRect(bar, 4, 4)
    last = -1e9
    for drill in DRILLS:
        x = axes.x(drill.diameter_mm * 1e-3)
        if not strip.left() <= x <= strip.right():
            continue
        number = not drill.metric
        if not number and (
            round(drill.diameter_mm * 100) % 10
            or (drill.diameter_mm > 3 and round(drill.diameter_mm * 10) % 5)
        ):
            continue
        ink.painter.setPen(ink.palette.pen("faint", HAIR))
        ink.painter.drawLine(QPointF(x, middle), QPointF(x, middle + (7 if number else -7)))
        if number and x - last > 30:
            ink.painter.setPen(ink.palette.color("faint"))
            label = drill.name.split()[0]
            ink.painter.drawText(
                QPointF(x - ink.painter.fontMetrics().horizontalAdvance(label) / 2, middle + 20), label
            )
            last = x
    ink.painter.setPen(ink.palette.color("ink"))
    ink.painter.drawText(QPointF(strip.right() + 13, middle + 4), tr("drills"))


def _hover(
    ink: Ink,
    where: Layout,
    choice: RestrictorChoice,
    bore_m: float,
    condition: int,
) -> None:
    x = where.pressure.x(bore_m)
    ink.painter.setPen(ink.palette.pen("faint", HAIR, Qt.PenStyle.DotLine))
    ink.painter.drawLine(QPointF(x, where.pressure.rect.top()), QPointF(x, where.flow.rect.bottom()))
    pressure = float(np.interp(bore_m, choice.bore_m, choice.inlet_pa[:, condition]))
    flow = float(np.interp(bore_m, choice.bore_m, choice.flow_m3_s[:, condition]))
    text = f"{show(bore_m, 'bore', ink.family)}: {show(pressure, 'kpa', ink.family)}, {show(flow, 'l_min', ink.family)}"
    right = x > where.pressure.rect.center().x()
    at = QPointF(x - 8 if right else x + 8, where.pressure.rect.bottom() - 8)
    marks.halo_text(ink, at, text, "ink", "right" if right else "left")


def _choice(
    ink: Ink,
    where: Layout,
    e: Evaluation,
) -> None:
    fitted = e.line.restrictor.fitted
    bore = si(e.line.restrictor, "bore_mm") if fitted else smallest_counted_mm(e.line, "feed") * 1e-3
    x = where.pressure.x(min(bore, where.pressure.x_high))
    if fitted:
        half = si(e.line.restrictor, "tolerance_mm")
        left, right = (
            where.pressure.x(min(max(b, where.pressure.x_low), where.pressure.x_high))
            for b in (bore - half, bore + half)
        )
        height = where.flow.rect.bottom() - where.pressure.rect.top()
        ink.painter.fillRect(
            QRectF(left, where.pressure.rect.top(), right - left, height), ink.palette.color("heat", 0.14)
        )
    ink.painter.setPen(ink.palette.pen("heat", LINE))
    ink.painter.drawLine(QPointF(x, where.pressure.rect.top() - 4), QPointF(x, where.flow.rect.bottom()))
    drop = QRectF(x - 7, where.strip.top() + 4, 14, 20)
    ink.painter.setPen(ink.palette.pen("sheet", 1.5))
    ink.painter.setBrush(ink.palette.color("heat"))
    ink.painter.drawPath(marks.drop_path(drop))
    ink.painter.setFont(font(SMALL, bold=True))
    text = show(bore, "bore", ink.family) if fitted else tr("no restrictor")
    right = x > where.pressure.rect.right() - 120
    at = QPointF(x - 8 if right else x + 8, where.pressure.rect.top() + 8)
    marks.halo_text(
        ink,
        at,
        tr("chosen {text}").format(text=text) if fitted else text,
        "heat",
        "right" if right else "left",
    )
    ink.painter.setFont(font(SMALL))
