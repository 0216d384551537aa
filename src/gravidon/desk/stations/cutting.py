"""Cut and drill: hose lengths, clamps, sleeves, and the paper template of the hole in the pan."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
)

from gravidon.desk.canvas import Canvas
from gravidon.desk.session import Session
from gravidon.desk.stations.base import FieldGrid, Station
from gravidon.draw import template as drawing
from gravidon.errors import GravidonError
from gravidon.plan.units import show
from gravidon.study.cutting import Cut, EntryTemplate, cuts, entry_template

HEADS = ("hose", "size", "route", "less the ends", "to move", "cut", "clamps from the turbo end", "sleeve")


class TemplateCanvas(Canvas):
    """The template, as large as there is room; printed it is true to scale."""

    station: CuttingStation

    def paint(self, painter: QPainter) -> None:
        """Draw the paper on the bench."""
        made = self.station.template()
        if made is None:
            painter.setPen(self.station.colours.color("faint"))
            painter.drawText(
                self.area,
                int(Qt.AlignmentFlag.AlignCenter),
                "This drain does not enter the pan: no hole to make.",
            )
            return
        width, height = drawing.SIZE_MM
        scale = min((self.width() - 16) / width, (self.height() - 16) / height)
        painter.translate(0.5 * (self.width() - scale * width), 0.5 * (self.height() - scale * height))
        painter.scale(scale, scale)
        painter.setClipRect(QRectF(0, 0, width, height))
        drawing.paint(painter, made)


class CuttingStation(Station):
    """Every cut and the hole, on paper."""

    key, name = "cutting", "Cut and drill"
    question = "How long is each hose cut, and where does the hole go? The template prints at true scale; check its ruler."
    help_page = "parts"

    def build(self) -> None:
        """The cut list above; template and how the hole is made below."""
        self.table = QTableWidget(0, len(HEADS))
        self.table.setAccessibleName("Cut list")
        self.table.setHorizontalHeaderLabels(list(HEADS))
        self.table.verticalHeader().hide()
        self.table.verticalHeader().setDefaultSectionSize(26)
        self.table.setShowGrid(False)
        self.table.setAlternatingRowColors(True)
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        header = self.table.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(6, QHeaderView.ResizeMode.Stretch)
        self.column.addWidget(self.table)
        row = QHBoxLayout()
        self.canvas = TemplateCanvas(self, "Template of the pan entry", (330, 250))
        row.addWidget(self.canvas, 3)
        side = QVBoxLayout()
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        side.addWidget(self.words)
        grid = FieldGrid(self.session, 1)
        grid.add_value("line.parts.feed_move_mm", "Feed, to move")
        grid.add_value("line.parts.drain_move_mm", "Drain, to move")
        grid.add_value("line.drain.min_bend_mm", "Least bend radius")
        side.addLayout(grid)
        side.addStretch(1)
        self.print_button = QPushButton("Template as PDF …")
        self.print_button.clicked.connect(lambda _=False: self.save_template())
        side.addWidget(self.print_button)
        row.addLayout(side, 2)
        self.column.addLayout(row, 1)

    def template(self) -> EntryTemplate | None:
        """The chosen turbo's template."""
        return entry_template(self.session.plan, self.session.evaluation.index)

    def refresh(self) -> None:
        """Fill the list, redraw the template."""
        family = self.session.family
        rows = cuts(self.session.plan)
        self.table.setRowCount(len(rows))
        for r, cut in enumerate(rows):
            ends = " + ".join(show(t, "mm", family, with_unit=False) for t in cut.takeoffs_m)
            clamps = ", ".join(show(c, "run", family) for c in cut.clamps_m) or "none"
            cells = (
                cut.name, f"-{cut.dash}", show(cut.route_m, "run", family), ends, show(cut.move_m, "run", family), _cut_text(cut, family),
                cut.note or clamps, show(cut.sleeve_m, "run", family) if cut.sleeve_m else "–",
            )  # fmt: skip
            for c, words in enumerate(cells):
                item = QTableWidgetItem(words)
                bad = bool(cut.note) and c in (5, 6)
                item.setForeground(QBrush(self.colours.color("bad" if bad else "ink")))
                if 0 < c < 6:
                    item.setTextAlignment(int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter))
                self.table.setItem(r, c, item)
        self.table.setFixedHeight(min(38 + 27 * max(len(rows), 1), 210))
        made = self.template()
        self.print_button.setEnabled(made is not None)
        self.words.setText("" if made is None else self._how(made))
        self.canvas.setAccessibleDescription(self.headline(self.session))
        self.canvas.update()

    def _how(self, made: EntryTemplate) -> str:
        held = "" if made.threads > 1e6 else f" The wall holds {made.threads:.1f} threads."
        return (
            f"{made.tool[:1].upper()}{made.tool[1:]}. Leave {show(made.stop_m, 'mm', self.session.family)} of drill bare beyond the stop; keep "
            f"{show(made.behind_m, 'mm', self.session.family)} clear behind the wall.{held} Cut length = route, rounded at the bends, less both hose ends, plus room to move. "
            "Cut the hose long when in doubt; a hose cut short is scrap."
        )

    def save_template(self) -> None:
        """Write the template as a PDF page at true scale."""
        made = self.template()
        if made is None:
            return
        name, _ = QFileDialog.getSaveFileName(
            self, "Save the template", str(Path.home() / "entry template.pdf"), "*.pdf"
        )
        if not name:
            return
        from gravidon.sheet.workshop import write_template

        path = Path(name) if Path(name).suffix else Path(name).with_suffix(".pdf")
        try:
            write_template(made, path)
        except GravidonError as error:
            self.session.refused.emit(str(error))
            return
        self.session.refused.emit(f"Template written to {path.name}.")

    @classmethod
    def headline(cls, session: Session) -> str:
        """The drain's cut."""
        mine = [c for c in cuts(session.plan) if c.run in ("drain", "feed")]
        return f"cut {show(mine[-1].cut_m, 'run', session.family)}" if mine else "nothing to cut"


def _cut_text(cut: Cut, family: str) -> str:
    return show(cut.cut_m, "mm", "imperial" if family == "imperial" else "metric")
