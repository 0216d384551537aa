# SPDX-License-Identifier: GPL-3.0-or-later
"""Where a line changes its bore, and where oil enters it: what contraction, enlargement and the shape of a mouth cost."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

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
