# SPDX-License-Identifier: GPL-3.0-or-later
"""Part-full flow of viscous froth in a round drain: geometry, friction slope, critical depth."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics.arrays import STANDARD_GRAVITY, Array, Flags, array
from gravidon.physics.line import friction_factor_churchill
from gravidon.physics.part_full_table import FILL_STEP, FLOW_RATIO
from gravidon.physics.validity import PART_FULL_REYNOLDS

_FILLS = 80
FILL_GRID: Array = np.linspace(0.0, 1.0, _FILLS + 1)[1:] ** 1.5
"""Fills h/D at which friction slopes are tabulated, denser towards an almost empty pipe."""

ORIFICE_COEFFICIENT = 0.61
"""[-] sharp-edged orifice; from memory."""


def wetted_angle(fill: ArrayLike) -> Array:
    """Return the angle [rad] the wetted arc spans at the centre, same shape.

    Equation: theta = 2 arccos(1 - 2 h/D).

    Args:
        fill: h/D [-], 0 to 1.

    Raises: PhysicsError outside 0-1.
    Source: geometry of the circular segment.

    >>> round(float(wetted_angle(0.5)), 4)
    3.1416
    """
    f = array("fill", fill, 0.0, 1.0, "")
    result: Array = 2.0 * np.arccos(1.0 - 2.0 * f)
    return result


def area_fraction(fill: ArrayLike) -> Array:
    """Return wetted area over full area [-], same shape.

    Equation: (theta - sin theta)/(2 pi).

    Args:
        fill: h/D [-], 0 to 1.

    Raises: PhysicsError outside 0-1.
    Source: geometry of the circular segment.

    >>> float(area_fraction(0.5))
    0.5
    """
    theta = wetted_angle(fill)
    result: Array = (theta - np.sin(theta)) / (2.0 * np.pi)
    return result


FINE: Array = np.linspace(0.0, 1.0, 801)
FINE_AREA: Array = np.maximum(area_fraction(FINE), 1e-6)
"""Wetted area over fill, to be read between entries: off by less than 1e-5 above a fill of 0.01."""


def hydraulic_diameter_ratio(fill: ArrayLike) -> Array:
    """Return hydraulic diameter over bore [-], same shape; 0 for an empty pipe.

    Equation: Dh/D = 1 - sin(theta)/theta.

    Args:
        fill: h/D [-], 0 to 1.

    Raises: PhysicsError outside 0-1.
    Source: geometry, 4 area over wetted perimeter.

    >>> float(hydraulic_diameter_ratio(1.0))
    1.0
    """
    theta = wetted_angle(fill)
    result: Array = 1.0 - np.sinc(theta / np.pi)
    return result


def _shape_factors() -> tuple[Array, Array]:
    fills = np.arange(len(FLOW_RATIO)) * FILL_STEP
    ideal = area_fraction(fills[1:]) * hydraulic_diameter_ratio(fills[1:]) ** 2
    factors = np.asarray(FLOW_RATIO[1:]) / ideal
    factors = np.asarray(factors, dtype=np.float64)
    return fills.astype(np.float64), np.concatenate([[factors[0]], factors])


_SHAPE_FILLS, _SHAPE_FACTORS = _shape_factors()


def flow_ratio(fill: ArrayLike) -> Array:
    """Return Q/Q_full [-] of laminar part-full flow at a fill, same shape.

    Equation: tabulated solution of the Poisson problem on the circular segment; between entries
    the factor over (area)(hydraulic diameter)² is interpolated, which is smooth.

    Args:
        fill: h/D [-], 0 to 1.

    Raises: PhysicsError outside 0-1.
    Valid: see `validity.PART_FULL_REYNOLDS`.
    Source: the problem solved by finite differences (`tests/physics/part_full_solver.py`); exact at 0.5 and 1.

    >>> round(float(flow_ratio(0.5)), 6)
    0.5
    """
    f = array("fill", fill, 0.0, 1.0, "")
    ideal = area_fraction(f) * hydraulic_diameter_ratio(f) ** 2
    result: Array = ideal * np.interp(f, _SHAPE_FILLS, _SHAPE_FACTORS)
    return result


_GRID_RATIO = flow_ratio(FILL_GRID)
_GRID_AREA = area_fraction(FILL_GRID)
_GRID_HYDRAULIC = hydraulic_diameter_ratio(FILL_GRID)
_DEEPEST_CRITICAL = 0.9
_CRITICAL_FILLS = np.linspace(0.0, _DEEPEST_CRITICAL, 91)
_CRITICAL_FLOW = np.concatenate(
    [
        [0.0],
        (np.pi / 4.0 * area_fraction(_CRITICAL_FILLS[1:])) ** 1.5
        / np.sqrt(2.0 * np.sqrt(_CRITICAL_FILLS[1:] * (1.0 - _CRITICAL_FILLS[1:]))),
    ]
)


def full_flow(
    bore_m: ArrayLike,
    slope_sine: ArrayLike,
    kinematic_m2_s: ArrayLike,
    gravity_m_s2: ArrayLike = STANDARD_GRAVITY,
) -> Array:
    """Return the laminar flow [m³/s] of a just-full pipe on its own slope, broadcast shape.

    Equation: Q_full = pi D⁴ g sin(slope) / (128 nu).

    Args:
        bore_m: bore [m].
        slope_sine: sine of the slope [-], positive downhill.
        kinematic_m2_s: bulk kinematic viscosity [m²/s].
        gravity_m_s2: effective gravity [m/s²].

    Raises: PhysicsError for a bore outside 0.1-500 mm.
    Valid: laminar.
    Source: Hagen-Poiseuille.

    >>> round(float(full_flow(0.014, 0.342, 27e-6)) * 6e4, 1)
    7.0
    """
    bore = array("bore_m", bore_m, 1e-4, 0.5, "m")
    result: Array = (
        np.pi
        * bore**4
        * np.asarray(gravity_m_s2)
        * np.asarray(slope_sine)
        / (128.0 * np.asarray(kinematic_m2_s))
    )
    return result


def friction_slopes(
    flow_m3_s: ArrayLike, bore_m: ArrayLike, kinematic_m2_s: ArrayLike, gravity_m_s2: ArrayLike
) -> Array:
    """Return the friction slope [-] (head lost per length) at every fill of FILL_GRID.

    Equation: laminar S = (Q/q(h/D)) 128 nu/(pi D⁴ g); where Re leaves laminar the larger of
    that and Darcy f V²/(2 g Dh). A nearly full pipe carries more than a full one (q peaks near
    0.86); above the peak the least slope is kept, so that a rising level never needs more
    slope. The slope of a pipe running truly full is `full_friction_slope`.

    Args:
        flow_m3_s: bulk flow [m³/s], shape (...).
        bore_m: bore [m], shape (...).
        kinematic_m2_s: bulk kinematic viscosity [m²/s], shape (...).
        gravity_m_s2: effective gravity [m/s²], shape (...).

    Returns an array of shape (..., fills).
    Raises: nothing.
    Valid: see `validity.PART_FULL_REYNOLDS`.
    Source: Hagen-Poiseuille with the part-full table; Darcy-Weisbach on the hydraulic diameter.

    >>> slopes = friction_slopes(7.03e-3 / 60, 0.014, 27e-6, 9.80665)
    >>> round(float(slopes[-1] * 1.272), 2)
    0.34
    """
    q = np.asarray(flow_m3_s, dtype=np.float64)[..., None]
    bore = np.asarray(bore_m, dtype=np.float64)[..., None]
    nu = np.asarray(kinematic_m2_s, dtype=np.float64)[..., None]
    g = np.asarray(gravity_m_s2, dtype=np.float64)[..., None]
    slope: Array = q * (128.0 * nu / (np.pi * bore**4 * g)) / _GRID_RATIO
    velocity = q / (np.pi / 4.0 * bore * bore * _GRID_AREA)
    hydraulic = bore * _GRID_HYDRAULIC
    re = velocity * hydraulic / nu
    beyond = re > PART_FULL_REYNOLDS.high
    if beyond.any():
        head = (velocity * velocity / (2.0 * g * hydraulic))[beyond]
        slope[beyond] = np.maximum(slope[beyond], friction_factor_churchill(re[beyond]) * head)
    result: Array = np.minimum.accumulate(slope, axis=-1)
    return result


def full_friction_slope(
    flow_m3_s: ArrayLike, bore_m: ArrayLike, kinematic_m2_s: ArrayLike, gravity_m_s2: ArrayLike
) -> Array:
    """Return the friction slope [-] of a pipe running full, broadcast shape.

    Equation: the larger of laminar 128 nu Q/(pi D⁴ g) and, above laminar Re, f V²/(2 g D).

    Args:
        flow_m3_s: bulk flow [m³/s].
        bore_m: bore [m].
        kinematic_m2_s: bulk kinematic viscosity [m²/s].
        gravity_m_s2: effective gravity [m/s²].

    Raises: nothing.
    Source: Hagen-Poiseuille; Darcy-Weisbach with Churchill 1977.

    >>> round(float(full_friction_slope(7.03e-3 / 60, 0.014, 27e-6, 9.80665)), 3)
    0.342
    """
    q, bore, nu, g = (
        np.asarray(v, dtype=np.float64) for v in (flow_m3_s, bore_m, kinematic_m2_s, gravity_m_s2)
    )
    laminar = 128.0 * nu * q / (np.pi * bore**4 * g)
    velocity = q / (np.pi / 4.0 * bore * bore)
    re = velocity * bore / nu
    beyond = re > PART_FULL_REYNOLDS.high
    if not beyond.any():
        return np.asarray(laminar)
    darcy = friction_factor_churchill(re) * velocity * velocity / (2.0 * g * bore)
    return np.where(beyond, np.maximum(laminar, darcy), laminar)


def critical_fill(
    flow_m3_s: ArrayLike, bore_m: ArrayLike, gravity_m_s2: ArrayLike = STANDARD_GRAVITY
) -> Array:
    """Return the critical depth over bore [-] at a free outfall, broadcast shape.

    Equation: Q = sqrt(g A³/T) solved for h/D up to 0.9; 1 beyond, where the bore runs full.

    Args:
        flow_m3_s: bulk flow [m³/s].
        bore_m: bore [m].
        gravity_m_s2: effective gravity [m/s²].

    Raises: nothing.
    Source: open-channel critical flow (Chow 1959); full beyond 0.9 as in FHWA HEC-22.

    >>> round(float(critical_fill(0.5 * 9.80665**0.5 * 0.02**2.5, 0.02)), 2)
    0.72
    """
    number = _flow_number(flow_m3_s, bore_m, gravity_m_s2)
    weir = np.interp(number, _CRITICAL_FLOW, _CRITICAL_FILLS)
    result: Array = np.where(number > _CRITICAL_FLOW[-1], 1.0, weir)
    return result


def critical_head(
    flow_m3_s: ArrayLike,
    bore_m: ArrayLike,
    gravity_m_s2: ArrayLike = STANDARD_GRAVITY,
    jet_share: ArrayLike = ORIFICE_COEFFICIENT,
    loss: ArrayLike = 0.0,
) -> Array:
    """Return the energy [m] above the invert that it takes to enter a bore, broadcast shape.

    Equation: critical depth plus its velocity head, h + (1 + K) A/(2T), up to h/D = 0.9; beyond, an
    orifice, D/2 + Q²/(2 g Cc² A²), never less than the former at 0.9.

    Args:
        flow_m3_s: bulk flow [m³/s].
        bore_m: bore [m].
        gravity_m_s2: effective gravity [m/s²].
        jet_share: Cc, the stream's narrowest area over the bore's [-]; by default that of a sharp-edged hole in a wall.
        loss: K, velocity heads that the way in costs [-].

    Raises: nothing.
    Source: open-channel critical flow (Chow 1959); FHWA HEC-22 orifice form.

    >>> round(float(critical_head(1e-4, 0.02)) * 1e3, 1)
    23.0
    """
    number = _flow_number(flow_m3_s, bore_m, gravity_m_s2)
    shallow = np.clip(np.interp(number, _CRITICAL_FLOW, _CRITICAL_FILLS), 1e-6, _DEEPEST_CRITICAL)
    mean_depth = np.pi / 4.0 * area_fraction(shallow) / (2.0 * np.sqrt(shallow * (1.0 - shallow)))
    weir = shallow + 0.5 * (1.0 + np.asarray(loss)) * mean_depth
    orifice = 0.5 + number * number / (2.0 * (np.asarray(jet_share) * np.pi / 4.0) ** 2)
    energy = np.where(number > _CRITICAL_FLOW[-1], np.maximum(orifice, weir), weir)
    result: Array = np.asarray(bore_m) * energy * (np.asarray(flow_m3_s) > 0.0)
    return result


ENERGY_COEFFICIENT, MOMENTUM_COEFFICIENT = 2.0, 4.0 / 3.0
"""[-] alpha and beta of laminar flow in a round pipe, full or (by symmetry) half full; exact (Chow 1959, art. 2-7)."""


def centroid_moment(fill: ArrayLike) -> Array:
    """Return the first moment of the wetted segment about its surface over D³ [-], broadcast shape.

    Equation: A y/D³ = (3 s - s³ - 3 phi c)/24, s = sin phi, c = cos phi, phi half the wetted angle.

    Args:
        fill: depth over bore [-].

    Raises: nothing.
    Source: geometry of the circular segment (Chow 1959, art. 3-8).

    >>> round(float(centroid_moment(1.0)), 4)
    0.3927
    """
    half = 0.5 * wetted_angle(fill)
    s, c = np.sin(half), np.cos(half)
    result: Array = (3.0 * s - s**3 - 3.0 * half * c) / 24.0
    return result


def critical_parts(
    flow_m3_s: ArrayLike,
    bore_m: ArrayLike,
    gravity_m_s2: ArrayLike,
    jet_share: ArrayLike = ORIFICE_COEFFICIENT,
    loss: ArrayLike = 0.0,
) -> tuple[Array, Array]:
    """Return `critical_head` as its depth and its velocity head [m], each broadcast shape.

    Equation: as `critical_head`; the depth is what leans with the pipe, the velocity head does not.

    Args:
        flow_m3_s: bulk flow [m³/s].
        bore_m: bore [m].
        gravity_m_s2: effective gravity [m/s²].
        jet_share: stream's narrowest area over the bore's [-].
        loss: velocity heads that the way in costs [-].

    Raises: nothing.
    Source: open-channel critical flow (Chow 1959); FHWA HEC-22 orifice form.

    >>> depth, head = critical_parts(1e-4, 0.02, 9.80665)
    >>> round(float(depth + head) * 1e3, 1)
    23.0
    """
    number = _flow_number(flow_m3_s, bore_m, gravity_m_s2)
    shallow = np.clip(np.interp(number, _CRITICAL_FLOW, _CRITICAL_FILLS), 1e-6, _DEEPEST_CRITICAL)
    depth = np.where(number > _CRITICAL_FLOW[-1], 0.5, shallow)
    head = np.asarray(critical_head(flow_m3_s, bore_m, gravity_m_s2, jet_share, loss))
    deep = np.asarray(bore_m) * depth * (np.asarray(flow_m3_s) > 0.0)
    return np.minimum(deep, head), head - np.minimum(deep, head)


def _flow_number(flow_m3_s: ArrayLike, bore_m: ArrayLike, gravity_m_s2: ArrayLike) -> Array:
    """Return Q / sqrt(g D⁵) [-]."""
    bore = np.asarray(bore_m, dtype=np.float64)
    number: Array = np.asarray(flow_m3_s, dtype=np.float64) / (np.sqrt(np.asarray(gravity_m_s2)) * bore**2.5)
    return number


def normal_fill(
    flow_m3_s: ArrayLike,
    bore_m: ArrayLike,
    slope_sine: ArrayLike,
    kinematic_m2_s: ArrayLike,
    gravity_m_s2: ArrayLike = STANDARD_GRAVITY,
) -> Array:
    """Return the depth over bore [-] of uniform flow on a slope, broadcast shape; 1 if it runs full.

    Equation: friction slope = slope sine, shallowest depth that carries the flow.

    Args:
        flow_m3_s: bulk flow [m³/s].
        bore_m: bore [m].
        slope_sine: sine of the slope [-].
        kinematic_m2_s: bulk kinematic viscosity [m²/s].
        gravity_m_s2: effective gravity [m/s²].

    Raises: nothing.
    Valid: see `validity.PART_FULL_REYNOLDS`.
    Source: uniform flow, see `friction_slopes`.

    >>> q_full = full_flow(0.014, 0.342, 27e-6)
    >>> round(float(normal_fill(0.5 * q_full, 0.014, 0.342, 27e-6)), 3)
    0.5
    """
    slopes = friction_slopes(
        *np.broadcast_arrays(np.asarray(flow_m3_s, dtype=np.float64), bore_m, kinematic_m2_s, gravity_m_s2)
    )
    fill, _ = first_crossing(np.asarray(slope_sine)[..., None] - slopes)
    result: Array = np.where(np.asarray(flow_m3_s) > 0.0, fill, 0.0)
    return result


def first_crossing(excess: Array) -> tuple[Array, Flags]:
    """Return the fill at which `excess` (never falling with fill) reaches zero, and whether it does.

    Equation: linear interpolation between the two FILL_GRID entries; 1 where it never does.

    Args:
        excess: values at FILL_GRID on the last axis, shape (..., fills).

    Raises: nothing.
    Source: none needed (interpolation).

    >>> fill, found = first_crossing(FILL_GRID - 0.3)
    >>> round(float(fill), 6), bool(found)
    (0.3, True)
    """
    found = excess[..., -1] >= 0.0
    upper = (excess < 0.0).argmin(axis=-1)  # the first entry that is not negative
    lower = np.maximum(upper - 1, 0)
    flat = excess.reshape(-1)
    rows = np.arange(0, flat.size, _FILLS).reshape(upper.shape)
    e_upper, e_lower = flat[rows + upper], flat[rows + lower]
    f_upper, f_lower = FILL_GRID[upper], FILL_GRID[lower]
    gap = np.where(e_upper > e_lower, e_upper - e_lower, 1.0)
    inner = f_upper - (f_upper - f_lower) * np.clip(e_upper, 0.0, gap) / gap
    inner = np.where(upper == 0, FILL_GRID[0], inner)
    result: Array = np.where(found, inner, 1.0)
    return result, found
