# SPDX-License-Identifier: GPL-3.0-or-later
"""What is marked along a drawn drain: things beside it, chokes, full stretches, dips, gaps; and free places for words."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from gravidon.draw import marks
from gravidon.draw.frame import Frame
from gravidon.draw.geometry.elevation import Elevation
from gravidon.draw.ink import Ink
from gravidon.draw.style import BOLD, HAIR, LINE
from gravidon.physics.arrays import Array
from gravidon.plan.units import show
from gravidon.study.judge.home import filling_judged
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.run_review import review
from gravidon.words.text import tr

OTHER_MM = 14.0
"""How wide the other turbos' drains are drawn; project choice."""


def normals(picture: Elevation) -> Array:
    """Return, per piece, the unit normal to the pipe that points up along effective gravity."""
    along = np.diff(picture.stations, axis=0)
    length = np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-6)
    normal = np.stack([-along[:, 1], along[:, 0]], axis=1) / length
    facing = np.sign(normal @ picture.up)
    result: Array = normal * np.where(facing == 0.0, 1.0, facing)[:, None]
    return result


def blocks(
    ink: Ink,
    frame: Frame,
    picture: Elevation,
) -> None:
    """The things that stand beside the drain: hot ones washed red, chafing ones hatched, solid ones filled."""
    for block in picture.blocks:
        rect = QRectF(frame.at(block.low), frame.at(block.high)).normalized()
        marks.thing(ink, rect, block.thing)


def block_labels(
    ink: Ink,
    frame: Frame,
    picture: Elevation,
) -> None:
    metrics = ink.painter.fontMetrics()
    clip = ink.painter.clipBoundingRect()
    for block in picture.blocks:
        rect = QRectF(frame.at(block.low), frame.at(block.high)).normalized()
        if block.thing.inside or not rect.intersects(clip):
            continue
        text = f"{block.label}, {block.thing.mark}"
        width = metrics.horizontalAdvance(text)
        x = min(max(rect.center().x(), clip.left() + width / 2 + 8), clip.right() - width / 2 - 8)
        for y in (rect.top() - 6, rect.bottom() + 14, rect.center().y()):
            place = QRectF(x - width / 2 - 3, y - metrics.ascent(), width + 6, metrics.height())
            if clip.contains(place) and not any(
                place.intersects(other) for other in (*ink.taken, *ink.words)
            ):
                marks.halo_text(ink, QPointF(x, y), text, block.thing.ink, "centre")
                break


def others(
    ink: Ink,
    frame: Frame,
    picture: Elevation,
) -> None:
    """The other turbos' drains and the feeds, thin."""
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    for line in picture.feeds:
        for colour, width in (("wall", 4.0), ("oil", 2.0)):
            ink.painter.setPen(ink.palette.pen(colour, width))
            ink.painter.drawPolyline(frame.polygon(line))
    for line in picture.others:
        ink.painter.setPen(ink.palette.pen("line", OTHER_MM * frame.scale))
        ink.painter.drawPolyline(frame.polygon(line))
        ink.painter.setPen(ink.palette.pen("faint", HAIR, Qt.PenStyle.DashLine))
        ink.painter.drawPolyline(frame.polygon(line))


def faults(
    ink: Ink,
    frame: Frame,
    e: Evaluation,
    condition: int,
    picture: Elevation,
    words: bool,
) -> None:
    """Where the run chokes, runs full, dips, or comes too near to something: drawn at the place."""
    r = review(e)
    bores = picture.bore_mm
    normal = normals(picture)
    for i in range(1, len(bores)):
        if bores[i] < 0.93 * bores[i - 1] and bores[i] < 0.97 * e.line.drain.hose_bore_mm:
            at, n = picture.stations[i], normal[i]
            ink.painter.setPen(ink.palette.pen("watch", BOLD))
            for side in (1.0, -1.0):
                tip, foot = at + side * n * 0.5 * bores[i], at + side * n * (0.5 * bores[i - 1] + 9.0)
                ink.painter.drawLine(frame.at(foot), frame.at(tip))
            if words and bores[i] < 0.9 * e.line.drain.hose_bore_mm:
                text = tr("narrows to {amount}").format(amount=show(bores[i] * 1e-3, "bore", ink.family))
                _beside(ink, frame, at, n, text, "watch")
    edges = np.flatnonzero(np.diff(np.concatenate([[0], picture.full[:-1].astype(int), [0]])))
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    for a, b in zip(edges[::2], edges[1::2], strict=True):
        shade = "bad" if filling_judged(e)[condition] else "ink"
        ink.painter.setPen(ink.palette.pen(shade, LINE, Qt.PenStyle.DotLine))
        for side in (1.0, -1.0):
            rows = np.arange(a, b)
            line = picture.stations[rows] + side * normal[rows] * (0.5 * bores[rows, None] + 4.0)
            ink.painter.drawPolyline(
                frame.polygon(np.concatenate([line, line[-1:] + np.diff(picture.stations, axis=0)[b - 1]]))
            )
        if words:
            middle = (a + b) // 2
            _beside(
                ink,
                frame,
                picture.stations[middle],
                normal[min(middle, len(normal) - 1)],
                tr("runs full"),
                shade,
            )
    if words and r.dip_m[condition] > 0.002:
        at = picture.stations[int(r.dip_station[condition])]
        text = tr("{amount} stay lying here").format(amount=show(float(r.dip_m[condition]), "mm", ink.family))
        _beside(ink, frame, at, -picture.up, text, "watch")
    for near in r.near:
        if near.gap_m < near.need_m and near.gap_m > 0.0:
            block = next(b for b in picture.blocks if b.label == near.shape.label)
            here = picture.stations[near.station]
            there = np.clip(here, block.low, block.high)
            ink.painter.setPen(ink.palette.pen("bad", LINE))
            marks.arrow(ink.painter, frame.at(here), frame.at(there), 5.0, both=True)
            if not words:
                continue
            text = tr("{gap}, wants {need}").format(
                gap=show(near.gap_m, "mm", ink.family), need=show(near.need_m, "mm", ink.family)
            )
            _beside(ink, frame, 0.5 * (here + there), np.array([0.0, 1.0]), text, "bad")


def _beside(
    ink: Ink,
    frame: Frame,
    at: Array,
    normal: Array,
    text: str,
    colour: str,
) -> None:
    """Write beside a place of the run, clear of what is written."""
    spot = frame.at(at)
    along = np.array([normal[1], normal[0]])
    along = along / max(float(np.linalg.norm(along)), 1e-6)
    rect = free_place(ink.painter, text, spot, along, 26.0, [*ink.taken, *ink.words])
    baseline = QPointF(rect.left() + 3, rect.bottom() - ink.painter.fontMetrics().descent() - 1)
    marks.clear_text(ink, baseline, text, colour)


def free_place(
    painter: QPainter, text: str, middle: QPointF, along: Array, gap: float, taken: list[QRectF]
) -> QRectF:
    """Return a rectangle beside a line where a label overlaps nothing written so far."""
    metrics = painter.fontMetrics()
    width, height = metrics.horizontalAdvance(text) + 6, metrics.height() + 2
    clip = painter.clipBoundingRect()
    best, least = QRectF(), float("inf")
    for distance in (gap, gap + 18, gap + 36, gap + 58, gap + 84, gap + 112):
        for side in (1.0, -1.0):
            n = np.array([-along[1], along[0]]) * side
            x = middle.x() + n[0] * distance + (n[0] - 1) * width / 2
            y = middle.y() + n[1] * distance - height / 2
            if clip.isValid():
                x = min(max(x, clip.left() + 3), clip.right() - width - 3)
                y = min(max(y, clip.top() + 3), clip.bottom() - height - 3)
            rect = QRectF(x, y, width, height)
            covers = [rect.intersected(other) for other in taken if rect.intersects(other)]
            covered = sum(c.width() * c.height() for c in covers)
            if covered < least:
                best, least = rect, covered
            if not covers:
                return rect
    return best


def ghost(ink: Ink, frame: Frame, picture: Elevation) -> None:
    """Another plan's run and entry, dashed: what a remedy would make of this one."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    normal = normals(picture)
    half = 0.5 * picture.bore_mm[:, None] * normal
    ink.painter.setPen(ink.palette.pen("good", LINE, Qt.PenStyle.DashLine))
    for side in (half, -half):
        ink.painter.drawPolyline(
            frame.polygon(np.concatenate([picture.stations[:-1] + side, picture.stations[-1:] + side[-1:]]))
        )
    for oil in picture.oils:
        if len(oil) > 2:
            ink.painter.setPen(ink.palette.pen("good", HAIR, Qt.PenStyle.DotLine))
            ink.painter.drawPolygon(frame.polygon(oil))
    ink.painter.restore()
