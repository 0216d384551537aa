"""A paint device that writes down every piece of text with the rectangle it takes, for tests of labels."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPaintDevice, QPaintEngine, QTextItem


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
        self.transform = None

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
        assert painter is not None
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
    """Paint on it, then read `written`."""

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


def inside(rect: QRectF, area: QRectF, slack: float = 1.5) -> bool:
    """Whether a text's rectangle lies inside an area, but for a pixel."""
    return area.adjusted(-slack, -slack, slack, slack).contains(rect)
