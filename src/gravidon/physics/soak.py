# SPDX-License-Identifier: GPL-3.0-or-later
"""Heat soak after key-off: turbine housing and bearing housing as two lumps that share their heat."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array


@dataclass(frozen=True)
class Lumps:
    """Two lumps of metal and what they exchange heat with.

    Args:
        turbine_j_k, bearing_j_k: heat capacity of each [J/K].
        between_w_k: conductance from one to the other [W/K].
        turbine_air_w_k, bearing_air_w_k: conductance of each to the air under the bonnet [W/K].
        air_k: that air's temperature [K].
        gas_w_k, gas_k: conductance of the turbine housing to the exhaust gas [W/K], and the gas's temperature [K].
        coolant_w_k, coolant_k: conductance of the bearing housing to what cools it, oil or water [W/K], and its temperature [K].
    """

    turbine_j_k: float
    bearing_j_k: float
    between_w_k: float
    turbine_air_w_k: float
    bearing_air_w_k: float
    air_k: float
    gas_w_k: float = 0.0
    gas_k: float = 293.15
    coolant_w_k: float = 0.0
    coolant_k: float = 293.15


def temperatures(lumps: Lumps, start_k: ArrayLike, seconds: ArrayLike) -> Array:
    """Return turbine and bearing housing temperature [K] at times after the start, (2, ..., times).

    Equation: C dT/dt = sum of G (T_other - T) for each lump (lumped capacitance); linear, so exactly by eigenvalues.

    Args:
        lumps: the metal and what it is in touch with.
        start_k: turbine and bearing housing at time 0 [K], shape (2, ...).
        seconds: times [s], shape (times,).

    Raises: nothing.
    Source: lumped capacitance, Incropera and DeWitt.

    >>> alone = Lumps(2000.0, 1000.0, 2.0, 0.0, 0.0, 300.0)
    >>> [round(float(t)) for t in temperatures(alone, (900.0, 300.0), [1e5])[:, 0]]
    [700, 700]
    """
    c = np.array([lumps.turbine_j_k, lumps.bearing_j_k])
    out = np.array([lumps.turbine_air_w_k + lumps.gas_w_k, lumps.bearing_air_w_k + lumps.coolant_w_k])
    brought = np.array(
        [
            lumps.turbine_air_w_k * lumps.air_k + lumps.gas_w_k * lumps.gas_k,
            lumps.bearing_air_w_k * lumps.air_k + lumps.coolant_w_k * lumps.coolant_k,
        ]
    )
    g = lumps.between_w_k
    matrix = np.array([[-(g + out[0]), g], [g, -(g + out[1])]]) / c[:, None]
    values, vectors = np.linalg.eig(matrix)
    inverse = np.linalg.inv(vectors)
    start = np.asarray(start_k, dtype=float)
    drive, begin = inverse @ (brought / c), inverse @ start.reshape(2, -1)
    t = np.atleast_1d(np.asarray(seconds, dtype=float))
    rate = values[:, None] * t
    # (exp(x) - 1)/x, 1 where the lumps lose nothing and the eigenvalue is zero
    grown = np.where(np.abs(rate) > 1e-12, np.expm1(rate) / np.where(rate == 0.0, 1.0, rate), 1.0)
    modes = begin[:, :, None] * np.exp(rate)[:, None] + (drive[:, None] * t * grown)[:, None]
    result: Array = np.tensordot(vectors, modes, axes=1).reshape(*start.shape, len(t))
    return result
