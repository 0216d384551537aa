# SPDX-License-Identifier: GPL-3.0-or-later
"""Judged quantities of the oil's way home: seals, pickup, entry, reserve, sealed hose, last fitting."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from gravidon.parts import sources
from gravidon.parts.turbos import HOUSINGS
from gravidon.physics.arrays import Array
from gravidon.physics.breather import flooding_gas
from gravidon.plan.fields import si
from gravidon.study.judge.quantity import (
    BAD,
    HOLDS,
    NOTE,
    WATCH,
    Quantity,
    note_below,
    watch_below,
)
from gravidon.study.solve.assemble import lasts_s
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.lift_off import LIFT_OFF_S, lift_off
from gravidon.study.solve.pickup import pickup_cover
from gravidon.study.solve.reserve import reserve
from gravidon.words.text import N_, Amount, Message, Number, tr

HEIGHT_SCALE_M = 0.020
"""Scale of a height's margin; project choice."""


def _flowing(e: Evaluation) -> np.ndarray:
    return np.asarray(e.feed.flow_m3_s > 0.0)


def lasting(e: Evaluation) -> np.ndarray:
    return np.isinf(lasts_s(e.plan))


def _held(e: Evaluation) -> np.ndarray:
    """Whether the wheels' side holds the oil that stands over a seal: its pressure is over the crankcase's by more than the head."""
    froth = e.drainage.froth
    head = froth.density_kg_m3 * e.drainage.gravity_m_s2 * np.maximum(-e.drainage.freeboard_m, 0.0)
    return np.asarray(e.drainage.gas_difference_pa < -head)


def wets(e: Evaluation) -> np.ndarray:
    """Return whether oil stands over a seal before each condition ends and nothing holds it, (conditions,)."""
    d = e.drainage
    soon = lasting(e) | (d.time_to_wet_s <= lasts_s(e.plan))
    return np.asarray((d.freeboard_m < 0.0) & soon & ~_held(e))


def _passing_grade(e: Evaluation, over_m3: Array) -> np.ndarray:
    """Return the grade of what comes to a seal in passing: bad from what is allowed there, to be watched where any comes."""
    most = si(e.plan.needs, "at_seal_ml")
    return np.where(over_m3 > most, BAD, np.where(over_m3 > 0.0, WATCH, NOTE))


def _freeboard_wanted(e: Evaluation) -> Array:
    """Return the freeboard that is wanted [m], (conditions,): for good what the plan asks for, in passing that a seal stays dry."""
    return np.where(lasting(e), si(e.plan.needs, "freeboard_mm"), 0.0)


def _wet_in_time(e: Evaluation, margin: Array) -> np.ndarray:
    """For good: bad where oil stands at a seal that nothing holds, to be watched where it is near. In passing: by how much comes to
    the seal in the time; a note where none does though it would, to be watched where boost alone keeps it out for long, and by what
    comes to it then when the driver lifts."""
    held = _held(e) & (e.drainage.freeboard_m < 0.0)
    passing = _passing_grade(e, np.where(held, 0.0, e.drainage.filling.over_m3))
    long = _held_for_long(e)
    if long.any():
        lifted = np.maximum(_passing_grade(e, np.nan_to_num(lift_off(e).over_m3)), WATCH)
        passing = np.where(long, lifted, passing)
    stays = np.where(wets(e), BAD, WATCH)
    return np.where(margin < 0.0, np.where(lasting(e), stays, passing), HOLDS)


def _held_for_long(e: Evaluation) -> np.ndarray:
    """Return where boost alone keeps oil out of a seal for more than a moment, (conditions,)."""
    return np.asarray(_held(e) & (e.drainage.freeboard_m < 0.0) & (lasts_s(e.plan) > BRIEF_S))


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
        "seal": (tr("turbine"), tr("compressor"))[int(e.drainage.lower_seal[i])],
        "height": Amount(abs(float(e.drainage.freeboard_m[i])), "mm"),
        "seconds": Amount(float(e.drainage.time_to_wet_s[i]), "s"),
        "lasts": Amount(float(lasts_s(e.plan)[i]), "s"),
        "oil": Amount(float(e.drainage.filling.over_m3[i]), "ml"),
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
    limit=_freeboard_wanted,
    source_path="needs.freeboard_mm",
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
                "In {condition} oil would stand {height} above the bottom of the {seal} seal; boost holds it in only until the driver lifts."
            ),
            "soon": N_(
                "In {condition} oil would stand {height} above the bottom of the {seal} seal; it comes there after {seconds}, {oil} of it by the end."
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


def _lifted(e: Evaluation) -> Array:
    """Return the oil that comes to a seal in a lift of the throttle [m³] where the condition itself leaves it dry, or boost holds it in
    for a moment, and oil shuts the drain. Nothing where a seal fails without a lift: that is the matter then."""
    if (_wet_in_time(e, e.drainage.freeboard_m - _freeboard_wanted(e)) == BAD).any():
        return np.full(len(e.names), np.nan)
    found, alone = lift_off(e), e.drainage.filling.over_m3
    counts = ((alone <= 0.0) | _held(e)) & ~_held_for_long(e)
    return np.where(counts & found.shut, found.over_m3, np.nan)


def _lifted_grade(e: Evaluation, margin: Array) -> np.ndarray:
    over = np.nan_to_num(_lifted(e))
    return np.where(over > 0.0, _passing_grade(e, over), HOLDS)


LIFT_OFF = Quantity(
    code="lift-off",
    name=N_("at a seal on lift-off"),
    kind="ml",
    station="drain",
    sign=-1,
    value=_lifted,
    limit="needs.at_seal_ml",
    message=Message(
        {
            "bad": N_("Seal under oil when the driver lifts"),
            "watch": N_("Oil at a seal when the driver lifts"),
        },
        N_(
            "In {condition} with the throttle let go {value} come to a seal, {after}; a lift lasts about {lasts}, and {limit} are borne."
        ),
        N_(
            "Without boost nothing holds the oil in, and crankcase pressure lifts what shuts the hose: that is when it smokes."
        ),
    ),
    grade=_lifted_grade,
    numbers=lambda e, i: {
        "after": _lift_words(float(lift_off(e).time_to_wet_s[i])),
        "lasts": Amount(LIFT_OFF_S, "s"),
    },
    rests_on=("sump", "breather", "engine.overrun", "turbo.ring_gap", "needs.at_seal"),
)


def _lift_words(seconds: float) -> str:
    return tr("within a second") if seconds < AT_ONCE_S else tr("{seconds:.1f} s on").format(seconds=seconds)


def _pickup_grade(e: Evaluation, margin: Array) -> np.ndarray:
    """Bad where the pickup's place is known and it sucks air; a note that asks for it where its place is a guess."""
    return np.where(margin < 0.0, BAD if e.plan.sump.pickup is not None else NOTE, HOLDS)


PICKUP = Quantity(
    code="pickup",
    name=N_("oil at the pickup"),
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


def _over_entry(e: Evaluation) -> Array:
    """Return how high oil stands over the entry [m] where that matters: while it flows, and in passing where a seal has no room left."""
    matters = _flowing(e) & e.route.ends_in_fitting & (lasting(e) | (e.drainage.freeboard_m < 0.0))
    return np.where(matters, e.drainage.submergence_m, np.nan)


def _drowned(e: Evaluation, margin: Array) -> np.ndarray:
    """Bad where it lasts; for seconds a note, for what comes to a seal then is judged by itself; within the windage's guess, to be
    watched."""
    under = np.where(lasting(e), BAD, NOTE)
    near = lasting(e) & (margin < WINDAGE_GUESS_M / HEIGHT_SCALE_M)
    return np.where(margin < 0.0, under, np.where(near, WATCH, HOLDS))


DROWNED = Quantity(
    code="drowned",
    name=N_("over entry"),
    kind="mm",
    station="entry",
    sign=-1,
    value=_over_entry,
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
        "near" if e.drainage.submergence_m[i] < 0.0 else "lasting" if lasting(e)[i] else "passing"
    ),
    rests_on=("sump",),
)


BRIEF_S = 10.0
"""[s] up to which a condition is a moment: what holds in it as it is needs nothing in hand; common practice, no source."""
FLOW_SCATTER = 0.10
"""[-] by which the oil that comes scatters from one car to the next: bearings 15 %, hole and gauge 5 % each, damped by what lies in
series; common practice, no source."""


def _reserve_grade(e: Evaluation, margin: Array) -> np.ndarray:
    """To be watched where less is in hand than the flow itself scatters; a note from there to what is wanted."""
    return np.where(margin < 0.0, np.where(reserve(e) < 1.0 + FLOW_SCATTER, WATCH, NOTE), HOLDS)


def _in_hand(e: Evaluation) -> Array:
    """Return the reserve [-] of what holds for longer than a moment."""
    counts = (e.drainage.freeboard_m >= 0.0) & (lasts_s(e.plan) > BRIEF_S)
    return np.where(counts, np.minimum(reserve(e), MOST_TOLD), np.nan)


RESERVE = Quantity(
    code="reserve",
    name=N_("reserve"),
    kind="times",
    station="drain",
    sign=1,
    value=_in_hand,
    limit="needs.reserve_min",
    message=Message(
        N_("Drain has little in hand"),
        N_(
            "In {condition} the drain would take {times:.2f} times the oil before a seal wets; {need:g} times is wanted."
        ),
        N_("Froth, wear and a thinner oil all bring more than was counted on."),
    ),
    grade=_reserve_grade,
    numbers=lambda e, i: {"times": float(reserve(e)[i]), "need": e.plan.needs.reserve_min.value},
    rests_on=("needs.reserve", "turbo.reference"),
)
MOST_TOLD = 8.0
"""[-] reserve above which it is enough; project choice."""


def filling_judged(e: Evaluation) -> np.ndarray:
    """Whether a condition's filling counts for the verdict: warm, lasting, with oil flowing and a free entry; a drowned entry is told of itself."""
    warm = np.array([c.kind.warm for c in e.plan.conditions])
    return np.asarray(_flowing(e) & warm & lasting(e) & (e.drainage.submergence_m < 0.0))


def _sealed(e: Evaluation) -> Array:
    """Return how many bores of hose run full or nearly so, where that counts."""
    return np.where(filling_judged(e), e.drainage.sealed_bores, np.nan)


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

UPRIGHT_SINE, UPRIGHT_BORES = 0.94, 4.0
"""[-] sine of a fall (70 degrees) from which a stretch counts as upright, and bores of it that matter; project choice."""


DRIVEN_SHARE = 0.5
"""[-] of the most crankcase pressure from which its gas is worth a word about a drain: below, the breather takes it; project choice."""


def _flooding(e: Evaluation) -> Array:
    """Return the gas flow up the drain that would hold its oil up [m³/s], where crankcase gas is driven that way, makes more
    than that, and the drain has an upright stretch; NaN elsewhere."""
    d, route = e.drainage, e.route
    fall = -np.diff(d.up @ route.stations_m.T, axis=1).T / route.length_m[:, None]
    bore = si(e.line.drain, "hose_bore_mm")
    upright = ((fall > UPRIGHT_SINE) * route.length_m[:, None]).sum(axis=0) > UPRIGHT_BORES * bore
    flooded = flooding_gas(d.froth.flow_m3_s, bore, d.froth.density_kg_m3, d.gravity_m_s2)
    driven = (
        upright
        & (d.gas_difference_pa > DRIVEN_SHARE * si(e.plan.needs, "crankcase_max_kpa"))
        & ~d.backwater.sealed
        & (flooded < e.breathing.blow_by_m3_s)
    )
    return np.where(_flowing(e) & driven, flooded, np.nan)


FLOODING = Quantity(
    code="flooding",
    name=N_("gas that holds oil up"),
    kind="l_min",
    station="breather",
    sign=1,
    value=_flooding,
    limit=lambda e: e.breathing.blow_by_m3_s,
    scale=1.0,  # advice comes after all else that is noted
    message=Message(
        N_("Blow-by could hold oil up"),
        N_(
            "In {condition} {value} of gas going up the upright stretch would hold its oil up; the engine makes {limit} of it."
        ),
        N_("Nothing is wrong while the breather takes it: the drain must not become the breather."),
    ),
    grade=note_below(),
    source=sources.COMPUTED,
    rests_on=("breather",),
)

TIGHTER_SHARE = 0.84
"""[-] of the hose's bore below which a fitting counts as tighter than its hose: a male flare of the hose's own dash size
passes 0.86 to 0.96 of it (through bores of SAE J514); project choice."""


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


def _narrowest(e: Evaluation) -> float:
    """Return the narrowest bore of a drain that runs by gravity [m]; NaN for a pumped one."""
    return float(e.route.bore_m.min()) if e.line.drain_by == "gravity" else float("nan")


def _usual_bore(e: Evaluation) -> float:
    turbo = e.line.turbo
    return float(turbo.kind.drain_bore_mm * 1e-3 * np.sqrt(HOUSINGS[turbo.frame].flow_scale))


SMALL_DRAIN = Quantity(
    code="small-drain",
    name=N_("narrowest of the drain"),
    kind="bore",
    station="drain",
    sign=1,
    value=_narrowest,
    limit=_usual_bore,
    message=Message(
        N_("Drain smaller than is usual"),
        N_("The drain narrows to {value}; for this turbo at least {limit} is usual."),
        N_("It may pass what was counted on, but froth, wear and cold ask for more than that."),
    ),
    grade=watch_below(),
    axis="plan",
    rests_on=("turbo.frame",),
)

HOME = (FREEBOARD, LIFT_OFF, PICKUP, DROWNED, RESERVE, SEALED, FLOODING, SMALL_FITTING, SMALL_DRAIN)
