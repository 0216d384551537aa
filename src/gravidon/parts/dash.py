# SPDX-License-Identifier: GPL-3.0-or-later
"""Dash (AN) sizes: sixteenths of an inch of tube outside diameter."""

from __future__ import annotations

INCH_MM = 25.4

HOSE_BORE_IN: dict[int, float] = {
    3: 1 / 8,
    4: 7 / 32,
    6: 11 / 32,
    8: 7 / 16,
    10: 9 / 16,
    12: 11 / 16,
    16: 7 / 8,
}
"""Typical hose bore [in] by dash size; from memory (makers differ by a few hundredths)."""

END_BORE_MM: dict[int, float] = {
    3: 3.18,
    4: 4.37,
    6: 7.54,
    8: 9.93,
    10: 12.29,
    12: 15.47,
    16: 21.44,
}
"""Through bore [mm] of a 37° flare end by dash size, and so of all that is screwed to one; SAE J514."""

LEAST_BEND_MM: dict[int, float] = {3: 63.0, 4: 76.0, 6: 102.0, 8: 117.0, 10: 140.0, 12: 165.0, 16: 187.0}
"""Least bend radius [mm] of braided rubber hose by dash size; SAE J517 100R5, from memory."""

HOSE_OUTSIDE_MM: dict[int, float] = {3: 6.5, 4: 11.0, 6: 14.5, 8: 17.0, 10: 20.5, 12: 24.0, 16: 29.5}
"""Typical outside diameter of braided hose [mm] by dash size; from memory, for drawing only."""


def hose_bore_mm(dash: int) -> float:
    """Return the typical hose bore [mm] of a dash size.

    Raises: KeyError for a size not in HOSE_BORE_IN.
    Source: from memory.

    >>> round(hose_bore_mm(10), 2)
    14.29
    """
    return HOSE_BORE_IN[dash] * INCH_MM


def dash_label(dash: int) -> str:
    """Return the trade's name of a size.

    >>> dash_label(10)
    '-10'
    """
    return f"-{dash}"


def dash_of_bore(bore_mm: float) -> int | None:
    """Return the dash size whose typical bore is within 0.3 mm, or None.

    >>> dash_of_bore(14.3)
    10
    """
    for dash, inches in HOSE_BORE_IN.items():
        if abs(inches * INCH_MM - bore_mm) < 0.3:
            return dash
    return None
