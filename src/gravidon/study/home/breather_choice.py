# SPDX-License-Identifier: GPL-3.0-or-later
"""Crankcase pressure over the breather's hose bore, for the decision chart."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.parts.dash import HOSE_BORE_IN, dash_label, hose_bore_mm
from gravidon.physics.arrays import Array
from gravidon.plan import paths
from gravidon.plan.fields import si
from gravidon.plan.model import Plan
from gravidon.study.solve.breathing import breathing

LEAST_M, MOST_M, BORES = 0.006, 0.030, 40


@dataclass(frozen=True)
class BreatherChoice:
    """Hose bores [m] (bores,), crankcase pressure [Pa gauge] (bores, conditions), and the limit [Pa]."""

    bore_m: Array
    pressure_pa: Array
    limit_pa: float


def breather_choice(plan: Plan) -> BreatherChoice:
    """Return what each hose bore would make of the plan's blow-by."""
    bores = np.geomspace(LEAST_M, MOST_M, BORES)
    rows = [breathing(paths.put(plan, "breather.hose_bore_mm", float(b * 1e3))).crankcase_pa for b in bores]
    return BreatherChoice(bores, np.array(rows), si(plan.needs, "crankcase_max_kpa"))


def bore_marks() -> tuple[tuple[float, str], ...]:
    """Return real hose bores [m] with their dash size."""
    return tuple((hose_bore_mm(d) * 1e-3, dash_label(d)) for d in HOSE_BORE_IN if d >= 6)
