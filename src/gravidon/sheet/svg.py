# SPDX-License-Identifier: GPL-3.0-or-later
"""What a painter paints as an SVG element that stands inside a page."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QRectF, QSizeF
from PyQt6.QtGui import QPainter
from PyQt6.QtSvg import QSvgGenerator

from gravidon.draw.font_face import whole_svg
from gravidon.draw.surface import painter_on


def svg_of(title: str, width: float, height: float, paint: Callable[[QPainter], None], dpi: int = 0) -> str:
    """Return what is painted as an SVG element of a size in its own units; true to scale where `dpi` is given."""
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    generator = QSvgGenerator()
    generator.setOutputDevice(buffer)
    if dpi:
        generator.setResolution(dpi)
    generator.setSize(QSizeF(width, height).toSize())
    generator.setViewBox(QRectF(0, 0, width, height))
    generator.setTitle(title)
    with painter_on(generator) as painter:
        paint(painter)
    text = bytes(data.data()).decode("utf-8")
    return whole_svg(text[text.index("<svg") :], title, font=False)
