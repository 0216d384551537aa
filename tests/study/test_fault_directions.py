# SPDX-License-Identifier: GPL-3.0-or-later
"""Every fault of the simulated car moves the signs it is known for, the way it is known to; common practice, no source."""

from __future__ import annotations

import numpy as np
import pytest

from gravidon.physics.oil import density, dynamic_viscosity
from gravidon.physics.source import gallery_pressure
from gravidon.plan.demos import demo_plan
from gravidon.plan.fields import si
from gravidon.study.car.faults import FAULTS, Faulty, as_it_is
from gravidon.study.diagnosis.showing import AT, features, situations
from gravidon.study.solve.assemble import oil_of, source_fit

CAR = {name: situations(as_it_is(demo_plan(name), (), ())) for name in ("coupe", "special")}
SOUND = {name: features(plan) for name, plan in CAR.items()}
STAYS = 0.02
"""[-] of a sign up to which it is said to stay."""

MOVES: dict[str, dict[str, str]] = {
    "choked": {"flow_idle": "-", "outlet_full": "+", "over_window": "-", "gallery_speed": "0"},
    "kinked": {"port_speed": "-", "flow_idle": "-", "gallery_speed": "0"},
    "wrong-hole": {"flow_idle": "+", "over_window": "+", "free_full": "-", "gallery_speed": "0"},
    "weak-pump": {"gallery_speed": "-", "port_speed": "-", "flow_idle": "-"},
    "worn": {"flow_idle": "+", "over_window": "-", "free_full": "-"},
    "low-oil": {"fill": "-", "gallery_speed": "0"},
    "high-oil": {"fill": "+", "gallery_speed": "0"},
    "breather": {"case_full": "+", "flow_idle": "0"},
    "blow-by": {"case_full": "+", "flow_idle": "0"},
    "tap-starved": {"port_speed": "-", "flow_idle": "-", "gallery_speed": "0"},
    "relief-stuck": {"gallery_speed": "+", "port_speed": "+", "over_window": "+"},
    "thin-oil": {"gallery_speed": "-", "port_speed": "-"},
    "frothy": {"free_full": "-", "gallery_speed": "0"},
    "tilted": {"free_off": "-", "gallery_speed": "0"},
    "stands-over": {"fill": "+"},
    "drain-soft": {"free_full": "-", "free_overrun": "-", "gallery_speed": "0"},
    "flange-choked": {"free_full": "-", "free_idle": "-", "gallery_speed": "0"},
}
"""By fault and sign: whether it grows, falls, or stays within STAYS."""


@pytest.mark.parametrize("fault", list(MOVES))
@pytest.mark.parametrize("car", list(CAR))
def test_a_fault_moves_its_signs_the_way_it_should(car: str, fault: str) -> None:
    sound = SOUND[car]
    worse = features(as_it_is(CAR[car], (Faulty(FAULTS[fault], 0.8),), (1.0,)))
    for sign, way in MOVES[fault].items():
        was, now = sound[AT[sign]], worse[AT[sign]]
        moved = (now - was) / max(abs(was), 1e-12)
        assert {"+": moved > 1e-3, "-": moved < -1e-3, "0": abs(moved) < STAYS}[way], (sign, was, now)


@pytest.mark.parametrize("severity", [0.3, 0.6, 1.0])
def test_thin_oil_costs_pressure_as_the_sound_engine_would_lose_it(severity: float) -> None:
    """The sound plan's own pump and clearances asked with the thin oil, where neither relieves: the law by its definition; and the
    plan that is refitted to the readings made says the same between them."""
    sound = CAR["coupe"]
    thin = as_it_is(sound, (Faulty(FAULTS["thin-oil"], severity),), (1.0,))
    law, refitted, oil = source_fit(sound), source_fit(thin), oil_of(thin)
    for r in sound.engine.readings:
        t = si(r, "oil_temperature_c")
        at = (si(r, "rpm"), density(oil, t), dynamic_viscosity(oil, t))
        wanted = float(gallery_pressure(law, *at))
        assert float(gallery_pressure(refitted, *at)) == pytest.approx(wanted, rel=0.02)
    idle = min(range(len(sound.engine.readings)), key=lambda k: sound.engine.readings[k].rpm)
    was, now = (p.engine.readings[idle].pressure_kpa for p in (sound, thin))
    assert now < was * (1.0 - 0.15 * severity)
    assert np.isfinite(now)
