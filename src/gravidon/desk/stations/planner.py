# SPDX-License-Identifier: GPL-3.0-or-later
"""Planner: say what stays, press one key, and read what the best plans are, and why."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from typing import Any, ClassVar

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QProgressBar,
    QPushButton,
    QSizePolicy,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.box import Box
from gravidon.desk.fan_canvas import FanCanvas
from gravidon.desk.holds_list import HoldsList
from gravidon.desk.job import Job
from gravidon.desk.plan_card import PlanCard
from gravidon.desk.stations.base import Station
from gravidon.desk.there import emptied, there
from gravidon.draw import fan
from gravidon.draw.geometry.elevation import VIEWS, View
from gravidon.errors import GravidonError
from gravidon.plan.model import Idea, Plan
from gravidon.study.planning.board import USUAL, Effort, without_ideas
from gravidon.study.planning.choices import Choice, places
from gravidon.study.planning.compare import state_of, with_idea
from gravidon.study.planning.crew import Crew, Stopped, Workers
from gravidon.study.planning.freedom import allowed, held
from gravidon.study.planning.merit import merit_of
from gravidon.study.planning.names import SAFEST, called
from gravidon.study.planning.reasons import WhyNot, lost_words, shared, takes_words, why_not
from gravidon.study.planning.search import Answer, Ranked, search
from gravidon.study.solve.wall import name_of_wall
from gravidon.translate import commas, listed
from gravidon.words.text import tr

LETTERS = "ABCDEFGH"
MOST_CARDS = 4
CARDS_LEAST, WHY_HIGH, CARD_LEAST, CARD_GAP = 60, 230, 168, 8
"""[px] least height of the cards, height of why not, least width of a card, and between two; project choice."""
HOLDS_WIDE, HOLDS_NARROW, NARROW = 282, 252, 900
"""[px] width of what may change, in a wide window and in a narrow one, and where that begins; project choice."""


class PlannerStation(Station):
    """Whole plans, ranked, with reasons."""

    key = "planner"
    question = tr(
        "Say what stays as it is, then let plans be made: each is worked out whole, in every condition."
    )
    flagged = False
    crew_of: ClassVar[Callable[[], Crew]] = Workers
    """Who does the work of a search."""
    effort: ClassVar[Effort] = USUAL
    """How hard it looks."""

    def build(self) -> None:
        """What may change at the left; the picture, the cards, and why not at the right."""
        self.answer: Answer | None = None
        self.crew: Any = None
        self._card_key: object = None
        self._strands: tuple[object, tuple[fan.Strand, ...]] | None = None
        self._asked: list[tuple[Choice, int]] = []
        self.job, self.asking = Job(self), Job(self)
        self.job.reported.connect(self._report)
        self.job.failed.connect(self._failed)
        self.job.ended.connect(self._ended)
        self.asking.reported.connect(self._answered)
        row = QHBoxLayout()
        row.setSpacing(14)
        self.holds = HoldsList(self.session)
        self.holds.setFixedWidth(HOLDS_WIDE)
        row.addWidget(self.holds)
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addLayout(self._bar())
        self.canvas = FanCanvas(
            self, tr("The plans in the car, and by their merits"), self.strands, self.entry_words
        )
        self.canvas.pointed.connect(self._lifted)
        self.canvas.turned.connect(self._show_view)
        self.canvas.entered.connect(self.take_lifted)
        right.addWidget(self.canvas, 1)
        self.shared = QLabel()
        self.shared.setWordWrap(True)
        right.addWidget(self.shared)
        self.pages = QStackedWidget()
        self.pages.addWidget(self._cards())
        self.pages.addWidget(self._why_page())
        right.addWidget(self.pages)
        row.addLayout(right, 1)
        self.column.addLayout(row, 1)

    def _bar(self) -> QHBoxLayout:
        bar = QHBoxLayout()
        bar.setSpacing(6)
        self.start_button = QPushButton(tr("Make plans"))
        self.start_button.setProperty("role", "main")
        self.start_button.setToolTip(
            tr("Try taps, feeds, holes, ways and places within what may change (Ctrl+M)")
        )
        self.start_button.clicked.connect(self.start)
        self.stop_button = QPushButton(tr("Stop"))
        self.stop_button.clicked.connect(self.stop)
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setAccessibleName(tr("How far the search is"))
        self.progress.setMaximumWidth(150)
        self.stage = QLabel()
        self.stage.setProperty("role", "faint")
        bar.addWidget(self.start_button)
        bar.addWidget(self.stop_button)
        bar.addWidget(self.progress)
        self.stage.setMinimumWidth(0)
        self.stage.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        bar.addWidget(self.stage, 1)
        self.views: dict[View, QToolButton] = {}
        for view in VIEWS:
            button = QToolButton()
            button.setText(tr(view.capitalize()))
            button.setToolTip(tr("See the car {views} (V)").format(views=VIEWS[view]))
            button.setCheckable(True)
            button.clicked.connect(partial(self._seen, view))
            self.views[view] = button
            bar.addWidget(button)
        self.why_button = QToolButton()
        self.why_button.setText(tr("Why not …?"))
        self.why_button.setCheckable(True)
        self.why_button.setToolTip(tr("What lost, and why; ask about any other value"))
        self.why_button.clicked.connect(self._turn)
        bar.addWidget(self.why_button)
        self._running(False)
        return bar

    def _turn(self, why: bool) -> None:
        """Turn between the cards and why not."""
        self.pages.setCurrentIndex(int(why))
        self._fit_cards()

    def _cards(self) -> QWidget:
        holder = QWidget()
        self.cards_grid = QGridLayout(holder)
        self.cards_grid.setContentsMargins(0, 0, 0, 0)
        self.cards_grid.setSpacing(CARD_GAP)
        self.cards: list[PlanCard] = []
        return holder

    def _why_page(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.setSpacing(6)
        row.addWidget(QLabel(tr("Why not")))
        self.ask_choice = Box()
        self.ask_choice.setAccessibleName(tr("Which choice"))
        self.ask_choice.currentIndexChanged.connect(self._offer_values)
        self.ask_value = Box()
        self.ask_value.setEditable(True)
        self.ask_value.setMinimumWidth(190)
        self.ask_value.setAccessibleName(tr("Which value"))
        line = self.ask_value.lineEdit()
        if line is not None:
            line.returnPressed.connect(self.ask)
        self.ask_button = QPushButton(tr("Ask"))
        self.ask_button.clicked.connect(self.ask)
        for widget in (self.ask_choice, self.ask_value, self.ask_button):
            row.addWidget(widget)
        row.addStretch(1)
        column.addLayout(row)
        self.ask_words = QLabel()
        self.ask_words.setWordWrap(True)
        self.ask_words.setMinimumHeight(34)
        column.addWidget(self.ask_words)
        self.lost = QListWidget()
        self.lost.setWordWrap(True)
        self.lost.setAccessibleName(tr("What lost, and why"))
        column.addWidget(self.lost, 1)
        return page

    # --- searching ---------------------------------------------------------------------------

    @property
    def busy(self) -> bool:
        """Whether plans are being made, or a question is being answered."""
        return self.job.busy or self.asking.busy

    def start(self) -> None:
        """Make plans, in worker processes."""
        plan = self.session.plan
        if self.crew is None:
            self.crew = type(self).crew_of()
        self.answer = None
        self.canvas.lift(None)
        self._running(True)
        self.progress.setValue(0)
        self.job.start(partial(_until_stopped, plan, self.crew, self.effort))
        self.refresh()

    def stop(self) -> None:
        """Stop after what is under way; what is known so far stays."""
        self.job.cancel()
        self._let_go()
        self._running(False)
        self.stage.setText(tr("Stopped: these are the best so far.") if self.answer else tr("Stopped."))

    def _let_go(self) -> None:
        if self.crew is not None:
            self.crew.close()
            self.crew = None

    def _running(self, on: bool) -> None:
        self.start_button.setVisible(not on)
        self.stop_button.setVisible(on)
        self.progress.setVisible(on)

    def _ended(self) -> None:
        self._running(False)

    def _failed(self, words: str) -> None:
        self._let_go()
        self.stage.setText(tr("The search ended: {words}").format(words=words))

    def _report(self, answer: Answer) -> None:
        before = self.answer
        self.answer = answer
        self.progress.setValue(round(100 * answer.share))
        count = len(answer.ranked)
        told = tr("{count} of {tried} looked at").format(count=count, tried=answer.tried)
        self.stage.setText(told if answer.final else f"{capital_stage(answer.stage)}: {told}")
        if before is None and answer.ranked:
            self.canvas.see(_best_view(answer.ranked[0].plan))
        self._show_answer()

    # --- showing -----------------------------------------------------------------------------

    def shown(self) -> tuple[Ranked, ...]:
        """The plans in the picture: those with names first to be kept."""
        return self.answer.ranked[:MOST_CARDS] if self.answer is not None else ()

    def strands(self) -> tuple[fan.Strand, ...]:
        """The plan as it stands, and the plans that were made, as strands."""
        key = (self.session.trial, self.answer)
        if self._strands is None or self._strands[0] != key:
            e = self.session.trial.evaluation
            now = fan.strand(fan.NOW, (), e.plan, merit_of(e, self.session.findings))
            made = [
                fan.strand(letter, r.names, r.plan, r.merit)
                for letter, r in zip(LETTERS, self.shown(), strict=False)
            ]
            self._strands = key, (now, *made)
        return self._strands[1]

    def entry_words(self) -> str:
        """What is written where all plans enter the pan; empty where they do not enter alike."""
        found = shared(self.shown(), self.session.family)
        return tr("all enter here") if any(s.choice == "entry-wall" for s in found) else ""

    def refresh(self) -> None:
        """Show the plan as it is: what holds it, and the plans that were made."""
        self.holds.refresh()
        self._show_answer()

    def _show_answer(self) -> None:
        s = self.session
        ranked = self.shown()
        alike = "; ".join(it.words for it in shared(ranked, s.family))
        words = [takes_words(t, s.family) for t in self.answer.takes] if self.answer is not None else []
        words += [tr("All of them: {alike}").format(alike=alike)] if alike else []
        if self.answer is not None and self.stale():
            words.insert(0, tr("The plan has changed since these were made: make them again to be sure"))
        if self.answer is not None and not ranked and self.answer.final:
            words = [tr("No plan was found within what may change"), *self.answer.no_way]
        if self.answer is None:
            words = [
                tr("No plans yet. Tick what you won't do, lock what stays, then press Make plans (Ctrl+M)")
            ]
        self.shared.setText(". ".join(words) + "." if words else "")
        QTimer.singleShot(0, self._fill)
        self.canvas.setAccessibleDescription(self.shared.text())
        self._show_view()
        self.canvas.update()

    def _fill(self) -> None:
        """Show the cards and what lost, in a turn of its own."""
        self._fill_cards(self.shown())
        self._fill_why()

    def _fill_cards(self, ranked: tuple[Ranked, ...]) -> None:
        key = (ranked, self.session.family, self.session.theme)
        if self._card_key == key:
            return
        self._card_key = key
        emptied(self.cards_grid, 0)
        self.cards = []
        merits = [r.merit for r in ranked]
        for n, r in enumerate(ranked):
            others = merits[:n] + merits[n + 1 :]
            card = PlanCard(LETTERS[n], r, others, self.session.family, self.session.theme)
            card.pointed.connect(lambda letter, on: self.canvas.lift(letter if on else None))
            card.took.connect(self.take)
            card.kept.connect(self.keep)
            card.compared.connect(self.compare)
            self.cards.append(card)
        self._fit_cards()

    def _fit_cards(self) -> None:
        """Lay the cards side by side, two and two where it is narrow, as high as they need: labels that wrap do not tell a
        stack of pages."""
        count = len(self.cards)
        if not count or self.pages.currentIndex():
            self.pages.setFixedHeight(WHY_HIGH if self.pages.currentIndex() else CARDS_LEAST)
            return
        columns = min(count, 4 if self.pages.width() >= 4 * CARD_LEAST else 2)
        width = (self.pages.width() - CARD_GAP * (columns - 1)) // columns
        rows = [self.cards[n : n + columns] for n in range(0, count, columns)]
        high = 0
        for r, row in enumerate(rows):
            high += max(there(card.layout()).totalHeightForWidth(max(width, 120)) for card in row) + CARD_GAP
            for c, card in enumerate(row):
                self.cards_grid.addWidget(card, r, c)
        for c in range(4):
            self.cards_grid.setColumnStretch(c, 1 if c < columns else 0)
        self.pages.setFixedHeight(max(high, CARDS_LEAST))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The cards wrap otherwise."""
        super().resizeEvent(event)
        self.holds.setFixedWidth(HOLDS_WIDE if self.width() >= NARROW else HOLDS_NARROW)
        QTimer.singleShot(0, self._fit_cards)

    def stale(self) -> bool:
        """Whether the plan is another than the one that the answer was made for."""
        return self.answer is not None and without_ideas(self.session.plan) != without_ideas(self.answer.plan)

    def _lifted(self) -> None:
        """Light the card of the plan that is lifted."""
        for card in self.cards:
            card.light(card.letter == self.canvas.over)

    def _seen(self, view: View, _clicked: bool = False) -> None:
        self.canvas.see(view)

    def _show_view(self) -> None:
        for name, button in self.views.items():
            button.setChecked(name == self.canvas.view)

    # --- taking ------------------------------------------------------------------------------

    def _as_plan(self, ranked: Ranked) -> Plan:
        """Return a plan that was made, on the car as it is known now."""
        return state_of(self.session.plan, Idea(name="plan", state=ranked.plan))

    def take(self, ranked: Ranked) -> None:
        """Make one of the plans the plan."""
        name = listed([tr(n) for n in called(ranked.names, ranked.merit)]) or tr("another plan")
        if self.session.propose(self._as_plan(ranked), tr("take the planner's: {name}").format(name=name)):
            self.session.told.emit(tr("Taken: {name}. Undo brings the former plan back.").format(name=name))

    def take_lifted(self) -> None:
        """Take the plan that is lifted."""
        found = next((c.ranked for c in self.cards if c.letter == self.canvas.over), None)
        if found is not None:
            self.take(found)

    def keep(self, ranked: Ranked) -> str:
        """Keep one of the plans as an idea; return its name."""
        name = self._idea_name(ranked)
        try:
            plan = with_idea(self.session.plan, name, tr("made by the planner"), state=self._as_plan(ranked))
        except GravidonError as error:
            self.session.refused.emit(str(error))
            return ""
        if self.session.propose(plan, tr("keep the idea: {name}").format(name=name)):
            self.session.told.emit(tr("Kept as an idea: {name}.").format(name=name))
        return name

    def _idea_name(self, ranked: Ranked) -> str:
        wanted = commas([tr(n) for n in called(ranked.names, ranked.merit)]) or tr("another way")
        kept = {i.name: i for i in self.session.plan.ideas}
        name, n = wanted, 2
        while name in kept and kept[name].state != ranked.plan:
            name, n = f"{wanted} {n}", n + 1
        return name

    def compare(self, ranked: Ranked) -> None:
        """Keep one of the plans as an idea and go to where it is laid beside the plan."""
        if self.keep(ranked):
            self.went.emit("ideas")

    # --- why not -----------------------------------------------------------------------------

    def _fill_why(self) -> None:
        s = self.session
        now = self.ask_choice.currentText()
        found = [(c, k) for c, k in places(s.plan) if c.known.shared or k == s.turbo]
        self._asked = [it for it in found if held(s.plan, *it).state != "locked"]
        self.ask_choice.blockSignals(True)
        self.ask_choice.clear()
        self.ask_choice.addItems([c.words for c, _ in self._asked])
        self.ask_choice.setCurrentText(now)
        self.ask_choice.blockSignals(False)
        self._offer_values()
        best = self.answer.named(SAFEST) if self.answer is not None else None
        self.lost.clear()
        if self.answer is not None and best is not None:
            self.lost.addItems([lost_words(lost, best.merit, s.family) for lost in self.answer.lost])
            self.lost.addItems([tr("No way: {words}").format(words=words) for words in self.answer.no_way])

    def _offer_values(self) -> None:
        n = self.ask_choice.currentIndex()
        if not 0 <= n < len(self._asked):
            return
        choice, k = self._asked[n]
        typed = self.ask_value.currentText()
        self.ask_value.clear()
        self.ask_value.addItems(list(allowed(self.session.plan, choice, k)))
        if typed and self.sender() is not self.ask_choice:
            self.ask_value.setCurrentText(typed)

    def ask(self) -> None:
        """Answer "why not?" for the chosen value, by trying it on the safest plan (or the plan as it stands)."""
        s, n = self.session, self.ask_choice.currentIndex()
        if not 0 <= n < len(self._asked):
            return
        choice, k = self._asked[n]
        best = self.answer.named(SAFEST) if self.answer is not None else None
        plan = best.plan if best is not None else without_ideas(s.plan)
        try:
            value = choice.read(self.ask_value.currentText(), plan, k)
        except GravidonError as error:
            self.ask_words.setText(str(error))
            return
        base, family = without_ideas(s.plan), s.family
        self.ask_words.setText(tr("Trying it …"))
        self.asking.start(lambda: _one(why_not, base, plan, choice, k, value, family))

    def _answered(self, answer: WhyNot) -> None:
        self.ask_words.setText(answer.words[:1].upper() + answer.words[1:])

    def leave(self) -> None:
        """The window closes."""
        self.job.leave()
        self.asking.leave()
        self._let_go()


def _until_stopped(plan: Plan, crew: Crew, effort: Effort) -> Iterator[Answer]:
    """Yield a search's answers; it ends where its crew is let go."""
    try:
        yield from search(plan, 1, crew, effort)
    except Stopped:
        return


def _one(work: Callable[..., WhyNot], *given: Any) -> Iterator[WhyNot]:
    yield work(*given)


def capital_stage(stage: str) -> str:
    """Return a stage's words at the beginning of a line."""
    words = tr(stage)
    return words[:1].upper() + words[1:]


def _best_view(plan: Plan) -> View:
    """Return the side from which a plan's drain is seen best: along the wall that it enters by."""
    return "front" if name_of_wall(plan.turbos[0]) in ("left", "right") else "side"
