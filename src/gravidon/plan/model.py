"""The plan document. Numbers carry their unit in the key; positions are in vehicle axes.

Axes (ISO 8855): x forward, y left, z up. Origin: pan rail height, engine centreline, front face of
the pan. So a point 50 mm below the rail has z_mm = -50.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from gravidon.parts.catalogue import KINDS
from gravidon.parts.ends import end_from, thread_of
from gravidon.parts.threads import THREADS
from gravidon.plan.fields import Known, Model, Spec

FORMAT: Literal["gravidon-plan"] = "gravidon-plan"
FORMAT_VERSION = 3

Name = Annotated[str, Field(min_length=1, max_length=80)]
Text = Annotated[str, Field(max_length=4000)]
ThreadName = Annotated[str, Field(json_schema_extra={"enum": sorted(THREADS)})]
Regime = Literal["cold", "idle", "speed", "off"]
TapKind = Literal["sender tee", "gallery plug", "temperature port", "sandwich plate", "filter block", "own"]


class Point(Model):
    """A position in vehicle axes."""

    x_mm: Annotated[float, Spec("x (forward)", "run", -6000, 6000)]
    y_mm: Annotated[float, Spec("y (left)", "run", -3000, 3000)]
    z_mm: Annotated[float, Spec("z (up from the pan rail)", "run", -1500, 2500)]


class OilChoice(Model):
    """The oil: a grade's typical values or a data sheet's."""

    grade: Name
    v40_mm2_s: Annotated[Known, Spec("viscosity at 40 °C", "mm2_s", 5, 1000)]
    v100_mm2_s: Annotated[Known, Spec("viscosity at 100 °C", "mm2_s", 2, 100)]
    density_15_kg_m3: Annotated[Known, Spec("density at 15 °C", "kg_m3", 700, 1100)]

    @model_validator(mode="after")
    def _thins(self) -> Self:
        if self.v100_mm2_s.value >= self.v40_mm2_s.value:
            raise PydanticCustomError("thins", "expected viscosity at 100 °C below that at 40 °C")
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
    pump_cc_rev: Annotated[Known, Spec("pump delivery per engine turn (0: unknown)", "cc_rev", 0, 200)] = (
        Known(value=0.0)
    )
    front_up_deg: Annotated[Known, Spec("engine tilted, front up", "deg", -20, 20)] = Known(value=0.0)
    left_side_up_deg: Annotated[Known, Spec("engine tilted, left side up", "deg", -45, 45)] = Known(value=0.0)


class Window(Model):
    """What the bearing wants, by its maker or by common practice."""

    idle_min_kpa: Annotated[Known, Spec("least inlet pressure, hot idle", "kpa", 0, 1000)]
    speed_min_kpa: Annotated[Known, Spec("least inlet pressure, at speed", "kpa", 0, 1000)]
    speed_max_kpa: Annotated[Known, Spec("most inlet pressure", "kpa", 10, 2000)]
    cold_max_kpa: Annotated[Known, Spec("most inlet pressure, cold", "kpa", 10, 2000)]
    outlet_max_c: Annotated[Known, Spec("hottest oil out", "degc", 80, 250)]

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        if self.speed_min_kpa.value >= self.speed_max_kpa.value:
            raise PydanticCustomError("window", "expected the least inlet pressure below the most")
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
    bearing: Literal["journal", "ball"]
    frame: Literal["small", "medium", "large"]
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
    rings: Literal["single", "twin"] = "single"
    clock_deg: Annotated[Known, Spec("clock angle of the drain", "deg", -180, 180)] = Known(value=0.0)
    pitch_deg: Annotated[Known, Spec("shaft pitch (compressor end up)", "deg", -90, 90)] = Known(value=0.0)
    clock_max_deg: Annotated[Known, Spec("most clock angle", "deg", 0, 180)] = Known(value=30.0)
    tilt_max_deg: Annotated[Known, Spec("most shaft tilt", "deg", 0, 90)] = Known(value=10.0)
    bolts: HousingBolts = HousingBolts()


def _known_threads(*names: str) -> None:
    for name in names:
        if name not in THREADS:
            raise PydanticCustomError("thread", "expected one of {known}", {"known": ", ".join(THREADS)})


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

    @model_validator(mode="after")
    def _threads(self) -> Self:
        _known_threads(self.port_thread, self.fitting_thread)
        return self


class Hose(Model):
    """A length of feed hose."""

    kind: Literal["hose"] = "hose"
    bore_mm: Annotated[float, Spec("feed hose bore", "bore", 1.5, 25)]
    length_mm: Annotated[Known, Spec("feed hose length", "run", 20, 8000)]


class Fitting(Model):
    """A hose end, elbow, tee or adapter."""

    kind: Literal["fitting"] = "fitting"
    shape: Literal["straight", "45°", "90°", "tee, through", "tee, branch"]
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

    @model_validator(mode="after")
    def _has_hose(self) -> Self:
        if not any(isinstance(p, Hose) for p in self.pieces):
            raise PydanticCustomError("hose", "expected at least one hose in the feed line")
        return self


class Restrictor(Model):
    """A metering hole; not fitted means the full bore of the line."""

    fitted: bool
    bore_mm: Annotated[float, Spec("restrictor bore", "bore", 0.2, 12)]
    length_mm: Annotated[Known, Spec("restrictor length", "bore", 0.0, 50)]
    tolerance_mm: Annotated[float, Spec("tolerance of the hole", "bore", 0.0, 0.5)] = 0.03


class EntryFitting(Model):
    """The last fitting of the drain, in the pan wall."""

    label: Name
    bore_mm: Annotated[float, Spec("entry fitting bore", "bore", 2, 60)]
    length_mm: Annotated[float, Spec("entry fitting length", "mm", 5, 200)]
    heading_deg: Annotated[float, Spec("fitting heading (outward, 0 forward, 90 left)", "deg", -180, 180)]
    rise_deg: Annotated[float, Spec("fitting rise outward", "deg", -60, 90)]
    port_thread: ThreadName
    fitting_thread: ThreadName
    means: Literal["weld bung", "tapped", "bulkhead"] = "weld bung"

    @model_validator(mode="after")
    def _threads(self) -> Self:
        _known_threads(self.port_thread, self.fitting_thread)
        return self


class DrainPiece(Model):
    """A hose end or adapter of the drain, counted from the outside in: the turbo's own, then the pan's own."""

    label: Name
    at: Literal["turbo", "pan"]
    bore_mm: Annotated[float, Spec("hose end bore", "bore", 2, 60)]
    length_mm: Annotated[float, Spec("hose end length", "mm", 5, 200)]


class Joining(Model):
    """Where a drain ends in another turbo's drain: a tee at one of its bends, counted from 0."""

    turbo: Annotated[int, Field(ge=0, le=2)]
    bend: Annotated[int, Field(ge=0, le=11)]


class Drain(Model):
    """The drain, turbo flange to pan wall. `points` bend the hose between the two."""

    flange_bore_mm: Annotated[float, Spec("drain flange bore", "bore", 4, 60)]
    flange_length_mm: Annotated[float, Spec("drain flange and stub length", "mm", 5, 300)]
    hose_bore_mm: Annotated[float, Spec("drain hose bore", "bore", 4, 60)]
    points: Annotated[tuple[Point, ...], Field(max_length=12)] = ()
    entry: Point
    fitting: EntryFitting
    pieces: Annotated[tuple[DrainPiece, ...], Field(max_length=6)] = ()
    min_bend_mm: Annotated[Known, Spec("least bend radius of the hose", "run", 5, 1000)] = Known(value=45.0)
    sag_mm: Annotated[Known, Spec("hose's sag, held level 300 mm apart", "mm", 0, 60)] = Known(value=3.0)
    joins: Joining | None = None


class Scavenge(Model):
    """A pump that takes the drain home: pot, pump, one-way valve, wiring."""

    pot: Point = Point(x_mm=-300.0, y_mm=-260.0, z_mm=-150.0)
    pot_ml: Annotated[Known, Spec("pot volume", "ml", 10, 5000)] = Known(value=250.0)
    free_l_min: Annotated[Known, Spec("pump delivery, no pressure", "l_min", 0.2, 60)] = Known(value=8.0)
    stall_kpa: Annotated[Known, Spec("pump's stall pressure", "kpa", 5, 1500)] = Known(value=200.0)
    rated_v: Annotated[float, Spec("pump's rated volts", "v", 6, 48)] = 12.0
    current_a: Annotated[Known, Spec("pump current", "a", 0.5, 40)] = Known(value=7.0)
    runs_dry: bool = True
    self_priming_mm: Annotated[Known, Spec("suction height the pump primes itself", "run", 0, 3000)] = Known(
        value=300.0
    )
    pump_above_pot_mm: Annotated[float, Spec("pump above the pot", "run", -1000, 2000)] = 0.0
    valve: bool = True
    valve_kpa: Annotated[Known, Spec("one-way valve opens at", "kpa_small", 0, 100)] = Known(value=3.0)
    hose_bore_mm: Annotated[float, Spec("scavenge hose bore", "bore", 4, 40)] = 8.73
    hose_mm: Annotated[Known, Spec("scavenge hose length", "run", 50, 8000)] = Known(value=1200.0)
    return_z_mm: Annotated[float, Spec("return entry above the rail", "run", -500, 1500)] = -20.0
    run_on_s: Annotated[Known, Spec("pump runs on after key-off", "s", 0, 600)] = Known(value=20.0)
    supply_v: Annotated[Known, Spec("volts at the battery, running", "v", 6, 48)] = Known(value=13.5)
    gauge_awg: Annotated[int, Field(ge=6, le=22)] = 14
    wire_mm: Annotated[Known, Spec("wire to the pump, one way", "run", 100, 20000)] = Known(value=3500.0)
    relay: bool = True
    fuse_a: Annotated[float, Spec("fuse", "a", 1, 60)] = 15.0


class PanBox(Model):
    """One box of the pan: lowest rear right corner and size."""

    corner: Point
    length_mm: Annotated[float, Spec("pan length (forward)", "run", 50, 2000)]
    width_mm: Annotated[float, Spec("pan width", "run", 50, 1500)]
    depth_mm: Annotated[float, Spec("pan depth", "run", 20, 600)]


class Baffle(Model):
    """An upright wall in the pan, floor to rail, across one direction, with openings."""

    across: Literal["forward", "left"]
    at_mm: Annotated[float, Spec("baffle stands at", "run", -6000, 6000)]
    opening_cm2: Annotated[Known, Spec("openings of the baffle", "cm2", 0.0, 2000)] = Known(value=20.0)


class Shape(Model):
    """A thing beside the drain, as a box: hot, chafing, solid outside the pan, or inside it."""

    label: Name
    kind: Literal["hot", "chafe", "solid", "inside"]
    corner: Point
    length_mm: Annotated[float, Spec("length (forward)", "run", 2, 4000)]
    width_mm: Annotated[float, Spec("width", "run", 2, 3000)]
    height_mm: Annotated[float, Spec("height", "run", 2, 2000)]


class Breather(Model):
    """How blow-by leaves the crankcase. `kind` "typed" takes each condition's own crankcase pressure."""

    kind: Literal["typed", "catch can", "valve to intake", "can and valve"] = "catch can"
    blow_by_l_min: Annotated[Known, Spec("blow-by at full load", "l_min", 1, 600)] = Known(value=60.0)
    hose_bore_mm: Annotated[float, Spec("breather hose bore", "bore", 3, 60)] = 15.9
    hose_mm: Annotated[Known, Spec("breather hose length", "run", 20, 6000)] = Known(value=900.0)
    orifice_mm: Annotated[float, Spec("smallest hole on the way (0: none)", "bore", 0, 60)] = 0.0
    valve_kpa: Annotated[Known, Spec("valve opens at", "kpa_small", 0, 50)] = Known(value=2.07)
    valve_bore_mm: Annotated[float, Spec("valve bore", "bore", 1, 40)] = 6.0
    one_way: bool = True


class Sump(Model):
    """The pan and the oil in it."""

    boxes: Annotated[tuple[PanBox, ...], Field(min_length=1, max_length=6)]
    fill_l: Annotated[Known, Spec("oil fill", "l", 0.3, 60)]
    windage_mm: Annotated[Known, Spec("windage", "run", 0, 60)]
    baffles: Annotated[tuple[Baffle, ...], Field(max_length=4)] = ()
    wall_mm: Annotated[Known, Spec("wall of the pan", "mm", 0.5, 30)] = Known(value=2.0)
    metal: Literal["steel", "aluminium"] = "steel"
    bolt_pitch_mm: Annotated[Known, Spec("rail bolts apart", "run", 10, 500)] = Known(value=70.0)
    bolt_head_mm: Annotated[Known, Spec("room a rail bolt's socket takes", "mm", 5, 60)] = Known(value=18.0)


class Condition(Model):
    """One operating condition of engine and car."""

    name: Name
    regime: Regime
    rpm: Annotated[float, Spec("engine speed", "rpm", 0, 20000)]
    oil_temperature_c: Annotated[float, Spec("oil temperature", "degc", -40, 180)]
    heat_kw: Annotated[float, Spec("heat into the oil at the turbo", "kw", 0, 20)]
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

    @model_validator(mode="after")
    def _off_stands_still(self) -> Self:
        if (self.regime == "off") != (self.rpm == 0):
            raise PydanticCustomError("regime", "expected rpm 0 exactly when the regime is 'off'")
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
    hot_mm: Annotated[Known, Spec("distance hot parts need", "run", 0, 500)] = Known(value=75.0)
    fill_max: Annotated[Known, Spec("deepest fill of the drain", "share", 0.3, 1.0)]
    angle_max_deg: Annotated[Known, Spec("drain off upright, at most", "deg", 5, 90)] = Known(value=30.0)
    chafe_mm: Annotated[Known, Spec("distance chafing parts need", "run", 0, 200)] = Known(value=12.0)
    spanner_mm: Annotated[Known, Spec("room round the hose end for a spanner", "run", 5, 200)] = Known(
        value=26.0
    )
    drill_mm: Annotated[Known, Spec("room outside for the drill", "run", 20, 600)] = Known(value=150.0)
    behind_mm: Annotated[Known, Spec("room behind the wall", "run", 2, 100)] = Known(value=14.0)
    threads_min: Annotated[Known, Spec("full threads a wall must hold", "count", 1, 20)] = Known(value=4.0)
    crankcase_max_kpa: Annotated[Known, Spec("most crankcase pressure", "kpa_small", 0.05, 20)] = Known(
        value=1.0
    )
    pump_margin: Annotated[Known, Spec("pump over its duty, at least", "share", 1.0, 4.0)] = Known(value=1.5)
    volts_min: Annotated[Known, Spec("share of the supply's volts at the pump", "share", 0.5, 1.0)] = Known(
        value=0.95
    )


EndCode = Annotated[str, Field(min_length=3, max_length=80)]
PartId = Annotated[str, Field(min_length=1, max_length=160)]


class LineParts(Model):
    """The ports of a turbo, and the parts chosen for its lines by their ids, in the order the oil meets them.

    An empty list means: the shortest workable chain.
    """

    inlet: EndCode = "flange|inlet two-bolt 24 mm|"
    outlet: EndCode = "flange|medium two-bolt 44 mm|"
    feed: Annotated[tuple[PartId, ...], Field(max_length=12)] = ()
    drain: Annotated[tuple[PartId, ...], Field(max_length=12)] = ()
    feed_move_mm: Annotated[Known, Spec("feed hose, length for the engine to move", "run", 0, 300)] = Known(
        value=30.0
    )
    drain_move_mm: Annotated[Known, Spec("drain hose, length for the engine to move", "run", 0, 200)] = Known(
        value=10.0
    )

    @model_validator(mode="after")
    def _known_ends(self) -> Self:
        for code in (self.inlet, self.outlet):
            try:
                thread_of(end_from(code))
            except (ValueError, KeyError):
                raise PydanticCustomError(
                    "end", "expected a port such as NPT|1/8|female, not {code}", {"code": code}
                ) from None
        return self


class OwnPart(Model):
    """A part of the user's own, in the catalogue's columns."""

    id: PartId
    kind: Annotated[str, Field(json_schema_extra={"enum": list(KINDS)})]
    name: Name
    ends: Annotated[tuple[EndCode, ...], Field(max_length=4)] = ()
    dash: Annotated[int, Field(ge=0, le=40)] = 0
    angle_deg: Annotated[float, Field(ge=0, le=360)] = 0.0
    bore_mm: Annotated[float, Field(ge=0, le=200)] = 0.0
    stack_mm: Annotated[float, Field(ge=0, le=2000)] = 0.0
    takeoff_mm: Annotated[float, Field(ge=0, le=500)] = 0.0
    min_bend_mm: Annotated[float, Field(ge=0, le=2000)] = 0.0
    od_mm: Annotated[float, Field(ge=0, le=200)] = 0.0
    temp_c: Annotated[float, Field(ge=0, le=2000)] = 0.0
    pressure_kpa: Annotated[float, Field(ge=0, le=900000)] = 0.0
    material: Annotated[str, Field(max_length=80)] = ""
    price: Annotated[float, Field(ge=0, le=900000)] = 0.0

    @model_validator(mode="after")
    def _sound(self) -> Self:
        if self.kind not in KINDS:
            raise PydanticCustomError("kind", "expected one of {known}", {"known": ", ".join(KINDS)})
        for code in self.ends:
            try:
                thread_of(end_from(code))
            except (ValueError, KeyError):
                raise PydanticCustomError(
                    "end", "expected an end such as NPT|1/8|male, not {code}", {"code": code}
                ) from None
        return self


class OnHand(Model):
    """So many of a part in the drawer; for hose, metres."""

    part: PartId
    count: Annotated[float, Field(ge=0, le=10000)]


class StepLog(Model):
    """A step of the build that is done: its key, a note, minutes taken, when."""

    step: Annotated[str, Field(min_length=1, max_length=60)]
    note: Text = ""
    minutes: Annotated[float, Field(ge=0, le=10000)] = 0.0
    when: Annotated[str, Field(max_length=40)] = ""


class Build(Model):
    """How the build is done, and how far it is."""

    pan: Literal["pan on, grease and a stop", "pan off"] = "pan off"
    clean: Literal["flush", "wipe"] = "flush"
    sealing: Literal["liquid sealant", "tape"] = "liquid sealant"
    done: Annotated[tuple[StepLog, ...], Field(max_length=200)] = ()


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


class Plan(Model):
    """Everything a plan file holds."""

    format: Literal["gravidon-plan"] = FORMAT
    format_version: Annotated[int, Field(ge=1)] = FORMAT_VERSION
    name: Name
    note: Text = ""
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
    needs: Needs
    conditions: Annotated[tuple[Condition, ...], Field(min_length=1, max_length=40)]

    @model_validator(mode="after")
    def _distinct_conditions(self) -> Self:
        names = [c.name for c in self.conditions]
        if len(set(names)) != len(names):
            raise PydanticCustomError("conditions", "expected every condition to have its own name")
        return self

    @model_validator(mode="after")
    def _joins_exist(self) -> Self:
        for k, it in enumerate(self.turbos):
            joins = it.drain.joins
            if joins is None:
                continue
            if joins.turbo == k or joins.turbo >= len(self.turbos):
                raise PydanticCustomError("joins", "expected a drain to join another turbo's drain")
            trunk = self.turbos[joins.turbo].drain
            pumped = self.turbos[joins.turbo].drain_by != "gravity"
            if pumped and it.drain_by == "gravity":
                raise PydanticCustomError(
                    "joins",
                    "expected the drain that is joined to run by gravity; end the joining one elsewhere first",
                )
            if trunk.joins is not None:
                raise PydanticCustomError(
                    "joins", "expected the drain that is joined to run to the pan itself"
                )
            if joins.bend >= len(trunk.points):
                raise PydanticCustomError(
                    "joins", "expected the joined drain to have {bend} bends", {"bend": joins.bend + 1}
                )
        return self

    @model_validator(mode="after")
    def _tap_exists(self) -> Self:
        if self.tap >= len(self.taps):
            raise PydanticCustomError(
                "tap", "expected tap to be one of the {count} taps", {"count": len(self.taps)}
            )
        return self
