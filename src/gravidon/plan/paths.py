# SPDX-License-Identifier: GPL-3.0-or-later
"""Read and change a plan by path, such as 'drain.points.1.z_mm'. A change gives a new plan."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from pydantic import BaseModel, ValidationError

from gravidon.errors import InputError
from gravidon.plan.fields import Known, Model, Spec, spec
from gravidon.plan.model import Plan
from gravidon.plan.problems import first_problem
from gravidon.translate import tr


def get(plan: BaseModel, path: str) -> Any:
    """Return what stands at a path.

    Raises: AttributeError, IndexError or ValueError if nothing does.
    """
    found: Any = plan
    for step in path.split("."):
        found = found[int(step)] if isinstance(found, tuple) else getattr(found, step)
    return found


def number(plan: BaseModel, path: str) -> float:
    """Return the number at a path in the file's unit, whether Known or plain."""
    found = get(plan, path)
    return float(found.value if isinstance(found, Known) else found)


def spec_at(plan: BaseModel, path: str) -> Spec:
    """Return the Spec of the numeric field at a path."""
    owner, _, name = path.rpartition(".")
    return spec(get(plan, owner) if owner else plan, name)


def put(plan: Plan, path: str, value: Any) -> Plan:
    """Return the plan with another value at a path; every part it touches is validated again.

    A bare number put on a Known keeps its tolerance and counts as measured.

    Raises: InputError naming the field and what was expected.
    """
    try:
        old = get(plan, path)
    except (AttributeError, IndexError, ValueError) as error:
        raise InputError(path, value, "a place that the plan has") from error
    if isinstance(old, Known) and isinstance(value, (int, float)) and not isinstance(value, bool):
        value = (
            Known(value=float(value), basis="measured", tolerance=old.tolerance) if _finite(value) else value
        )
    try:
        changed: Plan = _put(plan, path.split("."), value)
    except ValidationError as error:
        _, message = first_problem(error)
        raise InputError(_label(plan, path), getattr(value, "value", value), message) from error
    parts = {f"{path}.{k}": v for k, v in enumerate(value)} if isinstance(value, tuple) else {path: value}
    for place, part in parts.items():
        if isinstance(part, Model) and not isinstance(part, Known):
            _whole(part, plan, f"{place}.")
    return changed


def checked(plan: Plan) -> Plan:
    """Return a plan; parts that were copied with other figures were not looked at when they were made.

    Raises: InputError naming the first field that is out of its bounds.
    """
    _whole(plan, plan, "")
    return plan


def _whole(part: Model, plan: Plan, path: str) -> None:
    """Look at every figure of a part: a plan that could not be opened again is none. Ideas were looked at when they were kept."""
    try:
        type(part).model_validate(part.model_dump(exclude={"ideas"}))
    except ValidationError as error:
        place, message = first_problem(error)
        raise InputError(_label(plan, path + place), error.errors()[0]["input"], message) from error


def _finite(value: float) -> bool:
    return abs(value) < float("inf")


def _label(plan: Plan, path: str) -> str:
    try:
        return spec_at(plan, path).label
    except (KeyError, AttributeError, IndexError, ValueError):
        return path


def _put(node: Any, steps: list[str], value: Any) -> Any:
    if not steps:
        return value
    head, rest = steps[0], steps[1:]
    if isinstance(node, tuple):
        index = int(head)
        return (*node[:index], _put(node[index], rest, value), *node[index + 1 :])
    changed = _put(getattr(node, head), rest, value)
    fields = {name: getattr(node, name) for name in type(node).model_fields}
    return type(node).model_validate({**fields, head: changed})


def walk_known(plan: BaseModel, prefix: str = "") -> Iterator[tuple[str, Spec, Known]]:
    """Yield (path, spec, value) for every Known in the plan; those of kept ideas are not the plan's."""
    for name in type(plan).model_fields:
        if name in ("ideas", "photos"):
            continue
        value = getattr(plan, name)
        path = f"{prefix}{name}"
        if isinstance(value, Known):
            yield path, spec(plan, name), value
        elif isinstance(value, BaseModel):
            yield from walk_known(value, f"{path}.")
        elif isinstance(value, tuple):
            for index, item in enumerate(value):
                if isinstance(item, BaseModel):
                    yield from walk_known(item, f"{path}.{index}.")


def guesses(plan: Plan) -> tuple[str, ...]:
    """Return the paths of every value nobody measured."""
    return tuple(path for path, _, value in walk_known(plan) if value.basis == "guess")


INVENTED: tuple[tuple[str, str], ...] = (
    ("taps.{tap}.port_thread", tr("the thread at the tap")),
    ("turbos.0.turbo.drain_flange", tr("the turbo's place")),
    ("turbos.0.turbo.cooling", tr("how the turbo is cooled")),
    ("sump.boxes", tr("the pan")),
    ("turbos.0.drain.entry", tr("the entry's place")),
    ("turbos.0.drain.fitting.port_thread", tr("the thread in the pan")),
)
"""Plain values that a first plan invents and a verdict rests on, by path, with what they are called."""


def looked_at(plan: Plan, path: str) -> bool:
    """Return whether somebody looked at a plain value: it was typed, or the plan does not come from a starter."""
    if plan.seen is None:
        return True
    return any(path == s or path.startswith(f"{s}.") or s.startswith(f"{path}.") for s in plan.seen)


def unseen(plan: Plan) -> tuple[str, ...]:
    """Return what a plan invents that nobody looked at, in words."""
    return tuple(words for path, words in INVENTED if not looked_at(plan, path.format(tap=plan.tap)))


def with_seen(plan: Plan, path: str) -> Plan:
    """Return the plan with a plain value marked as looked at."""
    if plan.seen is None or path in plan.seen:
        return plan
    return plan.model_copy(update={"seen": (*plan.seen, path)})
