# SPDX-License-Identifier: GPL-3.0-or-later
"""Why it smokes: belief as a map over the car's own oil path, three questions at a time, the next best test, and what mends it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from gravidon.desk.canvas import Canvas
from gravidon.desk.diagnosis_dialogs import MendDialog, SignsDialog, TestsDialog
from gravidon.desk.diagnosis_panels import ASKED, Panel, QuestionsPanel, TestPanel, ToldPanel
from gravidon.desk.job import Job
from gravidon.desk.stations.base import Station
from gravidon.draw import belief_bars, suspicion
from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.records.entry import Entry
from gravidon.study.diagnosis.advice import Advice, advise, questions, settled, speaks, splits, stops
from gravidon.study.diagnosis.belief import ELSE, Belief, Model, cause_name, running
from gravidon.study.diagnosis.case import Case, case_from
from gravidon.study.diagnosis.report import with_log
from gravidon.study.diagnosis.showing import idle_of
from gravidon.study.diagnosis.tables import PLACES, tables
from gravidon.translate import commas
from gravidon.words.text import tr

KEPT = "case"
BARS = 5
FOR, AGAINST = 1.25, 0.8
"""How many times likelier an answer makes a cause, from which it is told as speaking for it, and under which as against; project choices."""


@dataclass(frozen=True)
class Answer:
    """The model of the car, and the signs the logbook tells of itself; what to say while there is none: how far it is, or why it cannot be computed."""

    model: Model | None
    told: dict[str, bool]
    instead: str = ""


def answered(plan: Plan, entries: tuple[Entry, ...], turbo: int) -> Iterator[Answer]:
    """Yield how far a plan's car has been run with its faults, then its model."""
    try:
        for share in running(plan):
            yield Answer(
                None,
                {},
                tr("Running this car with every fault it could have: {share:.0%} …").format(share=share),
            )
        yield Answer(*with_log(plan, entries, turbo))
    except GravidonError as error:
        yield Answer(None, {}, str(error))


class MapCanvas(Canvas):
    """The car's oil path as the map of suspicion."""

    station: DiagnosisStation
    made: suspicion.Map | None = None

    def paint(self, painter: QPainter) -> None:
        """Draw it, or say that it is being worked out."""
        s = self.station
        if s.belief is None:
            words = (
                s.answer.instead
                if s.answer is not None
                else tr("Running this car with every fault it could have …")
            )
            self.say(painter, words)
            return
        e = s.session.evaluation
        idle = idle_of(e.plan)
        self.made = suspicion.paint(self.ink(painter), self.area, e, idle, s.spots(), s.place)

    def clicked(self, at: QPointF) -> None:
        """Choose the likeliest cause of a place."""
        key = self.made.spot_at(at) if self.made is not None else ""
        if key:
            self.station.choose_place(key)


class BarsCanvas(Canvas):
    """The likeliest causes; arrow keys and clicks choose one."""

    station: DiagnosisStation

    def paint(self, painter: QPainter) -> None:
        """Draw the bars."""
        s = self.station
        belief_bars.paint(self.ink(painter), self.area.adjusted(2, 2, -2, -2), s.bars(), s.row)

    def clicked(self, at: QPointF) -> None:
        """Choose a cause."""
        row = belief_bars.row_at(self.area.adjusted(2, 2, -2, -2), self.station.bars(), at)
        if row >= 0:
            self.station.choose(row)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down choose; Enter mends."""
        if event is None:
            return
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()), 0)
        if step:
            self.station.choose(self.station.row + step)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.station.mend()
        else:
            super().keyPressEvent(event)


class DiagnosisStation(Station):
    """Find out why it smokes."""

    key = "diagnosis"
    question = tr("Why does it smoke? What you tell and test, weighed by this car's own plan and log.")
    shows_condition = False
    flagged = False

    def build(self) -> None:
        """The map, the questions; the ranking, the next test, what was told."""
        self.case = Case()
        self.answer: Answer | None = None
        self.belief: Belief | None = None
        self.advice: tuple[Advice, ...] = ()
        self._before: dict[str, float] = {}
        self.chosen = ""
        self._of: object = None
        self.job = Job(self)
        self.job.reported.connect(self._report)
        whole = QHBoxLayout()
        whole.setSpacing(14)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.canvas = MapCanvas(self, tr("Map of suspicion along the oil's path"), (380, 250))
        self.questions = QuestionsPanel()
        self.questions.answered.connect(self.answer_sign)
        self.questions.all_signs.clicked.connect(self.open_signs)
        self.stop = QLabel()
        self.stop.setProperty("role", "bad")
        self.stop.setWordWrap(True)
        self.stop.hide()
        left.addWidget(self.stop)
        left.addWidget(self.canvas, 1)
        left.addWidget(self.questions)
        whole.addLayout(left, 1)
        right = QWidget()
        right.setFixedWidth(368)
        column = QVBoxLayout(right)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self._build_ranking(column)
        self.test = TestPanel()
        self.test.came.connect(self.tell_result)
        self.test.bar.activated.connect(self._set_bar)
        self.test.all_tests.clicked.connect(self.open_tests)
        self.told = ToldPanel()
        self.told.taken_back.connect(self.take_back)
        self.told.together.clicked.connect(self._put_together)
        self.told.afresh.clicked.connect(self.begin_afresh)
        column.addWidget(self.test)
        column.addWidget(self.told, 1)
        whole.addWidget(right)
        self.column.addLayout(whole, 1)
        self.session.log.changed.connect(self._log_changed)
        self.session.file_changed.connect(self._load)
        self._load()

    def _build_ranking(self, column: QVBoxLayout) -> None:
        self.mend_button = QPushButton(tr("What mends it…"))
        self.mend_button.clicked.connect(self.mend)
        panel = Panel(tr("Most likely"), self.mend_button)
        self.list = BarsCanvas(self, tr("Most likely causes"), (300, int(BARS * belief_bars.ROW_PX) + 4))
        self.list.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.list.setFixedHeight(int(BARS * belief_bars.ROW_PX) + 4)
        panel.column.addWidget(self.list)
        self.why = panel.add_words("faint")
        self.why.least = 54
        self.why.setAlignment(Qt.AlignmentFlag.AlignTop)
        column.addWidget(panel)

    # --- state ---------------------------------------------------------------------------------

    @property
    def busy(self) -> bool:
        """Whether the car is still being run with its faults."""
        return self.job.busy

    def _load(self) -> None:
        """Take up the case that is kept beside the plan."""
        text = self.session.log.kept(KEPT)
        try:
            self.case = case_from(text) if text else Case()
        except GravidonError as error:
            self.session.refused.emit(str(error))
            self.case = Case()
        self._before = {}

    def _log_changed(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Run the car anew where plan, turbo or entries are others; show what is known."""
        of = (self.session.plan, self.session.turbo, self.session.log.entries)
        if of != self._of:
            self._of = of
            self.answer = None
            self.belief = None
            plan, turbo, entries = of
            self.job.start(lambda: answered(plan, entries, turbo))
        self.show_case()

    def _report(self, answer: Answer) -> None:
        self.answer = answer
        self.show_case()

    @property
    def whole(self) -> Case:
        """The case with what the logbook tells of itself."""
        return self.case.with_told(self.answer.told if self.answer is not None else {})

    def take(self, case: Case) -> None:
        """Take another case: after an answer, a result, or one taken back; it is kept beside the plan."""
        if self.belief is not None:
            self._before = dict(self.belief.ranked)
        self.case, self.chosen = case, ""
        self.session.log.keep(KEPT, "" if case.empty and not case.apart else case.text())
        self.show_case()
        self.session.headline_changed.emit()

    def answer_sign(self, sign: str, answer: bool | None) -> None:
        """Answer a sign; None: not known."""
        self.take(self.case.answered(sign, answer))

    def tell_result(self, test: str, outcome: int) -> None:
        """Tell what came of a test."""
        self.take(self.case.tested(test, outcome))

    def take_back(self, key: str) -> None:
        """Take an answer or a result back; what the logbook tells is then not known."""
        logs_own = key in self.whole.answers and key not in self.case.answers
        self.take(self.case.answered(key, None) if logs_own else self.case.without(key))

    def begin_afresh(self) -> None:
        """Forget all that was told and tested."""
        self.take(Case(bar=self.case.bar))
        self.session.told.emit(tr("Begun afresh: the logbook keeps what was written there."))

    def _put_together(self) -> None:
        self.take(self.case.together())

    def _set_bar(self, index: int) -> None:
        self.take(replace(self.case, bar=index))

    # --- showing -------------------------------------------------------------------------------

    def show_case(self) -> None:
        """Show belief, questions, next test and what was told."""
        made, whole = self.answer.model if self.answer is not None else None, self.whole
        self.belief = made.belief(whole.answers, whole.results) if made is not None else None
        self.advice = advise(made, self.belief, whole) if made is not None and self.belief else ()
        asked = questions(made, self.belief, whole, ASKED) if made is not None and self.belief else ()
        self.questions.show_asked(asked, self.belief is not None)
        self._show_test()
        self.told.show_case(self.case, whole)
        self._show_chosen()
        self.canvas.setAccessibleDescription("; ".join(f"{s.name} {s.belief:.0%}" for s in self.spots()[:4]))
        self.list.setAccessibleDescription("; ".join(f"{b.name} {b.belief:.0%}" for b in self.bars()))

    def _show_chosen(self) -> None:
        """Show the cause that is looked at; the likeliest where none of those ranked is."""
        keys = [b.key for b in self.bars()]
        if keys and self.chosen not in keys:
            self.chosen = keys[0]
        self._show_why()
        self.canvas.update()
        high = belief_bars.row_px(self.bars(), self.list.width() - 4)
        self.list.setFixedHeight(int(BARS * high) + 4)
        self.list.update()

    def _show_test(self) -> None:
        self.test.bar.setCurrentIndex(self.case.bar)
        said = stops(self.belief.model, self.whole) if self.belief is not None else ()
        self.stop.setText(" ".join(said))
        self.stop.setVisible(bool(said))
        if self.belief is None:
            self.test.show_nothing("")
        elif not self.advice:
            self.test.show_nothing(
                tr("No test left that is allowed. Raise the danger allowed, or begin afresh.")
            )
        else:
            sure, best = settled(self.belief), self.advice[0]
            sides = splits(self.belief.model, self.belief, best)
            self.test.show_test(best, self.case, sides, cause_name(tables(), sure) if sure else "")

    def spots(self) -> list[suspicion.Spot]:
        """Return the map's places with belief, hottest first."""
        if self.belief is None:
            return []
        known = tables().causes
        spots = []
        for place, belief in sorted(self.belief.by_place.items(), key=lambda row: -row[1]):
            cause, share = next(
                (k, v) for k, v in self.belief.ranked if k != ELSE and known[k].place == place
            )
            spots.append(suspicion.Spot(place, PLACES[place], belief, known[cause].name, share))
        return spots

    def bars(self) -> list[belief_bars.Bar]:
        """Return the ranking."""
        if self.belief is None:
            return []
        known = tables()
        return [
            belief_bars.Bar(key, cause_name(known, key), value, self._before.get(key, float("nan")))
            for key, value in self.belief.ranked[:BARS]
        ]

    @property
    def row(self) -> int:
        """Row of the cause that is looked at."""
        keys = [b.key for b in self.bars()]
        return keys.index(self.chosen) if self.chosen in keys else -1

    @property
    def place(self) -> str:
        """Place of the cause that is looked at; empty if none."""
        found = tables().causes.get(self.chosen)
        return found.place if found is not None else ""

    def choose(self, row: int) -> None:
        """Look at a cause of the ranking."""
        bars = self.bars()
        if bars:
            self.chosen = bars[min(max(row, 0), len(bars) - 1)].key
            self._show_chosen()

    def choose_place(self, place: str) -> None:
        """Look at the likeliest cause of a place, if it is among those ranked."""
        for k, bar in enumerate(self.bars()):
            if bar.key != ELSE and tables().causes[bar.key].place == place:
                self.choose(k)
                return

    def _show_why(self) -> None:
        if self.belief is None or not self.chosen:
            self.why.setText("")
            self.mend_button.setEnabled(False)
            return
        known = tables()
        self.mend_button.setEnabled(self.chosen != ELSE)
        if self.chosen == ELSE:
            self.why.setText(tr("What no row of the table is. Never ruled out."))
            return
        words = [known.causes[self.chosen].why]
        whole = self.whole
        spoken = [
            (
                known.signs[key].words(whole.answers[key])
                if key in known.signs
                else known.tests[key].outcomes[whole.results[key]].name,
                times,
            )
            for key, times in speaks(self.belief.model, whole, self.chosen)
        ]
        for_it = [said for said, times in spoken if times > FOR]
        against = [said for said, times in spoken if times < AGAINST]
        if for_it:
            words.append(tr("For it: {signs}.").format(signs=commas(for_it[:3])))
        if against:
            words.append(tr("Against it: {signs}.").format(signs=commas(against[:2])))
        self.why.setText(" ".join(words))

    # --- dialogs -------------------------------------------------------------------------------

    def open_signs(self) -> None:
        """Every sign, to be answered or taken back."""
        SignsDialog(self, self.case).exec()

    def open_tests(self) -> None:
        """Every test of this plan, with what it costs and tells; results can be told."""
        if self.belief is not None:
            TestsDialog(self, self.belief.model, self.belief, self.whole).exec()

    def mend(self) -> None:
        """What mends the cause that is looked at."""
        if self.belief is None or self.chosen in ("", ELSE):
            return
        sure = dict(self.belief.ranked)[self.chosen]
        MendDialog(self, self.session, self.chosen, sure, self.whole).exec()

    def leave(self) -> None:
        """The window closes."""
        self.job.leave()
