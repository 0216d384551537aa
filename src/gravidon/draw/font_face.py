# SPDX-License-Identifier: GPL-3.0-or-later
"""The typeface that ships, for pages and pictures that leave the program: carried in them, so that words take the room they were measured with."""

from __future__ import annotations

import base64
import re
from functools import cache
from html import escape
from importlib import resources

WEIGHTS = (("Regular", 400), ("SemiBold", 600))
"""The files' weights, and as style sheets count them; Qt writes 600 for its DemiBold."""


@cache
def font_face() -> str:
    """Return style rules that bring the typeface along, as WOFF in the text itself.

    Source: W3C CSS Fonts, @font-face; RFC 2397, data URLs.
    """
    rules = []
    for name, weight in WEIGHTS:
        raw = resources.files("gravidon.draw").joinpath(f"fonts/IBMPlexSans-{name}.woff").read_bytes()
        data = base64.b64encode(raw).decode("ascii")
        rules.append(
            f'@font-face {{ font-family: "IBM Plex Sans"; font-weight: {weight}; '
            f'src: url("data:font/woff;base64,{data}") format("woff"); }}'
        )
    return "\n".join(rules)


def whole_svg(text: str, title: str, description: str = "", font: bool = True) -> str:
    """Return an SVG that names and describes itself to whoever cannot see it, and carries its typeface.

    Args:
        text: the SVG, as a generator wrote it.
        title: what it is.
        description: what is on it; empty: nothing more.
        font: whether the typeface goes in; False for one inside a page that has it.

    Raises: ValueError if it is no SVG.
    """
    start = text.index("<svg")
    end = text.index(">", start)
    head = re.sub(
        r' (version|baseProfile)="[^"]*"', "", text[start:end]
    )  # neither means anything to a browser
    rest = text[end + 1 :]
    for tag in ("title", "desc"):  # what the generator wrote of its own
        while rest.lstrip().startswith(f"<{tag}>"):
            rest = rest[rest.index(f"</{tag}>") + len(tag) + 3 :]
    named = escape(title, quote=True)
    if "aria-label" not in head:
        head += f' role="img" aria-label="{named}"'
    told = f"<title>{escape(title)}</title>" + (f"<desc>{escape(description)}</desc>" if description else "")
    style = f"<style>{font_face()}</style>" if font else ""
    return f"{text[:start]}{head}>{told}{style}{rest}"
