# SPDX-License-Identifier: GPL-3.0-or-later
"""The handbook: Markdown pages shown by F1, and one HTML page made of them by `gravidon handbook`."""

from __future__ import annotations

import re
from importlib import resources

from gravidon.translate import home, tr

PAGES = {
    "start": tr("Start here"),
    "evening": tr("A first evening"),
    "planner": tr("Planner and ideas"),
    "car": tr("Car & turbo"),
    "pressure": tr("Tap, feed line, restrictor"),
    "guesses": tr("Guesses and certainty"),
    "seat": tr("Seat"),
    "gravity": tr("Drain run"),
    "entry": tr("Sump and pan entry"),
    "breather": tr("Breather"),
    "scavenge": tr("Scavenge"),
    "first-start": tr("Senders and first start"),
    "logbook": tr("Logbook and health"),
    "diagnosis": tr("Why does it smoke?"),
    "trainer": tr("Trainer"),
    "attitude": tr("Attitude and drives"),
    "parts": tr("Parts, cuts and the hole"),
    "build": tr("Build"),
    "sheet": tr("Shop sheet and files"),
}
"""Pages by name, in the order of reading, with their headings in lists."""
WORKED = "<!-- worked -->"
"""In a page: where the plan's own numbers stand."""
FIGURE = re.compile(r"!\[([^\]]*)\]\(figure:([a-z]+)\)")
"""In a page: a figure drawn from the plan, its caption and its name."""


def page_text(page: str) -> str:
    """Return a handbook page as Markdown: in the language of the session where its catalogue brings the page, else as it ships."""
    folder = home()
    own = folder / "handbook" / f"{page}.md" if folder else None
    if own is not None and own.is_file():
        return own.read_text(encoding="utf-8")
    return resources.files("gravidon.handbook").joinpath(f"{page}.md").read_text(encoding="utf-8")


def as_text(words: str) -> str:
    """Return words that came from a file so that Markdown shows them as they are.

    >>> as_text("a*b <i>")
    'a\\\\*b \\\\<i\\\\>'
    """
    plain = re.sub(r"[ \t\r\n]+", " ", words)  # the narrow space before a unit stays
    return re.sub(r"([\\`*_{}\[\]()#+!<>|])", r"\\\1", plain)


def page_with(page: str, condition: str, worked: tuple[str, ...]) -> str:
    """Return a page with the plan's own numbers in their place.

    Args:
        page: its name.
        condition: the condition's name in the plan.
        worked: the sentences that work the numbers through; none: the place stays empty.
    """
    told = (
        tr("**In this plan, {condition}:** {told}").format(
            condition=as_text(condition), told=" ".join(as_text(w) for w in worked)
        )
        if worked
        else ""
    )
    return page_text(page).replace(WORKED, told)
