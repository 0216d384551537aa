# SPDX-License-Identifier: GPL-3.0-or-later
"""Jobs a parts man is asked over the counter, and what he hands over. The answers are facts of the trade: common practice,
no source."""

from __future__ import annotations

import pytest

from gravidon.parts.catalogue import catalogue
from gravidon.parts.chains import Chain, Link, Wish, find_chains, joints_of, laid, why_first
from gravidon.parts.ends import end_from, fit

PARTS = tuple(catalogue().values())
M44, M38, M52 = (
    f"flange|{n}|" for n in ("medium two-bolt 44 mm", "small two-bolt 38 mm", "large two-bolt 52 mm")
)
INLET = "flange|inlet two-bolt 24 mm|"
PLAIN = ("hose end", "hose", "hose end")

JOBS: dict[str, tuple[str, str, Wish, tuple[str, ...], tuple[str, ...]]] = {
    "1/8 NPT to M12": ("NPT|1/8|female", "metric|M12x1.5|female", Wish(4), ("adapter", *PLAIN, "adapter"), ("1/8 NPT", "M12x1.5")),
    "BSPT, sender kept": ("BSPT|1/8|female", INLET, Wish(4, 2.0, with_kinds=("tee",), without_kinds=()), ("tee", *PLAIN, "flange"), ("1/8 BSPT", "full bore")),
    "inverted inlet": ("NPT|1/4|female", "inverted flare|-4|female", Wish(4), ("adapter", *PLAIN, "adapter"), ("1/4 NPT", "7/16-24")),
    "low over the inlet": ("BSPP|1/8|female", "metric|M12x1.5|female", Wish(4, by="height"), PLAIN, ("banjo", "M12x1.5")),
    "90 at the turbo": ("metric|M14x1.5|female", "metric|M12x1.5|female", Wish(4, angles=(None, 90.0)), ("adapter", *PLAIN, "adapter"), ("M14x1.5", "90°")),
    "M18 plate to flange": ("metric|M18x1.5|female", INLET, Wish(4), ("adapter", *PLAIN, "flange"), ("M18x1.5 male to -4", "full bore")),
    "3/8 NPT block": ("NPT|3/8|female", "NPT|1/8|female", Wish(4), ("adapter", *PLAIN, "adapter"), ("3/8 NPT male to -4",)),
    "to a bung": (M44, "wall|any|", Wish(10, 10.0), ("flange", *PLAIN, "bung"), ("weld bung with -10",)),
    "-8 to 1/2 NPT": (M38, "NPT|1/2|female", Wish(8), ("flange", *PLAIN, "adapter"), ("1/2 NPT male to -8",)),
    "-12 to 3/4 NPT": (M52, "NPT|3/4|female", Wish(12), ("flange", *PLAIN, "adapter"), ("3/4 NPT male to -12",)),
    "-16 to a bung": (M52, "wall|any|", Wish(16), ("flange", *PLAIN, "bung"), ("weld bung with -16",)),
    "push-on drain": (M44, "NPT|3/8|female", Wish(8, hose_ends="push-on"), ("flange", "hose", "adapter"), ("-8 barb", "push-on", "3/8 NPT male to -8 barb")),
    "to a bulkhead": (M44, "hole|-10|", Wish(10), ("flange", *PLAIN, "bulkhead"), ("-10 bulkhead straight",)),
    "-3 with a hole": ("37 flare|-3|male", "metric|M10x1.0|female", Wish(3, with_kinds=("restrictor",), hole_mm=0.8), (*PLAIN, "restrictor", "adapter"), ("0.8 mm hole", "M10x1.0 male to -3")),
    "boss to flange": ("O-ring boss|-6|female", INLET, Wish(4, 3.0), ("adapter", *PLAIN, "flange"), ("-6 O-ring boss male to -4",)),
    "-6 to 1/8 NPT": ("37 flare|-6|male", "NPT|1/8|female", Wish(6), (*PLAIN, "adapter"), ("1/8 NPT male to -6",)),
    "parallel boss": (M44, "BSPP|1/2|female", Wish(10), ("flange", *PLAIN, "adapter"), ("1/2 BSPP male to -10",)),
    "M8 plug": ("metric|M8x1.0|female", "NPT|1/8|female", Wish(3), ("adapter", *PLAIN, "adapter"), ("M8x1.0 male to -3",)),
    "BSPT to NPT": ("BSPT|1/4|female", "NPT|1/8|male", Wish(None), ("adapter",), ("1/4 BSPT male to 1/8 NPT female",)),
    "-4 to -3": ("37 flare|-4|male", "37 flare|-3|female", Wish(None), ("adapter",), ("-4 flare female to -3 flare male",)),
}  # fmt: skip
"""From, to, wish: the kinds of parts in order, and words that the list must hold."""


@pytest.mark.parametrize("job", list(JOBS))
def test_the_first_answer_is_what_a_parts_man_hands_over(job: str) -> None:
    """Kinds in order, the parts' sizes; every joint seals; no absurd second answer (two joints more at most)."""
    start, goal, wish, kinds, words = JOBS[job]
    found = find_chains(PARTS, end_from(start), end_from(goal), wish)
    first = found[0]
    assert tuple(p.kind for p in first.parts) == kinds
    names = " | ".join(p.name for p in first.parts)
    for word in words:
        assert word in names
    for chain in found:
        assert all(j.fit.outcome == "seals" for j in joints_of(end_from(start), chain.links, end_from(goal)))
        assert chain.joints <= first.joints + 2
        assert sum(p.kind == "bung" for p in chain.parts) <= 1
        assert not chain.backwards
    assert bool(why_first(found, wish)) == (len(found) > 1)


def test_the_reason_names_what_decides() -> None:
    """Price where joints are alike; the port's own thread before a taper in it; the drawer where it is used."""

    def why(start: str, goal: str, wish: Wish) -> str:
        return why_first(find_chains(PARTS, end_from(start), end_from(goal), wish), wish)

    assert "price" in why("NPT|1/8|female", "NPT|1/8|female", Wish(4))
    assert "the port's own" in why(M44, "BSPP|1/2|female", Wish(10))
    plain, held = (
        find_chains(PARTS, end_from(M44), end_from("hole|-10|"), Wish(10, least_temp_c=t))[0]
        for t in (0.0, 160.0)
    )
    ptfe = next(p.id for p in held.parts if p.kind == "hose")
    assert "in the drawer" in why_first((held, plain), Wish(10, drawer=frozenset({ptfe})))


def test_the_cheaper_of_two_alike_is_first_unless_it_is_too_hot_for_it() -> None:
    start, goal = end_from("NPT|1/8|female"), end_from("NPT|1/8|female")
    names = [p.name for p in find_chains(PARTS, start, goal, Wish(4))[0].parts]
    assert "-4 braided rubber hose, per metre" in names
    names = [p.name for p in find_chains(PARTS, start, goal, Wish(4, least_temp_c=160.0))[0].parts]
    assert "-4 braided PTFE hose, per metre" in names


@pytest.mark.parametrize("kind", ["valve", "screen", "restrictor"])
def test_what_has_a_direction_is_laid_along_the_oil(kind: str) -> None:
    """In at the male side, out at the swivel; given the wrong way round by its ports, it is told of."""
    part = next(p for p in PARTS if p.kind == kind and p.dash == 6 and len(p.ends) == 2)
    male, female = end_from("37 flare|-6|male"), end_from("37 flare|-6|female")
    assert not Chain(laid([part], female, male), 0.0).backwards
    assert Chain(laid([part], male, female), 0.0).backwards == (part,)
    chains = find_chains(PARTS, female, male, Wish(None, with_kinds=(kind,)))
    assert chains
    assert chains[0].links[0].inlet == 1
    turned = find_chains(PARTS, male, female, Wish(None, with_kinds=(kind,)))
    assert all(not c.backwards for c in turned)


@pytest.mark.parametrize(
    ("one", "other", "outcome"),
    [
        ("banjo|7/16-20 UNF|male", "UNF|7/16-20|female", "seals"),
        ("banjo|1/8 BSPP|male", "BSPP|1/8|female", "seals"),
        ("banjo|1/8 BSPP|male", "BSPT|1/8|female", "leaks"),
        ("banjo|7/16-20 UNF|male", "metric|M12x1.25|female", "leaks"),
        ("NPTF|1/4|male", "NPT|1/4|female", "seals"),
        ("NPTF|1/4|male", "BSPT|1/4|female", "leaks"),
        ("BSP cone|1/4|male", "BSP cone|1/4|female", "seals"),
        ("BSP cone|1/4|male", "BSPP|1/4|female", "leaks"),
        ("metric cone|M14x1.5|male", "metric|M14x1.5|female", "leaks"),
        ("metric boss|M14x1.5|male", "metric boss|M14x1.5|female", "seals"),
        ("crimp|-6|male", "hose|-6|female", "seals"),
        ("crimp|-6|male", "PTFE hose|-6|female", "leaks"),
        ("PTFE crimp|-6|male", "PTFE hose|-6|female", "seals"),
        ("PTFE crimp|-6|male", "plain hose|-6|female", "leaks"),
        ("UNF|13/16-16|male", "37 flare|-8|female", "no fit"),
        ("37 flare|-2|male", "45 flare|-2|female", "leaks"),
    ],
)
def test_joints_of_rarer_ends(one: str, other: str, outcome: str) -> None:
    """By the standards named in STANDARD: thread and seat decide."""
    assert fit(end_from(one), end_from(other)).outcome == outcome


def test_a_part_turned_wrong_has_no_way_round_but_by_other_parts() -> None:
    link = Link(next(p for p in PARTS if p.kind == "valve" and p.dash == 6), 0, 1)
    assert Chain((link,), 0.0).backwards
