# SPDX-License-Identifier: GPL-3.0-or-later
"""Kinds of part, one record each: what the search for chains, the order list, the build and the drawing need to know."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class PartKind:
    """All that varies with a kind of part.

    Fields: name; whether it can be a link of a chain; whether it is taken only where the plan asks for it; whether
    it is the hose, or an end of it; whether it is narrow on purpose (the least bore does not count against it);
    whether it is counted in metres; share of the count advised as spares; whether any line's work may wait for it
    (else only that of its own line); whether it makes the way through the pan's wall; whether oil may pass it one way only, in by its second end and out by its
    first (the swivel nut); its shape in the drawing
    of a chain: hose, plate, or body (with an orifice drawn in it where it is narrow).
    """

    name: str
    in_chain: bool = False
    on_request: bool = False
    hose: bool = False
    hose_end: bool = False
    narrow: bool = False
    by_length: bool = False
    spare_share: float = 0.0
    general: bool = False
    through_wall: bool = False
    directed: bool = False
    shape: str = "body"


KINDS: dict[str, PartKind] = {
    k.name: k
    for k in (
        PartKind("hose", in_chain=True, hose=True, by_length=True, shape="hose"),
        PartKind("hose end", in_chain=True, hose_end=True),
        PartKind("adapter", in_chain=True),
        PartKind("tee", in_chain=True),
        PartKind("restrictor", in_chain=True, on_request=True, narrow=True, directed=True),
        PartKind("flange", in_chain=True, shape="plate"),
        PartKind("bung", in_chain=True, through_wall=True),
        PartKind("bulkhead", in_chain=True, through_wall=True),
        PartKind("banjo", in_chain=True),
        PartKind("washer", spare_share=0.5, general=True),
        PartKind("screen", in_chain=True, on_request=True, directed=True),
        PartKind("valve", in_chain=True, on_request=True, directed=True),
        PartKind("sleeve", by_length=True, general=True),
        PartKind("clamp", general=True),
        PartKind("cap"),
        PartKind("gasket", spare_share=1.0, general=True),
        PartKind("sealant", general=True),
        PartKind("bolt", general=True),
        PartKind("fluid", general=True),
        PartKind("filter part", general=True),
        PartKind("pump"),
        PartKind("pot"),
        PartKind("electrical"),
        PartKind("wire", by_length=True),
        PartKind("shield", by_length=True, general=True),
    )
}
"""By name. Spares: crush and bonded washers half as many again, one more gasket; common practice, no source."""
