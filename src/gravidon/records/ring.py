# SPDX-License-Identifier: GPL-3.0-or-later
"""The last minutes of a stream, in arrays that never grow."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from gravidon.physics.arrays import Array

MOST_GAP_S = 60.0
"""[s] between two rows beyond which the device's clock is taken to have been set anew; project choice."""
STEP_ANEW_S = 1.0
"""[s] put between two rows where the device's clock was set anew; project choice."""


class Ring:
    """Rows of named values over a time that only goes forward; the oldest fall away."""

    def __init__(self, names: Sequence[str], most: int) -> None:
        self.names = tuple(names)
        self._place = {name: k + 1 for k, name in enumerate(self.names)}
        self._rows = np.full((len(self.names) + 1, 2 * most), np.nan)
        self._most, self._end, self._count = most, 0, 0
        self._device_s: float | None = None
        self._now_s = 0.0

    def __len__(self) -> int:
        return self._count

    def add(self, time_s: float, values: Mapping[str, float]) -> None:
        """Put a row at the end; `time_s` is the device's."""
        before = self._device_s
        if before is not None:
            step = time_s - before
            self._now_s += step if 0.0 < step < MOST_GAP_S else STEP_ANEW_S
        self._device_s = time_s
        if self._end == 2 * self._most:
            self._rows[:, : self._most] = self._rows[:, self._most :]
            self._end = self._most
        row = self._rows[:, self._end]
        row[0] = self._now_s
        row[1:] = np.nan
        for name, value in values.items():
            place = self._place.get(name)
            if place is not None:
                row[place] = value
        self._end += 1
        self._count = min(self._count + 1, self._most)

    @property
    def time_s(self) -> Array:
        """Times [s] from the first row ever, (rows,); a view."""
        return self._rows[0, self._end - self._count : self._end]

    def values(self, name: str) -> Array:
        """Return a column, (rows,); a view, nan where there was no reading.

        Raises: KeyError for a name it does not hold.
        """
        return self._rows[self._place[name], self._end - self._count : self._end]


def least_and_most(
    time_s: Array, values: Array, start_s: float, span_s: float, bins: int
) -> tuple[Array, Array, Array]:
    """Return (middle of a bin [s], least, most) of a column in equal bins of time; bins without a reading are left out. No peak is lost.

    Args:
        time_s: times, rising, (rows,).
        values: values, (rows,), nan where there is none.
        start_s: where the first bin begins [s].
        span_s: how long all bins are together [s].
        bins: how many.
    """
    there = np.isfinite(values) & (time_s >= start_s)
    t, v = time_s[there], values[there]
    if not len(t):
        none = np.zeros(0)
        return none, none, none
    number = np.minimum(((t - start_s) / span_s * bins).astype(int), bins - 1)
    first = np.flatnonzero(np.concatenate([[True], np.diff(number) != 0]))
    middle = start_s + (number[first] + 0.5) * span_s / bins
    return middle, np.minimum.reduceat(v, first), np.maximum.reduceat(v, first)
