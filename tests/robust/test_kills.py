# SPDX-License-Identifier: GPL-3.0-or-later
"""Killed at any moment: the plan's file is whole and no older than the last save, and what was not saved is offered."""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import time
from pathlib import Path

from gravidon.desk.recovery import find_recoverable
from gravidon.errors import GravidonError
from gravidon.plan import demos, storage
from robust.times import TIMES


def lost_in(kills: int, tmp_path: Path, seed: int = 1) -> list[str]:
    """Kill a window that edits and saves, so many times; return what was lost."""
    rnd, lost = random.Random(seed), []
    path, folder = tmp_path / "plan.gravidon", tmp_path / "recovery"
    folder.mkdir()
    storage.save(demos.demo_plan("coupe"), path)
    worker = subprocess.Popen(
        [sys.executable, str(Path(__file__).with_name("worker.py")), str(path), str(folder)],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
    )
    assert worker.stdin
    assert worker.stdout
    assert worker.stdout.readline() == "ready\n"
    last = disk = 0
    for _ in range(kills):
        worker.stdin.write(f"{last}\n")
        worker.stdin.flush()
        pid, kept, saved = 0, 0, disk
        deadline = time.monotonic() + rnd.uniform(0.0, 0.08)
        for line in worker.stdout:
            word, _, number = line.strip().partition(" ")
            if word == "pid":
                pid = int(number)
            if word == "kept":
                kept = int(number)
            if word == "saved":
                saved = int(number)
            if word == "gone":
                break
            if pid and time.monotonic() >= deadline:
                os.kill(pid, signal.SIGKILL)
                deadline = float("inf")
        try:
            name = storage.load(path).name
            on_disk = int(name) if name.isdecimal() else 0
        except GravidonError as error:
            lost.append(f"the file: {error}")
            break
        if on_disk < saved:
            lost.append(f"the file holds {on_disk}, saved was {saved}")
        found = find_recoverable(folder)
        newest = max((int(f.plan.name) for f in found), default=0)
        if max(newest, on_disk) < kept:
            lost.append(f"recovery holds {newest}, kept was {kept}")
        disk, last = on_disk, max(on_disk, newest, kept)
        for file in folder.iterdir():
            file.unlink()
    worker.stdin.close()
    worker.kill()
    worker.wait()
    worker.stdout.close()
    return lost


def test_no_kill_loses_a_plan(tmp_path: Path) -> None:
    assert lost_in(TIMES.kills, tmp_path) == []
