# SPDX-License-Identifier: GPL-3.0-or-later
"""Judged quantities of the drain's run: slopes, dips, bends, what the hose comes near to."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from gravidon.parts import sources
from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.things import THINGS, ThingKind
from gravidon.study.judge.home import HEIGHT_SCALE_M, lasting
from gravidon.study.judge.quantity import (
    BAD,
    HOLDS,
    NOTE,
    WATCH,
    Quantity,
    bad_below,
    watch_below,
)
from gravidon.study.solve.assemble import level_up
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.run_review import Nearness, review
from gravidon.words.text import N_, Amount, Message, Number

LEAST_DIP_M = 0.002
"""[m] of standing oil below which a dip is not worth a word; project choice."""
LEAST_LIFT_M = 0.020
"""[m] of oil lifted by crankcase pressure below which it is not worth a word; project choice."""
UPRIGHT_SINE = 0.99
"""[-] sine of a leg's fall above which a lean that turns it uphill is past anything a car does; project choice."""

# --- legs --------------------------------------------------------------------------------------


def _legs(e: Evaluation) -> tuple[str, ...]:
    return tuple(e.route.leg_names[1 : e.route.legs])


def _upright(e: Evaluation) -> Array:
    """Return the sine of each leg's fall with the car level, the stub left out."""
    steps = e.route.corners_m[1:-1] - e.route.corners_m[2:]
    result: Array = steps @ level_up(e.plan) / np.linalg.norm(steps, axis=1)
    return result


def _felt(e: Evaluation) -> Array:
    """Return the sine of each leg's fall as the oil feels it, (legs, conditions); what passes is left out."""
    steps = e.route.corners_m[1:-1] - e.route.corners_m[2:]
    falls = steps @ e.drainage.up.T / np.linalg.norm(steps, axis=1)[:, None]
    result: Array = np.where(lasting(e), falls, np.inf)
    return result


def _climbing(e: Evaluation) -> Array:
    return np.where(np.isfinite(_rises(e)), np.arcsin(np.clip(_upright(e), -1.0, 1.0)), np.nan)


def _climbing_in_attitude(e: Evaluation) -> Array:
    upright = _upright(e)
    worst = _felt(e).min(axis=1)
    judged = ~np.isfinite(_rises(e)) & (upright <= UPRIGHT_SINE) & np.isfinite(worst)
    return np.where(judged, np.arcsin(np.clip(np.where(judged, worst, 0.0), -1.0, 1.0)), np.nan)


LEAST_CLIMB_M = 0.002
"""[m] a stretch may rise towards the pan before it is worth a word; project choice."""


def _rises(e: Evaluation) -> Array:
    """Return how far each leg climbs towards the pan with the car level [m]; NaN where it falls."""
    steps = (e.route.corners_m[2:] - e.route.corners_m[1:-1]) @ level_up(e.plan)
    return np.where(steps > LEAST_CLIMB_M, steps, np.nan)


def _standing_grade(depth_m: Array, bore_m: Array | float) -> np.ndarray:
    """Grade oil that stays lying by how much of the bore it shuts: to be watched, bad from half of it."""
    return np.where(depth_m >= SHUT_SHARE * np.asarray(bore_m), BAD, WATCH)


SHUT_SHARE = 0.5
"""[-] of the bore filled by oil that stays, from which gas no longer gets by; common practice, no source."""


def _uphill_grade(e: Evaluation, margin: Array) -> np.ndarray:
    return np.where(
        margin < 0.0, _standing_grade(np.nan_to_num(_rises(e)), si(e.line.drain, "hose_bore_mm")), HOLDS
    )


UPHILL = Quantity(
    code="uphill",
    name=N_("falls by"),
    kind="deg",
    station="drain",
    sign=1,
    value=_climbing,
    limit=0.0,
    scale=1.0,
    message=Message(
        N_("Drain runs uphill"),
        N_("{leg} climbs at {angle:.0f}° towards the pan with the car level."),
        N_("Oil only leaves when it falls; a dip holds oil and shuts the gas off."),
    ),
    grade=_uphill_grade,
    axis="place",
    places=_legs,
    places_move=True,
    numbers=lambda e, i: {
        "leg": _legs(e)[i].capitalize(),
        "angle": float(np.degrees(-np.arcsin(_upright(e)[i]))),
    },
)

UPHILL_ATTITUDE = Quantity(
    code="uphill-attitude",
    name=N_("falls by"),
    kind="deg",
    station="drain",
    sign=1,
    value=_climbing_in_attitude,
    limit=0.0,
    scale=1.0,
    message=Message(
        N_("Uphill in this attitude"),
        N_("In {condition} {leg} runs uphill by {angle:.0f}° as the oil feels it."),
        N_("What falls on level ground climbs once the car leans."),
    ),
    grade=watch_below(),
    axis="place",
    places=_legs,
    places_move=True,
    numbers=lambda e, i: {
        "leg": _legs(e)[i],
        "angle": float(np.degrees(-np.arcsin(_felt(e)[i].min()))),
    },
    in_condition=lambda e, i: int(_felt(e)[i].argmin()),
)

LIFT = Quantity(
    code="crankcase-lift",
    name=N_("lift"),
    kind="mm",
    station="breather",
    sign=-1,
    value=lambda e: np.where(e.drainage.backwater.lift_m > 0.0, e.drainage.backwater.lift_m, np.nan),
    limit=LEAST_LIFT_M,
    scale=HEIGHT_SCALE_M,
    message=Message(
        N_("Crankcase pressure on the drain"),
        N_("In {condition} crankcase pressure of {pressure} lifts the sealed drain's oil by {value}."),
        N_("The turbo smokes although the drain looks right: the breather is part of the drain."),
    ),
    grade=watch_below(),
    numbers=lambda e, i: {"pressure": Amount(float(e.drainage.gas_difference_pa[i]), "kpa_small")},
)


def _standing(e: Evaluation) -> Array:
    """Return the oil that stays lying in a run that is laid falling everywhere [m], in conditions that last; NaN where it is
    not worth a word."""
    r = review(e)
    falling = np.all([leg.falls >= 0.0 for leg in r.legs[1:]], axis=0)  # a climbing leg is told of itself
    judged = lasting(e) & falling & (r.dip_m >= LEAST_DIP_M)
    return np.where(judged, r.dip_m, np.nan)


def _dip_place(e: Evaluation, i: int) -> Mapping[str, Number]:
    station = min(int(review(e).dip_station[i]), len(e.route.leg) - 1)
    return {"leg": e.route.leg_names[int(e.route.leg[station])]}


def _dip_grade(e: Evaluation, margin: Array) -> np.ndarray:
    return np.where(
        margin < 0.0, _standing_grade(np.nan_to_num(_standing(e)), si(e.line.drain, "hose_bore_mm")), HOLDS
    )


DIP = Quantity(
    code="dip",
    name=N_("dip"),
    kind="mm",
    station="drain",
    sign=-1,
    value=_standing,
    limit=LEAST_DIP_M,
    scale=HEIGHT_SCALE_M,
    message=Message(
        N_("A dip holds oil"),
        N_("In {condition} {value} of oil stays lying where {leg} sags."),
        N_(
            "Oil that lies in a dip shuts the gas off, bakes near heat, and greets every cold start as a plug."
        ),
    ),
    grade=_dip_grade,
    numbers=_dip_place,
    rests_on=("drain.sag",),
    source=sources.COMPUTED,
)


def _off_upright(e: Evaluation) -> float:
    leg = review(e).flattest
    return float("nan") if leg is None or leg.off_upright_rad > 0.5 * np.pi else leg.off_upright_rad


def _flattest(e: Evaluation, i: int) -> Mapping[str, Number]:
    leg = review(e).flattest
    most = np.degrees(si(e.plan.needs, "angle_max_deg"))
    return {
        "leg": leg.name.capitalize() if leg else "",
        "angle": float(np.degrees(leg.off_upright_rad)) if leg else 0.0,
        "fall": 90.0 - float(np.degrees(leg.off_upright_rad)) if leg else 0.0,
        "most": float(most),
    }


LEVEL_RAD = float(np.radians(80.0))
"""[rad] off upright above which a stretch lies all but level; common practice, no source."""


def _flat_grade(e: Evaluation, margin: Array) -> np.ndarray:
    """A note up to nearly level: 30 to 60° of fall are built everywhere; to be watched beyond."""
    return np.where(margin < 0.0, np.where(_off_upright(e) > LEVEL_RAD, WATCH, NOTE), HOLDS)


FLAT = Quantity(
    code="flat",
    name=N_("off upright"),
    kind="deg",
    station="drain",
    sign=-1,
    value=_off_upright,
    limit="needs.angle_max_deg",
    scale=5.0,
    message=Message(
        N_("Drain lies flat"),
        N_(
            "{leg} falls at {fall:.0f}° from the level, {angle:.0f}° off upright; within {most:.0f}° of upright is ideal."
        ),
        N_(
            "A steep hose carries froth with air over it; a flat one fills, and the car's lean does the rest."
        ),
    ),
    grade=_flat_grade,
    axis="plan",
    numbers=_flattest,
    rests_on=("needs.angle",),
)


def _radii(e: Evaluation) -> Array:
    return np.array([radius for _, radius in review(e).bends])


KINKED_SHARE = 0.5
"""[-] of the least bend radius, which is told for full working pressure, at which a drain's hose kinks; common practice, no
source."""

BEND = Quantity(
    code="bend",
    name=N_("bend's radius"),
    kind="run",
    station="drain",
    sign=1,
    value=lambda e: float(_radii(e).min(initial=np.inf)) if len(_radii(e)) else np.nan,
    limit="line.drain.min_bend_mm",
    message=Message(
        N_("Bend too tight"),
        N_(
            "Bend {number} leaves the hose {value} of radius; it is made for {limit} and kinks at half of that."
        ),
        N_("A kinked hose is a choke nobody sees; use a 45° hose end for the corner instead."),
    ),
    grade=bad_below(KINKED_SHARE - 1.0),
    axis="plan",
    numbers=lambda e, i: {"number": review(e).bends[int(_radii(e).argmin())][0]},
    rests_on=("drain.min_bend",),
)

# --- what the hose comes near to ---------------------------------------------------------------

NEAR_SCALE_M = 0.05
"""Scale of a gap's margin; project choice."""


def _nearest(e: Evaluation, kind: ThingKind) -> list[Nearness]:
    return [it for it in review(e).near if it.shape.thing is kind]


def _near(kind: ThingKind, title: str, why: str) -> Quantity:
    def gaps(e: Evaluation) -> Array:
        return np.array([it.gap_m for it in _nearest(e, kind)] or [np.nan])

    def needs(e: Evaluation) -> Array | float:
        return np.array([it.need_m for it in _nearest(e, kind)] or [np.nan])

    def grade(e: Evaluation, margin: Array) -> np.ndarray:
        bad = gaps(e) <= kind.bad_share * needs(e)
        return np.where(margin < 0.0, np.where(bad, BAD, WATCH), HOLDS)

    return Quantity(
        code=kind.code,
        name=N_("gap"),
        kind="mm",
        station="drain",
        sign=1,
        value=gaps,
        limit=needs,
        source_path=f"needs.{kind.need}" if kind.need else "",
        scale=NEAR_SCALE_M,
        message=Message(
            title,
            {
                "near": N_("The drain passes {place} at {value}; {limit} is wanted."),
                "through": N_("The drain runs through {place}."),
            },
            why,
        ),
        grade=grade,
        axis="place",
        places=lambda e: tuple(it.shape.label for it in _nearest(e, kind)) or ("",),
        variant=lambda e, i: "near" if gaps(e)[i] > 0.0 else "through",
        rests_on=("needs.hot", "needs.chafe"),
    )


WORDS: Mapping[str, tuple[str, str]] = {
    "drain-heat": (
        N_("Drain hose near heat"),
        N_("The hose cooks, and a leak there is a fire: reroute, sleeve and shield it."),
    ),
    "chafe": (
        N_("Hose chafes"),
        N_("Steel braid saws through what it rubs on, and moving parts saw through the hose."),
    ),
    "collides": (
        N_("Hose runs into something"),
        N_("The drawing is to scale: what does not fit there will not fit in the car."),
    ),
}
"""Title and reason by the code of a thing's kind."""

NEAR: tuple[Quantity, ...] = tuple(_near(kind, *WORDS[kind.code]) for kind in THINGS.values() if kind.code)

RUN = (UPHILL, UPHILL_ATTITUDE, LIFT, DIP, FLAT, BEND, *NEAR)
