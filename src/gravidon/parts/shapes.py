# SPDX-License-Identifier: GPL-3.0-or-later
"""Shapes of a feed fitting, one record each: angle, Hooper's loss, whether it is a tee."""

from __future__ import annotations

from dataclasses import dataclass

from gravidon.physics import line
from gravidon.translate import tr


@dataclass(frozen=True)
class Shape:
    """A fitting's shape: name, angle [°], Hooper's (K1, K∞) [-], whether it is one of a tee's ways."""

    name: str
    angle_deg: float
    hooper: tuple[float, float]
    tee: bool = False

    @property
    def words(self) -> str:
        """What it is called in a chain."""
        return self.name if self.tee else tr("{name} end").format(name=self.name)


SHAPES: dict[str, Shape] = {
    s.name: s
    for s in (
        Shape("straight", 0.0, (0.0, 0.0)),
        Shape("45°", 45.0, line.HOOPER_ELBOW_45),
        Shape("90°", 90.0, line.HOOPER_ELBOW_90),
        Shape("tee, through", 0.0, line.HOOPER_TEE_THROUGH, tee=True),
        Shape("tee, branch", 0.0, line.HOOPER_TEE_BRANCH, tee=True),
    )
}
"""By name."""
