# SPDX-License-Identifier: GPL-3.0-or-later
"""A photograph under a drawing: the picture itself, scaled down, and the clicks that lay it on a plane of the car."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from gravidon.plan.fields import Model, Spec
from gravidon.plan.model_base import Name
from gravidon.translate import tr

View = Literal["front", "side", "above", "right wall", "left wall", "front wall", "rear wall"]
"""An elevation (right and up in the picture), or a wall of the pan (along the car's axis, and up)."""
CLICKS = {"two points": 5, "rectangle": 5}
"""How many clicks each way takes: ruler 2, level line 2, anchor 1; corners 4, anchor 1."""
Click = tuple[Annotated[float, Field(ge=-1e5, le=1e5)], Annotated[float, Field(ge=-1e5, le=1e5)]]


class Photo(Model):
    """A photo under one view.

    `clicks` are pixels of the picture (right, down): for "two points" both ends of a known distance, both ends of a level (or plumb)
    line, the anchor; for "rectangle" its corners clockwise from the upper left, the anchor. The anchor's place in the
    view is `anchor_right_mm`, `anchor_up_mm`.
    """

    view: View
    name: Name
    picture: Annotated[str, Field(min_length=8, max_length=900_000, description="JPEG, base64")]
    by: Literal["two points", "rectangle"] = "two points"
    clicks: Annotated[tuple[Click, ...], Field(max_length=8)]
    distance_mm: Annotated[float, Spec("distance of the two points", "run", 1, 5000)] = 300.0
    plumb: bool = False
    width_mm: Annotated[float, Spec("width of the rectangle", "run", 10, 3000)] = 210.0
    height_mm: Annotated[float, Spec("height of the rectangle", "run", 10, 3000)] = 297.0
    anchor_right_mm: Annotated[float, Spec("anchor, to the right", "run", -9000, 9000)] = 0.0
    anchor_up_mm: Annotated[float, Spec("anchor, up", "run", -9000, 9000)] = 0.0
    opacity: Annotated[float, Spec("opacity", "share", 0.05, 1.0)] = 0.5
    shown: bool = True
    locked: bool = False

    @model_validator(mode="after")
    def _clicked(self) -> Self:
        if len(self.clicks) != CLICKS[self.by]:
            raise PydanticCustomError("clicks", tr("{count} clicks"), {"count": CLICKS[self.by]})
        return self
