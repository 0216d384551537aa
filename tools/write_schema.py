# SPDX-License-Identifier: GPL-3.0-or-later
"""Write the plan file's JSON Schema into docs/ and the package, or check that both are current."""

import json
import sys
from pathlib import Path

from gravidon.plan.storage import json_schema

ROOT = Path(__file__).parent.parent
TARGETS = (ROOT / "docs/plan.schema.json", ROOT / "src/gravidon/plan/plan.schema.json")
"""For readers, and in the package."""


def main() -> int:
    """Return 1 if --check finds the file out of date."""
    text = json.dumps(json_schema(), indent=2, ensure_ascii=False) + "\n"
    if "--check" in sys.argv:
        stale = [t for t in TARGETS if not t.is_file() or t.read_text(encoding="utf-8") != text]
        for target in stale:
            print(
                f"{target.relative_to(ROOT)} is out of date; run ./.venv/bin/python tools/write_schema.py",
                file=sys.stderr,
            )
        return 1 if stale else 0
    for target in TARGETS:
        target.write_text(text, encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
