# SPDX-License-Identifier: GPL-3.0-or-later
"""A first plan from what a builder knows; everything else starts as a marked guess."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal, TypeVar

from gravidon.parts import dash, oils, turbos
from gravidon.parts.entry_means import MEANS
from gravidon.plan import model, paths
from gravidon.plan.conditions import standard_conditions
from gravidon.plan.fields import Known, Model
from gravidon.translate import N_, tr

ModelT = TypeVar("ModelT", bound=Model)


Side = Literal["right", "left", "front", "rear"]
OUTWARD: dict[str, tuple[float, float]] = {
    "right": (0.0, -1.0),
    "left": (0.0, 1.0),
    "front": (1.0, 0.0),
    "rear": (-1.0, 0.0),
}
"""By side: the way out from the pan, forward and to the left."""
TAPS: dict[str, tuple[str, str]] = {
    "sender tee": (N_("tee at the pressure sender"), "1/8 NPT"),
    "gallery plug": (N_("gallery plug in the block"), "1/4 NPT"),
    "temperature port": (N_("oil temperature port"), "M14x1.5"),
    "sandwich plate": (N_("sandwich plate under the filter"), "1/8 NPT"),
}
"""Where a feed is usually taken: its words, and a thread found there until somebody looks; common practice, no source."""


@dataclass(frozen=True)
class Answers:
    """What a builder knows when he begins; whatever he does not stays a guess.

    Fields: oil grade; bearing; frame; the two hot gauge readings with the speed of the second, and whether they were read
    (`gauge`); the drain's fall, and the side of the engine that the turbo sits on; four tape measurements (None: not
    taken): the drain flange over the pan's rail, out from the pan's wall, back from the pan's front, and the feed's way from the tap to the
    inlet; the pan's length, width and depth, its fill, its wall and metal; things in the way; ids of parts that are owned, once for each piece, or with
    how many, or metres of hose (`amounts`).

    The readings' engine speed and oil temperature, and which of the two pressures was read; how the turbo is cooled (None: as is usual
    for its bearing) and whether anybody knows (`cooling_known`); how many turbos; where the feed is taken and the thread there (None: not looked at). `side` is the engine's side that the turbo sits on;
    "front" and "rear" for an engine that lies across the car.
    """

    grade: str = "10W-40"
    bearing: str = "journal"
    frame: str = "medium"
    idle_kpa: float = 110.0
    speed_kpa: float = 380.0
    fall_mm: float = 300.0
    speed_rpm: float = 3000.0
    side: Side = "right"
    gauge: bool = True
    over_rail_mm: float | None = None
    out_mm: float | None = None
    back_mm: float | None = None
    feed_mm: float | None = None
    pan_long_mm: float | None = None
    pan_wide_mm: float | None = None
    pan_deep_mm: float | None = None
    fill_l: float | None = None
    wall_mm: float | None = None
    metal: Literal["steel", "aluminium"] = "steel"
    things: tuple[ThingInTheWay, ...] = ()
    owned: tuple[str, ...] = ()
    amounts: tuple[tuple[str, float], ...] = ()
    idle_rpm: float = 850.0
    idle_oil_c: float = 100.0
    speed_oil_c: float = 100.0
    idle_read: bool = True
    speed_read: bool = True
    cooling: str | None = None
    cooling_known: bool = True
    turbos: int = 1
    tap: model.TapKind = "sender tee"
    tap_thread: str | None = None

    @property
    def outward(self) -> tuple[float, float]:
        """The way out from the pan on the turbo's side: forward, to the left."""
        return OUTWARD[self.side]

    @property
    def pan_mm(self) -> tuple[float, float, float]:
        """The pan's length, width and depth [mm], usual ones where they were not measured."""
        given = (self.pan_long_mm, self.pan_wide_mm, self.pan_deep_mm)
        long, wide, deep = (u if g is None else g for g, u in zip(given, USUAL_PAN_MM, strict=True))
        return long, wide, deep


@dataclass(frozen=True)
class ThingInTheWay:
    """A thing beside the pan as a tape finds it: name, kind, its near side out from the pan's wall, its lowest point over the rail,
    how thick it is (outward) and how high [mm]; it runs along the whole pan."""

    label: str
    kind: str
    out_mm: float
    over_rail_mm: float
    thick_mm: float
    high_mm: float

    def shape(self, pan_mm: tuple[float, float, float], outward: tuple[float, float]) -> model.Shape:
        """Return it as a box beside a pan of a length, width and depth, out from it forward or to the left.

        Raises: a validation error for a kind or a size that cannot be.
        """
        long, wide, _ = pan_mm
        forward, left = outward
        if left:
            near = 0.5 * wide + self.out_mm
            x, y = -long, near if left > 0 else -near - self.thick_mm
            length, width = long, self.thick_mm
        else:
            x = self.out_mm if forward > 0 else -long - self.out_mm - self.thick_mm
            y = -0.5 * wide
            length, width = self.thick_mm, wide
        return model.Shape(
            label=self.label,
            kind=self.kind,
            corner=model.Point(x_mm=x, y_mm=y, z_mm=self.over_rail_mm),
            length_mm=length,
            width_mm=width,
            height_mm=self.high_mm,
        )


USUAL_PAN_MM = (400.0, 260.0, 115.0)
"""[mm] length, width and depth of a pan that nobody measured; common practice, no source."""
USUAL_OUT_MM, USUAL_BACK_MM, USUAL_FEED_MM, USUAL_FILL_L = 130.0, 180.0, 900.0, 4.5
"""[mm] flange from the pan's wall, from its front, feed hose; [L] fill, where nobody measured; common practice, no source."""
ENTRY_UNDER_MM, EDGE_MM = 36.0, 50.0
"""[mm] a first entry under the rail (as high as a spanner gets round a -10 beside a rail bolt), and off the pan's ends; common practice,
no source."""


USUAL_ROLL_DEG_G, USUAL_LIFT_DEG_G = 4.0, 2.0
"""[°] that a road car's body rolls and lifts or dives for each g; common practice, no source."""


def guess(value: float) -> Known:
    """Return a value nobody measured."""
    return Known(value=value, basis="guess")


def oil_choice(grade: str) -> model.OilChoice:
    """Return the catalogue's typical values of a grade.

    Raises: KeyError for a grade not in the catalogue.
    """
    row = oils.grades()[grade]
    return model.OilChoice(
        grade=grade,
        v40_mm2_s=guess(row.v40_mm2_s),
        v100_mm2_s=guess(row.v100_mm2_s),
        density_15_kg_m3=guess(row.density_15_kg_m3),
    )


def window_for(kind: str, frame: str) -> model.Window:
    """Return the usual window of a bearing kind and frame, as guesses (common practice, no source)."""
    usual = turbos.BEARINGS[kind].window
    flow = turbos.reference_flow_l_min(kind, frame)
    return model.Window(
        idle_min_kpa=guess(round(usual.idle_min_kpa, 1)),
        speed_min_kpa=guess(round(usual.speed_min_kpa, 1)),
        speed_max_kpa=guess(round(usual.speed_max_kpa, 1)),
        cold_max_kpa=guess(round(usual.cold_max_kpa, 1)),
        outlet_max_c=guess(usual.outlet_max_c),
        at=turbos.BEARINGS[kind].window_at,
        least=turbos.BEARINGS[kind].window_least,
        idle_flow_l_min=guess(round(flow * turbos.FLOW_IDLE_SHARE, 2)),
        speed_flow_l_min=guess(round(flow * turbos.FLOW_SPEED_SHARE, 2)),
    )


def turbo_for(
    label: str, kind: str, frame: str, flange: model.Point, cooling: str | None = None
) -> model.Turbo:
    """Return a turbo with the usual figures of its kind and size, as guesses; cooled as is usual for it where nobody says how."""
    size = turbos.HOUSINGS[frame]
    return model.Turbo(
        label=label,
        bearing=kind,
        frame=frame,
        reference_flow_l_min=guess(round(turbos.reference_flow_l_min(kind, frame), 3)),
        reference_drop_kpa=guess(round(turbos.REFERENCE_DROP_KPA, 1)),
        film_share=guess(turbos.BEARINGS[kind].film_share),
        window=window_for(kind, frame),
        drain_flange=flange,
        shaft_height_mm=guess(size.shaft_height_mm),
        shaft_heading_deg=0.0,
        seal_spacing_mm=guess(size.seal_spacing_mm),
        seal_diameter_mm=guess(size.seal_diameter_mm),
        cavity_ml=guess(size.cavity_ml),
        tilt_max_deg=guess(turbos.tilt_limit_deg(kind, "single")),
        cooling=cooling or turbos.BEARINGS[kind].cooling,
    )


def _told(value: float | None, usual: float) -> Known:
    """Return a measured value, or the usual one as a guess."""
    return guess(usual) if value is None else Known(value=value, basis="measured")


def usual_feed(length_mm: Known) -> model.FeedLine:
    """Return a -4 line with a tee at the tap, a 90° and a 45° end (heights: common practice, no source)."""
    bore = round(dash.hose_bore_mm(4), 2)
    end = {"kind": "fitting", "bore_mm": dash.END_BORE_MM[4]}
    return model.FeedLine.model_validate(
        {
            "pieces": (
                {**end, "shape": "tee, branch"},
                {"kind": "hose", "bore_mm": bore, "length_mm": length_mm},
                {**end, "shape": "45°", "height_mm": 22.0},
                {**end, "shape": "90°", "height_mm": 28.0},
            )
        }
    )


OUTLETS = {"large": "flange|large two-bolt 52 mm|"}
"""The drain flange of a housing where it is another than the usual one; common practice, no source."""


def drain_dash(frame: str) -> int:
    """Return the usual dash size of a housing's drain: -10, for a large one -12; common practice, no source.

    >>> drain_dash("large")
    12
    """
    return 12 if frame == "large" else 10


def usual_drain(
    flange: model.Point, entry: model.Point, size: int = 10, outward: tuple[float, float] | None = None
) -> model.Drain:
    """Return a drain of a dash size with one bend, into a bung on the side of the pan nearer the turbo (or in the wall whose way out is given), with the
    bores of its usual parts."""
    bung = MEANS["weld bung"]
    forward, left = outward or (0.0, -1.0 if flange.y_mm < 0 else 1.0)

    def bent(high: float, low: float, out: float) -> float:
        share = 0.42 if out else 0.5
        return round(high - share * (high - low - 28.0 * out), 1)

    bend = model.Point(
        x_mm=bent(flange.x_mm, entry.x_mm, forward),
        y_mm=bent(flange.y_mm, entry.y_mm, left),
        z_mm=round(entry.z_mm + 0.5 * (flange.z_mm - entry.z_mm), 1),
    )
    return model.Drain(
        flange_bore_mm=dash.END_BORE_MM[size],
        flange_length_mm=36.0,
        hose_bore_mm=round(dash.hose_bore_mm(size), 2),
        min_bend_mm=guess(dash.LEAST_BEND_MM[size]),
        points=(bend,),
        entry=entry,
        fitting=model.EntryFitting(
            label=tr("weld bung with -{size} flare").format(size=size),
            bore_mm=dash.END_BORE_MM[size],
            length_mm=30.0,
            heading_deg=90.0 * left if left else 0.0 if forward > 0 else 180.0,
            rise_deg=20.0,
            port_thread=bung.threads[size],
            fitting_thread=bung.threads[size],
        ),
    )


def added_turbo(plan: model.Plan) -> model.Plan:
    """Return the plan with one more turbo: a mirror of the last one's place, fed from a tee.

    Raises: InputError if there are three already.
    """
    last = plan.turbos[-1]
    here = last.turbo.drain_flange
    there = here.model_copy(update={"y_mm": -here.y_mm if abs(here.y_mm) > 50 else here.y_mm + 250.0})
    entry = last.drain.entry
    new = last.model_copy(
        update={
            "turbo": last.turbo.model_copy(
                update={
                    "label": tr("turbo {count}").format(count=len(plan.turbos) + 1),
                    "drain_flange": there,
                }
            ),
            "drain": usual_drain(
                there, entry.model_copy(update={"y_mm": -entry.y_mm}), drain_dash(last.turbo.frame)
            ),
        }
    )
    return paths.put(plan, "turbos", (*plan.turbos, new))


OIL_ONLY_WIDER = 1.4
"""[-] by which a ball bearing's first hole is wider where oil alone cools it: more oil carries its heat; common practice, no source."""


def first_hole_mm(a: Answers) -> float:
    """Return the bore of a first restrictor [mm]: 1 mm for a medium ball bearing with water, by the flow of its frame."""
    bore = math.sqrt(turbos.HOUSINGS[a.frame].flow_scale)
    kind = turbos.BEARINGS[a.bearing]
    by_oil = (a.cooling or kind.cooling) == turbos.WORST_COOLING
    return round(bore * (OIL_ONLY_WIDER if by_oil and kind.restrictor_usual else 1.0), 2)


def new_plan(name: str, answers: Answers) -> model.Plan:
    """Return a first plan: full -4 feed, -10 drain into the pan's side, all guesses marked; what was measured counts so.

    Raises: InputError or a validation error if an answer is out of bounds.
    """
    a = answers
    forward, left = a.outward
    long, wide, deep = pan = a.pan_mm
    back = USUAL_BACK_MM if a.back_mm is None else a.back_mm
    out = USUAL_OUT_MM if a.out_mm is None else a.out_mm
    edge = min(EDGE_MM, 0.3 * long)
    along = round(-min(max(back, edge), long - edge), 1)
    wall_x = along if left else 0.0 if forward > 0 else -long
    entry = model.Point(x_mm=wall_x, y_mm=0.5 * wide * left, z_mm=-min(ENTRY_UNDER_MM, 0.5 * deep))
    over = entry.z_mm + a.fall_mm if a.over_rail_mm is None else a.over_rail_mm
    flange = model.Point(
        x_mm=-back if left else wall_x + out * forward, y_mm=(0.5 * wide + out) * left, z_mm=over
    )
    readings = tuple(
        model.GaugeReading(
            rpm=rpm,
            oil_temperature_c=oil_c,
            pressure_kpa=kpa,
            where="dash gauge" if a.gauge and read else tr("usual figures, no gauge yet"),
            basis="measured" if a.gauge and read else "guess",
        )
        for rpm, oil_c, kpa, read in (
            (a.idle_rpm, a.idle_oil_c, a.idle_kpa, a.idle_read),
            (a.speed_rpm, a.speed_oil_c, a.speed_kpa, a.speed_read),
        )
    )
    seen = []
    if None not in (a.over_rail_mm, a.out_mm) and (a.back_mm is not None or forward):
        seen.append("turbos.0.turbo.drain_flange")
    if None not in (a.pan_long_mm, a.pan_wide_mm, a.pan_deep_mm):
        seen.append("sump.boxes")
    if a.cooling is not None and a.cooling_known:
        seen.append("turbos.0.turbo.cooling")
    if a.tap_thread is not None:
        seen.append("taps.0.port_thread")
    tap_words, usual_thread = TAPS[a.tap]
    thread = a.tap_thread or usual_thread
    owned = [(part, float(a.owned.count(part))) for part in dict.fromkeys(a.owned)] + list(a.amounts)
    usual = turbos.BEARINGS[answers.bearing]
    plan = model.Plan(
        name=name,
        seen=tuple(seen),
        oil=oil_choice(answers.grade),
        engine=model.Engine(
            readings=readings,
            relief_kpa=guess(max(480.0, round(answers.speed_kpa * 1.1))),
            roll_deg_g=guess(USUAL_ROLL_DEG_G),
            lift_deg_g=guess(USUAL_LIFT_DEG_G),
        ),
        taps=(
            model.Tap(
                label=tr(tap_words),
                kind=a.tap,
                offset_kpa=guess(0.0),
                port_thread=thread,
                fitting_thread=thread,
                keeps_sender=a.tap in ("sender tee", "temperature port"),
                route_mm=_told(a.feed_mm, USUAL_FEED_MM),
            ),
        ),
        turbos=(
            model.TurboLine(
                turbo=turbo_for("turbo", answers.bearing, answers.frame, flange, a.cooling),
                feed=usual_feed(_told(a.feed_mm, USUAL_FEED_MM)),
                restrictor=model.Restrictor(
                    fitted=usual.restrictor_usual,
                    bore_mm=first_hole_mm(answers),
                    length_mm=guess(2.0),
                ),
                drain=usual_drain(flange, entry, drain_dash(answers.frame), a.outward),
                parts=model.LineParts(outlet=OUTLETS.get(answers.frame, model.LineParts().outlet)),
            ),
        ),
        sump=model.Sump(
            boxes=(
                model.PanBox(
                    corner=model.Point(x_mm=-long, y_mm=-0.5 * wide, z_mm=-deep),
                    length_mm=long,
                    width_mm=wide,
                    depth_mm=deep,
                ),
            ),
            fill_l=_told(a.fill_l, USUAL_FILL_L),
            windage_mm=guess(8.0),
            wall_mm=_told(a.wall_mm, 2.0),
            metal=a.metal,
        ),
        shapes=tuple(t.shape(pan, a.outward) for t in a.things),
        drawer=tuple(model.OnHand(part=part, count=count) for part, count in owned),
        needs=model.Needs(freeboard_mm=guess(10.0), fill_max=guess(0.75)),
        conditions=standard_conditions(),
    )
    for _ in range(a.turbos - 1):
        plan = added_turbo(plan)
    return plan


def with_grade(plan: model.Plan, grade: str) -> model.Plan:
    """Return the plan with another oil grade's typical values.

    Raises: KeyError for a grade not in the catalogue.
    """
    return paths.put(plan, "oil", oil_choice(grade))


def with_turbo_kind(plan: model.Plan, kind: str, frame: str, index: int = 0) -> model.Plan:
    """Return the plan with another bearing kind or frame; values somebody measured stay."""
    turbo = plan.turbos[index].turbo
    usual = turbo_for(turbo.label, kind, frame, turbo.drain_flange).model_copy(
        update={
            "tilt_max_deg": guess(turbos.tilt_limit_deg(kind, turbo.rings)),
            "pitch_deg": turbo.pitch_deg,
            "clock_deg": turbo.clock_deg,
        }
    )
    turbo = _guesses_replaced(turbo.model_copy(update={"bearing": kind, "frame": frame}), usual)
    window = _guesses_replaced(turbo.window, usual.window).model_copy(
        update={"at": usual.window.at, "least": usual.window.least}
    )
    turbo = turbo.model_copy(update={"window": window})
    return paths.put(plan, f"turbos.{index}.turbo", turbo)


def _guesses_replaced(mine: ModelT, usual: ModelT) -> ModelT:
    changes = {
        name: getattr(usual, name)
        for name in type(mine).model_fields
        if isinstance(getattr(mine, name), Known) and getattr(mine, name).basis == "guess"
    }
    return mine.model_copy(update=changes)


def with_rings(plan: model.Plan, rings: str, index: int = 0) -> model.Plan:
    """Return the plan with single or twin piston rings; a guessed tilt limit follows."""
    path = f"turbos.{index}.turbo"
    turbo = plan.turbos[index].turbo
    plan = paths.put(plan, f"{path}.rings", rings)
    if turbo.tilt_max_deg.basis == "guess":
        plan = paths.put(plan, f"{path}.tilt_max_deg", guess(turbos.tilt_limit_deg(turbo.bearing, rings)))
    return plan
