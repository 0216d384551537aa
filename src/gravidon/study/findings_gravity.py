"""Findings of the oil on its way home: seals, entry, fill, slopes, dips, bends, what the hose comes near to."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from gravidon.parts import sources
from gravidon.plan.fields import si
from gravidon.plan.units import Family, show
from gravidon.study.evaluate import Evaluation
from gravidon.study.findings import (
    Finding,
    Severity,
    both,
    build,
    finder,
    lasting,
    measure_of,
    plain,
    rests,
    thread_finding,
    worst_of,
)
from gravidon.study.measures import source_of
from gravidon.study.run_review import review

LEAST_DIP_M = 0.002
"""[m] of standing oil below which a dip is not worth a word; project choice."""


@finder
def entry_threads(e: Evaluation) -> Iterable[Finding]:
    """Two thread standards mixed at the pan."""
    fitting = e.line.drain.fitting
    if e.route.ends_in_fitting:
        yield from thread_finding("entry", "pan entry", fitting.fitting_thread, fitting.port_thread)


@finder
def seal_wet(e: Evaluation) -> Iterable[Finding]:
    """Oil stands at, or too close to, a seal."""
    m = measure_of(e, "freeboard")
    wet = m.value < 0.0
    in_time = e.drainage.time_to_wet_s > lasting(e)
    bad = wet & ~in_time
    close = (m.margin < 0.0) & ~bad

    def sentence(i: int, family: Family) -> str:
        which = ("turbine", "compressor")[int(e.drainage.lower_seal[i])]
        have = show(abs(m.value[i]), "mm", family)
        if m.value[i] < 0.0:
            seconds = float(e.drainage.time_to_wet_s[i])
            after = f" after {seconds:.1f} s" if np.isfinite(seconds) else ""
            if e.drainage.time_to_wet_s[i] > lasting(e)[i]:
                after += f", but {e.names[i]} lasts {lasting(e)[i]:g} s"
            return f"In {e.names[i]} oil would stand {have} above the bottom of the {which} seal{after}."
        need = show(m.limit[i], "mm", family)
        return f"In {e.names[i]} only {have} is left below the {which} seal; {need} is wanted."

    def why(hit: np.ndarray) -> str:
        i, _ = worst_of(e, m, hit)
        water = e.drainage.backwater
        if water.lift_m[i] > 0.03:
            return "Crankcase pressure lifts the oil: the drain is sealed, so gas cannot pass it."
        if water.submerged[i]:
            return "The pan's oil stands over the entry and backs up the hose."
        if water.sealed[i]:
            return "The drain runs full somewhere, and oil piles up above that place."
        return "The oil ponds over the drain flange before it can fall away."

    relies = rests(e, "sump", "turbo.shaft", "turbo.seal", "turbo.cavity")
    if bad.any():
        yield build(e, m, bad, "bad", "Seal under oil", sentence, why(bad), relies)
    if close.any() and not bad.any():
        yield build(e, m, close, "watch", "Seal close to oil", sentence, why(close), relies)


@finder
def drowned(e: Evaluation) -> Iterable[Finding]:
    """The pan's oil stands over the entry while oil is draining."""
    m = measure_of(e, "drowned")
    hit = m.margin < 0.0
    if not hit.any():
        return
    for_good = hit & np.isinf(lasting(e))
    severity: Severity = "bad" if for_good.any() else "watch"

    def sentence(i: int, family: Family) -> str:
        over = show(m.value[i], "mm", family)
        length = "" if np.isinf(lasting(e)[i]) else f" for {lasting(e)[i]:g} s"
        return (
            f"In {e.names[i]} the pan's oil stands {over} above the entry{length}; the drain cannot breathe."
        )

    yield build(e, m, for_good if for_good.any() else hit, severity, "Entry under oil", sentence,
                 "Blow-by and froth meet in a drowned pipe; what comes down must first push what is there.",
                 rests(e, "sump"))  # fmt: skip


@finder
def choked(e: Evaluation) -> Iterable[Finding]:
    """The drain is filled beyond what lets gas pass."""
    m = measure_of(e, "choked")
    hit = (m.margin < 0.0) & (e.drainage.submergence_m < 0.0)
    if not hit.any():
        return

    def sentence(i: int, family: Family) -> str:
        place = e.route.part_at(int(e.drainage.worst_station[i]))
        share = "runs full" if m.value[i] >= 1.0 else f"is {m.value[i]:.0%} deep in oil"
        return f"In {e.names[i]} {place} {share}; above {m.limit[i]:.0%} gas cannot pass the oil."

    yield build(e, m, hit, "watch", "Drain choked", sentence,
                 "Froth is bulky: hot oil leaves the housing with a third to a half of air in it.",
                 rests(e, "needs.fill"))  # fmt: skip


@finder
def small_fitting(e: Evaluation) -> Iterable[Finding]:
    """A bore below the hose that is tighter than the hose."""
    fitting, hose = e.line.drain.fitting.bore_mm, e.line.drain.hose_bore_mm
    if fitting >= 0.93 * hose or not e.route.ends_in_fitting:
        return
    area = (fitting / hose) ** 2

    def sentence(family: Family) -> str:
        small, large = show(fitting * 1e-3, "bore", family), show(hose * 1e-3, "bore", family)
        return f"The entry fitting's {small} bore throttles the {large} hose to {area:.0%} of its area."

    yield Finding(
        code="small-fitting", severity="watch", title="Last fitting tighter than the hose", station="entry",
        condition="", condition_index=-1, value=fitting * 1e-3, limit=hose * 1e-3, kind="bore",
        source=sources.COMMON_PRACTICE, texts=both(sentence),
        why="The smallest bore is what flows; a big hose on a small fitting is a small drain.",
        margin=area - 1.0,
    )  # fmt: skip


@finder
def uphill(e: Evaluation) -> Iterable[Finding]:
    """A stretch that does not fall."""
    corners = e.route.corners_m
    for leg in range(1, e.route.legs):
        step = corners[leg] - corners[leg + 1]
        length = float(np.linalg.norm(step))
        falls = (e.drainage.up @ step) / length
        upright = float(step[2]) / length
        if upright < -1e-6:
            angle = float(np.arcsin(upright))
            text = f"{e.route.leg_names[leg].capitalize()} climbs at {np.degrees(-angle):.0f}° towards the pan with the car level."
            yield Finding(
                code="uphill", severity="bad", title="Drain runs uphill", station="drain", condition="",
                condition_index=-1, value=angle, limit=0.0, kind="deg", source=sources.COMMON_PRACTICE,
                texts=(text, text), why="Oil only leaves when it falls; a dip holds oil and shuts the gas off.",
                margin=angle,
            )  # fmt: skip
        else:
            falls = np.where(np.isinf(lasting(e)), falls, np.inf)  # what passes is the freeboard's business
            worst = int(np.argmin(falls))
            if falls[worst] >= 0.0 or upright > 0.99:
                continue
            angle = float(np.arcsin(falls[worst]))
            text = f"In {e.names[worst]} {e.route.leg_names[leg]} runs uphill by {np.degrees(-angle):.0f}° as the oil feels it."
            yield Finding(
                code="uphill-attitude", severity="watch", title="Uphill in this attitude", station="drain",
                condition=e.names[worst], condition_index=worst, value=angle, limit=0.0, kind="deg",
                source=sources.COMMON_PRACTICE, texts=(text, text),
                why="What falls on level ground climbs once the car leans.", margin=angle,
            )  # fmt: skip


@finder
def gas_pressure(e: Evaluation) -> Iterable[Finding]:
    """Crankcase pressure standing on a sealed drain."""
    lift = e.drainage.backwater.lift_m
    i = int(np.argmax(lift))
    if lift[i] < 0.02:
        return

    def sentence(family: Family) -> str:
        pressure = show(float(e.drainage.gas_difference_pa[i]), "kpa_small", family)
        return f"In {e.names[i]} crankcase pressure of {pressure} lifts the sealed drain's oil by {show(float(lift[i]), 'mm', family)}."

    yield Finding(
        code="crankcase-lift", severity="watch", title="Crankcase pressure on the drain", station="breather",
        condition=e.names[i], condition_index=i, value=float(lift[i]), limit=0.02, kind="mm",
        source=sources.COMMON_PRACTICE, texts=both(sentence),
        why="The turbo smokes although the drain looks right: the breather is part of the drain.",
        margin=-float(lift[i]),
    )  # fmt: skip


@finder
def dip(e: Evaluation) -> Iterable[Finding]:
    """The hose sags so that oil stays lying in it, though no stretch is laid uphill."""
    r = review(e)
    steady = np.isinf(lasting(e))
    falling = np.all(
        [leg.falls >= 0.0 for leg in r.legs[1:]], axis=0
    )  # a climbing leg is a finding of its own
    depth = np.where(steady & falling, r.dip_m, 0.0)
    i = int(depth.argmax())
    if depth[i] < LEAST_DIP_M:
        return
    place = e.route.leg_names[int(e.route.leg[min(int(r.dip_station[i]), len(e.route.leg) - 1)])]
    text = both(
        lambda f: f"In {e.names[i]} {show(float(depth[i]), 'mm', f)} of oil stays lying where {place} sags."
    )
    yield Finding(
        code="dip", severity="watch", title="A dip holds oil", station="drain", condition=e.names[i],
        condition_index=i, value=float(depth[i]), limit=LEAST_DIP_M, kind="mm", source=sources.COMPUTED, texts=text,
        why="Oil that lies in a dip shuts the gas off, bakes near heat, and greets every cold start as a plug.",
        margin=-float(depth[i]) / 0.02, rests_on=rests(e, "drain.sag"),
    )  # fmt: skip


@finder
def flat(e: Evaluation) -> Iterable[Finding]:
    """A hose stretch further off upright than is usual."""
    leg = review(e).flattest
    most = si(e.plan.needs, "angle_max_deg")
    if leg is None or leg.off_upright_rad <= most or leg.off_upright_rad > 0.5 * np.pi:
        return
    text = f"{leg.name.capitalize()} lies {np.degrees(leg.off_upright_rad):.0f}° off upright; within {np.degrees(most):.0f}° is usual."
    yield plain("flat", "watch", "Drain lies flat", "drain", leg.off_upright_rad, most, "deg",
                source_of(e.plan.needs.angle_max_deg), (text, text),
                "A steep hose carries froth with air over it; a flat one fills, and the car's lean does the rest.",
                (most - leg.off_upright_rad) / most * 0.1, rests(e, "needs.angle"))  # fmt: skip


@finder
def bend(e: Evaluation) -> Iterable[Finding]:
    """A bend tighter than the hose takes."""
    need = si(e.line.drain, "min_bend_mm")
    tight = min(review(e).bends, key=lambda b: b[1], default=None)
    if tight is None or tight[1] >= need:
        return
    number, radius = tight
    text = both(
        lambda f: (
            f"Bend {number} leaves the hose {show(radius, 'run', f)} of radius; it kinks below {show(need, 'run', f)}."
        )
    )
    yield plain("bend", "bad" if radius < 0.6 * need else "watch", "Bend too tight", "drain", radius, need, "run",
                source_of(e.line.drain.min_bend_mm), text,
                "A kinked hose is a choke nobody sees; use a 45° hose end for the corner instead.",
                (radius - need) / need, rests(e, "drain.min_bend"))  # fmt: skip


WORDS = {
    "hot": ("drain-heat", "Drain hose near heat", "The hose cooks, and a leak there is a fire: reroute, sleeve and shield it."),
    "chafe": ("chafe", "Hose chafes", "Steel braid saws through what it rubs on, and moving parts saw through the hose."),
    "solid": ("collides", "Hose runs into something", "The drawing is to scale: what does not fit there will not fit in the car."),
}  # fmt: skip


@finder
def near(e: Evaluation) -> Iterable[Finding]:
    """The hose comes too near to something hot, chafing or solid."""
    for it in review(e).near:
        if it.gap_m >= it.need_m:
            continue
        code, title, why = WORDS[it.shape.kind]

        def sentence(
            f: Family, gap: float = it.gap_m, need: float = it.need_m, name: str = it.shape.label
        ) -> str:
            if gap <= 0.0:
                return f"The drain runs through {name}."
            return f"The drain passes {name} at {show(gap, 'mm', f)}; {show(need, 'mm', f)} is wanted."

        severity: Severity = (
            "bad" if it.gap_m <= (0.4 * it.need_m if it.shape.kind == "hot" else 0.0) else "watch"
        )
        limit = getattr(e.plan.needs, {"hot": "hot_mm", "chafe": "chafe_mm"}.get(it.shape.kind, "chafe_mm"))
        yield plain(code, severity, title, "drain", it.gap_m, it.need_m, "mm", source_of(limit), both(sentence), why,
                    (it.gap_m - it.need_m) / 0.05, rests(e, "needs.hot", "needs.chafe"))  # fmt: skip
