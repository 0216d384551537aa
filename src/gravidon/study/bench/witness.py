# SPDX-License-Identifier: GPL-3.0-or-later
"""What can be believed of a device's readings: a time that always goes on, channels that know when they are read no more, and signs that must last.

A device's clock may stand, jump or begin anew; a cell may stay empty, a sender stick, a single row lie. None of that may hide an engine without oil.
"""

from __future__ import annotations

import math
from collections import deque
from dataclasses import dataclass, field
from statistics import median

LEAP_S = 2.0
"""[s] between two rows beyond which the device's own clock alone is not believed; project choice."""
USUAL_S = 0.1
"""[s] between rows until it is known; project choice."""
ODD_S = 5.0
"""[s] for which a clock that stood or jumped is told; project choice."""
SMOOTH_S = 0.5
"""[s] whose middle reading counts: a row that lies alone is passed over; project choice."""
FRESH_S, FRESH_OIL_S = 1.0, 10.0
"""[s] that a reading counts for after it came: pressures and speed, and the oil's slow temperature; project choices."""
STILL_S, STILL_ROWS, STILL_TIMES = 1.5, 8, 4.0
"""A reading that is the same to the last digit for so long [s], over so many rows, and so many times longer than it ever was before, is stuck; project choices."""


@dataclass
class Clock:
    """Time that goes on whatever the device's clock does: the further of device and host; where one of them fails, the other."""

    now_s: float = 0.0
    odd_until_s: float = -math.inf
    _device_s: float = math.nan
    _host_s: float = math.nan
    _base_s: float = 0.0
    _by_device_s: float = 0.0
    _by_host_s: float = 0.0
    _usual_s: float = USUAL_S

    @property
    def odd(self) -> bool:
        """Whether the device's clock stood, or jumped, a moment ago."""
        return self.now_s < self.odd_until_s

    def hear(self, device_s: float, host_s: float = math.nan) -> float:
        """Take a row's time by the device, and by the host where it is known; return how far on it is [s], never less than 0."""
        step, host = device_s - self._device_s, host_s - self._host_s
        first = math.isnan(self._device_s) and math.isnan(self._host_s)
        self._device_s, self._host_s = device_s, host_s
        if first:
            return 0.0
        if host > 0.0:
            self._by_host_s += host
        sound = 0.0 < step <= LEAP_S
        if sound:
            self._by_device_s += step
            self._usual_s = 0.9 * self._usual_s + 0.1 * step
        elif math.isnan(host):  # rows still come: that is the other witness
            self._by_device_s += self._usual_s
        before = self.now_s
        self.now_s = max(self.now_s, self._base_s + max(self._by_device_s, self._by_host_s))
        if not sound:
            self._base_s, self._by_device_s, self._by_host_s = self.now_s, 0.0, 0.0
            if not step > LEAP_S:  # stood or went back; a gap is told as silence
                self.odd_until_s = self.now_s + ODD_S
        return self.now_s - before


@dataclass
class Channel:
    """One channel as far as it can be believed. `read` tells whether it ever showed anything."""

    fresh_s: float = FRESH_S
    value: float = math.nan
    """The middle of the last readings; nan where none is fresh."""
    last: float = math.nan
    """The last reading, however old."""
    _recent: deque[tuple[float, float]] = field(default_factory=deque)
    _seen_s: float = -math.inf
    _raw: float = math.nan
    _same_s: float = 0.0
    _same_rows: int = 0
    _longest_s: float = 0.0

    @property
    def read(self) -> bool:
        """Whether it ever showed anything."""
        return math.isfinite(self._seen_s)

    @property
    def lost(self) -> bool:
        """Whether it was read, and is no more."""
        return self.read and math.isnan(self.value)

    @property
    def still_s(self) -> float:
        """How long it has been the same to the last digit [s]."""
        return self._same_s

    @property
    def stuck(self) -> bool:
        """Whether it has been the same to the last digit for longer than a reading of a turning engine is."""
        return self._same_rows >= STILL_ROWS and self._same_s >= max(STILL_S, STILL_TIMES * self._longest_s)

    def see(self, value: float, raw: float, now_s: float, passed_s: float, turning: bool) -> None:
        """Take a reading (nan: none came), and what was sent for it."""
        if math.isfinite(value):
            self._seen_s, self.last = now_s, value
            self._recent.append((now_s, value))
            self._still(raw, passed_s, turning)
        while self._recent and self._recent[0][0] < now_s - SMOOTH_S - 1e-9:
            self._recent.popleft()
        if self._recent:
            self.value = median(v for _, v in self._recent)
        else:
            self.value = self.last if now_s - self._seen_s <= self.fresh_s else math.nan

    def _still(self, raw: float, passed_s: float, turning: bool) -> None:
        if raw == self._raw:
            self._same_s += passed_s if turning else 0.0
            self._same_rows += turning
            return
        if turning:
            self._longest_s = max(self._longest_s, self._same_s)
        self._raw, self._same_s, self._same_rows = raw, 0.0, 0

    def forget(self) -> None:
        """It is not looked for any longer, until it shows something again."""
        self.__init__(self.fresh_s)  # type: ignore[misc]


@dataclass
class Signs:
    """How long each sign has been so [s]. What is wrong is forgotten slowly, so that a fault that comes and goes adds up."""

    lasts_s: dict[str, float] = field(default_factory=dict)

    def add(self, key: str, so: bool, passed_s: float, fades: float = math.inf) -> float:
        """Count a sign on, or back by `fades` times the time that passed; return how long it counts [s], 0 where it is not so now."""
        had = self.lasts_s.get(key)
        if so:
            self.lasts_s[key] = 0.0 if had is None else had + passed_s
            return self.lasts_s[key]
        if had is not None:
            left = 0.0 if math.isinf(fades) else had - fades * passed_s
            if left > 0.0:
                self.lasts_s[key] = left
            else:
                del self.lasts_s[key]
        return 0.0

    def of(self, key: str) -> float:
        """Return how long a sign counts [s]."""
        return self.lasts_s.get(key, 0.0)

    def drop(self, *keys: str) -> None:
        """Forget some."""
        for key in keys:
            self.lasts_s.pop(key, None)

    def clear(self) -> None:
        """Forget all."""
        self.lasts_s.clear()
