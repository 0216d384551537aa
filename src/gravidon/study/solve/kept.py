# SPDX-License-Identifier: GPL-3.0-or-later
"""Answers kept for the keys last asked for, behind one lock: the only cache of answers in the house.

Window, workers and searches ask from several threads. An answer is made outside the lock (two threads may make
the same one; it is the same answer), and what is kept is never changed.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from functools import wraps
from threading import Lock
from typing import Any, Generic, TypeVar

from gravidon.plan.model import Plan

Answer = TypeVar("Answer")


class Kept(Generic[Answer]):
    """The last `most` answers by their keys."""

    def __init__(self, most: int) -> None:
        self.most = most
        self._known: OrderedDict[Hashable, Answer] = OrderedDict()
        self._lock = Lock()

    def of(self, key: Hashable, make: Callable[[], Answer]) -> Answer:
        """Return the answer of a key, made if it is not known; what it raises is passed on and not kept."""
        with self._lock:
            if key in self._known:  # an answer may be None
                self._known.move_to_end(key)
                return self._known[key]
        return self.put(key, make())

    def known(self, key: Hashable) -> Answer | None:
        """Return the answer of a key; None where it is not known."""
        with self._lock:
            return self._known.get(key)

    def put(self, key: Hashable, answer: Answer) -> Answer:
        """Keep an answer, and return it."""
        with self._lock:
            self._known[key] = answer
            while len(self._known) > self.most:
                self._known.popitem(last=False)
        return answer

    def __len__(self) -> int:
        return len(self._known)


def of_plan(make: Callable[..., Answer]) -> Callable[..., Answer]:
    """Keep the answers of a function of (plan, …) for the last few plans."""
    kept: Kept[Answer] = Kept(8)

    @wraps(make)
    def remembered(plan: Plan, *rest: Any) -> Answer:
        return kept.of((plan, *rest), lambda: make(plan, *rest))

    return remembered
