# SPDX-License-Identifier: GPL-3.0-or-later
"""Places for words: labels that touch neither one another, nor what is drawn, nor the edge; with a leader where they stand off.

The most important label is placed first, as near to what it names as there is room; one that finds none is left out
rather than laid over something else.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF
from PyQt6.QtGui import QPolygonF

from gravidon.physics.arrays import Array

AWAY = (10.0, 22.0, 38.0, 58.0, 84.0, 116.0, 156.0, 204.0, 260.0)
"""[px] rings round an anchor on which a label is tried; project choice."""
ANGLES = tuple(np.radians(a) for a in (-60, -120, 0, 180, 60, 120, -90, 90, -30, -150, 30, 150))
"""Directions tried on each ring, the likeliest first (screen angles: negative is up)."""
CLEAR = 4.0
"""[px] kept free round a label."""
NAMED = 12.0
"""[px] round an anchor in which what it names may be crossed by its leader; project choice."""
CROSSING = 70.0
"""[px] that a place may be further away to save its leader from running through something; project choice."""
LEADER = 16.0
"""[px] from which a label wants a leader to its anchor."""


@dataclass(frozen=True)
class Placed:
    """Where a label stands, and the leader it needs (None: it stands beside its anchor)."""

    rect: QRectF
    leader: tuple[QPointF, QPointF] | None


@dataclass
class Labels:
    """The free room of one drawing. `taken` is what is filled: by shapes, by lines, by labels placed before."""

    bounds: QRectF
    taken: list[QRectF] = field(default_factory=list)
    _edges: Array = field(default_factory=lambda: np.empty((0, 4)), repr=False)
    _counted: int = 0

    def _boxes(self) -> Array:
        """Return what is filled as (boxes, 4): left, top, right, bottom; what has no area fills nothing."""
        if self._counted != len(self.taken):
            new = self.taken[self._counted :]
            edges = np.array([(r.left(), r.top(), r.right(), r.bottom()) for r in new]).reshape(-1, 4)
            edges = edges[(edges[:, 2] > edges[:, 0]) & (edges[:, 3] > edges[:, 1])]
            self._edges = np.concatenate([self._edges, edges])
            self._counted = len(self.taken)
        return self._edges

    def block(self, rects: Iterable[QRectF]) -> None:
        """Keep labels off rectangles."""
        self.taken.extend(QRectF(r) for r in rects)

    def block_polygon(self, line: QPolygonF, width: float) -> None:
        """Keep labels off a line of points of some width [px]."""
        self.block_line([QPointF(line.at(k)) for k in range(line.count())], width)

    def block_line(self, line: Iterable[QPointF], width: float) -> None:
        """Keep labels off a line of some width [px]."""
        points = list(line)
        for a, b in pairwise(points):
            length = float(np.hypot(b.x() - a.x(), b.y() - a.y()))
            steps = max(int(length / max(width, 6.0)), 1)
            for k in range(steps + 1):
                share = k / steps
                x, y = a.x() + share * (b.x() - a.x()), a.y() + share * (b.y() - a.y())
                self.taken.append(QRectF(x - width / 2, y - width / 2, width, width))

    def free(self, rect: QRectF) -> bool:
        """Whether a label would touch nothing there."""
        if not self.bounds.contains(rect):
            return False
        left, top, right, bottom = self._boxes().T
        return not bool(
            (
                (left < rect.right() + CLEAR)
                & (right > rect.left() - CLEAR)
                & (top < rect.bottom() + CLEAR)
                & (bottom > rect.top() - CLEAR)
            ).any()
        )

    def place(self, anchor: QPointF, size: QSizeF, reach: float = AWAY[-1]) -> Placed | None:
        """Return a free place near an anchor and fill it; None where there is none within reach [px]."""
        best: tuple[float, QRectF, QPointF] | None = None
        for away in (a for a in AWAY if a <= reach):
            if best is not None and best[0] <= away:
                break
            for turn, angle in enumerate(ANGLES):
                rect = _beside(anchor, size, away, float(angle))
                if not self.free(rect):
                    continue
                foot = QPointF(
                    min(max(anchor.x(), rect.left()), rect.right()),
                    min(max(anchor.y(), rect.top()), rect.bottom()),
                )
                cost = away + CROSSING * self._crossed(anchor, foot) + 0.5 * turn
                if best is None or cost < best[0]:
                    best = cost, rect, foot
        if best is None:
            return None
        _, rect, foot = best
        self.taken.append(rect)
        gap = float(np.hypot(foot.x() - anchor.x(), foot.y() - anchor.y()))
        if gap <= LEADER:
            return Placed(rect, None)
        self.block_line([anchor, foot], 3.0)
        return Placed(rect, (anchor, foot))

    def anywhere(self, anchor: QPointF, size: QSizeF, step: float = 12.0) -> Placed | None:
        """Return the free place nearest to an anchor, however far it is, with its leader; None where the drawing is full."""
        across = np.arange(self.bounds.left(), self.bounds.right() - size.width(), step)
        down = np.arange(self.bounds.top(), self.bounds.bottom() - size.height(), step)
        wide, tall = size.width(), size.height()
        x, y = (v.ravel() for v in np.meshgrid(across, down, indexing="ij"))
        away = (x + wide / 2 - anchor.x()) ** 2 + (y + tall / 2 - anchor.y()) ** 2
        for left, top, right, bottom in self._boxes():
            touched = (
                (left < x + wide + CLEAR)
                & (right > x - CLEAR)
                & (top < y + tall + CLEAR)
                & (bottom > y - CLEAR)
            )
            x, y, away = x[~touched], y[~touched], away[~touched]
        if not len(away):
            return None
        k = int(away.argmin())
        rect = QRectF(float(x[k]), float(y[k]), wide, tall)
        self.taken.append(rect)
        foot = QPointF(
            min(max(anchor.x(), rect.left()), rect.right()),
            min(max(anchor.y(), rect.top()), rect.bottom()),
        )
        return Placed(rect, (anchor, foot))

    def _crossed(self, anchor: QPointF, foot: QPointF) -> int:
        """Return how many filled places a leader would run through; those at its anchor are what it names."""
        length = float(np.hypot(foot.x() - anchor.x(), foot.y() - anchor.y()))
        steps = int(length / 7.0)
        if steps < 2:
            return 0
        left, top, right, bottom = self._boxes().T
        x0, y0 = anchor.x(), anchor.y()
        named = (left - 6 <= x0) & (x0 <= right + 6) & (top - 6 <= y0) & (y0 <= bottom + 6)
        share = np.arange(1, steps)[:, None] / steps
        x, y = x0 + share * (foot.x() - x0), y0 + share * (foot.y() - y0)
        inside = (left <= x) & (x <= right) & (top <= y) & (y <= bottom)
        inside &= ~named | (share * length > NAMED)
        return int(inside.any(axis=1).sum())


def _beside(anchor: QPointF, size: QSizeF, away: float, angle: float) -> QRectF:
    """Return the rectangle of a size that stands off an anchor by a distance in a direction."""
    dx, dy = float(np.cos(angle)), float(np.sin(angle))
    x, y = anchor.x() + away * dx, anchor.y() + away * dy
    left = x - size.width() * (0.5 - 0.5 * np.sign(round(dx, 2)) * min(abs(dx) * 2.0, 1.0))
    top = y - size.height() * (0.5 - 0.5 * np.sign(round(dy, 2)) * min(abs(dy) * 2.0, 1.0))
    return QRectF(float(left), float(top), size.width(), size.height())
