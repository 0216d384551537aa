# SPDX-License-Identifier: GPL-3.0-or-later
"""Car and turbo: oil, gauge readings with the fitted law, bearing kind, window."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.canvas import Canvas
from gravidon.desk.picture_fields import Fold
from gravidon.desk.stations.base import ChoiceField, FieldGrid, Station, section
from gravidon.desk.table import Cell, Table, shown
from gravidon.draw import soak_chart, source_chart
from gravidon.draw.ink import Ink
from gravidon.parts.oils import grades
from gravidon.parts.turbos import BEARINGS, COOLINGS, HOUSINGS, WINDOW_LEAST, WINDOW_PLACES
from gravidon.plan.starter import added_turbo, with_grade, with_turbo_kind
from gravidon.sheet.workshop_content import soak_words
from gravidon.study.solve.heat_soak import heat_soak
from gravidon.words.text import tr

WINDOW_LABELS = {
    "idle_min_kpa": tr("Least, hot idle"),
    "speed_min_kpa": tr("Least, at speed"),
    "speed_max_kpa": tr("Most"),
    "cold_max_kpa": tr("Most, cold"),
    "outlet_max_c": tr("Hottest oil out"),
    "idle_flow_l_min": tr("Least flow, hot idle"),
    "speed_flow_l_min": tr("Least flow, at speed"),
}
"""Short names of the window's fields, under its heading."""
ROOMY_PX = 640
"""Height from which the curve of the hot stop has room."""
READING_COLUMNS = ("rpm", "oil_temperature_c", "pressure_kpa", "where")
HEADERS = ("rpm", "oil", "gauge", tr("where it was read"))


class SourceCanvas(Canvas):
    """The fitted gallery law drawn through the readings."""

    def paint(self, painter: QPainter) -> None:
        """Draw the chart."""
        source_chart.paint(self.ink(painter), self.area, self.station.session.evaluation)


class SoakCanvas(Canvas):
    """The bearing after a hot stop."""

    def paint(self, painter: QPainter) -> None:
        """Draw the curves."""
        session = self.station.session
        soak = heat_soak(session.evaluation)
        if soak is not None:
            soak_chart.paint(Ink(painter, self.station.colours, session.family), self.area, soak)


class _GradeField(ChoiceField):
    def _commit(self, word: str) -> None:
        if word in grades():
            self.session.propose(with_grade(self.session.plan, word), tr("oil {word}").format(word=word))


class _KindField(ChoiceField):
    def _commit(self, word: str) -> None:
        turbo = self.session.line.turbo
        kind = word if self.path.endswith("bearing") else turbo.bearing
        frame = word if self.path.endswith("frame") else turbo.frame
        plan = with_turbo_kind(self.session.plan, kind, frame, self.session.turbo)
        self.session.propose(plan, f"{word} {self.label.lower()}")


class CarStation(Station):
    """Know the engine and the turbo."""

    key = "car"
    question = tr(
        "What oil, at what pressure, and what does the bearing want? Dashed values are guesses: measure them."
    )

    def build(self) -> None:
        """Fields at the left, readings and their law at the right."""
        halves = QHBoxLayout()
        halves.setSpacing(16)
        fields = QWidget()
        grid = FieldGrid(self.session)
        grid.setContentsMargins(0, 0, 8, 0)
        fields.setLayout(grid)
        self._fill(grid)
        grid.setRowStretch(grid.count_so_far + 1, 1)
        area = QScrollArea()
        area.setObjectName("fields")
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setWidget(fields)
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setMinimumWidth(300)
        halves.addWidget(area, 2)
        right = QVBoxLayout()
        right.addWidget(section(tr("Gauge readings and the law through them")))
        self.canvas = SourceCanvas(self, tr("Gauge readings and the fitted gallery pressure"), (270, 180))
        right.addWidget(self.canvas, 3)
        place = READING_COLUMNS.index("where")
        self.table = Table(tr("Gauge readings"), HEADERS, left=(place,), wide=place)
        self.table.typed.connect(self._typed)
        right.addWidget(self.table, 2)
        buttons = QHBoxLayout()
        for words, action in (
            (tr("Add a reading"), self.add_reading),
            (tr("Remove it"), self.remove_reading),
        ):
            button = QToolButton()
            button.setText(words)
            button.clicked.connect(action)
            buttons.addWidget(button)
        buttons.addStretch(1)
        right.addLayout(buttons)
        count = QHBoxLayout()
        count.addWidget(QLabel(tr("Turbos")))
        for words, action in ((tr("One more"), self.add_turbo), (tr("One fewer"), self.remove_turbo)):
            button = QToolButton()
            button.setText(words)
            button.clicked.connect(action)
            count.addWidget(button)
        count.addStretch(1)
        right.addLayout(count)
        self.soak = QLabel()
        self.soak.setWordWrap(True)
        self.soak.setAccessibleName(tr("Before key-off after a hot run"))
        self.after = SoakCanvas(self, tr("Bearing temperature after a hot stop"), (270, 110))
        right.addWidget(self.after, 2)
        right.addWidget(self.soak)
        halves.addLayout(right, 3)
        self.column.addLayout(halves, 1)

    def _fill(self, grid: FieldGrid) -> None:
        """What one chooses in sight; figures of a maker or of the shop folded, each under what it belongs to."""
        grid.add_heading(tr("Oil and engine"))
        grid.add_row(tr("Grade"), _GradeField(self.session, "oil.grade", list(grades()), tr("Grade")))
        grid.add_value("engine.relief_kpa")
        self.folds = [
            self._folded(
                grid,
                tr("Oil, pump and body"),
                (
                    ("oil.v40_mm2_s", ""),
                    ("oil.v100_mm2_s", ""),
                    ("oil.density_15_kg_m3", ""),
                    ("engine.pump_cc_rev", tr("Pump, a turn of the engine (0: unknown)")),
                    ("engine.roll_deg_g", tr("Body roll, each g of corner")),
                    ("engine.lift_deg_g", tr("Nose lift or dive, each g")),
                    ("engine.overrun_kpa", tr("Wheels' side, throttle let go")),
                ),
            )
        ]
        grid.add_heading(tr("Turbo"))
        grid.add_row(
            tr("Bearing"), _KindField(self.session, "line.turbo.bearing", list(BEARINGS), tr("Bearing"))
        )
        grid.add_row(tr("Frame"), _KindField(self.session, "line.turbo.frame", list(HOUSINGS), tr("Frame")))
        grid.add_choice("line.turbo.cooling", list(COOLINGS), tr("Cooled by"))
        self.folds.append(
            self._folded(
                grid,
                tr("Flow, by the maker"),
                (
                    ("line.turbo.reference_flow_l_min", tr("Oil flow, 10W-40 at 100 °C")),
                    ("line.turbo.reference_drop_kpa", tr("… at a drop of")),
                    ("line.turbo.film_share", tr("Film share of that drop")),
                ),
            )
        )
        grid.add_heading(tr("Window the bearing wants"))
        grid.add_choice("line.turbo.window.at", list(WINDOW_PLACES), tr("Pressure holds"))
        grid.add_choice("line.turbo.window.least", list(WINDOW_LEAST), tr("The least is a"))
        rows = tuple((f"line.turbo.window.{path}", label) for path, label in WINDOW_LABELS.items())
        self.folds.append(self._folded(grid, tr("Limits of the window"), rows))

    def _folded(self, grid: FieldGrid, words: str, rows: tuple[tuple[str, str], ...]) -> Fold:
        """Add a fold of values over the grid's width."""
        body = QWidget()
        inner = FieldGrid(self.session)
        inner.setContentsMargins(0, 0, 0, 0)
        body.setLayout(inner)
        for path, label in rows:
            inner.add_value(path, label)
        made = Fold(self.session, words, body)
        grid.addWidget(made, grid.count_so_far // grid.columns, 0, 1, 2 * grid.columns)
        grid.count_so_far += grid.columns
        return made

    def refresh(self) -> None:
        """Fill the readings and redraw the law."""
        self.canvas.update()
        for fold in self.folds:
            fold.refresh()
        words = soak_words(self.session.evaluation, self.session.family)
        self.soak.setText(tr("Before key-off after a hot run: {words}.").format(words=words) if words else "")
        self._show_after()
        self.after.update()
        readings = self.session.plan.engine.readings
        ink = self.colours.color("ink")
        self.table.fill(
            [
                [Cell(shown(self.session, reading, key), True, ink) for key in READING_COLUMNS]
                for reading in readings
            ]
        )

    def _show_after(self) -> None:
        """The curve gives way to the readings where the window is low; the words stay."""
        self.after.setVisible(bool(self.soak.text()) and self.height() >= ROOMY_PX)

    def resizeEvent(self, event: object) -> None:
        """Show the curve where there is room."""
        self._show_after()

    def _typed(self, row: int, column: int, text: str) -> None:
        self.take_cell(
            f"engine.readings.{row}.{READING_COLUMNS[column]}",
            text,
            tr("reading {number}").format(number=row + 1),
        )

    def add_reading(self) -> None:
        """Add a copy of the last reading to be typed over."""
        readings = self.session.plan.engine.readings
        self.session.edit("engine.readings", (*readings, readings[-1]), tr("add a reading"))
        self.table.setCurrentCell(self.table.rowCount() - 1, 0)
        self.table.setFocus()

    def remove_reading(self) -> None:
        """Take the chosen reading out; the last one stays."""
        readings = self.session.plan.engine.readings
        row = self.table.currentRow()
        if row < 0:
            self.session.refused.emit(tr("Choose the reading to remove in the table first"))
        elif len(readings) == 1:
            self.session.refused.emit(tr("The law needs at least one reading; type over this one instead"))
        else:
            self.session.edit(
                "engine.readings", (*readings[:row], *readings[row + 1 :]), tr("remove a reading")
            )

    def add_turbo(self) -> None:
        """Add a turbo with its own branch and drain, mirrored from the last."""
        if len(self.session.plan.turbos) == 3:
            self.session.refused.emit(tr("A plan holds three turbos at most"))
        elif self.session.propose(added_turbo(self.session.plan), tr("one turbo more")):
            self.session.choose_turbo(len(self.session.plan.turbos) - 1)

    def remove_turbo(self) -> None:
        """Take the turbo in sight out; the last one stays."""
        turbos, k = self.session.plan.turbos, self.session.turbo
        if len(turbos) == 1:
            self.session.refused.emit(tr("A plan needs at least one turbo"))
        else:
            self.session.edit(
                "turbos",
                (*turbos[:k], *turbos[k + 1 :]),
                tr("without {label}").format(label=turbos[k].turbo.label),
            )
