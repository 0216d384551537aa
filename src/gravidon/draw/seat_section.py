# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the two cuts through the centre housing: pond, seals, ports, bolts, and the arcs of what is allowed."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPolygonF

from gravidon.draw import marks
from gravidon.draw.elevation import froth_colour, rounded
from gravidon.draw.frame import Frame
from gravidon.draw.geometry.seat_section import SeatSection
from gravidon.draw.ink import Ink
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, font
from gravidon.physics.arrays import Array
from gravidon.plan.units import show
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.solve.seating import Seating
from gravidon.words.text import tr

REACH = 1.95
"""How far out the handle's arc lies, over the shaft's height above the flange."""


def frame_in(rect: QRectF, section: SeatSection) -> Frame:
    """Return the frame that shows a cut with its arcs and wheels inside a rectangle."""
    wide = max(section.half_width * 2.6, section.height * 1.75)
    scale = min((rect.width() - 40) / (2.0 * wide), (rect.height() - 70) / (section.height * (REACH + 1.75)))
    return Frame(max(scale, 0.1), QPointF(rect.center().x(), rect.top() + 40 + section.height * 1.62 * scale))


def handle_angle(section: SeatSection, at: Array) -> float:
    """Return the clock angle or pitch [°] that a place in the picture asks for, relative to the shaft's middle."""
    if section.cut == "across":
        return float(np.degrees(np.arctan2(-at[0], -at[1])))
    return float(np.degrees(np.arctan2(at[1], at[0])))


def handle_place(section: SeatSection) -> Array:
    """Return where the handle is [mm]: under the drain, or at the compressor's end of the shaft."""
    across, along = [0.0, -_reach(section)], [_reach(section), 0.0]
    place: Array = section.turned(np.array([across if section.cut == "across" else along]))[0]
    return place


def paint(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    condition: int,
    section: SeatSection,
    seat: Seating,
    held: bool,
) -> None:
    """Paint one cut."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setClipRect(rect)
    ink.painter.setFont(font(SMALL))
    frame = frame_in(rect, section)
    _arc(ink, frame, section, seat)
    if section.cut == "along":
        _wheels(ink, frame, section)
    else:
        _bolts(ink, frame, e, section, seat)
    _body(ink, frame, section)
    air = float(e.plan.conditions[condition].air_fraction)
    ink.painter.setPen(ink.palette.pen("wall", HAIR))
    ink.painter.setBrush(ink.palette.color("sheet"))
    ink.painter.drawPolygon(frame.polygon(section.cavity))
    if len(section.oil) > 2:
        ink.painter.setPen(Qt.PenStyle.NoPen)
        ink.painter.setBrush(froth_colour(ink.palette, air))
        ink.painter.drawPolygon(frame.polygon(section.oil))
        ink.painter.setPen(ink.palette.pen("oil", BOLD))
        height = section.oil @ section.up
        top = np.flatnonzero(height >= height.max() - 0.05)
        ink.painter.drawLine(frame.at(section.oil[top[0]]), frame.at(section.oil[top[-1]]))
    _seals(ink, frame, condition, section, seat)
    _ports(ink, frame, section)
    _handle(ink, frame, section, held)
    if section.cut == "across":
        _hidden(ink, frame, e, seat)
    _words(ink, rect, e, condition, section, seat)
    ink.painter.restore()


def _arc(
    ink: Ink,
    frame: Frame,
    section: SeatSection,
    seat: Seating,
) -> None:
    """The band of angles that is allowed, with the handle's track on it."""
    across = section.cut == "across"
    limit = seat.clock_limit_rad if across else seat.tilt_limit_rad
    reach = _reach(section)
    rest = -0.5 * np.pi if across else 0.0
    span = min(limit, np.pi)
    inner, outer = reach * 0.96, reach * 1.04
    angles = rest + np.linspace(-span, span, 40)
    ring = np.stack([np.cos(angles), np.sin(angles)], axis=1)
    ink.painter.setPen(Qt.PenStyle.NoPen)
    ink.painter.setBrush(ink.palette.color("window"))
    ink.painter.drawPolygon(frame.polygon(np.concatenate([ring * inner, ring[::-1] * outer])))
    wide = rest + np.linspace(-min(span * 1.8 + 0.15, np.pi), min(span * 1.8 + 0.15, np.pi), 60)
    ink.painter.setPen(ink.palette.pen("line", HAIR))
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    ink.painter.drawPolyline(frame.polygon(np.stack([np.cos(wide), np.sin(wide)], axis=1) * reach))
    ink.painter.setPen(ink.palette.pen("good", LINE))
    for sign in (-1.0, 1.0):
        end = np.array([np.cos(rest + sign * span), np.sin(rest + sign * span)])
        ink.painter.drawLine(frame.at(end * inner * 0.97), frame.at(end * outer * 1.02))
    ink.painter.setPen(ink.palette.color("good"))
    ink.painter.drawText(limit_spot(frame, section, seat).bottomLeft(), f"{np.degrees(limit):.0f}°")


def limit_spot(frame: Frame, section: SeatSection, seat: Seating) -> QRectF:
    """Return where the limit is written, at the end of the band [px]; the words stand on its lower edge."""
    across = section.cut == "across"
    span = min(seat.clock_limit_rad if across else seat.tilt_limit_rad, np.pi)
    reach, turned = 1.04 * 1.06 * _reach(section), (-0.5 * np.pi if across else 0.0) + span
    at = frame.at(np.array([np.cos(turned), np.sin(turned)]) * reach)
    return QRectF(at.x() - (0 if across else 4), at.y() + (4 if across else -4) - 12, 28, 12)


def _reach(section: SeatSection) -> float:
    """Return how far the handle is from the shaft's middle [mm]."""
    return REACH * section.height if section.cut == "across" else section.half_width * 2.35


def _wheel(section: SeatSection, sign: float) -> Array:
    """Return a wheel's corners before it is turned [mm], the lower two last: the turbine's (-1) or the compressor's (1)."""
    x, w, h = sign * section.half_width * 1.75, 0.36 * section.height, (1.275 + 0.075 * sign) * section.height
    return np.array([[x - w, h], [x + w, h], [x + w, -h], [x - w, -h]])


def wheel_rects(frame: Frame, section: SeatSection) -> list[QRectF]:
    """Return what the wheels take of a cut along the shaft [px]."""
    return [frame.polygon(section.turned(_wheel(section, s))).boundingRect() for s in (-1.0, 1.0)]


def _wheels(
    ink: Ink,
    frame: Frame,
    section: SeatSection,
) -> None:
    """Turbine at the left, washed with heat; compressor at the right."""
    for sign, colour in ((-1.0, "heat"), (1.0, "metal")):
        corners = _wheel(section, sign)
        outline = rounded(corners, 0.3 * section.height)
        ink.painter.setPen(ink.palette.pen("heat" if sign < 0 else "line", HAIR))
        ink.painter.setBrush(ink.palette.color(colour, 0.14))
        ink.painter.drawPolygon(frame.polygon(section.turned(outline)))
        word = tr("turbine") if sign < 0 else tr("compressor")
        spot = frame.at(section.turned(corners[2:].mean(axis=0)[None])[0])
        at = QPointF(spot.x(), spot.y() + 16)
        marks.clear_text(ink, at, word, "heat" if sign < 0 else "faint", "centre")


def bolt_spots(frame: Frame, e: Evaluation, seat: Seating) -> list[QPointF]:
    """Return where the bolts of the turbine housing are in the cut across the shaft [px]."""
    radius = 0.5 * e.line.turbo.bolts.circle_mm
    return [frame.at(np.array([-np.sin(place), -np.cos(place)]) * radius) for place in seat.bolts_rad]


def _bolts(
    ink: Ink,
    frame: Frame,
    e: Evaluation,
    section: SeatSection,
    seat: Seating,
) -> None:
    """The bolts on their circle; they stay where the turbine housing is while the centre housing turns."""
    radius = 0.5 * e.line.turbo.bolts.circle_mm
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    ink.painter.setPen(ink.palette.pen("line", HAIR, Qt.PenStyle.DashLine))
    ink.painter.drawEllipse(frame.origin, radius * frame.scale, radius * frame.scale)
    for at, hidden in zip(bolt_spots(frame, e, seat), seat.bolts_hidden, strict=True):
        ink.painter.setPen(ink.palette.pen("watch" if hidden else "wall", LINE))
        ink.painter.setBrush(ink.palette.color("watch", 0.35) if hidden else ink.palette.color("raised"))
        hexagon = [QPointF(at.x() + 7 * np.cos(a), at.y() + 7 * np.sin(a)) for a in np.arange(6) * np.pi / 3]
        ink.painter.drawPolygon(QPolygonF(hexagon))


def _hidden(
    ink: Ink,
    frame: Frame,
    e: Evaluation,
    seat: Seating,
) -> None:
    """Name the bolts that the drain hides, clear of the housing, with a thin line to each."""
    radius = 0.5 * e.line.turbo.bolts.circle_mm
    for k, (place, hidden) in enumerate(zip(seat.bolts_rad, seat.bolts_hidden, strict=True)):
        if hidden:
            at = frame.at(np.array([-np.sin(place), -np.cos(place)]) * radius)
            left = np.sin(place) > 0
            end = QPointF(at.x() + (-52 if left else 52), at.y() + 14)
            ink.painter.setPen(ink.palette.pen("watch", HAIR))
            ink.painter.drawLine(at, end)
            marks.clear_text(
                ink,
                QPointF(end.x(), end.y() + 4),
                tr("bolt {number} hides").format(number=k + 1),
                "watch",
                "right" if left else "left",
            )


def _body(
    ink: Ink,
    frame: Frame,
    section: SeatSection,
) -> None:
    half, height, mouth = section.half_width * 1.25, section.height, section.mouth + 7.0
    corners = np.array(
        [[-half, 0.62 * height], [half, 0.62 * height], [half, -0.66 * height], [-half, -0.66 * height]]
    )
    neck = np.array(
        [[-half * 0.8, -0.5 * height], [half * 0.8, -0.5 * height], [mouth, -height], [-mouth, -height]]
    )
    flange = np.array(
        [[-mouth - 9, -height], [mouth + 9, -height], [mouth + 9, -height - 6], [-mouth - 9, -height - 6]]
    )
    boss = np.array([[-9.0, 0.6 * height], [9.0, 0.6 * height], [7.0, 0.86 * height], [-7.0, 0.86 * height]])
    path = QPainterPath()
    for outline in (rounded(corners, 0.3 * height), neck, flange, boss):
        part = QPainterPath()
        part.addPolygon(frame.polygon(section.turned(outline)))
        part.closeSubpath()
        path = path.united(part)
    ink.painter.setPen(ink.palette.pen("wall", LINE))
    ink.painter.setBrush(ink.palette.color("sheet"))
    ink.painter.drawPath(path)
    ink.painter.setBrush(ink.palette.color("metal", 0.45))
    ink.painter.drawPath(path)


def _seals(
    ink: Ink,
    frame: Frame,
    condition: int,
    section: SeatSection,
    seat: Seating,
) -> None:
    r = section.seal_radius
    if section.cut == "along":
        shaft = np.array([[-section.half_width * 1.9, 0.0], [section.half_width * 1.9, 0.0]])
        ink.painter.setPen(ink.palette.pen("wall", max(0.5 * r * frame.scale, 3.0)))
        ink.painter.drawPolyline(frame.polygon(section.turned(shaft)))
        for k, sign in enumerate((-1.0, 1.0)):
            x = sign * section.half_width
            wet = bool(seat.seal_wet[k, condition])
            plate = np.array([[x - 2.4, r], [x + 2.4, r], [x + 2.4, -r], [x - 2.4, -r]])
            ink.painter.setPen(ink.palette.pen("bad" if wet else "ink", BOLD))
            ink.painter.setBrush(ink.palette.color("sheet"))
            ink.painter.drawPolygon(frame.polygon(section.turned(plate)))
            gap = float(seat.seal_freeboard_m[k, condition])
            word = f"{tr('wet') if wet else tr('dry')}, {show(gap, 'mm', ink.family)}"
            foot = frame.at(section.turned(np.array([[x, 0.62 * section.height + 4.0]]))[0])
            marks.clear_text(ink, QPointF(foot.x(), foot.y() - 4), word, "bad" if wet else "good", "centre")
        return
    wet = bool(seat.seal_wet[:, condition].any())
    ink.painter.setPen(ink.palette.pen("bad" if wet else "ink", BOLD))
    ink.painter.setBrush(ink.palette.color("sheet"))
    for share in (1.0, 0.45):
        ink.painter.drawEllipse(frame.at(section.seals[0]), r * share * frame.scale, r * share * frame.scale)


def _ports(
    ink: Ink,
    frame: Frame,
    section: SeatSection,
) -> None:
    """Where the oil comes in and where it goes out."""
    height = section.height
    for start, end, word, comes in (
        ([0.0, 1.28 * height], [0.0, 0.9 * height], tr("feed"), True),
        ([0.0, -1.18 * height], [0.0, -1.5 * height], tr("drain"), False),
    ):
        a, b = section.turned(np.array([start, end]))
        ink.painter.setPen(ink.palette.pen("oil", BOLD))
        marks.arrow(ink.painter, frame.at(a), frame.at(b), 8.0)
        at = frame.at(a if comes else b)
        marks.clear_text(ink, QPointF(at.x() + 12, at.y() + (2 if comes else -8)), word, "ink")


def _handle(ink: Ink, frame: Frame, section: SeatSection, held: bool) -> None:
    at = frame.at(handle_place(section))
    ink.painter.setPen(ink.palette.pen("faint", HAIR, Qt.PenStyle.DotLine))
    ink.painter.drawLine(frame.origin, at)
    ink.painter.setPen(ink.palette.pen("focus" if held else "ink", LINE))
    ink.painter.setBrush(ink.palette.color("focus" if held else "raised"))
    size = 8.0 if held else 6.5
    ink.painter.drawEllipse(at, size, size)
    ink.painter.drawLine(QPointF(at.x() - 3, at.y()), QPointF(at.x() + 3, at.y()))


def _words(
    ink: Ink,
    rect: QRectF,
    e: Evaluation,
    condition: int,
    section: SeatSection,
    seat: Seating,
) -> None:
    turbo = e.line.turbo
    if section.cut == "across":
        title, angle, limit = (
            tr("across the shaft, from the turbine end"),
            turbo.clock_deg.value,
            seat.clock_limit_rad,
        )
        word = tr("clocked {angle:.0f}°").format(angle=abs(angle)) + (
            "" if abs(angle) < 0.5 else tr(" clockwise") if angle > 0 else tr(" counterclockwise")
        )
    else:
        title, angle, limit = tr("along the shaft"), turbo.pitch_deg.value, seat.tilt_limit_rad
        word = tr("tilted {angle:.0f}°").format(angle=abs(angle)) + (
            "" if abs(angle) < 0.5 else tr(", compressor up") if angle > 0 else tr(", turbine up")
        )
    over = abs(np.radians(angle)) > limit + 1e-9
    ink.painter.setPen(ink.palette.color("faint"))
    ink.painter.drawText(QPointF(rect.left() + 12, rect.top() + 18), title)
    ink.painter.setFont(font(SMALL, bold=True))
    ink.painter.setPen(ink.palette.color("bad" if over else "ink"))
    ink.painter.drawText(
        QPointF(rect.left() + 12, rect.top() + 35),
        f"{word}{tr(', over the limit of') if over else tr(', limit')} {np.degrees(limit):.0f}°",
    )
    ink.painter.setFont(font(SMALL))
    lean = np.degrees(np.arctan2(-section.up[0], section.up[1]))
    ink.painter.setPen(ink.palette.color("faint"))
    text = "" if abs(lean) < 0.5 else tr("oil leans {angle:.0f}° here").format(angle=abs(lean))
    if text:
        ink.painter.drawText(QPointF(rect.left() + 12, rect.top() + 52), text)
