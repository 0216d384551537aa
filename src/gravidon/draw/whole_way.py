"""Paint the whole way of the oil in one picture: pressure spent along the feed as a ribbon, the turbo in its seat, the fall
home to scale, the pan's oil; every station at its place, every fault hanging where it happens."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QFont, QFontMetricsF, QPainterPath, QPolygonF

from gravidon.draw import elevation as drawing
from gravidon.draw import marks, run_marks
from gravidon.draw.frame import Frame
from gravidon.draw.geometry.elevation import Elevation, elevation
from gravidon.draw.ink import Ink
from gravidon.draw.labels import Labels
from gravidon.draw.style import BODY, HAIR, LARGE, LINE, SMALL, font
from gravidon.plan.units import show, show_difference
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.supply.cascade import Step, cascade
from gravidon.study.verdict.finding import Finding

VERDICT_OF = {"bad": "fails", "watch": "watch", "note": "holds"}
NAMES = {
    "car": "Car & turbo", "tap": "Tap", "feed": "Feed line", "restrictor": "Restrictor", "seat": "Seat", "drain": "Drain run",
    "entry": "Pan entry", "sump": "Sump", "breather": "Breather", "scavenge": "Scavenge", "map": "Operating map",
}  # fmt: skip
STRUCT = 0.30
"""Share of the height that the ribbon's lane takes; project choice."""
MOST_FLAGS = 7
HUNG = ("tap", "feed", "restrictor")
"""Stations on the ribbon: their names stand over it, their faults hang under it."""
BEAD_PX = 22.0
"""[px] between two bubbles that show how the oil creeps."""
SPENT = 1.6
"""[px] half the ribbon where all pressure is spent."""


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


@dataclass(frozen=True)
class _Ribbon:
    """The feed's ribbon: where each step ends [px], half its thickness there, and the lane's middle."""

    steps: tuple[Step, ...]
    x: tuple[float, ...]
    half: tuple[float, ...]
    y: float
    left: tuple[float, ...]


def scale_of(rect: QRectF) -> float:
    """Return by how much type and lines grow with the window [-]."""
    return float(np.clip(min(rect.width() / 1060.0, rect.height() / 560.0), 0.92, 1.6))


def paint(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    condition: int,
    findings: Sequence[Finding],
    guesses: Mapping[str, int],
    hovered: str = "",
    chosen: str = "",
    ghost: Evaluation | None = None,
) -> Picture:
    """Paint the picture; return where its stations and flags are.

    Args:
        ink: painter, colours, units.
        rect: the surface.
        e: the chosen turbo's evaluation.
        condition: which condition drives it.
        findings: what is found, worst first; those to be acted on become flags.
        guesses: how many guesses each station rests on, by its key.
        hovered: the station under the mouse.
        chosen: the station chosen by key.
        ghost: what a remedy would make of the plan, drawn dashed over it.
    """
    painter, k = ink.painter, scale_of(rect)
    painter.save()
    painter.setFont(font(SMALL * k))
    lane = QRectF(
        rect.left() + 20,
        rect.top() + 8,
        rect.width() - 40,
        min(max(rect.height() * STRUCT, 136.0 * k), 0.40 * rect.height()),
    )
    view = elevation(e, condition, "front")
    body = QRectF(
        rect.left() + 0.30 * rect.width(),
        lane.bottom() - 6,
        0.68 * rect.width(),
        rect.bottom() - lane.bottom() + 2,
    )
    steps = cascade(e, condition, ink.family)
    frame = _clear_of_the_lane(
        drawing.fit(view, body, 34.0), view, rect, lane.left() + (74.0 + 58.0 * len(steps)) * k
    )
    labels = Labels(rect.adjusted(6, 4, -6, -6))
    drawing.paint_behind(ink, rect, frame, view)
    turbo = frame.at(view.housing.mean(axis=0))
    top = frame.polygon(view.housing).boundingRect().top()
    ribbon = _ribbon(steps, lane, turbo.x(), k)
    _paint_ribbon(ink, ribbon, QPointF(turbo.x(), top), e, condition, k)
    _paint_run(ink, frame, e, condition, view)
    if ghost is not None:
        run_marks.ghost(ink, frame, elevation(ghost, condition, "front"))
        after = _ribbon(cascade(ghost, condition, ink.family), lane, turbo.x(), k)
        ink.painter.setPen(ink.palette.pen("good", LINE * k, Qt.PenStyle.DashLine))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPath(_outline(after, QPointF(turbo.x(), top)))
    breather = _paint_breather(ink, rect, frame, view, e, condition, k)
    _block(labels, ribbon, frame, view, QPointF(turbo.x(), top), breather)
    anchors = _anchors(ribbon, frame, view, turbo, breather, e)
    inlet = QPointF(turbo.x(), top)
    corners = [QPointF(ribbon.x[0] - 40 * k, ribbon.y), QPointF(turbo.x(), ribbon.y), inlet]
    made = Picture(way=[*corners, *(frame.at(p) for p in view.stations)])
    _pressures(ink, labels, ribbon, k)
    _names(ink, labels, anchors, guesses, made, hovered, chosen, findings, k)
    _flags(ink, labels, anchors, findings, made, ribbon.y, k)
    _caption(ink, labels, rect, e, condition, k)
    _key_words(ink, labels, ribbon, frame, view, e, condition, k)
    painter.restore()
    return made


def paint_beads(ink: Ink, way: Sequence[QPointF], gone: float, k: float) -> None:
    """Paint bubbles along the oil's way, all `gone` pixels further than at rest, fading in and out with nothing else changed."""
    ink.painter.save()
    ink.painter.setRenderHint(ink.painter.RenderHint.Antialiasing)
    ink.painter.setPen(Qt.PenStyle.NoPen)
    ink.painter.setBrush(ink.palette.color("raised", 0.85))
    at = np.array([(p.x(), p.y()) for p in way])
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(at, axis=0), axis=1))])
    for s in np.arange(gone % BEAD_PX, along[-1], BEAD_PX):
        x, y = np.interp(s, along, at[:, 0]), np.interp(s, along, at[:, 1])
        ink.painter.drawEllipse(QPointF(float(x), float(y)), 1.8 * k, 1.8 * k)
    ink.painter.restore()


def _clear_of_the_lane(frame: Frame, view: Elevation, rect: QRectF, wanted: float) -> Frame:
    """Return the frame moved to the right until the ribbon has its length, as far as there is room."""
    turbo = frame.at(view.housing.mean(axis=0)).x()
    points = np.concatenate([view.stations, view.housing, *view.pans])
    spare = rect.right() - 90.0 - frame.at(points.max(axis=0)).x()
    return Frame(
        frame.scale,
        QPointF(frame.origin.x() + float(np.clip(wanted - turbo, 0.0, max(spare, 0.0))), frame.origin.y()),
    )


def _thickest(lane: QRectF, k: float) -> float:
    """Return half the ribbon's width at the gallery [px]: names stand over it, figures under it."""
    return float(np.clip(0.5 * (lane.height() - 76.0 * k), 14.0, 40.0 * k))


def _ribbon(steps: tuple[Step, ...], lane: QRectF, end_x: float, k: float) -> _Ribbon:
    total = max(sum(s.drop_pa for s in steps), 1.0)
    start = lane.left() + 74 * k
    room = max(end_x - _thickest(lane, k) - start, 40.0)
    weight = [2.2 if "hose" in s.name else 1.0 for s in steps[:-1]] + [0.9]
    ends = start + room * np.cumsum(weight) / sum(weight)
    most = _thickest(lane, k)
    left, half = total, [most]
    rests = [total]
    for s in steps:
        left -= s.drop_pa
        rests.append(left)
        half.append(most * max(left, 0.0) / total)
    return _Ribbon(steps, (start, *ends.tolist()), tuple(half), lane.bottom() - most - 26.0 * k, tuple(rests))


def _outline(r: _Ribbon, inlet: QPointF) -> QPainterPath:
    """The ribbon's shape: along the lane, narrowing where pressure is spent, then down into the bearing."""
    upper, lower = [QPointF(r.x[0] - 40, r.y - r.half[0])], [QPointF(r.x[0] - 40, r.y + r.half[0])]
    for n in range(len(r.steps) - 1):
        a, b = r.x[n], r.x[n + 1]
        for share, h in ((0.35, r.half[n]), (0.65, r.half[n + 1])):
            x = a + share * (b - a)
            upper.append(QPointF(x, r.y - h))
            lower.append(QPointF(x, r.y + h))
    h = max(r.half[-2], 1.2)
    corner = QPointF(inlet.x(), r.y)
    path = QPainterPath(upper[0])
    for p in upper[1:]:
        path.lineTo(p)
    path.lineTo(QPointF(corner.x() - h, r.y - h))
    path.quadTo(QPointF(corner.x() + h, r.y - h), QPointF(corner.x() + h, r.y + h))
    path.lineTo(QPointF(corner.x() + SPENT, inlet.y()))  # what is left is spent in the bearing
    path.lineTo(QPointF(corner.x() - SPENT, inlet.y()))
    path.lineTo(QPointF(corner.x() - h, r.y + h))
    for p in reversed(lower):
        path.lineTo(p)
    path.closeSubpath()
    return path


def _paint_ribbon(ink: Ink, r: _Ribbon, inlet: QPointF, e: Evaluation, condition: int, k: float) -> None:
    p, painter = ink.palette, ink.painter
    painter.setRenderHint(painter.RenderHint.Antialiasing)
    block = QRectF(r.x[0] - 74 * k, r.y - r.half[0] - 16 * k, 60 * k, 2 * r.half[0] + 32 * k)
    painter.setPen(p.pen("wall", LINE * k))
    painter.setBrush(p.color("metal", 0.45))
    painter.drawRoundedRect(block, 4, 4)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(p.color("oil"))
    painter.drawRect(QRectF(block.left() + 8 * k, r.y - r.half[0], block.width() - 8 * k, 2 * r.half[0]))
    painter.drawPath(_outline(r, inlet))
    for n, step in enumerate(r.steps[:-1]):  # a hole that meters: the wall closes in on the ribbon
        if "restrictor" in step.name or "hole" in step.name:
            x, h = 0.5 * (r.x[n] + r.x[n + 1]), r.half[n]
            inner = 0.5 * (r.half[n] + r.half[n + 1]) * 0.55 + 1.0
            painter.setBrush(p.color("wall"))
            for side in (-1.0, 1.0):
                painter.drawPolygon(
                    QPolygonF(
                        [
                            QPointF(x - 5 * k, r.y + side * (h + 8 * k)),
                            QPointF(x + 5 * k, r.y + side * (h + 8 * k)),
                            QPointF(x, r.y + side * inner),
                        ]
                    )
                )
    low, high = (float(v) for v in e.window_pa[condition])
    total = max(r.left[0], 1.0)
    if (
        np.isfinite(low) and e.feed.flow_m3_s[condition] > 0.0
    ):  # what the bearing wants, as a gate the ribbon must fill
        most = r.half[0]
        painter.setPen(p.pen("good", LINE * k))
        y = 0.55 * (r.y + r.half[-2]) + 0.45 * inlet.y()
        for pressure in (low, high):
            if np.isfinite(pressure) and pressure <= 1.25 * total:
                h = most * pressure / total
                for side in (-1.0, 1.0):
                    painter.drawLine(
                        QPointF(inlet.x() + side * h, y - 9 * k), QPointF(inlet.x() + side * h, y + 9 * k)
                    )


def _paint_run(ink: Ink, frame: Frame, e: Evaluation, condition: int, view: Elevation) -> None:
    air = float(e.plan.conditions[condition].air_fraction)
    drawing.paint_oil_and_walls(ink, frame, e, view, air)


def _paint_breather(
    ink: Ink, rect: QRectF, frame: Frame, view: Elevation, e: Evaluation, condition: int, k: float
) -> tuple[QRectF, QPolygonF]:
    """The crankcase's breath: a pipe from over the pan to its can; its gas is not oil, so it is drawn thin and pale."""
    p, painter = ink.palette, ink.painter
    pans = QRectF()
    for pan in view.pans:
        pans = pans.united(frame.polygon(pan).boundingRect())
    right = frame.at(view.flange).x() < pans.center().x()  # on the side where the drain does not come down
    x = (
        min(pans.right() + 44 * k, rect.right() - 44 * k)
        if right
        else max(pans.left() - 78 * k, rect.left() + 10)
    )
    can = QRectF(x, max(pans.top() - 92 * k, rect.top() + 0.4 * rect.height()), 32 * k, 44 * k)
    foot = QPointF(pans.right() - 12 if right else pans.left() + 12, pans.top())
    side = can.left() if right else can.right()
    line = QPolygonF([foot, QPointF(foot.x(), can.center().y()), QPointF(side, can.center().y())])
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(p.pen("line", 7 * k))
    painter.drawPolyline(line)
    painter.setPen(p.pen("sheet", 4 * k))
    painter.drawPolyline(line)
    painter.setPen(p.pen("wall", LINE * k))
    painter.setBrush(p.color("raised"))
    painter.drawRoundedRect(can, 4, 4)
    return can, line


def _end_on(view: Elevation) -> bool:
    """Whether one looks along the shaft: both wheels then lie over one another."""
    return float(np.linalg.norm(view.seals[0][0] - view.seals[1][0])) < 1.0


def _block(
    labels: Labels,
    r: _Ribbon,
    frame: Frame,
    view: Elevation,
    inlet: QPointF,
    breather: tuple[QRectF, QPolygonF],
) -> None:
    labels.block([QRectF(r.x[0] - 80, r.y - r.half[0] - 18, 70, 2 * r.half[0] + 36)])
    for n in range(len(r.x) - 1):
        h = r.half[n] + 3.0
        labels.block([QRectF(r.x[n] - 2, r.y - h, max(r.x[n + 1] - r.x[n], 0.0) + 2, 2 * h)])
    labels.block_line([QPointF(inlet.x(), r.y), inlet], 2.0 * max(r.half[-2], 6.0) + 8.0)
    labels.block(
        [
            QRectF(
                inlet.x() - r.half[0] - 3,
                0.55 * (r.y + r.half[-2]) + 0.45 * inlet.y() - 11,
                2 * r.half[0] + 6,
                22,
            )
        ]
    )
    housing = frame.polygon(view.housing).boundingRect()
    wheels = 0.42 * housing.height() if _end_on(view) else 0.62 * housing.height()
    labels.block([housing.adjusted(-wheels, -4, wheels, 4)])
    labels.block_polygon(frame.polygon(view.stations), float(view.bore_mm.max()) * frame.scale + 16.0)
    for pan in view.pans:
        labels.block_polygon(frame.polygon(np.concatenate([pan, pan[:1]])), 4.0)
    for oil in view.oils:
        if len(oil) > 2:
            box = frame.polygon(oil).boundingRect()
            labels.block_line([box.topLeft(), box.topRight()], 5.0)
    labels.block(
        [
            frame.polygon(
                np.array([b.low, [b.high[0], b.low[1]], b.high, [b.low[0], b.high[1]]])
            ).boundingRect()
            for b in view.blocks
        ]
    )
    labels.block([breather[0]])
    labels.block_polygon(breather[1], 9.0)


def _anchors(
    r: _Ribbon,
    frame: Frame,
    view: Elevation,
    turbo: QPointF,
    breather: tuple[QRectF, QPolygonF],
    e: Evaluation,
) -> dict[str, QPointF]:
    holes = [n for n, s in enumerate(r.steps) if "restrictor" in s.name or "hole" in s.name]
    hoses = [n for n, s in enumerate(r.steps) if "hose" in s.name]
    middle = len(view.stations) // 2
    pans = [frame.polygon(pan).boundingRect() for pan in view.pans]
    lowest = max(pans, key=lambda b: b.bottom())

    def over(n: int) -> QPointF:
        return QPointF(0.5 * (r.x[n] + r.x[n + 1]), r.y - max(r.half[n], 6.0))

    found = {
        "car": QPointF(r.x[0] - 56, r.y + r.half[0] + 16),
        "tap": QPointF(r.x[0] + 6, r.y - r.half[0]),
        "feed": over(hoses[0]) if hoses else over(0),
        "restrictor": over(holes[0]) if holes else over(max(len(r.steps) - 2, 0)),
        "map": QPointF(turbo.x(), r.y + r.half[-2] + 6),
        "seat": turbo,
        "drain": frame.at(view.stations[middle]),
        "entry": frame.at(view.stations[-1]),
        "sump": QPointF(lowest.center().x(), lowest.bottom() - 6),
        "breather": QPointF(breather[0].center().x(), breather[0].top()),
    }
    if e.line.drain_by == "scavenge":
        found["scavenge"] = found.pop("entry")
    return found


def _pressures(ink: Ink, labels: Labels, r: _Ribbon, k: float) -> None:
    """What the gallery gives and what is left for the bearing: the largest figures of the picture."""
    ink.painter.setFont(font(LARGE * k, bold=True))
    ends = (
        (QPointF(r.x[0] + 6 * k, r.y + r.half[0] + 4 * k), r.left[0]),
        (QPointF(r.x[-1] + 12 * k, r.y), r.left[-2]),
    )
    for at, pressure in ends:
        _label(ink, labels, at, show(pressure, "kpa", ink.family), "ink", 116.0)


def _key_words(
    ink: Ink,
    labels: Labels,
    r: _Ribbon,
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
            f" to {show(high, 'kpa', family)}" if np.isfinite(high) else " or more"
        )
        words.append((QPointF(r.x[-1] + 26 * k, r.y + r.half[-2] + 26 * k), f"wants {span}", small, "good"))
    free = float(e.drainage.freeboard_m[condition])
    if np.isfinite(free):
        side = frame.at(view.seal_point)
        words.append((side, f"freeboard {show(free, 'mm', family)}", small, "ink" if free > 0 else "bad"))
    fall = float(view.flange[1] - view.entry[1])
    words.append(
        (
            frame.at(0.5 * (view.flange + view.entry)),
            f"falls {show(fall * 1e-3, 'run', family)}",
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
        _label(ink, labels, at, text, colour, reach=116.0)
    painter.setFont(font(SMALL * k))
    painter.setPen(p.color("ink"))


def _label(ink: Ink, labels: Labels, at: QPointF, text: str, colour: str, reach: float) -> QRectF | None:
    metrics = QFontMetricsF(ink.painter.font())
    placed = labels.place(at, QSizeF(metrics.horizontalAdvance(text) + 2, metrics.height()), reach)
    if placed is None:
        return None
    if placed.leader is not None:
        ink.painter.setPen(ink.palette.pen("faint", HAIR))
        ink.painter.drawLine(*placed.leader)
    ink.painter.setPen(ink.palette.color(colour))
    ink.painter.drawText(placed.rect, int(Qt.AlignmentFlag.AlignCenter), text)
    return placed.rect


def _names(
    ink: Ink,
    labels: Labels,
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
    for key, at in anchors.items():
        name, count = NAMES[key], guesses.get(key, 0)
        more = f"{count} guess{'es' if count != 1 else ''}" if count else ""
        wide = QFontMetricsF(bold).horizontalAdvance(name) + 20 * k
        wide = max(wide, QFontMetricsF(small).horizontalAdvance(more) + 20 * k)
        high = QFontMetricsF(bold).height() + (QFontMetricsF(small).height() if more else 0.0) + 4
        placed = labels.place(at, QSizeF(wide + 4, high))
        if placed is None:
            continue
        made.places.append(Place(key, at, placed.rect))
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


def _flags(
    ink: Ink,
    labels: Labels,
    anchors: Mapping[str, QPointF],
    findings: Sequence[Finding],
    made: Picture,
    ribbon_y: float,
    k: float,
) -> None:
    """Faults hang where they happen: a pole from the place, a tag with drop and words."""
    painter, p = ink.painter, ink.palette
    painter.setFont(font(SMALL * k))
    metrics = QFontMetricsF(painter.font())
    grave = [f for f in findings if f.severity != "note"][:MOST_FLAGS]
    for f in grave:
        at = anchors.get(f.station) or anchors["seat"]
        if f.station in HUNG:
            at = QPointF(at.x(), 2.0 * ribbon_y - at.y())
        text = f.title + (f" · {f.condition}" if f.condition else "")
        placed = labels.place(at, QSizeF(metrics.horizontalAdvance(text) + 34 * k, metrics.height() + 8))
        if placed is None:
            continue
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
        painter.drawText(placed.rect.adjusted(26 * k, 0, -3, 0), int(Qt.AlignmentFlag.AlignVCenter), text)
        made.flags.append((f.key, placed.rect))


def _caption(ink: Ink, labels: Labels, rect: QRectF, e: Evaluation, condition: int, k: float) -> None:
    """Which condition drives the picture, in a corner that is free."""
    c, family = e.plan.conditions[condition], ink.family
    flow, out = float(e.feed.flow_m3_s[condition]), float(e.feed.outlet_temperature_k[condition])
    words = [f"oil {show(c.oil_temperature_c + 273.15, 'degc', family)}"]
    if c.rpm > 0:
        words[0] += f", leaves at {show(out, 'degc', family)}"
        words.append(f"{show(flow, 'l_min', family)} at {c.rpm:.0f} rpm")
    else:
        words.append("engine off")
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
            labels.taken.append(place)
            ink.painter.setPen(ink.palette.color("ink"))
            ink.painter.setFont(name_font)
            ink.painter.drawText(place, int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop), c.name)
            ink.painter.setFont(small)
            ink.painter.setPen(ink.palette.color("faint"))
            under = place.adjusted(0, name_metrics.height(), 0, 0)
            ink.painter.drawText(under, int(Qt.AlignmentFlag.AlignLeft), "\n".join(words))
            return
