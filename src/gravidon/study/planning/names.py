# SPDX-License-Identifier: GPL-3.0-or-later
"""The four names: which of the plans shown is the safest, the least work, the least money, and from the drawer.

The rule: only plans of the best verdict that was found compete (passes before warnings before fails), and, among those, only plans
with at most one warning more than the fewest, that pass (or, of plans with warnings, do not fail) at least half as surely as the
surest. Safest: of those within 10 in a hundred of the surest, the one with the fewest warnings, then the furthest from its limits,
in quarters of a margin, then what asks for the fewest parts. Least work: the fewest hours, then the least money. Least money: the
least to pay, then the fewest hours. From the drawer: the fewest parts to order, then the least money. One plan may win several names.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any, Protocol, TypeVar

from gravidon.study.planning.merit import Merit
from gravidon.words.text import N_


class HasMerit(Protocol):
    """What is named: it has a merit and names."""

    @property
    def merit(self) -> Merit: ...

    @property
    def names(self) -> tuple[str, ...]: ...


Named = TypeVar("Named", bound=HasMerit)

ONE_MARGIN = 1.0
"""[margins] by which a plan that is weighed may be less firm than the firmest; project choice."""
QUARTER = 0.25
"""[margins] within which two plans are as far from their limits; project choice."""
SURE_NEAR, SURE_SHARE = 0.10, 0.5
"""[-] within which probabilities count as one, for they are sampled, and share of the surest that a named plan has at least;
project choice."""

SAFEST, WORK, MONEY, DRAWER = N_("safest"), N_("least work"), N_("least money"), N_("from the drawer")
LEAST_BAD = N_("least bad: nothing passes")
"""What the best plan is called where every plan fails: no such plan is the safest, or worth its money."""
NAMED: tuple[str, ...] = (SAFEST, WORK, MONEY, DRAWER)


def _sure(m: Merit) -> float:
    """Return how surely a plan holds [-]; of one that is to be watched, how surely it does not fail."""
    share = m.sure if m.held.grade == 2 else m.unfailing
    return 0.0 if share is None else share


RULES: dict[str, Callable[[Merit], Any]] = {
    SAFEST: lambda m: (m.bad, m.watch, -round(m.margin / QUARTER), m.order, m.cost, m.minutes),
    WORK: lambda m: (m.minutes, m.cost, m.watch, -_sure(m)),
    MONEY: lambda m: (m.cost, m.minutes, m.watch, -_sure(m)),
    DRAWER: lambda m: (m.order, m.cost, m.minutes, m.watch),
}
"""By name: what the least of wins; the safest among the surest."""


def called(names: Sequence[str], merit: Merit) -> tuple[str, ...]:
    """Return a plan's names as they are shown: a plan that fails bears none of the four."""
    return tuple(names) if merit.held.grade > 0 or not names else (LEAST_BAD,)


def named(plans: Sequence[Named]) -> tuple[Named, ...]:
    """Return plans with the names that they win, in their order."""
    if not plans:
        return ()
    grade = max(p.merit.held.grade for p in plans)
    running = [n for n, p in enumerate(plans) if p.merit.held.grade == grade]
    fewest = min(plans[n].merit.watch for n in running)
    running = [n for n in running if plans[n].merit.watch <= fewest + 1]
    surest = max(_sure(plans[n].merit) for n in running)
    running = [n for n in running if _sure(plans[n].merit) >= SURE_SHARE * surest]
    won: dict[int, list[str]] = {}
    rules = RULES if grade > 0 else {SAFEST: RULES[SAFEST]}
    for name, rule in rules.items():
        among = [n for n in running if name != SAFEST or _sure(plans[n].merit) >= surest - SURE_NEAR - 1e-9]
        won.setdefault(min(among, key=lambda n: rule(plans[n].merit)), []).append(name)
    return tuple(replace(p, names=tuple(won.get(n, ()))) for n, p in enumerate(plans))  # type: ignore[type-var]
