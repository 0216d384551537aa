# SPDX-License-Identifier: GPL-3.0-or-later
"""Judged quantities of how much oil is in the engine: the dipstick's mark, and the crank over it."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.study.judge.quantity import BAD, HOLDS, NOTE, WATCH, Quantity
from gravidon.study.solve.assemble import lasts_s
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.gravity import CRANK_CLEAR_M, crank_place, still_level
from gravidon.words.text import N_, Amount, Message

BEATEN = N_(
    "The crank beats what comes near it to froth: air, windage and crankcase pressure grow, and the turbo smokes for it."
)
OVER_MARK_L, FAR_OVER_MARK_L = 0.5, 1.0
"""[L] over the full mark that are a note, and from which it is a warning: full to low mark is about a litre on a four-cylinder; common
practice, no source."""
FAR_L = 2.0
"""[L] over the full mark that are bad whatever the crank does; common practice, no source."""


def _over_mark(e: Evaluation) -> float:
    """Return how much is in over the full mark [m³]; NaN where the fill is what its maker fills."""
    full = si(e.plan.sump, "full_l")
    return si(e.plan.sump, "fill_l") - full if full > 0.0 else float("nan")


def _mark_grade(e: Evaluation, margin: Array) -> np.ndarray:
    over = _over_mark(e) * 1e3
    found = BAD if over > FAR_L else WATCH if over > FAR_OVER_MARK_L - 1e-9 else NOTE
    return np.where(margin < 0.0, found, HOLDS)


OVERFILLED = Quantity(
    code="overfilled",
    name=N_("over the full mark"),
    kind="l",
    station="sump",
    sign=-1,
    value=_over_mark,
    limit=OVER_MARK_L * 1e-3,
    message=Message(
        N_("Too much oil"),
        N_("There is {value} more oil in than the dipstick's full mark: drain it down to {full}."),
        BEATEN,
    ),
    grade=_mark_grade,
    axis="plan",
    shared=True,
    numbers=lambda e, i: {"full": Amount(si(e.plan.sump, "full_l"), "l")},
    rests_on=("sump.full",),
)


TOUCHED_M = 0.005
"""[m] of clearance below which the crank is in the oil with what it throws up; common practice, no source."""


@lru_cache(maxsize=16)
def crank_clear(e: Evaluation) -> Array:
    """Return how far below the crank the pan's oil stands [m], (conditions,), windage left out; NaN where it passes or stands still."""
    place, stand = crank_place(e.plan), e.drainage.stand
    level = still_level(e.plan, stand, place)
    counts = stand.turning & np.isinf(lasts_s(e.plan))
    return np.where(counts, stand.up @ place - level, np.nan)


def _crank_grade(e: Evaluation, margin: Array) -> np.ndarray:
    """To be watched, and bad where it is in the oil; where the crank's place is a guess a note that asks for it, and to be watched."""
    near, guessed = crank_clear(e) < TOUCHED_M, e.plan.sump.crank_mm.basis == "guess"
    found = np.where(near, WATCH, NOTE) if guessed else np.where(near, BAD, WATCH)
    return np.where(margin < 0.0, found, HOLDS)


CRANK = Quantity(
    code="crank-in-oil",
    name=N_("crank over the oil"),
    kind="mm",
    station="sump",
    sign=1,
    value=crank_clear,
    limit=CRANK_CLEAR_M,
    message=Message(
        N_("Oil close to the crank"),
        N_(
            "In {condition} the crank passes {value} over the pan's oil; {limit} is wanted. Look at the dipstick: usually there is too much in."
        ),
        BEATEN,
    ),
    grade=_crank_grade,
    shared=True,
    rests_on=("sump.crank", "sump.fill"),
)

LEVEL = (OVERFILLED, CRANK)
