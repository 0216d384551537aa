# SPDX-License-Identifier: GPL-3.0-or-later
"""Write the papers of a demo in the language of `pseudo.py` and print, as JSON, what on them is not in it: `paper_pseudo.py DEMO FOLDER`."""

from __future__ import annotations

import json
import sys
from functools import partial
from html.parser import HTMLParser
from pathlib import Path

from ezdxf.filemanagement import readfile
from PyQt6.QtGui import QImage, QPainter

from desk.painted import overlaps, watched
from gravidon import api
from gravidon.sheet import workshop
from gravidon.sheet.device import application_for_painting
from gravidon.sheet.dxf import SUBJECTS, write_dxf
from gravidon.sheet.handbook_html import handbook_html
from gravidon.sheet.page import paint_page
from gravidon.sheet.shop_sheet import html_text, pdf_bytes
from gravidon.study.verdict.trials import trial
from words.walk_pseudo import Own

WRITTEN_BY_HAND = "main"
"""The element of the handbook whose pages are translated as files, not text by text."""


class Shown(HTMLParser):
    """The texts of a page, and those that it only tells."""

    def __init__(self, aside: str = "") -> None:
        super().__init__(convert_charrefs=True)
        self.texts: list[str] = []
        self.above: list[str] = []
        self.language = ""
        self.aside = aside

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        told = dict(attrs)
        self.language = self.language or told.get("lang") or ""
        if self.aside not in self.above:
            self.texts += [v for name in ("aria-label", "alt", "title") if (v := told.get(name))]
        if tag not in ("meta", "br", "hr", "img"):
            self.above.append(tag)

    def handle_endtag(self, tag: str) -> None:
        if self.above and self.above[-1] == tag:
            self.above.pop()

    def handle_data(self, data: str) -> None:
        if data.strip() and self.above[-1] != "style" and self.aside not in self.above:
            self.texts.append(" ".join(data.split()))


def texts(demo: str, folder: Path) -> tuple[dict[str, list[str]], list[str]]:
    """Return what stands on each paper, and the languages that the pages say they are in."""
    plan = api.demo(demo)
    e = trial(plan).evaluation
    found: dict[str, list[str]] = {}
    sheet, handbook = Shown(), Shown(aside=WRITTEN_BY_HAND)
    sheet.feed(html_text(e, "metric"))
    handbook.feed(handbook_html(e, 0, "metric"))
    found["sheet in HTML"], found["handbook"] = sheet.texts, handbook.texts
    with watched() as written:
        pdf_bytes(e, "metric")
    found["sheet in PDF"] = [text for text, _ in written.texts]
    for subject in SUBJECTS if plan.turbos[0].drain_by == "gravity" else ():
        target = folder / f"{demo}-{subject}.dxf"
        write_dxf(plan, 0, subject, target)
        found[f"DXF of {subject}"] = [t.dxf.text for t in readfile(target).modelspace().query("TEXT")]
    return found, [sheet.language, handbook.language]


def crowded(demo: str) -> list[str]:
    """Return the texts of the sheet's pages that stand on others, one unit of the picture a tenth of a millimetre."""
    e = trial(api.demo(demo)).evaluation
    found = []
    for paint in (
        partial(paint_page, e=e, family="metric"),
        *(it.paint for it in workshop.pages(e, "metric")),
    ):
        picture = QImage(2100, 2970, QImage.Format.Format_RGB32)
        painter = QPainter(picture)
        painter.scale(10.0, 10.0)
        with watched() as written:
            paint(painter)
        painter.end()
        found += overlaps(written, by=5.0)
    return found


def main(demo: str, folder: Path) -> None:
    """Write, print."""
    application = application_for_painting()
    own = Own(api.demo(demo))
    found, languages = texts(demo, folder)
    left = {paper: sorted({t for t in said if own.left(t)}) for paper, said in found.items()}
    count = {paper: len(said) for paper, said in found.items()}
    print(json.dumps({"left": left, "count": count, "language": languages, "crowded": crowded(demo)}))
    del application


if __name__ == "__main__":
    main(sys.argv[1], Path(sys.argv[2]))
