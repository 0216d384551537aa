# SPDX-License-Identifier: GPL-3.0-or-later
"""Reading and writing plan files. Writing is atomic and keeps one backup."""

from __future__ import annotations

import hashlib
import json
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from gravidon.errors import NewerFormatError, PlanFileError
from gravidon.plan.files import json_object, read_file, write_atomically
from gravidon.plan.migrate import migrate
from gravidon.plan.model import FORMAT, FORMAT_VERSION, Plan
from gravidon.plan.problems import first_problem
from gravidon.translate import tr

SUFFIX = ".gravidon"
BACKUP_SUFFIX = ".gravidon-backup"
LARGEST_FILE = 5_000_000
"""[bytes] a plan is a few kilobytes; anything this large is another file."""
MOST_BACKED_UP = 100_000_000
"""[bytes] of a file that is kept beside the plan which replaces it."""


def plan_from_text(text: str) -> Plan:
    """Return the plan that a file's text holds.

    Raises: PlanFileError naming the field and what was expected; NewerFormatError for a file
    of a later format.
    """
    data = json_object(text)
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
    data = read_file(path, LARGEST_FILE)
    try:
        return plan_from_text(data.decode("utf-8-sig"))
    except UnicodeDecodeError as error:
        raise PlanFileError(tr("{name}: not text, so not a plan file").format(name=path.name)) from error
    except PlanFileError as error:
        raise type(error)(f"{path.name}: {error}", error.field) from error


def backup_path(path: Path) -> Path:
    """Return where a plan's backup is: each file has its own.

    >>> backup_path(Path("car.gravidon")).name, backup_path(Path("car 1.2")).name
    ('car.gravidon-backup', 'car 1.2.gravidon-backup')
    """
    return path.with_name(path.name.removesuffix(SUFFIX) + BACKUP_SUFFIX)


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
    try:
        path = path.resolve()
    except (OSError, RuntimeError) as error:
        raise PlanFileError(
            tr("{name}: cannot be written: {why}").format(name=path.name, why=error)
        ) from error
    if path.exists():
        write_atomically(backup_path(path), read_file(path, MOST_BACKED_UP), like=path)
    write_atomically(path, text)


def json_schema() -> dict[str, Any]:
    """Return the JSON Schema of the plan file."""
    schema = Plan.model_json_schema()
    schema["$id"] = f"gravidon-plan-{FORMAT_VERSION}.schema.json"
    schema["title"] = "Gravidon plan"
    return schema
