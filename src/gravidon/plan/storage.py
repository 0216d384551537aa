# SPDX-License-Identifier: GPL-3.0-or-later
"""Reading and writing plan files. Writing is atomic and keeps one backup."""

from __future__ import annotations

import hashlib
import json
import os
import tempfile
from pathlib import Path
from typing import Any, NoReturn

from pydantic import ValidationError

from gravidon.errors import NewerFormatError, PlanFileError
from gravidon.plan.migrate import migrate
from gravidon.plan.model import FORMAT, FORMAT_VERSION, Plan
from gravidon.plan.problems import first_problem
from gravidon.translate import tr

SUFFIX = ".gravidon"
BACKUP_SUFFIX = ".gravidon-backup"
LARGEST_FILE = 5_000_000
"""[bytes] a plan is a few kilobytes; anything this large is another file."""


def _refuse_constant(text: str) -> NoReturn:
    raise PlanFileError(tr("{text} stands where a finite number was expected").format(text=text))


def _no_doubles(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise PlanFileError(tr("the key '{key}' stands twice in one object").format(key=key), key)
        found[key] = value
    return found


def plan_from_text(text: str) -> Plan:
    """Return the plan that a file's text holds.

    Raises: PlanFileError naming the field and what was expected; NewerFormatError for a file
    of a later format.
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
    if not isinstance(data, dict):
        raise PlanFileError(tr("expected one JSON object holding a plan"))
    if data.get("format") != FORMAT:
        raise PlanFileError(
            tr("format: {get!r}; expected '{format}'").format(
                get=str(data.get("format"))[:40], format=FORMAT
            ),
            "format",
        )
    version = data.get("format_version")
    if isinstance(version, bool) or not isinstance(version, int) or version < 1:
        raise PlanFileError(
            tr("format_version: {version!r}; expected a whole number of 1 or more").format(
                version=str(version)[:40]
            ),
            "format_version",
        )
    if version > FORMAT_VERSION:
        raise NewerFormatError(
            tr(
                "format_version: {version}; this Gravidon reads up to {format_version}. Open it with the version that wrote it"
            ).format(version=version, format_version=FORMAT_VERSION),
            "format_version",
        )
    try:
        data = migrate(data, FORMAT_VERSION)
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise PlanFileError(
            tr("not a whole plan of format version {version}: {error} is missing or wrong").format(
                version=version, error=error
            )
        ) from error
    try:
        return Plan.model_validate_json(json.dumps(data))
    except ValidationError as error:
        path, expected = first_problem(error)
        raise PlanFileError(
            tr("{place}: expected {expected}").format(place=path or "plan", expected=expected), path
        ) from error
    except ValueError as error:
        raise PlanFileError(tr("a number is too large to use ({error})").format(error=error)) from error


def plan_to_text(plan: Plan) -> str:
    """Return a plan as readable JSON, ending in a newline."""
    return json.dumps(plan.model_dump(mode="json", exclude_none=True), indent=2, ensure_ascii=False) + "\n"


def load(path: Path) -> Plan:
    """Return the plan in a file.

    Raises: PlanFileError, its message starting with the file's name.
    """
    try:
        if path.stat().st_size > LARGEST_FILE:
            raise PlanFileError(tr("far larger than any plan; is it another kind of file?"))
        text = path.read_bytes().decode("utf-8-sig")
        return plan_from_text(text)
    except UnicodeDecodeError as error:
        raise PlanFileError(tr("{name}: not text, so not a plan file").format(name=path.name)) from error
    except OSError as error:
        raise PlanFileError(f"{path.name}: {error.strerror or error}") from error
    except PlanFileError as error:
        raise type(error)(f"{path.name}: {error}", error.field) from error


def write_atomically(path: Path, data: bytes) -> None:
    """Write a file so that a crash leaves either the old or the new one whole.

    Raises: PlanFileError if the folder cannot be written.
    """
    try:
        handle, temporary = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
    except OSError as error:
        raise PlanFileError(
            tr("{name}: cannot write into {folder}: {why}").format(
                name=path.name, folder=path.parent, why=error.strerror
            )
        ) from error
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        mode = path.stat().st_mode & 0o777 if path.exists() else 0o644
        Path(temporary).chmod(mode)
        Path(temporary).replace(path)
        folder = os.open(path.parent, os.O_RDONLY)
        try:
            os.fsync(folder)
        finally:
            os.close(folder)
    except OSError as error:
        Path(temporary).unlink(missing_ok=True)
        raise PlanFileError(
            tr("{name}: cannot be written: {why}").format(name=path.name, why=error.strerror)
        ) from error


def stamp(path: Path) -> str:
    """Return what tells one content of a file from another; empty if it cannot be read."""
    try:
        return hashlib.sha256(path.read_bytes()).hexdigest()
    except OSError:
        return ""


def save(plan: Plan, path: Path) -> None:
    """Save a plan; the file it replaces is kept beside it with BACKUP_SUFFIX.

    Raises: PlanFileError if it cannot be written; the old file is then untouched.
    """
    text = plan_to_text(plan).encode("utf-8")
    path = path.resolve()
    if path.exists():
        try:
            write_atomically(path.with_suffix(BACKUP_SUFFIX), path.read_bytes())
        except OSError as error:
            raise PlanFileError(
                tr("{name}: cannot be read for its backup: {why}").format(name=path.name, why=error.strerror)
            ) from error
    write_atomically(path, text)


def json_schema() -> dict[str, Any]:
    """Return the JSON Schema of the plan file."""
    schema = Plan.model_json_schema()
    schema["$id"] = f"gravidon-plan-{FORMAT_VERSION}.schema.json"
    schema["title"] = "Gravidon plan"
    return schema
