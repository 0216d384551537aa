"""Paint the candidate taps side by side: inlet pressure in every condition, time to oil, joints, reasons."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.charts import Axes, ticks
from gravidon.draw.style import BODY, HAIR, LINE, SMALL, Palette, font
from gravidon.plan.model import Plan
from gravidon.plan.units import Family, display_unit
from gravidon.study.solve import assemble
from gravidon.study.supply.tap_choice import TapCandidate

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
    painter: QPainter,
    rect: QRectF,
    plan: Plan,
    turbo: int,
    candidates: Sequence[TapCandidate],
    condition: int,
    palette: Palette,
    family: Family,
) -> None:
    """Paint every candidate; the chosen one is framed."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    unit = display_unit("kpa", family)
    windows = np.array([assemble.window_bounds(plan.turbos[turbo], c) for c in plan.conditions])
    finite = windows[np.isfinite(windows)]
    top = 1.08 * max(float(max(c.inlet_pa[turbo].max() for c in candidates)), float(finite.max(initial=1e4)))
    first = _axes(row_rect(rect, 0, len(candidates)), top, family)
    painter.setFont(font(SMALL))
    painter.setPen(palette.color("faint"))
    painter.drawText(
        QPointF(first.rect.left(), rect.top() + 14), f"inlet pressure in every condition, {unit.symbol}"
    )
    for k, candidate in enumerate(candidates):
        row = row_rect(rect, k, len(candidates))
        _row(painter, row, plan, candidate, palette, chosen=k == plan.tap)
        axes = _axes(row, top, family)
        _dots(painter, axes, candidate.inlet_pa[turbo], windows, plan, condition, palette, family)
    last = row_rect(rect, len(candidates) - 1, len(candidates))
    painter.setFont(font(SMALL))
    painter.setPen(palette.color("faint"))
    for value in ticks(0.0, first.x_high, 5):
        label = f"{value:g}"
        width = painter.fontMetrics().horizontalAdvance(label)
        painter.drawText(QPointF(first.x(value) - width / 2, last.bottom() + 16), label)
    painter.restore()


def _row(
    painter: QPainter, row: QRectF, plan: Plan, it: TapCandidate, palette: Palette, chosen: bool
) -> None:
    painter.setPen(palette.pen("focus" if chosen else "line", LINE if chosen else HAIR))
    painter.setBrush(palette.color("raised" if chosen else "sheet"))
    painter.drawRoundedRect(row.adjusted(1, 1, -1, -1), 4, 4)
    painter.setFont(font(20, bold=True))
    painter.setPen(palette.color("ink"))
    painter.drawText(
        QRectF(row.left() + 8, row.top(), 26, row.height()), int(Qt.AlignmentFlag.AlignCenter), str(it.rank)
    )
    left = row.left() + 42
    room = row.width() * TEXT_SHARE - 56
    verdict = "holds" if not it.reasons else "fails" if it.margin < 0 or not it.tap.filtered else "watch"
    marks.paint_drop(painter, QRectF(left, row.top() + 9, 11, 15), verdict, palette)
    painter.setFont(font(BODY, bold=True))
    name = painter.fontMetrics().elidedText(it.tap.label, Qt.TextElideMode.ElideRight, int(room - 18))
    painter.drawText(QPointF(left + 18, row.top() + 21), name)
    painter.setFont(font(SMALL))
    painter.setPen(palette.color("faint"))
    words = "; ".join(it.reasons) if it.reasons else "nothing speaks against it"
    if chosen:
        words = f"chosen; {words}"
    painter.drawText(
        QRectF(left, row.top() + 28, room, row.height() - 30), int(Qt.TextFlag.TextWordWrap), words
    )
    x = row.right() - NOTES + 14
    lines = (
        f"oil in {it.arrival.cold_s:.1f} s cold",
        f"{it.arrival.hot_s:.1f} s hot",
        f"{it.joints} joints" + (f", {it.open_share:.0%} open" if it.open_share < 0.995 else ""),
    )
    step = min(17.0, (row.height() - 12) / 3)
    painter.setPen(palette.color("ink"))
    for k, text in enumerate(lines):
        painter.drawText(QPointF(x, row.center().y() + (k - 1) * step + 4), text)


def _dots(
    painter: QPainter,
    axes: Axes,
    inlet_pa: np.ndarray,
    windows: np.ndarray,
    plan: Plan,
    condition: int,
    palette: Palette,
    family: Family,
) -> None:
    unit = display_unit("kpa", family)
    low, high = windows[condition]
    middle = axes.rect.center().y()
    if np.isfinite(low):
        left, right = axes.x(unit.from_si(float(low))), axes.x(min(unit.from_si(float(high)), axes.x_high))
        painter.fillRect(
            QRectF(left, axes.rect.top(), right - left, axes.rect.height()), palette.color("window")
        )
    painter.setPen(palette.pen("line", HAIR))
    painter.drawLine(QPointF(axes.rect.left(), middle), QPointF(axes.rect.right(), middle))
    for k, pressure in enumerate(inlet_pa):
        if plan.conditions[k].rpm <= 0:
            continue
        outside = not windows[k][0] <= pressure <= windows[k][1]
        x = axes.x(unit.from_si(float(pressure)))
        painter.setPen(palette.pen("bad" if outside else "good", LINE))
        painter.setBrush(palette.color("sheet") if outside else palette.color("good"))
        if k == condition:
            painter.setPen(palette.pen("ink", 2.0))
            painter.setBrush(palette.color("oil"))
            painter.drawEllipse(QPointF(x, middle), 6.5, 6.5)
            name = plan.conditions[k].name
            painter.setFont(font(SMALL))
            marks.halo_text(painter, QPointF(x, axes.rect.top() + 9), name, palette, "ink", "centre")
        else:
            painter.drawEllipse(QPointF(x, middle), 3.6, 3.6)
