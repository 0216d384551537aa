# SPDX-License-Identifier: GPL-3.0-or-later
"""The logbook: one SQLite file beside the plan. What was confirmed stays, whoever is killed; two windows may write at once.

WAL with full synchronising: a commit is on the disk before it is confirmed. Every entry is one transaction.
"""

from __future__ import annotations

import math
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any

from gravidon.errors import LogbookError
from gravidon.records.entry import Entry, Reading
from gravidon.translate import tr

SUFFIX = ".gravidon-log"
RECORDINGS = "-recordings"
"""Ending of the folder beside a logbook that holds its recordings."""
APPLICATION = 0x47726176
"""SQLite's application id of a logbook: 'Grav'."""
BUSY_S = 8.0
"""[s] one window waits for another's transaction."""

_FIRST = """
CREATE TABLE entries (
  id INTEGER PRIMARY KEY, uid TEXT NOT NULL UNIQUE, day TEXT NOT NULL, distance_m REAL, kind TEXT NOT NULL, note TEXT NOT NULL DEFAULT '');
CREATE TABLE readings (
  id INTEGER PRIMARY KEY, entry INTEGER NOT NULL REFERENCES entries(id) ON DELETE CASCADE, turbo INTEGER NOT NULL DEFAULT 0,
  rpm REAL NOT NULL, oil_k REAL NOT NULL, gallery_pa REAL, inlet_pa REAL);
CREATE TABLE symptoms (id INTEGER PRIMARY KEY, entry INTEGER NOT NULL REFERENCES entries(id) ON DELETE CASCADE, sign TEXT NOT NULL);
CREATE TABLE changes (id INTEGER PRIMARY KEY, entry INTEGER NOT NULL REFERENCES entries(id) ON DELETE CASCADE, what TEXT NOT NULL);
CREATE INDEX entries_by_day ON entries(day, id);
CREATE INDEX readings_by_entry ON readings(entry);
"""
_SECOND = """
CREATE TABLE photos (id INTEGER PRIMARY KEY, entry INTEGER NOT NULL UNIQUE REFERENCES entries(id) ON DELETE CASCADE, data BLOB NOT NULL);
CREATE TABLE recordings (
  id INTEGER PRIMARY KEY, entry INTEGER NOT NULL UNIQUE REFERENCES entries(id) ON DELETE CASCADE, file TEXT NOT NULL);
"""
_THIRD = """
CREATE TABLE kept (name TEXT PRIMARY KEY, text TEXT NOT NULL);
"""
MIGRATIONS: tuple[str, ...] = (_FIRST, _SECOND, _THIRD)
"""From each version of the tables to the next; the first makes them."""
VERSION = len(MIGRATIONS)


def book_path(plan_path: Path) -> Path:
    """Return where a plan's logbook is."""
    return plan_path.with_suffix(SUFFIX)


def recordings_folder(book: Path) -> Path:
    """Return where a logbook's recordings are."""
    return book.with_name(book.name.removesuffix(SUFFIX) + RECORDINGS)


class Book:
    """An open logbook. Made where there is none; `path` None keeps it in memory."""

    def __init__(self, path: Path | None) -> None:
        self.path = path
        try:
            self._base = sqlite3.connect(path or ":memory:", timeout=BUSY_S, isolation_level=None)
            self._base.execute("PRAGMA foreign_keys = ON")
            self._base.execute("PRAGMA synchronous = FULL")
            self._migrate()
            if path is not None:
                self._base.execute("PRAGMA journal_mode = WAL")
        except sqlite3.DatabaseError as error:
            raise self._told(error) from error

    def _told(self, error: sqlite3.Error) -> LogbookError:
        name = self.path.name if self.path else "logbook"
        words = str(error)
        if "not a database" in words or "malformed" in words:
            return LogbookError(
                tr("{name}: not a logbook, or damaged; it is left as it is").format(name=name)
            )
        if "unable to open" in words or "readonly" in words or "read-only" in words:
            return LogbookError(tr("{name}: cannot be opened for writing").format(name=name))
        if "locked" in words:
            return LogbookError(tr("{name}: another program holds it; try again").format(name=name))
        return LogbookError(f"{name}: {words}")

    def _migrate(self) -> None:
        version = int(self._base.execute("PRAGMA user_version").fetchone()[0])
        if version > VERSION:
            raise LogbookError(
                tr(
                    "{name}: made by a later Gravidon (tables of version {version}; this one knows {known})"
                ).format(name=self.path.name if self.path else tr("logbook"), version=version, known=VERSION)
            )
        if version == VERSION:
            return
        with self._transaction():
            # another window may have done it while this one waited
            version = int(self._base.execute("PRAGMA user_version").fetchone()[0])
            others = self._base.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]
            if version == 0 and others:
                raise LogbookError(
                    tr("{name}: a database of something else; it is left as it is").format(
                        name=self.path.name if self.path else tr("logbook")
                    )
                )
            for script in MIGRATIONS[version:]:
                for statement in script.split(";"):
                    if statement.strip():
                        self._base.execute(statement)
            self._base.execute(f"PRAGMA user_version = {VERSION}")
            self._base.execute(f"PRAGMA application_id = {APPLICATION}")

    @contextmanager
    def _transaction(self) -> Iterator[None]:
        """One transaction: all of it or nothing."""
        try:
            self._base.execute("BEGIN IMMEDIATE")
        except sqlite3.Error as error:
            raise self._told(error) from error
        try:
            yield
            self._base.execute("COMMIT")
        except sqlite3.Error as error:
            self._undo()
            raise self._told(error) from error
        except BaseException:
            self._undo()
            raise

    def _undo(self) -> None:
        if self._base.in_transaction:
            self._base.execute("ROLLBACK")

    def close(self) -> None:
        """Close it."""
        self._base.close()

    # --- writing -------------------------------------------------------------------------------

    def add(self, *entries: Entry) -> None:
        """Add entries, all or none. When it returns they are on the disk.

        Raises: InputError for what cannot be kept; LogbookError if it cannot be written.
        """
        checked = [e.checked() for e in entries]
        with self._transaction():
            for entry in checked:
                self._insert(entry)

    def change(self, entry: Entry) -> None:
        """Put an entry in the place of the one of its name; its photo stays where none is given.

        Raises: InputError, LogbookError as `add`; LogbookError if it is no longer there.
        """
        entry = entry.checked()
        with self._transaction():
            found = self._base.execute("SELECT id FROM entries WHERE uid = ?", (entry.uid,)).fetchone()
            if found is None:
                raise LogbookError("the entry is no longer in the logbook")
            photo = self._base.execute("SELECT data FROM photos WHERE entry = ?", found).fetchone()
            self._base.execute("DELETE FROM entries WHERE id = ?", found)
            self._insert(entry, found[0])
            if entry.photo is None and entry.has_photo and photo is not None:
                self._base.execute("INSERT INTO photos (entry, data) VALUES (?, ?)", (found[0], photo[0]))

    def remove(self, uid: str) -> None:
        """Take an entry out.

        Raises: LogbookError if it cannot be written.
        """
        with self._transaction():
            self._base.execute("DELETE FROM entries WHERE uid = ?", (uid,))

    def _insert(self, e: Entry, number: int | None = None) -> None:
        row = self._base.execute(
            "INSERT INTO entries (id, uid, day, distance_m, kind, note) VALUES (?, ?, ?, ?, ?, ?)",
            (number, e.uid, e.day, _or_none(e.distance_m), e.kind, e.note),
        )
        key = row.lastrowid
        self._base.executemany(
            "INSERT INTO readings (entry, turbo, rpm, oil_k, gallery_pa, inlet_pa) VALUES (?, ?, ?, ?, ?, ?)",
            [
                (key, r.turbo, r.rpm, r.oil_k, _or_none(r.gallery_pa), _or_none(r.inlet_pa))
                for r in e.readings
            ],
        )
        self._base.executemany(
            "INSERT INTO symptoms (entry, sign) VALUES (?, ?)", [(key, s) for s in e.symptoms]
        )
        self._base.executemany(
            "INSERT INTO changes (entry, what) VALUES (?, ?)", [(key, c) for c in e.changed]
        )
        if e.recording:
            self._base.execute("INSERT INTO recordings (entry, file) VALUES (?, ?)", (key, e.recording))
        if e.photo is not None:
            self._base.execute("INSERT INTO photos (entry, data) VALUES (?, ?)", (key, e.photo))

    # --- reading -------------------------------------------------------------------------------

    def entries(self) -> tuple[Entry, ...]:
        """Return all entries by day, without their photos' bytes.

        Raises: LogbookError if it cannot be read.
        """
        try:
            with closing(self._base.cursor()) as c:
                c.execute("BEGIN")
                rows = c.execute(
                    "SELECT id, uid, day, distance_m, kind, note FROM entries ORDER BY day, id"
                ).fetchall()
                readings = _by_entry(
                    c.execute(
                        "SELECT entry, rpm, oil_k, gallery_pa, inlet_pa, turbo FROM readings ORDER BY id"
                    )
                )
                signs = _by_entry(c.execute("SELECT entry, sign FROM symptoms ORDER BY id"))
                changes = _by_entry(c.execute("SELECT entry, what FROM changes ORDER BY id"))
                files = dict(c.execute("SELECT entry, file FROM recordings").fetchall())
                photos = {row[0] for row in c.execute("SELECT entry FROM photos")}
                c.execute("COMMIT")
        except sqlite3.Error as error:
            self._undo()
            raise self._told(error) from error
        return tuple(
            Entry(
                day,
                math.nan if distance is None else distance,
                kind,
                note,
                tuple(Reading(r, t, _or_nan(g), _or_nan(i), k) for r, t, g, i, k in readings.get(key, ())),
                tuple(s for (s,) in signs.get(key, ())),
                tuple(w for (w,) in changes.get(key, ())),
                files.get(key, ""),
                None,
                key in photos,
                uid,
            )
            for key, uid, day, distance, kind, note in rows
        )

    def photo(self, uid: str) -> bytes | None:
        """Return an entry's photo; None if it has none."""
        found = self._base.execute(
            "SELECT data FROM photos JOIN entries ON entries.id = photos.entry WHERE uid = ?", (uid,)
        ).fetchone()
        return None if found is None else bytes(found[0])

    def keep(self, name: str, text: str) -> None:
        """Keep a text under a name, such as the case that is being diagnosed; an empty one is thrown away.

        Raises: LogbookError if it cannot be written.
        """
        with self._transaction():
            if text:
                self._base.execute(
                    "INSERT INTO kept (name, text) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET text = excluded.text",
                    (name, text),
                )
            else:
                self._base.execute("DELETE FROM kept WHERE name = ?", (name,))

    def kept(self, name: str) -> str:
        """Return the text kept under a name; empty if there is none."""
        found = self._base.execute("SELECT text FROM kept WHERE name = ?", (name,)).fetchone()
        return "" if found is None else str(found[0])

    def seen(self) -> int:
        """Return a number that changes when another connection has written."""
        return int(self._base.execute("PRAGMA data_version").fetchone()[0])

    def copy_to(self, path: Path) -> Book:
        """Write the whole logbook to another file, and return that one, open.

        Raises: LogbookError if it cannot be written.
        """
        other = Book(path)
        try:
            self._base.backup(other._base)
        except sqlite3.Error as error:
            raise other._told(error) from error
        return other


def _by_entry(cursor: sqlite3.Cursor) -> dict[int, list[tuple[Any, ...]]]:
    found: dict[int, list[tuple[Any, ...]]] = {}
    for key, *rest in cursor:
        found.setdefault(key, []).append(tuple(rest))
    return found


def _or_none(value: float) -> float | None:
    return value if math.isfinite(value) else None


def _or_nan(value: float | None) -> float:
    return math.nan if value is None else value
