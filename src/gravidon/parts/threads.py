# SPDX-License-Identifier: GPL-3.0-or-later
"""Threads by standard, and whether two of them make a joint."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from gravidon.parts.dash import END_BORE_MM, INCH_MM
from gravidon.translate import tr

Verdict = Literal["seals", "leaks", "no fit"]


@dataclass(frozen=True)
class Thread:
    """One thread: how it is called, its standard, major diameter and pitch [mm], flank angle [°], taper."""

    name: str
    standard: str
    major_mm: float
    pitch_mm: float
    flank_deg: float
    tapered: bool


@dataclass(frozen=True)
class Joint:
    """What becomes of two threads screwed together, in words for the builder."""

    verdict: Verdict
    text: str
    seal: str


def _inch(name: str, standard: str, major_in: float, per_inch: float, flank: float, tapered: bool) -> Thread:
    return Thread(name, standard, major_in * INCH_MM, INCH_MM / per_inch, flank, tapered)


_NPT = "ASME B1.20.1"
_BSPT = "ISO 7-1"
_BSPP = "ISO 228-1"
_METRIC = "ISO 261"
_METRIC_TAPER = "DIN 158-1"
_NPTF = "ASME B1.20.3"
_UNF = "ASME B1.1"
_FLARE = "SAE J514"

THREADS: dict[str, Thread] = {
    t.name: t
    for t in (
        _inch("1/16 NPT", _NPT, 0.3125, 27, 60, True),
        _inch("1/8 NPT", _NPT, 0.405, 27, 60, True),
        _inch("1/4 NPT", _NPT, 0.540, 18, 60, True),
        _inch("3/8 NPT", _NPT, 0.675, 18, 60, True),
        _inch("1/2 NPT", _NPT, 0.840, 14, 60, True),
        _inch("3/4 NPT", _NPT, 1.050, 14, 60, True),
        _inch("1 NPT", _NPT, 1.315, 11.5, 60, True),
        _inch("1/8 NPTF", _NPTF, 0.405, 27, 60, True),
        _inch("1/4 NPTF", _NPTF, 0.540, 18, 60, True),
        _inch("3/8 NPTF", _NPTF, 0.675, 18, 60, True),
        _inch("1/2 NPTF", _NPTF, 0.840, 14, 60, True),
        _inch("3/4 NPTF", _NPTF, 1.050, 14, 60, True),
        Thread("1/16 BSPT", _BSPT, 7.723, INCH_MM / 28, 55, True),
        Thread("1/8 BSPT", _BSPT, 9.728, INCH_MM / 28, 55, True),
        Thread("1/4 BSPT", _BSPT, 13.157, INCH_MM / 19, 55, True),
        Thread("3/8 BSPT", _BSPT, 16.662, INCH_MM / 19, 55, True),
        Thread("1/2 BSPT", _BSPT, 20.955, INCH_MM / 14, 55, True),
        Thread("3/4 BSPT", _BSPT, 26.441, INCH_MM / 14, 55, True),
        Thread("1 BSPT", _BSPT, 33.249, INCH_MM / 11, 55, True),
        Thread("1/16 BSPP", _BSPP, 7.723, INCH_MM / 28, 55, False),
        Thread("1/8 BSPP", _BSPP, 9.728, INCH_MM / 28, 55, False),
        Thread("1/4 BSPP", _BSPP, 13.157, INCH_MM / 19, 55, False),
        Thread("3/8 BSPP", _BSPP, 16.662, INCH_MM / 19, 55, False),
        Thread("1/2 BSPP", _BSPP, 20.955, INCH_MM / 14, 55, False),
        Thread("3/4 BSPP", _BSPP, 26.441, INCH_MM / 14, 55, False),
        Thread("1 BSPP", _BSPP, 33.249, INCH_MM / 11, 55, False),
        Thread("M8x1.0", _METRIC, 8.0, 1.0, 60, False),
        Thread("M8x1.25", _METRIC, 8.0, 1.25, 60, False),
        Thread("M10x1.0", _METRIC, 10.0, 1.0, 60, False),
        Thread("M10x1.25", _METRIC, 10.0, 1.25, 60, False),
        Thread("M10x1.5", _METRIC, 10.0, 1.5, 60, False),
        Thread("M11x1.0", _METRIC, 11.0, 1.0, 60, False),
        Thread("M12x1.0", _METRIC, 12.0, 1.0, 60, False),
        Thread("M12x1.25", _METRIC, 12.0, 1.25, 60, False),
        Thread("M12x1.5", _METRIC, 12.0, 1.5, 60, False),
        Thread("M12x1.75", _METRIC, 12.0, 1.75, 60, False),
        Thread("M14x1.25", _METRIC, 14.0, 1.25, 60, False),
        Thread("M14x1.5", _METRIC, 14.0, 1.5, 60, False),
        Thread("M16x1.5", _METRIC, 16.0, 1.5, 60, False),
        Thread("M18x1.5", _METRIC, 18.0, 1.5, 60, False),
        Thread("M20x1.5", _METRIC, 20.0, 1.5, 60, False),
        Thread("M22x1.5", _METRIC, 22.0, 1.5, 60, False),
        Thread("M24x1.5", _METRIC, 24.0, 1.5, 60, False),
        Thread("M26x1.5", _METRIC, 26.0, 1.5, 60, False),
        Thread("M27x2.0", _METRIC, 27.0, 2.0, 60, False),
        _inch("5/16-24 UNF", _UNF, 5 / 16, 24, 60, False),
        _inch("3/8-24 UNF", _UNF, 3 / 8, 24, 60, False),
        _inch("7/16-20 UNF", _UNF, 7 / 16, 20, 60, False),
        _inch("1/2-20 UNF", _UNF, 1 / 2, 20, 60, False),
        _inch("9/16-18 UNF", _UNF, 9 / 16, 18, 60, False),
        _inch("3/4-16 UNF", _UNF, 3 / 4, 16, 60, False),
        _inch("13/16-16 UN", _UNF, 13 / 16, 16, 60, False),
        Thread("M10x1.0 taper", _METRIC_TAPER, 10.0, 1.0, 60, True),
        Thread("M12x1.5 taper", _METRIC_TAPER, 12.0, 1.5, 60, True),
        _inch("-3 flare 3/8-24", _FLARE, 3 / 8, 24, 60, False),
        _inch("-4 flare 7/16-20", _FLARE, 7 / 16, 20, 60, False),
        _inch("-6 flare 9/16-18", _FLARE, 9 / 16, 18, 60, False),
        _inch("-8 flare 3/4-16", _FLARE, 3 / 4, 16, 60, False),
        _inch("-10 flare 7/8-14", _FLARE, 7 / 8, 14, 60, False),
        _inch("-12 flare 1-1/16-12", _FLARE, 17 / 16, 12, 60, False),
        _inch("-16 flare 1-5/16-12", _FLARE, 21 / 16, 12, 60, False),
    )
}
"""Sizes by the standard named in each; NPT majors are nominal pipe outside diameters."""

_ORDER = ("NPT", "NPTF", "BSPT", "BSPP", "M", "taper", "flare", "UN")


def _by_size(name: str) -> tuple[int, float, float]:
    """Return where a thread stands in a list: by kind, then by size, then by pitch."""
    kind = next((k for k in ("taper", "flare", "NPTF", "NPT", "BSPT", "BSPP", "UN") if k in name), "M")
    return _ORDER.index(kind), THREADS[name].major_mm, -THREADS[name].pitch_mm


THREAD_NAMES: list[str] = sorted(THREADS, key=_by_size)
"""Every thread's name, for lists: kind by kind, in order of size."""

_START_MM = 0.6
"""How far two diameters may differ and still start together [mm]; common practice, no source."""
_PITCH_SHARE = 0.13
"""How far two pitches may differ and still start together; common practice, no source."""


def starts_with(one: Thread, other: Thread) -> bool:
    """Return whether two threads start together: their diameters and pitches are near enough.

    >>> starts_with(THREADS["M10x1.0"], THREADS["1/8 BSPT"])
    True
    """
    near = abs(one.pitch_mm - other.pitch_mm) <= _PITCH_SHARE * other.pitch_mm
    return near and abs(one.major_mm - other.major_mm) <= _START_MM


MINOR_PITCHES = {60.0: 1.0825, 55.0: 1.2807}
"""[-] of the pitch by which a female thread's inside is smaller than its major, by flank angle: ISO 68-1 (60°)
1.0825, Whitworth 2 x 0.6403."""
_TAPER_GROWS_MM = 0.25
"""How far short of the hole's crests a taper may be and still catch further in [mm]; common practice, no source."""


def goes_in_loose(male: Thread, female: Thread) -> bool:
    """Return whether a smaller male thread screws into a larger hole and is held by its crests only.

    >>> goes_in_loose(THREADS["1/4 NPT"], THREADS["M14x1.5"])
    True
    >>> goes_in_loose(THREADS["M14x1.5"], THREADS["1/4 NPT"])
    False
    """
    near = abs(male.pitch_mm - female.pitch_mm) <= _PITCH_SHARE * female.pitch_mm
    crests = female.major_mm - MINOR_PITCHES[female.flank_deg] * female.pitch_mm
    reach = _TAPER_GROWS_MM if male.tapered else 0.0
    return near and crests - reach <= male.major_mm < female.major_mm - 0.05


def why_it_leaks(male: Thread, female: Thread) -> str:
    """Return what keeps two threads that go together from sealing, in words that end a sentence."""
    if not starts_with(male, female) or female.major_mm - male.major_mm > 0.5 * _START_MM:
        return tr("the smaller one goes in loose, hangs by its crests and strips; nothing seals")
    if abs(male.pitch_mm - female.pitch_mm) >= 0.005 * female.pitch_mm:
        return tr(
            "it starts, then binds: pitch {male_mm:.3f} mm against {female_mm:.3f} mm; it strips or leaks"
        ).format(male_mm=male.pitch_mm, female_mm=female.pitch_mm)
    if male.flank_deg != female.flank_deg:
        return tr(
            "the pitch is shared, but the flanks are {male_deg:g}° and {female_deg:g}°: the joint weeps"
        ).format(male_deg=male.flank_deg, female_deg=female.flank_deg)
    return tr("they screw together, but seal in different places: nothing closes the gap")


def joint(male: Thread, female: Thread) -> Joint:
    """Return what becomes of a male thread screwed into a female one.

    Args:
        male: thread of the fitting.
        female: thread of the port.

    Valid: threads that seal or are sealed at the thread or face; flare seats are not judged here.
    Source: dimensions from the standards named in THREADS; judgement common practice, no source.

    >>> joint(THREADS["1/2 NPT"], THREADS["1/2 BSPT"]).verdict
    'leaks'
    """
    if male == female:
        seal = tr("thread sealant") if male.tapered else tr("a washer, O-ring or flare seat")
        return Joint(
            "seals",
            tr("{name} in {female_name}: the same thread").format(name=male.name, female_name=female.name),
            seal,
        )
    if not starts_with(male, female) and not goes_in_loose(male, female):
        return Joint(
            "no fit",
            tr("{name} does not start in {female_name}").format(name=male.name, female_name=female.name),
            "",
        )
    pipes = {male.standard, female.standard} == {_NPT, _NPTF}
    made = {
        male.standard == _METRIC_TAPER and male.name == f"{female.name} taper": (
            tr("taper {name} in parallel {female_name}: made for it").format(
                name=male.name, female_name=female.name
            )
        ),
        pipes and male.name.split()[0] == female.name.split()[0]: (
            tr("{name} in {female_name}: one taper, sealed as NPT").format(
                name=male.name, female_name=female.name
            )
        ),
    }
    if True in made:
        return Joint("seals", made[True], tr("thread sealant"))
    if _same_whitworth_size(male, female):
        if male.tapered:
            return Joint(
                "seals",
                tr("taper {name} in parallel {female_name}: a common joint").format(
                    name=male.name, female_name=female.name
                ),
                tr("thread sealant"),
            )
        return Joint(
            "leaks",
            tr("parallel {name} in taper {female_name} has nothing to seal on").format(
                name=male.name, female_name=female.name
            ),
            "",
        )
    text = tr("{name} in {female_name}: {why_it_leaks}").format(
        name=male.name, female_name=female.name, why_it_leaks=why_it_leaks(male, female)
    )
    return Joint("leaks", text, "")


def _same_whitworth_size(male: Thread, female: Thread) -> bool:
    pair = {male.standard, female.standard}
    return pair == {_BSPT, _BSPP} and male.name.split()[0] == female.name.split()[0]


PIPE_PASSES_MM: dict[str, float] = {
    "1/16": 4.0,
    "1/8": 5.6,
    "1/4": 7.6,
    "3/8": 10.6,
    "1/2": 14.5,
    "3/4": 18.6,
    "1": 24.5,
}
"""The widest bore [mm] that a fitting with a pipe thread has: its small end less a wall of 2 mm; common practice, no source."""
THREAD_WALL_MM = 1.5
"""[mm] of metal that a straight thread's root keeps round its bore; common practice, no source."""


def passes_mm(name: str) -> float:
    """Return the widest bore [mm] that a fitting with a thread can have.

    Raises: KeyError for an unknown thread.
    Source: pipe threads and root wall common practice, no source; flares SAE J514.

    >>> passes_mm("3/8 NPT"), passes_mm("-10 flare 7/8-14")
    (10.6, 12.29)
    """
    thread = THREADS[name]
    if "flare" in name:
        return END_BORE_MM[int(name.split(maxsplit=1)[0].removeprefix("-"))]
    if thread.standard in (_NPT, _NPTF, _BSPT, _BSPP):
        return PIPE_PASSES_MM[name.split(maxsplit=1)[0]]
    return thread.major_mm - 1.2269 * thread.pitch_mm - 2.0 * THREAD_WALL_MM
