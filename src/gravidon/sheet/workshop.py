# SPDX-License-Identifier: GPL-3.0-or-later
"""The workshop pages after the first: parts, cuts, the template at true scale, the build, the first start.

Laid out once into pages of plain operations, then painted to window, PDF or printer in millimetres.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter

from gravidon.draw import chain_chart, step_view
from gravidon.draw import template as template_drawing
from gravidon.draw.ink import Ink
from gravidon.draw.style import font, load_fonts, wrapping_size
from gravidon.plan.files import write_atomically
from gravidon.plan.units import Family
from gravidon.sheet.device import application_for_painting, pdf_of
from gravidon.sheet.page import HEIGHT_MM, MARGIN_MM, PAPER, PX_PER_MM, WIDTH_MM
from gravidon.sheet.paper import A4, Paper
from gravidon.sheet.workshop_content import Section, sections
from gravidon.study.making.cutting import EntryTemplate, entry_template
from gravidon.study.making.parts_list import LineRun
from gravidon.study.making.sequence import sequence
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import tr

LEFT, TOP = MARGIN_MM * PX_PER_MM, MARGIN_MM * PX_PER_MM
WIDTH = (WIDTH_MM - 2 * MARGIN_MM) * PX_PER_MM
SIZE, HEAD, TITLE = 13.3, 15.0, 18.0
SMALLEST = 7.5
"""[px] to which a cell's type may shrink for a long word."""


WHOLE, ROW = ("first-start", "running-in", "as-built"), 24.0
"""Cards that are never torn over two pages, and what a row of them takes [px]."""


@dataclass(frozen=True)
class Words:
    """Text in a rectangle of layout pixels."""

    rect: QRectF
    text: str
    size: float
    bold: bool
    colour: str


@dataclass
class Page:
    """One page: words, rules under them, and drawings in millimetres with their corner."""

    words: list[Words] = field(default_factory=list)
    rules: list[float] = field(default_factory=list)
    drawings: list[tuple[float, float, Callable[[QPainter], None]]] = field(default_factory=list)

    def paint(self, painter: QPainter) -> None:
        """Paint the page; one unit is one millimetre."""
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.save()
        painter.scale(1 / PX_PER_MM, 1 / PX_PER_MM)
        for y in self.rules:
            painter.setPen(PAPER.pen("line", 0.8))
            painter.drawLine(int(LEFT), int(y), int(LEFT + WIDTH), int(y))
        for w in self.words:
            painter.setFont(font(w.size, w.bold))
            painter.setPen(PAPER.color(w.colour))
            painter.drawText(w.rect, int(Qt.TextFlag.TextWordWrap), w.text)
        painter.restore()
        for x, y, draw in self.drawings:
            painter.save()
            painter.translate(x, y)
            draw(painter)
            painter.restore()
        painter.restore()


class _Layout:
    """Fills pages from the top; what does not fit starts the next one."""

    def __init__(self, height_mm: float) -> None:
        self.pages: list[Page] = []
        self.bottom = (height_mm - MARGIN_MM) * PX_PER_MM - 14
        self.new_page()

    def new_page(self) -> None:
        """Start a page."""
        self.pages.append(Page())
        self.y = TOP

    def room(self, height: float) -> None:
        """Start a page unless a height still fits."""
        if self.y + height > self.bottom and self.y > TOP:
            self.new_page()

    def row(
        self,
        cells: Sequence[tuple[str, float, float]],
        size: float = SIZE,
        bold: bool = False,
        colour: str = "ink",
    ) -> None:
        """Write cells (text, from, to as shares of the width) side by side, kept together."""
        boxes = []
        for text, start, end in cells:
            width = (end - start) * WIDTH - 6
            fits = wrapping_size(text, width, size, SMALLEST, bold)
            used = QFontMetricsF(font(fits, bold)).boundingRect(
                QRectF(0, 0, width, 5000), int(Qt.TextFlag.TextWordWrap), text
            )
            boxes.append((text, LEFT + start * WIDTH, width, used.height() + 3, fits))
        height = max((b[3] for b in boxes), default=0.0)
        self.room(height)
        for text, x, width, tall, fits in boxes:
            self.pages[-1].words.append(Words(QRectF(x, self.y, width, tall + 4), text, fits, bold, colour))
        self.y += height + 2

    def section(self, made: Section, mapped: Sequence[Evaluation] = ()) -> None:
        """Write a titled table or list, with a map of the steps for each turbo in `mapped`; its title is never alone at the foot
        of a page."""
        drawn = (chain_chart.STRIP + 40 if made.run is not None else 0.0) + (
            step_view.MAP_PX if mapped else 0.0
        )
        self.room((54 + ROW * (len(made.rows) + 3) if made.key in WHOLE else 54) + drawn)
        self.y += 6
        self.row([(made.title, 0.0, 1.0)], HEAD, True)
        if made.note:
            self.row([(made.note, 0.0, 1.0)], SIZE, False, "faint")
        if mapped:
            self.drawing(step_view.MAP_PX / PX_PER_MM, map_of(mapped))
        if made.run is not None:
            self.drawing(chain_chart.STRIP / PX_PER_MM, _chain(made.run))
        edges = [0.0]
        for share in made.shares:
            edges.append(edges[-1] + share)
        if made.head:
            self.row([(t, edges[k], edges[k + 1]) for k, t in enumerate(made.head)], SIZE, False, "faint")
            self.pages[-1].rules.append(self.y - 1)
        for row in made.rows:
            self.row([(t, edges[k], edges[k + 1]) for k, t in enumerate(row)])

    def drawing(self, height_mm: float, draw: Callable[[QPainter], None]) -> None:
        """Place a drawing that is true in millimetres."""
        self.room(height_mm * PX_PER_MM + 6)
        self.pages[-1].drawings.append((MARGIN_MM, self.y / PX_PER_MM, draw))
        self.y += height_mm * PX_PER_MM + 8


def pages(e: Evaluation, family: Family, height_mm: float = HEIGHT_MM) -> tuple[Page, ...]:
    """Return the workshop pages of a plan, for paper of a height [mm]."""
    load_fonts()
    layout = _Layout(height_mm)
    layout.row([(tr("{name}: workshop").format(name=e.plan.name), 0.0, 1.0)], TITLE, True)
    for made in sections(e, family):
        layout.section(made, e.all if made.key == "steps" else ())
        if made.key == "cuts":
            for k in range(len(e.plan.turbos)):
                paper = entry_template(e.plan, k)
                if paper is not None:
                    layout.drawing(template_drawing.SIZE_MM[1], _drawn(paper))
    total = len(layout.pages) + 1
    for number, page in enumerate(layout.pages, start=2):
        page.words.append(
            Words(
                QRectF(LEFT, layout.bottom + 4, WIDTH, 16),
                tr("{name}, page {number} of {total}").format(name=e.plan.name, number=number, total=total),
                9.0,
                False,
                "faint",
            )
        )
    return tuple(layout.pages)


def _chain(run: LineRun) -> Callable[[QPainter], None]:
    """Return what paints a line of parts over the width of the page."""

    def paint(painter: QPainter) -> None:
        painter.scale(1 / PX_PER_MM, 1 / PX_PER_MM)
        chain_chart.paint_numbered(Ink(painter, PAPER), QRectF(0.0, 0.0, WIDTH, chain_chart.STRIP), run)

    return paint


def map_of(turbos: Sequence[Evaluation]) -> Callable[[QPainter], None]:
    """Return what paints the places of the steps over the width of the page, in millimetres: the turbos side by side."""

    def paint(painter: QPainter) -> None:
        painter.scale(1 / PX_PER_MM, 1 / PX_PER_MM)
        steps, wide = sequence(turbos[0].plan), WIDTH / len(turbos)
        for k, e in enumerate(turbos):
            rect = QRectF(k * wide, 0.0, wide, step_view.MAP_PX)
            step_view.paint_map(Ink(painter, PAPER), rect, e, steps)

    return paint


def _drawn(paper: EntryTemplate) -> Callable[[QPainter], None]:
    return lambda painter: template_drawing.paint(painter, paper)


def write_template(made: EntryTemplate, target: Path, paper: Paper = A4) -> None:
    """Write the template alone, in the middle of a page, at true scale.

    Raises: PlanFileError if it cannot be written.
    """
    application = application_for_painting()
    load_fonts()

    def paint(painter: QPainter) -> None:
        painter.translate(0.5 * (WIDTH_MM - template_drawing.SIZE_MM[0]), 40.0)
        template_drawing.paint(painter, made)

    write_atomically(target, pdf_of(tr("Pan entry template, {name}").format(name=made.name), [paint], paper))
    del application
