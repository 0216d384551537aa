# SPDX-License-Identifier: GPL-3.0-or-later
"""Ways of getting a drain through a pan's wall: bore, threads, steps, hazards, time. Common practice, no source."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from gravidon.parts.dash import INCH_MM
from gravidon.parts.ends import End, end_of_thread
from gravidon.parts.threads import MINOR_PITCHES, THREADS, Thread
from gravidon.translate import tr


@dataclass(frozen=True)
class Means:
    """One way in; all that varies with it.

    Fields: name; what one says to ask for it; steps; hazards; `minutes` of bench time with the pan as the steps
    say; bore [mm] and thread per dash size; whether the wall's own threads hold it, whether they are sealed
    as taper threads are; whether the pan must come off; whether a drill must reach; the ports a chain of parts
    runs to (the hole as it is, and the end it is sought with) from (port's thread, fitting's thread, dash); the
    hole from (port's thread, bore [mm]) as (diameter [m], how it is made).
    """

    name: str
    ask: str
    steps: tuple[str, ...]
    hazards: tuple[str, ...]
    minutes: int
    bores_mm: dict[int, float]
    threads: dict[int, str]
    wall_threads: bool
    pan_off: bool
    drilled: bool
    ports: Callable[[str, str, int], tuple[End, End]]
    hole: Callable[[str, float], tuple[float, str]]


def _tapped_ports(port: str, fitting: str, dash: int) -> tuple[End, End]:
    return end_of_thread(port, "female"), end_of_thread(fitting, "female")


def _tapped_hole(port: str, bore_mm: float) -> tuple[float, str]:
    thread, drill = THREADS[port], TAP_DRILL_IN.get(port)
    if drill:
        whole, _, part = drill.rpartition("-")
        top, bottom = part.split("/")
        reamed = REAMED_DRILL_IN.get(port)
        instead = tr(" ({reamed} in where a taper reamer follows)").format(reamed=reamed) if reamed else ""
        hole = (int(whole or 0) + int(top) / int(bottom)) * INCH_MM * 1e-3
        return hole, tr("drill {drill} in, {hole_mm:.1f} mm{instead}, then taper-tap {port}").format(
            drill=drill, hole_mm=hole * 1e3, instead=instead, port=port
        )
    if thread.standard.startswith("ASME B1.20"):
        hole = round(npt_pitch_diameter_mm(thread) - DRYSEAL_PITCHES * thread.pitch_mm, 1) * 1e-3
        return hole, tr("drill {hole_mm:.1f} mm, then taper-tap {port}").format(hole_mm=hole * 1e3, port=port)
    if thread.tapered:  # no more than the crests at the gauge plane: a wider hole leaves a shallow thread
        crests = thread.major_mm - MINOR_PITCHES[thread.flank_deg] * thread.pitch_mm
        hole = int(crests * 10.0) * 1e-4
        return hole, tr("drill {hole_mm:.1f} mm, then taper-tap {port}").format(hole_mm=hole * 1e3, port=port)
    hole = (thread.major_mm - thread.pitch_mm) * 1e-3
    return hole, tr("drill {hole_mm:.1f} mm, tap {port}").format(hole_mm=hole * 1e3, port=port)


def npt_pitch_diameter_mm(thread: Thread) -> float:
    """Return the pitch diameter of an American taper thread at its small end [mm].

    Equation: D - (0.05 D + 1.1 in) p, D the pipe's outside and p in inches.
    Source: ASME B1.20.1 (E0; the pipe's outside is not the thread's gauge diameter).

    >>> round(npt_pitch_diameter_mm(THREADS["1/2 NPT"]), 2)
    19.26
    """
    major, pitch = thread.major_mm / INCH_MM, thread.pitch_mm / INCH_MM
    return (major - (0.05 * major + 1.1) * pitch) * INCH_MM


DRYSEAL_PITCHES = 0.72
"""Pitches below the pitch diameter to which a dryseal thread is drilled before its tap: between a shop chart's drills with a reamer (0.8) and
without one (0.6); from memory, no source."""


def _bulkhead_hole(port: str, bore_mm: float) -> tuple[float, str]:
    hole = (THREADS[port].major_mm + 0.4) * 1e-3
    return hole, tr("drill or hole-saw {hole_mm:.1f} mm clear for {port}").format(
        hole_mm=hole * 1e3, port=port
    )


def _bung_hole(port: str, bore_mm: float) -> tuple[float, str]:
    hole = (max(THREADS[port].major_mm, bore_mm) + 2.0 * BUNG_WALL_MM) * 1e-3
    return hole, tr("about {hole_mm:.0f} mm: measure the bung's own outside, and cut to that").format(
        hole_mm=hole * 1e3
    )


BUNG_WALL_MM = 3.0
"""[mm] of metal that a bung has round its thread, at least; common practice, no source."""
TAP_DRILL_IN: dict[str, str] = {
    "1/16 NPT": "1/4",
    "1/8 NPT": "11/32",
    "1/4 NPT": "7/16",
    "3/8 NPT": "37/64",
    "1/2 NPT": "23/32",
    "3/4 NPT": "59/64",
    "1 NPT": "1-5/32",
}
"""Drill before the taper tap, without a reamer [in]; ASME B1.20.1, appendix."""
REAMED_DRILL_IN: dict[str, str] = {"3/8 NPT": "9/16", "1/2 NPT": "45/64"}
"""The same where a taper reamer follows [in]; ASME B1.20.1, appendix."""


MEANS: dict[str, Means] = {
    m.name: m
    for m in (
        Means(
            "weld bung",
            "Weld in a bung",
            (
                "With the pan off: strip and clean it, with nothing chlorinated.", "Mark the centre; cut with a hole saw from outside; deburr.",
                "Have a qualified welder set the bung, its axis falling into the pan.", "Cold again, test for leaks with solvent inside and chalk outside, no flame near; wash.",
            ),
            ("Welding a pan that has held oil can ignite it: leave it to a qualified welder.", "Heat warps a thin rail: bolt it to a plate for welding."),
            240,
            {8: 9.93, 10: 12.29, 12: 15.47, 16: 21.44},
            {8: "-8 flare 3/4-16", 10: "-10 flare 7/8-14", 12: "-12 flare 1-1/16-12", 16: "-16 flare 1-5/16-12"},
            False, True, False, lambda port, fitting, dash: (End("wall", "any"), End("wall", "any")), _bung_hole,
        ),
        Means(
            "tapped",
            "Tap the pan",
            (
                "Mark; measure behind the wall; set a stop on the drill.", "Grease in the flutes; drill, then tap: one turn on, half a turn back, wipe, grease again.",
                "Drain and flush; what comes out tells what came off. The fitting is sealed in after all cleaning.",
            ),
            ("Swarf in the pan destroys engines: with the pan on, grease holds most of it, not all.", "The pickup may sit right behind the wall: a drill without a stop finds it."),
            60,
            {8: 9.93, 10: 12.29, 12: 15.47, 16: 17.5},
            {8: "3/8 NPT", 10: "1/2 NPT", 12: "3/4 NPT", 16: "3/4 NPT"},
            True, False, True, _tapped_ports, _tapped_hole,
        ),
        Means(
            "bulkhead",
            "Fit a bulkhead",
            (
                "Take the pan off, or be sure a hand reaches inside.", "Drill to the fitting's body; deburr both sides.",
                "A sealing washer on each side, the nut inside with thread lock; hold the body while tightening.", "Wash the pan, check that nothing inside touches the nut.",
            ),
            ("A nut that works loose falls into the sump: lock it.", "Sealing washers must be oil- and heat-proof; a curved wall leaks."),
            120,
            {8: 9.93, 10: 12.29, 12: 15.47, 16: 21.44},
            {8: "-8 flare 3/4-16", 10: "-10 flare 7/8-14", 12: "-12 flare 1-1/16-12", 16: "-16 flare 1-5/16-12"},
            False, False, True, lambda port, fitting, dash: (End("hole", f"-{dash}"), End("hole", f"-{dash}")), _bulkhead_hole,
        ),
    )
}  # fmt: skip
"""By name. Bores are the through bore of the flare that the hose screws to (SAE J514), or what the pipe thread leaves."""


def threads_held(means: str, thread: str, wall_mm: float) -> float:
    """Return how many full threads the wall holds; infinite where a bung or a nut holds instead.

    Equation: wall/pitch.

    Raises: KeyError for an unknown thread.
    Source: geometry; pitches of the standard named with the thread.

    >>> round(threads_held("tapped", "1/2 NPT", 4.0), 1)
    2.2
    """
    if not MEANS[means].wall_threads:
        return float("inf")
    return wall_mm / THREADS[thread].pitch_mm


def entry_dash(dash: int) -> int:
    """Return the size in which a way through the wall is made for a hose's dash size: the same, or the nearest there is.

    >>> entry_dash(10), entry_dash(6)
    (10, 8)
    """
    return min(MEANS["weld bung"].bores_mm, key=lambda d: abs(d - dash))
