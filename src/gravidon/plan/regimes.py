# SPDX-License-Identifier: GPL-3.0-or-later
"""Regimes of an operating condition, one record each: what is judged in it and how."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Regime:
    """All that varies with a regime.

    Fields: name; whether the engine turns; whether engine and oil are warm; whether it is one of driving (else the
    idle's least pressure counts); names of the window's fields that bound the inlet pressure (least, most) and the flow, empty where none
    does; whether breaching the upper bound is only to be watched; engine speed [rpm] that a condition gets when
    it is put into this regime and has none that fits.
    """

    name: str
    turning: bool
    warm: bool
    driving: bool
    window_low: str
    window_high: str
    flow_low: str
    high_forgiven: bool
    usual_rpm: float

    @property
    def cold(self) -> bool:
        """Whether the engine turns and is not warm yet."""
        return self.turning and not self.warm


REGIMES: dict[str, Regime] = {
    r.name: r
    for r in (
        Regime("cold", True, False, False, "idle_min_kpa", "cold_max_kpa", "", True, 1200.0),
        Regime("idle", True, True, False, "idle_min_kpa", "speed_max_kpa", "idle_flow_l_min", False, 850.0),
        Regime(
            "speed", True, True, True, "speed_min_kpa", "speed_max_kpa", "speed_flow_l_min", False, 3000.0
        ),
        Regime("off", False, True, False, "", "", "", False, 0.0),
    )
}
"""By name, in the order of a drive."""
