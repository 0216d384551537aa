# SPDX-License-Identifier: GPL-3.0-or-later
"""What is written on the picture of the whole way, and what hangs in it: names, figures, faults; and where each may be clicked."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import TypeVar

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QFont, QFontMetricsF

from gravidon.draw import marks
from gravidon.draw.frame import Frame
from gravidon.draw.geometry.elevation import Elevation
from gravidon.draw.ink import Ink
from gravidon.draw.labels import Labels, Placed
from gravidon.draw.oil_ribbon import Ribbon
from gravidon.draw.style import BODY, HAIR, LARGE, SMALL, font
from gravidon.plan.units import show, show_difference
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.verdict.finding import Finding
from gravidon.words.text import tr, trn

VERDICT_OF = {"bad": "fails", "watch": "watch", "note": "holds"}
NAMES = {
    "car": tr("Car & turbo"), "tap": tr("Tap"), "feed": tr("Feed line"), "restrictor": tr("Restrictor"), "seat": tr("Seat"), "drain": tr("Drain run"),
    "entry": tr("Pan entry"), "sump": tr("Sump"), "breather": tr("Breather"), "scavenge": tr("Scavenge"), "map": tr("Operating map"),
}  # fmt: skip
MOST_FLAGS = 7
FIGURE_REACH_PX = 116.0
"""How far a figure may stand from what it is of; project choice."""
GALLERY_PX = 66.0
"""How far along the ribbon stands what the gallery gives; project choice."""
HUNG = ("tap", "feed", "restrictor")
"""Stations on the ribbon: their names stand over it, their faults hang under it."""


@dataclass(frozen=True)
class Place:
    """A station's place in the picture: where it is, and its name's rectangle for clicks."""

    key: str
    at: QPointF
    rect: QRectF


@dataclass
class Picture:
    """What was painted, for clicks and keys: the stations' places, the flags as (finding's key, rectangle), and the way that
    the oil takes [px], gallery to pan."""

    places: list[Place] = field(default_factory=list)
    flags: list[tuple[str, QRectF]] = field(default_factory=list)
    way: list[QPointF] = field(default_factory=list)

    def place_at(self, at: QPointF) -> str:
        """Return the station whose name is under a pixel; empty if none."""
        return next((p.key for p in self.places if p.rect.adjusted(-4, -4, 4, 4).contains(at)), "")

    def flag_at(self, at: QPointF) -> str:
        """Return the finding whose flag is under a pixel; empty if none."""
        return next((key for key, rect in self.flags if rect.contains(at)), "")


def write_pressures(ink: Ink, labels: Labels, r: Ribbon, k: float) -> None:
    """What the gallery gives and what is left for the bearing: the largest figures of the picture."""
    ink.painter.setFont(font(LARGE * k, bold=True))
    ends = (
        (QPointF(r.x[0] + GALLERY_PX * k, r.y + r.half[0] + 4 * k), r.left[0]),  # beside the poles of the tap
        (QPointF(r.x[-1] + 12 * k, r.y), r.left[-2]),
    )
    for at, pressure in ends:
        _label(ink, labels, at, show(pressure, "kpa", ink.family), "ink")


def write_figures(
    ink: Ink,
    labels: Labels,
    r: Ribbon,
    gate: QRectF,
    frame: Frame,
    view: Elevation,
    e: Evaluation,
    condition: int,
    k: float,
) -> None:
    """What each step spends, what the bearing wants, fall and freeboard, as far as there is room."""
    painter, p, family = ink.painter, ink.palette, ink.family
    small = font(SMALL * k)
    words: list[tuple[QPointF, str, QFont, str]] = []
    low, high = (float(v) for v in e.window_pa[condition])
    if np.isfinite(low) and float(e.feed.flow_m3_s[condition]) > 0.0:
        span = show(low, "kpa", family) + (
            tr(" to {high}").format(high=show(high, "kpa", family)) if np.isfinite(high) else tr(" or more")
        )
        words.append(
            (
                QPointF(gate.right(), gate.center().y()),
                tr("wants {span}").format(span=span),
                small,
                "good",
            )
        )
    free = float(e.drainage.freeboard_m[condition])
    if np.isfinite(free):
        side = frame.at(view.seal_point)
        words.append(
            (
                side,
                tr("freeboard {free}").format(free=show(free, "mm", family)),
                small,
                "ink" if free > 0 else "bad",
            )
        )
    fall = float(view.flange[1] - view.entry[1])
    words.append(
        (
            frame.at(0.5 * (view.flange + view.entry)),
            tr("falls {amount}").format(amount=show(fall * 1e-3, "run", family)),
            small,
            "faint",
        )
    )
    for n, step in sorted(enumerate(r.steps[:-1]), key=lambda row: -row[1].drop_pa):
        if step.drop_pa > 0.02 * r.left[0]:
            spent = f"{step.name} −{show_difference(step.drop_pa, 'kpa', family)}"
            words.append((QPointF(0.5 * (r.x[n] + r.x[n + 1]), r.y + r.half[n]), spent, small, "faint"))
    for at, text, face, colour in words:
        painter.setFont(face)
        _label(ink, labels, at, text, colour, needed=False)
    painter.setFont(font(SMALL * k))
    painter.setPen(p.color("ink"))


def _label(
    ink: Ink, labels: Labels, at: QPointF, text: str, colour: str, needed: bool = True
) -> QRectF | None:
    metrics = QFontMetricsF(ink.painter.font())
    placed = labels.place(
        at, QSizeF(metrics.horizontalAdvance(text) + 2, metrics.height()), FIGURE_REACH_PX, needed
    )
    if placed is None:
        return None
    if placed.leader is not None:
        ink.painter.setPen(ink.palette.pen("faint", HAIR))
        ink.painter.drawLine(*placed.leader)
    ink.painter.setPen(ink.palette.color(colour))
    ink.painter.drawText(placed.rect, int(Qt.AlignmentFlag.AlignCenter), text)
    return placed.rect


@dataclass(frozen=True)
class Layout:
    """Where names (by station) and flags (by their number among the findings shown) stand."""

    labels: Labels
    names: Mapping[str, Placed]
    flags: Mapping[int, Placed]

    @property
    def clear(self) -> bool:
        """Whether no leader runs over words."""
        return not any(p.over_words for p in (*self.names.values(), *self.flags.values()))


def lay_out(
    labels: Labels,
    anchors: Mapping[str, QPointF],
    guesses: Mapping[str, int],
    findings: Sequence[Finding],
    ribbon_y: float,
    k: float,
) -> Layout:
    """Return where names and flags stand: names first, nearest to their places; where that makes a leader run over words, flags
    first, and those names that still find room near by."""
    metrics = QFontMetricsF(font(SMALL * k))
    tags = []
    for f in findings:
        at = anchors.get(f.station) or anchors["seat"]
        at = QPointF(at.x(), 2.0 * ribbon_y - at.y()) if f.station in HUNG else at
        tags.append((at, QSizeF(metrics.horizontalAdvance(_flag_text(f)) + 34 * k, metrics.height() + 8)))
    named = [(key, (at, _name_size(key, guesses, k))) for key, at in anchors.items()]
    tries = []
    for flags_first in (False, True):
        free = labels.copy()
        if flags_first:
            flags = _placed(free, enumerate(tags))
            names = _placed(free, named, FIGURE_REACH_PX)
        else:
            names = _placed(free, named)
            flags = _placed(free, enumerate(tags))
        tries.append(Layout(free, names, flags))
        if tries[-1].clear:
            return tries[-1]
    return tries[-1]


Spoken = TypeVar("Spoken", str, int)


def _placed(
    labels: Labels, wanted: Iterable[tuple[Spoken, tuple[QPointF, QSizeF]]], near: float | None = None
) -> dict[Spoken, Placed]:
    """Return where labels stand; where only what is near counts, what is not is left out."""
    found = {}
    for key, (at, size) in wanted:
        placed = labels.place(at, size) if near is None else labels.place(at, size, near, needed=False)
        if placed is not None:
            found[key] = placed
    return found


def _guessed(key: str, guesses: Mapping[str, int]) -> str:
    count = guesses.get(key, 0)
    return trn("{count} guess", "{count} guesses", count) if count else ""


def _name_size(key: str, guesses: Mapping[str, int], k: float) -> QSizeF:
    bold, small = QFontMetricsF(font(BODY * k, bold=True)), QFontMetricsF(font(SMALL * k))
    more = _guessed(key, guesses)
    wide = max(bold.horizontalAdvance(NAMES[key]), small.horizontalAdvance(more))
    return QSizeF(wide + 20 * k + 4, bold.height() + (small.height() if more else 0.0) + 4)


def _flag_text(f: Finding) -> str:
    return f.title + (f" · {f.condition}" if f.condition else "")


def write_names(
    ink: Ink,
    names: Mapping[str, Placed],
    anchors: Mapping[str, QPointF],
    guesses: Mapping[str, int],
    made: Picture,
    hovered: str,
    chosen: str,
    findings: Sequence[Finding],
    k: float,
) -> None:
    """The stations by name at their places, with their verdict's drop and how much of them is guessed."""
    painter, p = ink.painter, ink.palette
    grave = {f.station: f.severity for f in reversed(findings) if f.severity != "note"}
    bold, small = font(BODY * k, bold=True), font(SMALL * k)
    for key, placed in names.items():
        name, more = NAMES[key], _guessed(key, guesses)
        made.places.append(Place(key, anchors[key], placed.rect))
        on = key in (hovered, chosen)
        if placed.leader is not None:
            painter.setPen(p.pen("focus" if on else "faint", HAIR))
            painter.drawLine(*placed.leader)
        if on:
            painter.setPen(p.pen("focus", HAIR * 1.5))
            painter.setBrush(p.color("raised"))
            painter.drawRoundedRect(placed.rect.adjusted(-3, -1, 3, 1), 3, 3)
        drop = QRectF(placed.rect.left(), placed.rect.top() + 3 * k, 10 * k, 14 * k)
        marks.paint_drop(ink, drop, VERDICT_OF[grave.get(key, "note")])
        painter.setFont(bold)
        painter.setPen(p.color("ink"))
        text = placed.rect.adjusted(16 * k, 0, 0, 0)
        painter.drawText(text, int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop), name)
        if more:
            painter.setFont(small)
            painter.setPen(p.color("faint"))
            painter.drawText(text, int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom), more)


def hung(findings: Sequence[Finding]) -> list[Finding]:
    """Return the findings that are hung as flags."""
    return [f for f in findings if f.severity != "note"][:MOST_FLAGS]


def hang_flags(
    ink: Ink, flags: Mapping[int, Placed], findings: Sequence[Finding], made: Picture, k: float
) -> None:
    """Faults hang where they happen: a pole from the place, a tag with drop and words."""
    painter, p = ink.painter, ink.palette
    painter.setFont(font(SMALL * k))
    for n, placed in flags.items():
        f = findings[n]
        colour = "bad" if f.severity == "bad" else "watch"
        painter.setPen(p.pen(colour, HAIR * 1.4))
        if placed.leader is not None:
            painter.drawLine(*placed.leader)
        painter.setBrush(p.color("raised"))
        painter.drawRoundedRect(placed.rect, 3, 3)
        high = placed.rect.height()
        drop = QRectF(placed.rect.left() + 8, placed.rect.top() + 0.2 * high, 0.42 * high, 0.6 * high)
        marks.paint_drop(ink, drop, VERDICT_OF[f.severity])
        painter.setPen(p.color("ink"))
        painter.drawText(
            placed.rect.adjusted(26 * k, 0, -3, 0), int(Qt.AlignmentFlag.AlignVCenter), _flag_text(f)
        )
        made.flags.append((f.key, placed.rect))


def write_caption(ink: Ink, labels: Labels, rect: QRectF, e: Evaluation, condition: int, k: float) -> None:
    """Which condition drives the picture, in a corner that is free."""
    c, family = e.plan.conditions[condition], ink.family
    flow, out = float(e.feed.flow_m3_s[condition]), float(e.feed.outlet_temperature_k[condition])
    words = [tr("oil {heat}").format(heat=show(c.oil_temperature_c + 273.15, "degc", family))]
    if c.rpm > 0:
        words[0] += tr(", leaves at {out}").format(out=show(out, "degc", family))
        words.append(tr("{flow} at {rpm:.0f} rpm").format(flow=show(flow, "l_min", family), rpm=c.rpm))
    else:
        words.append(tr("engine off"))
    name_font, small = font(LARGE * k, bold=True), font(SMALL * k)
    metrics, name_metrics = QFontMetricsF(small), QFontMetricsF(name_font)
    wide = max(name_metrics.horizontalAdvance(c.name), *(metrics.horizontalAdvance(w) for w in words))
    size = QSizeF(wide + 2, name_metrics.height() + metrics.height() * len(words))
    for corner in (
        QPointF(rect.left() + 12, rect.bottom() - size.height() - 8),
        QPointF(rect.right() - size.width() - 12, rect.bottom() - size.height() - 8),
        QPointF(rect.left() + 12, rect.center().y()),
    ):
        place = QRectF(corner, size)
        if labels.free(place):
            labels.write(place)
            ink.painter.setPen(ink.palette.color("ink"))
            ink.painter.setFont(name_font)
            ink.painter.drawText(place, int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop), c.name)
            ink.painter.setFont(small)
            ink.painter.setPen(ink.palette.color("faint"))
            under = place.adjusted(0, name_metrics.height(), 0, 0)
            ink.painter.drawText(under, int(Qt.AlignmentFlag.AlignLeft), "\n".join(words))
            return
