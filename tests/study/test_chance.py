# SPDX-License-Identifier: GPL-3.0-or-later
"""The chance beside the verdict: told in a clause, kept for the plan it was sampled for, and part of the word."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest

from gravidon import api
from gravidon.cli.main import main
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.study.verdict.certainty import Certainty, certainty
from gravidon.study.verdict.chance import chance, chance_words, known_chance, word_beside
from gravidon.study.verdict.report import verdict_sentence, verdict_words
from gravidon.study.verdict.trials import trial

COUPE = demo_plan("coupe")
*_, FEW = certainty(COUPE, samples=8)


def with_fails(share: float, samples: int = 100) -> Certainty:
    return replace(FEW, whole=(1.0 - share, 0.0, share), samples=samples)


def test_what_fails_in_half_of_its_samples_is_not_said_to_pass() -> None:
    assert word_beside("holds", None) == "holds"
    assert word_beside("holds", with_fails(0.49)) == "holds"
    assert word_beside("holds", with_fails(0.5)) == "watch"
    assert word_beside("fails", with_fails(0.0)) == "fails"
    tried = trial(COUPE)
    said = verdict_words(tried.evaluation, tried.findings, "metric", with_fails(0.7))
    assert (said.word, said.headline) == ("watch", "Passes as typed, but fails more often than not")
    said = verdict_words(tried.evaluation, tried.findings, "metric", with_fails(0.03))
    assert said.headline.startswith("Passes in all")
    assert said.rests.startswith("Fails in 3 of 100 within what is not measured. Rests on")


def test_the_chance_is_told_in_a_clause() -> None:
    assert chance_words(with_fails(0.0)) == "fails in none of 100 tried within what is not measured"
    assert chance_words(with_fails(0.125, 40)) == "fails in 5 of 40 within what is not measured"
    tried = trial(COUPE)
    assert verdict_sentence(tried.evaluation, tried.findings, with_fails(0.03)).endswith(
        "; fails in 3 of 100 within what is not measured"
    )


def test_a_sampled_chance_is_kept_for_its_plan_alone() -> None:
    plan = paths.put(COUPE, "name", "Sampled")
    assert known_chance(plan) is None
    assert api.report(plan)["chance"] is None
    steps = chance(plan, 6)
    next(steps)
    assert known_chance(plan) is None  # not half an answer
    *_, last = steps
    assert known_chance(plan) is last
    row = api.report(plan)["chance"]
    assert row["samples"] == 6
    assert row["passes"] + row["warnings"] + row["fails"] == pytest.approx(1.0)
    assert known_chance(paths.put(COUPE, "name", "Never sampled")) is None


def test_check_tells_the_chance_when_asked(
    capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    from gravidon.study.verdict import chance as module

    monkeypatch.setattr(api._chance, "chance", lambda plan, samples: module.certainty(plan, 5))
    assert main(["check", "coupe", "--chance"]) == 0
    first = capsys.readouterr().out.splitlines()[0]
    assert first.startswith("Two-litre coupe, finished: passes; fails in ")
    assert first.endswith("within what is not measured")
    assert main(["check", "coupe", "--json"]) == 0
    assert "chance" in json.loads(capsys.readouterr().out)
