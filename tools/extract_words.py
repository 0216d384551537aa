# SPDX-License-Identifier: GPL-3.0-or-later
"""Collect every text that is shown into a template for translators: `PYTHONPATH=src python tools/extract_words.py gravidon.pot`.

Marked in the sources by `tr` and `N_`; labels of the plan's fields by `Spec`; in the templates of pages by `tr` too; the tables of data that hold sentences are read as they are.
"""

from __future__ import annotations

import ast
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import jinja2
from babel.messages.catalog import Catalog
from babel.messages.pofile import write_po
from jinja2.ext import extract_from_ast

from gravidon.draw.geometry.elevation import VIEWS
from gravidon.parts.entry_means import MEANS
from gravidon.parts.part_kinds import KINDS
from gravidon.parts.shapes import SHAPES
from gravidon.parts.sources import SHORT
from gravidon.physics.validity import ALL as RANGES
from gravidon.plan.demos import demo_plan
from gravidon.plan.storage import json_schema
from gravidon.plan.things import THINGS
from gravidon.study.diagnosis.tables import tables
from gravidon.study.planning.compare import compared, name_of
from gravidon.translate import HABITS

SOURCES = Path(__file__).resolve().parent.parent / "src" / "gravidon"
MARKS = ("tr", "N_", "Spec")
COMMAND_LINE = (
    "usage: ",
    "positional arguments",
    "options",
    "show this help message and exit",
    "the following arguments are required: %s",
    "unrecognized arguments: %s",
    "argument %(argument_name)s: %(message)s",
    "invalid choice: %(value)r (choose from %(choices)s)",
    "invalid %(type)s value: %(value)r",
    "expected one argument",
    "expected at least one argument",
    "ambiguous option: %(option)s could match %(matches)s",
)
"""What the standard library says of a command line."""
ERRORS = ("InputError", "UnitError", "PhysicsError")
"""Errors say field and expectation, their first and third argument, in the language themselves."""


def words_in(schema: Any) -> Iterator[str]:
    """Yield the words that a plan's fields may hold: they are offered in choices."""
    if isinstance(schema, dict):
        yield from (w for w in schema.get("enum", ()) if isinstance(w, str) and w.islower())
        schema = list(schema.values())
    if isinstance(schema, list):
        for inner in schema:
            yield from words_in(inner)


def data_texts() -> Iterator[str]:
    """Yield the sentences of the tables of data."""
    for name, means in MEANS.items():
        yield from (name.capitalize(), means.ask, *means.steps, *means.hazards)
    yield from words_in(json_schema())
    yield from COMMAND_LINE
    yield from (*SHORT, *SHORT.values())
    yield from (text for it in RANGES for text in (it.quantity, it.source))
    yield from KINDS
    yield from (said for view in VIEWS for said in (view, view.capitalize()))
    yield from ("across", "along")  # the cuts of the seat
    yield from (thing.words for thing in THINGS.values())
    yield from (shape.words for shape in SHAPES.values())
    yield from sorted({name_of(path) for path in compared(demo_plan())})
    known = tables()  # untranslated: this tool runs without a catalogue
    for cause in known.causes.values():
        yield from (cause.name, cause.why, *cause.do, *cause.parts)
    for sign in known.signs.values():
        yield from (sign.ask, sign.said)
    yield from (part.name for part in known.apart.values())
    for test in known.tests.values():
        yield from (test.name, *test.how)
        for outcome in test.outcomes:
            yield from (outcome.name, outcome.means)


def in_source(source: str) -> Iterator[tuple[int, str | tuple[str, str]]]:
    """Yield the line and the text of everything marked, inside formatted texts too, which Babel's own reader passes over."""
    for node in ast.walk(ast.parse(source)):
        if (
            isinstance(node, ast.Call)
            and isinstance(node.func, ast.Name)
            and node.func.id in MARKS
            and node.args
        ):
            text = node.args[0]
            if isinstance(text, ast.Constant) and isinstance(text.value, str) and text.value.strip():
                yield node.lineno, text.value
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ERRORS:
            for text in node.args[:1] + node.args[2:3]:
                if isinstance(text, ast.Constant) and isinstance(text.value, str):
                    yield text.lineno, text.value
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "trn":
            one, many = (a.value for a in node.args[:2] if isinstance(a, ast.Constant))
            yield node.lineno, (str(one), str(many))


def marked() -> Catalog:
    """Return every text, each with the places where it stands."""
    catalogue = Catalog(project="Gravidon", charset="utf-8")
    for file in sorted(SOURCES.rglob("*.py")):
        for line, text in in_source(file.read_text(encoding="utf-8")):
            catalogue.add(text, None, [(str(file.relative_to(SOURCES.parent)), line)])
    for file in sorted(SOURCES.rglob("*.jinja")):
        page = jinja2.Environment(autoescape=True).parse(file.read_text(encoding="utf-8"))
        for line, _, said in extract_from_ast(page, ["tr"]):
            if isinstance(said, str):
                catalogue.add(said, None, [(str(file.relative_to(SOURCES.parent)), line)])
    for text in data_texts():
        if text.strip():
            catalogue.add(text)
    for context, text in HABITS:
        catalogue.add(text, context=context)
    return catalogue


def main(target: Path) -> None:
    """Write the template."""
    made = marked()
    with target.open("wb") as file:
        write_po(file, made, sort_output=True, omit_header=False)
    print(f"{len(made)} texts in {target}")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
