"""Paint the scavenge side: pump curve against piping, the circuit to the pump, and both ways home in figures."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from gravidon.draw import marks
from gravidon.draw.charts import Axes, paint_axes, ticks
from gravidon.draw.style import BODY, BOLD, HAIR, LINE, SMALL, Palette, font
from gravidon.plan.units import Family, display_unit, show
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.scavenging import PumpChart, relay_drop
from gravidon.study.verdict.drain_choice import DrainWay


def paint_pump(
    painter: QPainter,
    rect: QRectF,
    e: Evaluation,
    made: PumpChart,
    condition: int,
    palette: Palette,
    family: Family,
) -> None:
    """Paint what the pump can do and what the piping asks, over the froth it moves; the duty as an upright."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    unit = display_unit("kpa_diff", family)
    flow = display_unit("l_min", family)
    plot = QRectF(rect.left() + 50, rect.top() + 34, rect.width() - 66, rect.height() - 82)
    xs = np.array([flow.from_si(float(q)) for q in made.flow_m3_s])
    pump = np.array([unit.from_si(float(p)) for p in made.pump_pa])
    pipe = np.array([unit.from_si(float(p)) for p in made.piping_pa])
    axes = Axes(plot, 0.0, float(xs[-1]), 0.0, max(float(pump.max()), 1e-3) * 1.1)
    need = e.plan.needs.pump_margin.value
    bulk = flow.from_si(float(e.scavenging.bulk_m3_s[condition]))
    x_ticks = [(v, f"{v:g}") for v in ticks(0.0, axes.x_high, 6)]
    y_ticks = [(v, f"{v:g}") for v in ticks(0.0, axes.y_high, 5)]
    paint_axes(
        painter, axes, palette, f"froth moved, {flow.symbol}", f"pressure, {unit.symbol}", x_ticks, y_ticks
    )
    painter.save()
    painter.setClipRect(axes.rect)
    left = axes.x(bulk * need)
    painter.fillRect(
        QRectF(left, plot.top(), max(plot.right() - left, 0.0), plot.height()), palette.color("window")
    )
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(palette.pen("ink", BOLD))
    painter.drawPolyline(axes.curve(xs, pump))
    painter.setPen(palette.pen("oil", LINE))
    painter.drawPolyline(axes.curve(xs, pipe))
    painter.setPen(palette.pen("faint", LINE, Qt.PenStyle.DashLine))
    painter.drawLine(QPointF(axes.x(bulk), plot.top()), QPointF(axes.x(bulk), plot.bottom()))
    painter.restore()
    painter.setFont(font(SMALL))
    works = flow.from_si(float(e.scavenging.delivery_m3_s[condition]))
    at = QPointF(axes.x(works), axes.y(float(np.interp(works, xs, pipe))))
    colour = "good" if works >= bulk * need else "watch" if works >= bulk else "bad"
    painter.setPen(palette.pen(colour, LINE))
    painter.setBrush(palette.color(colour))
    painter.drawEllipse(at, 5, 5)
    side = "right" if at.x() > plot.center().x() else "left"
    marks.halo_text(
        painter,
        QPointF(at.x() + (-9 if side == "right" else 9), at.y() - 9),
        f"takes {show(float(e.scavenging.delivery_m3_s[condition]), 'l_min', family)}",
        palette,
        colour,
        side,
    )
    marks.halo_text(
        painter, QPointF(axes.x(bulk) + 5, plot.top() + 14), f"comes, {e.names[condition]}", palette, "faint"
    )
    if left < plot.right() - 70:
        marks.halo_text(
            painter, QPointF(max(left, axes.x(bulk)) + 5, plot.top() + 32), f"{need:g} times", palette, "good"
        )
    for share, curve, word, colour in ((0.62, pump, "pump", "ink"), (0.30, pipe, "piping", "oil")):
        k = int(share * len(xs))
        marks.halo_text(
            painter,
            QPointF(axes.x(float(xs[k])), max(axes.y(float(curve[k])) - 8, plot.top() + 12)),
            word,
            palette,
            colour,
        )
    painter.restore()


def paint_circuit(painter: QPainter, rect: QRectF, e: Evaluation, palette: Palette) -> None:
    """Paint battery, fuse, relay, wire and pump with the volts left at each, as a falling line."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(font(SMALL))
    it, s = e.line.scavenge, e.scavenging
    supply, need = it.supply_v.value, e.plan.needs.volts_min.value
    stops = [("battery", f"{supply:.1f} V", supply), ("fuse", f"{it.fuse_a:g} A", supply)]
    stops.append(
        (
            "relay" if it.relay else "switch",
            "at battery" if it.relay else "on dash",
            supply - relay_drop(e.line),
        )
    )
    stops.append(
        (f"{it.gauge_awg} AWG", f"{it.wire_mm.value / 1000:.1f} m, {s.wire_carries_a:.0f} A", s.volts)
    )
    stops.append(("pump", f"{s.volts:.1f} V, {it.current_a.value:g} A", s.volts))
    left, right = rect.left() + 40, rect.right() - 46
    top, bottom = rect.top() + 32, rect.bottom() - 44
    low = min(s.volts, supply * need) - 0.35

    def y(volts: float) -> float:
        return bottom - (volts - low) / max(supply - low + 0.2, 1e-6) * (bottom - top)

    painter.setPen(palette.color("ink"))
    painter.drawText(QPointF(rect.left() + 8, rect.top() + 14), "volts on the way to the pump")
    wanted = supply * need
    painter.fillRect(
        QRectF(left, y(supply + 0.2), right - left, y(wanted) - y(supply + 0.2)), palette.color("window")
    )
    marks.halo_text(
        painter, QPointF(right, y(wanted) + 14), f"at least {wanted:.1f} V", palette, "good", "right"
    )
    step = (right - left) / (len(stops) - 1)
    points = [QPointF(left + k * step, y(v)) for k, (_, _, v) in enumerate(stops)]
    painter.setPen(palette.pen("heat" if s.volts < wanted else "ink", BOLD))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolyline(QPolygonF(points))
    metrics = painter.fontMetrics()
    for k, ((name, note, _), at) in enumerate(zip(stops, points, strict=True)):
        painter.setPen(palette.pen("ink", LINE))
        painter.setBrush(palette.color("raised"))
        painter.drawRect(QRectF(at.x() - 5, at.y() - 5, 10, 10))
        for row, (text, colour) in enumerate(
            (
                (name, "ink"),
                (
                    metrics.elidedText(
                        note, Qt.TextElideMode.ElideRight, int(step * (1.25 if k in (0, 4) else 1.0))
                    ),
                    "faint",
                ),
            )
        ):
            width = metrics.horizontalAdvance(text)
            x = min(max(at.x() - width / 2, rect.left() + 4), rect.right() - width - 4)
            painter.setPen(palette.color(colour))
            painter.drawText(QPointF(x, bottom + 18 + 15 * row), text)
    painter.restore()


def card_rect(rect: QRectF, index: int) -> QRectF:
    """Return where a way's card lies."""
    width = (rect.width() - 10) / 2
    return QRectF(rect.left() + index * (width + 10), rect.top(), width, rect.height())


def paint_ways(
    painter: QPainter,
    rect: QRectF,
    ways: Sequence[DrainWay],
    chosen: str,
    count: int,
    palette: Palette,
    family: Family,
) -> None:
    """Paint gravity and pump side by side; the one in use is framed."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for k, way in enumerate(ways):
        card = card_rect(rect, k)
        mine = way.way == chosen
        painter.setPen(palette.pen("focus" if mine else "line", LINE if mine else HAIR))
        painter.setBrush(palette.color("raised" if mine else "sheet"))
        painter.drawRoundedRect(card.adjusted(1, 1, -1, -1), 3, 3)
        verdict = "watch" if way.refused else "fails" if way.bad else "watch" if way.findings else "holds"
        marks.paint_drop(painter, QRectF(card.left() + 12, card.top() + 10, 11, 15), verdict, palette)
        painter.setFont(font(BODY, bold=True))
        painter.setPen(palette.color("ink"))
        title = "By gravity" if way.way == "gravity" else "By a scavenge pump"
        painter.drawText(
            QPointF(card.left() + 32, card.top() + 22), title + (", in use" if mine else ", click to use")
        )
        painter.setFont(font(SMALL))
        if way.refused:
            painter.setPen(palette.color("faint"))
            room = QRectF(card.left() + 12, card.top() + 30, card.width() - 24, 50)
            painter.drawText(
                room, int(Qt.TextFlag.TextWordWrap), f"Not as the plan stands: it wants {way.refused}."
            )
            continue
        lines = [
            (
                f"least freeboard {show(way.least_freeboard_m, 'mm', family)}, {way.worst_condition}",
                "bad" if way.least_freeboard_m < 0 else "ink",
            ),
            (
                f"a seal under oil in {way.wet} of {count} conditions; drain at most {way.fill:.0%} full",
                "ink",
            ),
            (
                "; ".join(dict.fromkeys(f.title.split(": ")[-1].lower() for f in way.findings[:4]))
                or "no findings",
                "faint",
            ),
        ]
        for row, (text, colour) in enumerate(lines):
            painter.setPen(palette.color(colour))
            words = painter.fontMetrics().elidedText(
                text, Qt.TextElideMode.ElideRight, int(card.width() - 24)
            )
            painter.drawText(QPointF(card.left() + 12, card.top() + 42 + 16 * row), words)
    painter.restore()
