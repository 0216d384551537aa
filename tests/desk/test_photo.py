# SPDX-License-Identifier: GPL-3.0-or-later
"""A photo under a drawing: laid by clicks, kept in the file, drawn where it belongs."""

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPolygonF, QTransform

from gravidon.desk.photo_dialog import PhotoDialog, packed
from gravidon.draw import photo as drawn
from gravidon.draw.photo import known_places
from gravidon.errors import GravidonError
from gravidon.plan import storage
from gravidon.plan.demos import demo_plan
from gravidon.plan.model import Photo
from gravidon.study.home.photos import accuracy_m, heights_off_mm, matrix, with_photo
from gravidon.study.planning.board import taken_up, without_ideas
from gravidon.study.verdict.certainty import uncertain_inputs

SHEET_PX = [(420.0, 210.0), (700.0, 260.0), (680.0, 650.0), (400.0, 600.0)]


def picture() -> QImage:
    image = QImage(1000, 800, QImage.Format.Format_RGB32)
    image.fill(QColor("#446688"))
    painter = QPainter(image)
    painter.setBrush(QColor("white"))
    painter.drawPolygon(QPolygonF([QPointF(*p) for p in SHEET_PX]))
    painter.end()
    return image


def laid(window: Any, qtbot: Any) -> PhotoDialog:
    dialog = PhotoDialog(window.session, "front", picture(), "bay.jpg", window)
    qtbot.addWidget(dialog)
    dialog.resize(1000, 620)
    dialog.show()
    return dialog


def click(dialog: PhotoDialog, qtbot: Any, at: tuple[float, float]) -> None:
    scale, corner = dialog.canvas.place()
    place = (corner + QPointF(*at) * scale).toPoint()
    qtbot.mouseClick(dialog.canvas, Qt.MouseButton.LeftButton, pos=place)


def test_a_sheet_of_paper_lays_a_photo_where_the_car_is(window: Any, qtbot: Any) -> None:
    """Squared by Qt's own quad-to-quad: the same map from the photo to the plane, but for the clicks' rounding to the screen."""
    dialog = laid(window, qtbot)
    dialog.by.setCurrentIndex(1)
    for at in (*SHEET_PX, (200.0, 120.0)):
        click(dialog, qtbot, at)
    dialog.anchor.setCurrentText("drain flange")
    assert "good to ±" in dialog.told.text()
    dialog._take()
    photo = dialog.photo
    assert photo is not None
    right, up = known_places(window.session.plan, 0, "front")["drain flange"]
    assert (photo.anchor_right_mm, photo.anchor_up_mm) == (right, up)
    corners = QPolygonF([QPointF(*c) for c in photo.clicks[:4]])
    flat = QPolygonF([QPointF(0, 297), QPointF(210, 297), QPointF(210, 0), QPointF(0, 0)])
    known = QTransform()
    assert QTransform.quadToQuad(corners, flat, known)
    shift = np.array([right, up]) - np.array(
        [known.map(QPointF(*photo.clicks[4])).x(), known.map(QPointF(*photo.clicks[4])).y()]
    )
    for at in ((100.0, 100.0), (500.0, 400.0), (900.0, 700.0)):
        want = known.map(QPointF(*at))
        got = drawn.transform_of(matrix(photo)).map(QPointF(*at))
        assert got.x() * 1e3 == pytest.approx(want.x() + shift[0], abs=0.01)
        assert got.y() * 1e3 == pytest.approx(want.y() + shift[1], abs=0.01)


def test_a_photo_is_kept_in_the_file_and_drawn_under_the_run(window: Any, qtbot: Any) -> None:
    dialog = laid(window, qtbot)
    for at in ((100.0, 700.0), (700.0, 700.0), (100.0, 400.0), (900.0, 400.0), (500.0, 400.0)):
        click(dialog, qtbot, at)
    dialog.distance.setText("600 mm")
    dialog._take()
    assert dialog.photo is not None
    s = window.session
    window.go_to("drain")
    before = window.station.canvas.grab().toImage()
    s.propose(with_photo(s.plan, "front", dialog.photo), "photo")
    after = window.station.canvas.grab().toImage()
    assert before != after
    assert "±" in window.station.photo_button.text()
    again = storage.plan_from_text(storage.plan_to_text(s.plan))
    assert again.photos == s.plan.photos
    window.station.photo_button.change("hidden", shown=False)
    assert window.station.canvas.grab().toImage() == before
    s.undo()
    s.undo()
    assert s.plan.photos == ()


def test_a_photos_accuracy_enters_the_tolerances(window: Any, qtbot: Any) -> None:
    photo = Photo(
        view="front", name="p", picture=packed(picture()), clicks=((100, 700), (700, 700), (100, 400), (900, 400), (500, 400)),
        distance_mm=600.0,
    )  # fmt: skip
    plan = with_photo(window.session.plan, "front", photo)
    off = heights_off_mm(plan)
    assert 1.0 < off < 20.0
    assert off == pytest.approx(float(accuracy_m(photo, np.array([[450.0, 550.0]]))[0]) * 1e3)
    found = next(u for u in uncertain_inputs(plan) if u.name == "heights off the photo")
    assert found.widths["turbos.0.drain.entry.z_mm"] == pytest.approx(off)
    assert all(u.name != "heights off the photo" for u in uncertain_inputs(window.session.plan))


def test_the_planner_counts_a_photos_accuracy_and_gives_the_picture_back(window: Any) -> None:
    """Clicks 40 px apart make heights good to centimetres: what is tried knows it, and what is taken has the whole photo again."""
    photo = Photo(
        view="front", name="p", picture=packed(picture()), clicks=((100, 700), (140, 700), (100, 400), (900, 400), (500, 400)),
        distance_mm=600.0,
    )  # fmt: skip
    plan = with_photo(window.session.plan, "front", photo)
    tried = without_ideas(plan)
    assert heights_off_mm(tried) == heights_off_mm(plan) > 20.0
    assert len(tried.photos[0].picture) < 20
    assert taken_up(plan, tried).photos == (photo,)


def test_clicks_are_nudged_and_taken_back_by_keys(window: Any, qtbot: Any) -> None:
    dialog = laid(window, qtbot)
    click(dialog, qtbot, (300.0, 300.0))
    x = dialog.canvas.clicks[0].x()
    qtbot.keyClick(dialog.canvas, Qt.Key.Key_Right)
    assert dialog.canvas.clicks[0].x() == pytest.approx(x + 1.0)
    qtbot.keyClick(dialog.canvas, Qt.Key.Key_Backspace)
    assert dialog.canvas.clicks == []
    assert dialog.ask.text().startswith("1 of 5")


def test_what_is_no_picture_is_refused_by_name(window: Any, qtbot: Any, tmp_path: Path) -> None:
    window.go_to("drain")
    refused: list[str] = []
    window.session.refused.connect(refused.append)
    bad = tmp_path / "bay.jpg"
    bad.write_bytes(b"no picture")
    window.station.photo_button.lay(bad)
    assert refused == ["bay.jpg: expected a picture, JPEG or PNG"]


def test_clicks_that_lay_it_nowhere_are_told() -> None:
    photo = Photo(view="front", name="p", picture="AAAAAAAA", clicks=((5, 5),) * 5)
    with pytest.raises(GravidonError, match="photo's clicks"):
        matrix(photo)
    assert heights_off_mm(with_photo(demo_plan(), "front", photo)) == 0.0


def test_every_view_has_places_to_anchor_at(window: Any) -> None:
    for view in ("front", "side", "above", "right wall", "left wall", "front wall", "rear wall"):
        places = known_places(window.session.plan, 0, view)  # type: ignore[arg-type]
        assert len(places) >= 3
