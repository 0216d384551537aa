# SPDX-License-Identifier: GPL-3.0-or-later
"""Kinds and sizes of turbo, one record each: starting values, each to be replaced by the maker's."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

PSI_KPA = 6.894757
"""[kPa/psi], published (NIST SP 811)."""


@dataclass(frozen=True)
class PressureWindow:
    """Inlet pressure a bearing wants [kPa gauge] and the hottest oil it may return [°C]."""

    idle_min_kpa: float
    speed_min_kpa: float
    speed_max_kpa: float
    cold_max_kpa: float
    outlet_max_c: float


@dataclass(frozen=True)
class Bearing:
    """All that varies with the kind of bearing.

    Fields: name; usual window; flow of a medium frame at the reference drop [L/min]; share of that drop spent in
    viscous films; heat of friction of a medium frame at full load [kW]; usual cooling; where its window usually holds and
        what its least is judged by; whether a first plan fits a restrictor; bore those use who always fit one [in]; bore [mm] below
    which a hole was sold for another kind of bearing (0: no hole is too small to be its own); least bore of a drain that is usual for
    a medium frame [mm], a little under that of its usual ends; longest
    tilt of the shaft [°] by rings.

    All of it common practice, no source: the maker's sheet replaces it.
    """

    name: str
    window: PressureWindow
    reference_flow_l_min: float
    film_share: float
    friction_kw: float
    cooling: str
    window_at: str
    window_least: str
    restrictor_usual: bool
    house_bore_in: float
    foreign_below_mm: float
    drain_bore_mm: float
    tilt_max_deg: Mapping[str, float]


BEARINGS: dict[str, Bearing] = {
    b.name: b
    for b in (
        Bearing(
            name="journal",
            window=PressureWindow(8 * PSI_KPA, 25 * PSI_KPA, 75 * PSI_KPA, 95 * PSI_KPA, 150.0),
            reference_flow_l_min=2.2,
            film_share=0.5,
            friction_kw=1.15,
            cooling="oil only",
            window_at="at the bearing",
            window_least="pressure",
            restrictor_usual=False,
            house_bore_in=0.065,
            foreign_below_mm=1.3,
            drain_bore_mm=11.8,
            tilt_max_deg={"single": 10.0, "twin": 10.0},
        ),
        Bearing(
            name="ball",
            window=PressureWindow(8 * PSI_KPA, 15 * PSI_KPA, 45 * PSI_KPA, 75 * PSI_KPA, 150.0),
            reference_flow_l_min=1.1,
            film_share=0.15,
            friction_kw=0.45,
            cooling="water",
            window_at="before the restrictor",
            window_least="flow",
            restrictor_usual=True,
            house_bore_in=0.035,
            foreign_below_mm=0.0,
            drain_bore_mm=9.0,
            tilt_max_deg={"single": 10.0, "twin": 13.0},
        ),
    )
}
"""By name; measured tilt limits range from 7 to 13.5°."""

REFERENCE_DROP_KPA = 45 * PSI_KPA
"""Drop at which the reference flows are quoted, 10W-40 at 100 °C; common practice, no source."""


@dataclass(frozen=True)
class Cooling:
    """How the housing is cooled: what share of the heat conducted from the turbine the oil has to take [-], and the
    conductance to water that goes on round by its own lift after key-off, in a medium frame [W/K]."""

    name: str
    oil_share: float
    soak_w_k: float


COOLINGS: dict[str, Cooling] = {
    c.name: c
    for c in (
        Cooling("oil only", 1.0, 0.0),
        Cooling("water", 0.3, 6.0),
        Cooling("water ports dry", 1.15, 0.0),
    )
}
"""By name; water lines take most of what the turbine conducts, a dry jacket takes nothing away. Common practice, no source."""

WORST_COOLING = "oil only"
"""What is assumed where a builder is asked how the housing is cooled and does not know: water lines that are not there cool nothing."""

CONDUCTED_KW = 0.85
"""[kW] conducted from the turbine into a medium centre housing at full load; common practice, no source. With the friction of
a journal bearing it makes the 2 kW that a medium unit on oil alone is usually given."""

TURBINE_J_K, BEARING_J_K = 2200.0, 1350.0
"""[J/K] of a medium unit's turbine and bearing housing: about 4 and 2.5 kg of iron; common practice, no source."""

WINDOW_PLACES = ("at the bearing", "before the restrictor")
"""Where a window of inlet pressure holds: behind every hole, or at the port where a gauge can read it."""
WINDOW_LEAST = ("pressure", "flow")
"""What the least of a window is judged by."""
FLOW_IDLE_SHARE, FLOW_SPEED_SHARE = 0.25, 0.4
"""[-] of the reference flow that a bearing judged by flow wants, hot idle and at speed; common practice, no source."""


def heat_kw(kind: str, frame: str, cooling: str, load: float) -> float:
    """Return the heat [kW] that the oil takes in the housing at a load (0 to 1).

    Equation: load · scale of the frame · (friction of the bearing + conducted heat · share left to the oil).

    Raises: KeyError for an unknown kind, frame or cooling.
    Source: common practice, no source.

    >>> heat_kw("journal", "medium", "oil only", 1.0)
    2.0
    """
    bearing, size = BEARINGS[kind], HOUSINGS[frame]
    return load * size.flow_scale * (bearing.friction_kw + CONDUCTED_KW * COOLINGS[cooling].oil_share)


REFERENCE_GRADE = "10W-40"
REFERENCE_TEMPERATURE_C = 100.0


@dataclass(frozen=True)
class HousingSize:
    """Typical centre housing geometry [mm], cavity [ml] and the flow scale by frame size."""

    shaft_height_mm: float
    seal_spacing_mm: float
    seal_diameter_mm: float
    cavity_ml: float
    flow_scale: float


HOUSINGS: dict[str, HousingSize] = {
    "small": HousingSize(38.0, 52.0, 14.0, 22.0, 0.75),
    "medium": HousingSize(45.0, 62.0, 17.0, 35.0, 1.0),
    "large": HousingSize(54.0, 76.0, 21.0, 60.0, 1.4),
}
"""Common practice, no source: measure your own."""

RINGS = ("single", "twin")
"""Piston rings per seal."""


def reference_flow_l_min(kind: str, frame: str) -> float:
    """Return the usual flow [L/min] at the reference drop for a kind and size.

    Raises: KeyError for an unknown kind or frame.
    Source: common practice, no source.

    >>> reference_flow_l_min("journal", "medium")
    2.2
    """
    return BEARINGS[kind].reference_flow_l_min * HOUSINGS[frame].flow_scale


def tilt_limit_deg(kind: str, rings: str) -> float:
    """Return how far the shaft may be tilted for good [°]: 13 with twin rings on ball bearings, 10 otherwise.

    Raises: KeyError for an unknown kind or ring.
    Source: common practice, no source (measured limits range from 7 to 13.5).

    >>> tilt_limit_deg("ball", "twin")
    13.0
    """
    return BEARINGS[kind].tilt_max_deg[rings]
