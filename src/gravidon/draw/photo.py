# SPDX-License-Identifier: GPL-3.0-or-later
"""A photograph painted under a drawing, squared to its plane."""

from __future__ import annotations

import base64
from functools import lru_cache

import numpy as np
from PyQt6.QtCore import QBuffer, QByteArray
from PyQt6.QtGui import QImage, QImageReader, QPainter, QTransform

from gravidon.draw.geometry.elevation import VIEWS, project
from gravidon.errors import GravidonError
from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.plan.model_photo import Photo, View
from gravidon.study.home.photos import matrix
from gravidon.study.solve.assemble import box_of, point
from gravidon.study.solve.drain_route import flange_centre
from gravidon.translate import tr

MOST_PIXELS = 40_000_000
"""Pixels of a picture that is decoded; more than a telephone takes; project choice."""


def picture_in(data: bytes, formats: tuple[str, ...] = ("jpeg", "png")) -> QImage:
    """Return a raster picture, turned upright as its camera says; an empty one for any other kind of data, or for one that is too large.

    A picture comes from outside: only the formats that are offered are tried, and its size is looked at before it is decoded.
    """
    magic = {"jpeg": b"\xff\xd8\xff", "png": b"\x89PNG\r\n\x1a\n"}
    kind = next((f for f in formats if data.startswith(magic[f])), None)
    if kind is None:
        return QImage()
    buffer = QBuffer()
    buffer.setData(QByteArray(data))
    reader = QImageReader(buffer, QByteArray(kind.encode()))
    reader.setAutoDetectImageFormat(False)
    reader.setAutoTransform(True)
    size = reader.size()
    if not size.isValid() or size.width() * size.height() > MOST_PIXELS:
        return QImage()
    return reader.read()


@lru_cache(maxsize=8)
def image_of(picture: str) -> QImage:
    """Return a photo's picture; an empty one if it cannot be read."""
    try:
        data = base64.b64decode(picture, validate=True)
    except ValueError:
        return QImage()
    return picture_in(data, ("jpeg",))


def transform_of(matrix3: Array) -> QTransform:
    """Return a matrix (3, 3) that maps columns as Qt maps its rows."""
    m = np.asarray(matrix3).T
    return QTransform(*(float(v) for v in m.ravel()))


def of_view(plan: Plan, view: View) -> Photo | None:
    """Return the photo that lies under a view; None if none does."""
    return next((p for p in plan.photos if p.view == view), None)


def known_places(plan: Plan, turbo: int, view: View) -> dict[str, tuple[float, float]]:
    """Return what a photo can be anchored at in a view, by name: its place (right, up) [mm]; on walls (along, up)."""
    it = plan.turbos[turbo]
    low, high = box_of(plan.sump.boxes[0])
    rail = float(high[2])
    entry = point(it.drain.entry)
    if view in VIEWS:
        corners = {
            tr("drain flange"): flange_centre(it),
            tr("pan rail, left rear corner"): np.array([low[0], high[1], rail]),
            tr("pan rail, right rear corner"): np.array([low[0], low[1], rail]),
            tr("pan rail, left front corner"): np.array([high[0], high[1], rail]),
            tr("pan rail, right front corner"): np.array([high[0], low[1], rail]),
            tr("pan entry"): entry,
        }
        return {name: _pair(project(view, place[None, :])[0]) for name, place in corners.items()}
    axis = 0 if view in ("right wall", "left wall") else 1
    ends = ("rear", "front") if axis == 0 else ("right", "left")
    return {
        tr("pan rail, {side} corner").format(side=ends[0]): (float(low[axis]) * 1e3, rail * 1e3),
        tr("pan rail, {side} corner").format(side=ends[1]): (float(high[axis]) * 1e3, rail * 1e3),
        tr("pan entry"): (float(entry[axis]) * 1e3, float(entry[2]) * 1e3),
    }


def _pair(place: np.ndarray) -> tuple[float, float]:
    return float(place[0]), float(place[1])


def paint(painter: QPainter, photo: Photo | None, to_px: QTransform) -> None:
    """Paint a photo; `to_px` maps metres of its view to the painter's pixels. One that is hidden or cannot be read is left out."""
    if photo is None or not photo.shown:
        return
    image = image_of(photo.picture)
    try:
        laid = transform_of(matrix(photo))
    except GravidonError:
        return
    if image.isNull():
        return
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.setOpacity(photo.opacity)
    painter.setTransform(laid * to_px * painter.transform())
    painter.drawImage(0, 0, image)
    painter.restore()
