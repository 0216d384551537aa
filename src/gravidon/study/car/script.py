# SPDX-License-Identifier: GPL-3.0-or-later
"""What the driver does: engine speed, load and acceleration over time, from a few plain words."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from gravidon.errors import InputError
from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.translate import tr

CRANK_RPM = 220.0
"""[rpm] of an engine on its starter; common practice, no source."""
RAMP_S = 1.0
"""[s] an engine takes to another speed, at most half of the stretch; common practice, no source."""
MOST_S = 6 * 3600.0
"""[s] a script may last."""


@dataclass(frozen=True)
class Stretch:
    """A stretch of a drive: how long [s], engine speed [rpm], load [-] (None: by speed), acceleration forward and to the left [g], and
    the oil temperature held [°C] (None: it warms and cools by itself)."""

    seconds: float
    rpm: float
    load: float | None = None
    forward_g: float = 0.0
    left_g: float = 0.0
    hold_c: float | None = None


@dataclass(frozen=True)
class Driven:
    """A script over time, every array (times,): time [s], engine speed [rpm], load [-] with which are given, accelerations [g], and
    the oil temperature held [°C] (nan: not held)."""

    time_s: Array
    rpm: Array
    load: Array
    forward_g: Array
    left_g: Array
    hold_c: Array


@dataclass(frozen=True)
class Script:
    """Stretches in their order."""

    stretches: tuple[Stretch, ...]

    @property
    def seconds(self) -> float:
        """How long it lasts [s]."""
        return sum(s.seconds for s in self.stretches)

    def driven(self, step_s: float) -> Driven:
        """Return the script sampled every so many seconds, from 0 to its end; speed runs straight into each stretch."""
        count = round(self.seconds / step_s) + 1
        t = np.arange(count, dtype=np.float64) * step_s
        ends = np.cumsum([s.seconds for s in self.stretches])
        which = np.minimum(np.searchsorted(ends, t, side="right"), len(self.stretches) - 1)
        starts = np.concatenate([[0.0], ends[:-1]])
        into = t - starts[which]

        def held(name: str) -> Array:
            values = [getattr(s, name) for s in self.stretches]
            return np.array([np.nan if v is None else float(v) for v in values])[which]

        target = held("rpm")
        before: Array = np.array([self.stretches[0].rpm, *(s.rpm for s in self.stretches[:-1])])[which]
        ramp = np.minimum(RAMP_S, 0.5 * np.array([s.seconds for s in self.stretches]))[which]
        share = np.clip(into / ramp, 0.0, 1.0)
        return Driven(
            t,
            np.asarray(before + share * (target - before), dtype=np.float64),
            held("load"),
            held("forward_g"),
            held("left_g"),
            held("hold_c"),
        )


def idle_rpm(plan: Plan) -> float:
    """Return the engine's idle [rpm]: the slowest warm condition of the plan."""
    return min((c.rpm for c in plan.conditions if c.kind.turning and c.kind.warm), default=850.0)


_WORDS: Mapping[str, float | None] = {"off": 0.0, "crank": CRANK_RPM, "idle": None}
_STRETCH = re.compile(r"(?P<word>off|crank|idle|\d+(?:\.\d+)?\s*rpm)\s+(?P<seconds>\d+(?:\.\d+)?)\s*(?P<unit>s|min)?(?P<rest>(?:\s+\w+=\S+)*)")  # fmt: skip
_NAMES = {"load": "load", "forward": "forward_g", "left": "left_g", "oil": "hold_c"}
_BOUNDS = {"load": (0.0, 2.0), "forward_g": (-2.0, 2.0), "left_g": (-2.0, 2.0), "hold_c": (-40.0, 180.0)}
EXPECTED = tr("stretches such as 'crank 12, idle 60, 2500 rpm 2 min load=0.3 left=0.4 oil=95'")


def script_from(text: str, plan: Plan) -> Script:
    """Return the script that a text says: a name of SCRIPTS, or stretches parted by commas.

    A stretch is `off`, `crank`, `idle` or a speed such as `2500 rpm`, then its length (s, or min), then what else holds:
    `load=`, `forward=`, `left=` [g], `oil=` [°C, held].

    Raises: InputError if it is none of this.
    """
    text = SCRIPTS.get(text.strip().lower(), text)
    stretches = []
    for part in (p.strip() for p in text.split(",")):
        match = _STRETCH.fullmatch(part.lower())
        if match is None:
            raise InputError("script", part, EXPECTED)
        word = match["word"]
        rpm = _WORDS.get(word, 0.0) if word in _WORDS else float(word.replace("rpm", ""))
        stretch = Stretch(
            float(match["seconds"]) * (60.0 if match["unit"] == "min" else 1.0),
            idle_rpm(plan) if rpm is None else rpm,
        )
        for pair in match["rest"].split():
            stretch = _with(stretch, pair)
        if stretch.seconds <= 0.0 or stretch.rpm > 20000.0:
            raise InputError("script", part, EXPECTED)
        stretches.append(stretch)
    made = Script(tuple(stretches))
    if made.seconds > MOST_S:
        raise InputError(
            "script", f"{made.seconds:.0f} s", tr("at most {hours:.0f} hours").format(hours=MOST_S / 3600)
        )
    return made


def _with(stretch: Stretch, pair: str) -> Stretch:
    name, _, value = pair.partition("=")
    field = _NAMES.get(name)
    try:
        number = float(value)
    except ValueError:
        field = None
    if field is None:
        raise InputError("script", pair, EXPECTED)
    low, high = _BOUNDS[field]
    if not low <= number <= high:
        raise InputError(
            tr("script, {name}").format(name=name),
            value,
            tr("{low:g} to {high:g}").format(low=low, high=high),
        )
    return replace(stretch, **{field: number})


SCRIPTS: dict[str, str] = {
    "first-start": "off 6, crank 10, off 20, crank 10, off 8, idle 70, off 40, idle 6 min, 2300 rpm 40 load=0.2, idle 40, off 20",
    "no-oil": "off 6, crank 10, off 20, crank 10, off 20",
    "warm-up": "idle 2 min, 2000 rpm 5 min load=0.25, 2600 rpm 8 min load=0.3, idle 1 min",
    "drive": "idle 20, 2600 rpm 60 load=0.3, 4000 rpm 8 load=0.6 left=0.6, 3000 rpm 10 load=0.2 forward=-0.5, 4500 rpm 6 load=0.8 "
    "forward=0.4, 4000 rpm 8 load=0.6 left=-0.6, 2600 rpm 60 load=0.3, idle 30",
}
"""Scripts by name; invented."""
