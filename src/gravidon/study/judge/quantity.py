# SPDX-License-Identifier: GPL-3.0-or-later
"""A judged quantity: value against limit, with sign, unit, station, grade and words; and one of them judged.

Everything that asks "is this good enough, and by how much" asks a `Quantity`: findings, remedies' effects, the
deck, house rules, choices of tap and restrictor, sampling of tolerances, sheet and report.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from gravidon.parts import sources
from gravidon.physics.arrays import Array
from gravidon.plan import paths
from gravidon.plan.fields import Known
from gravidon.plan.units import file_to_si
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import Message, Number

Grade = Literal["holds", "note", "watch", "bad"]
HOLDS, NOTE, WATCH, BAD = 0, 1, 2, 3
GRADES: tuple[Grade, ...] = ("holds", "note", "watch", "bad")
"""Grades by how hard they are; a note does not touch the verdict."""

Axis = Literal["condition", "place", "plan"]
Grader = Callable[[Evaluation, Array], np.ndarray]


@dataclass(frozen=True)
class Quantity:
    """One judged quantity, said once.

    Fields:
        code: what its finding is called by scripts.
        name: what a deck tag or an effect calls its value.
        kind: kind of unit of value and limit.
        station: the station where it is mended.
        sign: +1 where more is better, -1 where less is.
        value: from an evaluation to its values (entries,), SI; NaN where it does not apply.
        limit: where the limit is, (entries,) or one number, SI; or the plan path it stands at ("line." for the turbo's line).
        message: title, sentence and reason.
        scale: how much, in SI, is one whole margin: a number, or None for the limit itself.
        grade: from margins (entries,) to grades (entries,); `bad_below` and its like make the usual ones; None: bad below 0.
        axis: whether the entries are the conditions, places, or just one.
        places: names of the entries where the axis is "place".
        places_move: whether a remedy may rename the places (legs of a run): it is cured where none is left anywhere.
        shared: whether it is the whole plan's, not each turbo's.
        rests_on: plan paths whose guesses it rests on.
        numbers: what the sentence is filled with beside value, limit and condition.
        variant, because: which sentence and which reason; see `Message`.
        in_condition: in which condition an entry of places is worst; None where it is the same in all.
        source: what the limit rests on where it is not a field of the plan.
        source_path: plan path of the field whose basis is the limit's, where the limit itself is computed.
    """

    code: str
    name: str
    kind: str
    station: str
    sign: int
    value: Callable[[Evaluation], Array | float]
    limit: Callable[[Evaluation], Array | float] | str | float
    message: Message
    scale: float | None = None
    grade: Grader | None = None
    axis: Axis = "condition"
    places: Callable[[Evaluation], tuple[str, ...]] = lambda e: ("",)
    shared: bool = False
    places_move: bool = False
    rests_on: tuple[str, ...] = ()
    numbers: Callable[[Evaluation, int], Mapping[str, Number]] = lambda e, i: {}
    variant: Callable[[Evaluation, int], str] = lambda e, i: ""
    because: Callable[[Evaluation, int], str] = lambda e, i: ""
    in_condition: Callable[[Evaluation, int], int] | None = None
    source: str = sources.COMMON_PRACTICE
    source_path: str = ""

    def margin(self, value: Array | float, limit: Array | float) -> Array:
        """Return how far values are on the good side of limits, in whole margins [-]; NaN where either is none.

        Equation: sign · (value - limit)/scale, the scale by default the limit itself (at least LEAST_SCALE).
        """
        bound = np.asarray(limit, dtype=float)
        known = np.isfinite(bound)
        scale = np.maximum(np.abs(bound), LEAST_SCALE[self.kind]) if self.scale is None else self.scale
        with np.errstate(invalid="ignore"):
            apart = self.sign * (np.asarray(value, dtype=float) - np.where(known, bound, 0.0))
        result: Array = np.where(known, apart / np.where(known, scale, 1.0), np.nan)
        return result

    def limit_of(self, e: Evaluation) -> Array | float:
        """Return the limit in SI."""
        if isinstance(self.limit, str):
            path = self.path(e)
            return file_to_si(paths.number(e.plan, path), paths.spec_at(e.plan, path).kind)
        return self.limit(e) if callable(self.limit) else self.limit

    def path(self, e: Evaluation, at: str = "") -> str:
        """Return the plan path of the limit (or of another path told the same way); empty if it has none."""
        told = at or (self.limit if isinstance(self.limit, str) else self.source_path)
        if told.startswith("line."):
            return e.at(told.removeprefix("line."))
        return told

    def source_of(self, e: Evaluation) -> str:
        """Return what the limit rests on."""
        path = self.path(e)
        known = paths.get(e.plan, path) if path else None
        return source_of(known) if isinstance(known, Known) else self.source

    def judge(self, e: Evaluation) -> Judged:
        """Return the quantity as it stands in an evaluation."""
        value = np.atleast_1d(np.asarray(self.value(e), dtype=float))
        limit = np.broadcast_to(np.asarray(self.limit_of(e), dtype=float), value.shape)
        margin = self.margin(value, limit)
        margin = np.where(np.isfinite(value), margin, np.nan)
        grade = np.zeros(len(value), dtype=int)
        judged = np.isfinite(margin)
        if judged.any():
            grader = self.grade or bad_below(0.0)
            grade = np.where(judged, grader(e, np.where(judged, margin, 1.0)), HOLDS)
        places = e.names if self.axis == "condition" else self.places(e)
        return Judged(self, e, value, limit, margin, grade, places)


LEAST_SCALE: dict[str, float] = {
    "kpa": 1e4, "kpa_small": 50.0, "share": 1e-3, "mm": 1e-3, "run": 1e-3, "s": 0.1, "deg": 0.02, "count": 0.1,
    "bore": 1e-4, "ml": 1e-6, "l": 1e-4, "l_min": 1e-7, "times": 0.1,
}  # fmt: skip
"""Least scale of a margin by kind of unit, for limits near nothing; project choice."""


@dataclass(frozen=True, eq=False)
class Judged:
    """A quantity as it stands: values, limits, margins and grades (entries,), and the entries' names."""

    quantity: Quantity
    evaluation: Evaluation
    value: Array
    limit: Array
    margin: Array
    grade: np.ndarray
    places: tuple[str, ...]

    @property
    def worst(self) -> int:
        """The entry that is worst: hardest grade, then least margin."""
        margin = np.where(np.isnan(self.margin), np.inf, self.margin)
        return int(np.lexsort((margin, -self.grade))[0])

    def found(self) -> Iterable[int]:
        """Yield the entries to make a finding of: each place that is not good, or the worst condition."""
        if self.quantity.axis == "place":
            yield from (int(i) for i in np.flatnonzero(self.grade))
        elif self.grade.any():
            yield self.worst


def source_of(value: Known) -> str:
    """Return the source mark of a limit by how it is known."""
    marks = {
        "guess": sources.COMMON_PRACTICE,
        "maker": sources.MAKER,
        "measured": sources.OWN_CHOICE,
    }
    return marks[value.basis]


# --- usual grades ------------------------------------------------------------------------------


def bad_below(bad: float, watch: float = 0.0) -> Grader:
    """Return a grader: bad below one margin, to be watched below another (the watch band before the limit)."""

    def grade(e: Evaluation, margin: Array) -> np.ndarray:
        return np.where(margin < bad, BAD, np.where(margin < watch, WATCH, HOLDS))

    return grade


def note_below(note: float = 0.0) -> Grader:
    """Return a grader that only notes: what is true of many good installs does not touch the verdict."""

    def grade(e: Evaluation, margin: Array) -> np.ndarray:
        return np.where(margin < note, NOTE, HOLDS)

    return grade


def watch_below(watch: float = 0.0) -> Grader:
    """Return a grader that never says bad: to be watched below a margin."""
    return bad_below(-np.inf, watch)
