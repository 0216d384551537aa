# SPDX-License-Identifier: GPL-3.0-or-later
"""The oil grades a builder can pick from."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

J300_V100_WINDOW_MM2_S: dict[str, tuple[float, float]] = {
    "20": (6.9, 9.3),
    "30": (9.3, 12.5),
    "40": (12.5, 16.3),
    "50": (16.3, 21.9),
    "60": (21.9, 26.1),
}
"""Kinematic viscosity window at 100 °C [mm²/s] by hot number; published (SAE J300)."""


@dataclass(frozen=True)
class Grade:
    """A grade with typical data-sheet values; field names carry the units."""

    grade: str
    v40_mm2_s: float
    v100_mm2_s: float
    density_15_kg_m3: float
    hths_mpa_s: float


@cache
def grades() -> dict[str, Grade]:
    """Return the catalogue by grade name, in file order.

    Source: typical values from memory, each inside its SAE J300 window.

    >>> grades()["10W-40"].v100_mm2_s
    14.3
    """
    text = resources.files("gravidon.parts").joinpath("data/oils.json").read_text(encoding="utf-8")
    return {row["grade"]: Grade(**row) for row in json.loads(text)["oils"]}
