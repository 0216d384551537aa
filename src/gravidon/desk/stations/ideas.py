# SPDX-License-Identifier: GPL-3.0-or-later
"""Ideas: states of the plan kept under names; one or two laid beside the plan as it stands, to be taken whole or piece by piece."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QPushButton,
    QToolButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
)

from gravidon.desk.fan_canvas import FanCanvas
from gravidon.desk.job import Job
from gravidon.desk.stations.base import Station
from gravidon.desk.table import Cell, Table
from gravidon.desk.there import there
from gravidon.draw import fan
from gravidon.errors import GravidonError
from gravidon.plan.model import Idea, Plan
from gravidon.plan.units import Family
from gravidon.study.planning.board import without_ideas
from gravidon.study.planning.compare import (
    Difference,
    Outcome,
    bare,
    differences,
    outcomes,
    state_of,
    taken,
    with_idea,
    without_idea,
)
from gravidon.study.planning.merit import Merit, merit
from gravidon.words.text import tr, verdict_said

MOST = 2
"""Ideas laid beside the plan at a time."""
MARKS = "AB"
WIDE = 226
"""[px] of the list of ideas; project choice."""


@dataclass(frozen=True)
class Beside:
    """An idea laid beside the plan: its name, the plan it makes, its merit, what it has otherwise, what comes of it."""

    name: str
    plan: Plan
    merit: Merit
    differences: tuple[Difference, ...]
    outcomes: tuple[Outcome, ...]


@dataclass(frozen=True)
class Comparison:
    """The plan as it stands with its merit, and the ideas beside it."""

    plan: Plan
    merit: Merit
    beside: tuple[Beside, ...]


def comparison(plan: Plan, ideas: tuple[Idea, ...], family: Family) -> Iterator[Comparison]:
    """Yield the comparison, one idea more each time."""
    now = without_ideas(plan)
    own, found = merit(now), []
    yield Comparison(now, own, ())
    for idea in ideas:
        state = without_ideas(state_of(plan, idea))
        found.append(
            Beside(
                idea.name, state, merit(state), differences(now, state, family), outcomes(now, state, family)
            )
        )
        yield Comparison(now, own, tuple(found))


class IdeasStation(Station):
    """A few states of the plan, kept and compared."""

    key = "ideas"
    question = tr(
        "Keep a state of the plan under a name; lay one or two beside it, and take them whole or piece by piece."
    )
    flagged = False
    per_turbo = False

    def build(self) -> None:
        """The ideas at the left; picture, decisions and outcomes at the right."""
        self.answer: Comparison | None = None
        self._asked: object = None
        self._strands: tuple[object, tuple[fan.Strand, ...]] | None = None
        self.job = Job(self)
        self.job.reported.connect(self._report)
        row = QHBoxLayout()
        row.setSpacing(14)
        row.addLayout(self._left())
        right = QVBoxLayout()
        right.setSpacing(6)
        self.canvas = FanCanvas(self, tr("Plan and ideas drawn over each other"), self.strands)
        self.canvas.setToolTip(tr("V turns the car; 1 to 7 choose what the plans hang by"))
        right.addWidget(self.canvas, 3)
        self.told = QLabel()
        self.told.setWordWrap(True)
        right.addWidget(self.told)
        tables = QHBoxLayout()
        tables.setSpacing(10)
        self.decisions = Table(
            tr("What was decided otherwise"), (tr("decision"), tr("now"), "A", ""), left=(0, 1, 2), wide=0
        )
        self.results = Table(
            tr("What comes of it, by condition"),
            (tr("condition"), tr("now"), "A", tr("change")),
            left=(0,),
            wide=0,
        )
        tables.addWidget(self.decisions, 7)
        tables.addWidget(self.results, 6)
        right.addLayout(tables, 3)
        row.addLayout(right, 1)
        self.column.addLayout(row, 1)

    def _left(self) -> QVBoxLayout:
        """Return the ideas, and what can be done with one."""
        left = QVBoxLayout()
        left.setSpacing(6)
        self.tree = QTreeWidget()
        self.tree.setAccessibleName(tr("Ideas; tick one or two to compare them with the plan"))
        self.tree.setHeaderHidden(True)
        self.tree.setFixedWidth(WIDE)
        self.tree.itemChanged.connect(self._ticked)
        self.tree.currentItemChanged.connect(lambda *_: self._show_note())
        left.addWidget(self.tree, 1)
        self.note = QLabel()
        self.note.setProperty("role", "faint")
        self.note.setWordWrap(True)
        self.note.setFixedWidth(WIDE)
        left.addWidget(self.note)
        buttons = QHBoxLayout()
        self.take_button = QPushButton(tr("Take it"))
        self.take_button.setToolTip(
            tr("Its decisions become the plan's; what is known of the car stays as it is today")
        )
        self.take_button.clicked.connect(self.take)
        self.drop_button = QPushButton(tr("Drop it"))
        self.drop_button.clicked.connect(self.drop)
        for button in (self.take_button, self.drop_button):
            buttons.addWidget(button)
        left.addLayout(buttons)
        self.sheet_box = QCheckBox(tr("Print it with the shop sheet"))
        self.sheet_box.clicked.connect(self._on_sheet)
        left.addWidget(self.sheet_box)
        self.name_line = QLineEdit()
        self.name_line.setPlaceholderText(tr("Name for the plan as it stands"))
        self.name_line.setAccessibleName(tr("Name of the idea"))
        self.name_line.returnPressed.connect(self.keep)
        self.keep_button = QPushButton(tr("Keep the plan as an idea"))
        self.keep_button.clicked.connect(self.keep)
        left.addWidget(self.name_line)
        left.addWidget(self.keep_button)
        return left

    # --- showing -----------------------------------------------------------------------------

    @property
    def busy(self) -> bool:
        """Whether ideas are being worked out."""
        return self.job.busy

    def refresh(self) -> None:
        """Show the ideas there are, and those that are ticked beside the plan."""
        s = self.session
        ideas = s.plan.ideas
        ticked, current = self.ticked(), self.current()
        names = {i.name for i in ideas}
        new = [i.name for i in ideas if i.name not in self._known]
        self._known = names
        if new and self._shown_once:  # what was just kept is what one wants to see
            ticked, current = (new[-1], *[t for t in ticked if t in names])[:MOST], new[-1]
        elif not self._shown_once:
            ticked = tuple(i.name for i in ideas[-1:])
            current = ideas[-1].name if ideas else ""
        self._shown_once = True
        self._fill_tree(ideas, tuple(t for t in ticked if t in names), current)
        self._compare()
        self._show_note()

    _known: frozenset[str] | set[str] = frozenset()
    _shown_once = False

    def _fill_tree(self, ideas: tuple[Idea, ...], ticked: tuple[str, ...], current: str) -> None:
        self.tree.blockSignals(True)
        self.tree.clear()
        made: dict[str, QTreeWidgetItem] = {}
        left = list(ideas)
        while left:
            idea = next(i for i in left if i.after == "" or i.after in made)
            left.remove(idea)
            item = QTreeWidgetItem([idea.name])
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(0, Qt.CheckState.Checked if idea.name in ticked else Qt.CheckState.Unchecked)
            item.setToolTip(0, idea.note or tr("Tick it to lay it beside the plan"))
            if idea.after:
                made[idea.after].addChild(item)
            else:
                self.tree.addTopLevelItem(item)
            made[idea.name] = item
        self.tree.expandAll()
        chosen = made.get(current) or next(iter(made.values()), None)
        if chosen is not None:
            self.tree.setCurrentItem(chosen)
        self.tree.blockSignals(False)
        for widget in (self.take_button, self.drop_button):
            widget.setEnabled(bool(made))

    def _items(self) -> list[QTreeWidgetItem]:
        found = []
        stack = [self.tree.topLevelItem(n) for n in range(self.tree.topLevelItemCount())]
        while stack:
            item = stack.pop(0)
            if item is not None:
                found.append(item)
                stack = [item.child(n) for n in range(item.childCount())] + stack
        return found

    def ticked(self) -> tuple[str, ...]:
        """Return the names of the ideas that are laid beside the plan."""
        return tuple(i.text(0) for i in self._items() if i.checkState(0) == Qt.CheckState.Checked)[:MOST]

    def current(self) -> str:
        """Return the name of the idea that is chosen; empty if none is."""
        item = self.tree.currentItem()
        return item.text(0) if item is not None else ""

    def _ticked(self, item: QTreeWidgetItem) -> None:
        on = [i for i in self._items() if i.checkState(0) == Qt.CheckState.Checked]
        for other in [i for i in on if i is not item][: max(len(on) - MOST, 0)]:
            self.tree.blockSignals(True)
            other.setCheckState(0, Qt.CheckState.Unchecked)
            self.tree.blockSignals(False)
        self._compare()

    def _show_note(self) -> None:
        idea = next((i for i in self.session.plan.ideas if i.name == self.current()), None)
        self.note.setText(idea.note if idea is not None else "")
        self.sheet_box.setEnabled(idea is not None)
        self.sheet_box.setChecked(idea is not None and idea.on_sheet)

    def _on_sheet(self, on: bool) -> None:
        s, name = self.session, self.current()
        ideas = tuple(i.model_copy(update={"on_sheet": on}) if i.name == name else i for i in s.plan.ideas)
        s.propose(
            s.plan.model_copy(update={"ideas": ideas}),
            (tr("print the idea: {name}") if on else tr("do not print the idea: {name}")).format(name=name),
        )

    def _compare(self) -> None:
        s = self.session
        chosen = tuple(i for n in self.ticked() for i in s.plan.ideas if i.name == n)
        asked = (s.plan, chosen, s.family)
        if asked != self._asked:
            self._asked = asked
            self.job.start(partial(comparison, *asked))
        self._show()

    def _report(self, answer: Comparison) -> None:
        self.answer = answer
        self._show()

    def strands(self) -> tuple[fan.Strand, ...]:
        """The plan and what is laid beside it, as strands."""
        answer = self.answer
        if answer is None:
            return ()
        if self._strands is None or self._strands[0] is not answer:
            now = fan.strand(fan.NOW, (), answer.plan, answer.merit)
            more = (
                fan.strand(mark, (b.name,), b.plan, b.merit)
                for mark, b in zip(MARKS, answer.beside, strict=False)
            )
            self._strands = answer, (now, *more)
        return self._strands[1]

    def _show(self) -> None:
        answer = self.answer
        beside = answer.beside if answer is not None else ()
        names = "; ".join(f"{mark}: {b.name}" for mark, b in zip(MARKS, beside, strict=False))
        if not self.session.plan.ideas:
            self.told.setText(
                tr(
                    "No ideas yet. Give the plan as it stands a name, or let the planner make some (F3, “Keep”)."
                )
            )
        elif not beside:
            self.told.setText(tr("Tick an idea to lay it beside the plan."))
        else:
            alike = [b for b in beside if not b.differences]
            self.told.setText(
                names + (tr(". It is the plan as it stands.") if alike and len(beside) == 1 else ".")
            )
        self._fill_decisions(beside)
        self._fill_results(beside)
        self.canvas.setAccessibleDescription(self.told.text())
        self.canvas.update()

    def _fill_decisions(self, beside: tuple[Beside, ...]) -> None:
        marks = MARKS[: len(beside)] or "A"
        heads = [tr("decision"), tr("now"), *(m for m in marks for _ in range(2))]
        self.decisions.setColumnCount(len(heads))
        self.decisions.setHorizontalHeaderLabels(
            [h if n < 2 or n % 2 == 0 else "" for n, h in enumerate(heads)]
        )
        keys: dict[str, Difference] = {}
        for b in beside:
            for d in b.differences:
                keys.setdefault(d.key, d)
        rows: list[list[Cell | str]] = []
        takes: list[tuple[int, int, Beside, Difference]] = []
        for key, first in sorted(keys.items(), key=lambda it: it[1].is_fact):
            cells: list[Cell | str] = [
                tr("{words} (known then)").format(words=first.words) if first.is_fact else first.words,
                first.old,
            ]
            for b in beside:
                mine = next((d for d in b.differences if d.key == key), None)
                cells += [mine.new if mine is not None else tr("as now"), ""]
                if mine is not None:
                    takes.append((len(rows), len(cells) - 1, b, mine))
            rows.append(cells)
        self.decisions.fill(rows)
        for r, c, b, d in takes:
            button = QToolButton()
            button.setText(tr("take"))
            button.setProperty("link", True)
            button.setAccessibleName(tr("Take this one: {words} {new}").format(words=d.words, new=d.new))
            button.clicked.connect(partial(self.take_one, b, d))
            self.decisions.setCellWidget(r, c, button)
        header = there(self.decisions.horizontalHeader())
        for c, head in enumerate(heads):
            words = c == 1 or (c > 1 and c % 2 == 0)
            header.setSectionResizeMode(
                c,
                QHeaderView.ResizeMode.Stretch if words and head else QHeaderView.ResizeMode.ResizeToContents,
            )

    def _fill_results(self, beside: tuple[Beside, ...]) -> None:
        marks = MARKS[: len(beside)] or "A"
        heads = [tr("condition"), tr("now"), *(h for m in marks for h in (m, tr("change")))]
        self.results.setColumnCount(len(heads))
        self.results.setHorizontalHeaderLabels(heads)
        colours = self.colours
        rows: list[list[Cell | str]] = []
        for n, first in enumerate(beside[0].outcomes if beside else ()):
            cells: list[Cell | str] = [
                first.condition,
                Cell(verdict_said(first.verdicts[0]), tip=first.nearest[0]),
            ]
            for b in beside:
                it = b.outcomes[n]
                colour = colours.color(
                    "good" if it.change > LEAST_CHANGE else "bad" if it.change < -LEAST_CHANGE else "faint"
                )
                cells.append(Cell(verdict_said(it.verdicts[1]), tip=it.nearest[1]))
                cells.append(Cell(_change(it), tip=_change(it), colour=colour))
            rows.append(cells)
        self.results.fill(rows)
        header = there(self.results.horizontalHeader())
        for c in range(len(heads)):
            change = c >= 3 and c % 2 == 1
            header.setSectionResizeMode(
                c, QHeaderView.ResizeMode.Stretch if change else QHeaderView.ResizeMode.ResizeToContents
            )

    # --- doing -------------------------------------------------------------------------------

    def keep(self) -> None:
        """Keep the plan as it stands under the name that is typed."""
        s = self.session
        name = self.name_line.text().strip() or _free_name(s.plan)
        made_from = next(
            (i.name for i in reversed(s.plan.ideas) if bare(state_of(s.plan, i)) == bare(s.plan)), ""
        )
        after = made_from or self.current()
        try:
            plan = with_idea(s.plan, name, after="" if after == name else after)
        except GravidonError as error:
            s.refused.emit(str(error))
            return
        if s.propose(plan, tr("keep the idea: {name}").format(name=name)):
            self.name_line.clear()

    def take(self) -> None:
        """Make the chosen idea the plan."""
        s = self.session
        idea = next((i for i in s.plan.ideas if i.name == self.current()), None)
        if idea is not None and s.propose(
            state_of(s.plan, idea), tr("take the idea: {name}").format(name=idea.name)
        ):
            s.told.emit(tr("Taken: {name}. Undo brings the former plan back.").format(name=idea.name))

    def drop(self) -> None:
        """Drop the chosen idea; undo brings it back."""
        name = self.current()
        if name:
            self.session.propose(
                without_idea(self.session.plan, name), tr("drop the idea: {name}").format(name=name)
            )

    def take_one(self, beside: Beside, difference: Difference, _clicked: bool = False) -> None:
        """Take one thing of an idea into the plan."""
        s = self.session
        try:
            made = taken(s.plan, beside.plan, difference)
        except GravidonError as error:
            s.refused.emit(str(error))
            return
        s.propose(made, f"{difference.words}: {difference.new}")

    def leave(self) -> None:
        """The window closes."""
        self.job.leave()


LEAST_CHANGE = 0.005
"""[margins] below which nothing is said to change; project choice."""


def _change(it: Outcome) -> str:
    """Return how a condition changes, in a word, with what is then nearest to its limit."""
    if abs(it.change) <= LEAST_CHANGE:
        return tr("as before")
    return f"{tr('better') if it.change > 0.0 else tr('worse')}: {it.nearest[1]}"


def _free_name(plan: Plan) -> str:
    names = {i.name for i in plan.ideas}
    return next(
        tr("idea {number}").format(number=n)
        for n in range(1, 99)
        if tr("idea {number}").format(number=n) not in names
    )
