# SPDX-License-Identifier: GPL-3.0-or-later
"""The steps of a build: what is done where, with what, with which cautions, and what must come first."""

from __future__ import annotations

from gravidon.parts.part_kinds import KINDS
from gravidon.parts.threads import THREADS, joint
from gravidon.plan.model import Plan
from gravidon.plan.units import both_lengths
from gravidon.study.making.cutting import EntryTemplate, entry_template
from gravidon.study.making.parts_list import runs
from gravidon.study.making.step import (
    FIRE,
    GAS,
    GOGGLES,
    HOT_COOLANT,
    HOT_OIL,
    HOT_RUNNING,
    JACK,
    PHOSGENE,
    ROAD,
    SOLVENT,
    SWARF,
    Step,
)
from gravidon.words.text import tr


def base_steps(plan: Plan) -> list[Step]:
    entries = [k for k in range(len(plan.turbos)) if entry_template(plan, k) is not None]
    welded = any(plan.turbos[k].drain.fitting.way.pan_off for k in entries)
    pan_off = bool(entries) and (plan.build.pan == "pan off" or welded)
    steps = [
        Step(
            "check",
            tr("Lay everything out"),
            tr(
                "Tick every part of the order list; blow out new fittings: swarf is found inside new ones. Cap what stays open."
            ),
            30,
            tr("air line, caps"),
            (),
            (),
        ),
        Step(
            "mock",
            tr("Mock it up"),
            tr(
                "Turbo, manifold, drain and feed by hand, nothing tightened. Try the spanner on every joint, the bonnet over the feed, the steering lock to lock."
            ),
            60,
            tr("spanners"),
            (JACK,),
            ("check",),
        ),
        Step(
            "drain-oil",
            tr("Drain the engine oil"),
            tr("Warm, not hot. Keep what comes out clean if it is to be looked at with a magnet."),
            20,
            tr("drain pan, magnet"),
            (HOT_OIL, JACK),
            ("check",),
        ),
    ]
    return steps + _entry_steps(plan, pan_off)


def _entry_steps(plan: Plan, pan_off: bool) -> list[Step]:
    steps: list[Step] = []
    if pan_off:
        steps.append(
            Step(
                "pan-off",
                tr("Take the pan off"),
                tr(
                    "Loosen evenly; look what stands behind the wall. Where a crossmember has to come off, hold the engine first."
                ),
                60,
                tr("sockets, scraper"),
                (JACK,),
                ("drain-oil", "mock"),
            )
        )
    for k, it in enumerate(plan.turbos):
        template = entry_template(plan, k)
        if template is None:
            continue
        means = it.drain.fitting.way
        which = "" if len(plan.turbos) == 1 else tr(" for {label}").format(label=it.turbo.label)
        text = " ".join(tr(step) for step in means.steps)
        if means.wall_threads and not pan_off:
            text = (
                tr(
                    "Grease in the flutes, a stop on the drill, advance one turn, back half a turn, wipe often. "
                )
                + text
            )
        steps.append(
            Step(
                f"entry-{k}",
                tr("Make the entry{which}: {name}").format(which=which, name=tr(means.name)),
                _entry_words(template, text, bool(means.wall_threads), it.drain.fitting.rise_deg),
                means.minutes,
                tr("template, drill, tap or saw"),
                (*(tr(h) for h in means.hazards), GOGGLES, *(() if pan_off else (SWARF, JACK))),
                ("pan-off",) if pan_off else ("drain-oil", "mock"),
                tuple(k.name for k in KINDS.values() if k.through_wall),
                "drain",
            )
        )
    entries = tuple(s.key for s in steps if s.key.startswith("entry"))
    if not entries and not pan_off:
        return steps
    sure = (
        tr("a white rag stays clean (a magnet finds no aluminium)")
        if plan.sump.metal == "aluminium"
        else tr("a magnet and a white rag stay clean")
    )
    how = (
        tr("Flush with thin oil until {sure}; new filter.").format(sure=sure)
        if plan.build.clean == "flush"
        else tr(
            "Wipe every surface until {sure}; new filter. Flushing is recommended: a pickup screen does not catch fine swarf."
        ).format(sure=sure)
    )
    steps.append(
        Step(
            "clean",
            tr("Clean the pan"),
            how,
            30,
            tr("chlorine-free brake cleaner, white rags")
            + ("" if plan.sump.metal == "aluminium" else tr(", magnet")),
            (SOLVENT, SWARF, PHOSGENE),
            entries or ("pan-off",),
        )
    )
    steps += _sealed_in(plan)
    if pan_off:
        steps.append(
            Step(
                "pan-on",
                tr("Pan back on"),
                tr("New gasket, bolts crosswise by the maker's torque."),
                60,
                tr("torque wrench, gasket"),
                (JACK,),
                ("clean", *(f"entry-fit-{k}" for k in range(len(plan.turbos)))),
            )
        )
    return steps


CURE = tr(
    "Give it the time its maker asks for before oil comes (a day for thread sealant is usual), and never turn it back."
)


def _sealed_in(plan: Plan) -> list[Step]:
    """Return the fittings that are sealed into a tapped wall: after all cleaning, which would wash the sealant out."""
    steps = []
    for k, it in enumerate(plan.turbos):
        if entry_template(plan, k) is None or not it.drain.fitting.way.wall_threads:
            continue
        which = "" if len(plan.turbos) == 1 else tr(" for {label}").format(label=it.turbo.label)
        how = (
            tr("tape, kept off the first two threads")
            if plan.build.sealing == "tape"
            else tr("{sealing}, none on the first two threads").format(sealing=tr(plan.build.sealing))
        )
        steps.append(
            Step(
                f"entry-fit-{k}",
                tr("Seal the entry fitting in{which}").format(which=which),
                tr(
                    "Both threads clean and dry. {how}; by hand, then with the spanner: count the turns, and stop early in aluminium."
                ).format(how=how[:1].upper() + how[1:])
                + ("" if plan.build.sealing == "tape" else f" {CURE}"),
                10,
                tr("spanner, sealant"),
                (),
                ("clean",),
                ("sealant", "adapter"),
                "drain",
            )
        )
    return steps


CURE_H = 24.0
"""[h] that thread sealant takes before oil may come, where its maker says nothing; common practice, no source."""


def _cured(plan: Plan) -> list[Step]:
    """Return the wait for sealant, where anything is sealed with it before oil comes."""
    sealed = [f"entry-fit-{s}" for s, it in enumerate(plan.turbos) if it.drain.fitting.way.wall_threads]
    tapers = any(
        {"NPT", "NPTF", "BSPT", "metric taper"} & {j.one.kind, j.other.kind}
        for run in runs(plan)
        for j in run.joints
    )
    if plan.build.sealing == "tape" or not tapers:
        return []
    return [
        Step(
            "cure",
            tr("Let the sealant cure"),
            tr("No oil, no pressure, no turning back. Cold rooms take longer: its maker's time rules."),
            0,
            "",
            (),
            ("tap", *sealed, *(f"feed-{k}" for k in range(len(plan.turbos)))),
            wait_h=CURE_H,
        )
    ]


def _entry_words(template: EntryTemplate, text: str, drilled: bool, rise_deg: float) -> str:
    """Return how an entry is made: by the template, to which depth where a drill does it, and which way its axis points."""
    words = tr("Use the paper template: {tool}").format(tool=template.tool)
    if drilled:
        words += tr("; stop at {both_lengths} of drill").format(both_lengths=both_lengths(template.stop_m, 0))
    words += ". "
    if abs(rise_deg) >= 0.5:
        points = (
            tr("up, so that it falls into the pan") if rise_deg > 0 else tr("down: it rises into the pan")
        )
        words += tr(
            "Its outer end points {angle:.0f}° {points}; a hole square to an upright wall is 0°. "
        ).format(angle=abs(rise_deg), points=points)
    return words + text


def finishing_steps(plan: Plan) -> list[Step]:
    last = [f"{name}-{k}" for k in range(len(plan.turbos)) for name in ("coolant", "sleeve", "drain-join")]
    last += [f"pump-{k}" for k, it in enumerate(plan.turbos) if it.drain_by == "scavenge"]
    tap = plan.taps[plan.tap]
    sealing = tr("Seal taper threads with {sealing}; nothing on flares, banjos and O-rings.").format(
        sealing=tr(plan.build.sealing)
    )
    fits = joint(THREADS[tap.fitting_thread], THREADS[tap.port_thread]).verdict == "seals"
    threads = (
        tr("{fitting_thread} into {port_thread}. {sealing} Aluminium threads strip: snug only.").format(
            fitting_thread=tap.fitting_thread, port_thread=tap.port_thread, sealing=sealing
        )
        if fits
        else tr(
            "Stop: {fitting_thread} and {port_thread} do not make a joint (see the findings). Get the fitting that does."
        ).format(fitting_thread=tap.fitting_thread, port_thread=tap.port_thread)
    )
    cured = _cured(plan)
    pumped = [k for k, it in enumerate(plan.turbos) if it.drain_by == "scavenge"]
    tried = tr(" Run the pump for a moment first: it must turn the right way and suck.") if pumped else ""
    return [
        Step(
            "tap",
            tr("Fit the oil take-off: {label}").format(label=tap.label),
            threads
            + (tr(" Keep the sender working.") if tap.keeps_sender else "")
            + (f" {CURE}" if fits and plan.build.sealing != "tape" else ""),
            30,
            tr("spanners"),
            (),
            ("mock",),
            ("tee", "adapter", "sealant", "washer"),
            "feed",
        ),
        Step(
            "breather",
            tr("Breather"),
            tr("As planned; a real one-way valve where it goes to the intake."),
            40,
            "",
            (),
            ("mock",),
        ),
        Step(
            "coolant-fill",
            tr("Fill and bleed the coolant"),
            tr("By the car maker's way, heater on; air trapped in the turbo's water lines boils."),
            30,
            tr("funnel, coolant"),
            (HOT_COOLANT,),
            tuple(f"coolant-{k}" for k in range(len(plan.turbos))),
        ),
        *cured,
        Step(
            "fill",
            tr("Fill with oil, new filter"),
            tr(
                "{litres:g} L of {grade}, the filter filled first where it stands upright; prime the turbo through its inlet and turn its shaft by hand.{tried}"
            ).format(litres=plan.sump.fill_l.value, grade=plan.oil.grade, tried=tried),
            20,
            tr("funnel, oil can"),
            (),
            (*last, *(s.key for s in cured)),
        ),
        Step(
            "crank",
            tr("Crank without firing until pressure shows"),
            tr(
                "Fuel off by the maker's way (with only the spark off, raw fuel runs into the exhaust). Bursts of ten seconds, half a minute of rest between, two minutes after the third. Crack the feed joint at the turbo or watch a gauge: oil must arrive. Then tighten that joint again, and wipe every drop away."
            ),
            15,
            tr("gauge, rag, spanner"),
            (FIRE, tr("No hand on the cracked joint while the engine turns.")),
            ("fill", "breather", "coolant-fill"),
        ),
        Step(
            "start",
            tr("First start"),
            tr(
                "Idle; a rebuilt engine goes by its builder's break-in first, which may forbid idling. Look for leaks and smoke; see by an infrared thermometer that the drain warms: no hand near it. Off after a minute, look again; then ten minutes."
            ),
            30,
            tr("lamp, extinguisher"),
            (FIRE, GAS, HOT_RUNNING),
            ("crank",),
        ),
        Step(
            "recheck",
            tr("Re-check"),
            tr(
                "Oil and coolant level, every joint with a spanner when cold, hose and clamps; a sealed taper thread is never turned back. A weeping washer or flare gets a new seal, not another quarter turn."
            ),
            30,
            tr("spanners, dipstick"),
            (HOT_OIL, JACK),
            ("start",),
        ),
        Step(
            "drive",
            tr("First drive"),
            tr(
                "Gently, pressure logged. After 10 km stop and look: leaks, level, smoke when the throttle is let go; the drain's skin, by an infrared thermometer, within some {near} of the oil: no hand near it. Idle before every key-off, as the card for the first start says."
            ).format(near="30 °C (54 °F)"),
            60,
            tr("gauge, rag, extinguisher"),
            (ROAD, FIRE, HOT_RUNNING),
            ("recheck",),
        ),
        Step(
            "oil-change",
            tr("Early oil and filter"),
            tr(
                "After 100 to 500 km: new oil and filter, the old filter cut open. Swarf that the flush left is in it."
            ),
            30,
            tr("drain pan, filter, cutter"),
            (HOT_OIL, JACK),
            ("drive",),
        ),
    ]
