"""Findings of how things are mounted: the seat, the entry's place and threads, the breather, the scavenge pump."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from gravidon.parts import sources
from gravidon.parts.entry_means import threads_held
from gravidon.parts.threads import THREADS
from gravidon.plan.fields import Known, si
from gravidon.plan.units import show
from gravidon.study.entry_map import place_problems
from gravidon.study.evaluate import Evaluation
from gravidon.study.findings import Finding, both, finder, plain, plan_finder, rests
from gravidon.study.measures import source_of
from gravidon.study.seating import cavity_oil, seating

# --- seat ------------------------------------------------------------------------------------


def _turned(
    e: Evaluation,
    code: str,
    title: str,
    have: float,
    most: float,
    known: Known,
    words: str,
    why: str,
    path: str,
) -> Iterable[Finding]:
    if have <= most + 1e-9:
        return
    use = f" for a {e.plan.use} car" if known.basis == "guess" else ""
    text = f"{words} {np.degrees(have):.0f}°; the limit is {np.degrees(most):.0f}°{use}."
    yield plain(code, "bad", title, "seat", have, most, "deg", source_of(known), (text, text), why,
                (most - have) / max(most, 0.02), rests(e, path))  # fmt: skip


@finder
def tilt(e: Evaluation) -> Iterable[Finding]:
    """The shaft is tilted further than its housing takes."""
    s = seating(e)
    yield from _turned(
        e, "tilt", "Shaft tilted too far", s.tilt_rad, s.tilt_limit_rad, e.line.turbo.tilt_max_deg,
        "The shaft is tilted by", "Oil stays lying at the lower seal, and no pump on the drain gets it out of that corner.",
        "turbo.tilt",
    )  # fmt: skip


@finder
def clock(e: Evaluation) -> Iterable[Finding]:
    """The drain is turned too far off straight down."""
    s = seating(e)
    yield from _turned(
        e, "clock", "Drain turned off straight down", s.clock_rad, s.clock_limit_rad, e.line.turbo.clock_max_deg,
        "The drain points off straight down by", "The cavity's lowest place is then no longer its outlet.", "turbo.clock_max",
    )  # fmt: skip


@finder
def lying(e: Evaluation) -> Iterable[Finding]:
    """Oil stays lying at a seal when the flow has stopped."""
    s = seating(e)
    still = np.array([c.regime == "off" for c in e.plan.conditions])
    left = np.where(still, s.stays_below_seal_m, np.inf)
    i = int(left.argmin())
    if not still.any() or left[i] >= 0.0:
        return
    text = both(
        lambda f: (
            f"In {e.names[i]} {show(float(cavity_oil(e).stays_m3[i]), 'ml', f)} stay in the cavity, {show(-float(left[i]), 'mm', f)} over the bottom of a seal."
        )
    )
    yield Finding(
        code="lying", severity="bad", title="Oil stays at a seal after shut-down", station="seat",
        condition=e.names[i], condition_index=i, value=float(left[i]), limit=0.0, kind="mm", source=sources.COMPUTED,
        texts=text, why="It seeps past the ring overnight, or bakes to carbon on the turbine side.",
        margin=float(left[i]) / 0.02, rests_on=rests(e, "turbo.shaft", "turbo.seal"),
    )  # fmt: skip


# --- entry -----------------------------------------------------------------------------------


@finder
def threads_few(e: Evaluation) -> Iterable[Finding]:
    """The pan's wall holds too few threads."""
    fitting = e.line.drain.fitting
    held = threads_held(fitting.means, fitting.port_thread, e.plan.sump.wall_mm.value)
    need = e.plan.needs.threads_min.value
    if held >= need or not e.route.ends_in_fitting:
        return
    text = both(
        lambda f: (
            f"A wall of {show(si(e.plan.sump, 'wall_mm'), 'mm', f)} holds {held:.1f} threads of {fitting.port_thread}; {need:.0f} are wanted."
        )
    )
    yield plain("threads-few", "bad" if held < 0.5 * need else "watch", "Wall holds too few threads", "entry", held,
                need, "count", source_of(e.plan.needs.threads_min), text,
                f"Pitch {THREADS[fitting.port_thread].pitch_mm:.2f} mm ({THREADS[fitting.port_thread].standard}): hose and heat work a short thread loose.",
                (held - need) / need, rests(e, "needs.threads"))  # fmt: skip


@finder
def entry_place(e: Evaluation) -> Iterable[Finding]:
    """The entry's place is taken, or tools do not get there."""
    if not e.route.ends_in_fitting:
        return
    for code, words in place_problems(e):
        text = f"At the entry: {words}."
        yield plain(f"entry-{code}", "bad" if code in ("inside", "edge") else "watch", "Entry's place is taken", "entry", 0.0,
                    0.0, "mm", sources.COMMON_PRACTICE, (text, text),
                    "Mock it up: the hose end must spin on, the drill must reach, and nothing may sit behind the wall.", -0.4)  # fmt: skip


# --- breather --------------------------------------------------------------------------------


@plan_finder
def crankcase(e: Evaluation) -> Iterable[Finding]:
    """Crankcase pressure above what is usual."""
    pressure, most = e.breathing.crankcase_pa, si(e.plan.needs, "crankcase_max_kpa")
    i = int(pressure.argmax())
    if pressure[i] <= most:
        return
    text = both(
        lambda f: (
            f"In {e.names[i]} the crankcase stands at {show(float(pressure[i]), 'kpa_small', f)}; {show(most, 'kpa_small', f)} is the most wanted."
        )
    )
    hit = np.argsort(-pressure)
    also = tuple(e.names[k] for k in hit if pressure[k] > most and k != i)
    yield Finding(
        code="crankcase", severity="watch", title="Crankcase pressure high", station="breather", condition=e.names[i],
        condition_index=i, value=float(pressure[i]), limit=most, kind="kpa_small", also=also,
        source=source_of(e.plan.needs.crankcase_max_kpa), texts=text,
        why="It pushes oil past gaskets and, wherever the drain runs full, up towards the seals.",
        margin=float((most - pressure[i]) / most), rests_on=rests(e, "breather", "needs.crankcase"),
    )  # fmt: skip


@plan_finder
def boost_back(e: Evaluation) -> Iterable[Finding]:
    """Boost blows into the crankcase through a valve that is none."""
    flow = e.breathing.intake_m3_s
    i = int(flow.argmin())
    if flow[i] > -1e-5:
        return
    text = both(
        lambda f: f"In {e.names[i]} boost blows {show(-float(flow[i]), 'l_min', f)} back into the crankcase."
    )
    yield Finding(
        code="boost-back", severity="bad", title="Boost in the crankcase", station="breather", condition=e.names[i],
        condition_index=i, value=float(flow[i]), limit=0.0, kind="l_min", source=sources.COMPUTED, texts=text,
        why="A plain valve opens both ways once the intake is under boost; a real one-way valve does not.",
        margin=-1.0, rests_on=rests(e, "breather"),
    )  # fmt: skip


# --- scavenge --------------------------------------------------------------------------------


@finder
def pump_weak(e: Evaluation) -> Iterable[Finding]:
    """The pump takes less than comes, or has too little in hand."""
    s = e.scavenging
    if e.line.drain_by != "scavenge":
        return
    flowing = s.bulk_m3_s > 0.0
    ratio = np.where(flowing, s.delivery_m3_s / np.where(flowing, s.bulk_m3_s, 1.0), np.inf)
    i, need = int(ratio.argmin()), e.plan.needs.pump_margin.value
    if ratio[i] >= need:
        return
    text = both(
        lambda f: (
            f"In {e.names[i]} {show(float(s.bulk_m3_s[i]), 'l_min', f)} of froth come and the pump takes "
            f"{show(float(s.delivery_m3_s[i]), 'l_min', f)}, {ratio[i]:.1f} times that; {need:g} times is wanted."
        )
    )
    also = tuple(n for k, n in enumerate(e.names) if ratio[k] < need and k != i)
    yield Finding(
        code="pump-weak", severity="bad" if ratio[i] < 1.0 else "watch", title="Scavenge pump too weak",
        station="scavenge", condition=e.names[i], condition_index=i, value=float(ratio[i]), limit=need, kind="share",
        source=source_of(e.plan.needs.pump_margin), texts=text, also=also,
        why="Froth fills a pump with air: it must take the bulk, not the oil, at the volts that reach it.",
        margin=float((ratio[i] - need) / need), rests_on=rests(e, "scavenge", "needs.pump"),
    )  # fmt: skip


@finder
def wiring(e: Evaluation) -> Iterable[Finding]:
    """Wire too thin, fuse wrong, no relay."""
    it, s = e.line.scavenge, e.scavenging
    if e.line.drain_by != "scavenge":
        return
    need = e.plan.needs.volts_min.value
    if s.volts_share < need:
        text = f"{s.wire_drop_v:.1f} V of {it.supply_v.value:.1f} V are lost on the way; the pump gets {s.volts:.1f} V, {s.volts_share:.0%}; {need:.0%} is wanted."
        yield plain("wire-thin", "watch" if s.volts_share > need - 0.07 else "bad", "Wire too thin", "scavenge", s.volts_share, need, "share",
                    source_of(e.plan.needs.volts_min), (text, text),
                    "A pump slows with its volts, most when the alternator is off and the oil is thick.",
                    (s.volts_share - need) / 0.1, rests(e, "scavenge.wire", "scavenge.current"))  # fmt: skip
    if it.fuse_a > s.wire_carries_a or it.fuse_a < it.current_a.value:
        text = f"A {it.fuse_a:g} A fuse on {it.gauge_awg} AWG wire ({s.wire_carries_a:.0f} A) and a pump of {it.current_a.value:g} A; {s.fuse_wanted_a:g} A fits the pump."
        yield plain("fuse", "bad", "Fuse does not fit", "scavenge", it.fuse_a, s.fuse_wanted_a, "a", sources.COMMON_PRACTICE,
                    (text, text), "The fuse protects the wire: above what it carries the wire burns first.", -0.6)  # fmt: skip
    if not it.relay:
        text = f"{it.current_a.value:g} A run through the dashboard switch; a relay keeps them off it."
        yield plain("no-relay", "watch", "No relay", "scavenge", it.current_a.value, 0.0, "a", sources.COMMON_PRACTICE,
                    (text, text), "A switch's contacts cost half a volt and fail hot.", -0.1)  # fmt: skip


@finder
def pump_piping(e: Evaluation) -> Iterable[Finding]:
    """Pump too high over its pot, cannot run dry, or oil comes back after key-off."""
    it, s = e.line.scavenge, e.scavenging
    if e.line.drain_by != "scavenge":
        return
    if s.suction_m > s.suction_can_m:
        text = both(
            lambda f: (
                f"The pump sits {show(s.suction_m, 'run', f)} above the pot; it primes itself from {show(s.suction_can_m, 'run', f)}."
            )
        )
        yield plain("suction", "bad", "Pump too high to prime", "scavenge", s.suction_m, s.suction_can_m, "run",
                    source_of(it.self_priming_mm), text, "A gear pump lifts oil it already holds; dry and frothy it lifts little.",
                    -0.7, rests(e, "scavenge.self"))  # fmt: skip
    if not it.runs_dry:
        words = "The pump may not run dry, but a scavenge pump always does between gulps."
        yield plain("runs-dry", "bad", "Pump cannot run dry", "scavenge", 0.0, 1.0, "count", sources.COMMON_PRACTICE, (words, words),
                    "Oil comes in gulps with air between; a pump that needs oil for cooling seizes.", -0.5)  # fmt: skip
    if not it.valve:
        words = "Without a one-way valve the pan's oil can run back through the standing pump after key-off."
        yield plain("no-valve", "watch" if it.return_z_mm > e.line.turbo.drain_flange.z_mm else "bad", "No one-way valve", "scavenge", 0.0, 1.0,
                    "count", sources.COMMON_PRACTICE, (words, words), "It fills pot and housing while the car stands; smoke at the next start.", -0.6)  # fmt: skip
    if s.left_over_m3 > 1e-7:
        text = both(
            lambda f: (
                f"After key-off {show(s.comes_down_m3, 'ml', f)} come down; pot and run-on take {show(s.pot_m3 + s.pumped_m3, 'ml', f)}."
            )
        )
        yield plain("floods", "watch", "Pot floods after key-off", "scavenge", s.comes_down_m3, s.pot_m3 + s.pumped_m3, "ml", sources.COMPUTED,
                    text, "What finds no room stands in the drain and in the housing.", -0.3, rests(e, "scavenge.pot"))  # fmt: skip
