"""Stations that answer in a table: their own fields above, what comes of them per condition below."""

from __future__ import annotations

from collections.abc import Callable
from typing import ClassVar

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QBrush
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from gravidon.desk.session import Session
from gravidon.desk.stations.base import FieldGrid, Station
from gravidon.parts.threads import THREADS
from gravidon.plan.units import show, show_difference
from gravidon.study.evaluate import Evaluation

Column = tuple[str, str, Callable[[Evaluation], np.ndarray]]
DIFFERENCES = {"kpa_diff"}


class LedgerStation(Station):
    """Fields and a table over conditions; the chosen condition's row is marked."""

    columns_shown: ClassVar[tuple[Column, ...]] = ()

    def build(self) -> None:
        """Make fields and table."""
        self.grid = FieldGrid(self.session, 2)
        self.fill_fields(self.grid)
        self.column.addLayout(self.grid)
        self.column.addSpacing(6)
        self.table = QTableWidget(0, 1 + len(self.columns_shown))
        self.table.setAccessibleName(f"{self.name}, per condition")
        self.table.setHorizontalHeaderLabels(["condition", *(c[0] for c in self.columns_shown)])
        self.table.verticalHeader().hide()
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setShowGrid(False)
        self.table.setAlternatingRowColors(True)
        header = self.table.horizontalHeader()
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        header.setHighlightSections(False)
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        self.table.cellClicked.connect(lambda row, _: self.session.choose_condition(row))
        self.column.addWidget(self.table, 1)

    def fill_fields(self, grid: FieldGrid) -> None:
        """Add the station's own fields."""

    def refresh(self) -> None:
        """Fill the table."""
        e = self.session.evaluation
        self.table.setRowCount(len(e.names))
        for column, (_, kind, values) in enumerate(self.columns_shown, start=1):
            writer = show_difference if kind in DIFFERENCES else show
            for row, value in enumerate(values(e)):
                self._cell(row, column, writer(float(value), kind, self.session.family), True)
        for row, name in enumerate(e.names):
            self._cell(row, 0, name, False)
        self.table.blockSignals(True)
        self.table.selectRow(self.session.condition)
        self.table.blockSignals(False)

    def _cell(self, row: int, column: int, text: str, number: bool) -> None:
        item = QTableWidgetItem(text)
        item.setForeground(QBrush(self.colours.color("ink")))
        if number:
            item.setTextAlignment(int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter))
        self.table.setItem(row, column, item)


class SeatStation(LedgerStation):
    """Where the turbo sits."""

    key, name = "seat", "Seat"
    question = "Where does the centre housing sit, and how low do its seals come as the car leans?"
    help_page = "gravity"
    columns_shown = (
        ("oil leans by", "deg", lambda e: np.arccos(np.clip(e.drainage.up[:, 2], -1, 1))),
        ("pond over the flange", "mm", lambda e: e.drainage.backwater.pond_m),
        ("freeboard", "mm", lambda e: e.drainage.freeboard_m),
        ("wet after", "s", lambda e: e.drainage.time_to_wet_s),
    )

    def fill_fields(self, grid: FieldGrid) -> None:
        """Housing geometry and place."""
        for path in (
            "line.turbo.shaft_height_mm", "line.turbo.drain_flange.x_mm", "line.turbo.seal_spacing_mm",
            "line.turbo.drain_flange.y_mm", "line.turbo.seal_diameter_mm", "line.turbo.drain_flange.z_mm",
            "line.turbo.cavity_ml", "line.turbo.shaft_heading_deg",
        ):  # fmt: skip
            label = f"Flange {path[-4]}" if "drain_flange" in path else ""
            if label:
                label += {"x": " (forward)", "y": " (left)", "z": " (above the rail)"}[path[-4]]
            if path.endswith("heading_deg"):
                label = "Shaft heading"
            grid.add_value(path, label)

    @classmethod
    def headline(cls, session: Session) -> str:
        """Flange height over the pan rail."""
        height = session.line.turbo.drain_flange.z_mm * 1e-3
        return f"flange {show(height, 'run', session.family)} over rail"


class EntryStation(LedgerStation):
    """The entry into the pan."""

    key, name = "entry", "Pan entry"
    question = "Does the entry stay above the oil, and is its fitting as wide as the hose?"
    help_page = "gravity"
    columns_shown = (
        ("oil above entry", "mm", lambda e: e.drainage.submergence_m),
        ("level along gravity", "run", lambda e: e.drainage.sump_level_m),
        ("drain fill", "share", lambda e: e.drainage.worst_fill),
        ("open area", "share", lambda e: e.drainage.open_area),
    )

    def fill_fields(self, grid: FieldGrid) -> None:
        """Place, fitting, pan and fill."""
        grid.add_value("line.drain.entry.z_mm", "Entry height (rail is 0)")
        grid.add_choice("line.drain.fitting.port_thread", sorted(THREADS), "Thread in the pan")
        grid.add_value("line.drain.fitting.bore_mm", "Fitting bore or dash size", dash=True)
        grid.add_choice("line.drain.fitting.fitting_thread", sorted(THREADS), "Thread of the fitting")
        grid.add_value("sump.fill_l")
        grid.add_value("sump.windage_mm")
        grid.add_value("sump.boxes.0.length_mm")
        grid.add_value("sump.boxes.0.width_mm")
        grid.add_value("sump.boxes.0.depth_mm")
        grid.add_value("needs.freeboard_mm")

    @classmethod
    def headline(cls, session: Session) -> str:
        """How far the oil is from the entry."""
        over = float(session.evaluation.drainage.submergence_m[session.condition])
        words = "oil over it" if over > 0 else "clear of oil"
        return f"{show(abs(over), 'mm', session.family)} {words}"


class BreatherStation(LedgerStation):
    """Crankcase pressure and what it does to the drain."""

    key, name = "breather", "Breather"
    question = (
        "Does crankcase pressure stand on the drain? Set it per condition under Conditions (Ctrl+E); "
        "it lifts oil only where the drain is sealed."
    )
    help_page = "gravity"
    columns_shown = (
        ("crankcase", "kpa_small", lambda e: np.array([c.crankcase_kpa for c in e.plan.conditions]) * 1e3),
        (
            "wheel side, lowest",
            "kpa_small",
            lambda e: np.array([c.wheel_side_kpa for c in e.plan.conditions]) * 1e3,
        ),
        ("over the seals", "kpa_small", lambda e: e.drainage.gas_difference_pa),
        ("lifts the oil by", "mm", lambda e: e.drainage.backwater.lift_m),
    )

    @classmethod
    def headline(cls, session: Session) -> str:
        """Crankcase pressure in the chosen condition."""
        pressure = session.plan.conditions[session.condition].crankcase_kpa * 1e3
        return f"{show(pressure, 'kpa_small', session.family)} in the case"
