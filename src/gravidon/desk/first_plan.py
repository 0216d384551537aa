# SPDX-License-Identifier: GPL-3.0-or-later
"""From nothing to a plan: what the builder knows, step by step, each skippable, the car growing beside it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QFormLayout,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QListWidget,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.box import Box
from gravidon.desk.table import Cell, Table
from gravidon.desk.there import there
from gravidon.desk.way_picture import WayPicture
from gravidon.errors import GravidonError, InputError
from gravidon.parts.catalogue import Part, with_own
from gravidon.parts.oils import grades
from gravidon.parts.turbos import BEARINGS, HOUSINGS
from gravidon.plan import units
from gravidon.plan.model import Plan
from gravidon.plan.starter import Answers, ThingInTheWay, new_plan
from gravidon.plan.things import THINGS
from gravidon.study.planning.freedom import WONTS, with_wont
from gravidon.words.text import tr


@dataclass(frozen=True)
class Tape:
    """A length that a builder measures: its name in the answers, words, kind of unit, least and most in the file's unit."""

    name: str
    words: str
    kind: str
    low: float
    high: float


WHERE = (
    Tape("over_rail_mm", tr("Drain flange over the pan's rail"), "run", -300, 1500),
    Tape("out_mm", tr("Flange out from the pan's wall"), "run", -300, 1500),
    Tape("back_mm", tr("Flange back from the pan's front"), "run", -1000, 3000),
    Tape("feed_mm", tr("Tap to oil inlet, along the hose's way"), "run", 50, 8000),
)
PAN = (
    Tape("pan_long_mm", tr("Length, front to back"), "run", 50, 2000),
    Tape("pan_wide_mm", tr("Width"), "run", 50, 1500),
    Tape("pan_deep_mm", tr("Depth under the rail"), "run", 20, 600),
    Tape("fill_l", tr("Oil fill"), "l", 0.3, 60),
    Tape("wall_mm", tr("Thickness of its wall"), "mm", 0.5, 30),
)
KIND_WORDS = {k: t.words for k, t in THINGS.items() if not t.inside}
THING_HEADS = (tr("thing"), tr("kind"), tr("out"), tr("over rail"), tr("thick"), tr("high"))
THING_ROWS = 3


class FirstPlan(QDialog):
    """Seven questions; an answer that is left out stays a guess. `plan` is what they make."""

    def __init__(self, family: units.Family, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Start a plan: what do you know?"))
        self.resize(1040, 560)
        self.family = family
        self.plan: Plan | None = None
        self.owned: list[Part] = []
        self._hits: list[Part] = []
        self.tapes: dict[str, tuple[Tape, QLineEdit]] = {}
        self.soon = QTimer(self)
        self.soon.setSingleShot(True)
        self.soon.setInterval(250)
        self.soon.timeout.connect(self._preview)
        row = QHBoxLayout(self)
        row.setContentsMargins(22, 18, 22, 14)
        row.setSpacing(18)
        left = QVBoxLayout()
        left.setSpacing(8)
        self.heading = QLabel()
        self.heading.setProperty("role", "title")
        left.addWidget(self.heading)
        self.told = QLabel()
        self.told.setProperty("role", "faint")
        self.told.setWordWrap(True)
        self.told.setMinimumHeight(36)
        left.addWidget(self.told)
        self.pages = QStackedWidget()
        self.titles: list[tuple[str, str]] = []
        for make in (
            self._engine,
            self._turbo,
            self._place,
            self._pan,
            self._in_the_way,
            self._own,
            self._wont,
        ):
            self.pages.addWidget(make())
        left.addWidget(self.pages, 1)
        self.problem = QLabel()
        self.problem.setWordWrap(True)
        left.addWidget(self.problem)
        left.addLayout(self._buttons())
        holder = QWidget()
        holder.setLayout(left)
        holder.setFixedWidth(440)
        row.addWidget(holder)
        self.picture = WayPicture(new_plan("first", Answers()), family, (480, 380))
        row.addWidget(self.picture, 1)
        self.show_page(0)

    # --- the questions -------------------------------------------------------------------------

    def _page(self, title: str, told: str) -> tuple[QWidget, QFormLayout]:
        self.titles.append((title, told))
        page = QWidget()
        form = QFormLayout(page)
        form.setContentsMargins(0, 4, 0, 0)
        form.setRowWrapPolicy(QFormLayout.RowWrapPolicy.DontWrapRows)
        return page, form

    def _line(self, text: str = "", hint: str = "") -> QLineEdit:
        field = QLineEdit(text)
        field.setPlaceholderText(hint)
        field.textChanged.connect(lambda _: self.soon.start())
        field.editingFinished.connect(self._echo)
        return field

    def _box(self, options: list[str], now: str = "") -> Box:
        box = Box()
        box.offer(options)
        if now:
            box.choose(now)
        box.currentTextChanged.connect(lambda _: self.soon.start())
        return box

    def _engine(self) -> QWidget:
        page, form = self._page(
            tr("Oil and gauge"), tr("Two readings with the oil hot say what the pump gives.")
        )
        start = Answers()
        self.name = QLineEdit(tr("My plan"))
        form.addRow(tr("Name of the plan"), self.name)
        self.grade = self._box(list(grades()), "10W-40")
        form.addRow(tr("Oil"), self.grade)
        self.no_gauge = QCheckBox(tr("No gauge yet: take usual figures"))
        self.no_gauge.toggled.connect(lambda _: self.soon.start())
        form.addRow("", self.no_gauge)
        self.idle = self._line(units.show(start.idle_kpa * 1e3, "kpa", self.family))
        self.speed = self._line(units.show(start.speed_kpa * 1e3, "kpa", self.family))
        self.rpm = self._line(units.show(start.speed_rpm / 60.0, "rpm", self.family))
        form.addRow(tr("Gauge, hot idle"), self.idle)
        form.addRow(tr("Gauge, hot and fast"), self.speed)
        form.addRow(tr("read at"), self.rpm)
        return page

    def _turbo(self) -> QWidget:
        page, form = self._page(
            tr("Turbo"), tr("Its bearing says how much oil it wants, its size how much it passes.")
        )
        self.bearing = self._box(list(BEARINGS))
        self.frame = self._box(list(HOUSINGS), "medium")
        self.side = self._box(["right", "left"])
        form.addRow(tr("Bearing"), self.bearing)
        form.addRow(tr("Size"), self.frame)
        form.addRow(tr("Side of the engine"), self.side)
        return page

    def _tapes(self, form: QFormLayout, tapes: tuple[Tape, ...]) -> None:
        for tape in tapes:
            field = self._line(hint=tr("not measured"))
            self.tapes[tape.name] = tape, field
            form.addRow(tape.words, field)

    def _place(self) -> QWidget:
        page, form = self._page(
            tr("Where it sits"),
            tr("Four measurements with a tape, against the pan; leave out what you cannot reach."),
        )
        self._tapes(form, WHERE)
        return page

    def _pan(self) -> QWidget:
        page, form = self._page(
            tr("Pan"), tr("As one box. A second one, baffles and the pickup can be added later.")
        )
        self._tapes(form, PAN)
        self.metal = self._box(["steel", "aluminium"])
        form.addRow(tr("Metal"), self.metal)
        return page

    def _in_the_way(self) -> QWidget:
        page, form = self._page(
            tr("What is in the way"),
            tr(
                "On the turbo's side, each a bar along the pan: how far out its near side is, its lowest point, its size."
            ),
        )
        self.things = Table(tr("Things in the way"), THING_HEADS, left=(0, 1), wide=0)
        self.things.fill([[Cell("", True)] * len(THING_HEADS)] * THING_ROWS)
        header = there(self.things.horizontalHeader())
        header.setSectionResizeMode(1, QHeaderView.ResizeMode.Fixed)
        self.things.setColumnWidth(1, 112)
        self.kinds: list[Box] = []
        for n in range(THING_ROWS):
            box = Box()
            box.setAccessibleName(tr("Kind of thing {number}").format(number=n + 1))
            box.offer(KIND_WORDS.values())
            box.choose(KIND_WORDS["solid"])
            box.currentTextChanged.connect(lambda _: self.soon.start())
            self.things.setCellWidget(n, 1, box)
            self.kinds.append(box)
        self.things.typed.connect(lambda *_: self.soon.start())
        form.addRow(self.things)
        return page

    def _own(self) -> QWidget:
        page, form = self._page(
            tr("What you own"),
            tr("Words of a part, such as -4 90; Return adds the one in sight. Plans prefer what is here."),
        )
        self.part_line = QLineEdit()
        self.part_line.setAccessibleName(tr("Words of a part"))
        self.part_line.textChanged.connect(self._find_parts)
        self.part_line.returnPressed.connect(lambda: self._add_part(0))
        self.found = QListWidget()
        self.found.setAccessibleName(tr("Parts found"))
        self.found.itemActivated.connect(lambda item: self._add_part(self.found.row(item)))
        self.found.itemClicked.connect(lambda item: self._add_part(self.found.row(item)))
        self.found.setMaximumHeight(110)
        self.have = QListWidget()
        self.have.setAccessibleName(tr("In the drawer; double-click takes one out"))
        self.have.itemDoubleClicked.connect(lambda item: self._drop_part(self.have.row(item)))
        form.addRow(self.part_line)
        form.addRow(self.found)
        form.addRow(QLabel(tr("In the drawer")))
        form.addRow(self.have)
        return page

    def _wont(self) -> QWidget:
        page, form = self._page(
            tr("What you won't do"), tr("The planner keeps to it; every one can be changed later.")
        )
        self.wonts = []
        for wont in WONTS:
            box = QCheckBox(tr(wont.words))
            form.addRow(box)
            self.wonts.append((wont, box))
        return page

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.back_button = QPushButton(tr("Back"))
        self.back_button.clicked.connect(lambda: self.show_page(self.pages.currentIndex() - 1))
        self.cancel_button = QPushButton(tr("Cancel"))
        self.cancel_button.clicked.connect(self.reject)
        self.now_button = QPushButton(tr("Plan now"))
        self.now_button.setToolTip(tr("Leave the rest to guesses"))
        self.now_button.clicked.connect(self._make)
        self.next_button = QPushButton(tr("Next"))
        self.next_button.setProperty("role", "main")
        self.next_button.setDefault(True)
        self.next_button.clicked.connect(self.next)
        for widget in (self.cancel_button, self.back_button):
            row.addWidget(widget)
        row.addStretch(1)
        for widget in (self.now_button, self.next_button):
            row.addWidget(widget)
        return row

    # --- going on ------------------------------------------------------------------------------

    def show_page(self, n: int) -> None:
        """Show one of the questions."""
        last = self.pages.count() - 1
        n = min(max(n, 0), last)
        self.pages.setCurrentIndex(n)
        title, told = self.titles[n]
        self.heading.setText(title)
        self.told.setText(tr("{number} of {count}. {told}").format(number=n + 1, count=last + 1, told=told))
        self.back_button.setEnabled(n > 0)
        self.now_button.setVisible(n < last)
        self.next_button.setText(tr("Make plans") if n == last else tr("Next"))
        page = self.pages.currentWidget()
        fields = page.findChildren(QLineEdit) if page is not None else []
        (fields[0] if fields else self.next_button).setFocus(Qt.FocusReason.TabFocusReason)

    def next(self) -> None:
        """Go on; with an answer that cannot be used, say so and stay. After the last question, make the plan."""
        if self.part_line.hasFocus():
            return  # Return adds a part there
        try:
            self._answers()
        except GravidonError as error:
            self.problem.setText(str(error))
            return
        self.problem.setText("")
        if self.pages.currentIndex() == self.pages.count() - 1:
            self._make()
        else:
            self.show_page(self.pages.currentIndex() + 1)

    def _number(self, text: str, kind: str, label: str, low: float, high: float) -> float:
        unit = units.display_unit(kind, self.family)
        value = units.si_to_file(units.parse(text, kind, label, unit), kind)
        if not low <= value <= high:
            symbol = units.KINDS[kind].file.symbol
            raise InputError(
                label, text, tr("{low:g} to {high:g} {symbol}").format(low=low, high=high, symbol=symbol)
            )
        return value

    def _answers(self) -> Answers:
        """Return the answers as they stand. Raises: GravidonError naming the field that cannot be used."""
        measured: dict[str, Any] = {
            name: self._number(field.text(), tape.kind, tape.words, tape.low, tape.high)
            for name, (tape, field) in self.tapes.items()
            if field.text().strip()
        }
        return Answers(
            grade=self.grade.chosen,
            bearing=self.bearing.chosen,
            frame=self.frame.chosen,
            idle_kpa=self._number(self.idle.text(), "kpa", tr("Gauge, hot idle"), 10, 1000),
            speed_kpa=self._number(self.speed.text(), "kpa", tr("Gauge, hot and fast"), 20, 1500),
            speed_rpm=self._number(self.rpm.text(), "rpm", tr("Engine speed of the reading"), 1000, 9000),
            side="left" if self.side.chosen == "left" else "right",
            gauge=not self.no_gauge.isChecked(),
            metal="aluminium" if self.metal.chosen == "aluminium" else "steel",
            things=tuple(t for n in range(THING_ROWS) if (t := self._thing(n)) is not None),
            owned=tuple(p.id for p in self.owned),
            **measured,
        )

    def _thing(self, n: int) -> ThingInTheWay | None:
        texts = [
            item.text().strip() if (item := self.things.item(n, c)) is not None else "" for c in range(6)
        ]
        if not any(texts[c] for c in (0, 2, 3, 4, 5)):
            return None
        label = texts[0] or tr("thing {number}").format(number=n + 1)
        kind = next(k for k, words in KIND_WORDS.items() if words == self.kinds[n].chosen)
        numbers = [
            self._number(texts[c] or usual, "run", f"{label}, {THING_HEADS[c]}", low, high)
            for c, usual, low, high in (
                (2, "60 mm", -500, 3000),
                (3, "0 mm", -600, 2000),
                (4, "25 mm", 2, 3000),
                (5, "25 mm", 2, 2000),
            )
        ]
        return ThingInTheWay(label[:80], kind, *numbers)

    def _planned(self, name: str) -> Plan:
        """Return the plan that the answers make. Raises: GravidonError naming what cannot be used."""
        try:
            plan = new_plan(name, self._answers())
        except ValueError as error:
            raise InputError("answers", name, "sizes that make a pan and a turbo beside it") from error
        for wont, box in self.wonts:
            if box.isChecked():
                plan = with_wont(plan, 0, wont, True)
        return plan

    def _preview(self) -> None:
        """Show how the plan fills, as far as the answers can be used."""
        try:
            self.picture.show_plan(self._planned("first"))
            self.problem.setText("")
        except GravidonError as error:
            self.problem.setText(str(error))

    def _echo(self) -> None:
        """Answer a number with its unit, so that it is seen how it was understood."""
        fields = [(self.idle, "kpa"), (self.speed, "kpa"), (self.rpm, "rpm")]
        fields += [(field, tape.kind) for tape, field in self.tapes.values() if field.text().strip()]
        for field, kind in fields:
            try:
                value = units.parse(field.text(), kind, "", units.display_unit(kind, self.family))
            except GravidonError:
                continue
            field.setText(units.show(value, kind, self.family))

    # --- the drawer ----------------------------------------------------------------------------

    def _find_parts(self, text: str) -> None:
        words = text.lower().split()
        self._hits = [
            p
            for p in with_own(()).values()
            if words and all(w in f"{p.name} {p.kind}".lower() for w in words)
        ]
        self._hits.sort(key=lambda p: len(p.name))
        self.found.clear()
        self.found.addItems([p.name for p in self._hits[:60]])

    def _add_part(self, n: int) -> None:
        if n < len(self._hits):
            self.owned.append(self._hits[n])
            self.have.addItem(self._hits[n].name)
            self.part_line.clear()
            self.soon.start()

    def _drop_part(self, n: int) -> None:
        if 0 <= n < len(self.owned):
            del self.owned[n]
            self.have.takeItem(n)

    def _make(self) -> None:
        try:
            self.plan = self._planned(self.name.text().strip()[:80] or tr("My plan"))
        except GravidonError as error:
            self.problem.setText(str(error))
            return
        self.accept()
