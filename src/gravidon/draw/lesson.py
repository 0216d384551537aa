# SPDX-License-Identifier: GPL-3.0-or-later
"""Paint a case of the trainer: the car with what it shows so far, its gauges, what time and money are left; at the end what every test was worth; and the record."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainterPath

from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, HAIR, LARGE, LINE, SMALL, fitted_text, font, wrapped
from gravidon.draw.suspicion import places
from gravidon.draw.whole_way import block_drawn, paint_scene, scale_of
from gravidon.plan.units import show
from gravidon.study.diagnosis.tables import tables
from gravidon.study.diagnosis.trainer import Ending, Mark, progress
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import tr

WHERE: Mapping[str, str] = {
    "wet-feed": "joint", "wet-sender": "gallery", "wet-drain": "entry", "oil-intake": "seal", "oil-turbine": "housing", "one-side": "seal", "dipstick-up": "case",
    "gaskets-weep": "engine", "can-fills": "case", "glitter": "pan", "oil-burnt": "pan", "coke": "hole", "oil-drops": "engine", "level-high": "pan", "level-low": "pan",
    "frothy": "pan", "whine": "bearing", "rumble": "bearing", "shaft-play": "bearing", "shaft-stiff": "bearing", "wheel-rub": "bearing", "tick": "pipes", "pump-silent": "pump",
    "pump-load": "pump", "drain-cool": "drain", "oil-hot": "drain", "dry-pipes": "pipes", "smoke-bay": "joint",
}  # fmt: skip
"""By sign: where on the path it is drawn; smoke leaves by the pipes, what gauges say stands at the gauge."""
LINES = 3
"""Most lines that a sign is told in; project choice."""
GROUP_PLACE = {"smoke": "pipes", "pressure": "gauge"}
PUFFS = ((0.0, 0.0, 9.0), (11.0, -6.0, 12.0), (25.0, -3.0, 14.0), (39.0, -12.0, 11.0), (20.0, -17.0, 10.0))
"""Puffs of a cloud: right, down, radius [px at scale 1]."""


def place_of(sign: str) -> str:
    """Return where on the path a sign is drawn."""
    return WHERE.get(sign) or GROUP_PLACE.get(tables().signs[sign].group, "engine")


def paint_car(ink: Ink, rect: QRectF, e: Evaluation, condition: int, shown: Sequence[str]) -> None:
    """Paint the car's oil path, pale, with what it shows: clouds of smoke, drops of oil, and the words for them."""
    p, k = ink.painter, scale_of(rect)
    p.save()
    p.setRenderHint(p.RenderHint.Antialiasing)
    p.setFont(font(SMALL * k))
    scene = paint_scene(ink, rect, e, condition, k)
    p.fillRect(rect, ink.palette.color("sheet", 0.45))
    at = places(scene, e, k)
    block_drawn(scene)
    by_place: dict[str, list[str]] = {}
    for sign in shown:
        place = place_of(sign)
        by_place.setdefault(place if place in at else "engine", []).append(sign)
    face = font(SMALL * k)
    metrics = QFontMetricsF(face)
    for place, signs in by_place.items():
        scene.labels.block([QRectF(at[place].x() - 22 * k, at[place].y() - 24 * k, 66 * k, 46 * k)])
        _symbol(ink, at[place], signs, k)
    for place, signs in by_place.items():
        lines = [line for s in signs for line in wrapped(tables().signs[s].said, 170 * k, face, LINES)]
        size = QSizeF(max(metrics.horizontalAdvance(t) for t in lines) + 8, len(lines) * metrics.height() + 4)
        placed = scene.labels.place(at[place], size) or scene.labels.anywhere(at[place], size)
        if placed is None:
            continue
        if placed.leader is not None:
            p.setPen(ink.palette.pen("faint", HAIR))
            p.drawLine(*placed.leader)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink.palette.color("sheet", 0.9))
        p.drawRoundedRect(placed.rect, 3, 3)
        p.setFont(face)
        p.setPen(ink.palette.color("ink"))
        for n, line in enumerate(lines):
            y = placed.rect.top() + 2 + n * metrics.height() + metrics.ascent()
            p.drawText(QPointF(placed.rect.left() + 4, y), line)
    p.restore()


def _symbol(ink: Ink, at: QPointF, signs: Sequence[str], k: float) -> None:
    """A cloud where it smokes, drops where it is wet, a ring for all else."""
    p = ink.painter
    groups = {tables().signs[s].group for s in signs}
    if "smoke" in groups:
        black = "smoke-black" in signs
        p.setPen(ink.palette.pen("wall", HAIR))
        p.setBrush(ink.palette.color("ink" if black else "metal", 0.75 if black else 0.45))
        cloud = QPainterPath()
        for dx, dy, r in PUFFS:
            puff = QPainterPath()
            puff.addEllipse(QPointF(at.x() + dx * k, at.y() + dy * k), r * k, r * k)
            cloud = cloud.united(puff)
        p.drawPath(cloud)
    elif any(s.startswith(("wet", "oil-")) for s in signs):
        p.setPen(ink.palette.pen("wall", HAIR))
        p.setBrush(ink.palette.color("oil"))
        for dx, dy in ((-6.0, -4.0), (5.0, 2.0)):
            p.drawPath(marks.drop_path(QRectF(at.x() + dx * k, at.y() + dy * k, 9 * k, 13 * k)))
    else:
        p.setPen(ink.palette.pen("heat", LINE))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(at, 11 * k, 11 * k)


@dataclass(frozen=True)
class Gauge:
    """One gauge: what it is called, what it shows in SI and its kind of unit, what the plan says (nan: nothing), the end of its scale."""

    name: str
    value: float
    kind: str
    planned: float
    full: float


def paint_gauges(ink: Ink, rect: QRectF, gauges: Sequence[Gauge]) -> None:
    """Paint gauges as columns of oil side by side, with the plan's value as a mark at each."""
    p = ink.painter
    p.save()
    p.setRenderHint(p.RenderHint.Antialiasing)
    wide = rect.width() / max(len(gauges), 1)
    for n, g in enumerate(gauges):
        left = rect.left() + n * wide
        tube = QRectF(left + 8, rect.top() + 8, 14, rect.height() - 16)
        share = float(np.clip(g.value / g.full, 0.0, 1.0)) if g.full > 0.0 else 0.0
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink.palette.color("raised"))
        p.drawRoundedRect(tube, 4, 4)
        p.setBrush(ink.palette.color("oil"))
        p.drawRoundedRect(
            QRectF(tube.left(), tube.bottom() - share * tube.height(), tube.width(), share * tube.height()),
            4,
            4,
        )
        p.setPen(ink.palette.pen("wall", HAIR))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRoundedRect(tube, 4, 4)
        if g.planned == g.planned:
            y = tube.bottom() - float(np.clip(g.planned / g.full, 0.0, 1.0)) * tube.height()
            p.setPen(ink.palette.pen("good", LINE))
            p.drawLine(QPointF(tube.left() - 4, y), QPointF(tube.right() + 4, y))
        x, room = tube.right() + 10, wide - 36
        p.setPen(ink.palette.color("faint"))
        fitted_text(p, QPointF(x, rect.top() + 18), g.name, room, SMALL)
        p.setPen(ink.palette.color("ink"))
        fitted_text(p, QPointF(x, rect.top() + 38), show(g.value, g.kind, ink.family), room, LARGE, bold=True)
        if g.planned == g.planned:
            p.setPen(ink.palette.color("good"))
            fitted_text(
                p,
                QPointF(x, rect.top() + 54),
                tr("plan {planned}").format(planned=show(g.planned, g.kind, ink.family)),
                room,
                SMALL,
            )
    p.restore()


def paint_budget(ink: Ink, rect: QRectF, rows: Sequence[tuple[str, float, float, str]]) -> None:
    """Paint what is left of time and money: rows of (name, left, of, unit)."""
    p = ink.painter
    p.save()
    high = rect.height() / max(len(rows), 1)
    metrics = QFontMetricsF(font(BODY))
    said = [tr("{left:.0f} of {of:.0f} {unit}").format(left=r[1], of=r[2], unit=r[3]) for r in rows]
    names = max([60.0, *(metrics.horizontalAdvance(row[0]) for row in rows)])
    rests = max([102.0, *(metrics.horizontalAdvance(words) for words in said)])
    for n, (name, left, of, _) in enumerate(rows):
        y = rect.top() + n * high
        wide = max(rect.width() - names - rests - 12, 20.0)
        bar = QRectF(rect.left() + names + 4, y + high / 2 - 5, wide, 10)
        p.setPen(ink.palette.color("faint"))
        fitted_text(p, QPointF(rect.left(), y + high / 2 + 5), name, names + 1, BODY)
        p.fillRect(bar, ink.palette.color("line", 0.6))
        share = float(np.clip(left / of, 0.0, 1.0)) if of > 0.0 else 0.0
        p.fillRect(
            QRectF(bar.left(), bar.top(), share * bar.width(), bar.height()), ink.palette.color("focus")
        )
        p.setPen(ink.palette.color("ink"))
        fitted_text(p, QPointF(bar.right() + 8, y + high / 2 + 5), said[n], rests + 1, BODY)
    p.restore()


def paint_ending(ink: Ink, rect: QRectF, end: Ending) -> None:
    """Paint what each test was worth: the learner's own, and those of the best plan, each a bar of bits to the right (nearer to the truth) or left."""
    p = ink.painter
    p.save()
    spans = [abs(s.bits) for s in (*end.steps, *end.best)]
    most = max([0.5, *spans])
    middle = rect.left() + 0.64 * rect.width()
    reach = max(min(0.36 * rect.width() - 118.0, 200.0), 30.0)
    rows: list[tuple[str, float, float] | str] = [tr("Your tests")]
    rows += [(s.words, s.bits, s.minutes) for s in end.steps]
    if not end.steps:
        rows.append(("none", 0.0, 0.0))
    rows.append(
        tr("The best plan: {minutes:.0f} min, {money:.0f} coins").format(
            minutes=end.best_minutes, money=end.best_money
        )
    )
    rows += [(s.words, s.bits, s.minutes) for s in end.best]
    high = min(24.0, (rect.height() - 30.0) / max(len(rows), 1))
    y = rect.top() + 6.0
    for row in rows:
        if isinstance(row, str):
            p.setPen(ink.palette.color("ink"))
            fitted_text(p, QPointF(rect.left() + 4, y + 0.72 * high), row, rect.width() - 8, BODY, bold=True)
        else:
            words, bits, minutes = row
            p.setPen(ink.palette.color("ink"))
            fitted_text(
                p,
                QPointF(rect.left() + 16, y + 0.72 * high),
                words,
                middle - rect.left() - 24 - 0.25 * reach,
                SMALL,
            )
            x = middle + reach * bits / most
            bar = QRectF(min(middle, x), y + 0.22 * high, abs(x - middle), 0.55 * high)
            p.fillRect(bar, ink.palette.color("good" if bits >= 0.0 else "bad"))
            p.setPen(ink.palette.pen("wall", HAIR))
            p.drawLine(QPointF(middle, y), QPointF(middle, y + high))
            p.setPen(ink.palette.color("faint"))
            told = (
                tr("{bits:+.2f} bit, {minutes:.0f} min").format(bits=bits, minutes=minutes) if minutes else ""
            )
            fitted_text(
                p,
                QPointF(max(x, middle) + 6, y + 0.72 * high),
                told,
                rect.right() - max(x, middle) - 8,
                SMALL,
            )
        y += high
    p.setPen(ink.palette.color("faint"))
    fitted_text(
        p,
        QPointF(rect.left() + 4, y + 16),
        tr("To the right: it made what is wrong likelier. To the left: it led away."),
        rect.width() - 8,
        SMALL,
    )
    p.restore()


def paint_record(ink: Ink, rect: QRectF, record: Sequence[Mark]) -> None:
    """Paint the record: by skill a row of its marks in their order, points upwards, and the means of the first and last five."""
    p = ink.painter
    p.save()
    p.setRenderHint(p.RenderHint.Antialiasing)
    rows = progress(record)
    high = min((rect.height() - 8) / max(len(rows), 1), 84.0)
    for n, (skill, (count, first, last)) in enumerate(rows.items()):
        top = rect.top() + 6 + n * high
        lane = QRectF(rect.left() + 210, top + 4, rect.width() - 210 - 150, high - 16)
        p.fillRect(lane, ink.palette.color("raised"))
        p.setPen(ink.palette.pen("line", HAIR))
        for share in (0.0, 0.5, 1.0):
            y = lane.bottom() - share * lane.height()
            p.drawLine(QPointF(lane.left(), y), QPointF(lane.right(), y))
        p.setPen(ink.palette.color("ink"))
        fitted_text(p, QPointF(rect.left() + 4, lane.center().y() - 2), skill, 196, BODY, bold=True)
        p.setPen(ink.palette.color("faint"))
        fitted_text(
            p,
            QPointF(rect.left() + 4, lane.center().y() + 15),
            tr("{count} done").format(count=count),
            196,
            SMALL,
        )
        points = [m.points for m in record if m.skill == skill][-60:]
        step = lane.width() / max(len(points), 8)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink.palette.color("focus"))
        for k, value in enumerate(points):
            at = QPointF(lane.left() + (k + 0.5) * step, lane.bottom() - value / 100.0 * lane.height())
            p.drawEllipse(at, 4.0, 4.0)
        p.setPen(ink.palette.color("ink"))
        trend = (
            tr("{first:.0f} → {last:.0f} points").format(first=first, last=last)
            if count > 1
            else tr("{last:.0f} points").format(last=last)
        )
        fitted_text(p, QPointF(lane.right() + 12, lane.center().y() + 5), trend, 134, BODY)
    p.restore()
