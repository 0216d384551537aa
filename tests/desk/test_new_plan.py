# SPDX-License-Identifier: GPL-3.0-or-later
"""New plan with keys alone: Return goes on, Tab comes to Next, what was typed stays and comes back."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit
from pytestqt.qtbot import QtBot

from gravidon.desk.first_plan import FirstPlan
from gravidon.plan import paths
from gravidon.plan.starter import Answers, ThingInTheWay, new_plan, with_turbo_kind
from gravidon.study.verdict.trials import trial


def shown(qtbot: QtBot, draft: Path) -> FirstPlan:
    dialog = FirstPlan("imperial", draft=draft)
    qtbot.addWidget(dialog)
    dialog.show()
    dialog.activateWindow()
    qtbot.waitUntil(dialog.isActiveWindow)
    return dialog


def test_return_goes_on_from_every_field_of_every_page(qtbot: QtBot, tmp_path: Path) -> None:
    """A real key in each field: the next page, never Cancel; on the last page the plan."""
    dialog = shown(qtbot, tmp_path / "draft")
    for number in range(dialog.pages.count() - 1):
        fields = dialog.pages.widget(number).findChildren(QLineEdit) or [dialog.next_button]
        for field in fields:
            dialog.show_page(number)
            field.setFocus()
            QTest.keyClick(field, Qt.Key.Key_Return)
            assert dialog.isVisible()
            assert dialog.pages.currentIndex() == number + 1, field.accessibleName()
    dialog.show_page(dialog.pages.count() - 1)
    QTest.keyClick(QApplication.focusWidget() or dialog, Qt.Key.Key_Return)
    assert dialog.plan is not None


def test_after_the_last_field_tab_comes_to_next(qtbot: QtBot, tmp_path: Path) -> None:
    dialog = shown(qtbot, tmp_path / "draft")
    for number in (0, 1, 2, 3):
        dialog.show_page(number)
        seen = []
        for _ in range(14):
            focus = QApplication.focusWidget()
            if focus in (dialog.next_button, dialog.cancel_button, dialog.back_button, dialog.now_button):
                break
            seen.append(focus)
            QTest.keyClick(focus, Qt.Key.Key_Tab)
        assert QApplication.focusWidget() is dialog.next_button, number
        assert len(seen) >= 4


def test_what_was_typed_comes_back_after_cancel_and_after_a_crash(qtbot: QtBot, tmp_path: Path) -> None:
    draft = tmp_path / "draft"
    first = shown(qtbot, draft)
    QTest.keyClicks(first.idle, "18 psi")
    first.tapes["over_rail_mm"][1].setText("240 mm")
    first.part_line.setText("2x -10 45")
    first._add_line()
    first.cooling.choose("water")
    first.wonts[0][1].setChecked(True)
    first.things.item(0, 2).setText("3 in")
    first._preview()  # as the timer does; then the program is killed, or Cancel
    assert draft.stat().st_mode & 0o777 == 0o600
    again = shown(qtbot, draft)
    assert again.state() == first.state()
    assert again.idle.text() == "18 psi"
    assert again.blank_button.isVisible()
    again.clear()
    assert again.state() == again.blank
    draft.write_text("{ damaged")
    assert shown(qtbot, draft).idle.text() == ""
    first.reject()
    made = shown(qtbot, draft)
    made._make()
    assert made.plan is not None
    assert not draft.exists(), "a plan was made of it"


def test_numbers_are_stored_as_typed(qtbot: QtBot, tmp_path: Path) -> None:
    """240 mm, -210 mm, 4 mm, 4.5 L typed in an inch window are these very figures in the plan."""
    dialog = shown(qtbot, tmp_path / "draft")
    for name, text in (
        ("over_rail_mm", "240 mm"),
        ("out_mm", "-210 mm"),
        ("wall_mm", "4 mm"),
        ("fill_l", "4.5 L"),
    ):
        field = dialog.tapes[name][1]
        field.setText(text)
        field.editingFinished.emit()
    made = dialog._answers()
    assert (made.over_rail_mm, made.out_mm, made.wall_mm, made.fill_l) == pytest.approx(
        (240.0, -210.0, 4.0, 4.5), abs=1e-9
    )
    assert not made.gauge, "a pressure that nobody typed was read by nobody"


def test_a_line_of_parts_adds_them_and_stays_on_the_page(qtbot: QtBot, tmp_path: Path) -> None:
    dialog = shown(qtbot, tmp_path / "draft")
    dialog.show_page(5)
    QTest.keyClicks(dialog.part_line, "2x -10 45, 24 in -10, feed kit")
    QTest.keyClick(dialog.part_line, Qt.Key.Key_Return)
    assert dialog.pages.currentIndex() == 5
    assert [o.count for o in dialog.owned][:2] == [2.0, pytest.approx(0.6096)]
    assert len(dialog.owned) == 5
    QTest.keyClicks(dialog.part_line, "unobtainium")
    QTest.keyClick(dialog.part_line, Qt.Key.Key_Return)
    assert "unobtainium" in dialog.problem.text()
    assert dialog.part_line.text() == "unobtainium"
    dialog.part_line.clear()
    QTest.keyClick(dialog.part_line, Qt.Key.Key_Return)
    assert dialog.pages.currentIndex() == 6


def test_cooling_is_asked_or_the_worse_one_assumed_and_told(qtbot: QtBot, tmp_path: Path) -> None:
    """Left open, the window's plan is cooled by oil alone, whatever the bearing, and says that nobody knows; answered, it is as answered."""
    dialog = shown(qtbot, tmp_path / "draft")
    for bearing in ("ball", "journal"):
        dialog.bearing.choose(bearing)
        dialog.cooling.choose("not known")
        plan = dialog._planned("x")
        assert plan.turbos[0].turbo.cooling == "oil only"
        assert "how the turbo is cooled" in paths.unseen(plan)
        dialog.cooling.choose("water")
        plan = dialog._planned("x")
        assert plan.turbos[0].turbo.cooling == "water"
        assert "how the turbo is cooled" not in paths.unseen(plan)
    other = with_turbo_kind(new_plan("x", Answers()), "ball", "medium")
    assert other.turbos[0].turbo.cooling == "oil only", "another bearing brings no water"


@pytest.mark.parametrize("side", ["right", "left", "front", "rear"])
def test_a_turbo_on_any_side_drains_into_the_wall_it_faces(side: str) -> None:
    """The entry lies in that wall, the drain comes down from outside it, a thing in the way stands on that side; its verdict is computed."""
    plan = new_plan(
        "x", Answers(side=side, cooling="water", things=(ThingInTheWay("bar", "solid", 300, 0, 25, 25),))
    )  # type: ignore[arg-type]
    box, drain = plan.sump.boxes[0], plan.turbos[0].drain
    low = (box.corner.x_mm, box.corner.y_mm)
    high = (low[0] + box.length_mm, low[1] + box.width_mm)
    axis, wall, out = {
        "right": (1, low, -1),
        "left": (1, high, 1),
        "front": (0, high, 1),
        "rear": (0, low, -1),
    }[side]
    entry, flange = (drain.entry.x_mm, drain.entry.y_mm), plan.turbos[0].turbo.drain_flange
    assert entry[axis] == pytest.approx(wall[axis])
    assert out * ((flange.x_mm, flange.y_mm)[axis] - entry[axis]) == pytest.approx(130.0)
    bar = plan.shapes[0]
    near = (bar.corner.x_mm, bar.corner.y_mm)[axis] + (
        0.0 if out > 0 else (bar.length_mm, bar.width_mm)[axis]
    )
    assert out * (near - wall[axis]) == pytest.approx(300.0)
    assert not any(f.code == "route" for f in trial(plan).findings)


def test_twins_a_tap_and_readings_of_their_own_are_asked() -> None:
    plan = new_plan(
        "x", Answers(turbos=2, tap="gallery plug", tap_thread="1/8 BSPT", idle_rpm=900.0, idle_oil_c=95.0, speed_read=False)
    )  # fmt: skip
    assert len(plan.turbos) == 2
    assert plan.taps[0].port_thread == plan.taps[0].fitting_thread == "1/8 BSPT"
    first, second = plan.engine.readings
    assert (first.rpm, first.oil_temperature_c, first.basis, second.basis) == (
        900.0,
        95.0,
        "measured",
        "guess",
    )
