# SPDX-License-Identifier: GPL-3.0-or-later
"""The one table of the window: rows of cells in, a typed cell out; columns are measured once a filling."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from gravidon.desk.session import Session
from gravidon.plan import paths, units
from gravidon.words.text import tr


@dataclass(frozen=True)
class Cell:
    """One cell: text, whether it can be typed over, its colour (None: the table's), and what hovering tells."""

    text: str
    editable: bool = False
    colour: QColor | None = None
    tip: str = ""


class Table(QTableWidget):
    """A table by its headings; `left` are the columns that hold words, one of which (`wide`) takes the room left."""

    typed = pyqtSignal(int, int, str)
    """Row, column and text of a cell that the user typed over."""

    def __init__(
        self,
        name: str,
        heads: Sequence[str],
        left: Iterable[int] = (0,),
        wide: int | None = 0,
        row_height: int = 26,
        wrap: bool = False,
    ) -> None:
        super().__init__(0, len(heads))
        self.left, self.wide, self.wrap = frozenset(left), wide, wrap
        self.setAccessibleName(name)
        self.setHorizontalHeaderLabels(list(heads))
        self.setShowGrid(False)
        self.setAlternatingRowColors(True)
        self.setWordWrap(wrap)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setTabKeyNavigation(False)  # Tab leaves; within a cell that is typed in it goes on to the next
        rows, columns = self.verticalHeader(), self.horizontalHeader()
        if rows is not None:
            rows.hide()
            rows.setDefaultSectionSize(row_height)
        if columns is not None and wide is not None:
            columns.setSectionResizeMode(wide, QHeaderView.ResizeMode.Stretch)
        self.itemChanged.connect(lambda item: self.typed.emit(item.row(), item.column(), item.text()))

    def fill(self, rows: Sequence[Sequence[Cell | str]]) -> None:
        """Show rows of cells; a bare text is a cell that cannot be typed over."""
        self.blockSignals(True)
        self.setUpdatesEnabled(False)
        self.setRowCount(len(rows))
        plain = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        for r, row in enumerate(rows):
            for c, given in enumerate(row):
                cell = Cell(given) if isinstance(given, str) else given
                item = self.item(r, c) or QTableWidgetItem()
                item.setText(cell.text)
                item.setFlags(plain | Qt.ItemFlag.ItemIsEditable if cell.editable else plain)
                side = Qt.AlignmentFlag.AlignLeft if c in self.left else Qt.AlignmentFlag.AlignRight
                item.setTextAlignment(int(side | Qt.AlignmentFlag.AlignVCenter))
                item.setToolTip(cell.tip)
                item.setData(
                    Qt.ItemDataRole.ForegroundRole, None if cell.colour is None else QBrush(cell.colour)
                )
                if item.tableWidget() is None:
                    self.setItem(r, c, item)
        for column in range(self.columnCount()):
            if column != self.wide:
                self.resizeColumnToContents(column)
        if self.wrap:
            self.resizeRowsToContents()
        self.setUpdatesEnabled(True)
        self.blockSignals(False)


def shown(session: Session, model: Any, field: str) -> str:
    """Return a field of a part of the plan as its cell shows it: with its unit, or its words."""
    value = getattr(model, field)
    if isinstance(value, str):
        return value
    kind = paths.spec_at(model, field).kind
    return units.show(units.file_to_si(value, kind), kind, session.family)


def typed_value(session: Session, path: str, text: str) -> object:
    """Return what was typed for a plan path as the plan holds it: a number in the file's unit, or words.

    Raises: GravidonError naming the field if it is neither.
    """
    try:
        spec = paths.spec_at(session.plan, path)
    except KeyError:
        return text.strip()
    default = units.display_unit(spec.kind, session.family)
    return units.si_to_file(units.parse(text, spec.kind, tr(spec.label), default), spec.kind)
