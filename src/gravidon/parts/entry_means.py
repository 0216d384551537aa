"""Ways of getting a drain through a pan's wall: bore, threads, steps, hazards, time. Common practice, no source."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from gravidon.parts.threads import THREADS

MeansName = Literal["weld bung", "tapped", "bulkhead"]


@dataclass(frozen=True)
class Means:
    """One way in. `minutes` is bench time with the pan as `steps` say; the bore is per dash size [mm]."""

    name: MeansName
    steps: tuple[str, ...]
    hazards: tuple[str, ...]
    minutes: int
    bores_mm: dict[int, float]
    threads: dict[int, str]


MEANS: dict[str, Means] = {
    m.name: m
    for m in (
        Means(
            "weld bung",
            (
                "Drain the oil, take the pan off, strip and clean it.", "Mark the centre; cut with a hole saw from outside; deburr.",
                "Have a qualified welder set the bung, its axis falling into the pan.", "Test for leaks with solvent or chalk, wash, refit with a new gasket.",
            ),
            ("Welding a pan that has held oil can ignite it: leave it to a qualified welder.", "Heat warps a thin rail: bolt it to a plate for welding."),
            240,
            {8: 11.11, 10: 14.29, 12: 17.46, 16: 22.23},
            {8: "1/2 NPT", 10: "1/2 NPT", 12: "3/4 NPT", 16: "3/4 NPT"},
        ),
        Means(
            "tapped",
            (
                "Mark; measure behind the wall; set a stop on the drill.", "Grease in the flutes; drill, then tap: one turn on, half a turn back, wipe, grease again.",
                "Sealant or tape on the taper thread, none on the first two threads; snug only in aluminium.", "Drain, flush, new filter; a magnet in the drained oil tells what came off.",
            ),
            ("Swarf in the pan destroys engines: with the pan on, grease holds most of it, not all.", "The pickup may sit right behind the wall: a drill without a stop finds it."),
            60,
            {8: 10.5, 10: 14.3, 12: 17.5, 16: 17.5},
            {8: "3/8 NPT", 10: "1/2 NPT", 12: "3/4 NPT", 16: "3/4 NPT"},
        ),
        Means(
            "bulkhead",
            (
                "Take the pan off, or be sure a hand reaches inside.", "Drill to the fitting's body; deburr both sides.",
                "A sealing washer on each side, the nut inside with thread lock; hold the body while tightening.", "Wash the pan, check that nothing inside touches the nut.",
            ),
            ("A nut that works loose falls into the sump: lock it.", "Sealing washers must be oil- and heat-proof; a curved wall leaks."),
            120,
            {8: 9.9, 10: 12.7, 12: 15.7, 16: 20.6},
            {8: "-8 flare 3/4-16", 10: "-10 flare 7/8-14", 12: "-12 flare 1-1/16-12", 16: "-16 flare 1-5/16-12"},
        ),
    )
}  # fmt: skip
"""By name. Bulkhead bores are typical of their dash size, from memory."""

TAP_DRILL_IN: dict[str, str] = {
    "1/8 NPT": "11/32", "1/4 NPT": "7/16", "3/8 NPT": "9/16", "1/2 NPT": "45/64", "3/4 NPT": "59/64"
}  # fmt: skip
"""Drill before the taper tap [in]; common practice, no source (3/8 and 1/2: drill, then taper)."""


def threads_held(means: str, thread: str, wall_mm: float) -> float:
    """Return how many full threads the wall holds; infinite where a bung or a nut holds instead.

    Equation: wall/pitch.

    Raises: KeyError for an unknown thread.
    Source: geometry; pitches of the standard named with the thread.

    >>> round(threads_held("tapped", "1/2 NPT", 4.0), 1)
    2.2
    """
    if means != "tapped":
        return float("inf")
    return wall_mm / THREADS[thread].pitch_mm


def nearest_dash(hose_bore_mm: float) -> int:
    """Return the dash size of MEANS whose bung bore is nearest a hose's bore.

    >>> nearest_dash(14.3)
    10
    """
    bores = MEANS["weld bung"].bores_mm
    return min(bores, key=lambda d: abs(bores[d] - hose_bore_mm))
