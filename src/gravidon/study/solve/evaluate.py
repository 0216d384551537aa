# SPDX-License-Identifier: GPL-3.0-or-later
"""evaluate(plan): the whole oil path in every condition, as arrays. The one place all answers come from."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from gravidon.physics import attitude, validity
from gravidon.physics.arrays import Array
from gravidon.physics.feed import FeedResult
from gravidon.physics.network import NetworkResult
from gravidon.plan.fields import si
from gravidon.plan.model import Plan, Tap, TurboLine
from gravidon.plan.paths import guesses
from gravidon.study.solve import assemble
from gravidon.study.solve.as_bought import as_bought
from gravidon.study.solve.breathing import Breathing, breathing
from gravidon.study.solve.drain_route import Route, route
from gravidon.study.solve.gravity import (
    Drainage,
    Standing,
    Stream,
    froth_of,
    gathered,
    gravity_sides,
    standing_of,
)
from gravidon.study.solve.scavenging import Scavenging, scavenging


@dataclass(frozen=True, eq=False)
class GravitySides:
    """The gravity side of every turbo of a plan, each part worked out when first asked for."""

    plan: Plan
    stand: Standing
    network: NetworkResult

    @cached_property
    def routes(self) -> tuple[Route, ...]:
        """Every turbo's drain in space."""
        return tuple(route(self.plan, it) for it in self.plan.turbos)

    @cached_property
    def drained(self) -> tuple[Drainage, ...]:
        """Every turbo's gravity side."""
        streams = [Stream(f.flow_m3_s, f.outlet_temperature_k) for f in self.network.branches]
        froths = [froth_of(self.plan, self.stand, stream) for stream in streams]
        for k, it in enumerate(self.plan.turbos):
            if it.drain_by == "scavenge":
                pump = scavenging(self.plan, it, gathered(self.plan, k, froths), 0.0)
                streams[k] = replace(streams[k], pumped_m3_s=pump.delivery_m3_s)
        return gravity_sides(self.plan, self.stand, streams, self.routes)


@dataclass(frozen=True, eq=False)
class Evaluation:
    """All a plan answers for one of its turbos, per condition; `of(k)` gives the other turbos.

    Made by `evaluate` and never changed; the gravity side is worked out when first asked for.
    """

    plan: Plan
    index: int
    supply: assemble.Supply
    network: NetworkResult
    feed: FeedResult
    gravity: GravitySides
    breathing: Breathing
    window_pa: Array
    flow_min_m3_s: Array
    others: list[Evaluation]

    @property
    def route(self) -> Route:
        """The turbo's drain in space."""
        return self.gravity.routes[self.index]

    @property
    def drainage(self) -> Drainage:
        """The turbo's gravity side."""
        return self.gravity.drained[self.index]

    @cached_property
    def warnings(self) -> tuple[validity.Validity, ...]:
        """Ranges in which a relation holds that the answers left."""
        return out_of_range(self)

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
        return guesses(self.plan) if self.index == 0 else self.others[0].guesses

    @cached_property
    def short_guesses(self) -> tuple[tuple[str, str], ...]:
        """The same with the path as a finder knows it: this turbo's line without its number, 'tap.' the chosen one."""
        own, chosen = self.at(""), f"taps.{self.plan.tap}."
        return tuple((p, p.removeprefix(own).replace(chosen, "tap.")) for p in self.guesses)

    @cached_property
    def scavenging(self) -> Scavenging:
        """The turbo's scavenge pump, whether or not the plan uses it."""
        inside = float((np.pi / 4.0 * self.route.bore_m**2 * self.route.length_m).sum())
        froths = [lens.drainage.froth for lens in self.all]
        return scavenging(self.plan, self.line, gathered(self.plan, self.index, froths), inside)


def evaluate(plan: Plan) -> Evaluation:
    """Return everything the plan answers, over all its conditions; the first turbo's view of it.

    Parts that are chosen bring their own bores (`as_bought`). The pressure side is solved here, the gravity side when first asked for: a restrictor dragged needs no march.

    Raises: GravidonError if the plan's numbers cannot be computed (bounds make that rare).
    """
    plan = as_bought(plan)
    supply, network = assemble.supply_of(plan)
    breath = breathing(plan)
    gravity = GravitySides(plan, standing_of(plan, breath.crankcase_pa), network)
    every: list[Evaluation] = []
    for k, (it, feed) in enumerate(zip(plan.turbos, network.branches, strict=True)):
        window = np.array([assemble.window_bounds(it, c) for c in plan.conditions])
        least = np.array([assemble.least_flow(it, c) for c in plan.conditions])
        every.append(Evaluation(plan, k, supply, network, feed, gravity, breath, window, least, every))
    return every[0]


def out_of_range(e: Evaluation) -> tuple[validity.Validity, ...]:
    """Return the ranges that the answers left, each looked at where its relation is used."""
    it, plan, d = e.line, e.plan, e.drainage
    inlet = assemble.column(plan, "oil_temperature_c")
    holes = [si(r, "length_mm") / si(r, "bore_mm") for r in (it.restrictor, it.flange_hole) if r.fitted]
    dean = d.reynolds * np.sqrt(e.route.bore_m[:, None] / (2.0 * e.route.bend_radius_m[:, None]))
    looked_at: tuple[tuple[validity.Validity, Array], ...] = (
        (validity.OIL_TEMPERATURE, np.concatenate([inlet, e.feed.outlet_temperature_k])),
        (validity.RESTRICTOR_LENGTH, np.array(holes)),
        (validity.PART_FULL_REYNOLDS, d.reynolds),
        (validity.EFFECTIVE_LEAN, attitude.lean(d.up)),
        (validity.HOSE_SAG, e.route.sag_share),
        (validity.GAUGE_SPEED, _speed_over_reading(plan) if e.index == 0 else np.ones(1)),
        (validity.BEND_DEAN, dean),
    )
    return tuple(known for known, values in looked_at if not known.holds(values).all())


def _speed_over_reading(plan: Plan) -> Array:
    """Return, for every warm running condition, its engine speed over that of the nearest reading taken warm [-]."""
    read = np.array([r.rpm for r in plan.engine.readings if r.rpm > 0.0 and r.oil_temperature_c >= WARM_C])
    run = np.array([c.rpm for c in plan.conditions if c.kind.turning and c.kind.warm])
    if not len(read) or not len(run):
        return np.ones(1)
    ratio = run[:, None] / read
    nearest = np.abs(np.log(ratio)).argmin(axis=1)
    over: Array = ratio[np.arange(len(run)), nearest]
    return over


WARM_C = 60.0
"""[°C] from which a gauge reading counts as taken warm; project choice."""
