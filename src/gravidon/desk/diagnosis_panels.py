# SPDX-License-Identifier: GPL-3.0-or-later
"""Panels of the diagnosis: what is asked now, the next best test, what was told and tested."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
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

from gravidon.desk.box import Box
from gravidon.desk.stations.base import section
from gravidon.desk.there import emptied
from gravidon.study.diagnosis.advice import Advice
from gravidon.study.diagnosis.case import Case
from gravidon.study.diagnosis.tables import RISKS, tables
from gravidon.translate import commas, listed
from gravidon.words.text import tr, trn

ASKED = 3
HALF_PX = 156
"""[px] that an outcome's words may be wide if two are to stand beside one another."""
ANSWERS: tuple[tuple[str, bool | None], ...] = ((tr("Yes"), True), ("No", False), (tr("Don't know"), None))
BAR_WORDS = (tr("no danger"), tr("hot parts"), tr("hot oil, car up"), tr("driven hard"))


class Lines(QLabel):
    """Words in lines that are never shown in part: as tall at least as they need at the width they have."""

    def __init__(self) -> None:
        super().__init__()
        self.setWordWrap(True)
        self.least = 0
        """[px] as tall as it is at least."""

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another width makes other lines."""
        super().resizeEvent(event)
        self._be_tall()

    def setText(self, text: str | None) -> None:
        """Show other words."""
        super().setText(text)
        self._be_tall()

    def _be_tall(self) -> None:
        self.setMinimumHeight(0)  # what is asked next is never less than this
        self.setMinimumHeight(max(self.heightForWidth(self.width()) if self.text() else 0, self.least))


class Panel(QWidget):
    """A heading with buttons beside it, and what stands under it."""

    def __init__(self, title: str, *beside: QWidget) -> None:
        super().__init__()
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(5)
        head = QHBoxLayout()
        heading = section(title)
        heading.setWordWrap(True)
        head.addWidget(heading, 1)
        for widget in beside:
            head.addWidget(widget)
        self.column.addLayout(head)

    def add_words(self, role: str = "") -> Lines:
        """Add a label that wraps."""
        label = Lines()
        if role:
            label.setProperty("role", role)
        self.column.addWidget(label)
        return label


class QuestionsPanel(Panel):
    """Up to three questions, each answered yes, no, or not known."""

    answered = pyqtSignal(str, object)
    """A sign's key, and its answer (None: not known)."""

    def __init__(self) -> None:
        self.all_signs = QPushButton(tr("All signs…"))
        super().__init__(tr("Asked now"), self.all_signs)
        self.asked: tuple[str, ...] = ()
        grid = QGridLayout()
        grid.setVerticalSpacing(2)
        grid.setColumnStretch(0, 1)
        self.asks: list[tuple[QLabel, list[QPushButton]]] = []
        for row in range(ASKED):
            words = QLabel()
            words.setWordWrap(True)
            words.setMinimumHeight(26)
            grid.addWidget(words, row, 0)
            buttons = [QPushButton(text) for text, _ in ANSWERS]
            for k, button in enumerate(buttons):
                button.clicked.connect(partial(self._answer, row, ANSWERS[k][1]))
                grid.addWidget(button, row, k + 1)
            self.asks.append((words, buttons))
        self.column.addLayout(grid)

    def show_asked(self, asked: tuple[str, ...], ready: bool) -> None:
        """Show the signs that are asked now; `ready`: whether it is known that there are no others."""
        self.asked = asked
        known = tables().signs
        for k, (words, buttons) in enumerate(self.asks):
            there_is = k < len(asked)
            words.setText(known[asked[k]].ask if there_is else "")
            for button, (name, _) in zip(buttons, ANSWERS, strict=True):
                button.setVisible(there_is)
                button.setAccessibleName(f"{name}: {words.text()}")
        if ready and not asked:
            self.asks[0][0].setText(
                tr("Nothing more to ask that would tell much: test, or look through all signs.")
            )

    def _answer(self, row: int, answer: bool | None, _clicked: bool = False) -> None:
        self.answered.emit(self.asked[row], answer)


WHOLE_PX = 340
"""[px] beyond which an outcome's chance stands on a line of its own."""


class TestPanel(Panel):
    """The next best test, its outcomes to be told with a click, and how much danger it may have."""

    __test__ = False
    came = pyqtSignal(str, int)
    """A test's key, and the number of the outcome that came of it."""

    def __init__(self) -> None:
        self.bar = Box()
        self.bar.addItems([tr("up to {w}").format(w=w) for w in BAR_WORDS])
        self.bar.setAccessibleName(tr("Most danger a test may have"))
        self.all_tests = QPushButton(tr("All tests…"))
        super().__init__(tr("Next best test"), self.bar, self.all_tests)
        self.name, self.words = self.add_words(), self.add_words()
        self.name.setStyleSheet("font-weight: 600;")
        self.outcomes = QGridLayout()
        self.outcomes.setSpacing(4)
        self.column.addLayout(self.outcomes)

    def show_nothing(self, words: str) -> None:
        """Show that there is no test, and why."""
        emptied(self.outcomes)
        self.name.setText("")
        self.words.setText(words)

    def show_test(self, best: Advice, case: Case, sides: tuple[tuple[str, ...], ...], sure: str) -> None:
        """Show a test.

        Args:
            best: the test, weighed.
            case: what is apart already.
            sides: what it splits from what.
            sure: name of the cause that is sure enough to be mended; empty: none.
        """
        emptied(self.outcomes)
        self.name.setText(
            tr("Sure enough to mend: {sure}. Else: {name}").format(sure=sure, name=best.test.name)
            if sure
            else best.test.name
        )
        coins = trn("{count} coin", "{count} coins", round(best.money))
        words = [
            tr("{minutes:.0f} min, {coins}; {risk}.").format(
                minutes=best.minutes, coins=coins, risk=RISKS[best.test.risk]
            )
        ]
        off = case.to_take_off(best.test)
        if off:
            words.append(tr("With {parts}.").format(parts=commas([it.name for it in off])))
        down, up = sides
        if down and up:
            words.append(tr("Splits {these} from {those}.").format(these=listed(up), those=listed(down)))
        self.words.setText(" ".join(words))
        for label in (self.name, self.words):
            label.setToolTip("\n".join(best.test.how))
        buttons = []
        for k, (outcome, chance) in enumerate(zip(best.test.outcomes, best.chance, strict=True)):
            button = QPushButton(f"{outcome.name}  ({chance:.0%})")
            if button.fontMetrics().horizontalAdvance(button.text()) > WHOLE_PX:
                button.setText(f"{outcome.name}\n({chance:.0%})")
            button.setToolTip(outcome.means)
            button.setAccessibleName(
                tr("Result of {test}: {outcome}").format(test=best.test.name, outcome=outcome.name)
            )
            button.clicked.connect(partial(self._outcome, best.test.key, k))
            buttons.append(button)
        wide = max(b.fontMetrics().horizontalAdvance(b.text()) for b in buttons)
        across = 1 if wide > HALF_PX else 2
        for k, button in enumerate(buttons):
            self.outcomes.addWidget(button, k // across, k % across, 1, 3 - across)

    def _outcome(self, test: str, outcome: int, _clicked: bool = False) -> None:
        self.came.emit(test, outcome)


class ToldPanel(Panel):
    """All that was told and tested, the latest first, each to be taken back."""

    taken_back = pyqtSignal(str)
    """The key of a sign or a test."""

    def __init__(self) -> None:
        self.together, self.afresh = QPushButton(tr("All back on")), QPushButton(tr("Begin afresh"))
        self.together.setToolTip(tr("What was taken off for tests is on again"))
        super().__init__(tr("Told and tested"), self.together, self.afresh)
        inside = QWidget()
        self.rows = QVBoxLayout(inside)
        self.rows.setContentsMargins(0, 0, 0, 0)
        self.rows.setSpacing(1)
        self.rows.setAlignment(Qt.AlignmentFlag.AlignTop)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(inside)
        area.setObjectName("fields")
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setMinimumHeight(44)
        # what is above it is never short of height for its sake
        area.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
        self.column.addWidget(area, 1)

    def show_case(self, case: Case, whole: Case) -> None:
        """Show a case, and with it (`whole`) what the logbook tells of itself."""
        emptied(self.rows)
        known = tables()
        rows = [
            (key, known.signs[key].words(yes) + ("" if key in case.answers else tr(" (the logbook)")))
            for key, yes in whole.answers.items()
        ]
        rows += [(key, known.tests[key].told(outcome)) for key, outcome in case.results.items()]
        rows += [(key, tr("not known: {sign}").format(sign=known.signs[key].said)) for key in case.unknown]
        for key, words in reversed(rows):
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            label = QLabel(words)
            label.setWordWrap(True)
            button = QToolButton()
            button.setText("✕")
            button.setToolTip(tr("Take it back"))
            button.setAccessibleName(tr("Take back: {words}").format(words=words))
            button.clicked.connect(partial(self._take_back, key))
            row.addWidget(label, 1)
            row.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
            self.rows.addWidget(line)
        self.together.setVisible(bool(case.apart))
        self.afresh.setVisible(not case.empty)

    def _take_back(self, key: str, _clicked: bool = False) -> None:
        self.taken_back.emit(key)
