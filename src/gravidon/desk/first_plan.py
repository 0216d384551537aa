# SPDX-License-Identifier: GPL-3.0-or-later
"""From nothing to a plan: what the builder knows, step by step, each skippable, the car growing beside it."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path
from typing import Any, cast

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
from gravidon.desk.preferences import state_folder
from gravidon.desk.table import Cell, Table
from gravidon.desk.there import there
from gravidon.desk.way_picture import WayPicture
from gravidon.errors import GravidonError, InputError
from gravidon.parts.catalogue import Part, with_own
from gravidon.parts.oils import grades
from gravidon.parts.owned import Owned, hits, owned_from
from gravidon.parts.threads import THREAD_NAMES
from gravidon.parts.turbos import BEARINGS, COOLINGS, HOUSINGS, WORST_COOLING
from gravidon.plan import units
from gravidon.plan.files import json_object, read_file, write_atomically
from gravidon.plan.model import Plan, TapKind
from gravidon.plan.starter import OUTWARD, TAPS, Answers, Side, ThingInTheWay, new_plan
from gravidon.plan.things import THINGS
from gravidon.study.planning.freedom import WONTS, with_wont
from gravidon.words.text import N_, tr


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
UNKNOWN = N_("not known")
"""What is offered first where a guess would decide."""
DRAFT, MOST_DRAFT = "new-plan.draft", 100_000
"""Name and most bytes of the file that keeps what was typed."""


class FirstPlan(QDialog):
    """Seven questions; an answer that is left out stays a guess. `plan` is what they make."""

    def __init__(
        self, family: units.Family, parent: QWidget | None = None, draft: Path | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Start a plan: what do you know?"))
        self.resize(1040, 560)
        self.family = family
        self.plan: Plan | None = None
        self.owned: list[Owned] = []
        self._added = False
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
        self._enter_goes_on()
        self.draft = draft if draft is not None else state_folder() / DRAFT
        self.blank = self.state()
        self._bring_back()
        self.show_page(0)

    # --- the questions -------------------------------------------------------------------------

    def _page(self, title: str, told: str) -> tuple[QWidget, QFormLayout]:
        self.titles.append((title, told))
        page = QWidget()
        form = QFormLayout(page)
        form.setContentsMargins(0, 4, 0, 0)
        form.setRowWrapPolicy(QFormLayout.RowWrapPolicy.DontWrapRows)
        return page, form

    def _line(self, hint: str = "") -> QLineEdit:
        field = QLineEdit()
        field.setPlaceholderText(hint)
        field.textChanged.connect(lambda _: self.soon.start())
        return field

    def _usual(self, si: float, kind: str) -> QLineEdit:
        """A field that says what is taken where nothing is typed."""
        return self._line(tr("usual: {value}").format(value=units.show(si, kind, self.family)))

    def _box(self, options: list[str], now: str = "") -> Box:
        box = Box()
        box.offer(options)
        if now:
            box.choose(now)
        box.currentTextChanged.connect(lambda _: self.soon.start())
        return box

    def _engine(self) -> QWidget:
        page, form = self._page(
            tr("Oil and gauge"),
            tr("Two readings with the oil hot say what the pump gives; leave out what nobody read."),
        )
        start = Answers()
        self.name = QLineEdit(tr("My plan"))
        form.addRow(tr("Name of the plan"), self.name)
        self.grade = self._box(list(grades()), "10W-40")
        form.addRow(tr("Oil"), self.grade)
        self.idle, self.idle_rpm, self.idle_oil = self._reading(
            form, tr("Oil pressure, hot idle"), start.idle_kpa, start.idle_rpm, start.idle_oil_c
        )
        self.speed, self.rpm, self.speed_oil = self._reading(
            form, tr("Oil pressure, hot at speed"), start.speed_kpa, start.speed_rpm, start.speed_oil_c
        )
        self.tap = self._box(list(TAPS))
        form.addRow(tr("Feed taken at"), self.tap)
        self.tap_thread = self._box([UNKNOWN, *THREAD_NAMES])
        form.addRow(tr("Thread there"), self.tap_thread)
        return page

    def _reading(
        self, form: QFormLayout, words: str, kpa: float, rpm: float, oil_c: float
    ) -> tuple[QLineEdit, QLineEdit, QLineEdit]:
        """A row for the pressure that was read, and one for the engine speed and the oil temperature it was read at."""
        made = (
            self._usual(kpa * 1e3, "kpa"),
            self._usual(rpm / 60.0, "rpm"),
            self._usual(oil_c + 273.15, "degc"),
        )
        form.addRow(words, made[0])
        row = QHBoxLayout()
        for field, name in zip(made[1:], (tr("engine speed"), tr("oil temperature")), strict=True):
            field.setAccessibleName(f"{words}, {name}")
            row.addWidget(field)
        form.addRow(tr("read at"), row)
        return made

    def _turbo(self) -> QWidget:
        page, form = self._page(
            tr("Turbo"), tr("Its bearing says how much oil it wants, its size how much it passes.")
        )
        self.bearing = self._box(list(BEARINGS))
        self.frame = self._box(list(HOUSINGS), "medium")
        self.count = self._box(["1", "2", "3"])
        self.cooling = self._box([UNKNOWN, *COOLINGS])
        self.side = self._box(list(OUTWARD))
        form.addRow(tr("Bearing"), self.bearing)
        form.addRow(tr("Size"), self.frame)
        form.addRow(tr("Cooled by"), self.cooling)
        told = QLabel(tr("Not known: oil only is assumed, the harder case."))
        told.setProperty("role", "faint")
        told.setWordWrap(True)
        form.addRow("", told)
        form.addRow(tr("How many turbos"), self.count)
        form.addRow(tr("Side of the engine"), self.side)
        return page

    def _tapes(self, form: QFormLayout, tapes: tuple[Tape, ...]) -> None:
        for tape in tapes:
            field = self._line(tr("not measured"))
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
            tr(
                "Words of a part, such as 2x -10 45, 24 in -10, feed kit; Return adds them. Plans use these first."
            ),
        )
        self.part_line = QLineEdit()
        self.part_line.setAccessibleName(tr("Words of a part"))
        self.part_line.textChanged.connect(self._find_parts)
        self.part_line.returnPressed.connect(self._add_line)
        self.found = QListWidget()
        self.found.setAccessibleName(tr("Parts found"))
        self.found.itemActivated.connect(lambda item: self._add_part(self.found.row(item)))
        self.found.itemClicked.connect(lambda item: self._add_part(self.found.row(item)))
        self.found.setMaximumHeight(110)
        self.have = QListWidget()
        self.have.setAccessibleName(tr("Parts on hand; double-click takes one out"))
        self.have.itemDoubleClicked.connect(lambda item: self._drop_part(self.have.row(item)))
        form.addRow(self.part_line)
        form.addRow(self.found)
        form.addRow(QLabel(tr("Parts on hand")))
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
        self.next_button = QPushButton(tr("Next"))
        self.next_button.setProperty("role", "main")
        self.next_button.clicked.connect(self.next)
        self.now_button = QPushButton(tr("Plan now"))
        self.now_button.setToolTip(tr("Leave the rest to guesses"))
        self.now_button.clicked.connect(self._make)
        self.back_button = QPushButton(tr("Back"))
        self.back_button.clicked.connect(lambda: self.show_page(self.pages.currentIndex() - 1))
        self.blank_button = QPushButton(tr("Clear answers"))
        self.blank_button.setToolTip(tr("What was typed last time is here again; this empties it"))
        self.blank_button.clicked.connect(self.clear)
        self.cancel_button = QPushButton(tr("Cancel"))
        self.cancel_button.setToolTip(tr("What you typed is kept for the next time"))
        self.cancel_button.clicked.connect(self.reject)
        row = QHBoxLayout()
        for widget in (self.cancel_button, self.blank_button, self.back_button):
            row.addWidget(widget)
        row.addStretch(1)
        for widget in (self.now_button, self.next_button):
            row.addWidget(widget)
        return row

    def _enter_goes_on(self) -> None:
        """Return presses Next wherever it is pressed, and after the last field Tab comes to it."""
        for button in (self.now_button, self.back_button, self.blank_button, self.cancel_button):
            button.setAutoDefault(False)
        self.next_button.setDefault(True)
        for first, then in pairwise(
            (self.next_button, self.now_button, self.back_button, self.blank_button, self.cancel_button)
        ):
            self.setTabOrder(first, then)

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
        kinds = (Table, QLineEdit, Box, QCheckBox)
        fields = [w for w in page.findChildren(QWidget) if isinstance(w, kinds)] if page is not None else []
        (fields[0] if fields else self.next_button).setFocus(Qt.FocusReason.TabFocusReason)

    def next(self) -> None:
        """Go on; with an answer that cannot be used, say so and stay. After the last question, make the plan."""
        if self._added or (self.part_line.hasFocus() and self.part_line.text().strip()):
            self._added = False  # Return added a part there
            return
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
        idle, speed = tr("Oil pressure, hot idle"), tr("Oil pressure, hot at speed")
        at_rpm, at_oil = tr("engine speed of a reading"), tr("oil temperature of a reading")
        for field, name, kind, label, low, high in (
            (self.idle, "idle_kpa", "kpa", idle, 10, 1000),
            (self.idle_rpm, "idle_rpm", "rpm", at_rpm, 300, 2500),
            (self.idle_oil, "idle_oil_c", "degc", at_oil, 40, 150),
            (self.speed, "speed_kpa", "kpa", speed, 20, 1500),
            (self.rpm, "speed_rpm", "rpm", at_rpm, 1000, 9000),
            (self.speed_oil, "speed_oil_c", "degc", at_oil, 40, 150),
        ):
            if field.text().strip():
                measured[name] = self._number(field.text(), kind, label, low, high)
        read = "idle_kpa" in measured, "speed_kpa" in measured
        return Answers(
            grade=self.grade.chosen,
            bearing=self.bearing.chosen,
            frame=self.frame.chosen,
            side=cast(Side, self.side.chosen),
            gauge=any(read),
            idle_read=read[0],
            speed_read=read[1],
            cooling=WORST_COOLING if self.cooling.chosen == UNKNOWN else self.cooling.chosen,
            cooling_known=self.cooling.chosen != UNKNOWN,
            turbos=int(self.count.chosen),
            tap=cast(TapKind, self.tap.chosen),
            tap_thread=None if self.tap_thread.chosen == UNKNOWN else self.tap_thread.chosen,
            metal="aluminium" if self.metal.chosen == "aluminium" else "steel",
            things=tuple(t for n in range(THING_ROWS) if (t := self._thing(n)) is not None),
            amounts=tuple((o.part.id, o.count) for o in self.owned),
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
        """Show how the plan fills, as far as the answers can be used; and keep what was typed, for after a crash."""
        self.keep()
        try:
            self.picture.show_plan(self._planned("first"))
            self.problem.setText("")
        except GravidonError as error:
            self.problem.setText(str(error))

    # --- kept for the next time ------------------------------------------------------------------

    def _fields(self) -> dict[str, QLineEdit | Box | QCheckBox]:
        """Every field by a name that stays, page by page."""
        made: dict[str, QLineEdit | Box | QCheckBox] = {}
        for name in (
            "name",
            "grade",
            "idle",
            "idle_rpm",
            "idle_oil",
            "speed",
            "rpm",
            "speed_oil",
            "tap",
            "tap_thread",
        ):
            made[name] = getattr(self, name)
        for name in ("bearing", "frame", "cooling", "count", "side", "metal"):
            made[name] = getattr(self, name)
        made |= {name: field for name, (_, field) in self.tapes.items()}
        made |= {f"kind.{n}": box for n, box in enumerate(self.kinds)}
        made |= {f"wont.{wont.key}": box for wont, box in self.wonts}
        return made

    def state(self) -> dict[str, Any]:
        """Return what stands in the fields, as typed."""
        fields = {
            name: field.text()
            if isinstance(field, QLineEdit)
            else field.chosen
            if isinstance(field, Box)
            else field.isChecked()
            for name, field in self._fields().items()
        }
        things = [
            [item.text() if (item := self.things.item(n, c)) is not None else "" for c in range(6)]
            for n in range(THING_ROWS)
        ]
        return {"fields": fields, "things": things, "owned": [[o.part.id, o.count] for o in self.owned]}

    def restore(self, state: Mapping[str, Any]) -> None:
        """Put what stood there back, as far as it still fits."""
        kept = state.get("fields")
        for name, field in self._fields().items():
            value = kept.get(name) if isinstance(kept, dict) else None
            if isinstance(field, QLineEdit) and isinstance(value, str):
                field.setText(value[:200])
            elif isinstance(field, Box) and isinstance(value, str):
                field.choose(value)
            elif isinstance(field, QCheckBox) and isinstance(value, bool):
                field.setChecked(value)
        rows = state.get("things")
        self.things.fill(
            [[Cell(str(text)[:80], True) for text in row] for row in rows]
            if isinstance(rows, list)
            and all(isinstance(r, list) and len(r) == 6 for r in rows)
            and len(rows) == THING_ROWS
            else [[Cell("", True)] * len(THING_HEADS)] * THING_ROWS
        )
        self.owned.clear()
        self.have.clear()
        parts = with_own(())
        for row in state.get("owned", ()):
            if (
                isinstance(row, list)
                and len(row) == 2
                and row[0] in parts
                and isinstance(row[1], int | float)
            ):
                self._own_part(Owned(parts[row[0]], min(max(float(row[1]), 0.01), 999.0)))

    def keep(self) -> None:
        """Keep what was typed until a plan is made of it."""
        state = self.state()
        with suppress(GravidonError, OSError):
            if state == self.blank:
                self.draft.unlink(missing_ok=True)
            else:
                write_atomically(self.draft, json.dumps(state).encode(), mode=0o600)

    def _bring_back(self) -> None:
        with suppress(GravidonError, UnicodeDecodeError):
            self.restore(json_object(read_file(self.draft, MOST_DRAFT).decode("utf-8")))
        self.blank_button.setVisible(self.state() != self.blank)

    def clear(self) -> None:
        """Empty every field."""
        self.restore(self.blank)
        self.blank_button.hide()
        self.keep()
        self._preview()

    def reject(self) -> None:
        """Turn away; what was typed comes back the next time."""
        self.keep()
        super().reject()

    # --- the drawer ----------------------------------------------------------------------------

    def _find_parts(self, text: str) -> None:
        last = re.split(r"[;,]", text)[-1].strip()
        words = re.sub(r"^\d+(?:\.\d+)?\s*(?:x|×|mm|cm|m|in|ft)\s+", "", last, flags=re.IGNORECASE)
        self._hits = hits(words, with_own(()).values())
        self.found.clear()
        self.found.addItems([p.name for p in self._hits[:60]])

    def _add_line(self) -> None:
        """Add what the line says, with its amounts; a word that no part answers to is named and stays."""
        if not self.part_line.text().strip():
            return
        self._added = True
        try:
            for owned in owned_from(self.part_line.text(), with_own(()).values()):
                self._own_part(owned)
        except InputError as error:
            self.problem.setText(str(error))
            return
        self.problem.setText("")
        self.part_line.clear()

    def _add_part(self, n: int) -> None:
        if n < len(self._hits):
            self._own_part(Owned(self._hits[n], 1.0))
            self.part_line.clear()
            self.part_line.setFocus()

    def _own_part(self, owned: Owned) -> None:
        same = next((k for k, o in enumerate(self.owned) if o.part.id == owned.part.id), None)
        if same is not None:
            owned = Owned(owned.part, self.owned[same].count + owned.count)
            self._drop_part(same)
        self.owned.append(owned)
        length = owned.part.kind == "hose"
        amount = units.show(owned.count, "run", self.family) if length else f"{owned.count:g} ×"
        self.have.addItem(f"{amount}  {owned.part.name}")
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
        self.soon.stop()
        with suppress(OSError):
            self.draft.unlink(missing_ok=True)
        self.accept()
