# SPDX-License-Identifier: GPL-3.0-or-later
"""Read off the syntax trees: no sentence and no filled text is written past the message table; numbers and lists by the language."""

from __future__ import annotations

import ast
import os
import re
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from words.pseudo import write

ROOT = Path(__file__).parent.parent.parent
SOURCES = ROOT / "src" / "gravidon"
LAYERS = ("desk", "draw", "sheet", "study", "words", "records", "plan", "parts", "cli")
MARKS = {"tr", "trn", "N_", "Spec", "InputError", "UnitError", "PhysicsError"}
KEYS = {
    "Field",
    "show_view",
    "setStyleSheet",
    "setObjectName",
    "_lasts",
    "execute",
    "print",
    "Path",
    "warn",
    "RuntimeError",
    "ValueError",
    "RuntimeWarning",
}
"""What takes text that nobody reads in the window: style, keys, statements of a database, complaints to developers."""
BARE = {
    "desk/theme.py", "draw/font_face.py", "desk/mishap.py", "desk/commands.py", "sheet/handbook_html.py", "records/book.py",
    "study/planning/choices.py", "desk/screenshots.py", "study/car/script.py", "parts/sources.py", "parts/ends.py", "plan/things.py", "desk/dialogs.py", "desk/there.py", "study/making/parts_list.py", "parts/entry_means.py", "parts/catalogue.py",
}  # fmt: skip
"""Style sheets, markup, tables of a database, a report for developers, what only developers run; the choices, whose values are keys of
the plan's file; roles of parts; tables that the template reads as they are."""
SCHOOLS = ("pan on, grease and a stop",)
"""Words of the plan that look like sentences."""
UNITS = {"rpm", "mm", "AWG", "L/min", "km", "min", "mL", "Hz", "bit", "deg", "in", "UN", "NPT"}


def left(file: Path) -> Iterator[str]:
    """Yield the formatted texts with words beside a gap, and the constant sentences, that no mark encloses."""
    tree = ast.parse(file.read_text("utf-8"))
    above = {child: node for node in ast.walk(tree) for child in ast.iter_child_nodes(node)}
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            text = "".join(str(v.value) for v in node.values if isinstance(v, ast.Constant))
            words = [w for w in re.findall(r"[A-Za-z/]{2,}", text) if w not in UNITS]
            is_said = (
                bool(words) and re.search(r"\s", text) is not None and "\n" not in text and "<" not in text
            )
        elif isinstance(node, ast.Constant) and isinstance(node.value, str):
            text = node.value
            is_said = (
                text not in SCHOOLS
                and re.match(r"[A-Za-z]+,?( [\w'’,;-]+){3,}", text) is not None
                and not isinstance(above[node], ast.Expr)
            )
        else:
            continue
        if is_said and not _enclosed(node, above):
            yield f"{file.relative_to(SOURCES)}:{node.lineno}: {text[:70]}"


def _enclosed(node: ast.AST, above: dict[ast.AST, ast.AST]) -> bool:
    while node in above and not isinstance(node, ast.stmt):
        node = above[node]
        if isinstance(node, ast.Call):
            name = node.func.id if isinstance(node.func, ast.Name) else getattr(node.func, "attr", "")
            if name in MARKS | KEYS:
                return True
        if isinstance(node, ast.JoinedStr | ast.Compare):
            return True
    return False


@pytest.mark.parametrize("layer", LAYERS)
def test_nothing_is_said_past_the_message_table(layer: str) -> None:
    files = [f for f in sorted((SOURCES / layer).rglob("*.py")) if str(f.relative_to(SOURCES)) not in BARE]
    assert [line for f in files for line in left(f)] == []


def test_what_was_forgotten_is_found(tmp_path: Path) -> None:
    """The reader above on four lines that it must find and four that it must not."""
    file = SOURCES / "translate.py"
    wrong = 'a = f"{x} rows of {y}"\nb = "Take the pan off first"\nc = f" not {x}"\nd = show(f"oil {x}")\n'
    right = 'a = f"{x} rpm"\nb = tr("Take the pan off first")\nc = f"plan.{x}.key"\nd = tr("a {b} c").format(b=1)\n'

    class Made:
        def __init__(self, text: str) -> None:
            self.text = text

        def read_text(self, _: str) -> str:
            return self.text

        def relative_to(self, _: Path) -> Path:
            return file.relative_to(SOURCES)

    assert len(list(left(Made(wrong)))) == 4  # type: ignore[arg-type]
    assert list(left(Made(right))) == []  # type: ignore[arg-type]


UNIT = re.compile(r"_(mm|kpa|deg|l|ml|cm2|l_min|w|v|a)$")
"""What the names of a plan's figures end with."""


def unmarked(tree: ast.AST) -> Iterator[ast.Constant]:
    """Yield what steps of the history and fields of a form are called by a bare word."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute):
            place = {"edit": 2, "propose": 1}.get(node.func.attr, len(node.args))
            yield from (a for a in node.args[place : place + 1] if isinstance(a, ast.Constant) and a.value)
        if isinstance(node, ast.Tuple) and len(node.elts) == 2:
            field, word = node.elts
            named = isinstance(field, ast.Constant) and UNIT.search(str(field.value)) is not None
            if named and isinstance(word, ast.Constant) and re.fullmatch("[a-z][a-z ]{2,}", str(word.value)):
                yield word


def looked_up(tree: ast.AST) -> Iterator[ast.AST]:
    """Yield where a text in the language is the key of something, or chooses it."""
    for node in ast.walk(tree):
        keys: list[ast.AST] = [node.slice] if isinstance(node, ast.Subscript) else []
        if isinstance(node, ast.Call) and getattr(node.func, "attr", "") == "select":
            keys += node.args
        yield from (
            k for k in keys if any(getattr(getattr(n, "func", None), "id", "") == "tr" for n in ast.walk(k))
        )


def test_words_of_steps_and_fields_are_marked_and_no_text_is_a_key() -> None:
    for file in sorted((SOURCES / "desk").rglob("*.py")):
        tree = ast.parse(file.read_text("utf-8"))
        assert [(file.name, n.lineno, n.value) for n in unmarked(tree)] == []
    for file in sorted(SOURCES.rglob("*.py")):
        assert [(file.name, ast.unparse(k)) for k in looked_up(ast.parse(file.read_text("utf-8")))] == []


def test_a_bare_word_and_a_text_as_key_are_found() -> None:
    wrong = 's.edit("a.b", 1, "sleeve")\ns.propose(p, "rename")\nF = (("length_mm", "length"),)\n'
    assert [n.value for n in unmarked(ast.parse(wrong))] == ["sleeve", "rename", "length"]
    right = (
        's.edit("a.b", 1, tr("sleeve"))\ns.edit("a", 1)\nF = (("length_mm", tr("length")), ("x", "drain"))\n'
    )
    assert list(unmarked(ast.parse(right))) == []
    assert len(list(looked_up(ast.parse('h[tr("bend {n}").format(n=1)] = 2\ns.select(tr("x"))\n')))) == 2
    assert list(looked_up(ast.parse('h[f"bend {n}"] = tr("bend")\ns.select("x")\n'))) == []


def test_nothing_is_told_apart_by_what_is_said_of_it() -> None:
    """A text that is translated is compared with no literal, and no word is looked for in a name: in another language neither would be found."""
    trees = {f: ast.parse(f.read_text("utf-8")) for f in sorted(SOURCES.rglob("*.py"))}
    said = {
        str(node.args[0].value)
        for tree in trees.values()
        for node in ast.walk(tree)
        if isinstance(node, ast.Call)
        and getattr(node.func, "id", "") == "tr"
        and node.args
        and isinstance(node.args[0], ast.Constant)
    }
    found = []
    for file, tree in trees.items():
        for node in (n for n in ast.walk(tree) if isinstance(n, ast.Compare)):
            literals = [str(c.value) for c in (node.left, *node.comparators) if isinstance(c, ast.Constant)]
            searched = isinstance(node.ops[0], ast.In) and getattr(node.comparators[0], "attr", "") in (
                "name",
                "title",
                "words",
            )
            for text in literals:
                if (" " in text and text in said and text not in WORDS_OF_THE_PLAN) or (
                    searched and text.isalpha()
                ):
                    found.append(f"{file.relative_to(SOURCES)}:{node.lineno}: {text}")
    assert [line for line in found if "identify.py" not in line] == []  # a thread's name is no language's


WORDS_OF_THE_PLAN = ("no fit",)
"""Keys that are said elsewhere by the same words."""

SAYS = """
from gravidon.plan.units import plain_number, show, parse
from gravidon.translate import commas, either, listed, number, tr
print(show(8.73e-3, "bore", "metric"), "|", plain_number(-1234.5, 1), "|", number(1234567.0, ",.0f"))
print(tr("{share:.1%} of {word}").format(share=0.1234, word="1.5"))
print(commas(("a", "b", "c")), "|", listed(("a", "b", "c")), "|", either(("a", "b")))
print(parse("9,5 mm", "mm", "x"), parse(show(8.73e-3, "bore", "metric"), "bore", "x"))
"""


def test_numbers_and_lists_are_written_as_the_language_writes_them(tmp_path: Path) -> None:
    """In the language of marks: a comma for the decimals, an apostrophe between thousands, lists by its own pattern; texts that come
    from elsewhere stay; and what is shown can be typed."""
    write(tmp_path)
    environment = os.environ | {
        "LANGUAGE": "eo",
        "LANG": "C.UTF-8",
        "GRAVIDON_LOCALES": str(tmp_path),
        "PYTHONPATH": str(ROOT / "src"),
    }
    done = subprocess.run(
        [sys.executable, "-c", SAYS], env=environment, capture_output=True, text=True, check=True
    )
    first, second, third, fourth = done.stdout.splitlines()
    assert first.replace("\u202f", " ") == "8,73 mm | −1234,5 | 1'234'567"
    assert "12,3%" in second
    assert "1.5" in second
    assert third.count("«") == 5
    assert "," in third
    assert [float(v) for v in fourth.split()] == pytest.approx([0.0095, 0.00873])
