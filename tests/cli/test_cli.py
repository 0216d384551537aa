# SPDX-License-Identifier: GPL-3.0-or-later
"""The command line: exit codes, stable JSON, one line on stderr."""

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from gravidon.cli.main import main
from gravidon.plan import paths, storage
from gravidon.plan.demos import demo_plan
from study.test_findings import cured


def run(capsys: pytest.CaptureFixture[str], *arguments: str) -> tuple[int, str, str]:
    try:
        status = main(arguments)
    except SystemExit as stop:
        status = int(stop.code or 0)
    out, err = capsys.readouterr()
    return status, out, err


def test_check_demo_fails_with_1_and_json(capsys: pytest.CaptureFixture[str]) -> None:
    status, out, _ = run(capsys, "check", "demo", "--json")
    assert status == 1
    assert json.loads(out)["verdict"] == "fails"


def test_check_a_cured_plan_is_0(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    path = tmp_path / "good.gravidon"
    storage.save(cured(), path)
    assert run(capsys, "check", str(path))[0] == 0


@pytest.mark.parametrize(
    "content", [None, b"\x00\x01", b"{}", b'{"format": "gravidon-plan", "format_version": 99}']
)
def test_unusable_files_are_2_with_one_line(
    capsys: pytest.CaptureFixture[str], tmp_path: Path, content: bytes | None
) -> None:
    path = tmp_path / "bad.gravidon"
    if content is not None:
        path.write_bytes(content)
    status, out, err = run(capsys, "check", str(path))
    assert (status, out) == (2, "")
    assert err.count("\n") == 1
    assert "bad.gravidon" in err


def test_calc_oil(capsys: pytest.CaptureFixture[str]) -> None:
    """10W-40 at 110 °C: 11.5 mm²/s by ASTM D341 (hand calculation)."""
    status, out, _ = run(capsys, "calc", "oil", "--grade", "10W-40", "--temperature", "110 degC", "--json")
    data = json.loads(out)
    assert status == 0
    assert data["kinematic_viscosity_mm2_s"] == pytest.approx(11.5, abs=0.05)
    assert data["dynamic_viscosity_mpa_s"] == pytest.approx(11.51 * data["density_kg_m3"] / 1000, rel=1e-3)
    assert set(data) == {
        "kinematic_viscosity_mm2_s",
        "dynamic_viscosity_mpa_s",
        "density_kg_m3",
        "heat_capacity_j_kg_k",
    }


def test_calc_restrictor(capsys: pytest.CaptureFixture[str]) -> None:
    """1 mm by 1.5 mm at 45 psi: definition of Cd ties flow and coefficient together (hand formula)."""
    status, out, _ = run(
        capsys,
        "calc",
        "restrictor",
        "--bore",
        "1.0 mm",
        "--length",
        "1.5 mm",
        "--drop",
        "45 psi",
        "--grade",
        "10W-40",
        "--temperature",
        "110 degC",
        "--json",
    )
    data = json.loads(out)
    ideal = 3.14159265 / 4 * 1e-6 * (2 * 310264 / 815.75) ** 0.5
    assert status == 0
    assert data["flow_l_min"] / 6e4 == pytest.approx(data["discharge_coefficient"] * ideal, rel=1e-3)
    assert 0.6 < data["discharge_coefficient"] < 0.82


def test_calc_drainpipe(capsys: pytest.CaptureFixture[str]) -> None:
    """Hagen-Poiseuille by hand: nu = 11.51e-6·1.4/0.6, -10 bore 14.2875 mm, 20°: 7.66 L/min full."""
    status, out, _ = run(
        capsys,
        "calc",
        "drainpipe",
        "--bore=-10",
        "--slope",
        "20 deg",
        "--flow",
        "2 l/min",
        "--air",
        "0.4",
        "--grade",
        "10W-40",
        "--temperature",
        "110 degC",
        "--json",
    )
    data = json.loads(out)
    nu = 11.511e-6 * 1.4 / 0.6
    full = 3.14159265 * 0.0142875**4 * 9.80665 * 0.34202 / (128 * nu) * 6e4
    assert status == 0
    assert data["full_flow_l_min"] == pytest.approx(full, rel=1e-3)
    assert 0.4 < data["fill"] < 0.5  # 3.33 of 7.66 L/min is 0.43 of full: just under half
    assert set(data) == {"fill", "full_flow_l_min", "velocity_m_s", "froude", "reynolds"}


@pytest.mark.parametrize(
    ("arguments", "names"),
    [
        (["calc", "oil", "--grade", "10W-99", "--temperature", "100 C"], "grade"),
        (["calc", "oil", "--grade", "10W-40", "--temperature", "900 C"], "temperature"),
        (
            [
                "calc",
                "restrictor",
                "--bore",
                "0",
                "--length",
                "1",
                "--drop",
                "1 bar",
                "--grade",
                "10W-40",
                "--temperature",
                "90 C",
            ],
            "bore",
        ),
        (
            [
                "calc",
                "drainpipe",
                "--bore",
                "14",
                "--slope",
                "-5 deg",
                "--flow",
                "1",
                "--grade",
                "10W-40",
                "--temperature",
                "90 C",
            ],
            "slope",
        ),
        (["sheet", "demo", "-o", "out.docx"], "output"),
        (["nonsense.gravidon"], "nonsense"),
        (["check"], "plan"),
    ],
)
def test_bad_input_names_the_field(
    capsys: pytest.CaptureFixture[str], arguments: list[str], names: str
) -> None:
    status, _, err = run(capsys, *arguments)
    assert status == 2
    assert names in err
    assert "Traceback" not in err


def test_core_and_cli_run_where_qt_is_missing() -> None:
    """`check` and `calc` never import Qt: with PyQt6 made unimportable they still answer."""
    program = (
        "import sys; sys.modules['PyQt6'] = None\n"
        "from gravidon.cli.main import main\n"
        "sys.exit(main(['check', 'demo']))"
    )
    done = subprocess.run(
        [sys.executable, "-c", program],
        capture_output=True,
        text=True,
        check=False,
        env={**os.environ, "PYTHONPATH": "src"},
    )
    assert done.returncode == 1
    assert "fails" in done.stdout
    assert done.stderr == ""


def test_start_up_imports_nothing_heavy() -> None:
    """SciPy, pint, pyqtgraph and jinja2 are loaded when first needed, not at start."""
    program = (
        "import sys, gravidon.desk.application, gravidon.study.verdict.remedies\n"
        "print([m for m in ('scipy', 'pint', 'pyqtgraph', 'jinja2') if m in sys.modules])"
    )
    done = subprocess.run(
        [sys.executable, "-c", program],
        capture_output=True,
        text=True,
        check=False,
        env={**os.environ, "PYTHONPATH": "src"},
    )
    assert done.stdout.strip() == "[]"


def test_check_prints_a_table_for_people(capsys: pytest.CaptureFixture[str]) -> None:
    status, out, _ = run(capsys, "check", "van")
    assert status == 1
    assert "hot idle" in out
    assert "right turbo" in out or "starved" in out or "bearing gets" in out
    assert out.count("\n") > 15


def test_report_of_two_turbos_has_a_part_for_each(capsys: pytest.CaptureFixture[str]) -> None:
    _, out, _ = run(capsys, "check", "van", "--json")
    data = json.loads(out)
    assert [t["name"] for t in data["turbos"]] == ["left turbo", "right turbo"]
    assert len(data["turbos"][1]["conditions"]) == len(data["conditions"]) == 10
    assert {f["turbo"] for f in data["findings"]} == {1, 2}


def test_schema_is_valid_json_schema(capsys: pytest.CaptureFixture[str]) -> None:
    """JSON Schema draft 2020-12, checked by its reference implementation."""
    import jsonschema

    status, out, _ = run(capsys, "schema")
    assert status == 0
    jsonschema.Draft202012Validator.check_schema(json.loads(out))


def test_version_and_help(capsys: pytest.CaptureFixture[str]) -> None:
    status, out, _ = run(capsys, "--version")
    assert status == 0
    assert out.startswith("gravidon 0.")
    status, out, _ = run(capsys, "--help")
    assert status == 0
    for word in ("check", "calc", "sheet", "demo"):
        assert word in out


@pytest.mark.parametrize("name", ["gravidon", "check", "gravidon-bench", ".ci/run"])
def test_launchers_are_sound_bash(name: str) -> None:
    """`bash -n` parses them, and they may be executed."""
    done = subprocess.run(["/bin/bash", "-n", name], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    assert os.access(name, os.X_OK)


def test_continuous_integration_calls_check() -> None:
    assert "./check" in Path(".ci/run").read_text()


def test_every_picture_of_the_readme_exists() -> None:
    import re

    for link in re.findall(r"\]\(([^)]+\.(?:png|md))\)", Path("README.md").read_text()):
        assert Path(link).is_file(), link
    assert len(list(Path("docs/screenshots").glob("*.png"))) < 20


def test_replay_tells_when_a_seal_wets(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    """Exit 1 and a line a spell on the shipped drive; 0 on a drive that stands still; columns mapped by hand."""
    plan = tmp_path / "fed.gravidon"
    fed = paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 2.2)
    storage.save(paths.put(fed, "turbos.0.drain.entry.z_mm", -90.0), plan)
    status, out, _ = run(capsys, "replay", str(plan), "demo", "--json")
    data = json.loads(out)
    assert status == 1
    assert data["bad_rows"] == 0
    assert any(s["left_g"] > 0.3 for s in data["spells"])
    assert all(s["end_s"] > s["start_s"] for s in data["spells"])
    quiet = tmp_path / "quiet.csv"
    quiet.write_text("t,fwd,lat,n,T\n0,0,0,900,95\n5,0,0,900,95\n6,oops,0,900,95\n")
    columns = ("time=t:s", "ax=fwd:g", "ay=lat:-g", "rpm=n:rpm", "oil=T:°C")
    status, out, _ = run(capsys, "replay", str(plan), str(quiet), *(f"--map={c}" for c in columns))
    assert status == 2, "a third of its rows fall out: asked about"
    status, out, _ = run(
        capsys, "replay", str(plan), str(quiet), "--anyway", *(f"--map={c}" for c in columns)
    )
    assert status == 0
    assert "line 4, acceleration forward" in out


@pytest.mark.parametrize(
    "extra",
    [("--map", "speed=x:g"), ("--map", "ay=nowhere:g"), ("--turbo", "4")],
    ids=["channel", "column", "turbo"],
)
def test_replay_refuses_in_one_line(capsys: pytest.CaptureFixture[str], extra: tuple[str, str]) -> None:
    status, out, err = run(capsys, "replay", "demo", "demo", *extra)
    assert (status, out, err.count("\n")) == (2, "", 1)


def test_check_prints_in_the_units_asked_for(capsys: pytest.CaptureFixture[str]) -> None:
    """1 psi = 6.894757 kPa (SI brochure, NIST SP 811); the JSON keeps its units, as its keys say."""
    _, out, _ = run(capsys, "check", "demo", "--json")
    idle = next(c for c in json.loads(out)["conditions"] if c["name"] == "hot idle")
    _, text, _ = run(capsys, "check", "demo", "--units", "imperial")
    lines = text.splitlines()
    assert lines[2].split()[:3] == ["psi"] * 3
    row = next(line for line in lines if line.startswith("hot idle"))
    assert float(row.split()[2]) == pytest.approx(idle["gallery_pressure_kpa"] / 6.894757, abs=0.06)
    assert float(row.split()[6]) == pytest.approx(idle["outlet_temperature_c"] * 1.8 + 32, abs=0.6)
    sentences = "\n".join(line for line in lines[4:] if line.startswith((" fails", " watch", "  note")))
    assert "\u202fpsi" in sentences
    assert "\u202fbar" not in sentences
    assert "\u202f°C" not in sentences
    _, plain, _ = run(capsys, "check", "demo")
    assert plain.splitlines()[2].split()[0] == "bar"


def test_a_mistyped_command_is_told_with_what_was_meant(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["chek", "demo"]) == 2
    assert "did you mean 'check'" in capsys.readouterr().err
    assert main(["nonsense", "--json"]) == 2
    assert "--help" in capsys.readouterr().err


def test_pictures_that_cannot_be_written_are_no_success(
    capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    (tmp_path / "file").write_text("in the way")
    assert main(["screenshots", "-o", str(tmp_path / "file" / "x")]) == 2
    assert "cannot be made" in capsys.readouterr().err
