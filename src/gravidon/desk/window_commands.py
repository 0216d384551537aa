# SPDX-License-Identifier: GPL-3.0-or-later
"""What the window can do: every command once, with its keys and other words for it."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from gravidon.desk.commands import Command
from gravidon.desk.stations import STATIONS
from gravidon.plan import demos
from gravidon.words.text import tr

if TYPE_CHECKING:
    from gravidon.desk.window import MainWindow


def commands_of(window: MainWindow) -> list[Command]:
    """Return every command of a window, in the order of the menus."""
    session = window.session
    stations = [
        Command(
            "View", tr("Go to {name}").format(name=s.name), s.shortcut, partial(window.go_to, s.key), s.also
        )
        for s in STATIONS
    ]
    return [
        Command("Plan", tr("New plan: what do you know? …"), "Ctrl+N", window.new_plan),
        *(
            Command("Plan", tr("Demo: {title}").format(title=title), "", partial(window.open_demo, name))
            for name, title in demos.TITLES.items()
        ),
        Command("Plan", tr("Open …"), "Ctrl+O", window.open_dialog),
        Command("Plan", tr("Save"), "Ctrl+S", window.save),
        Command("Plan", tr("Save as …"), "Ctrl+Shift+S", window.save_as),
        Command("Plan", tr("Rename …"), "", window.rename),
        Command("Plan", tr("Operating conditions …"), "Ctrl+E", window.edit_conditions),
        Command("Plan", tr("Limits …"), "Ctrl+L", window.edit_limits),
        Command(
            "Plan",
            tr("Make plans …"),
            "Ctrl+M",
            window.make_plans,
            tr("planner best search safest cheapest why not"),
        ),
        Command("Plan", tr("Shop sheet as PDF …"), "Ctrl+P", lambda: window.save_sheet("pdf")),
        Command("Plan", tr("Shop sheet as HTML …"), "", lambda: window.save_sheet("html")),
        Command("Plan", tr("Print the shop sheet …"), "Ctrl+Shift+P", window.print_sheet),
        Command("Plan", tr("Copy the picture"), "Ctrl+Shift+C", window.copy_picture),
        Command("Plan", tr("Save the picture as SVG or PNG …"), "", window.save_picture),
        Command("Plan", tr("Save a report of what went wrong …"), "", window.save_report),
        Command("Plan", tr("Quit"), "Ctrl+Q", window.close),
        Command("Edit", tr("Undo"), "Ctrl+Z", session.undo),
        Command("Edit", tr("Redo"), "Ctrl+Shift+Z or Ctrl+Y", session.redo),
        *stations,
        Command(
            "View", tr("Next condition"), "Ctrl+]", lambda: session.choose_condition(session.condition + 1)
        ),
        Command(
            "View",
            tr("Previous condition"),
            "Ctrl+[",
            lambda: session.choose_condition(session.condition - 1),
        ),
        Command(
            "View",
            tr("Next part of the window"),
            "F6",
            lambda: window.next_region(1),
            tr("region focus keyboard"),
        ),
        Command("View", tr("Previous part of the window"), "Shift+F6", lambda: window.next_region(-1)),
        Command("View", tr("Next station"), "Ctrl+PgDown", lambda: window.walk(1)),
        Command("View", tr("Previous station"), "Ctrl+PgUp", lambda: window.walk(-1)),
        Command(
            "View",
            tr("All findings, in a list"),
            "F9",
            window.toggle_findings,
            tr("faults problems wrong why smoke"),
        ),
        Command("View", tr("Next finding"), "F8", lambda: window.findings.step(1)),
        Command("View", tr("Previous finding"), "Shift+F8", lambda: window.findings.step(-1)),
        Command("View", tr("Apply the finding's first remedy"), "Ctrl+Return", window.apply_first_remedy),
        Command("View", tr("Do all that helps"), "Ctrl+Shift+Return", window.do_all_that_helps),
        Command("View", tr("Switch units"), "Ctrl+U", window.look.switch_units),
        Command("View", tr("Switch light and dark theme"), "Ctrl+D", window.look.switch_theme),
        Command(
            "View",
            tr("High contrast on or off"),
            "Ctrl+Shift+D",
            window.look.switch_contrast,
            tr("clear accessible"),
        ),
        Command(
            "View", tr("Theme as the system's"), "", window.look.follow_system, tr("light dark automatic")
        ),
        Command(
            "View",
            tr("Everything larger …"),
            "Ctrl+=",
            lambda: window.look.show_larger(1),
            tr("zoom text size font big"),
        ),
        Command(
            "View",
            tr("Everything smaller …"),
            "Ctrl+-",
            lambda: window.look.show_larger(-1),
            tr("zoom text size font small"),
        ),
        Command(
            "View",
            tr("Everything in its usual size …"),
            "Ctrl+Shift+0",
            lambda: window.look.show_larger(0),
            tr("zoom 100"),
        ),
        Command(
            "View",
            tr("Motion on or off"),
            "",
            window.look.switch_motion,
            tr("animation animate moving still creep"),
        ),
        Command("Help", tr("Handbook for this place"), "F1", window.show_help),
        Command("Help", tr("Find a command …"), "Ctrl+K", window.search_commands),
        Command("Help", tr("Keys"), "Ctrl+/", window.show_keys),
    ]
