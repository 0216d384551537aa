# SPDX-License-Identifier: GPL-3.0-or-later
"""Ends and joints against the standards' tables, and the near misses that leak."""

import numpy as np
import pytest

from gravidon.parts import ends
from gravidon.parts.ends import End, end_from, end_of_thread, fit, mates, thread_of
from gravidon.parts.entry_means import MEANS
from gravidon.parts.identify import identify, known_threads
from gravidon.parts.threads import THREADS

IN = 25.4


@pytest.mark.parametrize(
    ("dash", "thread"),
    [
        (3, "3/8-24"),
        (4, "7/16-20"),
        (5, "1/2-20"),
        (6, "9/16-18"),
        (8, "3/4-16"),
        (10, "7/8-14"),
        (12, "1 1/16-12"),
        (16, "1 5/16-12"),
    ],
)
def test_37_degree_flares(dash: int, thread: str) -> None:
    """SAE J514, table of 37° flare ends (thread designation by dash size); SAE J1926 bosses share it."""
    assert any(name.startswith(f"-{dash} 37°") and name.endswith(thread) for name in known_threads())
    assert (
        thread_of(End("37 flare", f"-{dash}", "male")).pitch_mm
        == thread_of(End("O-ring boss", f"-{dash}", "male")).pitch_mm
    )  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("size", "per_inch"), [("1/16", 27), ("1/8", 27), ("1/4", 18), ("3/8", 18), ("1/2", 14), ("3/4", 14)]
)
def test_npt(size: str, per_inch: int) -> None:
    """ASME B1.20.1, table 2: threads per inch."""
    assert thread_of(End("NPT", size, "male")).pitch_mm == pytest.approx(IN / per_inch)  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("size", "major", "per_inch"),
    [("1/8", 9.728, 28), ("1/4", 13.157, 19), ("3/8", 16.662, 19), ("1/2", 20.955, 14), ("3/4", 26.441, 14)],
)
def test_bspp(size: str, major: float, per_inch: int) -> None:
    """ISO 228-1, table 1: major diameter [mm] and threads per inch; ISO 7-1 has the same in its gauge plane."""
    for kind in ("BSPP", "BSPT"):
        thread = thread_of(End(kind, size, "male"))  # type: ignore[arg-type]
        assert thread is not None
        assert (thread.major_mm, thread.pitch_mm) == (pytest.approx(major), pytest.approx(IN / per_inch))


@pytest.mark.parametrize(
    ("name", "major", "pitch"),
    [
        ("M10x1.0", 10, 1.0),
        ("M12x1.5", 12, 1.5),
        ("M14x1.5", 14, 1.5),
        ("M18x1.5", 18, 1.5),
        ("M22x1.5", 22, 1.5),
    ],
)
def test_metric(name: str, major: float, pitch: float) -> None:
    """ISO 261: diameter-pitch combinations of the fine series."""
    assert (THREADS[name].major_mm, THREADS[name].pitch_mm) == (major, pitch)


def test_half_inch_npt_and_bspt_share_their_pitch() -> None:
    """14 threads per inch both (ASME B1.20.1, ISO 7-1): they seem to fit, and leak."""
    one, two = (End("NPT", "1/2", "male"), End("BSPT", "1/2", "female"))
    assert thread_of(one).pitch_mm == thread_of(two).pitch_mm  # type: ignore[union-attr]
    assert fit(one, two).outcome == "leaks"
    assert "60° and 55°" in fit(one, two).why


@pytest.mark.parametrize("dash", [4, 5, 8, 10])
def test_45_and_37_flares_that_screw_together(dash: int) -> None:
    """SAE J512 and J514 share the thread for 1/4, 5/16, 1/2 and 5/8 in tube: they screw together and weep."""
    got = fit(End("45 flare", f"-{dash}", "male"), End("37 flare", f"-{dash}", "female"))
    assert got.outcome == "leaks"
    assert "45° and 37°" in got.why


def test_three_eighths_flares_do_not_start() -> None:
    """5/8-18 against 9/16-18 (SAE J512, J514): here the mix-up does not even start."""
    assert fit(End("45 flare", "-6", "male"), End("37 flare", "-6", "female")).outcome == "no fit"


@pytest.mark.parametrize(
    ("one", "other", "outcome", "word"),
    [
        ("NPT|1/8|male", "BSPT|1/8|female", "leaks", "pitch"),
        ("metric|M10x1.0|male", "BSPT|1/8|female", "leaks", "strips"),
        ("metric|M10x1.0|male", "NPT|1/8|female", "leaks", "pitch"),
        ("BSPT|1/8|male", "BSPP|1/8|female", "seals", "common"),
        ("BSPP|1/8|male", "BSPT|1/8|female", "leaks", "nothing to seal"),
        ("banjo|M12x1.5|male", "metric|M12x1.5|female", "seals", "banjo"),
        ("37 flare|-4|male", "O-ring boss|-4|female", "leaks", "different places"),
        ("37 flare|-4|male", "37 flare|-4|male", "no fit", "both are male"),
        ("plain hose|-10|female", "barb|-10|male", "seals", "pushed"),
        ("hose|-10|female", "hose|-8|male", "no fit", "nothing in common"),
        ("flange|medium two-bolt 44 mm|", "flange|large two-bolt 52 mm|", "no fit", "nothing in common"),
        ("weld|any|", "wall|any|", "seals", "pan wall"),
    ],
)
def test_pairs(one: str, other: str, outcome: str, word: str) -> None:
    """Common practice, no source, on the standards' dimensions; either order gives the same."""
    a, b = end_from(one), end_from(other)
    for x, y in ((a, b), (b, a)):
        got = fit(x, y)
        assert got.outcome == outcome
        assert word in got.why


def test_tape_is_never_advised_on_flares_banjos_and_rings() -> None:
    for kind in ("37 flare", "45 flare", "banjo", "O-ring boss", "inverted flare", "metric", "BSPP"):
        assert "no tape" in ends.SEAL[kind]
    assert "tape" in ends.SEAL["NPT"]


ALL_ENDS = [
    *(End("NPT", s, g) for s in ("1/8", "1/4", "3/8", "1/2") for g in ("male", "female")),
    *(End("BSPT", s, g) for s in ("1/8", "1/2") for g in ("male", "female")),
    *(End("BSPP", s, g) for s in ("1/8", "1/2") for g in ("male", "female")),
    *(End("metric", s, g) for s in ("M10x1.0", "M12x1.5") for g in ("male", "female")),
    *(
        End(k, s, g)
        for k in ("37 flare", "45 flare", "O-ring boss")
        for s in ("-4", "-6", "-10")
        for g in ("male", "female")
    ),  # type: ignore[arg-type]
    *(End("hose", s, g) for s in ("-4", "-10") for g in ("male", "female")),
    End("barb", "-10", "male"),
    End("banjo", "M10x1.0", "male"),
    End("flange", "small two-bolt 38 mm"),
    End("weld", "any"),
    End("hole", "-10"),
]


def test_what_mates_seals_and_nothing_else_does() -> None:
    """Two paths to one answer, over every pair there is: the search's list of mates, and the judgement of a pair."""
    wrong = [
        (a.text, b.text)
        for a in ALL_ENDS
        for b in ALL_ENDS
        if (b in mates(a)) != (fit(a, b).outcome == "seals") or fit(a, b).outcome != fit(b, a).outcome
    ]
    assert wrong == []


def test_codes_round_trip_and_nonsense_is_refused() -> None:
    for end in ALL_ENDS:
        assert end_from(end.code) == end
    for bad in ("NPT", "tube|1/8|male", "NPT|1/8|neuter", "NPT||male"):
        with pytest.raises(ValueError, match="KIND"):
            end_from(bad)


def test_plan_threads_are_ends() -> None:
    for name in THREADS:
        thread = thread_of(end_of_thread(name, "male"))
        assert thread is not None
        assert thread.pitch_mm == pytest.approx(THREADS[name].pitch_mm)


# --- identify --------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "name", ["1/8 NPT", "1/8 BSPT", "1/2 NPT", "1/2 BSPT", "M10x1.0", "M14x1.5", "-6 45° flare, 5/8-18"]
)
@pytest.mark.parametrize("inside", [False, True])
def test_an_exact_measurement_names_its_thread(name: str, inside: bool) -> None:
    """Major diameter, or the minor one by ISO 68-1 (major less 1.0825 pitch) and Whitworth's form (1.2807)."""
    thread = known_threads()[name]
    depth = {60.0: 1.0825, 55.0: 1.2807}[thread.flank_deg] * thread.pitch_mm
    found = identify(thread.major_mm - (depth if inside else 0.0), thread.pitch_mm, inside, thread.tapered)
    if inside and name.endswith("NPT"):
        return  # its size is the pipe's outside: a mouth is far from that (see the measured ports)
    # another thread of the same size may be as near: it must be named with how to tell it apart
    assert name in [c.name for c in found[:3]]
    least = 0.35 if thread.tapered else 1e-6  # a taper's own size lies at the rim of what it may measure
    assert next(c for c in found if c.name == name).misfit <= least
    assert all(c.check for c in found)


def test_the_one_eighth_trap() -> None:
    """9.8 mm and 27 per inch: NPT first, with BSPT and M10x1 behind it and how to tell them."""
    found = identify(9.9, IN / 27, inside=False)
    names = [c.name for c in found]
    assert names[0] == "1/8 NPT"
    both = next(c for c in found if "1/8 BSPT" in c.name)
    assert both.name == "1/8 BSPP or 1/8 BSPT"  # one answer, with the test that decides
    assert "gets thinner" in both.check
    assert "en threads" in both.check
    assert any("M10x1.0" in name for name in names)


def test_impossible_measurements() -> None:
    assert identify(300.0, 1.0, inside=False) == ()
    with pytest.raises(ValueError, match="above 0"):
        identify(0.0, 1.0, inside=False)


# what a caliper reads on real ports [mm], the pitch [mm] by a gauge leaf: shop tables of NPT, BSP, metric and flare threads, from memory
MEASURED = [
    ("1/8 NPT", 10.2, 0.941, False), ("1/4 NPT", 13.6, 1.411, False), ("3/8 NPT", 17.0, 1.411, False),
    ("1/2 NPT", 21.2, 1.814, False), ("3/4 NPT", 26.5, 1.814, False), ("1/8 NPT", 8.8, 0.941, True),
    ("1/4 NPT", 11.4, 1.411, True), ("3/8 NPT", 14.8, 1.411, True), ("1/2 NPT", 18.4, 1.814, True),
    ("3/4 NPT", 23.7, 1.814, True), ("1/8 BSPT", 9.65, 0.907, False), ("1/2 BSPT", 20.6, 1.814, False),
    ("1/8 BSPP", 9.7, 0.907, False), ("1/4 BSPP", 13.1, 1.337, False), ("3/8 BSPP", 16.6, 1.337, False),
    ("1/4 BSPP", 11.6, 1.337, True), ("M10x1.0", 9.9, 1.0, False), ("M12x1.5", 11.85, 1.5, False),
    ("M14x1.5", 13.85, 1.5, False), ("M18x1.5", 17.85, 1.5, False), ("M10x1.0", 9.0, 1.0, True),
    ("M12x1.5", 10.5, 1.5, True), ("-4 37° flare or O-ring boss, 7/16-20", 11.0, 1.27, False),
    ("-6 37° flare or O-ring boss, 9/16-18", 14.2, 1.411, False), ("-8 37° flare or O-ring boss, 3/4-16", 18.95, 1.588, False),
]  # fmt: skip


def test_a_caliper_that_is_off_by_a_tenth_still_names_them() -> None:
    """Each port read 20 times, off by up to 0.1 mm: the right one first in 58 of 60, in the first three always."""
    rng, first, three, looks = np.random.default_rng(3), 0, 0, 0
    for name, diameter, pitch, inside in MEASURED * 20:
        read = diameter + float(rng.uniform(-0.1, 0.1))
        for tapered in (name.endswith(("NPT", "BSPT")), None):
            found = [
                name in c.name.split(" or ") or name == c.name for c in identify(read, pitch, inside, tapered)
            ]
            first, three, looks = first + found[0], three + any(found[:3]), looks + 1
    assert first >= 58 / 60 * looks
    assert three == looks


def test_real_ports_are_named_rightly() -> None:
    """The taper told where there is one: the right thread is first, or shares its thread with the first; always in the
    first three, also where the taper could not be told; and nothing more than 1 mm off is offered."""
    first = 0
    for name, diameter, pitch, inside in MEASURED:
        told = identify(diameter, pitch, inside, name.endswith(("NPT", "BSPT")))
        thread = next(c.thread for c in told if c.name == name)
        first += (told[0].thread.major_mm, told[0].thread.pitch_mm) == (thread.major_mm, thread.pitch_mm)
        for blind in (told, identify(diameter, pitch, inside)):
            assert any(name in c.name.split(" or ") or name == c.name for c in blind[:3]), (
                name,
                diameter,
                inside,
            )
            assert all(abs(c.diameter_off_mm) <= 1.0 for c in blind)
    assert first >= len(MEASURED) - 1
    for diameter, pitch in (
        (12.7, 25.4 / 13),
        (4.83, 25.4 / 32),
        (30.0, 3.5),
    ):  # threads of no table: nothing is made up
        assert identify(diameter, pitch, inside=False) == ()


@pytest.mark.parametrize(
    ("port", "least", "most"),
    [
        ("1/8 BSPT", 8.3, 8.57), ("1/4 BSPT", 11.1, 11.45), ("3/8 BSPT", 14.7, 14.95), ("1/2 BSPT", 18.2, 18.63),
        ("3/4 BSPT", 23.7, 24.12), ("1/8 NPT", 8.4, 8.75), ("1/4 NPT", 11.0, 11.2), ("3/8 NPT", 14.6, 14.7),
        ("1/2 NPT", 18.2, 18.3), ("3/4 NPT", 23.4, 23.5), ("M10x1.0", 9.0, 9.0), ("M14x1.5", 12.5, 12.5),
    ],
)  # fmt: skip
def test_the_drill_before_the_tap(port: str, least: float, most: float) -> None:
    """ISO 7-1: at most the minor at the gauge plane; ASME B1.20.1: the drill without a reamer; metric: major less pitch."""
    hole, words = MEANS["tapped"].hole(port, 10.0)
    assert least - 0.01 <= hole * 1e3 <= most + 0.01
    assert port in words


@pytest.mark.parametrize(("port", "least"), [("3/8 NPT", 23.0), ("1/2 NPT", 27.0), ("3/4 NPT", 32.6)])
def test_a_bung_is_wider_than_its_thread(port: str, least: float) -> None:
    """The thread and 3 mm of metal round it; the bung's own outside decides."""
    hole, words = MEANS["weld bung"].hole(port, 14.3)
    assert hole * 1e3 >= least
    assert "own outside" in words
