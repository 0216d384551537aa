# SPDX-License-Identifier: GPL-3.0-or-later
"""Sizes, drills, threads and grades against published tables."""

import pytest

from gravidon.parts import dash, drills, oils, threads


@pytest.mark.parametrize("grade", oils.grades().values(), ids=lambda g: g.grade)
def test_every_grade_lies_in_its_j300_window(grade: oils.Grade) -> None:
    """SAE J300, kinematic viscosity at 100 °C by hot number (the standard's table)."""
    low, high = oils.J300_V100_WINDOW_MM2_S[grade.grade.split("W-")[1]]
    assert low <= grade.v100_mm2_s < high
    assert grade.v40_mm2_s > 4 * grade.v100_mm2_s


@pytest.mark.parametrize(
    ("name", "per_inch"),
    [("1/8 NPT", 27), ("1/4 NPT", 18), ("3/8 NPT", 18), ("1/2 NPT", 14), ("3/4 NPT", 14)],
)
def test_npt_pitches(name: str, per_inch: float) -> None:
    """ASME B1.20.1, table 2: threads per inch."""
    assert pytest.approx(per_inch) == 25.4 / threads.THREADS[name].pitch_mm


@pytest.mark.parametrize(
    ("name", "major", "pitch"),
    [("1/8 BSPT", 9.728, 0.907), ("3/8 BSPT", 16.662, 1.337), ("1/2 BSPT", 20.955, 1.814)],
)
def test_bspt_sizes(name: str, major: float, pitch: float) -> None:
    """ISO 7-1, table 1 [mm], pitches rounded to 0.001."""
    thread = threads.THREADS[name]
    assert thread.major_mm == pytest.approx(major, abs=1e-3)
    assert thread.pitch_mm == pytest.approx(pitch, abs=1e-3)


@pytest.mark.parametrize(
    ("male", "female", "verdict"),
    [
        ("1/8 NPT", "1/8 NPT", "seals"),
        ("1/8 NPT", "1/8 BSPT", "leaks"),
        ("1/2 NPT", "1/2 BSPT", "leaks"),
        ("3/4 NPT", "3/4 BSPT", "leaks"),
        ("M10x1.0", "1/8 BSPT", "leaks"),
        ("1/8 BSPT", "1/8 BSPP", "seals"),
        ("1/8 BSPP", "1/8 BSPT", "leaks"),
        ("1/4 NPT", "1/8 NPT", "no fit"),
        ("M18x1.5", "1/8 NPT", "no fit"),
    ],
)
def test_near_misses(male: str, female: str, verdict: str) -> None:
    """The mix-ups builders meet; dimensions from the standards, judgement common practice, no source."""
    found = threads.joint(threads.THREADS[male], threads.THREADS[female])
    assert found.verdict == verdict
    assert male in found.text


def test_half_inch_pipe_threads_share_their_pitch() -> None:
    """1/2-14 in both standards: equal pitches, different flanks (ASME B1.20.1, ISO 7-1)."""
    npt, bspt = threads.THREADS["1/2 NPT"], threads.THREADS["1/2 BSPT"]
    assert npt.pitch_mm == pytest.approx(bspt.pitch_mm, rel=1e-9)
    assert (npt.flank_deg, bspt.flank_deg) == (60, 55)


@pytest.mark.parametrize(("number", "inches"), [(80, 0.0135), (60, 0.0400), (40, 0.0980), (1, 0.2280)])
def test_number_drills(number: int, inches: float) -> None:
    """ASME B94.11M anchor sizes; #60 is the well-known 0.040 in (from memory)."""
    assert drills.NUMBER_DRILL_IN[number] == inches


def test_drills_are_sorted_and_number_drills_shrink_with_their_number() -> None:
    sizes = [d.diameter_mm for d in drills.DRILLS]
    assert sizes == sorted(sizes)
    by_number = [drills.NUMBER_DRILL_IN[n] for n in range(1, 81)]
    assert by_number == sorted(by_number, reverse=True)


def test_dash_bore_is_below_its_tube_od() -> None:
    """A dash size is sixteenths of an inch of tube OD; the bore must be smaller, the hose larger."""
    for size, bore in dash.HOSE_BORE_IN.items():
        assert bore < size / 16 < dash.HOSE_OUTSIDE_MM[size] / 25.4
        assert dash.dash_of_bore(bore * 25.4) == size
