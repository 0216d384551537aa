# SPDX-License-Identifier: GPL-3.0-or-later
"""The face: verdict, whole way, chapters, flags, fields in pictures, keys, units, search."""

from __future__ import annotations

import re

import numpy as np
import pytest
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel
from pytestqt.qtbot import QtBot

from gravidon.desk import session as session_module
from gravidon.desk import theme
from gravidon.desk.commands import CommandSearch
from gravidon.desk.dialogs import WelcomeDialog
from gravidon.desk.findings_pane import RemedyButton
from gravidon.desk.first_plan import FirstPlan
from gravidon.desk.flags import Flag
from gravidon.desk.stations import CHAPTERS, STATIONS
from gravidon.desk.stations.whole import PREFIXES
from gravidon.desk.value_field import ValueField
from gravidon.desk.window import MainWindow
from gravidon.draw.whole_way_words import NAMES
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.starter import Answers, new_plan
from gravidon.plan.units import FAMILIES, family_of, parts_of, show
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.verdict.certainty import certainty
from gravidon.study.verdict.report import verdict_words
from gravidon.study.verdict.trials import trial

LEFT = Qt.MouseButton.LeftButton
CONTROL = Qt.KeyboardModifier.ControlModifier


def field(window: MainWindow, path: str) -> ValueField:
    return next(f for f in window.station.findChildren(ValueField) if f.path == path)


def remedied(qtbot: QtBot, window: MainWindow) -> None:
    qtbot.waitUntil(lambda: window.session.remedies_done, timeout=30_000)


# --- the verdict -----------------------------------------------------------------------------


def test_the_verdict_is_the_largest_thing_in_sight(window: MainWindow) -> None:
    """Its type is larger than any other on the page, its ground has its colour, its detail names value and condition."""

    sizes = {w: w.fontInfo().pixelSize() for w in window.findChildren(QLabel) if w.isVisible()}
    assert sizes[window.sentence] == max(sizes.values())
    assert [w for w, s in sizes.items() if s == sizes[window.sentence]] == [window.sentence]
    assert window.band.property("verdict") == "fails"
    assert "full load" in window.band.detail.text()
    assert "°C" in window.band.detail.text()


def test_the_next_thing_is_offered_with_its_key(qtbot: QtBot, window: MainWindow) -> None:
    remedied(qtbot, window)
    assert "Ctrl+Return" in window.band.next_words.text()
    button = window.band.findChildren(RemedyButton)[-1]
    before = {f.key for f in window.session.findings if f.severity == "bad"}
    qtbot.keyClick(window, Qt.Key.Key_Return, CONTROL)
    assert {f.key for f in window.session.findings if f.severity == "bad"} < before
    assert button.remedy.plan == window.session.plan


def test_a_plan_that_holds_says_how_near_and_what_next(qtbot: QtBot, window: MainWindow) -> None:
    window.session.replace(demo_plan("coupe"), None)
    assert window.sentence.text().startswith("Passes in all")
    assert "Nearest to a limit" in window.band.detail.text()
    window.band.went.emit("guesses")
    assert window.station.key == "guesses"


def test_the_chance_comes_beside_the_word_and_goes_with_the_plan(
    qtbot: QtBot, window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    s = window.session
    shown: list[int] = []
    s.chance_changed.connect(lambda: shown.append(s.chance.samples))
    monkeypatch.setattr(session_module, "LEAST_SAMPLES", 3)
    monkeypatch.setattr(session_module, "chance", lambda plan: certainty(plan, 4))
    s.replace(paths.put(demo_plan("coupe"), "name", "sampled"), None)
    assert "within what is not measured" not in window.band.rests.text()
    remedied(qtbot, window)
    with qtbot.waitSignal(s._sampling.ended, timeout=60_000):
        pass
    assert re.match("Fails in (none|[1-4]) of 4 ", window.band.rests.text())
    assert "of 4" not in window.band.told
    assert min(shown) >= 3  # one car that fails is no chance
    s.edit("line.restrictor.bore_mm", 0.4)
    assert "within what is not measured" not in window.band.rests.text()


def test_what_nobody_looked_at_is_in_the_first_lines() -> None:
    """A first plan's thread, place and pan are inventions until they are typed."""
    plan = new_plan("p", Answers())
    said = verdict_words(evaluate(plan), trial(plan).findings, "metric")
    for words in ("the thread at the tap", "the turbo's place", "the pan"):
        assert words in said.rests
    seen = paths.with_seen(paths.with_seen(plan, "taps.0.port_thread"), "sump.boxes.0.length_mm")
    said = verdict_words(evaluate(seen), trial(seen).findings, "metric")
    assert "the thread at the tap" not in said.rests
    assert "the pan" not in said.rests.replace("the thread in the pan", "")
    old = demo_plan()
    assert "Nobody looked" not in verdict_words(evaluate(old), trial(old).findings, "metric").rests


def test_typing_a_value_is_looking_at_it(qtbot: QtBot, window: MainWindow) -> None:
    window.session.replace(new_plan("p", Answers()), None)
    window.go_to("entry")
    made = field(window, "line.drain.entry.z_mm")
    assert made.property("guess") is True
    made.setFocus()
    made.selectAll()
    QTest.keyClicks(made, "35 under")
    QTest.keyClick(made, Qt.Key.Key_Return)
    assert window.session.plan.turbos[0].drain.entry.z_mm == -35.0
    assert made.property("guess") is False
    assert "turbos.0.drain.entry.z_mm" in (window.session.plan.seen or ())


# --- the whole way ---------------------------------------------------------------------------


def test_every_station_is_entered_from_its_place(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("whole")
    canvas = window.station.canvas
    QApplication.processEvents()
    canvas.grab()
    keys = {p.key for p in canvas.picture.places}
    assert {"car", "tap", "feed", "restrictor", "seat", "drain", "entry", "sump", "breather"} <= keys
    assert keys <= set(NAMES)
    place = next(p for p in canvas.picture.places if p.key == "seat")
    qtbot.mouseClick(canvas, LEFT, pos=place.rect.center().toPoint())
    assert window.station.key == "seat"


def test_faults_hang_in_the_picture_and_open_in_place(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("whole")
    canvas = window.station.canvas
    canvas.grab()
    shown = {key for key, _ in canvas.picture.flags}
    bad = {f.key for f in window.session.findings if f.severity == "bad"}
    assert bad <= shown
    key, rect = canvas.picture.flags[0]
    qtbot.mouseClick(canvas, LEFT, pos=rect.center().toPoint())
    assert window.station.card is not None
    assert window.station.card.card.finding.key == key
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    assert window.station.card is None


def test_the_picture_is_walked_by_keys(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("whole")
    canvas = window.station.canvas
    canvas.grab()
    canvas.setFocus()
    qtbot.keyClick(canvas, Qt.Key.Key_Right)
    first = canvas.chosen
    qtbot.keyClick(canvas, Qt.Key.Key_Right)
    assert canvas.chosen != first
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    assert window.station.key == canvas.chosen


def test_guesses_are_counted_where_they_belong(window: MainWindow) -> None:
    """Every guess is counted at one station, but for the shop's own limits, which belong to none."""
    window.go_to("whole")
    counted = sum(window.station.guesses().values())
    loose = [
        s for _, s in window.session.evaluation.short_guesses if not any(s.startswith(p) for p, _ in PREFIXES)
    ]
    assert counted + len(loose) == len(window.session.evaluation.short_guesses)
    assert all(s.startswith(("needs.", "trunk.", "parts.", "turbos.", "taps.")) for s in loose), loose


def test_a_remedy_under_the_mouse_is_drawn_as_a_ghost(qtbot: QtBot, window: MainWindow) -> None:
    remedied(qtbot, window)
    window.go_to("whole")
    canvas = window.station.canvas
    before = canvas.grab().toImage()
    button = window.band.findChildren(RemedyButton)[-1]
    button.enterEvent(None)
    assert window.session.ghost is not None
    assert window.session.ghost.plan == button.remedy.plan
    assert canvas.grab().toImage() != before
    button.leaveEvent(None)
    assert window.session.ghost is None
    assert canvas.grab().toImage() == before


# --- rail, flags, list -----------------------------------------------------------------------


def test_chapters_open_where_one_is(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("drain")
    rail = window.rail
    assert rail.open_chapter == 0
    heads = [rail.head_rect(c) for c in range(len(CHAPTERS))]
    qtbot.mouseClick(rail, LEFT, pos=heads[1].center().toPoint())
    assert STATIONS[window.stack.currentIndex()].chapter == 1
    assert rail.open_chapter == 1
    assert all(rail.row_rect(k).height() >= 24 for k, s in enumerate(STATIONS) if s.chapter == 1)


def test_no_key_shifts_and_none_is_used_twice() -> None:
    keys = [s.shortcut for s in STATIONS if s.shortcut]
    assert len(keys) == len(set(keys))
    known = {
        "car": "Ctrl+1",
        "tap": "Ctrl+2",
        "restrictor": "Ctrl+4",
        "drain": "Ctrl+7",
        "breather": "Ctrl+0",
    }
    assert {s.key: s.shortcut for s in STATIONS if s.key in known} == known


def test_a_flag_opens_with_reason_limit_and_remedies(qtbot: QtBot, window: MainWindow) -> None:
    remedied(qtbot, window)
    window.go_to("restrictor")
    flag = window.station.findChildren(Flag)[0]
    qtbot.mouseClick(flag, LEFT)
    card = window.station.flags.open
    assert card is not None
    assert card.findChildren(RemedyButton)
    words = " ".join(
        label.text() for label in card.findChildren(__import__("PyQt6.QtWidgets", fromlist=["QLabel"]).QLabel)
    )
    assert "The limit is" in words
    assert "cp" not in words.split()
    qtbot.keyClick(window.station, Qt.Key.Key_Escape)
    assert window.station.flags.open is None


def test_the_whole_list_is_one_key_away(qtbot: QtBot, window: MainWindow) -> None:
    assert window.findings.isHidden()
    qtbot.keyClick(window, Qt.Key.Key_F9)
    assert not window.findings.isHidden()
    grave = [f for f in window.session.findings if f.severity != "note"]
    assert len(window.findings.lines) == len(grave)  # notes are folded
    qtbot.mouseClick(window.findings.lines[0], LEFT)
    assert [c.finding for c in window.findings.cards] == grave[:1]
    qtbot.keyClick(window, Qt.Key.Key_F9)
    assert window.findings.isHidden()


# --- fields in pictures ----------------------------------------------------------------------


@pytest.mark.parametrize("key", ["seat", "sump", "entry", "breather", "scavenge", "tap"])
@pytest.mark.parametrize("size", [(1024, 700), (1280, 800), (1920, 1080)])
def test_every_value_of_a_picture_has_its_place(window: MainWindow, key: str, size: tuple[int, int]) -> None:
    """All fields are in sight, inside their drawing, none over another; in plans with flags over the drawing and without."""
    window.resize(*size)
    for name, one_way in (
        ("coupe", True),
        ("estate", True),
        ("van", True),
        ("special", False),
        ("special", True),
    ):
        window.session.replace(demo_plan(name), None)
        window.session.edit("breather.one_way", one_way)
        window.go_to(key)
        QApplication.processEvents()
        QApplication.processEvents()
        parts = (getattr(window.station, n, None) for n in ("canvas", "section", "along", "front"))
        drawings = [c for c in parts if c is not None and c.fields is not None]
        assert drawings
        for canvas in drawings:
            shown = [made for made in canvas.fields.fields if made.spot.there()]
            rects = [QRectF(made.geometry()) for made in shown]
            hidden = [made.spot.path for made in shown if not made.isVisible()]
            assert not hidden, name
            assert all(QRectF(canvas.rect()).contains(r) for r in rects)
            for k, one in enumerate(rects):
                assert not any(one.intersects(other) for other in rects[k + 1 :])
            assert all(made.field.height() >= 24 for made in shown)


def test_what_is_folded_says_how_much_is_guessed(window: MainWindow) -> None:
    window.go_to("seat")
    fold = window.station.fold
    assert fold.body.isHidden()
    assert "guess" in fold.line.text()
    fold.toggle()
    assert fold.body.isVisible()


@pytest.mark.parametrize(
    ("typed", "kept"),
    [
        ("120 right", -120.0),
        ("120 left", 120.0),
        ("right 120 mm", -120.0),
        ("-120", -120.0),
        ("+120", 120.0),
        ("130", -130.0),
    ],
)
def test_places_are_said_by_side(window: MainWindow, typed: str, kept: float) -> None:
    """Left and right by name; a bare number keeps the side it is on."""
    window.go_to("seat")
    window.station.fold.toggle()
    made = field(window, "line.turbo.drain_flange.y_mm")
    assert made.text().endswith("right")
    made.setFocus()
    made.selectAll()
    QTest.keyClicks(made, typed)
    QTest.keyClick(made, Qt.Key.Key_Return)
    assert window.session.plan.turbos[0].turbo.drain_flange.y_mm == kept


def test_a_pan_made_deeper_keeps_its_rail(window: MainWindow) -> None:
    box = window.session.plan.sump.boxes[0]
    rail = box.corner.z_mm + box.depth_mm
    assert window.session.edit("sump.boxes.0.depth_mm", box.depth_mm + 12.0)
    now = window.session.plan.sump.boxes[0]
    assert now.corner.z_mm + now.depth_mm == pytest.approx(rail)


def test_a_baffle_turned_stays_in_the_pan(window: MainWindow) -> None:
    window.go_to("sump")
    window.station.add_baffle()
    assert window.session.edit("sump.baffles.0.across", "left")
    baffle, box = window.session.plan.sump.baffles[0], window.session.plan.sump.boxes[0]
    assert box.corner.y_mm < baffle.at_mm < box.corner.y_mm + box.width_mm


# --- keys and search -------------------------------------------------------------------------


def test_undo_works_while_a_field_has_the_focus(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("drain")
    before = window.session.plan
    made = field(window, "line.drain.hose_bore_mm")
    made.setFocus()
    made.selectAll()
    QTest.keyClicks(made, "-12")
    QTest.keyClick(made, Qt.Key.Key_Return)
    assert window.session.plan != before
    QTest.keyClick(made, Qt.Key.Key_Z, CONTROL)
    assert window.session.plan == before


def test_window_keys_work_in_a_field(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("drain")
    made = field(window, "line.drain.hose_bore_mm")
    made.setFocus()
    family = window.session.family
    QTest.keyClick(made, Qt.Key.Key_U, CONTROL)
    assert window.session.family != family
    assert made.text() != ""


@pytest.mark.parametrize(
    ("words", "finds"),
    [
        ("smoke", "The whole way"),
        ("compare", "Tap"),
        ("bung", "Pan entry"),
        ("log", "On the road"),
        ("template", "Cut and drill"),
        ("orifice", "Restrictor"),
        ("pressure", "Car & turbo"),
    ],
)
def test_the_search_knows_the_builders_words(
    qtbot: QtBot, window: MainWindow, words: str, finds: str
) -> None:
    made = CommandSearch(window.book, window)
    qtbot.addWidget(made)
    made.line.setText(words)
    assert any(finds in made.list.item(k).text() for k in range(made.list.count()))


def test_the_search_says_when_nothing_is_found(qtbot: QtBot, window: MainWindow) -> None:
    made = CommandSearch(window.book, window)
    qtbot.addWidget(made)
    made.line.setText("zzz")
    assert "Nothing found" in made.list.item(0).text()
    made._go()
    assert made.list.count() == 1


def test_the_handbook_is_searched_beside_the_work(qtbot: QtBot, window: MainWindow) -> None:
    window.show_help()
    book = window.handbook
    assert book is not None
    book.line.setText("loose threads")
    book.line.setText("weld bung")
    assert book.found.count() > 0
    book._go(book.found.item(0))
    assert "bung" in book.text.toPlainText()
    book.line.setText("zzz")
    assert "Nothing found" in book.found.item(0).text()
    assert window.station.isVisible()
    book.close()


def test_a_note_on_a_done_step_is_kept(qtbot: QtBot, window: MainWindow) -> None:
    window.go_to("build")
    station = window.station
    station.tick()
    key = window.session.plan.build.done[0].step
    row = next(i for i, s in enumerate(station.steps) if s.key == key)
    station.list.setCurrentRow(row)
    station.note.setText("week 2: holds")
    station.note.editingFinished.emit()
    assert window.session.plan.build.done[0].note == "week 2: holds"
    assert len(window.session.plan.build.done) == 1


def test_a_message_moves_nothing(qtbot: QtBot, window: MainWindow) -> None:
    before = window.stack.geometry()
    window.say("Saved as x.")
    QApplication.processEvents()
    assert window.notice.isVisible()
    assert window.stack.geometry() == before


# --- units, colours, labels ------------------------------------------------------------------


def test_units_are_mixed_by_what_they_measure() -> None:
    """psi with mm and °C, as many workshop notes have it."""
    assert show(6894.757, "kpa", "psi mm C").endswith("psi")
    assert show(0.0127, "run", "psi mm C").endswith("mm")
    assert show(373.15, "degc", "psi mm C") == "100\u202f°C"
    for family in FAMILIES:
        assert family_of(*parts_of(family)) == family


def _light(hexed: str) -> float:
    parts = [c / 255 for c in QColor(hexed).getRgb()[:3]]
    red, green, blue = (c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in parts)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


@pytest.mark.parametrize("name", ["light", "dark"])
@pytest.mark.parametrize("verdict", ["good", "watch", "bad"])
def test_the_verdicts_ground_keeps_its_words_readable(name: str, verdict: str) -> None:
    """WCAG 2.1: at least 7 to 1 for the sentence, 4.5 to 1 for what is faint, on every verdict's ground."""
    p = theme.PALETTES[name]
    ground = _light(theme.mixed(p.paper, getattr(p, verdict)))
    for colour, least in ((p.ink, 7.0), (p.faint, 4.5), (p.focus, 4.5)):
        low, high = sorted((ground, _light(colour)))
        assert (high + 0.05) / (low + 0.05) >= least, (colour, ground)


def test_a_first_plan_is_seen_while_it_is_answered(qtbot: QtBot) -> None:
    made = FirstPlan("imperial")
    qtbot.addWidget(made)
    made.side.setCurrentText("left")
    made.speed.setText("55")
    made._preview()
    assert made.speed.text() == "55", "what is typed stays as it is typed"
    assert made.picture.evaluation.line.turbo.drain_flange.y_mm > 0
    made.speed.setText("nonsense")
    made._preview()
    assert "Oil pressure, hot at speed" in made.problem.text()
    welcome = WelcomeDialog([])
    qtbot.addWidget(welcome)
    welcome.show()
    assert welcome.grab().height() > 300


def test_a_drive_is_played_moment_by_moment(qtbot: QtBot, window: MainWindow) -> None:
    """The scrubber shows the drain under the accelerations of its moment; play runs on and pauses; a spell is gone to."""
    window.session.edit("turbos.0.restrictor.bore_mm", 2.2)
    window.go_to("attitude")
    station = window.station
    assert not station.scrubber.isVisible()
    station.open_demo()
    qtbot.waitUntil(lambda: not station.busy and station.scrubber.isVisible(), timeout=60_000)
    turns = [n for n, s in enumerate(station.drive.spells) if abs(s.left_g) > 0.3]
    station._to_spell(turns[0])
    spell = station.drive.spells[turns[0]]
    assert station.scrubber.value() == int(spell.start_s * 1000)
    station.seek(int(1000 * 0.5 * (spell.start_s + spell.end_s)))
    turned = station.film.moment.plan.conditions[0]
    assert abs(turned.left_g) > 0.3
    calm = int(np.abs(station.drive.left_g).argmin())
    station.scrubber.setValue(int(station.drive.time_s[calm] * 1000))
    level = station.film.moment
    told = float(station.drive.freeboard_m[calm])
    assert float(level.drainage.freeboard_m[0]) == pytest.approx(told, abs=2e-3)  # picture and words agree
    assert abs(level.plan.conditions[0].left_g) < 0.05
    before = station.scrubber.value()
    station.play_button.click()
    qtbot.waitUntil(lambda: station.scrubber.value() > before, timeout=5_000)
    station.play_button.click()
    assert station.play_button.text() == "Play"
    station._to_spell(turns[0])
    assert station.scrubber.value() == int(spell.start_s * 1000)
