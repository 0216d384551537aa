# SPDX-License-Identifier: GPL-3.0-or-later
"""The deck of operating conditions: each with its verdict and its worst margin; the chosen one drives the drawings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from gravidon.desk.painted import painted
from gravidon.desk.stations.headlines import pressures_words
from gravidon.desk.voices import Voice, Voices
from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, HAIR, LEAST, SMALL, Palette, fitted_text, font, wrapped
from gravidon.plan.units import Family, show
from gravidon.study.judge.table import Worst
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import tr, verdict_said

HEIGHT = 78
LEAST_WIDTH = 96


@dataclass(frozen=True)
class Tag:
    """What the deck shows of a condition: name, verdict, its worst measure in two short lines; `more` is told when the
    mouse rests on it."""

    name: str
    verdict: str
    measure: str
    value: str
    more: str


def tag_of(e: Evaluation, verdict: str, worst: Worst, condition: int, family: Family) -> Tag:
    """Return what the deck shows of a condition; its worst quantity may be another turbo's."""
    judged, i = worst.judged, worst.index
    quantity = judged.quantity

    def said(value: float, with_unit: bool) -> str:
        return (
            f"{value:.0%}"
            if quantity.kind == "share"
            else show(value, quantity.kind, family, with_unit=with_unit)
        )

    bound = "≥" if quantity.sign > 0 else "≤"
    value = f"{said(float(judged.value[i]), True)} ({bound} {said(float(judged.limit[i]), False)})"
    return Tag(e.names[condition], verdict, tr(quantity.name), value, pressures_words(e, condition, family))


class ConditionDeck(QWidget):
    """A row of tags hung on a wire, as on a workshop wall."""

    chosen = pyqtSignal(int)
    edit_asked = pyqtSignal()

    def __init__(self, palette: Palette, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.tags: Sequence[Tag] = ()
        self.current = 0
        self.first = 0
        self.palette_in_use = palette
        self.voices = Voices(self)
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # a drawing and its figures are not mirrored
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Operating conditions"))
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """Wide and flat."""
        return QSize(900, HEIGHT)

    def show_tags(self, tags: Sequence[Tag], current: int) -> None:
        """Show the conditions."""
        before, was, first = self.tags, self.current, self.first
        self.tags, self.current = tags, current
        tag = tags[current]
        self.setAccessibleDescription(f"{tag.name}: {tag.verdict}, {tag.measure} {tag.value}; {tag.more}")
        self._scroll_to_current()
        self._tell()
        if len(before) != len(tags) or (was, first) != (current, self.first):
            self.update()
            return
        for k, (old, new) in enumerate(zip(before, tags, strict=True)):
            if old != new:
                self.update(self.tag_rect(k).toAlignedRect())

    def _tell(self) -> None:
        """Tell assistive technology of every condition."""
        self.voices.tell(
            [
                Voice(
                    f"{tag.name}: {verdict_said(tag.verdict)}, {tag.measure} {tag.value}",
                    self.tag_rect(k),
                    tag.more,
                    k == self.current,
                    partial(self.chosen.emit, k),
                )
                for k, tag in enumerate(self.tags)
            ]
        )

    def _shown(self) -> int:
        return max(1, min(len(self.tags), int((self.width() - 16) / LEAST_WIDTH)))

    def _scroll_to_current(self) -> None:
        shown = self._shown()
        self.first = min(
            max(self.first, self.current - shown + 1), self.current, max(len(self.tags) - shown, 0)
        )
        self.first = max(self.first, 0)

    def tag_rect(self, index: int) -> QRectF:
        """Return where a condition's tag hangs."""
        width = min((self.width() - 16) / self._shown(), 190.0)
        return QRectF(8 + (index - self.first) * width, 12, width - 6, HEIGHT - 18)

    def resizeEvent(self, event: object) -> None:
        """Keep the chosen condition in sight."""
        if self.tags:
            self._scroll_to_current()
            self._tell()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose the tag under the mouse."""
        if event is None:
            return
        for k in range(len(self.tags)):
            if self.tag_rect(k).contains(event.position()):
                self.chosen.emit(k)

    def event(self, event: QEvent | None) -> bool:
        """Tell more of the tag that the mouse rests on."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            under = (k for k in range(len(self.tags)) if self.tag_rect(k).contains(QPointF(event.pos())))
            k = next(under, None)
            QToolTip.showText(event.globalPos(), "" if k is None else self.tags[k].more, self)
            return True
        return super().event(event)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Open the conditions for editing."""
        self.edit_asked.emit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Scroll when not all tags fit."""
        if event is None:
            return
        step = -1 if event.angleDelta().y() > 0 else 1
        self.first = min(max(self.first + step, 0), max(len(self.tags) - self._shown(), 0))
        self._tell()
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right walk the deck; Return edits."""
        if event is None:
            return
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if step:
            self.chosen.emit((self.current + step) % len(self.tags))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.edit_asked.emit()
        else:
            super().keyPressEvent(event)

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        """Draw the wire and the tags."""
        p = self.palette_in_use
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), p.color("paper"))
        painter.setPen(p.pen("wall", HAIR))
        painter.drawLine(QPointF(0, 6), QPointF(self.width(), 6))
        seen = QRectF(event.rect()) if event is not None else QRectF(self.rect())
        for k, tag in enumerate(self.tags):
            rect = self.tag_rect(k)
            if rect.intersects(seen):
                self._paint_tag(painter, p, rect, tag, k == self.current)
        painter.setPen(p.color("faint"))
        painter.setFont(font(SMALL, bold=True))
        if self.first > 0:
            painter.drawText(QPointF(1, 44), "‹")
        if self.first + self._shown() < len(self.tags):
            painter.drawText(QPointF(self.width() - 8, 44), "›")

    def _paint_tag(self, painter: QPainter, p: Palette, rect: QRectF, tag: Tag, chosen: bool) -> None:
        painter.setPen(p.pen("wall", HAIR))
        painter.drawLine(QPointF(rect.left() + 16, 6), QPointF(rect.left() + 16, rect.top() + 4))
        painter.setBrush(p.color("sheet" if chosen else "raised"))
        painter.setPen(p.pen("focus" if chosen else "line", 1.6 if chosen else HAIR))
        painter.drawRoundedRect(rect, 3, 3)
        if chosen:
            painter.fillRect(
                QRectF(rect.left() + 1, rect.bottom() - 4, rect.width() - 2, 3.2), p.color("oil")
            )
        if chosen and self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(rect.adjusted(2.5, 2.5, -2.5, -2.5), 2, 2)
        marks.paint_drop(Ink(painter, p), QRectF(rect.left() + 9, rect.top() + 9, 12, 16), tag.verdict)
        painter.setPen(p.color("ink"))
        fitted_text(
            painter, QPointF(rect.left() + 28, rect.top() + 22), tag.name, rect.width() - 34, BODY, True
        )
        painter.setPen(p.color("faint"))
        room = rect.width() - 16
        lines = [tag.measure]
        if QFontMetricsF(font(LEAST)).horizontalAdvance(tag.measure) > room:
            lines = wrapped(tag.measure, room, font(LEAST), most=2)
        for k, line in enumerate(lines):
            base = rect.top() + (38 if len(lines) == 1 else 34 + 11 * k)
            fitted_text(
                painter, QPointF(rect.left() + 9, base), line, room, SMALL if len(lines) == 1 else LEAST
            )
        colour = {"fails": "bad", "watch": "watch", "holds": "ink"}[tag.verdict]
        painter.setPen(p.color(colour))
        value = tag.value
        if QFontMetricsF(font(LEAST)).horizontalAdvance(value) > room:
            value = value.partition(" (")[0]  # the limit is told when the mouse rests on it
        base = rect.top() + (53 if len(lines) == 1 else 56)
        fitted_text(painter, QPointF(rect.left() + 9, base), value, room, SMALL)
