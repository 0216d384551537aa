# SPDX-License-Identifier: GPL-3.0-or-later
"""A bracketed root finder that works on whole arrays at once."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from gravidon.physics.arrays import Array

HALVE_EVERY = 4
"""Evaluations after which a bracket must have halved."""


@dataclass(frozen=True)
class Root:
    """A solved array of roots, with how it went."""

    value: Array
    residual: Array
    iterations: int
    converged: bool


def solve_falling(
    balance: Callable[[Array], Array],
    low: Array,
    high: Array,
    scale: Array,
    tolerance: float = 1e-7,
    max_iterations: int = 120,
) -> Root:
    """Solve balance(x) = 0 for a function that falls with x, entry by entry.

    Equation: bracketed false position with Anderson and Björck's slope weighting, falling
    back on halving when an entry's bracket shrinks too slowly.

    Args:
        balance: function of the whole array, falling in each entry.
        low: entries with balance >= 0.
        high: entries with balance <= 0.
        scale: residual scale per entry; converged when |balance| <= tolerance · scale.
        tolerance: relative residual tolerance [-].
        max_iterations: bound on evaluations.

    Raises: nothing; `converged` tells.
    Source: Anderson and Björck 1973, BIT 13.

    >>> one = np.ones(1)
    >>> root = solve_falling(lambda x: 2.0 - x * x, 0 * one, 2 * one, one)
    >>> round(float(root.value[0]), 6), root.converged
    (1.414214, True)
    """
    x_low, x_high = low.copy(), high.copy()
    f_low, f_high = balance(x_low), balance(x_high)
    x, f = x_high.copy(), f_high.copy()
    goal = tolerance * scale
    side = np.zeros(x.shape, dtype=np.int8)
    width_before = x_high - x_low
    iterations = 0
    for iterations in range(1, max_iterations + 1):
        width = x_high - x_low
        gap = f_low - f_high
        slope = (gap > 0.0) & np.isfinite(gap)  # where an end is infinite there is none: halved
        x = x_low + width * np.where(slope, np.where(slope, f_low, 0.5) / np.where(slope, gap, 1.0), 0.5)
        if iterations % HALVE_EVERY == 0:  # entries whose bracket did not halve meanwhile are halved
            x = np.where(width > 0.5 * width_before, 0.5 * (x_low + x_high), x)
            width_before = width
        f = balance(x)
        if (np.abs(f) <= goal).all():
            break
        above = f > 0.0
        # the end that stays for a second time running has its residual shrunk
        keep_high = above & (side == 1)
        keep_low = ~above & (side == -1)
        with np.errstate(divide="ignore", invalid="ignore"):
            weight_high = 1.0 - f / f_low
            weight_low = 1.0 - f / f_high
        weight_high = np.where(weight_high > 0.0, weight_high, 0.5)
        weight_low = np.where(weight_low > 0.0, weight_low, 0.5)
        f_high = np.where(keep_high, f_high * weight_high, f_high)
        f_low = np.where(keep_low, f_low * weight_low, f_low)
        x_low, f_low = np.where(above, x, x_low), np.where(above, f, f_low)
        x_high, f_high = np.where(above, x_high, x), np.where(above, f_high, f)
        side = np.where(above, 1, -1).astype(np.int8)
    return Root(x, f, iterations, bool((np.abs(f) <= goal).all()))
