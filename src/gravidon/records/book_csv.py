# SPDX-License-Identifier: GPL-3.0-or-later
"""The logbook as CSV, and back: a row for each reading, one for an entry without any."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterable

from gravidon.cells import cell, word
from gravidon.errors import InputError
from gravidon.records.entry import Entry, Reading, day, new_uid
from gravidon.translate import commas, tr

COLUMNS = ("entry", "day", "distance_km", "kind", "rpm", "oil_c", "gallery_kpa", "inlet_kpa", "turbo", "changed", "symptoms", "recording", "note")  # fmt: skip
"""Columns, in order. `entry` groups the rows of one entry; `turbo` counts from 1; several symptoms or changes are parted by semicolons."""


def to_csv(entries: Iterable[Entry]) -> str:
    """Return entries as CSV; photos are left out."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for e in entries:
        first = [e.uid, e.day, _said(e.distance_m, 1e-3, 3), e.kind]
        last = [cell(t) for t in ("; ".join(e.changed), "; ".join(e.symptoms), e.recording, e.note)]
        for r in e.readings or (None,):
            numbers = [""] * 5
            if r is not None:
                numbers = [
                    _said(r.rpm, 1.0, 0),
                    _said(r.oil_k - 273.15, 1.0, 2),
                    _said(r.gallery_pa, 1e-3, 2),
                    _said(r.inlet_pa, 1e-3, 2),
                    str(r.turbo + 1),
                ]
            writer.writerow([*first, *numbers, *last])
    return out.getvalue()


def _said(value: float, factor: float, digits: int) -> str:
    return f"{value * factor:.{digits}f}" if math.isfinite(value) else ""


def from_csv(text: str) -> tuple[Entry, ...]:
    """Return the entries that a CSV holds; rows with one name (or, without names, each row) make an entry.

    Raises: InputError naming line and column.
    """
    separator = max(",;\t", key=text.split("\n", 1)[0].count)
    reader = csv.DictReader(io.StringIO(text.removeprefix("\ufeff"), newline=""), delimiter=separator)
    try:
        _ = reader.fieldnames
    except csv.Error as error:
        raise InputError("logbook", str(error), "rows of a CSV") from error
    if reader.fieldnames is None or "day" not in reader.fieldnames:
        raise InputError(
            "logbook",
            "no column named day",
            tr("columns such as {some}").format(some=commas(COLUMNS[:6])),
        )
    made: dict[str, Entry] = {}
    try:
        for row in reader:
            line = reader.line_num
            uid = (row.get("entry") or "").strip() or new_uid()
            try:
                entry = _entry(uid, row)
                made[uid] = _joined(made[uid], entry) if uid in made else entry
                made[uid].checked()
            except OverflowError:
                raise InputError(
                    tr("line {line}, {field}").format(line=line, field="turbo"), "inf", "1, 2 or 3"
                ) from None
            except InputError as error:
                raise InputError(
                    tr("line {line}, {field}").format(line=line, field=error.field),
                    error.value,
                    error.expected,
                ) from None
    except csv.Error as error:
        raise InputError("logbook", str(error), "rows of a CSV") from error
    return tuple(made.values())


def _joined(first: Entry, more: Entry) -> Entry:
    from dataclasses import replace

    return replace(first, readings=(*first.readings, *more.readings))


def _entry(uid: str, row: dict[str, str | None]) -> Entry:
    def words(name: str) -> tuple[str, ...]:
        return tuple(w.strip() for w in word(row.get(name) or "").split(";") if w.strip())

    rpm, oil = _number(row, "rpm"), _number(row, "oil_c")
    pressures = _number(row, "gallery_kpa") * 1e3, _number(row, "inlet_kpa") * 1e3
    readings: tuple[Reading, ...] = ()
    if any(math.isfinite(v) for v in (rpm, oil, *pressures)):
        for name, value in (("rpm", rpm), ("oil_c", oil)):
            if math.isnan(value):
                raise InputError(name, "", "a number beside the pressure")
        turbo = _number(row, "turbo")
        readings = (Reading(rpm, oil + 273.15, *pressures, 0 if math.isnan(turbo) else int(turbo) - 1),)
    changed = words("changed")
    return Entry(
        day(row.get("day") or ""),
        _number(row, "distance_km") * 1e3,
        (row.get("kind") or "").strip() or ("reading" if readings else "note"),
        word((row.get("note") or "").strip()),
        readings,
        words("symptoms"),
        changed,
        word((row.get("recording") or "").strip()),
        uid=uid,
    )


def _number(row: dict[str, str | None], name: str) -> float:
    text = (row.get(name) or "").strip()
    if not text:
        return math.nan
    try:
        return float(text.replace(",", "."))
    except ValueError:
        raise InputError(name, text, "a number") from None
