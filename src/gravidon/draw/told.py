# SPDX-License-Identifier: GPL-3.0-or-later
"""What a drawing says in words: every text it would write, with its place, read off by drawing it on no surface at all."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPaintDevice, QPaintEngine, QPainter, QTextItem

from gravidon.draw.surface import painter_on

SAME_LINE_PX, SAME_WORDS_PX = 2.5, 7.0
"""[px] how far two pieces of one line may lie apart, up and sideways; project choice."""


@dataclass(frozen=True)
class Written:
    """A piece of text and where it stands, in device pixels."""

    text: str
    rect: QRectF


class _Engine(QPaintEngine):
    """Keeps text, forgets lines and shapes."""

    def __init__(self) -> None:
        super().__init__(QPaintEngine.PaintEngineFeature.AllFeatures)
        self.written: list[Written] = []

    def begin(self, device: QPaintDevice | None) -> bool:
        return True

    def end(self) -> bool:
        return True

    def type(self) -> QPaintEngine.Type:
        return QPaintEngine.Type.User

    def updateState(self, state: object) -> None:
        pass

    def drawTextItem(self, at: QPointF, item: QTextItem) -> None:
        painter = self.painter()
        assert painter is not None  # noqa: S101  Qt calls this between begin and end
        rect = QRectF(at.x(), at.y() - item.ascent(), item.width(), item.ascent() + item.descent())
        self.written.append(Written(item.text(), painter.combinedTransform().mapRect(rect)))

    def drawPath(self, path: object) -> None:
        pass

    def drawPolygon(self, *args: object) -> None:
        pass

    def drawRects(self, *args: object) -> None:
        pass

    def drawLines(self, *args: object) -> None:
        pass

    def drawEllipse(self, *args: object) -> None:
        pass

    def drawPoints(self, *args: object) -> None:
        pass

    def drawPixmap(self, *args: object) -> None:
        pass

    def drawImage(self, *args: object) -> None:
        pass


class Recorder(QPaintDevice):
    """Paint on it, then read `written`. It is a screen of 96 dpi of a size in pixels."""

    def __init__(self, width: int, height: int) -> None:
        super().__init__()
        self.size = (width, height)
        self._engine = _Engine()

    @property
    def written(self) -> list[Written]:
        """All text so far."""
        return self._engine.written

    def paintEngine(self) -> QPaintEngine:
        """The engine that writes down."""
        return self._engine

    def metric(self, which: QPaintDevice.PaintDeviceMetric) -> int:
        """A screen of 96 dpi."""
        metrics = QPaintDevice.PaintDeviceMetric
        known = {
            metrics.PdmWidth: self.size[0],
            metrics.PdmHeight: self.size[1],
            metrics.PdmDpiX: 96,
            metrics.PdmDpiY: 96,
            metrics.PdmPhysicalDpiX: 96,
            metrics.PdmPhysicalDpiY: 96,
            metrics.PdmDevicePixelRatio: 1,
            metrics.PdmWidthMM: round(self.size[0] / 96 * 25.4),
            metrics.PdmHeightMM: round(self.size[1] / 96 * 25.4),
            metrics.PdmNumColors: 2**24 - 1,
            metrics.PdmDepth: 32,
            metrics.PdmDevicePixelRatioScaled: 65536,
        }
        return known.get(which, 0)


def told(paint: Callable[[QPainter], None], width: int, height: int) -> list[Written]:
    """Return what a drawing of a size [px] writes, pieces of one line joined, in the order in which they are painted."""
    device = Recorder(width, height)
    with painter_on(device) as painter:
        paint(painter)
    joined: list[Written] = []
    for piece in device.written:
        if not piece.text.strip():
            continue
        last = joined[-1] if joined else None
        if (
            last is not None
            and abs(last.rect.center().y() - piece.rect.center().y()) < SAME_LINE_PX
            and -SAME_WORDS_PX < piece.rect.left() - last.rect.right() < SAME_WORDS_PX
        ):
            between = "" if last.text.endswith(" ") or piece.text.startswith(" ") else " "
            near = piece.rect.left() - last.rect.right() < 1.0
            text = last.text + ("" if near else between) + piece.text
            joined[-1] = Written(text, last.rect.united(piece.rect))
        else:
            joined.append(piece)
    return joined
