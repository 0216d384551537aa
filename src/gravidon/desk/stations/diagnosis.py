"""Why it smokes: belief as a map over the car's own oil path, three questions at a time, the next best test, and what mends it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import partial

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.canvas import Canvas
from gravidon.desk.diagnosis_dialogs import MendDialog, SignsDialog, TestsDialog
from gravidon.desk.job import Job
from gravidon.desk.stations.base import Station, section
from gravidon.desk.there import emptied
from gravidon.draw import belief_bars, suspicion
from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.records.entry import Entry
from gravidon.study.diagnosis.advice import Advice, advise, questions, settled, speaks, splits
from gravidon.study.diagnosis.belief import ELSE, Belief, Model
from gravidon.study.diagnosis.case import Case, case_from
from gravidon.study.diagnosis.report import ELSE_NAME, with_log
from gravidon.study.diagnosis.showing import idle_of
from gravidon.study.diagnosis.tables import PLACES, RISKS, tables

KEPT = "case"
BARS, ASKED = 5, 3
HALF_PX = 156
"""[px] that an outcome's words may be wide if two are to stand beside one another."""
BAR_WORDS = ("no danger", "hot parts", "hot oil, car up", "driven hard")


@dataclass(frozen=True)
class Answer:
    """The model of the car, and the signs the logbook tells of itself; a problem where it cannot be computed."""

    model: Model | None
    told: dict[str, bool]
    problem: str = ""


def answered(plan: Plan, entries: tuple[Entry, ...], turbo: int) -> Iterator[Answer]:
    """Yield the model of a plan's car."""
    try:
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
                s.answer.problem
                if s.answer is not None
                else "Running this car with every fault it could have …"
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
        row = belief_bars.row_at(self.area.adjusted(2, 2, -2, -2), len(self.station.bars()), at)
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
    question = "Why does it smoke? What you tell and test, weighed by this car's own plan and log."
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
        self.canvas = MapCanvas(self, "Map of suspicion along the oil's path", (380, 250))
        left.addWidget(self.canvas, 1)
        left.addLayout(self._build_questions())
        whole.addLayout(left, 1)
        right = QWidget()
        right.setFixedWidth(368)
        column = QVBoxLayout(right)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self._build_ranking(column)
        self._build_test(column)
        self._build_told(column)
        whole.addWidget(right)
        self.column.addLayout(whole, 1)
        self.session.log.changed.connect(self._log_changed)
        self.session.file_changed.connect(self._load)
        self._load()

    def _build_questions(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(4)
        head = QHBoxLayout()
        self.asks_title = section("Asked now")
        head.addWidget(self.asks_title)
        head.addStretch(1)
        self.all_signs = QPushButton("All signs…")
        self.all_signs.clicked.connect(self.open_signs)
        head.addWidget(self.all_signs)
        column.addLayout(head)
        grid = QGridLayout()
        grid.setVerticalSpacing(2)
        grid.setColumnStretch(0, 1)
        self.asks: list[tuple[QLabel, tuple[QPushButton, ...]]] = []
        for row in range(ASKED):
            words = QLabel()
            words.setWordWrap(True)
            words.setMinimumHeight(26)
            grid.addWidget(words, row, 0)
            buttons = []
            for k, (text, answer) in enumerate((("Yes", True), ("No", False), ("Don't know", None))):
                button = QPushButton(text)
                button.clicked.connect(partial(self._answer_row, row, answer))
                grid.addWidget(button, row, k + 1)
                buttons.append(button)
            self.asks.append((words, tuple(buttons)))
        column.addLayout(grid)
        return column

    def _build_ranking(self, column: QVBoxLayout) -> None:
        head = QHBoxLayout()
        head.addWidget(section("Most likely"))
        head.addStretch(1)
        self.mend_button = QPushButton("What mends it…")
        self.mend_button.clicked.connect(self.mend)
        head.addWidget(self.mend_button)
        column.addLayout(head)
        self.list = BarsCanvas(self, "Most likely causes", (300, int(BARS * belief_bars.ROW_PX) + 4))
        self.list.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.list.setFixedHeight(int(BARS * belief_bars.ROW_PX) + 4)
        column.addWidget(self.list)
        self.why = QLabel()
        self.why.setWordWrap(True)
        self.why.setMinimumHeight(54)
        self.why.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.why.setProperty("role", "faint")
        column.addWidget(self.why)

    def _build_test(self, column: QVBoxLayout) -> None:
        head = QHBoxLayout()
        head.addWidget(section("Next best test"))
        head.addStretch(1)
        self.bar = QComboBox()
        self.bar.addItems([f"up to {w}" for w in BAR_WORDS])
        self.bar.setAccessibleName("Most danger a test may have")
        self.bar.activated.connect(self._set_bar)
        head.addWidget(self.bar)
        self.all_tests = QPushButton("All tests…")
        self.all_tests.clicked.connect(self.open_tests)
        head.addWidget(self.all_tests)
        column.addLayout(head)
        self.test_name = QLabel()
        self.test_name.setWordWrap(True)
        self.test_name.setStyleSheet("font-weight: 600;")
        column.addWidget(self.test_name)
        self.test_words = QLabel()
        self.test_words.setWordWrap(True)
        column.addWidget(self.test_words)
        self.outcomes = QGridLayout()
        self.outcomes.setSpacing(4)
        column.addLayout(self.outcomes)

    def _build_told(self, column: QVBoxLayout) -> None:
        head = QHBoxLayout()
        self.told_title = section("Told and tested")
        head.addWidget(self.told_title)
        head.addStretch(1)
        self.together = QPushButton("All back on")
        self.together.setToolTip("What was taken off for tests is on again")
        self.together.clicked.connect(self._put_together)
        head.addWidget(self.together)
        self.afresh = QPushButton("Begin afresh")
        self.afresh.clicked.connect(self.begin_afresh)
        head.addWidget(self.afresh)
        column.addLayout(head)
        inside = QWidget()
        self.told = QVBoxLayout(inside)
        self.told.setContentsMargins(0, 0, 0, 0)
        self.told.setSpacing(1)
        self.told.setAlignment(Qt.AlignmentFlag.AlignTop)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(inside)
        area.setObjectName("fields")
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setMinimumHeight(44)
        column.addWidget(area, 1)

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
        told = self.answer.told if self.answer is not None else {}
        own = set(self.case.answers) | set(self.case.unknown)
        return replace(
            self.case, answers={**{k: v for k, v in told.items() if k not in own}, **self.case.answers}
        )

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

    def take_back(self, key: str, _clicked: bool = False) -> None:
        """Take an answer or a result back."""
        told = self.answer.told if self.answer is not None else {}
        if key in told and key not in self.case.answers:
            self.take(self.case.answered(key, None))
        else:
            self.take(self.case.without(key))

    def begin_afresh(self) -> None:
        """Forget all that was told and tested."""
        self.take(Case(bar=self.case.bar))
        self.session.told.emit("Begun afresh: the logbook keeps what was written there.")

    def _put_together(self) -> None:
        self.take(self.case.together())

    def _set_bar(self, index: int) -> None:
        self.take(replace(self.case, bar=index))

    def _answer_row(self, row: int, answer: bool | None, _clicked: bool = False) -> None:
        asked = self._asked()
        if row < len(asked):
            self.answer_sign(asked[row], answer)

    # --- showing -------------------------------------------------------------------------------

    def show_case(self) -> None:
        """Show belief, questions, next test and what was told."""
        made = self.answer.model if self.answer is not None else None
        if made is None:
            self.belief = None
            self.advice = ()
        else:
            self.belief = made.belief(self.whole.answers, self.whole.results)
            self.advice = advise(made, self.belief, self.whole)
            ranked = [k for k, _ in self.belief.ranked[:BARS]]
            if self.chosen not in ranked:
                self.chosen = ranked[0]
        self.bar.setCurrentIndex(self.case.bar)
        self._show_questions()
        self._show_why()
        self._show_test()
        self._show_told()
        self.canvas.setAccessibleDescription("; ".join(f"{s.name} {s.belief:.0%}" for s in self.spots()[:4]))
        self.list.setAccessibleDescription("; ".join(f"{b.name} {b.belief:.0%}" for b in self.bars()))
        self.canvas.update()
        self.list.update()

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
        known = tables().causes
        return [
            belief_bars.Bar(
                key, known[key].name if key != ELSE else ELSE_NAME,
                PLACES[known[key].place] if key != ELSE else "", value, self._before.get(key, float("nan")),
            )
            for key, value in self.belief.ranked[:BARS]
        ]  # fmt: skip

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
            self.show_case()

    def choose_place(self, place: str) -> None:
        """Look at the likeliest cause of a place, if it is among those ranked."""
        for k, bar in enumerate(self.bars()):
            if bar.key != ELSE and tables().causes[bar.key].place == place:
                self.choose(k)
                return

    def _asked(self) -> tuple[str, ...]:
        if self.belief is None:
            return ()
        return questions(self.belief.model, self.belief, self.whole, ASKED)

    def _show_questions(self) -> None:
        asked = self._asked()
        known = tables().signs
        for k, (words, buttons) in enumerate(self.asks):
            there_is = k < len(asked)
            words.setText(known[asked[k]].ask if there_is else "")
            for button, name in zip(buttons, ("Yes", "No", "Don't know"), strict=True):
                button.setVisible(there_is)
                button.setAccessibleName(f"{name}: {words.text()}")
        if self.belief is not None and not asked:
            self.asks[0][0].setText(
                "Nothing more to ask that would tell much: test, or look through all signs."
            )

    def _show_why(self) -> None:
        if self.belief is None or not self.chosen:
            self.why.setText("")
            self.mend_button.setEnabled(False)
            return
        known = tables()
        self.mend_button.setEnabled(self.chosen != ELSE)
        if self.chosen == ELSE:
            self.why.setText("What no row of the table is. Never ruled out.")
            return
        words = [known.causes[self.chosen].why]
        for_it, against = [], []
        for key, times in speaks(self.belief.model, self.whole, self.chosen):
            said = (
                known.signs[key].said
                if key in known.signs
                else known.tests[key].outcomes[self.whole.results[key]].name
            )
            if key in known.signs and not self.whole.answers[key]:
                said = f"no {said}"
            if times > 1.25:
                for_it.append(said)
            elif times < 0.8:
                against.append(said)
        if for_it:
            words.append(f"For it: {', '.join(for_it[:3])}.")
        if against:
            words.append(f"Against it: {', '.join(against[:2])}.")
        self.why.setText(" ".join(words))

    def _show_test(self) -> None:
        emptied(self.outcomes)
        self.together.setVisible(bool(self.case.apart))
        sure = settled(self.belief) if self.belief is not None else ""
        if self.belief is None or not self.advice:
            self.test_name.setText("")
            self.test_words.setText(
                ""
                if self.belief is None
                else "No test left that is allowed. Raise the danger allowed, or begin afresh."
            )
            return
        best = self.advice[0]
        prefix = f"Sure enough to mend: {tables().causes[sure].name}. Else: " if sure else ""
        self.test_name.setText(f"{prefix}{best.test.name}")
        self.test_name.setToolTip("\n".join(best.test.how))
        off = [tables().apart[a].name for a in best.test.apart if a not in self.case.apart]
        down, up = splits(self.belief.model, self.belief, best)
        words = [
            f"{best.minutes:.0f} min, {best.money:.0f} coin{'s' if best.money != 1 else ''}; {RISKS[best.test.risk]}."
        ]
        if off:
            words.append(f"With {', '.join(off)}.")
        if down and up:
            words.append(f"Splits {' and '.join(up)} from {' and '.join(down)}.")
        self.test_words.setText(" ".join(words))
        self.test_words.setToolTip("\n".join(best.test.how))
        buttons = []
        for k, (outcome, chance) in enumerate(zip(best.test.outcomes, best.chance, strict=True)):
            button = QPushButton(f"{outcome.name}  ({chance:.0%})")
            button.setToolTip(outcome.means)
            button.setAccessibleName(f"Result of {best.test.name}: {outcome.name}")
            button.clicked.connect(partial(self._outcome, best.test.key, k))
            buttons.append(button)
        wide = max(b.fontMetrics().horizontalAdvance(b.text()) for b in buttons)
        for k, button in enumerate(buttons):
            if wide > HALF_PX:
                self.outcomes.addWidget(button, k, 0, 1, 2)
            else:
                self.outcomes.addWidget(button, k // 2, k % 2)

    def _outcome(self, test: str, outcome: int, _clicked: bool = False) -> None:
        self.tell_result(test, outcome)

    def _show_told(self) -> None:
        emptied(self.told)
        known = tables()
        rows: list[tuple[str, str]] = []
        own = self.case.answers
        for key, yes in self.whole.answers.items():
            words = known.signs[key].said if yes else f"no {known.signs[key].said}"
            rows.append((key, words if key in own else f"{words} (the logbook)"))
        for key, outcome in self.case.results.items():
            test = known.tests[key]
            rows.append((key, f"{test.name}: {test.outcomes[outcome].name}"))
        rows += [(key, f"not known: {known.signs[key].said}") for key in self.case.unknown]
        for key, words in reversed(rows):
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            label = QLabel(words)
            label.setWordWrap(True)
            button = QToolButton()
            button.setText("✕")
            button.setToolTip("Take it back")
            button.setAccessibleName(f"Take back: {words}")
            button.clicked.connect(partial(self.take_back, key))
            row.addWidget(label, 1)
            row.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
            self.told.addWidget(line)
        self.afresh.setVisible(not self.case.empty)

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
