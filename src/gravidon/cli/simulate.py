# SPDX-License-Identifier: GPL-3.0-or-later
"""`gravidon simulate PLAN` and `gravidon logger PLAN`: a simulated car, as a file or as a device on a serial port."""

from __future__ import annotations

import argparse
import math
import sys
import time
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any

from gravidon.cli.main import OK, plan_named
from gravidon.errors import InputError, PlanFileError
from gravidon.translate import tr

if TYPE_CHECKING:
    from gravidon.records.recording import Recording


def add(commands: Any) -> None:
    """Add both commands."""
    simulate = commands.add_parser("simulate", help=tr("run a simulated car; write what its senders show"))
    _scenario(simulate)
    simulate.add_argument(
        "-o", "--output", required=True, metavar="FILE", help=tr("CSV to write; compressed if it ends in .gz")
    )
    simulate.set_defaults(run=run)
    logger = commands.add_parser(
        "logger", help=tr("play a simulated car, or a recording, on a pseudo-terminal")
    )
    _scenario(logger)
    logger.add_argument(
        "--recording", metavar="FILE", help=tr("play this recording instead of a simulated car")
    )
    logger.add_argument("--speed", type=float, default=1.0, help=tr("times as fast as it was (1: as it was)"))
    logger.add_argument("--link", metavar="PATH", help=tr("also make the port known under this name"))
    logger.set_defaults(run=run_logger)


def _scenario(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("plan", help=tr("a plan file, or 'demo'"))
    parser.add_argument(
        "--script",
        default="first-start",
        help=tr(
            "a script's name (first-start, no-oil, warm-up, drive), a file of stretches, or such as 'crank 12, idle 60, 2500 rpm 2 min load=0.3'"
        ),
    )
    parser.add_argument("--seed", type=int, default=1, help=tr("which car: its hidden values and its noise"))
    parser.add_argument(
        "--fault",
        action="append",
        default=[],
        help=tr(
            "screen, choked, kinked, wrong-hole, weak-pump, worn, leak, sender-inlet and others; choked=0.9@40+20 is as bad as 0.9, from 40 s, over 20 s"
        ),
    )
    parser.add_argument(
        "--oil", type=float, default=15.0, metavar="°C", help=tr("oil temperature at the start")
    )
    parser.add_argument("--rate", type=float, default=20.0, help=tr("rows a second, 1 to 50"))
    parser.add_argument(
        "--full", action="store_true", help=tr("gallery and lines are full of oil at the start")
    )


MOST_SCRIPT = 100_000
"""[bytes] of a script in a file."""


def _script(text: str) -> str:
    """Return a script's words: those in a file, line by line, where there is one of that name.

    Raises: PlanFileError if it is a file that cannot be read.
    """
    from gravidon.plan.files import is_file, read_file

    path = Path(text)
    if len(text) > 200 or not is_file(path):
        return text
    try:
        lines = read_file(path, MOST_SCRIPT).decode("utf-8").splitlines()
    except UnicodeDecodeError as error:
        raise PlanFileError(tr("{name} cannot be read as a script").format(name=path.name)) from error
    return ", ".join(line.strip().strip(",") for line in lines if line.strip() and not line.startswith("#"))


def recorded(options: argparse.Namespace) -> Recording:
    """Return what the senders of the simulated car show."""
    from gravidon.study.car.car import Scenario, simulate
    from gravidon.study.car.faults import faulty_from
    from gravidon.study.car.script import script_from
    from gravidon.study.car.senses import sensed

    if not (math.isfinite(options.rate) and 1.0 <= options.rate <= 50.0):
        raise InputError("rate", options.rate, "1 to 50 rows a second")
    if not (math.isfinite(options.oil) and -40.0 <= options.oil <= 160.0):
        raise InputError("oil", options.oil, "-40 to 160 °C")
    if options.seed < 0:
        raise InputError("seed", options.seed, "0 or more")
    plan = plan_named(options.plan)
    step = 1.0 / (options.rate * math.ceil(20.0 / options.rate))
    scenario = Scenario(
        plan,
        script_from(_script(options.script), plan),
        options.seed,
        tuple(faulty_from(f) for f in options.fault),
        step,
        options.oil + 273.15,
        options.full,
    )
    return sensed(simulate(scenario), options.rate)


def run(options: argparse.Namespace) -> int:
    """Write the run."""
    from gravidon.records.recording import save

    made = recorded(options)
    save(made, Path(options.output))
    print(
        tr("{count} rows, {seconds:.0f} s: {file}").format(
            count=len(made), seconds=made.seconds, file=options.output
        )
    )
    return OK


def run_logger(options: argparse.Namespace) -> int:
    """Play until it ends or is stopped."""
    from gravidon.records.recording import read
    from gravidon.records.stand_in import StandIn
    from gravidon.study.car.senses import timed_lines

    if not (math.isfinite(options.speed) and 0.0 < options.speed <= 1000.0):
        raise InputError("speed", options.speed, "more than 0, at most 1000")
    made = read(Path(options.recording)) if options.recording else recorded(options)
    device = StandIn(timed_lines(made), options.speed)
    link = Path(options.link) if options.link else None
    try:
        if link is not None:
            try:
                link.symlink_to(device.port.name)
            except OSError as error:
                raise PlanFileError(
                    tr("{name} cannot be made: {why}").format(name=link.name, why=error.strerror)
                ) from error
        print(
            tr("playing {seconds:.0f} s on {port}").format(
                seconds=made.seconds, port=options.link or device.port.name
            ),
            flush=True,
        )
        device.start()
        while device.playing:
            time.sleep(0.1)
    except KeyboardInterrupt:
        print(tr("stopped"), file=sys.stderr)
    finally:
        if link is not None and link.is_symlink():
            with suppress(OSError):
                link.unlink()
        device.close()
    return OK
