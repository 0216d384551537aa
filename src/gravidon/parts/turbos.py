"""What a turbo of a kind and size usually needs: starting values, each to be replaced by the maker's."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

BearingKind = Literal["journal", "ball"]
FrameSize = Literal["small", "medium", "large"]
Rings = Literal["single", "twin"]

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
class HousingSize:
    """Typical centre housing geometry [mm], cavity [ml] and the flow scale by frame size."""

    shaft_height_mm: float
    seal_spacing_mm: float
    seal_diameter_mm: float
    cavity_ml: float
    flow_scale: float


WINDOWS: dict[BearingKind, PressureWindow] = {
    "journal": PressureWindow(10 * PSI_KPA, 25 * PSI_KPA, 75 * PSI_KPA, 95 * PSI_KPA, 150.0),
    "ball": PressureWindow(8 * PSI_KPA, 15 * PSI_KPA, 45 * PSI_KPA, 75 * PSI_KPA, 150.0),
}
"""Common practice, no source: the maker's sheet replaces them."""

REFERENCE_DROP_KPA = 45 * PSI_KPA
"""Drop at which the reference flows are quoted, 10W-40 at 100 °C; common practice, no source."""

REFERENCE_FLOW_L_MIN: dict[BearingKind, float] = {"journal": 2.2, "ball": 1.1}
"""Flow of a medium frame at the reference drop [L/min]; common practice, no source."""

FILM_SHARE: dict[BearingKind, float] = {"journal": 0.5, "ball": 0.15}
"""Share of the drop spent in viscous films at the reference; common practice, no source."""

REFERENCE_GRADE = "10W-40"
REFERENCE_TEMPERATURE_C = 100.0

HOUSINGS: dict[FrameSize, HousingSize] = {
    "small": HousingSize(38.0, 52.0, 14.0, 22.0, 0.75),
    "medium": HousingSize(45.0, 62.0, 17.0, 35.0, 1.0),
    "large": HousingSize(54.0, 76.0, 21.0, 60.0, 1.4),
}
"""Common practice, no source: measure your own."""


def reference_flow_l_min(kind: BearingKind, frame: FrameSize) -> float:
    """Return the usual flow [L/min] at the reference drop for a kind and size.

    Source: common practice, no source.

    >>> reference_flow_l_min("journal", "medium")
    2.2
    """
    return REFERENCE_FLOW_L_MIN[kind] * HOUSINGS[frame].flow_scale


def tilt_limit_deg(kind: BearingKind, rings: Rings) -> float:
    """Return how far the shaft may be tilted for good [°]: 13 with twin rings on ball bearings, 10 otherwise.

    Source: common practice, no source (measured limits range from 7 to 13.5).

    >>> tilt_limit_deg("ball", "twin")
    13.0
    """
    return 13.0 if kind == "ball" and rings == "twin" else 10.0
