# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the scavenge side: pump curve against piping, the circuit to the pump, and both ways home in figures."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from gravidon.draw import marks
from gravidon.draw.charts import Axes, paint_axes, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, BOLD, HAIR, LINE, SMALL, fitted_text, font
from gravidon.plan.units import display_unit, show
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.scavenging import PumpChart, relay_drop
from gravidon.study.verdict.drain_choice import DrainWay
from gravidon.translate import number
from gravidon.words.text import tr


def _how_many(height: float) -> int:
    """Return how many ticks an upright axis of a height [px] has room for."""
    return max(1, min(5, int(height / 34.0)))


def paint_pump(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    made: PumpChart,
    condition: int,
) -> None:
    """Paint what the pump can do and what the piping asks, over the froth it moves; the duty as an upright."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    unit = display_unit("kpa_diff", ink.family)
    flow = display_unit("l_min", ink.family)
    plot = QRectF(rect.left() + 50, rect.top() + 34, rect.width() - 66, rect.height() - 82)
    xs = np.array([flow.from_si(float(q)) for q in made.flow_m3_s])
    pump = np.array([unit.from_si(float(p)) for p in made.pump_pa])
    pipe = np.array([unit.from_si(float(p)) for p in made.piping_pa])
    axes = Axes(plot, 0.0, float(xs[-1]), 0.0, max(float(pump.max()), 1e-3) * 1.1)
    need = e.plan.needs.pump_margin.value
    bulk = flow.from_si(float(e.scavenging.bulk_m3_s[condition]))
    x_ticks = [(v, number(v, "g")) for v in ticks(0.0, axes.x_high, 6)]
    y_ticks = [(v, number(v, "g")) for v in ticks(0.0, axes.y_high, _how_many(axes.rect.height()))]
    paint_axes(
        ink,
        axes,
        tr("froth moved, {symbol}").format(symbol=flow.symbol),
        tr("pressure, {symbol}").format(symbol=unit.symbol),
        x_ticks,
        y_ticks,
    )
    ink.painter.save()
    ink.painter.setClipRect(axes.rect)
    left = axes.x(bulk * need)
    ink.painter.fillRect(
        QRectF(left, plot.top(), max(plot.right() - left, 0.0), plot.height()), ink.palette.color("window")
    )
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    ink.painter.setPen(ink.palette.pen("ink", BOLD))
    ink.painter.drawPolyline(axes.curve(xs, pump))
    ink.painter.setPen(ink.palette.pen("oil", LINE))
    ink.painter.drawPolyline(axes.curve(xs, pipe))
    ink.painter.setPen(ink.palette.pen("faint", LINE, Qt.PenStyle.DashLine))
    ink.painter.drawLine(QPointF(axes.x(bulk), plot.top()), QPointF(axes.x(bulk), plot.bottom()))
    ink.painter.restore()
    ink.painter.setFont(font(SMALL))
    works = flow.from_si(float(e.scavenging.delivery_m3_s[condition]))
    at = QPointF(axes.x(works), axes.y(float(np.interp(works, xs, pipe))))
    colour = "good" if works >= bulk * need else "watch" if works >= bulk else "bad"
    ink.painter.setPen(ink.palette.pen(colour, LINE))
    ink.painter.setBrush(ink.palette.color(colour))
    ink.painter.drawEllipse(at, 5, 5)
    side = "right" if at.x() > plot.center().x() else "left"
    marks.clear_text(
        ink,
        QPointF(at.x() + (-9 if side == "right" else 9), at.y() - 9),
        tr("takes {amount}").format(
            amount=show(float(e.scavenging.delivery_m3_s[condition]), "l_min", ink.family)
        ),
        colour,
        side,
    )
    comes = tr("comes, {names}").format(names=e.names[condition])
    room = plot.right() - ink.painter.fontMetrics().horizontalAdvance(comes) - 3
    marks.clear_text(ink, QPointF(min(axes.x(bulk) + 5, room), plot.top() + 30), comes, "faint")
    if left < plot.right() - 70:
        marks.clear_text(
            ink,
            QPointF(max(left, axes.x(bulk)) + 5, plot.top() + 48),
            tr("{need:g} times").format(need=need),
            "good",
        )
    for share, curve, word, colour in ((0.62, pump, tr("pump"), "ink"), (0.30, pipe, tr("piping"), "oil")):
        k = int(share * len(xs))
        marks.clear_text(
            ink,
            QPointF(axes.x(float(xs[k])), max(axes.y(float(curve[k])) - 8, plot.top() + 12)),
            word,
            colour,
        )
    ink.painter.restore()


def paint_circuit(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
) -> None:
    """Paint battery, fuse, relay, wire and pump with the volts left at each, as a falling line."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    it, s = e.line.scavenge, e.scavenging
    supply, need = it.supply_v.value, e.plan.needs.volts_min.value
    stops = [
        (tr("battery"), f"{number(supply, '.1f')} V", supply),
        (tr("fuse"), f"{number(it.fuse_a, 'g')} A", supply),
    ]
    stops.append(
        (
            tr("relay") if it.relay else tr("switch"),
            tr("at battery") if it.relay else tr("on dash"),
            supply - relay_drop(e.line),
        )
    )
    stops.append(
        (
            f"{it.gauge_awg} AWG",
            f"{number(it.wire_mm.value / 1000, '.1f')} m, {number(s.wire_carries_a, '.0f')} A",
            s.volts,
        )
    )
    stops.append((tr("pump"), f"{number(s.volts, '.1f')} V, {number(it.current_a.value, 'g')} A", s.volts))
    left, right = rect.left() + 40, rect.right() - 46
    top, bottom = rect.top() + 32, rect.bottom() - 44
    low = min(s.volts, supply * need) - 0.35

    def y(volts: float) -> float:
        return bottom - (volts - low) / max(supply - low + 0.2, 1e-6) * (bottom - top)

    ink.painter.setPen(ink.palette.color("ink"))
    ink.painter.drawText(QPointF(rect.left() + 8, rect.top() + 14), tr("volts on the way to the pump"))
    wanted = supply * need
    ink.painter.fillRect(
        QRectF(left, y(supply + 0.2), right - left, y(wanted) - y(supply + 0.2)), ink.palette.color("window")
    )
    marks.clear_text(
        ink,
        QPointF(right, y(wanted) + 14),
        tr("at least {wanted:.1f} V").format(wanted=wanted),
        "good",
        "right",
    )
    step = (right - left) / (len(stops) - 1)
    points = [QPointF(left + k * step, y(v)) for k, (_, _, v) in enumerate(stops)]
    ink.painter.setPen(ink.palette.pen("heat" if s.volts < wanted else "ink", BOLD))
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    ink.painter.drawPolyline(QPolygonF(points))
    metrics = ink.painter.fontMetrics()
    for k, ((name, note, _), at) in enumerate(zip(stops, points, strict=True)):
        ink.painter.setPen(ink.palette.pen("ink", LINE))
        ink.painter.setBrush(ink.palette.color("raised"))
        ink.painter.drawRect(QRectF(at.x() - 5, at.y() - 5, 10, 10))
        room = step * (1.25 if k in (0, 4) else 1.0)
        for row, (text, colour) in enumerate(((name, "ink"), (note, "faint"))):
            width = min(float(metrics.horizontalAdvance(text)), room)
            x = min(max(at.x() - width / 2, rect.left() + 4), rect.right() - width - 4)
            ink.painter.setPen(ink.palette.color(colour))
            fitted_text(ink.painter, QPointF(x, bottom + 18 + 15 * row), text, room, SMALL)
    ink.painter.restore()


def card_rect(rect: QRectF, index: int) -> QRectF:
    """Return where a way's card lies."""
    width = (rect.width() - 10) / 2
    return QRectF(rect.left() + index * (width + 10), rect.top(), width, rect.height())


def paint_ways(
    ink: Ink,
    rect: QRectF,
    ways: Sequence[DrainWay],
    chosen: str,
    count: int,
) -> None:
    """Paint gravity and pump side by side; the one in use is framed."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for k, way in enumerate(ways):
        card = card_rect(rect, k)
        mine = way.way == chosen
        ink.painter.setPen(ink.palette.pen("focus" if mine else "line", LINE if mine else HAIR))
        ink.painter.setBrush(ink.palette.color("raised" if mine else "sheet"))
        ink.painter.drawRoundedRect(card.adjusted(1, 1, -1, -1), 3, 3)
        verdict = "watch" if way.refused else "fails" if way.bad else "watch" if way.findings else "holds"
        marks.paint_drop(ink, QRectF(card.left() + 12, card.top() + 10, 11, 15), verdict)
        ink.painter.setFont(font(BODY, bold=True))
        ink.painter.setPen(ink.palette.color("ink"))
        title = tr("By gravity") if way.way == "gravity" else tr("By a scavenge pump")
        ink.painter.drawText(
            QPointF(card.left() + 32, card.top() + 22),
            title + (tr(", in use") if mine else tr(", click to use")),
        )
        ink.painter.setFont(font(SMALL))
        if way.refused:
            ink.painter.setPen(ink.palette.color("faint"))
            room = QRectF(card.left() + 12, card.top() + 30, card.width() - 24, 50)
            ink.painter.drawText(
                room,
                int(Qt.TextFlag.TextWordWrap),
                tr("Not as the plan stands: it wants {refused}.").format(refused=way.refused),
            )
            continue
        lines = [
            (
                tr("least freeboard {least_freeboard}, {worst_condition}").format(
                    least_freeboard=show(way.least_freeboard_m, "mm", ink.family),
                    worst_condition=way.worst_condition,
                ),
                "bad" if way.least_freeboard_m < 0 else "ink",
            ),
            (
                tr("a seal under oil in {wet} of {count} conditions; drain at most {fill:.0%} full").format(
                    wet=way.wet, count=count, fill=way.fill
                ),
                "ink",
            ),
            (
                "; ".join(dict.fromkeys(f.title.split(": ")[-1].lower() for f in way.findings[:4]))
                or tr("no findings"),
                "faint",
            ),
        ]
        for row, (text, colour) in enumerate(lines):
            ink.painter.setPen(ink.palette.color(colour))
            last = row == len(lines) - 1
            room = QRectF(
                card.left() + 12, card.top() + 30 + 16 * row, card.width() - 24, 400.0 if last else 16.0
            )
            if last:
                room.setBottom(card.bottom() - 4)
            ink.painter.drawText(room, int(Qt.TextFlag.TextWordWrap), _fitting(ink, text, room))
    ink.painter.restore()


def _fitting(ink: Ink, text: str, room: QRectF) -> str:
    """Return as many of a list's entries as a room holds; the rest is counted."""
    entries = text.split("; ")
    for shown in range(len(entries), 0, -1):
        rest = len(entries) - shown
        words = "; ".join(entries[:shown]) + (tr(" and {rest} more").format(rest=rest) if rest else "")
        box = ink.painter.fontMetrics().boundingRect(room.toRect(), int(Qt.TextFlag.TextWordWrap), words)
        if box.height() <= room.height():
            return words
    return ""
