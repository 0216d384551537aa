# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the shop sheet on one page; units are millimetres of paper."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QImage, QPainter

from gravidon.draw import marks, whole_way
from gravidon.draw.ink import Ink
from gravidon.draw.style import LIGHT, Palette, font
from gravidon.draw.surface import painter_on
from gravidon.plan.units import Family
from gravidon.sheet.content import SheetContent, content
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.verdict.trials import trial
from gravidon.words.text import tr

WIDTH_MM, HEIGHT_MM = 210.0, 297.0
MARGIN_MM = 13.0
PX_PER_MM = 3.25
"""Type and line weights are laid out at this many pixels a millimetre and scaled to the device."""
PICTURE = ((292.0, 250.0), (232.0, 205.0))
"""[px] how tall the picture is at most, and at least where one finding still fits, with one turbo and with more: in between it
takes what the words leave."""
ONE_FINDING = 80.0
"""[px] that the list of findings takes with one of two lines."""
FAR = 1e5
"""[px] taller than any page."""

PAPER = Palette(
    **{**LIGHT.__dict__, "paper": "#ffffff", "sheet": "#ffffff", "raised": "#ffffff", "name": "paper"}
)


def paint_page(painter: QPainter, e: Evaluation, family: Family, height_mm: float = HEIGHT_MM) -> None:
    """Paint the page on paper of a height; the painter is scaled so that one unit is one millimetre."""
    painter.save()
    painter.scale(1 / PX_PER_MM, 1 / PX_PER_MM)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    area = QRectF(
        MARGIN_MM * PX_PER_MM,
        MARGIN_MM * PX_PER_MM,
        (WIDTH_MM - 2 * MARGIN_MM) * PX_PER_MM,
        (height_mm - 2 * MARGIN_MM) * PX_PER_MM,
    )
    text = content(e, family)
    tables, findings = _beside_picture(area, text)
    room = area.height() - _cautions_height(painter, area, text) - tables
    most, least = PICTURE[len(e.all) > 1]
    y = _head(painter, area, text)
    box = QRectF(
        area.left(), y, area.width(), min(most, max(room - findings, min(least, room - ONE_FINDING)))
    )
    y = _drawing(painter, box, e, family, text.worst_condition)
    y = _sizes(painter, area, y, text)
    y = _table(painter, area, y, text)
    _findings(painter, area, y, text)
    _cautions(painter, area, text)
    painter.restore()


def _beside_picture(area: QRectF, text: SheetContent) -> tuple[float, float]:
    """Return the heights of the tables and of all findings, so that the picture takes what words leave: written out of sight."""
    blank = QImage(1, 1, QImage.Format.Format_RGB32)
    with painter_on(blank) as painter:
        painter.setClipRect(blank.rect())
        y = _table(painter, area, _sizes(painter, area, _head(painter, area, text), text), text)
        used = _findings(painter, QRectF(area.topLeft(), QSizeF(area.width(), FAR)), y, text) + 12
    return y - area.top(), used - y


def _write(
    painter: QPainter, rect: QRectF, text: str, size: float, bold: bool = False, colour: str = "ink"
) -> float:
    """Write wrapped text; return the height it took."""
    painter.setFont(font(size, bold))
    painter.setPen(PAPER.color(colour))
    flags = int(Qt.TextFlag.TextWordWrap)
    used = painter.boundingRect(rect, flags, text)
    painter.drawText(rect, flags, text)
    return used.height()


def _head(painter: QPainter, area: QRectF, text: SheetContent) -> float:
    y = area.top()
    y += _write(painter, QRectF(area.left(), y, area.width(), 40), text.title, 21, bold=True)
    marks.paint_drop(Ink(painter, PAPER), QRectF(area.left(), y + 3, 12, 17), text.verdict)
    colour = {"fails": "bad", "watch": "watch", "holds": "good"}[text.verdict]
    used = _write(
        painter, QRectF(area.left() + 19, y + 2, area.width() - 19, 60), text.sentence, 14, True, colour
    )
    return y + max(26.0, used + 8)


def _drawing(painter: QPainter, box: QRectF, e: Evaluation, family: Family, condition: int) -> float:
    whole_way.paint(Ink(painter, PAPER, family), box, e, condition, trial(e.plan).findings, {})
    painter.setPen(PAPER.pen("line", 0.8))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(box)
    return box.bottom() + 8


def _sizes(painter: QPainter, area: QRectF, y: float, text: SheetContent) -> float:
    half = (len(text.sizes) + 1) // 2
    width = area.width() / 2
    bottom = y
    for column, rows in enumerate((text.sizes[:half], text.sizes[half:])):
        at = y
        for label, value in rows:
            x = area.left() + column * width
            called = _write(painter, QRectF(x, at, 92, 40), label, 10, colour="faint")
            used = _write(painter, QRectF(x + 94, at, width - 102, 40), value, 10.5)
            at += max(called, used, 13) + 2
        bottom = max(bottom, at)
    return bottom + 6


LAST_WIDTHS = 1.5
"""Widths of a column that the last one has: it says the verdict, in any language; project choice."""


def _table(painter: QPainter, area: QRectF, y: float, text: SheetContent) -> float:
    columns = len(text.header)
    first = area.width() * (0.14 if len(text.rows) <= 12 or "," not in text.rows[0][0] else 0.2)
    width = (area.width() - first) / (columns - 2 + LAST_WIDTHS)
    step = 14.0 if len(text.rows) <= 12 else 12.0
    painter.setFont(font(10))
    wrap = int(Qt.TextFlag.TextWordWrap)
    tall = [
        painter.boundingRect(QRectF(0, 0, (width if k else first) - 2, 100), wrap, head).height()
        for k, head in enumerate(text.header)
    ]
    for row, cells in enumerate((text.header, *text.rows)):
        high = step if row else max(step, *tall)
        for k, cell in enumerate(cells):
            x = area.left() + (0 if k == 0 else first + (k - 1) * width)
            fails = k == columns - 1 and row > 0 and text.verdicts[row - 1] == "fails"
            rect = QRectF(
                x, y, (LAST_WIDTHS * width if k == columns - 1 else width if k else first) - 2, high
            )
            painter.setFont(font(10, bold=k == 0 and row > 0))
            painter.setPen(PAPER.color("faint" if row == 0 else "bad" if fails else "ink"))
            flag = Qt.AlignmentFlag.AlignLeft if k == 0 else Qt.AlignmentFlag.AlignRight
            upright = Qt.AlignmentFlag.AlignVCenter if row else Qt.AlignmentFlag.AlignBottom
            painter.drawText(rect, int(flag | upright) | (0 if row else wrap), cell)
        y += high
        if row == 0:
            painter.setPen(PAPER.pen("ink", 0.8))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            y += 1
    return y + 8


def _cautions_height(painter: QPainter, area: QRectF, text: SheetContent) -> float:
    painter.setFont(font(9.5))
    flags = int(Qt.TextFlag.TextWordWrap)
    room = QRectF(0, 0, area.width() - 10, 400)
    return sum(painter.boundingRect(room, flags, c).height() + 1 for c in text.cautions) + 18


def _findings(painter: QPainter, area: QRectF, y: float, text: SheetContent) -> float:
    """Write what fits over the cautions; return where it ended."""
    bottom = area.bottom() - _cautions_height(painter, area, text) - 30
    y += _write(painter, QRectF(area.left(), y, area.width(), 20), tr("Findings"), 11.5, bold=True)
    left = len(text.findings)
    for severity, title, sentence in text.findings:
        words = f"{title}. {sentence}"
        rect = QRectF(area.left() + 16, y, area.width() - 16, 60)
        painter.setFont(font(10))
        need = painter.boundingRect(rect, int(Qt.TextFlag.TextWordWrap), words).height() + 2
        if y + need > bottom - 12:
            _write(
                painter, rect, tr("… and {left} more; see the plan.").format(left=left), 10, colour="faint"
            )
            y += 13
            break
        marks.paint_drop(
            Ink(painter, PAPER),
            QRectF(area.left() + 2, y + 1, 8, 11),
            {"bad": "fails", "note": "holds"}.get(severity, severity),
        )
        _write(painter, rect, words, 10)
        y += need
        left -= 1
    if not text.findings:
        y += _write(painter, QRectF(area.left(), y, area.width(), 20), tr("None."), 10)
    y = min(y + 2, bottom)
    return y + _write(painter, QRectF(area.left(), y, area.width(), 26), text.guesses, 9.5, colour="faint")


def _cautions(painter: QPainter, area: QRectF, text: SheetContent) -> None:
    y = area.bottom() - _cautions_height(painter, area, text)
    painter.setPen(PAPER.pen("heat", 1.2))
    painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
    y += 3 + _write(painter, QRectF(area.left(), y + 2, area.width(), 16), tr("Cautions"), 10.5, True, "heat")
    for caution in text.cautions:
        y += 1 + _write(painter, QRectF(area.left() + 4, y, area.width() - 10, 40), caution, 9.5)
