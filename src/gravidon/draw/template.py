# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the paper template of a pan entry at true scale: hole, centre lines, rail, bolts, spanner circle, a ruler.

The painter's unit is the millimetre, so that a printer and a PDF keep the scale; a window scales it to fit.
"""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPen, QPolygonF

from gravidon.draw.style import FONT_FAMILY, load_fonts
from gravidon.parts.dash import INCH_MM
from gravidon.plan.units import both_lengths
from gravidon.study.making.cutting import EntryTemplate
from gravidon.translate import number
from gravidon.words.text import tr

SIZE_MM = (150.0, 128.0)
RULER_MM = 100.0
INK = QColor("#202020")


def pen(width_mm: float, dashed: bool = False) -> QPen:
    """Return a black pen with flat caps, so that a line ends where it ends."""
    made = QPen(INK, width_mm, Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine)
    made.setCapStyle(Qt.PenCapStyle.FlatCap)
    return made


def text(
    painter: QPainter, x: float, y: float, words: str, height_mm: float = 3.2, bold: bool = False
) -> None:
    """Write a line at a baseline in millimetres (drawn large and scaled, as fonts have whole sizes)."""
    load_fonts()
    painter.save()
    painter.translate(x, y)
    painter.scale(height_mm / 32.0, height_mm / 32.0)
    made = QFont(FONT_FAMILY)
    made.setFeature(QFont.Tag("liga"), 0)
    made.setPixelSize(32)
    made.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    painter.setFont(made)
    painter.setPen(INK)
    painter.drawText(QPointF(0, 0), words)
    painter.restore()


def paint(painter: QPainter, it: EntryTemplate) -> None:
    """Paint the template with its upper left corner at the origin, in millimetres."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    width, height = SIZE_MM
    painter.fillRect(QRectF(0, 0, width, height), QColor("#ffffff"))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(pen(0.25))
    painter.drawRect(QRectF(0, 0, width, height))
    below = it.below_rail_m * 1e3
    centre = QPointF(52.0, 22.0 + below)
    text(painter, 4, 6, tr("Pan entry, from outside, 1:1; cut out along the rail line"), 3.2, True)
    name = it.name if len(it.name) <= 52 else f"{it.name[:50]} …"
    text(painter, 4, 11, name, 2.8)
    rail_y = 22.0
    painter.setPen(pen(0.5))
    painter.drawLine(QPointF(4, rail_y), QPointF(102, rail_y))
    text(painter, 104, rail_y + 1, tr("pan rail, lower edge"), 2.8)
    _cross(painter, centre, 12.0)
    radius = 0.5e3 * it.hole_m
    painter.setPen(pen(0.4))
    painter.drawEllipse(centre, radius, radius)
    painter.setPen(pen(0.25, True))
    painter.drawEllipse(centre, it.spanner_m * 1e3, it.spanner_m * 1e3)
    painter.setPen(pen(0.3, it.bolts_guessed))
    for beside, above in it.bolts_m:
        at = QPointF(centre.x() + beside * 1e3, centre.y() - above * 1e3)
        size = 0.5e3 * it.bolt_head_m
        if 4 < at.x() < 102:
            angles = np.arange(6) * np.pi / 3
            painter.drawPolygon(
                QPolygonF([QPointF(at.x() + size * np.cos(a), at.y() + size * np.sin(a)) for a in angles])
            )
            _cross(painter, at, 4.0)
    painter.setPen(pen(0.25))
    painter.drawLine(QPointF(86, rail_y), QPointF(86, centre.y()))
    painter.drawLine(QPointF(83, centre.y()), QPointF(89, centre.y()))
    text(painter, 88, 0.5 * (rail_y + centre.y()) + 1, tr("{below:.1f} mm").format(below=below), 3.0)
    text(
        painter, 88, 0.5 * (rail_y + centre.y()) + 5, tr("{below:.2f} in").format(below=below / INCH_MM), 3.0
    )
    near = min(it.bolts_m, key=lambda b: abs(b[0]), default=None)
    if near is not None and abs(near[0]) > 1e-4:
        x = centre.x() + near[0] * 1e3
        painter.setPen(pen(0.25))
        painter.drawLine(QPointF(centre.x(), 17.0), QPointF(x, 17.0))
        for end in (centre.x(), x):
            painter.drawLine(QPointF(end, 15.5), QPointF(end, rail_y - 1.0))
        beyond = max(x, centre.x()) + 0.5e3 * it.bolt_head_m + 1.5  # the bolt's own head stays free
        text(
            painter,
            beyond,
            17.5,
            (
                tr("{both_lengths} to the bolt: a guess, measure")
                if it.bolts_guessed
                else tr("{both_lengths} to the bolt")
            ).format(both_lengths=both_lengths(abs(near[0]))),
            2.6,
        )
    _figures(painter, it, 106.0, 30.5)
    ruler(painter, QPointF(6.0, height - 12.0))
    painter.restore()


def _cross(painter: QPainter, at: QPointF, half: float) -> None:
    painter.setPen(pen(0.2))
    painter.drawLine(QPointF(at.x() - half, at.y()), QPointF(at.x() + half, at.y()))
    painter.drawLine(QPointF(at.x(), at.y() - half), QPointF(at.x(), at.y() + half))


def _figures(painter: QPainter, it: EntryTemplate, x: float, y: float) -> None:
    held = tr("none needed") if not np.isfinite(it.threads) else number(it.threads, ".1f")
    rows = [
        (tr("hole"), both_lengths(it.hole_m, 2)),
        (tr("stop on the drill, bare of it"), both_lengths(it.stop_m)),
        (tr("keep clear behind"), both_lengths(it.behind_m, 0)),
        (tr("spanner circle"), both_lengths(2.0 * it.spanner_m, 0)),
        (tr("threads held"), held),
        (tr("from the wall's {edge} end").format(edge=it.edge), both_lengths(it.edge_m, 0)),
        (tr("fitting's outer end points"), _points(it.rise_deg)),
    ]
    for k, (name, value) in enumerate(rows):
        text(painter, x, y + 9.3 * k, name, 2.6)
        text(painter, x, y + 4.4 + 9.3 * k, value, 3.4, True)
    words, line = it.tool.split(), ""
    at = y + 9.3 * len(rows) + 1
    for word in [*words, ""]:
        if word and len(line) + len(word) < 24:
            line = f"{line} {word}".strip()
            continue
        text(painter, x, at, line, 2.8)
        at, line = at + 4.0, word


def _points(rise_deg: float) -> str:
    if abs(rise_deg) < 0.5:
        return tr("level")
    return (
        tr("{angle:.0f}° up").format(angle=rise_deg)
        if rise_deg > 0
        else tr("{angle:.0f}° down").format(angle=-rise_deg)
    )


def ruler(painter: QPainter, at: QPointF) -> None:
    """Paint the check ruler: exactly 100 mm between its end marks."""
    painter.setPen(pen(0.3))
    painter.drawLine(at, QPointF(at.x() + RULER_MM, at.y()))
    for k in range(0, 101, 5):
        tall = 5.0 if k % 50 == 0 else 3.5 if k % 10 == 0 else 2.0
        painter.drawLine(QPointF(at.x() + k, at.y()), QPointF(at.x() + k, at.y() - tall))
    text(
        painter,
        at.x(),
        at.y() + 4.2,
        tr("check: 100 mm end to end. If it is not, print again at 100 %, no fitting to the page."),
        2.6,
    )
