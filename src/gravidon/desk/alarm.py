# SPDX-License-Identifier: GPL-3.0-or-later
"""The sound of a stop: two falling tones, again and again until somebody has seen to it; off where the builder wants it off."""

from __future__ import annotations

import math
import struct
import tempfile
import wave
from functools import cache
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, QUrl
from PyQt6.QtWidgets import QApplication

EVERY_MS = 1100
RATE_HZ = 22050


@cache
def _tones() -> Path:
    """Return a file with the two tones."""
    path = Path(tempfile.mkdtemp(prefix="gravidon-")) / "stop.wav"
    samples = []
    for hertz, seconds in ((988.0, 0.22), (0.0, 0.05), (740.0, 0.35)):
        count = int(seconds * RATE_HZ)
        for k in range(count):
            fade = min(k, count - k, 400) / 400.0
            samples.append(int(20000 * fade * math.sin(2.0 * math.pi * hertz * k / RATE_HZ)))
    with wave.open(str(path), "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(RATE_HZ)
        file.writeframes(struct.pack(f"<{len(samples)}h", *samples))
    return path


class Alarm(QObject):
    """Sounds while it is on. Where the system has no sound for Qt, its bell rings instead."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.enabled = True
        self.rung = 0
        self._effect: Any = None
        self._timer = QTimer(self)
        self._timer.setInterval(EVERY_MS)
        self._timer.timeout.connect(self._ring)

    @property
    def on(self) -> bool:
        """Whether it sounds."""
        return self._timer.isActive()

    def set(self, on: bool) -> None:
        """Sound, or be silent."""
        on = on and self.enabled
        if on and not self._timer.isActive():
            self._timer.start()
            self._ring()
        elif not on:
            self._timer.stop()

    def _ring(self) -> None:
        self.rung += 1
        if self._effect is None:
            self._effect = self._made()
        if self._effect:
            self._effect.play()
        else:
            QApplication.beep()

    def _made(self) -> Any:
        try:
            from PyQt6.QtMultimedia import QMediaDevices, QSoundEffect
        except ImportError:  # a system without a sound library
            return False
        if not QMediaDevices.audioOutputs():
            return False
        effect = QSoundEffect(self)
        effect.setSource(QUrl.fromLocalFile(str(_tones())))
        return effect
