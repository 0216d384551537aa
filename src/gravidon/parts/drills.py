# SPDX-License-Identifier: GPL-3.0-or-later
"""Drills a builder can buy: metric, number, letter and fractional."""

from __future__ import annotations

from dataclasses import dataclass

from gravidon.parts.dash import INCH_MM
from gravidon.translate import tr, written

NUMBER_DRILL_IN: dict[int, float] = {
    80: 0.0135,
    79: 0.0145,
    78: 0.0160,
    77: 0.0180,
    76: 0.0200,
    75: 0.0210,
    74: 0.0225,
    73: 0.0240,
    72: 0.0250,
    71: 0.0260,
    70: 0.0280,
    69: 0.0292,
    68: 0.0310,
    67: 0.0320,
    66: 0.0330,
    65: 0.0350,
    64: 0.0360,
    63: 0.0370,
    62: 0.0380,
    61: 0.0390,
    60: 0.0400,
    59: 0.0410,
    58: 0.0420,
    57: 0.0430,
    56: 0.0465,
    55: 0.0520,
    54: 0.0550,
    53: 0.0595,
    52: 0.0635,
    51: 0.0670,
    50: 0.0700,
    49: 0.0730,
    48: 0.0760,
    47: 0.0785,
    46: 0.0810,
    45: 0.0820,
    44: 0.0860,
    43: 0.0890,
    42: 0.0935,
    41: 0.0960,
    40: 0.0980,
    39: 0.0995,
    38: 0.1015,
    37: 0.1040,
    36: 0.1065,
    35: 0.1100,
    34: 0.1110,
    33: 0.1130,
    32: 0.1160,
    31: 0.1200,
    30: 0.1285,
    29: 0.1360,
    28: 0.1405,
    27: 0.1440,
    26: 0.1470,
    25: 0.1495,
    24: 0.1520,
    23: 0.1540,
    22: 0.1570,
    21: 0.1590,
    20: 0.1610,
    19: 0.1660,
    18: 0.1695,
    17: 0.1730,
    16: 0.1770,
    15: 0.1800,
    14: 0.1820,
    13: 0.1850,
    12: 0.1890,
    11: 0.1910,
    10: 0.1935,
    9: 0.1960,
    8: 0.1990,
    7: 0.2010,
    6: 0.2040,
    5: 0.2055,
    4: 0.2090,
    3: 0.2130,
    2: 0.2210,
    1: 0.2280,
}
"""Number drill diameters [in]; ASME B94.11M."""
LETTER_DRILL_IN: dict[str, float] = {
    "A": 0.234, "B": 0.238, "C": 0.242, "D": 0.246, "E": 0.250, "F": 0.257, "G": 0.261, "H": 0.266, "I": 0.272,
    "J": 0.277, "K": 0.281, "L": 0.290, "M": 0.295, "N": 0.302, "O": 0.316, "P": 0.323, "Q": 0.332, "R": 0.339,
    "S": 0.348, "T": 0.358, "U": 0.368, "V": 0.377, "W": 0.386, "X": 0.397, "Y": 0.404, "Z": 0.413,
}  # fmt: skip
"""Letter drill diameters [in]; ASME B94.11M."""
LARGEST_64THS = 64
"""Fractional drills go by 64ths up to an inch; ASME B94.11M."""

METRIC_STEP_MM, FINE_TO_MM = 0.05, 3.0
"""[mm] metric drills are sold by 0.05 up to 3 mm, by 0.1 above; ISO 235."""
METRIC_LARGEST_MM = 14.0


@dataclass(frozen=True, order=True)
class Drill:
    """A drill: diameter [mm] and what it is called in the shop."""

    diameter_mm: float
    name: str

    @property
    def metric(self) -> bool:
        """Whether it is named by its millimetres."""
        return self.name.endswith(" mm")


def _all_drills() -> tuple[Drill, ...]:
    steps = round(METRIC_LARGEST_MM / METRIC_STEP_MM)
    fine = round(FINE_TO_MM / METRIC_STEP_MM)
    metric = [
        Drill(round(k * METRIC_STEP_MM, 2), f"{written(f'{k * METRIC_STEP_MM:.2f}')} mm")
        for k in range(8, steps + 1)
        if k <= fine or k % 2 == 0
    ]
    number = [
        Drill(round(d * INCH_MM, 4), tr("#{number} ({d:.4f} in)").format(number=n, d=d))
        for n, d in NUMBER_DRILL_IN.items()
    ]
    letter = [
        Drill(round(d * INCH_MM, 4), tr("{number} ({d:.3f} in)").format(number=n, d=d))
        for n, d in LETTER_DRILL_IN.items()
    ]
    return tuple(sorted(metric + number + letter + [fraction_drill(k) for k in range(1, LARGEST_64THS + 1)]))


def fraction_drill(sixty_fourths: int) -> Drill:
    """Return the drill of so many 64ths of an inch, named in its lowest terms.

    >>> fraction_drill(46)
    Drill(diameter_mm=18.2562, name='23/32 in')
    """
    top, bottom = sixty_fourths, 64
    while top % 2 == 0 and bottom > 1:
        top, bottom = top // 2, bottom // 2
    words = (
        tr("{top}/{bottom} in").format(top=top, bottom=bottom)
        if bottom > 1
        else tr("{top} in").format(top=top)
    )
    return Drill(round(sixty_fourths / 64 * INCH_MM, 4), words)


DRILLS = _all_drills()


def drills_between(low_mm: float, high_mm: float) -> tuple[Drill, ...]:
    """Return the drills with diameters in [low, high] mm, smallest first.

    >>> [d.name for d in drills_between(1.0, 1.05)]
    ['1.00 mm', '#60 (0.0400 in)', '#59 (0.0410 in)', '1.05 mm']
    """
    return tuple(d for d in DRILLS if low_mm - 1e-9 <= d.diameter_mm <= high_mm + 1e-9)


def nearest_drill(bore_mm: float) -> Drill:
    """Return the drill nearest to a bore; metric wins a tie.

    >>> nearest_drill(1.501).name
    '1.50 mm'
    """
    return min(DRILLS, key=lambda d: (round(abs(d.diameter_mm - bore_mm), 6), not d.metric))
