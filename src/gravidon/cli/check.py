# SPDX-License-Identifier: GPL-3.0-or-later
"""`gravidon check PLAN`: does every condition hold?"""

from __future__ import annotations

import argparse
import json
from typing import Any

from gravidon.cli.main import FAILS, OK, plan_named
from gravidon.plan.units import FAMILIES, Family, display_unit, file_to_si, show


def add(commands: Any) -> None:
    """Add the command."""
    parser = commands.add_parser("check", help="evaluate a plan; exit 1 if it fails")
    parser.add_argument("plan", help="a plan file, or 'demo'")
    parser.add_argument("--json", action="store_true", help="print the full report as JSON")
    parser.add_argument("--units", choices=FAMILIES, default="metric", help="units of the printed report")
    parser.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Print the report; 0 if no finding is bad."""
    from gravidon import api

    plan = plan_named(options.plan)
    data = api.report(plan)
    if options.json:
        print(json.dumps(data, indent=2, ensure_ascii=False, allow_nan=False))
    else:
        _print_text(data, [f.text(options.units) for f in api.findings(plan)], options.units)
    return FAILS if data["verdict"] == "fails" else OK


def _print_text(data: dict[str, Any], sentences: list[str], family: Family) -> None:
    def number(value: float | None, kind: str, width: int) -> str:
        return f"{'' if value is None else show(file_to_si(value, kind), kind, family, with_unit=False):>{width}}"

    pressure, flow, heat, length = (
        display_unit(kind, family).symbol for kind in ("kpa", "l_min", "degc", "mm")
    )
    print(f"{data['plan']}: {data['verdict']}")
    print(
        f"{'condition':<14}{'gallery':>9}{'at port':>9}{'bearing':>9}{'flow':>9}{'out':>8}{'fill':>7}{'freeboard':>11}"
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
            first = "more than ten minutes" if idle is None else f"{idle:.0f} s"
            print(
                f"{soak['turbo']}: off at once after a hot run the bearing peaks at {show(file_to_si(soak['bearing_peak_c'], 'degc'), 'degc', family)}; idle {first} first"
            )
    for finding, words in zip(data["findings"], sentences, strict=True):
        also = f" (also {', '.join(finding['also'])})" if finding["also"] else ""
        print(f"{finding['severity']:>6}  {words}{also} [{finding['source']}]")
