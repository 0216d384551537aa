# SPDX-License-Identifier: GPL-3.0-or-later
"""The scavenge pump as planned: duty against delivery, volts at the pump, what happens after key-off."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.physics import scavenge
from gravidon.physics.arrays import Array
from gravidon.physics.oil import Froth
from gravidon.plan.fields import si
from gravidon.plan.model import Plan, TurboLine
from gravidon.study.solve.assemble import turning

PARKED_V = 12.3
"""[V] at the battery with the engine off, over the running volts' 13.5; from memory."""
WIRE_K = 333.15
"""[K] a wire's temperature in an engine bay; common practice, no source."""
RELAY_OHM, SWITCH_OHM = 0.005, 0.060
"""[Ω] of a relay's contacts, and of a dashboard switch and its terminals; common practice, no source."""


@dataclass(frozen=True)
class Scavenging:
    """Per condition: duty (with margin), bulk flow and delivery [m³/s]; pressure the pump makes [Pa].

    Then: volts at the pump, their share of the supply's, wire drop [V]; fuse that fits the current and what
    the wire carries [A]; suction lift and the pump's own [m]; lift to the return [m]; oil that comes down
    after key-off and what pot and run-on take [m³].
    """

    duty_m3_s: Array
    bulk_m3_s: Array
    delivery_m3_s: Array
    head_pa: Array
    volts: float
    volts_share: float
    wire_drop_v: float
    fuse_wanted_a: float
    wire_carries_a: float
    suction_m: float
    suction_can_m: float
    lift_m: float
    comes_down_m3: float
    pot_m3: float
    pumped_m3: float

    @property
    def left_over_m3(self) -> float:
        """Oil after key-off that finds no room in the pot and is not pumped away."""
        return max(self.comes_down_m3 - self.pot_m3 - self.pumped_m3, 0.0)

    @property
    def weak(self) -> np.ndarray:
        """Conditions in which the pump takes less than comes."""
        return np.asarray(self.delivery_m3_s < self.bulk_m3_s)

    @property
    def short_of_duty(self) -> np.ndarray:
        """Whether the pump takes less than it is asked to, margin included."""
        return np.asarray(self.delivery_m3_s < self.duty_m3_s)


def scavenging(plan: Plan, it: TurboLine, froth: Froth, hose_volume_m3: float) -> Scavenging:
    """Return how the turbo's pump does, whether or not the plan uses it."""
    s = it.scavenge
    supply, current = si(s, "supply_v"), si(s, "current_a")
    ohm = float(scavenge.wire_resistance(s.gauge_awg, 2.0 * si(s, "wire_mm"), WIRE_K))
    ohm += RELAY_OHM if s.relay else SWITCH_OHM
    volts = max(supply - current * ohm, 0.0)
    lift = max(s.return_z_mm - s.pot.z_mm, 0.0) * 1e-3
    args = (si(s, "hose_bore_mm"), si(s, "hose_mm"), froth.density_kg_m3, froth.viscosity_pa_s)
    valve = si(s, "valve_kpa") if s.valve else 0.0
    share = volts / s.rated_v
    free, stall = si(s, "free_l_min"), si(s, "stall_kpa")
    delivery = scavenge.pump_delivery(free, stall, share, lift, valve, *args)
    running = turning(plan)
    bulk = froth.flow_m3_s
    back = np.pi / 4.0 * si(s, "hose_bore_mm") ** 2 * si(s, "hose_mm") if not s.valve and lift > 0.0 else 0.0
    hot = float(delivery[running].min(initial=free)) if running.any() else 0.0
    cavity = si(it.turbo, "cavity_ml")
    off_share = PARKED_V / max(supply, 1.0)
    return Scavenging(
        duty_m3_s=si(plan.needs, "pump_margin") * bulk,
        bulk_m3_s=bulk,
        delivery_m3_s=np.where(running, delivery, 0.0),
        head_pa=scavenge.pump_head(bulk, lift, valve, *args),
        volts=volts,
        volts_share=volts / max(supply, 1e-9),
        wire_drop_v=supply - volts,
        fuse_wanted_a=scavenge.fuse_for(current),
        wire_carries_a=_carries(s.gauge_awg),
        suction_m=s.pump_above_pot_mm * 1e-3,
        suction_can_m=si(s, "self_priming_mm"),
        lift_m=lift,
        comes_down_m3=cavity + 0.5 * hose_volume_m3 + back,
        pot_m3=si(s, "pot_ml"),
        pumped_m3=hot * off_share * si(s, "run_on_s") if s.runs_dry else 0.0,
    )


def _carries(gauge: int) -> float:
    even = min((g for g in scavenge.WIRE_AMPS if g >= gauge), default=20)
    return scavenge.WIRE_AMPS[even]


@dataclass(frozen=True)
class PumpChart:
    """Froth flow [m³/s] (points,), and over it what the pump makes and what its piping asks [Pa]."""

    flow_m3_s: Array
    pump_pa: Array
    piping_pa: Array


def pump_chart(plan: Plan, it: TurboLine, froth: Froth, volts: float, condition: int) -> PumpChart:
    """Return pump and piping curves with the froth of one condition; with the engine off, of clear oil."""
    s = it.scavenge
    share = volts / s.rated_v
    free, stall = si(s, "free_l_min"), si(s, "stall_kpa")
    q = np.linspace(0.0, free * max(share, 0.05), 60)
    lift = max(s.return_z_mm - s.pot.z_mm, 0.0) * 1e-3
    head = scavenge.pump_head(
        q,
        lift,
        si(s, "valve_kpa") if s.valve else 0.0,
        si(s, "hose_bore_mm"),
        si(s, "hose_mm"),
        float(froth.density_kg_m3[condition]),
        float(froth.viscosity_pa_s[condition]),
    )
    return PumpChart(q, np.maximum(stall * (share - q / free), 0.0), head)


def relay_drop(it: TurboLine) -> float:
    """Return the volts lost in the relay or the switch [V]."""
    return si(it.scavenge, "current_a") * (RELAY_OHM if it.scavenge.relay else SWITCH_OHM)
