# SPDX-License-Identifier: GPL-3.0-or-later
"""The device that is read: a serial port, a simulated car or a recording played on one. One per window; Sender and First start share it."""

from __future__ import annotations

import time
from collections.abc import Iterable
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from gravidon.desk.preferences import state_folder
from gravidon.errors import GravidonError
from gravidon.records.lines import Bad, Heading, Row
from gravidon.records.link import Lost, Opened, SerialLink, Silent
from gravidon.records.recording import Recording
from gravidon.records.spool import SUFFIX, Spool
from gravidon.records.stand_in import StandIn, Timed
from gravidon.words.text import tr

KEPT_RUNS = 20
"""Runs that nobody kept and that still lie in the state folder: the latest so many; project choice."""
QUIET_S, QUIET_EVERY_S = 1.5, 0.5
"""[s] without a row after which that is told, and between two tellings; project choice."""
POLL_MS = 33
"""[ms] between two looks at the port: thirty pictures a second."""


def _pruned(folder: Path) -> None:
    """Throw the oldest runs away that nobody kept."""
    if folder.is_dir():
        for old in sorted(folder.glob(f"run-*{SUFFIX}"))[: -KEPT_RUNS + 1]:
            old.unlink(missing_ok=True)


class LiveFeed(QObject):
    """Reads a device and tells what comes. Everything that arrives whole is written to a file as it comes."""

    came = pyqtSignal(object)
    """Rows that came, as a list, raw and in SI."""
    changed = pyqtSignal()
    """Connected, lost, silent, back again, or ended."""
    began = pyqtSignal(bool)
    """A device is about to be read; whether it is another engine than the one before: a simulated car, or a recording."""
    quiet = pyqtSignal(float)
    """No row has come for so long [s], told every half second while it lasts."""
    refused = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None, folder: Path | None = None) -> None:
        super().__init__(parent)
        self._folder = folder
        self.link: SerialLink | None = None
        self.stand_in: StandIn | None = None
        self.spool: Spool | None = None
        self.state, self.said = "none", tr("No device is read.")
        self.rows = self.bad = 0
        self.last_bad: Bad | None = None
        self.channels: tuple[str, ...] = ()
        self._timer = QTimer(self)
        self._timer.setInterval(POLL_MS)
        self._timer.timeout.connect(self.poll)
        self._row_at = self._quiet_at = 0.0

    @property
    def reading(self) -> bool:
        """Whether a device is being read, or waited for."""
        return self.link is not None

    def connect_to(self, port: str, baud: int) -> None:
        """Read a serial port from now on."""
        self.stop()
        self.began.emit(False)
        self._begin(SerialLink(port, baud), tr("Waiting for {port}").format(port=port))

    def play(self, lines: Iterable[Timed], what: str, speed: float = 1.0) -> None:
        """Play lines on a pseudo-terminal and read it, as a device on a wire would be."""
        self.stop()
        self.began.emit(True)
        self.stand_in = StandIn(lines, speed)
        self._begin(SerialLink(self.stand_in.port.name), what)
        self.poll()  # open before the first line is played
        self.stand_in.start()

    def _begin(self, link: SerialLink, said: str) -> None:
        self.link = link
        self.rows = self.bad = 0
        self.last_bad, self.channels = None, ()
        self._row_at = self._quiet_at = time.monotonic()
        self.state, self.said = "waiting", said
        stamp = time.strftime("%Y-%m-%d-%H%M%S")
        try:
            folder = self._folder or state_folder().parent / "recordings"
            _pruned(folder)
            self.spool = Spool(folder / f"run-{stamp}-{time.monotonic_ns() % 1000:03d}{SUFFIX}")
        except GravidonError as error:
            self.spool = None
            self.refused.emit(tr("{error}; the run is read but not recorded").format(error=error))
        self._timer.start()
        self.changed.emit()

    def stop(self) -> None:
        """Let the device go; the recording is ended and stays."""
        self._timer.stop()
        if self.link is not None:
            self.link.close()
        if self.stand_in is not None:
            self.stand_in.close()
        if self.spool is not None:
            self.spool.close()
        was = self.link is not None
        self.link = self.stand_in = None
        self.state, self.said = "none", tr("No device is read.")
        if was:
            self.changed.emit()

    def recorded(self) -> Recording | None:
        """Return what has been recorded since the device was connected; None, and a word on why, if nothing was or it cannot be read."""
        from gravidon.records import recording as recordings

        if self.spool is None or self.spool.rows < 2:
            self.refused.emit(tr("Recording: nothing was read yet; connect a device at First start"))
            return None
        self.spool.close()
        try:
            return recordings.read(self.spool.path)
        except GravidonError as error:
            self.refused.emit(str(error))
            return None

    def poll(self) -> None:
        """Take what came since the last look."""
        link = self.link
        if link is None:
            return
        rows: list[Row] = []
        before = (self.state, self.said)
        for event in link.poll():
            if isinstance(event, Row):
                rows.append(event)
                self._keep(event)
            elif isinstance(event, Bad):
                self.bad += 1
                self.last_bad = event
            elif isinstance(event, Heading):
                self.channels = event.channels
            elif isinstance(event, Opened):
                self.state, self.said = (
                    "waiting",
                    tr("{port} is open; no line has come yet").format(port=event.port),
                )
            elif isinstance(event, Lost):
                self.state, self.said = (
                    "lost",
                    tr("{port} is gone ({why}); it is tried again").format(port=event.port, why=event.why),
                )
            elif isinstance(event, Silent):
                self.state, self.said = (
                    "silent",
                    tr("Nothing has come for {seconds:.0f} s").format(seconds=event.seconds),
                )
        self._tell_quiet(bool(rows))
        if rows:
            self.rows += len(rows)
            self.state, self.said = "reading", "Reading"
            self.came.emit(rows)
        if self.stand_in is not None and not self.stand_in.playing and self.state == "silent":
            self.said = tr("The stand-in has come to its end")
        if (self.state, self.said) != before:
            self.changed.emit()

    def _tell_quiet(self, came: bool) -> None:
        """Tell now and then that nothing comes, but for a recording that has come to its end."""
        now = time.monotonic()
        if came:
            self._row_at = now
        playing = self.stand_in is None or self.stand_in.playing
        if playing and now - max(self._row_at + QUIET_S - QUIET_EVERY_S, self._quiet_at) >= QUIET_EVERY_S:
            self._quiet_at = now
            self.quiet.emit(now - self._row_at)

    def _keep(self, row: Row) -> None:
        if self.spool is None:
            return
        try:
            self.spool.add(row)
        except GravidonError as error:
            self.spool = None
            self.refused.emit(tr("{error}; the run is read but no longer recorded").format(error=error))
