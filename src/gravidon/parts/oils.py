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


J300_CRANKING_C: dict[str, float] = {
    "0W": -35.0,
    "5W": -30.0,
    "10W": -25.0,
    "15W": -20.0,
    "20W": -15.0,
    "25W": -10.0,
}
"""Oil temperature [°C] down to which an engine still cranks on a winter number; published (SAE J300, from memory)."""
PUMPING_BELOW_K = 5.0
"""[K] below that, at which the number's oil is still pumped at the most; published (SAE J300, from memory)."""


def coldest_start_c(grade: str) -> float | None:
    """Return the oil temperature [°C] down to which a grade is made to be started; None where it has no winter number.

    >>> coldest_start_c("20W-50"), coldest_start_c("own blend")
    (-15.0, None)
    """
    return J300_CRANKING_C.get(grade.upper().partition("-")[0].strip())


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
