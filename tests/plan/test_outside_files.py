# SPDX-License-Identifier: GPL-3.0-or-later
"""Files from outside, and files written where others have theirs: refused in words, nothing lost, nothing hung."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from gravidon.errors import GravidonError, PlanFileError
from gravidon.plan import demos, storage
from gravidon.plan.files import PART, clear_leftovers, json_object, read_file, refuse_onto, write_atomically
from gravidon.records.recording import text_of
from gravidon.study.diagnosis.case import case_from
from gravidon.translate import Text


@pytest.fixture
def plan_text() -> str:
    return storage.plan_to_text(demos.demo_plan("coupe"))


@pytest.mark.parametrize(
    "text",
    ["[" * 100_000, '{"a": ' + "9" * 5000 + "}", '{"a": Infinity}', '{"a": 1, "a": 2}', "[]", "{", '{"a": 1e999}'],
    ids=["deep", "long number", "infinite", "twice", "list", "cut", "beyond"],
)  # fmt: skip
def test_odd_json_is_refused_in_words(text: str, tmp_path: Path) -> None:
    for read in (storage.plan_from_text, case_from):
        with pytest.raises(GravidonError):
            read(text)
    if text != '{"a": 1e999}':
        with pytest.raises(PlanFileError):
            json_object(text)


def test_what_is_no_file_is_refused_at_once(tmp_path: Path) -> None:
    pipe = tmp_path / "pipe.gravidon"
    os.mkfifo(pipe)
    loop = tmp_path / "loop.gravidon"
    loop.symlink_to(loop)
    for path in (pipe, Path("/dev/zero"), tmp_path, loop, tmp_path / ("x" * 300)):
        with pytest.raises(PlanFileError):
            read_file(path, 1000)
        with pytest.raises(PlanFileError):
            storage.load(path)


def test_a_damaged_archive_is_refused_in_words(tmp_path: Path) -> None:
    import gzip

    whole = gzip.compress(b"time[s],rpm[rpm]\n" + b"1,850\n" * 2000)
    for k in range(12, len(whole) - 1, 5):
        path = tmp_path / "a.csv.gz"
        path.write_bytes(whole[:k] + bytes([whole[k] ^ 0x55]) + whole[k + 1 :])
        try:
            text_of(path)
        except GravidonError:
            continue


def test_mode_owner_and_link_are_kept_and_the_umask_heeded(tmp_path: Path, plan_text: str) -> None:
    old = os.umask(0o077)
    try:
        plan = storage.plan_from_text(plan_text)
        target = tmp_path / "real.gravidon"
        storage.save(plan, target)
        assert target.stat().st_mode & 0o777 == 0o600
        target.chmod(0o640)
        link = tmp_path / "link.gravidon"
        link.symlink_to(target)
        storage.save(plan, link)
        assert link.is_symlink()
        assert target.stat().st_mode & 0o777 == 0o640
        assert storage.backup_path(target).stat().st_mode & 0o777 == 0o640
    finally:
        os.umask(old)
    target.chmod(0o444)
    with pytest.raises(PlanFileError, match="write-protected"):
        storage.save(plan, target)


def test_every_plan_has_a_backup_and_a_logbook_of_its_own(tmp_path: Path) -> None:
    from gravidon.records.book import book_path

    names = [tmp_path / n for n in ("a.gravidon", "a.json", "car 1.2", "car 1.3")]
    assert len({storage.backup_path(n) for n in names}) == len(names)
    assert len({book_path(n) for n in names}) == len(names)
    (tmp_path / "old.gravidon-log").touch()
    assert book_path(tmp_path / "old.json").name == "old.gravidon-log", "one of before is still found"


def test_no_output_hits_what_is_read(tmp_path: Path, plan_text: str) -> None:
    plan = tmp_path / "mine.gravidon"
    plan.write_text(plan_text)
    (tmp_path / "same").symlink_to(plan)
    for output in (plan, tmp_path / "same", tmp_path / "mine.gravidon-log"):
        with pytest.raises(PlanFileError):
            refuse_onto(output, [plan])
    for words in (["log", str(plan), "export"], ["simulate", str(plan)], ["handbook", str(plan)]):
        done = command(*words, "-o", str(plan))
        assert done.returncode == 2, words
        assert "Traceback" not in done.stderr
    done = command("diagnose", str(plan), "--save", str(plan))
    assert done.returncode == 2
    assert plan.read_text() == plan_text


def test_leftovers_of_a_crash_go_and_those_of_the_living_stay(tmp_path: Path) -> None:
    dead, living = tmp_path / f".a.999999999.ab{PART}", tmp_path / f".a.{os.getpid()}.ab{PART}"
    for part in (dead, living):
        part.write_text("half")
        os.utime(part, (1.0, 1.0))
    clear_leftovers(tmp_path, tmp_path / "gone")
    assert not dead.exists()
    assert living.exists()
    with pytest.raises(PlanFileError):
        write_atomically(tmp_path / "no" / "where", b"")


def command(*words: str, **more: object) -> subprocess.CompletedProcess[str]:
    environment = os.environ | {"PYTHONPATH": str(Path(__file__).parents[2] / "src")}
    return subprocess.run(
        [sys.executable, "-m", "gravidon", *words],
        capture_output=True, text=True, check=False, timeout=120, env=environment, **more,  # type: ignore[call-overload]
    )  # fmt: skip


def test_words_of_a_plan_do_not_steer_the_terminal(tmp_path: Path, plan_text: str) -> None:
    data = json.loads(plan_text)
    data["name"] = "a\u202eb\u009bc"
    plan = tmp_path / "a.gravidon"
    plan.write_text(json.dumps(data))
    for words in (["check", str(plan)], ["check", str(plan), "--json"], ["diagnose", str(plan)]):
        out = command(*words).stdout
        assert "\u202e" not in out
        assert "\u009b" not in out
        if "--json" in words:
            assert json.loads(out)["plan"] == data["name"], "JSON says the very name"


def test_a_full_disk_and_a_closed_pipe_end_in_a_line() -> None:
    environment = os.environ | {"PYTHONPATH": str(Path(__file__).parents[2] / "src")}
    with Path("/dev/full").open("w") as full:
        done = subprocess.run(
            [sys.executable, "-m", "gravidon", "schema"],
            stdout=full, stderr=subprocess.PIPE, text=True, check=False, env=environment,
        )  # fmt: skip
    assert done.returncode == 2
    assert done.stderr.count("\n") == 1
    run = f"{sys.executable} -m gravidon schema"
    done = subprocess.run(["bash", "-c", f"{run} | head -c 10; exit ${{PIPESTATUS[0]}}"], capture_output=True, text=True, check=False, env=environment)  # noqa: S607  # fmt: skip
    assert done.stderr == ""


def test_a_translators_wrong_place_gives_the_sources_text() -> None:
    assert Text.of("{nonsense} km", "{count} km").format(count=3) == "3 km"
    assert Text.of("{count} mi", "{count} km").format(count=3) == "3 mi"
    with pytest.raises(KeyError):
        Text.of("{count} km", "{count} km").format(other=3)
