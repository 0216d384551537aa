"""The shop sheet: one page, searchable, true to scale."""

import io
import xml.etree.ElementTree as ET
from pathlib import Path

import numpy as np
import pypdf
import pytest
from pytestqt.qtbot import QtBot

from gravidon.cli.main import main
from gravidon.plan.demos import demo_plan
from gravidon.sheet import page, shop_sheet, workshop
from gravidon.sheet.content import CAUTIONS, content
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
    assert E.names[sheet.worst_condition] == "hard left"
