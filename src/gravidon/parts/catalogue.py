# SPDX-License-Identifier: GPL-3.0-or-later
"""Generic parts, as an open data file, and the user's own beside them in the same form."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, fields, replace
from functools import cache
from importlib import resources

from gravidon.cells import cell, word
from gravidon.errors import InputError
from gravidon.parts.ends import End, end_from, thread_of
from gravidon.parts.part_kinds import KINDS, PartKind
from gravidon.translate import commas, tr

MOST_ROWS = 5000
METERING_MM = 3.5
"""[mm] a hole in an inlet flange below this meters; a -4 line passes more. Project choice."""


@dataclass(frozen=True)
class Part:
    """One part. Lengths [mm], temperature [°C], pressure [kPa]; 0 where it does not apply.

    `stack_mm` is how tall it stands, `takeoff_mm` how much shorter than the run the hose is cut for it. `role` tells
    parts of one kind apart: the make of hose an end grips, the port a washer or a gasket seals, what a clamp holds.
    `source`: what its figures rest on.
    """

    id: str
    kind: str
    name: str
    ends: tuple[End, ...]
    dash: int = 0
    angle_deg: float = 0.0
    bore_mm: float = 0.0
    stack_mm: float = 0.0
    takeoff_mm: float = 0.0
    min_bend_mm: float = 0.0
    od_mm: float = 0.0
    temp_c: float = 0.0
    pressure_kpa: float = 0.0
    material: str = ""
    price: float = 0.0
    role: str = ""
    source: str = ""

    @property
    def meters(self) -> bool:
        """Whether its hole is there to meter: a restrictor, or an inlet flange with a hole that a feed would not have."""
        return self.what.narrow or (self.kind == "flange" and 0.0 < self.bore_mm < METERING_MM)

    @property
    def what(self) -> PartKind:
        """The record of its kind."""
        return KINDS[self.kind]


COLUMNS = tuple(f.name for f in fields(Part))
_NUMBERS = tuple(f.name for f in fields(Part) if f.type == "float")


def parts_from_csv(text: str, where: str = "parts file") -> tuple[Part, ...]:
    """Return the parts of a CSV with the catalogue's columns; columns that are missing count as empty.

    Raises: InputError naming row and column of the first thing that cannot be used.
    """
    try:
        return _parts(text, where)
    except csv.Error as error:
        raise InputError(where, str(error), "rows of a CSV") from error


def _parts(text: str, where: str) -> tuple[Part, ...]:
    reader = csv.DictReader(io.StringIO(text))
    names = reader.fieldnames or []
    for needed in ("id", "kind", "name", "ends"):
        if needed not in names:
            raise InputError(
                where,
                ", ".join(names) or "an empty file",
                tr("a heading with the column '{needed}'").format(needed=needed),
            )
    found: list[Part] = []
    seen: set[str] = set()
    for line, row in enumerate(reader, start=2):
        if line > MOST_ROWS:
            raise InputError(
                where,
                tr("{line} rows").format(line=line),
                tr("at most {most}").format(most=MOST_ROWS),
            )
        part = _part(row, tr("{where}, row {line}").format(where=where, line=line))
        if part.id in seen:
            raise InputError(
                tr("{where}, row {line}, id").format(where=where, line=line),
                part.id,
                "an id that no other row has",
            )
        seen.add(part.id)
        found.append(part)
    return tuple(found)


def _part(row: dict[str, str | None], where: str) -> Part:
    cells = {k: word((v or "").strip()) for k, v in row.items() if k}
    if not cells["id"] or not cells["name"]:
        raise InputError(where, "no id or no name", "both")
    if cells["kind"] not in KINDS:
        raise InputError(
            tr("{where}, kind").format(where=where),
            cells["kind"],
            tr("one of {known}").format(known=commas(KINDS)),
        )
    try:
        ends = tuple(end_from(code.replace("_", " ")) for code in cells["ends"].split())
        for end in ends:
            thread_of(end)
    except (ValueError, KeyError) as error:
        raise InputError(
            tr("{where}, ends").format(where=where),
            cells["ends"],
            "codes such as NPT|1/8|male of known sizes",
        ) from error
    numbers: dict[str, float] = {}
    for name in (*_NUMBERS, "dash"):
        given = cells.get(name, "")
        try:
            numbers[name] = float(given) if given else 0.0
        except ValueError as error:
            raise InputError(f"{where}, {name}", given, "a number") from error
        if not 0.0 <= numbers[name] < 1e6:
            raise InputError(f"{where}, {name}", given, "0 or more")
    dash = int(numbers.pop("dash"))
    return Part(
        cells["id"],
        cells["kind"],
        cells["name"],
        ends,
        dash,
        material=cells.get("material", ""),
        role=cells.get("role", ""),
        source=cells.get("source", ""),
        **numbers,
    )


def parts_to_csv(parts: Iterable[Part]) -> str:
    """Return parts as CSV; read again they are the same."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for part in parts:
        cells = [getattr(part, name) for name in COLUMNS]
        cells[COLUMNS.index("ends")] = " ".join(e.code.replace(" ", "_") for e in part.ends)
        writer.writerow(
            [f"{c:g}" if isinstance(c, float) else cell(c) if isinstance(c, str) else c for c in cells]
        )
    return out.getvalue()


@cache
def catalogue() -> dict[str, Part]:
    """Return the parts that ship, by id."""
    text = resources.files("gravidon.parts.data").joinpath("catalogue.csv").read_text(encoding="utf-8")
    return {p.id: p for p in parts_from_csv(text, "catalogue")}


def with_own(own: Sequence[Part]) -> dict[str, Part]:
    """Return the catalogue with a user's own parts in it; an own part of the same id replaces the catalogue's."""
    stock = catalogue()
    mine = {p.id: p for p in own}
    for key, part in mine.items():
        if (
            not part.role and key in stock
        ):  # an own price or name for a part that ships: it serves as that one does
            mine[key] = replace(part, role=stock[key].role)
    return {**stock, **mine} if mine else stock


def serving(parts: Iterable[Part], kind: str, role: str, dash: int | None = None) -> Part | None:
    """Return the first part of a kind that plays a role (of a dash size, where one is named); None if there is none."""
    return next(
        (p for p in parts if p.kind == kind and p.role == role and (dash is None or p.dash == dash)), None
    )
