# SPDX-License-Identifier: GPL-3.0-or-later
"""A photo laid under a drawing: a few clicks on it, a known distance or a sheet of paper, and a place that is known."""

from __future__ import annotations

import base64
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.box import Box
from gravidon.desk.painted import painted
from gravidon.desk.preferences import home
from gravidon.desk.session import Session
from gravidon.desk.theme import PALETTES
from gravidon.desk.there import there
from gravidon.draw import photo as drawn
from gravidon.draw.style import BOLD, LINE
from gravidon.errors import GravidonError
from gravidon.plan import units
from gravidon.plan.files import read_file
from gravidon.plan.model import Photo
from gravidon.plan.model_photo import CLICKS, View
from gravidon.study.home.photos import accuracy_m, off_m, with_photo
from gravidon.words.text import tr

LONGEST_PX, QUALITY, MOST_BYTES = 1280, 80, 600_000
"""[px] longest side of a picture that is kept, JPEG quality, and bytes it may have: a plan stays a small file; project choice."""
STEPS: dict[str, tuple[str, ...]] = {
    "two points": (
        tr("one end of a known distance"),
        tr("its other end"),
        tr("one end of a line that is level or hangs plumb"),
        tr("its other end"),
        tr("the place that is known"),
    ),
    "rectangle": (
        tr("the rectangle's upper left corner"),
        tr("its upper right corner"),
        tr("its lower right corner"),
        tr("its lower left corner"),
        tr("the place that is known"),
    ),
}
SHEETS = {
    "A4 upright": (210.0, 297.0),
    "A4 lying": (297.0, 210.0),
    "Letter upright": (215.9, 279.4),
    "own size": (0.0, 0.0),
}
"""[mm] sizes of paper: ISO 216, ANSI/ASME Y14.1."""


def packed(image: QImage) -> str:
    """Return an image as a plan keeps it: scaled down, JPEG, base64.

    Raises: ValueError if it stays too large.
    """
    if max(image.width(), image.height()) > LONGEST_PX:
        image = image.scaled(
            QSize(LONGEST_PX, LONGEST_PX),
            Qt.AspectRatioMode.KeepAspectRatio,
            Qt.TransformationMode.SmoothTransformation,
        )
    for quality in (QUALITY, 60, 40):
        data = QByteArray()
        buffer = QBuffer(data)
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        image.convertToFormat(QImage.Format.Format_RGB32).save(buffer, "JPEG", quality)
        if data.size() <= MOST_BYTES:
            return base64.b64encode(bytes(data.data())).decode("ascii")
    raise ValueError("a picture with less in it")


MOST_PICTURE = 60_000_000
"""[bytes] of a picture file; project choice."""


class PhotoCanvas(QWidget):
    """The photo; clicks put marks on it, arrow keys nudge the last one by a pixel, Backspace takes it back."""

    def __init__(self, owner: PhotoDialog) -> None:
        super().__init__()
        self.owner = owner
        self.clicks: list[QPointF] = []
        self.setMinimumSize(560, 420)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("The photo: click the points that are asked for"))

    def place(self) -> tuple[float, QPointF]:
        """Return how large the photo is shown, and where its corner lies."""
        image = self.owner.image
        scale = min(self.width() / max(image.width(), 1), self.height() / max(image.height(), 1))
        corner = QPointF(
            0.5 * (self.width() - scale * image.width()), 0.5 * (self.height() - scale * image.height())
        )
        return scale, corner

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Put the next mark."""
        if event is None or len(self.clicks) >= CLICKS[self.owner.way()]:
            return
        scale, corner = self.place()
        at = (event.position() - corner) / scale
        if QRectF(0, 0, self.owner.image.width(), self.owner.image.height()).contains(at):
            self.clicks.append(at)
            self.setFocus()
            self.owner.changed()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Nudge or take back the last mark."""
        key = Qt.Key(event.key()) if event is not None else Qt.Key.Key_unknown
        by = {
            Qt.Key.Key_Left: (-1, 0),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Up: (0, -1),
            Qt.Key.Key_Down: (0, 1),
        }.get(key)
        if by and self.clicks:
            self.clicks[-1] += QPointF(*by)
            self.owner.changed()
        elif key == Qt.Key.Key_Backspace and self.clicks:
            self.owner.take_back()
        else:
            super().keyPressEvent(event)

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        """The photo and its marks."""
        palette = PALETTES[self.owner.session.theme]
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), palette.color("sheet"))
        scale, corner = self.place()
        image = self.owner.image
        painter.drawImage(
            QRectF(corner.x(), corner.y(), scale * image.width(), scale * image.height()), image
        )
        spots = [corner + click * scale for click in self.clicks]
        way = self.owner.way()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, width in (("raised", BOLD + 2.0), ("focus", BOLD)):
            painter.setPen(palette.pen(colour, width))
            lines = ((0, 1), (2, 3)) if way == "two points" else ((0, 1), (1, 2), (2, 3), (3, 0))
            for a, b in lines:
                if max(a, b) < len(spots):
                    painter.drawLine(spots[a], spots[b])
        for n, spot in enumerate(spots):
            painter.setPen(palette.pen("heat" if n == 4 else "focus", LINE))
            painter.drawEllipse(spot, 7, 7)
            painter.drawLine(spot - QPointF(11, 0), spot + QPointF(11, 0))
            painter.drawLine(spot - QPointF(0, 11), spot + QPointF(0, 11))


class PhotoDialog(QDialog):
    """Square a photo and lay it under a view; `photo` is what comes of it."""

    def __init__(
        self, session: Session, view: View, image: QImage, name: str, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.session, self.view, self.name = session, view, name
        self.setWindowTitle(tr("A photo under the drawing"))
        self.photo: Photo | None = None
        self.packed = packed(image)
        self.image = drawn.image_of(self.packed)
        row = QHBoxLayout(self)
        row.setContentsMargins(18, 16, 18, 12)
        row.setSpacing(16)
        self.canvas = PhotoCanvas(self)
        row.addWidget(self.canvas, 1)
        row.addLayout(self._side())
        for field in (self.distance, self.wide, self.tall):
            field.textChanged.connect(lambda _: self.changed())
        for box in (self.line, self.anchor):
            box.currentIndexChanged.connect(lambda _: self.changed())
        self._way_changed()

    def _side(self) -> QVBoxLayout:
        """Return what is asked for, what is known, and how good it is."""
        side = QVBoxLayout()
        self.ask = QLabel()
        self.ask.setProperty("role", "section")
        self.ask.setWordWrap(True)
        self.ask.setFixedWidth(300)
        self.ask.setMinimumHeight(54)
        side.addWidget(self.ask)
        form = QFormLayout()
        side.addLayout(form)
        self.by = Box()
        self.by.addItems([tr("two points and a line"), tr("a rectangle, such as a sheet of paper")])
        self.by.currentIndexChanged.connect(self._way_changed)
        form.addRow(tr("Squared by"), self.by)
        family = self.session.family
        self.distance = QLineEdit(units.show(0.3, "run", family))
        self.distance.setAccessibleName(tr("Distance of the two points"))
        form.addRow(tr("The distance is"), self.distance)
        self.line = Box()
        self.line.addItems(["level", "plumb"])
        form.addRow(tr("The line is"), self.line)
        self.sheet = Box()
        self.sheet.addItems(list(SHEETS))
        self.sheet.currentTextChanged.connect(self._sheet_chosen)
        form.addRow(tr("Rectangle"), self.sheet)
        self.wide = QLineEdit("210 mm")
        self.tall = QLineEdit("297 mm")
        self.wide.setAccessibleName(tr("Width of the rectangle"))
        self.tall.setAccessibleName(tr("Height of the rectangle"))
        form.addRow(tr("wide"), self.wide)
        form.addRow(tr("high"), self.tall)
        self.places = drawn.known_places(self.session.plan, self.session.turbo, self.view)
        self.anchor = Box()
        self.anchor.addItems(list(self.places))
        form.addRow(tr("The known place is"), self.anchor)
        self.back = QPushButton(tr("Take back the last click"))
        self.back.clicked.connect(self.take_back)
        side.addWidget(self.back)
        self.told = QLabel()
        self.told.setWordWrap(True)
        self.told.setFixedWidth(300)
        self.told.setMinimumHeight(70)
        self.told.setAlignment(Qt.AlignmentFlag.AlignTop)
        side.addWidget(self.told)
        side.addStretch(1)
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        there(self.buttons.button(QDialogButtonBox.StandardButton.Ok)).setText(tr("Lay it under the drawing"))
        self.buttons.accepted.connect(self._take)
        self.buttons.rejected.connect(self.reject)
        side.addWidget(self.buttons)
        return side

    def way(self) -> str:
        """Return how it is squared."""
        return "rectangle" if self.by.currentIndex() == 1 else "two points"

    def _way_changed(self) -> None:
        self.canvas.clicks = []
        two = self.way() == "two points"
        for widget in (self.distance, self.line):
            widget.setEnabled(two)
        for widget in (self.sheet, self.wide, self.tall):
            widget.setEnabled(not two)
        self.changed()

    def _sheet_chosen(self, name: str) -> None:
        wide, tall = SHEETS[name]
        if wide:
            self.wide.setText(tr("{wide:g} mm").format(wide=wide))
            self.tall.setText(tr("{tall:g} mm").format(tall=tall))

    def take_back(self) -> None:
        """Take back the last mark."""
        if self.canvas.clicks:
            self.canvas.clicks.pop()
            self.changed()

    def _made(self) -> Photo:
        """Return the photo as it is laid now. Raises: GravidonError or ValueError naming what cannot be used."""

        def length(field: QLineEdit, words: str) -> float:
            unit = units.display_unit("run", self.session.family)
            return units.si_to_file(units.parse(field.text(), "run", words, unit), "run")

        right, up = self.places[self.anchor.currentText()]
        return Photo(
            view=self.view,
            name=self.name[:80] or "photo",
            picture=self.packed,
            by="rectangle" if self.way() == "rectangle" else "two points",
            clicks=tuple((c.x(), c.y()) for c in self.canvas.clicks),
            distance_mm=length(self.distance, tr("distance of the two points")),
            plumb=self.line.currentText() == "plumb",
            width_mm=length(self.wide, tr("width of the rectangle")),
            height_mm=length(self.tall, tr("height of the rectangle")),
            anchor_right_mm=right,
            anchor_up_mm=up,
        )

    def changed(self) -> None:
        """Ask for the next click, or tell how good the photo is."""
        way, count = self.way(), len(self.canvas.clicks)
        steps = STEPS[way]
        done = count == len(steps)
        self.ask.setText(
            tr("All points are set. Arrow keys nudge the last one.")
            if done
            else tr("{number} of {count}: click {place}").format(
                number=count + 1, count=len(steps), place=steps[count]
            )
        )
        ok = there(self.buttons.button(QDialogButtonBox.StandardButton.Ok))
        ok.setEnabled(False)
        self.back.setEnabled(count > 0)
        self.told.setText("")
        if done:
            try:
                made = self._made()
                w, h = self.image.width(), self.image.height()
                off = accuracy_m(made, np.array([[0.5 * w, 0.5 * h], [0.1 * w, 0.1 * h], [0.9 * w, 0.9 * h]]))
                words = [
                    units.show_difference(float(v), "run", self.session.family)
                    for v in (off[0], off[1:].max())
                ]
                self.told.setText(
                    tr(
                        "By these clicks a point in the middle is good to ±{words}, towards the corners to ±{words2}. What stands out of the plane, or was not taken square on, is off by more."
                    ).format(words=words[0], words2=words[1])
                )
                ok.setEnabled(True)
            except (GravidonError, ValueError) as error:
                self.told.setText(str(error).splitlines()[0])
        self.canvas.update()

    def _take(self) -> None:
        try:
            self.photo = self._made()
        except (GravidonError, ValueError) as error:
            self.told.setText(str(error).splitlines()[0])
            return
        self.accept()


class PhotoButton(QToolButton):
    """The menu of the photo under a view: put one there, how strong it is, lock it, hide it, take it away."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.view: View = "front"
        self.setText(tr("Photo ▾"))
        self.setToolTip(tr("A photo under the drawing, squared by a few clicks"))
        menu = QMenu(self)
        menu.aboutToShow.connect(self._fill)
        self.setMenu(menu)
        self.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)

    def show_view(self, view: View) -> None:
        """Belong to a view, and tell how good the photo under it is."""
        self.view = view
        photo = drawn.of_view(self.session.plan, view)
        words = tr("Photo")
        if photo is not None:
            try:
                words = f"{tr('Photo')} ±{units.show_difference(off_m(photo), 'run', self.session.family)}"
            except GravidonError:
                words = tr("Photo, not laid")
        self.setText(f"{words} ▾")

    def _fill(self) -> None:
        menu = there(self.menu())
        menu.clear()
        now = drawn.of_view(self.session.plan, self.view)
        put = there(
            menu.addAction(tr("Put a photo under this view …") if now is None else tr("Another photo …"))
        )
        put.triggered.connect(self.choose)
        put.setEnabled(now is None or not now.locked)
        if now is None:
            return
        menu.addSeparator()
        for share in (0.25, 0.5, 0.75, 1.0):
            action = there(menu.addAction(tr("{share:.0%} strong").format(share=share)))
            action.setCheckable(True)
            action.setChecked(abs(now.opacity - share) < 0.01)
            action.triggered.connect(
                lambda _=False, v=share: self.change(
                    tr("photo {share:.0%} strong").format(share=v), opacity=v
                )
            )
        menu.addSeparator()
        there(menu.addAction(tr("Hide it") if now.shown else tr("Show it"))).triggered.connect(
            lambda: self.change(tr("photo hidden") if now.shown else tr("photo shown"), shown=not now.shown)
        )
        there(menu.addAction(tr("Unlock it") if now.locked else tr("Lock it"))).triggered.connect(
            lambda: self.change(
                tr("photo unlocked") if now.locked else tr("photo locked"), locked=not now.locked
            )
        )
        gone = there(menu.addAction(tr("Take it away")))
        gone.setEnabled(not now.locked)
        gone.triggered.connect(
            lambda: self.session.propose(
                with_photo(self.session.plan, self.view, None), tr("photo taken away")
            )
        )

    def change(self, words: str, **changes: object) -> None:
        """Change how the photo is shown."""
        now = drawn.of_view(self.session.plan, self.view)
        if now is not None:
            made = now.model_copy(update=changes)
            self.session.propose(with_photo(self.session.plan, self.view, made), words)

    def choose(self) -> None:
        """Ask for a picture file and lay it."""
        name, _ = QFileDialog.getOpenFileName(
            self, tr("A photo"), str(home()), tr("Pictures (*.jpg *.jpeg *.png)")
        )
        if name:
            self.lay(Path(name))

    def lay(self, path: Path) -> None:
        """Lay a picture file under the view, by clicks; one that cannot be read is refused in words."""
        try:
            image = drawn.picture_in(read_file(path, MOST_PICTURE))
        except GravidonError as error:
            self.session.refused.emit(str(error))
            return
        if image.isNull():
            self.session.refused.emit(tr("{name}: expected a picture, JPEG or PNG").format(name=path.name))
            return
        try:
            dialog = PhotoDialog(self.session, self.view, image, path.name, self)
        except ValueError as error:
            self.session.refused.emit(tr("{name}: expected {error}").format(name=path.name, error=error))
            return
        if dialog.exec() and dialog.photo is not None:
            self.session.propose(
                with_photo(self.session.plan, self.view, dialog.photo), tr("photo under the drawing")
            )
