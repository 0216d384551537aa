# SPDX-License-Identifier: GPL-3.0-or-later
"""The coupe with its season, at a station; what a simulated car sends; a button by its words."""

from typing import Any

from PyQt6.QtWidgets import QPushButton, QToolButton

from gravidon.plan import demos
from gravidon.records.lines import Row
from gravidon.records.shipped import demo_log
from gravidon.study.car.car import Scenario, simulate
from gravidon.study.car.faults import faulty_from
from gravidon.study.car.script import script_from
from gravidon.study.car.senses import sensed

PSI = 6894.757293168


def opened(window: Any, key: str, kind: type) -> Any:
    """The coupe with its season, at a station."""
    window.session.replace(demos.demo_plan("coupe"), None, shipped=demo_log("coupe"))
    window.go_to(key)
    assert isinstance(window.station, kind)
    return window.station


def rows_of(window: Any, script: str, *faults: str, seed: int = 1, until: float = 1e9) -> list[Row]:
    plan = window.session.plan
    scenario = Scenario(
        plan, script_from(script, plan), seed, tuple(faulty_from(f) for f in faults), step_s=0.1
    )
    made = sensed(simulate(scenario), 5.0)
    return [
        Row({"time": float(t), **{k: float(v[j]) for k, v in made.channels.items()}})
        for j, t in enumerate(made.time_s)
        if t <= until
    ]


def button(station: Any, words: str) -> Any:
    found = [
        b for kind in (QPushButton, QToolButton) for b in station.findChildren(kind) if b.text() == words
    ]
    assert found, words
    return found[0]
