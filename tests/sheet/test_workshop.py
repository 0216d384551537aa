# SPDX-License-Identifier: GPL-3.0-or-later
"""The workshop pages: true scale measured from the PDF's own raster, everything on paper, nothing beyond the margins."""

import io
from pathlib import Path

import numpy as np
import pypdf
import pytest
from PyQt6.QtCore import QPointF, QSize
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtPdf import QPdfDocument
from pytestqt.qtbot import QtBot

from gravidon.draw import template as drawing
from gravidon.plan.demos import NAMES, demo_plan
from gravidon.plan.model import OnHand
from gravidon.plan.paths import put
from gravidon.sheet import shop_sheet, workshop
from gravidon.sheet.workshop_content import sections
from gravidon.study.making.cutting import entry_template
from gravidon.study.making.laying import laid_hoses
from gravidon.study.making.parts_list import runs
from gravidon.study.making.sequence import sequence
from gravidon.study.planning.ways import hose_end
from gravidon.study.solve.as_bought import nearest_dash, shelf
from gravidon.study.solve.evaluate import evaluate

DPI = 600


def raster(path: Path, page: int = 0) -> np.ndarray:
    """Return a PDF page as dark pixels at 600 dpi, rendered by Qt's PDF reader (not by what wrote it)."""
    document = QPdfDocument(None)
    document.load(str(path))
    size = document.pagePointSize(page)
    image = document.render(page, QSize(round(size.width() / 72 * DPI), round(size.height() / 72 * DPI)))
    flat = QImage(image.size(), QImage.Format.Format_RGB32)
    flat.fill(0xFFFFFFFF)
    painter = QPainter(flat)
    painter.drawImage(QPointF(0, 0), image)
    painter.end()
    grey = flat.convertToFormat(QImage.Format.Format_Grayscale8)
    bits = grey.constBits()
    bits.setsize(grey.sizeInBytes())
    array = np.frombuffer(bits, np.uint8).reshape(grey.height(), grey.bytesPerLine())[:, : grey.width()]
    document.close()
    return array < 140


def test_the_printed_ruler_is_100_mm(qtbot: QtBot, tmp_path: Path) -> None:
    """End mark to end mark on the raster of the written PDF: 100 mm ± 0.3 (a pixel is 0.042 mm)."""
    made = entry_template(demo_plan(), 0)
    assert made is not None
    path = tmp_path / "template.pdf"
    workshop.write_template(made, path)
    dark = raster(path)
    mm = DPI / 25.4
    left = (210.0 - drawing.SIZE_MM[0]) / 2
    # just above the ruler's line only its marks are dark; the two end marks are the tallest with the middle one
    y = round((40.0 + drawing.SIZE_MM[1] - 12.0 - 4.2) * mm)
    row = dark[y, round((left + 4) * mm) : round((left + 110) * mm)]
    edges = np.flatnonzero(np.diff(row.astype(int)) == 1)
    marks = edges / mm
    assert len(marks) == 3
    assert marks[-1] - marks[0] == pytest.approx(100.0, abs=0.3)
    assert marks[1] - marks[0] == pytest.approx(50.0, abs=0.3)


def test_the_printed_hole_is_its_own_size(qtbot: QtBot, tmp_path: Path) -> None:
    """The 37/64 in hole measured across the page: 14.68 mm ± 0.3, 42 mm below the rail line ± 0.3."""
    made = entry_template(demo_plan(), 0)
    assert made is not None
    path = tmp_path / "template.pdf"
    workshop.write_template(made, path)
    dark = raster(path)
    mm = DPI / 25.4
    left, top = (210.0 - drawing.SIZE_MM[0]) / 2, 40.0
    centre = (left + 52.0, top + 22.0 + 42.0)
    y = round((centre[1] + 1.5) * mm)  # a chord clear of the centre line
    row = dark[y, round((centre[0] - 10) * mm) : round((centre[0] + 10) * mm)]
    places = np.flatnonzero(row) / mm
    chord = 2 * np.sqrt(7.342**2 - 1.5**2)
    assert places[-1] - places[0] == pytest.approx(chord, abs=0.45)  # a line's width on either side
    column = dark[round((top + 18) * mm) : round((top + 70) * mm), round((left + 20) * mm)]
    rail = np.flatnonzero(column).mean() / mm + top + 18
    assert centre[1] - rail == pytest.approx(42.0, abs=0.3)


@pytest.mark.parametrize("name", NAMES)
def test_the_sheet_holds_chains_orders_cuts_build_and_first_start(qtbot: QtBot, name: str) -> None:
    """Searched in the PDF: every part of every chain, every step, the ruler's words, the card."""
    e = evaluate(demo_plan(name))
    reader = pypdf.PdfReader(io.BytesIO(shop_sheet.pdf_bytes(e, "metric")))
    text = " ".join(" ".join(p.extract_text().split()) for p in reader.pages)
    for run in runs(e.plan):
        assert run.name in text
        for part in run.parts:
            assert part.name.split(",")[0][:18] in text, part.name
    for step in sequence(e.plan):
        words = step.title.split(":")[0][:24].split(",")[0]
        assert words in text.replace("- ", "-"), step.title  # a line may end at a hyphen
    for words in ("Order list", "Cut list and template", "Build sequence", "First start", "jack alone"):
        assert words in text
    assert f"page {len(reader.pages)} of {len(reader.pages)}" in text
    if name == "estate":
        assert "100 mm end to end" in text


@pytest.mark.parametrize("name", NAMES)
@pytest.mark.parametrize("family", ["imperial", "metric"])
def test_workshop_pages_keep_their_margins(qtbot: QtBot, name: str, family: str) -> None:
    """Rendered at 4 px/mm, the outer 9 mm of every page stay white."""
    for page in workshop.pages(evaluate(demo_plan(name)), family):  # type: ignore[arg-type]
        image = QImage(840, 1188, QImage.Format.Format_Grayscale8)
        image.fill(255)
        painter = QPainter(image)
        painter.scale(4, 4)
        page.paint(painter)
        painter.end()
        bits = image.constBits()
        bits.setsize(image.sizeInBytes())
        pixels = np.frombuffer(bits, np.uint8).reshape(1188, image.bytesPerLine())[:, :840]
        for edge in (pixels[:36], pixels[-36:], pixels[:, :36], pixels[:, -36:]):
            assert (edge == 255).all()
        assert (pixels < 128).sum() > 300


def test_words_on_a_page_do_not_overlap(qtbot: QtBot) -> None:
    """Rows of the laid-out pages: no rectangle of words covers another by more than its spare line height."""
    for page in workshop.pages(evaluate(demo_plan("van")), "imperial"):
        rects = [w.rect.adjusted(0, 0, -2, -8) for w in page.words if w.text]
        for i, a in enumerate(rects):
            assert not any(a.intersects(b) for b in rects[i + 1 :])


def test_html_has_the_template_in_millimetres(qtbot: QtBot) -> None:
    html = shop_sheet.html_text(evaluate(demo_plan()), "metric")
    assert 'width="150mm" height="128mm"' in html
    assert "Build sequence" in html
    assert "sender tee 1/8 NPT" in html


def test_the_sheet_says_what_is_drilled_and_what_is_left() -> None:
    """A flange on hand whose hole is opened, one too many, and a jet with too large a hole are each told as what they are."""
    plan = demo_plan("coupe")
    made = plan.turbos[0].restrictor
    stock = shelf(plan)
    small = next(p for p in stock.values() if p.what.narrow and p.dash == 4 and 0 < p.bore_mm < made.bore_mm)
    large = next(p for p in stock.values() if p.what.narrow and p.dash == 4 and p.bore_mm > made.bore_mm)
    gasket = next(p for p in stock.values() if p.kind == "gasket")
    plan = plan.model_copy(
        update={"drawer": tuple(OnHand(part=p.id, count=3.0) for p in (small, large, gasket))}
    )
    rows = {s.key: s.rows for s in sections(evaluate(plan), "imperial")}["left-over"]
    told = [" ".join(row) for row in rows]
    assert len(rows) >= 3
    assert any("drilled up to" in t for t in told)
    assert any("too large" in t for t in told)
    assert not any(" mm hole" in cell for row in rows for cell in row)


def test_ends_that_are_elbows_are_clocked_to_each_other() -> None:
    """Both ends of the van's drain as elbows: the sheet gives the turn that the hose's own corners have (see test_hose)."""
    plan = demo_plan("estate")
    drain = plan.turbos[0].drain
    pieces = tuple(hose_end(nearest_dash(drain.hose_bore_mm), 45.0, at) for at in ("turbo", "pan"))
    plan = put(plan, "turbos.0.drain.pieces", pieces)
    laid = next(x for x in laid_hoses(plan) if x.run == "drain")
    assert np.isfinite(laid.clocking)
    rows = {s.key: s.rows for s in sections(evaluate(plan), "metric")}["laying"]
    assert any("elbow" in cell for row in rows for cell in row)
