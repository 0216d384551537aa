# SPDX-License-Identifier: GPL-3.0-or-later
"""Files in and out: only regular ones are read, under a limit; what is written is there whole or not at all, as its owner had it."""

from __future__ import annotations

import json
import os
import stat
import time
import uuid
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path
from typing import Any, NoReturn

from gravidon.errors import PlanFileError
from gravidon.translate import tr

PART = ".gravidon-part"
"""Ending of a file that is being written; `.<name>.<process>.<chance>` before it."""
STALE_S = 60.0
"""[s] after which a half-written file of a process that is gone is thrown away; project choice."""


def _why(error: OSError | RuntimeError) -> str:
    return (error.strerror if isinstance(error, OSError) else None) or str(error)


def read_file(path: Path, most: int) -> bytes:
    """Return a file's bytes.

    Raises: PlanFileError, naming the file, if it is no regular file, larger than `most` bytes, or cannot be read.
    """
    try:
        with os.fdopen(os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC), "rb") as file:
            found = os.fstat(file.fileno())
            if not stat.S_ISREG(found.st_mode):
                raise PlanFileError(tr("{name}: expected a file").format(name=path.name))
            data = file.read(most + 1) if found.st_size <= most else b"\0" * (most + 1)
    except (OSError, RuntimeError, ValueError) as error:
        why = str(error) if isinstance(error, ValueError) else _why(error)
        raise PlanFileError(tr("{name}: cannot be read: {why}").format(name=path.name, why=why)) from error
    if len(data) > most:
        raise PlanFileError(
            tr("{name}: larger than {most:.0f} MB; is it another kind of file?").format(
                name=path.name, most=most / 1e6
            )
        )
    return data


def is_file(path: Path | str) -> bool:
    """Return whether there is a file of that name; False also for a name that cannot be one."""
    try:
        return Path(path).is_file()
    except (OSError, ValueError):
        return False


def _refuse_constant(text: str) -> NoReturn:
    raise PlanFileError(tr("{text} stands where a finite number was expected").format(text=text))


def _no_doubles(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise PlanFileError(tr("the key '{key}' stands twice in one object").format(key=key), key)
        found[key] = value
    return found


def json_object(text: str) -> dict[str, Any]:
    """Return the JSON object that a text holds: finite numbers, no key twice, no deeper than it can be walked.

    Raises: PlanFileError saying where it is none.
    """
    try:
        data = json.loads(text, parse_constant=_refuse_constant, object_pairs_hook=_no_doubles)
    except json.JSONDecodeError as error:
        message = tr("not readable as JSON at line {lineno}, column {colno}: {msg}").format(
            lineno=error.lineno, colno=error.colno, msg=error.msg
        )
        raise PlanFileError(message) from error
    except RecursionError as error:
        raise PlanFileError(tr("nested far deeper than any plan")) from error
    except ValueError as error:  # a whole number of thousands of digits
        raise PlanFileError(tr("a number is too large to use ({error})").format(error=error)) from error
    if not isinstance(data, dict):
        raise PlanFileError(tr("expected one JSON object"))
    return data


def write_atomically(path: Path, data: bytes, like: Path | None = None, mode: int | None = None) -> None:
    """Write a file so that a crash leaves either the old or the new one whole.

    A link stays a link: what it points at is written. Mode and owner stay those of the file that is replaced, or of `like`; a new file is made as the
    umask says, or with `mode`.

    Raises: PlanFileError if it cannot be written, or is write-protected.
    """
    temporary: Path | None = None
    try:
        path = path.resolve()
        model = next((p for p in (path, like) if p is not None and p.exists()), None)
        found = model.stat() if model is not None else None
        if path.exists() and not path.stat().st_mode & 0o222:
            raise PlanFileError(tr("{name}: is write-protected").format(name=path.name))
        short = path.name.encode("utf-8", "surrogateescape")[:150].decode("utf-8", "ignore")
        part = path.parent / f".{short}.{os.getpid()}.{uuid.uuid4().hex[:8]}{PART}"
        wanted = mode if mode is not None else 0o666
        handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, wanted)
        temporary = part
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            if found is not None:
                with suppress(PermissionError):
                    os.fchown(file.fileno(), found.st_uid, found.st_gid)
                os.fchmod(file.fileno(), stat.S_IMODE(found.st_mode))
            os.fsync(file.fileno())
        part.replace(path)
        folder = os.open(path.parent, os.O_RDONLY)
        try:
            os.fsync(folder)
        finally:
            os.close(folder)
    except (OSError, RuntimeError) as error:
        if temporary is not None:
            temporary.unlink(missing_ok=True)
        raise PlanFileError(
            tr("{name}: cannot be written into {folder}: {why}").format(
                name=path.name, folder=path.parent, why=_why(error)
            )
        ) from error


def clear_leftovers(*folders: Path) -> None:
    """Throw away what a crash left half written in some folders; what a living process writes stays."""
    for folder in folders:
        with suppress(OSError):
            for part in folder.glob(f".*{PART}"):
                pid = part.name.removesuffix(PART).rsplit(".", 2)[-2]
                gone = not (pid.isdigit() and Path(f"/proc/{pid}").exists())
                if gone and time.time() - part.stat().st_mtime > STALE_S:
                    part.unlink(missing_ok=True)


def refuse_onto(output: Path, inputs: Iterable[Path | str]) -> None:
    """Raise PlanFileError if an output is one of the files that are read, or stands beside a plan as its logbook or backup."""
    try:
        for one in inputs:
            if is_file(one) and output.exists() and output.samefile(one):
                raise PlanFileError(
                    tr("{name}: is what is read; name another file to write").format(name=output.name)
                )
    except OSError:  # it cannot be looked at: writing will say why
        return
    if output.name.endswith((".gravidon-log", ".gravidon-backup")):
        raise PlanFileError(
            tr("{name}: keeps a logbook or a backup; name another file").format(name=output.name)
        )
