"""`gravidon sheet` and `gravidon schema`: files out."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from gravidon.cli.main import OK, plan_named
from gravidon.plan.units import FAMILIES


def add(commands: Any) -> None:
    """Add the commands."""
    sheet = commands.add_parser("sheet", help="write the shop sheet with its workshop pages")
    sheet.add_argument("plan", help="a plan file, or the name of a demo")
    sheet.add_argument("-o", "--output", required=True, type=Path, help="FILE.pdf or FILE.html")
    sheet.add_argument("--units", choices=FAMILIES, default="metric", help="units on the sheet")
    sheet.add_argument(
        "--paper", default="", metavar="A4|Letter", help="paper of a PDF; by default the country's usual one"
    )
    sheet.set_defaults(run=run_sheet)
    schema = commands.add_parser("schema", help="print the plan file's JSON Schema")
    schema.set_defaults(run=run_schema)


def run_sheet(options: argparse.Namespace) -> int:
    """Write the sheet."""
    from gravidon import api

    print(api.sheet(plan_named(options.plan), options.output, options.units, options.paper))
    return OK


def run_schema(options: argparse.Namespace) -> int:
    """Print the schema."""
    from gravidon.plan.storage import json_schema

    print(json.dumps(json_schema(), indent=2, ensure_ascii=False))
    return OK
