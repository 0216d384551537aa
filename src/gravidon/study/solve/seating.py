# SPDX-License-Identifier: GPL-3.0-or-later
"""How a turbo sits: tilt and clock against their limits, each seal's freeboard, oil that stays lying, hidden bolts."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from gravidon.physics import attitude, seat
from gravidon.physics.arrays import Array, Flags
from gravidon.plan.fields import Known, si
from gravidon.plan.model import Plan, TurboLine
from gravidon.study.solve.drain_route import flange_centre, housing_frame, seal_centres, shaft_centre
from gravidon.study.solve.evaluate import Evaluation

USE_FACTOR = {"street": 1.0, "circuit": 1.15, "drag": 1.5}
"""[-] on a common-practice limit of tilt and clock, by how long the car runs; common practice, no source."""
SOCKET_M = 0.010
"""[m] room a spanner needs beside what is bolted to the drain; common practice, no source."""
EARS_M = 0.022
"""[m] by which a drain flange is wider than its bore; common practice, no source."""


@dataclass(frozen=True)
class Seating:
    """A turbo's seat.

    Fields: housing axes as rows (along the shaft, sideways, top); tilt and clock with their limits [rad];
    freeboard of the turbine's and the compressor's seal [m], (2, states); how far below the lower seal oil
    stays that cannot leave once the flow has stopped [m], (states,); bolts [rad from straight down] and which of them hide behind the fitting.
    """

    frame: Array
    tilt_rad: float
    tilt_limit_rad: float
    clock_rad: float
    clock_limit_rad: float
    seal_freeboard_m: Array
    stays_below_seal_m: Array
    bolts_rad: tuple[float, ...]
    bolts_hidden: tuple[bool, ...]

    @property
    def seal_wet(self) -> Flags:
        """Whether oil stands at each seal, (2, states)."""
        return np.asarray(self.seal_freeboard_m < 0.0)


def limit_rad(plan: Plan, known: Known) -> float:
    """Return a limit of tilt or clock [rad]: the maker's as it stands, common practice by the car's use."""
    factor = USE_FACTOR[plan.use] if known.basis == "guess" else 1.0
    return float(np.radians(min(known.value * factor, 180.0)))


def fitting_width_m(it: TurboLine) -> float:
    """Return the width [m] of what is bolted under the housing, with room for a socket."""
    return si(it.drain, "flange_bore_mm") + EARS_M + SOCKET_M


def feed_port(it: TurboLine) -> Array:
    """Return where the oil goes in [m]: on top of the housing, as far above the shaft as half the drain is below."""
    port: Array = shaft_centre(it) + housing_frame(it)[2] * 0.62 * si(it.turbo, "shaft_height_mm")
    return port


@lru_cache(maxsize=16)
def seating(e: Evaluation) -> Seating:
    """Return how the evaluation's turbo sits in every condition."""
    it, up = e.line, e.drainage.up
    turbo = it.turbo
    frame = housing_frame(it)
    seals, axis = seal_centres(it)
    radius = 0.5 * si(turbo, "seal_diameter_mm")
    lowest = np.stack([attitude.lowest_of_bore(up, s, axis, radius) for s in seals])
    mouth = flange_centre(it)
    lip = seat.lip_height(up, mouth, frame[2], 0.5 * si(it.drain, "flange_bore_mm"))
    bolts = turbo.bolts
    places, hidden = seat.hidden_bolts(
        bolts.count,
        si(bolts, "first_deg"),
        si(bolts, "circle_mm"),
        si(turbo, "clock_deg"),
        fitting_width_m(it),
    )
    return Seating(
        frame=frame,
        tilt_rad=abs(si(turbo, "pitch_deg")),
        tilt_limit_rad=limit_rad(e.plan, turbo.tilt_max_deg),
        clock_rad=abs(si(turbo, "clock_deg")),
        clock_limit_rad=limit_rad(e.plan, turbo.clock_max_deg),
        seal_freeboard_m=lowest - e.drainage.backwater.housing_level_m,
        stays_below_seal_m=lowest.min(axis=0) - lip,
        bolts_rad=places[: bolts.count],
        bolts_hidden=hidden[: bolts.count],
    )


@dataclass(frozen=True)
class CavityOil:
    """Share of the cavity under oil [-], and what stays lying once the flow has stopped [m³]; both (states,)."""

    pond_share: Array
    stays_m3: Array


@lru_cache(maxsize=16)
def cavity_oil(e: Evaluation) -> CavityOil:
    """Return the oil in the evaluation's cavity in every condition."""
    it, up = e.line, e.drainage.up
    frame, mouth = housing_frame(it), flange_centre(it)
    felt, base = up @ frame.T, up @ mouth
    args = (si(it.turbo, "seal_spacing_mm"), si(it.turbo, "shaft_height_mm"), si(it.drain, "flange_bore_mm"))
    lip = seat.lip_height(up, mouth, frame[2], 0.5 * args[2])
    return CavityOil(
        seat.cavity_share_below(felt, e.drainage.backwater.housing_level_m - base, *args),
        si(it.turbo, "cavity_ml") * seat.cavity_share_below(felt, lip - base, *args),
    )
