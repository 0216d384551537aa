# SPDX-License-Identifier: GPL-3.0-or-later
"""Walk every page in the language of `pseudo.py` and print, as JSON, what is not in it and what is cut: `walk_pseudo.py DEMO`. The test sets language and folders."""

from __future__ import annotations

import json
import os
import re
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from PyQt6.QtWidgets import QAbstractButton, QApplication, QLabel, QWidget

from desk.painted import painted
from gravidon.desk.application import make_application, make_window
from gravidon.desk.canvas import Canvas
from gravidon.desk.stations import STATIONS
from gravidon.desk.voices import Choice, Press, Words
from gravidon.desk.window import MainWindow
from gravidon.parts.catalogue import catalogue
from gravidon.plan.demos import demo_plan

WORD = re.compile(r"[A-Za-z]{3,}")


def outside(text: str) -> str:
    """Return what of a text stands outside the marks."""
    depth, out = 0, []
    for ch in text:
        depth += ch == "«"
        if depth == 0:
            out.append(ch)
        depth -= ch == "»"
    return "".join(out)


def names_in(node: Any) -> Iterator[str]:
    """Yield what the builder named: plan, turbos, taps, conditions, things."""
    if isinstance(node, dict):
        for key, value in node.items():
            if key in ("name", "label", "grade", "note") and isinstance(value, str):
                yield value
            yield from names_in(value)
    elif isinstance(node, list | tuple):
        for value in node:
            yield from names_in(value)


def own_words(window: MainWindow) -> set[str]:
    """Return the words that are the plan's own, or symbols of units and standards."""
    whole = (
        " ".join(names_in(window.session.plan.model_dump()))
        + " "
        + Path(__file__).with_name("symbols.txt").read_text()
    )
    whole += " ".join(
        f"{part.name} {part.material}" for part in catalogue().values()
    )  # goods are called what they are
    return {w.lower() for w in WORD.findall(whole)}


def texts(window: MainWindow) -> list[str]:
    """Return all that is shown as text by widgets in sight, and what they tell."""
    found: list[str] = []
    for w in window.findChildren(QWidget):
        if not w.isVisible() or isinstance(w, (Words, Choice, Press)):
            continue
        if isinstance(w, (QLabel, QAbstractButton)):
            found.append(w.text())
        found += [w.toolTip(), w.accessibleName()]
    return found


def clipped(window: MainWindow) -> set[str]:
    """Return the texts of labels and buttons that do not fit into their places."""
    found = set()
    for w in window.findChildren(QWidget):
        if not w.isVisible() or isinstance(w, (Words, Choice, Press)):
            continue
        if isinstance(w, QLabel) and not w.wordWrap():
            need = w.fontMetrics().boundingRect(w.text().split("\n")[0]).width()
            if w.text() and need > w.contentsRect().width() + 2:
                found.add(f"label {w.text()}")
        elif isinstance(w, QLabel) and w.text() and w.heightForWidth(w.width()) > w.height() + 4:
            found.add(f"lines {w.text()}")
        elif isinstance(w, QAbstractButton) and w.text():
            need = max(w.fontMetrics().boundingRect(line).width() for line in w.text().split("\n"))
            if need > w.width() - 2 and w.heightForWidth(w.width()) < 0:
                found.add(f"button {w.text()}")
    return found


def main(demo: str) -> None:
    """Walk, print."""
    application = make_application()
    window = make_window(demo_plan(demo))
    window.resize(1280, 800)
    window.show()
    known = own_words(window)
    plain: dict[str, list[str]] = {}
    cut: dict[str, list[str]] = {}
    for entry in STATIONS:
        window.go_to(entry.key)
        QApplication.processEvents()
        told = texts(window)
        for widget in (*window.station.findChildren(Canvas), window.rail, window.deck):
            if widget.isVisible() and widget.width() > 5:
                told += [text for text, _ in painted(widget).texts]
        wrong = {t for t in told if any(w.lower() not in known for w in WORD.findall(outside(t)))}
        plain[entry.key] = sorted(wrong)
        cut[entry.key] = sorted(clipped(window))
    print(json.dumps({"plain": plain, "cut": cut}, ensure_ascii=False))
    sys.stdout.flush()
    del application
    os._exit(0)


if __name__ == "__main__":
    main(sys.argv[1])
