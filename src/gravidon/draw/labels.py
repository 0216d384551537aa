# SPDX-License-Identifier: GPL-3.0-or-later
"""Places for words: labels that touch neither one another, nor what is drawn, nor the edge; with a leader where they stand off.

The most important label is placed first, as near to what it names as there is room; one that finds none is left out
rather than laid over something else.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF
from PyQt6.QtGui import QPolygonF

from gravidon.physics.arrays import Array, Flags

AWAY = (10.0, 22.0, 38.0, 58.0, 84.0, 116.0, 156.0, 204.0, 260.0)
"""[px] rings round an anchor on which a label is tried; project choice."""
LIKELY = (-60, -120, 0, 180, 60, 120, -90, 90, -30, -150, 30, 150)
ANGLES = np.radians([*LIKELY, *(a for a in range(-165, 180, 15) if a not in LIKELY)])
"""Directions tried on each ring, the likeliest first (screen angles: negative is up)."""
CLEAR = 4.0
"""[px] kept free round a label."""
NAMED = 12.0
"""[px] from an anchor on which what it names may be crossed by its leader; project choice."""
CROSSING, OVER_WORDS = 10.0, 1e4
"""[px] that a place may be further away to save its leader a pixel of running through something, and to save it from running
over words, which is worth any way; project choice."""
ASIDE = (0.15, 0.3, 0.7, 0.85)
"""Shares of a label's width at which it is tried over and under its anchor too; project choice."""
AT_A_TIME = 200
"""Places that are looked at before the next, which are further off; project choice."""
STEP = 6.0
"""[px] between the places that are tried over the whole drawing; project choice."""
LEADER = 16.0
"""[px] from which a label wants a leader to its anchor."""


@dataclass(frozen=True)
class Placed:
    """Where a label stands, the leader it needs (None: it stands beside its anchor), and whether that runs over other words."""

    rect: QRectF
    leader: tuple[QPointF, QPointF] | None
    over_words: bool = False


@dataclass
class Labels:
    """The free room of one drawing. `taken` is what is filled: by shapes, by lines, by labels placed before."""

    bounds: QRectF
    taken: list[QRectF] = field(default_factory=list)
    words: list[QRectF] = field(default_factory=list)
    """The labels among what is filled."""
    _edges: Array = field(default_factory=lambda: np.empty((0, 4)), repr=False)
    _counted: int = 0

    def copy(self) -> Labels:
        """Return the same room, to be filled by itself."""
        return Labels(self.bounds, [*self.taken], [*self.words])

    def _boxes(self) -> Array:
        """Return what is filled as (boxes, 4): left, top, right, bottom; what has no area fills nothing."""
        if self._counted != len(self.taken):
            edges = _edges(self.taken[self._counted :])
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

    def write(self, rect: QRectF) -> None:
        """Keep labels off words, and leaders too as far as they can."""
        self.taken.append(rect)
        self.words.append(rect)

    def free(self, rect: QRectF) -> bool:
        """Whether a label would touch nothing there."""
        return bool(self._free(_edges([rect]))[0])

    def _free(self, at: Array) -> Flags:
        """Return which rectangles (places, 4) lie within the bounds and touch nothing."""
        left, top, right, bottom = at.T[:, :, None]
        b = self.bounds
        inside = (left >= b.left()) & (top >= b.top()) & (right <= b.right()) & (bottom <= b.bottom())
        low_x, low_y, high_x, high_y = self._boxes().T
        touched = (low_x < right + CLEAR) & (high_x > left - CLEAR)
        touched &= (low_y < bottom + CLEAR) & (high_y > top - CLEAR)
        free: Flags = inside[:, 0] & ~touched.any(axis=1)
        return free

    def place(
        self, anchor: QPointF, size: QSizeF, reach: float = AWAY[-1], needed: bool = True
    ) -> Placed | None:
        """Return a free place near an anchor and fill it; None where there is none within reach [px], or, for what is not needed,
        none whose leader stays off other words."""
        best, found = np.inf, None
        for away in (a for a in AWAY if a <= reach):
            if best <= away:
                break
            at = _beside(anchor, size, away)
            free = self._free(at)
            cost = away + 0.5 * np.flatnonzero(free) + self._in_the_way(anchor, at[free])
            if len(cost) and cost.min() < best:
                best, found = float(cost.min()), at[free][int(cost.argmin())]
        if best >= OVER_WORDS and needed and found is not None:  # anywhere else is better
            at = self._grid(size)
            apart = _apart(anchor, at)
            for some in _nearest_first(apart):
                if apart[some[0]] >= best:
                    break
                go = some[self._free(at[some])]
                cost = apart[go] + self._in_the_way(anchor, at[go])
                if len(go) and cost.min() < best:
                    best, found = float(cost.min()), at[go[cost.argmin()]]
        if found is None or (best >= OVER_WORDS and not needed):
            return None
        return replace(self._stands(anchor, found), over_words=best >= OVER_WORDS)

    def anywhere(self, anchor: QPointF, size: QSizeF) -> Placed | None:
        """Return the free place nearest to an anchor, however far it is, its leader under what else comes; None where
        the drawing is full."""
        at = self._grid(size)
        middles = 0.5 * (at[:, :2] + at[:, 2:]) - np.array([anchor.x(), anchor.y()])
        for go in _nearest_first(np.linalg.norm(middles, axis=1)):
            free = self._free(at[go])
            if free.any():
                return self._stands(anchor, at[go[free.argmax()]], False)
        return None

    def _grid(self, size: QSizeF) -> Array:
        """Return the places (places, 4) of a label on a grid over the whole drawing, free or not."""
        b, wide, tall = self.bounds, size.width(), size.height()
        across = np.arange(b.left(), b.right() - wide, STEP)
        down = np.arange(b.top(), b.bottom() - tall, STEP)
        x, y = (v.ravel() for v in np.meshgrid(across, down, indexing="ij"))
        return np.stack([x, y, x + wide, y + tall], axis=1)

    def _stands(self, anchor: QPointF, at: Array, led_clear: bool = True) -> Placed:
        """Return a label where it stands (4,), with the leader it needs, and fill what it takes; its leader too where others are
        to stay clear of it."""
        left, top, right, bottom = (float(v) for v in at)
        rect = QRectF(left, top, right - left, bottom - top)
        foot = QPointF(min(max(anchor.x(), left), right), min(max(anchor.y(), top), bottom))
        self.write(rect)
        if float(np.hypot(foot.x() - anchor.x(), foot.y() - anchor.y())) <= LEADER:
            return Placed(rect, None)
        if led_clear:
            self.block_line([anchor, foot], 3.0)
        return Placed(rect, (anchor, foot))

    def _in_the_way(self, anchor: QPointF, at: Array) -> Array:
        """Return what it costs [px] that the leaders to places (places, 4) run through what is filled; over what an anchor is at,
        which is what it names, a leader may go for a bit."""
        start = np.array([anchor.x(), anchor.y()])
        ways = np.clip(start, at[:, :2], at[:, 2:]) - start
        boxes = self._boxes()
        named = ((boxes[:, :2] - 6.0 <= start) & (start <= boxes[:, 2:] + 6.0)).all(axis=1)
        through = _through(start, ways, boxes, np.where(named, NAMED, 0.0)).sum(axis=1)
        words = _through(start, ways, _edges(self.words), np.zeros(len(self.words))) > 0.0
        cost: Array = CROSSING * through + OVER_WORDS * words.sum(axis=1)
        return cost


def _nearest_first(far: Array) -> Iterator[np.ndarray]:
    """Yield the numbers of places, nearest first, some at a time."""
    order = np.argsort(far, kind="stable")
    for begin in range(0, len(far), AT_A_TIME):
        yield order[begin : begin + AT_A_TIME]


def _apart(anchor: QPointF, at: Array) -> Array:
    """Return how far [px] places (places, 4) are from an anchor."""
    start = np.array([anchor.x(), anchor.y()])
    apart: Array = np.linalg.norm(np.clip(start, at[:, :2], at[:, 2:]) - start, axis=1)
    return apart


def _edges(rects: Sequence[QRectF]) -> Array:
    return np.array([(r.left(), r.top(), r.right(), r.bottom()) for r in rects]).reshape(-1, 4)


def _through(start: Array, ways: Array, boxes: Array, spared: Array) -> Array:
    """Return how far [px] straight ways (ways, 2) from a start run through boxes (boxes, 4), (ways, boxes): what is between the
    two sides of a box across and along; the first stretch of the way is spared."""
    length = np.maximum(np.linalg.norm(ways, axis=1), 1e-9)[:, None]
    enters, leaves = spared / length, np.float64(1.0)
    for axis in (0, 1):
        step = np.where(np.abs(ways[:, axis]) < 1e-9, 1e-9, ways[:, axis])[:, None]
        one, other = (boxes[:, axis] - start[axis]) / step, (boxes[:, axis + 2] - start[axis]) / step
        enters = np.maximum(enters, np.minimum(one, other))
        leaves = np.minimum(leaves, np.maximum(one, other))
    through: Array = np.maximum(leaves - enters, 0.0) * length
    return through


def _beside(anchor: QPointF, size: QSizeF, away: float) -> Array:
    """Return the rectangles of a size (ANGLES + 2 ASIDE, 4) that stand off an anchor by a distance in every direction, and
    shifted aside over and under it."""
    ways = np.stack([np.cos(ANGLES), np.sin(ANGLES)], axis=1)
    sizes = np.array([size.width(), size.height()])
    turned = np.sign(np.round(ways, 2)) * np.minimum(np.abs(ways) * 2.0, 1.0)
    off = away * ways - sizes * (0.5 - 0.5 * turned)
    left = -sizes[0] * np.array(ASIDE)
    over, under = (np.stack([left, np.full_like(left, y)], axis=1) for y in (-away - sizes[1], away))
    low = np.array([anchor.x(), anchor.y()]) + np.concatenate([off, over, under])
    return np.concatenate([low, low + sizes], axis=1)
