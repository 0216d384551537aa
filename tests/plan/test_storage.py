# SPDX-License-Identifier: GPL-3.0-or-later
"""Plan files: round trips, damage, atomic saving, recovery."""

import json
import os
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gravidon.errors import NewerFormatError, PlanFileError
from gravidon.plan import paths, storage
from gravidon.plan.demos import NAMES, demo_plan
from gravidon.plan.model import Plan

TEXT = storage.plan_to_text(demo_plan())


def changed(**values: object) -> str:
    return json.dumps({**json.loads(TEXT), **values})


def with_value(path: str, value: object) -> str:
    data = json.loads(TEXT)
    node = data
    *steps, last = path.split(".")
    for step in steps:
        node = node[int(step)] if isinstance(node, list) else node[step]
    node[last] = value
    return json.dumps(data)


@pytest.mark.parametrize("name", NAMES)
def test_demos_round_trip(name: str) -> None:
    """Reading what was written gives the same plan, and the schema in docs accepts it."""
    plan = demo_plan(name)
    text = storage.plan_to_text(plan)
    assert storage.plan_from_text(text) == plan
    jsonschema.validate(json.loads(text), json.loads(Path("docs/plan.schema.json").read_text()))


@pytest.mark.parametrize(
    ("text", "names"),
    [
        ("", "JSON"),
        (TEXT[: len(TEXT) // 2], "line"),
        ("[1, 2]", "object"),
        (changed(format="other"), "format"),
        (changed(format_version="1"), "format_version"),
        (with_value("turbos.0.restrictor.bore_mm", "1.0"), "turbos.0.restrictor.bore_mm"),
        (with_value("turbos.0.restrictor.bore_mm", -1.0), "turbos.0.restrictor.bore_mm"),
        (with_value("turbos.0.restrictor.bore_mm", 1e9), "turbos.0.restrictor.bore_mm"),
        (with_value("turbos.0.drain.hose_bore_mm", 0.0), "turbos.0.drain.hose_bore_mm"),
        (with_value("turbos.0.drain.points.0.x_mm", None), "turbos.0.drain.points.0.x_mm"),
        (with_value("taps.0.port_thread", "1/2 XYZ"), "tap"),
        (with_value("oil.v100_mm2_s", {"value": 99.0}), "oil"),
        (with_value("turbos.0.turbo.bearing", "magnetic"), "turbos.0.turbo.bearing"),
        (with_value("extra", 1), "extra"),
        (with_value("conditions", []), "conditions"),
        (with_value("conditions.0.rpm", 0.0), "conditions.0"),
        (with_value("conditions.1.name", "cold start"), "own name"),
        (with_value("engine.readings", []), "engine.readings"),
        (TEXT.replace("0.76", "NaN"), "NaN"),
        (TEXT.replace("0.76", "Infinity"), "Infinity"),
        (TEXT.replace("0.76", "1e999"), "restrictor"),
        (TEXT.replace('"name": "Five', '"name": "x", "name": "Five'), "twice"),
        ("[" * 100_000, "nested"),
    ],
)
def test_damaged_files_name_the_field(text: str, names: str) -> None:
    """Each kind of damage gives one PlanFileError whose message names the place."""
    with pytest.raises(PlanFileError, match=names.replace(".", r"\.")):
        storage.plan_from_text(text)


def test_missing_field_is_named() -> None:
    data = json.loads(TEXT)
    del data["sump"]["fill_l"]
    with pytest.raises(PlanFileError, match=r"sump\.fill_l.*missing"):
        storage.plan_from_text(json.dumps(data))


def test_a_version_1_file_still_opens() -> None:
    """A file written by format version 1 comes up as the same car: one tap, one turbo, the same pieces."""
    old = json.loads((Path(__file__).parent / "version-1.gravidon").read_text())
    plan = storage.plan_from_text(json.dumps(old))
    assert plan.format_version == 6
    assert plan.breather.kind == "typed"
    assert plan.turbos[0].restrictor.bore_mm == old["restrictor"]["bore_mm"]
    assert plan.taps[0].route_mm.value == old["feed"]["length_mm"]["value"]
    shapes = [p.shape for p in plan.turbos[0].feed.pieces if p.kind == "fitting"]
    assert shapes.count("90°") == old["feed"]["elbows_90"]
    assert shapes.count("45°") == old["feed"]["elbows_45"]
    del old["turbo"]
    with pytest.raises(PlanFileError, match=r"version 1.*turbo"):
        storage.plan_from_text(json.dumps(old))


def test_newer_version_says_so() -> None:
    with pytest.raises(NewerFormatError, match="reads up to 6"):
        storage.plan_from_text(changed(format_version=7))


def test_binary_and_huge_files_are_refused(tmp_path: Path) -> None:
    binary = tmp_path / "a.gravidon"
    binary.write_bytes(bytes(range(256)) * 10)
    with pytest.raises(PlanFileError, match=r"a\.gravidon: not text"):
        storage.load(binary)
    huge = tmp_path / "b.gravidon"
    huge.write_bytes(b" " * (storage.LARGEST_FILE + 1))
    with pytest.raises(PlanFileError, match=r"larger than 5 MB"):
        storage.load(huge)
    with pytest.raises(PlanFileError, match="Is a directory"):
        storage.load(tmp_path)


@given(st.integers(0, len(TEXT.encode()) - 1), st.integers(0, 255))
def test_any_single_damaged_byte_is_read_or_refused(position: int, byte: int) -> None:
    """Whatever one byte becomes, the file is a valid plan or one clear error."""
    data = bytearray(TEXT.encode())
    data[position] = byte
    outcome: object
    try:
        outcome = storage.plan_from_text(data.decode("utf-8", "replace"))
    except PlanFileError as error:
        outcome = str(error)
    assert isinstance(outcome, Plan) or len(str(outcome)) > 5


def test_saving_keeps_one_backup_and_leaves_no_litter(tmp_path: Path) -> None:
    path = tmp_path / "car.gravidon"
    first = demo_plan()
    second = paths.put(first, "name", "second")
    storage.save(first, path)
    storage.save(second, path)
    assert storage.load(path).name == "second"
    assert storage.plan_from_text((tmp_path / "car.gravidon-backup").read_text()) == first
    assert sorted(p.name for p in tmp_path.iterdir() if p.is_file()) == [
        "car.gravidon",
        "car.gravidon-backup",
    ]


def test_a_failing_write_leaves_the_old_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """If the disk gives up before the rename, the old plan is whole and nothing is left behind."""
    path = tmp_path / "car.gravidon"
    storage.save(demo_plan(), path)
    before = path.read_bytes()

    def fail(_: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", fail)
    with pytest.raises(PlanFileError, match="No space left"):
        storage.save(paths.put(demo_plan(), "name", "lost"), path)
    assert path.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir() if p.is_file()] == ["car.gravidon"]


def test_recovery_after_a_kill(tmp_path: Path) -> None:
    """A recovery file of a process that is gone is offered; one of a living process is not; rubbish is put aside."""
    from gravidon.desk.recovery import Recovery, find_recoverable

    mine = Recovery(tmp_path)
    mine.keep(demo_plan(), Path("/somewhere/car.gravidon"))
    assert find_recoverable(tmp_path) == []
    data = json.loads(mine.file.read_text())
    mine.file.write_text(json.dumps({**data, "pid": 2**22 + 5}))
    (tmp_path / "rubbish.json").write_text("{")
    found = find_recoverable(tmp_path)
    assert [f.plan for f in found] == [demo_plan()]
    assert found[0].original == Path("/somewhere/car.gravidon")
    assert (tmp_path / "rubbish.unreadable").exists()
