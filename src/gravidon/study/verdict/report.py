# SPDX-License-Identifier: GPL-3.0-or-later
"""An evaluation as plain data with stable keys, units in the key names; for scripts and sheets."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from gravidon.plan.paths import unseen as unseen_of
from gravidon.plan.units import Family, show, si_to_file
from gravidon.study.judge.table import Worst, worst_by_condition
from gravidon.study.solve.assemble import gauge_pressure, heat_w
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.heat_soak import heat_soak
from gravidon.study.solve.pickup import pickup_cover
from gravidon.study.solve.reserve import reserve
from gravidon.study.verdict.certainty import Certainty
from gravidon.study.verdict.chance import chance_words, known_chance, word_beside
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.findings import verdict_word
from gravidon.study.verdict.trials import trial
from gravidon.translate import commas, listed, tr, trn
from gravidon.words.text import capital


def clean(value: float, digits: int = 6) -> float | None:
    """Return a float rounded to significant digits; None where it is not finite."""
    return float(f"{value:.{digits}g}") if math.isfinite(value) else None


def finding_row(f: Finding) -> dict[str, Any]:
    """Return a finding as plain data; value and limit in the file unit of its kind."""
    from gravidon.plan.units import KINDS

    unit = {"share": "1", "kpa_small": "kPa"}.get(f.kind, KINDS[f.kind].file.symbol)
    return {
        "code": f.code,
        "severity": f.severity,
        "condition": f.condition or None,
        "value": clean(si_to_file(f.value, f.kind)) if math.isfinite(f.value) else None,
        "limit": clean(si_to_file(f.limit, f.kind)),
        "unit": unit,
        "source": f.source,
        "text": f.text("metric"),
        "also": list(f.also),
        "turbo": f.turbo + 1,
        "place": f.place or None,
    }


def condition_rows(e: Evaluation) -> list[dict[str, Any]]:
    """Return one row of results per condition."""
    rows = []
    for i, (condition, worst) in enumerate(zip(e.plan.conditions, worst_by_condition(e), strict=True)):
        rows.append(
            {
                "name": condition.name,
                "oil_temperature_c": condition.oil_temperature_c,
                "gallery_pressure_kpa": clean(e.supply.gallery_pa[i] / 1e3),
                "flow_l_min": clean(e.feed.flow_m3_s[i] * 6e4),
                "inlet_pressure_kpa": clean(e.feed.inlet_pressure_pa[i] / 1e3),
                "outlet_temperature_c": clean(e.feed.outlet_temperature_k[i] - 273.15),
                "pressure_before_orifice_kpa": clean(gauge_pressure(e.line, e.feed)[i] / 1e3),
                "heat_kw": clean(heat_w(e.plan, e.line)[i] / 1e3),
                "reserve": clean(float(reserve(e)[i])),
                "hose_fill": clean(float(e.drainage.hose_fill[i])),
                "sealed_bores": clean(float(e.drainage.sealed_bores[i])),
                "pickup_cover_mm": clean(float(pickup_cover(e)[i]) * 1e3),
                "drain_fill": clean(e.drainage.worst_fill[i]),
                "open_area": clean(e.drainage.open_area[i]),
                "freeboard_mm": clean(e.drainage.freeboard_m[i] * 1e3),
                "margin": clean(worst.margin),
                "margin_of": worst.judged.quantity.code,
            }
        )
    return rows


def report(e: Evaluation) -> dict[str, Any]:
    """Return the whole report of an evaluation."""
    findings, known = trial(e.plan).findings, known_chance(e.plan)
    return {
        "plan": e.plan.name,
        "verdict": word_beside(verdict_word(findings), known),
        "chance": _chance_row(known),
        "conditions": condition_rows(e),
        "turbos": [{"name": lens.line.turbo.label, "conditions": condition_rows(lens)} for lens in e.all],
        "findings": [finding_row(f) for f in findings],
        "heat_soak": [_soak_row(lens) for lens in e.all],
    }


def _chance_row(known: Certainty | None) -> dict[str, Any] | None:
    """Return how often the plan passes, has warnings and fails within what is not measured, where it was sampled."""
    if known is None:
        return None
    passes, warnings, fails = (clean(share) for share in known.whole)
    return {"passes": passes, "warnings": warnings, "fails": fails, "samples": known.samples}


def _soak_row(e: Evaluation) -> dict[str, Any]:
    soak = heat_soak(e)
    return {
        "turbo": e.line.turbo.label,
        "bearing_peak_c": clean(soak.peak_k - 273.15) if soak else None,
        "idle_first_s": clean(soak.idle_s) if soak else None,
    }


def verdict_sentence(e: Evaluation, findings: tuple[Finding, ...], known: Certainty | None = None) -> str:
    """Return the plan's verdict in one sentence: how many faults, the worst of them, in how many conditions it is one, and, where
    it was sampled, the chance that it fails."""
    said = _sentence(e, findings, known)
    return said if known is None else f"{said}; {chance_words(known)}"


def _sentence(e: Evaluation, findings: tuple[Finding, ...], known: Certainty | None) -> str:
    if word_beside(verdict_word(findings), known) != verdict_word(findings):
        return tr("Passes as typed, but fails more often than not")
    count = len(e.names)
    bad = [f for f in findings if f.severity == "bad"]
    watched = [f for f in findings if f.severity == "watch"]
    if not bad and not watched:
        return tr("Passes in all {count} conditions").format(count=count)
    worst = (bad or watched)[0]
    head = (
        tr("Fails, {faults}").format(faults=_faults(len(bad)))
        if bad
        else trn("{count} warning", "{count} warnings", len(watched))
    )
    if not worst.condition:
        return f"{head}: {worst.title.lower()}"
    places = 1 + len(worst.also)
    where = (
        tr("at {condition}").format(condition=worst.condition)
        if places == 1
        else tr("in {places} of {count}, worst at {condition}").format(
            places=places, count=count, condition=worst.condition
        )
    )
    return f"{head}: {worst.title.lower()} {where}"


@dataclass(frozen=True)
class VerdictWords:
    """The verdict as the page tells it.

    Fields: word (holds, watch, fails); headline, one sentence; detail, the worst finding's own sentence, or how near the
    nearest limit is where nothing is found; rests, the chance where it is known, and what the verdict rests on that nobody looked
    at; the worst finding.
    """

    word: str
    headline: str
    detail: str
    rests: str
    worst: Finding | None


def verdict_words(
    e: Evaluation, findings: tuple[Finding, ...], family: Family, known: Certainty | None = None
) -> VerdictWords:
    """Return the plan's verdict in words: what is worst, where, in which condition, and what it rests on."""
    grave = [f for f in findings if f.severity != "note"]
    worst = grave[0] if grave else None
    detail = worst.text(family) if worst else _nearest(e, family)
    count = len(e.guesses)
    unseen = listed(unseen_of(e.plan))
    rests = (
        tr("Every value is measured or the maker's.")
        if not count
        else trn("Rests on {count} guess", "Rests on {count} guesses", count)
    )
    if count:
        rests += "."
    if unseen:
        rests += tr(" Nobody looked at {unseen}: the verdict is the starter's, not your car's.").format(
            unseen=unseen
        )
    word = word_beside(verdict_word(findings), known)
    if known is not None:
        rests = f"{capital(chance_words(known))}. {rests}"
    return VerdictWords(word, _sentence(e, findings, known), detail, rests, worst)


def _nearest(e: Evaluation, family: Family) -> str:
    """Return how near the nearest limit is, in a plan that holds."""
    worst = worst_by_condition(e)
    i = min(range(len(worst)), key=lambda k: worst[k].margin)
    said = against_limit(worst[i], family)
    return said and tr("Nearest to a limit, in {condition}: {said}.").format(condition=e.names[i], said=said)


def against_limit(worst: Worst, family: Family) -> str:
    """Return what is worst in a condition as its own figure and limit, in words; empty where it is no number."""
    judged, k = worst.judged, worst.index
    q = judged.quantity
    if not math.isfinite(float(judged.value[k])):
        return ""

    def said(value: float) -> str:
        return f"{value:.0%}" if q.kind == "share" else show(value, q.kind, family)

    words = tr("{name} {value}, at least {limit}") if q.sign > 0 else tr("{name} {value}, at most {limit}")
    return words.format(
        name=tr(q.name), value=said(float(judged.value[k])), limit=said(float(judged.limit[k]))
    )


def counted(findings: tuple[Finding, ...]) -> str:
    """Return how many findings there are of each severity, in words; empty where there is none."""
    bad, watched, notes = (sum(f.severity == k for f in findings) for k in ("bad", "watch", "note"))
    return commas(
        [
            words
            for n, words in (
                (bad, trn("{count} fails", "{count} fail", bad)),
                (watched, trn("{count} warning", "{count} warnings", watched)),
                (notes, trn("{count} note", "{count} notes", notes)),
            )
            if n
        ]
    )


def _faults(count: int) -> str:
    return tr("one fault") if count == 1 else trn("{count} fault", "{count} faults", count)
