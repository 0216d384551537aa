# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the breather: where the gas goes and at what pressure, and what hose bore would make of every condition."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.charts import Axes, paint_axes, spread, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, font
from gravidon.plan.units import Family, display_unit, show
from gravidon.study.home.breather_choice import BreatherChoice, bore_marks
from gravidon.study.solve.evaluate import Evaluation
from gravidon.translate import number
from gravidon.words.text import tr

FLOW_PX = 80.0
"""[px] that a flow takes beside its arrow, as text of the smallest size; project choice."""


def gas(flow_m3_s: float) -> str:
    """Return a gas flow in words; whole litres are what it is known to."""
    return tr("{flow:.0f} L/min").format(flow=flow_m3_s * 6e4)


def scheme_places(rect: QRectF) -> dict[str, QPointF]:
    """Return where the scheme's parts are: crankcase, the way to the can, the valve to the intake, the turbo."""
    case = case_rect(rect)
    top = rect.top() + 0.16 * rect.height()
    return {
        "case": QPointF(case.center().x(), case.top() + 0.62 * case.height()),
        "can": QPointF(case.left() + 0.3 * case.width(), 0.5 * (top + case.top())),
        "valve": QPointF(case.left() + 0.75 * case.width(), 0.5 * (top + case.top())),
        "turbo": QPointF(rect.left() + 0.74 * rect.width(), case.center().y() + 0.04 * rect.height()),
    }


def case_rect(rect: QRectF) -> QRectF:
    """Return the crankcase's rectangle in the scheme."""
    w, h = rect.width(), rect.height()
    return QRectF(rect.left() + 0.20 * w, rect.top() + 0.36 * h, 0.32 * w, 0.42 * h)


def scheme_filled(rect: QRectF) -> list[QRectF]:
    """Return what the scheme's parts and their words take."""
    case, places = case_rect(rect), scheme_places(rect)
    turbo, high = places["turbo"], case.top() - rect.top()
    ways = [QRectF(places[name].x() - 12, rect.top() + 2, 24, high) for name in ("can", "valve")]
    return [*ways, case, QRectF(turbo.x() - 90, turbo.y() - 24, 180, 100)]


def scheme_flows(rect: QRectF) -> QRectF:
    """Return what the flows beside their ways take."""
    case = case_rect(rect)
    left, right = case.left() + 0.1 * case.width(), scheme_places(rect)["valve"].x() + FLOW_PX
    return QRectF(left, rect.top() + 2, right - left, case.top() - rect.top())


def paint_scheme(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    condition: int,
) -> None:
    """Paint crankcase, ways out and turbo, with the gas's flows and pressures in one condition."""
    ink.painter.save()
    ink.painter.setClipRect(rect)
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    d, case = e.drainage, case_rect(rect)
    pressure = float(e.breathing.crankcase_pa[condition])
    limit = e.plan.needs.crankcase_max_kpa.value * 1e3
    ink.painter.setPen(ink.palette.pen("bad" if pressure > limit else "wall", BOLD))
    ink.painter.setBrush(ink.palette.color("raised"))
    ink.painter.drawRoundedRect(case, 8, 8)
    oil = QRectF(
        case.left() + 3, case.bottom() - 0.3 * case.height(), case.width() - 6, 0.3 * case.height() - 3
    )
    ink.painter.fillRect(oil, ink.palette.color("oil", 0.45))
    ink.painter.setPen(ink.palette.color("ink"))
    ink.painter.setFont(font(SMALL, bold=True))
    ink.painter.drawText(QPointF(case.left() + 10, case.top() + 20), show(pressure, "kpa_small", ink.family))
    ink.painter.setFont(font(SMALL))
    ink.painter.setPen(ink.palette.color("faint"))
    ink.painter.drawText(QPointF(case.left() + 10, case.top() + 37), tr("crankcase"))
    ink.painter.drawText(
        QPointF(case.left() + 10, case.top() + 53),
        tr("blow-by {gas}").format(gas=gas(float(e.breathing.blow_by_m3_s[condition]))),
    )
    ink.words.append(QRectF(case.left() + 8, case.top() + 6, case.width() - 12, 52))
    turbo = scheme_places(rect)["turbo"]
    sealed = bool(d.backwater.sealed[condition])
    ink.painter.setPen(ink.palette.pen("wall", 9))
    ink.painter.drawLine(QPointF(case.right(), case.bottom() - 26), turbo)
    ink.painter.setPen(ink.palette.pen("oil" if sealed else "sheet", 6))
    ink.painter.drawLine(QPointF(case.right(), case.bottom() - 26), turbo)
    ink.painter.setPen(ink.palette.pen("wall", LINE))
    ink.painter.setBrush(ink.palette.color("metal", 0.45))
    ink.painter.drawEllipse(turbo, 20, 20)
    over = float(d.gas_difference_pa[condition])
    lift = float(d.backwater.lift_m[condition])
    lines = [
        (
            tr("over the seals {over}").format(over=show(over, "kpa_small", ink.family)),
            "bad" if over > 0 and sealed else "ink",
        ),
        (
            tr("drain {state}").format(state=(tr("sealed by oil") if sealed else tr("open for gas"))),
            "watch" if sealed else "good",
        ),
        (
            tr("lifts the oil {lift}").format(lift=show(lift, "mm", ink.family))
            if lift > 5e-4
            else tr("lifts no oil"),
            "watch" if lift > 5e-4 else "ink",
        ),
    ]
    for k, (text, colour) in enumerate(lines):
        marks.clear_text(ink, QPointF(turbo.x(), turbo.y() + 38 + 16 * k), text, colour, "centre")
    _ways(ink, rect, e, condition)
    ink.painter.restore()


def _ways(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    condition: int,
) -> None:
    """The can and the valve, with what passes them; arrows turn round where gas comes back."""
    b, places, case = e.plan.breather, scheme_places(rect), case_rect(rect)
    if b.kind == "typed":
        marks.clear_text(
            ink,
            QPointF(rect.left() + 14, rect.top() + 30),
            tr("crankcase pressure is typed per condition (Ctrl+E)"),
            "faint",
        )
        return
    sink = show(e.plan.conditions[condition].intake_kpa * 1e3, "kpa", ink.family)
    ways = [
        *([("can", float(e.breathing.can_m3_s[condition]), tr("open can"))] if b.has_can else ()),
        *(
            [("valve", float(e.breathing.intake_m3_s[condition]), tr("intake at {sink}").format(sink=sink))]
            if b.has_valve
            else ()
        ),
    ]
    top = rect.top() + 0.16 * rect.height()
    for name, flow, words in ways:
        x = places[name].x()
        back = flow < -1e-6
        ink.painter.setPen(ink.palette.pen("bad" if back else "ink", LINE))
        foot, head = QPointF(x, case.top() - 4), QPointF(x, top + 10)
        marks.arrow(ink.painter, head if back else foot, foot if back else head, 7.0)
        if name == "valve":
            valve = places[name]
            ink.painter.setBrush(ink.palette.color("sheet"))
            ink.painter.drawEllipse(valve, 7, 7)
            if b.one_way:
                ink.painter.drawLine(
                    QPointF(valve.x() - 7, valve.y() - 7), QPointF(valve.x() + 7, valve.y() - 7)
                )
        marks.clear_text(ink, QPointF(x, top - 8), words, "faint", "left" if name == "valve" else "centre")
        passes = gas(abs(flow))
        text = tr("{passes} back").format(passes=passes) if back else passes
        beside = -11.0 if name == "can" and b.has_valve else 11.0
        marks.clear_text(
            ink,
            QPointF(x + beside, top + 30),
            text,
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
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    made: BreatherChoice,
    condition: int,
) -> None:
    """Paint crankcase pressure over a can's hose bore, a curve a condition, the limit's ground shaded."""
    if not e.plan.breather.has_can:
        marks.clear_text(
            ink, rect.center(), tr("The chart chooses a can's hose: here is none."), "faint", "centre"
        )
        return
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    unit, bore = display_unit("kpa_small", ink.family), display_unit("bore", ink.family)
    axes = chart_axes(rect, made, ink.family)
    limit = unit.from_si(made.limit_pa)
    ink.painter.fillRect(
        QRectF(axes.rect.left(), axes.y(limit), axes.rect.width(), axes.rect.bottom() - axes.y(limit)),
        ink.palette.color("window"),
    )
    x_ticks = [
        (bore.from_si(m), dash) for m, dash in bore_marks() if axes.x_low <= bore.from_si(m) <= axes.x_high
    ]
    y_ticks = [(v, number(v, "g")) for v in ticks(axes.y_low, axes.y_high, 5)]
    paint_axes(
        ink,
        axes,
        tr("breather hose, dash size"),
        tr("crankcase, {symbol}").format(symbol=unit.symbol),
        x_ticks,
        y_ticks,
    )
    ink.painter.save()
    ink.painter.setClipRect(axes.rect.adjusted(0, -1, 0, 1))
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    xs = np.array([bore.from_si(float(m)) for m in made.bore_m])
    for k in range(len(e.names)):
        ink.painter.setPen(
            ink.palette.pen("ink" if k == condition else "faint", BOLD if k == condition else HAIR)
        )
        ink.painter.drawPolyline(
            axes.curve(xs, np.array([unit.from_si(float(p)) for p in made.pressure_pa[:, k]]))
        )
    here = axes.x(bore.from_si(e.plan.breather.hose_bore_mm * 1e-3))
    ink.painter.setPen(ink.palette.pen("focus", LINE))
    ink.painter.drawLine(QPointF(here, axes.rect.top()), QPointF(here, axes.rect.bottom()))
    ink.painter.restore()
    ink.painter.setFont(font(SMALL))
    marks.clear_text(
        ink,
        QPointF(axes.rect.left() + 6, axes.y(limit) - 5),
        tr("most wanted {limit}").format(limit=show(made.limit_pa, "kpa_small", ink.family)),
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
        ink.painter.setPen(ink.palette.color("ink" if k == condition else "faint"))
        ink.painter.drawText(QPointF(axes.rect.right() + 6, y + 4), e.names[k])
    ink.painter.restore()
