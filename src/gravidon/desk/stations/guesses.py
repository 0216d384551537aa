# SPDX-License-Identifier: GPL-3.0-or-later
"""Guesses: how sure the verdicts are, and what to measure first."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton

from gravidon.desk.canvas import Canvas
from gravidon.desk.job import Job
from gravidon.desk.stations.base import Station
from gravidon.draw import tolerance_chart
from gravidon.draw.ink import Ink
from gravidon.plan.paths import guesses
from gravidon.study.verdict.certainty import SAMPLES, Certainty, Deciders, deciders
from gravidon.study.verdict.chance import chance
from gravidon.words.text import tr, trn


def _import_scipy() -> Iterator[None]:
    """SciPy's statistics take a while to import; better before they are asked for."""
    import scipy.special
    import scipy.stats.qmc  # noqa: F401

    yield None


class GuessCanvas(Canvas):
    """Tornado at the left, certainty at the right."""

    station: GuessesStation

    def paint(self, painter: QPainter) -> None:
        """Draw both halves."""
        area, s = self.area.adjusted(0, 4, 0, -4), self.station
        half = area.width() / 2
        left = QRectF(area.left(), area.top(), half - 12, area.height())
        right = QRectF(area.left() + half + 12, area.top(), half - 12, area.height())
        if s.decided is not None:
            tolerance_chart.paint_tornado(Ink(painter, s.colours), left, s.decided)
        if s.answer is not None:
            tolerance_chart.paint_bars(Ink(painter, s.colours), right, s.answer)
        else:
            painter.setPen(s.colours.color("faint"))
            painter.drawText(
                right,
                int(Qt.AlignmentFlag.AlignCenter),
                tr("Press “Sample the tolerances” to see how sure\neach verdict is."),
            )


class GuessesStation(Station):
    """Which guess to go and measure."""

    key = "guesses"
    question = tr("How sure is the verdict, and which guess should be measured first?")
    shows_condition = False
    per_turbo = False

    def build(self) -> None:
        """The drawing, the answer in words, progress with cancel."""
        self.answer: Certainty | None = None
        self._plan_of_answer: object = None
        self.job = Job(self)
        self.job.reported.connect(self._report)
        self.job.ended.connect(lambda: self._running(False))
        self.decided: Deciders | None = None
        self.deciding = Job(self)
        self.deciding.reported.connect(self._decide)
        self.deciding.ended.connect(self._decided)
        self._waiting = False
        self.canvas = GuessCanvas(self, tr("Certainty of the verdicts and what moves them"))
        self.column.addWidget(self.canvas, 1)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.column.addWidget(self.words)
        bar = QHBoxLayout()
        self.start_button = QPushButton(tr("Sample the tolerances ({samples} times)").format(samples=SAMPLES))
        self.start_button.setProperty("role", "main")
        self.start_button.clicked.connect(self.start)
        self.cancel_button = QPushButton(tr("Cancel"))
        self.cancel_button.clicked.connect(self.cancel)
        self.progress = QProgressBar()
        self.progress.setRange(0, SAMPLES)
        self.progress.setAccessibleName(tr("Samples done"))
        for widget in (self.start_button, self.progress, self.cancel_button):
            bar.addWidget(widget)
        self.column.addLayout(bar)
        self._running(False)
        self._preload = Job(self)
        self._preload.start(_import_scipy)

    @property
    def busy(self) -> bool:
        """Whether samples are being taken, or wait for what decides to be found."""
        return self.job.busy or self._waiting

    def refresh(self) -> None:
        """Redraw; an answer for another plan is dropped."""
        plan = self.session.plan
        if plan != self._plan_of_answer:
            self.cancel()
            self.answer = self.decided = None
            self._plan_of_answer = plan
            self.deciding.start(lambda: deciders(plan))
        text = tr("{count} values are guesses. {first}").format(count=len(guesses(plan)), first=self._first())
        if self.answer is not None:
            holds, watch, fails = self.answer.whole
            text += tr(
                " Of {samples} samples of the whole plan {holds:.0%} pass, {watch:.0%} have warnings, {fails:.0%} fail."
            ).format(samples=self.answer.samples, holds=holds, watch=watch, fails=fails)
        self.words.setText(text)
        self.canvas.setAccessibleDescription(text)
        self.canvas.update()

    def _first(self) -> str:
        d = self.decided
        if d is None or len(d.swings) < d.inputs:
            return tr("Trying each of them: {done} of {count} done.").format(
                done=(len(d.swings) if d else 0), count=(d.inputs if d else "…")
            )
        first = d.first[:4]
        if not first:
            return tr("None of them moves the worst margin.")
        flips = sum(d.flips(s) for s in d.first)
        words = (
            trn(
                "{count} can change the verdict by itself. ",
                "{count} can change the verdict by themselves. ",
                flips,
            )
            if flips
            else ""
        )
        return tr("{words}Measure first: {values}.").format(
            words=words, values=tr(", then ").join(s.item.name for s in first)
        )

    def _decide(self, answer: Deciders) -> None:
        self.decided = answer
        self.refresh()

    def _decided(self) -> None:
        self.refresh()
        if self._waiting:
            self.start()

    def _running(self, on: bool) -> None:
        self.start_button.setEnabled(not on)
        self.cancel_button.setVisible(on)
        self.progress.setVisible(on)

    def start(self) -> None:
        """Sample in a thread; reports carry the request's number so that stale ones are dropped."""
        self._running(True)
        self.progress.setValue(0)
        self._waiting = self.deciding.busy  # one after the other: two at once would take the window's turns
        if not self._waiting:
            plan = self.session.plan
            self.job.start(lambda: chance(plan, SAMPLES))

    def cancel(self) -> None:
        """Stop sampling after the step at hand."""
        if self._waiting:
            self._waiting = False
            self._running(False)
        self.job.cancel()

    def _report(self, answer: Certainty) -> None:
        self.answer = answer
        self.session.take_chance(answer)
        self.progress.setValue(answer.samples)
        self.refresh()

    def leave(self) -> None:
        """The window closes."""
        self._preload.leave()
        self.deciding.leave()
        self.job.leave()
