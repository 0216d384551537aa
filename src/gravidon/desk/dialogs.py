# SPDX-License-Identifier: GPL-3.0-or-later
"""The window's dialogs: start, conditions."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QMenu,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.session import Session
from gravidon.desk.table import Cell, Table, shown, typed_value
from gravidon.desk.way_picture import WayPicture
from gravidon.errors import GravidonError
from gravidon.plan import demos, paths
from gravidon.plan.conditions import more_conditions
from gravidon.plan.model import Condition
from gravidon.plan.regimes import REGIMES
from gravidon.words.text import tr


class WelcomeDialog(QDialog):
    """The first choice: look around the demo, start a plan, or open one."""

    def __init__(self, recent: list[Path], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Gravidon"))
        self.answer: str = ""
        self.path: Path | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(28, 24, 28, 20)
        column.setSpacing(10)
        title = QLabel(tr("Plan the oil: in under pressure, out by gravity."))
        title.setProperty("role", "title")
        column.addWidget(title)
        words = QLabel(
            tr(
                "Look around a finished example with faults to find, or say what you know of your own car and let plans be made."
            )
        )
        words.setWordWrap(True)
        column.addWidget(words)
        column.addWidget(WayPicture(demos.demo_plan("coupe"), "metric"), 1)
        for key, text in (
            ("demo", tr("Look around the demo")),
            ("new", tr("Start a plan of your own")),
            ("open", tr("Open a plan file …")),
        ):
            button = QPushButton(text)
            if key == "demo":
                button.setProperty("role", "main")
                button.setDefault(True)
            button.clicked.connect(lambda _, k=key: self._choose(k, None))
            column.addWidget(button)
        if recent:
            column.addWidget(QLabel(tr("Recent plans")))
            listed = QListWidget()
            listed.setAccessibleName(tr("Recent plans"))
            listed.addItems([p.name for p in recent])
            listed.setMaximumHeight(130)
            listed.itemActivated.connect(lambda item: self._choose("recent", recent[listed.row(item)]))
            column.addWidget(listed)

    def _choose(self, answer: str, path: Path | None) -> None:
        self.answer, self.path = answer, path
        self.accept()


CONDITION_FIELDS = (
    "rpm",
    "oil_temperature_c",
    "load",
    "heat_kw",
    "air_fraction",
    "oil_up_l",
    "forward_g",
    "left_g",
    "nose_up_deg",
    "left_side_up_deg",
    "blow_by_share",
    "intake_kpa",
    "crankcase_kpa",
    "wheel_side_kpa",
    "duration_s",
)


class ConditionsDialog(QDialog):
    """Edit, add and remove operating conditions; every change goes through the session at once."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setWindowTitle(tr("Operating conditions"))
        self.resize(1040, 460)
        column = QVBoxLayout(self)
        words = QLabel(
            tr(
                "Heat, froth and crankcase pressure are common practice until measured. A length of 0 s means for good. Forward and left are the car's acceleration: braking is negative, a left turn positive."
            )
        )
        words.setWordWrap(True)
        column.addWidget(words)
        labels = [tr("name"), tr("regime")]
        labels += [
            _short(tr(paths.spec_at(session.plan, f"conditions.0.{f}").label)) for f in CONDITION_FIELDS
        ]
        self.table = Table(tr("Conditions"), labels, left=(0, 1), wide=None)
        header = self.table.horizontalHeader()
        if header is not None:
            header.setDefaultAlignment(
                Qt.AlignmentFlag.AlignCenter | Qt.AlignmentFlag(Qt.TextFlag.TextWordWrap.value)
            )
            header.setMinimumHeight(44)
        self.table.typed.connect(self._typed)
        column.addWidget(self.table, 1)
        self.problem = QLabel()
        self.problem.setWordWrap(True)
        column.addWidget(self.problem)
        row = QHBoxLayout()
        for text, action in (
            (tr("Add a copy of the chosen one"), self.add),
            (tr("Remove the chosen one"), self.remove),
        ):
            button = QToolButton()
            button.setText(text)
            button.clicked.connect(action)
            row.addWidget(button)
        usual = QToolButton()
        usual.setText(tr("Add a usual one ▾"))
        menu = QMenu(usual)
        for condition in more_conditions():
            made = menu.addAction(condition.name)
            if made is not None:
                made.triggered.connect(lambda _=False, c=condition: self.add_usual(c))
        usual.setMenu(menu)
        usual.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        row.addWidget(usual)
        row.addStretch(1)
        close = QPushButton(tr("Done"))
        close.setProperty("role", "main")
        close.clicked.connect(self.accept)
        row.addWidget(close)
        column.addLayout(row)
        session.changed.connect(self.fill)
        session.refused.connect(self.problem.setText)
        self.fill()

    def fill(self) -> None:
        """Show the plan's conditions."""
        conditions = self.session.plan.conditions
        self.table.fill(
            [
                [Cell(shown(self.session, c, f), True) for f in ("name", "regime", *CONDITION_FIELDS)]
                for c in conditions
            ]
        )
        if self.table.currentRow() < 0:
            self.table.setCurrentCell(self.session.condition, 0)

    def _typed(self, row: int, column: int, text: str) -> None:
        key = ("name", "regime", *CONDITION_FIELDS)[column]
        path = f"conditions.{row}.{key}"
        self.problem.setText("")
        try:
            value = typed_value(self.session, path, text)
        except GravidonError as error:
            self.problem.setText(str(error))
            self.fill()
            return
        label = f"{self.session.plan.conditions[row].name}: {_short(key)}"
        if key in ("regime", "rpm"):
            done = self._regime(row, key, value, label)
        else:
            done = self.session.edit(path, value, label)
        if not done:
            self.fill()

    def _regime(self, row: int, key: str, value: object, label: str) -> bool:
        """Engine off and rpm 0 belong together: changing one brings the other along."""
        condition = self.session.plan.conditions[row]
        data = {**condition.model_dump(), key: value}
        if key == "regime":
            wanted = REGIMES.get(str(value), condition.kind)
            data["rpm"] = (condition.rpm or wanted.usual_rpm) if wanted.turning else 0.0
        elif (value != 0.0) != condition.kind.turning:
            turning = value != 0.0
            data["regime"] = next(r.name for r in REGIMES.values() if r.turning == turning and r.warm)
        return self.session.edit(f"conditions.{row}", data, label)

    def add(self) -> None:
        """Add a copy under a new name."""
        conditions = self.session.plan.conditions
        row = max(self.table.currentRow(), 0)
        names = {c.name for c in conditions}
        name = next(n for n in (f"{conditions[row].name[:70]} {k}" for k in range(2, 100)) if n not in names)
        new = conditions[row].model_copy(update={"name": name})
        if self.session.edit("conditions", (*conditions, new), tr("add {name}").format(name=name)):
            self.table.setCurrentCell(len(conditions), 0)

    def add_usual(self, condition: Condition) -> None:
        """Add one of the conditions builders add most; one of that name is there only once."""
        conditions = self.session.plan.conditions
        if any(c.name == condition.name for c in conditions):
            self.problem.setText(tr("{name} is in the deck already.").format(name=condition.name))
            return
        if self.session.edit(
            "conditions", (*conditions, condition), tr("add {name}").format(name=condition.name)
        ):
            self.table.setCurrentCell(len(conditions), 0)

    def remove(self) -> None:
        """Remove the chosen one; the last stays."""
        conditions = self.session.plan.conditions
        row = self.table.currentRow()
        if len(conditions) == 1 or row < 0:
            self.problem.setText(tr("A plan needs at least one condition."))
            return
        self.session.edit(
            "conditions",
            (*conditions[:row], *conditions[row + 1 :]),
            tr("remove {name}").format(name=conditions[row].name),
        )


def _short(label: str) -> str:
    return (
        label.split(" (", maxsplit=1)[0]
        .replace("acceleration ", "")
        .replace("heat into the oil at the turbo", "heat")
    )
