# SPDX-License-Identifier: GPL-3.0-or-later
"""A first start that sees a recording row by row, and is told at once what only a tick passes."""

from __future__ import annotations

from collections.abc import Iterator

from gravidon.plan.model import Plan
from gravidon.records.recording import Recording
from gravidon.study.bench.first_start import FirstStart, Sample
from gravidon.study.solve.senders import converted


def shown(bench: FirstStart, plan: Plan, made: Recording) -> Iterator[float]:
    """Yield the time after each row that the bench has seen [s]."""
    for k, t in enumerate(made.time_s):
        row = {"time": float(t), **{key: float(v[k]) for key, v in made.channels.items()}}
        bench.see(Sample.of(converted(plan, row), row))
        while bench.step is not None and bench.step.ticked and bench.tick():
            pass
        yield float(t)
