# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint where a build step happens: the drain in the cold car with the place ringed, or the feed's parts with theirs."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt

from gravidon.draw import chain_chart, marks
from gravidon.draw import elevation as drawing
from gravidon.draw.frame import Frame
from gravidon.draw.geometry.elevation import Elevation, elevation
from gravidon.draw.ink import Ink
from gravidon.draw.labels import Labels
from gravidon.draw.style import BOLD, HAIR, SMALL, font
from gravidon.physics.arrays import Array
from gravidon.study.making.parts_list import LineRun, runs
from gravidon.study.making.step import Step
from gravidon.study.solve.evaluate import Evaluation
from gravidon.translate import commas
from gravidon.words.text import N_, tr

PLACES = {
    "clock": "turbo", "hang": "turbo", "drain-flange": "flange", "cut-drain": "hose", "drain-join": "lower end",
    "entry": "entry", "entry-fit": "entry", "pan-off": "pan", "pan-on": "pan", "clean": "pan", "drain-oil": "pan",
}  # fmt: skip
"""Steps that happen somewhere along the drain: where."""
SAID = {
    "turbo": N_("turbo"),
    "flange": N_("flange"),
    "hose": N_("hose"),
    "lower end": N_("lower end"),
    "entry": N_("entry"),
    "pan": N_("pan"),
}
"""What those places are called."""
FEED_STEPS = {
    "tap": "tap",
    "feed": "line",
    "cut-feed": "hose",
    "restrictor": "restrictor",
    "flange-hole": "flange",
}
"""Steps that happen along the feed: what of it is meant."""


def stem(step: Step) -> tuple[str, int]:
    """Return a step's name without the turbo's number, and that number (0 where it has none)."""
    head, _, tail = step.key.rpartition("-")
    return (head, int(tail)) if tail.isdigit() else (step.key, 0)


def has_place(step: Step) -> bool:
    """Return whether there is a place to be shown."""
    return stem(step)[0] in PLACES or stem(step)[0] in FEED_STEPS


def numbers_joints(step: Step) -> bool:
    """Return whether the picture numbers the joints that the step lists."""
    return stem(step)[0] in ("tap", "feed")


def height_of(step: Step) -> int:
    """Return how tall the picture is [px]: a line of parts is low, the car is not."""
    return int(chain_chart.STRIP) + 12 if stem(step)[0] in FEED_STEPS else 210


def paint(ink: Ink, rect: QRectF, evaluations: tuple[Evaluation, ...], step: Step) -> None:
    """Paint a step's place; nothing for a step that has none.

    Args:
        ink: painter, colours, units.
        rect: the surface.
        evaluations: the plan's evaluation, one for each turbo.
        step: the step.
    """
    name, turbo = stem(step)
    e = evaluations[min(turbo, len(evaluations) - 1)]
    ink.painter.save()
    ink.painter.setFont(font(SMALL))
    if name in FEED_STEPS:
        _feed(ink, rect, e, FEED_STEPS[name])
    elif name in PLACES:
        _drain(ink, rect, e, PLACES[name])
    ink.painter.restore()


def _drain(ink: Ink, rect: QRectF, e: Evaluation, place: str) -> None:
    frame, picture = _cold_car(ink, rect, rect, e)
    spot, radius = _spot(frame, picture, place)
    ring(ink, spot, radius)
    marks.clear_text(
        ink,
        QPointF(rect.left() + 10, rect.top() + 18),
        tr("here: the {place}").format(place=tr(SAID[place])),
        "focus",
    )


def _cold_car(ink: Ink, rect: QRectF, within: QRectF, e: Evaluation) -> tuple[Frame, Elevation]:
    """Paint the drain with the engine off, fitted into a part of the surface; return its frame and geometry."""
    cold = next((k for k, c in enumerate(e.plan.conditions) if not c.kind.turning), 0)
    picture = elevation(e, cold, "front")
    frame = drawing.fit(picture, within, 22.0)
    drawing.paint_behind(ink, rect, frame, picture)
    drawing.paint_oil_and_walls(ink, frame, e, picture, 0.0)
    return frame, picture


MAP_PX = 190.0
"""[px] how tall the map of the steps is."""


def paint_map(ink: Ink, rect: QRectF, e: Evaluation, steps: Sequence[Step]) -> dict[str, tuple[int, ...]]:
    """Paint one turbo's drain in the cold car with the numbers of the steps at their places, and return them by place.

    Args:
        ink: painter, colours, units.
        rect: the surface.
        e: the turbo's evaluation.
        steps: the whole sequence; those without a turbo's number belong to every turbo's map.
    """
    found: dict[str, list[int]] = {}
    for number, step in enumerate(steps, start=1):
        name, turbo = stem(step)
        if name in PLACES and (turbo == e.index or step.key == name):
            found.setdefault(PLACES[name], []).append(number)
    ink.painter.save()
    ink.painter.setFont(font(SMALL))
    frame, picture = _cold_car(ink, rect, rect.adjusted(70, 0, -70, 0), e)
    labels = Labels(rect.adjusted(2, 2, -2, -2))
    labels.block_polygon(frame.polygon(picture.stations), float(picture.bore_mm.max()) * frame.scale + 8.0)
    labels.block([frame.polygon(picture.housing).boundingRect()])
    for pan in picture.pans:
        labels.block_polygon(frame.polygon(np.concatenate([pan, pan[:1]])), 4.0)
    metrics = ink.painter.fontMetrics()
    for place, numbers in found.items():
        words = f"{tr(SAID[place])}: {commas(map(str, numbers))}"
        anchor = _spot(frame, picture, place)[0]
        placed = labels.place(anchor, QSizeF(metrics.horizontalAdvance(words) + 4, metrics.height()))
        if placed is None:
            continue
        if placed.leader is not None:
            ink.painter.setPen(ink.palette.pen("faint", HAIR))
            ink.painter.drawLine(*placed.leader)
        marks.halo_text(ink, QPointF(placed.rect.left() + 2, placed.rect.top() + metrics.ascent()), words)
    ink.painter.restore()
    return {place: tuple(numbers) for place, numbers in found.items()}


def _spot(frame: Frame, picture: Elevation, place: str) -> tuple[QPointF, QPointF]:
    """Return the middle and the half sizes [px] of what is ringed."""
    run = picture.stations
    points: dict[str, Array] = {
        "turbo": picture.housing,
        "flange": run[:2],
        "hose": run[len(run) // 6 : -len(run) // 6],
        "lower end": run[-len(run) // 5 :],
        "entry": run[-1:],
        "pan": picture.pans[0],
    }
    box = frame.polygon(points[place]).boundingRect()
    return box.center(), QPointF(max(0.5 * box.width() + 14, 22.0), max(0.5 * box.height() + 14, 22.0))


def ring(ink: Ink, at: QPointF, half: QPointF) -> None:
    """Draw a ring round a place, in the colour of what is chosen."""
    ink.painter.setRenderHint(ink.painter.RenderHint.Antialiasing)
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    ink.painter.setPen(ink.palette.pen("focus", BOLD))
    ink.painter.drawRoundedRect(QRectF(at - half, at + half), 12, 12)


def _feed(ink: Ink, rect: QRectF, e: Evaluation, what: str) -> None:
    run = _feed_run(e, what)
    if run is None:
        return
    strip = QRectF(rect.left(), rect.center().y() - 0.5 * chain_chart.STRIP, rect.width(), chain_chart.STRIP)
    spots = chain_chart.paint_numbered(ink, strip, run)
    if not spots:
        marks.clear_text(ink, strip.center(), tr("no parts are found for this line"), "bad", "centre")
        return
    wanted = {
        "restrictor": lambda p: p.what.narrow,
        "flange": lambda p: p.kind == "flange",
        "hose": lambda p: p.what.hose,
    }
    first, last = 0, len(spots) - 1
    if what == "tap":
        last = 0
    elif what in wanted:
        first = next((k for k, p in enumerate(run.parts) if wanted[what](p)), 0)
        last = first + 1
    if what == "line":
        return  # all of it
    middle = 0.5 * (spots[first] + spots[last]) + QPointF(0.0, -4.0)
    half = 0.5 * (spots[last].x() - spots[first].x())
    ring(ink, middle, QPointF(half + (24.0 if what == "tap" else 12.0), 46.0))


def _feed_run(e: Evaluation, what: str) -> LineRun | None:
    """Return the feed's line of parts that a step is about: the trunk at the tap, where there is one."""
    found = {(run.key, run.turbo): run for run in runs(e.plan)}
    if what == "tap" and ("trunk", 0) in found:
        return found["trunk", 0]
    return found.get(("feed", e.index))
