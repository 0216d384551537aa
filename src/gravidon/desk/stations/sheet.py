# SPDX-License-Identifier: GPL-3.0-or-later
"""The shop sheet: what will be printed, and the ways to get it."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSizePolicy, QToolButton, QWidget

from gravidon.desk.box import Box
from gravidon.desk.painted import painted
from gravidon.desk.stations.base import Station
from gravidon.desk.voices import Telling
from gravidon.sheet import page, workshop
from gravidon.sheet.paper import PAPERS, Paper, paper_named
from gravidon.words.text import tr


class SheetPreview(QWidget):
    """The page as it will print."""

    def __init__(self, station: SheetStation) -> None:
        super().__init__()
        self.station = station
        self.setAccessibleName(tr("Preview of the shop sheet"))
        self.telling = Telling(self, self._paint)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        """Upright."""
        return QSize(500, 560)

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        """Draw the page to fit."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint(painter)
        self.telling.soon()

    def _paint(self, painter: QPainter) -> None:
        sheet = self.station.paper
        scale = min(self.width() / sheet.width_mm, self.height() / sheet.height_mm) * 0.985
        left = (self.width() - sheet.width_mm * scale) / 2
        paper = QRectF(left, 4, sheet.width_mm * scale, sheet.height_mm * scale)
        painter.setPen(self.station.colours.pen("line", 1))
        painter.setBrush(Qt.GlobalColor.white)
        painter.drawRect(paper)
        painter.translate(paper.topLeft())
        painter.scale(scale, scale)
        painter.translate(sheet.left_mm, 0.0)
        s, number = self.station.session, self.station.page
        if number == 0:
            page.paint_page(painter, s.evaluation, s.family, sheet.height_mm)
        else:
            self.station.pages()[number - 1].paint(painter)


class SheetStation(Station):
    """Print the pages to take to the car."""

    key = "sheet"
    question = tr(
        "The plan on a page, then parts, cuts with the template at true scale, the build and the first start."
    )

    def build(self) -> None:
        """Preview and buttons; the window does what they ask for."""
        self.page = 0
        self._pages: tuple[workshop.Page, ...] = ()
        self._made_for: object = None
        self.preview = SheetPreview(self)
        self.column.addWidget(self.preview, 1)
        buttons = QHBoxLayout()
        self.back, self.on = QToolButton(), QToolButton()
        self.number = QLabel()
        for turn, words, step in ((self.back, tr("Page back"), -1), (self.on, tr("Page on"), 1)):
            turn.setText(words)
            turn.clicked.connect(lambda _=False, by=step: self.turn(by))
        for widget in (self.back, self.number, self.on):
            buttons.addWidget(widget)
        buttons.addStretch(1)
        self.sizes = Box()
        self.sizes.addItems(list(PAPERS))
        self.sizes.setAccessibleName(tr("Paper"))
        self.sizes.textActivated.connect(self.choose_paper)
        buttons.addWidget(self.sizes)
        self.pdf_button = QPushButton(tr("Save as PDF …"))
        self.pdf_button.setProperty("role", "main")
        self.html_button = QPushButton(tr("Save as HTML …"))
        self.print_button = QPushButton(tr("Print …"))
        for button, kind in (
            (self.pdf_button, "pdf"),
            (self.html_button, "html"),
            (self.print_button, "print"),
        ):
            button.clicked.connect(lambda _=False, k=kind: self.output_asked.emit(k))
            buttons.addWidget(button)
        buttons.addStretch(1)
        self.column.addLayout(buttons)

    @property
    def paper(self) -> Paper:
        """The paper that the pages are laid out for."""
        return paper_named(self.session.paper)

    def choose_paper(self, name: str) -> None:
        """Lay the pages out for another paper; it is remembered."""
        self.session.set_look(paper=name)

    def pages(self) -> tuple[workshop.Page, ...]:
        """The pages after the first, laid out anew when the plan or the units have changed."""
        key = (self.session.evaluation, self.session.family, self.paper.height_mm)
        if self._made_for != key:
            self._pages, self._made_for = workshop.pages(*key), key
        return self._pages

    def turn(self, by: int) -> None:
        """Turn the pages."""
        self.page = min(max(self.page + by, 0), len(self.pages()))
        self.refresh()

    def refresh(self) -> None:
        """Redraw."""
        count = 1 + len(self.pages())
        self.page = min(self.page, count - 1)
        self.number.setText(tr("page {number} of {count}").format(number=self.page + 1, count=count))
        self.sizes.setCurrentText(self.paper.name)
        self.back.setEnabled(self.page > 0)
        self.on.setEnabled(self.page < count - 1)
        self.preview.update()
