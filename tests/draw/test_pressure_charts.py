# SPDX-License-Identifier: GPL-3.0-or-later
"""The charts of the pressure side and of the guesses: painted, inside their place, with the numbers they claim."""

from collections.abc import Callable
from functools import cache

import pytest
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter
from pytestqt.qtbot import QtBot

from draw.recorder import Recorder, Written, inside
from gravidon.desk.there import there
from gravidon.draw import cascade as cascade_chart
from gravidon.draw import map_chart, restrictor_chart, soak_chart, source_chart, tap_chart, tolerance_chart
from gravidon.draw.ink import Ink
from gravidon.draw.style import DARK, LIGHT, load_fonts
from gravidon.plan.demos import demo_plan
from gravidon.plan.units import Family, show
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.heat_soak import heat_soak
from gravidon.study.supply.cascade import cascade
from gravidon.study.supply.operating_map import operating_map
from gravidon.study.supply.restrictor_choice import choose
from gravidon.study.supply.tap_choice import compare_taps
from gravidon.study.verdict.certainty import Certainty, Deciders, certainty, deciders

E = evaluate(demo_plan())
PLAN = E.plan
AREA = QRectF(0, 0, 760, 520)
FAMILIES: tuple[Family, ...] = ("imperial", "metric")


def written(paint: Callable[[Ink], None], family: Family) -> list[Written]:
    """Return what a chart writes."""
    load_fonts()
    device = Recorder(int(AREA.width()), int(AREA.height()))
    painter = QPainter(device)
    paint(Ink(painter, LIGHT, family))
    painter.end()
    return device.written


@cache
def sampled() -> tuple[Certainty, Deciders]:
    *_, sure = certainty(PLAN, samples=20)
    *_, decided = deciders(PLAN)
    return sure, decided


def charts(family: Family) -> dict[str, Callable[[Ink], None]]:
    """Return every chart of the pressure side, ready to be painted."""
    choice, taps, made = choose(PLAN), compare_taps(PLAN), operating_map(PLAN)
    sure, decided = sampled()
    steps = cascade(E, 3, family)
    return {
        "cascade": lambda ink: cascade_chart.paint(ink, AREA, steps, (70e3, 500e3)),
        "map": lambda ink: map_chart.paint(ink, AREA, E, made, "inlet", 3, (3000.0, 370.0)),
        "restrictor": lambda ink: restrictor_chart.paint(ink, AREA, E, choice, 3, 1.2e-3),
        "source": lambda ink: source_chart.paint(ink, AREA, E),
        "soak": lambda ink: soak_chart.paint(ink, AREA, there(heat_soak(E))),
        "tap": lambda ink: tap_chart.paint(ink, AREA, PLAN, 0, taps, 3),
        "certainty": lambda ink: tolerance_chart.paint_bars(ink, AREA, sure),
        "tornado": lambda ink: tolerance_chart.paint_tornado(ink, AREA, decided),
    }


@pytest.mark.parametrize("family", FAMILIES)
def test_every_chart_writes_inside_its_place(qtbot: QtBot, family: Family) -> None:
    """No label leaves the chart's rectangle, and each chart says something."""
    for name, paint in charts(family).items():
        words = written(paint, family)
        assert len(words) > 4, name
        outside = [w.text for w in words if not inside(w.rect, AREA, 3.0)]
        assert outside == [], name


@pytest.mark.parametrize("family", FAMILIES)
def test_charts_show_the_numbers_they_are_about(qtbot: QtBot, family: Family) -> None:
    """The bore as chosen, the taps by name, the conditions by name, the relief: each where it belongs."""
    made = charts(family)
    said = {name: " | ".join(w.text for w in written(paint, family)) for name, paint in made.items()}
    bore = show(PLAN.turbos[0].restrictor.bore_mm * 1e-3, "bore", family)
    assert bore in said["restrictor"]
    assert all(name in said["restrictor"] for name in ("hot idle", "full load"))
    assert all(tap.label in said["tap"] for tap in PLAN.taps)
    assert all(name in said["certainty"] for name in E.names if name != "key-off")
    assert "heat at the turbo" in said["tornado"]
    assert "relief" in said["source"]
    assert "bearing" in said["cascade"]


def test_ground_and_marks_make_the_whole_restrictor_chart(qtbot: QtBot) -> None:
    """What is kept while a bore is dragged and what moves write, together, what the whole chart writes."""
    choice = choose(PLAN)
    whole = written(lambda ink: restrictor_chart.paint(ink, AREA, E, choice, 3), "metric")
    ground = written(lambda ink: restrictor_chart.paint_ground(ink, AREA, E, choice, 3), "metric")
    moving = written(lambda ink: restrictor_chart.paint_marks(ink, AREA, E, choice, 3), "metric")
    assert [w.text for w in whole] == [w.text for w in ground] + [w.text for w in moving]
    bore = show(PLAN.turbos[0].restrictor.bore_mm * 1e-3, "bore", "metric")
    assert not any(bore in w.text for w in ground)


def test_both_themes_write_the_same(qtbot: QtBot) -> None:
    for paint in charts("metric").values():
        texts = []
        for palette in (LIGHT, DARK):
            device = Recorder(760, 520)
            painter = QPainter(device)
            paint(Ink(painter, palette, "metric"))
            painter.end()
            texts.append([w.text for w in device.written])
        assert texts[0] == texts[1]
