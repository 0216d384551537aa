# SPDX-License-Identifier: GPL-3.0-or-later
"""Habits of the project that a check can hold: heads, bounds, locks. Rules: reuse.software 3.3, PEP 440 and 508."""

from __future__ import annotations

import re
import tomllib
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
HEAD = "SPDX-License-Identifier: GPL-3.0-or-later"
PLACES = ("src", "tests", "tools", "docs", "packaging")


def sources() -> list[Path]:
    found = [f for place in PLACES for f in (ROOT / place).rglob("*.py") if f.stat().st_size]
    return found + [
        ROOT / n for n in ("gravidon", "check", "gravidon-bench", "gravidon-robust", "gravidon-mutate")
    ]


def test_every_source_names_its_licence() -> None:
    lacking = [f for f in sources() if HEAD not in "\n".join(f.read_text("utf-8").splitlines()[:3])]
    assert not lacking


def test_licences_of_what_has_no_head_are_told() -> None:
    told = tomllib.loads((ROOT / "REUSE.toml").read_text("utf-8"))
    named = {a["SPDX-License-Identifier"] for a in told["annotations"]}
    assert {p.stem for p in (ROOT / "LICENSES").iterdir()} == named
    fonts = next(a for a in told["annotations"] if "src/gravidon/draw/fonts/**" in a["path"])
    assert fonts["SPDX-License-Identifier"] == "OFL-1.1"


@pytest.mark.parametrize("lock", ["requirements.lock", "requirements-dev.lock"])
def test_dependencies_have_bounds_that_the_lock_keeps(lock: str) -> None:
    """A lower and an upper bound for each, and the locked version lies between them."""
    from packaging.requirements import Requirement

    project = tomllib.loads((ROOT / "pyproject.toml").read_text("utf-8"))["project"]
    locked = dict(re.findall(r"^([a-z0-9-]+)==(\S+)", (ROOT / lock).read_text("utf-8"), re.MULTILINE))
    for text in project["dependencies"]:
        need = Requirement(text)
        assert {s.operator for s in need.specifier} == {">=", "<"}, text
        name = re.sub(r"[-_.]+", "-", need.name).lower()
        assert need.specifier.contains(locked[name]), text


def test_texts_of_the_repository_name_no_machine() -> None:
    """No absolute path of a home folder or a registry in what is kept."""
    wrong = re.compile(
        r"/(?:root|home/\w+)/|file://|https?://(?!www\.w3\.org|json-schema\.org|www\.gnu\.org|fsf\.org|scripts\.sil\.org|openfontlicense\.org|www\.freedesktop\.org|docs\.pytest\.org)\S*simple"
    )
    found = []
    for place in (*PLACES, "."):
        files = (ROOT / place).glob("*") if place == "." else (ROOT / place).rglob("*")
        for f in files:
            if (
                f.is_file()
                and f.suffix in (".py", ".md", ".toml", ".lock", ".txt")
                and f.name != "test_project.py"
                and wrong.search(f.read_text("utf-8"))
            ):
                found.append(f)
    assert not found
