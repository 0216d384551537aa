# SPDX-License-Identifier: GPL-3.0-or-later
"""Every command of the window once: menus, shortcut sheet and command search all read this list."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QDialog, QLabel, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from gravidon.words.text import tr


@dataclass(frozen=True)
class Command:
    """A command: where it belongs, what it is called, its keys, what it does, and other words one may look for it by."""

    group: str
    text: str
    keys: str
    run: Callable[[], object]
    also: str = ""


class CommandBook:
    """The commands as actions of a window."""

    def __init__(self, window: QWidget, commands: list[Command]) -> None:
        self.commands = commands
        self.actions: dict[str, QAction] = {}
        for command in commands:
            action = QAction(command.text, window)
            if command.keys:
                action.setShortcuts([QKeySequence(k) for k in command.keys.split(" or ")])
                action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
            action.triggered.connect(lambda _=False, c=command: c.run())
            window.addAction(action)
            self.actions[command.text] = action

    def group(self, name: str) -> list[QAction]:
        """Return the actions of one group, in order."""
        return [self.actions[c.text] for c in self.commands if c.group == name]


class CommandSearch(QDialog):
    """Type a few letters, press Return."""

    def __init__(self, book: CommandBook, parent: QWidget) -> None:
        super().__init__(parent)
        self.book = book
        self.setWindowTitle(tr("Find a command"))
        self.resize(420, 360)
        column = QVBoxLayout(self)
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("What do you want to do?"))
        self.line.setAccessibleName(tr("Command search"))
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Matching commands"))
        column.addWidget(self.line)
        column.addWidget(self.list)
        self.line.textChanged.connect(self._filter)
        self.line.returnPressed.connect(self._go)
        self.list.itemActivated.connect(lambda _: self._go())
        self._filter("")

    def _filter(self, text: str) -> None:
        words = text.lower().split()
        self.list.clear()
        for command in self.book.commands:
            whole = f"{command.group} {command.text} {command.also}".lower()
            if all(word in whole for word in words) and self.book.actions[command.text].isEnabled():
                keys = f"    {command.keys}" if command.keys else ""
                item = QListWidgetItem(f"{command.text}{keys}")
                item.setData(Qt.ItemDataRole.UserRole, command.text)
                self.list.addItem(item)
        if not self.list.count():
            item = QListWidgetItem(
                tr("Nothing found. Try the part's name, or what goes wrong: smoke, drain, thread …")
            )
            item.setFlags(Qt.ItemFlag.NoItemFlags)
            self.list.addItem(item)
        self.list.setCurrentRow(0)

    def keyPressEvent(self, event: object) -> None:
        """Arrows move the choice while typing."""
        key = event.key()  # type: ignore[attr-defined]
        if key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            step = 1 if key == Qt.Key.Key_Down else -1
            self.list.setCurrentRow(min(max(self.list.currentRow() + step, 0), self.list.count() - 1))
            return
        super().keyPressEvent(event)  # type: ignore[arg-type]

    def _go(self) -> None:
        item = self.list.currentItem()
        if item is None or item.data(Qt.ItemDataRole.UserRole) is None:
            return
        self.accept()
        if item is not None:
            self.book.actions[item.data(Qt.ItemDataRole.UserRole)].trigger()


class ShortcutSheet(QDialog):
    """All keys on one page."""

    def __init__(self, book: CommandBook, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Keys"))
        self.resize(560, 480)
        column = QVBoxLayout(self)
        rows = "".join(
            f"<tr><td style='padding:2px 18px 2px 0'>{c.text}</td><td><b>{c.keys}</b></td></tr>"
            for c in book.commands
            if c.keys
        )
        extra = (
            (tr("On the drain drawing: nudge the chosen point (Shift: ten times)"), tr("arrow keys")),
            (tr("On the drain drawing: next point, zoom, fit"), "N, +, −, 0"),
            (tr("On the restrictor chart: next drill"), tr("arrow keys")),
            (
                tr("On any drawing: read with a cross (Shift: finer), click there"),
                tr("Alt+arrows, Alt+Return"),
            ),
            (tr("In a number: give back the plan's value"), "Esc"),
            (tr("In a number: mark as measured, maker's, or a guess"), "Ctrl+G"),
        )
        rows += "".join(
            f"<tr><td style='padding:2px 18px 2px 0'>{t}</td><td><b>{k}</b></td></tr>" for t, k in extra
        )
        label = QLabel(tr("<table>{rows}</table>").format(rows=rows))
        label.setProperty("markup", True)
        label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        from PyQt6.QtWidgets import QScrollArea

        area = QScrollArea()
        area.setWidget(label)
        area.setWidgetResizable(True)
        column.addWidget(area)
