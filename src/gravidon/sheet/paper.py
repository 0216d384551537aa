# SPDX-License-Identifier: GPL-3.0-or-later
"""The paper a sheet is laid out for: A4 or US Letter, by choice, else by the country."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QLocale
from PyQt6.QtGui import QPageSize

from gravidon.errors import InputError
from gravidon.translate import either

LAID_OUT_MM = 210.0
"""[mm] width that pages are laid out on; what is wider leaves the rest at both sides."""


@dataclass(frozen=True)
class Paper:
    """A sheet of paper: name, size [mm], Qt's own number for it."""

    name: str
    width_mm: float
    height_mm: float
    size: QPageSize.PageSizeId

    @property
    def left_mm(self) -> float:
        """How far right the laid-out page begins [mm]."""
        return 0.5 * (self.width_mm - LAID_OUT_MM)


A4 = Paper("A4", 210.0, 297.0, QPageSize.PageSizeId.A4)
LETTER = Paper("Letter", 215.9, 279.4, QPageSize.PageSizeId.Letter)
PAPERS: dict[str, Paper] = {p.name: p for p in (A4, LETTER)}

_C = QLocale.Country
LETTER_COUNTRIES = frozenset(
    (
        _C.UnitedStates,
        _C.Canada,
        _C.Mexico,
        _C.Philippines,
        _C.Chile,
        _C.Colombia,
        _C.CostaRica,
        _C.ElSalvador,
        _C.Guatemala,
        _C.Panama,
        _C.PuertoRico,
        _C.Venezuela,
        _C.DominicanRepublic,
    )
)
"""Where Letter is the usual paper; Unicode CLDR, supplemental data, paperSize US-Letter."""


def usual_paper() -> Paper:
    """Return the paper that is usual in the country of the session's locale."""
    return LETTER if QLocale.system().territory() in LETTER_COUNTRIES else A4


def paper_named(name: str) -> Paper:
    """Return a paper by its name, the usual one for an empty name.

    Raises: InputError for another name.
    """
    if not name:
        return usual_paper()
    found = next((p for p in PAPERS.values() if p.name.lower() == name.strip().lower()), None)
    if found is None:
        raise InputError("paper", name, either(PAPERS))
    return found
