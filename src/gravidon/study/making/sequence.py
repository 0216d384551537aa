# SPDX-License-Identifier: GPL-3.0-or-later
"""The build in order: by what must come before what in this plan, blocked steps at the end; the joints of a step, how far it is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from gravidon.parts.chains import ChainJoint
from gravidon.plan.model import Plan
from gravidon.study.making.cutting import entry_template, order_list
from gravidon.study.making.parts_list import Need, runs
from gravidon.study.making.step import Step
from gravidon.study.making.steps import base_steps, finishing_steps
from gravidon.study.making.steps_turbo import drilled_steps, turbo_steps
from gravidon.study.solve.kept import of_plan
from gravidon.translate import tr

MAKERS: tuple[Callable[[Plan], list[Step]], ...] = (
    base_steps,
    lambda plan: [
        s for k in range(len(plan.turbos)) for s in (*drilled_steps(plan, k), *turbo_steps(plan, k))
    ],
    finishing_steps,
)


@of_plan
def sequence(plan: Plan) -> tuple[Step, ...]:
    """Return the steps of this plan's build in working order.

    Every step comes after those it depends on. Steps whose parts are not all in the drawer, once anything is in it, and what waits for them,
    come last; among the rest, the order in which a builder works.
    """
    steps = {s.key: s for make in MAKERS for s in make(plan)}
    missing = _missing(plan)
    marked = {k: _blocked(s, missing) for k, s in steps.items()}
    order: list[Step] = []
    placed: set[str] = set()
    waiting: set[str] = set()
    for late in (False, True):
        progress = True
        while progress:
            progress = False
            for key, step in marked.items():
                ready = all(a in placed for a in step.after if a in marked)
                if (
                    key in placed
                    or not ready
                    or (not late and (step.blocked or any(a in waiting for a in step.after)))
                ):
                    continue
                order.append(step)
                placed.add(key)
                progress = True
        waiting |= {k for k in marked if k not in placed}
    return tuple(order)


def _missing(plan: Plan) -> dict[str, list[Need]]:
    """Return, by part kind, the needs that are not on hand; none while the drawer is empty."""
    found: dict[str, list[Need]] = {}
    if plan.drawer:
        for need in order_list(plan):
            if need.lacking:
                found.setdefault(need.part.kind, []).append(need)
    return found


def _blocked(step: Step, missing: dict[str, list[Need]]) -> Step:
    names = [
        need.part.name
        for kind in step.kinds
        for need in missing.get(kind, [])
        if not step.line or not need.lines or step.line in need.lines or "trunk" in need.lines
    ]
    return Step(**{**step.__dict__, "blocked": tuple(dict.fromkeys(names))}) if names else step


def joints_at(plan: Plan, step: Step) -> tuple[ChainJoint, ...]:
    """Return the joints that a step makes, in the order of the oil: a drain's upper ones with its flange, its lower ones where
    it is joined, a weld or a thread in the pan's wall with the entry, a trunk's at the tap."""
    if step.key == "tap":
        return tuple(j for run in runs(plan) if run.key == "trunk" for j in run.joints)
    name, _, number = step.key.rpartition("-")
    if name not in ("feed", "drain-flange", "drain-join", "entry", "entry-fit"):
        return ()
    key = "feed" if name == "feed" else "drain"
    threaded = plan.turbos[int(number)].drain.fitting.way.wall_threads
    found: list[ChainJoint] = []
    for run in runs(plan):
        if (run.key, run.turbo) != (key, int(number)):
            continue
        hose = next((k for k, part in enumerate(run.parts) if part.what.hose), len(run.parts) - 1)
        ends = len(run.joints) > len(run.parts) and entry_template(plan, run.turbo) is not None
        wall = len(run.joints) - 1 if ends else len(run.joints)
        pieces = {
            "feed": run.joints,
            "drain-flange": run.joints[: hose + 1],
            "drain-join": run.joints[hose + 1 : wall],
            "entry-fit" if threaded else "entry": run.joints[wall:],
        }
        found += pieces.get(name, ())
    return tuple(found)


@dataclass(frozen=True)
class Progress:
    """How far the build is: steps done, minutes planned in all and left, hours of waiting left."""

    done: int
    of: int
    minutes: int
    left: int
    wait_h: float = 0.0

    @property
    def waits(self) -> str:
        """The waiting that is left, as words that follow a time; empty if none."""
        return tr(", and {hours:g} h of waiting").format(hours=self.wait_h) if self.wait_h else ""


def progress(plan: Plan) -> Progress:
    """Return how far the build is."""
    steps = sequence(plan)
    done = {log.step for log in plan.build.done}
    left = [s for s in steps if s.key not in done]
    return Progress(
        len(steps) - len(left),
        len(steps),
        sum(s.minutes for s in steps),
        sum(s.minutes for s in left),
        sum(s.wait_h for s in left),
    )
