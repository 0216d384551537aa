"""`gravidon check PLAN`: does every condition hold?"""

from __future__ import annotations

import argparse
import json
from typing import Any

from gravidon.cli.main import FAILS, OK, plan_named


def add(commands: Any) -> None:
    """Add the command."""
    parser = commands.add_parser("check", help="evaluate a plan; exit 1 if it fails")
    parser.add_argument("plan", help="a plan file, or 'demo'")
    parser.add_argument("--json", action="store_true", help="print the full report as JSON")
    parser.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Print the report; 0 if no finding is bad."""
    from gravidon import api

    data = api.report(plan_named(options.plan))
    if options.json:
        print(json.dumps(data, indent=2, ensure_ascii=False, allow_nan=False))
    else:
        _print_text(data)
    return FAILS if data["verdict"] == "fails" else OK


def _print_text(data: dict[str, Any]) -> None:
    print(f"{data['plan']}: {data['verdict']}")
    print(
        f"{'condition':<14}{'gallery':>9}{'at port':>9}{'bearing':>9}{'flow':>9}{'out':>8}{'fill':>7}{'freeboard':>11}"
    )
    print(f"{'':<14}{'kPa':>9}{'kPa':>9}{'kPa':>9}{'L/min':>9}{'°C':>8}{'':>7}{'mm':>11}")
    for row in data["conditions"]:
        print(
            f"{row['name'][:13]:<14}{row['gallery_pressure_kpa']:>9.0f}"
            f"{row['pressure_before_orifice_kpa']:>9.0f}{row['inlet_pressure_kpa']:>9.0f}"
            f"{row['flow_l_min']:>9.2f}{row['outlet_temperature_c']:>8.0f}{row['drain_fill']:>7.0%}"
            f"{row['freeboard_mm']:>11.0f}"
        )
    for soak in data["heat_soak"]:
        if soak["bearing_peak_c"] is not None:
            idle = soak["idle_first_s"]
            first = "more than ten minutes" if idle is None else f"{idle:.0f} s"
            print(
                f"{soak['turbo']}: off at once after a hot run the bearing peaks at {soak['bearing_peak_c']:.0f} °C; idle {first} first"
            )
    for finding in data["findings"]:
        also = f" (also {', '.join(finding['also'])})" if finding["also"] else ""
        print(f"{finding['severity']:>6}  {finding['text']}{also} [{finding['source']}]")
