# SPDX-License-Identifier: GPL-3.0-or-later
"""What the window puts into a plan: never what was typed for another that stood there before, never what a plan cannot say."""

from __future__ import annotations

import pytest
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit

from gravidon.desk.value_field import ValueField
from gravidon.desk.window import MainWindow
from gravidon.errors import InputError
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.model import Plan
from gravidon.plan.storage import plan_from_text, plan_to_text

PIECES = "turbos.0.drain.pieces"


def renamed(plan: Plan, words: str) -> Plan:
    """The plan with other names for its hose ends, its things and its tap."""
    for k in range(len(paths.get(plan, PIECES))):
        plan = paths.put(plan, f"{PIECES}.{k}.label", f"{words} end {k}")
    for k in range(len(plan.shapes)):
        plan = paths.put(plan, f"shapes.{k}.label", f"{words} thing {k}")
    return paths.put(plan, f"taps.{plan.tap}.label", f"{words} tap")


def named(window: MainWindow, name: str) -> QLineEdit:
    """The first field in sight of that name, with the keyboard in it."""
    field = next(
        f for f in window.station.findChildren(QLineEdit) if f.accessibleName() == name and f.isVisible()
    )
    field.setFocus()
    QApplication.processEvents()
    assert field.hasFocus()
    return field


def leave(window: MainWindow) -> None:
    """The keyboard goes elsewhere, as by a click."""
    window.rail.setFocus()
    QApplication.processEvents()


def at_a_name(window: MainWindow, station: str, name: str) -> QLineEdit:
    window.go_to(station)
    if name == "Name of the thing":
        canvas = window.station.canvas
        canvas.setFocus()
        window.station.select(next(h for h in canvas.picture().handles if h.startswith("shape")))
        QApplication.processEvents()
    return named(window, name)


NAMES = (
    ("drain", "Name of the hose end"),
    ("tap", "Name of the tap"),
    ("drain", "Name of the thing"),
)


@pytest.mark.parametrize("typed", ["", "typed before"])
@pytest.mark.parametrize(("station", "name"), NAMES)
def test_a_name_is_not_written_into_a_plan_that_was_opened_meanwhile(
    window: MainWindow, station: str, name: str, typed: str
) -> None:
    """The keyboard is in the name while another plan is opened from a dialog, which takes no focus for good."""
    field = at_a_name(window, station, name)
    if typed:
        field.selectAll()
        QTest.keyClicks(field, typed)
    for other in (renamed(demo_plan("estate"), "other"), demo_plan("coupe"), demo_plan("van")):
        window.session.replace(other, None)
        QApplication.processEvents()
        leave(window)
        assert window.session.plan == other
        window.session.undo()
        assert window.session.plan == other


@pytest.mark.parametrize(("station", "name"), NAMES)
def test_a_name_is_typed_and_taken_back(window: MainWindow, station: str, name: str) -> None:
    """Typed and left: renamed. Undone from the menu while the keyboard is in the field: the old name, and it stays."""
    before = window.session.plan
    field = at_a_name(window, station, name)
    field.selectAll()
    QTest.keyClicks(field, "my own name")
    leave(window)
    assert "my own name" in window.session.plan.model_dump_json()
    field = named(window, name) if name != "Name of the thing" else at_a_name(window, station, name)
    assert field.text() == "my own name"
    window.session.undo()
    QApplication.processEvents()
    leave(window)
    assert window.session.plan == before


def test_a_figure_is_not_written_into_a_plan_that_was_opened_meanwhile(window: MainWindow) -> None:
    window.go_to("restrictor")
    field = next(
        f for f in window.station.findChildren(ValueField) if f.path.endswith("bore_mm") and f.isVisible()
    )
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "1.7")
    window.session.replace(demo_plan("coupe"), None)
    QApplication.processEvents()
    leave(window)
    assert window.session.plan == demo_plan("coupe")
    assert "1.7" not in field.text()


@pytest.mark.parametrize(
    "path", ["turbos.7.restrictor.bore_mm", f"{PIECES}.9.label", "sump.nothing", "taps.x.label"]
)
def test_a_place_that_a_plan_has_not_is_refused_by_name(window: MainWindow, path: str) -> None:
    with pytest.raises(InputError, match=path):
        paths.put(demo_plan("estate"), path, 1.0)
    said: list[str] = []
    window.session.refused.connect(said.append)
    assert not window.session.edit(path, 1.0)
    assert path in said[0]


@pytest.mark.parametrize(
    ("station", "method", "given"),
    [
        ("entry", "to_wall", ("left",)),
        ("drain", "add_bend", ()),
        ("drain", "add_shape", ("hot",)),
        ("sump", "add_box", ()),
        ("tap", "_place", (True,)),
    ],
)
def test_what_would_lie_further_off_than_a_plan_may_say_is_refused(
    window: MainWindow, station: str, method: str, given: tuple[object, ...]
) -> None:
    """A car measured from far away: pan, turbo and tap stand at the end of what may be written."""
    plan = demo_plan("estate")
    turbo = plan.turbos[0]
    for path, value in (
        ("sump.boxes.0.corner.x_mm", 2900.0 - plan.sump.boxes[0].length_mm),
        ("sump.boxes.0.corner.y_mm", 2999.0),
        ("sump.boxes.0.length_mm", plan.sump.boxes[0].length_mm + 101.0),
        (
            "turbos.0.turbo.drain_flange",
            turbo.turbo.drain_flange.model_copy(update={"x_mm": 2990.0, "y_mm": 2999.0}),
        ),
        ("turbos.0.drain.entry", turbo.drain.entry.model_copy(update={"y_mm": 2999.0, "x_mm": 2900.0})),
    ):
        plan = paths.put(plan, path, value)
    window.session.replace(plan, None)
    said: list[str] = []
    window.session.refused.connect(said.append)
    window.go_to(station)
    QApplication.processEvents()
    getattr(window.station, method)(*given)
    QApplication.processEvents()
    assert plan_from_text(plan_to_text(window.session.plan)) == window.session.plan
    assert (window.session.plan == plan) == bool(said)
