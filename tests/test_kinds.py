# SPDX-License-Identifier: GPL-3.0-or-later
"""Kinds are records: every choice of the plan has one, and no ladder of comparisons says again what a record says."""

import ast
from collections.abc import Mapping
from pathlib import Path

import pytest

from gravidon.parts.catalogue import catalogue
from gravidon.parts.entry_means import MEANS
from gravidon.parts.part_kinds import KINDS
from gravidon.parts.shapes import SHAPES
from gravidon.parts.turbos import BEARINGS, HOUSINGS, RINGS
from gravidon.plan.model import Condition, EntryFitting, Fitting, OwnPart, Shape, Turbo
from gravidon.plan.regimes import REGIMES
from gravidon.plan.storage import json_schema
from gravidon.plan.things import THINGS

SOURCE = Path(__file__).parent.parent / "src/gravidon"
TABLES: dict[str, tuple[type, str, Mapping[str, object]]] = {
    "bearing": (Turbo, "bearing", BEARINGS),
    "frame": (Turbo, "frame", HOUSINGS),
    "regime": (Condition, "regime", REGIMES),
    "thing": (Shape, "kind", THINGS),
    "means": (EntryFitting, "means", MEANS),
    "shape": (Fitting, "shape", SHAPES),
    "part": (OwnPart, "kind", KINDS),
}
ATTRIBUTES = {"bearing", "regime", "means"}
"""Fields whose words are compared nowhere: their record is asked."""


@pytest.mark.parametrize("name", TABLES)
def test_every_choice_has_its_record_and_the_reverse(name: str) -> None:
    """What the file format allows is exactly what there are records of, each under its own name."""
    model, field, records = TABLES[name]
    schema = json_schema()["$defs"][model.__name__]["properties"][field]
    assert schema["enum"] == list(records)
    for key, record in records.items():
        assert getattr(record, "name", key) == key


def test_rings_are_known_to_every_bearing() -> None:
    assert all(set(b.tilt_max_deg) == set(RINGS) for b in BEARINGS.values())


def test_every_part_of_the_catalogue_is_of_a_kind_that_is_used() -> None:
    """And every kind that goes into chains has parts to go."""
    held = {p.kind for p in catalogue().values()}
    assert held <= set(KINDS)
    assert {k.name for k in KINDS.values() if k.in_chain} <= held


def _words(node: ast.AST) -> set[str]:
    return {n.value for n in ast.walk(node) if isinstance(n, ast.Constant) and isinstance(n.value, str)}


def _ladders(tree: ast.AST) -> list[str]:
    found = []
    for node in ast.walk(tree):
        if isinstance(node, ast.Compare):
            sides = [node.left, *node.comparators]
            named = {s.attr for s in sides if isinstance(s, ast.Attribute)}
            words = set().union(*(_words(s) for s in sides))
            for attribute in named & ATTRIBUTES:
                if words & set(TABLES[attribute][2]):
                    found.append(f"line {node.lineno}: .{attribute} compared with {words}")
            if {"thing"} & named and words & set(THINGS):
                found.append(f"line {node.lineno}: a thing compared with {words}")
        if isinstance(node, ast.Dict):
            keys = {k.value for k in node.keys if isinstance(k, ast.Constant) and isinstance(k.value, str)}
            for name, (_, _, records) in TABLES.items():
                if len(records) > 1 and keys == set(records):
                    found.append(f"line {node.lineno}: a dict of its own by {name}")
    return found


def test_no_ladder_of_comparisons_is_left() -> None:
    """No comparison of a bearing, regime, means or thing with its words, no second dict by their names."""
    tables = {"turbos.py", "regimes.py", "things.py", "entry_means.py", "part_kinds.py", "shapes.py"}
    found = {
        str(p.relative_to(SOURCE)): ladders
        for p in SOURCE.rglob("*.py")
        if p.name not in tables and (ladders := _ladders(ast.parse(p.read_text(encoding="utf-8"))))
    }
    assert found == {}


def test_the_ladder_finder_finds() -> None:
    """It would see each of the shapes it is there for."""
    for code in (
        'x = it.turbo.bearing == "ball"',
        'y = condition.regime in ("cold", "idle")',
        'z = {"journal": 1, "ball": 2}[kind]',
    ):
        assert _ladders(ast.parse(code)), code


def test_a_renamed_hose_end_stays_what_it_is() -> None:
    """The angle is a field: a label of the builder's own changes neither what is ordered nor where the hose is cut."""
    from gravidon.plan import paths
    from gravidon.plan.demos import demo_plan
    from gravidon.study.making.cutting import cuts
    from gravidon.study.making.parts_list import runs

    plan = demo_plan()
    k = next(i for i, p in enumerate(plan.turbos[0].drain.pieces) if p.angle_deg)
    renamed = paths.put(plan, f"turbos.0.drain.pieces.{k}.label", "my elbow")
    assert [r.parts for r in runs(renamed)] == [r.parts for r in runs(plan)]
    assert cuts(renamed) == cuts(plan)
    straight = paths.put(plan, f"turbos.0.drain.pieces.{k}.angle_deg", 0.0)
    assert [r.parts for r in runs(straight)] != [r.parts for r in runs(plan)]
