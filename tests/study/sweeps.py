# SPDX-License-Identifier: GPL-3.0-or-later
"""One input of a proven install made worse, step by step: what the verdict must never call better."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan import paths
from gravidon.plan.model import Condition, Plan
from study.families import MIDDLE
from study.installs import PROVEN, ball, journal, pumped

Make = Callable[[dict[str, float]], Plan]
Sweep = tuple[Callable[[float], Plan], Array]

Change = Callable[[Condition, float], dict[str, float]]
"""What becomes of a condition at a value."""

MIDDLE_OF = {
    **MIDDLE,
    **{name: 0.5 * (low + high) for name, (low, high) in PROVEN.items()},
    "half_npt": 0.0,
    "hole_mm": 0.5,
}


def base(make: Make = journal, **changes: float) -> Plan:
    """Return the middle of a proven kind."""
    return make({**MIDDLE_OF, **changes})


def _put(make: Make, *where: str) -> Callable[[float], Plan]:
    def made(x: float) -> Plan:
        plan = base(make)
        for path in where:
            plan = paths.put(plan, path, x)
        return plan

    return made


def _conditions(make: Make, change: Change) -> Callable[[float], Plan]:
    def made(x: float) -> Plan:
        plan = base(make)
        return paths.put(
            plan, "conditions", tuple(c.model_copy(update=change(c, x)) for c in plan.conditions)
        )

    return made


def _filled(make: Make) -> Callable[[float], Plan]:
    def made(over_l: float) -> Plan:
        plan = base(make)
        marked = paths.put(plan, "sump.full_l", plan.sump.fill_l.value)
        return paths.put(marked, "sump.fill_l", plan.sump.fill_l.value + over_l)

    return made


def _lowered(make: Make) -> Callable[[float], Plan]:
    """The entry and the hose's last bend, lower and lower towards the oil."""

    def made(down_mm: float) -> Plan:
        plan = base(make)
        z = plan.turbos[0].drain.entry.z_mm
        return paths.put(plan, "turbos.0.drain.entry.z_mm", z - down_mm)

    return made


def _small_drain(make: Make) -> Callable[[float], Plan]:
    def made(bore: float) -> Plan:
        plan = base(make)
        drain = plan.turbos[0].drain
        fitting = drain.fitting.model_copy(update={"bore_mm": bore})
        return paths.put(
            plan, "turbos.0.drain", drain.model_copy(update={"flange_bore_mm": bore, "fitting": fitting})
        )

    return made


def _in(name: str, what: str) -> Change:
    return lambda c, x: {what: x} if c.name == name else {}


def _cornered(c: Condition, g: float) -> dict[str, float]:
    return {"left_g": float(np.sign(c.left_g)) * g} if c.left_g else {}


def _braked(c: Condition, g: float) -> dict[str, float]:
    return {"forward_g": -g} if c.forward_g < 0.0 else {}


def _cornered_long(c: Condition, seconds: float) -> dict[str, float]:
    return {"duration_s": seconds} if c.left_g else {}


def _frothed(c: Condition, share: float) -> dict[str, float]:
    return {"air_fraction": share} if c.rpm else {}


def _of(kind: str, make: Make, holes: bool) -> dict[str, Sweep]:
    """Return the sweeps of a kind; `holes`: whether a restrictor meters it."""
    out = "turbos.0."
    drain = f"{out}drain."
    gravity: dict[str, Sweep] = {
        "fall": (lambda x: base(make, slope_deg=x), np.linspace(60.0, 3.0, 25)),
        "ends": (_small_drain(make), np.linspace(12.29, 7.0, 25)),
        "hose bore": (_put(make, f"{drain}hose_bore_mm"), np.linspace(14.29, 7.0, 25)),
        "entry's fitting": (_put(make, f"{drain}fitting.bore_mm"), np.linspace(12.29, 7.0, 25)),
        "flange's bore": (_put(make, f"{drain}flange_bore_mm"), np.linspace(14.15, 6.0, 25)),
        "flange's mouth": (_put(make, f"{drain}mouth_loss"), np.linspace(0.05, 1.5, 25)),
        "entry lower": (_lowered(make), np.linspace(0.0, 60.0, 25)),
        "entry's rise": (_put(make, f"{drain}fitting.rise_deg"), np.linspace(17.5, -15.0, 25)),
        "hose sags": (_put(make, f"{drain}sag_mm"), np.linspace(0.0, 90.0, 25)),
    }
    general: dict[str, Sweep] = {
        "oil over the mark": (_filled(make), np.linspace(0.0, 4.0, 25)),
        "windage": (_put(make, "sump.windage_mm"), np.linspace(0.0, 55.0, 25)),
        "crank lower": (_put(make, "sump.crank_mm"), np.linspace(20.0, 120.0, 25)),
        "tilt": (_put(make, f"{out}turbo.pitch_deg"), np.linspace(0.0, 25.0, 25)),
        "clock": (_put(make, f"{out}turbo.clock_deg"), np.linspace(0.0, 60.0, 25)),
        "clock back": (_put(make, f"{out}turbo.clock_deg"), np.linspace(0.0, -60.0, 25)),
        "engine front up": (_put(make, "engine.front_up_deg"), np.linspace(0.0, 12.0, 25)),
        "blow-by": (_put(make, "breather.blow_by_l_min"), np.linspace(20.0, 500.0, 25)),
        "ring gap": (_put(make, f"{out}turbo.ring_gap_mm2"), np.geomspace(0.2, 20.0, 25)),
        "seal lower": (_put(make, f"{out}turbo.shaft_height_mm"), np.linspace(60.0, 15.0, 25)),
        "corner": (_conditions(make, _cornered), np.linspace(0.2, 1.3, 25)),
        "braking": (_conditions(make, _braked), np.linspace(0.2, 1.3, 25)),
        "corner's length": (_conditions(make, _cornered_long), np.geomspace(1.0, 60.0, 25)),
        "froth": (_conditions(make, _frothed), np.linspace(0.05, 0.8, 25)),
        "heat": (_conditions(make, _in("full load", "load")), np.linspace(0.5, 3.0, 25)),
        "oil temperature": (
            _conditions(make, _in("full load", "oil_temperature_c")),
            np.linspace(100.0, 150.0, 25),
        ),
        "nose up": (_conditions(make, _in("nose-up", "nose_up_deg")), np.linspace(0.0, 30.0, 25)),
        "feed's hose": (lambda x: _narrow_feed(base(make), x), np.linspace(4.37, 1.0, 25)),
    }
    made = (
        {**gravity, **general}
        if make is not pumped
        else {
            **general,
            "pump's flow": (_put(make, f"{out}scavenge.free_l_min"), np.linspace(12.0, 1.0, 25)),
            "pump's hose": (_put(make, f"{out}scavenge.hose_bore_mm"), np.linspace(9.5, 3.0, 25)),
            "supply": (_put(make, f"{out}scavenge.supply_v"), np.linspace(13.5, 9.0, 25)),
        }
    )
    if holes:
        made["hole wider"] = (_put(make, f"{out}restrictor.bore_mm"), np.linspace(1.0, 3.0, 25))
        made["hole smaller"] = (_put(make, f"{out}restrictor.bore_mm"), np.linspace(1.0, 0.3, 25))
    return {f"{kind}, {name}": sweep for name, sweep in made.items()}


def _narrow_feed(plan: Plan, bore: float) -> Plan:
    for k, _ in enumerate(plan.turbos[0].feed.pieces):
        plan = paths.put(plan, f"turbos.0.feed.pieces.{k}.bore_mm", bore)
    return plan


SWEEPS: dict[str, Sweep] = {
    **_of("journal", journal, False),
    **_of("ball", ball, True),
    **_of("rear", pumped, False),
}
"""By kind and input: plans by a value, from good to bad."""
