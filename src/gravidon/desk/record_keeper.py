# SPDX-License-Identifier: GPL-3.0-or-later
"""The trainer's record: one file of JSON lines with the user's own state, added to at every case and drill."""

from __future__ import annotations

from pathlib import Path

from platformdirs import user_state_path

from gravidon.errors import PlanFileError
from gravidon.plan.files import read_file
from gravidon.study.diagnosis.trainer import Mark, marks_from, marks_text

MOST_RECORD = 20_000_000
"""[bytes] of a record."""


class RecordKeeper:
    """Reads the record and adds to it; where it cannot be written it is kept for this window only."""

    def __init__(self, path: Path | None = None) -> None:
        self.path = path or user_state_path("gravidon") / "trainer.jsonl"
        try:
            self.marks = marks_from(read_file(self.path, MOST_RECORD).decode("utf-8", "replace"))
        except PlanFileError:
            self.marks = ()

    def add(self, mark: Mark) -> bool:
        """Add a mark; return whether it is on the disk."""
        self.marks = (*self.marks, mark)
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            with self.path.open("a", encoding="utf-8") as file:
                file.write(marks_text((mark,)))
        except OSError:
            return False
        return True
