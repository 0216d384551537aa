# SPDX-License-Identifier: GPL-3.0-or-later
"""A painter on a surface, ended before the surface goes, also where drawing raises: an active painter left behind would end the program."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from PyQt6.QtGui import QPaintDevice, QPainter


@contextmanager
def painter_on(device: QPaintDevice) -> Iterator[QPainter]:
    """Return a painter that is ended in any case."""
    painter = QPainter(device)
    try:
        yield painter
    finally:
        painter.end()
