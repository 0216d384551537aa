"""The gravity drain as a backwater march from the sump up to the turbo's flange."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics import part_full
from gravidon.physics.arrays import Array, Flags

EXIT_LOSS = 1.0
"""[-] velocity heads lost where a submerged pipe ends; published (FHWA HEC-22)."""
ENTRANCE_LOSS = 0.5
"""[-] velocity heads at a square-edged entrance running full; published (FHWA HEC-22)."""
WEIR_COEFFICIENT = 1.66
"""[m^0.5/s] of a drop inlet acting as a weir over its rim; published (FHWA HEC-22)."""
INLET_ORIFICE = 0.67
"""[-] of a drop inlet acting as an orifice; published (FHWA HEC-22)."""


@dataclass(frozen=True)
class Run:
    """The drain cut into short straight pieces, flange first.

    Args:
        centre_m: height of each station's centre along effective gravity [m], (stations, conditions).
        length_m: length of each piece [m], (stations - 1,), or (stations - 1, conditions) where it differs.
        bore_m: bore of each piece [m], (stations - 1,).
        stream: which row of the flow each piece carries, (stations - 1,); None where all carry one.
    """

    centre_m: Array
    length_m: Array
    bore_m: Array
    stream: np.ndarray | None = None


@dataclass(frozen=True)
class Backwater:
    """The oil in the drain; "condition" is the last axis throughout.

    Fields: grade line [m] (stations, conditions); fill h/D [-] and running full (stations, ...);
    housing level [m] (conditions); whether the entry is under the sump surface; whether any
    station seals the line; crankcase lift applied [m]; pond over the flange [m].
    """

    grade_line_m: Array
    fill: Array
    full: Flags
    housing_level_m: Array
    submerged: Flags
    sealed: Flags
    lift_m: Array
    pond_m: Array

    def first(self, count: int) -> Backwater:
        """Return the first `count` conditions of this march."""
        return Backwater(
            self.grade_line_m[:, :count],
            self.fill[:, :count],
            self.full[:, :count],
            self.housing_level_m[:count],
            self.submerged[:count],
            self.sealed[:count],
            self.lift_m[:count],
            self.pond_m[:count],
        )


def march(
    run: Run,
    flow_m3_s: ArrayLike,
    kinematic_m2_s: ArrayLike,
    gravity_m_s2: ArrayLike,
    sump_level_m: ArrayLike,
    lift_m: ArrayLike = 0.0,
    sealed_below: ArrayLike = False,
) -> Backwater:
    """Return the oil surface all along the drain, marched upstream from the sump.

    Equation: per piece, H_up - H_down = S_f(fill) dL (gradually varied flow, velocity heads
    only at controls), S_f from `part_full.friction_slopes`; at the outfall the higher of sump
    level and critical depth, plus one velocity head where the bore leaves full; at a step into a
    smaller bore the critical or orifice head.

    Args:
        run: the drain.
        flow_m3_s: bulk (frothed) flow [m³/s], (conditions,), or (streams, conditions) with `run.stream`.
        kinematic_m2_s: bulk kinematic viscosity [m²/s], (conditions,) or (streams, conditions).
        gravity_m_s2: strength of effective gravity [m/s²], (conditions,).
        sump_level_m: sump surface along effective gravity [m], (conditions,).
        lift_m: head [m] by which crankcase pressure lifts a sealed line, (conditions,).
        sealed_below: whether the line is sealed, and lifted, already where it ends (a drain that joins
            another), (conditions,).

    Raises: nothing.
    Valid: see `validity.PART_FULL_REYNOLDS`; backward Euler keeps uniform flow exact.
    Source: hydraulic-grade-line method of FHWA HEC-22 with a laminar friction slope.

    >>> centre = np.linspace(0.2, 0.0, 9)[:, None]
    >>> run = Run(centre, np.full(8, 0.05), np.full(8, 0.014))
    >>> bool(march(run, [3e-5], [27e-6], [9.81], [-0.1]).sealed[0])
    False
    """
    centre = run.centre_m
    stations, count = centre.shape
    g, sump, lift = (
        np.broadcast_to(np.asarray(v, dtype=float), (count,)) for v in (gravity_m_s2, sump_level_m, lift_m)
    )
    stream = np.zeros(stations - 1, dtype=int) if run.stream is None else run.stream
    streams = int(stream.max()) + 1
    flows, nus = (
        np.broadcast_to(np.asarray(v, dtype=float), (streams, count)) for v in (flow_m3_s, kinematic_m2_s)
    )
    q = flows[stream[-1]]
    pieces = _Pieces.of(run, stream, flows, nus, g)
    grade, fill = np.empty((stations, count)), np.empty((stations, count))
    full = np.zeros((stations, count), dtype=bool)
    crown = centre[-1] + pieces.half_m[-1]
    submerged = sump > crown
    brink = part_full.critical_fill(q, run.bore_m[-1], g)
    outfall = np.maximum(sump, centre[-1] - pieces.half_m[-1] + brink * pieces.depth_m[-1])
    # a bore that leaves full loses its velocity head, whether into air or into the sump
    leaves_full = submerged | (brink >= 1.0)
    level = outfall + np.where(leaves_full, EXIT_LOSS * pieces.velocity_head_m[-1], 0.0)
    sealed_below = np.broadcast_to(np.asarray(sealed_below, dtype=bool), (count,))
    sealed = (level > crown + 1e-9) | sealed_below
    level = level + np.where(sealed & ~sealed_below, lift, 0.0)
    depth = np.maximum(pieces.depth_m[-1], 1e-9)
    grade[-1], full[-1] = level, level > crown + 1e-9
    fill[-1] = np.clip((level - (centre[-1] - pieces.half_m[-1])) / depth, 0.0, 1.0)
    for i in range(stations - 2, -1, -1):
        if i < stations - 2 and run.bore_m[i + 1] < run.bore_m[i]:
            level = pieces.at_step(i + 1, centre[i + 1], level)
        found_fill, found = part_full.first_crossing(pieces.rise_m[i] - level[:, None])
        invert = centre[i] - pieces.half_m[i]
        q = flows[stream[i]]
        found_fill = np.where((q <= 0.0) & (level <= invert), 0.0, found_fill)
        newly = ~found & ~sealed
        sealed = sealed | newly
        running_full = level + pieces.full_loss_m[i] + np.where(newly, lift, 0.0)
        level = np.where(found, invert + found_fill * pieces.depth_m[i], running_full)
        grade[i], fill[i], full[i] = level, found_fill, ~found
    pond = flange_pond(flows[stream[0]], float(run.bore_m[0]), g)
    housing = centre[0] + pond
    backed_up = level + ENTRANCE_LOSS * pieces.velocity_head_m[0]
    housing = np.where(full[0], np.maximum(housing, backed_up), housing)
    return Backwater(grade, fill, full, housing, submerged, sealed, np.where(sealed, lift, 0.0), pond)


@dataclass(frozen=True)
class _Pieces:
    """What the march needs of each piece, worked out for all pieces and conditions at once."""

    half_m: Array  # half the bore seen along effective gravity
    depth_m: Array  # the whole bore seen along effective gravity
    rise_m: Array  # level at the upper end less the loss, at every fill of FILL_GRID
    full_loss_m: Array
    velocity_head_m: Array
    step_head_m: Array

    @classmethod
    def of(cls, run: Run, stream: np.ndarray, flows: Array, nus: Array, g: Array) -> _Pieces:
        kinds, which = np.unique(np.stack([run.bore_m, stream]), axis=1, return_inverse=True)
        which = which.reshape(-1)
        one = kinds[0][:, None]
        q, nu = flows[kinds[1].astype(int)], nus[kinds[1].astype(int)]
        length = run.length_m if run.length_m.ndim == 2 else run.length_m[:, None]
        bore = run.bore_m[:, None]
        sine = np.clip((run.centre_m[:-1] - run.centre_m[1:]) / length, -1.0, 1.0)
        depth = bore * np.sqrt(1.0 - sine * sine)
        slopes = part_full.friction_slopes(q, one, nu, g[None, :])
        invert = run.centre_m[:-1] - 0.5 * depth
        rise = invert[..., None] + depth[..., None] * part_full.FILL_GRID
        rise -= (slopes * (q > 0.0)[..., None])[which] * length[..., None]
        return cls(
            half_m=0.5 * depth,
            depth_m=depth,
            rise_m=rise,
            full_loss_m=part_full.full_friction_slope(q, one, nu, g)[which] * length,
            velocity_head_m=((q / (np.pi / 4.0 * one**2)) ** 2 / (2.0 * g))[which],
            step_head_m=part_full.critical_head(q, one, g)[which],
        )

    def at_step(self, piece: int, centre: Array, level: Array) -> Array:
        """Raise the level to what it takes to enter the smaller bore of `piece`."""
        flatness = self.half_m[piece] / np.maximum(self.half_m.max(), 1e-12)
        control = centre - self.half_m[piece] + self.step_head_m[piece] * np.minimum(flatness, 1.0)
        drowned = level > centre + self.half_m[piece]
        result: Array = np.maximum(level + ENTRANCE_LOSS * self.velocity_head_m[piece] * drowned, control)
        return result


def flange_pond(flow_m3_s: ArrayLike, bore_m: ArrayLike, gravity_m_s2: ArrayLike) -> Array:
    """Return the depth [m] of oil standing over a vertical outlet, broadcast shape.

    Equation: the larger of weir (Q/(Cw P))^(2/3) and orifice (Q/(Co A))²/(2g), P the rim;
    Cw is scaled by sqrt(g/9.80665).

    Args:
        flow_m3_s: bulk flow [m³/s].
        bore_m: outlet bore [m].
        gravity_m_s2: effective gravity [m/s²].

    Raises: nothing.
    Source: FHWA HEC-22, drop inlets.

    >>> round(float(flange_pond(6e-5, 0.016, 9.80665)) * 1e3, 1)
    10.1
    """
    q = np.asarray(flow_m3_s, dtype=float)
    bore = np.asarray(bore_m, dtype=float)
    g = np.asarray(gravity_m_s2, dtype=float)
    weir_coefficient = WEIR_COEFFICIENT * np.sqrt(g / 9.80665)
    weir = (q / (weir_coefficient * np.pi * bore)) ** (2.0 / 3.0)
    orifice = (q / (INLET_ORIFICE * np.pi / 4.0 * bore * bore)) ** 2 / (2.0 * g)
    result: Array = np.maximum(weir, orifice)
    return result


def crankcase_lift(
    crankcase_pa: ArrayLike, wheel_side_pa: ArrayLike, froth_density_kg_m3: ArrayLike, gravity_m_s2: ArrayLike
) -> Array:
    """Return the height [m] by which crankcase pressure lifts froth in a sealed line.

    Equation: max(0, p_crankcase - p_wheel) / (rho_froth g).

    Args:
        crankcase_pa: crankcase pressure [Pa gauge].
        wheel_side_pa: lower of the two wheel-side pressures [Pa gauge].
        froth_density_kg_m3: bulk density [kg/m³].
        gravity_m_s2: effective gravity [m/s²].

    Raises: nothing.
    Source: hydrostatics.

    >>> round(float(crankcase_lift(1500.0, 0.0, 510.0, 9.81)), 2)
    0.3
    """
    excess = np.maximum(np.asarray(crankcase_pa, dtype=float) - np.asarray(wheel_side_pa), 0.0)
    result: Array = excess / (np.asarray(froth_density_kg_m3) * np.asarray(gravity_m_s2))
    return result
