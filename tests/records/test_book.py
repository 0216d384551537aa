# SPDX-License-Identifier: GPL-3.0-or-later
"""The logbook: nothing confirmed is lost, two windows are safe, old tables are brought up, CSV goes out and comes back; and a line typed in haste."""

import math
import os
import signal
import sqlite3
import subprocess
import sys
import threading
from contextlib import suppress
from dataclasses import replace
from datetime import date
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from gravidon.errors import GravidonError, InputError, LogbookError
from gravidon.plan.demos import demo_plan
from gravidon.plan.model import Sender
from gravidon.records import book as books
from gravidon.records.book import Book
from gravidon.records.book_csv import COLUMNS, from_csv, to_csv
from gravidon.records.entry import CHANGED, KINDS, Entry, Reading
from gravidon.records.quick import Usual, bare_place, quick_entry

PSI = 6894.757293168
READING = Reading(850.0, 368.15, 1.4e5, 1.0e5)
FULL = Entry(
    "2026-05-02 18:30", 12_480e3, "work", "after the hill road", (READING, Reading(2500.0, 371.15, 3.1e5)), ("puff after long lefts",), ("oil", "screen"), "run.csv.gz", b"\x89PNG photo",
)  # fmt: skip


def same(one: Entry, other: Entry) -> bool:
    """Entries alike, nan equal to nan, photos aside."""

    def plain(e: Entry) -> str:
        return repr(replace(e, photo=None, has_photo=False))

    return plain(one) == plain(other)


def test_an_entry_comes_back_as_it_was(tmp_path: Path) -> None:
    path = tmp_path / "car.gravidon-log"
    book = Book(path)
    book.add(FULL.checked())
    book.close()
    again = Book(path)
    (back,) = again.entries()
    assert same(back, FULL)
    assert back.has_photo
    assert again.photo(FULL.uid) == FULL.photo
    again.close()


def test_it_is_one_file_that_keeps_its_keys(tmp_path: Path) -> None:
    path = tmp_path / "car.gravidon-log"
    book = Book(path)
    book.add(FULL)
    plain = sqlite3.connect(path)
    assert plain.execute("PRAGMA journal_mode").fetchone()[0] == "delete"
    assert sorted(p.name for p in tmp_path.iterdir()) == ["car.gravidon-log"]
    assert plain.execute("PRAGMA user_version").fetchone()[0] == books.VERSION
    assert plain.execute("PRAGMA foreign_key_check").fetchall() == []
    assert plain.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    plain.close()
    book.remove(FULL.uid)
    for table in ("readings", "symptoms", "changes", "photos", "recordings"):
        assert book._base.execute(f"SELECT count(*) FROM {table}").fetchone()[0] == 0  # noqa: S608  names of our own
    book.close()


def test_all_entries_or_none(tmp_path: Path) -> None:
    book = Book(tmp_path / "a.gravidon-log")
    twin = Entry("2026-05-01", uid=FULL.uid)
    with pytest.raises(LogbookError):
        book.add(FULL, twin)
    assert book.entries() == ()
    with pytest.raises(InputError, match="engine speed"):
        book.add(FULL, Entry("2026-05-01", readings=(Reading(-5.0, 360.0),)))
    assert book.entries() == ()
    book.close()


def test_changing_an_entry_keeps_its_photo_and_its_name() -> None:
    book = Book(None)
    book.add(FULL)
    (back,) = book.entries()
    book.change(replace(back, note="again", readings=(READING,)))
    (now,) = book.entries()
    assert (now.uid, now.note, len(now.readings)) == (FULL.uid, "again", 1)
    assert book.photo(now.uid) == FULL.photo
    book.change(replace(now, has_photo=False))
    assert book.photo(now.uid) is None
    with pytest.raises(LogbookError, match="no longer"):
        book.change(Entry("2026-05-01"))


def test_tables_of_the_first_version_are_brought_up(tmp_path: Path) -> None:
    """A file with the first version's tables, filled by hand, opens with all it held and takes photos."""
    path = tmp_path / "old.gravidon-log"
    old = sqlite3.connect(path)
    old.executescript(books.MIGRATIONS[0])
    old.execute("INSERT INTO entries (uid, day, kind, note) VALUES ('a', '2025-01-01', 'note', 'old')")
    old.execute("INSERT INTO readings (entry, rpm, oil_k, inlet_pa) VALUES (1, 850, 368, 1e5)")
    old.execute("PRAGMA user_version = 1")
    old.commit()
    old.close()
    book = Book(path)
    (entry,) = book.entries()
    assert (entry.note, entry.readings[0].inlet_pa) == ("old", 1e5)
    book.change(replace(entry, photo=b"x"))
    assert book.photo("a") == b"x"
    book.close()


def test_what_is_not_ours_is_refused_and_left_alone(tmp_path: Path) -> None:
    other = tmp_path / "other.gravidon-log"
    base = sqlite3.connect(other)
    base.execute("CREATE TABLE songs (id INTEGER)")
    base.commit()
    base.close()
    newer = tmp_path / "newer.gravidon-log"
    base = sqlite3.connect(newer)
    base.execute("PRAGMA user_version = 99")
    base.commit()
    base.close()
    text = tmp_path / "text.gravidon-log"
    text.write_bytes(b"not a database at all, far from it" * 40)
    for path, words in ((other, "something else"), (newer, "later Gravidon"), (text, "damaged")):
        before = path.read_bytes()
        with pytest.raises(LogbookError, match=words):
            Book(path)
        assert path.read_bytes() == before
    with pytest.raises(LogbookError):
        Book(tmp_path / "no" / "folder.gravidon-log")


def test_two_windows_write_at_once_and_each_sees_the_other(tmp_path: Path) -> None:
    """Two connections in two threads, 60 entries each: all 120 are there, none refused."""
    path = tmp_path / "both.gravidon-log"
    first, errors = Book(path), []
    before = first.seen()

    def write(name: str) -> None:
        mine = Book(path)
        try:
            for k in range(60):
                mine.add(Entry("2026-01-01", note=f"{name} {k}", kind="note"))
        except GravidonError as error:
            errors.append(error)
        mine.close()

    threads = [threading.Thread(target=write, args=(n,)) for n in "ab"]
    for it in threads:
        it.start()
    for it in threads:
        it.join(120.0)
    assert errors == []
    assert len(first.entries()) == 120
    assert first.seen() != before
    first.close()


WRITER = """
import sys
from pathlib import Path
from gravidon.records.book import Book
from gravidon.records.entry import Entry, Reading
book = Book(Path(sys.argv[1]))
k = int(sys.argv[2])
while True:
    uid = f"{sys.argv[2]}-{k}"
    book.add(Entry("2026-01-01", note="x" * 300, readings=(Reading(850.0, 368.0, 1e5, 1e5),) * 3, uid=uid))
    print(uid, flush=True)
    k += 1
"""


def killed_writers(path: Path, times: int, after: int) -> tuple[set[str], int]:
    """Start a writer again and again and kill it after so many confirmed entries, each time at another moment; return all it confirmed, and the kills."""
    confirmed: set[str] = set()
    environment = {**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)}
    for n in range(times):
        writer = subprocess.Popen(
            [sys.executable, "-c", WRITER, str(path), str(n)],
            stdout=subprocess.PIPE,
            text=True,
            env=environment,
        )
        assert writer.stdout is not None
        for _ in range(after + n % 3):
            confirmed.add(writer.stdout.readline().strip())
        writer.send_signal(signal.SIGKILL)
        rest, _ = writer.communicate(timeout=60)
        lines = rest.split("\n")[:-1]  # what stands before a line's end was confirmed
        confirmed |= {line.strip() for line in lines}
        book = Book(path)
        assert book._base.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        assert confirmed <= {e.uid for e in book.entries()}
        book.close()
    return confirmed, times


def test_a_writer_killed_at_any_moment_loses_nothing_it_confirmed(tmp_path: Path) -> None:
    """SIGKILL in the middle of writing: every entry whose name was printed after `add` returned is there, whole, and the file opens."""
    confirmed, kills = killed_writers(tmp_path / "killed.gravidon-log", 6, 3)
    assert kills == 6
    assert len(confirmed) >= 18
    book = Book(tmp_path / "killed.gravidon-log")
    assert all(len(e.readings) == 3 for e in book.entries())
    book.close()


def test_a_logbook_is_copied_whole(tmp_path: Path) -> None:
    book = Book(None)
    book.add(FULL)
    other = book.copy_to(tmp_path / "copy.gravidon-log")
    assert same(other.entries()[0], FULL)
    assert other.photo(FULL.uid) == FULL.photo
    other.close()


def test_where_a_plans_logbook_and_its_recordings_are() -> None:
    book = books.book_path(Path("/x/my car.gravidon"))
    assert book == Path("/x/my car.gravidon-log")
    assert books.recordings_folder(book) == Path("/x/my car-recordings")


# --- CSV -------------------------------------------------------------------------------------

numbers = st.one_of(st.just(math.nan), st.floats(-5e4, 1.5e6).map(lambda v: round(v, 0)))
words = st.text("abc ä,;\"'\n", max_size=12).map(lambda t: " ".join(t.replace(";", " ").split()))
entries = st.builds(
    Entry,
    st.dates(date(1990, 1, 1), date(2090, 1, 1)).map(str),
    st.one_of(st.just(math.nan), st.integers(0, 900_000).map(lambda v: v * 1e3)),
    st.sampled_from(KINDS),
    words,
    st.lists(
        st.builds(
            Reading,
            st.integers(0, 9000).map(float),
            st.integers(240, 440).map(lambda v: v + 0.15),
            numbers,
            numbers,
            st.integers(0, 2),
        ),
        max_size=3,
    ).map(tuple),
    st.lists(words.filter(bool), max_size=2).map(tuple),
    st.lists(st.sampled_from(CHANGED), max_size=2, unique=True).map(tuple),
)


@settings(suppress_health_check=[HealthCheck.too_slow], max_examples=60)
@given(st.lists(entries, max_size=4))
def test_csv_goes_out_and_comes_back(given_entries: list[Entry]) -> None:
    back = from_csv(to_csv(given_entries))
    assert len(back) == len(given_entries)
    for one, other in zip(given_entries, back, strict=True):
        assert (one.day, one.kind, one.note, one.symptoms, one.changed) == (
            other.day,
            other.kind,
            other.note,
            other.symptoms,
            other.changed,
        )
        assert len(one.readings) == len(other.readings)
        for a, b in zip(one.readings, other.readings, strict=True):
            for name in ("rpm", "oil_k", "gallery_pa", "inlet_pa"):
                x, y = getattr(a, name), getattr(b, name)
                assert (math.isnan(x) and math.isnan(y)) or x == pytest.approx(y, abs=6.0)


@pytest.mark.parametrize(
    ("row", "words"),
    [
        ("2026-13-01,,850,95,,14", r"line 2, day"),
        ("2026-01-01,,fast,95,,14", r"line 2, rpm"),
        ("2026-01-01,,,95,,14", r"line 2, rpm"),
        ("2026-01-01,,850,950,,14", r"line 2, oil temperature"),
        ("2026-01-01,-5,850,95,,14", r"line 2, distance"),
    ],
)
def test_a_bad_row_is_named_by_line_and_column(row: str, words: str) -> None:
    with pytest.raises(InputError, match=words):
        from_csv(f"day,distance_km,rpm,oil_c,gallery_kpa,inlet_kpa\n{row}\n")


def test_a_plain_csv_of_a_builders_own_is_taken() -> None:
    made = from_csv("day;rpm;oil_c;inlet_kpa;note\n2026-01-05;850;95,5;96,5;hot idle\n2026-02-01;;;;belt\n")
    assert made[0].readings[0].oil_k == pytest.approx(368.65)
    assert [e.kind for e in made] == ["reading", "note"]
    with pytest.raises(InputError, match="day"):
        from_csv("date,rpm\n2026-01-01,850\n")
    assert set(COLUMNS) >= {"day", "rpm", "inlet_kpa"}


# --- typed in haste ---------------------------------------------------------------------------

USUAL = Usual(date(2026, 11, 27), 850.0)


def test_idle_hot_fourteen_psi() -> None:
    """The line of the task itself."""
    made = quick_entry("idle, hot, 14 psi", USUAL)
    assert made.day == "2026-11-27"
    (r,) = made.readings
    assert (r.rpm, r.oil_k) == (850.0, 95.0 + 273.15)
    assert r.gallery_pa == pytest.approx(14 * PSI), "a bare pressure is the dash's gauge"
    assert math.isnan(r.inlet_pa)
    assert made.note == ""


@pytest.mark.parametrize(
    ("text", "rpm", "oil_c", "gallery", "inlet"),
    [
        ("2500 rpm 98C gallery 48 inlet 41 psi", 2500, 98, 48 * PSI, 41 * PSI),
        ("2500 rpm 208 F 41", 2500, (208 - 32) / 1.8, 41 * PSI, None),
        ("idle cold 3.1 bar", 850, 20, 3.1e5, None),
        ("yesterday idle hot 100 kPa", 850, 95, 1e5, None),
        ("off, warm, 1 psi", 0, 95, PSI, None),
        ("idle hot 20 inlet 12 psi", 850, 95, 20 * PSI, 12 * PSI),
        ("idle hot inlet 12 psi", 850, 95, None, 12 * PSI),
        ("idle hot gallery 30 20 psi", 850, 95, 30 * PSI, 20 * PSI),
    ],
)
def test_readings_in_a_builders_words(
    text: str, rpm: float, oil_c: float, gallery: float | None, inlet: float | None
) -> None:
    (r,) = quick_entry(text, USUAL).readings
    assert r.rpm == rpm
    assert r.oil_k == pytest.approx(oil_c + 273.15)
    assert (math.isnan(r.inlet_pa) and inlet is None) or r.inlet_pa == pytest.approx(inlet)
    assert (math.isnan(r.gallery_pa) and gallery is None) or r.gallery_pa == pytest.approx(gallery)


def test_distance_work_symptoms_and_notes() -> None:
    made = quick_entry("2026-03-01 12 480 km oil changed, screen cleaned, a little swarf in it", USUAL)
    assert (made.day, made.distance_m) == ("2026-03-01", 12_480e3)
    assert set(made.changed) == {"oil", "screen"}
    assert made.kind == "oil change"
    assert made.note == "a little swarf in it"
    signs = quick_entry("blue smoke after long idle", USUAL)
    assert (signs.kind, signs.symptoms) == ("symptom", ("blue smoke after long idle",))
    assert quick_entry("new belt", USUAL).kind == "note"
    assert quick_entry("idle hot 1.2", replace(USUAL, family="metric")).readings[
        0
    ].gallery_pa == pytest.approx(1.2e5)


@pytest.mark.parametrize(
    "text",
    [
        "idle hot 14 psi 3000 rpm 45 psi",
        "idle hot 1,400 kPa",
        "idle hot 1 400 kPa",
        "idle hot 1e9 psi",
        "idle hot 20 30 psi",
        "idle hot gallery 20 gallery 30 psi",
        "2500 rpm 3000 rpm hot 40 psi",
        "idle hot 20 psi inlet 10 psi 5 psi",
    ],
)
def test_what_can_be_read_in_two_ways_is_asked(text: str) -> None:
    with pytest.raises(InputError):
        quick_entry(text, USUAL)


def test_a_bare_pressure_is_the_inlets_only_where_every_sender_sits_there() -> None:
    plan = demo_plan("coupe")
    at = {
        "none": (),
        "inlet": (Sender(label="a", at="inlet"),),
        "both": (Sender(label="a", at="inlet"), Sender(label="b")),
    }
    found = {k: bare_place(plan.model_copy(update={"senders": v})) for k, v in at.items()}
    assert found == {"none": "gallery", "inlet": "inlet", "both": "gallery"}


@pytest.mark.parametrize("text", ["", "  ,  ", "hot 14 psi"])
def test_a_line_that_says_nothing_or_half_is_refused(text: str) -> None:
    with pytest.raises(InputError, match="entry"):
        quick_entry(text, USUAL)


@given(st.text(max_size=60))
def test_no_line_breaks_it(text: str) -> None:
    with suppress(GravidonError):
        made = quick_entry(text, USUAL)
        assert made.checked() == made or made.readings  # nan differs from itself


def test_a_text_is_kept_under_its_name(tmp_path: Path) -> None:
    """Kept, changed, thrown away; there for the next who opens it, and not among the entries."""
    book = Book(tmp_path / f"a{books.SUFFIX}")
    book.keep("case", "one")
    book.keep("case", "two")
    book.keep("other", "three")
    book.close()
    again = Book(tmp_path / f"a{books.SUFFIX}")
    assert again.kept("case") == "two"
    assert again.kept("none") == ""
    assert again.entries() == ()
    again.keep("case", "")
    assert again.kept("case") == ""
    assert again.kept("other") == "three"
    again.close()
