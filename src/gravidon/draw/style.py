# SPDX-License-Identifier: GPL-3.0-or-later
"""Colours by meaning, line weights, type and spacing. The one place where they are chosen."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, lru_cache
from importlib import resources

from PyQt6.QtCore import QByteArray, QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QFontMetricsF, QPainter, QPen

HAIR, LINE, BOLD = 0.8, 1.5, 2.6
"""Line weights [px at scale 1]."""


SMALL, BODY, LARGE, HUGE, GIANT = 12, 13, 16, 21, 25
"""Type sizes [px]."""

FONT_FAMILY = "IBM Plex Sans"


@cache
def _color(value: str, alpha: float) -> QColor:
    found = QColor(value)
    found.setAlphaF(alpha)
    return found


@lru_cache(maxsize=512)
def _pen(value: str, width: float, style: Qt.PenStyle) -> QPen:
    pen = QPen(_color(value, 1.0), width, style)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    return pen


@dataclass(frozen=True)
class Palette:
    """Colours by what they mean."""

    name: str
    paper: str
    sheet: str
    raised: str
    ink: str
    faint: str
    line: str
    edge: str
    """border of what can be used: 3:1 on every ground"""
    oil: str
    froth: str
    metal: str
    wall: str
    heat: str
    good: str
    watch: str
    bad: str
    focus: str
    window: str

    def color(self, name: str, alpha: float = 1.0) -> QColor:
        """Return a colour of this palette with an opacity; shared, so not to be changed."""
        return _color(getattr(self, name), alpha)

    def pen(self, name: str, width: float = LINE, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> QPen:
        """Return a pen with flat caps in a colour of this palette."""
        return QPen(_pen(getattr(self, name), width, style))


LIGHT = Palette(
    name="light",
    paper="#efe7d6",
    sheet="#faf5ea",
    raised="#fffcf5",
    ink="#2b2723",
    faint="#665d50",
    line="#cdbfa5",
    edge="#897b62",
    oil="#c4851a",
    froth="#ecd199",
    metal="#9aa0a0",
    wall="#57524b",
    heat="#b3381c",
    good="#235f4d",
    watch="#8a5800",
    bad="#8a1a0b",
    focus="#2a5d8f",
    window="#dfe6d2",
)
DARK = Palette(
    name="dark",
    paper="#14212b",
    sheet="#0e1820",
    raised="#1b2b37",
    ink="#ece4d3",
    faint="#a8aba5",
    line="#344855",
    edge="#6d8495",
    oil="#dda236",
    froth="#80632c",
    metal="#6f818c",
    wall="#b9b3a5",
    heat="#ff8263",
    good="#80c8aa",
    watch="#f6d98c",
    bad="#f0745c",
    focus="#8fc1ee",
    window="#1d3a37",
)
CLEAR_LIGHT = Palette(
    name="clear light",
    paper="#ffffff",
    sheet="#ffffff",
    raised="#ffffff",
    ink="#000000",
    faint="#2e2a24",
    line="#6b6459",
    edge="#000000",
    oil="#8a5600",
    froth="#e8c988",
    metal="#6f7575",
    wall="#000000",
    heat="#8f2000",
    good="#00402a",
    watch="#764900",
    bad="#8f0000",
    focus="#00338f",
    window="#d5e6c2",
)
CLEAR_DARK = Palette(
    name="clear dark",
    paper="#000000",
    sheet="#000000",
    raised="#000000",
    ink="#ffffff",
    faint="#dedacf",
    line="#93a5b1",
    edge="#ffffff",
    oil="#ffbf4d",
    froth="#7a5f2a",
    metal="#9fb0ba",
    wall="#ffffff",
    heat="#ff9a80",
    good="#7dffc8",
    watch="#ffe48a",
    bad="#ff9c8a",
    focus="#9fd2ff",
    window="#10382f",
)
"""The two of high contrast: text 7:1 and more, lines 3:1 and more."""

VERDICT_COLOR = {"holds": "good", "watch": "watch", "fails": "bad"}


@cache
def load_fonts() -> bool:
    """Register the fonts that ship with Gravidon; return whether all loaded."""
    loaded = True
    for weight in ("Regular", "SemiBold"):
        file = resources.files("gravidon.draw").joinpath(f"fonts/IBMPlexSans-{weight}.woff")
        number = QFontDatabase.addApplicationFontFromData(QByteArray(file.read_bytes()))
        loaded = loaded and number >= 0
    return loaded


def font(size: float = BODY, bold: bool = False) -> QFont:
    """Return the application's type at a pixel size."""
    return QFont(_font(size, bold))


LEAST = 10
"""[px] smallest type that a tight place may shrink to."""


def wrapping_size(text: str, room: float, size: float, least: float, bold: bool = False) -> float:
    """Return the pixel size, not under `least`, at which no word of a wrapped text is wider than its room [px]."""
    metrics = QFontMetricsF(font(size, bold))
    widest = max((metrics.horizontalAdvance(word) for word in text.split()), default=0.0)
    return size if widest <= room else max(size * room / widest, least)


def fitting(text: str, room: QSizeF, size: float, bold: bool = False) -> QFont:
    """Return the type, not under LEAST, at which a text in lines fits a box [px]: no word wider, no line below."""
    face = font(size, bold)
    for pixels in range(round(size), LEAST - 1, -1):
        face = font(pixels, bold)
        box = QFontMetricsF(face).boundingRect(
            QRectF(0, 0, room.width(), 1e4), int(Qt.TextFlag.TextWordWrap), text
        )
        if box.width() <= room.width() and box.height() <= room.height():
            break
    return face


def fitted_text(
    painter: QPainter, at: QPointF, text: str, room: float, size: float, bold: bool = False
) -> None:
    """Write text on a baseline, smaller where it would not fit; only what does not fit at LEAST is cut."""
    face = font(size, bold)
    for pixels in range(round(size), LEAST - 1, -1):
        face = font(pixels, bold)
        if QFontMetricsF(face).horizontalAdvance(text) <= room:
            break
    painter.setFont(face)
    words = QFontMetricsF(face).elidedText(text, Qt.TextElideMode.ElideRight, room)
    painter.drawText(at, words)


def wrapped(words: str, room: float, face: QFont, most: int = 3) -> list[str]:
    """Return text in lines that fit a room [px]; the last is cut short where there are too many."""
    metrics = QFontMetricsF(face)
    lines, line = [], ""
    for word in words.split():
        longer = f"{line} {word}".strip()
        if line and metrics.horizontalAdvance(longer) > room:
            lines.append(line)
            line = word
        else:
            line = longer
    lines.append(line)
    if len(lines) > most:
        rest = " ".join(lines[most - 1 :])
        lines = [*lines[: most - 1], metrics.elidedText(rest, Qt.TextElideMode.ElideRight, room)]
    return lines


@lru_cache(maxsize=64)
def _font(size: float, bold: bool) -> QFont:
    load_fonts()
    made = QFont(FONT_FAMILY)
    made.setFeature(QFont.Tag("liga"), 0)  # a ligature in a PDF hides its letters from a search
    made.setPixelSize(max(round(size), 1))
    made.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    return made
