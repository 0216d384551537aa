# SPDX-License-Identifier: GPL-3.0-or-later
"""Whether there is a screen, before Qt is asked: Qt ends the process where DISPLAY names a server that does not answer."""

from __future__ import annotations

import os
import socket
import sys
from pathlib import Path
from typing import Literal

WAIT_S = 2.0
"""[s] a server is given to take a connection; project choice."""
X_PORT = 6000
X_SOCKETS = "/tmp/.X11-unix/X"  # noqa: S108  where X servers put them

Screen = Literal["there", "none", "dead"]


def screen() -> Screen:
    """Return whether a screen is there, none is named, or one is named that does not answer."""
    wayland, display = os.environ.get("WAYLAND_DISPLAY", ""), os.environ.get("DISPLAY", "")
    if wayland and _answers(str(Path(os.environ.get("XDG_RUNTIME_DIR", "/")) / wayland)):
        return "there"
    if display:
        return "there" if _x_answers(display) else "dead"
    return "dead" if wayland else "none"


def without_screen() -> Screen:
    """Let Qt run unseen where no screen answers; return which it is. What QT_QPA_PLATFORM says goes before."""
    found: Screen = "there" if os.environ.get("QT_QPA_PLATFORM") else screen()
    if found != "there":
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
    return found


def say_unseen(found: Screen) -> None:
    """Say on stderr that the window runs unseen, and why."""
    if found == "none":
        print(
            "gravidon: no display found, running without a visible window (Ctrl+C ends it)", file=sys.stderr
        )
    elif found == "dead":
        named = os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")
        print(
            f"gravidon: no screen answers at {named}, running without a visible window (Ctrl+C ends it)",
            file=sys.stderr,
        )


def _x_answers(display: str) -> bool:
    """Whether an X server takes a connection; True where the name says nothing that could be tried."""
    host, colon, rest = display.rpartition(":")
    number = rest.split(".")[0]
    if not colon or not number.isdigit():
        return True
    if host in ("", "unix"):
        return _answers(f"{X_SOCKETS}{number}") or _answers(f"\0{X_SOCKETS}{number}")
    try:
        with socket.create_connection((host, X_PORT + int(number)), WAIT_S):
            return True
    except OSError:
        return False


def _answers(path: str) -> bool:
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as link:
        link.settimeout(WAIT_S)
        try:
            link.connect(path)
        except OSError:
            return False
    return True
