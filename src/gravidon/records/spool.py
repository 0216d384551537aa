# SPDX-License-Identifier: GPL-3.0-or-later
"""A recording written while it is made: a crash loses at most the last second of it."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from pathlib import Path
from typing import TextIO

from gravidon.errors import PlanFileError
from gravidon.records.lines import Row, heading_line, row_line
from gravidon.translate import tr

FLUSH_S = 1.0
SUFFIX = ".part.csv"
"""Ending of a recording that is being made, or that a crash left."""


class Spool:
    """Appends rows to a file in the line format; a channel that comes later gets a new heading."""

    def __init__(self, path: Path, clock: Callable[[], float] = time.monotonic) -> None:
        self.path, self._clock = path, clock
        self._keys: tuple[str, ...] = ()
        self.rows = 0
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            self._file: TextIO | None = path.open("w", encoding="utf-8")
        except OSError as error:
            raise PlanFileError(
                tr("{name} cannot be written: {why}").format(name=path.name, why=error.strerror)
            ) from error
        self._flushed = clock()

    def add(self, row: Row) -> None:
        """Write a row.

        Raises: PlanFileError if the disk takes no more; what was written stays.
        """
        if self._file is None:
            return
        values = row.values
        try:
            if values.keys() - set(self._keys):
                self._keys = ("time", *(k for k in (*self._keys, *values) if k != "time"))
                self._keys = tuple(dict.fromkeys(self._keys))
                self._file.write(heading_line(self._keys) + "\n")
            self._file.write(row_line(self._keys, [values.get(k, float("nan")) for k in self._keys]) + "\n")
            self.rows += 1
            if self._clock() - self._flushed >= FLUSH_S:
                self._file.flush()
                self._flushed = self._clock()
        except OSError as error:
            self.close()
            raise PlanFileError(
                tr("{name} cannot be written: {why}").format(name=self.path.name, why=error.strerror)
            ) from error

    def close(self) -> None:
        """End it; the file stays."""
        if self._file is not None:
            try:
                self._file.flush()
                os.fsync(self._file.fileno())
                self._file.close()
            except OSError:
                pass
            self._file = None

    def drop(self) -> None:
        """End it and throw the file away."""
        self.close()
        self.path.unlink(missing_ok=True)
