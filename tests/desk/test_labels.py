# SPDX-License-Identifier: GPL-3.0-or-later
"""Where names, flags and figures stand in a drawing, and what their leaders run over."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, QRectF, QSizeF
from PyQt6.QtGui import QImage, QPainter
from pytestqt.qtbot import QtBot

from gravidon.desk import theme
from gravidon.draw import whole_way
from gravidon.draw.ink import Ink
from gravidon.draw.labels import Labels, Placed
from gravidon.draw.whole_way_words import Layout
from gravidon.plan.demos import NAMES as NAMES_OF_DEMOS
from gravidon.plan.demos import demo_plan
from gravidon.study.verdict.trials import trial


def test_labels_never_touch() -> None:
    """Forty labels round one anchor beside a filled square and a line: none touches another, the square, the line or the
    edge; what finds no room is left out."""
    bounds, square = QRectF(0, 0, 400, 300), QRectF(150, 100, 80, 60)
    labels = Labels(bounds)
    labels.block([square])
    labels.block_line([QPointF(0, 250), QPointF(400, 250)], 10.0)
    placed = [labels.place(QPointF(190, 130), QSizeF(60, 20)) for _ in range(40)]
    rects = [p.rect for p in placed if p is not None]
    assert 5 < len(rects) < 40
    for k, rect in enumerate(rects):
        assert bounds.contains(rect)
        assert not rect.intersects(square)
        assert not rect.intersects(QRectF(0, 245, 400, 10))
        assert not any(rect.intersects(other) for other in rects[k + 1 :])


def under(leader: tuple[QPointF, QPointF], rect: QRectF) -> bool:
    """Whether a leader runs over a rectangle, looked at every half pixel."""
    a, b = leader
    shares = np.linspace(0.0, 1.0, max(int(2.0 * np.hypot(b.x() - a.x(), b.y() - a.y())), 2))
    return any(rect.contains(a + s * (b - a)) for s in shares)


def over_words(placed: list[Placed]) -> list[tuple[int, int]]:
    """Return which leaders run over which other words; not counted where the words were put where a leader was already."""
    return [
        (k, n)
        for k, p in enumerate(placed)
        for n, other in enumerate(placed)
        if k != n and p.leader is not None and under(p.leader, other.rect)
    ]


def test_leaders_stay_off_other_words(qtbot: QtBot) -> None:
    """Places along a line close together, words wide: most stand off, and no leader runs over words."""
    labels = Labels(QRectF(0, 0, 900, 500))
    labels.block_line([QPointF(180, 250), QPointF(560, 250)], 10.0)
    placed = [labels.place(QPointF(200.0 + 25.0 * k, 250.0), QSizeF(110, 18)) for k in range(14)]
    there = [p for p in placed if p is not None]
    assert len(there) == 14
    assert not over_words(there)
    assert sum(p.leader is not None for p in there) > 7


def test_a_figure_is_left_out_rather_than_led_over_words() -> None:
    """A row of words all round an anchor: what is needed finds a place beyond, what is not needed is left out."""
    labels = Labels(QRectF(0, 0, 400, 400))
    for rect in (
        QRectF(150, 150, 100, 20),
        QRectF(150, 230, 100, 20),
        QRectF(150, 170, 20, 60),
        QRectF(230, 170, 20, 60),
    ):
        labels.write(rect)
    anchor, size = QPointF(200, 200), QSizeF(80, 30)
    assert labels.place(anchor, size, needed=False) is None
    assert labels.place(anchor, size) is not None


@pytest.mark.parametrize("name", NAMES_OF_DEMOS)
@pytest.mark.parametrize("size", [(698, 250), (698, 292), (700, 390), (780, 420), (1080, 560), (1720, 820)])
def test_no_leader_of_the_whole_way_runs_over_words(
    qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, name: str, size: tuple[int, int]
) -> None:
    """From the sheet's small picture to a large window."""
    placed: list[Placed] = []
    stands, lays_out = Labels._stands, whole_way.lay_out

    def kept(self: Labels, *arguments: Any) -> Placed:
        placed.append(stands(self, *arguments))
        return placed[-1]

    def laid(*arguments: Any) -> Layout:
        before = [*placed]
        found = lays_out(*arguments)
        placed[:] = [
            *before,
            *found.names.values(),
            *found.flags.values(),
        ]  # what was tried in vain is not painted
        return found

    monkeypatch.setattr(Labels, "_stands", kept)
    monkeypatch.setattr(whole_way, "lay_out", laid)
    image = QImage(*size, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    tried = trial(demo_plan(name))
    ink = Ink(painter, theme.PALETTES["light"], "metric")
    whole_way.paint(ink, QRectF(0, 0, *size), tried.evaluation, 3, tried.findings, {})
    painter.end()
    assert len(placed) > 8
    assert not over_words(placed)


@pytest.mark.parametrize("size", [(698, 250), (780, 420), (1080, 560)])
def test_names_and_flags_stand_off_the_other_turbos_drain(
    qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, size: tuple[int, int]
) -> None:
    scenes, painted = [], whole_way.paint_scene

    def kept(*arguments: Any) -> whole_way.Scene:
        scenes.append(painted(*arguments))
        return scenes[-1]

    monkeypatch.setattr(whole_way, "paint_scene", kept)
    image = QImage(*size, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    tried = trial(demo_plan("van"))
    ink = Ink(painter, theme.PALETTES["light"], "metric")
    made = whole_way.paint(ink, QRectF(0, 0, *size), tried.evaluation, 3, tried.findings, {})
    painter.end()
    (other,) = scenes[0].view.others
    line = [
        scenes[0].frame.at(a + share * (b - a)) for a, b in pairwise(other) for share in np.linspace(0, 1, 50)
    ]
    assert len(line) >= 50
    for rect in (*(p.rect for p in made.places), *(rect for _, rect in made.flags)):
        assert not any(rect.contains(at) for at in line)
