# SPDX-License-Identifier: GPL-3.0-or-later
"""What the window can do: every command once, with its keys and other words for it."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from gravidon.desk.commands import Command
from gravidon.desk.stations import STATIONS
from gravidon.plan import demos

if TYPE_CHECKING:
    from gravidon.desk.window import MainWindow


def commands_of(window: MainWindow) -> list[Command]:
    """Return every command of a window, in the order of the menus."""
    session = window.session
    stations = [
        Command("View", f"Go to {s.name}", s.shortcut, partial(window.go_to, s.key), s.also) for s in STATIONS
    ]
    return [
        Command("Plan", "New plan: what do you know? …", "Ctrl+N", window.new_plan),
        *(
            Command("Plan", f"Demo: {title}", "", partial(window.open_demo, name))
            for name, title in demos.TITLES.items()
        ),
        Command("Plan", "Open …", "Ctrl+O", window.open_dialog),
        Command("Plan", "Save", "Ctrl+S", window.save),
        Command("Plan", "Save as …", "Ctrl+Shift+S", window.save_as),
        Command("Plan", "Rename …", "", window.rename),
        Command("Plan", "Operating conditions …", "Ctrl+E", window.edit_conditions),
        Command("Plan", "Limits …", "Ctrl+L", window.edit_limits),
        Command(
            "Plan",
            "Make plans …",
            "Ctrl+M",
            window.make_plans,
            "planner best search safest cheapest why not",
        ),
        Command("Plan", "Shop sheet as PDF …", "Ctrl+P", lambda: window.save_sheet("pdf")),
        Command("Plan", "Shop sheet as HTML …", "", lambda: window.save_sheet("html")),
        Command("Plan", "Print the shop sheet …", "Ctrl+Shift+P", window.print_sheet),
        Command("Plan", "Copy the picture", "Ctrl+Shift+C", window.copy_picture),
        Command("Plan", "Save the picture as SVG or PNG …", "", window.save_picture),
        Command("Plan", "Save a report of what went wrong …", "", window.save_report),
        Command("Plan", "Quit", "Ctrl+Q", window.close),
        Command("Edit", "Undo", "Ctrl+Z", session.undo),
        Command("Edit", "Redo", "Ctrl+Shift+Z or Ctrl+Y", session.redo),
        *stations,
        Command("View", "Next condition", "Ctrl+]", lambda: session.choose_condition(session.condition + 1)),
        Command(
            "View",
            "Previous condition",
            "Ctrl+[",
            lambda: session.choose_condition(session.condition - 1),
        ),
        Command(
            "View", "Next part of the window", "F6", lambda: window.next_region(1), "region focus keyboard"
        ),
        Command("View", "Previous part of the window", "Shift+F6", lambda: window.next_region(-1)),
        Command("View", "Next station", "Ctrl+PgDown", lambda: window.walk(1)),
        Command("View", "Previous station", "Ctrl+PgUp", lambda: window.walk(-1)),
        Command(
            "View",
            "All findings, in a list",
            "F9",
            window.toggle_findings,
            "faults problems wrong why smoke",
        ),
        Command("View", "Next finding", "F8", lambda: window.findings.step(1)),
        Command("View", "Previous finding", "Shift+F8", lambda: window.findings.step(-1)),
        Command("View", "Apply the finding's first remedy", "Ctrl+Return", window.apply_first_remedy),
        Command("View", "Switch units", "Ctrl+U", window.switch_units),
        Command("View", "Switch light and dark theme", "Ctrl+D", window.switch_theme),
        Command(
            "View", "High contrast on or off", "Ctrl+Shift+D", window.switch_contrast, "clear accessible"
        ),
        Command("View", "Theme as the system's", "", window.follow_system, "light dark automatic"),
        Command("View", "Everything larger …", "Ctrl+=", lambda: window.zoom(1), "zoom text size font big"),
        Command(
            "View", "Everything smaller …", "Ctrl+-", lambda: window.zoom(-1), "zoom text size font small"
        ),
        Command("View", "Everything in its usual size …", "Ctrl+0", lambda: window.zoom(0), "zoom 100"),
        Command("View", "Motion on or off", "", window.switch_motion, "animation animate moving still creep"),
        Command("Help", "Handbook for this place", "F1", window.show_help),
        Command("Help", "Find a command …", "Ctrl+K", window.search_commands),
        Command("Help", "Keys", "Ctrl+/", window.show_keys),
    ]
