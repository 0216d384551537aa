# SPDX-License-Identifier: GPL-3.0-or-later
"""Sampled mutation run: how many small wrongs in physics and study do the tests notice?

    ./gravidon-mutate [COUNT] [SEED] [WORKERS]

Each mutant is one change of one place (an operator, a bound, a number, a condition). Only the tests that pass through
the place are run, the kept answers before the others, quickest first; which those are is found once, by coverage, and
kept in .mutation/. A place that no test passes through counts as not noticed.
"""

from __future__ import annotations

import ast
import json
import random
import shutil
import subprocess
import sys
import tempfile
import xml.etree.ElementTree as ET
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from itertools import accumulate
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
KEPT = ROOT / ".mutation"
PACKAGES = ("physics", "study")
KEPT_ANSWERS = "tests/kept"
TESTS = (
    *(f"tests/{t}" for t in ("physics", "study", "plan", "parts", "records", "sheet")),
    "src/gravidon/physics",
    KEPT_ANSWERS,
)
BUDGET_S, HANGS_S = 60.0, 600.0
"""[s] of kept answers, and of other tests, as timed without a mutant, that are run against one, quickest first; a run that takes
HANGS_S hangs, which is noticed."""

LARGE = 1e3
"""A number is changed by one; from this size on by a tenth, since one would be nothing."""

COMPARES: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.GtE,
    ast.LtE: ast.Gt,
    ast.Gt: ast.LtE,
    ast.GtE: ast.Lt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
}
OPERATORS: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
}
CALLS = {"min": "max", "max": "min", "minimum": "maximum", "maximum": "minimum", "any": "all", "all": "any"}


@dataclass(frozen=True)
class Mutant:
    """One change: the file, the line, where its statement begins, the text that goes and the text that comes."""

    file: str
    line: int
    statement: int
    start: int
    end: int
    old: str
    new: str

    @property
    def words(self) -> str:
        """What it is, in a line."""
        return f"{self.file}:{self.line}: {self.old} -> {self.new}"


def changed(node: ast.AST) -> ast.AST | None:  # noqa: PLR0911  one line a kind
    """Return a node changed in one thing; None where nothing of it is mutated."""
    if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in COMPARES:
        return ast.Compare(node.left, [COMPARES[type(node.ops[0])]()], node.comparators)
    if isinstance(node, ast.BinOp) and type(node.op) in OPERATORS:
        if isinstance(node.left, ast.Constant | ast.JoinedStr) and not _number(node.left):
            return None
        if _nothing(node.left) or (isinstance(node.right, ast.BinOp) and _nothing(node.right.left)):
            return None  # `0.0 * x` and `+ 0.0 * x` only give a shape
        return ast.BinOp(node.left, OPERATORS[type(node.op)](), node.right)
    if isinstance(node, ast.BoolOp):
        return ast.BoolOp(ast.Or() if isinstance(node.op, ast.And) else ast.And(), node.values)
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not | ast.USub):
        return node.operand
    if isinstance(node, ast.IfExp):
        return ast.IfExp(ast.UnaryOp(ast.Not(), node.test), node.body, node.orelse)
    if _number(node) and node.value not in (0, 1):  # type: ignore[attr-defined]
        value = node.value  # type: ignore[attr-defined]
        return ast.Constant(value + 1 if abs(value) < LARGE else value * 1.1)
    if isinstance(node, ast.Call):
        name = node.func.id if isinstance(node.func, ast.Name) else getattr(node.func, "attr", "")
        if name in CALLS and isinstance(node.func, ast.Name):
            return ast.Call(ast.Name(CALLS[name]), node.args, node.keywords)
        if name in CALLS and isinstance(node.func, ast.Attribute):
            return ast.Call(ast.Attribute(node.func.value, CALLS[name]), node.args, node.keywords)
    return None


def _nothing(node: ast.AST) -> bool:
    return isinstance(node, ast.Constant) and node.value == 0.0


def _number(node: ast.AST) -> bool:
    return isinstance(node, ast.Constant) and type(node.value) in (int, float)


def _bodies(tree: ast.Module) -> Iterator[tuple[ast.AST, int]]:
    """Yield the nodes inside functions with the line their statement begins at, annotations and formatted texts aside."""
    for function in ast.walk(tree):
        if isinstance(function, ast.FunctionDef):
            for statement in function.body:
                yield from _inside(statement, statement.lineno)


def _inside(node: ast.AST, begins: int) -> Iterator[tuple[ast.AST, int]]:
    if not isinstance(node, ast.AnnAssign | ast.JoinedStr | ast.FunctionDef):
        begins = node.lineno if isinstance(node, ast.stmt) else begins
        yield node, begins
        for child in ast.iter_child_nodes(node):
            yield from _inside(child, begins)


def mutants_of(path: Path) -> list[Mutant]:
    """Return every mutant of a file, each place once."""
    text = path.read_text(encoding="utf-8")
    starts = [0]
    for line in text.encode().splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    raw = text.encode()
    found: dict[tuple[int, int], Mutant] = {}
    for node, begins in _bodies(ast.parse(text)):
        new = changed(node)
        if new is None or not isinstance(node, ast.expr):
            continue
        start = starts[node.lineno - 1] + node.col_offset
        end = starts[(node.end_lineno or node.lineno) - 1] + (node.end_col_offset or 0)
        words = ast.unparse(ast.fix_missing_locations(ast.Expression(new)))  # type: ignore[arg-type]
        old = " ".join(raw[start:end].decode().split())
        found.setdefault(
            (start, end),
            Mutant(str(path.relative_to(ROOT)), node.lineno, begins, start, end, old, f"({words})"),
        )
    return list(found.values())


def tests_of(mutant: Mutant, by_line: dict[str, dict[str, list[str]]]) -> list[str]:
    """Return the tests that pass through a mutant's line, or where it has no code of its own, through its statement."""
    lines = by_line.get(mutant.file, {})
    return lines.get(str(mutant.line)) or lines.get(str(mutant.statement)) or []


def all_mutants() -> list[Mutant]:
    """Return every mutant of physics and study."""
    files = [f for p in PACKAGES for f in sorted((ROOT / "src/gravidon" / p).rglob("*.py"))]
    return [m for f in files for m in mutants_of(f)]


def _pytest(where: Path, *arguments: str, seconds: float | None = None) -> int:
    command = [sys.executable, "-m", "pytest", "-q", "-p", "no:cacheprovider", *arguments]
    environment = {
        "PYTHONPATH": f"{where}/src:{where}/tests:{ROOT}/tools",
        "QT_QPA_PLATFORM": "offscreen",
        "HOME": str(Path.home()),
    }
    try:
        done = subprocess.run(  # noqa: S603  our own tests
            command, cwd=where, env=environment, timeout=seconds, capture_output=True, text=True, check=False
        )
    except subprocess.TimeoutExpired:
        return -1
    (where / ".mutation-last.txt").write_text(done.stdout[-4000:] + done.stderr[-2000:])
    return done.returncode


def prepare(workers: int) -> dict[str, dict[str, list[str]]]:
    """Return, by file and line, the tests that pass through it, the quickest within the budget; found anew where sources changed since."""
    import coverage

    places = (*(f"src/gravidon/{p}" for p in PACKAGES), *TESTS)
    newest = max(f.stat().st_mtime for p in places for f in (ROOT / p).rglob("*.py"))
    index = KEPT / "tests-by-line.json"
    if index.exists() and index.stat().st_mtime > newest:
        kept: dict[str, dict[str, list[str]]] = json.loads(index.read_text())
        return kept
    KEPT.mkdir(exist_ok=True)
    data, times = KEPT / "coverage", KEPT / "times.xml"
    (KEPT / "rc").write_text(
        f"[run]\ndata_file = {data}\nsource = {ROOT}/src/gravidon/physics,{ROOT}/src/gravidon/study\n"
    )
    status = _pytest(
        ROOT,
        *TESTS,
        "-n",
        str(workers),
        "-p",
        "forgets",
        f"--cov-config={KEPT / 'rc'}",
        "--cov",
        "--cov-context=test",
        "--cov-report=",
        f"--junitxml={times}",
    )
    if status:
        raise SystemExit("the tests fail without any mutant; see .mutation-last.txt")
    seconds = {
        f"{case.get('classname', '').replace('.', '/')}::{case.get('name')}": float(case.get("time", 0))
        for case in ET.parse(times).iter("testcase")  # noqa: S314  written a moment ago by pytest
    }

    def quick(test: str) -> float:
        return seconds.get(test.replace(".py::", "::").replace(".", "/"), 1.0)

    found: dict[str, dict[str, list[str]]] = {}
    read = coverage.CoverageData(str(data))
    read.read()
    for file in read.measured_files():
        by_line = {}
        at = {line: {c.split("|")[0] for c in some} for line, some in read.contexts_by_lineno(file).items()}
        whole = set().union(*at.values()) - {""}
        for line, named in at.items():
            # what runs when the module is loaded is seen by every test that uses the module
            tests = sorted(whole if named == {""} else named - {""}, key=quick)
            by_line[str(line)] = [*_within(tests, True, quick), *_within(tests, False, quick)]
        found[str(Path(file).relative_to(ROOT))] = by_line
    index.write_text(json.dumps(found))
    return found


def _within(tests: list[str], kept: bool, quick: Callable[[str], float]) -> list[str]:
    """Return the first of the kept answers, or of the others, that fit in the budget; one at least."""
    some = [t for t in tests if t.startswith(KEPT_ANSWERS) == kept]
    spent = accumulate(quick(t) for t in some)
    return [t for t, s in zip(some, spent, strict=True) if s <= BUDGET_S] or some[:1]


def noticed(mutant: Mutant, tests: list[str], where: Path) -> bool:
    """Return whether a test fails on the mutant in a copy of the project."""
    target = where / mutant.file
    whole = (ROOT / mutant.file).read_bytes()
    target.write_bytes(whole[: mutant.start] + mutant.new.encode() + whole[mutant.end :])
    try:
        return _pytest(where, "-x", *tests, seconds=HANGS_S) != 0
    finally:
        target.write_bytes(whole)


def main(count: int = 60, seed: int = 1, workers: int = 2) -> int:
    """Run a sample and print what was not noticed; return 1 where less than nine in ten were."""
    by_line = prepare(workers)
    mutants = all_mutants()
    dark = sum(not tests_of(m, by_line) for m in mutants)
    chosen = random.Random(seed).sample(mutants, min(count, len(mutants)))  # noqa: S311  repeatable
    print(f"{len(mutants)} places ({dark} that no test passes through), {len(chosen)} sampled, seed {seed}")
    with tempfile.TemporaryDirectory() as folder:
        places = [Path(folder) / str(k) for k in range(workers)]
        for place in places:
            place.mkdir()
            for name in ("src", "tests", "pyproject.toml", "docs", "README.md", "CHANGELOG.md", "tools"):
                source = ROOT / name
                (shutil.copytree if source.is_dir() else shutil.copy)(source, place / name)
        if _pytest(places[0], "tests/physics/test_rootfind.py"):
            raise SystemExit("the copy of the project does not pass a test without any mutant")
        free = list(places)

        def run(mutant: Mutant) -> bool:
            place = free.pop()
            try:
                tests = tests_of(mutant, by_line)
                fine = bool(tests) and noticed(mutant, tests, place)
                print(f"{'noticed ' if fine else 'SURVIVED'} {mutant.words}", flush=True)
                return fine
            finally:
                free.append(place)

        with ThreadPoolExecutor(workers) as pool:
            score = sum(pool.map(run, chosen))
    print(f"{score} of {len(chosen)} noticed, {score / len(chosen):.0%}")
    return 0 if score >= 0.9 * len(chosen) else 1


if __name__ == "__main__":
    sys.exit(main(*(int(a) for a in sys.argv[1:])))
