# SPDX-License-Identifier: GPL-3.0-or-later
"""The parts: every line joint by joint, the drawer, and what is still to be ordered."""

from __future__ import annotations

import math
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QMenu,
    QScrollArea,
    QToolButton,
)

from gravidon.desk.box import Box
from gravidon.desk.canvas import Canvas
from gravidon.desk.identify_dialog import IdentifyDialog
from gravidon.desk.parts_dialogs import BY, ChainDialog, DrawerDialog, put_on_hand
from gravidon.desk.preferences import home
from gravidon.desk.stations.base import Station
from gravidon.desk.table import Cell, Table
from gravidon.draw import chain_chart
from gravidon.draw.ink import Ink
from gravidon.errors import GravidonError
from gravidon.parts.catalogue import parts_from_csv, parts_to_csv
from gravidon.parts.ends import End
from gravidon.plan.drive_log import read_text
from gravidon.plan.model import OwnPart
from gravidon.plan.texts import for_spreadsheet
from gravidon.study.making.cutting import order_list
from gravidon.study.making.order import order_csv
from gravidon.study.making.parts_list import LineRun, Need, by_length, runs
from gravidon.study.solve.as_bought import own_parts
from gravidon.translate import number
from gravidon.words.text import N_, tr

INLETS = {
    N_("inlet flange, two bolts 24 mm apart"): "flange|inlet two-bolt 24 mm|",
    N_("1/8 NPT in the housing"): "NPT|1/8|female",
    N_("M10x1.0 in the housing"): "metric|M10x1.0|female",
    N_("M12x1.5 in the housing"): "metric|M12x1.5|female",
    "-4 flare": "37 flare|-4|male",
}
OUTLETS = {
    N_("drain flange small two-bolt 38 mm"): "flange|small two-bolt 38 mm|",
    N_("drain flange medium two-bolt 44 mm"): "flange|medium two-bolt 44 mm|",
    N_("drain flange large two-bolt 52 mm"): "flange|large two-bolt 52 mm|",
}
HEADS = (tr("part"), tr("needed"), tr("spare"), tr("on hand"), tr("to order"), tr("cost"), tr("for"))
ON_HAND = 3


class ChainCanvas(Canvas):
    """All lines; a click on a joint tells about it, left and right walk the joints."""

    station: PartsStation
    chosen: tuple[int, int] | None = None

    def paint(self, painter: QPainter) -> None:
        """Draw the lines."""
        chain_chart.paint(Ink(painter, self.station.colours), self.area, self.station.runs, self.chosen)

    def clicked(self, at: QPointF) -> None:
        """Choose a joint, or its line."""
        for row, run in enumerate(self.station.runs):
            for k, spot in enumerate(chain_chart.joint_spots(self.area, run, row)):
                if run.joints and (spot - at).manhattanLength() < 22:
                    self.choose(row, k)
                    return
        row = min(int(at.y() // chain_chart.ROW), len(self.station.runs) - 1)
        self.choose(row, self.chosen[1] if self.chosen and self.chosen[0] == row else 0)

    def choose(self, row: int, joint: int) -> None:
        """Show one joint."""
        count = len(self.station.runs[row].joints)
        self.chosen = (row, min(max(joint, 0), max(count - 1, 0)))
        self.station.tell()
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows walk joints and lines."""
        if event is None or not self.station.runs:
            return
        row, k = self.chosen or (0, 0)
        moves = {
            Qt.Key.Key_Left: (0, -1),
            Qt.Key.Key_Right: (0, 1),
            Qt.Key.Key_Up: (-1, 0),
            Qt.Key.Key_Down: (1, 0),
        }
        move = moves.get(Qt.Key(event.key()))
        if move is None:
            super().keyPressEvent(event)
            return
        self.choose(min(max(row + move[0], 0), len(self.station.runs) - 1), k + move[1])


class PartsStation(Station):
    """See that every joint seals and every piece is on the list."""

    key = "parts"
    scopes = ("plan", "drawer")
    question = tr(
        "Does every joint seal, and what is still missing? Click a joint; type what is in the drawer into the list."
    )
    shows_condition = False
    runs: tuple[LineRun, ...] = ()

    def build(self) -> None:
        """Choices, the lines, the words about a joint, the list."""
        self._choices()
        self.canvas = ChainCanvas(self, tr("Lines of parts, joint by joint"), (500, 150))
        self.lines = QScrollArea()
        self.lines.setObjectName("fields")
        self.lines.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.lines.setWidgetResizable(True)
        self.lines.setWidget(self.canvas)
        self.lines.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.lines.setMinimumWidth(520)
        self.column.addWidget(self.lines, 3)
        row = QHBoxLayout()
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setMinimumHeight(52)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        row.addWidget(self.words, 1)
        self.others = QToolButton()
        self.others.setText(tr("Other chains ▾"))
        self.others.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.menu = QMenu(self.others)
        self.menu.aboutToShow.connect(self._fill_menu)
        self.others.setMenu(self.menu)
        row.addWidget(self.others, 0, Qt.AlignmentFlag.AlignTop)
        self.column.addLayout(row)
        self._list()

    def _choices(self) -> None:
        bar = QHBoxLayout()
        bar.setSpacing(6)
        self.by = self._choice(list(BY), tr("Chains by"))
        self.by.textActivated.connect(lambda _: self.refresh())
        self.inlet = self._choice(list(INLETS), tr("Oil inlet of the turbo"))
        self.inlet.textActivated.connect(
            lambda w: self.session.edit(
                "line.parts.inlet", INLETS[self.inlet.meaning(w)], tr("oil inlet of the turbo")
            )
        )
        self.outlet = self._choice(list(OUTLETS), tr("Drain flange of the turbo"))
        self.outlet.textActivated.connect(
            lambda w: self.session.edit(
                "line.parts.outlet", OUTLETS[self.outlet.meaning(w)], tr("drain flange of the turbo")
            )
        )
        for widget in (self.by, self.inlet, self.outlet):
            bar.addWidget(widget, 1)
        bar.addWidget(
            self._menu(
                tr("Look up"),
                ((tr("Identify a port …"), self.identify), (tr("Find a chain …"), self.find_chain)),
            )
        )
        drawer = QToolButton()
        drawer.setText(tr("Drawer …"))
        drawer.clicked.connect(lambda _=False: self.open_drawer())
        bar.addWidget(drawer)
        self.column.addLayout(bar)

    def _list(self) -> None:
        self.table = Table(tr("Order list"), HEADS, left=(0, len(HEADS) - 1), row_height=24)
        self.table.typed.connect(self._typed)
        self.column.addWidget(self.table, 2)
        foot = QHBoxLayout()
        self.total = QLabel()
        self.total.setWordWrap(True)
        self.total.setProperty("role", "faint")
        foot.addWidget(self.total, 1)
        save = QToolButton()
        save.setText(tr("Save the order list …"))
        save.clicked.connect(lambda _=False: self.save_order())
        foot.addWidget(save)
        foot.addWidget(
            self._menu(
                tr("Own parts"), ((tr("Import …"), self.import_own), (tr("Export …"), self.export_own))
            )
        )
        self.column.addLayout(foot)

    def _menu(self, words: str, entries: tuple[tuple[str, Callable[[], None]], ...]) -> QToolButton:
        button = QToolButton()
        button.setText(f"{words} ▾")
        menu = QMenu(button)
        for text, action in entries:
            made = menu.addAction(text)
            if made is not None:
                made.triggered.connect(lambda _=False, a=action: a())
        button.setMenu(menu)
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        return button

    def _choice(self, options: list[str], name: str) -> Box:
        box = Box()
        box.offer(options)
        box.setAccessibleName(name)
        box.setToolTip(name)
        box.setMinimumContentsLength(8)
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        return box

    def refresh(self) -> None:
        """Find the chains, draw them, fill the list."""
        s = self.session
        self.runs = runs(s.plan, BY[self.by.chosen])
        for box, table, code in (
            (self.inlet, INLETS, s.line.parts.inlet),
            (self.outlet, OUTLETS, s.line.parts.outlet),
        ):
            words = next((w for w, c in table.items() if c == code), code)
            if box.findData(words) < 0:
                box.offer([words])
            box.choose(words)
        if self.canvas.chosen is None or self.canvas.chosen[0] >= len(self.runs):
            bad = [(r, run.joints.index(run.bad[0])) for r, run in enumerate(self.runs) if run.bad]
            self.canvas.chosen = bad[0] if bad else (0, 0)
        self.canvas.setFixedHeight(chain_chart.height_of(self.runs))
        self.canvas.setAccessibleDescription(self.headline())
        self.tell()
        self._fill_table()
        self.canvas.update()

    def tell(self) -> None:
        """Say what becomes of the chosen joint."""
        row, k = self.canvas.chosen or (0, 0)
        run = self.runs[min(row, len(self.runs) - 1)]
        self.others.setEnabled(run.key in ("feed", "drain") and bool(run.others))
        if not run.joints:
            self.words.setText(f"{run.name}: {run.missing}.")
            return
        j = run.joints[min(k, len(run.joints) - 1)]
        text = tr("{name}, joint {number}: {one} to {other}. ").format(
            name=run.name, number=min(k, len(run.joints) - 1) + 1, one=_name(j.one), other=_name(j.other)
        )
        if j.fit.outcome == "seals":
            text += tr(
                "Seals. Sealed by {seal}. Tighten: {tighten} (the maker's figure comes first)."
            ).format(seal=j.fit.seal, tighten=j.tighten)
        else:
            text += f"{tr('Leaks') if j.fit.outcome == 'leaks' else tr('Does not fit')}: {j.fit.why}."
        self.words.setText(text)

    def _fill_menu(self) -> None:
        self.menu.clear()
        row, _ = self.canvas.chosen or (0, 0)
        run = self.runs[row]
        path = f"turbos.{run.turbo}.parts.{run.key}"
        first = self.menu.addAction(tr("The shortest chain, found anew with every change"))
        if first is not None:
            first.triggered.connect(
                lambda _=False: self.session.edit(
                    path, (), tr("{name}: shortest chain").format(name=run.name)
                )
            )
        for chain in run.others:
            ids = tuple(link.part.id for link in chain.links)
            price = sum(link.part.price for link in chain.links)
            action = self.menu.addAction(
                f"{' > '.join(link.part.name for link in chain.links)}  ({price:.0f})"
            )
            if action is not None:
                action.triggered.connect(
                    lambda _=False, i=ids: self.session.edit(
                        path, i, tr("{name}: parts chosen").format(name=run.name)
                    )
                )

    def needs(self) -> tuple[Need, ...]:
        """The list as it is."""
        return order_list(self.session.plan)

    def _fill_table(self) -> None:
        rows = self.needs()
        self.table.fill([self._cells(need) for need in rows])
        order = [n for n in rows if n.to_order]
        cost = sum(n.cost for n in order)
        self.total.setText(
            tr(
                "{order} of {rows} kinds to order, {cost:.2f} in your currency (invented prices; import your own)"
            ).format(order=len(order), rows=len(rows), cost=cost)
        )

    def _cells(self, need: Need) -> tuple[Cell, ...]:
        unit = " m" if by_length(need.part) else ""
        count = number(need.count, ".2f") if by_length(need.part) else f"{_whole(need.count)}"
        ink = self.colours.color("ink")
        faded = ink if need.to_order else self.colours.color("faint")
        return (
            Cell(need.part.name, colour=ink, tip=f"{need.part.name}: {need.part.material}"),
            Cell(f"{count}{unit}", colour=faded),
            Cell(f"{need.spare:.0f}" if need.spare else "", colour=faded),
            Cell(
                f"{number(need.on_hand, 'g')}{unit}",
                editable=True,
                colour=faded,
                tip=tr("Type what is in the drawer"),
            ),
            Cell(f"{number(need.to_order, 'g')}{unit}" if need.to_order else "–", colour=faded),
            Cell(number(need.cost, ".2f") if need.to_order else "", colour=faded),
            Cell(need.why, colour=faded),
        )

    def _typed(self, row: int, column: int, text: str) -> None:
        """Take what is in the drawer."""
        problem = put_on_hand(self.session, self.needs()[row].part, text)
        if problem:
            self.session.refused.emit(problem)
            self._fill_table()

    def identify(self) -> None:
        """Find out which thread a port has."""
        self._open(IdentifyDialog(self.session, self))

    def _open(self, dialog: QDialog) -> None:
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.open()

    def find_chain(self) -> None:
        """Search a chain between any two ports."""
        self._open(ChainDialog(self.session, self))

    def open_drawer(self) -> None:
        """Say what is on hand, of anything."""
        self._open(DrawerDialog(self.session, self))

    def save_order(self) -> None:
        """Write the order list as CSV."""
        name, _ = QFileDialog.getSaveFileName(
            self, tr("Save the order list"), str(home() / "order list.csv"), "*.csv"
        )
        if name:
            self._write(Path(name), order_csv(self.needs()))

    def export_own(self) -> None:
        """Write the user's own parts; without any, the heading to fill in."""
        name, _ = QFileDialog.getSaveFileName(
            self, tr("Save my own parts"), str(home() / "my parts.csv"), "*.csv"
        )
        if name:
            self._write(Path(name), parts_to_csv(own_parts(self.session.plan)))

    def _write(self, path: Path, text: str) -> None:
        path = path if path.suffix else path.with_suffix(".csv")
        try:
            path.write_bytes(for_spreadsheet(text))
        except OSError as error:
            self.session.refused.emit(
                tr("{name} cannot be written: {why}").format(name=path.name, why=error.strerror)
            )
            return
        self.session.told.emit(tr("Written to {name}.").format(name=path.name))

    def import_own(self) -> None:
        """Read parts and prices of the user's own from a CSV."""
        name, _ = QFileDialog.getOpenFileName(self, tr("Read my own parts"), str(home()), "*.csv")
        if not name:
            return
        try:
            parts = parts_from_csv(read_text(Path(name)), Path(name).name)
            new = tuple(OwnPart(**{**p.__dict__, "ends": tuple(e.code for e in p.ends)}) for p in parts)
        except (GravidonError, ValueError) as error:
            self.session.refused.emit(" ".join(str(error).split()))
            return
        kept = tuple(p for p in self.session.plan.own_parts if p.id not in {n.id for n in new})
        if self.session.edit("own_parts", (*kept, *new), tr("own parts")):
            self.session.told.emit(
                tr("{new} parts read from {name}.").format(new=len(new), name=Path(name).name)
            )


def _whole(count: float) -> int:
    """Return a count in pieces: part of a tube of sealant is a tube."""
    return math.ceil(count - 1e-6)


def _name(end: End) -> str:
    return end.text
