# SPDX-License-Identifier: GPL-3.0-or-later
"""Joints that builders meet, male into female, each with its outcome.

Threads by ASME B1.20.1, ISO 7-1, ISO 228-1, ISO 261, DIN 158-1, SAE J512, J514, J1926; what becomes of a pair by their
diameters, pitches and flanks, and by common practice, no source, for hoses, barbs and flanges.
"""

import pytest

from gravidon.parts.ends import End, fit, mates

SEALS = """
NPT|1/8|male NPT|1/8|female
NPT|1/2|male NPT|1/2|female
BSPT|1/8|male BSPT|1/8|female
BSPT|1/8|male BSPP|1/8|female
BSPP|1/8|male BSPP|1/8|female
metric|M10x1.0|male metric|M10x1.0|female
metric|M14x1.5|male metric|M14x1.5|female
metric taper|M10x1.0|male metric|M10x1.0|female
metric taper|M12x1.5|male metric|M12x1.5|female
37 flare|-4|male 37 flare|-4|female
37 flare|-10|male 37 flare|-10|female
45 flare|-6|male 45 flare|-6|female
inverted flare|-4|male inverted flare|-4|female
O-ring boss|-6|male O-ring boss|-6|female
banjo|M10x1.0|male metric|M10x1.0|female
hose|-6|male hose|-6|female
PTFE hose|-6|male PTFE hose|-6|female
barb|-8|male plain hose|-8|female
flange|medium two-bolt 44 mm| flange|medium two-bolt 44 mm|
hole|-10| hole|-10|
weld|any| wall|any|
"""
LEAKS = """
BSPP|1/8|male BSPT|1/8|female
NPT|1/8|male BSPT|1/8|female
NPT|1/8|male BSPP|1/8|female
BSPT|1/8|male NPT|1/8|female
NPT|1/4|male BSPT|1/4|female
NPT|3/8|male BSPP|3/8|female
NPT|1/2|male BSPT|1/2|female
NPT|3/4|male BSPP|3/4|female
metric|M10x1.0|male NPT|1/8|female
metric|M10x1.0|male BSPP|1/8|female
NPT|1/8|male metric|M10x1.0|female
BSPT|1/8|male metric|M10x1.0|female
metric taper|M10x1.0|male NPT|1/8|female
metric|M14x1.5|male NPT|1/4|female
NPT|1/4|male metric|M14x1.5|female
NPT|3/8|male metric|M18x1.5|female
metric|M16x1.5|male BSPP|3/8|female
metric|M18x1.5|male O-ring boss|-8|female
NPT|3/8|male O-ring boss|-8|female
NPT|1/2|male O-ring boss|-10|female
BSPP|1/2|male O-ring boss|-10|female
O-ring boss|-8|male metric|M20x1.5|female
37 flare|-3|male 45 flare|-3|female
37 flare|-4|male 45 flare|-4|female
37 flare|-5|male 45 flare|-5|female
37 flare|-8|male 45 flare|-8|female
37 flare|-10|male 45 flare|-10|female
inverted flare|-3|male 37 flare|-3|female
inverted flare|-5|male 37 flare|-5|female
37 flare|-4|male O-ring boss|-4|female
O-ring boss|-8|male 37 flare|-8|female
NPT|1/4|male 37 flare|-6|female
banjo|M10x1.0|male BSPP|1/8|female
banjo|M10x1.0|male NPT|1/8|female
hose|-6|male PTFE hose|-6|female
PTFE hose|-6|male hose|-6|female
PTFE hose|-6|male plain hose|-6|female
hose|-6|male plain hose|-6|female
barb|-8|male PTFE hose|-8|female
barb|-8|male hose|-8|female
"""
NO_FIT = """
metric|M10x1.0|male metric|M10x1.25|female
metric|M10x1.25|male metric|M10x1.5|female
metric|M12x1.25|male metric|M12x1.5|female
metric|M20x1.5|male O-ring boss|-8|female
metric|M22x1.5|male O-ring boss|-10|female
37 flare|-6|male 45 flare|-6|female
37 flare|-12|male 45 flare|-12|female
inverted flare|-4|male 37 flare|-4|female
37 flare|-4|female inverted flare|-4|male
banjo|M12x1.5|male metric|M12x1.25|female
hose|-6|male hose|-8|female
flange|small two-bolt 38 mm| flange|medium two-bolt 44 mm|
weld|any| weld|any|
wall|any| wall|any|
"""


def pairs(text: str) -> list[tuple[End, End]]:
    found = []
    for line in text.strip().splitlines():
        cells = line.split("|")
        # kind|size|gender kind|size|gender: the third cell ends one end and begins the other
        gender, _, kind = cells[2].partition(" ")
        found.append((End(cells[0], cells[1], gender), End(kind, cells[3], cells[4])))  # type: ignore[arg-type]
    return found


@pytest.mark.parametrize(
    ("outcome", "text"),
    [("seals", SEALS), ("leaks", LEAKS), ("no fit", NO_FIT)],
    ids=["seals", "leaks", "no fit"],
)
def test_every_joint_is_judged_as_it_turns_out(outcome: str, text: str) -> None:
    wrong = [(a.code, b.code, fit(a, b).outcome) for a, b in pairs(text) if fit(a, b).outcome != outcome]
    assert wrong == []


def test_what_seals_can_be_searched_for() -> None:
    """The search's short list knows every pair that seals, from either side."""
    for a, b in pairs(SEALS):
        assert b in mates(a), (a.code, b.code)
        assert a in mates(b), (a.code, b.code)


def test_reasons_say_what_is_so() -> None:
    """No sentence sets an angle against itself; what goes in loose is said so, and a hose end of another make names it."""
    for text in (LEAKS, NO_FIT):
        for a, b in pairs(text):
            why = fit(a, b).why
            assert "60° and 60°" not in why
            assert "55° and 55°" not in why
    assert "loose" in fit(End("metric", "M18x1.5", "male"), End("O-ring boss", "-8", "female")).why
    assert "blow" in fit(End("hose", "-6", "male"), End("PTFE hose", "-6", "female")).why
    assert "wall" in fit(End("weld", "any"), End("weld", "any")).why
