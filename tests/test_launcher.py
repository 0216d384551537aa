# SPDX-License-Identifier: GPL-3.0-or-later
"""What the launchers do before Python: one line with all that is missing, no race, no stamp on failure."""

from __future__ import annotations

import os
import subprocess
from pathlib import Path

import pytest

ENVIRONMENT = Path(__file__).parents[1] / "tools" / "environment.sh"


def shell(script: str, tmp_path: Path, **env: str) -> subprocess.CompletedProcess[str]:
    """Source the launcher's functions in a shell whose commands are those in `tmp_path/bin` first."""
    words = f'set -euo pipefail\nhere="{tmp_path}"\n. "{ENVIRONMENT}"\n{script}'
    known = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "GRAVIDON_VENV")}
    return subprocess.run(
        ["/bin/bash", "-c", words],
        env={**known, "PATH": f"{tmp_path / 'bin'}:{os.environ['PATH']}", **env},
        capture_output=True,
        text=True,
        timeout=60,
        check=False,
    )


def command(tmp_path: Path, name: str, body: str) -> None:
    folder = tmp_path / "bin"
    folder.mkdir(exist_ok=True)
    file = folder / name
    file.write_text(f"#!/bin/sh\n{body}\n")
    file.chmod(0o755)


def test_a_plain_user_gets_one_line_with_all_that_is_missing(tmp_path: Path) -> None:
    """Python, Qt's libraries and those for windows were asked for in three rounds, the second after a long download."""
    command(tmp_path, "ldconfig", "true")
    command(tmp_path, "id", "echo 1000")
    for name in ("python3.11", "python3.12", "python3.13", "python3"):
        command(tmp_path, name, "exit 1")
    made = shell("prepare run", tmp_path, DISPLAY=":0")
    assert made.returncode == 2
    asked = [line for line in made.stderr.splitlines() if "apt-get" in line]
    assert len(asked) == 1
    for package in (
        "python3 ",
        "python3-venv",
        "libgl1",
        "libfontconfig1",
        "libxcb-cursor0",
        "libxkbcommon-x11-0",
    ):
        assert package in asked[0]
    assert not (tmp_path / ".venv").exists(), "nothing was fetched before"


def test_without_a_display_no_window_libraries_are_asked_for(tmp_path: Path) -> None:
    command(tmp_path, "ldconfig", "true")
    command(tmp_path, "id", "echo 1000")
    made = shell("prepare run", tmp_path)
    assert "libgl1" in made.stderr
    assert "libxcb" not in made.stderr


@pytest.mark.parametrize("character", [",", ";", '"', "\\"])
def test_a_folder_that_qt_cannot_start_from_is_told_before_the_download(
    tmp_path: Path, character: str
) -> None:
    made = shell("prepare run", tmp_path, GRAVIDON_VENV=f"{tmp_path}/a{character}b")
    assert made.returncode == 2
    assert "Qt cannot start from a folder" in made.stderr
    assert "GRAVIDON_VENV" in made.stderr


@pytest.mark.parametrize("lines", [1, 4000])
def test_a_missing_library_is_seen_however_long_the_list(tmp_path: Path, lines: int) -> None:
    """A search that stopped at the first hit broke the pipe, and a library that was missing counted as there."""
    command(tmp_path, "python", "echo plugin.so")
    body = (
        "echo '\tlibxcb-cursor.so.0 => not found'\n"
        + f"i=0; while [ $i -lt {lines} ]; do echo '\tlibc.so.6 => /lib/libc.so.6 (0x0)'; i=$((i+1)); done"
    )
    command(tmp_path, "ldd", body)
    made = shell('python="python"; x11_lacks', tmp_path)
    assert made.stdout.split() == ["libxcb-cursor.so.0"]


def test_no_stamp_is_left_while_something_is_missing(tmp_path: Path) -> None:
    command(tmp_path, "python", "echo plugin.so")
    command(tmp_path, "ldd", "echo '\tlibodd.so.1 => not found'")
    venv = tmp_path / "venv"
    (venv / "bin").mkdir(parents=True)
    (venv / "bin" / "python").symlink_to(tmp_path / "bin" / "python")
    lock = tmp_path / "requirements-dev.lock"
    lock.write_text("")
    script = f'sha256sum "{lock}" | cut -c1-16 > "{venv}/.gravidon-dev"; prepare run'
    made = shell(script, tmp_path, GRAVIDON_VENV=str(venv), DISPLAY=":0")
    assert made.returncode == 0
    assert "libodd.so.1" in made.stderr
    assert not (venv / ".gravidon-x11").exists()
