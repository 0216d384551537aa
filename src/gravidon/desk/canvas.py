# SPDX-License-Identifier: GPL-3.0-or-later
"""A drawing surface for a station: paints, takes clicks, can be focused and exported, and tells what it shows.

What the mouse reads off by resting, the keyboard reads with a cross: Alt and the arrows move it, Alt+Return clicks there.
"""

from __future__ import annotations

from collections.abc import Hashable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, QSizeF, Qt
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPixmap
from PyQt6.QtWidgets import QSizePolicy, QWidget

from gravidon.desk.painted import painted
from gravidon.desk.stations.base import Station
from gravidon.desk.voices import Telling, Voice
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, fitting
from gravidon.draw.surface import painter_on

if TYPE_CHECKING:
    from gravidon.desk.picture_fields import PictureFields

AS_VECTORS = "as vectors"
"""Property of a canvas while it is written as vectors: nothing is drawn by way of a pixmap then."""

RING_PX = 2.0
"""[px] width of the ring round a drawing that has the keyboard, alike on all four sides."""

STEP_PX, FINE_PX = 16.0, 2.0
"""[px] by which the reading cross goes, and with Shift; project choice."""
ARROWS = {
    Qt.Key.Key_Left: (-1.0, 0.0),
    Qt.Key.Key_Right: (1.0, 0.0),
    Qt.Key.Key_Up: (0.0, -1.0),
    Qt.Key.Key_Down: (0.0, 1.0),
}


class Canvas(QWidget):
    """Subclasses override `paint`, and `clicked` or `hovered` where they answer the mouse."""

    def __init__(self, station: Station, name: str, least: tuple[int, int] = (380, 240)) -> None:
        super().__init__()
        self.station = station
        self._ground: tuple[Hashable, QPixmap] | None = None
        self._by_key = True
        self.fields: PictureFields | None = None
        self._words: list[QRectF] = []
        self.cross: QPointF | None = None
        """Where the keyboard reads the drawing."""
        self.telling = Telling(self, self._whole, self.pressed)
        self._plain, self._without = "", frozenset[str]()
        self.setAccessibleName(name)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMouseTracking(True)
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # a drawing and its figures are not mirrored
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

    def ink(self, painter: QPainter) -> Ink:
        """Return what to draw with; the fields' places are taken."""
        taken = self.fields.rects if self.fields is not None else ()
        made = Ink(painter, self.station.colours, self.station.session.family, words=[*taken])
        self._words = made.words
        return made

    def filled(self) -> list[QRectF]:
        """What must stay in sight, so that no field is laid over it."""
        return []

    def spared(self) -> list[QRectF]:
        """What fields are laid over only where there is no other room."""
        return []

    def lay_fields(self) -> None:
        """Put the fields where they belong."""
        if self.fields is not None:
            self.fields.lay(self.filled(), self.spared())

    def resizeEvent(self, event: object) -> None:
        """Lay the fields anew."""
        self.lay_fields()

    def paint(self, painter: QPainter) -> None:
        """Draw; the ground is already there."""

    def ground_key(self) -> Hashable | None:
        """What the ground depends on besides the size; None for a plain one."""
        return None

    def paint_ground(self, painter: QPainter) -> None:
        """Draw what stays under `paint` as long as its key does."""

    def _ground_now(self) -> QPixmap | None:
        key = self.ground_key()
        if key is None:
            return None
        ratio = self.devicePixelRatioF()
        key = (key, self.size(), ratio, self.station.session.theme)
        if self._ground is None or self._ground[0] != key:
            picture = QPixmap((QSizeF(self.size()) * ratio).toSize())
            picture.setDevicePixelRatio(ratio)
            picture.fill(self.station.colours.color("sheet"))
            with painter_on(picture) as painter:
                self.paint_ground(painter)
            self._ground = (key, picture)
        return self._ground[1]

    def say(self, painter: QPainter, words: str) -> None:
        """Write in the middle what could be here."""
        painter.setPen(self.station.colours.color("faint"))
        room = self.area.adjusted(8, 4, -8, -4)
        painter.setFont(fitting(words, room.size(), BODY))
        painter.drawText(room, int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap), words)

    def pressed(self) -> list[Voice]:
        """Return what in the drawing can be pressed, for who hears it."""
        return []

    def clicked(self, at: QPointF) -> None:
        """Answer a click."""

    def hovered(self, at: QPointF | None) -> None:
        """Answer the mouse moving over, or leaving (None)."""

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        """Fill, draw, frame when focused."""
        ground = None if self.property(AS_VECTORS) else self._ground_now()
        if ground is None:
            painter.fillRect(self.rect(), self.station.colours.color("sheet"))
            self.paint_ground(painter)
        else:
            painter.drawPixmap(0, 0, ground)
        self.paint(painter)
        if self.fields is not None:
            self.fields.lead(painter, self.station.colours, self._words)
        self.telling.soon()
        if self.cross is not None:
            self._paint_cross(painter, self.cross)
        if self.hasFocus() and self._by_key:
            painter.setPen(self.station.colours.pen("focus", RING_PX))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            half = 0.5 * RING_PX
            painter.drawRect(QRectF(self.rect()).adjusted(half, half, -half, -half))

    # --- told to assistive technology, and read with keys -----------------------------------

    def _whole(self, painter: QPainter) -> None:
        self.paint_ground(painter)
        self.paint(painter)

    def event(self, event: QEvent | None) -> bool:
        """The cross takes its keys before a subclass sees them."""
        if (
            isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.KeyPress
            and self._cross_key(Qt.Key(event.key()), event.modifiers())
        ):
            return True
        return super().event(event)

    def _cross_key(self, key: Qt.Key, held: Qt.KeyboardModifier) -> bool:
        if key == Qt.Key.Key_Escape and self.cross is not None:
            self.move_cross(None)
            return True
        if not held & Qt.KeyboardModifier.AltModifier:
            return False
        if key in ARROWS:
            fine = bool(held & Qt.KeyboardModifier.ShiftModifier)
            step = FINE_PX if fine else STEP_PX
            at = self.cross or self.area.center()
            x, y = ARROWS[key]
            if self.cross is not None:
                at = QPointF(at.x() + step * x, at.y() + step * y)
            self.move_cross(
                QPointF(min(max(at.x(), 0.0), self.width() - 1.0), min(max(at.y(), 0.0), self.height() - 1.0))
            )
            return True
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.cross is not None:
            self.clicked(self.cross)
            return True
        return False

    def move_cross(self, at: QPointF | None) -> None:
        """Read at a place; None puts the cross away. What the drawing says more than without it is told as its description."""
        if self.cross is None:
            self.telling.now()
            self._plain, self._without = self.accessibleDescription(), frozenset(self.telling.said)
        self.cross = at
        self.hovered(at)
        self.telling.now()
        new = [text for text in self.telling.said if text not in self._without]
        self.setAccessibleDescription("; ".join(new) if at is not None and new else self._plain)
        self.update()

    def _paint_cross(self, painter: QPainter, at: QPointF) -> None:
        painter.setPen(self.station.colours.pen("focus", 1.5))
        for x, y in ((9.0, 0.0), (0.0, 9.0)):
            painter.drawLine(QPointF(at.x() - x, at.y() - y), QPointF(at.x() + x, at.y() + y))

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Remember how the focus came: the ring is for the keyboard, a mouse knows where it is."""
        self._by_key = event is None or event.reason() != Qt.FocusReason.MouseFocusReason
        super().focusInEvent(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Pass a click on."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.setFocus(Qt.FocusReason.MouseFocusReason)
            self.clicked(event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Pass a move on."""
        if event is not None:
            self.hovered(event.position())

    def leaveEvent(self, event: object) -> None:
        """The mouse is gone."""
        self.hovered(None)
