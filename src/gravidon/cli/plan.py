# SPDX-License-Identifier: GPL-3.0-or-later
"""`gravidon plan PLAN`: whole plans within what may change, ranked, with reasons."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any

from gravidon.cli.main import FAILS, OK, plan_named
from gravidon.plan.units import FAMILIES, Family
from gravidon.translate import commas, listed, tr
from gravidon.words.text import verdict_said


def add(commands: Any) -> None:
    """Add the command."""
    from gravidon.plan.model_freedom import CHOICES

    parser = commands.add_parser(
        "plan",
        help=tr("make plans: whole ones, ranked, with reasons; exit 1 if none is found that does not fail"),
        description=tr(
            "Make whole plans within what may change, rank them, and say why. Choices: {choices}."
        ).format(choices=commas(CHOICES)),
    )
    parser.add_argument("plan", help=tr("a plan file, or 'demo'"))
    parser.add_argument(
        "--lock",
        action="append",
        default=[],
        metavar="CHOICE[=VALUES]",
        help=tr(
            "hold a choice: 'clock', 'entry-means=tapped,bulkhead', 'restrictor=0.9..2.2', 'clock=open'; '@2' after "
            "the choice means the second turbo"
        ),
    )
    parser.add_argument("--seed", type=int, default=1, help=tr("same seed, same answer"))
    parser.add_argument("--json", action="store_true", help=tr("print the answer as JSON"))
    parser.add_argument(
        "--units", choices=FAMILIES, default="metric", help=tr("units of the printed sentences")
    )
    parser.add_argument("-o", "--output", type=Path, help=tr("folder for the named plans, a file each"))
    parser.add_argument("--workers", type=int, default=2, help=tr("worker processes (0: none)"))
    parser.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Print the plans; write the named ones where a folder is given; 0 if one does not fail."""
    from gravidon import api
    from gravidon.study.planning.board import taken_up
    from gravidon.study.planning.search import Answer

    plan = api.lock(plan_named(options.plan), *options.lock)
    answer: Answer = api.plans(plan, options.seed, max(options.workers, 0))
    data = api.planned(answer, options.units)
    if options.output is not None:
        for row, ranked in zip(data["plans"], answer.ranked, strict=True):
            if ranked.names:
                row["file"] = str(
                    _written(options.output, plan.name, ranked.names[0], taken_up(plan, ranked.plan))
                )
    if options.json:
        print(json.dumps(data, indent=2, ensure_ascii=False, allow_nan=False))
    else:
        _print_text(data, options.units)
    return OK if any(r.merit.verdict != "fails" for r in answer.ranked) else FAILS


def _written(folder: Path, plan_name: str, name: str, plan: Any) -> Path:
    from gravidon import api
    from gravidon.errors import PlanFileError

    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise PlanFileError(f"{folder}: {error.strerror or error}") from error
    stem = "".join(c if c.isalnum() else "-" for c in plan_name).strip("-")[:60] or "plan"
    return api.save(plan, folder / f"{stem}-{name.replace(' ', '-')}.gravidon")


def _print_text(data: dict[str, Any], family: Family) -> None:
    print(
        tr("{plan}: {count} plans of {seen} looked at").format(
            plan=data["plan"], count=len(data["plans"]), seen=data["looked_at"]
        )
    )
    for row in data["plans"]:
        sure = (
            ""
            if row["holds_share"] is None
            else tr(", passes in {share:.0%} within what is not measured").format(share=row["holds_share"])
        )
        print(f"\n{listed(row['called']) or tr('another')}: {verdict_said(row['verdict'])}{sure}")
        print(
            tr(
                "  {cost:.0f} to pay, {hours:.1f} h of work, {joints} joints, {parts} kinds of parts to order, {goes_in}"
            ).format(
                cost=row["cost"],
                hours=row["work_minutes"] / 60.0,
                joints=row["joints"],
                parts=row["parts_to_order"],
                goes_in=row["into_the_engine"],
            )
        )
        for decision in row["decisions"]:
            print(f"  {decision['choice']}: {decision['was']} → {decision['now']}")
        print(tr("  decided by: {what}").format(what=row["decided_by"]))
        if row["gives_up"]:
            print(tr("  gives up: {what}").format(what="; ".join(row["gives_up"])))
        print(f"  {row['rests_on']}")
        if "file" in row:
            print(tr("  written to {file}").format(file=row["file"]))
    for title, lines in (
        (tr("What it takes to pass"), data["takes"]),
        (tr("All of them have"), data["shared"]),
        (tr("Why not"), [lost["why"] for lost in data["lost"]]),
        (tr("No way"), data["no_way"]),
    ):
        if lines:
            print(f"\n{title}")
            for line in lines:
                print(f"  {line}")
    sys.stdout.flush()
