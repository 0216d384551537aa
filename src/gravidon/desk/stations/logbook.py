# SPDX-License-Identifier: GPL-3.0-or-later
"""The logbook: years of one car. A line typed in haste is an entry; the road above shows what the readings did."""

from __future__ import annotations

import math
from datetime import datetime
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QImage, QKeyEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QToolButton,
)

from gravidon.desk.canvas import Canvas
from gravidon.desk.log_files import LogFiles
from gravidon.desk.painted import painted
from gravidon.desk.stations.base import Station
from gravidon.desk.table import Cell, Table
from gravidon.draw import log_chart
from gravidon.draw.photo import picture_in
from gravidon.errors import GravidonError
from gravidon.plan.files import read_file
from gravidon.plan.units import show
from gravidon.records.entry import MOST_PHOTO, Entry, day
from gravidon.records.quick import Usual, bare_place, quick_entry
from gravidon.study.car.script import idle_rpm
from gravidon.study.health.fit import distances_km
from gravidon.study.health.readings import Held, held_against, usual_hot_c
from gravidon.translate import commas, number
from gravidon.words.text import tr

HEADS = (
    tr("Day"),
    tr("On the clock"),
    tr("What"),
    tr("Speed"),
    tr("Oil"),
    tr("Gallery"),
    tr("Inlet"),
    tr("Note"),
)
EDITABLE = {0, 1, 7}
SAYS = tr(
    "idle hot 14 psi    ·    2500 rpm 98 C gallery 48 inlet 41 psi    ·    12 480 km oil changed    ·    blue smoke after a long idle"
)


class RoadCanvas(Canvas):
    """The readings along the road."""

    station: LogbookStation

    def paint(self, painter: QPainter) -> None:
        """Draw them, or say what could be here."""
        it = self.station
        if not it.entries:
            self.say(
                painter,
                tr(
                    "No entry yet. Type one above, as you would say it, and press Enter:\na pressure at idle once a week shows a closing screen long before the bearing does."
                ),
            )
            return
        log_chart.paint(self.ink(painter), self.area, it.entries, it.km, it.dots, it.chosen_entry)

    def clicked(self, at: QPointF) -> None:
        """Choose the entry nearest to a click."""
        it = self.station
        if not it.entries:
            return
        axes = log_chart.axes_of(self.area, it.km, it.dots)
        near = min(range(len(it.km)), key=lambda k: abs(axes.x(it.km[k]) - at.x()))
        it.choose(near)


class EntryPhoto(QDialog):
    """A photo of an entry, as large as it fits."""

    def __init__(self, image: QImage, title: str) -> None:
        super().__init__()
        self.setWindowTitle(title)
        self.image = image
        self.setAccessibleName(tr("Photo: {title}").format(title=title))
        self.resize(min(image.width(), 900), min(image.height(), 700))

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        """Draw it whole."""
        size = self.image.size().scaled(self.size(), Qt.AspectRatioMode.KeepAspectRatio)
        place = QRectF(
            (self.width() - size.width()) / 2,
            (self.height() - size.height()) / 2,
            size.width(),
            size.height(),
        )
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(place, self.image)


class LogbookStation(Station):
    """Write down what was read, seen and done."""

    key = "logbook"
    question = tr("What did it read, what was done? One line, as you would say it.")
    shows_condition = False
    per_turbo = False
    flagged = False

    def build(self) -> None:
        """The line to type into, the road, the entries."""
        self.files = LogFiles(self)
        self.entries: tuple[Entry, ...] = ()
        self.km: list[float] = []
        self.dots: tuple[Held, ...] = ()
        self.chosen_entry = -1
        self.line = QLineEdit()
        self.line.setAccessibleName(tr("New entry, as you would say it"))
        self.line.setPlaceholderText(SAYS)
        self.line.setMinimumHeight(34)
        self.line.textChanged.connect(lambda _: self._understand())
        self.line.returnPressed.connect(self.write)
        self.means = QLabel()
        self.means.setWordWrap(True)
        self.means.setMinimumHeight(20)
        self.means.setAccessibleName(tr("What the line means"))
        row = QHBoxLayout()
        row.addWidget(self.line, 1)
        self.write_button = QPushButton(tr("Write it down"))
        self.write_button.setProperty("role", "main")
        self.write_button.clicked.connect(lambda _=False: self.write())
        row.addWidget(self.write_button)
        self.column.addLayout(row)
        self.column.addWidget(self.means)
        self.canvas = RoadCanvas(self, tr("Readings along the road, against the plan"), (380, 130))
        self.column.addWidget(self.canvas, 2)
        self.table = Table(tr("Entries, the latest first"), HEADS, (0, 2, 7), 7)
        self.table.typed.connect(self._typed)
        self.table.itemSelectionChanged.connect(self._row_chosen)
        self.table.setMinimumHeight(140)
        self.column.addWidget(self.table, 3)
        self.column.addLayout(self._buttons())
        self.session.log.changed.connect(self._log_changed)

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.out_button = QToolButton()
        self.out_button.setText(tr("Take the entry out"))
        self.out_button.clicked.connect(lambda _=False: self.take_out())
        self.back_button = QToolButton()
        self.back_button.setText(tr("Bring it back"))
        self.back_button.clicked.connect(lambda _=False: self.bring_back())
        self.photo_button = QToolButton()
        self.photo_button.setText(tr("Photo …"))
        self.photo_button.clicked.connect(lambda _=False: self.photo())
        self.recording_button = QToolButton()
        self.recording_button.setText(tr("Recording …"))
        self.recording_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.recording_button)
        for words, action in (
            (tr("The run that was just read"), self.files.keep_run),
            (tr("From a file …"), self.files.recording_from_file),
            (tr("Play the chosen entry's at First start"), self.files.play_recording),
        ):
            one = menu.addAction(words)
            if one is not None:
                one.triggered.connect(partial(self._do, action))
        self.recording_button.setMenu(menu)
        self.recording_button.setToolTip(
            tr("Keep a recording beside the logbook; its steady readings become an entry")
        )
        for widget in (self.out_button, self.back_button, self.photo_button, self.recording_button):
            row.addWidget(widget)
        row.addStretch(1)
        for words, action in (
            (tr("Import CSV …"), self.files.import_dialog),
            (tr("Export CSV …"), self.files.export_dialog),
        ):
            button = QToolButton()
            button.setText(words)
            button.clicked.connect(partial(self._do, action))
            row.addWidget(button)
        return row

    @staticmethod
    def _do(action: object, _checked: bool = False) -> None:
        if callable(action):
            action()

    def showEvent(self, event: object) -> None:
        """The line has the keyboard at once: a reading is written in a breath."""
        super().showEvent(event)
        QTimer.singleShot(0, self._take_keyboard)

    def _take_keyboard(self) -> None:
        if self.isVisible() and not self.table.hasFocus():
            self.line.setFocus(Qt.FocusReason.OtherFocusReason)

    # --- what is shown -------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the entries as they are now."""
        self._log_changed()
        self._understand()

    def _log_changed(self) -> None:
        if not self.isVisible():
            return
        chosen = self.entries[self.chosen_entry].uid if 0 <= self.chosen_entry < len(self.entries) else ""
        self.entries = self.session.log.entries
        self.km = distances_km(self.entries).tolist() if self.entries else []
        self.dots = held_against(self.session.plan, self.entries)
        uids = [e.uid for e in self.entries]
        self.chosen_entry = uids.index(chosen) if chosen in uids else -1
        self._fill()
        self.back_button.setVisible(self.session.log.taken_out is not None)
        self._tell_chosen()
        self.canvas.update()

    def _fill(self) -> None:
        family, faint = self.session.family, self.colours.color("faint")
        rows: list[list[Cell | str]] = []
        for e in reversed(self.entries):
            said = (*e.changed, *e.symptoms)
            what = f"{e.kind}: {', '.join(said)}" if said and e.kind not in ("oil change",) else e.kind
            marks_too = "".join(
                f"  [{m}]" for m, on in (("photo", e.has_photo), ("recording", bool(e.recording))) if on
            )
            distance = f"{number(e.distance_m / 1e3, ',.0f')} km" if math.isfinite(e.distance_m) else ""
            first = e.readings[0] if e.readings else None
            numbers = ["", "", "", ""]
            if first is not None:
                more = f" (+{len(e.readings) - 1})" if len(e.readings) > 1 else ""
                numbers = [
                    f"{first.rpm:.0f} rpm{more}",
                    show(first.oil_k, "degc", family),
                    *(
                        show(v, "kpa", family) if math.isfinite(v) else ""
                        for v in (first.gallery_pa, first.inlet_pa)
                    ),
                ]
            tip = "\n".join(self._reading_words(r.rpm, r.oil_k, r.gallery_pa, r.inlet_pa) for r in e.readings)
            rows.append(
                [
                    Cell(e.day.replace("T", " "), True),
                    Cell(distance, True, None if distance else faint),
                    what + marks_too,
                    *(Cell(n, False, None, tip) for n in numbers),
                    Cell(e.note, True),
                ]
            )
        self.table.fill(rows)
        row = len(self.entries) - 1 - self.chosen_entry
        self.table.blockSignals(True)
        if self.chosen_entry >= 0:
            self.table.setCurrentCell(row, 0)
        else:
            self.table.clearSelection()
        self.table.blockSignals(False)

    def _reading_words(self, rpm: float, oil_k: float, gallery: float, inlet: float) -> str:
        family = self.session.family
        parts = [f"{rpm:.0f} rpm", tr("oil {heat}").format(heat=show(oil_k, "degc", family))]
        parts += [
            f"{name} {show(v, 'kpa', family)}"
            for name, v in (("gallery", gallery), ("inlet", inlet))
            if math.isfinite(v)
        ]
        return commas(parts)

    def _tell_chosen(self) -> None:
        there = 0 <= self.chosen_entry < len(self.entries)
        for button in (self.out_button, self.photo_button):
            button.setEnabled(there)
        has = there and self.entries[self.chosen_entry].has_photo
        self.photo_button.setText(tr("Show the photo") if has else tr("Photo …"))

    # --- typing --------------------------------------------------------------------------------

    def usual(self) -> Usual:
        """Return what a line leaves out."""
        return Usual(
            datetime.now().astimezone().date(),
            idle_rpm(self.session.plan),
            usual_hot_c(self.entries),
            bare_place(self.session.plan),
            self.session.family,
        )

    def _understand(self) -> None:
        """Say what the line means while it is typed."""
        text = self.line.text().strip()
        if not text:
            self.means.setText(
                tr(
                    "Words it knows: idle, off, hot, cold, a speed in rpm, a temperature, gallery and inlet with a pressure, km, yesterday or a day, what was changed."
                )
            )
            self.means.setProperty("role", "faint")
        else:
            try:
                e = quick_entry(text, self.usual())
            except GravidonError as error:
                self.means.setText(str(error))
            else:
                self.means.setText(self._entry_words(e))
        self.means.setStyleSheet(f"color: {self.colours.faint if not text else self.colours.ink};")

    def _entry_words(self, e: Entry) -> str:
        parts = [e.day, *(self._reading_words(r.rpm, r.oil_k, r.gallery_pa, r.inlet_pa) for r in e.readings)]
        if math.isfinite(e.distance_m):
            parts.append(f"{number(e.distance_m / 1e3, ',.0f')} km")
        parts += (
            [tr("made new: {parts}").format(parts=commas([tr(c) for c in e.changed]))] if e.changed else []
        )
        parts += [tr("symptom: {symptom}").format(symptom=s) for s in e.symptoms]
        parts += [tr("note: {note}").format(note=e.note)] if e.note else []
        return "; ".join(parts)

    def write(self) -> None:
        """Write the line down."""
        try:
            entry = quick_entry(self.line.text(), self.usual())
        except GravidonError as error:
            self.session.refused.emit(str(error))
            return
        if self.session.log.add(entry):
            self.line.clear()
            self.line.setFocus()
            self.session.told.emit(
                tr("Written down: {entry_words}").format(entry_words=self._entry_words(entry))
            )

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Delete takes the chosen entry out."""
        if event is not None and event.key() == Qt.Key.Key_Delete and self.table.hasFocus():
            self.take_out()
            return
        super().keyPressEvent(event)

    # --- entries -------------------------------------------------------------------------------

    def choose(self, k: int) -> None:
        """Choose an entry by its number."""
        self.chosen_entry = k
        self.table.blockSignals(True)
        self.table.setCurrentCell(len(self.entries) - 1 - k, 0)
        self.table.blockSignals(False)
        self._tell_chosen()
        self.canvas.update()

    def _row_chosen(self) -> None:
        row = self.table.currentRow()
        if row >= 0 and self.entries:
            self.chosen_entry = len(self.entries) - 1 - row
            self._tell_chosen()
            self.canvas.update()

    def _typed(self, row: int, column: int, text: str) -> None:
        """Take what was typed over a day, a distance or a note."""
        entry = self.entries[len(self.entries) - 1 - row]
        from dataclasses import replace

        try:
            if column == 0:
                changed = replace(entry, day=day(text))
            elif column == 1:
                changed = replace(entry, distance_m=self._distance(text))
            else:
                changed = replace(entry, note=text.strip())
        except GravidonError as error:
            self.session.refused.emit(str(error))
            self._fill()
            return
        if column in EDITABLE and not self.session.log.change(changed):
            self._fill()

    @staticmethod
    def _distance(text: str) -> float:
        from gravidon.errors import InputError

        words = text.replace("\u00a0", "").replace(" ", "").lower()
        if not words:
            return math.nan
        factor = 1609.344 if words.endswith("mi") else 1000.0
        try:
            return float(words.removesuffix("km").removesuffix("mi").replace(",", ".")) * factor
        except ValueError:
            raise InputError("distance", text, "a distance such as '12480 km'") from None

    def take_out(self) -> None:
        """Take the chosen entry out; it can be brought back."""
        if not 0 <= self.chosen_entry < len(self.entries):
            self.session.refused.emit(tr("Choose the entry to take out first"))
            return
        entry = self.entries[self.chosen_entry]
        self.chosen_entry = -1
        if self.session.log.remove(entry):
            self.session.told.emit(
                tr("Taken out: {entry_words}. 'Bring it back' puts it back.").format(
                    entry_words=self._entry_words(entry)
                )
            )

    def bring_back(self) -> None:
        """Put back what was taken out last."""
        self.session.log.bring_back()

    def photo(self) -> None:
        """Show the chosen entry's photo, or choose one for it."""
        entry = self.entries[self.chosen_entry]
        if entry.has_photo:
            book = self.session.log.book
            try:
                data = book.photo(entry.uid) if book is not None else None
            except GravidonError as error:
                self.session.refused.emit(str(error))
                return
            image = picture_in(data or b"")
            if image.isNull():
                self.session.refused.emit(tr("Photo: it cannot be shown"))
                return
            dialog = EntryPhoto(image, entry.day)
            dialog.exec()
            return
        name, _ = QFileDialog.getOpenFileName(
            self, tr("A photo for the entry"), "", tr("Photos (*.jpg *.jpeg *.png)")
        )
        if name:
            self.add_photo(Path(name))

    def add_photo(self, path: Path) -> None:
        """Put a photo to the chosen entry."""
        from dataclasses import replace

        entry = self.entries[self.chosen_entry]
        try:
            data = read_file(path, MOST_PHOTO)
        except GravidonError as error:
            self.session.refused.emit(tr("Photo: {error}").format(error=error))
            return
        if picture_in(data).isNull():
            self.session.refused.emit(
                tr("Photo: {name} is not a picture that can be read; expected JPEG or PNG").format(
                    name=path.name
                )
            )
            return
        self.session.log.change(replace(entry, photo=data))
