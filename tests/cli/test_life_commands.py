# SPDX-License-Identifier: GPL-3.0-or-later
"""The life after the plan on the command line: simulate, logger, log."""

import json
import os
import subprocess
import sys
import time
from pathlib import Path

import pytest

from gravidon.cli.main import main
from gravidon.plan import demos, storage
from gravidon.records import recording as recordings
from gravidon.records.lines import Heading, Row
from gravidon.records.link import SerialLink


@pytest.fixture
def plan(tmp_path: Path) -> Path:
    path = tmp_path / "car.gravidon"
    storage.save(demos.demo_plan("coupe"), path)
    return path


@pytest.mark.parametrize("name", ["run.csv", "run.csv.gz"])
def test_simulate_writes_a_recording_that_can_be_read(
    tmp_path: Path, name: str, capsys: pytest.CaptureFixture[str]
) -> None:
    out = tmp_path / name
    assert main(["simulate", "coupe", "--script", "crank 10, idle 20", "--seed", "4", "-o", str(out)]) == 0
    made = recordings.read(out)
    assert made.seconds == pytest.approx(30.0, abs=0.1)
    assert "601 rows" in capsys.readouterr().out


def test_the_same_seed_writes_the_same_file(tmp_path: Path) -> None:
    one, two, other = (tmp_path / f"{n}.csv" for n in "abc")
    for out, seed in ((one, "4"), (two, "4"), (other, "5")):
        assert main(["simulate", "coupe", "--script", "crank 10", "--seed", seed, "-o", str(out)]) == 0
    assert one.read_bytes() == two.read_bytes() != other.read_bytes()


@pytest.mark.parametrize(
    ("arguments", "named"),
    [
        (["--script", "fly 3"], "script"),
        (["--fault", "gremlins"], "fault"),
        (["--rate", "900"], "rate"),
        (["--oil", "nan"], "oil"),
        (["--seed", "-2"], "seed"),
    ],
)
def test_what_cannot_be_simulated_is_named(
    tmp_path: Path, arguments: list[str], named: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["simulate", "coupe", "-o", str(tmp_path / "x.csv"), *arguments]) == 2
    assert named in capsys.readouterr().err
    assert not (tmp_path / "x.csv").exists()


def test_the_logger_plays_on_a_port_and_takes_its_link_away(tmp_path: Path) -> None:
    """The stand-in as its own process: a reader on the link gets heading and rows; when it ends its link is gone."""
    link = tmp_path / "logger"
    environment = {**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)}
    command = [
        sys.executable,
        "-m",
        "gravidon",
        "logger",
        "coupe",
        "--script",
        "off 40",
        "--speed",
        "4",
        "--link",
        str(link),
    ]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=environment) as device:
        assert device.stdout is not None
        assert "playing 40 s" in device.stdout.readline()
        reader = SerialLink(str(link))
        events: list[object] = []
        until = time.monotonic() + 30.0
        while time.monotonic() < until and sum(isinstance(e, Row) for e in events) < 5:
            events += reader.poll()
            time.sleep(0.01)
        reader.close()
        assert device.wait(60) == 0
    assert any(isinstance(e, Heading) for e in events)
    assert sum(isinstance(e, Row) for e in events) >= 5
    assert not link.is_symlink()


def test_a_log_is_written_listed_exported_and_taken_in(
    plan: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["log", str(plan), "list"]) == 0
    assert capsys.readouterr().out == ""
    assert not plan.with_suffix(".gravidon-log").exists(), "looking makes no file"
    assert main(["log", str(plan), "add", "idle, hot, 14 psi"]) == 0
    assert "gallery 97 kPa" in capsys.readouterr().out
    assert main(["log", str(plan), "list", "--json"]) == 0
    (entry,) = json.loads(capsys.readouterr().out)
    assert entry["readings"][0]["gallery_kpa"] == pytest.approx(96.53, abs=0.01)
    out = tmp_path / "log.csv"
    assert main(["log", str(plan), "export", "-o", str(out)]) == 0
    assert main(["log", str(plan), "import", str(out)]) == 0
    assert "0 of 1 entries taken" in capsys.readouterr().out


def test_health_is_told_and_its_exit_says_whether_the_feed_closes(
    plan: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    season = demos.demo_season("coupe").splitlines()
    cleaned = next(k for k, line in enumerate(season) if "clean," in line)
    part = tmp_path / "part.csv"
    part.write_text("\n".join(season[:cleaned]) + "\n")
    assert main(["log", str(plan), "health"]) == 0
    assert "no pressure" in capsys.readouterr().out
    assert main(["log", str(plan), "import", str(part)]) == 0
    capsys.readouterr()
    assert main(["log", str(plan), "health", "--json"]) == 1
    said = json.loads(capsys.readouterr().out)
    assert said["closing"] is True
    assert 0 < said["km_left"][0] < said["km_left"][1]
    assert main(["log", "coupe", "health"]) == 0, "after the screen was cleaned"
    assert main(["log", str(plan), "health", "--turbo", "3"]) == 2


@pytest.mark.parametrize(
    ("arguments", "named"),
    [
        (["coupe", "add", "idle hot 14 psi"], "demo"),
        (["/no/such.gravidon", "add", "idle hot 14 psi"], "such.gravidon"),
    ],
)
def test_a_log_needs_a_plan_of_its_own(
    arguments: list[str], named: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["log", *arguments]) == 2
    assert named in capsys.readouterr().err


def test_a_line_that_says_nothing_is_refused(plan: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["log", str(plan), "add", "  "]) == 2
    assert "entry" in capsys.readouterr().err


def test_a_script_may_stand_in_a_file(tmp_path: Path) -> None:
    script = tmp_path / "drive.txt"
    script.write_text("# an invented drive\ncrank 10\nidle 20\n")
    one, two = tmp_path / "a.csv", tmp_path / "b.csv"
    assert main(["simulate", "coupe", "--script", str(script), "-o", str(one)]) == 0
    assert main(["simulate", "coupe", "--script", "crank 10, idle 20", "-o", str(two)]) == 0
    assert one.read_bytes() == two.read_bytes()


def test_a_log_speaks_json_in_all_it_prints(plan: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["log", str(plan), "add", "idle, hot, 14 psi", "--json"]) == 0
    added = json.loads(capsys.readouterr().out)
    assert main(["log", str(plan), "export", "--json"]) == 0
    assert json.loads(capsys.readouterr().out) == [added]
