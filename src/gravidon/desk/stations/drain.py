"""The drain run: the elevation to scale, edited by dragging or typing its points."""

from __future__ import annotations

import itertools

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QLabel,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.session import Session
from gravidon.desk.stations.base import Station
from gravidon.desk.value_field import ValueField
from gravidon.draw import elevation as drawing
from gravidon.plan import paths
from gravidon.plan.model import Point
from gravidon.plan.units import show
from gravidon.study.elevation import VIEWS, Elevation, View, elevation, moved
from gravidon.study.evaluate import Evaluation

REACH_PX = 14.0
NUDGE_MM, BIG_NUDGE_MM = 1.0, 10.0


def handle_path(name: str) -> str:
    """Return the plan path of a handle's point."""
    if name == "turbo":
        return "line.turbo.drain_flange"
    if name == "entry":
        return "line.drain.entry"
    return f"line.drain.points.{int(name.split()[1]) - 1}"


class ElevationCanvas(QWidget):
    """The drawing: drag a point, nudge it with the arrow keys, zoom with the wheel."""

    def __init__(self, station: DrainStation) -> None:
        super().__init__()
        self.station = station
        self.selected = ""
        self.zoom = 1.0
        self._dragging = False
        self._grip = (0.0, 0.0)
        self._frame: drawing.Frame | None = None
        self._picture: tuple[tuple[Evaluation, int, View], Elevation] | None = None
        self.setMouseTracking(True)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Drain elevation, to scale")
        self.setMinimumSize(360, 260)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        """Large."""
        return QSize(760, 480)

    def picture(self) -> Elevation:
        """Return the geometry as it is now."""
        session = self.station.session
        key = (session.evaluation, session.condition, self.station.view)
        if self._picture is None or self._picture[0] != key:
            self._picture = (key, elevation(*key))
        return self._picture[1]

    def frame_now(self) -> drawing.Frame:
        """Return the frame; it stands still while a point is dragged."""
        if self._frame is None or not self._dragging:
            fitted = drawing.fit(self.picture(), QRectF(self.rect()))
            centre = QRectF(self.rect()).center()
            away = fitted.origin - centre
            self._frame = drawing.Frame(fitted.scale * self.zoom, centre + away * self.zoom)
        return self._frame

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw the elevation."""
        session = self.station.session
        painter = QPainter(self)
        rect = QRectF(self.rect())
        painter.fillRect(rect, self.station.colours.color("sheet"))
        drawing.paint(
            painter, rect, self.frame_now(), session.evaluation, session.condition, self.picture(),
            self.station.colours, session.family, self.selected,
        )  # fmt: skip
        if self.hasFocus():
            painter.setPen(self.station.colours.pen("focus", 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

    def handle_pixel(self, name: str) -> QPointF:
        """Return where a handle is on screen."""
        return self.frame_now().at(self.picture().handles[name])

    def _nearest(self, at: QPointF) -> str:
        found = {n: (self.handle_pixel(n) - at).manhattanLength() for n in self.picture().handles}
        name = min(found, key=lambda n: found[n])
        return name if found[name] <= REACH_PX else ""

    def select(self, name: str) -> None:
        """Choose a handle."""
        self.selected = name
        self.station.show_selected()
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of a point."""
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.setFocus()
        self.select(self._nearest(event.position()))
        if self.selected:
            self.frame_now()
            at = self.handle_pixel(self.selected)
            self._grip = (at.x() - event.position().x(), at.y() - event.position().y())
            self._dragging = True

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag it."""
        if event is None:
            return
        if not self._dragging:
            near = self._nearest(event.position())
            self.setCursor(Qt.CursorShape.SizeAllCursor if near else Qt.CursorShape.ArrowCursor)
            return
        at = QPointF(event.position().x() + self._grip[0], event.position().y() + self._grip[1])
        right, up = self.frame_now().back(at)
        self._move_to(round(right), round(up), f"drag-{self.selected}")

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: the whole drag is one step of the history."""
        if self._dragging:
            self._dragging = False
            self.station.session.end_merge()
            self.station.show_selected()
            self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom about the middle."""
        if event is not None:
            self.set_zoom(self.zoom * (1.15 if event.angleDelta().y() > 0 else 1 / 1.15))

    def set_zoom(self, zoom: float) -> None:
        """Zoom; 1 fits the whole drain."""
        self.zoom = min(max(zoom, 0.5), 6.0)
        self.station.show_selected()
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows nudge (Shift: further), N goes to the next point, + - 0 zoom."""
        if event is None:
            return
        step = BIG_NUDGE_MM if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else NUDGE_MM
        key = Qt.Key(event.key())
        moves = {
            Qt.Key.Key_Left: (-step, 0.0), Qt.Key.Key_Right: (step, 0.0), Qt.Key.Key_Up: (0.0, step),
            Qt.Key.Key_Down: (0.0, -step),
        }  # fmt: skip
        if key in moves and self.selected:
            at = self.picture().handles[self.selected]
            self._move_to(at[0] + moves[key][0], at[1] + moves[key][1], f"nudge-{self.selected}")
        elif key == Qt.Key.Key_N:
            names = list(self.picture().handles)
            self.select(
                names[(names.index(self.selected) + 1) % len(names)] if self.selected in names else names[0]
            )
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.set_zoom(self.zoom * 1.15)
        elif key == Qt.Key.Key_Minus:
            self.set_zoom(self.zoom / 1.15)
        elif key == Qt.Key.Key_0:
            self.set_zoom(1.0)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.selected.startswith("bend"):
            self.station.remove_bend()
        elif key == Qt.Key.Key_Escape:
            self.select("")
        else:
            super().keyPressEvent(event)

    def _move_to(self, right_mm: float, up_mm: float, merge: str) -> None:
        session = self.station.session
        path = handle_path(self.selected)
        try:
            point = moved(self.station.view, paths.get(session.plan, session.resolve(path)), right_mm, up_mm)
        except ValueError:
            return  # beyond the bounds a position may have: the point stays where it is
        session.edit(path, point, f"move {self.selected}", merge)


class PointEditor(QFrame):
    """The selected point's coordinates, typed beside the point."""

    def __init__(self, station: DrainStation) -> None:
        super().__init__(station.canvas)
        self.station = station
        self.setProperty("role", "card")
        self.setObjectName("point-editor")
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(8, 4, 8, 4)
        self.row.setSpacing(5)
        self.fields: list[QWidget] = []
        self.shown_for: tuple[str, View] | None = None
        self.hide()

    def show_for(self, name: str, view: View) -> None:
        """Show the two coordinates that the view shows."""
        if (name, view) != self.shown_for:
            self.shown_for = (name, view)
            for widget in self.fields:
                self.row.removeWidget(widget)
                widget.hide()
                widget.deleteLater()
            title = QLabel(name)
            self.fields = [title]
            across = ("y_mm", "left") if view == "front" else ("x_mm", "forward")
            for key, word in (across, ("z_mm", "up")):
                field = ValueField(self.station.session, f"{handle_path(name)}.{key}")
                field.setFixedWidth(84)
                self.fields += [QLabel(word), field]
            for widget in self.fields:
                self.row.addWidget(widget)
        self.adjustSize()
        canvas = self.station.canvas
        at = canvas.handle_pixel(name)
        x = at.x() - self.width() - 22 if at.x() > canvas.width() - self.width() - 40 else at.x() + 22
        y = min(max(at.y() + 12, 4.0), canvas.height() - self.height() - 4.0)
        self.move(int(max(x, 4)), int(y))
        self.show()
        self.raise_()


class DrainStation(Station):
    """Lay the drain so that it falls, breathes and keeps the seals dry."""

    key, name = "drain", "Drain run"
    question = "Does the oil fall all the way, with air over it, and stay below the seals?"
    help_page = "gravity"

    def build(self) -> None:
        """Make the view choice, the drawing and the strip of sizes."""
        self.view: View = "front"
        bar = QHBoxLayout()
        bar.setSpacing(6)
        self.views = QButtonGroup(self)
        for view, words in VIEWS.items():
            button = QToolButton()
            button.setText(words.capitalize())
            button.setCheckable(True)
            button.setChecked(view == self.view)
            button.clicked.connect(lambda _, v=view: self.set_view(v))
            self.views.addButton(button)
            bar.addWidget(button)
        bar.addStretch(1)
        for words, action in (("Add a bend", self.add_bend), ("Remove the bend", self.remove_bend)):
            button = QToolButton()
            button.setText(words)
            button.clicked.connect(action)
            bar.addWidget(button)
            if action == self.remove_bend:
                self.remove_button = button
        self.column.addLayout(bar)
        self.canvas = ElevationCanvas(self)
        self.column.addWidget(self.canvas, 1)
        self.editor = PointEditor(self)
        strip = QHBoxLayout()
        strip.setSpacing(14)
        for path, label, dash in (
            ("line.drain.flange_bore_mm", "Flange bore", True), ("line.drain.hose_bore_mm", "Hose bore or dash", True),
            ("line.drain.fitting.bore_mm", "Entry fitting bore", True), ("line.drain.fitting.length_mm", "Its length", False),
            ("line.drain.fitting.rise_deg", "Its rise", False),
        ):  # fmt: skip
            cell = QVBoxLayout()
            cell.setSpacing(2)
            text = QLabel(label)
            text.setProperty("role", "faint")
            field = ValueField(self.session, path, dash=dash)
            text.setBuddy(field)
            cell.addWidget(text)
            cell.addWidget(field)
            strip.addLayout(cell)
        self.column.addLayout(strip)

    def set_view(self, view: View) -> None:
        """Look from another side."""
        self.view = view
        for button, name in zip(self.views.buttons(), VIEWS, strict=True):
            button.setChecked(name == view)
        self.refresh()

    def refresh(self) -> None:
        """Redraw."""
        if self.canvas.selected and self.canvas.selected not in self.canvas.picture().handles:
            self.canvas.selected = ""
        self.canvas.setAccessibleDescription(self.headline(self.session))
        self.show_selected()
        self.canvas.update()

    def show_selected(self) -> None:
        """Place the typing fields beside the chosen point."""
        name = self.canvas.selected
        self.remove_button.setEnabled(name.startswith("bend"))
        if name and self.canvas.isVisible():
            self.editor.show_for(name, self.view)
        else:
            self.editor.hide()

    def add_bend(self) -> None:
        """Put a bend into the middle of the longest hose stretch."""
        line = self.session.line
        corners = self.session.evaluation.route.corners_m[1:-1]
        lengths = [float(((b - a) ** 2).sum()) for a, b in itertools.pairwise(corners)]
        k = lengths.index(max(lengths))
        x, y, z = (round(float(v) * 1e3, 1) for v in 0.5 * (corners[k] + corners[k + 1]))
        points = line.drain.points
        k = min(k, len(points))
        new = (*points[:k], Point(x_mm=x, y_mm=y, z_mm=z), *points[k:])
        if self.session.edit("line.drain.points", new, "add a bend"):
            self.canvas.select(f"bend {k + 1}")

    def remove_bend(self) -> None:
        """Take the chosen bend out."""
        name = self.canvas.selected
        if not name.startswith("bend"):
            return
        k = int(name.split()[1]) - 1
        points = self.session.line.drain.points
        self.canvas.selected = ""
        self.session.edit("line.drain.points", (*points[:k], *points[k + 1 :]), "remove a bend")

    @classmethod
    def headline(cls, session: Session) -> str:
        """Freeboard in the chosen condition."""
        free = float(session.evaluation.drainage.freeboard_m[session.condition])
        return f"freeboard {show(free, 'mm', session.family)}"
