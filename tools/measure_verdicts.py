# SPDX-License-Identifier: GPL-3.0-or-later
"""Measure the verdict on families whose outcome the trade knows: how many pass, are warned of and fail, and what decides.

PYTHONPATH=src:tests python tools/measure_verdicts.py PLANS [FAMILY ...]
"""

from __future__ import annotations

import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor

from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.study.verdict.trials import trial
from study.installs import BAD, GOOD, sampled


def judged(plan: Plan) -> tuple[str, tuple[tuple[str, str, str], ...]]:
    """Return a plan's verdict and its findings as (severity, code, condition)."""
    try:
        findings = trial(plan).findings
    except GravidonError as error:
        return f"refused: {error}", ()
    told = tuple((f.severity, f.code, f.condition) for f in findings)
    kinds = {severity for severity, *_ in told}
    return ("fails" if "bad" in kinds else "watch" if "watch" in kinds else "holds"), told


def main() -> None:
    """Print a line for each family, and what decides in it."""
    count, wanted = int(sys.argv[1]), sys.argv[2:]
    with ProcessPoolExecutor(2) as pool:
        for name, (make, ranges) in {**GOOD, **BAD}.items():
            if wanted and not any(w in name for w in wanted):
                continue
            rows = list(pool.map(judged, sampled(count, make, 7, **ranges), chunksize=4))
            verdicts = Counter(v for v, _ in rows)
            shares = {v: round(100 * verdicts[v] / count) for v in ("fails", "watch", "holds")}
            other = [v for v in verdicts if v.startswith("refused")][:1]
            first = Counter(told[0][1] for v, told in rows if told and told[0][0] != "note")
            codes = Counter(
                (s, c) for _, told in rows for s, c in {(s, c) for s, c, _ in told} if s != "note"
            )
            many = sum(len(told) for v, told in rows if v == "holds") / max(verdicts["holds"], 1)
            print(f"{name:26s} {shares} {many:.1f} found in one that holds {other}")
            print("      first:", ", ".join(f"{c} {n}" for c, n in first.most_common(5)))
            print("      all:  ", ", ".join(f"{s} {c} {n}" for (s, c), n in codes.most_common(7)), flush=True)


if __name__ == "__main__":
    main()
