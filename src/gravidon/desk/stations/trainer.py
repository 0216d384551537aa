"""Learn to find faults: cases with a hidden fault, drills on single skills, and a record that shows progress."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from functools import partial

import numpy as np
from PyQt6.QtCore import QRect, QSize, Qt, QTimer
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.canvas import Canvas
from gravidon.desk.job import Job
from gravidon.desk.record_keeper import RecordKeeper
from gravidon.desk.stations.base import Station, section, toggles
from gravidon.draw import drill_picture, lesson
from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.records.recording import Recording
from gravidon.study.diagnosis.drills import DRILLS, Drill
from gravidon.study.diagnosis.showing import idle_of
from gravidon.study.diagnosis.tables import GROUPS, PLACES, RISKS, has, tables
from gravidon.study.diagnosis.trainer import (
    LEVELS,
    OWN,
    SITUATIONS,
    Ending,
    Lesson,
    Mark,
    Play,
    begin,
    cars,
    ending,
    gauges,
    lesson_from,
)
from gravidon.study.solve.evaluate import Evaluation, evaluate

TICK_MS = 250
ROW_PX = 310
"""[px] that the words of a row in the list may be wide, its mark and the scroll bar aside."""
PAGES = ("Case", "Drills", "Record")
MODES = ("Ask", "Test", "Say what it is")
FULL = {"gallery": 7e5, "inlet": 7e5, "oil": 423.15, "rpm": 4000.0}


@dataclass(frozen=True)
class Made:
    """What the work beside the window made: a case at its beginning with its plan's evaluation, gauges by situation, an ending; or what went wrong."""

    play: Play | None = None
    evaluation: Evaluation | None = None
    shown: tuple[str, Recording, Recording] | None = None
    end: Ending | None = None
    problem: str = ""


def opened(one: Lesson, own: Plan) -> Iterator[Made]:
    """Yield a case at its beginning."""
    try:
        play = begin(one, own)
        yield Made(play, evaluate(play.plan))
    except GravidonError as error:
        yield Made(problem=str(error))


def watched(play: Play, situation: str) -> Iterator[Made]:
    """Yield what the car's gauges show, and what a sound car's would."""
    from dataclasses import replace

    try:
        sound = replace(play, sick=replace(play.sick, ills=()), lesson=replace(play.lesson, level=1))
        yield Made(shown=(situation, gauges(play, situation), gauges(sound, situation)))
    except GravidonError as error:
        yield Made(problem=str(error))


def closed(play: Play) -> Iterator[Made]:
    """Yield the truth of a case."""
    try:
        yield Made(play, end=ending(play))
    except GravidonError as error:
        yield Made(problem=str(error))


class SceneCanvas(Canvas):
    """The car with what it shows, or at the end what each test was worth."""

    station: TrainerStation

    def paint(self, painter: QPainter) -> None:
        """Draw it, or say what could be here."""
        s, ink = self.station, self.ink(painter)
        if s.end is not None:
            lesson.paint_ending(ink, self.area.adjusted(6, 6, -6, -6), s.end)
        elif s.play is not None and s.evaluation is not None:
            shown = [k for k, yes in s.play.case.answers.items() if yes]
            idle = idle_of(s.evaluation.plan)
            lesson.paint_car(ink, self.area, s.evaluation, idle, shown)
        else:
            words = (
                "Making a sick car …"
                if s.busy
                else "Choose a level and take a new case: a car comes in, something is wrong with it."
            )
            self.say(painter, words)


class GaugesCanvas(Canvas):
    """The car's gauges, live."""

    station: TrainerStation

    def paint(self, painter: QPainter) -> None:
        """Draw them, or say how they come alive."""
        s = self.station
        shown = s.live_gauges()
        if shown:
            lesson.paint_gauges(self.ink(painter), self.area.adjusted(2, 0, -2, 0), shown)
            return
        self.say(painter, "Gauges: choose what the car shall do." if s.play else "")


class BudgetCanvas(Canvas):
    """Minutes and coins left."""

    station: TrainerStation

    def paint(self, painter: QPainter) -> None:
        """Draw both bars."""
        play = self.station.play
        if play is not None:
            level = play.level
            rows = [
                ("Time", play.minutes_left, level.minutes, "min"),
                ("Money", play.money_left, level.money, "coins"),
            ]
            lesson.paint_budget(self.ink(painter), self.area.adjusted(2, 0, -2, 0), rows)


class DrillCanvas(Canvas):
    """What the drill asks about, drawn."""

    station: TrainerStation

    def paint(self, painter: QPainter) -> None:
        """Draw it; once answered, with the answer."""
        s = self.station
        shown = s.drill.right if s.answered else -1
        drill_picture.paint(self.ink(painter), self.area.adjusted(8, 4, -8, -4), s.drill, shown)


class RecordCanvas(Canvas):
    """The record."""

    station: TrainerStation

    def paint(self, painter: QPainter) -> None:
        """Draw it."""
        s = self.station
        if s.record.marks:
            lesson.paint_record(self.ink(painter), self.area.adjusted(6, 6, -6, -6), s.record.marks)
            return
        self.say(painter, "Nothing yet: a case or a drill leaves its points here.")


class TrainerStation(Station):
    """Find hidden faults, for practice."""

    key = "trainer"
    question = (
        "A car with a hidden fault, so many minutes and coins: find it. The same tests as in Diagnosis."
    )
    shows_condition = False
    flagged = False
    per_turbo = False

    def build(self) -> None:
        """A row that makes cases; pages of case, drills and record."""
        self.play: Play | None = None
        self.evaluation: Evaluation | None = None
        self.end: Ending | None = None
        self.shown: tuple[str, Recording, Recording] | None = None
        self.tick_at = 0
        self.mode = 0
        self.record = RecordKeeper()
        self.answered = False
        self.job = Job(self)
        self.job.reported.connect(self._made)
        self.job.ended.connect(self._show)
        self.dice = np.random.default_rng()
        self.timer = QTimer(self)
        self.timer.setInterval(TICK_MS)
        self.timer.timeout.connect(self._tick)
        self.column.addLayout(self._build_head())
        self.pages = QStackedWidget()
        self.pages.addWidget(self._build_case())
        self.pages.addWidget(self._build_drills())
        self.pages.addWidget(self._build_record())
        self.column.addWidget(self.pages, 1)
        self.show_page(0)
        self.next_drill()

    def _build_head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.page_buttons = toggles(PAGES, self.show_page, row)
        row.addSpacing(18)
        self.level = QComboBox()
        self.level.addItems([f"{it.number}: {it.name}" for it in LEVELS])
        self.level.setAccessibleName("Level")
        row.addWidget(self.level)
        self.car = QComboBox()
        self.car.addItems([*cars(), "this plan's car"])
        self.car.setAccessibleName("Car")
        row.addWidget(self.car)
        self.new = QPushButton("New case")
        self.new.setProperty("role", "main")
        self.new.clicked.connect(self.new_case)
        row.addWidget(self.new)
        row.addStretch(1)
        words = QLabel("Case")
        self.code = QLineEdit()
        self.code.setMaximumWidth(170)
        self.code.setPlaceholderText("coupe-2-1234")
        self.code.setAccessibleName("Code of the case")
        self.code.setToolTip("A case's code: tell it to somebody, or type one and press Enter to open it")
        self.code.returnPressed.connect(self.open_code)
        words.setBuddy(self.code)
        row.addWidget(words)
        row.addWidget(self.code)
        return row

    def _build_case(self) -> QWidget:
        page = QWidget()
        whole = QHBoxLayout(page)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(14)
        left = QVBoxLayout()
        self.canvas = SceneCanvas(self, "The car with what it shows", (380, 200))
        left.addWidget(self.canvas, 1)
        watch = QHBoxLayout()
        label = QLabel("Let it do")
        self.situation = QComboBox()
        self.situation.addItems(["—", *SITUATIONS])
        self.situation.setAccessibleName("What the car does while the gauges are watched")
        self.situation.activated.connect(self._watch)
        label.setBuddy(self.situation)
        watch.addWidget(label)
        watch.addWidget(self.situation)
        self.gauge_canvas = GaugesCanvas(self, "Gauges", (260, 66))
        self.gauge_canvas.setFixedHeight(66)
        watch.addWidget(self.gauge_canvas, 1)
        left.addLayout(watch)
        whole.addLayout(left, 1)
        right = QWidget()
        right.setFixedWidth(380)
        self._build_work(QVBoxLayout(right))
        whole.addWidget(right)
        self.show_mode(0)
        return page

    def _build_work(self, column: QVBoxLayout) -> None:
        """Story, what is left, and the list of what can be asked, tested or said."""
        column.setContentsMargins(0, 0, 0, 0)
        self.story = QLabel()
        self.story.setWordWrap(True)
        column.addWidget(self.story)
        self.budget = BudgetCanvas(self, "Time and money left", (260, 44))
        self.budget.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.budget.setFixedHeight(44)
        column.addWidget(self.budget)
        modes = QHBoxLayout()
        self.mode_buttons = toggles(MODES, self.show_mode, modes)
        column.addLayout(modes)
        self.filter = QLineEdit()
        self.filter.setAccessibleName("Find in the list")
        self.filter.setPlaceholderText("Find in the list")
        self.filter.textChanged.connect(self._fill)
        column.addWidget(self.filter)
        self.list = QListWidget()
        self.list.setAccessibleName("What can be asked, tested or said")
        self.list.setWordWrap(True)
        self.list.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.list.setMinimumHeight(70)
        self.list.itemActivated.connect(self._activated)
        self.list.currentItemChanged.connect(self._show_more)
        column.addWidget(self.list, 1)
        self.more = QLabel()
        self.more.setWordWrap(True)
        self.more.setMinimumHeight(44)
        self.more.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.more.setProperty("role", "faint")
        column.addWidget(self.more)
        self.do = QPushButton("Ask")
        self.do.clicked.connect(self.act)
        column.addWidget(self.do)

    def _build_drills(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        self.skill = QComboBox()
        self.skill.addItems(list(DRILLS))
        self.skill.setAccessibleName("Skill")
        self.skill.activated.connect(self.next_drill)
        row.addWidget(section("Drill"))
        row.addWidget(self.skill)
        row.addStretch(1)
        column.addLayout(row)
        whole = QHBoxLayout()
        whole.setSpacing(18)
        self.drill_canvas = DrillCanvas(self, "What the drill asks about", (300, 260))
        whole.addWidget(self.drill_canvas, 1)
        right = QWidget()
        right.setFixedWidth(460)
        asked = QVBoxLayout(right)
        asked.setContentsMargins(0, 0, 0, 0)
        self.drill_words = QLabel()
        self.drill_words.setWordWrap(True)
        self.drill_words.setStyleSheet("font-size: 16px;")
        asked.addWidget(self.drill_words)
        self.answers: list[QPushButton] = []
        for k in range(4):
            button = QPushButton()
            button.clicked.connect(partial(self.answer_drill, k))
            asked.addWidget(button)
            self.answers.append(button)
        self.drill_why = QLabel()
        self.drill_why.setWordWrap(True)
        self.drill_why.setMinimumHeight(60)
        self.drill_why.setAlignment(Qt.AlignmentFlag.AlignTop)
        asked.addWidget(self.drill_why)
        self.again = QPushButton("Next")
        self.again.clicked.connect(self.next_drill)
        asked.addWidget(self.again)
        asked.addStretch(1)
        whole.addWidget(right)
        column.addLayout(whole, 1)
        return page

    def _build_record(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        self.record_canvas = RecordCanvas(self, "Record of cases and drills", (380, 260))
        column.addWidget(self.record_canvas, 1)
        return page

    # --- cases ---------------------------------------------------------------------------------

    @property
    def busy(self) -> bool:
        """Whether a case is being made or closed."""
        return self.job.busy

    def show_page(self, page: int) -> None:
        """Show the case, the drills, or the record."""
        self.pages.setCurrentIndex(page)
        self.page_buttons[page].setChecked(True)
        self.record_canvas.update()

    def new_case(self) -> None:
        """A new car comes in."""
        names = (*cars(), OWN)
        self.take(
            Lesson(
                names[self.car.currentIndex()],
                self.level.currentIndex() + 1,
                int(self.dice.integers(1, 10_000)),
            )
        )

    def open_code(self) -> None:
        """Open the case of a code."""
        try:
            self.take(lesson_from(self.code.text()))
        except GravidonError as error:
            self.session.refused.emit(str(error))

    def take(self, one: Lesson) -> None:
        """Take a case."""
        self.show_page(0)
        self.play = self.evaluation = self.end = self.shown = None
        self.timer.stop()
        self.code.setText(one.code)
        self.level.setCurrentIndex(one.level - 1)
        self.car.setCurrentIndex((*cars(), OWN).index(one.car))
        self.situation.setCurrentIndex(0)
        own = self.session.plan
        self.job.start(lambda: opened(one, own))
        self._show()

    def _made(self, made: Made) -> None:
        if made.problem:
            self.session.refused.emit(made.problem)
        if made.end is not None:
            self.end = made.end
            self._keep_case(made.end)
        elif made.play is not None:
            self.play, self.evaluation = made.play, made.evaluation
            self.show_mode(0)
        if made.shown is not None:
            self.shown, self.tick_at = made.shown, 0
            self.timer.start()
        self._show()

    def _step(self, play: Play) -> None:
        self.play = play
        self._show()

    def act(self) -> None:
        """Ask, test, or say what it is: whatever the list's row means."""
        play = self.play
        if play is None or self.end is not None or self.busy:
            return
        try:
            if self.mode == 2:
                self._say(play)
                return
            item = self.list.currentItem()
            if item is None:
                return
            key = str(item.data(Qt.ItemDataRole.UserRole))
            self._step(play.ask(key) if self.mode == 0 else play.test(key))
        except GravidonError as error:
            self.session.refused.emit(str(error))

    def _say(self, play: Play) -> None:
        chosen = []
        for k in range(self.list.count()):
            item = self.list.item(k)
            if item is not None and item.checkState() == Qt.CheckState.Checked:
                chosen.append(str(item.data(Qt.ItemDataRole.UserRole)))
        current = self.list.currentItem()
        if not chosen and current is not None:
            chosen = [str(current.data(Qt.ItemDataRole.UserRole))]
        done = play.say(chosen)
        self.play = done
        self.job.start(lambda: closed(done))
        self._show()

    def _keep_case(self, end: Ending) -> None:
        play = self.play
        if play is None:
            return
        when = datetime.now().isoformat(timespec="minutes")
        level = f"level {play.level.number}: {play.level.name}"
        self.record.add(Mark(when, play.lesson.code, level, end.points, play.minutes, play.money))

    def _watch(self, index: int) -> None:
        self.shown = None
        self.timer.stop()
        play = self.play
        if index > 0 and play is not None and not self.busy:
            name = list(SITUATIONS)[index - 1]
            self.job.start(lambda: watched(play, name))
        self.gauge_canvas.update()

    def _tick(self) -> None:
        self.tick_at += 1
        if not self.isVisible():
            self.timer.stop()
        self.gauge_canvas.update()

    def live_gauges(self) -> list[lesson.Gauge]:
        """Return what the gauges show at this moment."""
        if self.shown is None:
            return []
        _, now, sound = self.shown
        at = int(self.tick_at * TICK_MS / 1e3 * 10.0) % len(now.time_s)
        names = {
            "gallery": ("Gallery", "kpa"),
            "inlet": ("Turbo's inlet", "kpa"),
            "oil": ("Oil", "degc"),
            "rpm": ("Engine", "rpm"),
        }
        made = []
        for key, (name, kind) in names.items():
            if key in now.channels:
                planned = float(np.mean(sound.channels[key])) if kind == "kpa" else float("nan")
                scale = 1.0 / 60.0 if kind == "rpm" else 1.0
                value = float(now.channels[key][at]) * scale
                full = FULL[key] * scale
                made.append(lesson.Gauge(name, value, kind, planned, full))
        return made

    # --- showing -------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the case as it is."""
        self._show()

    def show_mode(self, mode: int) -> None:
        """Ask, test, or say."""
        self.mode = mode
        self.mode_buttons[mode].setChecked(True)
        self.do.setText(("Ask (1 min)", "Do this test", "Say so: the case is closed")[mode])
        self.filter.clear()
        self._fill()

    def _rows(self) -> list[tuple[str, str, str]]:
        """Rows of the list: key, words, what else is said of it."""
        play, known = self.play, tables()
        if play is None:
            return []
        there = has(play.plan)
        if self.mode == 0:
            rows = []
            for group in GROUPS:
                for sign in known.signs.values():
                    if sign.group == group and set(sign.needs) <= there:
                        answer = play.case.answers.get(sign.key)
                        told = "" if answer is None else f"  — {'yes' if answer else 'no'}"
                        rows.append((sign.key, f"{sign.ask}{told}", GROUPS[group]))
            return rows
        if self.mode == 1:
            rows = []
            for test in known.tests.values():
                if not set(test.needs) <= there:
                    continue
                done = play.case.results.get(test.key)
                price = f"{play.price(test):.0f} min, {test.money:.0f} coins"
                words = (
                    f"{test.name} ({price})" if done is None else f"{test.name}  — {test.outcomes[done].name}"
                )
                off = [known.apart[a].name for a in test.apart if a not in play.case.apart]
                more = f"{' '.join(test.how)} {RISKS[test.risk].capitalize()}."
                if off:
                    more += f" With {', '.join(off)}."
                if done is not None:
                    more = test.outcomes[done].means
                rows.append((test.key, words, more))
            return rows
        return [
            (c.key, f"{c.name} ({PLACES[c.place]})", c.why)
            for c in known.causes.values()
            if set(c.needs) <= there
        ]

    def _fill(self) -> None:
        current = self.list.currentItem()
        at = str(current.data(Qt.ItemDataRole.UserRole)) if current is not None else ""
        wanted = self.filter.text().lower().split()
        checked = {
            str(item.data(Qt.ItemDataRole.UserRole))
            for k in range(self.list.count())
            if (item := self.list.item(k)) is not None and item.checkState() == Qt.CheckState.Checked
        }
        metrics = self.list.fontMetrics()
        self.list.blockSignals(True)
        self.list.clear()
        for key, words, more in self._rows():
            if not all(w in f"{words} {more} {key}".lower() for w in wanted):
                continue
            item = QListWidgetItem(words)
            item.setData(Qt.ItemDataRole.UserRole, key)
            item.setToolTip(more)
            box = metrics.boundingRect(QRect(0, 0, ROW_PX, 400), int(Qt.TextFlag.TextWordWrap), words)
            item.setSizeHint(QSize(ROW_PX, box.height() + 12))
            if self.mode == 2:
                item.setCheckState(Qt.CheckState.Checked if key in checked else Qt.CheckState.Unchecked)
            self.list.addItem(item)
            if key == at:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)
        if self.list.currentItem() is None and self.list.count():
            self.list.setCurrentRow(0)
        self._show_more()

    def _show_more(self, *_: object) -> None:
        item = self.list.currentItem()
        self.more.setText(item.toolTip() if item is not None else "")

    def _activated(self, _item: QListWidgetItem) -> None:
        if self.mode < 2:
            self.act()

    def _show(self) -> None:
        play, end = self.play, self.end
        running = play is not None and end is None and not self.busy
        for widget in (self.list, self.filter, *self.mode_buttons):
            widget.setEnabled(running)
        self.do.setEnabled(running)
        if play is None:
            self.story.setText("")
        elif end is not None:
            self.story.setText(self._end_words(end))
        else:
            self.story.setText(play.story)
        self._fill()
        self.canvas.setAccessibleDescription(self.story.text())
        for canvas in (self.canvas, self.budget, self.gauge_canvas, self.record_canvas):
            canvas.update()

    def _end_words(self, end: Ending) -> str:
        known = tables().causes
        truth = " and ".join(known[c].name for c in end.truth)
        if end.wrong or not end.found:
            said = (
                "not " + " or ".join(known[c].name for c in end.wrong)
                if end.wrong
                else "nothing of it was found"
            )
            verdict = f"You found {len(end.found)} of {len(end.truth)}; it was {said}."
        elif len(end.found) < len(end.truth):
            verdict = f"You found {len(end.found)} of {len(end.truth)}."
        else:
            verdict = "You found it." if len(end.truth) == 1 else "You found both."
        play = self.play
        cost = f"{play.minutes:.0f} min and {play.money:.0f} coins" if play is not None else ""
        return f"{verdict} The truth: {truth}. {end.points} points of 100, with {cost}; the best plan of tests takes {end.best_minutes:.0f} min and {end.best_money:.0f} coins."

    # --- drills --------------------------------------------------------------------------------

    def next_drill(self, *_: object) -> None:
        """Put another question."""
        name = self.skill.currentText()
        self.drill: Drill = DRILLS[name](int(self.dice.integers(1, 100_000)), self.session.family)
        self.answered = False
        self.drill_words.setText(self.drill.question)
        self.drill_why.setText("")
        for button, words in zip(self.answers, self.drill.answers, strict=True):
            button.setText(words)
            button.setEnabled(True)
        self.drill_canvas.setAccessibleDescription(self.drill.question)
        self.drill_canvas.update()

    def answer_drill(self, index: int, _clicked: bool = False) -> None:
        """Answer: right or wrong, and why."""
        if self.answered:
            return
        self.answered = True
        right = index == self.drill.right
        self.drill_why.setText(
            f"{'Right' if right else 'No: ' + self.drill.answers[self.drill.right]}. {self.drill.why}"
        )
        for k, button in enumerate(self.answers):
            button.setEnabled(False)
            if k == self.drill.right:
                button.setText(f"✓ {self.drill.answers[k]}")
            elif k == index:
                button.setText(f"✕ {self.drill.answers[k]}")
        when = datetime.now().isoformat(timespec="minutes")
        self.record.add(Mark(when, "drill", self.drill.skill, 100 if right else 0))
        self.drill_canvas.update()
        self.again.setFocus()

    def leave(self) -> None:
        """The window closes."""
        self.timer.stop()
        self.job.leave()
