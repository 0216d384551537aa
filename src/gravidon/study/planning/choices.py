# SPDX-License-Identifier: GPL-3.0-or-later
"""Every choice of a plan as values with names: which it has, which there are, and the plan with another.

One table serves the search, the question "why not?", the comparison of ideas and the padlocks.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from gravidon.errors import InputError
from gravidon.parts import dash
from gravidon.parts.drills import drills_between
from gravidon.parts.entry_means import MEANS, entry_dash
from gravidon.parts.threads import THREADS
from gravidon.physics.scavenge import WIRE_AMPS
from gravidon.plan import paths
from gravidon.plan.fields import Known
from gravidon.plan.model import Fitting, Hose, Plan, TurboLine
from gravidon.plan.model_freedom import CHOICES as NAMES
from gravidon.plan.model_freedom import ChoiceName
from gravidon.plan.units import Family, parse, show, si_to_file
from gravidon.study.home.entry_map import moved_entry
from gravidon.study.planning.ways import NoWay, drain_way, hose_end, with_line, with_way
from gravidon.study.solve.as_bought import line_dash
from gravidon.study.solve.assemble import box_of, point
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.solve.wall import HEADING, WALLS, Wall, name_of_wall, wall_of, walls
from gravidon.study.supply.tap_choice import with_tap
from gravidon.translate import commas, tr, trn

NONE, ANEW, STRAIGHT = "none", "laid anew", "straight"
FEED_SIZES, DRAIN_SIZES = (3, 4, 6), (8, 10, 12, 16)
FEED_ENDS = (STRAIGHT, "45°", "90°")
"""[dash] sizes hoses of feeds and drains come in, and their ends' bends; common practice, no source."""
CLOCK_STEP_DEG = 10.0
"""[°] between clock angles that are tried; project choice."""
DRILL_STEP_MM, LEAST_HOLE_MM, MOST_HOLE_MM = 0.05, 0.5, 5.0
"""[mm] between holes that are tried, and the least and the most: metric drills; project choice."""
BREATHERS = ("catch can", "valve to intake", "can and valve")
BREATHER_SIZES = (6, 8, 10, 12, 16)
"""Ways the crankcase breathes, and [dash] sizes of its hose; common practice, no source."""
PUMPS_L_MIN = (4.0, 6.0, 8.0, 10.0, 12.0, 15.0, 20.0)
"""[L/min] deliveries pumps are sold in; common practice, no source."""
ALIKE, APART = "all alike", "each its own"

Value = Callable[[Plan, int], str]
Values = Callable[[Plan, int], tuple[str, ...]]
Put = Callable[[Plan, int, str], Plan]


@dataclass(frozen=True)
class Choice:
    """One choice.

    Fields: its name in the plan file; station it is made at; the value a plan has; the values there are, the plan's own among
    them; the plan with another; kind of unit where a value is a number; whether the plan has this choice at all.
    """

    known: ChoiceName
    station: str
    value: Value
    values: Values
    put: Put
    kind: str = ""
    applies: Callable[[Plan, int], bool] = lambda plan, k: True

    @property
    def name(self) -> str:
        """Its name in the plan file."""
        return self.known.name

    @property
    def words(self) -> str:
        """What it is called."""
        return self.known.words

    def said(self, value: str, family: Family = "metric") -> str:
        """Return a value as a builder says it, in a unit family."""
        if self.name == "entry-place":
            along, up = _place(value)
            return tr("{along} along, {up} {way}").format(
                along=show(along * 0.001, "run", family),
                up=show(abs(up) * 0.001, "run", family),
                way=tr("down") if up < 0 else tr("up"),
            )
        if self.name in ("route", "feed-route") and value[:1].isdigit():
            return trn("{count} bend", "{count} bends", int(value.split(maxsplit=1)[0]))
        if not self.kind or value == NONE:
            return tr(value)
        factor = {"bore": 1e-3, "deg": np.pi / 180.0}[self.kind]
        return show(float(value) * factor, self.kind, family)

    def read(self, text: str, plan: Plan, k: int) -> str:
        """Return the value that a builder's words mean.

        Raises: InputError naming the choice and what it may be.
        """
        words = text.strip()
        if words in self.values(plan, k):
            return words
        if self.kind and words != NONE:
            number = si_to_file(parse(words, self.kind, self.words), self.kind)
            return f"{number:g}"
        if self.name == "entry-place":
            _place(words)
            return words
        lower = {v.lower(): v for v in self.values(plan, k)}
        if words.lower() in lower:
            return lower[words.lower()]
        known = commas(self.values(plan, k)[:24])
        raise InputError(self.words, text, tr("one of {known}").format(known=known))


def _place(value: str) -> tuple[float, float]:
    try:
        along, up = (float(part) for part in value.split(","))
    except ValueError:
        raise InputError(
            NAMES["entry-place"].words, value, "two numbers in mm: along the wall, above the rail"
        ) from None
    return along, up


# --- supply --------------------------------------------------------------------------------------


def _taps(plan: Plan, k: int) -> tuple[str, ...]:
    return tuple(dict.fromkeys(t.label for t in plan.taps))


def _put_tap(plan: Plan, k: int, value: str) -> Plan:
    index = next(n for n, t in enumerate(plan.taps) if t.label == value)
    feeds = tuple(
        it.model_copy(update={"feed": it.feed.model_copy(update={"points": ()})}) for it in plan.turbos
    )
    return plan if index == plan.tap else with_tap(plan.model_copy(update={"turbos": feeds}), index)


def _tap_threads(plan: Plan, k: int) -> tuple[str, ...]:
    tap = plan.taps[plan.tap]
    return tuple(dict.fromkeys((tap.fitting_thread, tap.port_thread)))


def _put_tap_thread(plan: Plan, k: int, value: str) -> Plan:
    if value not in THREADS:
        raise InputError(NAMES["tap-thread"].words, value, "a thread such as 1/8 BSPT")
    tap = plan.taps[plan.tap].model_copy(update={"fitting_thread": value})
    if tap == plan.taps[plan.tap]:
        return plan
    freed = tuple(
        it.model_copy(update={"parts": it.parts.model_copy(update={"feed": ()})}) for it in plan.turbos
    )
    taps = (*plan.taps[: plan.tap], tap, *plan.taps[plan.tap + 1 :])
    return plan.model_copy(update={"taps": taps, "turbos": freed})


def _put_feed_size(plan: Plan, k: int, value: str) -> Plan:
    size = int(value.removeprefix("-"))
    hose, end = round(dash.hose_bore_mm(size), 2), dash.END_BORE_MM[size]
    it = plan.turbos[k]
    pieces = tuple(
        p.model_copy(update={"bore_mm": hose if isinstance(p, Hose) else end})
        if isinstance(p, (Hose, Fitting))
        else p.model_copy(update={"bore_mm": max(p.bore_mm, end)})
        for p in it.feed.pieces
    )
    return _fed(plan, k, pieces)


def _fed(plan: Plan, k: int, pieces: tuple[object, ...]) -> Plan:
    it = plan.turbos[k]
    feed = it.feed.model_copy(update={"pieces": pieces})
    parts = it.parts.model_copy(update={"feed": ()})
    return with_line(plan, k, it.model_copy(update={"feed": feed, "parts": parts}))


def _after_hose(it: TurboLine) -> tuple[int, tuple[Fitting, ...]]:
    last = max(n for n, p in enumerate(it.feed.pieces) if isinstance(p, Hose))
    return last, tuple(p for p in it.feed.pieces[last + 1 :] if isinstance(p, Fitting))


def _feed_end(plan: Plan, k: int) -> str:
    _, ends = _after_hose(plan.turbos[k])
    return " + ".join(p.shape for p in ends) or NONE


END_HEIGHTS_MM = {STRAIGHT: 30.0, "45°": 30.0, "90°": 28.0}
"""[mm] that a hose end stands over the inlet; common practice, no source."""


def _put_feed_end(plan: Plan, k: int, value: str) -> Plan:
    it = plan.turbos[k]
    if value == _feed_end(plan, k):
        return plan
    last, _ = _after_hose(it)
    bore = dash.END_BORE_MM[line_dash(plan, k, "feed")]
    kept = tuple(p for p in it.feed.pieces[last + 1 :] if not isinstance(p, Fitting))
    shapes = () if value == NONE else value.split(" + ")
    if any(s not in END_HEIGHTS_MM for s in shapes):
        raise InputError(NAMES["feed-end"].words, value, tr("one of {known}").format(known=commas(FEED_ENDS)))
    ends = tuple(Fitting(shape=s, bore_mm=bore, height_mm=END_HEIGHTS_MM[s]) for s in shapes)
    return _fed(plan, k, (*it.feed.pieces[: last + 1], *kept, *ends))


def _hole(name: str) -> tuple[Value, Values, Put]:
    def value(plan: Plan, k: int) -> str:
        hole = getattr(plan.turbos[k], name)
        return f"{hole.bore_mm:g}" if hole.fitted else NONE

    def drills(plan: Plan, k: int, least: float) -> tuple[str, ...]:
        widest = min(*(p.bore_mm for p in plan.turbos[k].feed.pieces), MOST_HOLE_MM)
        metric = (
            d.diameter_mm
            for d in drills_between(max(least, LEAST_HOLE_MM), widest)
            if not d.name.startswith("#")
        )
        return tuple(f"{d:g}" for d in metric if abs(d / DRILL_STEP_MM - round(d / DRILL_STEP_MM)) < 1e-6)

    def values(plan: Plan, k: int) -> tuple[str, ...]:
        own = value(plan, k)
        if name == "restrictor":
            return tuple(dict.fromkeys((NONE, own, *drills(plan, k, 0.0))))
        return (own,) if own == NONE else tuple(dict.fromkeys((own, *drills(plan, k, float(own)))))

    def put(plan: Plan, k: int, wanted: str) -> Plan:
        it = plan.turbos[k]
        hole = getattr(it, name)
        changes = {"fitted": False} if wanted == NONE else {"fitted": True, "bore_mm": float(wanted)}
        if value(plan, k) == wanted:
            return plan
        made = it.model_copy(
            update={name: hole.model_copy(update=changes), "parts": it.parts.model_copy(update={"feed": ()})}
        )
        return with_line(plan, k, made)

    return value, values, put


def _balance(plan: Plan, k: int) -> str:
    def metered(it: TurboLine) -> object:
        return it.restrictor.fitted, it.restrictor.bore_mm, it.feed.pieces

    return ALIKE if all(metered(it) == metered(plan.turbos[0]) for it in plan.turbos) else APART


def _put_balance(plan: Plan, k: int, value: str) -> Plan:
    if value == APART:
        return plan
    first = plan.turbos[0]
    changes = {"restrictor": first.restrictor, "feed": first.feed, "flange_hole": first.flange_hole}
    return plan.model_copy(
        update={
            "turbos": tuple(
                it.model_copy(update={**changes, "parts": it.parts.model_copy(update={"feed": ()})})
                for it in plan.turbos
            )
        }
    )


# --- mounting ------------------------------------------------------------------------------------


def _angle(name: str, most: str, steps: bool) -> tuple[Value, Values, Put]:
    path = f"turbo.{name}"

    def value(plan: Plan, k: int) -> str:
        return f"{paths.number(plan.turbos[k], path):g}"

    def values(plan: Plan, k: int) -> tuple[str, ...]:
        limit = paths.number(plan.turbos[k], f"turbo.{most}")
        own = value(plan, k)
        tried = np.arange(0.0, limit + 1e-6, CLOCK_STEP_DEG) if steps else np.zeros(1)
        both = sorted({0.0, *tried, *(-tried)}, key=abs)
        return tuple(dict.fromkeys((own, *(f"{v:g}" for v in both))))

    def put(plan: Plan, k: int, wanted: str) -> Plan:
        it = plan.turbos[k]
        limit = paths.number(it, f"turbo.{most}")
        if not -limit - 1e-6 <= float(wanted) <= limit + 1e-6:
            raise InputError(
                NAMES["clock" if steps else "tilt"].words,
                wanted,
                tr("{low:g} to {high:g} °").format(low=-limit, high=limit),
            )
        if value(plan, k) == wanted:
            return plan
        known = Known(value=float(wanted))
        return with_line(plan, k, it.model_copy(update={"turbo": it.turbo.model_copy(update={name: known})}))

    return value, values, put


# --- the way home --------------------------------------------------------------------------------


def by_gravity(plan: Plan, k: int) -> bool:
    """Return whether a turbo's drain runs to the pan on its own."""
    it = plan.turbos[k]
    return it.drain_by == "gravity" and it.drain.joins is None


def carries_tee(plan: Plan, k: int) -> bool:
    """Return whether another turbo's drain joins this one: its bends hold the tee."""
    return any(it.drain.joins is not None and it.drain.joins.turbo == k for it in plan.turbos)


def _put_drain_size(plan: Plan, k: int, value: str) -> Plan:
    size = int(value.removeprefix("-"))
    if line_dash(plan, k, "drain") == size:
        return plan
    it = plan.turbos[k]
    drain, end, entry = it.drain, dash.END_BORE_MM[size], entry_dash(size)
    fitting = drain.fitting.model_copy(
        update={
            "label": f"{drain.fitting.means}, {dash.dash_label(entry)}",
            "bore_mm": drain.fitting.way.bores_mm[entry],
            "port_thread": drain.fitting.way.threads[entry],
            "fitting_thread": drain.fitting.way.threads[entry],
        }
    )
    made = drain.model_copy(
        update={
            "hose_bore_mm": round(dash.hose_bore_mm(size), 2),
            "flange_bore_mm": end,
            "min_bend_mm": Known(value=dash.LEAST_BEND_MM[size], basis="guess"),
            "pieces": tuple(hose_end(size, p.angle_deg, p.at) for p in drain.pieces),
            "fitting": fitting,
        }
    )
    return _drained(plan, k, made)


def _drained(plan: Plan, k: int, drain: object) -> Plan:
    it = plan.turbos[k]
    parts = it.parts.model_copy(update={"drain": ()})
    return with_line(plan, k, it.model_copy(update={"drain": drain, "parts": parts}))


def _ends(plan: Plan, k: int) -> str:
    at = {p.at: p.angle_deg for p in plan.turbos[k].drain.pieces}
    return " / ".join(f"{at[w]:g}°" for w in ("turbo", "pan") if w in at) or NONE


def _put_ends(plan: Plan, k: int, value: str) -> Plan:
    if value == _ends(plan, k):
        return plan
    size = line_dash(plan, k, "drain")
    try:
        turbo, pan = (float(part.strip().removesuffix("°")) for part in value.split("/"))
    except ValueError:
        raise InputError(NAMES["drain-ends"].words, value, "two angles such as 45° / 90°") from None
    pieces = (hose_end(size, turbo, "turbo"), hose_end(size, pan, "pan"))
    return _drained(plan, k, plan.turbos[k].drain.model_copy(update={"pieces": pieces}))


def _route(plan: Plan, k: int) -> str:
    points = plan.turbos[k].drain.points
    if not points:
        return STRAIGHT
    places = " ".join(f"{p.x_mm:g},{p.y_mm:g},{p.z_mm:g}" for p in points)
    return f"{len(points)} bend{'s' if len(points) > 1 else ''} at {places}"[:60]


def _put_route(plan: Plan, k: int, value: str) -> Plan:
    if value == _route(plan, k):
        return plan
    if carries_tee(plan, k):
        raise InputError(
            NAMES["route"].words, value, "its bends as they are, for another drain joins one of them"
        )
    if value == STRAIGHT:
        return _drained(plan, k, plan.turbos[k].drain.model_copy(update={"points": ()}))
    way = drain_way(plan, k)
    if isinstance(way, NoWay):
        raise InputError(
            NAMES["route"].words, value, tr("a way to lay; there is none: {why}").format(why=way.why)
        )
    return with_way(plan, k, way)


def _wall(plan: Plan, k: int) -> str:
    return name_of_wall(plan.turbos[k])


def open_walls(plan: Plan, name: str, near_m: np.ndarray) -> tuple[Wall, ...]:
    """Return the pan's outside walls of one name, nearest to a place [m] first: those behind which no other box begins."""
    found = [w for w in walls(plan, name) if not _behind(plan, w)] or list(walls(plan, name))

    def far(w: Wall) -> float:
        along = float(near_m[1 - w.axis])
        beside = max(w.low_m - along, 0.0, along - w.high_m)
        return beside + abs(float(near_m[w.axis]) - w.plane_m)

    return tuple(sorted(found, key=far))


def _behind(plan: Plan, wall: Wall) -> bool:
    """Return whether the middle of a wall is covered by another box of the pan."""
    middle = wall.place(
        np.array(0.5 * (wall.low_m + wall.high_m)), np.array(0.5 * (wall.floor_m + wall.rail_m))
    )
    spot = middle + 1e-3 * wall.outward
    return any(bool(((spot > low) & (spot < high)).all()) for low, high in map(box_of, plan.sump.boxes))


def _put_wall(plan: Plan, k: int, value: str) -> Plan:
    """Put the entry in the middle of another wall, at the height that it has."""
    if value == _wall(plan, k):
        return plan
    it = plan.turbos[k]
    flange = point(it.turbo.drain_flange)
    wall = open_walls(plan, value, flange)[0]
    up = float(np.clip(it.drain.entry.z_mm * 1e-3, wall.floor_m + 0.02, wall.rail_m - 0.01))
    along = float(np.clip(flange[1 - wall.axis], wall.low_m + 0.04, wall.high_m - 0.04))
    moved = moved_entry(plan, k, wall, along, up)
    if name_of_wall(moved.turbos[k]) != value:
        moved = paths.put(moved, f"turbos.{k}.drain.fitting.heading_deg", HEADING[value])
    return moved


def _entry(plan: Plan, k: int) -> str:
    wall, entry = wall_of(plan, plan.turbos[k]), plan.turbos[k].drain.entry
    return f"{(entry.x_mm, entry.y_mm)[1 - wall.axis]:g},{entry.z_mm:g}"


def _put_entry(plan: Plan, k: int, value: str) -> Plan:
    if value == _entry(plan, k):
        return plan
    along, up = _place(value)
    return moved_entry(plan, k, wall_of(plan, plan.turbos[k]), along * 1e-3, up * 1e-3)


def _put_means(plan: Plan, k: int, value: str) -> Plan:
    means = MEANS[value]
    drain, size = plan.turbos[k].drain, entry_dash(line_dash(plan, k, "drain"))
    if drain.fitting.means == value:
        return plan
    fitting = drain.fitting.model_copy(
        update={
            "means": value,
            "label": f"{value}, {dash.dash_label(size)}",
            "bore_mm": means.bores_mm[size],
            "port_thread": means.threads[size],
            "fitting_thread": means.threads[size],
        }
    )
    return _drained(plan, k, drain.model_copy(update={"fitting": fitting}))


def _threads(plan: Plan, k: int) -> tuple[str, ...]:
    fitting, size = plan.turbos[k].drain.fitting, entry_dash(line_dash(plan, k, "drain"))
    return tuple(dict.fromkeys((fitting.port_thread, fitting.way.threads[size])))


def _put_thread(plan: Plan, k: int, value: str) -> Plan:
    drain = plan.turbos[k].drain
    if value not in THREADS:
        raise InputError(NAMES["entry-thread"].words, value, "a thread such as 1/2 NPT")
    if (drain.fitting.port_thread, drain.fitting.fitting_thread) == (value, value):
        return plan
    fitting = drain.fitting.model_copy(update={"port_thread": value, "fitting_thread": value})
    return _drained(plan, k, drain.model_copy(update={"fitting": fitting}))


def _breather(plan: Plan, k: int) -> str:
    b = plan.breather
    if b.kind == "typed":
        return "typed"
    size = dash.dash_of_bore(b.hose_bore_mm)
    return f"{b.kind}, {dash.dash_label(size) if size else f'{b.hose_bore_mm:g} mm'}"


def _breathers(plan: Plan, k: int) -> tuple[str, ...]:
    made = (f"{kind}, {dash.dash_label(size)}" for kind in BREATHERS for size in BREATHER_SIZES)
    return tuple(dict.fromkeys((_breather(plan, k), *made)))


def _put_breather(plan: Plan, k: int, value: str) -> Plan:
    if value == _breather(plan, k):
        return plan
    if value == "typed":
        return paths.put(plan, "breather.kind", "typed")
    kind, _, size = value.partition(", ")
    changes = {
        "kind": kind,
        "hose_bore_mm": round(dash.hose_bore_mm(int(size.removeprefix("-"))), 2),
        "orifice_mm": 0.0,
        "one_way": True,
    }
    return plan.model_copy(update={"breather": plan.breather.model_copy(update=changes)})


def _pump(plan: Plan, k: int) -> str:
    return f"{plan.turbos[k].scavenge.free_l_min.value:g} L/min"


def _pumps(plan: Plan, k: int) -> tuple[str, ...]:
    return tuple(dict.fromkeys((_pump(plan, k), *(f"{n:g} L/min" for n in PUMPS_L_MIN))))


RUN_ON_S = 20.0
"""[s] that a pump runs on for; common practice, no source."""


def _put_pump(plan: Plan, k: int, value: str) -> Plan:
    """Put a pump of a size with all that belongs to it: valve, relay, wire that keeps the volts, the fuse, pot and run-on."""
    if value == _pump(plan, k):
        return plan
    s = plan.turbos[k].scavenge
    size = float(value.removesuffix("L/min").strip())
    s = s.model_copy(
        update={
            "free_l_min": s.free_l_min if s.free_l_min.value == size else Known(value=size),
            "valve": True,
            "relay": True,
            "runs_dry": True,
            "pump_above_pot_mm": min(s.pump_above_pot_mm, 0.0),
            "run_on_s": s.run_on_s if s.run_on_s.value >= RUN_ON_S else Known(value=RUN_ON_S),
        }
    )

    def fitted(**changes: object) -> Plan:
        it = plan.turbos[k]
        return with_line(plan, k, it.model_copy(update={"scavenge": s.model_copy(update=changes)}))

    for gauge in sorted((g for g in WIRE_AMPS if g <= s.gauge_awg), reverse=True):
        made = fitted(gauge_awg=gauge)
        pump = evaluate(made).of(k).scavenging
        if pump.volts_share >= plan.needs.volts_min.value:
            break
    changes: dict[str, object] = {"gauge_awg": gauge, "fuse_a": pump.fuse_wanted_a}
    floods = float(np.ceil((pump.comes_down_m3 - pump.pumped_m3) * 1e6 / 50.0) * 50.0)
    if floods > s.pot_ml.value:
        changes["pot_ml"] = Known(value=min(floods, 5000.0))
    return fitted(**changes)


# --- the table -----------------------------------------------------------------------------------


def _plain(values: tuple[str, ...]) -> Values:
    return lambda plan, k: values


def _own_and(value: Value, more: tuple[str, ...]) -> Values:
    return lambda plan, k: tuple(dict.fromkeys((value(plan, k), *more)))


def _size(line: str) -> Value:
    return lambda plan, k: dash.dash_label(line_dash(plan, k, line))


def _feed_way(plan: Plan, k: int) -> str:
    points = plan.turbos[k].feed.points
    return f"{len(points)} bends" if points else STRAIGHT


def _pumped(plan: Plan, k: int) -> bool:
    return plan.turbos[k].drain_by == "scavenge"


def _means(plan: Plan, k: int) -> str:
    return plan.turbos[k].drain.fitting.means


def _same(plan: Plan, k: int, value: str) -> Plan:
    return plan


_CLOCK, _TILT = _angle("clock_deg", "clock_max_deg", True), _angle("pitch_deg", "tilt_max_deg", False)

CHOICES: dict[str, Choice] = {
    c.name: c
    for c in (
        Choice(NAMES["tap"], "tap", lambda plan, k: plan.taps[plan.tap].label, _taps, _put_tap),
        Choice(NAMES["tap-thread"], "tap", lambda plan, k: plan.taps[plan.tap].fitting_thread, _tap_threads, _put_tap_thread),
        Choice(NAMES["feed-size"], "feed", _size("feed"), _own_and(_size("feed"), ("-3", "-4", "-6")), _put_feed_size),
        Choice(NAMES["feed-end"], "feed", _feed_end, _own_and(_feed_end, FEED_ENDS), _put_feed_end),
        Choice(NAMES["feed-route"], "feed", _feed_way, lambda plan, k: (_feed_way(plan, k),), _same, applies=lambda plan, k: plan.taps[plan.tap].place is not None),
        Choice(NAMES["restrictor"], "restrictor", *_hole("restrictor"), "bore"),
        Choice(NAMES["flange-hole"], "restrictor", *_hole("flange_hole"), "bore", lambda plan, k: plan.turbos[k].flange_hole.fitted),
        Choice(NAMES["balance"], "restrictor", _balance, _own_and(_balance, (ALIKE,)), _put_balance, applies=lambda plan, k: len(plan.turbos) > 1),
        Choice(NAMES["clock"], "seat", *_CLOCK, "deg"),
        Choice(NAMES["tilt"], "seat", *_TILT, "deg"),
        Choice(NAMES["drain-size"], "drain", _size("drain"), _own_and(_size("drain"), ("-8", "-10", "-12", "-16")), _put_drain_size),
        Choice(NAMES["drain-ends"], "drain", _ends, lambda plan, k: (_ends(plan, k),), _put_ends, applies=by_gravity),
        Choice(NAMES["route"], "drain", _route, _own_and(_route, (ANEW, STRAIGHT)), _put_route, applies=by_gravity),
        Choice(NAMES["entry-wall"], "entry", _wall, _own_and(_wall, tuple(WALLS)), _put_wall, applies=by_gravity),
        Choice(NAMES["entry-place"], "entry", _entry, lambda plan, k: (_entry(plan, k),), _put_entry, applies=by_gravity),
        Choice(NAMES["entry-means"], "entry", _means, _plain(tuple(MEANS)), _put_means, applies=by_gravity),
        Choice(NAMES["entry-thread"], "entry", lambda plan, k: plan.turbos[k].drain.fitting.port_thread, _threads, _put_thread, applies=by_gravity),
        Choice(NAMES["breather"], "breather", _breather, _breathers, _put_breather),
        Choice(NAMES["drain-by"], "scavenge", lambda plan, k: plan.turbos[k].drain_by, _plain(("gravity", "scavenge")), lambda plan, k, value: paths.put(plan, f"turbos.{k}.drain_by", value)),
        Choice(NAMES["pump"], "scavenge", _pump, _pumps, _put_pump, applies=_pumped),
    )
}  # fmt: skip
"""By name, in the order of the oil's way."""


def places(plan: Plan) -> tuple[tuple[Choice, int], ...]:
    """Return every choice that a plan has, with the turbo it is made for (0 for what all share)."""
    return tuple(
        (choice, k)
        for choice in CHOICES.values()
        for k in (range(1) if choice.known.shared else range(len(plan.turbos)))
        if choice.applies(plan, k)
    )
