"""The path the oil takes, as a rail: one fitting per station, its headline number, its verdict."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, SMALL, VERDICT_COLOR, Palette, font

ROW = 54


@dataclass(frozen=True)
class Stop:
    """What the rail shows of a station."""

    name: str
    headline: str
    verdict: str


class PathRail(QWidget):
    """A vertical oil line with the stations as fittings on it."""

    chosen = pyqtSignal(int)

    def __init__(self, palette: Palette, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.stops: Sequence[Stop] = ()
        self.current = 0
        self.palette_in_use = palette
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The path: stations")
        self.setMinimumWidth(172)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Expanding)

    def show_stops(self, stops: Sequence[Stop], current: int) -> None:
        """Show the stations."""
        before, was = self.stops, self.current
        self.stops, self.current = stops, current
        stop = stops[current]
        self.setAccessibleDescription(f"{stop.name}: {stop.headline}, {stop.verdict}")
        if len(before) != len(stops) or was != current:
            self.update()
            return
        for k, (old, new) in enumerate(zip(before, stops, strict=True)):
            if old != new:
                self.update(self.row_rect(k).toAlignedRect())

    def sizeHint(self) -> QSize:
        """Room for every station."""
        return QSize(190, 30 + ROW * len(self.stops))

    def _row(self) -> float:
        return min(float(ROW), (self.height() - 34) / max(len(self.stops), 1))

    def row_rect(self, index: int) -> QRectF:
        """Return where a station's row lies."""
        return QRectF(0, 30 + index * self._row(), self.width(), self._row())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose the station under the mouse."""
        if event is None:
            return
        for k in range(len(self.stops)):
            if self.row_rect(k).contains(event.position()):
                self.chosen.emit(k)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down walk the path."""
        if event is None:
            return
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if step and 0 <= self.current + step < len(self.stops):
            self.chosen.emit(self.current + step)
        elif not step:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw the line and its fittings."""
        p = self.palette_in_use
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), p.color("paper"))
        painter.setFont(font(SMALL))
        painter.setPen(p.color("faint"))
        painter.drawText(QPointF(14, 20), "The path of the oil")
        if not self.stops:
            return
        x = 24.0
        first, last = self.row_rect(0).center().y(), self.row_rect(len(self.stops) - 1).center().y()
        painter.setPen(p.pen("wall", 7))
        painter.drawLine(QPointF(x, first), QPointF(x, last))
        painter.setPen(p.pen("oil", 4))
        painter.drawLine(QPointF(x, first), QPointF(x, last))
        seen = QRectF(event.rect()) if event is not None else QRectF(self.rect())
        for k, stop in enumerate(self.stops):
            if self.row_rect(k).adjusted(0, -4, 12, 4).intersects(seen):
                self._paint_stop(painter, p, k, stop, x)

    def _paint_stop(self, painter: QPainter, p: Palette, k: int, stop: Stop, x: float) -> None:
        row = self.row_rect(k)
        middle = row.center().y()
        chosen = k == self.current
        if chosen:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(p.color("sheet"))
            painter.drawRoundedRect(row.adjusted(6, 2, 10, -2), 4, 4)
            painter.setPen(p.pen("wall", 7))
            painter.drawLine(
                QPointF(x, row.top() + (2 if k else row.height() / 2)),
                QPointF(x, row.bottom() - (2 if k < len(self.stops) - 1 else row.height() / 2)),
            )
            painter.setPen(p.pen("oil", 4))
            painter.drawLine(
                QPointF(x, row.top() + (2 if k else row.height() / 2)),
                QPointF(x, row.bottom() - (2 if k < len(self.stops) - 1 else row.height() / 2)),
            )
        if chosen and self.hasFocus():
            painter.setPen(p.pen("focus", 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(row.adjusted(6.5, 2.5, -3, -2.5), 4, 4)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(p.color("sheet" if chosen else "paper"))
        painter.drawEllipse(QPointF(x, middle), 11, 11)
        marks.paint_drop(Ink(painter, p), QRectF(x - 6, middle - 9, 12, 17), stop.verdict)
        painter.setPen(p.color("ink"))
        painter.setFont(font(BODY, bold=chosen))
        painter.drawText(QPointF(x + 20, middle - 3), stop.name)
        painter.setFont(font(SMALL))
        painter.setPen(p.color(VERDICT_COLOR[stop.verdict]))
        word = painter.fontMetrics().horizontalAdvance(stop.verdict)
        painter.drawText(QPointF(self.width() - word - 9, middle - 3), stop.verdict)
        painter.setFont(font(SMALL))
        painter.setPen(p.color("faint"))
        metrics = painter.fontMetrics()
        words = metrics.elidedText(stop.headline, Qt.TextElideMode.ElideRight, int(self.width() - x - 26))
        painter.drawText(QPointF(x + 20, middle + 13), words)
