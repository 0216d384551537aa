# SPDX-License-Identifier: GPL-3.0-or-later
"""How sure the verdict is, over both sides and every condition, and which guess to measure first.

Every uncertain input is moved within its band, one at a time (what decides) and all together (how sure); each plan made
so goes through the same evaluation and the same table of judged quantities as the plan itself.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from gravidon.errors import GravidonError
from gravidon.physics.arrays import Array
from gravidon.plan.fields import Known, Spec, spec
from gravidon.plan.model import Plan
from gravidon.plan.paths import walk_known
from gravidon.study.home.photos import heights_off_mm
from gravidon.study.judge.home import RESERVE
from gravidon.study.judge.quantity import BAD, HOLDS, NOTE, WATCH
from gravidon.study.judge.supply import SOAK
from gravidon.study.judge.table import TABLE
from gravidon.study.solve.evaluate import evaluate
from gravidon.translate import tr

SHARE_BY_BASIS = {"measured": 0.03, "maker": 0.05, "guess": 0.20}
"""Tolerance (95 %) as a share of the value where none is typed; common practice, no source."""
SHARE_BY_KIND = {"kg_m3": 0.02, "mm2_s": 0.1}
"""Most of that by kind of unit: what an oil's grade already tells; common practice, no source."""
LEAST_WIDTH = {"deg": 1.0, "kpa_diff": 10.0, "kpa": 10.0, "mm": 2.0, "run": 10.0}
"""Least half width of a guess (95 %) by kind of unit, in the file's unit: a guess of 0 is no certainty; common practice, no source."""
MOST_WIDTH = {"degc": 10.0, "deg": 5.0}
"""Most half width by kind of unit, in the file's unit; common practice, no source."""
GAUGE_SHARE, TEMPERATURE_K, HEAT_SHARE, AIR_SHARE = 0.05, 5.0, 0.30, 0.30
"""Tolerances (95 %) of a gauge, of oil temperature, of heat and of the air in the drain's oil; common practice, no source."""
SAMPLES, CHUNK = 300, 1
"""Samples taken, and samples a step: short enough that a window stays live between steps; project choice."""
MATTERS = 0.05
"""[margins] of swing from which an input is said to move the verdict; project choice."""

JUDGED = tuple(q for q in TABLE if q.axis == "condition" and q not in (RESERVE, SOAK))
"""What is looked at: all that is judged in a condition; but for what is only ever watched, and dear."""


@dataclass(frozen=True)
class Uncertain:
    """One uncertain input: name, its places in the plan with half widths (file unit) of their 95 % bands, how known."""

    name: str
    widths: Mapping[str, float]
    basis: str

    @property
    def path(self) -> str:
        """Its first place in the plan."""
        return next(iter(self.widths))


@dataclass(frozen=True)
class Outcome:
    """A plan judged: grade of every condition and the quantity that it is graded by, and the worst margin [-]."""

    grades: np.ndarray
    causes: tuple[str, ...]
    margin: float

    @property
    def worst(self) -> int:
        """The hardest grade."""
        return int(self.grades.max(initial=HOLDS))


@dataclass(frozen=True)
class Swing:
    """What one input does at the low and the high end of its band."""

    item: Uncertain
    low: Outcome
    high: Outcome

    @property
    def size(self) -> float:
        """By how much it moves the worst margin [-]."""
        return abs(self.high.margin - self.low.margin)


@dataclass(frozen=True)
class Deciders:
    """The plan as it stands and every input's swing so far, largest first; how many inputs there are to try."""

    nominal: Outcome
    swings: tuple[Swing, ...]
    inputs: int

    def flips(self, swing: Swing) -> bool:
        """Whether an input changes the verdict within its band."""
        return any(_word(end.worst) != _word(self.nominal.worst) for end in (swing.low, swing.high))

    @cached_property
    def first(self) -> tuple[Swing, ...]:
        """The guesses to measure first: those that change the verdict, then those that move the worst margin most."""
        moving = [s for s in self.swings if s.item.basis == "guess" and (s.size > MATTERS or self.flips(s))]
        return tuple(sorted(moving, key=lambda s: (not self.flips(s), -s.size)))


@dataclass(frozen=True)
class Certainty:
    """The answer so far: conditions; share of samples in which each holds, is to be watched, fails (3, conditions); what
    most of its failures (or watches) come from; and the same three shares for the whole plan; samples taken."""

    names: tuple[str, ...]
    shares: Array
    causes: tuple[str, ...]
    whole: tuple[float, float, float]
    samples: int


def _word(grade: int) -> int:
    return max(grade - NOTE, 0)  # holds or note 0, watch 1, bad 2


def uncertain_inputs(plan: Plan) -> tuple[Uncertain, ...]:
    """Return all that the verdict rests on and that is not sure, in a fixed order; limits that are a choice left out."""
    found = [
        Uncertain(
            tr("pressure gauge"),
            {
                f"engine.readings.{k}.pressure_kpa": GAUGE_SHARE * r.pressure_kpa
                for k, r in enumerate(plan.engine.readings)
            },
            "measured" if all(r.basis == "measured" for r in plan.engine.readings) else "guess",
        ),
        Uncertain(tr("oil temperature"), _of_conditions(plan, "oil_temperature_c", TEMPERATURE_K), "guess"),
        Uncertain(
            tr("air in the drain's oil"), _of_conditions(plan, "air_fraction", AIR_SHARE, True), "guess"
        ),
        Uncertain(tr("heat at the turbo"), _of_conditions(plan, "load", HEAT_SHARE, True), "guess"),
    ]
    off = heights_off_mm(plan)
    for k, it in enumerate(plan.turbos):
        if off > 0.0 and it.drain.joins is None:
            heights = {f"turbos.{k}.drain.points.{n}.z_mm": off for n in range(len(it.drain.points))}
            heights[f"turbos.{k}.drain.entry.z_mm"] = off
            found.append(Uncertain(_named(plan, k, tr("heights off the photo")), heights, "measured"))
        if it.restrictor.fitted:
            drilled = {f"turbos.{k}.restrictor.bore_mm": it.restrictor.tolerance_mm}
            found.append(Uncertain(_named(plan, k, tr("restrictor bore")), drilled, "measured"))
    for path, field, value in walk_known(plan):
        width = half_width(field, value)
        if width > 0.0 and _counts(plan, path):
            turbo = int(path.split(".")[1]) if path.startswith("turbos.") else None
            name = tr(field.label) if turbo is None else _named(plan, turbo, tr(field.label))
            found.append(Uncertain(name, {path: width}, value.basis))
    return tuple(u for u in found if any(u.widths.values()))


def _of_conditions(plan: Plan, field: str, width: float, share: bool = False) -> dict[str, float]:
    values = ((k, getattr(c, field)) for k, c in enumerate(plan.conditions))
    return {
        f"conditions.{k}.{field}": width * abs(v) if share else width for k, v in values if v or not share
    }


def _named(plan: Plan, turbo: int, label: str) -> str:
    if len(plan.turbos) == 1:
        return label
    return tr("{name}, {label}").format(name=label, label=plan.turbos[turbo].turbo.label)


def half_width(field: Spec, value: Known) -> float:
    """Return the half width of a value's 95 % band, in the file's unit: as typed, or by how it is known."""
    if value.tolerance is not None:
        return value.tolerance
    least = LEAST_WIDTH.get(field.kind, 0.0) if value.basis == "guess" else 0.0
    share = min(SHARE_BY_BASIS[value.basis], SHARE_BY_KIND.get(field.kind, 1.0))
    return min(max(share * abs(value.value), least), MOST_WIDTH.get(field.kind, np.inf))


def _counts(plan: Plan, path: str) -> bool:
    """Whether a value can touch a condition: not a limit of the plan's own, another tap's, or a pump that is not fitted."""
    steps = path.split(".")
    if steps[0] == "needs" or (steps[0] == "taps" and int(steps[1]) != plan.tap):
        return False
    if steps[-1] == "reference_drop_kpa":
        return False  # the flow is quoted at it
    if steps[0] != "turbos":
        return True
    pumped = plan.turbos[int(steps[1])].drain_by == "scavenge"
    return steps[2] not in {"parts", "flange_hole"} and (steps[2] != "scavenge" or pumped)


def varied(plan: Plan, inputs: tuple[Uncertain, ...], unit: Array) -> Plan:
    """Return the plan with every input off by so many half widths, kept within its bounds.

    Args:
        plan: the plan.
        inputs: from `uncertain_inputs`.
        unit: half widths, (inputs,); 0 leaves an input as it is.
    """
    tree: dict[str, Any] = {}
    for item, off in zip(inputs, unit.tolist(), strict=True):
        if off:
            for path, width in item.widths.items():
                *way, last = path.split(".")
                node = tree
                for step in way:
                    node = node.setdefault(step, {})
                node[last] = off * width
    made: Plan = _shifted(plan, tree)
    return made


def _shifted(node: Any, tree: Mapping[str, Any]) -> Any:
    if isinstance(node, tuple):
        return tuple(_shifted(it, tree[str(k)]) if str(k) in tree else it for k, it in enumerate(node))
    changes: dict[str, Any] = {}
    for name, part in tree.items():
        old = getattr(node, name)
        if isinstance(part, Mapping):
            changes[name] = _shifted(old, part)
        else:
            bounds = spec(node, name)
            value = (old.value if isinstance(old, Known) else old) + part
            value = min(max(value, bounds.low), bounds.high)
            changes[name] = old.model_copy(update={"value": value}) if isinstance(old, Known) else value
    return node.model_copy(update=changes)


def outcome(plan: Plan) -> Outcome:
    """Return a plan judged in every condition."""
    count = len(plan.conditions)
    grades, causes, least = np.full(count, HOLDS), [""] * count, np.full(count, np.inf)
    try:
        lenses = evaluate(plan).all
        found = [q.judge(lens) for lens in lenses for q in JUDGED if lens.index == 0 or not q.shared]
    except GravidonError:  # within the bands lies a car that cannot be computed: it does not hold
        return Outcome(np.full(count, BAD), ("",) * count, -1.0)
    worst = np.inf
    for judged in found:
        margin = np.where(np.isfinite(judged.margin), judged.margin, np.inf)
        harder = (judged.grade > grades) | ((judged.grade == grades) & (margin < least))
        for i in np.flatnonzero(harder):
            causes[i] = judged.quantity.name
        grades, least = np.where(harder, judged.grade, grades), np.where(harder, margin, least)
        # what is only noted stands beside the verdict: its margin decides nothing
        worst = min(worst, float(margin[judged.grade != NOTE].min(initial=np.inf)))
    return Outcome(grades, tuple(causes), worst if np.isfinite(worst) else 1.0)


def deciders(plan: Plan) -> Iterator[Deciders]:
    """Yield, input by input, what each does to the verdict at either end of its band; the last covers all of them."""
    inputs = uncertain_inputs(plan)
    nominal = outcome(plan)
    ends = np.eye(len(inputs))
    swings: list[Swing] = []
    yield Deciders(nominal, (), len(inputs))
    for item, off in zip(inputs, ends, strict=True):
        low, high = outcome(varied(plan, inputs, -off)), outcome(varied(plan, inputs, off))
        swings.append(Swing(item, low, high))
        yield Deciders(nominal, tuple(sorted(swings, key=lambda s: -s.size)), len(inputs))


def certainty(plan: Plan, samples: int = SAMPLES, seed: int = 1) -> Iterator[Certainty]:
    """Yield ever better answers, CHUNK samples a step; the last covers all samples.

    Source: Latin hypercube by scipy.stats.qmc; normal tolerances with 95 % inside the half width.
    """
    from scipy.special import ndtri
    from scipy.stats import qmc

    inputs = uncertain_inputs(plan)
    cube = qmc.LatinHypercube(len(inputs), rng=np.random.default_rng(seed)).random(samples)
    unit = ndtri(np.clip(cube, 1e-6, 1 - 1e-6)) / 1.959964
    names = tuple(c.name for c in plan.conditions)
    counts, whole = np.zeros((3, len(names))), np.zeros(3)
    blamed: list[dict[str, int]] = [{} for _ in names]
    for done, row in enumerate(unit, 1):
        it = outcome(varied(plan, inputs, row))
        for i, grade in enumerate(it.grades):
            counts[_word(int(grade)), i] += 1
            if grade >= WATCH:
                blamed[i][it.causes[i]] = blamed[i].get(it.causes[i], 0) + 1
        whole[_word(it.worst)] += 1
        if done % CHUNK == 0 or done == samples:
            causes = tuple(max(b, key=b.__getitem__, default="") for b in blamed)
            parts = tuple(float(w) / done for w in whole)
            yield Certainty(names, counts / done, causes, (parts[0], parts[1], parts[2]), done)
