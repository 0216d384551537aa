# SPDX-License-Identifier: GPL-3.0-or-later
"""The strip over everything: the plan's name, undo and redo, units, and the menus."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QMenu, QToolButton

from gravidon.desk.commands import CommandBook
from gravidon.desk.preferences import Preferences
from gravidon.desk.session import Session
from gravidon.desk.there import there
from gravidon.plan.units import FAMILIES, family_words
from gravidon.words.text import N_, tr

MENUS = (N_("Plan"), N_("View"), N_("Help"))


class HeadStrip(QFrame):
    """Shows the session's name and what can be taken back; opens menus of the window's commands."""

    recent_chosen = pyqtSignal(object)
    """A recent plan's path was chosen."""

    def __init__(self, session: Session, preferences: Preferences, commands: CommandBook) -> None:
        super().__init__()
        self.session, self.preferences, self.commands = session, preferences, commands
        self.setObjectName("head")
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 4, 10, 0)
        row.setSpacing(8)
        self.name = QLabel()
        self.name.setStyleSheet("font-weight: 600;")
        row.addWidget(self.name)
        row.addStretch(1)
        self.undo_button = self._button(tr("Undo"), session.undo)
        self.redo_button = self._button(tr("Redo"), session.redo)
        self.units_button = self._opens("", self._fill_units)
        self.menus = {name: self._opens(f"{tr(name)} ▾", partial(self.fill, name)) for name in MENUS}
        for button in (self.undo_button, self.redo_button, self.units_button, *self.menus.values()):
            row.addWidget(button)

    @staticmethod
    def _button(text: str, action: Callable[[], object] | None) -> QToolButton:
        button = QToolButton()
        button.setText(text)
        button.setProperty("bare", True)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        if action is not None:
            button.clicked.connect(lambda _=False: action())
        return button

    def _opens(self, text: str, fill: Callable[[QMenu], None]) -> QToolButton:
        """Return a button that opens a menu, filled when it is opened."""
        button = self._button(text, None)
        menu = QMenu(button)
        menu.aboutToShow.connect(partial(fill, menu))
        button.setMenu(menu)
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        return button

    def refresh(self) -> None:
        """Show the session as it is."""
        s = self.session
        self.name.setText(f"{s.plan.name}{'  ● unsaved' if s.unsaved else ''}")
        self.undo_button.setEnabled(bool(s.undo_label()))
        self.redo_button.setEnabled(bool(s.redo_label()))
        self.undo_button.setToolTip(tr("Take back: {undo_label} (Ctrl+Z)").format(undo_label=s.undo_label()))
        self.redo_button.setToolTip(
            tr("Do again: {redo_label} (Ctrl+Shift+Z)").format(redo_label=s.redo_label())
        )
        self.units_button.setText(f"{family_words(s.family)} ▾")
        self.units_button.setToolTip(
            tr("Units of pressure, length and temperature (Ctrl+U: the next usual set)")
        )

    def fill(self, name: str, menu: QMenu) -> None:
        """Fill one of the menus with its commands; Plan with the recent plans as well."""
        menu.clear()
        menu.addActions(self.commands.group(name))
        recent = self.preferences.recent() if name == "Plan" else []
        if recent:
            menu.addSeparator()
        for path in recent:
            there(menu.addAction(path.name)).triggered.connect(partial(self._recent, path))

    def _recent(self, path: Path, _: bool = False) -> None:
        self.recent_chosen.emit(path)

    def _fill_units(self, menu: QMenu) -> None:
        """Every set of units, the one in use ticked."""
        menu.clear()
        for family in FAMILIES:
            action = there(menu.addAction(family_words(family)))
            action.setCheckable(True)
            action.setChecked(family == self.session.family)
            action.triggered.connect(lambda _=False, f=family: self.session.set_look(family=f))
