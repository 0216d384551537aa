# SPDX-License-Identifier: GPL-3.0-or-later
"""The handbook as one page: whole, well formed, every link and figure there, nothing from a file read as markup. Rules: the HTML standard, WCAG 2.2 (1.1.1, 1.3.1, 3.1.1)."""

from __future__ import annotations

import re
from html.parser import HTMLParser
from pathlib import Path

import pytest

from gravidon import api
from gravidon.handbook import FIGURE, PAGES, page_text
from gravidon.plan.demos import NAMES
from gravidon.sheet.handbook_html import handbook_html

VOID = {"meta", "link", "br", "hr", "img", "input", "col"}


class Reader(HTMLParser):
    """Keeps what a checker asks for: open elements, ids, links, headings, pictures without a name."""

    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.open: list[str] = []
        self.faults: list[str] = []
        self.ids: list[str] = []
        self.links: list[str] = []
        self.headings: list[int] = []
        self.pictures = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        known = dict(attrs)
        if tag not in VOID:
            self.open.append(tag)
        if "id" in known and "svg" not in self.open[:-1]:
            self.ids.append(known["id"] or "")
        if tag == "a":
            self.links.append(known.get("href") or "")
        if len(tag) == 2 and tag[0] == "h" and tag[1].isdigit():
            self.headings.append(int(tag[1]))
        if tag == "svg":
            self.pictures += 1
            if not (known.get("aria-label") or known.get("role")):
                self.faults.append("a picture without a name")
        if tag == "html" and not known.get("lang"):
            self.faults.append("no language")
        if tag == "script" or any(name.startswith("on") for name in known):
            self.faults.append(f"active content in {tag}")

    def handle_startendtag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.handle_starttag(tag, attrs)
        if tag not in VOID:
            self.open.pop()

    def handle_endtag(self, tag: str) -> None:
        if not self.open or self.open.pop() != tag:
            self.faults.append(f"</{tag}> closes nothing")


@pytest.mark.parametrize("name", NAMES)
def test_the_shop_sheet_is_well_formed_too(tmp_path: Path, name: str) -> None:
    """One main part, tables with heads and bodies, no head cell without words."""
    text = api.sheet(api.demo(name), tmp_path / "a.html").read_text("utf-8")
    read = Reader()
    read.feed(text)
    assert read.faults == []
    assert read.open == []
    assert text.count("<main>") == 1
    assert text.count("<tbody>") == text.count("<table")
    assert not re.search(r"<th[^>]*>\s*</th>", text)
    assert text.startswith("<!DOCTYPE html>")


@pytest.fixture(scope="module")
def page() -> str:
    plan = api.demo("coupe").model_copy(update={"name": "<b>x</b> & <script>alert(1)</script>"})
    e = api.trial(plan).evaluation
    return handbook_html(e, 2, "metric")


def test_it_is_whole_and_well_formed(page: str) -> None:
    read = Reader()
    read.feed(page)
    assert read.faults == []
    assert read.open == []
    assert not re.search(r"<th[^>]*>\s*</th>", page)  # as axe asks: a head cell has words
    assert not re.search(r'<svg[^>]* version="', page)  # as the Nu checker asks
    assert len(read.ids) == len(set(read.ids))
    assert {link[1:] for link in read.links if link.startswith("#")} == set(PAGES)
    assert set(PAGES) <= set(read.ids)


def test_headings_never_skip_a_rank(page: str) -> None:
    read = Reader()
    read.feed(page)
    assert read.headings.count(1) == 1
    assert all(b - a <= 1 for a, b in zip(read.headings, read.headings[1:], strict=False))


def test_every_figure_is_drawn(page: str) -> None:
    read = Reader()
    read.feed(page)
    assert read.pictures == sum(len(FIGURE.findall(page_text(p))) for p in PAGES)
    assert "figure:" not in page


def test_what_comes_from_the_plan_is_text(page: str) -> None:
    assert "<script>" not in page
    assert "&lt;b&gt;x&lt;/b&gt;" in page
