# SPDX-License-Identifier: GPL-3.0-or-later
"""Tests of labels read what is written with their places, as a screen reader does."""

from __future__ import annotations

from PyQt6.QtCore import QRectF

from gravidon.draw.told import Recorder, Written

__all__ = ["Recorder", "Written", "inside"]


def inside(rect: QRectF, area: QRectF, slack: float = 1.5) -> bool:
    """Whether a text's rectangle lies inside an area, but for a pixel."""
    return area.adjusted(-slack, -slack, slack, slack).contains(rect)
