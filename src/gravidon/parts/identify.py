# SPDX-License-Identifier: GPL-3.0-or-later
"""Which thread is it? Measured diameter and pitch against every known thread."""

from __future__ import annotations

from dataclasses import dataclass, replace

from gravidon.parts.dash import INCH_MM
from gravidon.parts.ends import FLARE_37, FLARE_45, INVERTED, STANDARD
from gravidon.parts.threads import MINOR_PITCHES, THREADS, Thread
from gravidon.translate import either, tr

DIAMETER_MM, PITCH_SHARE = 0.25, 0.03
"""[mm], [-] errors of caliper and pitch gauge taken as one; common practice, no source."""
MIDDLE_SHARE = 0.3
"""[-] what it counts to lie at the rim of where a taper may measure, rather than in its middle; project choice."""
MOST_SCORE, MOST_OFF_MM = 3.0, 1.0
NPT_L1_IN = {
    "1/16": 0.160,
    "1/8": 0.1615,
    "1/4": 0.2278,
    "3/8": 0.240,
    "1/2": 0.320,
    "3/4": 0.339,
    "1": 0.400,
}
"""[in] hand-tight engagement L1; ASME B1.20.1."""
BSPT_GAUGE_MM = {"1/16": 4.0, "1/8": 4.0, "1/4": 6.0, "3/8": 6.4, "1/2": 8.2, "3/4": 9.5, "1": 10.4}
"""[mm] gauge length; ISO 7-1."""
SPREAD_MM = 0.15
"""[mm] by which a thread's crests lie off their basic size; common practice, no source."""


def measured_range(thread: Thread, inside: bool) -> tuple[float, float]:
    """Return between what [mm] a caliper reads over a thread: outside of a male one, or the mouth of a female one.

    A taper reads differently along its length: a male from its small end to its largest full thread, a mouth at its
    largest.

    Source: ASME B1.20.1 (E0 = D - (0.05 D + 1.1) p, E1 = E0 + L1/16), ISO 7-1 (gauge plane), ISO 68-1.
    """
    size = thread.name.split()[0]
    major, pitch = thread.major_mm, thread.pitch_mm
    crest = MINOR_PITCHES[thread.flank_deg] * pitch
    if thread.name.endswith("NPT") and size in NPT_L1_IN:
        e0 = major - (0.05 * major / INCH_MM + 1.1) * pitch
        mouth = e0 + NPT_L1_IN[size] * INCH_MM / 16.0 - 0.8 * pitch
        return (mouth, mouth + SPREAD_MM) if inside else (e0 + 0.8 * pitch, major)
    if thread.name.endswith("BSPT") and size in BSPT_GAUGE_MM:
        small_end = major - BSPT_GAUGE_MM[size] / 16.0
        return (major - crest - 0.1, major - crest + SPREAD_MM) if inside else (small_end, major + 0.2)
    if thread.tapered:
        return (major - crest, major - crest + 0.3) if inside else (major - 0.4, major + 0.2)
    return (major - crest, major - crest + SPREAD_MM) if inside else (major - SPREAD_MM, major)


@dataclass(frozen=True)
class Candidate:
    """A thread that the measurement may be: what it is called, its thread, misfit (0 is exact), what to check."""

    name: str
    thread: Thread
    misfit: float
    diameter_off_mm: float
    pitch_off_mm: float
    check: str


def known_threads() -> dict[str, Thread]:
    """Return every thread by name: pipe, metric, flares and bosses. Dryseal pipe threads measure as NPT does, plain UNF
    as the flare and the boss of its size: they go by those names, and the check tells them apart."""
    found = {n: t for n, t in THREADS.items() if "flare" not in n and not n.endswith(("NPTF", "UNF"))}
    for words, table, standard in (
        ("37° flare or O-ring boss", FLARE_37, STANDARD["37 flare"]),
        ("45° flare", FLARE_45, STANDARD["45 flare"]),
        ("inverted flare", INVERTED, STANDARD["inverted flare"]),
    ):
        for dash, (major, per_inch) in table.items():
            name = f"-{dash} {words}, {_fraction(major)}-{per_inch:g}"
            found[name] = Thread(name, standard, major * INCH_MM, INCH_MM / per_inch, 60.0, False)
    return found


def _fraction(inches: float) -> str:
    sixteenths = round(inches * 16)
    whole, rest = divmod(sixteenths, 16)
    if rest == 0:
        return str(whole)
    bottom = 16
    while rest % 2 == 0:
        rest, bottom = rest // 2, bottom // 2
    return f"{whole} {rest}/{bottom}" if whole else f"{rest}/{bottom}"


def identify(
    diameter_mm: float, pitch_mm: float, inside: bool, tapered: bool | None = None
) -> tuple[Candidate, ...]:
    """Return the threads a measurement may be, likeliest first.

    Args:
        diameter_mm: outside of a male thread, or inside (crest to crest) of a female one [mm].
        pitch_mm: distance from crest to crest along the thread [mm].
        inside: whether a female thread was measured.
        tapered: whether it gets thinner; None if that could not be told.

    Raises: ValueError for a diameter or pitch that is not above 0.
    Source: thread geometry of the standards named with each thread; errors common practice, no source.

    >>> identify(9.7, 0.907, inside=False)[0].name
    '1/8 BSPP or 1/8 BSPT'
    """
    if not (diameter_mm > 0.0 and pitch_mm > 0.0):
        raise ValueError("expected a diameter and a pitch above 0 mm")
    found = []
    for name, thread in known_threads().items():
        if tapered is not None and thread.tapered != tapered:
            continue
        low, high = measured_range(thread, inside)
        off, pitch_off = diameter_mm - min(max(diameter_mm, low), high), pitch_mm - thread.pitch_mm
        rim = 0.0
        if thread.tapered:
            rim = abs(min(max(diameter_mm, low), high) - 0.5 * (low + high)) / (0.5 * (high - low))
        misfit = (
            abs(off) / DIAMETER_MM + abs(pitch_off) / (PITCH_SHARE * thread.pitch_mm) + MIDDLE_SHARE * rim
        )
        if misfit <= MOST_SCORE and abs(off) <= MOST_OFF_MM:
            found.append((misfit, name, thread, off, pitch_off))
    found.sort(key=lambda row: row[0])
    best = found[0][2] if found else None
    second = next((r[2] for r in found[1:] if best is not None and not one_thread(r[2], best)), None)
    rows: list[Candidate] = []
    for misfit, name, thread, off, pitch_off in found:
        twin = next((k for k, c in enumerate(rows) if one_thread(c.thread, thread)), None)
        if twin is None:
            rows.append(Candidate(name, thread, misfit, off, pitch_off, _tell(thread, best, second)))
        else:  # parallel and taper of one size: one answer, and how to decide
            both = sorted((rows[twin].name, name), key=lambda n: known_threads()[n].tapered)
            check = f"{DECIDE} {rows[twin].check}".replace(f" {ALONE}", "")
            rows[twin] = replace(rows[twin], name=either(both), check=check)
    return tuple(rows[:6])


ALONE = tr("Nothing else is near.")
DECIDE = tr(
    "Taper if it gets thinner towards its end (two calipers' readings 10 mm apart differ by 0.6 mm), else parallel."
)
"""How the parallel and the taper thread of one size are told apart: a taper of 1:16."""


def one_thread(one: Thread, other: Thread) -> bool:
    """Return whether two threads are one size, parallel and taper: they measure alike where the taper cannot be told."""
    same = abs(one.major_mm - other.major_mm) < 0.01 and abs(one.pitch_mm - other.pitch_mm) < 0.002
    return same and one.flank_deg == other.flank_deg and one.tapered != other.tapered


def _tell(thread: Thread, best: Thread | None, second: Thread | None) -> str:
    """Return how to tell a thread from the likeliest other one."""
    other = second if thread is best else best
    if other is None:
        return ALONE
    parts = []
    if abs(thread.pitch_mm - other.pitch_mm) > 0.004:
        parts.append(
            tr("ten threads measure {measure:.2f} mm (the other {other:.2f} mm)").format(
                measure=10 * thread.pitch_mm, other=10 * other.pitch_mm
            )
        )
    if thread.tapered != other.tapered:
        parts.append(
            tr("it gets thinner towards its end")
            if thread.tapered
            else tr("it is as thick at its end as at its root")
        )
    if thread.flank_deg != other.flank_deg:
        parts.append(
            tr("flanks of {flank_deg:g}° (a gauge of {other_flank_deg:g}° rocks in it)").format(
                flank_deg=thread.flank_deg, other_flank_deg=other.flank_deg
            )
        )
    if "flare" in thread.name:
        parts.append(
            tr("measure the cone's angle; no cone, but a groove or a washer's face: a boss, or plain UNF")
        )
    if thread.name.endswith(" NPT"):
        parts.append(tr("sharp crests may be NPTF, which is sealed the same"))
    if not parts:
        parts.append(
            tr("its diameter is {major_mm:.2f} mm, the other's {other_major_mm:.2f} mm").format(
                major_mm=thread.major_mm, other_major_mm=other.major_mm
            )
        )
    text = "; ".join(parts)
    return text[:1].upper() + text[1:] + "."
