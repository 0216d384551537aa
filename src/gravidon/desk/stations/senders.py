# SPDX-License-Identifier: GPL-3.0-or-later
"""Senders: what they are, where they sit, their zero with the engine off, their line beside a shop gauge."""

from __future__ import annotations

from collections import deque
from functools import partial

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.box import Box
from gravidon.desk.canvas import Canvas
from gravidon.desk.stations.base import FieldGrid, Station, section
from gravidon.desk.table import Cell, Table, shown
from gravidon.desk.there import emptied, there
from gravidon.draw import sender_chart
from gravidon.errors import GravidonError
from gravidon.plan import units
from gravidon.plan.model import Sender
from gravidon.plan.units import show
from gravidon.records.lines import Row
from gravidon.study.solve.senders import calibration, with_point, zero_check
from gravidon.words.text import N_, tr

MEAN_ROWS = 40
"""Rows over which what is read now is averaged: two seconds at twenty a second."""
COLUMNS = ("pressure_kpa", "volts", "supply_v")
NEW = {"gallery": N_("sender at the gallery"), "inlet": N_("sender at the turbo's inlet")}


class LineCanvas(Canvas):
    """The chosen sender's line."""

    station: SendersStation

    def paint(self, painter: QPainter) -> None:
        """Draw it, or say what could be here."""
        it = self.station
        if it.chosen is None:
            painter.setPen(it.colours.color("faint"))
            painter.drawText(
                self.area.adjusted(30, 0, -30, 0),
                int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap),
                tr(
                    "No sender in the plan yet. Add the one at the gallery, and the one at the turbo's inlet if there is one: First start and Logbook then read pressure from its volts."
                ),
            )
            return
        volts, supply = it.read_now()
        sender_chart.paint(self.ink(painter), self.area, it.chosen, volts, supply)


class SendersStation(Station):
    """Trust the gauge before the engine does."""

    key = "senders"
    question = tr(
        "Does each sender read nothing at nothing, and what the shop gauge reads at pressure? Half a volt off is twenty pounds."
    )
    shows_condition = False
    per_turbo = False
    flagged = False

    def build(self) -> None:
        """Senders as buttons above; the line left; its values, its zero and its points right."""
        self._volts: dict[str, deque[float]] = {}
        self.row = QHBoxLayout()
        self.row.setSpacing(4)
        self.buttons = QHBoxLayout()
        self.buttons.setSpacing(4)
        self.row.addLayout(self.buttons)
        for at, words in NEW.items():
            add = QToolButton()
            add.setText(tr("Add a {words}").format(words=tr(words)))
            add.clicked.connect(partial(self.add, at))
            self.row.addWidget(add)
        self.row.addStretch(1)
        self.column.addLayout(self.row)
        halves = QHBoxLayout()
        halves.setSpacing(16)
        self.canvas = LineCanvas(self, tr("Volts to pressure of the chosen sender"), (380, 300))
        halves.addWidget(self.canvas, 3)
        self.side = QWidget()
        column = QVBoxLayout(self.side)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(self._values())
        column.addWidget(section(tr("Zero, engine off")))
        self.zero = QLabel()
        self.zero.setWordWrap(True)
        self.zero.setAccessibleName(tr("Zero check"))
        column.addWidget(self.zero)
        column.addLayout(self._taking())
        column.addWidget(section(tr("Points beside a gauge")))
        self.table = Table(
            tr("Calibration points"), (tr("Gauge"), tr("Volts"), tr("Supply"), tr("Line misses by")), (), None
        )
        self.table.typed.connect(self._typed)
        self.table.setMinimumHeight(110)
        column.addWidget(self.table, 1)
        buttons = QHBoxLayout()
        for words, action in (
            (tr("Take the chosen point out"), self.remove_point),
            (tr("Take the sender out"), self.remove),
        ):
            button = QToolButton()
            button.setText(words)
            button.clicked.connect(partial(self._do, action))
            buttons.addWidget(button)
        buttons.addStretch(1)
        column.addLayout(buttons)
        halves.addWidget(self.side, 2)
        self.column.addLayout(halves, 1)
        self.session.live.came.connect(self._came)
        self.session.live.changed.connect(self._show_now)
        self._fields: list[QWidget] = []

    @staticmethod
    def _do(action: object, _clicked: bool = False) -> None:
        if callable(action):
            action()

    def _values(self) -> QVBoxLayout:
        """Where the sender's own values come; filled once there is a sender."""
        self.values = QVBoxLayout()
        self.values.setSpacing(4)
        return self.values

    def _fill_values(self) -> None:
        grid = FieldGrid(self.session, 2)
        place = Box()
        place.setAccessibleName(tr("Where it sits"))
        place.textActivated.connect(self._placed)
        self.place = place
        grid.add_row(tr("Sits at"), place)
        grid.add_value("sender.full_kpa", tr("Full scale"))
        grid.add_value("sender.low_v", tr("At no pressure"))
        grid.add_value("sender.high_v", tr("At full scale"))
        grid.add_value("sender.supply_v", tr("Supply"))
        self.ratio = QCheckBox(tr("Moves with its supply"))
        self.ratio.setToolTip(
            tr(
                "A ratiometric sender's volts rise and fall with its supply; one with its own regulator keeps them"
            )
        )
        self.ratio.clicked.connect(
            lambda on: self.session.edit("sender.ratiometric", on, tr("moves with its supply"))
        )
        grid.add_row(tr("Volts"), self.ratio)
        self.values.addLayout(grid)
        self._fields = [place]

    def _taking(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.typed_volts, self.typed_pressure = QLineEdit(), QLineEdit()
        self.typed_volts.setPlaceholderText(tr("volts"))
        self.typed_volts.setAccessibleName(tr("Sender's volts; empty: as read now"))
        self.typed_volts.setMaximumWidth(86)
        self.typed_pressure.setAccessibleName(tr("What the gauge shows"))
        self.typed_pressure.setMaximumWidth(96)
        zero = QPushButton(tr("Take the zero"))
        zero.setToolTip(
            tr("Engine off, line open to the air: what it reads now, or the volts typed, is no pressure")
        )
        zero.clicked.connect(lambda _=False: self.take(0.0))
        point = QPushButton(tr("Take a point"))
        point.setToolTip(tr("What the gauge shows, with what the sender reads now, or the volts typed"))
        point.clicked.connect(lambda _=False: self.take_point())
        for widget in (self.typed_volts, zero, self.typed_pressure, point):
            row.addWidget(widget)
        row.addStretch(1)
        return row

    # --- state ---------------------------------------------------------------------------------

    @property
    def chosen(self) -> Sender | None:
        """The chosen sender."""
        known = self.session.plan.senders
        return known[min(self.session.chosen_sender, len(known) - 1)] if known else None

    def read_now(self) -> tuple[float | None, float | None]:
        """Return the chosen sender's volts and supply, averaged over the last rows; None where nothing is read."""
        it = self.chosen
        if it is None or self.session.live.state != "reading":
            return None, None
        volts, supply = self._volts.get(f"{it.channel}_v"), self._volts.get("supply")
        return (float(np.mean(volts)) if volts else None), (float(np.mean(supply)) if supply else None)

    def _came(self, rows: list[Row]) -> None:
        for row in rows:
            for key, value in row.values.items():
                if key == "supply" or key.endswith("_v"):
                    self._volts.setdefault(key, deque(maxlen=MEAN_ROWS)).append(value)
        if self.isVisible():
            self._show_now()

    # --- what is shown -------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the senders as they are now."""
        known = self.session.plan.senders
        self.session.chosen_sender = min(self.session.chosen_sender, max(len(known) - 1, 0))
        emptied(self.buttons, len(known))
        while self.buttons.count() < len(known):
            button = QToolButton()
            button.setCheckable(True)
            button.clicked.connect(partial(self._choose, self.buttons.count()))
            self.buttons.addWidget(button)
        for k, it in enumerate(known):
            shown_as = there(self.buttons.itemAt(k)).widget()
            if isinstance(shown_as, QToolButton):
                usual = it.label in NEW.values()
                shown_as.setText(tr(it.label) if usual else f"{it.label} ({self._where(it)})")
                shown_as.setToolTip(shown_as.text())
                shown_as.setChecked(k == self.session.chosen_sender)
        if known and not self._fields:
            self._fill_values()
        self.side.setVisible(bool(known))
        if self.chosen is not None:
            self._show_sender(self.chosen)
        self._show_now()

    def _where(self, it: Sender) -> str:
        if it.at == "gallery":
            return tr("gallery")
        turbos = self.session.plan.turbos
        return (
            tr("turbo's inlet")
            if len(turbos) == 1
            else tr("inlet of {label}").format(label=turbos[it.turbo].turbo.label)
        )

    def _places(self) -> list[tuple[str, str, int]]:
        turbos = self.session.plan.turbos
        inlets = [
            (
                tr("turbo's inlet")
                if len(turbos) == 1
                else tr("inlet of {label}").format(label=t.turbo.label),
                "inlet",
                k,
            )
            for k, t in enumerate(turbos)
        ]
        return [(tr("gallery"), "gallery", 0), *inlets]

    def _show_sender(self, it: Sender) -> None:
        self.place.blockSignals(True)
        self.place.clear()
        self.place.addItems([words for words, _, _ in self._places()])
        self.place.setCurrentText(self._where(it))
        self.place.blockSignals(False)
        self.ratio.setChecked(it.ratiometric)
        unit = units.display_unit("kpa", self.session.family)
        self.typed_pressure.setPlaceholderText(tr("gauge, {symbol}").format(symbol=unit.symbol))
        misses = calibration(it).residuals_pa
        rows = []
        for point, miss in zip(it.points, misses, strict=True):
            cells: list[Cell | str] = [Cell(shown(self.session, point, name), True) for name in COLUMNS]
            off = abs(miss) > 0.02 * it.full_kpa * 1e3
            cells.append(
                Cell(
                    units.show_difference(miss, "kpa_diff", self.session.family),
                    False,
                    self.colours.color("bad" if off else "ink"),
                )
            )
            rows.append(cells)
        self.table.fill(rows)

    def _show_now(self) -> None:
        it = self.chosen
        if it is None or not self.isVisible():
            return
        volts, supply = self.read_now()
        family = self.session.family
        if volts is None:
            line = calibration(it)
            words = {
                "sheet": tr("Not checked: its data sheet is believed."),
                "zero": tr("Set at {zero:.3f} V.").format(zero=line.zero_v),
                "line": tr("The line through the points is at no pressure at {zero_v:.3f} V.").format(
                    zero_v=line.zero_v
                ),
            }[line.rests_on]
            words += tr(" A reading may be off by {accuracy}.").format(
                accuracy=show(line.accuracy_pa, "kpa", family)
            )
            if not self.session.live.reading:
                words += tr(" Connect a device at First start, or type volts.")
        else:
            found = zero_check(it, volts, supply)
            side = tr("over") if found.shows_pa > 0 else tr("under")
            words = tr("Reads {volts:.3f} V now: {pressure}.").format(
                volts=volts, pressure=show(found.shows_pa, "kpa", family)
            )
            words += (
                tr(" If the engine is off, its zero is {pressure} {side}: set it at {volts:.3f} V.").format(
                    pressure=show(abs(found.shows_pa), "kpa", family), side=side, volts=found.volts
                )
                if found.off
                else tr(" If the engine is off, its zero is right.")
            )
        self.zero.setText(words)
        self.canvas.setAccessibleDescription(words)
        self.canvas.update()

    # --- the builder's hand --------------------------------------------------------------------

    def _choose(self, index: int, _clicked: bool = False) -> None:
        self.session.chosen_sender = index
        self.session.changed.emit()

    def add(self, at: str, _clicked: bool = False) -> None:
        """Add a sender at the gallery, or at the first turbo's inlet that has none."""
        known = self.session.plan.senders
        taken = {it.turbo for it in known if it.at == "inlet"}
        turbo = next((k for k in range(len(self.session.plan.turbos)) if k not in taken), 0)
        if at == "gallery" and any(it.at == "gallery" for it in known):
            self.session.refused.emit(tr("Senders: the gallery has one already; expected one at each place"))
            return
        if at == "inlet" and len(taken) == len(self.session.plan.turbos):
            self.session.refused.emit(
                tr("Senders: every turbo's inlet has one already; expected one at each place")
            )
            return
        new = (
            Sender(label=NEW[at], at="gallery")
            if at == "gallery"
            else Sender(label=NEW[at], at="inlet", turbo=turbo)
        )
        if self.session.edit("senders", (*known, new), tr("a {sender}").format(sender=tr(NEW[at]))):
            self.session.chosen_sender = len(known)
            self.session.changed.emit()

    def remove(self) -> None:
        """Take the chosen sender out of the plan."""
        known, k = self.session.plan.senders, self.session.chosen_sender
        if known:
            self.session.edit(
                "senders", (*known[:k], *known[k + 1 :]), tr("without {label}").format(label=known[k].label)
            )

    def _placed(self, words: str) -> None:
        it = self.chosen
        found = next((p for p in self._places() if p[0] == words), None)
        if it is None or found is None:
            return
        others = [s for k, s in enumerate(self.session.plan.senders) if k != self.session.chosen_sender]
        moved = it.model_copy(update={"at": found[1], "turbo": found[2]})
        if any(s.channel == moved.channel for s in others):
            self.session.refused.emit(
                tr("Sits at: another sender sits at the {words} already").format(words=words)
            )
            self.refresh()
            return
        self._put(moved, tr("where the sender sits"))

    def _put(self, it: Sender, label: str) -> bool:
        k = self.session.chosen_sender
        known = self.session.plan.senders
        return self.session.edit("senders", (*known[:k], it, *known[k + 1 :]), label)

    def take_point(self) -> None:
        """Take a point beside the gauge."""
        unit = units.display_unit("kpa", self.session.family)
        try:
            pressure = units.parse(self.typed_pressure.text(), "kpa", tr("gauge pressure"), unit)
        except GravidonError as error:
            self.session.refused.emit(str(error))
            return
        self.take(pressure / 1e3)

    def take(self, pressure_kpa: float) -> None:
        """Take what is read now, or the volts that are typed, as a point at a pressure."""
        it = self.chosen
        if it is None:
            return
        volts, supply = self.read_now()
        try:
            if self.typed_volts.text().strip():
                volts = units.parse(self.typed_volts.text(), "v_fine", tr("sender's volts"))
                supply = supply or it.supply_v
            if volts is None:
                self.session.refused.emit(
                    tr(
                        "Sender's volts: nothing is read now; connect a device at First start, or type the volts"
                    )
                )
                return
            new = with_point(it, round(pressure_kpa, 3), round(volts, 4), round(supply or it.supply_v, 3))
        except GravidonError as error:
            self.session.refused.emit(str(error))
            return
        except ValueError:
            self.session.refused.emit(
                tr(
                    "Point: {pressure_kpa:g} kPa at {volts:g} V cannot be used; expected 0 to 4000 kPa, and at most 40 points"
                ).format(pressure_kpa=pressure_kpa, volts=volts)
            )
            return
        if self._put(new, tr("a point of the sender")):
            self.typed_volts.clear()
            self.typed_pressure.clear()

    def remove_point(self) -> None:
        """Take the chosen point out."""
        it, row = self.chosen, self.table.currentRow()
        if it is None or not 0 <= row < len(it.points):
            self.session.refused.emit(tr("Choose the point to take out in the table first"))
            return
        points = (*it.points[:row], *it.points[row + 1 :])
        self._put(it.model_copy(update={"points": points}), tr("a point less"))

    def _typed(self, row: int, column: int, text: str) -> None:
        path = f"senders.{self.session.chosen_sender}.points.{row}.{COLUMNS[column]}"
        self.take_cell(path, text, tr("a point of the sender"))
