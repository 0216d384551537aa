# SPDX-License-Identifier: GPL-3.0-or-later
"""A diagnosis as plain data, as `gravidon diagnose --json` prints it; and a case from what a command line tells."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from gravidon.errors import InputError, PlanFileError
from gravidon.plan.files import read_file
from gravidon.plan.model import Plan
from gravidon.records.entry import Entry
from gravidon.study.diagnosis.advice import advise, questions, settled, speaks, splits, stops
from gravidon.study.diagnosis.belief import ELSE, Model, cause_name, model
from gravidon.study.diagnosis.case import Case, case_from, outcome_named
from gravidon.study.diagnosis.from_log import from_health, from_words
from gravidon.study.diagnosis.mending import mending
from gravidon.study.diagnosis.tables import PLACES, RISKS, tables
from gravidon.study.health.fit import health
from gravidon.study.health.outlook import outlook

MOST_CASE = 1_000_000
"""[bytes] of a case in a file."""


def told_case(signs: Sequence[str], results: Sequence[str], path: Path | None, bar: int) -> Case:
    """Return the case that words tell: signs ('smoke-idle', 'no-smoke-boost'), results ('dipstick=over full'), on top of a case from a file.

    Raises: InputError naming the sign, test or outcome that is none, or the file that cannot be read.
    """
    case = Case()
    if path is not None:
        try:
            case = case_from(read_file(path, MOST_CASE).decode("utf-8"))
        except (PlanFileError, UnicodeDecodeError) as error:
            raise InputError("case", path.name, "a file that can be read") from error
    case = replace(case, bar=bar)
    known = tables()
    for text in signs:
        negative = text.startswith("no-") and text not in known.signs
        case = case.answered(text.removeprefix("no-") if negative else text, not negative)
    for text in results:
        test, equals, outcome = text.partition("=")
        if not equals:
            raise InputError("result", text, "a test and its outcome, such as 'dipstick=over full'")
        case = case.tested(test.strip(), outcome_named(known.test(test.strip()), outcome))
    return case


def with_log(plan: Plan, entries: Sequence[Entry], turbo: int = 0) -> tuple[Model, dict[str, bool]]:
    """Return the model of a plan's car with what its logbook says, and the signs the logbook tells of itself.

    Raises: GravidonError if the plan or a reading cannot be computed.
    """
    found = health(plan, entries, turbo) if entries else None
    made = model(plan, found, outlook(found) if found is not None else None)
    return made, {**from_words(entries), **from_health(plan, found)}


def diagnosis(plan: Plan, case: Case, entries: Sequence[Entry] = ()) -> dict[str, Any]:
    """Return a diagnosis as plain data.

    Keys: plan; signs (yes, no, unknown); from_log: signs the logbook tells; results; causes (key, name, place, belief, why, speaks: what speaks for it and how many times); places: belief along
    the oil's path; stop: what must not be done as it is; questions; tests (key, name, kind, how, minutes, money, risk, gain_bits, splits, outcomes with their chance); settled: the cause that is sure enough, or empty; mending.

    Raises: GravidonError if the plan cannot be computed.
    """
    made, told = with_log(plan, entries)
    whole = case.with_told(told)
    belief = made.belief(whole.answers, whole.results)
    known = made.tables
    sure = settled(belief)
    causes = [
        {
            "key": key,
            "name": cause_name(known, key),
            "place": PLACES[known.causes[key].place] if key != ELSE else "",
            "belief": round(value, 4),
            "why": known.causes[key].why if key != ELSE else "",
            "speaks": [
                {"key": k, "times": round(times, 3)}
                for k, times in (speaks(made, whole, key)[:4] if key != ELSE else ())
            ],
        }
        for key, value in belief.ranked
    ]
    tests = [
        {
            "key": a.test.key,
            "name": a.test.name,
            "kind": a.test.kind,
            "how": list(a.test.how),
            "minutes": a.minutes,
            "money": a.money,
            "risk": a.test.risk,
            "risk_words": RISKS[a.test.risk],
            "apart": [it.name for it in case.to_take_off(a.test)],
            "gain_bits": round(a.gain_bits, 4),
            "splits": [list(side) for side in splits(made, belief, a)],
            "outcomes": [
                {"name": o.name, "means": o.means, "chance": round(p, 4)}
                for o, p in zip(a.test.outcomes, a.chance, strict=True)
            ],
        }
        for a in advise(made, belief, whole)
    ]
    return {
        "plan": plan.name,
        "signs": {
            "yes": [k for k, v in case.answers.items() if v],
            "no": [k for k, v in case.answers.items() if not v],
            "unknown": list(case.unknown),
        },
        "from_log": [k if v else f"no-{k}" for k, v in whole.answers.items() if k not in case.answers],
        "results": {k: known.tests[k].outcomes[v].name for k, v in case.results.items()},
        "causes": causes,
        "places": {PLACES[k]: round(v, 4) for k, v in belief.by_place.items()},
        "stop": list(stops(made, whole)),
        "questions": [{"key": k, "ask": known.signs[k].ask} for k in questions(made, belief, whole)],
        "tests": tests,
        "settled": sure,
        "mending": _mending(plan, sure),
    }


def _mending(plan: Plan, cause: str) -> dict[str, Any]:
    if not cause:
        return {}
    *_, made = mending(plan, cause)
    return {
        "do": list(made.cause.do),
        "parts": list(made.cause.parts),
        "minutes": made.cause.minutes,
        "money": made.cause.money,
        "plan": [r.text("metric") for _, r in made.remedies],
    }
