# SPDX-License-Identifier: GPL-3.0-or-later
"""No answer of physics and study changes unseen: a set of plans is answered as it was when the answers were last kept.

This is no check of rightness (those stand in tests/physics and tests/study, each with its source): it tells that something
changed. A change that is meant is looked at line by line and kept by `tools/keep_answers.py`.
"""

import numpy as np
import pytest

from kept.store import kept_text
from kept.telling import apart, told
from kept.topics import TOPICS


@pytest.mark.parametrize(("topic", "name"), [(t, n) for t, (_, names) in TOPICS.items() for n in names])
def test_as_kept(topic: str, name: str) -> None:
    now = "\n".join(told(TOPICS[topic][0](name), topic))
    found = apart(kept_text(topic, name), now)
    assert not found, f"{len(found)} lines differ, such as\n" + "\n".join(found[:12])


def test_a_change_is_told() -> None:
    """A figure by a thousandth, a word, a line more and a line less are each found; noise of rounding is not."""
    answer = {"flow": np.array([1.0, 2.0]), "said": "holds", "rows": ({"a": 1.5}, None)}
    kept = "\n".join(told(answer, "x"))
    assert not apart(kept, "\n".join(told({**answer, "flow": np.array([1.0, 2.00001])}, "x")))
    for other in (
        {**answer, "flow": np.array([1.0, 2.002])},
        {**answer, "said": "fails"},
        {**answer, "rows": ({"a": 1.5},)},
        {**answer, "more": 1},
        {**answer, "flow": np.array([1.0, np.nan])},
    ):
        assert apart(kept, "\n".join(told(other, "x"))), other


def test_long_arrays_are_told_by_what_a_swap_changes() -> None:
    """Two numbers of a long array swapped: bounds and count stay, the weighted sums do not."""
    long = np.arange(40.0)
    swapped = long.copy()
    swapped[[3, 30]] = swapped[[30, 3]]
    assert apart("\n".join(told(long, "x")), "\n".join(told(swapped, "x")))
