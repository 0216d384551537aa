# SPDX-License-Identifier: GPL-3.0-or-later
"""What is kept for a user is said before it is removed; plans are not among it."""

from __future__ import annotations

from pathlib import Path

import pytest
from platformdirs import user_config_path, user_state_path

from gravidon.cli.main import main


def kept() -> tuple[Path, Path]:
    settings, state = user_config_path("gravidon"), user_state_path("gravidon")
    settings.mkdir(parents=True)
    (state / "recovery").mkdir(parents=True)
    (settings / "preferences.json").write_text("{}")
    (state / "trainer.jsonl").write_text("{}\n")
    return settings, state


def test_nothing_is_removed_without_agreement(capsys: pytest.CaptureFixture[str]) -> None:
    settings, state = kept()
    assert main(["--uninstall-user-data"]) == 0
    told = capsys.readouterr().out
    assert str(settings) in told
    assert str(state) in told
    assert "Nothing was removed" in told
    assert (settings / "preferences.json").is_file()


def test_what_was_said_is_removed_and_nothing_else(capsys: pytest.CaptureFixture[str]) -> None:
    settings, state = kept()
    plan = settings.parent / "mine.gravidon"
    plan.write_text("{}")
    assert main(["--uninstall-user-data", "--yes"]) == 0
    assert not settings.exists()
    assert not state.exists()
    assert plan.is_file()
    assert f"removed {state}" in capsys.readouterr().out
    assert main(["--uninstall-user-data", "--yes"]) == 0
    assert "Nothing of Gravidon's is kept" in capsys.readouterr().out
