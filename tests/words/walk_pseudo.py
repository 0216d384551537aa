# SPDX-License-Identifier: GPL-3.0-or-later
"""Walk every page in the language of `pseudo.py` and print, as JSON, what is not in it and what is cut: `walk_pseudo.py DEMO`. The test sets language and folders."""

from __future__ import annotations

import json
import os
import re
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLabel,
    QListWidget,
    QStackedWidget,
    QTableWidget,
    QWidget,
)

from desk.painted import faults, painted
from gravidon.desk.application import make_application, make_window
from gravidon.desk.canvas import Canvas
from gravidon.desk.commands import CommandSearch, ShortcutSheet
from gravidon.desk.dialogs import ConditionsDialog, WelcomeDialog
from gravidon.desk.first_plan import FirstPlan
from gravidon.desk.form import LimitsDialog
from gravidon.desk.identify_dialog import IdentifyDialog
from gravidon.desk.parts_dialogs import ChainDialog
from gravidon.desk.picture_fields import Fold
from gravidon.desk.screenshots import show_view
from gravidon.desk.stations import STATIONS
from gravidon.desk.stations.drain import DrainStation
from gravidon.desk.there import there
from gravidon.desk.voices import Choice, Press, Words
from gravidon.desk.window import MainWindow
from gravidon.parts.catalogue import catalogue
from gravidon.parts.threads import THREADS
from gravidon.plan.demos import demo_plan
from gravidon.plan.model import Plan

LONG = 24
"""Letters from which on a name is written in lines."""
WORD = re.compile(r"[A-Za-z]{3,}")
LETTERS, PLAIN = re.compile(r"[^\W\d_]{3,}"), set("aeiouncy")
"""Words of any letters; and what the language of marks never leaves as it was, so that a word with it between marks was filled in untranslated."""
TAG = re.compile(r"</?[a-z][^>]*>")
PLAIN_RUN = re.compile(r"[A-Za-z]+(?: [A-Za-z]+){2,}")
DECIMALS = re.compile(r"(?<![\d.x-])\d+\.\d+(?![\d.])")


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


class Own:
    """The names that are the plan's own, goods and threads, which are called what they are; and symbols of units and standards."""

    def __init__(self, plan: Plan) -> None:
        goods = (f"{part.name}|{part.material}|{part.id}".split("|") for part in catalogue().values())
        sizes = {
            s for p in catalogue().values() for e in p.ends for s in (e.size, e.size.replace("two-bolt ", ""))
        }
        self.known: dict[str, bool] = {}
        names = {*names_in(plan.model_dump()), *(w for g in goods for w in g), *THREADS, *sizes}
        short = {n.replace(" flare male", "") for n in names}  # as the chain is labelled
        whole = sorted((n for n in names | short if n.strip()), key=len, reverse=True)
        self.names = re.compile("|".join(rf"(?<!\w){re.escape(n)}(?!\w)" for n in whole), re.IGNORECASE)
        self.long = [n for n in whole if len(n) > LONG]
        self.symbols = {
            w.lower() for w in WORD.findall(Path(__file__).with_name("symbols.txt").read_text("utf-8"))
        }

    def left(self, text: str) -> bool:
        """As `_left`, each text once."""
        if text not in self.known:
            self.known[text] = self._left(text)
        return self.known[text]

    def _left(self, text: str) -> bool:
        """Return whether something of a text is in no language but the sources', or a number written as there."""
        text = TAG.sub(" ", text)
        outer = outside(text).strip()
        if outer and any(outer in name for name in self.long):  # a line of a long name
            return False
        bare = self.names.sub("", text)
        words = WORD.findall(outside(self.names.sub("", outside(text))))
        for run in PLAIN_RUN.findall(bare):  # a line of a long name
            bare = bare.replace(run, "") if any(run in name for name in self.long) else bare
        filled = [w for w in LETTERS.findall(bare) if w.isascii() and set(w.lower()) & PLAIN]
        return (
            any(w.lower() not in self.symbols for w in (*words, *filled)) or DECIMALS.search(bare) is not None
        )


def texts(window: QWidget) -> list[str]:
    """Return all that is shown as text by widgets in sight, and what they tell."""
    found: list[str] = []
    for w in window.findChildren(QWidget):
        if not w.isVisible() or isinstance(w, (Words, Choice, Press)):
            continue
        if isinstance(w, (QLabel, QAbstractButton)):
            found.append(w.text())
        if isinstance(w, QListWidget):
            found += [there(w.item(k)).text() for k in range(w.count())]
        if isinstance(w, QComboBox):
            found += [w.itemText(k) for k in range(w.count())]
        if isinstance(w, QTableWidget):
            for k in range(w.columnCount()):
                head = w.horizontalHeaderItem(k)
                found.append(head.text() if head is not None else "")
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
            told_whole = w.toolTip() == w.text()
            if need > w.width() - 2 and w.heightForWidth(w.width()) < 0 and not told_whole:
                found.add(f"button {w.text()}")
    return found


def dialogs(window: MainWindow) -> Iterator[tuple[str, QWidget]]:
    """Yield what opens over the window, each shown."""
    made = {
        "conditions": lambda: ConditionsDialog(window.session, window),
        "limits": lambda: LimitsDialog(window.session, window, ""),
        "welcome": lambda: WelcomeDialog([]),
        "commands": lambda: CommandSearch(window.book, window),
        "keys": lambda: ShortcutSheet(window.book, window),
        "identify": lambda: IdentifyDialog(window.session, window),
        "chain": lambda: ChainDialog(window.session, window),
        "first plan": lambda: FirstPlan("metric", window),
    }
    for name, make in made.items():
        dialog = make()
        dialog.show()
        QApplication.processEvents()
        yield name, dialog
        for page in dialog.findChildren(QStackedWidget):
            for k in range(1, page.count()):
                page.setCurrentIndex(k)
                QApplication.processEvents()
                yield f"{name} {k}", dialog
        dialog.hide()


def drawn(window: MainWindow) -> list[tuple[str, list[str]]]:
    """Return every text that the page, rail and deck paint, and what is wrong with those of its drawing."""
    found = []
    for widget in (*window.station.findChildren(Canvas), window.rail, window.deck):
        if widget.isVisible() and widget.width() > 5:
            written = painted(widget)
            wrong = faults(widget, written)
            found += [(text, wrong) for text, _ in written.texts]
    return found


ACTS = ("guesses", "attitude", "bench", "trainer", "logbook")
"""Pages that show more once something has been done there, as in the pictures of the views."""


def handled(window: MainWindow, key: str, at_fault: set[str]) -> set[str]:
    """Do on the page in sight what shows more of it: every row of its lists, every fold, every flag, every point; and return what
    is told then, adding what is wrong with it."""
    told: set[str] = set()
    if isinstance(window.station, DrainStation):
        for name in window.station.canvas.picture().handles:
            window.station.select(name)
            QApplication.processEvents()
            told |= set(texts(window))
    if window.session.plan == demo_plan("coupe") and key in ACTS:
        show_view(window, key, "light", "metric", window.session.evaluation.names[0])
        seen = drawn(window)
        told |= {text for text, _ in seen}
        at_fault |= {fault for _, faulty in seen for fault in faulty}
    for fold in window.station.findChildren(Fold):
        if fold.body.isHidden():
            fold.toggle()
    for rows in window.station.findChildren(QListWidget):
        for row in range(min(rows.count(), 40)):
            rows.setCurrentRow(row)
            QApplication.processEvents()
    for flag in list(window.station.flags.flags)[:1]:
        window.station.flags.toggle(flag)
    QApplication.processEvents()
    return told | set(texts(window))


def main(demo: str) -> None:
    """Walk, print."""
    application = make_application()
    window = make_window(demo_plan(demo))
    window.resize(1280, 800)
    window.show()
    own = Own(window.session.plan)
    plain: dict[str, list[str]] = {}
    cut: dict[str, list[str]] = {}
    touching: dict[str, list[str]] = {}
    for entry in STATIONS:
        window.go_to(entry.key)
        QApplication.processEvents()
        told, at_fault = texts(window), set[str]()
        for condition in (0, 6):
            window.session.choose_condition(condition)
            QApplication.processEvents()
            while window.station.busy:
                time.sleep(0.02)  # the worker's turn
                QApplication.processEvents()
            for text, faulty in drawn(window):
                told.append(text)
                at_fault |= set(faulty)
        wrong = {t for t in told if own.left(t)}
        plain[entry.key] = sorted(wrong)
        for _ in range(2):  # what a worker has just told is laid out first
            QApplication.processEvents()
        cut[entry.key] = sorted(clipped(window))
        more = {t for t in handled(window, entry.key, at_fault) if own.left(t)}
        touching[entry.key] = sorted(at_fault)
        plain[f"{entry.key}, handled"] = sorted(more - wrong)
    for name, dialog in dialogs(window):
        told = texts(dialog)
        plain[name] = sorted(t for t in set(told) if own.left(t))
    print(json.dumps({"plain": plain, "cut": cut, "touching": touching}, ensure_ascii=False))
    sys.stdout.flush()
    os._exit(0 if application else 1)


if __name__ == "__main__":
    main(sys.argv[1])
