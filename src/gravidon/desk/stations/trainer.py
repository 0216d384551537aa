# SPDX-License-Identifier: GPL-3.0-or-later
"""Learn to find faults: cases with a hidden fault, drills on single skills, and a record that shows progress."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np
from PyQt6.QtCore import QSize, QTimer
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.box import Box
from gravidon.desk.canvas import Canvas
from gravidon.desk.drill_page import DrillPage
from gravidon.desk.job import Job
from gravidon.desk.record_keeper import RecordKeeper
from gravidon.desk.stations.base import Station, toggles
from gravidon.desk.work_list import ASK, SAY, TEST, WorkList
from gravidon.draw import lesson
from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.records.recording import Recording
from gravidon.study.diagnosis.showing import idle_of
from gravidon.study.diagnosis.tables import tables
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
from gravidon.translate import either, listed, tr

TICK_MS = 250
PAGES = (tr("Case"), tr("Drills"), tr("Record"))
GAUGES = {
    "gallery": (tr("Gallery"), "kpa", 7e5),
    "inlet": (tr("Turbo's inlet"), "kpa", 7e5),
    "oil": (tr("Oil"), "degc", 423.15),
    "rpm": (tr("Engine"), "rpm", 4000.0),
}
"""By channel: what a gauge is called, its kind of unit, and the end of its scale in the recording's unit; project choices."""


@dataclass(frozen=True)
class Made:
    """What the work beside the window made: a case at its beginning with its plan's evaluation, what the gauges show and what a sound car's would, an ending; or what went wrong."""

    play: Play | None = None
    evaluation: Evaluation | None = None
    shown: tuple[Recording, Recording] | None = None
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
    try:
        sound = replace(play, sick=replace(play.sick, ills=()), lesson=replace(play.lesson, level=1))
        yield Made(shown=(gauges(play, situation), gauges(sound, situation)))
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

    def sizeHint(self) -> QSize:
        """As tall as leaves the gauges in sight in an everyday window."""
        return QSize(760, 370)

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
                tr("Making a sick car …")
                if s.busy
                else tr("Choose a level and take a new case: a car comes in, something is wrong with it.")
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
        self.say(
            painter,
            tr("Gauges: choose what the car shall do.")
            if s.play
            else tr("Gauges: a case brings them to life."),
        )


class BudgetCanvas(Canvas):
    """Minutes and coins left."""

    station: TrainerStation

    def paint(self, painter: QPainter) -> None:
        """Draw both bars."""
        play = self.station.play
        if play is not None:
            level = play.level
            rows = [
                (tr("Time"), play.minutes_left, level.minutes, tr("min")),
                (tr("Money"), play.money_left, level.money, tr("coins")),
            ]
            lesson.paint_budget(self.ink(painter), self.area.adjusted(2, 0, -2, 0), rows)
        else:
            self.say(painter, tr("Time and money: a case sets them."))


class RecordCanvas(Canvas):
    """The record."""

    station: TrainerStation

    def paint(self, painter: QPainter) -> None:
        """Draw it."""
        s = self.station
        if s.record.marks:
            lesson.paint_record(self.ink(painter), self.area.adjusted(6, 6, -6, -6), s.record.marks)
            return
        self.say(painter, tr("Nothing yet: a case or a drill leaves its points here."))


def _now() -> str:
    return datetime.now().isoformat(timespec="minutes")


def end_words(play: Play, end: Ending) -> str:
    """Return how a case ended: what was found, the truth, the points, and what the best plan takes."""
    known = tables().causes

    def names(keys: tuple[str, ...]) -> list[str]:
        return [known[k].name for k in keys]

    if len(end.found) == len(end.truth) and not end.wrong:
        verdict = tr("You found it.") if len(end.truth) == 1 else tr("You found both.")
    else:
        verdict = tr("You found {found} of {hidden}").format(found=len(end.found), hidden=len(end.truth))
        verdict += tr("; it was not {names}.").format(names=either(names(end.wrong))) if end.wrong else "."
    return tr(
        "{verdict} The truth: {names}. {points} points of 100, with {minutes:.0f} min and {money:.0f} coins; the best plan takes {best_minutes:.0f} min and {best_money:.0f} coins."
    ).format(
        verdict=verdict,
        names=listed(names(end.truth)),
        points=end.points,
        minutes=play.minutes,
        money=play.money,
        best_minutes=end.best_minutes,
        best_money=end.best_money,
    )


class TrainerStation(Station):
    """Find hidden faults, for practice."""

    key = "trainer"
    question = tr(
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
        self.shown: tuple[Recording, Recording] | None = None
        self.tick_at = 0
        self.record = RecordKeeper()
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
        self.drills = DrillPage(self)
        self.drills.done.connect(self._keep_drill)
        self.record_canvas = RecordCanvas(self, tr("Record of cases and drills"), (380, 260))
        self.pages.addWidget(self.drills)
        self.pages.addWidget(self.record_canvas)
        self.column.addWidget(self.pages, 1)
        self.show_page(0)

    def _build_head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.page_buttons = toggles(PAGES, self.show_page, row)
        row.addSpacing(18)
        self.level = Box()
        self.level.addItems([f"{it.number}: {it.name}" for it in LEVELS])
        self.level.setAccessibleName(tr("Level"))
        row.addWidget(self.level)
        self.car = Box()
        self.car.addItems([*cars(), tr("this plan's car")])
        self.car.setAccessibleName(tr("Car"))
        row.addWidget(self.car)
        self.new = QPushButton(tr("New case"))
        self.new.setProperty("role", "main")
        self.new.clicked.connect(self.new_case)
        row.addWidget(self.new)
        row.addStretch(1)
        words = QLabel(tr("Case"))
        self.code = QLineEdit()
        self.code.setMaximumWidth(170)
        self.code.setPlaceholderText(tr("coupe-2-1234"))
        self.code.setAccessibleName(tr("Code of the case"))
        self.code.setToolTip(tr("A case's code: tell it to somebody, or type one and press Enter to open it"))
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
        self.canvas = SceneCanvas(self, tr("The car with what it shows"), (380, 200))
        left.addWidget(self.canvas, 1)
        watch = QHBoxLayout()
        label = QLabel(tr("Let it do"))
        self.situation = Box()
        self.situation.addItems(["—", *(tr(name) for name in SITUATIONS)])
        self.situation.setAccessibleName(tr("What the car does while the gauges are watched"))
        self.situation.activated.connect(self._watch)
        label.setBuddy(self.situation)
        watch.addWidget(label)
        watch.addWidget(self.situation)
        watch.addStretch(1)
        left.addLayout(watch)
        self.gauge_canvas = GaugesCanvas(self, tr("Gauges"), (260, 66))
        self.gauge_canvas.setFixedHeight(66)
        left.addWidget(self.gauge_canvas)
        whole.addLayout(left, 1)
        right = QWidget()
        right.setFixedWidth(380)
        column = QVBoxLayout(right)
        column.setContentsMargins(0, 0, 0, 0)
        self.story = QLabel()
        self.story.setWordWrap(True)
        self.budget = BudgetCanvas(self, tr("Time and money left"), (260, 44))
        self.budget.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.budget.setFixedHeight(44)
        self.work = WorkList()
        self.work.acted.connect(self.act)
        column.addWidget(self.story)
        column.addWidget(self.budget)
        column.addWidget(self.work, 1)
        whole.addWidget(right)
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
        if made.end is not None and made.play is not None:
            self.end = made.end
            self._keep_case(made.play, made.end)
        elif made.play is not None:
            self.play, self.evaluation = made.play, made.evaluation
            self.work.show_mode(ASK)
        if made.shown is not None:
            self.shown, self.tick_at = made.shown, 0
            self.timer.start()
        self._show()

    def act(self, mode: int, keys: tuple[str, ...]) -> None:
        """Ask, test, or say what it is."""
        play = self.play
        if play is None or self.end is not None or self.busy:
            return
        try:
            self.play = {ASK: play.ask, TEST: play.test}[mode](keys[0]) if mode != SAY else play.say(keys)
        except GravidonError as error:
            self.session.refused.emit(str(error))
            return
        if mode == SAY:
            done = self.play
            self.job.start(lambda: closed(done))
        self._show()

    def _keep_case(self, play: Play, end: Ending) -> None:
        level = tr("level {number}: {name}").format(number=play.level.number, name=play.level.name)
        self.record.add(Mark(_now(), play.lesson.code, level, end.points, play.minutes, play.money))

    def _keep_drill(self, skill: str, right: bool) -> None:
        self.record.add(Mark(_now(), "drill", skill, 100 if right else 0))

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
        now, sound = self.shown
        at = int(now.time_s.searchsorted(self.tick_at * TICK_MS / 1e3 % now.time_s[-1]))
        made = []
        for key, (name, kind, full) in GAUGES.items():
            if key in now.channels:
                value, planned = float(now.channels[key][at]), float(np.mean(sound.channels[key]))
                per_s = 1.0 / 60.0 if kind == "rpm" else 1.0  # a logger's speed is in rpm, all else in SI
                told = planned if kind == "kpa" else float("nan")
                made.append(lesson.Gauge(name, value * per_s, kind, told, full * per_s))
        return made

    # --- showing -------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the case as it is."""
        self._show()

    def _show(self) -> None:
        play, end = self.play, self.end
        running = play is not None and end is None and not self.busy
        self.work.show_play(play, running)
        self.story.setText("" if play is None else play.story if end is None else end_words(play, end))
        self.canvas.setAccessibleDescription(self.story.text())
        for canvas in (self.canvas, self.budget, self.gauge_canvas, self.record_canvas):
            canvas.update()

    def leave(self) -> None:
        """The window closes."""
        self.timer.stop()
        self.job.leave()
