# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint a live run: a strip for each reading with the band that the plan predicts for it, and the oil's front on its way."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath

from gravidon.draw import marks
from gravidon.draw.charts import Axes, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, HAIR, HUGE, LINE, SMALL, fitted_text, font
from gravidon.physics.arrays import Array
from gravidon.plan.units import display_unit, show
from gravidon.records.ring import least_and_most
from gravidon.translate import number
from gravidon.words.text import tr

LEFT, RIGHT, GAP = 54.0, 150.0, 10.0
"""[px] for the scale's figures, for the reading in big type, and between strips."""
WORD = {"low": tr("under the band"), "high": tr("over the band"), "in": tr("as planned"), "": tr("no band")}
PLACE_COLOUR = {"low": "bad", "high": "watch", "in": "good", "": "faint"}


@dataclass(frozen=True)
class Strip:
    """One reading over time: title, kind of unit, times [s] and values in SI; its band (low, plan, high) over the same times, or None; where the reading of now
    lies ("low", "in", "high", or empty where it has no band); least that its scale reaches, in SI; its line's weight of the page (1: as high as others); what
    can be believed of its sender, in words, and whether that is sound."""

    title: str
    kind: str
    time_s: Array
    values: Array
    band: Array | None
    place: str
    reaches: float
    weight: float = 1.0
    sender: str = ""
    sound: bool = True


def paint(ink: Ink, rect: QRectF, strips: Sequence[Strip], start_s: float, span_s: float) -> None:
    """Paint strips over one time axis."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    inner = rect.adjusted(LEFT, 4, -RIGHT, -22)
    whole = sum(s.weight for s in strips)
    room = inner.height() - GAP * (len(strips) - 1)
    top = inner.top()
    for strip in strips:
        high = room * strip.weight / whole
        _strip(ink, QRectF(inner.left(), top, inner.width(), high), strip, start_s, span_s)
        top += high + GAP
    ink.painter.setFont(font(SMALL))
    ink.painter.setPen(ink.palette.color("faint"))
    axes = Axes(inner, start_s, start_s + span_s, 0.0, 1.0)
    for value in time_ticks(start_s, start_s + span_s):
        if value >= 0.0:
            words = f"{int(value) // 60}:{int(value) % 60:02d}"
            width = ink.painter.fontMetrics().horizontalAdvance(words)
            ink.painter.drawText(QPointF(axes.x(value) - width / 2, rect.bottom() - 6), words)
    ink.painter.drawText(QPointF(inner.right() + 26, rect.bottom() - 6), tr("min:s"))
    ink.painter.restore()


TIME_STEPS_S = (5, 10, 15, 30, 60, 120, 300, 600, 1800, 3600)


def time_ticks(low: float, high: float, most: int = 9) -> list[float]:
    """Return round times between two limits: whole quarters, halves and minutes.

    >>> time_ticks(0.0, 60.0)
    [0.0, 10.0, 20.0, 30.0, 40.0, 50.0, 60.0]
    """
    step = next((s for s in TIME_STEPS_S if (high - low) / s <= most), TIME_STEPS_S[-1])
    first = math.ceil(low / step - 1e-9)
    return [float(k * step) for k in range(first, math.floor(high / step + 1e-9) + 1)]


def _scale(strip: Strip, unit_from: float) -> tuple[float, float]:
    """Return the strip's least and most in its shown unit."""
    values = strip.values[np.isfinite(strip.values)]
    tops = [strip.reaches, float(values.max(initial=0.0))]
    if strip.band is not None and strip.band.size:
        tops.append(float(np.nanmax(strip.band[2], initial=0.0)))
    low = min(float(values.min(initial=0.0)), 0.0)
    return low * unit_from, max(tops) * unit_from * 1.06


def _strip(ink: Ink, rect: QRectF, strip: Strip, start_s: float, span_s: float) -> None:
    unit = display_unit(strip.kind, ink.family)
    offset = unit.from_si(0.0) if strip.kind == "degc" else 0.0
    factor = unit.from_si(1.0) - unit.from_si(0.0)
    if strip.kind == "degc":
        low, high = unit.from_si(273.15), unit.from_si(strip.reaches)
        finite = strip.values[np.isfinite(strip.values)]
        if len(finite):
            low, high = (
                min(low, unit.from_si(float(finite.min()))),
                max(high, unit.from_si(float(finite.max()))),
            )
    else:
        low, high = _scale(strip, factor)
    axes = Axes(rect, start_s, start_s + span_s, low, max(high, low + 1e-9))
    p = ink.painter
    p.fillRect(rect, ink.palette.color("raised", 0.55))
    p.setFont(font(SMALL))
    metrics = p.fontMetrics()
    last = 1e9
    for value in ticks(low, high, max(int(rect.height() / 34), 2)):
        y = axes.y(value)
        if not rect.top() + 6 <= y <= rect.bottom() or last - y < metrics.height():
            continue
        last = y
        p.setPen(ink.palette.pen("line", HAIR))
        p.drawLine(QPointF(rect.left(), y), QPointF(rect.right(), y))
        p.setPen(ink.palette.color("faint"))
        words = number(value, "g")
        p.drawText(QPointF(rect.left() - 8 - metrics.horizontalAdvance(words), y + 4), words)
    if strip.band is not None and strip.band.shape[1] > 1:
        _band(ink, axes, strip, offset, factor)
    middle, least, most = least_and_most(
        strip.time_s, strip.values, start_s, span_s, max(int(rect.width() / 2.0), 2)
    )
    if len(middle):
        # one filled shape from least to most, half a line wider: far quicker than a line that goes up and down in every bin
        half = 0.5 * LINE * (axes.y_high - axes.y_low) / rect.height()
        around = np.concatenate([most * factor + offset + half, (least * factor + offset - half)[::-1]])
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink.palette.color("ink"))
        p.drawPolygon(
            axes.curve(np.concatenate([middle, middle[::-1]]), np.clip(around, axes.y_low, axes.y_high))
        )
    marks.halo_text(ink, QPointF(rect.left() + 6, rect.top() + 14), strip.title, "ink")
    _reading(ink, rect, strip)


def _band(ink: Ink, axes: Axes, strip: Strip, offset: float, factor: float) -> None:
    """Shade what the plan predicts, with a hairline for its own figure."""
    assert strip.band is not None  # noqa: S101  asked only where there is one
    p, t = ink.painter, strip.time_s
    step = max(len(t) // 160, 1)
    t, (low, plan, high) = t[::step], (row[::step] * factor + offset for row in strip.band)
    around = np.clip(np.concatenate([high, low[::-1]]), axes.y_low, axes.y_high)
    outline = axes.curve(np.concatenate([t, t[::-1]]), around)
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(ink.palette.color("oil", 0.26))
    p.drawPolygon(outline)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(ink.palette.pen("oil", HAIR))
    p.drawPolyline(axes.curve(t, np.clip(plan, axes.y_low, axes.y_high)))


def _reading(ink: Ink, rect: QRectF, strip: Strip) -> None:
    """Write the reading of now in big type beside its strip, where it lies, and what the plan says."""
    p = ink.painter
    finite = (
        strip.values[-1:] if len(strip.values) and math.isfinite(float(strip.values[-1])) else np.zeros(0)
    )
    x, room = rect.right() + 12, RIGHT - 16
    roomy = rect.height() >= 54
    y = rect.top() + (22 if roomy else 18)
    p.setPen(ink.palette.color("ink"))
    p.setFont(font(HUGE if roomy else BODY + 2, bold=True))
    words = show(float(finite[0]), strip.kind, ink.family) if len(finite) else "–"
    p.drawText(QPointF(x, y), words)
    p.setFont(font(SMALL))
    if strip.sender and rect.height() >= 62:
        p.setPen(ink.palette.color("faint" if strip.sound else "bad"))
        fitted_text(p, QPointF(x, y + 34), strip.sender, room, SMALL)
    if strip.place and len(finite):
        mark = {"low": "fails", "high": "watch", "in": "holds"}[strip.place]
        marks.paint_drop(ink, QRectF(x, y + 6, 9, 12), mark)
        p.setPen(ink.palette.color(PLACE_COLOUR[strip.place]))
        fitted_text(p, QPointF(x + 15, y + 16), WORD[strip.place], room - 15, SMALL)
        if strip.band is not None and strip.band.shape[1] and rect.height() >= 92:
            low, _, high = (float(v) for v in strip.band[:, -1])
            p.setPen(ink.palette.color("faint"))
            text = tr("plan {low} to {high}").format(
                low=show(low, strip.kind, ink.family, with_unit=False),
                high=show(high, strip.kind, ink.family),
            )
            fitted = p.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(room))
            p.drawText(QPointF(x, y + 51), fitted)


@dataclass(frozen=True)
class Front:
    """The oil on its way to one turbo: name, seconds planned on the starter, seconds turned so far, seconds it took (None: not there yet)."""

    name: str
    planned_s: float
    turned_s: float
    took_s: float | None


FRONT_PX = 42.0
"""[px] a turbo's front takes."""


def paint_fronts(ink: Ink, rect: QRectF, fronts: Sequence[Front]) -> None:
    """Paint a pipe from the gallery to each turbo with the oil as far as planned, a mark where it should arrive, and when it did."""
    p = ink.painter
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    for k, front in enumerate(fronts):
        top = rect.top() + k * FRONT_PX
        pipe = QRectF(rect.left() + LEFT, top + 22, rect.width() - LEFT - RIGHT, 12)
        finite = math.isfinite(front.planned_s) and front.planned_s > 0.0
        end_s = max(1.6 * front.planned_s if finite else 30.0, front.turned_s, front.took_s or 0.0)
        due = pipe.left() + pipe.width() * (front.planned_s / end_s if finite else 1.0)
        shown = front.took_s if front.took_s is not None else front.turned_s
        to = pipe.left() + pipe.width() * min(shown / end_s, 1.0)
        outline = QPainterPath()
        outline.addRoundedRect(pipe, 6, 6)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink.palette.color("raised"))
        p.drawPath(outline)
        p.save()
        p.setClipPath(outline)
        late = front.took_s is None and to > due
        p.fillRect(
            QRectF(pipe.left(), pipe.top(), to - pipe.left(), pipe.height()),
            ink.palette.color("bad" if late else "oil", 0.85),
        )
        p.restore()
        p.setPen(ink.palette.pen("wall", LINE))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(outline)
        p.setPen(ink.palette.pen("ink", LINE))
        p.drawLine(QPointF(due, pipe.top() - 5), QPointF(due, pipe.bottom() + 5))
        p.setFont(font(SMALL))
        p.setPen(ink.palette.color("faint"))
        words = (
            tr("due after {planned:.0f} s on the starter").format(planned=front.planned_s)
            if finite
            else tr("not due: it would not come")
        )
        marks.halo_text(ink, QPointF(due + 6, pipe.top() - 5), words, "faint")
        marks.halo_text(
            ink, QPointF(pipe.left() + 2, pipe.top() - 5), tr("oil to {name}").format(name=front.name), "ink"
        )
        p.setPen(ink.palette.color("ink"))
        p.setFont(font(BODY, bold=True))
        said = (
            tr("there after {seconds:.1f} s").format(seconds=front.took_s)
            if front.took_s is not None
            else tr("{turned:.1f} s so far").format(turned=front.turned_s)
        )
        fitted_text(p, QPointF(pipe.right() + 12, pipe.bottom()), said, RIGHT - 16, BODY, bold=True)
    p.restore()
