"""An evaluation as plain data with stable keys, units in the key names; for scripts and sheets."""

from __future__ import annotations

import math
from typing import Any

from gravidon.plan.units import si_to_file
from gravidon.study.judge.table import worst_by_condition
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.findings import verdict_by_condition, verdict_word
from gravidon.study.verdict.trials import trial


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
    findings = trial(e.plan).findings
    return {
        "plan": e.plan.name,
        "verdict": verdict_word(findings),
        "conditions": condition_rows(e),
        "turbos": [{"name": lens.line.turbo.label, "conditions": condition_rows(lens)} for lens in e.all],
        "findings": [finding_row(f) for f in findings],
    }


def verdict_sentence(e: Evaluation, findings: tuple[Finding, ...]) -> str:
    """Return the plan's verdict in one sentence."""
    words = verdict_by_condition(e, findings)
    failing = [n for n, w in zip(e.names, words, strict=True) if w == "fails"]
    everywhere = [f for f in findings if f.severity == "bad" and not f.condition]
    count = len(e.names)
    if not findings:
        return f"Holds in all {count} conditions"
    worst = findings[0]
    if failing:
        return f"Fails in {len(failing)} of {count}: {worst.title.lower()}" + (
            f" at {worst.condition}" if worst.condition else ""
        )
    if everywhere:
        return f"Fails before it runs: {everywhere[0].title.lower()}"
    watched = sum(w == "watch" for w in words)
    place = f" in {watched} of {count}" if watched else ""
    return f"Holds, to be watched{place}: {worst.title.lower()}"
