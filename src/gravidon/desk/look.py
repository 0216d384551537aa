# SPDX-License-Identifier: GPL-3.0-or-later
"""How a window looks: units, theme, contrast, size, motion; what is chosen is remembered."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication

from gravidon.desk import theme, zoom
from gravidon.plan.units import Family
from gravidon.words.text import tr

if TYPE_CHECKING:
    from gravidon.desk.window import MainWindow

STEPS_MS = 900
"""[ms] after which no further step of the size is waited for; project choice."""


class Look(QObject):
    """Changes the look of one window; follows the system's theme where it is asked to."""

    def __init__(self, window: MainWindow) -> None:
        super().__init__(window)
        self.window = window
        self.sizing = QTimer(window)
        self.sizing.setSingleShot(True)
        self.sizing.setInterval(STEPS_MS)
        self.sizing.timeout.connect(self._come_again)
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
        """Show everything larger or smaller by steps, 0 for the usual size: when no more steps come the window comes again in that
        size, with the plan, the page and the condition as they are, saved or not (Qt takes a size at a start alone)."""
        now = zoom.kept(self.window.preferences)
        wanted = zoom.stepped(now, by)
        if wanted == now:
            self.window.say(tr("Everything is shown at {now} %.").format(now=now))
            return
        self.window.preferences.put(zoom.KEY, wanted)
        self.window.say(tr("{wanted} %: the window comes again in this size.").format(wanted=wanted))
        self.sizing.start()

    def _come_again(self) -> None:
        it = self.window
        it.keep_now()
        it.preferences.put("station", it.station.key)
        plan = it.session.path
        if plan is not None and not plan.exists():
            plan = None
        here = zoom.GoesOn(it.recovery.file, it.session.condition, it.session.unsaved)
        if zoom.start_anew(plan, here):
            it.leave_as_it_is()
        else:
            it.say(tr("It could not be started again; the size holds from the next start on."))
