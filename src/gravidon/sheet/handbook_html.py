# SPDX-License-Identifier: GPL-3.0-or-later
"""The whole handbook as one HTML page: the pages of F1, their figures drawn from a plan, its numbers worked through."""

from __future__ import annotations

import re
from collections.abc import Callable
from html import escape
from importlib import resources

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from gravidon.draw.figures import FIGURES
from gravidon.draw.font_face import font_face
from gravidon.draw.ink import Ink
from gravidon.handbook import PAGES, page_with
from gravidon.plan.units import Family
from gravidon.sheet import page as sheet_page
from gravidon.sheet.device import application_for_painting
from gravidon.sheet.svg import svg_of
from gravidon.sheet.worked import worked
from gravidon.study.solve.evaluate import Evaluation
from gravidon.translate import language, tr

HEADING = re.compile(r"<(/?)h([1-5])>")


def handbook_html(e: Evaluation, condition: int, family: Family) -> str:
    """Return every page after a list of contents, self-contained.

    Args:
        e: the plan that figures and worked numbers are of.
        condition: the condition they show.
        family: units to say them in.
    """
    import jinja2
    import markdown

    application = application_for_painting()
    told = worked(e, condition, family)
    chapters = []
    for key, name in PAGES.items():
        text = page_with(key, e.names[condition], told.get(key, ()))
        html = markdown.markdown(text, extensions=["tables", "sane_lists"])
        html = HEADING.sub(
            lambda m: f"<{m[1]}h{int(m[2]) + 1}>", html
        )  # one heading of the first rank a page
        html = re.sub(
            r'<p><img alt="([^"]*)" src="figure:([a-z]+)" ?/></p>', _figure(e, condition, family), html
        )
        chapters.append((key, name, html))
    source = resources.files("gravidon.sheet").joinpath("handbook.html.jinja").read_text(encoding="utf-8")
    made = jinja2.Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True).from_string(source)
    page = made.render(
        tr=tr,
        language=language(),
        chapters=chapters,
        plan=e.plan.name,
        condition=e.names[condition],
        colours=sheet_page.PAPER,
        font_face=font_face(),
    )
    del application
    return page


def _figure(e: Evaluation, condition: int, family: Family) -> Callable[[re.Match[str]], str]:
    def drawn(found: re.Match[str]) -> str:
        figure = FIGURES[found[2]]

        def paint(painter: QPainter) -> None:
            box = QRectF(0, 0, figure.width, figure.height)
            figure.paint(Ink(painter, sheet_page.PAPER, family), box, e, condition)

        svg = svg_of(found[1], figure.width, figure.height, paint)
        return f"<figure>{svg}<figcaption>{escape(found[1], quote=False)}</figcaption></figure>"

    return drawn
