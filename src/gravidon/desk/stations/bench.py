"""The first start, live: what to do next in big words, the readings against what the plan predicts for now, and the call to stop."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
)

from gravidon.desk.alarm import Alarm
from gravidon.desk.canvas import Canvas
from gravidon.desk.job import Job
from gravidon.desk.log_dialog import recording_of
from gravidon.desk.stations.base import Station
from gravidon.desk.there import there
from gravidon.draw import bench_strips, call_board
from gravidon.draw.bench_strips import FRONT_PX, Front, Strip
from gravidon.draw.call_board import Rung
from gravidon.errors import GravidonError
from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.records.lines import Row
from gravidon.records.link import BAUD_RATES, serial_ports
from gravidon.records.recording import SUFFIX, Recording, save
from gravidon.records.ring import Ring
from gravidon.records.shipped import RECORDINGS, demo_recording
from gravidon.study.bench.expected import Expected, channels_of, expected
from gravidon.study.bench.first_start import KEYS, STEPS, FirstStart, Sample
from gravidon.study.car.senses import timed_lines
from gravidon.study.solve.senders import converted, converted_recording, unplaced
from gravidon.words.text import fill, tr

SIGHT_S, LEAST_SPAN_S = 600.0, 60.0
"""[s] of the run in sight at most, and that the axis spans at least."""
MOST_ROWS = 30000
"""Rows of ten minutes at fifty a second."""
CAR = "a simulated car"
FAULTY_CAR = "a simulated car that must be stopped"
FILE = "a recording …"
SHIPPED = {words: key for key, words in RECORDINGS.items()}
SCRIPTED = {CAR: (), FAULTY_CAR: ("weak-pump=0.95@70+4",)}
"""Faults of the simulated cars that are offered."""
CAR_SEED = 1
STRIP_PX = 46
"""[px] a strip needs to be read."""
BUILT_IN = "/ttyS"


def _bands(plan: Plan) -> Iterator[Expected | str]:
    """Yield the bands as they become better; in words why there are none, for a plan so odd that they cannot be computed."""
    try:
        yield from expected(plan)
    except GravidonError as error:
        yield f"No band: {error}"


class CallCanvas(Canvas):
    """The call."""

    station: BenchStation

    def paint(self, painter: QPainter) -> None:
        """Draw it."""
        kind, title, words = self.station.call_words()
        call_board.paint_call(self.ink(painter), self.area, kind, title, words)


class LadderCanvas(Canvas):
    """The steps."""

    station: BenchStation

    def paint(self, painter: QPainter) -> None:
        """Draw them."""
        run = self.station.run
        call_board.paint_ladder(self.ink(painter), self.area, self.station.rungs(), run.share())

    def clicked(self, at: QPointF) -> None:
        """A click on the step at hand ticks it."""
        here = call_board.rung_place(self.area, len(STEPS), self.station.run.at)
        if here.contains(at):
            self.station.tick()


class StripsCanvas(Canvas):
    """The readings over time, and the oil on its way."""

    station: BenchStation

    def paint(self, painter: QPainter) -> None:
        """Draw the oil's front while it is waited for, then the strips."""
        ink, area = self.ink(painter), self.area
        fronts = self.station.fronts()
        if fronts:
            high = FRONT_PX * len(fronts)
            bench_strips.paint_fronts(ink, QRectF(area.left(), area.top(), area.width(), high), fronts)
            area = area.adjusted(0, high + 2, 0, 0)
        start, span = self.station.in_sight()
        bench_strips.paint(ink, area, self.station.strips(), start, span)
        if self.station.run.stop is not None:
            painter.setPen(ink.palette.pen("bad", 6.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.area.adjusted(3, 3, -3, -3))


class BenchStation(Station):
    """Go with the engine's first minutes."""

    key = "bench"
    question = "What comes next, and is the pressure where the plan expects it now? Each step is passed by what is measured, or by your tick."
    shows_condition = False
    per_turbo = False
    flagged = False

    def build(self) -> None:
        """The call above; steps at the left, readings at the right; the device below."""
        self.bands: Expected | None = None
        self._plan_of_bands: object = None
        self.job = Job(self)
        self.job.reported.connect(self._bands_known)
        self.alarm = Alarm(self)
        self.run = self._fresh()
        self.ring = Ring(("rpm", "oil", *channels_of(self.session.plan)), MOST_ROWS)
        self._told_stop = False
        self._told_at = (0, False)
        self.canvas = StripsCanvas(self, "Readings against what the plan predicts now", (420, 220))
        self.call = CallCanvas(self, "What to do now", (380, 104))
        self.call.setFixedHeight(112)
        self.call.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.column.addWidget(self.call)
        self.column.addLayout(self._buttons())
        halves = QHBoxLayout()
        self.ladder = LadderCanvas(self, "Steps of the first start", (216, 220))
        self.ladder.setMaximumWidth(250)
        halves.addWidget(self.ladder, 1)
        halves.addWidget(self.canvas, 4)
        self.column.addLayout(halves, 1)
        self.column.addLayout(self._device())
        live = self.session.live
        live.came.connect(self.came)
        live.changed.connect(self._link_changed)
        self.session.changed.connect(self._plan_may_have_changed)
        self._link_changed()

    def _fresh(self) -> FirstStart:
        made = FirstStart(self.session.plan, self.bands)
        self.session.first_start = made
        return made

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.tick_button = QPushButton("Tick: done")
        self.tick_button.setProperty("role", "main")
        self.tick_button.clicked.connect(lambda _=False: self.tick())
        self.on_button = QPushButton("Seen to: go on")
        self.on_button.clicked.connect(lambda _=False: self.go_on())
        self.anew_button = QPushButton("Begin anew")
        self.anew_button.clicked.connect(lambda _=False: self.begin_anew())
        self.sound = QCheckBox("Sound the stop")
        self.sound.setChecked(True)
        self.sound.toggled.connect(self._sound_toggled)
        self.told = QLabel()
        self.told.setProperty("role", "faint")
        for widget in (self.tick_button, self.on_button, self.anew_button, self.sound):
            row.addWidget(widget)
        row.addWidget(self.told)
        row.addStretch(1)
        return row

    def _device(self) -> QHBoxLayout:
        row = QHBoxLayout()
        label = QLabel("Read")
        self.source = QComboBox()
        self.source.setEditable(True)
        self.source.setAccessibleName("Device that is read")
        there(self.source.lineEdit()).setAccessibleName("Device that is read")
        self.source.setMinimumWidth(240)
        self.source.setStyleSheet("QComboBox { min-height: 26px; }")
        self.source.setToolTip("A serial port's name, a simulated car, or a recording")
        label.setBuddy(self.source)
        self.baud = QComboBox()
        self.baud.addItems([str(b) for b in BAUD_RATES])
        self.baud.setCurrentText("115200")
        self.baud.setAccessibleName("Baud rate")
        self.baud_label = QLabel("baud")
        self.start_button = QPushButton("Connect")
        self.start_button.clicked.connect(lambda _=False: self.connect_or_stop())
        self.status = QLabel()
        self.status.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.status.setAccessibleName("State of the device")
        self.keep_button = QPushButton("Keep the recording …")
        self.keep_button.clicked.connect(lambda _=False: self.keep())
        for widget in (label, self.source, self.baud, self.baud_label, self.start_button):
            row.addWidget(widget)
        row.addWidget(self.status, 1)
        row.addWidget(self.keep_button)
        self.source.currentTextChanged.connect(lambda _: self._source_chosen())
        self._offer_sources()
        return row

    def _offer_sources(self) -> None:
        chosen = self.source.currentText()
        # a port built into the board is there on every machine; what is plugged in comes first
        ports = sorted((port for port, _ in serial_ports()), key=lambda p: (BUILT_IN in p, p))
        plugged = [p for p in ports if BUILT_IN not in p]
        self.source.blockSignals(True)
        self.source.clear()
        self.source.addItems([*ports, CAR, FAULTY_CAR, *SHIPPED, FILE])
        self.source.setCurrentText(chosen or (plugged[0] if plugged else CAR))
        self.source.blockSignals(False)
        self._source_chosen()

    def _source_chosen(self) -> None:
        port = self.source.currentText() not in (CAR, FAULTY_CAR, FILE, *SHIPPED)
        for widget in (self.baud, self.baud_label):
            widget.setVisible(port)

    # --- the device ---------------------------------------------------------------------------

    def connect_or_stop(self) -> None:
        """Read the chosen device, or let it go."""
        live = self.session.live
        if live.reading:
            live.stop()
            return
        what = self.source.currentText().strip()
        if what == FILE:
            self._play_file()
        elif what in SHIPPED:
            self._cleared()
            live.play(timed_lines(demo_recording(SHIPPED[what])), f"Playing {what}")
        elif what in SCRIPTED:
            self._play_car(SCRIPTED[what])
        elif what:
            self._cleared()
            live.connect_to(what, int(self.baud.currentText()))
        else:
            self.session.refused.emit(
                "Device: nothing is chosen; expected a serial port, a simulated car or a recording"
            )

    def _play_car(self, faults: tuple[str, ...]) -> None:
        from gravidon.study.car.car import Scenario, simulate
        from gravidon.study.car.faults import faulty_from
        from gravidon.study.car.script import script_from
        from gravidon.study.car.senses import plain_senders, sensed

        plan = self.session.plan
        scenario = Scenario(
            plan, script_from("first-start", plan), CAR_SEED, tuple(faulty_from(f) for f in faults)
        )
        made = sensed(simulate(scenario))
        if not plan.senders:  # a car whose senders nobody described sends pressures
            made = converted_recording(plan.model_copy(update={"senders": plain_senders(plan)}), made)
        self._cleared()
        self.session.live.play(timed_lines(made), "The simulated car stands, engine off")

    def _play_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "Play a recording", "", "Recordings (*.csv *.csv.gz *.gz)"
        )
        if name:
            self.play_file(Path(name))

    def play_file(self, path: Path) -> None:
        """Play a recording: in the line format, or any CSV through its columns."""
        try:
            made = recording_of(path, self)
        except GravidonError as error:
            self.session.refused.emit(str(error))
            return
        if made is None:
            return
        self._cleared()
        self.session.live.play(timed_lines(made), f"{path.name} is played")

    def _cleared(self) -> None:
        self.ring = Ring(("rpm", "oil", *channels_of(self.session.plan)), MOST_ROWS)

    def keep(self) -> None:
        """Save the run as it was recorded."""
        made = self.session.live.recorded()
        if made is None:
            return
        stamp = datetime.now().astimezone().strftime("%Y-%m-%d-%H%M")
        folder = self.session.path.parent if self.session.path else Path.home()
        name, _ = QFileDialog.getSaveFileName(
            self,
            "Keep the recording",
            str(folder / f"first-start-{stamp}{SUFFIX}"),
            "Recordings (*.csv.gz *.csv)",
        )
        if name:
            self.keep_as(made, Path(name))

    def keep_as(self, made: Recording, path: Path) -> None:
        """Save a run in a file."""
        try:
            save(made, path)
        except GravidonError as error:
            self.session.refused.emit(str(error))
            return
        self.session.told.emit(f"The recording of {made.seconds / 60:.1f} min is kept in {path.name}")

    def _link_changed(self) -> None:
        live = self.session.live
        self.start_button.setText("Let it go" if live.reading else "Connect")
        self.source.setEnabled(not live.reading)
        self.baud.setEnabled(not live.reading)
        if live.state in ("silent", "lost"):
            self.run.hear_nothing()
        self.keep_button.setEnabled(live.spool is not None and live.spool.rows > 1 and not live.reading)
        self._tell()
        self._show()

    def came(self, rows: list[Row]) -> None:
        """Take rows as they came."""
        for row in rows:
            values = converted(self.session.plan, row.values)
            self.run.see(Sample.of(values))
            self.ring.add(values["time"], values)
        self._show()

    # --- what is shown ------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show everything as it is now; bands of another plan are sought anew."""
        self._plan_may_have_changed()
        if not self.session.live.reading:
            self._offer_sources()
        self._tell()
        self._show()

    def _plan_may_have_changed(self) -> None:
        plan = self.session.plan
        self.run.replan(plan)
        if plan == self._plan_of_bands or not self.isVisible():
            return
        if self._plan_of_bands is None or channels_of(plan) != self.ring.names[2:]:
            self.ring = Ring(("rpm", "oil", *channels_of(plan)), MOST_ROWS)
            self.run = self._fresh()
        self._plan_of_bands = plan
        self.job.start(lambda: _bands(plan))

    def _bands_known(self, bands: Expected | str) -> None:
        if isinstance(bands, str):
            self.bands = self.run.bands = None
            self.session.refused.emit(bands)
        else:
            self.bands = self.run.bands = bands
        self._show()

    @property
    def busy(self) -> bool:
        """Whether the bands are still being worked out."""
        return self.job.busy

    def _show(self) -> None:
        """Redraw what moves, sound or silence the alarm."""
        stopped = self.run.stop is not None
        self.alarm.set(stopped)
        if stopped and not self._told_stop and not self.isVisible():
            self.session.refused.emit(f"Stop. {self.call_words()[2]}")
        self._told_stop = stopped
        now = (self.run.at, stopped)
        if now != self._told_at:
            self._told_at = now
            self.session.headline_changed.emit()
        self.tick_button.setEnabled(self.run.takes_a_tick)
        self.on_button.setVisible(stopped)
        _, title, words = self.call_words()
        self.call.setAccessibleDescription(f"{title}. {words}")
        if self.isVisible():
            self._make_room()
            for canvas in (self.call, self.ladder, self.canvas):
                canvas.update()

    def _make_room(self) -> None:
        """As high as the strips need; a small window scrolls."""
        least = round(FRONT_PX * len(self.fronts()) + STRIP_PX * (3 + len(self.run.inlets)) + 26)
        if self.canvas.minimumHeight() != least:
            self.canvas.setMinimumHeight(least)

    def _tell(self) -> None:
        live = self.session.live
        parts = [live.said]
        if live.rows:
            parts.append(f"{live.rows} rows")
        if live.bad:
            why = f": {live.last_bad.why}" if live.last_bad else ""
            parts.append(f"{live.bad} lines not usable{why}")
        self.status.setText("; ".join(parts))
        self.status.setToolTip("; ".join(parts))
        missing = unplaced(self.session.plan, live.channels)
        words = (
            f"No sender in the plan for {', '.join(missing)}: say at Sender what it is and where it sits. "
            if missing
            else ""
        )
        self.told.setText(words)
        self.told.setVisible(bool(words))

    def call_words(self) -> tuple[str, str, str]:
        """Return the call's kind, its title and its sentence."""
        run, call = self.run, self.run.call()
        words = call.said.text(self.session.family)
        if call.kind == "stop":
            return call.kind, tr("Stop"), words
        if run.step is None:
            return call.kind, tr("Done"), words
        title = f"{run.at + 1}. {fill(run.step.title, {}, self.session.family)}"
        return call.kind, title, words

    def rungs(self) -> list[Rung]:
        """Return the steps as the ladder shows them."""
        run, made = self.run, []
        for k, step in enumerate(STEPS):
            state = "passed" if k < run.at else "now" if k == run.at else "later"
            when = run.passed.get(step.key, math.nan)
            said = "waits for your tick" if step.ticked else "measured"
            if state == "passed":
                said = (
                    "ticked"
                    if step.ticked or math.isnan(when)
                    else f"measured, at {int(when) // 60}:{int(when) % 60:02d}"
                )
            made.append(Rung(tr(step.title), said, state))
        return made

    def fronts(self) -> list[Front]:
        """Return the oil on its way to each turbo, from the first step on until the engine fires."""
        run = self.run
        if run.at > KEYS.index("idle"):
            return []
        made = []
        for channel, planned, it in zip(run.inlets, run.planned_s, run.plan.turbos, strict=True):
            name = "the turbo" if len(run.inlets) == 1 else it.turbo.label
            made.append(Front(name, planned, run.turned_s, run.arrived.get(channel)))
        return made

    def in_sight(self) -> tuple[float, float]:
        """Return where the strips begin and how long they are [s]."""
        t = self.ring.time_s
        last = float(t[-1]) if len(t) else 0.0
        span = min(max(last * 1.04, LEAST_SPAN_S), SIGHT_S)
        return max(last - span, 0.0) if last > span else 0.0, span

    def strips(self) -> list[Strip]:
        """Return the readings as the strips show them."""
        run, ring, plan = self.run, self.ring, self.session.plan
        t, rpm, oil = ring.time_s, ring.values("rpm"), ring.values("oil")
        made = []
        for channel in channels_of(plan):
            values = ring.values(channel)
            band: Array | None = None
            place = ""
            if self.bands is not None:
                known = np.where(np.isfinite(oil), oil, 288.15)
                band = self.bands.over(channel, np.nan_to_num(rpm), known) if len(t) else None
                turning = run.last is not None and run.last.rpm >= 500.0 and channel in run.arrived
                place = run.place(channel) if turning else ""
            title = "gallery" if channel == "gallery" else self._inlet_title(channel)
            reaches = (
                1e3
                * max(r.pressure_kpa for r in plan.engine.readings)
                * (0.9 if channel == "gallery" else 0.6)
            )
            made.append(Strip(title, "kpa", t, values, band, place, reaches, 1.5))
        made.append(Strip("oil", "degc", t, oil, None, "", 373.15, 0.8))
        made.append(Strip("engine speed", "rpm", t, rpm / 60.0, None, "", 3000.0 / 60.0, 0.8))
        return made

    def _inlet_title(self, channel: str) -> str:
        k = self.run.inlets.index(channel)
        return (
            "turbo's inlet"
            if len(self.run.inlets) == 1
            else f"inlet, {self.session.plan.turbos[k].turbo.label}"
        )

    # --- the builder's hand -------------------------------------------------------------------

    def tick(self) -> None:
        """Pass a step by the builder's word."""
        if not self.run.tick():
            self.session.told.emit("This step is passed by what is measured, not by a tick")
        self._show()

    def go_on(self) -> None:
        """The cause of a stop was seen to."""
        self.run.go_on()
        self._show()

    def begin_anew(self) -> None:
        """Begin the first start again."""
        self.run = self._fresh()
        self._show()

    def _sound_toggled(self, on: bool) -> None:
        self.alarm.enabled = on
        self._show()

    def leave(self) -> None:
        """The window closes."""
        self.alarm.set(False)
        self.job.leave()
        self.session.live.stop()
