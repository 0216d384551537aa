# SPDX-License-Identifier: GPL-3.0-or-later
"""The steps at each turbo: its orifice drilled, the housing clocked, hoses cut, hung and joined."""

from __future__ import annotations

from gravidon.errors import GravidonError
from gravidon.plan import paths
from gravidon.plan.model import Plan
from gravidon.plan.units import both_lengths
from gravidon.study.judge.supply import window_margins
from gravidon.study.making.cutting import entry_template
from gravidon.study.making.parts_list import DrilledUp, drilled_up, runs
from gravidon.study.making.step import BATTERY, FIRE, GLOVES, GOGGLES, HOT_OIL, JACK, WEIGHT, Step
from gravidon.study.solve.evaluate import evaluate
from gravidon.words.text import tr


def drilled_steps(plan: Plan, k: int) -> list[Step]:
    """Return the steps that open what is bought, or lies in the drawer, to the plan's holes: restrictor, inlet flange."""
    which = "" if len(plan.turbos) == 1 else f", {plan.turbos[k].turbo.label}"
    names = {"restrictor": tr("restrictor"), "flange_hole": tr("oil inlet flange")}
    return [
        Step(
            f"{d.hole.replace('_', '-')}-{k}",
            tr("Drill the {name} to {both_lengths}{which}").format(
                name=names[d.hole], both_lengths=both_lengths(d.bore_mm * 1e-3, 2), which=which
            ),
            _why_drilled(plan, d).format(both_lengths=both_lengths(d.part.bore_mm * 1e-3, 2)),
            15,
            tr("drill, pin vice, loupe"),
            (GOGGLES,),
            ("mock",),
            (d.part.kind,),
            "feed",
        )
        for d in drilled_up(plan)
        if d.turbo == k
    ]


def _hose_made_up(key: str, title: str, how: str, tools: str, line: str) -> Step:
    """Return the step in which a hose is cut and gets its ends; half an hour, common practice, no source."""
    return Step(
        key, title, how, 30, tools, (GOGGLES, GLOVES), ("mock",), ("hose", "hose end", "sleeve"), line
    )


def turbo_steps(plan: Plan, k: int) -> list[Step]:
    it = plan.turbos[k]
    tag = "" if len(plan.turbos) == 1 else f", {it.turbo.label}"
    clock, pitch = it.turbo.clock_deg.value, it.turbo.pitch_deg.value
    steps = [
        Step(
            f"clock-{k}",
            tr("Clock the housing{tag}").format(tag=tag),
            tr(
                "Scribe where the housings stand now. Loosen the housing bolts (the wheels must not touch), set the drain {clock:.0f}° off straight down and the shaft {tilt:.0f}° off level, tighten the bolts that the drain will hide first, evenly; scribe the new line. The shaft must spin freely."
            ).format(clock=abs(clock), tilt=abs(pitch)),
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
        _hose_made_up(
            f"cut-drain-{k}",
            tr("Cut and make up the drain hose{tag}").format(tag=tag),
            tr(
                "Fit one end, route it, mark, cut; slide a sleeve on where the cut list has one; then the other end. Wrap with tape before the saw; blow it out."
            ),
            tr("fine saw or shears, vice with soft jaws, air line"),
            "drain",
        ),
        _hose_made_up(
            f"cut-feed-{k}",
            tr("Cut and make up the feed hose{tag}").format(tag=tag),
            tr(
                "Spare length is cheap, a hose cut short is scrap. A sleeve goes on before the second end. Blow it out; cap both ends."
            ),
            tr("fine saw or shears, vice, air line, caps"),
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


def _above_the_hose(plan: Plan, turbo: int) -> tuple[str, ...]:
    """Return the kinds of the parts between a turbo's drain flange and its hose."""
    for run in runs(plan):
        if (run.key, run.turbo) == ("drain", turbo):
            hose = next((k for k, part in enumerate(run.parts) if part.what.hose), len(run.parts))
            return tuple(dict.fromkeys(p.kind for p in run.parts[:hose] if p.kind in ("adapter", "bung")))
    return ()


def _why_drilled(plan: Plan, d: DrilledUp) -> str:
    """Return why a hole is drilled: because the bought one starves the bearing, where it does, and else only because the plan has a larger one."""
    try:
        e = evaluate(paths.put(plan, f"turbos.{d.turbo}.{d.hole}.bore_mm", d.part.bore_mm)).of(d.turbo)
        least, _, coolest = window_margins(e.line, e.plan.conditions, e.feed)
        starves = bool((least < 0.0).any() or (coolest < 0.0).any())
    except GravidonError:
        starves = True
    if starves:
        return tr(
            "It comes with {both_lengths}: as it is it starves the bearing. Drill through, deburr both edges, blow it out, and check the hole with the drill's shank."
        )
    return tr(
        "It comes with {both_lengths}, and that feeds the bearing too: it may stay as bought, if the plan is given that hole. To have the plan's, drill through, deburr both edges, blow it out, and check the hole with the drill's shank."
    )
