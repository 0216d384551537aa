# SPDX-License-Identifier: GPL-3.0-or-later
"""Where each bit of pressure goes, from the gallery to the housing, piece by piece."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from gravidon.parts.shapes import SHAPES
from gravidon.physics import feed as feeds
from gravidon.physics import line, restrictor
from gravidon.physics import oil as oils
from gravidon.plan.fields import si
from gravidon.plan.model import Fitting, Hose, Piece
from gravidon.plan.units import Family, show
from gravidon.study.solve import assemble
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import tr


@dataclass(frozen=True)
class Step:
    """One step down: what takes the pressure, in words, how much [Pa], its place in the plan ('' if none), and whether it is a
    hose or a hole that meters."""

    name: str
    drop_pa: float
    path: str
    kind: Literal["hose", "hole", ""] = ""


def piece_name(piece: Piece, family: Family = "metric") -> str:
    """Return what a piece of the feed line is called."""
    if isinstance(piece, Hose):
        return tr("hose, {amount}").format(amount=show(si(piece, "length_mm"), "run", family))
    if isinstance(piece, Fitting):
        return tr(SHAPES[piece.shape].words)
    return (
        tr("screen, {clogged:.0%} clogged").format(clogged=piece.clogged) if piece.clogged else tr("screen")
    )


def _kind(piece: Piece) -> Literal["hose", ""]:
    return "hose" if isinstance(piece, Hose) else ""


def cascade(e: Evaluation, condition: int, family: Family = "metric") -> tuple[Step, ...]:
    """Return the steps of one turbo's feed in one condition; their drops sum to the gallery pressure."""
    oil = assemble.oil_of(e.plan)
    t = float(assemble.column(e.plan, "oil_temperature_c")[condition])
    rho, mu = float(oils.density(oil, t)), float(oils.dynamic_viscosity(oil, t))
    own = float(e.feed.flow_m3_s[condition])
    everybody = float(sum(b.flow_m3_s[condition] for b in e.network.branches))

    def drop(piece: Piece, q: float) -> float:
        pipe = assemble.pipe_of(piece)
        if pipe is None:
            screen = assemble.screen_of((piece,))
            return float(feeds.screen_drop(q, mu, screen)) if screen else 0.0
        return float(line.line_drop(q, pipe.bore_m, pipe.length_m, rho, mu, pipe.k1, pipe.k_infinity))

    gallery, tap = float(e.supply.gallery_pa[condition]), float(e.supply.tap_pa[condition])
    steps = [Step(tr("gallery to tap"), gallery - tap, f"taps.{e.plan.tap}.offset_kpa")]
    steps += [
        Step(
            tr("trunk {piece_name}").format(piece_name=piece_name(p, family)),
            drop(p, everybody),
            f"trunk.{k}",
            _kind(p),
        )
        for k, p in enumerate(e.plan.trunk)
    ]
    steps += [
        Step(piece_name(p, family), drop(p, own), e.at(f"feed.pieces.{k}"), _kind(p))
        for k, p in enumerate(e.line.feed.pieces)
    ]
    for name, label in (("restrictor", tr("restrictor")), ("flange_hole", tr("hole in the flange"))):
        hole = getattr(e.line, name)
        if hole.fitted:
            lost = restrictor.pressure_drop(own, si(hole, "bore_mm"), si(hole, "length_mm"), rho, mu)
            steps.append(
                Step(
                    f"{label}, {show(si(hole, 'bore_mm'), 'bore', family)}",
                    float(lost),
                    e.at(f"{name}.bore_mm"),
                    "hole",
                )
            )
    steps.append(
        Step(tr("bearing"), float(e.feed.bearing_drop_pa[condition]), e.at("turbo.reference_flow_l_min"))
    )
    return tuple(steps)
