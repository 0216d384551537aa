# SPDX-License-Identifier: GPL-3.0-or-later
"""The drain run in space: two linked elevations to scale, edited by dragging or typing, and the run pulled straight."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Hashable

from PyQt6.QtCore import QPoint, QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QTransform, QWheelEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QHBoxLayout,
    QLabel,
    QMenu,
    QSplitter,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.canvas import Canvas
from gravidon.desk.name_field import NameField
from gravidon.desk.photo_dialog import PhotoButton
from gravidon.desk.stations.base import Station
from gravidon.desk.stations.drain_fields import EndChoice, PointEditor, handle_path
from gravidon.desk.value_field import ValueField
from gravidon.draw import elevation as drawing
from gravidon.draw import photo as photos
from gravidon.draw import run_marks, run_strip
from gravidon.draw.frame import Frame
from gravidon.draw.geometry.elevation import VIEWS, Elevation, View, elevation, handle, shifted
from gravidon.draw.ink import Ink
from gravidon.parts.dash import END_BORE_MM
from gravidon.plan import paths
from gravidon.plan.model import DrainPiece, Point, Shape
from gravidon.plan.things import THINGS
from gravidon.study.solve.as_bought import line_dash
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import N_, tr

REACH_PX = 14.0
NUDGE_MM, BIG_NUDGE_MM = 1.0, 10.0
HANDLES = {"turbo": N_("turbo"), "entry": N_("entry"), "pot": N_("pot")}
BESIDE_MM = 60.0
"""[mm] between two things that are added one after the other: each can be seen and taken hold of."""
BESIDE: dict[View, View] = {"front": "side", "side": "front", "above": "front"}
"""What the second drawing shows beside the first."""
BUTTONS: dict[View, str] = {"front": tr("Front"), "side": tr("Left side"), "above": tr("Above")}


def _near(a: Point, b: Point) -> bool:
    """Whether one thing's corner hides another's."""
    return max(abs(a.x_mm - b.x_mm), abs(a.y_mm - b.y_mm), abs(a.z_mm - b.z_mm)) < BESIDE_MM / 2


class ElevationCanvas(Canvas):
    """One view of the run: drag a point or a thing, nudge it with the arrow keys, zoom with the wheel."""

    def __init__(self, station: DrainStation, view: View) -> None:
        super().__init__(station, tr("Drain, {view}").format(view=VIEWS[view]), least=(190, 290))
        self.drain = station
        self.view: View = view
        self.zoom = 1.0
        self._dragging = False
        self._grip = (0.0, 0.0)
        self._frame: Frame | None = None
        self._picture: tuple[tuple[Evaluation, int, View], Elevation] | None = None

    def sizeHint(self) -> QSize:
        """Large."""
        return QSize(440, 420)

    @property
    def selected(self) -> str:
        """The chosen handle; the same in both drawings."""
        return self.drain.selected

    def picture(self) -> Elevation:
        """Return the geometry as it is now."""
        session = self.station.session
        key = (session.evaluation, session.condition, self.view)
        if self._picture is None or self._picture[0] != key:
            self._picture = (key, elevation(*key))
        return self._picture[1]

    def frame_now(self) -> Frame:
        """Return the frame; it stands still while a point is dragged."""
        if self._frame is None or not self._dragging:
            fitted = drawing.fit(self.picture(), QRectF(self.rect()))
            centre = QRectF(self.rect()).center()
            away = fitted.origin - centre
            self._frame = Frame(fitted.scale * self.zoom, centre + away * self.zoom)
        return self._frame

    def ground_key(self) -> Hashable:
        """The things, the pan and its oil stay while the run is dragged; a photo lies under them."""
        photo = photos.of_view(self.station.session.plan, self.view)
        return (*drawing.behind_key(self.frame_now(), self.picture()), photo)

    def paint_ground(self, painter: QPainter) -> None:
        """Draw what stands behind the run."""
        ink = Ink(painter, self.station.colours, self.station.session.family)
        frame = self.frame_now()
        to_px = QTransform(
            frame.scale * 1e3, 0.0, 0.0, -frame.scale * 1e3, frame.origin.x(), frame.origin.y()
        )
        photos.paint(painter, photos.of_view(self.station.session.plan, self.view), to_px)
        drawing.paint_behind(ink, self.area, self.frame_now(), self.picture())

    def paint(self, painter: QPainter) -> None:
        """Draw the run."""
        session = self.station.session
        drawing.paint_run(
            Ink(painter, self.station.colours, session.family),
            self.area,
            self.frame_now(),
            session.evaluation,
            session.condition,
            self.picture(),
            self.selected,
            main=self is self.drain.canvas,
        )
        if session.ghost is not None:
            made = elevation(session.ghost, session.condition, self.view)
            run_marks.ghost(Ink(painter, self.station.colours), self.frame_now(), made)

    def handle_pixel(self, name: str) -> QPointF:
        """Return where a handle is on screen."""
        spot: QPointF = self.frame_now().at(self.picture().handles[name])
        return spot

    def geometry_in(self, widget: QWidget) -> QRect:
        """Return where the drawing is within another widget."""
        return QRect(self.mapTo(widget, self.rect().topLeft()), self.size())

    def marks_in(self, widget: QWidget) -> list[QPoint]:
        """Return where the handles, the run and the turbo above its flange are within another widget."""
        picture, frame = self.picture(), self.frame_now()
        spots = [frame.at(p) for p in (*picture.handles.values(), *picture.stations[::4])]
        flange = self.handle_pixel("turbo")
        spots += [flange - QPointF(0.0, k * frame.scale) for k in (30.0, 60.0, 90.0)]
        return [self.mapTo(widget, spot.toPoint()) for spot in spots]

    def _nearest(self, at: QPointF) -> str:
        found = {n: (self.handle_pixel(n) - at).manhattanLength() for n in self.picture().handles}
        # a thing's handle gives way to a point of the run that lies as near
        name = min(found, key=lambda n: found[n] + (4.0 if n.startswith("shape") else 0.0))
        return name if found[name] <= REACH_PX else ""

    def select(self, name: str) -> None:
        """Choose a handle."""
        self.drain.select(name, self)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of a point."""
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.setFocus(Qt.FocusReason.MouseFocusReason)
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
            self.drain.show_selected()
            self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom about the middle."""
        if event is not None:
            self.set_zoom(self.zoom * (1.15 if event.angleDelta().y() > 0 else 1 / 1.15))

    def set_zoom(self, zoom: float) -> None:
        """Zoom; 1 fits the whole drain."""
        self.zoom = min(max(zoom, 0.5), 6.0)
        self.drain.show_selected()
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows nudge (Shift: further), N goes to the next point, + - 0 zoom."""
        if event is None:
            return
        step = BIG_NUDGE_MM if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else NUDGE_MM
        key = Qt.Key(event.key())
        moves = {
            Qt.Key.Key_Left: (-step, 0.0),
            Qt.Key.Key_Right: (step, 0.0),
            Qt.Key.Key_Up: (0.0, step),
            Qt.Key.Key_Down: (0.0, -step),
        }
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
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.selected:
            self.drain.remove_selected()
        elif key == Qt.Key.Key_Escape:
            self.select("")
        else:
            super().keyPressEvent(event)

    def _move_to(self, right_mm: float, up_mm: float, merge: str) -> None:
        session, name = self.station.session, self.selected
        path = handle_path(name)
        at = self.picture().handles[name]
        try:
            old = paths.get(session.plan, session.resolve(path))
            point = shifted(self.view, old, right_mm - float(at[0]), up_mm - float(at[1]))
        except ValueError:
            return  # beyond the bounds a position may have: the point stays where it is
        session.edit(path, point, tr("move {what}").format(what=self.drain.words_for(name)), merge)


class StripCanvas(Canvas):
    """The run pulled straight."""

    def paint(self, painter: QPainter) -> None:
        """Draw the strip."""
        s = self.station.session
        run_strip.paint(Ink(painter, self.station.colours, s.family), self.area, s.evaluation, s.condition)


class DrainStation(Station):
    """Lay the drain so that it falls, breathes and keeps the seals dry."""

    key = "drain"
    question = tr(
        "Does the oil fall all the way, with air over it, and stay below the seals? Drag any point, or a thing beside the hose."
    )

    def build(self) -> None:
        """Make the view choice, the two drawings, the strip and the sizes."""
        self.selected = ""
        self._at: ElevationCanvas | None = None
        bar = QHBoxLayout()
        bar.setSpacing(6)
        self.views = QButtonGroup(self)
        for view, words in VIEWS.items():
            button = QToolButton()
            button.setText(BUTTONS[view])
            button.setToolTip(words[:1].upper() + words[1:])
            button.setCheckable(True)
            button.setChecked(view == "front")
            button.clicked.connect(lambda _, v=view: self.set_view(v))
            self.views.addButton(button)
            bar.addWidget(button)
        bar.addStretch(1)
        bar.addWidget(QLabel(tr("ends in")))
        self.ends = EndChoice(self.session)
        bar.addWidget(self.ends)
        self.photo_button = PhotoButton(self.session)
        bar.addWidget(self.photo_button)
        self.add_button = self._menu_button(tr("Add"), bar)
        self.remove_button = QToolButton()
        self.remove_button.setText(tr("Remove"))
        self.remove_button.clicked.connect(self.remove_selected)
        bar.addWidget(self.remove_button)
        self.column.addLayout(bar)
        self.canvas, self.second = ElevationCanvas(self, "front"), ElevationCanvas(self, "side")
        self.pair = QSplitter(Qt.Orientation.Horizontal)
        for canvas, stretch in ((self.canvas, 3), (self.second, 2)):
            self.pair.addWidget(canvas)
            self.pair.setStretchFactor(self.pair.indexOf(canvas), stretch)
        self.pair.setHandleWidth(5)
        self.pair.setSizes([470, 290])
        self.column.addWidget(self.pair, 1)
        self.strip = StripCanvas(self, tr("The run pulled straight, bore to scale"), (380, 112))
        self.strip.setFixedHeight(112)
        self.column.addWidget(self.strip)
        self.editor = PointEditor(self)
        self.editor.closed.connect(lambda: self.select(""))
        self._sizes()

    def _menu_button(self, words: str, bar: QHBoxLayout) -> QToolButton:
        button = QToolButton()
        button.setText(f"{words} ▾")
        menu = QMenu(button)
        entries: list[tuple[str, Callable[[], None]]] = [
            (tr("A bend in the longest stretch"), self.add_bend),
            (tr("A hose end at the turbo"), lambda: self.add_piece("turbo")),
            (tr("A hose end at the pan"), lambda: self.add_piece("pan")),
        ]
        entries += [
            (tr("A {name} beside it").format(name=name), lambda k=kind: self.add_shape(k))  # type: ignore[misc]
            for kind, name in ((t.name, t.words) for t in THINGS.values())
        ]
        for text, action in entries:
            made = menu.addAction(text)
            if made is not None:
                made.triggered.connect(lambda _=False, a=action: a())
        button.setMenu(menu)
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        bar.addWidget(button)
        return button

    def _sizes(self) -> None:
        strip = QHBoxLayout()
        strip.setSpacing(6)
        for path, label, dash in (
            ("line.drain.flange_bore_mm", tr("Flange bore"), True),
            ("line.drain.flange_length_mm", tr("Flange stub"), False),
            ("line.drain.hose_bore_mm", tr("Hose bore"), True),
            ("line.drain.fitting.bore_mm", tr("Entry bore"), True),
            ("line.drain.fitting.length_mm", tr("Entry length"), False),
            ("line.drain.fitting.rise_deg", tr("Entry rise"), False),
            ("line.drain.min_bend_mm", tr("Least bend"), False),
            ("line.drain.sag_mm", tr("Hose sag"), False),
        ):
            cell = QVBoxLayout()
            cell.setSpacing(2)
            text = QLabel(label)
            text.setProperty("role", "faint")
            field = ValueField(self.session, path, dash=dash)
            field.setMinimumWidth(58)
            text.setBuddy(field)
            cell.addWidget(text)
            cell.addWidget(field)
            strip.addLayout(cell)
        self.sleeve = QCheckBox()
        self.sleeve.setAccessibleName(tr("The drain hose is sleeved"))
        self.sleeve.setToolTip(tr("A sleeve over the hose, against heat and against what it rubs on"))
        self.sleeve.clicked.connect(
            lambda on: self.session.edit("line.drain.sleeved", bool(on), tr("sleeve the hose"))
        )
        cell, text = QVBoxLayout(), QLabel(tr("Sleeve"))
        cell.setSpacing(2)
        text.setProperty("role", "faint")
        text.setBuddy(self.sleeve)
        cell.addWidget(text)
        self.sleeve.setFixedHeight(30)
        cell.addWidget(self.sleeve)
        strip.addLayout(cell)
        self.column.addLayout(strip)
        self.piece_row = QHBoxLayout()
        self.piece_row.setSpacing(6)
        self.piece_widgets: list[QWidget] = []
        self._pieces_shown: tuple[int, tuple[str, ...]] | None = None
        self.column.addLayout(self.piece_row)

    def _show_pieces(self) -> None:
        """One name, bore and length a hose end; made anew only when the list itself changes."""
        pieces = self.session.line.drain.pieces
        key = (self.session.evaluation.index, tuple(p.label for p in pieces))
        if key == self._pieces_shown:
            return
        self._pieces_shown = key
        for widget in self.piece_widgets:
            self.piece_row.removeWidget(widget)
            widget.hide()
            widget.deleteLater()
        self.piece_widgets = []
        for k, piece in enumerate(pieces):
            path = f"line.drain.pieces.{k}"
            name = NameField(
                self.session, f"{path}.label", tr("Name of the hose end"), tr("rename the hose end")
            )
            angle, bore, length = (
                ValueField(self.session, f"{path}.angle_deg"),
                ValueField(self.session, f"{path}.bore_mm", dash=True),
                ValueField(self.session, f"{path}.length_mm"),
            )
            drop = QToolButton()
            drop.setText("×")
            drop.setToolTip(tr("Take out: {label}").format(label=piece.label))
            drop.setAccessibleName(tr("Take out {label}").format(label=piece.label))
            drop.clicked.connect(lambda _=False, i=k: self.remove_piece(i))
            for widget, width in ((name, 0), (angle, 52), (bore, 78), (length, 72), (drop, 26)):
                if width:
                    widget.setFixedWidth(width)
                self.piece_row.addWidget(widget)
                self.piece_widgets.append(widget)

    def set_view(self, view: View) -> None:
        """Look from another side; the second drawing shows the next one."""
        self.canvas.view, self.second.view = view, BESIDE[view]
        for button, name in zip(self.views.buttons(), VIEWS, strict=True):
            button.setChecked(name == view)
        self.refresh()

    @property
    def view(self) -> View:
        """What the first drawing shows."""
        return self.canvas.view

    def show_ghost(self) -> None:
        """Draw the remedied run over the run, dashed."""
        self.canvas.update()
        self.second.update()

    def follow(self) -> None:
        """Only the drawing under the hand; the one that was pressed."""
        (self._at or self.canvas).update()

    def refresh(self) -> None:
        """Redraw."""
        if self.selected and self.selected not in self.canvas.picture().handles:
            self.selected = ""
        for canvas in (self.canvas, self.second):
            canvas.setAccessibleName(tr("Drain {views}, to scale").format(views=VIEWS[canvas.view]))
            canvas.setAccessibleDescription(self.headline())
            canvas.update()
        self.ends.refresh()
        self.photo_button.show_view(self.canvas.view)
        self.sleeve.setChecked(self.session.line.drain.sleeved)
        self._show_pieces()
        self.show_selected()
        self.strip.update()

    def select(self, name: str, canvas: ElevationCanvas | None = None) -> None:
        """Choose a handle in both drawings."""
        self.selected = name
        self._at = canvas or self._at or self.canvas
        self.show_selected()
        self.canvas.update()
        self.second.update()

    def show_selected(self) -> None:
        """Place the typing fields beside the chosen point."""
        name = self.selected
        self.remove_button.setEnabled(name.startswith(("bend", "shape")))
        canvas = self._at or self.canvas
        if name and canvas.isVisible() and name in canvas.picture().handles:
            at = canvas.mapTo(self, canvas.handle_pixel(name).toPoint())
            self.editor.show_for(name, canvas.view, at, canvas.geometry_in(self), canvas.marks_in(self))
        else:
            self.editor.hide()

    def words_for(self, name: str) -> str:
        """Return what a handle is called in the history."""
        what, _, number = name.partition(" ")
        if what == "shape":
            return self.session.plan.shapes[int(number) - 1].label
        return tr("bend {number}").format(number=number) if number else tr(HANDLES[what])

    def add_bend(self) -> None:
        """Put a bend into the middle of the longest hose stretch."""
        if self.session.line.drain_by == "scavenge":
            self.session.refused.emit(tr("A drain into a scavenge pot runs straight; move the pot instead"))
            return
        line = self.session.line
        corners = self.session.evaluation.route.hose_corners_m
        lengths = [float(((b - a) ** 2).sum()) for a, b in itertools.pairwise(corners)]
        k = lengths.index(max(lengths))
        x, y, z = (round(float(v) * 1e3, 1) for v in 0.5 * (corners[k] + corners[k + 1]))
        points = line.drain.points
        k = min(k, len(points))
        new = (*points[:k], Point.model_construct(x_mm=x, y_mm=y, z_mm=z), *points[k:])
        if self.session.edit("line.drain.points", new, tr("add a bend")):
            self.select(handle("bend", k))

    def add_piece(self, at: str) -> None:
        """Add a hose end at one end of the hose."""
        drain = self.session.line.drain
        bore = END_BORE_MM[line_dash(self.session.evaluation.plan, self.session.evaluation.index, "drain")]
        new = DrainPiece.model_validate(
            {
                "label": tr("45° hose end at the {at}").format(at=at),
                "at": at,
                "bore_mm": bore,
                "length_mm": 42.0,
                "angle_deg": 45.0,
            }
        )
        self.session.edit("line.drain.pieces", (*drain.pieces, new), tr("add a hose end"))

    def remove_piece(self, index: int) -> None:
        """Take a hose end out."""
        pieces = self.session.line.drain.pieces
        self.session.edit(
            "line.drain.pieces", (*pieces[:index], *pieces[index + 1 :]), tr("remove a hose end")
        )

    def add_shape(self, kind: str) -> None:
        """Place a box beside the run's middle, to be dragged where it is in the car."""
        shapes = self.session.plan.shapes
        middle = self.session.evaluation.route.stations_m.mean(axis=0) * 1e3
        away = -90.0 if middle[1] < 0 else 40.0
        corner = Point.model_construct(
            x_mm=round(float(middle[0]) - 25, 1),
            y_mm=round(float(middle[1]) + away, 1),
            z_mm=round(float(middle[2]) - 25, 1),
        )
        while any(_near(corner, other.corner) for other in shapes):  # each new thing beside the one before
            corner = corner.model_copy(update={"z_mm": corner.z_mm + BESIDE_MM})
        new = Shape.model_validate(
            {
                "label": f"{THINGS[kind].words} {len(shapes) + 1}",
                "kind": kind,
                "corner": corner,
                "length_mm": 50.0,
                "width_mm": 50.0,
                "height_mm": 50.0,
            }
        )
        if self.session.edit("shapes", (*shapes, new), tr("add {label}").format(label=new.label)):
            self.select(handle("shape", len(shapes)))

    def remove_selected(self) -> None:
        """Take the chosen bend or thing out."""
        if self.selected.startswith("bend"):
            self.remove_bend()
        elif self.selected.startswith("shape"):
            k = int(self.selected.split()[1]) - 1
            shapes = self.session.plan.shapes
            self.selected = ""
            self.session.edit(
                "shapes", (*shapes[:k], *shapes[k + 1 :]), tr("remove {label}").format(label=shapes[k].label)
            )

    def remove_bend(self) -> None:
        """Take the chosen bend out."""
        name = self.selected
        if not name.startswith("bend"):
            return
        k = int(name.split()[1]) - 1
        points = self.session.line.drain.points
        self.selected = ""
        self.session.edit("line.drain.points", (*points[:k], *points[k + 1 :]), tr("remove a bend"))
