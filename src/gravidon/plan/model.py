# SPDX-License-Identifier: GPL-3.0-or-later
"""The plan document. Numbers carry their unit in the key; positions are in vehicle axes.

Axes (ISO 8855): x forward, y left, z up. Origin: pan rail height, engine centreline, front face of
the pan. So a point 50 mm below the rail has z_mm = -50.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from gravidon.parts.shapes import SHAPES
from gravidon.parts.turbos import BEARINGS, COOLINGS, HOUSINGS, RINGS, WINDOW_LEAST, WINDOW_PLACES, Bearing
from gravidon.plan.choice import OneOf
from gravidon.plan.fields import Known, Model, Spec
from gravidon.plan.model_base import Name, Point, Text, ThreadName, known_threads
from gravidon.plan.model_drain import (
    Baffle,
    Breather,
    Drain,
    DrainPiece,
    EntryFitting,
    Joining,
    PanBox,
    Scavenge,
    Shape,
    Sump,
)
from gravidon.plan.model_freedom import Hold
from gravidon.plan.model_parts import Build, LineParts, OnHand, OwnPart, StepLog
from gravidon.plan.model_photo import Photo
from gravidon.plan.model_senders import CalPoint, Sender
from gravidon.plan.regimes import REGIMES, Regime
from gravidon.translate import tr

__all__ = [
    "Baffle",
    "Breather",
    "Build",
    "CalPoint",
    "Condition",
    "Drain",
    "DrainPiece",
    "Engine",
    "EntryFitting",
    "FeedLine",
    "Fitting",
    "GaugeReading",
    "Hold",
    "Hose",
    "HousingBolts",
    "Idea",
    "Joining",
    "LineParts",
    "Needs",
    "OilChoice",
    "OnHand",
    "OwnPart",
    "PanBox",
    "Photo",
    "Piece",
    "Plan",
    "Point",
    "Restrictor",
    "Scavenge",
    "ScreenPiece",
    "Sender",
    "Shape",
    "StepLog",
    "Sump",
    "Tap",
    "TapKind",
    "Turbo",
    "TurboLine",
    "Window",
]

FORMAT: Literal["gravidon-plan"] = "gravidon-plan"
FORMAT_VERSION = 6

TapKind = Literal["sender tee", "gallery plug", "temperature port", "sandwich plate", "filter block", "own"]


class OilChoice(Model):
    """The oil: a grade's typical values or a data sheet's."""

    grade: Name
    v40_mm2_s: Annotated[Known, Spec("viscosity at 40 °C", "mm2_s", 5, 1000)]
    v100_mm2_s: Annotated[Known, Spec("viscosity at 100 °C", "mm2_s", 2, 100)]
    density_15_kg_m3: Annotated[Known, Spec("density at 15 °C", "kg_m3", 700, 1100)]

    @model_validator(mode="after")
    def _thins(self) -> Self:
        if self.v100_mm2_s.value >= self.v40_mm2_s.value:
            raise PydanticCustomError("thins", tr("viscosity at 100 °C below that at 40 °C"))
        return self


class GaugeReading(Model):
    """One reading of the oil pressure gauge."""

    rpm: Annotated[float, Spec("engine speed", "rpm", 1, 20000)]
    oil_temperature_c: Annotated[float, Spec("oil temperature", "degc", -40, 180)]
    pressure_kpa: Annotated[float, Spec("gauge pressure", "kpa", 0, 2000)]
    where: Annotated[str, Field(max_length=80)] = ""
    basis: Literal["measured", "guess"] = "measured"


class Engine(Model):
    """The oil supply as the gauge knows it."""

    readings: Annotated[tuple[GaugeReading, ...], Field(min_length=1, max_length=200)]
    relief_kpa: Annotated[Known, Spec("relief pressure", "kpa", 50, 2000)]
    pump_cc_rev: Annotated[Known, Spec("pump delivery a turn (0: unknown)", "cc_rev", 0, 200)] = Known(
        value=0.0
    )
    front_up_deg: Annotated[Known, Spec("engine tilted, front up", "deg", -20, 20)] = Known(value=0.0)
    left_side_up_deg: Annotated[Known, Spec("engine tilted, left side up", "deg", -45, 45)] = Known(value=0.0)
    roll_deg_g: Annotated[Known, Spec("body roll in a corner, for each g", "deg", 0, 15)] = Known(value=0.0)
    lift_deg_g: Annotated[Known, Spec("nose lift and dive, for each g", "deg", 0, 10)] = Known(value=0.0)
    overrun_kpa: Annotated[Known, Spec("wheels' side with the throttle let go", "kpa_small", -20, 5)] = Known(
        value=-0.3, tolerance=0.3
    )


class Window(Model):
    """What the bearing wants, by its maker or by common practice."""

    idle_min_kpa: Annotated[Known, Spec("least inlet pressure, hot idle", "kpa", 0, 1000)]
    speed_min_kpa: Annotated[Known, Spec("least inlet pressure, at speed", "kpa", 0, 1000)]
    speed_max_kpa: Annotated[Known, Spec("most inlet pressure", "kpa", 10, 2000)]
    cold_max_kpa: Annotated[Known, Spec("most inlet pressure, cold", "kpa", 10, 2000)]
    outlet_max_c: Annotated[Known, Spec("hottest oil out", "degc", 80, 250)]
    at: Annotated[str, OneOf(WINDOW_PLACES)] = "at the bearing"
    least: Annotated[str, OneOf(WINDOW_LEAST)] = "pressure"
    idle_flow_l_min: Annotated[Known, Spec("least flow, hot idle", "l_min", 0, 20)] = Known(value=0.3)
    speed_flow_l_min: Annotated[Known, Spec("least flow, at speed", "l_min", 0, 20)] = Known(value=0.5)

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        if self.speed_min_kpa.value >= self.speed_max_kpa.value:
            raise PydanticCustomError("window", tr("the least inlet pressure below the most"))
        return self


class HousingBolts(Model):
    """The bolts that clamp the centre housing, counted clockwise from the turbine end, from straight down."""

    count: Annotated[int, Field(ge=0, le=12)] = 6
    first_deg: Annotated[float, Spec("first bolt, from straight down", "deg", -180, 180)] = 12.0
    circle_mm: Annotated[float, Spec("bolt circle", "mm", 20, 400)] = 96.0


class Turbo(Model):
    """The turbo: bearing, housing and where it sits.

    `drain_flange` is where the flange is with the housing level and the drain straight down; clock angle and
    shaft pitch turn the housing about the middle of its shaft, which lies `shaft_height_mm` above that.
    """

    label: Name
    bearing: Annotated[str, OneOf(BEARINGS)]
    frame: Annotated[str, OneOf(HOUSINGS)]
    reference_flow_l_min: Annotated[Known, Spec("oil flow at the reference drop", "l_min", 0.05, 20)]
    reference_drop_kpa: Annotated[Known, Spec("reference drop", "kpa_diff", 20, 1000)]
    film_share: Annotated[Known, Spec("film share of the drop", "share", 0.0, 0.95)]
    window: Window
    drain_flange: Point
    shaft_height_mm: Annotated[Known, Spec("shaft above drain flange", "mm", 10, 200)]
    shaft_heading_deg: Annotated[
        float, Spec("shaft heading (compressor end, 0 forward, 90 left)", "deg", -180, 180)
    ]
    seal_spacing_mm: Annotated[Known, Spec("seal to seal", "mm", 10, 300)]
    seal_diameter_mm: Annotated[Known, Spec("seal bore", "bore", 4, 80)]
    cavity_ml: Annotated[Known, Spec("drain cavity below the seals", "ml", 1, 1000)]
    rings: Annotated[str, OneOf(RINGS)] = "single"
    ring_gap_mm2: Annotated[Known, Spec("gap past the rings, both ends", "mm2", 0.05, 50)] = Known(
        value=1.0, tolerance=0.7
    )
    clock_deg: Annotated[Known, Spec("clock angle of the drain", "deg", -180, 180)] = Known(value=0.0)
    pitch_deg: Annotated[Known, Spec("shaft pitch (compressor end up)", "deg", -90, 90)] = Known(value=0.0)
    clock_max_deg: Annotated[Known, Spec("most clock angle", "deg", 0, 180)] = Known(value=30.0)
    tilt_max_deg: Annotated[Known, Spec("most shaft tilt", "deg", 0, 90)] = Known(value=10.0)
    cooling: Annotated[str, OneOf(COOLINGS)] = "oil only"
    bolts: HousingBolts = HousingBolts()

    @property
    def kind(self) -> Bearing:
        """The bearing's record."""
        return BEARINGS[self.bearing]


class Tap(Model):
    """One place where the feed could be taken from the engine."""

    label: Name
    kind: TapKind = "own"
    offset_kpa: Annotated[Known, Spec("pressure against the gauge's place", "kpa_diff", -300, 300)]
    filtered: bool = True
    keeps_sender: bool = True
    port_thread: ThreadName
    fitting_thread: ThreadName
    route_mm: Annotated[Known, Spec("hose length from here", "run", 50, 8000)] = Known(value=900.0)
    wrench_mm: Annotated[Known, Spec("room to swing a wrench", "run", 0, 1000)] = Known(value=100.0)
    hot_mm: Annotated[Known, Spec("distance to hot parts", "run", 0, 2000)] = Known(value=150.0)
    protrusion_mm: Annotated[Known, Spec("fitting longer than the plug by", "mm", 0, 60)] = Known(value=0.0)
    gallery_bore_mm: Annotated[Known, Spec("gallery bore", "mm", 3, 60)] = Known(value=12.0)
    place: Point | None = None
    """Where the hose starts, in the car; None: not measured."""

    @model_validator(mode="after")
    def _threads(self) -> Self:
        known_threads(self.port_thread, self.fitting_thread)
        return self


class Hose(Model):
    """A length of feed hose."""

    kind: Literal["hose"] = "hose"
    bore_mm: Annotated[float, Spec("feed hose bore", "bore", 1.5, 25)]
    length_mm: Annotated[Known, Spec("feed hose length", "run", 20, 8000)]


class Fitting(Model):
    """A hose end, elbow, tee or adapter."""

    kind: Literal["fitting"] = "fitting"
    shape: Annotated[str, OneOf(SHAPES)]
    bore_mm: Annotated[float, Spec("fitting bore", "bore", 1.0, 25)]
    height_mm: Annotated[float, Spec("fitting height", "mm", 0, 200)] = 0.0


class ScreenPiece(Model):
    """An in-line screen, rated on 10W-40 at 100 °C."""

    kind: Literal["screen"] = "screen"
    bore_mm: Annotated[float, Spec("screen bore", "bore", 1.0, 25)] = 5.0
    height_mm: Annotated[float, Spec("screen height", "mm", 0, 200)] = 0.0
    rated_drop_kpa: Annotated[Known, Spec("screen drop, clean", "kpa_diff", 0.01, 200)]
    rated_flow_l_min: Annotated[Known, Spec("at a flow of", "l_min", 0.1, 50)]
    clogged: Annotated[float, Spec("screen clogged", "share", 0.0, 0.98)] = 0.0


Piece = Annotated[Hose | Fitting | ScreenPiece, Field(discriminator="kind")]


class FeedLine(Model):
    """The feed as a chain of pieces in the order the oil meets them, and the room over the turbo's inlet."""

    pieces: Annotated[tuple[Piece, ...], Field(min_length=1, max_length=20)]
    bonnet_mm: Annotated[Known, Spec("room over the oil inlet", "run", 0, 1000)] = Known(value=120.0)
    points: Annotated[tuple[Point, ...], Field(max_length=12)] = ()
    """Where the feed bends on its way from the tap's place; empty: straight, or not laid out."""

    @model_validator(mode="after")
    def _has_hose(self) -> Self:
        if not any(isinstance(p, Hose) for p in self.pieces):
            raise PydanticCustomError("hose", tr("at least one hose in the feed line"))
        return self


class Restrictor(Model):
    """A metering hole; not fitted means the full bore of the line."""

    fitted: bool
    bore_mm: Annotated[float, Spec("restrictor bore", "bore", 0.2, 12)]
    length_mm: Annotated[Known, Spec("restrictor length", "bore", 0.0, 50)]
    tolerance_mm: Annotated[float, Spec("tolerance of the hole", "bore", 0.0, 0.5)] = 0.03


class Condition(Model):
    """One operating condition of engine and car."""

    name: Name
    regime: Annotated[str, OneOf(REGIMES)]
    rpm: Annotated[float, Spec("engine speed", "rpm", 0, 20000)]
    oil_temperature_c: Annotated[float, Spec("oil temperature", "degc", -40, 180)]
    load: Annotated[float, Spec("load (0 to 1: full)", "share", 0, 2)] = 0.0
    heat_kw: Annotated[float, Spec("heat into the oil, own figure (0: by load)", "kw", 0, 20)] = 0.0
    air_fraction: Annotated[float, Spec("air in the drain oil", "share", 0, 0.7)]
    oil_up_l: Annotated[float, Spec("oil up in the engine", "l", 0, 10)]
    forward_g: Annotated[float, Spec("acceleration forward", "g", -2, 2)] = 0.0
    left_g: Annotated[float, Spec("acceleration to the left", "g", -2, 2)] = 0.0
    nose_up_deg: Annotated[float, Spec("nose up", "deg", -30, 30)] = 0.0
    left_side_up_deg: Annotated[float, Spec("left side up", "deg", -30, 30)] = 0.0
    crankcase_kpa: Annotated[float, Spec("crankcase pressure, typed", "kpa_small", -10, 50)] = 0.0
    blow_by_share: Annotated[float, Spec("blow-by over that at full load", "share", 0, 3)] = 0.3
    intake_kpa: Annotated[float, Spec("intake manifold pressure", "kpa", -100, 400)] = 0.0
    wheel_side_kpa: Annotated[float, Spec("lowest wheel-side pressure", "kpa_small", -50, 400)] = 0.0
    duration_s: Annotated[float, Spec("lasts (0: for good)", "s", 0, 3600)] = 0.0

    @property
    def kind(self) -> Regime:
        """The regime's record."""
        return REGIMES[self.regime]

    @model_validator(mode="after")
    def _off_stands_still(self) -> Self:
        if self.kind.turning != (self.rpm > 0):
            raise PydanticCustomError("regime", tr("rpm 0 exactly when the regime is 'off'"))
        return self


class Needs(Model):
    """Limits of the gravity side; common practice unless changed."""

    freeboard_mm: Annotated[Known, Spec("freeboard needed", "mm", 0, 100)]
    prime_s: Annotated[Known, Spec("oil at the turbo within", "s", 0.5, 60)] = Known(value=8.0)
    gallery_drop: Annotated[
        Known, Spec("most the turbo may take of gallery pressure", "share", 0.01, 0.9)
    ] = Known(value=0.15)
    gallery_open: Annotated[Known, Spec("least gallery area left by the fitting", "share", 0.1, 1.0)] = Known(
        value=0.7
    )
    split_even: Annotated[Known, Spec("flow split between turbos within", "share", 0.01, 1.0)] = Known(
        value=0.2
    )
    wrench_mm: Annotated[Known, Spec("room a wrench needs", "run", 0, 500)] = Known(value=60.0)
    hot_mm: Annotated[Known, Spec("distance hot parts need", "run", 0, 500)] = Known(value=100.0)
    reserve_min: Annotated[Known, Spec("reserve of the drain, at least", "times", 1.0, 8.0)] = Known(
        value=1.5
    )
    at_seal_ml: Annotated[Known, Spec("oil at a seal in passing, at most", "ml", 0.1, 50)] = Known(value=5.0)
    sealed_bores: Annotated[Known, Spec("hose running full, most (bores)", "count", 1, 200)] = Known(
        value=10.0
    )
    fill_max: Annotated[Known, Spec("deepest fill of the drain", "share", 0.3, 1.0)]
    angle_max_deg: Annotated[Known, Spec("drain off upright, at most", "deg", 5, 90)] = Known(value=30.0)
    chafe_mm: Annotated[Known, Spec("distance chafing parts need", "mm", 0, 200)] = Known(value=12.0)
    spanner_mm: Annotated[Known, Spec("room round the hose end for a spanner", "mm", 5, 200)] = Known(
        value=26.0
    )
    drill_mm: Annotated[Known, Spec("room outside for the drill", "run", 20, 600)] = Known(value=150.0)
    behind_mm: Annotated[Known, Spec("room behind the wall", "mm", 2, 100)] = Known(value=14.0)
    threads_min: Annotated[Known, Spec("full threads a wall must hold", "count", 1, 20)] = Known(value=4.0)
    crankcase_max_kpa: Annotated[Known, Spec("most crankcase pressure", "kpa_small", 0.05, 20)] = Known(
        value=1.0
    )
    vacuum_max_kpa: Annotated[Known, Spec("most crankcase vacuum", "kpa_small", 0.5, 60)] = Known(value=5.0)
    pump_margin: Annotated[Known, Spec("pump over its duty, at least", "share", 1.0, 4.0)] = Known(value=1.5)
    volts_min: Annotated[Known, Spec("share of the supply's volts at the pump", "share", 0.5, 1.0)] = Known(
        value=0.95
    )


class TurboLine(Model):
    """One turbo with its own branch of the feed and its own drain."""

    turbo: Turbo
    feed: FeedLine
    restrictor: Restrictor
    flange_hole: Restrictor = Restrictor(fitted=False, bore_mm=4.0, length_mm=Known(value=3.0))
    drain: Drain
    drain_by: Literal["gravity", "scavenge"] = "gravity"
    scavenge: Scavenge = Scavenge()
    parts: LineParts = LineParts()

    @property
    def holes(self) -> tuple[tuple[str, Restrictor], ...]:
        """The holes that meter, by name, in the order the oil meets them."""
        both = ((tr("restrictor"), self.restrictor), (tr("hole in the inlet flange"), self.flange_hole))
        return tuple((name, hole) for name, hole in both if hole.fitted)


class Idea(Model):
    """A state of the plan kept under a name; `after` names the idea it was made from (empty: none)."""

    name: Name
    note: Text = ""
    after: Annotated[str, Field(max_length=200)] = ""
    on_sheet: bool = False
    """Whether the shop sheet carries its comparison with the plan."""
    state: Plan


class Plan(Model):
    """Everything a plan file holds."""

    format: Literal["gravidon-plan"] = FORMAT
    format_version: Annotated[int, Field(ge=1)] = FORMAT_VERSION
    name: Name
    note: Text = ""
    seen: Annotated[tuple[Annotated[str, Field(max_length=120)], ...], Field(max_length=2000)] | None = None
    """Paths of plain values (threads, places, bores, the pan) that the builder has typed; None: all of them count as looked at."""
    use: Literal["street", "circuit", "drag"] = "street"
    oil: OilChoice
    engine: Engine
    taps: Annotated[tuple[Tap, ...], Field(min_length=1, max_length=12)]
    tap: Annotated[int, Field(ge=0, description="which of the taps is chosen, counted from 0")] = 0
    trunk: Annotated[tuple[Piece, ...], Field(max_length=12)] = ()
    turbos: Annotated[tuple[TurboLine, ...], Field(min_length=1, max_length=3)]
    sump: Sump
    shapes: Annotated[tuple[Shape, ...], Field(max_length=30)] = ()
    breather: Breather = Breather()
    drawer: Annotated[tuple[OnHand, ...], Field(max_length=500)] = ()
    own_parts: Annotated[tuple[OwnPart, ...], Field(max_length=500)] = ()
    build: Build = Build()
    holds: Annotated[tuple[Hold, ...], Field(max_length=120)] = ()
    ideas: Annotated[tuple[Idea, ...], Field(max_length=24)] = ()
    photos: Annotated[tuple[Photo, ...], Field(max_length=7)] = ()
    senders: Annotated[tuple[Sender, ...], Field(max_length=6)] = ()
    needs: Needs
    conditions: Annotated[tuple[Condition, ...], Field(min_length=1, max_length=40)]

    @model_validator(mode="after")
    def _distinct_conditions(self) -> Self:
        names = [c.name for c in self.conditions]
        if len(set(names)) != len(names):
            raise PydanticCustomError("conditions", tr("every condition to have its own name"))
        return self

    @model_validator(mode="after")
    def _holds_and_ideas(self) -> Self:
        keys = [h.key for h in self.holds]
        if len(set(keys)) != len(keys):
            raise PydanticCustomError("holds", tr("every choice to be held once"))
        names = [i.name for i in self.ideas]
        if len(set(names)) != len(names):
            raise PydanticCustomError("ideas", tr("every idea to have its own name"))
        views = [p.view for p in self.photos]
        if len(set(views)) != len(views):
            raise PydanticCustomError("photos", tr("one photo under a view at most"))
        if any(i.state.ideas for i in self.ideas):
            raise PydanticCustomError("ideas", tr("no ideas within an idea"))
        if any(i.after not in ("", *names) for i in self.ideas):
            raise PydanticCustomError("ideas", tr("every idea to come after one that is kept"))
        return self

    @model_validator(mode="after")
    def _senders_sit_somewhere(self) -> Self:
        if any(s.at == "inlet" and s.turbo >= len(self.turbos) for s in self.senders):
            raise PydanticCustomError("senders", tr("every sender at the inlet of a turbo there is"))
        return self

    @model_validator(mode="after")
    def _joins_exist(self) -> Self:
        for k, it in enumerate(self.turbos):
            joins = it.drain.joins
            if joins is None:
                continue
            if joins.turbo == k or joins.turbo >= len(self.turbos):
                raise PydanticCustomError("joins", tr("a drain to join another turbo's drain"))
            other = self.turbos[joins.turbo]
            trunk = other.drain
            if other.drain_by == "scavenge":
                continue  # into its pot
            if trunk.joins is not None:
                raise PydanticCustomError(
                    "joins", tr("the drain that is joined to run to the pan or a pot itself")
                )
            if joins.bend >= len(trunk.points):
                raise PydanticCustomError(
                    "joins", tr("the joined drain to have {bend} bends"), {"bend": joins.bend + 1}
                )
        return self

    @model_validator(mode="after")
    def _tap_exists(self) -> Self:
        if self.tap >= len(self.taps):
            raise PydanticCustomError(
                "tap", tr("tap to be one of the {count} taps"), {"count": len(self.taps)}
            )
        return self


Idea.model_rebuild()
Plan.model_rebuild()
