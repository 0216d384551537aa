# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint a logbook along its road: every reading's inlet pressure over what the plan expects at that speed and oil temperature; symptoms and work as marks."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.charts import Axes, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import HAIR, LINE, SMALL, font
from gravidon.records.entry import Entry
from gravidon.study.health.readings import Held
from gravidon.translate import commas, number
from gravidon.words.text import tr

LEFT, RIGHT, BOTTOM = 52.0, 16.0, 26.0

KINDS = {"idle": ("hot idle", "oil"), "speed": ("hot, at speed", "heat"), "cold": ("cold", "focus")}
"""Kinds of readings: words and colour; each has a shape of its own as well."""


def axes_of(rect: QRectF, km: Sequence[float], dots: Sequence[Held]) -> Axes:
    """Return the axes: all distances, and shares about 1."""
    inner = rect.adjusted(LEFT, 18, -RIGHT, -BOTTOM)
    first, last = (min(km), max(km)) if km else (0.0, 1000.0)
    span = max(last - first, 100.0)
    shares = [d.share for d in dots] or [1.0]
    below, above = (min(max(1.15 * far, 0.15), 1.5) for far in (1.0 - min(shares), max(shares) - 1.0))
    return Axes(inner, first - 0.02 * span, last + 0.02 * span, 1.0 - below, 1.0 + above)


def paint(
    ink: Ink, rect: QRectF, entries: Sequence[Entry], km: Sequence[float], dots: Sequence[Held], chosen: int
) -> None:
    """Paint it; `chosen` is an entry's number, -1 for none."""
    p = ink.painter
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setFont(font(SMALL))
    metrics = p.fontMetrics()
    axes = axes_of(rect, km, dots)
    for value in ticks(axes.y_low, axes.y_high, 4):
        y = axes.y(value)
        plan = abs(value - 1.0) < 1e-9
        p.setPen(ink.palette.pen("wall" if plan else "line", LINE if plan else HAIR))
        p.drawLine(QPointF(axes.rect.left(), y), QPointF(axes.rect.right(), y))
        words = tr("as planned") if plan else f"{100 * (value - 1.0):+.0f} %"
        p.setPen(ink.palette.color("faint"))
        if plan:
            words = "plan"
        p.drawText(QPointF(axes.rect.left() - 8 - metrics.horizontalAdvance(words), y + 4), words)
    if 0 <= chosen < len(km):
        x = axes.x(km[chosen])
        p.setPen(ink.palette.pen("focus", LINE))
        p.drawLine(QPointF(x, axes.rect.top()), QPointF(x, axes.rect.bottom()))
    _work(ink, axes, entries, km)
    for kind in KINDS:
        own = [d for d in dots if d.kind == kind]
        if len(own) > 1:
            p.setPen(ink.palette.pen(KINDS[kind][1], HAIR))
            line = axes.curve(
                np.array([d.km for d in own]), np.clip([d.share for d in own], axes.y_low, axes.y_high)
            )
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawPolyline(line)
        for d in own:
            _dot(
                ink,
                QPointF(axes.x(d.km), axes.y(min(max(d.share, axes.y_low), axes.y_high))),
                kind,
                d.entry == chosen,
            )
    _key(ink, axes, {d.kind for d in dots})
    edge = -1e9
    for value in ticks(axes.x_low, axes.x_high, 8):
        words = f"{number(value, ',.0f')} km"
        x, width = axes.x(value), metrics.horizontalAdvance(words)
        if x - width / 2 > edge + 10 and x + width / 2 < rect.right():
            p.setPen(ink.palette.color("faint"))
            p.drawText(QPointF(x - width / 2, rect.bottom() - 6), words)
            edge = x + width / 2
    p.restore()


def _dot(ink: Ink, at: QPointF, kind: str, chosen: bool) -> None:
    """A reading: round at hot idle, upright at speed, a square on its point when cold."""
    p, r = ink.painter, 5.5 if chosen else 4.0
    p.setPen(ink.palette.pen("sheet", HAIR))
    p.setBrush(ink.palette.color(KINDS[kind][1]))
    if kind == "idle":
        p.drawEllipse(at, r, r)
    elif kind == "speed":
        p.drawRect(QRectF(at.x() - 0.6 * r, at.y() - 1.3 * r, 1.2 * r, 2.6 * r))
    else:
        p.drawPolygon(
            QPointF(at.x(), at.y() - 1.3 * r),
            QPointF(at.x() + 1.3 * r, at.y()),
            QPointF(at.x(), at.y() + 1.3 * r),
            QPointF(at.x() - 1.3 * r, at.y()),
        )


def _work(ink: Ink, axes: Axes, entries: Sequence[Entry], km: Sequence[float]) -> None:
    """Work and symptoms as lines with their first words."""
    p = ink.painter
    for entry, at in zip(entries, km, strict=True):
        if not math.isfinite(at):
            continue
        what = commas([tr(c) for c in entry.changed])
        words, colour = (what, "good") if what else (commas([tr(s) for s in entry.symptoms]), "bad")
        if not words:
            continue
        x = axes.x(at)
        p.setPen(ink.palette.pen(colour, LINE, Qt.PenStyle.DotLine))
        p.drawLine(QPointF(x, axes.rect.top() - 4), QPointF(x, axes.rect.bottom()))
        short = words if len(words) <= 22 else words[:21].rstrip() + "…"
        marks.clear_text(ink, QPointF(x, axes.rect.top() - 6), short, colour, "centre")


def _key(ink: Ink, axes: Axes, kinds: set[str]) -> None:
    """What the shapes mean."""
    p = ink.painter
    x, y = axes.rect.left() + 8, axes.rect.bottom() - 8
    for kind, (words, _) in KINDS.items():
        if kind not in kinds:
            continue
        _dot(ink, QPointF(x + 5, y - 4), kind, False)
        marks.halo_text(ink, QPointF(x + 15, y), words, "faint")
        x += 26 + p.fontMetrics().horizontalAdvance(words) + 12
