# SPDX-License-Identifier: GPL-3.0-or-later
"""What the health means: whether the feed is closing, when its window will be left, what cannot be told apart, and which reading would tell."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.model import Plan
from gravidon.records.entry import Reading
from gravidon.study.health.fit import (
    CLOSING,
    GALLERY,
    GALLERY_ZERO,
    NOISE_PA,
    PASSAGE,
    SLOPE,
    ZERO,
    Health,
)
from gravidon.study.health.model import feed_model
from gravidon.study.solve import assemble
from gravidon.translate import number
from gravidon.words.text import N_, Number, Said

SAMPLES = 2000
CLOSED_SHARE, SURE = 0.15, 1.65
"""A feed is called closing when its closing, less so many standard deviations, is this share of the way to where the window is left; project choices, set on simulated
cars: see the handbook."""
LOOK_NOW_KM = 20.0
"""[km] below which no distance is told; project choice."""
FAR_KM = 60_000.0
"""[km] beyond which no crossing is told."""
GROWS_KM = (1000.0, 5000.0)
"""[km] between which the distance lies over which a screen's closing grows e-fold, where it does: a blocked one catches more; common practice, no source."""
MOST_UNITS = 4000.0
"""[units] of closing that are looked through."""
LIKE_PRIOR = 0.8
"""[-] of its band at the first entry, from which a part's band says that nothing was learnt of it; project choice."""


@dataclass(frozen=True)
class Outlook:
    """Where the feed goes.

    Fields: closing at which the window is left, as the car is now [units], and in which of the plan's conditions (its number; -1: in none); whether it is called closing; the
    distance from the last entry until the window is left [km]: 5, 50 and 95 % of what is likely (inf: not in sight); days to each (inf).
    """

    left_at: float
    condition: int
    closing: bool
    km: tuple[float, float, float]
    days: tuple[float, float, float]

    @property
    def left(self) -> bool:
        """Whether the window is left already, as likely as not."""
        return self.km[1] <= 0.0


@dataclass(frozen=True)
class _Least:
    """The plan's warm conditions with a least, and by what they are judged: numbers (n,), least pressure [Pa] and flow [m³/s], -inf where none."""

    conditions: tuple[int, ...]
    pressure_pa: Array
    flow_m3_s: Array


def _least(plan: Plan, turbo: int) -> _Least:
    it = plan.turbos[turbo]
    numbers = tuple(k for k, c in enumerate(plan.conditions) if c.kind.turning and c.kind.warm)
    pressure = np.array([assemble.window_bounds(it, plan.conditions[k])[0] for k in numbers])
    flow = np.array([assemble.least_flow(it, plan.conditions[k]) for k in numbers])
    return _Least(numbers, pressure, flow)


def closing_left_at(h: Health, states: Array) -> Array:
    """Return the closing [units] at which each warm condition's least is reached, (states, conditions); inf where none is, 0 where it is missed open.

    Args:
        h: the health.
        states: gallery and passage of each state, (2, states).
    """
    plan = h.plan
    least = _least(plan, h.turbo)
    conditions = [plan.conditions[k] for k in least.conditions]
    model = feed_model(plan, h.turbo, tuple(Reading(c.rpm, si(c, "oil_temperature_c")) for c in conditions))
    by_port = plan.turbos[h.turbo].turbo.window.at == "before the restrictor"
    count = states.shape[1]
    shape = (count, len(conditions))

    def margin(closing: Array) -> Array:
        state = np.zeros((5, *shape))
        state[GALLERY], state[PASSAGE] = states[0][:, None], states[1][:, None]
        state[CLOSING] = closing
        pressure = model.shown(state)[1] if by_port else model.bearing(state)
        over = np.where(np.isfinite(least.pressure_pa), pressure - least.pressure_pa, np.inf)
        flowing = np.where(np.isfinite(least.flow_m3_s), model.flow(state) - least.flow_m3_s, np.inf)
        result: Array = np.minimum(np.sign(over), np.sign(flowing))
        return result

    if not conditions:
        return np.full((count, 1), np.inf)
    low, high = np.zeros(shape), np.full(shape, MOST_UNITS)
    missed, never = margin(low) <= 0.0, margin(high) > 0.0
    for _ in range(40):
        middle = 0.5 * (low + high)
        holds = margin(middle) > 0.0
        low, high = np.where(holds, middle, low), np.where(holds, high, middle)
    return np.where(missed, 0.0, np.where(never, np.inf, high))


def outlook(h: Health, seed: int = 1) -> Outlook:
    """Return where the feed goes, with its whole uncertainty: gallery, passage, closing and its slope together.

    Equation: distance = (closing where the window is left - closing now)/slope, over draws from the posterior; in half of them the slope grows e-fold over a distance L,
    which makes it L ln(1 + that/L). Where the window is left moves with gallery and passage, straight about the mean.

    Raises: GravidonError if a state cannot be computed.
    """
    mean, nudge = h.now, 0.02
    states = np.array([[mean[GALLERY]] * 3, [mean[PASSAGE]] * 3])
    states[0, 1] += nudge
    states[1, 2] += nudge
    at = closing_left_at(h, states)
    least = _least(h.plan, h.turbo)
    condition = int(np.argmin(at[0])) if np.isfinite(at[0]).any() else -1
    if condition < 0:
        far = (math.inf,) * 3
        return Outlook(math.inf, -1, False, far, far)
    left = float(at[0, condition])
    slopes = [
        (float(at[k, condition]) - left) / nudge if np.isfinite(at[k, condition]) else 0.0 for k in (1, 2)
    ]
    dice = np.random.default_rng(seed)
    draws = dice.multivariate_normal(
        np.zeros(len(mean)), 0.5 * (h.last + h.last.T), SAMPLES, check_valid="ignore"
    )
    goal = left + slopes[0] * draws[:, GALLERY] + slopes[1] * draws[:, PASSAGE]
    now, rate = mean[CLOSING] + draws[:, CLOSING], mean[SLOPE] + draws[:, SLOPE]
    with np.errstate(divide="ignore", invalid="ignore"):
        km = np.where(rate > 0.0, 1000.0 * (goal - now) / rate, np.where(goal <= now, 0.0, np.inf))
    grows = np.exp(dice.uniform(math.log(GROWS_KM[0]), math.log(GROWS_KM[1]), SAMPLES))
    km = np.maximum(km, 0.0)
    km = np.where(np.arange(SAMPLES) % 2 == 0, km, grows * np.log1p(km / grows))
    km = np.where(km > FAR_KM, np.inf, km)
    low, middle, high = (float(np.quantile(km, q, method="inverted_cdf")) for q in (0.05, 0.5, 0.95))
    called = mean[CLOSING] - SURE * h.sd[-1, CLOSING] > CLOSED_SHARE * max(left, 1e-9) or (left <= 0.0)
    a_day = km_a_day(h)
    days = tuple(v / a_day if a_day > 0.0 else math.inf for v in (low, middle, high))
    return Outlook(
        left,
        least.conditions[condition],
        bool(called),
        (low, middle, high),
        (days[0], days[1], days[2]),
    )


def km_a_day(h: Health) -> float:
    """Return the distance a day over the last entries [km]."""
    first = max(len(h.entries) - 12, 0)
    days = h.entries[-1].date.toordinal() - h.entries[first].date.toordinal()
    return float(h.km[-1] - h.km[first]) / days if days > 0 else 0.0


def day_after(h: Health, days: float) -> date | None:
    """Return the day so many days after the last entry; None where that is out of sight."""
    if not math.isfinite(days) or days > 36500:
        return None
    return date.fromordinal(h.entries[-1].date.toordinal() + round(days))


NAMES: dict[int, str] = {
    GALLERY: N_("the gallery's strength"),
    CLOSING: N_("what has closed in the feed"),
    PASSAGE: N_("the bearing's passage"),
    ZERO: N_("the inlet sender's zero"),
    GALLERY_ZERO: N_("the gallery sender's zero"),
}
"""Parts of the state in words."""

TELLING: tuple[tuple[str, str], ...] = (
    ("zero", N_("a reading of both senders with the engine off")),
    ("cold idle", N_("a cold idle: thick oil shows what closes")),
    ("hot idle", N_("a hot idle")),
    ("hot speed", N_("a hot reading at 2600 rpm")),
    ("fast", N_("a hot reading at 4500 rpm")),
)
"""Readings that could tell, by key, in words."""


@dataclass(frozen=True)
class Unclear:
    """Two parts that cannot be told apart, or one of which nothing was learnt (`other` is then None), and the reading that would tell most (empty: none
    of pressure would: the flow itself has to be measured)."""

    part: int
    other: int | None
    telling: str
    gains: float


def unclear(h: Health) -> tuple[Unclear, ...]:
    """Return what the readings leave open: a part whose band matters and which one further reading would narrow much, with the part that it is mixed up with most;
    and the passage, where its band is still that of the plan.

    Raises: GravidonError if a state cannot be computed.
    """
    found = []
    spread = np.sqrt(np.maximum(np.diag(h.last), 1e-30))
    together = np.abs(h.last / np.outer(spread, spread))
    matters = _matters(h)
    for one, others in ((CLOSING, (ZERO, PASSAGE)), (GALLERY, (GALLERY_ZERO,))):
        if matters[one] < MATTERS_SD:
            continue
        key, gain = _tells(h, one)
        if gain > TELLS_SHARE:
            found.append(Unclear(one, max(others, key=lambda part: together[one, part]), key, gain))
    if h.sd[-1, PASSAGE] > LIKE_PRIOR * h.sd[0, PASSAGE] and matters[PASSAGE] > MATTERS_SD:
        found.append(Unclear(PASSAGE, None, "", 0.0))
    return tuple(found)


TELLS_SHARE, MATTERS_SD = 0.15, 0.8
"""[-] of a band that one further reading must take away to be worth asking for; and bands (over what matters of each part) that are worth telling; project choices."""


MATTERS = (0.03, 0.5, 0.08, 6e3, 6e3, 0.05, 1.0)
"""What matters of each part: gallery, passage and oil's thickness as logarithms, zeros in Pa, closing and its slope in scales; project choice."""


def _matters(h: Health) -> Array:
    """Return the last entry's standard deviations over what matters of each part, (7,)."""
    of = np.array(MATTERS)
    of[[CLOSING, SLOPE]] *= h.scale.closing
    result: Array = h.sd[-1] / of
    return result


def _tells(h: Health, part: int) -> tuple[str, float]:
    """Return which further reading, of a kind not taken yet, would narrow a part's band most, and by which share."""
    places = {
        "cold idle": (h.scale.rpm + 250.0, 291.15),
        "hot idle": (h.scale.rpm, h.scale.oil_k),
        "hot speed": (2600.0, 371.15),
        "fast": (4500.0, 378.15),
    }
    places = {key: at for key, at in places.items() if _taken(h, *at) < ENOUGH}
    before = h.last[part, part]
    best, gain = "", 0.0
    zero = np.zeros((2, len(h.now)))
    zero[0, GALLERY_ZERO] = zero[1, ZERO] = 1.0
    rows = {} if _taken(h, 0.0, 0.0) else {"zero": (zero, np.full(2, NOISE_PA))}
    for key, (rpm, oil) in places.items():
        model = feed_model(h.plan, h.turbo, (Reading(rpm, oil),))
        rows[key] = _rows(model.shown, h.now)
    for key, (row, noise) in rows.items():
        cover = row @ h.last @ row.T + np.diag(noise**2)
        after = before - h.last[part] @ row.T @ np.linalg.inv(cover) @ row @ h.last[part]
        share = 1.0 - math.sqrt(max(float(after), 0.0) / max(float(before), 1e-30))
        if share > gain + 1e-9:
            best, gain = key, share
    return best, gain


READ_SHARE = 0.01
"""[-] of a pressure by which one more usual reading may be off (standard deviation); common practice, no source."""
ENOUGH = 3
"""Readings of a kind after which another tells nothing new: what errs in it errs alike; project choice."""


def _taken(h: Health, rpm: float, oil_k: float) -> int:
    """Return how many readings of a kind there are: near in speed and in oil temperature, or with the engine off."""
    of = [r for e in h.entries for r in e.readings if r.turbo == h.turbo]
    if rpm <= 0.0:
        return sum(r.rpm <= 0.0 for r in of)
    return sum(r.rpm > 0.0 and abs(math.log(r.rpm / rpm)) < 0.3 and abs(r.oil_k - oil_k) < 25.0 for r in of)


def _rows(shown: Callable[[Array], Array], now: Array) -> tuple[Array, Array]:
    """Return how a reading's two pressures move with the parts, (2, 7), and what each is off by [Pa]."""
    base = shown(now[:5, None])[:, 0]
    made = np.zeros((2, len(now)))
    for part, step in ((GALLERY, 1e-3), (CLOSING, 1e-2), (PASSAGE, 1e-3), (ZERO, 10.0), (GALLERY_ZERO, 10.0)):
        moved = now[:5, None].copy()
        moved[part] += step
        made[:, part] = (shown(moved)[:, 0] - base) / step
    return made, np.hypot(NOISE_PA, READ_SHARE * base)


def said(h: Health, o: Outlook) -> Said:
    """Return the outlook in one sentence."""
    numbers: dict[str, Number] = {}
    if o.condition >= 0:
        numbers["condition"] = h.plan.conditions[o.condition].name
    if o.left:
        return Said(N_("The feed has closed: {condition} is below its least now."), numbers)
    if o.closing and math.isfinite(o.km[0]):
        if o.km[0] <= LOOK_NOW_KM:
            return Said(
                N_(
                    "The feed is closing: look at its screen now, {condition} is the first to fall below its least."
                ),
                numbers,
            )
        numbers["low"] = round_km(o.km[0])
        return Said(
            N_(
                "The feed is closing: look at its screen within {low} km, {condition} is the first to fall below its least."
            ),
            numbers,
        )
    if o.closing:
        return Said(N_("The feed has closed in part, and does not close further."), numbers)
    return Said(N_("The feed is open as far as the readings tell."), numbers)


def round_km(km: float) -> str:
    """Return a distance as it is told: two figures.

    >>> round_km(1934.0), round_km(57.0)
    ('1 900', '57')
    """
    if km < 100.0:
        return f"{km:.0f}"
    step = 10.0 ** (math.floor(math.log10(km)) - 1)
    return number(round(km / step) * step, ",.0f")
