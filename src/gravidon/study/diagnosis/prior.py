# SPDX-License-Identifier: GPL-3.0-or-later
"""How likely each cause is before anything is told: practice, this plan's margins, what the logbook says of the feed's health."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import ndtr

from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.study.diagnosis.tables import Cause, Tables, has
from gravidon.study.health import fit
from gravidon.study.health.fit import Health
from gravidon.study.health.outlook import CLOSED_SHARE, Outlook
from gravidon.study.judge.quantity import GRADES, HOLDS
from gravidon.study.judge.table import BY_CODE, judged
from gravidon.study.verdict.trials import Trial, trial

GRADE_FACTOR = (1.0, 1.3, 2.5, 5.0)
"""What a finding that speaks for a cause makes of its likelihood, by grade (holds, note, watch, bad); common practice, no source."""
ROOMY = 0.5
"""[-] of a cause's likelihood that is left where the plan's margins speak against it by one whole margin or more; common practice, no source."""
LEFT = 0.1
"""Chance that is always left: a health that is sure of itself may be wrong; project choice."""
LEARNT = 0.12
"""Chance that a part of the health has changed, that counts as nothing known; project choice."""
PASSAGE_CHANGED, GALLERY_CHANGED, ZERO_CHANGED_PA = 0.08, 0.08, 12e3
"""From which change of the logarithm of the bearing's passage, of the gallery's pressure, and of a sender's zero [Pa] a part of the health counts as changed; project choices."""


@dataclass(frozen=True)
class Prior:
    """Likelihoods of the causes before any sign, (causes,): by practice alone, the plan's factor, the logbook's factor; those that cannot be in this plan have a factor of 0."""

    keys: tuple[str, ...]
    practice: Array
    plan: Array
    log: Array


def prior(plan: Plan, tables: Tables, health: Health | None = None, outlook: Outlook | None = None) -> Prior:
    """Return how likely each cause is in this plan's car before anything is told of it.

    Raises: GravidonError if the plan cannot be computed.
    """
    there = has(plan)
    known = trial(plan)
    strength = _grades(known)
    keys = tuple(tables.causes)
    practice = np.array([tables.causes[k].prior for k in keys])
    by_plan = np.array([plan_factor(tables.causes[k], there, strength) for k in keys])
    by_log = np.array([log_factor(tables.causes[k], health, outlook) for k in keys])
    return Prior(keys, practice / practice.sum(), by_plan, by_log)


def _grades(known: Trial) -> dict[str, float]:
    """Return by code of finding what its hardest grade, or where it holds its margin, makes of a cause's likelihood."""
    found: dict[str, float] = {}
    for lens in known.evaluation.all:
        for j in judged(lens):
            finite = np.isfinite(j.margin)
            if not finite.any():
                continue
            grade = int(j.grade.max())
            least = float(np.clip(j.margin[finite].min(), 0.0, 1.0))
            factor = GRADE_FACTOR[grade] if grade > HOLDS else 1.0 - (1.0 - ROOMY) * least
            found[j.quantity.code] = max(found.get(j.quantity.code, 0.0), factor)
    for f in known.findings:
        if f.code not in BY_CODE:
            found[f.code] = max(found.get(f.code, 0.0), GRADE_FACTOR[GRADES.index(f.severity)])
    return found


def plan_factor(cause: Cause, there: frozenset[str], strength: dict[str, float]) -> float:
    """Return what the plan makes of a cause's likelihood: 0 where it cannot be, more where a finding speaks for it, less where all margins are wide."""
    if not set(cause.needs) <= there:
        return 0.0
    said = [strength[c] for c in cause.margins if c in strength]
    return max(said, default=1.0)


def log_factor(cause: Cause, health: Health | None, outlook: Outlook | None) -> float:
    """Return what the logbook makes of a cause's likelihood: by the chance that its part of the health has changed, against knowing nothing."""
    if health is None or not cause.health:
        return 1.0
    chance = changed(health, outlook)[cause.health]
    return (LEFT + chance) / (LEFT + max(LEARNT, _unread(health, cause.health)))


def _unread(health: Health, part: str) -> float:
    """Return the chance that a part has changed over the log's distance by what is known of such parts alone, nothing read."""
    far = (health.km[-1] - health.km[0]) / 1000.0
    known = {"passage": (fit.PASSAGE, PASSAGE_CHANGED), "gallery": (fit.GALLERY, GALLERY_CHANGED)}
    if part not in known or far <= 0.0:
        return 0.0
    of, least = known[part]
    return float(ndtr(-least / (fit.DRIFT[of] * far)))


def changed(health: Health, outlook: Outlook | None) -> dict[str, float]:
    """Return the chance that each part of the health has changed by more than a trifle, by its name in the causes' table."""
    first, now, sd = health.mean[0], health.now, health.sd[-1]

    def over(value: float, least: float, spread: float) -> float:
        return float(ndtr((value - least) / max(spread, 1e-12)))

    left = (
        outlook.left_at
        if outlook is not None and np.isfinite(outlook.left_at)
        else 4.0 * health.scale.closing
    )
    closing = over(now[fit.CLOSING], max(CLOSED_SHARE * left, health.scale.closing), sd[fit.CLOSING])
    zero, gallery_zero = now[fit.ZERO], now[fit.GALLERY_ZERO]
    return {
        "closing": closing,
        "passage": over(now[fit.PASSAGE] - first[fit.PASSAGE], PASSAGE_CHANGED, sd[fit.PASSAGE]),
        "gallery": over(first[fit.GALLERY] - now[fit.GALLERY], GALLERY_CHANGED, sd[fit.GALLERY]),
        "zero": over(abs(zero), ZERO_CHANGED_PA, sd[fit.ZERO]),
        "gallery-zero": over(abs(gallery_zero), ZERO_CHANGED_PA, sd[fit.GALLERY_ZERO]),
    }
