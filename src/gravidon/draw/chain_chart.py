"""Paint the lines of parts joint by joint: ports at the ends, parts between, what becomes of every joint named."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath

from gravidon.draw import marks
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, Palette, font
from gravidon.parts.catalogue import Part
from gravidon.parts.ends import End
from gravidon.study.making.parts_list import LineRun

ROW = 164.0
COLOUR = {"seals": "good", "leaks": "watch", "no fit": "bad"}
WORD = {"seals": "seals", "leaks": "leaks", "no fit": "no fit"}


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
    painter: QPainter, rect: QRectF, runs: Sequence[LineRun], chosen: tuple[int, int] | None, palette: Palette
) -> None:
    """Paint every line; `chosen` is a (run, joint)."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for row, run in enumerate(runs):
        _line(painter, rect, run, row, chosen, palette)
    painter.restore()


def _line(
    painter: QPainter, rect: QRectF, run: LineRun, row: int, chosen: tuple[int, int] | None, palette: Palette
) -> None:
    top = rect.top() + row * ROW
    painter.setFont(font(SMALL, bold=True))
    painter.setPen(palette.color("ink"))
    bore = min((p.bore_mm for p in run.parts if p.bore_mm), default=0.0)
    words = (
        run.name + (", parts as chosen" if run.chosen else ", shortest chain found")
        if run.parts
        else run.name
    )
    painter.drawText(QPointF(rect.left() + 8, top + 18), words)
    if bore:
        note = f"smallest bore {bore:.1f} mm"
        painter.setFont(font(SMALL))
        painter.setPen(palette.color("faint"))
        painter.drawText(
            QPointF(rect.right() - painter.fontMetrics().horizontalAdvance(note) - 8, top + 18), note
        )
    painter.setFont(font(SMALL))
    if run.missing:
        painter.setPen(palette.color("bad"))
        area = QRectF(rect.left() + 8, top + 36, rect.width() - 16, 60)
        painter.drawText(area, int(Qt.TextFlag.TextWordWrap), f"{run.missing[:1].upper()}{run.missing[1:]}.")
        return
    spots = joint_spots(rect, run, row)
    step = (spots[-1].x() - spots[0].x()) / max(len(spots) - 1, 1)
    _port(painter, spots[0], -1.0, run.start, step, palette)
    _port(painter, spots[-1], 1.0, run.goal, step, palette)
    for k, part in enumerate(run.parts):
        _part(painter, spots[k], spots[k + 1], part, palette)
    for k, (joint, at) in enumerate(zip(run.joints, spots, strict=True)):
        _joint(painter, at, joint.fit.outcome, palette, chosen == (row, k))
        here = f"{joint.one.text}\n{joint.other.text}"
        width = min(step - 6, 118.0)
        x = min(max(at.x() - width / 2, rect.left() + 2), rect.right() - width - 2)
        painter.setPen(palette.color("faint" if joint.fit.outcome == "seals" else COLOUR[joint.fit.outcome]))
        painter.drawText(
            QRectF(x, at.y() + 26, width, 58),
            int(Qt.AlignmentFlag.AlignHCenter) | int(Qt.TextFlag.TextWordWrap),
            _short(here),
        )


def _short(text: str) -> str:
    return (
        text.replace(", female", " f")
        .replace(", male", " m")
        .replace("two-bolt ", "")
        .replace(" flange", "")
        .replace("inlet 24 mm", "inlet 24 mm")
    )


def _port(painter: QPainter, at: QPointF, side: float, end: End, step: float, palette: Palette) -> None:
    """A block of metal with the port in it."""
    painter.setPen(palette.pen("wall", LINE))
    painter.setBrush(palette.color("metal", 0.45))
    x = at.x() - 46 if side < 0 else at.x() + 2
    painter.drawRect(QRectF(x, at.y() - 20, 44, 40))


def _part(painter: QPainter, a: QPointF, b: QPointF, part: Part, palette: Palette) -> None:
    """A part between two joints, in the shape of its kind, its name over it."""
    left, right = a.x() + 9, b.x() - 9
    middle, y = 0.5 * (left + right), a.y()
    painter.setPen(palette.pen("wall", LINE))
    painter.setBrush(palette.color("raised"))
    if part.what.shape == "hose":
        path = QPainterPath(QPointF(left, y))
        path.cubicTo(left + (right - left) * 0.35, y - 12, left + (right - left) * 0.65, y + 12, right, y)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(palette.pen("wall", 11))
        painter.drawPath(path)
        painter.setPen(palette.pen("oil", 6))
        painter.drawPath(path)
    elif part.what.shape == "plate":
        painter.drawRect(QRectF(left, y - 17, 7, 34))
        painter.drawRect(QRectF(left + 7, y - 8, max(right - left - 7, 4), 16))
    else:
        body = QRectF(left, y - 9, max(right - left, 6), 18)
        painter.drawRoundedRect(body, 3, 3)
        nut = QRectF(middle - 8, y - 13, 16, 26)
        painter.drawRect(nut)
        if part.what.narrow:
            painter.setPen(palette.pen("oil", BOLD))
            painter.drawLine(QPointF(middle, y - 2), QPointF(middle, y + 2))
        if part.angle_deg:
            painter.setPen(palette.color("ink"))
            text = f"{part.angle_deg:g}°"
            painter.drawText(QPointF(middle - painter.fontMetrics().horizontalAdvance(text) / 2, y + 4), text)
    painter.setPen(palette.color("ink"))
    room = QRectF(a.x() + 2, y - 62, b.x() - a.x() - 4, 48)
    name = (
        part.name.replace(", per metre", "")
        .replace(", reusable", "")
        .replace(" flare male", "")
        .replace(", all male", "")
    )
    painter.drawText(
        room,
        int(Qt.AlignmentFlag.AlignHCenter)
        | int(Qt.AlignmentFlag.AlignBottom)
        | int(Qt.TextFlag.TextWordWrap),
        name,
    )


def _joint(painter: QPainter, at: QPointF, outcome: str, palette: Palette, chosen: bool) -> None:
    """Closed ring: seals. Half-filled: leaks. Two halves apart: does not fit. Always with its word below when bad."""
    colour = COLOUR[outcome]
    if chosen:
        painter.setPen(palette.pen("focus", LINE))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(at, 14, 14)
    painter.setPen(palette.pen(colour, BOLD))
    painter.setBrush(palette.color("sheet"))
    if outcome == "no fit":
        painter.drawLine(QPointF(at.x() - 4, at.y() - 11), QPointF(at.x() - 4, at.y() + 11))
        painter.drawLine(QPointF(at.x() + 4, at.y() - 11), QPointF(at.x() + 4, at.y() + 11))
    else:
        painter.drawEllipse(at, 7, 7)
        if outcome == "leaks":
            painter.setBrush(palette.color(colour))
            painter.drawPie(QRectF(at.x() - 7, at.y() - 7, 14, 14), 180 * 16, 180 * 16)
            drop = QRectF(at.x() - 4, at.y() + 10, 8, 11)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawPath(marks.drop_path(drop))
    if outcome != "seals":
        marks.halo_text(painter, QPointF(at.x(), at.y() - 16), WORD[outcome], palette, colour, "centre")
    painter.setPen(palette.pen("line", HAIR))
