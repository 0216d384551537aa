# SPDX-License-Identifier: GPL-3.0-or-later
"""The steps of a build: what is done where, with what, with which cautions, and what must come first."""

from __future__ import annotations

from dataclasses import dataclass, field

from gravidon.parts.part_kinds import KINDS
from gravidon.parts.threads import THREADS, joint
from gravidon.plan.model import Plan
from gravidon.plan.units import both_lengths
from gravidon.study.making.cutting import entry_template
from gravidon.study.making.parts_list import runs
from gravidon.words.text import tr


@dataclass(frozen=True)
class Step:
    """One step: key, what to do, minutes (cp), tools, cautions, steps that must come first (where the plan has them), part kinds it needs,
    and which line's (key of a run; empty: any), hours to wait afterwards with the hands in the pockets.

    `blocked` names what is missing; a step after a blocked one waits for it.
    """

    key: str
    title: str
    text: str
    minutes: int
    tools: str = ""
    cautions: tuple[str, ...] = ()
    after: tuple[str, ...] = ()
    kinds: tuple[str, ...] = ()
    line: str = ""
    wait_h: float = 0.0
    blocked: tuple[str, ...] = field(default=())


HOT_OIL = tr("Hot oil and hot exhaust burn: let the car cool down.")
HOT_RUNNING = tr(
    "The exhaust burns within a minute of running: keep hands, sleeves and hair off it, the fan and the belts."
)
GAS = tr("Exhaust gas kills in a closed room: run it outdoors, or with extraction.")
GOGGLES = tr("Goggles: chips and braid ends fly, and what is drilled overhead falls into the eyes.")
GLOVES = tr("Cut braid pierces skin: gloves, and tape where the saw goes.")
BATTERY = tr("Battery off before spanners go near starter and alternator.")
WEIGHT = tr("Turbo and manifold are heavy and hang over fingers: two people, or a hoist.")
PHOSGENE = tr("No chlorinated cleaner on what is to be welded: heat makes a poison gas of it.")
HOT_COOLANT = tr("Never open a hot cooling system: it boils out over hands and face.")
JACK = tr("Never work under a car held by a jack alone: stands, wheels chocked.")
SWARF = tr("Swarf in the pan destroys engines.")
SOLVENT = tr("Solvents and flushing oil: ventilate, gloves and glasses, lawful disposal.")
FIRE = tr(
    "An oil leak on a manifold or downpipe is a fire: extinguisher at hand, wipe everything dry before the start."
)
ROAD = tr("Run in on a closed place, not on a public road.")


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
        which = "" if len(plan.turbos) == 1 else f" for {it.turbo.label}"
        text = " ".join(means.steps)
        if means.wall_threads and not pan_off:
            text = (
                "Grease in the flutes, a stop on the drill, advance one turn, back half a turn, wipe often. "
                + text
            )
        steps.append(
            Step(
                f"entry-{k}",
                tr("Make the entry{which}: {name}").format(which=which, name=means.name),
                tr("Use the paper template: {tool}; stop at {both_lengths} of drill. {text}").format(
                    tool=template.tool, both_lengths=both_lengths(template.stop_m, 0), text=text
                ),
                means.minutes,
                tr("template, drill, tap or saw"),
                (*means.hazards, GOGGLES, *(() if pan_off else (SWARF, JACK))),
                ("pan-off",) if pan_off else ("drain-oil", "mock"),
                tuple(k.name for k in KINDS.values() if k.through_wall),
                "drain",
            )
        )
    entries = tuple(s.key for s in steps if s.key.startswith("entry"))
    if not entries and not pan_off:
        return steps
    sure = (
        "a white rag stays clean (a magnet finds no aluminium)"
        if plan.sump.metal == "aluminium"
        else "a magnet and a white rag stay clean"
    )
    how = (
        f"Flush with thin oil until {sure}; new filter."
        if plan.build.clean == "flush"
        else f"Wipe every surface until {sure}; new filter. Flushing is recommended: a pickup screen does not catch fine swarf."
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
        which = "" if len(plan.turbos) == 1 else f" for {it.turbo.label}"
        how = (
            "tape, kept off the first two threads"
            if plan.build.sealing == "tape"
            else f"{plan.build.sealing}, none on the first two threads"
        )
        steps.append(
            Step(
                f"entry-fit-{k}",
                tr("Seal the entry fitting in{which}").format(which=which),
                tr(
                    "Both threads clean and dry. {value}; by hand, then with the spanner: count the turns, and stop early in aluminium."
                ).format(value=how[:1].upper() + how[1:])
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


def drilled_steps(plan: Plan, k: int) -> list[Step]:
    """Return the steps that open what is bought, or lies in the drawer, to the plan's holes: restrictor, inlet flange."""
    it = plan.turbos[k]
    parts = [p for run in runs(plan) if run.key == "feed" and run.turbo == k for p in run.parts]
    which = "" if len(plan.turbos) == 1 else f", {it.turbo.label}"
    steps = []
    for key, name, hole, part in (
        ("restrictor", "restrictor", it.restrictor, next((p for p in parts if p.what.narrow), None)),
        (
            "flange-hole",
            "oil inlet flange",
            it.flange_hole,
            next((p for p in parts if p.kind == "flange"), None),
        ),
    ):
        if part is None or not hole.fitted or not 0.0 < part.bore_mm <= hole.bore_mm - 0.02:
            continue
        steps.append(
            Step(
                f"{key}-{k}",
                tr("Drill the {name} to {both_lengths}{which}").format(
                    name=name, both_lengths=both_lengths(hole.bore_mm * 0.001, 2), which=which
                ),
                tr(
                    "It comes with {both_lengths}: as it is it starves the bearing. Drill through, deburr both edges, blow it out, and check the hole with the drill's shank."
                ).format(both_lengths=both_lengths(part.bore_mm * 0.001, 2)),
                15,
                tr("drill, pin vice, loupe"),
                (GOGGLES,),
                ("mock",),
                (part.kind,),
                "feed",
            )
        )
    return steps


def turbo_steps(plan: Plan, k: int) -> list[Step]:
    it = plan.turbos[k]
    tag = "" if len(plan.turbos) == 1 else f", {it.turbo.label}"
    clock, pitch = it.turbo.clock_deg.value, it.turbo.pitch_deg.value
    steps = [
        Step(
            f"clock-{k}",
            tr("Clock the housing{tag}").format(tag=tag),
            tr(
                "Scribe where the housings stand now. Loosen the housing bolts (the wheels must not touch), set the drain {abs:.0f}° off straight down and the shaft {abs2:.0f}° off level, tighten the bolts that the drain will hide first, evenly; scribe the new line. The shaft must spin freely."
            ).format(abs=abs(clock), abs2=abs(pitch)),
            25,
            tr("sockets, scriber, angle gauge"),
            (),
            ("mock",),
        ),
        Step(
            f"drain-flange-{k}",
            tr("Drain flange and hose on the turbo{tag}").format(tag=tag),
            tr(
                "New gasket, no silicone; oil its bolts. Do it on the bench: with the manifold on, the bolt under the fitting cannot be reached."
            ),
            25,
            tr("sockets, gasket"),
            (),
            (f"clock-{k}", f"cut-drain-{k}"),
            ("flange", "gasket", "bolt", "hose end", *_above_the_hose(plan, k)),
            "drain",
        ),
        Step(
            f"cut-drain-{k}",
            tr("Cut and make up the drain hose{tag}").format(tag=tag),
            tr(
                "Fit one end, route it, mark, cut; slide a sleeve on where the cut list has one; then the other end. Wrap with tape before the saw; blow it out."
            ),
            30,
            tr("fine saw or shears, vice with soft jaws, air line"),
            (GOGGLES, GLOVES),
            ("mock",),
            ("hose", "hose end", "sleeve"),
            "drain",
        ),
        Step(
            f"cut-feed-{k}",
            tr("Cut and make up the feed hose{tag}").format(tag=tag),
            tr(
                "Spare length is cheap, a hose cut short is scrap. A sleeve goes on before the second end. Blow it out; cap both ends."
            ),
            30,
            tr("fine saw or shears, vice, air line, caps"),
            (GOGGLES, GLOVES),
            ("mock",),
            ("hose", "hose end", "sleeve"),
            "feed",
        ),
        Step(
            f"hang-{k}",
            tr("Turbo and manifold on{tag}").format(tag=tag),
            tr("Cap every open port. The drain hose goes down as the turbo comes in."),
            90,
            tr("sockets, second pair of hands"),
            (HOT_OIL, BATTERY, WEIGHT, JACK),
            (f"drain-flange-{k}",),
        ),
        Step(
            f"feed-{k}",
            tr("Feed line{tag}").format(tag=tag),
            tr(
                "Turbo end first, finger-tight; tap end; then snug both with two spanners. Orifice the way its maker says. Feed before coolant."
            ),
            30,
            tr("two spanners"),
            (),
            (f"hang-{k}", f"cut-feed-{k}", "tap", f"restrictor-{k}", f"flange-hole-{k}"),
            (
                "adapter",
                "restrictor",
                "flange",
                "bolt",
                "screen",
                "tee",
                "banjo",
                "washer",
                "gasket",
                "sealant",
            ),
            "feed",
        ),
        Step(
            f"drain-join-{k}",
            tr("Join the drain at its lower end{tag}").format(tag=tag),
            tr("It falls all the way, no kink, nothing to rub on. Spin the hose end on, snug."),
            20,
            tr("two spanners"),
            (JACK,),
            (
                f"hang-{k}",
                *(("clean",) if entry_template(plan, k) else ()),
                f"entry-fit-{k}",
                *(("pan-on",) if plan.build.pan == "pan off" else ()),
            ),
            ("adapter", "hose end"),
            "drain",
        ),
        Step(
            f"coolant-{k}",
            tr("Coolant lines and the rest{tag}").format(tag=tag),
            tr("Only now: they lie over the feed."),
            45,
            "",
            (),
            (f"feed-{k}",),
        ),
        Step(
            f"sleeve-{k}",
            tr("Clamp the hoses{tag}").format(tag=tag),
            tr(
                "Cushioned clamps as in the cut list; sleeves drawn over what lies beside hot parts; steel braid kept off rubber hoses."
            ),
            25,
            tr("clamps"),
            (FIRE,),
            (f"feed-{k}", f"drain-join-{k}"),
            ("clamp",),
        ),
    ]
    if it.drain_by == "scavenge":
        steps.append(
            Step(
                f"pump-{k}",
                tr("Pump, pot and valve{tag}").format(tag=tag),
                tr(
                    "Pot under the turbo, pump, one-way valve, return. {gauge_awg} AWG wire, {fuse_a:g} A fuse by the battery"
                ).format(gauge_awg=it.scavenge.gauge_awg, fuse_a=it.scavenge.fuse_a)
                + (tr(", relay.") if it.scavenge.relay else "."),
                90,
                tr("crimper, meter"),
                (tr("Battery off while wiring."), FIRE),
                (f"hang-{k}",),
                ("valve", "hose", "hose end"),
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


def finishing_steps(plan: Plan) -> list[Step]:
    last = [f"{name}-{k}" for k in range(len(plan.turbos)) for name in ("coolant", "sleeve", "drain-join")]
    last += [f"pump-{k}" for k, it in enumerate(plan.turbos) if it.drain_by == "scavenge"]
    tap = plan.taps[plan.tap]
    sealing = f"Seal taper threads with {plan.build.sealing}; nothing on flares, banjos and O-rings."
    fits = joint(THREADS[tap.fitting_thread], THREADS[tap.port_thread]).verdict == "seals"
    threads = (
        f"{tap.fitting_thread} into {tap.port_thread}. {sealing} Aluminium threads strip: snug only."
        if fits
        else f"Stop: {tap.fitting_thread} and {tap.port_thread} do not make a joint (see the findings). Get the fitting that does."
    )
    cured = _cured(plan)
    pumped = [k for k, it in enumerate(plan.turbos) if it.drain_by == "scavenge"]
    tried = " Run the pump for a moment first: it must turn the right way and suck." if pumped else ""
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
                "{value:g} L of {grade}, the filter filled first where it stands upright; prime the turbo through its inlet and turn its shaft by hand.{tried}"
            ).format(value=plan.sump.fill_l.value, grade=plan.oil.grade, tried=tried),
            20,
            tr("funnel, oil can"),
            (),
            (*last, *(s.key for s in cured)),
        ),
        Step(
            "crank",
            tr("Crank without firing until pressure shows"),
            tr(
                "Fuel off by the maker's way (with only the spark off, raw fuel runs into the exhaust). Bursts of ten seconds, half a minute of rest between. Crack the feed joint at the turbo or watch a gauge: oil must arrive. Then tighten that joint again, and wipe every drop away."
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
                "Idle. Look for leaks and smoke; feel that oil returns. Off after a minute, look again; then ten minutes."
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
                "Gently, pressure logged. After 10 km stop and look: leaks, level, smoke when the throttle is let go, the drain as hot as the turbo. Idle before every key-off, as the first-start card says."
            ),
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


def _above_the_hose(plan: Plan, turbo: int) -> tuple[str, ...]:
    """Return the kinds of the parts between a turbo's drain flange and its hose."""
    for run in runs(plan):
        if (run.key, run.turbo) == ("drain", turbo):
            hose = next((k for k, part in enumerate(run.parts) if part.what.hose), len(run.parts))
            return tuple(dict.fromkeys(p.kind for p in run.parts[:hose] if p.kind in ("adapter", "bung")))
    return ()
