# SPDX-License-Identifier: GPL-3.0-or-later
"""How several turbos share the oil."""

from __future__ import annotations

import numpy as np

from gravidon.plan.fields import si
from gravidon.study.solve.evaluate import Evaluation


def split_shares(e: Evaluation) -> np.ndarray:
    """Return each turbo's share of the total flow [-], (turbos, conditions); 0 where nothing flows."""
    flows = np.array([b.flow_m3_s for b in e.network.branches])
    total = flows.sum(axis=0)
    shares: np.ndarray = np.where(total > 0.0, flows / np.where(total > 0.0, total, 1.0), 0.0)
    return shares


def unevenness(e: Evaluation) -> np.ndarray:
    """Return how uneven the split is per condition: (largest - smallest)/mean flow per wanted flow [-].

    Each turbo's flow is taken relative to its reference flow, so unlike turbos can be even.
    """
    wanted = np.array([si(line.turbo, "reference_flow_l_min") for line in e.plan.turbos])[:, None]
    relative = np.array([b.flow_m3_s for b in e.network.branches]) / wanted
    mean = relative.mean(axis=0)
    uneven: np.ndarray = np.where(
        mean > 0.0, (relative.max(axis=0) - relative.min(axis=0)) / np.where(mean > 0.0, mean, 1.0), 0.0
    )
    return uneven
