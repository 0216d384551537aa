# SPDX-License-Identifier: GPL-3.0-or-later
"""The sump: the pan's boxes and baffles, the oil's plane in them, and how high it stands at the entry."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QToolButton, QVBoxLayout, QWidget

from gravidon.desk.box import Box
from gravidon.desk.canvas import Canvas
from gravidon.desk.picture_fields import Fold, PictureFields, Spot
from gravidon.desk.stations.base import ChoiceField, FieldGrid, Station
from gravidon.draw import pan_levels, pan_view
from gravidon.draw.frame import Frame
from gravidon.draw.geometry.elevation import Elevation, View, elevation, project
from gravidon.draw.ink import Ink
from gravidon.draw.style import LINE
from gravidon.physics.arrays import Array
from gravidon.plan.fields import Known
from gravidon.plan.model import Baffle, PanBox, Point
from gravidon.study.home.oil_lines import levels_at_entry
from gravidon.study.solve.pickup import pickup_place
from gravidon.words.text import tr

REACH_PX = 14.0
LEAST_MM = 25.0
MOST_MM = {"depth": 600.0, "width": 1500.0, "length": 2000.0}
"""[mm] to which a box can be drawn out by hand: what the plan takes."""


KINDS = {"box": tr("Box"), "baffle": tr("Baffle"), "pickup": tr("Pickup")}
"""What can be chosen in the pan, in words."""


class PanCanvas(Canvas):
    """The pan from one side: drag a box's floor corner or a baffle."""

    station: SumpStation

    def __init__(self, station: SumpStation, view: View) -> None:
        super().__init__(station, tr("The pan from the {view}, to scale").format(view=tr(view)), (240, 236))
        self.view: View = view
        self.held: pan_view.Grip | None = None
        self._frame: Frame | None = None

    def frame_now(self) -> Frame:
        """Places to pixels; it stands still while something is held, so that what is held stays under the hand."""
        if self.held is None or self._frame is None:
            self._frame = pan_view.frame_in(self.area, self.picture())
        return self._frame

    def picture(self, condition: int | None = None) -> Elevation:
        """The geometry in a condition; the chosen one by default."""
        s = self.station.session
        return elevation(s.evaluation, s.condition if condition is None else condition, self.view)

    def at(self, place: Array) -> QPointF:
        """Return where a place in the car [m] lies in the drawing [px]."""
        return self.frame_now().at(project(self.view, place[None, :])[0])

    def paint(self, painter: QPainter) -> None:
        """Draw the pan."""
        s = self.station.session
        still = next((k for k, c in enumerate(s.plan.conditions) if not c.kind.turning), None)
        off = self.picture(still) if still is not None and still != s.condition else None
        pan_view.paint(
            self.ink(painter),
            self.area,
            s.evaluation,
            self.picture(),
            off,
            self.station.chosen,
            self.frame_now(),
        )
        self._paint_pickup(painter)

    def _paint_pickup(self, painter: QPainter) -> None:
        """The pickup's mouth: a ring where it was measured, a dotted one where that is a guess."""
        known = self.station.session.plan.sump.pickup is not None
        style = Qt.PenStyle.SolidLine if known else Qt.PenStyle.DotLine
        painter.setPen(self.station.colours.pen("ink", LINE, style))
        painter.setBrush(self.station.colours.color("metal", 0.5 if known else 0.0))
        painter.drawEllipse(self.at(self.station.pickup_now()), 6.0, 3.5)

    def place(self, across: float, up: float) -> QPointF:
        """A place of the chosen box: across (0 left, 1 right) and up (0 floor, 1 rail); of the first one for a baffle."""
        picture = self.picture()
        kind, k = self.station.chosen or ("box", 0)
        pan = picture.pans[k if kind == "box" and k < len(picture.pans) else 0]
        low, high = pan[0], pan[2]
        return self.frame_now().at(low + np.array([across, up]) * (high - low))

    def filled(self) -> list[QRectF]:
        """The pan's boxes, the title, the scale bar."""
        picture, frame = self.picture(), self.frame_now()
        pans = [frame.polygon(pan).boundingRect() for pan in picture.pans]
        return [*pans, QRectF(0, 0, self.width(), 20), QRectF(0, self.height() - 26, 110, 26)]

    def clicked(self, at: QPointF) -> None:
        """Take hold of a grip, or choose the box under the mouse."""
        self.held = None
        picture, frame = self.picture(), self.frame_now()
        for grip in pan_view.grips(self.station.session.evaluation, picture):
            if (frame.at(grip.at) - at).manhattanLength() < REACH_PX:
                self.held = grip
                self.station.choose(grip.kind, grip.number)
                return
        right, up = frame.back(at)
        for k, pan in enumerate(picture.pans):
            if pan[0][0] <= right <= pan[1][0] and pan[0][1] <= up <= pan[2][1]:
                self.station.choose("box", k)

    def hovered(self, at: QPointF | None) -> None:
        """Drag."""
        if at is None or self.held is None:
            return
        right, up = self.frame_now().back(at)
        if self.held.kind == "baffle":
            place = right if self.view == "front" else -right
            self.station.session.edit(
                f"sump.baffles.{self.held.number}.at_mm",
                float(round(place)),
                tr("move the baffle"),
                "drag-baffle",
            )
        else:
            self.station.reshape(self.held.number, self.view, right, up)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go."""
        if self.held is not None:
            self.held = None
            self.station.session.end_merge()
            self.lay_fields()
            self.update()


class LevelCanvas(Canvas):
    """A gauge glass per condition; a click chooses it."""

    station: SumpStation

    def paint(self, painter: QPainter) -> None:
        """Draw the glasses."""
        s = self.station.session
        pan_levels.paint(
            Ink(painter, self.station.colours, s.family),
            self.area,
            s.evaluation,
            levels_at_entry(s.evaluation),
            s.condition,
        )

    def clicked(self, at: QPointF) -> None:
        """Choose a condition."""
        count = len(self.station.session.plan.conditions)
        for k in range(count):
            if pan_levels.column_rect(self.area, k, count).contains(at):
                self.station.session.choose_condition(k)


class SumpStation(Station):
    """Know how high the oil stands, and where it goes when the car leans."""

    key = "sump"
    question = tr(
        "How high does the pan's oil stand, and where does it go? Drag a box's floor corner or a baffle; a click chooses."
    )
    per_turbo = True

    def build(self) -> None:
        """Two views, the glasses, the figures of pan, box and baffle."""
        self.chosen: tuple[str, int] | None = ("box", 0)
        row = QHBoxLayout()
        row.setSpacing(6)
        self.canvas, self.front = PanCanvas(self, "side"), PanCanvas(self, "front")
        row.addWidget(self.canvas, 3)
        row.addWidget(self.front, 2)
        self.column.addLayout(row, 3)
        self.levels = LevelCanvas(self, tr("Oil at the entry in every condition"), (380, 150))
        self.column.addWidget(self.levels, 2)
        bar = QHBoxLayout()
        self.which = Box()
        self.which.setAccessibleName(tr("Box or baffle"))
        self.which.activated.connect(self._picked)
        bar.addWidget(self.which)
        bar.addStretch(1)
        for words, action in (
            (tr("Add a box"), self.add_box),
            (tr("Add a baffle"), self.add_baffle),
            (tr("Pickup"), self.show_pickup),
            (tr("Remove"), self.remove),
        ):
            button = QToolButton()
            button.setText(words)
            button.clicked.connect(lambda _=False, a=action: a())
            bar.addWidget(button)
        self.column.addLayout(bar)
        self.own = QHBoxLayout()
        self.own.setSpacing(10)
        bar.insertLayout(1, self.own)
        body = QWidget()
        grid = FieldGrid(self.session, 3)
        grid.setContentsMargins(0, 0, 0, 0)
        body.setLayout(grid)
        grid.add_value("sump.full_l", tr("Dipstick's full mark (0: the fill)"))
        grid.add_value("sump.crank_mm", tr("Crank's lowest sweep, below the rail"))
        grid.add_value("sump.wall_mm", tr("Wall of the pan"))
        grid.add_choice("sump.metal", ["steel", "aluminium"], tr("The pan is of"))
        grid.add_value("sump.bolt_pitch_mm", tr("Rail bolts apart"))
        grid.add_value("sump.bolt_head_mm", tr("Socket on a rail bolt"))
        self.fold = Fold(self.session, tr("Full mark and crank, the pan's wall and rail"), body)
        self.column.addWidget(self.fold)
        self._shown: tuple[str, int] | None = None
        self._widgets: list[QWidget] = []

    def _items(self) -> list[tuple[str, int]]:
        sump = self.session.plan.sump
        return (
            [("box", k) for k in range(len(sump.boxes))]
            + [("baffle", k) for k in range(len(sump.baffles))]
            + ([("pickup", 0)] if sump.pickup is not None else [])
        )

    def choose(self, kind: str, number: int) -> None:
        """Show one box's or baffle's figures."""
        self.chosen = (kind, number)
        self.refresh()

    def _picked(self, index: int) -> None:
        item = self.which.itemData(index)
        if item is not None:  # a list opened before the plan had fewer
            self.choose(*item)

    def follow(self) -> None:
        """Only the drawing under the hand."""
        (self.canvas if self.canvas.held is not None else self.front).update()

    def refresh(self) -> None:
        """Redraw; make the chosen thing's fields when another is chosen."""
        items = self._items()
        if self.chosen not in items:
            self.chosen = items[0]
        self.which.blockSignals(True)
        self.which.clear()
        for kind, k in items:
            self.which.addItem(KINDS[kind] if kind == "pickup" else f"{KINDS[kind]} {k + 1}", (kind, k))
        self.which.setCurrentIndex(items.index(self.chosen))
        self.which.blockSignals(False)
        if self._shown != self.chosen:
            self._show_fields()
        self.fold.refresh()
        for canvas in (self.canvas, self.front, self.levels):
            canvas.lay_fields()
            canvas.update()

    def _show_fields(self) -> None:
        for widget in self._widgets:
            self.own.removeWidget(widget)
            widget.hide()
            widget.deleteLater()
        self._widgets = []
        self._shown = self.chosen
        if self.chosen is None:
            return
        kind, k = self.chosen
        side, front = self.canvas, self.front
        spots = [
            Spot("sump.fill_l", tr("oil fill"), lambda: side.place(0.5, 0.3)),
            Spot("sump.windage_mm", tr("windage"), lambda: side.place(0.9, 0.8)),
        ]
        across: list[Spot] = []
        if kind == "box":
            box = f"sump.boxes.{k}."
            spots += [
                Spot(f"{box}length_mm", tr("long"), lambda: side.place(0.5, 0.0)),
                Spot(f"{box}depth_mm", tr("deep"), lambda: side.place(1.0, 0.4)),
                Spot(f"{box}corner.x_mm", tr("its rear"), lambda: side.place(1.0, 0.0)),
            ]
            across = [
                Spot(f"{box}width_mm", tr("wide"), lambda: front.place(0.5, 0.0)),
                Spot(f"{box}corner.y_mm", tr("its right side"), lambda: front.place(0.0, 0.0)),
            ]
        elif kind == "pickup":
            spots += [
                Spot("sump.pickup.x_mm", tr("pickup, forward"), lambda: side.at(self.pickup_now())),
                Spot("sump.pickup.z_mm", tr("pickup over the rail"), lambda: side.at(self.pickup_now())),
            ]
            across = [
                Spot("sump.pickup.y_mm", tr("pickup, to the left"), lambda: front.at(self.pickup_now()))
            ]
        else:
            baffle = f"sump.baffles.{k}."
            self._add(
                "across",
                ChoiceField(self.session, f"{baffle}across", ["forward", "left"], tr("Stands across")),
                100,
            )
            spots.append(Spot(f"{baffle}opening_cm2", tr("openings"), lambda: side.place(0.5, 0.0)))
            spots.append(Spot(f"{baffle}at_mm", tr("stands at"), lambda: side.place(0.5, 1.0)))
        for canvas, wanted in ((side, spots), (front, across)):
            if canvas.fields is not None:
                canvas.fields.drop()
            canvas.fields = PictureFields(canvas, wanted)

    def _add(self, word: str, field: QWidget, width: int) -> None:
        cell = QWidget()
        column = QVBoxLayout(cell)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        label = QLabel(word)
        label.setProperty("role", "faint")
        label.setBuddy(field)
        field.setMinimumWidth(width)
        field.setMaximumWidth(width + 60)
        column.addWidget(label)
        column.addWidget(field)
        self.own.addWidget(cell)
        self._widgets.append(cell)

    def reshape(self, number: int, view: View, right_mm: float, up_mm: float) -> None:
        """Move a box's floor corner: its depth, and its length or width, follow; the rail stays."""
        box = self.session.plan.sump.boxes[number]
        corner = box.corner
        rail = corner.z_mm + box.depth_mm
        floor = min(max(float(round(up_mm)), rail - MOST_MM["depth"]), rail - LEAST_MM)
        changes: dict[str, object] = {"depth_mm": rail - floor}
        if view == "front":
            changes["width_mm"] = min(max(float(round(right_mm)) - corner.y_mm, 60.0), MOST_MM["width"])
            corner = corner.model_copy(update={"z_mm": floor})
        else:  # from the left side the picture's right is the rear
            front = corner.x_mm + box.length_mm
            rear = max(min(-float(round(right_mm)), front - 60.0), front - MOST_MM["length"])
            corner = corner.model_copy(update={"z_mm": floor, "x_mm": rear})
            changes["length_mm"] = front - rear
        changed = box.model_copy(update={**changes, "corner": corner})
        self.session.edit(f"sump.boxes.{number}", changed, tr("reshape the pan"), f"drag-box-{number}")

    def add_box(self) -> None:
        """Add a shallow tray before the frontmost box."""
        boxes = self.session.plan.sump.boxes
        first = max(boxes, key=lambda b: b.corner.x_mm + b.length_mm)
        depth = round(0.5 * first.depth_mm, 1)
        rail = first.corner.z_mm + first.depth_mm
        new = PanBox(
            corner=Point.model_construct(
                x_mm=first.corner.x_mm + first.length_mm, y_mm=first.corner.y_mm, z_mm=rail - depth
            ),
            length_mm=150.0,
            width_mm=first.width_mm,
            depth_mm=max(depth, 20.0),
        )
        if self.session.edit("sump.boxes", (*boxes, new), tr("add a box to the pan")):
            self.choose("box", len(boxes))

    def add_baffle(self) -> None:
        """Add a baffle in the middle of the first box."""
        sump = self.session.plan.sump
        box = sump.boxes[0]
        new = Baffle(
            across="forward",
            at_mm=round(box.corner.x_mm + 0.5 * box.length_mm, 1),
            opening_cm2=Known(value=20.0),
        )
        if self.session.edit("sump.baffles", (*sump.baffles, new), tr("add a baffle")):
            self.choose("baffle", len(sump.baffles))

    def pickup_now(self) -> Array:
        """Where the pickup's mouth is, or is taken to be [m]."""
        return pickup_place(self.session.plan)

    def show_pickup(self) -> None:
        """Show the pickup's figures, from where it was taken to be until somebody measures."""
        if self.session.plan.sump.pickup is None:
            x, y, z = (round(1e3 * float(v), 1) for v in self.pickup_now())
            self._shown = None
            if not self.session.edit("sump.pickup", Point(x_mm=x, y_mm=y, z_mm=z), tr("pickup measured")):
                return
        self.choose("pickup", 0)

    def remove(self) -> None:
        """Take the chosen box or baffle out; the last box stays."""
        if self.chosen is None:
            return
        kind, k = self.chosen
        if kind == "pickup":
            self._shown = None
            self.session.edit("sump.pickup", None, tr("pickup not measured"))
            return
        rows = self.session.plan.sump.boxes if kind == "box" else self.session.plan.sump.baffles
        if kind == "box" and len(rows) == 1:
            self.session.refused.emit(tr("A pan needs at least one box; change this one instead"))
            return
        path = "sump.boxes" if kind == "box" else "sump.baffles"
        self._shown = None
        self.session.edit(
            path, (*rows[:k], *rows[k + 1 :]), tr("remove {kind} {number}").format(kind=kind, number=k + 1)
        )
