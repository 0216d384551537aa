# SPDX-License-Identifier: GPL-3.0-or-later
"""Two plans side by side: what was decided otherwise, one by one to be taken, and what comes of it in every condition."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import BaseModel

from gravidon.errors import InputError
from gravidon.plan import paths
from gravidon.plan.fields import Known
from gravidon.plan.model import Idea, Plan
from gravidon.plan.units import Family, file_to_si, show
from gravidon.study.judge.table import worst_by_condition
from gravidon.study.planning.choices import CHOICES, Choice
from gravidon.study.verdict.report import against_limit
from gravidon.study.verdict.trials import Trial, trial
from gravidon.words.text import tr

LEFT_OUT = (
    "format",
    "format_version",
    "name",
    "note",
    "seen",
    "holds",
    "ideas",
    "drawer",
    "own_parts",
    "build",
)
"""What two states of one plan are not compared by: its papers, its drawer, how far the build is."""
FACTS = ("use", "oil", "engine", "sump", "shapes", "needs", "conditions")
"""Fields of the plan that are no decisions: the car, and what is asked of it."""


@dataclass(frozen=True)
class Difference:
    """One thing that two plans have otherwise.

    Fields: key; words for it; the values that they have, as said; the plan paths that hold it; whether it is a fact of the car
    and no decision; the station where it is made.
    """

    key: str
    words: str
    old: str
    new: str
    paths: tuple[str, ...]
    is_fact: bool
    station: str


def compared(plan: Plan) -> Iterator[str]:
    """Yield the paths at which two plans are compared: fields of a turbo's line one level down, fields of the car's parts."""
    for name in Plan.model_fields:
        if name in LEFT_OUT:
            continue
        if name == "turbos":
            for k, it in enumerate(plan.turbos):
                for part in type(it).model_fields:
                    value = getattr(it, part)
                    if part == "drain":
                        yield from (
                            f"turbos.{k}.drain.{f}" for f in type(value).model_fields if f != "fitting"
                        )
                        yield from (f"turbos.{k}.drain.fitting.{f}" for f in type(value.fitting).model_fields)
                    elif isinstance(value, BaseModel):
                        yield from (f"turbos.{k}.{part}.{f}" for f in type(value).model_fields)
                    else:
                        yield f"turbos.{k}.{part}"
        elif isinstance(getattr(plan, name), BaseModel):
            yield from (f"{name}.{f}" for f in type(getattr(plan, name)).model_fields)
        else:
            yield name


def differences(old: Plan, new: Plan, family: Family = "metric") -> tuple[Difference, ...]:
    """Return what two plans have otherwise: decisions in the order of the oil's way, then the rest, then facts of the car.

    Taking every one of them into the old plan gives the new one's state.
    """
    if len(old.turbos) != len(new.turbos):
        was, now = (str(len(p.turbos)) for p in (old, new))
        return (Difference("turbos", "turbos", was, now, ("turbos",), True, "car"),)
    apart = [p for p in compared(old) if paths.get(old, p) != paths.get(new, p)]
    found: list[Difference] = []
    for choice in CHOICES.values():
        for k in range(1 if choice.known.shared else len(old.turbos)):
            own = tuple(p for p in _paths_of(choice, k, old) if p in apart)
            values = [choice.value(p, k) for p in (old, new)]
            if not own or values[0] == values[1]:
                continue
            apart = [p for p in apart if p not in own]
            said = [choice.said(v, family) if v else "" for v in values]
            if said[0] == said[1]:
                said[1] = tr("{said}, otherwise").format(said=said[1])
            found.append(
                Difference(
                    f"{choice.name}@{k}", _whose(old, k, choice), said[0], said[1], own, False, choice.station
                )
            )
    for path in apart:
        found.append(_plain(old, new, path, family))
    return tuple(sorted(found, key=lambda d: d.is_fact))


def _paths_of(choice: Choice, k: int, plan: Plan) -> tuple[str, ...]:
    """Return the compared paths that a choice decides."""
    more = {
        "feed-end": ("feed.pieces",),
        "tap-thread": (),
        "drain-size": ("drain.fitting.bore_mm", "drain.fitting.label"),
        "entry-means": ("drain.fitting.label", "drain.fitting.length_mm"),
        "route": ("drain.sleeved",),
        "pump": ("scavenge.runs_dry", "scavenge.pump_above_pot_mm"),
    }.get(choice.name, ())
    own = (*choice.known.paths, *more)
    if choice.name == "tap-thread":
        return ("taps",)
    return tuple(own) if choice.known.shared else tuple(f"turbos.{k}.{p}" for p in own)


def _whose(plan: Plan, k: int, choice: Choice) -> str:
    several = len(plan.turbos) > 1 and not choice.known.shared
    return f"{choice.words}, {plan.turbos[k].turbo.label}" if several else choice.words


STATIONS = {
    "oil": "car", "engine": "car", "taps": "tap", "tap": "tap", "trunk": "feed", "sump": "sump", "shapes": "drain",
    "breather": "breather", "needs": "car", "conditions": "car", "use": "car",
    "turbo": "seat", "feed": "feed", "restrictor": "restrictor", "flange_hole": "restrictor", "drain": "drain",
    "scavenge": "scavenge", "parts": "parts", "drain_by": "scavenge",
}  # fmt: skip


def name_of(path: str) -> str:
    """Return what a field without a label of its own is called, in the sources' words.

    >>> name_of("turbos.0.drain.min_bend_mm")
    'min bend'
    """
    return path.rpartition(".")[2].removesuffix("_mm").replace("_", " ")


def _plain(old: Plan, new: Plan, path: str, family: Family) -> Difference:
    values = [paths.get(p, path) for p in (old, new)]
    try:
        spec = paths.spec_at(old, path)
        words = spec.label
        said = [_shown(v, spec.kind, family) for v in values]
    except (KeyError, AttributeError, IndexError):
        words = tr(name_of(path))
        said = [_told(v) for v in values]
    head = path.split(".")
    part = head[2] if head[0] == "turbos" and len(head) > 2 else head[0]
    if head[0] == "turbos" and len(old.turbos) > 1:
        words = f"{words}, {old.turbos[int(head[1])].turbo.label}"
    if said[0] == said[1]:
        said = [f"{s} ({_basis(v)})" for s, v in zip(said, values, strict=True)]
    is_fact = head[0] in FACTS or (part == "turbo" and head[-1] not in ("clock_deg", "pitch_deg"))
    return Difference(path, words, said[0], said[1], (path,), is_fact, STATIONS.get(part, "whole"))


def _basis(value: Any) -> str:
    return tr(value.basis) if isinstance(value, Known) else tr("otherwise inside")


def _shown(value: Any, kind: str, family: Family) -> str:
    number = value.value if isinstance(value, Known) else value
    return show(file_to_si(float(number), kind), kind, family)


def _told(value: Any) -> str:
    if isinstance(value, bool):
        return tr("yes") if value else tr("no")
    if isinstance(value, tuple):
        return tr("{count} of them").format(count=len(value)) if value else tr("none")
    return str(value) if isinstance(value, (str, int, float)) else tr("otherwise")


def taken(plan: Plan, other: Plan, difference: Difference) -> Plan:
    """Return a plan with one difference as another plan has it.

    Raises: InputError where it cannot stand without others.
    """
    made = plan.model_dump()
    data = other.model_dump()
    for path in difference.paths:
        *way, last = path.split(".")
        here, there = made, data
        for step in way:
            here, there = (
                node[int(step)] if isinstance(node, (list, tuple)) else node[step] for node in (here, there)
            )
        here[last] = there[last]
    try:
        return Plan.model_validate(made)
    except ValueError as error:
        raise InputError(
            difference.words, difference.new, "a value that stands without the other differences"
        ) from error


# --- outcomes ------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Outcome:
    """One condition in two plans: its name; verdict's words; what is nearest to its limit, as figure and limit; by how much the second
    is firmer [margins]."""

    condition: str
    verdicts: tuple[str, str]
    nearest: tuple[str, str]
    change: float


def outcomes(old: Plan, new: Plan, family: Family = "metric") -> tuple[Outcome, ...]:
    """Return what comes of two plans in every condition that both have, in the old one's order.

    Raises: GravidonError if one of them cannot be computed.
    """
    was, now = (_rows(trial(p), family) for p in (old, new))
    return tuple(
        Outcome(name, (a[0], b[0]), (a[1], b[1]), b[2] - a[2])
        for name, a in was.items()
        if (b := now.get(name)) is not None
    )


def _rows(made: Trial, family: Family) -> dict[str, tuple[str, str, float]]:
    worst = worst_by_condition(made.evaluation)
    return {
        name: (
            word,
            against_limit(w, family) or tr(w.judged.quantity.name),
            float(np.nan_to_num(w.margin, posinf=1.0)),
        )
        for name, word, w in zip(made.evaluation.names, made.words, worst, strict=True)
    }


# --- ideas ---------------------------------------------------------------------------------------

KEPT_NOW = ("holds", "photos", "drawer", "own_parts", "build", "name", "note", "seen")
"""What an idea does not keep: it is the plan's of today."""


def with_idea(plan: Plan, name: str, note: str = "", after: str = "", state: Plan | None = None) -> Plan:
    """Return the plan with a state of it (by default as it stands) kept under a name; an idea of that name is replaced.

    Raises: InputError for an empty name, or if there are as many ideas as a plan may hold.
    """
    name = name.strip()
    if not name or len(name) > 80:
        raise InputError("idea's name", name, "one to eighty letters")
    kept = bare(state or plan)
    rest = tuple(i for i in plan.ideas if i.name != name)
    if len(rest) >= 24:
        raise InputError("ideas", len(rest) + 1, "at most 24; drop one first")
    was = next((i for i in plan.ideas if i.name == name), None)
    parent = after or (was.after if was else "")
    parent = parent if any(i.name == parent for i in rest) else ""
    made = Idea(
        name=name,
        note=note or (was.note if was else ""),
        after=parent,
        on_sheet=was.on_sheet if was else False,
        state=kept,
    )
    ideas = tuple(made if i is was else i for i in plan.ideas) if was else (*plan.ideas, made)
    return plan.model_copy(update={"ideas": ideas})


def bare(plan: Plan) -> Plan:
    """Return a plan's state as an idea keeps it: without ideas, holds, drawer, own parts and the build's ticks."""
    fields = Plan.model_fields
    empty = {
        n: fields[n].default
        for n in ("holds", "photos", "drawer", "own_parts", "build", "ideas", "seen", "note")
    }
    return plan.model_copy(update=empty)


def without_idea(plan: Plan, name: str) -> Plan:
    """Return the plan without an idea; those that came after it come after what it came after."""
    gone = next((i for i in plan.ideas if i.name == name), None)
    if gone is None:
        return plan
    rest = tuple(
        i.model_copy(update={"after": gone.after}) if i.after == name else i
        for i in plan.ideas
        if i is not gone
    )
    return plan.model_copy(update={"ideas": rest})


def state_of(plan: Plan, idea: Idea, facts: bool = False) -> Plan:
    """Return an idea as a plan: its decisions on the car as it is known today; with `facts` on the car as it was known then.

    What the idea does not keep (drawer, ticks, holds, ideas) is today's.
    """
    today = {n: getattr(plan, n) for n in (*KEPT_NOW, "ideas")}
    if not facts:
        today |= {n: getattr(plan, n) for n in FACTS}
        turbos = idea.state.turbos
        if len(turbos) == len(plan.turbos):
            today["turbos"] = tuple(
                it.model_copy(
                    update={
                        "turbo": now.turbo.model_copy(
                            update={"clock_deg": it.turbo.clock_deg, "pitch_deg": it.turbo.pitch_deg}
                        )
                    }
                )
                for it, now in zip(turbos, plan.turbos, strict=True)
            )
    return idea.state.model_copy(update=today)
