"""Findings of the pressure side beyond the window: tap, chain, priming, draw, split, stack."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from gravidon.parts import sources
from gravidon.plan.fields import si
from gravidon.plan.units import Family, show
from gravidon.study import assemble
from gravidon.study.cascade import unevenness
from gravidon.study.evaluate import Evaluation
from gravidon.study.findings import Finding, Severity, both, finder, plain, plan_finder, rests
from gravidon.study.measures import source_of
from gravidon.study.priming import arrival, stack_height_mm
from gravidon.study.tap_choice import open_share

BALL_BORE_MM = 1.3
"""Restrictors below this are sold for ball bearings [mm]; common practice, no source."""


@plan_finder
def unfiltered(e: Evaluation) -> Iterable[Finding]:
    """The tap is upstream of the filter."""
    if not e.tap.filtered:
        text = f"{e.tap.label.capitalize()} takes oil before the filter."
        yield plain("unfiltered", "bad", "Unfiltered oil to the bearing", "tap", 0.0, 1.0, "share",
                     sources.COMMON_PRACTICE, (text, text),
                     "What the filter would have caught goes through the orifice or scores the bearing.", -1.0)  # fmt: skip


@plan_finder
def protruding(e: Evaluation) -> Iterable[Finding]:
    """The fitting sticks into the gallery."""
    left, need = open_share(e.tap), e.plan.needs.gallery_open.value
    if left >= need:
        return
    severity: Severity = "bad" if left < 0.5 * need else "watch"
    text = both(
        lambda f: (
            f"The fitting reaches {show(si(e.tap, 'protrusion_mm'), 'mm', f)} further in than the plug did and "
            f"leaves {left:.0%} of the gallery open; {need:.0%} is wanted."
        )
    )
    yield plain("protruding", severity, "Fitting blocks the gallery", "tap", left, need, "share",
                 source_of(e.plan.needs.gallery_open), text,
                 "The engine's own bearings downstream get what is left; builders cut the fitting down.",
                 (left - need) / need, rests(e, "tap.protrusion", "tap.gallery"))  # fmt: skip


@plan_finder
def access(e: Evaluation) -> Iterable[Finding]:
    """No room for the wrench, or hot parts too near."""
    for name, code, title, why in (
        ("wrench_mm", "no-wrench", "No room to swing a wrench", "A fitting that cannot be tightened leaks; one that cannot be undone stays."),
        ("hot_mm", "near-heat", "Tap near hot parts", "Hose and oil cook near exhaust parts; a leak there is a fire. Sleeve and shield it, or choose another tap."),
    ):  # fmt: skip
        have, need = si(e.tap, name), si(e.plan.needs, name)
        if have >= need:
            continue

        def sentence(f: Family, have: float = have, need: float = need) -> str:
            return f"{e.tap.label.capitalize()}: {show(have, 'run', f)}; {show(need, 'run', f)} is wanted."

        yield plain(code, "watch", title, "tap", have, need, "run", source_of(getattr(e.plan.needs, name)),
                     both(sentence), why, (have - need) / max(need, 1e-3), rests(e, f"tap.{name}"))  # fmt: skip


@plan_finder
def slow_to_prime(e: Evaluation) -> Iterable[Finding]:
    """Oil takes too long to arrive on a cold start."""
    arrives, need = arrival(e.plan, e.supply), si(e.plan.needs, "prime_s")
    if arrives.cold_s <= need:
        return
    text = f"On a cold start oil needs {arrives.cold_s:.1f} s to reach the turbo ({arrives.hot_s:.1f} s hot); {need:g} s is wanted."
    yield plain("slow-prime", "watch", "Slow to bring oil", "feed", arrives.cold_s, need, "s",
                 source_of(e.plan.needs.prime_s), (text, text),
                 "Until then the bearing runs on what clings to it. Thick oil creeps through a long thin hose.",
                 (need - arrives.cold_s) / need, rests(e, "engine.pump", "needs.prime"))  # fmt: skip


@plan_finder
def robbed(e: Evaluation) -> Iterable[Finding]:
    """The turbos' draw lowers gallery pressure."""
    if si(e.plan.engine, "pump_cc_rev") <= assemble.LEAST_PUMP_M3_REV:
        return
    still = e.supply.undrawn_pa
    lost = np.where(still > 0.0, 1.0 - e.supply.gallery_pa / np.where(still > 0.0, still, 1.0), 0.0)
    i, need = int(lost.argmax()), e.plan.needs.gallery_drop.value
    if lost[i] <= need:
        return
    text = both(
        lambda f: (
            f"In {e.names[i]} the turbo feed takes gallery pressure from {show(float(still[i]), 'kpa', f)} "
            f"to {show(float(e.supply.gallery_pa[i]), 'kpa', f)}."
        )
    )
    yield Finding(
        code="robbed", severity="watch", title="Engine robbed of oil", station="car", condition=e.names[i],
        condition_index=i, value=float(lost[i]), limit=need, kind="share", source=source_of(e.plan.needs.gallery_drop),
        texts=text, why="The pump delivers only so much per turn; what the turbo takes the engine's bearings miss.",
        margin=float((need - lost[i]) / need), rests_on=rests(e, "engine.pump", "needs.gallery_drop"),
    )  # fmt: skip


@plan_finder
def uneven(e: Evaluation) -> Iterable[Finding]:
    """Two or three turbos do not share alike."""
    if len(e.plan.turbos) < 2:
        return
    apart, need = unevenness(e), e.plan.needs.split_even.value
    i = int(apart.argmax())
    if apart[i] <= need:
        return
    flows = [float(b.flow_m3_s[i]) for b in e.network.branches]
    names = [line.turbo.label for line in e.plan.turbos]
    least = int(
        np.argmin(np.array(flows) / [line.turbo.reference_flow_l_min.value for line in e.plan.turbos])
    )
    text = both(
        lambda f: (
            f"In {e.names[i]} the turbos get "
            + " and ".join(show(q, "l_min", f) for q in flows)
            + f"; {names[least]} comes off worst by {apart[i]:.0%}."
        )
    )
    severity: Severity = "bad" if apart[i] > 2.5 * need else "watch"
    yield Finding(
        code="uneven", severity=severity, title="Split unbalanced", station="feed", condition=e.names[i],
        condition_index=i, value=float(apart[i]), limit=need, kind="share", source=source_of(e.plan.needs.split_even),
        texts=text, why="A longer or tighter branch, or a screen that clogs, sends the oil to the other turbo.",
        margin=float((need - apart[i]) / need), rests_on=rests(e, "needs.split"),
    )  # fmt: skip


@finder
def wrong_kind(e: Evaluation) -> Iterable[Finding]:
    """A restrictor sold for the other bearing kind."""
    for name, place in (("restrictor", "The inlet restrictor"), ("flange_hole", "The hole in the flange")):
        hole = getattr(e.line, name)
        if e.line.turbo.bearing != "journal" or not hole.fitted or hole.bore_mm >= BALL_BORE_MM:
            continue

        def sentence(f: Family, bore: float = hole.bore_mm, place: str = place) -> str:
            return f"{place} ({show(bore * 1e-3, 'bore', f)}) is of the size sold for ball bearings; this turbo has journal bearings."

        yield plain(f"wrong-kind-{name}", "watch", "Restrictor for the other bearing", "restrictor", hole.bore_mm * 1e-3,
                     BALL_BORE_MM * 1e-3, "bore", sources.COMMON_PRACTICE, both(sentence),
                     "Flange kits are often sold with a small hole already in them; drilled out they serve a journal turbo.",
                     hole.bore_mm / BALL_BORE_MM - 1.0)  # fmt: skip


@finder
def stack_too_tall(e: Evaluation) -> Iterable[Finding]:
    """The feed fittings over the inlet hit the bonnet."""
    tall, room = stack_height_mm(e.line.feed.pieces) * 1e-3, si(e.line.feed, "bonnet_mm")
    if tall <= room:
        return
    text = both(
        lambda f: (
            f"The fittings over the oil inlet stand {show(tall, 'run', f)} tall; the bonnet leaves {show(room, 'run', f)}."
        )
    )
    yield plain("tall-stack", "bad", "Feed fitting too tall", "feed", tall, room, "run", sources.COMPUTED, text,
                 "A straight fitting where a 90° was needed is found when the bonnet does not shut.",
                 (room - tall) / max(room, 1e-3), rests(e, "feed.bonnet"))  # fmt: skip
