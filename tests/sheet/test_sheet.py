# SPDX-License-Identifier: GPL-3.0-or-later
"""The shop sheet: one page, searchable, true to scale."""

import io
import re
import xml.etree.ElementTree as ET
from pathlib import Path

import numpy as np
import pypdf
import pytest
from PyQt6.QtGui import QPageSize
from pytestqt.qtbot import QtBot

from gravidon.cli.main import main
from gravidon.desk import output
from gravidon.desk.session import Session
from gravidon.errors import InputError
from gravidon.plan.demos import demo_plan
from gravidon.sheet import page, shop_sheet, workshop
from gravidon.sheet.content import CAUTIONS, content
from gravidon.sheet.paper import A4, LETTER, PAPERS, Paper, paper_named, usual_paper
from gravidon.sheet.workshop_content import sections
from gravidon.study.solve.evaluate import evaluate

E = evaluate(demo_plan())


def test_pdfs_first_page_is_the_plan_on_a_searchable_a4_page(qtbot: QtBot) -> None:
    """ISO 216: A4 is 210 x 297 mm, 595.28 x 841.89 pt; all that matters can be searched."""
    reader = pypdf.PdfReader(io.BytesIO(shop_sheet.pdf_bytes(E, "metric")))
    assert len(reader.pages) == 1 + len(workshop.pages(E, "metric"))
    box = reader.pages[0].mediabox
    assert (float(box.width), float(box.height)) == pytest.approx((595.28, 841.89), abs=1.0)
    text = " ".join(reader.pages[0].extract_text().split())
    for words in (
        "Five-cylinder estate, first plan",
        "hard left",
        "0.76",
        "starved",
        "jack alone",
        "pan rail",
    ):
        assert words in text, words


def test_nothing_is_painted_beyond_the_margins(qtbot: QtBot) -> None:
    """Rendered at 4 px/mm, the outer 10 mm of the page stay white: no text runs off."""
    from PyQt6.QtGui import QImage, QPainter

    image = QImage(840, 1188, QImage.Format.Format_Grayscale8)
    image.fill(255)
    painter = QPainter(image)
    painter.scale(4, 4)
    page.paint_page(painter, E, "imperial")
    painter.end()
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    pixels = np.frombuffer(bits, np.uint8).reshape(1188, image.bytesPerLine())[:, :840]
    assert (pixels[:40] == 255).all()
    assert (pixels[-40:] == 255).all()
    assert (pixels[:, :40] == 255).all()
    assert (pixels[:, -40:] == 255).all()
    assert (pixels < 128).sum() > 5000


def test_html_holds_drawing_table_and_cautions(tmp_path: Path) -> None:
    path = tmp_path / "sheet.html"
    assert main(["sheet", "demo", "-o", str(path)]) == 0
    text = path.read_text()
    for caution in CAUTIONS:
        assert caution.replace("'", "&#39;") in text
    svg = text[text.index("<svg") : text.index("</svg>") + 6]
    root = ET.fromstring(svg)  # noqa: S314  our own output
    assert len(list(root.iter())) > 50
    for name in E.names:
        assert f"<td>{name}</td>" in text


def test_html_escapes_what_people_type(qtbot: QtBot) -> None:
    plan = demo_plan().model_copy(update={"name": "<script>alert(1)</script>"})
    text = shop_sheet.html_text(evaluate(plan), "metric")
    assert "<script>" not in text.replace("&lt;script&gt;", "")


def test_pdf_through_the_command_line(tmp_path: Path) -> None:
    path = tmp_path / "sheet.pdf"
    assert main(["sheet", "demo", "-o", str(path), "--units", "imperial"]) == 0
    assert path.read_bytes().startswith(b"%PDF")


def test_every_turbo_has_its_rows() -> None:
    """Two turbos: a row each per condition, named, with their own inlet pressures."""
    e = evaluate(demo_plan("van"))
    rows = {row[0]: row for row in content(e, "metric").rows}
    assert len(rows) == 2 * len(e.names)
    i = e.names.index("hot idle")
    for lens in e.all:
        inlet = rows[f"hot idle, {lens.line.turbo.label}"][3]
        assert float(inlet) * 1e5 == pytest.approx(float(lens.feed.inlet_pressure_pa[i]), abs=600)


def test_content_matches_the_evaluation() -> None:
    sheet = content(E, "metric")
    row = sheet.rows[E.names.index("full load")]
    assert row[5] == f"{E.feed.outlet_temperature_k[E.names.index('full load')] - 273.15:.0f}"
    assert sheet.verdict == "fails"
    assert E.names[sheet.worst_condition] == "braking"  # the least freeboard, no seal being wet


@pytest.mark.parametrize("paper", PAPERS.values(), ids=PAPERS)
@pytest.mark.parametrize("name", ["estate", "van"])
def test_nothing_falls_off_either_paper(qtbot: QtBot, tmp_path: Path, name: str, paper: Paper) -> None:
    """Printed on US Letter, the last caution and every footer fell off the page. Every word of the other paper's sheet is on this one, and every piece of text
    begins within its page (positions by pypdf)."""
    from PyQt6.QtPrintSupport import QPrinter

    plan = demo_plan(name)
    e = evaluate(plan)
    session = Session(plan)
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "out.pdf"))
    printer.setFullPage(True)
    printer.setPageSize(QPageSize(paper.size))
    assert output.print_pages(printer, session)
    session._timer.stop()
    reader = pypdf.PdfReader(tmp_path / "out.pdf")
    box = reader.pages[0].mediabox
    assert float(box.width) == pytest.approx(paper.width_mm / 25.4 * 72, abs=1.5)
    assert float(box.height) == pytest.approx(paper.height_mm / 25.4 * 72, abs=1.5)
    lows = []

    def seen(text: str, matrix: list[float], position: list[float], *_: object) -> None:
        if text.strip():
            x = position[4] * matrix[0] + position[5] * matrix[2] + matrix[4]
            y = position[4] * matrix[1] + position[5] * matrix[3] + matrix[5]
            lows.append((x, y))

    printed = " ".join(p.extract_text(visitor_text=seen) for p in reader.pages)
    assert all(0.0 < x < float(box.width) and 20.0 < y < float(box.height) - 20.0 for x, y in lows)
    assert "licensed mechanic's judgement override" in " ".join(printed.split())
    plain = " ".join(printed.split())
    left_out = re.findall(r"and (\d+) more; see the plan", plain)
    told = content(e, "imperial").findings
    for _, title, sentence in told[: len(told) - int(left_out[0]) if left_out else None]:
        assert " ".join(f"{title}. {sentence}".split()) in plain
    there = {*plain.split(), *plain.replace("- ", "-").split()}  # a word may break behind its hyphen
    for made in sections(e, "imperial"):
        for row in made.rows:
            assert {w for cell in row for w in cell.split()} <= there
    assert f"page {len(reader.pages)} of {len(reader.pages)}" in plain


def test_paper_by_country_and_by_name(monkeypatch: pytest.MonkeyPatch) -> None:
    """Unicode CLDR: Letter in the United States, A4 in Germany."""
    from PyQt6.QtCore import QLocale

    for name, wanted in (("en_US", LETTER), ("es_MX", LETTER), ("de_DE", A4), ("en_GB", A4)):
        monkeypatch.setattr(QLocale, "system", staticmethod(lambda name=name: QLocale(name)))
        assert usual_paper() == wanted
    assert paper_named("letter") == LETTER
    with pytest.raises(InputError, match="paper"):
        paper_named("A5")
