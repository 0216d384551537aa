# SPDX-License-Identifier: GPL-3.0-or-later
"""A case: what was told of a car, what was tested, what is apart, how much danger is allowed. Frozen; every answer makes a new one, so each can be taken back."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from gravidon.errors import InputError, PlanFileError
from gravidon.plan.files import json_object
from gravidon.study.diagnosis.tables import RISKS, Apart, Test, tables
from gravidon.translate import commas, tr

FORMAT = "gravidon-case"
VERSION = 1
MOST_BAR = len(RISKS) - 1


@dataclass(frozen=True)
class Case:
    """Answers (sign to yes or no), signs the builder does not know, results (test to number of its outcome), in the order they came; things apart; and the most risk
    that tests may have."""

    answers: Mapping[str, bool] = field(default_factory=dict)
    unknown: tuple[str, ...] = ()
    results: Mapping[str, int] = field(default_factory=dict)
    apart: tuple[str, ...] = ()
    bar: int = 2

    def answered(self, sign: str, answer: bool | None) -> Case:
        """Return the case with a sign answered; None: not known.

        Raises: InputError if there is no such sign.
        """
        tables().sign(sign)
        answers = {k: v for k, v in self.answers.items() if k != sign}
        unknown = tuple(s for s in self.unknown if s != sign)
        if answer is None:
            return replace(self, answers=answers, unknown=(*unknown, sign))
        return replace(self, answers={**answers, sign: answer}, unknown=unknown)

    def tested(self, test: str, outcome: int) -> Case:
        """Return the case with a test's result; what had to come off for it stays apart.

        Raises: InputError if there is no such test or outcome.
        """
        it = tables().test(test)
        if not 0 <= outcome < len(it.outcomes):
            raise InputError(
                tr("outcome of {test}").format(test=test),
                outcome,
                tr("0 to {count}").format(count=len(it.outcomes) - 1),
            )
        results = {k: v for k, v in self.results.items() if k != test}
        apart = tuple(dict.fromkeys((*self.apart, *it.apart)))
        return replace(self, results={**results, test: outcome}, apart=apart)

    def without(self, key: str) -> Case:
        """Return the case with an answer or a result taken back; nothing else changes."""
        return replace(
            self,
            answers={k: v for k, v in self.answers.items() if k != key},
            unknown=tuple(s for s in self.unknown if s != key),
            results={k: v for k, v in self.results.items() if k != key},
        )

    def together(self) -> Case:
        """Return the case with all put back on."""
        return replace(self, apart=())

    def with_told(self, told: Mapping[str, bool]) -> Case:
        """Return the case with what the logbook tells of itself: the builder's own word, and "not known", go before."""
        new = {k: v for k, v in told.items() if k not in self.answers and k not in self.unknown}
        return replace(self, answers={**new, **self.answers})

    def to_take_off(self, test: Test) -> tuple[Apart, ...]:
        """Return what has still to come off for a test."""
        return tuple(tables().apart[a] for a in test.apart if a not in self.apart)

    def minutes(self, test: Test) -> float:
        """Return how long a test takes now [min]: its own time and what has still to come off."""
        return test.minutes + sum(it.minutes for it in self.to_take_off(test))

    @property
    def empty(self) -> bool:
        """Whether nothing has been told or tested."""
        return not (self.answers or self.results or self.unknown)

    def text(self) -> str:
        """Return the case as JSON."""
        return json.dumps(
            {
                "format": FORMAT,
                "format_version": VERSION,
                "signs": dict(self.answers),
                "unknown": list(self.unknown),
                "results": {k: tables().tests[k].outcomes[v].name for k, v in self.results.items()},
                "apart": list(self.apart),
                "bar": self.bar,
            },
            ensure_ascii=False,
            indent=1,
        )


def case_from(text: str) -> Case:
    """Return the case that a JSON text holds. Signs and tests that are no longer known are passed over.

    Raises: InputError if it is none.
    """
    known = tables()
    try:
        raw: dict[str, Any] = json_object(text)
        if raw["format"] != FORMAT or int(raw["format_version"]) > VERSION:
            raise InputError(
                "case",
                raw["format"],
                tr("{format} of version {version} or before").format(format=FORMAT, version=VERSION),
            )
        results = {
            k: next(i for i, o in enumerate(known.tests[k].outcomes) if o.name == v)
            for k, v in dict(raw["results"]).items()
            if k in known.tests and any(o.name == v for o in known.tests[k].outcomes)
        }
        return Case(
            {k: bool(v) for k, v in dict(raw["signs"]).items() if k in known.signs},
            tuple(str(s) for s in raw["unknown"] if s in known.signs),
            results,
            tuple(str(a) for a in raw["apart"] if a in known.apart),
            min(max(int(raw["bar"]), 0), MOST_BAR),
        )
    except (ValueError, KeyError, TypeError, AttributeError, OverflowError, PlanFileError) as error:
        raise InputError("case", text[:40], "a case as Gravidon writes it") from error


def counted(text: str) -> tuple[int, int]:
    """Return how many answers and results a case's text holds, without a look at the tables; none where it is no case."""
    try:
        raw = json_object(text)
        return len(raw["signs"]), len(raw["results"])
    except (KeyError, TypeError, PlanFileError):
        return 0, 0


def outcome_named(test: Test, text: str) -> int:
    """Return the number of an outcome by its name, the beginning of it, or its number counted from 1.

    Raises: InputError if none is meant, or several.
    """
    text = text.strip().lower()
    names = [o.name.lower() for o in test.outcomes]
    if text.isdigit() and 1 <= int(text) <= len(names):
        return int(text) - 1
    found = [k for k, n in enumerate(names) if n == text] or [
        k for k, n in enumerate(names) if n.startswith(text)
    ]
    if len(found) != 1 or not text:
        raise InputError(
            tr("outcome of {key}").format(key=test.key),
            text,
            tr("one of {known}").format(known=commas(names)),
        )
    return found[0]
