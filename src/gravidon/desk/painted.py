# SPDX-License-Identifier: GPL-3.0-or-later
"""A paint that may go wrong: its painter is ended whatever happens, the surface says so in words, the window lives on."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from PyQt6.QtCore import QRectF, Qt, QTimer
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from gravidon.desk.mishap import MISHAPS
from gravidon.draw.surface import painter_on
from gravidon.words.text import tr


def painted(
    draw: Callable[[Any, QPainter, QPaintEvent | None], None],
) -> Callable[[Any, QPaintEvent | None], None]:
    """Make a widget's paintEvent of a drawing: (self, painter, event)."""

    @wraps(draw)
    def paint_event(self: QWidget, event: QPaintEvent | None = None) -> None:
        try:
            with painter_on(self) as painter:
                draw(self, painter, event)
        except Exception as error:  # noqa: BLE001  whatever it is, an active painter would end the program
            told = error.with_traceback(error.__traceback__)
            QTimer.singleShot(0, lambda: MISHAPS.tell(told))
            _in_words(self)

    return paint_event


def _in_words(widget: QWidget) -> None:
    with painter_on(widget) as painter:
        painter.fillRect(widget.rect(), widget.palette().window())
        painter.setPen(widget.palette().windowText().color())
        flags = int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
        painter.drawText(QRectF(widget.rect()).adjusted(4, 2, -4, -2), flags, tr("This cannot be drawn."))
