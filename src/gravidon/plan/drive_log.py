# SPDX-License-Identifier: GPL-3.0-or-later
"""Read a drive log: a CSV of what a data logger kept. Columns and units are the user's to map; bad rows are told."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from gravidon.errors import InputError
from gravidon.physics.arrays import STANDARD_GRAVITY, Array
from gravidon.plan.files import read_file
from gravidon.plan.mf4 import is_mf4, text_of_mf4
from gravidon.plan.texts import decoded
from gravidon.translate import commas, tr

MOST_BYTES = 200_000_000
MOST_BAD_KEPT = 200
"""Bad rows described one by one; more are only counted."""


@dataclass(frozen=True)
class Channel:
    """What one column of a log may be: its name, whether a log must have it, units as (factor, offset) to SI,
    bounds in SI, and words in a heading that suggest it."""

    name: str
    needed: bool
    units: Mapping[str, tuple[float, float]]
    low: float
    high: float
    hints: tuple[str, ...]


_G = {"g": (1.0, 0.0), "m/s²": (1.0 / STANDARD_GRAVITY, 0.0), "-g": (-1.0, 0.0), "-m/s²": (-1.0 / STANDARD_GRAVITY, 0.0)}  # fmt: skip
CHANNELS: dict[str, Channel] = {
    "time": Channel(tr("time"), True, {"s": (1.0, 0.0), "ms": (1e-3, 0.0), "min": (60.0, 0.0)}, -1e6, 1e7, ("time", "t_s", "elapsed")),
    "ax": Channel(tr("acceleration forward"), True, _G, -4.0, 4.0, ("ax", "longitudinal", "long_g", "long acc", "longacc", "long_acc", "accel_x", "forward", "inline", "g_lon", "lon_g")),
    "ay": Channel(tr("acceleration to the left"), True, _G, -4.0, 4.0, ("ay", "lateral", "lat_g", "lat acc", "latacc", "lat_acc", "accel_y", "left", "g_lat")),
    "rpm": Channel(tr("engine speed"), True, {"rpm": (1.0, 0.0), "1/s": (60.0, 0.0)}, 0.0, 25000.0, ("rpm", "engine_speed", "engine speed", "revs")),
    "oil": Channel(tr("oil temperature"), True, {"°C": (1.0, 273.15), "°F": (5 / 9, 459.67 * 5 / 9), "K": (1.0, 0.0)}, 230.0, 480.0, ("oil_t", "oil temp", "oiltemp", "oilt", "temp")),
    "pressure": Channel(tr("oil pressure"), False, {"kPa": (1e3, 0.0), "psi": (6894.757293168, 0.0), "bar": (1e5, 0.0)}, -1e4, 3e6, ("press", "oil_p", "psi", "kpa")),
    "distance": Channel(tr("distance"), False, {"m": (1.0, 0.0), "km": (1e3, 0.0), "mi": (1609.344, 0.0)}, -1.0, 1e8, ("dist", "odo")),
}  # fmt: skip
"""Channels by key. Accelerations follow ISO 8855 (forward and left positive); '-g' turns a logger's sign round."""


@dataclass(frozen=True)
class Mapped:
    """One channel's column heading and unit."""

    column: str
    unit: str


@dataclass(frozen=True)
class BadRow:
    """A row that was left out: its line in the file, the channel, and why."""

    line: int
    channel: str
    why: str


@dataclass(frozen=True)
class DriveLog:
    """A drive, every array (rows,): time [s] from the first row, accelerations [g], engine speed [rpm], oil
    temperature [K], gallery pressure [Pa gauge] and distance [m] where logged; and the rows left out."""

    name: str
    time_s: Array
    forward_g: Array
    left_g: Array
    rpm: Array
    oil_k: Array
    pressure_pa: Array | None
    distance_m: Array | None
    bad: tuple[BadRow, ...]
    bad_count: int

    @property
    def seconds(self) -> float:
        """How long the drive is [s]."""
        return float(self.time_s[-1])


def read_text(path: Path) -> str:
    """Return a log's text.

    Raises: PlanFileError if it cannot be read, is too large or is not text.
    """
    raw = read_file(path, MOST_BYTES)
    return text_of_mf4(path) if is_mf4(path) else decoded(raw, path.name)


def _separator(text: str) -> str:
    """Return what the cells of the first line are separated by."""
    first = text.split("\n", 1)[0]
    return max(",;\t", key=first.count)


def _opened(text: str) -> tuple[list[str], Iterator[list[str]]]:
    """Return the headings, and the rows after them as they are read.

    Raises: InputError for an empty log or one that is no table.
    """
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=_separator(text))
    try:
        return [cell.strip() for cell in next(reader)], _told(reader)
    except StopIteration as error:
        raise InputError("drive log", "an empty file", "a heading and rows of numbers") from error
    except csv.Error as error:
        raise InputError("drive log", str(error), "rows separated by commas, semicolons or tabs") from error


def _told(reader: Iterator[list[str]]) -> Iterator[list[str]]:
    """Yield rows; what the reader cannot take is told as a bad log."""
    try:
        yield from reader
    except csv.Error as error:
        raise InputError("drive log", str(error), "rows separated by commas, semicolons or tabs") from error


def headings(text: str) -> list[str]:
    """Return the column headings.

    Raises: InputError for an empty log.
    """
    return _opened(text)[0]


def guess_mapping(columns: Sequence[str], channels: Mapping[str, Channel] | None = None) -> dict[str, Mapped]:
    """Return the likeliest column and unit of every channel (those of a drive if None); channels without a likely one are left out."""
    found: dict[str, Mapped] = {}
    free = list(columns)
    for key, channel in (CHANNELS if channels is None else channels).items():
        for hint in channel.hints:
            match = next((c for c in free if hint in c.lower()), None)
            if match is not None:
                found[key] = Mapped(match, unit_in(match, channel) or next(iter(channel.units)))
                free.remove(match)
                break
    return found


def unit_in(heading: str, channel: Channel) -> str:
    """Return the unit that a heading names; empty where it names none.

    >>> unit_in("Lat Accel [m/s2]", CHANNELS["ay"]), unit_in("ay", CHANNELS["ay"])
    ('m/s²', '')
    """
    text = heading.lower().replace("^2", "²").replace("s2", "s²")
    words = (
        text.replace("(", " ").replace(")", " ").replace("[", " ").replace("]", " ").replace("_", " ").split()
    )
    plain = [w.removeprefix("°") for w in words]
    for unit in channel.units:
        if unit.lower() in words or unit.lower().removeprefix("°") in plain[1:]:
            return unit
    return ""


WORN_SHARE, HARD_G, SOFT_G = 0.05, 1.8, 0.15
"""[-] of rows left out, and [g] of the hardest hundredth of a drive, beyond or under which it is asked whether the units are right; project choice."""


def doubts(log: DriveLog) -> tuple[str, ...]:
    """Return what speaks against a drive being what was driven, in words: rows that fell out, accelerations no car has or that are hardly any."""
    rows = len(log.time_s) + log.bad_count
    said = []
    if log.bad_count > WORN_SHARE * rows:
        first = log.bad[0]
        said.append(
            tr("{bad} of {rows} rows would be left out; the first is line {line}, {channel}: {why}.").format(
                bad=log.bad_count, rows=rows, line=first.line, channel=first.channel, why=first.why
            )
        )
    hardest = float(np.percentile(np.hypot(log.forward_g, log.left_g), 99.0))
    if hardest > HARD_G or 0.0 < hardest < SOFT_G:
        said.append(
            tr("Its hardest moments have {hardest:.2f} g: are the accelerations in the unit chosen?").format(
                hardest=hardest
            )
        )
    return tuple(said)


def read_log(text: str, mapping: Mapping[str, Mapped], name: str = "drive") -> DriveLog:
    """Return the drive. Rows with a missing, unreadable or impossible number, or with time standing still or
    running back, are left out and listed.

    Raises: InputError if a needed channel is not mapped, a heading or unit is unknown, or fewer than two rows
    are good.
    """
    table, bad, count = read_table(text, mapping, CHANNELS)
    return _drive(name, table, bad, count)


def read_table(
    text: str, mapping: Mapping[str, Mapped], channels: Mapping[str, Channel]
) -> tuple[dict[str, Array], tuple[BadRow, ...], int]:
    """Return the mapped channels in SI by key, each (rows,); the rows left out, as far as they are listed, and how many.

    Raises: InputError as `read_log`.
    """
    heading, rows = _opened(text)
    for key, channel in channels.items():
        if channel.needed and key not in mapping:
            raise InputError(channel.name, "no column", "a column of the log to read it from")
    place, scale = {}, {}
    for key, mapped in mapping.items():
        channel = channels[key]
        if mapped.column not in heading:
            raise InputError(
                channel.name,
                mapped.column,
                tr("one of the log's columns: {columns}").format(columns=commas(heading)),
            )
        if mapped.unit not in channel.units:
            raise InputError(
                channel.name, mapped.unit, tr("one of {known}").format(known=commas(channel.units))
            )
        place[key], scale[key] = heading.index(mapped.column), channel.units[mapped.unit]
    keys = [key for key in channels if key in mapping]
    clean = _all_good(text, keys, place, scale, channels)
    if clean is not None:
        return dict(zip(keys, clean, strict=True)), (), 0
    kept: list[list[float]] = []
    bad: list[BadRow] = []
    count, last = 0, -math.inf
    for line, row in enumerate(rows, start=2):
        if not any(cell.strip() for cell in row):
            continue
        numbers, problem = _numbers(row, place, scale, line, channels)
        if problem is None and numbers[0] <= last:
            problem = BadRow(
                line,
                "time",
                tr("{row} does not come after the row before").format(row=row[place["time"]].strip()),
            )
        if problem is not None:
            count += 1
            if len(bad) < MOST_BAD_KEPT:
                bad.append(problem)
            continue
        last = numbers[0]
        kept.append(numbers)
    if len(kept) < 2:
        first = (
            tr("; line {line}, {channel}: {why}").format(
                line=bad[0].line, channel=bad[0].channel, why=bad[0].why
            )
            if bad
            else ""
        )
        raise InputError(
            "drive log",
            tr("{count} good rows").format(count=len(kept)),
            tr("at least two{first}").format(first=first),
        )
    return dict(zip(keys, np.array(kept).T, strict=True)), tuple(bad), count


def _drive(name: str, table: Mapping[str, Array], bad: tuple[BadRow, ...], count: int) -> DriveLog:
    return DriveLog(
        name,
        table["time"] - table["time"][0],
        table["ax"],
        table["ay"],
        table["rpm"],
        table["oil"],
        table.get("pressure"),
        table.get("distance"),
        bad,
        count,
    )


def _all_good(
    text: str,
    keys: Sequence[str],
    place: Mapping[str, int],
    scale: Mapping[str, tuple[float, float]],
    channels: Mapping[str, Channel],
) -> Array | None:
    """Return the channels in SI, (channels, rows), of a log in which every row is good; None for any other.

    The rows are read in one go; a log with anything wrong in it is left to the reader that can say what and where.
    """
    columns = [place[key] for key in keys]
    if not text.partition("\n")[2].strip():
        return None
    try:
        raw = np.loadtxt(
            io.StringIO(text),
            delimiter=_separator(text),
            skiprows=1,
            usecols=columns,
            ndmin=2,
            comments=None,
            quotechar='"',
        ).T
    except ValueError:
        return None
    if raw.shape[1] < 2:
        return None
    factor = np.array([scale[key] for key in keys])
    table: Array = raw * factor[:, :1] + factor[:, 1:]
    low = np.array([[channels[key].low] for key in keys])
    high = np.array([[channels[key].high] for key in keys])
    good = np.isfinite(table).all() and (table >= low).all() and (table <= high).all()
    return table if good and (np.diff(table[keys.index("time")]) > 0.0).all() else None


def _numbers(
    row: list[str],
    place: Mapping[str, int],
    scale: Mapping[str, tuple[float, float]],
    line: int,
    channels: Mapping[str, Channel],
) -> tuple[list[float], BadRow | None]:
    """Return a row's numbers in SI in the order of CHANNELS, or what is wrong with it."""
    out: list[float] = []
    for key, channel in channels.items():
        if key not in place:
            continue
        cell = row[place[key]].strip() if place[key] < len(row) else ""
        try:
            value = float(cell.replace(",", ".")) * scale[key][0] + scale[key][1]
        except ValueError:
            return out, BadRow(
                line,
                channel.name,
                tr("'{cell}' is not a number").format(cell=cell) if cell else tr("no number"),
            )
        if not channel.low <= value <= channel.high:
            return out, BadRow(line, channel.name, tr("{cell} is beyond what a car can do").format(cell=cell))
        out.append(value)
    return out, None
