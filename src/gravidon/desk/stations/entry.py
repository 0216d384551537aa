# SPDX-License-Identifier: GPL-3.0-or-later
"""The pan entry: its wall with the places that work shaded, the entry dragged on it, ways through compared."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QTransform
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.canvas import Canvas
from gravidon.desk.job import Job
from gravidon.desk.photo_dialog import PhotoButton
from gravidon.desk.picture_fields import Fold, PictureFields, Spot
from gravidon.desk.stations.base import FieldGrid, Station
from gravidon.desk.there import restyle
from gravidon.draw import pan_face
from gravidon.draw import photo as photos
from gravidon.errors import GravidonError
from gravidon.parts.entry_means import MEANS, entry_dash, threads_held
from gravidon.parts.threads import THREAD_NAMES
from gravidon.plan import paths
from gravidon.plan.model import Plan, Point
from gravidon.plan.units import show
from gravidon.study.home.entry_map import EntryMap, entry_map, moved_entry
from gravidon.study.solve import assemble
from gravidon.study.solve.as_bought import line_dash
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.wall import WALLS, Wall, name_of_wall, wall_of, walls
from gravidon.study.verdict.remedies_gravity import with_means
from gravidon.words.text import tr

REACH_PX, PAUSE_MS = 18.0, 120


class FaceCanvas(Canvas):
    """The wall: drag the entry, click a numbered place, read why a place does not work."""

    station: EntryStation
    held = False
    thing: tuple[int, QPointF] | None = None

    def paint(self, painter: QPainter) -> None:
        """Draw the wall."""
        s, it = self.station.session, self.station
        frame = self.frame_now()
        to_px = QTransform(frame.sign * frame.scale, 0.0, 0.0, -frame.scale, frame.x0, frame.y0)
        photos.paint(painter, photos.of_view(s.plan, it.photo_button.view), to_px)
        pan_face.paint(
            self.ink(painter),
            self.area,
            s.evaluation,
            s.condition,
            it.walls(),
            it.maps,
            it.fresh,
            self.held or self.hasFocus(),
        )

    def frame_now(self) -> pan_face.FaceFrame:
        """Places to pixels."""
        return pan_face.frame_in(self.area, self.station.walls())

    def filled(self) -> list[QRectF]:
        """The walls, with their bolts and captions."""
        frame, found = self.frame_now(), []
        for wall in self.station.walls():
            a, b = frame.at(wall.low_m, wall.floor_m), frame.at(wall.high_m, wall.rail_m)
            found.append(QRectF(a, b).normalized().adjusted(-8, -12, 8, 8))
        legend = QRectF(0, self.height() - 30, self.width(), 30)
        return [*found, QRectF(0, 0, self.width(), 20), legend]

    def spared(self) -> list[QRectF]:
        """The things before the wall."""
        e, wall = self.station.session.evaluation, self.station.wall()
        return list(pan_face.shape_rects(self.frame_now(), e, wall).values())

    def entry_pixel(self) -> QPointF:
        """Where the entry is on screen."""
        wall, entry = self.station.wall(), assemble.point(self.station.session.line.drain.entry)
        return self.frame_now().at(float(entry[1 - wall.axis]), float(entry[2]))

    def clicked(self, at: QPointF) -> None:
        """Take hold of the entry, or put it at a numbered place."""
        if (self.entry_pixel() - at).manhattanLength() < REACH_PX:
            self.held = True
            return
        for place in pan_face.best_places(self.station.maps):
            if (self.frame_now().at(*place) - at).manhattanLength() < REACH_PX:
                self.station.move_to(*place, merge="")
                return
        shapes = pan_face.shape_rects(self.frame_now(), self.station.session.evaluation, self.station.wall())
        for k, rect in shapes.items():
            if rect.contains(at):
                self.thing = (k, at)

    def hovered(self, at: QPointF | None) -> None:
        """Drag, or tell what speaks against the place under the mouse."""
        if at is None:
            self.station.tell(None)
            return
        along, up = self.frame_now().back(at)
        if self.thing is not None:
            number, last = self.thing
            self.station.move_thing(number, *self.frame_now().back(last), along, up)
            self.thing = (number, at)
            return
        if self.held:
            self.station.move_to(along, up, merge="drag-entry")
        near = (self.entry_pixel() - at).manhattanLength() < REACH_PX
        self.setCursor(Qt.CursorShape.SizeAllCursor if near else Qt.CursorShape.ArrowCursor)
        self.station.tell((along, up))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: the whole drag is one step."""
        if self.held or self.thing is not None:
            self.held, self.thing = False, None
            self.station.session.end_merge()
            self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows nudge the entry by 1 mm (Shift: 10); 1 to 4 put it at a numbered place."""
        if event is None:
            return
        key = Qt.Key(event.key())
        step = 0.010 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 0.001
        moves = {
            Qt.Key.Key_Left: (-1, 0),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Up: (0, 1),
            Qt.Key.Key_Down: (0, -1),
        }
        best = pan_face.best_places(self.station.maps)
        if key in moves:
            wall, entry = self.station.wall(), assemble.point(self.station.session.line.drain.entry)
            right, up = moves[key]
            sign = self.frame_now().sign
            self.station.move_to(
                float(entry[1 - wall.axis]) + sign * right * step,
                float(entry[2]) + up * step,
                merge="nudge-entry",
            )
        elif Qt.Key.Key_1 <= key <= Qt.Key.Key_4 and key - Qt.Key.Key_1 < len(best):
            self.station.move_to(*best[key - Qt.Key.Key_1], merge="")
        else:
            super().keyPressEvent(event)


class MeansCard(QFrame):
    """One way through the wall: bore, threads, time, steps and hazards."""

    def __init__(self, station: EntryStation, name: str) -> None:
        super().__init__()
        self.station, self.name = station, name
        self.setProperty("role", "card")
        column = QVBoxLayout(self)
        column.setContentsMargins(9, 6, 9, 6)
        column.setSpacing(2)
        head = QHBoxLayout()
        title = QLabel(tr(name.capitalize()))
        title.setStyleSheet("font-weight: 600;")
        head.addWidget(title)
        head.addStretch(1)
        self.button = QPushButton(tr("Use it"))
        self.button.setAccessibleName(tr("Enter by {name}").format(name=tr(name)))
        self.button.clicked.connect(self._use)
        head.addWidget(self.button)
        column.addLayout(head)
        self.figures, self.hazard = QLabel(), QLabel(tr(MEANS[name].hazards[0]))
        self.figures.setWordWrap(True)
        self.hazard.setWordWrap(True)
        self.hazard.setProperty("role", "faint")
        column.addWidget(self.figures)
        column.addWidget(self.hazard)
        column.addStretch(1)
        steps = "\n".join(f"{k}. {tr(s)}" for k, s in enumerate(MEANS[name].steps, 1))
        hazards = "\n".join(tr(h) for h in MEANS[name].hazards)
        self.setToolTip(tr("Steps\n{steps}\n\nTake care\n{hazards}").format(steps=steps, hazards=hazards))

    def _use(self) -> None:
        s = self.station.session
        s.propose(with_means(s.evaluation, self.name), tr("enter by {name}").format(name=self.name))

    def refresh(self) -> None:
        """Fill in this plan's figures."""
        s = self.station.session
        means, size = MEANS[self.name], entry_dash(line_dash(s.evaluation.plan, s.evaluation.index, "drain"))
        held = threads_held(self.name, means.threads[size], s.plan.sump.wall_mm.value)
        bore = means.bores_mm[size]
        share = min((bore / s.line.drain.hose_bore_mm) ** 2, 1.0)
        need = s.plan.needs.threads_min.value
        words = tr("{amount} bore, {share:.0%} of the hose; about {minutes} min (cp).").format(
            amount=show(bore * 1e-3, "bore", s.family), share=share, minutes=means.minutes
        )
        if held < 1e6:
            few = tr(": too few") if held < need else ""
            words += tr(" Holds {held:.1f} threads of {threads}, {need:.0f} wanted{few}.").format(
                held=held, threads=means.threads[size], need=need, few=few
            )
        else:
            words += tr(" No threads in the wall.")
        self.figures.setText(words)
        fitting, thread = s.line.drain.fitting, means.threads[size]
        chosen = fitting.means == self.name
        now = (fitting.bore_mm, fitting.port_thread, fitting.fitting_thread)
        same = chosen and now == (bore, thread, thread)
        self.setProperty("chosen", chosen)
        restyle(self)
        self.button.setEnabled(not same)
        self.button.setText(tr("In use") if same else tr("Use this size") if chosen else tr("Use it"))


class EntryStation(Station):
    """Place the entry above the oil and clear of what is in the way."""

    key = "entry"
    question = tr(
        "Where may the drain come in? Drag the entry, or a thing in its way; numbered places are the best, shaded ones work."
    )

    def _bar(self) -> QHBoxLayout:
        """Return the choice of wall, and the photo under it."""
        bar = QHBoxLayout()
        bar.setSpacing(6)
        self.sides = QButtonGroup(self)
        bar.addWidget(QLabel(tr("Put the entry in the")))
        for wall in WALLS:
            button = QToolButton()
            button.setText(tr("{wall} wall").format(wall=tr(wall)))
            button.setCheckable(True)
            button.clicked.connect(partial(self.to_wall, wall))
            self.sides.addButton(button)
            bar.addWidget(button)
        bar.addStretch(1)
        self.photo_button = PhotoButton(self.session)
        bar.addWidget(self.photo_button)
        return bar

    def build(self) -> None:
        """Wall choice, the wall, why a place fails, the ways through, the figures."""
        self.maps: tuple[EntryMap, ...] = ()
        self._made_for: Plan | None = None
        self._turbo = 0
        self.job = Job(self)
        self.job.reported.connect(self._took)
        self.column.addLayout(self._bar())
        self.canvas = FaceCanvas(self, tr("The pan's wall, to scale"), (420, 300))
        self.column.addWidget(self.canvas, 1)
        self.why = QLabel()
        self.why.setWordWrap(True)
        self.why.setMinimumHeight(20)
        self.why.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.column.addWidget(self.why)
        self.cards = [MeansCard(self, name) for name in MEANS]
        row = QHBoxLayout()
        row.setSpacing(8)
        for card in self.cards:
            row.addWidget(card, 1)
        self.column.addLayout(row)
        entry, fitting = self.canvas.entry_pixel, "line.drain.fitting."
        along = "x_mm"
        self.canvas.fields = PictureFields(
            self.canvas,
            (
                Spot("line.drain.entry.z_mm", tr("entry, from the rail"), entry),
                Spot(f"line.drain.entry.{along}", tr("along the car"), entry),
                Spot(f"{fitting}bore_mm", tr("fitting bore"), entry, dash=True),
                Spot(f"{fitting}rise_deg", tr("rises outward"), entry),
                Spot("needs.spanner_mm", tr("room for a spanner"), entry),
            ),
        )
        body = QWidget()
        grid = FieldGrid(self.session, 3)
        grid.setContentsMargins(0, 0, 0, 0)
        body.setLayout(grid)
        grid.add_choice(f"{fitting}port_thread", THREAD_NAMES, tr("Thread in the pan"))
        grid.add_choice(f"{fitting}fitting_thread", THREAD_NAMES, tr("Thread of the fitting"))
        grid.add_value("line.drain.entry.y_mm", tr("Entry, from the middle"))
        grid.add_value(f"{fitting}heading_deg", tr("Fitting points (0 forward, 90 left)"))
        grid.add_value("needs.drill_mm", tr("Room for the drill"))
        grid.add_value("needs.behind_mm", tr("Room behind the wall"))
        self.fold = Fold(self.session, tr("Threads, and room around the hole"), body)
        self.column.addWidget(self.fold)
        self.timer = QTimer(self)
        self.timer.setSingleShot(True)
        self.timer.setInterval(PAUSE_MS)
        self.timer.timeout.connect(self._start)

    def wall(self) -> Wall:
        """The wall the entry is in."""
        return wall_of(self.session.plan, self.session.line)

    def walls(self) -> tuple[Wall, ...]:
        """All walls of that side."""
        return walls(self.session.plan, name_of_wall(self.session.line))

    def _asked(self) -> tuple[Plan, int]:
        """What the shading depends on: the plan with the entry's own place set to nought, and the turbo."""
        plan, index = self.session.plan, self.session.evaluation.index
        nowhere = Point(x_mm=0.0, y_mm=0.0, z_mm=0.0)
        return paths.put(plan, f"turbos.{index}.drain.entry", nowhere), index

    @property
    def fresh(self) -> bool:
        """Whether the shading belongs to the plan as it is."""
        return self._made_for is not None and (self._made_for, self._turbo) == self._asked()

    def follow(self) -> None:
        """Only the drawing under the hand; its fields find their places at rest."""
        self.canvas.update()

    def refresh(self) -> None:
        """Redraw; the shading is made anew only when something other than the entry's place has changed."""
        own = self.session.evaluation.route.ends_in_fitting
        if not self.fresh and own:
            self.timer.start()
        side = name_of_wall(self.session.line)
        for button, name in zip(self.sides.buttons(), WALLS, strict=True):
            button.setChecked(name == side)
        self.photo_button.show_view(f"{side} wall")  # type: ignore[arg-type]
        for card in self.cards:
            card.refresh()
        self.fold.refresh()
        self.canvas.lay_fields()
        self.tell(None)
        self.canvas.setAccessibleDescription(self.headline())
        self.canvas.update()

    def _start(self) -> None:
        """Work the shading out beside the window."""
        evaluation, asked = self.session.evaluation, self._asked()
        sides = self.walls()

        def steps() -> Iterator[tuple[tuple[Plan, int], tuple[EntryMap, ...]]]:
            made: list[EntryMap] = []
            for wall in sides:
                made.append(entry_map(evaluation, wall))
                yield asked, tuple(made)

        self.job.start(steps)

    def _took(self, answer: tuple[tuple[Plan, int], tuple[EntryMap, ...]]) -> None:
        (self._made_for, self._turbo), self.maps = answer
        self.tell(None)
        self.canvas.update()

    @property
    def busy(self) -> bool:
        """Whether the shading is being worked out."""
        return self.job.busy or self.timer.isActive()

    def leave(self) -> None:
        """Stop the work."""
        self.timer.stop()
        self.job.leave()

    def move_to(self, along_m: float, up_m: float, merge: str) -> None:
        """Put the entry at a place on its side of the pan, on whichever box's wall is there."""
        sides = self.walls()
        beside = [w for w in sides if w.low_m <= along_m <= w.high_m and w.floor_m <= up_m] or [self.wall()]
        wall = beside[0]
        along = min(max(along_m, wall.low_m), wall.high_m)
        up = min(max(up_m, wall.floor_m), wall.rail_m)
        self._move(wall, along, up, tr("move the entry"), merge)

    def _move(self, wall: Wall, along_m: float, up_m: float, words: str, merge: str = "") -> None:
        s = self.session
        try:
            plan = moved_entry(s.plan, s.evaluation.index, wall, along_m, up_m)
        except GravidonError as error:
            s.refused.emit(str(error))
            return
        s.propose(plan, words, merge)

    def move_thing(
        self, number: int, from_along: float, from_up: float, to_along: float, to_up: float
    ) -> None:
        """Move a thing along the wall by a step [m]; how far it stands off the wall stays."""
        corner = self.session.plan.shapes[number].corner
        key = "x_mm" if self.wall().axis == 1 else "y_mm"
        moved = {
            key: round(getattr(corner, key) + 1e3 * (to_along - from_along), 1),
            "z_mm": round(corner.z_mm + 1e3 * (to_up - from_up), 1),
        }
        label = self.session.plan.shapes[number].label
        self.session.edit(
            f"shapes.{number}.corner",
            corner.model_copy(update=moved),
            tr("move {label}").format(label=label),
            f"drag-shape-{number}",
        )

    def to_wall(self, name: str, _: bool = False) -> None:
        """Turn the fitting to another side of the pan, to the best place there."""
        e = self.session.evaluation
        there = walls(self.session.plan, name)
        best: tuple[float, Wall, float, float] | None = None
        for wall in there:
            made = entry_map(e, wall, 14, 6)
            for along, up in made.best[:1]:
                i, j = int(abs(made.up_m - up).argmin()), int(abs(made.along_m - along).argmin())
                score = float(made.margin_mm[i, j])
                if best is None or score > best[0]:
                    best = (score, wall, along, up)
        if best is None:
            wall = there[0]
            best = (
                0.0,
                wall,
                0.5 * (wall.low_m + wall.high_m),
                wall.rail_m - 0.4 * (wall.rail_m - wall.floor_m),
            )
        self._move(*best[1:], tr("enter by the {name} wall").format(name=tr(name)))
        self.refresh()

    def tell(self, place: tuple[float, float] | None) -> None:
        """Say in words how a place does; without one, how the entry does."""
        e: Evaluation = self.session.evaluation
        if not e.route.ends_in_fitting:
            self.why.setText(
                tr(
                    "This drain does not end in the pan: it runs into a pot or another drain. Change that at the Drain run."
                )
            )
            return
        own = place is None
        if place is None:
            entry = assemble.point(self.session.line.drain.entry)
            place = float(entry[1 - self.wall().axis]), float(entry[2])
        made = next(
            (
                m
                for m in self.maps
                if m.wall.low_m <= place[0] <= m.wall.high_m and m.wall.floor_m <= place[1] <= m.wall.rail_m
            ),
            None,
        )
        if made is None or not self.fresh:
            self.why.setText("" if self.fresh else tr("Trying every place on this side …"))
            return
        where = tr("{place} below the rail").format(place=show(abs(place[1]), "run", self.session.family))
        reasons = made.why(*place)
        subject = tr("The entry") if own else tr("Here")
        if reasons:
            self.why.setText(f"{subject}, {where}: {'; '.join(reasons)}.")
        else:
            self.why.setText(
                tr("{subject}, {where}: works in every condition.").format(subject=subject, where=where)
            )
