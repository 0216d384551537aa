# SPDX-License-Identifier: GPL-3.0-or-later
"""The one table of judged quantities, and an evaluation judged by it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from gravidon.study.judge.home import HOME
from gravidon.study.judge.level import LEVEL
from gravidon.study.judge.mounting import MOUNTING
from gravidon.study.judge.quantity import HOLDS, NOTE, Judged, Quantity
from gravidon.study.judge.run import RUN
from gravidon.study.judge.supply import SUPPLY
from gravidon.study.solve.evaluate import Evaluation

TABLE: tuple[Quantity, ...] = (*SUPPLY, *HOME, *LEVEL, *RUN, *MOUNTING)
BY_CODE: dict[str, Quantity] = {q.code: q for q in TABLE}


@lru_cache(maxsize=8)
def judged(e: Evaluation) -> tuple[Judged, ...]:
    """Return every quantity of the table as one turbo's evaluation has it; the plan's own with the first turbo."""
    return tuple(q.judge(e) for q in TABLE if e.index == 0 or not q.shared)


def judged_of(e: Evaluation, code: str) -> Judged:
    """Return one quantity as an evaluation has it.

    Raises: KeyError for a code that is not in the table.
    """
    quantity = BY_CODE[code]
    lens = e.of(0) if quantity.shared else e
    return next(j for j in judged(lens) if j.quantity is quantity)


@dataclass(frozen=True)
class Worst:
    """What is worst in one condition: a quantity as it stands, and the condition's entry."""

    judged: Judged
    index: int

    @property
    def margin(self) -> float:
        """Margin [-]; negative fails."""
        return float(self.judged.margin[self.index])


def worst_by_condition(e: Evaluation) -> tuple[Worst, ...]:
    """Return what is worst in each condition over all turbos: hardest grade first, then least margin. What is only noted
    stands beside the verdict and is passed over."""
    found = [j for lens in e.all for j in judged(lens) if j.quantity.axis == "condition"]
    margins = np.array([j.margin for j in found])
    margins = np.where(np.isnan(margins), np.inf, margins)
    grades = np.array([j.grade for j in found])
    noted = grades == NOTE
    margins, grades = np.where(noted, np.inf, margins), np.where(noted, HOLDS, grades)
    order = np.lexsort((margins, -grades), axis=0)
    return tuple(Worst(found[int(row)], i) for i, row in enumerate(order[0]))
