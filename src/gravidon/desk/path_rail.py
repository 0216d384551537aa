# SPDX-License-Identifier: GPL-3.0-or-later
"""The path the oil takes, as a rail in chapters: one fitting per station, its headline number, its verdict.

The chapter one is in is open; the others are one line each, with their worst verdict.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from gravidon.desk.painted import painted
from gravidon.desk.voices import Voice, Voices
from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, SMALL, VERDICT_COLOR, Palette, fitted_text, font
from gravidon.words.text import tr, verdict_said

ROW, HEAD = 46, 30
LEAST_WIDE, WIDE, WIDEST = 172, 190, 270
"""[px] as narrow as the rail may be drawn, and between what its width follows the language; project choice."""
NAME_LEFT = 44.0
"""[px] from the rail's edge to the names."""
ORDER = ("fails", "watch", "holds")
"""Verdicts, worst first."""


@dataclass(frozen=True)
class Stop:
    """What the rail shows of a station; and which chapter it stands in."""

    name: str
    headline: str
    verdict: str
    chapter: int = 0


TWO_LINES = 31.0
"""[px] of a row from which the station's one number stands under its name; in a lower window the names alone are told."""


class PathRail(QWidget):
    """A vertical oil line with the stations as fittings on it."""

    chosen = pyqtSignal(int)

    def __init__(self, palette: Palette, chapters: Sequence[str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.chapters = tuple(chapters)
        self.stops: Sequence[Stop] = ()
        self.current = 0
        self._wide = WIDE
        self.palette_in_use = palette
        self.voices = Voices(self)
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # a drawing and its figures are not mirrored
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("The path: stations"))
        self.setMinimumWidth(LEAST_WIDE)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Expanding)

    def show_stops(self, stops: Sequence[Stop], current: int) -> None:
        """Show the stations."""
        before, was = self.stops, self.current
        self.stops, self.current = stops, current
        if [s.name for s in before] != [s.name for s in stops]:
            self._make_room()
        stop = stops[current]
        self.setAccessibleDescription(f"{stop.name}: {stop.headline}, {verdict_said(stop.verdict)}")
        self._tell()
        if len(before) != len(stops) or was != current:
            self.update()
            return
        chapters = {old.chapter for old, new in zip(before, stops, strict=True) if old != new}
        for k, (old, new) in enumerate(zip(before, stops, strict=True)):
            if old != new and new.chapter == self.open_chapter:
                self.update(self.row_rect(k).toAlignedRect())
        for chapter in chapters:
            self.update(self.head_rect(chapter).toAlignedRect())

    def _make_room(self) -> None:
        """Be as wide as the names and verdicts of the language need, within reason."""
        words = QFontMetricsF(font(SMALL))
        verdict = max(words.horizontalAdvance(verdict_said(v)) for v in ORDER)
        names = QFontMetricsF(font(BODY))
        wide = max((names.horizontalAdvance(s.name) for s in self.stops), default=0.0)
        self._wide = int(min(max(wide + verdict + NAME_LEFT + 18.0, WIDE), WIDEST))
        self.setMinimumWidth(self._wide if self._wide > WIDE else LEAST_WIDE)
        self.updateGeometry()

    def _tell(self) -> None:
        """Tell assistive technology of every station, also of those in closed chapters."""
        self.voices.tell(
            [
                Voice(
                    stop.name,
                    self.row_rect(k),
                    f"{self.chapters[stop.chapter]}: {stop.headline}, {verdict_said(stop.verdict)}",
                    k == self.current,
                    partial(self.chosen.emit, k),
                )
                for k, stop in enumerate(self.stops)
            ]
        )

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Rows lie elsewhere."""
        if self.stops:
            self._tell()

    @property
    def open_chapter(self) -> int:
        """The chapter of the station in sight."""
        return self.stops[self.current].chapter if self.stops else 0

    def _of(self, chapter: int) -> list[int]:
        return [k for k, stop in enumerate(self.stops) if stop.chapter == chapter]

    def sizeHint(self) -> QSize:
        """Room for every station of the longest chapter."""
        longest = max((len(self._of(c)) for c in range(len(self.chapters))), default=0)
        return QSize(self._wide, HEAD * len(self.chapters) + ROW * longest)

    def _row(self) -> float:
        room = self.height() - HEAD * len(self.chapters) - 8
        return min(float(ROW), room / max(len(self._of(self.open_chapter)), 1))

    def head_rect(self, chapter: int) -> QRectF:
        """Return where a chapter's heading lies."""
        shift = self._row() * len(self._of(self.open_chapter)) if chapter > self.open_chapter else 0.0
        return QRectF(0, 2 + HEAD * chapter + shift, self.width(), HEAD)

    def row_rect(self, index: int) -> QRectF:
        """Return where a station's row lies; its chapter's heading while that is closed."""
        chapter = self.stops[index].chapter
        head = self.head_rect(chapter)
        if chapter != self.open_chapter:
            return head
        place = self._of(chapter).index(index)
        return QRectF(0, head.bottom() + place * self._row(), self.width(), self._row())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose the station under the mouse; a closed chapter opens at its worst one."""
        if event is None:
            return
        for k in self._of(self.open_chapter):
            if self.row_rect(k).contains(event.position()):
                self.chosen.emit(k)
                return
        for chapter in range(len(self.chapters)):
            inside = self._of(chapter)
            if chapter != self.open_chapter and inside and self.head_rect(chapter).contains(event.position()):
                self.chosen.emit(min(inside, key=lambda k: ORDER.index(self.stops[k].verdict)))
                return

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down walk the path."""
        if event is None:
            return
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if step and 0 <= self.current + step < len(self.stops):
            self.chosen.emit(self.current + step)
        elif not step:
            super().keyPressEvent(event)

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        """Draw the line and its fittings."""
        p = self.palette_in_use
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), p.color("paper"))
        if not self.stops:
            return
        seen = QRectF(event.rect()) if event is not None else QRectF(self.rect())
        for chapter in range(len(self.chapters)):
            if self.head_rect(chapter).intersects(seen):
                self._paint_head(painter, p, chapter)
        inside = self._of(self.open_chapter)
        x = 24.0
        first, last = self.row_rect(inside[0]).center().y(), self.row_rect(inside[-1]).center().y()
        for colour, width in (("wall", 7), ("oil", 4)):
            painter.setPen(p.pen(colour, width))
            painter.drawLine(QPointF(x, first), QPointF(x, last))
        for k in inside:
            if self.row_rect(k).adjusted(0, -4, 12, 4).intersects(seen):
                self._paint_stop(painter, p, k, self.stops[k], x, k == inside[0], k == inside[-1])

    def _paint_head(self, painter: QPainter, p: Palette, chapter: int) -> None:
        rect = self.head_rect(chapter)
        stops = [self.stops[k] for k in self._of(chapter)]
        opened = chapter == self.open_chapter
        worst = min((s.verdict for s in stops), key=ORDER.index, default="holds")
        painter.setPen(p.pen("line", 1.0))
        if chapter:
            painter.drawLine(QPointF(14, rect.top()), QPointF(rect.right() - 10, rect.top()))
        middle = rect.center().y()
        painter.setFont(font(BODY, bold=True))
        painter.setPen(p.color("ink" if opened else "faint"))
        painter.drawText(QPointF(14, middle + 5), self.chapters[chapter])
        if not opened:
            marks.paint_drop(Ink(painter, p), QRectF(rect.right() - 24, middle - 8, 11, 15), worst)

    def _paint_stop(
        self, painter: QPainter, p: Palette, k: int, stop: Stop, x: float, first: bool, last: bool
    ) -> None:
        row = self.row_rect(k)
        middle = row.center().y()
        chosen = k == self.current
        if chosen:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(p.color("sheet"))
            painter.drawRoundedRect(row.adjusted(6, 0, 10, 0), 4, 4)
            top, bottom = (middle if first else row.top() + 2), (middle if last else row.bottom() - 2)
            for colour, width in (("wall", 7), ("oil", 4)):
                painter.setPen(p.pen(colour, width))
                painter.drawLine(QPointF(x, top), QPointF(x, bottom))
        if chosen and self.hasFocus():
            painter.setPen(p.pen("focus", 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(row.adjusted(6.5, 0.5, -3, -0.5), 4, 4)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(p.color("sheet" if chosen else "paper"))
        painter.drawEllipse(QPointF(x, middle), 11, 11)
        marks.paint_drop(Ink(painter, p), QRectF(x - 6, middle - 9, 12, 17), stop.verdict)
        told = row.height() >= TWO_LINES
        base = middle - 2 if told else middle + 5
        painter.setPen(p.color("ink"))
        word = "" if stop.verdict == "holds" else verdict_said(stop.verdict)
        wide = QFontMetricsF(font(SMALL)).horizontalAdvance(word)
        room = self.width() - NAME_LEFT - (wide + 13 if word else 6)
        fitted_text(painter, QPointF(NAME_LEFT, base), stop.name, room, BODY, bold=chosen)
        painter.setFont(font(SMALL))
        painter.setPen(p.color(VERDICT_COLOR[stop.verdict]))
        painter.drawText(QPointF(self.width() - wide - 9, base), word)
        if not told:
            return
        painter.setPen(p.color("faint"))
        fitted_text(painter, QPointF(NAME_LEFT, middle + 12), stop.headline, self.width() - x - 26, SMALL)
