# SPDX-License-Identifier: GPL-3.0-or-later
"""The health of the feed over a car's life: how strong the gallery is, how far the feed has closed, what the bearing lets through, how far the senders are off.

Regularised least squares over all entries together, with the feed's physics as its measurement model. Every part of the state walks at random from entry to entry, the
closing with a slope of its own that walks too, gallery, passage and zeros with a slope each that stays; work that makes a part new lets it begin again. The bands are those of the posterior at the solution, linearised there.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from gravidon.errors import SolverError
from gravidon.physics import oil as oils
from gravidon.physics import source
from gravidon.physics.arrays import Array
from gravidon.plan.fields import spec
from gravidon.plan.model import Engine, Plan, Turbo
from gravidon.records.entry import Entry, Reading
from gravidon.study.car.season import UNIT_DROP_PA
from gravidon.study.health.model import FeedModel, feed_model
from gravidon.study.solve import assemble
from gravidon.study.solve.senders import calibration
from gravidon.study.verdict.certainty import half_width
from gravidon.translate import tr

GALLERY, CLOSING, PASSAGE, ZERO, GALLERY_ZERO, THICK, SLOPE = range(7)
"""Parts of an entry's state: the five of the model, the logarithm of the oil's viscosity over the sheet's, and the closing's slope a thousand kilometres."""
PARTS = 7
NEW = {
    "oil": THICK,
    "screen": CLOSING,
    "bearing": PASSAGE,
    "restrictor": PASSAGE,
    "pump": GALLERY,
    "sender": ZERO,
}
"""Which part begins again with what was made new."""

FIRST = (0.05, 0.6, 0.05, 0.0, 0.0, 0.06, 3.0)
"""Standard deviation of each part at the first entry; closing and its slope in scales (see `Scale`), zeros by the senders' calibration, the passage's with the
tolerance of the plan's own figure; project choices, tuned on simulated cars whose truth is known."""
WALK = (0.007, 0.15, 0.004, 2e3, 1e3, 0.010, 0.5)
"""Standard deviation of each part's walk over a thousand kilometres, units as in FIRST, zeros in Pa; project choices."""
AGAIN = (0.06, 0.5, 0.15, 0.0, 0.0, 0.05, 0.5)
"""Standard deviation of a part that begins again; project choices."""
DRIFT = {GALLERY: 0.02, PASSAGE: 0.025, ZERO: 3e3, GALLERY_ZERO: 1e3}
"""Standard deviation of a part's slope over a thousand kilometres, units as in WALK: pumps, bearings and senders that wear do it steadily; project choices, wide."""
TILT, CURVE, GAIN, LAW, DROP, SHARE = range(6)
"""What errs alike through all entries: the gallery law's slope over speed, how much thicker the oil is cold than its sheet says, either sender's span; and of
each kind of reading by itself, the law, the drop on the way to the inlet, and the bearing's passage: films, holes and bends take other shares than the plan says."""
STEADY = (0.03, 0.06, 0.012, 0.02, 0.10, 0.06)
"""Standard deviation of each [-]; project choices."""
SPEED_RPM, OIL_K, NOISE_PA, NOISE_SHARE = 28.0, 2.2, 3.0e3, 0.003
"""What a reading is off by (standard deviations): engine speed [rpm] and oil temperature [K], which move both pressures together; each pressure by itself [Pa] and
[-] of it; common practice, no source."""
MOST_STEPS, SMALL = 12, 1e-3
"""Steps of Gauss-Newton at most, and the share of what a step may be under which it is the last; project choices."""
KM_A_DAY = 40.0
"""[km] a day where nobody told a distance; project choice."""
Z90 = 1.645
"""Half width of a 90 % band in standard deviations."""


@dataclass(frozen=True)
class Scale:
    """What is much for this car: one scale of closing takes 10 % of the inlet's pressure in a hot idle [units]; where its hot idle is [rpm], [K]."""

    closing: float
    rpm: float
    oil_k: float


@dataclass(frozen=True, eq=False)
class Health:
    """The answer. Arrays (entries,) or (entries, 7): distance [km], day numbers, mean and standard deviation of every part; the whole covariance of the last entry's
    parts (7, 7); misses of every reading in standard deviations with their entry; and the scale."""

    plan: Plan
    turbo: int
    entries: tuple[Entry, ...]
    km: Array
    mean: Array
    sd: Array
    last: Array
    misses: tuple[tuple[int, float], ...]
    scale: Scale
    tilt: float

    @property
    def now(self) -> Array:
        """The last entry's state, (7,)."""
        result: Array = self.mean[-1]
        return result

    def band(self, part: int) -> tuple[Array, Array]:
        """Return the 90 % band of a part, each (entries,)."""
        return self.mean[:, part] - Z90 * self.sd[:, part], self.mean[:, part] + Z90 * self.sd[:, part]

    @cached_property
    def odd(self) -> tuple[int, ...]:
        """Entries with a reading that fits nothing else: typed wrong, or taken otherwise."""
        return tuple(sorted({k for k, m in self.misses if m > ODD}))


ODD = 4.0
"""[standard deviations] from which a reading fits nothing else; project choice."""


LEAST_SCALE, MOST_SCALE = 0.05, 1000.0
"""[units] that a scale of closing is held between: a plan may have no pressure at its hot idle at all; project choice."""


def scale_of(plan: Plan, turbo: int) -> Scale:
    """Return what is much for a car."""
    idle = [c for c in plan.conditions if c.kind.turning and c.kind.warm and not c.kind.driving]
    rpm = min((c.rpm for c in idle), default=850.0)
    oil = max((c.oil_temperature_c for c in idle), default=98.0) + 273.15
    model = feed_model(plan, turbo, (Reading(rpm, oil),))
    none = np.zeros((5, 1))
    one = none.copy()
    one[CLOSING] = 1e-2
    port, less = model.shown(none)[1, 0], model.shown(one)[1, 0]
    per_unit = max((port - less) / 1e-2, 1e-6 * UNIT_DROP_PA)
    return Scale(float(np.clip(0.1 * port / per_unit, LEAST_SCALE, MOST_SCALE)), rpm, oil)


def distances_km(entries: Sequence[Entry]) -> Array:
    """Return every entry's distance [km]: as told, else straight between those that were, by their days."""
    days = np.array([e.date.toordinal() for e in entries], dtype=np.float64)
    told = np.array([e.distance_m / 1e3 for e in entries])
    known = np.isfinite(told)
    if known.sum() >= 2:
        first, last = (np.flatnonzero(known)[k] for k in (0, -1))
        rate = (told[last] - told[first]) / max(days[last] - days[first], 1.0)
        rate = rate if rate > 0.0 else KM_A_DAY
        inside = np.interp(days, days[known], told[known])
        before, after = told[first] - rate * (days[first] - days), told[last] + rate * (days - days[last])
        guess = np.where(days < days[first], before, np.where(days > days[last], after, inside))
    else:
        base = told[known][0] - KM_A_DAY * days[known][0] if known.any() else -KM_A_DAY * days[0]
        guess = base + KM_A_DAY * days
    made: Array = np.maximum.accumulate(np.where(known, told, guess))
    return made


def used(entries: Sequence[Entry], turbo: int) -> list[tuple[int, Reading]]:
    """Return the readings that say something of a turbo, each with its entry's number."""
    found = []
    for k, e in enumerate(entries):
        for r in e.readings:
            if r.turbo == turbo and (math.isfinite(r.gallery_pa) or math.isfinite(r.inlet_pa)):
                found.append((k, r))
    return found


def health(plan: Plan, entries: Sequence[Entry], turbo: int = 0) -> Health | None:
    """Return the health over a logbook's entries; None if no reading says anything of the turbo.

    Args:
        plan: the plan: what everything is relative to.
        entries: the logbook's, by day.
        turbo: which turbo, counted from 0.

    Raises: GravidonError if a reading cannot be computed.
    """
    entries = tuple(sorted(entries, key=lambda e: e.day))
    readings = used(entries, turbo)
    if not readings:
        return None
    scale = scale_of(plan, turbo)
    km = distances_km(entries)
    problem = _Problem(plan, turbo, entries, km, readings, scale)
    x, information, misses = problem.solved()
    covariance: Array = np.asarray(np.linalg.inv(information), dtype=np.float64)
    n = len(entries)
    sd: Array = np.sqrt(np.maximum(np.diag(covariance)[: n * PARTS].reshape(n, PARTS), 0.0))
    rows = slice((n - 1) * PARTS, n * PARTS)
    return Health(
        plan,
        turbo,
        entries,
        km,
        x[: n * PARTS].reshape(n, PARTS),
        sd,
        covariance[rows, rows],
        tuple((k, m) for (k, _), m in zip(readings, misses, strict=True)),
        scale,
        float(x[n * PARTS]),
    )


class _Problem:
    """The least squares: unknowns are PARTS for every entry, then what errs alike in all, then one error of the law for each kind of reading, then slopes."""

    def __init__(
        self,
        plan: Plan,
        turbo: int,
        entries: tuple[Entry, ...],
        km: Array,
        readings: list[tuple[int, Reading]],
        scale: Scale,
    ) -> None:
        self.entries, self.km, self.scale = entries, km, scale
        self.entry = np.array([k for k, _ in readings])
        self.seen = np.array([[r.gallery_pa, r.inlet_pa] for _, r in readings]).T
        self.model = feed_model(plan, turbo, [r for _, r in readings])
        self.off = self.model.rpm <= 0.0
        self.thick = _thicker(plan, turbo, [r for _, r in readings])
        self.lean = np.log(np.maximum(self.model.rpm, 100.0) / max(scale.rpm, 100.0)) - 0.5
        oil = assemble.oil_of(plan)
        there = self.model.oil_k
        self.thins = np.log(
            oils.dynamic_viscosity(oil, there) / oils.dynamic_viscosity(oil, np.minimum(there + 1.0, 700.0))
        )
        self.cold = (373.15 - self.model.oil_k) / 80.0
        self.kind = _kinds(self.model)
        self.kinds = int(self.kind.max()) + 1
        relief = plan.engine.relief_kpa
        relief_sd = half_width(spec(Engine, "relief_kpa"), relief) / max(relief.value, 1e-6) / 1.96
        alike = (STEADY[TILT], STEADY[CURVE], STEADY[GAIN], STEADY[GAIN], max(relief_sd, 1e-3))
        self.steady = np.array(
            [
                *alike,
                *(STEADY[part] for part in (LAW, DROP, SHARE) for _ in range(self.kinds)),
                *DRIFT.values(),
            ]
        )
        self.drift = {part: len(self.steady) - len(DRIFT) + k for k, part in enumerate(DRIFT)}
        self.senders = self._zero_sd(plan, turbo)
        flow = plan.turbos[turbo].turbo.reference_flow_l_min
        self.flow_sd = half_width(spec(Turbo, "reference_flow_l_min"), flow) / max(flow.value, 1e-6) / 1.96
        self.size = len(entries) * PARTS + len(self.steady)
        self.prior_information = self._prior()

    @staticmethod
    def _zero_sd(plan: Plan, turbo: int) -> tuple[float, float]:
        """Return the standard deviation of either sender's zero [Pa]: half of how far a reading may be off."""

        def of(channel: str) -> float:
            known = [s for s in plan.senders if s.channel == channel]
            return calibration(known[0]).accuracy_pa / 2.0 if known else 8e3

        return of("inlet" if turbo == 0 else f"inlet{turbo + 1}"), of("gallery")

    def _sds(self, table: Sequence[float]) -> Array:
        """Return a table of standard deviations in the state's own units."""
        made = np.array(table, dtype=np.float64)
        made[[CLOSING, SLOPE]] *= self.scale.closing
        return made

    def _prior(self) -> Array:
        """Return the prior's information matrix; all its means are 0."""
        n = len(self.entries)
        h = np.zeros((self.size, self.size))
        first = self._sds(FIRST)
        first[[ZERO, GALLERY_ZERO]] = self.senders
        first[PASSAGE] = math.hypot(first[PASSAGE], self.flow_sd)
        walk, again = self._sds(WALK), self._sds(AGAIN)
        again[[ZERO, GALLERY_ZERO]] = self.senders
        for part in range(PARTS):
            h[part, part] += first[part] ** -2
        for k in range(1, n):
            step = max((self.km[k] - self.km[k - 1]) / 1000.0, 1e-3)
            begun = {NEW[w] for w in self.entries[k].changed if w in NEW}
            if "sender" in self.entries[k].changed:
                begun.add(GALLERY_ZERO)
            for part in range(PARTS):
                now, before = k * PARTS + part, (k - 1) * PARTS + part
                if part in begun or (part == SLOPE and CLOSING in begun):
                    h[now, now] += again[part] ** -2
                    continue
                row = {now: 1.0, before: -1.0}
                if part == CLOSING:
                    row[(k - 1) * PARTS + SLOPE] = -step
                elif part in self.drift:
                    row[n * PARTS + self.drift[part]] = -step
                weight = 1.0 / (walk[part] ** 2 * step)
                for i, a in row.items():
                    for j, b in row.items():
                        h[i, j] += weight * a * b
        for j, sd in enumerate(self.steady):
            h[n * PARTS + j, n * PARTS + j] += sd**-2
        return h

    def _at(self, x: Array) -> tuple[Array, Array]:
        """Return the readings' states of the model, (5, readings), and their oil's thickness, (readings,)."""
        n = len(self.entries)
        per = x[: n * PARTS].reshape(n, PARTS)[self.entry].T
        state = per[:5].copy()
        steady = x[n * PARTS :]
        return state, per[THICK] + steady[1] * self.cold

    @staticmethod
    def _law_row(shown: Array, slopes: Array) -> Array:
        """Return what an error of the law in its pressure does to what is shown, (2, readings): near the relief that is more than any strength of the
        gallery would do."""
        follows = np.clip(slopes[GALLERY, 1] / np.maximum(slopes[GALLERY, 0], 1.0), 0.0, 1.5)
        result: Array = shown[0] * np.stack([np.ones_like(follows), follows])
        return result

    @classmethod
    def _relief_row(cls, shown: Array, slopes: Array) -> Array:
        """Return what an error of the relief's setting does to what is shown, (2, readings): all of its share near the relief, nothing far below it."""
        strength = np.clip(slopes[GALLERY, 0] / np.maximum(shown[0], 1.0), 0.0, 1.0)
        result: Array = cls._law_row(shown, slopes) * (1.0 - strength)
        return result

    @staticmethod
    def _drop_row(shown: Array) -> Array:
        """Return what an error of the drop before the inlet does to what is shown, (2, readings)."""
        drop = np.maximum(shown[0] - shown[1], 0.0)
        return np.stack([np.zeros_like(drop), -drop])

    def _steady_errors(self, x: Array, shown: Array, slopes: Array) -> Array:
        """Return what errs alike through all entries, (2, readings): the law, the relief and the senders' spans."""
        steady = x[len(self.entries) * PARTS :]
        law = steady[0] * self.lean + steady[ALIKE + self.kind]
        spans = shown * steady[[3, 2], None]  # the gallery's, the inlet's
        drop = self._drop_row(shown) * steady[ALIKE + self.kinds + self.kind]
        share = slopes[PASSAGE] * steady[ALIKE + 2 * self.kinds + self.kind]
        relief = self._relief_row(shown, slopes) * steady[4]
        made: Array = self._law_row(shown, slopes) * law + relief + spans + drop + share
        return made

    def _shown(self, state: Array, thick: Array) -> Array:
        """Return what is shown, (2, ..., readings); the oil's thickness counts straight."""
        plain = self.model.shown(state)
        more = self.thick.shown(state)
        result: Array = plain + (more - plain) * (thick / THICKER)
        return result

    def _slopes(self, state: Array, thick: Array) -> tuple[Array, Array]:
        """Return what is shown and its slopes by the model's parts and the thickness, (2, readings) and (6, 2, readings)."""
        nudges = np.array([1e-3, 1e-3 * self.scale.closing, 1e-3, 10.0, 10.0])
        many = np.repeat(state[:, None, :], 6, axis=1)
        for part in range(5):
            many[part, part + 1] += nudges[part]
        all_shown = self._shown(many, thick)
        base = all_shown[:, 0]
        slopes = [(all_shown[:, part + 1] - base) / nudges[part] for part in range(5)]
        slopes.append((self.thick.shown(state) - self.model.shown(state)) / THICKER)
        return base, np.array(slopes)

    def solved(self) -> tuple[Array, Array, list[float]]:
        """Return the unknowns, the information matrix there, and every reading's miss in standard deviations."""
        x, information, misses = self._descended(np.zeros(self.size), MOST_STEPS)
        onset = self._onset(x, information)
        if onset >= 0:
            self.prior_information = self._freed(self.prior_information, onset)
            x, information, misses = self._descended(x, MOST_STEPS)
        return x, information, [float(m) for m in misses]

    def _freed(self, prior: Array, onset: int) -> Array:
        """Return the prior with the closing's slope free at an entry: something came loose there, and it may go any other way."""
        now, before = onset * PARTS + SLOPE, (onset - 1) * PARTS + SLOPE
        held = -prior[now, before]
        if held <= 0.0:  # it begins again there in any case
            return prior
        made = prior.copy()
        change = self._sds(FIRST)[SLOPE] ** -2 - held
        for i, j, sign in ((now, now, 1.0), (before, before, 1.0), (now, before, -1.0), (before, now, -1.0)):
            made[i, j] += sign * change
        return made

    def _onset(self, x: Array, information: Array) -> int:
        """Return the entry at which the closing began to go another way; -1 where none makes the readings much likelier.

        The readings' part of the problem, straight about its solution, stays; each entry's prior is tried with it.
        """
        data = information - self.prior_information
        pull = self.prior_information @ x  # at the solution the readings pull as much as the prior holds
        goal = data @ x + pull

        def worth(prior: Array) -> float:
            there = np.linalg.solve(data + prior, goal)
            off = there - x
            return float(0.5 * off @ data @ off - pull @ off + 0.5 * there @ prior @ there)

        plain = worth(self.prior_information)
        base = self.prior_information
        gains = [plain - worth(self._freed(base, k)) for k in range(1, len(self.entries))]
        best = int(np.argmax(gains)) if gains else -1
        return best + 1 if best >= 0 and gains[best] > ONSET_GAIN else -1

    def _descended(self, x: Array, most: int) -> tuple[Array, Array, Array]:
        """Return the unknowns after so many steps at most, the information matrix there, and every reading's miss."""
        weights = np.ones(len(self.entry))
        information = self.prior_information
        misses = np.zeros(len(self.entry))
        for step in range(most):
            state, thick = self._at(x)
            shown, slopes = self._slopes(state, thick)
            shown = shown + self._steady_errors(x, shown, slopes)
            information, pull, misses = self._normal(x, shown, slopes, weights)
            change = np.linalg.solve(information, pull)
            limit = 3.0 * self._limits()
            change = np.clip(change, -limit, limit)
            x = x + change
            if not np.isfinite(x).all():
                raise SolverError(
                    tr("the readings cannot be fitted to this plan; check its engine, oil and feed")
                )
            weights = np.minimum(1.0, HUBER / np.maximum(misses, 1e-9))
            if step > 1 and float(np.abs(change / limit).max()) < SMALL:
                break
        return x, information, misses

    def _limits(self) -> Array:
        n = len(self.entries)
        one = self._sds(FIRST)
        one[[ZERO, GALLERY_ZERO]] = 2e4
        one[[CLOSING, SLOPE]] *= 4.0
        return np.concatenate([np.tile(one, n), self.steady])

    def _normal(self, x: Array, shown: Array, slopes: Array, weights: Array) -> tuple[Array, Array, Array]:
        """Return the information matrix, the pull of the residuals and the misses, with each reading's two pressures whitened together."""
        n, count = len(self.entries), len(self.entry)
        rows = np.where(self.off, self._still()[:, :, None], slopes)
        seen = np.isfinite(self.seen)
        missed = np.where(seen, self.seen - shown, 0.0)
        by_speed = rows[GALLERY] * (SPEED_RPM / np.maximum(self.model.rpm, 100.0))
        by_oil = (rows[5] + source.VISCOSITY_EXPONENT * rows[GALLERY]) * self.thins * OIL_K
        own = np.where(seen, NOISE_PA**2 + (NOISE_SHARE * shown) ** 2, UNSEEN_PA**2)
        cover = np.einsum("ir,jr->rij", by_speed, by_speed) + np.einsum("ir,jr->rij", by_oil, by_oil)
        cover[:, [0, 1], [0, 1]] += own.T
        inverse = np.linalg.inv(cover)
        squared = np.einsum("ir,rij,jr->r", missed, inverse, missed)
        misses = np.sqrt(squared / np.maximum(seen.sum(axis=0), 1))
        law = self._law_row(shown, rows)
        none = np.zeros(count)
        jacobian = (
            np.concatenate(
                [
                    rows,
                    [
                        law * self.lean,
                        rows[5] * self.cold,
                        np.stack([none, shown[1]]),
                        np.stack([shown[0], none]),
                        self._relief_row(shown, rows),
                        law,
                        self._drop_row(shown),
                        rows[PASSAGE],
                    ],
                ]
            )
            * seen
        )
        first = self.entry * PARTS
        steady = n * PARTS + np.zeros(count, dtype=int)
        places = np.stack(
            [
                *(first + part for part in (GALLERY, CLOSING, PASSAGE, ZERO, GALLERY_ZERO, THICK)),
                *(steady + j for j in range(ALIKE)),
                steady + ALIKE + self.kind,
                steady + ALIKE + self.kinds + self.kind,
                steady + ALIKE + 2 * self.kinds + self.kind,
            ]
        )
        weighted = inverse * weights[:, None, None]
        blocks = np.einsum("pir,rij,qjr->rpq", jacobian, weighted, jacobian)
        pulls = np.einsum("pir,rij,jr->pr", jacobian, weighted, missed)
        h, g = self.prior_information.copy(), -self.prior_information @ x
        np.add.at(h, (places.T[:, :, None], places.T[:, None, :]), blocks)
        np.add.at(g, places, pulls)
        return h, g, misses

    @staticmethod
    def _still() -> Array:
        """Return the slopes of a reading with the engine off, (6, 2): the senders' zeros alone."""
        made = np.zeros((6, 2))
        made[ZERO, 1] = made[GALLERY_ZERO, 0] = 1.0
        return made


ALIKE = 5
"""Unknowns that err alike through all entries and kinds: tilt, curve, two spans, the relief."""
ONSET_GAIN = 3.0
"""[nats] by which an onset must make the readings likelier to be believed: about what its freedom costs; project choice."""
UNSEEN_PA = 1e9
"""[Pa] by which a pressure that was not read may be off."""
HUBER = 2.5
"""[standard deviations] of a reading beyond which it counts the less the further it is off; project choice."""
THICKER = 0.02
"""Logarithm of the viscosity by which the slope of a thicker oil is taken."""


def _thicker(plan: Plan, turbo: int, readings: list[Reading]) -> FeedModel:
    """Return the model with an oil a little thicker."""
    oil = plan.oil
    more = {
        name: getattr(oil, name).model_copy(update={"value": getattr(oil, name).value * math.exp(THICKER)})
        for name in ("v40_mm2_s", "v100_mm2_s")
    }
    made = feed_model(plan.model_copy(update={"oil": oil.model_copy(update=more)}), turbo, readings)
    # the law was read on the oil of its day, and is not read again: only what flows now is thicker
    return replace(made, fit=assemble.source_fit(plan))


def _kinds(model: FeedModel) -> np.ndarray:
    """Return the kind of each reading: cold or warm, by speed in octaves; the law errs alike within one."""
    warm = (model.oil_k > 333.15).astype(int)
    octave = np.round(np.log2(np.maximum(model.rpm, 400.0) / 800.0)).astype(int)
    names = [(int(w), int(o)) for w, o in zip(warm, octave, strict=True)]
    known = {name: k for k, name in enumerate(dict.fromkeys(names))}
    return np.array([known[name] for name in names])
