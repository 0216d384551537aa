# SPDX-License-Identifier: GPL-3.0-or-later
"""A finding: what goes wrong, in which condition, by how much.

It holds numbers; its words are made when shown (`Finding.text`), from the message of its quantity or fact.
Numeric ones come from the table of quantities (`study/judge`); what is simply so or not so is a `fact`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

from gravidon.parts import sources
from gravidon.plan.units import Family
from gravidon.study.judge.quantity import GRADES, HOLDS, Grade, Judged
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import Amount, Message, Number, capital, fill, tr


@dataclass(frozen=True)
class Finding:
    """One thing found.

    Fields: code; severity; station; turbo (number) and its name where there are several; the place it is at; the
    condition that is worst (index -1 and no name: none); value and limit, SI, with their kind of unit; what the
    limit rests on; margin [-]; numbers its sentence is filled with; its message, and which sentence and reason of it;
    other conditions it is as hard in (`also`), and those in which it is less so (`less`); guesses it rests on;
    the plan path of the limit ("line." for the turbo's line; empty where it is none of the plan's).
    """

    code: str
    severity: Grade
    station: str
    message: Message
    turbo: int = 0
    whose: str = ""
    place: str = ""
    condition: str = ""
    condition_index: int = -1
    value: float = 0.0
    limit: float = 0.0
    kind: str = "count"
    margin: float = -0.5
    source: str = sources.COMMON_PRACTICE
    numbers: Mapping[str, Number] | None = None
    variant: str = ""
    because: str = ""
    also: tuple[str, ...] = ()
    less: tuple[tuple[str, Grade], ...] = ()
    rests_on: tuple[str, ...] = ()
    limit_path: str = ""

    @property
    def key(self) -> str:
        """What tells this finding from others: its code, its turbo and, where it has one, its place."""
        return f"{self.code}@{self.turbo}" + (f"/{self.place}" if self.place else "")

    @property
    def title(self) -> str:
        """A few words for it."""
        words = tr(self.message.heading(self.severity))
        return f"{self.whose}: {words}" if self.whose else words

    @property
    def why(self) -> str:
        """The reason, in one sentence."""
        return fill(self.message.reason(self.because), self.numbers or {}, "metric")

    def text(self, family: Family) -> str:
        """Return the sentence in a unit family."""
        known: dict[str, Number] = {
            "value": Amount(self.value, self.kind),
            "limit": Amount(self.limit, self.kind),
            "condition": self.condition,
            "place": self.place,
            **(self.numbers or {}),
        }
        return capital(fill(self.message.sentence(self.variant), known, family))


Fact = Callable[[Evaluation], Iterable[Finding]]
"""Looks at one turbo's evaluation and yields what is so."""


def of_judged(j: Judged, i: int) -> Finding:
    """Return the finding of one entry of a quantity that is not good."""
    q, e = j.quantity, j.evaluation
    by_condition = q.axis == "condition"
    worst = int(j.grade[i])
    at = i if by_condition else q.in_condition(e, i) if q.in_condition else -1
    others = [k for k in j.margin.argsort() if k != i and j.grade[k] > HOLDS] if by_condition else []
    return Finding(
        code=q.code,
        severity=GRADES[worst],
        station=q.station,
        message=q.message,
        turbo=e.index,
        whose=e.line.turbo.label if len(e.all) > 1 and not q.shared else "",
        place=j.places[i] if q.axis == "place" else "",
        condition=e.names[at] if at >= 0 else "",
        condition_index=at,
        value=float(j.value[i]),
        limit=float(j.limit[i]),
        kind=q.kind,
        margin=float(j.margin[i]),
        source=q.source_of(e),
        numbers=q.numbers(e, i),
        variant=q.variant(e, i),
        because=q.because(e, i),
        also=tuple(e.names[k] for k in others if j.grade[k] == worst),
        less=tuple((e.names[k], GRADES[int(j.grade[k])]) for k in others if j.grade[k] != worst),
        rests_on=rests(e, *q.rests_on),
        limit_path=q.limit if isinstance(q.limit, str) else q.source_path,
    )


def fact(
    e: Evaluation,
    code: str,
    severity: Grade,
    station: str,
    message: Message,
    *,
    shared: bool = False,
    turbo: int | None = None,
    **rest: object,
) -> Finding:
    """Return a finding of something that is so, or not so; `rest` are further fields of Finding."""
    several = len(e.all) > 1 and not shared
    number = e.index if turbo is None else turbo
    whose = e.of(number).line.turbo.label if several else ""
    return Finding(code, severity, station, message, number, whose, **rest)  # type: ignore[arg-type]


def rests(e: Evaluation, *prefixes: str) -> tuple[str, ...]:
    """Return the guessed values under the given paths; those of a turbo's line without its number."""
    return tuple(path for path, short in e.short_guesses if short.startswith(prefixes)) if prefixes else ()
