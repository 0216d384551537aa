# SPDX-License-Identifier: GPL-3.0-or-later
"""`gravidon check PLAN`: does every condition hold?"""

from __future__ import annotations

import argparse
import json
from typing import Any

from gravidon.cli.main import FAILS, OK, plan_named
from gravidon.plan.units import FAMILIES, Family, display_unit, file_to_si, show
from gravidon.translate import commas, tr
from gravidon.words.text import SEVERITIES, verdict_said


def add(commands: Any) -> None:
    """Add the command."""
    parser = commands.add_parser("check", help=tr("evaluate a plan; exit 1 if it fails"))
    parser.add_argument("plan", help=tr("a plan file, or 'demo'"))
    parser.add_argument("--json", action="store_true", help=tr("print the full report as JSON"))
    parser.add_argument("--units", choices=FAMILIES, default="metric", help=tr("units of the printed report"))
    parser.add_argument(
        "--chance", action="store_true", help=tr("sample what is not measured: how often the plan fails")
    )
    parser.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Print the report; 0 if no finding is bad."""
    from gravidon import api
    from gravidon.study.verdict.chance import chance_words

    plan = plan_named(options.plan)
    often = f"; {chance_words(api.chance(plan))}" if options.chance else ""
    data = api.report(plan)
    if options.json:
        print(json.dumps(data, indent=2, ensure_ascii=False, allow_nan=False))
    else:
        _print_text(data, [f.text(options.units) for f in api.findings(plan)], options.units, often)
    return FAILS if data["verdict"] == "fails" else OK


def _print_text(data: dict[str, Any], sentences: list[str], family: Family, often: str) -> None:
    def number(value: float | None, kind: str, width: int) -> str:
        return f"{'' if value is None else show(file_to_si(value, kind), kind, family, with_unit=False):>{width}}"

    pressure, flow, heat, length = (
        display_unit(kind, family).symbol for kind in ("kpa", "l_min", "degc", "mm")
    )
    print(f"{data['plan']}: {verdict_said(data['verdict'])}{often}")
    print(
        f"{tr('condition'):<14}{tr('gallery'):>9}{tr('at port'):>9}{tr('bearing'):>9}{tr('flow'):>9}{tr('out'):>8}{tr('fill'):>7}{tr('freeboard'):>11}"
    )
    print(f"{'':<14}{pressure:>9}{pressure:>9}{pressure:>9}{flow:>9}{heat:>8}{'':>7}{length:>11}")
    for row in data["conditions"]:
        print(
            f"{row['name'][:13]:<14}"
            + "".join(
                number(row[key], "kpa", 9)
                for key in ("gallery_pressure_kpa", "pressure_before_orifice_kpa", "inlet_pressure_kpa")
            )
            + number(row["flow_l_min"], "l_min", 9)
            + number(row["outlet_temperature_c"], "degc", 8)
            + f"{row['drain_fill']:>7.0%}"
            + number(row["freeboard_mm"], "mm", 11)
        )
    for soak in data["heat_soak"]:
        if soak["bearing_peak_c"] is not None:
            idle = soak["idle_first_s"]
            first = tr("more than ten minutes") if idle is None else tr("{idle:.0f} s").format(idle=idle)
            print(
                tr(
                    "{turbo}: off at once after a hot run the bearing peaks at {peak}; idle {first} first"
                ).format(
                    turbo=soak["turbo"],
                    peak=show(file_to_si(soak["bearing_peak_c"], "degc"), "degc", family),
                    first=first,
                )
            )
    for finding, words in zip(data["findings"], sentences, strict=True):
        also = tr(" (also {names})").format(names=commas(finding["also"])) if finding["also"] else ""
        print(f"{tr(SEVERITIES[finding['severity']]):>6}  {words}{also} [{tr(finding['source'])}]")
