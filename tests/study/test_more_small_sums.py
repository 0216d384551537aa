# SPDX-License-Identifier: GPL-3.0-or-later
"""More small sums, each by hand: the gallery's law and its misses, days to come, which choice decides a path."""

from datetime import date
from types import SimpleNamespace
from typing import Any

import pytest

from gravidon.physics.source import SourceFit
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.study.health.outlook import day_after, km_a_day
from gravidon.study.planning.freedom import choice_of
from gravidon.study.verdict.trials import trial


def test_the_band_of_a_law_is_its_largest_miss() -> None:
    made = SourceFit((1.0,), (1e5,), 4e5, residuals_pa=(2e3, -7e3, 1e3))
    assert made.band_pa == 7e3
    assert SourceFit((1.0,), (1e5,), 4e5).band_pa == 0.0


@pytest.mark.parametrize(("share", "law_is_above"), [(0.4, True), (1.6, False)])
def test_a_reading_that_does_not_fit_is_told_beside_what_the_law_gives_there(
    share: float, law_is_above: bool
) -> None:
    """One reading of four taken far too low, or too high: it is told, with the law on the other readings' side of it."""
    plan = demo_plan("coupe")
    readings = plan.engine.readings
    odd = readings[1].model_copy(update={"pressure_kpa": round(readings[1].pressure_kpa * share, 1)})
    plan = paths.put(plan, "engine.readings", (readings[0], odd, *readings[2:]))
    found = next(f for f in trial(plan).findings if f.code == "misfit" and f.place == "2")
    assert found.limit == pytest.approx(odd.pressure_kpa * 1e3)
    assert (found.value > found.limit) is law_is_above
    low, high = sorted((odd.pressure_kpa, readings[1].pressure_kpa))
    assert low * 1e3 < found.value < max(high, plan.engine.relief_kpa.value) * 1e3


def test_days_to_come_and_kilometres_a_day() -> None:
    """450 km in ten days are 45 a day; ten days after the 20th of April is the 30th; a hundred years off is out of sight."""
    entries = [SimpleNamespace(date=date(2026, 4, d)) for d in (10, 15, 20)]
    h: Any = SimpleNamespace(entries=entries, km=[100.0, 300.0, 550.0])
    assert km_a_day(h) == pytest.approx(45.0)
    assert day_after(h, 10.4) == date(2026, 4, 30)
    assert day_after(h, 40000.0) is None
    assert day_after(h, float("inf")) is None
    assert day_after(h, float("nan")) is None


def test_the_choice_that_decides_a_path() -> None:
    plan = demo_plan("van")
    for path, name, turbo in (
        ("turbos.1.restrictor.bore_mm", "restrictor", 1),
        ("turbos.0.turbo.clock_deg", "clock", 0),
        ("turbos.0.drain.fitting.means", "entry-means", 0),
    ):
        found = choice_of(plan, path)
        assert found is not None, path
        assert (found[0].name, found[1]) == (name, turbo)
    assert choice_of(plan, "oil.grade") is None
    pumped = paths.put(plan, "turbos.0.drain_by", "scavenge")
    assert choice_of(pumped, "turbos.0.drain.fitting.means") is None, (
        "a pumped drain has no way through the wall to choose"
    )
