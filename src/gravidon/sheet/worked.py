# SPDX-License-Identifier: GPL-3.0-or-later
"""The plan's own numbers worked through, for the handbook: what its formulas come to here."""

from __future__ import annotations

import math

import numpy as np

from gravidon.physics import oil as oil_physics
from gravidon.plan.fields import si
from gravidon.plan.units import Family, show, show_difference
from gravidon.study.solve.assemble import oil_of
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.reserve import reserve
from gravidon.study.supply.cascade import Step, cascade
from gravidon.words.text import tr


def worked(e: Evaluation, condition: int, family: Family) -> dict[str, tuple[str, ...]]:
    """Return, by handbook page, sentences that work this plan's numbers through in one condition.

    Args:
        e: the chosen turbo's evaluation.
        condition: the condition's place.
        family: units to say it in.

    Raises: nothing; a page without oil to speak of is left out.
    """
    if float(e.feed.flow_m3_s[condition]) <= 0.0:
        return {}
    steps = cascade(e, condition, family)
    return {
        "car": _law(e, condition, family),
        "pressure": (_spent(steps, family), *_holes(e, condition, steps, family)),
        "gravity": _fall(e, condition, family),
    }


def _law(e: Evaluation, i: int, family: Family) -> tuple[str, ...]:
    c = e.plan.conditions[i]
    gallery = float(e.supply.gallery_pa[i])
    relief = si(e.plan.engine, "relief_kpa")
    words = tr(
        "at {speed} and {heat} the law through {readings} readings gives {gallery} in the gallery, {share:.0%} of the relief's {relief}."
    ).format(
        speed=show(si(c, "rpm"), "rpm", family),
        heat=show(si(c, "oil_temperature_c"), "degc", family),
        readings=len(e.plan.engine.readings),
        gallery=show(gallery, "kpa", family),
        share=gallery / relief,
        relief=show(relief, "kpa", family),
    )
    return (words,)


def _spent(steps: tuple[Step, ...], family: Family) -> str:
    terms = " + ".join(
        f"{show_difference(s.drop_pa, 'kpa_diff', family)} ({s.name.split(',')[0]})" for s in steps
    )
    total = sum(s.drop_pa for s in steps)
    return tr("{terms} = {total}, what the gallery has over the housing.").format(
        terms=terms, total=show_difference(total, "kpa_diff", family)
    )


def _holes(e: Evaluation, i: int, steps: tuple[Step, ...], family: Family) -> tuple[str, ...]:
    """The jet in each hole: its speed, its dynamic pressure, and the coefficient that the plan's drop stands for."""
    flow = float(e.feed.flow_m3_s[i])
    rho = float(oil_physics.density(oil_of(e.plan), si(e.plan.conditions[i], "oil_temperature_c")))
    drops = {s.path: s.drop_pa for s in steps}
    said = []
    for name, what in (("restrictor", "restrictor"), ("flange_hole", tr("flange's hole"))):
        hole = getattr(e.line, name)
        drop = drops.get(e.at(f"{name}.bore_mm"), 0.0)
        if not hole.fitted or drop <= 0.0:
            continue
        bore = si(hole, "bore_mm")
        speed = 4.0 * flow / (math.pi * bore**2)
        jet = 0.5 * rho * speed**2
        said.append(
            tr(
                "Through the {what} of {bore} {flow} run at 4Q/πd² = {speed:.1f} m/s; ½ρv² is {jet} where the hole takes {drop}: √ of their ratio, {sqrt:.2f}, is its coefficient (thick oil has less)."
            ).format(
                what=what,
                bore=show(bore, "bore", family),
                flow=show(flow, "l_min", family),
                speed=speed,
                jet=show_difference(jet, "kpa_diff", family),
                drop=show_difference(drop, "kpa_diff", family),
                sqrt=math.sqrt(jet / drop),
            )
        )
    return tuple(said)


def _fall(e: Evaluation, i: int, family: Family) -> tuple[str, ...]:
    stations = e.route.stations_m
    fall = float(stations[0, 2] - stations[-1, 2])
    length = float(np.linalg.norm(np.diff(stations, axis=0), axis=1).sum())
    air = float(e.plan.conditions[i].air_fraction)
    flow = float(e.feed.flow_m3_s[i])
    spare = float(reserve(e)[i])
    words = tr(
        "the flange stands {fall} over the entry at {length} of run, {fall_2:.0f}° on average. {flow} of oil with {air:.0%} air are Q/(1−α) = {flow_2} of froth, {worst_fill:.0%} deep at the fullest place; its surface stays {freeboard_m} under the seals"
    ).format(
        fall=show(fall, "run", family),
        length=show(length, "run", family),
        fall_2=math.degrees(math.asin(min(max(fall / max(length, 1e-09), -1.0), 1.0))),
        flow=show(flow, "l_min", family),
        air=air,
        flow_2=show(flow / (1.0 - air), "l_min", family),
        worst_fill=float(e.drainage.worst_fill[i]),
        freeboard_m=show(float(e.drainage.freeboard_m[i]), "mm", family),
    ) + (
        tr(", and {spare:.1f} times as much would still pass.").format(spare=spare)
        if np.isfinite(spare)
        else "."
    )
    return (words,)
