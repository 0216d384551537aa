# SPDX-License-Identifier: GPL-3.0-or-later
"""The one number of every station, for the rail; no station is loaded for it."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from gravidon.desk.session import Session
from gravidon.plan.units import Family, show, show_difference
from gravidon.study.solve.assemble import gauge_pressure
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import tr, trn


def whole(s: Session) -> str:
    """From the gallery's pressure to the freeboard left."""
    e, i = s.evaluation, s.condition
    return tr("{amount} down to the pan").format(amount=show(float(e.supply.gallery_pa[i]), "kpa", s.family))


def planner(s: Session) -> str:
    """How many choices are held."""
    from gravidon.study.planning.freedom import holds

    kept = sum(h.state != "open" for h in holds(s.plan))
    return tr("{kept} held").format(kept=kept) if kept else tr("all open")


def ideas(s: Session) -> str:
    """How many ideas are kept."""
    return tr("{ideas} kept").format(ideas=len(s.plan.ideas)) if s.plan.ideas else tr("none kept")


def car(s: Session) -> str:
    """Gallery pressure in the chosen condition."""
    return tr("gallery {amount}").format(
        amount=show(float(s.evaluation.supply.gallery_pa[s.condition]), "kpa", s.family)
    )


def tap(s: Session) -> str:
    """Tap pressure in the chosen condition."""
    return tr("{amount} offered").format(
        amount=show(float(s.evaluation.supply.tap_pa[s.condition]), "kpa", s.family)
    )


def feed(s: Session) -> str:
    """Line loss in the chosen condition."""
    it = s.evaluation.feed
    lost = float(it.line_drop_pa[s.condition] + it.screen_drop_pa[s.condition])
    return tr("{lost} lost").format(lost=show_difference(lost, "kpa_diff", s.family))


def restrictor(s: Session) -> str:
    """The bore, or that there is none, and the bearing's pressure behind it."""
    bores = [hole.bore_mm for _, hole in s.line.holes]
    pressure = float(s.evaluation.feed.inlet_pressure_pa[s.condition])
    hole = (
        tr(" after {amount}").format(amount=show(min(bores) * 1e-3, "bore", s.family))
        if bores
        else tr(", no hole")
    )
    return f"{show(pressure, 'kpa', s.family)}{hole}"


def operating_map(s: Session) -> str:
    """Range of inlet pressure over the running conditions."""
    turning = [c.kind.turning for c in s.plan.conditions]
    pressures = s.evaluation.feed.inlet_pressure_pa[turning]
    if not len(pressures):
        return tr("engine off")
    low = show(float(pressures.min()), "kpa", s.family, with_unit=False)
    return tr("inlet {low} to {amount}").format(low=low, amount=show(float(pressures.max()), "kpa", s.family))


def seat(s: Session) -> str:
    """Shaft tilt and clock."""
    turbo = s.line.turbo
    return tr("tilt {tilt:.0f}°, clock {clock:.0f}°").format(
        tilt=abs(turbo.pitch_deg.value), clock=abs(turbo.clock_deg.value)
    )


def drain(s: Session) -> str:
    """Freeboard in the chosen condition."""
    return tr("freeboard {amount}").format(
        amount=show(float(s.evaluation.drainage.freeboard_m[s.condition]), "mm", s.family)
    )


def sump(s: Session) -> str:
    """How much oil is in the pan."""
    from gravidon.study.solve.assemble import pan_oil_m3

    return tr("{amount} in the pan").format(
        amount=show(float(pan_oil_m3(s.plan)[s.condition]), "l", s.family)
    )


def entry(s: Session) -> str:
    """How far the oil is from the entry."""
    e = s.evaluation
    if not e.route.ends_in_fitting:
        return tr("not used")
    over = float(e.drainage.submergence_m[s.condition])
    return f"{show(abs(over), 'mm', s.family)} {tr('oil over it') if over > 0 else tr('clear of oil')}"


def breather(s: Session) -> str:
    """Crankcase pressure in the chosen condition."""
    return tr("{amount} in the case").format(
        amount=show(float(s.evaluation.breathing.crankcase_pa[s.condition]), "kpa_small", s.family)
    )


def scavenge(s: Session) -> str:
    """What the pump takes; or that none is used."""
    if s.line.drain_by != "scavenge":
        return tr("not used")
    takes = float(s.evaluation.scavenging.delivery_m3_s[s.condition])
    return tr("takes {takes}").format(takes=show(takes, "l_min", s.family))


def attitude(s: Session) -> str:
    """The hardest cornering among the conditions with every seal clear; or the first one asked for that reaches a seal."""
    asked = [
        (abs(c.left_g), float(s.evaluation.drainage.freeboard_m[i]))
        for i, c in enumerate(s.plan.conditions)
        if c.left_g
    ]
    wet = min((g for g, clear in asked if clear < 0.0), default=None)
    if wet is not None:
        return tr("oil at a seal in a bend of {g:.2f} g").format(g=wet)
    most = max((g for g, _ in asked), default=0.0)
    return tr("bends of {most:.2f} g: seals clear").format(most=most)


def parts(s: Session) -> str:
    """How much is still to be ordered."""
    from gravidon.study.making.cutting import order_list

    rows = order_list(s.plan)
    return tr("{sum} of {rows} to order").format(sum=sum(1 for n in rows if n.to_order), rows=len(rows))


def cutting(s: Session) -> str:
    """The drain's cut."""
    from gravidon.study.making.cutting import cuts

    mine = [c for c in cuts(s.plan) if c.run in ("drain", "feed")]
    return tr("cut {cut}").format(cut=show(mine[-1].cut_m, "run", s.family)) if mine else tr("nothing to cut")


def build(s: Session) -> str:
    """Steps done."""
    from gravidon.study.making.sequence import progress

    made = progress(s.plan)
    return tr("{done} of {of} steps").format(done=made.done, of=made.of)


def guesses(s: Session) -> str:
    """How many guesses."""
    return tr("{guesses} not measured").format(guesses=len(s.evaluation.guesses))


def sheet(s: Session) -> str:
    """How many findings it will carry."""
    count = len(s.findings)
    return trn("{count} finding on it", "{count} findings on it", count)


def pressures_words(e: Evaluation, condition: int, family: Family) -> str:
    """Both pressures and the flow of a condition: what a gauge can read before the restrictor, what the bearing gets."""
    feed = e.feed
    if not feed.flow_m3_s[condition] > 0.0:
        return tr("no oil is fed")
    before = show(float(gauge_pressure(e.line, feed)[condition]), "kpa", family)
    inside = show(float(feed.inlet_pressure_pa[condition]), "kpa", family)
    flow = show(float(feed.flow_m3_s[condition]), "l_min", family)
    out = show(float(feed.outlet_temperature_k[condition]), "degc", family)
    return tr(
        "{before} before the restrictor (a gauge there reads it), {inside} at the bearing, {flow}, out at {out}"
    ).format(before=before, inside=inside, flow=flow, out=out)


def senders(s: Session) -> str:
    """How many senders the plan knows, and how many were calibrated."""
    known = s.plan.senders
    if not known:
        return tr("none yet")
    done = sum(bool(it.points) for it in known)
    return (
        tr("{known}, {done} calibrated").format(known=len(known), done=done)
        if done
        else tr("{known}, by data sheet").format(known=len(known))
    )


def bench(s: Session) -> str:
    """Where the first start is."""
    run = s.first_start
    if run is None or (run.at == 0 and run.last is None):
        return tr("not begun")
    if run.stop is not None:
        return tr("stop")
    return tr("done") if run.step is None else run.step.title.lower()


def logbook(s: Session) -> str:
    """How many entries."""
    count = len(s.log.entries)
    return tr("{count} entries").format(count=count) if count != 1 else tr("1 entry")


def health(s: Session) -> str:
    """Whether the feed closes, once that is known; else over how many readings."""
    if s.closes:
        return tr("closing")
    count = sum(len(e.readings) for e in s.log.entries)
    return tr("{count} readings").format(count=count) if count else tr("no readings yet")


def diagnosis(s: Session) -> str:
    """How much has been told and tested."""
    text = s.log.kept("case")
    if not text:
        return tr("nothing told")
    from gravidon.study.diagnosis.case import counted

    told, tested = counted(text)
    return tr("{told} told, {tested} tested").format(told=told, tested=tested)


def trainer(s: Session) -> str:
    """What it is for."""
    return tr("find hidden faults")


def _bench_grade(s: Session) -> int:
    """A first start that was stopped fails."""
    run = s.first_start
    if run is None:
        return 2
    return {"stop": 0, "watch": 1}.get(run.call().kind, 2)


def _health_grade(s: Session) -> int:
    """A feed that closes is to be watched."""
    return 1 if s.closes else 2


OWN_GRADES: Mapping[str, Callable[[Session], int]] = {"bench": _bench_grade, "health": _health_grade}
"""By station: how what it measures stands."""
