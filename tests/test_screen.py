# SPDX-License-Identifier: GPL-3.0-or-later
"""A screen that is not there, or does not answer, ends nothing."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
from pathlib import Path

import pytest

from gravidon import screen


@pytest.fixture
def bare(monkeypatch: pytest.MonkeyPatch) -> pytest.MonkeyPatch:
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    return monkeypatch


def test_no_screen_is_named(bare: pytest.MonkeyPatch) -> None:
    assert screen.screen() == "none"
    assert screen.without_screen() == "none"
    assert os.environ["QT_QPA_PLATFORM"] == "offscreen"
    assert screen.without_screen() == "there", "what QT_QPA_PLATFORM says goes before"


@pytest.mark.parametrize("name", [":4711", "unix:4711.0", "localhost:4711"])
def test_a_named_screen_that_does_not_answer_is_dead(bare: pytest.MonkeyPatch, name: str) -> None:
    bare.setenv("DISPLAY", name)
    assert screen.screen() == "dead"


def test_a_screen_that_answers_is_there(
    bare: pytest.MonkeyPatch, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    bare.setattr(screen, "X_SOCKETS", str(tmp_path / "X"))
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as server:
        server.bind(str(tmp_path / "X7"))
        server.listen(1)
        bare.setenv("DISPLAY", ":7")
        assert screen.screen() == "there"
    bare.setenv("DISPLAY", ":8")
    screen.say_unseen(screen.screen())
    assert "no screen answers at :8" in capsys.readouterr().err


def test_wayland_answers_by_its_socket(bare: pytest.MonkeyPatch, tmp_path: Path) -> None:
    bare.setenv("XDG_RUNTIME_DIR", str(tmp_path))
    bare.setenv("WAYLAND_DISPLAY", "wayland-0")
    assert screen.screen() == "dead"
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as server:
        server.bind(str(tmp_path / "wayland-0"))
        server.listen(1)
        assert screen.screen() == "there"


def test_what_cannot_be_tried_is_left_to_qt(bare: pytest.MonkeyPatch) -> None:
    bare.setenv("DISPLAY", "somewhere")
    assert screen.screen() == "there"


def test_the_sheet_is_written_with_a_dead_display(tmp_path: Path) -> None:
    """A sheet needs no screen: it ended the process with a text of Qt's where DISPLAY named a dead server."""
    env = {k: v for k, v in os.environ.items() if k not in ("QT_QPA_PLATFORM", "WAYLAND_DISPLAY")}
    env["DISPLAY"] = ":4711"
    made = subprocess.run(
        [sys.executable, "-m", "gravidon", "sheet", "coupe", "-o", str(tmp_path / "a.pdf")],
        env={**env, "PYTHONPATH": os.pathsep.join(sys.path)},
        capture_output=True,
        text=True,
        timeout=120,
        check=False,
    )
    assert made.returncode == 0, made.stderr
    assert (tmp_path / "a.pdf").stat().st_size > 10_000
