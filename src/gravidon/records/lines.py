# SPDX-License-Identifier: GPL-3.0-or-later
"""The line format of a logger: a heading with names and units, then numbers by commas; a checksum if the device has one.

    # anything after a hash is a remark
    time[s],rpm[rpm],oil[degC],gallery[V],inlet[V],supply[V]
    12.05,851,74.2,1.212,0.988,5.01*3F

A device sends the heading at its start and now and then again, so that a reader may join at any time. An empty cell is a reading that is not there.
Once a line carried a checksum, every line of readings has to: one without was cut off. The checksum, where there is one, is the exclusive or of all bytes before the star, as two hexadecimal digits. Lines end in LF or CR LF.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import reduce

from gravidon.records.channels import CHANNELS, channel_of, heading, unit_written
from gravidon.translate import tr

MOST_LINE = 512
"""[bytes] a line may have; what is longer is garbage."""

TOO_LONG = tr("more than {most} characters without an end").format(most=MOST_LINE)


@dataclass(frozen=True)
class Row:
    """One line of readings, in SI by channel; `time` is the device's own."""

    values: Mapping[str, float]


@dataclass(frozen=True)
class Heading:
    """A heading was read: the channels that follow, and the columns that name none."""

    channels: tuple[str, ...]
    unknown: tuple[str, ...]


@dataclass(frozen=True)
class Bad:
    """A line that could not be used, and why."""

    text: str
    why: str


Event = Row | Heading | Bad


def checksum(body: str) -> str:
    """Return a line's checksum.

    >>> checksum("12.05,851")
    '24'
    """
    return f"{reduce(lambda a, b: a ^ b, body.encode('utf-8', 'replace'), 0):02X}"


def heading_line(keys: Sequence[str]) -> str:
    """Return the heading of some channels."""
    return ",".join(heading(k) for k in keys)


_DIGITS = {"time": 3, "rpm": 0, "oil": 2, "supply": 3}


def row_line(keys: Sequence[str], values: Iterable[float], with_checksum: bool = False) -> str:
    """Return a line of values given in SI; nan is written as an empty cell."""
    cells = []
    for key, value in zip(keys, values, strict=True):
        if not math.isfinite(value):
            cells.append("")
            continue
        factor, offset = CHANNELS[key].units[unit_written(key)]
        digits = _DIGITS.get(key, 4 if key.endswith("_v") else 3)
        cells.append(f"{(value - offset) / factor:.{digits}f}")
    body = ",".join(cells)
    return f"{body}*{checksum(body)}" if with_checksum else body


class LineReader:
    """Makes events of bytes as they come: half lines wait for their other half, garbage is told and passed over.

    It holds one unfinished line of at most MOST_LINE bytes and the present heading; nothing grows.
    """

    def __init__(self) -> None:
        self._rest = b""
        self._skipping = False
        self._columns: tuple[tuple[str, float, float] | None, ...] = ()
        self._checked = False

    def begin_anew(self) -> None:
        """Forget the unfinished line: the port was opened again. Whether it sends checksums is seen anew too."""
        self._rest, self._skipping, self._checked = b"", False, False

    def feed(self, data: bytes) -> list[Event]:
        """Return what so many more bytes say."""
        events: list[Event] = []
        *whole, self._rest = (self._rest + data).split(b"\n")
        for raw in whole:
            if self._skipping:
                self._skipping = False
                continue
            if len(raw) > MOST_LINE:
                events.append(Bad(_shown(raw), TOO_LONG))
                continue
            found = self._line(raw.rstrip(b"\r"))
            if found is not None:
                events.append(found)
        if len(self._rest) > MOST_LINE:
            if not self._skipping:
                events.append(Bad(_shown(self._rest), TOO_LONG))
            self._rest, self._skipping = b"", True
        return events

    def _line(self, raw: bytes) -> Event | None:
        try:
            text = raw.decode("utf-8").strip()
        except UnicodeDecodeError:
            return Bad(_shown(raw), tr("not text"))
        if not text or text.startswith("#"):
            return None
        body, star, told = text.rpartition("*")
        if star and told.strip().upper() != checksum(body):
            return Bad(text, tr("its checksum does not agree"))
        if self._checked and not star and not text.lower().startswith("time"):
            return Bad(text, tr("it has no checksum, and lines before it had: cut off"))
        self._checked = self._checked or bool(star)
        return self._cells(text, (body if star else text).split(","))

    def _cells(self, text: str, cells: list[str]) -> Event:
        first = channel_of(cells[0])
        if first is not None and first[0] == "time":
            self._columns = tuple(channel_of(c) for c in cells)
            named = tuple(c[0] for c in self._columns if c is not None)
            if len(set(named)) < len(named):
                self._columns = ()
                return Bad(text, tr("a channel stands twice in the heading"))
            unknown = tuple(c.strip() for c, k in zip(cells, self._columns, strict=True) if k is None)
            return Heading(named, unknown)
        if not self._columns:
            return Bad(text, tr("no heading yet"))
        return self._row(text, cells)

    def _row(self, text: str, cells: list[str]) -> Event:
        if len(cells) != len(self._columns):
            return Bad(
                text,
                tr("{values} values under {headings} headings").format(
                    values=len(cells), headings=len(self._columns)
                ),
            )
        values: dict[str, float] = {}
        for cell, column in zip(cells, self._columns, strict=True):
            if column is None or not cell.strip():
                continue
            key, factor, offset = column
            try:
                value = float(cell) * factor + offset
            except ValueError:
                return Bad(text, tr("{name}: not a number").format(name=CHANNELS[key].name))
            known = CHANNELS[key]
            if not known.low <= value <= known.high:
                return Bad(text, tr("{name}: beyond what can be").format(name=known.name))
            values[key] = value
        if "time" not in values:
            return Bad(text, tr("no time"))
        return Row(values)


def _shown(raw: bytes) -> str:
    return raw[:80].decode("utf-8", "replace")
