# SPDX-License-Identifier: GPL-3.0-or-later
"""Autosave: unsaved work is kept in a recovery file and offered after a crash."""

from __future__ import annotations

import json
import os
import uuid
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from gravidon.errors import PlanFileError
from gravidon.plan.files import json_object, read_file, write_atomically
from gravidon.plan.model import Plan
from gravidon.plan.storage import LARGEST_FILE, plan_from_text, plan_to_text, stamp

MOST_BYTES = 2 * LARGEST_FILE
"""[bytes] of a recovery file."""


@dataclass(frozen=True)
class Recovered:
    """A plan found after a crash: the plan, the file it came from (None if never saved), its recovery file, when it was kept [s since 1970], what the plan's
    file was when it was last read or written then, and a logbook of its own that stood beside no file."""

    plan: Plan
    original: Path | None
    file: Path
    kept_s: float
    stamp: str = ""
    log: Path | None = None

    @property
    def file_is_newer(self) -> bool:
        """Whether the plan's own file was written since by somebody else."""
        return self.original is not None and stamp(self.original) not in ("", self.stamp)


class Recovery:
    """The recovery file of one window."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.file = folder / f"{uuid.uuid4().hex}.json"

    def keep(self, plan: Plan, original: Path | None, log: Path | None = None, known: str = "") -> None:
        """Write the plan as it stands, for nobody else to read; `known` is the stamp of its file. A full disk is reported by the next real save."""
        data = {
            "pid": os.getpid(),
            "began": _began(os.getpid()),
            "original": str(original) if original else None,
            "stamp": known,
            "plan": plan_to_text(plan),
            "log": str(log) if log and not original else None,
        }
        try:
            write_atomically(self.file, json.dumps(data).encode("utf-8"), mode=0o600)
        except PlanFileError:
            return

    def drop(self) -> None:
        """Forget it: the work is saved or deliberately thrown away."""
        with suppress(OSError):
            self.file.unlink(missing_ok=True)


def _began(pid: int) -> str:
    """Return what tells a process from a later one of the same number; empty for none that lives."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[19]
    except (OSError, IndexError):
        return ""


def _alive(pid: int, began: str) -> bool:
    now = _began(pid)
    return bool(now) and began in ("", now)


def find_recoverable(folder: Path) -> list[Recovered]:
    """Return what windows that are gone left behind, the latest first; unreadable leftovers are put aside, not deleted."""
    found = []
    for file in folder.glob("*.json"):
        try:
            data = _data(file)
            if not _alive(int(data["pid"]), str(data.get("began", ""))):
                found.append(_recovered(file, data))
        except Exception:  # noqa: BLE001  whatever it holds, the others are still looked for
            with suppress(OSError):
                file.rename(file.with_suffix(".unreadable"))
    return sorted(found, key=lambda r: r.kept_s, reverse=True)


def recovered(file: Path) -> Recovered | None:
    """Return what a recovery file holds, whoever wrote it; None for one that cannot be read."""
    try:
        return _recovered(file, _data(file))
    except Exception:  # noqa: BLE001  whatever it holds
        return None


def _data(file: Path) -> dict[str, Any]:
    return json_object(read_file(file, MOST_BYTES).decode("utf-8"))


def _recovered(file: Path, data: dict[str, Any]) -> Recovered:
    original = Path(data["original"]) if data["original"] else None
    log = Path(data["log"]) if data.get("log") else None
    kept_s = file.stat().st_mtime
    return Recovered(plan_from_text(data["plan"]), original, file, kept_s, str(data.get("stamp", "")), log)
