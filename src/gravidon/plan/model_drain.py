# SPDX-License-Identifier: GPL-3.0-or-later
"""The plan's gravity side: drain, pump, pan, things beside it, breather. Positions as in `model`."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from gravidon.parts.entry_means import MEANS, Means
from gravidon.parts.threads import THREADS
from gravidon.plan.choice import OneOf
from gravidon.plan.fields import Known, Model, Spec
from gravidon.plan.model_base import Name, Point, ThreadName, known_threads
from gravidon.plan.things import THINGS, ThingKind


class EntryFitting(Model):
    """The last fitting of the drain, in the pan wall."""

    label: Name
    bore_mm: Annotated[float, Spec("entry fitting bore", "bore", 2, 60)]
    length_mm: Annotated[float, Spec("entry fitting length", "mm", 5, 200)]
    heading_deg: Annotated[float, Spec("fitting heading (outward, 0 forward, 90 left)", "deg", -180, 180)]
    rise_deg: Annotated[float, Spec("fitting rise outward", "deg", -60, 90)]
    port_thread: ThreadName
    fitting_thread: ThreadName
    means: Annotated[str, OneOf(MEANS)] = "weld bung"

    @property
    def way(self) -> Means:
        """The record of its means."""
        return MEANS[self.means]

    @property
    def opening_mm(self) -> float:
        """How wide the wall is opened for it [mm]: the hole, or the thread that is cut into it."""
        hole = self.way.hole(self.port_thread, self.bore_mm)[0] * 1e3
        return max(hole, THREADS[self.port_thread].major_mm) if self.way.wall_threads else hole

    @model_validator(mode="after")
    def _threads(self) -> Self:
        known_threads(self.port_thread, self.fitting_thread)
        return self


class DrainPiece(Model):
    """A hose end or adapter of the drain, counted from the outside in: the turbo's own, then the pan's own."""

    label: Name
    at: Literal["turbo", "pan"]
    bore_mm: Annotated[float, Spec("hose end bore", "bore", 2, 60)]
    length_mm: Annotated[float, Spec("hose end length", "mm", 5, 200)]
    angle_deg: Annotated[float, Spec("hose end angle", "deg", 0, 180)] = 0.0


class Joining(Model):
    """Where a drain ends in another turbo's drain: a tee at one of its bends, counted from 0."""

    turbo: Annotated[int, Field(ge=0, le=2)]
    bend: Annotated[int, Field(ge=0, le=11)]


class Drain(Model):
    """The drain, turbo flange to pan wall. `points` bend the hose between the two."""

    flange_bore_mm: Annotated[float, Spec("drain flange bore", "bore", 4, 60)]
    flange_length_mm: Annotated[float, Spec("drain flange and stub length", "mm", 5, 300)]
    mouth_loss: Annotated[
        Known, Spec("loss into the flange (0.5 square edge, 0.25 chamfer, 0.05 funnel)", "times", 0.0, 1.0)
    ] = Known(value=0.5, tolerance=0.2)
    hose_bore_mm: Annotated[float, Spec("drain hose bore", "bore", 4, 60)]
    points: Annotated[tuple[Point, ...], Field(max_length=12)] = ()
    entry: Point
    fitting: EntryFitting
    pieces: Annotated[tuple[DrainPiece, ...], Field(max_length=6)] = ()
    min_bend_mm: Annotated[Known, Spec("least bend radius of the hose", "run", 5, 1000)] = Known(value=45.0)
    sag_mm: Annotated[Known, Spec("hose's sag, held level 300 mm apart", "mm", 0, 60)] = Known(value=3.0)
    joins: Joining | None = None
    sleeved: bool = False


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
    kind: Annotated[str, OneOf(THINGS)]
    corner: Point
    length_mm: Annotated[float, Spec("length (forward)", "run", 2, 4000)]
    width_mm: Annotated[float, Spec("width", "run", 2, 3000)]
    height_mm: Annotated[float, Spec("height", "run", 2, 2000)]

    @property
    def thing(self) -> ThingKind:
        """The record of its kind."""
        return THINGS[self.kind]


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

    @property
    def has_can(self) -> bool:
        """Whether a hose to a can is among the ways out."""
        return self.kind in ("catch can", "can and valve")

    @property
    def has_valve(self) -> bool:
        """Whether a valve to the intake is among the ways out."""
        return self.kind in ("valve to intake", "can and valve")


class Sump(Model):
    """The pan and the oil in it."""

    boxes: Annotated[tuple[PanBox, ...], Field(min_length=1, max_length=6)]
    fill_l: Annotated[Known, Spec("oil fill", "l", 0.3, 60)]
    windage_mm: Annotated[Known, Spec("windage", "mm", 0, 60)]
    full_l: Annotated[Known, Spec("dipstick's full mark (0: as its maker fills it)", "l", 0, 60)] = Known(
        value=0.0
    )
    crank_mm: Annotated[Known, Spec("crank's lowest sweep below the rail", "mm", -200, 300)] = Known(
        value=45.0, tolerance=15.0
    )
    pickup: Point | None = None
    baffles: Annotated[tuple[Baffle, ...], Field(max_length=4)] = ()
    wall_mm: Annotated[Known, Spec("wall of the pan", "mm", 0.5, 30)] = Known(value=2.0)
    metal: Literal["steel", "aluminium"] = "steel"
    bolt_pitch_mm: Annotated[Known, Spec("rail bolts apart", "run", 10, 500)] = Known(value=70.0)
    bolt_head_mm: Annotated[Known, Spec("room a rail bolt's socket takes", "mm", 5, 60)] = Known(value=18.0)
