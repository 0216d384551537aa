# SPDX-License-Identifier: GPL-3.0-or-later
"""What every drawing is made with: the painter, the colours, the units, and the places labels have taken."""

from __future__ import annotations

from dataclasses import dataclass, field

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from gravidon.draw.style import Palette
from gravidon.plan.units import Family


@dataclass(frozen=True)
class Ink:
    """A drawing's means. `taken` are the rectangles that labels fill already, so that later ones keep clear;
    `words` are those with words in them."""

    painter: QPainter
    palette: Palette
    family: Family = "metric"
    taken: list[QRectF] = field(default_factory=list)
    words: list[QRectF] = field(default_factory=list)
