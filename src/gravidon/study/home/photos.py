# SPDX-License-Identifier: GPL-3.0-or-later
"""Photographs laid on planes of the car: their matrices, and how good a place taken from one is."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

import numpy as np

from gravidon.errors import InputError
from gravidon.physics import rectify
from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.plan.model_photo import Photo, View


def maker(photo: Photo) -> Callable[[Array], Array]:
    """Return the function from a photo's clicks (5, 2) to its matrix (3, 3), pixels to metres."""
    anchor = np.array([photo.anchor_right_mm, photo.anchor_up_mm]) * 1e-3
    if photo.by == "rectangle":
        return lambda c: rectify.by_rectangle(
            c[:4], photo.width_mm * 1e-3, photo.height_mm * 1e-3, c[4], anchor
        )
    return lambda c: rectify.by_two_points(c[:2], photo.distance_mm * 1e-3, c[2:4], photo.plumb, c[4], anchor)


@lru_cache(maxsize=32)
def matrix(photo: Photo) -> Array:
    """Return a photo's matrix from pixels to metres in its view, (3, 3).

    Raises: InputError if its clicks lay it nowhere.
    """
    try:
        return maker(photo)(np.array(photo.clicks))
    except (ValueError, np.linalg.LinAlgError) as error:
        raise InputError("photo's clicks", photo.name, str(error)) from error


def accuracy_m(photo: Photo, at_px: Array) -> Array:
    """Return how far places taken from a photo may be off for its clicks [m], (points,), 95 %.

    Raises: InputError if its clicks lay it nowhere.
    """
    try:
        return rectify.spread(maker(photo), np.array(photo.clicks), at_px)
    except (ValueError, np.linalg.LinAlgError) as error:
        raise InputError("photo's clicks", photo.name, str(error)) from error


def off_m(photo: Photo) -> float:
    """Return how far a place in the midst of a photo's clicks may be off [m], 95 %.

    Raises: InputError if its clicks lay it nowhere.
    """
    return float(accuracy_m(photo, np.array(photo.clicks[:4]).mean(axis=0)[None, :])[0])


def heights_off_mm(plan: Plan) -> float:
    """Return how far heights read off a plan's photos may be off [mm], 95 %: of the best one that shows heights; 0 without one,
    and for one that its clicks lay nowhere."""
    found = []
    for photo in plan.photos:
        if photo.view != "above" and photo.shown:
            try:
                found.append(off_m(photo) * 1e3)
            except InputError:
                continue
    return min(found, default=0.0)


def with_photo(plan: Plan, view: View, photo: Photo | None) -> Plan:
    """Return the plan with a photo under a view, or with none."""
    rest = tuple(p for p in plan.photos if p.view != view)
    return plan.model_copy(update={"photos": (*rest, photo) if photo is not None else rest})
