# SPDX-License-Identifier: GPL-3.0-or-later
"""A logbook as it may come: odd values, in a folder nobody can write, replaced under the window, a former journal, and joined with another."""

from __future__ import annotations

import os
import shutil
import sqlite3
from pathlib import Path

import pytest

from gravidon.errors import LogbookError
from gravidon.records.book import Book
from gravidon.records.entry import Entry, Reading

ONE = Entry(
    "2026-05-01", 1e6, note="first", readings=(Reading(850.0, 365.0, 2e5, 1e5),), photo=b"\xff\xd8\xff x"
)
TWO = Entry("2026-05-02", 2e6, note="second")

ODD = {
    "entries": {
        "day": ["''", "'yesterday'", "5", "x'00ff'", "'2026-13-40'"],
        "distance_m": ["'far'", "-5", "9e999", "-9e999", "x'01'", "1e20"],
        "kind": ["'magic'", "x'00'", "7"],
        "note": ["x'ff'"],
        "uid": ["x'aa'"],
    },
    "readings": {
        "rpm": ["'fast'", "-1", "9e999", "x'00'", "1e9"],
        "oil_k": ["0", "'hot'", "9e999"],
        "gallery_pa": ["'much'", "9e999", "1e12", "x'0102'"],
        "inlet_pa": ["-9e999", "'x'"],
        "turbo": ["-1", "9", "'a'", "1.5", "x'00'"],
    },
    "symptoms": {"sign": ["x'00'"]},
    "changes": {"what": ["'magic'", "x'00'"]},
    "recordings": {"file": ["x'00'"]},
}  # fmt: skip
CASES = [(t, c, v) for t, columns in ODD.items() for c, values in columns.items() for v in values]


@pytest.mark.parametrize(("table", "column", "value"), CASES)
def test_a_bad_row_is_left_out_and_told(tmp_path: Path, table: str, column: str, value: str) -> None:
    path = tmp_path / "a.gravidon-log"
    full = Entry(
        "2026-05-03", readings=ONE.readings, symptoms=("smoke",), changed=("oil",), recording="a.csv.gz"
    )
    book = Book(path)
    book.add(full, TWO)
    book.close()
    plain = sqlite3.connect(path)
    which = "uid = (SELECT uid FROM entries WHERE day LIKE '%03')" if table == "entries" else "1"
    plain.execute(f"UPDATE {table} SET {column} = {value} WHERE {which}")  # noqa: S608  values of our own
    plain.commit()
    plain.close()
    book = Book(path)
    assert [e.note for e in book.entries()] == ["second"]
    assert len(book.left_out) == 1
    assert book.kept("nothing") == ""
    book.close()


def test_more_than_a_logbook_is_refused(tmp_path: Path) -> None:
    """A view that runs for ever, a trigger, a strange table, another program's database: refused, left as it is."""
    for k, statement in enumerate(
        (
            "CREATE VIEW endless AS WITH RECURSIVE c(x) AS (SELECT 1 UNION ALL SELECT x+1 FROM c) SELECT x FROM c",
            "CREATE TRIGGER t AFTER INSERT ON entries BEGIN DELETE FROM entries; END",
            "CREATE TABLE other (x)",
            "PRAGMA application_id = 99",
        )
    ):
        path = tmp_path / f"{k}.gravidon-log"
        Book(path).close()
        plain = sqlite3.connect(path)
        plain.execute(statement)
        plain.commit()
        plain.close()
        before = path.read_bytes()
        with pytest.raises(LogbookError):
            Book(path)
        assert path.read_bytes() == before
    os.mkfifo(tmp_path / "pipe.gravidon-log")
    with pytest.raises(LogbookError):
        Book(tmp_path / "pipe.gravidon-log")


def test_the_file_alone_is_the_whole_logbook_while_it_is_open(tmp_path: Path) -> None:
    book = Book(tmp_path / "a.gravidon-log")
    book.add(ONE)
    assert [p.name for p in tmp_path.iterdir()] == ["a.gravidon-log"]
    shutil.copy(tmp_path / "a.gravidon-log", tmp_path / "b.gravidon-log")
    assert len(Book(tmp_path / "b.gravidon-log").entries()) == 1


def test_one_of_the_former_journal_is_taken_over(tmp_path: Path) -> None:
    path = tmp_path / "a.gravidon-log"
    book = Book(path)
    book._base.execute("PRAGMA journal_mode = WAL")
    book.add(ONE)
    book.close()
    book = Book(path)
    assert len(book.entries()) == 1
    assert book._base.execute("PRAGMA journal_mode").fetchone()[0] == "delete"


@pytest.mark.parametrize("what", ["replaced", "deleted"])
def test_a_file_replaced_under_the_window_is_noticed_before_a_write(tmp_path: Path, what: str) -> None:
    path = tmp_path / "a.gravidon-log"
    book = Book(path)
    book.add(ONE)
    other = Book(tmp_path / "other.gravidon-log")
    other.add(TWO)
    other.close()
    if what == "replaced":
        (tmp_path / "other.gravidon-log").replace(path)
    else:
        path.unlink()
    assert book.replaced
    with pytest.raises(LogbookError, match="replaced or deleted"):
        book.add(Entry("2026-05-09"))
    if what == "replaced":
        assert [e.note for e in Book(path).entries()] == ["second"]


def test_where_nobody_can_write_it_can_be_read(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """As for a user whose folder is read-only (a test may run as root, to whom none is)."""
    path = tmp_path / "a.gravidon-log"
    book = Book(path)
    book.add(ONE)
    book.close()
    monkeypatch.setattr("gravidon.records.book.os.access", lambda *_: False)
    book = Book(path)
    assert book.read_only
    assert [e.note for e in book.entries()] == ["first"]
    assert book.photo(ONE.uid) == ONE.photo
    with pytest.raises(LogbookError, match="writing"):
        book.add(TWO)
    assert [p.name for p in tmp_path.iterdir()] == ["a.gravidon-log"]


def test_joined_nothing_is_lost_and_nothing_stands_twice(tmp_path: Path) -> None:
    here, there = Book(tmp_path / "a.gravidon-log"), Book(tmp_path / "b.gravidon-log")
    here.add(ONE)
    there.add(ONE, TWO)
    assert here.join(there) == 1
    assert here.join(there) == 0
    assert [e.note for e in here.entries()] == ["first", "second"]
    again = Book(tmp_path / "c.gravidon-log")
    assert again.join(here) == 2
    assert again.photo(ONE.uid) == ONE.photo
