# SPDX-License-Identifier: GPL-3.0-or-later
"""What may change in a plan: what the builder won't do, and every choice with its padlock."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QIcon, QKeyEvent, QPixmap
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.session import Session
from gravidon.desk.theme import PALETTES
from gravidon.desk.there import there
from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import Palette
from gravidon.draw.surface import painter_on
from gravidon.errors import GravidonError
from gravidon.plan.model import Hold
from gravidon.study.planning.freedom import (
    WONTS,
    Held,
    Wont,
    holds,
    read_hold,
    with_hold,
    with_wont,
    without_hold,
)
from gravidon.words.text import tr

LOCK_PX = 14
STATE_WORDS = {"locked": tr("locked: it stays"), "limited": tr("limited"), "open": tr("open: it may change")}


def padlock_icon(palette: Palette, state: str) -> QIcon:
    """Return a padlock as an icon."""
    picture = QPixmap(2 * LOCK_PX, 2 * LOCK_PX)
    picture.setDevicePixelRatio(2.0)
    picture.fill(Qt.GlobalColor.transparent)
    with painter_on(picture) as painter:
        marks.paint_padlock(Ink(painter, palette), QRectF(0, 0, LOCK_PX, LOCK_PX), state)
    return QIcon(picture)


class HoldTree(QTreeWidget):
    """Every choice of the plan with its value; Space locks or opens the one that is chosen."""

    def __init__(self, owner: HoldsList) -> None:
        super().__init__()
        self.owner = owner
        self.setAccessibleName(tr("What may change"))
        self.setColumnCount(2)
        self.setHeaderHidden(True)
        self.setRootIsDecorated(False)
        self.setUniformRowHeights(True)
        self.setIconSize(QSize(LOCK_PX, LOCK_PX))
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        header = there(self.header())
        header.setStretchLastSection(False)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        self.itemClicked.connect(self._clicked)
        self.currentItemChanged.connect(lambda *_: self.owner.show_limit())

    def _clicked(self, item: QTreeWidgetItem, column: int) -> None:
        if column == 0 and there(self.viewport()).mapFromGlobal(self.cursor().pos()).x() < LOCK_PX + 10:
            self.owner.turn(item)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space turns the padlock, Return goes to what it is limited to."""
        item = self.currentItem()
        if event is not None and item is not None and event.key() == Qt.Key.Key_Space:
            self.owner.turn(item)
        elif event is not None and item is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.owner.limit.setFocus()
        else:
            super().keyPressEvent(event)


BESIDE_PX = 118
"""[px] that words may be wide to stand two in a row."""


class HoldsList(QWidget):
    """Won'ts to tick, choices to lock, and what the chosen one is limited to."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        heading = QLabel(tr("What you won't do"))
        heading.setProperty("role", "section")
        column.addWidget(heading)
        self.wonts: list[tuple[Wont, QCheckBox]] = []
        boxes = QGridLayout()
        boxes.setHorizontalSpacing(8)
        boxes.setVerticalSpacing(0)
        longest = max(self.fontMetrics().horizontalAdvance(tr(w.words)) for w in WONTS)
        columns = 2 if longest < BESIDE_PX else 1
        for n, wont in enumerate(WONTS):
            box = QCheckBox(tr(wont.words))
            box.clicked.connect(partial(self._said, wont))
            boxes.addWidget(box, n // columns, n % columns)
            self.wonts.append((wont, box))
        column.addLayout(boxes)
        heading = QLabel(tr("What may change"))
        heading.setProperty("role", "section")
        column.addWidget(heading)
        self.tree = HoldTree(self)
        self.tree.setMinimumHeight(120)
        column.addWidget(self.tree, 1)
        self.told = QLabel()
        self.told.setProperty("role", "faint")
        self.told.setWordWrap(True)
        self.told.setMinimumHeight(34)
        self.told.setAlignment(Qt.AlignmentFlag.AlignTop)
        column.addWidget(self.told)
        row = QHBoxLayout()
        row.setSpacing(4)
        self.limit = QLineEdit()
        self.limit.setAccessibleName(tr("Limit the chosen choice to"))
        self.limit.setPlaceholderText(tr("limit to …"))
        self.limit.returnPressed.connect(self._limited)
        self.forget = QPushButton(tr("Unsaid"))
        self.forget.setToolTip(tr("Nothing said about it: what was measured or done holds it again"))
        self.forget.clicked.connect(self._forget)
        row.addWidget(self.limit, 1)
        row.addWidget(self.forget)
        column.addLayout(row)
        self._rows: list[Held] = []

    def refresh(self) -> None:
        """Show the plan's choices, those of the chosen turbo and those that all share."""
        s = self.session
        for wont, box in self.wonts:
            box.setEnabled(bool(wont.holds(s.plan, s.turbo)))
            box.setChecked(wont.said(s.plan, s.turbo))
        self._rows = [h for h in holds(s.plan) if h.choice.known.shared or h.turbo == s.turbo]
        palette = PALETTES[s.theme]
        icons = {state: padlock_icon(palette, state) for state in STATE_WORDS}
        kept = self.tree.indexOfTopLevelItem(self.tree.currentItem()) if self.tree.currentItem() else 0
        self.tree.blockSignals(True)
        self.tree.clear()
        for row in self._rows:
            value = row.choice.said(row.choice.value(s.plan, row.turbo), s.family)
            item = QTreeWidgetItem([row.choice.words, _short(value)])
            item.setIcon(0, icons[row.state])
            item.setToolTip(0, f"{row.choice.words}: {value}\n{_state(row)}")
            item.setToolTip(1, item.toolTip(0))
            item.setTextAlignment(1, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            self.tree.addTopLevelItem(item)
        self.tree.setCurrentItem(self.tree.topLevelItem(min(max(kept, 0), len(self._rows) - 1)))
        self.tree.blockSignals(False)
        self.show_limit()

    def chosen(self) -> Held | None:
        """Return the choice that is chosen."""
        n = self.tree.indexOfTopLevelItem(self.tree.currentItem()) if self.tree.currentItem() else -1
        return self._rows[n] if 0 <= n < len(self._rows) else None

    def show_limit(self) -> None:
        """Tell how the chosen choice stands, and what it is limited to."""
        row = self.chosen()
        if row is None:
            return
        self.told.setText(_state(row))
        self.limit.setText(_limits(row.hold))
        self.limit.setPlaceholderText(_example(row))
        self.forget.setEnabled(any(h.key == row.hold.key for h in self.session.plan.holds))

    def turn(self, item: QTreeWidgetItem) -> None:
        """Lock what is open, open what is locked or limited."""
        row = self._rows[self.tree.indexOfTopLevelItem(item)]
        state = "locked" if row.state == "open" else "open"
        hold = Hold(choice=row.choice.name, turbo=row.turbo, state=state)  # type: ignore[arg-type]
        self.session.propose(with_hold(self.session.plan, hold), f"{row.choice.words} {state}")

    def _said(self, wont: Wont, on: bool) -> None:
        s = self.session
        s.propose(
            with_wont(s.plan, s.turbo, wont, on),
            tr(wont.words) if on else tr("no longer: {words}").format(words=tr(wont.words)),
        )

    def _limited(self) -> None:
        row, s = self.chosen(), self.session
        if row is None:
            return
        words = self.limit.text().strip()
        try:
            text = f"{row.choice.name}@{row.turbo + 1}={words}" if words else ""
            plan = (
                with_hold(s.plan, read_hold(s.plan, text))
                if words
                else without_hold(s.plan, row.choice.name, row.turbo)
            )
        except GravidonError as error:
            s.refused.emit(str(error))
            return
        s.propose(
            plan,
            tr("{words} limited").format(words=row.choice.words)
            if words
            else tr("{words} unsaid").format(words=row.choice.words),
        )

    def _forget(self) -> None:
        row = self.chosen()
        if row is not None:
            plan = without_hold(self.session.plan, row.choice.name, row.turbo)
            self.session.propose(plan, tr("{words} unsaid").format(words=row.choice.words))


def _short(value: str) -> str:
    return value if len(value) <= 20 else f"{value[:18]}…"


def _state(row: Held) -> str:
    words = STATE_WORDS[row.state]
    if row.state == "limited":
        words = tr("limited to {limits}").format(limits=_limits(row.hold))
    return f"{words} ({tr(row.why)})" if row.why and row.why != "said" else words


def _limits(hold: Hold) -> str:
    if hold.only:
        return "; ".join(hold.only) if any("," in v for v in hold.only) else ", ".join(hold.only)
    if hold.least is None and hold.most is None:
        return ""
    low, high = ("" if v is None else f"{v:g}" for v in (hold.least, hold.most))
    return f"{low}..{high}"


def _example(row: Held) -> str:
    if row.choice.name == "entry-place":
        return tr("-60..-20 (mm over the rail)")
    if row.choice.known.numeric:
        return "1.0..2.2"
    return tr("limit to, e.g. -10, -12") if row.choice.name == "drain-size" else tr("limit to …")
