# SPDX-License-Identifier: GPL-3.0-or-later
"""Measure the sweeps of `tests/study/sweeps.py`: where a worse input is called better, and where a step of a hundredth changes two grades.

PYTHONPATH=src:tests python tools/measure_sweeps.py STEPS [SWEEP ...]
"""

from __future__ import annotations

import sys
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from gravidon.errors import GravidonError
from gravidon.study.verdict.trials import trial
from study.sweeps import SWEEPS

GRADES = {"holds": 0, "watch": 1, "fails": 2}


def judged(task: tuple[str, float]) -> tuple[int, str]:
    """Return the verdict of a sweep's plan at a value, 3 where it is refused, and its first word."""
    name, x = task
    try:
        found = trial(SWEEPS[name][0](x))
    except GravidonError:
        return 3, "refused"
    return GRADES[found.verdict], found.findings[0].code if found.findings else ""


def main() -> None:
    """Print a line for each sweep: its grades, and where they are not as they should be."""
    steps, wanted = int(sys.argv[1]), sys.argv[2:]
    better = jumps = count = 0
    with ProcessPoolExecutor(2) as pool:
        for name, (_, given) in SWEEPS.items():
            if wanted and not any(w in name for w in wanted):
                continue
            values = np.interp(np.linspace(0.0, 1.0, steps), np.linspace(0.0, 1.0, len(given)), given)
            rows = list(pool.map(judged, [(name, float(x)) for x in values], chunksize=8))
            grades = [g for g, _ in rows]
            found = []
            for k in range(1, steps):
                (was, _), (now, first) = rows[k - 1], rows[k]
                if now < was:
                    better += 1
                    found.append(f"better at {values[k]:.4g}: {was}->{now} {rows[k - 1][1]}")
                if now - was == 2:
                    # two grades within a step of the sweep: within a hundredth of the value as well?
                    fine = np.linspace(values[k - 1], values[k], 12)
                    inner = [judged((name, float(x)))[0] for x in fine]
                    hundredth = abs(fine[1] - fine[0]) <= 0.01 * max(abs(values[k]), 1e-9)
                    if hundredth and max(np.diff(inner)) >= 2:
                        jumps += 1
                        found.append(f"jumps at {values[k]:.4g}: {first}")
            count += 1
            said = "".join(str(g) for g in grades)
            print(f"{name:28s} {said}  {'; '.join(found)}", flush=True)
    print(f"{count} sweeps: {better} steps better, {jumps} jumps of two grades")


if __name__ == "__main__":
    main()
