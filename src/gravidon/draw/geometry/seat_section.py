# SPDX-License-Identifier: GPL-3.0-or-later
"""The centre housing cut across and along its shaft: plain geometry in millimetres about the shaft's middle."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from gravidon.draw.geometry.elevation import below_plane
from gravidon.physics.arrays import Array
from gravidon.plan.fields import si
from gravidon.study.solve.drain_route import shaft_centre
from gravidon.study.solve.evaluate import Evaluation

Cut = Literal["across", "along"]


@dataclass(frozen=True)
class SeatSection:
    """One cut; all points [mm] as (right, up), up being the car's up.

    Across: seen from the turbine end. Along: turbine at the left, compressor at the right. Fields: axes of the
    picture (2, 3); the turn of the housing in it [rad], counterclockwise; cavity, and the oil in it; seal
    centres, turbine first; radius of a seal; half width of the body and heights of shaft and mouth; effective
    up in the picture.
    """

    cut: Cut
    axes: Array
    turn_rad: float
    cavity: Array
    oil: Array
    seals: Array
    seal_radius: float
    half_width: float
    height: float
    mouth: float
    up: Array

    def turned(self, points: Array) -> Array:
        """Return points of the housing, drawn upright, as they stand."""
        c, s = np.cos(self.turn_rad), np.sin(self.turn_rad)
        result: Array = points @ np.array([[c, s], [-s, c]])
        return result


def seat_section(e: Evaluation, condition: int, cut: Cut) -> SeatSection:
    """Return one cut through the evaluation's turbo in one condition."""
    turbo = e.line.turbo
    heading = si(turbo, "shaft_heading_deg")
    ahead = np.array([np.cos(heading), np.sin(heading), 0.0])
    left = np.array([-np.sin(heading), np.cos(heading), 0.0])
    upward = np.array([0.0, 0.0, 1.0])
    axes = np.stack([-left if cut == "across" else ahead, upward])
    height, spacing = si(turbo, "shaft_height_mm") * 1e3, si(turbo, "seal_spacing_mm") * 1e3
    mouth = 0.5 * e.line.drain.flange_bore_mm
    if cut == "across":
        turn = -si(turbo, "clock_deg")
        half = 0.475 * height
        seals = np.zeros((2, 2))
    else:
        turn = si(turbo, "pitch_deg")
        half = 0.5 * spacing
        seals = np.array([[-half, 0.0], [half, 0.0]])
    c, s = np.cos(turn), np.sin(turn)
    matrix = np.array([[c, s], [-s, c]])
    cavity = (
        np.array(
            [
                [-mouth, -height],
                [mouth, -height],
                [half, -0.58 * height],
                [half, 0.1 * height],
                [-half, 0.1 * height],
                [-half, -0.58 * height],
            ]
        )
        @ matrix
    )
    up3 = e.drainage.up[condition]
    up = axes @ up3
    level = (float(e.drainage.backwater.housing_level_m[condition]) - float(up3 @ shaft_centre(e.line))) * 1e3
    return SeatSection(
        cut,
        axes,
        float(turn),
        cavity,
        below_plane(cavity, up, level),
        seals @ matrix,
        0.5 * si(turbo, "seal_diameter_mm") * 1e3,
        half,
        height,
        mouth,
        up,
    )
