# SPDX-License-Identifier: GPL-3.0-or-later
"""Start the window: which plan, which look, what to recover."""

from __future__ import annotations

import os
import sys
from importlib import resources
from pathlib import Path

from PyQt6.QtCore import QDateTime, QLocale, QTimer
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication, QMessageBox

from gravidon.desk import theme, zoom
from gravidon.desk.ask import one_of
from gravidon.desk.dialogs import WelcomeDialog
from gravidon.desk.first_plan import FirstPlan
from gravidon.desk.mishap import MISHAPS
from gravidon.desk.preferences import Preferences, home, state_folder
from gravidon.desk.recovery import Recovered, Recovery, find_recoverable, recovered
from gravidon.desk.session import Session
from gravidon.desk.window import MainWindow
from gravidon.draw.style import load_fonts
from gravidon.errors import GravidonError
from gravidon.plan import demos, storage
from gravidon.plan.files import clear_leftovers, is_file
from gravidon.plan.model import Plan
from gravidon.plan.units import FAMILIES, Family
from gravidon.screen import say_unseen, without_screen
from gravidon.sheet.paper import PAPERS
from gravidon.words.text import tr

APPLICATION_ID = "org.gravidon.Gravidon"
"""What a desktop knows the window by: the name of its desktop entry."""


def make_application() -> QApplication:
    """Return the Qt application, without a screen if there is none."""
    if QApplication.instance() is None:
        say_unseen(without_screen())
    application = QApplication.instance()
    if not isinstance(application, QApplication):
        application = QApplication(["gravidon"])
    application.setApplicationName("Gravidon")
    application.setDesktopFileName(APPLICATION_ID)
    application.setWindowIcon(QIcon(str(resources.files("gravidon.draw").joinpath("icons/gravidon.svg"))))
    load_fonts()
    return application


def chosen_theme(preferences: Preferences, application: QApplication) -> tuple[str, bool]:
    """Return the theme that is remembered, or the system's, and whether it follows the system."""
    kept = str(preferences.get("theme", theme.SYSTEM))
    if kept in theme.PALETTES:
        return kept, False
    return theme.system_theme(application), True


def make_window(
    plan: Plan,
    path: Path | None = None,
    preferences: Preferences | None = None,
    recovery: Recovery | None = None,
) -> MainWindow:
    """Return a window on a plan, dressed as remembered."""
    preferences = preferences or Preferences()
    recovery = recovery or Recovery(state_folder())
    said = preferences.get("family", "imperial")
    family: Family = next((f for f in FAMILIES if f == said), "imperial")
    session = Session(plan, path, family)
    application = QApplication.instance()
    assert isinstance(application, QApplication)  # noqa: S101  a programming error, not user input
    session.motion = preferences.get("motion", True)
    paper = preferences.get("paper", "")
    session.paper = paper if paper in PAPERS else ""
    session.theme, session.follows_system = chosen_theme(preferences, application)
    theme.apply(application, session.theme)
    return MainWindow(session, preferences, recovery)


def choose_plan(named: str | None, preferences: Preferences) -> tuple[Plan, Path | None] | None:
    """Return the plan to open: the named one, the last one, or what the welcome choice gives."""
    if named is not None and (named == "demo" or (named in demos.NAMES and not is_file(named))):
        return demos.demo_plan("estate" if named == "demo" else named), None
    if named is not None:
        return storage.load(Path(named)), Path(named).resolve()
    last = preferences.last()
    if last is not None:
        try:
            return storage.load(last), last
        except GravidonError as error:
            print(f"gravidon: {error}", file=sys.stderr)
    return welcome(preferences)


def welcome(preferences: Preferences) -> tuple[Plan, Path | None] | None:
    """Ask what to start with; None if the user turns away."""
    while True:
        dialog = WelcomeDialog(preferences.recent())
        if not dialog.exec():
            return None
        if dialog.answer == "demo":
            return demos.demo_plan(), None
        if dialog.answer == "new":
            questions = FirstPlan("imperial")
            if questions.exec() and questions.plan is not None:
                return questions.plan, None
            continue
        path = dialog.path
        if path is None:
            from PyQt6.QtWidgets import QFileDialog

            name, _ = QFileDialog.getOpenFileName(None, tr("Open a plan"), str(home()), f"*{storage.SUFFIX}")
            if not name:
                continue
            path = Path(name)
        try:
            return storage.load(path), path
        except GravidonError as error:
            QMessageBox.warning(None, tr("Gravidon"), str(error))


def offer_recovery(window: MainWindow, folder: Path) -> None:
    """Offer what a window that was killed left behind; nothing is deleted but by the button that says so, and no key presses that one."""
    for found in find_recoverable(folder):
        answers = {
            "bring": tr("Bring it back"),
            "drop": tr("Throw it away"),
            "later": tr("Ask again next time"),
        }
        answer = one_of(window, _left_behind(found), answers, "later")
        if answer == "drop":
            found.file.unlink(missing_ok=True)
        elif answer == "bring":
            window.bring_back(found)
            return
        else:
            return


def _left_behind(found: Recovered) -> str:
    when = QLocale().toString(
        QDateTime.fromSecsSinceEpoch(round(found.kept_s)), QLocale.FormatType.ShortFormat
    )
    words = tr("“{name}” was not saved when Gravidon last stopped ({when}).").format(
        name=found.plan.name, when=when
    )
    if found.original is None:
        return words + " " + tr("It has no file yet.")
    words += " " + tr("Its file is {file}.").format(file=found.original)
    if found.file_is_newer:
        words += " " + tr(
            "That file was written since; it stays as it is until you save over it, and saving asks."
        )
    return words


def run(named: str | None) -> int:
    """Run the window until it closes; return the exit status."""
    preferences = Preferences()
    last = preferences.last()
    clear_leftovers(state_folder(), preferences.path.parent, *((last.parent,) if last is not None else ()))
    zoom.apply(preferences)
    application = make_application()
    theme.apply(application, chosen_theme(preferences, application)[0])
    before = zoom.goes_on()
    chosen = choose_plan(named, preferences)
    if chosen is None:
        return 0
    plan, path = chosen
    window = make_window(plan, path, preferences)
    MISHAPS.install()
    window.show_fitting()
    if path is not None:
        window.remember(path)
    if (
        plan.seen is not None and path is None and not plan.ideas
    ):  # just begun: from what the builder knows to plans
        QTimer.singleShot(0, window.make_plans)
    if before is not None and (kept := recovered(before.kept)) is not None:
        window.bring_back(kept, saved=not before.unsaved)
        window.session.choose_condition(before.condition)
    else:
        QTimer.singleShot(0, lambda: offer_recovery(window, state_folder()))
    limit = os.environ.get("GRAVIDON_QUIT_AFTER_MS")
    if limit:
        QTimer.singleShot(int(limit), application.quit)
    return application.exec()
