# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the drain pulled straight: bore to scale all along, how deep the oil stands in it, where it narrows."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPainterPath, QPolygonF

from gravidon.draw.elevation import froth_colour
from gravidon.draw.ink import Ink
from gravidon.draw.style import HAIR, LINE, SMALL, font
from gravidon.plan.fields import si
from gravidon.plan.units import show
from gravidon.study.judge.home import filling_judged
from gravidon.study.solve.assemble import lasts_s
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import tr

SELF_VENTING = 0.31
"""[-] Froude number below which a full pipe vents itself; published (Simpson 1968)."""


def paint(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    condition: int,
) -> None:
    """Paint the strip: the run from flange to its end, left to right, and its figures above."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    r, water = e.route, e.drainage.backwater
    walked = np.concatenate([[0.0], np.cumsum(r.length_m)])
    left, right = rect.left() + 14, rect.right() - 14
    x = left + (right - left) * walked / max(float(walked[-1]), 1e-9)
    top, bottom = rect.top() + 26, rect.bottom() - 34
    scale = (bottom - top) / float(r.bore_m.max())
    middle = 0.5 * (top + bottom)
    fill = np.where(water.full[:, condition], 1.0, np.clip(water.fill[:, condition], 0.0, 1.0))
    colour = froth_colour(ink.palette, float(e.plan.conditions[condition].air_fraction))
    limit = e.plan.needs.fill_max.value
    tube, oil = QPainterPath(), QPainterPath()
    for path in (tube, oil):
        path.setFillRule(Qt.FillRule.WindingFill)
    for k, bore in enumerate(r.bore_m):
        half = 0.5 * float(bore) * scale
        tube.addRect(QRectF(x[k], middle - half, x[k + 1] - x[k] + 0.6, 2 * half))
        tops = [middle + half - 2 * half * float(f) for f in (fill[k], fill[k + 1])]
        end = x[k + 1] + 0.6
        oil.addPolygon(
            QPolygonF(
                [
                    QPointF(x[k], middle + half),
                    QPointF(x[k], tops[0]),
                    QPointF(end, tops[1]),
                    QPointF(end, middle + half),
                ]
            )
        )
        oil.closeSubpath()
    ink.painter.setPen(Qt.PenStyle.NoPen)
    for path, brush in ((tube, ink.palette.color("raised")), (oil, colour)):
        ink.painter.setBrush(brush)
        ink.painter.drawPath(path)
    _walls(ink, x, middle, r.bore_m * scale)
    worst = int(fill.argmax())
    bore = float(r.bore_m[min(worst, len(r.bore_m) - 1)]) * scale
    d = e.drainage
    most = si(e.plan.needs, "sealed_bores")
    shut = float(d.sealed_bores[condition]) > most
    judged = bool(filling_judged(e)[condition])
    shade = (
        "ink"
        if not judged
        else "bad"
        if shut
        else "watch"
        if float(d.hose_fill[condition]) > limit
        else "ink"
    )
    seconds = float(lasts_s(e.plan)[condition])
    passing = tr(", for {seconds:.0f} s").format(seconds=seconds) if np.isfinite(seconds) else ""
    ink.painter.setPen(ink.palette.pen(shade, LINE))
    at = QPointF(float(x[worst]), middle + 0.5 * bore - bore * float(fill[worst]))
    ink.painter.setBrush(ink.palette.color("sheet"))
    ink.painter.drawEllipse(at, 3.5, 3.5)
    _names(ink, rect, e, x, bottom)
    figures = [
        (
            tr("deepest {fill:.0%} (most {limit:.0%}), {part}").format(
                fill=fill[worst], limit=limit, part=r.part_at(worst)
            )
            + passing,
            shade,
        ),
        *(
            [
                (
                    tr("full for {sealed_bores:.0f} bores (most {most:.0f})").format(
                        sealed_bores=d.sealed_bores[condition], most=most
                    ),
                    shade,
                )
            ]
            if shut
            else []
        ),
        (tr("least open {open_area:.0%} of the bore").format(open_area=d.open_area[condition]), "ink"),
        (tr("air {share:.0%}").format(share=e.plan.conditions[condition].air_fraction), "ink"),
        (
            tr("Froude {froude:.2f}, vents itself below {self_venting:.2f} (advice)").format(
                froude=d.froude[condition], self_venting=SELF_VENTING
            ),
            "faint",
        ),
    ]
    at_x, metrics = rect.left() + 14, ink.painter.fontMetrics()
    for text, name in figures:
        if at_x + metrics.horizontalAdvance(text) > rect.right() - 4:
            break
        ink.painter.setPen(ink.palette.color(name))
        ink.painter.drawText(QPointF(at_x, rect.top() + 15), text)
        at_x += metrics.horizontalAdvance(text) + 18
    ink.painter.restore()


def _walls(
    ink: Ink,
    x: np.ndarray,
    middle: float,
    depth: np.ndarray,
) -> None:
    ink.painter.setPen(ink.palette.pen("wall", LINE))
    for sign in (1.0, -1.0):
        points = []
        for k, d in enumerate(depth):
            points += [QPointF(x[k], middle + sign * 0.5 * d), QPointF(x[k + 1], middle + sign * 0.5 * d)]
        ink.painter.drawPolyline(QPolygonF(points))


def _short_name(name: str, metrics: QFontMetrics, room: float) -> str:
    """Return a part's name, or so many of its words as there is room for."""
    words = name.split()
    while len(words) > 1 and metrics.horizontalAdvance(" ".join(words)) > room:
        words.pop()
    return " ".join(words)


def _names(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    x: np.ndarray,
    bottom: float,
) -> None:
    """Name every part under the strip with its bore; a part too short for its name is left to its neighbours."""
    r = e.route
    starts = [
        0,
        *(k for k in range(1, len(r.bore_m)) if r.part_names[k] != r.part_names[k - 1]),
    ]
    metrics = ink.painter.fontMetrics()
    edge = rect.left()
    for a, b in zip(starts, [*starts[1:], len(r.bore_m)], strict=True):
        ink.painter.setPen(ink.palette.pen("line", HAIR))
        ink.painter.drawLine(QPointF(x[a], bottom + 1), QPointF(x[a], bottom + 8))
        name, bore = r.part_names[a], show(float(r.bore_m[a:b].min()), "bore", ink.family)
        centre = 0.5 * (float(x[a]) + float(x[b]))
        room = max(float(x[b] - x[a]) - 4, 96.0)
        words = _short_name(name, metrics, room)
        width = max(metrics.horizontalAdvance(words), metrics.horizontalAdvance(bore))
        start = min(max(centre - width / 2, edge), rect.right() - width - 4)
        if start < edge:
            continue
        ink.painter.setPen(ink.palette.color("faint"))
        ink.painter.drawText(QPointF(start, bottom + 17), words)
        ink.painter.setPen(ink.palette.color("ink"))
        ink.painter.drawText(QPointF(start, bottom + 31), bore)
        edge = start + width + 8
