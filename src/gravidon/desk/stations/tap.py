# SPDX-License-Identifier: GPL-3.0-or-later
"""The tap station: candidates side by side; choosing one re-plans the feed."""

from __future__ import annotations

from typing import get_args

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QToolButton

from gravidon.desk.canvas import Canvas
from gravidon.desk.name_field import NameField
from gravidon.desk.picture_fields import PictureFields, Spot
from gravidon.desk.stations.base import FieldGrid, Station
from gravidon.desk.value_field import ValueField
from gravidon.draw import tap_chart, tap_section
from gravidon.draw.ink import Ink
from gravidon.errors import InputError
from gravidon.parts.threads import THREAD_NAMES
from gravidon.plan import model
from gravidon.study.supply.tap_choice import TapCandidate, compare_taps, with_new_tap, with_tap, without_tap
from gravidon.words.text import tr


class TapCanvas(Canvas):
    """Rows of candidates; a click chooses, up and down walk."""

    station: TapStation

    def paint(self, painter: QPainter) -> None:
        """Draw the comparison."""
        s = self.station.session
        tap_chart.paint(
            Ink(painter, self.station.colours, s.family),
            self.area,
            s.plan,
            s.turbo,
            self.station.candidates,
            s.condition,
        )

    def clicked(self, at: QPointF) -> None:
        """Choose the row under the mouse."""
        count = len(self.station.candidates)
        for k in range(count):
            if tap_chart.row_rect(self.area, k, count).contains(at):
                self.station.choose(k)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down choose the neighbour."""
        if event is None:
            return
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if step:
            self.station.choose(self.station.session.plan.tap + step)
        else:
            super().keyPressEvent(event)


class SectionCanvas(Canvas):
    """The chosen tap, cut open; its figures are typed where they are."""

    station: TapStation

    def sizeHint(self) -> QSize:
        """Low: it stands in a row whose labels wrap, which is given what it wants before the candidates above it."""
        return QSize(420, 168)

    def spot(self, name: str) -> QPointF:
        """Where something of the section is."""
        plan = self.station.session.plan
        tap = plan.taps[plan.tap]
        s = tap_section.layout(self.area, plan)
        return {
            "gallery": QPointF(s.axis - 70 * s.scale, s.gallery),
            "tip": QPointF(s.axis, s.gallery - s.half + tap.protrusion_mm.value * s.scale),
            "wrench": QPointF(s.axis - 0.7 * tap.wrench_mm.value * s.scale, s.face - 20 * s.scale),
            "hose": QPointF(self.area.left() + 0.5 * self.area.width(), s.face - 24 * s.scale),
            "hot": QPointF(s.axis + 0.6 * tap.hot_mm.value * s.scale, s.face - 6),
        }[name]

    def filled(self) -> list[QRectF]:
        """The fitting and the gallery about it."""
        s = tap_section.layout(self.area, self.station.session.plan)
        wide = 18 * s.scale
        return [QRectF(s.axis - wide, s.face - 15 * s.scale, 2 * wide, s.gallery - s.face + 15 * s.scale)]

    def spared(self) -> list[QRectF]:
        """What is hot, where a wrench swings, and the block's edges."""
        s = tap_section.layout(self.area, self.station.session.plan)
        b = s.block
        edges = [QRectF(b.left(), b.top() - 2, b.width(), 4), QRectF(b.right() - 2, b.top(), 4, b.height())]
        return [s.hot, *s.swept(), *edges]

    def paint(self, painter: QPainter) -> None:
        """Draw it."""
        tap_section.paint(self.ink(painter), self.area, self.station.session.plan)


class TapStation(Station):
    """Choose where the oil is taken."""

    key = "tap"
    question = tr(
        "Where should the oil be taken? Click a candidate to plan the feed from there; the shaded band is the chosen condition's window."
    )
    candidates: tuple[TapCandidate, ...] = ()

    def build(self) -> None:
        """The comparison above, the chosen tap's facts below."""
        self.candidates = compare_taps(self.session.plan)
        self.canvas = TapCanvas(self, tr("Candidate taps side by side"))
        self.column.addWidget(self.canvas, 1)
        bar = QHBoxLayout()
        self.label = NameField(self.session, "tap.label", tr("Name of the tap"), tr("rename the tap"))
        bar.addWidget(self.label, 1)
        self.filtered = QCheckBox(tr("After the filter"))
        self.filtered.clicked.connect(
            lambda on: self.session.edit("tap.filtered", bool(on), tr("after the filter"))
        )
        self.kept = QCheckBox(tr("Sender kept"))
        self.kept.clicked.connect(
            lambda on: self.session.edit("tap.keeps_sender", bool(on), tr("sender kept"))
        )
        bar.addWidget(self.filtered)
        bar.addWidget(self.kept)
        for words, action in ((tr("Add a tap"), self.add), (tr("Remove it"), self.remove)):
            button = QToolButton()
            button.setText(words)
            button.clicked.connect(action)
            bar.addWidget(button)
        self.column.addLayout(bar)
        row = QHBoxLayout()
        row.setSpacing(12)
        self.section = SectionCanvas(self, tr("The chosen tap in the engine, cut open"), (420, 168))
        self.section.setMaximumHeight(260)
        row.addWidget(self.section, 3)
        grid = FieldGrid(self.session, 1)
        grid.add_choice("tap.kind", list(get_args(model.TapKind)), tr("Kind"))
        grid.add_choice("tap.port_thread", THREAD_NAMES, tr("Thread in the engine"))
        grid.add_choice("tap.fitting_thread", THREAD_NAMES, tr("Thread of the fitting"))
        grid.add_value("tap.offset_kpa", tr("Pressure against the gauge"))
        grid.setRowStretch(grid.count_so_far + 1, 1)
        row.addLayout(grid, 1)
        self.column.addLayout(row)
        self.column.addLayout(self._place_row())
        made = self.section
        made.fields = PictureFields(
            made,
            (
                Spot("tap.gallery_bore_mm", tr("gallery bore"), lambda: made.spot("gallery")),
                Spot("tap.protrusion_mm", tr("longer than the plug"), lambda: made.spot("tip")),
                Spot("tap.wrench_mm", tr("room for a wrench"), lambda: made.spot("wrench")),
                Spot("tap.route_mm", tr("hose from here"), lambda: made.spot("hose")),
                Spot("tap.hot_mm", tr("to hot parts"), lambda: made.spot("hot")),
            ),
        )

    def _place_row(self) -> QHBoxLayout:
        """Return where the hose starts in the car: with it the planner lays the feed too."""
        row = QHBoxLayout()
        self.placed = QCheckBox(tr("Its place in the car is measured, so that the feed can be laid"))
        self.placed.clicked.connect(self._place)
        row.addWidget(self.placed)
        self.place_fields: list[ValueField] = []
        self.place_row = row
        row.addStretch(1)
        return row

    def _place(self, on: bool) -> None:
        s = self.session
        flange = s.line.turbo.drain_flange
        start = model.Point.model_construct(
            x_mm=flange.x_mm + 150.0, y_mm=round(0.5 * flange.y_mm, 1), z_mm=flange.z_mm
        )
        s.edit("tap.place", start if on else None, tr("the tap's place"))

    def _show_place(self) -> None:
        """Show the place's fields where there is one."""
        known = self.session.evaluation.tap.place is not None
        self.placed.setChecked(known)
        if known and not self.place_fields:
            for name in ("x_mm", "y_mm", "z_mm"):
                field = ValueField(self.session, f"tap.place.{name}")
                field.setMaximumWidth(120)
                self.place_row.insertWidget(self.place_row.count() - 1, field)
                self.place_fields.append(field)
        for field in self.place_fields:
            field.setVisible(known)

    def refresh(self) -> None:
        """Compare again and redraw."""
        self._show_place()
        self.candidates = compare_taps(self.session.plan)
        self.canvas.setMaximumHeight(72 + 64 * len(self.candidates))
        self.canvas.setMinimumHeight(64 + 62 * len(self.candidates))
        tap = self.session.evaluation.tap
        self.filtered.setChecked(tap.filtered)
        self.kept.setChecked(tap.keeps_sender)
        chosen = self.candidates[self.session.plan.tap]
        self.canvas.setAccessibleDescription(
            tr("{label}, rank {rank} of {candidates}").format(
                label=tap.label, rank=chosen.rank, candidates=len(self.candidates)
            )
        )
        self.canvas.update()
        self.section.lay_fields()
        self.section.update()

    def choose(self, index: int) -> None:
        """Plan the feed from another tap."""
        if 0 <= index < len(self.session.plan.taps) and index != self.session.plan.tap:
            self.session.propose(
                with_tap(self.session.plan, index),
                tr("tap: {label}").format(label=self.session.plan.taps[index].label),
            )

    def add(self) -> None:
        """Add a tap of which nothing is known yet, and plan from it, so that it can be described."""
        try:
            more = with_new_tap(self.session.plan)
        except InputError as error:
            self.session.refused.emit(str(error))
            return
        self.session.propose(more, tr("add a tap"))
        self.label.setFocus()
        self.label.selectAll()

    def remove(self) -> None:
        """Take the chosen tap out; the last one stays."""
        taps, k = self.session.plan.taps, self.session.plan.tap
        if len(taps) == 1:
            self.session.refused.emit(tr("A plan needs at least one tap; change this one instead"))
            return
        self.session.propose(
            without_tap(self.session.plan, k), tr("remove tap {label}").format(label=taps[k].label)
        )
