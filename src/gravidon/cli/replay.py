# SPDX-License-Identifier: GPL-3.0-or-later
"""`gravidon replay PLAN LOG`: when and where on a drive would a seal wet?"""

from __future__ import annotations

import argparse
import json
import math
from pathlib import Path
from typing import Any

from gravidon.cli.main import FAILS, OK, plan_named
from gravidon.errors import InputError
from gravidon.translate import commas, tr


def add(commands: Any) -> None:
    """Add the command."""
    parser = commands.add_parser("replay", help=tr("replay a drive log; exit 1 if a seal would wet"))
    parser.add_argument("plan", help=tr("a plan file, or 'demo'"))
    parser.add_argument("log", help=tr("a CSV with a heading, or 'demo'"))
    parser.add_argument(
        "--map",
        action="append",
        default=[],
        metavar="CHANNEL=COLUMN:UNIT",
        help=tr("where a channel is, for example ay=lat_acc:-g"),
    )
    parser.add_argument("--turbo", type=int, default=1, help=tr("which turbo, counted from 1"))
    parser.add_argument("--anyway", action="store_true", help=tr("replay also what looks like other units"))
    parser.add_argument("--json", action="store_true", help=tr("print the spells as JSON"))
    parser.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Print the wet spells; 0 if there are none."""
    from gravidon.plan import demos
    from gravidon.plan.drive_log import CHANNELS, Mapped, doubts, guess_mapping, headings, read_log, read_text
    from gravidon.study.home.replay import replay
    from gravidon.study.solve.evaluate import evaluate

    text = demos.demo_drive() if options.log == "demo" else read_text(Path(options.log))
    mapping = guess_mapping(headings(text))
    for given in options.map:
        key, _, rest = given.partition("=")
        column, _, unit = rest.rpartition(":")
        if key not in CHANNELS or not column:
            raise InputError(
                "map", given, tr("CHANNEL=COLUMN:UNIT with one of {known}").format(known=commas(CHANNELS))
            )
        mapping[key] = Mapped(column, unit)
    log = read_log(text, mapping, options.log)
    said = doubts(log)
    if said and not options.anyway:
        raise InputError(
            "log",
            options.log,
            tr("a drive in the units of its columns, or --anyway: {said}").format(said=" ".join(said)),
        )
    evaluation = evaluate(plan_named(options.plan))
    if not 1 <= options.turbo <= len(evaluation.all):
        raise InputError("turbo", options.turbo, tr("1 to {count}").format(count=len(evaluation.all)))
    *_, last = replay(evaluation.of(options.turbo - 1), log)
    rows = [
        {
            "start_s": round(s.start_s, 2),
            "end_s": round(s.end_s, 2),
            "distance_m": round(s.distance_m, 1) if math.isfinite(s.distance_m) else None,
            "forward_g": round(s.forward_g, 3),
            "left_g": round(s.left_g, 3),
            "freeboard_mm": round(s.freeboard_m * 1e3, 1),
        }
        for s in last.spells
    ]
    if options.json:
        bad = [{"line": b.line, "channel": b.channel, "why": b.why} for b in log.bad]
        print(
            json.dumps(
                {"seconds": log.seconds, "spells": rows, "bad_rows": log.bad_count, "bad": bad}, indent=2
            )
        )
    else:
        _print_text(log.seconds, rows)
        for b in log.bad:
            print(
                tr("left out: line {line}, {channel}: {why}").format(
                    line=b.line, channel=b.channel, why=b.why
                )
            )
        if log.bad_count > len(log.bad):
            print(tr("and {count} more rows").format(count=log.bad_count - len(log.bad)))
    return FAILS if rows else OK


def _print_text(seconds: float, rows: list[dict[str, Any]]) -> None:
    print(
        tr("{seconds:.0f} s of driving: {count} times a seal would be under oil").format(
            seconds=seconds, count=len(rows)
        )
    )
    for row in rows:
        far = row["distance_m"]
        print(
            tr(
                "{start:8.1f} s to {end:.1f} s{where}: {forward:+.2f} g forward, {left:+.2f} g left, freeboard {freeboard:.0f} mm"
            ).format(
                start=row["start_s"],
                end=row["end_s"],
                where=tr(" at {far:.0f} m").format(far=far) if far is not None else "",
                forward=row["forward_g"],
                left=row["left_g"],
                freeboard=row["freeboard_mm"],
            )
        )
