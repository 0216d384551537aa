# SPDX-License-Identifier: GPL-3.0-or-later
"""Autosave: unsaved work is kept in a recovery file and offered after a crash."""

from __future__ import annotations

import json
import os
import uuid
from dataclasses import dataclass
from pathlib import Path

from gravidon.errors import PlanFileError
from gravidon.plan.model import Plan
from gravidon.plan.storage import plan_from_text, plan_to_text, write_atomically


@dataclass(frozen=True)
class Recovered:
    """A plan found after a crash: the plan, the file it came from (None if never saved), its recovery file, and a logbook of its own that stood beside no file."""

    plan: Plan
    original: Path | None
    file: Path
    log: Path | None = None


class Recovery:
    """The recovery file of one window."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.file = folder / f"{uuid.uuid4().hex}.json"

    def keep(self, plan: Plan, original: Path | None, log: Path | None = None) -> None:
        """Write the plan as it stands; a full disk is reported by the next real save."""
        data = {
            "pid": os.getpid(),
            "original": str(original) if original else None,
            "plan": plan_to_text(plan),
            "log": str(log) if log and not original else None,
        }
        try:
            write_atomically(self.file, json.dumps(data).encode("utf-8"))
        except PlanFileError:
            return

    def drop(self) -> None:
        """Forget it: the work is saved or deliberately thrown away."""
        self.file.unlink(missing_ok=True)


def _alive(pid: int) -> bool:
    return Path(f"/proc/{pid}").exists()


def find_recoverable(folder: Path) -> list[Recovered]:
    """Return what windows that are gone left behind; unreadable leftovers are put aside, not deleted."""
    found = []
    for file in sorted(folder.glob("*.json"), key=lambda f: f.stat().st_mtime, reverse=True):
        try:
            data = json.loads(file.read_text(encoding="utf-8"))
            if _alive(int(data["pid"])):
                continue
            plan = plan_from_text(data["plan"])
            original = Path(data["original"]) if data["original"] else None
            log = Path(data["log"]) if data.get("log") else None
        except (OSError, ValueError, KeyError, TypeError, PlanFileError):
            file.rename(file.with_suffix(".unreadable"))
            continue
        found.append(Recovered(plan, original, file, log))
    return found
