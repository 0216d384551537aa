# SPDX-License-Identifier: GPL-3.0-or-later
"""The diagnosis from a command line."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from gravidon.cli.main import main
from gravidon.plan import demos, storage
from gravidon.study.diagnosis.tables import tables


def test_signs_make_a_ranking(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    plan, case = tmp_path / "mine.gravidon", tmp_path / "case.json"
    storage.save(demos.demo_plan("coupe"), plan)
    assert (
        main(
            [
                "diagnose",
                str(plan),
                "--sign",
                "smoke-start",
                "--sign",
                "no-smoke-boost",
                "--save",
                str(case),
                "--json",
            ]
        )
        == 0
    )
    made = json.loads(capsys.readouterr().out)
    assert set(made) == {
        "plan", "signs", "from_log", "results", "causes", "places", "questions", "stop", "tests", "settled", "mending",
    }  # fmt: skip
    assert made["causes"][0]["key"] == "guides"
    assert main(
        [
            "diagnose",
            str(plan),
            "--case",
            str(case),
            "--result",
            "plugs=oily",
            "--result",
            "overnight=2",
            "--result",
            "dipstick=1",
        ]
    ) in (0, 1)
    words = capsys.readouterr().out
    assert "engine's own valve stem seals" in words.splitlines()[1]


def test_a_sure_cause_is_exit_1_and_its_repair(capsys: pytest.CaptureFixture[str]) -> None:
    given = ["diagnose", "coupe"]
    for sign in ("smoke-start", "smoke-overrun", "dry-pipes", "oil-drops", "long-stood"):
        given += ["--sign", sign]
    given += ["--result", "plugs=oily", "--result", "downpipe=wet from the engine"]
    assert main(given) == 1
    words = capsys.readouterr().out
    assert "sure enough to mend: guides" in words
    assert "Replace the stem seals." in words


@pytest.mark.parametrize("which", ["signs", "causes", "tests"])
def test_tables_are_listed(which: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["diagnose", "--list", which]) == 0
    assert len(capsys.readouterr().out.splitlines()) == len(getattr(tables(), which))
    assert main(["diagnose", "--list", which, "--json"]) == 0
    assert set(json.loads(capsys.readouterr().out)) == set(getattr(tables(), which))


@pytest.mark.parametrize(
    ("given", "field"),
    [
        ([], "plan"),
        (["coupe", "--sign", "fog"], "sign"),
        (["coupe", "--result", "dipstick"], "result"),
        (["coupe", "--result", "dipstick=sideways"], "outcome"),
        (["coupe", "--bar", "9"], "bar"),
        (["coupe", "--case", "none.json"], "case"),
        (["none.gravidon"], "none.gravidon"),
    ],
)
def test_bad_input_names_its_field(given: list[str], field: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["diagnose", *given]) == 2
    told = capsys.readouterr().err
    assert field in told
    assert len(told.splitlines()) == 1


def test_a_case_that_cannot_be_written_is_told(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    assert main(["diagnose", "coupe", "--save", str(tmp_path / "no" / "case.json")]) == 2
    assert "case.json" in capsys.readouterr().err
