# SPDX-License-Identifier: GPL-3.0-or-later
"""What can be asked, tested or said in a case of the trainer: one list, by mode, found by typing."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.stations.base import toggles
from gravidon.study.diagnosis.tables import GROUPS, PLACES, RISKS, Tables, tables
from gravidon.study.diagnosis.trainer import ASK_MIN, Play
from gravidon.translate import commas
from gravidon.words.text import tr

ASK, TEST, SAY = range(3)
MODES = (tr("Ask"), tr("Test"), tr("Say what it is"))
BUTTONS = (
    tr("Ask ({ask_min:.0f} min)").format(ask_min=ASK_MIN),
    tr("Do this test"),
    tr("Say so: the case is closed"),
)
ROW_PX = 310
"""[px] that the words of a row may be wide, its mark and the scroll bar aside."""
KEY = Qt.ItemDataRole.UserRole
Row = tuple[str, str, str]
"""A row's key, its words, and what else is said of it."""


class WorkList(QWidget):
    """The list with its modes, a field that narrows it, and the button that acts."""

    acted = pyqtSignal(int, object)
    """The mode, and the keys of the rows that are meant: one, or in SAY those ticked."""

    def __init__(self) -> None:
        super().__init__()
        self.play: Play | None = None
        self.mode = ASK
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        self.mode_buttons = toggles(MODES, self.show_mode, row)
        column.addLayout(row)
        self.filter = QLineEdit()
        self.filter.setAccessibleName(tr("Find in the list"))
        self.filter.setPlaceholderText(tr("Find in the list"))
        self.filter.textChanged.connect(self.fill)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("What can be asked, tested or said"))
        self.list.setWordWrap(True)
        self.list.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.list.setMinimumHeight(70)
        self.list.itemActivated.connect(self._activated)
        self.list.currentItemChanged.connect(self._show_more)
        self.more = QLabel()
        self.more.setWordWrap(True)
        self.more.setMinimumHeight(44)
        self.more.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.more.setProperty("role", "faint")
        self.do = QPushButton()
        self.do.clicked.connect(self.act)
        column.addWidget(self.filter)
        column.addWidget(self.list, 1)
        column.addWidget(self.more)
        column.addWidget(self.do)
        self.show_mode(ASK)

    def show_play(self, play: Play | None, running: bool) -> None:
        """Show what can be done in a case; `running`: whether anything can be."""
        self.play = play
        for widget in (self.list, self.filter, self.do, *self.mode_buttons):
            widget.setEnabled(running)
        self.fill()

    def show_mode(self, mode: int) -> None:
        """Ask, test, or say."""
        self.mode = mode
        self.mode_buttons[mode].setChecked(True)
        self.do.setText(BUTTONS[mode])
        self.filter.clear()
        self.fill()

    def act(self, *_: object) -> None:
        """Do what the row means, or say the causes that are ticked; where none is, the row's."""
        current = self.list.currentItem()
        meant = self._ticked() if self.mode == SAY else ()
        if not meant and current is not None:
            meant = (str(current.data(KEY)),)
        if meant:
            self.acted.emit(self.mode, meant)

    def _ticked(self) -> tuple[str, ...]:
        items = (self.list.item(k) for k in range(self.list.count()))
        return tuple(
            str(i.data(KEY)) for i in items if i is not None and i.checkState() == Qt.CheckState.Checked
        )

    def fill(self, *_: object) -> None:
        """Fill the list; what was chosen and ticked stays so."""
        current = self.list.currentItem()
        at = str(current.data(KEY)) if current is not None else ""
        ticked, wanted = self._ticked(), self.filter.text().lower().split()
        metrics = self.list.fontMetrics()
        rows = () if self.play is None else ROWS[self.mode](self.play, tables().of(self.play.plan))
        self.list.blockSignals(True)
        self.list.clear()
        for key, words, more in rows:
            if not all(w in f"{words} {more} {key}".lower() for w in wanted):
                continue
            item = QListWidgetItem(words)
            item.setData(KEY, key)
            item.setToolTip(more)
            box = metrics.boundingRect(QRect(0, 0, ROW_PX, 400), int(Qt.TextFlag.TextWordWrap), words)
            item.setSizeHint(QSize(ROW_PX, box.height() + 12))
            if self.mode == SAY:
                item.setCheckState(Qt.CheckState.Checked if key in ticked else Qt.CheckState.Unchecked)
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
        if self.mode != SAY:
            self.act()


def _signs(play: Play, known: Tables) -> list[Row]:
    """Every question, by group, with its answer where it was asked."""
    told = play.case.answers
    words = {key: f"  — {'yes' if yes else 'no'}" for key, yes in told.items()}
    return [
        (s.key, f"{s.ask}{words.get(s.key, '')}", GROUPS[group])
        for group in GROUPS
        for s in known.signs.values()
        if s.group == group
    ]


def _tests(play: Play, known: Tables) -> list[Row]:
    """Every test with what it costs now, or what came of it."""
    rows = []
    for test in known.tests.values():
        done = play.case.results.get(test.key)
        if done is not None:
            outcome = test.outcomes[done]
            rows.append((test.key, f"{test.name}  — {outcome.name}", outcome.means))
            continue
        words = tr("{name} ({minutes:.0f} min, {money:.0f} coins)").format(
            name=test.name, minutes=play.case.minutes(test), money=test.money
        )
        more = f"{' '.join(test.how)} {RISKS[test.risk].capitalize()}."
        off = play.case.to_take_off(test)
        if off:
            more += tr(" With {parts}.").format(parts=commas([it.name for it in off]))
        rows.append((test.key, words, more))
    return rows


def _causes(_play: Play, known: Tables) -> list[Row]:
    """Every cause that can be in the car."""
    return [(c.key, f"{c.name} ({PLACES[c.place]})", c.why) for c in known.causes.values()]


ROWS = (_signs, _tests, _causes)
"""What makes the rows of each mode."""
