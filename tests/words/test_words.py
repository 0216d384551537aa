# SPDX-License-Identifier: GPL-3.0-or-later
"""Every sentence can be translated: walked in a language of marks; nothing is left as it was, nothing cut at 40 per cent more."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from desk.painted import painted
from gravidon.desk.stations import STATIONS
from gravidon.desk.window import MainWindow
from words.pseudo import HOLE, marked, pseudo, write

HERE = Path(__file__).parent
ROOT = HERE.parent.parent


@pytest.fixture(scope="module")
def catalogues(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder: Path = tmp_path_factory.mktemp("locales")
    assert write(folder) > 2000
    return folder


def environment(catalogues: Path, tmp_path: Path) -> dict[str, str]:
    homes = {f"XDG_{n}_HOME": str(tmp_path / n) for n in ("CONFIG", "STATE", "DATA")}
    return (
        os.environ
        | homes
        | {
            "LANGUAGE": "eo",
            "LANG": "C.UTF-8",
            "GRAVIDON_LOCALES": str(catalogues),
            "QT_QPA_PLATFORM": "offscreen",
            "PYTHONPATH": f"{ROOT / 'src'}:{ROOT / 'tests'}",
        }
    )


@pytest.mark.parametrize("demo", ["coupe", "van"])
def test_nothing_is_left_untranslated_or_cut(catalogues: Path, tmp_path: Path, demo: str) -> None:
    done = subprocess.run(
        [sys.executable, str(HERE / "walk_pseudo.py"), demo],
        env=environment(catalogues, tmp_path),
        capture_output=True,
        text=True,
        check=False,
    )
    told = json.loads(done.stdout.splitlines()[-1])
    assert {k: v for k, v in told["plain"].items() if v} == {}
    assert {k: v for k, v in told["cut"].items() if v} == {}
    assert {k: v for k, v in told["touching"].items() if v} == {}


@pytest.mark.parametrize("demo", ["coupe", "van", "special"])
def test_nothing_is_left_untranslated_on_paper(catalogues: Path, tmp_path: Path, demo: str) -> None:
    """Shop sheet as PDF and HTML, what is written round the handbook's pages, the words in DXF; each says its language."""
    done = subprocess.run(
        [sys.executable, str(HERE / "paper_pseudo.py"), demo, str(tmp_path)],
        env=environment(catalogues, tmp_path),
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr[-2000:]
    told = json.loads(done.stdout.splitlines()[-1])
    assert {k: v for k, v in told["left"].items() if v} == {}
    assert told["crowded"] == []
    assert told["count"]["sheet in PDF"] > 400
    assert told["language"] == ["eo", "eo"]


@pytest.mark.parametrize(("folder", "said"), [("eo", "eo"), ("pt_BR", "pt-BR")])
def test_a_catalogue_brings_its_own_handbook(tmp_path: Path, folder: str, said: str) -> None:
    """A page beside the catalogue is shown, a page that is not there as it ships; papers say the language as RFC 5646 writes it."""
    write(tmp_path)
    (tmp_path / "eo").rename(tmp_path / folder)
    (tmp_path / folder / "handbook").mkdir()
    (tmp_path / folder / "handbook" / "seat.md").write_text("# Sidloko\n", encoding="utf-8")
    done = subprocess.run(
        [
            sys.executable,
            "-c",
            "from gravidon.handbook import page_text as p; from gravidon.translate import language\n"
            "print(language()); print(p('seat').strip()); print(p('car')[:2])",
        ],
        env=environment(tmp_path, tmp_path) | {"LANGUAGE": folder},
        capture_output=True,
        text=True,
        check=True,
    )
    assert done.stdout.splitlines() == [said, "# Sidloko", "# "]


def test_the_command_line_speaks_it_too(catalogues: Path, tmp_path: Path) -> None:
    """The verdict comes in the language; keys of the JSON and exit status do not change."""
    done = subprocess.run(
        [sys.executable, "-m", "gravidon", "check", "demo", "--json"],
        env=environment(catalogues, tmp_path),
        capture_output=True,
        text=True,
        check=False,
    )
    report = json.loads(done.stdout)
    assert done.returncode == 1
    assert report["verdict"] == "fails"
    assert all("«" in str(f) for f in report["findings"])


COMMANDS = (
    "check",
    "plan",
    "replay",
    "simulate",
    "logger",
    "log",
    "diagnose",
    "calc",
    "sheet",
    "dxf",
    "handbook",
    "demo",
)


@pytest.mark.parametrize("command", ["", *COMMANDS])
def test_the_help_speaks_it_too(catalogues: Path, tmp_path: Path, command: str) -> None:
    """Every line of help that says something carries marks; what is typed stays as it is typed."""
    done = subprocess.run(
        [sys.executable, "-m", "gravidon", *command.split(), "--help"],
        env=environment(catalogues, tmp_path) | {"COLUMNS": "4000"},
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0
    lines = done.stdout.splitlines()
    assert lines[0].startswith("«úságé:")
    told = [re.split(r"\s{2,}", line.strip(), maxsplit=1) for line in lines[1:] if line.startswith("  ")]
    assert [row for row in told if len(row) > 1 and "«" not in row[1] and "gravidon " not in row[0]] == []
    headings = [line for line in lines[1:] if line.endswith(":") and not line.startswith(" ")]
    assert headings
    assert all(line.startswith("«") for line in headings)


def test_holes_are_the_same_in_every_text() -> None:
    """A translation keeps what is filled in; here by the rule that makes the language of marks."""
    for message in marked():
        for text in message.id if isinstance(message.id, tuple) else (message.id,):
            assert sorted(HOLE.findall(pseudo(text))) == sorted(HOLE.findall(text))


def test_right_to_left_the_figures_stay_readable(window: MainWindow) -> None:
    """Widgets mirror; in drawings, rail and deck a figure still stands before its unit."""
    QApplication.setLayoutDirection(Qt.LayoutDirection.RightToLeft)
    try:
        for entry in STATIONS[:12]:
            window.go_to(entry.key)
            QApplication.processEvents()
        assert window.head.layoutDirection() == Qt.LayoutDirection.RightToLeft
        for widget in (window.rail, window.deck):
            assert widget.layoutDirection() == Qt.LayoutDirection.LeftToRight
        said = " ".join(text for text, _ in painted(window.deck).texts)
        assert re.search(r"\d\s*(bar|kPa|°C|mm)", said)
    finally:
        QApplication.setLayoutDirection(Qt.LayoutDirection.LeftToRight)


TYPES = """
from gravidon.desk.application import make_application, make_window
from gravidon.desk.value_field import ValueField
from gravidon.plan.demos import demo_plan
from gravidon.translate import tr
application = make_application()
window = make_window(demo_plan("coupe"))
field = ValueField(window.session, "line.turbo.drain_flange.y_mm")
for typed in (f"120 mm {tr('left')}", "130 mm right"):
    field.setText(typed)
    field.setModified(True)
    field._commit()
    print(window.session.line.turbo.drain_flange.y_mm, field.text().replace(chr(0x202F), " "))
import os, sys
sys.stdout.flush()
os._exit(0)
"""


def test_a_place_is_told_and_typed_in_the_language(catalogues: Path, tmp_path: Path) -> None:
    """The side of a place is shown in the language and can be typed in it; English is understood too."""
    done = subprocess.run(
        [sys.executable, "-c", TYPES],
        env=environment(catalogues, tmp_path),
        capture_output=True,
        text=True,
        check=True,
    )
    first, second = done.stdout.splitlines()[-2:]
    assert first.startswith("120.0 ")
    assert first.endswith(pseudo("left"))
    assert second.startswith("-130.0 ")
    assert second.endswith(pseudo("right"))


def test_findings_and_remedies_are_said_whole_in_the_language(catalogues: Path, tmp_path: Path) -> None:
    """Sixteen plans in which much is wrong: every finding, reason, remedy and step; what is filled in is translated too."""
    done = subprocess.run(
        [sys.executable, str(HERE / "findings_pseudo.py")],
        env=environment(catalogues, tmp_path),
        capture_output=True,
        text=True,
        check=True,
    )
    told = json.loads(done.stdout.splitlines()[-1])
    assert len(told) > 12
    assert {k: v for k, v in told.items() if v} == {}
