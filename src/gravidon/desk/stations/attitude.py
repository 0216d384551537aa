# SPDX-License-Identifier: GPL-3.0-or-later
"""The attitude: how many g the drain survives in every direction, and a drive replayed on it."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, Qt, QTimer
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QProgressBar,
    QPushButton,
    QSizePolicy,
    QSlider,
    QVBoxLayout,
)

from gravidon.desk.canvas import Canvas
from gravidon.desk.job import Job
from gravidon.desk.log_dialog import LogDialog
from gravidon.desk.preferences import home
from gravidon.desk.stations.base import Station
from gravidon.draw import elevation as drawing
from gravidon.draw import envelope_chart, marks, replay_chart
from gravidon.draw.geometry.elevation import elevation
from gravidon.draw.ink import Ink
from gravidon.errors import GravidonError
from gravidon.plan import demos
from gravidon.plan.drive_log import DriveLog, guess_mapping, headings, read_log, read_text
from gravidon.plan.fields import si
from gravidon.plan.units import show, signed
from gravidon.study.home.envelope import CAUSES, MOST_G, Envelope, Spot, envelope, look_at
from gravidon.study.home.replay import Replay, moment, replay
from gravidon.study.solve.evaluate import Evaluation
from gravidon.translate import number
from gravidon.words.text import tr

PAUSE_MS = 150


class DialCanvas(Canvas):
    """The envelope; the mouse asks about any acceleration, a click on a condition chooses it."""

    station: AttitudeStation

    def paint(self, painter: QPainter) -> None:
        """Draw the chart and its key."""
        it, s = self.station, self.station.session
        if it.made is None:
            painter.setPen(it.colours.color("faint"))
            painter.drawText(self.area, int(Qt.AlignmentFlag.AlignCenter), tr("Trying every direction …"))
            return
        envelope_chart.paint(
            Ink(painter, it.colours),
            self.area,
            s.evaluation,
            it.made,
            it.fresh,
            s.condition,
            it.drive,
            it.spot,
        )

    def hovered(self, at: QPointF | None) -> None:
        """Look at the acceleration under the mouse."""
        self.station.spot = None
        if at is not None:
            ahead, left = envelope_chart.Dial(self.area).back(at)
            if np.hypot(ahead, left) <= MOST_G:
                self.station.ask(round(ahead, 2), round(left, 2))
        self.station.tell()
        self.update()

    def clicked(self, at: QPointF) -> None:
        """Choose the condition under the mouse."""
        dial, s = envelope_chart.Dial(self.area), self.station.session
        for k, c in enumerate(s.plan.conditions):
            if (
                abs(c.forward_g) + abs(c.left_g) > 0.02
                and (dial.at(c.forward_g, c.left_g) - at).manhattanLength() < 12
            ):
                s.choose_condition(k)


class KeyCanvas(Canvas):
    """The key to the limits."""

    def paint(self, painter: QPainter) -> None:
        """Draw it."""
        envelope_chart.paint_key(Ink(painter, self.station.colours), self.area.adjusted(2, 4, 0, 0))


class DriveCanvas(Canvas):
    """The drive along its time."""

    station: AttitudeStation
    cursor_s: float | None = None

    def paint(self, painter: QPainter) -> None:
        """Draw the tracks, or say what could be here."""
        it, s = self.station, self.station.session
        if it.drive is None or len(it.drive.time_s) < 2:
            self.say(
                painter,
                tr(
                    "Open a drive log (time, accelerations, engine speed, oil temperature),\nor replay the invented hill road that ships, to see when a seal would wet."
                ),
            )
            return
        replay_chart.paint(
            Ink(painter, it.colours, s.family),
            self.area,
            it.drive,
            si(s.plan.needs, "freeboard_mm"),
            self.cursor_s,
        )

    def hovered(self, at: QPointF | None) -> None:
        """Read the drive under the mouse."""
        drive = self.station.drive
        self.cursor_s = None
        if at is not None and drive is not None and len(drive.time_s) > 1:
            axes = replay_chart.time_axes(self.area, drive)
            if axes.rect.contains(at):
                self.cursor_s = axes.x_back(at.x())
                k = min(int(np.searchsorted(drive.time_s, self.cursor_s)), len(drive.time_s) - 1)
                self.station.ask(float(drive.forward_g[k]), float(drive.left_g[k]), quick=True)
        self.station.tell(self.cursor_s)
        self.update()
        self.station.canvas.update()


PLAY_MS = 80
"""[ms] between the pictures of a drive that is played; project choice."""


class PlayCanvas(Canvas):
    """The drain at one moment of the drive: the pan tilting, oil in the run, the seal."""

    station: AttitudeStation

    def __init__(self, station: AttitudeStation) -> None:
        super().__init__(station, tr("The drain at a moment of the drive"), (260, 230))
        self.moment: Evaluation | None = None

    def show_moment(self, drive: Replay, at_s: float) -> None:
        """Show the plan as it is at a time of the drive [s], with the log's own speed and oil."""
        self.moment = moment(self.station.session.evaluation, drive, at_s)
        self.update()

    def paint(self, painter: QPainter) -> None:
        """Draw the run from the front in that moment."""
        if self.moment is None:
            return
        picture = elevation(self.moment, 0, "front")
        frame = drawing.fit(picture, self.area, 26.0)
        ink = self.ink(painter)
        drawing.paint(ink, self.area, frame, self.moment, 0, picture, handles=False, main=False)
        free = float(self.moment.drainage.freeboard_m[0])
        words = tr("freeboard tends to {free}").format(free=show(free, "mm", self.station.session.family))
        marks.clear_text(ink, QPointF(12, 18), words, "bad" if free < 0 else "good")


class AttitudeStation(Station):
    """See which way the car may lean, how far and how long."""

    key = "attitude"
    question = tr(
        "How hard may the car launch, brake and corner before the drain gives up? The oil is that of the chosen condition."
    )

    def build(self) -> None:
        """The dial with the words beside it, the drive below."""
        self.made: Envelope | None = None
        self.spot: Spot | None = None
        self.drive: Replay | None = None
        self.log: DriveLog | None = None
        self._made_for: tuple[Any, int] | None = None
        self._drive_for: Any = None
        self.job = Job(self)
        self.job.reported.connect(self._took)
        self.job.ended.connect(self._ended)
        top = QHBoxLayout()
        self.canvas = DialCanvas(self, tr("Stability envelope"), (340, 250))
        top.addWidget(self.canvas, 3)
        self._reading(top)
        self.film = PlayCanvas(self)
        self.film.hide()
        top.addWidget(self.film, 3)
        self.column.addLayout(top, 3)
        self._drive_bar()
        self.road = DriveCanvas(self, tr("The drive along its time"), (380, 170))
        self.column.addWidget(self.road, 2)
        self._player()
        self.timer = QTimer(self)
        self.timer.setSingleShot(True)
        self.timer.setInterval(PAUSE_MS)
        self.timer.timeout.connect(self._make)
        self._running(False)

    def _reading(self, top: QHBoxLayout) -> None:
        """The key, the words and the spells beside the dial."""
        side = QVBoxLayout()
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.words.setMinimumWidth(190)
        self.words.setMinimumHeight(104)  # so that the drawing does not jump while it is read
        self.key_canvas = KeyCanvas(self, tr("Key to the limits"), (200, 84))
        self.key_canvas.setFixedHeight(84)
        self.key_canvas.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        side.addWidget(self.key_canvas)
        side.addWidget(self.words)
        self.spells = QListWidget()
        self.spells.setAccessibleName(tr("Where the seal would wet"))
        self.spells.setMinimumHeight(60)
        self.spells.setWordWrap(True)
        self.spells.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.spells.itemActivated.connect(lambda item: self._to_spell(self.spells.row(item)))
        self.spells.itemClicked.connect(lambda item: self._to_spell(self.spells.row(item)))
        side.addWidget(self.spells, 1)
        side.addStretch(0)
        top.addLayout(side, 2)

    def _drive_bar(self) -> None:
        """The buttons of the drive and how far it has come."""
        bar = QHBoxLayout()
        for words, action in (
            (tr("Open a drive log …"), self.open_log),
            (tr("Replay the demo drive"), self.open_demo),
        ):
            button = QPushButton(words)
            button.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
            button.clicked.connect(lambda _=False, a=action: a())
            bar.addWidget(button)
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setAccessibleName(tr("Share of the drive replayed"))
        bar.addWidget(self.progress, 1)
        self.cancel_button = QPushButton(tr("Cancel"))
        self.cancel_button.clicked.connect(self.cancel)
        bar.addWidget(self.cancel_button)
        bar.addStretch(0)
        self.column.addLayout(bar)

    def _player(self) -> None:
        """A button and a scrubber under the drive."""
        row = QHBoxLayout()
        self.play_button = QPushButton(tr("Play"))
        self.play_button.setCheckable(True)
        self.play_button.toggled.connect(self._play)
        self.scrubber = QSlider(Qt.Orientation.Horizontal)
        self.scrubber.setAccessibleName(tr("Moment of the drive"))
        self.scrubber.valueChanged.connect(self.seek)
        self.clock = QLabel("0:00")
        for widget, stretch in ((self.play_button, 0), (self.scrubber, 1), (self.clock, 0)):
            row.addWidget(widget, stretch)
            widget.hide()
        self.column.addLayout(row)
        self.ticker = QTimer(self)
        self.ticker.setInterval(PLAY_MS)
        self.ticker.timeout.connect(self._tick)

    def _play(self, on: bool) -> None:
        self.play_button.setText(tr("Pause") if on else tr("Play"))
        if on:
            if self.scrubber.value() >= self.scrubber.maximum():
                self.scrubber.setValue(0)
            self.ticker.start()
        else:
            self.ticker.stop()

    def _tick(self) -> None:
        if not self.isVisible() or self.scrubber.value() >= self.scrubber.maximum():
            self.play_button.setChecked(False)
            return
        self.scrubber.setValue(self.scrubber.value() + PLAY_MS)

    def seek(self, at_ms: int) -> None:
        """Show the drive at a moment [ms]: the picture, the cursor on its tracks, the words."""
        drive = self.drive
        if drive is None or len(drive.time_s) < 2:
            return
        seconds = at_ms / 1000.0
        k = min(int(np.searchsorted(drive.time_s, seconds)), len(drive.time_s) - 1)
        self.film.show_moment(drive, seconds)
        self.clock.setText(f"{at_ms // 60000}:{at_ms // 1000 % 60:02d}")
        self.road.cursor_s = float(drive.time_s[k])
        self.ask(float(drive.forward_g[k]), float(drive.left_g[k]), quick=True)
        self.tell(self.road.cursor_s)
        self.road.update()
        self.canvas.update()

    def _to_spell(self, row: int) -> None:
        """Go to the moment of a wet spell."""
        if self.drive is not None and row < len(self.drive.spells):
            self.scrubber.setValue(int(self.drive.spells[row].start_s * 1000))

    def _show_player(self) -> None:
        """Show scrubber and picture once a drive is replayed; they begin at the first wet spell."""
        drive = self.drive
        ready = drive is not None and len(drive.time_s) > 1
        for widget in (self.play_button, self.scrubber, self.clock, self.film):
            widget.setVisible(ready)
        if drive is not None and ready:
            self.scrubber.setMaximum(int(drive.time_s[-1] * 1000))
            if self.scrubber.value() == 0 and drive.spells:
                self.scrubber.setValue(int(drive.spells[0].start_s * 1000))
            else:
                self.seek(self.scrubber.value())

    @property
    def fresh(self) -> bool:
        """Whether the envelope belongs to the plan and condition as they are."""
        return self._made_for == (self.session.evaluation, self.session.condition)

    @property
    def busy(self) -> bool:
        """Whether something is being worked out."""
        return self.job.busy or self.timer.isActive()

    def refresh(self) -> None:
        """Make the envelope anew shortly after a change; replay the drive again too."""
        self.spells.setVisible(self.log is not None)
        self.key_canvas.update()
        if not self.fresh:
            self.timer.start()
        if self.log is not None and self._drive_for is not self.session.evaluation:
            self.start()
        self.tell()
        self.canvas.update()
        self.road.update()

    def _make(self) -> None:
        s = self.session
        self.made = envelope(s.evaluation, s.condition)
        self._made_for = (s.evaluation, s.condition)
        self.tell()
        self.canvas.update()

    def ask(self, forward_g: float, left_g: float, quick: bool = False) -> None:
        """Look at one acceleration."""
        if quick:
            self.spot = Spot(forward_g, left_g, float("nan"), float("nan"), float("inf"))
        else:
            self.spot = look_at(self.session.evaluation, self.session.condition, forward_g, left_g)

    def tell(self, cursor_s: float | None = None) -> None:
        """Say what the dial shows, or what is under the mouse."""
        s, family = self.session, self.session.family
        if cursor_s is not None and self.drive is not None:
            k = min(int(np.searchsorted(self.drive.time_s, cursor_s)), len(self.drive.time_s) - 1)
            self.words.setText(
                tr(
                    "At {minutes}:{seconds:02d}: {forward_g} g forward, {left_g} g left; freeboard tends to {freeboard}, filled {filled:.0%}, inlet {inlet}."
                ).format(
                    minutes=int(cursor_s) // 60,
                    seconds=int(cursor_s) % 60,
                    forward_g=signed(float(self.drive.forward_g[k])),
                    left_g=signed(float(self.drive.left_g[k])),
                    freeboard=show(float(self.drive.freeboard_m[k]), "mm", family),
                    filled=self.drive.filled[k],
                    inlet=show(float(self.drive.inlet_pa[k]), "kpa", family),
                )
            )
            return
        if self.spot is not None and np.isfinite(self.spot.freeboard_m):
            p = self.spot
            after = (
                tr("wets after {seconds:.1f} s").format(seconds=p.seconds)
                if np.isfinite(p.seconds)
                else tr("never wets")
                if p.freeboard_m >= 0.0
                else tr("is kept dry by boost for a minute at least")
            )
            over = tr("over") if p.over_entry_m > 0 else tr("below")
            self.words.setText(
                tr(
                    "{forward_g} g forward, {left_g} g left, held: freeboard {freeboard}, a seal {after}; oil {amount} {over} the entry."
                ).format(
                    forward_g=signed(float(p.forward_g)),
                    left_g=signed(float(p.left_g)),
                    freeboard=show(p.freeboard_m, "mm", family),
                    after=after,
                    amount=show(abs(p.over_entry_m), "mm", family),
                    over=over,
                )
            )
            return
        if self.made is None:
            self.words.setText("")
            return
        least = self.made.least_g
        k = int(least.argmin())
        if not np.isfinite(least[k]):
            self.words.setText(tr("Nothing fails up to {most_g:g} g in any direction.").format(most_g=MOST_G))
            return
        rows = []
        for name, angle in ((tr("launch"), 0.0), (tr("left"), 0.5), (tr("braking"), 1.0), (tr("right"), 1.5)):
            j = round(angle * np.pi / (2 * np.pi) * len(least)) % len(least)
            limit = float(least[j])
            rows.append(
                tr("{name}: beyond {most_g:g} g").format(name=name, most_g=MOST_G)
                if not np.isfinite(limit)
                else f"{name}: {number(limit, '.2f')} g, {CAUSES[int(self.made.first[j])]}"
            )
        self.words.setText(
            tr("Held for good with the oil of {names}:\n").format(names=s.evaluation.names[s.condition])
            + "\n".join(rows)
        )

    # --- the drive -------------------------------------------------------------------------

    def open_log(self) -> None:
        """Choose a log, map its columns, replay it."""
        name, _ = QFileDialog.getOpenFileName(
            self,
            tr("Open a drive log"),
            str(home()),
            tr("Logs (*.csv *.txt *.mf4 *.mdf);;All files (*)"),
        )
        if name:
            self.open_file(Path(name))

    def open_file(self, path: Path) -> None:
        """Map a log's columns and replay it; what cannot be read is said."""
        try:
            dialog = LogDialog(read_text(path), path.name, self)
        except GravidonError as error:
            self.session.refused.emit(str(error))
            return
        if dialog.exec() and dialog.log is not None:
            self.take(dialog.log)

    def open_demo(self) -> None:
        """Replay the drive that ships."""
        text = demos.demo_drive()
        self.take(read_log(text, guess_mapping(headings(text)), tr("hill road (invented)")))

    def take(self, log: DriveLog) -> None:
        """Take a drive; rows that were left out are told."""
        self.log = log
        if log.bad_count:
            first = log.bad[0]
            self.session.refused.emit(
                tr(
                    "{bad_count} rows of {name} were left out; the first is line {line}, {channel}: {why}"
                ).format(
                    bad_count=log.bad_count,
                    name=log.name,
                    line=first.line,
                    channel=first.channel,
                    why=first.why,
                )
            )
        self.start()

    def start(self) -> None:
        """Replay the drive beside the window."""
        if self.log is None:
            return
        evaluation, log = self.session.evaluation, self.log
        self._drive_for = evaluation
        self.spells.show()

        def steps() -> Iterator[Replay]:
            return replay(evaluation, log)

        self._running(True)
        self.job.start(steps)

    def _took(self, drive: Replay) -> None:
        self.drive = drive
        self.progress.setValue(round(100 * drive.share))
        self.spells.clear()
        for spell in drive.spells:
            where = (
                ""
                if not np.isfinite(spell.distance_m)
                else tr(" at {distance:.2f} km").format(distance=spell.distance_m / 1000)
            )
            way = (
                tr("left turn")
                if spell.left_g > 0.25
                else tr("right turn")
                if spell.left_g < -0.25
                else tr("braking")
                if spell.forward_g < 0
                else tr("launch")
            )
            self.spells.addItem(
                tr("{minutes}:{seconds:02d}{where}: wet for {lasts:.1f} s, {way}, {pull:.2f} g").format(
                    minutes=int(spell.start_s) // 60,
                    seconds=int(spell.start_s) % 60,
                    where=where,
                    lasts=spell.end_s - spell.start_s,
                    way=way,
                    pull=max(abs(spell.left_g), abs(spell.forward_g)),
                )
            )
        if not drive.spells:
            self.spells.addItem(
                tr("No seal wets on this drive.") if drive.share > 0.999 else tr("None so far.")
            )
        if self.log is not None and self.log.bad_count:
            self.spells.addItem(tr("{bad_count} bad rows left out:").format(bad_count=self.log.bad_count))
            for bad in self.log.bad[:50]:
                self.spells.addItem(
                    tr("   line {line}, {channel}: {why}").format(
                        line=bad.line, channel=bad.channel, why=bad.why
                    )
                )
        self.canvas.update()
        self.road.update()

    def _ended(self) -> None:
        self._running(False)
        self._show_player()

    def _running(self, on: bool) -> None:
        self.progress.setVisible(on)
        self.cancel_button.setVisible(on)

    def cancel(self) -> None:
        """Stop the replay; what has been replayed stays in sight."""
        self.job.cancel()

    def leave(self) -> None:
        """Stop all work."""
        self.timer.stop()
        self.ticker.stop()
        self.job.leave()
