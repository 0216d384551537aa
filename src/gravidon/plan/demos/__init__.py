# SPDX-License-Identifier: GPL-3.0-or-later
"""Demo plans that ship with Gravidon; all invented."""

from __future__ import annotations

from importlib import resources

from gravidon.plan.model import Plan
from gravidon.plan.storage import plan_from_text
from gravidon.translate import tr

NAMES = ("estate", "special", "van", "coupe")
TITLES = {
    "estate": tr("estate with honest faults"),
    "special": tr("hill-climb special, low turbo"),
    "van": tr("V6 van, two turbos, one drain"),
    "coupe": tr("coupe, finished: a plan that passes"),
}
"""What each demo is, for menus."""


def demo_plan(name: str = "estate") -> Plan:
    """Return a demo plan.

    Raises: KeyError for a name not in NAMES.
    """
    if name not in NAMES:
        raise KeyError(name)
    text = resources.files("gravidon.plan.demos").joinpath(f"{name}.gravidon").read_text(encoding="utf-8")
    return plan_from_text(text)


def demo_season(name: str) -> str:
    """Return the CSV of a demo's logbook; empty where none ships."""
    file = resources.files("gravidon.plan.demos").joinpath(f"{name}-season.csv")
    return file.read_text(encoding="utf-8") if file.is_file() else ""


def demo_drive() -> str:
    """Return the text of the drive log that ships: six invented minutes on a hill road."""
    return resources.files("gravidon.plan.demos").joinpath("hill-road.csv").read_text(encoding="utf-8")
