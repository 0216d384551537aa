# SPDX-License-Identifier: GPL-3.0-or-later
"""What was done, step by step: decisions, the drawer and the build's ticks each with an undo of their own.

Going back on a decision leaves the drawer and the ticks as they are; what is in the drawer is not undone by a slip of a
key two pages on.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

from gravidon.plan.model import Plan

Scope = Literal["plan", "drawer", "build"]
SCOPES: tuple[Scope, ...] = ("plan", "drawer", "build")
MOST_UNDO = 300


@dataclass(frozen=True)
class Step:
    """One state: what was done to get there, the plan, a key that merges steps, and when it was done."""

    label: str
    plan: Plan
    merge: str = ""
    serial: int = 0


@dataclass
class _Stack:
    steps: list[Step]
    at: int = 0


def blended(now: Plan, target: Plan, scope: Scope) -> Plan:
    """Return the plan with what belongs to a scope taken from another state."""
    if scope == "drawer":
        return now.model_copy(update={"drawer": target.drawer, "own_parts": target.own_parts})
    if scope == "build":
        return now.model_copy(update={"build": now.build.model_copy(update={"done": target.build.done})})
    build = target.build.model_copy(update={"done": now.build.done})
    return target.model_copy(update={"drawer": now.drawer, "own_parts": now.own_parts, "build": build})


def scope_of(before: Plan, after: Plan) -> Scope:
    """Return what a change belongs to: the drawer, the ticks, or else the plan's decisions."""
    for scope in ("drawer", "build"):
        if blended(before, after, scope) == after:
            return scope
    return "plan"


@dataclass
class History:
    """The steps taken, and the plan as it stands."""

    now: Plan
    _stacks: dict[Scope, _Stack] = field(init=False)
    _serial: int = 0

    def __post_init__(self) -> None:
        self._stacks = {scope: _Stack([Step("", self.now)]) for scope in SCOPES}

    def push(self, plan: Plan, label: str, merge: str = "") -> None:
        """Take a step; steps with one merge key join."""
        scope = scope_of(self.now, plan)
        stack = self._stacks[scope]
        del stack.steps[stack.at + 1 :]
        self._serial += 1
        step = Step(label, plan, merge, self._serial)
        if merge and stack.steps[stack.at].merge == merge and stack.at > 0:
            stack.steps[stack.at] = step
        else:
            stack.steps.append(step)
            del stack.steps[: max(0, len(stack.steps) - MOST_UNDO)]
            stack.at = len(stack.steps) - 1
        self.now = plan

    def close(self) -> None:
        """Close a run of merged steps."""
        for stack in self._stacks.values():
            step = stack.steps[stack.at]
            stack.steps[stack.at] = Step(step.label, step.plan, "", step.serial)

    def _last(self, scopes: Sequence[Scope]) -> Scope | None:
        able = [s for s in scopes if self._stacks[s].at > 0]
        return max(able, key=lambda s: self._stacks[s].steps[self._stacks[s].at].serial, default=None)

    def _next(self, scopes: Sequence[Scope]) -> Scope | None:
        able = [s for s in scopes if self._stacks[s].at + 1 < len(self._stacks[s].steps)]
        return min(able, key=lambda s: self._stacks[s].steps[self._stacks[s].at + 1].serial, default=None)

    def undo_label(self, scopes: Sequence[Scope]) -> str:
        """What going back would take back; empty if nothing."""
        scope = self._last(scopes)
        return "" if scope is None else self._stacks[scope].steps[self._stacks[scope].at].label

    def redo_label(self, scopes: Sequence[Scope]) -> str:
        """What going forward would do again; empty if nothing."""
        scope = self._next(scopes)
        return "" if scope is None else self._stacks[scope].steps[self._stacks[scope].at + 1].label

    def undo(self, scopes: Sequence[Scope]) -> bool:
        """Go back by the latest step of some scopes; return whether there was one."""
        return self._move(self._last(scopes), -1)

    def redo(self, scopes: Sequence[Scope]) -> bool:
        """Do the step again that was taken back last; return whether there was one."""
        return self._move(self._next(scopes), 1)

    def _move(self, scope: Scope | None, by: int) -> bool:
        if scope is None:
            return False
        stack = self._stacks[scope]
        stack.at += by
        self.now = blended(self.now, stack.steps[stack.at].plan, scope)
        return True

    def __len__(self) -> int:
        return max(len(stack.steps) for stack in self._stacks.values())
