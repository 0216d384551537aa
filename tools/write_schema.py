"""Write the plan file's JSON Schema into docs/, or check that it is current."""

import json
import sys
from pathlib import Path

from gravidon.plan.storage import json_schema

TARGET = Path(__file__).parent.parent / "docs/plan.schema.json"


def main() -> int:
    """Return 1 if --check finds the file out of date."""
    text = json.dumps(json_schema(), indent=2, ensure_ascii=False) + "\n"
    if "--check" in sys.argv:
        if TARGET.read_text(encoding="utf-8") != text:
            print(
                f"{TARGET.name} is out of date; run ./.venv/bin/python tools/write_schema.py", file=sys.stderr
            )
            return 1
        return 0
    TARGET.write_text(text, encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
