# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the whole way of the oil in one picture: pressure spent along the feed as a ribbon, the turbo in its seat, the fall
home to scale, the pan's oil; every station at its place, every fault hanging where it happens."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPolygonF

from gravidon.draw import elevation as drawing
from gravidon.draw import run_marks
from gravidon.draw.frame import Frame
from gravidon.draw.geometry.elevation import Elevation, elevation
from gravidon.draw.ink import Ink
from gravidon.draw.labels import Labels
from gravidon.draw.oil_ribbon import Ribbon, outline, paint_ribbon, ribbon_of
from gravidon.draw.style import LINE, SMALL, font
from gravidon.draw.whole_way_words import (
    Picture,
    hang_flags,
    hung,
    lay_out,
    write_caption,
    write_figures,
    write_names,
    write_pressures,
)
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.supply.cascade import cascade
from gravidon.study.verdict.finding import Finding

STRUCT = 0.30
"""Share of the height that the ribbon's lane takes; project choice."""
TAP_PX = 26.0
"""How far along the ribbon the tap's name and faults hang; project choice."""
BEAD_PX = 22.0
"""[px] between two bubbles that show how the oil creeps."""


def scale_of(rect: QRectF) -> float:
    """Return by how much type and lines grow with the window [-]."""
    return float(np.clip(min(rect.width() / 1060.0, rect.height() / 560.0), 0.92, 1.6))


def paint(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    condition: int,
    findings: Sequence[Finding],
    guesses: Mapping[str, int],
    hovered: str = "",
    chosen: str = "",
    ghost: Evaluation | None = None,
) -> Picture:
    """Paint the picture; return where its stations and flags are.

    Args:
        ink: painter, colours, units.
        rect: the surface.
        e: the chosen turbo's evaluation.
        condition: which condition drives it.
        findings: what is found, worst first; those to be acted on become flags.
        guesses: how many guesses each station rests on, by its key.
        hovered: the station under the mouse.
        chosen: the station chosen by key.
        ghost: what a remedy would make of the plan, drawn dashed over it.
    """
    painter, k = ink.painter, scale_of(rect)
    painter.save()
    painter.setFont(font(SMALL * k))
    s = paint_scene(ink, rect, e, condition, k)
    if ghost is not None:
        run_marks.ghost(ink, s.frame, elevation(ghost, condition, "front"))
        after = ribbon_of(cascade(ghost, condition, ink.family), s.lane, s.turbo.x(), k)
        ink.painter.setPen(ink.palette.pen("good", LINE * k, Qt.PenStyle.DashLine))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPath(outline(after, s.inlet))
    block_drawn(s)
    anchors = anchors_of(s, e)
    made = Picture(way=s.way())
    write_pressures(ink, s.labels, s.ribbon, k)
    shown = hung(findings)
    at = lay_out(s.labels, anchors, guesses, shown, s.ribbon.y, k)
    write_names(ink, at.names, anchors, guesses, made, hovered, chosen, findings, k)
    hang_flags(ink, at.flags, shown, made, k)
    write_caption(ink, at.labels, rect, e, condition, k)
    write_figures(ink, at.labels, s.ribbon, s.gate, s.frame, s.view, e, condition, k)
    painter.restore()
    return made


@dataclass(frozen=True)
class Scene:
    """The way as painted, without words: lane of the ribbon, the ribbon, frame and elevation of what lies below it, middle and top of the housing, the breather's can and line, free room for labels."""

    lane: QRectF
    ribbon: Ribbon
    frame: Frame
    view: Elevation
    turbo: QPointF
    inlet: QPointF
    breather: tuple[QRectF, QPolygonF]
    labels: Labels

    @property
    def gate(self) -> QRectF:
        """What the bearing wants, painted across the feed as a gate."""
        r, half = self.ribbon, self.ribbon.half[0] + 3
        y = 0.55 * (r.y + r.half[-2]) + 0.45 * self.inlet.y()
        return QRectF(self.inlet.x() - half, y - 11, 2 * half, 22)

    def way(self) -> list[QPointF]:
        """Return the way that the oil takes [px], gallery to pan."""
        r = self.ribbon
        corners = [QPointF(r.x[0] - 40 * r.k, r.y), QPointF(self.turbo.x(), r.y), self.inlet]
        return [*corners, *(self.frame.at(p) for p in self.view.stations)]


def paint_scene(ink: Ink, rect: QRectF, e: Evaluation, condition: int, k: float) -> Scene:
    """Paint the way without a word: ribbon, housing, drain, pan, breather."""
    lane = QRectF(
        rect.left() + 20,
        rect.top() + 8,
        rect.width() - 40,
        min(max(rect.height() * STRUCT, 136.0 * k), 0.40 * rect.height()),
    )
    view = elevation(e, condition, "front")
    body = QRectF(
        rect.left() + 0.30 * rect.width(),
        lane.bottom() - 6,
        0.68 * rect.width(),
        rect.bottom() - lane.bottom() + 2,
    )
    steps = cascade(e, condition, ink.family)
    frame = _clear_of_the_lane(
        drawing.fit(view, body, 34.0), view, rect, lane.left() + (74.0 + 58.0 * len(steps)) * k
    )
    labels = Labels(rect.adjusted(6, 4, -6, -6))
    drawing.paint_behind(ink, rect, frame, view)
    turbo = frame.at(view.housing.mean(axis=0))
    top = frame.polygon(view.housing).boundingRect().top()
    ribbon = ribbon_of(steps, lane, turbo.x(), k)
    paint_ribbon(ink, ribbon, QPointF(turbo.x(), top), e, condition)
    _paint_run(ink, frame, e, condition, view)
    breather = _paint_breather(ink, rect, frame, view, e, condition, k)
    return Scene(lane, ribbon, frame, view, turbo, QPointF(turbo.x(), top), breather, labels)


def paint_beads(ink: Ink, way: Sequence[QPointF], gone: float, k: float) -> None:
    """Paint bubbles along the oil's way, all `gone` pixels further than at rest, fading in and out with nothing else changed."""
    ink.painter.save()
    ink.painter.setRenderHint(ink.painter.RenderHint.Antialiasing)
    ink.painter.setPen(Qt.PenStyle.NoPen)
    ink.painter.setBrush(ink.palette.color("raised", 0.85))
    at = np.array([(p.x(), p.y()) for p in way])
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(at, axis=0), axis=1))])
    for s in np.arange(gone % BEAD_PX, along[-1], BEAD_PX):
        x, y = np.interp(s, along, at[:, 0]), np.interp(s, along, at[:, 1])
        ink.painter.drawEllipse(QPointF(float(x), float(y)), 1.8 * k, 1.8 * k)
    ink.painter.restore()


def _clear_of_the_lane(frame: Frame, view: Elevation, rect: QRectF, wanted: float) -> Frame:
    """Return the frame moved to the right until the ribbon has its length, as far as there is room."""
    turbo = frame.at(view.housing.mean(axis=0)).x()
    points = np.concatenate([view.stations, view.housing, *view.pans])
    spare = rect.right() - 90.0 - frame.at(points.max(axis=0)).x()
    return Frame(
        frame.scale,
        QPointF(frame.origin.x() + float(np.clip(wanted - turbo, 0.0, max(spare, 0.0))), frame.origin.y()),
    )


def _paint_run(ink: Ink, frame: Frame, e: Evaluation, condition: int, view: Elevation) -> None:
    air = float(e.plan.conditions[condition].air_fraction)
    drawing.paint_oil_and_walls(ink, frame, e, view, air)


def _paint_breather(
    ink: Ink, rect: QRectF, frame: Frame, view: Elevation, e: Evaluation, condition: int, k: float
) -> tuple[QRectF, QPolygonF]:
    """The crankcase's breath: a pipe from over the pan to its can; its gas is not oil, so it is drawn thin and pale."""
    p, painter = ink.palette, ink.painter
    pans = QRectF()
    for pan in view.pans:
        pans = pans.united(frame.polygon(pan).boundingRect())
    right = frame.at(view.flange).x() < pans.center().x()  # on the side where the drain does not come down
    x = (
        min(pans.right() + 44 * k, rect.right() - 44 * k)
        if right
        else max(pans.left() - 78 * k, rect.left() + 10)
    )
    can = QRectF(x, max(pans.top() - 92 * k, rect.top() + 0.4 * rect.height()), 32 * k, 44 * k)
    foot = QPointF(pans.right() - 12 if right else pans.left() + 12, pans.top())
    side = can.left() if right else can.right()
    line = QPolygonF([foot, QPointF(foot.x(), can.center().y()), QPointF(side, can.center().y())])
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(p.pen("line", 7 * k))
    painter.drawPolyline(line)
    painter.setPen(p.pen("sheet", 4 * k))
    painter.drawPolyline(line)
    painter.setPen(p.pen("wall", LINE * k))
    painter.setBrush(p.color("raised"))
    painter.drawRoundedRect(can, 4, 4)
    return can, line


def _end_on(view: Elevation) -> bool:
    """Whether one looks along the shaft: both wheels then lie over one another."""
    return float(np.linalg.norm(view.seals[0][0] - view.seals[1][0])) < 1.0


def block_drawn(s: Scene) -> None:
    """Keep labels off what is drawn."""
    labels, r, frame, view, inlet = s.labels, s.ribbon, s.frame, s.view, s.inlet
    labels.block([r.block.adjusted(-4, -2, 4, 2)])
    for n in range(len(r.x) - 1):
        h = r.half[n] + 3.0
        labels.block([QRectF(r.x[n] - 2, r.y - h, max(r.x[n + 1] - r.x[n], 0.0) + 2, 2 * h)])
    labels.block_line([QPointF(inlet.x(), r.y), inlet], 2.0 * max(r.half[-2], 6.0) + 8.0)
    labels.block([s.gate])
    housing = frame.polygon(view.housing).boundingRect()
    wheels = 0.42 * housing.height() if _end_on(view) else 0.62 * housing.height()
    labels.block([housing.adjusted(-wheels, -4, wheels, 4)])
    labels.block_polygon(frame.polygon(view.stations), float(view.bore_mm.max()) * frame.scale + 16.0)
    for other in view.others:
        labels.block_polygon(frame.polygon(other), run_marks.OTHER_MM * frame.scale + 4.0)
    for pan in view.pans:
        labels.block_polygon(frame.polygon(np.concatenate([pan, pan[:1]])), 4.0)
    for oil in view.oils:
        if len(oil) > 2:
            box = frame.polygon(oil).boundingRect()
            labels.block_line([box.topLeft(), box.topRight()], 5.0)
    labels.block(
        [
            frame.polygon(
                np.array([b.low, [b.high[0], b.low[1]], b.high, [b.low[0], b.high[1]]])
            ).boundingRect()
            for b in view.blocks
        ]
    )
    labels.block([s.breather[0]])
    labels.block_polygon(s.breather[1], 9.0)


def anchors_of(s: Scene, e: Evaluation) -> dict[str, QPointF]:
    """Return where every station has its place in the picture [px]."""
    r, frame, view, turbo, breather = s.ribbon, s.frame, s.view, s.turbo, s.breather
    holes = [n for n, s in enumerate(r.steps) if s.kind == "hole"]
    hoses = [n for n, s in enumerate(r.steps) if s.kind == "hose"]
    middle = len(view.stations) // 2
    pans = [frame.polygon(pan).boundingRect() for pan in view.pans]
    lowest = max(pans, key=lambda b: b.bottom())

    def over(n: int) -> QPointF:
        return QPointF(0.5 * (r.x[n] + r.x[n + 1]), r.y - max(r.half[n], 6.0))

    found = {
        "car": QPointF(r.block.left() + 2, r.block.bottom()),
        "tap": QPointF(r.x[0] + TAP_PX, r.y - r.half[0]),
        "feed": over(hoses[0]) if hoses else over(0),
        "restrictor": over(holes[0]) if holes else over(max(len(r.steps) - 2, 0)),
        "map": QPointF(turbo.x(), r.y + r.half[-2] + 6),
        "seat": turbo,
        "drain": frame.at(view.stations[middle]),
        "entry": frame.at(view.stations[-1]),
        "sump": QPointF(lowest.center().x(), lowest.bottom() - 6),
        "breather": QPointF(breather[0].center().x(), breather[0].top()),
    }
    if e.line.drain_by == "scavenge":
        found["scavenge"] = found.pop("entry")
    return found
