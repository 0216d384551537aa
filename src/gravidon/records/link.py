# SPDX-License-Identifier: GPL-3.0-or-later
"""A serial device read as it comes: opened, lost, silent, back again; all of these are events, none is an error.

pyserial reads it, not Qt's own serial port: so command line and tests read a device without Qt, and it opens pseudo-terminals.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from typing import Any, Protocol

from gravidon.records.lines import Bad, Heading, LineReader, Row

RETRY_S, SILENT_S = 1.0, 2.0
"""[s] between tries to open a port that is gone; and without a line after which a device counts as silent; project choices."""
MOST_READ = 65536
BAUD_RATES = (9600, 19200, 38400, 57600, 115200, 230400)


@dataclass(frozen=True)
class Opened:
    """The port is open."""

    port: str


@dataclass(frozen=True)
class Lost:
    """The port is gone, or could not be opened; it is tried again."""

    port: str
    why: str


@dataclass(frozen=True)
class Silent:
    """Nothing whole has come for a while."""

    seconds: float


LinkEvent = Row | Heading | Bad | Opened | Lost | Silent


class Port(Protocol):
    """What a link needs of a port."""

    @property
    def in_waiting(self) -> int:
        """Bytes that can be read at once."""

    def read(self, size: int) -> bytes:
        """Read so many bytes."""

    def close(self) -> None:
        """Close it."""


def open_serial(port: str, baud: int) -> Port:
    """Open a serial port for reading without waiting.

    Raises: OSError (pyserial's errors are) if it cannot be opened.
    """
    import serial

    made: Port = serial.Serial(port, baud, timeout=0)
    return made


def serial_ports() -> tuple[tuple[str, str], ...]:
    """Return the serial ports there are: name and description."""
    from serial.tools import list_ports

    return tuple(
        (p.device, p.description or "") for p in sorted(list_ports.comports(), key=lambda p: p.device)
    )


class SerialLink:
    """Reads one port; `poll` never waits. Lines that arrived whole are never lost, whatever happens to the port afterwards."""

    def __init__(
        self,
        port: str,
        baud: int = 115200,
        opener: Callable[[str, int], Port] = open_serial,
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        self.port, self.baud = port, baud
        self._opener, self._clock = opener, clock
        self._device: Port | None = None
        self._reader = LineReader()
        self._next_try = -1e18
        self._last_whole = clock()
        self._told = ""
        self._silent = False

    @property
    def open(self) -> bool:
        """Whether the port is open."""
        return self._device is not None

    def close(self) -> None:
        """Let the port go."""
        if self._device is not None:
            self._quietly_close(self._device)
            self._device = None

    @staticmethod
    def _quietly_close(device: Any) -> None:
        with suppress(OSError):  # it is gone already
            device.close()

    def poll(self) -> list[LinkEvent]:
        """Return what happened since the last time."""
        now, events = self._clock(), list[LinkEvent]()
        if self._device is None:
            if now < self._next_try:
                return events
            self._next_try = now + RETRY_S
            try:
                self._device = self._opener(self.port, self.baud)
            except (OSError, ValueError) as error:
                why = getattr(error, "strerror", None) or str(error)
                if why != self._told:
                    self._told = why
                    events.append(Lost(self.port, why))
                return events
            self._reader.begin_anew()
            self._told, self._silent, self._last_whole = "", False, now
            events.append(Opened(self.port))
        try:
            waiting = self._device.in_waiting
            data = self._device.read(min(waiting, MOST_READ)) if waiting else b""
        except OSError as error:
            self._told = getattr(error, "strerror", None) or str(error)
            self.close()
            self._next_try = now + RETRY_S
            return [*events, Lost(self.port, self._told)]
        found = self._reader.feed(data) if data else []
        if any(not isinstance(e, Bad) for e in found):
            self._last_whole, self._silent = now, False
        elif now - self._last_whole > SILENT_S and not self._silent:
            self._silent = True
            events.append(Silent(now - self._last_whole))
        return [*events, *found]
