"""evaluate(plan): the whole oil path in every condition, as arrays. The one place all answers come from."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from gravidon.physics import attitude, part_full, restrictor, sump, validity
from gravidon.physics import drain as drains
from gravidon.physics import oil as oils
from gravidon.physics.arrays import Array
from gravidon.physics.feed import FeedResult
from gravidon.physics.network import NetworkResult
from gravidon.plan.fields import si
from gravidon.plan.model import Plan, Tap, TurboLine
from gravidon.plan.paths import guesses
from gravidon.study import assemble


@dataclass(frozen=True)
class Drainage:
    """The gravity side per condition; heights [m] along that condition's effective gravity.

    Fields: up (conditions, 3); gravity [m/s²]; sump level; entry crown; submergence (sump level
    minus crown, positive drowned); the march; open area share (least along the run); worst fill;
    seal level (lowest point of either seal bore); which seal; freeboard; seconds until a wet
    seal (inf when it stays dry); Froude and Reynolds numbers; gas difference over the seals [Pa].
    """

    up: Array
    gravity_m_s2: Array
    sump_level_m: Array
    submergence_m: Array
    backwater: drains.Backwater
    open_area: Array
    worst_fill: Array
    worst_station: np.ndarray
    seal_level_m: Array
    lower_seal: np.ndarray
    freeboard_m: Array
    time_to_wet_s: Array
    froude: Array
    reynolds: Array
    gas_difference_pa: Array
    froth: oils.Froth


@dataclass(frozen=True, eq=False)
class Evaluation:
    """All a plan answers for one of its turbos, per condition; `of(k)` gives the other turbos.

    Made whole by `evaluate` and never changed.
    """

    plan: Plan
    index: int
    supply: assemble.Supply
    network: NetworkResult
    feed: FeedResult
    route: assemble.Route
    drainage: Drainage
    window_pa: Array
    restrictor_reynolds: Array
    warnings: tuple[validity.Validity, ...]
    others: list[Evaluation]

    @property
    def names(self) -> tuple[str, ...]:
        """Names of the conditions."""
        return tuple(c.name for c in self.plan.conditions)

    @property
    def line(self) -> TurboLine:
        """The turbo's line in the plan."""
        return self.plan.turbos[self.index]

    @property
    def tap(self) -> Tap:
        """The chosen tap."""
        return self.plan.taps[self.plan.tap]

    @property
    def all(self) -> tuple[Evaluation, ...]:
        """Every turbo's evaluation, this one among them."""
        return tuple(self.others)

    def of(self, index: int) -> Evaluation:
        """Return another turbo's evaluation; the last one if there are fewer."""
        return self.others[min(index, len(self.others) - 1)]

    def at(self, path: str) -> str:
        """Return the plan path of something on this turbo's line."""
        return f"turbos.{self.index}.{path}"

    @cached_property
    def guesses(self) -> tuple[str, ...]:
        """Paths of the values in the plan that nobody measured."""
        return guesses(self.plan)


def evaluate(plan: Plan) -> Evaluation:
    """Return everything the plan answers, over all its conditions; the first turbo's view of it.

    Raises: GravidonError if the plan's numbers cannot be computed (bounds make that rare).
    """
    supply, network = assemble.solve_supply(plan, assemble.source_fit(plan))
    oil, t = assemble.oil_of(plan), assemble.column(plan, "oil_temperature_c")
    rho, mu = oils.density(oil, t), oils.dynamic_viscosity(oil, t)
    every: list[Evaluation] = []
    for k, (it, feed) in enumerate(zip(plan.turbos, network.branches, strict=True)):
        route = assemble.route(it)
        drainage = drain_off(plan, it, route, feed)
        window = np.array([assemble.window_bounds(it, c) for c in plan.conditions])
        holes = assemble.holes_of(it)
        bore = min((float(np.min(h.bore_m)) for h in holes), default=smallest_bore_m(it))
        re = restrictor.reynolds(feed.flow_m3_s, bore, rho, mu)
        warned = _warnings(it, feed, drainage)
        every.append(Evaluation(plan, k, supply, network, feed, route, drainage, window, re, warned, every))
    return every[0]


def smallest_bore_m(it: TurboLine) -> float:
    """Return the smallest bore [m] of a feed line, restrictors aside."""
    return min(p.bore_mm for p in it.feed.pieces) * 1e-3


def drain_off(plan: Plan, it: TurboLine, route: assemble.Route, feed: FeedResult) -> Drainage:
    """Return the gravity side for the flow that the feed delivers."""
    count = len(plan.conditions)
    up, gravity = assemble.effective_up(plan)
    oil = assemble.oil_of(plan)
    t_drain = np.clip(feed.outlet_temperature_k, 230.0, 520.0)
    bulk = oils.froth(
        assemble.column(plan, "air_fraction"),
        feed.flow_m3_s,
        oils.density(oil, t_drain),
        oils.dynamic_viscosity(oil, t_drain),
    )
    nu = bulk.viscosity_pa_s / bulk.density_kg_m3
    still = sump.level(assemble.pan_columns(plan), up, assemble.pan_oil_m3(plan))
    turning = assemble.column(plan, "rpm") > 0.0
    sump_level = still + np.where(turning, si(plan.sump, "windage_mm"), 0.0)
    crankcase = assemble.column(plan, "crankcase_kpa")
    wheel_side = assemble.column(plan, "wheel_side_kpa")
    lift = drains.crankcase_lift(crankcase, wheel_side, bulk.density_kg_m3, gravity)
    heights = attitude.height(up, route.stations_m)
    # marched twice side by side: as it is, and upright with no sump, for the room left in the line
    upright = np.repeat(route.stations_m[:, 2:], count, axis=1)
    both = drains.march(
        drains.Run(np.concatenate([heights, upright], axis=1), route.length_m, route.bore_m),
        np.tile(bulk.flow_m3_s, 2),
        np.tile(nu, 2),
        np.tile(gravity, 2),
        np.concatenate([sump_level, np.full(count, -9.0)]),
        np.concatenate([lift, np.zeros(count)]),
    )
    water = both.first(count)
    seals, axis = assemble.seal_centres(it)
    radius = 0.5 * si(it.turbo, "seal_diameter_mm")
    lowest = np.stack([attitude.lowest_of_bore(up, seal, axis, radius) for seal in seals])
    seal_level = lowest.min(axis=0)
    freeboard = seal_level - water.housing_level_m
    wetted = part_full.area_fraction(np.clip(water.fill, 0.0, 1.0))
    wetted = np.where(water.full, 1.0, wetted)
    worst_fill = np.where(water.full, 1.0, water.fill)
    half = 0.5 * route.bore_m[-1] * np.sqrt(np.maximum(1.0 - _axis_sine(route, up) ** 2, 0.0))
    room = _room(plan, it, route, heights, both.fill[:, count:], sump_level)
    with np.errstate(divide="ignore", invalid="ignore"):
        seconds = np.where(bulk.flow_m3_s > 0.0, room / bulk.flow_m3_s, np.inf)
    narrow = np.argmin(route.bore_m)
    bore = route.bore_m[narrow]
    velocity = bulk.flow_m3_s / (np.pi / 4.0 * bore**2)
    return Drainage(
        up=up,
        gravity_m_s2=gravity,
        sump_level_m=sump_level,
        submergence_m=sump_level - (heights[-1] + half),
        backwater=water,
        open_area=1.0 - wetted.max(axis=0),
        worst_fill=worst_fill.max(axis=0),
        worst_station=worst_fill.argmax(axis=0),
        seal_level_m=seal_level,
        lower_seal=lowest.argmin(axis=0),
        freeboard_m=freeboard,
        time_to_wet_s=np.where(freeboard < 0.0, seconds, np.inf),
        froude=velocity / np.sqrt(gravity * bore),
        reynolds=velocity * bore / nu,
        gas_difference_pa=crankcase - wheel_side,
        froth=bulk,
    )


def _axis_sine(route: assemble.Route, up: Array) -> Array:
    axis = route.corners_m[-2] - route.corners_m[-1]
    sine: Array = up @ (axis / np.linalg.norm(axis))
    return sine


def _room(
    plan: Plan, it: TurboLine, route: assemble.Route, heights: Array, fill: Array, sump_level: Array
) -> Array:
    """Return the volume [m³] still free above the sump's surface before oil reaches a seal."""
    area = np.pi / 4.0 * route.bore_m**2
    middle = 0.5 * (heights[:-1] + heights[1:])
    free = (1.0 - part_full.area_fraction(np.clip(fill[:-1], 0.0, 1.0))) * (middle > sump_level)
    line = (free * (area * route.length_m)[:, None]).sum(axis=0)
    above = attitude.height(assemble.effective_up(plan)[0], route.stations_m[:1])[0] > sump_level
    result: Array = line + si(it.turbo, "cavity_ml") * above
    return result


def _warnings(it: TurboLine, feed: FeedResult, drainage: Drainage) -> tuple[validity.Validity, ...]:
    restrictor_ratio = si(it.restrictor, "length_mm") / si(it.restrictor, "bore_mm")
    found = []
    if not validity.OIL_TEMPERATURE.holds(feed.outlet_temperature_k).all():
        found.append(validity.OIL_TEMPERATURE)
    if it.restrictor.fitted and not validity.RESTRICTOR_LENGTH.holds(restrictor_ratio).all():
        found.append(validity.RESTRICTOR_LENGTH)
    if not validity.PART_FULL_REYNOLDS.holds(drainage.reynolds).all():
        found.append(validity.PART_FULL_REYNOLDS)
    if not validity.EFFECTIVE_LEAN.holds(attitude.lean(drainage.up)).all():
        found.append(validity.EFFECTIVE_LEAN)
    return tuple(found)
