"""A drawing surface for a station: paints, takes clicks, can be focused and exported."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from gravidon.desk.stations.base import Station


class Canvas(QWidget):
    """Subclasses override `paint`, and `clicked` or `hovered` where they answer the mouse."""

    def __init__(self, station: Station, name: str, least: tuple[int, int] = (380, 240)) -> None:
        super().__init__()
        self.station = station
        self.setAccessibleName(name)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(*least)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        """Large."""
        return QSize(760, 420)

    @property
    def area(self) -> QRectF:
        """The whole surface."""
        return QRectF(self.rect())

    def paint(self, painter: QPainter) -> None:
        """Draw; the ground is already filled."""

    def clicked(self, at: QPointF) -> None:
        """Answer a click."""

    def hovered(self, at: QPointF | None) -> None:
        """Answer the mouse moving over, or leaving (None)."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Fill, draw, frame when focused."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.station.colours.color("sheet"))
        self.paint(painter)
        if self.hasFocus():
            painter.setPen(self.station.colours.pen("focus", 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Pass a click on."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.setFocus()
            self.clicked(event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Pass a move on."""
        if event is not None:
            self.hovered(event.position())

    def leaveEvent(self, event: object) -> None:
        """The mouse is gone."""
        self.hovered(None)
