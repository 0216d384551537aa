"""The tap station: candidates side by side; choosing one re-plans the feed."""

from __future__ import annotations

from typing import get_args

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLineEdit, QToolButton

from gravidon.desk.canvas import Canvas
from gravidon.desk.stations.base import FieldGrid, Station
from gravidon.draw import tap_chart
from gravidon.draw.ink import Ink
from gravidon.parts.threads import THREAD_NAMES
from gravidon.plan import model
from gravidon.study.supply.tap_choice import TapCandidate, compare_taps, with_tap


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


class TapStation(Station):
    """Choose where the oil is taken."""

    key = "tap"
    question = "Where should the oil be taken? Click a candidate to plan the feed from there; the shaded band is the chosen condition's window."
    candidates: tuple[TapCandidate, ...] = ()

    def build(self) -> None:
        """The comparison above, the chosen tap's facts below."""
        self.candidates = compare_taps(self.session.plan)
        self.canvas = TapCanvas(self, "Candidate taps side by side")
        self.column.addWidget(self.canvas, 1)
        bar = QHBoxLayout()
        self.label = QLineEdit()
        self.label.setAccessibleName("Name of the tap")
        self.label.setMaxLength(80)
        self.label.editingFinished.connect(self._rename)
        bar.addWidget(self.label, 1)
        self.filtered = QCheckBox("After the filter")
        self.filtered.clicked.connect(
            lambda on: self.session.edit("tap.filtered", bool(on), "after the filter")
        )
        self.kept = QCheckBox("Sender kept")
        self.kept.clicked.connect(lambda on: self.session.edit("tap.keeps_sender", bool(on), "sender kept"))
        bar.addWidget(self.filtered)
        bar.addWidget(self.kept)
        for words, action in (("Add a tap", self.add), ("Remove it", self.remove)):
            button = QToolButton()
            button.setText(words)
            button.clicked.connect(action)
            bar.addWidget(button)
        self.column.addLayout(bar)
        grid = FieldGrid(self.session, 2)
        grid.add_choice("tap.kind", list(get_args(model.TapKind)), "Kind")
        grid.add_value("tap.offset_kpa", "Pressure against the gauge")
        grid.add_choice("tap.port_thread", THREAD_NAMES, "Thread in the engine")
        grid.add_value("tap.route_mm", "Hose length from here")
        grid.add_choice("tap.fitting_thread", THREAD_NAMES, "Thread of the fitting")
        grid.add_value("tap.protrusion_mm", "Longer than the plug by")
        grid.add_value("tap.wrench_mm", "Room for a wrench")
        grid.add_value("tap.gallery_bore_mm", "Gallery bore")
        grid.add_value("tap.hot_mm", "Distance to hot parts")
        self.column.addLayout(grid)

    def refresh(self) -> None:
        """Compare again and redraw."""
        self.candidates = compare_taps(self.session.plan)
        tap = self.session.evaluation.tap
        if not self.label.hasFocus():
            self.label.setText(tap.label)
        self.filtered.setChecked(tap.filtered)
        self.kept.setChecked(tap.keeps_sender)
        chosen = self.candidates[self.session.plan.tap]
        self.canvas.setAccessibleDescription(f"{tap.label}, rank {chosen.rank} of {len(self.candidates)}")
        self.canvas.update()

    def _rename(self) -> None:
        text = self.label.text().strip()
        if text and text != self.session.evaluation.tap.label:
            self.session.edit("tap.label", text, "rename the tap")

    def choose(self, index: int) -> None:
        """Plan the feed from another tap."""
        if 0 <= index < len(self.session.plan.taps) and index != self.session.plan.tap:
            self.session.propose(
                with_tap(self.session.plan, index), f"tap: {self.session.plan.taps[index].label}"
            )

    def add(self) -> None:
        """Add a copy of the chosen tap to be changed."""
        taps = self.session.plan.taps
        new = self.session.evaluation.tap.model_copy(update={"label": f"tap {len(taps) + 1}", "kind": "own"})
        if self.session.edit("taps", (*taps, new), "add a tap"):
            self.choose(len(taps))

    def remove(self) -> None:
        """Take the chosen tap out; the last one stays."""
        taps, k = self.session.plan.taps, self.session.plan.tap
        if len(taps) == 1:
            self.session.refused.emit("A plan needs at least one tap; change this one instead")
            return
        plan = self.session.plan.model_copy(
            update={"taps": (*taps[:k], *taps[k + 1 :]), "tap": max(k - 1, 0)}
        )
        self.session.propose(plan, f"remove tap {taps[k].label}")
