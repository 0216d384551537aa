# SPDX-License-Identifier: GPL-3.0-or-later
"""Hose, tube and fittings under pressure."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import Array, array

HOOPER_ELBOW_90 = (800.0, 0.40)
"""(K1, K∞) of a screwed standard 90° elbow; published (Hooper 1981, table 1)."""
HOOPER_ELBOW_45 = (500.0, 0.20)
"""(K1, K∞) of a standard 45° elbow; published (Hooper 1981, table 1)."""
HOOPER_RETURN = (1000.0, 0.60)
"""(K1, K∞) of a screwed 180° return; published (Hooper 1981, table 1)."""
HOOPER_TEE_THROUGH = (200.0, 0.10)
"""(K1, K∞) of a screwed tee run through; published (Hooper 1981, table 1)."""
HOOPER_TEE_BRANCH = (500.0, 0.70)
"""(K1, K∞) of a screwed tee used as an elbow; published (Hooper 1981, table 1)."""

_INCH = 0.0254


def curved_ratio(reynolds: ArrayLike, bore_m: ArrayLike, bend_radius_m: ArrayLike) -> Array:
    """Return how much more a bent pipe loses to laminar friction than a straight one [-], broadcast shape.

    Equation: 1/(1 - (1 - (11.6/De)^0.45)^(1/0.45)) above De = 11.6, else 1; De = Re sqrt(D/(2 R)).

    Args:
        reynolds: Reynolds number [-].
        bore_m: bore [m].
        bend_radius_m: radius of the bend's centreline [m]; inf for a straight pipe.

    Raises: nothing.
    Valid: laminar, De up to 2000.
    Source: White 1929, Proceedings of the Royal Society A 123.

    >>> round(float(curved_ratio(500.0, 0.014, 0.07)), 2)
    1.79
    """
    share = np.asarray(bore_m) / (2.0 * np.asarray(bend_radius_m, dtype=np.float64))
    dean = np.maximum(np.asarray(reynolds, dtype=np.float64) * np.sqrt(share), 11.6)
    inner = 1.0 - (11.6 / dean) ** 0.45
    result: Array = 1.0 / (1.0 - inner ** (1.0 / 0.45))
    return result


def elbow_hooper(angle_deg: float) -> tuple[float, float]:
    """Return (K1, K∞) [-] of an elbow of any angle: between Hooper's 0, 45, 90 and 180° in a straight line.

    Equation: linear interpolation over the angle.

    Args:
        angle_deg: by how much it turns the flow [°].

    Raises: nothing.
    Source: Hooper 1981, table 1.

    >>> elbow_hooper(90.0)
    (800.0, 0.4)
    """
    angles = (0.0, 45.0, 90.0, 180.0)
    ends = ((0.0, 0.0), HOOPER_ELBOW_45, HOOPER_ELBOW_90, HOOPER_RETURN)
    k1, k_infinity = (float(np.interp(angle_deg, angles, column)) for column in zip(*ends, strict=True))
    return k1, k_infinity


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


def fitting_head(
    velocity_m_s: ArrayLike,
    bore_m: ArrayLike,
    kinematic_m2_s: ArrayLike,
    gravity_m_s2: ArrayLike,
    k1: ArrayLike,
    k_infinity: ArrayLike,
) -> Array:
    """Return the head [m] that oil loses in a fitting at its own speed, broadcast shape.

    Equation: K V²/(2 g), K of `loss_coefficient_hooper` with Re = V D/nu.

    Args:
        velocity_m_s: speed in the fitting [m/s].
        bore_m: bore [m].
        kinematic_m2_s: kinematic viscosity [m²/s].
        gravity_m_s2: effective gravity [m/s²].
        k1: laminar constant [-].
        k_infinity: turbulent constant [-].

    Raises: nothing.
    Source: Hooper 1981.

    >>> round(float(fitting_head(0.3, 0.0143, 30e-6, 9.81, 800.0, 0.4)) * 1e3)
    31
    """
    v, bore = np.asarray(velocity_m_s, dtype=np.float64), np.asarray(bore_m, dtype=np.float64)
    slow = np.asarray(k1) * np.asarray(kinematic_m2_s) / bore
    result: Array = (
        (slow + np.asarray(k_infinity) * (1.0 + _INCH / bore) * v) * v / (2.0 * np.asarray(gravity_m_s2))
    )
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
