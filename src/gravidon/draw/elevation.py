# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint the drain elevation: turbo, hose with its oil, grade line, pan with its surface, freeboard."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from gravidon.draw import marks, run_marks
from gravidon.draw.frame import Frame
from gravidon.draw.geometry.elevation import VIEWS, Elevation
from gravidon.draw.ink import Ink
from gravidon.draw.style import BOLD, HAIR, LINE, SMALL, Palette, fitting, font
from gravidon.parts.dash import HOSE_OUTSIDE_MM, dash_of_bore
from gravidon.physics.arrays import Array
from gravidon.plan.units import in_inches, show
from gravidon.study.judge.home import filling_judged
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import tr


def fit(picture: Elevation, rect: QRectF, margin: float = 46.0) -> Frame:
    """Return the frame that shows turbo, drain and pan inside a rectangle."""
    points = np.concatenate([picture.stations, picture.housing, *picture.pans])
    low, high = points.min(axis=0), points.max(axis=0) + np.array([0.0, 30.0])
    size = np.maximum(high - low, 1.0)
    scale = min((rect.width() - 2 * margin) / size[0], (rect.height() - 2 * margin) / size[1])
    scale = max(scale, 0.05)
    middle = 0.5 * (low + high)
    origin = QPointF(rect.center().x() - scale * middle[0], rect.center().y() + scale * middle[1])
    return Frame(scale, origin)


def paint(
    ink: Ink,
    rect: QRectF,
    frame: Frame,
    e: Evaluation,
    condition: int,
    picture: Elevation,
    selected: str = "",
    handles: bool = True,
    main: bool = True,
) -> None:
    """Paint the whole elevation of one condition into a rectangle."""
    paint_behind(ink, rect, frame, picture)
    paint_run(ink, rect, frame, e, condition, picture, selected, handles, main)


def behind_key(frame: Frame, picture: Elevation) -> tuple[object, ...]:
    """Return what `paint_behind` depends on."""
    shapes = (*picture.pans, *picture.oils, *picture.others, *picture.feeds, picture.up)
    blocks = tuple((b.thing, b.low.tobytes(), b.high.tobytes()) for b in picture.blocks)
    return (frame.scale, frame.origin.x(), frame.origin.y(), blocks, *(a.tobytes() for a in shapes))


def paint_behind(ink: Ink, rect: QRectF, frame: Frame, picture: Elevation) -> None:
    """Paint what stands behind the run and stays where it is while the run is moved: things, pan, other drains."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setClipRect(rect)
    run_marks.blocks(ink, frame, picture)
    _pan(ink, frame, picture)
    run_marks.others(ink, frame, picture)
    ink.painter.restore()


def paint_run(
    ink: Ink,
    rect: QRectF,
    frame: Frame,
    e: Evaluation,
    condition: int,
    picture: Elevation,
    selected: str = "",
    handles: bool = True,
    main: bool = True,
) -> None:
    """Paint the run itself, over what stands behind it, with its words and handles."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink.painter.setFont(font(SMALL))
    ink.painter.setClipRect(rect)
    froth = froth_colour(ink.palette, float(e.plan.conditions[condition].air_fraction))
    level = picture.view != "above"
    _hose(ink, frame, e, picture, froth, e.plan.conditions[condition].air_fraction)
    _housing(ink, frame, picture, froth)
    ink.taken.extend(frame.polygon(pan).boundingRect() for pan in picture.pans)
    ink.taken.append(QRectF(rect.left(), rect.bottom() - 32, rect.width(), 32))  # scale bar and key
    paint_scale(ink, rect, frame, picture)
    if level:
        _grade_line(ink, frame, picture)
        if main:
            _corner_notes(ink, rect, frame, e, condition, picture)
        _freeboard(ink, frame, e, condition, picture, main)
        if e.route.ends_in_fitting and main:
            _pan_labels(ink, frame, e, condition, picture)
        if main:
            _slopes(ink, frame, picture, bool(filling_judged(e)[condition]))
        run_marks.faults(ink, frame, e, condition, picture, main)
    run_marks.block_labels(ink, frame, picture)
    if handles:
        _handles(ink, frame, picture, selected)
    if main and not level:
        _corner_notes(ink, rect, frame, e, condition, picture)
    ink.painter.restore()


def paint_oil_and_walls(ink: Ink, frame: Frame, e: Evaluation, picture: Elevation, air: float) -> None:
    """Paint hose and housing with the oil in them, and nothing else."""
    ink.painter.save()
    ink.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    froth = froth_colour(ink.palette, air)
    _hose(ink, frame, e, picture, froth, air)
    _housing(ink, frame, picture, froth)
    ink.painter.restore()


def froth_colour(palette: Palette, air: float) -> QColor:
    """Oil pales towards froth with its air."""
    return _over(palette.color("oil"), palette.color("froth"), min(air / 0.5, 1.0))


def _bubbles(picture: Elevation, normals: Array, scale: float, air: float) -> Array:
    """Return where bubbles show in the drain's oil [mm]: closer together the more air there is."""
    step = (15.0 - 14.0 * min(air, 0.5)) / scale
    fill = np.where(picture.full[:-1], 1.0, picture.fill[:-1])
    start, along = picture.stations[:-1], np.diff(picture.stations, axis=0)
    length = np.linalg.norm(along, axis=1)
    walked = np.concatenate([[0.0], np.cumsum(length)])
    places = np.arange(0.5 * step, walked[-1], step)
    piece = np.clip(np.searchsorted(walked, places, side="right") - 1, 0, len(length) - 1)
    share = (places - walked[piece]) / np.maximum(length[piece], 1e-6)
    centre = start[piece] + share[:, None] * along[piece]
    depth = fill[piece] * picture.bore_mm[piece]
    points = []
    for row in range(int(picture.bore_mm.max() / step) + 1):
        height = (row + 0.5 + 0.3 * ((np.arange(len(places)) * 7 + row * 3) % 5 - 2) / 2) * step
        inside = (height < depth - 0.2 * step) & (height > 0.0)
        offset = (height - 0.5 * picture.bore_mm[piece])[:, None] * normals[piece]
        points.append((centre + offset)[inside])
    return np.concatenate(points)


def _pan(
    ink: Ink,
    frame: Frame,
    picture: Elevation,
) -> None:
    for oil in picture.oils:
        if len(oil) > 2:
            ink.painter.setPen(Qt.PenStyle.NoPen)
            ink.painter.setBrush(ink.palette.color("oil", 0.42))
            ink.painter.drawPolygon(frame.polygon(oil))
            ink.painter.setPen(ink.palette.pen("oil", BOLD))
            _surface(ink.painter, frame, oil, picture.up)
    for pan in picture.pans:
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.setPen(ink.palette.pen("wall", BOLD))
        (left, bottom), (right, _), (_, top), _ = pan
        open_top = np.array([[left, top], [left, bottom], [right, bottom], [right, top]])
        ink.painter.drawPolyline(frame.polygon(open_top))
        ink.painter.setPen(ink.palette.pen("wall", HAIR))
        lip = 9.0
        ink.painter.drawLine(frame.at(np.array([left - lip, top])), frame.at(np.array([right + lip, top])))


def _surface(painter: QPainter, frame: Frame, oil: Array, up: Array) -> None:
    """Draw the polygon's edge that faces up along effective gravity."""
    height = oil @ up
    top = np.flatnonzero(height >= height.max() - 0.05)
    if len(top) >= 2:
        painter.drawLine(frame.at(oil[top[0]]), frame.at(oil[top[-1]]))


def _hose(
    ink: Ink,
    frame: Frame,
    e: Evaluation,
    picture: Elevation,
    froth: QColor,
    air: float,
) -> None:
    normals = run_marks.normals(picture)
    dash = dash_of_bore(e.line.drain.hose_bore_mm)
    outside = HOSE_OUTSIDE_MM.get(dash or 0, e.line.drain.hose_bore_mm + 6.0)
    legs, fitted = picture.legs, e.route.ends_in_fitting
    last = -1 if fitted else len(legs)
    hose = frame.polygon(np.array([legs[1].start, *(leg.end for leg in legs[1:last])]))
    _stroke(ink, hose, outside * frame.scale, 0.35)
    for leg in (legs[0], legs[-1]) if fitted else (legs[0],):
        ends = frame.polygon(np.array([leg.start, leg.end]))
        _stroke(ink, ends, (leg.bore_mm + 9.0) * frame.scale, 0.65)
    half = 0.5 * picture.bore_mm[:, None] * normals
    start, end = picture.stations[:-1], picture.stations[1:]
    ink.painter.setPen(Qt.PenStyle.NoPen)
    ink.painter.setBrush(ink.palette.color("sheet"))
    _band(ink.painter, frame, start - half, end - half, start + half, end + half)
    if picture.view == "above":
        return
    depth = np.where(picture.full, 1.0, picture.fill)
    surface = [start + half * (2 * depth[:-1, None] - 1), end + half * (2 * depth[1:, None] - 1)]
    ink.painter.setPen(Qt.PenStyle.NoPen)
    ink.painter.setBrush(froth)
    _band(ink.painter, frame, start - half, end - half, *surface)
    if air >= 0.03:
        pen = QPen(ink.palette.color("sheet", 0.85), 2.2)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        ink.painter.setPen(pen)
        ink.painter.drawPoints(frame.polygon(_bubbles(picture, normals, frame.scale, air)))


def _band(painter: QPainter, frame: Frame, a0: Array, a1: Array, b0: Array, b1: Array) -> None:
    """Fill the band between two lines given by both ends of every piece, (pieces, 2) each."""
    there = np.stack([a0, a1], axis=1).reshape(-1, 2)
    back = np.stack([b0, b1], axis=1).reshape(-1, 2)[::-1]
    painter.drawPolygon(frame.polygon(np.concatenate([there, back])), Qt.FillRule.WindingFill)


def _stroke(ink: Ink, line: QPolygonF, width: float, tone: float) -> None:
    """Draw a pipe's wall: a broad line with a thin dark edge."""
    for extra, colour in ((2 * HAIR, ink.palette.color("wall")), (0.0, ink.palette.color("sheet"))):
        pen = QPen(colour, width + extra)
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
        pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        ink.painter.setPen(pen)
        ink.painter.drawPolyline(line)
    pen.setColor(ink.palette.color("metal", tone))
    ink.painter.setPen(pen)
    ink.painter.drawPolyline(line)


def _housing(ink: Ink, frame: Frame, picture: Elevation, froth: QColor) -> None:
    centre = np.mean([c for c, _ in picture.seals], axis=0)
    outline = picture.housing
    if picture.view == "above":
        _wheels(ink, frame, picture, centre, 0.5 * float(np.linalg.norm(outline[3] - outline[0])))
        ink.painter.setPen(ink.palette.pen("wall", LINE))
        ink.painter.setBrush(ink.palette.color("metal", 0.45))
        ink.painter.drawPolygon(frame.polygon(outline))
        return
    height = float(np.linalg.norm(0.5 * (outline[0] + outline[1]) - centre))
    _wheels(ink, frame, picture, centre, height)
    half = 0.625 * float(np.linalg.norm(outline[2] - outline[5]))
    mouth = 0.5 * float(np.linalg.norm(outline[1] - outline[0])) + 7.0
    c, s = np.cos(picture.turn_rad), np.sin(picture.turn_rad)
    turn = np.array([[c, s], [-s, c]])
    body = QPainterPath()
    corners = np.array([[-half, 0.62], [half, 0.62], [half, -0.66], [-half, -0.66]]) * np.array([1.0, height])
    body.addPolygon(frame.polygon(centre + rounded(corners, 0.3 * height) @ turn))
    body.closeSubpath()
    neck = QPainterPath()
    lower = np.array(
        [[-half * 0.8, -0.5 * height], [half * 0.8, -0.5 * height], [mouth, -height], [-mouth, -height]]
    )
    neck.addPolygon(frame.polygon(centre + lower @ turn))
    neck.closeSubpath()
    ink.painter.setPen(ink.palette.pen("wall", LINE))
    ink.painter.setBrush(_over(ink.palette.color("sheet"), ink.palette.color("metal"), 0.45))
    ink.painter.drawPath(body.united(neck))
    ink.painter.setBrush(ink.palette.color("sheet"))
    ink.painter.setPen(ink.palette.pen("wall", HAIR))
    ink.painter.drawPolygon(frame.polygon(picture.housing))
    if len(picture.housing_oil) > 2:
        ink.painter.setPen(Qt.PenStyle.NoPen)
        ink.painter.setBrush(froth)
        ink.painter.drawPolygon(frame.polygon(picture.housing_oil))
    for k, (middle, lowest) in enumerate(picture.seals):
        radius = float(middle[1] - lowest[1]) * frame.scale
        ink.painter.setPen(ink.palette.pen("heat" if k == 0 else "ink", LINE))
        ink.painter.setBrush(ink.palette.color("sheet"))
        ink.painter.drawEllipse(frame.at(middle), radius, radius)
        ink.painter.drawEllipse(frame.at(middle), 0.45 * radius, 0.45 * radius)
        if np.linalg.norm(picture.seals[0][0] - picture.seals[1][0]) < 1.0:
            break


def _over(under: QColor, colour: QColor, share: float) -> QColor:
    """Return the colour that a wash over a ground looks like."""
    mix = [round(a + (b - a) * share) for a, b in zip(under.getRgb()[:3], colour.getRgb()[:3], strict=True)]
    return QColor(*mix)


def rounded(corners: Array, radius: float) -> Array:
    """Return a rectangle's corners (4, 2), clockwise from upper left, with rounded corners."""
    centre = corners.mean(axis=0)
    size = np.abs(corners[0] - centre)
    radius = min(radius, float(size.min()))
    points = []
    for k, sign in enumerate(((-1, 1), (1, 1), (1, -1), (-1, -1))):
        middle = centre + np.array(sign) * (size - radius)
        for angle in np.radians(np.linspace(180, 90, 6) - 90 * k):
            points.append(middle + radius * np.array([np.cos(angle), np.sin(angle)]))
    return np.array(points)


def _wheels(ink: Ink, frame: Frame, picture: Elevation, centre: Array, height: float) -> None:
    """The turbine and compressor housings behind the section, the hot one washed red."""
    turbine, compressor = (c for c, _ in picture.seals)
    end_on = float(np.linalg.norm(turbine - compressor)) < 1.0
    for place, colour in ((turbine, "heat"), (compressor, "metal")):
        out = (place - centre) * (1.0 if end_on else 1.62)
        ink.painter.setPen(ink.palette.pen("line" if colour == "metal" else "heat", HAIR))
        ink.painter.setBrush(ink.palette.color(colour, 0.13))
        radius = (1.28 if colour == "heat" else 1.45) * height * frame.scale
        middle = frame.at(centre + out)
        if end_on:
            ink.painter.drawEllipse(middle, radius, radius)
        else:
            width = 0.42 * height * frame.scale
            ink.painter.drawRoundedRect(
                QRectF(middle.x() - width, middle.y() - radius * 0.8, 2 * width, 1.6 * radius), 9, 9
            )


def _grade_line(
    ink: Ink,
    frame: Frame,
    picture: Elevation,
) -> None:
    ink.painter.setPen(ink.palette.pen("focus", LINE, Qt.PenStyle.DashDotLine))
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    ink.painter.drawPolyline(frame.polygon(picture.grade))


def _freeboard(
    ink: Ink,
    frame: Frame,
    e: Evaluation,
    condition: int,
    picture: Elevation,
    main: bool,
) -> None:
    free = float(e.drainage.freeboard_m[condition])
    need = float(e.plan.needs.freeboard_mm.value) * 1e-3
    colour = "bad" if free < 0 else "watch" if free < need else "good"
    right = float(picture.housing[:, 0].max()) + 0.35 * float(np.ptp(picture.housing[:, 0]))
    seal, pond = frame.at(picture.seal_point), frame.at(picture.pond_point)
    across = np.array([picture.up[1], -picture.up[0]])
    reach = right - float(picture.flange[0]) + 10.0
    ink.painter.setPen(ink.palette.pen("heat", HAIR, Qt.PenStyle.DashLine))
    for point in (picture.seal_point, picture.pond_point):
        ink.painter.drawLine(frame.at(point - across * reach * 0.45), frame.at(point + across * reach))
        ink.painter.setPen(ink.palette.pen("oil", LINE))
    offset = across * (reach - 6.0)
    ink.painter.setPen(ink.palette.pen(colour, LINE))
    top, bottom = frame.at(picture.seal_point + offset), frame.at(picture.pond_point + offset)
    if abs(top.y() - bottom.y()) > 3:
        marks.arrow(ink.painter, bottom, top, 6.0, both=True)
    if not main:
        return
    ink.painter.setFont(font(SMALL, bold=True))
    word = show(free, "mm", ink.family)
    words = tr("freeboard {word}").format(word=word)
    most = ink.painter.clipBoundingRect().right() - ink.painter.fontMetrics().horizontalAdvance(words) - 6
    at = QPointF(min(max(top.x(), bottom.x()) + 8, most), 0.5 * (top.y() + bottom.y()) + 4)
    marks.clear_text(ink, at, words, colour)
    ink.painter.setFont(font(SMALL))
    if abs(seal.y() - pond.y()) > 22:
        label = QPointF(frame.at(picture.seal_point - across * reach * 0.45).x() - 4, seal.y() + 4)
        marks.clear_text(ink, label, tr("seal line"), "heat", "right")


def _slopes(
    ink: Ink,
    frame: Frame,
    picture: Elevation,
    judged: bool,
) -> None:
    for k, leg in enumerate(picture.legs):
        a, b = frame.at(leg.start), frame.at(leg.end)
        if np.hypot(a.x() - b.x(), a.y() - b.y()) < 30 and 0 < k < len(picture.legs) - 1:
            continue
        if k == 0:
            continue
        uphill = leg.felt_rad < -1e-3
        text = f"{tr('climbs') if uphill else tr('falls')} {abs(np.degrees(leg.felt_rad)):.0f}°"
        if leg.is_fitting:
            text = tr("fitting {text}").format(text=text)
        middle = QPointF(0.5 * (a.x() + b.x()), 0.5 * (a.y() + b.y()))
        along = np.array([b.x() - a.x(), b.y() - a.y()])
        along /= max(float(np.linalg.norm(along)), 1e-6)
        gap = 0.5 * leg.bore_mm * frame.scale + 16
        rect = run_marks.free_place(ink.painter, text, middle, along, gap, [*ink.taken, *ink.words])
        at = QPointF(rect.left() + 3, rect.bottom() - ink.painter.fontMetrics().descent() - 1)
        marks.clear_text(ink, at, text, "bad" if uphill and judged else "ink")


def _pan_labels(
    ink: Ink,
    frame: Frame,
    e: Evaluation,
    condition: int,
    picture: Elevation,
) -> None:
    pan = picture.pans[0]
    entry_right = float(picture.entry[0]) > float(pan[:, 0].mean())  # the label keeps clear of the hose
    end = pan[:, 0].min() if entry_right else pan[:, 0].max()
    rail = frame.at(np.array([end, pan[:, 1].max()]))
    place, side = (
        (QPointF(rail.x() + 6, rail.y() - 6), "left")
        if entry_right
        else (QPointF(rail.x() - 6, rail.y() - 6), "right")
    )
    marks.clear_text(ink, place, tr("pan rail"), "faint", side)
    drowned = float(e.drainage.submergence_m[condition])
    words = tr("oil {amount} {side} the entry").format(
        amount=show(abs(drowned), "mm", ink.family), side=(tr("above") if drowned > 0 else tr("below"))
    )
    middle = 0.5 * (pan[:, 0].min() + pan[:, 0].max())
    at = frame.at(np.array([middle, pan[:, 1].min()]))
    marks.clear_text(ink, QPointF(at.x(), at.y() - 12), words, "watch" if drowned > 0 else "ink", "centre")


def _handles(ink: Ink, frame: Frame, picture: Elevation, selected: str) -> None:
    for name, point in picture.handles.items():
        at = frame.at(point)
        chosen = name == selected
        ink.painter.setPen(ink.palette.pen("focus" if chosen else "ink", LINE))
        ink.painter.setBrush(ink.palette.color("focus" if chosen else "raised"))
        size = 7.0 if chosen else 5.5
        if name.startswith("bend"):
            ink.painter.drawEllipse(at, size, size)
        elif name.startswith("shape"):
            ink.painter.setBrush(ink.palette.color("focus" if chosen else "sheet"))
            ink.painter.drawRect(QRectF(at.x() - 0.6 * size, at.y() - 0.6 * size, 1.2 * size, 1.2 * size))
        else:
            ink.painter.save()
            ink.painter.translate(at)
            ink.painter.rotate(45)
            ink.painter.drawRect(QRectF(-size * 0.85, -size * 0.85, 1.7 * size, 1.7 * size))
            ink.painter.restore()


def paint_scale(
    ink: Ink,
    rect: QRectF,
    frame: Frame,
    picture: Elevation,
) -> None:
    """The scale bar, and which view it is."""
    ink.painter.setFont(font(SMALL))
    bar_mm, label = (101.6, "4 in") if in_inches(ink.family) else (100.0, "100 mm")
    x, y = rect.left() + 14, rect.bottom() - 14
    ink.painter.setPen(ink.palette.pen("ink", LINE))
    ink.painter.drawLine(QPointF(x, y), QPointF(x + bar_mm * frame.scale, y))
    for end in (x, x + bar_mm * frame.scale):
        ink.painter.drawLine(QPointF(end, y - 4), QPointF(end, y + 4))
    marks.halo_text(ink, QPointF(x, y - 8), f"{label}, {VIEWS[picture.view]}")


def _corner_notes(
    ink: Ink,
    rect: QRectF,
    frame: Frame,
    e: Evaluation,
    condition: int,
    picture: Elevation,
) -> None:
    """Which way effective gravity pulls, and the key to the lines."""
    ink.painter.setFont(font(SMALL))
    if picture.view == "above":
        return
    key = QPointF(rect.right() - 14, rect.bottom() - 12)
    text = tr("grade line: where oil would stand")
    width = ink.painter.fontMetrics().horizontalAdvance(text)
    marks.halo_text(ink, key, text, "faint", "right")
    ink.painter.setPen(ink.palette.pen("focus", LINE, Qt.PenStyle.DashDotLine))
    ink.painter.drawLine(
        QPointF(key.x() - width - 46, key.y() - 4), QPointF(key.x() - width - 8, key.y() - 4)
    )
    lean = picture.lean_rad
    right_side = frame.at(picture.flange).x() < rect.center().x()
    name = e.plan.conditions[condition].name
    pull = (
        tr("oil is pulled straight down")
        if lean < 0.01
        else tr("oil is pulled {degrees:.0f}° off straight down").format(degrees=np.degrees(lean))
    )
    ink.painter.setFont(fitting(pull, QSizeF(rect.width() - 76, 20), SMALL))
    wide = 72.0 + max(ink.painter.fontMetrics().horizontalAdvance(words) for words in (name, pull))
    left = max(rect.right() - max(wide, 264.0), rect.left()) if right_side else rect.left()
    centre = QPointF(left + 34, rect.top() + 30)
    ink.painter.setPen(ink.palette.pen("ink", LINE))
    down = -picture.up / max(float(np.linalg.norm(picture.up)), 1e-6)
    tip = QPointF(centre.x() + 20 * down[0], centre.y() - 20 * down[1])
    marks.arrow(ink.painter, QPointF(centre.x() - 12 * down[0], centre.y() + 12 * down[1]), tip, 6.0)
    marks.halo_text(ink, QPointF(left + 66, rect.top() + 28), name)
    marks.halo_text(ink, QPointF(left + 66, rect.top() + 46), pull, "faint")
