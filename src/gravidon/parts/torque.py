# SPDX-License-Identifier: GPL-3.0-or-later
"""Torque where a standard gives one, by size and material; the maker's figure always comes first."""

from __future__ import annotations

from gravidon.parts.ends import End, Fit
from gravidon.translate import tr

INCH_POUND_NM = 0.112985
FLARE_IN_LB: dict[str, dict[int, tuple[int, int]]] = {
    "aluminium": {4: (40, 65), 6: (75, 125), 8: (150, 250), 10: (200, 350), 12: (300, 500)},
    "steel": {4: (135, 150), 6: (270, 300), 8: (450, 500), 10: (650, 700), 12: (900, 1000)},
}
"""Torque [in-lb] of flared fittings by dash size, for aluminium and steel; FAA AC 43.13-1B, table 9-2."""
BOLT_NM: dict[str, tuple[float, float]] = {"M6": (8.0, 10.0), "M8": (20.0, 25.0)}
"""Torque [N m] of class 8.8 bolts in steel, lightly oiled; ISO 898-1 with a friction of 0.14, from memory."""
SOFT_SHARE = 2.0 / 3.0
"""[-] of a bolt's torque that a thread in light alloy takes; common practice, no source."""
BANJO_NM: dict[str, tuple[float, float]] = {"M8": (10, 12), "M10": (15, 20), "M12": (20, 30), "M14": (30, 40)}
"""Torque [N m] of banjo bolts and screwed plugs on copper washers; common practice, no source."""


def torque_nm(one: End, other: End, soft: bool) -> tuple[float, float] | None:
    """Return least and most torque [N m] of a joint, None where no standard gives one.

    Args:
        one, other: its ends.
        soft: whether one of them is aluminium.

    Source: FLARE_IN_LB, BOLT_NM, BANJO_NM.

    >>> torque_nm(End("37 flare", "-6", "male"), End("37 flare", "-6", "female"), soft=False)
    (31, 34)
    """
    kinds = {one.kind, other.kind}
    if kinds == {"37 flare"}:
        row = FLARE_IN_LB["aluminium" if soft else "steel"].get(int(one.size.removeprefix("-")))
        return (round(row[0] * INCH_POUND_NM), round(row[1] * INCH_POUND_NM)) if row else None
    if "flange" in kinds:
        low, high = BOLT_NM["M6" if "inlet" in one.size + other.size else "M8"]
        share = SOFT_SHARE if soft else 1.0
        return round(low * share), round(high * share)
    if "banjo" in kinds or kinds == {"metric"}:
        end = one if one.kind == "banjo" or other.kind == "metric" else other
        row_nm = BANJO_NM.get(end.size.partition("x")[0])
        return None if row_nm is None else (row_nm[0], row_nm[1])
    return None


def how_tight(one: End, other: End, fit: Fit, soft: bool) -> str:
    """Return how a joint is tightened, in words, with its torque where a standard gives one; empty for one that does not
    seal.

    >>> flare = End("37 flare", "-10", "male"), End("37 flare", "-10", "female")
    >>> from gravidon.parts.ends import fit
    >>> how_tight(*flare, fit(*flare), soft=True)
    'snug, then a sixth of a turn; aluminium: snug only; 23 to 40 N·m, aluminium'
    """
    found = torque_nm(one, other, soft) if fit.outcome == "seals" else None
    if found is None:
        return fit.tighten
    metal = "aluminium" if soft else "steel"
    bolts = ""
    if "flange" in (one.kind, other.kind):
        bolts = tr("M6 bolts, ") if "inlet" in one.size + other.size else tr("M8 bolts, ")
    return tr("{tighten}; {bolts}{low:g} to {high:g} N·m, {metal}").format(
        tighten=fit.tighten, bolts=bolts, low=found[0], high=found[1], metal=tr(metal)
    )
