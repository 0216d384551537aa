# SPDX-License-Identifier: GPL-3.0-or-later
"""A window that is edited and saved without end, until it is killed: `worker.py PLAN RECOVERY_FOLDER`.

The name of the plan counts the edits; every save is told on standard output after it returned.
"""

from __future__ import annotations

import os
import sys
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import QCoreApplication

from gravidon.desk.recovery import Recovery
from gravidon.desk.session import Session
from gravidon.plan import storage


def main(path: Path, folder: Path) -> None:
    """Edit, keep, and at every fifth edit save; fork for each round so that one start serves many kills."""
    application = QCoreApplication([])
    plan = storage.load(path)
    session = Session(plan, path)
    session._timer.stop()
    print("ready", flush=True)
    for line in sys.stdin:
        begin = int(line)
        child = os.fork()
        if child:
            print(f"pid {child}", flush=True)
            os.waitpid(child, 0)
            print("gone", flush=True)
            continue
        recovery, n = Recovery(folder), begin
        while True:
            n += 1
            session._history.push(session.plan.model_copy(update={"name": str(n)}), "count", "")
            recovery.keep(session.plan, path)
            print(f"kept {n}", flush=True)
            if n % 5 == 0:
                session.save(path, over=True)
                print(f"saved {n}", flush=True)
    del application


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
