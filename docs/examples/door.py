# SPDX-License-Identifier: GPL-3.0-or-later
"""Twenty lines with `gravidon.api`: open a plan, see what is wrong, take what cures it, print the sheet."""

import sys
from pathlib import Path

from gravidon import api


def mended(plan: api.Plan) -> api.Plan:
    """Take the best cure of the worst finding until none is bad, or nothing helps."""
    for _ in range(12):
        bad = [f for f in api.findings(plan) if f.severity == "bad"]
        cures = [r for f in bad for r in api.remedies(plan, f) if r.cures]
        if not cures:
            break
        print("-", cures[0].text("imperial"))
        plan = cures[0].plan
    return plan


if __name__ == "__main__":
    source, target = [*sys.argv[1:], "demo", "sheet.html"][:2]
    plan = mended(api.demo() if source == "demo" else api.open(source))
    print(plan.name, "now", api.trial(plan).verdict, "->", api.sheet(plan, Path(target), "imperial"))
