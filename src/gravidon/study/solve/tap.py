# SPDX-License-Identifier: GPL-3.0-or-later
"""What a tap's fitting leaves of the gallery."""

from __future__ import annotations

import numpy as np

from gravidon.plan.model import Tap

FITTING_WIDTH_MM = 8.0
"""Width of a fitting's nose that sticks into a gallery [mm]; common practice, no source."""


def open_share(tap: Tap) -> float:
    """Return the share of the gallery's area that the fitting leaves open.

    Equation: 1 - (width · protrusion)/(pi D²/4), protrusion up to D, width up to D.
    Source: geometry; the nose taken as a bar of FITTING_WIDTH_MM, common practice, no source.
    """
    bore = tap.gallery_bore_mm.value
    deep = min(tap.protrusion_mm.value, bore)
    wide = min(FITTING_WIDTH_MM, bore)
    return max(1.0 - deep * wide / (np.pi / 4.0 * bore * bore), 0.0)
