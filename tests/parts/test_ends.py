"""Ends and joints against the standards' tables, and the near misses that leak."""

import pytest

from gravidon.parts import ends
from gravidon.parts.ends import End, end_from, end_of_thread, fit, mates, thread_of
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
    # another thread of the same size may be as near: it must be named with how to tell it apart
    assert name in [c.name for c in found[:3]]
    assert next(c for c in found if c.name == name).misfit == pytest.approx(0.0, abs=1e-6)
    assert all(c.check for c in found)


def test_the_one_eighth_trap() -> None:
    """9.8 mm and 27 per inch: NPT first, with BSPT and M10x1 behind it and how to tell them."""
    found = identify(9.9, IN / 27, inside=False)
    names = [c.name for c in found]
    assert names[0] == "1/8 NPT"
    assert {"1/8 BSPT", "M10x1.0"} <= set(names)
    assert "Ten threads" in next(c for c in found if c.name == "1/8 BSPT").check


def test_impossible_measurements() -> None:
    assert identify(300.0, 1.0, inside=False) == ()
    with pytest.raises(ValueError, match="above 0"):
        identify(0.0, 1.0, inside=False)
