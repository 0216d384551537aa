# SPDX-License-Identifier: GPL-3.0-or-later
"""Files as other programs write them."""

from __future__ import annotations

from pathlib import Path

import pytest

from gravidon.errors import PlanFileError
from gravidon.plan.drive_log import read_text
from gravidon.plan.texts import decoded, for_spreadsheet
from gravidon.records import recording

LOG = "time,oil °C,rpm\n0,90,900\n1,91,950\n"


@pytest.mark.parametrize(
    "coding", ["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "latin-1", "cp1252"]
)
def test_a_log_in_any_of_the_usual_codings_is_read(tmp_path: Path, coding: str) -> None:
    """A "°C" in Latin-1, or UTF-16 from a spreadsheet, was "not a text file"."""
    raw = LOG.encode(coding)
    if coding in ("utf-16-le", "utf-16-be"):
        raw = "\ufeff".encode(coding) + raw
    file = tmp_path / "log.csv"
    file.write_bytes(raw)
    assert read_text(file).lstrip("\ufeff") == LOG
    assert recording.text_of(file).lstrip("\ufeff") == LOG


@pytest.mark.parametrize(
    "raw", [b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR\xff\xfe", bytes(range(256)) * 4, b"\xff\xfe\x00"]
)
def test_what_is_no_text_is_told(raw: bytes) -> None:
    with pytest.raises(PlanFileError, match=r"a\.csv is not a text file"):
        decoded(raw, "a.csv")


def test_a_csv_for_a_spreadsheet_keeps_its_degrees(tmp_path: Path) -> None:
    """A spreadsheet that opens CSV without a mark as Latin-1 reads "45Â°"; with the mark it reads what was written, and so do we."""
    raw = for_spreadsheet("part\n45° hose end\n")
    assert raw.startswith(b"\xef\xbb\xbf")
    assert decoded(raw, "a.csv") == "part\n45° hose end\n"
