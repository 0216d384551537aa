# SPDX-License-Identifier: GPL-3.0-or-later
"""The handbook's figures: the plan as it is, by the painters of the window; by the names that the pages use."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QRectF

from gravidon.draw import (
    breather_chart,
    cascade,
    chain_chart,
    run_strip,
    scavenge_chart,
    source_chart,
    tap_section,
    whole_way,
)
from gravidon.draw import elevation as drawing
from gravidon.draw.geometry.elevation import elevation
from gravidon.draw.ink import Ink
from gravidon.study.making.parts_list import runs
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.supply.cascade import cascade as steps_of

Paint = Callable[[Ink, QRectF, Evaluation, int], None]
"""Paints into a rectangle what an evaluation is in a condition."""


def _whole(ink: Ink, rect: QRectF, e: Evaluation, condition: int) -> None:
    whole_way.paint(ink, rect, e, condition, (), {})


def _source(ink: Ink, rect: QRectF, e: Evaluation, condition: int) -> None:
    source_chart.paint(ink, rect, e)


def _tap(ink: Ink, rect: QRectF, e: Evaluation, condition: int) -> None:
    tap_section.paint(ink, rect, e.plan)


def _cascade(ink: Ink, rect: QRectF, e: Evaluation, condition: int) -> None:
    low, high = e.window_pa[condition]
    cascade.paint(ink, rect, steps_of(e, condition, ink.family), (float(low), float(high)))


def _drain(ink: Ink, rect: QRectF, e: Evaluation, condition: int) -> None:
    picture = elevation(e, condition, "front")
    drawing.paint(ink, rect, drawing.fit(picture, rect), e, condition, picture, handles=False, main=False)


def _strip(ink: Ink, rect: QRectF, e: Evaluation, condition: int) -> None:
    run_strip.paint(ink, rect, e, condition)


def _breather(ink: Ink, rect: QRectF, e: Evaluation, condition: int) -> None:
    breather_chart.paint_scheme(ink, rect, e, condition)


def _circuit(ink: Ink, rect: QRectF, e: Evaluation, condition: int) -> None:
    scavenge_chart.paint_circuit(ink, rect, e)


def _chain(ink: Ink, rect: QRectF, e: Evaluation, condition: int) -> None:
    lines = [run for run in runs(e.plan) if run.turbo == e.index and not run.missing][:2]
    for k, run in enumerate(lines):
        top = rect.top() + (rect.height() - chain_chart.STRIP * len(lines)) / 2 + chain_chart.STRIP * k
        chain_chart.paint_numbered(ink, QRectF(rect.left(), top, rect.width(), chain_chart.STRIP), run)


@dataclass(frozen=True)
class Figure:
    """One figure: what paints it, and the size [px] that its words are laid out for; it is scaled to the page."""

    paint: Paint
    width: int
    height: int


FIGURES: dict[str, Figure] = {
    "whole": Figure(_whole, 620, 350),
    "source": Figure(_source, 440, 270),
    "tap": Figure(_tap, 440, 200),
    "cascade": Figure(_cascade, 600, 290),
    "drain": Figure(_drain, 440, 280),
    "strip": Figure(_strip, 500, 134),
    "breather": Figure(_breather, 500, 250),
    "circuit": Figure(_circuit, 500, 230),
    "chain": Figure(_chain, 540, 200),
}
