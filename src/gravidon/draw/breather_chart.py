"""Paint the breather: where the gas goes and at what pressure, and what hose bore would make of every condition."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.charts import Axes, paint_axes, spread, ticks
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, Palette, font
from gravidon.plan.units import Family, display_unit, show
from gravidon.study.home.breather_choice import BreatherChoice, bore_marks
from gravidon.study.solve.evaluate import Evaluation


def gas(flow_m3_s: float) -> str:
    """Return a gas flow in words; whole litres are what it is known to."""
    return f"{flow_m3_s * 6e4:.0f}\u202fL/min"


def paint_scheme(
    painter: QPainter, rect: QRectF, e: Evaluation, condition: int, palette: Palette, family: Family
) -> None:
    """Paint crankcase, ways out and turbo, with the gas's flows and pressures in one condition."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(font(SMALL))
    b, d = e.plan.breather, e.drainage
    w, h = rect.width(), rect.height()
    case = QRectF(rect.left() + 0.14 * w, rect.top() + 0.36 * h, 0.34 * w, 0.42 * h)
    pressure = float(e.breathing.crankcase_pa[condition])
    limit = e.plan.needs.crankcase_max_kpa.value * 1e3
    painter.setPen(palette.pen("bad" if pressure > limit else "wall", BOLD))
    painter.setBrush(palette.color("raised"))
    painter.drawRoundedRect(case, 8, 8)
    oil = QRectF(
        case.left() + 3, case.bottom() - 0.3 * case.height(), case.width() - 6, 0.3 * case.height() - 3
    )
    painter.fillRect(oil, palette.color("oil", 0.45))
    painter.setPen(palette.color("ink"))
    painter.setFont(font(SMALL, bold=True))
    painter.drawText(QPointF(case.left() + 10, case.top() + 20), show(pressure, "kpa_small", family))
    painter.setFont(font(SMALL))
    painter.setPen(palette.color("faint"))
    painter.drawText(QPointF(case.left() + 10, case.top() + 37), "crankcase")
    painter.drawText(
        QPointF(case.left() + 10, case.top() + 53),
        f"blow-by {gas(float(e.breathing.blow_by_m3_s[condition]))}",
    )
    turbo = QPointF(rect.left() + 0.74 * w, case.center().y() + 0.04 * h)
    sealed = bool(d.backwater.sealed[condition])
    painter.setPen(palette.pen("wall", 9))
    painter.drawLine(QPointF(case.right(), case.bottom() - 26), turbo)
    painter.setPen(palette.pen("oil" if sealed else "sheet", 6))
    painter.drawLine(QPointF(case.right(), case.bottom() - 26), turbo)
    painter.setPen(palette.pen("wall", LINE))
    painter.setBrush(palette.color("metal", 0.45))
    painter.drawEllipse(turbo, 20, 20)
    over = float(d.gas_difference_pa[condition])
    lift = float(d.backwater.lift_m[condition])
    lines = [
        (f"over the seals {show(over, 'kpa_small', family)}", "bad" if over > 0 and sealed else "ink"),
        (f"drain {'sealed by oil' if sealed else 'open for gas'}", "watch" if sealed else "good"),
        (
            f"lifts the oil {show(lift, 'mm', family)}" if lift > 5e-4 else "lifts no oil",
            "watch" if lift > 5e-4 else "ink",
        ),
    ]
    for k, (text, colour) in enumerate(lines):
        marks.halo_text(painter, QPointF(turbo.x(), turbo.y() + 38 + 16 * k), text, palette, colour, "centre")
    _ways(painter, rect, case, e, condition, palette, family, b.kind)
    painter.restore()


def _ways(
    painter: QPainter,
    rect: QRectF,
    case: QRectF,
    e: Evaluation,
    condition: int,
    palette: Palette,
    family: Family,
    kind: str,
) -> None:
    """The can and the valve, with what passes them; arrows turn round where gas comes back."""
    if kind == "typed":
        marks.halo_text(
            painter,
            QPointF(rect.left() + 14, rect.top() + 30),
            "crankcase pressure is typed per condition (Ctrl+E)",
            palette,
            "faint",
        )
        return
    ways = []
    if kind in ("catch can", "can and valve"):
        ways.append(("open can", float(e.breathing.can_m3_s[condition]), 0.0))
    if kind in ("valve to intake", "can and valve"):
        ways.append(
            (
                "intake",
                float(e.breathing.intake_m3_s[condition]),
                e.plan.conditions[condition].intake_kpa * 1e3,
            )
        )
    for k, (name, flow, sink) in enumerate(ways):
        x = case.left() + case.width() * (0.3 + 0.45 * k)
        top = rect.top() + 0.16 * rect.height()
        back = flow < -1e-6
        painter.setPen(palette.pen("bad" if back else "ink", LINE))
        foot, head = QPointF(x, case.top() - 4), QPointF(x, top + 10)
        marks.arrow(painter, head if back else foot, foot if back else head, 7.0)
        if name == "intake":
            valve = QPointF(x, 0.5 * (top + case.top()))
            painter.setBrush(palette.color("sheet"))
            painter.drawEllipse(valve, 7, 7)
            if e.plan.breather.one_way:
                painter.drawLine(QPointF(valve.x() - 7, valve.y() - 7), QPointF(valve.x() + 7, valve.y() - 7))
        words = name if name == "open can" else f"intake at {show(sink, 'kpa', family)}"
        marks.halo_text(painter, QPointF(x, top - 8), words, palette, "faint", "left" if k else "centre")
        text = f"{gas(abs(flow))}{' back' if back else ''}"
        beside = 11.0 if k or len(ways) == 1 else -11.0
        marks.halo_text(
            painter,
            QPointF(x + beside, top + 30),
            text,
            palette,
            "bad" if back else "ink",
            "left" if beside > 0 else "right",
        )


def chart_axes(rect: QRectF, made: BreatherChoice, family: Family) -> Axes:
    """Return the axes: hose bore against crankcase pressure, up to a little over what matters."""
    unit, bore = display_unit("kpa_small", family), display_unit("bore", family)
    plot = QRectF(rect.left() + 52, rect.top() + 34, rect.width() - 52 - 84, rect.height() - 34 - 46)
    top = unit.from_si(max(3.0 * made.limit_pa, 500.0))
    low = min(0.0, unit.from_si(float(np.min(made.pressure_pa))))
    return Axes(
        plot,
        bore.from_si(float(made.bore_m[0])),
        bore.from_si(float(made.bore_m[-1])),
        max(low, -top),
        top,
        True,
    )


def paint_chart(
    painter: QPainter,
    rect: QRectF,
    e: Evaluation,
    made: BreatherChoice,
    condition: int,
    palette: Palette,
    family: Family,
) -> None:
    """Paint crankcase pressure over hose bore, a curve a condition, the limit's ground shaded."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    unit, bore = display_unit("kpa_small", family), display_unit("bore", family)
    axes = chart_axes(rect, made, family)
    limit = unit.from_si(made.limit_pa)
    painter.fillRect(
        QRectF(axes.rect.left(), axes.y(limit), axes.rect.width(), axes.rect.bottom() - axes.y(limit)),
        palette.color("window"),
    )
    x_ticks = [
        (bore.from_si(m), dash) for m, dash in bore_marks() if axes.x_low <= bore.from_si(m) <= axes.x_high
    ]
    y_ticks = [(v, f"{v:g}") for v in ticks(axes.y_low, axes.y_high, 5)]
    paint_axes(
        painter, axes, palette, "breather hose, dash size", f"crankcase, {unit.symbol}", x_ticks, y_ticks
    )
    painter.save()
    painter.setClipRect(axes.rect.adjusted(0, -1, 0, 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    xs = np.array([bore.from_si(float(m)) for m in made.bore_m])
    for k in range(len(e.names)):
        painter.setPen(palette.pen("ink" if k == condition else "faint", BOLD if k == condition else HAIR))
        painter.drawPolyline(
            axes.curve(xs, np.array([unit.from_si(float(p)) for p in made.pressure_pa[:, k]]))
        )
    here = axes.x(bore.from_si(e.plan.breather.hose_bore_mm * 1e-3))
    painter.setPen(palette.pen("focus", LINE))
    painter.drawLine(QPointF(here, axes.rect.top()), QPointF(here, axes.rect.bottom()))
    painter.restore()
    painter.setFont(font(SMALL))
    marks.halo_text(
        painter,
        QPointF(axes.rect.left() + 6, axes.y(limit) - 5),
        f"most wanted {show(made.limit_pa, 'kpa_small', family)}",
        palette,
        "good",
    )
    ends = [
        unit.from_si(float(p))
        for p in made.pressure_pa[int(np.abs(made.bore_m * 1e3 - e.plan.breather.hose_bore_mm).argmin())]
    ]
    order = [int(k) for k in np.argsort(ends)[::-1] if e.plan.conditions[int(k)].kind.turning][:4]
    if condition not in order:
        order = [*order[:3], condition]
    wanted = [
        axes.y(min(max(unit.from_si(float(made.pressure_pa[-1, k])), axes.y_low), axes.y_high)) for k in order
    ]
    for k, y in zip(order, spread(wanted, 15.0, axes.rect.top() + 6, axes.rect.bottom()), strict=True):
        painter.setPen(palette.color("ink" if k == condition else "faint"))
        painter.drawText(QPointF(axes.rect.right() + 6, y + 4), e.names[k])
    painter.restore()
