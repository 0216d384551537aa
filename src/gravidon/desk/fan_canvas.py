# SPDX-License-Identifier: GPL-3.0-or-later
"""Plans in the car and on plumb lines, to be pointed at: for the planner and for ideas."""

from __future__ import annotations

from collections.abc import Callable, Hashable

from PyQt6.QtCore import QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter

from gravidon.desk.canvas import Canvas
from gravidon.desk.stations.base import Station
from gravidon.draw import fan
from gravidon.draw.geometry.elevation import VIEWS, View
from gravidon.draw.ink import Ink
from gravidon.study.planning.merit import AXES


class FanCanvas(Canvas):
    """Point at a plan to lift it; keys 1 to 7 choose the merit they hang by, arrows walk the plans, V turns the car."""

    pointed = pyqtSignal()
    """Another plan is lifted (`over`), or none."""
    turned = pyqtSignal()
    """The car is seen from another side (`view`)."""
    entered = pyqtSignal()
    """Return was pressed."""

    def __init__(
        self,
        station: Station,
        name: str,
        strands: Callable[[], tuple[fan.Strand, ...]],
        words: Callable[[], str] = str,
    ) -> None:
        super().__init__(station, name, (430, 224))
        self.strands, self.words = strands, words
        self.picture = fan.FanPicture()
        self.view: View = "front"
        self.axis = AXES[0].key
        self.over: str | None = None

    def sizeHint(self) -> QSize:
        """Wide and low: what stands under it is wanted in sight."""
        return QSize(760, 236)

    def ground_key(self) -> Hashable:
        """The picture stays while nothing in it changes."""
        s = self.station.session
        return (s.evaluation, s.condition, s.family, self.view, self.axis, self.over, self.strands())

    def paint_ground(self, painter: QPainter) -> None:
        """Draw the car with the plans."""
        s = self.station.session
        self.picture = fan.paint(
            Ink(painter, self.station.colours, s.family),
            self.area.adjusted(0, 0, 0, -2),
            s.evaluation,
            s.condition,
            self.view,
            self.strands(),
            self.axis,
            self.over,
            self.words(),
        )

    def lift(self, letter: str | None) -> None:
        """Lift a plan, or none."""
        if letter != self.over:
            self.over = letter
            self.pointed.emit()
            self.update()

    def see(self, view: View) -> None:
        """See the car from a side."""
        self.view = view
        self.turned.emit()
        self.update()

    def choose(self, axis: str) -> None:
        """Hang the plans by another merit."""
        self.axis = axis
        self.update()

    def hovered(self, at: QPointF | None) -> None:
        """Lift the plan under the mouse."""
        letter = self.picture.plan_at(at) if at is not None else None
        tab = self.picture.axis_at(at) if at is not None else ""
        over = tab or letter is not None
        self.setCursor(Qt.CursorShape.PointingHandCursor if over else Qt.CursorShape.ArrowCursor)
        self.lift(letter)

    def clicked(self, at: QPointF) -> None:
        """Choose a merit, or lift a plan."""
        tab = self.picture.axis_at(at)
        if tab:
            self.choose(tab)
        else:
            self.lift(self.picture.plan_at(at))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Digits choose the merit, arrows walk the plans, V turns the car, Return enters."""
        if event is None:
            return
        text, key = event.text(), Qt.Key(event.key())
        letters = [s.letter for s in self.strands()]
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(key, 0)
        if text.isdigit() and 1 <= int(text) <= len(AXES):
            self.choose(AXES[int(text) - 1].key)
        elif step and letters:
            now = letters.index(self.over) if self.over in letters else -1 if step > 0 else 0
            self.lift(letters[(now + step) % len(letters)])
        elif text.lower() == "v":
            order = list(VIEWS)
            self.see(order[(order.index(self.view) + 1) % len(order)])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.entered.emit()
        else:
            super().keyPressEvent(event)
