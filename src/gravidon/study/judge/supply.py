# SPDX-License-Identifier: GPL-3.0-or-later
"""Judged quantities of the pressure side: tap, feed line, restrictor, bearing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from gravidon.parts import sources
from gravidon.parts.oils import PUMPING_BELOW_K, coldest_start_c
from gravidon.physics.arrays import Array
from gravidon.physics.feed import FeedResult
from gravidon.plan.fields import si
from gravidon.plan.model import Condition, TurboLine
from gravidon.study.judge.quantity import BAD, HOLDS, NOTE, WATCH, Quantity, bad_below, watch_below
from gravidon.study.solve import assemble
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.heat_soak import COKING_K, heat_soak
from gravidon.study.solve.priming import arrival, stack_height_mm
from gravidon.study.solve.split import unevenness
from gravidon.study.solve.tap import open_share
from gravidon.words.text import N_, Amount, Message, Number

TEMPERATURE_SCALE_K = 25.0
"""Scale of a temperature's margin; project choice."""


def _why_starved(e: Evaluation, i: int) -> str:
    hole = e.line.restrictor
    if hole.fitted and hole.bore_mm < e.line.turbo.kind.foreign_below_mm:
        return "foreign hole"
    if e.supply.tap_pa[i] < max(e.window_pa[i, 0], SCARCE_PA):
        return "gallery"
    return "restrictor" if e.feed.restrictor_drop_pa[i] >= e.feed.line_drop_pa[i] else "line"


SCARCE_PA = 40e3
"""[Pa] at the tap below which no hole is to blame; project choice."""

WHY_STARVED = {
    "foreign hole": N_(
        "The restrictor is of the size meant for ball bearings; on a journal bearing it takes most of the "
        "pressure before the bearing sees any."
    ),
    "gallery": N_("The gallery itself does not have the pressure in this condition."),
    "restrictor": N_("Most of the pressure is spent in the restrictor on the way."),
    "line": N_("Most of the pressure is spent in the feed line on the way."),
}
WATCH_BAND = 0.1
"""[-] of margin above a limit within which it is to be watched: no cliff at the limit; project choice."""

STARVED = Quantity(
    code="starved",
    name=N_("inlet"),
    kind="kpa",
    station="restrictor",
    sign=1,
    value=lambda e: assemble.judged_pressure(e.line, e.feed),
    limit=lambda e: e.window_pa[:, 0],
    source_path="line.turbo.window.speed_min_kpa",
    message=Message(
        N_("Bearing starved"),
        {
            "bearing": N_("The bearing gets {value} at {condition}; it wants at least {limit}."),
            "gauge": N_(
                "A gauge at the inlet would read {value} at {condition}; at least {limit} is wanted there."
            ),
        },
        WHY_STARVED,
    ),
    grade=bad_below(0.0, WATCH_BAND),
    variant=lambda e, i: "gauge" if e.line.turbo.window.at == "before the restrictor" else "bearing",
    because=_why_starved,
    rests_on=("turbo.window", "turbo.reference", "tap.offset", "restrictor", "engine"),
)


STARVED_FLOW = Quantity(
    code="starved-flow",
    name=N_("oil flow"),
    kind="l_min",
    station="restrictor",
    sign=1,
    value=lambda e: np.where(np.isfinite(e.flow_min_m3_s), e.feed.flow_m3_s, np.nan),
    limit=lambda e: e.flow_min_m3_s,
    source_path="line.turbo.window.speed_flow_l_min",
    message=Message(
        N_("Bearing starved"),
        N_(
            "Only {value} pass the bearing at {condition} ({gauge} before the hole, {bearing} behind it); {limit} are wanted."
        ),
        WHY_STARVED,
    ),
    grade=bad_below(0.0, WATCH_BAND),
    numbers=lambda e, i: {
        "gauge": Amount(float(assemble.gauge_pressure(e.line, e.feed)[i]), "kpa"),
        "bearing": Amount(float(e.feed.inlet_pressure_pa[i]), "kpa"),
    },
    because=_why_starved,
    rests_on=("turbo.window", "turbo.reference", "tap.offset", "restrictor", "engine"),
)


OVER_BAND = 0.05
"""[-] of margin below the most pressure within which it is to be watched; project choice."""


GUESSED_BAND = 0.25
"""[-] over a usual most pressure that is borne behind a hole: the figure is a guess there, and so is how the bearing shares the
pressure with its hole (a maker's, a measured one, and a feed without a hole are held strictly); common practice, no source."""


METERS_FROM, METERS_FULLY = 0.2, 0.4
"""[-] of the pressure at the port that a hole takes, from which it meters and at which it does so fully; project choice."""


def borne_over(it: TurboLine, feed: FeedResult) -> Array | float:
    """Return the share [-] of its most pressure that is borne over it, shape of the feed's arrays: a band where that is a guess, as far as
    the hole before the bearing meters."""
    if it.turbo.window.speed_max_kpa.basis != "guess":
        return 0.0
    port = np.maximum(feed.inlet_pressure_pa + feed.restrictor_drop_pa, 1.0)
    meters = (feed.restrictor_drop_pa / port - METERS_FROM) / (METERS_FULLY - METERS_FROM)
    result: Array = GUESSED_BAND * np.clip(meters, 0.0, 1.0)
    return result


def most_borne(it: TurboLine, feed: FeedResult, most_pa: Array) -> Array:
    """Return the most pressure that is borne [Pa gauge], of the window's most, broadcast shape."""
    result: Array = most_pa * (1.0 + borne_over(it, feed))
    return result


def _over_fed(e: Evaluation, margin: Array) -> np.ndarray:
    forgiven = np.array([c.kind.high_forgiven for c in e.plan.conditions])
    return np.where(
        margin < 0.0, np.where(forgiven, WATCH, BAD), np.where((margin < OVER_BAND) & ~forgiven, WATCH, HOLDS)
    )


def _most_place(e: Evaluation, i: int) -> str:
    return "port" if assemble.most_at_port(e.line) else "bearing"


OVER_FED = Quantity(
    code="over-fed",
    name=N_("inlet"),
    kind="kpa",
    station="restrictor",
    sign=-1,
    value=lambda e: assemble.most_pressure(e.line, e.feed),
    limit=lambda e: most_borne(e.line, e.feed, e.window_pa[:, 1]),
    source_path="line.turbo.window.speed_max_kpa",
    message=Message(
        N_("Bearing over-fed"),
        {
            "bearing": N_("The bearing sees {value} at {condition}; the window ends at {limit}."),
            "port": N_("Before the restrictor {value} at {condition}; its maker allows {limit} there."),
        },
        N_("More oil than the housing can throw off is pushed past the piston-ring seals."),
    ),
    grade=_over_fed,
    variant=_most_place,
    rests_on=("turbo.window", "turbo.reference", "engine"),
)

COOKED_BAND_K = 2.0
"""[K] below the hottest within which it is to be watched; project choice."""

COOKED = Quantity(
    code="cooked",
    name=N_("oil out"),
    kind="degc",
    station="restrictor",
    sign=-1,
    value=lambda e: np.where(e.feed.flow_m3_s > 0.0, e.feed.outlet_temperature_k, np.nan),
    limit="line.turbo.window.outlet_max_c",
    scale=TEMPERATURE_SCALE_K,
    message=Message(
        N_("Oil cooked in the housing"),
        N_(
            "Oil leaves the bearing at {value} in {condition} with only {flow} passing; the limit is {limit}."
        ),
        N_(
            "The oil is also the bearing's coolant: too little flow cannot carry the heat away, and it cokes."
        ),
    ),
    grade=bad_below(0.0, COOKED_BAND_K / TEMPERATURE_SCALE_K),
    numbers=lambda e, i: {"flow": Amount(float(e.feed.flow_m3_s[i]), "l_min")},
    rests_on=("turbo.window.outlet", "turbo.reference"),
)


LONG_IDLE_S = 180.0
"""[s] of idling before key-off beyond which nobody keeps it up: to be watched; common practice, no source."""


def _soak_peak(e: Evaluation) -> Array:
    """Return the bearing housing's peak after a hot stop [K] in the conditions with the engine off, NaN elsewhere."""
    soak = heat_soak(e)
    off = np.array([not c.kind.turning for c in e.plan.conditions])
    return np.where(off, np.nan if soak is None else soak.peak_k, np.nan)


def _soak_grade(e: Evaluation, margin: Array) -> np.ndarray:
    soak = heat_soak(e)
    idle = 0.0 if soak is None else soak.idle_s
    return np.where(margin < 0.0, WATCH if idle > LONG_IDLE_S else NOTE, HOLDS)


def _soak_numbers(e: Evaluation, i: int) -> Mapping[str, Number]:
    soak = heat_soak(e)
    return {} if soak is None else {"idle": Amount(soak.idle_s, "s")}


SOAK = Quantity(
    code="heat-soak",
    name=N_("hot stop"),
    kind="degc",
    station="car",
    sign=-1,
    value=_soak_peak,
    limit=COKING_K,
    scale=TEMPERATURE_SCALE_K,
    message=Message(
        N_("Oil cokes after a hot stop"),
        {
            "idle": N_(
                "Switched off hot, the bearing would reach {value}; oil cokes from {limit}. Let it idle {idle} first."
            ),
            "never": N_(
                "Switched off hot, the bearing would reach {value}, however long it idles; oil cokes from {limit}."
            ),
        },
        N_("The turbine's heat soaks into a bearing that no oil cools any more; water lines carry it away."),
    ),
    grade=_soak_grade,
    numbers=_soak_numbers,
    variant=lambda e, i: "idle" if np.isfinite(getattr(heat_soak(e), "idle_s", np.inf)) else "never",
    rests_on=("turbo.reference",),
)


def window_margins(
    it: TurboLine, conditions: Sequence[Condition], feed: FeedResult
) -> tuple[Array, Array, Array]:
    """Return the margins [-] of starved (by pressure or by flow), over-fed and cooked for a feed's results.

    The last axis of the feed's arrays is the conditions'. Where nothing is judged the margin is NaN.
    """
    window = np.array([assemble.window_bounds(it, c) for c in conditions])
    flow = np.array([assemble.least_flow(it, c) for c in conditions])
    by_pressure = STARVED.margin(assemble.judged_pressure(it, feed), window[:, 0])
    low = np.where(np.isfinite(flow), STARVED_FLOW.margin(feed.flow_m3_s, flow), by_pressure)
    high = OVER_FED.margin(assemble.most_pressure(it, feed), most_borne(it, feed, window[:, 1]))
    cool = COOKED.margin(feed.outlet_temperature_k, si(it.turbo.window, "outlet_max_c"))
    return low, high, np.where(np.isfinite(window[:, 1]), cool, np.nan)


PROTRUDING = Quantity(
    code="protruding",
    name=N_("gallery left open"),
    kind="share",
    station="tap",
    sign=1,
    value=lambda e: open_share(e.tap),
    limit="needs.gallery_open",
    message=Message(
        N_("Fitting blocks the gallery"),
        N_(
            "The fitting reaches {reach} further in than the plug did and leaves {value:%} of the gallery open; "
            "{limit:%} is wanted."
        ),
        N_("The engine's own bearings downstream get what is left; builders cut the fitting down."),
    ),
    grade=bad_below(-0.5),
    axis="plan",
    shared=True,
    numbers=lambda e, i: {"reach": Amount(si(e.tap, "protrusion_mm"), "mm")},
    rests_on=("tap.protrusion", "tap.gallery"),
)

ROOM = N_("{tap}: {value}; {limit} is wanted.")


def _tap(e: Evaluation, i: int) -> Mapping[str, Number]:
    return {"tap": e.tap.label.capitalize()}


WRENCH = Quantity(
    code="no-wrench",
    name=N_("room for a wrench"),
    kind="run",
    station="tap",
    sign=1,
    value=lambda e: si(e.tap, "wrench_mm"),
    limit="needs.wrench_mm",
    message=Message(
        N_("No room to swing a wrench"),
        ROOM,
        N_("A fitting that cannot be tightened leaks; one that cannot be undone stays."),
    ),
    grade=watch_below(),
    axis="plan",
    shared=True,
    numbers=_tap,
    rests_on=("tap.wrench_mm",),
)

TAP_HEAT = Quantity(
    code="near-heat",
    name=N_("off hot parts"),
    kind="run",
    station="tap",
    sign=1,
    value=lambda e: si(e.tap, "hot_mm"),
    limit="needs.hot_mm",
    message=Message(
        N_("Tap near hot parts"),
        ROOM,
        N_(
            "Hose and oil cook near exhaust parts; a leak there is a fire. Sleeve and shield it, or choose "
            "another tap."
        ),
    ),
    grade=watch_below(),
    axis="plan",
    shared=True,
    numbers=_tap,
    rests_on=("tap.hot_mm",),
)

PRIME = Quantity(
    code="slow-prime",
    name=N_("oil arrives after"),
    kind="s",
    station="feed",
    sign=-1,
    value=lambda e: arrival(e.plan, e.supply).cold_s,
    limit="needs.prime_s",
    message=Message(
        N_("Slow to bring oil"),
        N_("On a cold start oil needs {value} to reach the turbo ({hot} hot); {limit} is wanted."),
        N_("Until then the bearing runs on what clings to it. Thick oil creeps through a long thin hose."),
    ),
    grade=watch_below(),
    axis="plan",
    shared=True,
    numbers=lambda e, i: {"hot": Amount(arrival(e.plan, e.supply).hot_s, "s")},
    rests_on=("engine.pump", "needs.prime"),
)


def _start_heat(e: Evaluation) -> Array:
    """Return the oil's temperature [K] in cold starts, NaN elsewhere, and everywhere where the grade has no winter number."""
    known = coldest_start_c(e.plan.oil.grade) is not None
    return np.array(
        [
            c.oil_temperature_c + 273.15 if known and c.kind.turning and not c.kind.warm else np.nan
            for c in e.plan.conditions
        ]
    )


def _start_grade(e: Evaluation, margin: Array) -> np.ndarray:
    """To be watched below what a grade is made to crank at, bad where it is not pumped any more."""
    return np.where(margin < 0.0, np.where(margin < -PUMPING_BELOW_K / START_SCALE_K, BAD, WATCH), HOLDS)


START_SCALE_K = 10.0
"""Scale of a cold start's margin; project choice."""

COLD_START = Quantity(
    code="too-cold",
    name=N_("oil at the start"),
    kind="degc",
    station="car",
    sign=1,
    value=_start_heat,
    limit=lambda e: (coldest_start_c(e.plan.oil.grade) or 0.0) + 273.15,
    scale=START_SCALE_K,
    message=Message(
        N_("Too cold for this oil"),
        N_(
            "{grade} is made for starts down to {limit}; {condition} is one at {value}: pressure at a gauge is no oil in the bearing then."
        ),
        N_(
            "Thick oil stands at the pickup while the gallery still shows pressure; a lower winter number flows."
        ),
    ),
    grade=_start_grade,
    shared=True,
    numbers=lambda e, i: {"grade": e.plan.oil.grade},
    source=sources.FROM_MEMORY,
)


def _lost(e: Evaluation) -> Array:
    still = e.supply.undrawn_pa
    if si(e.plan.engine, "pump_cc_rev") <= assemble.LEAST_PUMP_M3_REV:
        return np.full(len(still), np.nan)
    return np.where(still > 0.0, 1.0 - e.supply.gallery_pa / np.where(still > 0.0, still, 1.0), np.nan)


ROBBED = Quantity(
    code="robbed",
    name=N_("gallery drop"),
    kind="share",
    station="car",
    sign=-1,
    value=_lost,
    limit="needs.gallery_drop",
    message=Message(
        N_("Engine robbed of oil"),
        N_("In {condition} the turbo feed takes gallery pressure from {still} to {drawn}."),
        N_("The pump delivers only so much per turn; what the turbo takes the engine's bearings miss."),
    ),
    grade=watch_below(),
    shared=True,
    numbers=lambda e, i: {
        "still": Amount(float(e.supply.undrawn_pa[i]), "kpa"),
        "drawn": Amount(float(e.supply.gallery_pa[i]), "kpa"),
    },
    rests_on=("engine.pump", "needs.gallery_drop"),
)


def _split(e: Evaluation, i: int) -> Mapping[str, Number]:
    flows = [float(b.flow_m3_s[i]) for b in e.network.branches]
    wanted = [line.turbo.reference_flow_l_min.value for line in e.plan.turbos]
    names = [line.turbo.label for line in e.plan.turbos]
    least = int(np.argmin(np.array(flows) / wanted))
    shown = {f"flow{k}": Amount(q, "l_min") for k, q in enumerate(flows)}
    return {**shown, "least": names[least]}


UNEVEN = Quantity(
    code="uneven",
    name=N_("split apart by"),
    kind="share",
    station="feed",
    sign=-1,
    value=lambda e: unevenness(e) if len(e.plan.turbos) > 1 else np.full(len(e.names), np.nan),
    limit="needs.split_even",
    message=Message(
        N_("Split unbalanced"),
        {
            "2": N_(
                "In {condition} the turbos get {flow0} and {flow1}; {least} comes off worst by {value:%}."
            ),
            "3": N_(
                "In {condition} the turbos get {flow0} and {flow1} and {flow2}; {least} comes off worst by {value:%}."
            ),
        },
        N_("A longer or tighter branch, or a screen that clogs, sends the oil to the other turbo."),
    ),
    grade=bad_below(-1.5),
    shared=True,
    numbers=_split,
    variant=lambda e, i: str(len(e.plan.turbos)),
    rests_on=("needs.split",),
)

STACK = Quantity(
    code="tall-stack",
    name=N_("fittings over the inlet"),
    kind="run",
    station="feed",
    sign=-1,
    value=lambda e: stack_height_mm(e.line.feed.pieces) * 1e-3,
    limit=lambda e: si(e.line.feed, "bonnet_mm"),
    source=sources.COMPUTED,
    message=Message(
        N_("Feed fitting too tall"),
        N_("The fittings over the oil inlet stand {value} tall; the bonnet leaves {limit}."),
        N_("A straight fitting where a 90° was needed is found when the bonnet does not shut."),
    ),
    grade=bad_below(0.0),
    axis="plan",
    rests_on=("feed.bonnet",),
)

SUPPLY = (
    STARVED,
    STARVED_FLOW,
    OVER_FED,
    COOKED,
    SOAK,
    PROTRUDING,
    WRENCH,
    TAP_HEAT,
    PRIME,
    COLD_START,
    ROBBED,
    UNEVEN,
    STACK,
)
