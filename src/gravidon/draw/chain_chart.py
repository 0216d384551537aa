# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the lines of parts joint by joint: ports at the ends, parts between, what becomes of every joint named."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath

from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, fitting, font
from gravidon.parts.catalogue import Part
from gravidon.parts.ends import End
from gravidon.plan.units import show
from gravidon.study.making.parts_list import LineRun
from gravidon.translate import number
from gravidon.words.text import tr

ROW = 164.0
COLOUR = {"seals": "good", "leaks": "watch", "no fit": "bad"}
WORD = {"seals": tr("seals"), "leaks": tr("leaks"), "no fit": tr("no fit")}


def height_of(runs: Sequence[LineRun]) -> int:
    """Return how tall the drawing is."""
    return int(ROW * max(len(runs), 1) + 8)


def joint_spots(rect: QRectF, run: LineRun, row: int) -> list[QPointF]:
    """Return where a run's joints are drawn."""
    count = max(len(run.joints), 1)
    left, right = rect.left() + 58, rect.right() - 58
    y = rect.top() + row * ROW + 84
    if count == 1:
        return [QPointF(0.5 * (left + right), y)]
    return [QPointF(left + (right - left) * k / (count - 1), y) for k in range(count)]


def paint(
    ink: Ink,
    rect: QRectF,
    runs: Sequence[LineRun],
    chosen: tuple[int, int] | None,
) -> None:
    """Paint every line; `chosen` is a (run, joint)."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for row, run in enumerate(runs):
        _line(ink, rect, run, row, chosen)
    ink.painter.restore()


STRIP = 94.0
"""[px] how tall a line of parts is where its joints are numbered instead of named."""


def paint_numbered(ink: Ink, rect: QRectF, run: LineRun) -> list[QPointF]:
    """Paint one line along the way of the oil, its joints numbered for the list beside it, and return where they are.

    Nothing is painted, and nothing returned, where parts are missing.
    """
    if run.missing or len(run.joints) < 2:
        return []
    painter = ink.painter
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(font(SMALL))
    left, right = rect.left() + 48, rect.right() - 48
    step = (right - left) / (len(run.joints) - 1)
    spots = [QPointF(left + step * k, rect.top() + 50) for k in range(len(run.joints))]
    _port(ink, spots[0], -1.0, run.start, step)
    _port(ink, spots[-1], 1.0, run.goal, step)
    for k, part in enumerate(run.parts):
        _part(ink, spots[k], spots[k + 1], part, _brief(part))
    for k, (joint, at) in enumerate(zip(run.joints, spots, strict=True)):
        _joint(ink, at, joint.fit.outcome, False)
        painter.setPen(ink.palette.color("ink"))
        painter.setFont(font(SMALL, bold=True))
        painter.drawText(
            QRectF(at.x() - 20, at.y() + 22, 40, 16), int(Qt.AlignmentFlag.AlignHCenter), str(k + 1)
        )
        painter.setFont(font(SMALL))
    painter.restore()
    return spots


def _brief(part: Part) -> str:
    """Return what a part is called where there is little room: its kind, and what tells it from others of the kind."""
    hole = f" {number(part.bore_mm, 'g')} mm" if part.what.narrow else ""
    angle = tr(" straight") if part.kind == "hose end" and not part.angle_deg else ""
    return f"{tr(part.kind)}{angle}{hole}"


def _line(
    ink: Ink,
    rect: QRectF,
    run: LineRun,
    row: int,
    chosen: tuple[int, int] | None,
) -> None:
    top = rect.top() + row * ROW
    ink.painter.setPen(ink.palette.color("ink"))
    bore = min((p.bore_mm for p in run.parts if p.bore_mm), default=0.0)
    words = (
        run.name
        + (
            tr(": parts as chosen, their bores counted")
            if run.chosen
            else tr(": none chosen; {why}").format(why=run.why or tr("the one chain there is"))
        )
        if run.parts
        else run.name
    )
    note = tr("smallest bore {amount}").format(amount=show(bore * 1e-3, "bore", ink.family)) if bore else ""
    wide = QFontMetricsF(font(SMALL)).horizontalAdvance(note)
    head = QRectF(rect.left() + 8, top + 6, rect.width() - wide - 40, 26)
    ink.painter.setFont(fitting(words, head.size(), SMALL, bold=True))
    ink.painter.drawText(head, int(Qt.TextFlag.TextWordWrap), words)
    ink.painter.setFont(font(SMALL))
    ink.painter.setPen(ink.palette.color("faint"))
    ink.painter.drawText(QPointF(rect.right() - wide - 8, top + 18), note)
    ink.painter.setFont(font(SMALL))
    if run.missing:
        ink.painter.setPen(ink.palette.color("bad"))
        area = QRectF(rect.left() + 8, top + 36, rect.width() - 16, 60)
        ink.painter.drawText(
            area, int(Qt.TextFlag.TextWordWrap), f"{run.missing[:1].upper()}{run.missing[1:]}."
        )
        return
    spots = joint_spots(rect, run, row)
    step = (spots[-1].x() - spots[0].x()) / max(len(spots) - 1, 1)
    _port(ink, spots[0], -1.0, run.start, step)
    _port(ink, spots[-1], 1.0, run.goal, step)
    for k, part in enumerate(run.parts):
        _part(ink, spots[k], spots[k + 1], part)
    for k, (joint, at) in enumerate(zip(run.joints, spots, strict=True)):
        _joint(ink, at, joint.fit.outcome, chosen == (row, k))
        here = _short(f"{joint.one.brief}\n{joint.other.brief}")
        width = min(step - 6, 118.0)
        ink.painter.setFont(fitting(here, QSizeF(width, 56), SMALL))
        x = min(max(at.x() - width / 2, rect.left() + 2), rect.right() - width - 2)
        ink.painter.setPen(
            ink.palette.color("faint" if joint.fit.outcome == "seals" else COLOUR[joint.fit.outcome])
        )
        ink.painter.drawText(
            QRectF(x, at.y() + 26, width, 58),
            int(Qt.AlignmentFlag.AlignHCenter) | int(Qt.TextFlag.TextWordWrap),
            here,
        )
        ink.painter.setFont(font(SMALL))


def _short(text: str) -> str:
    return text.replace("two-bolt ", "").replace(" flange", "")


def _port(
    ink: Ink,
    at: QPointF,
    side: float,
    end: End,
    step: float,
) -> None:
    """A block of metal with the port in it."""
    ink.painter.setPen(ink.palette.pen("wall", LINE))
    ink.painter.setBrush(ink.palette.color("metal", 0.45))
    x = at.x() - 46 if side < 0 else at.x() + 2
    ink.painter.drawRect(QRectF(x, at.y() - 20, 44, 40))


def _part(
    ink: Ink,
    a: QPointF,
    b: QPointF,
    part: Part,
    name: str = "",
) -> None:
    """A part between two joints, in the shape of its kind, its name over it."""
    left, right = a.x() + 9, b.x() - 9
    middle, y = 0.5 * (left + right), a.y()
    ink.painter.setPen(ink.palette.pen("wall", LINE))
    ink.painter.setBrush(ink.palette.color("raised"))
    if part.what.shape == "hose":
        path = QPainterPath(QPointF(left, y))
        path.cubicTo(left + (right - left) * 0.35, y - 12, left + (right - left) * 0.65, y + 12, right, y)
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.setPen(ink.palette.pen("wall", 11))
        ink.painter.drawPath(path)
        ink.painter.setPen(ink.palette.pen("oil", 6))
        ink.painter.drawPath(path)
    elif part.what.shape == "plate":
        ink.painter.drawRect(QRectF(left, y - 17, 7, 34))
        ink.painter.drawRect(QRectF(left + 7, y - 8, max(right - left - 7, 4), 16))
    else:
        body = QRectF(left, y - 9, max(right - left, 6), 18)
        ink.painter.drawRoundedRect(body, 3, 3)
        angle = f"{number(part.angle_deg, 'g')}°" if part.angle_deg else ""
        wide = 0.5 * ink.painter.fontMetrics().horizontalAdvance(angle)
        half = max(8.0, wide + 2.0)
        ink.painter.drawRect(QRectF(middle - half, y - 13, 2 * half, 26))
        if part.what.narrow:
            ink.painter.setPen(ink.palette.pen("oil", BOLD))
            ink.painter.drawLine(QPointF(middle, y - 2), QPointF(middle, y + 2))
        if part.what.directed:
            ink.painter.setPen(ink.palette.pen("oil", BOLD))
            for dy in (-3.0, 3.0):  # the arrow on its body: the way the oil is to run
                ink.painter.drawLine(QPointF(right - 10, y + dy), QPointF(right - 4, y))
        if angle:
            ink.painter.setPen(ink.palette.color("ink"))
            ink.painter.drawText(QPointF(middle - wide, y + 4), angle)
    ink.painter.setPen(ink.palette.color("ink"))
    room = QRectF(a.x() + 2, y - 62, b.x() - a.x() - 4, 48)
    name = name or (
        part.name.replace(", per metre", "")
        .replace(", reusable", "")
        .replace(" flare male", "")
        .replace(", all male", "")
    )
    ink.painter.save()
    ink.painter.setFont(fitting(name, room.size(), SMALL))
    ink.painter.drawText(
        room,
        int(Qt.AlignmentFlag.AlignHCenter)
        | int(Qt.AlignmentFlag.AlignBottom)
        | int(Qt.TextFlag.TextWordWrap),
        name,
    )
    ink.painter.restore()


def _joint(ink: Ink, at: QPointF, outcome: str, chosen: bool) -> None:
    """Closed ring: seals. Half-filled: leaks. Two halves apart: does not fit. Always with its word below when bad."""
    colour = COLOUR[outcome]
    if chosen:
        ink.painter.setPen(ink.palette.pen("focus", LINE))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawEllipse(at, 14, 14)
    ink.painter.setPen(ink.palette.pen(colour, BOLD))
    ink.painter.setBrush(ink.palette.color("sheet"))
    if outcome == "no fit":
        ink.painter.drawLine(QPointF(at.x() - 4, at.y() - 11), QPointF(at.x() - 4, at.y() + 11))
        ink.painter.drawLine(QPointF(at.x() + 4, at.y() - 11), QPointF(at.x() + 4, at.y() + 11))
    else:
        ink.painter.drawEllipse(at, 7, 7)
        if outcome == "leaks":
            ink.painter.setBrush(ink.palette.color(colour))
            ink.painter.drawPie(QRectF(at.x() - 7, at.y() - 7, 14, 14), 180 * 16, 180 * 16)
            drop = QRectF(at.x() - 4, at.y() + 10, 8, 11)
            ink.painter.setPen(Qt.PenStyle.NoPen)
            ink.painter.drawPath(marks.drop_path(drop))
    if outcome != "seals":
        below = QPointF(at.x() + 24, at.y() + 19)
        marks.halo_text(ink, below, WORD[outcome], colour, "centre")
    ink.painter.setPen(ink.palette.pen("line", HAIR))
