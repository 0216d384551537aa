# SPDX-License-Identifier: GPL-3.0-or-later
"""`gravidon`, `gravidon demo`, `gravidon PLAN`, `gravidon screenshots`: the window."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from gravidon.cli.main import OK
from gravidon.translate import tr


def add(commands: Any) -> None:
    """Add the commands."""
    demo = commands.add_parser("demo", help=tr("open the window with the main demo plan"))
    demo.set_defaults(run=run_open, plan="demo")
    opened = commands.add_parser("open", help=tr("open the window with a plan file"))
    opened.add_argument("plan", nargs="?", help=tr("a plan file, or 'demo'"))
    opened.set_defaults(run=run_open)
    shots = commands.add_parser("screenshots", help=tr("render the main views from the demo"))
    shots.add_argument("-o", "--output", type=Path, default=Path("docs/screenshots"), help=tr("folder"))
    shots.set_defaults(run=run_screenshots)


def run_open(options: argparse.Namespace) -> int:
    """Open the window; a file that cannot be used is refused before it opens."""
    if options.plan is not None and options.plan != "demo":
        from gravidon.plan.storage import load

        load(Path(options.plan))
    from gravidon.desk.application import run

    return run(options.plan)


def run_screenshots(options: argparse.Namespace) -> int:
    """Render the pictures."""
    from gravidon.desk.screenshots import render_all

    for path in render_all(options.output):
        print(path)
    return OK
