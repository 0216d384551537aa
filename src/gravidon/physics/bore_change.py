# SPDX-License-Identifier: GPL-3.0-or-later
"""Where a line changes its bore, and where oil enters it: what contraction, enlargement and the shape of a mouth cost."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from gravidon.physics import part_full
from gravidon.physics.arrays import Array

LAMINAR_ENTRANCE = 160.0
"""[-] Hooper's K1 of a pipe's entrance: what a mouth costs more the slower the oil; published (Hooper 1981)."""


def jet_share(area_share: ArrayLike) -> Array:
    """Return the narrowest area of the stream behind a sudden contraction over the smaller bore's [-], same shape.

    Equation: 0.63 + 0.37 (A2/A1)³.

    Args:
        area_share: smaller over larger area [-], 0 to 1.

    Raises: nothing.
    Source: Weisbach's measurements, as in Rouse 1946 (from memory); 1 where both are equal.

    >>> float(jet_share(0.0)), float(jet_share(1.0))
    (0.63, 1.0)
    """
    share = np.clip(np.asarray(area_share, dtype=np.float64), 0.0, 1.0)
    result: Array = 0.63 + 0.37 * share**3
    return result


def contraction_loss(area_share: ArrayLike, reynolds: ArrayLike) -> Array:
    """Return the heads of the smaller bore's speed that a sudden contraction costs [-], broadcast shape.

    Equation: 0.5 (1 - r)^0.75 + (160/Re)(1 - r), r the smaller over the larger area.

    Args:
        area_share: r [-], 0 to 1.
        reynolds: Reynolds number in the smaller bore [-]; 0 where nothing flows.

    Raises: nothing.
    Valid: sharp edge; turbulent and laminar; nothing is lost between equal bores.
    Source: Idelchik 1986, diagram 3-9 (from memory), with Hooper's K1 of an entrance (1981) for slow oil.

    >>> float(contraction_loss(0.0, 1e9)).__round__(3), float(contraction_loss(1.0, 10.0))
    (0.5, 0.0)
    """
    left = 1.0 - np.clip(np.asarray(area_share, dtype=np.float64), 0.0, 1.0)
    re = np.asarray(reynolds, dtype=np.float64)
    result: Array = 0.5 * left**0.75 + LAMINAR_ENTRANCE / np.maximum(re, LEAST_REYNOLDS) * left
    return result


LEAST_REYNOLDS = 1.0
"""[-] below which creeping oil's head is as small as its speed's square, and no more is added; project choice."""


def enlargement_loss(area_share: ArrayLike) -> Array:
    """Return the heads of the smaller bore's speed that a sudden enlargement costs [-], same shape.

    Equation: (1 - r)², r the smaller over the larger area.

    Args:
        area_share: r [-], 0 to 1.

    Raises: nothing.
    Source: Borda and Carnot; exact for a flat speed (momentum balance).

    >>> float(enlargement_loss(0.5)), float(enlargement_loss(1.0))
    (0.25, 0.0)
    """
    share = np.clip(np.asarray(area_share, dtype=np.float64), 0.0, 1.0)
    result: Array = (1.0 - share) ** 2
    return result


HALVINGS = 14
"""Halvings between critical depth and the whole energy: a twentieth of a millimetre of a metre."""


@dataclass(frozen=True)
class Shoulder:
    """A place where a run goes into a smaller bore: both bores [m], how deep each is along effective gravity [m], bulk flow [m³/s],
    kinematic viscosity [m²/s] and effective gravity [m/s²], (conditions,) each but the bores."""

    wide_m: float
    small_m: float
    wide_deep_m: Array
    small_deep_m: Array
    flow_m3_s: Array
    kinematic_m2_s: Array
    gravity_m_s2: Array

    def level_above(self, centre_m: Array, level_m: Array) -> Array:
        """Return the level [m] above the shoulder for one below it, (conditions,).

        Equation: the larger of critical energy through the contracted section less V²/2g of the approach, and, as far as the small bore's
        crown is drowned, the level below with the contraction's loss. Both are nothing between equal bores, and neither jumps there.

        Args:
            centre_m: height of the axis [m].
            level_m: level below [m].

        Raises: nothing.
        Source: `part_full.critical_parts`, `contraction_loss`, `jet_share`.
        """
        share = (self.small_m / self.wide_m) ** 2
        speed = self.flow_m3_s / (np.pi / 4.0 * self.small_m**2)
        head = speed**2 / (2.0 * self.gravity_m_s2)
        loss = contraction_loss(share, speed * self.small_m / self.kinematic_m2_s)
        depth, rest = part_full.critical_parts(
            self.flow_m3_s, self.small_m, self.gravity_m_s2, jet_share(share), loss
        )
        leaning = np.minimum(self.small_deep_m / self.small_m, 1.0)
        crown = centre_m + 0.5 * self.small_deep_m
        control = self._before(centre_m, crown - self.small_deep_m + depth * leaning + rest, head * share**2)
        drowned = np.clip(level_m - crown, 0.0, loss * head)
        result: Array = np.maximum(level_m + drowned, control)
        return result

    def _before(self, centre_m: Array, energy_m: Array, full_head_m: Array) -> Array:
        """Return the level [m] before a control that takes an energy: less the head of the speed with which oil comes through the wider
        bore as deep as it then is; where that bore runs full its head is part of the level, as in the march."""
        depth = np.maximum(self.wide_deep_m, 1e-9)
        invert = centre_m - 0.5 * self.wide_deep_m
        critical = part_full.critical_fill(self.flow_m3_s, self.wide_m, self.gravity_m_s2)
        low, high = np.minimum(invert + critical * depth, energy_m), energy_m
        for _ in range(HALVINGS):
            middle = 0.5 * (low + high)
            fill = np.clip((middle - invert) / depth, 1e-3, 1.0)
            short = (
                middle + full_head_m / np.interp(fill, part_full.FINE, part_full.FINE_AREA) ** 2 < energy_m
            )
            low, high = np.where(short, middle, low), np.where(short, high, middle)
        result: Array = high + np.clip(high - invert - depth, 0.0, full_head_m)
        return result
