# SPDX-License-Identifier: GPL-3.0-or-later
"""Where each relation may be trusted. Held once; read by results, handbook and tests."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Flags
from gravidon.translate import number, tr


@dataclass(frozen=True)
class Validity:
    """A range inside which a relation was measured or derived.

    `low` and `high` are in SI units unless `unit` says otherwise.
    """

    code: str
    quantity: str
    low: float
    high: float
    unit: str
    source: str

    def holds(self, value: ArrayLike) -> Flags:
        """Return, entry by entry, whether `value` lies inside the range."""
        given = np.asarray(value, dtype=float)
        inside: Flags = (given >= self.low) & (given <= self.high)
        return inside

    def sentence(self) -> str:
        """Return the range as a line for the handbook."""
        low, high, unit = self.low, self.high, self.unit
        if unit == "K":
            low, high, unit = low - 273.15, high - 273.15, "°C"
        elif unit == "rad":
            low, high, unit = round(np.degrees(low)), round(np.degrees(high)), "°"
        words = tr("{quantity}: {low} to {high} {unit}").format(
            quantity=tr(self.quantity), low=number(low, "g"), high=number(high, "g"), unit=unit
        )
        return words.rstrip()


OIL_TEMPERATURE = Validity(
    "oil-temperature",
    "oil temperature for viscosity",
    253.15,
    473.15,
    "K",
    "ASTM D341, away from wax and cracking; range from memory",
)
RESTRICTOR_LENGTH = Validity(
    "restrictor-length",
    "restrictor length over bore",
    0.0,
    10.0,
    "",
    "Lichtarowicz, Duggins and Markland 1965",
)
PART_FULL_REYNOLDS = Validity(
    "part-full-reynolds",
    "Reynolds number in the drain (hydraulic diameter)",
    0.0,
    2100.0,
    "",
    "laminar limit, from memory",
)
EFFECTIVE_LEAN = Validity(
    "effective-lean",
    "lean of effective gravity from upright",
    0.0,
    1.2,
    "rad",
    "quasi-static sump plane; common practice, no source",
)
HOSE_SAG = Validity(
    "hose-sag",
    "sag of a hose over its free span",
    0.0,
    0.1,
    "",
    "small deflection of a beam (Euler-Bernoulli)",
)
GAUGE_SPEED = Validity(
    "gauge-speed",
    "engine speed over the nearest warm gauge reading's",
    0.6,
    1.5,
    "",
    "beyond its readings the gallery law only follows their trend; project choice",
)
BEND_DEAN = Validity(
    "bend-dean",
    "Dean number in a bend of the drain hose",
    0.0,
    2000.0,
    "",
    "White 1929",
)
ALL: tuple[Validity, ...] = (
    OIL_TEMPERATURE,
    RESTRICTOR_LENGTH,
    PART_FULL_REYNOLDS,
    EFFECTIVE_LEAN,
    HOSE_SAG,
    GAUGE_SPEED,
    BEND_DEAN,
)
