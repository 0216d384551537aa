"""Paint the restrictor decision chart: inlet pressure and flow over bore, window shaded, drills ticked."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.charts import Axes, paint_axes, spread, ticks
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, Palette, font
from gravidon.parts.drills import DRILLS
from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.units import Family, Unit, display_unit, show
from gravidon.study.solve.evaluate import Evaluation, smallest_bore_m
from gravidon.study.supply.restrictor_choice import RestrictorChoice

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
    painter: QPainter,
    rect: QRectF,
    e: Evaluation,
    choice: RestrictorChoice,
    condition: int,
    palette: Palette,
    family: Family,
    hover_m: float | None = None,
) -> None:
    """Paint the whole chart; the chosen condition is drawn bold and its window shaded."""
    paint_ground(painter, rect, e, choice, condition, palette, family)
    paint_marks(painter, rect, e, choice, condition, palette, family, hover_m)


def paint_marks(
    painter: QPainter,
    rect: QRectF,
    e: Evaluation,
    choice: RestrictorChoice,
    condition: int,
    palette: Palette,
    family: Family,
    hover_m: float | None = None,
) -> None:
    """Paint what moves with the hand: the bore as chosen, and the one under the mouse."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(font(SMALL))
    where = layout(rect, choice, family)
    if hover_m is not None:
        _hover(painter, where, choice, hover_m, condition, palette, family)
    _choice(painter, where, e, palette, family)
    painter.restore()


def paint_ground(
    painter: QPainter,
    rect: QRectF,
    e: Evaluation,
    choice: RestrictorChoice,
    condition: int,
    palette: Palette,
    family: Family,
) -> None:
    """Paint what stays while a bore is dragged: window, axes, curves with their names, drills."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(font(SMALL))
    where = layout(rect, choice, family)
    unit = display_unit("kpa", family)
    _window(painter, where.pressure, e, choice, condition, palette, unit)
    bore_ticks = _bore_ticks(where.pressure, family)
    y_ticks = [(v, f"{v:g}") for v in ticks(0.0, where.pressure.y_high, 6)]
    paint_axes(painter, where.pressure, palette, "", f"bearing inlet pressure, {unit.symbol}", [], y_ticks)
    y_ticks = [(v, f"{v:g}") for v in ticks(0.0, where.flow.y_high, 3)]
    paint_axes(
        painter,
        where.flow,
        palette,
        f"restrictor bore, {display_unit('bore', family).symbol}",
        "oil flow, L/min",
        bore_ticks,
        y_ticks,
    )
    _curves(
        painter,
        where.pressure,
        choice,
        np.vectorize(unit.from_si)(choice.inlet_pa),
        e.names,
        condition,
        palette,
    )
    _curves(painter, where.flow, choice, choice.flow_m3_s * 6e4, (), condition, palette)
    _drills(painter, where, choice, palette, family)
    painter.restore()


def _window(
    painter: QPainter,
    axes: Axes,
    e: Evaluation,
    choice: RestrictorChoice,
    condition: int,
    palette: Palette,
    unit: Unit,
) -> None:
    low, high = choice.window_pa[condition]
    name = e.names[condition]
    if not np.isfinite(low):
        marks.halo_text(
            painter,
            QPointF(axes.rect.left() + 10, axes.rect.top() + 18),
            f"{name}: engine off, no window",
            palette,
            "faint",
        )
        return
    top = axes.y(min(unit.from_si(float(high)), axes.y_high))
    bottom = axes.y(unit.from_si(float(low)))
    band = QRectF(axes.rect.left(), top, axes.rect.width(), bottom - top)
    painter.fillRect(band, palette.color("window"))
    painter.setPen(palette.pen("good", HAIR, Qt.PenStyle.DashLine))
    painter.drawLine(band.topLeft(), band.topRight())
    painter.drawLine(band.bottomLeft(), band.bottomRight())
    painter.setPen(palette.color("good"))
    painter.drawText(QPointF(band.left() + 10, band.top() + 17), f"window, {name}")


def _bore_ticks(axes: Axes, family: Family) -> list[tuple[float, str]]:
    if family == "imperial":
        values: tuple[float, ...] = (0.02, 0.03, 0.04, 0.06, 0.08, 0.10, 0.15, 0.20, 0.30, 0.40)
        pairs = [(v * 0.0254, f"{v:.2f}") for v in values]
    else:
        values = (0.4, 0.5, 0.6, 0.8, 1.0, 1.5, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0)
        pairs = [(v * 1e-3, f"{v:.1f}") for v in values]
    return [p for p in pairs if axes.x_low <= p[0] <= axes.x_high * 1.0001]


def _curves(
    painter: QPainter,
    axes: Axes,
    choice: RestrictorChoice,
    values: Array,
    names: tuple[str, ...],
    condition: int,
    palette: Palette,
) -> None:
    painter.setBrush(Qt.BrushStyle.NoBrush)
    order = [k for k in range(values.shape[1]) if k != condition] + [condition]
    for k in order:
        painter.setPen(palette.pen("oil", BOLD) if k == condition else palette.pen("faint", 1.0))
        painter.drawPolyline(axes.curve(choice.bore_m, values[:, k]))
    if not names:
        return
    wanted = [axes.y(float(values[-1, k])) for k in range(len(names))]
    placed = spread(wanted, 14.0, axes.rect.top() - 4, axes.rect.bottom() + 6)
    for k, name in enumerate(names):
        x = axes.rect.right()
        painter.setPen(palette.pen("line", HAIR))
        painter.drawLine(QPointF(x + 1, wanted[k]), QPointF(x + 10, placed[k]))
        painter.setFont(font(SMALL, bold=k == condition))
        painter.setPen(palette.color("ink" if k == condition else "faint"))
        painter.drawText(QPointF(x + 13, placed[k] + 4), name)
    painter.setFont(font(SMALL))


def _drills(
    painter: QPainter, where: Layout, choice: RestrictorChoice, palette: Palette, family: Family
) -> None:
    """The strip: metric drills tick upward, number drills downward, the range that holds as a bar."""
    axes, strip = where.pressure, where.strip
    middle = strip.top() + 14
    painter.setPen(palette.pen("ink", HAIR))
    painter.drawLine(QPointF(strip.left(), middle), QPointF(strip.right(), middle))
    if choice.range_m is not None:
        left, right = (axes.x(b) for b in choice.range_m)
        bar = QRectF(left, middle - 4, max(right - left, 2), 8)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(palette.color("good"))
        painter.drawRoundedRect(bar, 4, 4)
    last = -1e9
    for drill in DRILLS:
        x = axes.x(drill.diameter_mm * 1e-3)
        if not strip.left() <= x <= strip.right():
            continue
        number = drill.name.startswith("#")
        if not number and (
            round(drill.diameter_mm * 100) % 10
            or (drill.diameter_mm > 3 and round(drill.diameter_mm * 10) % 5)
        ):
            continue
        painter.setPen(palette.pen("faint", HAIR))
        painter.drawLine(QPointF(x, middle), QPointF(x, middle + (7 if number else -7)))
        if number and x - last > 30:
            painter.setPen(palette.color("faint"))
            label = drill.name.split()[0]
            painter.drawText(
                QPointF(x - painter.fontMetrics().horizontalAdvance(label) / 2, middle + 20), label
            )
            last = x
    painter.setPen(palette.color("ink"))
    painter.drawText(QPointF(strip.right() + 13, middle + 4), "drills")


def _hover(
    painter: QPainter,
    where: Layout,
    choice: RestrictorChoice,
    bore_m: float,
    condition: int,
    palette: Palette,
    family: Family,
) -> None:
    x = where.pressure.x(bore_m)
    painter.setPen(palette.pen("faint", HAIR, Qt.PenStyle.DotLine))
    painter.drawLine(QPointF(x, where.pressure.rect.top()), QPointF(x, where.flow.rect.bottom()))
    pressure = float(np.interp(bore_m, choice.bore_m, choice.inlet_pa[:, condition]))
    flow = float(np.interp(bore_m, choice.bore_m, choice.flow_m3_s[:, condition]))
    text = f"{show(bore_m, 'bore', family)}: {show(pressure, 'kpa', family)}, {show(flow, 'l_min', family)}"
    right = x > where.pressure.rect.center().x()
    at = QPointF(x - 8 if right else x + 8, where.pressure.rect.bottom() - 8)
    marks.halo_text(painter, at, text, palette, "ink", "right" if right else "left")


def _choice(painter: QPainter, where: Layout, e: Evaluation, palette: Palette, family: Family) -> None:
    fitted = e.line.restrictor.fitted
    bore = si(e.line.restrictor, "bore_mm") if fitted else smallest_bore_m(e.line)
    x = where.pressure.x(min(bore, where.pressure.x_high))
    if fitted:
        half = si(e.line.restrictor, "tolerance_mm")
        left, right = (
            where.pressure.x(min(max(b, where.pressure.x_low), where.pressure.x_high))
            for b in (bore - half, bore + half)
        )
        height = where.flow.rect.bottom() - where.pressure.rect.top()
        painter.fillRect(
            QRectF(left, where.pressure.rect.top(), right - left, height), palette.color("heat", 0.14)
        )
    painter.setPen(palette.pen("heat", LINE))
    painter.drawLine(QPointF(x, where.pressure.rect.top() - 4), QPointF(x, where.flow.rect.bottom()))
    drop = QRectF(x - 7, where.strip.top() + 4, 14, 20)
    painter.setPen(palette.pen("sheet", 1.5))
    painter.setBrush(palette.color("heat"))
    painter.drawPath(marks.drop_path(drop))
    painter.setFont(font(SMALL, bold=True))
    text = show(bore, "bore", family) if fitted else "no restrictor"
    right = x > where.pressure.rect.right() - 120
    at = QPointF(x - 8 if right else x + 8, where.pressure.rect.top() + 8)
    marks.halo_text(
        painter, at, f"chosen {text}" if fitted else text, palette, "heat", "right" if right else "left"
    )
    painter.setFont(font(SMALL))
