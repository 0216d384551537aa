# SPDX-License-Identifier: GPL-3.0-or-later
"""How a window looks: units, theme, contrast, size, motion; what is chosen is remembered."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication, QMessageBox

from gravidon.desk import theme, zoom
from gravidon.plan.units import Family
from gravidon.words.text import tr

if TYPE_CHECKING:
    from gravidon.desk.window import MainWindow


class Look(QObject):
    """Changes the look of one window; follows the system's theme where it is asked to."""

    def __init__(self, window: MainWindow) -> None:
        super().__init__(window)
        self.window = window
        hints = QGuiApplication.styleHints()
        if hints is not None:
            hints.colorSchemeChanged.connect(self._system_changed)

    def switch_units(self) -> None:
        """The next usual set of units."""
        usual: tuple[Family, ...] = ("imperial", "psi mm C", "metric")
        now = usual.index(self.window.session.family) if self.window.session.family in usual else -1
        self.window.session.set_look(family=usual[(now + 1) % len(usual)])

    def switch_theme(self) -> None:
        """Light or dark."""
        self.window.session.set_look(theme=theme.OTHER[self.window.session.theme])

    def switch_contrast(self) -> None:
        """High contrast, or back."""
        self.window.session.set_look(theme=theme.CLEARER[self.window.session.theme])

    def follow_system(self) -> None:
        """Take the system's theme, and change with it."""
        application = QApplication.instance()
        if isinstance(application, QApplication):
            self.window.session.set_look(theme=theme.system_theme(application), follows_system=True)
            self.window.say(tr("The theme follows the system's."))

    def _system_changed(self) -> None:
        application = QApplication.instance()
        if self.window.session.follows_system and isinstance(application, QApplication):
            self.window.session.set_look(theme=theme.system_theme(application), follows_system=True)

    def switch_motion(self) -> None:
        """Let drawings move for a moment where it tells something, or keep them still; remembered."""
        self.window.session.motion = not self.window.session.motion
        self.window.preferences.put("motion", self.window.session.motion)
        self.window.say(
            tr("Motion is {state}.").format(state=(tr("on") if self.window.session.motion else tr("off")))
        )

    def show_larger(self, by: int) -> None:
        """Show everything larger or smaller by steps, 0 for the usual size; what it takes is a new start, which is offered."""
        now = zoom.kept(self.window.preferences)
        wanted = zoom.stepped(now, by)
        if wanted == now:
            self.window.say(tr("Everything is shown at {now} %.").format(now=now))
            return
        self.window.preferences.put(zoom.KEY, wanted)
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self.window,
            tr("Size of text and drawings"),
            tr("From the next start on everything is shown at {wanted} %. Start anew now?").format(
                wanted=wanted
            ),
            buttons.Yes | buttons.No,
            buttons.Yes,
        )
        if answer == buttons.Yes and self.window.may_leave():
            self.window.leaving = True
            path = self.window.session.path
            self.window.close()  # first: its plan is no longer open here
            zoom.start_anew(path)
