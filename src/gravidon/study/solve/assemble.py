# SPDX-License-Identifier: GPL-3.0-or-later
"""From the plan's words and units to the arrays the physics takes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike

from gravidon.parts import oils, turbos
from gravidon.parts.shapes import SHAPES
from gravidon.physics import attitude, source, sump
from gravidon.physics import oil as oil_physics
from gravidon.physics.arrays import Array, Flags
from gravidon.physics.bearing import BearingReference
from gravidon.physics.feed import Feed, FeedResult, Hole, Pipe, Screen
from gravidon.physics.network import NetworkResult, solve_network
from gravidon.plan.fields import si
from gravidon.plan.model import (
    Condition,
    Fitting,
    Hose,
    PanBox,
    Piece,
    Plan,
    Point,
    ScreenPiece,
    Shape,
    Tap,
    TurboLine,
)
from gravidon.study.solve.kept import Kept

LEAST_PUMP_M3_REV = 1e-8
"""[m³/rev] below which a typed pump delivery means that it is not known."""


def oil_of(plan: Plan) -> oil_physics.Oil:
    """Return the plan's oil."""
    return oil_physics.Oil(
        si(plan.oil, "v40_mm2_s"), si(plan.oil, "v100_mm2_s"), si(plan.oil, "density_15_kg_m3")
    )


def column(plan: Plan, name: str) -> Array:
    """Return one field of every condition in SI, shape (conditions,)."""
    return np.array([si(c, name) for c in plan.conditions])


def turning(plan: Plan) -> Flags:
    """Return in which conditions the engine turns, (conditions,)."""
    return np.array([c.kind.turning for c in plan.conditions])


def lasts_s(plan: Plan) -> Array:
    """Return how long each condition lasts [s], inf for good, (conditions,)."""
    seconds = np.array([c.duration_s for c in plan.conditions])
    return np.where(seconds > 0.0, seconds, np.inf)


def point(p: Point) -> Array:
    """Return a position [m], shape (3,)."""
    return np.array([p.x_mm, p.y_mm, p.z_mm]) * 1e-3


def box_of(thing: Shape | PanBox) -> tuple[Array, Array]:
    """Return the lowest and the highest corner [m] of a placed box, each (3,)."""
    low = point(thing.corner)
    tall = thing.depth_mm if isinstance(thing, PanBox) else thing.height_mm
    return low, low + np.array([thing.length_mm, thing.width_mm, tall]) * 1e-3


def source_fit(plan: Plan) -> source.SourceFit:
    """Return the gallery law fitted to the plan's gauge readings."""
    oil = oil_of(plan)
    readings = plan.engine.readings
    t = np.array([si(r, "oil_temperature_c") for r in readings])
    return source.fit_source(
        np.array([si(r, "rpm") for r in readings]),
        oil_physics.density(oil, t),
        oil_physics.dynamic_viscosity(oil, t),
        np.array([si(r, "pressure_kpa") for r in readings]),
        si(plan.engine, "relief_kpa"),
    )


def reference_oil() -> oil_physics.Oil:
    """Return the oil that reference flows are quoted on."""
    grade = oils.grades()[turbos.REFERENCE_GRADE]
    return oil_physics.Oil(grade.v40_mm2_s * 1e-6, grade.v100_mm2_s * 1e-6, grade.density_15_kg_m3)


def bearing_reference(it: TurboLine) -> BearingReference:
    """Return the known point of a turbo's bearing housing."""
    oil = reference_oil()
    t = turbos.REFERENCE_TEMPERATURE_C + 273.15
    return BearingReference(
        si(it.turbo, "reference_drop_kpa"),
        si(it.turbo, "reference_flow_l_min"),
        float(oil_physics.density(oil, t)),
        float(oil_physics.dynamic_viscosity(oil, t)),
        si(it.turbo, "film_share"),
    )


def pipe_of(piece: Piece) -> Pipe | None:
    """Return a piece of the chain as a pipe; None for a screen."""
    if isinstance(piece, Hose):
        return Pipe(si(piece, "bore_mm"), si(piece, "length_mm"))
    if isinstance(piece, Fitting):
        return Pipe(si(piece, "bore_mm"), 0.0, *SHAPES[piece.shape].hooper)
    return None


def pipes_of(pieces: Sequence[Piece]) -> tuple[Pipe, ...]:
    """Return a chain as few pipes as possible: neighbours of one bore joined."""
    joined: list[Pipe] = []
    for piece in pieces:
        pipe = pipe_of(piece)
        if pipe is None:
            continue
        if joined and joined[-1].bore_m == pipe.bore_m:
            last = joined.pop()
            pipe = Pipe(
                pipe.bore_m,
                np.add(last.length_m, pipe.length_m),
                np.add(last.k1, pipe.k1),
                np.add(last.k_infinity, pipe.k_infinity),
            )
        joined.append(pipe)
    return tuple(joined)


def screen_of(pieces: Sequence[Piece]) -> Screen | None:
    """Return the chain's screen (several count as one of their summed drop per flow)."""
    found = [p for p in pieces if isinstance(p, ScreenPiece)]
    if not found:
        return None
    oil, t = reference_oil(), turbos.REFERENCE_TEMPERATURE_C + 273.15
    resistance = sum(
        si(p, "rated_drop_kpa") / si(p, "rated_flow_l_min") / (1.0 - min(p.clogged, 0.999)) for p in found
    )
    return Screen(resistance, 1.0, float(oil_physics.dynamic_viscosity(oil, t)), 0.0)


def holes_of(it: TurboLine) -> tuple[Hole, ...]:
    """Return the restrictors of a turbo's inlet, fitting first."""
    return tuple(
        Hole(si(r, "bore_mm"), si(r, "length_mm")) for r in (it.restrictor, it.flange_hole) if r.fitted
    )


@dataclass(frozen=True)
class Supply:
    """Gallery and tap pressure [Pa gauge] per condition, with the turbos drawing; and without (`undrawn_pa`)."""

    fit: source.SourceFit
    gallery_pa: Array
    tap_pa: Array
    undrawn_pa: Array


def offered(plan: Plan, fit: source.SourceFit, tap: Tap) -> Callable[[Array], Array]:
    """Return the tap's pressure [Pa gauge] in every condition against the flow drawn [m³/s]."""
    oil = oil_of(plan)
    t = column(plan, "oil_temperature_c")
    n, rho, mu = column(plan, "rpm"), oil_physics.density(oil, t), oil_physics.dynamic_viscosity(oil, t)
    pump = si(plan.engine, "pump_cc_rev")
    offset = si(tap, "offset_kpa")

    def at(flow: Array) -> Array:
        if pump > LEAST_PUMP_M3_REV:
            gallery = source.gallery_pressure_drawn(fit, n, rho, mu, pump, flow)
        else:
            gallery = source.gallery_pressure(fit, n, rho, mu)
        result: Array = np.where(gallery > 0.0, np.maximum(gallery + offset, 0.0), 0.0)
        return result

    return at


def heat_w(plan: Plan, it: TurboLine) -> Array:
    """Return the heat into a turbo's oil in every condition [W]: by load, or a condition's own figure."""
    t = it.turbo
    by_load = 1e3 * turbos.heat_kw(t.bearing, t.frame, t.cooling, 1.0)
    own = column(plan, "heat_kw")
    return np.where(own > 0.0, own, by_load * column(plan, "load"))


COLD_S = 10.0
"""[s] after a cold start at which its oil is judged, where the condition does not say how long it lasts: pressure stands, and the
metal has taken nearly all the heat there was; common practice, no source."""


def metal_capacity(it: TurboLine) -> float:
    """Return the heat capacity of a bearing housing [J/K]."""
    return turbos.BEARING_J_K * turbos.HOUSINGS[it.turbo.frame].flow_scale


def metal_w_k(plan: Plan, it: TurboLine) -> Array:
    """Return the bearing housing's heat capacity over the time since the start [W/K] per condition; 0 where it is warm."""
    lasts = np.array([c.duration_s or COLD_S for c in plan.conditions])
    cold = np.array([c.kind.cold for c in plan.conditions])
    return np.where(cold, metal_capacity(it) / lasts, 0.0)


def branch(plan: Plan, it: TurboLine, pieces: Sequence[Piece], holes: tuple[Hole, ...] | None = None) -> Feed:
    """Return one turbo's feed as the solver takes it; its upper pressure is set by the network."""
    return Feed(
        oil=oil_of(plan),
        tap_pressure_pa=0.0,
        temperature_k=column(plan, "oil_temperature_c"),
        heat_w=heat_w(plan, it),
        pipes=pipes_of(pieces),
        holes=holes_of(it) if holes is None else holes,
        screen=screen_of(pieces),
        reference=bearing_reference(it),
        metal_w_k=metal_w_k(plan, it),
    )


def solve_supply(plan: Plan, fit: source.SourceFit, tap: Tap | None = None) -> tuple[Supply, NetworkResult]:
    """Return the pressure side of the whole plan, from the chosen tap or another one."""
    chosen = tap or plan.taps[plan.tap]
    at = offered(plan, fit, chosen)
    branches = tuple(branch(plan, it, it.feed.pieces) for it in plan.turbos)
    feels = si(plan.engine, "pump_cc_rev") > LEAST_PUMP_M3_REV
    network = solve_network(at, pipes_of(plan.trunk), branches, feels)
    undrawn = at(np.zeros(len(plan.conditions)))
    offset = si(chosen, "offset_kpa")
    gallery = np.where(network.tap_pressure_pa > 0.0, network.tap_pressure_pa - offset, 0.0)
    still = np.where(undrawn > 0.0, undrawn - offset, 0.0)
    return Supply(fit, gallery, network.tap_pressure_pa, still), network


_SUPPLIES: Kept[tuple[Supply, NetworkResult]] = Kept(24)
"""Pressure sides last solved: what is done to a drain leaves them as they are."""


def _resists(it: TurboLine) -> tuple[object, ...]:
    """Return all of a turbo that its pressure side is solved from: how it is seated plays no part."""
    t = it.turbo
    return t.bearing, t.frame, t.cooling, t.reference_flow_l_min, t.reference_drop_kpa, t.film_share


def supply_of(plan: Plan) -> tuple[Supply, NetworkResult]:
    """Return the pressure side of the plan as it stands."""
    key = (
        plan.oil,
        plan.engine,
        plan.taps,
        plan.tap,
        plan.trunk,
        plan.conditions,
        *((_resists(it), it.feed, it.restrictor, it.flange_hole) for it in plan.turbos),
    )
    return _SUPPLIES.of(key, lambda: solve_supply(plan, source_fit(plan)))


def effective_up(plan: Plan) -> tuple[Array, Array]:
    """Return (up, strength) of effective gravity in every condition, shapes (conditions, 3) and (conditions,)."""
    return felt_up(
        plan,
        column(plan, "forward_g"),
        column(plan, "left_g"),
        column(plan, "nose_up_deg"),
        column(plan, "left_side_up_deg"),
    )


def level_up(plan: Plan) -> Array:
    """Return up with the car standing level, in the engine's own axes, (3,): an engine may lean in it."""
    result: Array = np.atleast_2d(felt_up(plan, 0.0, 0.0)[0])[0]
    return result


def felt_up(
    plan: Plan,
    forward_g: ArrayLike,
    left_g: ArrayLike,
    nose_up_rad: ArrayLike = 0.0,
    left_side_up_rad: ArrayLike = 0.0,
    fixed_to_body: bool = False,
) -> tuple[Array, Array]:
    """Return (up, strength) of effective gravity in the engine's own axes, in which all places of a plan are.

    The body rolls out of a corner and lifts its nose under power, in proportion to g; not where the accelerations come
    from a sensor that is fixed to the body and feels that already.
    """
    if not fixed_to_body:
        nose_up_rad = np.asarray(nose_up_rad) + si(plan.engine, "lift_deg_g") * np.asarray(forward_g)
        left_side_up_rad = np.asarray(left_side_up_rad) + si(plan.engine, "roll_deg_g") * np.asarray(left_g)
    up, strength = attitude.effective_up(forward_g, left_g, 0.0, nose_up_rad, left_side_up_rad)
    tilt = si(plan.engine, "front_up_deg"), si(plan.engine, "left_side_up_deg")
    return (attitude.in_engine_axes(up, *tilt) if any(tilt) else up), strength


@lru_cache(maxsize=16)
def pan_columns(boxes: tuple[PanBox, ...]) -> sump.Columns:
    """Return the pan cut into columns."""
    ends = np.array([box_of(b) for b in boxes])
    return sump.columns_of_boxes(ends[:, 0], ends[:, 1] - ends[:, 0])


def pan_oil_m3(plan: Plan) -> Array:
    """Return the oil left in the pan in every condition [m³]."""
    return np.maximum(si(plan.sump, "fill_l") - column(plan, "oil_up_l"), 0.0)


def condition_index(plan: Plan, name: str) -> int:
    """Return a condition's place in the plan.

    Raises: KeyError if the plan has none of that name.
    """
    for index, condition in enumerate(plan.conditions):
        if condition.name == name:
            return index
    raise KeyError(name)


def least_flow(it: TurboLine, condition: Condition) -> float:
    """Return the least flow [m³/s] of a condition; -inf where the window is judged by pressure, or not at all."""
    window, field = it.turbo.window, condition.kind.flow_low
    return si(window, field) if field and window.least == "flow" else -np.inf


def gauge_pressure(it: TurboLine, feed: FeedResult) -> Array:
    """Return the pressure [Pa gauge] that a gauge at the inlet port reads: before the holes that are screwed in."""
    result: Array = feed.inlet_pressure_pa + feed.restrictor_drop_pa
    return result


def judged_pressure(it: TurboLine, feed: FeedResult) -> Array:
    """Return the pressure [Pa gauge] that the least of the turbo's window is held against."""
    before = it.turbo.window.at == "before the restrictor"
    return gauge_pressure(it, feed) if before else feed.inlet_pressure_pa


def most_at_port(it: TurboLine) -> bool:
    """Whether the most of a turbo's window is its maker's, for the port before the restrictor."""
    return it.turbo.window.at == "before the restrictor" and it.turbo.window.speed_max_kpa.basis == "maker"


def most_pressure(it: TurboLine, feed: FeedResult) -> Array:
    """Return the pressure [Pa gauge] that the most of the turbo's window is held against: the bearing's own, but where its maker says it for the port,
    there."""
    if not most_at_port(it):
        return feed.inlet_pressure_pa
    return np.maximum(gauge_pressure(it, feed), feed.inlet_pressure_pa)


def window_bounds(it: TurboLine, condition: Condition) -> tuple[float, float]:
    """Return the inlet pressure window [Pa gauge] of a condition; -inf and inf where nothing bounds it."""
    window = it.turbo.window
    low, high = condition.kind.window_low, condition.kind.window_high
    by_pressure = bool(low) and window.least == "pressure"
    return si(window, low) if by_pressure else -np.inf, si(window, high) if high else np.inf


def typed_heat_share(plan: Plan, it: TurboLine, load: Array) -> Array:
    """Return what a turbo's own heat figures, where conditions have them, are of the usual ones [-], at loads, same shape: straight
    between the loads of the conditions, 1 where none is typed."""
    heats = heat_w(plan, it)
    usual = 1e3 * turbos.heat_kw(it.turbo.bearing, it.turbo.frame, it.turbo.cooling, 1.0)
    known: dict[float, list[float]] = {}
    for c, heat in zip(plan.conditions, heats, strict=True):
        if c.load > 0.0 and c.kind.turning:
            known.setdefault(c.load, []).append(float(heat) / (usual * c.load))
    if not known or all(abs(x - 1.0) < 1e-9 for row in known.values() for x in row):
        return np.ones_like(np.asarray(load, dtype=float))
    loads = sorted(known)
    return np.interp(load, loads, [max(known[at]) for at in loads])


def heat_over_speed(plan: Plan, it: TurboLine, speed_rpm: Array) -> Array:
    """Return heat [W] at engine speeds, straight between the plan's running conditions (largest per speed)."""
    heats = heat_w(plan, it)
    rows = sorted({(c.rpm, float(h)) for c, h in zip(plan.conditions, heats, strict=True) if c.rpm > 0})
    if not rows:
        return np.zeros_like(speed_rpm)
    speeds = sorted({r for r, _ in rows})
    heat = [max(h for r, h in rows if r == s) for s in speeds]
    return np.interp(speed_rpm, speeds, np.maximum.accumulate(heat))
