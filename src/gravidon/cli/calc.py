# SPDX-License-Identifier: GPL-3.0-or-later
"""`gravidon calc`: one relation at a time, with units."""

from __future__ import annotations

import argparse
import json
import math
from typing import Any

from gravidon.cli.main import OK
from gravidon.errors import InputError
from gravidon.plan import units
from gravidon.study.verdict.report import clean
from gravidon.translate import commas, tr


def add(commands: Any) -> None:
    """Add the command and its kinds."""
    parser = commands.add_parser("calc", help=tr("one calculation: oil, restrictor or drainpipe"))
    kinds = parser.add_subparsers(dest="kind", required=True, metavar="KIND")
    oil = kinds.add_parser("oil", help=tr("properties of an oil grade at a temperature"))
    restrictor = kinds.add_parser("restrictor", help=tr("flow through a restrictor"))
    drainpipe = kinds.add_parser("drainpipe", help=tr("fill of a sloping drain"))
    for kind, run in ((oil, run_oil), (restrictor, run_restrictor), (drainpipe, run_drainpipe)):
        kind.add_argument("--grade", required=True, help=tr("oil grade, such as 10W-40"))
        kind.add_argument("--temperature", required=True, help=tr("oil temperature, such as '110 degC'"))
        kind.add_argument("--json", action="store_true", help=tr("print JSON"))
        kind.set_defaults(run=run)
    restrictor.add_argument("--bore", required=True, help=tr("bore, such as '1.0 mm'"))
    restrictor.add_argument("--length", required=True, help=tr("length of the hole, such as '1.5 mm'"))
    restrictor.add_argument("--drop", required=True, help=tr("pressure drop, such as '45 psi'"))
    drainpipe.add_argument("--bore", required=True, help=tr("bore or dash size, such as '14.3 mm'"))
    drainpipe.add_argument("--slope", required=True, help=tr("slope below the level, such as '20 deg'"))
    drainpipe.add_argument("--flow", required=True, help=tr("oil flow, such as '2 l/min'"))
    drainpipe.add_argument("--air", type=float, default=0.0, help=tr("air share of the froth, 0 to 0.7"))


def _checked(name: str, value: float, low: float, high: float, expected: str) -> float:
    if not (math.isfinite(value) and low <= value <= high):
        raise InputError(name, value, expected)
    return value


def _oil_at(options: argparse.Namespace) -> tuple[float, float, float, float]:
    """Return kinematic and dynamic viscosity, density and heat capacity in SI."""
    from gravidon.parts.oils import grades
    from gravidon.physics import oil

    grade = grades().get(options.grade.upper())
    if grade is None:
        raise InputError("grade", options.grade, tr("one of {known}").format(known=commas(grades())))
    t = units.parse(options.temperature, "degc", "temperature")
    _checked("temperature", t - 273.15, -40.0, 250.0, "-40 to 250 °C")
    it = oil.Oil(grade.v40_mm2_s * 1e-6, grade.v100_mm2_s * 1e-6, grade.density_15_kg_m3)
    return (
        float(oil.kinematic_viscosity(it, t)),
        float(oil.dynamic_viscosity(it, t)),
        float(oil.density(it, t)),
        float(oil.heat_capacity(it, t)),
    )


def run_oil(options: argparse.Namespace) -> int:
    """Print oil properties."""
    nu, mu, rho, c = _oil_at(options)
    return _print(
        options,
        {
            "kinematic_viscosity_mm2_s": nu * 1e6,
            "dynamic_viscosity_mpa_s": mu * 1e3,
            "density_kg_m3": rho,
            "heat_capacity_j_kg_k": c,
        },
    )


def run_restrictor(options: argparse.Namespace) -> int:
    """Print flow through a restrictor."""
    from gravidon.physics import restrictor

    _, mu, rho, _ = _oil_at(options)
    bore = _checked("bore", units.parse(options.bore, "bore", "bore"), 1e-5, 0.1, "0.01 to 100 mm")
    length = _checked("length", units.parse(options.length, "bore", "length"), 0.0, 1.0, "0 to 1000 mm")
    drop = _checked("drop", units.parse(options.drop, "kpa_diff", "drop"), 1.0, 1e8, "0.001 to 100000 kPa")
    q = float(restrictor.flow(drop, bore, length, rho, mu))
    return _print(
        options,
        {
            "flow_l_min": q * 6e4,
            "discharge_coefficient": float(restrictor.effective_coefficient(drop, q, bore, rho)),
            "reynolds": float(restrictor.reynolds(q, bore, rho, mu)),
        },
    )


def run_drainpipe(options: argparse.Namespace) -> int:
    """Print the fill of a drain on a uniform slope."""
    from gravidon.physics import oil, part_full

    _, mu, rho, _ = _oil_at(options)
    bore = units.parse_dash_or_length(options.bore, "bore", units.KINDS["bore"].file)
    _checked("bore", bore, 1e-3, 0.1, "1 to 100 mm")
    slope = _checked("slope", units.parse(options.slope, "deg", "slope"), 1e-3, math.pi / 2, "0.1 to 90 deg")
    q = _checked("flow", units.parse(options.flow, "l_min", "flow"), 1e-9, 1e-2, "0.0001 to 600 l/min")
    bulk = oil.froth(_checked("air", options.air, 0.0, 0.7, "0 to 0.7"), q, rho, mu)
    nu = float(bulk.viscosity_pa_s / bulk.density_kg_m3)
    bulk_q = float(bulk.flow_m3_s)
    fill = float(part_full.normal_fill(bulk_q, bore, math.sin(slope), nu))
    area = math.pi / 4 * bore**2
    velocity = bulk_q / (area * float(part_full.area_fraction(fill)))
    hydraulic = bore * float(part_full.hydraulic_diameter_ratio(fill))
    return _print(
        options,
        {
            "fill": fill,
            "full_flow_l_min": float(part_full.full_flow(bore, math.sin(slope), nu)) * 6e4,
            "velocity_m_s": velocity,
            "froude": bulk_q / area / math.sqrt(9.80665 * bore),
            "reynolds": velocity * hydraulic / nu,
        },
    )


def _print(options: argparse.Namespace, values: dict[str, float]) -> int:
    rounded = {key: clean(value) for key, value in values.items()}
    if options.json:
        print(json.dumps(rounded, indent=2, allow_nan=False))
    else:
        for key, value in rounded.items():
            print(f"{key:<28}{value:>12g}")
    return OK
