# SPDX-License-Identifier: GPL-3.0-or-later
"""Where kept answers lie: one compressed text a topic, every plan of it under its name."""

from __future__ import annotations

import gzip
import json
from functools import cache
from pathlib import Path

FOLDER = Path(__file__).parent / "answers"


@cache
def _topic(topic: str) -> dict[str, str]:
    path = FOLDER / f"{topic}.json.gz"
    kept: dict[str, str] = json.loads(gzip.decompress(path.read_bytes())) if path.exists() else {}
    return kept


def kept_text(topic: str, name: str) -> str:
    """Return what was kept of a topic for a plan; nothing where it is new."""
    return _topic(topic).get(name, "")


def keep(topic: str, texts: dict[str, str]) -> None:
    """Keep a topic's answers; the same answers make the same file."""
    FOLDER.mkdir(exist_ok=True)
    (FOLDER / f"{topic}.json.gz").write_bytes(gzip.compress(json.dumps(texts, indent=0).encode(), 9, mtime=0))
