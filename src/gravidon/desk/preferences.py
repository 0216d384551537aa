# SPDX-License-Identifier: GPL-3.0-or-later
"""What the window remembers between starts: units, theme, sizes, recent files."""

from __future__ import annotations

import json
import os
import tempfile
from pathlib import Path
from typing import Any

from platformdirs import user_config_path, user_state_path

from gravidon.errors import PlanFileError
from gravidon.plan.files import is_file, json_object, read_file, write_atomically

MOST_RECENT = 8
MOST_BYTES = 1_000_000
"""[bytes] of what is remembered."""


class Preferences:
    """A small JSON file; a damaged one is forgotten, never fatal."""

    def __init__(self, path: Path | None = None) -> None:
        self.path = path or user_config_path("gravidon") / "preferences.json"
        try:
            self.values = json_object(read_file(self.path, MOST_BYTES).decode("utf-8"))
        except (PlanFileError, UnicodeDecodeError):
            self.values = {}

    def get(self, key: str, default: Any) -> Any:
        """Return a remembered value if it has the default's type."""
        value = self.values.get(key, default)
        return value if default is None or isinstance(value, type(default)) else default

    def put(self, key: str, value: Any) -> None:
        """Remember a value; failing to write is not an error the user must act on."""
        self.put_all(**{key: value})

    def put_all(self, **values: Any) -> None:
        """Remember several at once; nothing is written where nothing changed."""
        if all(key in self.values and self.values[key] == value for key, value in values.items()):
            return
        self.values |= values
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            write_atomically(self.path, json.dumps(self.values, indent=1).encode())
        except (OSError, PlanFileError):
            return

    def recent(self) -> list[Path]:
        """Return recent plan files that still exist, newest first."""
        names = self.get("recent", [])
        return [Path(n) for n in names if isinstance(n, str) and is_file(n)]

    def last(self) -> Path | None:
        """Return the plan file that was shown last; None where there is none."""
        name = self.get("last", "")
        return Path(name) if name and is_file(name) else None

    def add_recent(self, path: Path) -> None:
        """Put a file first among the recent ones."""
        names = [str(path), *(str(p) for p in self.recent() if p != path)]
        self.put("recent", names[:MOST_RECENT])


_state: Path | None = None


def state_folder() -> Path:
    """Return the folder for recovery files, made if need be; one that goes with the session where none can be kept."""
    global _state  # noqa: PLW0603  made once
    folder = user_state_path("gravidon") / "recovery"
    try:
        folder.mkdir(parents=True, exist_ok=True)
        if os.access(folder, os.W_OK):
            return folder
    except OSError:
        pass
    if _state is None:
        _state = Path(tempfile.mkdtemp(prefix="gravidon-"))
    return _state


def home() -> Path:
    """Return the user's home; the present folder for a user who has none."""
    try:
        return Path.home()
    except RuntimeError:
        return Path.cwd()
