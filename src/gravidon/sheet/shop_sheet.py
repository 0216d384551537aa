# SPDX-License-Identifier: GPL-3.0-or-later
"""Write the shop sheet as PDF or HTML."""

from __future__ import annotations

from functools import partial
from importlib import resources
from pathlib import Path

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from gravidon.draw import chain_chart, step_view, whole_way
from gravidon.draw import template as template_drawing
from gravidon.draw.font_face import font_face
from gravidon.draw.ink import Ink
from gravidon.draw.style import load_fonts
from gravidon.plan.files import write_atomically
from gravidon.plan.units import Family
from gravidon.sheet import page, workshop
from gravidon.sheet.content import content
from gravidon.sheet.device import application_for_painting, pdf_of
from gravidon.sheet.paper import A4, Paper
from gravidon.sheet.svg import svg_of
from gravidon.sheet.workshop_content import Section, sections
from gravidon.study.making.cutting import EntryTemplate, entry_template
from gravidon.study.making.parts_list import LineRun
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.verdict.trials import trial
from gravidon.translate import language
from gravidon.words.text import SEVERITIES, tr


def write_sheet(e: Evaluation, target: Path, family: Family, paper: Paper = A4) -> None:
    """Write the sheet; the suffix chooses PDF, laid out for a paper, or HTML.

    Raises: PlanFileError if the file cannot be written.
    """
    application = application_for_painting()
    load_fonts()
    if target.suffix.lower() == ".pdf":
        write_atomically(target, pdf_bytes(e, family, paper))
    else:
        write_atomically(target, html_text(e, family).encode("utf-8"))
    del application


def pdf_bytes(e: Evaluation, family: Family, paper: Paper = A4) -> bytes:
    """Return the sheet as a PDF, millimetres true: the plan on its first page, the workshop's pages after it."""
    first = partial(page.paint_page, e=e, family=family, height_mm=paper.height_mm)
    more = workshop.pages(e, family, paper.height_mm)
    return pdf_of(
        tr("{name}: shop sheet").format(name=e.plan.name), [first, *(it.paint for it in more)], paper
    )


def drawing_svg(
    e: Evaluation, condition: int, family: Family, width: float = 760.0, height: float = 430.0
) -> str:
    """Return the whole way of the oil as an SVG element."""

    def paint(painter: QPainter) -> None:
        box = QRectF(0, 0, width, height)
        whole_way.paint(Ink(painter, page.PAPER, family), box, e, condition, trial(e.plan).findings, {})

    return svg_of(
        tr("{name}: the way of the oil, {names}").format(name=e.plan.name, names=e.names[condition]),
        width,
        height,
        paint,
    )


def chain_svg(run: LineRun, family: Family) -> str:
    """Return a line of parts, its joints numbered, as an SVG element."""
    width, height = workshop.WIDTH, chain_chart.STRIP

    def paint(painter: QPainter) -> None:
        chain_chart.paint_numbered(Ink(painter, page.PAPER, family), QRectF(0, 0, width, height), run)

    return svg_of(tr("{name}, joint by joint").format(name=run.name), width, height, paint)


def html_text(e: Evaluation, family: Family) -> str:
    """Return the sheet as one self-contained HTML page."""
    import jinja2

    environment = jinja2.Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True)
    source = resources.files("gravidon.sheet").joinpath("shop_sheet.html.jinja").read_text(encoding="utf-8")
    sheet = content(e, family)
    svg = drawing_svg(e, sheet.worst_condition, family)
    templates = [t for k in range(len(e.plan.turbos)) if (t := entry_template(e.plan, k)) is not None]
    return environment.from_string(source).render(
        tr=tr,
        language=language(),
        severities=SEVERITIES,
        sheet=sheet,
        drawing=svg,
        colours=page.PAPER,
        font_face=font_face(),
        sections=[(made, _drawn_over(made, e, family)) for made in sections(e, family)],
        templates=[template_svg(t) for t in templates],
    )


def _drawn_over(made: Section, e: Evaluation, family: Family) -> str:
    """Return what is drawn over a section's table, as an SVG element; empty for most."""
    if made.key != "steps":
        return chain_svg(made.run, family) if made.run else ""

    def paint(painter: QPainter) -> None:
        painter.scale(page.PX_PER_MM, page.PX_PER_MM)
        workshop.map_of(e.all)(painter)

    return svg_of(tr("Where the steps happen"), workshop.WIDTH, step_view.MAP_PX, paint)


def template_svg(made: EntryTemplate) -> str:
    """Return the template as an SVG element that prints at true scale."""
    width, height = template_drawing.SIZE_MM

    def paint(painter: QPainter) -> None:
        painter.scale(10.0, 10.0)
        template_drawing.paint(painter, made)

    # 254 dpi: ten units a millimetre, so that the element's size comes out in whole millimetres
    return svg_of(
        tr("Pan entry template, {name}").format(name=made.name), 10 * width, 10 * height, paint, dpi=254
    )
