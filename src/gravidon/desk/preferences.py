# SPDX-License-Identifier: GPL-3.0-or-later
"""What the window remembers between starts: units, theme, sizes, recent files."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from platformdirs import user_config_path, user_state_path

from gravidon.errors import PlanFileError
from gravidon.plan.storage import write_atomically

MOST_RECENT = 8


class Preferences:
    """A small JSON file; a damaged one is forgotten, never fatal."""

    def __init__(self, path: Path | None = None) -> None:
        self.path = path or user_config_path("gravidon") / "preferences.json"
        self.values: dict[str, Any] = {}
        try:
            loaded = json.loads(self.path.read_text(encoding="utf-8"))
            self.values = loaded if isinstance(loaded, dict) else {}
        except (OSError, ValueError):
            self.values = {}

    def get(self, key: str, default: Any) -> Any:
        """Return a remembered value if it has the default's type."""
        value = self.values.get(key, default)
        return value if default is None or isinstance(value, type(default)) else default

    def put(self, key: str, value: Any) -> None:
        """Remember a value; failing to write is not an error the user must act on."""
        self.values[key] = value
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            write_atomically(self.path, json.dumps(self.values, indent=1).encode())
        except (OSError, PlanFileError):
            return

    def recent(self) -> list[Path]:
        """Return recent plan files that still exist, newest first."""
        names = self.get("recent", [])
        return [Path(n) for n in names if isinstance(n, str) and Path(n).is_file()]

    def add_recent(self, path: Path) -> None:
        """Put a file first among the recent ones."""
        names = [str(path), *(str(p) for p in self.recent() if p != path)]
        self.put("recent", names[:MOST_RECENT])


def state_folder() -> Path:
    """Return the folder for recovery files, made if need be."""
    folder = user_state_path("gravidon") / "recovery"
    folder.mkdir(parents=True, exist_ok=True)
    return folder
