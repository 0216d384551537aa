# SPDX-License-Identifier: GPL-3.0-or-later
"""The catalogue is sound; chains found in it seal, hold their bore and are the shortest."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gravidon.errors import InputError
from gravidon.parts.catalogue import Part, catalogue, parts_from_csv, parts_to_csv
from gravidon.parts.chains import Wish, find_chains, joints_of, laid
from gravidon.parts.dash import HOSE_BORE_IN, hose_bore_mm
from gravidon.parts.ends import End, fit, thread_of
from gravidon.parts.part_kinds import KINDS

PARTS = tuple(catalogue().values())


def test_every_part_is_sound() -> None:
    """Known kinds, ends that exist, a bore no larger than its hose (push-on hose is sized by its inside, wider), no part
    without a name, a price or what its figures rest on."""
    assert len(PARTS) > 300
    for part in PARTS:
        assert part.kind in KINDS
        for end in part.ends:
            thread_of(end)
        if part.dash in HOSE_BORE_IN and part.kind in ("hose", "hose end"):
            wide = 1.2 if part.role in ("push-on", "formed") else 1.0
            assert 0 < part.bore_mm <= wide * hose_bore_mm(part.dash) + 0.01
        assert part.source
        assert part.price > 0
        assert part.name


def test_every_family_is_there() -> None:
    """What the trade's kits hold: every dash as hose and hose end in eight angles, and each kind of small part."""
    for dash in HOSE_BORE_IN:
        angles = {
            p.angle_deg for p in PARTS if p.kind == "hose end" and p.dash == dash and "banjo" not in p.name
        }
        assert angles == {0, 30, 45, 60, 90, 120, 150, 180}
        assert sum(p.kind == "hose" and p.dash == dash for p in PARTS) >= 2
    assert {p.kind for p in PARTS} == set(KINDS)


def test_csv_round_trip() -> None:
    assert parts_from_csv(parts_to_csv(PARTS)) == PARTS


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("", "heading"),
        ("id,kind,name\n", "ends"),
        ("id,kind,name,ends\na,gizmo,x,\n", "one of"),
        ("id,kind,name,ends\na,adapter,x,NPT|9/7|male\n", "known sizes"),
        ("id,kind,name,ends\na,adapter,x,nonsense\n", "known sizes"),
        ("id,kind,name,ends,bore_mm\na,adapter,x,NPT|1/8|male,wide\n", "a number"),
        ("id,kind,name,ends,bore_mm\na,adapter,x,NPT|1/8|male,-3\n", "0 or more"),
        ("id,kind,name,ends\na,adapter,x,\na,adapter,y,\n", "no other row"),
        ("id,kind,name,ends\n,adapter,x,\n", "both"),
    ],
)
def test_bad_parts_files_name_row_and_column(text: str, word: str) -> None:
    with pytest.raises(InputError, match=word):
        parts_from_csv(text, "my parts")


PORTS = [
    End("NPT", "1/8", "female"),
    End("BSPT", "1/8", "female"),
    End("metric", "M10x1.0", "female"),
    End("metric", "M14x1.5", "female"),
    End("flange", "inlet two-bolt 24 mm"),
    End("37 flare", "-4", "male"),
]


@given(a=st.sampled_from(PORTS), b=st.sampled_from(PORTS), by=st.sampled_from(["joints", "price", "height"]))
def test_a_chain_seals_at_every_joint(a: End, b: End, by: str) -> None:
    """Whatever the ports: every joint of every chain seals, exactly one hose, two hose ends, no part twice."""
    for chain in find_chains(PARTS, a, b, Wish(4, 2.0, by=by)):
        assert all(j.fit.outcome == "seals" for j in joints_of(a, chain.links, b))
        kinds = [link.part.kind for link in chain.links]
        assert kinds.count("hose") == 1
        assert kinds.count("hose end") == 2
        assert chain.bore_mm >= 2.0
        assert chain.joints == len(chain.links) + 1


def test_the_shortest_is_the_shortest() -> None:
    """Against brute force: no shorter row of adapters leads from 1/8 BSPT to 1/8 NPT without a hose."""
    start, goal = End("BSPT", "1/8", "female"), End("NPT", "1/8", "male")
    best = find_chains(PARTS, start, goal, Wish(None))[0]
    adapters = [p for p in PARTS if p.kind in ("adapter", "restrictor", "banjo", "bung", "flange")]
    shortest = next(
        n
        for n in (1, 2)
        if any(
            all(j.fit.outcome == "seals" for j in joints_of(start, laid(row, start, goal), goal))
            for row in itertools.permutations(adapters, n)
        )
    )
    assert len(best.links) == shortest == 1


def test_no_chain_where_there_cannot_be_one() -> None:
    """A -10 hose of at least 12 mm through a 3/8 NPT port: every such fitting is 10.5 mm (the job's hidden choke)."""
    start, goal = End("flange", "medium two-bolt 44 mm"), End("NPT", "3/8", "female")
    assert find_chains(PARTS, start, goal, Wish(10, 12.0)) == ()
    assert find_chains(PARTS, start, goal, Wish(10, 10.0))
    assert find_chains(PARTS, start, End("NPT", "1/2", "female"), Wish(10, 12.0))


def test_the_drawer_is_preferred() -> None:
    start, goal = PORTS[0], PORTS[5]
    plain = find_chains(PARTS, start, goal, Wish(4, 0.0))[0]
    other = next(
        p
        for p in PARTS
        if p.kind == "hose"
        and p.dash == 4
        and p.id not in {x.part.id for x in plain.links}
        and "push" not in p.name
    )
    held = find_chains(PARTS, start, goal, Wish(4, 0.0, drawer=frozenset({other.id})))[0]
    assert other.id in {x.part.id for x in held.links}


def test_cost_is_what_was_asked_for() -> None:
    """By price the sum of prices is the least of all three answers, by height what stands over the goal's port; by joints
    none has fewer, a banjo's two faces counted."""
    start, goal = PORTS[0], PORTS[2]
    found = {
        by: find_chains(PARTS, start, goal, Wish(4, 0.0, by=by))[0] for by in ("joints", "price", "height")
    }
    price = {by: sum(x.part.price for x in c.links) for by, c in found.items()}
    hose = {by: next(k for k, x in enumerate(c.links) if x.part.what.hose) for by, c in found.items()}
    height = {by: sum(x.part.stack_mm for x in c.links[hose[by] + 1 :]) for by, c in found.items()}
    joints = {
        by: c.joints + sum(e.kind == "banjo" for x in c.links for e in x.part.ends) for by, c in found.items()
    }
    assert price["price"] == min(price.values())
    assert height["height"] == min(height.values())
    assert joints["joints"] == min(joints.values())


def test_every_port_is_answered_the_same_twice() -> None:
    """From any of the ports to any other over the full catalogue; how fast is told by the benchmarks."""
    for a, b in itertools.product(PORTS, PORTS):
        first = find_chains(PARTS, a, b, Wish(4, 2.0))
        assert [c.parts for c in first] == [c.parts for c in find_chains(PARTS, a, b, Wish(4, 2.0))]


def test_given_parts_are_laid_the_right_way_round() -> None:
    """A chain given as parts alone is turned so that it mates; a wrong part is laid and judged, not dropped."""
    start, goal = PORTS[0], PORTS[5]
    chain = find_chains(PARTS, start, goal, Wish(4, 0.0))[0]
    again = laid([x.part for x in chain.links], start, goal)
    assert all(j.fit.outcome == "seals" for j in joints_of(start, again, goal))
    wrong = [catalogue()["adapter-1-8-bspt-male-to-4-flare-male"], *(x.part for x in chain.links[1:])]
    bad = [j for j in joints_of(start, laid(wrong, start, goal), goal) if j.fit.outcome != "seals"]
    assert len(bad) == 1
    assert bad[0].fit == fit(start, End("BSPT", "1/8", "male"))


def test_own_parts_may_close_a_gap() -> None:
    """A part of the user's own joins the search like any other."""
    start, goal = End("metric", "M27x2.0", "female"), End("37 flare", "-4", "female")
    assert find_chains(PARTS, start, goal, Wish(None)) == ()
    own = Part(
        "mine",
        "adapter",
        "turned on the lathe",
        (End("metric", "M27x2.0", "male"), End("37 flare", "-4", "male")),
        4,
        bore_mm=3.0,
        price=1.0,
    )
    assert find_chains((*PARTS, own), start, goal, Wish(None))[0].links[0].part is own


THROUGH_MM = {4: 4.37, 6: 7.54, 8: 9.93, 10: 12.29, 12: 15.47, 16: 21.44}
"""SAE J514: the hole through a male 37 degree flare end."""


def test_a_male_flare_is_no_wider_than_its_own_hole() -> None:
    for part in PARTS:
        for end in part.ends:
            dash = int(end.size.removeprefix("-")) if end.kind == "37 flare" else 0
            if end.gender == "male" and dash in THROUGH_MM and part.bore_mm:
                assert part.bore_mm <= THROUGH_MM[dash] + 0.01, part.id


@pytest.mark.parametrize(
    ("dash", "bore", "bend"),
    [(4, 4.76, 51), (6, 7.94, 102), (8, 10.32, 132), (10, 12.7, 165), (12, 15.88, 196)],
)
def test_ptfe_hose_by_its_own_table(dash: int, bore: float, bend: float) -> None:
    """SAE J517 100R14: inside diameter and least bend; PTFE is the stiffer of the two braided hoses above -6."""
    hoses = {p.ends[0].kind: p for p in PARTS if p.kind == "hose" and p.dash == dash and p.role == "reusable"}
    assert hoses["PTFE hose"].bore_mm == pytest.approx(bore, abs=0.02)
    assert hoses["PTFE hose"].min_bend_mm == pytest.approx(bend, abs=2)
    if dash > 6:
        assert hoses["PTFE hose"].min_bend_mm > hoses["hose"].min_bend_mm


def test_no_chain_mixes_makes_of_hose_or_welds_two_bungs() -> None:
    """Every joint of every chain found seals: a PTFE end on PTFE, a rubber end on rubber; a bung only into a wall."""
    for a in PORTS:
        for b in PORTS:
            for dash in (None, 4):
                for chain in find_chains(PARTS, a, b, Wish(dash)):
                    grips = {
                        e.kind for p in chain.parts for e in p.ends if "hose" in e.kind or e.kind == "barb"
                    }
                    assert len(grips - {"barb"}) <= 1
                    assert all(p.kind != "bung" for p in chain.parts)  # none of these ports is a wall
