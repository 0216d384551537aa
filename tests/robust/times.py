# SPDX-License-Identifier: GPL-3.0-or-later
"""How often the robust harnesses repeat: a short run in ./check, a long one by ./gravidon-robust."""

from __future__ import annotations

import os
from dataclasses import astuple, dataclass


@dataclass(frozen=True)
class Times:
    """Repeats of each harness."""

    kills: int
    files: int
    plans: int
    steps: int
    """of the monkey"""
    edits: int
    """after which no memory may have grown"""


SHORT = Times(kills=25, files=300, plans=40, steps=120, edits=80)
LONG = Times(kills=1000, files=10_000, plans=10_000, steps=20_000, edits=5000)


def _times() -> Times:
    """Return the short run, the long one, or so many per cent of the long one, as the environment asks."""
    asked = os.environ.get("GRAVIDON_ROBUST", "")
    if not asked:
        return SHORT
    share = 1.0 if asked == "long" else int(asked) / 100
    return Times(*(max(1, round(share * n)) for n in astuple(LONG)))


TIMES = _times()
