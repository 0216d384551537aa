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

    Equation: slow reaches per piece H_up - H_down = S_f(fill) dL (gradually varied flow, velocity heads
    only at controls), S_f from `part_full.friction_slopes`; at the outfall the higher of sump
    level and critical depth, plus one velocity head where the bore leaves full; at a step into a
    smaller bore the critical or orifice head. Rapid reaches are marched down from the flange by energy,
    E + S_f dL; where both are possible the one with the larger momentum function holds (the hydraulic jump
    stands where they are equal). Down an upright piece oil runs as a film.

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
    Source: hydraulic-grade-line method of FHWA HEC-22 with a laminar friction slope; both regimes and the jump by Chow 1959, Henderson 1966.

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
    pieces = _Pieces.of(run, stream, flows, nus, g)
    rapid = _Rapid.of(run, pieces, g)
    grade, fill = np.empty((stations, count)), np.empty((stations, count))
    full = np.zeros((stations, count), dtype=bool)
    submerged, level, sealed, fast = _outfall(run, pieces, rapid, flows[stream[-1]], g, sump, sealed_below)
    level = level + np.where(sealed & ~np.asarray(sealed_below, dtype=bool), lift, 0.0)
    crown, invert = centre[-1] + pieces.half_m[-1], centre[-1] - pieces.half_m[-1]
    grade[-1], full[-1] = level, level > crown + 1e-9
    fill[-1] = np.clip((level - invert) / np.maximum(pieces.depth_m[-1], 1e-9), 0.0, 1.0)
    for i in range(stations - 2, -1, -1):
        if i < stations - 2 and run.bore_m[i + 1] < run.bore_m[i]:
            through = fast & rapid.enters[i + 1]  # what comes fast enough goes in without backing up
            level = np.where(through, level, pieces.at_step(i + 1, centre[i + 1], level))
            # judged at the shoulder itself, so that it does not hang on how far the next station is
            backed = ~through & ~rapid.wins_at_end(i, centre[i + 1], level)
            over = backed & (level > centre[i + 1] + pieces.half_m[i])
            over &= ~pieces.upright[i] | pieces.mouth_full[i + 1]
            shut = over & ~sealed
            sealed = sealed | shut
            full[i + 1] |= over
            level = level + np.where(shut, lift, 0.0)
        found_fill, found = part_full.first_crossing(pieces.rise_m[i] - level[:, None])
        invert = centre[i] - pieces.half_m[i]
        q = flows[stream[i]]
        found_fill = np.where((q <= 0.0) & (level <= invert), 0.0, found_fill)
        newly = ~found & ~sealed
        slow = np.where(found, invert + found_fill * pieces.depth_m[i], level + pieces.full_loss_m[i])
        fast = rapid.wins_at_top(i, centre[i], slow, found_fill, found)
        # oil that pools in an upright bore leaves a core open, unless the mouth below it runs full
        open_core = pieces.upright[i] & ~full[i + 1] & ~pieces.mouth_full[min(i + 1, stations - 2)]
        newly &= ~fast & ~open_core
        sealed = sealed | newly
        slow = slow + np.where(newly, lift, 0.0)
        level = np.where(fast, invert + rapid.top[i] * pieces.depth_m[i], slow)
        grade[i], fill[i] = level, np.where(fast, rapid.top[i], found_fill)
        full[i] = ~found & ~fast & ~open_core
        if i > 0:  # a slow reach above a fast one ends in critical depth
            brink_above = fast & ~rapid.possible[i - 1]
            critical = invert + rapid.critical[i] * pieces.depth_m[i]
            level = np.where(brink_above, np.maximum(level, critical), level)
    pond = flange_pond(flows[stream[0]], float(run.bore_m[0]), g, *_stub(run, centre, nus[stream[0]]))
    housing = centre[0] + pond
    backed_up = level + ENTRANCE_LOSS * pieces.velocity_head_m[0]
    housing = np.where(full[0], np.maximum(housing, backed_up), housing)
    return Backwater(grade, fill, full, housing, submerged, sealed, np.where(sealed, lift, 0.0), pond)


def _outfall(
    run: Run, pieces: _Pieces, rapid: _Rapid, q: Array, g: Array, sump: Array, sealed_below: ArrayLike
) -> tuple[Flags, Array, Flags, Flags]:
    """Return at the lower end: under the sump's surface or not, level [m], sealed or not, and whether flow is rapid."""
    centre, half = run.centre_m[-1], pieces.half_m[-1]
    submerged = sump > centre + half
    brink = part_full.critical_fill(q, run.bore_m[-1], g)
    outfall = np.maximum(sump, centre - half + brink * pieces.depth_m[-1])
    # a bore that leaves full loses its velocity head, whether into air or into the sump
    leaves_full = submerged | (brink >= 1.0)
    level = outfall + np.where(leaves_full, EXIT_LOSS * pieces.velocity_head_m[-1], 0.0)
    below = np.broadcast_to(np.asarray(sealed_below, dtype=bool), level.shape)
    fast = rapid.wins_at_end(-1, centre, level) & ~submerged & ~below
    level = np.where(fast, centre - half + rapid.end[-1] * pieces.depth_m[-1], level)
    return submerged, level, (level > centre + half + 1e-9) | below, fast


LONGEST_STUB_M = 0.06
"""[m] of upright bore below a flange that counts as its stub; project choice."""
UPRIGHT_SINE = 0.95
"""[-] sine of a fall above which oil runs as a film down the wall: no depth is carried into what follows; project choice."""


def _stub(run: Run, centre: Array, nu: Array) -> tuple[Array, Array]:
    """Return how far the flange's own bore falls below it [m], and the oil's viscosity [m²/s], (conditions,)."""
    last = int(np.argmax(run.bore_m != run.bore_m[0])) or len(run.bore_m)
    drop = np.clip(centre[0] - centre[last], 0.0, LONGEST_STUB_M)
    return drop, nu


@dataclass(frozen=True)
class _Rapid:
    """Rapid (supercritical) flow marched down from the flange, (pieces, conditions).

    Fields: fill at the top and at the end of each piece; whether rapid flow is possible there; whether what comes
    fast from above enters the piece; critical fill; momentum function M/(rho g) [m³] of the rapid flow at top and end.
    """

    top: Array
    end: Array
    possible: Flags
    enters: Flags
    critical: Array
    top_moment: Array
    end_moment: Array
    pieces: _Pieces

    @classmethod
    def of(cls, run: Run, pieces: _Pieces, g: Array) -> _Rapid:
        stations, count = run.centre_m.shape
        shape = (stations - 1, count)
        top, end = np.ones(shape), np.ones(shape)
        possible, enters = np.zeros(shape, dtype=bool), np.zeros(shape, dtype=bool)
        inverts = run.centre_m[:-1] - pieces.half_m, run.centre_m[1:] - pieces.half_m
        head = np.full(count, -np.inf)
        flows = pieces.flow_m3_s
        energies = pieces.depth_m[..., None] * part_full.FILL_GRID + pieces.speed_head_m
        with_losses = energies + pieces.slope * pieces.length_m[..., None]
        index = pieces.critical_index[..., None]
        leasts, lowests = (np.take_along_axis(a, index, axis=-1)[..., 0] for a in (energies, with_losses))
        critical = part_full.FILL_GRID[pieces.critical_index]
        for i in range(stations - 1):
            energy, least, at = energies[i], leasts[i], critical[i]
            upright = pieces.upright[i]
            came = head - inverts[0][i]
            comes = came >= least
            enters[i] = comes
            start = np.where(upright | ~comes, least, came)
            top[i] = _shallow(energy, start, at)
            wanted = start + inverts[0][i] - inverts[1][i]
            runs = (wanted >= lowests[i]) & (flows[i] > 0.0)
            end[i] = np.where(runs, _shallow(with_losses[i], wanted, at), at)
            possible[i] = runs
            reached = pieces.energy_at(i, end[i])
            head = np.where(runs & ~upright, inverts[1][i] + reached, -np.inf)
        return cls(top, end, possible, enters, critical, pieces.moment(top), pieces.moment(end), pieces)

    def wins_at_top(self, i: int, centre: Array, level: Array, fill: Array, found: Flags) -> Flags:
        """Whether rapid flow pushes the jump below the top of a piece, against a slow level there."""
        slow = np.where(found, self.pieces.moment(fill, i), self.pieces.full_moment(i, level - centre))
        return np.asarray(self.possible[i] & (self.top_moment[i] > slow))

    def wins_at_end(self, i: int, centre: Array, level: Array) -> Flags:
        """The same at the end of a piece."""
        depth = np.maximum(self.pieces.depth_m[i], 1e-9)
        fill = np.clip((level - (centre - self.pieces.half_m[i])) / depth, 1e-6, 1.0)
        over = level > centre + self.pieces.half_m[i]
        slow = np.where(over, self.pieces.full_moment(i, level - centre), self.pieces.moment(fill, i))
        return np.asarray(self.possible[i] & (self.end_moment[i] > slow))


def _shallow(energy: Array, wanted: Array, critical: Array) -> Array:
    """Return the fill below critical at which an energy (falling with fill there) is what is wanted."""
    rows = np.arange(len(wanted))
    upper = (energy <= wanted[:, None]).argmax(axis=-1)  # 0 where none is
    lower = np.maximum(upper - 1, 0)
    e_upper, e_lower = energy[rows, upper], energy[rows, lower]
    gap = np.where(e_lower > e_upper, e_lower - e_upper, 1.0)
    f_upper = part_full.FILL_GRID[upper]
    fill = f_upper - (f_upper - part_full.FILL_GRID[lower]) * np.clip((wanted - e_upper) / gap, 0.0, 1.0)
    reached = e_upper <= wanted
    result: Array = np.where(reached, np.minimum(fill, critical), critical)
    return result


@dataclass(frozen=True)
class _Pieces:
    """What the march needs of each piece, worked out for all pieces and conditions at once."""

    half_m: Array  # half the bore seen along effective gravity
    depth_m: Array  # the whole bore seen along effective gravity
    rise_m: Array  # level at the upper end less the loss, at every fill of FILL_GRID
    full_loss_m: Array
    velocity_head_m: Array
    step_depth_m: Array
    step_velocity_m: Array
    sine: Array
    upright: Flags
    mouth_full: Flags  # what enters the piece closes over it
    slope: Array  # friction slope at every fill
    speed_head_m: Array  # energy coefficient times velocity head at every fill
    critical_index: np.ndarray  # where FILL_GRID comes nearest to critical
    flow_m3_s: Array
    length_m: Array
    bore_m: Array
    force_m3: Array  # momentum of the flow running full, over rho g
    spread_m3: Array  # what the moment of the wetted area is multiplied with

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
        slopes = part_full.friction_slopes(q, one, nu, g[None, :]) * (q > 0.0)[..., None]
        slope = slopes[which]
        invert = run.centre_m[:-1] - 0.5 * depth
        rise = invert[..., None] + depth[..., None] * part_full.FILL_GRID
        rise -= slope * length[..., None]
        area = np.pi / 4.0 * one**2
        heads = part_full.ENERGY_COEFFICIENT * (q / area) ** 2 / (2.0 * g)
        speed = (heads[..., None] / _AREA_GRID**2)[which]
        energy = depth[..., None] * part_full.FILL_GRID + speed
        parts = part_full.critical_parts(q, one, g)
        return cls(
            half_m=0.5 * depth,
            depth_m=depth,
            rise_m=rise,
            full_loss_m=part_full.full_friction_slope(q, one, nu, g)[which] * length,
            velocity_head_m=((q / area) ** 2 / (2.0 * g))[which],
            step_depth_m=parts[0][which],
            step_velocity_m=parts[1][which],
            sine=sine,
            upright=sine > UPRIGHT_SINE,
            mouth_full=(part_full.critical_fill(q, one, g) >= 1.0)[which],
            slope=slope,
            speed_head_m=speed,
            critical_index=energy.argmin(axis=-1),
            flow_m3_s=q[which],
            length_m=np.broadcast_to(length, depth.shape),
            bore_m=np.broadcast_to(bore, depth.shape),
            force_m3=(part_full.MOMENTUM_COEFFICIENT * q**2 / (g * area))[which],
            spread_m3=bore**3 * np.sqrt(np.maximum(1.0 - sine * sine, 0.0)),
        )

    def energy_at(self, i: int, fill: Array) -> Array:
        """Return a piece's specific energy [m] at given fills."""
        share = np.interp(fill, _FINE, _FINE_AREA)
        full = part_full.ENERGY_COEFFICIENT * self.velocity_head_m[i]
        result: Array = self.depth_m[i] * fill + full / share**2
        return result

    def moment(self, fill: Array, i: int | slice = slice(None)) -> Array:
        """Return the momentum function M/(rho g) [m³] of one piece, or of every one, at given fills."""
        share = np.interp(fill, _FINE, _FINE_AREA)
        result: Array = self.force_m3[i] / share + self.spread_m3[i] * np.interp(fill, _FINE, _FINE_MOMENT)
        return result

    def full_moment(self, i: int, over_centre: Array) -> Array:
        """Return the momentum function of a piece that runs full, its level [m] over the centre."""
        result: Array = self.force_m3[i] + np.pi / 4.0 * self.bore_m[i] ** 2 * over_centre
        return result

    def at_step(self, piece: int, centre: Array, level: Array) -> Array:
        """Raise the level to what it takes to enter the smaller bore of `piece`."""
        flatness = np.minimum(self.half_m[piece] / (0.5 * self.bore_m[piece]), 1.0)
        needed = self.step_depth_m[piece] * flatness + self.step_velocity_m[piece]
        control = centre - self.half_m[piece] + needed
        drowned = level > centre + self.half_m[piece]
        result: Array = np.maximum(level + ENTRANCE_LOSS * self.velocity_head_m[piece] * drowned, control)
        return result


_FINE = np.linspace(0.0, 1.0, 801)
_FINE_AREA = np.maximum(part_full.area_fraction(_FINE), 1e-6)
_FINE_MOMENT = part_full.centroid_moment(_FINE)
"""Wetted area and its moment over fill, read between entries: off by less than 1e-5 above a fill of 0.01."""
_AREA_GRID = np.maximum(part_full.area_fraction(part_full.FILL_GRID), 1e-4)


STUB_SUCTION = 0.5
"""[-] of a full stub's drop that pulls on the pond: air in the froth spoils the rest; common practice, no source."""


def flange_pond(
    flow_m3_s: ArrayLike,
    bore_m: ArrayLike,
    gravity_m_s2: ArrayLike,
    stub_m: ArrayLike = 0.0,
    kinematic_m2_s: ArrayLike = 0.0,
) -> Array:
    """Return the depth [m] of oil standing over a vertical outlet with a stub below it, broadcast shape.

    Equation: the larger of weir (Q/(Cw P))^(2/3) and what the stub needs when it runs full,
    (Ke + 1) V²/2g + 32 nu V L/(g D²) - L/2; that never more than the free orifice (Q/(Co A))²/(2g). P the rim;
    Cw is scaled by sqrt(g/9.80665).

    Args:
        flow_m3_s: bulk flow [m³/s].
        bore_m: outlet bore [m].
        gravity_m_s2: effective gravity [m/s²].
        stub_m: how far the bore goes on straight down [m]; 0 for a hole in a plate.
        kinematic_m2_s: bulk kinematic viscosity [m²/s].

    Raises: nothing.
    Source: FHWA HEC-22, drop inlets; Hagen-Poiseuille in the stub.

    >>> round(float(flange_pond(6e-5, 0.016, 9.80665)) * 1e3, 1)
    10.1
    """
    q = np.asarray(flow_m3_s, dtype=float)
    bore = np.asarray(bore_m, dtype=float)
    g = np.asarray(gravity_m_s2, dtype=float)
    stub = np.asarray(stub_m, dtype=float)
    weir_coefficient = WEIR_COEFFICIENT * np.sqrt(g / 9.80665)
    weir = (q / (weir_coefficient * np.pi * bore)) ** (2.0 / 3.0)
    orifice = (q / (INLET_ORIFICE * np.pi / 4.0 * bore * bore)) ** 2 / (2.0 * g)
    speed = q / (np.pi / 4.0 * bore * bore)
    loss = 32.0 * np.asarray(kinematic_m2_s) * speed * stub / (g * bore * bore)
    running_full = (ENTRANCE_LOSS + EXIT_LOSS) * speed * speed / (2.0 * g) + loss - STUB_SUCTION * stub
    result: Array = np.maximum(weir, np.where(stub > 0.0, np.minimum(orifice, running_full), orifice))
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
