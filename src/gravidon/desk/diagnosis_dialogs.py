# SPDX-License-Identifier: GPL-3.0-or-later
"""Dialogs of the diagnosis: every sign, every test, and what mends a cause."""

from __future__ import annotations

from datetime import date
from functools import partial
from typing import Protocol

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import (
    QButtonGroup,
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.session import Session
from gravidon.desk.stations.base import section
from gravidon.desk.there import emptied
from gravidon.study.diagnosis.advice import Advice, advise
from gravidon.study.diagnosis.belief import Belief, Model
from gravidon.study.diagnosis.case import Case
from gravidon.study.diagnosis.mending import Mending, mended_entry, mending
from gravidon.study.diagnosis.tables import GROUPS, PLACES, RISKS, tables
from gravidon.study.verdict.remedies import Remedy
from gravidon.translate import commas
from gravidon.words.text import tr

SIZE = (760, 620)


class Told(Protocol):
    """Who takes answers and results."""

    def answer_sign(self, sign: str, answer: bool | None) -> None:
        """Take an answer."""

    def tell_result(self, test: str, outcome: int) -> None:
        """Take a result."""

    def take_back(self, key: str) -> None:
        """Take one back."""


class Listed(QDialog):
    """A long list with a field that narrows it."""

    title, hint = "", ""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(self.title)
        self.resize(*SIZE)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 16, 20, 14)
        column.setSpacing(8)
        self.filter = QLineEdit()
        self.filter.setPlaceholderText(self.hint)
        self.filter.setAccessibleName(self.hint)
        self.filter.textChanged.connect(self.narrow)
        column.addWidget(self.filter)
        inside = QWidget()
        self.rows = QVBoxLayout(inside)
        self.rows.setSpacing(3)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(inside)
        area.setObjectName("fields")
        column.addWidget(area, 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.lines: list[tuple[str, QWidget]] = []

    def add_line(self, line: QWidget, words: str) -> None:
        """Add a line that the field finds by its words."""
        self.rows.addWidget(line)
        self.lines.append((words.lower(), line))

    def narrow(self, text: str) -> None:
        """Show the lines that hold all the words typed."""
        wanted = text.lower().split()
        for words, line in self.lines:
            line.setVisible(all(w in words for w in wanted))


class SignsDialog(Listed):
    """Every sign, answered yes, no, or not known; or not answered."""

    title, hint = tr("All signs"), tr("Find a sign: smoke, gauge, wet, whine …")

    def __init__(self, station: QWidget, case: Case) -> None:
        super().__init__(station)
        self.told: Told = station  # type: ignore[assignment]
        self.buttons: dict[tuple[str, str], QPushButton] = {}
        known = tables().signs
        for group, title in GROUPS.items():
            heading = section(title)
            self.add_line(heading, " ".join([title, *(s.ask for s in known.values() if s.group == group)]))
            for sign in (s for s in known.values() if s.group == group):
                line = QWidget()
                row = QHBoxLayout(line)
                row.setContentsMargins(0, 0, 0, 0)
                words = QLabel(sign.ask)
                words.setWordWrap(True)
                row.addWidget(words, 1)
                choice = QButtonGroup(line)
                choice.setExclusive(False)
                now = case.answers.get(sign.key)
                state = (
                    "yes" if now else "no" if now is False else "unknown" if sign.key in case.unknown else ""
                )
                for name, text in (("yes", tr("Yes")), ("no", "No"), ("unknown", tr("Don't know"))):
                    button = QPushButton(text)
                    button.setCheckable(True)
                    button.setChecked(name == state)
                    button.setAccessibleName(f"{text}: {sign.ask}")
                    button.clicked.connect(partial(self._answer, sign.key, name))
                    row.addWidget(button)
                    self.buttons[sign.key, name] = button
                self.add_line(line, f"{title} {sign.ask} {sign.said} {sign.key}")
        self.rows.addStretch(1)

    def _answer(self, sign: str, name: str, on: bool) -> None:
        for other in ("yes", "no", "unknown"):
            self.buttons[sign, other].setChecked(on and other == name)
        if on:
            self.told.answer_sign(sign, {"yes": True, "no": False, "unknown": None}[name])
        else:
            self.told.take_back(sign)


class TestsDialog(Listed):
    """Every test of this plan: what it takes, what it tells, its outcomes to be told with a click."""

    __test__ = False
    title, hint = tr("All tests"), tr("Find a test: gauge, level, drain, look, swap …")

    def __init__(self, station: QWidget, model: Model, belief: Belief, case: Case) -> None:
        super().__init__(station)
        self.told: Told = station  # type: ignore[assignment]
        for advice in advise(model, belief, case, everything=True):
            self._add(advice, case)
        done = [k for k in case.results if k in model.come]
        if done:
            self.rows.addWidget(section(tr("Done")))
        for key in done:
            test = model.tables.tests[key]
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            words = QLabel(test.told(case.results[key]))
            words.setWordWrap(True)
            row.addWidget(words, 1)
            back = QPushButton(tr("Take it back"))
            back.setAccessibleName(tr("Take back: {words}").format(words=words.text()))
            back.clicked.connect(partial(self._back, key, line))
            row.addWidget(back)
            self.add_line(line, test.name)
        self.rows.addStretch(1)

    def _add(self, advice: Advice, case: Case) -> None:
        test = advice.test
        line = QWidget()
        whole = QHBoxLayout(line)
        whole.setContentsMargins(0, 4, 0, 8)
        whole.setSpacing(12)
        left, right = QVBoxLayout(), QVBoxLayout()
        for column in (left, right):
            column.setSpacing(2)
            column.setAlignment(Qt.AlignmentFlag.AlignTop)
        whole.addLayout(left, 1)
        whole.addLayout(right)
        name = QLabel(test.name)
        name.setWordWrap(True)
        name.setStyleSheet("font-weight: 600;")
        left.addWidget(name)
        off = [it.name for it in case.to_take_off(test)]
        takes = tr("{kind}: {minutes:.0f} min, {money:.0f} coins, tells {bits:.2f} bit; {risk}").format(
            kind=test.kind,
            minutes=advice.minutes,
            money=test.money,
            bits=advice.gain_bits,
            risk=RISKS[test.risk],
        )
        if off:
            takes += tr("; with {parts}").format(parts=commas(off))
        if test.risk > case.bar:
            takes += tr(". More danger than is allowed now")
        how = QLabel(f"{takes}. {' '.join(test.how)}")
        how.setWordWrap(True)
        how.setProperty("role", "faint")
        left.addWidget(how)
        for k, outcome in enumerate(test.outcomes):
            button = QPushButton(outcome.name)
            button.setMinimumWidth(210)
            button.setToolTip(outcome.means)
            button.setAccessibleName(
                tr("Result of {test}: {outcome}").format(test=test.name, outcome=outcome.name)
            )
            button.clicked.connect(partial(self._result, test.key, k))
            right.addWidget(button)
        words = " ".join([test.name, test.key, test.kind, *test.how, *(o.name for o in test.outcomes)])
        self.add_line(line, words)

    def _result(self, test: str, outcome: int, _clicked: bool = False) -> None:
        self.told.tell_result(test, outcome)
        self.accept()

    def _back(self, test: str, line: QWidget, _clicked: bool = False) -> None:
        self.told.take_back(test)
        line.setEnabled(False)


class MendDialog(QDialog):
    """What mends a cause: a change of the plan that was tried, a repair step by step; either goes to the logbook."""

    def __init__(self, parent: QWidget, session: Session, cause: str, belief: float, case: Case) -> None:
        super().__init__(parent)
        self.session, self.cause, self.belief, self.case = session, cause, belief, case
        it = tables().causes[cause]
        self.setWindowTitle(tr("What mends it"))
        self.resize(620, 520)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 16, 20, 14)
        column.setSpacing(8)
        title = QLabel(f"{it.name[:1].upper()}{it.name[1:]}")
        title.setProperty("role", "title")
        title.setWordWrap(True)
        column.addWidget(title)
        words = QLabel(
            tr("{capitalize}; {belief:.0%} sure. {why}").format(
                capitalize=PLACES[it.place].capitalize(), belief=belief, why=it.why
            )
        )
        words.setWordWrap(True)
        column.addWidget(words)
        self.plan_title = section(tr("The plan"))
        column.addWidget(self.plan_title)
        self.plan_words = QLabel(tr("Trying what would mend the plan …"))
        self.plan_words.setWordWrap(True)
        column.addWidget(self.plan_words)
        self.offers = QVBoxLayout()
        self.offers.setSpacing(3)
        column.addLayout(self.offers)
        column.addWidget(section(tr("The repair")))
        takes = QLabel(
            tr(
                "About {minutes:.0f} min and {money:.0f} coins: {parts}. The makers' instructions override this."
            ).format(minutes=it.minutes, money=it.money, parts=commas(it.parts))
        )
        takes.setWordWrap(True)
        takes.setProperty("role", "faint")
        column.addWidget(takes)
        steps = QLabel("\n".join(f"{k}. {step}" for k, step in enumerate(it.do, 1)))
        steps.setWordWrap(True)
        column.addWidget(steps)
        column.addStretch(1)
        row = QHBoxLayout()
        self.note = QPushButton(tr("Note it in the logbook"))
        self.note.clicked.connect(partial(self.write, False))
        self.done_button = QPushButton(tr("Mended: write it to the logbook"))
        self.done_button.clicked.connect(partial(self.write, True))
        close = QPushButton(tr("Close"))
        close.clicked.connect(self.reject)
        for button in (self.note, self.done_button):
            row.addWidget(button)
        row.addStretch(1)
        row.addWidget(close)
        column.addLayout(row)
        self._search = mending(session.plan, cause)
        self._timer = QTimer(self)
        self._timer.setInterval(0)
        self._timer.timeout.connect(self._step)
        self._timer.start()
        self._shown: tuple[str, ...] | None = None

    def _step(self) -> None:
        """One trial a turn, so that the window goes on answering."""
        made = next(self._search, None)
        if made is None:
            self._timer.stop()
            if not self._shown:
                self.plan_words.setText(self._idle_words)
            return
        self._show(made)

    @property
    def _idle_words(self) -> str:
        return tr(
            "The plan is not at fault here, or nothing that was tried would mend it: the car differs from it, or a part is worn."
        )

    def _show(self, made: Mending) -> None:
        titles = tuple(r.text(self.session.family) for _, r in made.remedies)
        if not made.findings:
            self.plan_words.setText(self._idle_words)
        elif titles:
            self.plan_words.setText(tr("The plan itself makes it so. Tried, and it helps:"))
        if titles == self._shown or not titles:
            return
        self._shown = titles
        emptied(self.offers)
        for (_, remedy), words in zip(made.remedies, titles, strict=True):
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            label = QLabel(words)
            label.setWordWrap(True)
            take = QPushButton(tr("Take it"))
            take.setAccessibleName(tr("Take it: {words}").format(words=words))
            take.clicked.connect(partial(self.take, remedy))
            row.addWidget(label, 1)
            row.addWidget(take)
            self.offers.addWidget(line)

    def take(self, remedy: Remedy, _clicked: bool = False) -> None:
        """Take a change of the plan, and note it in the logbook."""
        words = remedy.said.text(self.session.family)
        self.session.apply(remedy)
        self._keep(False, words)

    def write(self, done: bool, _clicked: bool = False) -> None:
        """Write the diagnosis to the logbook, as mended or as found."""
        self._keep(done, "")

    def _keep(self, done: bool, change: str) -> None:
        entry = mended_entry(self.case, self.cause, self.belief, date.today(), done, change)
        if self.session.log.add(entry):
            self.session.told.emit(tr("Written to the logbook."))
            self.accept()
