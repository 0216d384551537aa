# SPDX-License-Identifier: GPL-3.0-or-later
"""The gravity drain as a backwater march from the sump up to the turbo's flange."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics import bore_change, line, part_full
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
        fittings: Hooper's K1 and K∞ of the elbows in each piece [-], (2, stations - 1); None where there are none.
        arc_m, bend_radius_m: how much of each piece is bent hose, and its bend's radius [m], (stations - 1,); None
            where all is straight.
        mouth_loss: velocity heads that the oil loses where it enters the first piece [-].
    """

    centre_m: Array
    length_m: Array
    bore_m: Array
    stream: np.ndarray | None = None
    fittings: Array | None = None
    arc_m: Array | None = None
    bend_radius_m: Array | None = None
    mouth_loss: float = 0.5


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


def march(
    run: Run,
    flow_m3_s: ArrayLike,
    kinematic_m2_s: ArrayLike,
    gravity_m_s2: ArrayLike,
    sump_level_m: ArrayLike,
    lift_m: ArrayLike = 0.0,
    sealed_below: ArrayLike = False,
    outside: ArrayLike = 1.0,
) -> Backwater:
    """Return the oil surface all along the drain, marched upstream from the sump.

    Equation: slow reaches per piece H_up - H_down = S_f(fill) dL + K V²/2g (gradually varied flow, velocity heads
    only at controls), S_f from `part_full.friction_slopes`, dL of bent hose lengthened by `line.curved_ratio`, K of
    elbows by Hooper at the oil's own speed; at the outfall the higher of sump
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
        outside: density of what stands over a drowned outfall over that of what is in the drain [-], (conditions,).

    Raises: nothing.
    Valid: see `validity.PART_FULL_REYNOLDS`; backward Euler keeps uniform flow exact.
    Source: hydraulic-grade-line method of FHWA HEC-22 with a laminar friction slope; both regimes and the jump by Chow 1959, Henderson 1966; elbows Hooper 1981, bends White 1929.

    >>> centre = np.linspace(0.2, 0.0, 9)[:, None]
    >>> run = Run(centre, np.full(8, 0.05), np.full(8, 0.014))
    >>> bool(march(run, [3e-5], [27e-6], [9.81], [-0.1]).sealed[0])
    False
    """
    centre = run.centre_m
    stations, count = centre.shape
    last = stations - 2
    g, sump, lift, dense = (
        np.broadcast_to(np.asarray(v, dtype=float), (count,))
        for v in (gravity_m_s2, sump_level_m, lift_m, outside)
    )
    below = np.broadcast_to(np.asarray(sealed_below, dtype=bool), (count,))
    stream = np.zeros(stations - 1, dtype=int) if run.stream is None else run.stream
    streams = int(stream.max()) + 1
    flows, nus = (
        np.broadcast_to(np.asarray(v, dtype=float), (streams, count)) for v in (flow_m3_s, kinematic_m2_s)
    )
    pieces = _Pieces.of(run, stream, flows, nus, g)
    rapid = _Rapid.of(pieces)
    grade, fill = np.empty((stations, count)), np.empty((stations, count))
    full = np.zeros((stations, count), dtype=bool)
    submerged, level, sealed, fast = _outfall(run, pieces, rapid, flows[stream[-1]], g, sump, below, dense)
    level = np.where(sealed & ~below, level + lift, level)
    grade[-1], full[-1] = level, level > pieces.end_crown_m[-1] + 1e-9
    fill[-1] = np.clip((level - pieces.end_invert_m[-1]) / np.maximum(pieces.depth_m[-1], 1e-9), 0.0, 1.0)
    shooting = nowhere = np.zeros(count, dtype=bool)
    for i in range(last, -1, -1):
        if i < last and run.bore_m[i + 1] != run.bore_m[i]:
            level, over = _shoulder(i, centre[i + 1], pieces, rapid, level, fast | shooting)
            shut = over & ~sealed
            sealed = sealed | shut
            full[i + 1] |= over
            level = np.where(shut, level + lift, level)
        invert, depth = pieces.top_invert_m[i], pieces.depth_m[i]
        slow_fill, found = pieces.slow_fill(i, level)
        if pieces.some_dry:
            slow_fill = np.where((pieces.flow_m3_s[i] <= 0.0) & (level <= invert), 0.0, slow_fill)
        slow = np.where(found, invert + slow_fill * depth, level + pieces.full_loss_m[i])
        fast = rapid.wins_at_top(i, centre[i], slow, slow_fill, found) if rapid.somewhere[i] else nowhere
        lost = ~found & ~fast
        if pieces.some_upright[i]:
            # oil that pools in an upright bore leaves a core open, unless the mouth below it runs full
            lost &= ~pieces.upright[i] | full[i + 1] | pieces.mouth_full[min(i + 1, last)]
        newly = lost & ~sealed
        sealed = sealed | newly
        level = np.where(newly, slow + lift, slow)
        if rapid.somewhere[i]:
            level = np.where(fast, invert + rapid.top[i] * depth, level)
            slow_fill = np.where(fast, rapid.top[i], slow_fill)
        grade[i], fill[i], full[i] = level, slow_fill, lost
        # normal depth below critical: rapid, though it is reached from below
        shooting = rapid.possible[i] & found & (slow_fill < rapid.critical[i])
        if i > 0 and rapid.somewhere[i]:  # a slow reach above a fast one ends in critical depth
            brink_above = fast & ~rapid.possible[i - 1]
            critical = invert + rapid.critical[i] * depth
            level = np.where(brink_above, np.maximum(level, critical), level)
    drop = _stub(run, centre)
    pond = flange_pond(flows[stream[0]], float(run.bore_m[0]), g, drop, nus[stream[0]], run.mouth_loss)
    backed_up = np.where(full[0], level + run.mouth_loss * pieces.velocity_head_m[0], -np.inf)
    housing = np.maximum(centre[0] + pond, backed_up)
    return Backwater(grade, fill, full, housing, submerged, sealed, np.where(sealed, lift, 0.0), pond)


def _outfall(
    run: Run, pieces: _Pieces, rapid: _Rapid, q: Array, g: Array, sump: Array, below: Flags, dense: Array
) -> tuple[Flags, Array, Flags, Flags]:
    """Return at the lower end: under the sump's surface or not, level [m], sealed or not, and whether flow is rapid."""
    centre, half = run.centre_m[-1], pieces.half_m[-1]
    submerged = sump > centre + half
    brink = part_full.critical_fill(q, run.bore_m[-1], g)
    # froth in the drain stands higher than the denser oil outside that it is in balance with
    sump = sump + (dense - 1.0) * np.maximum(sump - centre, 0.0)
    outfall = np.maximum(sump, centre - half + brink * pieces.depth_m[-1])
    # a bore that leaves full loses its velocity head, whether into air or into the sump
    leaves_full = submerged | (brink >= 1.0)
    level = outfall + np.where(leaves_full, EXIT_LOSS * pieces.velocity_head_m[-1], 0.0)
    fast = rapid.wins_at_end(-1, centre, level) & ~submerged & ~below
    level = np.where(fast, centre - half + rapid.end[-1] * pieces.depth_m[-1], level)
    return submerged, level, (level > centre + half + 1e-9) | below, fast


def _shoulder(
    i: int, centre: Array, pieces: _Pieces, rapid: _Rapid, level: Array, fast: Flags
) -> tuple[Array, Flags]:
    """Return the level [m] where a piece ends in another bore, and whether oil fills the piece there (in a smaller one).

    Judged at the shoulder itself, so that it does not hang on how far the next station is.
    """
    if pieces.bore_m[i + 1] > pieces.bore_m[i]:
        return pieces.below_wider(i, centre, level, fast), np.zeros(len(level), dtype=bool)
    through = fast & rapid.enters[i + 1]  # what comes fast enough goes in without backing up
    level = np.where(through, level, pieces.at_step(i + 1, centre, level))
    backed = ~through & ~rapid.wins_at_end(i, centre, level)
    over = backed & (level > pieces.end_crown_m[i])
    over &= ~pieces.upright[i] | pieces.mouth_full[i + 1]
    return level, over


LONGEST_STUB_M = 0.06
"""[m] of upright bore below a flange that counts as its stub; project choice."""
UPRIGHT_SINE = 0.95
"""[-] sine of a fall above which oil runs as a film down the wall: no depth is carried into what follows; project choice."""


def _stub(run: Run, centre: Array) -> Array:
    """Return how far the flange's own bore falls below it [m], (conditions,)."""
    last = int(np.argmax(run.bore_m != run.bore_m[0])) or len(run.bore_m)
    drop: Array = np.clip(centre[0] - centre[last], 0.0, LONGEST_STUB_M)
    return drop


@dataclass(frozen=True)
class _Rapid:
    """Rapid (supercritical) flow marched down from the flange, (pieces, conditions).

    Fields: fill at the top and at the end of each piece; whether rapid flow is possible there, and in any condition
    (per piece); whether what comes fast from above enters the piece; critical fill; momentum function M/(rho g) [m³]
    of the rapid flow at top and end.
    """

    top: Array
    end: Array
    possible: Flags
    somewhere: list[bool]
    enters: Flags
    critical: Array
    top_moment: Array
    end_moment: Array
    pieces: _Pieces

    @classmethod
    def of(cls, pieces: _Pieces) -> _Rapid:
        count, conditions = pieces.depth_m.shape
        energies, spent = pieces.energy_m, pieces.loss_m
        with_losses = energies + spent
        index = pieces.critical_index
        leasts, lowests = pieces.at_grid(energies, index), pieces.at_grid(with_losses, index)
        lowests = np.where(pieces.flow_m3_s > 0.0, lowests, np.inf)
        critical = part_full.FILL_GRID[index]
        comes, starts, wants = (np.empty((count, conditions)) for _ in range(3))
        falls = pieces.top_invert_m - pieces.end_invert_m
        flat = with_losses.reshape(count, -1), energies.reshape(count, -1)
        base = np.arange(conditions) * len(part_full.FILL_GRID)
        head = np.full(conditions, -np.inf)
        for i in range(count):
            comes[i] = came = head - pieces.top_invert_m[i]
            start = np.maximum(came, leasts[i])
            if pieces.some_upright[i]:
                start = np.where(pieces.upright[i], leasts[i], start)
            starts[i] = start
            wants[i] = wanted = start + falls[i]
            upper = (with_losses[i] <= wanted[:, None]).argmax(axis=-1)
            above = base + upper
            under = above - (upper > 0)
            with_upper, with_lower = flat[0][i].take(above), flat[0][i].take(under)
            share = (wanted - with_upper) / np.maximum(with_lower - with_upper, 1e-12)
            reached = flat[1][i].take(above)
            reached = reached + np.minimum(share, 1.0) * (flat[1][i].take(under) - reached)
            goes_on = wanted >= lowests[i]
            if pieces.some_upright[i]:
                goes_on &= ~pieces.upright[i]
            head = np.where(goes_on, pieces.end_invert_m[i] + reached, -np.inf)
        possible = wants >= lowests
        top = _shallow(energies, starts, critical)
        end = np.where(possible, _shallow(with_losses, wants, critical), critical)
        return cls(
            top=top,
            end=end,
            possible=possible,
            somewhere=[bool(p.any()) for p in possible],
            enters=comes >= leasts,
            critical=critical,
            top_moment=pieces.moment(top),
            end_moment=pieces.moment(end),
            pieces=pieces,
        )

    def wins_at_top(self, i: int, centre: Array, level: Array, fill: Array, found: Flags) -> Flags:
        """Whether rapid flow pushes the jump below the top of a piece, against a slow level there."""
        slow = np.where(found, self.pieces.moment(fill, i), self.pieces.full_moment(i, level - centre))
        return np.asarray(self.possible[i] & (self.top_moment[i] > slow))

    def wins_at_end(self, i: int, centre: Array, level: Array) -> Flags:
        """The same at the end of a piece."""
        depth = np.maximum(self.pieces.depth_m[i], 1e-9)
        fill = np.clip((level - self.pieces.end_invert_m[i]) / depth, 1e-6, 1.0)
        over = level > self.pieces.end_crown_m[i]
        slow = np.where(over, self.pieces.full_moment(i, level - centre), self.pieces.moment(fill, i))
        return np.asarray(self.possible[i] & (self.end_moment[i] > slow))


def _shallow(energy: Array, wanted: Array, critical: Array) -> Array:
    """Return the fills below critical at which energies (falling with fill there) are what is wanted, shape of `wanted`."""
    upper = (energy <= wanted[..., None]).argmax(axis=-1)  # 0 where none is
    lower = np.maximum(upper - 1, 0)
    flat, base = energy.reshape(-1), np.arange(0, energy.size, energy.shape[-1]).reshape(upper.shape)
    e_upper, e_lower = flat.take(base + upper), flat.take(base + lower)
    f_upper = part_full.FILL_GRID[upper]
    share = np.clip((wanted - e_upper) / np.maximum(e_lower - e_upper, 1e-12), 0.0, 1.0)
    fill = f_upper - (f_upper - part_full.FILL_GRID[lower]) * share
    result: Array = np.where(e_upper <= wanted, np.minimum(fill, critical), critical)
    return result


@dataclass(frozen=True)
class _Pieces:
    """What the march needs of each piece, worked out for all pieces and conditions at once: (pieces, conditions),
    and at every fill of FILL_GRID on a last axis."""

    half_m: Array  # half the bore seen along effective gravity
    depth_m: Array  # the whole bore seen along effective gravity
    top_invert_m: Array
    end_invert_m: Array
    end_crown_m: Array
    rise_m: Array  # level at the upper end less the loss, at every fill
    loss_m: Array  # head lost along the piece, at every fill
    energy_m: Array  # specific energy, at every fill
    full_loss_m: Array
    velocity_head_m: Array
    nu_m2_s: Array
    g_m_s2: Array
    upright: Flags
    some_upright: list[bool]  # per piece
    mouth_full: Flags  # what enters the piece closes over it
    critical_index: np.ndarray  # where FILL_GRID comes nearest to critical
    flow_m3_s: Array
    some_dry: bool
    bore_m: Array  # (pieces,)
    force_m3: Array  # momentum of the flow running full, over rho g
    spread_m3: Array  # what the moment of the wetted area is multiplied with
    base: np.ndarray  # where each condition's row of fills begins in a piece

    @classmethod
    def of(cls, run: Run, stream: np.ndarray, flows: Array, nus: Array, g: Array) -> _Pieces:
        each = list(zip(run.bore_m.tolist(), stream.tolist(), strict=True))
        kinds = {kind: k for k, kind in enumerate(dict.fromkeys(each))}
        which = np.array([kinds[kind] for kind in each])
        one = np.array([bore for bore, _ in kinds])[:, None]
        rows = [row for _, row in kinds]
        q, nu = flows[rows], nus[rows]
        length = run.length_m if run.length_m.ndim == 2 else run.length_m[:, None]
        bore = run.bore_m[:, None]
        sine = np.clip((run.centre_m[:-1] - run.centre_m[1:]) / length, -1.0, 1.0)
        flat = np.sqrt(np.maximum(1.0 - sine * sine, 0.0))
        depth = bore * flat
        half = 0.5 * depth
        velocity = q / (np.pi / 4.0 * one**2)
        slopes = part_full.friction_slopes(q, one, nu, g[None, :]) * (q > 0.0)[..., None]
        felt = length
        if (
            run.arc_m is not None and run.bend_radius_m is not None
        ):  # bent hose counts for more than its length
            more = line.curved_ratio((velocity * one / nu)[which], bore, run.bend_radius_m[:, None]) - 1.0
            felt = length + more * run.arc_m[:, None]
        loss = slopes[which] * felt[..., None]
        full_loss = part_full.full_friction_slope(q, one, nu, g)[which] * felt
        if run.fittings is not None:
            for i in np.flatnonzero(run.fittings.any(axis=0)):
                k1, k_infinity = run.fittings[:, i]
                fast = velocity[which[i]][:, None] / _WITH_FULL_GRID
                elbow = line.fitting_head(
                    fast, run.bore_m[i], nu[which[i]][:, None], g[:, None], k1, k_infinity
                )
                loss[i] += elbow[:, :-1]
                full_loss[i] += elbow[:, -1]
        deep = depth[..., None] * part_full.FILL_GRID
        top_invert = run.centre_m[:-1] - half
        rise = deep - loss
        rise += top_invert[..., None]
        area = np.pi / 4.0 * one**2
        velocity_head = velocity**2 / (2.0 * g)
        speed = part_full.ENERGY_COEFFICIENT * velocity_head[..., None] / _AREA_GRID**2
        energy = deep + speed[which]
        upright = sine > UPRIGHT_SINE
        return cls(
            half_m=half,
            depth_m=depth,
            top_invert_m=top_invert,
            end_invert_m=run.centre_m[1:] - half,
            end_crown_m=run.centre_m[1:] + half,
            rise_m=rise,
            loss_m=loss,
            energy_m=energy,
            full_loss_m=full_loss,
            velocity_head_m=velocity_head[which],
            nu_m2_s=nu[which],
            g_m_s2=g,
            upright=upright,
            some_upright=[bool(u.any()) for u in upright],
            mouth_full=(part_full.critical_fill(q, one, g) >= 1.0)[which],
            critical_index=energy.argmin(axis=-1),
            flow_m3_s=q[which],
            some_dry=bool((q <= 0.0).any()),
            bore_m=run.bore_m,
            force_m3=(part_full.MOMENTUM_COEFFICIENT * q**2 / (g * area))[which],
            spread_m3=bore**3 * flat,
            base=np.arange(len(g)) * len(part_full.FILL_GRID),
        )

    def at_grid(self, values: Array, index: np.ndarray) -> Array:
        """Return values (..., fills) at one index each."""
        result: Array = np.take_along_axis(values, index[..., None], axis=-1)[..., 0]
        return result

    def slow_fill(self, i: int, level: Array) -> tuple[Array, Flags]:
        """Return the fill at the top of a piece that slow flow takes above a level at its end, and whether it has a
        free surface there (see `part_full.first_crossing`)."""
        short = self.rise_m[i] < level[:, None]
        found = ~short[:, -1]
        upper = short.argmin(axis=-1)
        above = self.base + upper
        flat = self.rise_m[i].reshape(-1)
        r_upper, r_lower = flat.take(above), flat.take(above - (upper > 0))
        share = (r_upper - level) / np.maximum(r_upper - r_lower, 1e-12)
        f_upper, step = _FILL_PAIRS[0].take(upper), _FILL_PAIRS[1].take(upper)
        return np.where(found, f_upper - step * share, 1.0), found

    def moment(self, fill: Array, i: int | slice = slice(None)) -> Array:
        """Return the momentum function M/(rho g) [m³] of one piece, or of every one, at given fills."""
        share = np.interp(fill, _FINE, _FINE_AREA)
        result: Array = self.force_m3[i] / share + self.spread_m3[i] * np.interp(fill, _FINE, _FINE_MOMENT)
        return result

    def full_moment(self, i: int, over_centre: Array) -> Array:
        """Return the momentum function of a piece that runs full, its level [m] over the centre."""
        result: Array = self.force_m3[i] + (np.pi / 4.0 * self.bore_m[i] ** 2) * over_centre
        return result

    def at_step(self, piece: int, centre: Array, level: Array) -> Array:
        """Raise the level to what it takes to enter the smaller bore of `piece` from the one above it."""
        shoulder = bore_change.Shoulder(
            float(self.bore_m[piece - 1]),
            float(self.bore_m[piece]),
            2.0 * self.half_m[piece - 1],
            2.0 * self.half_m[piece],
            self.flow_m3_s[piece],
            self.nu_m2_s[piece],
            self.g_m_s2,
        )
        return shoulder.level_above(centre, level)

    def below_wider(self, piece: int, centre: Array, level: Array, fast: Flags) -> Array:
        """Raise the level by what it costs to leave a piece that runs full for a wider one."""
        share = float((self.bore_m[piece] / self.bore_m[piece + 1]) ** 2)
        cost = bore_change.enlargement_loss(share) * self.velocity_head_m[piece]
        over = np.clip(level - centre - self.half_m[piece], 0.0, cost)
        result: Array = level + np.where(fast, 0.0, over)
        return result


_FILL_PAIRS = part_full.FILL_GRID, np.diff(part_full.FILL_GRID, prepend=part_full.FILL_GRID[0])
"""Each fill of FILL_GRID, and how far it is from the one below it (0 for the first)."""
_FINE, _FINE_AREA = part_full.FINE, part_full.FINE_AREA
_FINE_MOMENT = part_full.centroid_moment(_FINE)
"""Moment of the wetted area over fill, read between entries as FINE_AREA is."""
_AREA_GRID = np.maximum(part_full.area_fraction(part_full.FILL_GRID), 1e-4)
_WITH_FULL_GRID = np.append(_AREA_GRID, 1.0)


STUB_SUCTION = 0.5
"""[-] of a full stub's drop that pulls on the pond: air in the froth spoils the rest; common practice, no source."""


def flange_pond(
    flow_m3_s: ArrayLike,
    bore_m: ArrayLike,
    gravity_m_s2: ArrayLike,
    stub_m: ArrayLike = 0.0,
    kinematic_m2_s: ArrayLike = 0.0,
    mouth_loss: float = ENTRANCE_LOSS,
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
        mouth_loss: Ke, velocity heads lost at the mouth [-]: 0.5 a square edge, 0.25 a chamfer, 0.05 a funnel (Idelchik, from memory);
            Co grows as 1/sqrt(1 + Ke).

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
    opening = INLET_ORIFICE * np.sqrt((1.0 + ENTRANCE_LOSS) / (1.0 + mouth_loss))
    orifice = (q / (opening * np.pi / 4.0 * bore * bore)) ** 2 / (2.0 * g)
    speed = q / (np.pi / 4.0 * bore * bore)
    loss = 32.0 * np.asarray(kinematic_m2_s) * speed * stub / (g * bore * bore)
    running_full = (mouth_loss + EXIT_LOSS) * speed * speed / (2.0 * g) + loss - STUB_SUCTION * stub
    result: Array = np.maximum(weir, np.where(stub > 0.0, np.minimum(orifice, running_full), orifice))
    return result


def filling_slowed(share: ArrayLike) -> Array:
    """Return how many times longer a cavity with a weir takes to fill than at its whole inflow [-], same shape.

    Equation: (1/x) integral from 0 to x of du/(1 - u^1.5), x the level over the one at which all runs out again
    (straight walls, outflow as the 1.5th power of the level).

    Args:
        share: level filled to over the level that the inflow would settle at [-]; kept within 0 to 0.999.

    Raises: nothing.
    Source: mass balance with the weir law (FHWA HEC-22).

    >>> round(float(filling_slowed(0.5)), 3)
    1.184
    """
    x = np.clip(np.asarray(share, dtype=np.float64), 1e-6, 0.999)
    result: Array = np.interp(x, _FILL_SHARES, _FILL_TIMES) / x
    return result


_FILL_SHARES = np.concatenate([np.linspace(0.0, 0.9, 181), 1.0 - 0.1 * np.geomspace(1.0, 0.009, 120)[1:]])
_FILL_TIMES = np.concatenate(
    [
        [0.0],
        np.cumsum(np.diff(_FILL_SHARES) / (1.0 - (0.5 * (_FILL_SHARES[1:] + _FILL_SHARES[:-1])) ** 1.5)),
    ]
)
"""Levels and the time to reach them, over cavity by inflow; by the midpoint rule."""


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
