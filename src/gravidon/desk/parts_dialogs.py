# SPDX-License-Identifier: GPL-3.0-or-later
"""The drawer, and a chain from any port to any other."""

from __future__ import annotations

from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QLabel,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.box import Box
from gravidon.desk.session import Session
from gravidon.desk.table import Cell, Table
from gravidon.errors import GravidonError
from gravidon.parts.catalogue import Part
from gravidon.parts.chains import Wish, find_chains, why_first
from gravidon.parts.dash import HOSE_BORE_IN
from gravidon.parts.ends import ON_HOSE, End, mates
from gravidon.plan import units
from gravidon.plan.model import OnHand
from gravidon.study.making.parts_list import by_length
from gravidon.study.solve.as_bought import shelf
from gravidon.translate import number
from gravidon.words.text import N_, tr

MOST_SHOWN = 150
BY = {N_("fewest joints"): "joints", N_("least price"): "price", N_("least height"): "height"}


class DrawerDialog(QDialog):
    """What is on hand, of anything in the catalogue: kits, leftovers."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setWindowTitle(tr("The drawer"))
        self.resize(640, 520)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 16, 20, 14)
        words = QLabel(
            tr("Type how many are on hand; metres for hose and sleeve. Chains prefer what is here.")
        )
        words.setWordWrap(True)
        column.addWidget(words)
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("Words of a part, such as -4 90"))
        self.line.setAccessibleName(tr("Search the catalogue"))
        self.line.textChanged.connect(lambda _: self.fill())
        column.addWidget(self.line)
        self.table = Table(tr("Parts"), [tr("part"), tr("on hand"), tr("price")])
        self.table.typed.connect(self._typed)
        column.addWidget(self.table, 1)
        self.problem = QLabel()
        self.problem.setWordWrap(True)
        column.addWidget(self.problem)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.shown: list[Part] = []
        self.fill()

    def fill(self) -> None:
        """Show what matches; what is on hand comes first."""
        held = {item.part: item.count for item in self.session.plan.drawer}
        words = self.line.text().lower().split()
        found = [
            p
            for p in shelf(self.session.plan).values()
            if all(w in f"{p.name} {p.kind}".lower() for w in words)
        ]
        found.sort(key=lambda p: (p.id not in held, p.kind, p.name))
        self.shown = found[:MOST_SHOWN]
        self.problem.setText(
            ""
            if len(found) <= MOST_SHOWN
            else tr("{more} more: type more words.").format(more=len(found) - MOST_SHOWN)
        )
        self.table.fill(
            [
                (
                    part.name,
                    Cell(
                        f"{number(held.get(part.id, 0.0), 'g')}{' m' if by_length(part) else ''}",
                        editable=True,
                    ),
                    number(part.price, ".2f"),
                )
                for part in self.shown
            ]
        )

    def _typed(self, row: int, column: int, text: str) -> None:
        problem = put_on_hand(self.session, self.shown[row], text)
        if problem:
            self.fill()
        self.problem.setText(problem)


def put_on_hand(session: Session, part: Part, text: str) -> str:
    """Take a typed count into the drawer; return what is wrong with it, or nothing."""
    try:
        count = float(text.replace("m", "").replace(",", ".").strip() or "0")
        if not 0 <= count <= 10000:
            raise ValueError(text)
    except ValueError:
        return tr("On hand: '{text}' cannot be used; expected a number from 0 to 10000").format(text=text)
    drawer = tuple(d for d in session.plan.drawer if d.part != part.id)
    if count > 0:
        drawer = (*drawer, OnHand(part=part.id, count=count))
    session.edit("drawer", drawer, tr("on hand: {name}").format(name=part.name))
    return ""


class ChainDialog(QDialog):
    """From this port to that one, with this hose and at least this bore."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setWindowTitle(tr("Find a chain"))
        self.resize(820, 440)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 16, 20, 14)
        form = QFormLayout()
        self.ports = _ports(session)
        self.start, self.goal = Box(), Box()
        for box, name, first in (
            (self.start, tr("From"), "1/8 NPT, female"),
            (self.goal, tr("To"), "M12x1.5, female"),
        ):
            box.addItems(list(self.ports))
            box.setCurrentText(first)
            box.setMaxVisibleItems(18)
            form.addRow(name, box)
        self.dash = Box()
        self.dash.addItems([tr("no hose"), *(f"-{d}" for d in HOSE_BORE_IN)])
        self.dash.setCurrentText("-4")
        form.addRow(tr("With a hose of"), self.dash)
        self.bore = QLineEdit(units.show(3e-3, "bore", session.family))
        form.addRow(tr("Bore of at least"), self.bore)
        self.by = Box()
        self.by.offer(BY)
        form.addRow(tr("Preferring"), self.by)
        column.addLayout(form)
        self.table = Table(
            tr("Chains found"),
            [tr("joints"), tr("bore"), tr("height"), tr("price"), tr("parts in order")],
            left=(4,),
            wide=4,
            wrap=True,
        )
        column.addWidget(self.table, 1)
        self.words = QLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        for combo in (self.start, self.goal, self.dash, self.by):
            combo.currentTextChanged.connect(lambda _: self.look())
        self.bore.textChanged.connect(lambda _: self.look())
        self.look()

    def look(self) -> None:
        """Search again."""
        family = self.session.family
        self.table.fill([])
        try:
            least = units.parse(self.bore.text(), "bore", "Bore", units.display_unit("bore", family))
        except GravidonError as error:
            self.words.setText(" ".join(str(error).split()))
            return
        dash = None if self.dash.currentIndex() == 0 else int(self.dash.currentText().removeprefix("-"))
        held = frozenset(item.part for item in self.session.plan.drawer if item.count > 0)
        wish = Wish(dash, least * 1e3, drawer=held, by=BY[self.by.chosen])
        found = find_chains(
            tuple(shelf(self.session.plan).values()),
            self.ports[self.start.currentText()],
            self.ports[self.goal.currentText()],
            wish,
        )
        self.words.setText(
            _sentence(why_first(found, wish))
            if found
            else tr(
                "No chain of catalogue parts does this: another dash, a smaller bore, or a part of your own."
            )
        )
        self.table.fill(
            [
                (
                    str(chain.joints),
                    units.show(chain.bore_mm * 1e-3, "bore", family),
                    units.show(sum(p.stack_mm for p in chain.parts) * 1e-3, "mm", family),
                    number(sum(p.price for p in chain.parts), ".2f"),
                    "; ".join(p.name for p in chain.parts),
                )
                for chain in found
            ]
        )


def _sentence(words: str) -> str:
    return f"{words[:1].upper()}{words[1:]}." if words else ""


def _ports(session: Session) -> dict[str, End]:
    """Return every port that some part of the shelf mates with, by its words."""
    found = {
        m for p in shelf(session.plan).values() for e in p.ends for m in mates(e) if m.kind not in ON_HOSE
    }
    return {e.text: e for e in sorted(found)}
