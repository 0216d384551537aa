# SPDX-License-Identifier: GPL-3.0-or-later
"""The seat: the centre housing cut across and along its shaft, turned by its handles."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QWidget

from gravidon.desk.box import Box
from gravidon.desk.canvas import Canvas
from gravidon.desk.picture_fields import Fold, PictureFields, Spot
from gravidon.desk.stations.base import FieldGrid, Station
from gravidon.draw import seat_section as drawing
from gravidon.draw.geometry.seat_section import Cut, SeatSection, seat_section
from gravidon.parts.turbos import RINGS
from gravidon.plan.fields import Known
from gravidon.plan.model import Plan, Turbo
from gravidon.plan.starter import with_rings
from gravidon.plan.units import show
from gravidon.study.solve.seating import USE_FACTOR, Seating, cavity_oil, seating
from gravidon.translate import listed
from gravidon.words.text import tr

REACH_PX = 22.0
PATHS: dict[Cut, str] = {"across": "line.turbo.clock_deg", "along": "line.turbo.pitch_deg"}
MOST: dict[Cut, float] = {"across": 180.0, "along": 90.0}


class SectionCanvas(Canvas):
    """One cut; its handle turns the housing, as do the arrow keys."""

    station: SeatStation

    def __init__(self, station: SeatStation, cut: Cut) -> None:
        super().__init__(station, tr("Centre housing cut {cut} the shaft").format(cut=tr(cut)), (330, 260))
        self.cut: Cut = cut
        self.held = False

    def filled(self) -> list[QRectF]:
        """The housing, the title, the handle."""
        section = self.section()
        frame = drawing.frame_in(self.area, section)
        half, high = section.half_width * frame.scale, section.height * frame.scale
        wide = 2.0 if self.cut == "along" else 1.45
        o, handle = frame.origin, self.handle_pixel()
        body = QRectF(o.x() - wide * half, o.y() - 1.35 * high, 2 * wide * half, 2.95 * high)
        return [body, QRectF(0, 0, 240, 58), QRectF(handle.x() - 10, handle.y() - 10, 20, 20)]

    def spared(self) -> list[QRectF]:
        """The limit's figure; across the shaft the bolts, along it the wheels."""
        section, seat = self.section(), self.station.seating()
        frame = drawing.frame_in(self.area, section)
        limit = drawing.limit_spot(frame, section, seat)
        if self.cut == "along":
            return [limit, *drawing.wheel_rects(frame, section)]
        spots = drawing.bolt_spots(frame, self.station.session.evaluation, seat)
        return [limit, *(QRectF(at.x() - 10, at.y() - 10, 20, 20) for at in spots)]

    def section(self) -> SeatSection:
        """The geometry as it is now."""
        s = self.station.session
        return seat_section(s.evaluation, s.condition, self.cut)

    def paint(self, painter: QPainter) -> None:
        """Draw the cut."""
        s = self.station.session
        drawing.paint(
            self.ink(painter),
            self.area,
            s.evaluation,
            s.condition,
            self.section(),
            self.station.seating(),
            self.held or self.hasFocus(),
        )

    def handle_pixel(self) -> QPointF:
        """Where the handle is on screen."""
        section = self.section()
        spot: QPointF = drawing.frame_in(self.area, section).at(drawing.handle_place(section))
        return spot

    def clicked(self, at: QPointF) -> None:
        """Take hold of the handle."""
        self.held = (self.handle_pixel() - at).manhattanLength() < REACH_PX

    def hovered(self, at: QPointF | None) -> None:
        """Turn the housing while the handle is held."""
        if at is None:
            return
        if not self.held:
            near = (self.handle_pixel() - at).manhattanLength() < REACH_PX
            self.setCursor(Qt.CursorShape.OpenHandCursor if near else Qt.CursorShape.ArrowCursor)
            return
        section = self.section()
        place = np.array(drawing.frame_in(self.area, section).back(at))
        self.turn_to(round(drawing.handle_angle(section, place)), f"drag-turn-{self.cut}")

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: the whole turn is one step."""
        if self.held:
            self.held = False
            self.station.session.end_merge()
            self.update()

    def turn_to(self, degrees: float, merge: str) -> None:
        """Set the angle; a round number of degrees."""
        angle = min(max(degrees, -MOST[self.cut]), MOST[self.cut])
        words = tr("clock the housing") if self.cut == "across" else tr("tilt the shaft")
        self.station.session.edit(PATHS[self.cut], Known(value=float(angle), basis="measured"), words, merge)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right (or down and up) turn by a degree, with Shift by ten; 0 sets it level."""
        if event is None:
            return
        turbo = self.station.session.line.turbo
        now = (turbo.clock_deg if self.cut == "across" else turbo.pitch_deg).value
        step = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Up):
            towards = -1.0 if key in (Qt.Key.Key_Right, Qt.Key.Key_Down) else 1.0
            self.turn_to(now + towards * step, f"nudge-{self.cut}")
        elif key == Qt.Key.Key_0:
            self.turn_to(0.0, "")
        else:
            super().keyPressEvent(event)


class SeatStation(Station):
    """Turn the centre housing until nothing stays lying at a seal."""

    key = "seat"
    question = tr(
        "How does the centre housing sit, and does oil lie at a seal? Turn it by the round handles."
    )

    def build(self) -> None:
        """The two cuts above, the figures below."""
        row = QHBoxLayout()
        row.setSpacing(6)
        self.canvas, self.along = SectionCanvas(self, "across"), SectionCanvas(self, "along")
        row.addWidget(self.canvas, 4)
        row.addWidget(self.along, 5)
        self.column.addLayout(row, 1)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.column.addWidget(self.words)
        self._fields()
        body = QWidget()
        grid = FieldGrid(self.session, 3)
        body.setLayout(grid)
        grid.setContentsMargins(0, 0, 0, 0)
        self.rings = Box()
        self.rings.offer(RINGS)
        self.rings.setAccessibleName(tr("Piston rings at each seal"))
        self.rings.textActivated.connect(self._ring)
        grid.add_row(tr("Rings at each seal"), self.rings)
        grid.add_choice("use", ["street", "circuit", "drag"], tr("The car is for"))
        grid.add_value("line.turbo.shaft_heading_deg", tr("Compressor end points, from forward"))
        grid.add_value("line.turbo.drain_flange.x_mm", tr("Drain flange, along the car"))
        grid.add_value("line.turbo.drain_flange.y_mm", tr("Drain flange, from the middle"))
        grid.add_value("line.turbo.drain_flange.z_mm", tr("Drain flange, from the pan rail"))
        grid.add_value("line.drain.mouth_loss", tr("Loss at the drain's mouth (0.5 square, 0.05 funnel)"))
        grid.add_value("engine.front_up_deg", tr("Engine tilt, front up"))
        grid.add_value("engine.left_side_up_deg", tr("Engine tilt, left side up"))
        self.fold = Fold(self.session, tr("Where it sits, and what the car is for"), body)
        self.column.addWidget(self.fold)

    def _fields(self) -> None:
        """The figures that have a place in the two cuts."""
        across, along = self.canvas, self.along

        def at(canvas: SectionCanvas, x: float, y: float) -> QPointF:
            """A place of the housing, in half widths and shaft heights."""
            section = canvas.section()
            place = section.turned(np.array([[x * section.half_width, y * section.height]]))[0]
            return drawing.frame_in(canvas.area, section).at(place)

        across.fields = PictureFields(
            across,
            (
                Spot("line.turbo.clock_deg", tr("clocked"), across.handle_pixel),
                Spot("line.turbo.clock_max_deg", tr("most"), lambda: at(across, 2.4, -1.7)),
                Spot("line.turbo.seal_diameter_mm", tr("seal bore"), lambda: at(across, 0.0, 0.0)),
                Spot("line.turbo.cavity_ml", tr("cavity"), lambda: at(across, 0.4, -0.7)),
                Spot("line.turbo.bolts.circle_mm", tr("bolt circle"), lambda: at(across, -1.6, 0.9)),
                Spot(
                    "line.turbo.bolts.first_deg", tr("first bolt, from down"), lambda: at(across, -1.0, -1.3)
                ),
            ),
        )
        along.fields = PictureFields(
            along,
            (
                Spot("line.turbo.pitch_deg", tr("tilted, compressor up"), along.handle_pixel),
                Spot("line.turbo.tilt_max_deg", tr("most tilt"), lambda: at(along, 2.5, 0.45)),
                Spot("line.turbo.ring_gap_mm2", tr("gap past the rings"), lambda: at(along, 0.62, 0.08)),
                Spot("line.turbo.seal_spacing_mm", tr("seal to seal"), lambda: at(along, -0.3, 0.02)),
                Spot(
                    "line.turbo.shaft_height_mm", tr("shaft over the flange"), lambda: at(along, -1.3, -0.6)
                ),
            ),
        )

    def _lay(self) -> None:
        for canvas in (self.canvas, self.along):
            canvas.lay_fields()

    def _ring(self, word: str) -> None:
        plan = with_rings(
            self.session.plan,
            "twin" if self.rings.meaning(word) == "twin" else "single",
            self.session.evaluation.index,
        )
        self.session.propose(plan, tr("{word} rings").format(word=word))

    def seating(self) -> Seating:
        """How the turbo sits now."""
        return seating(self.session.evaluation)

    def follow(self) -> None:
        """Only the drawing under the hand."""
        self._lay()
        self.canvas.update()
        self.along.update()

    def refresh(self) -> None:
        """Redraw."""
        s, seat = self.session, self.seating()
        self.rings.setCurrentText(s.line.turbo.rings)
        oil = cavity_oil(s.evaluation)
        stays = float(oil.stays_m3[s.condition])
        under = float(seat.stays_below_seal_m[s.condition])
        parts = [
            tr("{pond_share:.0%} of the cavity is under oil in {names}.").format(
                pond_share=oil.pond_share[s.condition], names=s.evaluation.names[s.condition]
            )
        ]
        if stays > 5e-7:
            parts.append(
                tr("In this attitude {stays} stay lying once the flow stops, ").format(
                    stays=show(stays, "ml", s.family)
                )
                + (
                    tr("{under} below the lower seal.").format(under=show(under, "mm", s.family))
                    if under >= 0
                    else tr("over the bottom of a seal.")
                )
            )
        else:
            parts.append(tr("All of it runs out when the flow stops."))
        hidden = [str(k + 1) for k, h in enumerate(seat.bolts_hidden) if h]
        if hidden:
            parts.append(
                tr("Bolt {hidden} hides under the drain: tighten and mark it first.").format(
                    hidden=listed(hidden)
                )
            )
        parts.append(limits_words(s.plan, s.line.turbo))
        self.words.setText(" ".join(parts))
        self.fold.refresh()
        self._lay()
        for canvas in (self.canvas, self.along):
            canvas.setAccessibleDescription(self.headline())
            canvas.update()


def limits_words(plan: Plan, turbo: Turbo) -> str:
    """Return whose each limit is: its maker's as it stands, or common practice, loosened by how long the car runs."""
    said = []
    for name, known in ((tr("tilt"), turbo.tilt_max_deg), (tr("clock"), turbo.clock_max_deg)):
        if known.basis != "guess":
            words = tr("{name} at most {most:g}°, as its maker or you say").format(
                name=name, most=known.value
            )
        elif USE_FACTOR[plan.use] > 1.0:
            words = tr("{name} at most {most:g}° × {factor:g} ({use}), common practice, no source").format(
                name=name, most=known.value, factor=USE_FACTOR[plan.use], use=tr(plan.use)
            )
        else:
            words = tr("{name} at most {most:g}°, common practice, no source").format(
                name=name, most=known.value
            )
        said.append(words)
    return tr("Limits: {limits}; the maker's sheet overrides them.").format(limits="; ".join(said))
