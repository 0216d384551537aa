# SPDX-License-Identifier: GPL-3.0-or-later
"""Every relation says what it needs to: arguments as in its signature, units, source, errors."""

import importlib
import inspect
import pkgutil
import re

import pytest

from gravidon import physics
from gravidon.physics import validity

HELPERS = {"arrays", "rootfind", "part_full_table", "validity"}


def relations() -> list[tuple[str, object]]:
    found = []
    for info in pkgutil.iter_modules(physics.__path__):
        if info.name in HELPERS:
            continue
        module = importlib.import_module(f"gravidon.physics.{info.name}")
        for name, thing in inspect.getmembers(module, inspect.isfunction):
            if thing.__module__ == module.__name__ and not name.startswith("_"):
                found.append((f"{info.name}.{name}", thing))
    return found


RELATIONS = relations()


def test_there_are_relations_to_check() -> None:
    assert len(RELATIONS) > 35


@pytest.mark.parametrize(("name", "function"), RELATIONS, ids=[n for n, _ in RELATIONS])
def test_docstring_matches_the_signature(name: str, function: object) -> None:
    """One line that answers; every argument described; equation, source and errors named."""
    text = inspect.getdoc(function) or ""
    parameters = list(inspect.signature(function).parameters)  # type: ignore[arg-type]
    described = re.findall(
        r"^    (\w+): ", text[text.index("Args:") :] if "Args:" in text else "", re.MULTILINE
    )
    assert text.splitlines()[0].endswith((".", "]")) or len(text.splitlines()[0]) > 20
    assert described == parameters, (described, parameters)
    for part in ("Equation:", "Source:", "Raises:"):
        assert part in text, part


@pytest.mark.parametrize(("name", "function"), RELATIONS, ids=[n for n, _ in RELATIONS])
def test_floats_carry_a_unit_in_their_description(name: str, function: object) -> None:
    """Arguments named with a unit have it in brackets; dimensionless ones say [-]."""
    text = inspect.getdoc(function) or ""
    for parameter in inspect.signature(function).parameters:  # type: ignore[arg-type]
        if re.search(r"_(m|pa|k|kg_m3|pa_s|m3_s|w|rad|m2_s|m_s2|rev_s)$", parameter):
            line = re.search(rf"^    {parameter}: (.*?)(?=^    \w+: |^\w|\Z)", text, re.MULTILINE | re.DOTALL)
            assert line is not None
            assert "[" in line[1], (parameter, line[1])


@pytest.mark.parametrize("item", validity.ALL, ids=lambda v: v.code)
def test_validity_ranges_are_whole(item: validity.Validity) -> None:
    """A range has an order, a source, and says itself in words the handbook can use."""
    assert item.low < item.high
    assert item.source
    assert bool(item.holds(0.5 * (item.low + item.high)))
    assert not bool(item.holds(item.high * 1.01 + 1e-9))
    assert " to " in item.sentence()
