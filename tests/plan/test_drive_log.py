# SPDX-License-Identifier: GPL-3.0-or-later
"""Drive logs: mapped, turned into SI, bad rows told and never dropped in silence."""

import gc
from pathlib import Path

import numpy as np
import pytest

from gravidon.errors import InputError, PlanFileError
from gravidon.plan.demos import demo_drive
from gravidon.plan.drive_log import Mapped, guess_mapping, headings, read_log, read_text

GOOD = "t_s;ax;ay;rpm;oil temp F\n0;0,1;0;900;212\n0.5;0.2;-0.1;1000;212\n"
MAP = {
    "time": Mapped("t_s", "s"),
    "ax": Mapped("ax", "g"),
    "ay": Mapped("ay", "g"),
    "rpm": Mapped("rpm", "rpm"),
    "oil": Mapped("oil temp F", "°F"),
}


def test_units_and_decimal_commas() -> None:
    """212 °F is 373.15 K; a comma is a decimal sign where semicolons part the cells."""
    log = read_log(GOOD, MAP)
    assert log.oil_k == pytest.approx([373.15, 373.15])
    assert log.forward_g == pytest.approx([0.1, 0.2])
    assert log.seconds == 0.5
    assert log.pressure_pa is None


def test_the_shipped_drive_maps_itself() -> None:
    text = demo_drive()
    found = guess_mapping(headings(text))
    assert set(found) == {"time", "ax", "ay", "rpm", "oil", "pressure", "distance"}
    assert found["pressure"].unit == "kPa"
    log = read_log(text, found)
    assert log.bad_count == 0
    assert log.seconds == pytest.approx(359.95)


def test_signs_and_metres_per_second_squared() -> None:
    """A logger that counts braking positive, in m/s²: 9.80665 of it are -1 g forward (standard gravity)."""
    text = GOOD.replace("0,1", "9.80665")
    assert read_log(text, {**MAP, "ax": Mapped("ax", "-m/s²")}).forward_g[0] == pytest.approx(-1.0)


@pytest.mark.parametrize(
    ("row", "channel", "words"),
    [
        ("0.7;x;0;900;212", "acceleration forward", "not a number"),
        ("0.7;0;;900;212", "acceleration to the left", "no number"),
        ("0.7;0;0;900", "oil temperature", "no number"),
        ("0.7;0;44;900;212", "acceleration to the left", "beyond"),
        ("0.7;nan;0;900;212", "acceleration forward", "beyond"),
        ("0.2;0;0;900;212", "time", "does not come after"),
    ],
)
def test_bad_rows_are_listed_with_their_line(row: str, channel: str, words: str) -> None:
    log = read_log(f"{GOOD}{row}\n0.9;0;0;900;212\n", MAP)
    assert (log.bad_count, log.bad[0].line, log.bad[0].channel) == (1, 4, channel)
    assert words in log.bad[0].why
    assert len(log.time_s) == 3


def test_what_cannot_be_read_says_why(tmp_path) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(InputError, match="oil temperature"):
        read_log(GOOD, {k: v for k, v in MAP.items() if k != "oil"})
    with pytest.raises(InputError, match="engine speed"):
        read_log(GOOD, {**MAP, "rpm": Mapped("revs", "rpm")})
    with pytest.raises(InputError, match="one of g"):
        read_log(GOOD, {**MAP, "ax": Mapped("ax", "furlong")})
    with pytest.raises(InputError, match="at least two"):
        read_log("t_s;ax;ay;rpm;oil temp F\nx;0;0;900;212\n", MAP)
    with pytest.raises(InputError):
        headings("")
    with pytest.raises(PlanFileError):
        read_text(tmp_path / "none.csv")
    picture = tmp_path / "p.csv"
    picture.write_bytes(bytes(range(128, 256)))
    with pytest.raises(PlanFileError, match="not a text"):
        read_text(picture)


def test_many_bad_rows_are_counted() -> None:
    rows = "".join(f"{k};oops;0;900;212\n" for k in range(1, 501))
    log = read_log(GOOD + rows, MAP)
    assert log.bad_count == 500
    assert len(log.bad) == 200


def test_time_starts_at_nought() -> None:
    assert np.isclose(read_log(GOOD.replace("\n0;", "\n0.25;"), MAP).time_s[0], 0.0)


def test_the_quick_reader_reads_what_the_careful_one_does() -> None:
    """A clean log goes through the quick reader; with one bad row at its end, through the careful one: same numbers."""
    clean = demo_drive()
    mapping = guess_mapping(headings(clean))
    quick = read_log(clean, mapping)
    careful = read_log(clean.rstrip("\n") + "\n" + clean.split("\n", 1)[1].split("\n", 1)[0] + "\n", mapping)
    assert quick.bad_count == 0
    assert careful.bad_count == 1
    for field in ("time_s", "forward_g", "left_g", "rpm", "oil_k"):
        assert np.array_equal(getattr(quick, field), getattr(careful, field)), field


@pytest.mark.filterwarnings(
    "ignore::pytest.PytestUnraisableExceptionWarning"
)  # the library's, of a file it gave up
def test_an_mf4_log_is_the_csv_it_was_made_from(tmp_path: Path) -> None:
    """Written by the library of the format's own users, read as a drive with its units; a damaged one is told in words."""
    import asammdf

    from gravidon.plan.demos import demo_drive

    text = demo_drive()
    wanted = read_log(text, guess_mapping(headings(text)))
    rows = [line.split(",") for line in text.splitlines()]
    table = np.array([[float(c) for c in row] for row in rows[1:]])
    signals = []
    for k, heading in enumerate(rows[0][1:], start=1):
        name, unit = heading.rsplit("_", 1) if "_" in heading else (heading, "")
        signals.append(asammdf.Signal(table[:, k], table[:, 0], name=name, unit=unit))
    made = asammdf.MDF()
    made.append(signals)
    path = tmp_path / "drive.mf4"
    made.save(path)
    made.close()
    again = read_text(path)
    found = read_log(again, guess_mapping(headings(again)))
    assert found.seconds == pytest.approx(wanted.seconds)
    np.testing.assert_allclose(found.forward_g, wanted.forward_g, atol=1e-6)
    np.testing.assert_allclose(found.left_g, wanted.left_g, atol=1e-6)
    path.write_bytes(path.read_bytes()[:900])
    with pytest.raises(PlanFileError, match=r"drive\.mf4 is not a whole MF4 file"):
        read_text(path)
    gc.collect()


def test_without_the_library_it_is_told_what_is_needed(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    import sys

    monkeypatch.setitem(sys.modules, "asammdf", None)
    path = tmp_path / "drive.mf4"
    path.write_bytes(b"MDF     ")
    with pytest.raises(PlanFileError, match="export CSV"):
        read_text(path)
