# SPDX-License-Identifier: GPL-3.0-or-later
"""The chance beside the verdict: how often a plan fails within what is not measured, and what that makes of the word."""

from __future__ import annotations

from collections.abc import Iterator

from gravidon.plan.model import Plan
from gravidon.study.solve.kept import Kept
from gravidon.study.verdict.certainty import Certainty, certainty
from gravidon.study.verdict.findings import Verdict
from gravidon.words.text import tr

SAMPLES = 100
"""Cars tried within the tolerances for the chance beside the word: known to 5 in a hundred at worst; project choice."""
LEAST_SAMPLES = 20
"""Cars from which a chance is shown while it is being sampled: known to 11 in a hundred; project choice."""
TOO_OFTEN = 0.5
"""Share of them that fail from which a plan is not said to pass; project choice."""
_KNOWN: Kept[Certainty] = Kept(32)


def chance(plan: Plan, samples: int = SAMPLES) -> Iterator[Certainty]:
    """Yield ever better answers to how often a plan passes, has warnings or fails; the last one is kept.

    Raises: GravidonError if the plan's numbers cannot be computed.
    """
    for so_far in certainty(plan, samples):
        if so_far.samples == samples:
            _KNOWN.put(plan, so_far)
        yield so_far


def known_chance(plan: Plan) -> Certainty | None:
    """Return a plan's chance where it was sampled before; None where nobody asked for it."""
    return _KNOWN.known(plan)


def word_beside(word: Verdict, known: Certainty | None) -> Verdict:
    """Return the verdict's word beside its chance: what fails in half of its samples has a warning at least."""
    often = known is not None and known.whole[2] >= TOO_OFTEN
    return "watch" if word == "holds" and often else word


def chance_words(known: Certainty) -> str:
    """Return the chance as a clause, such as "fails in 3 of 100 within what is not measured"."""
    count = round(known.whole[2] * known.samples)
    if not count:
        return tr("fails in none of {samples} tried within what is not measured").format(
            samples=known.samples
        )
    return tr("fails in {count} of {samples} within what is not measured").format(
        count=count, samples=known.samples
    )
