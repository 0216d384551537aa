# SPDX-License-Identifier: GPL-3.0-or-later
"""Everything larger, 100 to 200 per cent: a factor that Qt takes when the window starts."""

from __future__ import annotations

import os
import sys
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QProcess

from gravidon.desk.preferences import Preferences

KEY = "zoom"
STEPS = (100, 115, 130, 150, 175, 200)
"""[%] sizes to choose from; project choice."""


def kept(preferences: Preferences) -> int:
    """Return the size that is remembered [%]; 100 for anything that is none."""
    value = preferences.get(KEY, 100)
    return value if value in STEPS else 100


def stepped(now: int, by: int) -> int:
    """Return the size some steps away, at most at an end; the usual one for no step.

    >>> stepped(100, 1), stepped(200, 1), stepped(150, 0)
    (115, 200, 100)
    """
    return STEPS[min(max(STEPS.index(now) + by, 0), len(STEPS) - 1)] if by else 100


def apply(preferences: Preferences) -> None:
    """Let Qt show everything in the size that is remembered; a factor set from outside stands."""
    if kept(preferences) != 100:
        os.environ.setdefault("QT_SCALE_FACTOR", str(kept(preferences) / 100))


GOES_ON = "GRAVIDON_GOES_ON"
"""Name of the environment variable that tells a start what it goes on with."""


@dataclass(frozen=True)
class GoesOn:
    """What a start goes on with: a recovery file, the condition in sight, whether the work was not saved."""

    kept: Path
    condition: int
    unsaved: bool


def start_anew(plan: Path | None, with_: GoesOn) -> bool:
    """Start another Gravidon where this one stands; return whether it started."""
    os.environ.pop("QT_SCALE_FACTOR", None)
    os.environ[GOES_ON] = f"{with_.condition}:{with_.unsaved:d}:{with_.kept}"
    return bool(QProcess.startDetached(sys.executable, ["-m", "gravidon", str(plan or "demo")])[0])


def goes_on() -> GoesOn | None:
    """Return what this start goes on with; None for a start of its own."""
    condition, _, rest = os.environ.pop(GOES_ON, "").partition(":")
    unsaved, _, file = rest.partition(":")
    return GoesOn(Path(file), int(condition), unsaved == "1") if file and condition.isdigit() else None
