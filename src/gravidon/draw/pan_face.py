# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the pan's wall from outside, to scale: where an entry works, the oil's lines, bolts, baffles, obstacles."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, fitting, font
from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.units import in_inches
from gravidon.study.home.entry_map import EntryMap
from gravidon.study.home.oil_lines import oil_lines
from gravidon.study.solve import assemble
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.wall import ACROSS, Wall, bolt_places, spanner_room_m
from gravidon.words.text import tr

TOP, BOTTOM, SIDE = 46.0, 44.0, 126.0
NEAR_M = 0.10
"""[m] from the wall within which a thing is drawn on it; project choice."""


@dataclass(frozen=True)
class FaceFrame:
    """Places on a wall [m] to pixels, seen from outside the pan: scale [px/m], origin, and which way along runs."""

    scale: float
    x0: float
    y0: float
    sign: float

    def at(self, along_m: float, up_m: float) -> QPointF:
        """Return the pixel of a place."""
        return QPointF(self.x0 + self.sign * self.scale * along_m, self.y0 - self.scale * up_m)

    def back(self, pixel: QPointF) -> tuple[float, float]:
        """Return the place [m] of a pixel."""
        return (pixel.x() - self.x0) / (self.sign * self.scale), (self.y0 - pixel.y()) / self.scale


def frame_in(rect: QRectF, walls: Sequence[Wall]) -> FaceFrame:
    """Return the frame that shows all walls of one side."""
    low, high = min(w.low_m for w in walls), max(w.high_m for w in walls)
    floor, rail = min(w.floor_m for w in walls), max(w.rail_m for w in walls)
    scale = min(
        (rect.width() - 2 * SIDE) / (high - low), (rect.height() - TOP - BOTTOM) / max(rail - floor, 0.02)
    )
    sign = ACROSS[walls[0].name]
    x0 = rect.center().x() - sign * scale * 0.5 * (low + high)
    y0 = rect.top() + TOP + 0.5 * (rect.height() - TOP - BOTTOM) + scale * 0.5 * (rail + floor)
    return FaceFrame(scale, x0, y0, sign)


def paint(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    condition: int,
    walls: Sequence[Wall],
    maps: Sequence[EntryMap],
    fresh: bool,
    held: bool,
) -> None:
    """Paint the whole face; `fresh` tells whether the shading belongs to the plan as it is now."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setClipRect(rect)
    ink.painter.setFont(font(SMALL))
    frame = frame_in(rect, walls)
    ink.painter.setOpacity(1.0 if fresh else 0.45)
    for made in maps:
        _shading(ink, frame, made)
    ink.painter.setOpacity(1.0)
    for wall in walls:
        _wall(ink, frame, e, wall)
    _things(ink, frame, e, walls[0])
    for wall in walls:
        _oil(ink, rect, frame, e, condition, wall)
    _best(ink, frame, maps)
    _entry(ink, frame, e, walls[0], held)
    _notes(ink, rect, frame, e, walls, fresh)
    ink.painter.restore()


def _shading(
    ink: Ink,
    frame: FaceFrame,
    made: EntryMap,
) -> None:
    """Places that work: a wash with a fine cross; those that fail for seconds only: hatched."""
    works, passable = made.works, made.passable
    dx, dy = np.diff(made.along_m).mean(), np.diff(made.up_m).mean()
    for i, up in enumerate(made.up_m):
        for j, along in enumerate(made.along_m):
            if not passable[i, j]:
                continue
            a, b = frame.at(along - dx / 2, up + dy / 2), frame.at(along + dx / 2, up - dy / 2)
            cell = QRectF(a, b).normalized()
            if works[i, j]:
                ink.painter.fillRect(cell, ink.palette.color("good", 0.30))
                ink.painter.setPen(ink.palette.pen("good", HAIR))
                c = cell.center()
                ink.painter.drawLine(QPointF(c.x() - 2.5, c.y()), QPointF(c.x() + 2.5, c.y()))
                ink.painter.drawLine(QPointF(c.x(), c.y() - 2.5), QPointF(c.x(), c.y() + 2.5))
            else:
                ink.painter.setPen(ink.palette.pen("watch", HAIR))
                ink.painter.drawLine(cell.bottomLeft(), cell.topRight())


def _wall(
    ink: Ink,
    frame: FaceFrame,
    e: Evaluation,
    wall: Wall,
) -> None:
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    ink.painter.setPen(ink.palette.pen("wall", BOLD))
    box = QRectF(frame.at(wall.low_m, wall.rail_m), frame.at(wall.high_m, wall.floor_m)).normalized()
    ink.painter.drawPolyline(QPolygonF([box.topLeft(), box.bottomLeft(), box.bottomRight(), box.topRight()]))
    ink.painter.setPen(ink.palette.pen("wall", LINE))
    ink.painter.setBrush(ink.palette.color("metal", 0.45))
    ink.painter.drawRect(QRectF(box.left() - 5, box.top() - 9, box.width() + 10, 9))
    size = max(0.35 * si(e.plan.sump, "bolt_head_mm") * frame.scale, 4.0)
    ink.painter.setBrush(ink.palette.color("raised"))
    for place in bolt_places(e.plan, wall):
        at = frame.at(float(place), wall.rail_m)
        points = [
            QPointF(at.x() + size * np.cos(a), at.y() - 4 + size * np.sin(a))
            for a in np.arange(6) * np.pi / 3
        ]
        ink.painter.drawPolygon(QPolygonF(points))


def _things(
    ink: Ink,
    frame: FaceFrame,
    e: Evaluation,
    wall: Wall,
) -> None:
    """Baffles and what stands inside, dotted; what stands outside, solid."""
    for baffle in e.plan.sump.baffles:
        if (baffle.across == "forward") == (wall.axis == 1):
            at = baffle.at_mm * 1e-3
            floor = min(box.corner.z_mm for box in e.plan.sump.boxes) * 1e-3
            ink.painter.setPen(ink.palette.pen("ink", LINE, Qt.PenStyle.DashLine))
            ink.painter.drawLine(frame.at(at, wall.rail_m), frame.at(at, floor))
            spot = frame.at(at, floor)
            marks.halo_text(ink, QPointF(spot.x(), spot.y() + 15), "baffle", "faint", "centre")
    for k, rect in shape_rects(frame, e, wall).items():
        shape = e.plan.shapes[k]
        inside = shape.thing.inside
        marks.thing(ink, rect, shape.thing)
        text = f"{shape.label}{tr(', inside') if inside else ''}"
        marks.halo_text(
            ink, QPointF(rect.center().x(), rect.center().y() + 4), text, shape.thing.ink, "centre"
        )


def shape_rects(frame: FaceFrame, e: Evaluation, wall: Wall) -> dict[int, QRectF]:
    """Return where the things near a wall are drawn, by their number in the plan."""
    other, found = 1 - wall.axis, {}
    for k, shape in enumerate(e.plan.shapes):
        low, high = assemble.box_of(shape)
        if min(abs(low[wall.axis] - wall.plane_m), abs(high[wall.axis] - wall.plane_m)) <= NEAR_M:
            found[k] = QRectF(frame.at(low[other], high[2]), frame.at(high[other], low[2])).normalized()
    return found


def _oil(
    ink: Ink,
    rect: QRectF,
    frame: FaceFrame,
    e: Evaluation,
    condition: int,
    wall: Wall,
) -> None:
    """Every condition's oil line, thin; the chosen one bold with its oil under it; key-off and running named."""
    lines: Array = oil_lines(e, wall)
    ink.painter.save()
    box = QRectF(frame.at(wall.low_m, wall.rail_m + 0.02), frame.at(wall.high_m, wall.floor_m)).normalized()
    ink.painter.setClipRect(box, Qt.ClipOperation.IntersectClip)
    for k, (a, b) in enumerate(lines):
        ends = frame.at(wall.low_m, float(a)), frame.at(wall.high_m, float(b))
        if k == condition:
            foot = frame.at(wall.high_m, wall.floor_m), frame.at(wall.low_m, wall.floor_m)
            ink.painter.setPen(Qt.PenStyle.NoPen)
            ink.painter.setBrush(ink.palette.color("oil", 0.22))
            ink.painter.drawPolygon(QPolygonF([*ends, *foot]))
        still = not e.plan.conditions[k].kind.turning
        ink.painter.setPen(
            ink.palette.pen(
                "oil",
                BOLD if k == condition else HAIR,
                Qt.PenStyle.DashLine if still else Qt.PenStyle.SolidLine,
            )
        )
        ink.painter.drawLine(*ends)
    ink.painter.restore()


def _best(
    ink: Ink,
    frame: FaceFrame,
    maps: Sequence[EntryMap],
) -> None:
    for number, (along, up) in enumerate(best_places(maps), start=1):
        at = frame.at(along, up)
        ink.painter.save()
        ink.painter.translate(at)
        ink.painter.rotate(45)
        ink.painter.setPen(ink.palette.pen("good", LINE))
        ink.painter.setBrush(ink.palette.color("raised"))
        ink.painter.drawRect(QRectF(-8, -8, 16, 16))
        ink.painter.restore()
        ink.painter.setPen(ink.palette.color("good"))
        ink.painter.drawText(
            QRectF(at.x() - 10, at.y() - 10, 20, 20), int(Qt.AlignmentFlag.AlignCenter), str(number)
        )


def best_places(maps: Sequence[EntryMap]) -> list[tuple[float, float]]:
    """Return the best places over all walls of a side, best first, at most four."""
    found = [(m, place) for m in maps for place in m.best]

    def rank(pair: tuple[EntryMap, tuple[float, float]]) -> tuple[bool, float]:
        made, (along, up) = pair
        i, j = int(np.abs(made.up_m - up).argmin()), int(np.abs(made.along_m - along).argmin())
        return (not bool(made.works[i, j]), -float(made.margin_mm[i, j]))

    return [place for _, place in sorted(found, key=rank)[:4]]


def _entry(ink: Ink, frame: FaceFrame, e: Evaluation, wall: Wall, held: bool) -> None:
    entry = assemble.point(e.line.drain.entry)
    at = frame.at(float(entry[1 - wall.axis]), float(entry[2]))
    bore = 0.5 * si(e.line.drain.fitting, "bore_mm") * frame.scale
    spanner = spanner_room_m(e.plan, e.index) * frame.scale
    ink.painter.setPen(ink.palette.pen("ink", HAIR, Qt.PenStyle.DashLine))
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    ink.painter.drawEllipse(at, spanner, spanner)
    ink.painter.setPen(ink.palette.pen("focus" if held else "ink", BOLD))
    ink.painter.setBrush(ink.palette.color("sheet"))
    ink.painter.drawEllipse(at, max(bore, 4.0) + 3, max(bore, 4.0) + 3)
    ink.painter.setBrush(ink.palette.color("oil", 0.5))
    ink.painter.drawEllipse(at, max(bore, 3.0), max(bore, 3.0))


def _notes(
    ink: Ink,
    rect: QRectF,
    frame: FaceFrame,
    e: Evaluation,
    walls: Sequence[Wall],
    fresh: bool,
) -> None:
    name = walls[0].name
    ink.painter.setPen(ink.palette.color("faint"))
    title = tr("the pan's {name} wall from outside, to scale").format(name=tr(name))
    if not fresh:
        title += tr("; the shading is being worked out again")
    ink.painter.drawText(QPointF(rect.left() + 12, rect.top() + 14), title)
    ends = {
        "right": (tr("rear"), tr("front")),
        "left": (tr("front"), tr("rear")),
        "front": (tr("right"), tr("left")),
        "rear": (tr("left"), tr("right")),
    }[name]
    y = rect.top() + 32
    for word, x, side in ((ends[0], rect.left() + 12, "left"), (ends[1], rect.right() - 12, "right")):
        marks.halo_text(ink, QPointF(x, y), word, "faint", side)
    keys = [
        (tr("works in every condition"), "good"),
        (tr("fails for seconds only"), "watch"),
        (tr("oil in the chosen condition"), "oil"),
        (tr("oil, other conditions"), "line"),
    ]
    bar, label = (0.0508, "2 in") if in_inches(ink.family) else (0.05, "50 mm")
    room = rect.width() - 44 - bar * frame.scale - 39 * len(keys)
    ink.painter.setFont(fitting(" ".join(text for text, _ in keys), QSizeF(room, 16), SMALL))
    x = rect.left() + 12.0
    y = rect.bottom() - 12
    for text, colour in keys:
        swatch = QRectF(x, y - 10, 16, 11)
        if colour == "good":
            ink.painter.fillRect(swatch, ink.palette.color("good", 0.30))
            ink.painter.setPen(ink.palette.pen("good", HAIR))
            ink.painter.drawLine(QPointF(x + 5, y - 4.5), QPointF(x + 11, y - 4.5))
            ink.painter.drawLine(QPointF(x + 8, y - 7.5), QPointF(x + 8, y - 1.5))
        elif colour == "watch":
            ink.painter.setPen(ink.palette.pen("watch", HAIR))
            for step in (0, 6, 11):
                ink.painter.drawLine(QPointF(x + step, y), QPointF(x + step + 5, y - 9))
        else:
            ink.painter.setPen(ink.palette.pen("oil", BOLD if colour == "oil" else HAIR))
            ink.painter.drawLine(QPointF(x, y - 4), QPointF(x + 16, y - 4))
        ink.painter.setPen(ink.palette.color("faint"))
        ink.painter.drawText(QPointF(x + 21, y), text)
        x += 21 + ink.painter.fontMetrics().horizontalAdvance(text) + 18
    ink.painter.setFont(font(SMALL))
    ink.painter.setPen(ink.palette.pen("ink", LINE))
    end = rect.right() - 14
    ink.painter.drawLine(QPointF(end - bar * frame.scale, y - 4), QPointF(end, y - 4))
    for at in (end - bar * frame.scale, end):
        ink.painter.drawLine(QPointF(at, y - 8), QPointF(at, y))
    ink.painter.drawText(QPointF(end - bar * frame.scale, y - 12), label)
