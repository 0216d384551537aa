# SPDX-License-Identifier: GPL-3.0-or-later
"""The Python door: every name works, the example runs, errors name their field."""

import ast
import runpy
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

from gravidon import api
from gravidon.errors import GravidonError, InputError

ROOT = Path(__file__).parent.parent


def test_a_plan_is_opened_changed_saved_and_read_back(tmp_path: Path) -> None:
    """Text is read as typed; the file holds what was put."""
    plan = api.new("mine", api.Answers(bearing="ball", frame="small"))
    plan = api.put(plan, "turbos.0.drain.entry.z_mm", "-2 in")
    plan = api.put(plan, "turbos.0.turbo.reference_flow_l_min", "0.8 ± 0.1 L/min")
    known = plan.turbos[0].turbo.reference_flow_l_min
    assert plan.turbos[0].drain.entry.z_mm == pytest.approx(-50.8)
    assert (known.value, known.basis, known.tolerance) == (0.8, "measured", pytest.approx(0.1))
    assert api.open(api.save(plan, tmp_path / "mine.gravidon")) == plan


def test_words_and_records_can_be_put() -> None:
    plan = api.put(api.demo(), "turbos.0.turbo.bearing", "ball")
    assert plan.turbos[0].turbo.bearing == "ball"
    assert api.put(plan, "name", "renamed").name == "renamed"


def test_a_trial_agrees_with_findings_and_report() -> None:
    plan = api.demo()
    tried = api.trial(plan)
    assert tried.findings == api.findings(plan)
    assert api.report(plan)["verdict"] == tried.verdict
    cure = next(r for r in api.remedies(plan, tried.findings[0]) if r.cures)
    assert tried.findings[0].key not in {f.key for f in api.findings(cure.plan)}


def test_an_equal_plan_is_tried_once() -> None:
    """The memo goes by what a plan is, not by which object it is."""
    assert api.trial(api.demo()) is api.trial(api.demo())


def test_errors_name_the_field(tmp_path: Path) -> None:
    with pytest.raises(GravidonError, match="restrictor bore"):
        api.put(api.demo(), "turbos.0.restrictor.bore_mm", "900 mm")
    with pytest.raises(GravidonError, match="restrictor bore"):
        api.put(api.demo(), "turbos.0.restrictor.bore_mm", "wide")
    with pytest.raises(InputError, match="output"):
        api.sheet(api.demo(), tmp_path / "sheet.doc")


def test_the_example_runs_as_it_stands(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    """docs/examples/door.py: about twenty lines, mends the demo and writes a sheet."""
    script = ROOT / "docs/examples/door.py"
    tree = ast.parse(script.read_text(encoding="utf-8"))
    statements = [n for n in ast.walk(tree) if isinstance(n, ast.stmt)]
    assert len(statements) <= 24
    monkeypatch.setattr(sys, "argv", ["door.py", "demo", str(tmp_path / "sheet.html")])
    runpy.run_path(str(script), run_name="__main__")
    assert (tmp_path / "sheet.html").stat().st_size > 2000
    said = capsys.readouterr().out
    assert said.count("\n- ") + said.startswith("- ") >= 2
    assert "now" in said


# --- as a package ------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The wheel, built from a copy of the sources without the network."""
    import shutil

    folder = tmp_path_factory.mktemp("wheel")
    copy = folder / "source"
    shutil.copytree(ROOT / "src", copy / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        shutil.copy(ROOT / name, copy / name)
    command = [sys.executable, "-m", "pip", "wheel", "-q", "--no-deps", "--no-build-isolation", "--no-index"]
    subprocess.run([*command, "-w", str(folder), str(copy)], check=True, capture_output=True)
    return next(folder.glob("*.whl"))


def test_the_wheel_holds_every_data_file(wheel: Path) -> None:
    """Whatever in src is no module is in the wheel: fonts, icons, demos, catalogue, handbook, schema, template."""
    source = ROOT / "src"
    wanted = {
        str(p.relative_to(source))
        for p in (source / "gravidon").rglob("*")
        if p.is_file() and p.suffix not in (".py", ".pyc")
    }
    held = set(zipfile.ZipFile(wheel).namelist())
    assert len(wanted) > 20
    assert wanted - held == set()


def test_the_wheel_runs_where_nothing_else_of_the_project_is(wheel: Path, tmp_path: Path) -> None:
    """Installed into an environment of its own, from another folder: `gravidon check demo` and a sheet."""
    import numpy

    home = tmp_path / "bare"
    subprocess.run([sys.executable, "-m", "venv", "--without-pip", str(home)], check=True)
    python = home / "bin/python"
    pip = [sys.executable, "-m", "pip", "--python", str(python), "install", "-q", "--no-deps", "--no-index"]
    subprocess.run([*pip, str(wheel)], check=True, capture_output=True)
    site = next((home / "lib").glob("python*/site-packages"))
    (site / "borrowed.pth").write_text(str(Path(numpy.__file__).parent.parent) + "\n", encoding="utf-8")
    run = {
        "cwd": tmp_path,
        "capture_output": True,
        "text": True,
        "env": {"QT_QPA_PLATFORM": "offscreen", "HOME": str(tmp_path)},
    }
    done = subprocess.run([str(home / "bin/gravidon"), "check", "demo"], check=False, **run)  # type: ignore[call-overload]
    assert done.returncode == 1, done.stderr
    assert "hot idle" in done.stdout
    where = subprocess.run(
        [str(python), "-c", "import gravidon; print(gravidon.__file__)"], check=True, **run
    )  # type: ignore[call-overload]
    assert str(home) in where.stdout
    sheet = subprocess.run([str(home / "bin/gravidon"), "sheet", "van", "-o", "van.html"], check=False, **run)  # type: ignore[call-overload]
    assert sheet.returncode == 0, sheet.stderr
    handbook = "from gravidon.handbook import page_text; print(len(page_text('gravity')))"
    assert int(subprocess.run([str(python), "-c", handbook], check=True, **run).stdout) > 500  # type: ignore[call-overload]


def test_the_life_after_the_plan_through_the_door(tmp_path: Path) -> None:
    """A simulated car's recording, a logbook beside a plan, and its health."""
    plan = api.demo("coupe")
    made = api.simulated(plan, "crank 10, idle 10", seed=3, faults=("leak",))
    assert made.seconds == pytest.approx(20.0, abs=0.1)
    assert "inlet_v" in made.channels
    path = tmp_path / "car.gravidon"
    api.save(plan, path)
    assert api.logbook(path) == ()
    from gravidon.records.book import Book, book_path
    from gravidon.records.shipped import demo_log

    book = Book(book_path(path))
    book.add(*demo_log("coupe")[:8])
    book.close()
    entries = api.logbook(path)
    assert len(entries) == 8
    found = api.health(plan, entries)
    assert found is not None
    assert found.mean.shape == (8, 7)
    assert api.health(plan, ()) is None
