# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the health of the feed over a car's life: the feed as a pipe that closes along the road, with where it goes; bearing, gallery and senders below; work as flags."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from itertools import pairwise

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPolygonF

from gravidon.draw import marks
from gravidon.draw.charts import Axes, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, HAIR, LINE, SMALL, font
from gravidon.physics.arrays import Array
from gravidon.plan.units import Family, display_unit, show_difference
from gravidon.study.health.fit import (
    CLOSING,
    GALLERY,
    GALLERY_ZERO,
    PASSAGE,
    SLOPE,
    Z90,
    ZERO,
    Health,
)
from gravidon.study.health.outlook import Outlook, day_after, round_km
from gravidon.translate import commas, number
from gravidon.words.text import tr

LEFT, RIGHT, TOP, BOTTOM = 118.0, 18.0, 44.0, 34.0
FLAGS = {"oil": tr("new oil"), "screen": tr("screen cleaned"), "bearing": tr("new bearing"), "restrictor": "restrictor", "pump": tr("new pump"), "sender": "sender", "drain": "drain", "breather": "breather"}  # fmt: skip
ROOMY_PX = 44.0
"""[px] of a row from which a second line stands under its name."""
AHEAD = 0.45
"""[-] of the picture's width at most for what lies ahead."""


@dataclass(frozen=True)
class Road:
    """The picture's place and its distances [km]: where it begins and ends, where the log ends."""

    rect: QRectF
    axes: Axes
    now_km: float


def road_of(rect: QRectF, h: Health, o: Outlook) -> Road:
    """Return the place of distances: all entries, and as much ahead as is likely, held to AHEAD of the width."""
    inner = rect.adjusted(LEFT, TOP, -RIGHT, -BOTTOM)
    first, last = float(h.km[0]), float(h.km[-1])
    driven = max(last - first, 50.0)
    far = (
        o.km[2]
        if o.closing and math.isfinite(o.km[2])
        else (o.km[1] if o.closing and math.isfinite(o.km[1]) else 0.0)
    )
    ahead = min(max(far * 1.08, 0.06 * driven), driven * AHEAD / (1.0 - AHEAD))
    return Road(inner, Axes(inner, first, last + ahead, 0.0, 1.0), last)


def paint(ink: Ink, rect: QRectF, h: Health, o: Outlook, cursor: int | None) -> None:
    """Paint it. `cursor` is the entry that is looked at."""
    p = ink.painter
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    road = road_of(rect, h, o)
    room = road.rect.height()
    feed = QRectF(road.rect.left(), road.rect.top(), road.rect.width(), 0.46 * room)
    _feed(ink, feed, h, o, road)
    rows = (
        (tr("bearing's passage"), "", *_percent(h, PASSAGE), " %"),
        (tr("gallery's strength"), "", *_percent(h, GALLERY), " %"),
    )
    top = feed.bottom() + 22
    high = (road.rect.bottom() - top - 20) / 3
    for k, (name, under, mean, low, high_band, unit) in enumerate(rows):
        place = QRectF(feed.left(), top + k * (high + 10), feed.width(), high)
        _row(ink, place, road, h, name, under, [(mean, low, high_band, "ink")], unit)
    place = QRectF(feed.left(), top + 2 * (high + 10), feed.width(), high)
    _senders(ink, place, road, h)
    _flags(ink, road, h)
    _scale(ink, rect, road, h)
    if cursor is not None and 0 <= cursor < len(h.km):
        x = road.axes.x(float(h.km[cursor]))
        p.setPen(ink.palette.pen("focus", LINE))
        p.drawLine(QPointF(x, road.rect.top()), QPointF(x, road.rect.bottom()))
    p.restore()


def _percent(h: Health, part: int) -> tuple[Array, Array, Array]:
    low, high = h.band(part)
    mean, low, high = (100.0 * (np.exp(v) - 1.0) for v in (h.mean[:, part], low, high))
    return mean, low, high


def _room(closing: Array | float, left_at: float) -> Array:
    """Return how much room the feed has left [-]: 1 as planned, 0 where its window is left."""
    if not math.isfinite(left_at) or left_at <= 0.0:
        return np.ones_like(np.asarray(closing, dtype=np.float64)) * (0.0 if left_at <= 0.0 else 1.0)
    return np.clip(1.0 - np.asarray(closing) / left_at, 0.0, 1.0)


def _feed(ink: Ink, rect: QRectF, h: Health, o: Outlook, road: Road) -> None:
    """The feed as a pipe along the road: what is open in oil, what has closed in the wall's colour, the band between; ahead of the log the likely way on."""
    p = ink.painter
    middle, half = rect.center().y(), 0.5 * rect.height() - 12.0
    low, high = h.band(CLOSING)
    spans = _stretches(h)
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(ink.palette.color("wall", 0.30))
    body = QRectF(rect.left(), middle - half, road.axes.x(road.now_km) - rect.left(), 2 * half)
    p.drawRect(body)
    for start, stop in spans:
        rows = slice(start, stop)
        x = np.array([road.axes.x(float(k)) for k in h.km[rows]])
        if stop < len(h.km):  # up to the work that made it new
            x = np.append(x, road.axes.x(float(h.km[stop])))
        if len(x) == 1:
            x = np.array([x[0] - 2.0, x[0] + 2.0])

        def line(values: Array, x: Array = x) -> Array:
            made = _room(values, o.left_at) * half
            return np.append(made, np.repeat(made[-1:], len(x) - len(made)))

        for values, colour, strength in (
            (low[rows], "oil", 0.45),
            (h.mean[rows, CLOSING], "oil", 0.55),
            (high[rows], "oil", 1.0),
        ):
            y = line(values)
            p.setBrush(ink.palette.color(colour, strength))
            p.drawPolygon(_both_sides(x, y, middle))
        y = line(h.mean[rows, CLOSING])
        p.setBrush(Qt.BrushStyle.NoBrush)
        for side in (-1.0, 1.0):
            p.setPen(ink.palette.pen("ink", LINE))
            p.drawPolyline(_line(x, middle + side * y))
        p.setPen(Qt.PenStyle.NoPen)
    _ahead(ink, rect, h, o, road, middle, half)
    p.setPen(ink.palette.pen("wall", 3.0))
    for side in (-1.0, 1.0):
        edge = middle + side * (half + 1.5)
        p.drawLine(QPointF(rect.left(), edge), QPointF(road.axes.x(road.now_km), edge))
        p.setPen(ink.palette.pen("wall", LINE, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(road.axes.x(road.now_km), edge), QPointF(rect.right(), edge))
        p.setPen(ink.palette.pen("wall", 3.0))
    _name(ink, rect, tr("the feed"), tr("open, as the inlet's gauge tells"))
    share = float(_room(h.now[CLOSING], o.left_at))
    _figure(
        ink,
        rect,
        tr("{share:.0%} of its room left").format(share=share)
        if math.isfinite(o.left_at)
        else tr("no least to fall below"),
    )


def _both_sides(x: Array, y: Array, middle: float) -> QPolygonF:
    return _line(np.concatenate([x, x[::-1]]), np.concatenate([middle - y, (middle + y)[::-1]]))


def _line(x: Array, y: Array) -> QPolygonF:
    return QPolygonF([QPointF(float(a), float(b)) for a, b in zip(x, y, strict=True)])


def _stretches(h: Health) -> list[tuple[int, int]]:
    """Return the stretches between which the feed was made new, as places of entries."""
    begins = [0, *(k for k, e in enumerate(h.entries) if k and "screen" in e.changed), len(h.entries)]
    return [(a, b) for a, b in pairwise(begins) if b > a]


def _ahead(ink: Ink, rect: QRectF, h: Health, o: Outlook, road: Road, middle: float, half: float) -> None:
    """What lies ahead: the likely way on, where it closes, and between which distances."""
    p = ink.painter
    begin = road.axes.x(road.now_km)
    p.setPen(ink.palette.pen("line", LINE))
    p.drawLine(QPointF(begin, rect.top()), QPointF(begin, rect.bottom()))
    if not (o.closing and math.isfinite(o.left_at)):
        return
    end_km = road.axes.x_high
    km = np.linspace(road.now_km, end_km, 40)
    x = np.array([road.axes.x(float(k)) for k in km])
    ahead = (km - road.now_km) / 1000.0
    rate, rate_sd = float(h.now[SLOPE]), float(h.sd[-1, SLOPE])
    now, now_sd = float(h.now[CLOSING]), float(h.sd[-1, CLOSING])
    spread = Z90 * np.sqrt(now_sd**2 + (ahead * rate_sd) ** 2)
    for off, strength in ((-spread, 0.16), (spread, 0.30)):
        y = _room(now + rate * ahead + off, o.left_at) * half
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink.palette.color("oil", strength))
        p.drawPolygon(_both_sides(x, y, middle))
    y = _room(now + rate * ahead, o.left_at) * half
    p.setPen(ink.palette.pen("ink", LINE, Qt.PenStyle.DashLine))
    for side in (-1.0, 1.0):
        p.drawPolyline(_line(x, middle + side * y))
    first, last = road.now_km + o.km[0], road.now_km + o.km[2]
    a = road.axes.x(min(first, end_km))
    b = road.axes.x(min(last, end_km)) if math.isfinite(last) else rect.right()
    p.setPen(ink.palette.pen("bad", 2.2))
    p.drawLine(QPointF(a, middle), QPointF(b, middle))
    p.drawLine(QPointF(a, middle - 7), QPointF(a, middle + 7))
    if math.isfinite(last) and last <= end_km:
        p.drawLine(QPointF(b, middle - 7), QPointF(b, middle + 7))
    else:
        marks.arrow(p, QPointF(b - 12, middle), QPointF(b, middle), 8.0)
    p.setFont(font(SMALL))
    name = h.plan.conditions[o.condition].name
    words = tr("{name} starves first: look at the screen within {early} km").format(
        name=name, early=round_km(o.km[0])
    )
    first_day = day_after(h, o.days[0])
    width = max(p.fontMetrics().horizontalAdvance(words), 10)
    at = min(max((a + b) / 2 - width / 2, begin + 6), rect.right() - width - 4)
    marks.halo_text(ink, QPointF(at, middle - 14), words, "bad")
    if first_day is not None:
        marks.halo_text(ink, QPointF(at, middle + 24), tr("by {day}").format(day=_day(first_day)), "faint")


def _day(day: date) -> str:
    return f"{day.day} {('January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December')[day.month - 1]} {day.year}"


def _name(ink: Ink, rect: QRectF, name: str, under: str) -> None:
    """Write a row's name at its left."""
    p = ink.painter
    p.setFont(font(BODY, bold=True))
    p.setPen(ink.palette.color("ink"))
    lift = 20 if under else 9
    p.drawText(
        QRectF(rect.left() - LEFT, rect.center().y() - lift, LEFT - 10, 18),
        int(Qt.AlignmentFlag.AlignLeft),
        name,
    )
    p.setFont(font(SMALL))
    p.setPen(ink.palette.color("faint"))
    flags = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap)
    p.drawText(QRectF(rect.left() - LEFT, rect.center().y() - 2, LEFT - 8, 34), flags, under)


def _figure(ink: Ink, rect: QRectF, words: str) -> None:
    """Write where a row stands now under its name."""
    p = ink.painter
    p.setFont(font(SMALL, bold=True))
    p.setPen(ink.palette.color("ink"))
    flags = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap)
    p.drawText(QRectF(rect.left() - LEFT, rect.center().y() + 32, LEFT - 8, 34), flags, words)


Trace = tuple[Array, Array, Array, str]
"""Mean, low and high of a band, and the colour of its line."""


def _row(
    ink: Ink, rect: QRectF, road: Road, h: Health, name: str, under: str, traces: Sequence[Trace], unit: str
) -> None:
    """A small row: bands and lines about the plan's own."""
    p = ink.painter
    edge = max(max(float(np.abs(t[1]).max()), float(np.abs(t[2]).max())) for t in traces)
    edge = max(edge * 1.1, 0.5)
    axes = Axes(rect, road.axes.x_low, road.axes.x_high, -edge, edge)
    p.fillRect(rect, ink.palette.color("raised", 0.6))
    p.setFont(font(SMALL))
    metrics = p.fontMetrics()
    for value in ticks(-edge, edge, 2):
        y = axes.y(value)
        p.setPen(ink.palette.pen("wall" if value == 0.0 else "line", LINE if value == 0.0 else HAIR))
        p.drawLine(QPointF(rect.left(), y), QPointF(rect.right(), y))
        words = f"{number(value, '+g')}{unit}" if value else "plan"
        if rect.height() >= 34 or not value:
            p.setPen(ink.palette.color("faint"))
            p.drawText(QPointF(rect.right() - metrics.horizontalAdvance(words) - 4, y - 3), words)
    for mean, low, high, colour in traces:
        around = np.concatenate([low, high[::-1]])
        xs = np.concatenate([h.km, h.km[::-1]])
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink.palette.color("oil", 0.26))
        p.drawPolygon(axes.curve(xs, np.clip(around, -edge, edge)))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(ink.palette.pen(colour, LINE))
        p.drawPolyline(axes.curve(h.km, np.clip(mean, -edge, edge)))
    roomy = rect.height() >= ROOMY_PX
    told = "" if roomy or not under else f"; {under}"
    marks.halo_text(
        ink, QPointF(rect.left() + 6, rect.top() + 12), f"±{number(edge, '.2g')}{unit}{told}", "faint"
    )
    _name(ink, rect, name, under if roomy else "")


def _senders(ink: Ink, rect: QRectF, road: Road, h: Health) -> None:
    """What the senders add: the inlet's in ink, the gallery's in the wall's colour, in the pressure's unit."""
    unit = display_unit("kpa_diff", ink.family)
    factor = unit.from_si(1.0) - unit.from_si(0.0)

    def trace(part: int, colour: str) -> Trace:
        low, high = h.band(part)
        return factor * h.mean[:, part], factor * low, factor * high, colour

    _row(
        ink,
        rect,
        road,
        h,
        tr("senders add"),
        tr("inlet dark, gallery pale"),
        [trace(GALLERY_ZERO, "metal"), trace(ZERO, "ink")],
        f" {unit.symbol}",
    )


def _flags(ink: Ink, road: Road, h: Health) -> None:
    """Hang the work that was done from the top, each word where there is room."""
    p = ink.painter
    p.setFont(font(SMALL))
    edge = -1e9
    for k, entry in enumerate(h.entries):
        words = commas([FLAGS[c] for c in entry.changed if c in FLAGS])
        if not words:
            continue
        x = road.axes.x(float(h.km[k]))
        p.setPen(ink.palette.pen("good", LINE, Qt.PenStyle.DotLine))
        p.drawLine(QPointF(x, road.rect.top() - 8), QPointF(x, road.rect.bottom()))
        path = QPainterPath(QPointF(x, road.rect.top() - 6))
        for dx, dy in ((-5, -9), (5, -9)):
            path.lineTo(QPointF(x + dx, road.rect.top() - 6 + dy))
        path.closeSubpath()
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink.palette.color("good"))
        p.drawPath(path)
        width = p.fontMetrics().horizontalAdvance(words)
        at = max(min(x - width / 2, road.rect.right() - width), road.rect.left())
        if at > edge + 8:
            p.setPen(ink.palette.color("good"))
            p.drawText(QPointF(at, road.rect.top() - 20), words)
            edge = at + width


def _scale(ink: Ink, rect: QRectF, road: Road, h: Health) -> None:
    """Distances below, a mark for every entry, odd ones struck."""
    p = ink.painter
    p.setFont(font(SMALL))
    metrics = p.fontMetrics()
    base = road.rect.bottom() + 4
    p.setPen(ink.palette.pen("ink", HAIR))
    p.drawLine(QPointF(road.rect.left(), base), QPointF(road.rect.right(), base))
    edge = -1e9
    for value in ticks(road.axes.x_low, road.axes.x_high, 8):
        words = number(value, ",.0f")
        x = road.axes.x(value)
        width = metrics.horizontalAdvance(words)
        if x - width / 2 > edge + 8 and x + width / 2 < road.rect.right() + RIGHT:
            p.setPen(ink.palette.color("faint"))
            p.drawText(QPointF(x - width / 2, rect.bottom() - 6), words)
            edge = x + width / 2
    p.setPen(ink.palette.color("faint"))
    p.drawText(QPointF(rect.left() + 2, rect.bottom() - 6), tr("km on the clock"))
    for k, km in enumerate(h.km.tolist()):
        odd = k in h.odd
        p.setPen(ink.palette.pen("bad" if odd else "ink", 2.0 if odd else LINE))
        x = road.axes.x(km)
        p.drawLine(QPointF(x, base), QPointF(x, base + (9 if odd else 6)))


def entry_at(rect: QRectF, h: Health, o: Outlook, at: QPointF) -> int | None:
    """Return the entry under a point; None where none is near."""
    road = road_of(rect, h, o)
    x = np.array([road.axes.x(float(k)) for k in h.km])
    k = int(np.abs(x - at.x()).argmin())
    return k if abs(x[k] - at.x()) < 12.0 and rect.contains(at) else None


def words_at(h: Health, o: Outlook, k: int, family: Family) -> str:
    """Return an entry's state in words."""
    e = h.entries[k]
    share = float(_room(h.mean[k, CLOSING], o.left_at))
    passage, gallery = (100.0 * (math.exp(h.mean[k, part]) - 1.0) for part in (PASSAGE, GALLERY))
    zero = show_difference(float(h.mean[k, ZERO]), "kpa_diff", family)
    return tr(
        "{day}, {km:,.0f} km: {share:.0%} of the feed's room left, passage {passage:+.0f} %, gallery {gallery:+.1f} %, inlet sender adds {zero}"
    ).format(day=e.day[:10], km=h.km[k], share=share, passage=passage, gallery=gallery, zero=zero)
