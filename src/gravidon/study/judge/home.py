"""Judged quantities of the oil's way home: seals, entry, fill, slopes, dips, bends, what the hose comes near to."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from gravidon.parts import sources
from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.plan.things import THINGS, ThingKind
from gravidon.study.judge.quantity import (
    BAD,
    HOLDS,
    NOTE,
    WATCH,
    Quantity,
    bad_below,
    note_below,
    watch_below,
)
from gravidon.study.solve.assemble import lasts_s
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.lift_off import LIFT_OFF_S, SHORT_LIFT_S, lift_off
from gravidon.study.solve.pickup import pickup_cover
from gravidon.study.solve.reserve import reserve
from gravidon.study.solve.run_review import Nearness, review
from gravidon.words.text import N_, Amount, Message, Number

HEIGHT_SCALE_M = 0.020
"""Scale of a height's margin; project choice."""
LEAST_DIP_M = 0.002
"""[m] of standing oil below which a dip is not worth a word; project choice."""
LEAST_LIFT_M = 0.020
"""[m] of oil lifted by crankcase pressure below which it is not worth a word; project choice."""
UPRIGHT_SINE = 0.99
"""[-] sine of a leg's fall above which a lean that turns it uphill is past anything a car does; project choice."""


def _flowing(e: Evaluation) -> np.ndarray:
    return np.asarray(e.feed.flow_m3_s > 0.0)


def _lasting(e: Evaluation) -> np.ndarray:
    return np.isinf(lasts_s(e.plan))


def _held(e: Evaluation) -> np.ndarray:
    """Whether the wheels' side holds the oil that stands over a seal: its pressure is over the crankcase's by more than the head."""
    froth = e.drainage.froth
    head = froth.density_kg_m3 * e.drainage.gravity_m_s2 * np.maximum(-e.drainage.freeboard_m, 0.0)
    return np.asarray(e.drainage.gas_difference_pa < -head)


SHORT_SHARE = 0.5
"""[-] of the freeboard needed that is enough for a condition that passes; common practice, no source."""


def _wet_in_time(e: Evaluation, margin: Array) -> np.ndarray:
    """Bad where oil stands at a seal before the condition ends and nothing holds it; to be watched where it is near.

    What passes needs half the room: between that and the whole it is a note.
    """
    free, need = e.drainage.freeboard_m, si(e.plan.needs, "freeboard_mm")
    in_time = e.drainage.time_to_wet_s <= lasts_s(e.plan)
    bad = (free < 0.0) & in_time & ~_held(e)
    roomy = ~_lasting(e) & (free >= SHORT_SHARE * need)
    return np.where(bad, BAD, np.where(margin < 0.0, np.where(roomy, NOTE, WATCH), HOLDS))


AT_ONCE_S = 1.0
"""[s] below which no number is told: the model of a filling housing is not that sharp; project choice."""


def _seal_words(e: Evaluation, i: int) -> str:
    if e.drainage.freeboard_m[i] >= 0.0:
        return "close"
    seconds = float(e.drainage.time_to_wet_s[i])
    if _held(e)[i]:
        return "held"
    if not np.isfinite(seconds):
        return "wet"
    if seconds < AT_ONCE_S:
        return "at once"
    return "later" if seconds > lasts_s(e.plan)[i] else "soon"


def _seal_numbers(e: Evaluation, i: int) -> Mapping[str, Number]:
    return {
        "seal": ("turbine", "compressor")[int(e.drainage.lower_seal[i])],
        "height": Amount(abs(float(e.drainage.freeboard_m[i])), "mm"),
        "seconds": Amount(float(e.drainage.time_to_wet_s[i]), "s"),
        "lasts": Amount(float(lasts_s(e.plan)[i]), "s"),
    }


def _why_wet(e: Evaluation, i: int) -> str:
    water = e.drainage.backwater
    if water.lift_m[i] > 0.03:
        return "lift"
    if water.submerged[i]:
        return "pan"
    return "full" if water.sealed[i] else "pond"


FREEBOARD = Quantity(
    code="freeboard",
    name=N_("freeboard"),
    kind="mm",
    station="drain",
    sign=1,
    value=lambda e: e.drainage.freeboard_m,
    limit="needs.freeboard_mm",
    scale=HEIGHT_SCALE_M,
    message=Message(
        {
            "bad": N_("Seal under oil"),
            "watch": N_("Seal close to oil"),
            "note": N_("Seal close to oil for seconds"),
        },
        {
            "close": N_("In {condition} only {height} is left below the {seal} seal; {limit} is wanted."),
            "wet": N_("In {condition} oil would stand {height} above the bottom of the {seal} seal."),
            "at once": N_(
                "In {condition} oil would stand {height} above the bottom of the {seal} seal, within a second."
            ),
            "held": N_(
                "In {condition} oil would stand {height} above the bottom of the {seal} seal; boost holds it in as long as it lasts."
            ),
            "soon": N_(
                "In {condition} oil would stand {height} above the bottom of the {seal} seal after {seconds}."
            ),
            "later": N_(
                "In {condition} oil would stand {height} above the bottom of the {seal} seal after {seconds}, but "
                "{condition} lasts {lasts}."
            ),
        },
        {
            "lift": N_("Crankcase pressure lifts the oil: the drain is sealed, so gas cannot pass it."),
            "pan": N_("The pan's oil stands over the entry and backs up the hose."),
            "full": N_("The drain runs full somewhere, and oil piles up above that place."),
            "pond": N_("The oil ponds over the drain flange before it can fall away."),
        },
    ),
    grade=_wet_in_time,
    numbers=_seal_numbers,
    variant=_seal_words,
    because=_why_wet,
    rests_on=("sump", "turbo.shaft", "turbo.seal", "turbo.cavity"),
)


WINDAGE_GUESS_M = 0.005
"""[m] by which the oil's level is off by windage alone; common practice, no source."""


def _lifted_grade(e: Evaluation, margin: Array) -> np.ndarray:
    seconds = lift_off(e).time_to_wet_s
    bad = (seconds <= SHORT_LIFT_S) & lift_off(e).shut
    found = np.where(bad, BAD, np.where(seconds <= LIFT_OFF_S, WATCH, NOTE))
    return np.where(margin < 0.0, found, HOLDS)


LIFT_OFF = Quantity(
    code="lift-off",
    name=N_("freeboard, throttle let go"),
    kind="mm",
    station="drain",
    sign=1,
    value=lambda e: np.where(e.drainage.freeboard_m >= 0.0, lift_off(e).freeboard_m, np.nan),
    limit=0.0,
    scale=HEIGHT_SCALE_M,
    message=Message(
        {
            "bad": N_("Seal under oil when the driver lifts"),
            "watch": N_("Seal near oil on every lift"),
            "note": N_("Seal near oil when the driver lifts"),
        },
        N_(
            "In {condition} with the throttle let go oil would stand {over} above a seal, {after}; a lift lasts about {lasts}."
        ),
        N_(
            "Without boost nothing holds the oil in, and crankcase pressure lifts what shuts the hose: that is when it smokes."
        ),
    ),
    grade=_lifted_grade,
    numbers=lambda e, i: {
        "over": Amount(-float(lift_off(e).freeboard_m[i]), "mm"),
        "after": (
            N_("within a second")
            if lift_off(e).time_to_wet_s[i] < AT_ONCE_S
            else f"{lift_off(e).time_to_wet_s[i]:.1f} s on"
        ),
        "lasts": Amount(LIFT_OFF_S, "s"),
    },
    rests_on=("sump", "breather"),
)


def _pickup_grade(e: Evaluation, margin: Array) -> np.ndarray:
    """Bad where the pickup's place is known and it sucks air; to be watched where its place is a guess."""
    return np.where(margin < 0.0, BAD if e.plan.sump.pickup is not None else WATCH, HOLDS)


PICKUP = Quantity(
    code="pickup",
    name=N_("oil over the pickup"),
    kind="mm",
    station="sump",
    sign=1,
    value=lambda e: np.where(_flowing(e), pickup_cover(e), np.nan),
    limit=0.0,
    scale=HEIGHT_SCALE_M,
    message=Message(
        N_("Pickup uncovered"),
        {
            "known": N_("In {condition} the oil leaves the pickup by {bare}: it sucks air."),
            "guess": N_(
                "In {condition} the oil would leave the pickup by {bare}, if it is in the middle of the pan's deepest part: measure where it is."
            ),
        },
        N_(
            "Turbo and engine starve together: more oil, a baffle with a gate, or a longer pickup; no drain cures that."
        ),
    ),
    grade=_pickup_grade,
    shared=True,
    numbers=lambda e, i: {"bare": Amount(-float(pickup_cover(e)[i]), "mm")},
    variant=lambda e, i: "guess" if e.plan.sump.pickup is None else "known",
    rests_on=("sump",),
)


def _drowned(e: Evaluation, margin: Array) -> np.ndarray:
    """Bad where it lasts; for seconds a note while the seals keep their room; within the windage's guess, to be watched."""
    roomy = e.drainage.freeboard_m >= SHORT_SHARE * si(e.plan.needs, "freeboard_mm")
    under = np.where(_lasting(e), BAD, np.where(roomy, NOTE, WATCH))
    near = _lasting(e) & (margin < WINDAGE_GUESS_M / HEIGHT_SCALE_M)
    return np.where(margin < 0.0, under, np.where(near, WATCH, HOLDS))


DROWNED = Quantity(
    code="drowned",
    name=N_("over entry"),
    kind="mm",
    station="entry",
    sign=-1,
    value=lambda e: np.where(_flowing(e) & e.route.ends_in_fitting, e.drainage.submergence_m, np.nan),
    limit=0.0,
    scale=HEIGHT_SCALE_M,
    message=Message(
        N_("Entry under oil"),
        {
            "near": N_(
                "In {condition} the pan's oil stands only {clear} below the entry: windage alone is guessed to that."
            ),
            "lasting": N_(
                "In {condition} the pan's oil stands {value} above the entry; the drain cannot breathe."
            ),
            "passing": N_(
                "In {condition} the pan's oil stands {value} above the entry for {lasts}; the drain cannot breathe."
            ),
        },
        N_("Blow-by and froth meet in a drowned pipe; what comes down must first push what is there."),
    ),
    grade=_drowned,
    numbers=lambda e, i: {
        "lasts": Amount(float(lasts_s(e.plan)[i]), "s"),
        "clear": Amount(-float(e.drainage.submergence_m[i]), "mm"),
    },
    variant=lambda e, i: (
        "near" if e.drainage.submergence_m[i] < 0.0 else "lasting" if _lasting(e)[i] else "passing"
    ),
    rests_on=("sump",),
)


RESERVE = Quantity(
    code="reserve",
    name=N_("reserve"),
    kind="times",
    station="drain",
    sign=1,
    value=lambda e: np.where(e.drainage.freeboard_m >= 0.0, np.minimum(reserve(e), MOST_TOLD), np.nan),
    limit="needs.reserve_min",
    message=Message(
        N_("Drain has little in hand"),
        N_(
            "In {condition} the drain would take {times:.1f} times the oil before a seal wets; {need:g} times is wanted."
        ),
        N_("Froth, wear and a thinner oil all bring more than was counted on."),
    ),
    grade=watch_below(),
    numbers=lambda e, i: {"times": float(reserve(e)[i]), "need": e.plan.needs.reserve_min.value},
    rests_on=("needs.reserve", "turbo.reference"),
)
MOST_TOLD = 8.0
"""[-] reserve above which it is enough; project choice."""


def _sealed(e: Evaluation) -> Array:
    """Return how many bores of hose run full or nearly so, in warm conditions that last; a drowned entry is told of itself."""
    warm = np.array([c.kind.warm for c in e.plan.conditions])
    judged = _flowing(e) & warm & _lasting(e) & (e.drainage.submergence_m < 0.0)
    return np.where(judged, e.drainage.sealed_bores, np.nan)


def _sealed_grade(e: Evaluation, margin: Array) -> np.ndarray:
    """To be watched; bad where crankcase pressure on the oil that shuts the hose would lift it to the seal."""
    excess = np.maximum(e.drainage.gas_difference_pa, 0.0)
    would_lift = excess / (e.drainage.froth.density_kg_m3 * e.drainage.gravity_m_s2)
    lifted = would_lift > np.maximum(e.drainage.freeboard_m, 0.0)
    return np.where(margin < 0.0, np.where(lifted, BAD, WATCH), HOLDS)


SEALED = Quantity(
    code="choked",
    name=N_("bores of hose full"),
    kind="count",
    station="drain",
    sign=-1,
    value=_sealed,
    limit="needs.sealed_bores",
    message=Message(
        N_("Drain choked"),
        N_(
            "In {condition} {length} of hose run full or nearly so, {value} times its bore; above {limit} gas is shut off."
        ),
        N_("Crankcase pressure then stands on the oil in the hose instead of blowing by over it."),
    ),
    grade=_sealed_grade,
    numbers=lambda e, i: {
        "length": Amount(float(e.drainage.sealed_bores[i]) * si(e.line.drain, "hose_bore_mm"), "run")
    },
    rests_on=("needs.sealed",),
)

TIGHTER_SHARE = 0.93
"""[-] of the hose's bore below which a fitting counts as tighter than its hose; common practice, no source."""


def _fitting_area(e: Evaluation) -> Array | float:
    if not e.route.ends_in_fitting:
        return np.nan
    return float((e.line.drain.fitting.bore_mm / e.line.drain.hose_bore_mm) ** 2)


SMALL_FITTING = Quantity(
    code="small-fitting",
    name=N_("area over the hose's"),
    kind="share",
    station="entry",
    sign=1,
    value=_fitting_area,
    limit=TIGHTER_SHARE**2,
    message=Message(
        N_("Last fitting tighter than the hose"),
        N_("The entry fitting's {small} bore throttles the {large} hose to {value:%} of its area."),
        N_("The smallest bore is what flows; a big hose on a small fitting is a small drain."),
    ),
    grade=note_below(),
    axis="plan",
    numbers=lambda e, i: {
        "small": Amount(si(e.line.drain.fitting, "bore_mm"), "bore"),
        "large": Amount(si(e.line.drain, "hose_bore_mm"), "bore"),
    },
)

# --- legs --------------------------------------------------------------------------------------


def _legs(e: Evaluation) -> tuple[str, ...]:
    return tuple(e.route.leg_names[1 : e.route.legs])


def _upright(e: Evaluation) -> Array:
    """Return the sine of each leg's fall with the car level, the stub left out."""
    steps = e.route.corners_m[1:-1] - e.route.corners_m[2:]
    result: Array = steps[:, 2] / np.linalg.norm(steps, axis=1)
    return result


def _felt(e: Evaluation) -> Array:
    """Return the sine of each leg's fall as the oil feels it, (legs, conditions); what passes is left out."""
    steps = e.route.corners_m[1:-1] - e.route.corners_m[2:]
    falls = steps @ e.drainage.up.T / np.linalg.norm(steps, axis=1)[:, None]
    result: Array = np.where(_lasting(e), falls, np.inf)
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
    steps = e.route.corners_m[2:, 2] - e.route.corners_m[1:-1, 2]
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
    judged = _lasting(e) & falling & (r.dip_m >= LEAST_DIP_M)
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
        N_("Bend {number} leaves the hose {value} of radius; it kinks below {limit}."),
        N_("A kinked hose is a choke nobody sees; use a 45° hose end for the corner instead."),
    ),
    grade=bad_below(-0.4),
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

HOME = (
    FREEBOARD, LIFT_OFF, PICKUP, DROWNED, RESERVE, SEALED, SMALL_FITTING, UPHILL, UPHILL_ATTITUDE, LIFT, DIP, FLAT, BEND, *NEAR
)  # fmt: skip
