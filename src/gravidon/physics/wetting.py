# SPDX-License-Identifier: GPL-3.0-or-later
"""How a line and a housing fill in the seconds of a corner, a braking or a lift of the throttle: oil that comes from the turbo and from
the pan, and gas that has to leave past the rings."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array

SLOSH_PERIOD_S = 0.7
"""[s] in which the oil of a pan swings once: half a wave over 300 mm of pan, 80 mm deep; from memory of the linear wave."""
SLOSH_DAMPING = 0.2
"""[-] of critical damping: the first peak is 1.5 times the resting tilt, of 1.4 to 1.7 that are told; from memory, no source."""
RING_DISCHARGE = 0.6
"""[-] of an annular gap with sharp edges; common practice, no source."""
AIR_KG_M3 = 1.0
"""[kg/m³] of hot gas at a bearing: air at 80 °C."""
STEPS = 48
"""Steps of the balance over its time, shorter at its beginning; project choice: half as many move a time to wet by less than 3 %."""


@dataclass(frozen=True)
class Vessel:
    """The room of a line and its housing over the lowest point: heights [m] and the volume below them [m³], (levels, states) both,
    rising; and the volume at which a seal is reached [m³], (states,)."""

    level_m: Array
    volume_m3: Array
    seal_m3: Array


@dataclass(frozen=True)
class Drive:
    """What fills it, (states,) each.

    Fields: bulk flow from the turbo [m³/s]; level that all comes to rest at [m]; the level the drain ends in, at first and at last [m]
    (equal where it does not slosh); head that the line takes for its flow [s/m²] and for its square [s²/m⁵]; head that gas takes past the
    rings for the square of its flow [s²/m⁵], 0 where it leaves freely.
    """

    flow_m3_s: Array
    rest_m: Array
    end_first_m: Array
    end_last_m: Array
    head_linear: Array
    head_square: Array
    gas_square: Array


@dataclass(frozen=True)
class Filled:
    """What becomes of it, (states,): seconds until a seal is reached (inf: not in the time), oil in the vessel when the time is over
    [m³], and how much of it came beyond the seal [m³]."""

    seconds: Array
    oil_m3: Array
    over_m3: Array


def sloshed(seconds: ArrayLike) -> Array:
    """Return which share of its new tilt a pan's oil stands at after so many seconds [-], same shape: late at first, then beyond it.

    Equation: 1 - exp(-z w t) (cos(w' t) + z/sqrt(1 - z²) sin(w' t)), the answer of a damped swing to a step.

    Args:
        seconds: since the push began [s].

    Raises: nothing.
    Source: linear oscillator, exact; period and damping from memory.

    >>> float(sloshed(0.0)), round(float(sloshed(0.357)), 2)
    (0.0, 1.53)
    """
    t = np.asarray(seconds, dtype=np.float64)
    omega = 2.0 * np.pi / SLOSH_PERIOD_S
    fast = omega * np.sqrt(1.0 - SLOSH_DAMPING**2)
    share = SLOSH_DAMPING / np.sqrt(1.0 - SLOSH_DAMPING**2)
    result: Array = 1.0 - np.exp(-SLOSH_DAMPING * omega * t) * (np.cos(fast * t) + share * np.sin(fast * t))
    return result


def ring_head(area_m2: ArrayLike, froth_density_kg_m3: ArrayLike, gravity_m_s2: ArrayLike) -> Array:
    """Return the head of froth that gas takes to leave past the rings, for the square of its flow [s²/m⁵], broadcast shape.

    Equation: rho_gas / (2 (C A)²) / (rho_froth g).

    Args:
        area_m2: gap area of both sides' rings together [m²].
        froth_density_kg_m3: bulk density [kg/m³].
        gravity_m_s2: effective gravity [m/s²].

    Raises: nothing.
    Source: Bernoulli, incompressible: some hundred pascals are little beside the air's own pressure.

    >>> round(float(ring_head(1e-6, 500.0, 9.81) * (50e-6) ** 2), 2)
    0.71
    """
    gap = RING_DISCHARGE * np.asarray(area_m2, dtype=np.float64)
    result: Array = AIR_KG_M3 / (2.0 * gap**2) / (np.asarray(froth_density_kg_m3) * np.asarray(gravity_m_s2))
    return result


def fill(vessel: Vessel, drive: Drive, start_m3: ArrayLike, lasts_s: ArrayLike) -> Filled:
    """Return how a vessel fills in a time.

    Equation: dV/dt = Q + Qline; rest(t) - z(V) = a Qline + b Qline |Qline| + loss(Q) + c (Q + Qline)|Q + Qline|, loss(Q) = a Q + b Q²:
    at rest, Qline = -Q, the level is the one that the march finds. Implicit Euler, each step's flow in closed form; c is that of gas
    which has to make room.

    Args:
        vessel: the room, (levels, states).
        drive: what fills it, (states,).
        start_m3: oil in the vessel at first [m³], (states,).
        lasts_s: the time [s], (states,).

    Raises: nothing.
    Source: mass balance; Hagen-Poiseuille and velocity heads in the line.
    """
    count = len(vessel.seal_m3)
    q, a, b, c = drive.flow_m3_s, drive.head_linear, drive.head_square, drive.gas_square
    volume = np.broadcast_to(np.asarray(start_m3, dtype=np.float64), (count,)).copy()
    lasts = np.broadcast_to(np.asarray(lasts_s, dtype=np.float64), (count,))
    own = a * q + b * q * q
    seconds, over = np.full(count, np.inf), np.zeros(count)
    seconds[volume >= vessel.seal_m3] = 0.0
    before = np.zeros(count)
    columns = np.arange(count)
    for k in range(1, STEPS + 1):
        now = lasts * (k / STEPS) ** 1.5
        step = now - before
        upper = np.clip((vessel.volume_m3 < volume).sum(axis=0), 1, len(vessel.volume_m3) - 1)
        low_z, high_z = vessel.level_m[upper - 1, columns], vessel.level_m[upper, columns]
        low_v, high_v = vessel.volume_m3[upper - 1, columns], vessel.volume_m3[upper, columns]
        slope = (high_z - low_z) / np.maximum(high_v - low_v, 1e-12)
        level = low_z + slope * (volume - low_v)
        lag = (drive.end_last_m - drive.end_first_m) * (sloshed(now) - 1.0)
        head = drive.rest_m + lag - level - own
        line = _line_flow(head, a, b, c, slope * step, q)
        after = np.maximum(volume + step * (q + line), 0.0)
        reached = np.isinf(seconds) & (after >= vessel.seal_m3)
        share = (vessel.seal_m3 - volume) / np.maximum(after - volume, 1e-15)
        seconds = np.where(reached, before + np.clip(share, 0.0, 1.0) * step, seconds)
        over = np.maximum(over, after - vessel.seal_m3)
        volume, before = after, now
    return Filled(seconds, volume, np.maximum(over, 0.0))


def _line_flow(head: Array, a: Array, b: Array, c: Array, room: Array, q: Array) -> Array:
    """Return the flow y in the line [m³/s] (states,) of head = a y + b y|y| + c (q + y)|q + y| + room (q + y), which rises with y.

    A quadratic in each of three ranges: y forward, y between nothing and -q, all of it backward. Each is solved for the distance
    from the range's end, so that nothing cancels.
    """
    forward = head - c * q * q - room * q
    backward = head + a * q + b * q * q
    steep = a + room + 2.0 * c * q

    def root(square: Array, linear: Array, constant: Array) -> Array:
        far = np.sqrt(np.maximum(linear * linear + 4.0 * square * constant, 0.0))
        result: Array = 2.0 * constant / np.maximum(linear + far, 1e-30)
        return result

    ahead = root(b + c, steep, np.maximum(forward, 0.0))
    between = -root(b - c, steep, np.maximum(-forward, 0.0))
    behind = -q - root(b + c, a + room + 2.0 * b * q, np.maximum(-backward, 0.0))
    result: Array = np.where(forward >= 0.0, ahead, np.where(backward >= 0.0, between, behind))
    return result
