# SPDX-License-Identifier: GPL-3.0-or-later
"""What of a plan may be changed: the choices by name, and how each is held."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from gravidon.plan.choice import OneOf
from gravidon.plan.fields import Model
from gravidon.translate import tr


@dataclass(frozen=True)
class ChoiceName:
    """A choice as a plan file knows it.

    Fields: name; words for it; whether the plan has one for all turbos; whether its values are numbers that bounds can
    hold; the plan paths it decides, as they begin below a turbo's line (or below the plan, where it is shared; `{tap}` is the chosen tap); the keys of
    build steps after which it is done, with `{k}` for the turbo's number.
    """

    name: str
    words: str
    shared: bool
    numeric: bool
    paths: tuple[str, ...]
    steps: tuple[str, ...] = ()


CHOICES: dict[str, ChoiceName] = {
    c.name: c
    for c in (
        ChoiceName("tap", tr("tap"), True, False, ("tap",), ("tap",)),
        ChoiceName("tap-thread", tr("thread at the tap"), True, False, ("taps.{tap}.fitting_thread",), ("tap",)),
        ChoiceName("feed-size", tr("feed size"), False, False, ("feed.pieces",), ("feed-{k}",)),
        ChoiceName("feed-end", tr("end at the inlet"), False, False, (), ("feed-{k}",)),
        ChoiceName("feed-route", tr("feed route"), False, False, ("feed.points",), ("feed-{k}",)),
        ChoiceName("restrictor", tr("restrictor"), False, True, ("restrictor.bore_mm", "restrictor.fitted"), ("feed-{k}",)),
        ChoiceName("flange-hole", tr("hole in the flange"), False, True, ("flange_hole.bore_mm", "flange_hole.fitted"), ("flange-hole-{k}", "feed-{k}")),
        ChoiceName("balance", tr("branches"), True, False, ()),
        ChoiceName("clock", tr("clock angle"), False, True, ("turbo.clock_deg",), ("clock-{k}",)),
        ChoiceName("tilt", tr("shaft tilt"), False, True, ("turbo.pitch_deg",), ("clock-{k}",)),
        ChoiceName("drain-size", tr("drain size"), False, False, ("drain.hose_bore_mm", "drain.flange_bore_mm", "drain.min_bend_mm"), ("drain-flange-{k}", "drain-join-{k}")),
        ChoiceName("drain-ends", tr("drain hose ends"), False, False, ("drain.pieces",), ("drain-join-{k}",)),
        ChoiceName("route", tr("drain route"), False, False, ("drain.points",), ("drain-join-{k}",)),
        ChoiceName("entry-wall", tr("entry wall"), False, False, ("drain.fitting.heading_deg",), ("entry-{k}",)),
        ChoiceName("entry-place", tr("entry place"), False, False, ("drain.entry",), ("entry-{k}",)),
        ChoiceName("entry-means", tr("through the wall"), False, False, ("drain.fitting.means", "drain.fitting.bore_mm"), ("entry-{k}",)),
        ChoiceName("entry-thread", tr("thread in the pan"), False, False, ("drain.fitting.port_thread", "drain.fitting.fitting_thread"), ("entry-{k}",)),
        ChoiceName("breather", tr("breather"), True, False, ("breather.kind", "breather.hose_bore_mm", "breather.orifice_mm", "breather.one_way")),
        ChoiceName("drain-by", tr("gravity or pump"), False, False, ("drain_by",)),
        ChoiceName("pump", tr("scavenge pump"), False, False, ("scavenge.free_l_min", "scavenge.pot_ml", "scavenge.gauge_awg", "scavenge.fuse_a", "scavenge.relay", "scavenge.valve", "scavenge.run_on_s")),
    )
}  # fmt: skip
"""By name, in the order of the oil's way."""


class Hold(Model):
    """How one choice is held: locked as it stands, limited to a list or to bounds, or open."""

    choice: Annotated[str, OneOf(CHOICES)]
    turbo: Annotated[int, Field(ge=0, le=2)] = 0
    state: Literal["locked", "limited", "open"]
    only: Annotated[tuple[Annotated[str, Field(min_length=1, max_length=60)], ...], Field(max_length=60)] = ()
    least: Annotated[float, Field(ge=-1e4, le=1e4)] | None = None
    most: Annotated[float, Field(ge=-1e4, le=1e4)] | None = None

    @model_validator(mode="after")
    def _says_what(self) -> Self:
        bounded = self.least is not None or self.most is not None
        if bounded and not (CHOICES[self.choice].numeric or self.choice == "entry-place"):
            raise PydanticCustomError("bounds", tr("a list of values, for this choice has no bounds"))
        if (self.state == "limited") != bool(self.only or bounded):
            raise PydanticCustomError("limited", tr("values or bounds exactly where a choice is limited"))
        if self.least is not None and self.most is not None and self.least > self.most:
            raise PydanticCustomError("bounds", tr("the least at or below the most"))
        return self

    @property
    def key(self) -> tuple[str, int]:
        """What it holds: the choice and the turbo, 0 for what all share."""
        return self.choice, 0 if CHOICES[self.choice].shared else self.turbo
