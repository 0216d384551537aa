# SPDX-License-Identifier: GPL-3.0-or-later
"""Which device is read: a serial port, a simulated car or a recording played; its state, and what was recorded."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QWidget,
)

from gravidon.desk.box import Box
from gravidon.desk.log_dialog import recording_of
from gravidon.desk.preferences import home
from gravidon.desk.session import Session
from gravidon.desk.there import there
from gravidon.errors import GravidonError
from gravidon.records.link import BAUD_RATES, serial_ports
from gravidon.records.recording import SUFFIX, Recording, save
from gravidon.records.shipped import RECORDINGS, demo_recording
from gravidon.study.car.senses import timed_lines
from gravidon.study.solve.senders import converted_recording
from gravidon.words.text import tr

CAR = tr("a simulated car")
FAULTY_CAR = tr("a simulated car that must be stopped")
FILE = tr("a recording …")
SHIPPED = {words: key for key, words in RECORDINGS.items()}
SCRIPTED = {CAR: (), FAULTY_CAR: ("weak-pump=0.95@70+4",)}
"""Faults of the simulated cars that are offered."""
CAR_SEED = 1
BUILT_IN = "/ttyS"
"""What ports built into a board are called: they are there on every machine."""


class DeviceRow(QWidget):
    """Chooses, connects and tells the session's device."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        label = QLabel(tr("Read"))
        self.source = Box()
        self.source.setEditable(True)
        self.source.setAccessibleName(tr("Device that is read"))
        there(self.source.lineEdit()).setAccessibleName(tr("Device that is read"))
        self.source.setMinimumWidth(240)
        self.source.setStyleSheet("QComboBox { min-height: 26px; }")
        self.source.setToolTip(tr("A serial port's name, a simulated car, or a recording"))
        label.setBuddy(self.source)
        self.baud = Box()
        self.baud.addItems([str(b) for b in BAUD_RATES])
        self.baud.setCurrentText("115200")
        self.baud.setAccessibleName(tr("Baud rate"))
        self.baud_label = QLabel(tr("baud"))
        self.start_button = QPushButton(tr("Connect"))
        self.start_button.clicked.connect(lambda _=False: self.connect_or_stop())
        self.status = QLabel()
        self.status.setWordWrap(True)
        self.status.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.status.setAccessibleName(tr("State of the device"))
        self.keep_button = QPushButton(tr("Keep the recording …"))
        self.keep_button.clicked.connect(lambda _=False: self.keep())
        for widget in (label, self.source, self.baud, self.baud_label, self.start_button):
            row.addWidget(widget)
        row.addWidget(self.status, 1)
        row.addWidget(self.keep_button)
        self.source.currentTextChanged.connect(lambda _: self._source_chosen())
        session.live.changed.connect(self.tell)
        self.offer()
        self.tell()

    def offer(self) -> None:
        """Offer what there is now; nothing changes while a device is read."""
        if self.session.live.reading:
            return
        chosen = self.source.currentText()
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

    def tell(self) -> None:
        """Say how the device is."""
        live = self.session.live
        self.start_button.setText(tr("Let it go") if live.reading else tr("Connect"))
        self.source.setEnabled(not live.reading)
        self.baud.setEnabled(not live.reading)
        self.keep_button.setEnabled(live.spool is not None and live.spool.rows > 1 and not live.reading)
        parts = [live.said]
        if live.rows:
            parts.append(tr("{rows} rows").format(rows=live.rows))
        if live.bad:
            why = f": {live.last_bad.why}" if live.last_bad else ""
            parts.append(tr("{bad} lines not usable{why}").format(bad=live.bad, why=why))
        self.status.setText("; ".join(parts))
        self.status.setToolTip("; ".join(parts))

    def connect_or_stop(self) -> None:
        """Read the chosen device, or let it go."""
        live = self.session.live
        if live.reading:
            live.stop()
            return
        what = self.source.currentText().strip()
        if what == FILE:
            self._choose_file()
        elif what in SHIPPED:
            self.play(demo_recording(SHIPPED[what]), tr("Playing {what}").format(what=what))
        elif what in SCRIPTED:
            self.play(self._car(SCRIPTED[what]), tr("The simulated car stands, engine off"))
        elif what:
            live.connect_to(what, int(self.baud.currentText()))
        else:
            self.session.refused.emit(
                tr("Device: nothing is chosen; expected a serial port, a simulated car or a recording")
            )

    def _car(self, faults: tuple[str, ...]) -> Recording:
        """Return what the senders of a simulated car show in its first start."""
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
        return made

    def _choose_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, tr("Play a recording"), "", tr("Recordings (*.csv *.csv.gz *.gz)")
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
        if made is not None:
            self.play(made, tr("{name} is played").format(name=path.name))

    def play(self, made: Recording, said: str) -> None:
        """Play a recording as a device would send it."""
        self.session.live.play(timed_lines(made), said)

    def keep(self) -> None:
        """Save the run as it was recorded."""
        made = self.session.live.recorded()
        if made is None:
            return
        stamp = datetime.now().astimezone().strftime("%Y-%m-%d-%H%M")
        folder = self.session.path.parent if self.session.path else home()
        name, _ = QFileDialog.getSaveFileName(
            self,
            tr("Keep the recording"),
            str(folder / f"first-start-{stamp}{SUFFIX}"),
            tr("Recordings (*.csv.gz *.csv)"),
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
        self.session.told.emit(
            tr("The recording of {minutes:.1f} min is kept in {name}").format(
                minutes=made.seconds / 60, name=path.name
            )
        )
