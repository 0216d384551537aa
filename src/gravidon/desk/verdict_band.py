# SPDX-License-Identifier: GPL-3.0-or-later
"""The verdict over the page: the largest thing in sight, what is worst, and the one next thing to do."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QToolButton, QVBoxLayout, QWidget

from gravidon.desk.findings_pane import DropLabel, RemedyButton
from gravidon.desk.job import Job
from gravidon.desk.session import Session
from gravidon.desk.there import emptied, restyle
from gravidon.study.verdict.report import counted, verdict_words
from gravidon.study.verdict.walk import Walked, walk
from gravidon.words.text import tr

NEXT_WIDTH, NEXT_HEIGHT = 390, 62


class VerdictBand(QFrame):
    """Tells the verdict and offers the next thing: the worst finding's best remedy, or where to look."""

    looked_at = pyqtSignal(object)
    list_asked = pyqtSignal()
    went = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("verdict")
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 2, 14, 6)
        row.setSpacing(14)
        self.drop = DropLabel(session, "holds", 34)
        row.addWidget(self.drop, 0, Qt.AlignmentFlag.AlignTop)
        words = QVBoxLayout()
        words.setSpacing(2)
        self.sentence = QLabel()
        self.sentence.setProperty("role", "verdict")
        self.sentence.setWordWrap(True)
        self.sentence.setMinimumWidth(120)
        self.detail = QLabel()
        self.detail.setWordWrap(True)
        self.detail.setTextFormat(Qt.TextFormat.PlainText)
        self.rests = QLabel()
        self.rests.setProperty("role", "faint")
        self.rests.setWordWrap(True)
        for label in (self.sentence, self.detail, self.rests):
            words.addWidget(label)
        words.addStretch(1)
        row.addLayout(words, 1)
        side = QVBoxLayout()
        side.setSpacing(2)
        self.next_words = QLabel()
        self.next_words.setProperty("role", "faint")
        self.count = QToolButton()
        self.count.setProperty("link", True)
        self.count.setCursor(Qt.CursorShape.PointingHandCursor)
        self.count.clicked.connect(lambda _=False: self.list_asked.emit())
        top = QHBoxLayout()
        top.addWidget(self.next_words)
        top.addStretch(1)
        self._add_all(top)
        top.addWidget(self.count)
        side.addLayout(top)
        held = QWidget()  # room for what helps is kept, so that the page does not move when it is found
        held.setMinimumHeight(NEXT_HEIGHT)
        self.next = QHBoxLayout(held)
        self.next.setContentsMargins(0, 0, 0, 0)
        self.next.setAlignment(Qt.AlignmentFlag.AlignTop)
        side.addWidget(held)
        side.addStretch(1)
        row.addLayout(side)
        self._shown: object = None
        self.told = ""
        """What a screen reader is told: the verdict without its chance, which moves."""
        session.remedies_changed.connect(self.refresh)
        session.chance_changed.connect(self.refresh)

    def _add_all(self, top: QHBoxLayout) -> None:
        """The way to do all that helps at once, in a worker."""
        self.all = QToolButton()
        self.all.setProperty("link", True)
        self.all.setText(tr("Do all"))
        self.all.setCursor(Qt.CursorShape.PointingHandCursor)
        self.all.setToolTip(
            tr(
                "Do all that helps: one remedy after the other until nothing more is gained; one undo takes all of it back (Ctrl+Shift+Return)"
            )
        )
        self.all.clicked.connect(lambda _=False: self.do_all())
        self.all.hide()
        top.addWidget(self.all)
        self.walking = Job(self)
        self.walking.reported.connect(self._walked)
        self.walking.failed.connect(self.session.refused)
        self.walking.ended.connect(self._show_all)

    def refresh(self) -> None:
        """Show the session's verdict."""
        s = self.session
        said = verdict_words(s.evaluation, s.findings, s.family, s.chance)
        if self.property("verdict") != said.word:
            self.setProperty("verdict", said.word)
            restyle(self)
        self.drop.show_verdict(said.word)
        self.sentence.setText(said.headline)
        self.detail.setText(said.detail)
        self.told = f"{said.headline}. {said.detail}"
        self.rests.setText(said.rests)
        self.count.setText(tr("{counts} (F9)").format(counts=counted(s.findings) or tr("no findings")))
        self._show_next()

    def do_all(self) -> None:
        """Take one remedy after the other until nothing more is gained, in a worker; the plan is changed at the end, in one step."""
        if self.walking.busy:
            self.walking.cancel()
        else:
            self._from = self.session.plan
            self.walking.start(partial(walk, self.session.plan))
        self._show_all()

    def _walked(self, so_far: Walked) -> None:
        s = self.session
        if s.plan is not self._from:  # somebody went on by hand
            self.walking.cancel()
            return
        if not so_far.final:
            return
        if not so_far.done:
            s.told.emit(tr("No change of the plan alone helps."))
            return
        steps = "; ".join(r.said.text(s.family) for r in so_far.done)
        if s.propose(so_far.plan, tr("all that helps: {steps}").format(steps=steps)):
            s.told.emit(tr("Done: {steps}. One undo takes all of it back.").format(steps=steps))

    def _show_all(self) -> None:
        graves = sum(f.severity != "note" for f in self.session.findings)
        self.all.setVisible(graves > 1 or self.walking.busy)
        self.all.setText(tr("Stop") if self.walking.busy else tr("Do all"))

    def leave(self) -> None:
        """The window closes."""
        self.walking.leave()

    def _show_next(self) -> None:
        self._show_all()
        s = self.session
        finding, remedy = s.next_step()
        now = (finding and finding.key, remedy, s.family, s.theme, remedy is not None or s.remedies_done)
        if now == self._shown:
            return
        self._shown = now
        emptied(self.next, 0)
        if finding is None:
            self.next_words.setText(tr("Next:"))
            for words, key in ((tr("Measure what is a guess"), "guesses"), (tr("Order the parts"), "parts")):
                go = QToolButton()
                go.setText(words)
                go.clicked.connect(lambda _=False, to=key: self.went.emit(to))
                self.next.addWidget(go)
            return
        if remedy is not None:
            self.next_words.setText(tr("Next (Ctrl+Return):"))
            button = RemedyButton(s, remedy)
            button.setFixedWidth(NEXT_WIDTH)
            self.next.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
            return
        self.next_words.setText(
            tr("Next: trying what helps …")
            if not s.remedies_done
            else tr("Next (Ctrl+Return): no change of the plan alone helps; look at it")
        )
        go = QToolButton()
        go.setText(tr("Look at it: {title}").format(title=finding.title))
        go.clicked.connect(lambda _=False: self.looked_at.emit(finding))
        self.next.addWidget(go)
