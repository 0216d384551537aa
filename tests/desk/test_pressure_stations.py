# SPDX-License-Identifier: GPL-3.0-or-later
"""The pressure side's stations driven by clicks and keys."""

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QApplication, QLabel, QSlider, QToolButton
from pytestqt.qtbot import QtBot

from gravidon.desk.stations import STATIONS
from gravidon.desk.stations.restrictor import METRIC
from gravidon.desk.value_field import ValueField
from gravidon.desk.window import MainWindow
from gravidon.draw import cascade as cascade_drawing
from gravidon.draw import map_chart, tap_chart
from gravidon.plan import paths
from gravidon.plan.demos import NAMES, demo_plan
from gravidon.plan.storage import plan_from_text, plan_to_text

LEFT = Qt.MouseButton.LeftButton


def texts(widget: object) -> str:
    return "\n".join(label.text() for label in widget.findChildren(QLabel))  # type: ignore[attr-defined]


def button(widget: object, words: str) -> QToolButton:
    return next(b for b in widget.findChildren(QToolButton) if words in b.text())  # type: ignore[attr-defined]


@pytest.mark.parametrize("name", NAMES)
def test_every_station_paints_every_demo(qtbot: QtBot, window: MainWindow, name: str) -> None:
    """Every station of a demo with its restrictor the other way round, in one family and theme of two: painted, and no
    'nan' or 'inf' anywhere on screen."""
    k = NAMES.index(name) % 2
    fitted = paths.get(demo_plan(name), "turbos.0.restrictor.fitted")
    window.session.replace(paths.put(demo_plan(name), "turbos.0.restrictor.fitted", not fitted), None)
    window.session.set_look("metric" if k else "imperial", "dark" if k else "light")
    for station in STATIONS:
        window.go_to(station.key)
        QApplication.processEvents()
        image = window.grab().toImage()
        colours = {image.pixelColor(x, y).rgb() for x in range(200, 960, 40) for y in range(60, 700, 20)}
        assert len(colours) > 3, station.key
        shown = texts(window) + " ".join(s.headline for s in window.rail.stops)
        shown += " ".join(f.text() for f in window.station.findChildren(ValueField))
        assert "nan" not in shown.lower().split()
        assert "inf" not in shown.lower().split()


def test_clicking_a_tap_replans_and_the_arrow_keys_walk(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("tap")
    canvas = window.station.canvas
    row = tap_chart.row_rect(canvas.area, 2, 4)
    qtbot.mouseClick(canvas, LEFT, pos=QPoint(round(row.center().x()), round(row.center().y())))
    assert window.session.plan.tap == 2
    assert window.session.line.feed.pieces[1].length_mm.value == 1560
    assert "thread-tap" not in {f.code for f in window.session.findings}
    qtbot.keyClick(canvas, Qt.Key.Key_Up)
    assert window.session.plan.tap == 1
    field = next(f for f in window.station.findChildren(ValueField) if f.path == "tap.route_mm")
    assert field.text().startswith("1420")
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.plan.tap == 2


def test_taps_are_added_renamed_and_removed(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("tap")
    station = window.station
    qtbot.mouseClick(button(station, "Add a tap"), LEFT)
    assert len(window.session.plan.taps) == 5
    assert window.session.plan.tap == 4
    station.label.setFocus()
    station.label.selectAll()
    qtbot.keyClicks(station.label, "my own hole")
    qtbot.keyClick(station.label, Qt.Key.Key_Return)
    assert window.session.plan.taps[4].label == "my own hole"
    qtbot.mouseClick(station.filtered, LEFT)
    assert "unfiltered" in {f.code for f in window.session.findings}
    qtbot.mouseClick(button(station, "Remove it"), LEFT)
    assert len(window.session.plan.taps) == 4


def test_a_piece_of_the_cascade_is_edited_in_place(qtbot: QtBot, window: MainWindow) -> None:
    """Click the hose in the cascade, type its length; add a screen and clog it with the slider."""
    window.go_to("feed")
    station, canvas = window.station, window.station.canvas
    axes = cascade_drawing.axes_of(canvas.area, station.steps, window.session.family)
    place = next(k for k, s in enumerate(station.steps) if s.name.startswith("hose"))
    qtbot.mouseClick(canvas, LEFT, pos=cascade_drawing.step_rect(axes, place).center().toPoint())
    field = next(f for f in station.findChildren(ValueField) if f.path.endswith("length_mm"))
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "2 m")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert window.session.line.feed.pieces[1].length_mm.value == 2000
    qtbot.mouseClick(button(station, "Add screen"), LEFT)
    before = float(window.session.evaluation.feed.inlet_pressure_pa[window.session.condition])
    slider = station.findChild(QSlider)
    slider.setValue(90)
    after = float(window.session.evaluation.feed.inlet_pressure_pa[window.session.condition])
    assert after < before
    assert any("clogged" in s.name for s in station.steps)
    station.canvas.setFocus()
    qtbot.keyClick(station.canvas, Qt.Key.Key_Delete)
    assert all(p.kind != "screen" for p in window.session.line.feed.pieces)


def test_the_last_hose_cannot_be_removed(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("feed")
    window.station.select("turbos.0.feed.pieces.1")
    window.station.remove()
    assert "at least one hose" in window.notice.text()
    assert any(p.kind == "hose" for p in window.session.line.feed.pieces)


def test_a_tolerance_is_typed_after_the_value(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("sump")
    fields = {f.path: f for f in window.station.findChildren(ValueField)}
    field = fields["sump.fill_l"]
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "5.0 +- 0.3 l")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert window.session.plan.sump.fill_l.value == 5.0
    assert window.session.plan.sump.fill_l.tolerance == pytest.approx(0.3)
    assert "± 0.30" in field.toolTip()
    window.go_to("entry")
    fields = {f.path: f for f in window.station.findChildren(ValueField)}
    bore = fields["line.drain.fitting.bore_mm"]
    bore.setFocus()
    bore.selectAll()
    qtbot.keyClicks(bore, "10 mm +- 1")
    qtbot.keyClick(bore, Qt.Key.Key_Return)
    assert "entry fitting bore" in window.notice.text()


def test_house_rules_are_taken_by_a_click(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("restrictor")
    qtbot.mouseClick(button(window.station, "never"), LEFT)
    assert not window.session.line.restrictor.fitted
    qtbot.mouseClick(button(window.station, "measured"), LEFT)
    assert window.session.line.restrictor.fitted
    assert "starved" not in {f.code for f in window.session.findings}
    qtbot.mouseClick(window.station.flange, LEFT)
    assert window.session.line.flange_hole.fitted


def test_the_inverse_answer_names_real_drills(qtbot: QtBot, window: MainWindow) -> None:
    """The sentence under the chart: range, what breaks first, the smallest metric and number drill; and
    the named metric drill does hold when chosen while the one below it does not."""
    window.go_to("restrictor")
    words = window.station.answer.text()
    assert "every condition passes" in words
    assert "is starved first" in words
    smallest = min(d.diameter_mm for d in window.station.choice.drills if not d.name.startswith("#"))
    assert f"{smallest:.2f} mm or #" in words
    for bore, holds in ((smallest, True), (round(smallest - 0.1, 2), False)):
        window.session.edit("line.restrictor.bore_mm", bore)
        starved = {f.code for f in window.session.findings if f.severity == "bad"} & {"starved"}
        assert (not starved) == holds


def test_uneven_tolerance_edges_are_said(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("restrictor")
    window.session.edit("line.restrictor.bore_mm", 1.8)
    window.session.edit("line.restrictor.tolerance_mm", 0.2)
    assert "does not pass over its whole tolerance" in window.station.answer.text()
    window.session.edit("line.restrictor.bore_mm", 3.0)
    assert "passes at both ends" in window.station.answer.text()


def test_f1_opens_the_page_of_each_station(qtbot: QtBot, window: MainWindow) -> None:
    expected = {
        "tap": "Every candidate",
        "feed": "Every candidate",
        "map": "Every candidate",
        "guesses": "Latin-hypercube",
    }
    for key, words in expected.items():
        window.go_to(key)
        window.show_help()
        assert words in window.handbook.text.toPlainText(), key
    window.handbook.close()


def test_the_source_chart_follows_its_readings(qtbot: QtBot, window: MainWindow) -> None:
    """Typing another pressure redraws the law; removing readings down to one is refused in words."""
    window.go_to("car")
    station = window.station
    before = station.canvas.grab().toImage()
    station.table.item(2, 2).setText("60 psi")
    assert station.canvas.grab().toImage() != before
    for _ in range(4):
        station.table.setCurrentCell(0, 0)
        station.remove_reading()
    assert len(window.session.plan.engine.readings) == 1
    station.table.setCurrentCell(0, 0)
    station.remove_reading()
    assert "at least one reading" in window.notice.text()
    station.table.setCurrentCell(-1, -1)
    station.remove_reading()
    assert "Choose the reading" in window.notice.text()


def test_trunk_pieces_are_edited_too(qtbot: QtBot, window: MainWindow) -> None:
    """In the van the cascade shows the trunk; its hose is typed like any other, and a trunk piece can go."""
    window.session.replace(demo_plan("van"), None)
    window.go_to("feed")
    station = window.station
    station.select("trunk.1")
    field = next(f for f in station.findChildren(ValueField) if f.path == "trunk.1.length_mm")
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "300 mm")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert window.session.plan.trunk[1].length_mm.value == 300
    assert "splits the flow" in station.answer.text()
    station.select("trunk.0")
    station.remove()
    assert len(window.session.plan.trunk) == 1


def test_the_clean_screen_remedy_by_a_click(qtbot: QtBot, window: MainWindow) -> None:
    from gravidon.desk.findings_pane import RemedyButton

    window.session.replace(demo_plan("van"), None)
    qtbot.waitUntil(lambda: window.session.remedies_done, timeout=20_000)
    finding = next(f for f in window.session.findings if f.code == "uneven")
    window._look_at(finding)
    card = window.station.flags.open
    wanted = next(b for b in card.findChildren(RemedyButton) if "Clean or replace" in b.text())
    qtbot.mouseClick(wanted, LEFT)
    screens = [p for t in window.session.plan.turbos for p in t.feed.pieces if p.kind == "screen"]
    assert all(p.clogged == 0 for p in screens)
    assert "starved" not in {f.code for f in window.session.findings}


def test_keys_walk_the_cascade(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("feed")
    station = window.station
    station.canvas.setFocus()
    seen = []
    for _ in range(len(station.steps)):
        qtbot.keyClick(station.canvas, Qt.Key.Key_Right)
        seen.append(station.selected)
    assert len(set(seen)) == len(station.steps)
    qtbot.keyClick(station.canvas, Qt.Key.Key_Left)
    assert station.selected == seen[-2]


def test_the_map_reads_under_the_mouse_and_chooses_conditions(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("map")
    canvas, data = window.station.canvas, window.station.data
    axes = map_chart.axes_of(canvas.area, data, window.session.family)
    qtbot.mouseMove(canvas, QPoint(round(axes.x(3000)), round(axes.y(90))))
    assert canvas.cursor_at is not None
    assert canvas.cursor_at[0] == pytest.approx(3000, abs=15)
    assert canvas.cursor_at[1] == pytest.approx(363.15, abs=1.0)
    cruise = window.session.plan.conditions[2]
    spot = QPointF(axes.x(cruise.rpm), axes.y(cruise.oil_temperature_c))
    qtbot.mouseClick(canvas, LEFT, pos=spot.toPoint())
    assert window.session.condition == 2
    before = canvas.grab().toImage()
    qtbot.mouseClick(button(window.station, "Oil out"), LEFT)
    assert canvas.grab().toImage() != before


def test_turbos_are_added_chosen_and_removed(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("car")
    qtbot.mouseClick(button(window.station, "One more"), LEFT)
    assert len(window.session.plan.turbos) == 2
    assert window.session.turbo == 1
    assert any("turbo 2" in f.title for f in window.session.findings)
    window.go_to("restrictor")
    window.session.edit("line.restrictor.bore_mm", 2.5)
    assert [t.restrictor.bore_mm for t in window.session.plan.turbos] == [0.76, 2.5]
    qtbot.mouseClick(button(window.station, "used turbo"), LEFT)
    assert window.session.turbo == 0
    window.go_to("car")
    qtbot.mouseClick(button(window.station, "One fewer"), LEFT)
    assert len(window.session.plan.turbos) == 1
    qtbot.mouseClick(button(window.station, "One fewer"), LEFT)
    assert "at least one turbo" in window.notice.text()


def test_sampling_reports_ends_and_can_be_cancelled(
    qtbot: QtBot, window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The thread reports progress, the window stays alive, an edit drops the stale answer."""
    monkeypatch.setattr("gravidon.desk.stations.guesses.SAMPLES", 16)
    window.go_to("guesses")
    station = window.station
    qtbot.mouseClick(station.start_button, LEFT)
    qtbot.waitUntil(lambda: station.answer is not None, timeout=60_000)
    qtbot.mouseClick(station.cancel_button, LEFT)
    assert not station.busy
    assert station.answer.samples < 16
    window.session.edit("turbos.0.restrictor.bore_mm", 2.55)
    assert station.answer is None
    qtbot.mouseClick(station.start_button, LEFT)
    qtbot.waitUntil(lambda: not station.busy, timeout=90_000)
    assert station.answer.samples == 16
    assert sum(station.answer.whole) == pytest.approx(1.0)
    assert "samples" in station.words.text()
    qtbot.waitUntil(lambda: not station.deciding.busy, timeout=60_000)
    assert "Measure first" in station.words.text()


@pytest.mark.parametrize(("by", "near_mm"), [(1, METRIC[-6].diameter_mm), (-1, METRIC[5].diameter_mm)])
def test_however_often_a_drill_is_stepped_the_plan_can_be_opened_again(
    window: MainWindow, by: int, near_mm: float
) -> None:
    """Past either end of the drills, from near it."""
    window.go_to("restrictor")
    window.session.edit("line.restrictor.bore_mm", near_mm)
    for _ in range(9):
        window.station.step(by)
    plan = window.session.plan
    assert plan_from_text(plan_to_text(plan)) == plan
    for k in range(len(window.station.rules_known)):
        window.station.take_rule(k)


def test_a_whole_plan_with_a_figure_out_of_its_bounds_is_not_taken(window: MainWindow) -> None:
    before, said = window.session.plan, []
    window.session.refused.connect(said.append)
    it = before.turbos[0]
    hole = it.restrictor.model_copy(update={"bore_mm": 99.0})
    wrong = before.model_copy(
        update={"turbos": (it.model_copy(update={"restrictor": hole}), *before.turbos[1:])}
    )
    assert not window.session.propose(wrong, "from somewhere")
    assert window.session.plan is before
    assert "restrictor bore" in said[0]
