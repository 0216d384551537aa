# SPDX-License-Identifier: GPL-3.0-or-later
"""An independent march of the drain: one condition, plain Python, brentq for every step.

Shares only the part-full flow table's function with the array march; the marching, the controls and the
friction slope are written out again from their sources.
"""

import math

from scipy.optimize import brentq

from gravidon.physics.part_full import area_fraction, flow_ratio

G = 9.80665


def critical_energy(q: float, d: float, jet: float, loss: float) -> float:
    """Energy above the invert to enter a bore: depth plus half the mean depth at critical flow (Chow 1959) and what the way in
    costs, or a hole whose stream is narrowed to `jet` where the bore is more than 0.9 deep."""

    def number(fill: float) -> float:
        area = math.pi / 4 * float(area_fraction(fill))
        return area**1.5 / math.sqrt(2 * math.sqrt(fill * (1 - fill)))

    target = q / math.sqrt(G * d**5)
    if target >= number(0.9):
        area = math.pi / 4 * d * d
        weir = 0.9 + (1 + loss) * 0.5 * math.pi / 4 * float(area_fraction(0.9)) / 0.6
        return max(d / 2 + (q / (jet * area)) ** 2 / (2 * G), weir * d)
    fill = brentq(lambda f: number(f) - target, 1e-9, 0.9)
    mean = math.pi / 4 * float(area_fraction(fill)) / (2 * math.sqrt(fill * (1 - fill)))
    return d * (fill + (1 + loss) * 0.5 * mean)


def level_before(energy: float, q: float, d: float, cosine: float) -> float:
    """Depth in the wider bore whose own speed makes up the rest of an energy, both over its invert: the deep one of two."""

    def lacks(depth: float) -> float:
        fill = min(max(depth / (d * cosine), 1e-3), 1.0)
        v = q / (math.pi / 4 * d * d * float(area_fraction(fill)))
        return depth + v * v / (2 * G) - energy

    deepest = min((k / 4000 * energy for k in range(1, 4001)), key=lacks)
    depth = (
        energy if lacks(energy) <= 0 else brentq(lacks, deepest, energy) if lacks(deepest) < 0 else deepest
    )
    v = q / (math.pi / 4 * d * d)
    return depth + min(max(depth - d * cosine, 0.0), v * v / (2 * G))


def critical_depth(q: float, d: float) -> float:
    """The depth in `critical_energy`: what leans with the pipe (half the bore where it acts as an orifice)."""

    def number(fill: float) -> float:
        area = math.pi / 4 * float(area_fraction(fill))
        return area**1.5 / math.sqrt(2 * math.sqrt(fill * (1 - fill)))

    target = q / math.sqrt(G * d**5)
    if target >= number(0.9):
        return d / 2
    return d * brentq(lambda f: number(f) - target, 1e-9, 0.9)


def critical_slope(q: float, d: float, nu: float) -> float:
    """The slope at which laminar flow runs at critical depth: 2 q² T = g A³, with the energy coefficient 2 of laminar flow
    (Chow 1959)."""

    def froude(fill: float) -> float:
        area = math.pi / 4 * d * d * float(area_fraction(fill))
        return 2 * q * q * 2 * d * math.sqrt(fill * (1 - fill)) / (G * area**3) - 1

    fill = brentq(froude, 1e-3, 1 - 1e-9)
    return 128 * nu * q / (math.pi * d**4 * G) / float(flow_ratio(fill))


def march(
    heights: list[float], lengths: list[float], bores: list[float], q: float, nu: float, sump: float
) -> list[float]:
    """Return the grade line [m] at every station, flange first; laminar flow, upright car."""
    best_ratio = max((float(flow_ratio(k / 400)), k / 400) for k in range(1, 401))[1]

    def slope_full(d: float) -> float:
        return 128 * nu * q / (math.pi * d**4 * G)

    def cosine(i: int) -> float:
        sine = (heights[i] - heights[i + 1]) / lengths[i]
        return math.sqrt(max(1 - sine * sine, 0.0))

    last = len(bores) - 1
    d = bores[last]
    v = q / (math.pi / 4 * d * d)
    crown = heights[-1] + d / 2 * cosine(last)

    def number(fill: float) -> float:
        return (math.pi / 4 * float(area_fraction(fill))) ** 1.5 / math.sqrt(2 * math.sqrt(fill * (1 - fill)))

    target = q / math.sqrt(G * d**5)
    brink = 1.0 if target > number(0.9) else brentq(lambda f: number(f) - target, 1e-9, 0.9)
    level = max(sump, heights[-1] + d * cosine(last) * (brink - 0.5))
    if sump > crown or brink >= 1.0:
        level += v * v / (2 * G)
    grade = [level]
    for i in range(last, -1, -1):
        d, c = bores[i], cosine(i)
        if i < last and bores[i + 1] < d:
            small = bores[i + 1]
            vs = q / (math.pi / 4 * small * small)
            half = small / 2 * cosine(i + 1)
            flat = cosine(i + 1)
            share = (small / d) ** 2
            re = vs * small / nu
            loss = 0.5 * (1 - share) ** 0.75 + 160 / re * (1 - share)
            jet = 0.63 + 0.37 * share**3
            deep = critical_depth(q, small)
            energy = heights[i + 1] - half + deep * flat + critical_energy(q, small, jet, loss) - deep
            floor = heights[i + 1] - d / 2 * c
            cost = min(max(level - heights[i + 1] - half, 0.0), loss * vs * vs / (2 * G))
            level = max(level + cost, floor + level_before(energy - floor, q, d, c))
        invert = heights[i] - d / 2 * c

        def excess(
            f: float, d: float = d, c: float = c, invert: float = invert, level: float = level, i: int = i
        ) -> float:
            ratio = float(flow_ratio(min(f, best_ratio)))
            return invert + f * d * c - level - slope_full(d) / ratio * lengths[i]

        if excess(1.0) < 0.0:
            level = level + slope_full(d) * lengths[i]
        else:
            fill = brentq(excess, 1e-4, 1.0) if excess(1e-4) < 0 else 1e-4
            level = invert + fill * d * c
        grade.insert(0, level)
    return grade
