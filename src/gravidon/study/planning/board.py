# SPDX-License-Identifier: GPL-3.0-or-later
"""What a search has looked at, each plan once, and how hard it looks."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np

from gravidon.plan.model import Plan
from gravidon.study.planning.crew import Crew
from gravidon.study.planning.freedom import broken
from gravidon.study.planning.look import Look, checked, look, look_whole
from gravidon.study.planning.merit import SAMPLES
from gravidon.study.planning.names import ONE_MARGIN


@dataclass(frozen=True)
class Effort:
    """How hard a search looks, for a plan of one turbo.

    Fields: neighbours looked at in a round; rounds; remedies taken in a round; places of a wall for which a way is laid; plans
    weighed wholly at a time; plans shown; cars tried for each one's probability; plans of a small space that are looked at
    without a bound; neighbours a round whose drain is laid round something anew. All of them: project choice.
    """

    asked: int = 56
    rounds: int = 2
    cured: int = 5
    places: int = 3
    weighed: int = 20
    shown: int = 4
    samples: int = SAMPLES
    small: int = 240
    relaid: int = 14


USUAL = Effort()
"""How hard the window and the command line look."""


@dataclass
class Board:
    """All that was looked at, each plan once."""

    base: Plan
    crew: Crew
    chance: np.random.Generator
    looks: dict[Plan, Look] = field(default_factory=dict)
    no_way: dict[str, None] = field(default_factory=dict)
    blocked: set[int] = field(default_factory=set)
    effort: Effort = USUAL
    asked: int = 0

    def much(self, most: int) -> int:
        """Return how many of something are worth looking at: each takes longer where there are several turbos."""
        return max(round(most / math.sqrt(len(self.base.turbos))), 1)

    def add(self, plans: Iterable[Plan], whole: bool = False) -> None:
        """Look at plans that keep to all that is held, and were not looked at (as closely) before."""
        new = [
            p
            for p in dict.fromkeys(plans)
            if (p not in self.looks or (whole and not self.looks[p].whole)) and not broken(self.base, p)
        ]
        if not whole:
            new = [p for p in new if checked(p) is not None]
        self.asked += len(new)
        for plan, found in zip(new, self.crew.ask(look_whole if whole else look, new), strict=True):
            if found is not None:
                self.looks[plan] = found
            else:
                self.looks.pop(plan, None)

    def best(self, most: int, key: str = "grip", grade: int = 0) -> list[Plan]:
        """Return the best plans by one thing, of at least a grade; among equals the first looked at."""
        found = [(p, x) for p, x in self.looks.items() if x.grip.grade >= grade]
        if key != "grip" and found:
            near = max(x.grip for _, x in found).margin - ONE_MARGIN
            found = [(p, x) for p, x in found if x.grip.margin >= near]
        if key == "grip":
            found.sort(key=lambda it: (it[1].grip, -it[1].merit.minutes, -it[1].merit.cost), reverse=True)
        else:
            found.sort(key=lambda it: (getattr(it[1].merit, key), -it[1].grip.margin))
        return [p for p, _ in found[:most]]


def without_ideas(plan: Plan) -> Plan:
    """Return the plan as it is tried: without its ideas, and of its photos only how they lie, for heights are as good as they are."""
    if not plan.ideas and not plan.photos:
        return plan
    laid = tuple(p.model_copy(update={"picture": NO_PICTURE}) for p in plan.photos)
    return plan.model_copy(update={"ideas": (), "photos": laid})


NO_PICTURE = "AAAAAAAA"
"""Six empty bytes, base64: a photo's picture where only its clicks matter."""


def taken_up(plan: Plan, found: Plan) -> Plan:
    """Return a plan that a search found with all that it leaves out: the plan's own ideas and photos."""
    return found.model_copy(update={"ideas": plan.ideas, "photos": plan.photos})
