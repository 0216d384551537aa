"""Which thread is it? Measured diameter and pitch against every known thread."""

from __future__ import annotations

from dataclasses import dataclass

from gravidon.parts.dash import INCH_MM
from gravidon.parts.ends import FLARE_37, FLARE_45, INVERTED, STANDARD
from gravidon.parts.threads import MINOR_PITCHES, THREADS, Thread

DIAMETER_MM, PITCH_SHARE, TAPER_MM = 0.25, 0.03, 0.45
"""[mm], [-] errors of caliper and pitch gauge taken as one; a taper is thicker or thinner by where it is measured
[mm]; common practice, no source."""
MOST_SCORE = 3.0


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
    """Return every thread by name: pipe, metric, flares and bosses."""
    found = {n: t for n, t in THREADS.items() if "flare" not in n}
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

    >>> [c.name for c in identify(9.7, 0.907, inside=False)][:2]
    ['1/8 BSPT', '1/8 BSPP']
    """
    if not (diameter_mm > 0.0 and pitch_mm > 0.0):
        raise ValueError("expected a diameter and a pitch above 0 mm")
    found = []
    for name, thread in known_threads().items():
        if tapered is not None and thread.tapered != tapered:
            continue
        major = diameter_mm + (MINOR_PITCHES[thread.flank_deg] * thread.pitch_mm if inside else 0.0)
        off, pitch_off = major - thread.major_mm, pitch_mm - thread.pitch_mm
        allowed = DIAMETER_MM + (TAPER_MM if thread.tapered else 0.0)
        misfit = abs(off) / allowed + abs(pitch_off) / (PITCH_SHARE * thread.pitch_mm)
        if misfit <= MOST_SCORE:
            found.append((misfit, name, thread, off, pitch_off))
    found.sort(key=lambda row: row[0])
    best = found[0][2] if found else None
    return tuple(
        Candidate(
            name, thread, misfit, off, pitch_off, _tell(thread, best, found[1][2] if len(found) > 1 else None)
        )
        for misfit, name, thread, off, pitch_off in found[:6]
    )


def _tell(thread: Thread, best: Thread | None, second: Thread | None) -> str:
    """Return how to tell a thread from the likeliest other one."""
    other = second if thread is best else best
    if other is None:
        return "Nothing else is near."
    parts = []
    if abs(thread.pitch_mm - other.pitch_mm) > 0.004:
        parts.append(
            f"ten threads measure {10 * thread.pitch_mm:.2f} mm (the other {10 * other.pitch_mm:.2f} mm)"
        )
    if thread.tapered != other.tapered:
        parts.append(
            "it gets thinner towards its end"
            if thread.tapered
            else "it is as thick at its end as at its root"
        )
    if thread.flank_deg != other.flank_deg:
        parts.append(f"flanks of {thread.flank_deg:g}° (a gauge of {other.flank_deg:g}° rocks in it)")
    if "45° flare" in thread.name or "37° flare" in thread.name:
        parts.append("measure the cone's angle")
    if not parts:
        parts.append(f"its diameter is {thread.major_mm:.2f} mm, the other's {other.major_mm:.2f} mm")
    text = "; ".join(parts)
    return text[:1].upper() + text[1:] + "."
