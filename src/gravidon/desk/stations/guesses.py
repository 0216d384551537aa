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
from gravidon.study.supply.certainty import Certainty, certainty, measure_first, tornado

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
        tolerance_chart.paint_tornado(Ink(painter, s.colours), left, s.rows)
        if s.answer is not None:
            tolerance_chart.paint_bars(Ink(painter, s.colours), right, s.answer)
        else:
            painter.setPen(s.colours.color("faint"))
            painter.drawText(
                right,
                int(Qt.AlignmentFlag.AlignCenter),
                "Press “Sample the tolerances” to see how sure\neach verdict is.",
            )


class GuessesStation(Station):
    """Which guess to go and measure."""

    key = "guesses"
    question = "How sure are the pressure side's verdicts, and which guess should be measured first?"
    shows_condition = False

    def build(self) -> None:
        """The drawing, the answer in words, progress with cancel."""
        self.answer: Certainty | None = None
        self._plan_of_answer: object = None
        self.job = Job(self)
        self.job.reported.connect(self._report)
        self.job.ended.connect(lambda: self._running(False))
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
        self._preload = Job(self)
        self._preload.start(_import_scipy)

    @property
    def busy(self) -> bool:
        """Whether samples are being taken."""
        return self.job.busy

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
        plan, turbo = self.session.plan, self.session.turbo
        self.job.start(lambda: certainty(plan, turbo, SAMPLES))
        self._running(True)
        self.progress.setValue(0)

    def cancel(self) -> None:
        """Stop sampling after the step at hand."""
        self.job.cancel()

    def _report(self, answer: Certainty) -> None:
        self.answer = answer
        self.progress.setValue(answer.samples)
        self.refresh()

    def leave(self) -> None:
        """The window closes."""
        self._preload.leave()
        self.job.leave()
