# SPDX-License-Identifier: GPL-3.0-or-later
"""The plan's parts: ports, chosen parts, own parts, the drawer, and how far the build is."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from gravidon.parts.ends import end_from, thread_of
from gravidon.parts.part_kinds import KINDS
from gravidon.plan.choice import OneOf
from gravidon.plan.fields import Known, Model, Spec
from gravidon.plan.model_base import Name, Text
from gravidon.translate import tr

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
                    "end", tr("a port such as NPT|1/8|female, not {code}"), {"code": code}
                ) from None
        return self


class OwnPart(Model):
    """A part of the user's own, in the catalogue's columns."""

    id: PartId
    kind: Annotated[str, OneOf(KINDS)]
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
    role: Annotated[str, Field(max_length=80)] = ""
    source: Annotated[str, Field(max_length=200)] = ""

    @model_validator(mode="after")
    def _sound(self) -> Self:
        for code in self.ends:
            try:
                thread_of(end_from(code))
            except (ValueError, KeyError):
                raise PydanticCustomError(
                    "end", tr("an end such as NPT|1/8|male, not {code}"), {"code": code}
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
