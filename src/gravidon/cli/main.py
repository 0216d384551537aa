# SPDX-License-Identifier: GPL-3.0-or-later
"""Parse the command line and call the one function behind each word."""

from __future__ import annotations

import argparse
import difflib
import os
import sys
from collections.abc import Callable, Sequence
from contextlib import redirect_stderr, redirect_stdout, suppress
from pathlib import Path
from typing import TextIO

from gravidon import __version__
from gravidon.cli.printed import Printed
from gravidon.errors import GravidonError, PlanFileError
from gravidon.plan.files import refuse_onto
from gravidon.plan.model import Plan
from gravidon.translate import offer_to_argparse, tr

OK, FAILS, UNUSABLE, STOPPED = 0, 1, 2, 130
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
    """Run Gravidon and return the exit status: 0 fine, 1 the plan fails, 2 unusable input or an output that cannot be written, 130 stopped by Ctrl-C."""
    offer_to_argparse()
    given = list(sys.argv[1:] if arguments is None else arguments)
    if not given or (given[0] not in WORDS and not given[0].startswith("-")):
        given = ["open", *given]
    with redirect_stdout(Printed(sys.stdout)), redirect_stderr(Printed(sys.stderr)):
        try:
            status = _run(given)
            sys.stdout.flush()
        except GravidonError as error:
            status = _said(" ".join(str(error).split()))
        except KeyboardInterrupt:
            _said(tr("stopped"))
            status = STOPPED
        except BrokenPipeError:
            status = OK
            _nothing_more(sys.stdout)
        except OSError as error:
            _nothing_more(sys.stdout)
            status = _said(tr("the output cannot be written: {why}").format(why=error.strerror or error))
    return status


def _said(words: str) -> int:
    with suppress(OSError):
        print(f"gravidon: {words}", file=sys.stderr)
    return UNUSABLE


def _nothing_more(stream: TextIO) -> None:
    """Nobody reads it, or it is full: what still waits goes nowhere, so that the interpreter's own flush at the end says nothing."""
    with suppress(OSError, ValueError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, stream.fileno())
        os.close(nowhere)


def _run(given: Sequence[str]) -> int:
    _is_a_plan(given)
    options = build_parser().parse_args(given)
    if options.uninstall_user_data:
        from gravidon.cli.user_data import uninstall

        return uninstall(options.yes)
    if options.command is None:
        return OK
    named = vars(options)
    outputs = [Path(named[k]) for k in ("output", "save") if isinstance(named.get(k), str | Path)]
    inputs = [v for k, v in named.items() if k not in ("output", "save") and isinstance(v, str | Path)]
    for output in outputs:
        refuse_onto(output, inputs)
    run: Callable[[argparse.Namespace], int] = options.run
    return run(options)


def _is_a_plan(given: Sequence[str]) -> None:
    """Raise PlanFileError for a word that is neither a command nor a file, with the command it was likely meant to be."""
    from gravidon.plan import demos

    if given[0] != "open" or len(given) < 2 or given[1].startswith("-") or given[1] in demos.NAMES:
        return
    with suppress(OSError, ValueError):
        if Path(given[1]).exists():
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
