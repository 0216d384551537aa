"""Guesses: how sure the verdicts are, and what to measure first."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import QRectF, Qt, QThread
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QPushButton

from gravidon.desk.canvas import Canvas
from gravidon.desk.session import Session
from gravidon.desk.stations.base import Station
from gravidon.desk.worker import StepWorker
from gravidon.draw import tolerance_chart
from gravidon.plan.paths import guesses
from gravidon.study.tolerance import Certainty, certainty, measure_first, tornado

SAMPLES = 10_000


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
        tolerance_chart.paint_tornado(painter, left, s.rows, s.colours)
        if s.answer is not None:
            tolerance_chart.paint_bars(painter, right, s.answer, s.colours)
        else:
            painter.setPen(s.colours.color("faint"))
            painter.drawText(
                right,
                int(Qt.AlignmentFlag.AlignCenter),
                "Press “Sample the tolerances” to see how sure\neach verdict is.",
            )


class GuessesStation(Station):
    """Which guess to go and measure."""

    key, name = "guesses", "Guesses"
    question = "How sure are the pressure side's verdicts, and which guess should be measured first?"
    help_page = "guesses"

    def build(self) -> None:
        """The drawing, the answer in words, progress with cancel."""
        self.answer: Certainty | None = None
        self._plan_of_answer: object = None
        self._number = 0
        self._worker: StepWorker | None = None
        self.rows = tornado(self.session.plan, self.session.turbo)
        self.canvas = GuessCanvas(self, "Certainty of the verdicts and what moves them")
        self.column.addWidget(self.canvas, 1)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.column.addWidget(self.words)
        bar = QHBoxLayout()
        self.start_button = QPushButton(f"Sample the tolerances ({SAMPLES:,} times)".replace(",", "\u202f"))
        self.start_button.setProperty("role", "main")
        self.start_button.clicked.connect(self.start)
        self.cancel_button = QPushButton("Cancel")
        self.cancel_button.clicked.connect(self.cancel)
        self.progress = QProgressBar()
        self.progress.setRange(0, SAMPLES)
        self.progress.setAccessibleName("Samples done")
        for widget in (self.start_button, self.progress, self.cancel_button):
            bar.addWidget(widget)
        self.column.addLayout(bar)
        self._running(False)
        self._preload = StepWorker(0, _import_scipy, self)
        self._preload.start(QThread.Priority.LowPriority)

    @property
    def busy(self) -> bool:
        """Whether samples are being taken."""
        return self._worker is not None

    def refresh(self) -> None:
        """Redraw; an answer for another plan is dropped."""
        now = (self.session.plan, self.session.turbo)
        if now != self._plan_of_answer:
            self.cancel()
            self.answer = None
            self._plan_of_answer = now
            self.rows = tornado(*now)
        first = [u.name for u in measure_first(self.rows)][:3]
        count = len(guesses(self.session.plan))
        text = f"{count} values are guesses. " + (
            f"Measure first: {', then '.join(first)}." if first else "None of them moves the worst margin."
        )
        if self.answer is not None:
            text += f" All conditions hold in {self.answer.plan_holds:.0%} of {self.answer.samples} samples (pressure side only)."
        self.words.setText(text)
        self.canvas.setAccessibleDescription(text)
        self.canvas.update()

    def _running(self, on: bool) -> None:
        self.start_button.setEnabled(not on)
        self.cancel_button.setVisible(on)
        self.progress.setVisible(on)

    def start(self) -> None:
        """Sample in a thread; reports carry the request's number so that stale ones are dropped."""
        self.cancel()
        self._number += 1
        plan, turbo = self.session.plan, self.session.turbo
        self._worker = StepWorker(self._number, lambda: certainty(plan, turbo, SAMPLES), self)
        self._worker.reported.connect(self._report)
        self._worker.ended.connect(self._end)
        self._running(True)
        self.progress.setValue(0)
        self._worker.start()

    def cancel(self) -> None:
        """Stop sampling and wait for the step at hand."""
        if self._worker is not None:
            self._worker.cancel()
            self._worker.wait()
            self._worker.deleteLater()
            self._worker = None
        self._running(False)

    def _report(self, number: int, answer: object) -> None:
        if number == self._number and self._worker is not None and isinstance(answer, Certainty):
            self.answer = answer
            self.progress.setValue(answer.samples)
            self.refresh()

    def _end(self, number: int) -> None:
        if number == self._number and self._worker is not None:
            self._worker.wait()
            self._worker.deleteLater()
            self._worker = None
            self._running(False)

    def leave(self) -> None:
        """The window closes."""
        self._preload.wait()
        self.cancel()

    @classmethod
    def headline(cls, session: Session) -> str:
        """How many guesses."""
        return f"{len(session.evaluation.guesses)} not measured"
