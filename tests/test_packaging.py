# SPDX-License-Identifier: GPL-3.0-or-later
"""What a desktop reads of the program agrees with the program."""

from __future__ import annotations

import configparser
import json
import os
import shutil
import subprocess
import sys
import xml.etree.ElementTree as ET
from pathlib import Path

import pytest

import gravidon
from gravidon.desk.application import APPLICATION_ID, make_application
from gravidon.plan import storage

SHARE = Path(__file__).parents[1] / "packaging" / "share"
ICON = Path(gravidon.__file__).parent / "draw" / "icons" / "gravidon.svg"


def test_the_desktop_entry_is_the_windows_own() -> None:
    """freedesktop.org, Desktop Entry Specification: the file's name is the application id that the window carries, and what it opens is the plan's type."""
    entry = configparser.ConfigParser(interpolation=None)
    entry.optionxform = str  # type: ignore[assignment,method-assign]
    entry.read(SHARE / "applications" / f"{APPLICATION_ID}.desktop")
    known = entry["Desktop Entry"]
    assert known["Type"] == "Application"
    assert known["Icon"] == known["StartupWMClass"] == APPLICATION_ID
    assert known["Exec"] == "gravidon %f"
    assert known["MimeType"] == "application/x-gravidon;"
    application = make_application()
    assert application.desktopFileName() == APPLICATION_ID
    assert not application.windowIcon().isNull()
    assert not application.windowIcon().pixmap(64, 64).isNull()
    assert ET.parse(ICON).getroot().get("viewBox") == "0 0 64 64"  # noqa: S314  our own file


def test_the_mime_type_knows_a_plans_ending() -> None:
    name = "{http://www.freedesktop.org/standards/shared-mime-info}"
    made = ET.parse(SHARE / "mime" / "packages" / f"{APPLICATION_ID}.xml").getroot()  # noqa: S314  our own file
    assert [g.get("pattern") for g in made.iter(f"{name}glob")] == [f"*{storage.SUFFIX}"]
    assert next(made.iter(f"{name}mime-type")).get("type") == "application/x-gravidon"


def test_the_metainfo_tells_this_version() -> None:
    file = SHARE / "metainfo" / f"{APPLICATION_ID}.metainfo.xml"
    made = ET.parse(file).getroot()  # noqa: S314  our own file
    assert made.findtext("id") == APPLICATION_ID
    assert made.findtext("launchable") == f"{APPLICATION_ID}.desktop"
    releases = made.find("releases")
    assert releases is not None
    assert releases[0].get("version") == gravidon.__version__
    tool = shutil.which("appstreamcli")
    if tool is None:
        pytest.skip("appstreamcli is not on this machine")
    checked = subprocess.run(
        [tool, "validate", "--no-net", str(file)], capture_output=True, text=True, check=False
    )
    assert checked.returncode == 0, checked.stdout


def test_the_bill_of_materials_is_the_lock() -> None:
    """Every line of the lock that pins something is a component with its version and hashes, counted by another way of reading it."""
    root = Path(__file__).parents[1]
    made = subprocess.run(
        [sys.executable, str(root / "tools" / "sbom.py")],
        env={**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)},
        capture_output=True,
        text=True,
        check=True,
        timeout=60,
    )
    told = json.loads(made.stdout)
    pinned = [
        line.split(" ")[0]
        for line in (root / "requirements.lock").read_text().splitlines()
        if "==" in line and line[0] not in " #"
    ]
    assert [f"{c['name']}=={c['version']}" for c in told["components"]] == pinned
    assert all(c["hashes"] for c in told["components"])
    assert told["bomFormat"] == "CycloneDX"
    assert told["metadata"]["component"]["version"] == gravidon.__version__
