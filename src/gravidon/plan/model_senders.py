# SPDX-License-Identifier: GPL-3.0-or-later
"""The plan's pressure senders: what they are, where they sit, and how they were calibrated."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from gravidon.plan.fields import Model, Spec
from gravidon.plan.model_base import Name
from gravidon.translate import tr


class CalPoint(Model):
    """A sender read beside a gauge: the gauge's pressure, the sender's volts, its supply."""

    pressure_kpa: Annotated[float, Spec("gauge pressure", "kpa", 0, 4000)]
    volts: Annotated[float, Spec("sender's volts", "v_fine", -1, 20)]
    supply_v: Annotated[float, Spec("sender's supply", "v_fine", 1, 20)] = 5.0


class Sender(Model):
    """A linear pressure sender. Without points its data sheet counts; with one, its zero; with more, the line through them."""

    label: Name
    at: Literal["gallery", "inlet"] = "gallery"
    turbo: Annotated[int, Field(ge=0, le=2)] = 0
    low_v: Annotated[float, Spec("volts at no pressure", "v_fine", 0, 5)] = 0.5
    high_v: Annotated[float, Spec("volts at full scale", "v_fine", 0.2, 15)] = 4.5
    full_kpa: Annotated[float, Spec("full scale", "kpa", 50, 4000)] = 1000.0
    supply_v: Annotated[float, Spec("nominal supply", "v_fine", 1, 20)] = 5.0
    ratiometric: bool = True
    points: Annotated[tuple[CalPoint, ...], Field(max_length=40)] = ()

    @model_validator(mode="after")
    def _spans(self) -> Self:
        if self.high_v <= self.low_v:
            raise PydanticCustomError("span", tr("volts at full scale above those at no pressure"))
        return self

    @property
    def channel(self) -> str:
        """The channel of a recording that it feeds: `gallery`, `inlet`, `inlet2` ..."""
        return self.at if self.at == "gallery" or self.turbo == 0 else f"inlet{self.turbo + 1}"
