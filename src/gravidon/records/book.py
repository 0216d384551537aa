# SPDX-License-Identifier: GPL-3.0-or-later
"""The logbook: one SQLite file beside the plan. What was confirmed stays, whoever is killed; two windows may write at once.

A rollback journal with full synchronising: a commit is on the disk, in this one file, before it is confirmed, so that the file may be copied at any time
between two entries. Every entry is one transaction. A logbook comes from outside like any file: its tables are looked at, its rows checked.
"""

from __future__ import annotations

import math
import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from dataclasses import replace
from pathlib import Path
from typing import Any

from gravidon.errors import InputError, LogbookError
from gravidon.records.entry import Entry, Reading
from gravidon.translate import tr

SUFFIX = ".gravidon-log"
RECORDINGS = "-recordings"
"""Ending of the folder beside a logbook that holds its recordings."""
APPLICATION = 0x47726176
"""SQLite's application id of a logbook: 'Grav'."""
BUSY_S = 2.0
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
TABLES = frozenset(
    {"entries", "readings", "symptoms", "changes", "recordings", "photos", "kept", "sqlite_sequence"}
)
"""What a logbook holds."""
MIGRATIONS: tuple[str, ...] = (_FIRST, _SECOND, _THIRD)
"""From each version of the tables to the next; the first makes them."""
VERSION = len(MIGRATIONS)


def book_path(plan_path: Path) -> Path:
    """Return where a plan's logbook is: each plan has its own. One that an earlier Gravidon put beside a plan of another ending is still found.

    >>> book_path(Path("car.gravidon")).name, book_path(Path("car 1.2")).name
    ('car.gravidon-log', 'car 1.2.gravidon-log')
    """
    own = plan_path.with_name(plan_path.name.removesuffix(".gravidon") + SUFFIX)
    earlier = plan_path.with_suffix(SUFFIX)
    if (
        own != earlier
        and not own.exists()
        and earlier.exists()
        and not earlier.with_suffix(".gravidon").exists()
    ):
        return earlier
    return own


def recordings_folder(book: Path) -> Path:
    """Return where a logbook's recordings are."""
    return book.with_name(book.name.removesuffix(SUFFIX) + RECORDINGS)


class Book:
    """An open logbook. Made where there is none; `path` None keeps it in memory. One that cannot be written is opened for reading: `read_only`."""

    def __init__(self, path: Path | None) -> None:
        self.path = path
        self.read_only = False
        self._file: tuple[int, int] | None = None
        self.left_out: tuple[str, ...] = ()
        """What was left out of the last reading, in words."""
        try:
            if path is not None and path.exists() and not path.is_file():
                raise LogbookError(tr("{name}: expected a file").format(name=path.name))
            try:
                self._base = self._connected(path)
            except sqlite3.OperationalError as error:
                if path is None or not path.is_file() or "locked" in str(error):
                    raise
                self._base = self._copied(path)
        except (sqlite3.DatabaseError, OSError, ValueError) as error:
            raise self._told(error) from error
        self._file = self._identity()

    def _connected(self, path: Path | None) -> sqlite3.Connection:
        self._base = sqlite3.connect(path or ":memory:", timeout=BUSY_S, isolation_level=None)
        try:
            self._base.execute("PRAGMA foreign_keys = ON")
            self._base.execute("PRAGMA trusted_schema = OFF")
            self._base.execute("PRAGMA synchronous = FULL")
            self._is_one()
            if path is not None:
                if not os.access(path, os.W_OK) or not os.access(path.parent, os.W_OK):
                    raise sqlite3.OperationalError("readonly")
                with suppress(sqlite3.OperationalError):  # another window still has it in the former mode
                    self._base.execute("PRAGMA journal_mode = DELETE")
            self._migrate()
        except BaseException:
            self._base.close()
            raise
        return self._base

    def _copied(self, path: Path) -> sqlite3.Connection:
        """Return a copy in memory of a logbook that cannot be written."""
        where = path.resolve().as_uri()
        sidecar = path.with_name(path.name + "-wal").exists()
        with closing(
            sqlite3.connect(f"{where}?mode=ro{'' if sidecar else '&immutable=1'}", uri=True)
        ) as there:
            self._base = sqlite3.connect(":memory:", isolation_level=None)
            there.backup(self._base)
        self._base.execute("PRAGMA trusted_schema = OFF")
        self._is_one()
        self._migrate()
        self.read_only = True
        return self._base

    def _is_one(self) -> None:
        """Raise LogbookError for a database of something else, or one that holds more than a logbook does."""
        name = self.path.name if self.path else tr("logbook")
        application = int(self._base.execute("PRAGMA application_id").fetchone()[0])
        rows = self._base.execute("SELECT type, tbl_name FROM sqlite_master").fetchall()
        odd = [t for t, table in rows if t not in ("table", "index") or table not in TABLES]
        version = int(self._base.execute("PRAGMA user_version").fetchone()[0])
        if odd or application not in (0, APPLICATION) or (rows and version == 0):
            raise LogbookError(
                tr("{name}: a database of something else; it is left as it is").format(name=name)
            )

    def _identity(self) -> tuple[int, int] | None:
        if self.path is None or self.read_only:
            return None
        try:
            found = self.path.stat()
        except OSError:
            return (-1, -1)
        return found.st_dev, found.st_ino

    @property
    def replaced(self) -> bool:
        """Whether the file was replaced or deleted since it was opened."""
        return self._file is not None and self._identity() != self._file

    def _told(self, error: Exception) -> LogbookError:
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
        name = self.path.name if self.path else ""
        if self.read_only:
            raise LogbookError(tr("{name}: cannot be opened for writing").format(name=name))
        if self.replaced:
            raise LogbookError(
                tr("{name}: was replaced or deleted since it was opened; nothing was written").format(
                    name=name
                )
            )
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
        found, left = [], []
        for key, uid, when, distance, kind, note in rows:
            try:
                entry = Entry(
                    _text(when),
                    _real(distance),
                    _text(kind),
                    _text(note),
                    tuple(_reading(*r) for r in readings.get(key, ())),
                    tuple(_text(s) for (s,) in signs.get(key, ())),
                    tuple(_text(w) for (w,) in changes.get(key, ())),
                    _text(files.get(key, "")),
                    None,
                    key in photos,
                    _text(uid),
                )
                found.append(entry.checked())
            except (InputError, TypeError, ValueError, OverflowError) as error:
                left.append(tr("entry {number}: {why}").format(number=key, why=error))
        self.left_out = tuple(left)
        return tuple(found)

    def photo(self, uid: str) -> bytes | None:
        """Return an entry's photo; None if it has none.

        Raises: LogbookError if it cannot be read.
        """
        try:
            found = self._base.execute(
                "SELECT data FROM photos JOIN entries ON entries.id = photos.entry WHERE uid = ?", (uid,)
            ).fetchone()
        except sqlite3.Error as error:
            raise self._told(error) from error
        return bytes(found[0]) if found is not None and isinstance(found[0], bytes) else None

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
        try:
            found = self._base.execute("SELECT text FROM kept WHERE name = ?", (name,)).fetchone()
        except sqlite3.Error:  # a damaged page: what was kept there is gone, the entries may not be
            return ""
        return found[0] if found is not None and isinstance(found[0], str) else ""

    def seen(self) -> int:
        """Return a number that changes when another connection has written."""
        try:
            return int(self._base.execute("PRAGMA data_version").fetchone()[0])
        except sqlite3.Error:
            return -1

    def join(self, other: Book) -> int:
        """Take the entries of another logbook that are not in this one, with their photos; return how many.

        Raises: LogbookError if one cannot be read or the other not written.
        """
        known = {e.uid for e in self.entries()}
        new = [
            replace(e, photo=other.photo(e.uid) if e.has_photo else None)
            for e in other.entries()
            if e.uid not in known
        ]
        self.add(*new)
        return len(new)

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


def _text(value: object) -> str:
    if not isinstance(value, str):
        raise TypeError(tr("text expected"))
    return value


def _real(value: object) -> float:
    """Return a number as it is kept; nan where there is none."""
    if value is None:
        return math.nan
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise TypeError(tr("a number expected"))
    return float(value)


def _reading(rpm: object, oil: object, gallery: object, inlet: object, turbo: object) -> Reading:
    if not isinstance(turbo, int):
        raise TypeError(tr("a number expected"))
    return Reading(_real(rpm), _real(oil), _real(gallery), _real(inlet), turbo)


def _or_none(value: float) -> float | None:
    return value if math.isfinite(value) else None
