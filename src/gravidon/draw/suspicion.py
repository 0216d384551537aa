# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint suspicion as a map: the car's own oil path drawn pale, and over it the belief as a landscape whose height lines close in where the cause is likely to sit."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import contourpy
import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainterPath

from gravidon.draw.ink import Ink
from gravidon.draw.labels import Labels
from gravidon.draw.style import BODY, HAIR, LARGE, LINE, SMALL, font, wrapped
from gravidon.draw.whole_way import Scene, anchors_of, paint_scene, scale_of
from gravidon.physics.arrays import Array
from gravidon.study.solve.evaluate import Evaluation

LEVELS = (0.03, 0.07, 0.14, 0.25, 0.40, 0.60, 0.80)
"""[-] belief at each height line; project choice."""
LINES = 4
"""Most lines that a cause is told in; project choice."""
SPREAD_PX = 30.0
"""[px] over which a place's belief falls off, at scale 1; project choice."""
STEP_PX = 6.0
WORTH = 0.03
"""[-] belief from which a place is named; project choice."""
PALE = 0.62
"""Opacity of the sheet laid over the path, so that the landscape stands out."""


@dataclass(frozen=True)
class Spot:
    """A place on the map: key, name, belief, the likeliest cause there and its belief."""

    key: str
    name: str
    belief: float
    cause: str
    cause_belief: float


@dataclass
class Map:
    """What was painted, for clicks: names' rectangles and places by key."""

    rects: dict[str, QRectF] = field(default_factory=dict)
    at: dict[str, QPointF] = field(default_factory=dict)

    def spot_at(self, at: QPointF) -> str:
        """Return the place whose name or middle is under a pixel; empty if none."""
        for key, rect in self.rects.items():
            if rect.adjusted(-3, -3, 3, 3).contains(at):
                return key
        near = [(float(np.hypot(p.x() - at.x(), p.y() - at.y())), key) for key, p in self.at.items()]
        return min(near)[1] if near and min(near)[0] < 22.0 else ""


def places(s: Scene, e: Evaluation, k: float) -> dict[str, QPointF]:
    """Return where each place of a cause lies on the map [px]."""
    anchor = anchors_of(s, e)
    r, housing = s.ribbon, s.frame.polygon(s.view.housing).boundingRect()
    pans = s.frame.polygon(s.view.pans[0]).boundingRect()
    for pan in s.view.pans[1:]:
        pans = pans.united(s.frame.polygon(pan).boundingRect())
    middle = QPointF(0.5 * (r.x[0] + r.x[-2]), r.y)
    seals = s.frame.at(s.view.seal_point)
    found = {
        "gauge": QPointF(r.x[0] - 34 * k, r.y - 0.5 * r.half[0]),
        "gallery": QPointF(r.x[0] - 20 * k, r.y + 0.55 * r.half[0]),
        "joint": QPointF(r.x[0] + 36 * k, r.y),
        "feed": middle,
        "hole": QPointF(anchor["restrictor"].x(), r.y),
        "bearing": QPointF(housing.center().x(), housing.top() + 0.30 * housing.height()),
        "seal": QPointF(seals.x() + 0.85 * housing.width(), seals.y()),
        "housing": QPointF(housing.left() - 0.85 * housing.width(), housing.center().y()),
        "pipes": QPointF(housing.right() + 2.6 * housing.width(), housing.top() - 8 * k),
        "drain": anchor["drain"],
        "entry": s.frame.at(s.view.stations[-1]),
        "pan": QPointF(pans.center().x(), pans.bottom() - 20 * k),
        "case": QPointF(s.breather[0].center().x(), s.breather[0].center().y()),
        "engine": QPointF(pans.center().x(), pans.top() - 34 * k),
    }
    if "scavenge" in anchor:
        found["pump"] = anchor["scavenge"]
    return found


def paint(
    ink: Ink, rect: QRectF, e: Evaluation, condition: int, spots: Sequence[Spot], chosen: str = ""
) -> Map:
    """Paint the map; return where its places are.

    Args:
        ink: painter, colours, units.
        rect: the surface.
        e: the chosen turbo's evaluation.
        condition: the condition whose oil is drawn.
        spots: places with belief, in any order.
        chosen: key of the place that is looked at; empty: none.
    """
    painter, k = ink.painter, scale_of(rect)
    painter.save()
    painter.setRenderHint(painter.RenderHint.Antialiasing)
    painter.setFont(font(SMALL * k))
    scene = paint_scene(ink, rect, e, condition, k)
    painter.fillRect(rect, ink.palette.color("sheet", PALE))
    at = places(scene, e, k)
    known = [s for s in spots if s.key in at]
    _paint_landscape(ink, rect, {s.key: s.belief for s in known}, at, k)
    scene.labels.block([scene.breather[0]])
    made = Map(at={s.key: at[s.key] for s in known})
    _write(ink, scene.labels, sorted(known, key=lambda s: -s.belief), at, made, chosen, k)
    painter.restore()
    return made


def height(
    x: Array, y: Array, belief: Mapping[str, float], at: Mapping[str, QPointF], spread: float
) -> Array:
    """Return the landscape's height over points [px]: every place's belief, falling off from its middle; at a place that stands alone it is its belief.

    Equation: h = sum of b exp(-d²/(2 s²)), s growing with the root of the belief, so that area tells it as well as height.
    """
    total = np.zeros(np.broadcast_shapes(x.shape, y.shape))
    for key, b in belief.items():
        s = spread * (0.55 + 0.9 * float(np.sqrt(b)))
        total = total + b * np.exp(-((x - at[key].x()) ** 2 + (y - at[key].y()) ** 2) / (2.0 * s * s))
    return total


def _paint_landscape(
    ink: Ink, rect: QRectF, belief: Mapping[str, float], at: Mapping[str, QPointF], k: float
) -> None:
    x = np.arange(rect.left(), rect.right() + STEP_PX, STEP_PX)
    y = np.arange(rect.top(), rect.bottom() + STEP_PX, STEP_PX)
    h = height(x[None, :], y[:, None], belief, at, SPREAD_PX * k)
    if float(h.max(initial=0.0)) < LEVELS[0]:
        return
    made = contourpy.contour_generator(x, y, h, fill_type=contourpy.FillType.OuterOffset)
    p = ink.painter
    for n, level in enumerate(LEVELS):
        path = QPainterPath()
        for points, offsets in zip(*made.filled(level, np.inf), strict=True):
            for first, last in pairwise(offsets):
                ring = points[first:last]
                path.moveTo(QPointF(*ring[0]))
                for place in ring[1:]:
                    path.lineTo(QPointF(*place))
                path.closeSubpath()
        if path.isEmpty():
            break
        p.setPen(ink.palette.pen("heat", HAIR if n < 3 else LINE))
        p.setBrush(ink.palette.color("heat", 0.07 + 0.035 * n))
        p.drawPath(path)


def _write(
    ink: Ink,
    labels: Labels,
    spots: Sequence[Spot],
    at: Mapping[str, QPointF],
    made: Map,
    chosen: str,
    k: float,
) -> None:
    p = ink.painter
    for s in spots:
        b = s.belief
        reach = SPREAD_PX * k * (0.35 + 0.5 * float(np.sqrt(b)))
        if b >= WORTH:
            labels.block([QRectF(at[s.key].x() - reach, at[s.key].y() - reach, 2 * reach, 2 * reach)])
    for n, s in enumerate(spots):
        if s.belief < WORTH and s.key != chosen:
            continue
        large = font((LARGE if n == 0 else BODY) * k, bold=True)
        small = font(SMALL * k)
        title = f"{s.name}  {s.belief:.0%}"
        lines = wrapped(s.cause, 190.0 * k, small, LINES) if s.cause and s.belief >= WORTH else []
        wide = max(
            [
                QFontMetricsF(large).horizontalAdvance(title),
                *(QFontMetricsF(small).horizontalAdvance(t) for t in lines),
            ]
        )
        high = QFontMetricsF(large).height() + len(lines) * QFontMetricsF(small).height()
        placed = labels.place(at[s.key], QSizeF(wide + 6, high + 2)) or labels.anywhere(
            at[s.key], QSizeF(wide + 6, high + 2)
        )
        if placed is None:
            continue
        if placed.leader is not None:
            p.setPen(ink.palette.pen("focus" if s.key == chosen else "faint", HAIR))
            p.drawLine(*placed.leader)
        p.setPen(ink.palette.pen("focus", HAIR * 1.5) if s.key == chosen else Qt.PenStyle.NoPen)
        p.setBrush(ink.palette.color("raised" if s.key == chosen else "sheet", 0.9))
        p.drawRoundedRect(placed.rect.adjusted(-3, -1, 3, 1), 3, 3)
        x, y = placed.rect.left() + 3, placed.rect.top()
        p.setFont(large)
        p.setPen(ink.palette.color("ink"))
        p.drawText(QPointF(x, y + QFontMetricsF(large).ascent()), title)
        y += QFontMetricsF(large).height()
        p.setFont(small)
        p.setPen(ink.palette.color("faint"))
        for line in lines:
            p.drawText(QPointF(x, y + QFontMetricsF(small).ascent()), line)
            y += QFontMetricsF(small).height()
        made.rects[s.key] = placed.rect
