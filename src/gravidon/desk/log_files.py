# SPDX-License-Identifier: GPL-3.0-or-later
"""What goes into the logbook from files and out of it: recordings, and entries as CSV."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog

from gravidon.desk.log_dialog import recording_of
from gravidon.desk.preferences import home
from gravidon.errors import GravidonError
from gravidon.plan.files import write_atomically
from gravidon.plan.texts import for_spreadsheet
from gravidon.records import recording as recordings
from gravidon.records.book_csv import from_csv, to_csv
from gravidon.records.entry import Entry
from gravidon.study.bench.steady import steady_readings
from gravidon.study.car.senses import timed_lines
from gravidon.words.text import tr

if TYPE_CHECKING:
    from gravidon.desk.stations.logbook import LogbookStation


class LogFiles:
    """Reads and writes for one logbook page; what comes of it is told by the session."""

    def __init__(self, station: LogbookStation) -> None:
        self.station = station

    def keep_run(self) -> None:
        """Keep what was just read at First start."""
        made = self.station.session.live.recorded()
        if made is not None:
            self._keep(made, datetime.now().astimezone())

    def play_recording(self) -> None:
        """Play the chosen entry's recording as a device would send it, and go to where it is read."""
        entry = (
            self.station.entries[self.station.chosen_entry]
            if 0 <= self.station.chosen_entry < len(self.station.entries)
            else None
        )
        path = self.station.session.log.recording(entry) if entry is not None else None
        if path is None:
            self.station.session.refused.emit(
                tr("Recording: the chosen entry has none; choose one that is marked [recording]")
            )
            return
        try:
            made = recordings.read(path)
        except GravidonError as error:
            self.station.session.refused.emit(str(error))
            return
        self.station.went.emit("bench")
        self.station.session.live.play(timed_lines(made), tr("{name} is played").format(name=path.name))

    def recording_from_file(self) -> None:
        """Choose a recording to keep."""
        name, _ = QFileDialog.getOpenFileName(
            self.station, tr("A recording"), "", tr("Recordings (*.csv *.gz *.txt *.mf4 *.mdf)")
        )
        if name:
            self.take_recording(Path(name))

    def take_recording(self, path: Path) -> None:
        """Keep a recording from a file: in the line format, or any CSV through its columns."""
        try:
            made = recording_of(path, self.station)
            when = datetime.fromtimestamp(path.stat().st_mtime).astimezone()
        except (GravidonError, OSError) as error:
            self.station.session.refused.emit(str(error))
            return
        if made is not None:
            self._keep(made, when)

    def _keep(self, made: recordings.Recording, when: datetime) -> None:
        readings = steady_readings(self.station.session.plan, made)
        name = self.station.session.log.keep_recording(made, when.strftime("run-%Y-%m-%d-%H%M"))
        if not name:
            return
        note = "" if readings else tr("no steady reading in it")
        entry = Entry(
            when.strftime("%Y-%m-%dT%H:%M"), kind="reading", note=note, readings=readings, recording=name
        )
        if self.station.session.log.add(entry):
            self.station.session.told.emit(
                tr("Kept: {minutes:.1f} min with {readings} steady readings").format(
                    minutes=made.seconds / 60, readings=len(readings)
                )
            )

    def import_dialog(self) -> None:
        """Choose a CSV to take entries from."""
        name, _ = QFileDialog.getOpenFileName(self.station, tr("Entries from a CSV"), "", tr("CSV (*.csv)"))
        if name:
            self.import_csv(Path(name))

    def import_csv(self, path: Path) -> None:
        """Take the entries of a CSV that are not there yet."""
        try:
            found = from_csv(recordings.text_of(path))
        except GravidonError as error:
            self.station.session.refused.emit(f"{path.name}: {error}")
            return
        known = {e.uid for e in self.station.session.log.entries}
        new = [e for e in found if e.uid not in known]
        if not new or self.station.session.log.add(*new):
            self.station.session.told.emit(
                tr("{new} of {found} entries taken from {name}").format(
                    new=len(new), found=len(found), name=path.name
                )
            )

    def export_dialog(self) -> None:
        """Choose where to write the entries."""
        folder = self.station.session.path.parent if self.station.session.path else home()
        name, _ = QFileDialog.getSaveFileName(
            self.station, tr("Entries as CSV"), str(folder / "logbook.csv"), tr("CSV (*.csv)")
        )
        if name:
            self.export_csv(Path(name))

    def export_csv(self, path: Path) -> None:
        """Write all entries."""
        try:
            write_atomically(path, for_spreadsheet(to_csv(self.station.entries)))
        except GravidonError as error:
            self.station.session.refused.emit(str(error))
            return
        self.station.session.told.emit(
            tr("{entries} entries written to {name}").format(
                entries=len(self.station.entries), name=path.name
            )
        )
