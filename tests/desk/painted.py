# SPDX-License-Identifier: GPL-3.0-or-later
"""What is written while a widget paints: every text with its place, and what was cut; for walks over all pages."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import Any

from PyQt6.QtCore import QPoint, QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QFontMetrics, QFontMetricsF, QPainter, QPixmap, QRegion
from PyQt6.QtWidgets import QWidget


@dataclass
class Written:
    """Texts as (words, rectangle in the widget), and words that were cut."""

    texts: list[tuple[str, QRectF]] = field(default_factory=list)
    cut: list[str] = field(default_factory=list)


def _extent(painter: QPainter, args: tuple[Any, ...]) -> tuple[str, QRectF] | None:
    metrics = QFontMetricsF(painter.font())
    if isinstance(args[0], (QPointF, QPoint)):
        at, text = QPointF(args[0]), str(args[1])
        box = metrics.tightBoundingRect(text)
        return text, QRectF(at.x() + box.left(), at.y() + box.top(), box.width(), box.height())
    if isinstance(args[0], (QRectF, QRect)) and isinstance(args[1], int):
        rect, flags, text = QRectF(args[0]), args[1], str(args[2])
        return text, metrics.boundingRect(rect, flags, text).adjusted(0, 2, 0, -2)
    return None


PATCHED = ((QPainter, "drawText"), (QFontMetrics, "elidedText"), (QFontMetricsF, "elidedText"))


@contextmanager
def watched() -> Iterator[Written]:
    """Record every text that is painted inside."""
    written = Written()
    kept = [(kind, name, kind.__dict__[name]) for kind, name in PATCHED]
    draw, elide, elide_f = QPainter.drawText, QFontMetrics.elidedText, QFontMetricsF.elidedText

    def drawn(self: QPainter, *args: Any) -> Any:
        found = _extent(self, args)
        if found is not None and found[0].strip():
            text, rect = found
            place = self.combinedTransform().mapRect(rect)
            ratio = self.device().devicePixelRatioF() if self.device() is not None else 1.0
            place = QRectF(
                place.x() / ratio, place.y() / ratio, place.width() / ratio, place.height() / ratio
            )
            if not self.hasClipping() or self.combinedTransform().mapRect(self.clipBoundingRect()).intersects(
                place
            ):
                written.texts.append((text, place))
        return draw(self, *args)

    def cut(original: Any) -> Any:
        def elided(self: Any, text: str, *rest: Any) -> str:
            made = original(self, text, *rest)
            if made != text:
                written.cut.append(text)
            return str(made)

        return elided

    QPainter.drawText, QFontMetrics.elidedText, QFontMetricsF.elidedText = drawn, cut(elide), cut(elide_f)  # type: ignore[method-assign]
    try:
        yield written
    finally:
        for kind, name, method in kept:
            setattr(kind, name, method)


def painted(widget: QWidget) -> Written:
    """Paint one widget (not its children) and return what it wrote."""
    with watched() as written:
        picture = QPixmap(widget.size())
        picture.fill(Qt.GlobalColor.white)
        widget.render(picture, QPoint(), QRegion(widget.rect()), QWidget.RenderFlag.DrawWindowBackground)
    return written


def faults(widget: QWidget, written: Written) -> list[str]:
    """Return what a reader would trip over: words over words, words over the edge, words cut short."""
    found = [f"cut: {text!r}" for text in written.cut]
    room = QRectF(widget.rect()).adjusted(-1, -1, 1, 1)
    found += [
        f"over the edge: {text!r} {rect.getRect()}" for text, rect in written.texts if not room.contains(rect)
    ]
    return found + overlaps(written)


def overlaps(written: Written, by: float = 1.5) -> list[str]:
    """Return the texts that stand on others, by more than so much either way."""
    found, texts = [], written.texts
    for k, (text, rect) in enumerate(texts):
        for other, place in texts[k + 1 :]:
            shared = rect.intersected(place)
            if other != text and shared.width() > by and shared.height() > by:
                found.append(f"{text!r} on {other!r}")
    return found
