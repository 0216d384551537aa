# SPDX-License-Identifier: GPL-3.0-or-later
"""Show what has changed in the answers of physics and study since they were last kept, and keep them as they are now.

    PYTHONPATH=src:tests .venv/bin/python tools/keep_answers.py [--show] [TOPIC ...]

--show only shows.
"""

from __future__ import annotations

import sys

from kept.store import keep, kept_text
from kept.telling import apart, told
from kept.topics import TOPICS


def main(words: list[str]) -> int:
    """Show and keep the topics that are named, or all."""
    asked = [w for w in words if w != "--show"] or list(TOPICS)
    for topic in asked:
        ask, names = TOPICS[topic]
        now = {name: "\n".join(told(ask(name), topic)) for name in names}
        for name, text in now.items():
            found = apart(kept_text(topic, name), text)
            print(f"{topic}, {name}: {len(found)} of {len(text.splitlines())} lines differ")
            print("".join(f"    {line}\n" for line in found[:40]), end="")
        if "--show" not in words:
            keep(topic, now)
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
