# SPDX-License-Identifier: GPL-3.0-or-later
"""Steady readings out of a recording: where speed and pressures stood still for a while."""

from __future__ import annotations

import numpy as np

from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.records.entry import Reading
from gravidon.records.recording import Recording
from gravidon.study.bench.expected import channels_of
from gravidon.study.solve.senders import converted_recording

STEADY_S = 8.0
"""[s] that speed must stand still for a reading; project choice."""
STEADY_SHARE = 0.04
"""[-] by which the speed may wander meanwhile; project choice."""
APART_SHARE, APART_K = 0.15, 12.0
"""Readings nearer to one another than this share of speed and so many kelvins count once: the latest; project choice."""


def steady_readings(plan: Plan, recording: Recording) -> tuple[Reading, ...]:
    """Return the steady readings of a recording, slowest first; the latest of those taken alike. Warm or cold, engine turning.

    Raises: nothing; a recording without engine speed or oil temperature has none.
    """
    made = converted_recording(plan, recording)
    rpm, oil = made.channels.get("rpm"), made.channels.get("oil")
    if rpm is None or oil is None:
        return ()
    found: list[Reading] = []
    for rows in _still(made.time_s, rpm):
        speed, warm = _mean(rpm[rows]), _mean(oil[rows])
        if not (np.isfinite(warm) and speed > 300.0):
            continue
        gallery = _channel(made, "gallery", rows)
        for turbo, channel in enumerate(channels_of(plan)[1:]):
            inlet = _channel(made, channel, rows)
            if np.isfinite(inlet) or (turbo == 0 and np.isfinite(gallery)):
                found.append(Reading(speed, warm, gallery, inlet, turbo))
    kept: list[Reading] = []
    for r in reversed(found):
        if not any(_alike(r, other) for other in kept):
            kept.append(r)
    return tuple(sorted(kept, key=lambda r: (r.turbo, r.rpm)))


def _channel(made: Recording, channel: str, rows: slice) -> float:
    column = made.channels.get(channel)
    return float("nan") if column is None else _mean(column[rows])


def _mean(values: Array) -> float:
    finite = values[np.isfinite(values)]
    return float(finite.mean()) if len(finite) else float("nan")


def _alike(a: Reading, b: Reading) -> bool:
    return (
        a.turbo == b.turbo and abs(a.rpm - b.rpm) < APART_SHARE * b.rpm and abs(a.oil_k - b.oil_k) < APART_K
    )


def _still(t: Array, rpm: Array) -> list[slice]:
    """Return stretches of STEADY_S in which the speed stands still, one after the other."""
    found, start = [], 0
    ends = np.searchsorted(t, t + STEADY_S)
    while start < len(t) and ends[start] < len(t):
        rows = slice(start, int(ends[start]))
        window = rpm[rows]
        window = window[np.isfinite(window)]
        if len(window) > 2 and np.ptp(np.percentile(window, [5, 95])) <= STEADY_SHARE * max(
            float(window.mean()), 1.0
        ):
            found.append(rows)
            start = int(ends[start])
        else:
            start += max((rows.stop - rows.start) // 4, 1)
    return found
