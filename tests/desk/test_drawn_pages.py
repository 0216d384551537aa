# SPDX-License-Identifier: GPL-3.0-or-later
"""Drawn pages: drain, tap and feed by hand, build and sheet, handbook, motion, places, dialogs."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt, QUrl
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel, QMessageBox, QPushButton
from pytestqt.qtbot import QtBot

from gravidon.desk.findings_pane import RemedyButton
from gravidon.desk.first_plan import FirstPlan
from gravidon.desk.value_field import ValueField
from gravidon.desk.window import MainWindow
from gravidon.draw.chain_chart import STRIP, paint_numbered
from gravidon.draw.figures import FIGURES
from gravidon.draw.ink import Ink
from gravidon.draw.labels import STEP, Labels
from gravidon.draw.pan_view import grips
from gravidon.draw.step_view import PLACES, has_place, paint_map, stem
from gravidon.draw.style import LIGHT
from gravidon.handbook import PAGES, WORKED, page_text
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.starter import Answers, new_plan
from gravidon.sheet.shop_sheet import html_text
from gravidon.sheet.worked import worked
from gravidon.sheet.workshop import pages
from gravidon.sheet.workshop_content import sections
from gravidon.study.making.parts_list import runs
from gravidon.study.making.sequence import sequence
from gravidon.study.solve.evaluate import evaluate

LEFT = Qt.MouseButton.LeftButton
CONTROL = Qt.KeyboardModifier.ControlModifier


def field(window: MainWindow, path: str) -> ValueField:
    return next(f for f in window.station.findChildren(ValueField) if f.path == path)


def remedied(qtbot: QtBot, window: MainWindow) -> None:
    qtbot.waitUntil(lambda: window.session.remedies_done, timeout=30_000)


# --- drain run, tap, feed: what annoyed -------------------------------------------------------


def test_the_drain_run_draws_the_ghost_too(qtbot: QtBot, window: MainWindow) -> None:
    remedied(qtbot, window)
    window.go_to("drain")
    button = window.findChildren(RemedyButton)[0]
    higher = paths.put(window.session.plan, "turbos.0.drain.entry.z_mm", -20.0)
    button.remedy = replace(button.remedy, plan=higher)
    before = window.station.canvas.grab().toImage()
    button.enterEvent(None)
    assert window.station.canvas.grab().toImage() != before
    button.leaveEvent(None)
    assert window.station.canvas.grab().toImage() == before


def test_added_things_lie_side_by_side_and_their_card_covers_no_point(
    qtbot: QtBot, window: MainWindow
) -> None:
    window.go_to("drain")
    station = window.station
    for _ in range(3):
        station.add_shape("hot")
    added = [s.corner for s in window.session.plan.shapes[-3:]]
    assert min(abs(a.z_mm - b.z_mm) for a in added for b in added if a is not b) >= 50.0
    card = station.editor
    assert card.isVisible()
    assert card.width() >= sum(f.width() for f in card.findChildren(ValueField)[:3])
    covered = [
        name
        for name in station.canvas.picture().handles
        if card.geometry().contains(
            station.canvas.mapTo(station, station.canvas.handle_pixel(name).toPoint())
        )
    ]
    assert covered == []
    typed = {f.path.rpartition(".")[2] for f in card.findChildren(ValueField) if f.isVisible()}
    assert {"x_mm", "y_mm", "z_mm"} <= typed  # a place has three coordinates, whatever the view
    QTest.keyClick(card, Qt.Key.Key_Escape)
    assert not card.isVisible()


def test_a_drawing_is_ringed_for_the_keyboard_only(qtbot: QtBot, window: MainWindow) -> None:
    """A drawing that was clicked looks as before; one that Tab reached has a ring, alike on all sides."""
    window.go_to("feed")
    canvas = window.station.canvas
    plain = canvas.grab().toImage()
    ring = window.station.colours.color("focus")
    middle = canvas.width() // 2
    canvas.setFocus(Qt.FocusReason.MouseFocusReason)
    assert canvas.grab().toImage().pixelColor(middle, 0) == plain.pixelColor(middle, 0)
    canvas.clearFocus()
    canvas.setFocus(Qt.FocusReason.TabFocusReason)
    image = canvas.grab().toImage()
    w, h = image.width(), image.height()
    edges = [image.pixelColor(*p) for p in ((w // 2, 0), (w // 2, h - 1), (0, h // 2), (w - 1, h // 2))]
    assert {c.name() for c in edges} == {ring.name()}


def test_a_pieces_title_follows_its_shape(window: MainWindow) -> None:
    window.go_to("feed")
    station = window.station
    at = next(s.path for s in station.steps if "45°" in s.name)
    station.select(at)
    assert "45°" in station._title.text()
    window.session.edit(f"{at}.shape", "90°", "shape")
    assert "90°" in station._title.text()


def test_a_new_tap_is_no_copy_and_hides_no_guess(window: MainWindow) -> None:
    """Nothing measured of one tap becomes a fact of another, and a thread nobody looked at stays so."""
    window.session.replace(new_plan("new", Answers()), None)
    window.go_to("tap")
    assert not paths.looked_at(window.session.plan, "taps.0.port_thread")
    window.station.add()
    plan = window.session.plan
    assert plan.tap == 1
    assert plan.taps[1].offset_kpa.basis == "guess"
    assert plan.taps[1].port_thread == plan.taps[1].fitting_thread
    assert not paths.looked_at(plan, "taps.0.port_thread")
    assert not paths.looked_at(plan, "taps.1.port_thread")
    window.session.edit("tap.port_thread", "1/8 BSPT", "thread")
    window.station.choose(0)
    window.station.remove()
    assert window.session.plan.taps[0].port_thread == "1/8 BSPT"
    assert paths.looked_at(window.session.plan, "taps.0.port_thread")  # it has moved up with its tap
    for _ in range(11):
        window.station.add()
    window.station.add()
    assert len(window.session.plan.taps) == 12
    assert "12" in window.notice.text()


# --- the build and the sheet, drawn ------------------------------------------------------------


def ringed(image: QImage, colour: QColor) -> QRectF:
    """The bounds of all pixels of a colour, by numpy on the picture's bytes."""
    copy = image.convertToFormat(QImage.Format.Format_RGB32)
    bits = copy.constBits()
    assert bits is not None
    bits.setsize(copy.sizeInBytes())
    rgb = np.frombuffer(bits, np.uint8).reshape(copy.height(), copy.bytesPerLine() // 4, 4)
    want = np.array([colour.blue(), colour.green(), colour.red()])
    rows, columns = np.nonzero((np.abs(rgb[:, :, :3].astype(int) - want) <= 6).all(axis=2))
    if not len(rows):
        return QRectF()
    return QRectF(columns.min(), rows.min(), np.ptp(columns) + 1, np.ptp(rows) + 1)


def test_the_build_shows_where_each_step_happens(window: MainWindow) -> None:
    """The ring goes down the drain as the steps do: turbo, flange, lower end; the whole pan is wider than its entry."""
    window.go_to("build")
    station = window.station
    found = {}
    for row, step in enumerate(station.steps):
        station.list.setCurrentRow(row)
        assert station.canvas.isVisible() == has_place(step)
        if stem(step)[0] in PLACES:
            words = station.canvas.grab().toImage()
            found[stem(step)[0]] = ringed(
                words.copy(0, 30, words.width(), words.height() - 30), station.colours.color("focus")
            )
    assert all(not r.isNull() for r in found.values())
    assert found["clock"].center().y() < found["drain-flange"].center().y() < found["drain-join"].center().y()
    assert found["pan-on"].width() > 1.5 * found["entry"].width()
    assert found["cut-drain"].height() > found["drain-flange"].height()


def test_the_joints_of_a_feed_step_carry_the_pictures_numbers(window: MainWindow) -> None:
    window.go_to("build")
    station = window.station
    row = next(k for k, s in enumerate(station.steps) if s.key == "feed-0")
    station.list.setCurrentRow(row)
    run = next(r for r in runs(window.session.plan) if r.key == "feed")
    assert "<ol>" in station.text.text()
    assert station.text.text().count("<li>") >= len(run.joints)
    image = QImage(640, int(STRIP), QImage.Format.Format_RGB32)
    image.fill(0xFFFFFFFF)
    painter = QPainter(image)
    spots = paint_numbered(Ink(painter, station.colours, "metric"), QRectF(0, 0, 640, STRIP), run)
    painter.end()
    assert len(spots) == len(run.joints) == len(run.parts) + 1
    assert np.allclose(np.diff([s.x() for s in spots]), spots[1].x() - spots[0].x())


def test_the_sheets_chains_are_drawn_and_the_paper_is_short(window: MainWindow) -> None:
    """Every line that has parts is drawn over its list; in type that is read at the bench the demo takes ten pages."""
    e = window.session.evaluation
    made = [s for s in sections(e, "metric") if s.key.startswith("chain-")]
    assert [s.run is not None for s in made] == [True] * len(runs(e.plan))
    for s in made:
        assert len(s.rows) == len(s.run.joints)  # one row a joint, numbered as in the drawing
        assert [r[0] for r in s.rows] == [str(k + 1) for k in range(len(s.rows))]
        assert all(part.name in "".join(map("".join, s.rows)) for part in s.run.parts)
    assert len(pages(e, "metric")) + 1 <= 10
    page = html_text(e, "metric")
    assert page.count("joint by joint</title>") == len(made)
    assert page.count("Where the steps happen</title>") == 1


@pytest.mark.parametrize("name", ["estate", "van"])
def test_the_sheets_map_numbers_the_steps_at_their_places(name: str, qtbot: QtBot) -> None:
    """The numbers are those of the list beside it: looked up there, each names a step of that place and that turbo."""
    e = evaluate(demo_plan(name))
    steps = sequence(e.plan)
    for lens in e.all:
        image = QImage(300, 190, QImage.Format.Format_RGB32)
        image.fill(0xFFFFFFFF)
        painter = QPainter(image)
        found = paint_map(Ink(painter, LIGHT), QRectF(0, 0, 300, 190), lens, steps)
        painter.end()
        assert {"turbo", "flange", "hose", "lower end", "pan"} <= set(found)
        titles = {place: [steps[n - 1].key for n in numbers] for place, numbers in found.items()}
        assert titles["flange"] == [f"drain-flange-{lens.index}"]
        assert titles["lower end"] == [f"drain-join-{lens.index}"]
        assert f"hang-{lens.index}" in titles["turbo"]


def test_a_place_is_counted_from_the_pans_wall(qtbot: QtBot, window: MainWindow) -> None:
    """By a rule laid on the wall: the demo's pan is 260 mm wide about the middle, so its right wall stands 130 mm to the right
    of it and 180 mm out of the wall is 310 mm right; along the wall there is nothing to count from."""
    window.go_to("drain")
    box = window.session.plan.sump.boxes[0]
    wall = box.corner.y_mm
    window.station.select("turbo")
    QApplication.processEvents()
    across = field(window, "line.turbo.drain_flange.y_mm")
    assert "counts from the pan's wall" in across.toolTip()
    across.setFocus()
    across.selectAll()
    QTest.keyClicks(across, "180 mm out")
    QTest.keyClick(across, Qt.Key.Key_Return)
    assert window.session.line.turbo.drain_flange.y_mm == pytest.approx(wall - 180.0)
    window.station.select("turbo")
    QApplication.processEvents()
    along = field(window, "line.turbo.drain_flange.x_mm")
    along.setFocus()
    along.selectAll()
    QTest.keyClicks(along, "180 mm out")
    QTest.keyClick(along, Qt.Key.Key_Return)
    assert "runs along it" in window.notice.text()
    assert "out" in along.text()  # what was typed is not lost


# --- the handbook ------------------------------------------------------------------------------


def test_the_handbooks_figures_and_numbers_are_the_plans_own(qtbot: QtBot, window: MainWindow) -> None:
    """Every figure that a page names is drawn; the numbers follow the condition and the units."""
    named = {m for page in PAGES for m in re.findall(r"\(figure:([a-z]+)\)", page_text(page))}
    assert named
    assert named <= set(FIGURES)
    window.go_to("drain")
    window.show_help()
    book = window.handbook
    qtbot.waitUntil(book.isVisible)
    for name in sorted(named):
        image = book.text.loadResource(2, QUrl(f"figure:{name}"))
        colours = {image.pixel(x, y) for x in range(0, image.width(), 7) for y in range(0, image.height(), 5)}
        assert len(colours) > 4, name
    book.open_at("pressure")
    assert "In this plan" in book.text.toPlainText()
    first = book.text.toPlainText()
    window.session.choose_condition(1)
    qtbot.waitUntil(lambda: book.text.toPlainText() != first)
    window.session.set_look(family="imperial")
    qtbot.waitUntil(lambda: "\u202fpsi" in book.text.toPlainText())
    assert WORKED not in book.text.toPlainText()


@pytest.mark.parametrize("name", ["estate", "coupe", "van"])
def test_worked_numbers_add_up(name: str) -> None:
    """Read back from the sentences: the drops add to their total, the jet's coefficient is one that a drilled hole may have
    (hot: 0.5 to 1, ISO 5167-2 gives 0.6 for a sharp edge, a long hole comes near 0.8; thick cold oil far less), froth is oil over what is not air."""
    e = evaluate(demo_plan(name))
    for i, c in enumerate(e.plan.conditions):
        pages_ = worked(e, i, "metric")
        if c.rpm <= 0:
            assert pages_ == {}
            continue
        spent = pages_["pressure"][0].replace("\u202f", " ").replace("−", "-")
        left, total = spent.split(" = ")
        terms = [float(v) for v in re.findall(r"(-?[\d.]+) bar", left)]
        assert sum(terms) == pytest.approx(float(total.split()[0]), abs=0.006 * len(terms))
        for line in pages_["pressure"][1:]:
            coefficient = float(re.findall(r"ratio, ([\d.]+),", line)[0])
            assert (0.5 if c.oil_temperature_c > 60 else 0.0) < coefficient <= 1.0
        fall = pages_["gravity"][0].replace("\u202f", " ")
        oil, froth = (float(v) for v in re.findall(r"([\d.]+) L/min", fall))
        assert froth == pytest.approx(oil / (1.0 - c.air_fraction), abs=0.02)


# --- motion ------------------------------------------------------------------------------------


def test_oil_creeps_for_a_moment_as_briskly_as_it_flows(qtbot: QtBot, window: MainWindow) -> None:
    """Bubbles run after the condition changed, further where more flows; none with the engine off, none where motion is off;
    at the end the picture is what it was."""
    window.go_to("whole")
    canvas, names = window.station.canvas, window.session.evaluation.names
    assert not canvas.motion.isActive()  # off in the tests' preferences
    window.look.switch_motion()
    paces = []
    for name in ("hot idle", "full load"):
        window.session.choose_condition(names.index(name))
        assert canvas.motion.isActive()
        paces.append(canvas.pace())
    flow = window.session.evaluation.feed.flow_m3_s
    assert paces[1] / paces[0] == pytest.approx(
        float(flow[names.index("full load")] / flow[names.index("hot idle")])
    )
    moving = canvas.grab().toImage()
    qtbot.waitUntil(lambda: not canvas.motion.isActive(), timeout=10_000)
    still = canvas.grab().toImage()
    assert moving != still
    way = canvas.picture.way
    assert way[0].x() < way[1].x()  # out of the gallery
    assert way[-1].y() > way[2].y()  # and down from the inlet to the pan
    window.session.choose_condition(names.index("key-off"))
    assert not canvas.motion.isActive()
    window.look.switch_motion()
    window.session.choose_condition(names.index("cruise"))
    assert not canvas.motion.isActive()
    assert window.preferences.get("motion", True) is False


def test_a_pan_that_is_dragged_stays_under_the_hand(qtbot: QtBot, window: MainWindow) -> None:
    """The drawing's scale stands still while a corner is held: 40 px to the right are 40 px of the scale at the start, however
    often the mouse moves; far beyond the page the box stops at what a plan takes, and nothing is lost."""
    window.go_to("sump")
    canvas = window.station.canvas
    frame = canvas.frame_now()
    grip = grips(window.session.evaluation, canvas.picture())[0]
    start = frame.at(grip.at)
    before = window.session.plan.sump.boxes[0]
    QTest.mousePress(canvas, LEFT, pos=start.toPoint())
    for step in (10, 20, 30, 40):
        QTest.mouseMove(canvas, (start + QPointF(float(step), 0.0)).toPoint())
        QApplication.processEvents()
    assert canvas.frame_now().scale == pytest.approx(frame.scale)
    now = window.session.plan.sump.boxes[0]
    grown = (now.length_mm - before.length_mm) + (now.width_mm - before.width_mm)
    assert abs(grown) == pytest.approx(40.0 / frame.scale, abs=2.0 / frame.scale)
    QTest.mouseMove(canvas, (start + QPointF(9000.0, 9000.0)).toPoint())
    QApplication.processEvents()
    QTest.mouseRelease(canvas, LEFT, pos=start.toPoint())
    QApplication.processEvents()
    far = window.session.plan.sump.boxes[0]
    assert far.length_mm <= 2000.0
    assert far.width_mm <= 1500.0
    assert far.depth_mm <= 600.0
    window.session.undo()
    assert window.session.plan.sump.boxes[0] == before


def test_labels_find_the_nearest_free_place(qtbot: QtBot) -> None:
    """Against a plain search, place by place: the same nearest free place, touching nothing."""
    rng = np.random.default_rng(3)
    bounds, size = QRectF(0, 0, 300, 200), QSizeF(40, 14)
    for _ in range(20):
        boxes = [QRectF(*rng.uniform(0, 250, 2), *rng.uniform(5, 60, 2)) for _ in range(12)]
        anchor = QPointF(*rng.uniform(0, 200, 2))
        made = Labels(bounds)
        made.block(boxes)
        placed = made.anywhere(anchor, size)
        best = min(
            (
                (x + 20 - anchor.x()) ** 2 + (y + 7 - anchor.y()) ** 2
                for x in np.arange(0, 260, STEP)
                for y in np.arange(0, 186, STEP)
                if not any(QRectF(x - 4, y - 4, 48, 22).intersects(b) for b in boxes)
            ),
            default=None,
        )
        assert (placed is None) == (best is None)
        if placed is not None:
            centre = placed.rect.center()
            assert (centre.x() - anchor.x()) ** 2 + (centre.y() - anchor.y()) ** 2 == pytest.approx(best)


def test_dialogs_carry_no_stock_icons(qtbot: QtBot, window: MainWindow) -> None:
    made = FirstPlan("metric", window)
    qtbot.addWidget(made)
    made.show()
    asked = QMessageBox(
        QMessageBox.Icon.Question, "Gravidon", "Keep it?", QMessageBox.StandardButton.Yes, window
    )
    qtbot.addWidget(asked)
    asked.show()
    QApplication.processEvents()
    for dialog in (made, asked):
        buttons = dialog.findChildren(QPushButton)
        assert buttons
        assert all(b.icon().isNull() for b in buttons)
    icon = asked.findChild(QLabel, "qt_msgboxex_icon_label")
    assert icon is None or icon.width() == 0


def test_places_are_counted_from_a_bolt_or_from_the_turbos_flange(qtbot: QtBot, window: MainWindow) -> None:
    """As a rule is laid on: the rail's bolts stand evenly from the wall's one end to the other, as near their pitch as fits."""
    window.go_to("entry")
    plan = window.session.plan
    box, pitch = plan.sump.boxes[0], plan.sump.bolt_pitch_mm.value
    count = max(round(box.length_mm / pitch), 1)
    bolts = box.corner.x_mm + box.length_mm * np.arange(count + 1) / count
    now = plan.turbos[0].drain.entry.x_mm
    bolt = float(bolts[np.abs(bolts - now).argmin()])

    def typed(path: str, text: str) -> None:
        it = field(window, path)
        it.setFocus()
        it.selectAll()
        QTest.keyClicks(it, text)
        QTest.keyClick(it, Qt.Key.Key_Return)
        QApplication.processEvents()

    typed("line.drain.entry.x_mm", "12 mm forward of the bolt")
    assert window.session.line.drain.entry.x_mm == pytest.approx(bolt + 12.0, abs=0.06)
    flange = window.session.line.turbo.drain_flange.z_mm
    typed("line.drain.entry.z_mm", "150 mm under the flange")
    assert window.session.line.drain.entry.z_mm == pytest.approx(flange - 150.0, abs=0.06)
    typed("line.drain.entry.x_mm", "12 mm from the bolt")
    assert "back or forward" in window.notice.text()
