# SPDX-License-Identifier: GPL-3.0-or-later
"""What is printed on a terminal: signs that steer it, or turn the direction of writing, are shown as their codes."""

from __future__ import annotations

from typing import Any, TextIO

_STEERING = (
    *(n for n in range(0x20) if chr(n) not in "\n\t"),
    *range(0x7F, 0xA0),
    0x61C,
    *range(0x200E, 0x2010),
    *range(0x2028, 0x202F),
    *range(0x2066, 0x206A),
    0xFEFF,
)
SHOWN = {n: f"\\u{n:04x}" for n in _STEERING}
"""Steering sign -> its code, as JSON writes it too. A word that came in a file can neither clear the screen nor write backwards."""


class Printed:
    """A stream that passes everything on but signs that steer."""

    def __init__(self, stream: TextIO) -> None:
        self._stream = stream

    def write(self, text: str) -> int:
        """Write it, steering signs shown."""
        self._stream.write(text.translate(SHOWN))
        return len(text)

    def __getattr__(self, name: str) -> Any:
        return getattr(self._stream, name)
