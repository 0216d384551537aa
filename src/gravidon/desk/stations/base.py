# SPDX-License-Identifier: GPL-3.0-or-later
"""What every station is: a name, a question it answers, a headline number, a view."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from itertools import pairwise
from typing import ClassVar

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.box import Box
from gravidon.desk.flags import FlagStrip
from gravidon.desk.history import Scope
from gravidon.desk.lock_mark import LockMark
from gravidon.desk.session import Session
from gravidon.desk.stations import BY_KEY
from gravidon.desk.table import typed_value
from gravidon.desk.theme import PALETTES
from gravidon.desk.there import emptied, restyle, there
from gravidon.desk.value_field import ValueField
from gravidon.draw.style import Palette
from gravidon.errors import GravidonError
from gravidon.plan import paths
from gravidon.study.verdict.finding import Finding
from gravidon.words.text import tr


class Page(QScrollArea):
    """A page as high as its place, or as its least height where that is more: a small window scrolls rather than squeeze a
    drawing flat."""

    def __init__(self, inside: QWidget) -> None:
        super().__init__()
        self.inside = inside
        self.setObjectName("fields")
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setWidget(inside)
        inside.installEventFilter(self)

    def fit(self) -> None:
        """Give the page its size."""
        place, layout = there(self.viewport()).size(), self.inside.layout()
        if layout is None:
            return
        least = layout.minimumSize().height()
        if layout.hasHeightForWidth():
            least = max(least, layout.minimumHeightForWidth(place.width()))
        self.inside.resize(place.width(), max(place.height(), least))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The place changed."""
        super().resizeEvent(event)
        self.fit()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Something on the page wants another size."""
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self.fit()
        return super().eventFilter(watched, event)


MOST_BEFORE = 2
"""Buttons that Tab may come to before the station's picture or first value; project choice."""


class Station(QFrame):
    """A view of the session. Subclasses fill `body` and override `refresh` and `headline`."""

    output_asked = pyqtSignal(str)
    """The shop sheet is asked for: "pdf", "html" or "print"."""

    went = pyqtSignal(str)
    """Another station is asked for, by its key."""

    key: ClassVar[str] = ""
    question: ClassVar[str] = ""
    per_turbo: ClassVar[bool] = True
    scopes: ClassVar[tuple[Scope, ...]] = ("plan",)
    """Whose undo and redo are in reach here: decisions, and what the page itself ticks or counts."""
    shows_condition: ClassVar[bool] = True
    """Whether anything in it depends on the chosen condition."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("station")
        self.session = session
        self.entry = BY_KEY[self.key]
        self.name, self.help_page = self.entry.name, self.entry.help_page
        self.setAccessibleName(self.name)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        inside = QWidget()
        whole.addWidget(Page(inside))
        self.column = QVBoxLayout(inside)
        self.column.setContentsMargins(14, 10, 14, 10)
        self.column.setSpacing(6)
        head = QHBoxLayout()
        head.setSpacing(14)
        title = QLabel(self.name)
        title.setProperty("role", "title")
        head.addWidget(title, 0, Qt.AlignmentFlag.AlignTop)
        question = QLabel(self.question)
        question.setProperty("role", "question")
        question.setWordWrap(True)
        question.setMinimumHeight(32)
        question.setAlignment(Qt.AlignmentFlag.AlignVCenter)
        head.addWidget(question, 1)
        self.turbos = QHBoxLayout()
        self.turbos.setSpacing(4)
        head.addLayout(self.turbos)
        self.column.addLayout(head)
        self.flags = FlagStrip(session, self)
        self.flags.hide()
        self.column.addWidget(self.flags)
        self.build()
        self._values_first()
        session.moved.connect(self._move_if_seen)
        session.changed.connect(self.refresh_if_seen)
        if self.shows_condition:
            session.condition_changed.connect(self.refresh_if_seen)
        session.look_changed.connect(self.refresh_if_seen)
        session.ghost_changed.connect(self._ghost_if_seen)

    def _values_first(self) -> None:
        """Let Tab come to the picture or the first value before the buttons over it, where those are many."""
        from gravidon.desk.canvas import Canvas
        from gravidon.desk.value_field import ValueField

        at = self.nextInFocusChain()
        before: list[QWidget] = []
        while at is not None and at is not self and self.isAncestorOf(at):
            tabbed = bool(at.focusPolicy().value & Qt.FocusPolicy.TabFocus.value)
            if tabbed and isinstance(at, (Canvas, ValueField)):
                if len(before) > MOST_BEFORE:
                    for one, other in pairwise([at, *before]):
                        QWidget.setTabOrder(one, other)
                return
            if tabbed:
                before.append(at)
            at = at.nextInFocusChain()

    @property
    def colours(self) -> Palette:
        """The palette in use."""
        return PALETTES[self.session.theme]

    def show_turbos(self) -> None:
        """Offer the choice of turbo where there are several."""
        lines = self.session.plan.turbos if self.per_turbo and len(self.session.plan.turbos) > 1 else ()
        emptied(self.turbos, len(lines))
        while self.turbos.count() < len(lines):
            button = QToolButton()
            button.setCheckable(True)
            button.clicked.connect(partial(self._choose_turbo, self.turbos.count()))
            self.turbos.addWidget(button)
        for k, line in enumerate(lines):
            shown = there(self.turbos.itemAt(k)).widget()
            if isinstance(shown, QToolButton):
                shown.setText(line.turbo.label)
                shown.setChecked(k == self.session.turbo)

    def _choose_turbo(self, index: int, _clicked: bool = False) -> None:
        self.session.choose_turbo(index)
        self.show_turbos()

    def build(self) -> None:
        """Make the station's widgets."""

    def refresh(self) -> None:
        """Show the session as it is now."""

    def follow(self) -> None:
        """Show a step of a drag: only what is under the hand. The rest follows by `refresh`, at rest."""
        self.refresh()

    def _move_if_seen(self) -> None:
        if self.isVisible():
            self.follow()

    def _ghost_if_seen(self) -> None:
        if self.isVisible():
            self.show_ghost()

    def show_ghost(self) -> None:
        """Draw, or take away, what a remedy that is looked at would make."""

    @property
    def busy(self) -> bool:
        """Whether the station is working something out beside the window."""
        return False

    def leave(self) -> None:
        """The window closes: stop what is running."""

    def refresh_if_seen(self) -> None:
        """Refresh when in sight; a station out of sight refreshes when it is shown."""
        if self.isVisible():
            self.show_turbos()
            self.show_flags()
            self.refresh()

    flagged = True
    """Whether its findings hang over it as flags; else it shows them in its picture, or not at all."""

    def own_findings(self) -> tuple[Finding, ...]:
        """Return the findings that belong here, of the chosen turbo where there are several."""
        s = self.session
        several = self.per_turbo and len(s.plan.turbos) > 1
        return tuple(
            f
            for f in s.findings
            if f.station == self.key
            and f.severity != "note"
            and not (several and f.whose and f.turbo != s.turbo)
        )

    def show_flags(self) -> None:
        """Hang the findings of this station."""
        if self.flagged:
            self.flags.show_findings(self.own_findings())

    def showEvent(self, event: object) -> None:
        """Catch up with what changed while out of sight."""
        self.show_turbos()
        self.show_flags()
        self.refresh()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape closes the flag that is open."""
        if event is not None and event.key() == Qt.Key.Key_Escape and self.flags.open is not None:
            self.flags.close_card()
            return
        super().keyPressEvent(event)

    def take_cell(self, path: str, text: str, label: str) -> None:
        """Take what was typed over a cell of a table for a plan path; what cannot be taken is told, and the cell shown as it was."""
        try:
            taken = self.session.edit(path, typed_value(self.session, path, text), label)
        except GravidonError as error:
            self.session.refused.emit(str(error))
            taken = False
        if not taken:
            self.refresh()

    def headline(self) -> str:
        """Return the station's one number, with its unit."""
        return self.entry.headline(self.session)


def toggles(names: Sequence[str], chosen: Callable[[int], object], row: QHBoxLayout) -> list[QPushButton]:
    """Add buttons to a row of which one is down, and return them; the number of the one pressed is passed on."""
    group = QButtonGroup(row)
    made = []
    for k, name in enumerate(names):
        button = QPushButton(name)
        button.setCheckable(True)
        button.clicked.connect(lambda _=False, k=k: chosen(k))
        group.addButton(button)
        row.addWidget(button)
        made.append(button)
    return made


def section(text: str) -> QLabel:
    """Return a section heading."""
    label = QLabel(text)
    label.setProperty("role", "section")
    return label


class FieldGrid(QGridLayout):
    """Labels and fields in aligned columns."""

    def __init__(self, session: Session, columns: int = 1) -> None:
        super().__init__()
        self.session, self.columns = session, columns
        self.setHorizontalSpacing(8)
        self.setVerticalSpacing(5)
        self.count_so_far = 0

    def add_heading(self, text: str) -> None:
        """Start a section on a new row."""
        self.count_so_far = -(-self.count_so_far // self.columns) * self.columns
        row = self.count_so_far // self.columns
        self.addWidget(section(text), row, 0, 1, 2 * self.columns)
        self.count_so_far += self.columns

    def add_row(self, label: str, widget: QWidget) -> None:
        """Add a labelled widget in the next free place."""
        row, column = divmod(self.count_so_far, self.columns)
        text = QLabel(label)
        text.setBuddy(widget)
        text.setWordWrap(True)
        self.addWidget(text, row, 2 * column)
        self.addWidget(widget, row, 2 * column + 1)
        self.count_so_far += 1

    def add_value(self, path: str, label: str = "", dash: bool = False) -> ValueField:
        """Add a numeric field of the plan."""
        field = ValueField(self.session, path, dash=dash)
        field.setMaximumWidth(120)
        self.add_row(
            label or _sentence_case(tr(paths.spec_at(self.session.plan, self.session.resolve(path)).label)),
            field,
        )
        return field

    def add_choice(self, path: str, options: list[str], label: str) -> ChoiceField:
        """Add a field with a fixed set of words."""
        field = ChoiceField(self.session, path, options, label)
        self.add_row(label, field)
        return field


def _sentence_case(text: str) -> str:
    return text[:1].upper() + text[1:]


class ChoiceField(Box):
    """One of a few words in the plan, by path."""

    def __init__(self, session: Session, path: str, options: list[str], label: str) -> None:
        super().__init__()
        self.session, self.path, self.label = session, path, label
        self.offer(options)
        self.setAccessibleName(label)
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.setMinimumContentsLength(9)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.lock = LockMark(self, session, lambda: session.resolve(path))
        self.textActivated.connect(self._commit)
        session.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the plan's word."""
        try:
            word = str(paths.get(self.session.plan, self.session.resolve(self.path)))
        except (IndexError, AttributeError):
            return  # what it belongs to has been taken out of the plan
        self.blockSignals(True)
        self.choose(word)
        self.blockSignals(False)
        guess = not paths.looked_at(self.session.plan, self.session.resolve(self.path))
        if bool(self.property("guess")) != guess:
            self.setProperty("guess", guess)
            restyle(self)
        self.lock.refresh()
        words = (
            tr("From the starter: nobody looked at it. Choose it, even if it is right.")
            if guess
            else self.label
        )
        self.setToolTip(f"{words}{self.lock.words}")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The field, and a padlock where its choice is held."""
        super().paintEvent(event)
        self.lock.paint(right=24.0)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Lock what it decides, or open it."""
        if event is not None:
            menu = QMenu(self)
            self.lock.offer(menu)
            if not menu.isEmpty():
                menu.exec(event.globalPos())
            menu.deleteLater()

    def _commit(self, word: str) -> None:
        if not self.session.edit(self.path, self.meaning(word), self.label):
            self.refresh()
