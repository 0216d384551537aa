# SPDX-License-Identifier: GPL-3.0-or-later
"""What stands on the shop sheet, as plain text rows; shared by PDF and HTML."""

from __future__ import annotations

from dataclasses import dataclass

from gravidon.parts import sources
from gravidon.parts.dash import dash_label, dash_of_bore
from gravidon.plan.model import Hose, TurboLine
from gravidon.plan.paths import guesses
from gravidon.plan.units import Family, display_unit, show, show_difference
from gravidon.study.solve.assemble import gauge_pressure
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.verdict.chance import known_chance, word_beside
from gravidon.study.verdict.findings import verdict_by_condition, verdict_word
from gravidon.study.verdict.report import verdict_sentence
from gravidon.study.verdict.trials import trial
from gravidon.translate import listed
from gravidon.words.text import tr, verdict_said

CAUTIONS = (
    tr(
        "Hot oil and hot exhaust burn. An oil leak on a manifold or downpipe is a fire: prove every joint before driving."
    ),
    tr("Never work under a car held by a jack alone."),
    tr("Swarf in the pan destroys engines: grease the drill and tap, flush, drain, and fit a new filter."),
    tr(
        "Welding a pan that has held oil can ignite it; leave it to a qualified welder. Ventilate when using solvents."
    ),
    tr(
        "The turbo and engine makers' instructions, local law and a licensed mechanic's judgement override this sheet."
    ),
)
GRAVITY = ("drain", "entry", "seat", "breather", "scavenge")
"""Stations whose findings choose the condition that the drawing shows."""


@dataclass(frozen=True)
class SheetContent:
    """Every text on the sheet. `verdict` and `verdicts`, one a row, are keys, not texts."""

    title: str
    verdict: str
    sentence: str
    sizes: tuple[tuple[str, str], ...]
    header: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    verdicts: tuple[str, ...]
    findings: tuple[tuple[str, str, str], ...]
    guesses: str
    cautions: tuple[str, ...]
    worst_condition: int


def bore_words(bore_mm: float, family: Family) -> str:
    """Return a bore with its dash size where it has one."""
    dash = dash_of_bore(bore_mm)
    text = show(bore_mm * 1e-3, "bore", family)
    return f"{dash_label(dash)} ({text})" if dash else text


def feed_words(it: TurboLine, family: Family) -> str:
    """Return a feed line in words: smallest bore and hose length."""
    length = sum(p.length_mm.value for p in it.feed.pieces if isinstance(p, Hose))
    bore = min(p.bore_mm for p in it.feed.pieces)
    return tr("{bore_words}, {amount} of hose").format(
        bore_words=bore_words(bore, family), amount=show(length * 1e-3, "run", family)
    )


def content(e: Evaluation, family: Family) -> SheetContent:
    """Return the sheet's texts in a unit family."""
    plan, findings = e.plan, trial(e.plan).findings
    drain, it = e.line.drain, e.line
    holes = [f"{name} {show(hole.bore_mm * 1e-3, 'bore', family)}" for name, hole in it.holes]
    sizes = (
        (tr("oil"), plan.oil.grade),
        (
            tr("turbo"),
            tr("{label}, {bearing} bearing").format(label=it.turbo.label, bearing=tr(it.turbo.bearing)),
        ),
        (
            tr("tap"),
            tr("{label}: {fitting_thread} into {port_thread}").format(
                label=e.tap.label, fitting_thread=e.tap.fitting_thread, port_thread=e.tap.port_thread
            ),
        ),
        (tr("feed line"), feed_words(it, family)),
        (tr("what meters"), listed(holes) or tr("nothing: full bore of the line")),
        (tr("drain flange"), bore_words(drain.flange_bore_mm, family)),
        (tr("drain hose"), bore_words(drain.hose_bore_mm, family)),
        (
            tr("pan entry"),
            tr("{label}: bore {bore_mm}, {fitting_thread} into {port_thread}").format(
                label=drain.fitting.label,
                bore_mm=show(drain.fitting.bore_mm * 0.001, "bore", family),
                fitting_thread=drain.fitting.fitting_thread,
                port_thread=drain.fitting.port_thread,
            ),
        ),
        (
            tr("entry height"),
            tr("{amount} {side} the pan rail").format(
                amount=show(abs(drain.entry.z_mm) * 1e-3, "run", family),
                side=(tr("below") if drain.entry.z_mm < 0 else tr("above")),
            ),
        ),
        (
            tr("fall, flange to entry"),
            show((it.turbo.drain_flange.z_mm - drain.entry.z_mm) * 1e-3, "run", family),
        ),
    )
    words = verdict_by_condition(e, findings)
    several = len(e.all) > 1
    rows = tuple(
        (
            f"{name}, {lens.line.turbo.label}" if several else name,
            show(float(lens.supply.gallery_pa[i]), "kpa", family, with_unit=False),
            show(float(gauge_pressure(lens.line, lens.feed)[i]), "kpa", family, with_unit=False),
            show(float(lens.feed.inlet_pressure_pa[i]), "kpa", family, with_unit=False),
            show(float(lens.feed.flow_m3_s[i]), "l_min", family, with_unit=False),
            show(float(lens.feed.outlet_temperature_k[i]), "degc", family, with_unit=False),
            f"{lens.drainage.worst_fill[i]:.0%}",
            show(float(lens.drainage.freeboard_m[i]), "mm", family, with_unit=False),
            verdict_said(words[i]),
        )
        for i, name in enumerate(e.names)
        for lens in e.all
    )
    pressure, heat = display_unit("kpa", family).symbol, display_unit("degc", family).symbol
    height = display_unit("mm", family).symbol
    header = (
        tr("condition"),
        tr("gallery {pressure}").format(pressure=pressure),
        tr("port {pressure}").format(pressure=pressure),
        tr("bearing {pressure}").format(pressure=pressure),
        tr("flow {unit}").format(unit=display_unit("l_min", family).symbol),
        tr("oil out {heat}").format(heat=heat),
        tr("fill"),
        tr("free {height}").format(height=height),
        tr("verdict"),
    )
    found = tuple(
        (
            f.severity,
            f.title,
            tr("{finding} [limit: {source}]").format(
                finding=f.text(family), source=tr(sources.SHORT.get(f.source, f.source))
            ),
        )
        for f in findings
    )
    count = len(guesses(plan))
    band = show_difference(e.supply.fit.band_pa, "kpa", family)
    note = tr(
        "{count} values are guesses nobody measured; the gallery law misses the gauge readings by up to {band}. cp: common practice, no published source."
    ).format(count=count, band=band)
    worst = next(
        (f.condition_index for f in findings if f.station in GRAVITY and f.condition_index >= 0), None
    )
    if worst is None:
        worst = int(e.drainage.freeboard_m.argmin())
    return SheetContent(
        plan.name,
        word_beside(verdict_word(findings), known_chance(plan)),
        verdict_sentence(e, findings, known_chance(plan)),
        sizes,
        header,
        rows,
        tuple(words[i] for i in range(len(e.names)) for _ in e.all),
        found,
        note,
        CAUTIONS,
        worst,
    )
