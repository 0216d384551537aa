# SPDX-License-Identifier: GPL-3.0-or-later
"""Parse the command line and call the one function behind each word."""

from __future__ import annotations

import argparse
import difflib
import gettext
import sys
from collections.abc import Callable, Sequence
from pathlib import Path

from gravidon import __version__
from gravidon.errors import GravidonError, PlanFileError
from gravidon.plan.model import Plan
from gravidon.translate import DOMAIN, locales, tr

OK, FAILS, UNUSABLE = 0, 1, 2
WORDS = (
    "check", "plan", "replay", "simulate", "logger", "log", "diagnose", "calc", "sheet", "dxf", "handbook", "screenshots", "schema", "open", "demo",
)  # fmt: skip


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> None:  # type: ignore[override]
        """One line on stderr, exit 2."""
        self.exit(UNUSABLE, f"gravidon: {message}\n")


def build_parser() -> argparse.ArgumentParser:
    """Return the parser with every command."""
    from gravidon.cli import calc, check, diagnose, files, log, plan, replay, simulate, window

    parser = _Parser(
        prog="gravidon",
        description=tr("Plan a turbocharger's oil feed and gravity drain."),
        formatter_class=argparse.RawDescriptionHelpFormatter,
        epilog=(
            tr(
                "Without a command the window opens with the last plan; 'gravidon PLAN' opens a file.\n"
                "A PLAN is a plan file, or the name of a demo: demo (estate), coupe, special, van.\n\n"
                "  gravidon check coupe --units imperial\n"
                "  gravidon sheet my-car.gravidon -o sheet.pdf\n"
                "  gravidon plan my-car.gravidon --lock tap -o plans/\n\n"
                "Exit status: 0 fine, 1 the plan fails (or a seal would wet, or the feed closes), 2 the input cannot be used."
            )
        ),
    )
    parser.add_argument(
        "--version", action="version", version="%(prog)s " + __version__, help=tr("show the version and exit")
    )
    parser.add_argument(
        "--uninstall-user-data",
        action="store_true",
        help=tr("say what is kept for this user, and remove it if agreed"),
    )
    parser.add_argument("--yes", action="store_true", help=tr("with --uninstall-user-data: agree to it"))
    commands = parser.add_subparsers(dest="command", metavar="COMMAND", parser_class=_Parser)
    for module in (check, plan, replay, simulate, log, diagnose, calc, files, window):
        module.add(commands)
    return parser


def main(arguments: Sequence[str] | None = None) -> int:
    """Run Gravidon and return the exit status: 0 fine, 1 the plan fails, 2 unusable input."""
    gettext.bindtextdomain(DOMAIN, str(locales()))  # argparse asks gettext of its own accord
    gettext.textdomain(DOMAIN)
    given = list(sys.argv[1:] if arguments is None else arguments)
    if not given or (given[0] not in WORDS and not given[0].startswith("-")):
        given = ["open", *given]
    try:
        _is_a_plan(given)
        options = build_parser().parse_args(given)
        if options.uninstall_user_data:
            from gravidon.cli.user_data import uninstall

            return uninstall(options.yes)
        if options.command is None:
            return OK
        run: Callable[[argparse.Namespace], int] = options.run
        return run(options)
    except GravidonError as error:
        print(f"gravidon: {' '.join(str(error).split())}", file=sys.stderr)
        return UNUSABLE
    except BrokenPipeError:
        return OK


def _is_a_plan(given: Sequence[str]) -> None:
    """Raise PlanFileError for a word that is neither a command nor a file, with the command it was likely meant to be."""
    if given[0] != "open" or len(given) < 2 or given[1].startswith("-") or Path(given[1]).exists():
        return
    near = difflib.get_close_matches(given[1], WORDS, 1)
    if near:
        raise PlanFileError(
            tr("'{word}' is no command and no file; did you mean '{near}'?").format(
                word=given[1], near=near[0]
            )
        )
    if len(given) > 2:
        raise PlanFileError(
            tr("'{word}' is no command and no file; gravidon --help lists the commands").format(word=given[1])
        )


def plan_named(name: str) -> Plan:
    """Return the plan a user named: a file, or 'demo'.

    Raises: PlanFileError if it cannot be read.
    """
    from gravidon.plan import demos, storage

    if name == "demo" or name in demos.NAMES:
        return demos.demo_plan("estate" if name == "demo" else name)
    return storage.load(Path(name))
