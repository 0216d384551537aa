# SPDX-License-Identifier: GPL-3.0-or-later
"""`gravidon plan`: plans printed, written, as JSON; locks read; errors on one line."""

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from gravidon import api
from gravidon.errors import GravidonError
from gravidon.plan import storage
from gravidon.plan.demos import demo_plan
from gravidon.plan.model import Plan
from gravidon.study.planning import search as searching
from gravidon.study.planning.board import Effort
from gravidon.study.planning.search import Answer

from .test_cli import run

LIGHT = Effort(asked=8, rounds=1, cured=2, places=1, weighed=6, shown=4, samples=3)


@pytest.fixture(autouse=True)
def _light(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(api._search, "search", _once)


_FOUND: dict[Plan, list[Answer]] = {}
REAL = searching.search


def _once(plan: Plan, seed: int, crew: Any) -> Iterator[Answer]:
    """A light search, done once for a plan."""
    if plan not in _FOUND:
        _FOUND[plan] = list(REAL(plan, seed, crew, LIGHT))
    yield from _FOUND[plan]


def test_plans_are_printed_and_the_named_ones_written(
    capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    """What is written opens, keeps to the lock, and has the verdict that was printed."""
    status, out, err = run(
        capsys,
        "plan",
        "demo",
        "--workers",
        "0",
        "--lock",
        "entry-means=tapped,bulkhead",
        "-o",
        str(tmp_path),
        "--units",
        "imperial",
    )
    assert (status, err) == (0, "")
    assert "safest" in out
    assert "Why not" in out
    files = sorted(tmp_path.glob("*.gravidon"))
    assert files
    for file in files:
        plan = storage.load(file)
        assert plan.turbos[0].drain.fitting.means in ("tapped", "bulkhead")
        assert api.trial(plan).verdict != "fails"
        assert [i.name for i in plan.ideas] == [i.name for i in demo_plan().ideas]


def test_json_has_its_keys(capsys: pytest.CaptureFixture[str]) -> None:
    _, out, _ = run(capsys, "plan", "coupe", "--workers", "0", "--json", "--seed", "3")
    data: dict[str, Any] = json.loads(out)
    assert set(data) == {"plan", "looked_at", "holds", "plans", "shared", "takes", "lost", "no_way"}
    first = data["plans"][0]
    assert {
        "names",
        "verdict",
        "least_margin",
        "holds_share",
        "cost",
        "work_minutes",
        "decided_by",
        "gives_up",
        "decisions",
    } <= set(first)
    assert all(set(lost) == {"choice", "turbo", "value", "why"} for lost in data["lost"])
    assert {h["choice"] for h in data["holds"] if h["state"] == "locked"} == {"clock", "tilt"}


@pytest.mark.parametrize(
    ("lock", "words"),
    [
        ("colour", "lock: 'colour'"),
        ("drain-size=-9", "drain size: '-9'"),
        ("clock@3", "a turbo from 1 to 1"),
        ("restrictor=b..", "bounds such as"),
    ],
)
def test_a_lock_that_says_nothing_is_one_line_and_2(
    capsys: pytest.CaptureFixture[str], lock: str, words: str
) -> None:
    status, out, err = run(capsys, "plan", "demo", "--lock", lock)
    assert (status, out) == (2, "")
    assert words in err
    assert err.count("\n") == 1


def test_a_folder_that_cannot_be_made_is_said(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("")
    status, _, err = run(capsys, "plan", "coupe", "--workers", "0", "-o", str(blocked / "in"))
    assert status == 2
    assert str(blocked) in err


def test_the_door_locks_plans_and_answers_why_not() -> None:
    plan = api.lock(api.demo("coupe"), "breather", "entry-place=-60..-30")
    assert [h.choice for h in plan.holds] == ["breather", "entry-place"]
    answer = api.plans(plan)
    assert answer.final
    assert api.planned(answer)["plan"] == plan.name
    assert api.why_not(plan, "drain-size", "-8").startswith("-8 drain: ")
    with pytest.raises(GravidonError, match="choice"):
        api.why_not(plan, "colour", "red")
    with pytest.raises(GravidonError, match="turbo"):
        api.why_not(plan, "clock", "10", turbo=2)


def test_a_plan_that_cannot_be_mended_is_1(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    """Everything that would cure it is locked: every plan fails, and says so."""
    names = ("tap", "tap-thread", "feed-size", "feed-end", "restrictor")
    locks = [x for n in names for x in ("--lock", n)]
    status, out, _ = run(capsys, "plan", "demo", "--workers", "0", *locks)
    assert status == 1
    assert "fails" in out
