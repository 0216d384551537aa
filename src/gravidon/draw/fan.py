# SPDX-License-Identifier: GPL-3.0-or-later
"""Plans drawn together: their oil's ways as strands through one car, and each hung on a plumb line by one merit.

The higher a plan hangs, the better it is by that merit: what costs more weighs more. Strands that run together are a rope;
where they part, the plans differ.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from gravidon.draw import elevation as drawn
from gravidon.draw import marks
from gravidon.draw.frame import Frame
from gravidon.draw.geometry.elevation import Elevation, View, elevation, project
from gravidon.draw.ink import Ink
from gravidon.draw.labels import Labels
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, VERDICT_COLOR, fitting, font
from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.study.planning.merit import AXES, BY_AXIS, Merit
from gravidon.study.solve.drain_route import flange_centre, route
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.feed_line import feed_line
from gravidon.words.text import capital, tr

NOW = ""
"""The letter of the plan as it stands: it has none."""
BOARD_SHARE = 0.36
"""Share of the width that the plumb lines take; project choice."""


@dataclass(frozen=True, eq=False)
class Strand:
    """One plan in the picture: its letter, the names it won, its merit, and its ways through the car [m]: drains, feeds, and where
    drains enter the pan."""

    letter: str
    names: tuple[str, ...]
    merit: Merit
    drains: tuple[Array, ...]
    feeds: tuple[Array, ...]


def strand(letter: str, names: tuple[str, ...], plan: Plan, merit: Merit) -> Strand:
    """Return a plan as a strand."""
    drains = tuple(route(plan, it).corners_m for it in plan.turbos)
    feeds = tuple(line for k in range(len(plan.turbos)) if (line := feed_line(plan, k)) is not None)
    return Strand(letter, names, merit, drains, feeds)


@dataclass
class FanPicture:
    """What can be pointed at: bobs and strands by letter, tabs by axis."""

    bobs: list[tuple[str, QRectF]] = field(default_factory=list)
    lines: list[tuple[str, QPolygonF]] = field(default_factory=list)
    tabs: list[tuple[str, QRectF]] = field(default_factory=list)

    def plan_at(self, at: QPointF) -> str | None:
        """Return the letter of the plan at a place; None if there is none."""
        for letter, rect in self.bobs:
            if rect.adjusted(-6, -6, 6, 6).contains(at):
                return letter
        near = [(far, letter) for letter, line in self.lines if (far := _far(line, at)) < 7.0]
        return min(near)[1] if near else None

    def axis_at(self, at: QPointF) -> str:
        """Return the axis whose name stands at a place; empty if none does."""
        return next((key for key, rect in self.tabs if rect.contains(at)), "")


def _far(line: QPolygonF, at: QPointF) -> float:
    points = np.array([(line.at(k).x(), line.at(k).y()) for k in range(line.count())])
    here = np.array([at.x(), at.y()])
    a, b = points[:-1], points[1:]
    along = b - a
    share = np.clip(((here - a) * along).sum(axis=1) / np.maximum((along**2).sum(axis=1), 1e-9), 0.0, 1.0)
    return float(np.linalg.norm(a + share[:, None] * along - here, axis=1).min())


def paint(
    ink: Ink,
    rect: QRectF,
    base: Evaluation,
    condition: int,
    view: View,
    strands: Sequence[Strand],
    axis: str,
    over: str | None = None,
    shared_words: str = "",
) -> FanPicture:
    """Paint the car with the strands at the left, the plumb lines at the right; return what can be pointed at.

    Args:
        ink: what to draw with.
        rect: where.
        base: the plan as it stands, evaluated.
        condition: which of its conditions the pan's oil is shown in.
        view: from where the car is seen.
        strands: the plans.
        axis: key of the merit that they hang by.
        over: letter of the plan that is pointed at (None: none).
        shared_words: what is written at the height where all enter.
    """
    picture = FanPicture()
    car = QRectF(rect.left(), rect.top(), rect.width() * (1.0 - BOARD_SHARE), rect.height())
    board = QRectF(car.right() + 10, rect.top(), rect.right() - car.right() - 14, rect.height())
    _car(ink, car, base, condition, view, strands, over, picture, shared_words)
    _board(ink, board, strands, axis, over, picture)
    return picture


# --- the car ---------------------------------------------------------------------------------------


def _fit(picture: Elevation, view: View, strands: Sequence[Strand], rect: QRectF, base: Evaluation) -> Frame:
    spread = [picture.housing, *picture.pans]
    spread += [project(view, line) for s in strands for line in (*s.drains, *s.feeds)]
    points = np.concatenate(spread)
    low, high = points.min(axis=0) - 24.0, points.max(axis=0) + 40.0
    size = np.maximum(high - low, 1.0)
    scale = max(min((rect.width() - 60.0) / size[0], (rect.height() - 44.0) / size[1]), 0.05)
    middle = 0.5 * (low + high)
    return Frame(
        scale, QPointF(rect.center().x() - scale * middle[0], rect.center().y() - 8 + scale * middle[1])
    )


def _car(
    ink: Ink,
    rect: QRectF,
    base: Evaluation,
    condition: int,
    view: View,
    strands: Sequence[Strand],
    over: str | None,
    picture: FanPicture,
    shared_words: str,
) -> None:
    seen = elevation(base, condition, view)
    frame = _fit(seen, view, strands, rect, base)
    drawn.paint_behind(ink, rect, frame, seen)
    p = ink.painter
    p.save()
    p.setClipRect(rect)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setFont(font(SMALL))
    labels = Labels(rect.adjusted(4, 4, -4, -24))
    for pan in seen.pans:
        labels.block([frame.polygon(pan).boundingRect()])
    for it in (lens.line for lens in base.all):
        centre = frame.at(project(view, flange_centre(it)[None, :])[0])
        labels.block([QRectF(centre.x() - 14, centre.y() - 40, 28, 44)])
    p.setPen(ink.palette.pen("wall", LINE))
    p.setBrush(ink.palette.color("metal", 0.4))
    p.drawPolygon(frame.polygon(seen.housing))
    _shared_entry(ink, frame, view, [s for s in strands if s.letter], shared_words, labels)
    order = sorted(range(len(strands)), key=lambda n: strands[n].letter == over)
    lines = {n: _lines(strands[n], n, len(strands), frame, view) for n in order}
    for n in order:
        _strand(ink, strands[n], lines[n], strands[n].letter == over, over is not None)
        picture.lines += [(strands[n].letter, line) for line, _ in lines[n]]
        for line, width in lines[n]:
            labels.block_polygon(line, width)
    for block in seen.blocks:
        labels.block([QRectF(frame.at(block.low), frame.at(block.high)).normalized()])
    for n in order:
        _token(ink, strands[n], n, lines[n], labels, strands[n].letter == over)
    for block in seen.blocks:
        if not block.thing.inside:
            rect_of = QRectF(frame.at(block.low), frame.at(block.high)).normalized()
            _word(ink, labels, QPointF(rect_of.center().x(), rect_of.top()), block.label, block.thing.ink)
    if view != "above":
        rail = max((pan for pan in seen.pans), key=lambda pan: float(pan[:, 0].max()))
        _word(ink, labels, frame.at(np.array([rail[:, 0].max(), rail[:, 1].max()])), tr("pan rail"), "faint")
    drawn.paint_scale(ink, rect, frame, seen)
    p.restore()


def _lines(s: Strand, n: int, count: int, frame: Frame, view: View) -> list[tuple[QPolygonF, float]]:
    """Return a strand's lines in pixels with their widths, each beside the others': a rope where they run together."""
    beside = (n - 0.5 * (count - 1)) * 4.0
    found = []
    for line, width in (*((d, 4.0) for d in s.drains), *((f, 2.4) for f in s.feeds)):
        points = frame.polygon(project(view, line))
        found.append((_moved(points, beside), width))
    return found


def _moved(line: QPolygonF, beside: float) -> QPolygonF:
    """Return a line moved sideways by some pixels, its ends less: strands meet at the turbo and at the pan."""
    points = np.array([(line.at(k).x(), line.at(k).y()) for k in range(line.count())])
    along = np.diff(points, axis=0)
    along = along / np.maximum(np.linalg.norm(along, axis=1), 1e-6)[:, None]
    normal = np.stack([-along[:, 1], along[:, 0]], axis=1)
    at = np.concatenate([normal[:1], 0.5 * (normal[:-1] + normal[1:]), normal[-1:]])
    share = np.ones(len(points))
    share[0] = 0.5
    moved = points + at * (beside * share)[:, None]
    return QPolygonF([QPointF(float(x), float(y)) for x, y in moved])


def _strand(ink: Ink, s: Strand, lines: list[tuple[QPolygonF, float]], lit: bool, dimmed: bool) -> None:
    p = ink.painter
    p.setBrush(Qt.BrushStyle.NoBrush)
    for line, width in lines:
        if s.letter == NOW:
            p.setPen(ink.palette.pen("faint", 1.2, Qt.PenStyle.DashLine))
            p.drawPolyline(line)
            continue
        edge = ink.palette.pen("wall", width + (3.0 if lit else 1.6))
        core = ink.palette.pen("oil" if lit or not dimmed else "froth", width + (1.0 if lit else 0.0))
        for pen in (edge, core):
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            p.setPen(pen)
            p.drawPolyline(line)
        end = line.at(line.count() - 1)
        if width > 3.0:
            p.setPen(ink.palette.pen("wall", LINE))
            p.setBrush(ink.palette.color(VERDICT_COLOR[s.merit.verdict]))
            p.drawRect(QRectF(end.x() - 3.5, end.y() - 3.5, 7.0, 7.0))
            p.setBrush(Qt.BrushStyle.NoBrush)


def _token(
    ink: Ink, s: Strand, n: int, lines: list[tuple[QPolygonF, float]], labels: Labels, lit: bool
) -> None:
    """Write a strand's letter beside it, each further along than the one before."""
    line = lines[0][0]
    size = QSizeF(20.0, 20.0) if s.letter else QSizeF(34.0, 16.0)
    placed = labels.place(_along(line, 0.30 + 0.13 * n if s.letter else 0.45), size)
    if placed is None:
        return
    p = ink.painter
    if placed.leader is not None:
        p.setPen(ink.palette.pen("faint", HAIR))
        p.drawLine(*placed.leader)
    if not s.letter:
        marks.halo_text(ink, QPointF(placed.rect.left() + 3, placed.rect.bottom() - 3), tr("now"), "faint")
        return
    seal(ink, placed.rect, s.letter, s.merit.verdict, lit)


def _along(line: QPolygonF, share: float) -> QPointF:
    """Return the place a share of the way along a line."""
    points = np.array([(line.at(k).x(), line.at(k).y()) for k in range(line.count())])
    walked = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    at = [float(np.interp(share * walked[-1], walked, points[:, a])) for a in range(2)]
    return QPointF(at[0], at[1])


def seal(ink: Ink, rect: QRectF, letter: str, verdict: str, lit: bool = False) -> None:
    """Paint a plan's letter in a ring of its verdict's colour."""
    p = ink.painter
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setPen(ink.palette.pen(VERDICT_COLOR[verdict], BOLD if lit else LINE))
    p.setBrush(ink.palette.color("raised"))
    p.drawEllipse(rect.adjusted(1, 1, -1, -1))
    p.setPen(ink.palette.color("ink"))
    p.setFont(font(SMALL, bold=True))
    p.drawText(rect, int(Qt.AlignmentFlag.AlignCenter), letter)
    p.restore()
    ink.words.append(QRectF(rect))


def _word(ink: Ink, labels: Labels, anchor: QPointF, text: str, colour: str) -> None:
    metrics = ink.painter.fontMetrics()
    size = QSizeF(metrics.horizontalAdvance(text) + 6.0, metrics.height() + 2.0)
    placed = labels.place(anchor, size, 84.0)
    if placed is None:
        return
    if placed.leader is not None:
        ink.painter.setPen(ink.palette.pen("line", HAIR))
        ink.painter.drawLine(*placed.leader)
    marks.halo_text(
        ink, QPointF(placed.rect.left() + 3, placed.rect.top() + metrics.ascent() + 1), text, colour
    )


def _shared_entry(
    ink: Ink, frame: Frame, view: View, strands: Sequence[Strand], words: str, labels: Labels
) -> None:
    """Mark the stretch of the pan's wall on which every plan enters."""
    if len(strands) < 2 or not words:
        return
    ends = np.array([project(view, s.drains[0][-1:])[0] for s in strands])
    low, high = ends.min(axis=0), ends.max(axis=0)
    p = ink.painter
    box = QRectF(frame.at(low), frame.at(high)).normalized().adjusted(-9, -9, 9, 9)
    p.setBrush(ink.palette.color("good", 0.12))
    p.setPen(ink.palette.pen("good", HAIR))
    p.drawRoundedRect(box, 8, 8)
    labels.block([box])
    _word(ink, labels, QPointF(box.center().x(), box.bottom()), words, "good")


# --- the plumb lines -------------------------------------------------------------------------------

BOB = QSizeF(22.0, 28.0)


def _board(
    ink: Ink, rect: QRectF, strands: Sequence[Strand], axis: str, over: str | None, picture: FanPicture
) -> None:
    p = ink.painter
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setFont(font(SMALL, bold=True))
    known = BY_AXIS[axis]
    beam = rect.top() + 26.0
    p.setPen(ink.palette.color("ink"))
    better, title = tr("higher is better"), capital(known.words)
    size = fitting(f"{title}   {better}", QSizeF(rect.width() - 4, 18), SMALL, bold=True).pixelSize()
    p.setFont(font(size, bold=True))
    p.drawText(QPointF(rect.left() + 2, rect.top() + 14), title)
    p.setFont(font(size))
    p.setPen(ink.palette.color("faint"))
    strip = QRectF(rect.left(), rect.top() + 2, rect.width(), 16)
    p.drawText(strip, int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop), better)
    p.setPen(ink.palette.pen("wall", 4.0))
    p.drawLine(QPointF(rect.left(), beam), QPointF(rect.right(), beam))
    foot = _tabs(ink, rect, axis, picture)
    hung = [(s, v) for s in strands if (v := known.value(s.merit)) is not None]
    waiting = [s for s in strands if known.value(s.merit) is None]
    if hung:
        values = np.array([v for _, v in hung]) * (1.0 if known.more else -1.0)
        spread = float(np.ptp(values))
        top, bottom = beam + 20.0, foot - BOB.height() - 38.0
        share = (values.max() - values) / spread if spread > 1e-9 else np.zeros(len(values))
        columns = len(strands)
        p.setPen(ink.palette.pen("line", HAIR, Qt.PenStyle.DashLine))
        level = top + 0.5 * BOB.height()
        p.drawLine(QPointF(rect.left(), level), QPointF(rect.right(), level))
        p.setFont(font(SMALL))
        p.setPen(ink.palette.color("faint"))
        for (s, _), part in zip(hung, share, strict=True):
            n = strands.index(s)
            x = rect.left() + rect.width() * (n + 0.5) / columns
            y = top + float(part) * max(bottom - top, 0.0)
            _bob(
                ink,
                QPointF(x, beam),
                QRectF(x - BOB.width() / 2, y, BOB.width(), BOB.height()),
                s,
                known.text(s.merit),
                s.letter == over,
                rect.width() / columns,
            )
            picture.bobs.append((s.letter, QRectF(x - BOB.width() / 2, y, BOB.width(), BOB.height())))
    for s in waiting:
        x = rect.left() + rect.width() * (strands.index(s) + 0.5) / len(strands)
        p.setPen(ink.palette.pen("line", HAIR))
        p.drawLine(QPointF(x, beam), QPointF(x, beam + 16))
        marks.halo_text(ink, QPointF(x, beam + 30), "…", "faint", "centre")
    p.restore()


def _bob(ink: Ink, hook: QPointF, rect: QRectF, s: Strand, words: str, lit: bool, room: float) -> None:
    p = ink.painter
    p.setPen(
        ink.palette.pen(
            "wall", LINE if lit else HAIR, Qt.PenStyle.DashLine if s.letter == NOW else Qt.PenStyle.SolidLine
        )
    )
    p.drawLine(hook, QPointF(hook.x(), rect.top() + 4))
    if s.letter == NOW:
        p.setPen(ink.palette.pen(VERDICT_COLOR[s.merit.verdict], LINE))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(marks.drop_path(rect))
    else:
        p.setPen(ink.palette.pen("wall", BOLD if lit else HAIR))
        p.setBrush(ink.palette.color(VERDICT_COLOR[s.merit.verdict]))
        p.drawPath(marks.drop_path(rect))
        p.setPen(ink.palette.color("sheet"))
        p.setFont(font(SMALL, bold=True))
        p.drawText(rect.adjusted(0, 6, 0, 2), int(Qt.AlignmentFlag.AlignCenter), s.letter)
    p.setFont(font(SMALL, bold=lit))
    lines = _wrapped(ink, words if s.letter else tr("now {words}").format(words=words), room - 6.0)
    for k, line in enumerate(lines):
        marks.halo_text(
            ink,
            QPointF(rect.center().x(), rect.bottom() + 14 + 15 * k),
            line,
            "ink" if lit else "faint",
            "centre",
        )


def _wrapped(ink: Ink, words: str, room: float) -> list[str]:
    """Return words in lines that fit a width."""
    lines: list[str] = []
    for word in words.split(" "):
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and ink.painter.fontMetrics().horizontalAdvance(longer) <= room:
            lines[-1] = longer
        else:
            lines.append(word)
    return lines


def _tab_places(ink: Ink, width: float, axis: str) -> list[tuple[str, str, float, int, float]]:
    """Return where the merits' names stand in a width: key, words, x, row and width of each."""
    found: list[tuple[str, str, float, int, float]] = []
    x, row = 2.0, 0
    for n, it in enumerate(AXES, 1):
        ink.painter.setFont(font(SMALL, bold=it.key == axis))
        words = f"{n} {it.word}"
        wide = float(ink.painter.fontMetrics().horizontalAdvance(words))
        if x + wide > width and x > 2.0:
            x, row = 2.0, row + 1
        found.append((it.key, words, x, row, wide))
        x += wide + 14.0
    return found


TAB_ROW = 18.0
"""[px] a row of the merits' names."""


def _tabs(ink: Ink, rect: QRectF, axis: str, picture: FanPicture) -> float:
    """Write the merits' names at the foot of the plumb lines, the one they hang by underlined; return where they begin."""
    p = ink.painter
    places = _tab_places(ink, rect.width(), axis)
    top = rect.bottom() - TAB_ROW * (places[-1][3] + 1) - 8.0
    for key, words, x, row, wide in places:
        at = QPointF(rect.left() + x, top + TAB_ROW * row + 14.0)
        p.setFont(font(SMALL, bold=key == axis))
        p.setPen(ink.palette.color("ink" if key == axis else "focus"))
        p.drawText(at, words)
        box = QRectF(at.x() - 2, at.y() - 13, wide + 4, TAB_ROW)
        if key == axis:
            p.setPen(ink.palette.pen("oil", BOLD))
            p.drawLine(QPointF(at.x(), at.y() + 4), QPointF(at.x() + wide, at.y() + 4))
        picture.tabs.append((key, box))
        ink.words.append(box)
    return top
