"""How sure the pressure side's verdicts are, and which guess to measure first.

Latin-hypercube samples of every uncertain input go through the same vectorised feed. The gravity
side is not sampled.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from gravidon.physics import oil as oils
from gravidon.physics import source
from gravidon.physics.arrays import Array
from gravidon.physics.bearing import BearingReference
from gravidon.physics.feed import Feed, FeedResult, Hole, Pipe, Screen, solve_feed
from gravidon.plan.fields import Known, si
from gravidon.plan.model import Hose, Plan
from gravidon.study.judge.supply import window_margins
from gravidon.study.solve import assemble
from gravidon.study.solve.evaluate import evaluate

CHUNK = 250
"""Samples a step: short enough that a window stays live between steps."""

SHARE_BY_BASIS = {"measured": 0.03, "maker": 0.05, "guess": 0.20}
"""Tolerance (95 %) as a share of the value where none is typed; common practice, no source."""

GAUGE_SHARE, TEMPERATURE_K, HEAT_SHARE, LEAST_OFFSET_PA = 0.05, 5.0, 0.30, 10e3
"""Tolerances (95 %) of a gauge, of oil temperature, of heat, and of a tap's offset; common practice, no source."""


@dataclass(frozen=True)
class Uncertain:
    """One uncertain input: name, its place in the plan, half width of its 95 % band, and how known.

    `relative` tells whether the half width is a share of the value or absolute in SI.
    """

    name: str
    path: str
    half_width: float
    relative: bool
    basis: str


@dataclass(frozen=True)
class Outcome:
    """The feed of samples, every array (samples, conditions), SI."""

    feed: FeedResult


@dataclass(frozen=True)
class Certainty:
    """The answer: probabilities (conditions,) of starved, over-fed, cooked and any of them; of all well; samples taken;
    and the tornado: (input, worst margin with it low, with it high), largest swing first."""

    names: tuple[str, ...]
    starved: Array
    over_fed: Array
    cooked: Array
    failing: Array
    plan_holds: float
    samples: int
    tornado: tuple[tuple[Uncertain, float, float], ...]


def _known(name: str, path: str, value: Known, least: float = 0.0) -> Uncertain:
    if value.tolerance is not None and value.value != 0.0:
        return Uncertain(name, path, value.tolerance / abs(value.value), True, value.basis)
    return Uncertain(name, path, max(SHARE_BY_BASIS[value.basis], least), True, value.basis)


def uncertain_inputs(plan: Plan, index: int) -> tuple[Uncertain, ...]:
    """Return the inputs that one turbo's pressure side rests on, in a fixed order."""
    it, tap = plan.turbos[index], plan.taps[plan.tap]
    at = f"turbos.{index}."
    offset = tap.offset_kpa
    wide = (offset.tolerance or 0.0) * 1e3 or LEAST_OFFSET_PA * (1.0 if offset.basis == "guess" else 0.3)
    hose = next(k for k, p in enumerate(it.feed.pieces) if isinstance(p, Hose))
    gauge = "measured" if all(r.basis == "measured" for r in plan.engine.readings) else "guess"
    return (
        Uncertain("pressure gauge", "engine.readings", GAUGE_SHARE, True, gauge),
        _known("relief pressure", "engine.relief_kpa", plan.engine.relief_kpa),
        Uncertain("pressure at the tap", f"taps.{plan.tap}.offset_kpa", wide, False, offset.basis),
        Uncertain("oil temperature", "conditions", TEMPERATURE_K, False, "guess"),
        _known("oil viscosity", "oil.v100_mm2_s", plan.oil.v100_mm2_s),
        _known("feed hose length", f"{at}feed.pieces.{hose}.length_mm", it.feed.pieces[hose].length_mm),  # type: ignore[union-attr]
        Uncertain(
            "restrictor bore", f"{at}restrictor.bore_mm", it.restrictor.tolerance_mm * 1e-3, False, "measured"
        ),
        _known("restrictor length", f"{at}restrictor.length_mm", it.restrictor.length_mm),
        _known("bearing's oil flow", f"{at}turbo.reference_flow_l_min", it.turbo.reference_flow_l_min),
        _known("bearing's film share", f"{at}turbo.film_share", it.turbo.film_share),
        Uncertain("heat at the turbo", "conditions", HEAT_SHARE, True, "guess"),
    )


def run(plan: Plan, index: int, inputs: tuple[Uncertain, ...], unit: Array) -> Outcome:
    """Return outcomes for samples of the inputs.

    Args:
        plan: the plan.
        index: which turbo.
        inputs: from `uncertain_inputs`.
        unit: samples in half widths, (samples, inputs); 0 is the plan as it stands.

    With several turbos the tee's share of the tap pressure is kept as the plan's own.
    """
    it = plan.turbos[index]
    column = {u.name: unit[:, k : k + 1] for k, u in enumerate(inputs)}
    width = {u.name: u.half_width for u in inputs}

    def scale(name: str) -> Array:
        factor: Array = np.maximum(1.0 + column[name] * width[name], 0.05)
        return factor

    def shift(name: str) -> Array:
        change: Array = column[name] * width[name]
        return change

    t = assemble.column(plan, "oil_temperature_c")[None, :] + shift("oil temperature")
    nominal = assemble.oil_of(plan)
    fit = assemble.source_fit(plan)
    mu = oils.dynamic_viscosity(nominal, t)
    n = assemble.column(plan, "rpm")[None, :]
    free = source.unrelieved_pressure(fit, source.scaled_speed(n, mu)) * scale("pressure gauge")
    gallery = source.relieved(free, fit.relief_pa * scale("relief pressure"))
    offset = si(plan.taps[plan.tap], "offset_kpa") + shift("pressure at the tap")
    tap = np.where(gallery > 0.0, np.maximum(gallery + offset, 0.0), 0.0) * _draw_share(plan, index)[None, :]
    viscous = scale("oil viscosity")
    oil = oils.Oil(
        np.asarray(nominal.v40_m2_s) * np.clip(viscous, 0.4, 4.0),
        np.asarray(nominal.v100_m2_s) * np.clip(viscous, 0.4, 4.0),
        nominal.density15_kg_m3,
    )
    pipes = tuple(
        Pipe(p.bore_m, np.asarray(p.length_m) * scale("feed hose length"), p.k1, p.k_infinity)
        for p in assemble.pipes_of(it.feed.pieces)
    )
    holes = []
    for k, hole in enumerate(assemble.holes_of(it)):
        own = k == 0 and it.restrictor.fitted
        bore = np.maximum(np.asarray(hole.bore_m) + (shift("restrictor bore") if own else 0.0), 0.1e-3)
        holes.append(Hole(bore, np.asarray(hole.length_m) * (scale("restrictor length") if own else 1.0)))
    ref = assemble.bearing_reference(it)
    reference = BearingReference(
        ref.drop_pa,
        np.asarray(ref.flow_m3_s) * scale("bearing's oil flow"),
        ref.density_kg_m3,
        ref.viscosity_pa_s,
        np.clip(np.asarray(ref.film_share) * scale("bearing's film share"), 0.0, 0.95),
    )
    heat = assemble.heat_w(plan, it)[None, :] * scale("heat at the turbo")
    screen: Screen | None = assemble.screen_of(it.feed.pieces)
    result = solve_feed(
        Feed(
            oil, tap, t, heat, pipes, tuple(holes), screen, reference, metal_w_k=assemble.metal_w_k(plan, it)
        ),
        tolerance=1e-5,
    )
    return Outcome(result)


def _draw_share(plan: Plan, index: int) -> Array:
    """Return, per condition, the share of the undrawn tap pressure that reaches the branch."""
    e = evaluate(plan)
    offset = si(plan.taps[plan.tap], "offset_kpa")
    still = np.where(e.supply.undrawn_pa > 0.0, e.supply.undrawn_pa + offset, 0.0)
    tee = e.network.tee_pressure_pa
    return np.where(still > 0.0, tee / np.where(still > 0.0, still, 1.0), 0.0)


def _margins(plan: Plan, index: int, outcome: Outcome) -> tuple[Array, Array, Array]:
    margins = window_margins(plan.turbos[index], plan.conditions, outcome.feed)
    low, high, cool = (np.where(np.isnan(m), np.inf, m) for m in margins)
    return low, high, cool


def tornado(plan: Plan, index: int) -> tuple[tuple[Uncertain, float, float], ...]:
    """Return what each input does to the worst margin at either end of its band, largest swing first."""
    inputs = uncertain_inputs(plan, index)
    count = len(inputs)
    ends = np.concatenate([-np.eye(count), np.eye(count)])
    low, high, cool = _margins(plan, index, run(plan, index, inputs, ends))
    worst = np.minimum(np.minimum(low, high), cool).min(axis=1)
    rows = [(u, float(worst[k]), float(worst[k + count])) for k, u in enumerate(inputs)]
    return tuple(sorted(rows, key=lambda r: -abs(r[2] - r[1])))


def measure_first(rows: tuple[tuple[Uncertain, float, float], ...]) -> tuple[Uncertain, ...]:
    """Return the guesses of a tornado that move the worst margin, first to measure first."""
    return tuple(u for u, a, b in rows if u.basis == "guess" and abs(a - b) > 1e-3)


def certainty(plan: Plan, index: int, samples: int = 10_000, seed: int = 1) -> Iterator[Certainty]:
    """Yield ever better answers, one chunk of samples a step; the last covers all samples.

    Source: Latin hypercube by scipy.stats.qmc; normal tolerances with 95 % inside the half width.
    """
    from scipy.special import ndtri
    from scipy.stats import qmc

    inputs = uncertain_inputs(plan, index)
    swings = tornado(plan, index)
    cube = qmc.LatinHypercube(len(inputs), rng=np.random.default_rng(seed)).random(samples)
    unit = ndtri(np.clip(cube, 1e-6, 1 - 1e-6)) / 1.959964
    names = tuple(c.name for c in plan.conditions)
    bad = np.zeros((4, len(names)))
    well = 0
    for start in range(0, samples, CHUNK):
        part = unit[start : start + CHUNK]
        margins = _margins(plan, index, run(plan, index, inputs, part))
        failed = [m < 0.0 for m in margins]
        failed.append(failed[0] | failed[1] | failed[2])
        bad += np.array([f.sum(axis=0) for f in failed])
        well += int((~failed[3]).all(axis=1).sum())
        done = start + len(part)
        yield Certainty(
            names, bad[0] / done, bad[1] / done, bad[2] / done, bad[3] / done, well / done, done, swings
        )
