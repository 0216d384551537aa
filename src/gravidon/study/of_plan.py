"""A small cache of what hangs on a plan alone: by the plan's identity, as plans are frozen and hashing one takes a while."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar

from gravidon.plan.model import Plan

Answer = TypeVar("Answer")
MOST = 6


def of_plan(make: Callable[..., Answer]) -> Callable[..., Answer]:
    """Remember the answers of a function of (plan, …) for the last few plans."""
    known: OrderedDict[tuple[Any, ...], tuple[Plan, Answer]] = OrderedDict()

    @wraps(make)
    def remembered(plan: Plan, *rest: Any) -> Answer:
        key = (id(plan), *rest)
        found = known.get(key)
        if found is not None and found[0] is plan:
            return found[1]
        answer = make(plan, *rest)
        known[key] = (plan, answer)
        while len(known) > MOST:
            known.popitem(last=False)
        return answer

    return remembered
