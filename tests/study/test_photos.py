# SPDX-License-Identifier: GPL-3.0-or-later
"""Photographs laid on the car: a picture taken square on, of which every place is known beforehand, so that matrices and bands
can be told by hand. Rules: similar figures (Euclid, VI); spread of a mean of clicks (Gauss)."""

from __future__ import annotations

import numpy as np
import pytest

from gravidon.errors import InputError
from gravidon.plan.demos import demo_plan
from gravidon.plan.model_photo import Photo
from gravidon.study.home import photos

SCALE = 0.5
"""[mm] of the car a pixel, in the photographs made up here."""


def photo(by: str = "rectangle", **more: object) -> Photo:
    """Return a photograph of a board of 400 x 200 mm from its corners, or of two points on it; its anchor is 30 mm right of
    the car's reference and 20 below."""
    square = ((100.0, 100.0), (900.0, 100.0), (900.0, 500.0), (100.0, 500.0), (500.0, 300.0))
    points = ((100.0, 300.0), (900.0, 300.0), (100.0, 450.0), (900.0, 450.0), (500.0, 300.0))
    new: dict[str, object] = {
        "view": "front",
        "name": "board",
        "picture": "made up here",
        "by": by,
        "clicks": square if by == "rectangle" else points,
        "width_mm": 800.0 * SCALE,
        "height_mm": 400.0 * SCALE,
        "distance_mm": 800.0 * SCALE,
        "anchor_right_mm": 30.0,
        "anchor_up_mm": -20.0,
        **more,
    }
    return Photo.model_validate(new)


def laid(it: Photo, pixel: tuple[float, float]) -> np.ndarray:
    """Return where a pixel of a photograph lies [mm], right and up."""
    x, y, w = photos.matrix(it) @ np.array([*pixel, 1.0])
    result: np.ndarray = 1e3 * np.array([x, y]) / w
    return result


@pytest.mark.parametrize("by", ["rectangle", "two points"])
def test_a_photograph_taken_square_on_is_a_drawing_to_scale(by: str) -> None:
    """Half a millimetre a pixel: 100 pixels right are 50 mm, 100 up (rows count downwards) are 50 mm up; the anchor is where it is said to be."""
    it = photo(by)
    assert laid(it, (500.0, 300.0)) == pytest.approx([30.0, -20.0], abs=1e-6)
    assert laid(it, (600.0, 300.0)) == pytest.approx([80.0, -20.0], abs=1e-6)
    assert laid(it, (500.0, 200.0)) == pytest.approx([30.0, 30.0], abs=1e-6)


@pytest.mark.parametrize("by", ["rectangle", "two points"])
def test_a_larger_measure_makes_everything_larger(by: str) -> None:
    """Twice the measure, twice every distance from the anchor, which stays."""
    twice = photo(by, width_mm=800.0, height_mm=400.0, distance_mm=800.0)
    assert laid(twice, (500.0, 300.0)) == pytest.approx([30.0, -20.0], abs=1e-6)
    assert laid(twice, (600.0, 300.0)) == pytest.approx([130.0, -20.0], abs=1e-6)


def test_the_band_of_a_place_is_that_of_its_clicks() -> None:
    """At the anchor itself the band is no wider than elsewhere on the board, and it grows beyond the clicks; it scales with the picture."""
    it = photo()
    near = photos.accuracy_m(it, np.array([[500.0, 300.0]]))[0]
    far = photos.accuracy_m(it, np.array([[3000.0, 300.0]]))[0]
    assert 0.0 < near < far
    twice = photo(width_mm=800.0, height_mm=400.0)
    assert photos.accuracy_m(twice, np.array([[500.0, 300.0]]))[0] == pytest.approx(2.0 * near, rel=0.02)
    middle = photos.accuracy_m(it, np.array(it.clicks[:4]).mean(axis=0)[None])[0]
    assert photos.off_m(it) == pytest.approx(middle)


def test_clicks_on_one_spot_lay_it_nowhere() -> None:
    """Four clicks on one pixel span nothing: said with the photograph's name, not computed."""
    spot = photo(clicks=((5.0, 5.0),) * 5)
    with pytest.raises(InputError, match="clicks"):
        photos.matrix(spot)
    with pytest.raises(InputError, match="clicks"):
        photos.accuracy_m(spot, np.array([[1.0, 1.0]]))


def test_heights_are_as_good_as_the_best_photograph_that_shows_them() -> None:
    plan = demo_plan("coupe").model_copy(update={"photos": ()})
    assert photos.heights_off_mm(plan) == 0.0
    sharp, coarse = photo(name="a"), photo(name="b", width_mm=800.0, height_mm=400.0)
    one = plan.model_copy(update={"photos": (coarse,)})
    both = plan.model_copy(update={"photos": (coarse, sharp)})
    assert photos.heights_off_mm(one) == pytest.approx(1e3 * photos.off_m(coarse))
    assert photos.heights_off_mm(both) == pytest.approx(1e3 * photos.off_m(sharp))
