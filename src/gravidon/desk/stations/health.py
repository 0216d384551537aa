# SPDX-License-Identifier: GPL-3.0-or-later
"""The health of the feed, fitted over the logbook: what closes, wears and drifts, where it goes, and what the plan can learn from it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import partial

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from gravidon.desk.canvas import Canvas
from gravidon.desk.job import Job
from gravidon.desk.stations.base import Station, section
from gravidon.desk.there import emptied
from gravidon.draw import health_chart
from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.records.entry import Entry
from gravidon.study.health.fit import Health, health
from gravidon.study.health.learnt import Offer, offers
from gravidon.study.health.outlook import NAMES, TELLING, Outlook, Unclear, outlook, said, unclear
from gravidon.translate import commas
from gravidon.words.text import fill, tr, verdict_said


@dataclass(frozen=True)
class Answer:
    """Health, outlook, what is unclear and what the plan can be told; health is None where the logbook has no reading."""

    health: Health | None
    outlook: Outlook | None = None
    unclear: tuple[Unclear, ...] = ()
    offers: tuple[Offer, ...] = ()
    problem: str = ""


def answered(plan: Plan, entries: tuple[Entry, ...], turbo: int) -> Iterator[Answer]:
    """Yield the answer in steps: the health first, then what follows from it."""
    known = Answer(None)
    try:
        found = health(plan, entries, turbo)
        if found is None:
            yield known
            return
        where = outlook(found)
        yield (known := Answer(found, where))
        open_still = unclear(found)
        yield (known := Answer(found, where, open_still))
        yield Answer(found, where, open_still, offers(plan, entries, found, turbo))
    except (
        GravidonError
    ) as error:  # a plan so odd that nothing can be computed of it: said, with what is known
        yield replace(known, problem=str(error))


class HealthCanvas(Canvas):
    """The feed along the road."""

    station: HealthStation
    looked_at: int | None = None

    def paint(self, painter: QPainter) -> None:
        """Draw it, or say what could be here."""
        made = self.station.answer
        if made is None or made.health is None or made.outlook is None:
            words = (
                tr("Working it out …")
                if made is None
                else tr(
                    "No pressure in the logbook yet. A hot idle, a reading at speed and a cold idle, once a week, are enough\nto see a screen close months before it starves the bearing."
                )
            )
            self.say(painter, words)
            return
        health_chart.paint(self.ink(painter), self.area, made.health, made.outlook, self.looked_at)

    def hovered(self, at: QPointF | None) -> None:
        """Read an entry under the mouse."""
        made = self.station.answer
        cursor = None
        if at is not None and made is not None and made.health is not None and made.outlook is not None:
            cursor = health_chart.entry_at(self.area, made.health, made.outlook, at)
        if cursor != self.looked_at:
            self.looked_at = cursor
            self.station.tell()
            self.update()


class HealthStation(Station):
    """See what closes before it starves."""

    key = "health"
    question = tr(
        "Is anything closing, wearing or drifting, and how long does it last? Fitted over all entries, with how sure it is."
    )
    shows_condition = False
    flagged = False

    def build(self) -> None:
        """The picture, the sentence, what is unclear, what the plan can learn."""
        self.answer: Answer | None = None
        self._of: object = None
        self.job = Job(self)
        self.job.reported.connect(self._report)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setProperty("role", "section")
        self.words.setAccessibleName(tr("What the logbook says"))
        self.column.addWidget(self.words)
        self.canvas = HealthCanvas(self, tr("Health of the feed along the road"), (380, 350))
        self.column.addWidget(self.canvas, 1)
        self.told = QLabel()
        self.told.setWordWrap(True)
        self.told.setMinimumHeight(20)
        self.told.setAccessibleName(tr("What is not clear yet"))
        self.column.addWidget(self.told)
        self.learnt = QWidget()
        column = QVBoxLayout(self.learnt)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(section(tr("The plan can learn from it")))
        self.rows = QVBoxLayout()
        self.rows.setSpacing(2)
        column.addLayout(self.rows)
        self.column.addWidget(self.learnt)
        self.learnt.hide()
        self.session.log.changed.connect(self._log_changed)

    @property
    def busy(self) -> bool:
        """Whether it is still being worked out."""
        return self.job.busy

    def _log_changed(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Work it out anew where plan, turbo or logbook are others."""
        of = (self.session.plan, self.session.turbo, self.session.log.entries)
        if of != self._of:
            self._of = of
            self.answer = None
            plan, turbo, entries = of
            self.job.start(lambda: answered(plan, entries, turbo))
        self.tell()
        self.canvas.update()

    def _report(self, answer: Answer) -> None:
        self.answer = answer
        closes = answer.outlook is not None and answer.outlook.closing
        if closes != self.session.closes:
            self.session.closes = closes
            self.session.headline_changed.emit()
        self.tell()
        self._show_offers()
        self.canvas.update()

    def tell(self) -> None:
        """Say what the picture shows."""
        made, family = self.answer, self.session.family
        if made is None or made.health is None or made.outlook is None:
            self.words.setText("")
            self.told.setText(made.problem if made is not None else "")
            self.learnt.hide()
            return
        self.words.setText(said(made.health, made.outlook).text(family))
        self.canvas.setAccessibleDescription(self.words.text())
        cursor = self.canvas.looked_at
        if cursor is not None:
            self.told.setText(health_chart.words_at(made.health, made.outlook, cursor, family))
            return
        parts = [self._unclear_words(u) for u in made.unclear]
        if made.health.odd:
            days = commas([made.health.entries[k].day[:10] for k in made.health.odd[:3]])
            parts.append(
                tr(
                    "A reading of {days} fits nothing else: typed wrong, or taken otherwise? It counts little."
                ).format(days=days)
            )
        self.told.setText(" ".join(parts) or tr("Point at an entry to read it."))

    @staticmethod
    def _unclear_words(u: Unclear) -> str:
        if u.other is None:
            return tr(
                "{capitalize} cannot be told from pressures: catch its flow in a measure for a minute, engine idling."
            ).format(capitalize=tr(NAMES[u.part]).capitalize())
        telling = tr(dict(TELLING).get(u.telling, ""))
        more = tr(" {telling} would tell.").format(telling=telling.capitalize()) if telling else ""
        return tr("{capitalize} and {tr} cannot be told apart yet.{more}").format(
            capitalize=tr(NAMES[u.part]).capitalize(), tr=tr(NAMES[u.other]), more=more
        )

    def _show_offers(self) -> None:
        made = self.answer
        found = made.offers if made is not None else ()
        emptied(self.rows)
        for offer in found:
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            words = QLabel(offer.said.text(self.session.family))
            words.setWordWrap(True)
            verdict = QLabel(
                tr("plan: {before}, then {after}").format(
                    before=verdict_said(offer.before), after=verdict_said(offer.after)
                )
                if offer.before != offer.after
                else tr("plan: {after}, as before").format(after=verdict_said(offer.after))
            )
            verdict.setProperty("role", "faint")
            take = QPushButton(tr("Take it"))
            take.setAccessibleName(tr("Take it: {words}").format(words=words.text()))
            take.clicked.connect(partial(self.take, offer))
            row.addWidget(words, 3)
            row.addWidget(verdict, 2)
            row.addWidget(take)
            self.rows.addWidget(line)
        self.learnt.setVisible(bool(found))

    def take(self, offer: Offer, _clicked: bool = False) -> None:
        """Let the plan learn one thing; it counts as measured from then on."""
        self.session.propose(offer.plan, fill(offer.said.template, offer.said.numbers, self.session.family))

    def leave(self) -> None:
        """The window closes."""
        self.job.leave()
