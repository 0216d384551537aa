# SPDX-License-Identifier: GPL-3.0-or-later
"""Have the HTML that leaves the program judged by others: the Nu HTML checker and axe, in a browser: `PYTHONPATH=src python tools/check_pages.py`.

Every demo's shop sheet and the handbook, 1280 and 500 px wide: no fault of markup, no violation found by
axe, nothing wider than the window. Needs java, chromium and npm (Debian: default-jre-headless chromium npm); fetches the checkers
into .pages/ once. Returns 1 where something is found.
"""

from __future__ import annotations

import html
import json
import re
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from gravidon import api
from gravidon.plan.demos import NAMES
from gravidon.sheet.handbook_html import handbook_html

KEPT = Path(__file__).resolve().parent.parent / ".pages"
CHECKERS = ("axe-core@4", "vnu-jar@26")
WIDTHS = (1280, 500)
QUIET = (
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
    "--virtual-time-budget=60000",
)
ASK = """
axe.run(document, { resultTypes: ["violations"] }).then(found => {
  const told = document.createElement("pre");
  told.id = "told";
  told.textContent = JSON.stringify({
    wide: document.documentElement.scrollWidth - document.documentElement.clientWidth,
    passes: found.passes.length,
    violations: found.violations.map(v => `${v.id}: ${v.help}: ${v.nodes[0].html.slice(0, 160)}`),
  });
  document.body.append(told);
});
"""


def checkers() -> None:
    """Fetch the checkers unless they are there."""
    if not (KEPT / "node_modules" / "axe-core").exists():
        KEPT.mkdir(exist_ok=True)
        subprocess.run(["npm", "install", "--ignore-scripts", "--prefix", str(KEPT), *CHECKERS], check=True)  # noqa: S603, S607  by hand only


def written(folder: Path) -> list[Path]:
    """Write every page there is; return the files."""
    files = [api.sheet(api.demo(name), folder / f"sheet-{name}.html") for name in NAMES]
    handbook = folder / "handbook.html"
    handbook.write_text(handbook_html(api.trial(api.demo("coupe")).evaluation, 2, "metric"), encoding="utf-8")
    return [*files, handbook]


def markup(files: list[Path]) -> list[str]:
    """Return what the HTML checker finds."""
    jar = next(KEPT.glob("node_modules/vnu-jar/**/vnu.jar"))
    java = shutil.which("java") or "java"
    done = subprocess.run(  # noqa: S603  by hand only
        [java, "-jar", str(jar), "--format", "json", "--exit-zero-always", *map(str, files)],
        capture_output=True,
        text=True,
        check=True,
    )
    found = json.loads(done.stderr or done.stdout)["messages"]
    return [f"{Path(m['url']).name}: {m['message']}" for m in found]


def in_browser(file: Path, width: int) -> dict[str, Any]:
    """Return what axe says of a page at a width [px]."""
    axe = (KEPT / "node_modules/axe-core/axe.min.js").read_text(encoding="utf-8")
    page = file.with_suffix(".asked.html")
    text = file.read_text(encoding="utf-8")
    page.write_text(
        text.replace("</body>", f"<script>{axe}</script><script>{ASK}</script></body>"), encoding="utf-8"
    )
    browser = shutil.which("chromium") or "chromium"
    with tempfile.TemporaryDirectory() as profile:
        size = f"--window-size={width},800"
        done = subprocess.run(  # noqa: S603  by hand only
            [browser, *QUIET, size, f"--user-data-dir={profile}", "--dump-dom", page.as_uri()],
            capture_output=True,
            text=True,
            check=True,
        )
    told = re.search(r'<pre id="told">(.*?)</pre>', done.stdout, re.DOTALL)
    if told is None:
        raise SystemExit(f"{file.name}: axe did not answer")
    answer: dict[str, Any] = json.loads(html.unescape(told[1]))
    return answer


def main() -> int:
    """Write, ask, print."""
    checkers()
    wrong = 0
    with tempfile.TemporaryDirectory() as folder:
        files = written(Path(folder))
        for line in markup(files):
            print(f"markup   {line}")
            wrong += 1
        for file in files:
            for width in WIDTHS:
                found = in_browser(file, width)
                for line in found["violations"]:
                    print(f"axe      {file.name}: {line}")
                if found["wide"] > 0:
                    print(f"too wide {file.name}: {found['wide']} px more than its window of {width} px")
                wrong += len(found["violations"]) + (found["wide"] > 0)
            print(f"looked at {file.name}: {found['passes']} rules passed")
    print(f"{wrong} found in {len(files)} pages")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
