# SPDX-License-Identifier: GPL-3.0-or-later
"""`gravidon log PLAN add|list|export|import|health`: the logbook beside a plan."""

from __future__ import annotations

import argparse
import json
import math
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

from gravidon.cli.main import FAILS, OK, plan_named
from gravidon.errors import InputError, PlanFileError
from gravidon.translate import commas, listed, tr

if TYPE_CHECKING:
    from gravidon.records.book import Book
    from gravidon.records.entry import Entry


def add(commands: Any) -> None:
    """Add the command and what it can do."""
    parser = commands.add_parser(
        "log", help=tr("the logbook beside a plan: add, list, export, import, health")
    )
    parser.add_argument("plan", help=tr("a plan file, or a demo's name"))
    what = parser.add_subparsers(dest="what", required=True, metavar="WHAT")
    adding = what.add_parser("add", help=tr("write a line down: 'idle hot 14 psi'"))
    adding.add_argument("line", help=tr("the entry, as one would say it"))
    adding.add_argument("--json", action="store_true", help=tr("print it as JSON"))
    adding.set_defaults(run=run_add)
    listing = what.add_parser("list", help=tr("print the entries"))
    listing.add_argument("--json", action="store_true", help=tr("print them as JSON"))
    listing.set_defaults(run=run_list)
    exporting = what.add_parser("export", help=tr("write the entries as CSV"))
    exporting.add_argument("-o", "--output", metavar="FILE", help=tr("where to; the terminal if left out"))
    exporting.add_argument("--json", action="store_true", help=tr("JSON instead of CSV"))
    exporting.set_defaults(run=run_export)
    importing = what.add_parser("import", help=tr("take the entries of a CSV that are not there yet"))
    importing.add_argument("file", help=tr("the CSV"))
    importing.set_defaults(run=run_import)
    health = what.add_parser("health", help=tr("what the entries say of the feed; exit 1 if it is closing"))
    health.add_argument("--turbo", type=int, default=1, help=tr("which turbo, counted from 1"))
    health.add_argument("--json", action="store_true", help=tr("print it as JSON"))
    health.set_defaults(run=run_health)


def _book(options: argparse.Namespace, write: bool) -> Book:
    """Return the plan's logbook; a demo's is read only.

    Raises: PlanFileError if there is none to read, or a demo was to be written to.
    """
    from gravidon.plan import demos
    from gravidon.records.book import Book, book_path
    from gravidon.records.shipped import demo_log

    if options.plan == "demo" or options.plan in demos.NAMES:
        if write:
            raise PlanFileError(
                tr("{plan}: a demo has no logbook of its own; save it as a plan first").format(
                    plan=options.plan
                )
            )
        made = Book(None)
        made.add(*demo_log("estate" if options.plan == "demo" else options.plan))
        return made
    plan_named(options.plan)  # a logbook stands beside a plan
    path = book_path(Path(options.plan))
    if not write and not path.is_file():
        return Book(None)
    return Book(path)


def run_add(options: argparse.Namespace) -> int:
    """Write a line down."""
    from gravidon.records.quick import Usual, bare_place, quick_entry
    from gravidon.study.car.script import idle_rpm

    plan = plan_named(options.plan)
    entry = quick_entry(
        options.line, Usual(datetime.now().astimezone().date(), idle_rpm(plan), at=bare_place(plan))
    )
    book = _book(options, write=True)
    book.add(entry)
    book.close()
    print(json.dumps(_plain(entry), indent=2, ensure_ascii=False) if options.json else _line(entry))
    return OK


def _line(e: Entry) -> str:
    parts = [e.day]
    if math.isfinite(e.distance_m):
        parts.append(f"{e.distance_m / 1e3:.0f} km")
    for r in e.readings:
        pressures = "".join(
            tr(", {name} {kpa:.0f} kPa").format(name=name, kpa=v / 1e3)
            for name, v in ((tr("gallery"), r.gallery_pa), (tr("inlet"), r.inlet_pa))
            if math.isfinite(v)
        )
        parts.append(
            tr("{rpm:.0f} rpm at {celsius:.0f} °C{pressures}").format(
                rpm=r.rpm, celsius=r.oil_k - 273.15, pressures=pressures
            )
        )
    parts += [tr("made new: {parts}").format(parts=commas(e.changed))] if e.changed else []
    parts += [tr("symptom: {sign}").format(sign=s) for s in e.symptoms]
    parts += [e.note] if e.note else []
    return "; ".join(parts)


def _plain(e: Entry) -> dict[str, Any]:
    def number(v: float, digits: int = 2) -> float | None:
        return round(v, digits) if math.isfinite(v) else None

    return {
        "entry": e.uid,
        "day": e.day,
        "distance_km": number(e.distance_m / 1e3),
        "kind": e.kind,
        "note": e.note,
        "changed": list(e.changed),
        "symptoms": list(e.symptoms),
        "recording": e.recording,
        "readings": [
            {
                "rpm": number(r.rpm, 0),
                "oil_c": number(r.oil_k - 273.15),
                "gallery_kpa": number(r.gallery_pa / 1e3),
                "inlet_kpa": number(r.inlet_pa / 1e3),
                "turbo": r.turbo + 1,
            }
            for r in e.readings
        ],
    }


def run_list(options: argparse.Namespace) -> int:
    """Print the entries, the latest last."""
    book = _book(options, write=False)
    entries = book.entries()
    if options.json:
        print(json.dumps([_plain(e) for e in entries], indent=2, ensure_ascii=False))
    else:
        for e in entries:
            print(" ".join(_line(e).split()))
    return OK


def run_export(options: argparse.Namespace) -> int:
    """Write the entries as CSV."""
    from gravidon.plan.files import write_atomically
    from gravidon.records.book_csv import to_csv

    entries = _book(options, write=False).entries()
    text = to_csv(entries)
    if options.json:
        text = json.dumps([_plain(e) for e in entries], indent=2, ensure_ascii=False) + "\n"
    if options.output:
        write_atomically(Path(options.output), text.encode())
    else:
        print(text, end="")
    return OK


def run_import(options: argparse.Namespace) -> int:
    """Take the entries of a CSV that are not there yet."""
    from gravidon.records.book_csv import from_csv
    from gravidon.records.recording import text_of

    found = from_csv(text_of(Path(options.file)))
    book = _book(options, write=True)
    known = {e.uid for e in book.entries()}
    new = [e for e in found if e.uid not in known]
    book.add(*new)
    book.close()
    print(tr("{new} of {found} entries taken").format(new=len(new), found=len(found)))
    return OK


def run_health(options: argparse.Namespace) -> int:
    """Print what the entries say; 1 if the feed is closing."""
    from gravidon.study.health.fit import PARTS, health
    from gravidon.study.health.outlook import day_after, outlook, said, unclear

    plan = plan_named(options.plan)
    if not 1 <= options.turbo <= len(plan.turbos):
        raise InputError("turbo", options.turbo, tr("1 to {count}").format(count=len(plan.turbos)))
    found = health(plan, _book(options, write=False).entries(), options.turbo - 1)
    if found is None:
        print(json.dumps({"readings": 0}) if options.json else tr("no pressure in the logbook yet"))
        return OK
    where = outlook(found)
    if options.json:
        names = (
            "gallery",
            "closing",
            "passage",
            "inlet_zero_pa",
            "gallery_zero_pa",
            "oil_thickness",
            "closing_per_1000_km",
        )
        days = [day_after(found, d) for d in where.days]
        print(
            json.dumps(
                {
                    "readings": len(found.misses),
                    "distance_km": round(float(found.km[-1]), 1),
                    "state": {n: round(float(found.now[k]), 5) for k, n in enumerate(names[:PARTS])},
                    "standard_deviation": {
                        n: round(float(found.sd[-1, k]), 5) for k, n in enumerate(names[:PARTS])
                    },
                    "closing": where.closing,
                    "window_left_at": round(where.left_at, 3) if math.isfinite(where.left_at) else None,
                    "condition": plan.conditions[where.condition].name if where.condition >= 0 else None,
                    "km_left": [round(v) if math.isfinite(v) else None for v in where.km],
                    "days": [d.isoformat() if d is not None else None for d in days],
                    "said": said(found, where).text("metric"),
                },
                indent=2,
            )
        )
    else:
        print(said(found, where).text("metric"))
        for u in unclear(found):
            from gravidon.study.health.outlook import NAMES

            parts = [NAMES[part] for part in (u.part, u.other) if part is not None]
            print(tr("not told apart: {parts}").format(parts=listed(parts)))
    return FAILS if where.closing else OK
