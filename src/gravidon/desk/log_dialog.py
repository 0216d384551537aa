# SPDX-License-Identifier: GPL-3.0-or-later
"""Map a drive log's columns and units to what Gravidon needs, with the log's first rows in sight."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QLabel,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.ask import sure
from gravidon.desk.box import Box
from gravidon.desk.there import there
from gravidon.errors import GravidonError
from gravidon.plan.drive_log import (
    CHANNELS,
    Channel,
    DriveLog,
    Mapped,
    doubts,
    guess_mapping,
    headings,
    read_log,
    unit_in,
)
from gravidon.records.channels import CHANNELS as RECORDED
from gravidon.records.recording import Recording, from_text, is_lines, text_of
from gravidon.words.text import tr

NONE = tr("(not in this log)")
PREVIEW_ROWS = 6


class MappingDialog(QDialog):
    """Column and unit of every channel of a table; subclasses say which channels, and read it."""

    title, button = tr("Read a table"), tr("Read it")
    channels: Mapping[str, Channel] = CHANNELS
    more = ""

    def __init__(self, text: str, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(self.title)
        self.text, self.name = text, name
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 16, 20, 14)
        column.setSpacing(8)
        words = QLabel(
            tr("Which column of {name} holds what, and in which unit? {more}")
            .format(name=name, more=self.more)
            .strip()
        )
        words.setWordWrap(True)
        column.addWidget(words)
        found = headings(text)
        guess = guess_mapping(found, self.channels)
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        self.columns: dict[str, QComboBox] = {}
        self.units: dict[str, QComboBox] = {}
        for row, (key, channel) in enumerate(self.channels.items()):
            label = QLabel(
                channel.name[:1].upper() + channel.name[1:] + ("" if channel.needed else tr(" (optional)"))
            )
            box, unit = Box(), Box()
            box.addItems([NONE, *found])
            unit.addItems([u.replace("-", "−") for u in channel.units])
            box.setAccessibleName(tr("Column of {name}").format(name=channel.name))
            unit.setAccessibleName(tr("Unit of {name}").format(name=channel.name))
            if key in guess:
                box.setCurrentText(guess[key].column)
                unit.setCurrentText(guess[key].unit)
            box.currentTextChanged.connect(lambda shown, k=key: self._follow(k, shown))
            label.setBuddy(box)
            grid.addWidget(label, row, 0)
            grid.addWidget(box, row, 1)
            grid.addWidget(unit, row, 2)
            self.columns[key], self.units[key] = box, unit
        column.addLayout(grid)
        column.addWidget(QLabel(tr("The log begins")))
        preview = QPlainTextEdit("\n".join(text.splitlines()[:PREVIEW_ROWS]))
        preview.setReadOnly(True)
        preview.setMaximumHeight(120)
        preview.setAccessibleName(tr("First rows of the log"))
        column.addWidget(preview)
        self.problem = QLabel()
        self.problem.setWordWrap(True)
        column.addWidget(self.problem)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        there(buttons.button(QDialogButtonBox.StandardButton.Ok)).setText(self.button)
        buttons.accepted.connect(self._read)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.resize(620, 520)

    def _follow(self, key: str, heading: str) -> None:
        """The unit follows the column where its heading names one."""
        found = unit_in(heading, self.channels[key])
        if found:
            self.units[key].setCurrentText(found.replace("-", "−"))

    def mapping(self) -> dict[str, Mapped]:
        """Return what has been chosen."""
        return {
            key: Mapped(box.currentText(), self.units[key].currentText().replace("−", "-"))
            for key, box in self.columns.items()
            if box.currentText() != NONE
        }

    def _read(self) -> None:
        try:
            self.take()
        except GravidonError as error:
            self.problem.setText(str(error))
            return
        self.problem.setText("")
        said = self.doubts()
        if said and not sure(self, "\n".join(said), tr("Replay it all the same"), tr("Back to the columns")):
            return
        self.accept()

    def doubts(self) -> tuple[str, ...]:
        """What speaks against the table being what was meant."""
        return ()

    def take(self) -> None:
        """Read the table as it is mapped.

        Raises: GravidonError if it cannot be.
        """


class LogDialog(MappingDialog):
    """A drive log; `log` holds the drive once it could be read."""

    title, button = tr("Read a drive log"), tr("Replay it")
    more = tr(
        "Accelerations count forward and left as positive; choose −g if the logger counts the other way."
    )
    log: DriveLog | None = None

    def take(self) -> None:
        """Read the drive."""
        self.log = read_log(self.text, self.mapping(), self.name)

    def doubts(self) -> tuple[str, ...]:
        """Rows that fell out, accelerations that cannot be."""
        return doubts(self.log) if self.log is not None else ()


class RecordingDialog(MappingDialog):
    """A recording of another logger; `recording` holds it once it could be read."""

    title, button, channels = tr("Read a recording"), tr("Keep it"), RECORDED
    recording: Recording | None = None

    def take(self) -> None:
        """Read the recording."""
        self.recording = from_text(self.text, self.name, self.mapping())


def recording_of(path: Path, parent: QWidget) -> Recording | None:
    """Return the recording in a file: in the line format, or any CSV through its columns, which are asked for; None if the question was left.

    Raises: GravidonError if it cannot be read.
    """
    text = text_of(path)
    if is_lines(text):
        return from_text(text, path.name)
    dialog = RecordingDialog(text, path.name, parent)
    return dialog.recording if dialog.exec() else None
