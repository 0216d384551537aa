# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the candidate taps side by side: both pressures in every condition, time to oil, joints, reasons."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter

from gravidon.draw import marks
from gravidon.draw.charts import Axes, ticks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, HAIR, LINE, SMALL, fitted_text, fitting, font
from gravidon.plan.model import Plan
from gravidon.plan.units import Family, display_unit
from gravidon.study.solve import assemble
from gravidon.study.supply.tap_choice import TapCandidate
from gravidon.translate import number
from gravidon.words.text import comes_after, tr

ROW = 86.0
TEXT_SHARE = 0.40
NOTES = 128.0


def row_rect(rect: QRectF, index: int, count: int) -> QRectF:
    """Return where a candidate's row lies."""
    height = min(ROW, (rect.height() - 46) / max(count, 1))
    return QRectF(rect.left(), rect.top() + 24 + index * height, rect.width(), height - 6)


def _axes(row: QRectF, top_pa: float, family: Family) -> Axes:
    unit = display_unit("kpa", family)
    left = row.left() + row.width() * TEXT_SHARE
    return Axes(
        QRectF(left, row.top() + 8, row.right() - NOTES - left, row.height() - 16),
        0.0,
        unit.from_si(top_pa),
        0.0,
        1.0,
    )


def paint(
    ink: Ink,
    rect: QRectF,
    plan: Plan,
    turbo: int,
    candidates: Sequence[TapCandidate],
    condition: int,
) -> None:
    """Paint every candidate; the chosen one is framed."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    unit = display_unit("kpa", ink.family)
    windows = np.array([assemble.window_bounds(plan.turbos[turbo], c) for c in plan.conditions])
    finite = windows[np.isfinite(windows)]
    top = 1.08 * max(float(max(c.gauge_pa[turbo].max() for c in candidates)), float(finite.max(initial=1e4)))
    first = _axes(row_rect(rect, 0, len(candidates)), top, ink.family)
    ink.painter.setFont(font(SMALL))
    ink.painter.setPen(ink.palette.color("faint"))
    title = tr("{symbol}, every condition: dot at the bearing, stroke before the restrictor").format(
        symbol=unit.symbol
    )
    wide = ink.painter.fontMetrics().horizontalAdvance(title)
    x = max(min(first.rect.left(), rect.right() - wide - 2), rect.left() + 2)
    fitted_text(ink.painter, QPointF(x, rect.top() + 14), title, rect.right() - x, SMALL)
    for k, candidate in enumerate(candidates):
        row = row_rect(rect, k, len(candidates))
        _row(ink, row, plan, candidate, chosen=k == plan.tap)
        axes = _axes(row, top, ink.family)
        _dots(ink, axes, candidate, turbo, windows, plan, condition)
    last = row_rect(rect, len(candidates) - 1, len(candidates))
    ink.painter.setFont(font(SMALL))
    ink.painter.setPen(ink.palette.color("faint"))
    for value in ticks(0.0, first.x_high, 5):
        label = number(value, "g")
        width = ink.painter.fontMetrics().horizontalAdvance(label)
        ink.painter.drawText(QPointF(first.x(value) - width / 2, last.bottom() + 16), label)
    ink.painter.restore()


def _row(ink: Ink, row: QRectF, plan: Plan, it: TapCandidate, chosen: bool) -> None:
    ink.painter.setPen(ink.palette.pen("focus" if chosen else "line", LINE if chosen else HAIR))
    ink.painter.setBrush(ink.palette.color("raised" if chosen else "sheet"))
    ink.painter.drawRoundedRect(row.adjusted(1, 1, -1, -1), 4, 4)
    ink.painter.setFont(font(20, bold=True))
    ink.painter.setPen(ink.palette.color("ink"))
    ink.painter.drawText(
        QRectF(row.left() + 8, row.top(), 26, row.height()), int(Qt.AlignmentFlag.AlignCenter), str(it.rank)
    )
    left = row.left() + 42
    room = row.width() * TEXT_SHARE - 56
    verdict = "holds" if not it.reasons else "fails" if it.margin < 0 or not it.tap.filtered else "watch"
    marks.paint_drop(ink, QRectF(left, row.top() + 5, 11, 15), verdict)
    ink.painter.setFont(font(BODY, bold=True))
    name = ink.painter.fontMetrics().elidedText(it.tap.label, Qt.TextElideMode.ElideRight, int(room - 18))
    ink.painter.drawText(QPointF(left + 18, row.top() + 17), name)
    ink.painter.setFont(font(SMALL))
    ink.painter.setPen(ink.palette.color("faint"))
    words = "; ".join(it.reasons) if it.reasons else tr("nothing speaks against it")
    if chosen:
        words = tr("chosen; {words}").format(words=words)
    box = QRectF(left, row.top() + 22, room, row.height() - 24)
    ink.painter.setFont(fitting(words, box.size(), SMALL))
    ink.painter.drawText(box, int(Qt.TextFlag.TextWordWrap), words)
    x = row.right() - NOTES + 14
    lines = [
        tr("oil: {after} cold").format(after=comes_after(it.arrival.cold_s)),
        tr("{after} hot").format(after=comes_after(it.arrival.hot_s)),
        tr("{joints} joints").format(joints=it.joints),
    ]
    if it.open_share < 0.995:
        opened = tr("{open_share:.0%} open").format(open_share=it.open_share)
        both = f"{lines[-1]}, {opened}"
        short = QFontMetricsF(font(SMALL)).horizontalAdvance(both) <= NOTES - 18
        lines[-1:] = [both] if short else [lines[-1], opened]
    step = min(17.0, (row.height() - 12) / len(lines))
    ink.painter.setPen(ink.palette.color("ink"))
    for k, text in enumerate(lines):
        at = QPointF(x, row.center().y() + (k - 0.5 * (len(lines) - 1)) * step + 4)
        fitted_text(ink.painter, at, text, NOTES - 18, SMALL)


def _dots(
    ink: Ink,
    axes: Axes,
    candidate: TapCandidate,
    turbo: int,
    windows: np.ndarray,
    plan: Plan,
    condition: int,
) -> None:
    unit = display_unit("kpa", ink.family)
    low, high = windows[condition]
    middle = axes.rect.center().y()
    if np.isfinite(low):
        left, right = axes.x(unit.from_si(float(low))), axes.x(min(unit.from_si(float(high)), axes.x_high))
        ink.painter.fillRect(
            QRectF(left, axes.rect.top(), right - left, axes.rect.height()), ink.palette.color("window")
        )
    ink.painter.setPen(ink.palette.pen("line", HAIR))
    ink.painter.drawLine(QPointF(axes.rect.left(), middle), QPointF(axes.rect.right(), middle))
    before = plan.turbos[turbo].turbo.window.at == "before the restrictor"
    for k, (pressure, gauge) in enumerate(
        zip(candidate.inlet_pa[turbo], candidate.gauge_pa[turbo], strict=True)
    ):
        if plan.conditions[k].rpm <= 0:
            continue
        outside = not (windows[k][0] <= (gauge if before else pressure) and pressure <= windows[k][1])
        if k == condition or gauge > pressure * 1.02:
            there = axes.x(unit.from_si(float(gauge)))
            ink.painter.setPen(ink.palette.pen("ink" if k == condition else "faint", LINE))
            ink.painter.drawLine(QPointF(there, middle - 6), QPointF(there, middle + 6))
        x = axes.x(unit.from_si(float(pressure)))
        ink.painter.setPen(ink.palette.pen("bad" if outside else "good", LINE))
        ink.painter.setBrush(ink.palette.color("sheet") if outside else ink.palette.color("good"))
        if k == condition:
            ink.painter.setPen(ink.palette.pen("ink", 2.0))
            ink.painter.setBrush(ink.palette.color("oil"))
            ink.painter.drawEllipse(QPointF(x, middle), 6.5, 6.5)
            name = plan.conditions[k].name
            ink.painter.setFont(font(SMALL))
            marks.halo_text(ink, QPointF(x, axes.rect.top() + 9), name, "ink", "centre")
        else:
            ink.painter.drawEllipse(QPointF(x, middle), 3.6, 3.6)
