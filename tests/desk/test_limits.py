# SPDX-License-Identifier: GPL-3.0-or-later
"""Limits in the window: each that can be judged has a field, and the card of a finding leads to its own."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QComboBox, QLabel
from pytestqt.qtbot import QtBot

from gravidon.desk.form import LimitsDialog, limit_groups, numbers_of
from gravidon.desk.window import MainWindow
from gravidon.plan import paths
from gravidon.plan.model import Needs, Window
from gravidon.plan.things import THINGS
from gravidon.study.judge.table import TABLE


def dialog(window: MainWindow) -> LimitsDialog:
    found = [d for d in window.findChildren(LimitsDialog) if d.isVisible()]
    assert len(found) == 1
    return found[0]


def test_every_limit_of_the_table_has_a_field(qtbot: QtBot, window: MainWindow) -> None:
    """All needs, the whole window, and whatever else a quantity is judged against."""
    window.edit_limits()
    fields = set(dialog(window).fields)
    assert {f"needs.{n}" for n in Needs.model_fields} <= fields
    assert {f"line.turbo.window.{n}" for n in numbers_of(Window)} <= fields
    assert {q.limit for q in TABLE if isinstance(q.limit, str)} <= fields
    assert numbers_of(Needs) == tuple(Needs.model_fields)


def test_a_limit_is_typed_and_judged_at_once(qtbot: QtBot, window: MainWindow) -> None:
    """Typing a freeboard of 60 mm brings the seals' finding into every condition that lasts; undo takes it back."""
    window.edit_limits("needs.freeboard_mm")
    field = dialog(window).fields["needs.freeboard_mm"]
    assert dialog(window).focusWidget() is field
    QTest.keyClicks(field, "60 mm")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert window.session.plan.needs.freeboard_mm.value == 60.0
    short = next(f for f in window.session.findings if f.code == "freeboard")
    lasting = sum(c.duration_s == 0.0 for c in window.session.plan.conditions)
    assert len(short.also) + len(short.less) + 1 == lasting
    window.session.undo()
    assert window.session.plan.needs.freeboard_mm.value != 60.0


def test_nonsense_is_refused_by_name_and_nothing_is_lost(qtbot: QtBot, window: MainWindow) -> None:
    window.edit_limits()
    made = dialog(window)
    for path, field in made.fields.items():
        before = paths.number(window.session.plan, window.session.resolve(path))
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, "no number")
        QTest.keyClick(field, Qt.Key.Key_Return)
        assert paths.number(window.session.plan, window.session.resolve(path)) == before
        assert made.problem.text(), path
        QTest.keyClick(field, Qt.Key.Key_Escape)


def test_the_card_of_a_finding_leads_to_its_limit(qtbot: QtBot, window: MainWindow) -> None:
    window.toggle_findings()
    while not window.findings.cards or not window.findings.cards[0].finding.limit_path:
        window.findings.step(1)
    card = window.findings.cards[0]
    links = [label for label in card.findChildren(QLabel) if "change it" in label.text()]
    assert len(links) == 1
    links[0].linkActivated.emit("limit")
    made = dialog(window)
    assert made.focusWidget() is made.fields[card.finding.limit_path]


def test_groups_follow_the_stations(window: MainWindow) -> None:
    names = [name for name, _ in limit_groups(window.session)]
    assert names == sorted(
        names,
        key=[s.name for s in __import__("gravidon.desk.stations", fromlist=["STATIONS"]).STATIONS].index,
    )
    every = [path for _, limits in limit_groups(window.session) for path in limits]
    assert len(every) == len(set(every))


def test_a_thing_beside_the_hose_can_be_made_another_kind(qtbot: QtBot, window: MainWindow) -> None:
    """The choice offers every kind there is a record of."""
    window.go_to("drain")
    window.station.select("shape 1")
    kinds = [c for c in window.station.editor.findChildren(QComboBox) if c.accessibleName() == "Kind"]
    assert [kinds[0].itemText(k) for k in range(kinds[0].count())] == list(THINGS)


@pytest.mark.parametrize(
    ("station", "path"),
    [
        ("car", "line.turbo.film_share"),
        ("drain", "line.drain.flange_length_mm"),
        ("entry", "line.drain.fitting.heading_deg"),
    ],
)
def test_no_number_of_the_line_is_out_of_reach(window: MainWindow, station: str, path: str) -> None:
    from gravidon.desk.value_field import ValueField

    window.go_to(station)
    assert path in {f.path for f in window.station.findChildren(ValueField)}
