# SPDX-License-Identifier: GPL-3.0-or-later
"""The first start, live: what to do next in big words, the readings against what the plan predicts for now, and the call to stop."""

from __future__ import annotations

import math
import time
from collections.abc import Iterator

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
)

from gravidon.desk.alarm import Alarm
from gravidon.desk.ask import sure
from gravidon.desk.canvas import Canvas
from gravidon.desk.device_row import DeviceRow
from gravidon.desk.job import Job
from gravidon.desk.stations.base import Station
from gravidon.draw import bench_strips, call_board
from gravidon.draw.bench_strips import FRONT_PX, Front, Strip
from gravidon.draw.call_board import Rung
from gravidon.errors import GravidonError
from gravidon.physics.arrays import Array
from gravidon.plan.model import Plan
from gravidon.records.lines import Row
from gravidon.records.ring import Ring
from gravidon.study.bench.expected import Expected, channels_of, expected
from gravidon.study.bench.first_start import KEYS, SENDER, SOUND, STEPS, FirstStart, Sample
from gravidon.study.solve.senders import converted, unplaced
from gravidon.translate import commas
from gravidon.words.text import fill, tr

SIGHT_S, LEAST_SPAN_S = 600.0, 60.0
"""[s] of the run in sight at most, and that the axis spans at least."""
MOST_ROWS = 30000
"""Rows of ten minutes at fifty a second."""
FRAME_PX = 6.0
"""[px] the frame round the readings while it says stop."""
STRIP_PX = 46
"""[px] a strip needs to be read."""


def _bands(plan: Plan) -> Iterator[Expected | str]:
    """Yield the bands as they become better; in words why there are none, for a plan so odd that they cannot be computed."""
    try:
        yield from expected(plan)
    except GravidonError as error:
        yield tr("No band: {error}").format(error=error)


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
        if self.station.run.stop is not None:
            area = area.adjusted(0, 0, 0, -FRAME_PX)
        start, span = self.station.in_sight()
        bench_strips.paint(ink, area, self.station.strips(), start, span)
        if self.station.run.stop is not None:
            painter.setPen(ink.palette.pen("bad", FRAME_PX))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            half = 0.5 * FRAME_PX
            painter.drawRect(self.area.adjusted(half, half, -half, -half))


class BenchStation(Station):
    """Go with the engine's first minutes."""

    key = "bench"
    question = tr(
        "What comes next, and is the pressure where the plan expects it now? Each step is passed by what is measured, or by your tick."
    )
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
        self.canvas = StripsCanvas(self, tr("Readings against what the plan predicts now"), (420, 220))
        self.call = CallCanvas(self, tr("What to do now"), (380, 104))
        self.call.setFixedHeight(112)
        self.call.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.column.addWidget(self.call)
        self.column.addLayout(self._buttons())
        halves = QHBoxLayout()
        self.ladder = LadderCanvas(self, tr("Steps of the first start"), (216, 220))
        self.ladder.setMaximumWidth(250)
        halves.addWidget(self.ladder, 1)
        halves.addWidget(self.canvas, 4)
        self.column.addLayout(halves, 1)
        self.device = DeviceRow(self.session)
        self.column.addWidget(self.device)
        live = self.session.live
        live.began.connect(self._device_begins)
        live.came.connect(self.came)
        live.changed.connect(self._link_changed)
        live.quiet.connect(self._quiet)
        self.session.changed.connect(self._plan_may_have_changed)
        self._link_changed()

    def _fresh(self) -> FirstStart:
        made = FirstStart(self.session.plan, self.bands)
        self.session.first_start = made
        return made

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.tick_button = QPushButton(tr("Tick: done"))
        self.tick_button.setProperty("role", "main")
        self.tick_button.clicked.connect(lambda _=False: self.tick())
        self.on_button = QPushButton(tr("Seen to: go on"))
        self.on_button.clicked.connect(lambda _=False: self.go_on())
        self.anew_button = QPushButton(tr("Start over"))
        self.anew_button.clicked.connect(lambda _=False: self.begin_anew())
        self.sound = QCheckBox(tr("Sound the stop"))
        self.sound.setChecked(True)
        self.sound.toggled.connect(self._sound_toggled)
        self.told = QLabel()
        self.told.setProperty("role", "faint")
        for widget in (self.tick_button, self.on_button, self.anew_button, self.sound):
            row.addWidget(widget)
        row.addWidget(self.told)
        row.addStretch(1)
        return row

    def _link_changed(self) -> None:
        self._tell_senders()
        self._show()

    def _device_begins(self, another: bool) -> None:
        """A device is about to be read: the strips begin anew, and the steps too where it is another engine."""
        self.ring = Ring(("rpm", "oil", *channels_of(self.session.plan)), MOST_ROWS)
        if another and self.run.last is not None:
            self.run = self._fresh()

    def _quiet(self, seconds: float) -> None:
        """No row has come for so long: an engine that runs is stopped."""
        self.run.hear_nothing(seconds)
        self._show()

    def came(self, rows: list[Row]) -> None:
        """Take rows as they came."""
        host_s = time.monotonic()
        for row in rows:
            values = converted(self.session.plan, row.values)
            self.run.see(Sample.of(values, row.values), host_s)
            self.ring.add(values["time"], values)
        self._show()

    # --- what is shown ------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show everything as it is now; bands of another plan are sought anew."""
        self._plan_may_have_changed()
        self.device.offer()
        self._tell_senders()
        self._show()

    def _plan_may_have_changed(self) -> None:
        plan = self.session.plan
        others = channels_of(plan) != self.ring.names[2:]
        if self.run.stop is not None and others:
            return  # a stop stays, whatever becomes of the plan
        self.run.replan(plan)
        if plan == self._plan_of_bands or not self.isVisible():
            return
        if self._plan_of_bands is None or others:
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
            self.session.refused.emit(tr("Stop. {why}").format(why=self.call_words()[2]))
        if stopped and not self._told_stop:
            self.call.setFocus()  # no key that was meant for a button wipes it
        self._told_stop = stopped
        now = (self.run.at, stopped)
        if now != self._told_at:
            self._told_at = now
            self.session.headline_changed.emit()
        if not self.run.takes_a_tick and self.tick_button.hasFocus():
            self.call.setFocus()
        self.tick_button.setEnabled(self.run.takes_a_tick)
        reading = self.session.live.reading
        self.anew_button.setEnabled(not reading)
        self.anew_button.setToolTip(tr("Disconnect the device first") if reading else "")
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

    def _tell_senders(self) -> None:
        """Say which volts come that no sender of the plan stands for."""
        live = self.session.live
        missing = unplaced(self.session.plan, live.channels)
        words = (
            tr("No sender in the plan for {channels}: say at Senders what it is and where it sits. ").format(
                channels=commas(missing)
            )
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
            said = tr("waits for your tick") if step.ticked else tr("measured")
            if state == "passed":
                said = (
                    tr("ticked")
                    if step.ticked or math.isnan(when)
                    else tr("measured, at {minutes}:{seconds:02d}").format(
                        minutes=int(when) // 60, seconds=int(when) % 60
                    )
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
            name = tr("the turbo") if len(run.inlets) == 1 else it.turbo.label
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
        run, ring, plan = self.run, self.ring, self.run.plan
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
            title = tr("gallery") if channel == "gallery" else self._inlet_title(channel)
            reaches = (
                1e3
                * max(r.pressure_kpa for r in plan.engine.readings)
                * (0.9 if channel == "gallery" else 0.6)
            )
            state = run.sender(channel)
            said = tr(SENDER[state]) if state in SENDER else ""
            made.append(Strip(title, "kpa", t, values, band, place, reaches, 1.5, said, state in SOUND))
        made.append(Strip(tr("oil"), "degc", t, oil, None, "", 373.15, 0.8))
        made.append(Strip(tr("engine speed"), "rpm", t, rpm / 60.0, None, "", 3000.0 / 60.0, 0.8))
        return made

    def _inlet_title(self, channel: str) -> str:
        k = self.run.inlets.index(channel)
        return (
            tr("turbo's inlet")
            if len(self.run.inlets) == 1
            else tr("inlet, {label}").format(label=self.session.plan.turbos[k].turbo.label)
        )

    # --- the builder's hand -------------------------------------------------------------------

    def tick(self) -> None:
        """Pass a step by the builder's word."""
        if not self.run.tick():
            self.session.told.emit(tr("This step is passed by what is measured, not by a tick"))
        self._show()

    def go_on(self) -> None:
        """The cause of a stop was seen to: asked for, so that no stray key wipes it."""
        if sure(self, tr("Has the cause of the stop been seen to?"), tr("Seen to: go on")):
            self.run.go_on()
            self._show()

    def begin_anew(self) -> None:
        """Begin the first start again; asked for where there is something to lose, and never while a device is read."""
        if self.session.live.reading:
            self.session.told.emit(
                tr("Disconnect the device first; then the first start can be started over")
            )
            return
        nothing = self.run.at == 0 and self.run.last is None
        if nothing or sure(
            self, tr("Start the first start over? Its steps and what was read are let go."), tr("Start over")
        ):
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
