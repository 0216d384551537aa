# SPDX-License-Identifier: GPL-3.0-or-later
"""Logbook and recordings that ship with the demos; all invented."""

from __future__ import annotations

import gzip
from importlib import resources

from gravidon.plan import demos
from gravidon.records.book_csv import from_csv
from gravidon.records.entry import Entry
from gravidon.records.recording import Recording, from_text
from gravidon.translate import tr

RECORDINGS: dict[str, str] = {
    "first-start-good": tr("a recorded first start that went well"),
    "first-start-stopped": tr("a recorded first start that was stopped"),
}
"""Recordings of the coupe by file, in words."""


def demo_log(name: str) -> tuple[Entry, ...]:
    """Return the entries of a demo's logbook; none where it has no logbook."""
    text = demos.demo_season(name)
    return from_csv(text) if text else ()


def demo_recording(key: str) -> Recording:
    """Return a recording that ships.

    Raises: KeyError for one that does not.
    """
    if key not in RECORDINGS:
        raise KeyError(key)
    file = resources.files("gravidon.plan.demos").joinpath(f"{key}.csv.gz")
    return from_text(gzip.decompress(file.read_bytes()).decode("utf-8"), RECORDINGS[key])
