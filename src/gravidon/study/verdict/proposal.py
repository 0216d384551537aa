# SPDX-License-Identifier: GPL-3.0-or-later
"""Proposals: changed plans with the words to ask for them, and who makes them for which findings."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from gravidon.parts import dash
from gravidon.plan import model, paths
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.verdict.finding import Finding
from gravidon.words.text import Number, Said


@dataclass(frozen=True)
class Proposal:
    """A changed plan and what one would say to ask for it."""

    said: Said
    plan: model.Plan


def proposal(template: str, plan: model.Plan, **numbers: Number) -> Proposal:
    """Return a changed plan with the words to ask for it: a template marked with `N_` and its numbers."""
    return Proposal(Said(template, numbers), plan)


Propose = Callable[[Evaluation, Finding], Iterator[Proposal | None]]


@dataclass(frozen=True)
class Maker:
    """Makes proposals for findings of some codes; `effort` is how much work, money and dismantling they take. It yields a proposal, or
    None where it has worked a while."""

    codes: tuple[str, ...]
    propose: Propose
    effort: int


NO_EFFORT, FITTING, HOSE, MIDDLING, PAN_OFF, PUMP = range(6)
"""Efforts: a drain plug or a clip, a fitting, a hose or another place, what is not ranked, the pan off, a pump with its wiring; common
practice, no source."""


def cures(*codes: str, effort: int = MIDDLING) -> Callable[[Propose], Maker]:
    """Turn a function into the maker for finding codes."""

    def made(propose: Propose) -> Maker:
        return Maker(codes, propose, effort)

    return made


def freed(e: Evaluation, line: str) -> model.Plan:
    """Return the plan with no parts chosen for a line: its own figures rule, and a chain is found anew."""
    return paths.put(e.plan, e.at(f"parts.{line}"), ()) if getattr(e.line.parts, line) else e.plan


def larger_dashes(bore_mm: float, largest: int) -> tuple[int, ...]:
    """Return the usual hose sizes above a bore [mm], up to a largest, the least first."""
    return tuple(
        sorted(d for d in dash.HOSE_BORE_IN if dash.hose_bore_mm(d) > bore_mm + 0.3 and d <= largest)
    )


def next_dash(bore_mm: float, largest: int) -> int | None:
    """Return the next usual hose size above a bore [mm], up to a largest; None if there is none."""
    return next(iter(larger_dashes(bore_mm, largest)), None)
