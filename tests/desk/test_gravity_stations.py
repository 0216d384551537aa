# SPDX-License-Identifier: GPL-3.0-or-later
"""The gravity side's stations driven by clicks, drags and keys; asserts on what a user would see."""

from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog
from pytestqt.qtbot import QtBot

from gravidon.desk.log_dialog import NONE, LogDialog
from gravidon.desk.stations.entry import EntryStation
from gravidon.desk.window import MainWindow
from gravidon.draw import breather_chart, envelope_chart, pan_face, pan_levels, pan_view, scavenge_chart
from gravidon.plan import paths
from gravidon.plan.demos import demo_drive, demo_plan
from gravidon.study.solve.breathing import breathing

LEFT = Qt.MouseButton.LeftButton


def press_move_release(widget: object, start: QPointF, end: QPointF) -> None:
    """Drag in four steps, as a hand does."""
    QTest.mousePress(widget, LEFT, pos=start.toPoint())  # type: ignore[call-overload]
    for share in (0.25, 0.5, 0.75, 1.0):
        QTest.mouseMove(widget, (start + (end - start) * share).toPoint())  # type: ignore[call-overload]
    QTest.mouseRelease(widget, LEFT, pos=end.toPoint())  # type: ignore[call-overload]


@pytest.fixture
def fed(window: MainWindow) -> MainWindow:
    """The window on the demo with a bearing that gets oil."""
    window.session.replace(paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 2.2), None)
    return window


def shaded(qtbot: QtBot, window: MainWindow) -> EntryStation:
    window.go_to("entry")
    station = window.station
    assert isinstance(station, EntryStation)
    qtbot.waitUntil(lambda: station.fresh and not station.busy, timeout=20_000)
    return station


# --- seat ------------------------------------------------------------------------------------


def test_turning_the_handle_clocks_the_housing_as_one_step(qtbot: QtBot, fed: MainWindow) -> None:
    """Dragging the drain's handle to the left clocks it clockwise (seen from the turbine); one undo."""
    fed.go_to("seat")
    canvas = fed.station.canvas
    press_move_release(canvas, canvas.handle_pixel(), canvas.handle_pixel() + QPointF(-60, -8))
    turned = fed.session.line.turbo.clock_deg.value
    assert 10 < turned < 60
    assert turned == round(turned)
    fed.session.undo()
    assert fed.session.line.turbo.clock_deg.value == 0.0


def test_tilting_past_the_limit_is_found_and_levelled(qtbot: QtBot, fed: MainWindow) -> None:
    fed.go_to("seat")
    along = fed.station.along
    along.setFocus()
    for _ in range(2):
        qtbot.keyClick(along, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert fed.session.line.turbo.pitch_deg.value == 20.0
    finding = next(f for f in fed.session.findings if f.code == "tilt")
    assert "20°" in finding.text("metric")
    assert "tilt 20°" in next(s for s in fed.rail.stops if s.name == "Seat").headline
    qtbot.keyClick(along, Qt.Key.Key_0)
    assert "tilt" not in {f.code for f in fed.session.findings}


def test_twin_rings_change_a_guessed_limit(qtbot: QtBot, fed: MainWindow) -> None:
    fed.go_to("seat")
    fed.session.edit("turbos.0.turbo.bearing", "ball")
    fed.station.rings.textActivated.emit("twin")
    assert fed.session.line.turbo.tilt_max_deg.value == 13.0


# --- drain -----------------------------------------------------------------------------------


def test_both_drawings_edit_one_run(qtbot: QtBot, fed: MainWindow) -> None:
    """A bend dragged sideways in the second drawing moves forward or back there, and not to the side."""
    fed.go_to("drain")
    station = fed.station
    before = fed.session.line.drain.points[1]
    second = station.second
    start = second.handle_pixel("bend 2")
    scale = second.frame_now().scale
    press_move_release(second, start, start + QPointF(20, 0))
    after = fed.session.line.drain.points[1]
    assert after.x_mm == pytest.approx(before.x_mm - 20 / scale, abs=1.6)  # its right is the car's rear
    assert after.y_mm == before.y_mm
    assert station.canvas.selected == "bend 2"


def test_from_above_height_stays(qtbot: QtBot, fed: MainWindow) -> None:
    fed.go_to("drain")
    station = fed.station
    station.set_view("above")
    before = fed.session.line.drain.points[0]
    station.canvas.setFocus()
    station.canvas.select("bend 1")
    qtbot.keyClick(station.canvas, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    after = fed.session.line.drain.points[0]
    assert (after.x_mm, after.y_mm, after.z_mm) == (before.x_mm + 10.0, before.y_mm, before.z_mm)


def test_a_hot_thing_is_placed_dragged_and_removed(qtbot: QtBot, fed: MainWindow) -> None:
    """Put beside the run it is found too near; dragged far away it is not; Delete takes it out."""
    fed.go_to("drain")
    station = fed.station
    count = len(fed.session.plan.shapes)
    station.add_shape("hot")
    assert station.selected == f"shape {count + 1}"
    assert station.editor.isVisible()
    fed.session.edit(f"shapes.{count}.corner", demo_plan().turbos[0].drain.points[0])
    assert "drain-heat" in {f.code for f in fed.session.findings}
    start = station.canvas.handle_pixel(station.selected)
    press_move_release(station.canvas, start, start + QPointF(140, -60))
    assert "drain-heat" not in {f.code for f in fed.session.findings}
    qtbot.keyClick(station.canvas, Qt.Key.Key_Delete)
    assert len(fed.session.plan.shapes) == count


def test_hose_ends_are_listed_added_and_taken_out(qtbot: QtBot, fed: MainWindow) -> None:
    fed.go_to("drain")
    fed.station.add_piece("pan")
    assert len(fed.session.line.drain.pieces) == 3
    from PyQt6.QtWidgets import QToolButton

    def drops() -> list[QToolButton]:
        buttons = fed.station.findChildren(QToolButton)
        return [b for b in buttons if b.accessibleName().startswith("Take out") and b.isVisible()]

    qtbot.waitUntil(lambda: len(drops()) == 3)
    drop = drops()
    qtbot.mouseClick(drop[-1], LEFT)
    assert len(fed.session.line.drain.pieces) == 2


def test_the_drain_can_end_in_another_one(qtbot: QtBot, window: MainWindow) -> None:
    """The van: its right drain joins the left one; sent to the pan and back again by the choice."""
    window.session.replace(demo_plan("van"), None)
    window.session.choose_turbo(1)
    window.go_to("drain")
    ends = window.station.ends
    assert "bend 2" in ends.currentText()
    ends.setCurrentIndex(0)
    ends.textActivated.emit("the pan")
    assert window.session.line.drain.joins is None
    k = next(i for i, (words, _) in enumerate(ends.ends) if "bend 1" in words)
    ends.setCurrentIndex(k)
    ends.textActivated.emit(ends.currentText())
    assert window.session.line.drain.joins.bend == 0
    # a bend that another drain joins cannot be taken out from under it
    window.session.choose_turbo(0)
    window.station.select("bend 1")
    window.station.remove_bend()
    window.station.select("bend 1")
    window.station.remove_bend()
    assert len(window.session.line.drain.points) >= 1
    assert "joined drain" in window.notice.text()


def test_a_drain_that_carries_another_takes_it_to_its_pot(qtbot: QtBot, window: MainWindow) -> None:
    """The van's left drain carries the right one: sent to a pot, both end there, and the right one's choice says so."""
    window.session.replace(demo_plan("van"), None)
    window.session.choose_turbo(0)
    window.go_to("drain")
    ends = window.station.ends
    ends.setCurrentIndex(1)
    ends.textActivated.emit("a scavenge pot")
    assert window.session.line.drain_by == "scavenge"
    pot = window.session.evaluation.route.corners_m[-1]
    window.session.choose_turbo(1)
    assert window.session.evaluation.route.corners_m[-1] == pytest.approx(pot)
    assert ends.currentText().endswith("pot")


# --- sump and entry --------------------------------------------------------------------------


def test_a_box_chosen_from_a_list_that_is_older_than_the_plan_is_no_choice(fed: MainWindow) -> None:
    """The list was opened with three boxes and a baffle; while it is open another plan with fewer comes."""
    fed.go_to("sump")
    station = fed.station
    station.add_box()
    station.add_baffle()
    last = station.which.count() - 1
    fed.session.replace(demo_plan("coupe"), None)
    station.which.activated.emit(last)
    assert station.chosen == ("box", 0)


def test_the_pan_is_reshaped_by_its_corner(qtbot: QtBot, fed: MainWindow) -> None:
    """The floor corner dragged up by 20 px makes the pan shallower by 20 px / scale; the rail stays."""
    fed.go_to("sump")
    canvas = fed.station.canvas
    picture = canvas.picture()
    frame = pan_view.frame_in(canvas.area, picture)
    grip = next(g for g in pan_view.grips(fed.session.evaluation, picture) if g.kind == "box")
    press_move_release(canvas, frame.at(grip.at), frame.at(grip.at) + QPointF(0, -1))
    box = fed.session.plan.sump.boxes[0]
    assert box.corner.z_mm + box.depth_mm == pytest.approx(0.0)
    assert box.depth_mm == pytest.approx(150 - 1 / frame.scale, abs=1.1)


def test_boxes_and_baffles_come_and_go(qtbot: QtBot, fed: MainWindow) -> None:
    fed.go_to("sump")
    station = fed.station
    station.add_baffle()
    assert len(fed.session.plan.sump.baffles) == 2
    station.remove()
    assert len(fed.session.plan.sump.baffles) == 1
    station.choose("box", 1)
    station.remove()
    station.choose("box", 0)
    station.remove()
    assert len(fed.session.plan.sump.boxes) == 1
    assert "at least one box" in fed.notice.text()
    station.add_box()
    assert len(fed.session.plan.sump.boxes) == 2


def test_a_gauge_glass_chooses_its_condition(qtbot: QtBot, fed: MainWindow) -> None:
    fed.go_to("sump")
    levels = fed.station.levels
    cell = pan_levels.column_rect(levels.area, 4, 10)
    qtbot.mouseClick(levels, LEFT, pos=cell.center().toPoint())
    assert fed.session.condition == 4


def test_the_entry_is_dragged_on_its_wall(qtbot: QtBot, fed: MainWindow) -> None:
    """40 px to the right, seen from outside the right wall, is forward; the shading stays fresh; one undo."""
    station = shaded(qtbot, fed)
    canvas = station.canvas
    before = fed.session.line.drain.entry
    scale = canvas.frame_now().scale
    press_move_release(canvas, canvas.entry_pixel(), canvas.entry_pixel() + QPointF(40, 0))
    after = fed.session.line.drain.entry
    assert after.x_mm - before.x_mm == pytest.approx(40 / scale * 1e3, abs=3)
    assert station.fresh
    fed.session.undo()
    assert fed.session.line.drain.entry == before


def test_a_numbered_place_is_taken_and_reasons_are_told(qtbot: QtBot, fed: MainWindow) -> None:
    station = shaded(qtbot, fed)
    best = pan_face.best_places(station.maps)
    qtbot.keyClick(station.canvas, Qt.Key.Key_2)
    entry = fed.session.line.drain.entry
    assert (entry.x_mm, entry.z_mm) == (
        pytest.approx(best[1][0] * 1e3, abs=0.1),
        pytest.approx(best[1][1] * 1e3, abs=0.1),
    )
    low = station.canvas.frame_now().at(-0.35, -0.14)
    QTest.mouseMove(station.canvas, low.toPoint())
    qtbot.waitUntil(lambda: "under oil" in station.why.text())


def test_a_thing_in_the_way_is_dragged_on_the_wall(qtbot: QtBot, fed: MainWindow) -> None:
    """The pickup moved 30 px to the right, seen from outside the right wall, is forward; one undo."""
    station = shaded(qtbot, fed)
    frame = station.canvas.frame_now()
    rect = pan_face.shape_rects(frame, fed.session.evaluation, station.wall())[3]
    before = fed.session.plan.shapes[3].corner
    start = QPointF(rect.center().x(), rect.bottom() - 6)
    press_move_release(station.canvas, start, start + QPointF(30, 0))
    after = fed.session.plan.shapes[3].corner
    assert after.x_mm - before.x_mm == pytest.approx(30 / frame.scale * 1e3, abs=1.0)
    assert (after.y_mm, after.z_mm) == (before.y_mm, before.z_mm)
    fed.session.undo()
    assert fed.session.plan.shapes[3].corner == before


def test_ways_through_the_wall_are_used(qtbot: QtBot, fed: MainWindow) -> None:
    """The tapped 4 mm wall holds too few threads; the bung's card is clicked: finding gone, full bore."""
    assert "threads-few" in {f.code for f in fed.session.findings}
    station = shaded(qtbot, fed)
    card = next(c for c in station.cards if c.name == "weld bung")
    assert "12.29" in card.figures.text()
    qtbot.mouseClick(card.button, LEFT)
    assert fed.session.line.drain.fitting.means == "weld bung"
    assert not {"threads-few", "small-fitting"} & {f.code for f in fed.session.findings}
    assert card.button.text() == "In use"


def test_a_way_in_use_in_another_size_is_offered_in_the_hoses(qtbot: QtBot, fed: MainWindow) -> None:
    """The demo is tapped 3/8 NPT, small for its -10 hose: the card of the same way offers the hose's own thread."""
    card = next(c for c in shaded(qtbot, fed).cards if c.property("chosen"))
    assert card.name == "tapped"
    assert card.button.text() == "Use this size"
    qtbot.mouseClick(card.button, LEFT)
    assert fed.session.line.drain.fitting.fitting_thread == "1/2 NPT"
    assert "small-fitting" not in {f.code for f in fed.session.findings}
    assert (card.button.text(), card.button.isEnabled()) == ("In use", False)


def test_another_wall_turns_the_fitting(qtbot: QtBot, fed: MainWindow) -> None:
    station = shaded(qtbot, fed)
    qtbot.mouseClick(station.sides.buttons()[1], LEFT)
    drain = fed.session.line.drain
    assert drain.fitting.heading_deg == 90.0
    assert drain.entry.y_mm == pytest.approx(128.0)


# --- breather and scavenge -------------------------------------------------------------------


def test_a_hose_size_is_clicked_on_the_breathers_chart(qtbot: QtBot, fed: MainWindow) -> None:
    fed.go_to("breather")
    station, canvas = fed.station, fed.station.canvas
    before = fed.session.evaluation.breathing.crankcase_pa.max()
    axes = breather_chart.chart_axes(canvas._halves()[1], station.choice, "metric")
    at = QPointF(axes.x(17.46), axes.rect.center().y())
    qtbot.mouseClick(canvas, LEFT, pos=at.toPoint())
    assert fed.session.plan.breather.hose_bore_mm == pytest.approx(17.46, abs=0.01)
    assert fed.session.evaluation.breathing.crankcase_pa.max() < before
    qtbot.keyClick(canvas, Qt.Key.Key_Left)
    assert fed.session.plan.breather.hose_bore_mm == pytest.approx(14.29, abs=0.01)


@pytest.mark.parametrize("one_way", [True, False])
@pytest.mark.parametrize("kind", ["catch can", "valve to intake", "can and valve", "typed"])
def test_what_can_be_typed_at_the_breather_is_what_changes_it(
    window: MainWindow, kind: str, one_way: bool
) -> None:
    """Each figure in sight makes another pressure or flow in some condition, each hidden one none."""
    window.session.replace(demo_plan("special"), None)
    window.session.edit("breather.kind", kind)
    window.session.edit("breather.one_way", one_way)
    window.go_to("breather")
    QApplication.processEvents()
    plan = window.session.plan
    before = breathing(plan)
    for made in window.station.canvas.fields.fields:
        path = made.spot.path
        now = paths.get(plan, path)
        after = breathing(
            paths.put(plan, path, 0.7 * now.value if hasattr(now, "value") else 0.7 * now + 2.0)
        )
        moved = any(
            not np.allclose(getattr(before, f), getattr(after, f), rtol=1e-9, atol=1e-12)
            for f in ("crankcase_pa", "blow_by_m3_s", "can_m3_s", "intake_m3_s")
        )
        assert made.isVisible() == moved, path
    hose = plan.breather.hose_bore_mm
    QTest.keyClick(window.station.canvas, Qt.Key.Key_Right)
    assert (window.session.plan.breather.hose_bore_mm != hose) == ("can" in kind)


def test_a_plain_valve_is_found_and_the_box_cures_it(qtbot: QtBot, window: MainWindow) -> None:
    window.session.replace(demo_plan("special"), None)
    assert "boost-back" in {f.code for f in window.session.findings}
    window.go_to("breather")
    qtbot.mouseClick(
        window.station.one_way,
        LEFT,
        pos=window.station.one_way.rect().center()
        - window.station.one_way.rect().center()
        + QPointF(8, 10).toPoint(),
    )
    assert window.session.plan.breather.one_way
    assert "boost-back" not in {f.code for f in window.session.findings}


def test_the_way_home_is_chosen_by_card_and_key(qtbot: QtBot, window: MainWindow) -> None:
    window.session.replace(demo_plan("special"), None)
    window.go_to("scavenge")
    canvas = window.station.canvas
    card = scavenge_chart.card_rect(canvas._parts()[0], 0)
    qtbot.mouseClick(canvas, LEFT, pos=card.center().toPoint())
    assert window.session.line.drain_by == "gravity"
    assert "freeboard" in {f.code for f in window.session.findings if f.severity == "bad"}
    qtbot.keyClick(canvas, Qt.Key.Key_Right)
    assert window.session.line.drain_by == "scavenge"
    assert "takes" in next(s for s in window.rail.stops if s.name == "Scavenge").headline


def test_keys_walk_the_whole_path(qtbot: QtBot, window: MainWindow) -> None:
    """Ctrl+PgDown from the first station reaches the last, past the ten that have numbers; PgUp comes back."""
    from gravidon.desk.stations import STATIONS

    window.go_to(STATIONS[0].key)
    control = Qt.KeyboardModifier.ControlModifier
    for station in STATIONS[1:]:
        qtbot.keyClick(window, Qt.Key.Key_PageDown, control)
        assert window.station.key == station.key
    qtbot.keyClick(window, Qt.Key.Key_PageUp, control)
    assert window.station.key == STATIONS[-2].key


def test_a_thicker_wire_by_the_choice(qtbot: QtBot, window: MainWindow) -> None:
    window.session.replace(demo_plan("special"), None)
    window.go_to("scavenge")
    assert "wire-thin" in {f.code for f in window.session.findings}
    window.station.gauge.textActivated.emit("10 AWG")
    assert not {"wire-thin", "fuse"} & {f.code for f in window.session.findings}
    for box in window.station.ticks.values():
        assert box.isChecked()


# --- attitude --------------------------------------------------------------------------------


def test_the_dial_answers_the_mouse_and_chooses(qtbot: QtBot, fed: MainWindow) -> None:
    fed.go_to("attitude")
    station = fed.station
    qtbot.waitUntil(lambda: station.fresh, timeout=10_000)
    assert "uphill" in station.words.text() or "seal" in station.words.text()
    dial = envelope_chart.Dial(station.canvas.area)
    QTest.mouseMove(station.canvas, dial.at(0.0, 0.9).toPoint())
    qtbot.waitUntil(lambda: "kept dry by boost" in station.words.text())
    i = fed.session.evaluation.names.index("hard right")
    dial = envelope_chart.Dial(station.canvas.area)
    qtbot.mouseClick(station.canvas, LEFT, pos=dial.at(0.0, -0.6).toPoint())
    assert fed.session.condition == i


def test_the_shipped_drive_is_replayed_with_its_spells(qtbot: QtBot, fed: MainWindow) -> None:
    fed.go_to("attitude")
    station = fed.station
    station.open_demo()
    qtbot.waitUntil(lambda: not station.busy, timeout=30_000)
    rows = [station.spells.item(k).text() for k in range(station.spells.count())]
    assert any("left turn" in row for row in rows)
    assert all("km" in row for row in rows)
    first = station.drive
    # less oil in the pan: the drive is replayed by itself and stays dry for longer
    fed.session.edit("sump.fill_l", 3.6)
    qtbot.waitUntil(lambda: station.drive is not first and not station.busy, timeout=30_000)
    assert len(station.drive.spells) < len(rows)


def test_a_long_replay_can_be_cancelled(qtbot: QtBot, fed: MainWindow) -> None:
    from gravidon.plan.drive_log import DriveLog

    t = np.arange(0.0, 1200.0, 0.02)
    one = np.ones_like(t)
    fed.go_to("attitude")
    fed.station.take(DriveLog("long", t, 0 * t, 0.5 * one, 4000 * one, 378 * one, None, None, (), 0))
    assert fed.station.cancel_button.isVisible()
    qtbot.mouseClick(fed.station.cancel_button, LEFT)
    assert not fed.station.job.busy
    assert not fed.station.cancel_button.isVisible()


def test_columns_are_mapped_and_bad_rows_told(
    qtbot: QtBot, fed: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A log with foreign headings: unreadable as guessed, said so; mapped, taken; its bad row is listed."""
    path = tmp_path / "mine.csv"
    path.write_text(
        "t,fwd acc,side acc,n,oil\n0,0,0,3000,100\n1,0,x,3000,100\n2,0,0.1,3000,100\n3,0,0.1,3000,100\n"
    )
    dialog = LogDialog(path.read_text(), path.name, fed)
    qtbot.addWidget(dialog)
    dialog.columns["time"].setCurrentText(NONE)
    dialog._read()
    assert "time" in dialog.problem.text().lower()
    for key, column in (("time", "t"), ("ax", "fwd acc"), ("ay", "side acc"), ("rpm", "n"), ("oil", "oil")):
        dialog.columns[key].setCurrentText(column)
    dialog.units["ay"].setCurrentText("−g")
    monkeypatch.setattr("gravidon.desk.log_dialog.sure", lambda *_: True)  # a quarter of its rows fall out
    dialog._read()
    assert dialog.log is not None
    assert dialog.log.left_g[-1] == pytest.approx(-0.1)
    fed.go_to("attitude")
    fed.station.take(dialog.log)
    assert "line 3" in fed.notice.text()
    qtbot.waitUntil(lambda: not fed.station.busy, timeout=10_000)
    assert any("line 3" in fed.station.spells.item(k).text() for k in range(fed.station.spells.count()))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "none.csv"), ""))
    fed.station.open_log()
    assert "none.csv" in fed.notice.text()


def test_the_shipped_drives_columns_are_guessed(qtbot: QtBot, fed: MainWindow) -> None:
    dialog = LogDialog(demo_drive(), "hill-road.csv", fed)
    qtbot.addWidget(dialog)
    assert dialog.columns["pressure"].currentText() == "oil_press_kPa"
    assert len(dialog.mapping()) == 7
