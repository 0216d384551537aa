# SPDX-License-Identifier: GPL-3.0-or-later
"""Painting: scales, label placing, and marks that differ without colour."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QImage, QPainter
from pytestqt.qtbot import QtBot
from scipy.optimize import isotonic_regression

from gravidon.draw import elevation as drawing
from gravidon.draw import marks
from gravidon.draw.charts import Axes, spread, ticks
from gravidon.draw.geometry.elevation import VIEWS, elevation
from gravidon.draw.ink import Ink
from gravidon.draw.style import DARK, LIGHT, Palette, font
from gravidon.plan.demos import demo_plan
from gravidon.study.solve.evaluate import evaluate

E = evaluate(demo_plan())


@given(st.floats(-1e4, 1e4), st.floats(1e-3, 1e4), st.integers(2, 12))
def test_ticks_are_round_inside_and_about_as_many(low: float, span: float, about: int) -> None:
    """Every tick lies in the range, steps are equal, and there are not far more than asked for."""
    values = ticks(low, low + span, about)
    assert all(low - 1e-6 * span - 1e-9 <= v <= low + span * (1 + 1e-6) + 1e-9 for v in values)
    assert len(values) <= 2 * about + 2
    if len(values) > 2:
        assert np.diff(values) == pytest.approx(np.diff(values)[0], rel=1e-4, abs=1e-8)


@given(st.lists(st.floats(0, 300), min_size=1, max_size=12))
def test_spread_labels_never_overlap_and_are_the_nearest(wanted: list[float]) -> None:
    """With room for all, labels end the gap apart, in the order of what they label, as near to it as can be: checked
    against SciPy's isotonic regression, within the rounding to a millionth of a pixel."""
    placed = spread(wanted, 14.0, -50.0, 350.0)
    order = sorted(range(len(wanted)), key=lambda k: wanted[k])
    shifted = np.array([wanted[k] for k in order]) - 14.0 * np.arange(len(wanted))
    nearest = np.clip(isotonic_regression(shifted).x, -50.0, 350.0 - 14.0 * (len(wanted) - 1))
    found = np.array([placed[k] for k in order])
    assert found == pytest.approx(nearest + 14.0 * np.arange(len(wanted)), abs=2e-6)
    assert (np.diff(found) >= 14.0 - 2e-6).all()


@given(st.lists(st.floats(0, 300), min_size=2, max_size=30))
def test_spread_labels_share_a_space_too_small_for_them(wanted: list[float]) -> None:
    """Where not all fit, they stay inside and divide the space evenly; none falls on another."""
    placed = sorted(spread(wanted, 40.0, 0.0, 35.0))
    assert placed[0] >= -1e-6
    assert placed[-1] <= 35.0 + 1e-6
    assert np.diff(placed) == pytest.approx(35.0 / (len(wanted) - 1), abs=2e-6)


@given(st.floats(0.4e-3, 8e-3), st.booleans())
def test_axes_go_there_and_back(value: float, logarithmic: bool) -> None:
    """The pixel of a value reads back as the value (rounding only)."""
    axes = Axes(QRectF(50, 20, 600, 300), 0.3e-3, 9e-3, 0.0, 100.0, log_x=logarithmic)
    assert axes.x_back(axes.x(value)) == pytest.approx(value, rel=1e-9)


@pytest.mark.parametrize("view", list(VIEWS))
@pytest.mark.parametrize(("width", "height"), [(400, 300), (1600, 500), (500, 1400)])
def test_the_fitted_frame_holds_everything_to_scale(view: str, width: int, height: int) -> None:
    """Turbo, drain and pan lie inside the rectangle, and a pixel reads back as its millimetre."""
    picture = elevation(E, 0, view)  # type: ignore[arg-type]
    rect = QRectF(0, 0, width, height)
    frame = drawing.fit(picture, rect)
    for point in np.concatenate([picture.stations, picture.housing, *picture.pans]):
        assert rect.contains(frame.at(point))
        assert frame.back(frame.at(point)) == pytest.approx(tuple(point), abs=1e-6)
    a, b = frame.at(np.array([0.0, 0.0])), frame.at(np.array([100.0, 100.0]))
    assert b.x() - a.x() == pytest.approx(a.y() - b.y())  # one scale for both directions


def paint_mark(verdict: str, palette: Palette) -> np.ndarray:
    image = QImage(60, 80, QImage.Format.Format_Grayscale8)
    image.fill(QColor(palette.paper))
    painter = QPainter(image)
    grey = Palette(**{**palette.__dict__, "good": "#707070", "watch": "#707070", "bad": "#707070"})
    marks.paint_drop(Ink(painter, grey), QRectF(10, 10, 40, 60), verdict)
    painter.end()
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    return np.frombuffer(bits, np.uint8).reshape(80, image.bytesPerLine())[:, :60].astype(int)


@pytest.mark.parametrize("palette", [LIGHT, DARK], ids=["light", "dark"])
def test_verdicts_differ_without_any_colour(qtbot: QtBot, palette: Palette) -> None:
    """All three in one grey: each pair still differs over more than a tenth of the mark's box, so
    nobody needs to tell the colours apart."""
    pictures = {v: paint_mark(v, palette) for v in ("holds", "watch", "fails")}
    for one, other in (("holds", "watch"), ("watch", "fails"), ("holds", "fails")):
        differing = (np.abs(pictures[one] - pictures[other]) > 40).sum()
        assert differing > 0.1 * 40 * 60, (one, other)


def simulated(colour: str, kind: str) -> np.ndarray:
    """A colour as seen with a colour-vision deficiency: Machado, Oliveira and Fernandes 2009, severity 1
    (matrices from memory, applied in linear light)."""
    matrices = {
        "protan": [
            [0.152286, 1.052583, -0.204868],
            [0.114503, 0.786281, 0.099216],
            [-0.003882, -0.048116, 1.051998],
        ],
        "deutan": [
            [0.367322, 0.860646, -0.227968],
            [0.280085, 0.672501, 0.047413],
            [-0.011820, 0.042940, 0.968881],
        ],
    }
    rgb = np.array(QColor(colour).getRgbF()[:3])
    linear = np.where(rgb <= 0.04045, rgb / 12.92, ((rgb + 0.055) / 1.055) ** 2.4)
    return np.clip(np.array(matrices[kind]) @ linear, 0.0, 1.0)


@pytest.mark.parametrize("palette", [LIGHT, DARK], ids=["light", "dark"])
@pytest.mark.parametrize("kind", ["protan", "deutan"])
def test_oil_and_sheet_stay_apart_for_everybody(palette: Palette, kind: str) -> None:
    """The drawing lives on oil against the sheet and the seal line against the housing: simulated, their
    luminance still differs by a ratio of at least 1.5 (WCAG's measure; 3 for the lines)."""

    def luminance(name: str) -> float:
        return float(simulated(getattr(palette, name), kind) @ np.array([0.2126, 0.7152, 0.0722]))

    def ratio(one: str, other: str) -> float:
        high, low = sorted((luminance(one), luminance(other)), reverse=True)
        return (high + 0.05) / (low + 0.05)

    assert ratio("oil", "sheet") >= 1.5
    for line in ("heat", "focus", "good", "bad"):
        assert ratio(line, "sheet") >= 3.0, line


@pytest.mark.parametrize("condition", range(len(E.names)))
def test_more_oil_paints_more_amber(qtbot: QtBot, condition: int) -> None:
    """The picture shows what it claims: pixels of the pan's oil cover the share of the frame that the
    oil's polygon has (within 12 % of it, outlines and labels aside)."""
    picture = elevation(E, condition, "front")
    image = QImage(900, 600, QImage.Format.Format_RGB32)
    image.fill(QColor(LIGHT.sheet))
    painter = QPainter(image)
    painter.setFont(font())
    rect = QRectF(0, 0, 900, 600)
    frame = drawing.fit(picture, rect)
    bare = drawing.Frame(frame.scale, frame.origin)
    drawing._pan(Ink(painter, LIGHT), bare, picture)
    painter.end()
    x, y = picture.oils[0][:, 0], picture.oils[0][:, 1]
    area = 0.5 * abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) * frame.scale**2
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    pixels = np.frombuffer(bits, np.uint8).reshape(600, 900, 4).astype(int)
    amber = ((pixels[:, :, 2] - pixels[:, :, 0]) > 60).sum()
    assert amber == pytest.approx(area, rel=0.12)


def test_halo_text_reports_where_it_wrote(qtbot: QtBot) -> None:
    image = QImage(200, 60, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    painter.setFont(font())
    left = marks.halo_text(Ink(painter, LIGHT), QPointF(100, 30), "grade line")
    right = marks.halo_text(Ink(painter, LIGHT), QPointF(100, 30), "grade line", align="right")
    painter.end()
    assert left.left() == pytest.approx(97)
    assert right.right() == pytest.approx(103)
    assert left.width() == right.width()


def test_a_picture_names_itself_and_brings_its_typeface() -> None:
    """An SVG without its typeface is cut where another one is wider; and nobody who cannot see it knew what it was (W3C SVG 2, title and desc; WAI-ARIA role img)."""
    import base64
    import xml.etree.ElementTree as ET

    from gravidon.draw.font_face import font_face, whole_svg

    plain = '<?xml version="1.0"?>\n<svg width="10" viewBox="0 0 1 1" xmlns="http://www.w3.org/2000/svg">\n<title>Qt SVG Document</title>\n<desc>made</desc>\n<g/></svg>'
    made = ET.fromstring(whole_svg(plain, 'Drain <run> & "pan"', "falls 60 mm"))  # noqa: S314  our own text
    name = "{http://www.w3.org/2000/svg}"
    assert [t.text for t in made.iter(f"{name}title")] == ['Drain <run> & "pan"']
    assert [t.text for t in made.iter(f"{name}desc")] == ["falls 60 mm"]
    assert made.get("role") == "img"
    assert made.get("aria-label") == 'Drain <run> & "pan"'
    style = next(made.iter(f"{name}style")).text or ""
    assert style == font_face()
    raw = base64.b64decode(style.split("base64,")[1].split('"')[0])
    assert raw[:4] == b"wOFF"
    assert "style" not in whole_svg(plain, "x", font=False)
