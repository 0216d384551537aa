# SPDX-License-Identifier: GPL-3.0-or-later
"""Cut and drill: hose lengths, clamps, sleeves, and the paper template of the hole in the pan."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QVBoxLayout,
)

from gravidon.desk.canvas import Canvas
from gravidon.desk.preferences import home
from gravidon.desk.stations.base import FieldGrid, Station
from gravidon.desk.table import Cell, Table
from gravidon.desk.there import there
from gravidon.draw import template as drawing
from gravidon.errors import GravidonError
from gravidon.plan.units import Family, show
from gravidon.study.making.cutting import Cut, EntryTemplate, cuts, entry_template
from gravidon.translate import commas
from gravidon.words.text import tr

if TYPE_CHECKING:
    from gravidon.sheet.dxf import Subject

DRAWINGS: tuple[tuple[str, Subject], ...] = (
    (tr("Template of the entry …"), "template"),
    (tr("The pan's wall …"), "wall"),
    (tr("Flange plates …"), "plates"),
)

HEADS = (
    tr("hose"),
    tr("size"),
    tr("route"),
    tr("less the ends"),
    tr("to move"),
    tr("cut"),
    tr("clamps from the turbo end"),
    tr("sleeve"),
)


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
                tr("This drain does not enter the pan: no hole to make."),
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

    key = "cutting"
    question = tr(
        "How long is each hose cut, and where does the hole go? The template prints at true scale; check its ruler."
    )
    shows_condition = False

    def build(self) -> None:
        """The cut list above; template and how the hole is made below."""
        self.table = Table(tr("Cut list"), HEADS, left=(0, 6, 7), wide=6)
        self.column.addWidget(self.table)
        row = QHBoxLayout()
        self.canvas = TemplateCanvas(self, tr("Template of the pan entry"), (330, 250))
        row.addWidget(self.canvas, 3)
        side = QVBoxLayout()
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        side.addWidget(self.words)
        grid = FieldGrid(self.session, 1)
        grid.add_value("line.parts.feed_move_mm", tr("Feed, to move"))
        grid.add_value("line.parts.drain_move_mm", tr("Drain, to move"))
        grid.add_value("line.drain.min_bend_mm", tr("Least bend radius"))
        side.addLayout(grid)
        side.addStretch(1)
        self.print_button = QPushButton(tr("Template as PDF …"))
        self.print_button.clicked.connect(lambda _=False: self.save_template())
        self.dxf_button = QPushButton(tr("As DXF ▾"))
        menu = QMenu(self.dxf_button)
        for words, subject in DRAWINGS:
            there(menu.addAction(words)).triggered.connect(partial(self.save_dxf, subject))
        self.dxf_button.setMenu(menu)
        both = QHBoxLayout()
        both.addWidget(self.print_button)
        both.addWidget(self.dxf_button)
        side.addLayout(both)
        row.addLayout(side, 2)
        self.column.addLayout(row, 1)

    def _cells(self, cut: Cut, family: Family) -> tuple[Cell, ...]:
        ink = self.colours.color("ink")
        marked = self.colours.color("bad") if cut.note else ink
        clamps = commas([show(c, "run", family) for c in cut.clamps_m]) or tr("no clamp")
        return (
            Cell(cut.name, colour=ink),
            Cell(f"-{cut.dash}", colour=ink),
            Cell(show(cut.route_m, "run", family), colour=ink),
            Cell(" + ".join(show(t, "mm", family, with_unit=False) for t in cut.takeoffs_m), colour=ink),
            Cell(show(cut.move_m, "run", family), colour=ink),
            Cell(_cut_text(cut, family), colour=marked),
            Cell(cut.note or clamps, colour=marked),
            Cell(show(cut.sleeve_m, "run", family) if cut.sleeve_m else "–", colour=ink),
        )

    def template(self) -> EntryTemplate | None:
        """The chosen turbo's template."""
        return entry_template(self.session.plan, self.session.evaluation.index)

    def refresh(self) -> None:
        """Fill the list, redraw the template."""
        family = self.session.family
        rows = cuts(self.session.plan)
        self.table.fill([self._cells(cut, family) for cut in rows])
        self.table.setFixedHeight(min(38 + 27 * max(len(rows), 1), 210))
        made = self.template()
        self.print_button.setEnabled(made is not None)
        self.words.setText("" if made is None else self._how(made))
        self.canvas.setAccessibleDescription(self.headline())
        self.canvas.update()

    def _how(self, made: EntryTemplate) -> str:
        held = (
            ""
            if made.threads > 1e6
            else tr(" The wall holds {threads:.1f} threads.").format(threads=made.threads)
        )
        return tr(
            "{upper}{tool}. Leave {stop} of drill bare beyond the stop; keep {behind} clear behind the wall.{held} Cut length = route, rounded at the bends, less both hose ends, plus room to move. Cut the hose long when in doubt; a hose cut short is scrap."
        ).format(
            upper=made.tool[:1].upper(),
            tool=made.tool[1:],
            stop=show(made.stop_m, "mm", self.session.family),
            behind=show(made.behind_m, "mm", self.session.family),
            held=held,
        )

    def save_template(self) -> None:
        """Write the template as a PDF page at true scale."""
        made = self.template()
        if made is None:
            return
        name, _ = QFileDialog.getSaveFileName(
            self, tr("Save the template"), str(home() / "entry template.pdf"), "*.pdf"
        )
        if not name:
            return
        from gravidon.sheet.paper import paper_named
        from gravidon.sheet.workshop import write_template

        path = Path(name) if Path(name).suffix else Path(name).with_suffix(".pdf")
        try:
            write_template(made, path, paper_named(self.session.paper))
        except GravidonError as error:
            self.session.refused.emit(str(error))
            return
        self.session.told.emit(tr("Template written to {name}.").format(name=path.name))

    def save_dxf(self, subject: Subject, _checked: bool = False) -> None:
        """Write a drawing for the workshop at true scale."""
        name, _ = QFileDialog.getSaveFileName(
            self, tr("Save the drawing"), str(home() / f"{subject}.dxf"), "*.dxf"
        )
        if not name:
            return
        from gravidon.sheet.dxf import write_dxf

        path = Path(name) if Path(name).suffix else Path(name).with_suffix(".dxf")
        try:
            write_dxf(self.session.plan, self.session.evaluation.index, subject, path)
        except GravidonError as error:
            self.session.refused.emit(str(error))
            return
        self.session.told.emit(
            tr("Drawing written to {name}: millimetres, true scale; red is cut.").format(name=path.name)
        )


def _cut_text(cut: Cut, family: Family) -> str:
    return show(cut.cut_m, "mm", family)
