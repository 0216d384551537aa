# SPDX-License-Identifier: GPL-3.0-or-later
"""Files that something has gone through: opened, or refused in words; never a traceback, never half a plan."""

from __future__ import annotations

import random
import sqlite3
from collections import Counter
from pathlib import Path

import pytest

from gravidon.errors import GravidonError
from gravidon.parts.catalogue import catalogue, parts_from_csv, parts_to_csv
from gravidon.plan import demos, storage
from gravidon.plan.drive_log import guess_mapping, headings, read_log, read_text
from gravidon.records import recording
from gravidon.records.book import Book
from gravidon.records.book_csv import from_csv, to_csv
from gravidon.records.shipped import demo_log, demo_recording
from robust.sampling import damaged, mutated_plan
from robust.times import TIMES


def test_mutated_plans_open_or_are_refused_in_words(tmp_path: Path) -> None:
    """What opens is a whole plan: written and read again it is the same."""
    rnd, outcome, path = random.Random(11), Counter[str](), tmp_path / "m.gravidon"
    for _ in range(TIMES.files):
        data = mutated_plan(rnd)
        path.write_bytes(data)
        try:
            plan = storage.load(path)
        except GravidonError as error:
            assert str(error).startswith("m.gravidon: ")
            assert len(str(error)) < 600
            outcome["refused"] += 1
            continue
        again = storage.plan_from_text(storage.plan_to_text(plan))
        assert again == plan
        outcome["opened"] += 1
    assert outcome["refused"] > 0.2 * TIMES.files
    assert outcome["opened"] > 0.02 * TIMES.files


def test_damaged_logs_parts_and_logbooks_are_told_in_words(tmp_path: Path) -> None:
    rnd = random.Random(12)
    drive = demos.demo_drive().encode()[:6000]
    tape = "\n".join(recording.lines_of(demo_recording("first-start-good")))[:6000].encode()
    parts = parts_to_csv(list(catalogue().values())[:20]).encode()
    season = to_csv(demo_log("special")).encode()
    path = tmp_path / "file"

    def drives(text: str) -> None:
        read_log(text, guess_mapping(headings(text)))

    readers = (
        (drive, drives),
        (tape, lambda text: recording.from_text(text, "x")),
        (parts, lambda text: parts_from_csv(text, "x")),
        (season, from_csv),
    )
    for k in range(TIMES.files):
        whole, read = readers[k % len(readers)]
        path.write_bytes(damaged(whole, rnd))
        try:
            read(read_text(path))
        except GravidonError as error:
            assert str(error)


def test_a_damaged_logbook_is_refused_and_left_as_it_is(tmp_path: Path) -> None:
    rnd, source = random.Random(13), tmp_path / "whole.log"
    book = Book(source)
    book.add(*demo_log("special"))
    book.close()
    whole = source.read_bytes()
    for k in range(max(20, TIMES.files // 20)):
        path = tmp_path / f"{k}.log"
        data = damaged(whole, rnd)
        path.write_bytes(data)
        try:
            opened = Book(path)
            try:
                opened.entries()
            finally:
                opened.close()
        except GravidonError:
            assert path.exists()
        except sqlite3.Error as error:
            pytest.fail(f"{k}: {error}")
