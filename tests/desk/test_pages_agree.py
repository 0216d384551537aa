# SPDX-License-Identifier: GPL-3.0-or-later
"""A page says what the verdict says, and what another page says."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from pytestqt.qtbot import QtBot

from desk.season import opened
from gravidon.desk.log_dialog import LogDialog
from gravidon.desk.stations.build import BuildStation, minutes_from
from gravidon.desk.stations.scavenge import ScavengeStation
from gravidon.desk.stations.seat import SeatStation, limits_words
from gravidon.desk.stations.sump import SumpStation
from gravidon.desk.theme import PALETTES
from gravidon.desk.window import MainWindow
from gravidon.draw import pan_levels
from gravidon.draw.ink import Ink
from gravidon.draw.told import told
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.drive_log import doubts, guess_mapping, headings, read_log
from gravidon.plan.fields import Known
from gravidon.study.home.oil_lines import levels_at_entry
from gravidon.study.verdict.trials import trial

HEADS = "Time,Lat Accel [m/s2],Long Accel [m/s2],Engine Speed,OilT [C]"


def drive(lateral: float, heads: str = HEADS) -> str:
    rows = [f"{0.05 * k:.2f},{lateral * np.sin(0.02 * k):.3f},0.0,3000,95" for k in range(1200)]
    return "\n".join([heads, *rows])


def test_the_unit_of_a_log_follows_its_column(window: Any, qtbot: Any) -> None:
    """Bends of 1 g are 9.81 m/s²; both headings name their unit, however the column was found; the opposite slip is asked about."""
    guess = guess_mapping(headings(drive(9.81)))
    assert (guess["ax"].unit, guess["ay"].unit) == ("m/s²", "m/s²")
    assert np.abs(read_log(drive(9.81), guess).left_g).max() == pytest.approx(1.0, abs=0.01)
    other = drive(9.81, "Time,side [m/s2],fore [m/s2],Engine Speed,OilT [C]")
    dialog = LogDialog(other, "a.csv", window)
    qtbot.addWidget(dialog)
    dialog.columns["ay"].setCurrentText("side [m/s2]")
    assert dialog.mapping()["ay"].unit == "m/s²"


def test_a_log_in_another_unit_is_asked_about(
    window: Any, qtbot: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Rows that fall out, and bends of a tenth of a g, are asked about before anything is replayed."""
    asked: list[str] = []
    monkeypatch.setattr("gravidon.desk.log_dialog.sure", lambda _w, q, *_: bool(asked.append(q)))
    for lateral, heads in ((9.81, "time,ay,ax,rpm,oil_t"), (1.3, HEADS)):
        dialog = LogDialog(drive(lateral, heads), "a.csv", window)
        qtbot.addWidget(dialog)
        dialog._read()
        assert dialog.result() == 0
    assert "left out" in asked[0]
    assert "0.1" in asked[1]
    fair = drive(0.9, "time,ay,ax,rpm,oil_t")
    assert doubts(read_log(fair, guess_mapping(headings(fair)))) == ()


def test_the_sump_shows_the_sump(window: Any, qtbot: Any) -> None:
    """Where a pump lifts the oil home the glasses say how the pan's oil stands to its rail, none is red, none is the pot's."""
    opened(window, "sump", SumpStation)
    window.session.replace(demo_plan("special"), None)
    e = window.session.evaluation
    levels = levels_at_entry(e)

    def paint(painter: Any) -> None:
        from PyQt6.QtCore import QRectF

        pan_levels.paint(Ink(painter, PALETTES["light"], "metric"), QRectF(0, 0, 1000, 200), e, levels, 0)

    words = [w.text for w in told(paint, 1000, 200)]
    assert "over" not in words
    assert "clear" not in words
    assert any("rail" in w for w in words)
    depth = round(1e3 * abs(float(levels.oil_m[0])))
    assert any(w.split()[0].startswith(str(depth)) for w in words if w[:1].isdigit())


def test_the_pickup_can_be_measured(window: Any, qtbot: Any) -> None:
    """The finding says to measure it: the page has its three figures, and Remove makes it a guess again."""
    station = opened(window, "sump", SumpStation)
    window.session.edit("sump.pickup", None)
    station.show_pickup()
    place = window.session.plan.sump.pickup
    assert place is not None
    paths_now = {f.spot.path for c in (station.canvas, station.front) for f in c.fields.fields}
    assert {"sump.pickup.x_mm", "sump.pickup.y_mm", "sump.pickup.z_mm"} <= paths_now
    window.session.edit("sump.pickup.z_mm", place.z_mm + 5.0)
    assert window.session.plan.sump.pickup.z_mm == pytest.approx(place.z_mm + 5.0)
    station.remove()
    assert window.session.plan.sump.pickup is None


def test_one_judge_of_the_pump(window: Any, qtbot: Any) -> None:
    """A pump that takes what comes but not the margin is too weak on the card and in the sentence."""
    plan = paths.put(demo_plan("special"), "needs.pump_margin", 4.0)
    plan = paths.put(plan, "turbos.0.scavenge.free_l_min", 0.9 * plan.turbos[0].scavenge.free_l_min.value)
    made = trial(plan).evaluation.scavenging
    assert made.short_of_duty.any()
    assert not made.weak.any()
    station = opened(window, "scavenge", ScavengeStation)
    window.session.replace(plan, None)
    assert "pump-weak" in {f.code for f in window.session.findings}
    assert "too weak" in station.words.text()


def test_each_limit_of_the_seat_is_its_own(window: Any, qtbot: Any) -> None:
    """The maker's tilt and a guessed clock on a circuit car: one is the maker's, the other common practice times 1.15."""
    plan = paths.put(demo_plan("special"), "use", "circuit")
    plan = paths.put(plan, "turbos.0.turbo.tilt_max_deg", Known(value=12.0, basis="maker"))
    plan = paths.put(plan, "turbos.0.turbo.clock_max_deg", Known(value=30.0, basis="guess"))
    tilt, clock = limits_words(plan, plan.turbos[0].turbo).split(";")[:2]
    assert "maker" in tilt
    assert "30° × 1.15" in clock
    assert "common practice" in clock
    opened(window, "seat", SeatStation)


def test_ticking_a_step_takes_no_minutes_that_nobody_told(window: Any, qtbot: Any) -> None:
    station = opened(window, "build", BuildStation)
    station.list.setCurrentRow(0)
    station.tick()
    assert window.session.plan.build.done[-1].minutes == 0.0
    assert [minutes_from(t) for t in ("1h20", "80 min", "1 h", "25", "")] == [80.0, 80.0, 60.0, 25.0, 0.0]
    with pytest.raises(ValueError, match="soon"):
        minutes_from("soon")


def test_the_key_does_what_the_band_shows(window: Any, qtbot: Any) -> None:
    """With another finding chosen, and again step by step: what the band's button would do is what Ctrl+Return does."""
    for _ in range(4):
        qtbot.waitUntil(lambda: window.session.remedies_done, timeout=60_000)
        finding, remedy = window.session.next_step()
        window.findings.step(1)
        before = window.session.plan
        window.apply_first_remedy()
        if remedy is None:
            assert window.session.plan == before
            return
        assert finding is not None
        assert window.session.plan == remedy.plan


def test_all_that_helps_is_done_in_one_step_and_taken_back_by_one(qtbot: QtBot, window: MainWindow) -> None:
    """The estate's faults go one after the other; the plan changes once, and one undo brings all of it back."""
    window.session.replace(demo_plan("estate"), None)
    before = window.session.plan
    told: list[str] = []
    window.session.told.connect(told.append)
    window.do_all_that_helps()
    assert window.session.plan is before, "the plan waits for the end"
    qtbot.waitUntil(lambda: not window.band.walking.busy, timeout=60_000)
    after = window.session.plan
    assert not [f for f in window.session.findings if f.severity == "bad"]
    assert "; " in told[-1]
    window.session.undo()
    assert window.session.plan == before
    window.session.redo()
    assert window.session.plan == after
    window.do_all_that_helps()
    qtbot.waitUntil(lambda: not window.band.walking.busy, timeout=60_000)
    assert window.session.plan == after, "nothing more is gained"
