# SPDX-License-Identifier: GPL-3.0-or-later
"""`gravidon sheet` and `gravidon schema`: files out."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from gravidon.cli.main import OK, plan_named
from gravidon.plan.units import FAMILIES
from gravidon.translate import tr


def add(commands: Any) -> None:
    """Add the commands."""
    sheet = commands.add_parser("sheet", help=tr("write the shop sheet with its workshop pages"))
    sheet.add_argument("plan", help=tr("a plan file, or the name of a demo"))
    sheet.add_argument("-o", "--output", required=True, type=Path, help=tr("FILE.pdf or FILE.html"))
    sheet.add_argument("--units", choices=FAMILIES, default="metric", help=tr("units on the sheet"))
    sheet.add_argument(
        "--paper",
        default="",
        metavar="A4|Letter",
        help=tr("paper of a PDF; by default the country's usual one"),
    )
    sheet.add_argument(
        "--chance",
        action="store_true",
        help=tr("sample what is not measured, and print how often the plan fails"),
    )
    sheet.set_defaults(run=run_sheet)
    dxf = commands.add_parser(
        "dxf", help=tr("write the entry template, the pan's wall or the flange plates as DXF")
    )
    dxf.add_argument("plan", help=tr("a plan file, or the name of a demo"))
    dxf.add_argument("-o", "--output", required=True, type=Path, help=tr("FILE.dxf"))
    dxf.add_argument(
        "--what",
        choices=("template", "wall", "plates"),
        default="template",
        help=tr("what is drawn, in mm at true scale"),
    )
    dxf.add_argument("--turbo", type=int, default=1, help=tr("which turbo, from 1"))
    dxf.set_defaults(run=run_dxf)
    book = commands.add_parser(
        "handbook", help=tr("write the whole handbook as one HTML page, with figures of a plan")
    )
    book.add_argument("plan", nargs="?", default="coupe", help=tr("a plan file, or the name of a demo"))
    book.add_argument("-o", "--output", required=True, type=Path, help=tr("FILE.html"))
    book.add_argument("--units", choices=FAMILIES, default="metric", help=tr("units of its numbers"))
    book.set_defaults(run=run_handbook)
    schema = commands.add_parser("schema", help=tr("print the plan file's JSON Schema"))
    schema.set_defaults(run=run_schema)


def run_sheet(options: argparse.Namespace) -> int:
    """Write the sheet."""
    from gravidon import api

    plan = plan_named(options.plan)
    if options.chance:
        api.chance(plan)
    print(api.sheet(plan, options.output, options.units, options.paper))
    return OK


def run_dxf(options: argparse.Namespace) -> int:
    """Write the drawing."""
    from gravidon import api

    print(api.dxf(plan_named(options.plan), options.output, options.what, options.turbo))
    return OK


def run_handbook(options: argparse.Namespace) -> int:
    """Write the handbook."""
    from gravidon.plan.files import write_atomically
    from gravidon.sheet.handbook_html import handbook_html
    from gravidon.study.verdict.trials import trial

    e = trial(plan_named(options.plan)).evaluation.of(0)
    warm = next((k for k, c in enumerate(e.plan.conditions) if c.kind.driving), 0)
    write_atomically(options.output, handbook_html(e, warm, options.units).encode("utf-8"))
    print(options.output)
    return OK


def run_schema(options: argparse.Namespace) -> int:
    """Print the schema."""
    from gravidon.plan.storage import json_schema

    print(json.dumps(json_schema(), indent=2, ensure_ascii=False))
    return OK
