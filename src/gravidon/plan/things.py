# SPDX-License-Identifier: GPL-3.0-or-later
"""Kinds of thing beside the drain, one record each."""

from __future__ import annotations

from dataclasses import dataclass

from gravidon.translate import tr


@dataclass(frozen=True)
class ThingKind:
    """All that varies with a kind of thing.

    Fields: name; words for lists and for its label in a drawing; whether it stands inside the pan; field of the
    plan's needs that says how far the hose must stay off (empty: it must only not run into it); share of that
    room at or below which it is bad (0: only a touch is); share of that room a sleeved hose still needs; whether it stops a drill; whether heat comes off it;
    code of its finding (empty: it is judged with the entry's place only); in drawings the colour of its outline by
    meaning, what it is filled with (colour, strength; "" for nothing), and whether it is hatched.
    """

    name: str
    words: str
    mark: str
    inside: bool
    need: str
    bad_share: float
    sleeved_share: float
    stops_drill: bool
    gives_heat: bool
    code: str
    ink: str
    fill: tuple[str, float]
    hatched: bool


THINGS: dict[str, ThingKind] = {
    t.name: t
    for t in (
        ThingKind("hot", "hot part", tr("hot"), False, "hot_mm", 0.5, 0.5, False, True, "drain-heat", "heat", ("heat", 0.16), False),
        ThingKind("chafe", "chafing part", tr("chafes"), False, "chafe_mm", 0.0, 0.0, False, False, "chafe", "faint", ("", 0.0), True),
        ThingKind("solid", "solid part", tr("in the way"), False, "", 0.0, 1.0, True, False, "collides", "faint", ("metal", 0.24), False),
        ThingKind("inside", "part inside the pan", tr("inside the pan"), True, "", 0.0, 1.0, False, False, "", "faint", ("", 0.0), False),
    )
}  # fmt: skip
"""By name. Room and what a sleeve leaves of it: common practice, no source."""
