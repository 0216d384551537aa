# SPDX-License-Identifier: GPL-3.0-or-later
"""How a turbo's drain and housing fill where a seal would be wet: the room there is, what comes, and what has to make way."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from gravidon.physics import attitude, part_full, wetting
from gravidon.physics import drain as drains
from gravidon.physics.arrays import Array
from gravidon.physics.wetting import Drive, Filled, Vessel
from gravidon.plan.fields import si

if TYPE_CHECKING:
    from gravidon.study.solve.gravity import Drainage

NO_SUMP_M = -9.0
"""[m] a sump level so low that it plays no part."""
LEVELS = 72
"""Heights at which the room of a line is known; project choice."""
LONGEST_S = 60.0
"""[s] for which the filling of a state that lasts is followed; project choice."""
AT_ONCE = 256
"""States that are followed at once: a drive has thousands; project choice."""
LEAST_CAVITY_M = 0.004
"""[m] least height of a housing below its seal for which its room counts: a leaning one keeps some; project choice."""


def filling(
    d: Drainage, chosen: np.ndarray, start_m3: Array | None = None, lasts_s: Array | None = None
) -> Filled:
    """Return how line and housing fill in some states, (states,); nothing comes in the others.

    Line and housing fill by what comes from turbo and pan, while gas leaves past the rings where the line is shut; and the cavity by the
    pond over its flange, the slower the nearer it comes to that: whichever is sooner, and brings more.

    Args:
        d: the gravity side of the states.
        chosen: which states.
        start_m3: oil in the line at first [m³], (states,); by default its running oil alone.
        lasts_s: how long each lasts [s], (states,); by default as long as the state does.
    """
    count = len(d.freeboard_m)
    seconds, oil, over = np.full(count, np.inf), np.zeros(count), np.zeros(count)
    lasts_s = np.minimum(d.stand.seconds if lasts_s is None else lasts_s, LONGEST_S)
    rows = np.flatnonzero(chosen)
    for at in (rows[k : k + AT_ONCE] for k in range(0, len(rows), AT_ONCE)):
        begun = np.zeros(len(at)) if start_m3 is None else start_m3[at]
        vessel, cavity = _vessel(d, at)
        shut = wetting.fill(vessel, _drive(d, at), begun, lasts_s[at])
        pond_s, pond_m3 = _by_the_pond(d, at, cavity, lasts_s[at])
        seconds[at] = np.minimum(pond_s, shut.seconds)
        oil[at] = shut.oil_m3
        over[at] = np.maximum(pond_m3, shut.over_m3)
    return Filled(seconds, oil, over)


def _by_the_pond(d: Drainage, at: np.ndarray, cavity: float, lasts: Array) -> tuple[Array, Array]:
    """Return when the pond over the flange alone reaches a seal [s] (inf: never), and how much it brings beyond it [m³]."""
    q = np.maximum(d.line.froth.flow_m3_s[at], 1e-12)
    pond = np.maximum(d.backwater.pond_m[at], 1e-9)
    over_seal = d.stand.up[at] @ d.line.route.stations_m[0] + pond - d.seal_level_m[at]
    wets = over_seal > 0.0
    full_s = cavity * drains.filling_slowed(np.where(wets, 1.0 - over_seal / pond, 0.5)) / q
    most = cavity * over_seal / np.maximum(pond - over_seal, LEAST_CAVITY_M)
    beyond = np.minimum(np.maximum(lasts - full_s, 0.0) * q, most)
    return np.where(wets, full_s, np.inf), np.where(wets, beyond, 0.0)


def shut_up_to(d: Drainage) -> Array:
    """Return the height up to which oil fills a line without a gap [m], (states,): all of it comes to rest there."""
    full = d.backwater.full
    level = np.where(full, d.backwater.grade_line_m, -np.inf).max(axis=0)
    level = np.where(full[0], d.backwater.housing_level_m, level)
    result: Array = np.maximum(level, d.sump_level_m)
    return result


def _vessel(d: Drainage, wet: np.ndarray) -> tuple[Vessel, float]:
    """Return the room of line and housing in those states, and that of the cavity below the seal alone [m³]."""
    line, stand = d.line.rows(wet), d.stand.rows(wet)
    route, carries = line.route, d.carries.rows(wet)
    count = len(stand.air)
    # marched upright with no sump, for the room that the running oil leaves
    upright = np.repeat(route.stations_m[:, 2:], count, axis=1)
    running = drains.march(
        route.run(upright, carries.stream),
        carries.flow_m3_s,
        carries.kinematic_m2_s,
        stand.gravity_m_s2,
        np.full(count, NO_SUMP_M),
    )
    free = 1.0 - part_full.area_fraction(np.clip(running.fill[:-1], 0.0, 1.0))
    room = free * (np.pi / 4.0 * route.bore_m**2 * route.length_m)[:, None]
    if line.it.drain_by == "scavenge":
        room[-1] += si(line.it.scavenge, "pot_ml")
    heights = attitude.height(stand.up, route.stations_m)
    low = np.minimum(heights[:-1], heights[1:]) - 0.5 * route.bore_m[:, None]
    high = np.maximum(heights[:-1], heights[1:]) + 0.5 * route.bore_m[:, None]
    seal = np.maximum(d.seal_level_m[wet], heights[0] + LEAST_CAVITY_M)
    top = np.maximum(d.backwater.housing_level_m[wet], seal) + 0.05
    bottom = low.min(axis=0)
    level = bottom + np.linspace(0.0, 1.0, LEVELS)[:, None] * (top - bottom)
    share = np.clip((level[:, None] - low) / (high - low), 0.0, 1.0)
    cavity = si(line.it.turbo, "cavity_ml")
    volume = (share * room).sum(axis=1) + cavity * np.maximum((level - heights[0]) / (seal - heights[0]), 0.0)
    volume += np.linspace(0.0, 1e-9, LEVELS)[:, None]
    at_seal = np.array([np.interp(seal[k], level[:, k], volume[:, k]) for k in range(count)])
    return Vessel(level, volume, at_seal), cavity


def _drive(d: Drainage, wet: np.ndarray) -> Drive:
    """Return what fills a line in those states."""
    line, stand, route = d.line.rows(wet), d.stand.rows(wet), d.line.route
    carries = d.carries.rows(wet)
    nu, g = carries.kinematic_m2_s[-1], stand.gravity_m_s2
    flow = carries.comes_m3_s
    if line.it.drain_by == "scavenge" and line.stream.pumped_m3_s is not None:
        flow = np.maximum(flow - line.stream.pumped_m3_s, 0.0)
    laminar = float((128.0 * route.length_m / (np.pi * route.bore_m**4)).sum())
    area = np.pi / 4.0 * float(route.bore_m.min()) ** 2
    density = line.froth.density_kg_m3
    rings = wetting.ring_head(si(line.it.turbo, "ring_gap_mm2"), density, g)
    sealed = d.backwater.sealed[wet]
    # boost comes in past the rings, and holds down what shuts the line
    held_down = np.where(
        sealed, np.maximum(stand.wheel_side_pa - stand.crankcase_pa, 0.0) / (density * g), 0.0
    )
    return Drive(
        flow_m3_s=flow,
        rest_m=shut_up_to(d)[wet] - held_down,
        end_first_m=np.minimum(d.rest_level_m[wet], d.sump_level_m[wet]),
        end_last_m=d.sump_level_m[wet],
        head_linear=laminar * nu / g,
        head_square=(route.mouth_loss + drains.EXIT_LOSS) / (2.0 * g * area**2),
        gas_square=np.where(sealed, rings, 0.0),
    )
