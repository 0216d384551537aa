# SPDX-License-Identifier: GPL-3.0-or-later
"""A stand-in for a logger: lines played into a pseudo-terminal at their own pace, as a device on a serial port would."""

from __future__ import annotations

import os
import threading
import time
import tty
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

HEADING_EVERY_S = 10.0
"""[s] after which the heading is sent again, for a reader that joins late."""


class PseudoPort:
    """A serial port that is none: what is written can be read at `name`. With nobody reading, lines fall away, as on a wire."""

    def __init__(self) -> None:
        self._own, other = os.openpty()
        tty.setraw(other)
        self.name = os.ttyname(other)
        self._other = other
        os.set_blocking(self._own, False)

    def write(self, line: str) -> bool:
        """Write a line whole or not at all; return whether it was written."""
        data = (line + "\r\n").encode()
        try:
            sent = os.write(self._own, data)
        except BlockingIOError:
            return False
        while sent < len(data):  # a line that began is ended, if there is room within a moment
            try:
                sent += os.write(self._own, data[sent:])
            except BlockingIOError:
                time.sleep(0.001)
                return False
        return True

    def close(self) -> None:
        """Unplug it."""
        for end in (self._own, self._other):
            os.close(end)


@dataclass(frozen=True)
class Timed:
    """A line and when it is due [s]."""

    due_s: float
    line: str


def paced(heading: str, rows: Iterable[tuple[float, str]]) -> Iterator[Timed]:
    """Yield rows with the heading first and again every HEADING_EVERY_S."""
    next_heading = -1.0
    for due, line in rows:
        if due >= next_heading:
            yield Timed(due, heading)
            next_heading = due + HEADING_EVERY_S
        yield Timed(due, line)


def play(
    lines: Iterable[Timed],
    write: Callable[[str], object],
    stop: threading.Event,
    speed: float = 1.0,
) -> None:
    """Write every line when it is due, so many times as fast as it was; 0: as fast as it goes."""
    start = time.monotonic()
    for it in lines:
        if speed > 0.0:
            wait = it.due_s / speed - (time.monotonic() - start)
            if wait > 0.0 and stop.wait(wait):
                return
        if stop.is_set():
            return
        write(it.line)


class StandIn:
    """A logger that plays lines on a port of its own until they end or it is closed."""

    def __init__(self, lines: Iterable[Timed], speed: float = 1.0) -> None:
        self.port = PseudoPort()
        self._stop = threading.Event()
        self._thread = threading.Thread(
            target=play, args=(lines, self.port.write, self._stop, speed), daemon=True, name="logger stand-in"
        )

    def start(self) -> StandIn:
        """Begin to play."""
        self._thread.start()
        return self

    @property
    def playing(self) -> bool:
        """Whether it still plays."""
        return self._thread.is_alive()

    def close(self) -> None:
        """Stop and unplug."""
        self._stop.set()
        if self._thread.is_alive():
            self._thread.join(2.0)
        self.port.close()
