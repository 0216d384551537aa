# SPDX-License-Identifier: GPL-3.0-or-later
"""`gravidon diagnose`: why it smokes, from signs and results, and what to test next."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from gravidon.cli.main import FAILS, OK, plan_named
from gravidon.translate import commas, listed, tr

SHOWN = 8


def add(commands: Any) -> None:
    """Add the command."""
    parser = commands.add_parser(
        "diagnose", help=tr("say why it smokes, and what to test next"),
        description=tr("Weigh causes by a plan, its logbook, signs and results. Exit 0: nothing is sure yet; 1: a cause is sure enough to be mended."),
    )  # fmt: skip
    parser.add_argument("plan", nargs="?", help=tr("a plan file, or the name of a demo"))
    parser.add_argument(
        "--sign",
        action="append",
        default=[],
        metavar="KEY",
        help=tr("a sign it shows; 'no-KEY' for one it does not show"),
    )
    parser.add_argument(
        "--result",
        action="append",
        default=[],
        metavar="TEST=OUTCOME",
        help=tr("what came of a test: the outcome's name, its beginning, or its number"),
    )
    parser.add_argument("--case", help=tr("a case that a window or --save wrote"))
    parser.add_argument("--save", help=tr("write the case there"))
    parser.add_argument(
        "--bar",
        type=int,
        default=2,
        help=tr("most risk a test may have: 0 none, 1 hot parts, 2 car up, 3 driven hard"),
    )
    parser.add_argument("--list", choices=("signs", "causes", "tests"), help=tr("list a table and leave"))
    parser.add_argument("--json", action="store_true", help=tr("as JSON"))
    parser.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Run it.

    Raises: GravidonError naming what cannot be used.
    """
    from gravidon.errors import InputError
    from gravidon.study.diagnosis.report import told_case

    if options.list:
        return _list(options.list, options.json)
    if options.plan is None:
        raise InputError("plan", "none", "a plan file, or --list signs, causes or tests")
    plan = plan_named(options.plan)
    if not 0 <= options.bar <= 3:
        raise InputError("bar", options.bar, "0 to 3")
    from gravidon.api import diagnosed, logbook
    from gravidon.records.shipped import demo_log

    case = told_case(options.sign, options.result, Path(options.case) if options.case else None, options.bar)
    file = Path(options.plan)
    entries = (
        logbook(file) if file.is_file() else demo_log("estate" if options.plan == "demo" else options.plan)
    )
    made = diagnosed(plan, case, entries)
    if options.save:
        _save(Path(options.save), case.text())
    if options.json:
        print(json.dumps(made, indent=2, ensure_ascii=False))
    else:
        _print(made)
    return FAILS if made["settled"] else OK


def _save(path: Path, text: str) -> None:
    from gravidon.plan.files import write_atomically

    write_atomically(path, (text + "\n").encode("utf-8"))


def _print(made: dict[str, Any]) -> None:
    told = [*made["signs"]["yes"], *(tr("not {sign}").format(sign=s) for s in made["signs"]["no"])]
    print(f"{made['plan']}: {commas(told) or tr('nothing told yet')}")
    if made["from_log"]:
        print(tr("the logbook tells: {signs}").format(signs=commas(made["from_log"])))
    for words in made["stop"]:
        print(words)
    for row in made["causes"][:SHOWN]:
        print(f"  {row['belief']:5.0%}  {row['name']}  [{row['key']}; {row['place']}]")
    if made["settled"]:
        print(tr("sure enough to mend: {cause}").format(cause=made["settled"]))
        for step in made["mending"]["do"]:
            print(f"  - {step}")
        for remedy in made["mending"]["plan"]:
            print(tr("  plan: {remedy}").format(remedy=remedy))
        return
    for row in made["questions"]:
        print(tr("ask: {question}  [{key}]").format(question=row["ask"], key=row["key"]))
    for row in made["tests"][:3]:
        print(
            tr("test: {name}  [{key}; {minutes:.0f} min, {money:.0f} coins, {risk}]").format(
                name=row["name"],
                key=row["key"],
                minutes=row["minutes"],
                money=row["money"],
                risk=row["risk_words"],
            )
        )
        if row["splits"][0] and row["splits"][1]:
            print(
                tr("      splits {some} from {others}; {bits:.2f} bit").format(
                    some=listed(row["splits"][0]), others=listed(row["splits"][1]), bits=row["gain_bits"]
                )
            )


def _list(which: str, as_json: bool) -> int:
    from gravidon.study.diagnosis.tables import PLACES, tables

    known = tables()
    if which == "signs":
        rows = {k: s.ask for k, s in known.signs.items()}
    elif which == "causes":
        rows = {k: f"{c.name} ({PLACES[c.place]})" for k, c in known.causes.items()}
    else:
        rows = {k: f"{t.name}: {commas(o.name for o in t.outcomes)}" for k, t in known.tests.items()}
    print(
        json.dumps(rows, indent=2, ensure_ascii=False)
        if as_json
        else "\n".join(f"{k:16} {v}" for k, v in rows.items())
    )
    return OK
