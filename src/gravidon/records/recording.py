# SPDX-License-Identifier: GPL-3.0-or-later
"""A recording: channels over time. Kept in the line format, gzip-compressed, so that anything can read it."""

from __future__ import annotations

import gzip
import io
import zlib
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

from gravidon.errors import InputError, PlanFileError
from gravidon.physics.arrays import Array
from gravidon.plan.drive_log import BadRow, Mapped, read_table
from gravidon.plan.files import read_file, write_atomically
from gravidon.plan.mf4 import is_mf4, text_of_mf4
from gravidon.plan.texts import decoded
from gravidon.records.channels import CHANNELS
from gravidon.records.lines import Bad, Heading, LineReader, Row, heading_line, row_line
from gravidon.translate import tr

MOST_BYTES = 400_000_000
SUFFIX = ".csv.gz"


@dataclass(frozen=True, eq=False)
class Recording:
    """Channels in SI over time [s] from the first row, each (rows,), nan where there is no reading; and what was left out."""

    name: str
    time_s: Array
    channels: Mapping[str, Array]
    bad: tuple[BadRow, ...] = ()
    bad_count: int = 0

    @property
    def seconds(self) -> float:
        """How long it is [s]."""
        return float(self.time_s[-1]) if len(self.time_s) else 0.0

    def __len__(self) -> int:
        return len(self.time_s)


@dataclass
class Tape:
    """A recording while it is made: rows as they come; a channel that comes later is nan before. It grows by the row, and nothing else does."""

    times: list[float] = field(default_factory=list)
    columns: dict[str, list[float]] = field(default_factory=dict)

    def add(self, row: Row) -> None:
        """Put a row at the end."""
        values = row.values
        for key in values.keys() - self.columns.keys() - {"time"}:
            self.columns[key] = [float("nan")] * len(self.times)
        self.times.append(values["time"])
        for key, column in self.columns.items():
            column.append(values.get(key, float("nan")))

    def __len__(self) -> int:
        return len(self.times)

    def recording(self, name: str) -> Recording:
        """Return what has been recorded so far."""
        t = np.array(self.times)
        order = np.argsort(t, kind="stable")
        start = t[order[0]] if len(t) else 0.0
        return Recording(name, t[order] - start, {k: np.array(v)[order] for k, v in self.columns.items()})


def lines_of(recording: Recording, with_checksum: bool = False) -> Iterator[str]:
    """Yield a recording's lines, the heading first."""
    keys = ["time", *recording.channels]
    yield heading_line(keys)
    for row in zip(
        recording.time_s.tolist(), *(c.tolist() for c in recording.channels.values()), strict=True
    ):
        yield row_line(keys, row, with_checksum)


def save(recording: Recording, path: Path) -> None:
    """Write a recording; compressed where the name ends in .gz.

    Raises: PlanFileError if it cannot be written.
    """
    text = "\n".join((f"# {recording.name}".replace("\n", " "), *lines_of(recording), "")).encode()
    write_atomically(path, gzip.compress(text, mtime=0) if path.suffix == ".gz" else text)


def read(path: Path, mapping: Mapping[str, Mapped] | None = None) -> Recording:
    """Return the recording in a file: in the line format, or any CSV whose columns are mapped.

    Raises: PlanFileError if it cannot be read; InputError if it holds no recording.
    """
    return from_text(text_of(path), path.name, mapping)


def text_of(path: Path) -> str:
    """Return a recording's text, unpacked where it is compressed.

    Raises: PlanFileError if it cannot be read, is too large or is not text.
    """
    try:
        raw = read_file(path, MOST_BYTES)
        if is_mf4(path):
            return text_of_mf4(path)
        if raw[:2] == b"\x1f\x8b":
            with gzip.open(io.BytesIO(raw)) as file:
                raw = file.read(MOST_BYTES + 1)
            if len(raw) > MOST_BYTES:
                raise PlanFileError(
                    tr("{name} unpacks to more than {most} MB").format(
                        name=path.name, most=MOST_BYTES // 1000000
                    )
                )
        return decoded(raw, path.name)
    except (EOFError, zlib.error) as error:
        raise PlanFileError(tr("{name} is not a text file").format(name=path.name)) from error
    except OSError as error:
        raise PlanFileError(
            tr("{name} cannot be read: {why}").format(name=path.name, why=error.strerror or error)
        ) from error


def is_lines(text: str) -> bool:
    """Return whether a text is in the line format: its first line that is no remark is a heading of ours."""
    first = next((line for line in text.splitlines() if line.strip() and not line.startswith("#")), "")
    return isinstance(next(iter(LineReader().feed(first.encode() + b"\n")), None), Heading)


def from_text(text: str, name: str, mapping: Mapping[str, Mapped] | None = None) -> Recording:
    """Return the recording that a text holds.

    Raises: InputError if it holds fewer than two good rows, or a needed channel is not mapped.
    """
    if mapping is None:
        return _from_lines(text, name)
    table, bad, count = read_table(text, mapping, CHANNELS)
    return Recording(
        name, table["time"] - table["time"][0], {k: v for k, v in table.items() if k != "time"}, bad, count
    )


def _from_lines(text: str, name: str) -> Recording:
    reader, tape = LineReader(), Tape()
    bad: list[BadRow] = []
    count, last = 0, -np.inf
    for number, line in enumerate(text.splitlines(), 1):
        for event in reader.feed(line.encode("utf-8", "replace") + b"\n"):
            problem = event.why if isinstance(event, Bad) else ""
            if isinstance(event, Row):
                if event.values["time"] <= last:
                    problem = tr("its time does not come after the row before")
                else:
                    last = event.values["time"]
                    tape.add(event)
            if problem:
                count += 1
                bad = [*bad, BadRow(number, "line", problem)][:200]
    if len(tape) < 2:
        first = tr("; line {line}: {why}").format(line=bad[0].line, why=bad[0].why) if bad else ""
        raise InputError(
            "recording",
            tr("{count} good rows").format(count=len(tape)),
            tr("at least two{first}").format(first=first),
        )
    made = tape.recording(name)
    return Recording(name, made.time_s, made.channels, tuple(bad), count)
