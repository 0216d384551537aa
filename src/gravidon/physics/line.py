"""Hose, tube and fittings under pressure."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array, array

HOOPER_ELBOW_90 = (800.0, 0.40)
"""(K1, K∞) of a screwed standard 90° elbow; published (Hooper 1981, table 1)."""
HOOPER_ELBOW_45 = (500.0, 0.20)
"""(K1, K∞) of a standard 45° elbow; published (Hooper 1981, table 1)."""
HOOPER_TEE_THROUGH = (200.0, 0.10)
"""(K1, K∞) of a screwed tee run through; published (Hooper 1981, table 1)."""
HOOPER_TEE_BRANCH = (500.0, 0.70)
"""(K1, K∞) of a screwed tee used as an elbow; published (Hooper 1981, table 1)."""

_INCH = 0.0254


def friction_factor_churchill(reynolds: ArrayLike, relative_roughness: ArrayLike = 0.0) -> Array:
    """Return the Darcy friction factor [-], all flow regimes, broadcast shape.

    Equation: f = 8 ((8/Re)^12 + (A + B)^-1.5)^(1/12),
    A = (2.457 ln(1/((7/Re)^0.9 + 0.27 e/D)))^16, B = (37530/Re)^16.

    Args:
        reynolds: Reynolds number [-]; below 1e-6 the value at 1e-6 is returned.
        relative_roughness: roughness height over bore [-].

    Raises: nothing.
    Source: Churchill 1977, Chemical Engineering 84 (24).

    >>> round(float(friction_factor_churchill(100.0)), 4)
    0.64
    """
    re = np.maximum(np.asarray(reynolds, dtype=np.float64), 1e-6)
    rough = np.asarray(relative_roughness, dtype=np.float64)
    log_re = np.log(re)
    a = -2.457 * np.log(np.exp(0.9 * (np.log(7.0) - log_re)) + 0.27 * rough)
    b = 37530.0 / re
    laminar = 8.0 / re
    for _ in range(4):  # sixteenth powers by squaring: several times faster than np.power
        a = a * a
        b = b * b
    square = laminar * laminar
    fourth = square * square
    turbulent = a + b
    total = fourth * fourth * fourth + 1.0 / (turbulent * np.sqrt(turbulent))
    result: Array = 8.0 * np.sqrt(np.sqrt(np.cbrt(total)))
    return result


def loss_coefficient_hooper(
    reynolds: ArrayLike, k1: ArrayLike, k_infinity: ArrayLike, bore_m: ArrayLike
) -> Array:
    """Return a fitting's loss coefficient K [-] in velocity heads, broadcast shape.

    Equation: K = K1/Re + Kinf (1 + 1/D), D in inches.

    Args:
        reynolds: Reynolds number [-].
        k1: laminar constant [-].
        k_infinity: turbulent constant [-].
        bore_m: bore [m].

    Raises: PhysicsError for a bore outside 0.1-500 mm.
    Source: Hooper 1981, Chemical Engineering 88 (17).

    >>> round(float(loss_coefficient_hooper(1000.0, 800.0, 0.4, 0.0254)), 2)
    1.6
    """
    bore = array("bore_m", bore_m, 1e-4, 0.5, "m")
    re = np.maximum(np.asarray(reynolds, dtype=np.float64), 1e-6)
    result: Array = np.asarray(k1) / re + np.asarray(k_infinity) * (1.0 + _INCH / bore)
    return result


def line_drop(
    flow_m3_s: ArrayLike,
    bore_m: ArrayLike,
    length_m: ArrayLike,
    density_kg_m3: ArrayLike,
    viscosity_pa_s: ArrayLike,
    k1: ArrayLike = 0.0,
    k_infinity: ArrayLike = 0.0,
    roughness_m: float = 1.5e-6,
) -> Array:
    """Return the pressure drop [Pa] of a straight line with its fittings, broadcast shape.

    Equation: drop = (f L/D + K) rho V²/2, f Churchill, K Hooper.

    Args:
        flow_m3_s: flow [m³/s], not negative.
        bore_m: bore [m].
        length_m: length [m].
        density_kg_m3: density [kg/m³].
        viscosity_pa_s: dynamic viscosity [Pa·s].
        k1: sum of the fittings' K1 [-].
        k_infinity: sum of the fittings' K∞ [-].
        roughness_m: wall roughness [m]; drawn tube, from memory.

    Raises: PhysicsError for a bore outside 0.1-500 mm.
    Source: Darcy-Weisbach; Churchill 1977; Hooper 1981.

    >>> round(float(line_drop(1e-5, 5.5e-3, 1.0, 815.0, 9.4e-3)))
    4185
    """
    bore = array("bore_m", bore_m, 1e-4, 0.5, "m")
    q = np.asarray(flow_m3_s, dtype=np.float64)
    velocity = q / (np.pi / 4.0 * bore * bore)
    re = np.asarray(density_kg_m3) * velocity * bore / np.asarray(viscosity_pa_s)
    friction = friction_factor_churchill(re, roughness_m / bore) * np.asarray(length_m) / bore
    fittings = loss_coefficient_hooper(re, k1, k_infinity, bore)
    result: Array = (friction + fittings) * 0.5 * np.asarray(density_kg_m3) * velocity * velocity
    return result
