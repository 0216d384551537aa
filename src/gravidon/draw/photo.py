"""A photograph painted under a drawing, squared to its plane."""

from __future__ import annotations

import base64
from functools import lru_cache

import numpy as np
from PyQt6.QtCore import QByteArray
from PyQt6.QtGui import QImage, QPainter, QTransform

from gravidon.errors import GravidonError
from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.plan.model_photo import Photo, View
from gravidon.study.home.photos import matrix


@lru_cache(maxsize=8)
def image_of(picture: str) -> QImage:
    """Return a photo's picture; an empty one if it cannot be read."""
    try:
        data = base64.b64decode(picture, validate=True)
    except ValueError:
        return QImage()
    return QImage.fromData(QByteArray(data))


def transform_of(matrix3: Array) -> QTransform:
    """Return a matrix (3, 3) that maps columns as Qt maps its rows."""
    m = np.asarray(matrix3).T
    return QTransform(*(float(v) for v in m.ravel()))


def of_view(plan: Plan, view: View) -> Photo | None:
    """Return the photo that lies under a view; None if none does."""
    return next((p for p in plan.photos if p.view == view), None)


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
