# SPDX-License-Identifier: GPL-3.0-or-later
"""Causes, signs and tests as they stand in the data, read once and checked."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache
from importlib import resources
from typing import Any, TypeVar

from gravidon.errors import InputError
from gravidon.plan.model import Plan, ScreenPiece
from gravidon.translate import commas
from gravidon.words.text import tr

PLACES: dict[str, str] = {
    "gallery": tr("gallery and tap"),
    "feed": tr("feed line"),
    "hole": tr("inlet hole"),
    "bearing": tr("bearing"),
    "seal": tr("seals"),
    "housing": tr("seat of the housing"),
    "drain": tr("drain run"),
    "entry": tr("entry"),
    "pan": tr("pan and oil"),
    "case": tr("crankcase's breath"),
    "pump": tr("scavenge"),
    "engine": tr("engine's top"),
    "pipes": tr("intake and exhaust"),
    "joint": tr("joints"),
    "gauge": tr("gauges"),
}
"""Where on the oil's path a cause may sit, in words."""

GROUPS: dict[str, str] = {
    "smoke": tr("When it smokes"),
    "where": tr("Where oil lies"),
    "pressure": tr("What gauges say"),
    "heat": tr("Heat"),
    "noise": tr("Noise"),
    "play": tr("The shaft"),
    "else": tr("Else"),
}
"""Kinds of signs, in words, in the order they are asked."""

KINDS = ("look", "measure", "swap", "wait")
"""What a test is."""
RISKS: tuple[str, ...] = (
    tr("no danger to speak of"),
    tr("hot and turning parts near: gloves, no loose sleeves"),
    tr("hot oil open or car up: stands under it, never a jack alone; a fire extinguisher at hand"),
    tr("driven hard: on a closed place, a second person reads"),
)
"""What a test's risk means, from least to most; common practice, no source."""
MINUTES_A_COIN = 1.5
"""[min] that one coin counts as; project choice, the user's to change."""


@dataclass(frozen=True)
class Shown:
    """A feature of the simulated car that shows a sign: over or under a value (of the sound car's, where `share`), as unsharp as `width`."""

    what: str
    over: bool
    at: float
    share: bool
    width: float


@dataclass(frozen=True)
class Binned:
    """A feature of the simulated car that a test reads: edges between its outcomes (as share of the sound car's, where `share`), width, and which outcome each bin is."""

    what: str
    edges: tuple[float, ...]
    share: bool
    width: float
    order: tuple[int, ...]


@dataclass(frozen=True)
class Sign:
    """One sign: key, question, words of a yes, group, rate whatever the cause [-], what a plan must have, what shows it, where the row rests, whether it only says more of another sign,
    what must not be done while it is so (empty: nothing)."""

    key: str
    ask: str
    said: str
    group: str
    rate: float
    needs: tuple[str, ...] = ()
    shows: tuple[Shown, ...] = ()
    source: str = "cp"
    qualifies: bool = False
    stop: str = ""

    def words(self, yes: bool) -> str:
        """Return how an answer reads in a sentence."""
        return self.said if yes else tr("no {said}").format(said=self.said)


@dataclass(frozen=True)
class Cause:
    """One cause: key, name, what happens, place, how often among a hundred ailing cars, fault that makes it so (empty: none), what a plan must have, findings and part of health that
    speak for it, share of its cars that show a sign, repair, parts, minutes, money, findings whose remedies mend the plan, what is new after it, where the row rests."""

    key: str
    name: str
    why: str
    place: str
    prior: float
    fault: str
    needs: tuple[str, ...]
    margins: tuple[str, ...]
    health: str
    signs: Mapping[str, float]
    do: tuple[str, ...]
    parts: tuple[str, ...]
    minutes: float
    money: float
    plan: tuple[str, ...]
    changed: tuple[str, ...]
    source: str


@dataclass(frozen=True)
class Outcome:
    """What can come of a test, and what it tells."""

    name: str
    means: str


@dataclass(frozen=True)
class Test:
    """One test: key, name, kind, how, minutes, money, risk, what must be apart, what a plan must have, outcomes, their shares where a cause has no row, rows by cause, what
    of the simulated car it reads, where the row rests."""

    __test__ = False

    key: str
    name: str
    kind: str
    how: tuple[str, ...]
    minutes: float
    money: float
    risk: int
    apart: tuple[str, ...]
    needs: tuple[str, ...]
    outcomes: tuple[Outcome, ...]
    base: tuple[float, ...]
    finds: Mapping[str, tuple[float, ...]]
    shows: Binned | None
    source: str

    def told(self, outcome: int) -> str:
        """Return the test and what came of it, in one line."""
        return f"{self.name}{'' if self.name.endswith('?') else ':'} {self.outcomes[outcome].name}"


@dataclass(frozen=True)
class Apart:
    """Something that has to come off, and how long that takes with putting it back [min]."""

    name: str
    minutes: float


Row = TypeVar("Row", Cause, Sign, Test)


@dataclass(frozen=True)
class Tables:
    """All three, by key, in the order of the data."""

    causes: Mapping[str, Cause]
    signs: Mapping[str, Sign]
    tests: Mapping[str, Test]
    apart: Mapping[str, Apart]

    def of(self, plan: Plan) -> Tables:
        """Return the rows that a plan's car can have, show, and be tested by."""
        there = has(plan)

        def within(rows: Mapping[str, Row]) -> dict[str, Row]:
            return {k: row for k, row in rows.items() if set(row.needs) <= there}

        return replace(self, causes=within(self.causes), signs=within(self.signs), tests=within(self.tests))

    def sign(self, key: str) -> Sign:
        """Return a sign. Raises: InputError if there is none of that key."""
        if key not in self.signs:
            raise InputError("sign", key, tr("one of {known}").format(known=commas(self.signs)))
        return self.signs[key]

    def test(self, key: str) -> Test:
        """Return a test. Raises: InputError if there is none of that key."""
        if key not in self.tests:
            raise InputError("test", key, tr("one of {known}").format(known=commas(self.tests)))
        return self.tests[key]


@cache
def tables() -> Tables:
    """Return the tables that ship.

    Source: data/causes.toml, signs.toml, tests.toml; every row names where it rests.

    Raises: ValueError if a row names something that is in no other table.
    """
    causes = {k: _cause(k, row) for k, row in _read("causes").items()}
    signs = {k: _sign(k, row) for k, row in _read("signs").items()}
    raw = _read("tests")
    apart = {k: Apart(tr(row["name"]), float(row["minutes"])) for k, row in raw["apart"].items()}
    tests = {k: _test(k, row) for k, row in raw["test"].items()}
    for cause in causes.values():
        _known(cause.signs, signs, tr("cause {key}: signs").format(key=cause.key))
    for test in tests.values():
        _known(test.finds, causes, tr("test {key}: finds").format(key=test.key))
        _known(test.apart, apart, tr("test {key}: apart").format(key=test.key))
    return Tables(causes, signs, tests, apart)


def _known(names: Any, table: Mapping[str, Any], where: str) -> None:
    wrong = [n for n in names if n not in table]
    if wrong:
        raise ValueError(f"{where}: no {', '.join(wrong)}")


def _read(name: str) -> dict[str, Any]:
    return tomllib.loads(
        resources.files("gravidon.study.diagnosis").joinpath(f"data/{name}.toml").read_text("utf-8")
    )


def _said(texts: list[str]) -> tuple[str, ...]:
    return tuple(tr(t) for t in texts)


def _cause(key: str, row: dict[str, Any]) -> Cause:
    return Cause(
        key, tr(row["name"]), tr(row["why"]), row["place"], float(row["prior"]), row.get("fault", ""),
        tuple(row.get("needs", ())), tuple(row.get("margins", ())), row.get("health", ""),
        {k: float(v) for k, v in row["signs"].items()}, _said(row["do"]), _said(row["parts"]),
        float(row["minutes"]), float(row["money"]), tuple(row.get("plan", ())), tuple(row["changed"]), row["source"],
    )  # fmt: skip


def _sign(key: str, row: dict[str, Any]) -> Sign:
    return Sign(
        key, tr(row["ask"]), tr(row["said"]), row["group"], float(row["rate"]), tuple(row.get("needs", ())),
        tuple(_shown(s) for s in row.get("shows", ())), row.get("source", "cp"), bool(row.get("qualifies", False)),
        tr(row["stop"]) if "stop" in row else "",
    )  # fmt: skip


def _shown(row: dict[str, Any]) -> Shown:
    name = next(n for n in ("over", "under", "over_share", "under_share") if n in row)
    return Shown(
        row["what"], name.startswith("over"), float(row[name]), name.endswith("_share"), float(row["width"])
    )


def _test(key: str, row: dict[str, Any]) -> Test:
    base = tuple(float(v) for v in row["base"])
    shows = row.get("shows")
    return Test(
        key, tr(row["name"]), row["kind"], _said(row["how"]), float(row["minutes"]), float(row["money"]), int(row["risk"]),
        tuple(row.get("apart", ())), tuple(row.get("needs", ())), tuple(Outcome(tr(o["name"]), tr(o["means"])) for o in row["outcomes"]), base,
        {k: _shares(v, base) for k, v in row.get("finds", {}).items()},
        None if shows is None else Binned(
            shows["what"], tuple(float(v) for v in shows["edges"]), bool(shows.get("share", False)), float(shows["width"]), tuple(shows["order"])
        ), row["source"],
    )  # fmt: skip


def _shares(value: float | list[float], base: tuple[float, ...]) -> tuple[float, ...]:
    """Return every outcome's share: as given, or the last one's with the rest as in the base."""
    if isinstance(value, list):
        return tuple(float(v) for v in value)
    rest = sum(base[:-1])
    return (*(b / rest * (1.0 - value) for b in base[:-1]), float(value))


def has(plan: Plan) -> frozenset[str]:
    """Return what a plan has of what causes, signs and tests may need."""
    lines = plan.turbos
    kind = plan.breather.kind
    found = {
        "pump": any(it.drain_by == "scavenge" for it in lines),
        "gravity": any(it.drain_by == "gravity" for it in lines),
        "screen": any(isinstance(p, ScreenPiece) for it in lines for p in it.feed.pieces),
        "valve": plan.breather.has_valve,
        "valve-only": kind == "valve to intake",
        "can": kind in ("catch can", "can and valve", "typed"),
        "twin": len(lines) > 1,
        "ball": any(it.turbo.kind.restrictor_usual for it in lines),
        "journal": any(not it.turbo.kind.restrictor_usual for it in lines),
    }
    return frozenset(k for k, v in found.items() if v)
