# SPDX-License-Identifier: GPL-3.0-or-later
"""A season of one simulated car: what its builder would have written into the logbook, and what was true all the while."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from gravidon.physics import source
from gravidon.physics.arrays import Array
from gravidon.physics.feed import Feed, Screen
from gravidon.physics.oil import dynamic_viscosity
from gravidon.plan.fields import si
from gravidon.plan.model import Plan
from gravidon.records.entry import Entry, Reading
from gravidon.study.car.car import hidden
from gravidon.study.car.script import idle_rpm
from gravidon.study.car.senses import Fitted, fitted
from gravidon.study.solve import assemble
from gravidon.study.solve.at_points import Points, pressure_side

READ_RPM, READ_K = 25.0, 2.0
"""[rpm], [K] by which a builder's reading of speed and oil temperature is off (standard deviation); common practice, no source."""
READ_PA = 2.5e3
"""[Pa] to which a builder reads a display or a needle (standard deviation); common practice, no source."""
UNIT_DROP_PA, UNIT_FLOW_M3_S, UNIT_VISCOSITY = 10e3, 1e-3 / 60.0, 0.012
"""One unit of closing takes 10 kPa at 1 L/min of an oil of 0.012 Pa·s: about the reference oil, hot."""
UNIT_PA_S_M3 = UNIT_DROP_PA / UNIT_FLOW_M3_S
SCATTER_K = 6.0
"""[K] by which the oil's temperature of one reading differs from the next (standard deviation); common practice, no source."""


@dataclass(frozen=True)
class Wear:
    """How a car changes: closing of the feed [units, as study/health counts them] a thousand kilometres, from where on [km]; change of the gallery's strength
    and of the bearing's passage (logarithms) and of the inlet sender's zero [Pa], each a thousand kilometres; distance over which the
    closing's pace grows e-fold [km] (inf: it stays)."""

    closing: float = 0.0
    from_km: float = 0.0
    gallery: float = -0.004
    passage: float = 0.003
    zero_pa: float = 0.0
    grows_km: float = np.inf

    def closed(self, km: Array) -> Array:
        """Return how far the feed has closed at distances [km], same shape [units]."""
        run = np.maximum(km - self.from_km, 0.0)
        if np.isfinite(self.grows_km):
            run = self.grows_km * np.expm1(run / self.grows_km)
        return self.closing * run / 1000.0


@dataclass(frozen=True)
class Season:
    """Entries, and for each of them the truth: distance [km], closing [units], logarithm of the gallery's strength against the plan's, logarithm of
    the passage against the plan's, inlet and gallery sender's error at no pressure [Pa]."""

    entries: tuple[Entry, ...]
    km: Array
    closing: Array
    gallery: Array
    passage: Array
    zero_pa: Array
    gallery_zero_pa: Array


KINDS = ("hot idle", "hot speed", "cold idle")


def points_of(plan: Plan, kind: str) -> tuple[float, float]:
    """Return the speed [rpm] and oil temperature [K] at which a kind of reading is taken."""
    idle = idle_rpm(plan)
    return {"hot idle": (idle, 368.15), "hot speed": (2600.0, 371.15), "cold idle": (idle + 250.0, 291.15)}[
        kind
    ]


def season(
    plan: Plan,
    seed: int,
    wear: Wear,
    km: tuple[float, ...],
    kinds: tuple[str, ...] = KINDS,
    begin: date = date(2026, 4, 5),
    km_a_day: float = 45.0,
    oil_every_km: float = 5000.0,
    spread: float = 1.0,
) -> Season:
    """Return the season of one car: an entry at every distance, each with a reading of each kind, as a builder takes them.

    Args:
        plan: the plan; its tolerances are the hidden values' spread.
        seed: which car.
        wear: how it changes.
        km: distances of the entries, rising [km].
        kinds: kinds of readings taken at each.
        begin: day of distance 0.
        km_a_day: distance a day [km].
        oil_every_km: distance between oil changes [km].
        spread: how far hidden values lie off the plan's (0: not at all).

    Raises: GravidonError if the car cannot be computed.
    """
    truth = hidden(plan, seed, spread) if spread else plan
    senders = {f.sender.channel: f for f in fitted(plan, seed)}
    dice = np.random.default_rng([seed, 55])
    distance = np.asarray(km)
    closing = wear.closed(distance)
    places = [points_of(plan, k) for k in kinds]
    rpm = np.array([p[0] for p in places])
    oil = np.array([p[1] for p in places])
    drift = wear.zero_pa * distance / 1000.0
    entries, changed_at = [], 0.0
    for k, at in enumerate(distance.tolist()):
        made = []
        shown_rpm = rpm + READ_RPM * dice.standard_normal(len(rpm))
        shown_oil = oil + SCATTER_K * dice.standard_normal(len(oil))
        true_oil = shown_oil + READ_K * dice.standard_normal(len(oil))
        true_rpm = shown_rpm + READ_RPM * dice.standard_normal(len(rpm))
        gallery, port = shown_truly(
            truth, true_rpm, true_oil, closing[k], wear.gallery * at / 1000.0, wear.passage * at / 1000.0
        )
        for j in range(len(rpm)):
            noise = READ_PA * dice.standard_normal(2)
            made.append(
                Reading(
                    float(round(shown_rpm[j] / 10.0) * 10.0),
                    float(round(shown_oil[j] - 273.15)) + 273.15,
                    _read(senders.get("gallery"), float(gallery[j])) + float(noise[0]),
                    _read(senders.get("inlet"), float(port[j])) + float(drift[k] + noise[1]),
                )
            )
        oil_due = at - changed_at >= oil_every_km
        changed_at = at if oil_due else changed_at
        day = (begin + timedelta(days=int(at / km_a_day))).isoformat()
        entries.append(
            Entry(
                day,
                at * 1000.0,
                "oil change" if oil_due else "reading",
                "",
                tuple(made),
                (),
                ("oil",) if oil_due else (),
                uid=f"{seed:06d}-{k:04d}",
            )
        )
    strength, passage, before, offset = _against(plan, truth)
    zero = {c: si(f.sender, "full_kpa") * f.zero_off for c, f in senders.items()}
    return Season(
        tuple(entries),
        distance,
        before + closing,
        strength + wear.gallery * distance / 1000.0,
        passage + wear.passage * distance / 1000.0,
        zero.get("inlet", 0.0) + offset + drift,
        zero.get("gallery", 0.0) + 0.0 * distance,
    )


def _read(sender: Fitted | None, pressure: float) -> float:
    if sender is None:
        return pressure
    return pressure * (1.0 + sender.gain_off) + si(sender.sender, "full_kpa") * sender.zero_off


def shown_truly(
    truth: Plan, rpm: Array, oil_k: Array, closing: float, gallery: float = 0.0, passage: float = 0.0
) -> tuple[Array, Array]:
    """Return gallery and inlet port pressure [Pa gauge] of a car whose feed closes, whose gallery weakens and whose bearing opens."""
    readings = tuple(
        r.model_copy(update={"pressure_kpa": r.pressure_kpa * float(np.exp(gallery))})
        for r in truth.engine.readings
    )
    worn = truth.model_copy(update={"engine": truth.engine.model_copy(update={"readings": readings})})
    wide = float(np.exp(passage))

    def altered(k: int, feed: Feed) -> Feed:
        if k:
            return feed
        more = closing * UNIT_PA_S_M3
        own = 0.0
        if feed.screen is not None:
            s = feed.screen
            own = (
                float(np.asarray(s.rated_drop_pa))
                / float(np.asarray(s.rated_flow_m3_s))
                / max(1.0 - float(np.asarray(s.clogged)), 1e-3)
            )
            own *= UNIT_VISCOSITY / s.rated_viscosity_pa_s
        reference = replace(feed.reference, flow_m3_s=np.asarray(feed.reference.flow_m3_s) * wide)
        return replace(feed, screen=Screen(own + more, 1.0, UNIT_VISCOSITY), reference=reference)

    side = pressure_side(worn, Points(rpm, oil_k), altered=altered)
    return side.gallery_pa, side.gauge_pa(0)


def _against(plan: Plan, truth: Plan) -> tuple[float, float, float, float]:
    """Return what a new car is against its plan, hot and at speed: the logarithms of its gallery pressure, did the relief not open, and of its passage, the resistance of its line less
    the plan's [units of closing], and what its tap is off by [Pa]: a gauge at the inlet cannot tell that from its own zero."""
    rpm, oil = (np.array([v]) for v in points_of(plan, "hot speed"))
    # its own oil's thickness is another matter: compared on the plan's oil
    truth = plan.model_copy(update={n: getattr(truth, n) for n in ("engine", "taps", "trunk", "turbos")})
    one, two = pressure_side(plan, Points(rpm, oil)), pressure_side(truth, Points(rpm, oil))
    laws = [assemble.source_fit(it) for it in (plan, truth)]
    x = source.scaled_speed(rpm / 60.0, dynamic_viscosity(assemble.oil_of(plan), oil))
    strength = float(
        np.log(source.unrelieved_pressure(laws[1], x)[0] / source.unrelieved_pressure(laws[0], x)[0])
    )
    per_root = [s.branches[0].flow_m3_s[0] / np.sqrt(s.gauge_pa(0)[0]) for s in (one, two)]
    before = []
    for it, s in ((plan, one), (truth, two)):
        mu = float(dynamic_viscosity(assemble.oil_of(it), oil[0]))
        lost = s.tap_pa[0] - s.gauge_pa(0)[0]
        before.append(lost / s.branches[0].flow_m3_s[0] / (mu / UNIT_VISCOSITY) / UNIT_PA_S_M3)
    offsets = [si(it.taps[it.tap], "offset_kpa") for it in (plan, truth)]
    return (
        strength,
        float(np.log(per_root[1] / per_root[0])),
        float(before[1] - before[0]),
        offsets[1] - offsets[0],
    )
